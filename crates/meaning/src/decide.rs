//! What constants, types, bounds and nullability tell of an argument before any data is seen.

use crate::book::phrase;
use syntax::tree::{Expr, ExprKind};
use values::{DataType, Value};

use crate::book::{Fit, Guard, Order, Parameter, ValueClass};
use crate::infer::{Emptiness, Known, infer};
use crate::stage::{Constant, Meant, Sign};

type E = Expr<Meant>;

/// The value that is written out, with its sign.
pub fn constant(expr: &E) -> Option<Value> {
    match &expr.without_parens().kind {
        ExprKind::Literal(Constant::Null) => Some(Value::Null),
        ExprKind::Literal(Constant::Boolean(value)) => Some(Value::Boolean(*value)),
        ExprKind::Literal(Constant::Text { value, .. }) => Some(Value::Text(value.clone())),
        ExprKind::Literal(Constant::Number(text)) => number(text),
        ExprKind::Unary(unary) => match (unary.operator, &unary.operand.without_parens().kind) {
            (Sign::Phrase(id, _), ExprKind::Literal(Constant::Number(text))) => match id.phrase().id {
                phrase::NUMBER_NEGATE => number(&format!("-{text}")),
                phrase::NUMBER_PLUS => number(text),
                _ => None,
            },
            _ => None,
        },
        _ => None,
    }
}

fn number(text: &str) -> Option<Value> {
    text.parse().map(Value::Integer).ok().or_else(|| text.parse().ok().map(Value::decimal))
}

/// Whether an argument can have a value of a class.
pub fn can_be(class: ValueClass, about: usize, arguments: &[&E]) -> bool {
    decided(class, about, arguments) != Some(false)
}

/// Whether what a template wants of an argument is known to hold; of one that represents several, of
/// all of them.
pub fn is_known(guard: Guard, about: usize, parameter: &Parameter, arguments: &[&E]) -> bool {
    let last = if parameter.repeated { arguments.len() } else { about + 1 };
    (about..last.max(about + 1)).all(|at| is_known_of(guard, at, parameter, arguments))
}

fn is_known_of(guard: Guard, about: usize, parameter: &Parameter, arguments: &[&E]) -> bool {
    let Some(argument) = arguments.get(about) else { return parameter.repeated };
    match guard {
        Guard::Always(class) => decided(class, about, arguments) == Some(true),
        Guard::Never(class) => decided(class, about, arguments) == Some(false),
        Guard::Constant => constant(argument).is_some_and(|v| !v.is_null()),
        Guard::Default => is_default(argument, parameter),
        Guard::AsLongAs(other) => {
            let length = |e: &E| match constant(e) {
                Some(Value::Text(text)) => Some(text.chars().count()),
                _ => None,
            };
            length(argument).is_some_and(|n| arguments.get(other).and_then(|o| length(o)) == Some(n))
        }
        Guard::Typed(kind) => kind.fit(&infer(argument).data_type) == Fit::Yes,
    }
}

/// Whether an argument is its default.
pub fn is_default(argument: &E, parameter: &Parameter) -> bool {
    let Some(default) = parameter.default else { return false };
    match constant(argument) {
        Some(Value::Text(text)) => default.strip_prefix('\'').and_then(|d| d.strip_suffix('\'')) == Some(text.as_str()),
        Some(Value::Null) => default == "NULL",
        Some(value) => number(default).is_some_and(|d| d == value),
        None => false,
    }
}

/// Whether all values of an argument are of a class, or none is; `None` where that isn't known.
fn decided(class: ValueClass, about: usize, arguments: &[&E]) -> Option<bool> {
    let argument = arguments.get(about)?;
    if class == ValueClass::Any {
        return Some(true);
    }
    if let ValueClass::WiderThan(other) = class {
        let holder = arguments.get(other)?;
        return fits(argument, &infer(holder).data_type).then_some(false);
    }
    if let Some(value) = constant(argument) {
        return Some(class.holds(&value));
    }
    let known = infer(argument);
    match class {
        ValueClass::Null => (!known.nullable).then_some(false),
        ValueClass::Empty if known.empty == Emptiness::Never => Some(false),
        ValueClass::Whole if matches!(known.data_type, DataType::Integer(_)) => Some(true),
        ValueClass::Number(order, number) => by_bounds(order, number, &known),
        ValueClass::Length(Order::Greater, most) => match known.data_type {
            DataType::Text { length: Some(longest), .. } if i64::from(longest) <= most => Some(false),
            _ => by_type(class, &known),
        },
        _ => by_type(class, &known),
    }
}

fn by_type(class: ValueClass, known: &Known) -> Option<bool> {
    (!class.can_hold_of(&known.data_type)).then_some(false)
}

fn by_bounds(order: Order, number: i64, known: &Known) -> Option<bool> {
    let above = |n: i64| known.least.is_some_and(|least| least >= n);
    let below = |n: i64| known.most.is_some_and(|most| most <= n);
    let (always, never) = match order {
        Order::Less => (below(number - 1), above(number)),
        Order::AtMost => (below(number), above(number + 1)),
        Order::Equal => (above(number) && below(number), above(number + 1) || below(number - 1)),
        Order::AtLeast => (above(number), below(number - 1)),
        Order::Greater => (above(number + 1), below(number)),
    };
    match (always, never) {
        (true, _) => Some(true),
        (_, true) => Some(false),
        _ => by_type(ValueClass::Number(order, number), known),
    }
}

/// Whether a value of `expr` is surely held by the type as it is.
fn fits(expr: &E, holder: &DataType) -> bool {
    match (&expr.without_parens().kind, holder) {
        (_, DataType::Unknown) => false,
        (ExprKind::Literal(Constant::Text { value, .. }), DataType::Text { length, .. }) => {
            length.is_none_or(|n| value.chars().count() <= n as usize)
        }
        (ExprKind::Literal(Constant::Number(text)), DataType::Integer(_)) => text.parse::<i64>().is_ok(),
        _ => infer(expr).data_type == *holder,
    }
}
