//! CONNECT BY: a walk from the roots down, a row before its children.

use std::ops::ControlFlow;

use rustc_hash::{FxHashMap, FxHashSet};
use values::{Row, Value};

use super::source::{ON, Take};
use super::{Environment, MOST_ROWS, Outer, Runner, compare_keys, too_many};
use crate::behaviour::Collation;
use crate::compare::{GroupKey, group_key};
use crate::convert::as_text;
use crate::failure::{Failure, FailureKind, Outcome};
use crate::observe::Event;
use crate::plan::{From, HIERARCHY_COLUMNS, HierarchyPlan};

/// A row on the way from the root to where the walk is.
struct Step {
    /// FROM's columns and the walk's own.
    row: Row,
    /// Its children that are still to be visited, the next one last.
    children: Vec<u32>,
    /// What tells it from the rows above it.
    key: Vec<GroupKey>,
    has_children: bool,
    cycle: bool,
}

/// The rows of FROM, and those that a value leads to.
struct Rows {
    rows: Vec<Row>,
    by_value: Option<FxHashMap<GroupKey, Vec<u32>>>,
    all: Vec<u32>,
}

impl Runner<'_> {
    /// Pushes the rows of the walk in its order.
    pub(super) fn walk(&self, plan: &HierarchyPlan, from: &From, outer: Outer<'_>, take: Take<'_>) -> Outcome<()> {
        let rows = self.rows_to_walk(plan, from, outer)?;
        let mut walk = Walk { runner: self, plan, rows: &rows, outer, path: FxHashSet::default(), visited: 0 };
        let mut roots = Vec::new();
        for at in &rows.all {
            let own = walk.widened(&rows.rows[*at as usize], 1, None)?;
            let starts = match &plan.start {
                Some(condition) => self.is_true(condition, &Environment::of(&own, outer))?,
                None => true,
            };
            if starts {
                roots.push(*at);
            }
        }
        walk.sort(&mut roots)?;
        for root in roots.into_iter().rev() {
            if walk.from_root(root, take)?.is_break() {
                break;
            }
        }
        Ok(())
    }

    fn rows_to_walk(&self, plan: &HierarchyPlan, from: &From, outer: Outer<'_>) -> Outcome<Rows> {
        let mut rows = Vec::new();
        let mut by_value = plan.lookup.as_ref().map(|_| FxHashMap::<GroupKey, Vec<u32>>::default());
        let _ = self.from(from, &mut Vec::new(), outer, &mut |row| {
            if let (Some((_, code)), Some(by_value)) = (&plan.lookup, &mut by_value) {
                let value = self.look(code, &Environment::of(row, outer))?;
                if !value.is_null() {
                    by_value.entry(group_key(&value, self.behaviour.collation)).or_default().push(rows.len() as u32);
                }
            }
            rows.push(row.clone());
            Ok(ON)
        })?;
        let all = (0..rows.len() as u32).collect();
        Ok(Rows { rows, by_value, all })
    }
}

struct Walk<'w, 'a> {
    runner: &'w Runner<'a>,
    plan: &'w HierarchyPlan,
    rows: &'w Rows,
    outer: Outer<'w>,
    /// The keys of the rows from the root down to here.
    path: FxHashSet<Vec<GroupKey>>,
    visited: usize,
}

impl Walk<'_, '_> {
    /// A row with the walk's columns behind it, seen as a child of `parent`.
    fn widened(&self, own: &[Value], level: i64, parent: Option<&Row>) -> Outcome<Row> {
        let mut row = own.to_vec();
        row.extend([Value::Integer(level), Value::Integer(0), Value::Integer(0)]);
        for prior in &self.plan.priors {
            row.push(match parent {
                Some(parent) => self.runner.eval(prior, &Environment::of(parent, self.outer))?,
                None => Value::Null,
            });
        }
        Ok(row)
    }

    /// Adds the values of the root and the paths.
    fn completed(&self, mut row: Row, parent: Option<&Row>) -> Outcome<Row> {
        let base = self.plan.width + HIERARCHY_COLUMNS + self.plan.priors.len();
        for (i, root) in self.plan.roots.iter().enumerate() {
            let value = match parent {
                Some(parent) => parent[base + i].clone(),
                None => self.runner.eval(root, &Environment::of(&row, self.outer))?,
            };
            row.push(value);
        }
        let base = base + self.plan.roots.len();
        for (i, (code, ty, separator)) in self.plan.paths.iter().enumerate() {
            let env = Environment::of(&row, self.outer);
            let value = self.runner.eval(code, &env)?;
            let own = if value.is_null() { String::new() } else { as_text(&value, ty, self.runner.behaviour) };
            let separator = as_text(&self.runner.eval(separator, &env)?, &crate::types::Type::TEXT, self.runner.behaviour);
            if !separator.is_empty() && own.contains(&separator) {
                return Err(Failure::invalid(format!("'{own}' holds the separator '{separator}'")).with_code("ORA-30004"));
            }
            let above = match parent.map(|p| &p[base + i]) {
                Some(Value::Text(path)) => path.to_string(),
                _ => String::new(),
            };
            row.push(Value::text(format!("{above}{separator}{own}")));
        }
        Ok(row)
    }

    /// What tells a row from those above it: the values that lead to its children.
    fn key(&self, row: &Row) -> Outcome<Vec<GroupKey>> {
        let env = Environment::of(row, self.outer);
        self.plan.watched.iter().map(|i| Ok(group_key(&self.runner.eval(&self.plan.priors[*i], &env)?, Collation::BINARY))).collect()
    }

    fn sort(&self, rows: &mut [u32]) -> Outcome<()> {
        self.runner.shuffle(rows);
        if self.plan.siblings.is_empty() {
            return Ok(());
        }
        let mut keyed = Vec::with_capacity(rows.len());
        for at in rows.iter() {
            let keys = self.runner.keys_of(&self.plan.siblings, &Environment::of(&self.rows.rows[*at as usize], self.outer))?;
            keyed.push((keys, *at));
        }
        // The next one to be visited comes last.
        keyed.sort_by(|a, b| compare_keys(&b.0, &a.0, &self.plan.siblings));
        rows.iter_mut().zip(keyed).for_each(|(place, (_, at))| *place = at);
        Ok(())
    }

    /// The rows below one, the next to be visited last; and whether a loop was passed over.
    fn children(&self, parent: &Row) -> Outcome<(Vec<u32>, bool)> {
        let level = crate::convert::whole(&parent[self.plan.width]).unwrap_or(0) + 1;
        let priors = self.runner.eval_all(&self.plan.priors, &Environment::of(parent, self.outer))?;
        let candidates: &[u32] = match (&self.plan.lookup, &self.rows.by_value) {
            (Some((prior, _)), Some(by_value)) => {
                by_value.get(&group_key(&priors[*prior], self.runner.behaviour.collation)).map_or(&[], Vec::as_slice)
            }
            _ => &self.rows.all,
        };
        let (mut children, mut cycle) = (Vec::new(), false);
        for at in candidates {
            let mut row = self.rows.rows[*at as usize].clone();
            row.extend([Value::Integer(level), Value::Integer(0), Value::Integer(0)]);
            row.extend(priors.iter().cloned());
            let env = Environment { row: &row, outer: self.outer, row_number: self.visited as i64 + 1 };
            if !self.runner.is_true(&self.plan.condition, &env)? {
                continue;
            }
            if !self.plan.watched.is_empty() && self.path.contains(&self.key(&row)?) {
                self.runner.session.watch.event(Event::MetCycle, self.plan.place);
                if !self.plan.no_cycle {
                    return Err(Failure::new(FailureKind::Loop, "the hierarchy comes back to a row above").with_code("ORA-01436"));
                }
                cycle = true;
                continue;
            }
            children.push(*at);
        }
        self.sort(&mut children)?;
        Ok((children, cycle))
    }

    fn step(&mut self, at: u32, parent: Option<&Row>) -> Outcome<Step> {
        self.visited += 1;
        if self.visited > MOST_ROWS {
            return Err(too_many("this hierarchy", MOST_ROWS));
        }
        let level = parent.map_or(Some(0), |p| crate::convert::whole(&p[self.plan.width])).unwrap_or(0) + 1;
        self.runner.session.watch.event_if(level == 3, Event::WentDeep, self.plan.place);
        let row = self.widened(&self.rows.rows[at as usize], level, parent)?;
        let row = self.completed(row, parent)?;
        let key = self.key(&row)?;
        if !self.plan.watched.is_empty() {
            self.path.insert(key.clone());
        }
        let (children, cycle) = self.children(&row)?;
        Ok(Step { row, has_children: !children.is_empty(), children, key, cycle })
    }

    fn from_root(&mut self, root: u32, take: Take<'_>) -> Outcome<ControlFlow<()>> {
        let mut stack = vec![self.step(root, None)?];
        if self.push(&mut stack, take)?.is_break() {
            return Ok(ControlFlow::Break(()));
        }
        while let Some(step) = stack.last_mut() {
            let Some(child) = step.children.pop() else {
                if let Some(done) = stack.pop() {
                    self.path.remove(&done.key);
                }
                continue;
            };
            let parent = step.row.clone();
            let next = self.step(child, Some(&parent))?;
            stack.push(next);
            if self.push(&mut stack, take)?.is_break() {
                return Ok(ControlFlow::Break(()));
            }
        }
        Ok(ON)
    }

    fn push(&self, stack: &mut [Step], take: Take<'_>) -> Outcome<ControlFlow<()>> {
        let Some(step) = stack.last() else { return Ok(ON) };
        let mut row = step.row.clone();
        row[self.plan.width + 1] = Value::Integer(i64::from(!step.has_children));
        row[self.plan.width + 2] = Value::Integer(i64::from(step.cycle));
        take(&mut row)
    }
}
