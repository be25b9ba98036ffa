//! Walking over the codes of a plan, with how many blocks lie between.

use crate::plan::{AggregatePlan, Body, Bound, Code, Distinct, From, HierarchyPlan, Key, Limit, QueryPlan, SelectPlan, WindowPlan};

/// What is done with a code; the number tells how many blocks lie around it that the walk has
/// entered. It returns whether the walk goes into the code's parts.
pub(crate) type Visit<'v> = &'v mut dyn FnMut(&mut Code, usize) -> bool;

impl Code {
    /// Visits this code and all codes inside, those of subqueries too.
    pub(crate) fn walk(&mut self, depth: usize, visit: Visit<'_>) {
        if visit(self, depth) {
            self.walk_parts(depth, visit);
        }
    }

    fn walk_parts(&mut self, depth: usize, visit: Visit<'_>) {
        match self {
            Code::Constant(_) | Code::Slot(..) | Code::RowNumber | Code::Aggregate(_) | Code::Window(_) => {}
            Code::Not(c) | Code::Negate(c, _) | Code::IsNull(c, _) | Code::IsTruth(c, ..) | Code::Field(c, _) | Code::Watched(_, c) => {
                c.walk(depth, visit);
            }
            Code::And(parts)
            | Code::Or(parts)
            | Code::Row(parts)
            | Code::Array(parts)
            | Code::FirstPresent(parts)
            | Code::Grouping(parts) => {
                parts.iter_mut().for_each(|c| c.walk(depth, visit));
            }
            Code::Compare(_, sides, _) | Code::Concat(sides, _) | Code::Xor(sides) | Code::QuantifiedArray(_, sides, ..) => {
                sides.0.walk(depth, visit);
                sides.1.walk(depth, visit);
            }
            Code::Arithmetic(a) => {
                a.left.walk(depth, visit);
                a.right.walk(depth, visit);
            }
            Code::InList(operand, items, ..) | Code::QuantifiedList(_, operand, items, ..) => {
                operand.walk(depth, visit);
                items.iter_mut().for_each(|c| c.walk(depth, visit));
            }
            Code::InQuery(operand, plan, ..) | Code::Quantified(_, operand, plan, ..) => {
                operand.walk(depth, visit);
                plan.walk(depth, visit);
            }
            Code::Exists(plan) | Code::Scalar(plan) | Code::Collect(plan) => plan.walk(depth, visit),
            Code::Like(like) => {
                like.operand.walk(depth, visit);
                like.pattern.walk(depth, visit);
                like.escape.iter_mut().for_each(|c| c.walk(depth, visit));
            }
            Code::Case(branches, otherwise) => {
                for (when, then) in branches {
                    when.walk(depth, visit);
                    then.walk(depth, visit);
                }
                otherwise.iter_mut().for_each(|c| c.walk(depth, visit));
            }
            Code::Convert(conversion) => {
                conversion.code.walk(depth, visit);
                conversion.otherwise.iter_mut().for_each(|c| c.walk(depth, visit));
            }
            Code::Call(call) => call.arguments.iter_mut().for_each(|c| c.walk(depth, visit)),
            Code::Struct(fields) => fields.iter_mut().for_each(|(_, c)| c.walk(depth, visit)),
        }
    }
}

impl QueryPlan {
    /// Visits the codes of a query met at `depth`: those of its blocks lie one deeper.
    pub(crate) fn walk(&mut self, depth: usize, visit: Visit<'_>) {
        self.common.iter_mut().for_each(|c| c.plan.walk(depth, visit));
        match &mut self.body {
            Body::Select(select) => select.walk(depth, visit),
            Body::Set { left, right, .. } => {
                left.walk(depth, visit);
                right.walk(depth, visit);
            }
            Body::Nested(inner) => inner.walk(depth, visit),
            Body::Values(rows) => rows.iter_mut().flatten().for_each(|c| c.walk(depth, visit)),
            Body::Recursive(recursive) => {
                recursive.seed.walk(depth, visit);
                recursive.step.walk(depth, visit);
            }
        }
        keys(&mut self.order, depth + 1, visit);
        self.limit.walk(depth, visit);
    }
}

impl Limit {
    fn walk(&mut self, depth: usize, visit: Visit<'_>) {
        self.count.iter_mut().chain(self.offset.iter_mut()).for_each(|c| c.walk(depth, visit));
    }
}

fn keys(keys: &mut [Key], depth: usize, visit: Visit<'_>) {
    keys.iter_mut().for_each(|k| k.code.walk(depth, visit));
}

impl AggregatePlan {
    pub(crate) fn walk(&mut self, depth: usize, visit: Visit<'_>) {
        self.arguments
            .iter_mut()
            .chain(&mut self.filter)
            .chain(&mut self.parameters)
            .chain(&mut self.limit)
            .for_each(|c| c.walk(depth, visit));
        keys(&mut self.order, depth, visit);
        if let Some((_, order)) = &mut self.keep {
            keys(order, depth, visit);
        }
    }
}

impl WindowPlan {
    pub(crate) fn walk(&mut self, depth: usize, visit: Visit<'_>) {
        self.arguments.iter_mut().for_each(|c| c.walk(depth, visit));
        if let Some(aggregate) = &mut self.aggregate {
            aggregate.walk(depth, visit);
        }
        self.partition.iter_mut().for_each(|p| p.code.walk(depth, visit));
        keys(&mut self.order, depth, visit);
        if let Some(frame) = &mut self.frame {
            for bound in [&mut frame.start, &mut frame.end] {
                if let Bound::Preceding(code) | Bound::Following(code) = bound {
                    code.walk(depth, visit);
                }
            }
        }
    }
}

impl HierarchyPlan {
    pub(crate) fn walk(&mut self, depth: usize, visit: Visit<'_>) {
        self.start.iter_mut().for_each(|c| c.walk(depth, visit));
        self.condition.walk(depth, visit);
        if let Some((_, code)) = &mut self.lookup {
            code.walk(depth, visit);
        }
        keys(&mut self.siblings, depth, visit);
        self.priors.iter_mut().chain(&mut self.roots).for_each(|c| c.walk(depth, visit));
        for (value, _, separator) in &mut self.paths {
            value.walk(depth, visit);
            separator.walk(depth, visit);
        }
    }
}

impl SelectPlan {
    fn walk(&mut self, depth: usize, visit: Visit<'_>) {
        self.from.walk(depth, visit);
        let depth = depth + 1;
        if let Some(hierarchy) = &mut self.hierarchy {
            hierarchy.walk(depth, visit);
        }
        self.filter.iter_mut().chain(&mut self.having).chain(&mut self.qualify).for_each(|c| c.walk(depth, visit));
        if let Some(group) = &mut self.group {
            group.keys.iter_mut().for_each(|k| k.code.walk(depth, visit));
            group.aggregates.iter_mut().chain(&mut group.outer).for_each(|a| a.walk(depth, visit));
        }
        self.windows.iter_mut().for_each(|w| w.walk(depth, visit));
        self.items.iter_mut().for_each(|c| c.walk(depth, visit));
        if let Distinct::On(columns) = &mut self.distinct {
            columns.iter_mut().for_each(|k| k.code.walk(depth, visit));
        }
        keys(&mut self.order, depth, visit);
    }
}

impl From {
    /// Visits the codes of tables in the FROM of a block met at `depth`.
    pub(crate) fn walk(&mut self, depth: usize, visit: Visit<'_>) {
        match self {
            From::Dual | From::Nothing | From::Table(_) | From::Common(_) => {}
            // A lateral query sees the block's row; another sees what the block as a whole sees.
            From::Query { plan, lateral } => plan.walk(if *lateral { depth + 1 } else { depth }, visit),
            From::Function { arguments, .. } => arguments.iter_mut().for_each(|t| t.code.walk(depth + 1, visit)),
            From::Unpivot(unpivot) => unpivot.input.walk(depth, visit),
            From::Sought(sought) => {
                sought.from.walk(depth, visit);
                for side in &mut sought.equal {
                    side.left.walk(depth + 1, visit);
                    side.right.walk(depth + 1, visit);
                }
            }
            From::Join(join) => {
                join.left.walk(depth, visit);
                join.right.walk(depth, visit);
                for sides in &mut join.equal {
                    sides.left.walk(depth + 1, visit);
                    sides.right.walk(depth + 1, visit);
                }
                join.condition.iter_mut().chain(&mut join.partition).for_each(|c| c.walk(depth + 1, visit));
            }
        }
    }
}
