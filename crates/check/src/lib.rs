//! Runs both sides of a translation on the same data and compares what they give.
//!
//! A run is about some data, a verdict about all: data is made to show what plausible mistakes
//! would change, and a choice that the source itself leaves open is told apart from a difference.

mod facts;
mod guess;
mod made;
mod outcome;
mod shrink;

use engines::{Dataset, Engine, EngineError};
use syntax::Dialect;
use values::{ResultSet, Row, Schema, Table, Tolerance};

pub use facts::QueryFacts;
pub use guess::guess_schema;

use outcome::{Comparison, Outcomes};

/// How a check is done.
#[derive(Debug, Clone, PartialEq)]
pub struct Settings {
    /// How many databases are made.
    pub trials: usize,
    /// What they are drawn from.
    pub seed: u64,
    /// Most rows made a table.
    pub max_rows: usize,
    /// Most rows of a result.
    pub row_cap: usize,
    /// Labels must be the same, case aside.
    pub compare_labels: bool,
    /// The tables are on both sides already: nothing is loaded, nothing made.
    pub in_place: bool,
    /// How far apart numbers may be.
    pub tolerance: Tolerance,
}

impl Default for Settings {
    fn default() -> Self {
        Settings {
            trials: 50,
            seed: 1,
            max_rows: 25,
            row_cap: 100_000,
            compare_labels: false,
            in_place: false,
            tolerance: Tolerance::default(),
        }
    }
}

/// What was found.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum VerdictKind {
    /// Both gave the same on all data tried.
    Agree,
    /// They gave something else on some data.
    Differ,
    /// Nothing could be established.
    Undetermined,
    /// There is no translation to check.
    Refused,
    /// A side could not be run.
    Failed,
}

impl VerdictKind {
    /// The word used in output.
    pub const fn as_str(self) -> &'static str {
        match self {
            VerdictKind::Agree => "agree",
            VerdictKind::Differ => "differ",
            VerdictKind::Undetermined => "undetermined",
            VerdictKind::Refused => "refused",
            VerdictKind::Failed => "failed",
        }
    }
}

/// A verdict and what it stands on.
#[derive(Debug, Clone, PartialEq)]
pub struct Verdict {
    /// What was found.
    pub kind: VerdictKind,
    /// Why, where that isn't plain.
    pub reason: Option<String>,
    /// Databases tried: the user's own and made ones.
    pub databases: usize,
    /// Rows of the source's results that were compared.
    pub rows_compared: usize,
    /// The order of rows was compared.
    pub ordered: bool,
    /// On some data the source's own result was a choice of the engine.
    pub free_choice: bool,
    /// Labels that differ, source and target; not counted unless asked for.
    pub labels: Option<(Vec<String>, Vec<String>)>,
    /// The data that shows a difference, and what both sides gave.
    pub counterexample: Option<Counterexample>,
}

/// Data on which the two sides differ.
#[derive(Debug, Clone, PartialEq)]
pub struct Counterexample {
    /// The tables the query reads, with their rows.
    pub tables: Vec<(Table, Vec<Row>)>,
    /// What the source gave.
    pub source: Result<ResultSet, EngineError>,
    /// What the target gave.
    pub target: Result<ResultSet, EngineError>,
}

/// Two queries that should be the same.
#[derive(Debug, Clone, Copy)]
pub struct Pair<'a> {
    /// The source's query.
    pub source: &'a str,
    /// Its dialect.
    pub from: &'a Dialect,
    /// The target's query.
    pub target: &'a str,
}

impl Verdict {
    fn of(kind: VerdictKind, reason: Option<String>) -> Verdict {
        Verdict { kind, reason, databases: 0, rows_compared: 0, ordered: false, free_choice: false, labels: None, counterexample: None }
    }

    /// A verdict without a run.
    pub fn without_run(kind: VerdictKind, reason: impl Into<String>) -> Verdict {
        Verdict::of(kind, Some(reason.into()))
    }
}

/// The two engines of a check.
pub struct Engines<'a> {
    /// Runs the source's query.
    pub source: &'a mut dyn Engine,
    /// Runs the target's.
    pub target: &'a mut dyn Engine,
}

/// Checks `pair` on the user's data, if there is some, then on made data.
pub fn check(pair: Pair<'_>, engines: &mut Engines<'_>, data: Option<&Dataset>, schema: &Schema, settings: &Settings) -> Verdict {
    let facts = QueryFacts::of(pair.source, pair.from);
    let mut run = Run { pair, facts: &facts, settings, verdict: Verdict::of(VerdictKind::Agree, None) };
    run.verdict.ordered = facts.ordered;
    if settings.in_place {
        run.try_one(engines, None);
        return run.verdict;
    }
    if let Some(data) = data {
        let tables: Vec<(Table, Vec<Row>)> =
            data.tables.iter().map(|(t, r)| (t.clone(), r.iter().take(settings.row_cap).cloned().collect())).collect();
        if !run.try_one(engines, Some(tables)) {
            return run.verdict;
        }
    }
    let used = facts.used_tables(schema);
    for trial in 0..settings.trials {
        let tables = made::database(&used, &facts, settings, trial as u64);
        if !run.try_one(engines, Some(tables)) {
            return run.verdict;
        }
    }
    run.verdict
}

struct Run<'a> {
    pair: Pair<'a>,
    facts: &'a QueryFacts,
    settings: &'a Settings,
    verdict: Verdict,
}

impl Run<'_> {
    /// Tries one database; false when the verdict is settled.
    fn try_one(&mut self, engines: &mut Engines<'_>, tables: Option<Vec<(Table, Vec<Row>)>>) -> bool {
        if let Some(tables) = &tables
            && let Err(error) = engines.source.load(tables).and_then(|()| engines.target.load(tables))
        {
            self.verdict.kind = VerdictKind::Failed;
            self.verdict.reason = Some(error.to_string());
            return false;
        }
        self.verdict.databases += 1;
        let compared = self.compare(engines, tables.as_deref());
        self.verdict.rows_compared += compared.rows;
        self.verdict.free_choice |= compared.free_choice;
        if self.verdict.labels.is_none() {
            self.verdict.labels = compared.labels;
        }
        match compared.result {
            Comparison::Same => true,
            Comparison::Failed(reason) => {
                self.verdict.kind = VerdictKind::Failed;
                self.verdict.reason = Some(reason);
                false
            }
            Comparison::Open(reason) => {
                self.verdict.kind = VerdictKind::Undetermined;
                self.verdict.reason = Some(reason);
                false
            }
            Comparison::Different { reason, source, target } => {
                self.verdict.kind = VerdictKind::Differ;
                self.verdict.reason = Some(reason);
                let tables = tables.unwrap_or_default();
                let found = Counterexample { tables, source, target };
                let (smallest, reason) = self.shrunk(found, engines);
                self.verdict.counterexample = Some(smallest);
                self.verdict.reason = reason.or(self.verdict.reason.take());
                false
            }
        }
    }

    fn compare(&self, engines: &mut Engines<'_>, tables: Option<&[(Table, Vec<Row>)]>) -> outcome::Compared {
        Outcomes { pair: self.pair, facts: self.facts, settings: self.settings, tables }.compare(engines.source, engines.target)
    }

    /// The smallest database found that still shows a difference, and what differs there.
    fn shrunk(&self, found: Counterexample, engines: &mut Engines<'_>) -> (Counterexample, Option<String>) {
        let used: Vec<String> = self.facts.tables.iter().map(|t| t.to_lowercase()).collect();
        let mut shown = found;
        shown.tables.retain(|(t, _)| used.contains(&t.name.to_lowercase()));
        let mut told = None;
        let smallest = shrink::shrink(shown, &mut |tables| {
            engines.source.load(tables).and_then(|()| engines.target.load(tables)).ok()?;
            match self.compare(engines, Some(tables)).result {
                Comparison::Different { source, target, reason } => {
                    told = Some(reason);
                    Some((source, target))
                }
                _ => None,
            }
        });
        (smallest, told)
    }
}
