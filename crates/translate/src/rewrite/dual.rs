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

use meaning::{BindingTarget, Meant, RelationId};
use syntax::DialectName;
use syntax::tree::{ExprKind, Ident, ObjectName, Query, QueryBody, Span, TableKind, TableRef};

use super::{Context, Place};

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, cx: &mut Context<'_>) {
    let QueryBody::Select(select) = &mut query.body else { return };
    let is_dual = |t: &TableRef<Meant>| matches!(&t.kind, TableKind::Name(name) if name.parts.last().is_some_and(|p| p.is_word("dual")));
    let speaks_dual = matches!(cx.to.name, DialectName::Oracle | DialectName::Mysql | DialectName::Mariadb);
    let source_dual = matches!(cx.from.name, DialectName::Oracle | DialectName::Mysql | DialectName::Mariadb);
    if let (Some(dual), true) = (cx.facts.dual, select.from.is_empty()) {
        select.from = vec![TableRef {
            kind: TableKind::Name(ObjectName::single(Ident::made(dual))),
            alias: None,
            relation: RelationId::NONE,
            hints: None,
            qualifier: None,
            span: Span::MADE,
        }];
        return;
    }
    if speaks_dual || !source_dual || select.from.len() != 1 || !is_dual(&select.from[0]) {
        return;
    }
    let relation = select.from[0].relation;
    let mut used = false;
    select.exprs(&mut |e| {
        used |= e.any(&mut |e| matches!(&e.kind, ExprKind::Column(b) if b.target == BindingTarget::Column(relation)));
    });
    if !used {
        select.from.clear();
    }
}
