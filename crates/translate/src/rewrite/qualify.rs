//! QUALIFY for targets that don't speak it.
//!
//! ```sql before bigquery postgres
//! SELECT name, kind FROM vessels QUALIFY ROW_NUMBER() OVER (PARTITION BY kind ORDER BY id) = 1 ORDER BY name LIMIT 5
//! ```
//! ```sql after
//! SELECT name, kind FROM (SELECT name, kind, ROW_NUMBER() OVER (PARTITION BY kind ORDER BY id NULLS FIRST) AS place FROM vessels) AS qualified WHERE qualified.place = 1 ORDER BY qualified.name NULLS FIRST LIMIT 5
//! ```
//! ```sql before duckdb oracle
//! SELECT name, RANK() OVER (ORDER BY id) AS place FROM vessels QUALIFY place <= 3
//! ```
//! ```sql after
//! SELECT name, place FROM (SELECT name, RANK() OVER (ORDER BY id) AS place FROM vessels) qualified WHERE qualified.place <= 3
//! ```
//!
//! Right when
//! 1. QUALIFY acts after the windows of its block, and before DISTINCT, ORDER BY and the row limit:
//!    these three move outside with the condition;
//! 2. what the condition and the sort keys use of the block (windows, aggregates, columns) is shown by
//!    the derived table, in added columns where the list doesn't show it;
//! 3. no added column is shown outside: the list's own columns are named there, so they must be known.

use compact_str::CompactString;
use meaning::{BindingTarget, Function, Meant, Note, PhraseKind, RelationId};
use syntax::tree::{Expr, ExprKind, Ident, Query, QueryBody, Select, SelectItem, SelectValue, Span};
use values::DataType;

use super::row_limit::{name_items, shown_names};
use super::{Context, Place};
use crate::shape::{aliased, column, copy_of, derived, expand_stars, free_name, resolved_key, same, take_query};

type E = Expr<Meant>;

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, cx: &mut Context<'_>) {
    let QueryBody::Select(block) = &query.body else { return };
    let Some(condition) = &block.qualify else { return };
    let span = condition.span;
    // Condition 3.
    expand_stars(query);
    let Some(names) = shown_names(query) else {
        let message =
            format!("{} has no QUALIFY; its windows need an added column, and the columns shown are not all known", cx.to.name.title());
        cx.note(
            Note::new("row-limit.columns-needed", span, message)
                .advise("name every column of the select list, or give the tables with --schema"),
        );
        return;
    };
    let QueryBody::Select(block) = &mut query.body else { return };
    let Some(condition) = block.qualify.take() else { return };
    let keys: Option<Vec<E>> = query.order_by.iter().map(|k| resolved_key(&k.expr, &block.items)).collect();
    let Some(keys) = keys else {
        cx.note(Note::new("row-limit.not-said", span, "a sort key beside QUALIFY can't be named outside its block"));
        return;
    };
    let alias = cx.fresh_name("qualified");
    let relation = cx.fresh_relation();
    let mut shown = Shown { alias, relation, names, added: Vec::new() };
    let condition = shown.outside(&condition);
    for (key, expr) in query.order_by.iter_mut().zip(&keys) {
        key.expr = shown.outside(expr);
        key.span = Span::SYNTHETIC;
    }
    outside_of_block(query, shown, condition, cx);
}

/// The block without DISTINCT, order and limit becomes a derived table under them (condition 1).
fn outside_of_block(query: &mut Query<Meant>, shown: Shown, condition: E, cx: &mut Context<'_>) {
    let (with, order_by, limit) = (query.with.take(), std::mem::take(&mut query.order_by), query.limit.take());
    let mut inner = take_query(query);
    let QueryBody::Select(block) = &mut inner.body else { return };
    let quantifier = block.quantifier.take();
    name_items(block, &shown.names);
    block.items.extend(shown.added.iter().map(|(name, expr)| aliased(expr.clone(), name)));
    let items = shown.names.iter().map(|(name, like)| {
        let mut expr = column(&shown.alias, shown.relation, name, like);
        if let ExprKind::Column(binding) = &mut expr.kind {
            binding.name.parts.remove(0);
        }
        SelectItem { value: SelectValue::Expr(expr), alias: None, span: Span::SYNTHETIC }
    });
    let mut outer = Select::of(items.collect(), vec![derived(inner, &shown.alias, shown.relation, &cx.facts)]);
    outer.quantifier = quantifier;
    outer.condition = Some(condition);
    query.body = QueryBody::Select(Box::new(outer));
    query.with = with;
    query.order_by = order_by;
    query.limit = limit;
}

/// What the derived table shows.
struct Shown {
    alias: String,
    relation: RelationId,
    names: Vec<(Ident, E)>,
    added: Vec<(CompactString, E)>,
}

impl Shown {
    /// An expression of the block as one over the derived table (condition 2).
    fn outside(&mut self, expr: &E) -> E {
        if let Some((name, like)) = self.alias_meant(expr) {
            return column(&self.alias, self.relation, name, like);
        }
        if !is_of_block(expr) {
            let mut copy = copy_of(expr);
            copy.exprs_mut(&mut |child| *child = self.outside(child));
            return copy;
        }
        if let Some((name, like)) = self.names.iter().find(|(_, shown)| same(shown, expr)) {
            return column(&self.alias, self.relation, name, like);
        }
        let known = self.added.iter().find(|(_, added)| same(added, expr)).map(|(name, _)| name.clone());
        let name = known.unwrap_or_else(|| self.add(expr));
        column(&self.alias, self.relation, &Ident::synthetic(name), expr)
    }

    /// A column of ours that shows `expr`.
    fn add(&mut self, expr: &E) -> CompactString {
        let word = if matches!(expr.kind, ExprKind::Column(_)) { "value" } else { "place" };
        let own = self.added.iter().map(|(n, _)| Ident::synthetic(n.clone()));
        let taken: Vec<Ident> = self.names.iter().map(|(n, _)| n.clone()).chain(own).collect();
        let name = free_name(word, &taken);
        self.added.push((name.clone(), copy_of(expr)));
        name
    }

    /// The entry of the list that a bare name is the alias of: no column of that name is known.
    fn alias_meant(&self, expr: &E) -> Option<&(Ident, E)> {
        let ExprKind::Column(binding) = &expr.kind else { return None };
        if let BindingTarget::Output(at) = binding.target {
            return self.names.get(at as usize);
        }
        let bare = binding.name.as_single().filter(|_| binding.data_type == DataType::Unknown)?;
        self.names.iter().find(|(name, shown)| name.text.eq_ignore_ascii_case(&bare.text) && !matches!(shown.kind, ExprKind::Column(_)))
    }
}

/// A window, an aggregate or a column: what has its value only in the block.
fn is_of_block(expr: &E) -> bool {
    match &expr.kind {
        ExprKind::Column(_) => true,
        ExprKind::Call(call) => {
            call.is_window() || matches!(&call.function, Function::Phrase(id, _) if id.phrase().kind == PhraseKind::Aggregate)
        }
        _ => false,
    }
}
