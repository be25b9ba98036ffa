//! Recursive common table expressions: step by step until nothing new comes.

use std::rc::Rc;

use rustc_hash::{FxHashMap, FxHashSet};
use syntax::DialectName;
use values::{Row, Value};

use super::{Environment, MOST_ROWS, Outer, Runner, compare_keys, too_many};
use crate::behaviour::Collation;
use crate::compare::{GroupKey, group_key};
use crate::failure::{Codes, Failure, FailureKind, Outcome};
use crate::observe::Event;
use crate::plan::{RecursivePlan, Trace};

const DEPTH: Codes = &[
    (DialectName::SqlServer, "Msg 530"),
    (DialectName::Mysql, "ER_CTE_MAX_RECURSION_DEPTH"),
    (DialectName::Spark, "RECURSION_LEVEL_LIMIT_EXCEEDED"),
];

/// Where a dialect has no limit of its own, a recursion that goes deeper has no end.
const MOST_STEPS: usize = 200_000;

/// Nor has one that makes so much text.
const MOST_BYTES: usize = 100_000_000;

/// A row whose ancestors are known.
struct Traced {
    row: Row,
    parent: Option<usize>,
    depth: usize,
    cycles: bool,
    children: Vec<usize>,
}

/// The rows met so far by the columns that tell a cycle.
struct Met<'p> {
    /// None if cycles don't count.
    columns: Option<Vec<usize>>,
    rules: &'p [Collation],
    places: FxHashMap<Vec<GroupKey>, Vec<usize>>,
}

impl<'p> Met<'p> {
    fn new(trace: &Trace, rules: &'p [Collation]) -> Met<'p> {
        let all = || (0..rules.len()).collect();
        let columns = trace.cycle.as_ref().map(|(columns, ..)| columns.clone()).or_else(|| trace.fails.then(all));
        Met { columns, rules, places: FxHashMap::default() }
    }

    fn key(&self, row: &Row) -> Option<Vec<GroupKey>> {
        let rule = |c: usize| self.rules.get(c).copied().unwrap_or(Collation::BINARY);
        Some(self.columns.as_ref()?.iter().map(|c| group_key(&row[*c], rule(*c))).collect())
    }

    fn add(&mut self, row: &Row, at: usize) {
        if let Some(key) = self.key(row) {
            self.places.entry(key).or_default().push(at);
        }
    }

    /// Whether a row has the values of the row it comes from or one above that.
    fn is_above(&self, rows: &[Traced], parent: usize, row: &Row) -> bool {
        let Some(places) = self.key(row).and_then(|key| self.places.get(&key)) else { return false };
        let above = |place: &usize| {
            let mut at = parent;
            while rows[at].depth > rows[*place].depth {
                match rows[at].parent {
                    Some(up) => at = up,
                    None => break,
                }
            }
            at == *place
        };
        places.iter().any(above)
    }
}

impl Runner<'_> {
    pub(super) fn recursive(&self, plan: &RecursivePlan, outer: Outer<'_>) -> Outcome<Vec<Row>> {
        let saved = self.common_rows(plan.number);
        let rows = match &plan.traced {
            Some(trace) => self.traced(plan, trace, outer),
            None => self.stepwise(plan, outer),
        };
        self.set_common(plan.number, Rc::unwrap_or_clone(saved));
        self.forget();
        rows
    }

    fn step(&self, plan: &RecursivePlan, working: Vec<Row>, outer: Outer<'_>) -> Outcome<Vec<Row>> {
        self.set_common(plan.number, working);
        self.forget();
        self.query(&plan.step, outer, None)
    }

    /// One row too deep: an error, or the end without one.
    fn too_deep(&self, plan: &RecursivePlan) -> Outcome<()> {
        let most = plan.most_steps.unwrap_or_default();
        if plan.stops {
            return Ok(());
        }
        Err(Failure::new(FailureKind::Loop, format!("the recursion goes deeper than {most} steps")).coded(self.behaviour.name(), DEPTH))
    }

    fn stepwise(&self, plan: &RecursivePlan, outer: Outer<'_>) -> Outcome<Vec<Row>> {
        let mut seen: FxHashSet<Vec<GroupKey>> = FxHashSet::default();
        let mut fresh = |rows: Vec<Row>| -> Vec<Row> {
            if plan.all { rows } else { rows.into_iter().filter(|r| seen.insert(Runner::row_key(r, &plan.rules))).collect() }
        };
        let mut working = fresh(self.query(&plan.seed, outer, None)?);
        let mut all = working.clone();
        let enough = self.rows_wanted(plan, outer)?;
        let (mut steps, mut bytes) = (0, 0);
        // One that grows with every step soon makes more rows than any walk over these tables.
        let most_rows = (MOST_STEPS + 20 * self.store.row_count()).min(MOST_ROWS / 4);
        while !working.is_empty() && enough.is_none_or(|n| all.len() < n) {
            let next = fresh(self.step(plan, working, outer)?);
            if next.is_empty() {
                break;
            }
            steps += 1;
            self.session.watch.event_if(steps == 2, Event::WentDeep, plan.place);
            if plan.most_steps.is_some_and(|most| steps > most) {
                self.too_deep(plan)?;
                break;
            }
            // A path that grows without end fills the memory long before the steps run out.
            bytes += next.iter().flatten().map(|v| if let Value::Text(t) = v { t.len() } else { 0 }).sum::<usize>();
            if bytes > MOST_BYTES {
                return Err(Failure::new(
                    FailureKind::Loop,
                    format!("this recursion makes more than {MOST_BYTES} bytes of text; does it end?"),
                ));
            }
            all.extend(next.iter().cloned());
            if all.len() > most_rows {
                return Err(too_many("this recursion", most_rows));
            }
            if steps > MOST_STEPS {
                return Err(Failure::new(FailureKind::Loop, format!("this recursion goes deeper than {MOST_STEPS} steps; does it end?")));
            }
            working = next;
        }
        if let Some(n) = enough {
            all.truncate(n);
        }
        Ok(all)
    }

    /// A LIMIT in the recursive part bounds the whole (MySQL, SQLite).
    fn rows_wanted(&self, plan: &RecursivePlan, outer: Outer<'_>) -> Outcome<Option<usize>> {
        let Some(count) = &plan.step.limit.count else { return Ok(None) };
        let value = self.eval(count, outer.unwrap_or(&super::NOTHING))?;
        Ok(crate::convert::whole(&value).and_then(|n| usize::try_from(n).ok()))
    }

    // --- with ancestors ------------------------------------------------------------------------

    /// Every row is followed by itself, so that its ancestors are known.
    fn traced(&self, plan: &RecursivePlan, trace: &Trace, outer: Outer<'_>) -> Outcome<Vec<Row>> {
        let seed = self.query(&plan.seed, outer, None)?;
        let mut rows: Vec<Traced> =
            seed.into_iter().map(|row| Traced { row, parent: None, depth: 0, cycles: false, children: Vec::new() }).collect();
        let roots: Vec<usize> = (0..rows.len()).collect();
        let mut met = Met::new(trace, &plan.rules);
        rows.iter().enumerate().for_each(|(at, traced)| met.add(&traced.row, at));
        let mut next = 0;
        while next < rows.len() {
            if !rows[next].cycles {
                let depth = rows[next].depth + 1;
                self.session.watch.event_if(depth == 3, Event::WentDeep, plan.place);
                for row in self.step(plan, vec![rows[next].row.clone()], outer)? {
                    if plan.most_steps.is_some_and(|most| depth > most) {
                        self.too_deep(plan)?;
                        continue;
                    }
                    let cycles = met.is_above(&rows, next, &row);
                    self.session.watch.event_if(cycles, Event::MetCycle, plan.place);
                    if cycles && trace.fails {
                        return Err(Failure::new(FailureKind::Loop, "the recursion comes back to a row above").with_code("ORA-32044"));
                    }
                    let at = rows.len();
                    met.add(&row, at);
                    rows.push(Traced { row, parent: Some(next), depth, cycles, children: Vec::new() });
                    rows[next].children.push(at);
                }
            }
            if rows.len() > MOST_ROWS / 40 {
                return Err(too_many("this recursion", MOST_ROWS / 40));
            }
            next += 1;
        }
        let mut order: Vec<usize> = (0..rows.len()).collect();
        if let Some((depth_first, keys)) = &trace.search {
            order = if *depth_first { self.depth_first(&rows, roots, keys, outer)? } else { self.breadth_first(&rows, keys, outer)? };
        }
        let marked = |(place, at): (usize, usize)| {
            let mut row = rows[at].row.clone();
            if trace.search.is_some() {
                row.push(Value::Integer(place as i64 + 1));
            }
            if let Some((_, yes, no)) = &trace.cycle {
                row.push(if rows[at].cycles { yes.clone() } else { no.clone() });
                if trace.makes_path {
                    row.push(path(&rows, at));
                }
            }
            row
        };
        Ok(order.into_iter().enumerate().map(marked).collect())
    }

    fn sort_rows(&self, rows: &[Traced], order: &mut [usize], keys: &[crate::plan::Key], outer: Outer<'_>) -> Outcome<()> {
        self.shuffle(order);
        let mut keyed = Vec::with_capacity(order.len());
        for at in order.iter() {
            keyed.push((self.keys_of(keys, &Environment::of(&rows[*at].row, outer))?, *at));
        }
        keyed.sort_by(|a, b| compare_keys(&a.0, &b.0, keys));
        order.iter_mut().zip(keyed).for_each(|(place, (_, at))| *place = at);
        Ok(())
    }

    fn depth_first(&self, rows: &[Traced], mut roots: Vec<usize>, keys: &[crate::plan::Key], outer: Outer<'_>) -> Outcome<Vec<usize>> {
        self.sort_rows(rows, &mut roots, keys, outer)?;
        let mut stack: Vec<usize> = roots.into_iter().rev().collect();
        let mut order = Vec::with_capacity(rows.len());
        while let Some(at) = stack.pop() {
            order.push(at);
            let mut children = rows[at].children.clone();
            self.sort_rows(rows, &mut children, keys, outer)?;
            stack.extend(children.into_iter().rev());
        }
        Ok(order)
    }

    fn breadth_first(&self, rows: &[Traced], keys: &[crate::plan::Key], outer: Outer<'_>) -> Outcome<Vec<usize>> {
        let mut order: Vec<usize> = (0..rows.len()).collect();
        self.sort_rows(rows, &mut order, keys, outer)?;
        order.sort_by_key(|at| rows[*at].depth);
        Ok(order)
    }
}

/// The rows from the root down, as PostgreSQL's CYCLE ... USING shows them.
fn path(rows: &[Traced], at: usize) -> Value {
    let mut path = Vec::new();
    let mut next = Some(at);
    while let Some(at) = next {
        path.push(Value::Array(Box::new(rows[at].row.clone())));
        next = rows[at].parent;
    }
    path.reverse();
    Value::Array(Box::new(path))
}
