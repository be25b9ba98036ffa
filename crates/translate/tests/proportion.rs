//! A translation grows with its source, not with what its templates repeat: every phrase inside itself, thirty
//! levels deep, from every dialect to every other.

#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

use meaning::{ArgumentKind, Catalog, Phrase, PhraseKind, Piece, phrases, pieces};
use syntax::{Dialect, DialectName};
use translate::{Options, translate_text};

/// A spelling with one text in the place of its first argument, and constants in the others'.
fn around(spelling: &str, phrase: &Phrase, inner: &str) -> Option<String> {
    let mut out = String::new();
    let mut inner = Some(inner);
    for piece in pieces(spelling) {
        match piece {
            Piece::Text(text) => out.push_str(text),
            Piece::Argument(name) => {
                let at = phrase.argument(name)?;
                let takes = &phrase.takes[at];
                let other = match takes.kind {
                    ArgumentKind::Integer | ArgumentKind::LongInteger => "3",
                    ArgumentKind::Decimal | ArgumentKind::Float | ArgumentKind::Number => "2.5",
                    ArgumentKind::Boolean | ArgumentKind::Condition => "b = 1",
                    ArgumentKind::Date | ArgumentKind::Timestamp => "DATE '2026-01-31'",
                    _ => "'x'",
                };
                out.push_str(if at == 0 { inner.take().unwrap_or("b") } else { other });
                if takes.repeated && !spelling.contains(" || ") {
                    out.push_str(", ");
                    out.push_str(other);
                }
            }
        }
    }
    Some(format!("({out})"))
}

fn nested(spelling: &str, phrase: &Phrase, depth: usize) -> Option<String> {
    let mut text = "a".to_string();
    for _ in 0..depth {
        text = around(spelling, phrase, &text)?;
    }
    Some(format!("SELECT {text} AS x FROM t"))
}

#[test]
fn no_phrase_inside_itself_grows_without_bound() {
    // All of them take minutes: others come up with each phrase that is added.
    let every: usize = std::env::var("INLAND_FERRY_EVERY").ok().and_then(|n| n.parse().ok()).unwrap_or(11);
    let mut turn = 0;
    let mut failures = Vec::new();
    for from in DialectName::ALL.map(Dialect::newest) {
        for (_, phrase) in phrases().filter(|(_, p)| p.kind != PhraseKind::Aggregate && p.kind != PhraseKind::Window) {
            let Some(spelling) = phrase.spellings(from.name).find(|s| s.contains(':')) else { continue };
            let (Some(half), Some(whole)) = (nested(spelling, phrase, 15), nested(spelling, phrase, 30)) else { continue };
            for to in DialectName::ALL.into_iter().filter(|d| *d != from.name).map(Dialect::newest) {
                turn += 1;
                if turn % every != 0 {
                    continue;
                }
                let length = |text: &str| {
                    let script = translate_text(text, &from, &to, &Catalog::default(), &Options::default());
                    script.statements[0].sql.as_ref().map_or(0, String::len)
                };
                let (short, long) = (length(&half), length(&whole));
                // What a template says once a level doubles with the levels, and no more.
                if long > 3 * short.max(half.len()) + 6000 {
                    failures.push(format!("{} from {from} to {to}: {short} at 15 levels, {long} at 30", phrase.id));
                }
            }
        }
    }
    assert!(failures.is_empty(), "{} of them\n{}", failures.len(), failures.join("\n"));
}
