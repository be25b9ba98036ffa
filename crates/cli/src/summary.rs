//! What a run says in the end: how many statements of each fidelity, and what to look at first.

use std::collections::BTreeMap;

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
    /// By fidelity and the note's code, then by the name of what it is about.
    by_name: BTreeMap<(Fidelity, &'static str), BTreeMap<String, usize>>,
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
            let mut settled: Vec<&'static str> = statement.notes.iter().filter(|p| p.note.settled).map(|p| p.note.code).collect();
            settled.sort_unstable();
            settled.dedup();
            settled.into_iter().for_each(|code| *self.settled.entry(code).or_default() += 1);
            let notes = statement.notes.iter().map(|placed| &placed.note).filter(|note| !is_beside(statement, note));
            let mut seen: Vec<(&'static str, &str)> = Vec::new();
            for note in notes {
                if seen.contains(&(note.code, &note.subject)) {
                    continue;
                }
                seen.push((note.code, &note.subject));
                let names = self.by_name.entry((note.fidelity, note.code)).or_default();
                match names.get_mut(note.subject.as_ref()) {
                    Some(count) => *count += 1,
                    None => drop(names.insert(note.subject.to_string(), 1)),
                }
            }
        }
    }

    /// Nothing for one statement without notes: there is nothing to say.
    pub(crate) fn show(&self, to: &[Dialect], each: bool) {
        if self.statements == 0 {
            eprintln!("no statement found");
            return;
        }
        if self.statements == 1 && self.by_name.is_empty() && self.settled.is_empty() {
            return;
        }
        let targets: Vec<String> = to.iter().map(ToString::to_string).collect();
        let fidelities: Vec<String> = self.by_fidelity.iter().map(|(f, n)| format!("{n} {f}")).collect();
        eprintln!("{} to {}: {}", show::count(self.statements, "statement"), targets.join(", "), fidelities.join(", "));
        for fidelity in [Fidelity::Unreadable, Fidelity::Refused, Fidelity::Differs, Fidelity::Assumes] {
            let of_it = self.by_name.iter().filter(|((own, _), _)| *own == fidelity);
            let names: Vec<Named<'_>> =
                of_it.flat_map(|((_, code), names)| names.iter().map(|(name, count)| (name.as_str(), *code, *count))).collect();
            show_names(fidelity, names, if each { usize::MAX } else { MOST });
        }
        for (code, count) in &self.settled {
            eprintln!("  {:10} {count:>5}   {code} (in {})", "settled", config::NAME);
        }
        if self.by_name.keys().any(|(_, code)| *code == UNKNOWN_TYPES) && !each {
            eprintln!("{UNKNOWN_TYPES}: the types of some columns matter and are not known; give the schema with --schema");
        }
    }
}

/// The name of what a note is about, the note's code, and how many statements have it.
type Named<'a> = (&'a str, &'static str, usize);

/// The names of one fidelity, most frequent first.
fn show_names(fidelity: Fidelity, mut names: Vec<Named<'_>>, most: usize) {
    names.sort_by_key(|(name, code, count)| (std::cmp::Reverse(*count), *name, *code));
    let width = names.iter().take(most).map(|(name, ..)| name.chars().count()).max().unwrap_or(0);
    for (at, (name, code, count)) in names.iter().take(most).enumerate() {
        let word = if at == 0 { fidelity_word(fidelity, 10) } else { " ".repeat(10) };
        let gap = if width > 0 { "   " } else { "" };
        eprintln!("  {word} {count:>5}   {name:width$}{gap}{code}");
    }
    if names.len() > most {
        let rest: usize = names.iter().skip(most).map(|(.., count)| count).sum();
        eprintln!("  {} {rest:>5}   of {} other kinds; --each lists all", " ".repeat(10), names.len() - most);
    }
}
