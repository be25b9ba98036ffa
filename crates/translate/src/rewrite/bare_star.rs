//! A bare star beside other entries, where the target wants it to stand first or alone.
//!
//! ```sql before postgres oracle
//! SELECT *, ROW_NUMBER() OVER (ORDER BY id) AS place FROM vessels v
//! ```
//! ```sql after
//! SELECT v.*, ROW_NUMBER() OVER (ORDER BY id) AS place FROM vessels v
//! ```
//! ```sql before sqlite mysql
//! SELECT id + 1 AS next_id, * FROM vessels
//! ```
//! ```sql after
//! SELECT id + 1 AS next_id, vessels.* FROM vessels
//! ```
//!
//! Right when
//! 1. every table of the block has a name, or can be given one: the columns of all of them, in the
//!    order of FROM, are what the star represents;
//! 2. no NATURAL or USING shows two columns as one.

use meaning::{BareStar, Meant, Note, Star};
use syntax::tree::{Ident, JoinCondition, ObjectName, Query, QueryBody, Select, SelectItem, SelectValue, TableAlias, TableKind, TableRef};

use super::{Context, Place};
use crate::shape::table_name;

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, cx: &mut Context<'_>) {
    let QueryBody::Select(block) = &mut query.body else { return };
    let first_allowed = usize::from(cx.facts.bare_star == BareStar::First);
    if block.items.len() < 2 || !block.items.iter().skip(first_allowed).any(is_bare) {
        return;
    }
    if let Some(tables) = names(block, cx) {
        let items = std::mem::take(&mut block.items);
        block.items = items.into_iter().flat_map(|item| if is_bare(&item) { stars_of(&tables) } else { vec![item] }).collect();
    } else {
        let star = block.items.iter().find(|i| is_bare(i)).map_or(block.span, |i| i.span);
        cx.note(
            Note::new(
                "select.bare-star",
                star,
                "here the target takes no * beside other columns, and NATURAL or USING shows columns as one",
            )
            .advise("name the columns"),
        );
    }
}

fn is_bare(item: &SelectItem<Meant>) -> bool {
    matches!(&item.value, SelectValue::Star(star, modifiers) if star.qualifier.is_none() && modifiers.is_empty())
}

fn stars_of(tables: &[(Ident, meaning::RelationId)]) -> Vec<SelectItem<Meant>> {
    let star = |(name, relation): &(Ident, meaning::RelationId)| Star {
        qualifier: Some(ObjectName { parts: vec![name.clone()] }),
        relation: Some(*relation),
        columns: None,
    };
    tables
        .iter()
        .map(|table| SelectItem { value: SelectValue::Star(star(table), Vec::new()), alias: None, span: syntax::tree::Span::SYNTHETIC })
        .collect()
}

/// The names of the block's tables; `None` where columns are merged (condition 2).
fn names(block: &mut Select<Meant>, cx: &mut Context<'_>) -> Option<Vec<(Ident, meaning::RelationId)>> {
    let mut found = Vec::new();
    for table in &mut block.from {
        gather(table, &mut found, cx)?;
    }
    Some(found)
}

fn gather(table: &mut TableRef<Meant>, found: &mut Vec<(Ident, meaning::RelationId)>, cx: &mut Context<'_>) -> Option<()> {
    match &mut table.kind {
        TableKind::Nested(inner) if table.alias.is_none() => return gather(inner, found, cx),
        TableKind::Join(join) => {
            if join.natural || matches!(join.condition, JoinCondition::Using(_)) {
                return None;
            }
            gather(&mut join.left, found, cx)?;
            return gather(&mut join.right, found, cx);
        }
        _ => {}
    }
    // Condition 1.
    if table_name(table).is_none() {
        let name = Ident::synthetic(cx.fresh_name("derived"));
        table.alias = Some(TableAlias { as_word: cx.facts.table_alias_as, name: Some(name), columns: Vec::new(), typed_columns: None });
    }
    found.push((table_name(table)?, table.relation));
    Some(())
}
