//! Looking at and building pieces of queries.

use compact_str::CompactString;
use meaning::{
    Amount, Binding, BindingTarget, Capabilities, Constant, Function, Meant, NullsPlace, PhraseKind, RelationId, RowLimit, Sign, Star,
    infer, phrase, phrase_named,
};
use syntax::Symbol;
use syntax::tree::{
    AliasForm, Argument, Binary, Call, CallForm, CallTail, Case, Child, ColumnAlias, Expr, ExprKind, Ident, IsTest, IsWhat, LogicOperator,
    NullOrder, ObjectName, Operator, Over, Query, QueryBody, Select, SelectItem, SelectQuantifier, SelectValue, SortKey, Span, TableAlias,
    TableKind, TableRef, Unary, Window,
};
use values::DataType;

type E = Expr<Meant>;

/// The operands of an AND, or the expression alone.
pub(crate) fn conjuncts(condition: E) -> Vec<E> {
    match condition.kind {
        ExprKind::Logic(LogicOperator::And, operands) => operands,
        // `(a AND b)` as a whole: its parentheses fall away with the list.
        ExprKind::Nested(inner) if matches!(inner.kind, ExprKind::Logic(LogicOperator::And, _)) => conjuncts(*inner),
        kind => vec![Expr { kind, span: condition.span }],
    }
}

/// AND of the operands; none if there are none.
pub(crate) fn all_of(operands: Vec<E>) -> Option<E> {
    chain_of(LogicOperator::And, operands)
}

/// OR of the operands; none if there are none.
pub(crate) fn any_of(operands: Vec<E>) -> Option<E> {
    chain_of(LogicOperator::Or, operands)
}

fn chain_of(word: LogicOperator, mut operands: Vec<E>) -> Option<E> {
    match operands.len() {
        0 => None,
        1 => operands.pop(),
        _ => {
            let reads = operands.iter().all(|o| o.span.is_read());
            let span = match (operands.first(), operands.last()) {
                (Some(first), Some(last)) if reads => first.span.to(last.span),
                _ => Span::SYNTHETIC,
            };
            Some(Expr { kind: ExprKind::Logic(word, operands), span })
        }
    }
}

/// Whether the expression has an aggregate of its own block, or a function that could be one.
pub(crate) fn may_aggregate(expr: &E) -> bool {
    expr.any(&mut |e| match &e.kind {
        ExprKind::Call(call) => {
            !call.is_window()
                && match &call.function {
                    Function::Phrase(id, _) => id.phrase().kind == PhraseKind::Aggregate,
                    Function::Unresolved(_) => true,
                }
        }
        _ => false,
    })
}

fn items_any(select: &Select<Meant>, test: &dyn Fn(&E) -> bool) -> bool {
    select.items.iter().any(|i| matches!(&i.value, SelectValue::Expr(e) if test(e)))
}

/// Whether rows go through the block one by one: no grouping, no DISTINCT, no windows.
pub(crate) fn is_row_by_row(select: &Select<Meant>) -> bool {
    is_row_by_row_but(select, &|_| false)
}

/// The same without a look at those entries of the list that `skipped` names.
pub(crate) fn is_row_by_row_but(select: &Select<Meant>, skipped: &dyn Fn(&E) -> bool) -> bool {
    select.group_by.is_none()
        && select.having.is_none()
        && select.qualify.is_none()
        && select.connect_by.is_none()
        && select.windows.is_empty()
        && matches!(select.quantifier, None | Some(SelectQuantifier::All))
        && !items_any(select, &|e| !skipped(e) && (may_aggregate(e) || e.has_window()))
}

/// Whether the block gives one row a group.
pub(crate) fn is_grouped(select: &Select<Meant>) -> bool {
    select.group_by.is_some() || select.having.is_some() || items_any(select, &may_aggregate)
}

/// Whether a query uses columns of a query around it.
pub(crate) fn is_correlated(query: &Query<Meant>) -> bool {
    let mut uses = Uses::default();
    uses.query(query);
    uses.columns.iter().any(|id| !uses.tables.contains(id))
}

/// The table references of other queries whose columns an expression uses; `None` if the catalog
/// doesn't say of which some column is.
pub(crate) fn columns_outside(expr: &E) -> Option<Vec<RelationId>> {
    outside_of([Child::Expr(expr)])
}

/// The same of the tables of FROM together, with all that is within them.
pub(crate) fn columns_outside_tables(tables: &[TableRef<Meant>]) -> Option<Vec<RelationId>> {
    outside_of(tables.iter().map(Child::Table))
}

fn outside_of<'a>(parts: impl IntoIterator<Item = Child<'a, Meant>>) -> Option<Vec<RelationId>> {
    let mut uses = Uses::default();
    parts.into_iter().for_each(|part| uses.child(part));
    let Uses { tables, columns, open } = uses;
    (!open).then(|| columns.into_iter().filter(|id| !tables.contains(id)).collect())
}

/// The tables of a query and those its columns are of, inner queries included.
#[derive(Default)]
struct Uses {
    tables: Vec<RelationId>,
    columns: Vec<RelationId>,
    /// A column may be of one or another.
    open: bool,
}

impl Uses {
    fn query(&mut self, query: &Query<Meant>) {
        for common in query.with.iter().flat_map(|w| &w.tables) {
            self.query(&common.query);
        }
        self.body(&query.body);
        query.order_by.iter().for_each(|k| self.child(Child::Expr(&k.expr)));
    }

    fn body(&mut self, body: &QueryBody<Meant>) {
        match body {
            QueryBody::Select(select) => select.children(&mut |child| self.child(child)),
            QueryBody::SetOperation(operation) => syntax::with_stack(|| {
                self.body(&operation.left);
                self.body(&operation.right);
            }),
            QueryBody::Nested(query, _) => self.query(query),
            QueryBody::Values(values) => values.rows.iter().flatten().for_each(|e| self.child(Child::Expr(e))),
            QueryBody::Table(..) => {}
        }
    }

    fn child(&mut self, child: Child<'_, Meant>) {
        syntax::with_stack(|| match child {
            Child::Expr(expr) => {
                if let ExprKind::Column(Binding { target: BindingTarget::Column(id), .. }) = &expr.kind {
                    self.columns.push(*id);
                }
                self.open |= matches!(&expr.kind, ExprKind::Column(Binding { target: BindingTarget::Open, .. }));
                expr.children(&mut |inner| self.child(inner));
            }
            Child::Query(query) => self.query(query),
            Child::Table(table) => {
                self.tables.push(table.relation);
                table.children(&mut |inner| self.child(inner));
            }
        });
    }
}

/// The list is one bare star.
pub(crate) fn is_star_only(select: &Select<Meant>) -> bool {
    matches!(select.items.as_slice(), [one] if matches!(&one.value, SelectValue::Star(_, m) if m.is_empty()))
}

/// Stars become the columns they stand for, where all are known.
pub(crate) fn expand_stars(query: &mut Query<Meant>) {
    query.body.selects_mut(&mut |select| expand_stars_of(select));
}

/// The same in one block.
pub(crate) fn expand_stars_of(select: &mut Select<Meant>) {
    if !select.items.iter().any(|i| matches!(&i.value, SelectValue::Star(s, m) if s.columns.is_some() && m.is_empty())) {
        return;
    }
    for item in std::mem::take(&mut select.items) {
        match &item.value {
            SelectValue::Star(Star { columns: Some(columns), .. }, modifiers) if modifiers.is_empty() => {
                let entry = |binding: &Binding| SelectItem {
                    value: SelectValue::Expr(Expr::synthetic(ExprKind::Column(binding.clone()))),
                    alias: None,
                    span: Span::SYNTHETIC,
                };
                select.items.extend(columns.iter().map(entry));
            }
            _ => select.items.push(item),
        }
    }
}

/// The name a select list entry gives its column.
pub(crate) fn output_name(item: &SelectItem<Meant>) -> Option<Ident> {
    if let Some(alias) = &item.alias {
        return Some(alias.name.clone());
    }
    match &item.value {
        SelectValue::Expr(e) => match &e.without_parens().kind {
            ExprKind::Column(binding) if binding.target != BindingTarget::RowNumber => Some(binding.name.last().clone()),
            _ => None,
        },
        SelectValue::Star(..) => None,
    }
}

/// The name without its place in the source: for a second use of it.
pub(crate) fn again(ident: &Ident) -> Ident {
    Ident { text: ident.text.clone(), quote: ident.quote, token: u32::MAX }
}

/// The expression without places in the source: for a second use of it.
pub(crate) fn copy_of(expr: &E) -> E {
    let mut copy = crate::copies::of_meant(expr);
    forget_places(&mut copy);
    copy
}

fn forget_places(expr: &mut E) {
    expr.span = Span::SYNTHETIC;
    match &mut expr.kind {
        ExprKind::Column(binding) => binding.name.forget_places(),
        ExprKind::Call(call) => match &mut call.function {
            Function::Phrase(_, name) | Function::Unresolved(name) => name.forget_places(),
        },
        ExprKind::Cast(cast) => cast.to.spelled.span = Span::SYNTHETIC,
        _ => {}
    }
    expr.exprs_mut(&mut |child| forget_places(child));
}

/// Whether two expressions say the same, wherever they stand.
pub(crate) fn same(a: &E, b: &E) -> bool {
    let (a, b) = (a.without_parens(), b.without_parens());
    match (&a.kind, &b.kind) {
        (ExprKind::Column(x), ExprKind::Column(y)) => {
            let fold = |b: &Binding| b.name.last().text.to_ascii_lowercase();
            x.target == y.target && (matches!(x.target, BindingTarget::Output(_)) || fold(x) == fold(y))
        }
        (x, y) if std::mem::discriminant(x) != std::mem::discriminant(y) => false,
        _ => without_places(a) == without_places(b),
    }
}

fn without_places(expr: &E) -> E {
    let mut bare = expr.clone();
    forget_places(&mut bare);
    bare
}

// --- building -------------------------------------------------------------------------------------

/// A phrase on its arguments.
pub(crate) fn call(phrase: &str, arguments: Vec<E>) -> E {
    call_with(phrase, arguments, None)
}

/// The same with what follows its parentheses.
pub(crate) fn call_with(phrase: &str, arguments: Vec<E>, tail: Option<CallTail<Meant>>) -> E {
    let id = phrase_named(phrase);
    Expr::synthetic(ExprKind::Call(Box::new(Call {
        function: Function::Phrase(id, ObjectName::single(Ident::synthetic(""))),
        form: CallForm::Plain,
        quantifier: None,
        arguments: arguments.into_iter().map(|value| Argument { name: None, value }).collect(),
        tail: tail.map(Box::new),
    })))
}

/// `operand IS NULL`, or IS NOT NULL.
pub(crate) fn null_test(operand: E, negated: bool) -> E {
    Expr::synthetic(ExprKind::Is(Box::new(IsTest { operand, negated, what: IsWhat::Null, one_word: false })))
}

/// Whether NULL is written there, in parentheses or not.
pub(crate) fn is_null_literal(expr: &E) -> bool {
    matches!(expr.without_parens().kind, ExprKind::Literal(Constant::Null))
}

/// A whole number; its sign, if it has one, is an operator as where people write it.
pub(crate) fn number(value: i64) -> E {
    if value < 0 && value > i64::MIN {
        let operator = Sign::Phrase(phrase_named(phrase::NUMBER_NEGATE), Some(Operator::Symbol(Symbol::Minus)));
        return Expr::synthetic(ExprKind::Unary(Box::new(Unary { operator, operand: number(-value) })));
    }
    Expr::synthetic(ExprKind::Literal(Constant::whole(value)))
}

/// The constant whole number an expression is, parentheses and signs aside.
pub(crate) fn as_number(expr: &E) -> Option<f64> {
    match &expr.without_parens().kind {
        ExprKind::Literal(Constant::Number(text)) => text.parse().ok(),
        ExprKind::Unary(unary) => match unary.operator {
            Sign::Phrase(id, _) if id.phrase().id == phrase::NUMBER_NEGATE => as_number(&unary.operand).map(|n| -n),
            _ => None,
        },
        ExprKind::Binary(binary) => {
            let Sign::Phrase(id, _) = binary.operator else { return None };
            if !id.phrase().id.starts_with("number.") {
                return None;
            }
            // The right side is the shorter one: chains lean to the left.
            let b = as_number(&binary.right)?;
            let a = as_number(&binary.left)?;
            match id.phrase().id {
                phrase::NUMBER_ADD => Some(a + b),
                phrase::NUMBER_SUBTRACT => Some(a - b),
                phrase::NUMBER_MULTIPLY => Some(a * b),
                phrase::NUMBER_DIVIDE | phrase::NUMBER_DIVIDE_DECIMALS if b != 0.0 => Some(a / b),
                phrase::NUMBER_DIVIDE_WHOLE if b != 0.0 => Some((a / b).trunc()),
                _ => None,
            }
        }
        _ => None,
    }
}

/// An operation by its phrase.
pub(crate) fn operation(phrase: &str, left: E, right: E) -> E {
    Expr::synthetic(ExprKind::Binary(Box::new(Binary { operator: Sign::Phrase(phrase_named(phrase), None), left, right })))
}

/// The two sides of `a = b`.
pub(crate) fn sides_of_equality(expr: &E) -> Option<(&E, &E)> {
    let ExprKind::Binary(binary) = &expr.without_parens().kind else { return None };
    let equal = matches!(binary.operator, Sign::Phrase(id, _) if id.phrase().id == phrase::COMPARE_EQUAL);
    equal.then_some((&binary.left, &binary.right))
}

/// A column of a table of ours.
pub(crate) fn column(table: &str, relation: RelationId, name: &Ident, like: &E) -> E {
    let known = infer(like);
    let name = ObjectName { parts: vec![Ident::synthetic(table), again(name)] };
    Expr::synthetic(ExprKind::Column(Binding {
        name,
        target: BindingTarget::Column(relation),
        data_type: known.data_type,
        nullable: known.nullable,
    }))
}

/// A whole-number column of ours, never NULL.
pub(crate) fn own_column(table: &str, relation: RelationId, name: &str) -> E {
    let name = ObjectName { parts: vec![Ident::synthetic(table), Ident::synthetic(name)] };
    Expr::synthetic(ExprKind::Column(Binding {
        name,
        target: BindingTarget::Column(relation),
        data_type: DataType::Integer(64),
        nullable: false,
    }))
}

/// `phrase() OVER (ORDER BY keys)`.
pub(crate) fn window_call(phrase: &str, order_by: Vec<SortKey<Meant>>) -> E {
    let window = Window { base: None, partition_by: Vec::new(), order_by, frame: None, span: Span::SYNTHETIC };
    let tail = CallTail { over: Some(Over::Window(window)), ..CallTail::default() };
    call_with(phrase, Vec::new(), Some(tail))
}

/// A sort key without places, ascending unless `like` says otherwise.
pub(crate) fn key_copy(key: &SortKey<Meant>) -> SortKey<Meant> {
    SortKey { expr: copy_of(&key.expr), direction: key.direction, nulls: key.nulls, span: Span::SYNTHETIC }
}

/// An ascending key over a column that is never NULL.
pub(crate) fn plain_key(expr: E) -> SortKey<Meant> {
    SortKey { expr, direction: None, nulls: NullsPlace { order: NullOrder::Last, spelled: false }, span: Span::SYNTHETIC }
}

/// CASE WHEN expr IS NULL THEN .. ELSE .. END: 0 for what comes first.
pub(crate) fn null_rank(expr: &E, order: NullOrder) -> E {
    let (null, other) = if order == NullOrder::First { (0, 1) } else { (1, 0) };
    // NULL is NULL by any collation.
    let expr = match &expr.kind {
        ExprKind::Collate(inner, _) => inner,
        _ => expr,
    };
    case(None, vec![(null_test(copy_of(expr), false), number(null))], Some(number(other)))
}

/// `CASE operand WHEN .. THEN .. ELSE otherwise END`.
pub(crate) fn case(operand: Option<E>, branches: Vec<(E, E)>, otherwise: Option<E>) -> E {
    Expr::synthetic(ExprKind::Case(Box::new(Case { operand, branches, otherwise })))
}

/// An entry of a select list with an alias.
pub(crate) fn aliased(expr: E, name: &str) -> SelectItem<Meant> {
    let alias = ColumnAlias { name: Ident::synthetic(name), form: AliasForm::As };
    SelectItem { value: SelectValue::Expr(expr), alias: Some(alias), span: Span::SYNTHETIC }
}

/// `*`.
pub(crate) fn star() -> SelectItem<Meant> {
    SelectItem {
        value: SelectValue::Star(Star { qualifier: None, relation: None, columns: None }, Vec::new()),
        alias: None,
        span: Span::SYNTHETIC,
    }
}

/// Moves a query out of its place, to be put back in another shape.
pub(crate) fn take_query(query: &mut Query<Meant>) -> Query<Meant> {
    std::mem::replace(query, query_of(Select::of(Vec::new(), Vec::new())))
}

/// A query of one block.
pub(crate) fn query_of(select: Select<Meant>) -> Query<Meant> {
    Query::of(QueryBody::Select(Box::new(select)), Span::SYNTHETIC)
}

/// A derived table.
pub(crate) fn derived(query: Query<Meant>, alias: &str, relation: RelationId, facts: &Capabilities) -> TableRef<Meant> {
    let alias = TableAlias { as_word: facts.table_alias_as, name: Some(Ident::synthetic(alias)), columns: Vec::new(), typed_columns: None };
    TableRef {
        kind: TableKind::Derived { lateral: false, query: Box::new(query) },
        alias: Some(alias),
        relation,
        hints: None,
        qualifier: None,
        span: Span::SYNTHETIC,
    }
}

/// A plain limit.
pub(crate) fn limit_of(count: E, span: Span) -> Box<RowLimit> {
    Box::new(RowLimit { amount: Some(Amount::Rows(count)), with_ties: false, offset: None, span })
}

/// Visits the table references that joins and parentheses are made of.
pub(crate) fn each_leaf<'t>(table: &'t TableRef<Meant>, visit: &mut dyn FnMut(&'t TableRef<Meant>)) {
    match &table.kind {
        TableKind::Join(join) => {
            each_leaf(&join.left, visit);
            each_leaf(&join.right, visit);
        }
        TableKind::Nested(inner) => each_leaf(inner, visit),
        _ => visit(table),
    }
}

/// The name by which the columns of a table reference are qualified.
pub(crate) fn table_name(table: &TableRef<Meant>) -> Option<Ident> {
    if let Some(name) = table.alias.as_ref().and_then(|a| a.name.clone()) {
        return Some(name);
    }
    match &table.kind {
        TableKind::Name(name) => Some(name.last().clone()),
        _ => None,
    }
}

/// Whether a name is free among those a list gives.
pub(crate) fn free_name(wanted: &str, taken: &[Ident]) -> CompactString {
    let mut name = CompactString::from(wanted);
    let mut n = 1;
    while taken.iter().any(|t| t.text.eq_ignore_ascii_case(&name)) {
        n += 1;
        name = format!("{wanted}_{n}").into();
    }
    name
}

/// Aliases inside an expression become the entries of the list they stand for, where these are known.
pub(crate) fn write_out_entries(expr: &mut E, items: &[SelectItem<Meant>]) {
    if let ExprKind::Column(binding) = &expr.kind {
        if matches!(binding.target, BindingTarget::Output(_))
            && let Some(meant) = resolved_key(expr, items)
        {
            *expr = meant;
        }
        return;
    }
    expr.exprs_mut(&mut |child| write_out_entries(child, items));
}

/// Ordinals and aliases in a sort key become what they stand for. `None` for an entry that is not
/// known (a star).
pub(crate) fn resolved_key(key: &E, items: &[SelectItem<Meant>]) -> Option<E> {
    let at = match &key.without_parens().kind {
        ExprKind::Literal(Constant::Number(text)) => text.parse::<usize>().ok()?.checked_sub(1),
        ExprKind::Column(Binding { target: BindingTarget::Output(at), .. }) => Some(*at as usize),
        _ => None,
    };
    let Some(at) = at else {
        let mut copy = copy_of(key);
        write_out_entries(&mut copy, items);
        return Some(copy);
    };
    // With a star before it an ordinal counts columns we may not know; a name is then a column.
    if items.iter().take(at + 1).any(|i| matches!(i.value, SelectValue::Star(..))) {
        return matches!(key.without_parens().kind, ExprKind::Column(_)).then(|| copy_of(key));
    }
    match &items.get(at)?.value {
        SelectValue::Expr(expr) => Some(copy_of(expr)),
        SelectValue::Star(..) => None,
    }
}

/// A number in its digits.
pub(crate) fn as_text(expr: &mut E) {
    let data_type = infer(expr).data_type;
    let phrase = match data_type {
        DataType::Integer(_) | DataType::Decimal(Some((_, ..=0))) => phrase::CAST_NUMBER_TO_TEXT,
        DataType::Decimal(_) | DataType::Float(_) => phrase::CAST_DECIMAL_TO_TEXT,
        _ => return,
    };
    let number = expr.take();
    *expr = Expr { span: number.span, ..call(phrase, vec![number]) };
}

/// A number as the text it is shown as.
pub(crate) fn in_digits(value: &mut E) {
    match &value.without_parens().kind {
        ExprKind::Literal(Constant::Number(digits)) if !digits.contains(['e', 'E']) => {
            let constant = Constant::Text { value: digits.clone(), written: None };
            *value = Expr { kind: ExprKind::Literal(constant), span: value.span };
        }
        _ if infer(value).data_type.is_numeric() => as_text(value),
        _ => {}
    }
}

/// ORDER BY (SELECT NULL): an order for the grammar's sake.
pub(crate) fn no_order_key() -> SortKey<Meant> {
    let null =
        SelectItem { value: SelectValue::Expr(Expr::synthetic(ExprKind::Literal(Constant::Null))), alias: None, span: Span::SYNTHETIC };
    plain_key(Expr::synthetic(ExprKind::Subquery(Box::new(query_of(Select::of(vec![null], Vec::new()))))))
}
