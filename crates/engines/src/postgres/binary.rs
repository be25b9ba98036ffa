//! Values in PostgreSQL's binary form, as its send functions write them.

use std::error::Error as StdError;

use ::postgres::types::{FromSql, Kind, Type};
use ::postgres::{Error, Row};
use bigdecimal::num_bigint::{BigInt, Sign};
use jiff::SignedDuration;
use jiff::civil::{DateTime, Time};
use values::{Decimal, Interval, Value};

use crate::civil;

type Decoded = Result<Value, Box<dyn StdError + Sync + Send>>;

/// Whether values of the type are read here.
pub(super) fn is_read(t: &Type) -> bool {
    match t.kind() {
        Kind::Simple => is_simple(t),
        Kind::Enum(_) => true,
        Kind::Array(element) | Kind::Domain(element) => is_read(element),
        Kind::Composite(fields) => fields.iter().all(|f| is_read(f.type_())),
        _ => false,
    }
}

fn is_simple(t: &Type) -> bool {
    [
        Type::BOOL,
        Type::INT2,
        Type::INT4,
        Type::INT8,
        Type::OID,
        Type::FLOAT4,
        Type::FLOAT8,
        Type::NUMERIC,
        Type::TEXT,
        Type::VARCHAR,
        Type::BPCHAR,
        Type::NAME,
        Type::CHAR,
        Type::UNKNOWN,
        Type::JSON,
        Type::JSONB,
        Type::XML,
        Type::UUID,
        Type::BYTEA,
        Type::DATE,
        Type::TIME,
        Type::TIMESTAMP,
        Type::TIMESTAMPTZ,
        Type::INTERVAL,
        Type::VOID,
    ]
    .contains(t)
}

/// The values of a row whose columns have the types.
pub(super) fn values(row: &Row, types: &[Type]) -> Result<Vec<Value>, Error> {
    let mut values = Vec::with_capacity(types.len());
    for column in 0..types.len() {
        values.push(row.try_get::<_, Option<Own>>(column)?.map_or(Value::Null, |own| own.0));
    }
    Ok(values)
}

/// Makes the driver hand the bytes to us, whatever the type.
struct Own(Value);

impl FromSql<'_> for Own {
    fn from_sql(t: &Type, bytes: &[u8]) -> Result<Self, Box<dyn StdError + Sync + Send>> {
        decode(t, bytes).map(Own)
    }

    fn accepts(_: &Type) -> bool {
        true
    }
}

fn decode(t: &Type, bytes: &[u8]) -> Decoded {
    // The commonest types without a detour: a million rows have to pass here.
    match *t {
        Type::INT4 => return Ok(Value::Integer(i32::from_be_bytes(number(bytes)?).into())),
        Type::INT8 => return Ok(Value::Integer(i64::from_be_bytes(number(bytes)?))),
        Type::FLOAT8 => return Ok(Value::Float(f64::from_be_bytes(number(bytes)?))),
        Type::TEXT | Type::VARCHAR => return Ok(Value::text(std::str::from_utf8(bytes)?)),
        _ => {}
    }
    match t.kind() {
        Kind::Domain(base) => return decode(base, bytes),
        Kind::Array(element) => return array(element, bytes),
        Kind::Composite(fields) => {
            let names: Vec<&str> = fields.iter().map(::postgres::types::Field::name).collect();
            return composite(&names, bytes);
        }
        _ => {}
    }
    let wide = || number::<8>(bytes).map(i64::from_be_bytes);
    Ok(match *t {
        Type::BOOL => Value::Boolean(bytes.first() == Some(&1)),
        Type::INT2 => Value::Integer(i16::from_be_bytes(number(bytes)?).into()),
        Type::OID => Value::Integer(u32::from_be_bytes(number(bytes)?).into()),
        Type::FLOAT4 => single(f32::from_be_bytes(number(bytes)?)),
        Type::NUMERIC => decimal(bytes)?,
        Type::JSONB => Value::text(std::str::from_utf8(bytes.get(1..).unwrap_or_default())?),
        Type::UUID => uuid(number(bytes)?),
        Type::BYTEA => Value::Binary(Box::new(bytes.to_vec())),
        Type::DATE => date(i32::from_be_bytes(number(bytes)?))?,
        Type::TIME => Value::Time(Time::midnight().checked_add(SignedDuration::from_micros(wide()?))?),
        Type::TIMESTAMP => moment(wide()?, Value::Timestamp)?,
        Type::TIMESTAMPTZ => moment(wide()?, |t| Value::Instant(t, 0))?,
        Type::INTERVAL => interval(bytes)?,
        Type::VOID => Value::text(""),
        _ => Value::text(std::str::from_utf8(bytes)?),
    })
}

fn number<const N: usize>(bytes: &[u8]) -> Result<[u8; N], Box<dyn StdError + Sync + Send>> {
    bytes.first_chunk().copied().ok_or_else(|| "a value shorter than its type".into())
}

/// A short float means the shortest digits that read back as it.
fn single(float: f32) -> Value {
    Value::Float(float.to_string().parse().unwrap_or(f64::from(float)))
}

/// From 1970, where other servers begin to count.
const DAYS_TO_2000: i64 = 10_957;

/// Days since 2000-01-01; the ends of the range stand for infinity.
fn date(days: i32) -> Decoded {
    if let Some(word) = infinite(days == i32::MAX, days == i32::MIN) {
        return Ok(word);
    }
    Ok(Value::Date(civil::date(i64::from(days) + DAYS_TO_2000).ok_or("a day after the year 9999 or before -9999")?))
}

/// Microseconds since 2000-01-01.
fn moment(micros: i64, of: impl Fn(DateTime) -> Value) -> Decoded {
    if let Some(word) = infinite(micros == i64::MAX, micros == i64::MIN) {
        return Ok(word);
    }
    let moment = micros.checked_add(DAYS_TO_2000 * 86_400_000_000).and_then(|m| civil::moment(m, 1_000_000));
    Ok(of(moment.ok_or("a timestamp after the year 9999 or before -9999")?))
}

fn infinite(future: bool, past: bool) -> Option<Value> {
    if future { Some(Value::text("infinity")) } else { past.then(|| Value::text("-infinity")) }
}

fn interval(bytes: &[u8]) -> Decoded {
    let micros = i64::from_be_bytes(number(bytes)?);
    let days = i32::from_be_bytes(number(bytes.get(8..).unwrap_or_default())?);
    let months = i32::from_be_bytes(number(bytes.get(12..).unwrap_or_default())?);
    Ok(Value::Interval(Box::new(Interval { months: months.into(), days: days.into(), nanoseconds: i128::from(micros) * 1000 })))
}

fn uuid(bytes: [u8; 16]) -> Value {
    let hex: String = bytes.iter().map(|b| format!("{b:02x}")).collect();
    Value::text(format!("{}-{}-{}-{}-{}", &hex[..8], &hex[8..12], &hex[12..16], &hex[16..20], &hex[20..]))
}

/// Groups of four digits, the place of the first, the sign and the digits shown behind the point.
fn decimal(bytes: &[u8]) -> Decoded {
    let word = |at: usize| -> Result<i16, Box<dyn StdError + Sync + Send>> {
        Ok(i16::from_be_bytes(number(bytes.get(at..).unwrap_or_default())?))
    };
    let (groups, weight, sign, scale) = (word(0)?, i64::from(word(2)?), word(4)? as u16, i64::from(word(6)?));
    match sign {
        0xC000 => return Ok(Value::text("NaN")),
        0xD000 => return Ok(Value::text("Infinity")),
        0xF000 => return Ok(Value::text("-Infinity")),
        _ => {}
    }
    let sign = if sign == 0x4000 { Sign::Minus } else { Sign::Plus };
    let places = (i64::from(groups) - 1 - weight) * 4;
    // Most numbers fit a machine word.
    if groups <= 4 {
        let mut digits = 0i64;
        for at in 0..groups {
            digits = digits * 10_000 + i64::from(word(8 + 2 * at as usize)?);
        }
        let digits = if sign == Sign::Minus { -digits } else { digits };
        return Ok(Value::decimal(Decimal::new(digits.into(), places).with_scale(scale)));
    }
    let mut digits = BigInt::from(0);
    for at in 0..groups {
        digits = digits * 10_000 + word(8 + 2 * at as usize)?;
    }
    if sign == Sign::Minus {
        digits = -digits;
    }
    Ok(Value::decimal(Decimal::new(digits, places).with_scale(scale)))
}

/// Reads fields of bytes with their lengths before them, in turn.
struct Fields<'b>(&'b [u8]);

impl<'b> Fields<'b> {
    fn word(&mut self) -> Result<i32, Box<dyn StdError + Sync + Send>> {
        let word = i32::from_be_bytes(number(self.0)?);
        self.0 = &self.0[4..];
        Ok(word)
    }

    /// The next field; `None` for NULL.
    fn field(&mut self) -> Result<Option<&'b [u8]>, Box<dyn StdError + Sync + Send>> {
        let Ok(length) = usize::try_from(self.word()?) else { return Ok(None) };
        let (field, rest) = self.0.split_at_checked(length).ok_or("a field longer than its row")?;
        self.0 = rest;
        Ok(Some(field))
    }
}

fn array(element: &Type, bytes: &[u8]) -> Decoded {
    let mut fields = Fields(bytes);
    let dimensions = fields.word()?;
    let (_has_nulls, _element) = (fields.word()?, fields.word()?);
    let mut lengths = Vec::new();
    for _ in 0..dimensions {
        lengths.push(fields.word()?);
        let _lower_bound = fields.word()?;
    }
    if lengths.is_empty() {
        return Ok(Value::Array(Box::default()));
    }
    nested(&lengths, element, &mut fields)
}

fn nested(lengths: &[i32], element: &Type, fields: &mut Fields<'_>) -> Decoded {
    let Some((length, inner)) = lengths.split_first() else {
        return fields.field()?.map_or(Ok(Value::Null), |bytes| decode(element, bytes));
    };
    let items: Result<Vec<Value>, _> = (0..*length).map(|_| nested(inner, element, fields)).collect();
    Ok(Value::Array(Box::new(items?)))
}

fn composite(names: &[&str], bytes: &[u8]) -> Decoded {
    let mut fields = Fields(bytes);
    let mut values = Vec::new();
    for at in 0..fields.word()? {
        let t = Type::from_oid(fields.word()? as u32).unwrap_or(Type::TEXT);
        let value = fields.field()?.map_or(Ok(Value::Null), |bytes| decode(&t, bytes))?;
        let name = names.get(at as usize).map_or_else(|| format!("f{}", at + 1), ToString::to_string);
        values.push((name.into(), value));
    }
    Ok(Value::Struct(Box::new(values)))
}
