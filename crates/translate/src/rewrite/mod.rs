//! What the target can't say becomes what it can: one file a construct.
//!
//! A rewrite asks [`Capabilities`] what the target can do, never which dialect it is. Rewrites run from the
//! inside of a statement outwards, in the order of [`RULES`].

mod apply;
mod bare_column;
mod bare_star;
mod boolean_context;
mod change_limit;
mod common_columns;
mod decorrelate;
mod derived_names;
mod dual;
mod empty_text;
mod exists;
mod group_alias;
mod grouped_limit;
mod hidden_key;
mod hidden_table;
mod idle_keys;
mod implicit;
mod matches;
mod membership;
mod merge_view;
mod null_order;
mod ordered_common;
mod paging;
mod qualify;
mod quantified;
mod row_limit;
mod row_value;
mod rownum;
mod shared_column;
mod sort_alias;
mod value_rows;
mod walk;

use meaning::{Capabilities, Catalog, Meant, Note, RelationId};
use syntax::Dialect;
use syntax::tree::{Direction, Query, Statement, StatementKind};

pub(crate) use walk::{Place, for_each_query};

use crate::features::Features;
use crate::{Notes, NullOrderPolicy};

/// What a rewrite works with.
pub(crate) struct Context<'a> {
    pub(crate) from: &'a Dialect,
    pub(crate) to: &'a Dialect,
    /// What the source can say.
    pub(crate) source_facts: Capabilities,
    /// What the target can say.
    pub(crate) facts: Capabilities,
    pub(crate) null_order: NullOrderPolicy,
    pub(crate) catalog: &'a Catalog,
    pub(crate) notes: Notes,
    /// What the statement has.
    pub(crate) features: Features,
    next_relation: u32,
    /// How often each word was used for a name.
    names: Vec<(String, u32)>,
}

impl<'a> Context<'a> {
    pub(crate) fn new(from: &'a Dialect, to: &'a Dialect, source_facts: Capabilities, facts: Capabilities, catalog: &'a Catalog) -> Self {
        Context {
            catalog,
            from,
            to,
            source_facts,
            facts,
            null_order: NullOrderPolicy::default(),
            notes: Notes::default(),
            features: Features::default(),
            next_relation: 1 << 24,
            names: Vec::new(),
        }
    }

    pub(crate) fn note(&mut self, note: Note) {
        self.notes.add(note);
    }

    /// Whether a note of this code was made.
    pub(crate) fn has_note(&self, code: &str) -> bool {
        self.notes.has(code)
    }

    pub(crate) fn fresh_relation(&mut self) -> RelationId {
        self.next_relation += 1;
        RelationId(self.next_relation)
    }

    /// A name for a table of ours: `limited`, `limited_2`.
    pub(crate) fn fresh_name(&mut self, word: &str) -> String {
        let at = self.names.iter().position(|(w, _)| w == word).unwrap_or_else(|| {
            self.names.push((word.to_string(), 0));
            self.names.len() - 1
        });
        self.names[at].1 += 1;
        if self.names[at].1 == 1 { word.to_string() } else { format!("{word}_{}", self.names[at].1) }
    }

    /// What the source calls a column of VALUES.
    pub(crate) fn source_name_of_value(&self, at: usize) -> String {
        let (word, first) = self.source_facts.value_names;
        format!("{word}{}", at + first)
    }

    /// Whether the target calls the columns of VALUES by other names.
    pub(crate) fn values_are_named_otherwise(&self) -> bool {
        self.source_facts.value_names != self.facts.value_names
    }

    /// Whether every order of NULLs means the same in the target as it is, and no window needs an
    /// order for the grammar's sake.
    fn nulls_stay(&self) -> bool {
        let alike = |direction| self.source_facts.default_nulls(direction) == self.facts.default_nulls(direction);
        let ascending = alike(None);
        ascending && alike(Some(Direction::Descending)) && self.facts.nulls_spoken && self.facts.row_number_without_order
    }

    /// Whether rows of values are compared in another way, or not at all.
    fn rows_differ(&self) -> bool {
        let (source, target) = (&self.source_facts, &self.facts);
        !target.rows_compared || !target.rows_in_lists || source.rows_hold_null != target.rows_hold_null
    }

    /// Whether source and target are the same dialect, so that nothing needs rewriting.
    pub(crate) fn same_dialect(&self) -> bool {
        self.from.name == self.to.name
    }
}

/// A rewrite of one query.
type Rule = fn(&mut Query<Meant>, Place, &mut Context<'_>);

/// A rewrite, the reason `--steps` shows, and when a statement and the target give an occasion for it.
struct Listed {
    why: &'static str,
    rule: Rule,
    occasion: fn(&Features, &Context<'_>) -> bool,
}

/// The rewrites in their order.
const RULES: &[Listed] = &[
    Listed {
        why: "an ordered common table expression under ROWNUM becomes an inline view",
        rule: ordered_common::rewrite,
        occasion: |f, _| f.row_number && f.derived,
    },
    Listed { why: "ROWNUM becomes a row limit or a row number", rule: rownum::rewrite, occasion: |f, _| f.row_number },
    Listed { why: "a filter on a row number becomes an offset", rule: paging::rewrite, occasion: |f, _| f.row_number },
    Listed { why: "a row limit inside EXISTS has no effect", rule: exists::rewrite, occasion: |f, _| f.exists },
    Listed {
        why: "IN with the first row of a subquery is a comparison with that row",
        rule: membership::rewrite,
        occasion: |f, cx| f.subqueries && (f.row_limit || f.row_number) && !cx.facts.limit_in_in_subquery && !cx.facts.correlated_derived,
    },
    Listed {
        why: "rows written out with VALUES become a query",
        rule: value_rows::rewrite,
        occasion: |f, cx| f.value_rows || (f.inserts_rows && !cx.facts.insert_rows),
    },
    Listed {
        why: "the column list of a common table expression goes into its query",
        rule: common_columns::rewrite,
        occasion: |f, cx| f.derived && !cx.facts.common_table_columns,
    },
    Listed { why: "APPLY and LATERAL in the target's words", rule: apply::rewrite, occasion: |f, _| f.apply },
    Listed {
        why: "APPLY and LATERAL become joins of numbered rows",
        rule: decorrelate::rewrite,
        occasion: |f, cx| f.apply && !cx.facts.lateral && !cx.facts.apply,
    },
    Listed { why: "a SELECT without tables in the target's way", rule: dual::rewrite, occasion: |f, _| f.no_tables },
    Listed { why: "ANY and ALL in the target's words", rule: quantified::rewrite, occasion: |f, _| f.quantified },
    Listed { why: "rows are compared value by value", rule: row_value::rewrite, occasion: |f, cx| f.rows && cx.rows_differ() },
    Listed {
        why: "strings become numbers where the source takes them for such",
        rule: implicit::rewrite,
        occasion: |f, _| implicit::has_occasion(f),
    },
    Listed { why: "conditions and values are distinguished", rule: boolean_context::rewrite, occasion: boolean_context::has_occasion },
    Listed {
        why: "strings that end up empty are NULL",
        rule: empty_text::rewrite,
        occasion: |f, cx| f.empties && cx.source_facts.empty_is_null && !cx.facts.empty_is_null,
    },
    Listed {
        why: "strings that can end up empty are noted",
        rule: empty_text::note_lost,
        occasion: |_, cx| !cx.source_facts.empty_is_null && cx.facts.empty_is_null,
    },
    Listed {
        why: "aliases and places in GROUP BY and HAVING are written out",
        rule: group_alias::rewrite,
        occasion: |f, cx| f.groups && !(cx.facts.group_by_sees_aliases && cx.facts.having_sees_aliases && cx.facts.group_by_ordinals),
    },
    Listed {
        why: "columns shown are grouped by",
        rule: bare_column::rewrite,
        occasion: |f, cx| f.groups && cx.facts.bare_columns < cx.source_facts.bare_columns,
    },
    Listed {
        why: "a star beside other columns gets its table's name",
        rule: bare_star::rewrite,
        occasion: |f, cx| f.star_beside && cx.facts.bare_star != meaning::BareStar::Anywhere,
    },
    Listed {
        why: "columns that a join shows as one lose their qualifiers",
        rule: shared_column::rewrite,
        occasion: |f, cx| f.merged_columns && !cx.facts.shared_qualified,
    },
    Listed {
        why: "QUALIFY becomes a condition on a derived table",
        rule: qualify::rewrite,
        occasion: |f, cx| f.qualify && !cx.facts.qualify,
    },
    Listed {
        why: "names in the expressions of ORDER BY mean what they meant",
        rule: sort_alias::rewrite,
        occasion: |f, _| f.sort_expressions,
    },
    Listed {
        why: "a table whose name ORDER BY takes for a column gets another",
        rule: hidden_table::rewrite,
        occasion: |f, cx| f.order && cx.facts.outputs_hide_tables,
    },
    Listed {
        why: "aggregates that only sort are shown by a derived table",
        rule: hidden_key::rewrite,
        occasion: |f, cx| f.groups && f.order && cx.facts.having_hides_aggregates,
    },
    Listed {
        why: "groups get a derived table of their own below the limit",
        rule: grouped_limit::rewrite,
        occasion: |f, cx| f.groups && (f.row_limit || f.row_number) && cx.facts.loses_limit_over_groups,
    },
    Listed {
        why: "sort keys that say nothing are left out",
        rule: idle_keys::rewrite,
        occasion: |f, _| f.sort_expressions || f.several_keys || f.row_number,
    },
    Listed { why: "the row limit in the target's words", rule: row_limit::rewrite, occasion: |f, _| f.row_limit || f.row_number },
    Listed {
        why: "NULLs sort where they sorted in the source",
        rule: null_order::rewrite,
        occasion: |f, cx| (f.order || f.row_limit || f.row_number) && !cx.nulls_stay(),
    },
    Listed {
        why: "the columns of derived tables have names of their own",
        rule: derived_names::rewrite,
        occasion: |f, cx| f.may_have_derived() && (cx.facts.derived_columns_named || cx.facts.derived_columns_differ),
    },
];

/// Runs all rewrites; `after` is called with each rule that may have changed the statement.
pub(crate) fn rewrite(statement: &mut Statement<Meant>, cx: &mut Context<'_>, after: &mut dyn FnMut(&str, &Statement<Meant>)) {
    if cx.same_dialect() {
        return;
    }
    let features = cx.features;
    for listed in RULES {
        if !(listed.occasion)(&features, cx) {
            continue;
        }
        let in_exprs = cx.features.subqueries;
        for_each_query(statement, in_exprs, &mut |query, place| (listed.rule)(query, place, cx));
        after(listed.why, statement);
    }
    let condition = match &mut statement.kind {
        StatementKind::Update(update) => update.condition.as_mut(),
        StatementKind::Delete(delete) => delete.condition.as_mut(),
        _ => None,
    };
    if let Some(condition) = condition {
        quantified::in_change(condition, cx);
        row_value::in_change(condition, cx);
    }
    if implicit::has_occasion(&features) {
        implicit::in_change(statement, cx);
    }
    if boolean_context::has_occasion(&features, cx) {
        boolean_context::in_change(statement, cx);
    }
    change_limit::rewrite(statement, cx);
    after("a limited UPDATE or DELETE in the target's way", statement);
}
