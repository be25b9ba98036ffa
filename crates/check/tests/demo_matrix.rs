//! Every query of the demo to every dialect, and from there to every other: read again by the
//! target's grammar, run on stand-ins and SQLite, compared with what it came from.

#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

mod demo;
mod stand_ins;

use check::{Assumption, Pair, Settings, VerdictKind};
use demo::{data, queries};
use engines::Dataset;
use meaning::{Breach, Catalog};
use stand_ins::assumed;
use syntax::{Dialect, DialectName};
use translate::{Options, translate_text};

struct Tried<'a> {
    from: &'a Dialect,
    source: &'a str,
    catalog: &'a Catalog,
    data: &'a Dataset,
}

impl Tried<'_> {
    /// What speaks against a translation; `None` where it agrees.
    fn objection(&self, target: &str, assumptions: &[Assumption], to: &Dialect, trials: usize) -> Option<String> {
        if let Some(error) = stand_ins::error_in(target, to) {
            return Some(format!("does not read again: {error}"));
        }
        let settings = Settings { trials, examples: false, ..Settings::default() };
        let pair = Pair { source: self.source, from: self.from, target, to, assumptions: Some(assumptions) };
        let verdict = stand_ins::verdict(pair, to, Some(self.data), &self.catalog.schema, &settings);
        match verdict.kind {
            VerdictKind::Agree => None,
            kind => Some(format!("{} ({})", kind.as_str(), verdict.reason.unwrap_or_default())),
        }
    }
}

#[test]
fn each_demo_query_to_all_dialects_and_on_from_there() {
    let mut failures = Vec::new();
    let (mut first, mut second) = (0, 0);
    for from in ["oracle", "sqlserver", "mysql", "postgres"].map(|n| n.parse::<Dialect>().expect("dialect")) {
        let (catalog, data) = data(&from);
        for (file, source) in queries(&from) {
            let tried = Tried { from: &from, source: &source, catalog: &catalog, data: &data };
            for to in DialectName::ALL.into_iter().filter(|t| *t != from.name).map(Dialect::newest) {
                let script = translate_text(&source, &from, &to, &catalog, &Options::default());
                let Some(sql) = &script.statements[0].sql else {
                    let why: Vec<&str> = script.statements[0].notes.iter().map(|n| n.note.message.as_ref()).collect();
                    failures.push(format!("{from} {file} to {to} is refused: {}", why.join("; ")));
                    continue;
                };
                first += 1;
                let assumptions = assumed(&script.statements[0]);
                if let Some(why) = tried.objection(sql, &assumptions, &to, 8) {
                    failures.push(format!("{from} {file} to {to}: {why}\n{sql}"));
                    continue;
                }
                for next in DialectName::ALL.into_iter().filter(|t| *t != to.name).map(Dialect::newest) {
                    let again = translate_text(sql, &to, &next, &Catalog::default(), &Options::default());
                    let statement = &again.statements[0];
                    let Some(again) = &statement.sql else { continue };
                    second += 1;
                    // Places in the text between are none in the first.
                    let further = assumed(statement).into_iter().filter(|a| !matches!(a.breach, Some(Breach::Value(..))));
                    let both: Vec<Assumption> = assumptions.iter().cloned().chain(further).collect();
                    if let Some(why) = tried.objection(again, &both, &next, 3) {
                        failures.push(format!("{from} {file} to {to} to {next}: {why}\n{sql}\n{again}"));
                    }
                }
            }
        }
    }
    println!("{first} translations, {second} of their translations");
    assert!(failures.is_empty(), "{} failures:\n{}", failures.len(), failures.join("\n\n"));
}
