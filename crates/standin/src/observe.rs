//! What was met while a query ran: the values of its expressions and what its clauses did, each by
//! its place in the text.
//!
//! The checker asks this of data it has made: was the zero divided by, did the limit cut a tie, did
//! the outer join find nothing? Nothing of it is kept while a query runs as usual.

use std::cell::RefCell;
use std::collections::{HashMap, HashSet};
use std::rc::Rc;

use values::Value;

use crate::plan::Place;

/// First byte and the byte after the last.
pub type Bytes = (u32, u32);

/// What a clause did.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum Event {
    /// A row limit left rows out.
    LimitCut,
    /// Between rows with equal sort keys.
    LimitCutTie,
    /// A row found no partner.
    JoinedNothing,
    /// A row found several.
    JoinedSeveral,
    /// A group had several rows.
    GroupOfSeveral,
    /// An aggregate without GROUP BY had no row.
    GroupOfNothing,
    /// A duplicate row was dropped.
    DroppedDuplicate,
    /// A hierarchy had a third level.
    WentDeep,
    /// A hierarchy met a loop.
    MetCycle,
}

/// The values an expression had.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Seen {
    /// NULL.
    pub null: bool,
    /// True.
    pub yes: bool,
    /// False.
    pub no: bool,
    /// The first values that came, as many as are worth looking at.
    pub values: Vec<Value>,
}

/// More values of one expression are not kept.
const KEPT_VALUES: usize = 256;

/// What was met by one query, or by several of the same text.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Observed {
    /// Expressions.
    pub values: HashMap<Bytes, Seen>,
    /// What clauses did.
    pub events: HashSet<(Event, Bytes)>,
}

impl Observed {
    /// Whether the clause at a place ever did this.
    pub fn met(&self, event: Event, place: Bytes) -> bool {
        self.events.contains(&(event, place))
    }

    /// Adds what another run of the same text met.
    pub fn add(&mut self, other: Observed) {
        self.events.extend(other.events);
        for (place, seen) in other.values {
            let own = self.values.entry(place).or_default();
            own.null |= seen.null;
            own.yes |= seen.yes;
            own.no |= seen.no;
            let room = KEPT_VALUES.saturating_sub(own.values.len());
            own.values.extend(seen.values.into_iter().take(room));
        }
    }
}

impl Seen {
    fn note(&mut self, value: &Value) {
        match value {
            Value::Null => self.null = true,
            Value::Boolean(true) => self.yes = true,
            Value::Boolean(false) => self.no = true,
            _ => {}
        }
        if self.values.len() < KEPT_VALUES {
            self.values.push(value.clone());
        }
    }
}

/// Where a session writes what it meets; nowhere as a rule.
#[derive(Debug, Clone, Default)]
pub(crate) struct Watch(Option<Rc<RefCell<Observed>>>);

impl Watch {
    pub(crate) fn on() -> Watch {
        Watch(Some(Rc::default()))
    }

    pub(crate) fn is_on(&self) -> bool {
        self.0.is_some()
    }

    pub(crate) fn value(&self, place: Place, value: &Value) {
        if let (Some(observed), Some(place)) = (&self.0, place.bytes()) {
            observed.borrow_mut().values.entry(place).or_default().note(value);
        }
    }

    pub(crate) fn event(&self, event: Event, place: Place) {
        if let (Some(observed), Some(place)) = (&self.0, place.bytes()) {
            observed.borrow_mut().events.insert((event, place));
        }
    }

    /// The event where it happened.
    pub(crate) fn event_if(&self, happened: bool, event: Event, place: Place) {
        if happened {
            self.event(event, place);
        }
    }

    pub(crate) fn taken(self) -> Observed {
        self.0.map(|observed| observed.take()).unwrap_or_default()
    }
}
