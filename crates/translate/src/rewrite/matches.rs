//! EXISTS over a derived table of a query that IN, ANY or ALL looked through.

use meaning::Meant;
use syntax::tree::{AliasForm, ColumnAlias, Expr, ExprKind, Ident, Query, QueryBody, Select, SelectItem, SelectValue, Span, TableRef};

use super::Context;
use crate::shape::{column, derived, number, query_of, take_query};

type E = Expr<Meant>;

/// The rows of a query as a table.
pub(super) struct Matches {
    table: TableRef<Meant>,
    /// The columns of the table.
    pub(super) values: Vec<E>,
}

impl Matches {
    /// Takes the query from its place; none, and the query is still there, if it isn't one block of so
    /// many columns.
    pub(super) fn of(query: &mut Query<Meant>, count: usize, cx: &mut Context<'_>) -> Option<Matches> {
        let named = named_values(query, count)?;
        let (alias, relation) = (cx.fresh_name("matches"), cx.fresh_relation());
        let values = named.iter().enumerate().map(|(at, value)| column(&alias, relation, &value_name(at), value)).collect();
        Some(Matches { table: derived(take_query(query), &alias, relation, &cx.facts), values })
    }

    /// `[NOT] EXISTS (SELECT 1 FROM (query) AS matches WHERE ..)`.
    pub(super) fn exist(self, condition: Option<E>, negated: bool) -> ExprKind<Meant> {
        let one = SelectItem { value: SelectValue::Expr(number(1)), alias: None, span: Span::SYNTHETIC };
        let mut select = Select::of(vec![one], vec![self.table]);
        select.condition = condition;
        let exists = ExprKind::Exists(Box::new(query_of(select)));
        if negated { ExprKind::Not(Box::new(Expr::synthetic(exists))) } else { exists }
    }
}

fn value_name(at: usize) -> Ident {
    Ident::synthetic(format!("value_{}", at + 1))
}

/// Names for the columns of a query of one block; what they hold.
fn named_values(query: &mut Query<Meant>, count: usize) -> Option<Vec<E>> {
    let QueryBody::Select(select) = &mut query.body else { return None };
    let all_known = select.items.len() == count && select.items.iter().all(|i| matches!(i.value, SelectValue::Expr(_)));
    if !all_known || !query.order_by.is_empty() {
        return None;
    }
    let mut values = Vec::new();
    for (at, item) in select.items.iter_mut().enumerate() {
        if let SelectValue::Expr(expr) = &item.value {
            values.push(expr.clone());
        }
        item.alias = Some(ColumnAlias { name: value_name(at), form: AliasForm::As });
    }
    Some(values)
}
