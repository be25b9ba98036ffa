//! Recursive common table expressions.

use syntax::DialectName;
use syntax::tree::{
    CommonTable, ExprKind, Ident, JoinKind, Query, QueryBody, Select, SelectItem, SelectQuantifier, SelectValue, SetOperator,
    SetQuantifier, Span, Spelled, TableKind, TableRef,
};
use values::Value;

use super::{Common, Compiler, InSight, Scope};
use crate::failure::{Failure, FailureKind, Outcome};
use crate::plan::{Body, Key, QueryPlan, RecursivePlan, Trace, Typed};
use crate::types::Type;

impl Compiler<'_> {
    /// The plan of a table that reads itself; `None` if it doesn't.
    pub(super) fn recursive_table(&mut self, table: &CommonTable<Spelled>, recursive: bool, number: usize) -> Outcome<Option<QueryPlan>> {
        let needs_word = !self.is(&[DialectName::Oracle, DialectName::SqlServer, DialectName::Sqlite]);
        let QueryBody::SetOperation(operation) = &table.query.body else { return Ok(None) };
        if (needs_word && !recursive) || !reads(&operation.right, &table.name.text) {
            return Ok(None);
        }
        self.check_recursion(table, operation.operator, operation.quantifier)?;
        self.check_member(&operation.right, &table.name)?;
        let seed = self.branch(&operation.left)?;
        let mut labels = seed.labels.clone();
        if !table.columns.is_empty() {
            self.check_count_of_names(table.columns.len(), labels.len())?;
            labels.splice(..table.columns.len(), table.columns.iter().map(|c| self.folded(c)));
        }
        let types: Vec<Type> = seed.types.iter().cloned().map(Type::without_literal).collect();
        let name = self.folded(&table.name);
        self.common.push(Common { name, number, labels: labels.clone(), types: types.clone(), correlated: false });
        // ORDER BY and LIMIT behind the union belong to the recursive part here.
        let step = self.branch(&operation.right);
        self.common.pop();
        let mut step = step?;
        step.limit = self.limit(&table.query.limit)?;
        let all = operation.quantifier == Some(SetQuantifier::All);
        let (seed, mut step) = self.matched(seed, step, &types)?;
        step.types.clone_from(&types);
        let traced = self.trace(table, &labels, &types)?;
        let rules = types.iter().map(|t| self.collation(t)).collect();
        let (most_steps, stops) = self.step_limit();
        let mut types = types;
        if let Some((trace, names)) = &traced {
            labels.extend(names.iter().cloned());
            types.extend(trace_types(trace));
        }
        let plan = RecursivePlan {
            place: self.place(table.query.span),
            number,
            seed,
            step,
            all,
            rules,
            most_steps,
            stops,
            traced: traced.map(|(t, _)| t),
        };
        Ok(Some(QueryPlan::of(Body::Recursive(Box::new(plan)), labels, types)))
    }

    /// How many steps are allowed, and whether it stops there in silence.
    fn step_limit(&self) -> (Option<usize>, bool) {
        match self.dialect() {
            DialectName::SqlServer => (Some(self.most_steps.unwrap_or(100)).filter(|most| *most > 0), false),
            DialectName::Mysql => (Some(1000), false),
            // max_recursive_iterations: rows beyond are cut with a warning only.
            DialectName::Mariadb => (Some(1000), true),
            DialectName::Bigquery => (Some(500), false),
            DialectName::Spark => (Some(100), false),
            _ => (None, false),
        }
    }

    fn check_recursion(&self, table: &CommonTable<Spelled>, operator: SetOperator, quantifier: Option<SetQuantifier>) -> Outcome<()> {
        let union_all = operator == SetOperator::Union && quantifier == Some(SetQuantifier::All);
        match self.dialect() {
            DialectName::Oracle if table.columns.is_empty() => {
                Err(Failure::invalid("a recursive WITH needs a column list").with_code("ORA-32039"))
            }
            DialectName::Oracle if !union_all => Err(Failure::invalid("a recursive WITH needs UNION ALL").with_code("ORA-32040")),
            DialectName::SqlServer if !union_all => Err(Failure::invalid("a recursive WITH needs UNION ALL").with_code("Msg 252")),
            DialectName::Bigquery if !union_all => Err(Failure::invalid("a recursive WITH needs UNION ALL")),
            DialectName::Spark if !self.behaviour.dialect.since(4, 1) => {
                Err(Failure::invalid("this version of Spark SQL has no recursive WITH"))
            }
            _ if operator != SetOperator::Union => Err(Failure::invalid("a recursive WITH needs UNION")),
            _ => Ok(()),
        }
    }

    /// What a recursive member can't have.
    fn check_member(&self, body: &QueryBody<Spelled>, name: &Ident) -> Outcome<()> {
        let mut wrong = Ok(());
        body.selects(&mut |select| {
            if wrong.is_ok() && select.from.iter().any(|t| reads_table(t, &name.text)) {
                wrong = self.check_member_block(select, name);
            }
        });
        wrong
    }

    fn check_member_block(&self, select: &Select<Spelled>, name: &Ident) -> Outcome<()> {
        let aggregates =
            select.items.iter().any(|i: &SelectItem<Spelled>| matches!(&i.value, SelectValue::Expr(e) if self.has_aggregate(e)));
        let grouped = aggregates || select.group_by.is_some() || select.having.is_some();
        let outer = select.from.iter().any(|t| on_missing_side(t, &name.text, false));
        let code = match (self.dialect(), grouped) {
            (DialectName::SqlServer, true) => Some("Msg 467"),
            (DialectName::Oracle, true) => Some("ORA-32486"),
            (DialectName::Mysql | DialectName::Mariadb, true) => Some("ER_CTE_RECURSIVE_FORBIDS_AGGREGATION"),
            (DialectName::Postgres, true) => Some("42P19"),
            _ => None,
        };
        if let Some(code) = code {
            return Err(Failure::invalid("the recursive part can't group").with_code(code));
        }
        let code = match self.dialect() {
            DialectName::SqlServer => Some("Msg 462"),
            DialectName::Mysql | DialectName::Mariadb => Some("ER_CTE_RECURSIVE_FORBIDDEN_JOIN_ORDER"),
            DialectName::Postgres => Some("42P19"),
            _ => None,
        };
        if let (true, Some(code)) = (outer, code) {
            return Err(
                Failure::invalid("the recursive table can't stand on the side of an outer join that may be missing").with_code(code)
            );
        }
        if self.dialect() == DialectName::SqlServer {
            if select.top.is_some() {
                return Err(Failure::invalid("the recursive part can't have TOP").with_code("Msg 461"));
            }
            if matches!(select.quantifier, Some(SelectQuantifier::Distinct)) {
                return Err(Failure::invalid("the recursive part can't have DISTINCT").with_code("Msg 460"));
            }
        }
        Ok(())
    }

    /// The step's columns as the seed's types; SQL Server and PostgreSQL want them equal.
    fn matched(&self, seed: QueryPlan, step: QueryPlan, types: &[Type]) -> Outcome<(QueryPlan, QueryPlan)> {
        if seed.types.len() != step.types.len() {
            return self.combined(seed, step);
        }
        for (at, (a, b)) in seed.types.iter().zip(&step.types).enumerate() {
            let differs = match self.dialect() {
                DialectName::SqlServer => match (a, b) {
                    (Type::Text(x), Type::Text(y)) => x.length != y.length || x.fixed != y.fixed || x.national != y.national,
                    (Type::Null, _) | (_, Type::Null) => false,
                    _ => a != b,
                },
                DialectName::Postgres => {
                    a.family() != b.family() && !a.is_open() && !b.is_open() && !b.as_text().is_some_and(|t| t.literal)
                        || matches!((a, b), (Type::Integer(_), Type::Number | Type::Decimal(..) | Type::Float))
                }
                _ => false,
            };
            if differs {
                let code = if self.dialect() == DialectName::SqlServer { "Msg 240" } else { "42804" };
                return Err(Failure::invalid(format!("column {} has another type in the recursive part", at + 1)).with_code(code));
            }
        }
        let mut step = step.converted_to(types);
        // MySQL: a string wider than the first part's is an error.
        if self.dialect() == DialectName::Mysql {
            for (at, ty) in types.iter().enumerate() {
                if let Type::Text(text) = ty
                    && text.length.is_some()
                {
                    step.conversions.push((at, Type::TEXT, Type::Text(crate::types::TextType { literal: false, ..*text })));
                }
            }
        }
        Ok((seed.converted_to(types), step))
    }

    // --- SEARCH and CYCLE ----------------------------------------------------------------------

    fn trace(&mut self, table: &CommonTable<Spelled>, labels: &[String], types: &[Type]) -> Outcome<Option<(Trace, Vec<String>)>> {
        let oracle = self.dialect() == DialectName::Oracle;
        let mut trace = Trace { fails: oracle, ..Trace::default() };
        let mut names = Vec::new();
        let Some(span) = table.search_cycle else { return Ok(oracle.then_some((trace, names))) };
        let words: Vec<String> = self.words(span).iter().map(|w| (*w).to_string()).collect();
        let upper: Vec<String> = words.iter().map(|w| w.to_uppercase()).collect();
        let find = |word: &str, from: usize| upper[from.min(upper.len())..].iter().position(|w| w == word).map(|i| i + from);
        if let Some(at) = find("SEARCH", 0) {
            let depth_first = upper.get(at + 1).is_some_and(|w| w == "DEPTH");
            let (Some(by), Some(set)) = (find("BY", at), find("SET", at)) else { return Err(Failure::unknown("this SEARCH clause")) };
            let keys = self.search_keys(span, by + 1, set, labels, types)?;
            trace.search = Some((depth_first, keys));
            names.push(self.folded(&Ident::synthetic(words.get(set + 1).map_or("", String::as_str))));
        }
        if let Some(at) = find("CYCLE", 0) {
            let Some(set) = find("SET", at) else { return Err(Failure::unknown("this CYCLE clause")) };
            let mut columns = Vec::new();
            for name in words[at + 1..set].iter().filter(|w| *w != ",") {
                let ident = Ident::synthetic(name.as_str());
                let Some(place) = labels.iter().position(|l| self.names(l, &ident)) else {
                    return Err(Failure::new(FailureKind::UnknownName, format!("there is no column {name}"))
                        .coded(self.dialect(), crate::failure::NO_COLUMN));
                };
                columns.push(place);
            }
            let mark = |word: &str, default: bool| match find(word, set).and_then(|i| words.get(i + 1)) {
                Some(text) if text.starts_with('\'') => Value::text(text.trim_matches('\'')),
                Some(text) => text.parse().map_or_else(|_| Value::text(text.as_str()), Value::Integer),
                None => Value::Boolean(default),
            };
            trace.cycle = Some((columns, mark("TO", true), mark("DEFAULT", false)));
            trace.fails = false;
            names.push(self.folded(&Ident::synthetic(words.get(set + 1).map_or("", String::as_str))));
            if let Some(using) = find("USING", set) {
                trace.makes_path = true;
                names.push(self.folded(&Ident::synthetic(words.get(using + 1).map_or("", String::as_str))));
            }
        }
        Ok(Some((trace, names)))
    }

    /// The keys of SEARCH, over the table's columns.
    fn search_keys(&mut self, span: Span, from: usize, to: usize, labels: &[String], types: &[Type]) -> Outcome<Vec<Key>> {
        let tokens = (span.first + from as u32, span.first + to as u32);
        let columns = labels.iter().zip(types).map(|(l, t)| InSight::new(None, l.clone(), t.clone())).collect();
        self.scopes.push(Scope { columns, ..Scope::default() });
        let mut keys = Vec::new();
        let mut start = tokens.0;
        let mut wrong = None;
        for at in tokens.0..=tokens.1 {
            let ends = at == tokens.1 || self.words(Span { first: at, end: at + 1 }) == [","];
            if !ends {
                continue;
            }
            match self.search_key(start, at) {
                Ok(key) => keys.push(key),
                Err(failure) => wrong = Some(failure),
            }
            start = at + 1;
        }
        self.scopes.pop();
        wrong.map_or(Ok(keys), Err)
    }

    fn search_key(&mut self, first: u32, end: u32) -> Outcome<Key> {
        let words: Vec<String> = self.words(Span { first, end }).iter().map(|w| w.to_uppercase()).collect();
        let direction = match words.get(1).map(String::as_str) {
            Some("DESC") => Some(syntax::tree::Direction::Descending),
            _ => None,
        };
        let nulls = if words.iter().any(|w| w == "FIRST") {
            syntax::tree::NullOrder::First
        } else if words.iter().any(|w| w == "LAST") {
            syntax::tree::NullOrder::Last
        } else {
            self.behaviour.nulls(direction)
        };
        let expr = self.verbatim_expr(first, first + 1)?;
        let typed: Typed = self.expr(&expr)?;
        Ok(Key { collation: self.collation(&typed.ty), code: typed.code, direction, nulls })
    }
}

fn trace_types(trace: &Trace) -> Vec<Type> {
    let mut types = Vec::new();
    if trace.search.is_some() {
        types.push(Type::BIGINT);
    }
    if let Some((_, yes, _)) = &trace.cycle {
        types.push(crate::convert::of_value(yes));
        if trace.makes_path {
            types.push(Type::Array(Box::new(Type::Any)));
        }
    }
    types
}

/// Whether a body reads a table of that name.
fn reads(body: &QueryBody<Spelled>, name: &str) -> bool {
    match body {
        QueryBody::Select(select) => select.from.iter().any(|t| reads_table(t, name)) || select_reads(select, name),
        QueryBody::SetOperation(operation) => reads(&operation.left, name) || reads(&operation.right, name),
        QueryBody::Nested(query, _) => query_reads(query, name),
        QueryBody::Values(_) | QueryBody::Table(..) => false,
    }
}

fn query_reads(query: &Query<Spelled>, name: &str) -> bool {
    reads(&query.body, name)
}

/// Whether a subquery of a block's condition does.
fn select_reads(select: &Select<Spelled>, name: &str) -> bool {
    select.condition.as_ref().is_some_and(|c| {
        c.any(&mut |e| match &e.kind {
            ExprKind::Exists(query) | ExprKind::Subquery(query) => query_reads(query, name),
            ExprKind::In(test) => matches!(&test.set, syntax::tree::InSet::Query(query) if query_reads(query, name)),
            _ => false,
        })
    })
}

fn reads_table(table: &TableRef<Spelled>, name: &str) -> bool {
    match &table.kind {
        TableKind::Name(n) => n.as_single().is_some_and(|n| n.text.eq_ignore_ascii_case(name)),
        TableKind::Nested(inner) => reads_table(inner, name),
        TableKind::Join(join) => reads_table(&join.left, name) || reads_table(&join.right, name),
        TableKind::Derived { query, .. } => query_reads(query, name),
        TableKind::Pivot(pivot) => reads_table(&pivot.input, name),
        TableKind::Unpivot(unpivot) => reads_table(&unpivot.input, name),
        TableKind::Function { .. } => false,
    }
}

/// Whether the table is where an outer join may leave it out.
fn on_missing_side(table: &TableRef<Spelled>, name: &str, missing: bool) -> bool {
    match &table.kind {
        TableKind::Join(join) => {
            let (left, right) = match join.kind {
                JoinKind::Left | JoinKind::OuterApply => (missing, true),
                JoinKind::Right => (true, missing),
                JoinKind::Full => (true, true),
                _ => (missing, missing),
            };
            on_missing_side(&join.left, name, left) || on_missing_side(&join.right, name, right)
        }
        TableKind::Nested(inner) => on_missing_side(inner, name, missing),
        _ => missing && reads_table(table, name),
    }
}
