//! An argument that a template uses more than once, and that must not be written more than once: it is
//! given a name in a derived table, `(SELECT .. bound.value_1 .. FROM (SELECT argument AS value_1) AS bound)`.

use meaning::{Function, Meant, Phrase, PhraseKind, Template};
use syntax::DialectName;
use syntax::tree::{
    AliasForm, ColumnAlias, Expr, ExprKind, Ident, ObjectName, Query, QueryBody, Select, SelectItem, SelectValue, Span, Spelled,
    TableAlias, TableKind, TableRef,
};

use super::Writer;

type S = Expr<Spelled>;
type M = Expr<Meant>;

/// What may be written as often as a template likes, in nodes of its tree.
const SMALL: usize = 40;

/// Why an argument is better written once.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Once {
    /// It gives another value each time.
    Must,
    /// It is long.
    Should,
}

/// The arguments that are given names: their places.
#[derive(Debug, Default)]
pub(super) struct Bound(Vec<usize>);

impl Writer<'_> {
    /// The arguments of a phrase that its template should have by name. Refuses what changes with each
    /// use and can't be bound.
    pub(super) fn to_bind(&mut self, phrase: &Phrase, template: Template, arguments: &[&M], span: Span) -> Bound {
        if phrase.kind == PhraseKind::Aggregate {
            return Bound::default();
        }
        let is_long = |e: &M| !matches!(e.kind, ExprKind::Column(_) | ExprKind::Literal(_) | ExprKind::Parameter(_));
        if !arguments.iter().any(|a| is_long(a)) {
            return Bound::default();
        }
        let is_used_again = |at: &usize| phrase.takes.get(*at).is_some_and(|t| !t.repeated && template.uses(t.name) > 1);
        let candidates: Vec<(usize, Once)> = (0..arguments.len())
            .filter(|at| is_long(arguments[*at]))
            .filter(is_used_again)
            .filter_map(|at| Some((at, once(arguments[at])?)))
            .collect();
        let can = binds(self.to.name) && candidates.iter().all(|(at, _)| !collects(arguments[*at]));
        if !can {
            if candidates.iter().any(|(_, why)| *why == Once::Must) {
                self.refuse(span, "a value that changes with each call, used twice,");
            }
            return Bound::default();
        }
        Bound(candidates.into_iter().map(|(at, _)| at).collect())
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
            let alias = ColumnAlias { name: Ident::made(value_name(*at)), form: AliasForm::As };
            SelectItem { value: SelectValue::Expr(value), alias: Some(alias), span: Span::MADE }
        });
        let inner = query(Select::of(items.collect(), Vec::new()));
        let alias = TableAlias { as_word: true, name: Some(Ident::made("bound")), columns: Vec::new(), typed_columns: None };
        let table = TableRef {
            kind: TableKind::Derived { lateral: false, query: Box::new(inner) },
            alias: Some(alias),
            relation: (),
            hints: None,
            qualifier: None,
            span: Span::MADE,
        };
        let item = SelectItem { value: SelectValue::Expr(filled), alias: None, span: Span::MADE };
        Expr::made(ExprKind::Subquery(Box::new(query(Select::of(vec![item], vec![table])))))
    }
}

fn query(select: Select<Spelled>) -> Query<Spelled> {
    Query::of(QueryBody::Select(Box::new(select)), Span::MADE)
}

fn value_name(at: usize) -> String {
    format!("value_{}", at + 1)
}

fn bound_column(at: usize) -> S {
    Expr::made(ExprKind::Column(ObjectName { parts: vec![Ident::made("bound"), Ident::made(value_name(at))] }))
}

/// Where a derived table of a scalar subquery may use the columns around it. Observed on PostgreSQL, DuckDB,
/// SQLite and the GoogleSQL evaluator; SQL Server: Subqueries; MySQL: Derived tables, since 8.0.14. Neither
/// MariaDB nor Spark has it, nor Oracle more than one level deep.
fn binds(dialect: DialectName) -> bool {
    !matches!(dialect, DialectName::Oracle | DialectName::Mariadb | DialectName::Spark)
}

fn once(argument: &M) -> Option<Once> {
    let mut nodes = 0;
    let changes = argument.any(&mut |e| {
        // A query is as long as anything.
        nodes += if matches!(e.kind, ExprKind::Subquery(_) | ExprKind::Exists(_)) { SMALL + 1 } else { 1 };
        matches!(&e.kind, ExprKind::Call(call) if matches!(&call.function, Function::Phrase(id, _) if id.phrase().volatile))
    });
    match changes {
        true => Some(Once::Must),
        false => (nodes > SMALL).then_some(Once::Should),
    }
}

/// Whether it takes its value from several rows, which a derived table would not see.
fn collects(argument: &M) -> bool {
    argument.any(&mut |e| match &e.kind {
        ExprKind::Call(call) => {
            call.is_window() || matches!(&call.function, Function::Phrase(id, _) if id.phrase().kind == PhraseKind::Aggregate)
        }
        _ => false,
    })
}
