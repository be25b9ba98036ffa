//! What is checked: the queries of the input, each with its translation.

use std::path::Path;
use std::rc::Rc;

use check::Assumption;
use meaning::{Catalog, Fidelity};
use syntax::tree::StatementKind;
use syntax::{Dialect, Statements, lex};
use translate::{Probe, Script, StatementClass, Translated, translate_text};

use crate::arguments::CheckArguments;
use crate::input::{self, Input};
use crate::translate::options;
use crate::{Usage, show};

/// A query to check: the source's text, the target's if there is one.
pub(super) struct Query {
    /// The file it is in.
    pub(super) input: Rc<Input>,
    pub(super) line: usize,
    /// The text that is run: the statement, behind the variables declared before it.
    pub(super) source: String,
    /// Where the statement begins in it.
    pub(super) starts_at: usize,
    /// Where the statement begins in the file.
    pub(super) stands_at: usize,
    pub(super) target: Option<String>,
    /// None for a translation by another hand.
    pub(super) translation: Option<Translation>,
}

/// What our own translation says of itself.
pub(super) struct Translation {
    pub(super) fidelity: Fidelity,
    pub(super) notes: Vec<Note>,
    pub(super) assumptions: Vec<Assumption>,
    pub(super) refused: Option<String>,
}

/// A note of a translation.
pub(super) struct Note {
    pub(super) code: &'static str,
    pub(super) fidelity: Fidelity,
    pub(super) message: String,
    /// What finds the rows of the source's data that break it.
    pub(super) probe: Option<Probe>,
}

impl Query {
    /// As it is called in output: file and line.
    pub(super) fn id(&self) -> String {
        format!("{}:{}", self.input.name, self.line)
    }

    /// A place in the text that is run as one in the file; none among the variables before it.
    pub(super) fn in_file(&self, at: usize) -> Option<usize> {
        at.checked_sub(self.starts_at).map(|behind| self.stands_at + behind)
    }
}

/// Every query of the input, translated.
pub(super) fn translated(inputs: &[Rc<Input>], arguments: &CheckArguments, from: &Dialect, to: &Dialect, catalog: &Catalog) -> Vec<Query> {
    let mut queries = Vec::new();
    for input in inputs {
        let script = translate_text(&input.text, from, to, catalog, &options(&arguments.queries));
        queries.extend(script.statements.iter().filter_map(|s| query_of(s, &script, input, from)));
    }
    queries
}

/// Queries are compared by their rows, changes of data by the tables afterwards; statements that
/// could not be read are reported.
pub(crate) fn is_checked(statement: &Translated) -> bool {
    matches!(statement.class, StatementClass::Query | StatementClass::Change | StatementClass::Unreadable)
}

/// The statement with the variables declared before it, as its engine needs it.
pub(crate) fn with_variables(statement: &Translated, script: &Script, text: &str) -> String {
    let place = |s: &Translated| text.get(s.place.start..s.place.end).unwrap_or("").to_string();
    let before = script.statements.iter().filter(|s| s.class == StatementClass::Variable && s.place.start < statement.place.start);
    let mut parts: Vec<String> = before.map(place).collect();
    parts.push(place(statement));
    parts.join(";\n")
}

fn query_of(statement: &Translated, script: &Script, input: &Rc<Input>, from: &Dialect) -> Option<Query> {
    if !is_checked(statement) {
        return None;
    }
    let refused = statement.notes.iter().find(|n| n.note.fidelity >= Fidelity::Refused).map(|n| n.note.message.to_string());
    let note = |n: &translate::PlacedNote| Note {
        code: n.note.code,
        fidelity: n.note.fidelity,
        message: n.note.message.to_string(),
        probe: statement.probe(&input.text, from, n),
    };
    let source = with_variables(statement, script, &input.text);
    let starts_at = source.len() - (statement.place.end - statement.place.start);
    Some(Query {
        input: Rc::clone(input),
        line: statement.line,
        target: statement.sql.clone(),
        starts_at,
        stands_at: statement.place.start,
        translation: Some(Translation {
            fidelity: statement.fidelity,
            notes: statement.notes.iter().map(note).collect(),
            assumptions: Assumption::of(statement, starts_at),
            refused,
        }),
        source,
    })
}

/// The statements of a translation by another hand, one for one.
pub(super) fn paired(inputs: &[Rc<Input>], against: &Path, from: &Dialect, to: &Dialect) -> Result<Vec<Query>, Usage> {
    let [input] = inputs else { return Err(Usage::new("--against takes one source file")) };
    let other = input::read_all(&[against.to_path_buf()])?;
    let ours = queries_in(&input.text, from);
    let theirs = queries_in(&other[0].text, to);
    if ours.len() != theirs.len() {
        let queries = |n| show::count(n, "query");
        return Err(Usage::new(format!(
            "{} has {}, {} has {}: they must be translations of each other, one for one",
            input.name,
            queries(ours.len()),
            against.display(),
            queries(theirs.len()),
        )));
    }
    let query = |(start, source): (usize, String), (_, target)| Query {
        input: Rc::clone(input),
        line: input.text[..start].matches('\n').count() + 1,
        source,
        starts_at: 0,
        stands_at: start,
        target: Some(target),
        translation: None,
    };
    Ok(ours.into_iter().zip(theirs).map(|(ours, theirs)| query(ours, theirs)).collect())
}

/// The queries and changes of a script and where they begin.
fn queries_in(text: &str, dialect: &Dialect) -> Vec<(usize, String)> {
    let tokens = lex(text, dialect);
    Statements::new(text, &tokens, dialect)
        .filter(|p| match &p.tree {
            Ok(tree) => matches!(tree.kind, StatementKind::Query(_)) || tree.kind.is_data_change(),
            Err(_) => true,
        })
        .map(|p| {
            let start = tokens[p.span.first as usize].start as usize;
            let end = tokens[(p.span.end as usize).saturating_sub(1)].end as usize;
            (start, text[start..end].to_string())
        })
        .collect()
}
