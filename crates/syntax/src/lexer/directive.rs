//! Lines that are not SQL: batch separators (`GO`, `/`) and commands for the client program.

use super::Lexer;
use crate::dialect::DialectName;
use crate::keyword::Keyword;
use crate::token::{Token, TokenKind};

/// SQL*Plus commands that can begin a line (its User's Guide and Reference, command summary).
const SQLPLUS: &[Keyword] = &[
    Keyword::ACCEPT,
    Keyword::BREAK,
    Keyword::BTITLE,
    Keyword::CLEAR,
    Keyword::COLUMN,
    Keyword::COMPUTE,
    Keyword::DEFINE,
    Keyword::DISCONNECT,
    Keyword::EXEC,
    Keyword::EXECUTE,
    Keyword::EXIT,
    Keyword::HOST,
    Keyword::PAUSE,
    Keyword::PRINT,
    Keyword::PROMPT,
    Keyword::QUIT,
    Keyword::REM,
    Keyword::REMARK,
    Keyword::SHOW,
    Keyword::SPOOL,
    Keyword::TTITLE,
    Keyword::UNDEFINE,
    Keyword::VARIABLE,
    Keyword::WHENEVER,
    Keyword::CONNECT,
    Keyword::DESC,
    Keyword::DESCRIBE,
];

/// Their short forms that are no words of SQL.
const SQLPLUS_SHORT: &[&str] = &["COL", "VAR", "DEF"];

impl<'a> Lexer<'a> {
    /// A batch separator or client directive at the cursor.
    pub(super) fn line_token(&mut self, before: &[Token]) -> Option<Token> {
        if let Some(delimiter) = self.delimiter
            && self.source[self.at..].starts_with(delimiter)
        {
            return Some(self.take(delimiter.len(), TokenKind::Separator));
        }
        let dialect = self.spelling.dialect;
        if self.peek(0) == b'\\' {
            return self.backslash_command(dialect);
        }
        if !self.passed_line_end || !matches!(self.peek(0), b'/' | b'.' | b':' | b'@' | b'A'..=b'Z' | b'a'..=b'z') || !self.starts_line() {
            return None;
        }
        match dialect {
            DialectName::Oracle if self.peek(0) == b'/' && self.line().trim() == "/" => Some(self.take(1, TokenKind::BatchSeparator)),
            DialectName::SqlServer if matches!(self.peek(0), b'G' | b'g') && is_go(self.line()) => {
                Some(self.take_line(TokenKind::BatchSeparator))
            }
            DialectName::Mysql | DialectName::Mariadb if self.word_is("DELIMITER") => {
                let word = self.line().split_whitespace().nth(1);
                self.delimiter = word.filter(|w| *w != ";");
                Some(self.take_line(TokenKind::Directive))
            }
            _ if starts_statement(before) && self.is_directive(dialect) => Some(self.take_line(TokenKind::Directive)),
            _ => None,
        }
    }

    fn backslash_command(&mut self, dialect: DialectName) -> Option<Token> {
        match dialect {
            // `\G` and `\g` end a statement in the MySQL client.
            DialectName::Mysql | DialectName::Mariadb if matches!(self.peek(1), b'G' | b'g') => Some(self.take(2, TokenKind::Separator)),
            DialectName::Postgres if self.peek(1).is_ascii_alphabetic() || self.peek(1) == b'!' => {
                Some(self.take_line(TokenKind::Directive))
            }
            _ => None,
        }
    }

    fn take_line(&mut self, kind: TokenKind) -> Token {
        self.take(self.line().trim_end().len(), kind)
    }

    fn is_directive(&self, dialect: DialectName) -> bool {
        match dialect {
            DialectName::Oracle => self.is_sqlplus(),
            DialectName::SqlServer => self.peek(0) == b':' && self.peek(1).is_ascii_alphabetic(),
            DialectName::Sqlite | DialectName::Duckdb => self.peek(0) == b'.' && self.peek(1).is_ascii_alphabetic(),
            DialectName::Mysql | DialectName::Mariadb => self.word_is("SOURCE"),
            _ => false,
        }
    }

    fn is_sqlplus(&self) -> bool {
        if self.peek(0) == b'@' {
            return true;
        }
        let mut words = self.source[self.at..].split(|c: char| c.is_ascii_whitespace() || c == ';');
        let word = words.next().unwrap_or("");
        let first = Keyword::of(word);
        let mut second = || Keyword::of(words.find(|w| !w.is_empty()).unwrap_or(""));
        match first {
            // SET TRANSACTION, ROLE and CONSTRAINTS go to the server.
            Keyword::SET => !matches!(second(), Keyword::TRANSACTION | Keyword::ROLE | Keyword::CONSTRAINT | Keyword::CONSTRAINTS),
            Keyword::START => second() != Keyword::WITH,
            // CONNECT BY at the start of a line continues a query, but never begins a statement.
            Keyword::CONNECT => second() != Keyword::BY,
            Keyword::COLUMN | Keyword::DEFINE | Keyword::SHOW => true,
            Keyword::NONE => SQLPLUS_SHORT.iter().any(|s| s.eq_ignore_ascii_case(word)),
            other => SQLPLUS.contains(&other),
        }
    }

    fn starts_line(&self) -> bool {
        self.bytes[..self.at].iter().rev().take_while(|b| **b != b'\n').all(|b| matches!(b, b' ' | b'\t' | b'\r'))
    }

    fn line(&self) -> &'a str {
        let source: &'a str = self.source;
        let rest = &source[self.at..];
        &rest[..rest.find('\n').unwrap_or(rest.len())]
    }

    fn word_is(&self, word: &str) -> bool {
        let line = self.line();
        line.get(..word.len()).is_some_and(|w| w.eq_ignore_ascii_case(word))
            && !line[word.len()..].starts_with(|c: char| c.is_alphanumeric())
    }
}

/// `GO`, or `GO 5`, with nothing else on the line but a comment.
fn is_go(line: &str) -> bool {
    let line = line.split("--").next().unwrap_or("").trim();
    let mut words = line.split_whitespace();
    words.next().is_some_and(|w| w.eq_ignore_ascii_case("GO"))
        && words.next().is_none_or(|w| w.bytes().all(|b| b.is_ascii_digit()))
        && words.next().is_none()
}

fn starts_statement(before: &[Token]) -> bool {
    before.last().is_none_or(|t| matches!(t.kind, TokenKind::Separator | TokenKind::BatchSeparator | TokenKind::Directive))
}
