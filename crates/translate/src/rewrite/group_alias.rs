//! Aliases of the select list in GROUP BY and HAVING, and places of the list in GROUP BY, where the
//! target sees only columns there.
//!
//! ```sql before mysql sqlserver
//! SELECT COALESCE(permit, '-') AS p, COUNT(*) AS n FROM vessels GROUP BY p HAVING n > 1
//! ```
//! ```sql after
//! SELECT COALESCE(permit, '-') AS p, COUNT(*) AS n FROM vessels GROUP BY COALESCE(permit, '-') HAVING COUNT(*) > 1
//! ```
//! ```sql before postgres oracle
//! SELECT kind, COUNT(*) AS n FROM vessels GROUP BY 1
//! ```
//! ```sql after
//! SELECT kind, COUNT(*) AS n FROM vessels GROUP BY kind
//! ```
//!
//! Right when
//! 1. the bare name is an alias of the list and, as far as is known, no column: a column comes first
//!    where a dialect sees both (MySQL, GROUP BY Modifiers and Aliases);
//! 2. what the alias represents is no constant, which would be an ordinal or nothing in GROUP BY.

use meaning::{BindingTarget, Meant};
use syntax::tree::{Expr, ExprKind, GroupItem, Query, QueryBody, SelectItem, SelectValue};
use values::DataType;

use super::{Context, Place};
use crate::shape::{copy_of, resolved_key};

type E = Expr<Meant>;

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, cx: &mut Context<'_>) {
    let QueryBody::Select(select) = &mut query.body else { return };
    if !cx.facts.group_by_ordinals && cx.source_facts.group_by_ordinals {
        for item in select.group_by.iter_mut().flat_map(|g| &mut g.items) {
            if let GroupItem::Expr(expr) = item
                && matches!(expr.kind, ExprKind::Literal(_))
                && let Some(meant) = resolved_key(expr, &select.items)
            {
                *expr = meant;
            }
        }
    }
    if !cx.facts.group_by_sees_aliases {
        for item in select.group_by.iter_mut().flat_map(|g| &mut g.items) {
            if let GroupItem::Expr(expr) = item {
                write_out(expr, &select.items);
            }
        }
    }
    if let (Some(having), false) = (&mut select.having, cx.facts.having_sees_aliases) {
        write_out(having, &select.items);
    }
}

fn write_out(expr: &mut E, items: &[SelectItem<Meant>]) {
    if let Some(meant) = entry_named(expr, items) {
        *expr = copy_of(meant);
    } else if !matches!(expr.kind, ExprKind::Column(_)) {
        expr.exprs_mut(&mut |child| write_out(child, items));
    }
}

/// What a bare name in GROUP BY or HAVING represents, if it is an alias of the list: condition 1.
pub(super) fn entry_named<'a>(expr: &E, items: &'a [SelectItem<Meant>]) -> Option<&'a E> {
    let ExprKind::Column(binding) = &expr.kind else { return None };
    let open = binding.data_type == DataType::Unknown && !matches!(binding.target, BindingTarget::Special | BindingTarget::RowNumber);
    let name = binding.name.as_single().filter(|_| open)?;
    items.iter().find_map(|i| aliased_as(i, &name.text))
}

/// What a list entry of this alias is: more than a column or (condition 2) a constant.
fn aliased_as<'a>(item: &'a SelectItem<Meant>, name: &str) -> Option<&'a E> {
    let alias = item.alias.as_ref().filter(|a| a.name.text.eq_ignore_ascii_case(name))?;
    match &item.value {
        SelectValue::Expr(expr) => match &expr.without_parens().kind {
            ExprKind::Literal(_) => None,
            ExprKind::Column(binding) if binding.name.last().text.eq_ignore_ascii_case(&alias.name.text) => None,
            _ => Some(expr),
        },
        SelectValue::Star(..) => None,
    }
}
