//! Whether a statement only reads, for engines whose sessions can't be made read-only.

use syntax::tree::{QueryBody, StatementKind};
use syntax::{Dialect, Statements, lex};

use crate::EngineError;

/// First words of statements that we don't read but that change nothing.
const READING: [&str; 8] = ["SHOW", "DESCRIBE", "DESC", "EXPLAIN", "USE", "SUMMARIZE", "SET", "DECLARE"];

/// An error for a statement that may change something.
pub(crate) fn only_reads(sql: &str, dialect: &Dialect) -> Result<(), EngineError> {
    let tokens = lex(sql, dialect);
    for parsed in Statements::new(sql, &tokens, dialect) {
        let start = tokens.get(parsed.span.first as usize).map_or(0, |t| t.start as usize);
        let is_reading = match &parsed.tree {
            Ok(tree) => match &tree.kind {
                StatementKind::Query(query) => !matches!(&query.body, QueryBody::Select(s) if s.into.is_some()),
                StatementKind::Use(_) | StatementKind::Directive => true,
                _ => begins_reading(&sql[start..]),
            },
            // What we can't read, the engine may: but then its first word must tell.
            Err(_) => begins_reading(&sql[start..]) || first_word(&sql[start..]) == "SELECT",
        };
        if !is_reading {
            let word = first_word(&sql[start..]);
            let message = format!("{word} may change the database, which is only read; --allow-writes lets it");
            return Err(EngineError::Query {
                code: None,
                message,
                place: Some((start, start + word.len())),
                not_known: false,
                counts: false,
            });
        }
    }
    Ok(())
}

fn first_word(sql: &str) -> String {
    sql.trim_start().chars().take_while(char::is_ascii_alphabetic).collect::<String>().to_ascii_uppercase()
}

fn begins_reading(sql: &str) -> bool {
    READING.contains(&first_word(sql).as_str())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_reads_and_what_does_not() {
        for (sql, reads) in [
            ("SELECT 1", true),
            ("WITH a AS (SELECT 1 AS x) SELECT * FROM a", true),
            ("FROM vessels", true),
            ("SHOW TABLES", true),
            ("DESCRIBE vessels", true),
            ("SELECT a FROM b; DROP TABLE b", false),
            ("INSERT INTO tolls VALUES (1)", false),
            ("COPY tolls TO 'x.csv'", false),
            ("ATTACH 'x.db'", false),
            ("CALL wipe()", false),
        ] {
            assert_eq!(only_reads(sql, &syntax::DialectName::Duckdb.into()).is_ok(), reads, "{sql}");
        }
        assert!(only_reads("SELECT name INTO copies FROM vessels", &syntax::DialectName::SqlServer.into()).is_err());
    }
}
