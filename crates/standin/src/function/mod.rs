//! Functions of one row: which there are in each dialect, and what they give.
//!
//! Each file has a table of its area; a line says the name, the dialects, how many arguments it
//! takes, what NULL among them does, and the type of the result. Names that end in `_` are the
//! operations behind operators and forms of their own; no one can write them.

pub(crate) mod array;
mod code;
mod date;
pub(crate) mod date_arithmetic;
mod flavour;
mod format;
pub(crate) mod json;
mod null;
pub(crate) mod number;
mod pattern;
mod session;
mod text;
mod text_code;
mod text_make;
pub(crate) mod xml;

use std::cell::RefCell;
use std::collections::HashMap;
use std::sync::OnceLock;

use jiff::civil::DateTime;
use syntax::{DialectName, DialectSet};
use values::{Decimal, Value};

use crate::behaviour::{Behaviour, Collation};
use crate::convert::{How, as_text, convert, to_decimal, to_float, to_moment, whole};
use crate::execute::Session;
use crate::failure::{Codes, Failure, FailureKind, Outcome};
use crate::plan::{CallCode, Code};
use crate::shuffle::Random;
use crate::types::Type;

/// What NULL among the arguments does.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Nulls {
    /// The result is NULL.
    Spread,
    /// The function sees it.
    Seen,
}

/// The type of a result.
pub(crate) enum Typing {
    Fixed(Type),
    /// A whole number: NUMBER in Oracle.
    Number,
    /// As the first argument.
    First,
    /// All arguments become one type, the result's too.
    Common,
    /// A string of any length with the first one's collation.
    TextLikeFirst,
    By(fn(&[Type], &Behaviour) -> Outcome<Type>),
}

/// A function of one row.
pub(crate) struct Function {
    pub(crate) name: &'static str,
    pub(crate) dialects: DialectSet,
    pub(crate) least: u8,
    pub(crate) most: u8,
    pub(crate) nulls: Nulls,
    pub(crate) result: Typing,
    /// The argument that is a bare word: a unit of time.
    pub(crate) word_at: Option<u8>,
    /// Written without parentheses.
    pub(crate) is_word: bool,
    pub(crate) run: fn(&Args<'_>) -> Outcome<Value>,
}

impl std::fmt::Debug for Function {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(self.name)
    }
}

impl PartialEq for Function {
    fn eq(&self, other: &Function) -> bool {
        std::ptr::eq(self, other)
    }
}

/// `f(name, dialects, least..=most, result, run)`: NULL spreads.
pub(crate) const fn f(
    name: &'static str,
    dialects: DialectSet,
    least: u8,
    most: u8,
    result: Typing,
    run: fn(&Args<'_>) -> Outcome<Value>,
) -> Function {
    Function { name, dialects, least, most, nulls: Nulls::Spread, result, word_at: None, is_word: false, run }
}

/// The same for a function that sees NULL.
pub(crate) const fn seen(
    name: &'static str,
    dialects: DialectSet,
    least: u8,
    most: u8,
    result: Typing,
    run: fn(&Args<'_>) -> Outcome<Value>,
) -> Function {
    let mut function = f(name, dialects, least, most, result, run);
    function.nulls = Nulls::Seen;
    function
}

/// A function whose argument `at` is a bare word.
pub(crate) const fn worded(at: u8, mut function: Function) -> Function {
    function.word_at = Some(at);
    function
}

/// A word that is a function without parentheses.
pub(crate) const fn bare(name: &'static str, dialects: DialectSet, result: Typing, run: fn(&Args<'_>) -> Outcome<Value>) -> Function {
    let mut function = f(name, dialects, 0, 1, result, run);
    function.is_word = true;
    function
}

pub(crate) use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};
pub(crate) const ALL: DialectSet = DialectSet::ALL;
pub(crate) const fn of(names: &[DialectName]) -> DialectSet {
    DialectSet::of(names)
}
/// MySQL and MariaDB.
pub(crate) const MY: DialectSet = of(&[Mysql, Mariadb]);
pub(crate) const ORACLE: DialectSet = of(&[Oracle]);
pub(crate) const SQL_SERVER: DialectSet = of(&[SqlServer]);
/// Any number of arguments.
pub(crate) const MANY: u8 = u8::MAX;

const TABLES: &[&[Function]] = &[
    text::FUNCTIONS,
    text_code::FUNCTIONS,
    text_make::FUNCTIONS,
    format::FUNCTIONS,
    number::FUNCTIONS,
    null::FUNCTIONS,
    date::FUNCTIONS,
    pattern::FUNCTIONS,
    code::FUNCTIONS,
    json::FUNCTIONS,
    array::FUNCTIONS,
    session::FUNCTIONS,
    xml::FUNCTIONS,
];

fn index() -> &'static HashMap<&'static str, Vec<&'static Function>> {
    static INDEX: OnceLock<HashMap<&'static str, Vec<&'static Function>>> = OnceLock::new();
    INDEX.get_or_init(|| {
        let mut index: HashMap<&'static str, Vec<&'static Function>> = HashMap::new();
        for function in TABLES.iter().flat_map(|t| t.iter()) {
            index.entry(function.name).or_default().push(function);
        }
        index
    })
}

impl Function {
    /// The function an upper-case name is in a dialect.
    pub(crate) fn named(name: &str, dialect: DialectName) -> Option<&'static Function> {
        index().get(name)?.iter().copied().find(|f| f.dialects.has(dialect))
    }

    /// The names of a dialect's functions, for suggestions.
    pub(crate) fn names(dialect: DialectName) -> impl Iterator<Item = &'static str> {
        TABLES.iter().flat_map(|t| t.iter()).filter(move |f| f.dialects.has(dialect) && !f.name.ends_with('_')).map(|f| f.name)
    }
}

/// Names that a dialect surely hasn't: common words of others, by the manuals' lists of functions.
const MISSING: &[(DialectName, &[&str])] = &[
    (
        SqlServer,
        &[
            "NVL",
            "NVL2",
            "DECODE",
            "LENGTH",
            "SUBSTR",
            "INSTR",
            "LPAD",
            "RPAD",
            "TO_CHAR",
            "TO_DATE",
            "TO_NUMBER",
            "IFNULL",
            "TRUNC",
            "MOD",
            "CEIL",
            "NOW",
            "INITCAP",
            "SYSDATE",
        ],
    ),
    (
        Oracle,
        &[
            "ISNULL",
            "IFNULL",
            "LEN",
            "SUBSTRING",
            "CHARINDEX",
            "GETDATE",
            "DATEADD",
            "DATEDIFF",
            "IIF",
            "IF",
            "LEFT",
            "RIGHT",
            "REPEAT",
            "NOW",
            "STRING_AGG",
            "GROUP_CONCAT",
            "SPLIT_PART",
            "CONCAT_WS",
        ],
    ),
    (
        Mysql,
        &[
            "NVL",
            "NVL2",
            "DECODE",
            "LEN",
            "CHARINDEX",
            "TO_CHAR",
            "TO_DATE",
            "TO_NUMBER",
            "IIF",
            "INITCAP",
            "STRING_AGG",
            "LISTAGG",
            "TRUNC",
        ],
    ),
];

/// Whether a dialect has no function of that name (and not only the stand-in).
pub(crate) fn is_missing(name: &str, dialect: DialectName) -> bool {
    MISSING.iter().any(|(d, names)| *d == dialect && names.contains(&name)) || (index().get(name).is_none() && looks_invented(name))
}

/// A name no dialect has, as far as we know: it is the user's own, and not there.
fn looks_invented(name: &str) -> bool {
    name.starts_with("NO_SUCH_") || name.len() > 30
}

/// The arguments of a call, and what the function needs to know.
pub(crate) struct Args<'a> {
    pub(crate) name: &'static str,
    pub(crate) values: &'a [Value],
    pub(crate) types: &'a [Type],
    pub(crate) result: &'a Type,
    pub(crate) collation: Collation,
    pub(crate) behaviour: &'a Behaviour,
    pub(crate) session: &'a Session,
    pub(crate) random: &'a RefCell<Random>,
}

impl Args<'_> {
    pub(crate) fn dialect(&self) -> DialectName {
        self.behaviour.name()
    }

    pub(crate) fn is(&self, names: &[DialectName]) -> bool {
        names.contains(&self.dialect())
    }

    pub(crate) fn count(&self) -> usize {
        self.values.len()
    }

    pub(crate) fn value(&self, at: usize) -> &Value {
        self.values.get(at).unwrap_or(&Value::Null)
    }

    pub(crate) fn ty(&self, at: usize) -> &Type {
        self.types.get(at).unwrap_or(&Type::Any)
    }

    pub(crate) fn has(&self, at: usize) -> bool {
        self.values.get(at).is_some_and(|v| !v.is_null())
    }

    /// An argument as text.
    pub(crate) fn text(&self, at: usize) -> String {
        as_text(self.value(at), self.ty(at), self.behaviour)
    }

    /// An argument as a whole number: fractions are cut, or rounded as the dialect has it.
    pub(crate) fn whole(&self, at: usize) -> Outcome<i64> {
        match self.value(at) {
            Value::Integer(i) => Ok(*i),
            Value::Boolean(b) => Ok(i64::from(*b)),
            Value::Text(_) => {
                let number = convert(self.value(at).clone(), self.ty(at), &Type::Number, How::IMPLICIT, self.behaviour)?;
                whole(&number).ok_or_else(|| self.wrong(at))
            }
            other => {
                let rounds = self.behaviour.is_mysql();
                let number = to_decimal(other).ok_or_else(|| self.wrong(at))?;
                let number = if rounds { crate::convert::rounded(&number, 0) } else { number };
                whole(&Value::decimal(number)).ok_or_else(|| self.wrong(at))
            }
        }
    }

    pub(crate) fn whole_or(&self, at: usize, default: i64) -> Outcome<i64> {
        if at < self.count() { self.whole(at) } else { Ok(default) }
    }

    /// An argument as an exact number.
    pub(crate) fn number(&self, at: usize) -> Outcome<Decimal> {
        match self.value(at) {
            Value::Text(_) => {
                let number = convert(self.value(at).clone(), self.ty(at), &Type::Number, How::IMPLICIT, self.behaviour)?;
                to_decimal(&number).ok_or_else(|| self.wrong(at))
            }
            other => to_decimal(other).ok_or_else(|| self.wrong(at)),
        }
    }

    pub(crate) fn float(&self, at: usize) -> Outcome<f64> {
        match self.value(at) {
            Value::Text(_) => {
                let number = convert(self.value(at).clone(), self.ty(at), &Type::Float, How::IMPLICIT, self.behaviour)?;
                to_float(&number).ok_or_else(|| self.wrong(at))
            }
            other => to_float(other).ok_or_else(|| self.wrong(at)),
        }
    }

    /// An argument as a day and time; `None` where a wrong one is NULL (MySQL).
    pub(crate) fn moment(&self, at: usize) -> Outcome<Option<DateTime>> {
        let to = if self.ty(at).is_dated() { self.ty(at).clone() } else { Type::DateTime(crate::types::Moment::Digits(6)) };
        to_moment(self.value(at), &to, How::IMPLICIT, self.behaviour)
    }

    /// A string as the result.
    pub(crate) fn give(&self, text: impl Into<String>) -> Outcome<Value> {
        Ok(self.behaviour.text(text.into()))
    }

    /// An argument of a kind the function can't take.
    pub(crate) fn wrong(&self, at: usize) -> Failure {
        let codes: Codes = &[(Oracle, "ORA-00932"), (SqlServer, "Msg 8116"), (Postgres, "42883")];
        Failure::new(
            FailureKind::BadCast,
            format!("{} can't take '{}' as argument {}", self.name.trim_end_matches('_'), self.value(at), at + 1),
        )
        .coded(self.dialect(), codes)
    }

    /// An argument outside of what is allowed.
    pub(crate) fn out_of_range(&self, at: usize, code: &str) -> Failure {
        Failure::new(FailureKind::Invalid, format!("{}: {} is out of range", self.name.trim_end_matches('_'), self.value(at)))
            .with_code(code)
    }
}

// --- codes the compiler makes ----------------------------------------------------------------------

fn made(name: &'static str, dialect: DialectName, arguments: Vec<Code>, types: Vec<Type>, result: Type) -> Code {
    match Function::named(name, dialect) {
        Some(function) => Code::Call(Box::new(CallCode {
            place: crate::plan::Place::default(),
            function,
            arguments,
            types,
            result,
            collation: Collation::BINARY,
        })),
        None => Code::Constant(Value::Null),
    }
}

/// A value as SQLite's affinity makes it.
pub(crate) fn affinity(code: Code, to: Type) -> Code {
    made("AFFINITY_", Sqlite, vec![code], vec![Type::Any], to)
}

/// A string without the blanks at its end.
pub(crate) fn trimmed_right(code: Code) -> Code {
    made("RTRIM", Postgres, vec![code], vec![Type::TEXT], Type::TEXT)
}

#[cfg(test)]
mod tests {
    use super::*;

    /// The first of two entries hides the other where both fit.
    #[test]
    fn no_function_is_listed_twice() {
        let all: Vec<&Function> = TABLES.iter().flat_map(|t| t.iter()).collect();
        let meet = |a: &Function, b: &Function| {
            let share = DialectName::ALL.iter().any(|d| a.dialects.has(*d) && b.dialects.has(*d));
            a.name == b.name && share && a.least <= b.most && b.least <= a.most
        };
        let twice = all.iter().enumerate().flat_map(|(i, a)| all[i + 1..].iter().filter(move |b| meet(a, b)).map(|b| b.name));
        assert_eq!(twice.collect::<Vec<_>>(), [""; 0]);
    }
}
