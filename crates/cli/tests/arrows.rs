//! The crates depend on each other only as the architecture says.
#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

use std::path::Path;

const ARROWS: &[(&str, &[&str])] = &[
    ("syntax", &[]),
    ("values", &[]),
    ("meaning", &["syntax", "values"]),
    ("translate", &["syntax", "values", "meaning"]),
    ("standin", &["syntax", "values"]),
    ("engines", &["syntax", "values", "meaning", "standin"]),
    ("check", &["syntax", "values", "meaning", "translate", "engines", "standin"]),
    ("cli", &["syntax", "values", "meaning", "translate", "standin", "engines", "check"]),
];

#[test]
fn crate_arrows_hold() {
    let crates = Path::new(env!("CARGO_MANIFEST_DIR")).join("..");
    let names: Vec<&str> = ARROWS.iter().map(|(name, _)| *name).collect();
    for (name, allowed) in ARROWS {
        let manifest = std::fs::read_to_string(crates.join(name).join("Cargo.toml")).expect("manifest");
        let table: Vec<&str> = manifest
            .split("[dependencies]")
            .nth(1)
            .map(|t| t.lines().skip(1).take_while(|l| !l.starts_with('[')).collect())
            .unwrap_or_default();
        for line in table {
            let dependency = line.split(['.', ' ', '=']).next().unwrap_or("");
            assert!(!names.contains(&dependency) || allowed.contains(&dependency), "{name} must not depend on {dependency}");
        }
    }
}

/// A phrase is named by its constant: a misspelt literal would be another phrase.
#[test]
fn no_phrase_is_named_by_a_literal() {
    let sources = Path::new(env!("CARGO_MANIFEST_DIR")).join("../translate/src");
    let mut folders = vec![sources];
    while let Some(folder) = folders.pop() {
        for entry in std::fs::read_dir(folder).expect("sources").flatten().map(|e| e.path()) {
            if entry.is_dir() {
                folders.push(entry);
                continue;
            }
            let text = std::fs::read_to_string(&entry).expect("source");
            for made in ["call(\"", "operation(\"", "phrase_named(\"", "said(\""] {
                // `Expr::call("TRIM", ..)` is a call by its name, as a dialect spells it.
                let is_other = |before: &str| before.ends_with("::") || before.ends_with(|c: char| c.is_alphanumeric() || c == '_');
                let literal = text.match_indices(made).any(|(at, _)| !is_other(&text[..at]));
                assert!(!literal, "{}: {made}..", entry.display());
            }
        }
    }
}
