//! Made data: small databases on which plausible mistakes show.
//!
//! Columns draw from few values, so that ties and joins are common; the queries' own constants and
//! their neighbours are among them. The schema's keys, references, checks and lengths hold.

mod constraint;
mod led;
mod link;
mod mood;
mod palette;
mod random;

use std::collections::{HashMap, HashSet};

use meaning::{Breach, ValueClass};
use syntax::{Dialect, DialectName};
use values::{Column, DataType, Row, Schema, Table, Value};

use crate::Settings;
use crate::alike::{BothLetters, Meeting, ordered_places};
use crate::assumption::Assumption;
use crate::facts::QueryFacts;
use crate::join_graph::{JoinGraph, Link};
pub(crate) use link::has_loops;

use constraint::Checker;
use led::Lead;
use mood::{Mood, Rows, Strings, Tree};
use palette::{Palette, palette};
use random::Random;

/// What assumptions the data is to keep to, and which it is to break.
pub(crate) struct Aim<'a> {
    pub(crate) kept: Vec<&'a Assumption>,
    pub(crate) broken: Option<&'a Assumption>,
}

/// Where '' can stand.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum EmptyTexts {
    Anywhere,
    WhereNullable,
    Nowhere,
}

impl EmptyTexts {
    fn can_be_in(self, column: &Column) -> bool {
        self == EmptyTexts::Anywhere || (self == EmptyTexts::WhereNullable && column.nullable)
    }
}

/// Makes the databases of one check.
pub(crate) struct Maker {
    /// Each behind those it refers to.
    tables: Vec<Table>,
    /// Of both queries, and of the schema's own conditions.
    facts: QueryFacts,
    /// Of the source's query.
    graph: JoinGraph,
    seed: u64,
    max_rows: usize,
    /// Which columns can hold empty strings on both sides: Oracle takes them for NULL.
    empty: EmptyTexts,
    /// Both sides count a character beyond the first plane as one. SQL Server counts two, unless the
    /// collation says otherwise (`_SC`).
    counts_wide_once: bool,
    /// The columns that are put in an order, in small letters.
    sorted: HashSet<String>,
    checker: Checker,
}

impl Maker {
    /// For queries with these facts over the tables of `schema` that they use.
    pub(crate) fn new(
        schema: Schema,
        facts: QueryFacts,
        graph: JoinGraph,
        meetings: &[Meeting],
        (from, to): (&Dialect, &Dialect),
        settings: &Settings,
    ) -> Maker {
        let facts = schema.tables.iter().fold(facts, |facts, table| facts.with_constants_of(&constraint::facts_of(table, from)));
        Maker {
            checker: Checker::new(from),
            empty: match (from.name, to.name) {
                (DialectName::Oracle, _) => EmptyTexts::Nowhere,
                (_, DialectName::Oracle) => EmptyTexts::WhereNullable,
                _ => EmptyTexts::Anywhere,
            },
            counts_wide_once: ![from.name, to.name].contains(&DialectName::SqlServer),
            sorted: ordered_places(meetings).flat_map(|place| facts.columns_in(place).map(str::to_string).collect::<Vec<_>>()).collect(),
            seed: settings.seed,
            max_rows: settings.max_rows,
            tables: graph.linked(&schema).in_reference_order().iter().filter_map(|t| schema.table(&t.name)).cloned().collect(),
            facts,
            graph,
        }
    }

    /// The tables with rows, for one trial.
    pub(crate) fn database(&mut self, trial: usize, aim: &Aim<'_>) -> Vec<(Table, Vec<Row>)> {
        let mut random = Random::of(self.seed, trial as u64);
        let mood = Mood::of(trial, &mut random);
        let mut made: Vec<(Table, Vec<Row>)> = Vec::new();
        let tables = self.tables.clone();
        let empty = if mood.rows == Rows::OneTableEmpty { random.below(tables.len()) } else { tables.len() };
        for (at, table) in tables.iter().enumerate() {
            let named = self.facts.tables.iter().any(|t| t.eq_ignore_ascii_case(&table.name));
            let count = match at == empty {
                true => 0,
                // Others are only referred to.
                false if !named => 3,
                false => self.row_count(mood, &mut random),
            };
            let rows = self.rows_of(table, count, mood, aim, &made, &mut random);
            made.push((table.clone(), rows));
        }
        settle_texts(&mut made, &self.facts, aim);
        made
    }

    /// Row counts lie around every number the query could limit by.
    fn row_count(&self, mood: Mood, random: &mut Random) -> usize {
        match mood.rows {
            Rows::None => return 0,
            Rows::One => return 1,
            Rows::Around | Rows::OneTableEmpty => {}
        }
        let mut counts = vec![2, 3, 7, 12];
        for number in &self.facts.constants.numbers {
            let Ok(n) = number.to_plain_string().parse::<usize>() else { continue };
            if (1..=self.max_rows).contains(&n) {
                counts.extend([(n - 1).max(1), n, n + 1, 2 * n + 1]);
            }
        }
        random.of_these(&counts).map_or(3, |n| *n).min(self.max_rows)
    }

    fn rows_of(
        &mut self,
        table: &Table,
        count: usize,
        mood: Mood,
        aim: &Aim<'_>,
        made: &[(Table, Vec<Row>)],
        random: &mut Random,
    ) -> Vec<Row> {
        let brushes: Vec<Brush> = table.columns.iter().map(|c| self.brush(c, mood, aim, count, random)).collect();
        let pools = table.columns.iter().zip(&brushes).map(|(column, brush)| brush.pool(column)).collect();
        let lead = mood.led.then(|| Lead::of(table, pools, &self.graph, &mut self.checker));
        let links: Vec<&Link> = self.graph.links.iter().filter(|l| l.table.eq_ignore_ascii_case(&table.name)).collect();
        let mut rows: Vec<Row> = Vec::new();
        for i in 0..count {
            let value = |(at, (column, brush)): (usize, (&Column, &Brush))| {
                let led = lead.as_ref().filter(|_| brush.wanted.is_empty()).and_then(|lead| lead.value(at, i, random));
                led.unwrap_or_else(|| brush.value(column, i, mood, random))
            };
            let mut row: Row = table.columns.iter().zip(&brushes).enumerate().map(value).collect();
            let is_led = |column: usize| lead.as_ref().is_some_and(|lead| lead.leads(column, i));
            constraint::number_key(table, &mut row, &rows, i, &is_led);
            for key in &table.foreign_keys {
                constraint::refer(table, key, &mut row, mood, made, &rows, random);
            }
            if mood.led && Lead::keeps_twins(i) {
                link::match_twins(table, &self.graph, &mut row);
            }
            for link in &links {
                link::follow(table, link, &mut row, mood, made, &rows, random);
            }
            if constraint::is_free(table, &row, &rows) {
                rows.push(row);
            }
        }
        if mood.tree == Tree::Loops {
            constraint::close_loop(table, &mut rows);
        }
        // A recursive query may never end on a loop, where CONNECT BY fails or goes on.
        if mood.tree != Tree::Loops || !self.graph.connects {
            links.iter().filter(|l| l.walks()).for_each(|link| link::cut_loops(table, link, &mut rows));
        }
        self.checker.keep_admitted(table, &mut rows);
        rows
    }

    /// The values that a column draws from in one trial.
    fn brush(&self, column: &Column, mut mood: Mood, aim: &Aim<'_>, rows: usize, random: &mut Random) -> Brush {
        // Where sides sort strings differently, only plain ones are sorted alike by both.
        let sorts_apart = |a: &&Assumption| matches!(a.breach, Some(Breach::Strings { only_like: false, .. } | Breach::TextOrder));
        if self.sorted.contains(&column.name.to_lowercase()) && aim.kept.iter().any(sorts_apart) {
            mood.strings = Strings::Plain;
        }
        let Palette { mut aimed, mut others } = palette(column, &self.facts, mood, rows);
        let avoided = aim.kept.iter().filter_map(|a| self.class_for(a, column)).collect::<Vec<_>>();
        let keeps_empty = self.empty.can_be_in(column) && !aim.kept.iter().any(|a| a.breach == Some(Breach::EmptyText));
        let text_allowed = |t: &str| (keeps_empty || !t.is_empty()) && (self.counts_wide_once || t.chars().all(|c| c.len_utf16() == 1));
        let allowed = |v: &Value| !avoided.iter().any(|class| class.holds(v)) && !matches!(v, Value::Text(t) if !text_allowed(t));
        aimed.retain(allowed);
        others.retain(allowed);
        let wanted = aim.broken.map(|a| self.breaking(a, column)).unwrap_or_default();
        let no_null = avoided.contains(&ValueClass::Null);
        let wants_null = aim.broken.and_then(|a| self.class_for(a, column)) == Some(ValueClass::Null);
        Brush::new(aimed, others, wanted, (!no_null, wants_null), mood.ties, random)
    }

    /// The class that an assumption is about, if it is about this column.
    fn class_for(&self, assumption: &Assumption, column: &Column) -> Option<ValueClass> {
        let Some(Breach::Value(class, place)) = &assumption.breach else { return None };
        self.facts.columns_in(*place).any(|name| name.eq_ignore_ascii_case(&column.name)).then_some(*class)
    }

    /// Values of a column that break an assumption.
    fn breaking(&self, assumption: &Assumption, column: &Column) -> Vec<Value> {
        let text = column.data_type.is_text();
        match &assumption.breach {
            Some(Breach::EmptyText) if text && self.empty.can_be_in(column) => vec![Value::text("")],
            Some(Breach::TextOrder) if text => ["Weir", "quay", "Mill", "heron"].map(Value::text).into(),
            Some(Breach::Strings { .. }) if text => {
                // Those that stand beside the column, else any: other conditions are to hold all the same.
                let beside = self.facts.beside.get(&column.name.to_lowercase()).map(|c| &c.strings).filter(|strings| !strings.is_empty());
                let constants = beside.unwrap_or(&self.facts.constants.strings).iter().map(String::as_str);
                let others = if beside.is_some() { &[] } else { ["quay", "weir"].as_slice() };
                let short = constants.filter(|t| !t.is_empty() && t.len() < 20).chain(others.iter().copied());
                short.flat_map(|t| [t.to_string(), capital(t), format!("{t} "), accented(t)]).map(Value::text).collect()
            }
            Some(Breach::Value(..)) => match self.class_for(assumption, column) {
                // A fraction is written as a floating-point number.
                Some(ValueClass::Fraction) if !matches!(column.data_type, DataType::Float(_)) => Vec::new(),
                Some(class) if class.can_hold_of(&column.data_type) => class.examples(),
                _ => Vec::new(),
            },
            _ => Vec::new(),
        }
    }
}

fn capital(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map(|first| first.to_uppercase().chain(letters).collect()).unwrap_or_default()
}

/// The text with an accent on one of its letters.
fn accented(text: &str) -> String {
    const LETTERS: [(char, &str); 5] = [('e', "é"), ('a', "à"), ('o', "ö"), ('u', "ü"), ('i', "ï")];
    LETTERS.iter().find(|(plain, _)| text.contains(*plain)).map_or_else(|| text.to_string(), |(plain, with)| text.replacen(*plain, with, 1))
}

/// Strings that only one side takes for equal are written alike, as the queries write them.
fn settle_texts(made: &mut [(Table, Vec<Row>)], facts: &QueryFacts, aim: &Aim<'_>) {
    for assumption in &aim.kept {
        let Some(Breach::Strings { source, target, only_like }) = assumption.breach else { continue };
        let letters = BothLetters::of(source, target, only_like);
        let mut first: HashMap<String, String> = HashMap::new();
        for constant in &facts.constants.strings {
            first.entry(letters.widest_key(constant)).or_insert_with(|| constant.clone());
        }
        for value in made.iter_mut().flat_map(|(_, rows)| rows).flatten() {
            let Value::Text(text) = value else { continue };
            let instead = first.entry(letters.widest_key(text)).or_insert_with(|| text.to_string());
            if letters.settled(text, instead) != text.as_str() {
                *value = Value::text(instead.as_str());
            }
        }
    }
}

/// The values of one column in one trial, in the order they are drawn.
struct Brush {
    values: Vec<Value>,
    /// All that it could draw from.
    all: Vec<Value>,
    /// Values that break what is to be broken.
    wanted: Vec<Value>,
    takes_null: bool,
    wants_null: bool,
}

impl Brush {
    fn new(
        mut aimed: Vec<Value>,
        mut others: Vec<Value>,
        wanted: Vec<Value>,
        (takes_null, wants_null): (bool, bool),
        ties: bool,
        random: &mut Random,
    ) -> Brush {
        const FEW: usize = 4;
        random.shuffle(&mut aimed);
        random.shuffle(&mut others);
        let all = aimed.iter().chain(&others).cloned().collect();
        if ties {
            // Half of the few stand beside the column in a query, where any do.
            aimed.truncate(FEW / 2);
            others.truncate(FEW - aimed.len());
        }
        let mut values = Vec::with_capacity(aimed.len() + others.len());
        let (mut a, mut b) = (aimed.into_iter(), others.into_iter());
        loop {
            let (x, y) = (a.next(), b.next());
            if x.is_none() && y.is_none() {
                break;
            }
            values.extend(x);
            values.extend(y.filter(|y| !values.contains(y)));
        }
        Brush { values, all, wanted, takes_null, wants_null }
    }

    /// What a row led by the query can have in the column.
    fn pool(&self, column: &Column) -> Vec<Value> {
        const MOST: usize = 80;
        let null = (column.nullable && self.takes_null).then_some(Value::Null);
        self.all.iter().take(MOST).cloned().chain(null).collect()
    }

    fn value(&self, column: &Column, i: usize, mood: Mood, random: &mut Random) -> Value {
        let null = column.nullable && self.takes_null;
        if (null && mood.nulls && random.once_in(4)) || (null && self.wants_null && random.once_in(2)) {
            return Value::Null;
        }
        if !self.wanted.is_empty() && random.once_in(2) {
            return random.of_these(&self.wanted).cloned().unwrap_or(Value::Null);
        }
        if !mood.ties && i < self.values.len() {
            // Every value once.
            return self.values[i].clone();
        }
        random.of_these(&self.values).cloned().unwrap_or(Value::Null)
    }
}

#[cfg(test)]
mod tests {
    use std::collections::HashSet;

    use meaning::Catalog;

    use super::*;

    const SCHEMA: &str = "CREATE TABLE waterways (id INT PRIMARY KEY, parent_id INT REFERENCES waterways (id), name VARCHAR(5) NOT NULL UNIQUE);
        CREATE TABLE landings (waterway_id INT NOT NULL REFERENCES waterways (id), place INT NOT NULL, kind VARCHAR(10) CHECK (kind IN ('quay', 'jetty')),
            depth DECIMAL(4,1) CHECK (depth > 0), opened DATE, PRIMARY KEY (waterway_id, place));";

    fn made(seed: u64, trial: usize) -> Vec<(Table, Vec<Row>)> {
        let from: Dialect = "postgres".parse().expect("dialect");
        let catalog = Catalog::from_ddl(SCHEMA, &from).expect("schema");
        let facts = QueryFacts::of(
            "SELECT * FROM waterways w JOIN landings l ON l.waterway_id = w.id WHERE l.depth > 2.5 AND w.name <> 'tarn' LIMIT 6",
            &from,
        );
        let settings = Settings { seed, ..Settings::default() };
        let mut maker = Maker::new(catalog.schema, facts, JoinGraph::default(), &[], (&from, &from), &settings);
        maker.database(trial, &Aim { kept: Vec::new(), broken: None })
    }

    #[test]
    fn the_schema_holds_in_all_made_data() {
        let mut most = 0;
        for (seed, trial) in (1..8).flat_map(|seed| (0..40).map(move |trial| (seed, trial))) {
            let tables = made(seed, trial);
            assert_eq!(tables, made(seed, trial), "the same seed makes the same data");
            for (table, rows) in &tables {
                most = most.max(rows.len());
                let at = |name: &str| table.column_index(name).expect("column");
                let fault = |what: &str, row: &Row| panic!("seed {seed}, trial {trial}: {what} in {row:?} of {}", table.name);
                let mut keys: HashSet<String> = HashSet::new();
                for row in rows {
                    let key: Vec<String> = table.primary_key.iter().map(|k| row[at(k)].to_string()).collect();
                    if !keys.insert(key.join(",")) {
                        fault("a key occurs twice", row);
                    }
                    for (column, value) in table.columns.iter().zip(row) {
                        if value.is_null() && !column.nullable {
                            fault("NULL", row);
                        }
                        if matches!((&column.data_type, value), (DataType::Text { length: Some(n), .. }, Value::Text(t)) if t.chars().count() > *n as usize)
                        {
                            fault("too long a string", row);
                        }
                    }
                    if table.name == "landings" {
                        let parents = &tables[0].1;
                        if !parents.iter().any(|p| p[0] == row[at("waterway_id")]) {
                            fault("a reference to nothing", row);
                        }
                        let kind = &row[at("kind")];
                        if !(kind.is_null() || *kind == Value::text("quay") || *kind == Value::text("jetty")) {
                            fault("a broken check", row);
                        }
                    }
                }
            }
        }
        assert!(most > 5, "tables have rows");
    }
}
