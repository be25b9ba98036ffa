//! Casts of Oracle that go on where they fail.
//! Sources: Oracle, CAST, TO_NUMBER, VALIDATE_CONVERSION.

use meaning::{Meant, infer, phrase};
use syntax::tree::{Cast, CastForm, Expr, ExprKind, LogicOperator, Span, Spelled, StageMap};

use super::Reader;
use crate::shape::{call, case, copy_of, is_null_literal, null_test, number};

type E = Expr<Meant>;

impl Reader<'_> {
    /// `CAST(x AS t DEFAULT d ON CONVERSION ERROR)`: a cast that gives NULL where it fails, or
    /// `COALESCE(TRY_CAST(x AS t), CASE WHEN x IS NOT NULL THEN d END)`, as NULL itself is no error.
    /// VALIDATE_CONVERSION: 0 where it fails, else 1.
    pub(super) fn tried_cast(&mut self, cast: Cast<Spelled>, span: Span) -> E {
        let to = self.type_name(cast.to);
        let operand = self.expr(cast.operand);
        let is_null = null_test(copy_of(&operand), false);
        let is_known = null_test(copy_of(&operand), true);
        let is_constant = matches!(operand.kind, ExprKind::Literal(_)) && !is_null_literal(&operand);
        let tried = Cast { form: CastForm::TryCast, operand, to: to.clone(), extra: None };
        let tried = Expr { kind: ExprKind::Cast(Box::new(tried)), span };
        let Some(given) = cast.extra.map(|e| self.expr(e)) else {
            let fits = Expr::synthetic(ExprKind::Logic(LogicOperator::Or, vec![is_null, null_test(tried, true)]));
            return Expr { span, ..case(None, vec![(fits, number(1))], Some(number(0))) };
        };
        if is_null_literal(&given) {
            return tried;
        }
        // A default is converted too.
        let given = match infer(&given).data_type.is_text() && !to.data_type.is_text() {
            true => Expr::synthetic(ExprKind::Cast(Box::new(Cast::plain(given, to)))),
            false => given,
        };
        let given = if is_constant { given } else { case(None, vec![(is_known, given)], None) };
        Expr { span, ..call(phrase::NULL_FIRST_NOT_NULL, vec![tried, given]) }
    }
}
