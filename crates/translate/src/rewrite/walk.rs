//! Visits every query of a statement, inner ones first.

use meaning::Meant;

use crate::shape;
use syntax::tree::{
    ChildMut, Expr, ExprKind, InSet, JoinCondition, Query, QueryBody, Select, Statement, StatementKind, TableKind, TableRef, With,
};

/// Where a query is.
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

/// Calls `visit` for every query, inner ones first; those inside expressions only if `in_exprs`.
pub(crate) fn for_each_query(statement: &mut Statement<Meant>, in_exprs: bool, visit: &mut dyn FnMut(&mut Query<Meant>, Place)) {
    Walk { in_exprs, visit }.statement(statement);
}

/// The same for the queries of one query, those inside its expressions too.
pub(crate) fn for_each_query_of(query: &mut Query<Meant>, visit: &mut dyn FnMut(&mut Query<Meant>)) {
    Walk { in_exprs: true, visit: &mut |inner, _| visit(inner) }.query(query, Place::Statement);
}

/// The expressions of one query's own: the block's, the conditions of its joins, the sort keys.
pub(crate) fn each_expr(query: &mut Query<Meant>, visit: &mut dyn FnMut(&mut Expr<Meant>)) {
    if let QueryBody::Select(select) = &mut query.body {
        select.exprs_mut(visit);
        select.from.iter_mut().for_each(|t| each_join_condition(t, visit));
    }
    query.order_by.iter_mut().for_each(|k| visit(&mut k.expr));
}

/// The conditions of the joins in a table.
pub(crate) fn each_join_condition(table: &mut TableRef<Meant>, visit: &mut dyn FnMut(&mut Expr<Meant>)) {
    syntax::with_stack(|| match &mut table.kind {
        TableKind::Nested(inner) => each_join_condition(inner, visit),
        TableKind::Join(join) => {
            each_join_condition(&mut join.left, visit);
            each_join_condition(&mut join.right, visit);
            if let JoinCondition::On(condition) = &mut join.condition {
                visit(condition);
            }
        }
        _ => {}
    });
}

/// The predicates among the ANDs and ORs of a query's conditions: there false and NULL drop a row alike.
pub(crate) fn each_predicate(query: &mut Query<Meant>, visit: &mut dyn FnMut(&mut Expr<Meant>)) {
    let QueryBody::Select(select) = &mut query.body else { return };
    for condition in [&mut select.condition, &mut select.having, &mut select.qualify].into_iter().flatten() {
        predicates(condition, visit);
    }
    select.from.iter_mut().for_each(|t| each_join_condition(t, &mut |condition| predicates(condition, visit)));
}

/// The same of one condition.
pub(crate) fn predicates(condition: &mut Expr<Meant>, visit: &mut dyn FnMut(&mut Expr<Meant>)) {
    syntax::with_stack(|| match &mut condition.kind {
        ExprKind::Logic(_, operands) => operands.iter_mut().for_each(|o| predicates(o, visit)),
        ExprKind::Nested(inner) => predicates(inner, visit),
        _ => visit(condition),
    });
}

struct Walk<'a> {
    in_exprs: bool,
    visit: &'a mut dyn FnMut(&mut Query<Meant>, Place),
}

impl Walk<'_> {
    fn statement(&mut self, statement: &mut Statement<Meant>) {
        match &mut statement.kind {
            StatementKind::Query(query) => self.query(query, Place::Statement),
            StatementKind::Insert(insert) => {
                self.with(&mut insert.with);
                if let Some(query) = &mut insert.source {
                    self.query(query, Place::Statement);
                }
            }
            StatementKind::Update(update) => {
                self.with(&mut update.with);
                self.table(&mut update.table);
                update.from.iter_mut().for_each(|t| self.table(t));
                update.assignments.iter_mut().for_each(|a| self.expr(&mut a.value));
                update.condition.iter_mut().for_each(|e| self.expr(e));
            }
            StatementKind::Delete(delete) => {
                self.with(&mut delete.with);
                self.table(&mut delete.table);
                delete.using.iter_mut().for_each(|t| self.table(t));
                delete.condition.iter_mut().for_each(|e| self.expr(e));
            }
            StatementKind::Merge(merge) => {
                self.with(&mut merge.with);
                self.table(&mut merge.target);
                self.table(&mut merge.source);
                self.expr(&mut merge.condition);
            }
            _ => {}
        }
    }

    fn with(&mut self, with: &mut Option<With<Meant>>) {
        for table in with.iter_mut().flat_map(|w| &mut w.tables) {
            self.query(&mut table.query, Place::Common);
        }
    }

    fn query(&mut self, query: &mut Query<Meant>, place: Place) {
        syntax::with_stack(|| {
            self.with(&mut query.with);
            self.body(&mut query.body);
            for key in &mut query.order_by {
                self.expr(&mut key.expr);
            }
            for count in query.limit.iter_mut().flat_map(|l| l.counts_mut()) {
                self.expr(count);
            }
            (self.visit)(query, place);
        });
    }

    fn body(&mut self, body: &mut QueryBody<Meant>) {
        match body {
            QueryBody::Select(select) => {
                select.children_mut(&mut |child| self.child(child, Place::Scalar));
            }
            QueryBody::SetOperation(operation) => syntax::with_stack(|| {
                self.branch(&mut operation.left);
                self.branch(&mut operation.right);
            }),
            QueryBody::Nested(query, _) => self.query(query, Place::Branch),
            QueryBody::Values(values) => values.rows.iter_mut().flatten().for_each(|e| self.expr(e)),
            QueryBody::Table(..) => {}
        }
    }

    /// A block as a branch of a set operation is a query of its own for a rewrite; it stays one, in
    /// parentheses, if the rewrite gave it an order or a limit.
    fn branch(&mut self, body: &mut QueryBody<Meant>) {
        self.body(body);
        if !matches!(body, QueryBody::Select(_)) {
            return;
        }
        let empty = QueryBody::Select(Box::new(Select::of(Vec::new(), Vec::new())));
        let mut query = shape::query_of(Select::of(Vec::new(), Vec::new()));
        query.body = std::mem::replace(body, empty);
        (self.visit)(&mut query, Place::Branch);
        let bare = query.with.is_none() && query.order_by.is_empty() && query.limit.is_none();
        *body = match query.body {
            select @ QueryBody::Select(_) if bare => select,
            _ => QueryBody::Nested(Box::new(query), syntax::tree::Span::SYNTHETIC),
        };
    }

    fn table(&mut self, table: &mut TableRef<Meant>) {
        syntax::with_stack(|| {
            if let TableKind::Derived { lateral, query } = &mut table.kind {
                let place = if *lateral { Place::Lateral } else { Place::Derived };
                return self.query(query, place);
            }
            if let TableKind::Join(join) = &mut table.kind
                && join.kind.is_apply()
            {
                self.table(&mut join.left);
                match &mut join.right.kind {
                    TableKind::Derived { query, .. } => self.query(query, Place::Lateral),
                    _ => self.table(&mut join.right),
                }
                return;
            }
            table.children_mut(&mut |child| self.child(child, Place::Derived));
        });
    }

    fn expr(&mut self, expr: &mut Expr<Meant>) {
        if !self.in_exprs {
            return;
        }
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
                self.expr(&mut test.left);
                if let ExprKind::Subquery(query) = &mut test.set.kind {
                    self.query(query, Place::Membership);
                }
                return;
            }
            expr.children_mut(&mut |child| self.child(child, place));
        });
    }

    /// `place` is where a query would stand here.
    fn child(&mut self, child: ChildMut<'_, Meant>, place: Place) {
        match child {
            ChildMut::Expr(expr) => self.expr(expr),
            ChildMut::Query(query) => self.query(query, place),
            ChildMut::Table(table) => self.table(table),
        }
    }
}
