//! Why a statement failed.

use syntax::DialectName;

/// Kinds of failure, alike in all dialects.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum FailureKind {
    /// The text can't be read.
    Syntax,
    /// A table, column or function of that name isn't there.
    UnknownName,
    /// The stand-in doesn't know this construct or function: it refuses rather than guesses.
    NotKnown,
    /// Division by zero.
    DivisionByZero,
    /// A value can't be converted.
    BadCast,
    /// A scalar subquery gave several rows.
    SeveralRows,
    /// A number is too great for its type.
    Overflow,
    /// A hierarchy or a recursion comes back to where it was, or goes on without end.
    Loop,
    /// The rules of the dialect forbid the statement.
    Invalid,
    /// Too many rows.
    TooLarge,
    /// It ran too long.
    TimedOut,
    /// The user ended it.
    Stopped,
}

/// A failed statement.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("{}{message}", code.as_ref().map(|c| format!("{c}: ")).unwrap_or_default())]
pub struct Failure {
    /// What kind.
    pub kind: FailureKind,
    /// The dialect's own code, where known.
    pub code: Option<String>,
    /// What happened.
    pub message: String,
    /// Where in the statement: bytes from, to.
    pub place: Option<(usize, usize)>,
}

/// A result, or why there is none.
pub(crate) type Outcome<T> = Result<T, Failure>;

/// The dialects' own codes of one failure; a dialect that isn't listed has none that we know.
pub(crate) type Codes = &'static [(DialectName, &'static str)];

impl Failure {
    pub(crate) fn new(kind: FailureKind, message: impl Into<String>) -> Failure {
        Failure { kind, code: None, message: message.into(), place: None }
    }

    /// What the stand-in doesn't know, by name.
    pub(crate) fn unknown(what: &str) -> Failure {
        Failure::new(FailureKind::NotKnown, format!("the stand-in does not know {what}"))
    }

    /// A statement that the dialect's rules forbid.
    pub(crate) fn invalid(message: impl Into<String>) -> Failure {
        Failure::new(FailureKind::Invalid, message)
    }

    /// The code of `dialect`, if it is among `codes` and none is set yet.
    pub(crate) fn coded(mut self, dialect: DialectName, codes: &[(DialectName, &str)]) -> Failure {
        if self.code.is_none() {
            self.code = codes.iter().find(|(d, _)| *d == dialect).map(|(_, code)| (*code).to_string());
        }
        self
    }

    /// A code that only one dialect's rule gives.
    pub(crate) fn with_code(mut self, code: &str) -> Failure {
        self.code = Some(code.to_string());
        self
    }

    pub(crate) fn at(mut self, place: (usize, usize)) -> Failure {
        self.place = Some(place);
        self
    }

    pub(crate) fn or_at(mut self, place: (usize, usize)) -> Failure {
        self.place = self.place.or(Some(place));
        self
    }
}

use DialectName::{Mariadb, Mysql, Oracle, Postgres, SqlServer};

pub(crate) const DIVISION_BY_ZERO: Codes = &[(Oracle, "ORA-01476"), (SqlServer, "Msg 8134"), (Postgres, "22012")];
pub(crate) const NOT_A_NUMBER: Codes = &[(Oracle, "ORA-01722"), (SqlServer, "Msg 245"), (Postgres, "22P02")];
pub(crate) const SEVERAL_ROWS: Codes = &[
    (Oracle, "ORA-01427"),
    (SqlServer, "Msg 512"),
    (Mysql, "ER_SUBQUERY_NO_1_ROW"),
    (Mariadb, "ER_SUBQUERY_NO_1_ROW"),
    (Postgres, "21000"),
];
pub(crate) const OVERFLOW: Codes = &[
    (Oracle, "ORA-01438"),
    (SqlServer, "Msg 8115"),
    (Mysql, "ER_DATA_OUT_OF_RANGE"),
    (Mariadb, "ER_DATA_OUT_OF_RANGE"),
    (Postgres, "22003"),
];
pub(crate) const NO_COLUMN: Codes =
    &[(Oracle, "ORA-00904"), (SqlServer, "Msg 207"), (Mysql, "ER_BAD_FIELD_ERROR"), (Mariadb, "ER_BAD_FIELD_ERROR"), (Postgres, "42703")];
pub(crate) const NO_TABLE: Codes =
    &[(Oracle, "ORA-00942"), (SqlServer, "Msg 208"), (Mysql, "ER_NO_SUCH_TABLE"), (Mariadb, "ER_NO_SUCH_TABLE"), (Postgres, "42P01")];
pub(crate) const NO_FUNCTION: Codes = &[
    (Oracle, "ORA-00904"),
    (SqlServer, "Msg 195"),
    (Mysql, "ER_SP_DOES_NOT_EXIST"),
    (Mariadb, "ER_SP_DOES_NOT_EXIST"),
    (Postgres, "42883"),
];
