//! Numbers with a fraction, where one engine keeps it and the other loses it unasked.

use meaning::{Constant, Meant, PhraseId, phrase_named};
use syntax::tree::{Expr, ExprKind};
use values::DataType;

use super::Writer;

impl Writer<'_> {
    /// The phrase of an operation on these operands: what it does to a fraction can hang on their types.
    pub(super) fn by_types(&self, id: PhraseId, operands: &[&Expr<Meant>]) -> PhraseId {
        // Almost every operation is none of these: its operands' types needn't be worked out.
        if !id.phrase().id.starts_with("number.") {
            return id;
        }
        let fraction = operands.iter().any(|e| has_fraction(&Self::known(e).data_type));
        // Where a decimal column holds 41.00 as the integer 41, only a literal shows that it is none.
        let hidden = self.facts.whole_decimals_are_integers && !operands.iter().any(|e| shows_fraction(e));
        match id.phrase().id {
            "number.divide" | "number.divide-decimals" if hidden => phrase_named("number.divide"),
            "number.divide-whole" if fraction => phrase_named("number.divide-cut"),
            "number.divide" if fraction => phrase_named("number.divide-decimals"),
            "number.remainder" if fraction => phrase_named("number.remainder-decimals"),
            _ => id,
        }
    }
}

pub(super) fn has_fraction(data_type: &DataType) -> bool {
    match data_type {
        DataType::Decimal(Some((_, scale))) => *scale != 0,
        DataType::Decimal(None) | DataType::Float(_) => true,
        _ => false,
    }
}

/// A literal with a point, or a binary floating-point value: never an integer, whatever its value.
fn shows_fraction(expr: &Expr<Meant>) -> bool {
    match &expr.without_parens().kind {
        ExprKind::Literal(Constant::Number(text)) => text.contains('.'),
        _ => matches!(Writer::known(expr).data_type, DataType::Float(_)),
    }
}
