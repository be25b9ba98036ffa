//! What becomes of a value that is put into a column: it takes the column's type by the source's rules.

use meaning::{Constant, Meant, Note, infer};
use syntax::DialectName::{Mariadb, Mysql};
use syntax::tree::{Assignment, Expr, ExprKind, Insert, Query, QueryBody, SelectValue, Span};
use values::DataType;

use super::Reader;
use super::scope::catalog_columns;

type E = Expr<Meant>;

impl Reader<'_> {
    /// Notes values that are converted when they are assigned, and assignments that see each other.
    pub(super) fn note_assignments(&mut self, assignments: &[Assignment<Meant>]) {
        for assignment in assignments {
            if let [column] = assignment.targets.as_slice() {
                let span = column.name.last().span();
                self.note_conversion(&column.data_type, &assignment.value, span);
            }
        }
        self.note_order(assignments);
    }

    /// The values of an INSERT, each with the column it is for.
    pub(super) fn note_inserted(&mut self, insert: &Insert<Meant>) {
        let columns = catalog_columns(self.catalog, &insert.table.last().text);
        let types: Vec<DataType> = if insert.columns.is_empty() {
            columns.all().map(|all| all.iter().map(|c| c.data_type.clone()).collect()).unwrap_or_default()
        } else {
            insert.columns.iter().map(|name| columns.type_of(&name.text)).collect()
        };
        let at = |i: usize| types.get(i).cloned().unwrap_or(DataType::Unknown);
        // The column is named, or else the table whose columns are not.
        let named = |i: usize| insert.columns.get(i).map_or_else(|| insert.table.last().span(), syntax::tree::Ident::span);
        let Some(Query { body, .. }) = &insert.source else { return };
        match body {
            QueryBody::Values(values) => {
                for row in &values.rows {
                    row.iter().enumerate().for_each(|(i, value)| self.note_conversion(&at(i), value, named(i)));
                }
            }
            QueryBody::Select(select) => {
                for (i, item) in select.items.iter().enumerate() {
                    match &item.value {
                        SelectValue::Expr(value) => self.note_conversion(&at(i), value, named(i)),
                        SelectValue::Star(..) => return self.note(crate::unknown_type(item.span)),
                    }
                }
            }
            _ => {}
        }
    }

    fn note_conversion(&mut self, column: &DataType, value: &E, span: Span) {
        if !span.is_read() || is_any_columns(value) {
            return;
        }
        let given = infer(value);
        if given.only_null {
            return;
        }
        if *column == DataType::Unknown || given.data_type == DataType::Unknown {
            self.note(crate::unknown_type(span));
            return;
        }
        if fits(&given.data_type, column, value) {
            return;
        }
        let message =
            format!("{} is assigned to {}: what doesn't fit is rounded, cut or an error, as each engine likes", given.data_type, column);
        self.note(Note::new("change.conversion", span, message).advise("convert the value with a CAST or ROUND of your own"));
    }

    /// MySQL and MariaDB assign from left to right: a later value sees what an earlier assignment did.
    fn note_order(&mut self, assignments: &[Assignment<Meant>]) {
        let in_turn = |name| matches!(name, Mysql | Mariadb);
        if in_turn(self.from.name) == in_turn(self.to) {
            return;
        }
        let mut done: Vec<&str> = Vec::new();
        for assignment in assignments {
            let uses = assignment.value.any(&mut |e| match &e.kind {
                ExprKind::Column(binding) => done.iter().any(|name| name.eq_ignore_ascii_case(&binding.name.last().text)),
                _ => false,
            });
            if uses {
                let message =
                    "a value uses a column that the same SET has changed: MySQL and MariaDB assign from left to right, others all at once";
                self.note(Note::new("change.order", assignment.span, message).advise("write two statements, or put the old value first"));
                return;
            }
            done.extend(assignment.targets.iter().map(|t| t.name.last().text.as_str()));
        }
    }
}

/// DEFAULT, and whole numbers: any column that takes them takes them alike.
fn is_any_columns(value: &E) -> bool {
    match &value.without_parens().kind {
        ExprKind::Default | ExprKind::Parameter(_) => true,
        ExprKind::Literal(Constant::Number(text)) => text.bytes().all(|b| b.is_ascii_digit()) && text.len() < 5,
        _ => false,
    }
}

/// Whether a value has room in a column as it is.
fn fits(given: &DataType, column: &DataType, value: &E) -> bool {
    use DataType::{Boolean, Decimal, Float, Integer, Text};
    match (given, column) {
        (Integer(_), Integer(_) | Decimal(_) | Float(_)) => true,
        (Decimal(Some((_, given))), Decimal(Some((_, column)))) => given <= column,
        (Decimal(None), Decimal(Some((_, column)))) => written_scale(value).is_some_and(|scale| scale as i64 <= i64::from(*column)),
        (Decimal(_), Decimal(None) | Float(_)) | (Float(_), Float(_)) => true,
        (Text { .. }, Text { length: None, .. }) => true,
        (Text { length: Some(given), .. }, Text { length: Some(column), .. }) => given <= column,
        (Text { .. }, Text { length: Some(column), .. }) => written_length(value).is_some_and(|length| length <= *column as usize),
        (Boolean, Boolean) => true,
        (given, column) => given == column,
    }
}

fn written_scale(value: &E) -> Option<usize> {
    let ExprKind::Literal(Constant::Number(text)) = &value.without_parens().kind else { return None };
    Some(text.split_once('.').map_or(0, |(_, fraction)| fraction.len()))
}

fn written_length(value: &E) -> Option<usize> {
    let ExprKind::Literal(Constant::Text { value, .. }) = &value.without_parens().kind else { return None };
    Some(value.chars().count())
}
