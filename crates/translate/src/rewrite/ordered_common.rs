//! ROWNUM over an ordered common table expression counts its rows in its order, as over an inline view.
//!
//! ```sql before oracle postgres
//! WITH heaviest AS (SELECT name, tons FROM loads ORDER BY tons DESC) SELECT name FROM heaviest WHERE ROWNUM <= 3
//! ```
//! ```sql after
//! SELECT name FROM loads ORDER BY tons DESC LIMIT 3
//! ```
//!
//! The expression becomes an inline view there, and the rule for these does the rest. Right when
//! 1. no other WITH gives its name to another; if it is used elsewhere too, it stays for the others;
//! 2. the block that uses it uses nothing else, and ROWNUM;
//! 3. if it has a column list, which a view can't have, its own list is as long and without stars:
//!    the names become aliases there.

use meaning::Meant;
use syntax::tree::{AliasForm, ColumnAlias, CommonTable, Ident, Query, QueryBody, Select, SelectValue, TableAlias, TableKind, TableRef};

use super::rownum::mentions_rownum;
use super::walk::for_each_query_of;
use super::{Context, Place};
use crate::shape::again;

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, cx: &mut Context<'_>) {
    let Some(mut with) = query.with.take() else { return };
    let mut at = 0;
    while at < with.tables.len() {
        let (before, after) = with.tables.split_at_mut(at + 1);
        let table = &before[at];
        let mut places: Vec<&mut Query<Meant>> = after.iter_mut().map(|t| &mut t.query).chain([&mut *query]).collect();
        let ordered = !table.query.order_by.is_empty();
        let uses = if ordered { uses(&table.name.text, &mut places).filter(|uses| *uses > 0) } else { None };
        match (uses, uses.and_then(|_| as_view(table))) {
            (Some(uses), Some(view)) if put(&view, &table.name, &mut places, cx) == uses => {
                with.tables.remove(at);
            }
            _ => at += 1,
        }
    }
    if !with.tables.is_empty() {
        query.with = Some(with);
    }
}

/// The expression as an inline view (condition 3).
fn as_view(table: &CommonTable<Meant>) -> Option<Query<Meant>> {
    let mut view = table.query.clone();
    if table.columns.is_empty() {
        return Some(view);
    }
    let QueryBody::Select(block) = &mut view.body else { return None };
    let plain = block.items.len() == table.columns.len() && block.items.iter().all(|i| matches!(i.value, SelectValue::Expr(_)));
    for (item, name) in block.items.iter_mut().zip(&table.columns) {
        item.alias = Some(ColumnAlias { name: again(name), form: AliasForm::As });
    }
    plain.then_some(view)
}

/// How often a name is used as a table; none if it has a second meaning (condition 1).
fn uses(name: &str, places: &mut [&mut Query<Meant>]) -> Option<usize> {
    let (mut uses, mut alone) = (0, true);
    for place in places {
        for_each_query_of(place, &mut |inner| {
            alone &= !inner.with.iter().flat_map(|w| &w.tables).any(|t| t.name.text.eq_ignore_ascii_case(name));
            if let QueryBody::Select(block) = &inner.body {
                uses += block.from.iter().map(|t| uses_in(t, name)).sum::<usize>();
            }
        });
    }
    alone.then_some(uses)
}

fn uses_in(table: &TableRef<Meant>, name: &str) -> usize {
    match &table.kind {
        TableKind::Name(own) => usize::from(own.as_single().is_some_and(|n| n.text.eq_ignore_ascii_case(name))),
        TableKind::Nested(inner) => uses_in(inner, name),
        TableKind::Join(join) => syntax::with_stack(|| uses_in(&join.left, name) + uses_in(&join.right, name)),
        _ => 0,
    }
}

/// Puts the expression where it is used and condition 2 holds; tells how often.
fn put(view: &Query<Meant>, name: &Ident, places: &mut [&mut Query<Meant>], cx: &Context<'_>) -> usize {
    let mut done = 0;
    for place in places {
        for_each_query_of(place, &mut |inner| {
            if let QueryBody::Select(block) = &mut inner.body
                && numbers_rows_of(block, &name.text)
                && let Some(reference) = block.from.first_mut()
            {
                reference.kind = TableKind::Derived { lateral: false, query: Box::new(view.clone()) };
                reference.alias.get_or_insert_with(|| TableAlias {
                    as_word: cx.facts.table_alias_as,
                    name: Some(again(name)),
                    columns: Vec::new(),
                    typed_columns: None,
                });
                done += 1;
            }
        });
    }
    done
}

fn numbers_rows_of(block: &Select<Meant>, name: &str) -> bool {
    let [table] = block.from.as_slice() else { return false };
    let mut numbers = false;
    block.exprs(&mut |e| numbers = numbers || mentions_rownum(e));
    numbers && matches!(&table.kind, TableKind::Name(_)) && uses_in(table, name) == 1
}
