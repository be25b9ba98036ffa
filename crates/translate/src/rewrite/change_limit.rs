//! UPDATE and DELETE with a row limit.
//!
//! ```sql before mysql postgres
//! DELETE FROM tolls WHERE paid = 'n' ORDER BY id LIMIT 3
//! ```
//! ```sql after
//! DELETE FROM tolls WHERE ctid IN (SELECT ctid FROM tolls WHERE paid = 'n' ORDER BY id NULLS FIRST LIMIT 3)
//! ```
//! ```sql before oracle mysql
//! DELETE FROM tolls WHERE paid = 'n' AND ROWNUM <= 3
//! ```
//! ```sql after
//! DELETE FROM tolls WHERE paid = 'n' LIMIT 3
//! ```
//!
//! Right when
//! 1. the rows are told apart by the target's row address, within this one statement;
//! 2. one plain table is changed;
//! 3. the target takes a limit here by itself: SQL Server TOP without an order, MySQL LIMIT.

use meaning::{Amount, Binding, BindingTarget, LimitWords, Meant, Note, RowLimit};
use syntax::tree::{
    Expr, ExprKind, Ident, InSet, InTest, ObjectName, Select, SelectItem, SelectValue, SortKey, Span, Statement, StatementKind, TableKind,
    TableRef,
};
use values::DataType;

use super::shape::{all_of, query_of, table_name};
use super::{Context, Place, null_order, row_limit, rownum};

type E = Expr<Meant>;

/// The parts of an UPDATE or DELETE that matter here.
struct Change<'a> {
    table: &'a mut TableRef<Meant>,
    condition: &'a mut Option<E>,
    order_by: &'a mut Vec<SortKey<Meant>>,
    limit: &'a mut Option<Box<RowLimit>>,
    plain: bool,
}

pub(super) fn rewrite(statement: &mut Statement<Meant>, cx: &mut Context<'_>) {
    let mut change = match &mut statement.kind {
        StatementKind::Update(update) => Change {
            plain: update.from.is_empty(),
            table: &mut update.table,
            condition: &mut update.condition,
            order_by: &mut update.order_by,
            limit: &mut update.limit,
        },
        StatementKind::Delete(delete) => Change {
            plain: delete.using.is_empty() && delete.targets.is_empty(),
            table: &mut delete.table,
            condition: &mut delete.condition,
            order_by: &mut delete.order_by,
            limit: &mut delete.limit,
        },
        _ => return,
    };
    take_rownum(&mut change, cx);
    let Some(limit) = change.limit.clone() else { return };
    let message = "which rows a limited change takes is the engine's choice unless an ORDER BY over a key settles it";
    cx.note(
        Note::new("row-limit.which-rows", limit.span, message).advise("select the keys of the rows first, look at them, and change those"),
    );
    if cx.facts.change_limit && says_here(&change, &limit, cx) {
        return;
    }
    by_address(&mut change, *limit, cx);
}

/// ROWNUM in WHERE becomes a limit.
fn take_rownum(change: &mut Change<'_>, cx: &mut Context<'_>) {
    if !cx.features.row_number || change.condition.is_none() {
        return;
    }
    // The same rule as in a query, over the rows of the table.
    let mut block = Select::of(vec![super::shape::star()], Vec::new());
    block.condition = change.condition.take();
    let mut query = query_of(block);
    rownum::rewrite(&mut query, Place::Derived, cx);
    if let syntax::tree::QueryBody::Select(block) = query.body {
        *change.condition = block.condition;
    }
    if query.limit.is_some() {
        *change.limit = query.limit;
    }
}

/// Condition 3.
fn says_here(change: &Change<'_>, limit: &RowLimit, cx: &Context<'_>) -> bool {
    let count_only = matches!(limit.amount, Some(Amount::Rows(_))) && !limit.with_ties && limit.offset.is_none();
    let ordered = !change.order_by.is_empty();
    match cx.facts.limit_words {
        LimitWords::Top => !ordered && !limit.with_ties && limit.offset.is_none(),
        _ => count_only && change.plain,
    }
}

/// Condition 1: WHERE address IN (SELECT address FROM table .. LIMIT n).
fn by_address(change: &mut Change<'_>, limit: RowLimit, cx: &mut Context<'_>) {
    let (Some(address), true, TableKind::Name(table)) = (cx.facts.row_address, change.plain, &change.table.kind) else {
        cx.note(
            Note::new("row-limit.in-change", limit.span, format!("{} can't limit the rows of this change", cx.to.name.title()))
                .advise("select the keys of the rows first and change those: WHERE key IN (SELECT ...)"),
        );
        return;
    };
    let qualifier = table_name(change.table);
    let mut inner =
        Select::of(vec![SelectItem { value: SelectValue::Expr(address_column(address, None)), alias: None, span: Span::MADE }], Vec::new());
    inner.from = vec![TableRef {
        kind: TableKind::Name(ObjectName { parts: table.parts.iter().map(super::shape::again).collect() }),
        alias: change.table.alias.clone().map(|mut a| {
            a.name = a.name.as_ref().map(super::shape::again);
            a
        }),
        relation: change.table.relation,
        hints: None,
        qualifier: None,
        span: Span::MADE,
    }];
    inner.condition = change.condition.take();
    let mut query = query_of(inner);
    query.order_by = std::mem::take(change.order_by);
    query.limit = Some(Box::new(limit));
    *change.limit = None;
    row_limit::rewrite(&mut query, Place::Derived, cx);
    null_order::rewrite(&mut query, Place::Derived, cx);
    let test = InTest { operand: address_column(address, None), negated: false, set: InSet::Query(query) };
    *change.condition = all_of(vec![Expr::made(ExprKind::In(Box::new(test)))]);
    let _ = qualifier;
}

fn address_column(address: &str, qualifier: Option<&Ident>) -> E {
    let mut parts: Vec<Ident> = qualifier.into_iter().map(super::shape::again).collect();
    parts.push(Ident::made(address));
    Expr::made(ExprKind::Column(Binding {
        name: ObjectName { parts },
        target: BindingTarget::Special,
        data_type: DataType::Unknown,
        nullable: false,
    }))
}
