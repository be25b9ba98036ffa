//! The notes of translations on the terminal.

use std::collections::HashMap;

use meaning::Fidelity;
use translate::{PlacedNote, Script, Translated, UNKNOWN_TYPES};

use crate::diagnose::{Finding, Kind, Lines, render};
use crate::input::Input;

/// Whether a note is left out of output and summary: one that is settled, an exact one, or one of a refused statement
/// that isn't why.
pub(crate) fn is_beside(statement: &Translated, note: &meaning::Note) -> bool {
    note.settled || note.fidelity == Fidelity::Exact || (statement.sql.is_none() && note.fidelity < Fidelity::Refused)
}

/// How many lines are named where the same note applies again.
const MOST_LINES: usize = 12;

/// The notes of a file in the order of the source: the same one once, with where else it applies. `each` shows all
/// of them, `detail` the parts of the source they are about.
pub(crate) fn show_notes(input: &Input, script: &Script, each: bool, detail: bool) {
    let places = Lines::of(&input.text);
    let mut folded: Vec<(&PlacedNote, Vec<usize>)> = Vec::new();
    // Where in `folded` a note is, by its code and message.
    let mut known: HashMap<(&str, &str), usize> = HashMap::new();
    for statement in &script.statements {
        for placed in &statement.notes {
            // The summary tells of unknown types, once a run.
            if (is_beside(statement, &placed.note) || placed.note.code == UNKNOWN_TYPES) && !each {
                continue;
            }
            match known.get(&(placed.note.code, &*placed.note.message)) {
                Some(at) if !each => folded[*at].1.push(places.line(placed.place.start)),
                _ => {
                    known.insert((placed.note.code, &*placed.note.message), folded.len());
                    folded.push((placed, Vec::new()));
                }
            }
        }
    }
    folded.sort_by_key(|(placed, _)| placed.place.start);
    let findings: Vec<Finding<'_>> = folded.into_iter().map(|(placed, lines)| finding(input, &places, placed, lines, detail)).collect();
    let width = findings.iter().map(Finding::place_width).max().unwrap_or(0);
    findings.iter().for_each(|finding| eprintln!("{}", render(finding, width)));
    if !findings.is_empty() {
        eprintln!();
    }
}

fn finding<'a>(input: &'a Input, places: &Lines<'_>, placed: &'a PlacedNote, mut lines: Vec<usize>, detail: bool) -> Finding<'a> {
    let at = places.place(placed.place.start);
    lines.sort_unstable();
    lines.dedup();
    lines.retain(|line| *line != at.0);
    let elsewhere = (!lines.is_empty()).then(|| {
        let shown: Vec<String> = lines.iter().take(MOST_LINES).map(ToString::to_string).collect();
        let more = if lines.len() > MOST_LINES { format!(" and {} more", lines.len() - MOST_LINES) } else { String::new() };
        format!("and at line{} {}{more}", if lines.len() > 1 { "s" } else { "" }, shown.join(", "))
    });
    let note = &placed.note;
    Finding {
        file: &input.name,
        source: &input.text,
        start: placed.place.start,
        end: placed.place.end,
        at,
        kind: Kind::Fidelity(note.fidelity),
        code: note.code,
        message: &note.message,
        advice: note.advice.as_deref(),
        elsewhere,
        excerpt: detail,
    }
}
