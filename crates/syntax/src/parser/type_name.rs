//! Type names: words, parameters, suffixes, element types.

use compact_str::CompactString;

use super::{Parse, Parser};
use crate::dialect::DialectName;
use crate::keyword::Keyword;
use crate::token::{Symbol, TokenKind};
use crate::tree::TypeName;

impl Parser<'_> {
    /// A type name.
    pub(crate) fn type_name(&mut self) -> Parse<TypeName> {
        self.deeper(Self::type_name_inner)
    }

    fn type_name_inner(&mut self) -> Parse<TypeName> {
        let first = self.at;
        if !matches!(self.token().kind, TokenKind::Word | TokenKind::QuotedName) {
            return Err(self.expected("a type"));
        }
        let mut type_name = TypeName::synthetic("", Vec::new());
        type_name.words = self.type_words()?;
        // `x::int < 5` compares.
        let has_elements = ["ARRAY", "STRUCT", "MAP", "RANGE"].iter().any(|w| type_name.words.eq_ignore_ascii_case(w));
        if has_elements && self.at_symbol(Symbol::Less) {
            self.element_types(&mut type_name)?;
        } else if self.at_symbol(Symbol::LeftParen) {
            if matches!(type_name.words.to_ascii_uppercase().as_str(), "STRUCT" | "ROW" | "MAP") {
                self.field_types(&mut type_name)?;
            } else {
                type_name.arguments = self.type_arguments()?;
            }
        }
        type_name.suffix = self.type_suffix();
        while self.at_symbol(Symbol::LeftBracket) && !self.spelling.bracket_names {
            self.advance();
            if self.token().kind == TokenKind::Number {
                self.advance();
            }
            self.expect_symbol(Symbol::RightBracket)?;
            type_name.dimensions += 1;
        }
        if self.at_keyword(Keyword::ARRAY) && self.is(&[DialectName::Postgres, DialectName::Duckdb]) {
            self.advance();
            type_name.dimensions += 1;
        }
        type_name.span = self.span_from(first);
        Ok(type_name)
    }

    fn type_words(&mut self) -> Parse<CompactString> {
        let quoted = self.token().kind == TokenKind::QuotedName;
        let first = self.any_ident("a type")?;
        // PostgreSQL: "char" is one byte, which CHAR is not.
        if quoted && self.name() == DialectName::Postgres && first.text == "char" {
            return Ok("\"char\"".into());
        }
        let first_word = Keyword::of(&first.text);
        let mut words = self.object_name_from(first)?.dotted();
        let more: &[&str] = match first_word {
            Keyword::DOUBLE => &["PRECISION"],
            Keyword::CHARACTER | Keyword::CHAR => &["VARYING", "LARGE"],
            Keyword::NATIONAL => &["CHARACTER", "CHAR", "VARCHAR", "VARYING"],
            Keyword::BINARY => &["VARYING", "LARGE"],
            _ if words.eq_ignore_ascii_case("LONG") => &["RAW", "VARCHAR"],
            _ if words.eq_ignore_ascii_case("BIT") => &["VARYING"],
            _ if words.eq_ignore_ascii_case("SIGNED") || words.eq_ignore_ascii_case("UNSIGNED") => &["INTEGER", "INT"],
            Keyword::UNSIGNED => &["INTEGER", "INT"],
            _ => &[],
        };
        while self.token().kind == TokenKind::Word && more.iter().any(|w| self.at_word(w)) {
            words.push(' ');
            words.push_str(self.take_text());
        }
        Ok(words.into())
    }

    fn type_arguments(&mut self) -> Parse<Vec<CompactString>> {
        self.expect_symbol(Symbol::LeftParen)?;
        let mut arguments = Vec::new();
        let mut current = String::new();
        loop {
            let token = self.token();
            match (token.kind, token.symbol) {
                (TokenKind::End | TokenKind::Separator | TokenKind::BatchSeparator, _) => return Err(self.expected("')'")),
                (_, Symbol::RightParen) => break,
                (_, Symbol::Comma) => arguments.push(CompactString::from(std::mem::take(&mut current))),
                (_, Symbol::LeftParen) => return Err(self.expected("')'")),
                _ => {
                    if !current.is_empty() && token.kind == TokenKind::Word {
                        current.push(' ');
                    }
                    current.push_str(self.text_of(token));
                }
            }
            self.advance();
        }
        arguments.push(current.into());
        self.expect_symbol(Symbol::RightParen)?;
        Ok(arguments)
    }

    /// `ARRAY<INT64>`, `STRUCT<name STRING, tons INT64>`, `STRUCT<name: STRING>`.
    fn element_types(&mut self, type_name: &mut TypeName) -> Parse<()> {
        self.expect_symbol(Symbol::Less)?;
        let is_struct = type_name.words.eq_ignore_ascii_case("STRUCT");
        loop {
            let named =
                is_struct && (self.peek(1).symbol == Symbol::Colon || matches!(self.peek(1).kind, TokenKind::Word | TokenKind::QuotedName));
            let name = if named { Some(self.any_ident("a field's name")?) } else { None };
            self.take_symbol(Symbol::Colon);
            let element = self.type_name()?;
            type_name.elements.push((name, element));
            if !self.take_symbol(Symbol::Comma) {
                break;
            }
        }
        self.close_angle()
    }

    /// `>`; where two close at once the lexer made one `>>` of them, which closes this level when
    /// it is met again.
    pub(crate) fn close_angle(&mut self) -> Parse<()> {
        if self.at_symbol(Symbol::ShiftRight) {
            if self.half_closed == self.at as u32 {
                self.half_closed = u32::MAX;
                self.advance();
            } else {
                self.half_closed = self.at as u32;
            }
            return Ok(());
        }
        self.expect_symbol(Symbol::Greater)
    }

    /// DuckDB: `STRUCT(name VARCHAR, tons INTEGER)`, `MAP(VARCHAR, INTEGER)`.
    fn field_types(&mut self, type_name: &mut TypeName) -> Parse<()> {
        self.expect_symbol(Symbol::LeftParen)?;
        let is_map = type_name.words.eq_ignore_ascii_case("MAP");
        loop {
            let name = if is_map { None } else { Some(self.any_ident("a field's name")?) };
            let element = self.type_name()?;
            type_name.elements.push((name, element));
            if !self.take_symbol(Symbol::Comma) {
                break;
            }
        }
        self.expect_symbol(Symbol::RightParen)
    }

    fn type_suffix(&mut self) -> CompactString {
        let first = self.at;
        loop {
            let taken = match self.keyword() {
                Keyword::WITH | Keyword::WITHOUT => {
                    self.take_keywords(&[self.keyword(), Keyword::TIME, Keyword::ZONE])
                        || self.take_keywords(&[Keyword::WITH, Keyword::LOCAL, Keyword::TIME, Keyword::ZONE])
                }
                Keyword::UNSIGNED => self.take_keyword(Keyword::UNSIGNED),
                Keyword::CHARACTER if self.peek(1).keyword == Keyword::SET => {
                    self.skip(2);
                    self.advance();
                    true
                }
                Keyword::CHARSET if self.is(&[DialectName::Mysql, DialectName::Mariadb]) => {
                    self.skip(1);
                    self.advance();
                    true
                }
                Keyword::TO if self.is_interval_before() => {
                    self.advance();
                    self.advance();
                    if self.at_symbol(Symbol::LeftParen) {
                        let _ = self.skip_group();
                    }
                    true
                }
                Keyword::YEAR | Keyword::DAY | Keyword::MONTH | Keyword::HOUR | Keyword::MINUTE | Keyword::SECOND
                    if self.is_interval_before() =>
                {
                    self.advance();
                    if self.at_symbol(Symbol::LeftParen) {
                        let _ = self.skip_group();
                    }
                    true
                }
                _ => self.at_word("ZEROFILL") && self.take_word("ZEROFILL") || self.at_word("SIGNED") && self.take_word("SIGNED"),
            };
            if !taken {
                break;
            }
        }
        let words: Vec<&str> = (first..self.at).map(|i| self.text_of(self.tokens[i])).collect();
        words.join(" ").into()
    }

    fn is_interval_before(&self) -> bool {
        self.tokens[self.at.saturating_sub(5)..self.at].iter().any(|t| t.keyword == Keyword::INTERVAL)
    }
}
