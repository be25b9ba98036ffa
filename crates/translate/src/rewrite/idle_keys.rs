//! Sort keys that say nothing: constants, and keys that stand before already.
//!
//! ```sql before mysql sqlserver
//! SELECT name FROM loads ORDER BY NULL, name, id, name DESC LIMIT 3
//! ```
//! ```sql after
//! SELECT TOP (3) name FROM loads ORDER BY name, id
//! ```
//!
//! Right when
//! 1. a constant that is no ordinal is the same for every row (SQL Server: Msg 408);
//! 2. rows that reach the second key of an expression have the same value of it (SQL Server: Msg 169).

use compact_str::CompactString;
use meaning::{Constant, Meant};
use rustc_hash::FxHashMap;
use syntax::tree::{Expr, ExprKind, Query};

use super::{Context, Place};
use crate::shape::same;

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, _: &mut Context<'_>) {
    // Columns are looked up by name: thousands of keys are compared with few.
    let mut seen: FxHashMap<CompactString, Vec<Expr<Meant>>> = FxHashMap::default();
    query.order_by.retain(|key| {
        if is_idle_constant(&key.expr) {
            return false;
        }
        let name = match &key.expr.without_parens().kind {
            ExprKind::Column(binding) => binding.name.last().text.to_ascii_lowercase(),
            _ => CompactString::default(),
        };
        let alike = seen.entry(name).or_default();
        let is_new = !alike.iter().any(|k| same(k, &key.expr));
        if is_new {
            alike.push(key.expr.clone());
        }
        is_new
    });
}

/// Condition 1: a whole number is an ordinal.
fn is_idle_constant(expr: &Expr<Meant>) -> bool {
    match &expr.without_parens().kind {
        ExprKind::Literal(Constant::Number(text)) => text.parse::<u64>().is_err(),
        ExprKind::Literal(_) => true,
        _ => false,
    }
}
