//! Rows of values that are compared, where the target can't compare rows or does it in another way.
//!
//! ```sql before postgres sqlserver
//! SELECT id FROM loads WHERE (name, tons) = ('coal', 3) OR (id, tons) < (7, 2) OR (id, tons) IN (SELECT t.id, t.amount FROM tolls t)
//! ```
//! ```sql after
//! SELECT id FROM loads WHERE name = 'coal' AND tons = 3 OR (id < 7 OR id = 7 AND tons < 2) OR EXISTS (SELECT 1 FROM (SELECT t.id AS value_1, t.amount AS value_2 FROM tolls t) AS matches WHERE matches.value_1 = id AND matches.value_2 = tons)
//! ```
//!
//! Right when
//! 1. rows are equal if their values are, one by one; the first pair that differs says which row is
//!    less. With NULL the parts give what the whole does: NULL unless another part settles it;
//! 2. where the source takes NULL in a row for a value like others (DuckDB, Spark), the parts are
//!    compared so, too; of less and greater it can't be said, which is noted;
//! 3. IN with a query becomes EXISTS only among the ANDs and ORs of a condition, where false and NULL
//!    drop the row alike; NOT IN is true where no row of the query could be equal, so that there NULL
//!    counts as equal.

use meaning::{Breach, Meant, Note, Sign, ValueClass, infer, phrase};
use syntax::tree::{Expr, ExprKind, InSet, InTest, LogicOperator, Query, Span};

use super::matches::Matches;
use super::walk::{each_expr, each_predicate, predicates};
use super::{Context, Place};
use crate::shape::{all_of, any_of, copy_of, null_test, operation};

type E = Expr<Meant>;

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, cx: &mut Context<'_>) {
    each_expr(query, &mut |expr| compared(expr, cx));
    each_predicate(query, &mut |predicate| sought(predicate, cx));
}

/// The condition of a change, which is no query's.
pub(super) fn in_change(condition: &mut E, cx: &mut Context<'_>) {
    compared(condition, cx);
    predicates(condition, &mut |predicate| sought(predicate, cx));
}

/// The values of a row.
fn row(expr: &E) -> Option<&[E]> {
    match &expr.kind {
        ExprKind::Row(values) if values.len() > 1 => Some(values),
        _ => None,
    }
}

/// Comparisons and IN with a list, wherever they stand.
fn compared(expr: &mut E, cx: &mut Context<'_>) {
    syntax::with_stack(|| expr.exprs_mut(&mut |child| compared(child, cx)));
    let parts = match &expr.kind {
        ExprKind::Binary(binary) => {
            let Sign::Phrase(id, _) = binary.operator else { return };
            let (Some(left), Some(right)) = (row(&binary.left), row(&binary.right)) else { return };
            if left.len() != right.len() || !differs(left, right, cx.facts.rows_compared, cx) {
                return;
            }
            compared_rows(id.phrase().id, left, right, expr.span, cx)
        }
        ExprKind::In(test) => listed(test, cx),
        _ => None,
    };
    if let Some(kind) = parts {
        expr.kind = kind;
    }
}

/// Whether the target has no word for it, or another meaning where a value is NULL.
fn differs(left: &[E], right: &[E], is_spoken: bool, cx: &Context<'_>) -> bool {
    let can_be_null = || left.iter().chain(right).any(|e| infer(e).nullable);
    !is_spoken || (cx.source_facts.rows_hold_null != cx.facts.rows_hold_null && can_be_null())
}

fn compared_rows(phrase: &str, left: &[E], right: &[E], span: Span, cx: &mut Context<'_>) -> Option<ExprKind<Meant>> {
    Some(match phrase {
        phrase::COMPARE_EQUAL => all_equal(left, right, cx).kind,
        phrase::COMPARE_NOT_EQUAL => {
            let word = if cx.source_facts.rows_hold_null { phrase::COMPARE_DISTINCT } else { phrase::COMPARE_NOT_EQUAL };
            in_parens(ExprKind::Logic(LogicOperator::Or, pairs(word, left, right)))
        }
        phrase::COMPARE_LESS | phrase::COMPARE_LESS_OR_EQUAL | phrase::COMPARE_GREATER | phrase::COMPARE_GREATER_OR_EQUAL => {
            let unsure = left.iter().chain(right).find(|e| infer(e).nullable);
            if let (true, Some(value)) = (cx.source_facts.rows_hold_null, unsure) {
                let message = format!(
                    "{} takes NULL in a row for a value that is less or greater than others; here it is NULL",
                    cx.from.name.title()
                );
                cx.note(
                    Note::new("compare.rows", span, message)
                        .advise("make sure that no value of the two rows is NULL")
                        .broken_by(Breach::Value(ValueClass::Null, value.span)),
                );
            }
            in_parens(first_difference(phrase, left, right).kind)
        }
        _ => return None,
    })
}

fn in_parens(kind: ExprKind<Meant>) -> ExprKind<Meant> {
    ExprKind::Nested(Box::new(Expr::synthetic(kind)))
}

fn pairs(phrase: &str, left: &[E], right: &[E]) -> Vec<E> {
    left.iter().zip(right).map(|(a, b)| operation(phrase, copy_of(a), copy_of(b))).collect()
}

fn all_equal(left: &[E], right: &[E], cx: &Context<'_>) -> E {
    let word = if cx.source_facts.rows_hold_null { phrase::COMPARE_SAME } else { phrase::COMPARE_EQUAL };
    Expr::synthetic(ExprKind::Logic(LogicOperator::And, pairs(word, left, right)))
}

/// `a < c OR a = c AND (b < d OR ..)`.
fn first_difference(phrase: &str, left: &[E], right: &[E]) -> E {
    let strict = phrase.trim_end_matches("-or-equal");
    let ([a], [b]) = (left, right) else {
        let (a, b) = (&left[0], &right[0]);
        let rest = first_difference(phrase, &left[1..], &right[1..]);
        let rest = if matches!(rest.kind, ExprKind::Logic(..)) { Expr::synthetic(in_parens(rest.kind)) } else { rest };
        let tied =
            Expr::synthetic(ExprKind::Logic(LogicOperator::And, vec![operation(phrase::COMPARE_EQUAL, copy_of(a), copy_of(b)), rest]));
        return Expr::synthetic(ExprKind::Logic(LogicOperator::Or, vec![operation(strict, copy_of(a), copy_of(b)), tied]));
    };
    operation(phrase, copy_of(a), copy_of(b))
}

/// IN with rows written out.
fn listed(test: &InTest<Meant>, cx: &Context<'_>) -> Option<ExprKind<Meant>> {
    let (Some(left), InSet::List(items)) = (row(&test.operand), &test.set) else { return None };
    let rows: Option<Vec<&[E]>> = items.iter().map(row).collect();
    let rows = rows.filter(|rows| rows.iter().all(|r| r.len() == left.len()))?;
    if !rows.iter().any(|r| differs(left, r, cx.facts.rows_in_lists, cx)) {
        return None;
    }
    let any = any_of(rows.iter().map(|r| all_equal(left, r, cx)).collect())?.kind;
    Some(if test.negated { ExprKind::Not(Box::new(Expr::synthetic(in_parens(any)))) } else { in_parens(any) })
}

/// Condition 3.
fn sought(predicate: &mut E, cx: &mut Context<'_>) {
    if let ExprKind::In(test) = &mut predicate.kind
        && !cx.facts.rows_in_lists
        && let Some(exists) = found(test, cx)
    {
        predicate.kind = exists;
    }
}

fn found(test: &mut InTest<Meant>, cx: &mut Context<'_>) -> Option<ExprKind<Meant>> {
    let InSet::Query(set) = &mut test.set else { return None };
    let left: Vec<E> = row(&test.operand)?.iter().map(copy_of).collect();
    let matches = Matches::of(set, left.len(), cx)?;
    let conditions = left.into_iter().zip(matches.values.iter().cloned()).map(|(value, other)| {
        let is_nullable = infer(&other).nullable;
        if !test.negated {
            return operation(phrase::COMPARE_EQUAL, other, value);
        }
        let mut ways = vec![operation(phrase::COMPARE_EQUAL, copy_of(&other), copy_of(&value))];
        ways.extend(is_nullable.then(|| null_test(other, false)));
        ways.extend(infer(&value).nullable.then(|| null_test(value, false)));
        if ways.len() == 1 { ways.remove(0) } else { Expr::synthetic(in_parens(ExprKind::Logic(LogicOperator::Or, ways))) }
    });
    let condition = all_of(conditions.collect());
    Some(matches.exist(condition, test.negated))
}
