//! Value expressions and search conditions.

use compact_str::CompactString;

use super::{Ident, ObjectName, Query, SortKey, Span, Spelled, Stage};
use crate::token::Symbol;

/// An expression and where it was read.
#[derive(Debug, Clone, PartialEq)]
pub struct Expr<S: Stage> {
    /// What it is.
    pub kind: ExprKind<S>,
    /// Its tokens.
    pub span: Span,
}

/// The kinds of expression.
#[derive(Debug, Clone, PartialEq)]
pub enum ExprKind<S: Stage> {
    /// A column, or a name that turns out to be something else (a pseudo column, a word function).
    Column(S::Column),
    /// A constant.
    Literal(S::Literal),
    /// A placeholder, host variable or session variable, with its sign.
    Parameter(CompactString),
    /// `*` as an argument.
    Star(S::Star),
    /// An expression in parentheses of its own.
    Nested(Box<Expr<S>>),
    /// A prefix operator.
    Unary(Box<Unary<S>>),
    /// An infix operator.
    Binary(Box<Binary<S>>),
    /// A chain of AND, or of OR.
    Logic(LogicOperator, Vec<Expr<S>>),
    /// NOT.
    Not(Box<Expr<S>>),
    /// IS [NOT] NULL, TRUE, DISTINCT FROM ...
    Is(Box<IsTest<S>>),
    /// BETWEEN.
    Between(Box<Between<S>>),
    /// IN.
    In(Box<InTest<S>>),
    /// LIKE and its kin.
    Like(Box<LikeTest<S>>),
    /// EXISTS (query).
    Exists(Box<Query<S>>),
    /// A comparison with ANY or ALL.
    Quantified(Box<Quantified<S>>),
    /// A row value: `(a, b)`.
    Row(Vec<Expr<S>>),
    /// CASE.
    Case(Box<Case<S>>),
    /// CAST in any spelling.
    Cast(Box<Cast<S>>),
    /// A function call.
    Call(Box<Call<S>>),
    /// A scalar subquery with its parentheses.
    Subquery(Box<Query<S>>),
    /// `ARRAY[..]`, `[..]`.
    Array(Box<ArrayLiteral<S>>),
    /// `ARRAY(query)`, `MULTISET(query)`.
    Collect(CollectWord, Box<Query<S>>),
    /// `STRUCT(..)`, `{'k': v}`, `MAP {k: v}`.
    Struct(Box<StructLiteral<S>>),
    /// `a[1]`, `a[1:2]`.
    Subscript(Box<Subscript<S>>),
    /// `(row).field`.
    Field(Box<Field<S>>),
    /// `x -> x + 1`, `lambda x: x + 1`.
    Lambda(Box<Lambda<S>>),
    /// INTERVAL.
    Interval(Box<Interval<S>>),
    /// AT TIME ZONE; AT LOCAL has no zone.
    AtTimeZone(Box<Expr<S>>, Option<Box<Expr<S>>>),
    /// COLLATE.
    Collate(Box<Expr<S>>, ObjectName),
    /// Oracle's `(+)` after a column.
    OuterMark(Box<Expr<S>>),
    /// DEFAULT in a list of values.
    Default,
}

impl<S: Stage> Expr<S> {
    /// An expression that was not in the source.
    pub const fn synthetic(kind: ExprKind<S>) -> Self {
        Expr { kind, span: Span::SYNTHETIC }
    }

    /// The expression, taken from its place; something else must be put there.
    #[must_use]
    pub fn take(&mut self) -> Self {
        std::mem::replace(self, Expr::synthetic(ExprKind::Default))
    }

    /// The expression without the parentheses around it.
    pub fn without_parens(&self) -> &Expr<S> {
        let mut inner = self;
        while let ExprKind::Nested(next) = &inner.kind {
            inner = next;
        }
        inner
    }

    /// The same, to be changed.
    pub fn without_parens_mut(&mut self) -> &mut Expr<S> {
        match self.kind {
            ExprKind::Nested(ref mut next) => next.without_parens_mut(),
            _ => self,
        }
    }
}

impl<S: Stage> Expr<S> {
    /// Whether it is a condition by its form; of operators that depends on which.
    pub fn is_predicate(&self) -> bool {
        matches!(
            self.kind,
            ExprKind::Logic(..)
                | ExprKind::Not(_)
                | ExprKind::Is(_)
                | ExprKind::Between(_)
                | ExprKind::In(_)
                | ExprKind::Like(_)
                | ExprKind::Exists(_)
                | ExprKind::Quantified(_)
        )
    }
}

/// An operator as spelled: a symbol, or one of the few that are words.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Operator {
    /// Spelled with signs.
    Symbol(Symbol),
    /// DIV of MySQL and Spark.
    Div,
    /// MOD of MySQL as an infix.
    Mod,
    /// XOR of MySQL.
    Xor,
    /// OVERLAPS.
    Overlaps,
    /// PRIOR of a hierarchical query.
    Prior,
    /// CONNECT_BY_ROOT.
    ConnectByRoot,
    /// BINARY of MySQL.
    Binary,
    /// MULTISET UNION and the like are refused by name; this is MEMBER OF.
    MemberOf,
}

/// AND or OR.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum LogicOperator {
    /// True when every operand is.
    And,
    /// True when any operand is.
    Or,
}

/// A prefix operator and its operand.
#[derive(Debug, Clone, PartialEq)]
pub struct Unary<S: Stage> {
    /// The operator.
    pub operator: S::Operator,
    /// What it applies to.
    pub operand: Expr<S>,
}

/// An infix operator and its operands.
#[derive(Debug, Clone, PartialEq)]
pub struct Binary<S: Stage> {
    /// The operator.
    pub operator: S::Operator,
    /// Before it.
    pub left: Expr<S>,
    /// After it.
    pub right: Expr<S>,
}

/// What IS asks for.
#[derive(Debug, Clone, PartialEq)]
pub enum IsWhat<S: Stage> {
    /// NULL.
    Null,
    /// TRUE.
    True,
    /// FALSE.
    False,
    /// UNKNOWN.
    Unknown,
    /// DISTINCT FROM; also SQLite's IS between two values, with the negation turned.
    DistinctFrom(Expr<S>),
    /// SQLite's `a IS b`.
    Same(Expr<S>),
    /// Any other test by its words: JSON, OF type, NORMALIZED, A SET, EMPTY, NAN.
    Words(CompactString),
}

/// IS [NOT].
#[derive(Debug, Clone, PartialEq)]
pub struct IsTest<S: Stage> {
    /// What is tested.
    pub operand: Expr<S>,
    /// IS NOT.
    pub negated: bool,
    /// For what.
    pub what: IsWhat<S>,
    /// ISNULL or NOTNULL as one word.
    pub one_word: bool,
}

/// [NOT] BETWEEN.
#[derive(Debug, Clone, PartialEq)]
pub struct Between<S: Stage> {
    /// What is tested.
    pub operand: Expr<S>,
    /// NOT BETWEEN.
    pub negated: bool,
    /// BETWEEN SYMMETRIC.
    pub symmetric: bool,
    /// Lower end, inclusive.
    pub low: Expr<S>,
    /// Upper end, inclusive.
    pub high: Expr<S>,
}

/// [NOT] IN.
#[derive(Debug, Clone, PartialEq)]
pub struct InTest<S: Stage> {
    /// What is looked for.
    pub operand: Expr<S>,
    /// NOT IN.
    pub negated: bool,
    /// Where.
    pub set: InSet<S>,
}

/// The right side of IN.
#[derive(Debug, Clone, PartialEq)]
pub enum InSet<S: Stage> {
    /// `(a, b, c)`.
    List(Vec<Expr<S>>),
    /// `(SELECT ...)`.
    Query(Query<S>),
    /// `UNNEST(array)`, or a bare array or parameter.
    Value(Expr<S>),
}

/// The pattern predicates.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum LikeWord {
    /// LIKE.
    Like,
    /// ILIKE.
    Ilike,
    /// SIMILAR TO.
    SimilarTo,
    /// GLOB.
    Glob,
    /// RLIKE.
    Rlike,
    /// REGEXP.
    Regexp,
    /// MATCH of SQLite.
    Match,
}

/// [NOT] LIKE and its kin.
#[derive(Debug, Clone, PartialEq)]
pub struct LikeTest<S: Stage> {
    /// What is matched.
    pub operand: Expr<S>,
    /// NOT LIKE.
    pub negated: bool,
    /// Which predicate.
    pub word: LikeWord,
    /// LIKE ANY or LIKE ALL, the pattern then being a row or a subquery.
    pub quantifier: Option<QuantifierWord>,
    /// The pattern.
    pub pattern: Expr<S>,
    /// ESCAPE.
    pub escape: Option<Expr<S>>,
}

/// ANY, SOME or ALL.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum QuantifierWord {
    /// ANY.
    Any,
    /// SOME, the same as ANY.
    Some,
    /// ALL.
    All,
}

/// `left operator ANY (set)`.
#[derive(Debug, Clone, PartialEq)]
pub struct Quantified<S: Stage> {
    /// What is compared.
    pub left: Expr<S>,
    /// How.
    pub operator: S::Operator,
    /// With any or all.
    pub quantifier: QuantifierWord,
    /// A subquery, a list as a row, or an array.
    pub set: Expr<S>,
}

/// CASE.
#[derive(Debug, Clone, PartialEq)]
pub struct Case<S: Stage> {
    /// The operand of a simple CASE.
    pub operand: Option<Expr<S>>,
    /// WHEN ... THEN ....
    pub branches: Vec<(Expr<S>, Expr<S>)>,
    /// ELSE.
    pub otherwise: Option<Expr<S>>,
}

/// How a cast is spelled.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum CastForm {
    /// CAST(x AS t).
    Cast,
    /// TRY_CAST(x AS t).
    TryCast,
    /// SAFE_CAST(x AS t).
    SafeCast,
    /// x::t.
    DoubleColon,
    /// CONVERT(t, x [, style]) of SQL Server.
    Convert,
    /// TRY_CONVERT(t, x [, style]).
    TryConvert,
    /// CONVERT(x, t) of MySQL.
    ConvertTo,
    /// CONVERT(x USING charset) of MySQL.
    ConvertUsing,
    /// CAST(x AS t DEFAULT d ON CONVERSION ERROR) of Oracle.
    OnError,
    /// TO_NUMBER(x DEFAULT d ON CONVERSION ERROR) of Oracle.
    ToNumberOnError,
    /// VALIDATE_CONVERSION(x AS t) of Oracle: 1 where the cast doesn't fail, 0 where it does.
    Validate,
    /// PARSE(x AS t [USING culture]) of SQL Server.
    Parse,
    /// TRY_PARSE(x AS t [USING culture]).
    TryParse,
}

impl CastForm {
    /// It gives NULL where it fails.
    pub fn is_safe(self) -> bool {
        matches!(self, CastForm::TryCast | CastForm::SafeCast | CastForm::TryConvert | CastForm::TryParse)
    }
}

/// A cast.
#[derive(Debug, Clone, PartialEq)]
pub struct Cast<S: Stage> {
    /// Its spelling.
    pub form: CastForm,
    /// What is converted.
    pub operand: Expr<S>,
    /// To what.
    pub to: S::Type,
    /// FORMAT mask, what is given ON CONVERSION ERROR, or CONVERT's style.
    pub extra: Option<Expr<S>>,
}

impl<S: Stage> Cast<S> {
    /// `CAST(operand AS to)`.
    pub fn plain(operand: Expr<S>, to: S::Type) -> Self {
        Cast { form: CastForm::Cast, operand, to, extra: None }
    }
}

impl Expr<Spelled> {
    /// `name(arguments)`, not read from a text.
    pub fn call(name: &str, arguments: Vec<Self>) -> Self {
        Expr::synthetic(ExprKind::Call(Box::new(Call::plain(ObjectName::single(Ident::synthetic(name)), arguments))))
    }

    /// `CAST(operand AS to)`, not read from a text; `to` is a type without length.
    pub fn cast(operand: Self, to: &str) -> Self {
        Expr::synthetic(ExprKind::Cast(Box::new(Cast::plain(operand, TypeName::synthetic(to, Vec::new())))))
    }
}

/// DISTINCT or ALL.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum SetQuantifier {
    /// Duplicates removed.
    Distinct,
    /// Duplicates kept, said aloud.
    All,
}

/// How the arguments of a call are parted.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum CallForm {
    /// `f(a, b)`.
    Plain,
    /// A word without parentheses: CURRENT_DATE, SYSDATE.
    Word,
    /// EXTRACT(field FROM x): arguments field, x.
    Extract,
    /// SUBSTRING(x FROM a FOR b): arguments x, a [, b].
    SubstringFrom,
    /// POSITION(a IN x): arguments a, x.
    PositionIn,
    /// TRIM([LEADING|TRAILING|BOTH] [c] FROM x): arguments [c,] x; the first word if any.
    Trim(Option<TrimWhere>),
    /// OVERLAY(x PLACING y FROM a FOR b).
    Overlay,
    /// `x.f(a)` of SQL Server: arguments x, a.
    Method,
    /// `f(a USING charset)`: arguments a, the character set's name.
    Using,
    /// NEXT VALUE FOR sequence: argument the sequence's name.
    NextValue,
}

/// Which ends TRIM works on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum TrimWhere {
    /// The front.
    Leading,
    /// The end.
    Trailing,
    /// Both.
    Both,
}

/// One argument.
#[derive(Debug, Clone, PartialEq)]
pub struct Argument<S: Stage> {
    /// `name =>` or `name :=`.
    pub name: Option<Ident>,
    /// The value.
    pub value: Expr<S>,
}

/// A function call.
#[derive(Debug, Clone, PartialEq)]
pub struct Call<S: Stage> {
    /// What is called.
    pub function: S::Function,
    /// How it is spelled.
    pub form: CallForm,
    /// DISTINCT or ALL before the arguments.
    pub quantifier: Option<SetQuantifier>,
    /// The arguments.
    pub arguments: Vec<Argument<S>>,
    /// What is inside the parentheses after the arguments, and behind them.
    pub tail: Option<Box<CallTail<S>>>,
}

impl<S: Stage> Call<S> {
    /// A function on arguments without names, and nothing else.
    pub fn plain(function: S::Function, arguments: Vec<Expr<S>>) -> Self {
        let arguments = arguments.into_iter().map(|value| Argument { name: None, value }).collect();
        Call { function, form: CallForm::Plain, quantifier: None, arguments, tail: None }
    }

    /// Whether OVER makes it a window function.
    pub fn is_window(&self) -> bool {
        self.tail.as_ref().is_some_and(|tail| tail.over.is_some())
    }
}

/// IGNORE or RESPECT NULLS.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum NullTreatment {
    /// IGNORE NULLS.
    Ignore,
    /// RESPECT NULLS.
    Respect,
}

/// The rarer parts of a call.
#[derive(Debug, Clone, PartialEq)]
pub struct CallTail<S: Stage> {
    /// ORDER BY among the arguments.
    pub order_by: Vec<SortKey<S>>,
    /// SEPARATOR of GROUP_CONCAT.
    pub separator: Option<Expr<S>>,
    /// LIMIT among the arguments (BigQuery).
    pub limit: Option<Expr<S>>,
    /// IGNORE or RESPECT NULLS.
    pub nulls: Option<NullTreatment>,
    /// It is inside the parentheses.
    pub nulls_inside: bool,
    /// FROM FIRST or FROM LAST of NTH_VALUE: true for LAST.
    pub from_last: Option<bool>,
    /// Other words inside the parentheses, verbatim: ON OVERFLOW, RETURNING, ON ERROR.
    pub clauses: Option<Span>,
    /// WITHIN GROUP (ORDER BY ...).
    pub within_group: Vec<SortKey<S>>,
    /// KEEP (DENSE_RANK FIRST|LAST ORDER BY ...): true for LAST.
    pub keep: Option<(bool, Vec<SortKey<S>>)>,
    /// FILTER (WHERE ...).
    pub filter: Option<Expr<S>>,
    /// OVER.
    pub over: Option<Over<S>>,
}

impl<S: Stage> Default for CallTail<S> {
    fn default() -> Self {
        CallTail {
            order_by: Vec::new(),
            separator: None,
            limit: None,
            nulls: None,
            nulls_inside: false,
            from_last: None,
            clauses: None,
            within_group: Vec::new(),
            keep: None,
            filter: None,
            over: None,
        }
    }
}

/// What follows OVER.
#[derive(Debug, Clone, PartialEq)]
pub enum Over<S: Stage> {
    /// A window of the WINDOW clause.
    Named(Ident),
    /// A window in parentheses.
    Window(Window<S>),
}

/// A window specification.
#[derive(Debug, Clone, PartialEq)]
pub struct Window<S: Stage> {
    /// A named window it builds on.
    pub base: Option<Ident>,
    /// PARTITION BY.
    pub partition_by: Vec<Expr<S>>,
    /// ORDER BY.
    pub order_by: Vec<SortKey<S>>,
    /// The frame.
    pub frame: Option<Frame<S>>,
    /// Its tokens with the parentheses.
    pub span: Span,
}

/// ROWS, RANGE or GROUPS.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum FrameUnit {
    /// Counted in rows.
    Rows,
    /// Counted in values of the sort key.
    Range,
    /// Counted in groups of equal rows.
    Groups,
}

/// A window frame.
#[derive(Debug, Clone, PartialEq)]
pub struct Frame<S: Stage> {
    /// What bounds count.
    pub unit: FrameUnit,
    /// Where it starts.
    pub start: FrameBound<S>,
    /// Where it ends, if BETWEEN was written.
    pub end: Option<FrameBound<S>>,
    /// EXCLUDE.
    pub exclude: Option<FrameExclusion>,
}

/// A bound of a frame.
#[derive(Debug, Clone, PartialEq)]
pub enum FrameBound<S: Stage> {
    /// UNBOUNDED PRECEDING.
    UnboundedPreceding,
    /// n PRECEDING.
    Preceding(Expr<S>),
    /// CURRENT ROW.
    CurrentRow,
    /// n FOLLOWING.
    Following(Expr<S>),
    /// UNBOUNDED FOLLOWING.
    UnboundedFollowing,
}

/// EXCLUDE of a frame.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum FrameExclusion {
    /// CURRENT ROW.
    CurrentRow,
    /// GROUP.
    Group,
    /// TIES.
    Ties,
    /// NO OTHERS.
    NoOthers,
}

/// A constant as spelled.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub enum Literal {
    /// NULL.
    Null,
    /// TRUE or FALSE.
    Boolean(bool),
    /// A number, as written.
    Number(CompactString),
    /// A text, with prefix and quotes.
    Text(CompactString),
    /// Adjacent literals that are one text.
    Texts(Vec<CompactString>),
    /// A type word before a text: DATE '..', TIMESTAMP '..'.
    Typed(Box<TypedLiteral>),
}

/// DATE '..', TIMESTAMP '..', TIME '..', or another type word before a text.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct TypedLiteral {
    /// The word, in capitals.
    pub word: CompactString,
    /// The text, with prefix and quotes.
    pub text: CompactString,
}

impl Literal {
    /// `word text`.
    pub fn typed(word: impl Into<CompactString>, text: impl Into<CompactString>) -> Literal {
        Literal::Typed(Box::new(TypedLiteral { word: word.into(), text: text.into() }))
    }
}

/// A type name as spelled.
#[derive(Debug, Clone, PartialEq)]
pub struct TypeName {
    /// The words: `DOUBLE PRECISION`, `public.cargo_tags`, in the letters written.
    pub words: CompactString,
    /// Length, precision and scale, or the members of ENUM and SET, as written.
    pub arguments: Vec<CompactString>,
    /// Words after the parentheses: WITH TIME ZONE, UNSIGNED, CHARACTER SET x.
    pub suffix: CompactString,
    /// `[]` how many times.
    pub dimensions: u8,
    /// Element, key or field types: ARRAY<t>, MAP<k, v>, STRUCT<name t>.
    pub elements: Vec<(Option<Ident>, TypeName)>,
    /// Its tokens.
    pub span: Span,
}

impl TypeName {
    /// A type name that was not in the source.
    pub fn synthetic(words: &str, arguments: Vec<CompactString>) -> TypeName {
        TypeName {
            words: words.into(),
            arguments,
            suffix: CompactString::default(),
            dimensions: 0,
            elements: Vec::new(),
            span: Span::SYNTHETIC,
        }
    }

    /// Its words, with its arguments in parentheses.
    pub fn sql(&self) -> String {
        if self.arguments.is_empty() { self.words.to_string() } else { format!("{}({})", self.words, self.arguments.join(", ")) }
    }
}

/// How an array literal is spelled.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum ArrayForm {
    /// ARRAY[..].
    Word,
    /// [..].
    Bare,
    /// ARRAY<type>[..].
    Typed,
}

/// An array literal.
#[derive(Debug, Clone, PartialEq)]
pub struct ArrayLiteral<S: Stage> {
    /// Its spelling.
    pub form: ArrayForm,
    /// The element type, if written.
    pub element: Option<S::Type>,
    /// The elements.
    pub items: Vec<Expr<S>>,
}

/// What gathers the rows of a query.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum CollectWord {
    /// ARRAY(query).
    Array,
    /// MULTISET(query).
    Multiset,
    /// CURSOR(query).
    Cursor,
}

/// How a struct or map literal is spelled.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum StructForm {
    /// STRUCT(a AS x, b AS y).
    Call,
    /// {'k': v}.
    Braces,
    /// MAP {k: v}.
    Map,
}

/// A struct or map literal.
#[derive(Debug, Clone, PartialEq)]
pub struct StructLiteral<S: Stage> {
    /// Its spelling.
    pub form: StructForm,
    /// STRUCT<a INT64, ...>.
    pub declared: Option<S::Type>,
    /// Keys (names or expressions) and values.
    pub fields: Vec<(Option<Expr<S>>, Expr<S>)>,
}

/// An element or slice.
#[derive(Debug, Clone, PartialEq)]
pub struct Subscript<S: Stage> {
    /// Of what.
    pub operand: Expr<S>,
    /// The index, or where the slice starts.
    pub low: Option<Expr<S>>,
    /// It is a slice; where it ends, and its step.
    pub slice: Option<(Option<Expr<S>>, Option<Expr<S>>)>,
}

/// A field of a row or struct value.
#[derive(Debug, Clone, PartialEq)]
pub struct Field<S: Stage> {
    /// Of what.
    pub operand: Expr<S>,
    /// Its name.
    pub name: Ident,
}

/// A lambda.
#[derive(Debug, Clone, PartialEq)]
pub struct Lambda<S: Stage> {
    /// Written with the keyword LAMBDA and a colon, not with an arrow.
    pub with_keyword: bool,
    /// Parameters.
    pub parameters: Vec<Ident>,
    /// Body.
    pub body: Expr<S>,
}

/// An interval.
#[derive(Debug, Clone, PartialEq)]
pub struct Interval<S: Stage> {
    /// How many, or a text holding amounts and units.
    pub value: Expr<S>,
    /// The unit and, for DAY TO SECOND, the last unit, with their precisions, as written.
    pub unit: Option<CompactString>,
    /// The tokens of the unit.
    pub unit_span: Span,
    /// Further amounts: `INTERVAL 1 DAY 2 HOURS` (Spark).
    pub more: Vec<(Expr<S>, CompactString)>,
}

impl Expr<Spelled> {
    /// Takes away the places in the source: those of a text that is gone, or of a second use.
    pub fn forget_places(&mut self) {
        self.span = Span::SYNTHETIC;
        match &mut self.kind {
            ExprKind::Column(name) | ExprKind::Collate(_, name) => name.forget_places(),
            ExprKind::Call(call) => call.function.forget_places(),
            ExprKind::Cast(cast) => cast.to.span = Span::SYNTHETIC,
            _ => {}
        }
        self.exprs_mut(&mut |child| child.forget_places());
    }

    /// A column by its unqualified name.
    pub fn as_name(&self) -> Option<&Ident> {
        match &self.kind {
            ExprKind::Column(name) => name.as_single(),
            _ => None,
        }
    }
}
