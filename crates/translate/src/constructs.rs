//! Constructs that the target doesn't speak, or that are not translated yet: found and refused.

use meaning::{Capabilities, Construct, Function, Meant, Note, Sign, phrase};
use syntax::tree::{
    Cast, CastForm, Child, Delete, Expr, ExprKind, FrameUnit, GroupItem, GroupWord, InSet, IsWhat, JoinCondition, JoinKind, LikeWord, Over,
    Query, QueryBody, Select, SelectQuantifier, SelectValue, SetOperator, SetQuantifier, Span, Statement, StatementKind, TableKind,
    TableRef, Update, Window, With,
};
use syntax::{Dialect, DialectName};

use crate::ask::{is_condition, is_read_as_unicode, reads_number_or_null, takes_condition, written_list};
use crate::idle_clause::{Place, not_idle};
use crate::shape::{columns_outside, is_correlated};
use crate::text::Text;

struct Finder<'a> {
    text: Text<'a>,
    to: &'a Dialect,
    notes: Vec<Note>,
}

/// Notes for every construct of `statement` that `to` doesn't speak.
pub(crate) fn unsupported(statement: &Statement<Meant>, text: Text<'_>, to: &Dialect) -> Vec<Note> {
    let mut finder = Finder { text, to, notes: Vec::new() };
    match &statement.kind {
        StatementKind::Query(query) => finder.query(query),
        StatementKind::Insert(insert) => {
            finder.modifiers(insert.modifiers);
            if let Some(span) = insert.trailing {
                finder.found(Construct::ChangeTrailing, span);
            }
            match &insert.source {
                None => finder.found(Construct::DefaultRow, statement.span),
                // Rows to insert are no query.
                Some(Query { body: QueryBody::Values(values), .. }) => values.rows.iter().flatten().for_each(|e| finder.expr(e, false)),
                source => source.iter().for_each(|q| finder.query(q)),
            }
        }
        StatementKind::Update(update) => finder.update(update),
        StatementKind::Delete(delete) => finder.delete(delete),
        StatementKind::Merge(_) => finder.found(Construct::Merge, statement.span),
        _ => {}
    }
    finder.notes
}

impl Finder<'_> {
    fn found(&mut self, construct: Construct, span: Span) {
        if construct.supported_by().has(self.to.name) {
            return;
        }
        let (title, words) = (self.to.name.title(), construct.words());
        let (named, subject) = match construct.is_named_by_query() {
            true => {
                let excerpt = self.text.excerpt(span);
                (format!("{words} {excerpt}"), excerpt)
            }
            false => (words.to_string(), words.to_string()),
        };
        let note = Note::new("construct.not-translated", span, format!("{named} is not translated to {title}")).about(subject);
        if !self.notes.iter().any(|n| n.message == note.message) {
            self.notes.push(note);
        }
    }

    /// Words that would be left out are refused unless they have no part in the result.
    fn idle(&mut self, span: Option<Span>, place: Place) {
        let Some(span) = span.filter(|s| s.is_read()) else { return };
        if let Some(words) = not_idle(self.text, span, place) {
            let message = format!("{words} is not translated to {}", self.to.name.title());
            self.notes.push(Note::new("construct.not-translated", span, message).about(words));
        }
    }

    fn modifiers(&mut self, span: Option<Span>) {
        if let Some(span) = span {
            self.found(Construct::ChangeModifier, span);
        }
    }

    fn update(&mut self, update: &Update<Meant>) {
        self.modifiers(update.modifiers);
        if !update.from.is_empty() || matches!(update.table.kind, TableKind::Join(_)) {
            self.found(Construct::ChangeFrom, update.table.span);
        }
        self.changed_query(&update.table);
        if let Some(span) = update.trailing {
            self.found(Construct::ChangeTrailing, span);
        }
        if let Some(with) = &update.with {
            self.with(with);
        }
        self.table(&update.table);
        for assignment in &update.assignments {
            if assignment.operator.is_some() || assignment.as_row {
                self.found(Construct::ChangeFrom, assignment.span);
            }
            self.expr(&assignment.value, false);
        }
        update.condition.iter().for_each(|e| self.expr(e, true));
    }

    /// Oracle changes tables through a query.
    fn changed_query(&mut self, table: &TableRef<Meant>) {
        if matches!(table.kind, TableKind::Derived { .. }) && self.to.name != DialectName::Oracle {
            let message = format!("a change of a query's result is not translated to {}", self.to.name.title());
            self.notes.push(Note::new("construct.not-translated", table.span, message).advise("name the table that is changed"));
        }
    }

    fn delete(&mut self, delete: &Delete<Meant>) {
        self.modifiers(delete.modifiers);
        delete.with.iter().for_each(|w| self.with(w));
        if !delete.using.is_empty() || !delete.targets.is_empty() {
            self.found(Construct::ChangeFrom, delete.table.span);
        }
        if let Some(span) = delete.trailing {
            self.found(Construct::ChangeTrailing, span);
        }
        self.changed_query(&delete.table);
        self.table(&delete.table);
        delete.condition.iter().for_each(|e| self.expr(e, true));
    }

    fn with(&mut self, with: &With<Meant>) {
        for table in &with.tables {
            if let Some(span) = table.search_cycle {
                self.found(Construct::SearchCycle, span);
            }
            if !table.columns.is_empty() {
                self.found(Construct::CommonTableColumns, table.span);
            }
            if mentions(&table.query, &table.name.text) {
                self.found(Construct::RecursiveQuery, table.span);
            }
            self.query(&table.query);
        }
    }

    fn query(&mut self, query: &Query<Meant>) {
        syntax::with_stack(|| {
            query.with.iter().for_each(|w| self.with(w));
            self.body(&query.body);
            query.order_by.iter().for_each(|k| self.expr(&k.expr, false));
            self.idle(query.locking, Place::Lock);
            self.idle(query.options, Place::Option);
            if query.siblings {
                self.found(Construct::Hierarchy, query.span);
            }
        });
    }

    fn body(&mut self, body: &QueryBody<Meant>) {
        match body {
            QueryBody::Select(select) => self.select(select),
            QueryBody::SetOperation(operation) => syntax::with_stack(|| {
                if operation.by_name {
                    self.found(Construct::SetByName, operation.span);
                }
                if operation.operator != SetOperator::Union && operation.quantifier == Some(SetQuantifier::All) {
                    self.found(Construct::ExceptAll, operation.span);
                }
                self.body(&operation.left);
                self.body(&operation.right);
            }),
            QueryBody::Nested(query, _) => self.query(query),
            QueryBody::Values(values) => {
                self.found(Construct::Values, values.span);
                values.rows.iter().flatten().for_each(|e| self.expr(e, false));
            }
            QueryBody::Table(_, span) => self.found(Construct::TableStatement, *span),
        }
    }

    /// An aggregate over columns of a query further out alone is that query's, where the SQL standard is kept. Seen
    /// on DuckDB 1.5: not where they are in a subquery.
    fn aggregate_around(&mut self, select: &Select<Meant>) {
        use DialectName::{Bigquery, Duckdb, Spark};
        if !select.from.is_empty() || !matches!(self.to.name, Bigquery | Duckdb | Spark) {
            return;
        }
        let around = |e: &Expr<Meant>| {
            matches!(&e.kind, ExprKind::Call(call) if !call.is_window() && is_aggregate(call)
                && call.arguments.iter().any(|a| columns_outside(&a.value).is_some_and(|outside| !outside.is_empty())))
        };
        for item in &select.items {
            if let SelectValue::Expr(expr) = &item.value
                && expr.any(&mut |e| around(e))
            {
                let message = format!("an aggregate over columns of a query around it is not translated to {}", self.to.name.title());
                self.notes
                    .push(Note::new("construct.not-translated", item.span, message).advise("aggregate in the query that has the columns"));
            }
        }
    }

    fn select(&mut self, select: &Select<Meant>) {
        let span = select.span;
        if let Some(connect) = &select.connect_by {
            self.found(Construct::Hierarchy, connect.span);
            return;
        }
        self.idle(select.modifiers, Place::Modifier);
        self.aggregate_around(select);
        if let Some(into) = select.into {
            self.found(Construct::SelectInto, into);
        }
        if let Some(trailing) = select.trailing {
            self.found(Construct::TableSample, trailing);
        }
        if let Some(SelectQuantifier::DistinctOn(keys)) = &select.quantifier {
            self.found(Construct::DistinctOn, keys.first().map_or(span, |k| k.span));
        }
        for item in &select.items {
            match &item.value {
                SelectValue::Expr(expr) => self.expr(expr, false),
                SelectValue::Star(_, modifiers) if !modifiers.is_empty() => self.found(Construct::StarModifier, item.span),
                SelectValue::Star(..) => {}
            }
        }
        select.from.iter().for_each(|t| self.table(t));
        if let Some(view) = select.lateral_views.first() {
            self.found(Construct::LateralView, view.span);
        }
        select.condition.iter().for_each(|e| self.expr(e, true));
        if let Some(group) = &select.group_by {
            if group.all_columns {
                self.found(Construct::GroupByAll, group.span);
            }
            if group.with_word.is_some() {
                self.found(Construct::GroupWithRollup, group.span);
            }
            for item in &group.items {
                match item {
                    GroupItem::Expr(expr) => self.expr(expr, false),
                    GroupItem::Super(GroupWord::Rollup, exprs, span) if group.items.len() == 1 => {
                        self.found(Construct::Rollup, *span);
                        exprs.iter().for_each(|e| self.expr(e, false));
                    }
                    _ => self.found(Construct::GroupingSets, group.span),
                }
            }
        }
        select.having.iter().for_each(|e| self.expr(e, true));
        if let Some((name, _)) = select.windows.first() {
            self.found(Construct::NamedWindow, name.span());
        }
        if let Some(qualify) = &select.qualify {
            self.found(Construct::Qualify, qualify.span);
            self.expr(qualify, true);
        }
    }

    fn table(&mut self, table: &TableRef<Meant>) {
        self.idle(table.hints, Place::Table);
        if let Some(span) = table.qualifier {
            self.found(Construct::TableSample, span);
        }
        if let Some(alias) = &table.alias {
            if let Some(span) = alias.typed_columns {
                self.found(Construct::TypedAlias, span);
            }
            if !alias.columns.is_empty() {
                self.found(Construct::AliasColumns, table.span);
            }
        }
        syntax::with_stack(|| match &table.kind {
            TableKind::Name(_) => {}
            TableKind::Derived { lateral, query } => {
                let unseen = !Construct::CorrelatedDerived.supported_by().has(self.to.name);
                if *lateral {
                    self.found(Construct::Apply, table.span);
                } else if unseen && is_correlated(query) {
                    self.correlated_derived(table, query);
                }
                self.query(query);
            }
            TableKind::Function { .. } => self.found(Construct::TableFunction, table.span),
            TableKind::Nested(inner) => self.table(inner),
            TableKind::Join(join) => {
                let span = join.right.span;
                match join.kind {
                    JoinKind::Full => self.found(Construct::FullJoin, span),
                    JoinKind::Semi | JoinKind::Anti => self.found(Construct::SemiJoin, span),
                    JoinKind::Asof | JoinKind::Positional => self.found(Construct::OrderedJoin, span),
                    JoinKind::CrossApply | JoinKind::OuterApply => self.found(Construct::Apply, span),
                    _ => {}
                }
                if join.natural {
                    self.found(Construct::NaturalJoin, span);
                }
                match &join.condition {
                    JoinCondition::On(condition) => self.expr(condition, true),
                    JoinCondition::Using(_) => self.found(Construct::UsingJoin, span),
                    JoinCondition::None => {}
                }
                self.table(&join.left);
                match &join.right.kind {
                    // What APPLY sees has a note already.
                    TableKind::Derived { query, .. } if join.kind.is_apply() => self.query(query),
                    _ => self.table(&join.right),
                }
            }
            TableKind::Pivot(_) => self.found(Construct::Pivot, table.span),
            TableKind::Unpivot(_) => self.found(Construct::Unpivot, table.span),
        });
    }

    /// A derived table that sees the query around it: the user's, or one that a limit was put into.
    fn correlated_derived(&mut self, table: &TableRef<Meant>, query: &Query<Meant>) {
        let limit = match &query.limit {
            Some(limit) if !table.span.is_read() && limit.span.is_read() => limit.span,
            _ => return self.found(Construct::CorrelatedDerived, table.span),
        };
        let message = format!(
            "{} can say this limit only in a derived table, and there no derived table sees a column of the query around it",
            self.to.name.title()
        );
        let advice = "number the rows in a view or a common table expression of their own, and join that";
        self.notes.push(Note::new("row-limit.not-said", limit, message).advise(advice));
    }

    /// `as_condition`: the expression is where a condition is wanted.
    fn expr(&mut self, expr: &Expr<Meant>, as_condition: bool) {
        let span = expr.span;
        let is_condition = is_condition(expr);
        if is_condition && !as_condition && !matches!(expr.kind, ExprKind::Nested(_)) {
            self.found(Construct::ConditionAsValue, span);
        }
        if as_condition && !is_condition && !matches!(expr.kind, ExprKind::Nested(_)) {
            let data_type = meaning::infer(expr).data_type;
            if data_type.is_numeric() || data_type.is_text() {
                self.found(Construct::NumberAsCondition, span);
            }
        }
        match &expr.kind {
            ExprKind::Column(binding) if binding.target == meaning::BindingTarget::Special && span.is_read() => {
                self.found(Construct::PseudoColumn, span);
            }
            ExprKind::Unary(unary) => {
                if matches!(unary.operator, Sign::Unresolved(_)) {
                    self.found(Construct::OwnOperator, span);
                }
            }
            ExprKind::Binary(binary) => {
                if matches!(binary.operator, Sign::Unresolved(_)) {
                    self.found(Construct::OwnOperator, span);
                }
            }
            ExprKind::Is(test) => match &test.what {
                IsWhat::Null => {}
                IsWhat::True | IsWhat::False | IsWhat::Unknown => self.found(Construct::TruthTest, span),
                // Phrases say them.
                IsWhat::DistinctFrom(_) | IsWhat::Same(_) => {}
                IsWhat::Words(_) => self.found(Construct::IsWords, span),
            },
            ExprKind::In(test) if matches!(test.set, InSet::Value(_)) => self.found(Construct::InValue, span),
            ExprKind::Like(test) => {
                if test.word == LikeWord::Match {
                    self.found(Construct::PatternWord, span);
                }
                if test.escape.is_some() && !is_literal(&test.pattern) {
                    self.found(Construct::LikeEscape, span);
                }
                // One by one, they need no array.
                if test.quantifier.is_some() {
                    self.expr(&test.operand, false);
                    written_list(&test.pattern).unwrap_or_default().iter().for_each(|e| self.expr(e, false));
                    return;
                }
            }
            ExprKind::Quantified(_) => self.found(Construct::Quantified, span),
            ExprKind::Row(_) => self.found(Construct::RowValue, span),
            ExprKind::Cast(cast) => self.cast(cast, span),
            ExprKind::Call(call) => self.call(call, span),
            ExprKind::Array(_) => self.found(Construct::Array, span),
            ExprKind::Collect(..) => self.found(Construct::Collection, span),
            ExprKind::Struct(_) => self.found(Construct::Struct, span),
            ExprKind::Subscript(_) => self.found(Construct::Subscript, span),
            ExprKind::Field(..) => self.found(Construct::Field, span),
            ExprKind::Lambda(_) => self.found(Construct::Lambda, span),
            ExprKind::Interval(_) => self.found(Construct::Interval, span),
            ExprKind::AtTimeZone(..) => self.found(Construct::TimeZone, span),
            ExprKind::OuterMark(_) => self.found(Construct::OuterMark, span),
            ExprKind::Default => self.found(Construct::DefaultValue, span),
            _ => {}
        }
        if matches!(expr.kind, ExprKind::Column(_) | ExprKind::Literal(_) | ExprKind::Parameter(_) | ExprKind::Star(_)) {
            return;
        }
        let conditions =
            matches!(expr.kind, ExprKind::Logic(..) | ExprKind::Not(_)) || (as_condition && matches!(expr.kind, ExprKind::Nested(_)));
        syntax::with_stack(|| {
            if let ExprKind::Case(case) = &expr.kind {
                case.operand.iter().for_each(|e| self.expr(e, false));
                for (when, then) in &case.branches {
                    self.expr(when, case.operand.is_none());
                    self.expr(then, false);
                }
                case.otherwise.iter().for_each(|e| self.expr(e, false));
                return;
            }
            let nested = matches!(expr.kind, ExprKind::Nested(_));
            expr.children(&mut |child| match child {
                Child::Expr(child) => self.expr(child, conditions || (nested && as_condition) || is_wanted(expr, child)),
                Child::Query(query) => self.query(query),
                Child::Table(_) => {}
            });
        });
    }

    fn cast(&mut self, cast: &Cast<Meant>, span: Span) {
        let in_charset = cast.form == CastForm::ConvertUsing && !Capabilities::of(self.to).convert_using;
        if cast.extra.is_some() || (in_charset && !is_read_as_unicode(cast)) {
            self.found(Construct::CastExtra, span);
        }
        if cast.form.is_safe() && !reads_number_or_null(cast, true) {
            self.found(Construct::SafeCast, span);
        }
    }

    fn call(&mut self, call: &syntax::tree::Call<Meant>, span: Span) {
        if call.arguments.iter().any(|a| a.name.is_some()) {
            self.found(Construct::NamedArgument, span);
        }
        if !matches!(call.form, syntax::tree::CallForm::Plain | syntax::tree::CallForm::Word)
            && matches!(call.function, Function::Unresolved(_))
        {
            self.found(Construct::SpecialCall, span);
        }
        if !call.is_window() && is_aggregate(call) && self.to.name != DialectName::Oracle {
            let inner = |e: &Expr<Meant>| matches!(&e.kind, ExprKind::Call(inner) if !inner.is_window() && is_aggregate(inner));
            if call.arguments.iter().any(|a| a.value.any(&mut |e| inner(e))) {
                let message = format!("an aggregate of an aggregate is not translated to {}", self.to.name.title());
                self.notes.push(Note::new("construct.not-translated", span, message).advise("aggregate in a derived table first"));
            }
        }
        let Some(tail) = &call.tail else { return };
        if !tail.order_by.is_empty() || tail.separator.is_some() || tail.limit.is_some() {
            self.found(Construct::AggregateOrder, span);
        }
        if !tail.within_group.is_empty() {
            self.found(Construct::WithinGroup, span);
        }
        if tail.keep.is_some() {
            self.found(Construct::Keep, span);
        }
        if tail.filter.is_some() {
            self.found(Construct::Filter, span);
            if tail.over.is_some() {
                self.found(Construct::WindowFilter, span);
            }
        }
        if tail.nulls.is_some() || tail.from_last.is_some() {
            self.found(Construct::NullTreatment, span);
        }
        if tail.clauses.is_some() {
            self.found(Construct::CallClauses, span);
        }
        if let Some(Over::Window(window)) = &tail.over
            && let Some(frame) = &window.frame
            && (frame.unit == FrameUnit::Groups || frame.exclude.is_some())
        {
            self.found(Construct::FrameGroups, window.span);
        }
        if let Some(Over::Named(name) | Over::Window(Window { base: Some(name), .. })) = &tail.over {
            self.found(Construct::NamedWindow, name.span());
        }
        if let Some(Over::Window(Window { base: Some(name), .. })) = &tail.over {
            self.found(Construct::RefinedWindow, name.span());
        }
    }
}

/// FILTER takes a condition, and so do some arguments.
fn is_wanted(parent: &Expr<Meant>, child: &Expr<Meant>) -> bool {
    if let ExprKind::Binary(binary) = &parent.kind {
        return matches!(binary.operator, Sign::Phrase(id, _) if id.phrase().id == phrase::BOOLEAN_EXCLUSIVE_OR);
    }
    let ExprKind::Call(call) = &parent.kind else { return false };
    let filter = call.tail.as_ref().and_then(|t| t.filter.as_ref());
    let argument = call.arguments.iter().position(|a| std::ptr::eq(&raw const a.value, child));
    filter.is_some_and(|f| std::ptr::eq(f, child)) || argument.is_some_and(|at| takes_condition(&call.function, at))
}

fn is_literal(expr: &Expr<Meant>) -> bool {
    matches!(expr.without_parens().kind, ExprKind::Literal(_))
}

fn is_aggregate(call: &syntax::tree::Call<Meant>) -> bool {
    matches!(&call.function, Function::Phrase(id, _) if id.phrase().kind == meaning::PhraseKind::Aggregate)
}

/// Whether a query refers to the table `name` anywhere.
fn mentions(query: &Query<Meant>, name: &str) -> bool {
    let mut found = false;
    query.body.selects(&mut |select| {
        let mut tables: Vec<&TableRef<Meant>> = Vec::new();
        tables.extend(&select.from);
        while let Some(table) = tables.pop() {
            match &table.kind {
                TableKind::Name(n) => found |= n.as_single().is_some_and(|n| n.text.eq_ignore_ascii_case(name)),
                TableKind::Derived { query, .. } => found |= mentions(query, name),
                _ => table.children(&mut |child| {
                    if let Child::Table(inner) = child {
                        tables.push(inner);
                    }
                }),
            }
        }
    });
    found
}
