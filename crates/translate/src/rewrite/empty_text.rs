//! Texts that end up empty are NULL in Oracle.
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
//!    something that isn't a text: on the way there one empty text is as good as NULL;
//! 3. `=` with something that is no empty text is left alone, as neither is true; under NOT it isn't.

use meaning::{Breach, Constant, Emptiness, Function, Meant, Note, PhraseKind, Sign, ValueClass, infer};
use syntax::tree::{
    Call, Expr, ExprKind, GroupItem, IsWhat, JoinCondition, Query, QueryBody, SelectQuantifier, SelectValue, TableKind, TableRef,
};

use super::shape::call;
use super::{Context, Place};

type E = Expr<Meant>;

/// Into Oracle: a text that can end up empty is NULL there, which is said.
pub(super) fn note_lost(query: &mut Query<Meant>, _: Place, cx: &mut Context<'_>) {
    let QueryBody::Select(select) = &query.body else { return };
    for item in &select.items {
        let SelectValue::Expr(expr) = &item.value else { continue };
        if infer(expr).empty == Emptiness::Can && expr.span.is_read() {
            let message = "this text can end up empty: Oracle gives NULL for it";
            cx.note(
                Note::new("text.empty-or-null", expr.span, message)
                    .advise("make sure that it can't be empty, or that NULL will do")
                    .broken_by(Breach::Value(ValueClass::Empty, expr.span)),
            );
        }
    }
}

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, _: &mut Context<'_>) {
    if let QueryBody::Select(select) = &mut query.body {
        for item in &mut select.items {
            if let SelectValue::Expr(expr) = &mut item.value {
                inside(expr, false);
                as_null(expr);
            }
        }
        for condition in [&mut select.condition, &mut select.having, &mut select.qualify].into_iter().flatten() {
            inside(condition, false);
        }
        for item in select.group_by.iter_mut().flat_map(|g| &mut g.items) {
            if let GroupItem::Expr(expr) = item {
                inside(expr, false);
                as_null(expr);
            }
        }
        if let Some(SelectQuantifier::DistinctOn(keys)) = &mut select.quantifier {
            keys.iter_mut().for_each(as_null);
        }
        select.from.iter_mut().for_each(in_joins);
    }
    for key in &mut query.order_by {
        inside(&mut key.expr, false);
        as_null(&mut key.expr);
    }
}

fn in_joins(table: &mut TableRef<Meant>) {
    match &mut table.kind {
        TableKind::Join(join) => {
            in_joins(&mut join.left);
            in_joins(&mut join.right);
            if let JoinCondition::On(condition) = &mut join.condition {
                inside(condition, false);
            }
        }
        TableKind::Nested(inner) => in_joins(inner),
        _ => {}
    }
}

/// NULLIF around what can be empty.
fn as_null(expr: &mut E) {
    if infer(expr).empty != Emptiness::Can || is_literal(expr) {
        return;
    }
    let taken = std::mem::replace(expr, Expr::made(ExprKind::Default));
    let empty = Expr::made(ExprKind::Literal(Constant::Text { value: "".into(), written: None }));
    let span = taken.span;
    *expr = Expr { span, ..call("null.if-equal", vec![taken, empty], None) };
}

fn is_literal(expr: &E) -> bool {
    matches!(expr.without_parens().kind, ExprKind::Literal(_))
}

/// Whatever inside an expression tells an empty text from NULL.
fn inside(expr: &mut E, under_not: bool) {
    let negates = matches!(expr.kind, ExprKind::Not(_));
    expr.exprs_mut(&mut |child| inside(child, under_not || negates));
    match &mut expr.kind {
        ExprKind::Is(test) if matches!(test.what, IsWhat::Null) => as_null(&mut test.operand),
        ExprKind::Like(test) => as_null(&mut test.operand),
        ExprKind::Between(test) => as_null(&mut test.operand),
        ExprKind::In(test) if test.negated || under_not => as_null(&mut test.operand),
        ExprKind::Binary(binary) => {
            let Sign::Phrase(id, _) = binary.operator else { return };
            if !id.phrase().id.starts_with("compare.") {
                return;
            }
            let can = |e: &E| infer(e).empty == Emptiness::Can;
            let equal = id.phrase().id == "compare.equal" && !under_not;
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

/// A text that goes into what isn't one, or into a word that looks for NULL.
fn in_call(call: &mut Call<Meant>) {
    let Function::Phrase(id, _) = &call.function else { return };
    let phrase = id.phrase();
    let looks = phrase.id.starts_with("null.") || phrase.id.starts_with("choice.") || phrase.kind == PhraseKind::Aggregate;
    if phrase.id == "null.if-equal" || (!looks && phrase.gives == "string") {
        return;
    }
    call.arguments.iter_mut().for_each(|a| as_null(&mut a.value));
}
