//! IN with the first row of a correlated subquery, where neither IN takes a limit nor a derived table
//! sees the query around it.
//!
//! ```sql before sqlserver mariadb
//! SELECT v.name FROM vessels v WHERE v.id IN (SELECT TOP 1 t.vessel_id FROM tolls t WHERE t.vessel_id = v.id ORDER BY t.id)
//! ```
//! ```sql after
//! SELECT v.name FROM vessels v WHERE v.id = (SELECT t.vessel_id FROM tolls t WHERE t.vessel_id = v.id ORDER BY t.id LIMIT 1)
//! ```
//!
//! Right when
//! 1. the limit is one row, without ties and offset: the subquery is then a scalar one;
//! 2. the predicate is among the ANDs and ORs of WHERE, HAVING or ON: where the subquery finds
//!    nothing IN is false and the comparison NULL, which there drops the row alike; under NOT or as a
//!    value it would show;
//! 3. it is IN, not NOT IN, for the same reason.

use meaning::{Amount, Meant, phrase};
use syntax::tree::{Expr, ExprKind, InSet, Query};

use super::walk::each_predicate;
use super::{Context, Place};
use crate::shape::{as_number, is_correlated, operation, take_query};

type E = Expr<Meant>;

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, _: &mut Context<'_>) {
    each_predicate(query, &mut compared);
}

/// Conditions 2 and 3.
fn compared(predicate: &mut E) {
    let ExprKind::In(test) = &mut predicate.kind else { return };
    let InSet::Query(set) = &mut test.set else { return };
    if test.negated || !is_one_row(set) || !is_correlated(set) {
        return;
    }
    let row = Expr { span: set.span, kind: ExprKind::Subquery(Box::new(take_query(set))) };
    let operand = test.operand.take();
    predicate.kind = operation(phrase::COMPARE_EQUAL, operand, row).kind;
}

/// Condition 1.
fn is_one_row(query: &Query<Meant>) -> bool {
    query.limit.as_ref().is_some_and(|limit| {
        let one = matches!(&limit.amount, Some(Amount::Rows(count)) if as_number(count) == Some(1.0));
        one && !limit.with_ties && limit.offset.is_none()
    })
}
