//! Operators.

use syntax::tree::{Expr, LikeWord, Operator, Spelled};
use syntax::{DialectName, Symbol};
use values::Value;

use super::Compiler;
use crate::arithmetic::{Arithmetic, result_type};
use crate::failure::{Failure, FailureKind, Outcome};
use crate::plan::{ArithmeticCode, Code, Comparison, Typed};
use crate::types::{Family, TextType, Type};

impl Compiler<'_> {
    pub(super) fn unary(&mut self, operator: Operator, operand: &Expr<Spelled>) -> Outcome<Typed> {
        match operator {
            Operator::Prior => return self.hierarchy_operator(operand, false),
            Operator::ConnectByRoot => return self.hierarchy_operator(operand, true),
            Operator::Symbol(Symbol::Bang) => {
                let code = self.condition(operand)?;
                return Ok(Typed::new(Code::Not(Box::new(code)), Type::Boolean));
            }
            _ => {}
        }
        let typed = self.expr(operand)?;
        match operator {
            Operator::Symbol(Symbol::Plus) => Ok(typed),
            Operator::Symbol(Symbol::Minus) => {
                // A negative literal is one number.
                if let Code::Constant(Value::Integer(i)) = &typed.code {
                    return Ok(Typed::new(Code::Constant(Value::Integer(-i)), typed.ty));
                }
                let ty = match &typed.ty {
                    Type::Text(_) => result_type(Arithmetic::Subtract, &Type::INT, &typed.ty, self.behaviour)?,
                    Type::Decimal(19, 0) if self.dialect() != DialectName::SqlServer => Type::BIGINT,
                    other => other.clone(),
                };
                Ok(Typed::new(Code::Negate(Box::new(typed.code), ty.clone()), ty))
            }
            Operator::Symbol(Symbol::Tilde) => {
                if typed.ty == Type::Bit {
                    return Ok(Typed::new(Code::Not(Box::new(typed.code)), Type::Bit));
                }
                // All bits turned: -1 - x.
                let all = Typed::new(Code::Constant(Value::Integer(-1)), typed.ty.clone());
                self.arithmetic(Arithmetic::BitXor, typed, all)
            }
            // PostgreSQL, Mathematical operators.
            Operator::Symbol(Symbol::At) => self.call_named("ABS", vec![typed], None),
            Operator::Symbol(Symbol::SquareRoot) => self.call_named("SQRT", vec![typed], None),
            Operator::Symbol(Symbol::CubeRoot) => self.call_named("CBRT", vec![typed], None),
            Operator::Binary => {
                let text = typed.ty.as_text().copied().unwrap_or_default();
                let collation = Some(crate::behaviour::Collation::BINARY);
                Ok(Typed::new(typed.code, Type::Text(TextType { collation, ..text })))
            }
            other => Err(Failure::unknown(&format!("the operator {}", operator_text(other)))),
        }
    }

    pub(super) fn binary(&mut self, operator: Operator, left: &Expr<Spelled>, right: &Expr<Spelled>) -> Outcome<Typed> {
        let bars_mean_or = self.behaviour.spelling.bars_mean_or;
        let truth = |code| Ok(Typed::new(code, Type::Boolean));
        let (a, b) = (self.expr(left)?, self.expr(right)?);
        if let Some(comparison) = comparison(operator) {
            return truth(self.comparison(comparison, a, b)?);
        }
        let arithmetic = match operator {
            Operator::Symbol(Symbol::Concat) if bars_mean_or => return truth(Code::Or(vec![a.code, b.code])),
            Operator::Symbol(Symbol::AndAnd) if bars_mean_or || self.behaviour.is_mysql() => return truth(Code::And(vec![a.code, b.code])),
            Operator::Xor => return truth(Code::Xor(Box::new((a.code, b.code)))),
            Operator::Symbol(Symbol::Concat) => return self.concatenation(a, b),
            Operator::Symbol(Symbol::Plus) if self.joins_texts(&a.ty, &b.ty) => return Ok(self.joined(a, b)),
            Operator::Symbol(Symbol::Plus) => Arithmetic::Add,
            Operator::Symbol(Symbol::Minus) => Arithmetic::Subtract,
            Operator::Symbol(Symbol::Star) => Arithmetic::Multiply,
            Operator::Symbol(Symbol::Slash) => Arithmetic::Divide,
            Operator::Symbol(Symbol::SlashSlash) | Operator::Div => Arithmetic::DivideWhole,
            Operator::Symbol(Symbol::Percent) if self.dialect() == DialectName::Oracle => {
                return Err(Failure::new(FailureKind::Syntax, "Oracle has no %: use MOD").with_code("ORA-00911"));
            }
            Operator::Symbol(Symbol::Percent) | Operator::Mod => Arithmetic::Remainder,
            Operator::Symbol(Symbol::Ampersand) => Arithmetic::BitAnd,
            Operator::Symbol(Symbol::Bar) => Arithmetic::BitOr,
            Operator::Symbol(Symbol::Caret) if self.is(&[DialectName::Postgres, DialectName::Duckdb]) => Arithmetic::Power,
            Operator::Symbol(Symbol::StarStar) if self.dialect() == DialectName::Oracle => {
                return Err(Failure::new(FailureKind::Syntax, "** is PL/SQL's: use POWER").with_code("ORA-00936"));
            }
            Operator::Symbol(Symbol::StarStar) => Arithmetic::Power,
            Operator::Symbol(Symbol::Caret | Symbol::Hash) => Arithmetic::BitXor,
            Operator::Symbol(Symbol::ShiftLeft) => Arithmetic::ShiftLeft,
            Operator::Symbol(Symbol::ShiftRight) => Arithmetic::ShiftRight,
            other => return self.other_operator(other, a, b),
        };
        self.arithmetic(arithmetic, a, b)
    }

    /// SQL Server's `+` joins when both sides are strings, or one is and the other is NULL.
    fn joins_texts(&self, a: &Type, b: &Type) -> bool {
        self.dialect() == DialectName::SqlServer
            && ((a.is_text() && (b.is_text() || *b == Type::Null)) || (b.is_text() && *a == Type::Null))
    }

    fn joined(&self, a: Typed, b: Typed) -> Typed {
        let (x, y) = (a.ty.as_text().copied().unwrap_or_default(), b.ty.as_text().copied().unwrap_or_default());
        let length = x.length.zip(y.length).map(|(p, q)| (p + q).min(if x.national || y.national { 4000 } else { 8000 }));
        let ty = Type::Text(TextType {
            length,
            fixed: false,
            literal: false,
            national: x.national || y.national,
            collation: x.collation.or(y.collation),
        });
        Typed::new(Code::Concat(Box::new((a.code, b.code)), Box::new((a.ty, b.ty))), ty)
    }

    fn concatenation(&self, a: Typed, b: Typed) -> Outcome<Typed> {
        if self.dialect() == DialectName::SqlServer && !self.behaviour.dialect.since(2025, 0) {
            return Err(Failure::new(FailureKind::Syntax, "SQL Server before 2025 has no ||").with_code("Msg 102"));
        }
        match (&a.ty, &b.ty) {
            (Type::Array(x), Type::Array(y)) => {
                let element = super::unify(x, y, super::Purpose::Choose, self.behaviour)?;
                return Ok(Typed::new(Code::Concat(Box::new((a.code, b.code)), Box::new((a.ty, b.ty))), Type::Array(Box::new(element))));
            }
            (Type::Array(_), _) => {
                let ty = a.ty.clone();
                return Ok(Typed::new(Code::Concat(Box::new((a.code, b.code)), Box::new((a.ty, b.ty))), ty));
            }
            (_, Type::Array(_)) => {
                let ty = b.ty.clone();
                return Ok(Typed::new(Code::Concat(Box::new((a.code, b.code)), Box::new((a.ty, b.ty))), ty));
            }
            _ => {}
        }
        if self.is(&[DialectName::Postgres, DialectName::Bigquery])
            && !a.ty.is_text()
            && !b.ty.is_text()
            && !a.ty.is_open()
            && !b.ty.is_open()
            && a.ty.family() != Family::Binary
        {
            return Err(Failure::invalid("|| wants a string on one side").coded(self.dialect(), &[(DialectName::Postgres, "42883")]));
        }
        Ok(self.joined(self.unpadded(a), self.unpadded(b)))
    }

    /// PostgreSQL joins CHAR values without their padding.
    fn unpadded(&self, typed: Typed) -> Typed {
        let padded = self.dialect() == DialectName::Postgres && typed.ty.as_text().is_some_and(|t| t.fixed);
        if padded { Typed::new(crate::function::trimmed_right(typed.code), Type::TEXT) } else { typed }
    }

    /// Numbers, dates and intervals.
    pub(super) fn arithmetic(&mut self, operator: Arithmetic, a: Typed, b: Typed) -> Outcome<Typed> {
        if let Some(typed) = self.dated(operator, &a, &b)? {
            return Ok(typed);
        }
        let (mut x, mut y) = (a.ty.clone(), b.ty.clone());
        if self.is(&[DialectName::SqlServer, DialectName::Spark]) {
            // A constant has just the digits it is written with.
            if matches!(y, Type::Decimal(..)) {
                x = digits_of_constant(&a).unwrap_or(x);
            } else if matches!(x, Type::Decimal(..)) {
                y = digits_of_constant(&b).unwrap_or(y);
            }
        }
        let result = result_type(operator, &x, &y, self.behaviour)?;
        let (a, b) = if self.dialect() == DialectName::SqlServer {
            (self.sql_server_operand(a, &y, &result), self.sql_server_operand(b, &x, &result))
        } else {
            (a, b)
        };
        let types = (a.ty.clone(), b.ty.clone());
        let code = Code::Arithmetic(Box::new(ArithmeticCode {
            place: crate::plan::Place::default(),
            operator,
            left: a.code,
            right: b.code,
            types,
            result: result.clone(),
        }));
        Ok(Typed::new(code, result))
    }

    /// SQL Server reads a string as the other side's type: '5.5' beside a whole number is an error.
    fn sql_server_operand(&self, operand: Typed, other: &Type, result: &Type) -> Typed {
        if !operand.ty.is_text() && !matches!(operand.ty, Type::Binary { .. }) {
            return operand;
        }
        let to = if other.is_open() || other.is_text() { result.clone() } else { other.clone() };
        self.converted(operand, &to)
    }

    /// Days and intervals; `None` if none is among the operands.
    fn dated(&mut self, operator: Arithmetic, a: &Typed, b: &Typed) -> Outcome<Option<Typed>> {
        let special = |t: &Type| matches!(t.family(), Family::Date | Family::DateTime | Family::Interval | Family::Time);
        if !special(&a.ty) && !special(&b.ty) {
            return Ok(None);
        }
        // MySQL computes with the digits of a date, unless an interval is added.
        let interval = a.ty.family() == Family::Interval || b.ty.family() == Family::Interval;
        if self.behaviour.is_mysql() && !interval {
            return Ok(None);
        }
        let ty = crate::function::date_arithmetic::arithmetic_type(operator, &a.ty, &b.ty, self.behaviour)?;
        let name = match operator {
            Arithmetic::Add => "DATED_ADD_",
            Arithmetic::Subtract => "DATED_SUBTRACT_",
            Arithmetic::Multiply => "DATED_MULTIPLY_",
            Arithmetic::Divide => "DATED_DIVIDE_",
            _ => {
                return Err(Failure::invalid("this operator takes no dates")
                    .coded(self.dialect(), &[(DialectName::Postgres, "42883"), (DialectName::Oracle, "ORA-00932")]));
            }
        };
        self.call_named(name, vec![a.clone(), b.clone()], Some(ty)).map(Some)
    }

    fn other_operator(&mut self, operator: Operator, a: Typed, b: Typed) -> Outcome<Typed> {
        let name = match operator {
            Operator::Symbol(Symbol::Arrow) => "JSON_ARROW_",
            Operator::Symbol(Symbol::ArrowText) => "JSON_ARROW_TEXT_",
            Operator::Symbol(Symbol::JsonPath) => "JSON_PATH_",
            Operator::Symbol(Symbol::JsonPathText) => "JSON_PATH_TEXT_",
            Operator::Symbol(Symbol::Contains) => "CONTAINS_ALL_",
            Operator::Symbol(Symbol::ContainedIn) => return self.call_named("CONTAINS_ALL_", vec![b, a], Some(Type::Boolean)),
            Operator::Symbol(Symbol::AndAnd) => "OVERLAPS_",
            Operator::Symbol(Symbol::StartsWith) => "STARTS_WITH_",
            // PostgreSQL, Pattern matching; DuckDB, Pattern matching, where `~` must fit the whole text.
            Operator::Symbol(Symbol::LikeSign) => return Ok(self.like(a, b, None, LikeWord::Like, false)),
            Operator::Symbol(Symbol::NotLike) => return Ok(self.like(a, b, None, LikeWord::Like, true)),
            Operator::Symbol(Symbol::LikeAnyCase) => return Ok(self.like(a, b, None, LikeWord::Ilike, false)),
            Operator::Symbol(Symbol::NotLikeAnyCase) => return Ok(self.like(a, b, None, LikeWord::Ilike, true)),
            Operator::Symbol(Symbol::Glob) => return Ok(self.like(a, b, None, LikeWord::Glob, false)),
            Operator::Symbol(Symbol::Tilde | Symbol::NotMatch) if self.dialect() == DialectName::Duckdb => {
                return self.regular_predicate(a, b, LikeWord::SimilarTo, operator == Operator::Symbol(Symbol::NotMatch));
            }
            Operator::Symbol(Symbol::Tilde) => return self.regular_match(a, b, "", false),
            Operator::Symbol(Symbol::MatchAnyCase) => return self.regular_match(a, b, "i", false),
            Operator::Symbol(Symbol::NotMatch) => return self.regular_match(a, b, "", true),
            Operator::Symbol(Symbol::NotMatchAnyCase) => return self.regular_match(a, b, "i", true),
            Operator::MemberOf => "MEMBER_OF_",
            other => return Err(Failure::unknown(&format!("the operator {}", operator_text(other)))),
        };
        self.call_named(name, vec![a, b], None)
    }

    /// `~` and its kin.
    fn regular_match(&mut self, a: Typed, b: Typed, flags: &str, negated: bool) -> Outcome<Typed> {
        let flags = Typed::new(Code::Constant(Value::text(flags)), Type::TEXT);
        let typed = self.call_named("REGEXP_MATCHES_", vec![a, b, flags], Some(Type::Boolean))?;
        Ok(if negated { Typed::new(Code::Not(Box::new(typed.code)), Type::Boolean) } else { typed })
    }
}

fn digits_of_constant(typed: &Typed) -> Option<Type> {
    match (&typed.code, &typed.ty) {
        (Code::Constant(Value::Integer(i)), Type::Integer(_)) => Some(Type::Decimal(i.unsigned_abs().to_string().len() as u16, 0)),
        _ => None,
    }
}

pub(super) fn comparison(operator: Operator) -> Option<Comparison> {
    let Operator::Symbol(symbol) = operator else { return None };
    Some(match symbol {
        Symbol::Equal | Symbol::EqualEqual => Comparison::Equal,
        Symbol::NotEqual | Symbol::BangEqual | Symbol::CaretEqual => Comparison::NotEqual,
        Symbol::Less => Comparison::Less,
        Symbol::LessEqual | Symbol::NotGreater => Comparison::LessOrEqual,
        Symbol::Greater => Comparison::Greater,
        Symbol::GreaterEqual | Symbol::NotLess => Comparison::GreaterOrEqual,
        Symbol::NullSafeEqual => Comparison::Same,
        _ => return None,
    })
}

fn operator_text(operator: Operator) -> String {
    match operator {
        Operator::Symbol(symbol) => symbol.text().to_string(),
        other => format!("{other:?}").to_uppercase(),
    }
}
