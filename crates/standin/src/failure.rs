//! Why a statement failed.

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
    /// The rules of the dialect forbid the statement.
    Invalid,
    /// Too many rows.
    TooLarge,
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

impl Failure {
    pub(crate) fn new(kind: FailureKind, message: impl Into<String>) -> Failure {
        Failure { kind, code: None, message: message.into(), place: None }
    }

    pub(crate) fn unknown(what: &str) -> Failure {
        Failure::new(FailureKind::NotKnown, format!("the stand-in does not know {what}"))
    }

    pub(crate) fn coded(mut self, code: Option<&str>) -> Failure {
        self.code = code.map(str::to_string);
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
