//! The value of an expression over a row.

use std::borrow::Cow;
use std::cmp::Ordering;
use std::rc::Rc;

use bigdecimal::RoundingMode;
use syntax::tree::NullOrder;
use values::{Row, Value};

use super::{Environment, Members, Pattern, Runner, like};
use crate::arithmetic::{Arithmetic, compute, mysql_scale, negated};
use crate::behaviour::Collation;
use crate::compare::{self, as_float, group_key};
use crate::convert::{as_text, convert, leading_number, of_value};
use crate::failure::{Failure, FailureKind, Outcome, SEVERAL_ROWS};
use crate::function::Args;
use crate::plan::{CallCode, Code, Comparison, Conversion, LikeCode, QueryPlan, Rule};
use crate::types::Type;

fn boolean(value: Option<bool>) -> Value {
    value.map_or(Value::Null, Value::Boolean)
}

/// Whether a value holds as a condition; `None` if that is unknown.
pub(crate) fn truth(value: &Value) -> Option<bool> {
    match value {
        Value::Null => None,
        Value::Boolean(b) => Some(*b),
        Value::Integer(i) => Some(*i != 0),
        Value::Text(t) => Some(as_float(&leading_number(t)) != Some(0.0)),
        other => Some(as_float(other) != Some(0.0)),
    }
}

impl Runner<'_> {
    /// Whether a condition holds: not if it is unknown.
    pub(crate) fn is_true(&self, code: &Code, env: &Environment<'_>) -> Outcome<bool> {
        Ok(truth(&*self.look(code, env)?) == Some(true))
    }

    /// The value without a copy where it is somewhere already.
    pub(crate) fn look<'e>(&self, code: &'e Code, env: &Environment<'e>) -> Outcome<Cow<'e, Value>> {
        match code {
            Code::Constant(value) => Ok(Cow::Borrowed(value)),
            Code::Slot(0, index) => Ok(env.row.get(*index).map_or(Cow::Owned(Value::Null), Cow::Borrowed)),
            Code::Slot(depth, index) => {
                let mut place = env;
                for _ in 0..*depth {
                    match place.outer {
                        Some(outer) => place = outer,
                        None => return Ok(Cow::Owned(Value::Null)),
                    }
                }
                Ok(place.row.get(*index).map_or(Cow::Owned(Value::Null), Cow::Borrowed))
            }
            Code::Watched(place, inner) => {
                let value = self.look(inner, env)?;
                self.session.watch.value(*place, &value);
                Ok(value)
            }
            other => self.eval(other, env).map(Cow::Owned),
        }
    }

    pub(crate) fn eval(&self, code: &Code, env: &Environment<'_>) -> Outcome<Value> {
        self.go_on()?;
        Ok(match code {
            Code::Constant(_) | Code::Slot(..) | Code::Watched(..) => self.look(code, env)?.into_owned(),
            Code::RowNumber => Value::Integer(env.row_number),
            Code::Aggregate(_) | Code::Window(_) => return Err(Failure::unknown("an aggregate at this place")),
            Code::Grouping(parts) => self.grouping(parts, env)?,
            Code::Not(inner) => boolean(truth(&*self.look(inner, env)?).map(|b| !b)),
            Code::And(parts) => boolean(self.chain(parts, env, false)?),
            Code::Or(parts) => boolean(self.chain(parts, env, true)?),
            Code::Xor(sides) => {
                let (a, b) = (truth(&*self.look(&sides.0, env)?), truth(&*self.look(&sides.1, env)?));
                boolean(a.zip(b).map(|(a, b)| a != b))
            }
            Code::Compare(comparison, sides, rule) => {
                let (a, b) = (self.look(&sides.0, env)?, self.look(&sides.1, env)?);
                boolean(self.compare(*comparison, &a, &b, *rule)?)
            }
            Code::Arithmetic(_) if self.behaviour.is_mysql() => {
                let (value, scale) = self.unrounded(code, env)?;
                rounded(value, scale)
            }
            Code::Arithmetic(a) => {
                let (x, y) = (self.look(&a.left, env)?, self.look(&a.right, env)?);
                compute(a.operator, (&x, &a.types.0), (&y, &a.types.1), &a.result, self.behaviour).map_err(|f| a.place.mark(f))?
            }
            Code::Negate(inner, ty) => negated(&*self.look(inner, env)?, ty, self.behaviour)?,
            Code::Concat(sides, types) => self.concat(sides, types, env)?,
            Code::IsNull(inner, negated) => Value::Boolean(self.look(inner, env)?.is_null() != *negated),
            Code::IsTruth(inner, wanted, negated) => Value::Boolean((truth(&*self.look(inner, env)?) == *wanted) != *negated),
            Code::InList(operand, items, rule, negated) => {
                let value = self.look(operand, env)?;
                if let Some(members) = self.listed_members(items, *rule) {
                    return Ok(boolean(members.hold(&value, *rule).map(|b| b != *negated)));
                }
                boolean(
                    self.quantified(Comparison::Equal, &value, items.iter().map(|i| self.look(i, env)), *rule, false)?
                        .map(|b| b != *negated),
                )
            }
            Code::InQuery(operand, plan, rule, negated) => {
                let value = self.eval(operand, env)?;
                boolean(self.in_query(&value, plan, *rule, env)?.map(|b| b != *negated))
            }
            Code::Exists(plan) => Value::Boolean(!self.subquery(plan, env, Some(1))?.is_empty()),
            Code::Scalar(plan) => self.scalar(plan, env)?,
            Code::Collect(plan) => {
                let rows = self.subquery(plan, env, None)?;
                Value::Array(Box::new(rows.iter().map(|r| collected(r, &plan.labels)).collect()))
            }
            Code::Quantified(comparison, operand, plan, rule, all) => {
                let value = self.eval(operand, env)?;
                let rows = self.subquery(plan, env, None)?;
                boolean(self.quantified(*comparison, &value, rows.iter().map(|r| Ok(Cow::Owned(row_value(r.clone())))), *rule, *all)?)
            }
            Code::QuantifiedList(comparison, operand, items, rule, all) => {
                let value = self.look(operand, env)?;
                boolean(self.quantified(*comparison, &value, items.iter().map(|i| self.look(i, env)), *rule, *all)?)
            }
            Code::QuantifiedArray(comparison, sides, rule, all) => {
                let (value, array) = (self.look(&sides.0, env)?, self.look(&sides.1, env)?);
                match &*array {
                    Value::Array(items) => {
                        boolean(self.quantified(*comparison, &value, items.iter().map(|i| Ok(Cow::Borrowed(i))), *rule, *all)?)
                    }
                    _ => Value::Null,
                }
            }
            Code::Like(test) => self.like(test, env)?,
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
            Code::FirstPresent(parts) => {
                for part in parts {
                    let value = self.eval(part, env)?;
                    if !value.is_null() {
                        return Ok(value);
                    }
                }
                Value::Null
            }
            Code::Convert(conversion) => self.converted(conversion, env).map_err(|f| conversion.place.mark(f))?,
            Code::Call(call) => self.call(call, env).map_err(|f| call.place.mark(f))?,
            Code::Row(parts) | Code::Array(parts) => Value::Array(Box::new(self.eval_all(parts, env)?)),
            Code::Struct(fields) => {
                let values: Outcome<Vec<_>> = fields.iter().map(|(name, c)| Ok((name.as_str().into(), self.eval(c, env)?))).collect();
                Value::Struct(Box::new(values?))
            }
            Code::Field(inner, name) => match &*self.look(inner, env)? {
                Value::Struct(fields) => fields.iter().find(|(n, _)| n.eq_ignore_ascii_case(name)).map_or(Value::Null, |(_, v)| v.clone()),
                _ => Value::Null,
            },
        })
    }

    /// The bits of GROUPING: the first part is the row's mask, the others the numbers of the keys.
    fn grouping(&self, parts: &[Code], env: &Environment<'_>) -> Outcome<Value> {
        let numbers: Vec<i64> = self.eval_all(parts, env)?.iter().filter_map(crate::convert::whole).collect();
        let Some((mask, keys)) = numbers.split_first() else { return Ok(Value::Null) };
        Ok(Value::Integer(keys.iter().fold(0, |bits, key| (bits << 1) | ((mask >> key) & 1))))
    }

    fn concat(&self, sides: &(Code, Code), types: &(Type, Type), env: &Environment<'_>) -> Outcome<Value> {
        let (a, b) = (self.look(&sides.0, env)?, self.look(&sides.1, env)?);
        if !self.behaviour.concat_skips_null && (a.is_null() || b.is_null()) {
            return Ok(Value::Null);
        }
        match (&*a, &*b) {
            (Value::Array(x), Value::Array(y)) => return Ok(Value::Array(Box::new(x.iter().chain(y.iter()).cloned().collect()))),
            (Value::Array(x), one) => return Ok(Value::Array(Box::new(x.iter().chain([one]).cloned().collect()))),
            (one, Value::Array(x)) => return Ok(Value::Array(Box::new([one].into_iter().chain(x.iter()).cloned().collect()))),
            (Value::Binary(x), Value::Binary(y)) => return Ok(Value::Binary(Box::new([x.as_slice(), y.as_slice()].concat()))),
            _ => {}
        }
        let part = |v: &Value, t: &Type| if v.is_null() { String::new() } else { as_text(v, t, self.behaviour) };
        let text = part(&a, &types.0) + &part(&b, &types.1);
        if self.behaviour.name() == syntax::DialectName::Oracle && text.len() > 4000 {
            return Err(Failure::new(FailureKind::Overflow, "a string longer than 4000 bytes").with_code("ORA-01489"));
        }
        bounded(self.behaviour.text(text))
    }

    fn scalar(&self, plan: &QueryPlan, env: &Environment<'_>) -> Outcome<Value> {
        let rows = self.subquery(plan, env, None)?;
        // MySQL and SQLite differ: SQLite takes the first of several rows.
        if rows.len() > 1 && self.behaviour.name() != syntax::DialectName::Sqlite {
            return Err(Failure::new(FailureKind::SeveralRows, "a subquery used as a value gave several rows")
                .coded(self.behaviour.name(), SEVERAL_ROWS));
        }
        Ok(rows.first().and_then(|r| r.last().cloned()).unwrap_or(Value::Null))
    }

    fn like(&self, test: &LikeCode, env: &Environment<'_>) -> Outcome<Value> {
        let (value, pattern) = (self.look(&test.operand, env)?, self.look(&test.pattern, env)?);
        if value.is_null() || pattern.is_null() {
            return Ok(Value::Null);
        }
        let escape = match &test.escape {
            Some(code) => {
                let text = as_text(&*self.look(code, env)?, &Type::TEXT, self.behaviour);
                let mut chars = text.chars();
                match (chars.next(), chars.next()) {
                    (escape, None) => escape,
                    _ => {
                        return Err(Failure::invalid(format!("the escape '{text}' is not one character")).coded(
                            self.behaviour.name(),
                            &[(syntax::DialectName::Oracle, "ORA-01425"), (syntax::DialectName::SqlServer, "Msg 506")],
                        ));
                    }
                }
            }
            None => (self.behaviour.backslash_in_like && !test.glob).then_some('\\'),
        };
        let sqlserver = self.behaviour.name() == syntax::DialectName::SqlServer;
        let text = |v: &Value| match v {
            Value::Text(t) => t.to_string(),
            other => as_text(other, &of_value(other), self.behaviour),
        };
        let (mut text, pattern) = (text(&value), text(&pattern));
        if test.trims && !pattern.ends_with(' ') {
            text.truncate(text.trim_end_matches(' ').len());
        }
        if self.behaviour.name() == syntax::DialectName::Oracle && test.escape.is_some() {
            check_escapes(&pattern, escape)?;
        }
        // DuckDB, Pattern matching, GLOB; seen on 1.5: [!a], and a backslash escapes.
        let duckdb_glob = test.glob && self.behaviour.name() == syntax::DialectName::Duckdb;
        let escape = if duckdb_glob { Some('\\') } else { escape };
        let negation = if duckdb_glob { '!' } else { '^' };
        let how = Pattern { escape, sets: sqlserver || test.glob, glob: test.glob, negation };
        Ok(Value::Boolean(like(&text, &pattern, how, test.rule.collation) != test.negated))
    }

    fn converted(&self, conversion: &Conversion, env: &Environment<'_>) -> Outcome<Value> {
        let value = match (self.eval(&conversion.code, env), &conversion.otherwise) {
            (Err(failure), Some(code)) if matches!(failure.kind, FailureKind::BadCast | FailureKind::Overflow) => {
                return self.eval(code, env);
            }
            (value, _) => value?,
        };
        let from = if conversion.from == Type::Any { of_value(&value) } else { conversion.from.clone() };
        match convert(value, &from, &conversion.to, conversion.how, self.behaviour) {
            Err(failure) if matches!(failure.kind, FailureKind::BadCast | FailureKind::Overflow) => match &conversion.otherwise {
                Some(code) => self.eval(code, env),
                None if conversion.safe => Ok(Value::Null),
                None => Err(failure),
            },
            other => other,
        }
    }

    fn call(&self, call: &CallCode, env: &Environment<'_>) -> Outcome<Value> {
        let values = self.eval_all(&call.arguments, env)?;
        if call.function.spreads_null() && values.iter().any(Value::is_null) {
            return Ok(Value::Null);
        }
        let args = Args {
            name: call.function.name,
            values: &values,
            types: &call.types,
            result: &call.result,
            collation: call.collation,
            behaviour: self.behaviour,
            session: self.session,
            random: &self.random,
        };
        bounded((call.function.run)(&args)?)
    }

    /// AND (`decides` false) or OR (true) with unknowns.
    fn chain(&self, parts: &[Code], env: &Environment<'_>, decides: bool) -> Outcome<Option<bool>> {
        let mut unknown = false;
        for part in parts {
            match truth(&*self.look(part, env)?) {
                Some(b) if b == decides => return Ok(Some(decides)),
                None => unknown = true,
                Some(_) => {}
            }
        }
        Ok(if unknown { None } else { Some(!decides) })
    }

    // --- comparison ----------------------------------------------------------------------------

    pub(crate) fn compare(&self, comparison: Comparison, a: &Value, b: &Value, rule: Rule) -> Outcome<Option<bool>> {
        if let (Value::Array(a), Value::Array(b)) = (a, b) {
            return self.compare_rows(comparison, a, b, rule);
        }
        let order = |a: &Value, b: &Value| {
            if rule.loose { Ok(compare::loose_order(a, b, rule.collation)) } else { compare::order(a, b, rule.collation) }
        };
        if matches!(comparison, Comparison::Same | Comparison::NotSame) {
            let same = match (a.is_null(), b.is_null()) {
                (true, true) => true,
                (false, false) => order(a, b)?.is_some_and(Ordering::is_eq),
                _ => false,
            };
            return Ok(Some(same == (comparison == Comparison::Same)));
        }
        Ok(order(a, b)?.map(|o| holds(comparison, o)))
    }

    /// A number of MySQL in the midst of a calculation, and the digits that are shown of it at its
    /// end: what is left out of a quotient counts until then.
    fn unrounded(&self, code: &Code, env: &Environment<'_>) -> Outcome<(Value, i64)> {
        if let Code::Watched(place, inner) = code {
            let found = self.unrounded(inner, env)?;
            self.session.watch.value(*place, &found.0);
            return Ok(found);
        }
        let Code::Arithmetic(a) = code else {
            let value = self.eval(code, env)?;
            let scale = if let Value::Decimal(d) = &value { d.fractional_digit_count().max(0) } else { 0 };
            return Ok((value, scale));
        };
        let ((x, p), (y, q)) = (self.unrounded(&a.left, env)?, self.unrounded(&a.right, env)?);
        let value = compute(a.operator, (&x, &a.types.0), (&y, &a.types.1), &a.result, self.behaviour).map_err(|f| a.place.mark(f))?;
        let scale = mysql_scale(a.operator, p, q);
        let rounds = a.operator == Arithmetic::Divide && self.behaviour.rounds_quotients;
        Ok((if rounds { rounded(value, scale) } else { value }, scale))
    }

    /// The order of rows in which NULLs have a place.
    fn whole_order(a: &[Value], b: &[Value], nulls: NullOrder, collation: Collation) -> Outcome<Ordering> {
        for (a, b) in a.iter().zip(b) {
            let null_first = nulls == NullOrder::First;
            let order = match (a, b) {
                (Value::Null, Value::Null) => Ordering::Equal,
                (Value::Null, _) => {
                    if null_first {
                        Ordering::Less
                    } else {
                        Ordering::Greater
                    }
                }
                (_, Value::Null) => {
                    if null_first {
                        Ordering::Greater
                    } else {
                        Ordering::Less
                    }
                }
                (Value::Array(a), Value::Array(b)) => Self::whole_order(a, b, nulls, collation)?,
                _ => compare::order(a, b, collation)?.unwrap_or(Ordering::Equal),
            };
            if order.is_ne() {
                return Ok(order);
            }
        }
        Ok(a.len().cmp(&b.len()))
    }

    /// Row values: the first unequal pair decides; a NULL before it leaves it unknown.
    fn compare_rows(&self, comparison: Comparison, a: &[Value], b: &[Value], rule: Rule) -> Outcome<Option<bool>> {
        use Comparison::{Equal, NotEqual, NotSame, Same};
        if let Some(nulls) = rule.nested_nulls {
            return Ok(Some(holds(comparison, Self::whole_order(a, b, nulls, rule.collation)?)));
        }
        if a.len() != b.len() && !matches!(comparison, Same | NotSame | Equal | NotEqual) {
            return Ok(Some(holds(comparison, a.len().cmp(&b.len()))));
        }
        match comparison {
            Equal | NotEqual | Same | NotSame => {
                let each = if matches!(comparison, Same | NotSame) { Same } else { Equal };
                let mut unknown = false;
                let mut all = a.len() == b.len();
                for (a, b) in a.iter().zip(b) {
                    match self.compare(each, a, b, rule)? {
                        Some(false) => all = false,
                        None => unknown = true,
                        Some(true) => {}
                    }
                }
                let wanted = matches!(comparison, Equal | Same);
                Ok(if !all {
                    Some(!wanted)
                } else if unknown {
                    None
                } else {
                    Some(wanted)
                })
            }
            _ => {
                for (a, b) in a.iter().zip(b) {
                    match self.compare(Equal, a, b, rule)? {
                        Some(true) => {}
                        None => return Ok(None),
                        Some(false) => return self.compare(comparison, a, b, rule),
                    }
                }
                Ok(Some(holds(comparison, Ordering::Equal)))
            }
        }
    }

    /// Whether any (or `all`) of a set compare so.
    fn quantified<'v>(
        &self,
        comparison: Comparison,
        value: &Value,
        set: impl Iterator<Item = Outcome<Cow<'v, Value>>>,
        rule: Rule,
        all: bool,
    ) -> Outcome<Option<bool>> {
        let mut unknown = false;
        for item in set {
            match self.compare(comparison, value, &*item?, rule)? {
                Some(b) if b != all => return Ok(Some(!all)),
                None => unknown = true,
                Some(_) => {}
            }
        }
        Ok(if unknown { None } else { Some(all) })
    }

    fn in_query(&self, value: &Value, plan: &QueryPlan, rule: Rule, env: &Environment<'_>) -> Outcome<Option<bool>> {
        if plan.correlated || rule.loose || matches!(value, Value::Array(_)) {
            let rows = self.subquery(plan, env, None)?;
            return self.quantified(Comparison::Equal, value, rows.iter().map(|r| Ok(Cow::Owned(row_value(r.clone())))), rule, false);
        }
        let place = std::ptr::from_ref(plan).addr();
        let known = self.members.borrow().get(&place).map(Rc::clone);
        let members = match known {
            Some(members) => members,
            None => {
                let rows = self.subquery(plan, env, None)?;
                self.keep_members(place, rows.iter().map(|r| r.last().unwrap_or(&Value::Null)), rule)
            }
        };
        Ok(members.hold(value, rule))
    }

    /// The members of a long list of constants, gathered once.
    fn listed_members(&self, items: &[Code], rule: Rule) -> Option<Rc<Members>> {
        if items.len() < LONG_LIST || rule.loose {
            return None;
        }
        let place = items.as_ptr().addr();
        if let Some(members) = self.members.borrow().get(&place) {
            return Some(Rc::clone(members));
        }
        // Kinds whose keys are equal just when the values are, whatever precedes IN.
        let mut values = Vec::with_capacity(items.len());
        for item in items {
            let Code::Constant(value @ (Value::Null | Value::Integer(_) | Value::Text(_))) = item else { return None };
            values.push(value);
        }
        Some(self.keep_members(place, values.into_iter(), rule))
    }

    fn keep_members<'v>(&self, place: usize, values: impl Iterator<Item = &'v Value>, rule: Rule) -> Rc<Members> {
        let mut members = Members::default();
        for value in values {
            if value.is_null() {
                members.has_null = true;
            } else {
                members.keys.insert(group_key(value, rule.collation));
            }
        }
        let members = Rc::new(members);
        self.members.borrow_mut().insert(place, Rc::clone(&members));
        members
    }
}

impl Members {
    /// Whether a value is among them; unknown where a NULL could be it.
    fn hold(&self, value: &Value, rule: Rule) -> Option<bool> {
        if value.is_null() {
            return if self.keys.is_empty() && !self.has_null { Some(false) } else { None };
        }
        match self.keys.contains(&group_key(value, rule.collation)) {
            true => Some(true),
            false if self.has_null => None,
            false => Some(false),
        }
    }
}

/// A decimal with so many digits behind the point, if it has more.
/// A string that a machine has room for: functions within functions can double it each time.
fn bounded(value: Value) -> Outcome<Value> {
    const MOST: usize = 1 << 26;
    match &value {
        Value::Text(text) if text.len() > MOST => {
            Err(Failure::new(FailureKind::TooLarge, "a string of more than 64 MB, more than the stand-in works with"))
        }
        _ => Ok(value),
    }
}

fn rounded(value: Value, scale: i64) -> Value {
    match value {
        Value::Decimal(d) if d.fractional_digit_count() > scale => Value::decimal(d.with_scale_round(scale, RoundingMode::HalfUp)),
        other => other,
    }
}

/// A list of fewer constants is looked through.
const LONG_LIST: usize = 16;

fn holds(comparison: Comparison, order: Ordering) -> bool {
    match comparison {
        Comparison::Equal | Comparison::Same => order.is_eq(),
        Comparison::NotEqual | Comparison::NotSame => order.is_ne(),
        Comparison::Less => order.is_lt(),
        Comparison::LessOrEqual => order.is_le(),
        Comparison::Greater => order.is_gt(),
        Comparison::GreaterOrEqual => order.is_ge(),
    }
}

/// Oracle: only the escape itself, `%` and `_` may stand behind an escape.
fn check_escapes(pattern: &str, escape: Option<char>) -> Outcome<()> {
    let mut chars = pattern.chars();
    while let Some(c) = chars.next() {
        if Some(c) == escape && !matches!(chars.next(), Some(next) if next == '%' || next == '_' || Some(next) == escape) {
            return Err(Failure::invalid("only %, _ and the escape itself can be escaped").with_code("ORA-01424"));
        }
    }
    Ok(())
}

/// A row of one column as its value, of several as a row value.
fn row_value(mut row: Row) -> Value {
    if row.len() == 1 { row.pop().unwrap_or(Value::Null) } else { Value::Array(Box::new(row)) }
}

/// A row as an element of an array: its value, or a struct of several.
fn collected(row: &[Value], labels: &[String]) -> Value {
    match row {
        [one] => one.clone(),
        several => Value::Struct(Box::new(labels.iter().zip(several).map(|(l, v)| (l.as_str().into(), v.clone())).collect())),
    }
}
