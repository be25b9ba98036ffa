//! The phrasebook: one meaning, said in every dialect.
//!
//! The book's own files are compiled in; a user's files are read when the program starts.

mod class;
mod ear;
mod file;
mod own;
mod template;
mod when;

use std::sync::OnceLock;

use rustc_hash::FxHashMap;
use syntax::{Dialect, DialectName, Version};
use values::DataType;

pub use ear::{Heard, Slot, argument_counts, hear_calls, hear_operator, hear_prefix, hear_word, named_calls, near_calls};
pub use file::{Piece, arguments_in, pieces};
pub use own::{BookError, add_phrases};
pub use template::Template;
pub use when::{ArgumentKind, Guard, Order, ValueClass};

include!(concat!(env!("OUT_DIR"), "/book.rs"));

/// A phrase's place in the book: those of a user come after our own.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct PhraseId(pub u16);

/// What kind of word a phrase is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum PhraseKind {
    /// An infix operator, or what other dialects have one for.
    Operator,
    /// A prefix operator.
    Prefix,
    /// A function of one row.
    Scalar,
    /// A function that may be written without parentheses.
    Word,
    /// A function of many rows.
    Aggregate,
    /// A function of a window.
    Window,
}

/// Whether a value of some type is what an argument takes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Fit {
    /// It isn't.
    No,
    /// The type isn't known, or it would be converted.
    Maybe,
    /// It is.
    Yes,
}

impl ArgumentKind {
    /// Whether a value of `data_type` is what this takes.
    pub fn fit(self, data_type: &DataType) -> Fit {
        let fit = |yes: bool| if yes { Fit::Yes } else { Fit::No };
        match (self, data_type) {
            (ArgumentKind::Any, _) => Fit::Yes,
            (_, DataType::Unknown) => Fit::Maybe,
            (ArgumentKind::String | ArgumentKind::Regex | ArgumentKind::Replacement, t) => fit(t.is_text()),
            (ArgumentKind::Integer, t) => fit(matches!(t, DataType::Integer(_))),
            (ArgumentKind::LongInteger, t) => fit(matches!(t, DataType::Integer(bits) if *bits > 32)),
            (ArgumentKind::Decimal, t) => fit(matches!(t, DataType::Decimal(_) | DataType::Float(_))),
            (ArgumentKind::Float, t) => fit(matches!(t, DataType::Float(_))),
            (ArgumentKind::Number, t) => fit(t.is_numeric()),
            (ArgumentKind::Boolean | ArgumentKind::Condition, t) => fit(*t == DataType::Boolean),
            (ArgumentKind::Date, t) => fit(*t == DataType::Date),
            (ArgumentKind::Timestamp, t) => fit(matches!(t, DataType::Timestamp(_) | DataType::TimestampZoned)),
            (ArgumentKind::Binary, t) => fit(*t == DataType::Binary),
        }
    }
}

/// One argument.
#[derive(Debug)]
pub struct Parameter {
    /// Its name in templates.
    pub name: &'static str,
    /// What it takes.
    pub kind: ArgumentKind,
    /// Its default, where it isn't written, as a constant.
    pub default: Option<&'static str>,
    /// It takes all arguments that are left.
    pub repeated: bool,
}

/// One meaning.
#[derive(Debug)]
#[allow(clippy::struct_excessive_bools)] // Independent facts.
pub struct Phrase {
    /// Its name: area and meaning.
    pub id: &'static str,
    /// What kind of word it is.
    pub kind: PhraseKind,
    /// Its arguments.
    pub takes: &'static [Parameter],
    /// Its type: a type's name, or an argument's.
    pub gives: &'static str,
    /// What it means, with its behaviour on NULL.
    pub about: &'static str,
    /// NULL in any argument gives NULL.
    pub strict: bool,
    /// The least number it can give.
    pub least: Option<i64>,
    /// Each call can give another value.
    pub volatile: bool,
    /// It can give an empty text though no argument is one.
    pub empties: bool,
    /// It can't if each of these arguments is surely at least the one number and at most the other.
    pub full: &'static [(usize, i64, Option<i64>)],
    /// How each dialect says it, the first that fits.
    pub say: [&'static [Say]; DialectName::COUNT],
    /// Other spellings each dialect hears as it.
    pub hear: [&'static [&'static str]; DialectName::COUNT],
    /// Examples, and where dialects differ in spite of all.
    pub edges: &'static [Edge],
}

impl Phrase {
    /// What precedes the point of its name: `text` of `text.upper`.
    pub fn area(&self) -> &'static str {
        self.id.split('.').next().unwrap_or(self.id)
    }

    /// The place of an argument.
    pub fn argument(&self, name: &str) -> Option<usize> {
        self.takes.iter().position(|t| t.name == name)
    }

    /// How `dialect` says it at its version: templates to be tried in order.
    pub fn said(&self, dialect: &Dialect) -> impl Iterator<Item = &'static Say> {
        let version = dialect.version;
        self.say[dialect.name as usize].iter().filter(move |s| s.since.is_none_or(|since| since <= version))
    }

    /// Whether some way of `dialect` to say it came after its version: what newer ones hear, it may not.
    pub fn came_later(&self, dialect: &Dialect) -> bool {
        self.say[dialect.name as usize].iter().any(|s| s.since.is_some_and(|since| since > dialect.version))
    }

    /// What `dialect` hears as this phrase: its way of saying it, where it has a single one, and
    /// others. One of several may be a word that means this only for some arguments.
    pub fn spellings(&self, dialect: DialectName) -> impl Iterator<Item = &'static str> {
        let said = match self.say[dialect as usize] {
            [one] if one.guards.is_empty() && !one.sql.is_empty() && !one.exact => Some(one.sql),
            _ => None,
        };
        said.into_iter().chain(self.hear[dialect as usize].iter().copied())
    }
}

/// How a dialect says a phrase.
#[derive(Debug)]
pub struct Say {
    /// A template in the dialect's SQL with arguments as `:name`; empty if there is none.
    pub sql: &'static str,
    /// Why there is none, and what to do.
    pub refuse: Option<&'static str>,
    /// The form of the CASE that says it, where it is put together from the arguments.
    pub case: Option<&'static str>,
    /// What must be known of arguments, by their places, for this one; empty for all.
    pub guards: &'static [(usize, Guard)],
    /// The first version that has it.
    pub since: Option<Version>,
    /// It gives what the phrase gives, whatever the dialect's own word does.
    pub exact: bool,
}

/// An example, with the class of inputs it represents.
#[derive(Debug)]
pub struct Edge {
    /// The class in the book's words; empty for an ordinary example.
    pub when: &'static str,
    /// The place of the argument it is about, and the class.
    pub class: Option<(usize, ValueClass)>,
    /// The same in words.
    pub about: &'static str,
    /// The code of the note, where it isn't the phrase's own.
    pub code: Option<&'static str>,
    /// The arguments, as constants.
    pub tried: &'static [&'static str],
    /// What the phrase gives there.
    pub gives: &'static str,
    /// What a dialect gives where that differs.
    pub own: [Option<&'static str>; DialectName::COUNT],
    /// What a dialect gave before a version: its place, the version, the result.
    pub older: &'static [(usize, u16, &'static str)],
}

impl Edge {
    /// What `dialect` gives in this class at its version.
    pub fn result(&self, dialect: &Dialect) -> &'static str {
        let at = dialect.name as usize;
        let older = self.older.iter().find(|(name, version, _)| *name == at && dialect.version.major < *version);
        older.map(|(.., result)| *result).or(self.own[at]).unwrap_or(self.gives)
    }
}

/// A result of the book as people read it.
pub fn in_words(result: &'static str) -> &'static str {
    match result {
        "*" => "a value",
        "cut" => "as much of it as a string can hold",
        "error" => "an error",
        result => result,
    }
}

/// The words of a type.
#[derive(Debug)]
pub struct TypeWords {
    /// Its name in the book.
    pub id: &'static str,
    /// Its name in each dialect's column definitions.
    pub say: [&'static str; DialectName::COUNT],
    /// Its name in each dialect's CAST.
    pub cast: [&'static str; DialectName::COUNT],
    /// Names heard as it.
    pub hear: &'static [&'static str],
}

impl PhraseId {
    /// The phrase.
    pub fn phrase(self) -> &'static Phrase {
        let at = self.0 as usize;
        PHRASES.get(at).unwrap_or_else(|| &own::phrases()[at - PHRASES.len()])
    }
}

/// What passed on a live engine when the book was last tried on it.
#[derive(Debug)]
pub struct ProvenOn {
    /// The place of its dialect.
    dialect: usize,
    /// The engine and its version.
    pub engine: &'static str,
    /// How many examples of each phrase passed, by the phrases' names in their order.
    passed: &'static [(&'static str, usize)],
}

impl ProvenOn {
    /// The engine that the phrases of a dialect were tried on, if there is one.
    pub fn of(dialect: DialectName) -> Option<&'static ProvenOn> {
        PROVEN.iter().find(|p| p.dialect == dialect as usize)
    }

    /// How many examples of a phrase passed.
    pub fn passed(&self, id: &str) -> usize {
        self.passed.binary_search_by_key(&id, |(known, _)| known).map_or(0, |at| self.passed[at].1)
    }
}

/// Every phrase with its place, our own first.
pub fn phrases() -> impl Iterator<Item = (PhraseId, &'static Phrase)> {
    PHRASES.iter().chain(own::phrases()).enumerate().map(|(i, p)| (PhraseId(i as u16), p))
}

/// A phrase by its name, if the book has it.
pub fn find_phrase(id: &str) -> Option<PhraseId> {
    static NAMES: OnceLock<FxHashMap<&'static str, PhraseId>> = OnceLock::new();
    NAMES.get_or_init(|| phrases().map(|(id, p)| (p.id, id)).collect()).get(id).copied()
}

/// A phrase that a rewrite needs, by its constant in [`phrase`].
pub fn phrase_named(id: &str) -> PhraseId {
    find_phrase(id).unwrap_or(PhraseId(0))
}
