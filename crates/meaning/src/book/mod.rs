//! The phrasebook: one meaning, said in nine dialects.
//!
//! The book's own files are compiled in; a user's files are read when the program starts.

mod class;
mod ear;
mod file;
mod own;
mod template;

use std::sync::OnceLock;

use rustc_hash::FxHashMap;
use syntax::{Dialect, DialectName};
use values::DataType;

pub use class::{Order, ValueClass};
pub use ear::{Heard, Slot, argument_counts, hear_calls, hear_operator, hear_prefix, hear_word, named_calls, near_calls};
pub use file::{Piece, arguments_in, pieces};
pub use own::{BookError, add_phrases};
pub use template::Template;

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

/// What an argument takes.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum ArgumentKind {
    /// Any value.
    Any,
    /// A text.
    String,
    /// A whole number.
    Integer,
    /// One of more than 32 bits, for what must be known of an argument.
    LongInteger,
    /// A number that may have a fraction.
    Decimal,
    /// A number.
    Number,
    /// A truth value.
    Boolean,
    /// A condition, where a dialect tells it from a value.
    Condition,
    /// A day.
    Date,
    /// A day and time.
    Timestamp,
    /// Bytes.
    Binary,
    /// A regular expression, whose flavours are converted.
    Regex,
    /// What replaces a match of one.
    Replacement,
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
        let told = |yes: bool| if yes { Fit::Yes } else { Fit::No };
        match (self, data_type) {
            (ArgumentKind::Any, _) => Fit::Yes,
            (_, DataType::Unknown) => Fit::Maybe,
            (ArgumentKind::String | ArgumentKind::Regex | ArgumentKind::Replacement, t) => told(t.is_text()),
            (ArgumentKind::Integer, t) => told(matches!(t, DataType::Integer(_))),
            (ArgumentKind::LongInteger, t) => told(matches!(t, DataType::Integer(bits) if *bits > 32)),
            (ArgumentKind::Decimal, t) => told(matches!(t, DataType::Decimal(_) | DataType::Float(_))),
            (ArgumentKind::Number, t) => told(t.is_numeric()),
            (ArgumentKind::Boolean | ArgumentKind::Condition, t) => told(*t == DataType::Boolean),
            (ArgumentKind::Date, t) => told(*t == DataType::Date),
            (ArgumentKind::Timestamp, t) => told(matches!(t, DataType::Timestamp(_) | DataType::TimestampZoned)),
            (ArgumentKind::Binary, t) => told(*t == DataType::Binary),
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
    /// What stands for it where it isn't written, as a constant.
    pub default: Option<&'static str>,
    /// It stands for all arguments that are left.
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
    pub say: [&'static [Say]; 9],
    /// Other spellings each dialect hears as it.
    pub hear: [&'static [&'static str]; 9],
    /// Examples, and where dialects differ in spite of all.
    pub edges: &'static [Edge],
}

impl Phrase {
    /// What stands before the point of its name: `text` of `text.upper`.
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
        self.say[dialect.name as usize].iter().filter(move |s| s.since.is_none_or(|since| version_of(since) <= version))
    }

    /// Whether some way of `dialect` to say it came after its version: what newer ones hear, it may not.
    pub fn came_later(&self, dialect: &Dialect) -> bool {
        self.say[dialect.name as usize].iter().any(|s| s.since.is_some_and(|since| version_of(since) > dialect.version))
    }

    /// What `dialect` hears as this phrase: its way of saying it, where it has a single one, and
    /// others. One of several may be a word that means this only for some arguments.
    pub fn spellings(&self, dialect: DialectName) -> impl Iterator<Item = &'static str> {
        let said = match self.say[dialect as usize] {
            [one] if one.when.is_empty() && !one.sql.is_empty() && !one.exact => Some(one.sql),
            _ => None,
        };
        said.into_iter().chain(self.hear[dialect as usize].iter().copied())
    }
}

fn version_of(text: &str) -> syntax::Version {
    let mut numbers = text.split('.').map(|n| n.parse().unwrap_or(0));
    syntax::Version { major: numbers.next().unwrap_or(0), minor: numbers.next().unwrap_or(0) }
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
    /// What must be known of the arguments for this one; empty for all.
    pub when: &'static str,
    /// The first version that has it.
    pub since: Option<&'static str>,
    /// It gives what the phrase gives, whatever the dialect's own word does.
    pub exact: bool,
}

/// What must be known of an argument for a template.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Guard {
    /// Its values are of a class.
    Always(ValueClass),
    /// None is.
    Never(ValueClass),
    /// It is written out.
    Constant,
    /// It is what stands for it where it isn't written.
    Default,
    /// It is of a type.
    Typed(ArgumentKind),
    /// It is a constant text, as long as the constant argument of this place.
    AsLongAs(usize),
}

impl Guard {
    /// Whether knowing this of an argument says also whether it is of a class.
    pub fn settles(self, class: ValueClass) -> bool {
        use ValueClass::{Empty, Fraction, Length, Number, Whole};
        let (Guard::Always(known) | Guard::Never(known)) = self else { return false };
        match (known, class) {
            (Number(..), Number(..)) | (Empty | Length(..), Empty | Length(..)) | (Whole | Fraction, Whole | Fraction) => true,
            (known, class) => known == class,
        }
    }

    /// Whether knowing this of an argument says that it is not of a class.
    pub fn excludes(self, class: ValueClass) -> bool {
        use ValueClass::{Empty, Fraction, Length, Number, Whole};
        let length = |class| match class {
            Empty => Some((Order::Equal, 0)),
            Length(order, number) => Some((order, number)),
            _ => None,
        };
        match self {
            Guard::Never(known) => known == class,
            Guard::Always(known) => match (known, class) {
                (Number(a, n), Number(b, m)) => !Order::meet((a, n), (b, m)),
                (Whole, Fraction) | (Fraction, Whole) => true,
                (a, b) => length(a).zip(length(b)).is_some_and(|(a, b)| !Order::meet(a, b)),
            },
            _ => false,
        }
    }
}

impl Say {
    /// Its conditions and the places of the arguments they are about; `None` if one can't be read.
    pub fn guards(&self, takes: &[Parameter]) -> Option<Vec<(usize, Guard)>> {
        self.when.split(" and ").filter(|w| !w.is_empty()).map(|words| guard(words, takes)).collect()
    }
}

fn guard(words: &str, takes: &[Parameter]) -> Option<(usize, Guard)> {
    let (name, rest) = words.split_once(' ')?;
    let at = takes.iter().position(|t| name.strip_prefix(':') == Some(t.name))?;
    let told = match rest {
        "IS NOT NULL" => Guard::Never(ValueClass::Null),
        "<> ''" => Guard::Never(ValueClass::Empty),
        "is ASCII" => Guard::Never(ValueClass::BeyondAscii),
        "is constant" => Guard::Constant,
        "is default" => Guard::Default,
        "is text" => Guard::Typed(ArgumentKind::String),
        "is number" => Guard::Typed(ArgumentKind::Number),
        "is whole" => Guard::Typed(ArgumentKind::Integer),
        "is a long integer" => Guard::Typed(ArgumentKind::LongInteger),
        "is boolean" => Guard::Typed(ArgumentKind::Boolean),
        _ => match rest.strip_prefix("is as long as :") {
            Some(other) => Guard::AsLongAs(takes.iter().position(|t| t.name == other)?),
            None => Guard::Always(ValueClass::read(words, takes)?.1),
        },
    };
    Some((at, told))
}

/// An example, with the class of inputs it stands for.
#[derive(Debug)]
pub struct Edge {
    /// The class, as a condition on the arguments; empty for an ordinary example.
    pub when: &'static str,
    /// The same in words.
    pub about: &'static str,
    /// The code of the note, where it isn't the phrase's own.
    pub code: Option<&'static str>,
    /// The arguments, as constants.
    pub tried: &'static [&'static str],
    /// What the phrase gives there.
    pub gives: &'static str,
    /// What a dialect gives where that differs.
    pub own: [Option<&'static str>; 9],
    /// What a dialect gave before a version: its place, the version, the result.
    pub older: &'static [(usize, u16, &'static str)],
}

impl Edge {
    /// The class of inputs, and the place of the argument it is about.
    pub fn class(&self, takes: &[Parameter]) -> Option<(usize, ValueClass)> {
        ValueClass::read(self.when, takes)
    }

    /// What `dialect` gives in this class at its version.
    pub fn result(&self, dialect: &Dialect) -> &'static str {
        let at = dialect.name as usize;
        let older = self.older.iter().find(|(name, version, _)| *name == at && dialect.version.major < *version);
        older.map(|(.., result)| *result).or(self.own[at]).unwrap_or(self.gives)
    }
}

/// A result of the book as people are told of it.
pub fn in_words(result: &'static str) -> &'static str {
    match result {
        "*" => "a value",
        "cut" => "as much of it as a text can hold",
        result => result,
    }
}

/// The words of a type.
#[derive(Debug)]
pub struct TypeWords {
    /// Its name in the book.
    pub id: &'static str,
    /// Its name in each dialect's column definitions.
    pub say: [&'static str; 9],
    /// Its name in each dialect's CAST.
    pub cast: [&'static str; 9],
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

/// A phrase that a rewrite needs. The name must be in the book; a test goes through all names used.
pub fn phrase_named(id: &str) -> PhraseId {
    find_phrase(id).unwrap_or(PhraseId(0))
}
