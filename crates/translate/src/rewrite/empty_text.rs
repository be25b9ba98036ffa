//! Strings that end up empty are NULL in Oracle.
//!
//! ```sql before oracle postgres
//! SELECT TRIM(remark) AS remark FROM tolls WHERE TRIM(remark) IS NOT NULL
//! ```
//! ```sql after
//! SELECT NULLIF(TRIM(remark), '') AS remark FROM tolls WHERE NULLIF(TRIM(remark), '') IS NOT NULL
//! ```
//!
//! Right when
//! 1. only what can leave an empty text behind (TRIM of blanks, a part past the end) is touched: a
//!    column of Oracle holds none;
//! 2. it is touched once, where it is shown, grouped or sorted by, tested for NULL, or goes into
//!    something that isn't a string: on the way there one empty text is as good as NULL;
//! 3. `=` with something that is no empty text is left alone, as neither is true; under NOT it isn't.

use meaning::{Breach, Emptiness, Function, Meant, Note, PhraseKind, Sign, ValueClass, infer, phrase};
use syntax::tree::{Call, Expr, ExprKind, GroupItem, IsWhat, Query, QueryBody, SelectQuantifier, SelectValue};

use super::walk::each_join_condition;
use super::{Context, Place};
use crate::shape::call;

type E = Expr<Meant>;

/// Into Oracle: a string that can end up empty is NULL there, which is said.
pub(super) fn note_lost(query: &mut Query<Meant>, _: Place, cx: &mut Context<'_>) {
    let QueryBody::Select(select) = &query.body else { return };
    let shown = select.items.iter().filter_map(|i| if let SelectValue::Expr(e) = &i.value { Some(e) } else { None });
    for expr in shown.chain(&select.condition).chain(&select.having) {
        // The outermost, and the innermost, which can be empty where the outermost isn't.
        let mut spans = Vec::new();
        expr.any(&mut |e| {
            if e.span.is_read() && !is_literal(e) && infer(e).empty == Emptiness::Can {
                spans.truncate(1);
                spans.push(e.span);
            }
            false
        });
        for span in spans {
            cx.note(
                Note::new("text.empty-or-null", span, "this text can end up empty: Oracle gives NULL for it")
                    .advise("make sure that it can't be empty, or that NULL will do")
                    .broken_by(Breach::Value(ValueClass::Empty, span)),
            );
        }
    }
}

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, cx: &mut Context<'_>) {
    // An empty text equals one of blanks where blanks at the end don't count.
    let blank = cx.facts.letters.ignores_blanks;
    if let QueryBody::Select(select) = &mut query.body {
        for item in &mut select.items {
            if let SelectValue::Expr(expr) = &mut item.value {
                inside(expr, blank);
                as_null(expr);
            }
        }
        for condition in [&mut select.condition, &mut select.having, &mut select.qualify].into_iter().flatten() {
            inside(condition, blank);
        }
        for item in select.group_by.iter_mut().flat_map(|g| &mut g.items) {
            if let GroupItem::Expr(expr) = item {
                inside(expr, blank);
                as_null(expr);
            }
        }
        if let Some(SelectQuantifier::DistinctOn(keys)) = &mut select.quantifier {
            keys.iter_mut().for_each(as_null);
        }
        select.from.iter_mut().for_each(|t| each_join_condition(t, &mut |condition| inside(condition, blank)));
    }
    for key in &mut query.order_by {
        inside(&mut key.expr, blank);
        as_null(&mut key.expr);
    }
}

/// NULLIF around what can be empty.
fn as_null(expr: &mut E) {
    // A column holds no empty text by itself.
    if matches!(expr.kind, ExprKind::Column(_)) || infer(expr).empty != Emptiness::Can || is_literal(expr) {
        return;
    }
    let taken = expr.take();
    *expr = Expr { span: taken.span, ..call(phrase::NULL_IF_EMPTY_TEXT, vec![taken]) };
}

fn is_literal(expr: &E) -> bool {
    matches!(expr.without_parens().kind, ExprKind::Literal(_))
}

/// Whatever inside an expression tells an empty text from NULL; `told_apart`: so does `=`.
fn inside(expr: &mut E, told_apart: bool) {
    let negates = matches!(expr.kind, ExprKind::Not(_));
    expr.exprs_mut(&mut |child| inside(child, told_apart || negates));
    match &mut expr.kind {
        ExprKind::Is(test) if matches!(test.what, IsWhat::Null) => as_null(&mut test.operand),
        ExprKind::Like(test) => as_null(&mut test.operand),
        ExprKind::Between(test) => as_null(&mut test.operand),
        ExprKind::In(test) if test.negated || told_apart => as_null(&mut test.operand),
        ExprKind::Binary(binary) => {
            let Sign::Phrase(id, _) = binary.operator else { return };
            if !id.phrase().id.starts_with("compare.") {
                return;
            }
            let can = |e: &E| infer(e).empty == Emptiness::Can;
            let equal = id.phrase().id == phrase::COMPARE_EQUAL && !told_apart;
            if !equal || (can(&binary.left) && can(&binary.right)) {
                as_null(&mut binary.left);
                if !equal {
                    as_null(&mut binary.right);
                }
            }
        }
        ExprKind::Call(call) => in_call(call),
        _ => {}
    }
}

/// A string that goes into what isn't one, or into a word that looks for NULL.
fn in_call(call: &mut Call<Meant>) {
    let Function::Phrase(id, _) = &call.function else { return };
    let phrase = id.phrase();
    let looks = phrase.id.starts_with("null.") || phrase.id.starts_with("choice.") || phrase.kind == PhraseKind::Aggregate;
    if matches!(phrase.id, phrase::NULL_IF_EQUAL | phrase::NULL_IF_EMPTY_TEXT) || (!looks && phrase.gives == "string") {
        return;
    }
    call.arguments.iter_mut().for_each(|a| as_null(&mut a.value));
}
