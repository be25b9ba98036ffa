//! TRUE and FALSE as conditions, for targets that have no such words.
//!
//! ```sql before postgres tsql
//! SELECT name FROM loads WHERE TRUE AND tons > 3
//! ```
//! ```sql after
//! SELECT name FROM loads WHERE 1 = 1 AND tons > 3
//! ```
//!
//! Right when
//! 1. the word stands where a condition is wanted; where a value is wanted it is 1 or 0.

use meaning::{Constant, Meant};
use syntax::tree::{ChildMut, Expr, ExprKind, JoinCondition, Query, QueryBody, Statement, StatementKind, TableKind, TableRef};

use super::shape::{number, operation};
use super::{Context, Place};

type E = Expr<Meant>;

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, _: &mut Context<'_>) {
    let QueryBody::Select(block) = &mut query.body else { return };
    block.exprs_mut(&mut |e| in_cases(e));
    for condition in block.condition.iter_mut().chain(&mut block.having).chain(&mut block.qualify) {
        write_out(condition);
    }
    block.from.iter_mut().for_each(in_table);
    query.order_by.iter_mut().for_each(|k| in_cases(&mut k.expr));
}

/// The condition of a change, which is no query's.
pub(super) fn in_change(statement: &mut Statement<Meant>) {
    match &mut statement.kind {
        StatementKind::Update(update) => update.condition.iter_mut().for_each(write_out),
        StatementKind::Delete(delete) => delete.condition.iter_mut().for_each(write_out),
        _ => {}
    }
}

/// Condition 1.
fn write_out(condition: &mut E) {
    match &mut condition.kind {
        ExprKind::Literal(Constant::Boolean(value)) => {
            let one_or_none = i64::from(*value);
            *condition = operation("compare.equal", number(1), number(one_or_none));
        }
        ExprKind::Logic(_, operands) => operands.iter_mut().for_each(write_out),
        ExprKind::Not(inner) | ExprKind::Nested(inner) => write_out(inner),
        _ => {}
    }
}

fn in_cases(expr: &mut E) {
    if let ExprKind::Case(case) = &mut expr.kind
        && case.operand.is_none()
    {
        case.branches.iter_mut().for_each(|(when, _)| write_out(when));
    }
    expr.exprs_mut(&mut |child| in_cases(child));
}

fn in_table(table: &mut TableRef<Meant>) {
    if let TableKind::Join(join) = &mut table.kind
        && let JoinCondition::On(condition) = &mut join.condition
    {
        write_out(condition);
    }
    table.children_mut(&mut |child| {
        if let ChildMut::Table(inner) = child {
            in_table(inner);
        }
    });
}
