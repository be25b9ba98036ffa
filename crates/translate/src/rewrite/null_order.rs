//! The default order of NULLs, where it can be seen.
//!
//! ```sql before oracle postgres
//! SELECT name FROM loads ORDER BY tons
//! ```
//! ```sql after
//! SELECT name FROM loads ORDER BY tons
//! ```
//! ```sql before oracle sqlite
//! SELECT name FROM loads ORDER BY tons DESC
//! ```
//! ```sql after
//! SELECT name FROM loads ORDER BY tons DESC NULLS FIRST
//! ```
//! ```sql before oracle mysql
//! SELECT name FROM loads ORDER BY tons
//! ```
//! ```sql after
//! SELECT name FROM loads ORDER BY CASE WHEN tons IS NULL THEN 1 ELSE 0 END, tons
//! ```
//! ```sql before oracle sqlserver
//! SELECT DISTINCT kind FROM loads ORDER BY kind
//! ```
//! ```sql after
//! SELECT * FROM (SELECT DISTINCT kind FROM loads) AS sorted ORDER BY CASE WHEN sorted.kind IS NULL THEN 1 ELSE 0 END, sorted.kind
//! ```
//!
//! Right when
//! 1. the key can be NULL at its place; else nothing is written;
//! 2. the order shows: at the end of the statement, under a limit, in a window; elsewhere it has no
//!    meaning, and SQL Server forbids it;
//! 3. where NULLS FIRST isn't spoken, a leading CASE key says it; ordinals and aliases in it become
//!    what they stand for;
//! 4. under DISTINCT and over set operations a CASE key isn't allowed: the query becomes a derived
//!    table, if its sort keys are columns it shows;
//! 5. a window with a RANGE offset takes one key only: refused.

use meaning::{Binding, BindingTarget, Function, LimitWords, Meant, Note, NullsPlace, PhraseKind, infer};
use syntax::tree::{
    CallTail, Expr, ExprKind, FrameBound, FrameUnit, Ident, ObjectName, Over, Query, QueryBody, Select, SelectItem, SelectQuantifier,
    SortKey, Span, Window,
};

use super::{Context, Place};
use crate::NullOrderPolicy;
use crate::shape::{copy_of, derived, null_rank, resolved_key, star, take_query};

type E = Expr<Meant>;

pub(super) fn rewrite(query: &mut Query<Meant>, place: Place, cx: &mut Context<'_>) {
    if let QueryBody::Select(select) = &mut query.body {
        if cx.features.may_have_windows() {
            select.exprs_mut(&mut |e| in_windows(e, cx));
        }
        for (_, window) in &mut select.windows {
            in_window(window, cx);
        }
    }
    if cx.features.may_have_windows() {
        query.order_by.iter_mut().for_each(|key| in_windows(&mut key.expr, cx));
    }
    if query.order_by.is_empty() {
        return;
    }
    let shows = place == Place::Statement || query.limit.is_some();
    if !shows {
        // Condition 2.
        if cx.facts.limit_words == LimitWords::Top {
            query.order_by.clear();
        }
        return;
    }
    if place == Place::Statement && query.limit.is_none() && cx.null_order == NullOrderPolicy::Ignore {
        note_ignored(query, cx);
        return;
    }
    if cx.facts.nulls_spoken {
        query.order_by.iter_mut().for_each(|k| say_nulls(k, cx));
    } else {
        lead_with_case(query, cx);
    }
}

/// The key is one whose NULLs would move in the target.
fn moves(key: &SortKey<Meant>, cx: &Context<'_>) -> bool {
    key.nulls.order != cx.facts.default_nulls(key.direction) && infer(&key.expr).nullable && !is_constant(&key.expr)
}

fn is_constant(expr: &E) -> bool {
    // An ordinal is not one: it represents a column.
    matches!(&expr.without_parens().kind, ExprKind::Subquery(_))
}

fn say_nulls(key: &mut SortKey<Meant>, cx: &Context<'_>) {
    let ordinal = matches!(&key.expr.kind, ExprKind::Literal(_));
    let differs = key.nulls.order != cx.facts.default_nulls(key.direction);
    key.nulls.spelled |= differs && (ordinal || infer(&key.expr).nullable);
}

fn note_ignored(query: &Query<Meant>, cx: &mut Context<'_>) {
    let moved = query.order_by.iter().find(|k| moves(k, cx)).map(|k| k.span);
    if let Some(span) = moved {
        cx.note(Note::new("sort.null-order", span, format!("NULLs sort at the other end in {}; left so as asked", cx.to.name.title())));
    }
}

// --- leading CASE keys ----------------------------------------------------------------------------

fn lead_with_case(query: &mut Query<Meant>, cx: &mut Context<'_>) {
    let items: Vec<SelectItem<Meant>> = match &query.body {
        QueryBody::Select(select) => select.items.clone(),
        _ => Vec::new(),
    };
    let needs: Vec<bool> = query.order_by.iter().map(|k| needs_case(k, &items, cx)).collect();
    if !needs.iter().any(|n| *n) {
        query.order_by.iter_mut().for_each(|k| k.nulls.spelled = false);
        return;
    }
    let plain = match &query.body {
        QueryBody::Select(select) => !matches!(select.quantifier, Some(SelectQuantifier::Distinct | SelectQuantifier::DistinctOn(_))),
        _ => false,
    };
    if !plain {
        return lead_outside(query, &needs, cx);
    }
    let keys = std::mem::take(&mut query.order_by);
    for (mut key, needed) in keys.into_iter().zip(needs) {
        if needed {
            let Some(expr) = resolved_key(&key.expr, &items) else {
                refuse(key.span, cx);
                query.order_by.push(key);
                continue;
            };
            query.order_by.push(case_key(&expr, key.nulls));
            // Beside an expression an ordinal is not one everywhere.
            if matches!(key.expr.kind, ExprKind::Literal(_)) {
                key.expr = expr;
                key.span = Span::SYNTHETIC;
            }
        }
        key.nulls = settled(&key, cx);
        query.order_by.push(key);
    }
}

/// The NULL order of a key that needs no more words: a second look at it finds nothing to do.
fn settled(key: &SortKey<Meant>, cx: &Context<'_>) -> NullsPlace {
    NullsPlace { order: cx.facts.default_nulls(key.direction), spelled: false }
}

fn needs_case(key: &SortKey<Meant>, items: &[SelectItem<Meant>], cx: &Context<'_>) -> bool {
    let differs = key.nulls.order != cx.facts.default_nulls(key.direction) && !is_constant(&key.expr);
    let nullable = match resolved_key(&key.expr, items) {
        Some(expr) => infer(&expr).nullable,
        // An ordinal behind a star: nothing is known.
        None if matches!(key.expr.kind, ExprKind::Literal(_)) => true,
        None => infer(&key.expr).nullable,
    };
    differs && nullable
}

fn case_key(expr: &E, nulls: NullsPlace) -> SortKey<Meant> {
    SortKey {
        expr: null_rank(expr, nulls.order),
        direction: None,
        nulls: NullsPlace { order: nulls.order, spelled: false },
        span: Span::SYNTHETIC,
    }
}

fn refuse(span: Span, cx: &mut Context<'_>) {
    let mut note = Note::new(
        "sort.null-order",
        span,
        format!("NULLs sort at the other end in {}, and there is no place for a key that says where they go", cx.to.name.title()),
    )
    .advise("name the sort column in the select list, or pass --null-order ignore if the order of NULLs doesn't matter");
    note.fidelity = meaning::Fidelity::Refused;
    cx.note(note);
}

/// Condition 4: the query becomes a derived table that is sorted outside.
fn lead_outside(query: &mut Query<Meant>, needs: &[bool], cx: &mut Context<'_>) {
    let names: Option<Vec<Ident>> = query.order_by.iter().map(|k| shown_name(k, query)).collect();
    let Some(names) = names else {
        let span = query.order_by[0].span;
        return refuse(span, cx);
    };
    let alias = cx.fresh_name("sorted");
    let relation = cx.fresh_relation();
    let keys = std::mem::take(&mut query.order_by);
    let limit = query.limit.take();
    let with = query.with.take();
    let inner = take_query(query);
    let table = derived(inner, &alias, relation, &cx.facts);
    query.body = QueryBody::Select(Box::new(Select::of(vec![star()], vec![table])));
    query.limit = limit;
    query.with = with;
    for ((mut key, name), needed) in keys.into_iter().zip(names).zip(needs) {
        let known = infer(&key.expr);
        let expr = Expr::synthetic(ExprKind::Column(Binding {
            name: ObjectName { parts: vec![Ident::synthetic(alias.as_str()), crate::shape::again(&name)] },
            target: BindingTarget::Column(relation),
            data_type: known.data_type,
            nullable: true,
        }));
        if *needed {
            query.order_by.push(case_key(&expr, key.nulls));
        }
        key.expr = expr;
        key.span = Span::SYNTHETIC;
        key.nulls = settled(&key, cx);
        query.order_by.push(key);
    }
}

/// The output column a sort key of a DISTINCT or set operation is.
fn shown_name(key: &SortKey<Meant>, query: &Query<Meant>) -> Option<Ident> {
    let mut first: Option<Vec<SelectItem<Meant>>> = None;
    query.body.selects(&mut |s| {
        first.get_or_insert_with(|| s.items.clone());
    });
    let items = first.unwrap_or_default();
    match &key.expr.without_parens().kind {
        ExprKind::Literal(meaning::Constant::Number(text)) => {
            let at: usize = text.parse().ok()?;
            items.get(at.checked_sub(1)?).and_then(crate::shape::output_name)
        }
        ExprKind::Column(binding) => Some(binding.name.last().clone()),
        _ => {
            let expr = copy_of(&key.expr);
            items
                .iter()
                .find(|i| matches!(&i.value, syntax::tree::SelectValue::Expr(e) if crate::shape::same(e, &expr)))
                .and_then(crate::shape::output_name)
        }
    }
}

// --- windows and aggregates -----------------------------------------------------------------------

fn in_windows(expr: &mut E, cx: &mut Context<'_>) {
    syntax::with_stack(|| {
        let ranks = matches!(&expr.kind, ExprKind::Call(c) if matches!(&c.function, Function::Phrase(id, _) if id.phrase().kind == PhraseKind::Window));
        if let ExprKind::Call(call) = &mut expr.kind
            && let Some(CallTail { over: Some(Over::Window(window)), .. }) = call.tail.as_deref_mut()
        {
            in_window(window, cx);
            // The numbering functions need an order in some engines, whatever it is.
            if window.order_by.is_empty() && ranks && !cx.facts.row_number_without_order {
                window.order_by.push(crate::shape::no_order_key());
            }
        }
        expr.exprs_mut(&mut |child| in_windows(child, cx));
    });
}

fn in_window(window: &mut Window<Meant>, cx: &mut Context<'_>) {
    if cx.facts.nulls_spoken {
        window.order_by.iter_mut().for_each(|k| say_nulls(k, cx));
        return;
    }
    let needs: Vec<bool> = window.order_by.iter().map(|k| moves(k, cx)).collect();
    if !needs.iter().any(|n| *n) {
        window.order_by.iter_mut().for_each(|k| k.nulls.spelled = false);
        return;
    }
    let offset = |b: &FrameBound<Meant>| matches!(b, FrameBound::Preceding(_) | FrameBound::Following(_));
    let ranged =
        window.frame.as_ref().is_some_and(|f| f.unit == FrameUnit::Range && (offset(&f.start) || f.end.as_ref().is_some_and(offset)));
    if ranged {
        return refuse(window.span, cx);
    }
    let keys = std::mem::take(&mut window.order_by);
    for (mut key, needed) in keys.into_iter().zip(needs) {
        if needed {
            window.order_by.push(case_key(&key.expr, key.nulls));
        }
        key.nulls = settled(&key, cx);
        window.order_by.push(key);
    }
}
