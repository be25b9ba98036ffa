//! Aggregates: their names, the types of their results, and how they gather.

use std::cmp::Ordering;
use std::collections::HashSet;

use bigdecimal::{RoundingMode, Signed};
use syntax::{DialectName, DialectSet};
use values::{Decimal, Value};

use crate::arithmetic::{quotient, settled};
use crate::behaviour::Behaviour;
use crate::compare::{GroupKey, as_decimal, as_float, group_key, sort_order};
use crate::convert::{How, as_text, convert, oracle_digits, simplest, to_float};
use crate::execute::compare_keys;
use crate::failure::{Codes, Failure, Outcome};
use crate::gathered::{bits, hypothetical, list, mariadb_digits, mode, percentile_continuous};
use crate::plan::AggregatePlan;
use crate::statistics::{self, Pairs, Spread};
use crate::types::{Family, Type};

/// The aggregates known.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum AggregateKind {
    CountRows,
    Count,
    CountIf,
    Sum,
    Minimum,
    Maximum,
    Average,
    Variance(Spread),
    Pairs(Pairs),
    /// LISTAGG, STRING_AGG, GROUP_CONCAT.
    List,
    Array,
    JsonArray,
    JsonObject,
    Median,
    PercentileContinuous,
    PercentileDiscrete,
    Mode,
    Any,
    First,
    Last,
    Every,
    Some,
    BitAnd,
    BitOr,
    BitXor,
    /// MAX_BY (true) and MIN_BY.
    By(bool),
    /// RANK(x) WITHIN GROUP and its kin.
    Rank,
    DenseRank,
    PercentRank,
    CumulativeShare,
    Product,
}

use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};
const ALL: DialectSet = DialectSet::ALL;
const fn of(names: &[DialectName]) -> DialectSet {
    DialectSet::of(names)
}
const MYSQL: DialectSet = of(&[Mysql, Mariadb]);
const fn variance(sample: bool, one_row_is_zero: bool, root: bool) -> AggregateKind {
    AggregateKind::Variance(Spread { sample, one_row_is_zero, root })
}

/// Names, the dialects that have them, and what they are there.
const NAMES: &[(&str, DialectSet, AggregateKind)] = &[
    ("COUNT", ALL, AggregateKind::Count),
    ("COUNT_BIG", of(&[SqlServer]), AggregateKind::Count),
    ("APPROX_COUNT_DISTINCT", of(&[Oracle, SqlServer, Duckdb, Bigquery, Spark]), AggregateKind::Count),
    ("COUNTIF", of(&[Bigquery]), AggregateKind::CountIf),
    ("COUNT_IF", of(&[Duckdb, Spark]), AggregateKind::CountIf),
    ("SUM", ALL, AggregateKind::Sum),
    ("TOTAL", of(&[Sqlite]), AggregateKind::Sum),
    ("MIN", ALL, AggregateKind::Minimum),
    ("MAX", ALL, AggregateKind::Maximum),
    ("AVG", ALL, AggregateKind::Average),
    ("MEAN", of(&[Duckdb, Spark]), AggregateKind::Average),
    ("PRODUCT", of(&[Duckdb, SqlServer]), AggregateKind::Product),
    // One row has no spread in Oracle (STDDEV, VARIANCE); the population's in MySQL.
    ("STDDEV", of(&[Oracle]), variance(true, true, true)),
    ("VARIANCE", of(&[Oracle]), variance(true, true, false)),
    ("STDDEV", MYSQL, variance(false, true, true)),
    ("STD", MYSQL, variance(false, true, true)),
    ("VARIANCE", MYSQL, variance(false, true, false)),
    ("STDDEV", of(&[Postgres, Duckdb, Bigquery, Spark]), variance(true, false, true)),
    ("STD", of(&[Spark]), variance(true, false, true)),
    ("VARIANCE", of(&[Postgres, Duckdb, Bigquery, Spark]), variance(true, false, false)),
    ("STDEV", of(&[SqlServer]), variance(true, false, true)),
    ("STDEVP", of(&[SqlServer]), variance(false, true, true)),
    ("VAR", of(&[SqlServer]), variance(true, false, false)),
    ("VARP", of(&[SqlServer]), variance(false, true, false)),
    ("STDDEV_SAMP", of(&[Oracle, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark]), variance(true, false, true)),
    ("STDDEV_POP", of(&[Oracle, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark]), variance(false, true, true)),
    ("VAR_SAMP", of(&[Oracle, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark]), variance(true, false, false)),
    ("VAR_POP", of(&[Oracle, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark]), variance(false, true, false)),
    ("CORR", of(&[Oracle, Postgres, Duckdb, Bigquery, Spark]), AggregateKind::Pairs(Pairs::Correlation)),
    ("CORR_S", of(&[Oracle]), AggregateKind::Pairs(Pairs::RankCorrelation)),
    ("CORR_K", of(&[Oracle]), AggregateKind::Pairs(Pairs::PairCorrelation)),
    ("COVAR_POP", of(&[Oracle, Postgres, Duckdb, Bigquery, Spark]), AggregateKind::Pairs(Pairs::Covariance { sample: false })),
    ("COVAR_SAMP", of(&[Oracle, Postgres, Duckdb, Bigquery, Spark]), AggregateKind::Pairs(Pairs::Covariance { sample: true })),
    ("REGR_SLOPE", of(&[Oracle, Postgres, Duckdb, Spark]), AggregateKind::Pairs(Pairs::Slope)),
    ("REGR_INTERCEPT", of(&[Oracle, Postgres, Duckdb, Spark]), AggregateKind::Pairs(Pairs::Intercept)),
    ("REGR_COUNT", of(&[Oracle, Postgres, Duckdb, Spark]), AggregateKind::Pairs(Pairs::Count)),
    ("REGR_R2", of(&[Oracle, Postgres, Duckdb, Spark]), AggregateKind::Pairs(Pairs::Determination)),
    ("REGR_AVGX", of(&[Oracle, Postgres, Duckdb, Spark]), AggregateKind::Pairs(Pairs::AverageX)),
    ("REGR_AVGY", of(&[Oracle, Postgres, Duckdb, Spark]), AggregateKind::Pairs(Pairs::AverageY)),
    ("REGR_SXX", of(&[Oracle, Postgres, Duckdb, Spark]), AggregateKind::Pairs(Pairs::SpreadX)),
    ("REGR_SYY", of(&[Oracle, Postgres, Duckdb, Spark]), AggregateKind::Pairs(Pairs::SpreadY)),
    ("REGR_SXY", of(&[Oracle, Postgres, Duckdb, Spark]), AggregateKind::Pairs(Pairs::SpreadBoth)),
    ("LISTAGG", of(&[Oracle, Duckdb, Spark]), AggregateKind::List),
    ("STRING_AGG", of(&[SqlServer, Postgres, Duckdb, Bigquery, Spark, Sqlite]), AggregateKind::List),
    ("GROUP_CONCAT", of(&[Mysql, Mariadb, Sqlite, Duckdb]), AggregateKind::List),
    ("ARRAY_AGG", of(&[Postgres, Duckdb, Bigquery, Spark]), AggregateKind::Array),
    ("LIST", of(&[Duckdb]), AggregateKind::Array),
    ("COLLECT", of(&[Oracle]), AggregateKind::Array),
    ("COLLECT_LIST", of(&[Spark]), AggregateKind::Array),
    ("JSON_ARRAYAGG", of(&[Oracle, Mysql, Mariadb]), AggregateKind::JsonArray),
    ("JSON_AGG", of(&[Postgres]), AggregateKind::JsonArray),
    ("JSONB_AGG", of(&[Postgres]), AggregateKind::JsonArray),
    ("JSON_GROUP_ARRAY", of(&[Sqlite, Duckdb]), AggregateKind::JsonArray),
    ("JSON_OBJECTAGG", of(&[Oracle, Mysql, Mariadb]), AggregateKind::JsonObject),
    ("JSON_OBJECT_AGG", of(&[Postgres]), AggregateKind::JsonObject),
    ("JSON_GROUP_OBJECT", of(&[Sqlite, Duckdb]), AggregateKind::JsonObject),
    ("MEDIAN", of(&[Oracle, Mariadb, Duckdb, Spark]), AggregateKind::Median),
    ("PERCENTILE_CONT", of(&[Oracle, SqlServer, Mariadb, Postgres, Duckdb, Bigquery, Spark]), AggregateKind::PercentileContinuous),
    ("PERCENTILE_DISC", of(&[Oracle, SqlServer, Mariadb, Postgres, Duckdb, Bigquery, Spark]), AggregateKind::PercentileDiscrete),
    ("QUANTILE_CONT", of(&[Duckdb]), AggregateKind::PercentileContinuous),
    ("QUANTILE_DISC", of(&[Duckdb]), AggregateKind::PercentileDiscrete),
    ("PERCENTILE", of(&[Spark]), AggregateKind::PercentileContinuous),
    ("STATS_MODE", of(&[Oracle]), AggregateKind::Mode),
    ("MODE", of(&[Postgres, Duckdb, Spark]), AggregateKind::Mode),
    ("ANY_VALUE", of(&[Oracle, Mysql, Postgres, Duckdb, Bigquery, Spark]), AggregateKind::Any),
    ("FIRST", of(&[Duckdb, Spark]), AggregateKind::First),
    ("FIRST_VALUE", of(&[Spark]), AggregateKind::First),
    ("LAST", of(&[Duckdb, Spark]), AggregateKind::Last),
    ("LAST_VALUE", of(&[Spark]), AggregateKind::Last),
    ("BOOL_AND", of(&[Postgres, Duckdb, Spark]), AggregateKind::Every),
    ("EVERY", of(&[Postgres, Spark]), AggregateKind::Every),
    ("LOGICAL_AND", of(&[Bigquery]), AggregateKind::Every),
    ("BOOL_OR", of(&[Postgres, Duckdb, Spark]), AggregateKind::Some),
    ("ANY", of(&[Spark]), AggregateKind::Some),
    ("SOME", of(&[Spark]), AggregateKind::Some),
    ("LOGICAL_OR", of(&[Bigquery]), AggregateKind::Some),
    ("BIT_AND", of(&[Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark]), AggregateKind::BitAnd),
    ("BIT_OR", of(&[Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark]), AggregateKind::BitOr),
    ("BIT_XOR", of(&[Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark]), AggregateKind::BitXor),
    ("MAX_BY", of(&[Duckdb, Bigquery, Spark]), AggregateKind::By(true)),
    ("ARG_MAX", of(&[Duckdb]), AggregateKind::By(true)),
    ("MIN_BY", of(&[Duckdb, Bigquery, Spark]), AggregateKind::By(false)),
    ("ARG_MIN", of(&[Duckdb]), AggregateKind::By(false)),
];

/// Aggregates only with WITHIN GROUP: window functions else.
const WITHIN_GROUP_NAMES: &[(&str, AggregateKind)] = &[
    ("RANK", AggregateKind::Rank),
    ("DENSE_RANK", AggregateKind::DenseRank),
    ("PERCENT_RANK", AggregateKind::PercentRank),
    ("CUME_DIST", AggregateKind::CumulativeShare),
];

impl AggregateKind {
    /// What an upper-case name is as an aggregate, with how many arguments it is called.
    pub(crate) fn named(name: &str, star: bool, arguments: usize, dialect: DialectName) -> Option<AggregateKind> {
        if star {
            return matches!(name, "COUNT" | "COUNT_BIG").then_some(AggregateKind::CountRows);
        }
        // SQLite: MIN and MAX of several arguments are functions of one row.
        if dialect == Sqlite && matches!(name, "MIN" | "MAX") && arguments > 1 {
            return None;
        }
        if name == "COUNT" && arguments == 0 && dialect == Duckdb {
            return Some(AggregateKind::CountRows);
        }
        NAMES.iter().find(|(n, dialects, _)| *n == name && dialects.has(dialect)).map(|(.., kind)| *kind)
    }

    pub(crate) fn within_group(name: &str) -> Option<AggregateKind> {
        WITHIN_GROUP_NAMES.iter().find(|(n, _)| *n == name).map(|(_, kind)| *kind)
    }

    /// Whether a name is an aggregate of some dialect, for suggestions.
    pub(crate) fn names(dialect: DialectName) -> impl Iterator<Item = &'static str> {
        NAMES.iter().filter(move |(_, dialects, _)| dialects.has(dialect)).map(|(name, ..)| *name)
    }

    /// Whether values must be kept until the end.
    pub(crate) fn gathers(self) -> bool {
        !matches!(
            self,
            AggregateKind::CountRows
                | AggregateKind::Count
                | AggregateKind::CountIf
                | AggregateKind::Sum
                | AggregateKind::Minimum
                | AggregateKind::Maximum
                | AggregateKind::Average
        )
    }

    /// The type of the result.
    pub(crate) fn result_type(self, types: &[Type], behaviour: &Behaviour) -> Outcome<Type> {
        let first = types.first().cloned().unwrap_or(Type::Any);
        Ok(match self {
            AggregateKind::CountRows | AggregateKind::Count | AggregateKind::CountIf => match behaviour.name() {
                Oracle => Type::Number,
                SqlServer => Type::INT,
                _ => Type::BIGINT,
            },
            AggregateKind::Sum | AggregateKind::Product => sum_type(&first, behaviour)?,
            AggregateKind::Average => average_type(&first, behaviour)?,
            AggregateKind::Minimum | AggregateKind::Maximum => {
                if first == Type::Bit {
                    return Err(not_for(&first, behaviour));
                }
                first.without_literal()
            }
            AggregateKind::Any | AggregateKind::First | AggregateKind::Last | AggregateKind::Mode | AggregateKind::By(_) => {
                first.without_literal()
            }
            AggregateKind::PercentileDiscrete => types.last().cloned().unwrap_or(Type::Any).without_literal(),
            AggregateKind::PercentileContinuous | AggregateKind::Median => {
                let ordered = types.last().cloned().unwrap_or(Type::Any);
                match behaviour.name() {
                    Oracle if ordered.is_dated() => ordered,
                    Oracle => Type::Number,
                    Duckdb if ordered.is_dated() => Type::DateTime(crate::types::Moment::Digits(6)),
                    _ => Type::Float,
                }
            }
            AggregateKind::Variance(_) => match behaviour.name() {
                Oracle => Type::Number,
                Postgres if first.family() == Family::Exact => Type::Number,
                _ => Type::Float,
            },
            AggregateKind::Pairs(Pairs::Count) => Type::BIGINT,
            AggregateKind::Pairs(_) if behaviour.name() == Oracle => Type::Number,
            AggregateKind::Pairs(_) => Type::Float,
            AggregateKind::List => Type::TEXT,
            AggregateKind::Array => Type::Array(Box::new(first.without_literal())),
            AggregateKind::JsonArray | AggregateKind::JsonObject => Type::Json,
            AggregateKind::Every | AggregateKind::Some => Type::Boolean,
            AggregateKind::BitAnd | AggregateKind::BitOr | AggregateKind::BitXor => Type::BIGINT,
            AggregateKind::Rank | AggregateKind::DenseRank => Type::BIGINT,
            AggregateKind::PercentRank | AggregateKind::CumulativeShare => Type::Float,
        })
    }
}

impl Type {
    /// The type of what is made of a literal: no literal any more.
    pub(crate) fn without_literal(self) -> Type {
        match self {
            Type::Text(text) => Type::Text(crate::types::TextType { literal: false, ..text }),
            other => other,
        }
    }
}

/// SQL Server: SUM of a BIT or text is an error.
pub(crate) fn not_for(argument: &Type, behaviour: &Behaviour) -> Failure {
    let codes: Codes = &[(SqlServer, "Msg 8117"), (Postgres, "42883")];
    Failure::invalid(format!("this aggregate takes no value of type {}", argument.neutral())).coded(behaviour.name(), codes)
}

fn sum_type(argument: &Type, behaviour: &Behaviour) -> Outcome<Type> {
    Ok(match behaviour.name() {
        Oracle if argument.family() == Family::Approximate => Type::Float,
        Oracle => Type::Number,
        SqlServer => match argument {
            Type::Integer(w) if w.bits == 64 => Type::BIGINT,
            Type::Integer(_) | Type::Null => Type::INT,
            Type::Decimal(_, scale) => Type::Decimal(38, *scale),
            Type::Money | Type::Any | Type::Number => argument.clone(),
            Type::Float | Type::Real => Type::Float,
            other => return Err(not_for(other, behaviour)),
        },
        Mysql | Mariadb => match argument {
            Type::Float | Type::Real | Type::Text(_) | Type::Json => Type::Float,
            _ => Type::Number,
        },
        Sqlite => Type::Any,
        Postgres => match argument {
            Type::Integer(w) if w.bits <= 32 => Type::BIGINT,
            Type::Float | Type::Real | Type::Any | Type::Interval(_) | Type::Money => argument.clone(),
            Type::Text(text) if !text.literal => return Err(not_for(argument, behaviour)),
            Type::Boolean => return Err(not_for(argument, behaviour)),
            _ => Type::Number,
        },
        Duckdb => match argument {
            Type::Integer(_) | Type::Boolean => Type::Decimal(38, 0),
            Type::Decimal(_, scale) => Type::Decimal(38, *scale),
            Type::Real => Type::Float,
            other => other.clone(),
        },
        Bigquery => argument.clone(),
        Spark => match argument {
            Type::Integer(_) => Type::BIGINT,
            Type::Decimal(p, s) => Type::Decimal((p + 10).min(38), *s),
            _ => Type::Float,
        },
    })
}

fn average_type(argument: &Type, behaviour: &Behaviour) -> Outcome<Type> {
    Ok(match (behaviour.name(), argument) {
        (SqlServer, Type::Decimal(_, scale)) => Type::Decimal(38, (*scale).max(6)),
        (SqlServer | Oracle, _) => sum_type(argument, behaviour)?,
        (Mysql | Mariadb, Type::Float | Type::Real | Type::Text(_) | Type::Json) => Type::Float,
        (Mysql | Mariadb, _) => Type::Number,
        (Postgres, Type::Interval(_)) => argument.clone(),
        (Postgres, Type::Float | Type::Real) => Type::Float,
        (Postgres, _) => {
            sum_type(argument, behaviour)?;
            Type::Number
        }
        (Sqlite, _) => Type::Any,
        (Bigquery, Type::Decimal(..) | Type::Number) => Type::Number,
        (Spark, Type::Decimal(p, s)) => Type::Decimal((p + 4).min(38), (s + 4).min(38)),
        _ => Type::Float,
    })
}

// --- gathering -------------------------------------------------------------------------------------

/// One row's part: its sort keys and its arguments.
pub(crate) type Gathered = (Vec<Value>, Vec<Value>);

/// An aggregate under way.
#[derive(Debug, Clone, Default)]
pub(crate) struct Accumulator {
    count: i64,
    total: Total,
    best: Option<Value>,
    seen: Option<HashSet<Vec<GroupKey>>>,
    gathered: Vec<Gathered>,
}

/// A sum: whole numbers apart as long as there are no others.
#[derive(Debug, Clone, Default)]
struct Total {
    whole: i128,
    exact: Option<Decimal>,
    approximate: Option<f64>,
    interval: Option<values::Interval>,
}

impl Total {
    fn add(&mut self, value: &Value) {
        match value {
            Value::Integer(i) => self.whole += i128::from(*i),
            Value::Boolean(b) => self.whole += i128::from(*b),
            Value::Decimal(d) => self.exact = Some(self.exact.take().unwrap_or_default() + &**d),
            Value::Float(f) => self.approximate = Some(self.approximate.unwrap_or(0.0) + f),
            Value::Interval(i) => {
                let total = self.interval.unwrap_or_default();
                self.interval = Some(values::Interval {
                    months: total.months + i.months,
                    days: total.days + i.days,
                    nanoseconds: total.nanoseconds + i.nanoseconds,
                });
            }
            _ => {}
        }
    }

    fn value(&self) -> Value {
        if let Some(interval) = self.interval {
            return Value::Interval(Box::new(interval));
        }
        if let Some(f) = self.approximate {
            let exact = self.exact.as_ref().and_then(|d| as_float(&Value::decimal(d.clone()))).unwrap_or(0.0);
            return Value::Float(f + exact + self.whole as f64);
        }
        match &self.exact {
            Some(d) => Value::decimal(d + Decimal::from(self.whole)),
            None => i64::try_from(self.whole).map_or_else(|_| Value::decimal(Decimal::from(self.whole)), Value::Integer),
        }
    }
}

impl Accumulator {
    /// Takes one row. `keys` are the sort keys of the aggregate's own order.
    pub(crate) fn add(&mut self, plan: &AggregatePlan, arguments: &[Value], keys: &[Value], behaviour: &Behaviour) -> Outcome<()> {
        if plan.keep.is_some() {
            // All rows are ranked, also those with NULL, which the aggregate passes over afterwards.
            self.gathered.push((keys.to_vec(), arguments.to_vec()));
            return Ok(());
        }
        let counts_rows = plan.kind == AggregateKind::CountRows;
        let keeps_nulls = match plan.kind {
            AggregateKind::Array => !plan.ignore_nulls && behaviour.name() != Spark,
            AggregateKind::JsonArray | AggregateKind::CountIf | AggregateKind::By(_) => true,
            AggregateKind::JsonObject => true,
            AggregateKind::Any => false,
            AggregateKind::First | AggregateKind::Last => !plan.ignore_nulls,
            AggregateKind::PercentileContinuous
            | AggregateKind::PercentileDiscrete
            | AggregateKind::Rank
            | AggregateKind::DenseRank
            | AggregateKind::PercentRank
            | AggregateKind::CumulativeShare => true,
            _ => false,
        };
        if !counts_rows && !keeps_nulls && arguments.iter().any(Value::is_null) {
            return Ok(());
        }
        if plan.distinct {
            let key: Vec<GroupKey> = arguments.iter().map(|v| group_key(v, plan.collation)).collect();
            if !self.seen.get_or_insert_default().insert(key) {
                return Ok(());
            }
        }
        self.count += 1;
        if plan.kind.gathers() {
            self.gathered.push((keys.to_vec(), arguments.to_vec()));
            return Ok(());
        }
        let Some(value) = arguments.first() else { return Ok(()) };
        match plan.kind {
            AggregateKind::CountIf if *value != Value::Boolean(true) => self.count -= 1,
            AggregateKind::Sum | AggregateKind::Average => {
                if matches!(value, Value::Integer(_) | Value::Decimal(_)) {
                    self.total.add(value);
                } else {
                    self.total.add(&summand(value.clone(), &plan.types, behaviour)?);
                }
            }
            AggregateKind::Minimum | AggregateKind::Maximum => {
                let wanted = if plan.kind == AggregateKind::Minimum { Ordering::Less } else { Ordering::Greater };
                if self.best.as_ref().is_none_or(|best| sort_order(value, best, plan.collation) == wanted) {
                    self.best = Some(value.clone());
                }
            }
            _ => {}
        }
        Ok(())
    }

    /// The result over the rows taken so far. `parameters` are the plan's, worked out.
    pub(crate) fn finish(&self, plan: &AggregatePlan, parameters: &[Value], behaviour: &Behaviour) -> Outcome<Value> {
        if let Some((last, keys)) = &plan.keep {
            return self.kept(plan, *last, keys, parameters, behaviour);
        }
        match plan.kind {
            AggregateKind::CountRows | AggregateKind::Count | AggregateKind::CountIf => Ok(Value::Integer(self.count)),
            // TOTAL of SQLite is the only sum that is 0 over nothing; it is given by its parameter.
            AggregateKind::Sum if self.count == 0 => Ok(parameters.first().cloned().unwrap_or(Value::Null)),
            AggregateKind::Sum => total(self.total.value(), &plan.result, behaviour),
            AggregateKind::Average if self.count == 0 => Ok(Value::Null),
            AggregateKind::Average => average(&self.total.value(), self.count, &plan.result, behaviour),
            AggregateKind::Minimum | AggregateKind::Maximum => Ok(self.best.clone().unwrap_or(Value::Null)),
            _ => self.finish_gathered(plan, parameters, behaviour),
        }
    }

    /// KEEP: only the rows with the first or last sort keys.
    fn kept(
        &self,
        plan: &AggregatePlan,
        last: bool,
        keys: &[crate::plan::Key],
        parameters: &[Value],
        behaviour: &Behaviour,
    ) -> Outcome<Value> {
        let wanted = if last { Ordering::Greater } else { Ordering::Less };
        let Some(mut best) = self.gathered.first().map(|(k, _)| k) else {
            return Accumulator::default().finish(&AggregatePlan { keep: None, ..plan.clone() }, parameters, behaviour);
        };
        for (other, _) in &self.gathered {
            if compare_keys(other, best, keys) == wanted {
                best = other;
            }
        }
        let inner = AggregatePlan { keep: None, ..plan.clone() };
        let mut accumulator = Accumulator::default();
        for (other, arguments) in &self.gathered {
            if compare_keys(other, best, keys).is_eq() {
                accumulator.add(&inner, arguments, &[], behaviour)?;
            }
        }
        accumulator.finish(&inner, parameters, behaviour)
    }

    fn finish_gathered(&self, plan: &AggregatePlan, parameters: &[Value], behaviour: &Behaviour) -> Outcome<Value> {
        let mut rows: Vec<&Gathered> = self.gathered.iter().collect();
        if !plan.order.is_empty() {
            rows.sort_by(|a, b| compare_keys(&a.0, &b.0, &plan.order));
        } else if plan.distinct && behaviour.name() == Mysql {
            rows.sort_by(|a, b| sort_order(&a.1[0], &b.1[0], plan.collation));
        }
        let firsts = || rows.iter().map(|(_, arguments)| arguments[0].clone());
        match plan.kind {
            AggregateKind::List => list(&rows, plan, parameters, behaviour),
            AggregateKind::Array => {
                let limit = parameters.first().and_then(crate::convert::whole).map_or(usize::MAX, |n| n.max(0) as usize);
                let items: Vec<Value> = firsts().take(limit).collect();
                let empty_is_array = behaviour.name() == Spark;
                Ok(if items.is_empty() && !empty_is_array { Value::Null } else { Value::Array(Box::new(items)) })
            }
            AggregateKind::Any | AggregateKind::First => Ok(firsts().next().unwrap_or(Value::Null)),
            AggregateKind::Last => Ok(firsts().next_back().unwrap_or(Value::Null)),
            AggregateKind::Every | AggregateKind::Some => {
                let every = plan.kind == AggregateKind::Every;
                let truths: Vec<bool> = firsts().map(|v| v == Value::Boolean(true)).collect();
                Ok(if truths.is_empty() {
                    Value::Null
                } else {
                    Value::Boolean(if every { truths.iter().all(|t| *t) } else { truths.iter().any(|t| *t) })
                })
            }
            AggregateKind::BitAnd | AggregateKind::BitOr | AggregateKind::BitXor => Ok(bits(plan.kind, firsts(), behaviour)),
            AggregateKind::By(greatest) => {
                let wanted = if greatest { Ordering::Greater } else { Ordering::Less };
                let mut best: Option<&Gathered> = None;
                // DuckDB passes over rows without a value to show, too.
                let counts = |a: &[Value]| !a[1].is_null() && (behaviour.name() != Duckdb || !a[0].is_null());
                for row in rows.iter().filter(|(_, a)| counts(a)) {
                    if best.is_none_or(|b| sort_order(&row.1[1], &b.1[1], plan.collation) == wanted) {
                        best = Some(row);
                    }
                }
                Ok(best.map_or(Value::Null, |(_, a)| a[0].clone()))
            }
            AggregateKind::Mode => Ok(mode(firsts().filter(|v| !v.is_null()).collect(), plan)),
            AggregateKind::Median => {
                let mut values: Vec<Value> = firsts().collect();
                values.sort_by(|a, b| sort_order(a, b, plan.collation));
                percentile_continuous(&values, &Decimal::new(5.into(), 1), plan, behaviour)
            }
            AggregateKind::PercentileContinuous | AggregateKind::PercentileDiscrete => self.percentile(&rows, plan, parameters, behaviour),
            AggregateKind::Rank | AggregateKind::DenseRank | AggregateKind::PercentRank | AggregateKind::CumulativeShare => {
                Ok(hypothetical(&rows, plan, parameters))
            }
            AggregateKind::Variance(spread) => {
                let values: Outcome<Vec<Value>> = firsts().map(|v| summand(v, &plan.types, behaviour)).collect();
                let spread = statistics::variance(&values?, spread, plan.result.family() == Family::Exact, behaviour)?;
                Ok(mariadb_digits(spread, plan.types.first(), behaviour))
            }
            AggregateKind::Pairs(pairs) => {
                let numbers: Vec<(f64, f64)> = rows.iter().filter_map(|(_, a)| Some((to_float(&a[0])?, to_float(&a[1])?))).collect();
                statistics::pairs(pairs, &numbers, parameters, behaviour)
            }
            AggregateKind::JsonArray => {
                let items: Vec<serde_json::Value> =
                    rows.iter().map(|(_, a)| crate::function::json::of_typed(&a[0], plan.types.first())).collect();
                let dropped = behaviour.name() == Oracle;
                let items: Vec<serde_json::Value> = items.into_iter().filter(|v| !(dropped && v.is_null())).collect();
                if items.is_empty() && !matches!(behaviour.name(), Oracle | Sqlite) {
                    return Ok(Value::Null);
                }
                Ok(Value::text(crate::function::json::written(&items.into(), behaviour)))
            }
            AggregateKind::JsonObject => {
                if rows.is_empty() && behaviour.name() != Sqlite {
                    return Ok(Value::Null);
                }
                let fields = rows
                    .iter()
                    .map(|(_, a)| (as_text(&a[0], &plan.types[0], behaviour), crate::function::json::of_typed(&a[1], plan.types.get(1))));
                Ok(Value::text(crate::function::json::written(&serde_json::Value::Object(fields.collect()), behaviour)))
            }
            AggregateKind::Product => {
                let product = firsts().filter_map(|v| as_float(&v)).product::<f64>();
                if rows.is_empty() { Ok(Value::Null) } else { Ok(Value::Float(product)) }
            }
            _ => Ok(Value::Null),
        }
    }

    fn percentile(&self, rows: &[&Gathered], plan: &AggregatePlan, parameters: &[Value], behaviour: &Behaviour) -> Outcome<Value> {
        // WITHIN GROUP sorts by the value asked for; otherwise the argument is it.
        let values: Vec<Value> = rows
            .iter()
            .map(|(keys, arguments)| keys.first().or(arguments.first()).cloned().unwrap_or(Value::Null))
            .filter(|v| !v.is_null())
            .collect();
        let mut values = values;
        if plan.order.is_empty() {
            values.sort_by(|a, b| sort_order(a, b, plan.collation));
        }
        let Some(share) = parameters.first().and_then(as_decimal) else { return Ok(Value::Null) };
        if share.is_negative() || share > 1 {
            return Err(Failure::invalid(format!("{share} is no share between 0 and 1")).coded(behaviour.name(), &[(Oracle, "ORA-30496")]));
        }
        if values.is_empty() {
            return Ok(Value::Null);
        }
        if plan.kind == AggregateKind::PercentileContinuous {
            return percentile_continuous(&values, &share, plan, behaviour);
        }
        let place = (&share * Decimal::from(values.len() as i64)).with_scale_round(0, RoundingMode::Ceiling);
        let place = crate::convert::whole(&Value::decimal(place)).unwrap_or(1).clamp(1, values.len() as i64) as usize;
        Ok(values[place - 1].clone())
    }
}

/// A value as a number to be added up.
fn summand(value: Value, types: &[Type], behaviour: &Behaviour) -> Outcome<Value> {
    match value {
        Value::Integer(_) | Value::Decimal(_) | Value::Float(_) | Value::Boolean(_) | Value::Interval(_) => Ok(value),
        other => {
            let from = types.first().cloned().unwrap_or(Type::Any);
            let to = if behaviour.is_mysql() { Type::Float } else { Type::Number };
            let number = convert(other, &from, &to, How::IMPLICIT, behaviour)?;
            Ok(match number {
                Value::Decimal(_) if behaviour.name() == Sqlite => Value::Float(as_float(&number).unwrap_or(0.0)),
                number => number,
            })
        }
    }
}

fn total(value: Value, result: &Type, behaviour: &Behaviour) -> Outcome<Value> {
    match (&value, result) {
        (Value::Float(_) | Value::Interval(_), _) => Ok(value),
        (_, Type::Float) => Ok(Value::Float(as_float(&value).unwrap_or(0.0))),
        (Value::Integer(_), Type::Number | Type::Any) => Ok(value),
        (_, Type::Number) if behaviour.name() != Oracle => Ok(value),
        _ => settled(as_decimal(&value).unwrap_or_default(), result, behaviour),
    }
}

/// The average of a total over `count` rows.
fn average(total: &Value, count: i64, result: &Type, behaviour: &Behaviour) -> Outcome<Value> {
    let n = Decimal::from(count);
    if let Value::Interval(i) = total {
        let nanos = crate::moment::DAY_NANOS * (i128::from(i.months) * 30 + i128::from(i.days)) + i.nanoseconds;
        return Ok(Value::Interval(Box::new(values::Interval { months: 0, days: 0, nanoseconds: nanos / i128::from(count) })));
    }
    if let (Value::Float(_), _) | (_, Type::Float | Type::Real) = (total, result) {
        return Ok(Value::Float(as_float(total).unwrap_or(0.0) / count as f64));
    }
    let Some(sum) = as_decimal(total) else { return Ok(Value::Null) };
    match (behaviour.name(), result) {
        (Sqlite, _) => Ok(Value::Float(as_float(total).unwrap_or(0.0) / count as f64)),
        // AVG of whole numbers is a whole number in SQL Server.
        (SqlServer, Type::Integer(_)) => settled(quotient(&sum, &n, 0, RoundingMode::Down), result, behaviour),
        (SqlServer, Type::Decimal(_, scale)) => settled(quotient(&sum, &n, i64::from(*scale), RoundingMode::Down), result, behaviour),
        (Mysql | Mariadb, _) => Ok(Value::decimal(quotient(&sum, &n, sum.fractional_digit_count().max(0) + 4, RoundingMode::HalfUp))),
        (Oracle, _) => Ok(simplest(oracle_digits(quotient(&sum, &n, 40, RoundingMode::HalfUp)))),
        (_, Type::Decimal(_, scale)) => Ok(Value::decimal(quotient(&sum, &n, i64::from(*scale), RoundingMode::HalfUp))),
        (Bigquery, _) => Ok(Value::decimal(quotient(&sum, &n, 9, RoundingMode::HalfUp))),
        _ => {
            let number = Type::Number;
            crate::arithmetic::compute(
                crate::arithmetic::Arithmetic::Divide,
                (&Value::decimal(sum), &number),
                (&Value::decimal(n), &number),
                &number,
                behaviour,
            )
        }
    }
}
