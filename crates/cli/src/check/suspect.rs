//! What of our own translation a difference comes from: the phrase of the part where it starts, and the
//! rewrites that changed the statement.

use meaning::{Catalog, hear_calls, hear_operator};
use syntax::tree::{Expr, ExprKind, Spelled};
use syntax::{Dialect, lex, parse_expression};
use translate::{Options, translate_text};

use super::Checked;

/// The suspects of a difference, in words; none for a translation by another hand.
pub(super) fn suspects(one: &Checked, (from, to): (&Dialect, &Dialect), catalog: &Catalog, options: &Options) -> Vec<String> {
    if one.query.translation.is_none() || one.verdict.counterexample.is_none() {
        return Vec::new();
    }
    let phrase = one.verdict.part.as_ref().and_then(|part| phrase_of(&part.text, from));
    let script = translate_text(&one.query.source, from, to, catalog, &Options { steps: true, ..options.clone() });
    let rewrites = script.statements.into_iter().flat_map(|s| s.steps).map(|(why, _)| format!("the rewrite '{why}'"));
    phrase.map(|id| format!("the phrase {id}")).into_iter().chain(rewrites).collect()
}

/// The phrase that an expression is heard as at its outermost.
fn phrase_of(text: &str, dialect: &Dialect) -> Option<&'static str> {
    let tokens = lex(text, dialect);
    let expr: Expr<Spelled> = parse_expression(text, &tokens, dialect).ok()?;
    let id = match &expr.without_parens().kind {
        ExprKind::Call(call) => {
            let arguments: Vec<&Expr<Spelled>> = call.arguments.iter().map(|a| &a.value).collect();
            hear_calls(dialect.name, &call.function.last().text, call.form, &arguments).next().map(|h| h.id)
        }
        ExprKind::Binary(binary) => hear_operator(dialect.name, binary.operator),
        _ => None,
    };
    Some(id?.phrase().id)
}
