//! Rows written out with VALUES, and column lists behind the alias of a derived table.
//!
//! ```sql before postgres mysql
//! SELECT t.word FROM (VALUES (3, 'c'), (1, 'a')) AS t(n, word) WHERE t.n > 1
//! ```
//! ```sql after
//! SELECT t.word FROM (SELECT 3 AS n, 'c' AS word UNION ALL SELECT 1, 'a') AS t WHERE t.n > 1
//! ```
//! ```sql before postgres sqlite
//! SELECT t.x FROM (SELECT name FROM loads LIMIT 3) AS t(x)
//! ```
//! ```sql after
//! SELECT t.x FROM (SELECT name AS x FROM loads LIMIT 3) AS t
//! ```
//!
//! Right when
//! 1. UNION ALL gives the rows of its branches, each as often as it comes, and takes the names of
//!    the first;
//! 2. a column without a name of its own has the one the source gives it (`column1`);
//! 3. the list names every column of the table, and the columns of the table are known one by one.

use meaning::Meant;
use syntax::tree::{
    Expr, Ident, Query, QueryBody, Select, SelectItem, SelectValue, SetOperation, SetOperator, SetQuantifier, Span, TableKind, TableRef,
    Values,
};

use super::{Context, Place};
use crate::shape::{aliased, expand_stars, query_of};

pub(super) fn rewrite(query: &mut Query<Meant>, place: Place, cx: &mut Context<'_>) {
    if let QueryBody::Select(block) = &mut query.body {
        block.from.iter_mut().for_each(|table| in_table(table, cx));
    }
    // A derived table's names are known to the block around it, and a CTE may have its own list.
    let own = !matches!(place, Place::Derived | Place::Lateral);
    if let (true, QueryBody::Values(_)) = (own && is_unsaid(query, cx), &query.body) {
        write_rows(query, &[], cx);
    }
}

fn in_table(table: &mut TableRef<Meant>, cx: &Context<'_>) {
    syntax::with_stack(|| match &mut table.kind {
        TableKind::Derived { query, .. } => {
            let names: &mut Vec<Ident> = match &mut table.alias {
                Some(alias) => &mut alias.columns,
                None => &mut Vec::new(),
            };
            // Condition 2.
            if let (QueryBody::Values(values), true) = (&query.body, names.is_empty() && cx.values_are_named_otherwise()) {
                let columns = values.rows.first().map_or(0, Vec::len);
                names.extend((0..columns).map(|at| Ident::synthetic(cx.source_name_of_value(at))));
            }
            let listed = matches!(query.body, QueryBody::Values(_)) && !names.is_empty() && !cx.facts.alias_columns;
            if listed || is_unsaid(query, cx) {
                write_rows(query, names, cx);
                names.clear();
            } else if !names.is_empty() && !cx.facts.alias_columns && name_columns(query, names) {
                names.clear();
            }
        }
        TableKind::Join(join) => {
            in_table(&mut join.left, cx);
            in_table(&mut join.right, cx);
        }
        TableKind::Nested(inner) => in_table(inner, cx),
        _ => {}
    });
}

/// Rows that the target doesn't take here.
fn is_unsaid(query: &Query<Meant>, cx: &Context<'_>) -> bool {
    let ordered = !query.order_by.is_empty() || query.limit.is_some();
    matches!(query.body, QueryBody::Values(_)) && (!cx.facts.values_query || (ordered && !cx.facts.values_ordered))
}

/// Conditions 1 and 2.
fn write_rows(query: &mut Query<Meant>, names: &[Ident], cx: &Context<'_>) {
    let empty = QueryBody::Select(Box::new(Select::of(Vec::new(), Vec::new())));
    let QueryBody::Values(Values { rows, span, .. }) = std::mem::replace(&mut query.body, empty) else { return };
    let mut body: Option<QueryBody<Meant>> = None;
    for row in rows {
        let items = row.into_iter().enumerate().map(|(at, value)| match (&body, names.get(at)) {
            (None, Some(name)) => aliased(value, &name.text),
            (None, None) => aliased(value, &cx.source_name_of_value(at)),
            _ => unnamed(value),
        });
        let branch = query_of(Select::of(items.collect(), Vec::new())).body;
        body = Some(match body {
            None => branch,
            Some(left) => QueryBody::SetOperation(Box::new(SetOperation {
                operator: SetOperator::Union,
                minus: false,
                quantifier: Some(SetQuantifier::All),
                by_name: false,
                left,
                right: branch,
                span: Span::SYNTHETIC,
            })),
        });
    }
    query.span = span;
    if let Some(body) = body {
        query.body = body;
    }
}

fn unnamed(value: Expr<Meant>) -> SelectItem<Meant> {
    SelectItem { value: SelectValue::Expr(value), alias: None, span: Span::SYNTHETIC }
}

/// Condition 3; tells whether it is met.
pub(super) fn name_columns(query: &mut Query<Meant>, names: &[Ident]) -> bool {
    expand_stars(query);
    let Some(block) = super::derived_names::first_block(&mut query.body) else { return false };
    let known = block.items.iter().all(|i| matches!(i.value, SelectValue::Expr(_)));
    if !known || block.items.len() != names.len() {
        return false;
    }
    for (item, name) in block.items.iter_mut().zip(names) {
        super::derived_names::put_alias(item, name.clone());
    }
    true
}
