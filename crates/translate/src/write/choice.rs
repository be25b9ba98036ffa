//! Words that choose among their arguments, as CASE where the target has no such word.

use meaning::{Constant, Emptiness, Function, Meant, PhraseKind, constant, infer};
use syntax::DialectName;
use syntax::tree::{Call, Expr, ExprKind, LogicOperator};
use values::Value;

use super::regex;
use crate::rewrite::{all_of, any_of, as_number, call, case, copy_of, is_null_literal, null_test, number, operation};

type E = Expr<Meant>;

/// The CASE that says a phrase of these arguments; `None` where there is none for so many of them.
pub(super) fn as_case(phrase: &str, arguments: Vec<E>, from: DialectName) -> Option<E> {
    match phrase {
        "null.decode" => decoded(arguments),
        "choice.by-number" | "choice.by-number-or-error" => Some(by_number(arguments)),
        "choice.number-of" => Some(number_of(arguments)),
        "choice.number-of-bounds" => number_of_bounds(arguments),
        "number.bucket" => bucket(arguments),
        "greatest.or-null" => Some(or_null("greatest.passing-null", arguments)),
        "least.or-null" => Some(or_null("least.passing-null", arguments)),
        "greatest.passing-null" => passing_null("greatest.or-null", arguments),
        "least.passing-null" => passing_null("least.or-null", arguments),
        "text.translate" => replaced_one_by_one(arguments),
        "text.concatenate" => Some(joined_or_null(arguments)),
        "text.trim-left-set" => trimmed(arguments, "^", from),
        "text.trim-right-set" => trimmed(arguments, "$", from),
        "text.trim-set" => {
            let set = copy_of(arguments.get(1)?);
            trimmed(vec![trimmed(arguments, "^", from)?, set], "$", from)
        }
        "text.join" => joined_with(arguments),
        "text.position-of-pattern" => position_of_pattern(arguments),
        "regex.first-group-or-match" => first_group_or_match(arguments, from),
        "regex.matches-whole" => whole_match(arguments),
        "regex.group" => single_group(arguments, from),
        "regex.group-or-match-number" => group_or_match_number(arguments, from),
        "regex.group-of-match" => group_of_match(arguments, from),
        "regex.group-or-empty" => single_group_or_empty(arguments, from),
        _ => None,
    }
}

/// The texts joined by an operator that passes over NULL, where none is NULL.
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

/// The tests that a text is not NULL. Of one that can end up empty, which is NULL where this is said, what
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
    let join = |left, right| operation("text.concatenate-passing-null", left, right);
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
        call("null.chosen", vec![tested, chain(vec![copy_of(&separator), part]), null()])
    };
    let joined = chain(parts.map(behind).collect());
    Some(call("text.substring-to-end", vec![joined, number(text.chars().count() as i64 + 1)]))
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
    Some(pairs.iter().fold(text, |text, (c, by)| call("text.replace", vec![text, of_text(&c.to_string()), of_text(by)])))
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
    Some(call("regex.replace-all", vec![text, of_text(&pattern), of_text("")]))
}

// --- patterns, which must be constants ------------------------------------------------------------

fn of_text(value: &str) -> E {
    Expr::made(ExprKind::Literal(Constant::Text { value: value.into(), written: None }))
}

/// A place in the text itself, where the pattern of LIKE is a text between two runs; else that of a
/// regular expression.
fn position_of_pattern(arguments: Vec<E>) -> Option<E> {
    let [pattern, text] = <[E; 2]>::try_from(arguments).ok()?;
    let Some(Value::Text(written)) = constant(&pattern) else { return None };
    let inner = written.strip_prefix('%').and_then(|p| p.strip_suffix('%'));
    if let Some(plain) = inner.filter(|p| !p.is_empty() && !p.contains(['%', '_', '['])) {
        return Some(call("text.position", vec![text, of_text(plain)]));
    }
    let regex = super::pattern::regex_of_like(&written)?;
    Some(call("regex.position-any-case", vec![text, of_text(&regex)]))
}

fn first_group_or_match(arguments: Vec<E>, from: DialectName) -> Option<E> {
    let [text, pattern] = <[E; 2]>::try_from(arguments).ok()?;
    let Some(Value::Text(written)) = constant(&pattern) else { return None };
    Some(match regex::groups(&written, from) {
        0 => call("regex.first-match", vec![text, pattern]),
        _ => call("regex.group", vec![text, pattern, number(1)]),
    })
}

fn whole_match(arguments: Vec<E>) -> Option<E> {
    let [text, pattern] = <[E; 2]>::try_from(arguments).ok()?;
    let Some(Value::Text(written)) = constant(&pattern) else { return None };
    Some(call("regex.matches", vec![text, of_text(&format!("^({written})\\z"))]))
}

/// The one group of a pattern whose others only bind.
fn single_group(arguments: Vec<E>, from: DialectName) -> Option<E> {
    let [text, pattern, group] = <[E; 3]>::try_from(arguments).ok()?;
    let (Some(Value::Text(written)), Some(Value::Integer(group))) = (constant(&pattern), constant(&group)) else { return None };
    let single = regex::only_group(&written, usize::try_from(group).ok()?, from)?;
    Some(call("regex.first-group-or-match", vec![text, of_text(&single)]))
}

/// BigQuery gives the one group of a pattern.
fn group_of_match(arguments: Vec<E>, from: DialectName) -> Option<E> {
    let [text, pattern, start, count, group] = <[E; 5]>::try_from(arguments).ok()?;
    let (Some(Value::Text(written)), Some(Value::Integer(group))) = (constant(&pattern), constant(&group)) else { return None };
    let single = regex::only_group(&written, usize::try_from(group).ok()?, from)?;
    Some(call("regex.group-or-match-number", vec![text, of_text(&single), start, count]))
}

fn group_or_match_number(arguments: Vec<E>, from: DialectName) -> Option<E> {
    let [text, pattern, start, count] = <[E; 4]>::try_from(arguments).ok()?;
    let Some(Value::Text(written)) = constant(&pattern) else { return None };
    Some(match regex::groups(&written, from) {
        0 => call("regex.match-number", vec![text, pattern, start, count]),
        _ => call("regex.group-of-match", vec![text, pattern, start, count, number(1)]),
    })
}

fn single_group_or_empty(arguments: Vec<E>, from: DialectName) -> Option<E> {
    let tests: Vec<E> = arguments.iter().filter(|a| infer(a).nullable).map(|a| null_test(copy_of(a), true)).collect();
    let found = call("null.first-not-null", vec![single_group(arguments, from)?, of_text("")]);
    Some(match all_of(tests) {
        Some(condition) => case(None, vec![(condition, found)], None),
        None => found,
    })
}

fn null() -> E {
    Expr::made(ExprKind::Literal(Constant::Null))
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
    let below = |bound: E| operation("compare.less", copy_of(&value), bound);
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
        false => ("compare.less", "compare.greater-or-equal"),
        true => ("compare.greater", "compare.less-or-equal"),
    };
    let above_low = |a: &E| match constant(&low) {
        Some(Value::Integer(0)) => copy_of(a),
        _ => grouped(operation("number.subtract", copy_of(a), grouped(copy_of(&low)))),
    };
    let parts = grouped(operation("number.multiply", above_low(&value), copy_of(&count)));
    let share = operation("number.divide", parts, above_low(&high));
    let within = operation("number.add", call("number.floor", vec![share]), number(1));
    let behind = operation(at_end, copy_of(&value), copy_of(&high));
    let mut branches: Vec<(E, E)> = any_of(is_null).map(|any| (any, null())).into_iter().collect();
    branches.push((operation(before, copy_of(&value), copy_of(&low)), number(0)));
    branches.push((behind, operation("number.add", count, number(1))));
    Some(case(None, branches, Some(within)))
}

fn grouped(expr: E) -> E {
    match expr.kind {
        ExprKind::Literal(_) | ExprKind::Column(_) | ExprKind::Call(_) => expr,
        _ => Expr::made(ExprKind::Nested(Box::new(expr))),
    }
}

/// A value is what is searched, two NULLs being the same.
fn found(value: E, search: E) -> E {
    if is_null_literal(&search) {
        return null_test(value, false);
    }
    if !infer(&search).nullable {
        return operation("compare.equal", value, search);
    }
    let both = Expr::made(ExprKind::Logic(LogicOperator::And, vec![null_test(copy_of(&value), false), null_test(copy_of(&search), false)]));
    Expr::made(ExprKind::Logic(LogicOperator::Or, vec![operation("compare.equal", value, search), both]))
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
        call("null.first-not-null", vec![both, a, b])
    };
    let mut rest = arguments.into_iter();
    match (rest.next(), rest.next(), rest.next(), rest.next()) {
        (Some(a), Some(b), None, None) => Some(of_two(a, b)),
        (Some(a), Some(b), Some(c), None) => Some(of_two(of_two(a, b), c)),
        _ => None,
    }
}
