//! Variance, correlation and regression.

use bigdecimal::{RoundingMode, Zero};
use syntax::DialectName;
use values::{Decimal, Value};

use crate::arithmetic::{postgres_scale, quotient};
use crate::behaviour::Behaviour;
use crate::compare::{as_decimal, as_float};
use crate::convert::{oracle_digits, simplest};
use crate::failure::{Failure, Outcome};

/// Statistics of pairs. Of (y, x) for the regressions, whose first argument depends on the second.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Pairs {
    Correlation,
    /// Spearman: the correlation of ranks, ties taking the mean rank.
    RankCorrelation,
    /// Kendall's tau-b.
    PairCorrelation,
    Covariance {
        sample: bool,
    },
    Slope,
    Intercept,
    Count,
    Determination,
    AverageX,
    AverageY,
    SpreadX,
    SpreadY,
    SpreadBoth,
}

/// The kinds of variance.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct Spread {
    /// Of a sample of the population, not of the whole.
    pub(crate) sample: bool,
    /// One row has a spread of 0, not NULL.
    pub(crate) one_row_is_zero: bool,
    /// The standard deviation.
    pub(crate) root: bool,
}

/// The variance of values or its root; exact where all values are.
pub(crate) fn variance(
    values: &[Value],
    Spread { sample, one_row_is_zero, root }: Spread,
    exact: bool,
    behaviour: &Behaviour,
) -> Outcome<Value> {
    let count = values.len() as i64;
    if count == 0 || (count == 1 && sample && !one_row_is_zero) {
        return Ok(Value::Null);
    }
    if count == 1 {
        return Ok(if exact { Value::Integer(0) } else { Value::Float(0.0) });
    }
    let divisor = if sample { count - 1 } else { count };
    let numbers: Option<Vec<Decimal>> = values.iter().map(|v| if matches!(v, Value::Float(_)) { None } else { as_decimal(v) }).collect();
    let Some(numbers) = numbers else {
        let floats: Vec<f64> = values.iter().filter_map(as_float).collect();
        let mean = floats.iter().sum::<f64>() / count as f64;
        let spread = floats.iter().map(|x| (x - mean).powi(2)).sum::<f64>() / divisor as f64;
        return Ok(Value::Float(if root { spread.sqrt() } else { spread }));
    };
    // n * sum of squares - square of sum, over n * divisor: no digit is lost on the way.
    let sum: Decimal = numbers.iter().sum();
    let squares: Decimal = numbers.iter().map(|x| x * x).sum();
    let above = squares * Decimal::from(count) - &sum * &sum;
    let below = Decimal::from(count * divisor);
    let value = quotient(&above, &below, 40, RoundingMode::HalfUp);
    let value = if root { value.sqrt().unwrap_or_default().with_prec(40) } else { value };
    if !exact {
        return Ok(Value::Float(as_float(&Value::decimal(value)).unwrap_or(0.0)));
    }
    Ok(match behaviour.name() {
        DialectName::Oracle => simplest(oracle_digits(value.normalized())),
        _ if value.is_zero() => Value::Integer(0),
        // PostgreSQL: sixteen significant digits and more.
        _ if root => Value::decimal(crate::function::number::postgres_root(&quotient(
            &above,
            &below,
            postgres_scale(&above, &below),
            RoundingMode::HalfUp,
        ))),
        _ => Value::decimal(quotient(&above, &below, postgres_scale(&above, &below), RoundingMode::HalfUp)),
    })
}

/// A statistic of pairs; pairs with a NULL are left out before.
pub(crate) fn pairs(kind: Pairs, pairs: &[(f64, f64)], parameters: &[Value], behaviour: &Behaviour) -> Outcome<Value> {
    let n = pairs.len() as f64;
    let float = |f: f64| Ok(Value::Float(f));
    if kind == Pairs::Count {
        return Ok(Value::Integer(pairs.len() as i64));
    }
    if pairs.is_empty() {
        return Ok(Value::Null);
    }
    if matches!(kind, Pairs::RankCorrelation | Pairs::PairCorrelation) {
        match parameters.first() {
            None => {}
            Some(Value::Text(t)) if t.eq_ignore_ascii_case("COEFFICIENT") => {}
            Some(_) => return Err(Failure::unknown("the significance of a rank correlation")),
        }
    }
    let (ranked_a, ranked_b);
    let (a, b): (Vec<f64>, Vec<f64>) = if kind == Pairs::RankCorrelation {
        ranked_a = ranks(&pairs.iter().map(|p| p.0).collect::<Vec<_>>());
        ranked_b = ranks(&pairs.iter().map(|p| p.1).collect::<Vec<_>>());
        (ranked_a, ranked_b)
    } else {
        pairs.iter().copied().unzip()
    };
    let mean = |v: &[f64]| v.iter().sum::<f64>() / n;
    let (mean_a, mean_b) = (mean(&a), mean(&b));
    let spread = |v: &[f64], m: f64| v.iter().map(|x| (x - m).powi(2)).sum::<f64>();
    let (aa, bb) = (spread(&a, mean_a), spread(&b, mean_b));
    let ab: f64 = a.iter().zip(&b).map(|(x, y)| (x - mean_a) * (y - mean_b)).sum();
    let no_spread = if behaviour.name() == DialectName::Duckdb || behaviour.name() == DialectName::Bigquery {
        Value::Float(f64::NAN)
    } else {
        Value::Null
    };
    match kind {
        Pairs::Correlation | Pairs::RankCorrelation if aa == 0.0 || bb == 0.0 => Ok(no_spread),
        Pairs::Correlation | Pairs::RankCorrelation => float((ab / (aa.sqrt() * bb.sqrt())).clamp(-1.0, 1.0)),
        Pairs::PairCorrelation => Ok(kendall(&a, &b).map_or(Value::Null, Value::Float)),
        Pairs::Covariance { sample: true } if pairs.len() == 1 => Ok(Value::Null),
        Pairs::Covariance { sample } => float(ab / if sample { n - 1.0 } else { n }),
        Pairs::Slope if bb == 0.0 => Ok(Value::Null),
        Pairs::Slope => float(ab / bb),
        Pairs::Intercept if bb == 0.0 => Ok(Value::Null),
        Pairs::Intercept => float(mean_a - ab / bb * mean_b),
        Pairs::Determination if bb == 0.0 => Ok(Value::Null),
        Pairs::Determination if aa == 0.0 => float(1.0),
        Pairs::Determination => float(ab * ab / (aa * bb)),
        Pairs::AverageX => float(mean_b),
        Pairs::AverageY => float(mean_a),
        Pairs::SpreadX => float(bb),
        Pairs::SpreadY => float(aa),
        Pairs::SpreadBoth | Pairs::Count => float(ab),
    }
}

/// Ranks from 1; equal values share the mean of their places.
fn ranks(values: &[f64]) -> Vec<f64> {
    let mut order: Vec<usize> = (0..values.len()).collect();
    order.sort_by(|a, b| values[*a].total_cmp(&values[*b]));
    let mut ranks = vec![0.0; values.len()];
    let mut start = 0;
    while start < order.len() {
        let end = start + order[start..].iter().take_while(|i| values[**i] == values[order[start]]).count();
        let rank = (start + 1 + end) as f64 / 2.0;
        order[start..end].iter().for_each(|i| ranks[*i] = rank);
        start = end;
    }
    ranks
}

/// Tau-b: pairs in the same order less pairs in opposite order, over those without ties.
fn kendall(a: &[f64], b: &[f64]) -> Option<f64> {
    let (mut same, mut opposite, mut ties_a, mut ties_b) = (0.0, 0.0, 0.0, 0.0);
    for i in 0..a.len() {
        for j in i + 1..a.len() {
            let (x, y) =
                ((a[i] - a[j]).signum() * f64::from(u8::from(a[i] != a[j])), (b[i] - b[j]).signum() * f64::from(u8::from(b[i] != b[j])));
            if x == 0.0 && y == 0.0 {
                continue;
            }
            if x == 0.0 {
                ties_a += 1.0;
            } else if y == 0.0 {
                ties_b += 1.0;
            } else if x == y {
                same += 1.0;
            } else {
                opposite += 1.0;
            }
        }
    }
    let below = f64::sqrt((same + opposite + ties_a) * (same + opposite + ties_b));
    (below > 0.0).then(|| (same - opposite) / below)
}
