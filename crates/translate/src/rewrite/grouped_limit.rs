//! A limit over groups in a derived table, for an engine that loses it when the groups are joined.
//!
//! ```sql before sqlserver mariadb
//! SELECT v.name FROM vessels v JOIN (SELECT TOP 3 vessel_id FROM tolls GROUP BY vessel_id ORDER BY vessel_id) t ON t.vessel_id = v.id
//! ```
//! ```sql after
//! SELECT v.name FROM vessels v JOIN (SELECT keyed.vessel_id FROM (SELECT vessel_id, vessel_id AS sort_key FROM tolls GROUP BY vessel_id) AS keyed ORDER BY keyed.sort_key LIMIT 3) t ON t.vessel_id = v.id
//! ```
//!
//! Right when
//! 1. the query groups and limits, and is where it can be joined: in FROM, WITH or IN;
//! 2. its list gives every entry a name, by which the query around the groups shows it.

use meaning::Meant;
use syntax::tree::{Query, QueryBody};

use super::row_limit::lift_keys;
use super::{Context, Place};

pub(super) fn rewrite(query: &mut Query<Meant>, place: Place, cx: &mut Context<'_>) {
    let groups = matches!(&query.body, QueryBody::Select(block) if block.group_by.is_some());
    let joined = matches!(place, Place::Derived | Place::Lateral | Place::Common | Place::Membership);
    if groups && joined && query.limit.is_some() {
        lift_keys(query, cx);
    }
}
