//! INSERT, UPDATE, DELETE, MERGE.

use super::{Parse, Parser};
use crate::dialect::DialectName;
use crate::keyword::{Keyword, Role};
use crate::token::{Symbol, TokenKind};
use crate::tree::{
    Assignment, Delete, Ident, Insert, Merge, MergeAction, MergeClause, MergeMatch, ObjectName, Span, Spelled, StatementKind, TableKind,
    TableRef, Update, With,
};

impl Parser<'_> {
    pub(crate) fn change_statement(&mut self) -> Parse<StatementKind<Spelled>> {
        let with = if self.at_keyword(Keyword::WITH) { Some(self.with()?) } else { None };
        match self.keyword() {
            Keyword::INSERT | Keyword::REPLACE => self.insert(with),
            Keyword::UPDATE => self.update(with),
            Keyword::DELETE => self.delete(with),
            Keyword::MERGE => self.merge(with),
            _ => Err(self.expected("SELECT, INSERT, UPDATE, DELETE or MERGE")),
        }
    }

    fn insert(&mut self, with: Option<With<Spelled>>) -> Parse<StatementKind<Spelled>> {
        let replace = self.at;
        let is_replace = self.advance().keyword == Keyword::REPLACE;
        let words = self.at;
        if self.at_keyword(Keyword::ALL) || self.at_keyword(Keyword::FIRST) {
            return Err(self.error_here("an INSERT into several tables can't be read; write one INSERT a table".to_string()));
        }
        while !self.at_keyword(Keyword::INTO)
            && matches!(
                self.keyword(),
                Keyword::OR
                    | Keyword::REPLACE
                    | Keyword::IGNORE
                    | Keyword::LOW_PRIORITY
                    | Keyword::DELAYED
                    | Keyword::HIGH_PRIORITY
                    | Keyword::OVERWRITE
            )
        {
            if self.advance().keyword == Keyword::OR {
                self.advance();
            }
        }
        let modifiers = if is_replace { Some(self.span_from(replace)) } else { (self.at > words).then(|| self.span_from(words)) };
        self.take_keyword(Keyword::INTO);
        self.take_keyword(Keyword::TABLE);
        let table = self.target_name()?;
        let alias = if self.take_keyword(Keyword::AS) || (self.bare_alias_follows() && !self.at_keyword(Keyword::VALUE)) {
            Some(self.any_ident("an alias")?)
        } else {
            None
        };
        let columns = if self.at_symbol(Symbol::LeftParen) && !self.starts_query() { self.insert_columns()? } else { Vec::new() };
        let output = self.skip_output()?;
        let source = if self.take_keywords(&[Keyword::DEFAULT, Keyword::VALUES]) {
            None
        } else if self.at_keyword(Keyword::VALUE) {
            // MySQL: VALUE for VALUES.
            return Err(self.expected("VALUES or a query"));
        } else if self.starts_query() {
            Some(self.query()?)
        } else {
            return Err(self.expected("VALUES or a query"));
        };
        let trailing = self.change_trailing()?.or(output);
        Ok(StatementKind::Insert(Box::new(Insert { with, modifiers, table, alias, columns, source, trailing })))
    }

    fn insert_columns(&mut self) -> Parse<Vec<Ident>> {
        self.expect_symbol(Symbol::LeftParen)?;
        let columns = self.list(|p| {
            let mut name = p.any_ident("a column's name")?;
            // `t.column` names the table again.
            while p.take_symbol(Symbol::Period) {
                name = p.any_ident("a column's name")?;
            }
            Ok(name)
        })?;
        self.expect_symbol(Symbol::RightParen)?;
        Ok(columns)
    }

    /// A table's name, or a variable that holds a table.
    fn target_name(&mut self) -> Parse<ObjectName> {
        if self.token().kind == TokenKind::Parameter {
            let token = self.at as u32;
            let text = self.take_text();
            return Ok(ObjectName::single(Ident { text: text.into(), quote: crate::tree::Quote::None, token }));
        }
        self.object_name("a table's name")
    }

    /// OUTPUT of SQL Server is in the middle of the statement; it is read over here and makes
    /// the statement one that has a `trailing` clause.
    fn skip_output(&mut self) -> Parse<Option<Span>> {
        if !self.at_keyword(Keyword::OUTPUT) {
            return Ok(None);
        }
        let first = self.at;
        self.advance();
        while !self.at_end()
            && !matches!(
                self.keyword(),
                Keyword::VALUES | Keyword::SELECT | Keyword::WHERE | Keyword::FROM | Keyword::DEFAULT | Keyword::WITH
            )
        {
            if self.at_symbol(Symbol::LeftParen) {
                self.skip_group()?;
            } else {
                self.advance();
            }
        }
        Ok(Some(self.span_from(first)))
    }

    /// ON CONFLICT, ON DUPLICATE KEY UPDATE, RETURNING, LOG ERRORS: up to the end.
    fn change_trailing(&mut self) -> Parse<Option<Span>> {
        let begins =
            matches!(self.keyword(), Keyword::ON | Keyword::RETURNING | Keyword::RETURN | Keyword::LOG | Keyword::OUTPUT | Keyword::OPTION);
        if !begins {
            return Ok(None);
        }
        let first = self.at;
        while !(self.at_end() || self.at > first && self.keyword().can(Role::BeginsStatement) && self.name() == DialectName::SqlServer) {
            if self.at_symbol(Symbol::LeftParen) {
                self.skip_group()?;
            } else {
                self.advance();
            }
        }
        Ok(Some(self.span_from(first)))
    }

    fn update(&mut self, with: Option<With<Spelled>>) -> Parse<StatementKind<Spelled>> {
        self.expect_keyword(Keyword::UPDATE)?;
        let modifiers = self.change_modifiers();
        let top = if self.at_keyword(Keyword::TOP) { Some(Box::new(self.top()?)) } else { None };
        let mut table = self.table_ref()?;
        // MySQL: UPDATE a, b SET ...
        let first = table.span.first as usize;
        while self.at_symbol(Symbol::Comma) {
            self.advance();
            let right = self.table_ref()?;
            table = self.cross_joined(first, table, right);
        }
        self.expect_keyword(Keyword::SET)?;
        let assignments = self.list(Self::assignment)?;
        let output = self.skip_output()?;
        let from = if self.take_keyword(Keyword::FROM) { self.list(Self::table_ref)? } else { Vec::new() };
        let condition = if self.take_keyword(Keyword::WHERE) { Some(self.expression()?) } else { None };
        let order_by = if self.take_keywords(&[Keyword::ORDER, Keyword::BY]) { self.list(Self::sort_key)? } else { Vec::new() };
        let limit = self.limit_clauses()?;
        let trailing = self.change_trailing()?.or(output);
        Ok(StatementKind::Update(Box::new(Update { with, modifiers, top, table, assignments, from, condition, order_by, limit, trailing })))
    }

    fn cross_joined(&self, first: usize, left: TableRef<Spelled>, right: TableRef<Spelled>) -> TableRef<Spelled> {
        let join = crate::tree::Join {
            kind: crate::tree::JoinKind::Cross,
            natural: false,
            explicit_word: false,
            left,
            right,
            condition: crate::tree::JoinCondition::None,
        };
        TableRef {
            kind: TableKind::Join(Box::new(join)),
            alias: None,
            relation: (),
            hints: None,
            qualifier: None,
            span: self.span_from(first),
        }
    }

    fn assignment(&mut self) -> Parse<Assignment<Spelled>> {
        let first = self.at;
        let as_row = self.take_symbol(Symbol::LeftParen);
        let mut targets = vec![self.assignment_target()?];
        while as_row && self.take_symbol(Symbol::Comma) {
            targets.push(self.assignment_target()?);
        }
        if as_row {
            self.expect_symbol(Symbol::RightParen)?;
        }
        let compound = matches!(self.symbol(), Symbol::PlusAssign | Symbol::MinusAssign | Symbol::StarAssign | Symbol::SlashAssign);
        let operator = compound.then(|| self.symbol().text().into());
        if compound {
            self.advance();
        } else if !self.take_symbol(Symbol::Assign) {
            self.expect_symbol(Symbol::Equal)?;
        }
        let value = self.expression()?;
        Ok(Assignment { targets, as_row, value, operator, span: self.span_from(first) })
    }

    fn assignment_target(&mut self) -> Parse<ObjectName> {
        if self.token().kind == TokenKind::Parameter {
            return self.target_name();
        }
        let first = self.any_ident("a column's name")?;
        self.object_name_from(first)
    }

    fn delete(&mut self, with: Option<With<Spelled>>) -> Parse<StatementKind<Spelled>> {
        self.expect_keyword(Keyword::DELETE)?;
        let modifiers = self.change_modifiers();
        let top = if self.at_keyword(Keyword::TOP) { Some(Box::new(self.top()?)) } else { None };
        // `DELETE t FROM t JOIN ..` names what is deleted first.
        let mut targets = Vec::new();
        let named_first = self.at_name() && self.named_before_from();
        if named_first {
            targets = self.list(|p| {
                let name = p.object_name("a table's name")?;
                // MySQL: `t.*`.
                if p.at_symbol(Symbol::Period) {
                    p.skip(2);
                }
                Ok(name)
            })?;
        }
        let output = self.skip_output()?;
        let from_word = self.take_keyword(Keyword::FROM);
        let table = self.table_ref()?;
        let output = output.or(self.skip_output()?);
        let mut using = Vec::new();
        if self.at_keyword(Keyword::USING) || (self.at_keyword(Keyword::FROM) && !named_first) {
            self.advance();
            using = self.list(Self::table_ref)?;
        }
        let condition = if self.take_keyword(Keyword::WHERE) { Some(self.expression()?) } else { None };
        let order_by = if self.take_keywords(&[Keyword::ORDER, Keyword::BY]) { self.list(Self::sort_key)? } else { Vec::new() };
        let limit = self.limit_clauses()?;
        let trailing = self.change_trailing()?.or(output);
        Ok(StatementKind::Delete(Box::new(Delete {
            with,
            modifiers,
            top,
            targets,
            from_word,
            table,
            using,
            condition,
            order_by,
            limit,
            trailing,
        })))
    }

    /// Words between UPDATE or DELETE and the table.
    fn change_modifiers(&mut self) -> Option<Span> {
        let first = self.at;
        // SQLite: UPDATE OR IGNORE.
        if self.name() == DialectName::Sqlite && self.take_keyword(Keyword::OR) {
            self.advance();
        }
        if self.is(&[DialectName::Mysql, DialectName::Mariadb]) {
            while matches!(self.keyword(), Keyword::LOW_PRIORITY | Keyword::IGNORE) || self.at_word("QUICK") {
                self.advance();
            }
        }
        (self.at > first).then(|| self.span_from(first))
    }

    fn named_before_from(&self) -> bool {
        let mut ahead = 0;
        loop {
            let token = self.peek(ahead);
            match (token.kind, token.symbol, token.keyword) {
                (_, _, Keyword::FROM) => return ahead > 0,
                (TokenKind::Word | TokenKind::QuotedName, _, Keyword::WHERE | Keyword::OUTPUT | Keyword::SET) => return false,
                (TokenKind::Word | TokenKind::QuotedName, ..) | (_, Symbol::Period | Symbol::Comma | Symbol::Star, _) => ahead += 1,
                _ => return false,
            }
        }
    }

    // --- MERGE ---------------------------------------------------------------------------------

    fn merge(&mut self, with: Option<With<Spelled>>) -> Parse<StatementKind<Spelled>> {
        self.expect_keyword(Keyword::MERGE)?;
        let top = if self.at_keyword(Keyword::TOP) { Some(Box::new(self.top()?)) } else { None };
        self.take_keyword(Keyword::INTO);
        let target = self.table_ref()?;
        self.expect_keyword(Keyword::USING)?;
        let source = self.table_ref()?;
        self.expect_keyword(Keyword::ON)?;
        let condition = self.expression()?;
        let mut clauses = Vec::new();
        while self.at_keyword(Keyword::WHEN) {
            clauses.push(self.merge_clause()?);
        }
        if clauses.is_empty() {
            return Err(self.expected("WHEN"));
        }
        let output = self.skip_output()?;
        let trailing = self.change_trailing()?.or(output);
        Ok(StatementKind::Merge(Box::new(Merge { with, top, target, source, condition, clauses, trailing })))
    }

    fn merge_clause(&mut self) -> Parse<MergeClause<Spelled>> {
        let first = self.at;
        self.expect_keyword(Keyword::WHEN)?;
        let negated = self.take_keyword(Keyword::NOT);
        self.expect_keyword(Keyword::MATCHED)?;
        let mut when = if negated { MergeMatch::NotMatched } else { MergeMatch::Matched };
        if self.take_keyword(Keyword::BY) {
            match self.take_any(&[Keyword::SOURCE, Keyword::TARGET]) {
                Some(Keyword::SOURCE) => when = MergeMatch::NotMatchedBySource,
                Some(_) => {}
                None => return Err(self.expected("SOURCE or TARGET")),
            }
        }
        let condition = if self.take_keyword(Keyword::AND) { Some(self.expression()?) } else { None };
        self.expect_keyword(Keyword::THEN)?;
        let action = self.merge_action()?;
        Ok(MergeClause { when, condition, action, span: self.span_from(first) })
    }

    fn merge_action(&mut self) -> Parse<MergeAction<Spelled>> {
        if self.take_keyword(Keyword::UPDATE) {
            self.expect_keyword(Keyword::SET)?;
            let assignments = self.list(Self::assignment)?;
            let condition = if self.take_keyword(Keyword::WHERE) { Some(self.expression()?) } else { None };
            let delete = if self.take_keyword(Keyword::DELETE) {
                self.expect_keyword(Keyword::WHERE)?;
                Some(self.expression()?)
            } else {
                None
            };
            return Ok(MergeAction::Update(assignments, condition, delete));
        }
        if self.take_keyword(Keyword::DELETE) {
            return Ok(MergeAction::Delete);
        }
        if self.take_keyword(Keyword::DO) {
            if !self.take_word("NOTHING") {
                return Err(self.expected("NOTHING"));
            }
            return Ok(MergeAction::Nothing);
        }
        self.expect_keyword(Keyword::INSERT)?;
        let columns = if self.at_symbol(Symbol::LeftParen) { self.insert_columns()? } else { Vec::new() };
        if self.take_keyword(Keyword::ROW) {
            return Ok(MergeAction::Insert(columns, Vec::new(), None));
        }
        self.expect_keyword(Keyword::VALUES)?;
        self.expect_symbol(Symbol::LeftParen)?;
        let values = self.expression_list()?;
        self.expect_symbol(Symbol::RightParen)?;
        let condition = if self.take_keyword(Keyword::WHERE) { Some(self.expression()?) } else { None };
        Ok(MergeAction::Insert(columns, values, condition))
    }
}
