//! Query expressions, select blocks and table references.

use compact_str::CompactString;

use super::{Call, Expr, Ident, ObjectName, SetQuantifier, Span, Stage, Window};

/// A query expression: WITH, a body, ORDER BY and a row limit.
#[derive(Debug, Clone, PartialEq)]
pub struct Query<S: Stage> {
    /// WITH.
    pub with: Option<With<S>>,
    /// What makes the rows.
    pub body: QueryBody<S>,
    /// ORDER BY.
    pub order_by: Vec<SortKey<S>>,
    /// ORDER SIBLINGS BY.
    pub siblings: bool,
    /// LIMIT, OFFSET, FETCH.
    pub limit: S::RowLimit,
    /// FOR UPDATE and the like.
    pub locking: Option<Span>,
    /// OPTION (...), FOR XML, FOR JSON: verbatim.
    pub options: Option<Span>,
    /// Its tokens, without parentheses around it.
    pub span: Span,
}

impl<S: Stage<RowLimit: Default>> Query<S> {
    /// A body and nothing else.
    pub fn of(body: QueryBody<S>, span: Span) -> Self {
        Query { with: None, body, order_by: Vec::new(), siblings: false, limit: Default::default(), locking: None, options: None, span }
    }
}

/// WITH.
#[derive(Debug, Clone, PartialEq)]
pub struct With<S: Stage> {
    /// WITH RECURSIVE.
    pub recursive: bool,
    /// The common table expressions.
    pub tables: Vec<CommonTable<S>>,
    /// Its tokens.
    pub span: Span,
}

/// A common table expression.
#[derive(Debug, Clone, PartialEq)]
pub struct CommonTable<S: Stage> {
    /// Its name.
    pub name: Ident,
    /// Its column list.
    pub columns: Vec<Ident>,
    /// AS [NOT] MATERIALIZED.
    pub materialized: Option<bool>,
    /// The query.
    pub query: Query<S>,
    /// SEARCH and CYCLE clauses, verbatim.
    pub search_cycle: Option<Span>,
    /// Its tokens.
    pub span: Span,
}

/// What makes the rows of a query.
#[derive(Debug, Clone, PartialEq)]
pub enum QueryBody<S: Stage> {
    /// A select block.
    Select(Box<Select<S>>),
    /// UNION, EXCEPT, INTERSECT.
    SetOperation(Box<SetOperation<S>>),
    /// A query in parentheses; the span includes them.
    Nested(Box<Query<S>>, Span),
    /// VALUES (..), (..).
    Values(Values<S>),
    /// TABLE name.
    Table(ObjectName, Span),
}

/// How a row of VALUES is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum RowForm {
    /// `(a, b)`.
    Parens,
    /// `ROW(a, b)`.
    Word,
    /// `a`: a row of one column (Spark).
    Bare,
}

/// A table value constructor.
#[derive(Debug, Clone, PartialEq)]
pub struct Values<S: Stage> {
    /// The rows.
    pub rows: Vec<Vec<Expr<S>>>,
    /// How each row is written.
    pub form: RowForm,
    /// Its tokens.
    pub span: Span,
}

/// The set operators.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum SetOperator {
    /// UNION.
    Union,
    /// EXCEPT, or MINUS.
    Except,
    /// INTERSECT.
    Intersect,
}

/// A set operation.
#[derive(Debug, Clone, PartialEq)]
pub struct SetOperation<S: Stage> {
    /// Which.
    pub operator: SetOperator,
    /// Spelled MINUS.
    pub minus: bool,
    /// ALL or DISTINCT, if written.
    pub quantifier: Option<SetQuantifier>,
    /// BY NAME, CORRESPONDING.
    pub by_name: bool,
    /// The first operand.
    pub left: QueryBody<S>,
    /// The second.
    pub right: QueryBody<S>,
    /// Its tokens.
    pub span: Span,
}

/// DISTINCT, ALL, DISTINCT ON.
#[derive(Debug, Clone, PartialEq)]
pub enum SelectQuantifier<S: Stage> {
    /// DISTINCT.
    Distinct,
    /// ALL.
    All,
    /// DISTINCT ON (..).
    DistinctOn(Vec<Expr<S>>),
}

/// A select block.
#[derive(Debug, Clone, PartialEq)]
pub struct Select<S: Stage> {
    /// FROM was written before SELECT, or alone.
    pub from_first: bool,
    /// DISTINCT and its kin.
    pub quantifier: Option<SelectQuantifier<S>>,
    /// Words such as `SQL_NO_CACHE`, `AS STRUCT`: verbatim.
    pub modifiers: Option<Span>,
    /// TOP.
    pub top: S::Top,
    /// The select list; empty only for a FROM alone.
    pub items: Vec<SelectItem<S>>,
    /// INTO a table or variables: verbatim.
    pub into: Option<Span>,
    /// FROM, parted by commas.
    pub from: Vec<TableRef<S>>,
    /// LATERAL VIEW of Spark.
    pub lateral_views: Vec<LateralView<S>>,
    /// WHERE.
    pub condition: Option<Expr<S>>,
    /// START WITH and CONNECT BY.
    pub connect_by: Option<Box<ConnectBy<S>>>,
    /// GROUP BY.
    pub group_by: Option<GroupBy<S>>,
    /// HAVING.
    pub having: Option<Expr<S>>,
    /// WINDOW.
    pub windows: Vec<(Ident, Window<S>)>,
    /// QUALIFY.
    pub qualify: Option<Expr<S>>,
    /// USING SAMPLE, MODEL, DISTRIBUTE BY, SORT BY, CLUSTER BY: verbatim.
    pub trailing: Option<Span>,
    /// Its tokens.
    pub span: Span,
}

impl<S: Stage<Top: Default>> Select<S> {
    /// A block with nothing but a list and tables.
    pub fn of(items: Vec<SelectItem<S>>, from: Vec<TableRef<S>>) -> Self {
        Select {
            from_first: false,
            quantifier: None,
            modifiers: None,
            top: Default::default(),
            items,
            into: None,
            from,
            lateral_views: Vec::new(),
            condition: None,
            connect_by: None,
            group_by: None,
            having: None,
            windows: Vec::new(),
            qualify: None,
            trailing: None,
            span: Span::SYNTHETIC,
        }
    }
}

/// One entry of a select list.
#[derive(Debug, Clone, PartialEq)]
pub struct SelectItem<S: Stage> {
    /// The value.
    pub value: SelectValue<S>,
    /// The column's name, if written.
    pub alias: Option<ColumnAlias>,
    /// Its tokens.
    pub span: Span,
}

/// What a select list entry gives.
#[derive(Debug, Clone, PartialEq)]
pub enum SelectValue<S: Stage> {
    /// One column.
    Expr(Expr<S>),
    /// All columns, with modifiers.
    Star(S::Star, Vec<StarModifier<S>>),
}

/// A column alias and how it is attached.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ColumnAlias {
    /// The name.
    pub name: Ident,
    /// Its spelling.
    pub form: AliasForm,
}

/// How a column alias is attached.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum AliasForm {
    /// `expr AS name`.
    As,
    /// `expr name`.
    Bare,
    /// `name = expr` (SQL Server).
    Equals,
    /// `name: expr` (DuckDB).
    Prefix,
}

/// What changes the columns of a star.
#[derive(Debug, Clone, PartialEq)]
pub enum StarModifier<S: Stage> {
    /// EXCEPT or EXCLUDE (a, b).
    Exclude(Vec<Ident>),
    /// REPLACE (expr AS a).
    Replace(Vec<(Expr<S>, Ident)>),
    /// RENAME (a AS b).
    Rename(Vec<(Ident, Ident)>),
    /// [NOT] LIKE, ILIKE, SIMILAR TO 'pattern' on names: the words and the pattern.
    Like(CompactString, Expr<S>),
}

/// A sort key.
#[derive(Debug, Clone, PartialEq)]
pub struct SortKey<S: Stage> {
    /// What is sorted by.
    pub expr: Expr<S>,
    /// ASC or DESC, if written.
    pub direction: Option<Direction>,
    /// Where NULLs go.
    pub nulls: S::Nulls,
    /// Its tokens.
    pub span: Span,
}

impl<S: Stage> SortKey<S> {
    /// Whether the order is descending.
    pub fn is_descending(&self) -> bool {
        self.direction == Some(Direction::Descending)
    }
}

/// ASC or DESC.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Direction {
    /// ASC.
    Ascending,
    /// DESC.
    Descending,
}

/// NULLS FIRST or LAST.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum NullOrder {
    /// NULLS FIRST.
    First,
    /// NULLS LAST.
    Last,
}

/// TOP.
#[derive(Debug, Clone, PartialEq)]
pub struct Top<S: Stage> {
    /// How many.
    pub count: Expr<S>,
    /// The count is in parentheses.
    pub parenthesised: bool,
    /// PERCENT.
    pub percent: bool,
    /// WITH TIES.
    pub with_ties: bool,
    /// Its tokens.
    pub span: Span,
}

/// One clause of a row limit, as spelled.
#[derive(Debug, Clone, PartialEq)]
pub struct LimitClause<S: Stage> {
    /// Which clause.
    pub kind: LimitKind<S>,
    /// Its tokens.
    pub span: Span,
}

/// The clauses that limit rows.
#[derive(Debug, Clone, PartialEq)]
pub enum LimitKind<S: Stage> {
    /// LIMIT ALL.
    All,
    /// LIMIT n, LIMIT n% or LIMIT n PERCENT.
    Limit {
        /// How many.
        count: Expr<S>,
        /// A share, not a count.
        percent: Option<PercentForm>,
    },
    /// LIMIT offset, count.
    OffsetComma(Expr<S>, Expr<S>),
    /// OFFSET n, with ROW or ROWS.
    Offset {
        /// How many are skipped.
        count: Expr<S>,
        /// ROW or ROWS follows.
        rows_word: bool,
    },
    /// FETCH FIRST n [PERCENT] ROWS ONLY | WITH TIES.
    Fetch {
        /// How many; 1 if not written.
        count: Option<Expr<S>>,
        /// PERCENT.
        percent: bool,
        /// WITH TIES.
        with_ties: bool,
        /// NEXT was written for FIRST.
        next: bool,
    },
}

/// How a share is spelled.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum PercentForm {
    /// `%`.
    Sign,
    /// PERCENT.
    Word,
}

/// GROUP BY.
#[derive(Debug, Clone, PartialEq)]
pub struct GroupBy<S: Stage> {
    /// DISTINCT or ALL before the list.
    pub quantifier: Option<SetQuantifier>,
    /// GROUP BY ALL without a list.
    pub all_columns: bool,
    /// The elements.
    pub items: Vec<GroupItem<S>>,
    /// WITH ROLLUP or WITH CUBE behind the list.
    pub with_word: Option<GroupWord>,
    /// Its tokens.
    pub span: Span,
}

/// ROLLUP or CUBE.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum GroupWord {
    /// ROLLUP.
    Rollup,
    /// CUBE.
    Cube,
}

/// A grouping element.
#[derive(Debug, Clone, PartialEq)]
pub enum GroupItem<S: Stage> {
    /// A plain key; a row value is several.
    Expr(Expr<S>),
    /// ROLLUP (..) or CUBE (..).
    Super(GroupWord, Vec<Expr<S>>, Span),
    /// GROUPING SETS (..).
    Sets(Vec<GroupItem<S>>, Span),
    /// `()`.
    Empty(Span),
}

/// START WITH and CONNECT BY.
#[derive(Debug, Clone, PartialEq)]
pub struct ConnectBy<S: Stage> {
    /// START WITH.
    pub start_with: Option<Expr<S>>,
    /// START WITH was written after CONNECT BY.
    pub start_last: bool,
    /// NOCYCLE.
    pub no_cycle: bool,
    /// CONNECT BY.
    pub condition: Expr<S>,
    /// Its tokens.
    pub span: Span,
}

/// LATERAL VIEW [OUTER] f(x) t AS a, b.
#[derive(Debug, Clone, PartialEq)]
pub struct LateralView<S: Stage> {
    /// OUTER.
    pub outer: bool,
    /// The table function.
    pub call: Expr<S>,
    /// The table's name.
    pub table: Option<Ident>,
    /// The columns' names.
    pub columns: Vec<Ident>,
    /// What tells it from other table references.
    pub relation: S::Relation,
    /// Its tokens.
    pub span: Span,
}

/// A table reference.
#[derive(Debug, Clone, PartialEq)]
pub struct TableRef<S: Stage> {
    /// What it refers to.
    pub kind: TableKind<S>,
    /// Its alias.
    pub alias: Option<TableAlias>,
    /// What tells it from other table references.
    pub relation: S::Relation,
    /// Hints (`WITH (NOLOCK)`, `USE INDEX (..)`), verbatim.
    pub hints: Option<Span>,
    /// TABLESAMPLE, PARTITION (..), AS OF, FOR SYSTEM_TIME: verbatim.
    pub qualifier: Option<Span>,
    /// Its tokens.
    pub span: Span,
}

/// The kinds of table reference.
#[derive(Debug, Clone, PartialEq)]
pub enum TableKind<S: Stage> {
    /// A table, view or common table expression.
    Name(ObjectName),
    /// A query in parentheses.
    Derived {
        /// LATERAL.
        lateral: bool,
        /// The query.
        query: Box<Query<S>>,
    },
    /// A table function, UNNEST, TABLE(..).
    Function {
        /// LATERAL.
        lateral: bool,
        /// The call.
        call: Box<Call<S>>,
        /// WITH ORDINALITY, or WITH OFFSET [AS name].
        numbered: Option<Numbered>,
    },
    /// A table reference in parentheses.
    Nested(Box<TableRef<S>>),
    /// A join.
    Join(Box<Join<S>>),
    /// PIVOT.
    Pivot(Box<Pivot<S>>),
    /// UNPIVOT.
    Unpivot(Box<Unpivot<S>>),
}

/// How the rows of a table function are numbered.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Numbered {
    /// WITH ORDINALITY: from 1.
    Ordinality,
    /// WITH OFFSET: from 0.
    Offset(Option<Ident>),
}

/// A table alias.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct TableAlias {
    /// AS was written.
    pub as_word: bool,
    /// The name; none in `AS (a int, b text)`.
    pub name: Option<Ident>,
    /// Its column list.
    pub columns: Vec<Ident>,
    /// Types in the column list, verbatim with its parentheses.
    pub typed_columns: Option<Span>,
}

impl JoinKind {
    /// Whether it is one of the two APPLYs, whose right side sees the left.
    pub fn is_apply(self) -> bool {
        matches!(self, JoinKind::CrossApply | JoinKind::OuterApply)
    }
}

/// The kinds of join.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum JoinKind {
    /// JOIN, INNER JOIN.
    Inner,
    /// LEFT [OUTER] JOIN.
    Left,
    /// RIGHT [OUTER] JOIN.
    Right,
    /// FULL [OUTER] JOIN.
    Full,
    /// CROSS JOIN.
    Cross,
    /// LEFT SEMI JOIN.
    Semi,
    /// LEFT ANTI JOIN.
    Anti,
    /// ASOF JOIN.
    Asof,
    /// POSITIONAL JOIN.
    Positional,
    /// STRAIGHT_JOIN.
    Straight,
    /// CROSS APPLY.
    CrossApply,
    /// OUTER APPLY.
    OuterApply,
}

/// A join.
#[derive(Debug, Clone, PartialEq)]
pub struct Join<S: Stage> {
    /// Which.
    pub kind: JoinKind,
    /// NATURAL.
    pub natural: bool,
    /// The words before JOIN as written, for what `kind` doesn't tell: INNER, OUTER.
    pub explicit_word: bool,
    /// The left side.
    pub left: TableRef<S>,
    /// The right side.
    pub right: TableRef<S>,
    /// ON or USING.
    pub condition: JoinCondition<S>,
}

/// The condition of a join.
#[derive(Debug, Clone, PartialEq)]
pub enum JoinCondition<S: Stage> {
    /// None written.
    None,
    /// ON.
    On(Expr<S>),
    /// USING.
    Using(Vec<Ident>),
}

/// PIVOT.
#[derive(Debug, Clone, PartialEq)]
pub struct Pivot<S: Stage> {
    /// What is turned.
    pub input: TableRef<S>,
    /// PIVOT XML and the like are refused by the grammar; the aggregates.
    pub aggregates: Vec<(Expr<S>, Option<Ident>)>,
    /// FOR these columns.
    pub columns: Vec<Expr<S>>,
    /// IN these values, with names.
    pub values: Vec<(Expr<S>, Option<Ident>)>,
    /// GROUP BY inside (DuckDB).
    pub group_by: Vec<Expr<S>>,
}

/// UNPIVOT.
#[derive(Debug, Clone, PartialEq)]
pub struct Unpivot<S: Stage> {
    /// What is turned.
    pub input: TableRef<S>,
    /// INCLUDE NULLS (true) or EXCLUDE NULLS (false), if written.
    pub include_nulls: Option<bool>,
    /// The columns that hold values.
    pub values: Vec<Ident>,
    /// The column that holds the old names.
    pub name: Ident,
    /// The columns turned, in groups, with the name to show.
    pub columns: Vec<(Vec<Expr<S>>, Option<Expr<S>>)>,
}
