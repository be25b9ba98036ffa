//! Where a difference starts: the smallest part of the source that the target does otherwise.
//!
//! The two queries are laid side by side, as far as they are built alike. On the counterexample an
//! expression is at fault if its operands have the same values on both sides and it hasn't. Where
//! that finds nothing, parts are taken away, on the source's side alone, on both or on the target's,
//! and the smallest whose going ends the difference is where it starts.

use engines::{Bytes, Observed};
use syntax::tree::{
    Expr, ExprKind, InSet, JoinCondition, JoinKind, Literal, LogicOperator, Over, Query, QueryBody, Select, SelectQuantifier, SelectValue,
    SortKey, Span, Spelled, Statement, StatementKind, TableKind, TableRef,
};
use values::{Tolerance, Value, same_value};

use crate::nodes::{Node, Text, changed_where, each_statement_node};

type E = Expr<Spelled>;

/// Text that takes the place of a part.
type Edit = (Bytes, String);

/// Two queries that differ on the data that is loaded.
pub(crate) struct Start<'a> {
    pub(crate) source: &'a Text<'a>,
    pub(crate) target: &'a Text<'a>,
    pub(crate) observed: (&'a Observed, &'a Observed),
    /// The output column that differs, if it is one.
    pub(crate) column: Option<usize>,
    /// Where an error arose, in the source or in the target.
    pub(crate) failed: (Option<Bytes>, Option<Bytes>),
}

impl Start<'_> {
    /// The part of the source; `same` tells whether two strings give the same.
    pub(crate) fn find(&self, same: &mut dyn FnMut(&str, &str) -> bool) -> Option<Bytes> {
        let (source, target) = (self.source.statement.as_ref()?, self.target.statement.as_ref()?);
        if let (Some(column), Some(ours), Some(theirs)) = (self.column, self.source.query(), self.target.query())
            && let Some(part) = self.in_column(column, ours, theirs)
        {
            return Some(part);
        }
        let mut pairs = Pairs::default();
        pairs.statements(source, target);
        if let Some(part) = self.where_it_failed(&pairs, source) {
            return Some(part);
        }
        let (mut ours, mut theirs) = (parts(self.source, source), parts(self.target, target));
        ours.sort_by_key(|part| part.place.1 - part.place.0);
        theirs.sort_by_key(|part| part.place.1 - part.place.0);
        let expr = self.at_fault(&pairs.exprs, same);
        // A query in it may do without the part that makes the difference.
        let within =
            |part: &&Part| expr.is_some_and(|(place, holds_query)| holds_query && part.place.0 >= place.0 && part.place.1 <= place.1);
        let inner = ours.iter().filter(within).find(|part| self.ends_alone(part, same));
        inner
            .map(|part| part.place)
            .or(expr.map(|(place, _)| place))
            .or_else(|| ours.iter().find(|part| self.ends_alone(part, same)).map(|part| part.place))
            .or_else(|| self.taken_away(&pairs, &ours, &theirs, same))
            .or_else(|| self.has_no_like(&ours))
    }

    /// An error has its place.
    fn where_it_failed(&self, pairs: &Pairs<'_>, source: &Statement<Spelled>) -> Option<Bytes> {
        let covers = |expr: &E, text: &Text<'_>, place: Bytes| text.bytes(expr.span).is_some_and(|b| b.0 <= place.0 && b.1 >= place.1);
        if let Some(place) = self.failed.0 {
            let mut smallest = None;
            each_statement_node(source, &mut |node| {
                if let Node::Expr(expr) = node
                    && covers(expr, self.source, place)
                {
                    smallest = self.source.bytes(expr.span);
                }
            });
            return smallest;
        }
        let place = self.failed.1?;
        let (ours, _) = pairs.exprs.iter().rev().find(|(_, theirs)| covers(theirs, self.target, place))?;
        self.source.bytes(ours.span)
    }

    /// If the source did without the part, or had it otherwise, the two would agree.
    fn ends_alone(&self, part: &Part, same: &mut dyn FnMut(&str, &str) -> bool) -> bool {
        part.instead.iter().any(|instead| same(&edited(self.source.sql, &[(part.place, instead.clone())]), self.target.sql))
    }

    /// The smallest part whose words stand nowhere in the target.
    fn has_no_like(&self, ours: &[Part]) -> Option<Bytes> {
        let plain = |text: &str| text.to_lowercase().split_whitespace().collect::<Vec<_>>().join(" ");
        let target = plain(self.target.sql);
        ours.iter().find(|part| !target.contains(&plain(self.source.of(part.place)))).map(|part| part.place)
    }

    // --- by values -----------------------------------------------------------------------------

    /// One output column has other values: what makes it, or a part of that.
    fn in_column(&self, column: usize, source: &Query<Spelled>, target: &Query<Spelled>) -> Option<Bytes> {
        let (ours, theirs) = (item(source, column)?, item(target, column)?);
        let mut pairs = Pairs::default();
        pairs.exprs(ours, theirs);
        let found = pairs.exprs.iter().rev().find(|(a, b)| self.is_at_fault(a, b)).map(|(a, _)| *a);
        // Where its operands have other values already, it starts before.
        let starts_before = pairs.exprs.iter().skip(1).any(|(a, b)| !self.have_same_values(a, b));
        match found {
            Some(expr) => self.source.bytes(expr.span),
            None if starts_before || matches!(ours.without_parens().kind, ExprKind::Column(_)) => None,
            None => self.source.bytes(ours.span),
        }
    }

    /// Its operands are the same on both sides, and it isn't.
    fn is_at_fault(&self, ours: &E, theirs: &E) -> bool {
        let same_words = || {
            let words = |text: &Text<'_>, expr: &E| text.bytes(expr.span).map(|b| text.of(b).to_lowercase());
            words(self.source, ours) == words(self.target, theirs)
        };
        // A column and COUNT(*) are what the rows make of them.
        let is_passive = match (&ours.kind, &theirs.kind) {
            (ExprKind::Column(a), ExprKind::Column(b)) => a.last().text.eq_ignore_ascii_case(&b.last().text),
            (ExprKind::Call(call), _) => call.arguments.iter().all(|a| matches!(a.value.kind, ExprKind::Star(_))) && same_words(),
            _ => false,
        };
        if is_passive || self.have_same_values(ours, theirs) {
            return false;
        }
        let mut operands = Pairs::default();
        operands.children(ours, theirs);
        operands.exprs.iter().all(|(a, b)| self.have_same_values(a, b))
    }

    /// The same values as often, where both were worked out; constants by what they say.
    fn have_same_values(&self, ours: &E, theirs: &E) -> bool {
        if let (Some(a), Some(b)) = (constant(ours), constant(theirs)) {
            return a.eq_ignore_ascii_case(b);
        }
        let values = |text: &Text<'_>, observed: &Observed, expr: &E| -> Option<Vec<Value>> {
            Some(observed.values.get(&text.bytes(expr.span)?)?.values.clone())
        };
        let (Some(ours), Some(mut theirs)) = (values(self.source, self.observed.0, ours), values(self.target, self.observed.1, theirs))
        else {
            return true;
        };
        ours.len() == theirs.len()
            && ours.iter().all(|value| {
                let found = theirs.iter().position(|other| same_value(value, other, Tolerance::default()));
                found.map(|at| theirs.swap_remove(at)).is_some()
            })
    }

    /// The smallest expression at fault that, taken out on both sides, ends the difference.
    fn at_fault(&self, pairs: &[(&E, &E)], same: &mut dyn FnMut(&str, &str) -> bool) -> Option<(Bytes, bool)> {
        let mut found: Vec<(Bytes, Bytes, &E)> = pairs
            .iter()
            .filter(|(a, b)| self.is_at_fault(a, b))
            .filter_map(|(a, b)| Some((self.source.bytes(a.span)?, self.target.bytes(b.span)?, *a)))
            .collect();
        found.sort_by_key(|(ours, ..)| ours.1 - ours.0);
        let ends = found.iter().find(|(ours, theirs, expr)| {
            let instead = if is_condition(expr) { "1 = 1" } else { "NULL" }.to_string();
            same(&edited(self.source.sql, &[(*ours, instead.clone())]), &edited(self.target.sql, &[(*theirs, instead)]))
        });
        // A part in the midst of a query can't always be taken out.
        ends.or(found.first()).map(|(ours, _, expr)| (*ours, expr.any(&mut |e| subquery(e).is_some())))
    }

    // --- by taking parts away ------------------------------------------------------------------

    fn taken_away(&self, pairs: &Pairs<'_>, ours: &[Part], theirs: &[Part], same: &mut dyn FnMut(&str, &str) -> bool) -> Option<Bytes> {
        let without = |text: &Text<'_>, part: &Part| part.instead.first().map(|instead| edited(text.sql, &[(part.place, instead.clone())]));
        for (a, b) in &pairs.joins {
            let (Some(a), Some(b)) = (join_words(self.source, a), join_words(self.target, b)) else { continue };
            let joined = |text: &Text<'_>, words| edited(text.sql, &[(words, "JOIN".to_string())]);
            if self.source.of(a) != self.target.of(b) && same(&joined(self.source, a), &joined(self.target, b)) {
                return Some(a);
            }
        }
        for part in ours {
            let Some(left) = without(self.source, part) else { continue };
            let mut others = theirs.iter().filter(|other| other.kind == part.kind).filter_map(|other| without(self.target, other));
            if others.any(|right| same(&left, &right)) {
                return Some(part.place);
            }
        }
        let extra = theirs.iter().find(|part| without(self.target, part).is_some_and(|right| same(self.source.sql, &right)))?;
        ours.iter().rev().find(|part| part.kind == extra.kind).map(|part| part.place)
    }
}

/// The text with parts replaced; the parts don't overlap.
fn edited(sql: &str, edits: &[Edit]) -> String {
    let mut edits = edits.to_vec();
    edits.sort_by_key(|(place, _)| std::cmp::Reverse(place.0));
    let mut text = sql.to_string();
    for ((start, end), instead) in edits {
        text.replace_range(start as usize..end as usize, &format!(" {instead} "));
    }
    text
}

fn item(query: &Query<Spelled>, column: usize) -> Option<&E> {
    let mut found = None;
    query.body.selects(&mut |select| {
        if let (None, Some(item)) = (found, select.items.get(column))
            && let SelectValue::Expr(expr) = &item.value
        {
            found = Some(expr);
        }
    });
    found
}

fn constant(expr: &E) -> Option<&str> {
    match &expr.without_parens().kind {
        ExprKind::Literal(Literal::Number(text) | Literal::Text(text)) => Some(text),
        ExprKind::Literal(Literal::Null) => Some("NULL"),
        ExprKind::Literal(Literal::Typed(typed)) => Some(&typed.text),
        _ => None,
    }
}

fn is_condition(expr: &E) -> bool {
    let expr = expr.without_parens();
    match &expr.kind {
        _ if expr.is_predicate() => true,
        ExprKind::Binary(binary) => {
            use syntax::Symbol::{Equal, Greater, GreaterEqual, Less, LessEqual, NotEqual};
            matches!(binary.operator, syntax::tree::Operator::Symbol(Equal | NotEqual | Less | LessEqual | Greater | GreaterEqual))
        }
        _ => false,
    }
}

/// From the end of the left side to the start of the right one.
fn join_words(text: &Text<'_>, table: &TableRef<Spelled>) -> Option<Bytes> {
    let TableKind::Join(join) = &table.kind else { return None };
    let (left, right) = (text.bytes(join.left.span)?, text.bytes(join.right.span)?);
    let words = text.of((left.1, right.0));
    let blanks = (words.len() - words.trim_start().len()) as u32;
    Some((left.1 + blanks, left.1 + words.trim_end().len() as u32))
}

// --- side by side -----------------------------------------------------------------------------------

/// Parts of both queries that stand at the same place, outer ones first.
#[derive(Default)]
struct Pairs<'a> {
    exprs: Vec<(&'a E, &'a E)>,
    joins: Vec<(&'a TableRef<Spelled>, &'a TableRef<Spelled>)>,
}

impl<'a> Pairs<'a> {
    fn statements(&mut self, ours: &'a Statement<Spelled>, theirs: &'a Statement<Spelled>) {
        match (&ours.kind, &theirs.kind) {
            (StatementKind::Query(a), StatementKind::Query(b)) => self.queries(a, b),
            (StatementKind::Insert(a), StatementKind::Insert(b)) => {
                if let (Some(a), Some(b)) = (&a.source, &b.source) {
                    self.queries(a, b);
                }
            }
            (StatementKind::Update(a), StatementKind::Update(b)) => {
                a.assignments.iter().zip(&b.assignments).for_each(|(a, b)| self.exprs(&a.value, &b.value));
            }
            _ => {}
        }
        self.conditions(changed_where(ours), changed_where(theirs));
    }

    fn queries(&mut self, ours: &'a Query<Spelled>, theirs: &'a Query<Spelled>) {
        if let (Some(a), Some(b)) = (&ours.with, &theirs.with) {
            a.tables.iter().zip(&b.tables).for_each(|(a, b)| self.queries(&a.query, &b.query));
        }
        self.bodies(&ours.body, &theirs.body);
        ours.order_by.iter().zip(&theirs.order_by).for_each(|(a, b)| self.exprs(&a.expr, &b.expr));
    }

    fn bodies(&mut self, ours: &'a QueryBody<Spelled>, theirs: &'a QueryBody<Spelled>) {
        match (ours, theirs) {
            (QueryBody::Select(a), QueryBody::Select(b)) => self.selects(a, b),
            (QueryBody::SetOperation(a), QueryBody::SetOperation(b)) => {
                self.bodies(&a.left, &b.left);
                self.bodies(&a.right, &b.right);
            }
            (QueryBody::Nested(a, _), QueryBody::Nested(b, _)) => self.queries(a, b),
            (QueryBody::Nested(a, _), other) => self.bodies(&a.body, other),
            (other, QueryBody::Nested(b, _)) => self.bodies(other, &b.body),
            _ => {}
        }
    }

    fn selects(&mut self, ours: &'a Select<Spelled>, theirs: &'a Select<Spelled>) {
        ours.from.iter().zip(&theirs.from).for_each(|(a, b)| self.tables(a, b));
        self.conditions(ours.condition.as_ref(), theirs.condition.as_ref());
        self.conditions(ours.having.as_ref(), theirs.having.as_ref());
        self.conditions(ours.qualify.as_ref(), theirs.qualify.as_ref());
        for (a, b) in ours.items.iter().zip(&theirs.items) {
            if let (SelectValue::Expr(a), SelectValue::Expr(b)) = (&a.value, &b.value) {
                self.exprs(a, b);
            }
        }
    }

    fn conditions(&mut self, ours: Option<&'a E>, theirs: Option<&'a E>) {
        if let (Some(a), Some(b)) = (ours, theirs) {
            self.exprs(a, b);
        }
    }

    fn tables(&mut self, ours: &'a TableRef<Spelled>, theirs: &'a TableRef<Spelled>) {
        match (&ours.kind, &theirs.kind) {
            (TableKind::Join(a), TableKind::Join(b)) => {
                self.joins.push((ours, theirs));
                self.tables(&a.left, &b.left);
                self.tables(&a.right, &b.right);
                if let (JoinCondition::On(a), JoinCondition::On(b)) = (&a.condition, &b.condition) {
                    self.exprs(a, b);
                }
            }
            (TableKind::Derived { query: a, .. }, TableKind::Derived { query: b, .. }) => self.queries(a, b),
            (TableKind::Nested(a), _) => self.tables(a, theirs),
            (_, TableKind::Nested(b)) => self.tables(ours, b),
            _ => {}
        }
    }

    fn exprs(&mut self, ours: &'a E, theirs: &'a E) {
        let (ours, theirs) = (ours.without_parens(), theirs.without_parens());
        self.exprs.push((ours, theirs));
        self.children(ours, theirs);
    }

    /// Operands of expressions of one kind, if there are as many.
    fn children(&mut self, ours: &'a E, theirs: &'a E) {
        if std::mem::discriminant(&ours.kind) != std::mem::discriminant(&theirs.kind) {
            return;
        }
        let operands = |expr: &'a E| {
            let mut found = Vec::new();
            expr.exprs(&mut |child| found.push(child));
            found
        };
        let (a, b) = (operands(ours), operands(theirs));
        if a.len() == b.len() {
            a.into_iter().zip(b).for_each(|(a, b)| self.exprs(a, b));
        }
        if let (Some(a), Some(b)) = (subquery(ours), subquery(theirs)) {
            self.queries(a, b);
        }
    }
}

fn subquery(expr: &E) -> Option<&Query<Spelled>> {
    match &expr.kind {
        ExprKind::Exists(query) | ExprKind::Subquery(query) | ExprKind::Collect(_, query) => Some(query),
        ExprKind::In(test) => match &test.set {
            InSet::Query(query) => Some(query),
            _ => None,
        },
        _ => None,
    }
}

// --- parts that a query can do without --------------------------------------------------------------

#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum PartKind {
    Condition,
    Limit,
    Order,
    Distinct,
    Group,
    SetOperator,
    Join,
    Function,
    Hierarchy,
}

/// A part, and what could stand in its place; the first is what leaves it out.
struct Part {
    kind: PartKind,
    place: Bytes,
    instead: Vec<String>,
}

fn parts(text: &Text<'_>, statement: &Statement<Spelled>) -> Vec<Part> {
    let mut found = Finder { text, parts: Vec::new() };
    each_statement_node(statement, &mut |node| found.node(&node));
    changed_where(statement).into_iter().for_each(|condition| found.condition(condition));
    found.parts
}

struct Finder<'a> {
    text: &'a Text<'a>,
    parts: Vec<Part>,
}

impl Finder<'_> {
    fn add(&mut self, kind: PartKind, span: Span, instead: &[&str]) {
        if let Some(place) = self.text.bytes(span) {
            self.parts.push(Part { kind, place, instead: instead.iter().map(ToString::to_string).collect() });
        }
    }

    fn node(&mut self, node: &Node<'_>) {
        match node {
            Node::Query(query) => {
                if let (Some(first), Some(last)) = (query.order_by.first(), query.order_by.last()) {
                    // With its two words.
                    self.add(PartKind::Order, Span { first: first.span.first.saturating_sub(2), end: last.span.end }, &[""]);
                }
                query.order_by.iter().for_each(|key| self.key(key));
                if let (Some(first), Some(last)) = (query.limit.first(), query.limit.last()) {
                    self.add(PartKind::Limit, Span { first: first.span.first, end: last.span.end }, &[""]);
                }
            }
            Node::Select(select) => self.select(select),
            Node::SetOperation(operation) => {
                if let (Some(left), Some(right)) = (body_span(&operation.left), body_span(&operation.right)) {
                    self.add(PartKind::SetOperator, Span { first: left.end, end: right.first }, &["UNION ALL", "UNION"]);
                }
            }
            Node::Table(table) => self.table(table),
            Node::Expr(expr) => {
                let ExprKind::Call(call) = &expr.kind else { return };
                if let (Some(_), Some(argument)) = (call.quantifier, call.arguments.first()) {
                    let end = argument.value.span.first;
                    self.add(PartKind::Distinct, Span { first: end.saturating_sub(1), end }, &[""]);
                }
                if let Some(Over::Window(window)) = call.tail.as_ref().and_then(|t| t.over.as_ref()) {
                    window.order_by.iter().for_each(|key| self.key(key));
                }
            }
        }
    }

    /// A sort key with its NULLs at the other end.
    fn key(&mut self, key: &SortKey<Spelled>) {
        let (Some(whole), Some(expr)) = (self.text.bytes(key.span), self.text.bytes(key.expr.span)) else { return };
        let (whole, expr) = (self.text.of(whole), self.text.of(expr));
        let ranked = |first: u8| format!("CASE WHEN {expr} IS NULL THEN {} ELSE {} END, {whole}", 1 - first, first);
        let moved = [format!("{whole} NULLS FIRST"), format!("{whole} NULLS LAST"), ranked(0), ranked(1)];
        self.add(PartKind::Order, key.span, &moved.iter().map(String::as_str).collect::<Vec<_>>());
    }

    fn table(&mut self, table: &TableRef<Spelled>) {
        if let TableKind::Function { .. } = &table.kind {
            self.add(PartKind::Function, table.span, &[]);
        }
        let TableKind::Join(join) = &table.kind else { return };
        let words = Span { first: join.left.span.end, end: join.right.span.first };
        let instead: &[&str] = match join.kind {
            JoinKind::CrossApply => &["OUTER APPLY"],
            JoinKind::OuterApply => &["CROSS APPLY"],
            JoinKind::Inner => &["LEFT JOIN"],
            _ => &["JOIN", "LEFT JOIN", "RIGHT JOIN"],
        };
        self.add(PartKind::Join, words, instead);
        match &join.condition {
            JoinCondition::On(condition) => self.condition(condition),
            JoinCondition::Using(names) => {
                if let (Some(first), Some(last)) = (names.first(), names.last()) {
                    // With the word and the parentheses.
                    self.add(PartKind::Join, Span { first: first.token.saturating_sub(2), end: last.token + 2 }, &["ON 1 = 1"]);
                }
            }
            JoinCondition::None => {}
        }
    }

    fn select(&mut self, select: &Select<Spelled>) {
        if let Some(top) = &select.top {
            self.add(PartKind::Limit, top.span, &[""]);
        }
        let (word, items) = (select.span.first + 1, select.items.first().map(|i| i.span.first));
        match (&select.quantifier, items) {
            (Some(SelectQuantifier::Distinct), _) => self.add(PartKind::Distinct, Span { first: word, end: word + 1 }, &[""]),
            (Some(SelectQuantifier::DistinctOn(_)), Some(end)) => self.add(PartKind::Distinct, Span { first: word, end }, &[""]),
            _ => {}
        }
        if let Some(condition) = &select.condition {
            self.condition(condition);
        }
        if let Some(group) = &select.group_by {
            self.add(PartKind::Group, group.span, &[]);
        }
        select.having.iter().chain(&select.qualify).for_each(|condition| self.condition(condition));
        if let Some(connect) = &select.connect_by {
            self.add(PartKind::Hierarchy, connect.span, &[""]);
        }
    }

    /// A condition and, if it is several, each of them. A limit by ROWNUM is a limit.
    fn condition(&mut self, condition: &E) {
        let numbers = condition.any(&mut |e| e.as_name().is_some_and(|n| n.is_word("rownum")));
        self.add(if numbers { PartKind::Limit } else { PartKind::Condition }, condition.span, &["1 = 1"]);
        if let ExprKind::Logic(LogicOperator::And, parts) = &condition.without_parens().kind {
            parts.iter().for_each(|part| self.condition(part));
        }
    }
}

fn body_span(body: &QueryBody<Spelled>) -> Option<Span> {
    match body {
        QueryBody::Select(select) => Some(select.span),
        QueryBody::SetOperation(operation) => Some(operation.span),
        QueryBody::Nested(_, span) => Some(*span),
        QueryBody::Values(_) | QueryBody::Table(..) => None,
    }
}
