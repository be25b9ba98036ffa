//! A file of the phrasebook as it is in TOML.
//!
//! The build script reads the book's own files with this, the program those of a user.

use std::collections::BTreeMap;
use std::ops::Range;

use serde::Deserialize;
use toml::Spanned;

use super::DialectName;
use super::when::{ArgumentKind, Guard, ValueClass};

/// The dialects in the order of every table of the book.
pub const DIALECTS: [&str; DialectName::COUNT] = {
    let mut names = [""; DialectName::COUNT];
    let mut at = 0;
    while at < names.len() {
        names[at] = DialectName::ALL[at].as_str();
        at += 1;
    }
    names
};

/// The kinds of phrases.
pub const KINDS: [&str; 6] = ["operator", "prefix", "scalar", "word", "aggregate", "window"];

/// All of a file.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct BookFile {
    /// Its phrases.
    #[serde(default, rename = "phrase")]
    pub phrases: Vec<Spanned<PhraseEntry>>,
    /// Its types.
    #[serde(default, rename = "type")]
    pub types: Vec<TypeEntry>,
}

/// One phrase.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct PhraseEntry {
    pub id: String,
    pub kind: String,
    #[serde(default)]
    pub takes: String,
    pub gives: String,
    pub about: String,
    /// `own` where NULL in an argument doesn't simply give NULL.
    #[serde(default)]
    pub nulls: Option<String>,
    /// The least number it can give.
    #[serde(default)]
    pub least: Option<i64>,
    /// Each call can give another value.
    #[serde(default)]
    pub volatile: bool,
    /// It can give an empty text though no argument is one.
    #[serde(default)]
    pub empties: bool,
    /// It can't give an empty text where these hold: `":start = 1"`, `":count >= 1"`.
    #[serde(default)]
    pub full: Vec<String>,
    pub say: BTreeMap<String, SayEntry>,
    #[serde(default)]
    pub hear: BTreeMap<String, Vec<String>>,
    #[serde(default)]
    pub edges: Vec<EdgeEntry>,
}

/// How one dialect says it.
#[derive(Debug, Clone, Deserialize)]
#[serde(untagged)]
pub enum SayEntry {
    Sql(String),
    One(Template),
    Several(Vec<Template>),
}

impl SayEntry {
    /// The templates, in the order they are tried.
    pub fn templates(&self) -> Vec<Template> {
        match self {
            SayEntry::Sql(sql) => vec![Template { sql: Some(sql.clone()), ..Template::default() }],
            SayEntry::One(one) => vec![one.clone()],
            SayEntry::Several(all) => all.clone(),
        }
    }
}

/// A template and where it holds.
#[derive(Debug, Clone, Default, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Template {
    #[serde(default)]
    pub sql: Option<String>,
    /// Why there is none.
    #[serde(default)]
    pub refuse: Option<String>,
    /// The form of the CASE that says it, put together by code.
    #[serde(default)]
    pub case: Option<String>,
    /// What must be known of the arguments.
    #[serde(default)]
    pub when: Option<String>,
    /// The first version that has it.
    #[serde(default)]
    pub since: Option<String>,
    /// It gives what the phrase gives, whatever the dialect's own word does.
    #[serde(default)]
    pub exact: bool,
}

impl Template {
    /// What must be known of arguments, by their places among these names; or what is wrong with it.
    pub fn guards(&self, names: &[&str]) -> Result<Vec<(usize, Guard)>, String> {
        let when = self.when.as_deref().unwrap_or("");
        Guard::read(when, names).ok_or_else(|| unknown_form(when))
    }

    /// The numbers of its version.
    pub fn version(&self) -> Option<(u16, u16)> {
        let mut numbers = self.since.as_deref()?.split('.').map(|n| n.parse().unwrap_or(0));
        Some((numbers.next().unwrap_or(0), numbers.next().unwrap_or(0)))
    }
}

/// An example, and where dialects differ on it.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct EdgeEntry {
    /// The class of inputs.
    #[serde(default)]
    pub when: String,
    /// The same in words.
    #[serde(default)]
    pub about: String,
    /// The code of the note, where it isn't the phrase's own.
    #[serde(default)]
    pub code: Option<String>,
    /// The arguments, in order.
    #[serde(rename = "try")]
    pub tried: String,
    pub gives: String,
    #[serde(default)]
    pub own: BTreeMap<String, String>,
}

impl EdgeEntry {
    /// The place among these names of the argument it is about, and the class; none for an ordinary
    /// example. Or what is wrong with it.
    pub fn class(&self, names: &[&str]) -> Result<Option<(usize, ValueClass)>, String> {
        match ValueClass::read(&self.when, names) {
            None if !self.when.is_empty() => Err(unknown_form(&self.when)),
            class => Ok(class),
        }
    }

    /// What versions before one give: `own = { "duckdb<2" = ".." }`. The dialect's place, the version,
    /// the result.
    pub fn older(&self) -> Vec<(usize, u16, String)> {
        let read = |(key, result): (&String, &String)| {
            let (name, version) = key.split_once('<')?;
            Some((DIALECTS.iter().position(|d| names(name, d))?, version.parse().ok()?, result.clone()))
        };
        self.own.iter().filter_map(read).collect()
    }
}

fn unknown_form(when: &str) -> String {
    format!("has a 'when' of no known form: {when}")
}

/// The words of a type.
#[allow(dead_code)] // Only the build script reads what types say.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct TypeEntry {
    pub id: String,
    pub say: BTreeMap<String, String>,
    #[serde(default)]
    pub cast: BTreeMap<String, String>,
    #[serde(default)]
    pub hear: String,
}

/// What is wrong with a file, and where.
#[derive(Debug)]
pub struct FileError {
    pub line: usize,
    pub message: String,
}

/// Reads a file and checks what can be checked by it alone.
pub fn read(text: &str) -> Result<BookFile, FileError> {
    let file: BookFile = toml::from_str(text).map_err(|e| FileError {
        line: e.span().map_or(1, |s| line_of(text, &s)),
        message: e.message().lines().collect::<Vec<_>>().join("; "),
    })?;
    for entry in &file.phrases {
        let wrong = |message: String| FileError { line: line_of(text, &entry.span()), message };
        entry.get_ref().check().map_err(wrong)?;
    }
    Ok(file)
}

/// The line of a place, from 1.
pub fn line_of(text: &str, place: &Range<usize>) -> usize {
    text.get(..place.start).unwrap_or("").matches('\n').count() + 1
}

impl PhraseEntry {
    fn check(&self) -> Result<(), String> {
        let id = &self.id;
        if !KINDS.contains(&self.kind.as_str()) {
            return Err(format!("{id}: there is no kind '{}'; the kinds are {}", self.kind, KINDS.join(", ")));
        }
        let own = self.edges.iter().flat_map(|e| e.own.keys());
        for key in self.say.keys().chain(self.hear.keys()).chain(own) {
            let name = |d: &str| d.split('<').next().unwrap_or(d).to_string();
            if let Some(wrong) = key.split(' ').map(name).find(|d| d != "all" && DialectName::named(d).is_none()) {
                return Err(format!("{id}: there is no dialect '{wrong}'; the dialects are {}", DIALECTS.join(", ")));
            }
        }
        for dialect in DIALECTS {
            let Some(said) = of(&self.say, dialect) else {
                return Err(format!(
                    "{id}: nothing said for {dialect}; every phrase says something for each dialect: say.{dialect} = '..' or {{ refuse = '..' }}"
                ));
            };
            for template in said.templates() {
                let ways = [&template.sql, &template.refuse, &template.case];
                if ways.iter().filter(|w| w.is_some()).count() != 1 {
                    return Err(format!("{id}: say.{dialect} wants one of sql = '..', refuse = '..' and case = '..'"));
                }
                template.sql.iter().try_for_each(|sql| self.check_arguments(sql, dialect))?;
            }
            of(&self.hear, dialect).into_iter().flatten().try_for_each(|sql| self.check_arguments(sql, dialect))?;
        }
        Ok(())
    }

    fn check_arguments(&self, sql: &str, dialect: &str) -> Result<(), String> {
        let names: Vec<String> = self.parameters().into_iter().map(|p| p.name).collect();
        match arguments_in(sql).into_iter().find(|a| !names.iter().any(|n| n == a)) {
            Some(wrong) => Err(format!("{}: {dialect} names :{wrong}, which is not among its arguments ({})", self.id, names.join(", "))),
            None => Ok(()),
        }
    }

    /// The arguments that must lie between two numbers for it to give no empty text.
    pub fn full(&self) -> Vec<(usize, i64, Option<i64>)> {
        let takes = self.parameters();
        let read = |words: &String| {
            let (name, number, open) = match words.split_once(" >= ") {
                Some((name, number)) => (name, number, true),
                None => words.split_once(" = ").map(|(name, number)| (name, number, false))?,
            };
            let least = number.parse().ok()?;
            let at = takes.iter().position(|t| name.strip_prefix(':') == Some(&t.name))?;
            Some((at, least, (!open).then_some(least)))
        };
        self.full.iter().filter_map(read).collect()
    }

    /// Its arguments, read from `takes`.
    pub fn parameters(&self) -> Vec<Parameter> {
        split_commas(&self.takes).into_iter().map(|one| Parameter::read(&one)).collect()
    }
}

/// One argument of a phrase.
#[derive(Debug)]
pub struct Parameter {
    pub name: String,
    pub kind: String,
    /// Its default, where it isn't written.
    pub default: Option<String>,
    /// It takes all arguments that are left.
    pub repeated: bool,
}

impl Parameter {
    /// What it takes; or what is wrong with it.
    pub fn argument(&self) -> Result<ArgumentKind, String> {
        let known = ArgumentKind::WORDS.iter().find(|(word, _)| *word == self.kind);
        known.map(|(_, kind)| *kind).ok_or_else(|| {
            let words: Vec<&str> = ArgumentKind::WORDS.iter().map(|(w, _)| *w).collect();
            format!(":{} is of no known kind '{}'; the kinds are {}", self.name, self.kind, words.join(", "))
        })
    }

    fn read(text: &str) -> Parameter {
        let (declared, default) = match text.split_once('=') {
            Some((declared, default)) => (declared, Some(default.trim().to_string())),
            None => (text, None),
        };
        let (name, kind) = declared.split_once(':').unwrap_or((declared, "any"));
        let name = name.trim();
        Parameter {
            name: name.trim_end_matches("...").to_string(),
            kind: kind.trim().to_string(),
            default,
            repeated: name.ends_with("..."),
        }
    }
}

/// The entry of a dialect in a table of dialects: its own, that of a group it is in, or that of all.
pub fn of<'a, T>(table: &'a BTreeMap<String, T>, dialect: &str) -> Option<&'a T> {
    let alone = || table.iter().find(|(key, _)| names(key, dialect)).map(|(_, v)| v);
    let grouped = || table.iter().find(|(key, _)| key.contains(' ') && key.split(' ').any(|d| names(d, dialect))).map(|(_, v)| v);
    alone().or_else(grouped).or_else(|| table.get("all"))
}

/// Whether a word is a dialect's name or an alias of it.
fn names(word: &str, dialect: &str) -> bool {
    word == dialect || DialectName::named(word).is_some_and(|named| named.as_str() == dialect)
}

/// The parts of a list, but for commas in quotes and parentheses.
pub fn split_commas(text: &str) -> Vec<String> {
    let mut parts = vec![String::new()];
    let (mut quoted, mut depth) = (false, 0_i32);
    for c in text.chars() {
        match c {
            '\'' => quoted = !quoted,
            '(' | '[' if !quoted => depth += 1,
            ')' | ']' if !quoted => depth -= 1,
            _ => {}
        }
        if c == ',' && !quoted && depth == 0 {
            parts.push(String::new());
        } else if let Some(last) = parts.last_mut() {
            last.push(c);
        }
    }
    parts.into_iter().map(|p| p.trim().to_string()).filter(|p| !p.is_empty()).collect()
}

/// The names behind single colons, outside quotes.
pub fn arguments_in(sql: &str) -> Vec<&str> {
    let name = |piece| if let Piece::Argument(name) = piece { Some(name) } else { None };
    pieces(sql).into_iter().filter_map(name).collect()
}

/// A part of a template.
pub enum Piece<'a> {
    /// What stays as it is.
    Text(&'a str),
    /// An argument: a name behind a single colon, outside quotes. Dots behind it are left out.
    Argument(&'a str),
}

/// The parts of a template, in their order.
pub fn pieces(sql: &str) -> Vec<Piece<'_>> {
    let mut found = Vec::new();
    let (mut from, mut at, mut quote, mut before) = (0, 0, None, b' ');
    let bytes = sql.as_bytes();
    while at < bytes.len() {
        let c = bytes[at];
        match quote {
            Some(open) if open == c => quote = None,
            None if matches!(c, b'\'' | b'"') => quote = Some(c),
            _ => {}
        }
        let starts = c == b':' && quote.is_none() && before != b':' && bytes.get(at + 1).is_some_and(u8::is_ascii_lowercase);
        before = c;
        if !starts {
            at += 1;
            continue;
        }
        found.push(Piece::Text(&sql[from..at]));
        let length = bytes[at + 1..].iter().take_while(|b| b.is_ascii_alphanumeric() || **b == b'_').count();
        let end = at + 1 + length;
        found.push(Piece::Argument(&sql[at + 1..end]));
        at = if sql[end..].starts_with("...") { end + 3 } else { end };
        from = at;
    }
    found.push(Piece::Text(&sql[from..]));
    found
}
