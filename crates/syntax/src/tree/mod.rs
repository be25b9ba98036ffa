//! The tree of a statement, in the SQL standard's terms.
//!
//! The same types serve two stages: a tree [`Spelled`] as a dialect writes it, and a tree as meant
//! (the stage type for it lives in the crate `meaning`). The stages differ in their leaf types, so
//! code for one can't be handed the other. The tree holds no blanks and no comments; every node
//! has the span of tokens it was read from, or [`Span::SYNTHETIC`].

mod expression;
mod map;
mod name;
mod query;
mod statement;
mod visit;

use std::fmt::Debug;

pub use expression::*;
pub use map::*;
pub use name::{Ident, ObjectName, Quote};
pub use query::*;
pub use statement::*;
pub use visit::{Child, ChildMut};

/// What the leaves of a tree are at one stage of a query's way.
pub trait Stage: Sized + Clone + Debug + PartialEq {
    /// A reference to a column.
    type Column: Clone + Debug + PartialEq;
    /// `*` or `t.*`.
    type Star: Clone + Debug + PartialEq;
    /// What a call calls.
    type Function: Clone + Debug + PartialEq;
    /// A prefix or infix operator.
    type Operator: Clone + Debug + PartialEq;
    /// A constant.
    type Literal: Clone + Debug + PartialEq;
    /// The name of a type.
    type Type: Clone + Debug + PartialEq;
    /// What tells one table reference of a query from another.
    type Relation: Clone + Debug + PartialEq;
    /// Where NULLs sort.
    type Nulls: Clone + Debug + PartialEq;
    /// A row limit at the end of a query.
    type RowLimit: Clone + Debug + PartialEq;
    /// A row limit at the head of a select list.
    type Top: Clone + Debug + PartialEq;
}

/// The stage of a tree as a dialect spells it.
#[derive(Debug, Clone, PartialEq)]
pub struct Spelled;

impl Stage for Spelled {
    type Column = ObjectName;
    type Star = Option<ObjectName>;
    type Function = ObjectName;
    type Operator = Operator;
    type Literal = Literal;
    type Type = TypeName;
    type Relation = ();
    type Nulls = Option<NullOrder>;
    type RowLimit = Vec<LimitClause<Spelled>>;
    type Top = Option<Box<Top<Spelled>>>;
}

/// A range of token indexes: `first` up to but without `end`.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Span {
    /// Index of the first token.
    pub first: u32,
    /// Index after the last token.
    pub end: u32,
}

impl Span {
    /// The span of a node that was made, not read.
    pub const SYNTHETIC: Span = Span { first: u32::MAX, end: u32::MAX };

    /// Whether the node was read from a source.
    pub const fn is_read(self) -> bool {
        self.first != u32::MAX
    }

    /// From the first token of `self` to the last of `other`.
    #[must_use]
    pub const fn to(self, other: Span) -> Span {
        Span { first: self.first, end: other.end }
    }
}
