//! Types and nullability of expressions, as far as they show.

use crate::book::phrase;
use syntax::tree::{Expr, ExprKind, LogicOperator, Query, QueryBody, SelectItem, SelectValue};
use values::DataType;

use crate::book::{ArgumentKind, Phrase, PhraseKind};
use crate::stage::{Constant, Function, Meant, Sign};

/// Whether an expression can be an empty text.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Emptiness {
    /// It surely can't.
    Never,
    /// Whether it can isn't known, as of a column.
    Unknown,
    /// What is done to strings here can leave none: TRIM of blanks.
    Can,
}

/// What is known about an expression.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Known {
    /// Its type.
    pub data_type: DataType,
    /// It can be NULL. True where nothing is known.
    pub nullable: bool,
    /// It is the word NULL, which takes the type of what is beside it.
    pub only_null: bool,
    /// Whether it can be an empty text.
    pub empty: Emptiness,
    /// The least number it can be, where that is known.
    pub least: Option<i64>,
    /// The greatest.
    pub most: Option<i64>,
}

impl Known {
    /// Nothing.
    pub const NOTHING: Known =
        Known { data_type: DataType::Unknown, nullable: true, only_null: false, empty: Emptiness::Unknown, least: None, most: None };
    /// The word NULL.
    pub const NULL: Known = Known { only_null: true, ..Known::NOTHING };

    fn of(data_type: DataType, nullable: bool) -> Known {
        let may_be_text = data_type.is_text() || data_type == DataType::Unknown;
        let empty = if may_be_text { Emptiness::Unknown } else { Emptiness::Never };
        Known { data_type, nullable, empty, ..Known::NOTHING }
    }

    fn number(data_type: DataType, value: Option<i64>) -> Known {
        Known { least: value, most: value, ..Known::of(data_type, false) }
    }

    /// What is known of a value that is one or the other.
    #[must_use]
    pub fn or(self, other: Known) -> Known {
        if self.only_null || other.only_null {
            let value = if self.only_null { other } else { self };
            return Known { nullable: true, ..value };
        }
        let both = |a: Option<i64>, b: Option<i64>, choose: fn(i64, i64) -> i64| a.zip(b).map(|(a, b)| choose(a, b));
        Known {
            data_type: wider(&self.data_type, &other.data_type),
            nullable: self.nullable || other.nullable,
            only_null: false,
            empty: self.empty.max(other.empty),
            least: both(self.least, other.least, i64::min),
            most: both(self.most, other.most, i64::max),
        }
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
            Constant::Null => Known::NULL,
            Constant::Boolean(_) => Known::of(DataType::Boolean, false),
            Constant::Number(text) if text.contains(['e', 'E']) => Known::of(DataType::Float(64), false),
            Constant::Number(text) if text.contains('.') => Known::of(DataType::Decimal(None), false),
            // More digits than a whole number of 64 bits has.
            Constant::Number(text) if text.len() > 18 && text.parse::<i64>().is_err() => Known::of(DataType::Decimal(None), false),
            Constant::Number(text) => Known::number(DataType::Integer(64), text.parse().ok()),
            Constant::Text { value, .. } => {
                let empty = if value.is_empty() { Emptiness::Can } else { Emptiness::Never };
                Known { empty, ..Known::of(DataType::TEXT, false) }
            }
            Constant::Bytes(_) => Known::of(DataType::Binary, false),
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
        ExprKind::Unary(unary) => {
            let operand = infer(&unary.operand);
            match unary.operator {
                Sign::Phrase(id, _) if id.phrase().id == phrase::NUMBER_NEGATE => {
                    let turned = |n: Option<i64>| n.and_then(i64::checked_neg);
                    Known { least: turned(operand.most), most: turned(operand.least), ..operand }
                }
                _ => operand,
            }
        }
        ExprKind::Binary(binary) => {
            let (left, right) = (infer(&binary.left), infer(&binary.right));
            let Sign::Phrase(id, _) = binary.operator else { return Known::NOTHING };
            let phrase = id.phrase();
            // A number is of the wider of its operands' types.
            let own = given_type(phrase.gives).filter(|_| phrase.gives != "number");
            let data_type = own.unwrap_or_else(|| left.clone().or(right.clone()).data_type);
            let whole = matches!((&left.data_type, &right.data_type), (DataType::Integer(_), DataType::Integer(_)));
            let data_type = if phrase.id == phrase::NUMBER_DIVIDE && whole { DataType::Decimal(None) } else { data_type };
            // Division by zero is NULL in some engines.
            let divides = phrase.id.starts_with(phrase::NUMBER_DIVIDE) || phrase.id.starts_with(phrase::NUMBER_REMAINDER);
            let nullable = match phrase.strict {
                true => left.nullable || right.nullable || (divides && !is_not_zero(&binary.right)),
                false => left.nullable && right.nullable,
            };
            let (least, most) = bounds(phrase.id, &left, &right);
            // Nothing joined to nothing.
            let can = |k: &Known| k.empty == Emptiness::Can || k.nullable;
            let empty = if phrase.empties && can(&left) && can(&right) { Emptiness::Can } else { left.empty.min(right.empty) };
            Known { empty, least, most, ..Known::of(data_type, nullable) }
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
            let otherwise = case.otherwise.as_ref().map_or(Known { empty: Emptiness::Never, ..Known::NULL }, infer);
            let of_branches = case.branches.iter().map(|(_, then)| infer(then)).reduce(Known::or);
            of_branches.map_or(otherwise.clone(), |branches| Known { least: None, most: None, ..branches.or(otherwise) })
        }
        ExprKind::Cast(cast) => Known::of(cast.to.data_type.clone(), infer(&cast.operand).nullable),
        ExprKind::Call(call) => {
            let Function::Phrase(id, _) = &call.function else { return Known::NOTHING };
            let arguments: Vec<Known> = call.arguments.iter().map(|a| infer(&a.value)).collect();
            of_phrase(id.phrase(), &arguments)
        }
        ExprKind::Subquery(query) => Known::of(scalar_type(query), single_row(query).is_none_or(|value| infer(value).nullable)),
        _ => Known::NOTHING,
    }
}

/// The type a phrase gives by its name; none for an argument's.
fn given_type(gives: &str) -> Option<DataType> {
    Some(match gives {
        "integer" => DataType::Integer(64),
        "string" => DataType::TEXT,
        "boolean" => DataType::Boolean,
        "date" => DataType::Date,
        "timestamp" => DataType::TIMESTAMP,
        "number" => DataType::Decimal(None),
        "float" => DataType::Float(64),
        "binary" => DataType::Binary,
        _ => return None,
    })
}

fn of_phrase(phrase: &Phrase, arguments: &[Known]) -> Known {
    let data_type = given_type(phrase.gives).unwrap_or_else(|| {
        // The type of one argument is that of all of its kind: NULL and untyped ones have none of their own.
        let widest = arguments.iter().cloned().reduce(Known::or).map_or(DataType::Unknown, |known| known.data_type);
        match phrase.argument(phrase.gives).and_then(|i| arguments.get(i)) {
            Some(own) if phrase.takes.iter().any(|t| t.kind != ArgumentKind::Any) => own.data_type.clone(),
            _ => widest,
        }
    });
    let nullable = match (phrase.kind, phrase.id) {
        (_, phrase::AGGREGATE_COUNT | phrase::AGGREGATE_COUNT_ROWS) | (PhraseKind::Window | PhraseKind::Word, _) => false,
        (PhraseKind::Aggregate, _) | (_, phrase::NULL_IF_EMPTY_TEXT) => true,
        (_, phrase::NULL_FIRST_NOT_NULL | phrase::NULL_REPLACED) => arguments.iter().all(|a| a.nullable),
        _ if phrase.strict => arguments.iter().any(|a| a.nullable),
        _ => !matches!(phrase.id, "text.concatenate-skipping-null"),
    };
    Known { least: phrase.least, empty: emptiness(phrase, arguments), ..Known::of(data_type, nullable) }
}

/// Whether a phrase can give an empty text.
fn emptiness(phrase: &Phrase, arguments: &[Known]) -> Emptiness {
    if phrase.id == phrase::NULL_IF_EMPTY_TEXT || (phrase.gives != "string" && given_type(phrase.gives).is_some()) {
        return Emptiness::Never;
    }
    let is_between = |(at, least, most): &(usize, i64, Option<i64>)| {
        let Some(known) = arguments.get(*at) else { return false };
        known.least.is_some_and(|n| n >= *least) && most.is_none_or(|most| known.most.is_some_and(|n| n <= most))
    };
    let is_full = !phrase.full.is_empty() && phrase.full.iter().all(is_between);
    if phrase.empties && !is_full {
        return Emptiness::Can;
    }
    let own: Vec<Emptiness> =
        phrase.takes.iter().zip(arguments).filter(|(t, _)| t.kind != ArgumentKind::Integer).map(|(_, a)| a.empty).collect();
    let rest = arguments.iter().skip(phrase.takes.len()).map(|a| a.empty);
    own.into_iter().chain(rest).max().unwrap_or(Emptiness::Unknown)
}

/// The bounds of a sum or difference.
fn bounds(id: &str, left: &Known, right: &Known) -> (Option<i64>, Option<i64>) {
    let with = |a: Option<i64>, b: Option<i64>, op: fn(i64, i64) -> Option<i64>| a.zip(b).and_then(|(a, b)| op(a, b));
    match id {
        phrase::NUMBER_ADD => (with(left.least, right.least, i64::checked_add), with(left.most, right.most, i64::checked_add)),
        phrase::NUMBER_SUBTRACT => (with(left.least, right.most, i64::checked_sub), with(left.most, right.least, i64::checked_sub)),
        _ => (None, None),
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

/// The type that holds values of both; what isn't known of one isn't known of both.
fn wider(a: &DataType, b: &DataType) -> DataType {
    use DataType::{Decimal, Float, Integer, Unknown};
    match (a, b) {
        (a, b) if a == b => a.clone(),
        (Unknown, _) | (_, Unknown) => Unknown,
        (Float(_), _) | (_, Float(_)) => Float(64),
        (Decimal(_), _) | (_, Decimal(_)) => Decimal(None),
        (Integer(a), Integer(b)) => Integer(*a.max(b)),
        (a, b) if a.is_text() && b.is_text() => DataType::TEXT,
        (a, _) => a.clone(),
    }
}
