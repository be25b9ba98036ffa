//! What is in the target's tree for a part that is not translated: a word that a draft replaces by the
//! source's own words. It is in no output but drafts, as its statement is refused.

use compact_str::CompactString;
use syntax::tree::{Expr, ExprKind, Ident, ObjectName, Span, Spelled};

/// No source text holds this character in a name.
const SIGN: char = '\u{1}';

/// The word for a part of the source, refused with a note of this code.
pub(crate) fn word(code: &'static str, span: Span) -> Expr<Spelled> {
    if !span.is_read() {
        return Expr::synthetic(ExprKind::Default);
    }
    let text: CompactString = format!("{SIGN}{code}{SIGN}{}{SIGN}{}", span.first, span.end).into();
    Expr::synthetic(ExprKind::Column(ObjectName::single(Ident::synthetic(text))))
}

/// The code and part that a word is for.
pub(crate) fn read(word: &str) -> Option<(&str, Span)> {
    let mut parts = word.strip_prefix(SIGN)?.split(SIGN);
    let (code, first, end) = (parts.next()?, parts.next()?, parts.next()?);
    Some((code, Span { first: first.parse().ok()?, end: end.parse().ok()? }))
}
