//! The built-in functions of each dialect, whether or not a phrase hears them: `phrases/builtin/`.
//!
//! A call of one that no phrase hears has a meaning that we don't know; any other unknown call is of a
//! function of the user's own.

use syntax::DialectName;

/// What kind of function it is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum BuiltinKind {
    /// A value of values.
    Scalar,
    /// A value of rows.
    Aggregate,
    /// A value of a row among others, with OVER.
    Window,
    /// Rows.
    Table,
}

/// A built-in function.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Builtin {
    /// Its name in small letters.
    pub name: &'static str,
    /// What kind it is.
    pub kind: BuiltinKind,
    /// The least and the most arguments it takes, where the source of the list tells; `None` for the most is no bound.
    pub arguments: Option<(u8, Option<u8>)>,
}

/// A dialect's built-in functions by name, and where the list comes from.
pub struct Builtins {
    /// The functions, ordered by name.
    pub functions: &'static [Builtin],
    /// The engine or manual that lists them.
    pub source: &'static str,
}

include!(concat!(env!("OUT_DIR"), "/builtin.rs"));

/// All built-in functions of a dialect.
pub fn builtins(dialect: DialectName) -> &'static Builtins {
    &BUILTINS[dialect as usize]
}

/// The built-in function of that name, in letters of any case.
pub fn builtin(dialect: DialectName, name: &str) -> Option<&'static Builtin> {
    let functions = builtins(dialect).functions;
    let name = name.to_ascii_lowercase();
    functions.binary_search_by(|f| f.name.cmp(name.as_str())).ok().map(|at| &functions[at])
}
