//! Function calls with everything that can stand in and behind their parentheses.

use super::{Parse, Parser};
use crate::dialect::DialectName;
use crate::keyword::Keyword;
use crate::precedence;
use crate::token::{Symbol, TokenKind};
use crate::tree::{
    Argument, Call, CallForm, CallTail, Expr, ExprKind, Frame, FrameBound, FrameExclusion, FrameUnit, Ident, NullTreatment, ObjectName,
    Over, SetQuantifier, Span, Spelled, TrimWhere, Window,
};

/// Words for SUBSTRING that take FROM and FOR as it does.
fn is_short_substring(name: &Ident) -> bool {
    name.is_word("substr") || name.is_word("mid")
}

impl Parser<'_> {
    /// A call; the name has been taken, the parenthesis is next.
    pub(crate) fn call(&mut self, first: usize, function: ObjectName) -> Parse<Expr<Spelled>> {
        let conversion = match self.name() {
            DialectName::Oracle => self.oracle_conversion(first, &function)?,
            DialectName::SqlServer => self.parsed_text(first, &function)?,
            _ => None,
        };
        if let Some(cast) = conversion {
            return Ok(cast);
        }
        let call = self.call_of(function)?;
        Ok(Expr { kind: ExprKind::Call(Box::new(call)), span: self.span_from(first) })
    }

    pub(crate) fn call_of(&mut self, function: ObjectName) -> Parse<Call<Spelled>> {
        self.expect_symbol(Symbol::LeftParen)?;
        let mut call: Call<Spelled> = Call { function, form: CallForm::Plain, quantifier: None, arguments: Vec::new(), tail: None };
        let special = call.function.as_single().map_or(Keyword::NONE, |f| Keyword::of(&f.text));
        match special {
            Keyword::EXTRACT => self.extract_arguments(&mut call)?,
            Keyword::TRIM => self.trim_arguments(&mut call)?,
            Keyword::POSITION => self.position_arguments(&mut call)?,
            Keyword::SUBSTRING => self.substring_arguments(&mut call)?,
            Keyword::OVERLAY => self.overlay_arguments(&mut call)?,
            _ => self.plain_arguments(&mut call)?,
        }
        self.expect_symbol(Symbol::RightParen)?;
        self.after_parens(&mut call)?;
        Ok(call)
    }

    fn plain_arguments(&mut self, call: &mut Call<Spelled>) -> Parse<()> {
        if self.at_symbol(Symbol::RightParen) {
            return Ok(());
        }
        call.quantifier = match self.keyword() {
            Keyword::DISTINCT => Some(SetQuantifier::Distinct),
            Keyword::ALL => Some(SetQuantifier::All),
            _ => None,
        };
        if call.quantifier.is_some() {
            self.advance();
        }
        if !self.at_keyword(Keyword::ORDER) {
            call.arguments = self.list(Self::argument)?;
        }
        match self.keyword() {
            Keyword::FROM if call.arguments.len() == 1 && call.function.as_single().is_some_and(is_short_substring) => {
                self.from_and_for(call)
            }
            Keyword::USING if self.peek(1).kind == TokenKind::Word && self.peek(2).symbol == Symbol::RightParen => {
                self.advance();
                call.form = CallForm::Using;
                let first = self.at;
                let charset = ExprKind::Column(ObjectName::single(self.take_ident()));
                Self::push(call, Expr { kind: charset, span: self.span_from(first) });
                Ok(())
            }
            _ => self.inner_tail(call),
        }
    }

    /// `value`, `name => value`, `name := value`, a subquery, `key VALUE value`.
    fn argument(&mut self) -> Parse<Argument<Spelled>> {
        let named = matches!(self.peek(1).symbol, Symbol::Named | Symbol::Assign)
            && matches!(self.token().kind, TokenKind::Word | TokenKind::QuotedName);
        let name = if named {
            let name = self.take_ident();
            self.advance();
            Some(name)
        } else {
            None
        };
        let value = if self.starts_query() && !self.at_symbol(Symbol::LeftParen) {
            let first = self.at;
            let query = self.query()?;
            Expr { kind: ExprKind::Subquery(Box::new(query)), span: self.span_from(first) }
        } else {
            self.expression()?
        };
        Ok(Argument { name, value })
    }

    /// ORDER BY, SEPARATOR, LIMIT, IGNORE NULLS and other clauses inside the parentheses.
    fn inner_tail(&mut self, call: &mut Call<Spelled>) -> Parse<()> {
        if self.at_symbol(Symbol::RightParen) {
            return Ok(());
        }
        let mut tail = Box::<CallTail<Spelled>>::default();
        if let Some(nulls) = self.null_treatment() {
            tail.nulls = Some(nulls);
            tail.nulls_inside = true;
        }
        if self.take_keywords(&[Keyword::ORDER, Keyword::BY]) {
            tail.order_by = self.list(Self::sort_key)?;
        }
        if self.take_keyword(Keyword::SEPARATOR) {
            tail.separator = Some(self.expression()?);
        }
        if self.take_keyword(Keyword::LIMIT) {
            tail.limit = Some(self.expression()?);
        }
        if !self.at_symbol(Symbol::RightParen) {
            tail.clauses = Some(self.verbatim_until_paren()?);
        }
        call.tail = Some(tail);
        Ok(())
    }

    /// Clauses of JSON, XML and LISTAGG functions that begin with a known word, up to the `)`.
    fn verbatim_until_paren(&mut self) -> Parse<Span> {
        let known = matches!(
            self.keyword(),
            Keyword::ON
                | Keyword::RETURNING
                | Keyword::ERROR
                | Keyword::NULL
                | Keyword::WITH
                | Keyword::WITHOUT
                | Keyword::FORMAT
                | Keyword::COLUMNS
                | Keyword::PASSING
                | Keyword::ABSENT
                | Keyword::DEFAULT
                | Keyword::STRICT
                | Keyword::VALUE
                | Keyword::AS
                | Keyword::USING
                | Keyword::PARTITION
                | Keyword::FROM
                | Keyword::FOR
                | Keyword::HAVING
        ) || self.at_symbol(Symbol::Colon);
        if !known {
            return Err(self.expected("',' or ')'"));
        }
        let first = self.at;
        while !self.at_symbol(Symbol::RightParen) {
            if self.at_end() {
                return Err(self.expected("')'"));
            }
            if self.at_symbol(Symbol::LeftParen) {
                self.skip_group()?;
            } else {
                self.advance();
            }
        }
        Ok(self.span_from(first))
    }

    fn null_treatment(&mut self) -> Option<NullTreatment> {
        if self.peek(1).keyword != Keyword::NULLS {
            return None;
        }
        let found = match self.keyword() {
            Keyword::IGNORE => NullTreatment::Ignore,
            Keyword::RESPECT => NullTreatment::Respect,
            _ => return None,
        };
        self.advance();
        self.advance();
        Some(found)
    }

    /// WITHIN GROUP, KEEP, FILTER, FROM LAST, IGNORE NULLS, OVER.
    fn after_parens(&mut self, call: &mut Call<Spelled>) -> Parse<()> {
        if !matches!(
            self.keyword(),
            Keyword::WITHIN | Keyword::KEEP | Keyword::FILTER | Keyword::FROM | Keyword::IGNORE | Keyword::RESPECT | Keyword::OVER
        ) {
            return Ok(());
        }
        let mut tail = call.tail.take().unwrap_or_default();
        let mut found = false;
        if self.take_keywords(&[Keyword::WITHIN, Keyword::GROUP]) {
            self.expect_symbol(Symbol::LeftParen)?;
            self.expect_keyword(Keyword::ORDER)?;
            self.expect_keyword(Keyword::BY)?;
            tail.within_group = self.list(Self::sort_key)?;
            self.expect_symbol(Symbol::RightParen)?;
            found = true;
        }
        if self.at_keyword(Keyword::KEEP) && self.peek(1).symbol == Symbol::LeftParen {
            self.advance();
            self.advance();
            if !self.take_word("DENSE_RANK") {
                return Err(self.expected("DENSE_RANK"));
            }
            let last = match self.take_any(&[Keyword::FIRST, Keyword::LAST]) {
                Some(word) => word == Keyword::LAST,
                None => return Err(self.expected("FIRST or LAST")),
            };
            self.expect_keyword(Keyword::ORDER)?;
            self.expect_keyword(Keyword::BY)?;
            tail.keep = Some((last, self.list(Self::sort_key)?));
            self.expect_symbol(Symbol::RightParen)?;
            found = true;
        }
        if self.at_keyword(Keyword::FROM)
            && matches!(self.peek(1).keyword, Keyword::FIRST | Keyword::LAST)
            && matches!(self.peek(2).keyword, Keyword::OVER | Keyword::IGNORE | Keyword::RESPECT)
        {
            self.advance();
            tail.from_last = Some(self.advance().keyword == Keyword::LAST);
            found = true;
        }
        if self.at_keyword(Keyword::FILTER) && self.peek(1).symbol == Symbol::LeftParen {
            self.advance();
            self.advance();
            self.take_keyword(Keyword::WHERE);
            tail.filter = Some(self.expression()?);
            self.expect_symbol(Symbol::RightParen)?;
            found = true;
        }
        if let Some(nulls) = self.null_treatment() {
            tail.nulls = Some(nulls);
            found = true;
        }
        if self.at_keyword(Keyword::OVER) {
            self.advance();
            tail.over = Some(if self.at_symbol(Symbol::LeftParen) {
                Over::Window(self.window()?)
            } else {
                Over::Named(self.ident("a window's name or '('")?)
            });
            found = true;
        }
        let had = *tail != CallTail::default();
        call.tail = (found || had).then_some(tail);
        Ok(())
    }

    // --- windows -------------------------------------------------------------------------------

    pub(crate) fn window(&mut self) -> Parse<Window<Spelled>> {
        let first = self.at;
        self.expect_symbol(Symbol::LeftParen)?;
        let mut window = Window { base: None, partition_by: Vec::new(), order_by: Vec::new(), frame: None, span: Span::SYNTHETIC };
        let clause = matches!(self.keyword(), Keyword::PARTITION | Keyword::ORDER | Keyword::ROWS | Keyword::RANGE | Keyword::GROUPS);
        if !clause && self.at_name() {
            window.base = Some(self.take_ident());
        }
        if self.take_keywords(&[Keyword::PARTITION, Keyword::BY]) {
            window.partition_by = self.expression_list()?;
        }
        if self.take_keywords(&[Keyword::ORDER, Keyword::BY]) {
            window.order_by = self.list(Self::sort_key)?;
        }
        let unit = match self.keyword() {
            Keyword::ROWS => Some(FrameUnit::Rows),
            Keyword::RANGE => Some(FrameUnit::Range),
            Keyword::GROUPS => Some(FrameUnit::Groups),
            _ => None,
        };
        if let Some(unit) = unit {
            self.advance();
            window.frame = Some(self.frame(unit)?);
        }
        self.expect_symbol(Symbol::RightParen)?;
        window.span = self.span_from(first);
        Ok(window)
    }

    fn frame(&mut self, unit: FrameUnit) -> Parse<Frame<Spelled>> {
        let between = self.take_keyword(Keyword::BETWEEN);
        let start = self.frame_bound()?;
        let end = if between {
            self.expect_keyword(Keyword::AND)?;
            Some(self.frame_bound()?)
        } else {
            None
        };
        let mut exclude = None;
        if self.take_keyword(Keyword::EXCLUDE) {
            exclude = Some(match self.advance().keyword {
                Keyword::CURRENT => {
                    self.expect_keyword(Keyword::ROW)?;
                    FrameExclusion::CurrentRow
                }
                Keyword::GROUP => FrameExclusion::Group,
                Keyword::TIES => FrameExclusion::Ties,
                Keyword::NO => {
                    self.expect_keyword(Keyword::OTHERS)?;
                    FrameExclusion::NoOthers
                }
                _ => return Err(self.error_here("expected CURRENT ROW, GROUP, TIES or NO OTHERS".to_string())),
            });
        }
        Ok(Frame { unit, start, end, exclude })
    }

    fn frame_bound(&mut self) -> Parse<FrameBound<Spelled>> {
        if self.take_keyword(Keyword::UNBOUNDED) {
            return match self.take_any(&[Keyword::PRECEDING, Keyword::FOLLOWING]) {
                Some(Keyword::PRECEDING) => Ok(FrameBound::UnboundedPreceding),
                Some(_) => Ok(FrameBound::UnboundedFollowing),
                None => Err(self.expected("PRECEDING or FOLLOWING")),
            };
        }
        if self.take_keywords(&[Keyword::CURRENT, Keyword::ROW]) {
            return Ok(FrameBound::CurrentRow);
        }
        let offset = self.expression_above(precedence::COMPARISON + 1)?;
        match self.take_any(&[Keyword::PRECEDING, Keyword::FOLLOWING]) {
            Some(Keyword::PRECEDING) => Ok(FrameBound::Preceding(offset)),
            Some(_) => Ok(FrameBound::Following(offset)),
            None => Err(self.expected("PRECEDING or FOLLOWING")),
        }
    }

    // --- functions with words for commas -------------------------------------------------------

    fn push(call: &mut Call<Spelled>, value: Expr<Spelled>) {
        call.arguments.push(Argument { name: None, value });
    }

    fn extract_arguments(&mut self, call: &mut Call<Spelled>) -> Parse<()> {
        if self.peek(1).keyword != Keyword::FROM {
            return self.plain_arguments(call);
        }
        call.form = CallForm::Extract;
        let first = self.at;
        let field = self.any_ident("a field such as YEAR")?;
        let field = Expr { kind: ExprKind::Column(ObjectName::single(field)), span: self.span_from(first) };
        Self::push(call, field);
        self.expect_keyword(Keyword::FROM)?;
        let value = self.expression()?;
        Self::push(call, value);
        Ok(())
    }

    fn trim_arguments(&mut self, call: &mut Call<Spelled>) -> Parse<()> {
        let place = match self.keyword() {
            Keyword::LEADING => Some(TrimWhere::Leading),
            Keyword::TRAILING => Some(TrimWhere::Trailing),
            Keyword::BOTH => Some(TrimWhere::Both),
            _ => None,
        };
        if place.is_some() {
            self.advance();
        }
        if !self.at_keyword(Keyword::FROM) {
            let value = self.expression()?;
            Self::push(call, value);
            if place.is_none() && self.take_symbol(Symbol::Comma) {
                let more = self.list(Self::argument)?;
                call.arguments.extend(more);
                return Ok(());
            }
        }
        if self.take_keyword(Keyword::FROM) {
            call.form = CallForm::Trim(place);
            let value = self.expression()?;
            Self::push(call, value);
        } else if place.is_some() {
            call.form = CallForm::Trim(place);
        }
        Ok(())
    }

    fn position_arguments(&mut self, call: &mut Call<Spelled>) -> Parse<()> {
        let needle = self.expression_above(precedence::COMPARISON + 6)?;
        Self::push(call, needle);
        if self.take_keyword(Keyword::IN) {
            call.form = CallForm::PositionIn;
            let text = self.expression()?;
            Self::push(call, text);
        } else if self.take_symbol(Symbol::Comma) {
            let more = self.list(Self::argument)?;
            call.arguments.extend(more);
        }
        Ok(())
    }

    fn substring_arguments(&mut self, call: &mut Call<Spelled>) -> Parse<()> {
        let text = self.expression()?;
        Self::push(call, text);
        if self.take_symbol(Symbol::Comma) {
            let more = self.list(Self::argument)?;
            call.arguments.extend(more);
            return Ok(());
        }
        if self.at_keyword(Keyword::FROM) {
            self.from_and_for(call)?;
        }
        Ok(())
    }

    /// FROM start [FOR length] of SUBSTRING.
    fn from_and_for(&mut self, call: &mut Call<Spelled>) -> Parse<()> {
        call.form = CallForm::SubstringFrom;
        self.start_and_length(call)
    }

    /// FROM start [FOR length].
    fn start_and_length(&mut self, call: &mut Call<Spelled>) -> Parse<()> {
        self.expect_keyword(Keyword::FROM)?;
        let start = self.expression()?;
        Self::push(call, start);
        if self.take_keyword(Keyword::FOR) {
            let length = self.expression()?;
            Self::push(call, length);
        }
        Ok(())
    }

    /// NEXT VALUE FOR sequence.
    pub(super) fn next_value(&mut self, first: usize) -> Parse<Expr<Spelled>> {
        let function = ObjectName::single(self.take_ident());
        self.advance();
        self.advance();
        let name_first = self.at;
        let name = self.object_name("a sequence's name")?;
        let name = Expr { kind: ExprKind::Column(name), span: self.span_from(name_first) };
        let call = Call { form: CallForm::NextValue, ..Call::plain(function, vec![name]) };
        Ok(Expr { kind: ExprKind::Call(Box::new(call)), span: self.span_from(first) })
    }

    fn overlay_arguments(&mut self, call: &mut Call<Spelled>) -> Parse<()> {
        let text = self.expression()?;
        Self::push(call, text);
        if !self.take_keyword(Keyword::PLACING) {
            while self.take_symbol(Symbol::Comma) {
                let value = self.expression()?;
                Self::push(call, value);
            }
            return Ok(());
        }
        call.form = CallForm::Overlay;
        let with = self.expression()?;
        Self::push(call, with);
        self.start_and_length(call)
    }
}
