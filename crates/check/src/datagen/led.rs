//! Rows led by the query: some meet all of its conditions at once, some fail one of them.
//!
//! Which values meet a condition is asked of the source's stand-in, so that any condition on one
//! column will do.

use values::{Table, Value};

use super::constraint::Checker;
use super::random::Random;
use crate::join_graph::JoinGraph;

/// What a row is made for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Role {
    /// Drawn without regard to the query's conditions.
    Free,
    /// Meets them all.
    Meets,
    /// Fails the one of this number.
    Fails(usize),
}

/// Rows take turns: one is free, one meets all conditions, one fails a condition.
const TURNS: usize = 3;
const FAILING: usize = 2;

/// The conditions on the columns of one table.
pub(super) struct Lead {
    columns: Vec<Choices>,
    conditions: usize,
    blocks: usize,
}

/// Values of a column, and which of them meet the conditions on it.
#[derive(Default)]
struct Choices {
    values: Vec<Value>,
    met: Vec<Met>,
}

struct Met {
    /// Of the table's.
    number: usize,
    block: usize,
    /// For each of the values.
    by: Vec<bool>,
}

impl Lead {
    /// `values` are those that each column of the table can have.
    pub(super) fn of(table: &Table, values: Vec<Vec<Value>>, graph: &JoinGraph, checker: &mut Checker) -> Lead {
        let mut columns: Vec<Choices> = table.columns.iter().map(|_| Choices::default()).collect();
        let mut number = 0;
        for condition in graph.conditions_of(&table.name) {
            let Some(at) = table.column_index(&condition.place.column) else { continue };
            let values = &values[at];
            let Some(by) = checker.met_by(table, at, values, condition) else { continue };
            let choices = &mut columns[at];
            if choices.values.is_empty() {
                choices.values.clone_from(values);
            }
            choices.met.push(Met { number, block: condition.block, by });
            number += 1;
        }
        Lead { columns, conditions: number, blocks: graph.blocks }
    }

    /// The first row meets all, so that one row alone does.
    pub(super) fn role(&self, i: usize) -> Role {
        match i % TURNS {
            _ if self.conditions == 0 => Role::Free,
            FAILING => Role::Fails(i / TURNS % self.conditions),
            0 if i > 0 => Role::Free,
            _ => Role::Meets,
        }
    }

    /// Whether columns that the query holds equal within a row are to be so in this one.
    pub(super) fn keeps_twins(i: usize) -> bool {
        i % TURNS != FAILING
    }

    /// Whether a row's value of a column is there for a condition's sake.
    pub(super) fn leads(&self, column: usize, i: usize) -> bool {
        self.role(i) != Role::Free && self.columns.get(column).is_some_and(|c| !c.met.is_empty())
    }

    /// A value of a column for a row; none where no condition is on it. Where blocks of the query
    /// contradict each other, rows take turns between them.
    pub(super) fn value(&self, column: usize, i: usize, random: &mut Random) -> Option<Value> {
        let choices = self.columns.get(column).filter(|c| !c.met.is_empty())?;
        let role = self.role(i);
        if role == Role::Free {
            return None;
        }
        let first = i / TURNS % self.blocks.max(1);
        let mut met: Vec<&Met> = choices.met.iter().collect();
        met.sort_by_key(|m| (role != Role::Fails(m.number), (m.block + self.blocks - first) % self.blocks.max(1)));
        let mut left: Vec<usize> = (0..choices.values.len()).collect();
        for met in met {
            let wanted = role != Role::Fails(met.number);
            let narrower: Vec<usize> = left.iter().copied().filter(|at| met.by[*at] == wanted).collect();
            if !narrower.is_empty() {
                left = narrower;
            }
        }
        random.of_these(&left).map(|at| choices.values[*at].clone())
    }
}
