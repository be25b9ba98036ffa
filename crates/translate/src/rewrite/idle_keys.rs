//! Sort keys that say nothing: constants, and keys that stand before already.
//!
//! ```sql before mysql tsql
//! SELECT name FROM loads ORDER BY NULL, name, id, name DESC LIMIT 3
//! ```
//! ```sql after
//! SELECT TOP (3) name FROM loads ORDER BY name, id
//! ```
//!
//! Right when
//! 1. a constant that is no ordinal is the same for every row (SQL Server: Msg 408);
//! 2. rows that reach the second key of an expression have the same value of it (SQL Server: Msg 169).

use meaning::{Constant, Meant};
use syntax::tree::{Expr, ExprKind, Query, SortKey};

use super::shape::same;
use super::{Context, Place};

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, _: &mut Context<'_>) {
    let mut kept: Vec<SortKey<Meant>> = Vec::with_capacity(query.order_by.len());
    for key in std::mem::take(&mut query.order_by) {
        if !is_idle_constant(&key.expr) && !kept.iter().any(|k| same(&k.expr, &key.expr)) {
            kept.push(key);
        }
    }
    query.order_by = kept;
}

/// Condition 1: a whole number is an ordinal.
fn is_idle_constant(expr: &Expr<Meant>) -> bool {
    match &expr.without_parens().kind {
        ExprKind::Literal(Constant::Number(text)) => text.parse::<u64>().is_err(),
        ExprKind::Literal(_) => true,
        _ => false,
    }
}
