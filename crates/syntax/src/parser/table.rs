//! Table references: names, derived tables, functions, joins, PIVOT.

use super::{Parse, Parser};
use crate::dialect::DialectName;
use crate::keyword::{Keyword, Role};
use crate::precedence;
use crate::token::{Symbol, TokenKind};
use crate::tree::{
    Call, Expr, ExprKind, Ident, Join, JoinCondition, JoinKind, Numbered, ObjectName, Pivot, Query, QueryBody, Span, Spelled, TableAlias,
    TableKind, TableRef, Unpivot,
};

type Table = TableRef<Spelled>;

impl Parser<'_> {
    /// One element of FROM with all its joins.
    pub(crate) fn table_ref(&mut self) -> Parse<Table> {
        self.deeper(Self::joined_table)
    }

    fn joined_table(&mut self) -> Parse<Table> {
        let first = self.at;
        let mut left = self.table_primary()?;
        let mut length = 0;
        while let Some((kind, natural, explicit_word)) = self.join_words()? {
            self.check_chain(length)?;
            length += 1;
            // `a JOIN b JOIN c ON .. ON ..`: the inner join belongs to the right side.
            let right = self.join_right(kind, natural)?;
            let condition = self.join_condition()?;
            let join = Join { kind, natural, explicit_word, left, right, condition };
            left = self.table(first, TableKind::Join(Box::new(join)));
        }
        Ok(left)
    }

    fn table(&self, first: usize, kind: TableKind<Spelled>) -> Table {
        TableRef { kind, alias: None, relation: (), hints: None, qualifier: None, span: self.span_from(first) }
    }

    /// The right side of a join. In `a JOIN b JOIN c ON .. ON ..` the second join belongs to it,
    /// which shows in the second condition; without one the joins are read from left to right.
    fn join_right(&mut self, kind: JoinKind, natural: bool) -> Parse<Table> {
        let first = self.at;
        let right = self.table_primary()?;
        let needs_condition = !natural && matches!(kind, JoinKind::Inner | JoinKind::Left | JoinKind::Right | JoinKind::Full);
        if !needs_condition || matches!(self.keyword(), Keyword::ON | Keyword::USING) {
            return Ok(right);
        }
        let before = self.at;
        // Each place is tried once: a chain of joins without conditions would cost 2^n otherwise.
        if self.tried_joins.insert(before)
            && let Some(nested) = self.nested_join(first, right.clone())?
        {
            return Ok(nested);
        }
        self.go_to(before);
        Ok(right)
    }

    fn nested_join(&mut self, first: usize, left: Table) -> Parse<Option<Table>> {
        let mut left = left;
        while !matches!(self.keyword(), Keyword::ON | Keyword::USING) {
            let Some((kind, natural, explicit_word)) = self.join_words()? else { return Ok(None) };
            let right = self.join_right(kind, natural)?;
            let condition = self.join_condition()?;
            let join = Join { kind, natural, explicit_word, left, right, condition };
            left = self.table(first, TableKind::Join(Box::new(join)));
        }
        Ok(Some(left))
    }

    /// The words before and with JOIN, or APPLY.
    fn join_words(&mut self) -> Parse<Option<(JoinKind, bool, bool)>> {
        let start = self.at;
        let natural = self.take_keyword(Keyword::NATURAL);
        let mut explicit = false;
        let kind = match self.keyword() {
            Keyword::JOIN => JoinKind::Inner,
            Keyword::INNER => {
                self.advance();
                explicit = true;
                JoinKind::Inner
            }
            Keyword::CROSS => {
                self.advance();
                if self.take_keyword(Keyword::APPLY) {
                    return Ok(Some((JoinKind::CrossApply, natural, false)));
                }
                JoinKind::Cross
            }
            Keyword::OUTER if self.peek(1).keyword == Keyword::APPLY => {
                self.skip(2);
                return Ok(Some((JoinKind::OuterApply, natural, false)));
            }
            Keyword::STRAIGHT_JOIN => {
                self.advance();
                return Ok(Some((JoinKind::Straight, natural, false)));
            }
            Keyword::LEFT | Keyword::RIGHT | Keyword::FULL | Keyword::SEMI | Keyword::ANTI | Keyword::ASOF | Keyword::POSITIONAL => {
                let word = self.advance().keyword;
                explicit = self.take_keyword(Keyword::OUTER);
                self.outer_join_kind(word)
            }
            _ => {
                self.go_to(start);
                return Ok(None);
            }
        };
        if self.name() == DialectName::SqlServer
            && self.at_word("HASH") | self.at_word("MERGE") | self.at_word("LOOP") | self.at_word("REMOTE")
        {
            self.advance();
        }
        if !self.take_keyword(Keyword::JOIN) {
            if natural || explicit {
                return Err(self.expected("JOIN"));
            }
            self.go_to(start);
            return Ok(None);
        }
        Ok(Some((kind, natural, explicit)))
    }

    fn outer_join_kind(&mut self, word: Keyword) -> JoinKind {
        match word {
            Keyword::LEFT if self.take_keyword(Keyword::SEMI) => JoinKind::Semi,
            Keyword::LEFT if self.take_keyword(Keyword::ANTI) => JoinKind::Anti,
            Keyword::LEFT => JoinKind::Left,
            Keyword::RIGHT => JoinKind::Right,
            Keyword::FULL => JoinKind::Full,
            Keyword::SEMI => JoinKind::Semi,
            Keyword::ANTI => JoinKind::Anti,
            Keyword::ASOF => JoinKind::Asof,
            _ => JoinKind::Positional,
        }
    }

    fn join_condition(&mut self) -> Parse<JoinCondition<Spelled>> {
        if self.take_keyword(Keyword::ON) {
            return Ok(JoinCondition::On(self.expression()?));
        }
        if self.at_keyword(Keyword::USING) && self.peek(1).symbol == Symbol::LeftParen {
            self.advance();
            return Ok(JoinCondition::Using(self.name_list("a column's name")?));
        }
        Ok(JoinCondition::None)
    }

    fn table_primary(&mut self) -> Parse<Table> {
        let first = self.at;
        let lateral = self.at_keyword(Keyword::LATERAL) && {
            self.advance();
            true
        };
        let mut table = match self.symbol() {
            Symbol::LeftParen if self.starts_query_as_table() => {
                self.advance();
                let query = Box::new(self.query()?);
                self.expect_symbol(Symbol::RightParen)?;
                self.table(first, TableKind::Derived { lateral, query })
            }
            Symbol::LeftParen => {
                self.advance();
                let mut inner = self.table_ref()?;
                // `(a, b)` is a cross join (MySQL).
                while self.at_symbol(Symbol::Comma) {
                    self.advance();
                    let right = self.table_ref()?;
                    let join = Join {
                        kind: JoinKind::Cross,
                        natural: false,
                        explicit_word: false,
                        left: inner,
                        right,
                        condition: JoinCondition::None,
                    };
                    inner = self.table(first + 1, TableKind::Join(Box::new(join)));
                }
                self.expect_symbol(Symbol::RightParen)?;
                self.table(first, TableKind::Nested(Box::new(inner)))
            }
            _ => self.named_table(first, lateral)?,
        };
        self.after_table(&mut table)?;
        table.span = self.span_from(first);
        self.pivots(table, first)
    }

    /// `(SELECT ..)` or `((SELECT ..) UNION ..)`, but `((a JOIN b) JOIN c)` is a table reference.
    fn starts_query_as_table(&self) -> bool {
        let mut ahead = 1;
        while self.peek(ahead).symbol == Symbol::LeftParen {
            ahead += 1;
        }
        if !matches!(self.peek(ahead).keyword, Keyword::SELECT | Keyword::WITH | Keyword::VALUES | Keyword::FROM | Keyword::TABLE) {
            return false;
        }
        if ahead == 1 {
            return self.peek(1).keyword != Keyword::TABLE || self.peek(2).symbol != Symbol::LeftParen;
        }
        // What follows the inner parentheses decides: a set operator makes it a query.
        self.after_inner_parens()
            .is_none_or(|next| next.symbol == Symbol::RightParen || next.kind == TokenKind::End || next.keyword.can(Role::ContinuesQuery))
    }

    fn named_table(&mut self, first: usize, lateral: bool) -> Parse<Table> {
        // Prefix aliases of DuckDB: `v: vessels`.
        if self.name() == DialectName::Duckdb && self.peek(1).symbol == Symbol::Colon && self.at_name() {
            let name = self.take_ident();
            self.advance();
            let mut table = self.table_primary()?;
            table.alias = Some(TableAlias { as_word: false, name: Some(name), columns: Vec::new(), typed_columns: None });
            return Ok(table);
        }
        let only = self.name() == DialectName::Postgres && self.take_keyword(Keyword::ONLY);
        let only = only.then(|| self.span_from(first.max(self.at - 1)));
        // Spark: rows written out without parentheses around them.
        if self.at_keyword(Keyword::VALUES) && self.name() == DialectName::Spark {
            let values = self.values()?;
            let query = Box::new(Query::of(QueryBody::Values(values), self.span_from(first)));
            return Ok(self.table(first, TableKind::Derived { lateral, query }));
        }
        // Tables named by a text or a parameter: DuckDB's FROM 'file.csv', FROM @t.
        match self.token().kind {
            TokenKind::String if self.name() == DialectName::Duckdb => {
                let name = ObjectName::single(self.take_ident());
                return Ok(self.table(first, TableKind::Name(name)));
            }
            TokenKind::Parameter => {
                let text = self.take_text();
                let name = ObjectName::single(Ident { text: text.into(), quote: crate::tree::Quote::None, token: first as u32 });
                return Ok(self.table(first, TableKind::Name(name)));
            }
            _ => {}
        }
        let function_word = matches!(self.keyword(), Keyword::TABLE | Keyword::UNNEST | Keyword::JSON_TABLE | Keyword::ROWS)
            && self.peek(1).symbol == Symbol::LeftParen;
        let name = if function_word {
            ObjectName::single(self.take_ident())
        } else {
            self.object_name("a table, a query in parentheses or a table function")?
        };
        // BigQuery: FROM t, t.array_column and dotted paths stay names.
        if self.at_symbol(Symbol::LeftParen) && !self.hint_list_follows() {
            let call = Box::new(self.table_function(name)?);
            return Ok(self.table(first, TableKind::Function { lateral, call, numbered: None }));
        }
        Ok(TableRef { qualifier: only, ..self.table(first, TableKind::Name(name)) })
    }

    /// `FROM t (NOLOCK)`: hints in parentheses without WITH.
    fn hint_list_follows(&self) -> bool {
        self.name() == DialectName::SqlServer
            && self.peek(1).kind == TokenKind::Word
            && is_table_hint(self.text_of(self.peek(1)))
            && matches!(self.peek(2).symbol, Symbol::RightParen | Symbol::Comma)
    }

    fn table_function(&mut self, function: ObjectName) -> Parse<Call<Spelled>> {
        let bare = function.as_single().map(|f| Keyword::of(&f.text));
        // TABLE(SELECT ..) and CURSOR arguments are queries; the call reads them.
        if bare == Some(Keyword::TABLE) && self.peek(1).keyword == Keyword::SELECT {
            self.advance();
            let first = self.at;
            let query = self.query()?;
            let value = Expr { kind: ExprKind::Subquery(Box::new(query)), span: self.span_from(first) };
            self.expect_symbol(Symbol::RightParen)?;
            return Ok(Call::plain(function, vec![value]));
        }
        self.call_of(function)
    }

    // --- behind a table ------------------------------------------------------------------------

    fn after_table(&mut self, table: &mut Table) -> Parse<()> {
        if table.qualifier.is_none() {
            table.qualifier = self.table_qualifier()?;
        }
        if let TableKind::Function { numbered, .. } = &mut table.kind
            && self.take_keywords(&[Keyword::WITH, Keyword::ORDINALITY])
        {
            *numbered = Some(Numbered::Ordinality);
        }
        if table.alias.is_none() {
            table.alias = self.table_alias(matches!(table.kind, TableKind::Function { .. }))?;
        }
        if let TableKind::Function { numbered, .. } = &mut table.kind
            && self.at_keywords(&[Keyword::WITH, Keyword::OFFSET])
        {
            self.skip(2);
            let as_word = self.take_keyword(Keyword::AS);
            let name = if as_word || self.bare_alias_follows() { Some(self.any_ident("an alias")?) } else { None };
            *numbered = Some(Numbered::Offset(name));
        }
        table.hints = self.table_hints()?;
        if table.qualifier.is_none() {
            table.qualifier = self.table_qualifier()?;
            // MySQL and Oracle put the alias after the sample or the hint, SQL Server before.
            if table.alias.is_none() && (table.qualifier.is_some() || table.hints.is_some()) {
                table.alias = self.table_alias(false)?;
            }
        }
        Ok(())
    }

    /// TABLESAMPLE .., SAMPLE (..), PARTITION (..), AS OF .., FOR SYSTEM_TIME ..: verbatim.
    fn table_qualifier(&mut self) -> Parse<Option<Span>> {
        let first = self.at;
        match self.keyword() {
            Keyword::TABLESAMPLE | Keyword::SAMPLE => {
                self.advance();
                while self.token().kind == TokenKind::Word && !self.at_symbol(Symbol::LeftParen) {
                    self.advance();
                }
                self.skip_group()?;
                if self.at_word("REPEATABLE") || self.at_keyword(Keyword::SEED) {
                    self.advance();
                    self.skip_group()?;
                }
            }
            Keyword::PARTITION if self.peek(1).symbol == Symbol::LeftParen => {
                self.advance();
                self.skip_group()?;
            }
            // Oracle's partitioned outer join, and the outer sign behind a collection.
            Keyword::PARTITION if self.peek(1).keyword == Keyword::BY && self.peek(2).symbol == Symbol::LeftParen => {
                self.skip(2);
                self.skip_group()?;
            }
            _ if self.at_symbol(Symbol::LeftParen) && self.outer_mark_follows() => self.skip(3),
            Keyword::AS if self.peek(1).keyword == Keyword::OF => {
                self.skip(3);
                self.expression_above(precedence::COMPARISON + 1)?;
            }
            Keyword::FOR if matches!(self.text_of(self.peek(1)).to_ascii_uppercase().as_str(), "SYSTEM_TIME" | "SYSTEM" | "VERSION") => {
                self.skip(2);
                self.take_keyword(Keyword::AS);
                self.take_keyword(Keyword::OF);
                self.take_keyword(Keyword::ALL);
                if !self.at_end() && !self.keyword().can(Role::EndsOperand) {
                    self.expression_above(precedence::COMPARISON + 1)?;
                }
            }
            _ => return Ok(None),
        }
        Ok(Some(self.span_from(first)))
    }

    pub(crate) fn table_alias(&mut self, is_function: bool) -> Parse<Option<TableAlias>> {
        let as_word = self.at_keyword(Keyword::AS);
        if !as_word && !self.bare_alias_follows() {
            return Ok(None);
        }
        if as_word && self.name() == DialectName::Oracle {
            let mut error = self.error_here("Oracle takes no AS before a table alias".to_string());
            error.advice = Some("drop the AS, or check the --from dialect".to_string());
            return Err(error);
        }
        if as_word {
            self.advance();
        }
        if is_function && self.at_symbol(Symbol::LeftParen) {
            let first = self.at;
            self.skip_group()?;
            return Ok(Some(TableAlias { as_word, name: None, columns: Vec::new(), typed_columns: Some(self.span_from(first)) }));
        }
        let name = if self.token().kind == TokenKind::String { self.take_ident() } else { self.any_ident("a table alias")? };
        let mut alias = TableAlias { as_word, name: Some(name), columns: Vec::new(), typed_columns: None };
        if self.at_symbol(Symbol::LeftParen) && !self.hint_list_follows() {
            let typed = self.peek(2).symbol != Symbol::Comma && self.peek(2).symbol != Symbol::RightParen;
            if typed {
                let first = self.at;
                self.skip_group()?;
                alias.typed_columns = Some(self.span_from(first));
            } else {
                alias.columns = self.name_list("a column's name")?;
            }
        }
        Ok(Some(alias))
    }

    fn word_follows(&self, word: &str) -> bool {
        let next = self.peek(1);
        next.kind == TokenKind::Word && self.text_of(next).eq_ignore_ascii_case(word)
    }

    /// `WITH (NOLOCK)`, `(NOLOCK)`, `USE INDEX (..)`, `INDEXED BY x`.
    fn table_hints(&mut self) -> Parse<Option<Span>> {
        let first = self.at;
        loop {
            let sql_server_with =
                self.at_keyword(Keyword::WITH) && self.peek(1).symbol == Symbol::LeftParen && self.name() == DialectName::SqlServer;
            let index = matches!(self.keyword(), Keyword::USE | Keyword::FORCE | Keyword::IGNORE)
                && matches!(self.peek(1).keyword, Keyword::INDEX | Keyword::KEY);
            if sql_server_with {
                self.advance();
                self.skip_group()?;
            } else if self.at_symbol(Symbol::LeftParen) && self.hint_list_follows() {
                self.skip_group()?;
            } else if index {
                self.skip(2);
                if self.take_keyword(Keyword::FOR) {
                    while self.token().kind == TokenKind::Word {
                        self.advance();
                    }
                }
                self.skip_group()?;
                self.take_symbol(Symbol::Comma);
            } else if self.name() == DialectName::Sqlite && self.at_word("INDEXED") {
                self.skip(3);
            } else if self.name() == DialectName::Sqlite && self.at_keyword(Keyword::NOT) && self.word_follows("INDEXED") {
                self.skip(2);
            } else {
                break;
            }
        }
        Ok((self.at > first).then(|| self.span_from(first)))
    }

    // --- PIVOT ---------------------------------------------------------------------------------

    fn pivots(&mut self, mut table: Table, first: usize) -> Parse<Table> {
        loop {
            table = match self.keyword() {
                Keyword::PIVOT if self.peek(1).symbol == Symbol::LeftParen => {
                    self.skip(2);
                    let pivot = self.pivot(table)?;
                    self.table(first, TableKind::Pivot(Box::new(pivot)))
                }
                Keyword::UNPIVOT => {
                    self.advance();
                    let unpivot = self.unpivot(table)?;
                    self.table(first, TableKind::Unpivot(Box::new(unpivot)))
                }
                Keyword::MATCH_RECOGNIZE => {
                    return Err(
                        self.error_here("MATCH_RECOGNIZE can't be read yet; keep this query as it is and rewrite it by hand".to_string())
                    );
                }
                _ => return Ok(table),
            };
            table.alias = self.table_alias(false)?;
            table.span = self.span_from(first);
        }
    }

    fn pivot(&mut self, input: Table) -> Parse<Pivot<Spelled>> {
        let aggregates = self.list(Self::aliased)?;
        self.expect_keyword(Keyword::FOR)?;
        let columns = if self.take_symbol(Symbol::LeftParen) {
            let columns = self.expression_list()?;
            self.expect_symbol(Symbol::RightParen)?;
            columns
        } else {
            vec![self.expression_above(precedence::COMPARISON + 1)?]
        };
        self.expect_keyword(Keyword::IN)?;
        self.expect_symbol(Symbol::LeftParen)?;
        let values = self.list(Self::aliased)?;
        self.expect_symbol(Symbol::RightParen)?;
        let group_by = if self.take_keywords(&[Keyword::GROUP, Keyword::BY]) { self.expression_list()? } else { Vec::new() };
        self.expect_symbol(Symbol::RightParen)?;
        Ok(Pivot { input, aggregates, columns, values, group_by })
    }

    fn aliased(&mut self) -> Parse<(Expr<Spelled>, Option<Ident>)> {
        let value = self.expression()?;
        let alias = self.column_alias()?.map(|a| a.name);
        Ok((value, alias))
    }

    fn unpivot(&mut self, input: Table) -> Parse<Unpivot<Spelled>> {
        let include_nulls = match self.take_any(&[Keyword::INCLUDE, Keyword::EXCLUDE]) {
            Some(word) => {
                self.expect_keyword(Keyword::NULLS)?;
                Some(word == Keyword::INCLUDE)
            }
            None => None,
        };
        self.expect_symbol(Symbol::LeftParen)?;
        let values =
            if self.at_symbol(Symbol::LeftParen) { self.name_list("a column's name")? } else { vec![self.any_ident("a column's name")?] };
        self.expect_keyword(Keyword::FOR)?;
        let name = self.any_ident("a column's name")?;
        self.expect_keyword(Keyword::IN)?;
        self.expect_symbol(Symbol::LeftParen)?;
        let columns = self.list(|p| {
            let group = if p.take_symbol(Symbol::LeftParen) {
                let group = p.expression_list()?;
                p.expect_symbol(Symbol::RightParen)?;
                group
            } else {
                vec![p.expression()?]
            };
            let shown = if p.take_keyword(Keyword::AS) { Some(p.expression()?) } else { None };
            Ok((group, shown))
        })?;
        self.expect_symbol(Symbol::RightParen)?;
        self.expect_symbol(Symbol::RightParen)?;
        Ok(Unpivot { input, include_nulls, values, name, columns })
    }
}

fn is_table_hint(word: &str) -> bool {
    const HINTS: &[&str] = &[
        "NOLOCK",
        "READUNCOMMITTED",
        "READCOMMITTED",
        "HOLDLOCK",
        "UPDLOCK",
        "ROWLOCK",
        "TABLOCK",
        "TABLOCKX",
        "READPAST",
        "XLOCK",
        "PAGLOCK",
        "NOWAIT",
        "SERIALIZABLE",
        "SNAPSHOT",
        "NOEXPAND",
        "FORCESEEK",
        "FORCESCAN",
        "REPEATABLEREAD",
    ];
    HINTS.iter().any(|h| word.eq_ignore_ascii_case(h))
}
