//! Every node of a query, outermost first, and its place in the text.

use engines::Bytes;
use syntax::tree::{
    Child, Expr, LimitClause, LimitKind, MergeAction, Query, QueryBody, Select, SetOperation, Span, Spelled, Statement, StatementKind,
    TableRef,
};
use syntax::{Dialect, Statements, Token, lex};

/// A part of a query.
pub(crate) enum Node<'a> {
    Query(&'a Query<Spelled>),
    Select(&'a Select<Spelled>),
    SetOperation(&'a SetOperation<Spelled>),
    Table(&'a TableRef<Spelled>),
    Expr(&'a Expr<Spelled>),
}

/// A string, its tokens, and the statement in it that is checked.
pub(crate) struct Text<'a> {
    pub(crate) sql: &'a str,
    pub(crate) tokens: Vec<Token>,
    /// None where it can't be read.
    pub(crate) statement: Option<Statement<Spelled>>,
}

impl<'a> Text<'a> {
    /// Declarations of variables may stand before the statement.
    pub(crate) fn read(sql: &'a str, dialect: &Dialect) -> Text<'a> {
        let tokens = lex(sql, dialect);
        let checked = |s: &Statement<Spelled>| matches!(s.kind, StatementKind::Query(_)) || s.kind.is_data_change();
        let statement = Statements::new(sql, &tokens, dialect).filter_map(|p| p.tree.ok()).find(checked);
        Text { sql, tokens, statement }
    }

    pub(crate) fn query(&self) -> Option<&Query<Spelled>> {
        match self.statement.as_ref().map(|s| &s.kind) {
            Some(StatementKind::Query(query)) => Some(query),
            _ => None,
        }
    }

    /// The bytes a span covers; none for what was not written.
    pub(crate) fn bytes(&self, span: Span) -> Option<Bytes> {
        if !span.is_read() {
            return None;
        }
        let token = |i: u32| self.tokens.get(i as usize);
        Some((token(span.first)?.start, token(span.end.wrapping_sub(1))?.end))
    }

    pub(crate) fn of(&self, bytes: Bytes) -> &'a str {
        self.sql.get(bytes.0 as usize..bytes.1 as usize).unwrap_or("")
    }
}

/// The line of a place, from 1.
pub(crate) fn line_of(sql: &str, at: u32) -> usize {
    sql.get(..at as usize).unwrap_or("").matches('\n').count() + 1
}

/// Calls `visit` with every part of a statement that is checked.
pub(crate) fn each_statement_node<'a>(statement: &'a Statement<Spelled>, visit: &mut dyn FnMut(Node<'a>)) {
    use StatementKind::{Delete, Insert, Merge, Query, Update};
    let tables = |all: &'a [TableRef<Spelled>], visit: &mut dyn FnMut(Node<'a>)| all.iter().for_each(|t| child(Child::Table(t), visit));
    match &statement.kind {
        Query(query) => each_node(query, visit),
        Insert(insert) => {
            insert.with.iter().flat_map(|w| &w.tables).for_each(|t| each_node(&t.query, visit));
            insert.source.iter().for_each(|q| each_node(q, visit));
        }
        Update(update) => {
            update.with.iter().flat_map(|w| &w.tables).for_each(|t| each_node(&t.query, visit));
            tables(std::slice::from_ref(&update.table), visit);
            tables(&update.from, visit);
            update.assignments.iter().for_each(|a| expr(&a.value, visit));
            update.condition.iter().chain(update.order_by.iter().map(|k| &k.expr)).for_each(|e| expr(e, visit));
            limits(&update.limit, visit);
        }
        Delete(delete) => {
            delete.with.iter().flat_map(|w| &w.tables).for_each(|t| each_node(&t.query, visit));
            tables(std::slice::from_ref(&delete.table), visit);
            tables(&delete.using, visit);
            delete.condition.iter().chain(delete.order_by.iter().map(|k| &k.expr)).for_each(|e| expr(e, visit));
            limits(&delete.limit, visit);
        }
        Merge(merge) => {
            merge.with.iter().flat_map(|w| &w.tables).for_each(|t| each_node(&t.query, visit));
            tables(std::slice::from_ref(&merge.target), visit);
            tables(std::slice::from_ref(&merge.source), visit);
            expr(&merge.condition, visit);
            for clause in &merge.clauses {
                clause.condition.iter().for_each(|e| expr(e, visit));
                match &clause.action {
                    MergeAction::Update(assignments, a, b) => {
                        assignments.iter().map(|a| &a.value).chain(a).chain(b).for_each(|e| expr(e, visit));
                    }
                    MergeAction::Insert(_, values, condition) => values.iter().chain(condition).for_each(|e| expr(e, visit)),
                    MergeAction::Delete | MergeAction::Nothing => {}
                }
            }
        }
        _ => {}
    }
}

/// The condition of an UPDATE or DELETE.
pub(crate) fn changed_where(statement: &Statement<Spelled>) -> Option<&Expr<Spelled>> {
    match &statement.kind {
        StatementKind::Update(update) => update.condition.as_ref(),
        StatementKind::Delete(delete) => delete.condition.as_ref(),
        _ => None,
    }
}

/// Calls `visit` with every part of a query, a node before what is inside it.
pub(crate) fn each_node<'a>(query: &'a Query<Spelled>, visit: &mut dyn FnMut(Node<'a>)) {
    visit(Node::Query(query));
    for table in query.with.iter().flat_map(|w| &w.tables) {
        each_node(&table.query, visit);
    }
    body(&query.body, visit);
    query.order_by.iter().for_each(|k| expr(&k.expr, visit));
    limits(&query.limit, visit);
}

fn limits<'a>(clauses: &'a [LimitClause<Spelled>], visit: &mut dyn FnMut(Node<'a>)) {
    for clause in clauses {
        match &clause.kind {
            LimitKind::Limit { count, .. } | LimitKind::Offset { count, .. } => expr(count, visit),
            LimitKind::OffsetComma(a, b) => [a, b].into_iter().for_each(|e| expr(e, visit)),
            LimitKind::Fetch { count: Some(count), .. } => expr(count, visit),
            LimitKind::All | LimitKind::Fetch { count: None, .. } => {}
        }
    }
}

fn body<'a>(part: &'a QueryBody<Spelled>, visit: &mut dyn FnMut(Node<'a>)) {
    syntax::with_stack(|| match part {
        QueryBody::Select(select) => {
            visit(Node::Select(select));
            select.top.iter().for_each(|top| expr(&top.count, visit));
            select.children(&mut |inner| child(inner, visit));
        }
        QueryBody::SetOperation(operation) => {
            visit(Node::SetOperation(operation));
            body(&operation.left, visit);
            body(&operation.right, visit);
        }
        QueryBody::Nested(query, _) => each_node(query, visit),
        QueryBody::Values(values) => values.rows.iter().flatten().for_each(|e| expr(e, visit)),
        QueryBody::Table(..) => {}
    });
}

fn child<'a>(part: Child<'a, Spelled>, visit: &mut dyn FnMut(Node<'a>)) {
    match part {
        Child::Expr(part) => expr(part, visit),
        Child::Query(query) => each_node(query, visit),
        Child::Table(table) => {
            visit(Node::Table(table));
            table.children(&mut |inner| child(inner, visit));
        }
    }
}

/// The same for an expression alone.
pub(crate) fn expr<'a>(part: &'a Expr<Spelled>, visit: &mut dyn FnMut(Node<'a>)) {
    visit(Node::Expr(part));
    syntax::with_stack(|| part.children(&mut |inner| child(inner, visit)));
}
