//! How well a query was tried: what its parts could meet, and what of that the data met.

use engines::{Bytes, Event, Observed, Seen};
use meaning::Breach;
use syntax::Symbol;
use syntax::tree::{
    Binary, Expr, ExprKind, IsWhat, Join, JoinCondition, JoinKind, LimitKind, LogicOperator, Operator, Query, QueryBody, Select,
    SelectQuantifier, SetQuantifier, Spelled, TableKind, TableRef,
};
use values::Schema;

use crate::QueryFacts;
use crate::alike::entry_of;
use crate::assumption::{Assumption, was_met};
use crate::nodes::{Node, Text, changed_where, each_statement_node, line_of};

/// One thing that data can do to a query.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Case {
    /// In words, with the line: `the limit cuts a tie, line 3`.
    pub what: String,
    /// The data met it.
    pub reached: bool,
}

/// Everything that can come to pass in the source's query, and whether it did.
pub(crate) fn cases(text: &Text<'_>, facts: &QueryFacts, schema: &Schema, assumptions: &[Assumption], observed: &Observed) -> Vec<Case> {
    let Some(statement) = &text.statement else { return Vec::new() };
    let mut finder = Finder { text, facts, schema, observed, cases: Vec::new() };
    each_statement_node(statement, &mut |node| finder.node(&node));
    changed_where(statement).into_iter().for_each(|c| finder.condition(c));
    for assumption in assumptions {
        if let Some(Breach::Value(class, place)) = &assumption.breach
            && let Some(seen) = observed.values.get(place)
        {
            finder.add(*place, &format!("{} breaks {}", shortened(text.of(*place)), assumption.code), was_met(*class, seen));
        }
    }
    finder.cases
}

struct Finder<'a> {
    text: &'a Text<'a>,
    facts: &'a QueryFacts,
    schema: &'a Schema,
    observed: &'a Observed,
    cases: Vec<Case>,
}

type E = Expr<Spelled>;

impl Finder<'_> {
    fn add(&mut self, place: Bytes, what: &str, reached: bool) {
        self.cases.push(Case { what: format!("{what}, line {}", line_of(self.text.sql, place.0)), reached });
    }

    /// A case of the expression at a place.
    fn value(&mut self, place: Bytes, what: &str, test: fn(&Seen) -> bool) {
        let reached = self.seen_at(place).any(test);
        self.add(place, what, reached);
    }

    /// What was seen of the expression at a place; where that was never worked out, of the same words
    /// elsewhere: one that occurs twice is worked out once.
    fn seen_at(&self, place: Bytes) -> impl Iterator<Item = &Seen> {
        let words = self.text.of(place);
        let own = self.observed.values.get(&place);
        let same = self.observed.values.iter().filter(move |(other, _)| own.is_none() && self.text.of(**other) == words);
        own.into_iter().chain(same.map(|(_, seen)| seen))
    }

    fn event(&mut self, place: Option<Bytes>, what: &str, event: Event) {
        if let Some(place) = place {
            let reached = self.observed.met(event, place);
            self.add(place, what, reached);
        }
    }

    fn node(&mut self, node: &Node<'_>) {
        match node {
            Node::Query(query) => self.query(query),
            Node::Select(select) => self.select(select),
            Node::SetOperation(operation) => {
                if operation.quantifier != Some(SetQuantifier::All) {
                    self.event(self.text.bytes(operation.span), "the set operation drops a row", Event::DroppedDuplicate);
                }
            }
            Node::Table(table) => self.table(table),
            Node::Expr(expr) => self.expr(expr),
        }
    }

    fn query(&mut self, query: &Query<Spelled>) {
        let limits = query.limit.iter().any(|clause| !matches!(clause.kind, LimitKind::All));
        if let (true, Some(first), Some(last)) = (limits, query.limit.first(), query.limit.last()) {
            let place = self.text.bytes(syntax::tree::Span { first: first.span.first, end: last.span.end });
            self.limit(place, self.can_tie(query));
        }
        if let QueryBody::Select(select) = &query.body
            && let Some(top) = &select.top
        {
            self.limit(self.text.bytes(top.span), self.can_tie(query));
        }
        for key in &query.order_by {
            // A key can stand for an entry of the list.
            let entry = if let QueryBody::Select(select) = &query.body { entry_of(&key.expr, select) } else { None };
            let expr = entry.unwrap_or(&key.expr);
            let Some(place) = self.text.bytes(expr.span) else { continue };
            let select = if let QueryBody::Select(select) = &query.body { Some(&**select) } else { None };
            if self.can_be_null(expr) && !select.is_some_and(|s| self.is_kept_from_null(expr, s)) {
                self.value(place, &format!("NULL is sorted by {}", self.text.of(place)), |s| s.null);
            }
        }
    }

    /// WHERE lets no row through whose column is NULL.
    fn is_kept_from_null(&self, expr: &E, select: &Select<Spelled>) -> bool {
        let ExprKind::Column(column) = &expr.kind else { return false };
        let name = &column.last().text;
        let mut parts: Vec<&E> = select.condition.iter().map(Expr::without_parens).collect();
        while let Some(part) = parts.pop() {
            let rejects = match &part.kind {
                ExprKind::Logic(LogicOperator::And, inner) => {
                    parts.extend(inner.iter().map(Expr::without_parens));
                    false
                }
                ExprKind::Is(test) => test.negated && matches!(test.what, IsWhat::Null),
                ExprKind::Binary(_) | ExprKind::Between(_) | ExprKind::Like(_) => true,
                ExprKind::In(test) => !test.negated,
                _ => false,
            };
            let mut named = false;
            part.exprs(&mut |e| named |= matches!(&e.kind, ExprKind::Column(c) if c.last().text.eq_ignore_ascii_case(name)));
            if rejects && named {
                return true;
            }
        }
        false
    }

    /// It aggregates without GROUP BY: seen by what came to pass, as no list of functions tells for
    /// every dialect.
    fn is_one_group(&self, place: Bytes) -> bool {
        [Event::GroupOfSeveral, Event::GroupOfNothing].iter().any(|e| self.observed.met(*e, place))
    }

    fn limit(&mut self, place: Option<Bytes>, can_tie: bool) {
        self.event(place, "the limit leaves rows out", Event::LimitCut);
        if can_tie {
            self.event(place, "the limit cuts a tie", Event::LimitCutTie);
        }
    }

    /// The sort keys leave rows equal: not where they hold the keys of all tables.
    fn can_tie(&self, query: &Query<Spelled>) -> bool {
        let QueryBody::Select(select) = &query.body else { return !query.order_by.is_empty() };
        let sorted: Vec<&str> =
            query.order_by.iter().filter_map(|k| self.text.bytes(k.expr.span)).flat_map(|b| self.facts.columns_in(b)).collect();
        let mut tables = Vec::new();
        select.from.iter().for_each(|t| leaves(t, &mut tables));
        let is_settled = |table: &&TableRef<Spelled>| match &table.kind {
            TableKind::Name(name) => self.schema.table(&name.last().text).is_some_and(|t| {
                !t.primary_key.is_empty() && t.primary_key.iter().all(|k| sorted.iter().any(|s| s.eq_ignore_ascii_case(k)))
            }),
            _ => false,
        };
        !query.order_by.is_empty() && (select.group_by.is_some() || !tables.iter().all(is_settled) || tables.is_empty())
    }

    /// The right side is found by its primary key.
    fn finds_one(&self, join: &Join<Spelled>) -> bool {
        let (TableKind::Name(name), JoinCondition::On(condition)) = (&join.right.kind, &join.condition) else { return false };
        let alias = join.right.alias.as_ref().and_then(|a| a.name.as_ref()).unwrap_or(name.last());
        let Some(table) = self.schema.table(&name.last().text) else { return false };
        let [key] = table.primary_key.as_slice() else { return false };
        let is_key = |e: &E| matches!(&e.kind, ExprKind::Column(c) if c.last().text.eq_ignore_ascii_case(key) && matches!(c.parts.as_slice(), [q, _] if q.text.eq_ignore_ascii_case(&alias.text)));
        let mut found = false;
        condition.any(&mut |e| {
            found |= matches!(&e.kind, ExprKind::Binary(b) if is_equal(b) && (is_key(&b.left) || is_key(&b.right)));
            false
        });
        found
    }

    fn select(&mut self, select: &Select<Spelled>) {
        let place = self.text.bytes(select.span);
        if select.group_by.is_some() {
            self.event(place, "a group has several rows", Event::GroupOfSeveral);
        } else if place.is_some_and(|p| self.is_one_group(p)) {
            self.event(place, "an aggregate is taken over no row", Event::GroupOfNothing);
        }
        if matches!(select.quantifier, Some(SelectQuantifier::Distinct | SelectQuantifier::DistinctOn(_))) {
            self.event(place, "DISTINCT drops a row", Event::DroppedDuplicate);
        }
        if let Some(connect) = &select.connect_by {
            self.event(place, "the hierarchy has a third level", Event::WentDeep);
            if connect.no_cycle {
                self.event(place, "the hierarchy meets a loop", Event::MetCycle);
            }
        }
        for condition in [&select.condition, &select.having, &select.qualify].into_iter().flatten() {
            self.condition(condition);
        }
    }

    /// Each conjunct comes out true and false, and unknown where a column can be NULL.
    fn condition(&mut self, condition: &E) {
        match &condition.without_parens().kind {
            ExprKind::Logic(_, parts) => parts.iter().for_each(|part| self.condition(part)),
            ExprKind::Not(inner) => self.condition(inner),
            ExprKind::Literal(_) => {}
            _ => self.tested(condition),
        }
    }

    fn tested(&mut self, test: &E) {
        let Some(place) = self.text.bytes(test.span) else { return };
        let words = shortened(self.text.of(place));
        // A join may look rows up instead of comparing them.
        let looked_up = self.seen_at(place).next().is_none();
        if let (true, ExprKind::Binary(binary)) = (looked_up, &test.kind)
            && is_equal(binary)
        {
            return;
        }
        self.value(place, &format!("{words} is true"), |s| s.yes);
        self.value(place, &format!("{words} is false"), |s| s.no);
        if self.can_be_null(test) && !never_unknown(test) {
            self.value(place, &format!("{words} is unknown"), |s| s.null);
        }
    }

    fn table(&mut self, table: &TableRef<Spelled>) {
        let TableKind::Join(join) = &table.kind else { return };
        let place = self.text.bytes(table.span);
        if matches!(join.kind, JoinKind::Left | JoinKind::Right | JoinKind::Full | JoinKind::OuterApply | JoinKind::Anti) {
            self.event(place, "the outer join finds nothing", Event::JoinedNothing);
        }
        if !matches!(join.kind, JoinKind::Cross) && !self.finds_one(join) {
            self.event(place, "the join finds several", Event::JoinedSeveral);
        }
    }

    fn expr(&mut self, expr: &E) {
        match &expr.kind {
            ExprKind::Case(case) if case.operand.is_none() => case.branches.iter().for_each(|(when, _)| self.condition(when)),
            ExprKind::Call(call) => {
                for argument in call.arguments.iter().map(|a| &a.value) {
                    let Some(place) = self.text.bytes(argument.span) else { continue };
                    if self.can_be_null(argument) && matches!(argument.without_parens().kind, ExprKind::Column(_)) {
                        let function = call.function.last().text.to_uppercase();
                        self.value(place, &format!("NULL reaches {function}({})", self.text.of(place)), |s| s.null);
                    }
                }
            }
            _ => {}
        }
    }

    /// A column in it can be NULL by the schema.
    fn can_be_null(&self, expr: &E) -> bool {
        let Some(place) = self.text.bytes(expr.span) else { return false };
        let nullable = |name: &str| {
            let tables = self.facts.tables.iter().filter_map(|t| self.schema.table(t));
            let columns: Vec<bool> = tables.filter_map(|t| t.column(name)).map(|c| c.nullable).collect();
            columns.contains(&true)
        };
        self.facts.columns_in(place).any(nullable)
    }
}

fn is_equal(binary: &Binary<Spelled>) -> bool {
    binary.operator == Operator::Symbol(Symbol::Equal)
}

/// The tables of joins, one by one.
fn leaves<'t>(table: &'t TableRef<Spelled>, found: &mut Vec<&'t TableRef<Spelled>>) {
    match &table.kind {
        TableKind::Join(join) => {
            leaves(&join.left, found);
            leaves(&join.right, found);
        }
        TableKind::Nested(inner) => leaves(inner, found),
        _ => found.push(table),
    }
}

fn never_unknown(test: &E) -> bool {
    matches!(test.without_parens().kind, ExprKind::Is(_) | ExprKind::Exists(_))
}

/// Long conditions are cut.
fn shortened(text: &str) -> String {
    const MOST: usize = 40;
    let flat = text.split_whitespace().collect::<Vec<_>>().join(" ");
    if flat.chars().count() <= MOST { flat } else { format!("{}..", flat.chars().take(MOST).collect::<String>()) }
}
