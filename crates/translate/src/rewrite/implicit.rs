//! Strings that the source takes for numbers unasked, and the target doesn't, or not in the same way.
//!
//! ```sql before sqlserver postgres
//! SELECT v.name FROM vessels v WHERE UPPER(v.permit) = 7 AND UPPER(v.permit) + 1 < 9
//! ```
//! ```sql after
//! SELECT v.name FROM vessels v WHERE CAST(UPPER(v.permit) AS NUMERIC) = 7 AND CAST(UPPER(v.permit) AS NUMERIC) + 1 < 9
//! ```
//!
//! Right when
//! 1. the types are known: a string beside a number, in a comparison or in what computes;
//! 2. the source makes a number of the text (all but PostgreSQL and BigQuery, which fail; in SQLite a
//!    written number beside a column of strings becomes a string);
//! 3. what both sides do with a string that is no number is given by the phrase of the conversion;
//! 4. a string beside a day or time is what the source reads in it: 20260131 is the 31st of January.

use meaning::{Constant, Function, Meant, Sign, infer, phrase};
use syntax::DialectName;
use syntax::tree::{Call, Expr, ExprKind, InSet, Query, Statement, StatementKind};
use values::DataType;

use super::walk::each_expr;
use super::{Context, Place};
use crate::ask::{is_text, takes_text_as_number, wants_number};
use crate::features::Features;
use crate::moment;
use crate::shape::call;

type E = Expr<Meant>;

/// Whether a statement may have such a string: as it was read, or in a comparison that another rewrite
/// takes from rows, ANY, ALL or a subquery.
pub(super) fn has_occasion(features: &Features) -> bool {
    features.moments || features.texts_as_numbers || features.rows || features.quantified || features.subqueries
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
    match &mut expr.kind {
        ExprKind::Binary(binary) => {
            let Sign::Phrase(id, _) = binary.operator else { return };
            if !takes_text_as_number(binary) {
                return;
            }
            let sides = vec![&mut binary.left, &mut binary.right];
            if id.phrase().id.starts_with("number.") {
                sides.into_iter().filter(|e| is_text(e)).for_each(as_number);
            } else {
                compared(sides, cx);
            }
        }
        ExprKind::Between(test) => compared(vec![&mut test.operand, &mut test.low, &mut test.high], cx),
        ExprKind::In(test) => {
            if let InSet::List(items) = &mut test.set {
                compared(std::iter::once(&mut test.operand).chain(items).collect(), cx);
            }
        }
        ExprKind::Case(case) => {
            if let Some(operand) = &mut case.operand {
                compared(std::iter::once(operand).chain(case.branches.iter_mut().map(|(when, _)| when)).collect(), cx);
            }
        }
        ExprKind::Call(call) => texts_as_arguments(call, cx),
        // LIKE takes a number for the text that writes it.
        ExprKind::Like(test) => {
            if let ExprKind::Literal(Constant::Number(digits)) = &test.pattern.kind {
                test.pattern.kind = ExprKind::Literal(Constant::Text { value: digits.clone(), written: None });
            }
        }
        _ => {}
    }
}

fn texts_as_arguments(call: &mut Call<Meant>, cx: &Context<'_>) {
    let alike = cx.facts.cast_reads_prefix && cx.source_facts.cast_reads_prefix;
    let Function::Phrase(id, _) = &call.function else { return };
    if alike || !makes_numbers(cx.from.name) {
        return;
    }
    for (takes, argument) in id.phrase().takes.iter().zip(&mut call.arguments) {
        if wants_number(takes) && is_text(&argument.value) {
            as_number(&mut argument.value);
        }
    }
}

/// Whether a dialect makes a number of a string beside one; the others fail.
fn makes_numbers(dialect: DialectName) -> bool {
    !matches!(dialect, DialectName::Postgres | DialectName::Duckdb | DialectName::Bigquery)
}

/// Condition 4: strings beside a day or time are written as one.
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
            if let InSet::List(items) = &mut test.set {
                items.iter_mut().for_each(|item| as_moment(item, &wanted, cx));
            }
        }
        _ => {}
    }
}

/// A string that all dialects read alike stays, but in Oracle, which reads it by a setting.
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

/// What is compared with each other: of strings beside numbers, numbers are made.
fn compared(sides: Vec<&mut E>, cx: &Context<'_>) {
    let (mut strings, others): (Vec<&mut E>, Vec<&mut E>) = sides.into_iter().partition(|e| is_text(e));
    let mut numbers: Vec<&mut E> = others.into_iter().filter(|e| infer(e).data_type.is_numeric()).collect();
    if numbers.is_empty() {
        return;
    }
    let is_number = |e: &&mut E| matches!(e.kind, ExprKind::Literal(Constant::Number(_)));
    // Condition 2.
    if cx.from.name == DialectName::Sqlite && strings.iter().any(|e| matches!(e.kind, ExprKind::Column(_))) && numbers.iter().all(is_number)
    {
        for number in numbers {
            if let ExprKind::Literal(Constant::Number(digits)) = &number.kind {
                number.kind = ExprKind::Literal(Constant::Text { value: digits.clone(), written: None });
            }
        }
        return;
    }
    // A number in quotes is read as one everywhere but in BigQuery, and in SQLite beside a column only.
    let has_column = numbers.iter_mut().any(|e| matches!(e.without_parens().kind, ExprKind::Column(_)));
    // Without a column of numbers, SQLite takes no written text for one.
    if cx.from.name == DialectName::Sqlite && !has_column && strings.iter().all(|text| is_literal(text)) {
        return;
    }
    let reads_quoted = cx.to.name != DialectName::Bigquery && (has_column || cx.to.name != DialectName::Sqlite);
    if cx.facts.cast_reads_prefix && cx.source_facts.cast_reads_prefix && cx.to.name != DialectName::Sqlite {
        return;
    }
    // Of one that is no number, the source makes what it makes of any text, but where it fails as well.
    let stays = |text: &E| reads_quoted && (writes_number(text) || (!makes_numbers(cx.from.name) && is_literal(text)));
    strings.iter_mut().filter(|text| !stays(text)).for_each(|text| as_number(text));
}

/// A constant text that is a number.
fn writes_number(expr: &E) -> bool {
    matches!(&expr.kind, ExprKind::Literal(Constant::Text { value, .. }) if value.trim().parse::<f64>().is_ok_and(f64::is_finite))
}

fn is_literal(expr: &E) -> bool {
    matches!(expr.kind, ExprKind::Literal(_))
}

/// The number that a string writes: a constant as it is, else by the phrase.
fn as_number(expr: &mut E) {
    if writes_number(expr)
        && let ExprKind::Literal(Constant::Text { value, .. }) = &expr.kind
    {
        expr.kind = ExprKind::Literal(Constant::Number(value.trim().into()));
        return;
    }
    let text = expr.take();
    *expr = Expr { span: text.span, ..call(phrase::CAST_TEXT_TO_NUMBER, vec![text]) };
}
