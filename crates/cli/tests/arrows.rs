//! The crates depend on each other only as the architecture says.
#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

use std::collections::{BTreeMap, BTreeSet};
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

/// Files and folders of one folder that use each other in a circle, and are to be parted.
const CIRCLES: &[(&str, &str)] = &[
    (
        "standin",
        "aggregate arithmetic convert execute function gathered mask observe plan sqlite_value statistics store table_function window",
    ),
    ("standin/compile", "from hierarchy join select"),
];

/// Within a crate a file, or a folder as a whole, uses what is beside it in one direction.
#[test]
fn files_use_each_other_in_one_direction() {
    let mut found = Vec::new();
    for (name, _) in ARROWS {
        let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("..").join(name).join("src");
        let modules = modules_of(&root);
        let mut arrows: BTreeMap<Vec<String>, BTreeSet<(String, String)>> = BTreeMap::new();
        for (module, text) in &modules {
            for used in used_by(module, text, &modules) {
                let common = module.iter().zip(&used).take_while(|(a, b)| a == b).count();
                if let (Some(a), Some(b)) = (module.get(common), used.get(common)) {
                    arrows.entry(module[..common].to_vec()).or_default().insert((a.clone(), b.clone()));
                }
            }
        }
        for (folder, arrows) in arrows {
            let place = std::iter::once((*name).to_string()).chain(folder).collect::<Vec<_>>().join("/");
            found.extend(circles(&arrows).into_iter().map(|circle| (place.clone(), circle.join(" "))));
        }
    }
    let known: Vec<(String, String)> = CIRCLES.iter().map(|(place, circle)| ((*place).to_string(), (*circle).to_string())).collect();
    assert_eq!(found, known, "left: the circles there are, right: those that are known");
}

/// The path of each module and its text, without comments and tests.
fn modules_of(root: &Path) -> BTreeMap<Vec<String>, String> {
    let mut modules = BTreeMap::new();
    let mut folders = vec![(root.to_path_buf(), Vec::new())];
    while let Some((folder, path)) = folders.pop() {
        for entry in std::fs::read_dir(folder).expect("sources").flatten().map(|e| e.path()) {
            let name = entry.file_stem().expect("a name").to_string_lossy().to_string();
            let own: Vec<String> = path.iter().cloned().chain([name.clone()]).collect();
            if entry.is_dir() {
                folders.push((entry, own));
            } else if entry.extension().is_some_and(|e| e == "rs") {
                let text = std::fs::read_to_string(&entry).expect("source");
                let code = text.split("#[cfg(test)]").next().unwrap_or("");
                let code: String = code.lines().map(|line| line.split("//").next().unwrap_or("").to_string() + "\n").collect();
                let is_own = !["mod", "lib", "main"].contains(&name.as_str());
                modules.insert(if is_own { own } else { path.clone() }, code);
            }
        }
    }
    modules
}

/// The modules that a module names from `crate::` or `super::` on.
fn used_by(module: &[String], text: &str, modules: &BTreeMap<Vec<String>, String>) -> Vec<Vec<String>> {
    let mut used = Vec::new();
    for word in ["crate::", "super::"] {
        for (at, _) in text.match_indices(word) {
            let is_part = text[..at].ends_with(|c: char| c.is_alphanumeric() || c == '_' || c == ':');
            let mut base = if word == "crate::" { Vec::new() } else { module[..module.len().saturating_sub(1)].to_vec() };
            let mut rest = &text[at + word.len()..];
            while let Some(further) = rest.strip_prefix("super::") {
                base.pop();
                rest = further;
            }
            if !is_part {
                paths(rest, &base, &mut used);
            }
        }
    }
    let known = |path: Vec<String>| (0..=path.len()).rev().map(|end| path[..end].to_vec()).find(|path| modules.contains_key(path));
    used.into_iter().filter_map(known).filter(|path| path != module).collect()
}

/// The paths that begin a text: `a::b`, `{a, b::{c, d}}`. Returns what follows them.
fn paths<'t>(text: &'t str, base: &[String], out: &mut Vec<Vec<String>>) -> &'t str {
    let mut rest = text.trim_start();
    if let Some(mut inner) = rest.strip_prefix('{') {
        while !inner.is_empty() && !inner.starts_with('}') {
            inner = paths(inner, base, out);
            inner = inner.find([',', '}']).map_or("", |at| inner[at..].trim_start_matches(',').trim_start());
        }
        return inner.get(1..).unwrap_or("");
    }
    let end = rest.find(|c: char| !c.is_alphanumeric() && c != '_').unwrap_or(rest.len());
    let path: Vec<String> = base.iter().cloned().chain([rest[..end].to_string()]).collect();
    rest = &rest[end..];
    match rest.strip_prefix("::") {
        Some(further) => paths(further, &path, out),
        None => {
            out.push(path);
            rest
        }
    }
}

/// The names that reach each other by arrows, of each circle in order.
fn circles(arrows: &BTreeSet<(String, String)>) -> Vec<Vec<String>> {
    let names: BTreeSet<&String> = arrows.iter().flat_map(|(a, b)| [a, b]).collect();
    let mut circles: Vec<Vec<String>> = Vec::new();
    for name in names {
        let is_new = !circles.iter().any(|circle| circle.contains(name));
        let there = reached(name, arrows);
        let circle: Vec<String> = there.iter().filter(|other| reached(other, arrows).contains(name)).cloned().collect();
        if is_new && circle.len() > 1 {
            circles.push(circle);
        }
    }
    circles
}

/// The names that arrows lead to from one.
fn reached(from: &str, arrows: &BTreeSet<(String, String)>) -> BTreeSet<String> {
    let mut seen = BTreeSet::new();
    let mut next = vec![from.to_string()];
    while let Some(one) = next.pop() {
        let further = arrows.iter().filter(|(a, _)| *a == one).map(|(_, b)| b.clone());
        next.extend(further.filter(|b| seen.insert(b.clone())));
    }
    seen
}
