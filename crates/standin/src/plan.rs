//! A query made ready to run: names are slots, words are functions.

use std::rc::Rc;

use syntax::tree::{Direction, NullOrder, SetOperator};
use values::{DataType, Value};

use crate::aggregate::AggregateKind;
use crate::arithmetic::Arithmetic;
use crate::function::Function;
use crate::window::WindowKind;

/// The comparison operators.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Comparison {
    Equal,
    NotEqual,
    Less,
    LessOrEqual,
    Greater,
    GreaterOrEqual,
    /// NULL equals NULL.
    Same,
    NotSame,
}

/// An expression ready to be worked out.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum Code {
    Constant(Value),
    /// A column: how many blocks out, and which place in the row.
    Slot(usize, usize),
    /// Oracle's ROWNUM while rows pass WHERE.
    RowNumber,
    Not(Box<Code>),
    And(Vec<Code>),
    Or(Vec<Code>),
    Compare(Comparison, Box<(Code, Code)>),
    Arithmetic(Arithmetic, Box<(Code, Code)>),
    Negate(Box<Code>),
    Concat(Box<(Code, Code)>),
    IsNull(Box<Code>, bool),
    /// IS [NOT] TRUE (Some) or UNKNOWN (None).
    IsTruth(Box<Code>, Option<bool>, bool),
    InList(Box<Code>, Vec<Code>, bool),
    InQuery(Box<Code>, Rc<QueryPlan>, bool),
    Exists(Rc<QueryPlan>),
    Scalar(Rc<QueryPlan>),
    Quantified(Comparison, Box<Code>, Rc<QueryPlan>, bool),
    Like {
        operand: Box<Code>,
        pattern: Box<Code>,
        escape: Option<Box<Code>>,
        any_case: bool,
        negated: bool,
    },
    Case(Vec<(Code, Code)>, Option<Box<Code>>),
    Cast(Box<Code>, DataType, bool),
    Call(Function, Vec<Code>),
    Row(Vec<Code>),
}

/// A sort key.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Key {
    pub(crate) code: Code,
    pub(crate) direction: Option<Direction>,
    pub(crate) nulls: NullOrder,
}

/// A row limit.
#[derive(Debug, Clone, PartialEq, Default)]
pub(crate) struct Limit {
    pub(crate) count: Option<Code>,
    /// The count is a share: rounded up (true) or down.
    pub(crate) percent: Option<bool>,
    pub(crate) with_ties: bool,
    pub(crate) offset: Option<Code>,
}

/// A query.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct QueryPlan {
    /// Common table expressions, by the number their scans use.
    pub(crate) common: Vec<(usize, Rc<QueryPlan>)>,
    pub(crate) body: Body,
    /// Keys over the body's output rows (set operations); a block sorts itself.
    pub(crate) order: Vec<Key>,
    pub(crate) limit: Limit,
    pub(crate) labels: Vec<String>,
    /// It uses columns of a query around it. One that doesn't is run once a statement.
    pub(crate) correlated: bool,
}

/// What makes rows.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum Body {
    Select(Box<SelectPlan>),
    Set { operator: SetOperator, all: bool, left: Box<QueryPlan>, right: Box<QueryPlan> },
    Nested(Box<QueryPlan>),
    Values(Vec<Vec<Code>>),
}

/// An aggregate to be worked out for each group.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct AggregatePlan {
    pub(crate) kind: AggregateKind,
    pub(crate) argument: Option<Code>,
    pub(crate) distinct: bool,
    pub(crate) filter: Option<Code>,
}

/// Grouping.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct GroupPlan {
    /// How many columns a row has before it is grouped.
    pub(crate) width: usize,
    pub(crate) keys: Vec<Code>,
    pub(crate) aggregates: Vec<AggregatePlan>,
}

/// A window function.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct WindowPlan {
    pub(crate) kind: WindowKind,
    pub(crate) arguments: Vec<Code>,
    pub(crate) partition: Vec<Code>,
    pub(crate) order: Vec<Key>,
}

/// A block.
///
/// Rows grow as they pass: the columns of FROM (and ROWNUM), then group keys and aggregates, then the
/// windows' values. A grouped row begins with some row of its group.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct SelectPlan {
    pub(crate) from: From,
    pub(crate) filter: Option<Code>,
    /// Rows carry ROWNUM behind FROM's columns.
    pub(crate) numbers_rows: bool,
    /// The block uses ROWNUM: its rows come in the order of an inline view it reads. Oracle's top-n
    /// idiom stands on that; without ROWNUM or ORDER BY rows come in no order.
    pub(crate) keeps_order: bool,
    pub(crate) group: Option<GroupPlan>,
    pub(crate) having: Option<Code>,
    pub(crate) windows: Vec<WindowPlan>,
    pub(crate) qualify: Option<Code>,
    pub(crate) items: Vec<Code>,
    pub(crate) distinct: bool,
    pub(crate) order: Vec<Key>,
}

/// Where rows come from.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum From {
    /// Oracle's table of one row, X.
    Dual,
    /// One row without columns.
    Nothing,
    Table(String),
    Common(usize),
    Query(Rc<QueryPlan>),
    /// The right side sees the left row as one block out.
    Join {
        left: Box<From>,
        right: Box<From>,
        kind: Join,
        condition: Option<Code>,
        lateral: bool,
        left_width: usize,
        right_width: usize,
    },
}

/// The kinds of join.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Join {
    Inner,
    Left,
    Right,
    Full,
    Semi,
    Anti,
}
