//! Conditions as values, for targets in which a condition is none.
//!
//! ```sql before mysql tsql
//! SELECT name, tons > 3 AS heavy FROM loads ORDER BY tons IS NULL, tons LIMIT 3
//! ```
//! ```sql after
//! SELECT TOP (3) name, CASE WHEN tons > 3 THEN 1 WHEN NOT tons > 3 THEN 0 END AS heavy FROM loads ORDER BY CASE WHEN tons IS NULL THEN 1 ELSE 0 END, tons
//! ```
//!
//! Right when
//! 1. true is 1 and false is 0, as the sources that have no type for truth give them, and as those
//!    that have one compare;
//! 2. a condition that is neither is NULL: it needs a branch of its own unless it is always one of
//!    the two (IS NULL, EXISTS);
//! 3. the entry of a select list keeps its place and gets no name it hadn't; a sort key sorts false
//!    before true.

use meaning::Meant;
use syntax::tree::{Case, Expr, ExprKind, IsWhat, Query, QueryBody, SelectValue, Span};

use super::shape::{copy_of, number};
use super::{Context, Place};
use crate::constructs::{is_condition, takes_condition};

type E = Expr<Meant>;

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, _: &mut Context<'_>) {
    if let QueryBody::Select(select) = &mut query.body {
        for item in &mut select.items {
            if let SelectValue::Expr(expr) = &mut item.value {
                in_arguments(expr);
                as_number(expr);
            }
        }
        for condition in select.condition.iter_mut().chain(&mut select.having) {
            in_arguments(condition);
        }
    }
    for key in &mut query.order_by {
        in_arguments(&mut key.expr);
        as_number(&mut key.expr);
    }
}

/// Conditions among the arguments of functions, but where one is wanted.
fn in_arguments(expr: &mut E) {
    expr.exprs_mut(&mut |child| in_arguments(child));
    if let ExprKind::Call(call) = &mut expr.kind {
        let function = &call.function;
        let values = call.arguments.iter_mut().enumerate().filter(|(at, _)| !takes_condition(function, *at));
        values.for_each(|(_, argument)| as_number(&mut argument.value));
    }
}

fn as_number(expr: &mut E) {
    if !is_condition(expr.without_parens()) {
        return;
    }
    let condition = copy_of(expr.without_parens());
    let mut branches = vec![(condition.clone(), number(1))];
    let mut otherwise = Some(number(0));
    if !is_true_or_false(&condition) {
        // Condition 2.
        let span = Span::MADE;
        branches.push((Expr { kind: ExprKind::Not(Box::new(condition)), span }, number(0)));
        otherwise = None;
    }
    *expr = Expr::made(ExprKind::Case(Box::new(Case { operand: None, branches, otherwise })));
}

fn is_true_or_false(condition: &E) -> bool {
    match &condition.kind {
        ExprKind::Exists(_) => true,
        ExprKind::Is(test) => !matches!(test.what, IsWhat::Words(_)),
        _ => !meaning::infer(condition).nullable,
    }
}
