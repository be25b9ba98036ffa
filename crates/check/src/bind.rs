//! Values for the parameters of a query: given ones, or made like data.
//!
//! A value takes its parameter's place as a constant of each side's dialect, so that every engine
//! takes it, and so that data is aimed at it as at any other constant.

use std::collections::BTreeMap;

use engines::{Bytes, literal_sql};
use meaning::Breach;
use syntax::tree::{Expr, ExprKind, InSet, Literal, Spelled, StatementKind};
use syntax::{Dialect, Spelling, Statements, TokenKind, decode_text};
use values::{DataType, Decimal, Schema, Value};

use crate::assumption::Assumption;
use crate::nodes::{Node, Text, each_node};

/// A parameter's name, without its mark, and its value.
pub type Bind = (String, Value);

/// A string with constants in place of parameters.
pub(crate) struct Bound {
    pub(crate) sql: String,
    /// The place of each parameter, and how much longer its constant is.
    shifts: Vec<(Bytes, i64)>,
}

impl Bound {
    /// A place in the text with parameters as one in the text with constants.
    fn forward(&self, place: Bytes) -> Bytes {
        let moved = |at: u32, behind: bool| {
            let before = self.shifts.iter().filter(|(p, _)| if behind { p.1 <= at } else { p.0 < at });
            (i64::from(at) + before.map(|(_, by)| by).sum::<i64>()) as u32
        };
        (moved(place.0, false), moved(place.1, true))
    }

    /// The other way round.
    pub(crate) fn back(&self, place: Bytes) -> Bytes {
        let moved = |at: u32| {
            let mut at = i64::from(at);
            for (p, by) in &self.shifts {
                if at >= i64::from(p.1) + by {
                    at -= by;
                } else {
                    at = at.min(i64::from(p.1));
                    break;
                }
            }
            at as u32
        };
        (moved(place.0), moved(place.1))
    }

    pub(crate) fn moved(&self, assumptions: &[Assumption]) -> Vec<Assumption> {
        let moved =
            |a: &Assumption| Assumption { code: a.code, breach: a.breach.clone().map(|b: Breach<Bytes>| b.map(|p| self.forward(p))) };
        assumptions.iter().map(moved).collect()
    }
}

/// The parameters of a query by name, in the order they are met, and where each is. Those without
/// names are numbered.
pub(crate) fn parameters(text: &Text<'_>) -> Vec<(String, Bytes)> {
    let Some(statement) = &text.statement else { return Vec::new() };
    let mut number = 0;
    let tokens = text.tokens.get(statement.span.first as usize..statement.span.end as usize).unwrap_or(&[]);
    let marked = tokens.iter().filter(|t| t.kind == TokenKind::Parameter);
    marked
        .map(|token| {
            let name = bare_name(token.text(text.sql));
            number += 1;
            (if name.is_empty() { number.to_string() } else { name.to_string() }, (token.start, token.end))
        })
        .collect()
}

/// A parameter's name without its mark: `name` of `:name`, `@name`, `$name`, `#{name}`.
pub fn bare_name(written: &str) -> &str {
    written.trim_start_matches([':', '@', '$', '?', '&', '#']).trim_matches(['{', '}', '`'])
}

/// Variables that the statements before the query give a constant.
pub(crate) fn declared(text: &Text<'_>, dialect: &Dialect) -> Vec<Bind> {
    let spelling = Spelling::of(dialect);
    let mut found = Vec::new();
    let mut note = |name: &str, value: Option<&Expr<Spelled>>| {
        found.push((bare_name(name).to_lowercase(), value.and_then(|v| constant(v, &spelling)).unwrap_or(Value::Null)));
    };
    for statement in Statements::new(text.sql, &text.tokens, dialect).filter_map(|p| p.tree.ok()) {
        match &statement.kind {
            StatementKind::Declare(all) => all.iter().for_each(|d| note(&d.name, d.value.as_ref())),
            StatementKind::SetVariable(name, value) => note(name, Some(value)),
            _ => {}
        }
    }
    found
}

fn constant(expr: &Expr<Spelled>, spelling: &Spelling) -> Option<Value> {
    match &expr.without_parens().kind {
        ExprKind::Literal(Literal::Number(text)) => read(text).into(),
        ExprKind::Literal(Literal::Text(text)) => Some(Value::text(decode_text(text, spelling))),
        ExprKind::Literal(Literal::Typed(typed)) => Some(read(&decode_text(&typed.text, spelling))),
        _ => None,
    }
}

/// What a value written by hand is: NULL, a number, a day, a day and time, else a string; in quotes
/// always a string.
pub fn read(text: &str) -> Value {
    let text = text.trim();
    if let Some(inner) = text.strip_prefix('\'').and_then(|t| t.strip_suffix('\'')) {
        return Value::text(inner.replace("''", "'"));
    }
    if text.eq_ignore_ascii_case("null") {
        return Value::Null;
    }
    let number = || text.parse().map(Value::Integer).ok().or_else(|| text.parse::<Decimal>().ok().map(Value::decimal));
    // A day and time would be read as a day.
    let is_day = text.len() == "2026-01-31".len();
    let day = || if is_day { text.parse().map(Value::Date).ok() } else { text.replace(' ', "T").parse().map(Value::Timestamp).ok() };
    number().or_else(day).unwrap_or_else(|| Value::text(text))
}

/// The text with the values of parameters in their places. A parameter that the target's dialect
/// doesn't know is found by how the source writes it.
pub(crate) fn bound(text: &Text<'_>, dialect: &Dialect, values: &[Bind], written: &[String]) -> Bound {
    let mut places = parameters(text);
    if places.is_empty() {
        places = written
            .iter()
            .flat_map(|w| text.sql.match_indices(w.as_str()).map(|(at, w)| (w, at)))
            .map(|(w, at)| (bare_name(w).to_string(), (at as u32, (at + w.len()) as u32)))
            .collect();
        places.sort_by_key(|(_, place): &(String, Bytes)| (place.0, std::cmp::Reverse(place.1)));
    }
    let mut bound = Bound { sql: String::new(), shifts: Vec::new() };
    let mut from = 0;
    for (name, place) in places {
        // `:x` is found again at the head of `:xy`, which has been replaced.
        if (place.0 as usize) < from {
            continue;
        }
        let Some((_, value)) = values.iter().find(|(n, _)| n.eq_ignore_ascii_case(&name)) else { continue };
        let constant = literal_sql(value, dialect);
        bound.sql.push_str(&text.sql[from..place.0 as usize]);
        bound.sql.push_str(&constant);
        from = place.1 as usize;
        bound.shifts.push((place, constant.len() as i64 - i64::from(place.1 - place.0)));
    }
    bound.sql.push_str(&text.sql[from..]);
    bound
}

/// How the source writes its parameters.
pub(crate) fn spellings(text: &Text<'_>) -> Vec<String> {
    let mut found: Vec<String> = parameters(text).iter().map(|(_, place)| text.of(*place).to_string()).collect();
    found.sort_unstable_by_key(|t| std::cmp::Reverse(t.len()));
    found.dedup();
    found
}

/// How many sets of values are made.
const SETS: usize = 5;

/// Sets of values for the parameters that none was given for: of the type of the column each is
/// compared with, as far as that can be seen.
pub(crate) fn made(text: &Text<'_>, given: &[Bind], schema: &Schema) -> Vec<Vec<Bind>> {
    let types = types_of(text, schema);
    let mut names: Vec<String> = parameters(text).into_iter().map(|(name, _)| name.to_lowercase()).collect();
    names.sort();
    names.dedup();
    names.retain(|name| !given.iter().any(|(n, _)| n.eq_ignore_ascii_case(name)));
    if names.is_empty() {
        return vec![given.to_vec()];
    }
    let set = |round: usize| {
        let own = names.iter().enumerate().map(|(i, name)| {
            let values = values_of(types.get(name).unwrap_or(&DataType::Unknown));
            (name.clone(), values[(round + i) % values.len()].clone())
        });
        given.iter().cloned().chain(own).collect()
    };
    (0..SETS).map(set).collect()
}

/// The types of the columns that parameters stand beside.
fn types_of(text: &Text<'_>, schema: &Schema) -> BTreeMap<String, DataType> {
    let mut types = BTreeMap::new();
    let Some(query) = text.query() else { return types };
    let column = |expr: &Expr<Spelled>| match &expr.without_parens().kind {
        ExprKind::Column(name) => schema.tables.iter().find_map(|t| t.column(&name.last().text)).map(|c| c.data_type.clone()),
        _ => None,
    };
    let mut together = |exprs: &[&Expr<Spelled>]| {
        let Some(data_type) = exprs.iter().find_map(|e| column(e)) else { return };
        for expr in exprs {
            if let ExprKind::Parameter(name) = &expr.without_parens().kind {
                types.insert(bare_name(name).to_lowercase(), data_type.clone());
            }
        }
    };
    each_node(query, &mut |node| {
        let Node::Expr(expr) = node else { return };
        match &expr.kind {
            ExprKind::Binary(binary) => together(&[&binary.left, &binary.right]),
            ExprKind::Between(test) => together(&[&test.operand, &test.low, &test.high]),
            ExprKind::Like(test) => together(&[&test.operand, &test.pattern]),
            ExprKind::In(test) => {
                if let InSet::List(items) = &test.set {
                    together(&std::iter::once(&test.operand).chain(items).collect::<Vec<_>>());
                }
            }
            ExprKind::Call(call) => together(&call.arguments.iter().map(|a| &a.value).collect::<Vec<_>>()),
            _ => {}
        }
    });
    types
}

/// An everyday value, others, and NULL.
fn values_of(data_type: &DataType) -> Vec<Value> {
    let day = |y, m, d| jiff::civil::date(y, m, d);
    match data_type {
        DataType::Text { .. } => ["quay", "weir", "%e%", "a"].map(Value::text).into_iter().chain([Value::Null]).collect(),
        DataType::Date => vec![Value::Date(day(2026, 2, 3)), Value::Date(day(2026, 1, 28)), Value::Date(day(2026, 2, 28)), Value::Null],
        DataType::Timestamp(_) | DataType::TimestampZoned => {
            vec![Value::Timestamp(day(2026, 2, 3).at(0, 0, 0, 0)), Value::Timestamp(day(2026, 1, 28).at(13, 5, 30, 0)), Value::Null]
        }
        DataType::Boolean => vec![Value::Boolean(true), Value::Boolean(false), Value::Null],
        // What isn't known is a row count as often as not.
        DataType::Unknown => vec![Value::Integer(2), Value::Integer(1), Value::Integer(3)],
        _ => vec![Value::Integer(2), Value::Integer(1), Value::Integer(0), Value::Integer(5), Value::Null],
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn values_as_they_are_written() {
        let day = jiff::civil::date(2026, 1, 31);
        for (written, value) in [
            ("5", Value::Integer(5)),
            (" -2.50 ", Value::decimal("-2.50".parse().expect("decimal"))),
            ("null", Value::Null),
            ("'5'", Value::text("5")),
            ("'the quay''s'", Value::text("the quay's")),
            ("2026-01-31", Value::Date(day)),
            ("2026-01-31 13:05:00", Value::Timestamp(day.at(13, 5, 0, 0))),
            ("q%", Value::text("q%")),
            ("", Value::text("")),
        ] {
            assert_eq!(read(written), value, "{written}");
        }
    }

    #[test]
    fn constants_stand_in_for_parameters_and_places_are_found_again() {
        let binds = [("low".to_string(), Value::Integer(10)), ("name".to_string(), Value::text("o'quay")), ("1".to_string(), Value::Null)];
        for (dialect, sql, bound_sql) in [
            ("oracle", "SELECT id FROM t WHERE a > :low AND b = :name", "SELECT id FROM t WHERE a > 10 AND b = 'o''quay'"),
            ("sqlserver", "SELECT id FROM t WHERE a > @low AND c < @other", "SELECT id FROM t WHERE a > 10 AND c < @other"),
            ("mysql", "SELECT id FROM t WHERE a > ?", "SELECT id FROM t WHERE a > NULL"),
            ("postgres", "SELECT ':low' FROM t WHERE a > $1 -- :low", "SELECT ':low' FROM t WHERE a > NULL -- :low"),
        ] {
            let dialect: Dialect = dialect.parse().expect("dialect");
            let text = Text::read(sql, &dialect);
            let bound = bound(&text, &dialect, &binds, &[]);
            assert_eq!(bound.sql, bound_sql, "{sql}");
            // A place behind a parameter is the same words again, there and back.
            let parameters: Vec<Bytes> = parameters(&text).into_iter().map(|(_, place)| place).collect();
            let inside = |at: usize| parameters.iter().any(|p| (p.0 as usize..p.1 as usize).contains(&at));
            for (at, word) in sql.match_indices(['a', 'b', 't']).filter(|(at, _)| !inside(*at)) {
                let place = (at as u32, (at + word.len()) as u32);
                let there = bound.forward(place);
                assert_eq!(&bound.sql[there.0 as usize..there.1 as usize], word, "{sql} at {at}");
                assert_eq!(bound.back(there), place, "{sql} at {at}");
            }
        }
    }
}
