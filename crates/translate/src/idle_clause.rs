//! The clauses that have no part in a result: the closed list of what may be left out.
//!
//! Locks, hints to an optimizer and how a result is kept. Whatever isn't listed here is refused by its words.

use syntax::tree::Span;
use syntax::{Symbol, TokenKind};

use crate::text::Text;

/// Where words stand that may have no part in the result.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Place {
    /// FOR UPDATE and kin, behind the query.
    Lock,
    /// OPTION (..) and FOR .. of SQL Server.
    Option,
    /// Between SELECT and its list.
    Modifier,
    /// Behind a table's name.
    Table,
}

/// Locks: which rows others may change meanwhile. SKIP LOCKED is no part: it leaves rows out.
const LOCKS: &[&str] = &["FOR", "UPDATE", "SHARE", "KEY", "NO", "NOWAIT", "WAIT", "LOCK", "IN", "MODE"];

/// Query hints (Transact-SQL). MAXRECURSION is no part: it ends a query with an error.
const OPTIONS: &[&str] = &[
    "CONCAT",
    "DISABLE",
    "EXPAND",
    "FAST",
    "FORCE",
    "HASH",
    "IGNORE_NONCLUSTERED_COLUMNSTORE_INDEX",
    "KEEP",
    "KEEPFIXED",
    "LABEL",
    "LOOP",
    "MAXDOP",
    "MAX_GRANT_PERCENT",
    "MERGE",
    "MIN_GRANT_PERCENT",
    "NO_PERFORMANCE_SPOOL",
    "OPTIMIZE",
    "ORDER",
    "PARAMETERIZATION",
    "QUERYTRACEON",
    "RECOMPILE",
    "ROBUST",
    "TABLE",
    "USE",
];

/// SELECT Statement (MySQL, MariaDB). FOUND_ROWS() is refused by itself.
const MODIFIERS: &[&str] = &[
    "HIGH_PRIORITY",
    "SQL_BIG_RESULT",
    "SQL_BUFFER_RESULT",
    "SQL_CACHE",
    "SQL_CALC_FOUND_ROWS",
    "SQL_NO_CACHE",
    "SQL_SMALL_RESULT",
    "STRAIGHT_JOIN",
];

/// Table hints (Transact-SQL); index hints (MySQL, SQLite). READPAST is no part: it leaves rows out.
const TABLE_HINTS: &[&str] = &[
    "FASTFIRSTROW",
    "FORCE",
    "FORCESCAN",
    "FORCESEEK",
    "HOLDLOCK",
    "IGNORE",
    "INDEX",
    "INDEXED",
    "NOEXPAND",
    "NOLOCK",
    "NOT",
    "NOWAIT",
    "PAGLOCK",
    "READCOMMITTED",
    "READCOMMITTEDLOCK",
    "READUNCOMMITTED",
    "REPEATABLEREAD",
    "ROWLOCK",
    "SERIALIZABLE",
    "SNAPSHOT",
    "TABLOCK",
    "TABLOCKX",
    "UPDLOCK",
    "USE",
    "XLOCK",
];

/// The words of `span` that have a part in the result, if there are any.
pub(crate) fn not_idle(text: Text<'_>, span: Span, place: Place) -> Option<String> {
    let items = items(text, span, place);
    let list = match place {
        Place::Lock => LOCKS,
        Place::Option => OPTIONS,
        Place::Modifier => MODIFIERS,
        Place::Table => TABLE_HINTS,
    };
    items.into_iter().find(|words| !list.contains(&words.split(' ').next().unwrap_or("")))
}

/// The hints, locks or words of a clause in capitals, each with the words behind it.
fn items(text: Text<'_>, span: Span, place: Place) -> Vec<String> {
    let tokens: Vec<(&str, syntax::Token)> =
        text.tokens[span.first as usize..span.end as usize].iter().map(|t| (t.text(text.source), *t)).collect();
    let word = |at: usize| tokens.get(at).filter(|(_, t)| t.kind == TokenKind::Word).map(|(w, _)| w.to_ascii_uppercase());
    let mut items = Vec::new();
    let mut depth = 0;
    let mut names = false;
    for at in 0..tokens.len() {
        match tokens[at].1.symbol {
            Symbol::LeftParen => depth += 1,
            Symbol::RightParen => depth -= 1,
            _ => {}
        }
        let Some(first) = word(at) else { continue };
        let previous = at.checked_sub(1).map(|i| tokens[i].1.symbol);
        let begins = match place {
            // FOR UPDATE OF v, c: the names are none of the clause's words.
            Place::Lock => {
                names = first == "OF" || names && !matches!(first.as_str(), "NOWAIT" | "WAIT" | "SKIP" | "FOR");
                !names
            }
            Place::Modifier => true,
            Place::Option | Place::Table => match first.as_str() {
                "OPTION" | "WITH" if depth == 0 => false,
                // FOR XML, FOR JSON; USE INDEX, INDEXED BY.
                _ if depth == 0 => at == 0 || first == "FOR" && place == Place::Option,
                _ => depth == 1 && matches!(previous, Some(Symbol::LeftParen | Symbol::Comma)) && !is_index_list(&tokens, at),
            },
        };
        if begins {
            let second = word(at + 1).map_or(String::new(), |w| format!(" {w}"));
            items.push(first + &second);
        }
    }
    items
}

/// `USE INDEX (by_name)`: the names in the parentheses are no hints.
fn is_index_list(tokens: &[(&str, syntax::Token)], at: usize) -> bool {
    let open = tokens[..at].iter().rposition(|(_, t)| t.symbol == Symbol::LeftParen).unwrap_or(0);
    let before = open.checked_sub(1).map_or("", |i| tokens[i].0);
    !(before.is_empty() || before.eq_ignore_ascii_case("WITH") || before.eq_ignore_ascii_case("OPTION"))
}
