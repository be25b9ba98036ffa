//! What a run says in the end: how many statements of each fidelity, and what to look at first.

use std::collections::{BTreeMap, BTreeSet};

use meaning::Fidelity;
use syntax::Dialect;
use translate::{Script, UNKNOWN_TYPES};

use crate::diagnose::fidelity_word;
use crate::notes::is_beside;
use crate::{config, show};

/// Counts of statements.
#[derive(Default)]
pub(crate) struct Summary {
    statements: usize,
    by_fidelity: BTreeMap<Fidelity, usize>,
    /// Of each fidelity, by the name of what it is about and the note's code.
    by_name: BTreeMap<Fidelity, BTreeMap<(String, &'static str), usize>>,
    notes: usize,
    /// Statements with notes that the configuration settles, by code.
    settled: BTreeMap<&'static str, usize>,
}

/// Lines shown of each fidelity.
const MOST: usize = 10;

impl Summary {
    pub(crate) fn add(&mut self, script: &Script) {
        for statement in &script.statements {
            self.statements += 1;
            *self.by_fidelity.entry(statement.fidelity).or_default() += 1;
            let settled: BTreeSet<_> = statement.notes.iter().filter(|placed| placed.note.settled).map(|placed| placed.note.code).collect();
            for code in settled {
                *self.settled.entry(code).or_default() += 1;
            }
            let notes = statement.notes.iter().map(|placed| &placed.note).filter(|note| !is_beside(statement, note));
            let names: BTreeSet<_> = notes.map(|note| (note.fidelity, note.subject.to_string(), note.code)).collect();
            self.notes += names.len();
            for (fidelity, name, code) in names {
                *self.by_name.entry(fidelity).or_default().entry((name, code)).or_default() += 1;
            }
        }
    }

    /// Nothing for one statement without notes: there is nothing to say.
    pub(crate) fn show(&self, to: &[Dialect], each: bool) {
        if self.statements == 0 {
            eprintln!("no statement found");
            return;
        }
        if self.statements == 1 && self.notes == 0 && self.settled.is_empty() {
            return;
        }
        let targets: Vec<String> = to.iter().map(ToString::to_string).collect();
        let fidelities: Vec<String> = self.by_fidelity.iter().map(|(f, n)| format!("{n} {f}")).collect();
        eprintln!("{} to {}: {}", show::count(self.statements, "statement"), targets.join(", "), fidelities.join(", "));
        for (fidelity, names) in self.by_name.iter().rev() {
            show_names(*fidelity, names, if each { usize::MAX } else { MOST });
        }
        for (code, count) in &self.settled {
            eprintln!("  {:10} {count:>5}   {code} (in {})", "settled", config::NAME);
        }
        if self.by_name.values().any(|names| names.keys().any(|(_, code)| *code == UNKNOWN_TYPES)) && !each {
            eprintln!("{UNKNOWN_TYPES}: the types of some columns matter and are not known; give the schema with --schema");
        }
    }
}

/// The names of one fidelity, most frequent first.
fn show_names(fidelity: Fidelity, names: &BTreeMap<(String, &'static str), usize>, most: usize) {
    let mut names: Vec<_> = names.iter().collect();
    names.sort_by_key(|(name, count)| (std::cmp::Reverse(**count), *name));
    let width = names.iter().take(most).map(|((name, _), _)| name.chars().count()).max().unwrap_or(0);
    for (at, ((name, code), count)) in names.iter().take(most).enumerate() {
        let word = if at == 0 { fidelity_word(fidelity, 10) } else { " ".repeat(10) };
        let gap = if width > 0 { "   " } else { "" };
        eprintln!("  {word} {count:>5}   {name:width$}{gap}{code}");
    }
    if names.len() > most {
        let rest: usize = names.iter().skip(most).map(|(_, count)| **count).sum();
        eprintln!("  {} {rest:>5}   of {} other kinds; --each lists all", " ".repeat(10), names.len() - most);
    }
}
