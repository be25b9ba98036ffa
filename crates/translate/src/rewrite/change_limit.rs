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
//! ```sql before mysql sqlserver
//! UPDATE tolls SET paid = 'y' ORDER BY id LIMIT 3
//! ```
//! ```sql after
//! WITH limited AS (SELECT TOP (3) * FROM tolls ORDER BY id) UPDATE limited SET paid = 'y'
//! ```
//! ```sql before sqlserver mysql
//! WITH oldest AS (SELECT TOP 3 * FROM tolls WHERE paid = 'n' ORDER BY id) DELETE FROM oldest
//! ```
//! ```sql after
//! DELETE FROM tolls WHERE paid = 'n' ORDER BY id LIMIT 3
//! ```
//!
//! Right when
//! 1. the rows are distinguished by the target's row address, within this one statement;
//! 2. one plain table is changed;
//! 3. the target takes a limit here by itself: SQL Server TOP without an order, MySQL LIMIT;
//! 4. SQL Server changes rows through a common table expression that selects them with TOP;
//! 5. a change through a common table expression is a change of the one table it selects from, row
//!    by row, if no condition is left to be tested behind its limit.

use meaning::{Amount, Binding, BindingTarget, LimitWords, Meant, Note, RowLimit};
use syntax::tree::{
    CommonTable, Expr, ExprKind, Ident, InSet, InTest, ObjectName, QueryBody, Select, SelectItem, SelectValue, SortKey, Span, Statement,
    StatementKind, TableKind, TableRef, With,
};
use values::DataType;

use super::{Context, Place, null_order, row_limit, rownum};
use crate::shape::{all_of, is_row_by_row, query_of};

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
    look_through(statement, cx);
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
    if cx.facts.limit_words == LimitWords::Top && change.plain {
        let relation = change.table.relation;
        let common = picked_rows(&mut change, *limit, cx);
        put_common(statement, common);
        return unqualify(statement, relation);
    }
    by_address(&mut change, *limit, cx);
}

/// Condition 5.
fn look_through(statement: &mut Statement<Meant>, cx: &mut Context<'_>) {
    let (with, table, condition, order_by, limit) = match &mut statement.kind {
        StatementKind::Update(u) => (&mut u.with, &mut u.table, &mut u.condition, &mut u.order_by, &mut u.limit),
        StatementKind::Delete(d) => (&mut d.with, &mut d.table, &mut d.condition, &mut d.order_by, &mut d.limit),
        _ => return,
    };
    let (Some(tables), TableKind::Name(name)) = (with.as_mut().map(|w| &mut w.tables), &table.kind) else { return };
    let same = |c: &CommonTable<Meant>| name.as_single().is_some_and(|n| n.text.eq_ignore_ascii_case(&c.name.text));
    let Some(at) = tables.iter().position(same) else { return };
    let behind = condition.is_some() && tables[at].query.limit.is_some();
    let (Some((inner, block)), false, true) = (plain_source(&tables[at]), behind, limit.is_none()) else {
        cx.note(
            Note::new("construct.not-translated", table.span, "a change through this common table expression is not translated")
                .advise("change the table itself, its rows found by their key: WHERE key IN (SELECT ...)"),
        );
        return;
    };
    let (inner, tests) = (inner.clone(), block.condition.clone());
    let common = tables.remove(at);
    if tables.is_empty() {
        *with = None;
    }
    table.kind = inner.kind;
    table.alias = inner.alias;
    *condition = all_of(tests.into_iter().chain(condition.take()).collect());
    *order_by = common.query.order_by;
    *limit = common.query.limit;
}

/// The one table a common table expression passes the rows of.
fn plain_source(common: &CommonTable<Meant>) -> Option<(&TableRef<Meant>, &Select<Meant>)> {
    let query = &common.query;
    let QueryBody::Select(block) = &query.body else { return None };
    let [table] = block.from.as_slice() else { return None };
    let passes = |i: &SelectItem<Meant>| match &i.value {
        SelectValue::Star(_, modifiers) => modifiers.is_empty(),
        SelectValue::Expr(e) => i.alias.is_none() && matches!(e.kind, ExprKind::Column(_)),
    };
    let plain = matches!(table.kind, TableKind::Name(_))
        && table.alias.as_ref().is_none_or(|a| a.columns.is_empty())
        && common.columns.is_empty()
        && query.with.is_none()
        && is_row_by_row(block)
        && block.items.iter().all(passes);
    plain.then_some((table, block))
}

/// ROWNUM in WHERE becomes a limit.
fn take_rownum(change: &mut Change<'_>, cx: &mut Context<'_>) {
    if !cx.features.row_number || change.condition.is_none() {
        return;
    }
    // The same rule as in a query, over the rows of the table.
    let mut block = Select::of(vec![crate::shape::star()], Vec::new());
    block.condition = change.condition.take();
    let mut query = query_of(block);
    rownum::rewrite(&mut query, Place::Derived, cx);
    if let QueryBody::Select(block) = query.body {
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

/// Condition 4: the rows to change as a common table expression, which the change then names.
fn picked_rows(change: &mut Change<'_>, limit: RowLimit, cx: &mut Context<'_>) -> CommonTable<Meant> {
    let name = Ident::synthetic(cx.fresh_name("limited"));
    let table = TableRef {
        kind: TableKind::Name(ObjectName::single(name.clone())),
        alias: None,
        relation: change.table.relation,
        hints: None,
        qualifier: None,
        span: Span::SYNTHETIC,
    };
    let mut block = Select::of(vec![crate::shape::star()], vec![std::mem::replace(change.table, table)]);
    block.condition = change.condition.take();
    let mut query = query_of(block);
    query.order_by = std::mem::take(change.order_by);
    query.limit = Some(Box::new(limit));
    *change.limit = None;
    row_limit::rewrite(&mut query, Place::Common, cx);
    null_order::rewrite(&mut query, Place::Common, cx);
    CommonTable { name, columns: Vec::new(), materialized: None, query, search_cycle: None, span: Span::SYNTHETIC }
}

fn put_common(statement: &mut Statement<Meant>, common: CommonTable<Meant>) {
    let with = match &mut statement.kind {
        StatementKind::Update(update) => &mut update.with,
        StatementKind::Delete(delete) => &mut delete.with,
        _ => return,
    };
    with.get_or_insert_with(|| With { recursive: false, tables: Vec::new(), span: Span::SYNTHETIC }).tables.push(common);
}

/// The columns of the change are now those of the common table expression.
fn unqualify(statement: &mut Statement<Meant>, relation: meaning::RelationId) {
    let StatementKind::Update(update) = &mut statement.kind else { return };
    let bare = |binding: &mut Binding| binding.name.parts.drain(..binding.name.parts.len() - 1).for_each(drop);
    for assignment in &mut update.assignments {
        assignment.targets.iter_mut().for_each(bare);
        unqualify_within(&mut assignment.value, relation);
    }
}

fn unqualify_within(expr: &mut E, relation: meaning::RelationId) {
    if let ExprKind::Column(binding) = &mut expr.kind
        && binding.target == BindingTarget::Column(relation)
    {
        binding.name.parts.drain(..binding.name.parts.len() - 1);
    }
    expr.exprs_mut(&mut |child| unqualify_within(child, relation));
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
    let mut inner =
        Select::of(vec![SelectItem { value: SelectValue::Expr(address_column(address)), alias: None, span: Span::SYNTHETIC }], Vec::new());
    inner.from = vec![TableRef {
        kind: TableKind::Name(ObjectName { parts: table.parts.iter().map(crate::shape::again).collect() }),
        alias: change.table.alias.clone().map(|mut a| {
            a.name = a.name.as_ref().map(crate::shape::again);
            a
        }),
        relation: change.table.relation,
        hints: None,
        qualifier: None,
        span: Span::SYNTHETIC,
    }];
    inner.condition = change.condition.take();
    let mut query = query_of(inner);
    query.order_by = std::mem::take(change.order_by);
    query.limit = Some(Box::new(limit));
    *change.limit = None;
    row_limit::rewrite(&mut query, Place::Derived, cx);
    null_order::rewrite(&mut query, Place::Derived, cx);
    let test = InTest { operand: address_column(address), negated: false, set: InSet::Query(query) };
    *change.condition = all_of(vec![Expr::synthetic(ExprKind::In(Box::new(test)))]);
}

fn address_column(address: &str) -> E {
    Expr::synthetic(ExprKind::Column(Binding {
        name: ObjectName::single(Ident::synthetic(address)),
        target: BindingTarget::Special,
        data_type: DataType::Unknown,
        nullable: false,
    }))
}
