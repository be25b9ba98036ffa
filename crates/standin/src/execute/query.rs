//! Queries: common tables, set operations, order and row limits; and one block.

use std::ops::ControlFlow;
use std::rc::Rc;

use rustc_hash::{FxHashMap, FxHashSet};
use syntax::DialectName;
use syntax::tree::SetOperator;
use values::{Row, Value};

use super::group::Groups;
use super::{Environment, NOTHING, Outer, Runner, compare_folded, fold, sort_places};
use crate::behaviour::Collation;
use crate::compare::{GroupKey, group_key};
use crate::convert::{How, convert, of_value, to_float};
use crate::failure::{Failure, Outcome};
use crate::observe::Event;
use crate::plan::{Body, Code, Distinct, Key, Limit, QueryPlan, SelectPlan};
use crate::types::Type;
use crate::window;

/// A row's sort keys and its values.
type Keyed = (Vec<Value>, Row);

impl Runner<'_> {
    /// The rows of a query; `most` tells how many are enough for what is asked.
    pub(super) fn query(&self, plan: &QueryPlan, outer: Outer<'_>, most: Option<usize>) -> Outcome<Vec<Row>> {
        for common in &plan.common {
            let rows = self.query(&common.plan, outer, None)?;
            self.set_common(common.number, rows);
        }
        let mut rows = syntax::with_stack(|| self.body(plan, outer, most))?;
        for (at, from, to) in &plan.conversions {
            for row in &mut rows {
                let value = std::mem::replace(&mut row[*at], Value::Null);
                let from = if *from == Type::Any { of_value(&value) } else { from.clone() };
                row[*at] = convert(value, &from, to, How::IMPLICIT, self.behaviour)?;
            }
        }
        match &plan.output {
            Some(output) => crate::function::xml::rows_as_text(&rows, output, self.behaviour),
            None => Ok(rows),
        }
    }

    fn body(&self, plan: &QueryPlan, outer: Outer<'_>, most: Option<usize>) -> Outcome<Vec<Row>> {
        match &plan.body {
            Body::Select(select) => self.select(select, &plan.limit, outer, most),
            Body::Nested(inner) => {
                let rows = self.query(inner, outer, None)?;
                self.sorted(rows, plan, outer)
            }
            Body::Values(values) => {
                // Like a row count, a list of values sees the rows around it and none of its own.
                let env = outer.unwrap_or(&NOTHING);
                let rows: Outcome<Vec<Row>> = values.iter().map(|row| self.eval_all(row, env)).collect();
                self.sorted(rows?, plan, outer)
            }
            Body::Set { place, operator, all, left, right, rules } => {
                let left = self.query(left, outer, None)?;
                let right = self.query(right, outer, None)?;
                let fed = left.len() + right.len();
                let mut rows = self.set_operation(*operator, *all, left, right, rules);
                self.session.watch.event_if(rows.len() < fed, Event::DroppedDuplicate, *place);
                self.shuffle(&mut rows);
                self.sorted(rows, plan, outer)
            }
            Body::Recursive(recursive) => self.recursive(recursive, outer),
        }
    }

    /// The rows of a query inside an expression.
    pub(super) fn subquery(&self, plan: &QueryPlan, env: &Environment<'_>, most: Option<usize>) -> Outcome<Rc<Vec<Row>>> {
        if plan.correlated {
            return Ok(Rc::new(self.query(plan, Some(env), most)?));
        }
        let place = std::ptr::from_ref(plan);
        if let Some(rows) = self.settled.borrow().get(&place) {
            return Ok(Rc::clone(rows));
        }
        let rows = Rc::new(self.query(plan, Some(env), most)?);
        self.settled.borrow_mut().insert(place, Rc::clone(&rows));
        Ok(rows)
    }

    /// Results of common tables and subqueries are forgotten: a step of a recursion begins.
    pub(super) fn forget(&self) {
        self.settled.borrow_mut().clear();
        self.members.borrow_mut().clear();
        self.indexes.borrow_mut().clear();
    }

    pub(super) fn common_rows(&self, number: usize) -> Rc<Vec<Row>> {
        self.common.borrow().get(&number).cloned().unwrap_or_default()
    }

    pub(super) fn set_common(&self, number: usize, rows: Vec<Row>) {
        self.common.borrow_mut().insert(number, Rc::new(rows));
        self.indexes.borrow_mut().clear();
    }

    // --- order and limits ----------------------------------------------------------------------

    /// Sorts and limits the rows of a set operation or list of values.
    fn sorted(&self, rows: Vec<Row>, plan: &QueryPlan, outer: Outer<'_>) -> Outcome<Vec<Row>> {
        if plan.order.is_empty() && plan.limit == Limit::default() {
            return Ok(rows);
        }
        let mut keyed = Vec::with_capacity(rows.len());
        for row in rows {
            let keys = self.keys_of(&plan.order, &Environment::of(&row, outer))?;
            keyed.push((keys, row));
        }
        self.order_and_limit(keyed, &plan.order, &plan.limit, outer)
    }

    fn order_and_limit(&self, mut keyed: Vec<Keyed>, keys: &[Key], limit: &Limit, outer: Outer<'_>) -> Outcome<Vec<Row>> {
        let places = self.sorted_places(&mut keyed, keys);
        let (mut start, mut end) = (0, keyed.len());
        if *limit != Limit::default() {
            (start, end) = self.bounds(limit, keyed.len(), outer)?;
            self.note_cut(&keyed, &places, keys, limit, start..end);
            let keys_at = |at: usize| keyed[places[at] as usize].0.as_slice();
            if limit.with_ties && end > start && !keys.is_empty() {
                while end < keyed.len() && compare_folded(keys_at(end - 1), keys_at(end), keys).is_eq() {
                    end += 1;
                }
            }
        }
        Ok(places[start.min(end)..end].iter().map(|place| std::mem::take(&mut keyed[*place as usize].1)).collect())
    }

    fn note_cut(&self, keyed: &[Keyed], places: &[u32], keys: &[Key], limit: &Limit, kept: std::ops::Range<usize>) {
        let watch = &self.session.watch;
        if !watch.is_on() {
            return;
        }
        let tied = |at: usize| {
            let key = |at: usize| keyed[places[at] as usize].0.as_slice();
            at > 0 && at < places.len() && !keys.is_empty() && compare_folded(key(at - 1), key(at), keys).is_eq()
        };
        watch.event_if(kept.start > 0 || kept.end < places.len(), Event::LimitCut, limit.place);
        watch.event_if(tied(kept.start) || tied(kept.end), Event::LimitCutTie, limit.place);
    }

    /// The places of rows in their order; the keys are folded on the way.
    fn sorted_places(&self, keyed: &mut [Keyed], by: &[Key]) -> Vec<u32> {
        let mut places: Vec<u32> = (0..keyed.len() as u32).collect();
        if !by.is_empty() {
            keyed.iter_mut().for_each(|(keys, _)| fold(keys, by));
            // Ties come in an order nobody chose.
            self.shuffle(&mut places);
            sort_places(&mut places, |place| &keyed[place as usize].0, by);
        }
        places
    }

    /// The first row that is kept and the one after the last.
    fn bounds(&self, limit: &Limit, total: usize, outer: Outer<'_>) -> Outcome<(usize, usize)> {
        // A row count sees what the query as a whole sees: the rows around it, not its own.
        let env = outer.unwrap_or(&NOTHING);
        let offset = match &limit.offset {
            Some(code) => self.offset(code, env)?,
            None => 0,
        };
        let Some(code) = &limit.count else { return Ok((offset, total)) };
        let count = self.count_of(&self.eval(code, env)?)?;
        self.check_count(count, limit)?;
        let count = match limit.percent {
            None => count,
            Some(_) if count == f64::MAX => count,
            Some(true) => (total as f64 * count / 100.0 - 1e-9).ceil(),
            Some(false) => (total as f64 * count / 100.0 + 1e-9).floor(),
        };
        Ok((offset, offset.saturating_add(count.max(0.0) as usize).min(total)))
    }

    /// SQL Server takes no share beyond the whole, and FETCH wants a row at least.
    fn check_count(&self, count: f64, limit: &Limit) -> Outcome<()> {
        let invalid = |message: &str, code| Err(Failure::invalid(message).with_code(code));
        match self.behaviour.name() {
            DialectName::SqlServer if limit.percent.is_some() && !(0.0..=100.0).contains(&count) => {
                invalid("TOP takes a share between 0 and 100", "Msg 1031")
            }
            DialectName::SqlServer if limit.offset.is_some() && count < 1.0 => invalid("FETCH must be greater than zero", "Msg 10744"),
            _ => Ok(()),
        }
    }

    /// The rows a limit keeps, all of them as `f64::MAX`.
    fn count_of(&self, value: &Value) -> Outcome<f64> {
        let wrong = || {
            Failure::invalid(format!("a row count can't be {value}"))
                .coded(self.behaviour.name(), &[(DialectName::SqlServer, "Msg 1014"), (DialectName::Postgres, "2201W")])
        };
        match to_float(value) {
            Some(count) if count < 0.0 => self.behaviour.negative_count.ok_or_else(wrong),
            Some(count) => Ok(count),
            None if value.is_null() => self.behaviour.null_count.ok_or_else(wrong),
            None => Err(wrong()),
        }
    }

    /// The rows skipped: none for a negative number, all for a NULL that would keep none.
    fn offset(&self, code: &Code, env: &Environment<'_>) -> Outcome<usize> {
        let value = self.eval(code, env)?;
        let limit = match self.count_of(&value) {
            Err(failure) if self.behaviour.name() == DialectName::SqlServer => return Err(failure.with_code("Msg 10742")),
            other => other?,
        };
        Ok(match to_float(&value) {
            Some(offset) => offset.max(0.0) as usize,
            None if limit > 0.0 => 0,
            None => usize::MAX,
        })
    }

    // --- set operations ------------------------------------------------------------------------

    pub(super) fn row_key(row: &[Value], rules: &[Collation]) -> Vec<GroupKey> {
        row.iter().enumerate().map(|(i, v)| group_key(v, rules.get(i).copied().unwrap_or(Collation::BINARY))).collect()
    }

    pub(super) fn distinct_rows(rows: Vec<Row>, rules: &[Collation]) -> Vec<Row> {
        let mut seen = FxHashSet::default();
        rows.into_iter().filter(|r| seen.insert(Self::row_key(r, rules))).collect()
    }

    fn set_operation(&self, operator: SetOperator, all: bool, left: Vec<Row>, right: Vec<Row>, rules: &[Collation]) -> Vec<Row> {
        if operator == SetOperator::Union {
            let mut rows = left;
            rows.extend(right);
            return if all { rows } else { Self::distinct_rows(rows, rules) };
        }
        let mut counts: FxHashMap<Vec<GroupKey>, usize> = FxHashMap::default();
        for row in &right {
            *counts.entry(Self::row_key(row, rules)).or_default() += 1;
        }
        let left = if all { left } else { Self::distinct_rows(left, rules) };
        left.into_iter()
            .filter(|row| {
                let count = counts.get_mut(&Self::row_key(row, rules)).filter(|c| **c > 0);
                let found = count.is_some();
                if let Some(count) = count.filter(|_| all) {
                    *count -= 1;
                }
                found == (operator == SetOperator::Intersect)
            })
            .collect()
    }

    // --- one block -----------------------------------------------------------------------------

    fn select(&self, plan: &SelectPlan, limit: &Limit, outer: Outer<'_>, most: Option<usize>) -> Outcome<Vec<Row>> {
        let joins = matches!(plan.from, crate::plan::From::Join(_));
        let around = self.in_join.replace(joins);
        let rows = self.select_inner(plan, limit, outer, most);
        self.in_join.set(around);
        rows
    }

    fn select_inner(&self, plan: &SelectPlan, limit: &Limit, outer: Outer<'_>, most: Option<usize>) -> Outcome<Vec<Row>> {
        let enough = self.enough(plan, limit, outer, most);
        let streams = plan.group.is_none() && plan.windows.is_empty() && plan.qualify.is_none();
        let mut keyed: Vec<Keyed> = Vec::new();
        let mut rows: Vec<Row> = Vec::new();
        let mut groups = plan.group.as_ref().map(|g| Groups::new(g, plan.place, self));
        let mut number = 0;
        let mut take = |row: &mut Vec<Value>| -> Outcome<ControlFlow<()>> {
            number += 1;
            let width = row.len();
            let passes = match &plan.filter {
                Some(filter) => self.is_true(filter, &Environment { row, outer, row_number: number })?,
                None => true,
            };
            if !passes {
                number -= 1;
                return Ok(ControlFlow::Continue(()));
            }
            if plan.numbers_rows {
                row.push(Value::Integer(number));
            }
            if let Some(groups) = &mut groups {
                groups.add(row, outer)?;
            } else if streams {
                keyed.push(self.output(plan, row, outer)?);
            } else {
                // With room for what the windows add.
                let mut own = Vec::with_capacity(row.len() + plan.windows.len());
                own.extend_from_slice(row);
                rows.push(own);
            }
            row.truncate(width);
            Ok(if enough.is_some_and(|n| keyed.len() >= n) { ControlFlow::Break(()) } else { ControlFlow::Continue(()) })
        };
        match &plan.hierarchy {
            Some(hierarchy) => self.walk(hierarchy, &plan.from, outer, &mut take)?,
            None => {
                let _ = self.from(&plan.from, &mut Vec::new(), outer, &mut take)?;
            }
        }
        if let Some(groups) = groups {
            rows = groups.finish(outer)?;
        }
        if !streams {
            rows = self.kept(plan.having.as_ref(), rows, outer)?;
            window::add_all(&plan.windows, &mut rows, outer, self)?;
            rows = self.kept(plan.qualify.as_ref(), rows, outer)?;
            keyed = rows.iter().map(|row| self.output(plan, row, outer)).collect::<Outcome<_>>()?;
        }
        if plan.order.is_empty() && !plan.keeps_order && plan.hierarchy.is_none() {
            self.shuffle(&mut keyed);
        }
        self.remove_duplicates(plan, &mut keyed);
        self.order_and_limit(keyed, &plan.order, limit, outer)
    }

    /// How many rows are enough, where the rest can't be distinguished from them.
    fn enough(&self, plan: &SelectPlan, limit: &Limit, outer: Outer<'_>, most: Option<usize>) -> Option<usize> {
        if !plan.order.is_empty() || plan.distinct != Distinct::No || plan.hierarchy.is_some() {
            return None;
        }
        if *limit == Limit::default() {
            return most;
        }
        let plain = limit.percent.is_none() && !limit.with_ties && limit.count.is_some();
        let (_, end) = if plain { self.bounds(limit, usize::MAX, outer).ok()? } else { return None };
        // Nothing is skipped if no row is wanted: one is met to see errors as a server would not.
        // A row more tells whether the limit leaves any out.
        Some(end.max(1).saturating_add(usize::from(self.session.watch.is_on())))
    }

    fn output(&self, plan: &SelectPlan, row: &[Value], outer: Outer<'_>) -> Outcome<Keyed> {
        let env = Environment::of(row, outer);
        let items = self.eval_all(&plan.items, &env)?;
        let mut keys = self.keys_of(&plan.order, &env)?;
        if let Distinct::On(columns) = &plan.distinct {
            keys.extend(self.eval_all(columns.iter().map(|c| &c.code), &env)?);
        }
        Ok((keys, items))
    }

    fn remove_duplicates(&self, plan: &SelectPlan, keyed: &mut Vec<Keyed>) {
        match &plan.distinct {
            Distinct::No => {}
            Distinct::Yes => {
                let mut seen = FxHashSet::default();
                let before = keyed.len();
                keyed.retain(|(_, row)| seen.insert(Self::row_key(row, &plan.collations)));
                self.session.watch.event_if(keyed.len() < before, Event::DroppedDuplicate, plan.place);
            }
            Distinct::On(columns) => {
                // The first of each in the order asked for; among ties any.
                let places = self.sorted_places(keyed, &plan.order);
                *keyed = places.into_iter().map(|place| std::mem::take(&mut keyed[place as usize])).collect();
                let rules: Vec<Collation> = columns.iter().map(|c| c.collation).collect();
                let mut seen = FxHashSet::default();
                let before = keyed.len();
                keyed.retain(|(keys, _)| seen.insert(Self::row_key(&keys[plan.order.len()..], &rules)));
                self.session.watch.event_if(keyed.len() < before, Event::DroppedDuplicate, plan.place);
            }
        }
    }

    fn kept(&self, condition: Option<&Code>, rows: Vec<Row>, outer: Outer<'_>) -> Outcome<Vec<Row>> {
        let Some(condition) = condition else { return Ok(rows) };
        let mut kept = Vec::new();
        for row in rows {
            if self.is_true(condition, &Environment::of(&row, outer))? {
                kept.push(row);
            }
        }
        Ok(kept)
    }
}
