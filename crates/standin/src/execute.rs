//! Running a plan.

use std::cell::RefCell;
use std::cmp::Ordering;
use std::collections::{HashMap, HashSet};
use std::rc::Rc;

use syntax::tree::{Direction, NullOrder, SetOperator};
use values::{ResultSet, Row, Value};

use crate::aggregate::aggregate;
use crate::arithmetic::compute;
use crate::behaviour::Behaviour;
use crate::compare::{self, GroupKey, group_key};
use crate::convert;
use crate::failure::{Failure, FailureKind};
use crate::function;
use crate::plan::{Body, Code, Comparison, From, GroupPlan, Join, Key, Limit, QueryPlan, SelectPlan};
use crate::shuffle::Random;
use crate::store::Store;
use crate::window;

/// More rows than this in one step end the query with an error.
const MOST_ROWS: usize = 20_000_000;

/// The row an expression is worked out over, and those around it.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Environment<'a> {
    pub(crate) row: &'a [Value],
    pub(crate) outer: Option<&'a Environment<'a>>,
    /// ROWNUM of the row, where it is being given.
    pub(crate) row_number: i64,
}

/// Runs plans over one store.
pub(crate) struct Runner<'a> {
    store: &'a Store,
    pub(crate) behaviour: &'a Behaviour,
    random: RefCell<Random>,
    /// Results of common table expressions.
    common: RefCell<HashMap<usize, Rc<Vec<Row>>>>,
    /// Results of subqueries that depend on no row around them, by the place of their plan.
    settled: RefCell<HashMap<*const QueryPlan, Rc<Vec<Row>>>>,
}

/// The result of a whole query.
pub(crate) fn run(plan: &QueryPlan, store: &Store, behaviour: &Behaviour, seed: u64) -> Result<ResultSet, Failure> {
    let runner = Runner::new(store, behaviour, seed);
    let mut rows = runner.query(plan, None)?;
    if behaviour.conditions_are_numbers {
        for value in rows.iter_mut().flatten() {
            if let Value::Boolean(b) = value {
                *value = Value::Integer(i64::from(*b));
            }
        }
    }
    Ok(ResultSet { columns: plan.labels.clone(), types: Vec::new(), rows })
}

/// The value of an expression without columns.
pub(crate) fn value(code: &Code, store: &Store, behaviour: &Behaviour) -> Result<Value, Failure> {
    let runner = Runner::new(store, behaviour, 0);
    runner.eval(code, &Environment { row: &[], outer: None, row_number: 0 })
}

/// The order of two rows' keys.
pub(crate) fn compare_keys(a: &[Value], b: &[Value], keys: &[Key], behaviour: &Behaviour) -> Ordering {
    for ((a, b), key) in a.iter().zip(b).zip(keys) {
        let order = match (a.is_null(), b.is_null()) {
            (true, true) => Ordering::Equal,
            (true, false) if key.nulls == NullOrder::First => Ordering::Less,
            (true, false) => Ordering::Greater,
            (false, true) if key.nulls == NullOrder::First => Ordering::Greater,
            (false, true) => Ordering::Less,
            (false, false) => {
                let order = compare::sort_order(a, b, behaviour);
                if key.direction == Some(Direction::Descending) { order.reverse() } else { order }
            }
        };
        if order.is_ne() {
            return order;
        }
    }
    Ordering::Equal
}

type Outer<'e> = Option<&'e Environment<'e>>;

impl<'a> Runner<'a> {
    fn new(store: &'a Store, behaviour: &'a Behaviour, seed: u64) -> Runner<'a> {
        let random = RefCell::new(Random::new(seed));
        Runner { store, behaviour, random, common: RefCell::default(), settled: RefCell::default() }
    }

    fn query(&self, plan: &QueryPlan, outer: Outer<'_>) -> Result<Vec<Row>, Failure> {
        for (number, common) in &plan.common {
            let rows = self.query(common, outer)?;
            self.common.borrow_mut().insert(*number, Rc::new(rows));
        }
        match &plan.body {
            Body::Select(select) => self.select(select, &plan.limit, outer),
            Body::Nested(inner) => {
                let rows = self.query(inner, outer)?;
                self.sorted(rows, plan, outer)
            }
            Body::Values(values) => {
                // Like a row count, a list of values sees the rows around it and none of its own.
                let nothing = Environment { row: &[], outer: None, row_number: 0 };
                let env = outer.unwrap_or(&nothing);
                let rows: Result<Vec<Row>, Failure> = values.iter().map(|row| row.iter().map(|c| self.eval(c, env)).collect()).collect();
                self.sorted(rows?, plan, outer)
            }
            Body::Set { operator, all, left, right } => {
                let left = self.query(left, outer)?;
                let right = self.query(right, outer)?;
                let mut rows = self.set_operation(*operator, *all, left, right);
                self.shuffle(&mut rows);
                self.sorted(rows, plan, outer)
            }
        }
    }

    /// The rows of a query inside an expression.
    fn subquery(&self, plan: &Rc<QueryPlan>, env: &Environment<'_>) -> Result<Rc<Vec<Row>>, Failure> {
        if plan.correlated {
            return Ok(Rc::new(self.query(plan, Some(env))?));
        }
        if let Some(rows) = self.settled.borrow().get(&Rc::as_ptr(plan)) {
            return Ok(Rc::clone(rows));
        }
        let rows = Rc::new(self.query(plan, Some(env))?);
        self.settled.borrow_mut().insert(Rc::as_ptr(plan), Rc::clone(&rows));
        Ok(rows)
    }

    /// Sorts and limits the rows of a set operation or list of values.
    fn sorted(&self, rows: Vec<Row>, plan: &QueryPlan, outer: Outer<'_>) -> Result<Vec<Row>, Failure> {
        let mut keyed = Vec::with_capacity(rows.len());
        for row in rows {
            let env = Environment { row: &row, outer, row_number: 0 };
            let keys: Result<Vec<Value>, Failure> = plan.order.iter().map(|k| self.eval(&k.code, &env)).collect();
            keyed.push((keys?, row));
        }
        self.order_and_limit(keyed, &plan.order, &plan.limit, outer)
    }

    fn order_and_limit(
        &self,
        mut keyed: Vec<(Vec<Value>, Row)>,
        keys: &[Key],
        limit: &Limit,
        outer: Outer<'_>,
    ) -> Result<Vec<Row>, Failure> {
        if !keys.is_empty() {
            // Ties come in an order nobody chose.
            self.shuffle(&mut keyed);
            keyed.sort_by(|a, b| compare_keys(&a.0, &b.0, keys, self.behaviour));
        }
        // A row count sees what the query as a whole sees: the rows around it, not its own.
        let nothing = Environment { row: &[], outer: None, row_number: 0 };
        let env = outer.unwrap_or(&nothing);
        let offset = match &limit.offset {
            Some(code) => self.offset(code, env)?,
            None => 0,
        };
        let total = keyed.len();
        let end = match &limit.count {
            None => total,
            Some(code) => {
                let count = self.count(code, env)?;
                self.check_count(count, limit)?;
                let count = match limit.percent {
                    None => count,
                    Some(_) if count == f64::MAX => count,
                    Some(true) => (total as f64 * count / 100.0 - 1e-9).ceil(),
                    Some(false) => (total as f64 * count / 100.0 + 1e-9).floor(),
                };
                offset.saturating_add(count.max(0.0) as usize).min(total)
            }
        };
        let mut end = end;
        if limit.with_ties && end > offset && !keys.is_empty() {
            while end < total && compare_keys(&keyed[end - 1].0, &keyed[end].0, keys, self.behaviour).is_eq() {
                end += 1;
            }
        }
        keyed.truncate(end);
        Ok(keyed.into_iter().skip(offset).map(|(_, row)| row).collect())
    }

    /// SQL Server takes no share beyond the whole, and FETCH wants a row at least.
    fn check_count(&self, count: f64, limit: &Limit) -> Result<(), Failure> {
        let invalid = |message: &str, code| Err(Failure::new(FailureKind::Invalid, message).coded(Some(code)));
        match self.behaviour.name() {
            syntax::DialectName::Tsql if limit.percent.is_some() && !(0.0..=100.0).contains(&count) => {
                invalid("TOP takes a share between 0 and 100", "Msg 1031")
            }
            syntax::DialectName::Tsql if limit.offset.is_some() && count < 1.0 => invalid("FETCH must be greater than zero", "Msg 10744"),
            _ => Ok(()),
        }
    }

    /// The rows a limit keeps, all of them as `f64::MAX`.
    fn count(&self, code: &Code, env: &Environment<'_>) -> Result<f64, Failure> {
        self.count_of(&self.eval(code, env)?)
    }

    fn count_of(&self, value: &Value) -> Result<f64, Failure> {
        match convert::to_float(value) {
            Some(count) if count < 0.0 => self.behaviour.negative_count.ok_or_else(|| no_count(value)),
            // Limits other than ROWNUM take the whole part (Oracle cuts a fraction).
            Some(count) => Ok(count),
            None if value.is_null() => self.behaviour.null_count.ok_or_else(|| no_count(value)),
            None => Err(no_count(value)),
        }
    }

    /// The rows skipped: none for a negative number, all for a NULL that would keep none.
    fn offset(&self, code: &Code, env: &Environment<'_>) -> Result<usize, Failure> {
        let value = self.eval(code, env)?;
        let limit = self.count_of(&value)?;
        Ok(match convert::to_float(&value) {
            Some(offset) => offset.max(0.0) as usize,
            None if limit > 0.0 => 0,
            None => usize::MAX,
        })
    }

    /// An order drawn from the seed.
    pub(crate) fn shuffle<T>(&self, items: &mut [T]) {
        self.random.borrow_mut().shuffle(items);
    }

    fn keys_of(&self, row: &[Value]) -> Vec<GroupKey> {
        row.iter().map(|v| group_key(v, self.behaviour)).collect()
    }

    fn distinct(&self, rows: Vec<Row>) -> Vec<Row> {
        let mut seen = HashSet::new();
        rows.into_iter().filter(|r| seen.insert(self.keys_of(r))).collect()
    }

    fn set_operation(&self, operator: SetOperator, all: bool, left: Vec<Row>, right: Vec<Row>) -> Vec<Row> {
        if operator == SetOperator::Union {
            let mut rows = left;
            rows.extend(right);
            return if all { rows } else { self.distinct(rows) };
        }
        let mut counts: HashMap<Vec<GroupKey>, usize> = HashMap::new();
        for row in &right {
            *counts.entry(self.keys_of(row)).or_default() += 1;
        }
        let left = if all { left } else { self.distinct(left) };
        left.into_iter()
            .filter(|row| {
                let count = counts.get_mut(&self.keys_of(row));
                let found = count.as_ref().is_some_and(|c| **c > 0);
                if all
                    && found
                    && let Some(count) = count
                {
                    *count -= 1;
                }
                found == (operator == SetOperator::Intersect)
            })
            .collect()
    }

    // --- one block -----------------------------------------------------------------------------

    fn select(&self, plan: &SelectPlan, limit: &Limit, outer: Outer<'_>) -> Result<Vec<Row>, Failure> {
        let rows = self.from(&plan.from, outer)?;
        let mut rows = self.filtered(plan, rows, outer)?;
        if let Some(group) = &plan.group {
            rows = self.grouped(group, rows, outer)?;
        }
        rows = self.kept(plan.having.as_ref(), rows, outer)?;
        for window in &plan.windows {
            window::add(window, &mut rows, outer, self)?;
        }
        rows = self.kept(plan.qualify.as_ref(), rows, outer)?;
        let mut keyed = Vec::with_capacity(rows.len());
        for row in &rows {
            let env = Environment { row, outer, row_number: 0 };
            let items: Result<Row, Failure> = plan.items.iter().map(|c| self.eval(c, &env)).collect();
            let keys: Result<Vec<Value>, Failure> = plan.order.iter().map(|k| self.eval(&k.code, &env)).collect();
            keyed.push((keys?, items?));
        }
        if plan.order.is_empty() && !plan.keeps_order {
            self.shuffle(&mut keyed);
        }
        if plan.distinct {
            let mut seen = HashSet::new();
            keyed.retain(|(_, row)| seen.insert(self.keys_of(row)));
        }
        self.order_and_limit(keyed, &plan.order, limit, outer)
    }

    fn filtered(&self, plan: &SelectPlan, rows: Vec<Row>, outer: Outer<'_>) -> Result<Vec<Row>, Failure> {
        let mut kept = Vec::new();
        for mut row in rows {
            let row_number = kept.len() as i64 + 1;
            let passes = match &plan.filter {
                Some(filter) => self.is_true(filter, &Environment { row: &row, outer, row_number })?,
                None => true,
            };
            if passes {
                if plan.numbers_rows {
                    row.push(Value::Integer(row_number));
                }
                kept.push(row);
            }
        }
        Ok(kept)
    }

    fn kept(&self, condition: Option<&Code>, rows: Vec<Row>, outer: Outer<'_>) -> Result<Vec<Row>, Failure> {
        let Some(condition) = condition else { return Ok(rows) };
        let mut kept = Vec::new();
        for row in rows {
            if self.is_true(condition, &Environment { row: &row, outer, row_number: 0 })? {
                kept.push(row);
            }
        }
        Ok(kept)
    }

    fn grouped(&self, plan: &GroupPlan, rows: Vec<Row>, outer: Outer<'_>) -> Result<Vec<Row>, Failure> {
        let mut groups: HashMap<Vec<GroupKey>, (Row, Vec<Row>)> = HashMap::new();
        for row in rows {
            let env = Environment { row: &row, outer, row_number: 0 };
            let values: Result<Row, Failure> = plan.keys.iter().map(|c| self.eval(c, &env)).collect();
            let values = values?;
            groups.entry(self.keys_of(&values)).or_insert_with(|| (values, Vec::new())).1.push(row);
        }
        // Without GROUP BY there is one group even of no rows.
        if plan.keys.is_empty() && groups.is_empty() {
            groups.insert(Vec::new(), (Vec::new(), Vec::new()));
        }
        let mut out = Vec::with_capacity(groups.len());
        for (values, members) in groups.into_values() {
            let mut row = match members.first() {
                Some(first) => first.clone(),
                None => vec![Value::Null; plan.width],
            };
            row.extend(values);
            for plan in &plan.aggregates {
                let mut inputs = Vec::with_capacity(members.len());
                for member in &members {
                    let env = Environment { row: member, outer, row_number: 0 };
                    if let Some(filter) = &plan.filter
                        && !self.is_true(filter, &env)?
                    {
                        continue;
                    }
                    inputs.push(match &plan.argument {
                        Some(code) => self.eval(code, &env)?,
                        None => Value::Integer(1),
                    });
                }
                row.push(aggregate(plan.kind, inputs, plan.distinct, self.behaviour)?);
            }
            out.push(row);
        }
        // The order of a hash table is another at every run: sort it, then draw from the seed.
        out.sort_by(|a, b| a.iter().zip(b).map(|(a, b)| values::sort_order(a, b)).find(|o| o.is_ne()).unwrap_or(Ordering::Equal));
        self.shuffle(&mut out);
        Ok(out)
    }

    // --- FROM ----------------------------------------------------------------------------------

    /// In Oracle the block decides: one that uses ROWNUM keeps the order of its view.
    fn keeps_order_of_views(&self) -> bool {
        self.behaviour.name() == syntax::DialectName::Oracle
    }

    fn from(&self, from: &From, outer: Outer<'_>) -> Result<Vec<Row>, Failure> {
        match from {
            From::Nothing => Ok(vec![Vec::new()]),
            From::Dual => Ok(vec![vec![Value::Text("X".into())]]),
            From::Table(name) => {
                let mut rows = self.store.table(name).map(|t| t.rows.as_ref().clone()).unwrap_or_default();
                self.shuffle(&mut rows);
                Ok(rows)
            }
            From::Common(number) => {
                let mut rows = self.common.borrow().get(number).map(|r| r.as_ref().clone()).unwrap_or_default();
                // An inline view by another name.
                if !self.keeps_order_of_views() {
                    self.shuffle(&mut rows);
                }
                Ok(rows)
            }
            From::Query(plan) => {
                let mut rows = self.query(plan, outer)?;
                if !self.keeps_order_of_views() {
                    self.shuffle(&mut rows);
                }
                Ok(rows)
            }
            From::Join { left, right, kind, condition, lateral, left_width, right_width } => {
                let left = self.from(left, outer)?;
                let fixed = if *lateral { None } else { Some(self.from(right, outer)?) };
                let mut rows =
                    self.joined(&left, right, fixed.as_deref(), *kind, condition.as_ref(), (*left_width, *right_width), outer)?;
                // Whatever order its sides had, a join has none.
                if self.keeps_order_of_views() {
                    self.shuffle(&mut rows);
                }
                Ok(rows)
            }
        }
    }

    #[allow(clippy::too_many_arguments)]
    fn joined(
        &self,
        left: &[Row],
        right: &From,
        fixed: Option<&[Row]>,
        kind: Join,
        condition: Option<&Code>,
        (left_width, right_width): (usize, usize),
        outer: Outer<'_>,
    ) -> Result<Vec<Row>, Failure> {
        let mut rows: Vec<Row> = Vec::new();
        let mut right_found = vec![false; fixed.map_or(0, <[Row]>::len)];
        for one in left {
            let env = Environment { row: one, outer, row_number: 0 };
            let own;
            let others: &[Row] = if let Some(rows) = fixed {
                rows
            } else {
                own = self.from(right, Some(&env))?;
                &own
            };
            let mut found = false;
            for (i, other) in others.iter().enumerate() {
                let mut row = one.clone();
                row.extend(other.iter().cloned());
                let matches = match condition {
                    Some(code) => self.is_true(code, &Environment { row: &row, outer, row_number: 0 })?,
                    None => true,
                };
                if !matches {
                    continue;
                }
                found = true;
                if let Some(mark) = right_found.get_mut(i) {
                    *mark = true;
                }
                if matches!(kind, Join::Semi | Join::Anti) {
                    break;
                }
                rows.push(row);
                if rows.len() > MOST_ROWS {
                    return Err(Failure::new(
                        FailureKind::TooLarge,
                        format!("this join makes more than {MOST_ROWS} rows; is its condition missing?"),
                    ));
                }
            }
            let keeps_alone = match kind {
                Join::Left | Join::Full | Join::Anti => !found,
                Join::Semi => found,
                _ => false,
            };
            if keeps_alone {
                let mut row = one.clone();
                row.extend(std::iter::repeat_n(Value::Null, right_width));
                rows.push(row);
            }
        }
        if matches!(kind, Join::Right | Join::Full) {
            for (other, found) in fixed.unwrap_or(&[]).iter().zip(right_found) {
                if !found {
                    let mut row: Row = std::iter::repeat_n(Value::Null, left_width).collect();
                    row.extend(other.iter().cloned());
                    rows.push(row);
                }
            }
        }
        Ok(rows)
    }

    // --- expressions ---------------------------------------------------------------------------

    /// Whether a condition holds: not if it is unknown.
    pub(crate) fn is_true(&self, code: &Code, env: &Environment<'_>) -> Result<bool, Failure> {
        Ok(self.truth(&self.eval(code, env)?) == Some(true))
    }

    fn truth(&self, value: &Value) -> Option<bool> {
        match value {
            Value::Null => None,
            Value::Boolean(b) => Some(*b),
            Value::Text(t) => Some(convert::to_float(&convert::leading_number(t)) != Some(0.0)),
            other => Some(convert::to_float(other) != Some(0.0)),
        }
    }

    pub(crate) fn eval(&self, code: &Code, env: &Environment<'_>) -> Result<Value, Failure> {
        let boolean = |b: Option<bool>| b.map_or(Value::Null, Value::Boolean);
        Ok(match code {
            Code::Constant(value) => value.clone(),
            Code::Slot(depth, index) => {
                let mut place = env;
                for _ in 0..*depth {
                    match place.outer {
                        Some(outer) => place = outer,
                        None => return Ok(Value::Null),
                    }
                }
                place.row.get(*index).cloned().unwrap_or(Value::Null)
            }
            Code::RowNumber => Value::Integer(env.row_number),
            Code::Not(inner) => boolean(self.truth(&self.eval(inner, env)?).map(|b| !b)),
            Code::And(parts) => boolean(self.chain(parts, env, false)?),
            Code::Or(parts) => boolean(self.chain(parts, env, true)?),
            Code::Compare(comparison, sides) => {
                let (a, b) = (self.eval(&sides.0, env)?, self.eval(&sides.1, env)?);
                boolean(self.compare(*comparison, &a, &b)?)
            }
            Code::Arithmetic(operator, sides) => {
                compute(*operator, &self.eval(&sides.0, env)?, &self.eval(&sides.1, env)?, self.behaviour)?
            }
            Code::Negate(inner) => match self.eval(inner, env)? {
                Value::Integer(i) => Value::Integer(-i),
                other => compute(crate::arithmetic::Arithmetic::Subtract, &Value::Integer(0), &other, self.behaviour)?,
            },
            Code::Concat(sides) => {
                let (a, b) = (self.eval(&sides.0, env)?, self.eval(&sides.1, env)?);
                if !self.behaviour.concat_skips_null && (a.is_null() || b.is_null()) {
                    return Ok(Value::Null);
                }
                let part = |v: &Value| if v.is_null() { String::new() } else { convert::as_text(v, self.behaviour) };
                function::finished(part(&a) + &part(&b), self.behaviour)
            }
            Code::IsNull(inner, negated) => Value::Boolean(self.eval(inner, env)?.is_null() != *negated),
            Code::IsTruth(inner, wanted, negated) => Value::Boolean((self.truth(&self.eval(inner, env)?) == *wanted) != *negated),
            Code::InList(operand, items, negated) => {
                let value = self.eval(operand, env)?;
                let mut set = Vec::with_capacity(items.len());
                for item in items {
                    set.push(self.eval(item, env)?);
                }
                boolean(self.member(&value, &set)?.map(|b| b != *negated))
            }
            Code::InQuery(operand, plan, negated) => {
                let value = self.eval(operand, env)?;
                let set: Vec<Value> = self.subquery(plan, env)?.iter().cloned().map(row_value).collect();
                boolean(self.member(&value, &set)?.map(|b| b != *negated))
            }
            Code::Exists(plan) => Value::Boolean(!self.subquery(plan, env)?.is_empty()),
            Code::Scalar(plan) => {
                let rows = self.subquery(plan, env)?;
                if rows.len() > 1 {
                    return Err(Failure::new(FailureKind::SeveralRows, "a subquery used as a value gave several rows")
                        .coded(self.behaviour.code(FailureKind::SeveralRows)));
                }
                rows.first().and_then(|r| r.last().cloned()).unwrap_or(Value::Null)
            }
            Code::Quantified(comparison, operand, plan, all) => {
                let value = self.eval(operand, env)?;
                let mut unknown = false;
                for row in self.subquery(plan, env)?.iter() {
                    match self.compare(*comparison, &value, &row_value(row.clone()))? {
                        Some(b) if b != *all => return Ok(Value::Boolean(!*all)),
                        None => unknown = true,
                        _ => {}
                    }
                }
                if unknown { Value::Null } else { Value::Boolean(*all) }
            }
            Code::Like { operand, pattern, escape, any_case, negated } => {
                let (value, pattern) = (self.eval(operand, env)?, self.eval(pattern, env)?);
                if value.is_null() || pattern.is_null() {
                    return Ok(Value::Null);
                }
                let escape = match escape {
                    Some(code) => convert::as_text(&self.eval(code, env)?, self.behaviour).chars().next(),
                    None => self.behaviour.backslash_in_like.then_some('\\'),
                };
                let fold = |v: &Value| {
                    let text = convert::as_text(v, self.behaviour);
                    // SQLite's LIKE ignores the case of ASCII letters.
                    let collation = self.behaviour.collation;
                    if *any_case || collation.case_insensitive || self.behaviour.name() == syntax::DialectName::Sqlite {
                        text.to_lowercase()
                    } else {
                        text
                    }
                };
                let sets = self.behaviour.name() == syntax::DialectName::Tsql;
                let matched = like(&fold(&value), &fold(&pattern), escape, sets);
                Value::Boolean(matched != *negated)
            }
            Code::Case(branches, otherwise) => {
                for (when, then) in branches {
                    if self.is_true(when, env)? {
                        return self.eval(then, env);
                    }
                }
                match otherwise {
                    Some(code) => self.eval(code, env)?,
                    None => Value::Null,
                }
            }
            Code::Cast(inner, data_type, safe) => match convert::cast(self.eval(inner, env)?, data_type, self.behaviour) {
                Err(_) if *safe => Value::Null,
                other => other?,
            },
            Code::Call(function, arguments) => {
                let values: Result<Vec<Value>, Failure> = arguments.iter().map(|a| self.eval(a, env)).collect();
                function::call(*function, &values?, self.behaviour)?
            }
            Code::Row(parts) => {
                let values: Result<Vec<Value>, Failure> = parts.iter().map(|a| self.eval(a, env)).collect();
                Value::Array(Box::new(values?))
            }
        })
    }

    /// AND (`decides` false) or OR (true) with unknowns.
    fn chain(&self, parts: &[Code], env: &Environment<'_>, decides: bool) -> Result<Option<bool>, Failure> {
        let mut unknown = false;
        for part in parts {
            match self.truth(&self.eval(part, env)?) {
                Some(b) if b == decides => return Ok(Some(decides)),
                None => unknown = true,
                Some(_) => {}
            }
        }
        Ok(if unknown { None } else { Some(!decides) })
    }

    fn compare(&self, comparison: Comparison, a: &Value, b: &Value) -> Result<Option<bool>, Failure> {
        if let (Value::Array(a), Value::Array(b)) = (a, b) {
            return self.compare_rows(comparison, a, b);
        }
        if matches!(comparison, Comparison::Same | Comparison::NotSame) {
            let same = match (a.is_null(), b.is_null()) {
                (true, true) => true,
                (false, false) => compare::order(a, b, self.behaviour)?.is_some_and(Ordering::is_eq),
                _ => false,
            };
            return Ok(Some(same == (comparison == Comparison::Same)));
        }
        let Some(order) = compare::order(a, b, self.behaviour)? else { return Ok(None) };
        Ok(Some(match comparison {
            Comparison::Equal | Comparison::Same => order.is_eq(),
            Comparison::NotEqual | Comparison::NotSame => order.is_ne(),
            Comparison::Less => order.is_lt(),
            Comparison::LessOrEqual => order.is_le(),
            Comparison::Greater => order.is_gt(),
            Comparison::GreaterOrEqual => order.is_ge(),
        }))
    }

    fn compare_rows(&self, comparison: Comparison, a: &[Value], b: &[Value]) -> Result<Option<bool>, Failure> {
        let negated = comparison == Comparison::NotEqual;
        if !matches!(comparison, Comparison::Equal | Comparison::NotEqual) || a.len() != b.len() {
            return Err(Failure::unknown("this comparison of rows"));
        }
        let mut unknown = false;
        for (a, b) in a.iter().zip(b) {
            match self.compare(Comparison::Equal, a, b)? {
                Some(false) => return Ok(Some(negated)),
                None => unknown = true,
                Some(true) => {}
            }
        }
        Ok(if unknown { None } else { Some(!negated) })
    }

    fn member(&self, value: &Value, set: &[Value]) -> Result<Option<bool>, Failure> {
        let mut unknown = false;
        for item in set {
            match self.compare(Comparison::Equal, value, item)? {
                Some(true) => return Ok(Some(true)),
                None => unknown = true,
                Some(false) => {}
            }
        }
        Ok(if unknown { None } else { Some(false) })
    }
}

/// A row of one column as its value, of several as a row value.
fn row_value(mut row: Row) -> Value {
    if row.len() == 1 { row.pop().unwrap_or(Value::Null) } else { Value::Array(Box::new(row)) }
}

/// LIKE over characters: `%` any run, `_` any one, `[..]` a set in SQL Server.
fn like(text: &str, pattern: &str, escape: Option<char>, sets: bool) -> bool {
    let text: Vec<char> = text.chars().collect();
    let pattern: Vec<char> = pattern.chars().collect();
    like_from(&text, &pattern, escape, sets)
}

fn like_from(text: &[char], pattern: &[char], escape: Option<char>, sets: bool) -> bool {
    let Some(first) = pattern.first() else { return text.is_empty() };
    if Some(*first) == escape && pattern.len() > 1 {
        return text.first() == Some(&pattern[1]) && like_from(&text[1..], &pattern[2..], escape, sets);
    }
    match first {
        '%' => (0..=text.len()).any(|skip| like_from(&text[skip..], &pattern[1..], escape, sets)),
        '_' => !text.is_empty() && like_from(&text[1..], &pattern[1..], escape, sets),
        '[' if sets && pattern.contains(&']') => {
            let end = pattern.iter().position(|c| *c == ']').unwrap_or(0);
            let (negated, members) = match &pattern[1..end] {
                ['^', rest @ ..] => (true, rest),
                rest => (false, rest),
            };
            let Some(c) = text.first() else { return false };
            in_set(*c, members) != negated && like_from(&text[1..], &pattern[end + 1..], escape, sets)
        }
        c => text.first() == Some(c) && like_from(&text[1..], &pattern[1..], escape, sets),
    }
}

fn in_set(c: char, members: &[char]) -> bool {
    let mut i = 0;
    while i < members.len() {
        if i + 2 < members.len() && members[i + 1] == '-' {
            if (members[i]..=members[i + 2]).contains(&c) {
                return true;
            }
            i += 3;
        } else {
            if members[i] == c {
                return true;
            }
            i += 1;
        }
    }
    false
}

fn no_count(value: &Value) -> Failure {
    Failure::new(FailureKind::Invalid, format!("a row count can't be {value}"))
}
