//! What can be asked of arguments: the `when` of an edge or a template in the phrasebook.
//!
//! The build script reads the book's own with this very file, a user's are read when the program starts.

use std::cmp::Ordering;

/// What an argument takes.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum ArgumentKind {
    /// Any value.
    Any,
    /// A string.
    String,
    /// A whole number.
    Integer,
    /// One of more than 32 bits, for what must be known of an argument.
    LongInteger,
    /// A number that may have a fraction.
    Decimal,
    /// A binary floating-point number, for what must be known of an argument.
    Float,
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

impl ArgumentKind {
    /// The kinds by their words in the phrasebook.
    pub const WORDS: [(&str, ArgumentKind); 12] = [
        ("any", ArgumentKind::Any),
        ("string", ArgumentKind::String),
        ("integer", ArgumentKind::Integer),
        ("decimal", ArgumentKind::Decimal),
        ("number", ArgumentKind::Number),
        ("boolean", ArgumentKind::Boolean),
        ("condition", ArgumentKind::Condition),
        ("date", ArgumentKind::Date),
        ("timestamp", ArgumentKind::Timestamp),
        ("binary", ArgumentKind::Binary),
        ("regex", ArgumentKind::Regex),
        ("replacement", ArgumentKind::Replacement),
    ];
}

/// How a number lies to another.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Order {
    /// `<`.
    Less,
    /// `<=`.
    AtMost,
    /// `=`.
    Equal,
    /// `>=`.
    AtLeast,
    /// `>`.
    Greater,
}

impl Order {
    const SIGNS: [(&'static str, Order); 5] =
        [("<", Order::Less), ("<=", Order::AtMost), ("=", Order::Equal), (">=", Order::AtLeast), (">", Order::Greater)];

    /// The operator.
    pub fn sign(self) -> &'static str {
        Order::SIGNS.iter().find(|(_, order)| *order == self).map_or("=", |(sign, _)| sign)
    }

    /// Whether a whole number can lie so to one number and so to another.
    pub fn meet(a: (Order, i64), b: (Order, i64)) -> bool {
        let lies = |value: i64, (order, number): (Order, i64)| order.fits(value.cmp(&number));
        (-1..=1).flat_map(|d| [a.1 + d, b.1 + d]).any(|value| lies(value, a) && lies(value, b))
    }

    /// Whether two values that compare so lie so.
    pub fn fits(self, ordering: Ordering) -> bool {
        match self {
            Order::Less => ordering == Ordering::Less,
            Order::AtMost => ordering != Ordering::Greater,
            Order::Equal => ordering == Ordering::Equal,
            Order::AtLeast => ordering != Ordering::Less,
            Order::Greater => ordering == Ordering::Greater,
        }
    }
}

/// A class of values on which dialects differ.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum ValueClass {
    /// Any value.
    Any,
    /// NULL.
    Null,
    /// An empty text.
    Empty,
    /// Bytes that are no text in UTF-8.
    NoUtf8,
    /// A number that lies so to another.
    Number(Order, i64),
    /// A string of a length that lies so to a number.
    Length(Order, i64),
    /// A whole number.
    Whole,
    /// A number with a fraction.
    Fraction,
    /// A string where a number is expected.
    Text,
    /// A string with a character beyond ASCII.
    BeyondAscii,
    /// A string with a backslash.
    Backslash,
    /// A string with an opening bracket.
    Bracket,
    /// A string that ends in a blank.
    TrailingBlank,
    /// A string whose last character ends a line.
    LineEnd,
    /// A string with a letter.
    Letters,
    /// A string that is no number.
    NoNumber,
    /// A string that is no whole number in digits.
    NoInteger,
    /// A string that is none of the words for true and false.
    NoTruth,
    /// A value that doesn't fit the type of the argument of this place.
    WiderThan(usize),
}

/// Their words in the phrasebook. `is wider than :a` names an argument; `< 0`, `= 0` and `is longer
/// than 1` a number.
const WORDS: [(&str, ValueClass); 16] = [
    ("is anything", ValueClass::Any),
    ("IS NULL", ValueClass::Null),
    ("= ''", ValueClass::Empty),
    ("is an integer", ValueClass::Whole),
    ("has a fraction", ValueClass::Fraction),
    ("is a string", ValueClass::Text),
    ("is not ASCII", ValueClass::BeyondAscii),
    ("holds a backslash", ValueClass::Backslash),
    ("holds a bracket", ValueClass::Bracket),
    ("ends in a blank", ValueClass::TrailingBlank),
    ("ends in a line's end", ValueClass::LineEnd),
    ("is no UTF-8", ValueClass::NoUtf8),
    ("holds a letter", ValueClass::Letters),
    ("is no number", ValueClass::NoNumber),
    ("is no whole number", ValueClass::NoInteger),
    ("says neither true nor false", ValueClass::NoTruth),
];

/// What must be known of an argument for a template.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Guard {
    /// Its values are of a class.
    Always(ValueClass),
    /// None is.
    Never(ValueClass),
    /// It is written out.
    Constant,
    /// It is the default.
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

/// The place among `names` of the argument that `word` names.
fn place(word: &str, names: &[&str]) -> Option<usize> {
    names.iter().position(|name| word.strip_prefix(':') == Some(name))
}

impl ValueClass {
    /// The class of a `when` and the place of the argument it is about, among the names of those a
    /// phrase takes; `None` for words of no known form.
    pub fn read(when: &str, names: &[&str]) -> Option<(usize, ValueClass)> {
        let (about, words) = when.split_once(' ')?;
        let about = place(about, names)?;
        if let Some(other) = words.strip_prefix("is wider than ") {
            return Some((about, ValueClass::WiderThan(place(other, names)?)));
        }
        if let Some((_, class)) = WORDS.iter().find(|(known, _)| *known == words) {
            return Some((about, *class));
        }
        let lengths = [("is longer than ", Order::Greater), ("is shorter than ", Order::Less)];
        if let Some((order, number)) = lengths.iter().find_map(|(word, order)| Some((*order, words.strip_prefix(word)?))) {
            return Some((about, ValueClass::Length(order, number.parse().ok()?)));
        }
        let (sign, number) = words.split_once(' ')?;
        let (_, order) = Order::SIGNS.iter().find(|(known, _)| *known == sign)?;
        Some((about, ValueClass::Number(*order, number.parse().ok()?)))
    }
}

impl Guard {
    /// The conditions of a template's `when`, with the places of the arguments they are about; none for
    /// an empty one, `None` for words of no known form.
    pub fn read(when: &str, names: &[&str]) -> Option<Vec<(usize, Guard)>> {
        when.split(" and ").filter(|words| !words.is_empty()).map(|words| Guard::read_one(words, names)).collect()
    }

    fn read_one(words: &str, names: &[&str]) -> Option<(usize, Guard)> {
        let (about, rest) = words.split_once(' ')?;
        let guard = match rest {
            "IS NOT NULL" => Guard::Never(ValueClass::Null),
            "<> ''" => Guard::Never(ValueClass::Empty),
            "is ASCII" => Guard::Never(ValueClass::BeyondAscii),
            "is constant" => Guard::Constant,
            "is default" => Guard::Default,
            "is text" => Guard::Typed(ArgumentKind::String),
            "is number" => Guard::Typed(ArgumentKind::Number),
            "is whole" => Guard::Typed(ArgumentKind::Integer),
            "is a long integer" => Guard::Typed(ArgumentKind::LongInteger),
            "is floating" => Guard::Typed(ArgumentKind::Float),
            "is boolean" => Guard::Typed(ArgumentKind::Boolean),
            _ => match rest.strip_prefix("is as long as ") {
                Some(other) => Guard::AsLongAs(place(other, names)?),
                None => Guard::Always(ValueClass::read(words, names)?.1),
            },
        };
        Some((place(about, names)?, guard))
    }
}
