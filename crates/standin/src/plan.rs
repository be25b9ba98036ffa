//! A query made ready to run: names are slots, words are functions, types are settled.

use crate::failure::Failure;
use syntax::tree::{Direction, FrameExclusion, FrameUnit, NullOrder, SetOperator};
use values::Value;

use crate::aggregate::AggregateKind;
use crate::arithmetic::Arithmetic;
use crate::behaviour::Collation;
use crate::convert::How;
use crate::function::Function;
use crate::table_function::TableFunction;
use crate::types::Type;
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

/// How two values are compared.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct Rule {
    pub(crate) collation: Collation,
    /// Values of any kinds have an order (SQLite).
    pub(crate) loose: bool,
    /// Rows and lists compare as wholes, a NULL in them having this place.
    pub(crate) nested_nulls: Option<NullOrder>,
}

/// An expression ready to be worked out.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum Code {
    Constant(Value),
    /// A column: how many blocks out, and which place in the row.
    Slot(usize, usize),
    /// Oracle's ROWNUM while rows pass WHERE.
    RowNumber,
    /// An aggregate of the block, by number; a slot once the block is grouped.
    Aggregate(usize),
    /// A window function of the block, by number; a slot once windows are placed.
    Window(usize),
    /// GROUPING of these group keys, as a number of bits.
    Grouping(Vec<Code>),
    Not(Box<Code>),
    And(Vec<Code>),
    Or(Vec<Code>),
    /// MySQL's XOR.
    Xor(Box<(Code, Code)>),
    Compare(Comparison, Box<(Code, Code)>, Rule),
    Arithmetic(Box<ArithmeticCode>),
    Negate(Box<Code>, Type),
    Concat(Box<(Code, Code)>, Box<(Type, Type)>),
    IsNull(Box<Code>, bool),
    /// IS [NOT] TRUE (Some) or UNKNOWN (None).
    IsTruth(Box<Code>, Option<bool>, bool),
    InList(Box<Code>, Vec<Code>, Rule, bool),
    /// IN a query whose rows pass the second plan's conversions already.
    InQuery(Box<Code>, Box<QueryPlan>, Rule, bool),
    Exists(Box<QueryPlan>),
    Scalar(Box<QueryPlan>),
    /// The rows of a query as one array.
    Collect(Box<QueryPlan>),
    Quantified(Comparison, Box<Code>, Box<QueryPlan>, Rule, bool),
    QuantifiedList(Comparison, Box<Code>, Vec<Code>, Rule, bool),
    /// The same over the elements of one array.
    QuantifiedArray(Comparison, Box<(Code, Code)>, Rule, bool),
    Like(Box<LikeCode>),
    Case(Vec<(Code, Code)>, Option<Box<Code>>),
    /// COALESCE: later ones are worked out only when needed.
    FirstPresent(Vec<Code>),
    Convert(Box<Conversion>),
    Call(Box<CallCode>),
    Row(Vec<Code>),
    Array(Vec<Code>),
    Struct(Vec<(String, Code)>),
    /// A field of a struct.
    Field(Box<Code>, String),
    /// An expression whose values are noted with its place.
    Watched(Place, Box<Code>),
}

/// Where in the text a part of the plan was written, for errors while it runs. Two parts are the
/// same wherever they stand.
#[derive(Debug, Clone, Copy, Default)]
pub(crate) struct Place(Option<(u32, u32)>);

impl PartialEq for Place {
    fn eq(&self, _: &Place) -> bool {
        true
    }
}

impl Place {
    /// These bytes of the text.
    pub(crate) fn of(bytes: Option<(u32, u32)>) -> Place {
        Place(bytes)
    }

    /// First byte and the byte after the last.
    pub(crate) fn bytes(self) -> Option<(u32, u32)> {
        self.0
    }

    /// A failure with its place, if it has none from within.
    pub(crate) fn mark(self, failure: Failure) -> Failure {
        match self.0 {
            Some((start, end)) => failure.or_at((start as usize, end as usize)),
            None => failure,
        }
    }
}

impl Code {
    /// The code itself, watched or not.
    pub(crate) fn bare(&self) -> &Code {
        match self {
            Code::Watched(_, inner) => inner.bare(),
            other => other,
        }
    }

    /// Notes where it was written, first come, first served.
    pub(crate) fn written_at(&mut self, start: u32, end: u32) {
        let place = match self {
            Code::Arithmetic(arithmetic) => &mut arithmetic.place,
            Code::Convert(conversion) => &mut conversion.place,
            Code::Call(call) => &mut call.place,
            Code::Watched(_, inner) => return inner.written_at(start, end),
            // What a comparison makes of its sides.
            Code::Compare(_, sides, _) => {
                sides.0.written_at(start, end);
                return sides.1.written_at(start, end);
            }
            _ => return,
        };
        place.0.get_or_insert((start, end));
    }
}

#[derive(Debug, Clone, PartialEq)]
pub(crate) struct ArithmeticCode {
    pub(crate) place: Place,
    pub(crate) operator: Arithmetic,
    pub(crate) left: Code,
    pub(crate) right: Code,
    pub(crate) types: (Type, Type),
    pub(crate) result: Type,
}

#[derive(Debug, Clone, PartialEq)]
pub(crate) struct LikeCode {
    pub(crate) operand: Code,
    pub(crate) pattern: Code,
    pub(crate) escape: Option<Code>,
    pub(crate) rule: Rule,
    /// Blanks at the end of the operand don't count.
    pub(crate) trims: bool,
    pub(crate) glob: bool,
    pub(crate) negated: bool,
}

#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Conversion {
    pub(crate) place: Place,
    pub(crate) code: Code,
    pub(crate) from: Type,
    pub(crate) to: Type,
    pub(crate) how: How,
    /// A failure gives NULL.
    pub(crate) safe: bool,
    /// What a failure gives instead.
    pub(crate) otherwise: Option<Code>,
}

#[derive(Debug, Clone, PartialEq)]
pub(crate) struct CallCode {
    pub(crate) place: Place,
    pub(crate) function: &'static Function,
    pub(crate) arguments: Vec<Code>,
    pub(crate) types: Vec<Type>,
    pub(crate) result: Type,
    pub(crate) collation: Collation,
}

/// An expression and its type.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Typed {
    pub(crate) code: Code,
    pub(crate) ty: Type,
}

impl Typed {
    pub(crate) fn new(code: Code, ty: Type) -> Typed {
        Typed { code, ty }
    }
}

/// A sort key.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Key {
    pub(crate) code: Code,
    pub(crate) direction: Option<Direction>,
    pub(crate) nulls: NullOrder,
    pub(crate) collation: Collation,
}

/// A key of grouping.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct GroupColumn {
    pub(crate) code: Code,
    pub(crate) collation: Collation,
}

/// A row limit.
#[derive(Debug, Clone, PartialEq, Default)]
pub(crate) struct Limit {
    pub(crate) place: Place,
    pub(crate) count: Option<Code>,
    /// The count is a share: rounded up (true) or down.
    pub(crate) percent: Option<bool>,
    pub(crate) with_ties: bool,
    pub(crate) offset: Option<Code>,
}

/// How the rows of a query become one text (SQL Server's FOR JSON and FOR XML).
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct TextOutput {
    pub(crate) form: TextForm,
    pub(crate) root: Option<String>,
    pub(crate) types: Vec<Type>,
    pub(crate) names: Vec<String>,
}

/// The forms of such a string.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum TextForm {
    Json {
        include_nulls: bool,
        /// Brackets around the rows.
        wrapped: bool,
    },
    /// PATH: an element for each row, unless its name is empty.
    XmlPath(String),
    /// RAW: attributes.
    XmlRaw(String),
}

/// A query.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct QueryPlan {
    /// Common table expressions, by the number their scans use.
    pub(crate) common: Vec<CommonPlan>,
    pub(crate) body: Body,
    /// Keys over the body's output rows (set operations); a block sorts itself.
    pub(crate) order: Vec<Key>,
    pub(crate) limit: Limit,
    pub(crate) labels: Vec<String>,
    pub(crate) types: Vec<Type>,
    /// It uses columns of a query around it. One that doesn't is run once a statement.
    pub(crate) correlated: bool,
    pub(crate) output: Option<TextOutput>,
    /// Columns that are converted at the end: place, from, to.
    pub(crate) conversions: Vec<(usize, Type, Type)>,
}

/// A common table expression.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct CommonPlan {
    pub(crate) number: usize,
    pub(crate) plan: QueryPlan,
}

/// What makes rows.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum Body {
    Select(Box<SelectPlan>),
    Set { place: Place, operator: SetOperator, all: bool, left: Box<QueryPlan>, right: Box<QueryPlan>, rules: Vec<Collation> },
    Nested(Box<QueryPlan>),
    Values(Vec<Vec<Code>>),
    Recursive(Box<RecursivePlan>),
}

/// A recursive common table expression.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct RecursivePlan {
    pub(crate) place: Place,
    pub(crate) number: usize,
    pub(crate) seed: QueryPlan,
    pub(crate) step: QueryPlan,
    /// UNION ALL.
    pub(crate) all: bool,
    pub(crate) rules: Vec<Collation>,
    /// The greatest number of steps.
    pub(crate) most_steps: Option<usize>,
    /// At that number it stops without an error (MariaDB).
    pub(crate) stops: bool,
    /// Each row is followed by itself: its ancestors must be known (Oracle; SEARCH and CYCLE).
    pub(crate) traced: Option<Trace>,
}

/// SEARCH and CYCLE.
#[derive(Debug, Clone, PartialEq, Default)]
pub(crate) struct Trace {
    /// DEPTH (true) or BREADTH FIRST, its keys, and it makes a column.
    pub(crate) search: Option<(bool, Vec<Key>)>,
    /// The columns whose values tell a cycle, and the marks.
    pub(crate) cycle: Option<(Vec<usize>, Value, Value)>,
    /// A cycle that isn't asked for is an error.
    pub(crate) fails: bool,
    /// PostgreSQL's columns of sort and path.
    pub(crate) makes_path: bool,
}

/// An aggregate to be worked out for each group.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct AggregatePlan {
    pub(crate) kind: AggregateKind,
    pub(crate) arguments: Vec<Code>,
    pub(crate) types: Vec<Type>,
    pub(crate) result: Type,
    pub(crate) distinct: bool,
    pub(crate) filter: Option<Code>,
    pub(crate) order: Vec<Key>,
    /// Between the parts of a list; what a percentile wants; what a hypothetical rank asks for.
    pub(crate) parameters: Vec<Code>,
    /// KEEP (DENSE_RANK FIRST or LAST (true) ORDER BY ...).
    pub(crate) keep: Option<(bool, Vec<Key>)>,
    pub(crate) limit: Option<Code>,
    pub(crate) ignore_nulls: bool,
    pub(crate) collation: Collation,
}

/// Grouping.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct GroupPlan {
    /// How many columns a row has before it is grouped.
    pub(crate) width: usize,
    pub(crate) keys: Vec<GroupColumn>,
    /// Which keys each grouping set has; one set of all keys for a plain GROUP BY.
    pub(crate) sets: Vec<Vec<usize>>,
    /// GROUP BY was written: no rows make no groups.
    pub(crate) written: bool,
    pub(crate) aggregates: Vec<AggregatePlan>,
    /// An aggregate of aggregates over all groups (Oracle).
    pub(crate) outer: Vec<AggregatePlan>,
}

/// A window's frame.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct FramePlan {
    pub(crate) unit: FrameUnit,
    pub(crate) start: Bound,
    pub(crate) end: Bound,
    pub(crate) exclude: Option<FrameExclusion>,
}

/// A bound of a frame.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum Bound {
    UnboundedPreceding,
    Preceding(Code),
    CurrentRow,
    Following(Code),
    UnboundedFollowing,
}

/// A window function.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct WindowPlan {
    pub(crate) kind: WindowKind,
    pub(crate) arguments: Vec<Code>,
    pub(crate) aggregate: Option<AggregatePlan>,
    pub(crate) partition: Vec<GroupColumn>,
    pub(crate) order: Vec<Key>,
    pub(crate) frame: Option<FramePlan>,
    pub(crate) ignore_nulls: bool,
    pub(crate) from_last: bool,
    pub(crate) result: Type,
}

/// START WITH and CONNECT BY.
///
/// Rows of the walk carry, behind FROM's columns: LEVEL, leaf, cycle, then the PRIOR values, the
/// ROOT values and the paths.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct HierarchyPlan {
    /// The block's.
    pub(crate) place: Place,
    pub(crate) width: usize,
    pub(crate) start: Option<Code>,
    pub(crate) condition: Code,
    /// `PRIOR a = b` of the condition: a code over the parent, one over the child.
    pub(crate) lookup: Option<(usize, Code)>,
    pub(crate) no_cycle: bool,
    pub(crate) siblings: Vec<Key>,
    pub(crate) priors: Vec<Code>,
    /// The PRIOR values of the condition: a row that has an ancestor's closes a loop.
    pub(crate) watched: Vec<usize>,
    pub(crate) roots: Vec<Code>,
    /// Value, its type, separator.
    pub(crate) paths: Vec<(Code, Type, Code)>,
}

/// Behind FROM's columns: LEVEL, leaf, cycle.
pub(crate) const HIERARCHY_COLUMNS: usize = 3;

/// A block.
///
/// Rows grow as they pass: the columns of FROM (and ROWNUM), then group keys and aggregates, then the
/// windows' values. A grouped row begins with some row of its group.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct SelectPlan {
    /// SELECT's own.
    pub(crate) place: Place,
    pub(crate) from: From,
    pub(crate) hierarchy: Option<HierarchyPlan>,
    pub(crate) filter: Option<Code>,
    /// Rows carry ROWNUM behind FROM's columns.
    pub(crate) numbers_rows: bool,
    /// The block uses ROWNUM: its rows come in the order of an inline view it reads. Oracle's top-n
    /// idiom rests on that; without ROWNUM or ORDER BY rows come in no order.
    pub(crate) keeps_order: bool,
    pub(crate) group: Option<GroupPlan>,
    pub(crate) having: Option<Code>,
    pub(crate) windows: Vec<WindowPlan>,
    pub(crate) qualify: Option<Code>,
    pub(crate) items: Vec<Code>,
    pub(crate) distinct: Distinct,
    pub(crate) collations: Vec<Collation>,
    pub(crate) order: Vec<Key>,
}

/// DISTINCT and its kin.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum Distinct {
    No,
    Yes,
    /// DISTINCT ON these.
    On(Vec<GroupColumn>),
}

/// Where rows come from. Every table fills the places of the block's row from `start` on.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum From {
    /// Oracle's table of one row, X.
    Dual,
    /// One row without columns.
    Nothing,
    Table(String),
    Common(usize),
    Query {
        plan: Box<QueryPlan>,
        /// It sees the tables to its left.
        lateral: bool,
    },
    /// A table function sees the tables to its left.
    Function {
        function: TableFunction,
        arguments: Vec<Typed>,
        /// A number for each row behind the columns, from this one.
        numbered: Option<i64>,
        width: usize,
    },
    Unpivot(Box<UnpivotPlan>),
    Join(Box<JoinPlan>),
    Sought(Box<SoughtPlan>),
}

/// The rows of a table that a row around the query asks for, found by an index.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct SoughtPlan {
    /// A table or common table.
    pub(crate) from: From,
    /// On the left what the row around has, on the right what the table has.
    pub(crate) equal: Vec<EqualSides>,
    /// Where the table's columns start.
    pub(crate) start: usize,
}

/// A join.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct JoinPlan {
    pub(crate) left: From,
    pub(crate) right: From,
    pub(crate) kind: Join,
    /// Equal sides: a code over the left, one over the right.
    pub(crate) equal: Vec<EqualSides>,
    /// What else must hold.
    pub(crate) condition: Option<Code>,
    pub(crate) lateral: bool,
    /// Where the left side's columns start, where the right's, and where they end.
    pub(crate) start: usize,
    pub(crate) middle: usize,
    pub(crate) end: usize,
    /// USING in a FULL or RIGHT join: the left column takes the right's value where it is NULL.
    pub(crate) merged: Vec<(usize, usize)>,
    pub(crate) place: Place,
    /// A partitioned outer join (Oracle): each partition of the left side is joined by itself.
    pub(crate) partition: Vec<Code>,
}

/// One equality of a join. The right side sees no row around the query.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct EqualSides {
    pub(crate) left: Code,
    pub(crate) right: Code,
    pub(crate) collation: Collation,
    /// NULL equals NULL.
    pub(crate) same: bool,
}

/// UNPIVOT.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct UnpivotPlan {
    pub(crate) input: QueryPlan,
    /// Columns that stay.
    pub(crate) kept: Vec<usize>,
    /// The name of each group of columns and the columns.
    pub(crate) groups: Vec<(Vec<Value>, Vec<usize>)>,
    pub(crate) include_nulls: bool,
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
