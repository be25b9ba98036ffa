//! A text of many statements, one at a time: where each ends, and going on after an error.

use super::{Parse, Parser, SyntaxError};
use crate::dialect::{Dialect, DialectName};
use crate::keyword::{Keyword, Role};
use crate::token::{Symbol, Token, TokenKind};
use crate::tree::{Declaration, Span, Spelled, Statement, StatementKind};

/// One statement of a text.
#[derive(Debug, Clone, PartialEq)]
pub struct Parsed {
    /// Its tokens, without the separator.
    pub span: Span,
    /// The token after it, if it is a separator.
    pub separator: Option<u32>,
    /// Its tree, or why there is none.
    pub tree: Result<Statement<Spelled>, SyntaxError>,
}

/// The statements of a text, read one after the other.
pub struct Statements<'a> {
    parser: Parser<'a>,
}

impl<'a> Statements<'a> {
    /// Reads the tokens that [`crate::lex`] made of `source`.
    pub fn new(source: &'a str, tokens: &'a [Token], dialect: &'a Dialect) -> Self {
        Statements { parser: Parser::new(source, tokens, dialect) }
    }
}

impl Iterator for Statements<'_> {
    type Item = Parsed;

    fn next(&mut self) -> Option<Parsed> {
        let p = &mut self.parser;
        while matches!(p.token().kind, TokenKind::Separator | TokenKind::BatchSeparator) {
            p.advance();
        }
        if p.token().kind == TokenKind::End {
            return None;
        }
        let first = p.at;
        if p.token().kind == TokenKind::Directive {
            p.advance();
            let span = p.span_from(first);
            return Some(Parsed { span, separator: None, tree: Ok(Statement { kind: StatementKind::Directive, span }) });
        }
        let mut tree = p.statement().and_then(|kind| {
            p.expect_end()?;
            Ok(Statement { kind, span: p.span_from(first) })
        });
        if let Err(error) = &mut tree {
            p.depth = 0;
            // A quote that is never closed swallows the rest: that is the error to tell of.
            if let Some(unclosed) = p.skip_to_next_statement(first) {
                **error = *unclosed;
            }
        }
        let span = p.span_from(first);
        let ends = matches!(p.token().kind, TokenKind::Separator | TokenKind::BatchSeparator);
        let separator = ends.then_some(p.at as u32);
        Some(Parsed { span, separator, tree: tree.map_err(|e| *e) })
    }
}

impl Parser<'_> {
    fn statement(&mut self) -> Parse<StatementKind<Spelled>> {
        if self.starts_query() {
            if self.with_before_change() {
                return self.change_statement();
            }
            return Ok(StatementKind::Query(Box::new(self.query()?)));
        }
        match self.keyword() {
            Keyword::INSERT | Keyword::UPDATE | Keyword::DELETE | Keyword::MERGE => self.change_statement(),
            Keyword::REPLACE if self.is(&[DialectName::Mysql, DialectName::Mariadb, DialectName::Sqlite]) => self.change_statement(),
            Keyword::CREATE => self.create_statement(),
            Keyword::DECLARE if self.peek(1).kind == TokenKind::Parameter || self.name() == DialectName::Bigquery => self.declare(),
            Keyword::SET if self.peek(1).kind == TokenKind::Parameter && self.peek(2).symbol == Symbol::Equal => {
                self.advance();
                let token = self.advance();
                let name = self.text_of(token).into();
                self.advance();
                Ok(StatementKind::SetVariable(name, self.expression()?))
            }
            Keyword::USE => {
                self.advance();
                Ok(StatementKind::Use(self.object_name("the name of a database")?))
            }
            _ if self.token().kind == TokenKind::Word => self.other_statement(),
            _ => Err(self.expected("a statement")),
        }
    }

    /// WITH can stand before INSERT, UPDATE, DELETE and MERGE; looked for without reading.
    fn with_before_change(&self) -> bool {
        if !self.at_keyword(Keyword::WITH) {
            return false;
        }
        let mut depth = 0i32;
        let mut previous = Keyword::NONE;
        for token in &self.tokens[self.at..] {
            match (token.symbol, token.kind) {
                (Symbol::LeftParen, _) => depth += 1,
                (Symbol::RightParen, _) => depth -= 1,
                (_, TokenKind::Separator | TokenKind::End) => return false,
                _ if depth == 0 => match token.keyword {
                    Keyword::SELECT | Keyword::VALUES => return false,
                    Keyword::INSERT | Keyword::UPDATE | Keyword::DELETE | Keyword::MERGE => {
                        return previous != Keyword::FOR;
                    }
                    _ => {}
                },
                _ => {}
            }
            previous = token.keyword;
        }
        false
    }

    fn declare(&mut self) -> Parse<StatementKind<Spelled>> {
        self.expect_keyword(Keyword::DECLARE)?;
        // `DECLARE @t TABLE (...)` makes a table, not a value.
        let table_variable = self.peek(1).keyword == Keyword::TABLE || self.peek(2).keyword == Keyword::TABLE;
        if table_variable {
            self.go_to(self.at - 1);
            return self.other_statement();
        }
        let declarations = self.list(|p| {
            let token = p.advance();
            let name = p.text_of(token).into();
            p.take_keyword(Keyword::AS);
            let type_name = p.type_name()?;
            let value = if p.take_symbol(Symbol::Equal) || p.take_keyword(Keyword::DEFAULT) { Some(p.expression()?) } else { None };
            Ok(Declaration { name, type_name, value })
        })?;
        Ok(StatementKind::Declare(declarations))
    }

    /// A statement we don't read: its tokens up to where it ends.
    pub(crate) fn other_statement(&mut self) -> Parse<StatementKind<Spelled>> {
        let first = self.at;
        let words: Vec<&str> = (0..3).map(|i| self.peek(i)).take_while(|t| t.kind == TokenKind::Word).map(|t| self.text_of(t)).collect();
        let words = words.join(" ").to_uppercase();
        if !self.keyword().can(Role::BeginsStatement) && !is_known_beginning(&words) {
            return Err(self.expected("a statement"));
        }
        match self.skip_to_next_statement(first) {
            Some(error) => Err(error),
            None => Ok(StatementKind::Other(words.into())),
        }
    }

    fn expect_end(&mut self) -> Parse<()> {
        // SQL Server needs no separator: the next statement begins where this one ends.
        if self.at_end() || (self.name() == DialectName::SqlServer && self.keyword().can(Role::BeginsStatement)) {
            return Ok(());
        }
        // Half of a clause's words: the other half is what is missing.
        let other_half = match self.keyword() {
            Keyword::GROUP | Keyword::ORDER | Keyword::CONNECT => "BY",
            Keyword::START => "WITH",
            Keyword::LEFT | Keyword::RIGHT | Keyword::FULL | Keyword::INNER | Keyword::CROSS | Keyword::NATURAL => "JOIN",
            Keyword::NULLS => "FIRST or LAST",
            _ => return Err(self.expected("the end of the statement")),
        };
        Err(self.error_here(format!("expected {other_half} behind {}", self.keyword().text())))
    }
}

fn is_known_beginning(words: &str) -> bool {
    const BEGINNINGS: &[&str] = &[
        "ANALYZE",
        "ANALYSE",
        "CALL",
        "COMMENT",
        "DEFINE",
        "DO",
        "EXPLAIN",
        "LOCK",
        "RAISE",
        "REPLACE",
        "SHOW",
        "START",
        "UNDEFINE",
        "VACUUM",
        "PRAGMA",
        "ATTACH",
        "DETACH",
        "COPY",
        "LOAD",
        "RENAME",
        "FLASHBACK",
        "PURGE",
        "AUDIT",
        "DENY",
        "BACKUP",
        "RESTORE",
        "KILL",
        "FLUSH",
        "OPTIMIZE",
        "REPAIR",
        "HANDLER",
        "UNLOCK",
        "REINDEX",
        "CHECKPOINT",
        "EXPORT",
        "IMPORT",
        "INSTALL",
        "SUMMARIZE",
        "REFRESH",
        "CACHE",
        "UNCACHE",
        "MSCK",
        "NOTIFY",
        "LISTEN",
        "DISCARD",
        "THROW",
        "RAISERROR",
        "WAITFOR",
        "GOTO",
        "OPEN",
        "CLOSE",
        "DEALLOCATE",
        "PREPARE",
        "CLUSTER",
        "ASSERT",
        "RESET",
        "REASSIGN",
        "PRINT",
        "SIGNAL",
        "HELP",
        "DESCRIBE",
        "CHANGE",
        "STOP",
        "BINLOG",
        "XA",
    ];
    BEGINNINGS.iter().any(|b| words.split(' ').next() == Some(b))
}
