//! Tree to plan: names are looked up, words chosen, by the dialect's rules.

mod expression;
mod from;
mod label;

use std::collections::HashMap;
use std::rc::Rc;

use syntax::tree::{
    Expr, ExprKind, GroupItem, LimitClause, LimitKind, Literal, Query, QueryBody, Select, SelectItem, SelectQuantifier, SelectValue,
    SetOperator, SetQuantifier, SortKey, Spelled, Top,
};
use syntax::{DialectName, Token};
use values::Value;

use crate::behaviour::Behaviour;
use crate::failure::{Failure, FailureKind};
use crate::plan::{AggregatePlan, Body, Code, From, GroupPlan, Key, Limit, QueryPlan, SelectPlan, WindowPlan};
use crate::store::Store;

/// The text a tree was read from, for labels.
pub(crate) struct Source<'a> {
    pub(crate) sql: &'a str,
    pub(crate) tokens: &'a [Token],
}

/// A column in sight.
#[derive(Debug, Clone)]
struct InSight {
    relation: Option<String>,
    name: String,
    /// Merged into another by USING: not shown by a bare star, not found by its bare name.
    merged: bool,
}

/// What one block sees of its own.
#[derive(Debug, Clone, Default)]
struct Scope {
    columns: Vec<InSight>,
}

/// How the expressions of a block are compiled once it is grouped.
struct Grouping {
    width: usize,
    keys: Vec<Code>,
    aggregates: Vec<AggregatePlan>,
}

/// Windows get their slots when all aggregates are known.
const WINDOW_BASE: usize = 1 << 24;

/// A common table expression in sight.
#[derive(Clone)]
struct Common {
    name: String,
    number: usize,
    labels: Vec<String>,
    correlated: bool,
}

pub(crate) struct Compiler<'a> {
    source: &'a Source<'a>,
    store: &'a Store,
    behaviour: &'a Behaviour,
    variables: &'a HashMap<String, Value>,
    scopes: Vec<Scope>,
    common: Vec<Common>,
    /// The outermost scope a column was found in since the query being compiled began.
    reach: usize,
    next_common: usize,
    /// The grouping of the innermost block, while what follows it is compiled.
    grouping: Option<Grouping>,
    windows: Vec<WindowPlan>,
    /// WHERE of an Oracle block is being compiled: ROWNUM is not settled yet.
    in_where: bool,
    /// ROWNUM was met in the block being compiled.
    uses_row_number: bool,
}

/// What a query can name.
pub(crate) struct Surroundings<'a> {
    pub(crate) store: &'a Store,
    pub(crate) behaviour: &'a Behaviour,
    pub(crate) variables: &'a HashMap<String, Value>,
}

/// A query ready to run.
pub(crate) fn query(query: &Query<Spelled>, source: &Source<'_>, around: &Surroundings<'_>) -> Result<QueryPlan, Failure> {
    Compiler::new(source, around).query(query)
}

/// An expression without columns, ready to be worked out.
pub(crate) fn expression(expr: &Expr<Spelled>, source: &Source<'_>, around: &Surroundings<'_>) -> Result<Code, Failure> {
    Compiler::new(source, around).expr(expr)
}

type Outcome<T> = Result<T, Failure>;

fn invalid(message: impl Into<String>) -> Failure {
    Failure::new(FailureKind::Invalid, message)
}

impl<'a> Compiler<'a> {
    fn new(source: &'a Source<'a>, around: &Surroundings<'a>) -> Self {
        Compiler {
            source,
            store: around.store,
            behaviour: around.behaviour,
            variables: around.variables,
            scopes: Vec::new(),
            common: Vec::new(),
            next_common: 0,
            reach: usize::MAX,
            grouping: None,
            windows: Vec::new(),
            in_where: false,
            uses_row_number: false,
        }
    }

    fn dialect(&self) -> DialectName {
        self.behaviour.name()
    }

    fn query(&mut self, query: &Query<Spelled>) -> Outcome<QueryPlan> {
        if query.siblings
            || query.options.is_some_and(|o| o.end > o.first && self.source.tokens[o.first as usize].keyword == syntax::Keyword::FOR)
        {
            return Err(Failure::unknown("this clause behind the query"));
        }
        // A query inside an expression must not see the grouping around it.
        let grouping = self.grouping.take();
        let windows = std::mem::take(&mut self.windows);
        let in_where = std::mem::replace(&mut self.in_where, false);
        let uses_row_number = std::mem::replace(&mut self.uses_row_number, false);
        let known = self.common.len();
        let outer_reach = std::mem::replace(&mut self.reach, usize::MAX);
        let mut plan = self.query_inner(query);
        if let Ok(plan) = &mut plan {
            plan.correlated = self.reach < self.scopes.len();
        }
        self.reach = self.reach.min(outer_reach);
        self.common.truncate(known);
        self.grouping = grouping;
        self.windows = windows;
        self.in_where = in_where;
        self.uses_row_number = uses_row_number;
        plan
    }

    fn query_inner(&mut self, query: &Query<Spelled>) -> Outcome<QueryPlan> {
        let mut common = Vec::new();
        if let Some(with) = &query.with {
            for table in &with.tables {
                let mut plan = self.query(&table.query)?;
                if !table.columns.is_empty() {
                    plan.labels = table.columns.iter().map(|c| c.text.to_string()).collect();
                }
                self.check_names(&plan.labels)?;
                self.next_common += 1;
                let (name, labels) = (table.name.text.to_string(), plan.labels.clone());
                self.common.push(Common { name, number: self.next_common, labels, correlated: plan.correlated });
                common.push((self.next_common, Rc::new(plan)));
            }
        }
        let limit = self.limit(&query.limit)?;
        let mut plan = match &query.body {
            QueryBody::Select(select) => self.select(select, &query.order_by, limit)?,
            body => {
                let mut plan = self.body(body)?;
                plan = if plan.order.is_empty()
                    && plan.limit == Limit::default()
                    && plan.common.is_empty()
                    && !matches!(plan.body, Body::Select(_))
                {
                    plan
                } else {
                    let labels = plan.labels.clone();
                    QueryPlan {
                        common: Vec::new(),
                        body: Body::Nested(Box::new(plan)),
                        order: Vec::new(),
                        limit: Limit::default(),
                        labels,
                        correlated: false,
                    }
                };
                self.scopes.push(output_scope(&plan.labels));
                let order: Outcome<Vec<Key>> = query.order_by.iter().map(|k| self.output_key(k, plan.labels.len())).collect();
                self.scopes.pop();
                plan.order = order?;
                plan.limit = limit;
                plan
            }
        };
        common.append(&mut plan.common);
        plan.common = common;
        Ok(plan)
    }

    fn body(&mut self, body: &QueryBody<Spelled>) -> Outcome<QueryPlan> {
        let bare =
            |body, labels| QueryPlan { common: Vec::new(), body, order: Vec::new(), limit: Limit::default(), labels, correlated: false };
        match body {
            QueryBody::Select(select) => self.select(select, &[], Limit::default()),
            QueryBody::Nested(query, _) => self.query(query),
            QueryBody::SetOperation(operation) => {
                if operation.by_name {
                    return Err(Failure::unknown("set operations BY NAME"));
                }
                let left = Box::new(self.body(&operation.left)?);
                let right = Box::new(self.body(&operation.right)?);
                if left.labels.len() != right.labels.len() {
                    return Err(invalid(format!(
                        "the sides of this set operation have {} and {} columns",
                        left.labels.len(),
                        right.labels.len()
                    )));
                }
                let labels = left.labels.clone();
                let all = operation.quantifier == Some(SetQuantifier::All);
                let operator: SetOperator = operation.operator;
                Ok(bare(Body::Set { operator, all, left, right }, labels))
            }
            QueryBody::Values(values) => {
                let rows: Outcome<Vec<Vec<Code>>> = values.rows.iter().map(|row| row.iter().map(|e| self.expr(e)).collect()).collect();
                let rows = rows?;
                let width = rows.first().map_or(0, Vec::len);
                if rows.iter().any(|r| r.len() != width) {
                    return Err(invalid("the rows of VALUES differ in length"));
                }
                let prefix = match self.dialect() {
                    DialectName::Mysql | DialectName::Mariadb => "column_",
                    DialectName::Duckdb | DialectName::Spark => "col",
                    _ => "column",
                };
                let first = usize::from(!matches!(self.dialect(), DialectName::Mysql | DialectName::Mariadb | DialectName::Duckdb));
                let labels = (0..width).map(|i| format!("{prefix}{}", i + first)).collect();
                Ok(bare(Body::Values(rows), labels))
            }
            QueryBody::Table(..) => Err(Failure::unknown("TABLE as a query")),
        }
    }

    // --- limits --------------------------------------------------------------------------------

    fn limit(&mut self, clauses: &[LimitClause<Spelled>]) -> Outcome<Limit> {
        let spoken: &[DialectName] = &[DialectName::Oracle, DialectName::Tsql];
        let mut limit = Limit::default();
        for clause in clauses {
            let is_limit = matches!(clause.kind, LimitKind::All | LimitKind::Limit { .. } | LimitKind::OffsetComma(..));
            if is_limit && spoken.contains(&self.dialect()) {
                return Err(Failure::new(FailureKind::Syntax, format!("{} has no LIMIT", self.dialect().title())));
            }
            if matches!(clause.kind, LimitKind::Fetch { .. })
                && matches!(self.dialect(), DialectName::Mysql | DialectName::Sqlite | DialectName::Bigquery | DialectName::Spark)
            {
                return Err(Failure::new(FailureKind::Syntax, format!("{} has no FETCH", self.dialect().title())));
            }
            match &clause.kind {
                LimitKind::All => {}
                LimitKind::Limit { count, percent } => {
                    limit.count = Some(self.expr(count)?);
                    limit.percent = percent.map(|_| false);
                }
                LimitKind::OffsetComma(offset, count) => {
                    limit.offset = Some(self.expr(offset)?);
                    limit.count = Some(self.expr(count)?);
                }
                LimitKind::Offset { count, .. } => limit.offset = Some(self.expr(count)?),
                LimitKind::Fetch { count, percent, with_ties, .. } => {
                    let one = Code::Constant(Value::Integer(1));
                    limit.count = Some(count.as_ref().map_or(Ok(one), |c| self.expr(c))?);
                    limit.percent = percent.then_some(true);
                    limit.with_ties = *with_ties;
                }
            }
        }
        Ok(limit)
    }

    fn top(&mut self, top: &Top<Spelled>) -> Outcome<Limit> {
        Ok(Limit { count: Some(self.expr(&top.count)?), percent: top.percent.then_some(true), with_ties: top.with_ties, offset: None })
    }

    // --- one block -----------------------------------------------------------------------------

    fn select(&mut self, select: &Select<Spelled>, order_by: &[SortKey<Spelled>], mut limit: Limit) -> Outcome<QueryPlan> {
        self.refuse_clauses(select)?;
        if let Some(top) = &select.top {
            if limit != Limit::default() {
                return Err(invalid("TOP and OFFSET can't stand in one query").coded(Some("Msg 10741")));
            }
            if top.with_ties && order_by.is_empty() {
                return Err(invalid("TOP WITH TIES needs an ORDER BY").coded(Some("Msg 1062")));
            }
            limit = self.top(top)?;
        }
        if self.dialect() == DialectName::Tsql && limit.offset.is_some() && order_by.is_empty() {
            return Err(invalid("OFFSET needs an ORDER BY").coded(Some("Msg 102")));
        }
        self.scopes.push(Scope::default());
        let plan = self.select_in_scope(select, order_by, limit);
        self.scopes.pop();
        self.grouping = None;
        self.windows.clear();
        plan
    }

    fn refuse_clauses(&self, select: &Select<Spelled>) -> Outcome<()> {
        let refused = [
            (select.connect_by.is_some(), "CONNECT BY"),
            (!select.lateral_views.is_empty(), "LATERAL VIEW"),
            (!select.windows.is_empty(), "the WINDOW clause"),
            (select.into.is_some(), "SELECT INTO"),
            (select.trailing.is_some(), "this clause behind the block"),
            (matches!(select.quantifier, Some(SelectQuantifier::DistinctOn(_))), "DISTINCT ON"),
        ];
        match refused.iter().find(|(found, _)| *found) {
            Some((_, what)) => Err(Failure::unknown(what)),
            None => Ok(()),
        }
    }

    fn select_in_scope(&mut self, select: &Select<Spelled>, order_by: &[SortKey<Spelled>], limit: Limit) -> Outcome<QueryPlan> {
        let from = self.from_list(&select.from)?;
        let numbers_rows = self.dialect() == DialectName::Oracle;
        let width = self.scopes[self.scopes.len() - 1].columns.len() + usize::from(numbers_rows);
        self.in_where = true;
        if let Some(condition) = &select.condition {
            self.expect_condition(condition)?;
        }
        let filter = select.condition.as_ref().map(|e| self.expr(e)).transpose();
        self.in_where = false;
        let filter = filter?;
        let grouped = select.group_by.is_some()
            || select.having.is_some()
            || select.items.iter().any(|i| matches!(&i.value, SelectValue::Expr(e) if expression::has_aggregate(e)))
            || order_by.iter().any(|k| expression::has_aggregate(&k.expr));
        if grouped {
            let keys = self.group_keys(select)?;
            self.grouping = Some(Grouping { width, keys, aggregates: Vec::new() });
        }
        let sees_aliases = !matches!(self.dialect(), DialectName::Oracle | DialectName::Tsql | DialectName::Postgres);
        let having = select.having.clone().map(|e| if sees_aliases { self.aliases_written_out(e, select, false) } else { e });
        let having = having.as_ref().map(|e| self.expr(e)).transpose()?;
        let mut items = Vec::new();
        let mut labels = Vec::new();
        let mut aliases = Vec::new();
        for item in &select.items {
            self.item(item, &mut items, &mut labels, &mut aliases)?;
        }
        if select.items.is_empty() {
            self.star(None, &mut items, &mut labels)?;
        }
        let mut order: Outcome<Vec<Key>> = order_by.iter().map(|k| self.block_key(k, select, &items, &labels, &aliases)).collect();
        let distinct = matches!(select.quantifier, Some(SelectQuantifier::Distinct));
        if distinct && let Ok(keys) = &order {
            let foreign = keys.iter().any(|k| !items.contains(&k.code));
            if foreign && matches!(self.dialect(), DialectName::Tsql | DialectName::Postgres | DialectName::Oracle) {
                order = Err(invalid("with DISTINCT, ORDER BY can only name what is selected"));
            }
        }
        let mut order = order?;
        let qualify = select.qualify.clone().map(|e| self.aliases_written_out(e, select, false));
        let mut qualify = qualify.as_ref().map(|e| self.expr(e)).transpose()?;
        let mut windows = std::mem::take(&mut self.windows);
        let group = self.grouping.take().map(|g| GroupPlan { width: g.width, keys: g.keys, aggregates: g.aggregates });
        let base = group.as_ref().map_or(width, |g| g.width + g.keys.len() + g.aggregates.len());
        items.iter_mut().chain(order.iter_mut().map(|k| &mut k.code)).chain(qualify.as_mut()).for_each(|c| place_windows(c, base));
        windows.iter_mut().for_each(|w| w.arguments.iter_mut().for_each(|c| place_windows(c, base)));
        let keeps_order = self.uses_row_number;
        let select = SelectPlan { from, filter, numbers_rows, keeps_order, group, having, windows, qualify, items, distinct, order };
        Ok(QueryPlan { common: Vec::new(), body: Body::Select(Box::new(select)), order: Vec::new(), limit, labels, correlated: false })
    }

    /// A bare value is no condition in SQL Server and Oracle.
    fn expect_condition(&self, expr: &Expr<Spelled>) -> Outcome<()> {
        let number = matches!(&expr.without_parens().kind, ExprKind::Literal(Literal::Number(_) | Literal::Text(_)));
        match self.dialect() {
            DialectName::Tsql if number => Err(invalid("Msg 4145: a value stands where a condition is wanted")),
            DialectName::Oracle if number => Err(invalid("ORA-00920: a value stands where a condition is wanted")),
            _ => Ok(()),
        }
    }

    /// QUALIFY and, in most dialects, HAVING can name an entry of the list by its alias, where no column
    /// has that name, or (`first`) even then.
    fn aliases_written_out(&self, mut expr: Expr<Spelled>, select: &Select<Spelled>, first: bool) -> Expr<Spelled> {
        let name = expr.as_name().map(|n| n.text.clone());
        let Some(name) = name.filter(|n| first || self.find(None, n).is_none()) else {
            expr.exprs_mut(&mut |child| {
                let taken = std::mem::replace(child, Expr::made(ExprKind::Default));
                *child = self.aliases_written_out(taken, select, first);
            });
            return expr;
        };
        let meant = select.items.iter().find_map(|item| match (&item.alias, &item.value) {
            (Some(alias), SelectValue::Expr(value)) if alias.name.text.eq_ignore_ascii_case(&name) => Some(value.clone()),
            _ => None,
        });
        meant.unwrap_or(expr)
    }

    fn group_keys(&mut self, select: &Select<Spelled>) -> Outcome<Vec<Code>> {
        let Some(group) = &select.group_by else { return Ok(Vec::new()) };
        if group.all_columns || group.with_word.is_some() {
            return Err(Failure::unknown("this form of GROUP BY"));
        }
        let mut keys = Vec::new();
        for item in &group.items {
            let GroupItem::Expr(expr) = item else { return Err(Failure::unknown("ROLLUP, CUBE and GROUPING SETS")) };
            let lists = match &expr.kind {
                ExprKind::Row(items) => items.iter().collect(),
                _ => vec![expr],
            };
            for expr in lists {
                keys.push(self.group_key(expr, select)?);
            }
        }
        Ok(keys)
    }

    /// A key can be an ordinal or an alias of the select list, where the dialect has it so.
    fn group_key(&mut self, expr: &Expr<Spelled>, select: &Select<Spelled>) -> Outcome<Code> {
        let strict = matches!(self.dialect(), DialectName::Oracle | DialectName::Tsql);
        if !strict {
            if let ExprKind::Literal(Literal::Number(text)) = &expr.kind
                && let Some(item) = text.parse::<usize>().ok().and_then(|n| select.items.get(n.checked_sub(1)?))
                && let SelectValue::Expr(value) = &item.value
            {
                return self.expr(value);
            }
            if let Some(name) = expr.as_name()
                && self.find(None, &name.text).is_none()
                && let Some(item) =
                    select.items.iter().find(|i| i.alias.as_ref().is_some_and(|a| a.name.text.eq_ignore_ascii_case(&name.text)))
                && let SelectValue::Expr(value) = &item.value
            {
                return self.expr(value);
            }
        }
        self.expr(expr)
    }

    fn item(
        &mut self,
        item: &SelectItem<Spelled>,
        items: &mut Vec<Code>,
        labels: &mut Vec<String>,
        aliases: &mut Vec<(String, usize)>,
    ) -> Outcome<()> {
        match &item.value {
            SelectValue::Expr(expr) => {
                if let Some(alias) = &item.alias {
                    aliases.push((alias.name.text.to_lowercase().to_string(), items.len()));
                }
                labels.push(self.label(item, expr));
                items.push(self.expr(expr)?);
                Ok(())
            }
            SelectValue::Star(_, modifiers) if !modifiers.is_empty() => Err(Failure::unknown("changes to *")),
            SelectValue::Star(qualifier, _) => self.star(qualifier.as_ref().map(|q| q.last().text.as_str()), items, labels),
        }
    }

    fn star(&mut self, qualifier: Option<&str>, items: &mut Vec<Code>, labels: &mut Vec<String>) -> Outcome<()> {
        let scope = self.scopes[self.scopes.len() - 1].clone();
        let before = items.len();
        for (i, column) in scope.columns.iter().enumerate() {
            let wanted = match qualifier {
                Some(name) => column.relation.as_deref().is_some_and(|r| r.eq_ignore_ascii_case(name)),
                None => !column.merged,
            };
            if wanted {
                let code = self.grouped_column(i, &column.name)?;
                items.push(code);
                labels.push(column.name.clone());
            }
        }
        if items.len() == before {
            let what = qualifier.map_or_else(|| "* has no table to show columns of".to_string(), |q| format!("there is no table {q} here"));
            return Err(Failure::new(FailureKind::UnknownName, what));
        }
        Ok(())
    }

    // --- sort keys -----------------------------------------------------------------------------

    fn key(&self, key: &SortKey<Spelled>, code: Code) -> Key {
        Key { code, direction: key.direction, nulls: key.nulls.unwrap_or_else(|| self.behaviour.nulls(key.direction)) }
    }

    fn block_key(
        &mut self,
        key: &SortKey<Spelled>,
        select: &Select<Spelled>,
        items: &[Code],
        labels: &[String],
        aliases: &[(String, usize)],
    ) -> Outcome<Key> {
        if key.nulls.is_some() && matches!(self.dialect(), DialectName::Tsql | DialectName::Mysql | DialectName::Mariadb) {
            return Err(Failure::new(FailureKind::Syntax, format!("{} has no NULLS FIRST or LAST", self.dialect().title())));
        }
        if let Some(at) = self.ordinal(key, items.len())? {
            return Ok(self.key(key, items[at].clone()));
        }
        if let Some(name) = key.expr.as_name() {
            let lower = name.text.to_lowercase();
            if let Some((_, at)) = aliases.iter().find(|(a, _)| *a == lower) {
                return Ok(self.key(key, items[*at].clone()));
            }
            if self.find(None, &name.text).is_none()
                && let Some(at) = labels.iter().position(|l| l.to_lowercase() == lower)
            {
                return Ok(self.key(key, items[at].clone()));
            }
            let code = self.expr(&key.expr)?;
            return Ok(self.key(key, code));
        }
        // Inside an expression an alias is seen, too, but in PostgreSQL and SQL Server.
        let code = match self.dialect() {
            DialectName::Postgres | DialectName::Tsql => self.expr(&key.expr)?,
            dialect => {
                let first = matches!(dialect, DialectName::Oracle | DialectName::Bigquery | DialectName::Spark);
                let written_out = self.aliases_written_out(key.expr.clone(), select, first);
                self.expr(&written_out)?
            }
        };
        Ok(self.key(key, code))
    }

    fn output_key(&mut self, key: &SortKey<Spelled>, width: usize) -> Outcome<Key> {
        if let Some(at) = self.ordinal(key, width)? {
            return Ok(self.key(key, Code::Slot(0, at)));
        }
        let code = self.expr(&key.expr)?;
        Ok(self.key(key, code))
    }

    fn ordinal(&self, key: &SortKey<Spelled>, width: usize) -> Outcome<Option<usize>> {
        let ExprKind::Literal(Literal::Number(text)) = &key.expr.kind else { return Ok(None) };
        match text.parse::<usize>() {
            Ok(n) if (1..=width).contains(&n) => Ok(Some(n - 1)),
            _ => Err(invalid(format!("ORDER BY {text} is no place in the select list"))),
        }
    }

    fn from_list(&mut self, tables: &[syntax::tree::TableRef<Spelled>]) -> Outcome<From> {
        let mut all: Option<From> = None;
        for table in tables {
            all = Some(match all {
                None => self.table(table)?,
                Some(left) => self.cross(left, table)?,
            });
        }
        Ok(all.unwrap_or(From::Nothing))
    }
}

/// The columns of a query's result as a block sees them that sorts it.
fn output_scope(labels: &[String]) -> Scope {
    Scope { columns: labels.iter().map(|l| InSight { relation: None, name: l.clone(), merged: false }).collect() }
}

/// Gives windows their places behind the other columns.
fn place_windows(code: &mut Code, base: usize) {
    match code {
        Code::Slot(0, index) if *index >= WINDOW_BASE => *index = base + (*index - WINDOW_BASE),
        _ => expression::each_child(code, &mut |child| place_windows(child, base)),
    }
}
