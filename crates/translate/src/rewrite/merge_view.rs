//! A view whose columns are only passed on is merged into the query around it.
//!
//! Not a rule by itself: those that move a limit or an order out of a view leave such queries, and
//! tidy up behind themselves.
//!
//! `SELECT a AS x FROM (SELECT a, b FROM t) ORDER BY b LIMIT n` is `SELECT a AS x FROM t ORDER BY b LIMIT n`.
//!
//! Right when
//! 1. rows go through the query one by one, and nothing but its order and limit acts on them;
//! 2. the view is a block without a limit, and an order of its own has no say any more;
//! 3. its DISTINCT, if there is one, sees the same columns afterwards: the list stays as it is;
//! 4. every entry outside is a column of the view, or an expression over columns that are columns
//!    inside; one that is worked out inside is not worked out twice, and none without an alias loses
//!    the words it is called by.

use meaning::{Binding, BindingTarget, Meant, RelationId, RowLimit};
use syntax::tree::{
    AliasForm, ColumnAlias, Expr, ExprKind, ObjectName, Query, QueryBody, Select, SelectItem, SelectQuantifier, SelectValue, SortKey, Span,
    TableKind,
};

use crate::shape::{again, copy_of, is_row_by_row, is_star_only, output_name, resolved_key, take_query};

type E = Expr<Meant>;

/// Merges the view `query` selects from, if that is right.
pub(super) fn merge_view(query: &mut Query<Meant>) {
    let QueryBody::Select(outer) = &mut query.body else { return };
    // Condition 1.
    if !is_row_by_row(outer) || outer.condition.is_some() || query.with.is_some() {
        return;
    }
    let Some((keys, items)) = merged(outer, &query.order_by) else { return };
    let Some(view) = only_view(outer) else { return };
    let mut view = take_query(view);
    if let (QueryBody::Select(block), Some(items)) = (&mut view.body, items) {
        block.items = items;
    }
    view.order_by = keys;
    view.limit = query.limit.take();
    put_in_place(view, query);
}

/// The view takes the place of the query, and what stood behind that.
fn put_in_place(mut view: Query<Meant>, query: &mut Query<Meant>) {
    view.locking = view.locking.or(query.locking);
    view.options = view.options.or(query.options);
    *query = view;
}

/// Merges the ordered view `query` selects from, with a limit on its rows: the view's order stays as
/// it is written.
pub(super) fn merge_ordered(query: &mut Query<Meant>, limit: &RowLimit) -> bool {
    let QueryBody::Select(outer) = &mut query.body else { return false };
    let plain = is_row_by_row(outer) && outer.condition.is_none() && !is_star_only(outer);
    if !plain || query.with.is_some() || !query.order_by.is_empty() || query.limit.is_some() {
        return false;
    }
    let Some((keys, items)) = merged_ordered(outer) else { return false };
    let Some(view) = only_view(outer) else { return false };
    let mut view = take_query(view);
    if let QueryBody::Select(block) = &mut view.body {
        block.items = items;
    }
    view.order_by = keys;
    view.limit = Some(Box::new(limit.clone()));
    put_in_place(view, query);
    true
}

fn merged_ordered(outer: &Select<Meant>) -> Option<(Vec<SortKey<Meant>>, Vec<SelectItem<Meant>>)> {
    let (view, _) = viewed(outer)?;
    let QueryBody::Select(block) = &view.body else { return None };
    let distinct = !matches!(block.quantifier, None | Some(SelectQuantifier::All));
    if view.limit.is_some() || view.order_by.is_empty() || distinct {
        return None;
    }
    let restated = |key: &SortKey<Meant>| {
        // An alias or ordinal is one of the view's list, which goes.
        match &key.expr.without_parens().kind {
            ExprKind::Column(binding) if matches!(binding.target, BindingTarget::Output(_)) => {
                let expr = told_column(binding, key.expr.span, block)?;
                let read = expr.span.is_read();
                Some(SortKey { expr, span: if read { key.span } else { Span::SYNTHETIC }, ..key.clone() })
            }
            _ if is_of_list(&key.expr) => {
                Some(SortKey { expr: resolved_key(&key.expr, &block.items)?, span: Span::SYNTHETIC, ..key.clone() })
            }
            _ => Some(key.clone()),
        }
    };
    let keys: Option<Vec<SortKey<Meant>>> = view.order_by.iter().map(restated).collect();
    Some((keys?, told_items(&outer.items, outer)?))
}

/// A sort key that names entries of the list it follows.
fn is_of_list(key: &E) -> bool {
    matches!(key.without_parens().kind, ExprKind::Literal(_))
        || key.any(&mut |e| matches!(&e.kind, ExprKind::Column(Binding { target: BindingTarget::Output(_), .. })))
}

/// The order and the list of the merged query; no list where the view's own stays.
fn merged(outer: &Select<Meant>, order_by: &[SortKey<Meant>]) -> Option<(Vec<SortKey<Meant>>, Option<Vec<SelectItem<Meant>>>)> {
    let (view, _) = viewed(outer)?;
    let QueryBody::Select(block) = &view.body else { return None };
    // Condition 2.
    if view.limit.is_some() || !view.order_by.is_empty() {
        return None;
    }
    let keys: Option<Vec<SortKey<Meant>>> = order_by.iter().map(|k| inner_key(k, block)).collect();
    let keys = keys?;
    if same_columns(&outer.items, block) {
        return Some((keys, None));
    }
    // Condition 3.
    if !matches!(block.quantifier, None | Some(SelectQuantifier::All)) {
        return None;
    }
    Some((keys, Some(told_items(&outer.items, outer)?)))
}

/// The one derived table of a block.
pub(super) fn only_view(select: &mut Select<Meant>) -> Option<&mut Query<Meant>> {
    match select.from.as_mut_slice() {
        [one] => match &mut one.kind {
            TableKind::Derived { lateral: false, query } => Some(query),
            _ => None,
        },
        _ => None,
    }
}

/// The same to look at, with its place among the table references.
fn viewed(select: &Select<Meant>) -> Option<(&Query<Meant>, RelationId)> {
    match select.from.as_slice() {
        [one] => match &one.kind {
            TableKind::Derived { lateral: false, query } => Some((query, one.relation)),
            _ => None,
        },
        _ => None,
    }
}

fn same_columns(items: &[SelectItem<Meant>], block: &Select<Meant>) -> bool {
    block.items.len() == items.len()
        && items.iter().zip(&block.items).all(|(outer, inner)| {
            let column = matches!(&outer.value, SelectValue::Expr(e) if matches!(e.kind, ExprKind::Column(_)));
            match (output_name(outer), output_name(inner)) {
                (Some(a), Some(b)) => column && a.text.eq_ignore_ascii_case(&b.text),
                _ => false,
            }
        })
}

/// The entry of a block's list with a name.
fn entry_named<'a>(block: &'a Select<Meant>, name: &str) -> Option<&'a E> {
    block.items.iter().find_map(|item| match &item.value {
        SelectValue::Expr(expr) if output_name(item).is_some_and(|n| n.text.eq_ignore_ascii_case(name)) => Some(expr),
        _ => None,
    })
}

/// The alias by which a block's list has a name.
fn alias_of<'a>(block: &'a Select<Meant>, name: &str) -> Option<&'a ColumnAlias> {
    block.items.iter().filter_map(|i| i.alias.as_ref()).find(|a| a.name.text.eq_ignore_ascii_case(name))
}

/// A key over a view's column as a key inside the view.
fn inner_key(key: &SortKey<Meant>, block: &Select<Meant>) -> Option<SortKey<Meant>> {
    let ExprKind::Column(binding) = &key.expr.kind else { return None };
    let expr = told_column(binding, Span::SYNTHETIC, block)?;
    Some(SortKey { expr, direction: key.direction, nulls: key.nulls, span: Span::SYNTHETIC })
}

/// The entries of the list outside in terms of the view's own; `None` if they can't be found out so.
pub(super) fn told_items(items: &[SelectItem<Meant>], outer: &Select<Meant>) -> Option<Vec<SelectItem<Meant>>> {
    let (view, relation) = viewed(outer)?;
    let QueryBody::Select(block) = &view.body else { return None };
    let mut restated: Vec<SelectItem<Meant>> = Vec::new();
    for item in items {
        let SelectValue::Expr(expr) = &item.value else { return None };
        let (value, name) = match &expr.without_parens().kind {
            ExprKind::Column(binding) => (told_column(binding, expr.span, block)?, Some(binding.name.last())),
            _ => (told_expression(expr, relation, block, item.alias.is_some())?, None),
        };
        // Condition 4.
        let worked_out = !matches!(value.kind, ExprKind::Column(_) | ExprKind::Literal(_));
        if worked_out && restated.iter().any(|t| matches!(&t.value, SelectValue::Expr(e) if *e == value)) {
            return None;
        }
        let renamed = match (&item.alias, name) {
            (Some(alias), _) => Some(alias.clone()),
            (None, Some(name)) if !is_called(&value, &name.text) => {
                let form = alias_of(block, &name.text).map_or(AliasForm::As, |a| a.form);
                Some(ColumnAlias { name: again(name), form })
            }
            _ => None,
        };
        restated.push(SelectItem { value: SelectValue::Expr(value), alias: renamed, span: item.span });
    }
    Some(restated)
}

fn is_called(value: &E, name: &str) -> bool {
    matches!(&value.kind, ExprKind::Column(b) if b.name.last().text.eq_ignore_ascii_case(name))
}

/// What a column of the view is inside it.
fn told_column(binding: &Binding, span: Span, block: &Select<Meant>) -> Option<E> {
    let wanted = binding.name.last();
    if let Some(expr) = entry_named(block, &wanted.text) {
        return Some(match &expr.kind {
            // The name stays the one that is outside.
            ExprKind::Column(inner) if span.is_read() && is_called(expr, &wanted.text) => {
                let mut name = inner.name.clone();
                name.parts.iter_mut().for_each(|p| *p = again(p));
                if let Some(last) = name.parts.last_mut() {
                    *last = wanted.clone();
                }
                Expr { kind: ExprKind::Column(Binding { name, ..inner.clone() }), span }
            }
            _ => copy_of(expr),
        });
    }
    // A column behind the view's star: only its name is known, and only one star fits.
    let stars = block.items.iter().filter(|i| matches!(i.value, SelectValue::Star(..))).count();
    if stars != 1 {
        return None;
    }
    let name = ObjectName::single(if span.is_read() { wanted.clone() } else { again(wanted) });
    Some(Expr { kind: ExprKind::Column(Binding { name, target: BindingTarget::Open, ..binding.clone() }), span })
}

/// An expression whose columns of the view are columns inside; without a name of its own it is called
/// by its words, so they must keep theirs.
fn told_expression(expr: &E, relation: RelationId, block: &Select<Meant>, named: bool) -> Option<E> {
    let closed = !expr.any(&mut |e| {
        matches!(e.kind, ExprKind::Subquery(_) | ExprKind::Exists(_) | ExprKind::In(_) | ExprKind::Quantified(_) | ExprKind::Collect(..))
    });
    let mut restated = expr.clone();
    (closed && tell_columns(&mut restated, relation, block, named)).then_some(restated)
}

fn tell_columns(expr: &mut E, relation: RelationId, block: &Select<Meant>, named: bool) -> bool {
    if let ExprKind::Column(binding) = &expr.kind {
        match binding.target {
            BindingTarget::Column(of) if of == relation => {}
            BindingTarget::Column(_) | BindingTarget::Special => return true,
            _ => return false,
        }
        return match told_column(binding, expr.span, block) {
            Some(value) if is_called(&value, &binding.name.last().text) || (named && matches!(value.kind, ExprKind::Column(_))) => {
                *expr = value;
                true
            }
            _ => false,
        };
    }
    let mut all = true;
    expr.exprs_mut(&mut |child| all = all && tell_columns(child, relation, block, named));
    all
}
