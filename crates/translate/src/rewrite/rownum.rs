//! Oracle's ROWNUM: a number given to each row as it passes WHERE.
//!
//! ```sql before oracle postgres
//! SELECT name, tons FROM (SELECT name, tons FROM loads ORDER BY tons DESC NULLS LAST) WHERE ROWNUM <= 3
//! ```
//! ```sql after
//! SELECT name, tons FROM loads ORDER BY tons DESC NULLS LAST LIMIT 3
//! ```
//! ```sql before oracle postgres
//! SELECT kind, COUNT(*) FROM loads WHERE tons > 1 AND ROWNUM <= 10 GROUP BY kind
//! ```
//! ```sql after
//! SELECT kind, COUNT(*) FROM (SELECT * FROM loads WHERE tons > 1 LIMIT 10) AS loads GROUP BY kind
//! ```
//! ```sql before oracle postgres
//! SELECT name FROM vessels WHERE ROWNUM > 1
//! ```
//! ```sql after
//! SELECT name FROM vessels WHERE 1 = 0
//! ```
//!
//! Right when
//! 1. every condition on ROWNUM is alone among the ANDs of WHERE and bounds it by a value
//!    without columns: under OR or NOT the count depends on the order of rows;
//! 2. a bound of 1 or more from above keeps the first rows; any condition that 1 doesn't meet is
//!    never met, since no row gets number 2 before one got number 1 (SQL Language Reference,
//!    ROWNUM Pseudocolumn);
//! 3. the limit acts before GROUP BY, DISTINCT, windows and ORDER BY of its block: a block that has
//!    one of them gets its limited rows from a derived table;
//! 4. over an ordered inline view rows come in its order: that order moves out to where the limit
//!    is, if its keys can be named there;
//! 5. ROWNUM in the select list is then ROW_NUMBER in that order, and a limit keeps rows by that
//!    number; without an order its numbers are the engine's choice.

use meaning::{Amount, Binding, BindingTarget, Constant, Meant, Note, RowLimit, Sign, phrase};
use syntax::tree::{
    Binary, Expr, ExprKind, Ident, ObjectName, Query, QueryBody, Select, SelectItem, SelectValue, SortKey, Span, TableKind,
};

use super::merge_view::{merge_ordered, merge_view, only_view};
use super::{Context, Place};
use crate::shape::{
    again, all_of, as_number, conjuncts, copy_of, derived, expand_stars_of, is_correlated, is_grouped, is_row_by_row_but, is_star_only,
    key_copy, limit_of, number, operation, output_name, query_of, same, star, table_name, take_query, window_call,
};
use crate::shape::{is_null_literal, plain_key};

type E = Expr<Meant>;

/// What a condition says of ROWNUM.
enum Bound {
    /// The first so many rows.
    AtMost(E),
    /// No row.
    Never,
    /// Every row.
    Always,
    /// Something else.
    Unclear,
}

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, cx: &mut Context<'_>) {
    if !cx.features.row_number {
        return;
    }
    let QueryBody::Select(select) = &mut query.body else { return };
    let mut bound = None;
    let mut others = Vec::new();
    if let Some(condition) = select.condition.take() {
        for conjunct in conjuncts(condition) {
            if !mentions_rownum(&conjunct) {
                others.push(conjunct);
                continue;
            }
            match bound_of(&conjunct) {
                Bound::Always => {}
                Bound::Never => {
                    note_never(&conjunct, cx);
                    others.push(operation(phrase::COMPARE_EQUAL, number(1), number(0)));
                }
                Bound::AtMost(count) => bound = Some((tighter(bound, count), conjunct.span)),
                Bound::Unclear => {
                    refuse(conjunct.span, cx);
                    others.push(conjunct);
                }
            }
        }
    }
    let no_others = others.is_empty();
    select.condition = all_of(others);
    let listed = select.items.iter().any(|i| matches!(&i.value, SelectValue::Expr(e) if mentions_rownum(e)));
    if bound.is_none() && !listed {
        refuse_elsewhere(query, cx);
        return;
    }
    let order = hoisted_order(query, listed || bound.is_some(), cx);
    if listed {
        let ordered = if let QueryBody::Select(block) = &mut query.body { view_is_ordered(block) } else { false };
        if ordered && order.is_none() {
            // Numbers in an order that can't be named: refuse_elsewhere tells of it.
            refuse_elsewhere(query, cx);
            return;
        }
        number_rows(query, order.as_deref(), cx);
    }
    if let Some((count, span)) = bound {
        limit_rows(query, count, span, no_others && !listed, order, cx);
    } else if let Some(order) = order {
        query.order_by = order;
        drop_inner_order(query);
    }
    refuse_elsewhere(query, cx);
}

/// ROWNUM that is still there can't be translated.
fn refuse_elsewhere(query: &Query<Meant>, cx: &mut Context<'_>) {
    if cx.has_note("rownum.condition") {
        return;
    }
    let mut place = None;
    let mut look = |e: &E| {
        e.any(&mut |e| {
            if is_rownum(e) {
                place = Some(e.span);
            }
            false
        });
    };
    if let QueryBody::Select(select) = &query.body {
        select.exprs(&mut |e| look(e));
    }
    query.order_by.iter().for_each(|k| look(&k.expr));
    if let Some(span) = place {
        refuse(span, cx);
    }
}

fn refuse(span: Span, cx: &mut Context<'_>) {
    cx.note(
        Note::new("rownum.condition", span, "ROWNUM is used here in a way that depends on the order rows are tried in")
            .advise("number the rows in an inline view first: SELECT v.*, ROWNUM AS rn FROM (... ORDER BY ...) v, and test rn outside"),
    );
}

fn note_never(conjunct: &E, cx: &mut Context<'_>) {
    cx.note(
        Note::new(
            "row-limit.never",
            conjunct.span,
            "this condition on ROWNUM is never true: numbers are given one row at a time, so no row ever gets a number above 1 before another got 1",
        )
        .advise("if rows further down were meant, number them in an inline view and test the number outside"),
    );
}

fn is_rownum(expr: &E) -> bool {
    matches!(&expr.without_parens().kind, ExprKind::Column(Binding { target: BindingTarget::RowNumber, .. }))
}

pub(super) fn mentions_rownum(expr: &E) -> bool {
    expr.any(&mut is_rownum)
}

/// Whether the expression is free of columns, so that it can be a row count. A subquery is one if
/// it counts rows: any other value could be NULL, negative or a fraction.
fn is_count(expr: &E) -> bool {
    counts_rows(expr) || !expr.any(&mut |e| matches!(e.kind, ExprKind::Column(_) | ExprKind::Subquery(_)))
}

/// `(SELECT COUNT(..) FROM ..)` that looks at nothing outside.
fn counts_rows(expr: &E) -> bool {
    let ExprKind::Subquery(query) = &expr.without_parens().kind else { return false };
    let QueryBody::Select(block) = &query.body else { return false };
    let counts = |e: &E| match &e.without_parens().kind {
        ExprKind::Call(call) => {
            !call.is_window()
                && matches!(&call.function, meaning::Function::Phrase(id, _) if id.phrase().id.starts_with(phrase::AGGREGATE_COUNT))
        }
        _ => false,
    };
    let one = matches!(block.items.as_slice(), [SelectItem { value: SelectValue::Expr(e), .. }] if counts(e));
    one && block.group_by.is_none() && block.having.is_none() && query.limit.is_none() && !is_correlated(query)
}

fn tighter(before: Option<(E, Span)>, count: E) -> E {
    match before {
        None => count,
        Some((before, _)) => match (as_number(&before), as_number(&count)) {
            (Some(a), Some(b)) if a <= b => before,
            (Some(_), Some(_)) => count,
            _ => operation_least(before, count),
        },
    }
}

/// The lesser of two counts that are not both constants.
fn operation_least(a: E, b: E) -> E {
    let test = operation(phrase::COMPARE_LESS, copy_of(&a), copy_of(&b));
    Expr::synthetic(ExprKind::Case(Box::new(syntax::tree::Case { operand: None, branches: vec![(test, a)], otherwise: Some(b) })))
}

// --- conditions -----------------------------------------------------------------------------------

fn bound_of(conjunct: &E) -> Bound {
    match &conjunct.without_parens().kind {
        ExprKind::Binary(binary) => compared_sides(binary, |word| word),
        ExprKind::Not(inner) => match &inner.without_parens().kind {
            ExprKind::Binary(binary) => compared_sides(binary, opposite),
            _ => Bound::Unclear,
        },
        ExprKind::Between(test) if !test.negated && is_rownum(&test.operand) && is_count(&test.low) && is_count(&test.high) => {
            match as_number(&test.low) {
                Some(low) if low <= 1.0 => compared("less-or-equal", &test.high),
                Some(_) => Bound::Never,
                None => Bound::Unclear,
            }
        }
        ExprKind::In(test) if !test.negated && is_rownum(&test.operand) => match &test.set {
            syntax::tree::InSet::List(items) => {
                let numbers: Option<Vec<f64>> = items.iter().map(as_number).collect();
                let Some(numbers) = numbers else { return Bound::Unclear };
                let mut reached = 0i64;
                while numbers.contains(&((reached + 1) as f64)) {
                    reached += 1;
                }
                if reached == 0 { Bound::Never } else { Bound::AtMost(number(reached)) }
            }
            _ => Bound::Unclear,
        },
        _ => Bound::Unclear,
    }
}

/// A comparison of which one side is ROWNUM; `word_for` tells which one is meant by that written.
fn compared_sides(binary: &Binary<Meant>, word_for: fn(&str) -> &str) -> Bound {
    let Sign::Phrase(id, _) = binary.operator else { return Bound::Unclear };
    let word = word_for(id.phrase().id.strip_prefix("compare.").unwrap_or(""));
    if is_rownum(&binary.left) && is_count(&binary.right) {
        compared(word, &binary.right)
    } else if is_rownum(&binary.right) && is_count(&binary.left) {
        compared(turned(word), &binary.left)
    } else {
        Bound::Unclear
    }
}

/// What holds where a comparison does not; with NULL neither holds.
fn opposite(word: &str) -> &str {
    match word {
        "less" => "greater-or-equal",
        "less-or-equal" => "greater",
        "greater" => "less-or-equal",
        "greater-or-equal" => "less",
        "equal" => "not-equal",
        "not-equal" => "equal",
        _ => "",
    }
}

/// `n < ROWNUM` is `ROWNUM > n`.
fn turned(word: &str) -> &str {
    match word {
        "less" => "greater",
        "less-or-equal" => "greater-or-equal",
        "greater" => "less",
        "greater-or-equal" => "less-or-equal",
        same => same,
    }
}

/// ROWNUM compared with a value: conditions 1 and 2.
fn compared(word: &str, value: &E) -> Bound {
    if is_null_literal(value) {
        return Bound::Never;
    }
    let constant = as_number(value);
    let whole = |n: f64| if n < 1.0 { Bound::Never } else { Bound::AtMost(kept(value, n)) };
    match (word, constant) {
        ("less-or-equal", Some(n)) => whole(n.floor()),
        ("less-or-equal", None) => Bound::AtMost(copy_in_place(value)),
        ("less", Some(n)) => whole(n.ceil() - 1.0),
        // A count less one could be negative.
        ("less", None) if counts_rows(value) => Bound::Unclear,
        ("less", None) => Bound::AtMost(operation(phrase::NUMBER_SUBTRACT, copy_in_place(value), number(1))),
        ("equal", Some(n)) if (n - 1.0).abs() < f64::EPSILON => Bound::AtMost(kept(value, 1.0)),
        ("equal", Some(_)) => Bound::Never,
        ("greater", Some(n)) if n < 1.0 => Bound::Always,
        ("greater-or-equal", Some(n)) if n <= 1.0 => Bound::Always,
        ("greater" | "greater-or-equal", Some(_)) => Bound::Never,
        // Counting stops at the number that fails the test.
        ("not-equal", Some(n)) if n >= 1.0 && n.fract() == 0.0 => whole(n - 1.0),
        ("not-equal", Some(_)) => Bound::Always,
        _ => Bound::Unclear,
    }
}

/// The constant as written if it is the number wanted, so that it keeps its place.
fn kept(value: &E, wanted: f64) -> E {
    match &value.kind {
        ExprKind::Literal(Constant::Number(text)) if text.parse() == Ok(wanted) && !text.contains('.') => value.clone(),
        _ => number(wanted as i64),
    }
}

fn copy_in_place(value: &E) -> E {
    value.clone()
}

// --- order ----------------------------------------------------------------------------------------

/// The order in which rows come to this block, named by what the block sees: that of a single
/// ordered inline view (condition 4). The view loses its order if it is of no further use there.
fn hoisted_order(query: &mut Query<Meant>, wanted: bool, cx: &mut Context<'_>) -> Option<Vec<SortKey<Meant>>> {
    let QueryBody::Select(select) = &mut query.body else { return None };
    if !wanted || select.from.len() != 1 {
        return None;
    }
    // A star outside would show a key that is added inside: it is written out if it can be.
    if only_view(select).is_some_and(|view| view.order_by.iter().any(|k| key_output(k, view).is_none())) && !is_star_only(select) {
        expand_stars_of(select);
    }
    let outer_name = table_name(&select.from[0]);
    let relation = select.from[0].relation;
    let may_add = !select.items.iter().any(|i| matches!(i.value, SelectValue::Star(..)));
    let TableKind::Derived { lateral: false, query: inner } = &mut select.from[0].kind else { return None };
    if inner.order_by.is_empty() {
        return None;
    }
    if may_add {
        show_keys(inner, cx);
    }
    let mut keys = Vec::new();
    for key in &inner.order_by {
        let name = key_output(key, inner)?;
        let mut parts: Vec<Ident> = outer_name.iter().map(again).collect();
        parts.push(again(&name));
        let known = meaning::infer(&key.expr);
        let expr = Expr::synthetic(ExprKind::Column(Binding {
            name: ObjectName { parts },
            target: BindingTarget::Column(relation),
            data_type: known.data_type,
            nullable: known.nullable,
        }));
        keys.push(SortKey { expr, direction: key.direction, nulls: key.nulls, span: Span::SYNTHETIC });
    }
    Some(keys)
}

/// Adds to a view's list the sort keys it doesn't show.
fn show_keys(view: &mut Query<Meant>, cx: &mut Context<'_>) {
    let hidden: Vec<E> = view.order_by.iter().filter(|k| key_output(k, view).is_none()).map(|k| copy_of(&k.expr)).collect();
    let QueryBody::Select(block) = &mut view.body else { return };
    // DISTINCT would tell rows apart by an added column.
    if !matches!(block.quantifier, None | Some(syntax::tree::SelectQuantifier::All)) {
        return;
    }
    for expr in hidden {
        let name = cx.fresh_name("sort_key");
        block.items.push(crate::shape::aliased(expr, &name));
    }
}

/// The name under which a query's output shows one of its sort keys.
fn key_output(key: &SortKey<Meant>, query: &Query<Meant>) -> Option<Ident> {
    let items: &[SelectItem<Meant>] = match &query.body {
        QueryBody::Select(select) => &select.items,
        _ => &[],
    };
    let expr = key.expr.without_parens();
    match &expr.kind {
        ExprKind::Literal(Constant::Number(text)) => {
            let at: usize = text.parse().ok()?;
            let plain = items.iter().take(at).all(|i| matches!(i.value, SelectValue::Expr(_)));
            items.get(at.checked_sub(1)?).filter(|_| plain).and_then(output_name)
        }
        ExprKind::Column(Binding { target: BindingTarget::Output(_), name, .. }) => Some(name.last().clone()),
        _ => items.iter().find_map(|item| match &item.value {
            SelectValue::Expr(value) if same(value, expr) => output_name(item),
            SelectValue::Star(star, modifiers) if modifiers.is_empty() => match &expr.kind {
                ExprKind::Column(Binding { target: BindingTarget::Column(id), name, .. }) if star.relation.is_none_or(|s| s == *id) => {
                    Some(name.last().clone())
                }
                ExprKind::Column(Binding { target: BindingTarget::Open, name, .. }) if star.relation.is_none() => Some(name.last().clone()),
                _ => None,
            },
            _ => None,
        }),
    }
}

/// ROWNUM in the select list becomes a row number (condition 5).
fn number_rows(query: &mut Query<Meant>, order: Option<&[SortKey<Meant>]>, cx: &mut Context<'_>) {
    let QueryBody::Select(select) = &mut query.body else { return };
    if is_grouped(select) {
        return;
    }
    let mut first = None;
    for item in &mut select.items {
        if let SelectValue::Expr(expr) = &mut item.value {
            let named = item.alias.is_some() || !is_rownum(expr);
            replace_rownum(expr, order, &mut first);
            if !named {
                item.alias = Some(syntax::tree::ColumnAlias { name: Ident::synthetic("rownum"), form: syntax::tree::AliasForm::As });
            }
        }
    }
    if let (Some(span), None) = (first, order) {
        cx.note(Note::new(
            "rownum.in-list",
            span,
            "ROWNUM numbers the rows as they come, and no order is given here: which row gets which number is the engine's choice",
        ));
    }
}

fn replace_rownum(expr: &mut E, order: Option<&[SortKey<Meant>]>, first: &mut Option<Span>) {
    if is_rownum(expr) {
        first.get_or_insert(expr.span);
        let keys = order.map(|keys| keys.iter().map(key_copy).collect()).unwrap_or_default();
        let mut call = window_call(phrase::WINDOW_ROW_NUMBER, keys);
        call.span = Span::SYNTHETIC;
        *expr = call;
        return;
    }
    expr.exprs_mut(&mut |child| replace_rownum(child, order, first));
}

// --- limits ---------------------------------------------------------------------------------------

fn limit_rows(query: &mut Query<Meant>, count: E, span: Span, alone: bool, order: Option<Vec<SortKey<Meant>>>, cx: &mut Context<'_>) {
    let limit = limit_of(count, span);
    if alone && merge_ordered(query, &limit) {
        return;
    }
    let QueryBody::Select(select) = &mut query.body else { return };
    // A row number of ours doesn't change which rows there are.
    let row_by_row = is_row_by_row_but(select, &is_our_number) && query.order_by.is_empty() && query.limit.is_none();
    match (&order, alone) {
        // Nothing but the limit over an ordered view: it is the view with the limit.
        (_, true) if row_by_row && is_star_only(select) && inner_takes_limit(select) && view_is_ordered(select) => unwrap(query, limit),
        // The limit can go into the view when nothing filters behind it.
        (Some(_), true) if !row_by_row && inner_takes_limit(select) => {
            if let Some(inner) = only_view(select) {
                inner.limit = Some(limit);
            }
        }
        (None, true) if !row_by_row && has_view(select) && inner_takes_limit(select) => {
            if let Some(inner) = only_view(select) {
                inner.limit = Some(limit);
            }
        }
        (Some(keys), _) if row_by_row => {
            // Where the number is shown, rows are kept by it: ties could be numbered one way and kept
            // another.
            query.order_by = match number_key(select) {
                Some(key) => vec![key],
                None => keys.iter().map(key_copy).collect(),
            };
            drop_inner_order(query);
            query.limit = Some(limit);
            merge_view(query);
        }
        (None, true) if row_by_row && view_is_ordered(select) && inner_takes_limit(select) => {
            // The view's keys have no name outside: limit it where they are.
            if let Some(inner) = only_view(select) {
                inner.limit = Some(limit);
            }
        }
        (None, _) if row_by_row && !view_is_ordered(select) => {
            query.order_by.extend(number_key(select));
            query.limit = Some(limit);
        }
        (None, _) if view_is_ordered(select) => {
            let message = "ROWNUM counts rows in the order of the view, whose sort key has no name outside it";
            cx.note(Note::new("rownum.condition", span, message).advise("add the sort key to the view's select list"));
        }
        _ => limit_in_derived(query, limit, order.unwrap_or_default(), cx),
    }
}

/// The row number of ours that the list shows, as a sort key: by its alias, or as it is written
/// within another expression.
pub(super) fn number_key(select: &Select<Meant>) -> Option<SortKey<Meant>> {
    for (at, item) in select.items.iter().enumerate() {
        let SelectValue::Expr(expr) = &item.value else { continue };
        if let (true, Some(alias)) = (is_our_number(expr), &item.alias) {
            let name = ObjectName::single(again(&alias.name));
            let target = BindingTarget::Output(at as u32);
            let binding = Binding { name, target, data_type: values::DataType::Integer(64), nullable: false };
            return Some(plain_key(Expr::synthetic(ExprKind::Column(binding))));
        }
        let mut within = None;
        expr.any(&mut |e| {
            if is_our_number(e) {
                within.get_or_insert_with(|| copy_of(e));
            }
            false
        });
        if let Some(expr) = within {
            return Some(plain_key(expr));
        }
    }
    None
}

/// ROW_NUMBER as `number_rows` makes it.
pub(super) fn is_our_number(expr: &E) -> bool {
    match &expr.kind {
        ExprKind::Call(call) => {
            !expr.span.is_read()
                && matches!(&call.function, meaning::Function::Phrase(id, _) if id.phrase().id == phrase::WINDOW_ROW_NUMBER)
        }
        _ => false,
    }
}

fn has_view(select: &mut Select<Meant>) -> bool {
    only_view(select).is_some()
}

fn inner_takes_limit(select: &mut Select<Meant>) -> bool {
    only_view(select).is_some_and(|q| q.limit.is_none())
}

fn view_is_ordered(select: &mut Select<Meant>) -> bool {
    only_view(select).is_some_and(|q| !q.order_by.is_empty())
}

fn drop_inner_order(query: &mut Query<Meant>) {
    if let QueryBody::Select(select) = &mut query.body
        && let Some(inner) = only_view(select)
        && inner.limit.is_none()
    {
        inner.order_by.clear();
    }
}

/// The query becomes its only view, with the limit.
fn unwrap(query: &mut Query<Meant>, limit: Box<RowLimit>) {
    let QueryBody::Select(select) = &mut query.body else { return };
    let Some(inner) = only_view(select) else { return };
    let mut inner = take_query(inner);
    inner.limit = Some(limit);
    if inner.with.is_none() {
        inner.with = query.with.take();
    }
    if query.with.is_none() {
        inner.locking = inner.locking.or(query.locking);
        *query = inner;
    } else if let QueryBody::Select(select) = &mut query.body
        && let Some(place) = only_view(select)
    {
        *place = inner;
    }
}

/// The block's tables and conditions go into a derived table with the limit (condition 3).
fn limit_in_derived(query: &mut Query<Meant>, limit: Box<RowLimit>, order: Vec<SortKey<Meant>>, cx: &mut Context<'_>) {
    if !cx.facts.correlated_derived && is_correlated(query) && count_at_most(query, &limit) {
        return;
    }
    let order_from = query.order_by.iter().map(|k| k.expr.clone()).collect::<Vec<_>>();
    let QueryBody::Select(block) = &mut query.body else { return };
    let from = std::mem::take(&mut block.from);
    let condition = block.condition.take();
    let single = match from.as_slice() {
        [one] if !matches!(one.kind, TableKind::Join(_)) => table_name(one),
        _ => None,
    };
    if let Some(name) = single {
        let relation = from[0].relation;
        let mut inner = Select::of(vec![star()], from);
        inner.condition = condition;
        let mut inner = query_of(inner);
        inner.order_by = order;
        inner.limit = Some(limit);
        let mut table = derived(inner, &name.text, relation, &cx.facts);
        if let Some(alias) = &mut table.alias {
            alias.name = Some(again(&name));
        }
        block.from = vec![table];
        return;
    }
    let span = limit.span;
    let Some(columns) = used_columns(block, &order_from) else {
        block.from = from;
        block.condition = condition;
        cx.note(
            Note::new(
                "row-limit.columns-needed",
                span,
                "the limit acts before the grouping or sorting of this block, and the columns behind * are not known",
            )
            .advise("name the columns instead of *, or give the tables with --schema"),
        );
        return;
    };
    let alias = cx.fresh_name("limited");
    let relation = cx.fresh_relation();
    let items = columns.iter().map(|(old, new)| item_of(old, new)).collect();
    let mut inner = Select::of(items, from);
    inner.condition = condition;
    let mut inner = query_of(inner);
    inner.order_by = order;
    inner.limit = Some(limit);
    let table = derived(inner, &alias, relation, &cx.facts);
    let QueryBody::Select(block) = &mut query.body else { return };
    block.from = vec![table];
    let rebind = |e: &mut E| rebound(e, &columns, &alias, relation);
    block.exprs_mut(&mut |e| rebind(e));
    query.order_by.iter_mut().for_each(|k| rebound(&mut k.expr, &columns, &alias, relation));
}

/// A block that does nothing but count its first rows counts all of them, and then no more than the
/// limit: for targets whose derived tables don't see the query around them.
fn count_at_most(query: &mut Query<Meant>, limit: &RowLimit) -> bool {
    let Some(most) = plain_count(limit).map(copy_of) else { return false };
    let QueryBody::Select(block) = &mut query.body else { return false };
    let [SelectItem { value: SelectValue::Expr(counted), .. }] = block.items.as_mut_slice() else { return false };
    let counts = matches!(&counted.kind, ExprKind::Call(call) if !call.is_window() && call.quantifier.is_none()
        && matches!(&call.function, meaning::Function::Phrase(id, _) if id.phrase().id == phrase::AGGREGATE_COUNT_ROWS));
    if !counts || block.group_by.is_some() || block.having.is_some() || !query.order_by.is_empty() {
        return false;
    }
    let count = std::mem::replace(counted, number(0));
    *counted = operation_least(count, most);
    true
}

type Exposed = Vec<(Binding, Ident)>;

fn item_of(old: &Binding, new: &Ident) -> SelectItem<Meant> {
    let expr = copy_of(&Expr::synthetic(ExprKind::Column(old.clone())));
    if old.name.last().text.eq_ignore_ascii_case(&new.text) {
        return SelectItem { value: SelectValue::Expr(expr), alias: None, span: Span::SYNTHETIC };
    }
    crate::shape::aliased(expr, &new.text)
}

/// The columns the rest of the block uses, each with a name of its own; `None` with a star.
fn used_columns(block: &Select<Meant>, order_by: &[E]) -> Option<Exposed> {
    if block.items.iter().any(|i| matches!(i.value, SelectValue::Star(..))) {
        return None;
    }
    let mut columns: Exposed = Vec::new();
    let mut gather = |e: &E| {
        e.any(&mut |e| {
            if let ExprKind::Column(binding) = &e.kind
                && matches!(binding.target, BindingTarget::Column(_) | BindingTarget::Open)
                && !columns.iter().any(|(b, _)| same_column(b, binding))
            {
                let taken: Vec<Ident> = columns.iter().map(|(_, n)| n.clone()).collect();
                let name = crate::shape::free_name(&binding.name.last().text, &taken);
                let name = Ident { text: name, quote: binding.name.last().quote, token: u32::MAX };
                columns.push((binding.clone(), name));
            }
            false
        });
    };
    block.exprs(&mut |e| gather(e));
    order_by.iter().for_each(gather);
    if columns.is_empty() {
        let constant = Binding {
            name: ObjectName::single(Ident::synthetic("1")),
            target: BindingTarget::Special,
            data_type: values::DataType::Integer(64),
            nullable: false,
        };
        columns.push((constant, Ident::synthetic("one")));
    }
    Some(columns)
}

fn same_column(a: &Binding, b: &Binding) -> bool {
    a.target == b.target && a.name.last().text.eq_ignore_ascii_case(&b.name.last().text)
}

fn rebound(expr: &mut E, columns: &Exposed, alias: &str, relation: meaning::RelationId) {
    if let ExprKind::Column(binding) = &mut expr.kind {
        if let Some((_, name)) = columns.iter().find(|(b, _)| same_column(b, binding)) {
            binding.name = ObjectName { parts: vec![Ident::synthetic(alias), name.clone()] };
            binding.target = BindingTarget::Column(relation);
        }
        return;
    }
    expr.exprs_mut(&mut |child| rebound(child, columns, alias, relation));
}

/// The count of a plain limit.
pub(super) fn plain_count(limit: &RowLimit) -> Option<&E> {
    match (&limit.amount, limit.with_ties, &limit.offset) {
        (Some(Amount::Rows(count)), false, None) => Some(count),
        _ => None,
    }
}
