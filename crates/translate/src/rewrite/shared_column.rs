//! Qualifiers before a column that NATURAL or USING shows as one, where the target takes none.
//!
//! ```sql before postgres oracle
//! SELECT v.id, c.fare FROM vessels v JOIN crossings c USING (id) ORDER BY c.id
//! ```
//! ```sql after
//! SELECT id, c.fare FROM vessels v JOIN crossings c USING (id) ORDER BY id
//! ```
//!
//! Right when
//! 1. the column of that side is the one that is shown: that of either side in an inner join, of the
//!    side that keeps all its rows in an outer one;
//! 2. it is known to be shared: USING names it; of NATURAL, the other side is a query whose columns
//!    are all named.

use meaning::{Binding, BindingTarget, Meant, Note, RelationId};
use syntax::tree::{Expr, ExprKind, JoinCondition, JoinKind, ObjectName, Query, QueryBody, SelectItem, TableKind, TableRef};

use super::{Context, Place};
use crate::shape::{each_leaf, output_name};

/// One side of a join that shows columns as one.
struct Side {
    tables: Vec<RelationId>,
    /// The columns shared, if known.
    shared: Option<Vec<String>>,
    /// Condition 1.
    shown: bool,
}

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, cx: &mut Context<'_>) {
    let QueryBody::Select(block) = &mut query.body else { return };
    let mut sides = Vec::new();
    block.from.iter().for_each(|t| gather(t, &mut sides));
    if sides.is_empty() {
        return;
    }
    block.exprs_mut(&mut |e| unqualify(e, &sides, cx));
    query.order_by.iter_mut().for_each(|k| unqualify(&mut k.expr, &sides, cx));
}

fn unqualify(expr: &mut Expr<Meant>, sides: &[Side], cx: &mut Context<'_>) {
    expr.exprs_mut(&mut |child| unqualify(child, sides, cx));
    let span = expr.span;
    let ExprKind::Column(Binding { name, target: BindingTarget::Column(relation), .. }) = &mut expr.kind else { return };
    if name.parts.len() < 2 {
        return;
    }
    for side in sides.iter().filter(|s| s.tables.contains(relation)) {
        let is_shared = side.shared.as_ref().map(|names| names.iter().any(|n| name.last().text.eq_ignore_ascii_case(n)));
        match (is_shared, side.shown) {
            (Some(false), _) => {}
            (Some(true), true) => *name = ObjectName { parts: vec![name.last().clone()] },
            _ => {
                cx.note(
                    Note::new(
                        "join.shared-column",
                        span,
                        "the target takes no qualifier before a column that NATURAL or USING shows as one",
                    )
                    .advise("if this column is shared, write ON with the columns of both sides"),
                );
                return;
            }
        }
        if name.parts.len() < 2 {
            return;
        }
    }
}

fn gather(table: &TableRef<Meant>, sides: &mut Vec<Side>) {
    match &table.kind {
        TableKind::Nested(inner) => gather(inner, sides),
        TableKind::Join(join) => {
            gather(&join.left, sides);
            gather(&join.right, sides);
            let using: Option<Vec<String>> = match &join.condition {
                JoinCondition::Using(names) => Some(names.iter().map(|n| n.text.to_lowercase().to_string()).collect()),
                _ if join.natural => None,
                _ => return,
            };
            let (left_shown, right_shown) = match join.kind {
                JoinKind::Left => (true, false),
                JoinKind::Right => (false, true),
                JoinKind::Full => (false, false),
                _ => (true, true),
            };
            for (own, other, shown) in [(&join.left, &join.right, left_shown), (&join.right, &join.left, right_shown)] {
                let mut tables = Vec::new();
                each_leaf(own, &mut |leaf| tables.push(leaf.relation));
                sides.push(Side { tables, shared: using.clone().or_else(|| columns_of(other)), shown });
            }
        }
        _ => {}
    }
}

/// Condition 2: the names of a derived table's columns, if all have one.
fn columns_of(table: &TableRef<Meant>) -> Option<Vec<String>> {
    let TableKind::Derived { query, .. } = &table.kind else { return None };
    let QueryBody::Select(block) = &query.body else { return None };
    let name = |item: &SelectItem<Meant>| output_name(item).map(|n| n.text.to_lowercase().to_string());
    block.items.iter().map(name).collect()
}
