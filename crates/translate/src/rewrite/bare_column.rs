//! Columns that a grouped query shows without grouping by them, where the target wants each grouped.
//!
//! ```sql before postgres sqlserver
//! SELECT v.name, COUNT(*) AS n FROM vessels v JOIN tolls t ON t.vessel_id = v.id GROUP BY v.id
//! ```
//! ```sql after
//! SELECT v.name, COUNT(*) AS n FROM vessels v JOIN tolls t ON t.vessel_id = v.id GROUP BY v.id, v.name
//! ```
//!
//! Right when
//! 1. the column has one value in each group: PostgreSQL and MySQL take such a query only if the
//!    columns grouped by determine it; elsewhere it must be a column of a table grouped by its key,
//!    or that is an assumption, and noted;
//! 2. every key is a plain one: in ROLLUP a further key would make further rows.

use meaning::{BareColumns, Binding, BindingTarget, Function, Meant, Note, PhraseId, PhraseKind, RelationId, phrase};
use syntax::DialectName;
use syntax::tree::{Expr, ExprKind, GroupItem, Query, QueryBody, SelectItem, SelectValue, TableKind, TableRef};

use super::group_alias::entry_named;
use super::{Context, Place};
use crate::shape::{copy_of, each_leaf, resolved_key, same};

type E = Expr<Meant>;

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, cx: &mut Context<'_>) {
    let QueryBody::Select(block) = &query.body else { return };
    let Some(group) = &block.group_by else { return };
    // Condition 2.
    let plain = |item: &GroupItem<Meant>| match item {
        GroupItem::Expr(expr) => entry_named(expr, &block.items).map(copy_of).or_else(|| resolved_key(expr, &block.items)),
        _ => None,
    };
    let Some(keys) = group.items.iter().map(plain).collect::<Option<Vec<E>>>() else { return };
    if keys.is_empty() || group.with_word.is_some() {
        return;
    }
    let mut tables = Vec::new();
    block.from.iter().for_each(|t| each_leaf(t, &mut |leaf| tables.push(leaf)));
    let mut search = Search { keys: &keys, tables: &tables, items: &block.items, found: Vec::new() };
    block.items.iter().filter_map(value_of).for_each(|e| search.expr(e, false));
    block.having.iter().chain(query.order_by.iter().map(|k| &k.expr)).for_each(|e| search.expr(e, true));
    let found = search.found;
    let open: Vec<&E> = found.iter().filter(|c| !is_determined(c, &keys, &tables, cx)).collect();
    if let Some(first) = open.first() {
        if cx.from.name == DialectName::Sqlite && has_one_extreme(&block.items) {
            let message = "SQLite shows this column of the row that has the MIN or MAX, which no other dialect does";
            cx.note(
                Note::new("construct.not-translated", first.span, message)
                    .advise("number the rows of each group with ROW_NUMBER and take the first"),
            );
        }
        note(first, cx);
    }
    let found = match cx.facts.bare_columns {
        BareColumns::Determined => open.into_iter().map(copy_of).collect(),
        _ => found,
    };
    let QueryBody::Select(block) = &mut query.body else { return };
    if let Some(group) = &mut block.group_by {
        group.items.extend(found.iter().map(|e| GroupItem::Expr(copy_of(e))));
    }
}

/// SQLite, Bare columns in an aggregate query: with a single MIN or MAX they are those of its row.
fn has_one_extreme(items: &[SelectItem<Meant>]) -> bool {
    let mut extremes = 0;
    for value in items.iter().filter_map(value_of) {
        value.any(&mut |e| {
            let is_extreme = |id: PhraseId| matches!(id.phrase().id, phrase::AGGREGATE_MINIMUM | phrase::AGGREGATE_MAXIMUM);
            extremes += usize::from(
                matches!(&e.kind, ExprKind::Call(call) if matches!(&call.function, Function::Phrase(id, _) if is_extreme(*id))),
            );
            false
        });
    }
    extremes == 1
}

fn value_of(item: &SelectItem<Meant>) -> Option<&E> {
    match &item.value {
        SelectValue::Expr(expr) => Some(expr),
        SelectValue::Star(..) => None,
    }
}

/// Condition 1: the table's key is among the columns grouped by.
fn is_determined(column: &E, keys: &[E], tables: &[&TableRef<Meant>], cx: &Context<'_>) -> bool {
    let Some((relation, _)) = bound(column) else { return false };
    let Some(TableKind::Name(name)) = tables.iter().find(|t| t.relation == relation).map(|t| &t.kind) else { return false };
    let Some(table) = cx.catalog.schema.table(&name.last().text) else { return false };
    let is_key = |wanted: &String| keys.iter().filter_map(bound).any(|(r, name)| r == relation && name.eq_ignore_ascii_case(wanted));
    !table.primary_key.is_empty() && table.primary_key.iter().all(is_key)
}

fn bound(expr: &E) -> Option<(RelationId, &str)> {
    match &expr.without_parens().kind {
        ExprKind::Column(Binding { target: BindingTarget::Column(relation), name, .. }) => Some((*relation, &name.last().text)),
        _ => None,
    }
}

/// Condition 1.
fn note(column: &E, cx: &mut Context<'_>) {
    if cx.source_facts.bare_columns != BareColumns::Any {
        return;
    }
    let message = "a column is shown that the rows are not grouped by: the source shows the value of some row, the target groups by it too";
    cx.note(
        Note::new("group.bare-column", column.span, message)
            .advise("make sure that it has one value in each group, or take its MIN or MAX"),
    );
}

struct Search<'a> {
    keys: &'a [E],
    tables: &'a [&'a TableRef<Meant>],
    items: &'a [SelectItem<Meant>],
    found: Vec<E>,
}

impl Search<'_> {
    /// `behind`: the expression follows the list and may name an entry of it.
    fn expr(&mut self, expr: &E, behind: bool) {
        if behind && entry_named(expr, self.items).is_some() {
            return;
        }
        if self.keys.iter().chain(&self.found).any(|k| same(k, expr)) {
            return;
        }
        match &expr.kind {
            ExprKind::Column(Binding { target: BindingTarget::Column(relation), .. })
                if self.tables.iter().any(|t| t.relation == *relation) =>
            {
                self.found.push(expr.clone());
            }
            ExprKind::Call(call) if !call.is_window() && may_aggregate(&call.function) => {}
            _ => expr.exprs(&mut |child| self.expr(child, behind)),
        }
    }
}

/// An aggregate, or a function of which nothing is known.
fn may_aggregate(function: &Function) -> bool {
    match function {
        Function::Phrase(id, _) => id.phrase().kind == PhraseKind::Aggregate,
        Function::Unresolved(_) => true,
    }
}
