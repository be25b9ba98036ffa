//! Grouping: rows are taken one by one, each by every grouping set.

use rustc_hash::FxHashMap;
use values::{Row, Value};

use super::{Environment, NOTHING, Outer, Runner};
use crate::aggregate::Accumulator;
use crate::compare::{GroupKey, group_key};
use crate::failure::Outcome;
use crate::observe::Event;
use crate::plan::{AggregatePlan, GroupPlan, Place};

/// One group.
struct Group {
    /// The first row met: what a loose dialect shows of columns that aren't grouped by.
    first: Row,
    keys: Row,
    /// Bits of the keys that its grouping set lacks.
    mask: i64,
    accumulators: Vec<Accumulator>,
}

/// All groups, in the order they were met.
pub(super) struct Groups<'r, 'a> {
    plan: &'r GroupPlan,
    place: Place,
    runner: &'r Runner<'a>,
    numbers: FxHashMap<(usize, Vec<GroupKey>), usize>,
    groups: Vec<Group>,
}

impl<'r, 'a> Groups<'r, 'a> {
    pub(super) fn new(plan: &'r GroupPlan, place: Place, runner: &'r Runner<'a>) -> Self {
        Groups { plan, place, runner, numbers: FxHashMap::default(), groups: Vec::new() }
    }

    pub(super) fn add(&mut self, row: &[Value], outer: Outer<'_>) -> Outcome<()> {
        let env = Environment::of(row, outer);
        let values = self.runner.eval_all(self.plan.keys.iter().map(|k| &k.code), &env)?;
        let keys: Vec<GroupKey> = values.iter().zip(&self.plan.keys).map(|(v, k)| group_key(v, k.collation)).collect();
        let plain = self.plan.sets.len() == 1 && self.plan.sets[0].len() == keys.len();
        if plain {
            let number = self.number(0, keys, row, || values);
            return take_row(&mut self.groups[number].accumulators, &self.plan.aggregates, &env, self.runner);
        }
        for set in 0..self.plan.sets.len() {
            let members = &self.plan.sets[set];
            let own = members.iter().map(|i| keys[*i].clone()).collect();
            let shown = || values.iter().enumerate().map(|(i, v)| if members.contains(&i) { v.clone() } else { Value::Null }).collect();
            let number = self.number(set, own, row, shown);
            take_row(&mut self.groups[number].accumulators, &self.plan.aggregates, &env, self.runner)?;
        }
        Ok(())
    }

    fn number(&mut self, set: usize, keys: Vec<GroupKey>, row: &[Value], shown: impl FnOnce() -> Row) -> usize {
        let next = self.groups.len();
        let number = *self.numbers.entry((set, keys)).or_insert(next);
        if number == next {
            self.groups.push(self.group(set, row.to_vec(), shown()));
        } else {
            self.runner.session.watch.event(Event::GroupOfSeveral, self.place);
        }
        number
    }

    fn group(&self, set: usize, first: Row, keys: Row) -> Group {
        let members = &self.plan.sets[set];
        let mask = (0..self.plan.keys.len()).filter(|i| !members.contains(i)).fold(0, |mask, i| mask | (1 << i));
        Group { first, keys, mask, accumulators: vec![Accumulator::default(); self.plan.aggregates.len()] }
    }

    /// The rows of the groups: the first row, the keys, the mask, the aggregates.
    pub(super) fn finish(mut self, outer: Outer<'_>) -> Outcome<Vec<Row>> {
        // Without GROUP BY there is one group even of no rows; so for each empty grouping set.
        for set in 0..self.plan.sets.len() {
            let empty = self.plan.sets[set].is_empty() && !self.numbers.keys().any(|(s, _)| *s == set);
            if empty && (!self.plan.written || self.plan.sets.len() > 1 || self.plan.keys.is_empty()) {
                // Not all engines give a grand total of no rows.
                if self.plan.sets.len() > 1 && !self.runner.behaviour.totals_nothing {
                    self.runner.session.watch.event(Event::GroupOfNothing, self.place);
                    continue;
                }
                let (first, keys) = (vec![Value::Null; self.plan.width], vec![Value::Null; self.plan.keys.len()]);
                let group = self.group(set, first, keys);
                self.runner.session.watch.event(Event::GroupOfNothing, self.place);
                self.groups.push(group);
            }
        }
        let mut rows = Vec::with_capacity(self.groups.len());
        for group in self.groups {
            let mut row = group.first;
            row.truncate(self.plan.width);
            row.extend(group.keys);
            row.push(Value::Integer(group.mask));
            let width = row.len();
            for (accumulator, plan) in group.accumulators.iter().zip(&self.plan.aggregates) {
                let parameters = self.runner.eval_all(&plan.parameters, &Environment::of(&row[..width], outer))?;
                row.push(accumulator.finish(plan, &parameters, self.runner.behaviour)?);
            }
            rows.push(row);
        }
        if !self.plan.outer.is_empty() {
            rows = vec![over_all(&self.plan.outer, &rows, outer, self.runner)?];
        }
        self.runner.shuffle(&mut rows);
        Ok(rows)
    }
}

/// Aggregates of aggregates: one row over all groups, the outer aggregates behind the last group's
/// columns.
fn over_all(plans: &[AggregatePlan], rows: &[Row], outer: Outer<'_>, runner: &Runner<'_>) -> Outcome<Row> {
    let mut accumulators = vec![Accumulator::default(); plans.len()];
    for row in rows {
        take_row(&mut accumulators, plans, &Environment::of(row, outer), runner)?;
    }
    let mut all = rows.last().cloned().unwrap_or_default();
    for (accumulator, plan) in accumulators.iter().zip(plans) {
        let parameters = runner.eval_all(&plan.parameters, &NOTHING)?;
        all.push(accumulator.finish(plan, &parameters, runner.behaviour)?);
    }
    Ok(all)
}

/// An aggregate's arguments and sort keys for one row.
pub(crate) type Input = (Vec<Value>, Vec<Value>);

/// Every aggregate takes what is its own of a row.
fn take_row(accumulators: &mut [Accumulator], plans: &[AggregatePlan], env: &Environment<'_>, runner: &Runner<'_>) -> Outcome<()> {
    accumulators.iter_mut().zip(plans).try_for_each(|(accumulator, plan)| accumulator.take(plan, env, runner))
}

impl Accumulator {
    /// Takes what is the aggregate's own of a row.
    pub(crate) fn take(&mut self, plan: &AggregatePlan, env: &Environment<'_>, runner: &Runner<'_>) -> Outcome<()> {
        // Most take one value as it is in the row.
        if let ([code], true, None, None) = (plan.arguments.as_slice(), plan.order.is_empty(), &plan.filter, &plan.keep) {
            let value = runner.look(code, env)?;
            self.add(plan, std::slice::from_ref(&*value), &[], runner.behaviour)?;
        } else if let Some((arguments, keys)) = input(plan, env, runner)? {
            self.add(plan, &arguments, &keys, runner.behaviour)?;
        }
        Ok(())
    }
}

/// What an aggregate takes of a row; nothing where its FILTER says no.
pub(crate) fn input(plan: &AggregatePlan, env: &Environment<'_>, runner: &Runner<'_>) -> Outcome<Option<Input>> {
    if let Some(filter) = &plan.filter
        && !runner.is_true(filter, env)?
    {
        return Ok(None);
    }
    let keys = match &plan.keep {
        Some((_, keys)) => runner.keys_of(keys, env)?,
        None => runner.keys_of(&plan.order, env)?,
    };
    Ok(Some((runner.eval_all(&plan.arguments, env)?, keys)))
}
