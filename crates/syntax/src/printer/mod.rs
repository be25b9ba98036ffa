//! Tree to tokens.
//!
//! Every printed token carries the source token it came from, if any, so that the layout can give
//! it its old blanks and comments. Names, literals and verbatim stretches know their source token
//! by themselves. Keywords and punctuation find theirs by a cursor that follows the source while
//! the tree is printed: entering a node sets it to the node's first token, and a fixed token that
//! equals the one at the cursor is that one.

mod call;
mod change;
mod expression;
mod query;
mod table;

use std::borrow::Cow;

use crate::dialect::{Dialect, DialectName};
use crate::literal::quote_name;
use crate::spelling::Spelling;
use crate::token::{Token, TokenKind};
use crate::tree::{Expr, Ident, ObjectName, Quote, Span, Spelled, Statement, StatementKind};

/// A token to be written.
#[derive(Debug, Clone, PartialEq)]
pub struct Printed {
    /// Its text; none if it is that of the source token.
    pub made: Option<Cow<'static, str>>,
    /// The source token it came from, `u32::MAX` if none.
    pub source: u32,
    /// The blank before it, where the source gives none.
    pub glue: Glue,
    /// What begins or ends with it, for formatting.
    pub mark: Mark,
}

impl Printed {
    /// Its text, of a statement read from `source` and `tokens`.
    pub fn text<'b>(&'b self, source: &'b str, tokens: &[Token]) -> &'b str {
        match &self.made {
            Some(text) => text,
            None => tokens.get(self.source as usize).map_or("", |t| t.text(source)),
        }
    }
}

/// The blank before a token that has no place in the source.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Glue {
    /// None.
    Tight,
    /// One blank.
    Space,
}

/// What a token begins or ends.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Mark {
    /// Nothing.
    None,
    /// A clause of a query.
    Clause,
    /// A join.
    Join,
    /// An element of a select list or an assignment.
    Item,
    /// AND or OR of a condition.
    Condition,
    /// The parenthesis before a query.
    OpenQuery,
    /// The parenthesis after it.
    CloseQuery,
}

/// Where parentheses are written that are no node of the tree.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Parentheses {
    /// Where the dialect's precedences would read another tree without them.
    Needed,
    /// Nowhere: the tree was read from a text of this dialect, which had what it needs.
    AsRead,
    /// Around every operation, to prove the grammar's precedences.
    Everywhere,
}

/// Prints `statement` as `dialect` spells it. `source` and `tokens` are those it was read from.
pub fn print<'a>(
    statement: &Statement<Spelled>,
    source: &'a str,
    tokens: &'a [Token],
    dialect: &'a Dialect,
    parentheses: Parentheses,
) -> Vec<Printed> {
    let mut printer = Printer::new(source, tokens, dialect, parentheses);
    printer.out.reserve((statement.span.end.wrapping_sub(statement.span.first) as usize).min(tokens.len()) + 8);
    printer.lower_case = statement.span.is_read() && first_word_is_lower(source, tokens, statement.span);
    printer.statement(statement);
    printer.out
}

/// Prints an expression alone.
pub fn print_expression<'a>(
    expr: &Expr<Spelled>,
    source: &'a str,
    tokens: &'a [Token],
    dialect: &'a Dialect,
    parentheses: Parentheses,
) -> Vec<Printed> {
    let mut printer = Printer::new(source, tokens, dialect, parentheses);
    printer.expr(expr, 0);
    printer.out
}

fn first_word_is_lower(source: &str, tokens: &[Token], span: Span) -> bool {
    let words = &tokens[span.first as usize..(span.end as usize).min(tokens.len())];
    words.iter().find(|t| t.kind == TokenKind::Word).is_some_and(|t| t.text(source).bytes().all(|b| !b.is_ascii_uppercase()))
}

pub(crate) struct Printer<'a> {
    source: &'a str,
    tokens: &'a [Token],
    dialect: &'a Dialect,
    spelling: Spelling,
    parentheses: Parentheses,
    lower_case: bool,
    /// The source token expected next.
    cursor: usize,
    /// Fixed tokens match only before this one.
    end: usize,
    next_mark: Mark,
    out: Vec<Printed>,
}

impl<'a> Printer<'a> {
    fn new(source: &'a str, tokens: &'a [Token], dialect: &'a Dialect, parentheses: Parentheses) -> Self {
        Printer {
            source,
            tokens,
            dialect,
            spelling: Spelling::of(dialect),
            parentheses,
            lower_case: false,
            cursor: 0,
            end: 0,
            next_mark: Mark::None,
            out: Vec::new(),
        }
    }

    fn is(&self, dialects: &[DialectName]) -> bool {
        dialects.contains(&self.dialect.name)
    }

    // --- nodes and the cursor ------------------------------------------------------------------

    /// Prints a node read from `span`: fixed tokens match inside it.
    fn node(&mut self, span: Span, print: impl FnOnce(&mut Self)) {
        if !span.is_read() {
            // A made node has no tokens of its own; nothing must match by accident.
            let (cursor, end) = (self.cursor, self.end);
            self.end = 0;
            print(self);
            (self.cursor, self.end) = (cursor, end);
            return;
        }
        let end = self.end;
        self.cursor = span.first as usize;
        self.end = span.end as usize;
        print(self);
        self.cursor = span.end as usize;
        self.end = end;
    }

    /// The token printed last is `text`.
    fn ends_with(&self, text: &str) -> bool {
        self.out.last().is_some_and(|t| t.text(self.source, self.tokens) == text)
    }

    fn at_cursor(&self, text: &str) -> bool {
        self.cursor < self.end && {
            let token = self.tokens[self.cursor];
            // Tokens differ in length far more often than in letters, and are short: no call is made.
            (token.end - token.start) as usize == text.len() && {
                token.bytes(self.source).iter().zip(text.as_bytes()).all(|(a, b)| a == b || a.eq_ignore_ascii_case(b))
            }
        }
    }

    fn mark(&mut self, mark: Mark) {
        self.next_mark = mark;
    }

    /// A token with a text of its own; `source` is the one it represents, if any.
    fn push_made(&mut self, text: impl Into<Cow<'static, str>>, source: u32, glue: Glue) {
        self.push(Some(text.into()), source, glue);
    }

    /// A token as it is in the source.
    fn push_kept(&mut self, source: u32, glue: Glue) {
        self.push(None, source, glue);
    }

    fn push(&mut self, made: Option<Cow<'static, str>>, source: u32, glue: Glue) {
        let mark = std::mem::replace(&mut self.next_mark, Mark::None);
        self.out.push(Printed { made, source, glue, mark });
    }

    /// A keyword or sign; takes its source's letters if it is at the cursor.
    fn fixed(&mut self, text: &'static str, glue: Glue) {
        if self.at_cursor(text) {
            self.push_kept(self.cursor as u32, glue);
            self.cursor += 1;
        } else if self.lower_case && text.as_bytes()[0].is_ascii_alphabetic() {
            self.push_made(text.to_ascii_lowercase(), u32::MAX, glue);
        } else {
            self.push_made(text, u32::MAX, glue);
        }
    }

    /// A keyword.
    fn word(&mut self, text: &'static str) {
        self.fixed(text, Glue::Space);
    }

    /// Several keywords.
    fn words(&mut self, words: &[&'static str]) {
        for word in words {
            self.word(word);
        }
    }

    /// Keywords that begin a clause.
    fn clause(&mut self, words: &[&'static str]) {
        self.mark(Mark::Clause);
        self.words(words);
    }

    /// The first of `words`, or another of them if that is what the source says here.
    fn one_of(&mut self, words: &[&'static str]) {
        let found = words.iter().find(|w| self.at_cursor(w)).unwrap_or(&words[0]);
        self.word(found);
    }

    /// A word that says nothing: kept if the source has it here.
    fn optional(&mut self, text: &'static str) {
        if self.at_cursor(text) {
            self.word(text);
        }
    }

    /// A sign with a blank before it.
    fn sign(&mut self, text: &'static str) {
        self.fixed(text, Glue::Space);
    }

    /// A sign that clings to what is before it.
    fn tight(&mut self, text: &'static str) {
        self.fixed(text, Glue::Tight);
    }

    /// An opening parenthesis after a word or operator.
    fn open(&mut self) {
        self.sign("(");
    }

    /// The parenthesis that ends the node whose last token is before `end`.
    fn close_at(&mut self, span: Span) {
        if span.is_read() {
            self.cursor = span.end as usize - 1;
        }
        self.tight(")");
    }

    /// The tokens of `span` as they are.
    fn verbatim(&mut self, span: Span) {
        for index in span.first..span.end {
            self.push_kept(index, Glue::Space);
            self.cursor = index as usize + 1;
        }
    }

    fn optional_verbatim(&mut self, span: Option<Span>) {
        if let Some(span) = span {
            self.verbatim(span);
        }
    }

    fn comma_list<T>(&mut self, items: &[T], print: impl Fn(&mut Self, &T)) {
        for (i, item) in items.iter().enumerate() {
            if i > 0 {
                self.tight(",");
            }
            print(self, item);
        }
    }

    // --- names ---------------------------------------------------------------------------------

    fn ident(&mut self, ident: &Ident) {
        self.ident_with(ident, Glue::Space);
    }

    fn ident_with(&mut self, ident: &Ident, glue: Glue) {
        if ident.text.is_empty() && ident.quote == Quote::None {
            return;
        }
        if self.is_kept(ident) {
            self.push_kept(ident.token, glue);
        } else {
            self.push_made(self.spell(ident), ident.token, glue);
        }
        if ident.token != u32::MAX {
            self.cursor = ident.token as usize + 1;
        }
    }

    /// The source's own token says this very name.
    fn is_kept(&self, ident: &Ident) -> bool {
        let Some(token) = self.tokens.get(ident.token as usize) else { return false };
        if ident.quote == Quote::None {
            return token.bytes(self.source) == ident.text.as_bytes();
        }
        let source = token.text(self.source);
        source == self.spell(ident) || self.means_the_same(*token, source, ident)
    }

    /// The name as text.
    fn spell(&self, ident: &Ident) -> String {
        match ident.quote {
            Quote::None => ident.text.to_string(),
            Quote::Name => quote_name(&ident.text, &self.spelling),
            Quote::Text => crate::literal::write_text(&ident.text, &self.spelling),
        }
    }

    /// The source token is this very name in another of the dialect's quotes.
    fn means_the_same(&self, token: Token, source: &str, ident: &Ident) -> bool {
        let spoken = match source.as_bytes().first() {
            Some(b'"') => !self.spelling.double_quote_is_text || ident.quote == Quote::Text,
            Some(b'`') => self.spelling.backtick_names,
            Some(b'[') => self.spelling.bracket_names,
            Some(b'\'' | b'N' | b'n') => ident.quote == Quote::Text,
            _ => false,
        };
        match (token.kind, ident.quote) {
            (TokenKind::QuotedName, Quote::Name) => spoken && crate::literal::unquote_name(source) == ident.text,
            (TokenKind::String, Quote::Text) => spoken && crate::literal::decode_text(source, &self.spelling) == ident.text,
            _ => false,
        }
    }

    pub(crate) fn object_name(&mut self, name: &ObjectName) {
        self.object_name_with(name, Glue::Space);
    }

    fn object_name_with(&mut self, name: &ObjectName, glue: Glue) {
        if let [only] = name.parts.as_slice() {
            return self.ident_with(only, glue);
        }
        let mut before: Option<&Ident> = None;
        for part in &name.parts {
            // One pair of backticks around a whole path (BigQuery).
            if before.is_some_and(|b| b.token == part.token && b.token != u32::MAX) {
                continue;
            }
            if before.is_some() {
                self.tight(".");
            }
            let whole_path = part.token != u32::MAX && name.parts.iter().filter(|p| p.token == part.token).count() > 1;
            if whole_path {
                self.whole_path(name, part);
            } else {
                self.ident_with(part, if before.is_some() { Glue::Tight } else { glue });
            }
            before = Some(part);
        }
    }

    fn whole_path(&mut self, name: &ObjectName, first: &Ident) {
        if self.dialect.name == DialectName::Bigquery {
            self.push_kept(first.token, Glue::Space);
        } else {
            let parts: Vec<String> = name.parts.iter().filter(|p| p.token == first.token).map(|p| self.spell(p)).collect();
            self.push_made(parts.join("."), first.token, Glue::Space);
        }
        self.cursor = first.token as usize + 1;
    }

    fn name_list(&mut self, names: &[Ident]) {
        self.open();
        self.comma_list(names, Self::ident);
        self.tight(")");
    }

    // --- statements ----------------------------------------------------------------------------

    fn statement(&mut self, statement: &Statement<Spelled>) {
        self.node(statement.span, |p| match &statement.kind {
            StatementKind::Query(query) => p.query(query),
            StatementKind::Insert(insert) => p.insert(insert),
            StatementKind::Update(update) => p.update(update),
            StatementKind::Delete(delete) => p.delete(delete),
            StatementKind::Merge(merge) => p.merge(merge),
            StatementKind::CreateView(view) => {
                p.verbatim(view.head);
                p.query(&view.query);
                p.optional_verbatim(view.trailing);
            }
            StatementKind::CreateTable(_)
            | StatementKind::CreateType(_)
            | StatementKind::CreateFunction(_)
            | StatementKind::Declare(_)
            | StatementKind::SetVariable(..)
            | StatementKind::Use(_)
            | StatementKind::Other(_)
            | StatementKind::Directive => p.verbatim(statement.span),
        });
    }
}
