//! Expressions that begin with a word of their own: CASE, casts, intervals, arrays, structs, lambdas.

use compact_str::CompactString;

use super::{Parse, Parser};
use crate::dialect::DialectName;
use crate::keyword::Keyword;
use crate::precedence;
use crate::token::{Symbol, Token, TokenKind};
use crate::tree::{
    ArrayForm, ArrayLiteral, Case, Cast, CastForm, Expr, ExprKind, Ident, Interval, Lambda, ObjectName, Spelled, StructForm, StructLiteral,
    TypeName,
};

type Expression = Expr<Spelled>;

impl Parser<'_> {
    pub(super) fn case(&mut self, first: usize) -> Parse<Expression> {
        self.expect_keyword(Keyword::CASE)?;
        let operand = if self.at_keyword(Keyword::WHEN) { None } else { Some(self.expression()?) };
        let mut branches = Vec::new();
        while self.take_keyword(Keyword::WHEN) {
            let when = self.expression()?;
            self.expect_keyword(Keyword::THEN)?;
            branches.push((when, self.expression()?));
        }
        if branches.is_empty() {
            return Err(self.expected("WHEN"));
        }
        let otherwise = if self.take_keyword(Keyword::ELSE) { Some(self.expression()?) } else { None };
        self.expect_keyword(Keyword::END)?;
        Ok(self.made(first, ExprKind::Case(Box::new(Case { operand, branches, otherwise }))))
    }

    pub(super) fn cast(&mut self, first: usize) -> Parse<Option<Expression>> {
        let word = self.keyword();
        let type_first = match (word, self.name()) {
            (Keyword::CONVERT | Keyword::TRY_CONVERT, DialectName::SqlServer) => true,
            (Keyword::CONVERT, DialectName::Mysql | DialectName::Mariadb) => return self.mysql_convert(first).map(Some),
            (Keyword::CONVERT | Keyword::TRY_CONVERT, _) => return Ok(None),
            _ => false,
        };
        self.advance();
        self.expect_symbol(Symbol::LeftParen)?;
        let cast = if type_first { self.type_and_operand(word)? } else { self.operand_and_type(word)? };
        self.expect_symbol(Symbol::RightParen)?;
        Ok(Some(self.made(first, ExprKind::Cast(Box::new(cast)))))
    }

    /// `t, x [, style]` of SQL Server's CONVERT.
    fn type_and_operand(&mut self, word: Keyword) -> Parse<Cast<Spelled>> {
        let form = if word == Keyword::CONVERT { CastForm::Convert } else { CastForm::TryConvert };
        let to = self.type_name()?;
        self.expect_symbol(Symbol::Comma)?;
        let operand = self.expression()?;
        let extra = if self.take_symbol(Symbol::Comma) { Some(self.expression()?) } else { None };
        Ok(Cast { form, operand, to, extra })
    }

    /// `x AS t` with what may follow it.
    fn operand_and_type(&mut self, word: Keyword) -> Parse<Cast<Spelled>> {
        let form = match word {
            Keyword::TRY_CAST => CastForm::TryCast,
            Keyword::SAFE_CAST => CastForm::SafeCast,
            _ => CastForm::Cast,
        };
        let operand = self.expression()?;
        self.expect_keyword(Keyword::AS)?;
        let to = self.type_name()?;
        if self.take_keyword(Keyword::FORMAT) {
            return Ok(Cast { form, operand, to, extra: Some(self.expression()?) });
        }
        if self.name() == DialectName::Oracle && self.at_keyword(Keyword::DEFAULT) {
            return Ok(Cast { form: CastForm::OnError, operand, to, extra: Some(self.given_on_error()?) });
        }
        Ok(Cast { form, operand, to, extra: None })
    }

    /// DEFAULT d ON CONVERSION ERROR.
    fn given_on_error(&mut self) -> Parse<Expression> {
        self.expect_keyword(Keyword::DEFAULT)?;
        let given = self.expression()?;
        self.expect_keyword(Keyword::ON)?;
        if !self.take_word("CONVERSION") {
            return Err(self.expected("CONVERSION ERROR"));
        }
        self.expect_keyword(Keyword::ERROR)?;
        Ok(given)
    }

    /// TO_NUMBER with DEFAULT and VALIDATE_CONVERSION of Oracle, without formats: casts by another name.
    /// The name has been taken, the parenthesis is next.
    pub(super) fn oracle_conversion(&mut self, first: usize, name: &ObjectName) -> Parse<Option<Expression>> {
        let Some(name) = name.as_single() else { return Ok(None) };
        let (form, word) = if name.is_word("TO_NUMBER") {
            (CastForm::ToNumberOnError, Keyword::DEFAULT)
        } else if name.is_word("VALIDATE_CONVERSION") {
            (CastForm::Validate, Keyword::AS)
        } else {
            return Ok(None);
        };
        let parts = self.parts_of_group(0);
        if parts.iter().any(|t| t.symbol == Symbol::Comma) || !parts.iter().any(|t| t.keyword == word) {
            return Ok(None);
        }
        self.expect_symbol(Symbol::LeftParen)?;
        let operand = self.expression()?;
        let (to, extra) = if form == CastForm::Validate {
            self.expect_keyword(Keyword::AS)?;
            (self.type_name()?, None)
        } else {
            (TypeName::synthetic("NUMBER", Vec::new()), Some(self.given_on_error()?))
        };
        self.expect_symbol(Symbol::RightParen)?;
        Ok(Some(self.made(first, ExprKind::Cast(Box::new(Cast { form, operand, to, extra })))))
    }

    /// PARSE and TRY_PARSE of SQL Server. The name has been taken, the parenthesis is next.
    pub(super) fn parsed_text(&mut self, first: usize, name: &ObjectName) -> Parse<Option<Expression>> {
        let Some(name) = name.as_single() else { return Ok(None) };
        let form = match (name.is_word("PARSE"), name.is_word("TRY_PARSE")) {
            (true, _) => CastForm::Parse,
            (_, true) => CastForm::TryParse,
            _ => return Ok(None),
        };
        self.expect_symbol(Symbol::LeftParen)?;
        let operand = self.expression()?;
        self.expect_keyword(Keyword::AS)?;
        let to = self.type_name()?;
        let extra = if self.take_keyword(Keyword::USING) { Some(self.expression()?) } else { None };
        self.expect_symbol(Symbol::RightParen)?;
        Ok(Some(self.made(first, ExprKind::Cast(Box::new(Cast { form, operand, to, extra })))))
    }

    /// What is in the group in parentheses that the token `ahead` opens, but not in groups within it;
    /// none if it opens none, or it never closes.
    fn parts_of_group(&self, ahead: usize) -> Vec<Token> {
        let (mut depth, mut parts) = (0, Vec::new());
        for token in self.tokens.iter().skip(self.at + ahead) {
            match token.symbol {
                Symbol::LeftParen => depth += 1,
                Symbol::RightParen if depth == 1 => return parts,
                Symbol::RightParen => depth -= 1,
                _ if depth == 1 => parts.push(*token),
                _ => {}
            }
            if depth < 1 || token.kind == TokenKind::Separator {
                break;
            }
        }
        Vec::new()
    }

    /// CONVERT(x, type) or CONVERT(x USING charset).
    pub(super) fn mysql_convert(&mut self, first: usize) -> Parse<Expression> {
        self.advance();
        self.expect_symbol(Symbol::LeftParen)?;
        let operand = self.expression()?;
        let form = if self.take_keyword(Keyword::USING) { CastForm::ConvertUsing } else { CastForm::ConvertTo };
        if form == CastForm::ConvertTo {
            self.expect_symbol(Symbol::Comma)?;
        }
        let to = self.type_name()?;
        self.expect_symbol(Symbol::RightParen)?;
        Ok(self.made(first, ExprKind::Cast(Box::new(Cast { form, operand, to, extra: None }))))
    }

    /// `INTERVAL '1' DAY`, `INTERVAL 1 DAY`, `INTERVAL '1 day'`, `INTERVAL (x) MONTH`.
    pub(super) fn interval(&mut self, first: usize) -> Parse<Option<Expression>> {
        let plain_text_name = self.peek(1).symbol == Symbol::LeftParen && self.is(&[DialectName::Oracle, DialectName::SqlServer]);
        // INTERVAL(n, a, b) of MySQL counts the bounds below n.
        let counts =
            self.is(&[DialectName::Mysql, DialectName::Mariadb]) && self.parts_of_group(1).iter().any(|t| t.symbol == Symbol::Comma);
        if plain_text_name || counts {
            return Ok(None);
        }
        self.advance();
        let value = self.expression_above(precedence::COMPARISON + 1)?;
        let unit_first = self.at;
        let unit = self.interval_unit();
        let unit_span = self.span_from(unit_first);
        let mut more = Vec::new();
        while unit.is_some() && self.name() == DialectName::Spark && matches!(self.token().kind, TokenKind::Number | TokenKind::String) {
            let amount = self.expression_above(precedence::UNARY)?;
            let Some(word) = self.interval_unit() else { break };
            more.push((amount, word));
        }
        Ok(Some(self.made(first, ExprKind::Interval(Box::new(Interval { value, unit, unit_span, more })))))
    }

    pub(super) fn interval_unit(&mut self) -> Option<CompactString> {
        const UNITS: &[&str] = &[
            "YEAR",
            "QUARTER",
            "MONTH",
            "WEEK",
            "DAY",
            "HOUR",
            "MINUTE",
            "SECOND",
            "MILLISECOND",
            "MICROSECOND",
            "NANOSECOND",
            "YEAR_MONTH",
            "DAY_HOUR",
            "DAY_MINUTE",
            "DAY_SECOND",
            "DAY_MICROSECOND",
            "HOUR_MINUTE",
            "HOUR_SECOND",
            "HOUR_MICROSECOND",
            "MINUTE_SECOND",
            "MINUTE_MICROSECOND",
            "SECOND_MICROSECOND",
            "DECADE",
            "CENTURY",
        ];
        let is_unit = |p: &Self, ahead: usize| {
            let token = p.peek(ahead);
            let word = p.text_of(token).to_ascii_uppercase();
            let singular = word.strip_suffix('S').unwrap_or(&word).to_string();
            token.kind == TokenKind::Word && (UNITS.contains(&word.as_str()) || UNITS.contains(&singular.as_str()))
        };
        if !is_unit(self, 0) {
            return None;
        }
        let first = self.at;
        self.advance();
        self.skip_precision();
        if self.at_keyword(Keyword::TO) && is_unit(self, 1) {
            self.advance();
            self.advance();
            self.skip_precision();
        }
        let words: Vec<&str> = (first..self.at).map(|i| self.text_of(self.tokens[i])).collect();
        Some(words.join(" ").to_uppercase().into())
    }

    pub(super) fn skip_precision(&mut self) {
        if self.at_symbol(Symbol::LeftParen) && self.peek(1).kind == TokenKind::Number {
            let _ = self.skip_group();
        }
    }

    /// `ARRAY<INT64>[1, 2]`.
    pub(super) fn typed_array(&mut self, first: usize) -> Parse<Expression> {
        self.advance();
        self.advance();
        let element = self.type_name()?;
        self.close_angle()?;
        let items = if self.at_symbol(Symbol::LeftParen) {
            self.advance();
            let items = if self.at_symbol(Symbol::RightParen) { Vec::new() } else { self.expression_list()? };
            self.expect_symbol(Symbol::RightParen)?;
            items
        } else {
            self.bracketed_items()?
        };
        let array = ArrayLiteral { form: ArrayForm::Typed, element: Some(element), items };
        Ok(self.made(first, ExprKind::Array(Box::new(array))))
    }

    pub(super) fn struct_call(&mut self, first: usize) -> Parse<Expression> {
        let declared = if self.peek(1).symbol == Symbol::Less {
            Some(self.type_name()?)
        } else {
            self.advance();
            None
        };
        self.expect_symbol(Symbol::LeftParen)?;
        let mut fields = Vec::new();
        if !self.at_symbol(Symbol::RightParen) {
            fields = self.list(|p| {
                let value = p.expression()?;
                let name = if p.take_keyword(Keyword::AS) { Some(p.any_ident("a field's name")?) } else { None };
                let name = name.map(|ident| Expr { span: ident.span(), kind: ExprKind::Column(ObjectName::single(ident)) });
                Ok((name, value))
            })?;
        }
        self.expect_symbol(Symbol::RightParen)?;
        let literal = StructLiteral { form: StructForm::Call, declared, fields };
        Ok(self.made(first, ExprKind::Struct(Box::new(literal))))
    }

    pub(super) fn arrow_is_lambda(&self, left: &Expression) -> bool {
        if !self.is(&[DialectName::Duckdb, DialectName::Spark]) {
            return false;
        }
        // DuckDB reads `column -> 'key'` as JSON when a text follows.
        let json = self.peek(1).kind == TokenKind::String && self.name() == DialectName::Duckdb;
        let names = match &left.kind {
            ExprKind::Column(name) => name.as_single().is_some(),
            ExprKind::Row(items) => items.iter().all(|i| i.as_name().is_some()),
            ExprKind::Nested(inner) => inner.as_name().is_some(),
            _ => false,
        };
        names && !json
    }

    pub(super) fn arrow_lambda(&mut self, left: Expression, first: usize) -> Parse<(Expression, bool)> {
        let parameters: Vec<Ident> = match &left.kind {
            ExprKind::Row(items) => items.iter().filter_map(|i| i.as_name().cloned()).collect(),
            ExprKind::Nested(inner) => inner.as_name().cloned().into_iter().collect(),
            _ => left.as_name().cloned().into_iter().collect(),
        };
        self.advance();
        let body = self.expression()?;
        let lambda = Lambda { with_keyword: false, parameters, body };
        Ok((self.made(first, ExprKind::Lambda(Box::new(lambda))), true))
    }

    /// `lambda x, y: x + y`.
    pub(super) fn keyword_lambda(&mut self, first: usize) -> Parse<Expression> {
        self.advance();
        let parameters = self.list(|p| p.any_ident("a parameter's name"))?;
        self.expect_symbol(Symbol::Colon)?;
        let body = self.expression()?;
        Ok(self.made(first, ExprKind::Lambda(Box::new(Lambda { with_keyword: true, parameters, body }))))
    }
}
