//! FROM: every table pushes its rows on, one at a time.

use std::ops::ControlFlow;
use std::rc::Rc;

use syntax::DialectName;
use values::{Row, Value};

use super::{Environment, Outer, Runner};
use crate::failure::Outcome;
use crate::plan::{From, SoughtPlan, UnpivotPlan};

/// Takes a row; the columns of the tables so far stand in it.
pub(super) type Take<'t> = &'t mut dyn FnMut(&mut Vec<Value>) -> Outcome<ControlFlow<()>>;

pub(super) const ON: ControlFlow<()> = ControlFlow::Continue(());

impl Runner<'_> {
    /// Pushes every row of a table reference to `take`, its columns behind those in `row`.
    pub(super) fn from(&self, from: &From, row: &mut Vec<Value>, outer: Outer<'_>, take: Take<'_>) -> Outcome<ControlFlow<()>> {
        match from {
            From::Nothing => take(row),
            From::Dual => {
                row.push(Value::Text("X".into()));
                let flow = take(row);
                row.pop();
                flow
            }
            From::Table(name) => {
                let rows = self.store.table(name).map(|t| Rc::clone(&t.rows)).unwrap_or_default();
                self.scan(&rows, true, row, take)
            }
            From::Common(number) => self.scan(&self.common_rows(*number), !self.keeps_order_of_views(), row, take),
            From::Query { plan, lateral } => {
                let rows =
                    if *lateral { self.query(plan, Some(&Environment::of(row, outer)), None)? } else { self.query(plan, outer, None)? };
                self.scan(&rows, !self.keeps_order_of_views(), row, take)
            }
            From::Function { function, arguments, numbered, .. } => {
                let env = Environment::of(row, outer);
                let values = self.eval_all(arguments.iter().map(|t| &t.code), &env)?;
                let types: Vec<_> = arguments.iter().map(|t| t.ty.clone()).collect();
                let mut rows = function.rows(&values, &types, self.behaviour)?;
                if let Some(first) = numbered {
                    rows.iter_mut().zip(*first..).for_each(|(row, n)| row.push(Value::Integer(n)));
                }
                self.scan(&rows, true, row, take)
            }
            From::Unpivot(unpivot) => self.unpivot(unpivot, row, outer, take),
            From::Join(join) => self.join(join, row, outer, take),
            From::Sought(sought) => self.sought(sought, row, outer, take),
        }
    }

    fn sought(&self, plan: &SoughtPlan, row: &mut Vec<Value>, outer: Outer<'_>, take: Take<'_>) -> Outcome<ControlFlow<()>> {
        let right = self.indexed(std::ptr::from_ref(&plan.from), &plan.from, &plan.equal, plan.start)?;
        let mut found = match self.side_key(&plan.equal, true, &Environment::of(row, outer))? {
            Some(key) => right.candidates(&key).to_vec(),
            None => return Ok(ON),
        };
        self.shuffle(&mut found);
        let start = row.len();
        for at in found {
            self.go_on()?;
            row.extend_from_slice(&right.rows[at as usize]);
            let flow = take(row)?;
            row.truncate(start);
            if flow.is_break() {
                return Ok(flow);
            }
        }
        Ok(ON)
    }

    /// In Oracle the block decides: one that uses ROWNUM keeps the order of its view.
    fn keeps_order_of_views(&self) -> bool {
        self.behaviour.name() == DialectName::Oracle && !self.in_join.get()
    }

    fn scan(&self, rows: &[Row], shuffled: bool, row: &mut Vec<Value>, take: Take<'_>) -> Outcome<ControlFlow<()>> {
        let start = row.len();
        let mut order: Vec<u32> = (0..rows.len() as u32).collect();
        if shuffled {
            self.shuffle(&mut order);
        }
        for at in order {
            row.extend_from_slice(&rows[at as usize]);
            let flow = take(row)?;
            row.truncate(start);
            if flow.is_break() {
                return Ok(flow);
            }
        }
        Ok(ON)
    }

    fn unpivot(&self, plan: &UnpivotPlan, row: &mut Vec<Value>, outer: Outer<'_>, take: Take<'_>) -> Outcome<ControlFlow<()>> {
        let mut rows = Vec::new();
        for input in self.query(&plan.input, outer, None)? {
            for (names, columns) in &plan.groups {
                if !plan.include_nulls && columns.iter().all(|c| input[*c].is_null()) {
                    continue;
                }
                let kept = plan.kept.iter().map(|c| input[*c].clone());
                rows.push(kept.chain(names.iter().cloned()).chain(columns.iter().map(|c| input[*c].clone())).collect());
            }
        }
        self.scan(&rows, true, row, take)
    }
}
