//! Names for the columns of derived tables, where the target wants each to have one of its own.
//!
//! ```sql before postgres sqlserver
//! SELECT COUNT(*) FROM (SELECT 1 FROM loads WHERE tons > 3 LIMIT 10) x
//! ```
//! ```sql after
//! SELECT COUNT(*) FROM (SELECT TOP (10) 1 AS column_1 FROM loads WHERE tons > 3) x
//! ```
//! ```sql before postgres mysql
//! SELECT COUNT(*) FROM (SELECT v.id, c.id FROM vessels v JOIN crossings c ON c.vessel_id = v.id) x
//! ```
//! ```sql after
//! SELECT COUNT(*) FROM (SELECT v.id, c.id AS id_2 FROM vessels v JOIN crossings c ON c.vessel_id = v.id) x
//! ```
//!
//! Right when
//! 1. a column gets a name where the source gave it none, or the second of two that are named alike:
//!    neither can be meant by a name outside;
//! 2. the names are those of the first branch of a set operation, as the standard has it.

use compact_str::CompactString;
use meaning::Meant;
use syntax::tree::{AliasForm, ColumnAlias, Ident, Query, QueryBody, Select, SelectItem, SelectValue};

use super::{Context, Place};
use crate::shape::{free_name, output_name};

pub(super) fn rewrite(query: &mut Query<Meant>, place: Place, cx: &mut Context<'_>) {
    if matches!(place, Place::Derived | Place::Lateral | Place::Common)
        && let Some(block) = first_block(&mut query.body)
    {
        name_items(block, cx);
    }
}

/// Condition 2.
pub(super) fn first_block(body: &mut QueryBody<Meant>) -> Option<&mut Select<Meant>> {
    match body {
        QueryBody::Select(block) => Some(block),
        QueryBody::SetOperation(operation) => first_block(&mut operation.left),
        QueryBody::Nested(query, _) => first_block(&mut query.body),
        QueryBody::Values(_) | QueryBody::Table(..) => None,
    }
}

/// Condition 1.
fn name_items(block: &mut Select<Meant>, cx: &Context<'_>) {
    let mut taken: Vec<Ident> = block.items.iter().filter_map(output_name).collect();
    let mut seen: Vec<CompactString> = Vec::new();
    for (at, item) in block.items.iter_mut().enumerate() {
        if matches!(item.value, SelectValue::Star(..)) {
            continue;
        }
        let wanted = match output_name(item) {
            None if cx.facts.derived_columns_named => format!("column_{}", at + 1),
            None => continue,
            Some(name) if cx.facts.derived_columns_differ && seen.contains(&name.text.to_lowercase()) => name.text.to_string(),
            Some(name) => {
                seen.push(name.text.to_lowercase());
                continue;
            }
        };
        let name = Ident::synthetic(free_name(&wanted, &taken));
        seen.push(name.text.to_lowercase());
        taken.push(name.clone());
        put_alias(item, name);
    }
}

pub(super) fn put_alias(item: &mut SelectItem<Meant>, name: Ident) {
    item.alias = Some(ColumnAlias { name, form: AliasForm::As });
}
