//! Sort keys, row limits, locks and options: what follows the body of a query.

use super::{Parse, Parser};
use crate::dialect::DialectName;
use crate::keyword::{Keyword, Role};
use crate::precedence;
use crate::token::{Symbol, TokenKind};
use crate::tree::{Direction, Expr, ExprKind, LimitClause, LimitKind, NullOrder, PercentForm, SortKey, Span, Spelled};

impl Parser<'_> {
    pub(crate) fn sort_key(&mut self) -> Parse<SortKey<Spelled>> {
        let first = self.at;
        let expr = if self.at_keyword(Keyword::ALL) {
            // DuckDB: ORDER BY ALL.
            let name = self.take_ident();
            Expr { kind: ExprKind::Column(crate::tree::ObjectName::single(name)), span: self.span_from(first) }
        } else {
            self.expression()?
        };
        if matches!(expr.kind, ExprKind::Star(_)) {
            return Err(self.error_at(expr.span, "'*' is no sort key".to_string()));
        }
        let direction = match self.take_any(&[Keyword::ASC, Keyword::DESC]) {
            Some(Keyword::ASC) => Some(Direction::Ascending),
            Some(_) => Some(Direction::Descending),
            None => None,
        };
        let mut nulls = None;
        if self.at_keyword(Keyword::NULLS) {
            nulls = match self.peek(1).keyword {
                Keyword::FIRST => Some(NullOrder::First),
                Keyword::LAST => Some(NullOrder::Last),
                _ => None,
            };
            if nulls.is_some() {
                self.skip(2);
            }
        }
        Ok(SortKey { expr, direction, nulls, span: self.span_from(first) })
    }

    pub(crate) fn limit_clauses(&mut self) -> Parse<Vec<LimitClause<Spelled>>> {
        let mut clauses = Vec::new();
        loop {
            let first = self.at;
            self.check_limit_word(&clauses)?;
            let kind = match self.keyword() {
                Keyword::LIMIT => self.limit()?,
                Keyword::OFFSET => {
                    self.advance();
                    let count = self.expression()?;
                    let rows_word = self.take_any(&[Keyword::ROW, Keyword::ROWS]).is_some();
                    LimitKind::Offset { count, rows_word }
                }
                Keyword::FETCH => self.fetch()?,
                _ => return Ok(clauses),
            };
            clauses.push(LimitClause { kind, span: self.span_from(first) });
        }
    }

    /// Each dialect has its own words for a row limit; another's are no slip to be read over.
    pub(super) fn check_limit_word(&self, before: &[LimitClause<Spelled>]) -> Parse<()> {
        use DialectName::{Bigquery, Mysql, Oracle, Spark, SqlServer, Sqlite};
        let is_pair = matches!(before, [LimitClause { kind: LimitKind::OffsetComma(..), .. }]);
        let advice = match self.keyword() {
            Keyword::OFFSET if is_pair => "LIMIT with a comma has its offset already",
            Keyword::LIMIT if self.is(&[Oracle]) => "Oracle limits rows by FETCH FIRST n ROWS ONLY, or by ROWNUM in a query around",
            Keyword::LIMIT if self.is(&[SqlServer]) => "SQL Server limits rows by TOP (n), or by OFFSET m ROWS FETCH NEXT n ROWS ONLY",
            Keyword::FETCH if self.is(&[Mysql, Sqlite, Bigquery, Spark]) => "this dialect limits rows by LIMIT n OFFSET m",
            Keyword::FETCH if self.is(&[SqlServer]) && before.is_empty() => "SQL Server's FETCH follows an OFFSET: OFFSET 0 ROWS FETCH ...",
            _ => return Ok(()),
        };
        let word = self.keyword().text();
        let mut error = self.error_here(format!("{} has no {word} here", self.name().title()));
        error.advice = Some(advice.to_string());
        Err(error)
    }

    pub(super) fn limit(&mut self) -> Parse<LimitKind<Spelled>> {
        self.expect_keyword(Keyword::LIMIT)?;
        if self.take_keyword(Keyword::ALL) {
            return Ok(LimitKind::All);
        }
        let count = self.expression()?;
        if self.is(&[DialectName::Mysql, DialectName::Mariadb, DialectName::Sqlite]) && self.take_symbol(Symbol::Comma) {
            return Ok(LimitKind::OffsetComma(count, self.expression()?));
        }
        let percent = if self.name() == DialectName::Duckdb && self.take_symbol(Symbol::Percent) {
            Some(PercentForm::Sign)
        } else if self.name() == DialectName::Duckdb && self.take_keyword(Keyword::PERCENT) {
            Some(PercentForm::Word)
        } else {
            None
        };
        Ok(LimitKind::Limit { count, percent })
    }

    pub(super) fn fetch(&mut self) -> Parse<LimitKind<Spelled>> {
        self.expect_keyword(Keyword::FETCH)?;
        let next = match self.take_any(&[Keyword::FIRST, Keyword::NEXT]) {
            Some(word) => word == Keyword::NEXT,
            None => return Err(self.expected("FIRST or NEXT")),
        };
        let count =
            if matches!(self.keyword(), Keyword::ROW | Keyword::ROWS) { None } else { Some(self.expression_above(precedence::AND)?) };
        let percent = self.take_keyword(Keyword::PERCENT);
        if self.take_any(&[Keyword::ROW, Keyword::ROWS]).is_none() {
            return Err(self.expected("ROWS"));
        }
        let with_ties = if self.take_keyword(Keyword::ONLY) {
            false
        } else if self.take_keywords(&[Keyword::WITH, Keyword::TIES]) {
            true
        } else {
            return Err(self.expected("ONLY or WITH TIES"));
        };
        Ok(LimitKind::Fetch { count, percent, with_ties, next })
    }

    /// FOR UPDATE OF x SKIP LOCKED, FOR SHARE, LOCK IN SHARE MODE.
    pub(super) fn locking(&mut self) -> Parse<Option<Span>> {
        let first = self.at;
        loop {
            let locks = self.at_keyword(Keyword::FOR)
                && (matches!(self.peek(1).keyword, Keyword::UPDATE | Keyword::SHARE | Keyword::KEY | Keyword::NO)
                    || self.at_keywords(&[Keyword::FOR, Keyword::KEY]));
            if locks {
                self.advance();
                while matches!(
                    self.keyword(),
                    Keyword::UPDATE | Keyword::SHARE | Keyword::KEY | Keyword::NO | Keyword::NOWAIT | Keyword::SKIP | Keyword::LOCKED
                ) {
                    self.advance();
                }
                if self.take_keyword(Keyword::OF) {
                    self.list(|p| p.object_name("a name"))?;
                }
                while matches!(self.keyword(), Keyword::NOWAIT | Keyword::SKIP | Keyword::LOCKED | Keyword::WAIT) {
                    if self.advance().keyword == Keyword::WAIT {
                        self.advance();
                    }
                }
            } else if self.at_keywords(&[Keyword::LOCK, Keyword::IN, Keyword::SHARE]) {
                self.skip(4);
            } else {
                break;
            }
        }
        Ok((self.at > first).then(|| self.span_from(first)))
    }

    /// OPTION (..), FOR XML .., FOR JSON .. of SQL Server.
    pub(super) fn query_options(&mut self) -> Parse<Option<Span>> {
        if self.name() != DialectName::SqlServer {
            return Ok(None);
        }
        let first = self.at;
        loop {
            if self.at_keyword(Keyword::OPTION) && self.peek(1).symbol == Symbol::LeftParen {
                self.advance();
                self.skip_group()?;
            } else if self.at_keyword(Keyword::FOR)
                && (matches!(self.peek(1).keyword, Keyword::XML | Keyword::JSON)
                    || self.peek(1).kind == TokenKind::Word && self.text_of(self.peek(1)).eq_ignore_ascii_case("BROWSE"))
            {
                self.skip(2);
                while self.token().kind == TokenKind::Word
                    && !self.at_keyword(Keyword::OPTION)
                    && !self.keyword().can(Role::BeginsStatement)
                    || self.at_symbol(Symbol::Comma)
                {
                    self.advance();
                    if self.at_symbol(Symbol::LeftParen) {
                        self.skip_group()?;
                    }
                }
            } else {
                break;
            }
        }
        Ok((self.at > first).then(|| self.span_from(first)))
    }
}
