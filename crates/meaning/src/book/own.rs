//! Phrases of a user's own files, in the same format as ours.

use std::sync::OnceLock;

use syntax::{DialectName, Version};

use super::file::{self, DIALECTS, PhraseEntry, of, split_commas};
use super::template::Template;
use super::{Edge, PHRASES, Parameter, Phrase, PhraseKind, Say};

/// What is wrong with a file of phrases.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("{file}:{line}: {message}")]
pub struct BookError {
    /// The file's name.
    pub file: String,
    /// The line, from 1.
    pub line: usize,
    /// What is wrong, and what to do.
    pub message: String,
}

static OWN: OnceLock<Vec<Phrase>> = OnceLock::new();

/// The phrases that were added.
pub(super) fn phrases() -> &'static [Phrase] {
    OWN.get().map_or(&[], Vec::as_slice)
}

/// Adds the phrases of files, each with its name and text. To be called once, before anything is
/// translated; what comes later is not heard.
///
/// # Errors
/// A file that can't be read, and a phrase or spelling that is there already, with file and line.
pub fn add_phrases(files: &[(String, String)]) -> Result<(), BookError> {
    let mut all: Vec<Phrase> = Vec::new();
    for (name, text) in files {
        let wrong = |line: usize, message: String| BookError { file: name.clone(), line, message };
        let book = file::read(text).map_err(|e| wrong(e.line, e.message))?;
        if let Some(one) = book.types.first() {
            return Err(wrong(1, format!("the type {}: a file of one's own adds phrases, not types", one.id)));
        }
        for entry in &book.phrases {
            let line = file::line_of(text, &entry.span());
            let phrase = phrase(entry.get_ref()).map_err(|message| wrong(line, message))?;
            if let Some(twin) = PHRASES.iter().chain(&all).find(|p| p.id == phrase.id) {
                return Err(wrong(line, format!("there is a phrase {} already ({}); give yours another id", twin.id, twin.about)));
            }
            if let Some((dialect, spelling, other)) = clash(&phrase, &all) {
                let message = format!("{} says '{spelling}' in {dialect}, and so does {other}; one of them must go", phrase.id);
                return Err(wrong(line, message));
            }
            all.push(phrase);
        }
    }
    OWN.set(all).map_err(|_| BookError { file: String::new(), line: 0, message: "phrases were added before".into() })
}

/// A spelling that another of the user's phrases has too.
fn clash(phrase: &Phrase, others: &[Phrase]) -> Option<(&'static str, &'static str, &'static str)> {
    for dialect in DialectName::ALL {
        let spellings = |p: &Phrase| -> Vec<&'static str> {
            let said = p.say[dialect as usize].iter().map(|s| s.sql).filter(|s| !s.is_empty());
            said.chain(p.hear[dialect as usize].iter().copied()).collect()
        };
        for spelling in spellings(phrase) {
            if let Some(other) = others.iter().find(|o| spellings(o).contains(&spelling)) {
                return Some((dialect.as_str(), spelling, other.id));
            }
        }
    }
    None
}

/// Strings of a user's file live as long as the program.
fn kept(text: impl Into<String>) -> &'static str {
    Box::leak(text.into().into_boxed_str())
}

fn kept_all<T>(all: Vec<T>) -> &'static [T] {
    Box::leak(all.into_boxed_slice())
}

fn phrase(entry: &PhraseEntry) -> Result<Phrase, String> {
    let takes = entry.parameters().into_iter().map(|p| parameter(&entry.id, p)).collect::<Result<Vec<_>, _>>()?;
    let takes = kept_all(takes);
    let names: Vec<&str> = takes.iter().map(|t| t.name).collect();
    let edges = entry.edges.iter().enumerate().map(|(i, e)| edge(&entry.id, i + 1, e, &names)).collect::<Result<Vec<_>, _>>()?;
    let mut say: [&[Say]; DialectName::COUNT] = [&[]; DialectName::COUNT];
    for (said, dialect) in say.iter_mut().zip(DIALECTS) {
        *said = says(entry, dialect, &names)?;
    }
    let phrase = Phrase {
        id: kept(&*entry.id),
        kind: phrase_kind(&entry.kind),
        takes,
        gives: kept(&*entry.gives),
        about: kept(&*entry.about),
        strict: entry.nulls.is_none(),
        least: entry.least,
        volatile: entry.volatile,
        empties: entry.empties,
        full: kept_all(entry.full()),
        say,
        hear: DIALECTS.map(|d| kept_all(of(&entry.hear, d).into_iter().flatten().map(|s| kept(&**s)).collect())),
        edges: kept_all(edges),
    };
    for dialect in DialectName::ALL {
        let said = phrase.say[dialect as usize].iter().map(|s| s.sql).filter(|s| !s.is_empty());
        if let Some(sql) = said.chain(phrase.hear[dialect as usize].iter().copied()).find(|sql| Template::read(sql, dialect).is_none()) {
            return Err(format!("{}: this is no expression of {}: {sql}", phrase.id, dialect.title()));
        }
    }
    Ok(phrase)
}

fn phrase_kind(kind: &str) -> PhraseKind {
    match kind {
        "operator" => PhraseKind::Operator,
        "prefix" => PhraseKind::Prefix,
        "word" => PhraseKind::Word,
        "aggregate" => PhraseKind::Aggregate,
        "window" => PhraseKind::Window,
        _ => PhraseKind::Scalar,
    }
}

fn parameter(id: &str, given: file::Parameter) -> Result<Parameter, String> {
    let kind = given.argument().map_err(|why| format!("{id}: {why}"))?;
    Ok(Parameter { name: kept(given.name), kind, default: given.default.map(kept), repeated: given.repeated })
}

/// How a dialect says a phrase of these arguments, by the entries of a file.
fn says(entry: &PhraseEntry, dialect: &str, names: &[&str]) -> Result<&'static [Say], String> {
    let templates = of(&entry.say, dialect).map(file::SayEntry::templates).unwrap_or_default();
    let say = |template: &file::Template| {
        let guards = template.guards(names).map_err(|why| format!("{}: a template of {dialect} {why}", entry.id))?;
        Ok(Say {
            sql: kept(template.sql.as_deref().unwrap_or("")),
            refuse: template.refuse.as_deref().map(kept),
            case: template.case.as_deref().map(kept),
            guards: kept_all(guards),
            since: template.version().map(|(major, minor)| Version { major, minor }),
            exact: template.exact,
        })
    };
    Ok(kept_all(templates.iter().map(say).collect::<Result<_, String>>()?))
}

fn edge(id: &str, number: usize, entry: &file::EdgeEntry, names: &[&str]) -> Result<Edge, String> {
    let class = entry.class(names).map_err(|why| format!("{id}: edge {number} {why}"))?;
    Ok(Edge {
        when: kept(&*entry.when),
        class,
        about: kept(&*entry.about),
        code: entry.code.as_deref().map(kept),
        tried: kept_all(split_commas(&entry.tried).into_iter().map(kept).collect()),
        gives: kept(&*entry.gives),
        own: DIALECTS.map(|d| of(&entry.own, d).map(|v| kept(&**v))),
        older: kept_all(entry.older().into_iter().map(|(dialect, version, result)| (dialect, version, kept(result))).collect()),
    })
}
