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
//! 3. it has no column list, which a view can't have.

use meaning::Meant;
use syntax::tree::{CommonTable, Query, QueryBody, Select, TableAlias, TableKind, TableRef};

use super::rownum::mentions_rownum;
use super::walk::for_each_query_of;
use super::{Context, Place};

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, cx: &mut Context<'_>) {
    let Some(mut with) = query.with.take() else { return };
    let mut at = 0;
    while at < with.tables.len() {
        let (before, after) = with.tables.split_at_mut(at + 1);
        let table = &before[at];
        let mut places: Vec<&mut Query<Meant>> = after.iter_mut().map(|t| &mut t.query).chain([&mut *query]).collect();
        let ordered = !table.query.order_by.is_empty();
        let uses = if ordered && table.columns.is_empty() { uses(&table.name.text, &mut places) } else { None };
        match uses {
            Some(uses) if uses > 0 && put(table, &mut places, cx) == uses => {
                with.tables.remove(at);
            }
            _ => at += 1,
        }
    }
    if !with.tables.is_empty() {
        query.with = Some(with);
    }
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
fn put(table: &CommonTable<Meant>, places: &mut [&mut Query<Meant>], cx: &Context<'_>) -> usize {
    let mut done = 0;
    for place in places {
        for_each_query_of(place, &mut |inner| {
            if let QueryBody::Select(block) = &mut inner.body
                && numbers_rows_of(block, &table.name.text)
                && let Some(reference) = block.from.first_mut()
            {
                reference.kind = TableKind::Derived { lateral: false, query: Box::new(table.query.clone()) };
                reference.alias.get_or_insert_with(|| TableAlias {
                    as_word: cx.facts.table_alias_as,
                    name: Some(super::shape::again(&table.name)),
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
