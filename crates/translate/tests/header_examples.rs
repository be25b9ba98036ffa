//! Every rewrite's header comment is a specification: its examples are run.

#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

use std::path::Path;

use meaning::Catalog;
use syntax::{Dialect, lex};
use translate::{Options, translate_text};

struct Example {
    file: String,
    from: String,
    to: String,
    before: String,
    after: String,
}

/// The `before FROM TO` and `after` blocks of all header comments.
fn examples() -> Vec<Example> {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("src/rewrite");
    let mut examples = Vec::new();
    for entry in std::fs::read_dir(folder).expect("rewrites") {
        let path = entry.expect("file").path();
        let text = std::fs::read_to_string(&path).expect("text");
        let header: Vec<&str> =
            text.lines().take_while(|l| l.starts_with("//!")).map(|l| l.trim_start_matches("//!").trim_start_matches(' ')).collect();
        let mut lines = header.into_iter();
        let mut pending: Option<(String, String, String)> = None;
        while let Some(line) = lines.next() {
            let Some(block) = line.strip_prefix("```sql ") else { continue };
            let body: Vec<&str> = lines.by_ref().take_while(|l| *l != "```").collect();
            let body = body.join("\n");
            let words: Vec<&str> = block.split(' ').collect();
            match (words.as_slice(), pending.take()) {
                (["before", from, to], _) => pending = Some((from.to_string(), to.to_string(), body)),
                (["after"], Some((from, to, before))) => {
                    let file = path.file_name().expect("name").to_string_lossy().to_string();
                    examples.push(Example { file, from, to, before, after: body });
                }
                _ => panic!("{}: a block is neither 'before FROM TO' nor its 'after'", path.display()),
            }
        }
    }
    examples
}

fn words(text: &str, dialect: &Dialect) -> String {
    let tokens = lex(text, dialect);
    tokens.iter().map(|t| t.text(text)).collect::<Vec<_>>().join(" ").trim().to_string()
}

#[test]
fn header_examples_hold() {
    let examples = examples();
    assert!(examples.len() >= 15, "{} examples found", examples.len());
    let mut failures = Vec::new();
    for example in examples {
        let from: Dialect = example.from.parse().expect("dialect");
        let to: Dialect = example.to.parse().expect("dialect");
        let script = translate_text(&example.before, &from, &to, &Catalog::default(), &Options::default());
        let got = words(&script.text, &to);
        let wanted = words(&example.after, &to);
        if got != wanted {
            failures.push(format!("{} {} to {}\n  wanted {wanted}\n  got    {got}", example.file, example.from, example.to));
        }
    }
    assert!(failures.is_empty(), "{}", failures.join("\n"));
}
