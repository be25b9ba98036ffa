//! Types and nullability of expressions, as far as they show.

use syntax::tree::{Expr, ExprKind, LogicOperator, Query, QueryBody, SelectItem, SelectValue};
use values::DataType;

use crate::book::PhraseKind;
use crate::stage::{Constant, Function, Meant, Sign};

/// What is known about an expression.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Known {
    /// Its type.
    pub data_type: DataType,
    /// It can be NULL. True where nothing is known.
    pub nullable: bool,
}

impl Known {
    /// Nothing.
    pub const NOTHING: Known = Known { data_type: DataType::Unknown, nullable: true };

    fn of(data_type: DataType, nullable: bool) -> Known {
        Known { data_type, nullable }
    }

    /// What is known of a value that is one or the other.
    #[must_use]
    pub fn or(self, other: Known) -> Known {
        Known { data_type: wider(&self.data_type, &other.data_type), nullable: self.nullable || other.nullable }
    }
}

/// How deep an expression is looked into: a chain of thousands of operators is asked about at each
/// of its levels, which must not cost the square of its length.
const DEPTH: u32 = 24;

/// What is known about `expr`.
pub fn infer(expr: &Expr<Meant>) -> Known {
    infer_within(expr, DEPTH)
}

fn infer_within(expr: &Expr<Meant>, depth: u32) -> Known {
    match depth.checked_sub(1) {
        Some(depth) => infer_kind(&expr.kind, depth),
        None => Known::NOTHING,
    }
}

fn infer_kind(kind: &ExprKind<Meant>, depth: u32) -> Known {
    let infer = |expr: &Expr<Meant>| infer_within(expr, depth);
    let nullable_of = |parts: &[&Expr<Meant>]| parts.iter().any(|p| infer(p).nullable);
    match kind {
        ExprKind::Column(binding) => Known::of(binding.data_type.clone(), binding.nullable),
        ExprKind::Literal(constant) => match constant {
            Constant::Null => Known::NOTHING,
            Constant::Boolean(_) => Known::of(DataType::Boolean, false),
            Constant::Number(text) if text.contains(['e', 'E']) => Known::of(DataType::Float(64), false),
            Constant::Number(text) if text.contains('.') => Known::of(DataType::Decimal(None), false),
            Constant::Number(_) => Known::of(DataType::Integer(64), false),
            Constant::Text { .. } => Known::of(DataType::TEXT, false),
            Constant::Typed(word, _) => Known::of(
                match word.as_str() {
                    "DATE" => DataType::Date,
                    "TIME" => DataType::Time,
                    _ => DataType::TIMESTAMP,
                },
                false,
            ),
        },
        ExprKind::Nested(inner) | ExprKind::Collate(inner, _) | ExprKind::OuterMark(inner) => infer(inner),
        ExprKind::Unary(unary) => infer(&unary.operand),
        ExprKind::Binary(binary) => {
            let (left, right) = (infer(&binary.left), infer(&binary.right));
            let Sign::Phrase(id, _) = binary.operator else { return Known::NOTHING };
            let phrase = id.phrase();
            let data_type = match phrase.gives {
                "boolean" => DataType::Boolean,
                "string" => DataType::TEXT,
                "integer" => DataType::Integer(64),
                _ => wider(&left.data_type, &right.data_type),
            };
            let whole = matches!((&left.data_type, &right.data_type), (DataType::Integer(_), DataType::Integer(_)));
            let data_type = if phrase.id == "number.divide" && whole { DataType::Decimal(None) } else { data_type };
            // Division by zero is NULL in some engines.
            let divides = phrase.id.starts_with("number.divide") || phrase.id.starts_with("number.remainder");
            Known::of(data_type, left.nullable || right.nullable || (divides && !is_not_zero(&binary.right)))
        }
        ExprKind::Logic(LogicOperator::And | LogicOperator::Or, operands) => {
            Known::of(DataType::Boolean, operands.iter().any(|o| infer(o).nullable))
        }
        ExprKind::Not(operand) => Known::of(DataType::Boolean, infer(operand).nullable),
        ExprKind::Is(_) | ExprKind::Exists(_) => Known::of(DataType::Boolean, false),
        ExprKind::Between(t) => Known::of(DataType::Boolean, nullable_of(&[&t.operand, &t.low, &t.high])),
        ExprKind::Like(t) => Known::of(DataType::Boolean, nullable_of(&[&t.operand, &t.pattern])),
        ExprKind::In(_) | ExprKind::Quantified(_) => Known::of(DataType::Boolean, true),
        ExprKind::Case(case) => {
            let mut known = case.otherwise.as_ref().map_or(Known::NOTHING, infer);
            for (_, then) in &case.branches {
                let branch = infer(then);
                known.nullable |= branch.nullable;
                known.data_type = wider(&known.data_type, &branch.data_type);
            }
            known
        }
        ExprKind::Cast(cast) => Known::of(cast.to.data_type.clone(), infer(&cast.operand).nullable),
        ExprKind::Call(call) => {
            let Function::Phrase(id, _) = &call.function else { return Known::NOTHING };
            let phrase = id.phrase();
            let arguments: Vec<Known> = call.arguments.iter().map(|a| infer(&a.value)).collect();
            let data_type = match phrase.gives {
                "integer" => DataType::Integer(64),
                "string" => DataType::TEXT,
                "boolean" => DataType::Boolean,
                "date" => DataType::Date,
                "timestamp" => DataType::TIMESTAMP,
                "number" => DataType::Decimal(None),
                _ => arguments.iter().map(|a| a.data_type.clone()).reduce(|a, b| wider(&a, &b)).unwrap_or(DataType::Unknown),
            };
            let nullable = match (phrase.kind, phrase.id) {
                (_, "aggregate.count" | "aggregate.count-rows") | (PhraseKind::Window | PhraseKind::Word, _) => false,
                (PhraseKind::Aggregate, _) | (_, "null.if-equal") => true,
                (_, "null.first-not-null") => arguments.iter().all(|a| a.nullable),
                _ => arguments.iter().any(|a| a.nullable),
            };
            Known::of(data_type, nullable)
        }
        ExprKind::Subquery(query) => Known::of(scalar_type(query), single_row(query).is_none_or(|value| infer(value).nullable)),
        _ => Known::NOTHING,
    }
}

/// A number that is written out and not 0.
fn is_not_zero(expr: &Expr<Meant>) -> bool {
    match &expr.without_parens().kind {
        ExprKind::Literal(Constant::Number(text)) => text.parse::<f64>().is_ok_and(|n| n != 0.0),
        _ => false,
    }
}

/// The value of a query that surely gives one row: an aggregate over all rows there are.
fn single_row(query: &Query<Meant>) -> Option<&Expr<Meant>> {
    let QueryBody::Select(select) = &query.body else { return None };
    let [SelectItem { value: SelectValue::Expr(value), .. }] = select.items.as_slice() else { return None };
    let aggregate = value.any(&mut |e| match &e.kind {
        ExprKind::Call(call) => {
            !call.is_window() && matches!(&call.function, Function::Phrase(id, _) if id.phrase().kind == PhraseKind::Aggregate)
        }
        _ => false,
    });
    let all = select.group_by.is_none() && select.having.is_none() && select.qualify.is_none() && query.limit.is_none();
    (aggregate && all).then_some(value)
}

fn scalar_type(query: &Query<Meant>) -> DataType {
    match &query.body {
        QueryBody::Select(select) => match select.items.first().map(|i| &i.value) {
            Some(SelectValue::Expr(expr)) => infer(expr).data_type,
            _ => DataType::Unknown,
        },
        _ => DataType::Unknown,
    }
}

/// The type that holds values of both.
fn wider(a: &DataType, b: &DataType) -> DataType {
    use DataType::{Decimal, Float, Integer, Unknown};
    match (a, b) {
        (a, b) if a == b => a.clone(),
        (Unknown, other) | (other, Unknown) => other.clone(),
        (Float(_), _) | (_, Float(_)) => Float(64),
        (Decimal(_), _) | (_, Decimal(_)) => Decimal(None),
        (Integer(a), Integer(b)) => Integer(*a.max(b)),
        (a, b) if a.is_text() && b.is_text() => DataType::TEXT,
        (a, _) => a.clone(),
    }
}
