//! The first rows for each outer row, for targets without LATERAL and APPLY.
//!
//! ```sql before sqlserver sqlite
//! SELECT v.name, c.fare FROM vessels v CROSS APPLY (SELECT TOP 2 day, fare FROM crossings WHERE vessel_id = v.id ORDER BY day DESC) c
//! ```
//! ```sql after
//! SELECT v.name, c.fare FROM vessels v JOIN (SELECT day, fare, vessel_id, ROW_NUMBER() OVER (PARTITION BY vessel_id ORDER BY day DESC) AS place FROM crossings) AS c ON c.vessel_id = v.id AND c.place <= 2
//! ```
//! ```sql before oracle mariadb
//! SELECT v.name, c.fare FROM vessels v OUTER APPLY (SELECT fare FROM crossings x WHERE x.vessel_id = v.id AND x.fare > 3) c
//! ```
//! ```sql after
//! SELECT v.name, c.fare FROM vessels v LEFT JOIN (SELECT fare, x.vessel_id FROM crossings x WHERE x.fare > 3) AS c ON c.vessel_id = v.id
//! ```
//!
//! Right when
//! 1. the inner query is a block without grouping, DISTINCT or windows, and every use of an outer
//!    column in it is an equality with an inner value in WHERE: the partition of the window then holds
//!    exactly the rows one outer row would see;
//! 2. the limit is a count without columns; with ties RANK takes the place of the row number, and then
//!    there is no offset;
//! 3. an outer apply becomes a left join with all its conditions in ON: in WHERE they would drop rows;
//! 4. nothing sees all columns of the derived table, since keys and number are new: stars over it are
//!    written out, or it stays as it is;
//! 5. `=` and PARTITION BY compare alike.

use meaning::{Amount, Meant, RelationId, RowLimit, phrase};
use syntax::tree::{
    Child, Expr, ExprKind, Ident, Join, JoinCondition, JoinKind, Over, Query, QueryBody, Select, SelectItem, SelectValue, SortKey, Span,
    TableKind, TableRef,
};

use super::apply::joined_list;
use super::row_limit::no_order;
use super::{Context, Place};
use crate::shape::{
    aliased, all_of, as_number, column, columns_outside, columns_outside_tables, conjuncts, copy_of, expand_stars, free_name,
    is_row_by_row, key_copy, number, operation, output_name, own_column, same, sides_of_equality, star, table_name, window_call,
};

type E = Expr<Meant>;

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, cx: &mut Context<'_>) {
    let lateral = matches!(&query.body, QueryBody::Select(s) if s.from.iter().any(has_lateral));
    if !lateral {
        return;
    }
    expand_stars(query);
    let QueryBody::Select(select) = &mut query.body else { return };
    // Condition 4.
    if select.items.iter().any(|i| matches!(&i.value, SelectValue::Star(..))) {
        return;
    }
    let listed = std::mem::take(&mut select.from);
    select.from = joined_list(listed);
    select.from.iter_mut().for_each(|t| in_table(t, cx));
}

fn has_lateral(table: &TableRef<Meant>) -> bool {
    match &table.kind {
        TableKind::Derived { lateral, .. } => *lateral,
        TableKind::Join(join) => applies(join) || has_lateral(&join.left) || has_lateral(&join.right),
        TableKind::Nested(inner) => has_lateral(inner),
        _ => false,
    }
}

fn applies(join: &Join<Meant>) -> bool {
    join.kind.is_apply() || matches!(join.right.kind, TableKind::Derived { lateral: true, .. })
}

fn in_table(table: &mut TableRef<Meant>, cx: &mut Context<'_>) {
    match &mut table.kind {
        TableKind::Nested(inner) => in_table(inner, cx),
        TableKind::Join(join) => {
            in_table(&mut join.left, cx);
            if applies(join)
                && let Some((kind, right, condition)) = as_plain_join(join, cx)
            {
                // The left side stays where it is: a chain of thousands must not be copied at each of its joins.
                (join.kind, join.right, join.condition) = (kind, right, JoinCondition::On(condition));
                (join.natural, join.explicit_word) = (false, false);
            }
        }
        _ => {}
    }
}

/// What an equality in WHERE ties together (condition 1).
struct Tie {
    inner: E,
    outer: E,
}

/// The kind, right side and condition of the join that does the same.
fn as_plain_join(join: &Join<Meant>, cx: &mut Context<'_>) -> Option<(JoinKind, TableRef<Meant>, E)> {
    let kind = match join.kind {
        JoinKind::Cross | JoinKind::Inner | JoinKind::CrossApply => JoinKind::Inner,
        JoinKind::Left | JoinKind::OuterApply => JoinKind::Left,
        _ => return None,
    };
    let TableKind::Derived { query, .. } = &join.right.kind else { return None };
    let alias = table_name(&join.right)?;
    let relation = join.right.relation;
    let mut inner = (**query).clone();
    let limit = inner.limit.take();
    let order = std::mem::take(&mut inner.order_by);
    let QueryBody::Select(block) = &mut inner.body else { return None };
    let ties = cut_ties(block, &order)?;
    let mut conditions = Vec::new();
    for tie in &ties {
        let name = shown_as(block, &tie.inner)?;
        conditions.push(operation(phrase::COMPARE_EQUAL, column(&alias.text, relation, &name, &tie.inner), copy_of(&tie.outer)));
    }
    if let Some(limit) = &limit {
        conditions.extend(number_rows(block, limit, &ties, &order, (&alias, relation), cx)?);
    }
    if let JoinCondition::On(condition) = &join.condition
        && !super::apply::is_always_true(condition)
    {
        conditions.push(condition.clone());
    }
    let mut right = join.right.clone();
    right.kind = TableKind::Derived { lateral: false, query: Box::new(inner) };
    if let Some(alias) = &mut right.alias {
        alias.as_word = cx.facts.table_alias_as;
    }
    let condition = all_of(conditions).unwrap_or_else(|| operation(phrase::COMPARE_EQUAL, number(1), number(1)));
    Some((kind, right, condition))
}

/// Takes the equalities with outer columns out of WHERE; `None` where an outer column is used otherwise.
fn cut_ties(block: &mut Select<Meant>, order: &[SortKey<Meant>]) -> Option<Vec<Tie>> {
    if !is_row_by_row(block) || !block.lateral_views.is_empty() {
        return None;
    }
    let tables: Vec<RelationId> = relations(&block.from);
    let inside = |e: &E| columns_outside(e).is_some_and(|ids| ids.iter().all(|id| tables.contains(id)));
    let outside = |e: &E| columns_outside(e).is_some_and(|ids| !ids.is_empty() && ids.iter().all(|id| !tables.contains(id)));
    let shown = |i: &SelectItem<Meant>| matches!(&i.value, SelectValue::Expr(e) if inside(e)) || matches!(&i.value, SelectValue::Star(..));
    let from_inside = columns_outside_tables(&block.from).is_some_and(|ids| ids.is_empty());
    if !from_inside || !block.items.iter().all(shown) || !order.iter().all(|k| inside(&k.expr)) {
        return None;
    }
    let (mut ties, mut kept) = (Vec::new(), Vec::new());
    for conjunct in block.condition.take().map(conjuncts).unwrap_or_default() {
        if inside(&conjunct) {
            kept.push(conjunct);
            continue;
        }
        let (left, right) = sides_of_equality(&conjunct)?;
        let (left, right) = (copy_of(left), copy_of(right));
        if inside(&left) && outside(&right) {
            ties.push(Tie { inner: left, outer: right });
        } else if inside(&right) && outside(&left) {
            ties.push(Tie { inner: right, outer: left });
        } else {
            return None;
        }
    }
    block.condition = all_of(kept);
    Some(ties)
}

fn relations(tables: &[TableRef<Meant>]) -> Vec<RelationId> {
    fn gather(table: &TableRef<Meant>, ids: &mut Vec<RelationId>) {
        ids.push(table.relation);
        table.children(&mut |child| {
            if let Child::Table(inner) = child {
                gather(inner, ids);
            }
        });
    }
    let mut ids = Vec::new();
    tables.iter().for_each(|t| gather(t, &mut ids));
    ids
}

/// The name the block shows a key by, in an added column if need be.
fn shown_as(block: &mut Select<Meant>, key: &E) -> Option<Ident> {
    let shown = block.items.iter().find(|i| matches!(&i.value, SelectValue::Expr(e) if same(e, key))).and_then(output_name);
    if shown.is_some() {
        return shown;
    }
    let own_name = match &key.kind {
        ExprKind::Column(binding) => Some(binding.name.last().clone()),
        _ => None,
    };
    if block.items.iter().any(|i| matches!(i.value, SelectValue::Star(..))) {
        // A bare star over one table shows the column by its own name.
        return own_name.filter(|_| block.items.len() == 1 && block.from.len() == 1 && !matches!(block.from[0].kind, TableKind::Join(_)));
    }
    let taken: Vec<Ident> = block.items.iter().filter_map(output_name).collect();
    let wanted = own_name.as_ref().map_or("sort_key", |n| n.text.as_str());
    let name = free_name(wanted, &taken);
    let plain = own_name.is_some_and(|n| n.text == name);
    block.items.push(if plain {
        SelectItem { value: SelectValue::Expr(copy_of(key)), alias: None, span: Span::SYNTHETIC }
    } else {
        aliased(copy_of(key), &name)
    });
    Some(Ident::synthetic(name))
}

/// Numbers the rows of each partition; gives the tests of the number (condition 2).
fn number_rows(
    block: &mut Select<Meant>,
    limit: &RowLimit,
    ties: &[Tie],
    order: &[SortKey<Meant>],
    (alias, relation): (&Ident, RelationId),
    cx: &mut Context<'_>,
) -> Option<Vec<E>> {
    let count = match &limit.amount {
        Some(Amount::Rows(count)) => Some(count),
        None => None,
        Some(Amount::Percent(..)) => return None,
    };
    let constant = |e: &E| columns_outside(e).is_some_and(|ids| ids.is_empty());
    let with_ties = limit.with_ties && !order.is_empty();
    if (with_ties && limit.offset.is_some()) || !count.into_iter().chain(&limit.offset).all(constant) {
        return None;
    }
    if order.is_empty() {
        cx.note(no_order(limit).advise("add an ORDER BY whose keys no two rows share"));
    }
    let phrase = if with_ties { phrase::WINDOW_RANK } else { phrase::WINDOW_ROW_NUMBER };
    let mut numbered = window_call(phrase, order.iter().map(key_copy).collect());
    if let ExprKind::Call(call) = &mut numbered.kind
        && let Some(Over::Window(window)) = call.tail.as_mut().and_then(|t| t.over.as_mut())
    {
        window.partition_by = ties.iter().map(|t| copy_of(&t.inner)).collect();
    }
    let taken: Vec<Ident> = block.items.iter().filter_map(output_name).collect();
    let place = free_name("place", &taken);
    if matches!(block.items.as_slice(), [one] if matches!(&one.value, SelectValue::Star(s, _) if s.qualifier.is_none())) {
        // Beside another column a bare star is not taken everywhere.
        let qualifier = table_name(&block.from[0])?;
        block.items = vec![star_of(&qualifier)];
    }
    block.items.push(aliased(numbered, &place));
    let own = || own_column(&alias.text, relation, &place);
    let mut tests = Vec::new();
    if let Some(offset) = &limit.offset {
        tests.push(operation(phrase::COMPARE_GREATER, own(), copy_of(offset)));
    }
    if let Some(count) = count {
        let last = match &limit.offset {
            Some(offset) => match (as_number(offset), as_number(count)) {
                (Some(a), Some(b)) => number((a + b) as i64),
                _ => operation(phrase::NUMBER_ADD, copy_of(offset), copy_of(count)),
            },
            None => copy_of(count),
        };
        tests.push(operation(phrase::COMPARE_LESS_OR_EQUAL, own(), last));
    }
    Some(tests)
}

/// `t.*`.
fn star_of(table: &Ident) -> SelectItem<Meant> {
    let mut item = star();
    if let SelectValue::Star(star, _) = &mut item.value {
        star.qualifier = Some(syntax::tree::ObjectName::single(crate::shape::again(table)));
    }
    item
}
