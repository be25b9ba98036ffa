//! An aggregate that only sorts, for targets that lose sight of it behind HAVING.
//!
//! ```sql before oracle spark
//! SELECT vessel_id FROM tolls GROUP BY vessel_id HAVING SUM(amount) > 5 ORDER BY SUM(amount)
//! ```
//! ```sql after
//! SELECT keyed.vessel_id FROM (SELECT vessel_id, SUM(amount) AS sort_key FROM tolls GROUP BY vessel_id HAVING SUM(amount) > 5) AS keyed ORDER BY keyed.sort_key NULLS LAST
//! ```
//!
//! Right when
//! 1. the block has HAVING, and a sort key is an aggregate that its list doesn't show;
//! 2. every entry of the list has a name to be shown by outside.

use meaning::Meant;
use syntax::tree::{Query, QueryBody, SelectValue};

use super::row_limit::lift_keys;
use super::{Context, Place};
use crate::shape::{may_aggregate, resolved_key, same};

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, cx: &mut Context<'_>) {
    let QueryBody::Select(block) = &query.body else { return };
    let shown = |key: &syntax::tree::Expr<Meant>| block.items.iter().any(|i| matches!(&i.value, SelectValue::Expr(e) if same(e, key)));
    let hides = |key: &syntax::tree::Expr<Meant>| may_aggregate(key) && !shown(key);
    // Condition 1.
    let hidden = query.order_by.iter().filter_map(|k| resolved_key(&k.expr, &block.items)).any(|key| hides(&key));
    if block.having.is_some() && hidden {
        lift_keys(query, cx);
    }
}
