//! INSERT, UPDATE and DELETE.

use meaning::Meant;
use syntax::Symbol;
use syntax::tree::{
    Assignment, Binary, Delete, Expr, ExprKind, Insert, ObjectName, Operator, QueryBody, Spelled, StatementKind, TableKind, TableRef,
    Update, map_delete, map_insert, map_update,
};

use super::Reader;
use super::scope::Scope;

impl Reader<'_> {
    pub(super) fn insert(&mut self, insert: Insert<Spelled>) -> StatementKind<Meant> {
        let rows = insert.source.as_ref().map_or(0, |q| if let QueryBody::Values(v) = &q.body { v.rows.len() } else { 0 });
        let meant = map_insert(self, insert);
        self.note_inserted(&meant);
        // Rows to insert are no query; only several at once may need to become one.
        if rows > 0 {
            self.features.value_rows = false;
            self.features.inserts_rows = rows > 1;
        }
        StatementKind::Insert(Box::new(meant))
    }

    pub(super) fn update(&mut self, mut update: Update<Spelled>) -> Update<Meant> {
        self.scopes.push(Scope::default());
        update.assignments.iter_mut().for_each(plain_assignment);
        // `UPDATE t SET .. FROM tolls t` changes the one table that FROM names.
        if let [only] = update.from.as_slice()
            && names_it(&update.table, only)
        {
            update.table = update.from.remove(0);
        }
        let top = update.top.take();
        let mut meant = map_update(self, update);
        self.note_assignments(&meant.assignments);
        if let Some(top) = top {
            meant.limit = Some(Box::new(self.top_limit(*top)));
        }
        meant
    }

    pub(super) fn delete(&mut self, mut delete: Delete<Spelled>) -> Delete<Meant> {
        self.scopes.push(Scope::default());
        // `DELETE t FROM tolls t` deletes from the one table that FROM names.
        if let [only] = delete.targets.as_slice()
            && delete.using.is_empty()
            && is_called(&delete.table, only)
        {
            delete.targets.clear();
        }
        let top = delete.top.take();
        let mut meant = map_delete(self, delete);
        if let Some(top) = top {
            meant.limit = Some(Box::new(self.top_limit(*top)));
        }
        meant
    }
}

/// `a += 1` is `a = a + 1`.
fn plain_assignment(assignment: &mut Assignment<Spelled>) {
    let symbol = match assignment.operator.as_deref() {
        Some("+=") => Symbol::Plus,
        Some("-=") => Symbol::Minus,
        Some("*=") => Symbol::Star,
        Some("/=") => Symbol::Slash,
        _ => return,
    };
    let [target] = assignment.targets.as_slice() else { return };
    assignment.operator = None;
    let value = assignment.value.take();
    let simple = matches!(value.kind, ExprKind::Literal(_) | ExprKind::Column(_) | ExprKind::Parameter(_) | ExprKind::Call(_));
    let right = if simple { value } else { Expr::synthetic(ExprKind::Nested(Box::new(value))) };
    let mut column = target.clone();
    column.forget_places();
    let left = Expr::synthetic(ExprKind::Column(column));
    assignment.value = Expr::synthetic(ExprKind::Binary(Box::new(Binary { operator: Operator::Symbol(symbol), left, right })));
}

/// Whether a bare table name is the name or alias of a table reference.
fn names_it(table: &TableRef<Spelled>, other: &TableRef<Spelled>) -> bool {
    matches!(&table.kind, TableKind::Name(name) if table.alias.is_none() && is_called(other, name))
}

fn is_called(table: &TableRef<Spelled>, name: &ObjectName) -> bool {
    let TableKind::Name(own) = &table.kind else { return false };
    let shown = table.alias.as_ref().and_then(|a| a.name.as_ref()).unwrap_or_else(|| own.last());
    name.as_single().is_some_and(|n| n.text.eq_ignore_ascii_case(&shown.text))
}
