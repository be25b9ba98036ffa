//! An in-process engine that behaves like a given dialect.
//!
//! It runs the tree *as spelled* by that dialect's rules and shares nothing with the translator but
//! the parser and the plain data of `values`. What it doesn't know it refuses by name. Every scan of
//! a table comes in an order drawn from a seed, so that what depends on an order nobody promised
//! shows.
//!
//! The way of a statement: [`compile`] looks names up, settles types and makes a [`plan`];
//! [`execute`] runs it over the [`store`]. What a dialect does lies in [`behaviour`] (facts),
//! [`types`], [`convert`], [`arithmetic`], [`compare`], [`aggregate`], [`window`] and the tables of
//! [`function`].

mod aggregate;
mod arithmetic;
mod behaviour;
mod change;
mod compare;
mod compile;
mod convert;
mod define;
mod execute;
mod failure;
mod function;
mod gathered;
mod lacks;
mod mask;
mod merge;
mod moment;
mod observe;
mod plan;
mod plan_walk;
mod shuffle;
mod sqlite_value;
mod statistics;
mod store;
mod table_function;
mod types;
mod window;

pub use failure::{Failure, FailureKind};
pub use observe::{Bytes, Event, Observed, Seen};

use std::collections::HashMap;
use std::rc::Rc;
use std::time::{Duration, Instant};

use jiff::civil::DateTime;
use syntax::tree::{Expr, Spelled, Statement, StatementKind};
use syntax::{Dialect, Statements, lex};
use values::{ResultSet, Row, Table, Value};

use behaviour::Behaviour;
use compile::Variable;
use execute::Session;
use failure::Outcome;
use observe::Watch;
use store::{SourceText, Store};
use types::Type;

/// A type's name, for people; none where values decide it.
fn type_name(ty: &Type) -> String {
    match ty.neutral() {
        values::DataType::Unknown => String::new(),
        known => known.to_string(),
    }
}

/// A database in memory that speaks one dialect.
#[derive(Debug, Clone)]
pub struct StandIn {
    behaviour: Behaviour,
    store: Store,
    session: Session,
    /// The time at which the clock was stopped.
    clock: Option<DateTime>,
    /// Script variables, by lower-case name with their sign.
    variables: HashMap<String, Variable>,
    /// How long a statement may run.
    timeout: Option<Duration>,
}

impl StandIn {
    /// An empty database.
    pub fn new(dialect: Dialect) -> StandIn {
        StandIn {
            behaviour: Behaviour::of(dialect),
            store: Store::default(),
            session: Session { seed: 0, now: now(), watch: Watch::default(), deadline: None, stopped: || false },
            clock: None,
            variables: HashMap::new(),
            timeout: None,
        }
    }

    /// Ends statements that run longer, and those that run when `stopped` becomes true, with an error.
    pub fn set_limits(&mut self, timeout: Option<Duration>, stopped: fn() -> bool) {
        self.timeout = timeout;
        self.session.stopped = stopped;
    }

    /// Stops the clock: every statement takes this, in UTC, for the present.
    pub fn stop_clock(&mut self, at: DateTime) {
        self.clock = Some(at);
    }

    /// The dialect spoken.
    pub fn dialect(&self) -> &Dialect {
        &self.behaviour.dialect
    }

    /// Sets what every free choice of order is drawn from.
    pub fn set_seed(&mut self, seed: u64) {
        self.session.seed = seed;
    }

    /// Makes a table with rows, in place of one of the same name.
    pub fn load(&mut self, table: &Table, rows: Vec<Row>) {
        self.store.load(table, rows, &self.behaviour);
    }

    /// Removes all tables.
    pub fn clear(&mut self) {
        self.store = Store::default();
    }

    /// Runs every statement of `sql`; gives a result for each query.
    pub fn run(&mut self, sql: &str) -> Result<Vec<ResultSet>, Failure> {
        let dialect = self.behaviour.dialect.clone();
        let source = Rc::new(SourceText { sql: sql.to_string(), tokens: lex(sql, &dialect) });
        let tokens = &source.tokens;
        let mut results = Vec::new();
        for parsed in Statements::new(sql, tokens, &dialect) {
            let place = |span: syntax::tree::Span| {
                let first = tokens.get(span.first as usize).map_or(sql.len(), |t| t.start as usize);
                let end = tokens.get((span.end as usize).saturating_sub(1)).map_or(sql.len(), |t| t.end as usize);
                (first, end.max(first))
            };
            let tree = parsed.tree.map_err(|e| Failure::new(FailureKind::Syntax, e.message).at(place(e.span)))?;
            if let StatementKind::Query(query) = &tree.kind {
                lacks::check(query, dialect.name, place)?;
            }
            self.session.now = self.clock.unwrap_or_else(now);
            self.session.deadline = self.timeout.map(|timeout| Instant::now() + timeout);
            match self.statement(&tree, &source) {
                Ok(Some(result)) => results.push(result),
                Ok(None) => {}
                Err(failure) => return Err(failure.or_at(place(tree.span))),
            }
        }
        Ok(results)
    }

    /// Runs every statement of `sql` and tells also what was met.
    pub fn observe(&mut self, sql: &str) -> (Result<Vec<ResultSet>, Failure>, Observed) {
        self.session.watch = Watch::on();
        let results = self.run(sql);
        (results, std::mem::take(&mut self.session.watch).taken())
    }

    fn surroundings(&self) -> compile::Surroundings<'_> {
        let watching = self.session.watch.is_on();
        compile::Surroundings { store: &self.store, behaviour: &self.behaviour, variables: &self.variables, watching }
    }

    fn rows_of(&self, plan: &plan::QueryPlan) -> Outcome<Vec<Row>> {
        Ok(execute::run(plan, &self.store, &self.behaviour, &self.session)?.rows)
    }

    /// An expression without columns.
    fn value(&self, expr: &Expr<Spelled>, source: &Rc<SourceText>) -> Outcome<Value> {
        let typed = compile::expression(expr, source, &self.surroundings())?;
        execute::value(&typed.code, &self.store, &self.behaviour, &self.session)
    }

    fn statement(&mut self, tree: &Statement<Spelled>, source: &Rc<SourceText>) -> Outcome<Option<ResultSet>> {
        match &tree.kind {
            StatementKind::Query(query) if self.select_into(query, source)? => {}
            StatementKind::Query(query) => {
                let plan = compile::query(query, source, &self.surroundings())?;
                let mut result = execute::run(&plan, &self.store, &self.behaviour, &self.session)?;
                result.types = plan.types.iter().map(type_name).collect();
                return Ok(Some(result));
            }
            StatementKind::Insert(insert) => self.insert(insert, source)?,
            StatementKind::Update(update) => self.update(update, source)?,
            StatementKind::Delete(delete) => self.delete(delete, source)?,
            StatementKind::Merge(merge) => self.merge(merge, source)?,
            StatementKind::CreateTable(create) => self.create_table(create, source)?,
            StatementKind::CreateView(view) => self.create_view(view, source),
            StatementKind::CreateType(created) => self.create_type(created)?,
            StatementKind::CreateFunction(function) => self.create_function(function, source),
            StatementKind::Declare(declarations) => {
                for declaration in declarations {
                    let ty = Type::named(&declaration.type_name, &self.behaviour).unwrap_or(Type::Any);
                    let value = match &declaration.value {
                        Some(value) => self.value(value, source)?,
                        None => Value::Null,
                    };
                    self.declare(&declaration.name, value, ty)?;
                }
            }
            StatementKind::SetVariable(name, value) => {
                let value = self.value(value, source)?;
                let ty = self.variables.get(name.to_lowercase().as_str()).map_or(Type::Any, |v| v.ty.clone());
                self.declare(name, value, ty)?;
            }
            StatementKind::Directive | StatementKind::Use(_) => {}
            StatementKind::Other(words) => self.other(words, tree, source)?,
        }
        Ok(None)
    }

    fn declare(&mut self, name: &str, value: Value, ty: Type) -> Outcome<()> {
        let from = convert::of_value(&value);
        let value = convert::convert(value, &from, &ty, convert::How::EXPLICIT, &self.behaviour)?;
        let ty = if ty == Type::Any { from } else { ty };
        self.variables.insert(name.to_lowercase(), Variable { value, ty });
        Ok(())
    }

    /// Statements without effect on results, and DROP.
    fn other(&mut self, words: &str, tree: &Statement<Spelled>, source: &Rc<SourceText>) -> Outcome<()> {
        let upper = words.to_uppercase();
        let strings: Vec<&str> = source
            .tokens
            .get(tree.span.first as usize..tree.span.end as usize)
            .unwrap_or(&[])
            .iter()
            .map(|t| t.text(&source.sql))
            .collect();
        if upper.starts_with("DROP") || upper.starts_with("TRUNCATE") {
            let Some(name) = strings.iter().skip(2).find(|t| !matches!(t.to_uppercase().as_str(), "IF" | "EXISTS" | "TABLE")) else {
                return Ok(());
            };
            let name = name.trim_matches(['"', '`', '[', ']']);
            if upper.starts_with("DROP") {
                self.store.remove(name);
            } else if let Some(stored) = self.store.table_mut(name) {
                stored.rows = Rc::default();
            }
            return Ok(());
        }
        let harmless = ["COMMIT", "CREATE INDEX", "CREATE UNIQUE", "BEGIN", "ANALYZE", "COMMENT", "ALTER SESSION", "SET ", "GRANT"];
        if harmless.iter().any(|h| upper.starts_with(h)) {
            return Ok(());
        }
        Err(Failure::unknown(&format!("the statement {}", upper.split_whitespace().take(2).collect::<Vec<_>>().join(" "))))
    }
}

/// The clock, in UTC.
fn now() -> DateTime {
    jiff::Timestamp::now().to_zoned(jiff::tz::TimeZone::UTC).datetime()
}
