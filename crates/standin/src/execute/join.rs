//! Joins: by hash where sides are equal, else row by row.

use std::ops::ControlFlow;
use std::rc::Rc;

use rustc_hash::FxHashMap;
use values::{Row, Value};

use super::source::{ON, Take};
use super::{Environment, MOST_ROWS, Outer, Runner, too_many};
use crate::compare::{GroupKey, group_key};
use crate::failure::Outcome;
use crate::observe::Event;
use crate::plan::{EqualSides, From, Join, JoinPlan};

/// Rows by their keys, where there are equal sides.
pub(super) struct Indexed {
    pub(super) rows: Vec<Row>,
    by_key: Option<FxHashMap<Vec<GroupKey>, Vec<u32>>>,
}

impl Indexed {
    /// The places of the rows with a key.
    pub(super) fn candidates(&self, key: &[GroupKey]) -> &[u32] {
        self.by_key.as_ref().and_then(|by_key| by_key.get(key)).map_or(&[], Vec::as_slice)
    }
}

/// The right side of a join that runs.
struct Right {
    side: Rc<Indexed>,
    found: Vec<bool>,
    /// All places, where there are no equal sides.
    all: Vec<u32>,
}

impl Runner<'_> {
    pub(super) fn join(&self, plan: &JoinPlan, row: &mut Vec<Value>, outer: Outer<'_>, take: Take<'_>) -> Outcome<ControlFlow<()>> {
        let mut made = 0;
        let mut counted = |row: &mut Vec<Value>| {
            made += 1;
            self.go_on()?;
            if made > MOST_ROWS { Err(too_many("this join", MOST_ROWS)) } else { take(row) }
        };
        if plan.lateral {
            return self.from(&plan.left, row, outer, &mut |row| self.lateral(plan, row, outer, &mut counted));
        }
        if !plan.partition.is_empty() {
            return self.partitioned(plan, row, outer, &mut counted);
        }
        let mut right = self.right_side(plan, row, outer)?;
        let flow = self.from(&plan.left, row, outer, &mut |row| self.matches(plan, &mut right, row, outer, &mut counted))?;
        if flow.is_continue() && matches!(plan.kind, Join::Right | Join::Full) {
            return self.unmatched(plan, &right, row, &mut counted);
        }
        Ok(flow)
    }

    /// The right side runs for each row of the left.
    fn lateral(&self, plan: &JoinPlan, row: &mut Vec<Value>, outer: Outer<'_>, take: Take<'_>) -> Outcome<ControlFlow<()>> {
        let mut found = false;
        let stops = matches!(plan.kind, Join::Semi | Join::Anti);
        let flow = self.from(&plan.right, row, outer, &mut |row| {
            if !self.holds(plan, row, outer)? {
                return Ok(ON);
            }
            self.session.watch.event_if(found, Event::JoinedSeveral, plan.place);
            found = true;
            if stops { Ok(ControlFlow::Break(())) } else { take(row) }
        })?;
        if !stops && flow.is_break() {
            return Ok(flow);
        }
        self.alone(plan, found, row, take)
    }

    /// What the rest of the condition says; the equal sides of a lateral join are part of it.
    fn holds(&self, plan: &JoinPlan, row: &[Value], outer: Outer<'_>) -> Outcome<bool> {
        match &plan.condition {
            Some(condition) => self.is_true(condition, &Environment::of(row, outer)),
            None => Ok(true),
        }
    }

    /// A row of the left side by itself, where the kind of join keeps it.
    fn alone(&self, plan: &JoinPlan, found: bool, row: &mut Vec<Value>, take: Take<'_>) -> Outcome<ControlFlow<()>> {
        let kept = match plan.kind {
            Join::Left | Join::Full | Join::Anti => !found,
            Join::Semi => found,
            Join::Inner | Join::Right => false,
        };
        self.session.watch.event_if(!found, Event::JoinedNothing, plan.place);
        if !kept {
            return Ok(ON);
        }
        row.resize(plan.end, Value::Null);
        let flow = take(row);
        row.truncate(plan.middle);
        flow
    }

    fn right_side(&self, plan: &JoinPlan, row: &[Value], outer: Outer<'_>) -> Outcome<Right> {
        let side = match &plan.right {
            // The same rows for every row around the query.
            From::Table(_) | From::Common(_) if !plan.equal.is_empty() => {
                self.indexed(std::ptr::from_ref(&plan.right), &plan.right, &plan.equal, plan.middle)?
            }
            _ => Rc::new(self.index(&plan.right, &plan.equal, plan.middle, row, outer)?),
        };
        let all = if side.by_key.is_some() { Vec::new() } else { (0..side.rows.len() as u32).collect() };
        Ok(Right { found: vec![false; side.rows.len()], side, all })
    }

    /// The rows of a table by their keys: made once, whatever the row around the query.
    pub(super) fn indexed(&self, place: *const From, from: &From, equal: &[EqualSides], start: usize) -> Outcome<Rc<Indexed>> {
        if let Some(side) = self.indexes.borrow().get(&place) {
            return Ok(Rc::clone(side));
        }
        let side = Rc::new(self.index(from, equal, start, &[], None)?);
        self.indexes.borrow_mut().insert(place, Rc::clone(&side));
        Ok(side)
    }

    fn index(&self, from: &From, equal: &[EqualSides], start: usize, row: &[Value], outer: Outer<'_>) -> Outcome<Indexed> {
        let mut scratch = row.to_vec();
        scratch.resize(start, Value::Null);
        let mut rows: Vec<Row> = Vec::new();
        let mut by_key: Option<FxHashMap<Vec<GroupKey>, Vec<u32>>> = (!equal.is_empty()).then(FxHashMap::default);
        let _ = self.from(from, &mut scratch, outer, &mut |row| {
            if let Some(by_key) = &mut by_key
                && let Some(key) = self.side_key(equal, false, &Environment::of(row, outer))?
            {
                by_key.entry(key).or_default().push(rows.len() as u32);
            }
            rows.push(row[start..].to_vec());
            Ok(ON)
        })?;
        Ok(Indexed { rows, by_key })
    }

    /// The key of one side; `None` if a part is NULL, which equals nothing.
    pub(super) fn side_key(&self, sides: &[EqualSides], left: bool, env: &Environment<'_>) -> Outcome<Option<Vec<GroupKey>>> {
        let mut key = Vec::with_capacity(sides.len());
        for side in sides {
            let value = self.look(if left { &side.left } else { &side.right }, env)?;
            if value.is_null() && !side.same {
                return Ok(None);
            }
            key.push(group_key(&value, side.collation));
        }
        Ok(Some(key))
    }

    fn matches(
        &self,
        plan: &JoinPlan,
        right: &mut Right,
        row: &mut Vec<Value>,
        outer: Outer<'_>,
        take: Take<'_>,
    ) -> Outcome<ControlFlow<()>> {
        let Right { side, found: marks, all } = right;
        let candidates: &[u32] = match side.by_key {
            None => all,
            Some(_) => match self.side_key(&plan.equal, true, &Environment::of(row, outer))? {
                Some(key) => side.candidates(&key),
                None => &[],
            },
        };
        let mut found = false;
        for at in candidates {
            row.extend_from_slice(&side.rows[*at as usize]);
            let holds = self.holds(plan, row, outer)?;
            if holds {
                self.session.watch.event_if(found, Event::JoinedSeveral, plan.place);
                found = true;
                marks[*at as usize] = true;
            }
            let flow = if holds && !matches!(plan.kind, Join::Semi | Join::Anti) { take(row)? } else { ON };
            row.truncate(plan.middle);
            if flow.is_break() {
                return Ok(flow);
            }
            if found && matches!(plan.kind, Join::Semi | Join::Anti) {
                break;
            }
        }
        self.alone(plan, found, row, take)
    }

    fn unmatched(&self, plan: &JoinPlan, right: &Right, row: &mut Vec<Value>, take: Take<'_>) -> Outcome<ControlFlow<()>> {
        for (other, found) in right.side.rows.iter().zip(&right.found) {
            if *found {
                continue;
            }
            self.session.watch.event(Event::JoinedNothing, plan.place);
            row.resize(plan.middle, Value::Null);
            row.extend_from_slice(other);
            for (left, right) in &plan.merged {
                row[*left] = row[*right].clone();
            }
            let flow = take(row)?;
            row.truncate(plan.start);
            if flow.is_break() {
                return Ok(flow);
            }
        }
        Ok(ON)
    }

    /// Oracle's partitioned outer join: the left side's rows are joined partition by partition, and
    /// what finds nothing keeps the values of its partition.
    fn partitioned(&self, plan: &JoinPlan, row: &mut Vec<Value>, outer: Outer<'_>, take: Take<'_>) -> Outcome<ControlFlow<()>> {
        let mut partitions: Vec<(Vec<GroupKey>, Vec<Value>, Vec<Row>)> = Vec::new();
        let start = plan.start;
        let _ = self.from(&plan.left, row, outer, &mut |row| {
            let values = self.eval_all(&plan.partition, &Environment::of(row, outer))?;
            let key: Vec<GroupKey> = values.iter().map(|v| group_key(v, self.behaviour.collation)).collect();
            let own = row[start..].to_vec();
            match partitions.iter_mut().find(|(k, ..)| *k == key) {
                Some((.., rows)) => rows.push(own),
                None => partitions.push((key, values, vec![own])),
            }
            Ok(ON)
        })?;
        for (_, values, rows) in partitions {
            let mut right = self.right_side(plan, row, outer)?;
            for own in rows {
                row.extend(own);
                let flow = self.matches(plan, &mut right, row, outer, take)?;
                row.truncate(start);
                if flow.is_break() {
                    return Ok(flow);
                }
            }
            let flow = self.unmatched(plan, &right, row, &mut |row| {
                for (code, value) in plan.partition.iter().zip(&values) {
                    if let crate::plan::Code::Slot(0, at) = code.bare() {
                        row[*at] = value.clone();
                    }
                }
                take(row)
            })?;
            if flow.is_break() {
                return Ok(flow);
            }
        }
        Ok(ON)
    }
}
