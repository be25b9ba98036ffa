//! An argument that a template uses more than once, and that must not be written more than once: it is
//! given a name in a derived table, `(SELECT .. bound.value_1 .. FROM (SELECT argument AS value_1) AS bound)`.

use meaning::{Function, Meant, Phrase, PhraseKind, Template};
use syntax::DialectName;
use syntax::tree::{
    AliasForm, ColumnAlias, Expr, ExprKind, Ident, ObjectName, Query, QueryBody, Select, SelectItem, SelectValue, Span, Spelled,
    TableAlias, TableKind, TableRef,
};

use super::Writer;
use crate::copies::nodes;

type S = Expr<Spelled>;
type M = Expr<Meant>;

/// What may be written as often as a template likes, in nodes of its tree.
const SMALL: usize = 40;

/// An argument that a template uses more than once.
pub(super) struct Repeated {
    place: usize,
    /// It gives another value each time: it must be written once.
    changes: bool,
    /// It holds a query, which is as long as anything.
    holds_query: bool,
    /// It takes its value from several rows, which a derived table would not see.
    collects: bool,
}

/// The arguments of a phrase that its template uses more than once and that are more than a name.
pub(super) fn repeated(phrase: &Phrase, template: Template, arguments: &[&M]) -> Vec<Repeated> {
    let is_long = |e: &M| !matches!(e.kind, ExprKind::Column(_) | ExprKind::Literal(_) | ExprKind::Parameter(_));
    if phrase.kind == PhraseKind::Aggregate || !arguments.iter().any(|a| is_long(a)) {
        return Vec::new();
    }
    let is_used_again = |at: usize| phrase.takes.get(at).is_some_and(|t| !t.repeated && template.uses(t.name) > 1);
    let places = (0..arguments.len()).filter(|at| is_long(arguments[*at]) && is_used_again(*at));
    places.map(|at| looked_at(at, arguments[at])).collect()
}

fn looked_at(place: usize, argument: &M) -> Repeated {
    let mut found = Repeated { place, changes: false, holds_query: false, collects: false };
    argument.any(&mut |e| {
        found.holds_query |= matches!(e.kind, ExprKind::Subquery(_) | ExprKind::Exists(_));
        if let ExprKind::Call(call) = &e.kind {
            let phrase = if let Function::Phrase(id, _) = &call.function { Some(id.phrase()) } else { None };
            found.changes |= phrase.is_some_and(|p| p.volatile);
            found.collects |= call.is_window() || phrase.is_some_and(|p| p.kind == PhraseKind::Aggregate);
        }
        false
    });
    found
}

/// The arguments that are given names: their places.
#[derive(Debug, Default)]
pub(super) struct Bound(Vec<usize>);

impl Writer<'_> {
    /// The arguments that a template should have by name, as they change with each use, or are long in the
    /// target's words. Refuses what changes and can't be bound.
    pub(super) fn to_bind(&mut self, repeated: &[Repeated], said: &[S], span: Span) -> Bound {
        let wanted: Vec<&Repeated> =
            repeated.iter().filter(|r| r.changes || r.holds_query || nodes(&said[r.place], SMALL) > SMALL).collect();
        if binds(self.to.name) && wanted.iter().all(|r| !r.collects) {
            return Bound(wanted.iter().map(|r| r.place).collect());
        }
        if wanted.iter().any(|r| r.changes) {
            self.refuse(span, "a value that changes with each call, used twice,");
        }
        Bound::default()
    }
}

impl Bound {
    /// Puts names in the places of the arguments; what `wrap` needs.
    pub(super) fn named(&self, arguments: &mut [S]) -> Vec<S> {
        self.0.iter().map(|at| std::mem::replace(&mut arguments[*at], bound_column(*at))).collect()
    }

    /// The filled template over the arguments' names.
    pub(super) fn wrap(&self, filled: S, arguments: Vec<S>) -> S {
        if self.0.is_empty() {
            return filled;
        }
        let items = self.0.iter().zip(arguments).map(|(at, value)| {
            let alias = ColumnAlias { name: Ident::synthetic(value_name(*at)), form: AliasForm::As };
            SelectItem { value: SelectValue::Expr(value), alias: Some(alias), span: Span::SYNTHETIC }
        });
        let inner = query(Select::of(items.collect(), Vec::new()));
        let alias = TableAlias { as_word: true, name: Some(Ident::synthetic("bound")), columns: Vec::new(), typed_columns: None };
        let table = TableRef {
            kind: TableKind::Derived { lateral: false, query: Box::new(inner) },
            alias: Some(alias),
            relation: (),
            hints: None,
            qualifier: None,
            span: Span::SYNTHETIC,
        };
        let item = SelectItem { value: SelectValue::Expr(filled), alias: None, span: Span::SYNTHETIC };
        Expr::synthetic(ExprKind::Subquery(Box::new(query(Select::of(vec![item], vec![table])))))
    }
}

fn query(select: Select<Spelled>) -> Query<Spelled> {
    Query::of(QueryBody::Select(Box::new(select)), Span::SYNTHETIC)
}

fn value_name(at: usize) -> String {
    format!("value_{}", at + 1)
}

fn bound_column(at: usize) -> S {
    Expr::synthetic(ExprKind::Column(ObjectName { parts: vec![Ident::synthetic("bound"), Ident::synthetic(value_name(at))] }))
}

/// Where a derived table of a scalar subquery may use the columns around it. Observed on PostgreSQL, DuckDB,
/// SQLite and the GoogleSQL evaluator; SQL Server: Subqueries; MySQL: Derived tables, since 8.0.14. Neither
/// MariaDB nor Spark has it, nor Oracle more than one level deep.
fn binds(dialect: DialectName) -> bool {
    !matches!(dialect, DialectName::Oracle | DialectName::Mariadb | DialectName::Spark)
}
