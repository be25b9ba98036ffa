//! Row limits in the target's words.
//!
//! ```sql before sqlserver postgres
//! SELECT TOP 3 WITH TIES name FROM loads ORDER BY name
//! ```
//! ```sql after
//! SELECT name FROM loads ORDER BY name NULLS FIRST FETCH FIRST 3 ROWS WITH TIES
//! ```
//! ```sql before sqlserver mysql
//! SELECT TOP 10 PERCENT name, tons FROM loads ORDER BY tons
//! ```
//! ```sql after
//! SELECT name, tons FROM (SELECT name, tons, ROW_NUMBER() OVER (ORDER BY tons) AS place, COUNT(*) OVER () AS total FROM loads) AS numbered WHERE (numbered.place - 1) * 100 < numbered.total * 10 ORDER BY numbered.place
//! ```
//! ```sql before postgres sqlserver
//! SELECT name FROM loads LIMIT 5 OFFSET 10
//! ```
//! ```sql after
//! SELECT name FROM loads ORDER BY (SELECT NULL) OFFSET 10 ROWS FETCH NEXT 5 ROWS ONLY
//! ```
//! ```sql before postgres mysql
//! SELECT name FROM loads WHERE id IN (SELECT id FROM tolls ORDER BY id LIMIT 3)
//! ```
//! ```sql after
//! SELECT name FROM loads WHERE id IN (SELECT * FROM (SELECT id FROM tolls ORDER BY CASE WHEN id IS NULL THEN 1 ELSE 0 END, id LIMIT 3) AS limited)
//! ```
//! ```sql before sqlserver mysql
//! SELECT TOP (SELECT COUNT(*) FROM tolls) name FROM loads ORDER BY name
//! ```
//! ```sql after
//! SELECT name FROM (SELECT name, ROW_NUMBER() OVER (ORDER BY name) AS place FROM loads) AS numbered WHERE numbered.place <= (SELECT COUNT(*) FROM tolls) ORDER BY numbered.place
//! ```
//!
//! Right when
//! 1. ties without an ORDER BY add no rows (Oracle, row limiting clause): the words fall away;
//! 2. where ties aren't spoken, RANK counts the rows before a row and its ties: the rows kept are
//!    those ranked within the count; with an offset the row number must pass it too;
//! 3. a share of the rows rounded up keeps row i exactly if (i - 1) * 100 < total * share, rounded
//!    down exactly if i * 100 <= total * share;
//! 4. the number acts after DISTINCT, grouping and set operations: these go one level further in;
//! 5. no column is added to what is shown: the list outside names the query's own columns, which
//!    must be known and differ; a dialect with QUALIFY needs no column;
//! 6. SQL Server's OFFSET needs an ORDER BY, which DISTINCT and set operations don't give it: these
//!    become a derived table;
//! 7. a window can't stand in a window's order: such sort keys are worked out one level further in;
//! 8. a count that the target doesn't take in its clause is compared with the row's number instead,
//!    if in the source a count that is NULL or negative keeps no row or fails.

use meaning::{Amount, Constant, LimitWords, Meant, Note, OddCount, Rounding, RowLimit, phrase};
use syntax::tree::{
    CallTail, Expr, ExprKind, Ident, Over, Query, QueryBody, Select, SelectItem, SelectQuantifier, SelectValue, SortKey, Span, TableKind,
    TableRef, Window,
};

use super::{Context, Place};
use crate::shape::{
    aliased, as_number, call, call_with, column, derived, expand_stars, free_name, is_correlated, is_grouped, key_copy, number, operation,
    output_name, own_column, plain_key, query_of, resolved_key, star, take_query, window_call,
};

type E = Expr<Meant>;

pub(super) fn rewrite(query: &mut Query<Meant>, place: Place, cx: &mut Context<'_>) {
    if query.limit.as_ref().is_some_and(|l| keeps_every_row(l)) {
        query.limit = None;
    }
    let Some(limit) = &mut query.limit else { return };
    // Condition 1.
    // Without an order, or without a row to tie with, nothing ties.
    if limit.with_ties && (query.order_by.is_empty() || keeps_no_row(limit)) {
        limit.with_ties = false;
    }
    let limit = (**limit).clone();
    if query.order_by.is_empty() && place != Place::Exists && !takes_all(&limit) {
        note_no_order(query, &limit, cx);
    }
    let percent_unsaid =
        matches!(limit.amount, Some(Amount::Percent(_, rounding)) if !cx.facts.limit_percent || rounding == Rounding::Down);
    let ties_unsaid = limit.with_ties && !cx.facts.limit_with_ties;
    // TOP takes no OFFSET, and OFFSET takes neither ties nor shares.
    let top_clash = cx.facts.limit_words == LimitWords::Top
        && limit.offset.is_some()
        && (limit.with_ties || matches!(limit.amount, Some(Amount::Percent(..))));
    let counts =
        cx.facts.limit_takes_subquery && cx.facts.limit_words == LimitWords::Limit && (cx.facts.limit_sees_outer || !is_correlated(query));
    if percent_unsaid && !ties_unsaid && counts {
        count_share(query, cx);
    } else if percent_unsaid || ties_unsaid || top_clash || is_to_compare(&limit, cx) {
        number_rows(query, limit, cx);
    } else {
        check_counts(query, cx);
        if cx.facts.limit_words == LimitWords::Top {
            room_for_top(query, cx);
        }
    }
    if place == Place::Membership && !cx.facts.limit_in_in_subquery && query.limit.is_some() {
        wrap(query, "limited", cx);
    }
}

/// All of a hundred percent: no limit at all.
fn keeps_every_row(limit: &RowLimit) -> bool {
    let all = matches!(&limit.amount, Some(Amount::Percent(share, _)) if as_number(share).is_some_and(|n| n >= 100.0));
    all && limit.offset.is_none()
}

/// Condition 8.
fn is_to_compare(limit: &RowLimit, cx: &Context<'_>) -> bool {
    let source = &cx.source_facts;
    let unsaid = |count: &E| {
        let plain = as_number(count).is_some() || matches!(count.kind, ExprKind::Parameter(_));
        !plain && (!cx.facts.limit_takes_expression || (has_subquery(count) && !cx.facts.limit_takes_subquery))
    };
    let compares = |count: &E| {
        let null = source.null_count != OddCount::AllRows || !meaning::infer(count).nullable;
        as_number(count).is_some() || (null && source.negative_count != OddCount::AllRows)
    };
    limit.whole_counts().any(unsaid) && limit.whole_counts().all(compares)
}

fn keeps_no_row(limit: &RowLimit) -> bool {
    match &limit.amount {
        Some(Amount::Rows(count) | Amount::Percent(count, _)) => as_number(count).is_some_and(|n| n <= 0.0),
        None => false,
    }
}

/// A limit that keeps all rows or none has no choice to make.
fn takes_all(limit: &RowLimit) -> bool {
    keeps_no_row(limit) || keeps_every_row(limit) || (limit.amount.is_none() && limit.offset.is_none())
}

fn note_no_order(query: &Query<Meant>, limit: &RowLimit, cx: &mut Context<'_>) {
    // One row a query has no choice: an aggregate over all.
    if let QueryBody::Select(select) = &query.body
        && ((is_grouped(select) && select.group_by.is_none()) || select.from.iter().all(is_dual))
    {
        return;
    }
    cx.note(no_order(limit).advise("add an ORDER BY whose keys no two rows share, if it matters which rows come"));
}

/// Which rows a limit keeps is left to the engine.
pub(super) fn no_order(limit: &RowLimit) -> Note {
    let message = "no ORDER BY settles which rows this limit keeps: the source and the target may each keep others";
    Note::new("row-limit.no-order", limit.span, message)
}

/// The table of one row that some dialects select from when they select from nothing.
fn is_dual(table: &TableRef<Meant>) -> bool {
    matches!(&table.kind, TableKind::Name(name) if name.last().is_word("dual"))
}

// --- plain limits ---------------------------------------------------------------------------------

/// Counts must be what the target takes: constants are worked out, others refused where needed.
fn has_subquery(count: &E) -> bool {
    count.any(&mut |e| matches!(e.kind, ExprKind::Subquery(_)))
}

fn check_counts(query: &mut Query<Meant>, cx: &mut Context<'_>) {
    let Some(limit) = &mut query.limit else { return };
    let span = limit.span;
    let mut refused = false;
    for count in limit.whole_counts_mut() {
        let whole = !matches!(&count.kind, ExprKind::Literal(_)) || as_number(count).is_none_or(|n| n.fract() == 0.0 && n >= 0.0);
        if whole && matches!(count.kind, ExprKind::Literal(_) | ExprKind::Parameter(_)) {
            continue;
        }
        if let Some(value) = as_number(count) {
            // A fraction is cut (Oracle, row limiting clause); PostgreSQL rounds it (observed).
            let value = if cx.from.name == syntax::DialectName::Oracle { value } else { value.round() };
            *count = number(value as i64);
        } else if !cx.facts.limit_takes_expression || (has_subquery(count) && !cx.facts.limit_takes_subquery) {
            refused = true;
        }
    }
    if refused {
        cx.note(
            Note::new("row-limit.not-constant", span, format!("{} takes only constants and parameters as row counts", cx.to.name.title()))
                .advise("work the number out first and pass it as a parameter"),
        );
    }
}

/// Condition 6, and a place for TOP.
fn room_for_top(query: &mut Query<Meant>, cx: &mut Context<'_>) {
    let Some(limit) = &mut query.limit else { return };
    // FETCH wants a row at least (SQL Server: Msg 10744); none behind an offset is none at all.
    if limit.offset.is_some() && keeps_no_row(limit) {
        limit.offset = None;
    }
    let needs_order = limit.offset.is_some() && query.order_by.is_empty();
    let is_block = matches!(&query.body, QueryBody::Select(_));
    let distinct = matches!(&query.body, QueryBody::Select(s) if matches!(s.quantifier, Some(SelectQuantifier::Distinct)));
    if (!is_block && (limit.offset.is_none() || needs_order)) || (needs_order && distinct) {
        wrap_ordered(query, cx);
    }
    let Some(limit) = &query.limit else { return };
    if limit.offset.is_some() && query.order_by.is_empty() {
        query.order_by.push(crate::shape::no_order_key());
    }
}

/// The query without its limit and order becomes a derived table under them.
fn wrap_ordered(query: &mut Query<Meant>, cx: &mut Context<'_>) {
    let keys = std::mem::take(&mut query.order_by);
    let limit = query.limit.take();
    let shown = shown_names(query).unwrap_or_default();
    let names: Vec<Option<(Ident, E)>> = keys.iter().map(|k| set_key_name(k, &shown)).collect();
    let with = query.with.take();
    let alias = cx.fresh_name("limited");
    let relation = cx.fresh_relation();
    let inner = take_query(query);
    query.body = QueryBody::Select(Box::new(Select::of(vec![star()], vec![derived(inner, &alias, relation, &cx.facts)])));
    query.with = with;
    query.limit = limit;
    for (mut key, name) in keys.into_iter().zip(names) {
        if let Some((name, like)) = name {
            key.expr = column(&alias, relation, &name, &like);
            key.span = Span::SYNTHETIC;
        }
        query.order_by.push(key);
    }
}

/// The name a set operation shows a sort key by, and what is known of that column; none for an
/// ordinal of a column that isn't known, which stays one.
fn set_key_name(key: &SortKey<Meant>, shown: &[(Ident, E)]) -> Option<(Ident, E)> {
    match &key.expr.without_parens().kind {
        ExprKind::Column(binding) => Some((binding.name.last().clone(), key.expr.clone())),
        ExprKind::Literal(Constant::Number(text)) => shown.get(text.parse::<usize>().ok()?.checked_sub(1)?).cloned(),
        _ => None,
    }
}

/// The whole query becomes a derived table.
fn wrap(query: &mut Query<Meant>, word: &str, cx: &mut Context<'_>) {
    let alias = cx.fresh_name(word);
    let relation = cx.fresh_relation();
    let inner = take_query(query);
    // The inner query's own sort keys are still to be looked at: the walk has passed it.
    let mut inner = inner;
    super::null_order::rewrite(&mut inner, Place::Derived, cx);
    query.body = QueryBody::Select(Box::new(Select::of(vec![star()], vec![derived(inner, &alias, relation, &cx.facts)])));
}

// --- shares by a counting subquery ----------------------------------------------------------------

/// LIMIT (SELECT (COUNT(*) * share + 99) / 100 FROM (query)): condition 3.
fn count_share(query: &mut Query<Meant>, cx: &mut Context<'_>) {
    let Some(limit) = query.limit.take() else { return };
    let RowLimit { amount: Some(Amount::Percent(share, rounding)), with_ties, offset, span } = *limit else { return };
    let Some((parts, whole)) = share_of(&share, cx) else { return };
    let mut counted = query.clone();
    counted.order_by.clear();
    counted.limit = None;
    counted.with = None;
    forget_query(&mut counted);
    let alias = cx.fresh_name("counted");
    let relation = cx.fresh_relation();
    let rows = call(phrase::AGGREGATE_COUNT_ROWS, Vec::new());
    let mut product = operation(phrase::NUMBER_MULTIPLY, rows, parts);
    if rounding == Rounding::Up {
        product = operation(phrase::NUMBER_ADD, product, number(whole - 1));
    }
    let count = operation(phrase::NUMBER_DIVIDE_WHOLE, product, number(whole));
    let item = SelectItem { value: SelectValue::Expr(count), alias: None, span: Span::SYNTHETIC };
    let counting = query_of(Select::of(vec![item], vec![derived(counted, &alias, relation, &cx.facts)]));
    let count = Expr::synthetic(ExprKind::Subquery(Box::new(counting)));
    cx.features.subqueries = true;
    query.limit = Some(Box::new(RowLimit { amount: Some(Amount::Rows(count)), with_ties, offset, span }));
}

/// A second copy of a query must not claim the places of the first.
fn forget_query(query: &mut Query<Meant>) {
    query.span = Span::SYNTHETIC;
    // Spans deeper inside only guide blanks and comments; the layout gives each comment once.
}

/// The share as a whole number of parts and what makes the whole: 12.5 is 125 of 1000.
fn share_of(share: &E, cx: &mut Context<'_>) -> Option<(E, i64)> {
    if let Some(value) = as_number(share) {
        let value = value.max(0.0);
        let mut whole = 100;
        let mut parts = value;
        while parts.fract() != 0.0 && whole < 100_000_000 {
            parts *= 10.0;
            whole *= 10;
        }
        return Some((number(parts as i64), whole));
    }
    if matches!(share.without_parens().kind, ExprKind::Parameter(_)) {
        return Some((share.clone(), 100));
    }
    cx.note(
        Note::new("row-limit.not-said", share.span, "a share that is worked out in the query can't be translated")
            .advise("work the share out first and pass it as a parameter"),
    );
    None
}

// --- numbering ------------------------------------------------------------------------------------

/// The test a row's numbers must pass.
struct Test {
    /// RANK is needed, and the row number.
    rank: bool,
    position: bool,
    total: bool,
}

/// Conditions 2 to 5.
fn number_rows(query: &mut Query<Meant>, limit: RowLimit, cx: &mut Context<'_>) {
    let test = Test {
        rank: limit.with_ties,
        position: !limit.with_ties || limit.offset.is_some(),
        total: matches!(limit.amount, Some(Amount::Percent(..))),
    };
    lift_window_keys(query, cx);
    if cx.facts.qualify && matches!(&query.body, QueryBody::Select(s) if s.quantifier.is_none() && s.qualify.is_none()) {
        return qualify(query, &limit, &test, cx);
    }
    if !cx.facts.correlated_derived && is_correlated(query) {
        let message = format!(
            "{} has no such limit, and in a derived table, where the rows could be numbered, no column of the query around it is seen",
            cx.to.name.title()
        );
        cx.note(
            Note::new("row-limit.not-said", limit.span, message).advise("limit by a plain count, or join the rows numbered beforehand"),
        );
        return;
    }
    expand_stars(query);
    let Some(names) = shown_names(query) else {
        cx.note(
            Note::new(
                "row-limit.columns-needed",
                limit.span,
                format!(
                    "{} has no such limit; the rows must be numbered in an added column, and the columns shown are not all known by name",
                    cx.to.name.title()
                ),
            )
            .advise("name every column of the select list once (AS), or give the tables with --schema"),
        );
        return;
    };
    let Some(block_keys) = keys_in_block(query) else {
        cx.note(Note::new("row-limit.not-said", limit.span, "a sort key of this limit can't be named where the rows are numbered"));
        return;
    };
    query.limit = None;
    let alias = cx.fresh_name("numbered");
    let relation = cx.fresh_relation();
    let taken: Vec<Ident> = names.iter().map(|(n, _)| n.clone()).collect();
    let (place, position, total) = (free_name("place", &taken), free_name("position", &taken), free_name("total", &taken));
    let with = query.with.take();
    query.order_by.clear();
    let mut inner = take_query(query);
    if !is_plain_block(&inner) {
        // Condition 4.
        let inside = cx.fresh_name("source");
        let id = cx.fresh_relation();
        let items = names
            .iter()
            .map(|(n, e)| SelectItem { value: SelectValue::Expr(column(&inside, id, n, e)), alias: None, span: Span::SYNTHETIC })
            .collect();
        inner = query_of(Select::of(items, vec![derived(inner, &inside, id, &cx.facts)]));
    }
    let QueryBody::Select(block) = &mut inner.body else { return };
    name_items(block, &names);
    let number_by = |phrase: &str| window_call(phrase, block_keys.iter().map(key_copy).collect());
    if test.rank {
        block.items.push(aliased(number_by(phrase::WINDOW_RANK), &place));
    }
    if test.position {
        block.items.push(aliased(number_by(phrase::WINDOW_ROW_NUMBER), if test.rank { &position } else { &place }));
    }
    if test.total {
        block.items.push(aliased(total_rows(), &total));
    }
    super::null_order::rewrite(&mut inner, Place::Derived, cx);
    let own = |name: &str| own_column(&alias, relation, name);
    let position_name = if test.rank { position.as_str() } else { place.as_str() };
    let Some(condition) = condition(&limit, &own, &place, position_name, &total, cx) else { return };
    let items = names.iter().map(|(n, e)| {
        let mut expr = column(&alias, relation, n, e);
        if let ExprKind::Column(binding) = &mut expr.kind {
            // A bare name reads better, and nothing else is in sight.
            binding.name.parts.remove(0);
        }
        SelectItem { value: SelectValue::Expr(expr), alias: None, span: Span::SYNTHETIC }
    });
    let mut outer = Select::of(items.collect(), vec![derived(inner, &alias, relation, &cx.facts)]);
    outer.condition = Some(condition);
    query.body = QueryBody::Select(Box::new(outer));
    query.with = with;
    query.order_by = vec![plain_key(own(&place))];
}

/// Condition 7: sort keys with a window of their own become columns of a derived table.
fn lift_window_keys(query: &mut Query<Meant>, cx: &mut Context<'_>) {
    let QueryBody::Select(block) = &query.body else { return };
    if query.order_by.iter().filter_map(|k| resolved_key(&k.expr, &block.items)).any(|key| key.has_window()) {
        lift_keys(query, cx);
    }
}

/// The sort keys become columns of a derived table, where rows are not distinguished by them.
pub(super) fn lift_keys(query: &mut Query<Meant>, cx: &mut Context<'_>) {
    let QueryBody::Select(block) = &query.body else { return };
    let keys: Option<Vec<E>> = query.order_by.iter().map(|k| resolved_key(&k.expr, &block.items)).collect();
    let Some(keys) = keys.filter(|_| is_plain_block(query)) else { return };
    expand_stars(query);
    let Some(names) = shown_names(query) else { return };
    let (with, limit, order_by) = (query.with.take(), query.limit.take(), std::mem::take(&mut query.order_by));
    let (alias, relation) = (cx.fresh_name("keyed"), cx.fresh_relation());
    let mut inner = take_query(query);
    let QueryBody::Select(block) = &mut inner.body else { return };
    name_items(block, &names);
    let mut taken: Vec<Ident> = names.iter().map(|(n, _)| n.clone()).collect();
    for (key, expr) in order_by.into_iter().zip(keys) {
        let name = Ident::synthetic(free_name("sort_key", &taken));
        block.items.push(aliased(expr.clone(), &name.text));
        query.order_by.push(SortKey { expr: column(&alias, relation, &name, &expr), span: Span::SYNTHETIC, ..key });
        taken.push(name);
    }
    let items = names.iter().map(|(n, e)| SelectItem {
        value: SelectValue::Expr(column(&alias, relation, n, e)),
        alias: None,
        span: Span::SYNTHETIC,
    });
    query.body = QueryBody::Select(Box::new(Select::of(items.collect(), vec![derived(inner, &alias, relation, &cx.facts)])));
    query.with = with;
    query.limit = limit;
}

/// COUNT(*) OVER ().
fn total_rows() -> E {
    let window = Window { base: None, partition_by: Vec::new(), order_by: Vec::new(), frame: None, span: Span::SYNTHETIC };
    let tail = CallTail { over: Some(Over::Window(window)), ..CallTail::default() };
    call_with(phrase::AGGREGATE_COUNT_ROWS, Vec::new(), Some(tail))
}

/// What the numbers must satisfy: conditions 2 and 3.
fn condition(limit: &RowLimit, own: &dyn Fn(&str) -> E, place: &str, position: &str, total: &str, cx: &mut Context<'_>) -> Option<E> {
    let mut parts = Vec::new();
    if let Some(offset) = &limit.offset {
        parts.push(operation(phrase::COMPARE_GREATER, own(position), offset.clone()));
    }
    match &limit.amount {
        Some(Amount::Rows(count)) => {
            let last = match &limit.offset {
                Some(offset) => sum(crate::shape::copy_of(offset), count.clone()),
                None => count.clone(),
            };
            parts.push(operation(phrase::COMPARE_LESS_OR_EQUAL, own(place), last));
            // A count that may be 0 leaves no row to tie with the first one kept.
            if limit.with_ties && limit.offset.is_some() && as_number(count).is_none() {
                parts.push(operation(phrase::COMPARE_GREATER, count.clone(), number(0)));
            }
        }
        Some(Amount::Percent(share, rounding)) => {
            let (share, whole) = share_of(share, cx)?;
            let kept = operation(phrase::NUMBER_MULTIPLY, own(total), share);
            // The share is of all rows, and counted from the first one behind the offset.
            let behind =
                |passed: E| operation(phrase::NUMBER_MULTIPLY, operation(phrase::NUMBER_SUBTRACT, own(place), passed), number(whole));
            let offset = limit.offset.as_ref().map(crate::shape::copy_of);
            parts.push(match (rounding, offset) {
                (Rounding::Up, None) => operation(phrase::COMPARE_LESS, behind(number(1)), kept),
                (Rounding::Up, Some(offset)) => operation(phrase::COMPARE_LESS, behind(sum(offset, number(1))), kept),
                (Rounding::Down, Some(offset)) => operation(phrase::COMPARE_LESS_OR_EQUAL, behind(offset), kept),
                (Rounding::Down, None) => {
                    operation(phrase::COMPARE_LESS_OR_EQUAL, operation(phrase::NUMBER_MULTIPLY, own(place), number(whole)), kept)
                }
            });
        }
        None => {}
    }
    crate::shape::all_of(parts)
}

fn sum(a: E, b: E) -> E {
    match (as_number(&a), as_number(&b)) {
        (Some(a), Some(b)) => number((a + b) as i64),
        _ => operation(phrase::NUMBER_ADD, a, b),
    }
}

/// QUALIFY needs no added column.
fn qualify(query: &mut Query<Meant>, limit: &RowLimit, test: &Test, cx: &mut Context<'_>) {
    let Some(keys) = keys_in_block(query) else {
        cx.note(Note::new("row-limit.not-said", limit.span, "a sort key of this limit can't be named where the rows are numbered"));
        return;
    };
    let number_by = |phrase: &str| window_call(phrase, keys.iter().map(key_copy).collect());
    let own = |name: &str| match name {
        "total" => total_rows(),
        "position" => number_by(phrase::WINDOW_ROW_NUMBER),
        _ if test.rank => number_by(phrase::WINDOW_RANK),
        _ => number_by(phrase::WINDOW_ROW_NUMBER),
    };
    let Some(condition) = condition(limit, &own, "place", "position", "total", cx) else { return };
    query.limit = None;
    if let QueryBody::Select(block) = &mut query.body {
        block.qualify = Some(condition);
    }
}

/// A block whose rows can be numbered where they are.
fn is_plain_block(query: &Query<Meant>) -> bool {
    matches!(&query.body, QueryBody::Select(s) if matches!(s.quantifier, None | Some(SelectQuantifier::All)))
}

/// The sort keys as expressions of the block that is numbered.
fn keys_in_block(query: &Query<Meant>) -> Option<Vec<SortKey<Meant>>> {
    let block = match &query.body {
        QueryBody::Select(block) if is_plain_block(query) => Some(block),
        _ => None,
    };
    query
        .order_by
        .iter()
        .map(|key| {
            let expr = match &block {
                Some(block) => resolved_key(&key.expr, &block.items)?,
                None => outer_key(&key.expr, query)?,
            };
            Some(SortKey { expr, direction: key.direction, nulls: key.nulls, span: Span::SYNTHETIC })
        })
        .collect()
}

/// A key of a DISTINCT or set operation: one of the columns shown, by its bare name.
fn outer_key(key: &E, query: &Query<Meant>) -> Option<E> {
    let names = shown_names(query)?;
    let (name, shown) = match &key.without_parens().kind {
        ExprKind::Literal(Constant::Number(text)) => names.get(text.parse::<usize>().ok()?.checked_sub(1)?)?,
        ExprKind::Column(binding) => names.iter().find(|(n, _)| n.text.eq_ignore_ascii_case(&binding.name.last().text))?,
        _ => return None,
    };
    let known = meaning::infer(shown);
    Some(Expr::synthetic(ExprKind::Column(meaning::Binding {
        name: syntax::tree::ObjectName::single(crate::shape::again(name)),
        target: meaning::BindingTarget::Open,
        data_type: known.data_type,
        nullable: known.nullable,
    })))
}

/// The names of the columns a query shows, each once; `None` if one has none or is behind a star.
pub(super) fn shown_names(query: &Query<Meant>) -> Option<Vec<(Ident, E)>> {
    let mut blocks: Vec<&Select<Meant>> = Vec::new();
    query.body.selects(&mut |s| blocks.push(s));
    let mut names: Vec<(Ident, E)> = Vec::new();
    for (i, item) in blocks.first()?.items.iter().enumerate() {
        let SelectValue::Expr(expr) = &item.value else { return None };
        let filled = blocks.iter().skip(1).any(|b| gives_nulls(b, i));
        let mut name = output_name(item).unwrap_or_else(|| Ident::synthetic(format!("column_{}", i + 1)));
        if names.iter().any(|(n, _)| n.text.eq_ignore_ascii_case(&name.text)) {
            let taken: Vec<Ident> = names.iter().map(|(n, _)| n.clone()).collect();
            name = Ident::synthetic(free_name(&name.text, &taken));
        }
        let expr = if filled { maybe_null(&name, expr) } else { expr.clone() };
        names.push((crate::shape::again(&name), expr));
    }
    Some(names)
}

/// Whether entry `at` of a block's list can be NULL; behind a star nothing is known.
fn gives_nulls(block: &Select<Meant>, at: usize) -> bool {
    match block.items.get(at).map(|i| &i.value) {
        Some(SelectValue::Expr(expr)) => meaning::infer(expr).nullable,
        _ => true,
    }
}

/// A column shown by a set operation of which another branch can give NULLs.
fn maybe_null(name: &Ident, first: &E) -> E {
    Expr::synthetic(ExprKind::Column(meaning::Binding {
        name: syntax::tree::ObjectName::single(crate::shape::again(name)),
        target: meaning::BindingTarget::Open,
        data_type: meaning::infer(first).data_type,
        nullable: true,
    }))
}

/// Gives every entry of the list the name it is asked for by.
pub(super) fn name_items(block: &mut Select<Meant>, names: &[(Ident, E)]) {
    for (item, (name, _)) in block.items.iter_mut().zip(names) {
        if output_name(item).is_none_or(|n| !n.text.eq_ignore_ascii_case(&name.text)) {
            item.alias = Some(syntax::tree::ColumnAlias { name: name.clone(), form: syntax::tree::AliasForm::As });
        }
    }
}
