//! Aliases of the select list inside the expressions of ORDER BY.
//!
//! ```sql before mysql postgres
//! SELECT tons * 2 AS t FROM loads WHERE tons > 0 ORDER BY t % 7, t
//! ```
//! ```sql after
//! SELECT tons * 2 AS t FROM loads WHERE tons > 0 ORDER BY tons * 2 % 7 NULLS FIRST, t NULLS FIRST
//! ```
//! ```sql before postgres spark
//! SELECT - tons AS tons FROM loads ORDER BY tons + 1 LIMIT 3
//! ```
//! ```sql after
//! SELECT - tons AS tons FROM loads ORDER BY loads.tons + 1 NULLS LAST LIMIT 3
//! ```
//!
//! Right when
//! 1. a key that is nothing but a name stays as it is: every dialect looks for an alias first;
//! 2. inside an expression a name that means an entry of the list is written out, unless the target
//!    finds the entry by the same rule;
//! 3. a name that means a column, where the target would find an alias first, gets its table's name.

use meaning::{BindingTarget, Meant, SortNames};
use syntax::tree::{Expr, ExprKind, Ident, Query, QueryBody, SelectItem, TableKind, TableRef};

use super::{Context, Place};
use crate::shape::{again, table_name, write_out_entries};

type E = Expr<Meant>;

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, cx: &mut Context<'_>) {
    let QueryBody::Select(block) = &query.body else { return };
    let source = cx.source_facts.sort_names;
    let finds_it = cx.facts.sort_names == SortNames::AliasesFirst || cx.facts.sort_names == source;
    for key in &mut query.order_by {
        // Condition 1.
        if matches!(key.expr.without_parens().kind, ExprKind::Column(_)) {
            continue;
        }
        // Condition 2.
        if !finds_it {
            write_out_entries(&mut key.expr, &block.items);
        }
        if cx.facts.sort_names == SortNames::AliasesFirst && source != SortNames::AliasesFirst {
            qualify(&mut key.expr, &block.items, &block.from);
        }
    }
}

/// Condition 3.
fn qualify(expr: &mut E, items: &[SelectItem<Meant>], from: &[TableRef<Meant>]) {
    if let ExprKind::Column(binding) = &mut expr.kind {
        let BindingTarget::Column(relation) = binding.target else { return };
        let is_shadowed =
            |name: &Ident| items.iter().any(|i| i.alias.as_ref().is_some_and(|a| a.name.text.eq_ignore_ascii_case(&name.text)));
        if binding.name.as_single().is_some_and(is_shadowed)
            && let Some(table) = from.iter().find_map(|t| named(t, relation))
        {
            binding.name.parts.insert(0, again(&table));
        }
        return;
    }
    expr.exprs_mut(&mut |child| qualify(child, items, from));
}

/// The name of a table reference among those of a FROM.
fn named(table: &TableRef<Meant>, relation: meaning::RelationId) -> Option<Ident> {
    if table.relation == relation {
        return table_name(table);
    }
    match &table.kind {
        TableKind::Join(join) => named(&join.left, relation).or_else(|| named(&join.right, relation)),
        TableKind::Nested(inner) => named(inner, relation),
        _ => None,
    }
}
