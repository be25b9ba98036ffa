//! Arrow's values as ours. (Apache Arrow Columnar Format, Logical Types.)

use arrow_array::cast::AsArray;
use arrow_array::types::{
    ArrowDictionaryKeyType, Date32Type, Date64Type, Decimal32Type, Decimal64Type, Decimal128Type, Decimal256Type, DurationMicrosecondType,
    DurationMillisecondType, DurationNanosecondType, DurationSecondType, Float16Type, Float32Type, Float64Type, Int8Type, Int16Type,
    Int32Type, Int64Type, IntervalDayTimeType, IntervalMonthDayNanoType, IntervalYearMonthType, Time32MillisecondType, Time32SecondType,
    Time64MicrosecondType, Time64NanosecondType, TimestampMicrosecondType, TimestampMillisecondType, TimestampNanosecondType,
    TimestampSecondType, UInt8Type, UInt16Type, UInt32Type, UInt64Type,
};
use arrow_array::{Array, ArrayRef, ArrowPrimitiveType, GenericStringArray, OffsetSizeTrait};
use arrow_schema::{DataType, Field, IntervalUnit, TimeUnit};
use bigdecimal::num_bigint::BigInt;
use jiff::SignedDuration;
use jiff::civil::{DateTime, Time};
use values::{Decimal, Interval, Value};

use crate::civil;

/// A type's name, for people.
pub(super) fn type_name(field: &Field) -> String {
    of_type(field.data_type())
}

fn of_type(data_type: &DataType) -> String {
    match data_type {
        DataType::Utf8 | DataType::LargeUtf8 | DataType::Utf8View => "text".to_string(),
        DataType::Int8 => "int8".to_string(),
        DataType::Int16 => "int16".to_string(),
        DataType::Int32 => "int32".to_string(),
        DataType::Int64 => "int64".to_string(),
        DataType::Float32 => "float32".to_string(),
        DataType::Float64 => "float64".to_string(),
        DataType::Decimal32(p, s) | DataType::Decimal64(p, s) | DataType::Decimal128(p, s) | DataType::Decimal256(p, s) => {
            format!("decimal({p},{s})")
        }
        DataType::Boolean => "boolean".to_string(),
        DataType::Date32 | DataType::Date64 => "date".to_string(),
        DataType::Time32(_) | DataType::Time64(_) => "time".to_string(),
        DataType::Timestamp(_, None) => "timestamp".to_string(),
        DataType::Timestamp(_, Some(_)) => "timestamp with time zone".to_string(),
        DataType::Interval(_) | DataType::Duration(_) => "interval".to_string(),
        DataType::Binary | DataType::LargeBinary | DataType::BinaryView | DataType::FixedSizeBinary(_) => "binary".to_string(),
        DataType::List(f) | DataType::LargeList(f) | DataType::FixedSizeList(f, _) | DataType::ListView(f) | DataType::LargeListView(f) => {
            format!("list of {}", of_type(f.data_type()))
        }
        DataType::Struct(fields) => {
            let fields: Vec<String> = fields.iter().map(|f| format!("{} {}", f.name(), of_type(f.data_type()))).collect();
            format!("struct({})", fields.join(", "))
        }
        DataType::Dictionary(_, value) => of_type(value),
        other => other.to_string().to_lowercase(),
    }
}

fn at<T: ArrowPrimitiveType>(array: &dyn Array, row: usize) -> T::Native {
    array.as_primitive::<T>().value(row)
}

/// The value in a row of an array; `None` for one that has no place among ours.
pub(super) fn value(array: &ArrayRef, row: usize) -> Option<Value> {
    let array: &dyn Array = array.as_ref();
    if array.is_null(row) {
        return Some(Value::Null);
    }
    Some(match array.data_type() {
        DataType::Null => Value::Null,
        DataType::Boolean => Value::Boolean(array.as_boolean().value(row)),
        DataType::Int8 => Value::Integer(at::<Int8Type>(array, row).into()),
        DataType::Int16 => Value::Integer(at::<Int16Type>(array, row).into()),
        DataType::Int32 => Value::Integer(at::<Int32Type>(array, row).into()),
        DataType::Int64 => Value::Integer(at::<Int64Type>(array, row)),
        DataType::UInt8 => Value::Integer(at::<UInt8Type>(array, row).into()),
        DataType::UInt16 => Value::Integer(at::<UInt16Type>(array, row).into()),
        DataType::UInt32 => Value::Integer(at::<UInt32Type>(array, row).into()),
        DataType::UInt64 => {
            let number = at::<UInt64Type>(array, row);
            i64::try_from(number).map_or_else(|_| Value::decimal(number.into()), Value::Integer)
        }
        DataType::Float16 => Value::Float(at::<Float16Type>(array, row).to_f64()),
        DataType::Float32 => single(at::<Float32Type>(array, row)),
        DataType::Float64 => Value::Float(at::<Float64Type>(array, row)),
        DataType::Decimal32(_, scale) => decimal(at::<Decimal32Type>(array, row).into(), *scale),
        DataType::Decimal64(_, scale) => decimal(at::<Decimal64Type>(array, row).into(), *scale),
        DataType::Decimal128(_, scale) => decimal(at::<Decimal128Type>(array, row).into(), *scale),
        DataType::Decimal256(_, scale) => decimal(BigInt::from_signed_bytes_le(&at::<Decimal256Type>(array, row).to_le_bytes()), *scale),
        DataType::Utf8 => text(bytes_of(array.as_string::<i32>(), row)),
        DataType::LargeUtf8 => text(bytes_of(array.as_string::<i64>(), row)),
        DataType::Utf8View => text(array.as_string_view().clone().to_binary_view().value(row)),
        DataType::Binary => binary(array.as_binary::<i32>().value(row)),
        DataType::LargeBinary => binary(array.as_binary::<i64>().value(row)),
        DataType::BinaryView => binary(array.as_binary_view().value(row)),
        DataType::FixedSizeBinary(_) => binary(array.as_fixed_size_binary().value(row)),
        DataType::Date32 => Value::Date(civil::date(at::<Date32Type>(array, row).into())?),
        DataType::Date64 => Value::Date(scaled(at::<Date64Type>(array, row), TimeUnit::Millisecond)?.date()),
        DataType::Time32(TimeUnit::Second) => time(at::<Time32SecondType>(array, row).into(), TimeUnit::Second)?,
        DataType::Time32(_) => time(at::<Time32MillisecondType>(array, row).into(), TimeUnit::Millisecond)?,
        DataType::Time64(TimeUnit::Microsecond) => time(at::<Time64MicrosecondType>(array, row), TimeUnit::Microsecond)?,
        DataType::Time64(_) => time(at::<Time64NanosecondType>(array, row), TimeUnit::Nanosecond)?,
        DataType::Timestamp(unit, zone) => {
            let when = scaled(timestamp(array, row, *unit), *unit)?;
            if zone.is_some() { Value::Instant(when, 0) } else { Value::Timestamp(when) }
        }
        DataType::Duration(unit) => interval(0, 0, i128::from(duration(array, row, *unit)) * i128::from(nanoseconds(*unit))),
        DataType::Interval(unit) => spans(array, row, *unit),
        DataType::List(_) => items(&array.as_list::<i32>().value(row))?,
        DataType::LargeList(_) => items(&array.as_list::<i64>().value(row))?,
        DataType::FixedSizeList(..) => items(&array.as_fixed_size_list().value(row))?,
        DataType::ListView(_) => items(&array.as_list_view::<i32>().value(row))?,
        DataType::LargeListView(_) => items(&array.as_list_view::<i64>().value(row))?,
        DataType::Struct(_) => fields(array.as_struct(), row)?,
        // A map is a list of its entries.
        DataType::Map(..) => {
            let entries = array.as_map().value(row);
            let entries: Option<Vec<Value>> = (0..entries.len()).map(|i| fields(&entries, i)).collect();
            Value::Array(Box::new(entries?))
        }
        DataType::Union(..) => value(&array.as_union().value(row), 0)?,
        DataType::Dictionary(key, _) => match key.as_ref() {
            DataType::Int8 => entry::<Int8Type>(array, row)?,
            DataType::Int16 => entry::<Int16Type>(array, row)?,
            DataType::Int32 => entry::<Int32Type>(array, row)?,
            DataType::Int64 => entry::<Int64Type>(array, row)?,
            DataType::UInt8 => entry::<UInt8Type>(array, row)?,
            DataType::UInt16 => entry::<UInt16Type>(array, row)?,
            DataType::UInt32 => entry::<UInt32Type>(array, row)?,
            _ => entry::<UInt64Type>(array, row)?,
        },
        // Runs of one value come from no driver we know.
        DataType::RunEndEncoded(..) => return None,
    })
}

/// The bytes of a text. Arrow takes them for UTF-8 unseen, and a driver may send what is none: Spark's does
/// for a cast of bytes.
fn bytes_of<O: OffsetSizeTrait>(array: &GenericStringArray<O>, row: usize) -> &[u8] {
    let offsets = array.value_offsets();
    &array.value_data()[offsets[row].as_usize()..offsets[row + 1].as_usize()]
}

/// A text; what is none stays bytes.
fn text(bytes: &[u8]) -> Value {
    std::str::from_utf8(bytes).map_or_else(|_| binary(bytes), Value::text)
}

fn binary(bytes: &[u8]) -> Value {
    Value::Binary(Box::new(bytes.to_vec()))
}

/// A short float means the shortest digits that read back as it.
fn single(float: f32) -> Value {
    Value::Float(float.to_string().parse().unwrap_or(f64::from(float)))
}

fn decimal(digits: BigInt, scale: i8) -> Value {
    Value::decimal(Decimal::new(digits, scale.into()))
}

fn entry<K: ArrowDictionaryKeyType>(array: &dyn Array, row: usize) -> Option<Value> {
    let dictionary = array.as_dictionary::<K>();
    value(dictionary.values(), dictionary.key(row)?)
}

fn items(array: &ArrayRef) -> Option<Value> {
    let items: Option<Vec<Value>> = (0..array.len()).map(|i| value(array, i)).collect();
    Some(Value::Array(Box::new(items?)))
}

fn fields(array: &arrow_array::StructArray, row: usize) -> Option<Value> {
    let fields = array.fields().iter().zip(array.columns());
    let fields: Option<Vec<_>> = fields.map(|(f, column)| Some((f.name().as_str().into(), value(column, row)?))).collect();
    Some(Value::Struct(Box::new(fields?)))
}

// --- time -----------------------------------------------------------------------------------------

const fn nanoseconds(unit: TimeUnit) -> i64 {
    match unit {
        TimeUnit::Second => 1_000_000_000,
        TimeUnit::Millisecond => 1_000_000,
        TimeUnit::Microsecond => 1_000,
        TimeUnit::Nanosecond => 1,
    }
}

/// So many units since 1970.
fn scaled(amount: i64, unit: TimeUnit) -> Option<DateTime> {
    civil::moment(amount, 1_000_000_000 / nanoseconds(unit))
}

fn time(amount: i64, unit: TimeUnit) -> Option<Value> {
    let since_midnight = SignedDuration::from_nanos(amount.checked_mul(nanoseconds(unit))?);
    Time::midnight().checked_add(since_midnight).ok().map(Value::Time)
}

fn timestamp(array: &dyn Array, row: usize, unit: TimeUnit) -> i64 {
    match unit {
        TimeUnit::Second => at::<TimestampSecondType>(array, row),
        TimeUnit::Millisecond => at::<TimestampMillisecondType>(array, row),
        TimeUnit::Microsecond => at::<TimestampMicrosecondType>(array, row),
        TimeUnit::Nanosecond => at::<TimestampNanosecondType>(array, row),
    }
}

fn duration(array: &dyn Array, row: usize, unit: TimeUnit) -> i64 {
    match unit {
        TimeUnit::Second => at::<DurationSecondType>(array, row),
        TimeUnit::Millisecond => at::<DurationMillisecondType>(array, row),
        TimeUnit::Microsecond => at::<DurationMicrosecondType>(array, row),
        TimeUnit::Nanosecond => at::<DurationNanosecondType>(array, row),
    }
}

fn interval(months: i64, days: i64, nanoseconds: i128) -> Value {
    Value::Interval(Box::new(Interval { months, days, nanoseconds }))
}

fn spans(array: &dyn Array, row: usize, unit: IntervalUnit) -> Value {
    match unit {
        IntervalUnit::YearMonth => interval(at::<IntervalYearMonthType>(array, row).into(), 0, 0),
        IntervalUnit::DayTime => {
            let span = at::<IntervalDayTimeType>(array, row);
            interval(0, span.days.into(), i128::from(span.milliseconds) * 1_000_000)
        }
        IntervalUnit::MonthDayNano => {
            let span = at::<IntervalMonthDayNanoType>(array, row);
            interval(span.months.into(), span.days.into(), span.nanoseconds.into())
        }
    }
}
