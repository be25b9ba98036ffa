//! Tokens to tree: recursive descent for statements and clauses, precedence climbing for
//! expressions. One grammar for all dialects; spelling facts are asked where they differ.

mod boundary;
mod call;
mod change;
mod constructor;
mod definition;
mod expression;
mod limit;
mod predicate;
mod query;
mod script;
mod table;
mod type_name;

use crate::dialect::{Dialect, DialectName};
use crate::keyword::Keyword;
use crate::reserved;
use crate::spelling::Spelling;
use crate::token::{Symbol, Token, TokenKind};
use crate::tree::{Expr, Ident, ObjectName, Quote, Span, Spelled};

pub use script::{Parsed, Statements};

/// How deep expressions and queries may be nested.
pub const MAX_NESTING: u32 = 400;
/// How many operators of one level may follow each other.
const MAX_CHAIN: u32 = 20_000;

/// A place where the text is not what the grammar expects.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("{message}")]
pub struct SyntaxError {
    /// What is wrong and what was expected, in plain words.
    pub message: String,
    /// What to do about it, if there is something to say.
    pub advice: Option<String>,
    /// The tokens it is about.
    pub span: Span,
}

/// Reads `tokens` as one expression, as the lexer made them of `source`.
pub fn parse_expression(source: &str, tokens: &[Token], dialect: &Dialect) -> Result<Expr<Spelled>, SyntaxError> {
    let mut parser = Parser::new(source, tokens, dialect);
    let expr = parser.expression().map_err(|e| *e)?;
    if parser.at_end() { Ok(expr) } else { Err(*parser.expected("the end of the expression")) }
}

pub(crate) type Parse<T> = Result<T, Box<SyntaxError>>;

/// The tokens of a text being read.
pub(crate) struct Parser<'a> {
    pub(crate) source: &'a str,
    pub(crate) tokens: &'a [Token],
    /// The place of the next token; [`Parser::go_to`] sets it.
    pub(crate) at: usize,
    /// The next token, which is looked at far more often than taken.
    next: Token,
    pub(crate) dialect: &'a Dialect,
    pub(crate) spelling: Spelling,
    depth: u32,
    /// A `>>` of which one `>` has been taken.
    half_closed: u32,
    /// Places where a nested join was looked for.
    tried_joins: std::collections::HashSet<usize>,
}

impl<'a> Parser<'a> {
    pub(crate) fn new(source: &'a str, tokens: &'a [Token], dialect: &'a Dialect) -> Self {
        Parser {
            source,
            tokens,
            at: 0,
            next: tokens[0],
            dialect,
            spelling: Spelling::of(dialect),
            depth: 0,
            half_closed: u32::MAX,
            tried_joins: std::collections::HashSet::new(),
        }
    }

    pub(crate) fn name(&self) -> DialectName {
        self.dialect.name
    }

    pub(crate) fn is(&self, dialects: &[DialectName]) -> bool {
        dialects.contains(&self.dialect.name)
    }

    // --- looking -------------------------------------------------------------------------------

    /// The token `ahead` of the next one.
    pub(crate) fn peek(&self, ahead: usize) -> Token {
        self.tokens[(self.at + ahead).min(self.tokens.len() - 1)]
    }

    pub(crate) fn token(&self) -> Token {
        self.next
    }

    pub(crate) fn keyword(&self) -> Keyword {
        self.next.keyword
    }

    pub(crate) fn symbol(&self) -> Symbol {
        self.next.symbol
    }

    pub(crate) fn text_of(&self, token: Token) -> &'a str {
        token.text(self.source)
    }

    pub(crate) fn at_keyword(&self, keyword: Keyword) -> bool {
        self.keyword() == keyword
    }

    pub(crate) fn at_keywords(&self, keywords: &[Keyword]) -> bool {
        keywords.iter().enumerate().all(|(i, k)| self.peek(i).keyword == *k)
    }

    pub(crate) fn at_symbol(&self, symbol: Symbol) -> bool {
        self.symbol() == symbol
    }

    /// The next token is the unquoted word `word`, which is not in the keyword list.
    pub(crate) fn at_word(&self, word: &str) -> bool {
        let token = self.token();
        token.kind == TokenKind::Word && token.bytes(self.source).eq_ignore_ascii_case(word.as_bytes())
    }

    pub(crate) fn at_end(&self) -> bool {
        matches!(self.token().kind, TokenKind::End | TokenKind::Separator | TokenKind::BatchSeparator | TokenKind::Directive)
    }

    pub(crate) fn starts_query(&self) -> bool {
        self.starts_query_at(0)
    }

    fn starts_query_at(&self, ahead: usize) -> bool {
        match self.peek(ahead).keyword {
            Keyword::SELECT | Keyword::WITH => true,
            Keyword::VALUES => {
                let next = self.peek(ahead + 1);
                next.symbol == Symbol::LeftParen || next.keyword == Keyword::ROW || self.name() == DialectName::Spark
            }
            Keyword::FROM => self.is(&[DialectName::Duckdb, DialectName::Spark]),
            Keyword::TABLE => {
                self.peek(ahead + 1).symbol != Symbol::LeftParen
                    && self.is(&[DialectName::Postgres, DialectName::Mysql, DialectName::Duckdb, DialectName::Spark])
            }
            _ => self.peek(ahead).symbol == Symbol::LeftParen && self.starts_query_at(ahead + 1),
        }
    }

    // --- taking --------------------------------------------------------------------------------

    /// Goes on at the token of this place, or at the last one.
    pub(crate) fn go_to(&mut self, at: usize) {
        self.at = at.min(self.tokens.len() - 1);
        self.next = self.tokens[self.at];
    }

    pub(crate) fn advance(&mut self) -> Token {
        let token = self.next;
        if let Some(next) = self.tokens.get(self.at + 1) {
            self.at += 1;
            self.next = *next;
        }
        token
    }

    /// Takes so many tokens, those there are.
    pub(crate) fn skip(&mut self, tokens: usize) {
        self.go_to(self.at + tokens);
    }

    /// Takes the next token for its text.
    pub(crate) fn take_text(&mut self) -> &'a str {
        let token = self.advance();
        self.text_of(token)
    }

    pub(crate) fn take_keyword(&mut self, keyword: Keyword) -> bool {
        let found = self.at_keyword(keyword);
        if found {
            self.advance();
        }
        found
    }

    pub(crate) fn take_keywords(&mut self, keywords: &[Keyword]) -> bool {
        let found = self.at_keywords(keywords);
        if found {
            for _ in keywords {
                self.advance();
            }
        }
        found
    }

    pub(crate) fn take_any(&mut self, keywords: &[Keyword]) -> Option<Keyword> {
        let found = keywords.iter().copied().find(|k| self.at_keyword(*k))?;
        self.advance();
        Some(found)
    }

    pub(crate) fn take_word(&mut self, word: &str) -> bool {
        let found = self.at_word(word);
        if found {
            self.advance();
        }
        found
    }

    pub(crate) fn take_symbol(&mut self, symbol: Symbol) -> bool {
        let found = self.at_symbol(symbol);
        if found {
            self.advance();
        }
        found
    }

    pub(crate) fn expect_keyword(&mut self, keyword: Keyword) -> Parse<()> {
        if self.take_keyword(keyword) {
            return Ok(());
        }
        Err(self.expected(keyword.text()))
    }

    pub(crate) fn expect_symbol(&mut self, symbol: Symbol) -> Parse<()> {
        if self.take_symbol(symbol) {
            return Ok(());
        }
        Err(self.expected(&format!("'{}'", symbol.text())))
    }

    /// From the token at `first` to the last one taken.
    pub(crate) fn span_from(&self, first: usize) -> Span {
        Span { first: first as u32, end: self.at as u32 }
    }

    // --- errors --------------------------------------------------------------------------------

    /// "expected X, found Y" at the next token.
    pub(crate) fn expected(&self, what: &str) -> Box<SyntaxError> {
        let token = self.token();
        let message = match token.kind {
            TokenKind::Unclosed => return self.unclosed(token),
            TokenKind::End => format!("expected {what}, but the text ends here"),
            TokenKind::Separator | TokenKind::BatchSeparator => {
                format!("expected {what}, but the statement ends here")
            }
            _ => format!("expected {what}, found '{}'", shorten(self.text_of(token))),
        };
        self.error_here(message)
    }

    fn unclosed(&self, token: Token) -> Box<SyntaxError> {
        let text = self.text_of(token);
        let (what, close) = match text.as_bytes().first() {
            Some(b'/') => ("comment", "*/"),
            Some(b'"') => ("quoted name", "\""),
            Some(b'`') => ("quoted name", "`"),
            Some(b'[') => ("quoted name", "]"),
            Some(b'$') => ("dollar-quoted text", "the same $tag$"),
            _ => ("text literal", "'"),
        };
        let mut error = self.error_here(format!("this {what} is never closed"));
        error.advice = Some(format!("close it with {close}"));
        error
    }

    pub(crate) fn error_here(&self, message: String) -> Box<SyntaxError> {
        let at = self.at as u32;
        self.error_at(Span { first: at, end: at + 1 }, message)
    }

    #[allow(clippy::unused_self)]
    pub(crate) fn error_at(&self, span: Span, message: String) -> Box<SyntaxError> {
        Box::new(SyntaxError { message, advice: None, span })
    }

    /// Runs `read` one level deeper, with room on the stack for it.
    pub(crate) fn deeper<T>(&mut self, read: impl FnOnce(&mut Self) -> Parse<T>) -> Parse<T> {
        if self.depth >= MAX_NESTING {
            let mut error = self.error_here(format!("the nesting is deeper than {MAX_NESTING} levels"));
            error.advice = Some("split the statement, or drop parentheses that do nothing".to_string());
            return Err(error);
        }
        self.depth += 1;
        // A look at the stack costs more than the levels between two looks.
        let result = if self.depth.is_multiple_of(8) { crate::with_stack(|| read(self)) } else { read(self) };
        self.depth -= 1;
        result
    }

    pub(crate) fn check_chain(&self, length: u32) -> Parse<()> {
        if length < MAX_CHAIN {
            return Ok(());
        }
        Err(self.error_here(format!("more than {MAX_CHAIN} operators follow each other here")))
    }

    // --- names ---------------------------------------------------------------------------------

    /// The next token can be a name where an expression or table is expected.
    pub(crate) fn at_name(&self) -> bool {
        let token = self.token();
        match token.kind {
            TokenKind::QuotedName => true,
            TokenKind::Word => token.keyword == Keyword::NONE || !self.is_reserved(token),
            _ => false,
        }
    }

    pub(crate) fn is_reserved(&self, token: Token) -> bool {
        reserved::is_reserved(self.dialect.name, token.bytes(self.source))
    }

    /// A name in a place where only a name can stand; `what` is for the message.
    pub(crate) fn ident(&mut self, what: &str) -> Parse<Ident> {
        let token = self.token();
        let fits = match token.kind {
            TokenKind::QuotedName => true,
            TokenKind::Word => token.keyword == Keyword::NONE || !self.is_reserved(token),
            _ => false,
        };
        if fits {
            return Ok(self.take_ident());
        }
        Err(self.expected(what))
    }

    /// A name after a point or AS: reserved words too, as most engines allow.
    pub(crate) fn any_ident(&mut self, what: &str) -> Parse<Ident> {
        match self.token().kind {
            TokenKind::QuotedName | TokenKind::Word => Ok(self.take_ident()),
            _ => Err(self.expected(what)),
        }
    }

    /// The next token as a name, unconditionally.
    pub(crate) fn take_ident(&mut self) -> Ident {
        let index = self.at as u32;
        let token = self.advance();
        let text = self.text_of(token);
        match token.kind {
            TokenKind::QuotedName => Ident { text: crate::literal::unquote_name(text), quote: Quote::Name, token: index },
            TokenKind::String => Ident { text: crate::literal::decode_text(text, &self.spelling), quote: Quote::Text, token: index },
            _ => Ident { text: text.into(), quote: Quote::None, token: index },
        }
    }

    /// `a.b.c`.
    pub(crate) fn object_name(&mut self, what: &str) -> Parse<ObjectName> {
        let first = self.ident(what)?;
        self.object_name_from(first)
    }

    pub(crate) fn object_name_from(&mut self, first: Ident) -> Parse<ObjectName> {
        let mut parts = Vec::with_capacity(2);
        self.push_path(first, &mut parts);
        while self.at_symbol(Symbol::Period) && self.peek(1).symbol != Symbol::Star {
            self.advance();
            // SQL Server: `db..table` leaves the schema out.
            if self.at_symbol(Symbol::Period) {
                parts.push(Ident::synthetic(""));
                continue;
            }
            let next = self.any_ident("a name after the '.'")?;
            self.push_path(next, &mut parts);
        }
        // Oracle: a database link.
        if self.name() == DialectName::Oracle && self.at_symbol(Symbol::At) {
            return Err(self.error_here("a table behind a database link (@) can't be read".to_string()));
        }
        Ok(ObjectName { parts })
    }

    /// Adds a part of a name; BigQuery writes whole paths in one pair of backticks.
    fn push_path(&self, ident: Ident, parts: &mut Vec<Ident>) {
        if self.name() == DialectName::Bigquery && ident.quote == Quote::Name && ident.text.contains('.') {
            parts.extend(ident.text.split('.').map(|part| Ident { text: part.into(), quote: Quote::Name, token: ident.token }));
        } else {
            parts.push(ident);
        }
    }

    /// `(a, b, c)` of names.
    pub(crate) fn name_list(&mut self, what: &str) -> Parse<Vec<Ident>> {
        self.expect_symbol(Symbol::LeftParen)?;
        let mut names = vec![self.any_ident(what)?];
        while self.take_symbol(Symbol::Comma) {
            names.push(self.any_ident(what)?);
        }
        self.expect_symbol(Symbol::RightParen)?;
        Ok(names)
    }

    /// One or more of what `read` reads, parted by commas.
    pub(crate) fn list<T>(&mut self, read: impl Fn(&mut Self) -> Parse<T>) -> Parse<Vec<T>> {
        let first = read(self)?;
        if !self.at_symbol(Symbol::Comma) {
            return Ok(vec![first]);
        }
        let mut items = Vec::with_capacity(4);
        items.push(first);
        while self.take_symbol(Symbol::Comma) {
            items.push(read(self)?);
        }
        Ok(items)
    }

    /// A list of expressions.
    pub(crate) fn expression_list(&mut self) -> Parse<Vec<Expr<Spelled>>> {
        self.list(Self::expression)
    }

    /// Skips a group in parentheses, the opening one being next.
    pub(crate) fn skip_group(&mut self) -> Parse<()> {
        let open = self.at as u32;
        self.expect_symbol(Symbol::LeftParen)?;
        let mut depth = 1;
        while depth > 0 {
            match (self.token().kind, self.symbol()) {
                (_, Symbol::LeftParen) => depth += 1,
                (_, Symbol::RightParen) => depth -= 1,
                (TokenKind::End | TokenKind::Separator | TokenKind::BatchSeparator, _) => {
                    return Err(self.error_at(Span { first: open, end: open + 1 }, "this parenthesis is never closed".to_string()));
                }
                _ => {}
            }
            self.advance();
        }
        Ok(())
    }
}

/// Long tokens are cut for a message.
fn shorten(text: &str) -> String {
    if text.chars().count() <= 30 {
        return text.to_string();
    }
    let start: String = text.chars().take(27).collect();
    format!("{start}...")
}
