//! Constants: literals, typed literals, intervals.

use std::str::FromStr;

use syntax::tree::{Expr, Interval, Literal, Spelled, TypedLiteral};
use syntax::{DialectName, decode_bytes, decode_text};
use values::{Decimal, Value};

use super::Compiler;
use crate::convert::{How, convert, parse_moment};
use crate::failure::{Codes, Failure, FailureKind, Outcome};
use crate::mask::oracle_date;
use crate::plan::{Code, Typed};
use crate::types::{Moment, Span, TextType, Type};

impl Compiler<'_> {
    pub(super) fn literal(&self, literal: &Literal) -> Outcome<Typed> {
        let constant = |value, ty| Ok(Typed::new(Code::Constant(value), ty));
        if let Literal::Text(token) | Literal::Number(token) = literal
            && let Some(bytes) = decode_bytes(token, self.dialect())
        {
            let ty = Type::Binary { length: Some(bytes.len() as u32), fixed: false };
            return constant(Value::Binary(Box::new(bytes)), ty);
        }
        match literal {
            Literal::Null => constant(Value::Null, Type::Null),
            Literal::Boolean(_) if self.dialect() == DialectName::Oracle && !self.behaviour.dialect.since(23, 0) => {
                Err(Failure::new(FailureKind::UnknownName, "Oracle before 23 has no TRUE and FALSE").with_code("ORA-00904"))
            }
            Literal::Boolean(_) if self.dialect() == DialectName::SqlServer => {
                Err(Failure::new(FailureKind::UnknownName, "SQL Server has no TRUE and FALSE").with_code("Msg 207"))
            }
            Literal::Boolean(value) if self.dialect() == DialectName::Sqlite => constant(Value::Integer(i64::from(*value)), Type::BIGINT),
            Literal::Boolean(value) => constant(Value::Boolean(*value), Type::Boolean),
            Literal::Number(text) => self.number(text),
            Literal::Text(text) => self.text_literal(text),
            Literal::Texts(parts) => {
                let text: String = parts.iter().map(|p| decode_text(p, &self.behaviour.spelling)).collect();
                constant(self.behaviour.text(text.clone()), literal_type(&text, false))
            }
            Literal::Typed(typed) => self.typed_literal(typed),
        }
    }

    fn number(&self, written: &str) -> Outcome<Typed> {
        let wrong = || Failure::invalid(format!("{written} is no number"));
        let constant = |value, ty| Ok(Typed::new(Code::Constant(value), ty));
        if written.len() > 2 && (written.starts_with("0x") || written.starts_with("0X")) {
            return self.hexadecimal(&written[2..]);
        }
        let suffix = written.chars().last().filter(char::is_ascii_alphabetic);
        let text = if suffix.is_some() { written.trim_end_matches(|c: char| c.is_ascii_alphabetic()) } else { written };
        let float = |text: &str| text.parse::<f64>().map_err(|_| wrong());
        if suffix.is_some_and(|c| matches!(c.to_ascii_lowercase(), 'd' | 'f')) && self.is(&[DialectName::Oracle, DialectName::Spark]) {
            return constant(Value::Float(float(text)?), Type::Float);
        }
        if text.contains(['e', 'E']) && !self.is(&[DialectName::Oracle, DialectName::Postgres]) {
            return constant(Value::Float(float(text)?), Type::Float);
        }
        if let Ok(whole) = text.parse::<i64>() {
            return constant(Value::Integer(whole), self.whole_type(whole, text));
        }
        if self.is(&[DialectName::Sqlite, DialectName::Bigquery]) && text.contains('.') {
            return constant(Value::Float(float(text)?), if self.dialect() == DialectName::Sqlite { Type::Any } else { Type::Float });
        }
        let number = Decimal::from_str(text).map_err(|_| wrong())?;
        if self.is(&[DialectName::Oracle, DialectName::Postgres]) {
            let plain = if text.contains(['e', 'E']) { number.with_scale(number.fractional_digit_count().max(0)) } else { number };
            return constant(
                if self.dialect() == DialectName::Oracle { crate::convert::simplest(plain) } else { Value::decimal(plain) },
                Type::Number,
            );
        }
        if self.dialect() == DialectName::Sqlite {
            return constant(Value::Float(float(text)?), Type::Any);
        }
        let scale = number.fractional_digit_count().max(0);
        let digits = text.trim_start_matches('0').chars().filter(char::is_ascii_digit).count().max(scale as usize).max(1);
        if digits > 65 {
            return Err(wrong());
        }
        constant(Value::decimal(number), Type::Decimal(digits as u16, scale as i16))
    }

    fn whole_type(&self, whole: i64, text: &str) -> Type {
        match self.dialect() {
            DialectName::Oracle => Type::Number,
            DialectName::Sqlite => Type::Any,
            // SQL Server: a whole number beyond INT is a decimal.
            DialectName::SqlServer if i32::try_from(whole).is_err() => Type::Decimal(text.len() as u16, 0),
            DialectName::Mysql | DialectName::Mariadb | DialectName::Bigquery => Type::BIGINT,
            _ if i32::try_from(whole).is_err() => Type::BIGINT,
            _ => Type::INT,
        }
    }

    /// `0x41`: a number where it is none of bytes.
    fn hexadecimal(&self, digits: &str) -> Outcome<Typed> {
        let number = i64::from_str_radix(digits, 16).map_err(|_| Failure::invalid(format!("0x{digits} is no number, or too great")))?;
        Ok(Typed::new(Code::Constant(Value::Integer(number)), self.whole_type(number, digits)))
    }

    fn text_literal(&self, written: &str) -> Outcome<Typed> {
        let prefix: String = written.chars().take_while(char::is_ascii_alphabetic).collect::<String>().to_ascii_uppercase();
        if matches!(prefix.as_str(), "X" | "B") {
            return Err(Failure::unknown("bit literals"));
        }
        let text = decode_text(written, &self.behaviour.spelling);
        Ok(Typed::new(Code::Constant(self.behaviour.text(text.to_string())), literal_type(&text, prefix.ends_with('N') || prefix == "N")))
    }

    /// SQL Server: `{d '..'}` is a DATETIME; DATE '..' is a column and its alias.
    pub(super) fn escape_literal(&self, literal: &TypedLiteral, span: syntax::tree::Span) -> Outcome<Typed> {
        if !self.text(span).starts_with('{') {
            return Err(Failure::new(FailureKind::UnknownName, format!("there is no column {}", literal.word)).with_code("Msg 207"));
        }
        let text = decode_text(&literal.text, &self.behaviour.spelling);
        let to = if literal.word == "TIME" { Type::Time(7) } else { Type::DateTime(Moment::Ticks) };
        let value = convert(Value::text(text.as_str()), &Type::TEXT, &to, How::EXPLICIT, self.behaviour)?;
        Ok(Typed::new(Code::Constant(value), to))
    }

    fn typed_literal(&self, literal: &TypedLiteral) -> Outcome<Typed> {
        let text = decode_text(&literal.text, &self.behaviour.spelling);
        let constant = |value, ty| Ok(Typed::new(Code::Constant(value), ty));
        let wrong_codes: Codes =
            &[(DialectName::Oracle, "ORA-01861"), (DialectName::Postgres, "22007"), (DialectName::Mysql, "ER_WRONG_VALUE")];
        let wrong = || {
            Failure::new(FailureKind::BadCast, format!("'{text}' is no {}", literal.word.to_lowercase())).coded(self.dialect(), wrong_codes)
        };
        match literal.word.as_str() {
            "DATE" if self.dialect() == DialectName::Oracle => {
                constant(Value::Timestamp(oracle_date::read(&text, "YYYY-MM-DD", self.behaviour)?), Type::DateTime(Moment::Seconds))
            }
            "DATE" => constant(Value::Date(parse_moment(&text, self.behaviour).map_err(|_| wrong())?.moment.date()), Type::Date),
            "TIMESTAMP" | "DATETIME" | "TIMESTAMPTZ" => {
                let parsed = parse_moment(&text, self.behaviour).map_err(|_| wrong())?;
                let zoned = parsed.offset.is_some()
                    || literal.word == "TIMESTAMPTZ"
                    || (literal.word == "TIMESTAMP" && self.dialect() == DialectName::Bigquery);
                if zoned {
                    let from = literal_type(&text, false);
                    return constant(convert(Value::text(text.as_str()), &from, &Type::Zoned, How::EXPLICIT, self.behaviour)?, Type::Zoned);
                }
                // As many digits of a second as are written.
                let written = text.split_once('.').map_or(0, |(_, f)| f.trim().len().min(9)) as u8;
                let digits = if self.behaviour.is_mysql() { written } else { written.max(6) };
                constant(Value::Timestamp(parsed.moment), Type::DateTime(Moment::Digits(digits)))
            }
            "TIME" => constant(Value::Time(crate::convert::parse_time(&text).ok_or_else(wrong)?), Type::Time(6)),
            "INTERVAL" => {
                let value = convert(Value::text(text.as_str()), &Type::TEXT, &Type::Interval(None), How::EXPLICIT, self.behaviour)?;
                constant(value, Type::Interval(None))
            }
            "NUMERIC" | "DECIMAL" | "BIGNUMERIC" => {
                constant(convert(Value::text(text.as_str()), &Type::TEXT, &Type::Number, How::EXPLICIT, self.behaviour)?, Type::Number)
            }
            "JSON" => constant(convert(Value::text(text.as_str()), &Type::TEXT, &Type::Json, How::EXPLICIT, self.behaviour)?, Type::Json),
            other => match Type::named(&syntax::tree::TypeName::synthetic(other, Vec::new()), self.behaviour) {
                Some(ty) => constant(convert(Value::text(text.as_str()), &Type::TEXT, &ty, How::EXPLICIT, self.behaviour)?, ty),
                None => Err(Failure::unknown(&format!("literals of type {other}"))),
            },
        }
    }

    // --- intervals -----------------------------------------------------------------------------

    pub(super) fn interval(&mut self, interval: &Interval<Spelled>) -> Outcome<Typed> {
        // MySQL's function of the same name.
        if let (syntax::tree::ExprKind::Row(items), None, true) = (&interval.value.kind, &interval.unit, self.behaviour.is_mysql()) {
            let arguments: Outcome<Vec<Typed>> = items.iter().map(|e| self.expr(e)).collect();
            return self.call_named("INTERVAL", arguments?, None);
        }
        let mut total = self.one_interval(&interval.value, interval.unit.as_deref())?;
        for (value, unit) in &interval.more {
            let more = self.one_interval(value, Some(unit))?;
            total = self.call_named("DATED_ADD_", vec![total, more], Some(Type::Interval(None)))?;
        }
        Ok(total)
    }

    fn one_interval(&mut self, value: &Expr<Spelled>, unit: Option<&str>) -> Outcome<Typed> {
        let amount = self.expr(value)?;
        let unit = unit.unwrap_or("").to_uppercase();
        let months = unit.contains("YEAR") || unit.contains("MONTH") || unit.contains("QUARTER");
        let span = if self.behaviour.name() == DialectName::Oracle || self.behaviour.is_mysql() {
            Some(if months { Span::YearMonth } else { Span::DaySecond })
        } else {
            None
        };
        // MySQL's result keeps a date a date where only days are added.
        let unit_text = Typed::new(Code::Constant(Value::text(unit.as_str())), Type::TEXT);
        if unit.is_empty() {
            return Ok(self.converted(amount, &Type::Interval(None)));
        }
        self.call_named("INTERVAL_", vec![amount, unit_text], Some(Type::Interval(span)))
    }
}

/// The type of a string literal: as long as it is.
fn literal_type(text: &str, national: bool) -> Type {
    Type::Text(TextType { length: Some((text.chars().count() as u32).max(1)), literal: true, national, ..TextType::default() })
}
