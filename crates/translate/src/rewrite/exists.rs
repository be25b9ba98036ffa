//! A row limit inside EXISTS: one row is as good as many.
//!
//! ```sql before sqlserver sqlite
//! SELECT name FROM vessels v WHERE EXISTS (SELECT TOP 1 1 FROM crossings c WHERE c.vessel_id = v.id ORDER BY c.day)
//! ```
//! ```sql after
//! SELECT name FROM vessels v WHERE EXISTS (SELECT 1 FROM crossings c WHERE c.vessel_id = v.id)
//! ```
//!
//! Right when
//! 1. the limit keeps at least one row: a constant of 1 or more, or a share above 0 rounded up;
//! 2. nothing is passed over: an OFFSET asks for more rows than one.

use meaning::{Amount, Meant, Rounding};
use syntax::tree::Query;

use super::{Context, Place};
use crate::shape::as_number;

pub(super) fn rewrite(query: &mut Query<Meant>, place: Place, _: &mut Context<'_>) {
    if place != Place::Exists {
        return;
    }
    if let Some(limit) = &query.limit {
        let keeps_one = match &limit.amount {
            Some(Amount::Rows(count)) => as_number(count).is_some_and(|n| n >= 1.0),
            Some(Amount::Percent(share, Rounding::Up)) => as_number(share).is_some_and(|n| n > 0.0),
            _ => false,
        };
        if limit.offset.is_some() || !keeps_one {
            return;
        }
        query.limit = None;
    }
    query.order_by.clear();
}
