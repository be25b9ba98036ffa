//! Characters of a string by `text[i]` and `text[a:b]`, and all but some by LEFT and RIGHT.
//! Source: DuckDB, Text Functions, String slicing; edges seen on DuckDB 1.5.

use meaning::{Constant, Meant, Note, constant, infer, phrase};
use syntax::tree::{Call, Expr, ExprKind, Literal, Operator, Spelled, StageMap, Subscript};
use syntax::{DialectName, Symbol};
use values::{DataType, Value};

use super::Reader;
use crate::shape::{call, case, copy_of, number, operation};

type E = Expr<Meant>;

impl Reader<'_> {
    /// A part of a string by constant places, as the function that gives it; anything else as it is.
    pub(super) fn slice(&mut self, subscript: Subscript<Spelled>) -> ExprKind<Meant> {
        let operand = self.expr(subscript.operand);
        let low = subscript.low.map(|e| self.expr(e));
        let slice = subscript.slice.map(|(high, step)| (high.map(|e| self.expr(e)), step.map(|e| self.expr(e))));
        let of_what = infer(&operand).data_type;
        let can_be_text = of_what.is_text() || of_what == DataType::Unknown;
        match part(low.as_ref(), slice.as_ref()).filter(|_| can_be_text) {
            Some(part) => {
                if of_what == DataType::Unknown {
                    let note = Note::new("name.untyped", operand.span, "this is taken for a string, not for a list: its type is not known");
                    self.note(note.advise("give the schema with --schema, or say it: --assume 'table.column: text'"));
                }
                part.of(operand).kind
            }
            None => ExprKind::Subscript(Box::new(Subscript { operand, low, slice })),
        }
    }
}

impl Reader<'_> {
    /// LEFT(text, -2) and RIGHT(text, -2) of PostgreSQL and DuckDB, all but so many characters, for dialects that
    /// don't count so; `None` for other calls.
    pub(super) fn all_but(&mut self, call: &Call<Spelled>) -> Option<ExprKind<Meant>> {
        let counts_back = |dialect| matches!(dialect, DialectName::Postgres | DialectName::Duckdb);
        if !counts_back(self.from.name) || counts_back(self.to) || call.tail.is_some() {
            return None;
        }
        let name = call.function.as_single().filter(|n| n.is_word("left") || n.is_word("right"))?;
        let [text, count] = call.arguments.as_slice() else { return None };
        let ExprKind::Unary(sign) = &count.value.kind else { return None };
        let ExprKind::Literal(Literal::Number(digits)) = &sign.operand.kind else { return None };
        let without = digits.parse::<i64>().ok().filter(|n| *n > 0 && sign.operator == Operator::Symbol(Symbol::Minus))?;
        let text = self.expr(text.value.clone());
        let part = if name.is_word("left") { Part::Within(1, without) } else { Part::From(without + 1) };
        Some(part.of(text).kind)
    }
}

/// What `low` or a slice asks for; `None` where a place is no constant or there is a step.
fn part(low: Option<&E>, slice: Option<&(Option<E>, Option<E>)>) -> Option<Part> {
    let place = |e: &E| match constant(e) {
        Some(Value::Integer(place)) => Some(place),
        _ => None,
    };
    // None is written, or one is and must be known.
    let end = |e: Option<&E>| e.map_or(Ok(None), |e| place(e).map(Some).ok_or(()));
    match slice {
        None => place(low?).map(character),
        Some((high, None)) => run(end(low).ok()?, end(high.as_ref()).ok()?),
        Some(_) => None,
    }
}

/// A run of characters.
enum Part {
    All,
    /// From a place on.
    From(i64),
    /// The last so many.
    Last(i64),
    /// So many from a place, which is counted from the end if it is below 0.
    Some(i64, i64),
    /// From a place on, without the last so many.
    Within(i64, i64),
}

impl Part {
    fn of(self, text: E) -> E {
        match self {
            Part::All => text,
            Part::From(start) => call(phrase::TEXT_SUBSTRING_TO_END, vec![text, number(start)]),
            Part::Last(count) => call(phrase::TEXT_RIGHT, vec![text, number(count)]),
            Part::Within(start, without) => {
                let length = || call(phrase::TEXT_LENGTH_IN_CHARACTERS, vec![copy_of(&text)]);
                let left = operation(phrase::NUMBER_SUBTRACT, length(), number(start - 1 + without));
                let too_short = operation(phrase::COMPARE_LESS, length(), number(start + without));
                let empty = Expr::synthetic(ExprKind::Literal(Constant::Text { value: "".into(), written: None }));
                let inner = call(phrase::TEXT_SUBSTRING, vec![copy_of(&text), number(start), left]);
                case(None, vec![(too_short, empty)], Some(inner))
            }
            Part::Some(start, count) => call(phrase::TEXT_SUBSTRING, vec![text, number(start), number(count)]),
        }
    }
}

fn character(at: i64) -> Part {
    match at {
        0 => Part::Some(1, 0),
        -1 => Part::Last(1),
        at => Part::Some(at, 1),
    }
}

/// What lies from `low` to `high`; `None` where the length of the text decides.
fn run(low: Option<i64>, high: Option<i64>) -> Option<Part> {
    // A start of 0 is the first character.
    let low = low.map(|low| if low == 0 { 1 } else { low });
    Some(match (low, high) {
        (None | Some(1), None | Some(-1)) => Part::All,
        (Some(low), None | Some(-1)) if low > 0 => Part::From(low),
        (Some(low), None | Some(-1)) => Part::Last(-low),
        (_, Some(0)) => Part::Some(1, 0),
        (low, Some(high)) if low.unwrap_or(1) > 0 && high < -1 => Part::Within(low.unwrap_or(1), -1 - high),
        (low, Some(high)) if low.unwrap_or(1) > 0 && high > 0 => {
            let low = low.unwrap_or(1);
            if high < low { Part::Some(1, 0) } else { Part::Some(low, high - low + 1) }
        }
        _ => return None,
    })
}
