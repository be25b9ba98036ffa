//! From a tree of one stage to a tree of another.
//!
//! [`StageMap`] has a method for every leaf, which an implementation must give, and one for the
//! nodes whose order or scope matters, which it may override; the structure in between is walked
//! here once for all.

use super::{
    Argument, ArrayLiteral, Assignment, Between, Call, CallTail, Case, Cast, CommonTable, ConnectBy, Delete, Expr, ExprKind, Field, Frame,
    FrameBound, GroupBy, GroupItem, InSet, InTest, Insert, Interval, IsTest, IsWhat, Join, JoinCondition, Lambda, LateralView, LikeTest,
    Merge, MergeAction, MergeClause, Over, Pivot, Quantified, Query, QueryBody, Select, SelectItem, SelectQuantifier, SelectValue,
    SetOperation, SortKey, Span, Stage, StarModifier, StructLiteral, Subscript, TableKind, TableRef, Unpivot, Update, Values, Window, With,
};

/// Turns trees of stage `A` into trees of stage `B`.
pub trait StageMap<A: Stage, B: Stage> {
    /// A column reference; it may become anything.
    fn column(&mut self, column: A::Column, span: Span) -> ExprKind<B>;
    /// The target of an assignment.
    fn assigned(&mut self, column: A::Column, span: Span) -> B::Column;
    /// A star.
    fn star(&mut self, star: A::Star, span: Span) -> B::Star;
    /// A constant.
    fn literal(&mut self, literal: A::Literal, span: Span) -> ExprKind<B>;
    /// A call.
    fn call(&mut self, call: Call<A>, span: Span) -> ExprKind<B>;
    /// A table function.
    fn table_function(&mut self, call: Call<A>, span: Span) -> Call<B>;
    /// A prefix operator.
    fn unary(&mut self, operator: A::Operator, operand: Expr<A>, span: Span) -> ExprKind<B>;
    /// An infix operator.
    fn binary(&mut self, operator: A::Operator, left: Expr<A>, right: Expr<A>, span: Span) -> ExprKind<B>;
    /// The operator of a quantified comparison.
    fn operator(&mut self, operator: A::Operator, span: Span) -> B::Operator;
    /// A type.
    fn type_name(&mut self, type_name: A::Type) -> B::Type;
    /// A table reference's identity.
    fn relation(&mut self, relation: A::Relation) -> B::Relation;
    /// A sort key, with its NULL order.
    fn sort_key(&mut self, key: SortKey<A>) -> SortKey<B>;
    /// A row limit at the end.
    fn row_limit(&mut self, limit: A::RowLimit) -> B::RowLimit;
    /// A row limit at the head.
    fn top(&mut self, top: A::Top) -> B::Top;

    /// A parameter or variable.
    fn parameter(&mut self, text: compact_str::CompactString, _: Span) -> ExprKind<B> {
        ExprKind::Parameter(text)
    }
    /// An expression.
    fn expr(&mut self, expr: Expr<A>) -> Expr<B> {
        map_expr(self, expr)
    }
    /// A query.
    fn query(&mut self, query: Query<A>) -> Query<B> {
        map_query(self, query)
    }
    /// A select block.
    fn select(&mut self, select: Box<Select<A>>) -> Box<Select<B>> {
        map_select(self, select)
    }
    /// A common table expression.
    fn common_table(&mut self, table: CommonTable<A>) -> CommonTable<B> {
        map_common_table(self, table)
    }
    /// A table reference.
    fn table(&mut self, table: TableRef<A>) -> TableRef<B> {
        map_table(self, table)
    }
    /// What makes the rows of a query.
    fn body(&mut self, body: QueryBody<A>) -> QueryBody<B> {
        map_body(self, body)
    }
    /// A select list entry.
    fn select_item(&mut self, item: SelectItem<A>) -> SelectItem<B> {
        map_select_item(self, item)
    }
}

fn boxed<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, expr: Expr<A>) -> Box<Expr<B>> {
    Box::new(map.expr(expr))
}

fn boxed_query<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, query: Query<A>) -> Box<Query<B>> {
    Box::new(map.query(query))
}

fn all<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, exprs: Vec<Expr<A>>) -> Vec<Expr<B>> {
    exprs.into_iter().map(|e| map.expr(e)).collect()
}

fn optional<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, expr: Option<Expr<A>>) -> Option<Expr<B>> {
    expr.map(|e| map.expr(e))
}

fn keys<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, keys: Vec<SortKey<A>>) -> Vec<SortKey<B>> {
    keys.into_iter().map(|k| map.sort_key(k)).collect()
}

/// Maps an expression and what is in it.
pub fn map_expr<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, expr: Expr<A>) -> Expr<B> {
    let span = expr.span;
    // Most expressions are leaves: they need no room on the stack, nor a large frame.
    let kind = match expr.kind {
        ExprKind::Column(column) => map.column(column, span),
        ExprKind::Literal(literal) => map.literal(literal, span),
        kind => crate::with_stack(|| map_kind(map, kind, span)),
    };
    Expr { kind, span }
}

/// The kinds that are seen most; each of the others has a function, so that this one stays small.
fn map_kind<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, kind: ExprKind<A>, span: Span) -> ExprKind<B> {
    match kind {
        ExprKind::Column(column) => map.column(column, span),
        ExprKind::Literal(literal) => map.literal(literal, span),
        ExprKind::Nested(inner) => ExprKind::Nested(boxed(map, *inner)),
        ExprKind::Binary(binary) => map.binary(binary.operator, binary.left, binary.right, span),
        ExprKind::Logic(operator, operands) => ExprKind::Logic(operator, all(map, operands)),
        ExprKind::Call(call) => map.call(*call, span),
        ExprKind::Is(test) => map_is(map, *test),
        ExprKind::In(test) => map_in(map, *test),
        ExprKind::Like(test) => map_like(map, *test),
        ExprKind::Between(test) => map_between(map, *test),
        ExprKind::Case(case) => map_case(map, *case),
        ExprKind::Cast(cast) => map_cast(map, *cast),
        other => map_other(map, other, span),
    }
}

#[inline(never)]
fn map_other<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, kind: ExprKind<A>, span: Span) -> ExprKind<B> {
    match kind {
        ExprKind::Parameter(text) => map.parameter(text, span),
        ExprKind::Star(star) => ExprKind::Star(map.star(star, span)),
        ExprKind::Unary(unary) => map.unary(unary.operator, unary.operand, span),
        ExprKind::Not(operand) => ExprKind::Not(boxed(map, *operand)),
        ExprKind::Exists(query) => ExprKind::Exists(boxed_query(map, *query)),
        ExprKind::Quantified(test) => map_quantified(map, *test, span),
        ExprKind::Row(items) => ExprKind::Row(all(map, items)),
        ExprKind::Subquery(query) => ExprKind::Subquery(boxed_query(map, *query)),
        ExprKind::Array(array) => map_array(map, *array),
        ExprKind::Collect(word, query) => ExprKind::Collect(word, boxed_query(map, *query)),
        ExprKind::Struct(literal) => map_struct(map, *literal),
        ExprKind::Subscript(subscript) => map_subscript(map, *subscript),
        ExprKind::Field(field) => {
            let field = *field;
            ExprKind::Field(Box::new(Field { operand: map.expr(field.operand), name: field.name }))
        }
        ExprKind::Lambda(lambda) => {
            let lambda = *lambda;
            let body = map.expr(lambda.body);
            ExprKind::Lambda(Box::new(Lambda { with_keyword: lambda.with_keyword, parameters: lambda.parameters, body }))
        }
        ExprKind::Interval(interval) => map_interval(map, *interval),
        ExprKind::AtTimeZone(operand, zone) => {
            let operand = boxed(map, *operand);
            ExprKind::AtTimeZone(operand, zone.map(|z| boxed(map, *z)))
        }
        ExprKind::Collate(operand, name) => ExprKind::Collate(boxed(map, *operand), name),
        ExprKind::OuterMark(operand) => ExprKind::OuterMark(boxed(map, *operand)),
        ExprKind::Default => ExprKind::Default,
        seen_most => map_kind(map, seen_most, span),
    }
}

#[inline(never)]
fn map_between<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, test: Between<A>) -> ExprKind<B> {
    ExprKind::Between(Box::new(Between {
        operand: map.expr(test.operand),
        negated: test.negated,
        symmetric: test.symmetric,
        low: map.expr(test.low),
        high: map.expr(test.high),
    }))
}

#[inline(never)]
fn map_quantified<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, test: Quantified<A>, span: Span) -> ExprKind<B> {
    ExprKind::Quantified(Box::new(Quantified {
        left: map.expr(test.left),
        operator: map.operator(test.operator, span),
        quantifier: test.quantifier,
        set: map.expr(test.set),
    }))
}

#[inline(never)]
fn map_case<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, case: Case<A>) -> ExprKind<B> {
    ExprKind::Case(Box::new(Case {
        operand: optional(map, case.operand),
        branches: case.branches.into_iter().map(|(w, t)| (map.expr(w), map.expr(t))).collect(),
        otherwise: optional(map, case.otherwise),
    }))
}

#[inline(never)]
fn map_cast<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, cast: Cast<A>) -> ExprKind<B> {
    ExprKind::Cast(Box::new(Cast {
        form: cast.form,
        operand: map.expr(cast.operand),
        to: map.type_name(cast.to),
        extra: optional(map, cast.extra),
    }))
}

#[inline(never)]
fn map_array<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, array: ArrayLiteral<A>) -> ExprKind<B> {
    let element = array.element.map(|t| map.type_name(t));
    ExprKind::Array(Box::new(ArrayLiteral { form: array.form, element, items: all(map, array.items) }))
}

#[inline(never)]
fn map_is<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, test: IsTest<A>) -> ExprKind<B> {
    let operand = map.expr(test.operand);
    let what = match test.what {
        IsWhat::Null => IsWhat::Null,
        IsWhat::True => IsWhat::True,
        IsWhat::False => IsWhat::False,
        IsWhat::Unknown => IsWhat::Unknown,
        IsWhat::DistinctFrom(other) => IsWhat::DistinctFrom(map.expr(other)),
        IsWhat::Same(other) => IsWhat::Same(map.expr(other)),
        IsWhat::Words(words) => IsWhat::Words(words),
    };
    ExprKind::Is(Box::new(IsTest { operand, negated: test.negated, what, one_word: test.one_word }))
}

#[inline(never)]
fn map_in<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, test: InTest<A>) -> ExprKind<B> {
    let operand = map.expr(test.operand);
    let set = match test.set {
        InSet::List(items) => InSet::List(all(map, items)),
        InSet::Query(query) => InSet::Query(map.query(query)),
        InSet::Value(value) => InSet::Value(map.expr(value)),
    };
    ExprKind::In(Box::new(InTest { operand, negated: test.negated, set }))
}

#[inline(never)]
fn map_struct<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, literal: StructLiteral<A>) -> ExprKind<B> {
    // A name before a field is a name, not a column; it stays one for printing.
    let fields = literal.fields.into_iter().map(|(n, v)| (n.map(|n| map.expr(n)), map.expr(v))).collect();
    let declared = literal.declared.map(|t| map.type_name(t));
    ExprKind::Struct(Box::new(StructLiteral { form: literal.form, declared, fields }))
}

#[inline(never)]
fn map_subscript<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, subscript: Subscript<A>) -> ExprKind<B> {
    let operand = map.expr(subscript.operand);
    let low = optional(map, subscript.low);
    let slice = subscript.slice.map(|(high, step)| (optional(map, high), optional(map, step)));
    ExprKind::Subscript(Box::new(Subscript { operand, low, slice }))
}

#[inline(never)]
fn map_interval<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, interval: Interval<A>) -> ExprKind<B> {
    ExprKind::Interval(Box::new(Interval {
        value: map.expr(interval.value),
        unit: interval.unit,
        unit_span: interval.unit_span,
        more: interval.more.into_iter().map(|(v, u)| (map.expr(v), u)).collect(),
    }))
}

#[inline(never)]
fn map_like<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, test: LikeTest<A>) -> ExprKind<B> {
    ExprKind::Like(Box::new(LikeTest {
        operand: map.expr(test.operand),
        negated: test.negated,
        word: test.word,
        quantifier: test.quantifier,
        pattern: map.expr(test.pattern),
        escape: optional(map, test.escape),
    }))
}

/// Maps the parts of a call that are not its function.
pub fn map_arguments<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, arguments: Vec<Argument<A>>) -> Vec<Argument<B>> {
    arguments.into_iter().map(|a| Argument { name: a.name, value: map.expr(a.value) }).collect()
}

/// Maps what is in and behind the parentheses of a call.
pub fn map_tail<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, tail: CallTail<A>) -> CallTail<B> {
    CallTail {
        order_by: keys(map, tail.order_by),
        separator: optional(map, tail.separator),
        limit: optional(map, tail.limit),
        nulls: tail.nulls,
        nulls_inside: tail.nulls_inside,
        from_last: tail.from_last,
        clauses: tail.clauses,
        within_group: keys(map, tail.within_group),
        keep: tail.keep.map(|(last, order)| (last, keys(map, order))),
        filter: optional(map, tail.filter),
        over: tail.over.map(|over| match over {
            Over::Named(name) => Over::Named(name),
            Over::Window(window) => Over::Window(map_window(map, window)),
        }),
    }
}

/// Maps a window specification.
pub fn map_window<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, window: Window<A>) -> Window<B> {
    let bound = |map: &mut M, bound: FrameBound<A>| match bound {
        FrameBound::UnboundedPreceding => FrameBound::UnboundedPreceding,
        FrameBound::Preceding(n) => FrameBound::Preceding(map.expr(n)),
        FrameBound::CurrentRow => FrameBound::CurrentRow,
        FrameBound::Following(n) => FrameBound::Following(map.expr(n)),
        FrameBound::UnboundedFollowing => FrameBound::UnboundedFollowing,
    };
    Window {
        base: window.base,
        partition_by: all(map, window.partition_by),
        order_by: keys(map, window.order_by),
        frame: window.frame.map(|f| Frame {
            unit: f.unit,
            start: bound(map, f.start),
            end: f.end.map(|e| bound(map, e)),
            exclude: f.exclude,
        }),
        span: window.span,
    }
}

/// Maps a query: WITH first, then the body, then the clauses that see its columns.
pub fn map_query<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, query: Query<A>) -> Query<B> {
    let with = query.with.map(|w| map_with(map, w));
    let body = map.body(query.body);
    Query {
        with,
        body,
        order_by: keys(map, query.order_by),
        siblings: query.siblings,
        limit: map.row_limit(query.limit),
        locking: query.locking,
        options: query.options,
        span: query.span,
    }
}

/// Maps WITH.
pub fn map_with<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, with: With<A>) -> With<B> {
    With { recursive: with.recursive, tables: with.tables.into_iter().map(|t| map.common_table(t)).collect(), span: with.span }
}

/// Maps a common table expression.
pub fn map_common_table<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, table: CommonTable<A>) -> CommonTable<B> {
    CommonTable {
        name: table.name,
        columns: table.columns,
        materialized: table.materialized,
        query: map.query(table.query),
        search_cycle: table.search_cycle,
        span: table.span,
    }
}

/// Maps what makes the rows of a query.
pub fn map_body<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, body: QueryBody<A>) -> QueryBody<B> {
    match body {
        QueryBody::Select(select) => QueryBody::Select(map.select(select)),
        QueryBody::SetOperation(operation) => crate::with_stack(|| {
            let operation = *operation;
            QueryBody::SetOperation(Box::new(SetOperation {
                operator: operation.operator,
                minus: operation.minus,
                quantifier: operation.quantifier,
                by_name: operation.by_name,
                left: map.body(operation.left),
                right: map.body(operation.right),
                span: operation.span,
            }))
        }),
        QueryBody::Nested(query, span) => QueryBody::Nested(Box::new(map.query(*query)), span),
        QueryBody::Values(values) => QueryBody::Values(Values {
            rows: values.rows.into_iter().map(|row| all(map, row)).collect(),
            form: values.form,
            span: values.span,
        }),
        QueryBody::Table(name, span) => QueryBody::Table(name, span),
    }
}

/// Maps a select block: FROM first, since the rest sees its columns.
// It is large: parts are moved out of the box where it lies.
#[allow(clippy::boxed_local)]
pub fn map_select<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, select: Box<Select<A>>) -> Box<Select<B>> {
    let from = select.from.into_iter().map(|t| map.table(t)).collect();
    let lateral_views = select.lateral_views.into_iter().map(|v| map_lateral_view(map, v)).collect();
    let quantifier = select.quantifier.map(|q| match q {
        SelectQuantifier::Distinct => SelectQuantifier::Distinct,
        SelectQuantifier::All => SelectQuantifier::All,
        SelectQuantifier::DistinctOn(keys) => SelectQuantifier::DistinctOn(all(map, keys)),
    });
    let top = map.top(select.top);
    let items = select.items.into_iter().map(|i| map.select_item(i)).collect();
    Box::new(Select {
        from_first: select.from_first,
        quantifier,
        modifiers: select.modifiers,
        top,
        items,
        into: select.into,
        from,
        lateral_views,
        condition: optional(map, select.condition),
        connect_by: select.connect_by.map(|c| {
            Box::new(ConnectBy {
                start_with: optional(map, c.start_with),
                start_last: c.start_last,
                no_cycle: c.no_cycle,
                condition: map.expr(c.condition),
                span: c.span,
            })
        }),
        group_by: select.group_by.map(|g| GroupBy {
            quantifier: g.quantifier,
            all_columns: g.all_columns,
            items: g.items.into_iter().map(|i| map_group_item(map, i)).collect(),
            with_word: g.with_word,
            span: g.span,
        }),
        having: optional(map, select.having),
        windows: select.windows.into_iter().map(|(n, w)| (n, map_window(map, w))).collect(),
        qualify: optional(map, select.qualify),
        trailing: select.trailing,
        span: select.span,
    })
}

fn map_lateral_view<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, view: LateralView<A>) -> LateralView<B> {
    LateralView {
        outer: view.outer,
        call: map.expr(view.call),
        table: view.table,
        columns: view.columns,
        relation: map.relation(view.relation),
        span: view.span,
    }
}

fn map_group_item<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, item: GroupItem<A>) -> GroupItem<B> {
    match item {
        GroupItem::Expr(expr) => GroupItem::Expr(map.expr(expr)),
        GroupItem::Super(word, exprs, span) => GroupItem::Super(word, all(map, exprs), span),
        GroupItem::Sets(items, span) => GroupItem::Sets(items.into_iter().map(|i| map_group_item(map, i)).collect(), span),
        GroupItem::Empty(span) => GroupItem::Empty(span),
    }
}

/// Maps a select list entry.
pub fn map_select_item<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, item: SelectItem<A>) -> SelectItem<B> {
    let value = match item.value {
        SelectValue::Expr(expr) => SelectValue::Expr(map.expr(expr)),
        SelectValue::Star(star, modifiers) => {
            let modifiers = modifiers.into_iter().map(|m| map_star_modifier(map, m)).collect();
            SelectValue::Star(map.star(star, item.span), modifiers)
        }
    };
    SelectItem { value, alias: item.alias, span: item.span }
}

fn map_star_modifier<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, modifier: StarModifier<A>) -> StarModifier<B> {
    match modifier {
        StarModifier::Exclude(names) => StarModifier::Exclude(names),
        StarModifier::Replace(replaced) => StarModifier::Replace(replaced.into_iter().map(|(e, n)| (map.expr(e), n)).collect()),
        StarModifier::Rename(renamed) => StarModifier::Rename(renamed),
        StarModifier::Like(words, pattern) => StarModifier::Like(words, map.expr(pattern)),
    }
}

/// Maps a table reference.
pub fn map_table<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, table: TableRef<A>) -> TableRef<B> {
    let span = table.span;
    let kind = match table.kind {
        TableKind::Name(name) => TableKind::Name(name),
        TableKind::Derived { lateral, query } => TableKind::Derived { lateral, query: Box::new(map.query(*query)) },
        TableKind::Function { lateral, call, numbered } => {
            TableKind::Function { lateral, call: Box::new(map.table_function(*call, span)), numbered }
        }
        TableKind::Nested(inner) => TableKind::Nested(Box::new(map.table(*inner))),
        TableKind::Join(join) => crate::with_stack(|| {
            let join = *join;
            TableKind::Join(Box::new(Join {
                kind: join.kind,
                natural: join.natural,
                explicit_word: join.explicit_word,
                left: map.table(join.left),
                right: map.table(join.right),
                condition: match join.condition {
                    JoinCondition::None => JoinCondition::None,
                    JoinCondition::On(condition) => JoinCondition::On(map.expr(condition)),
                    JoinCondition::Using(names) => JoinCondition::Using(names),
                },
            }))
        }),
        TableKind::Pivot(pivot) => {
            let pivot = *pivot;
            TableKind::Pivot(Box::new(Pivot {
                input: map.table(pivot.input),
                aggregates: pivot.aggregates.into_iter().map(|(e, n)| (map.expr(e), n)).collect(),
                columns: all(map, pivot.columns),
                values: pivot.values.into_iter().map(|(e, n)| (map.expr(e), n)).collect(),
                group_by: all(map, pivot.group_by),
            }))
        }
        TableKind::Unpivot(unpivot) => {
            let unpivot = *unpivot;
            TableKind::Unpivot(Box::new(Unpivot {
                input: map.table(unpivot.input),
                include_nulls: unpivot.include_nulls,
                values: unpivot.values,
                name: unpivot.name,
                columns: unpivot.columns.into_iter().map(|(group, shown)| (all(map, group), optional(map, shown))).collect(),
            }))
        }
    };
    TableRef { kind, alias: table.alias, relation: map.relation(table.relation), hints: table.hints, qualifier: table.qualifier, span }
}

/// Maps INSERT.
pub fn map_insert<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, insert: Insert<A>) -> Insert<B> {
    Insert {
        with: insert.with.map(|w| map_with(map, w)),
        modifiers: insert.modifiers,
        table: insert.table,
        alias: insert.alias,
        columns: insert.columns,
        source: insert.source.map(|q| map.query(q)),
        trailing: insert.trailing,
    }
}

fn map_assignment<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, assignment: Assignment<A>) -> Assignment<B> {
    let span = assignment.span;
    Assignment {
        targets: assignment.targets.into_iter().map(|t| map.assigned(t, span)).collect(),
        as_row: assignment.as_row,
        value: map.expr(assignment.value),
        operator: assignment.operator,
        span,
    }
}

/// Maps UPDATE: its tables first.
pub fn map_update<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, update: Update<A>) -> Update<B> {
    let with = update.with.map(|w| map_with(map, w));
    let table = map.table(update.table);
    let from = update.from.into_iter().map(|t| map.table(t)).collect();
    Update {
        with,
        modifiers: update.modifiers,
        top: map.top(update.top),
        table,
        from,
        assignments: update.assignments.into_iter().map(|a| map_assignment(map, a)).collect(),
        condition: optional(map, update.condition),
        order_by: keys(map, update.order_by),
        limit: map.row_limit(update.limit),
        trailing: update.trailing,
    }
}

/// Maps DELETE: its tables first.
pub fn map_delete<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, delete: Delete<A>) -> Delete<B> {
    let with = delete.with.map(|w| map_with(map, w));
    let table = map.table(delete.table);
    let using = delete.using.into_iter().map(|t| map.table(t)).collect();
    Delete {
        with,
        modifiers: delete.modifiers,
        top: map.top(delete.top),
        targets: delete.targets,
        from_word: delete.from_word,
        table,
        using,
        condition: optional(map, delete.condition),
        order_by: keys(map, delete.order_by),
        limit: map.row_limit(delete.limit),
        trailing: delete.trailing,
    }
}

/// Maps MERGE: its tables first.
pub fn map_merge<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, merge: Merge<A>) -> Merge<B> {
    let with = merge.with.map(|w| map_with(map, w));
    let target = map.table(merge.target);
    let source = map.table(merge.source);
    Merge {
        with,
        top: map.top(merge.top),
        target,
        source,
        condition: map.expr(merge.condition),
        clauses: merge.clauses.into_iter().map(|c| map_merge_clause(map, c)).collect(),
        trailing: merge.trailing,
    }
}

fn map_merge_clause<A: Stage, B: Stage, M: StageMap<A, B> + ?Sized>(map: &mut M, clause: MergeClause<A>) -> MergeClause<B> {
    let condition = optional(map, clause.condition);
    let action = match clause.action {
        MergeAction::Update(assignments, condition, delete) => MergeAction::Update(
            assignments.into_iter().map(|a| map_assignment(map, a)).collect(),
            optional(map, condition),
            optional(map, delete),
        ),
        MergeAction::Delete => MergeAction::Delete,
        MergeAction::Insert(columns, values, condition) => MergeAction::Insert(columns, all(map, values), optional(map, condition)),
        MergeAction::Nothing => MergeAction::Nothing,
    };
    MergeClause { when: clause.when, condition, action, span: clause.span }
}
