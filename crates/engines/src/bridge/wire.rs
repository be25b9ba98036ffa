//! Values of the bridge protocol: what JSON has as it is, the rest as an object whose key tells what
//! it is.

use std::str::FromStr;

use jiff::civil::{Date, DateTime, Time};
use serde_json::{Value as Json, json};
use values::{Decimal, Interval, Value};

/// A value as the protocol has it.
pub(super) fn json(value: &Value) -> Json {
    match value {
        Value::Null => Json::Null,
        Value::Boolean(b) => (*b).into(),
        Value::Integer(i) => (*i).into(),
        Value::Decimal(d) => json!({ "decimal": d.to_plain_string() }),
        // A whole float is distinguished from an integer by its kind.
        Value::Float(f) => json!({ "float": f.to_string() }),
        Value::Text(t) => t.as_str().into(),
        Value::Binary(bytes) => json!({ "binary": bytes.iter().map(|b| format!("{b:02x}")).collect::<String>() }),
        Value::Date(d) => json!({ "date": d.to_string() }),
        Value::Time(t) => json!({ "time": t.to_string() }),
        Value::Timestamp(t) => json!({ "timestamp": format!("{} {}", t.date(), t.time()) }),
        Value::Instant(t, offset) => json!({ "instant": format!("{} {}", t.date(), t.time()), "offset": offset }),
        Value::Interval(i) => json!({ "interval": [i.months, i.days, i.nanoseconds as i64] }),
        Value::Array(items) => json!({ "array": items.iter().map(json).collect::<Vec<_>>() }),
        Value::Struct(fields) => json!({ "struct": fields.iter().map(|(n, v)| json!([n.as_str(), json(v)])).collect::<Vec<_>>() }),
    }
}

/// A value of the protocol; `None` for what is none.
pub(super) fn value(json: &Json) -> Option<Value> {
    match json {
        Json::Null => Some(Value::Null),
        Json::Bool(b) => Some(Value::Boolean(*b)),
        Json::Number(n) => n.as_i64().map(Value::Integer).or_else(|| n.as_f64().map(Value::Float)),
        Json::String(text) => Some(Value::text(text.as_str())),
        Json::Array(_) => None,
        Json::Object(fields) => {
            let (kind, content) = fields.iter().next()?;
            tagged(kind, content, fields.get("offset"))
        }
    }
}

fn tagged(kind: &str, content: &Json, offset: Option<&Json>) -> Option<Value> {
    let text = || content.as_str();
    Some(match kind {
        "decimal" => Value::decimal(Decimal::from_str(text()?).ok()?),
        "float" => Value::Float(text()?.parse().ok()?),
        "binary" => Value::Binary(Box::new(bytes(text()?)?)),
        "date" => Value::Date(text()?.parse::<Date>().ok()?),
        "time" => Value::Time(text()?.parse::<Time>().ok()?),
        "timestamp" => Value::Timestamp(text()?.parse::<DateTime>().ok()?),
        "instant" => {
            let offset = offset.and_then(Json::as_i64).and_then(|n| i16::try_from(n).ok()).unwrap_or(0);
            Value::Instant(text()?.parse::<DateTime>().ok()?, offset)
        }
        "interval" => {
            let part = |i: usize| content.get(i).and_then(Json::as_i64);
            Value::Interval(Box::new(Interval { months: part(0)?, days: part(1)?, nanoseconds: part(2)?.into() }))
        }
        "array" => Value::Array(Box::new(content.as_array()?.iter().map(value).collect::<Option<Vec<_>>>()?)),
        "struct" => {
            let field = |pair: &Json| Some((pair.get(0)?.as_str()?.into(), value(pair.get(1)?)?));
            Value::Struct(Box::new(content.as_array()?.iter().map(field).collect::<Option<Vec<_>>>()?))
        }
        _ => return None,
    })
}

fn bytes(hex: &str) -> Option<Vec<u8>> {
    (0..hex.len()).step_by(2).map(|at| u8::from_str_radix(hex.get(at..at + 2)?, 16).ok()).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_kind_of_value_survives() {
        for text in [
            "null",
            "true",
            "-7",
            r#""é ''""#,
            r#"{"decimal":"-1.50"}"#,
            r#"{"float":"0.1"}"#,
            r#"{"binary":"00ff"}"#,
            r#"{"date":"2026-01-31"}"#,
            r#"{"time":"10:00:00.5"}"#,
            r#"{"timestamp":"2026-01-31 10:00:00"}"#,
            r#"{"instant":"2026-01-31 10:00:00","offset":-90}"#,
            r#"{"interval":[14,-3,5]}"#,
            r#"{"array":[1,null,{"array":[]}]}"#,
            r#"{"struct":[["a",1],["a",{"decimal":"2.0"}]]}"#,
        ] {
            let read = serde_json::from_str::<Json>(text).ok().as_ref().and_then(value);
            assert_eq!(read.as_ref().map(|v| json(v).to_string()).as_deref(), Some(text));
        }
        for text in ["[1]", "{}", r#"{"shape":1}"#, r#"{"date":"soon"}"#, r#"{"binary":"0"}"#] {
            assert_eq!(serde_json::from_str::<Json>(text).ok().as_ref().and_then(value), None, "{text}");
        }
        assert_eq!(value(&json!(1.0)), Some(Value::Float(1.0)));
    }
}
