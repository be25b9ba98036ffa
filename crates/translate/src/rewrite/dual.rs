//! A SELECT without tables.
//!
//! ```sql before oracle postgres
//! SELECT 1 + 1 AS two FROM DUAL
//! ```
//! ```sql after
//! SELECT 1 + 1 AS two
//! ```
//! ```sql before postgres oracle@19
//! SELECT 1 + 1 AS two
//! ```
//! ```sql after
//! SELECT 1 + 1 AS two FROM DUAL
//! ```
//!
//! Right when
//! 1. DUAL is the only table and no column of it is used;
//! 2. the target's SELECT without FROM takes the block's other clauses: MySQL and others need
//!    FROM DUAL there before a WHERE.

use meaning::{BindingTarget, Constant, Meant, RelationId};
use syntax::DialectName;
use syntax::tree::{Expr, ExprKind, Ident, ObjectName, Query, QueryBody, Select, Span, TableAlias, TableKind, TableRef};

use super::{Context, Place};

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, cx: &mut Context<'_>) {
    let QueryBody::Select(select) = &mut query.body else { return };
    let is_dual = |t: &TableRef<Meant>| matches!(&t.kind, TableKind::Name(name) if name.parts.last().is_some_and(|p| p.is_word("dual")));
    if cx.from.name == DialectName::Oracle && cx.to.name != DialectName::Oracle {
        let is_alone = select.from.len() == 1 && is_dual(&select.from[0]);
        if !is_alone {
            select.from.iter_mut().for_each(|table| as_derived(table, cx));
        }
    }
    let speaks_dual = matches!(cx.to.name, DialectName::Oracle | DialectName::Mysql | DialectName::Mariadb);
    let source_dual = matches!(cx.from.name, DialectName::Oracle | DialectName::Mysql | DialectName::Mariadb);
    if !speaks_dual && source_dual && select.from.len() == 1 && is_dual(&select.from[0]) {
        let relation = select.from[0].relation;
        let mut used = false;
        select.exprs(&mut |e| {
            used |= e.any(&mut |e| matches!(&e.kind, ExprKind::Column(b) if b.target == BindingTarget::Column(relation)));
        });
        match used {
            true => as_derived(&mut select.from[0], cx),
            false => select.from.clear(),
        }
    }
    table_for_filters(select, cx);
}

/// Condition 2: a SELECT without tables gets one where the target wants it.
fn table_for_filters(select: &mut Select<Meant>, cx: &Context<'_>) {
    let filters = select.condition.is_some() || select.having.is_some() || select.group_by.is_some();
    if select.from.is_empty() && filters && cx.to.name == DialectName::Bigquery {
        select.from = vec![one_row("one_row", 1.to_string(), cx)];
        return;
    }
    // Condition 2.
    let wants_dual = filters && matches!(cx.to.name, DialectName::Oracle | DialectName::Mysql | DialectName::Mariadb);
    if let (Some(dual), true) = (cx.facts.dual.or(wants_dual.then_some("DUAL")), select.from.is_empty()) {
        select.from = vec![TableRef {
            kind: TableKind::Name(ObjectName::single(Ident::synthetic(dual))),
            alias: None,
            relation: RelationId::NONE,
            hints: None,
            qualifier: None,
            span: Span::SYNTHETIC,
        }];
    }
}

/// DUAL among other tables: a derived table with its row.
fn as_derived(table: &mut TableRef<Meant>, cx: &Context<'_>) {
    match &mut table.kind {
        TableKind::Join(join) => syntax::with_stack(|| {
            as_derived(&mut join.left, cx);
            as_derived(&mut join.right, cx);
        }),
        TableKind::Nested(inner) => as_derived(inner, cx),
        TableKind::Name(name) if name.parts.last().is_some_and(|p| p.is_word("dual")) => {
            let made = one_row("dual", String::new(), cx);
            let alias = table.alias.take().or(made.alias);
            *table = TableRef { kind: made.kind, alias, relation: table.relation, ..made };
        }
        _ => {}
    }
}

/// `(SELECT 'X' AS dummy) AS dual`, or a number as its only column.
fn one_row(alias: &str, number: String, cx: &Context<'_>) -> TableRef<Meant> {
    let (constant, name) = match number.is_empty() {
        true => (Constant::Text { value: "X".into(), written: None }, "dummy"),
        false => (Constant::Number(number.into()), "one"),
    };
    let item = crate::shape::aliased(Expr::synthetic(ExprKind::Literal(constant)), name);
    let query = Query::of(QueryBody::Select(Box::new(Select::of(vec![item], Vec::new()))), Span::SYNTHETIC);
    let alias =
        TableAlias { as_word: cx.facts.table_alias_as, name: Some(Ident::synthetic(alias)), columns: Vec::new(), typed_columns: None };
    TableRef {
        kind: TableKind::Derived { lateral: false, query: Box::new(query) },
        alias: Some(alias),
        relation: RelationId::NONE,
        hints: None,
        qualifier: None,
        span: Span::SYNTHETIC,
    }
}
