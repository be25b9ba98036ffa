//! The phrasebook: one meaning, said in nine dialects.

use std::sync::OnceLock;

use compact_str::CompactString;
use rustc_hash::FxHashMap;
use syntax::tree::Operator;
use syntax::{DialectName, Symbol, WordTable};

use crate::breach::ValueClass;

include!(concat!(env!("OUT_DIR"), "/book.rs"));

/// A phrase's place in the book.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct PhraseId(pub u16);

/// What kind of word a phrase is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum PhraseKind {
    /// An infix operator.
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

/// One meaning.
#[derive(Debug)]
pub struct Phrase {
    /// Its name: area and meaning.
    pub id: &'static str,
    /// What kind of word it is.
    pub kind: PhraseKind,
    /// The names of its arguments.
    pub takes: &'static [&'static str],
    /// Its type: a type's name, or an argument's.
    pub gives: &'static str,
    /// What it means, with its behaviour on NULL.
    pub about: &'static str,
    /// How each dialect says it.
    pub say: [Say; 9],
    /// Other spellings each dialect hears as it.
    pub hear: [&'static [&'static str]; 9],
    /// Where dialects differ in spite of all.
    pub edges: &'static [Edge],
}

/// How a dialect says a phrase.
#[derive(Debug)]
pub enum Say {
    /// A template in the dialect's SQL with arguments as `:name`.
    Sql(&'static str),
    /// Not at all: why, and what to do.
    Refuse(&'static str),
}

/// A class of inputs on which dialects differ.
#[derive(Debug)]
pub struct Edge {
    /// The class, as a condition on the arguments.
    pub when: &'static str,
    /// The same in words.
    pub about: &'static str,
    /// What the phrase gives there.
    pub gives: &'static str,
    /// What a dialect gives where that differs.
    pub own: [Option<&'static str>; 9],
}

impl Edge {
    /// The class of inputs, and the place of the argument it is about.
    pub fn class(&self, takes: &[&str]) -> Option<(usize, ValueClass)> {
        ValueClass::read(self.when, takes)
    }

    /// What `dialect` gives in this class.
    pub fn result(&self, dialect: DialectName) -> &'static str {
        self.own[dialect as usize].unwrap_or(self.gives)
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
        &PHRASES[self.0 as usize]
    }
}

/// A phrase by its name. The name must be in the book; a test goes through all names used.
pub fn phrase_named(id: &str) -> PhraseId {
    static NAMES: OnceLock<FxHashMap<&'static str, PhraseId>> = OnceLock::new();
    let names = NAMES.get_or_init(|| PHRASES.iter().enumerate().map(|(i, p)| (p.id, PhraseId(i as u16))).collect());
    names.get(id).copied().unwrap_or(PhraseId(0))
}

/// A call as it is heard: so many arguments, a bare word, or `(*)`.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Shape {
    Arguments(usize),
    /// At least so many.
    Open(usize),
    Word,
    Star,
}

/// What one dialect hears.
struct Ear {
    /// Those without parentheses, asked for every bare column.
    words: WordTable<Option<PhraseId>>,
    /// By the root word in capitals.
    calls: FxHashMap<CompactString, Vec<(Shape, PhraseId)>>,
    operators: FxHashMap<Operator, PhraseId>,
    prefixes: FxHashMap<Operator, PhraseId>,
}

fn ear(dialect: DialectName) -> &'static Ear {
    static EARS: [OnceLock<Ear>; 9] = [const { OnceLock::new() }; 9];
    EARS[dialect as usize].get_or_init(|| {
        let mut words = Vec::new();
        let mut ear = Ear {
            words: WordTable::new(None, std::iter::empty()),
            calls: FxHashMap::default(),
            operators: FxHashMap::default(),
            prefixes: FxHashMap::default(),
        };
        for (i, phrase) in PHRASES.iter().enumerate() {
            let id = PhraseId(i as u16);
            let said = match phrase.say[dialect as usize] {
                Say::Sql(sql) => Some(sql),
                Say::Refuse(_) => None,
            };
            for sql in said.into_iter().chain(phrase.hear[dialect as usize].iter().copied()) {
                if is_word(sql) {
                    words.push((sql, Some(id)));
                } else {
                    ear.learn(sql, id);
                }
            }
        }
        // The table gives the first of equal words, as it was learnt first.
        ear.words = WordTable::new(None, words.into_iter());
        ear
    })
}

impl Ear {
    /// Learns a template if it is one call or one operator over distinct arguments.
    fn learn(&mut self, sql: &str, id: PhraseId) {
        let words: Vec<&str> = sql.split_whitespace().collect();
        match words.as_slice() {
            [a, sign, b] if is_argument(a) && is_argument(b) => {
                if let Some(operator) = operator_of(sign) {
                    self.operators.entry(operator).or_insert(id);
                }
            }
            [sign, a] if is_argument(a) => {
                if let Some(operator) = operator_of(sign) {
                    self.prefixes.entry(operator).or_insert(id);
                }
            }
            _ => self.learn_call(sql, id),
        }
    }

    fn learn_call(&mut self, sql: &str, id: PhraseId) {
        let (name, shape) = match sql.split_once('(') {
            None => return,
            Some((name, rest)) => {
                let Some(arguments) = rest.strip_suffix(')') else { return };
                let arguments: Vec<&str> = arguments.split(',').map(str::trim).filter(|a| !a.is_empty()).collect();
                let shape = match arguments.split_last() {
                    Some((last, fixed)) if last.ends_with("...") => Shape::Open(fixed.len()),
                    _ if arguments == ["*"] => Shape::Star,
                    _ if arguments.iter().all(|a| is_argument(a)) => Shape::Arguments(arguments.len()),
                    _ => return,
                };
                (name.trim(), shape)
            }
        };
        let heard = self.calls.entry(name.to_uppercase().into()).or_default();
        if !heard.iter().any(|(s, _)| *s == shape) {
            heard.push((shape, id));
        }
    }

    fn call(&self, name: &str, wanted: Shape) -> Option<PhraseId> {
        if wanted == Shape::Word {
            return self.words.find(name.as_bytes(), name.len());
        }
        let mut upper = CompactString::from(name);
        upper.make_ascii_uppercase();
        let heard = self.calls.get(&upper)?;
        let fits = |shape: Shape| match (shape, wanted) {
            (Shape::Open(least), Shape::Arguments(count)) => count >= least,
            (shape, wanted) => shape == wanted,
        };
        heard.iter().find(|(shape, _)| fits(*shape)).map(|(_, id)| *id)
    }
}

/// A template that is one word, said without parentheses.
fn is_word(sql: &str) -> bool {
    sql.chars().all(|c| c.is_alphanumeric() || c == '_')
}

fn is_argument(word: &str) -> bool {
    word.strip_prefix(':').is_some_and(|w| w.chars().all(|c| c.is_alphanumeric() || c == '_'))
}

fn operator_of(sign: &str) -> Option<Operator> {
    match sign {
        "DIV" => return Some(Operator::Div),
        "MOD" => return Some(Operator::Mod),
        _ => {}
    }
    // The list of symbols is the lexer's; a template is read by it like any text.
    let dialects =
        [DialectName::Postgres, DialectName::Tsql, DialectName::Oracle, DialectName::Duckdb, DialectName::Spark, DialectName::Sqlite];
    dialects.iter().find_map(|d| {
        let tokens = syntax::lex(sign, &(*d).into());
        (tokens.len() == 2 && tokens[0].symbol != Symbol::None).then_some(Operator::Symbol(tokens[0].symbol))
    })
}

/// The phrase a call of `name` with so many arguments is; `star` for `name(*)`, `None` arguments for
/// a bare word.
pub fn hear_call(dialect: DialectName, name: &str, arguments: Option<usize>, star: bool) -> Option<PhraseId> {
    let shape = match arguments {
        _ if star => Shape::Star,
        Some(count) => Shape::Arguments(count),
        None => Shape::Word,
    };
    ear(dialect).call(name, shape)
}

/// The phrase an infix operator is.
pub fn hear_operator(dialect: DialectName, operator: Operator) -> Option<PhraseId> {
    ear(dialect).operators.get(&operator).copied()
}

/// The phrase a prefix operator is.
pub fn hear_prefix(dialect: DialectName, operator: Operator) -> Option<PhraseId> {
    ear(dialect).prefixes.get(&operator).copied()
}
