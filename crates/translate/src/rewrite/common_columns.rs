//! Column lists behind the names of common table expressions, where the target has none.
//!
//! ```sql before postgres bigquery
//! WITH heavy (load, weight) AS (SELECT name, tons FROM loads WHERE tons > 5) SELECT load FROM heavy
//! ```
//! ```sql after
//! WITH heavy AS (SELECT name AS load, tons AS weight FROM loads WHERE tons > 5) SELECT load FROM heavy
//! ```
//!
//! Right when
//! 1. the list names every column of the query, and they are known one by one;
//! 2. the query isn't sorted by aliases of its own, which would be lost. Where either fails the list
//!    stays, and the statement is refused for it.

use meaning::Meant;
use syntax::tree::{Query, QueryBody};

use super::value_rows::name_columns;
use super::{Context, Place};

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, cx: &mut Context<'_>) {
    if cx.facts.common_table_columns {
        return;
    }
    for table in query.with.iter_mut().flat_map(|w| &mut w.tables) {
        let has_aliases = matches!(&table.query.body, QueryBody::Select(s) if s.items.iter().any(|i| i.alias.is_some()));
        let loses_key = has_aliases && !table.query.order_by.is_empty();
        if !table.columns.is_empty() && !loses_key && name_columns(&mut table.query, &table.columns) {
            table.columns.clear();
        }
    }
}
