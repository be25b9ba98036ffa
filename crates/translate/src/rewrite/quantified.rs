//! Comparisons with ANY and ALL, where the target has none, or none with written values.
//!
//! ```sql before postgres sqlite
//! SELECT id FROM loads WHERE id = ANY (ARRAY[1, 2]) AND tons > ALL (SELECT t.amount FROM tolls t)
//! ```
//! ```sql after
//! SELECT id FROM loads WHERE id IN (1, 2) AND NOT EXISTS (SELECT 1 FROM (SELECT t.amount AS value_1 FROM tolls t) AS matches WHERE NOT tons > matches.value_1 OR tons IS NULL OR matches.value_1 IS NULL)
//! ```
//!
//! Right when
//! 1. `= ANY` is IN and `<> ALL` is NOT IN, of values and of queries alike; with other operators a
//!    list is compared one by one;
//! 2. with a query it becomes EXISTS only among the ANDs and ORs of a condition, where false and NULL
//!    drop the row alike; ALL holds where no row of the query denies it or leaves it open.

use meaning::{Meant, Sign, infer, phrase};
use syntax::tree::{Expr, ExprKind, InSet, InTest, LogicOperator, Quantified, QuantifierWord, Query};

use super::matches::Matches;
use super::walk::{each_expr, each_predicate, predicates};
use super::{Context, Place};
use crate::ask::written_list;
use crate::shape::{any_of, copy_of, null_test, operation, take_query};

type E = Expr<Meant>;

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, cx: &mut Context<'_>) {
    each_expr(query, &mut |expr| listed(expr, cx));
    each_predicate(query, &mut |predicate| sought(predicate, cx));
}

/// The condition of a change, which is no query's.
pub(super) fn in_change(condition: &mut E, cx: &mut Context<'_>) {
    listed(condition, cx);
    predicates(condition, &mut |predicate| sought(predicate, cx));
}

fn phrase_of(test: &Quantified<Meant>) -> &'static str {
    if let Sign::Phrase(id, _) = test.operator { id.phrase().id } else { "" }
}

/// Condition 1.
fn listed(expr: &mut E, cx: &Context<'_>) {
    syntax::with_stack(|| expr.exprs_mut(&mut |child| listed(child, cx)));
    let ExprKind::Quantified(test) = &mut expr.kind else { return };
    let all = test.quantifier == QuantifierWord::All;
    let membership = match (phrase_of(test), all) {
        (phrase::COMPARE_EQUAL, false) => Some(false),
        (phrase::COMPARE_NOT_EQUAL, true) => Some(true),
        _ => None,
    };
    let operand = copy_of(&test.left);
    if let Some(values) = written_list(&test.set).map(<[E]>::to_vec) {
        expr.kind = match membership {
            Some(negated) => ExprKind::In(Box::new(InTest { operand, negated, set: InSet::List(values) })),
            None => {
                let phrase = phrase_of(test);
                let one = |value: E| operation(phrase, copy_of(&operand), value);
                let word = if all { LogicOperator::And } else { LogicOperator::Or };
                ExprKind::Nested(Box::new(Expr::synthetic(ExprKind::Logic(word, values.into_iter().map(one).collect()))))
            }
        };
    } else if let (ExprKind::Subquery(query), Some(negated), false) = (&mut test.set.kind, membership, cx.facts.quantified) {
        let set = InSet::Query(take_query(query));
        expr.kind = ExprKind::In(Box::new(InTest { operand, negated, set }));
    }
}

/// Condition 2.
fn sought(predicate: &mut E, cx: &mut Context<'_>) {
    if let ExprKind::Quantified(test) = &mut predicate.kind
        && !cx.facts.quantified
        && let Some(exists) = found(test, cx)
    {
        predicate.kind = exists;
    }
}

fn found(test: &mut Quantified<Meant>, cx: &mut Context<'_>) -> Option<ExprKind<Meant>> {
    let phrase = phrase_of(test);
    let ExprKind::Subquery(query) = &mut test.set.kind else { return None };
    if !phrase.starts_with("compare.") {
        return None;
    }
    let matches = Matches::of(query, 1, cx)?;
    let other = matches.values[0].clone();
    let holds = operation(phrase, copy_of(&test.left), copy_of(&other));
    if test.quantifier != QuantifierWord::All {
        return Some(matches.exist(Some(holds), false));
    }
    let mut ways = vec![Expr::synthetic(ExprKind::Not(Box::new(holds)))];
    ways.extend(infer(&test.left).nullable.then(|| null_test(copy_of(&test.left), false)));
    ways.extend(infer(&other).nullable.then(|| null_test(other, false)));
    Some(matches.exist(any_of(ways), true))
}
