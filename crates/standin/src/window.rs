//! Window functions: ranking, and aggregates over a window.

use std::collections::HashMap;

use values::{Row, Value};

use crate::aggregate::{AggregateKind, aggregate};
use crate::behaviour::Behaviour;
use crate::compare::group_key;
use crate::execute::{Environment, Runner, compare_keys};
use crate::failure::Failure;
use crate::plan::WindowPlan;

/// The window functions known.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum WindowKind {
    RowNumber,
    Rank,
    DenseRank,
    /// Over the whole partition, or up to the row's ties where the window has an order.
    Aggregate(AggregateKind),
}

impl WindowKind {
    pub(crate) fn named(name: &str, star: bool) -> Option<WindowKind> {
        Some(match name {
            "ROW_NUMBER" => WindowKind::RowNumber,
            "RANK" => WindowKind::Rank,
            "DENSE_RANK" => WindowKind::DenseRank,
            other => WindowKind::Aggregate(AggregateKind::named(other, star)?),
        })
    }
}

/// Adds the window's value to every row.
pub(crate) fn add(plan: &WindowPlan, rows: &mut [Row], outer: Option<&Environment<'_>>, runner: &Runner<'_>) -> Result<(), Failure> {
    let behaviour = runner.behaviour;
    let mut partitions: HashMap<Vec<crate::compare::GroupKey>, Vec<usize>> = HashMap::new();
    let mut keys: Vec<Vec<Value>> = Vec::with_capacity(rows.len());
    for (i, row) in rows.iter().enumerate() {
        let env = Environment { row, outer, row_number: 0 };
        let partition: Result<Vec<_>, Failure> = plan.partition.iter().map(|c| Ok(group_key(&runner.eval(c, &env)?, behaviour))).collect();
        partitions.entry(partition?).or_default().push(i);
        keys.push(plan.order.iter().map(|k| runner.eval(&k.code, &env)).collect::<Result<_, _>>()?);
    }
    let mut values: Vec<Value> = vec![Value::Null; rows.len()];
    let mut partitions: Vec<Vec<usize>> = partitions.into_values().collect();
    // The order of a hash table is another at every run; the seed alone must decide.
    partitions.sort();
    for mut members in partitions {
        // Ties are numbered in an order nobody chose; without any order the stream's own is kept.
        if !plan.order.is_empty() {
            runner.shuffle(&mut members);
        }
        members.sort_by(|a, b| compare_keys(&keys[*a], &keys[*b], &plan.order, behaviour));
        let ties = |a: usize, b: usize| compare_keys(&keys[a], &keys[b], &plan.order, behaviour).is_eq();
        match plan.kind {
            WindowKind::RowNumber => members.iter().enumerate().for_each(|(n, i)| values[*i] = Value::Integer(n as i64 + 1)),
            WindowKind::Rank | WindowKind::DenseRank => {
                let (mut rank, mut dense) = (0, 0);
                for (n, i) in members.iter().enumerate() {
                    if n == 0 || !ties(members[n - 1], *i) {
                        rank = n as i64 + 1;
                        dense += 1;
                    }
                    values[*i] = Value::Integer(if plan.kind == WindowKind::Rank { rank } else { dense });
                }
            }
            WindowKind::Aggregate(kind) => aggregates(kind, plan, &members, rows, outer, runner, &ties, &mut values, behaviour)?,
        }
    }
    for (row, value) in rows.iter_mut().zip(values) {
        row.push(value);
    }
    Ok(())
}

#[allow(clippy::too_many_arguments)]
fn aggregates(
    kind: AggregateKind,
    plan: &WindowPlan,
    members: &[usize],
    rows: &[Row],
    outer: Option<&Environment<'_>>,
    runner: &Runner<'_>,
    ties: &dyn Fn(usize, usize) -> bool,
    values: &mut [Value],
    behaviour: &Behaviour,
) -> Result<(), Failure> {
    let mut arguments = Vec::with_capacity(members.len());
    for i in members {
        let env = Environment { row: &rows[*i], outer, row_number: 0 };
        arguments.push(match plan.arguments.first() {
            Some(code) => runner.eval(code, &env)?,
            None => Value::Integer(1),
        });
    }
    let mut start = 0;
    while start < members.len() {
        // Without an order all rows are ties; with one the frame ends with the row's ties.
        let mut end = start + 1;
        while end < members.len() && ties(members[start], members[end]) {
            end += 1;
        }
        let value = aggregate(kind, arguments[..end].to_vec(), false, behaviour)?;
        for i in &members[start..end] {
            values[*i] = value.clone();
        }
        start = end;
    }
    Ok(())
}
