//! What a check must know of the source's query: its tables, its constants, whether its order shows.

use syntax::tree::{Child, Expr, ExprKind, LimitKind, Literal, Query, QueryBody, Spelled, StatementKind, TableKind, TableRef};
use syntax::{Dialect, Spelling, Statements, decode_text, lex};
use values::{Schema, Table};

/// Facts of one query.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct QueryFacts {
    /// The tables it names.
    pub tables: Vec<String>,
    /// The outermost query has an ORDER BY.
    pub ordered: bool,
    /// The numbers it holds.
    pub numbers: Vec<i64>,
    /// The texts it holds.
    pub texts: Vec<String>,
    /// It is a query, not a change.
    pub is_query: bool,
    /// It has a row limit, an order or a window: ties can leave the engine a choice.
    pub leaves_choice: bool,
}

impl QueryFacts {
    /// Reads them off `sql`; an unreadable text has none.
    pub fn of(sql: &str, dialect: &Dialect) -> QueryFacts {
        let tokens = lex(sql, dialect);
        let mut facts = QueryFacts::default();
        // Declarations of variables may stand before the query.
        for parsed in Statements::new(sql, &tokens, dialect) {
            let Ok(statement) = parsed.tree else { continue };
            let StatementKind::Query(query) = &statement.kind else { continue };
            facts.is_query = true;
            facts.ordered = !query.order_by.is_empty();
            Finder { facts: &mut facts, spelling: Spelling::of(dialect), common: Vec::new() }.query(query);
            break;
        }
        facts
    }

    /// The tables of `schema` that the query reads, and those they refer to.
    pub(crate) fn used_tables(&self, schema: &Schema) -> Schema {
        let mut names: Vec<String> = self.tables.iter().map(|t| t.to_lowercase()).collect();
        let mut at = 0;
        while at < names.len() {
            if let Some(table) = schema.table(&names[at]) {
                for key in &table.foreign_keys {
                    let name = key.table.to_lowercase();
                    if !names.contains(&name) {
                        names.push(name);
                    }
                }
            }
            at += 1;
        }
        let tables: Vec<Table> = schema.tables.iter().filter(|t| names.contains(&t.name.to_lowercase())).cloned().collect();
        Schema { tables }
    }
}

struct Finder<'a> {
    facts: &'a mut QueryFacts,
    spelling: Spelling,
    common: Vec<String>,
}

impl Finder<'_> {
    fn query(&mut self, query: &Query<Spelled>) {
        let known = self.common.len();
        if let Some(with) = &query.with {
            for table in &with.tables {
                self.common.push(table.name.text.to_lowercase().to_string());
                self.query(&table.query);
            }
        }
        self.body(&query.body);
        self.facts.leaves_choice |= !query.order_by.is_empty() || !query.limit.is_empty();
        query.order_by.iter().for_each(|k| self.expr(&k.expr));
        for clause in &query.limit {
            match &clause.kind {
                LimitKind::Limit { count, .. } | LimitKind::Offset { count, .. } => self.expr(count),
                LimitKind::OffsetComma(a, b) => {
                    self.expr(a);
                    self.expr(b);
                }
                LimitKind::Fetch { count: Some(count), .. } => self.expr(count),
                LimitKind::All | LimitKind::Fetch { count: None, .. } => {}
            }
        }
        self.common.truncate(known);
    }

    fn body(&mut self, body: &QueryBody<Spelled>) {
        match body {
            QueryBody::Select(select) => {
                if let Some(top) = &select.top {
                    self.facts.leaves_choice = true;
                    self.expr(&top.count);
                }
                select.children(&mut |child| self.child(child));
            }
            QueryBody::SetOperation(operation) => {
                self.body(&operation.left);
                self.body(&operation.right);
            }
            QueryBody::Nested(query, _) => self.query(query),
            QueryBody::Values(values) => values.rows.iter().flatten().for_each(|e| self.expr(e)),
            QueryBody::Table(name, _) => self.named(&name.last().text),
        }
    }

    fn named(&mut self, name: &str) {
        let lower = name.to_lowercase();
        if !self.common.contains(&lower) && lower != "dual" && !self.facts.tables.iter().any(|t| t.eq_ignore_ascii_case(name)) {
            self.facts.tables.push(name.to_string());
        }
    }

    fn table(&mut self, table: &TableRef<Spelled>) {
        if let TableKind::Name(name) = &table.kind {
            self.named(&name.last().text);
        }
        table.children(&mut |child| self.child(child));
    }

    fn child(&mut self, child: Child<'_, Spelled>) {
        match child {
            Child::Expr(expr) => self.expr(expr),
            Child::Query(query) => self.query(query),
            Child::Table(table) => self.table(table),
        }
    }

    fn expr(&mut self, expr: &Expr<Spelled>) {
        match &expr.kind {
            ExprKind::Call(call) if call.is_window() => self.facts.leaves_choice = true,
            ExprKind::Column(name) if name.last().is_word("rownum") => self.facts.leaves_choice = true,
            ExprKind::Literal(Literal::Number(text)) => {
                if let Ok(number) = text.parse::<f64>() {
                    self.facts.numbers.push(number as i64);
                }
            }
            ExprKind::Literal(Literal::Text(text)) => self.facts.texts.push(decode_text(text, &self.spelling).into()),
            ExprKind::Literal(Literal::Texts(parts)) => {
                self.facts.texts.push(parts.iter().map(|p| decode_text(p, &self.spelling)).collect());
            }
            ExprKind::Literal(Literal::Typed(typed)) => self.facts.texts.push(decode_text(&typed.text, &self.spelling).into()),
            _ => {}
        }
        expr.children(&mut |child| self.child(child));
    }
}
