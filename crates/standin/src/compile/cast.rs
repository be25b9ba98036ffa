//! CAST in all its forms, AT TIME ZONE, IS [NOT] and other tests by words.

use syntax::DialectName;
use syntax::tree::{Cast, CastForm, Expr, ExprKind, LikeWord, Literal, Spelled};
use values::Value;

use super::Compiler;
use crate::convert::How;
use crate::failure::{Codes, Failure, FailureKind, Outcome};
use crate::plan::{Code, Conversion, Typed};
use crate::store::StoredType;
use crate::types::{TextType, Type};

impl Compiler<'_> {
    pub(super) fn cast(&mut self, cast: &Cast<Spelled>) -> Outcome<Typed> {
        if cast.form == CastForm::Validate {
            return self.validated(cast);
        }
        let operand = self.expr(&cast.operand)?;
        // PostgreSQL's bits of a number, as the text they print as.
        if self.dialect() == DialectName::Postgres && cast.to.words == "BIT" {
            return self.call_named("BITS_", vec![operand], Some(Type::TEXT));
        }
        if cast.form == CastForm::ConvertUsing && matches!(operand.ty, Type::Binary { .. }) && cast.to.words.eq_ignore_ascii_case("utf32") {
            return self.call_named("FROM_UTF32_", vec![operand], Some(Type::TEXT));
        }
        if cast.form == CastForm::ConvertUsing {
            return Ok(Typed::new(explicit(operand, &Type::TEXT, false), Type::TEXT));
        }
        if let Some(element) = self.collection_type(&cast.to.words) {
            let ty = Type::Array(Box::new(element));
            return Ok(Typed::new(operand.code, ty));
        }
        let Some(to) = Type::named(&cast.to, self.behaviour) else {
            return Err(Failure::unknown(&format!("the type {}", cast.to.words)));
        };
        let is_blob = self.dialect() == DialectName::Sqlite && cast.to.words.to_ascii_uppercase().contains("BLOB");
        let to = if is_blob { Type::Binary { length: None, fixed: false } } else { to };
        // A CAST of Spark makes STRING of CHAR(n) and VARCHAR(n) (seen on Spark 4.0).
        let to = if matches!(to, Type::Text(_)) && self.dialect() == DialectName::Spark { Type::TEXT } else { to };
        self.check_cast(&cast.to.words, &to, &operand.ty)?;
        // Without ANSI mode every CAST of Spark gives NULL where it fails.
        let lenient = self.dialect() == DialectName::Spark && !self.behaviour.strict;
        let safe = lenient || cast.form.is_safe();
        let mut how = How::EXPLICIT;
        let mut otherwise = None;
        if let Some(extra) = &cast.extra {
            if self.dialect() == DialectName::SqlServer {
                match self.expr(extra)?.code {
                    Code::Constant(Value::Integer(style)) => how.style = Some(style),
                    Code::Constant(Value::Null) => return Ok(Typed::new(Code::Constant(Value::Null), to)),
                    _ => return Err(Failure::unknown("a style that is no constant")),
                }
            } else if self.dialect() == DialectName::Oracle {
                otherwise = Some(self.expr(extra)?.code);
            } else if let Some(name) = digits_function(extra, &to).filter(|_| self.dialect() == DialectName::Bigquery) {
                return self.call_named(name, vec![operand], None);
            } else {
                return Err(Failure::unknown("a cast with a format"));
            }
        }
        // A literal cast to a string of the same length keeps being one value, not a literal.
        let ty = match &to {
            Type::Text(text) => {
                Type::Text(TextType { collation: text.collation.or(operand.ty.as_text().and_then(|t| t.collation)), ..*text })
            }
            other => other.clone(),
        };
        let code = Code::Convert(Box::new(Conversion {
            place: crate::plan::Place::default(),
            code: operand.code,
            from: operand.ty,
            to,
            how,
            safe,
            otherwise,
        }));
        Ok(Typed::new(code, ty))
    }

    /// 0 where the cast of a value that isn't NULL fails, else 1. Oracle, VALIDATE_CONVERSION.
    fn validated(&mut self, cast: &Cast<Spelled>) -> Outcome<Typed> {
        let value = self.expr(&cast.operand)?;
        let tried = self.cast(&Cast { form: CastForm::TryCast, ..cast.clone() })?;
        let failed = Code::And(vec![Code::IsNull(Box::new(tried.code), false), Code::IsNull(Box::new(value.code), true)]);
        let number = |n| Code::Constant(Value::Integer(n));
        Ok(Typed::new(Code::Case(vec![(failed, number(0))], Some(Box::new(number(1)))), Type::Number))
    }

    /// What the dialect refuses before it looks at a value.
    fn check_cast(&self, words: &str, to: &Type, from: &Type) -> Outcome<()> {
        let upper = words.to_ascii_uppercase();
        match self.dialect() {
            DialectName::Mysql | DialectName::Mariadb => {
                let allowed = [
                    "SIGNED", "UNSIGNED", "CHAR", "NCHAR", "BINARY", "DATE", "DATETIME", "TIME", "DECIMAL", "DEC", "JSON", "DOUBLE",
                    "FLOAT", "REAL", "YEAR",
                ];
                let mariadb = self.dialect() == DialectName::Mariadb && matches!(upper.as_str(), "INT" | "INTEGER" | "VARCHAR");
                if !mariadb && !allowed.iter().any(|a| upper.starts_with(a)) {
                    return Err(Failure::new(FailureKind::Syntax, format!("CAST knows no type {words}")).with_code("ER_PARSE_ERROR"));
                }
            }
            DialectName::Oracle => match to {
                Type::Text(text) if text.length == Some(0) => return Err(Failure::invalid("a string of no length").with_code("ORA-01723")),
                Type::Text(text) if text.length.is_some_and(|n| n > if text.fixed { 2000 } else { 4000 }) => {
                    return Err(Failure::invalid("a string longer than 4000 bytes").with_code("ORA-00910"));
                }
                Type::Decimal(_, scale) if !(-84..=127).contains(scale) => {
                    return Err(Failure::invalid("NUMBER has a scale of -84 to 127").with_code("ORA-01728"));
                }
                Type::Decimal(precision, _) if *precision > 38 || *precision == 0 => {
                    return Err(Failure::invalid("NUMBER has 1 to 38 digits").with_code("ORA-01727"));
                }
                _ => {}
            },
            DialectName::SqlServer => {
                let dated =
                    |t: &Type| t.is_dated() && !matches!(t, Type::DateTime(crate::types::Moment::Ticks | crate::types::Moment::Minutes));
                if (dated(from) && to.is_numeric()) || (dated(to) && from.is_numeric()) {
                    return Err(Failure::invalid("dates and numbers are never converted into each other").with_code("Msg 529"));
                }
            }
            DialectName::Postgres => {
                let codes: Codes = &[(DialectName::Postgres, "42846")];
                if (from.is_dated() && to.is_numeric()) || (to.is_dated() && from.is_numeric()) {
                    return Err(Failure::invalid("dates and numbers are never converted into each other").coded(self.dialect(), codes));
                }
            }
            _ => {}
        }
        Ok(())
    }

    /// The element type of a collection type.
    pub(super) fn collection_type(&self, words: &str) -> Option<Type> {
        if self.dialect() != DialectName::Oracle {
            return None;
        }
        let name = words.rsplit('.').next().unwrap_or(words).trim_matches('"').to_lowercase();
        match name.as_str() {
            "odcivarchar2list" => return Some(Type::varying(4000)),
            "odcinumberlist" => return Some(Type::Number),
            "odcidatelist" => return Some(Type::DateTime(crate::types::Moment::Seconds)),
            _ => {}
        }
        match self.store.types.get(&name) {
            Some(StoredType::List(element)) => Some(element.clone()),
            _ => None,
        }
    }

    pub(super) fn at_time_zone(&mut self, inner: &Expr<Spelled>, zone: Option<&Expr<Spelled>>) -> Outcome<Typed> {
        let typed = self.expr(inner)?;
        let Some(zone) = zone else { return Err(Failure::unknown("AT LOCAL")) };
        let zone = self.expr(zone)?;
        match &zone.code {
            Code::Constant(Value::Text(name)) if matches!(name.to_ascii_uppercase().as_str(), "UTC" | "+00:00" | "GMT" | "Z") => {
                // To an instant from a day and time, and back.
                let to = match (&typed.ty, self.dialect()) {
                    (Type::Zoned, DialectName::Postgres) => Type::DateTime(crate::types::Moment::Digits(6)),
                    _ => Type::Zoned,
                };
                Ok(Typed::new(explicit(typed, &to, false), to))
            }
            _ => Err(Failure::unknown("AT TIME ZONE other than UTC")),
        }
    }

    /// IS JSON, IS NAN, IS A SET ...
    pub(super) fn is_words(&mut self, operand: Typed, words: &str, negated: bool) -> Outcome<Typed> {
        let upper = words.to_uppercase();
        let code = match upper.as_str() {
            "JSON" => self.call_named("JSON_VALID_", vec![operand], Some(Type::Boolean))?.code,
            "NAN" => self.call_named("IS_NAN_", vec![operand], Some(Type::Boolean))?.code,
            "EMPTY" => self.call_named("IS_EMPTY_", vec![operand], Some(Type::Boolean))?.code,
            _ => return Err(Failure::unknown(&format!("IS {words}"))),
        };
        Ok(Typed::new(if negated { Code::Not(Box::new(code)) } else { code }, Type::Boolean))
    }

    /// RLIKE, REGEXP, SIMILAR TO.
    pub(super) fn regular_predicate(&mut self, operand: Typed, pattern: Typed, word: LikeWord, negated: bool) -> Outcome<Typed> {
        let name = if word == LikeWord::SimilarTo { "SIMILAR_TO_" } else { "REGEXP_MATCHES_" };
        let flags = Typed::new(Code::Constant(Value::text("")), Type::TEXT);
        let arguments = if word == LikeWord::SimilarTo { vec![operand, pattern] } else { vec![operand, pattern, flags] };
        let code = self.call_named(name, arguments, Some(Type::Boolean))?.code;
        Ok(Typed::new(if negated { Code::Not(Box::new(code)) } else { code }, Type::Boolean))
    }
}

/// A conversion as CAST makes it.
pub(super) fn explicit(typed: Typed, to: &Type, safe: bool) -> Code {
    Code::Convert(Box::new(Conversion {
        place: crate::plan::Place::default(),
        code: typed.code,
        from: typed.ty,
        to: to.clone(),
        how: How::EXPLICIT,
        safe,
        otherwise: None,
    }))
}

/// What CAST(.. FORMAT 'HEX') and its kin do. BigQuery, Format clause for CAST.
fn digits_function(format: &Expr<Spelled>, to: &Type) -> Option<&'static str> {
    let ExprKind::Literal(Literal::Text(format)) = &format.kind else { return None };
    Some(match (format.trim_matches(['\'', '"']).to_ascii_uppercase().as_str(), to.is_text()) {
        ("HEX", true) => "TO_HEX",
        ("HEX", false) => "FROM_HEX",
        ("BASE64", true) => "TO_BASE64",
        ("BASE64", false) => "FROM_BASE64",
        _ => return None,
    })
}
