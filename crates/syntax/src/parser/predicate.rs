//! Predicates: IS, BETWEEN, IN, LIKE and its kin, comparisons with ANY and ALL.

use compact_str::CompactString;

use super::{Parse, Parser};
use crate::dialect::DialectName;
use crate::keyword::Keyword;
use crate::precedence;
use crate::token::Symbol;
use crate::tree::{Between, Expr, ExprKind, InSet, InTest, IsTest, IsWhat, LikeTest, LikeWord, QuantifierWord, Spelled};

type Expression = Expr<Spelled>;

impl Parser<'_> {
    pub(super) fn quantified_set(&mut self) -> Parse<Expression> {
        let first = self.at;
        self.expect_symbol(Symbol::LeftParen)?;
        if self.starts_query() {
            let query = self.query()?;
            self.expect_symbol(Symbol::RightParen)?;
            return Ok(self.made(first, ExprKind::Subquery(Box::new(query))));
        }
        let mut items = self.expression_list()?;
        self.expect_symbol(Symbol::RightParen)?;
        if items.len() == 1 {
            let inner = items.remove(0);
            return Ok(self.made(first, ExprKind::Nested(Box::new(inner))));
        }
        Ok(self.made(first, ExprKind::Row(items)))
    }

    pub(super) fn is_test(&mut self, operand: Expression, first: usize) -> Parse<Expression> {
        self.expect_keyword(Keyword::IS)?;
        let negated = self.take_keyword(Keyword::NOT);
        let what = match self.keyword() {
            Keyword::NULL => IsWhat::Null,
            Keyword::TRUE => IsWhat::True,
            Keyword::FALSE => IsWhat::False,
            Keyword::UNKNOWN => IsWhat::Unknown,
            Keyword::DISTINCT => {
                self.advance();
                self.expect_keyword(Keyword::FROM)?;
                let other = self.expression_above(precedence::COMPARISON + 1)?;
                let test = IsTest { operand, negated, what: IsWhat::DistinctFrom(other), one_word: false };
                return Ok(self.made(first, ExprKind::Is(Box::new(test))));
            }
            _ if self.name() == DialectName::Sqlite => {
                let other = self.expression_above(precedence::COMPARISON + 1)?;
                let test = IsTest { operand, negated, what: IsWhat::Same(other), one_word: false };
                return Ok(self.made(first, ExprKind::Is(Box::new(test))));
            }
            _ => {
                let words = self.is_words()?;
                let test = IsTest { operand, negated, what: IsWhat::Words(words), one_word: false };
                return Ok(self.made(first, ExprKind::Is(Box::new(test))));
            }
        };
        self.advance();
        Ok(self.made(first, ExprKind::Is(Box::new(IsTest { operand, negated, what, one_word: false }))))
    }

    /// JSON [OBJECT|ARRAY|SCALAR|VALUE], EMPTY, A SET, NAN, INFINITE, [form] NORMALIZED, DANGLING.
    pub(super) fn is_words(&mut self) -> Parse<CompactString> {
        const WORDS: &[&str] =
            &["JSON", "EMPTY", "A", "NAN", "INFINITE", "NORMALIZED", "DANGLING", "NFC", "NFD", "NFKC", "NFKD", "DOCUMENT"];
        let first = self.text_of(self.token()).to_uppercase();
        if !WORDS.contains(&first.as_str()) {
            return Err(self.expected("NULL, TRUE, FALSE or DISTINCT FROM"));
        }
        self.advance();
        let mut words = first;
        let follows = |words: &str, next: &str| {
            matches!(
                (words, next),
                ("JSON", "OBJECT" | "ARRAY" | "SCALAR" | "VALUE") | ("A", "SET") | ("NFC" | "NFD" | "NFKC" | "NFKD", "NORMALIZED")
            )
        };
        let next = self.text_of(self.token()).to_uppercase();
        if follows(&words, &next) {
            self.advance();
            words = format!("{words} {next}");
        }
        Ok(words.into())
    }

    /// BETWEEN, IN, LIKE and kin; NOT has been taken.
    pub(super) fn predicate(&mut self, operand: Expression, first: usize, negated: bool) -> Parse<(Expression, bool)> {
        let word = self.advance().keyword;
        let kind = match word {
            Keyword::BETWEEN => {
                let symmetric = self.take_keyword(Keyword::SYMMETRIC);
                self.take_word("ASYMMETRIC");
                let level = precedence::COMPARISON + 1;
                let low = self.expression_above(level)?;
                self.expect_keyword(Keyword::AND)?;
                let high = self.expression_above(level)?;
                ExprKind::Between(Box::new(Between { operand, negated, symmetric, low, high }))
            }
            Keyword::IN => {
                let set = self.in_set()?;
                ExprKind::In(Box::new(InTest { operand, negated, set }))
            }
            _ => {
                let test = self.like_test(operand, negated, word)?;
                ExprKind::Like(Box::new(test))
            }
        };
        Ok((self.made(first, kind), true))
    }

    pub(super) fn in_set(&mut self) -> Parse<InSet<Spelled>> {
        if !self.at_symbol(Symbol::LeftParen) {
            // BigQuery: IN UNNEST(x); DuckDB: IN list; a parameter that holds a list.
            return Ok(InSet::Value(self.expression_above(precedence::COMPARISON + 1)?));
        }
        if self.starts_query() {
            self.advance();
            let query = self.query()?;
            self.expect_symbol(Symbol::RightParen)?;
            return Ok(InSet::Query(query));
        }
        self.advance();
        // SQLite allows an empty list.
        if self.name() == DialectName::Sqlite && self.take_symbol(Symbol::RightParen) {
            return Ok(InSet::List(Vec::new()));
        }
        let items = self.expression_list()?;
        self.expect_symbol(Symbol::RightParen)?;
        Ok(InSet::List(items))
    }

    pub(super) fn like_test(&mut self, operand: Expression, negated: bool, word: Keyword) -> Parse<LikeTest<Spelled>> {
        let word = match word {
            Keyword::ILIKE => LikeWord::Ilike,
            Keyword::SIMILAR => {
                self.expect_keyword(Keyword::TO)?;
                LikeWord::SimilarTo
            }
            Keyword::GLOB => LikeWord::Glob,
            Keyword::RLIKE => LikeWord::Rlike,
            Keyword::REGEXP => LikeWord::Regexp,
            Keyword::MATCH => LikeWord::Match,
            _ => LikeWord::Like,
        };
        let quantifier = match self.keyword() {
            Keyword::ANY if self.peek(1).symbol == Symbol::LeftParen => Some(QuantifierWord::Any),
            Keyword::SOME if self.peek(1).symbol == Symbol::LeftParen => Some(QuantifierWord::Some),
            Keyword::ALL if self.peek(1).symbol == Symbol::LeftParen => Some(QuantifierWord::All),
            _ => None,
        };
        if quantifier.is_some() {
            self.advance();
            let pattern = self.quantified_set()?;
            return Ok(LikeTest { operand, negated, word, quantifier, pattern, escape: None });
        }
        let pattern = self.expression_above(precedence::COMPARISON + 6)?;
        let escape = if self.take_keyword(Keyword::ESCAPE) { Some(self.expression_above(precedence::COMPARISON + 6)?) } else { None };
        Ok(LikeTest { operand, negated, word, quantifier, pattern, escape })
    }
}
