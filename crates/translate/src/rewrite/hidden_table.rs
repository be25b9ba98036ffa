//! Tables whose name a column of the list takes away in ORDER BY, where the target looks for those
//! first.
//!
//! ```sql before postgres bigquery
//! SELECT a.name, b.name AS b FROM vessels a JOIN vessels b ON b.id > a.id ORDER BY a.id, b.id
//! ```
//! ```sql after
//! SELECT a.name, b_table.name AS b FROM vessels a JOIN vessels b_table ON b_table.id > a.id ORDER BY a.id NULLS LAST, b_table.id NULLS LAST
//! ```
//!
//! Right when
//! 1. the new name is no other's in the block, neither a table's nor a column's of the list;
//! 2. every reference to the table gets it: in the block, in its joins and in queries inside it.

use meaning::{BindingTarget, Meant, RelationId};
use syntax::tree::{ChildMut, Expr, ExprKind, Ident, ObjectName, Query, QueryBody, Select, SelectValue, TableAlias, TableRef};

use super::{Context, Place};
use crate::shape::{each_leaf, free_name, output_name, table_name};

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, cx: &mut Context<'_>) {
    for (relation, name) in hidden(query) {
        let QueryBody::Select(block) = &query.body else { return };
        // Condition 1.
        let mut taken: Vec<Ident> = block.items.iter().filter_map(output_name).collect();
        for table in &block.from {
            each_leaf(table, &mut |leaf| taken.extend(table_name(leaf)));
        }
        let name = Ident::synthetic(free_name(&format!("{}_table", name.text), &taken));
        Renaming { relation, name, as_word: cx.facts.table_alias_as }.query(query);
    }
}

/// The tables that sort keys name, and columns of the list as well.
fn hidden(query: &Query<Meant>) -> Vec<(RelationId, Ident)> {
    let QueryBody::Select(block) = &query.body else { return Vec::new() };
    let outputs: Vec<Ident> = block.items.iter().filter_map(output_name).collect();
    let mut hidden: Vec<(RelationId, Ident)> = Vec::new();
    for key in &query.order_by {
        key.expr.any(&mut |e| {
            if let ExprKind::Column(binding) = &e.kind
                && let (BindingTarget::Column(relation), [.., table, _]) = (binding.target, binding.name.parts.as_slice())
                && outputs.iter().any(|o| o.text.eq_ignore_ascii_case(&table.text))
                && hidden.iter().all(|(known, _)| *known != relation)
            {
                hidden.push((relation, table.clone()));
            }
            false
        });
    }
    hidden
}

/// Condition 2.
struct Renaming {
    relation: RelationId,
    name: Ident,
    as_word: bool,
}

impl Renaming {
    fn query(&self, query: &mut Query<Meant>) {
        query.body.selects_mut(&mut |select| self.select(select));
        query.order_by.iter_mut().for_each(|k| self.expr(&mut k.expr));
    }

    fn select(&self, select: &mut Select<Meant>) {
        for item in &mut select.items {
            if let SelectValue::Star(star, _) = &mut item.value
                && star.relation == Some(self.relation)
            {
                star.qualifier = Some(ObjectName::single(self.name.clone()));
            }
        }
        select.children_mut(&mut |child| self.child(child));
    }

    fn child(&self, child: ChildMut<'_, Meant>) {
        match child {
            ChildMut::Expr(expr) => self.expr(expr),
            ChildMut::Query(query) => self.query(query),
            ChildMut::Table(table) => self.table(table),
        }
    }

    fn table(&self, table: &mut TableRef<Meant>) {
        if table.relation == self.relation {
            let made = TableAlias { as_word: self.as_word, name: None, columns: Vec::new(), typed_columns: None };
            table.alias.get_or_insert(made).name = Some(self.name.clone());
        }
        table.children_mut(&mut |child| self.child(child));
    }

    fn expr(&self, expr: &mut Expr<Meant>) {
        if let ExprKind::Column(binding) = &mut expr.kind {
            if binding.target == BindingTarget::Column(self.relation)
                && let [.., column] = binding.name.parts.as_slice()
                && binding.name.parts.len() > 1
            {
                binding.name = ObjectName { parts: vec![self.name.clone(), column.clone()] };
            }
            return;
        }
        syntax::with_stack(|| expr.children_mut(&mut |child| self.child(child)));
    }
}
