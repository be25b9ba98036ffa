//! The tree as meant: what is at its leaves.

use compact_str::CompactString;
use syntax::tree::{Expr, NullOrder, ObjectName, Operator, Span, Stage, TypeName};
use values::DataType;

use crate::book::PhraseId;

/// The stage of a tree after reading.
#[derive(Debug, Clone, PartialEq)]
pub struct Meant;

impl Stage for Meant {
    type Column = Binding;
    type Star = Star;
    type Function = Function;
    type Operator = Sign;
    type Literal = Constant;
    type Type = TypeWord;
    type Relation = RelationId;
    type Nulls = NullsPlace;
    type RowLimit = Option<Box<RowLimit>>;
    type Top = ();
}

/// Tells one table reference of a statement from another.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub struct RelationId(pub u32);

impl RelationId {
    /// No table reference: the node is none by itself (a join, parentheses).
    pub const NONE: RelationId = RelationId(u32::MAX);
}

/// A column reference and what it refers to.
#[derive(Debug, Clone, PartialEq)]
pub struct Binding {
    /// As written, or as a rewrite wants it written.
    pub name: ObjectName,
    /// What it refers to.
    pub target: BindingTarget,
    /// The column's type, as far as known.
    pub data_type: DataType,
    /// It can be NULL at this place. True where nothing is known.
    pub nullable: bool,
}

/// What a column reference refers to.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum BindingTarget {
    /// A column of a table reference.
    Column(RelationId),
    /// An entry of the same block's select list, by its alias.
    Output(u32),
    /// One of several table references: the catalog doesn't say which.
    Open,
    /// Oracle's ROWNUM.
    RowNumber,
    /// Any other pseudo column or special name; it is carried by its name.
    Special,
}

/// `*` or `t.*`.
#[derive(Debug, Clone, PartialEq)]
pub struct Star {
    /// The qualifier as written.
    pub qualifier: Option<ObjectName>,
    /// The table reference meant, if there is a qualifier.
    pub relation: Option<RelationId>,
    /// The columns it represents, if all are known.
    pub columns: Option<Box<[Binding]>>,
}

/// What a call calls.
#[derive(Debug, Clone, PartialEq)]
pub enum Function {
    /// A phrase, and the name it was written with.
    Phrase(PhraseId, ObjectName),
    /// Anything else, kept by its name.
    Unresolved(ObjectName),
}

/// An operator.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Sign {
    /// A phrase, and the operator it was written with, if it was.
    Phrase(PhraseId, Option<Operator>),
    /// Any other, kept as it is.
    Unresolved(Operator),
}

/// A constant, with its literal as written where it can be said again.
#[derive(Debug, Clone, PartialEq)]
pub enum Constant {
    /// NULL.
    Null,
    /// True or false.
    Boolean(bool),
    /// A number in digits.
    Number(CompactString),
    /// A string, decoded; and the source's literal.
    Text {
        /// What it says.
        value: CompactString,
        /// The source's literal, prefix and quotes included; none if made, or of several parts.
        written: Option<CompactString>,
    },
    /// Bytes.
    Bytes(Vec<u8>),
    /// A constant of another type: the type's word and the text, decoded.
    Typed(CompactString, CompactString),
}

impl Constant {
    /// A whole number.
    pub fn whole(number: i64) -> Constant {
        Constant::Number(number.to_string().into())
    }
}

/// A type and how it was written.
#[derive(Debug, Clone, PartialEq)]
pub struct TypeWord {
    /// The type meant, `Unknown` for a name that isn't in the book.
    pub data_type: DataType,
    /// As written.
    pub spelled: TypeName,
}

/// Where NULLs sort: always known after reading.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct NullsPlace {
    /// First or last.
    pub order: NullOrder,
    /// It was written, not the dialect's default.
    pub spelled: bool,
}

/// A row limit, whatever clause it was written in.
#[derive(Debug, Clone, PartialEq)]
pub struct RowLimit {
    /// How many rows are kept; all if none.
    pub amount: Option<Amount>,
    /// Rows with the sort key of the last one kept are kept too.
    pub with_ties: bool,
    /// How many rows are passed over first.
    pub offset: Option<Expr<Meant>>,
    /// Where it was read.
    pub span: Span,
}

impl RowLimit {
    /// The offset and the count of rows; a share of the rows is none.
    pub fn whole_counts(&self) -> impl Iterator<Item = &Expr<Meant>> {
        let rows = match &self.amount {
            Some(Amount::Rows(count)) => Some(count),
            _ => None,
        };
        self.offset.iter().chain(rows)
    }

    /// The same, to be changed.
    pub fn whole_counts_mut(&mut self) -> impl Iterator<Item = &mut Expr<Meant>> {
        let rows = match &mut self.amount {
            Some(Amount::Rows(count)) => Some(count),
            _ => None,
        };
        self.offset.as_mut().into_iter().chain(rows)
    }

    /// The expressions of the offset and the amount, as far as there are any.
    pub fn counts_mut(&mut self) -> impl Iterator<Item = &mut Expr<Meant>> {
        let amount = match &mut self.amount {
            Some(Amount::Rows(count) | Amount::Percent(count, _)) => Some(count),
            None => None,
        };
        self.offset.as_mut().into_iter().chain(amount)
    }
}

/// How many rows a limit keeps.
#[derive(Debug, Clone, PartialEq)]
pub enum Amount {
    /// A count.
    Rows(Expr<Meant>),
    /// A share of all rows, in percent.
    Percent(Expr<Meant>, Rounding),
}

/// How a share of rows becomes a count.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Rounding {
    /// Up: any fraction is a row (SQL Server, TOP; Oracle, row limiting clause).
    Up,
    /// Down (observed on DuckDB: 10% of 9 rows are none).
    Down,
}
