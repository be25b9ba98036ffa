//! Words that choose among their arguments, as CASE where the target has no such word.

use meaning::{Constant, Emptiness, Function, Meant, PhraseKind, constant, infer, phrase};
use syntax::DialectName;
use syntax::tree::{Call, Expr, ExprKind, LogicOperator};
use values::Value;

use super::regex;
use crate::shape::{all_of, any_of, as_number, call, case, copy_of, is_null_literal, null_test, number, operation};

type E = Expr<Meant>;

/// The CASE that says a phrase of these arguments; `None` where there is none for so many of them.
pub(super) fn as_case(phrase: &str, arguments: Vec<E>, from: DialectName) -> Option<E> {
    match phrase {
        phrase::NULL_DECODE => decoded(arguments),
        phrase::CHOICE_BY_NUMBER | phrase::CHOICE_BY_NUMBER_OR_ERROR => Some(by_number(arguments)),
        phrase::CHOICE_NUMBER_OF => Some(number_of(arguments)),
        phrase::CHOICE_NUMBER_OF_BOUNDS => number_of_bounds(arguments),
        phrase::NUMBER_BUCKET => bucket(arguments),
        phrase::GREATEST_OR_NULL => Some(or_null(phrase::GREATEST_PASSING_NULL, arguments)),
        phrase::LEAST_OR_NULL => Some(or_null(phrase::LEAST_PASSING_NULL, arguments)),
        phrase::GREATEST_PASSING_NULL => passing_null(phrase::GREATEST_OR_NULL, arguments),
        phrase::LEAST_PASSING_NULL => passing_null(phrase::LEAST_OR_NULL, arguments),
        phrase::TEXT_TRANSLATE => replaced_one_by_one(arguments),
        phrase::TEXT_CONCATENATE => Some(joined_or_null(arguments)),
        phrase::TEXT_TRIM_LEFT_SET => trimmed(arguments, "^", from),
        phrase::TEXT_TRIM_RIGHT_SET => trimmed(arguments, "$", from),
        phrase::TEXT_TRIM_SET => {
            let set = copy_of(arguments.get(1)?);
            trimmed(vec![trimmed(arguments, "^", from)?, set], "$", from)
        }
        phrase::TEXT_JOIN => joined_with(arguments),
        phrase::TEXT_POSITION_OF_PATTERN => position_of_pattern(arguments),
        phrase::REGEX_FIRST_GROUP_OR_MATCH => first_group_or_match(arguments, from),
        phrase::REGEX_MATCHES_WHOLE => whole_match(arguments),
        phrase::REGEX_GROUP => single_group(arguments, from),
        phrase::REGEX_GROUP_OR_MATCH_NUMBER => group_or_match_number(arguments, from),
        phrase::REGEX_GROUP_OF_MATCH => group_of_match(arguments, from),
        phrase::REGEX_GROUP_OR_EMPTY => single_group_or_empty(arguments, from),
        _ => None,
    }
}

/// The strings joined by an operator that passes over NULL, where none is NULL.
fn joined_or_null(arguments: Vec<E>) -> E {
    if arguments.iter().any(is_null_literal) {
        return null();
    }
    let mut tests: Vec<E> = Vec::new();
    arguments.iter().for_each(|a| presence(a, &mut tests));
    let joined = chain(arguments);
    match all_of(tests) {
        Some(condition) => case(None, vec![(condition, joined)], None),
        None => joined,
    }
}

/// The tests that a string is not NULL. Of one that can end up empty, which is NULL where this is said, what
/// it is made of is tested.
fn presence(text: &E, tests: &mut Vec<E>) {
    let known = infer(text);
    if !known.nullable {
        return;
    }
    match &text.without_parens().kind {
        ExprKind::Call(call) if known.empty == Emptiness::Can && is_strict(call) => {
            call.arguments.iter().for_each(|a| presence(&a.value, tests));
        }
        _ => tests.push(null_test(copy_of(text), true)),
    }
}

fn is_strict(call: &Call<Meant>) -> bool {
    matches!(&call.function, Function::Phrase(id, _) if id.phrase().strict && id.phrase().kind == PhraseKind::Scalar)
}

fn chain(parts: Vec<E>) -> E {
    let join = |left, right| operation(phrase::TEXT_CONCATENATE_PASSING_NULL, left, right);
    parts.into_iter().reduce(join).unwrap_or_else(null)
}

/// The parts that are not NULL, each behind a separator, without the first one: where the separator is
/// a constant.
fn joined_with(arguments: Vec<E>) -> Option<E> {
    let mut parts = arguments.into_iter();
    let separator = parts.next()?;
    let Some(Value::Text(text)) = constant(&separator) else { return None };
    let behind = |part: E| {
        let tested = copy_of(&part);
        call(phrase::NULL_CHOSEN, vec![tested, chain(vec![copy_of(&separator), part]), null()])
    };
    let joined = chain(parts.map(behind).collect());
    Some(call(phrase::TEXT_SUBSTRING_TO_END, vec![joined, number(text.chars().count() as i64 + 1)]))
}

/// Each character that TRANSLATE replaces, once, and what by: the first time it is named counts.
fn pairs(from: &E, to: &E) -> Option<Vec<(char, String)>> {
    let (Some(Value::Text(from)), Some(Value::Text(to))) = (constant(from), constant(to)) else { return None };
    let to: Vec<char> = to.chars().collect();
    let mut pairs: Vec<(char, String)> = Vec::new();
    for (i, c) in from.chars().enumerate() {
        if !pairs.iter().any(|(known, _)| *known == c) {
            pairs.push((c, to.get(i).map(char::to_string).unwrap_or_default()));
        }
    }
    Some(pairs)
}

/// TRANSLATE whose characters are named once: BigQuery fails if one is named again.
pub(super) fn each_named_once(arguments: &mut [E]) {
    let [_, from, to] = arguments else { return };
    let Some(Value::Text(written)) = constant(from) else { return };
    let Some(pairs) = pairs(from, to).filter(|p| p.len() < written.chars().count()) else { return };
    *from = of_text(&pairs.iter().map(|(c, _)| *c).collect::<String>());
    *to = of_text(&pairs.into_iter().map(|(_, by)| by).collect::<String>());
}

/// A REPLACE for each character, where both lists are constants and no character that is put in is
/// replaced later.
fn replaced_one_by_one(arguments: Vec<E>) -> Option<E> {
    let [text, from, to] = <[E; 3]>::try_from(arguments).ok()?;
    let pairs = pairs(&from, &to)?;
    let is_replaced_again = |at: usize| pairs[at + 1..].iter().any(|(c, _)| pairs[at].1.starts_with(*c));
    if (0..pairs.len()).any(is_replaced_again) {
        return None;
    }
    Some(pairs.iter().fold(text, |text, (c, by)| call(phrase::TEXT_REPLACE, vec![text, of_text(&c.to_string()), of_text(by)])))
}

/// The text without characters of a constant set at its beginning, `^`, or its end, `$`.
fn trimmed(arguments: Vec<E>, end: &str, from: DialectName) -> Option<E> {
    let [text, set] = <[E; 2]>::try_from(arguments).ok()?;
    let Some(Value::Text(set)) = constant(&set) else { return None };
    // These mean something in the brackets of one flavour or another.
    if set.is_empty() || set.contains(['\\', '[', ']', '^', '-', '&', '~', '\n']) {
        return None;
    }
    let pattern = match end {
        "^" => format!("^[{set}]+"),
        _ if regex::flavour(from).loose_end => format!("[{set}]+\\z"),
        _ => format!("[{set}]+$"),
    };
    Some(call(phrase::REGEX_REPLACE_ALL, vec![text, of_text(&pattern), of_text("")]))
}

// --- patterns, which must be constants ------------------------------------------------------------

fn of_text(value: &str) -> E {
    Expr::synthetic(ExprKind::Literal(Constant::Text { value: value.into(), written: None }))
}

/// A place in the text itself, where the pattern of LIKE is a string between two runs; else that of a
/// regular expression.
fn position_of_pattern(arguments: Vec<E>) -> Option<E> {
    let [pattern, text] = <[E; 2]>::try_from(arguments).ok()?;
    let Some(Value::Text(written)) = constant(&pattern) else { return None };
    let inner = written.strip_prefix('%').and_then(|p| p.strip_suffix('%'));
    if let Some(plain) = inner.filter(|p| !p.is_empty() && !p.contains(['%', '_', '['])) {
        return Some(call(phrase::TEXT_POSITION, vec![text, of_text(plain)]));
    }
    let regex = super::pattern::regex_of_like(&written)?;
    Some(call(phrase::REGEX_POSITION_ANY_CASE, vec![text, of_text(&regex)]))
}

fn first_group_or_match(arguments: Vec<E>, from: DialectName) -> Option<E> {
    let [text, pattern] = <[E; 2]>::try_from(arguments).ok()?;
    let Some(Value::Text(written)) = constant(&pattern) else { return None };
    Some(match regex::groups(&written, from) {
        0 => call(phrase::REGEX_FIRST_MATCH, vec![text, pattern]),
        _ => call(phrase::REGEX_GROUP, vec![text, pattern, number(1)]),
    })
}

fn whole_match(arguments: Vec<E>) -> Option<E> {
    let [text, pattern] = <[E; 2]>::try_from(arguments).ok()?;
    let Some(Value::Text(written)) = constant(&pattern) else { return None };
    Some(call(phrase::REGEX_MATCHES, vec![text, of_text(&format!("^({written})\\z"))]))
}

/// The one group of a pattern whose others only bind.
fn single_group(arguments: Vec<E>, from: DialectName) -> Option<E> {
    let [text, pattern, group] = <[E; 3]>::try_from(arguments).ok()?;
    let (Some(Value::Text(written)), Some(Value::Integer(group))) = (constant(&pattern), constant(&group)) else { return None };
    let single = regex::only_group(&written, usize::try_from(group).ok()?, from)?;
    Some(call(phrase::REGEX_FIRST_GROUP_OR_MATCH, vec![text, of_text(&single)]))
}

/// BigQuery gives the one group of a pattern.
fn group_of_match(arguments: Vec<E>, from: DialectName) -> Option<E> {
    let [text, pattern, start, count, group] = <[E; 5]>::try_from(arguments).ok()?;
    let (Some(Value::Text(written)), Some(Value::Integer(group))) = (constant(&pattern), constant(&group)) else { return None };
    let single = regex::only_group(&written, usize::try_from(group).ok()?, from)?;
    Some(call(phrase::REGEX_GROUP_OR_MATCH_NUMBER, vec![text, of_text(&single), start, count]))
}

fn group_or_match_number(arguments: Vec<E>, from: DialectName) -> Option<E> {
    let [text, pattern, start, count] = <[E; 4]>::try_from(arguments).ok()?;
    let Some(Value::Text(written)) = constant(&pattern) else { return None };
    Some(match regex::groups(&written, from) {
        0 => call(phrase::REGEX_MATCH_NUMBER, vec![text, pattern, start, count]),
        _ => call(phrase::REGEX_GROUP_OF_MATCH, vec![text, pattern, start, count, number(1)]),
    })
}

fn single_group_or_empty(arguments: Vec<E>, from: DialectName) -> Option<E> {
    let tests: Vec<E> = arguments.iter().filter(|a| infer(a).nullable).map(|a| null_test(copy_of(a), true)).collect();
    let found = call(phrase::NULL_FIRST_NOT_NULL, vec![single_group(arguments, from)?, of_text("")]);
    Some(match all_of(tests) {
        Some(condition) => case(None, vec![(condition, found)], None),
        None => found,
    })
}

fn null() -> E {
    Expr::synthetic(ExprKind::Literal(Constant::Null))
}

/// DECODE(value, search, result .., otherwise): a search for NULL finds NULL.
fn decoded(arguments: Vec<E>) -> Option<E> {
    let mut rest = arguments.into_iter();
    let value = rest.next()?;
    let rest: Vec<E> = rest.collect();
    let otherwise = (rest.len() % 2 == 1).then(|| rest.last().cloned()).flatten();
    let pairs: Vec<(E, E)> = rest.chunks_exact(2).map(|pair| (pair[0].clone(), pair[1].clone())).collect();
    let value_known = infer(&value);
    let both_null = |search: &E| value_known.nullable && infer(search).nullable;
    if !pairs.iter().any(|(search, _)| both_null(search)) {
        return Some(case(Some(value), pairs, otherwise));
    }
    let branches = pairs.into_iter().enumerate().map(|(i, (search, result))| {
        let value = if i == 0 { value.clone() } else { copy_of(&value) };
        (found(value, search), result)
    });
    Some(case(None, branches.collect(), otherwise))
}

/// INTERVAL(number, bound ..): the number of bounds before the first that is above it.
fn number_of_bounds(arguments: Vec<E>) -> Option<E> {
    let mut bounds = arguments.into_iter();
    let value = bounds.next()?;
    let count = bounds.len();
    let below = |bound: E| operation(phrase::COMPARE_LESS, copy_of(&value), bound);
    let mut branches: Vec<(E, E)> = bounds.enumerate().map(|(i, bound)| (below(bound), number(i as i64))).collect();
    if infer(&value).nullable {
        branches.push((null_test(value, false), number(-1)));
    }
    Some(case(None, branches, Some(number(count as i64))))
}

/// WIDTH_BUCKET(value, low, high, count): which of so many equal parts it lies in, between constants; they
/// are counted downwards where the first is the greater.
fn bucket(arguments: Vec<E>) -> Option<E> {
    let is_null: Vec<E> = arguments.iter().filter(|a| infer(a).nullable).map(|a| null_test(copy_of(a), false)).collect();
    let [value, low, high, count] = <[E; 4]>::try_from(arguments).ok()?;
    let down = as_number(&low)? > as_number(&high)?;
    let (before, at_end) = match down {
        false => (phrase::COMPARE_LESS, phrase::COMPARE_GREATER_OR_EQUAL),
        true => (phrase::COMPARE_GREATER, phrase::COMPARE_LESS_OR_EQUAL),
    };
    let above_low = |a: &E| match constant(&low) {
        Some(Value::Integer(0)) => copy_of(a),
        _ => grouped(operation(phrase::NUMBER_SUBTRACT, copy_of(a), grouped(copy_of(&low)))),
    };
    let parts = grouped(operation(phrase::NUMBER_MULTIPLY, above_low(&value), copy_of(&count)));
    let share = operation(phrase::NUMBER_DIVIDE, parts, above_low(&high));
    let within = operation(phrase::NUMBER_ADD, call(phrase::NUMBER_FLOOR, vec![share]), number(1));
    let behind = operation(at_end, copy_of(&value), copy_of(&high));
    let mut branches: Vec<(E, E)> = any_of(is_null).map(|any| (any, null())).into_iter().collect();
    branches.push((operation(before, copy_of(&value), copy_of(&low)), number(0)));
    branches.push((behind, operation(phrase::NUMBER_ADD, count, number(1))));
    Some(case(None, branches, Some(within)))
}

fn grouped(expr: E) -> E {
    match expr.kind {
        ExprKind::Literal(_) | ExprKind::Column(_) | ExprKind::Call(_) => expr,
        _ => Expr::synthetic(ExprKind::Nested(Box::new(expr))),
    }
}

/// A value is what is searched, two NULLs being the same.
fn found(value: E, search: E) -> E {
    if is_null_literal(&search) {
        return null_test(value, false);
    }
    if !infer(&search).nullable {
        return operation(phrase::COMPARE_EQUAL, value, search);
    }
    let both =
        Expr::synthetic(ExprKind::Logic(LogicOperator::And, vec![null_test(copy_of(&value), false), null_test(copy_of(&search), false)]));
    Expr::synthetic(ExprKind::Logic(LogicOperator::Or, vec![operation(phrase::COMPARE_EQUAL, value, search), both]))
}

/// CHOOSE(number, a, b ..), ELT(number, a, b ..).
fn by_number(arguments: Vec<E>) -> E {
    let mut rest = arguments.into_iter();
    let operand = rest.next();
    let branches = rest.enumerate().map(|(i, value)| (number(i as i64 + 1), value)).collect();
    case(operand, branches, None)
}

/// FIELD(value, a, b ..).
fn number_of(arguments: Vec<E>) -> E {
    let mut rest = arguments.into_iter();
    let operand = rest.next();
    let branches = rest.enumerate().map(|(i, value)| (value, number(i as i64 + 1))).collect();
    case(operand, branches, Some(number(0)))
}

/// NULL if any is NULL, by a word that passes over NULL.
fn or_null(passing: &str, arguments: Vec<E>) -> E {
    let tests: Vec<E> = arguments.iter().filter(|a| infer(a).nullable).map(|a| null_test(copy_of(a), false)).collect();
    let passed = call(passing, arguments);
    match any_of(tests) {
        Some(condition) => case(None, vec![(condition, null())], Some(passed)),
        None => passed,
    }
}

/// The greatest of those that are there, by a word that gives NULL if one isn't: of two or three.
fn passing_null(or_null: &str, arguments: Vec<E>) -> Option<E> {
    let of_two = |a: E, b: E| {
        let both = call(or_null, vec![copy_of(&a), copy_of(&b)]);
        call(phrase::NULL_FIRST_NOT_NULL, vec![both, a, b])
    };
    let mut rest = arguments.into_iter();
    match (rest.next(), rest.next(), rest.next(), rest.next()) {
        (Some(a), Some(b), None, None) => Some(of_two(a, b)),
        (Some(a), Some(b), Some(c), None) => Some(of_two(of_two(a, b), c)),
        _ => None,
    }
}
