//! IN with the first row of a correlated subquery, where neither IN takes a limit nor a derived table
//! sees the query around it.
//!
//! ```sql before tsql mariadb
//! SELECT v.name FROM vessels v WHERE v.id IN (SELECT TOP 1 t.vessel_id FROM tolls t WHERE t.vessel_id = v.id ORDER BY t.id)
//! ```
//! ```sql after
//! SELECT v.name FROM vessels v WHERE v.id = (SELECT t.vessel_id FROM tolls t WHERE t.vessel_id = v.id ORDER BY t.id LIMIT 1)
//! ```
//!
//! Right when
//! 1. the limit is one row, without ties and offset: the subquery is then a scalar one;
//! 2. the predicate stands among the ANDs and ORs of WHERE, HAVING or ON: where the subquery finds
//!    nothing IN is false and the comparison NULL, which there drops the row alike; under NOT or as a
//!    value it would show;
//! 3. it is IN, not NOT IN, for the same reason.

use meaning::{Amount, Meant};
use syntax::tree::{Expr, ExprKind, InSet, JoinCondition, Query, QueryBody, TableKind, TableRef};

use super::shape::{as_number, is_correlated, operation, take_query};
use super::{Context, Place};

type E = Expr<Meant>;

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, _: &mut Context<'_>) {
    let QueryBody::Select(select) = &mut query.body else { return };
    select.condition.iter_mut().chain(&mut select.having).for_each(in_condition);
    select.from.iter_mut().for_each(in_table);
}

fn in_table(table: &mut TableRef<Meant>) {
    syntax::with_stack(|| match &mut table.kind {
        TableKind::Nested(inner) => in_table(inner),
        TableKind::Join(join) => {
            in_table(&mut join.left);
            in_table(&mut join.right);
            if let JoinCondition::On(condition) = &mut join.condition {
                in_condition(condition);
            }
        }
        _ => {}
    });
}

/// Conditions 2 and 3.
fn in_condition(condition: &mut E) {
    syntax::with_stack(|| match &mut condition.kind {
        ExprKind::Logic(_, operands) => operands.iter_mut().for_each(in_condition),
        ExprKind::Nested(inner) => in_condition(inner),
        ExprKind::In(test) if !test.negated => {
            let InSet::Query(set) = &mut test.set else { return };
            if !is_one_row(set) || !is_correlated(set) {
                return;
            }
            let row = Expr { span: set.span, kind: ExprKind::Subquery(Box::new(take_query(set))) };
            let operand = std::mem::replace(&mut test.operand, Expr::made(ExprKind::Default));
            condition.kind = operation("compare.equal", operand, row).kind;
        }
        _ => {}
    });
}

/// Condition 1.
fn is_one_row(query: &Query<Meant>) -> bool {
    query.limit.as_ref().is_some_and(|limit| {
        let one = matches!(&limit.amount, Some(Amount::Rows(count)) if as_number(count) == Some(1.0));
        one && !limit.with_ties && limit.offset.is_none()
    })
}
