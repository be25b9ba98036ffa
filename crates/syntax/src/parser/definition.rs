//! CREATE TABLE, VIEW, TYPE and single-query FUNCTION.

use compact_str::CompactString;

use super::{Parse, Parser};
use crate::dialect::DialectName;
use crate::keyword::{Keyword, Role};
use crate::precedence;
use crate::token::{Symbol, TokenKind};
use crate::tree::{
    ColumnDefinition, CreateFunction, CreateTable, CreateType, CreateView, CreatedType, Ident, ObjectName, Query, Span, Spelled,
    StatementKind, TableConstraint, TypeName,
};

impl Parser<'_> {
    pub(crate) fn create_statement(&mut self) -> Parse<StatementKind<Spelled>> {
        let first = self.at;
        self.expect_keyword(Keyword::CREATE)?;
        let or_replace = self.take_keywords(&[Keyword::OR, Keyword::REPLACE]) || self.take_keywords(&[Keyword::OR, Keyword::ALTER]);
        let mut temporary = false;
        loop {
            match self.keyword() {
                Keyword::TEMP | Keyword::TEMPORARY => temporary = true,
                Keyword::GLOBAL
                | Keyword::LOCAL
                | Keyword::UNLOGGED
                | Keyword::FORCE
                | Keyword::NO
                | Keyword::EDITIONABLE
                | Keyword::NONEDITIONABLE
                | Keyword::MATERIALIZED
                | Keyword::RECURSIVE => {}
                _ if self.at_word("PRIVATE") || self.at_word("ALGORITHM") && self.skip_assigned_word() => {}
                Keyword::DEFINER | Keyword::SQL => {
                    while !matches!(self.keyword(), Keyword::VIEW | Keyword::FUNCTION | Keyword::PROCEDURE | Keyword::TRIGGER)
                        && !self.at_end()
                    {
                        self.advance();
                    }
                    continue;
                }
                _ => break,
            }
            self.advance();
        }
        let created = match self.keyword() {
            Keyword::TABLE => self.create_table(temporary, or_replace),
            Keyword::VIEW => self.create_view(first),
            Keyword::TYPE if self.peek(1).keyword != Keyword::BODY => self.create_type(),
            Keyword::FUNCTION => {
                if let Some(kind) = self.create_function()? {
                    return Ok(kind);
                }
                self.go_to(first);
                return self.other_statement();
            }
            _ => {
                self.go_to(first);
                return self.other_statement();
            }
        };
        // What a CREATE says beyond what we read has no part in any query: carried along whole.
        match created {
            Ok(kind) if self.at_end() || self.name() == DialectName::SqlServer => Ok(kind),
            Err(error) if self.token().kind == TokenKind::Unclosed => Err(error),
            Err(error) => Err(error),
            Ok(_) => Err(self.expected("the end of the statement")),
        }
    }

    fn skip_assigned_word(&mut self) -> bool {
        self.skip(2);
        true
    }

    // --- CREATE TABLE --------------------------------------------------------------------------

    fn create_table(&mut self, temporary: bool, or_replace: bool) -> Parse<StatementKind<Spelled>> {
        self.expect_keyword(Keyword::TABLE)?;
        let if_not_exists = self.take_keywords(&[Keyword::IF, Keyword::NOT, Keyword::EXISTS]);
        let name = self.object_name("a table's name")?;
        let mut table = CreateTable {
            temporary,
            if_not_exists,
            or_replace,
            name,
            columns: Vec::new(),
            constraints: Vec::new(),
            query: None,
            options: None,
        };
        if self.at_symbol(Symbol::LeftParen) && !self.starts_query() {
            self.table_elements(&mut table)?;
        }
        let options = self.at;
        self.skip_table_options()?;
        if self.at > options {
            table.options = Some(self.span_from(options));
        }
        // SQL Server: a SELECT behind the table is the next statement.
        if self.take_keyword(Keyword::AS) || self.name() != DialectName::SqlServer && self.starts_query() {
            let in_parens = self.at_symbol(Symbol::LeftParen) && self.starts_query();
            if in_parens {
                self.advance();
            }
            table.query = Some(self.query()?);
            if in_parens {
                self.expect_symbol(Symbol::RightParen)?;
            }
            if self.at_keyword(Keyword::WITH) {
                while !self.at_end() {
                    self.advance();
                }
            }
        }
        Ok(StatementKind::CreateTable(Box::new(table)))
    }

    fn table_elements(&mut self, table: &mut CreateTable<Spelled>) -> Parse<()> {
        self.expect_symbol(Symbol::LeftParen)?;
        loop {
            if let Some(constraint) = self.table_constraint()? {
                table.constraints.push(constraint);
            } else {
                table.columns.push(self.column_definition()?);
            }
            if !self.take_symbol(Symbol::Comma) {
                break;
            }
            // SQL Server allows a comma before the parenthesis.
            if self.at_symbol(Symbol::RightParen) {
                break;
            }
        }
        self.expect_symbol(Symbol::RightParen)
    }

    /// PARTITION BY, ENGINE =, TABLESPACE, WITH (..), ON [PRIMARY]: up to AS or the end.
    fn skip_table_options(&mut self) -> Parse<()> {
        while !self.at_end() && !self.at_keyword(Keyword::AS) && !self.starts_query() {
            if self.name() == DialectName::SqlServer && self.keyword().can(Role::BeginsStatement) && !self.at_keyword(Keyword::WITH) {
                return Ok(());
            }
            if self.at_symbol(Symbol::LeftParen) {
                self.skip_group()?;
            } else {
                self.advance();
            }
        }
        Ok(())
    }

    fn table_constraint(&mut self) -> Parse<Option<TableConstraint<Spelled>>> {
        let named = self.at_keyword(Keyword::CONSTRAINT);
        if named {
            self.advance();
            let unnamed = matches!(self.keyword(), Keyword::PRIMARY | Keyword::UNIQUE | Keyword::FOREIGN | Keyword::CHECK)
                && self.peek(1).kind != TokenKind::Word;
            if !unnamed {
                self.any_ident("a constraint's name")?;
            }
        }
        let constraint = match self.keyword() {
            Keyword::PRIMARY if self.peek(1).keyword == Keyword::KEY => {
                self.skip(2);
                TableConstraint::PrimaryKey(self.key_columns()?)
            }
            Keyword::UNIQUE => {
                self.advance();
                self.take_any(&[Keyword::KEY, Keyword::INDEX]);
                if !self.at_symbol(Symbol::LeftParen) && self.at_name() {
                    self.advance();
                }
                TableConstraint::Unique(self.key_columns()?)
            }
            Keyword::FOREIGN => self.foreign_key()?,
            Keyword::CHECK if self.peek(1).symbol == Symbol::LeftParen => {
                self.skip(2);
                let condition = self.expression()?;
                self.expect_symbol(Symbol::RightParen)?;
                TableConstraint::Check(condition)
            }
            Keyword::INDEX | Keyword::KEY | Keyword::EXCLUDE if self.is_index_clause() => {
                while !self.at_symbol(Symbol::LeftParen) && !self.at_end() {
                    self.advance();
                }
                self.skip_group()?;
                TableConstraint::Other
            }
            Keyword::LIKE if self.name() == DialectName::Postgres => {
                self.advance();
                self.object_name("a table's name")?;
                TableConstraint::Other
            }
            _ if (self.at_word("FULLTEXT") || self.at_word("SPATIAL")) && matches!(self.peek(1).keyword, Keyword::INDEX | Keyword::KEY) => {
                while !self.at_symbol(Symbol::LeftParen) && !self.at_end() {
                    self.advance();
                }
                self.skip_group()?;
                TableConstraint::Other
            }
            _ if named => return Err(self.expected("PRIMARY KEY, UNIQUE, FOREIGN KEY or CHECK")),
            _ => return Ok(None),
        };
        self.skip_constraint_options()?;
        Ok(Some(constraint))
    }

    fn is_index_clause(&self) -> bool {
        // `key integer` is a column, `KEY idx (a)` an index.
        self.peek(1).symbol == Symbol::LeftParen
            || self.peek(2).symbol == Symbol::LeftParen && Keyword::of(self.text_of(self.peek(1))) == Keyword::NONE
            || self.peek(2).keyword == Keyword::USING
            || self.peek(1).keyword == Keyword::USING
    }

    fn key_columns(&mut self) -> Parse<Vec<Ident>> {
        self.take_any(&[Keyword::CLUSTERED, Keyword::NONCLUSTERED]);
        self.expect_symbol(Symbol::LeftParen)?;
        let columns = self.list(|p| {
            let name = p.any_ident("a column's name")?;
            if p.at_symbol(Symbol::LeftParen) {
                p.skip_group()?;
            }
            p.take_any(&[Keyword::ASC, Keyword::DESC]);
            Ok(name)
        })?;
        self.expect_symbol(Symbol::RightParen)?;
        Ok(columns)
    }

    fn foreign_key(&mut self) -> Parse<TableConstraint<Spelled>> {
        self.expect_keyword(Keyword::FOREIGN)?;
        self.expect_keyword(Keyword::KEY)?;
        if !self.at_symbol(Symbol::LeftParen) {
            self.any_ident("a name")?;
        }
        let columns = self.key_columns()?;
        let (table, keys) = self.references()?;
        Ok(TableConstraint::ForeignKey(columns, table, keys))
    }

    fn references(&mut self) -> Parse<(ObjectName, Vec<Ident>)> {
        self.expect_keyword(Keyword::REFERENCES)?;
        let table = self.object_name("a table's name")?;
        let keys = if self.at_symbol(Symbol::LeftParen) { self.key_columns()? } else { Vec::new() };
        Ok((table, keys))
    }

    /// ON DELETE CASCADE, DEFERRABLE, USING INDEX, ENFORCED ...: up to ',' or ')'.
    fn skip_constraint_options(&mut self) -> Parse<()> {
        while !self.at_symbol(Symbol::Comma) && !self.at_symbol(Symbol::RightParen) {
            if self.at_end() {
                return Err(self.expected("',' or ')'"));
            }
            if self.at_symbol(Symbol::LeftParen) {
                self.skip_group()?;
            } else {
                self.advance();
            }
        }
        Ok(())
    }

    pub(crate) fn column_definition(&mut self) -> Parse<ColumnDefinition<Spelled>> {
        let first = self.at;
        let name = self.any_ident("a column's name")?;
        let untyped = self.at_symbol(Symbol::Comma)
            || self.at_symbol(Symbol::RightParen)
            || matches!(
                self.keyword(),
                Keyword::PRIMARY | Keyword::NOT | Keyword::UNIQUE | Keyword::CHECK | Keyword::REFERENCES | Keyword::AS
            );
        let type_name = if untyped { None } else { Some(self.type_name()?) };
        let serial = type_name.as_ref().is_some_and(|t| t.words.to_ascii_uppercase().ends_with("SERIAL"));
        let mut column = ColumnDefinition {
            name,
            type_name,
            not_null: serial,
            primary_key: false,
            unique: false,
            default: None,
            check: None,
            references: None,
            collation: None,
            identity: serial,
            generated: None,
            span: Span::SYNTHETIC,
        };
        while !self.at_symbol(Symbol::Comma) && !self.at_symbol(Symbol::RightParen) {
            self.column_clause(&mut column)?;
        }
        column.span = self.span_from(first);
        Ok(column)
    }

    fn column_clause(&mut self, column: &mut ColumnDefinition<Spelled>) -> Parse<()> {
        match self.keyword() {
            Keyword::CONSTRAINT => {
                self.advance();
                self.any_ident("a constraint's name")?;
            }
            Keyword::NOT if self.peek(1).keyword == Keyword::NULL => {
                self.skip(2);
                column.not_null = true;
            }
            Keyword::NULL => {
                self.advance();
            }
            Keyword::PRIMARY => {
                self.advance();
                self.expect_keyword(Keyword::KEY)?;
                self.take_any(&[Keyword::CLUSTERED, Keyword::NONCLUSTERED, Keyword::ASC, Keyword::DESC]);
                column.primary_key = true;
            }
            Keyword::UNIQUE => {
                self.advance();
                self.take_any(&[Keyword::KEY, Keyword::CLUSTERED, Keyword::NONCLUSTERED]);
                column.unique = true;
            }
            Keyword::DEFAULT => {
                self.advance();
                self.take_keywords(&[Keyword::ON, Keyword::NULL]);
                column.default = Some(self.expression_above(precedence::NOT)?);
            }
            Keyword::CHECK => {
                self.advance();
                self.expect_symbol(Symbol::LeftParen)?;
                column.check = Some(self.expression()?);
                self.expect_symbol(Symbol::RightParen)?;
            }
            Keyword::REFERENCES => column.references = Some(self.references()?),
            Keyword::COLLATE => {
                self.advance();
                column.collation = Some(self.any_ident("the name of a collation")?.text);
            }
            Keyword::IDENTITY | Keyword::AUTO_INCREMENT | Keyword::AUTOINCREMENT => {
                self.advance();
                if self.at_symbol(Symbol::LeftParen) {
                    self.skip_group()?;
                }
                column.identity = true;
            }
            Keyword::GENERATED => self.generated(column)?,
            Keyword::AS if self.peek(1).symbol == Symbol::LeftParen => {
                self.skip(2);
                column.generated = Some(self.expression()?);
                self.expect_symbol(Symbol::RightParen)?;
            }
            _ if self.at_end() => return Err(self.expected("',' or ')'")),
            // ON DELETE .., COMMENT '..', STORED, INVISIBLE, ENCODE ..: no effect on results.
            _ if self.at_symbol(Symbol::LeftParen) => self.skip_group()?,
            _ => {
                self.advance();
            }
        }
        Ok(())
    }

    fn generated(&mut self, column: &mut ColumnDefinition<Spelled>) -> Parse<()> {
        self.advance();
        self.take_keyword(Keyword::ALWAYS);
        if self.take_keywords(&[Keyword::BY, Keyword::DEFAULT]) {
            self.take_keywords(&[Keyword::ON, Keyword::NULL]);
        }
        self.expect_keyword(Keyword::AS)?;
        if self.take_keyword(Keyword::IDENTITY) {
            if self.at_symbol(Symbol::LeftParen) {
                self.skip_group()?;
            }
            column.identity = true;
            return Ok(());
        }
        self.expect_symbol(Symbol::LeftParen)?;
        column.generated = Some(self.expression()?);
        self.expect_symbol(Symbol::RightParen)
    }

    // --- CREATE VIEW, TYPE, FUNCTION -----------------------------------------------------------

    fn create_view(&mut self, first: usize) -> Parse<StatementKind<Spelled>> {
        self.expect_keyword(Keyword::VIEW)?;
        self.take_keywords(&[Keyword::IF, Keyword::NOT, Keyword::EXISTS]);
        let name = self.object_name("a view's name")?;
        let columns = if self.at_symbol(Symbol::LeftParen) { self.name_list("a column's name")? } else { Vec::new() };
        while !self.at_keyword(Keyword::AS) && !self.at_end() {
            if self.at_symbol(Symbol::LeftParen) {
                self.skip_group()?;
            } else {
                self.advance();
            }
        }
        self.expect_keyword(Keyword::AS)?;
        let head = self.span_from(first);
        let query = self.query()?;
        let trailing = self.at;
        while !self.at_with_of_query() && self.take_keyword(Keyword::WITH) {
            while !(self.at_end() || self.keyword().can(Role::BeginsStatement)) {
                self.advance();
            }
        }
        let trailing = (self.at > trailing).then(|| self.span_from(trailing));
        Ok(StatementKind::CreateView(Box::new(CreateView { name, columns, query, head, trailing })))
    }

    fn create_type(&mut self) -> Parse<StatementKind<Spelled>> {
        self.expect_keyword(Keyword::TYPE)?;
        let name = self.object_name("a type's name")?;
        self.take_keyword(Keyword::FORCE);
        if self.take_any(&[Keyword::AS, Keyword::IS]).is_none() {
            self.skip_statement()?;
            return Ok(StatementKind::CreateType(Box::new(CreateType { name, kind: CreatedType::Other })));
        }
        let kind = match self.keyword() {
            Keyword::TABLE if self.peek(1).keyword == Keyword::OF => {
                self.skip(2);
                CreatedType::TableOf(self.type_name()?)
            }
            Keyword::VARRAY | Keyword::VARYING => {
                self.advance();
                self.take_keyword(Keyword::ARRAY);
                self.expect_symbol(Symbol::LeftParen)?;
                let size: CompactString = self.take_text().into();
                self.expect_symbol(Symbol::RightParen)?;
                self.expect_keyword(Keyword::OF)?;
                CreatedType::Varray(size, self.type_name()?)
            }
            Keyword::OBJECT => {
                self.advance();
                CreatedType::Object(self.attributes()?)
            }
            _ if self.at_word("ENUM") => {
                self.advance();
                self.expect_symbol(Symbol::LeftParen)?;
                let values = self.list(|p| Ok(p.take_ident().text))?;
                self.expect_symbol(Symbol::RightParen)?;
                CreatedType::Enum(values)
            }
            _ if self.at_symbol(Symbol::LeftParen) => CreatedType::Object(self.attributes()?),
            _ => CreatedType::Other,
        };
        if kind == CreatedType::Other {
            self.skip_statement()?;
        }
        while matches!(self.keyword(), Keyword::NOT) || self.at_word("FINAL") || self.at_word("INSTANTIABLE") {
            self.advance();
        }
        Ok(StatementKind::CreateType(Box::new(CreateType { name, kind })))
    }

    fn attributes(&mut self) -> Parse<Vec<ColumnDefinition<Spelled>>> {
        self.expect_symbol(Symbol::LeftParen)?;
        let columns = self.list(Self::column_definition)?;
        self.expect_symbol(Symbol::RightParen)?;
        Ok(columns)
    }

    fn skip_statement(&mut self) -> Parse<()> {
        while !self.at_end() {
            if self.at_symbol(Symbol::LeftParen) {
                self.skip_group()?;
            } else {
                self.advance();
            }
        }
        Ok(())
    }

    /// A function whose body is one query; `None` for any other body.
    fn create_function(&mut self) -> Parse<Option<StatementKind<Spelled>>> {
        self.expect_keyword(Keyword::FUNCTION)?;
        let name = self.object_name("a function's name")?;
        let Ok(parameters) = self.parameters() else { return Ok(None) };
        if self.take_any(&[Keyword::RETURNS, Keyword::RETURN]).is_none() {
            return Ok(None);
        }
        let mut returns = Vec::new();
        let is_table = self.take_keyword(Keyword::TABLE) || {
            let variable = self.token().kind == TokenKind::Parameter;
            if variable {
                return Ok(None);
            }
            false
        };
        if is_table && (self.at_symbol(Symbol::LeftParen) || self.at_symbol(Symbol::Less)) {
            let Ok(columns) = self.returned_columns() else { return Ok(None) };
            returns = columns;
        } else if !is_table {
            return Ok(None);
        }
        Ok(self.function_body()?.map(|query| StatementKind::CreateFunction(Box::new(CreateFunction { name, parameters, returns, query }))))
    }

    fn parameters(&mut self) -> Parse<Vec<(Ident, TypeName)>> {
        self.expect_symbol(Symbol::LeftParen)?;
        if self.take_symbol(Symbol::RightParen) {
            return Ok(Vec::new());
        }
        let parameters = self.list(|p| {
            p.take_any(&[Keyword::IN, Keyword::OUT]);
            let name = p.parameter_name()?;
            p.take_keyword(Keyword::AS);
            let type_name = p.type_name()?;
            if p.take_symbol(Symbol::Equal) || p.take_keyword(Keyword::DEFAULT) {
                p.expression()?;
            }
            Ok((name, type_name))
        })?;
        self.expect_symbol(Symbol::RightParen)?;
        Ok(parameters)
    }

    fn parameter_name(&mut self) -> Parse<Ident> {
        match self.token().kind {
            TokenKind::Parameter | TokenKind::Word | TokenKind::QuotedName => {
                let token = self.at as u32;
                let text = self.take_text().into();
                Ok(Ident { text, quote: crate::tree::Quote::None, token })
            }
            _ => Err(self.expected("a parameter's name")),
        }
    }

    fn returned_columns(&mut self) -> Parse<Vec<(Ident, TypeName)>> {
        let angle = self.at_symbol(Symbol::Less);
        self.advance();
        let columns = self.list(|p| Ok((p.any_ident("a column's name")?, p.type_name()?)))?;
        if angle {
            self.close_angle()?;
        } else {
            self.expect_symbol(Symbol::RightParen)?;
        }
        Ok(columns)
    }

    /// `AS RETURN (query)`, `AS $$ query $$` (opaque text: not read), `RETURN query`, `AS (query)`.
    fn function_body(&mut self) -> Parse<Option<Query<Spelled>>> {
        while !self.at_end() && !matches!(self.keyword(), Keyword::AS | Keyword::RETURN | Keyword::BEGIN) {
            if self.at_symbol(Symbol::LeftParen) {
                self.skip_group()?;
            } else {
                self.advance();
            }
        }
        self.take_keyword(Keyword::AS);
        self.take_keyword(Keyword::TABLE);
        let begin = self.take_keyword(Keyword::BEGIN);
        if begin {
            self.take_word("ATOMIC");
        }
        self.take_keyword(Keyword::RETURN);
        if !self.starts_query() {
            return Ok(None);
        }
        let in_parens = self.at_symbol(Symbol::LeftParen);
        if in_parens {
            self.advance();
        }
        let query = self.query()?;
        if in_parens {
            self.expect_symbol(Symbol::RightParen)?;
        }
        if begin {
            return Ok(None);
        }
        Ok(Some(query))
    }
}
