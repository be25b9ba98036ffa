//! Expressions, by precedence climbing.

use super::{Parse, Parser};
use crate::dialect::DialectName;
use crate::keyword::{Keyword, Role};
use crate::precedence;
use crate::token::{Symbol, Token, TokenKind};
use crate::tree::{
    ArrayForm, ArrayLiteral, Binary, Cast, CastForm, CollectWord, Expr, ExprKind, Field, IsTest, IsWhat, Literal, LogicOperator,
    ObjectName, Operator, Quantified, QuantifierWord, Quote, Span, Spelled, StructForm, StructLiteral, Subscript, Unary,
};

type Expression = Expr<Spelled>;
type Kind = ExprKind<Spelled>;

impl Parser<'_> {
    /// Any value expression or condition.
    pub(crate) fn expression(&mut self) -> Parse<Expression> {
        self.expression_above(0)
    }

    /// An expression whose operators bind at least as tightly as `least`.
    pub(crate) fn expression_above(&mut self, least: u8) -> Parse<Expression> {
        self.deeper(|p| p.climb(least))
    }

    pub(super) fn climb(&mut self, least: u8) -> Parse<Expression> {
        let first = self.at;
        let mut left = self.prefix(first)?;
        let mut length = 0;
        loop {
            if !self.infix_may_follow() {
                return Ok(left);
            }
            self.check_chain(length)?;
            length += 1;
            let before = self.at;
            left = match self.infix(left, first, least)? {
                (expr, true) => expr,
                (expr, false) => {
                    self.go_to(before);
                    return Ok(expr);
                }
            };
        }
    }

    /// Most operands are followed by a comma, a parenthesis or a clause: those are reported first.
    pub(super) fn infix_may_follow(&self) -> bool {
        let token = self.token();
        match token.kind {
            TokenKind::Symbol => !matches!(token.symbol, Symbol::Comma | Symbol::RightParen),
            // MEMBER OF is the one operator that is no keyword.
            TokenKind::Word => token.keyword.can(Role::Infix) || token.keyword == Keyword::NONE && self.peek(1).keyword == Keyword::OF,
            _ => false,
        }
    }

    pub(super) fn made(&self, first: usize, kind: Kind) -> Expression {
        Expr { kind, span: self.span_from(first) }
    }

    // --- prefix --------------------------------------------------------------------------------

    pub(super) fn prefix(&mut self, first: usize) -> Parse<Expression> {
        let operator = match (self.symbol(), self.keyword()) {
            (_, Keyword::NOT) => {
                self.advance();
                let operand = self.expression_above(precedence::NOT)?;
                return Ok(self.made(first, ExprKind::Not(Box::new(operand))));
            }
            (Symbol::Bang, _) if self.is(&[DialectName::Mysql, DialectName::Mariadb, DialectName::Spark]) => Operator::Symbol(Symbol::Bang),
            (symbol @ (Symbol::Minus | Symbol::Plus | Symbol::Tilde | Symbol::SquareRoot | Symbol::CubeRoot | Symbol::At), _) => {
                Operator::Symbol(symbol)
            }
            (_, Keyword::PRIOR) if self.name() == DialectName::Oracle => Operator::Prior,
            (_, Keyword::CONNECT_BY_ROOT) => Operator::ConnectByRoot,
            (_, Keyword::BINARY) if self.is(&[DialectName::Mysql, DialectName::Mariadb]) && self.peek(1).symbol != Symbol::LeftParen => {
                Operator::Binary
            }
            _ => return self.primary_with_postfix(first),
        };
        self.advance();
        let operand = self.expression_above(precedence::of_prefix(self.name(), operator))?;
        Ok(self.made(first, ExprKind::Unary(Box::new(Unary { operator, operand }))))
    }

    // --- infix ---------------------------------------------------------------------------------

    /// Reads one operator and its right side, if one follows that binds tightly enough.
    pub(super) fn infix(&mut self, left: Expression, first: usize, least: u8) -> Parse<(Expression, bool)> {
        let token = self.token();
        if token.kind == TokenKind::Symbol {
            return self.symbol_operator(left, first, least);
        }
        if token.keyword == Keyword::NONE {
            return self.word_operator(left, first, least);
        }
        let dialect = self.name();
        let predicate = precedence::of_predicate(dialect);
        let is_level = precedence::of_is(dialect);
        match token.keyword {
            Keyword::AND if least <= precedence::AND => self.logic(left, first, LogicOperator::And, precedence::AND),
            Keyword::OR if least <= precedence::OR => self.logic(left, first, LogicOperator::Or, precedence::OR),
            Keyword::IS if least <= is_level => self.is_test(left, first).map(|e| (e, true)),
            Keyword::ISNULL | Keyword::NOTNULL
                if least <= is_level && self.is(&[DialectName::Postgres, DialectName::Duckdb, DialectName::Sqlite]) =>
            {
                let negated = self.advance().keyword == Keyword::NOTNULL;
                let test = IsTest { operand: left, negated, what: IsWhat::Null, one_word: true };
                Ok((self.made(first, ExprKind::Is(Box::new(test))), true))
            }
            Keyword::NOT if least <= predicate => {
                if dialect == DialectName::Sqlite && self.peek(1).keyword == Keyword::NULL {
                    self.advance();
                    self.advance();
                    let test = IsTest { operand: left, negated: true, what: IsWhat::Null, one_word: true };
                    return Ok((self.made(first, ExprKind::Is(Box::new(test))), true));
                }
                if !self.peek(1).keyword.can(Role::Predicate) {
                    return Ok((left, false));
                }
                self.advance();
                self.predicate(left, first, true)
            }
            keyword if keyword.can(Role::Predicate) && least <= predicate => self.predicate(left, first, false),
            Keyword::COLLATE if least <= precedence::COLLATE => {
                self.advance();
                let name = if self.token().kind == TokenKind::String {
                    ObjectName::single(self.take_ident())
                } else {
                    let first = self.any_ident("the name of a collation")?;
                    self.object_name_from(first)?
                };
                Ok((self.made(first, ExprKind::Collate(Box::new(left), name)), true))
            }
            Keyword::AT if least <= precedence::COLLATE && matches!(self.peek(1).keyword, Keyword::TIME | Keyword::LOCAL) => {
                self.advance();
                if self.take_keyword(Keyword::LOCAL) {
                    return Ok((self.made(first, ExprKind::AtTimeZone(Box::new(left), None)), true));
                }
                self.advance();
                self.expect_keyword(Keyword::ZONE)?;
                let zone = self.expression_above(precedence::COLLATE + 1)?;
                Ok((self.made(first, ExprKind::AtTimeZone(Box::new(left), Some(Box::new(zone)))), true))
            }
            _ => self.word_operator(left, first, least),
        }
    }

    pub(super) fn logic(&mut self, left: Expression, first: usize, operator: LogicOperator, level: u8) -> Parse<(Expression, bool)> {
        let keyword = self.keyword();
        let mut operands = vec![left];
        while self.take_keyword(keyword) {
            operands.push(self.expression_above(level + 1)?);
        }
        Ok((self.made(first, ExprKind::Logic(operator, operands)), true))
    }

    pub(super) fn word_operator(&mut self, left: Expression, first: usize, least: u8) -> Parse<(Expression, bool)> {
        let mysql_family = self.is(&[DialectName::Mysql, DialectName::Mariadb]);
        let operator = match self.keyword() {
            Keyword::DIV if mysql_family || self.name() == DialectName::Spark => Operator::Div,
            Keyword::MOD if mysql_family => Operator::Mod,
            Keyword::XOR if mysql_family => Operator::Xor,
            Keyword::OVERLAPS => Operator::Overlaps,
            _ if self.at_word("MEMBER") && self.peek(1).keyword == Keyword::OF => Operator::MemberOf,
            _ => return Ok((left, false)),
        };
        let level = precedence::of_operator(self.name(), operator, self.spelling.bars_mean_or).unwrap_or(0);
        if level < least {
            return Ok((left, false));
        }
        self.advance();
        if operator == Operator::MemberOf {
            self.advance();
        }
        self.binary(left, first, operator, level)
    }

    pub(super) fn symbol_operator(&mut self, left: Expression, first: usize, least: u8) -> Parse<(Expression, bool)> {
        let symbol = self.symbol();
        let operator = Operator::Symbol(symbol);
        let Some(level) = precedence::of_operator(self.name(), operator, self.spelling.bars_mean_or) else {
            return Ok((left, false));
        };
        if level < least {
            return Ok((left, false));
        }
        // `LIMIT 10%` in DuckDB: the sign ends the clause.
        if symbol == Symbol::Percent && self.name() == DialectName::Duckdb && !self.operand_follows(1) {
            return Ok((left, false));
        }
        let is_or = symbol == Symbol::Concat && self.spelling.bars_mean_or;
        if symbol == Symbol::Arrow && self.arrow_is_lambda(&left) {
            return self.arrow_lambda(left, first);
        }
        self.advance();
        if is_or {
            let right = self.expression_above(precedence::OR + 1)?;
            return Ok((self.made(first, ExprKind::Binary(Box::new(Binary { operator, left, right }))), true));
        }
        let quantifier = match self.keyword() {
            Keyword::ANY => Some(QuantifierWord::Any),
            Keyword::SOME => Some(QuantifierWord::Some),
            Keyword::ALL => Some(QuantifierWord::All),
            _ => None,
        };
        if let Some(quantifier) = quantifier
            && self.peek(1).symbol == Symbol::LeftParen
        {
            self.advance();
            let set = self.quantified_set()?;
            let quantified = Quantified { left, operator, quantifier, set };
            return Ok((self.made(first, ExprKind::Quantified(Box::new(quantified))), true));
        }
        self.binary(left, first, operator, level)
    }

    pub(super) fn binary(&mut self, left: Expression, first: usize, operator: Operator, level: u8) -> Parse<(Expression, bool)> {
        let right = self.expression_above(level + 1)?;
        Ok((self.made(first, ExprKind::Binary(Box::new(Binary { operator, left, right }))), true))
    }

    /// Whether the token `ahead` can begin an operand.
    pub(super) fn operand_follows(&self, ahead: usize) -> bool {
        let token = self.peek(ahead);
        match token.kind {
            TokenKind::Word => token.keyword == Keyword::NONE || !self.is_reserved(token) || token.keyword.can(Role::BeginsOperand),
            TokenKind::Symbol => {
                matches!(token.symbol, Symbol::LeftParen | Symbol::Minus | Symbol::Plus | Symbol::LeftBracket | Symbol::Tilde)
            }
            TokenKind::End | TokenKind::Separator | TokenKind::BatchSeparator | TokenKind::Directive => false,
            _ => true,
        }
    }

    // --- primaries -----------------------------------------------------------------------------

    pub(super) fn primary_with_postfix(&mut self, first: usize) -> Parse<Expression> {
        let mut expr = self.primary(first)?;
        loop {
            expr = match self.symbol() {
                Symbol::Cast => {
                    self.advance();
                    let to = self.type_name()?;
                    let cast = Cast { form: CastForm::DoubleColon, operand: expr, to, extra: None };
                    self.made(first, ExprKind::Cast(Box::new(cast)))
                }
                Symbol::LeftBracket if !self.spelling.bracket_names => self.subscript(expr, first)?,
                Symbol::Period if self.field_follows(&expr) => {
                    self.advance();
                    let name = self.any_ident("a field's name")?;
                    self.made(first, ExprKind::Field(Box::new(Field { operand: expr, name })))
                }
                Symbol::LeftParen if self.name() == DialectName::SqlServer && matches!(expr.kind, ExprKind::Field(_)) => {
                    self.method(expr, first)?
                }
                Symbol::LeftParen if self.outer_mark_follows() && matches!(expr.kind, ExprKind::Column(_)) => {
                    self.skip(3);
                    self.made(first, ExprKind::OuterMark(Box::new(expr)))
                }
                _ => return Ok(expr),
            };
        }
    }

    pub(super) fn field_follows(&self, expr: &Expression) -> bool {
        matches!(
            expr.kind,
            ExprKind::Nested(_)
                | ExprKind::Subscript(_)
                | ExprKind::Call(_)
                | ExprKind::Field(..)
                | ExprKind::Struct(_)
                | ExprKind::Parameter(_)
                | ExprKind::Subquery(_)
        ) && self.peek(1).symbol != Symbol::Star
    }

    /// `(query).value('.', 'int')`: what was read as a field is a method.
    fn method(&mut self, expr: Expression, first: usize) -> Parse<Expression> {
        let ExprKind::Field(field) = expr.kind else { return Ok(expr) };
        let mut call = self.call_of(ObjectName::single(field.name))?;
        call.form = crate::tree::CallForm::Method;
        call.arguments.insert(0, crate::tree::Argument { name: None, value: field.operand });
        Ok(self.made(first, ExprKind::Call(Box::new(call))))
    }

    pub(super) fn outer_mark_follows(&self) -> bool {
        self.name() == DialectName::Oracle && self.peek(1).symbol == Symbol::Plus && self.peek(2).symbol == Symbol::RightParen
    }

    pub(super) fn subscript(&mut self, operand: Expression, first: usize) -> Parse<Expression> {
        self.expect_symbol(Symbol::LeftBracket)?;
        let low = if self.at_symbol(Symbol::Colon) { None } else { Some(self.expression()?) };
        let mut slice = None;
        if self.take_symbol(Symbol::Colon) {
            let stops = |p: &Self| p.at_symbol(Symbol::RightBracket) || p.at_symbol(Symbol::Colon);
            let high = match self.symbol() {
                _ if stops(self) => None,
                // DuckDB: `[1:-:2]` leaves the end open.
                Symbol::Minus if self.peek(1).symbol == Symbol::Colon => {
                    self.advance();
                    None
                }
                _ => Some(self.expression()?),
            };
            let step = if self.take_symbol(Symbol::Colon) { Some(self.expression()?) } else { None };
            slice = Some((high, step));
        }
        self.expect_symbol(Symbol::RightBracket)?;
        Ok(self.made(first, ExprKind::Subscript(Box::new(Subscript { operand, low, slice }))))
    }

    pub(super) fn primary(&mut self, first: usize) -> Parse<Expression> {
        let token = self.token();
        match token.kind {
            TokenKind::Number => {
                let text = self.take_text();
                Ok(self.made(first, ExprKind::Literal(Literal::Number(text.into()))))
            }
            TokenKind::String => {
                let literal = self.text_literal();
                Ok(self.made(first, ExprKind::Literal(literal)))
            }
            TokenKind::Parameter => {
                let text = self.take_text();
                // A substitution variable can be part of a name: `&schema..tolls`.
                Ok(self.made(first, ExprKind::Parameter(text.into())))
            }
            TokenKind::QuotedName => self.name_or_call(first),
            TokenKind::Word => self.word_primary(first),
            TokenKind::Symbol => self.symbol_primary(first),
            _ => Err(self.expected("an expression")),
        }
    }

    pub(super) fn text_literal(&mut self) -> Literal {
        let first = self.take_text();
        // Adjacent literals are one text in MySQL and Spark, and over a line break in PostgreSQL.
        let joins = self.is(&[DialectName::Mysql, DialectName::Mariadb, DialectName::Spark, DialectName::Postgres, DialectName::Duckdb]);
        let mut more = Vec::new();
        while joins && self.token().kind == TokenKind::String && self.parts_may_join() {
            more.push(self.take_text().into());
        }
        if more.is_empty() {
            return Literal::Text(first.into());
        }
        more.insert(0, first.into());
        Literal::Texts(more)
    }

    pub(super) fn parts_may_join(&self) -> bool {
        if !self.is(&[DialectName::Postgres, DialectName::Duckdb]) {
            return true;
        }
        let before = self.tokens[self.at - 1].end as usize;
        self.source[before..self.token().start as usize].contains('\n')
    }

    pub(super) fn symbol_primary(&mut self, first: usize) -> Parse<Expression> {
        match self.symbol() {
            Symbol::LeftParen => self.parenthesised(first),
            Symbol::Star => {
                self.advance();
                Ok(self.made(first, ExprKind::Star(None)))
            }
            Symbol::LeftBracket if !self.spelling.bracket_names => {
                let items = self.bracketed_items()?;
                let array = ArrayLiteral { form: ArrayForm::Bare, element: None, items };
                Ok(self.made(first, ExprKind::Array(Box::new(array))))
            }
            Symbol::LeftBrace if self.name() == DialectName::Duckdb => self.braces(first, StructForm::Braces),
            // ODBC escapes: {d '2026-01-31'}, {ts '..'}, {fn f(x)}.
            Symbol::LeftBrace => self.braced_escape(first),
            _ => Err(self.expected("an expression")),
        }
    }

    pub(super) fn braced_escape(&mut self, first: usize) -> Parse<Expression> {
        self.advance();
        let word = self.take_text().to_ascii_lowercase();
        let type_word = match word.as_str() {
            "d" => "DATE",
            "t" => "TIME",
            "ts" => "TIMESTAMP",
            "fn" => {
                let inner = self.expression()?;
                self.expect_symbol(Symbol::RightBrace)?;
                return Ok(Expr { kind: inner.kind, span: self.span_from(first) });
            }
            _ => return Err(self.error_at(self.span_from(first), "these braces are none of {d ..}, {t ..}, {ts ..}, {fn ..}".to_string())),
        };
        if self.token().kind != TokenKind::String {
            return Err(self.expected("a text literal"));
        }
        let text = self.take_text();
        self.expect_symbol(Symbol::RightBrace)?;
        Ok(self.made(first, ExprKind::Literal(Literal::typed(type_word, text))))
    }

    pub(super) fn bracketed_items(&mut self) -> Parse<Vec<Expression>> {
        self.expect_symbol(Symbol::LeftBracket)?;
        let items = if self.at_symbol(Symbol::RightBracket) { Vec::new() } else { self.expression_list()? };
        self.expect_symbol(Symbol::RightBracket)?;
        Ok(items)
    }

    pub(super) fn braces(&mut self, first: usize, form: StructForm) -> Parse<Expression> {
        self.expect_symbol(Symbol::LeftBrace)?;
        let mut fields = Vec::new();
        if !self.at_symbol(Symbol::RightBrace) {
            fields = self.list(|p| {
                let key = p.expression()?;
                p.expect_symbol(Symbol::Colon)?;
                Ok((Some(key), p.expression()?))
            })?;
        }
        self.expect_symbol(Symbol::RightBrace)?;
        Ok(self.made(first, ExprKind::Struct(Box::new(StructLiteral { form, declared: None, fields }))))
    }

    /// A subquery, an expression in parentheses, a row value, or the parameters of a lambda.
    pub(super) fn parenthesised(&mut self, first: usize) -> Parse<Expression> {
        if self.starts_query_in_parens() {
            self.advance();
            let query = self.query()?;
            self.expect_symbol(Symbol::RightParen)?;
            return Ok(self.made(first, ExprKind::Subquery(Box::new(query))));
        }
        self.expect_symbol(Symbol::LeftParen)?;
        if self.take_symbol(Symbol::RightParen) {
            return Ok(self.made(first, ExprKind::Row(Vec::new())));
        }
        let mut items = self.expression_list()?;
        self.expect_symbol(Symbol::RightParen)?;
        if items.len() > 1 {
            return Ok(self.made(first, ExprKind::Row(items)));
        }
        let inner = items.remove(0);
        Ok(self.made(first, ExprKind::Nested(Box::new(inner))))
    }

    /// A query whose parentheses are another node's.
    pub(crate) fn bare_subquery(&mut self) -> Parse<Expression> {
        let first = self.at;
        let query = self.query()?;
        Ok(self.made(first, ExprKind::Subquery(Box::new(query))))
    }

    /// `(SELECT`, `((SELECT .. ) UNION`: but `((SELECT 1) + 2)` is an expression, which only what
    /// follows the inner parentheses tells.
    pub(super) fn starts_query_in_parens(&self) -> bool {
        if !self.starts_query() {
            return false;
        }
        if self.peek(1).symbol != Symbol::LeftParen {
            return true;
        }
        self.after_inner_parens().is_none_or(|next| next.keyword.can(Role::ContinuesQuery))
    }

    /// The token behind the parentheses that begin after the current one; `None` if they never close.
    pub(crate) fn after_inner_parens(&self) -> Option<Token> {
        let mut depth = 0i32;
        for (ahead, token) in self.tokens[self.at + 1..].iter().enumerate() {
            match token.symbol {
                Symbol::LeftParen => depth += 1,
                Symbol::RightParen => depth -= 1,
                _ => {}
            }
            if depth == 0 {
                return Some(self.peek(ahead + 2));
            }
        }
        None
    }

    pub(super) fn word_primary(&mut self, first: usize) -> Parse<Expression> {
        let next = self.peek(1);
        match self.keyword() {
            Keyword::NONE => {}
            Keyword::NULL => return Ok(self.literal(first, Literal::Null)),
            Keyword::TRUE | Keyword::FALSE if next.symbol != Symbol::LeftParen && self.has_boolean_words() => {
                let value = self.at_keyword(Keyword::TRUE);
                return Ok(self.literal(first, Literal::Boolean(value)));
            }
            Keyword::CASE => return self.case(first),
            Keyword::NEXT if next.keyword == Keyword::VALUE && self.peek(2).keyword == Keyword::FOR => return self.next_value(first),
            Keyword::EXISTS if next.symbol == Symbol::LeftParen => {
                self.advance();
                self.advance();
                let query = self.query()?;
                self.expect_symbol(Symbol::RightParen)?;
                return Ok(self.made(first, ExprKind::Exists(Box::new(query))));
            }
            Keyword::CAST | Keyword::TRY_CAST | Keyword::SAFE_CAST | Keyword::CONVERT | Keyword::TRY_CONVERT
                if next.symbol == Symbol::LeftParen =>
            {
                if let Some(cast) = self.cast(first)? {
                    return Ok(cast);
                }
            }
            Keyword::INTERVAL if self.operand_follows(1) && !matches!(next.symbol, Symbol::Comma) => {
                if let Some(interval) = self.interval(first)? {
                    return Ok(interval);
                }
            }
            Keyword::ARRAY if next.symbol == Symbol::LeftBracket && !self.spelling.bracket_names => {
                self.advance();
                let items = self.bracketed_items()?;
                let array = ArrayLiteral { form: ArrayForm::Word, element: None, items };
                return Ok(self.made(first, ExprKind::Array(Box::new(array))));
            }
            Keyword::ARRAY if next.symbol == Symbol::Less => return self.typed_array(first),
            Keyword::ARRAY | Keyword::MULTISET if next.symbol == Symbol::LeftParen && self.starts_query_at(2) => {
                let word = if self.advance().keyword == Keyword::ARRAY { CollectWord::Array } else { CollectWord::Multiset };
                self.advance();
                let query = self.query()?;
                self.expect_symbol(Symbol::RightParen)?;
                return Ok(self.made(first, ExprKind::Collect(word, Box::new(query))));
            }
            Keyword::STRUCT if matches!(next.symbol, Symbol::LeftParen | Symbol::Less) => return self.struct_call(first),
            Keyword::ROW if next.symbol == Symbol::LeftParen => {
                self.advance();
                self.advance();
                let items = if self.at_symbol(Symbol::RightParen) { Vec::new() } else { self.expression_list()? };
                self.expect_symbol(Symbol::RightParen)?;
                return Ok(self.made(first, ExprKind::Row(items)));
            }
            Keyword::LAMBDA if self.name() == DialectName::Duckdb => return self.keyword_lambda(first),
            Keyword::DEFAULT if next.symbol != Symbol::LeftParen => {
                self.advance();
                return Ok(self.made(first, ExprKind::Default));
            }
            Keyword::DATE
            | Keyword::TIME
            | Keyword::TIMESTAMP
            | Keyword::DATETIME
            | Keyword::TIMESTAMPTZ
            | Keyword::JSON
            | Keyword::NUMERIC
                if next.kind == TokenKind::String =>
            {
                return self.typed_literal(first);
            }
            _ => {}
        }
        if self.at_word("MAP") && next.symbol == Symbol::LeftBrace {
            self.advance();
            return self.braces(first, StructForm::Map);
        }
        if self.keyword() == Keyword::NONE && next.kind == TokenKind::String {
            return self.typed_literal(first);
        }
        self.name_or_call(first)
    }

    /// Oracle before 23 and SQL Server have no TRUE and FALSE: there they are names.
    pub(super) fn has_boolean_words(&self) -> bool {
        match self.name() {
            DialectName::SqlServer => false,
            DialectName::Oracle => self.dialect.since(23, 0),
            _ => true,
        }
    }

    pub(super) fn literal(&mut self, first: usize, literal: Literal) -> Expression {
        self.advance();
        self.made(first, ExprKind::Literal(literal))
    }

    /// DATE '..' and any other `word 'text'`.
    pub(super) fn typed_literal(&mut self, first: usize) -> Parse<Expression> {
        let word = self.take_text();
        let text = self.take_text();
        // A character set introducer of MySQL says nothing about the value.
        if word.starts_with('_') {
            return Ok(self.made(first, ExprKind::Literal(Literal::Text(text.into()))));
        }
        Ok(self.made(first, ExprKind::Literal(Literal::typed(word.to_uppercase(), text))))
    }

    // --- names and calls -----------------------------------------------------------------------

    pub(super) fn name_or_call(&mut self, first: usize) -> Parse<Expression> {
        let token = self.token();
        let calls = self.peek(1).symbol == Symbol::LeftParen
            && !(self.peek(2).symbol == Symbol::Plus && self.peek(3).symbol == Symbol::RightParen && self.name() == DialectName::Oracle);
        if token.kind == TokenKind::Word
            && token.keyword != Keyword::NONE
            && !calls
            && self.is_reserved(token)
            && !token.keyword.can(Role::Value)
        {
            return Err(self.expected("an expression"));
        }
        // Operators of SQLite and Spark are functions too: like('q%', name).
        let is_like = token.keyword == Keyword::LIKE && matches!(self.name(), DialectName::Sqlite | DialectName::Spark);
        if token.kind == TokenKind::Word && calls && !is_like && token.keyword.can(Role::NoFunction) {
            return Err(self.expected("an expression"));
        }
        let ident = self.take_ident();
        let name = self.object_name_from(ident)?;
        if self.at_symbol(Symbol::LeftParen) && !self.outer_mark_follows() {
            return self.call(first, name);
        }
        // `t.*` as an argument: COUNT(t.*).
        if self.at_symbol(Symbol::Period) && self.peek(1).symbol == Symbol::Star {
            self.advance();
            self.advance();
            return Ok(self.made(first, ExprKind::Star(Some(name))));
        }
        // A name with no quotes that a MySQL user wrote in double quotes is a text; the lexer has
        // seen to that. What is left is a column.
        debug_assert!(name.parts.iter().all(|p| p.quote != Quote::Text));
        Ok(Expr { kind: ExprKind::Column(name), span: Span { first: first as u32, end: self.at as u32 } })
    }
}
