//! `= ANY ('{a,"b c",NULL}')` of PostgreSQL: the text of an array, as the list that it writes.
//! Source: Arrays, Array Input and Output Syntax.

use syntax::tree::{Expr, ExprKind, Literal, Spelled};
use syntax::write_text;

use super::Reader;

impl Reader<'_> {
    /// The elements as a row of constants; `None` if it is no plain array of one dimension.
    pub(super) fn written_array(&self, text: &str) -> Option<Expr<Spelled>> {
        let elements = elements(text)?;
        let literal = |element: Option<String>| {
            Expr::synthetic(ExprKind::Literal(element.map_or(Literal::Null, |e| Literal::Text(write_text(&e, &self.spelling).into()))))
        };
        Some(Expr::synthetic(ExprKind::Row(elements.into_iter().map(literal).collect())))
    }
}

/// `None` represents NULL.
fn elements(text: &str) -> Option<Vec<Option<String>>> {
    let inner = text.trim().strip_prefix('{')?.strip_suffix('}')?;
    let mut found = Vec::new();
    let mut chars = inner.chars().peekable();
    while chars.peek().is_some() {
        let (mut element, mut quoted, mut in_quotes) = (String::new(), false, false);
        loop {
            match chars.next() {
                Some('"') => {
                    quoted = true;
                    in_quotes = !in_quotes;
                }
                Some('\\') => element.push(chars.next()?),
                Some('{' | '}') if !in_quotes => return None,
                Some(',') if !in_quotes => break,
                Some(c) => element.push(c),
                None if in_quotes => return None,
                None => break,
            }
        }
        let bare = if quoted { element } else { element.trim().to_string() };
        found.push((quoted || !bare.eq_ignore_ascii_case("null")).then_some(bare));
    }
    (!found.is_empty()).then_some(found)
}

#[cfg(test)]
mod tests {
    use super::elements;

    #[test]
    fn arrays_as_they_are_written() {
        let some = |text: &str| Some(text.to_string());
        for (text, wanted) in [
            ("{1,2}", Some(vec![some("1"), some("2")])),
            (r#"{ZB,"O\"C", NULL ,"null"}"#, Some(vec![some("ZB"), some("O\"C"), None, some("null")])),
            ("{{1},{2}}", None),
            ("{}", None),
            ("1,2", None),
        ] {
            assert_eq!(elements(text), wanted, "{text}");
        }
    }
}
