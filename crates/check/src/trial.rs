//! The trials of one check.
//!
//! There are two sets of made data. On the sound set all that the translation assumes holds: a
//! difference there is a mistake. On the other, one assumption at a time is broken: a difference
//! there is an example of what the note warns of.

use std::collections::{BTreeMap, BTreeSet};

use engines::{Address, Bytes, Dataset, EngineError, Observed, open};
use values::{ResultSet, Row, Schema, Table};

use crate::assumption::{Assumption, Assumptions};
use crate::datagen::{Aim, Maker, has_loops};
use crate::join_graph::JoinGraph;
use crate::localize::Start;
use crate::nodes::{Text, line_of};
use crate::outcome::{Compared, Comparison, Difference, DifferenceKind, Outcomes};
use crate::{Case, Counterexample, Engines, Example, Pair, Part, QueryFacts, Settings, Verdict, VerdictKind, coverage, shrink};

type Tables = Vec<(Table, Vec<Row>)>;

/// How many databases are made to find one on which everything assumed holds.
const ATTEMPTS_A_TRIAL: usize = 4;

/// Most rows of the user's own that are watched.
const MOST_WATCHED: usize = 20_000;

/// How often results that depend on a running clock are compared again.
const AGAIN: usize = 3;

/// How many are made to break one assumption.
const TRIALS_TO_BREAK: usize = 100;

/// One check on its way.
pub(crate) struct Run<'a, 'e> {
    pair: Pair<'a>,
    /// The source's.
    text: Text<'a>,
    settings: &'a Settings,
    facts: QueryFacts,
    assumptions: Assumptions<'a>,
    engines: &'a mut Engines<'e>,
    verdict: Verdict,
    /// For both sides it is the same moment, whenever they are asked.
    clock_stopped: bool,
    /// Of all databases.
    observed: Observed,
    schema: Schema,
    graph: JoinGraph,
    /// How many cases were not reached when that was asked, and at which trial it last changed.
    left: (usize, usize),
}

/// What one database came to.
enum Came {
    /// Nothing speaks against the translation.
    Well,
    /// The source fails on it, for this reason.
    Lost(String),
    /// The verdict is settled.
    Settled,
    /// The results differ.
    Differing(Difference),
}

impl<'a, 'e> Run<'a, 'e> {
    /// `text` is the source's query, as it was read.
    pub(crate) fn new(
        pair: Pair<'a>,
        text: Text<'a>,
        list: &'a [Assumption],
        engines: &'a mut Engines<'e>,
        settings: &'a Settings,
    ) -> Run<'a, 'e> {
        let facts = QueryFacts::of_text(&text, pair.from);
        let assumptions = Assumptions::new(list, &text, pair.from);
        let mut verdict = Verdict::of(VerdictKind::Agree, None);
        verdict.ordered = facts.ordered;
        verdict.changes = facts.changes;
        let clock_stopped = facts.clock.is_some() && stop_clocks(engines);
        Run {
            clock_stopped,
            pair,
            text,
            settings,
            facts,
            assumptions,
            engines,
            verdict,
            observed: Observed::default(),
            schema: Schema::default(),
            graph: JoinGraph::default(),
            left: (usize::MAX, 0),
        }
    }

    /// The user's data first, then made data.
    pub(crate) fn all(mut self, data: Option<&Dataset>, schema: &Schema) -> Verdict {
        self.schema = self.facts.used_tables(schema);
        self.graph = JoinGraph::of(&self.text, &self.schema);
        if self.settings.in_place {
            self.on_tables_in_place();
        } else if data.is_none_or(|data| self.on_users_data(data)) && self.settings.trials > 0 {
            self.on_made_data();
        }
        let list = self.assumptions.list;
        let watched = self.settings.in_place || self.settings.trials > 0 || data.is_none_or(|data| self.is_watched(data));
        self.verdict.assuming = list.iter().map(|a| a.code).collect::<BTreeSet<_>>().into_iter().collect();
        // Where nobody looked, nothing is said.
        self.verdict.cases = if watched { self.cases() } else { Vec::new() };
        self.verdict
    }

    /// The tables that the query uses, with as many rows as are looked at. A table that can't be loaded is
    /// no matter to a query that doesn't use it.
    fn used<'d>(&self, data: &'d Dataset) -> impl Iterator<Item = (&'d Table, &'d [Row])> {
        let used = data.tables.iter().filter(|(t, _)| self.schema.table(&t.name).is_some());
        used.map(|(t, rows)| (t, &rows[..rows.len().min(self.settings.row_cap)]))
    }

    /// What much data reaches isn't looked at: it would take as long again.
    fn is_watched(&self, data: &Dataset) -> bool {
        self.used(data).map(|(_, rows)| rows.len()).sum::<usize>() <= MOST_WATCHED
    }

    fn on_tables_in_place(&mut self) {
        match self.tried(None) {
            Came::Differing(difference) => self.differs(difference, Vec::new()),
            Came::Lost(reason) => self.settle(VerdictKind::Failed, reason),
            Came::Well | Came::Settled => {}
        }
    }

    /// False when the verdict is settled.
    fn on_users_data(&mut self, data: &Dataset) -> bool {
        let tables: Tables = self.used(data).map(|(t, rows)| (t.clone(), rows.to_vec())).collect();
        let broken = self.is_watched(data).then(|| self.broken_by(&tables));
        match self.tried(Some(&tables)) {
            Came::Well => true,
            Came::Settled => false,
            Came::Lost(reason) => {
                self.settle(VerdictKind::Failed, reason);
                false
            }
            Came::Differing(difference) => {
                let broken = broken.unwrap_or_else(|| self.assumptions.watch(&tables, &self.facts).broken);
                self.verdict.breaks = broken.iter().map(|i| self.assumptions.list[*i].code).collect();
                self.verdict.breaks.dedup();
                self.shrunk_verdict(tables, difference, &broken);
                false
            }
        }
    }

    fn on_made_data(&mut self) {
        let target = QueryFacts::of(self.pair.target, self.pair.to);
        let facts = self.facts.clone().with_constants_of(&target);
        let sides = (self.pair.from, self.pair.to);
        let mut maker = Maker::new(self.schema.clone(), facts, self.graph.clone(), &self.assumptions.meetings, sides, self.settings);
        let list = self.assumptions.list;
        let breakable: Vec<usize> = (0..list.len()).filter(|i| self.settings.examples && list[*i].breach.is_some()).collect();
        let mut examples: BTreeMap<&'static str, Option<Example>> = breakable.iter().map(|i| (list[*i].code, None)).collect();
        if self.on_sound_data(&mut maker, &mut examples) {
            for i in breakable {
                self.on_broken_data(&mut maker, i, &mut examples);
            }
        }
        self.verdict.examples = examples.into_iter().collect();
    }

    /// Data that keeps to everything assumed; false when the verdict is settled.
    fn on_sound_data(&mut self, maker: &mut Maker, examples: &mut BTreeMap<&'static str, Option<Example>>) -> bool {
        let aim = Aim { kept: self.assumptions.list.iter().collect(), broken: None };
        let (mut sound, mut lost) = (0, None);
        for trial in 0.. {
            let enough = sound >= self.settings.trials || trial >= self.settings.trials * ATTEMPTS_A_TRIAL;
            if enough && !self.goes_on(trial) {
                break;
            }
            let tables = maker.database(trial, &aim);
            match self.broken_by(&tables).as_slice() {
                [] => {}
                [one] => {
                    self.try_to_break(&tables, *one, examples);
                    continue;
                }
                _ => continue,
            }
            sound += 1;
            match self.tried(Some(&tables)) {
                Came::Well => {}
                Came::Lost(reason) => {
                    self.verdict.lost += 1;
                    lost = Some(reason);
                }
                Came::Settled => return false,
                Came::Differing(difference) => {
                    self.shrunk_verdict(tables, difference, &[]);
                    return false;
                }
            }
        }
        if let Some(reason) = lost.filter(|_| self.verdict.databases == 0) {
            self.settle(VerdictKind::Failed, format!("on all made data, {reason}"));
            return false;
        }
        if sound == 0 && self.settings.trials > 0 {
            self.verdict.kind = VerdictKind::Undetermined;
            self.verdict.reason = Some("no data could be made on which everything assumed holds".to_string());
        }
        true
    }

    /// Whether more databases may reach what none has.
    fn goes_on(&mut self, trial: usize) -> bool {
        const MOST_TRIALS: usize = 5000;
        const IN_VAIN: usize = 500;
        const LOOK_EVERY: usize = 20;
        if !self.settings.until_reached || trial >= MOST_TRIALS {
            return false;
        }
        if trial.is_multiple_of(LOOK_EVERY) {
            let left = self.cases().iter().filter(|case| !case.reached).count();
            if left != self.left.0 {
                self.left = (left, trial);
            }
        }
        self.left.0 > 0 && trial < self.left.1 + IN_VAIN
    }

    /// What can come to pass, and whether it did.
    fn cases(&self) -> Vec<Case> {
        coverage::cases(&self.text, &self.facts, &self.schema, self.assumptions.list, &self.observed)
    }

    /// Data that breaks one assumption and no other.
    fn on_broken_data(&mut self, maker: &mut Maker, which: usize, examples: &mut BTreeMap<&'static str, Option<Example>>) {
        let list = self.assumptions.list;
        let kept = list.iter().enumerate().filter(|(i, _)| *i != which).map(|(_, a)| a).collect();
        let aim = Aim { kept, broken: Some(&list[which]) };
        for trial in 2..2 + TRIALS_TO_BREAK.min(2 * self.settings.trials) {
            if examples.get(list[which].code).is_some_and(Option::is_some) {
                return;
            }
            let tables = maker.database(trial, &aim);
            if self.broken_by(&tables) == [which] {
                self.try_to_break(&tables, which, examples);
            }
        }
    }

    /// An example of what a note warns of, if the results differ here.
    fn try_to_break(&mut self, tables: &Tables, which: usize, examples: &mut BTreeMap<&'static str, Option<Example>>) {
        let code = self.assumptions.list[which].code;
        if examples.get(code).is_none_or(Option::is_some) {
            return;
        }
        let compared = self.load(tables).is_ok().then(|| self.compare(Some(tables), true));
        if let Some(Compared { result: Comparison::Different(difference), .. }) = compared {
            let (found, _) = self.shrunk(tables.clone(), difference, &[which]);
            examples.insert(code, Some(found));
        }
    }

    /// The assumptions that don't hold on some data; what it reaches is kept.
    fn broken_by(&mut self, tables: &Tables) -> Vec<usize> {
        let watched = self.assumptions.watch(tables, &self.facts);
        self.observed.add(watched.observed);
        watched.broken
    }

    fn load(&mut self, tables: &Tables) -> Result<(), EngineError> {
        self.engines.source.load(tables)?;
        self.engines.target.load(tables)
    }

    /// Tries one database, which is counted.
    fn tried(&mut self, tables: Option<&Tables>) -> Came {
        if let Some(tables) = tables
            && let Err(error) = self.load(tables)
        {
            self.settle(VerdictKind::Failed, error.to_string());
            return Came::Settled;
        }
        let mut compared = self.compare(tables, true);
        // Clocks that run may have shown the same second a moment later.
        let runs = self.facts.clock.is_some() && !self.clock_stopped;
        for _ in 0..if runs { AGAIN } else { 0 } {
            if !matches!(compared.result, Comparison::Different(_)) {
                break;
            }
            compared = self.compare(tables, true);
        }
        if let Comparison::Failed(reason) = &compared.result
            && let Some(tables) = tables
            && self.fails_by_data(tables)
        {
            return Came::Lost(reason.clone());
        }
        let verdict = &mut self.verdict;
        verdict.databases += 1;
        verdict.rows_compared += compared.rows;
        verdict.free_choice |= compared.free_choice;
        if verdict.labels.is_none() {
            verdict.labels = compared.labels;
        }
        match compared.result {
            Comparison::Same => return Came::Well,
            Comparison::Different(difference) if self.never_runs(&difference, tables) => {
                self.settle(VerdictKind::Failed, format!("the target can't be run: {}", difference.reason));
            }
            Comparison::Different(difference) => match self.changing() {
                None => return Came::Differing(difference),
                Some(why) => self.settle(VerdictKind::Undetermined, format!("{}; {why}", difference.reason)),
            },
            Comparison::Failed(reason) => self.settle(VerdictKind::Failed, reason),
            Comparison::Open(reason) => self.settle(VerdictKind::Undetermined, reason),
        }
        Came::Settled
    }

    /// Whether the target fails on any data: it fails on tables without rows, too.
    fn never_runs(&mut self, difference: &Difference, tables: Option<&Tables>) -> bool {
        if difference.kind != DifferenceKind::TargetFails {
            return false;
        }
        let Some(tables) = tables else { return false };
        let fails = self.engines.target.load(&emptied(tables)).is_ok() && self.engines.target.query(self.pair.target, 1).is_err();
        // Whoever looks next finds the data again.
        self.engines.target.load(tables).is_err() || fails
    }

    /// Whether it is this data on which the source fails: it runs on tables without rows.
    fn fails_by_data(&mut self, tables: &Tables) -> bool {
        let fails = |error: EngineError| matches!(error, EngineError::Query { not_known: false, .. });
        let fails_here = self.engines.source.query(self.pair.source, self.settings.row_cap).is_err_and(fails);
        fails_here && self.engines.source.load(&emptied(tables)).is_ok() && self.engines.source.query(self.pair.source, 1).is_ok()
    }

    /// Why a difference may be none: the query gives something else each time.
    fn changing(&self) -> Option<String> {
        if let Some(word) = &self.facts.random {
            return Some(format!("{word} gives other values each time, so that results can't be compared"));
        }
        let word = self.facts.clock.as_ref().filter(|_| !self.clock_stopped)?;
        Some(format!("{word} reads the clock, which can't be stopped on both sides"))
    }

    fn settle(&mut self, kind: VerdictKind, reason: String) {
        self.verdict.kind = kind;
        self.verdict.reason = Some(reason);
    }

    fn compare(&mut self, tables: Option<&Tables>, thorough: bool) -> Compared {
        Outcomes { thorough, pair: self.pair, facts: &self.facts, settings: self.settings, tables: tables.map(Vec::as_slice) }
            .compare(self.engines.source, self.engines.target)
    }

    fn differs(&mut self, difference: Difference, tables: Tables) {
        self.settle(VerdictKind::Differ, difference.reason.clone());
        self.verdict.counterexample = Some(Counterexample { tables, source: difference.source, target: difference.target });
    }

    fn shrunk_verdict(&mut self, tables: Tables, difference: Difference, broken: &[usize]) {
        let (smallest, kind) = self.shrunk(tables, difference, broken);
        self.verdict.part = self.start(&smallest.counterexample, kind);
        self.settle(VerdictKind::Differ, smallest.reason);
        self.verdict.counterexample = Some(smallest.counterexample);
    }

    /// The part of the source where the difference starts.
    fn start(&mut self, found: &Counterexample, kind: DifferenceKind) -> Option<Part> {
        let tables = &found.tables;
        let target = Text::read(self.pair.target, self.pair.to);
        let ours = self.assumptions.watch(tables, &self.facts).observed;
        let mut other_side = open(&Address::StandIn(self.pair.to.clone())).ok()?;
        other_side.load(tables).ok()?;
        let theirs = other_side.observe(self.pair.target).map(|(_, observed)| observed)?;
        self.load(tables).ok()?;
        let column = if let DifferenceKind::Column(column) = kind { Some(column) } else { None };
        let start = Start {
            source: &self.text,
            target: &target,
            observed: (&ours, &theirs),
            column,
            failed: (place_of(&found.source), place_of(&found.target)),
        };
        let place = start.find(&mut |ours, theirs| {
            let facts = QueryFacts::of(ours, self.pair.from);
            let pair = Pair { source: ours, target: theirs, ..self.pair };
            let compared = Outcomes { thorough: false, pair, facts: &facts, settings: self.settings, tables: Some(tables) }
                .compare(self.engines.source, self.engines.target);
            matches!(compared.result, Comparison::Same)
        })?;
        Some(Part { text: self.text.of(place).to_string(), place, line: line_of(self.pair.source, place.0) })
    }

    /// The smallest database found that still shows a difference of the same kind and breaks no other
    /// assumptions.
    fn shrunk(&mut self, mut tables: Tables, difference: Difference, broken: &[usize]) -> (Example, DifferenceKind) {
        let used: Vec<String> = self.facts.tables.iter().map(|t| t.to_lowercase()).collect();
        tables.retain(|(t, _)| used.contains(&t.name.to_lowercase()));
        let whole = Example::of(difference.reason.clone(), tables.clone(), difference.source.clone(), difference.target.clone());
        let mut last = difference;
        let first = last.kind;
        let facts = self.facts.clone();
        // On a loop, a recursive query may not end.
        let graph = self.graph.clone();
        let loops = has_loops(&graph, &tables);
        let tables = shrink::shrink(tables, &facts, &mut |tables| {
            if !loops && has_loops(&graph, tables) {
                return false;
            }
            if self.load(tables).is_err() || self.assumptions.watch(tables, &facts).broken.iter().any(|i| !broken.contains(i)) {
                return false;
            }
            match self.compare(Some(tables), false).result {
                Comparison::Different(found) if found.kind.goes_on(last.kind) => {
                    last = found;
                    true
                }
                _ => false,
            }
        });
        // A choice of the source's that few seeds don't show.
        if self.load(&tables).is_err() || !matches!(self.compare(Some(&tables), true).result, Comparison::Different(_)) {
            return (whole, first);
        }
        (Example::of(last.reason, tables, last.source, last.target), last.kind)
    }
}

/// The tables without their rows.
fn emptied(tables: &Tables) -> Tables {
    tables.iter().map(|(table, _)| (table.clone(), Vec::new())).collect()
}

fn stop_clocks(engines: &mut Engines<'_>) -> bool {
    let now = jiff::Timestamp::now().to_zoned(jiff::tz::TimeZone::UTC).datetime();
    let whole = now.date().at(now.hour(), now.minute(), now.second(), 0);
    let (source, target) = (engines.source.stop_clock(whole), engines.target.stop_clock(whole));
    source && target
}

/// Where in its query an error arose.
fn place_of(attempt: &Result<ResultSet, EngineError>) -> Option<Bytes> {
    let Err(EngineError::Query { place: Some((start, end)), .. }) = attempt else { return None };
    Some((*start as u32, *end as u32))
}
