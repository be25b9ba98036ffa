//! Texts that the source takes for numbers unasked, and the target doesn't, or not in the same way.
//!
//! ```sql before tsql postgres
//! SELECT v.name FROM vessels v WHERE UPPER(v.permit) = 7 AND UPPER(v.permit) + 1 < 9
//! ```
//! ```sql after
//! SELECT v.name FROM vessels v WHERE CAST(UPPER(v.permit) AS NUMERIC) = 7 AND CAST(UPPER(v.permit) AS NUMERIC) + 1 < 9
//! ```
//!
//! Right when
//! 1. the types are known: a text beside a number, in a comparison or in what computes;
//! 2. the source makes a number of the text (all but PostgreSQL and BigQuery, which fail; in SQLite a
//!    written number beside a column of texts becomes a text);
//! 3. what both sides do with a text that is no number is told by the phrase of the conversion;
//! 4. a text beside a day or time is what the source reads in it: 20260131 is the 31st of January.

use meaning::{Constant, Function, Meant, Sign, infer, phrase};
use syntax::DialectName;
use syntax::tree::{Binary, Expr, ExprKind, InSet, Query, Statement, StatementKind};
use values::DataType;

use super::shape::call;
use super::walk::each_expr;
use super::{Context, Place};
use crate::read::{Features, moment};

type E = Expr<Meant>;

/// Whether a statement may have such a text: as it was read, or in a comparison that another rewrite
/// takes from rows, ANY, ALL or a subquery.
pub(super) fn has_occasion(features: &Features) -> bool {
    features.moments || features.texts_as_numbers || features.rows || features.quantified || features.subqueries
}

/// Whether a text stands where a number is wanted.
pub(crate) fn takes_text_as_number(binary: &Binary<Meant>) -> bool {
    let Sign::Phrase(id, _) = binary.operator else { return false };
    let phrase = id.phrase().id;
    let is_number = |e: &E| infer(e).data_type.is_numeric();
    match (is_text(&binary.left), is_text(&binary.right)) {
        (false, false) => false,
        (left, right) if phrase.starts_with("compare.") => (!left && is_number(&binary.left)) || (!right && is_number(&binary.right)),
        _ => phrase.starts_with("number."),
    }
}

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, cx: &mut Context<'_>) {
    each_expr(query, &mut |expr| inside(expr, cx));
}

/// The parts of a change that are no query's.
pub(super) fn in_change(statement: &mut Statement<Meant>, cx: &Context<'_>) {
    match &mut statement.kind {
        StatementKind::Update(update) => {
            update.assignments.iter_mut().for_each(|a| inside(&mut a.value, cx));
            update.condition.iter_mut().for_each(|e| inside(e, cx));
        }
        StatementKind::Delete(delete) => delete.condition.iter_mut().for_each(|e| inside(e, cx)),
        _ => {}
    }
}

fn inside(expr: &mut E, cx: &Context<'_>) {
    syntax::with_stack(|| expr.exprs_mut(&mut |child| inside(child, cx)));
    dated(expr, cx);
    let ExprKind::Binary(binary) = &mut expr.kind else { return };
    let Sign::Phrase(id, _) = binary.operator else { return };
    if !takes_text_as_number(binary) {
        return;
    }
    if id.phrase().id.starts_with("number.") {
        [&mut binary.left, &mut binary.right].into_iter().filter(|e| is_text(e)).for_each(as_number);
    } else {
        compared(binary, cx);
    }
}

/// Condition 4: texts beside a day or time are written as one.
fn dated(expr: &mut E, cx: &Context<'_>) {
    match &mut expr.kind {
        ExprKind::Binary(binary) if matches!(binary.operator, Sign::Phrase(id, _) if id.phrase().area() == "compare") => {
            let (left, right) = (infer(&binary.left).data_type, infer(&binary.right).data_type);
            as_moment(&mut binary.left, &right, cx);
            as_moment(&mut binary.right, &left, cx);
        }
        ExprKind::Between(test) => {
            let wanted = infer(&test.operand).data_type;
            as_moment(&mut test.low, &wanted, cx);
            as_moment(&mut test.high, &wanted, cx);
        }
        ExprKind::In(test) => {
            let wanted = infer(&test.operand).data_type;
            let reads_quoted = !matches!(cx.to.name, DialectName::Sqlite | DialectName::Bigquery);
            if let InSet::List(items) = &mut test.set {
                let quoted = |e: &&mut E| matches!(e.kind, ExprKind::Literal(Constant::Text { .. }));
                if wanted.is_numeric() && !reads_quoted && cx.from.name != DialectName::Sqlite {
                    items.iter_mut().filter(quoted).for_each(as_number);
                }
                items.iter_mut().for_each(|item| as_moment(item, &wanted, cx));
            }
        }
        _ => {}
    }
}

/// A text that all dialects read alike stays, but in Oracle, which reads it by a setting.
fn as_moment(expr: &mut E, wanted: &DataType, cx: &Context<'_>) {
    let ExprKind::Literal(Constant::Text { value, .. }) = &expr.kind else { return };
    let (word, plain) = match wanted {
        DataType::Date => ("DATE", moment::day(value)),
        DataType::Timestamp(_) => ("TIMESTAMP", moment::moment(value)),
        _ => return,
    };
    let Some(plain) = plain.filter(|_| cx.from.name != DialectName::Oracle) else { return };
    let is_as_written = plain == *value || plain.strip_suffix(" 00:00:00") == Some(value.as_str());
    if !is_as_written || cx.to.name == DialectName::Oracle {
        expr.kind = ExprKind::Literal(Constant::Typed(word.into(), plain));
    }
}

fn compared(binary: &mut Binary<Meant>, cx: &Context<'_>) {
    let (text, number) = match is_text(&binary.left) {
        true => (&mut binary.left, &mut binary.right),
        false => (&mut binary.right, &mut binary.left),
    };
    // Condition 2.
    if cx.from.name == DialectName::Sqlite
        && let (ExprKind::Column(_), ExprKind::Literal(Constant::Number(digits))) = (&text.kind, &number.kind)
    {
        number.kind = ExprKind::Literal(Constant::Text { value: digits.clone(), written: None });
        return;
    }
    // A number in quotes is read as one everywhere but in BigQuery, and in SQLite beside a column only.
    let is_column = matches!(number.without_parens().kind, ExprKind::Column(_));
    if is_literal(text) && cx.to.name != DialectName::Bigquery && (is_column || cx.to.name != DialectName::Sqlite) {
        return;
    }
    if cx.facts.cast_reads_prefix && cx.source_facts.cast_reads_prefix && cx.to.name != DialectName::Sqlite {
        return;
    }
    as_number(text);
}

/// Whether an expression is a text, as far as its outermost part tells.
fn is_text(expr: &E) -> bool {
    match &expr.kind {
        ExprKind::Column(binding) => binding.data_type.is_text(),
        ExprKind::Literal(constant) => matches!(constant, Constant::Text { .. }),
        ExprKind::Nested(inner) => is_text(inner),
        ExprKind::Cast(cast) => cast.to.data_type.is_text(),
        ExprKind::Call(call) => matches!(&call.function, Function::Phrase(id, _) if id.phrase().gives == "string"),
        ExprKind::Binary(binary) => matches!(binary.operator, Sign::Phrase(id, _) if id.phrase().gives == "string"),
        _ => false,
    }
}

fn is_literal(expr: &E) -> bool {
    matches!(expr.kind, ExprKind::Literal(_))
}

/// The number that a text writes: a constant as it stands, else by the phrase.
fn as_number(expr: &mut E) {
    if let ExprKind::Literal(Constant::Text { value, .. }) = &expr.kind
        && value.trim().parse::<f64>().is_ok_and(f64::is_finite)
    {
        expr.kind = ExprKind::Literal(Constant::Number(value.trim().into()));
        return;
    }
    let text = expr.take();
    *expr = Expr { span: text.span, ..call(phrase::CAST_TEXT_TO_NUMBER, vec![text]) };
}
