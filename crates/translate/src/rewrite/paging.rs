//! A filter on the row number of an inline view is an offset.
//!
//! ```sql before oracle postgres
//! SELECT name FROM (
//!   SELECT v.*, ROWNUM AS rn FROM (SELECT name, tons FROM loads ORDER BY tons) v WHERE ROWNUM <= 20
//! ) WHERE rn > 10
//! ```
//! ```sql after
//! SELECT name FROM loads ORDER BY tons LIMIT 10 OFFSET 10
//! ```
//!
//! Right when
//! 1. the number is ROW_NUMBER over the very order of the view, without partition, and the view has
//!    no offset yet;
//! 2. every condition outside bounds that number by constants;
//! 3. outside rows go through one by one, and come in the order of the number or in none;
//! 4. the list outside can be written with the view's own entries: a star shows the number too, and
//!    then the number itself is the order, since ties could be numbered one way and kept another.

use meaning::{Amount, Meant, RowLimit, Sign, phrase};
use syntax::tree::{Expr, ExprKind, Over, Query, QueryBody, Select, SelectValue, SortKey, Span, TableKind};

use super::merge_view::{merge_view, told_items};
use super::rownum::number_key;
use super::rownum::{is_our_number, plain_count};
use super::{Context, Place};
use crate::shape::{as_number, conjuncts, is_row_by_row, is_star_only, number, output_name};
use crate::shape::{key_copy, take_query};

type E = Expr<Meant>;

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, cx: &mut Context<'_>) {
    if !cx.features.row_number {
        return;
    }
    let Some((low, high)) = page(query) else { return };
    let QueryBody::Select(outer) = &mut query.body else { return };
    // A star shows the number too: the view keeps its own list.
    let items = if is_star_only(outer) { None } else { told_items(&outer.items, outer) };
    if items.is_none() && !is_star_only(outer) {
        return;
    }
    let TableKind::Derived { query: view, .. } = &mut outer.from[0].kind else { return };
    let mut view = take_query(view);
    if let QueryBody::Select(block) = &mut view.body {
        view.order_by = match &items {
            Some(_) => number_order(block),
            None => number_key(block).into_iter().collect(),
        };
        if let Some(items) = items {
            block.items = items;
        }
    }
    let span = view.limit.as_ref().map_or(Span::SYNTHETIC, |l| l.span);
    let offset = (low > 0).then(|| number(low));
    let amount = high.map(|high| Amount::Rows(number((high - low).max(0))));
    view.limit = (offset.is_some() || amount.is_some()).then(|| Box::new(RowLimit { amount, with_ties: false, offset, span }));
    if view.with.is_none() {
        view.with = query.with.take();
    }
    *query = view;
    merge_view(query);
}

/// The order the view's rows are numbered in.
fn number_order(block: &Select<Meant>) -> Vec<SortKey<Meant>> {
    let number = block.items.iter().find_map(|i| match &i.value {
        SelectValue::Expr(e) if is_our_number(e) => Some(e),
        _ => None,
    });
    match number.map(|e| &e.kind) {
        Some(ExprKind::Call(call)) => match call.tail.as_ref().and_then(|t| t.over.as_ref()) {
            Some(Over::Window(window)) => window.order_by.iter().map(key_copy).collect(),
            _ => Vec::new(),
        },
        _ => Vec::new(),
    }
}

/// The rows kept: after the first `low`, up to row `high`. `None` if this is no page.
fn page(query: &Query<Meant>) -> Option<(i64, Option<i64>)> {
    let QueryBody::Select(outer) = &query.body else { return None };
    let [table] = outer.from.as_slice() else { return None };
    let TableKind::Derived { lateral: false, query: view } = &table.kind else { return None };
    let QueryBody::Select(block) = &view.body else { return None };
    if query.limit.is_some() || !is_row_by_row(outer) || (query.with.is_some() && view.with.is_some()) {
        return None;
    }
    let number_item = block.items.iter().find(|i| matches!(&i.value, SelectValue::Expr(e) if is_our_number(e)))?;
    let name = output_name(number_item)?;
    let is_number = |e: &E| matches!(&e.without_parens().kind, ExprKind::Column(b) if b.name.last().text.eq_ignore_ascii_case(&name.text));
    // Condition 3.
    let by_number = query.order_by.iter().all(|k| is_number(&k.expr) && k.direction != Some(syntax::tree::Direction::Descending));
    if !by_number || view.order_by.is_empty() {
        return None;
    }
    let mut low = 0;
    let mut high = match &view.limit {
        Some(limit) => Some(as_number(plain_count(limit)?)? as i64),
        None => None,
    };
    for conjunct in conjuncts(outer.condition.clone()?) {
        let (from, to) = bounds(&conjunct, &is_number)?;
        low = from.map_or(low, |f| low.max(f));
        high = match (high, to) {
            (Some(a), Some(b)) => Some(a.min(b)),
            (a, b) => a.or(b),
        };
    }
    Some((low, high))
}

/// What a condition says of the number: rows after the first, rows up to.
fn bounds(conjunct: &E, is_number: &dyn Fn(&E) -> bool) -> Option<(Option<i64>, Option<i64>)> {
    let whole = |e: &E| as_number(e).filter(|n| n.fract() == 0.0).map(|n| n as i64);
    match &conjunct.without_parens().kind {
        ExprKind::Binary(binary) => {
            let Sign::Phrase(id, _) = binary.operator else { return None };
            let word = id.phrase().id;
            let (word, value) = if is_number(&binary.left) {
                (word, whole(&binary.right)?)
            } else if is_number(&binary.right) {
                let turned = match word {
                    phrase::COMPARE_LESS => phrase::COMPARE_GREATER,
                    phrase::COMPARE_LESS_OR_EQUAL => phrase::COMPARE_GREATER_OR_EQUAL,
                    phrase::COMPARE_GREATER => phrase::COMPARE_LESS,
                    phrase::COMPARE_GREATER_OR_EQUAL => phrase::COMPARE_LESS_OR_EQUAL,
                    same => same,
                };
                (turned, whole(&binary.left)?)
            } else {
                return None;
            };
            match word {
                phrase::COMPARE_GREATER => Some((Some(value), None)),
                phrase::COMPARE_GREATER_OR_EQUAL => Some((Some(value - 1), None)),
                phrase::COMPARE_LESS => Some((None, Some(value - 1))),
                phrase::COMPARE_LESS_OR_EQUAL => Some((None, Some(value))),
                phrase::COMPARE_EQUAL => Some((Some(value - 1), Some(value))),
                _ => None,
            }
        }
        ExprKind::Between(test) if !test.negated && is_number(&test.operand) => {
            Some((Some(whole(&test.low)? - 1), Some(whole(&test.high)?)))
        }
        _ => None,
    }
}
