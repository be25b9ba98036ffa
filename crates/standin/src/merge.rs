//! MERGE.

use std::rc::Rc;

use rustc_hash::FxHashSet;
use syntax::DialectName;
use syntax::tree::{
    Case, Expr, ExprKind, IsTest, IsWhat, Literal, LogicOperator, Merge, MergeAction, MergeClause, MergeMatch, Query, QueryBody, Select,
    Span, Spelled, TableRef,
};

use crate::StandIn;
use crate::change::{Change, Limited, Target, item, target_of};
use crate::failure::{Codes, Failure, Outcome};
use crate::store::{SourceText, Stored};

type E = Expr<Spelled>;

/// One MERGE under way.
struct Merging<'m> {
    merge: &'m Merge<Spelled>,
    source: &'m Rc<SourceText>,
    target: Target,
    stored: Stored,
    change: Change,
    /// Places of rows that a clause has taken.
    touched: FxHashSet<usize>,
}

impl StandIn {
    pub(crate) fn merge(&mut self, merge: &Merge<Spelled>, source: &Rc<SourceText>) -> Outcome<()> {
        if merge.trailing.is_some() || merge.with.is_some() || merge.top.is_some() {
            return Err(Failure::unknown("this clause of MERGE"));
        }
        let target = target_of(&merge.target)?;
        let stored = self.stored(&target.name)?.clone();
        let mut merging = Merging { merge, source, target, stored, change: Change::default(), touched: FxHashSet::default() };
        for (nth, clause) in merge.clauses.iter().enumerate() {
            // The first clause of its kind whose condition holds takes the rows.
            let earlier = merge.clauses[..nth].iter().filter(|c| c.when == clause.when);
            let Some(passed_over) = earlier.map(|c| c.condition.as_ref().map(fails)).collect::<Option<Vec<E>>>() else { continue };
            let conditions = clause.condition.iter().cloned().chain(passed_over).collect();
            match clause.when {
                MergeMatch::NotMatched => self.merge_missing(&mut merging, clause, conditions)?,
                MergeMatch::Matched | MergeMatch::NotMatchedBySource => self.merge_existing(&mut merging, clause, conditions)?,
            }
        }
        let Merging { target, mut change, stored, .. } = merging;
        drop(stored);
        self.number_identities(&target.name, &mut change.inserted);
        self.apply(&target.name, change)
    }

    /// Rows of the target that find a row of the source, or none.
    fn merge_existing(&self, merging: &mut Merging<'_>, clause: &MergeClause<Spelled>, mut conditions: Vec<E>) -> Outcome<()> {
        let assignments = match &clause.action {
            MergeAction::Update(assignments, filter, None) => {
                conditions.extend(filter.clone());
                assignments.as_slice()
            }
            MergeAction::Update(.., Some(_)) => return Err(Failure::unknown("DELETE WHERE in MERGE")),
            MergeAction::Delete => &[],
            MergeAction::Nothing => return Ok(()),
            MergeAction::Insert(..) => return Err(Failure::invalid("INSERT can only stand under WHEN NOT MATCHED")),
        };
        let merge = merging.merge;
        let (tables, meets) = match clause.when {
            MergeMatch::Matched => (vec![merge.target.clone(), merge.source.clone()], merge.condition.clone()),
            _ => (vec![merge.target.clone()], found_nowhere(&merge.source, &merge.condition)),
        };
        let (places, exprs) = self.assigned(&merging.stored, assignments)?;
        let condition = all(meets, conditions);
        for (at, values) in self.affected(&merging.target, tables, Some(&condition), &exprs, Limited::NONE, merging.source)? {
            if !merging.touched.insert(at) {
                let codes: Codes =
                    &[(DialectName::Oracle, "ORA-30926"), (DialectName::SqlServer, "Msg 8672"), (DialectName::Postgres, "21000")];
                return Err(Failure::invalid("MERGE would change a row twice").coded(self.dialect().name, codes));
            }
            if matches!(clause.action, MergeAction::Delete) {
                merging.change.deleted.push(at);
            } else {
                let row = self.changed_row(&merging.stored, at, &places, values)?;
                merging.change.updated.push((at, row));
            }
        }
        Ok(())
    }

    /// Rows of the source that find no row of the target.
    fn merge_missing(&self, merging: &mut Merging<'_>, clause: &MergeClause<Spelled>, mut conditions: Vec<E>) -> Outcome<()> {
        let (columns, values) = match &clause.action {
            MergeAction::Insert(columns, values, filter) => {
                conditions.extend(filter.clone());
                (columns, values)
            }
            MergeAction::Nothing => return Ok(()),
            _ => return Err(Failure::invalid("only INSERT can stand under WHEN NOT MATCHED")),
        };
        let merge = merging.merge;
        let places = self.places(&merging.stored, columns)?;
        let mut select = Select::of(values.iter().cloned().map(item).collect(), vec![merge.source.clone()]);
        select.condition = Some(all(found_nowhere(&merge.target, &merge.condition), conditions));
        let plan = crate::compile::query(&query_of(select), merging.source, &self.surroundings())?;
        let types = plan.types.clone();
        for row in self.rows_of(&plan)? {
            merging.change.inserted.push(self.full_row(&merging.stored, &places, row, &types)?);
        }
        Ok(())
    }
}

fn query_of(select: Select<Spelled>) -> Query<Spelled> {
    Query::of(QueryBody::Select(Box::new(select)), Span::SYNTHETIC)
}

fn number(digits: &str) -> E {
    Expr::synthetic(ExprKind::Literal(Literal::Number(digits.into())))
}

/// No row of a table meets a condition.
fn found_nowhere(table: &TableRef<Spelled>, condition: &E) -> E {
    let mut select = Select::of(vec![item(number("1"))], vec![table.clone()]);
    select.condition = Some(condition.clone());
    let exists = Expr::synthetic(ExprKind::Exists(Box::new(query_of(select))));
    Expr::synthetic(ExprKind::Not(Box::new(exists)))
}

/// A condition is false or unknown.
fn fails(condition: &E) -> E {
    let case = Case { operand: None, branches: vec![(condition.clone(), number("1"))], otherwise: None };
    let operand = Expr::synthetic(ExprKind::Case(Box::new(case)));
    let test = IsTest { operand, negated: false, what: IsWhat::Null, one_word: false };
    Expr::synthetic(ExprKind::Is(Box::new(test)))
}

fn all(first: E, mut others: Vec<E>) -> E {
    if others.is_empty() {
        return first;
    }
    others.insert(0, first);
    Expr::synthetic(ExprKind::Logic(LogicOperator::And, others))
}
