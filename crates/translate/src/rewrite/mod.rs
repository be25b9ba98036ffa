//! What the target can't say becomes what it can: one file a construct.
//!
//! A rewrite asks [`Facts`] what the target can do, never which dialect it is. Rewrites run from the
//! inside of a statement outwards, in the order of [`RULES`].

mod apply;
mod change_limit;
mod dual;
mod exists;
mod null_order;
mod paging;
mod row_limit;
mod rownum;
mod shape;
mod walk;

use meaning::{Facts, Meant, Note, RelationId};
use syntax::Dialect;
use syntax::tree::{Query, Statement};

pub(crate) use walk::{Place, for_each_query};

use crate::NullOrderPolicy;

/// What a rewrite works with.
pub(crate) struct Context<'a> {
    pub(crate) from: &'a Dialect,
    pub(crate) to: &'a Dialect,
    /// What the target can say.
    pub(crate) facts: Facts,
    pub(crate) null_order: NullOrderPolicy,
    pub(crate) notes: Vec<Note>,
    /// The statement has a ROWNUM somewhere.
    pub(crate) has_rownum: bool,
    next_relation: u32,
    next_name: u32,
}

impl<'a> Context<'a> {
    pub(crate) fn new(from: &'a Dialect, to: &'a Dialect, null_order: NullOrderPolicy) -> Self {
        Context { from, to, facts: Facts::of(to), null_order, notes: Vec::new(), has_rownum: false, next_relation: 1 << 24, next_name: 0 }
    }

    pub(crate) fn note(&mut self, note: Note) {
        if !self.notes.contains(&note) {
            self.notes.push(note);
        }
    }

    pub(crate) fn fresh_relation(&mut self) -> RelationId {
        self.next_relation += 1;
        RelationId(self.next_relation)
    }

    /// A name for a table of ours: `limited`, `limited_2`.
    pub(crate) fn fresh_name(&mut self, word: &str) -> String {
        self.next_name += 1;
        if self.next_name == 1 { word.to_string() } else { format!("{word}_{}", self.next_name) }
    }

    /// Whether source and target are the same dialect, so that nothing needs rewriting.
    pub(crate) fn same_dialect(&self) -> bool {
        self.from.name == self.to.name
    }
}

/// A rewrite of one query.
type Rule = fn(&mut Query<Meant>, Place, &mut Context<'_>);

/// The rewrites in their order, each with the reason `--steps` shows.
const RULES: &[(&str, &str, Rule)] = &[
    ("rownum", "ROWNUM becomes a row limit or a row number", rownum::rewrite),
    ("paging", "a filter on a row number becomes an offset", paging::rewrite),
    ("exists", "a row limit inside EXISTS has no effect", exists::rewrite),
    ("apply", "APPLY and LATERAL in the target's words", apply::rewrite),
    ("dual", "a SELECT without tables in the target's way", dual::rewrite),
    ("row limit", "the row limit in the target's words", row_limit::rewrite),
    ("NULL order", "NULLs sort where they sorted in the source", null_order::rewrite),
];

/// Runs all rewrites; `after` is told of each rule that may have changed the statement.
pub(crate) fn rewrite(statement: &mut Statement<Meant>, cx: &mut Context<'_>, after: &mut dyn FnMut(&str, &Statement<Meant>)) {
    if cx.same_dialect() {
        return;
    }
    for (_, why, rule) in RULES {
        for_each_query(statement, &mut |query, place| rule(query, place, cx));
        after(why, statement);
    }
    change_limit::rewrite(statement, cx);
    after("a limited UPDATE or DELETE in the target's way", statement);
}

/// The constant number an expression is.
pub(crate) fn constant_number(expr: &syntax::tree::Expr<Meant>) -> Option<f64> {
    shape::as_number(expr)
}
