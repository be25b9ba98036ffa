//! What the two servers hold differently of numbers, wherever they are used: noted once a statement.

use meaning::{Capabilities, Meant, Note, infer};
use syntax::DialectName;
use syntax::tree::{Child, Expr, ExprKind, Query, SelectValue, Span, Statement, StatementKind};
use values::DataType;

use crate::features::Features;

/// Notes on decimals that one side keeps as binary floating-point numbers, and on those of four bytes, which
/// each engine shows and sums with other digits.
pub(crate) fn notes(statement: &Statement<Meant>, features: &Features, from: &Capabilities, to: &Capabilities) -> Vec<Note> {
    let sqlite = from.dialect == DialectName::Sqlite || to.dialect == DialectName::Sqlite;
    let may_be_decimals = features.fractions || features.unknown_columns;
    let has_occasion = features.single_floats || (sqlite && may_be_decimals);
    if !has_occasion {
        return Vec::new();
    }
    let mut finder = Finder { sqlite, decimal: None, single: None, unknown: Vec::new() };
    match &statement.kind {
        StatementKind::Query(query) => finder.child(Child::Query(query)),
        StatementKind::Update(update) => {
            update.assignments.iter().for_each(|a| finder.child(Child::Expr(&a.value)));
            update.condition.iter().for_each(|e| finder.child(Child::Expr(e)));
        }
        StatementKind::Delete(delete) => delete.condition.iter().for_each(|e| finder.child(Child::Expr(e))),
        StatementKind::Insert(insert) => insert.source.iter().for_each(|q| finder.child(Child::Query(q))),
        _ => {}
    }
    let decimal = finder.decimal.map(|span| {
        let message = "SQLite has no decimals: it keeps them as binary floating-point numbers of some 15 digits, so that sums and ties can differ in the last";
        Note::new("number.decimal-as-float", span, message).advise("round results that are shown or compared")
    });
    let single = finder.single.map(|span| {
        let message = "a floating-point number of 4 bytes is shown, compared and summed with other digits by each engine";
        Note::new("number.single-precision", span, message).advise("round it, or make the column a floating-point number of 8 bytes")
    });
    decimal.into_iter().chain(single).chain(finder.unknown.into_iter().map(crate::unknown_type)).collect()
}

struct Finder {
    sqlite: bool,
    decimal: Option<Span>,
    single: Option<Span>,
    /// Columns that may be decimals.
    unknown: Vec<Span>,
}

impl Finder {
    fn child(&mut self, child: Child<'_, Meant>) {
        syntax::with_stack(|| match child {
            Child::Expr(expr) => self.expr(expr),
            Child::Table(table) => table.children(&mut |inner| self.child(inner)),
            Child::Query(query) => self.query(query),
        });
    }

    fn query(&mut self, query: &Query<Meant>) {
        query.with.iter().flat_map(|with| &with.tables).for_each(|table| self.query(&table.query));
        query.body.selects(&mut |select| {
            for item in &select.items {
                if let SelectValue::Star(star, _) = &item.value {
                    star.columns.iter().flatten().for_each(|column| self.typed(&column.data_type, item.span));
                    if star.columns.is_none() {
                        self.typed(&DataType::Unknown, item.span);
                    }
                }
            }
            select.children(&mut |inner| self.child(inner));
        });
        query.order_by.iter().for_each(|key| self.expr(&key.expr));
    }

    fn expr(&mut self, expr: &Expr<Meant>) {
        match &expr.kind {
            ExprKind::Column(binding) => self.typed(&binding.data_type, expr.span),
            ExprKind::Cast(cast) => self.typed(&cast.to.data_type, expr.span),
            // Numbers with a fraction that the query works with.
            ExprKind::Binary(binary) if !matches!(binary.left.kind, ExprKind::Column(_)) && infer(&binary.left).data_type.is_numeric() => {
                // A part whose type isn't known is given by its columns.
                let data_type = infer(expr).data_type;
                if data_type != DataType::Unknown {
                    self.typed(&data_type, expr.span);
                }
            }
            _ => {}
        }
        expr.children(&mut |inner| self.child(inner));
    }

    fn typed(&mut self, data_type: &DataType, span: Span) {
        if !span.is_read() {
            return;
        }
        match data_type {
            DataType::Decimal(scale) if self.sqlite && !matches!(scale, Some((..=15, 0))) => {
                self.decimal.get_or_insert(span);
            }
            DataType::Unknown if self.sqlite => {
                self.unknown.push(span);
            }
            DataType::Float(32) => {
                self.single.get_or_insert(span);
            }
            _ => {}
        }
    }
}
