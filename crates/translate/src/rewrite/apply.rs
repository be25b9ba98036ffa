//! APPLY and LATERAL, where both sides have one of them.
//!
//! ```sql before sqlserver postgres
//! SELECT v.name, c.fare FROM vessels v CROSS APPLY (SELECT TOP 1 fare FROM crossings WHERE vessel_id = v.id ORDER BY fare) c
//! ```
//! ```sql after
//! SELECT v.name, c.fare FROM vessels v CROSS JOIN LATERAL (SELECT fare FROM crossings WHERE vessel_id = v.id ORDER BY fare NULLS FIRST LIMIT 1) c
//! ```
//!
//! Right when
//! 1. CROSS APPLY is CROSS JOIN LATERAL and OUTER APPLY is LEFT JOIN LATERAL on a condition that is
//!    always true;
//! 2. into SQL Server, a LEFT JOIN LATERAL has such a condition;
//! 3. into SQL Server, the tables before a LATERAL in a list are joined first: it may use them all.

use meaning::{Constant, Meant, RelationId, phrase};
use syntax::tree::{Expr, ExprKind, Join, JoinCondition, JoinKind, Query, QueryBody, Span, TableKind, TableRef};

use super::{Context, Place};
use crate::shape::{as_number, number, operation, sides_of_equality};

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, cx: &mut Context<'_>) {
    if let QueryBody::Select(select) = &mut query.body {
        if cx.facts.apply && !cx.facts.lateral {
            let listed = std::mem::take(&mut select.from);
            select.from = joined_list(listed);
        }
        select.from.iter_mut().for_each(|t| in_table(t, cx));
    }
}

/// Condition 3.
pub(super) fn joined_list(tables: Vec<TableRef<Meant>>) -> Vec<TableRef<Meant>> {
    let mut out: Vec<TableRef<Meant>> = Vec::new();
    for table in tables {
        if !matches!(table.kind, TableKind::Derived { lateral: true, .. }) || out.is_empty() {
            out.push(table);
            continue;
        }
        let before = out.drain(..).reduce(|left, right| joined(JoinKind::Cross, left, right));
        out.extend(before.map(|left| joined(JoinKind::CrossApply, left, table)));
    }
    for table in &mut out {
        unlateral(table);
    }
    out
}

fn joined(kind: JoinKind, left: TableRef<Meant>, right: TableRef<Meant>) -> TableRef<Meant> {
    let join = Join { kind, natural: false, explicit_word: false, left, right, condition: JoinCondition::None };
    TableRef {
        kind: TableKind::Join(Box::new(join)),
        alias: None,
        relation: RelationId::NONE,
        hints: None,
        qualifier: None,
        span: Span::SYNTHETIC,
    }
}

/// What LATERAL says is said by APPLY, or is the first table, which sees none.
fn unlateral(table: &mut TableRef<Meant>) {
    match &mut table.kind {
        TableKind::Join(join) if join.kind == JoinKind::CrossApply => unlateral(&mut join.right),
        TableKind::Derived { lateral, .. } => *lateral = false,
        _ => {}
    }
}

fn in_table(table: &mut TableRef<Meant>, cx: &mut Context<'_>) {
    match &mut table.kind {
        TableKind::Nested(inner) => in_table(inner, cx),
        TableKind::Join(join) => {
            in_table(&mut join.left, cx);
            in_table(&mut join.right, cx);
            if join.kind.is_apply() && cx.facts.lateral && !cx.facts.apply {
                to_lateral(join, cx);
            } else if cx.facts.apply && !cx.facts.lateral {
                to_apply(join);
            }
        }
        _ => {}
    }
}

fn to_lateral(join: &mut Join<Meant>, cx: &Context<'_>) {
    let TableKind::Derived { lateral, .. } = &mut join.right.kind else { return };
    *lateral = true;
    if join.kind == JoinKind::CrossApply {
        join.kind = JoinKind::Cross;
        return;
    }
    join.kind = JoinKind::Left;
    let always = if cx.facts.boolean_values {
        Expr::synthetic(ExprKind::Literal(Constant::Boolean(true)))
    } else {
        operation(phrase::COMPARE_EQUAL, number(1), number(1))
    };
    join.condition = JoinCondition::On(always);
}

fn to_apply(join: &mut Join<Meant>) {
    let TableKind::Derived { lateral: lateral @ true, .. } = &mut join.right.kind else { return };
    let always = match &join.condition {
        JoinCondition::On(condition) => is_always_true(condition),
        JoinCondition::None => true,
        JoinCondition::Using(_) => false,
    };
    let kind = match join.kind {
        JoinKind::Cross | JoinKind::Inner if always => JoinKind::CrossApply,
        JoinKind::Left if always => JoinKind::OuterApply,
        _ => return,
    };
    *lateral = false;
    join.kind = kind;
    join.explicit_word = false;
    join.condition = JoinCondition::None;
}

pub(super) fn is_always_true(condition: &Expr<Meant>) -> bool {
    match &condition.without_parens().kind {
        ExprKind::Literal(Constant::Boolean(value)) => *value,
        _ => sides_of_equality(condition).is_some_and(|(left, right)| as_number(left).is_some() && as_number(left) == as_number(right)),
    }
}
