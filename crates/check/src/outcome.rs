//! Comparing what two engines gave, with the source's free choices in mind.
//!
//! A stand-in breaks every tie by its seed. The source is run under several seeds: what all of its
//! results share must be in the target's, what none has must not be, and rows that always come in
//! one order must come in it. A suspicion is confirmed with many more seeds before it counts.

use std::collections::{HashMap, HashSet};

use engines::{Address, Engine, EngineError, open};
use meaning::Catalog;
use values::{DataType, ResultSet, Row, Table, Value, same_value};

use crate::{Pair, QueryFacts, Settings};

const FIRST_SEEDS: u64 = 4;
const MANY_SEEDS: u16 = 24;
const CONFIRMING_SEEDS: u64 = 400;
/// More outcomes than this are not distinguished as wholes.
const MOST_WHOLES: usize = 24;

/// What comparing gave.
pub(crate) struct Compared {
    pub(crate) result: Comparison,
    pub(crate) rows: usize,
    pub(crate) free_choice: bool,
    pub(crate) labels: Option<(Vec<String>, Vec<String>)>,
}

/// Same or not.
pub(crate) enum Comparison {
    Same,
    /// A side could not be run, or is not known to the stand-in.
    Failed(String),
    /// Nothing can be said.
    Open(String),
    Different(Difference),
}

/// What differs.
#[derive(Debug)]
pub(crate) struct Difference {
    pub(crate) kind: DifferenceKind,
    pub(crate) reason: String,
    pub(crate) source: Attempt,
    pub(crate) target: Attempt,
}

/// Differences of one kind stay so while data is made smaller.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum DifferenceKind {
    SourceFails,
    TargetFails,
    Width,
    Labels,
    /// Other rows, more or fewer.
    Rows,
    /// Another value in this column of a row that is the same otherwise.
    Column(usize),
    Order,
}

impl DifferenceKind {
    /// Whether this is the same difference on less data: of a row that is another, one column is left.
    pub(crate) fn goes_on(self, before: DifferenceKind) -> bool {
        self == before || (before == DifferenceKind::Rows && matches!(self, DifferenceKind::Column(_)))
    }
}

/// What speaks against a result.
struct Objection {
    kind: DifferenceKind,
    reason: String,
}

impl Objection {
    fn different(self, ours: ResultSet, theirs: ResultSet) -> Comparison {
        Comparison::Different(Difference { kind: self.kind, reason: self.reason, source: Ok(ours), target: Ok(theirs) })
    }
}

/// One comparison on the data that is loaded.
pub(crate) struct Outcomes<'a> {
    pub(crate) pair: Pair<'a>,
    pub(crate) facts: &'a QueryFacts,
    pub(crate) settings: &'a Settings,
    /// A suspicion is looked into with many seeds, or with a few while data is made smaller.
    pub(crate) thorough: bool,
    /// The data that is loaded; none where the tables were there already.
    pub(crate) tables: Option<&'a [(Table, Vec<Row>)]>,
}

type Attempt = Result<ResultSet, EngineError>;

impl Outcomes<'_> {
    pub(crate) fn compare(&self, source: &mut dyn Engine, target: &mut dyn Engine) -> Compared {
        source.set_seed(self.settings.seed);
        let first = self.attempt(source, self.pair.source);
        // Another seed, so that agreement can't be luck.
        target.set_seed(self.settings.seed.wrapping_add(77));
        let got = self.attempt(target, self.pair.target);
        let done = |result| Compared { result, rows: 0, free_choice: false, labels: None };
        let (Ok(ours), Ok(theirs)) = (&first, &got) else { return done(failures(first, got, source, target)) };
        if ours.columns.len() != theirs.columns.len() {
            let reason = format!("the source gives {} columns, the target {}", ours.columns.len(), theirs.columns.len());
            return done(Comparison::Different(Difference { kind: DifferenceKind::Width, reason, source: first, target: got }));
        }
        let labels = labels_differ(ours, theirs);
        let rows = ours.rows.len();
        if self.settings.compare_labels && labels.is_some() {
            let reason = "the columns are named differently".to_string();
            let difference = Difference { kind: DifferenceKind::Labels, reason, source: first, target: got };
            return Compared { result: Comparison::Different(difference), rows, free_choice: false, labels };
        }
        let (result, free_choice) = self.rows(source, ours.clone(), theirs.clone());
        Compared { result, rows, free_choice, labels }
    }

    /// Which output columns show a column of fixed width.
    fn padded(&self) -> Vec<bool> {
        let Some(tables) = self.tables else { return Vec::new() };
        let is_fixed = |name: &String| {
            let mut columns = tables.iter().filter_map(|(t, _)| t.column(name)).peekable();
            columns.peek().is_some() && columns.all(|c| matches!(c.data_type, DataType::Text { fixed: true, .. }))
        };
        self.facts.output_names.iter().map(|name| name.as_ref().is_some_and(is_fixed)).collect()
    }

    /// What a side gives: its rows, or for a change of data the rows of the tables afterwards.
    fn attempt(&self, engine: &mut dyn Engine, sql: &str) -> Attempt {
        if !self.facts.changes {
            return engine.query(sql, self.settings.row_cap);
        }
        let Some(tables) = self.tables else {
            return Err(EngineError::unsupported("a change of data is only tried on data that is loaded for it"));
        };
        let names: Vec<&str> = tables
            .iter()
            .map(|(t, _)| t.name.as_str())
            .filter(|name| self.facts.tables.iter().any(|t| t.eq_ignore_ascii_case(name)))
            .collect();
        if names.len() < self.facts.tables.len() {
            return Err(EngineError::unsupported("a table of this change isn't known; give its schema"));
        }
        let reads: Vec<String> = names.iter().map(|name| format!("SELECT * FROM {}", Catalog::name_sql(name, engine.dialect()))).collect();
        let states = engine.after_change(sql, &reads)?;
        Ok(joined(&names, states))
    }

    /// Compares rows; tells also whether the source had a choice.
    fn rows(&self, source: &mut dyn Engine, ours: ResultSet, theirs: ResultSet) -> (Comparison, bool) {
        if !source.is_seeded() {
            return self.rows_of_live(source, ours, theirs);
        }
        let mut seen = Seen::new(&ours, &theirs, self.facts, &self.padded(), self.settings);
        if self.facts.random.is_some() {
            // No number of runs tells a choice from chance.
            return (seen.objection().map_or(Comparison::Same, |o| o.different(ours, theirs)), false);
        }
        self.sample(source, &mut seen, 1..FIRST_SEEDS);
        if let Some(first) = seen.objection() {
            // More seeds can only take an objection back.
            self.sample(source, &mut seen, FIRST_SEEDS..u64::from(MANY_SEEDS));
            // A choice can be there and yet show in one outcome of a hundred.
            let may_vary = seen.varies || self.facts.leaves_choice;
            if self.thorough && may_vary && seen.objection().is_some() {
                self.sample(source, &mut seen, u64::from(MANY_SEEDS)..CONFIRMING_SEEDS);
            }
            let last = seen.objection();
            if let Some(objection) = last.or(if seen.varies { None } else { Some(first) }) {
                return (objection.different(ours, theirs), seen.varies);
            }
        }
        match self.whole_objection(source, &mut seen) {
            Some(objection) => (objection.different(ours, theirs), true),
            None => (Comparison::Same, seen.varies),
        }
    }

    /// Each row of the target's is one the source may give, but all together may be none of its outcomes.
    /// That can be said where these are few, and all of them have been seen.
    fn whole_objection(&self, source: &mut dyn Engine, seen: &mut Seen) -> Option<Objection> {
        let wanted = |seen: &Seen| self.thorough && seen.varies && seen.is_no_outcome();
        if wanted(seen) && seen.outcomes < usize::from(MANY_SEEDS) {
            self.sample(source, seen, FIRST_SEEDS..u64::from(MANY_SEEDS));
        }
        if wanted(seen) && seen.outcomes <= usize::from(MANY_SEEDS) {
            self.sample(source, seen, u64::from(MANY_SEEDS)..CONFIRMING_SEEDS);
        }
        let all_seen = seen.new_outcome_at * 4 <= seen.outcomes;
        (wanted(seen) && all_seen).then(|| Objection {
            kind: DifferenceKind::Rows,
            reason: "each row of the target can be in the source's result, but not all of them together".to_string(),
        })
    }

    fn sample(&self, source: &mut dyn Engine, seen: &mut Seen, seeds: std::ops::Range<u64>) {
        for seed in seeds {
            source.set_seed(self.settings.seed.wrapping_add(seed.wrapping_mul(7919)));
            if let Ok(result) = self.attempt(source, self.pair.source) {
                seen.add(&result.rows);
            }
        }
    }

    /// A live source gives one outcome, and another right one can't be distinguished from a wrong one by it.
    /// The stand-in of its dialect tells what else the source could have given on this data.
    fn rows_of_live(&self, source: &dyn Engine, ours: ResultSet, theirs: ResultSet) -> (Comparison, bool) {
        let mut seen = Seen::new(&ours, &theirs, self.facts, &self.padded(), self.settings);
        let Some(first) = seen.objection() else { return (Comparison::Same, false) };
        if !self.facts.leaves_choice {
            return (first.different(ours, theirs), false);
        }
        let open_choice = || Comparison::Open(format!("{}; ties or a missing order may leave the source that choice", first.reason));
        let Some(tables) = self.tables else { return (open_choice(), true) };
        let Ok(mut standin) = open(&Address::StandIn(source.dialect().clone())) else { return (open_choice(), true) };
        if standin.load(tables).is_err() || self.attempt(&mut *standin, self.pair.source).is_err() {
            return (open_choice(), true);
        }
        self.sample(&mut *standin, &mut seen, 0..if self.thorough { CONFIRMING_SEEDS } else { u64::from(MANY_SEEDS) });
        match seen.objection() {
            Some(objection) => (objection.different(ours, theirs), seen.varies),
            None => (Comparison::Same, true),
        }
    }
}

/// The rows of several tables as one result, each with the name of its table.
fn joined(names: &[&str], mut states: Vec<ResultSet>) -> ResultSet {
    if states.len() == 1 {
        return states.remove(0);
    }
    let width = states.iter().map(|s| s.columns.len()).max().unwrap_or(0);
    let columns = std::iter::once("table".to_string()).chain((1..=width).map(|i| format!("column {i}"))).collect();
    let mut rows = Vec::new();
    for (name, state) in names.iter().zip(states) {
        for row in state.rows {
            let own = std::iter::once(Value::text(name.to_lowercase())).chain(row);
            rows.push(own.chain(std::iter::repeat(Value::Null)).take(width + 1).collect());
        }
    }
    ResultSet { columns, types: Vec::new(), rows }
}

fn labels_differ(a: &ResultSet, b: &ResultSet) -> Option<(Vec<String>, Vec<String>)> {
    let same = a.columns.iter().zip(&b.columns).all(|(a, b)| a.eq_ignore_ascii_case(b));
    (!same).then(|| (a.columns.clone(), b.columns.clone()))
}

/// At least one side failed.
fn failures(ours: Attempt, theirs: Attempt, source: &dyn Engine, target: &dyn Engine) -> Comparison {
    let kind = |attempt: &Attempt| match attempt {
        Err(EngineError::Query { counts, not_known, .. }) => Some((*counts, *not_known)),
        Err(_) => Some((false, false)),
        Ok(_) => None,
    };
    let reported = |name: String, attempt: &Attempt| match attempt {
        Err(error) => format!("{name}: {error}"),
        Ok(_) => String::new(),
    };
    match (kind(&ours), kind(&theirs)) {
        // Both fail with an error that counts as a result.
        (Some((true, _)), Some((true, _))) => Comparison::Same,
        // What the target can't run is reported before what the source's stand-in doesn't know.
        (Some((_, true)), Some((false, false))) if matches!(theirs, Err(EngineError::Query { .. })) => {
            Comparison::Failed(reported(format!("the target can't be run: {}", target.name()), &theirs))
        }
        (Some((_, true)), _) => Comparison::Open(reported(source.name(), &ours)),
        (_, Some((_, true))) => Comparison::Open(reported(target.name(), &theirs)),
        (Some((false, _)), _) => Comparison::Failed(reported(source.name(), &ours)),
        // Nothing was learnt of the query: the time was up, the server is gone.
        (_, Some(_)) if !matches!(theirs, Err(EngineError::Query { .. })) => Comparison::Failed(reported(target.name(), &theirs)),
        (Some((true, _)), None) => {
            let reason = "the source fails, the target gives rows".to_string();
            Comparison::Different(Difference { kind: DifferenceKind::SourceFails, reason, source: ours, target: theirs })
        }
        _ => {
            let reason = reported("the target fails".to_string(), &theirs);
            Comparison::Different(Difference { kind: DifferenceKind::TargetFails, reason, source: ours, target: theirs })
        }
    }
}

/// What the source's outcomes have in common, by classes of equal rows.
struct Seen {
    labels: Vec<String>,
    /// Which of the columns are plain columns of tables.
    plain: Vec<bool>,
    /// Which hold strings that some dialects pad: blanks at their ends don't count.
    padded: Vec<bool>,
    /// The order of rows counts.
    ordered: bool,
    /// The classes: one row each, the source's and the target's.
    classes: Vec<Row>,
    index: HashMap<String, Vec<usize>>,
    /// Least and greatest number of a class's rows in any outcome.
    least: Vec<usize>,
    most: Vec<usize>,
    counts: Vec<usize>,
    /// Of pairs of classes that are single in an outcome: how often was the first before, how often behind?
    before: HashMap<(usize, usize), (u16, u16)>,
    target: Vec<usize>,
    first: Vec<usize>,
    /// The rows of each outcome, in whatever order; as many as are kept.
    wholes: HashSet<Vec<usize>>,
    /// The last outcome whose rows were others than those before.
    new_outcome_at: usize,
    varies: bool,
    /// The last outcome that showed something new.
    changed_at: usize,
    outcomes: usize,
    tolerance: values::Tolerance,
}

impl Seen {
    fn new(source: &ResultSet, target: &ResultSet, facts: &QueryFacts, padded: &[bool], settings: &Settings) -> Seen {
        let mut seen = Seen {
            plain: facts.output_names.iter().map(Option::is_some).collect(),
            padded: padded.to_vec(),
            ordered: facts.ordered,
            labels: source.columns.clone(),
            classes: Vec::new(),
            index: HashMap::new(),
            least: Vec::new(),
            most: Vec::new(),
            counts: Vec::new(),
            before: HashMap::new(),
            target: Vec::new(),
            first: Vec::new(),
            wholes: HashSet::new(),
            new_outcome_at: 0,
            varies: false,
            changed_at: 0,
            outcomes: 0,
            tolerance: settings.tolerance,
        };
        seen.target = target.rows.iter().map(|r| seen.class(r)).collect();
        seen.add(&source.rows);
        seen
    }

    /// The class of a row: rows are looked up by a rough key, then compared value by value.
    fn class(&mut self, row: &Row) -> usize {
        if self.padded.contains(&true) {
            let unpadded = row.iter().enumerate().map(|(i, v)| match v {
                Value::Text(text) if self.padded.get(i) == Some(&true) => Value::text(text.trim_end_matches(' ')),
                other => other.clone(),
            });
            let unpadded: Row = unpadded.collect();
            return self.class_of(&unpadded);
        }
        self.class_of(row)
    }

    fn class_of(&mut self, row: &Row) -> usize {
        let key = rough_key(row);
        let found = self.index.get(&key).and_then(|list| {
            list.iter().copied().find(|c| self.classes[*c].iter().zip(row).all(|(a, b)| same_value(a, b, self.tolerance)))
        });
        found.unwrap_or_else(|| {
            self.classes.push(row.clone());
            self.least.push(if self.outcomes == 0 { usize::MAX } else { 0 });
            self.most.push(0);
            let at = self.classes.len() - 1;
            self.index.entry(key).or_default().push(at);
            at
        })
    }

    fn add(&mut self, rows: &[Row]) {
        let classes: Vec<usize> = rows.iter().map(|r| self.class(r)).collect();
        let mut counts = vec![0usize; self.classes.len()];
        classes.iter().for_each(|c| counts[*c] += 1);
        for (class, count) in counts.iter().enumerate() {
            if *count < self.least[class] || *count > self.most[class] {
                self.changed_at = self.outcomes;
            }
            self.least[class] = self.least[class].min(*count);
            self.most[class] = self.most[class].max(*count);
        }
        let mut whole = classes.clone();
        whole.sort_unstable();
        let outcome = if self.ordered { classes.clone() } else { whole.clone() };
        if self.wholes.len() <= MOST_WHOLES && self.wholes.insert(whole) {
            self.new_outcome_at = self.outcomes;
        }
        if self.outcomes == 0 {
            self.first = outcome;
        } else {
            self.varies |= outcome != self.first;
        }
        self.counts.push(rows.len());
        self.outcomes += 1;
        self.order(&classes, &counts);
    }

    /// Notes which of neighbouring and all single rows came first; long results only by neighbours.
    fn order(&mut self, classes: &[usize], counts: &[usize]) {
        let reach = if classes.len() <= 120 { classes.len() } else { 3 };
        for (i, a) in classes.iter().enumerate() {
            for b in classes.iter().skip(i + 1).take(reach) {
                if counts[*a] == 1 && counts[*b] == 1 {
                    let (pair, forward) = if a < b { ((*a, *b), true) } else { ((*b, *a), false) };
                    let entry = self.before.entry(pair).or_insert((0, 0));
                    let times = if forward { &mut entry.0 } else { &mut entry.1 };
                    *times = times.saturating_add(1);
                }
            }
        }
    }

    /// The outcomes are few, and the target's rows are none of them.
    fn is_no_outcome(&self) -> bool {
        let mut target = self.target.clone();
        target.sort_unstable();
        self.wholes.len() <= MOST_WHOLES && !self.wholes.contains(&target)
    }

    /// Nothing new has shown for as long again: what wasn't seen isn't there. A choice among very many
    /// outcomes can't be settled so.
    fn is_settled(&self) -> bool {
        !self.varies || self.outcomes < usize::from(MANY_SEEDS) || self.changed_at * 2 <= self.outcomes
    }

    /// What speaks against the target's result.
    fn objection(&self) -> Option<Objection> {
        let mut counts = vec![0usize; self.classes.len()];
        self.target.iter().for_each(|c| counts[*c] += 1);
        if !self.counts.contains(&self.target.len()) {
            let reason = format!("the source gives {}, the target {}", rows(self.counts[0]), rows(self.target.len()));
            return Some(Objection { kind: DifferenceKind::Rows, reason });
        }
        let missing: Vec<usize> = (0..counts.len()).filter(|class| counts[*class] < self.least[*class]).collect();
        let surplus: Vec<usize> = (0..counts.len()).filter(|class| counts[*class] > self.most[*class]).collect();
        match (missing.first(), surplus.first()) {
            (None, None) => {}
            (Some(_), _) => return Some(self.other_values(&missing, &surplus)),
            // A row that the source was never seen to give, of a choice among very many.
            (None, Some(_)) if !self.is_settled() => {}
            (None, Some(extra)) => {
                let reason = format!("the row ({}) of the target is not in the source", shown(&self.classes[*extra]));
                return Some(Objection { kind: DifferenceKind::Rows, reason });
            }
        }
        if self.ordered { self.order_objection(&counts) } else { None }
    }

    /// Rows are missing: the row of the target that is most like one of them tells what became of it.
    fn other_values(&self, missing: &[usize], surplus: &[usize]) -> Objection {
        const LOOKED_AT: usize = 30;
        let differing = |one: usize, other: usize| -> Vec<usize> {
            let (one, other) = (&self.classes[one], &self.classes[other]);
            (0..one.len()).filter(|i| !same_value(&one[*i], &other[*i], self.tolerance)).collect()
        };
        let pairs = missing.iter().take(LOOKED_AT).flat_map(|m| surplus.iter().take(LOOKED_AT).map(|s| (differing(*m, *s), *m, *s)));
        // What the query works out rather than what it takes from a table, which may be a key.
        let is_plain = |columns: &[usize]| columns.iter().any(|c| self.plain.get(*c) == Some(&true));
        let nearest = pairs.min_by_key(|(columns, ..)| (columns.len(), is_plain(columns)));
        let Some((columns, one, other)) = nearest.filter(|(columns, ..)| columns.len() == 1) else {
            let row = shown(&self.classes[missing[0]]);
            return Objection { kind: DifferenceKind::Rows, reason: format!("the row ({row}) of the source is missing in the target") };
        };
        let (row, column) = (&self.classes[one], &columns[0]);
        let label = self.labels.get(*column).filter(|l| !l.is_empty()).cloned().unwrap_or_else(|| format!("number {}", column + 1));
        let (ours, theirs) = (one_shown(&row[*column]), one_shown(&self.classes[other][*column]));
        // A row of one column is another row.
        let kind = if row.len() == 1 { DifferenceKind::Rows } else { DifferenceKind::Column(*column) };
        Objection { kind, reason: format!("column {label} is {ours} in the source, {theirs} in the target") }
    }

    fn order_objection(&self, counts: &[usize]) -> Option<Objection> {
        let mut places = HashMap::new();
        for (place, class) in self.target.iter().enumerate() {
            if counts[*class] == 1 {
                places.insert(*class, place);
            }
        }
        // Where outcomes vary, rows that met a few times only may have come in one order by chance.
        let enough = if self.varies && self.outcomes >= usize::from(MANY_SEEDS) { MANY_SEEDS / 2 } else { 1 };
        for ((a, b), (forward, backward)) in &self.before {
            let (Some(x), Some(y)) = (places.get(a), places.get(b)) else { continue };
            let one_way = (*forward == 0) != (*backward == 0) && forward + backward >= enough;
            let forward = *forward > 0;
            if one_way && (x < y) != forward {
                let (early, late) = if forward { (a, b) } else { (b, a) };
                let (early, late) = (shown(&self.classes[*early]), shown(&self.classes[*late]));
                let reason = format!("the row ({early}) comes before ({late}) in the source, behind it in the target");
                return Some(Objection { kind: DifferenceKind::Order, reason });
            }
        }
        None
    }
}

fn rows(n: usize) -> String {
    if n == 1 { "1 row".to_string() } else { format!("{n} rows") }
}

/// A key that same rows share: kinds and whole parts only.
fn rough_key(row: &Row) -> String {
    let mut key = String::new();
    for value in row {
        match value {
            Value::Null => key.push('~'),
            Value::Time(_) => key.push('t'),
            Value::Text(t) if is_time(t) => key.push('t'),
            Value::Text(t) if t.parse::<jiff::civil::DateTime>().is_err() && t.parse::<jiff::civil::Date>().is_err() => key.push_str(t),
            Value::Text(_) | Value::Date(_) | Value::Timestamp(_) | Value::Instant(..) => key.push('d'),
            _ => key.push('n'),
        }
        key.push('|');
    }
    key
}

/// A time of day without a day.
fn is_time(text: &str) -> bool {
    text.contains(':') && !text.contains('-') && text.parse::<jiff::civil::Time>().is_ok()
}

fn shown(row: &Row) -> String {
    row.iter().map(one_shown).collect::<Vec<_>>().join(", ")
}

/// Strings in quotes, with blanks at their ends as dots.
fn one_shown(value: &Value) -> String {
    let Value::Text(text) = value else { return value.to_string() };
    let inner = text.trim_matches(' ');
    let (before, after) = if inner.is_empty() {
        (text.len(), 0)
    } else {
        (text.len() - text.trim_start_matches(' ').len(), text.len() - text.trim_end_matches(' ').len())
    };
    format!("'{}{inner}{}'", "·".repeat(before), "·".repeat(after))
}
