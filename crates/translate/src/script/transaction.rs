//! BEGIN, COMMIT and ROLLBACK: the same three steps everywhere, in other words.

use syntax::DialectName;
use syntax::DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};
use syntax::tree::Span;

use crate::text::Text;

/// What a statement does to the transaction.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Step {
    /// Opens one.
    Begin,
    /// Keeps its changes.
    Commit,
    /// Takes its changes back.
    Rollback,
}

/// The step that a statement is, if it is one without options: no isolation level, savepoint or chain.
pub(super) fn step(text: Text<'_>, span: Span, dialect: DialectName) -> Option<Step> {
    let count = span.end - span.first;
    if count > 3 {
        return None;
    }
    let [first, second, third] = [0, 1, 2].map(|i| text.word(span, i));
    // A name is no option: SQL Server's COMMIT TRAN crossing.
    let is_plain = third.is_empty() || dialect == SqlServer;
    let transaction = matches!(second.as_str(), "TRANSACTION" | "TRAN") && is_plain;
    let bare = second.is_empty() || transaction || second == "WORK" && third.is_empty();
    match first.as_str() {
        "BEGIN" if dialect == SqlServer => transaction.then_some(Step::Begin),
        "BEGIN" if dialect == Sqlite && matches!(second.as_str(), "DEFERRED" | "IMMEDIATE" | "EXCLUSIVE") => Some(Step::Begin),
        "BEGIN" if dialect != Oracle => bare.then_some(Step::Begin),
        "START" => transaction.then_some(Step::Begin),
        "COMMIT" => bare.then_some(Step::Commit),
        "ROLLBACK" => bare.then_some(Step::Rollback),
        "END" if matches!(dialect, Postgres | Sqlite) => bare.then_some(Step::Commit),
        "ABORT" if dialect == Postgres => bare.then_some(Step::Rollback),
        _ => None,
    }
}

/// The step in the words of a dialect; `None` where it has none.
pub(super) fn said(step: Step, dialect: DialectName) -> Option<&'static str> {
    Some(match (step, dialect) {
        (_, Spark) | (Step::Begin, Oracle) => return None,
        (Step::Begin, SqlServer | Bigquery) => "BEGIN TRANSACTION",
        (Step::Begin, Mysql | Mariadb) => "START TRANSACTION",
        (Step::Begin, Postgres | Duckdb | Sqlite) => "BEGIN",
        (Step::Commit, SqlServer | Bigquery) => "COMMIT TRANSACTION",
        (Step::Commit, _) => "COMMIT",
        (Step::Rollback, SqlServer | Bigquery) => "ROLLBACK TRANSACTION",
        (Step::Rollback, _) => "ROLLBACK",
    })
}
