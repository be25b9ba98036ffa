//! What a translation assumes, and whether given data breaks it.
//!
//! An assumption is about values that come up while the query runs. So the stand-in of the source's
//! dialect runs it, watched, and what it met is looked through.

use engines::{Address, Bytes, Engine, Event, Observed, Seen, open};
use meaning::{Breach, Fidelity, ValueClass};
use syntax::Dialect;
use translate::{Options, PlacedNote, Translated, translate_text};
use values::{Row, Schema, Table};

use crate::QueryFacts;
use crate::alike::{BothLetters, Meeting, meetings, order_is_broken};
use crate::nodes::Text;

/// Something a translation takes for granted.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Assumption {
    /// The note's code.
    pub code: &'static str,
    /// The data that breaks it, with places in the source's text; none where no data does.
    pub breach: Option<Breach<Bytes>>,
}

impl Assumption {
    /// Those of a translated statement; `start` is where its text begins in the text that is checked,
    /// which may hold declarations before it.
    pub fn of(statement: &Translated, start: usize) -> Vec<Assumption> {
        let assumed = statement.notes.iter().filter(|n| n.note.fidelity == Fidelity::Assumes);
        assumed.map(|placed| Assumption::placed(placed, statement.place.start, start)).collect()
    }

    fn placed(placed: &PlacedNote, was: usize, is: usize) -> Assumption {
        let shifted = |at: usize| (at + is).saturating_sub(was) as u32;
        let breach = placed.breach.clone().map(|breach| breach.map(|place| (shifted(place.start), shifted(place.end))));
        Assumption { code: placed.note.code, breach }
    }

    /// What is assumed of the servers' settings, whoever translated: as a translation of our own
    /// would.
    pub(crate) fn of_settings(source: &str, from: &Dialect, to: &Dialect, schema: &Schema) -> Vec<Assumption> {
        let mut catalog = meaning::Catalog { schema: schema.clone() };
        // What is guessed of a table is what its data is made by.
        catalog.schema.tables.iter_mut().for_each(|t| t.guessed = false);
        let script = translate_text(source, from, to, &catalog, &Options::default());
        let statements = script.statements.iter().flat_map(|s| Assumption::of(s, s.place.start));
        // LIKE's own way with case is no setting.
        let is_setting = |a: &Assumption| matches!(a.breach, Some(Breach::Strings { only_like: false, .. } | Breach::EmptyText));
        statements.filter(is_setting).collect()
    }
}

/// The assumptions of one check, and what is needed to tell whether data keeps to them.
pub(crate) struct Assumptions<'a> {
    pub(crate) list: &'a [Assumption],
    pub(crate) meetings: Vec<Meeting>,
    source: &'a str,
    watcher: Option<Box<dyn Engine>>,
}

/// What came of watching the source's query on some data.
#[derive(Debug, Default)]
pub(crate) struct Watched {
    /// Places in the list of the assumptions that don't hold.
    pub(crate) broken: Vec<usize>,
    pub(crate) observed: Observed,
}

impl<'a> Assumptions<'a> {
    pub(crate) fn new(list: &'a [Assumption], text: &Text<'a>, from: &Dialect) -> Assumptions<'a> {
        let watcher = open(&Address::StandIn(from.clone())).ok();
        Assumptions { list, meetings: meetings(text, from), source: text.sql, watcher }
    }

    /// Runs the source's query on the stand-in of its dialect and looks at what it met.
    pub(crate) fn watch(&mut self, tables: &[(Table, Vec<Row>)], facts: &QueryFacts) -> Watched {
        let Some(watcher) = &mut self.watcher else { return Watched::default() };
        let Ok(()) = watcher.load(tables) else { return Watched::default() };
        let Some((_, observed)) = watcher.observe(self.source) else { return Watched::default() };
        let broken = (0..self.list.len()).filter(|i| self.is_broken(&self.list[*i], &observed, tables, facts)).collect();
        Watched { broken, observed }
    }

    fn is_broken(&self, assumption: &Assumption, observed: &Observed, tables: &[(Table, Vec<Row>)], facts: &QueryFacts) -> bool {
        match &assumption.breach {
            None => false,
            Some(Breach::Strings { source, target, only_like }) => {
                BothLetters::of(*source, *target, *only_like).are_broken(&self.meetings, observed)
            }
            Some(Breach::TextOrder) => order_is_broken(&self.meetings, observed),
            Some(Breach::EmptyText) => used_values(tables, facts).any(|v| matches!(v, values::Value::Text(t) if t.is_empty())),
            Some(Breach::NoRows) => observed.events.iter().any(|(event, _)| *event == Event::GroupOfNothing),
            Some(Breach::Value(class, place)) => {
                // A constant isn't watched: what it is was known when the note was made.
                observed.values.get(place).is_some_and(|seen| was_met(*class, seen))
            }
        }
    }
}

/// A value of a class came up.
pub(crate) fn was_met(class: ValueClass, seen: &Seen) -> bool {
    (class == ValueClass::Null && seen.null) || seen.values.iter().any(|v| class.holds(v))
}

fn used_values<'t>(tables: &'t [(Table, Vec<Row>)], facts: &'t QueryFacts) -> impl Iterator<Item = &'t values::Value> {
    let used = |name: &str| facts.has_star || facts.mentions.iter().any(|(_, n)| n.eq_ignore_ascii_case(name));
    tables.iter().flat_map(move |(table, rows)| {
        let columns: Vec<usize> = (0..table.columns.len()).filter(|i| used(&table.columns[*i].name)).collect();
        rows.iter().flat_map(move |row| columns.clone().into_iter().map(move |i| &row[i]))
    })
}
