//! Visits every query of a statement, inner ones first.

use meaning::Meant;

use super::shape;
use syntax::tree::{Expr, ExprKind, InSet, Query, QueryBody, Select, Statement, StatementKind, TableKind, TableRef};

/// Where a query stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Place {
    /// The statement itself: its order shows.
    Statement,
    /// A derived table.
    Derived,
    /// A derived table that sees the tables before it.
    Lateral,
    /// A common table expression.
    Common,
    /// In parentheses in a set operation.
    Branch,
    /// The set of IN, ANY or ALL.
    Membership,
    /// EXISTS.
    Exists,
    /// A single value, or the elements of a collection.
    Scalar,
}

type Visit<'a> = &'a mut dyn FnMut(&mut Query<Meant>, Place);

/// Calls `visit` for every query, inner ones first.
pub(crate) fn for_each_query(statement: &mut Statement<Meant>, visit: Visit<'_>) {
    match &mut statement.kind {
        StatementKind::Query(query) => in_query(query, Place::Statement, visit),
        StatementKind::Insert(insert) => {
            if let Some(query) = &mut insert.source {
                in_query(query, Place::Statement, visit);
            }
        }
        StatementKind::Update(update) => {
            in_table(&mut update.table, visit);
            update.from.iter_mut().for_each(|t| in_table(t, visit));
            update.assignments.iter_mut().for_each(|a| in_expr(&mut a.value, visit));
            update.condition.iter_mut().for_each(|e| in_expr(e, visit));
        }
        StatementKind::Delete(delete) => {
            in_table(&mut delete.table, visit);
            delete.using.iter_mut().for_each(|t| in_table(t, visit));
            delete.condition.iter_mut().for_each(|e| in_expr(e, visit));
        }
        StatementKind::Merge(merge) => {
            in_table(&mut merge.target, visit);
            in_table(&mut merge.source, visit);
            in_expr(&mut merge.condition, visit);
        }
        _ => {}
    }
}

fn in_query(query: &mut Query<Meant>, place: Place, visit: Visit<'_>) {
    syntax::with_stack(|| {
        if let Some(with) = &mut query.with {
            for table in &mut with.tables {
                in_query(&mut table.query, Place::Common, visit);
            }
        }
        in_body(&mut query.body, visit);
        for key in &mut query.order_by {
            in_expr(&mut key.expr, visit);
        }
        visit(query, place);
    });
}

fn in_body(body: &mut QueryBody<Meant>, visit: Visit<'_>) {
    match body {
        QueryBody::Select(select) => {
            let mut exprs: Vec<&mut Expr<Meant>> = Vec::new();
            let mut tables: Vec<&mut TableRef<Meant>> = Vec::new();
            select.children_mut(&mut |e| exprs.push(e), &mut |t| tables.push(t));
            tables.into_iter().for_each(|t| in_table(t, visit));
            exprs.into_iter().for_each(|e| in_expr(e, visit));
        }
        QueryBody::SetOperation(operation) => syntax::with_stack(|| {
            in_branch(&mut operation.left, visit);
            in_branch(&mut operation.right, visit);
        }),
        QueryBody::Nested(query, _) => in_query(query, Place::Branch, visit),
        QueryBody::Values(values) => values.rows.iter_mut().flatten().for_each(|e| in_expr(e, visit)),
        QueryBody::Table(..) => {}
    }
}

/// A block as a branch of a set operation is a query of its own for a rewrite; it stays one, in
/// parentheses, if the rewrite gave it an order or a limit.
fn in_branch(body: &mut QueryBody<Meant>, visit: Visit<'_>) {
    in_body(body, visit);
    if !matches!(body, QueryBody::Select(_)) {
        return;
    }
    let empty = QueryBody::Select(Box::new(Select::of(Vec::new(), Vec::new())));
    let mut query = shape::query_of(Select::of(Vec::new(), Vec::new()));
    query.body = std::mem::replace(body, empty);
    visit(&mut query, Place::Branch);
    let bare = query.with.is_none() && query.order_by.is_empty() && query.limit.is_none();
    *body = match query.body {
        select @ QueryBody::Select(_) if bare => select,
        _ => QueryBody::Nested(Box::new(query), syntax::tree::Span::MADE),
    };
}

fn in_table(table: &mut TableRef<Meant>, visit: Visit<'_>) {
    syntax::with_stack(|| {
        if let TableKind::Derived { lateral, query } = &mut table.kind {
            let place = if *lateral { Place::Lateral } else { Place::Derived };
            return in_query(query, place, visit);
        }
        let applies = matches!(&table.kind, TableKind::Join(j) if matches!(j.kind, syntax::tree::JoinKind::CrossApply | syntax::tree::JoinKind::OuterApply));
        if applies && let TableKind::Join(join) = &mut table.kind {
            in_table(&mut join.left, visit);
            match &mut join.right.kind {
                TableKind::Derived { query, .. } => in_query(query, Place::Lateral, visit),
                _ => in_table(&mut join.right, visit),
            }
            return;
        }
        let mut exprs: Vec<&mut Expr<Meant>> = Vec::new();
        let mut tables: Vec<&mut TableRef<Meant>> = Vec::new();
        table.children_mut(&mut |e| exprs.push(e), &mut |_| {}, &mut |t| tables.push(t));
        tables.into_iter().for_each(|t| in_table(t, visit));
        exprs.into_iter().for_each(|e| in_expr(e, visit));
    });
}

fn in_expr(expr: &mut Expr<Meant>, visit: Visit<'_>) {
    let place = match &expr.kind {
        ExprKind::Column(_) | ExprKind::Literal(_) | ExprKind::Parameter(_) => return,
        ExprKind::Exists(_) => Place::Exists,
        ExprKind::In(test) if matches!(test.set, InSet::Query(_)) => Place::Membership,
        ExprKind::Quantified(_) => Place::Membership,
        _ => Place::Scalar,
    };
    syntax::with_stack(|| {
        // The set of a quantified comparison is a subquery one level down.
        if let ExprKind::Quantified(test) = &mut expr.kind {
            in_expr(&mut test.left, visit);
            if let ExprKind::Subquery(query) = &mut test.set.kind {
                in_query(query, Place::Membership, visit);
            }
            return;
        }
        let mut exprs: Vec<&mut Expr<Meant>> = Vec::new();
        let mut queries: Vec<&mut Query<Meant>> = Vec::new();
        expr.children_mut(&mut |e| exprs.push(e), &mut |q| queries.push(q));
        exprs.into_iter().for_each(|e| in_expr(e, visit));
        queries.into_iter().for_each(|q| in_query(q, place, visit));
    });
}
