//! Runs both sides of a translation on the same data and compares what they give.
//!
//! A run is about some data, a verdict about all: data is made to show what plausible mistakes
//! would change, and a choice that the source itself leaves open is distinguished from a difference.

mod alike;
mod assumption;
mod bind;
mod coverage;
mod datagen;
mod facts;
mod infer_schema;
mod join_graph;
mod localize;
mod nodes;
mod outcome;
pub mod proof;
mod shrink;
mod trial;

use engines::{Bytes, Dataset, Engine, EngineError};
use meaning::{Breach, Capabilities};
use syntax::Dialect;
use values::{ResultSet, Row, Schema, Table, Tolerance};

pub use assumption::Assumption;
pub use bind::{Bind, bare_name, read as read_bind};
pub use coverage::Case;
pub use facts::QueryFacts;
pub use infer_schema::{infer_schema, infer_schemas};

use nodes::Text;
use trial::Run;

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
    /// Data is looked for that breaks one assumption and makes a difference.
    pub examples: bool,
    /// More databases are made until all has come to pass that can, or nothing new does.
    pub until_reached: bool,
    /// How far apart numbers may be.
    pub tolerance: Tolerance,
    /// Values of parameters; for those without one values are made.
    pub binds: Vec<Bind>,
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
            examples: true,
            until_reached: false,
            tolerance: Tolerance::default(),
            binds: Vec::new(),
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

/// Fewer rows than these, compared in all databases together, are next to nothing.
pub const FEW_ROWS: usize = 10;

/// A verdict and what it rests on.
#[derive(Debug, Clone, PartialEq)]
pub struct Verdict {
    /// What was found.
    pub kind: VerdictKind,
    /// Why, where that isn't plain.
    pub reason: Option<String>,
    /// Databases tried: the user's own and made ones.
    pub databases: usize,
    /// Made ones beside them on which the source itself fails.
    pub lost: usize,
    /// Rows of the source's results that were compared.
    pub rows_compared: usize,
    /// The order of rows was compared.
    pub ordered: bool,
    /// A change of data: compared were the rows of the tables afterwards.
    pub changes: bool,
    /// On some data the source's own result was a choice of the engine.
    pub free_choice: bool,
    /// Labels that differ, source and target; not counted unless asked for.
    pub labels: Option<(Vec<String>, Vec<String>)>,
    /// The data that shows a difference, and what both sides gave.
    pub counterexample: Option<Counterexample>,
    /// The values that parameters had where the verdict was found.
    pub binds: Vec<Bind>,
    /// They were made; where it agrees, they are one set of several.
    pub binds_made: bool,
    /// Where in the source the difference starts, if that could be found.
    pub part: Option<Part>,
    /// The codes of what is assumed.
    pub assuming: Vec<&'static str>,
    /// Those of them that the user's own data breaks, where it shows a difference.
    pub breaks: Vec<&'static str>,
    /// For each assumption that data can break, data on which the results differ, if some was found.
    pub examples: Vec<(&'static str, Option<Example>)>,
    /// What can come to pass in the source's query, and whether it did.
    pub cases: Vec<Case>,
}

/// A part of the source's text.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Part {
    /// Its words.
    pub text: String,
    /// First byte and the byte after the last.
    pub place: Bytes,
    /// Its line, from 1.
    pub line: usize,
}

/// Data on which the sides differ, and how.
#[derive(Debug, Clone, PartialEq)]
pub struct Example {
    /// What differs.
    pub reason: String,
    /// Where.
    pub counterexample: Counterexample,
}

impl Example {
    fn of(
        reason: String,
        tables: Vec<(Table, Vec<Row>)>,
        source: Result<ResultSet, EngineError>,
        target: Result<ResultSet, EngineError>,
    ) -> Example {
        Example { reason, counterexample: Counterexample { tables, source, target } }
    }
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
    /// Its dialect.
    pub to: &'a Dialect,
    /// What the translation assumes; `None` for one by another hand, of which only what the servers'
    /// settings make of strings is assumed.
    pub assumptions: Option<&'a [Assumption]>,
}

impl Verdict {
    /// The verdict of a check that went on from another.
    fn after(mut self, before: Verdict) -> Verdict {
        self.databases += before.databases;
        self.lost += before.lost;
        self.rows_compared += before.rows_compared;
        self.free_choice |= before.free_choice;
        self.labels = self.labels.or(before.labels);
        for (case, other) in self.cases.iter_mut().zip(&before.cases) {
            case.reached |= other.reached;
        }
        for (own, other) in self.examples.iter_mut().zip(before.examples) {
            own.1 = own.1.take().or(other.1);
        }
        self
    }

    fn of(kind: VerdictKind, reason: Option<String>) -> Verdict {
        Verdict {
            kind,
            reason,
            databases: 0,
            lost: 0,
            rows_compared: 0,
            ordered: false,
            changes: false,
            free_choice: false,
            labels: None,
            counterexample: None,
            binds: Vec::new(),
            binds_made: false,
            part: None,
            assuming: Vec::new(),
            breaks: Vec::new(),
            examples: Vec::new(),
            cases: Vec::new(),
        }
    }

    /// In words, what can come to pass in the source's query and didn't.
    pub fn not_reached(&self) -> Vec<&str> {
        self.cases.iter().filter(|case| !case.reached).map(|case| case.what.as_str()).collect()
    }

    /// How many of the cases came to pass.
    pub fn reached(&self) -> usize {
        self.cases.len() - self.not_reached().len()
    }

    /// It agrees on next to nothing: few rows were compared, or most of what can come to pass didn't.
    pub fn is_weak(&self) -> bool {
        self.kind == VerdictKind::Agree && (self.rows_compared < FEW_ROWS || self.reached() * 2 < self.cases.len())
    }

    /// The verdict in words: an agreement on next to nothing is called weak.
    pub fn word(&self) -> &'static str {
        if self.is_weak() { "agree (weak)" } else { self.kind.as_str() }
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
    let mut assumptions = pair.assumptions.map(<[Assumption]>::to_vec).unwrap_or_default();
    // A translation made without this schema didn't know which columns are strings.
    for assumption in Assumption::of_settings(pair.source, pair.from, pair.to, schema) {
        if !assumptions.iter().any(|a| a.code == assumption.code) {
            assumptions.push(assumption);
        }
    }
    // MariaDB may run what is written for MySQL: what it passes over counts.
    let running = |engine: &dyn Engine| Capabilities::of(engine.dialect()).letters;
    for assumption in &mut assumptions {
        if let Some(Breach::Strings { source, target, only_like: false }) = &mut assumption.breach {
            (*source, *target) = (running(engines.source), running(engines.target));
        }
    }
    // A language's own collation sorts 'a' before 'B'; the other side may not.
    if engines.source.sorts_by_code() != engines.target.sorts_by_code() {
        assumptions.push(Assumption { code: "text.collation", breach: Some(Breach::TextOrder) });
    }
    let source = Text::read(pair.source, pair.from);
    let declared = bind::declared(&source, pair.from);
    if bind::parameters(&source).is_empty() && declared.is_empty() {
        return Run::new(pair, source, &assumptions, engines, settings).all(data, schema);
    }
    let given: Vec<Bind> = settings.binds.iter().chain(&declared).cloned().collect();
    let sets = bind::made(&source, &given, schema);
    let settings = Settings { trials: settings.trials.div_ceil(sets.len()), ..settings.clone() };
    let made = sets.len() > 1;
    let mut verdict: Option<Verdict> = None;
    for set in sets {
        let mut found = check_bound(pair, &source, (&set, &declared), &assumptions, &mut |pair, assumptions| {
            Run::new(pair, Text::read(pair.source, pair.from), assumptions, engines, &settings).all(data, schema)
        });
        found.binds_made = made;
        let found = match verdict.take() {
            Some(before) => found.after(before),
            None => found,
        };
        let settled = found.kind != VerdictKind::Agree;
        verdict = Some(found);
        if settled {
            break;
        }
    }
    verdict.unwrap_or_else(|| Verdict::of(VerdictKind::Undetermined, None))
}

/// One check with constants in place of parameters. What the source declares it knows itself.
fn check_bound(
    pair: Pair<'_>,
    source: &Text<'_>,
    (set, declared): (&[Bind], &[Bind]),
    assumptions: &[Assumption],
    run: &mut dyn FnMut(Pair<'_>, &[Assumption]) -> Verdict,
) -> Verdict {
    let own: Vec<Bind> = set.iter().filter(|(name, _)| !declared.iter().any(|(n, _)| n == name)).cloned().collect();
    let ours = bind::bound(source, pair.from, &own, &[]);
    let theirs = bind::bound(&Text::read(pair.target, pair.to), pair.to, set, &bind::spellings(source));
    let bound = Pair { source: &ours.sql, target: &theirs.sql, ..pair };
    let mut verdict = run(bound, &ours.moved(assumptions));
    verdict.binds = own;
    if let Some(part) = &mut verdict.part {
        part.place = ours.back(part.place);
        part.text = source.of(part.place).to_string();
    }
    verdict
}
