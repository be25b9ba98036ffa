//! A bank of wrong and right translations, `bank/*.toml`: how many of the wrong ones the checker
//! catches with default settings on the stand-ins, and whether it leaves the right ones in peace.
//!
//! `cargo test --release -p inland-ferry-check --test bank -- --ignored --nocapture` prints the rates
//! by kind. `INLAND_FERRY_ROUNDS` sets how many seeds each pair is checked with, `INLAND_FERRY_SEED`
//! the first.

#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

mod demo;
mod stand_ins;

use std::path::Path;

use check::{Pair, Settings, Verdict, VerdictKind};
use meaning::Catalog;
use serde::Deserialize;
use stand_ins::{error_in, number};
use syntax::{Dialect, DialectName};
use values::Schema;

/// A file of the bank.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Kind {
    kind: String,
    /// Other tables than the demo's.
    schema: Option<String>,
    pair: Vec<Written>,
}

impl Kind {
    fn schema(&self) -> Schema {
        let postgres = DialectName::Postgres.into();
        match &self.schema {
            Some(ddl) => Catalog::from_ddl(ddl, &postgres).expect("schema").schema,
            None => demo::data(&postgres).0.schema,
        }
    }
}

/// A query and what somebody made of it.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Written {
    from: String,
    to: String,
    source: String,
    target: String,
    /// What is wrong; nothing is where it is absent.
    mistake: Option<String>,
    /// The part of the source that was translated wrongly.
    part: Option<String>,
}

impl Written {
    fn verdict(&self, schema: &Schema, seed: u64) -> Verdict {
        let (from, to) = (dialect(&self.from), dialect(&self.to));
        let pair = Pair { source: &self.source, from: &from, target: &self.target, to: &to, assumptions: None };
        stand_ins::verdict(pair, &to, None, schema, &Settings { seed, ..Settings::default() })
    }

    /// The part that the verdict names is the mistake, or little more.
    fn is_named(&self, verdict: &Verdict) -> bool {
        let (Some(part), Some(named)) = (&self.part, &verdict.part) else { return false };
        part.contains(&named.text) || (named.text.contains(part.as_str()) && named.text.len() <= 2 * part.len() + 16)
    }

    fn reported(&self, seed: u64, verdict: &Verdict) -> String {
        let why = verdict.reason.as_deref().unwrap_or_default();
        let mistake = self.mistake.as_deref().unwrap_or("right");
        let part = verdict.part.as_ref().map_or("", |p| p.text.as_str());
        format!(
            "{} to {}, seed {seed}: {} {why} [{part}]\n  {}\n  {}\n  {mistake}",
            self.from,
            self.to,
            verdict.kind.as_str(),
            self.source,
            self.target
        )
    }
}

fn dialect(name: &str) -> Dialect {
    name.parse().expect("dialect")
}

fn bank() -> Vec<Kind> {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("bank");
    let mut paths: Vec<_> = std::fs::read_dir(folder).expect("bank").map(|e| e.expect("file").path()).collect();
    paths.sort();
    let read = |path| toml::from_str(&std::fs::read_to_string(path).expect("text")).expect("a kind");
    paths.iter().map(read).collect()
}

#[test]
fn the_bank_reads() {
    let mut faults = Vec::new();
    for pair in bank().iter().flat_map(|k| &k.pair) {
        for (sql, dialect) in [(&pair.source, dialect(&pair.from)), (&pair.target, dialect(&pair.to))] {
            faults.extend(error_in(sql, &dialect).map(|e| format!("{sql}\n  {e}")));
        }
        if pair.mistake.is_some() != pair.part.as_ref().is_some_and(|p| pair.source.contains(p.as_str())) {
            faults.push(format!("{}\n  a mistake and the part it is in go together", pair.source));
        }
    }
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}

/// A mistake of every kind, six times over: each is caught, shown on few rows, and its part is named.
#[test]
fn a_sample_of_mistakes_is_caught_and_named() {
    let mut faults = Vec::new();
    for kind in bank() {
        let schema = kind.schema();
        // Limits of three rows and more can't show on fewer.
        let most = match kind.kind.as_str() {
            "limits" => 8,
            // Joins of three tables want a row of each, and one more.
            "hierarchies" => 4,
            _ => 3,
        };
        let wrong: Vec<&Written> = kind.pair.iter().filter(|p| p.mistake.is_some()).collect();
        for pair in wrong.iter().step_by(wrong.len().div_ceil(6)) {
            let verdict = pair.verdict(&schema, 1);
            let rows: usize = verdict.counterexample.iter().flat_map(|c| &c.tables).map(|(_, rows)| rows.len()).sum();
            if verdict.kind != VerdictKind::Differ || rows > most || verdict.part.is_none() {
                faults.push(format!("{} rows: {}", rows, pair.reported(1, &verdict)));
            }
        }
    }
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}

#[test]
#[ignore = "minutes; prints rates"]
fn mistakes_are_caught_and_right_ones_left_in_peace() {
    let (rounds, first) = (number("INLAND_FERRY_ROUNDS", 1), number("INLAND_FERRY_SEED", 1));
    let (mut missed, mut blamed, mut unnamed, mut wrong) = (Vec::new(), Vec::new(), Vec::new(), 0);
    for kind in bank() {
        let schema = kind.schema();
        let (mut caught, mut tried, mut small, mut named) = (0, 0, 0, 0);
        for pair in &kind.pair {
            for seed in first..first + rounds {
                let verdict = pair.verdict(&schema, seed);
                let differs = verdict.kind == VerdictKind::Differ;
                if pair.mistake.is_none() {
                    if verdict.kind != VerdictKind::Agree {
                        blamed.push(pair.reported(seed, &verdict));
                    }
                    continue;
                }
                tried += 1;
                caught += usize::from(differs);
                let rows = verdict.counterexample.as_ref().map(|c| c.tables.iter().map(|(_, rows)| rows.len()).sum::<usize>());
                small += usize::from(rows.is_some_and(|n| n <= 3));
                named += usize::from(pair.is_named(&verdict));
                if differs && !pair.is_named(&verdict) {
                    unnamed.push(pair.reported(seed, &verdict));
                }
                if !differs {
                    missed.push(pair.reported(seed, &verdict));
                }
            }
        }
        wrong += tried;
        println!("{:8} {caught} of {tried} mistakes caught, {small} of them on three rows or fewer, the part named in {named}", kind.kind);
    }
    println!("missed:\n{}\nthe part isn't named of\n{}", missed.join("\n"), unnamed.join("\n"));
    let (missed_of, text) = (missed.len(), [missed, blamed.clone()].concat().join("\n"));
    assert!(missed_of * 100 <= wrong * 3 && blamed.is_empty(), "{missed_of} missed, {} right ones blamed:\n{text}", blamed.len());
}
