//! An in-process engine that behaves like a given dialect.
//!
//! It runs the tree *as spelled* by that dialect's rules and shares nothing with the translator but
//! the parser and the plain data of `values`. What it doesn't know it refuses by name. Every scan of
//! a table comes in an order drawn from a seed, so that what depends on an order nobody promised
//! shows.

mod aggregate;
mod arithmetic;
mod behaviour;
mod compare;
mod compile;
mod convert;
mod execute;
mod failure;
mod function;
mod plan;
mod shuffle;
mod store;
mod window;

pub use failure::{Failure, FailureKind};

use std::collections::HashMap;

use syntax::tree::{Expr, Spelled, Statement, StatementKind};
use syntax::{Dialect, Statements, lex};
use values::{ResultSet, Row, Table, Value};

use behaviour::Behaviour;
use store::Store;

/// A database in memory that speaks one dialect.
#[derive(Debug, Clone)]
pub struct StandIn {
    behaviour: Behaviour,
    store: Store,
    seed: u64,
    /// Script variables, by lower-case name with their sign.
    variables: HashMap<String, Value>,
}

impl StandIn {
    /// An empty database.
    pub fn new(dialect: Dialect) -> StandIn {
        StandIn { behaviour: Behaviour::of(dialect), store: Store::default(), seed: 0, variables: HashMap::new() }
    }

    /// The dialect spoken.
    pub fn dialect(&self) -> &Dialect {
        &self.behaviour.dialect
    }

    /// Sets what every free choice of order is drawn from.
    pub fn set_seed(&mut self, seed: u64) {
        self.seed = seed;
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
        let tokens = lex(sql, &dialect);
        let mut results = Vec::new();
        for parsed in Statements::new(sql, &tokens, &dialect) {
            let place = |span: syntax::tree::Span| {
                let first = tokens.get(span.first as usize).map_or(sql.len(), |t| t.start as usize);
                let end = tokens.get((span.end as usize).saturating_sub(1)).map_or(sql.len(), |t| t.end as usize);
                (first, end.max(first))
            };
            let tree = parsed.tree.map_err(|e| Failure::new(FailureKind::Syntax, e.message).at(place(e.span)))?;
            let source = compile::Source { sql, tokens: &tokens };
            match self.statement(&tree, &source) {
                Ok(Some(result)) => results.push(result),
                Ok(None) => {}
                Err(failure) => return Err(failure.or_at(place(tree.span))),
            }
        }
        Ok(results)
    }

    fn surroundings(&self) -> compile::Surroundings<'_> {
        compile::Surroundings { store: &self.store, behaviour: &self.behaviour, variables: &self.variables }
    }

    /// An expression without columns.
    fn value(&self, expr: &Expr<Spelled>, source: &compile::Source<'_>) -> Result<Value, Failure> {
        let code = compile::expression(expr, source, &self.surroundings())?;
        execute::value(&code, &self.store, &self.behaviour)
    }

    fn statement(&mut self, tree: &Statement<Spelled>, source: &compile::Source<'_>) -> Result<Option<ResultSet>, Failure> {
        match &tree.kind {
            StatementKind::Query(query) => {
                let plan = compile::query(query, source, &self.surroundings())?;
                let result = execute::run(&plan, &self.store, &self.behaviour, self.seed)?;
                Ok(Some(result))
            }
            StatementKind::CreateTable(create) if create.query.is_none() => {
                self.store.create(create, &self.behaviour);
                Ok(None)
            }
            StatementKind::Insert(insert) => {
                let Some(query) = &insert.source else {
                    return Err(Failure::unknown("INSERT with DEFAULT VALUES"));
                };
                let plan = compile::query(query, source, &self.surroundings())?;
                let result = execute::run(&plan, &self.store, &self.behaviour, self.seed)?;
                self.store.insert(insert, result.rows, &self.behaviour)?;
                Ok(None)
            }
            StatementKind::Declare(declarations) => {
                for declaration in declarations {
                    let value = match &declaration.value {
                        Some(value) => self.value(value, source)?,
                        None => Value::Null,
                    };
                    self.variables.insert(declaration.name.to_lowercase().to_string(), value);
                }
                Ok(None)
            }
            StatementKind::SetVariable(name, value) => {
                let value = self.value(value, source)?;
                self.variables.insert(name.to_lowercase().to_string(), value);
                Ok(None)
            }
            StatementKind::Directive | StatementKind::Use(_) => Ok(None),
            StatementKind::Other(words)
                if words.starts_with("COMMIT") || words.starts_with("CREATE INDEX") || words.starts_with("CREATE UNIQUE") =>
            {
                Ok(None)
            }
            _ => Err(Failure::unknown("a statement of this kind")),
        }
    }
}
