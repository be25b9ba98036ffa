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
