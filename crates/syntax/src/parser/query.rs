//! Query expressions and select blocks.

use super::{Parse, Parser};
use crate::dialect::DialectName;
use crate::keyword::{Keyword, Role};
use crate::precedence;
use crate::token::{Symbol, TokenKind};
use crate::tree::{
    AliasForm, ColumnAlias, CommonTable, ConnectBy, ExprKind, GroupBy, GroupItem, GroupWord, LateralView, Query, QueryBody, RowForm,
    Select, SelectItem, SelectQuantifier, SelectValue, SetOperation, SetOperator, SetQuantifier, Span, Spelled, StarModifier, Top, Values,
    With,
};

impl Parser<'_> {
    /// A query without parentheses around it: WITH, body, ORDER BY, limits.
    pub(crate) fn query(&mut self) -> Parse<Query<Spelled>> {
        self.deeper(Self::query_inner)
    }

    pub(super) fn query_inner(&mut self) -> Parse<Query<Spelled>> {
        let first = self.at;
        let with = if self.at_keyword(Keyword::WITH) { Some(self.with()?) } else { None };
        let body = self.set_operations(0)?;
        self.query_from(first, with, body)
    }

    /// The clauses behind a body.
    pub(super) fn query_from(&mut self, first: usize, with: Option<With<Spelled>>, body: QueryBody<Spelled>) -> Parse<Query<Spelled>> {
        let mut query = Query::of(body, Span::SYNTHETIC);
        query.with = with;
        if self.at_keywords(&[Keyword::ORDER, Keyword::SIBLINGS, Keyword::BY]) {
            self.skip(3);
            query.siblings = true;
            query.order_by = self.list(Self::sort_key)?;
        } else if self.take_keywords(&[Keyword::ORDER, Keyword::BY]) {
            query.order_by = self.list(Self::sort_key)?;
        }
        self.distribution(&mut query)?;
        query.limit = self.limit_clauses()?;
        query.locking = self.locking()?;
        // PostgreSQL and Oracle allow the limit after FOR UPDATE too.
        if query.limit.is_empty() && query.locking.is_some() {
            query.limit = self.limit_clauses()?;
        }
        query.options = self.query_options()?;
        query.span = self.span_from(first);
        Ok(query)
    }

    /// SORT BY, DISTRIBUTE BY and CLUSTER BY of Spark can stand in ORDER BY's place.
    pub(super) fn distribution(&mut self, query: &mut Query<Spelled>) -> Parse<()> {
        if self.name() != DialectName::Spark {
            return Ok(());
        }
        let first = self.at;
        while matches!(self.keyword(), Keyword::SORT | Keyword::DISTRIBUTE | Keyword::CLUSTER) && self.peek(1).keyword == Keyword::BY {
            self.skip(2);
            self.list(Self::sort_key)?;
        }
        if self.at > first
            && let QueryBody::Select(select) = &mut query.body
        {
            select.trailing = Some(self.span_from(first));
        }
        Ok(())
    }

    pub(crate) fn with(&mut self) -> Parse<With<Spelled>> {
        let first = self.at;
        self.expect_keyword(Keyword::WITH)?;
        let recursive = self.take_keyword(Keyword::RECURSIVE);
        let tables = self.list(Self::common_table)?;
        Ok(With { recursive, tables, span: self.span_from(first) })
    }

    pub(super) fn common_table(&mut self) -> Parse<CommonTable<Spelled>> {
        let first = self.at;
        let name = self.any_ident("the name of a common table expression")?;
        let columns =
            if self.at_symbol(Symbol::LeftParen) && !self.starts_query() { self.name_list("a column's name")? } else { Vec::new() };
        // DuckDB: USING KEY (..) in recursive tables is not read; Spark lets AS be left out.
        if !self.take_keyword(Keyword::AS) && self.name() != DialectName::Spark {
            return Err(self.expected("AS"));
        }
        let materialized = if self.take_keyword(Keyword::MATERIALIZED) {
            Some(true)
        } else if self.take_keywords(&[Keyword::NOT, Keyword::MATERIALIZED]) {
            Some(false)
        } else {
            None
        };
        self.expect_symbol(Symbol::LeftParen)?;
        let query = self.query()?;
        self.expect_symbol(Symbol::RightParen)?;
        let search_cycle = self.search_cycle()?;
        Ok(CommonTable { name, columns, materialized, query, search_cycle, span: self.span_from(first) })
    }

    /// SEARCH DEPTH FIRST BY .. SET x, CYCLE .. SET y TO .. DEFAULT .., up to ',' or the query.
    pub(super) fn search_cycle(&mut self) -> Parse<Option<Span>> {
        if !matches!(self.keyword(), Keyword::SEARCH | Keyword::CYCLE) {
            return Ok(None);
        }
        let first = self.at;
        while self.take_any(&[Keyword::SEARCH, Keyword::CYCLE]).is_some() {
            let mut after_set = false;
            loop {
                match self.keyword() {
                    Keyword::SELECT
                    | Keyword::INSERT
                    | Keyword::UPDATE
                    | Keyword::DELETE
                    | Keyword::CYCLE
                    | Keyword::SEARCH
                    | Keyword::WITH => break,
                    Keyword::SET => after_set = true,
                    _ if self.at_symbol(Symbol::Comma) && after_set => break,
                    _ if self.at_end() => return Err(self.expected("a query")),
                    _ => {}
                }
                self.advance();
            }
        }
        Ok(Some(self.span_from(first)))
    }

    // --- set operations ------------------------------------------------------------------------

    pub(super) fn set_operations(&mut self, least: u8) -> Parse<QueryBody<Spelled>> {
        let first = self.at;
        let mut left = self.query_primary()?;
        let mut length = 0;
        while let Some((operator, minus)) = self.at_set_operator() {
            let tight = operator == SetOperator::Intersect && self.spelling.intersect_binds_tighter;
            let level = if tight { 2 } else { 1 };
            if level < least {
                break;
            }
            self.check_chain(length)?;
            length += 1;
            self.advance();
            let quantifier = match self.take_any(&[Keyword::ALL, Keyword::DISTINCT]) {
                Some(Keyword::ALL) => Some(SetQuantifier::All),
                Some(_) => Some(SetQuantifier::Distinct),
                None => None,
            };
            let by_name = self.take_keywords(&[Keyword::BY, Keyword::NAME]) || self.take_keyword(Keyword::CORRESPONDING);
            let right = self.deeper(|p| p.set_operations(level + 1))?;
            left = QueryBody::SetOperation(Box::new(SetOperation {
                operator,
                minus,
                quantifier,
                by_name,
                left,
                right,
                span: self.span_from(first),
            }));
        }
        Ok(left)
    }

    pub(super) fn at_set_operator(&self) -> Option<(SetOperator, bool)> {
        let minus = [DialectName::Oracle, DialectName::Spark, DialectName::Mariadb];
        match self.keyword() {
            Keyword::UNION => Some((SetOperator::Union, false)),
            Keyword::EXCEPT => Some((SetOperator::Except, false)),
            Keyword::INTERSECT => Some((SetOperator::Intersect, false)),
            Keyword::MINUS if self.is(&minus) => Some((SetOperator::Except, true)),
            _ => None,
        }
    }

    pub(super) fn query_primary(&mut self) -> Parse<QueryBody<Spelled>> {
        let first = self.at;
        match self.keyword() {
            Keyword::VALUES => {
                let values = self.values()?;
                Ok(QueryBody::Values(values))
            }
            Keyword::TABLE => {
                self.advance();
                let name = self.object_name("a table's name")?;
                Ok(QueryBody::Table(name, self.span_from(first)))
            }
            Keyword::SELECT => Ok(QueryBody::Select(self.select(first)?)),
            Keyword::FROM => Ok(QueryBody::Select(self.from_first(first)?)),
            _ if self.at_symbol(Symbol::LeftParen) => {
                self.advance();
                let query = self.query()?;
                self.expect_symbol(Symbol::RightParen)?;
                Ok(QueryBody::Nested(Box::new(query), self.span_from(first)))
            }
            _ => Err(self.expected("SELECT")),
        }
    }

    pub(crate) fn values(&mut self) -> Parse<Values<Spelled>> {
        let first = self.at;
        self.expect_keyword(Keyword::VALUES)?;
        let form = match (self.keyword(), self.symbol()) {
            (Keyword::ROW, _) => RowForm::Word,
            (_, Symbol::LeftParen) => RowForm::Parens,
            _ if self.name() == DialectName::Spark => RowForm::Bare,
            _ => RowForm::Parens,
        };
        let rows = self.list(|p| {
            match form {
                RowForm::Word => p.expect_keyword(Keyword::ROW)?,
                RowForm::Bare => return Ok(vec![p.expression()?]),
                RowForm::Parens => {}
            }
            p.expect_symbol(Symbol::LeftParen)?;
            let row = p.expression_list()?;
            p.expect_symbol(Symbol::RightParen)?;
            Ok(row)
        })?;
        Ok(Values { rows, form, span: self.span_from(first) })
    }

    // --- select --------------------------------------------------------------------------------

    pub(super) fn select(&mut self, first: usize) -> Parse<Box<Select<Spelled>>> {
        let mut select = Box::new(Select::of(Vec::new(), Vec::new()));
        self.select_head(&mut select)?;
        if self.at_keyword(Keyword::FROM) {
            self.advance();
            select.from = self.list(Self::table_ref)?;
        }
        self.select_clauses(&mut select)?;
        select.span = self.span_from(first);
        Ok(select)
    }

    /// SELECT, its quantifier, TOP, the list and INTO.
    pub(super) fn select_head(&mut self, select: &mut Select<Spelled>) -> Parse<()> {
        self.expect_keyword(Keyword::SELECT)?;
        let modifiers = self.at;
        self.skip_select_modifiers();
        if self.at > modifiers {
            select.modifiers = Some(self.span_from(modifiers));
        }
        select.quantifier = self.select_quantifier()?;
        if select.modifiers.is_none() {
            let after = self.at;
            self.skip_select_modifiers();
            if self.at > after {
                select.modifiers = Some(self.span_from(after));
            }
        }
        if self.name() == DialectName::SqlServer && self.at_keyword(Keyword::TOP) {
            select.top = Some(Box::new(self.top()?));
        }
        // PostgreSQL and Oracle's EXISTS idiom allow an empty list: SELECT FROM t.
        if !(self.at_keyword(Keyword::FROM) && self.name() == DialectName::Postgres) {
            select.items = self.select_list()?;
        }
        if self.at_keyword(Keyword::INTO) || self.at_keywords(&[Keyword::BULK, Keyword::COLLECT]) {
            let into = self.at;
            while !self.at_keyword(Keyword::FROM) && !self.at_end() {
                self.advance();
            }
            select.into = Some(self.span_from(into));
        }
        Ok(())
    }

    pub(super) fn skip_select_modifiers(&mut self) {
        loop {
            match self.keyword() {
                Keyword::SQL_CALC_FOUND_ROWS
                | Keyword::SQL_NO_CACHE
                | Keyword::SQL_CACHE
                | Keyword::SQL_SMALL_RESULT
                | Keyword::SQL_BIG_RESULT
                | Keyword::SQL_BUFFER_RESULT
                | Keyword::HIGH_PRIORITY
                | Keyword::STRAIGHT_JOIN
                    if self.is(&[DialectName::Mysql, DialectName::Mariadb]) =>
                {
                    self.advance();
                }
                Keyword::AS if self.name() == DialectName::Bigquery => {
                    self.advance();
                    self.advance();
                }
                _ => return,
            }
        }
    }

    pub(super) fn select_quantifier(&mut self) -> Parse<Option<SelectQuantifier<Spelled>>> {
        match self.keyword() {
            Keyword::DISTINCT | Keyword::UNIQUE if self.at_keyword(Keyword::DISTINCT) || self.name() == DialectName::Oracle => {
                self.advance();
                if self.at_keyword(Keyword::ON) && self.peek(1).symbol == Symbol::LeftParen {
                    self.advance();
                    self.advance();
                    let keys = self.expression_list()?;
                    self.expect_symbol(Symbol::RightParen)?;
                    return Ok(Some(SelectQuantifier::DistinctOn(keys)));
                }
                Ok(Some(SelectQuantifier::Distinct))
            }
            Keyword::DISTINCTROW if self.is(&[DialectName::Mysql, DialectName::Mariadb]) => {
                self.advance();
                Ok(Some(SelectQuantifier::Distinct))
            }
            Keyword::ALL => {
                self.advance();
                Ok(Some(SelectQuantifier::All))
            }
            _ => Ok(None),
        }
    }

    pub(crate) fn top(&mut self) -> Parse<Top<Spelled>> {
        let first = self.at;
        self.expect_keyword(Keyword::TOP)?;
        let parenthesised = self.take_symbol(Symbol::LeftParen);
        let count = if parenthesised {
            let count = if self.starts_query() { self.bare_subquery()? } else { self.expression()? };
            self.expect_symbol(Symbol::RightParen)?;
            count
        } else {
            // Without parentheses only a constant or a variable may follow.
            self.expression_above(precedence::UNARY)?
        };
        let percent = self.take_keyword(Keyword::PERCENT);
        let with_ties = self.take_keywords(&[Keyword::WITH, Keyword::TIES]);
        Ok(Top { count, parenthesised, percent, with_ties, span: self.span_from(first) })
    }

    /// DuckDB and Spark: FROM first, SELECT after it or not at all.
    pub(super) fn from_first(&mut self, first: usize) -> Parse<Box<Select<Spelled>>> {
        let mut select = Box::new(Select::of(Vec::new(), Vec::new()));
        self.expect_keyword(Keyword::FROM)?;
        select.from_first = true;
        select.from = self.list(Self::table_ref)?;
        if self.at_keyword(Keyword::SELECT) {
            self.select_head(&mut select)?;
        }
        self.select_clauses(&mut select)?;
        select.span = self.span_from(first);
        Ok(select)
    }

    /// Everything from WHERE to QUALIFY.
    pub(super) fn select_clauses(&mut self, select: &mut Select<Spelled>) -> Parse<()> {
        while self.at_keywords(&[Keyword::LATERAL, Keyword::VIEW]) {
            select.lateral_views.push(self.lateral_view()?);
        }
        if self.take_keyword(Keyword::WHERE) {
            select.condition = Some(self.expression()?);
        }
        if matches!(self.keyword(), Keyword::START | Keyword::CONNECT) && matches!(self.peek(1).keyword, Keyword::WITH | Keyword::BY) {
            select.connect_by = Some(Box::new(self.connect_by()?));
        }
        if self.at_keywords(&[Keyword::GROUP, Keyword::BY]) {
            select.group_by = Some(self.group_by()?);
        }
        if self.take_keyword(Keyword::HAVING) {
            select.having = Some(self.expression()?);
            // Oracle reads HAVING before GROUP BY too.
            if select.group_by.is_none() && self.at_keywords(&[Keyword::GROUP, Keyword::BY]) {
                select.group_by = Some(self.group_by()?);
            }
        }
        self.windows_and_qualify(select)?;
        self.select_trailing(select)
    }

    pub(super) fn windows_and_qualify(&mut self, select: &mut Select<Spelled>) -> Parse<()> {
        loop {
            if self.at_keyword(Keyword::WINDOW) && self.peek(2).keyword == Keyword::AS {
                self.advance();
                select.windows = self.list(|p| {
                    let name = p.any_ident("a window's name")?;
                    p.expect_keyword(Keyword::AS)?;
                    Ok((name, p.window()?))
                })?;
            } else if self.at_keyword(Keyword::QUALIFY) && !matches!(self.peek(1).kind, TokenKind::End) {
                self.advance();
                select.qualify = Some(self.expression()?);
            } else {
                return Ok(());
            }
        }
    }

    /// MODEL (Oracle) and USING SAMPLE (DuckDB), carried verbatim.
    pub(super) fn select_trailing(&mut self, select: &mut Select<Spelled>) -> Parse<()> {
        let first = self.at;
        if self.at_keywords(&[Keyword::USING, Keyword::SAMPLE]) {
            while !self.at_end()
                && !self.at_symbol(Symbol::RightParen)
                && !matches!(self.keyword(), Keyword::ORDER | Keyword::LIMIT | Keyword::UNION)
            {
                self.advance();
            }
        } else if self.at_keyword(Keyword::MODEL) && self.name() == DialectName::Oracle {
            while !self.at_end() && !self.at_symbol(Symbol::RightParen) {
                if self.at_symbol(Symbol::LeftParen) {
                    self.skip_group()?;
                } else {
                    self.advance();
                }
            }
        }
        if self.at > first {
            select.trailing = Some(self.span_from(first));
        }
        Ok(())
    }

    pub(crate) fn select_list(&mut self) -> Parse<Vec<SelectItem<Spelled>>> {
        let mut items = vec![self.select_item()?];
        while self.take_symbol(Symbol::Comma) {
            // A comma before FROM is allowed by some engines.
            let trailing = self.is(&[DialectName::Duckdb, DialectName::Bigquery]) && (self.at_keyword(Keyword::FROM) || self.at_end());
            if trailing {
                break;
            }
            items.push(self.select_item()?);
        }
        Ok(items)
    }

    pub(super) fn select_item(&mut self) -> Parse<SelectItem<Spelled>> {
        let first = self.at;
        if let Some(alias) = self.leading_alias()? {
            let value = SelectValue::Expr(self.expression()?);
            return Ok(SelectItem { value, alias: Some(alias), span: self.span_from(first) });
        }
        let expr = self.expression()?;
        if let ExprKind::Star(qualifier) = expr.kind {
            let modifiers = self.star_modifiers()?;
            return Ok(SelectItem { value: SelectValue::Star(qualifier, modifiers), alias: None, span: self.span_from(first) });
        }
        let alias = self.column_alias()?;
        Ok(SelectItem { value: SelectValue::Expr(expr), alias, span: self.span_from(first) })
    }

    /// `name = expr` of SQL Server, `name: expr` of DuckDB.
    pub(super) fn leading_alias(&mut self) -> Parse<Option<ColumnAlias>> {
        let form = match (self.name(), self.peek(1).symbol) {
            (DialectName::SqlServer, Symbol::Equal) => AliasForm::Equals,
            (DialectName::Duckdb, Symbol::Colon) => AliasForm::Prefix,
            _ => return Ok(None),
        };
        if !matches!(self.token().kind, TokenKind::Word | TokenKind::QuotedName | TokenKind::String) {
            return Ok(None);
        }
        let name = self.take_ident();
        self.advance();
        Ok(Some(ColumnAlias { name, form }))
    }

    pub(crate) fn column_alias(&mut self) -> Parse<Option<ColumnAlias>> {
        let text_alias = self.token().kind == TokenKind::String;
        if self.take_keyword(Keyword::AS) {
            let name = if self.token().kind == TokenKind::String { self.take_ident() } else { self.any_ident("a column alias")? };
            return Ok(Some(ColumnAlias { name, form: AliasForm::As }));
        }
        let takes_text = self.is(&[DialectName::SqlServer, DialectName::Mysql, DialectName::Mariadb, DialectName::Sqlite]);
        if (text_alias && takes_text) || self.bare_alias_follows() {
            let name = self.take_ident();
            return Ok(Some(ColumnAlias { name, form: AliasForm::Bare }));
        }
        Ok(None)
    }

    /// The next token is an alias without AS.
    pub(crate) fn bare_alias_follows(&self) -> bool {
        let token = self.token();
        match token.kind {
            TokenKind::QuotedName => true,
            TokenKind::Word if token.keyword == Keyword::NONE => !self.is_reserved(token),
            TokenKind::Word => !token.keyword.can(Role::EndsOperand) && !self.is_reserved(token),
            _ => false,
        }
    }

    pub(super) fn star_modifiers(&mut self) -> Parse<Vec<StarModifier<Spelled>>> {
        let mut modifiers = Vec::new();
        loop {
            let modifier = match self.keyword() {
                Keyword::EXCEPT | Keyword::EXCLUDE => {
                    if self.at_keyword(Keyword::EXCEPT) && self.peek(1).symbol != Symbol::LeftParen {
                        return Ok(modifiers);
                    }
                    // `* EXCEPT (SELECT ..)` is a set operation.
                    if self.at_keyword(Keyword::EXCEPT) && self.starts_query_after() {
                        return Ok(modifiers);
                    }
                    self.advance();
                    let names = if self.at_symbol(Symbol::LeftParen) {
                        self.name_list("a column's name")?
                    } else {
                        vec![self.any_ident("a column's name")?]
                    };
                    StarModifier::Exclude(names)
                }
                Keyword::REPLACE => {
                    self.advance();
                    let in_parens = self.take_symbol(Symbol::LeftParen);
                    let replaced = self.list(|p| {
                        let value = p.expression()?;
                        p.take_keyword(Keyword::AS);
                        Ok((value, p.any_ident("a column's name")?))
                    })?;
                    if in_parens {
                        self.expect_symbol(Symbol::RightParen)?;
                    }
                    StarModifier::Replace(replaced)
                }
                Keyword::RENAME => {
                    self.advance();
                    let in_parens = self.take_symbol(Symbol::LeftParen);
                    let renamed = self.list(|p| {
                        let old = p.any_ident("a column's name")?;
                        p.expect_keyword(Keyword::AS)?;
                        Ok((old, p.any_ident("a column's name")?))
                    })?;
                    if in_parens {
                        self.expect_symbol(Symbol::RightParen)?;
                    }
                    StarModifier::Rename(renamed)
                }
                Keyword::LIKE | Keyword::ILIKE | Keyword::GLOB | Keyword::NOT | Keyword::SIMILAR => {
                    let first = self.at;
                    self.take_keyword(Keyword::NOT);
                    self.advance();
                    self.take_keyword(Keyword::TO);
                    let words: Vec<&str> = (first..self.at).map(|i| self.text_of(self.tokens[i])).collect();
                    let words = words.join(" ").to_uppercase();
                    StarModifier::Like(words.into(), self.expression()?)
                }
                _ => return Ok(modifiers),
            };
            modifiers.push(modifier);
        }
    }

    pub(super) fn starts_query_after(&self) -> bool {
        matches!(self.peek(2).keyword, Keyword::SELECT | Keyword::WITH | Keyword::VALUES | Keyword::FROM)
    }

    pub(super) fn lateral_view(&mut self) -> Parse<LateralView<Spelled>> {
        let first = self.at;
        self.skip(2);
        let outer = self.take_keyword(Keyword::OUTER);
        let call = self.expression_above(precedence::PRIMARY)?;
        let table = if self.at_name() && !self.at_keyword(Keyword::AS) { Some(self.take_ident()) } else { None };
        let mut columns = Vec::new();
        if self.take_keyword(Keyword::AS) {
            columns = self.list(|p| p.any_ident("a column's name"))?;
        }
        Ok(LateralView { outer, call, table, columns, relation: (), span: self.span_from(first) })
    }

    pub(super) fn connect_by(&mut self) -> Parse<ConnectBy<Spelled>> {
        let first = self.at;
        let mut start_with = None;
        if self.take_keywords(&[Keyword::START, Keyword::WITH]) {
            start_with = Some(self.expression()?);
        }
        self.expect_keyword(Keyword::CONNECT)?;
        self.expect_keyword(Keyword::BY)?;
        let no_cycle = self.take_keyword(Keyword::NOCYCLE);
        let condition = self.expression()?;
        let mut start_last = false;
        if start_with.is_none() && self.take_keywords(&[Keyword::START, Keyword::WITH]) {
            start_with = Some(self.expression()?);
            start_last = true;
        }
        Ok(ConnectBy { start_with, start_last, no_cycle, condition, span: self.span_from(first) })
    }

    pub(super) fn group_by(&mut self) -> Parse<GroupBy<Spelled>> {
        let first = self.at;
        self.skip(2);
        let mut group = GroupBy { quantifier: None, all_columns: false, items: Vec::new(), with_word: None, span: Span::SYNTHETIC };
        if self.at_keyword(Keyword::ALL) {
            self.advance();
            let listed = self.at_name()
                || self.at_symbol(Symbol::LeftParen)
                || matches!(self.keyword(), Keyword::ROLLUP | Keyword::CUBE | Keyword::GROUPING);
            if listed && !self.keyword().can(Role::EndsOperand) {
                group.quantifier = Some(SetQuantifier::All);
            } else {
                group.all_columns = true;
            }
        } else if self.take_keyword(Keyword::DISTINCT) {
            group.quantifier = Some(SetQuantifier::Distinct);
        }
        if !group.all_columns {
            group.items = self.list(Self::group_item)?;
        }
        if self.at_keyword(Keyword::WITH) {
            group.with_word = match self.peek(1).keyword {
                Keyword::ROLLUP => Some(GroupWord::Rollup),
                Keyword::CUBE => Some(GroupWord::Cube),
                _ => None,
            };
            if group.with_word.is_some() {
                self.skip(2);
            }
        }
        // Spark and Hive: the sets follow the keys.
        if self.at_keywords(&[Keyword::GROUPING, Keyword::SETS]) {
            group.items.push(self.group_item()?);
        }
        group.span = self.span_from(first);
        Ok(group)
    }

    pub(super) fn group_item(&mut self) -> Parse<GroupItem<Spelled>> {
        let first = self.at;
        let word = match self.keyword() {
            Keyword::ROLLUP => Some(GroupWord::Rollup),
            Keyword::CUBE => Some(GroupWord::Cube),
            _ => None,
        };
        if let Some(word) = word
            && self.peek(1).symbol == Symbol::LeftParen
        {
            self.skip(2);
            let keys = self.expression_list()?;
            self.expect_symbol(Symbol::RightParen)?;
            return Ok(GroupItem::Super(word, keys, self.span_from(first)));
        }
        if self.at_keywords(&[Keyword::GROUPING, Keyword::SETS]) {
            self.skip(2);
            self.expect_symbol(Symbol::LeftParen)?;
            let sets = self.deeper(|p| p.list(Self::group_item))?;
            self.expect_symbol(Symbol::RightParen)?;
            return Ok(GroupItem::Sets(sets, self.span_from(first)));
        }
        if self.at_symbol(Symbol::LeftParen) && self.peek(1).symbol == Symbol::RightParen {
            self.skip(2);
            return Ok(GroupItem::Empty(self.span_from(first)));
        }
        Ok(GroupItem::Expr(self.expression()?))
    }
}
