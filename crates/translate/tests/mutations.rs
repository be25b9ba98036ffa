//! Strings with pieces missing, doubled and swapped: whatever comes in, nothing panics, nothing is
//! lost, and what is not refused reads again in the target.
#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

mod random;

use std::path::Path;

use meaning::{Catalog, Fidelity};
use syntax::{Dialect, DialectName, Statements, lex};
use translate::{Options, translate_text};

use random::Random;

/// The statements of the grammar's corpus.
fn corpus() -> Vec<(Dialect, String)> {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../syntax/tests/corpus");
    let mut cases = Vec::new();
    for dialect in DialectName::ALL {
        for stem in [dialect.as_str(), "every"] {
            let text = std::fs::read_to_string(folder.join(format!("{stem}.sql"))).expect("corpus");
            cases.extend(text.split("\n----\n").map(|c| (Dialect::newest(dialect), c.to_string())));
        }
    }
    cases
}

/// The text with one to three of its words gone, doubled or moved.
fn mutated(text: &str, dialect: &Dialect, random: &mut Random) -> String {
    let tokens = lex(text, dialect);
    let mut words: Vec<&str> = tokens.iter().map(|t| t.text(text)).filter(|t| !t.is_empty()).collect();
    for _ in 0..=random.below(3) {
        if words.is_empty() {
            break;
        }
        let (a, b) = (random.below(words.len()), random.below(words.len()));
        match random.below(4) {
            0 => drop(words.remove(a)),
            1 => words.insert(a, words[b]),
            2 => words.swap(a, b),
            // A word cut in the middle: quotes and comments left open.
            _ => words[a] = words[a].char_indices().nth(1).map_or("(", |(i, _)| &words[a][..i]),
        }
    }
    words.join(" ")
}

#[test]
fn mutated_texts_never_panic_and_lose_nothing() {
    let mut random = Random(0x5eed_9999);
    let mut failures = Vec::new();
    for (from, text) in corpus() {
        for round in 0..200 {
            let source = if round == 0 { text.clone() } else { mutated(&text, &from, &mut random) };
            let to = Dialect::newest(DialectName::ALL[random.below(9)]);
            let script = translate_text(&source, &from, &to, &Catalog::default(), &Options::default());
            for statement in &script.statements {
                let kept = &source[statement.place.start..statement.place.end];
                match &statement.sql {
                    None => {
                        let first = kept.trim().lines().next().unwrap_or("").trim();
                        assert!(script.text.contains(first), "{from} to {to} lost {kept:?}\n{}", script.text);
                    }
                    // A parameter the target has no form for is kept as written, with a note.
                    Some(_) if statement.notes.iter().any(|n| n.note.code == "variable.type") => {}
                    Some(sql) if from.name != to.name && statement.fidelity < Fidelity::Refused => {
                        let tokens = lex(sql, &to);
                        for parsed in Statements::new(sql, &tokens, &to) {
                            if let Err(error) = parsed.tree {
                                failures.push(format!("{from} to {to}\n{kept}\nbecame\n{sql}\n{error}"));
                            }
                        }
                    }
                    Some(_) => {}
                }
            }
        }
    }
    assert!(failures.is_empty(), "{} of them:\n{}", failures.len(), failures[..failures.len().min(8)].join("\n\n"));
}
