//! Running a plan.

mod expression;
mod group;
mod hierarchy;
mod join;
mod like;
mod query;
mod recursive;
mod sort;
mod source;

pub(crate) use group::input as window_input;
pub(crate) use like::{Pattern, like};
pub(crate) use sort::{compare_folded, compare_keys, fold, sort_places};

use std::cell::{Cell, RefCell};
use std::rc::Rc;
use std::time::Instant;

use jiff::civil::DateTime;
use rustc_hash::{FxHashMap, FxHashSet};
use values::{ResultSet, Row, Value};

use crate::behaviour::Behaviour;
use crate::compare::GroupKey;
use crate::failure::{Failure, FailureKind, Outcome};
use crate::observe::Watch;
use crate::plan::{Code, From, Key, QueryPlan};
use crate::shuffle::Random;
use crate::store::Store;

/// More rows than this in one step end the query with an error.
pub(crate) const MOST_ROWS: usize = 20_000_000;

/// The row an expression is worked out over, and those around it.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Environment<'a> {
    pub(crate) row: &'a [Value],
    pub(crate) outer: Option<&'a Environment<'a>>,
    /// ROWNUM of the row, where it is being given.
    pub(crate) row_number: i64,
}

impl<'a> Environment<'a> {
    pub(crate) fn of(row: &'a [Value], outer: Outer<'a>) -> Environment<'a> {
        Environment { row, outer, row_number: 0 }
    }
}

/// No row.
pub(crate) const NOTHING: Environment<'static> = Environment { row: &[], outer: None, row_number: 0 };

pub(crate) type Outer<'e> = Option<&'e Environment<'e>>;

/// The values a subquery or a list gives, ready to be looked among.
#[derive(Default)]
struct Members {
    keys: FxHashSet<GroupKey>,
    has_null: bool,
}

/// What a statement knows of its session.
#[derive(Debug, Clone)]
pub(crate) struct Session {
    pub(crate) seed: u64,
    /// The moment the statement began.
    pub(crate) now: DateTime,
    pub(crate) watch: Watch,
    /// When the statement must have ended.
    pub(crate) deadline: Option<Instant>,
    /// The user wants an end.
    pub(crate) stopped: fn() -> bool,
}

/// Runs plans over one store.
pub(crate) struct Runner<'a> {
    pub(crate) store: &'a Store,
    pub(crate) behaviour: &'a Behaviour,
    pub(crate) session: &'a Session,
    pub(crate) random: RefCell<Random>,
    /// Results of common table expressions.
    common: RefCell<FxHashMap<usize, Rc<Vec<Row>>>>,
    /// Results of subqueries that depend on no row around them, by the place of their plan.
    settled: RefCell<FxHashMap<*const QueryPlan, Rc<Vec<Row>>>>,
    /// By the address of the query or list in the plan.
    members: RefCell<FxHashMap<usize, Rc<Members>>>,
    /// The rows of tables by their keys, by the place in the plan.
    indexes: RefCell<FxHashMap<*const From, Rc<join::Indexed>>>,
    /// A table of a join is being read: whatever order it had, the join has none.
    in_join: Cell<bool>,
    /// Steps taken, so that the clock is looked at now and then.
    steps: Cell<u32>,
}

/// The result of a whole query.
pub(crate) fn run(plan: &QueryPlan, store: &Store, behaviour: &Behaviour, session: &Session) -> Outcome<ResultSet> {
    let runner = Runner::new(store, behaviour, session);
    let mut rows = runner.query(plan, None, None)?;
    if behaviour.conditions_are_numbers {
        for value in rows.iter_mut().flatten() {
            if let Value::Boolean(b) = value {
                *value = Value::Integer(i64::from(*b));
            }
        }
    }
    Ok(ResultSet { columns: plan.labels.clone(), types: Vec::new(), rows })
}

/// The value of an expression without columns.
pub(crate) fn value(code: &Code, store: &Store, behaviour: &Behaviour, session: &Session) -> Outcome<Value> {
    Runner::new(store, behaviour, session).eval(code, &NOTHING)
}

impl<'a> Runner<'a> {
    pub(crate) fn new(store: &'a Store, behaviour: &'a Behaviour, session: &'a Session) -> Runner<'a> {
        Runner {
            store,
            behaviour,
            session,
            random: RefCell::new(Random::new(session.seed)),
            common: RefCell::default(),
            settled: RefCell::default(),
            members: RefCell::default(),
            indexes: RefCell::default(),
            in_join: Cell::new(false),
            steps: Cell::new(0),
        }
    }

    /// Counts a row that is looked at; an error once the time is up or the user wants an end.
    pub(crate) fn go_on(&self) -> Outcome<()> {
        const LOOK_EVERY: u32 = 4096;
        let steps = self.steps.get().wrapping_add(1);
        self.steps.set(steps);
        if !steps.is_multiple_of(LOOK_EVERY) {
            return Ok(());
        }
        if (self.session.stopped)() {
            return Err(Failure::new(FailureKind::Stopped, "stopped"));
        }
        match self.session.deadline {
            Some(deadline) if Instant::now() > deadline => Err(Failure::new(FailureKind::TimedOut, "the time is up")),
            _ => Ok(()),
        }
    }

    /// An order drawn from the seed.
    pub(crate) fn shuffle<T>(&self, items: &mut [T]) {
        self.random.borrow_mut().shuffle(items);
    }

    /// The values of several codes.
    pub(crate) fn eval_all<'c>(&self, codes: impl IntoIterator<Item = &'c Code>, env: &Environment<'_>) -> Outcome<Vec<Value>> {
        codes.into_iter().map(|c| self.eval(c, env)).collect()
    }

    pub(crate) fn keys_of(&self, keys: &[Key], env: &Environment<'_>) -> Outcome<Vec<Value>> {
        self.eval_all(keys.iter().map(|k| &k.code), env)
    }
}

/// The error of a step that makes too many rows.
pub(crate) fn too_many(step: &str, most: usize) -> Failure {
    Failure::new(FailureKind::TooLarge, format!("{step} makes more than {most} rows; is a condition missing?"))
}
