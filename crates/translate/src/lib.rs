//! Reads a query, rewrites what the target can't say, writes it out.
//!
//! Pure: strings and a catalog in, strings and notes out.

mod ask;
mod collation_notes;
mod constructs;
mod copies;
mod features;
mod idle_clause;
mod labels;
mod moment;
mod numbers;
mod probe;
mod read;
mod rewrite;
mod script;
mod shape;
mod text;
mod untranslated;
mod write;

use std::hash::BuildHasher;

use meaning::{Breach, Catalog, Fidelity, Note};
use syntax::tree::Span;
use syntax::{Dialect, LayoutStyle};

pub use probe::Probe;
use probe::probe;
pub use read::{hears, read_as};
pub use script::{Script, translate};

/// What becomes of the default order of NULLs where only the order of display is at stake.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum NullOrderPolicy {
    /// Kept, at the price of a longer ORDER BY.
    #[default]
    Keep,
    /// Left to the target.
    Ignore,
}

/// How a translation is made and shown.
#[derive(Debug, Clone)]
pub struct Options {
    /// The layout of the output.
    pub layout: LayoutStyle,
    /// What becomes of the order of NULLs.
    pub null_order: NullOrderPolicy,
    /// Columns without an alias are called what the source calls them.
    pub keep_labels: bool,
    /// Notes are written as comments above their statements.
    pub inline_notes: bool,
    /// The statement is kept after each rewrite that changed it.
    pub steps: bool,
    /// A refused statement comes with a draft of what could be translated.
    pub drafts: bool,
    /// The codes of notes that are settled.
    pub settled: Vec<String>,
}

impl Default for Options {
    fn default() -> Self {
        Options {
            layout: LayoutStyle::Keep,
            null_order: NullOrderPolicy::Keep,
            keep_labels: false,
            inline_notes: false,
            steps: false,
            drafts: true,
            settled: Vec::new(),
        }
    }
}

/// A note that types are needed and not known.
pub(crate) fn untyped(span: Span, message: impl Into<std::borrow::Cow<'static, str>>) -> Note {
    Note::new("name.untyped", span, message).advise("give the schema with --schema, or say it: --assume 'table.column: text'")
}

/// A column whose type isn't known, where some type it could have would make the translation less than
/// exact. The statement's are put together in one note, which names them.
pub(crate) fn unknown_type(span: Span) -> Note {
    Note::new(UNKNOWN_TYPES, span, "")
}

/// The code of that note.
pub const UNKNOWN_TYPES: &str = "types.unknown";

/// Notes in the order they were made, each once: a rewrite that copies a part must not repeat its
/// notes.
#[derive(Debug, Default)]
pub(crate) struct Notes {
    list: Vec<Note>,
    /// By code, place and words: one call can differ in several ways.
    seen: rustc_hash::FxHashSet<(&'static str, u32, u32, u64)>,
}

impl Notes {
    pub(crate) fn add(&mut self, note: Note) {
        let words = rustc_hash::FxBuildHasher.hash_one((&note.message, &note.advice));
        if self.seen.insert((note.code, note.span.first, note.span.end, words)) {
            self.list.push(note);
        }
    }

    pub(crate) fn has(&self, code: &str) -> bool {
        self.list.iter().any(|n| n.code == code)
    }

    pub(crate) fn take(&mut self) -> Vec<Note> {
        self.seen.clear();
        std::mem::take(&mut self.list)
    }
}

/// A place in the source text, in bytes.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Place {
    /// First byte.
    pub start: usize,
    /// Byte after the last.
    pub end: usize,
}

impl Place {
    /// Whether another place lies within this one.
    pub(crate) fn holds(self, other: Place) -> bool {
        self.start <= other.start && self.end >= other.end
    }
}

/// A note and its place in the text.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct PlacedNote {
    /// The note.
    pub note: Note,
    /// Where.
    pub place: Place,
    /// The data that breaks what it assumes.
    pub breach: Option<Breach<Place>>,
}

/// What kind of statement was translated.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum StatementClass {
    /// A query.
    Query,
    /// INSERT, UPDATE, DELETE or MERGE.
    Change,
    /// CREATE TABLE and the like.
    Definition,
    /// A script variable's declaration or value.
    Variable,
    /// A client directive or another statement.
    Other,
    /// Not readable.
    Unreadable,
}

/// One statement and its translation.
#[derive(Debug, Clone)]
pub struct Translated {
    /// Its place in the text, without the comments before it.
    pub place: Place,
    /// The line it begins on, from 1.
    pub line: usize,
    /// What kind it is.
    pub class: StatementClass,
    /// The translation without separator; none if it was refused or isn't readable.
    pub sql: Option<String>,
    /// Of a refused statement: what could be translated, with the rest in the source's words between marks.
    pub draft: Option<String>,
    /// The worst of its notes.
    pub fidelity: Fidelity,
    /// Its notes.
    pub notes: Vec<PlacedNote>,
    /// The statement after each rewrite that changed it, with the reason.
    pub steps: Vec<(String, String)>,
}

impl Translated {
    /// The probe of one of its notes; `text` is the text it was read from. `None` where data can't tell
    /// whether the assumption holds.
    pub fn probe(&self, text: &str, from: &Dialect, placed: &PlacedNote) -> Option<Probe> {
        let own =
            |place: Place| Place { start: place.start.saturating_sub(self.place.start), end: place.end.saturating_sub(self.place.start) };
        let breach = placed.breach.clone()?.map(own);
        probe(text.get(self.place.start..self.place.end)?, from, &breach, own(placed.place))
    }
}

/// Translates a script.
pub fn translate_text(source: &str, from: &Dialect, to: &Dialect, catalog: &Catalog, options: &Options) -> Script {
    translate(source, from, to, catalog, options)
}
