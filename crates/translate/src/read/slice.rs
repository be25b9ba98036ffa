//! Characters of a text by `text[i]` and `text[a:b]`.
//! Source: DuckDB, Text Functions, String slicing; edges seen on DuckDB 1.5.

use meaning::{Constant, Meant, Note, constant, infer};
use syntax::tree::{Expr, ExprKind, Spelled, StageMap, Subscript};
use values::{DataType, Value};

use super::Reader;
use crate::rewrite::{call, case, copy_of, number, operation};

type E = Expr<Meant>;

impl Reader<'_> {
    /// A part of a text by constant places, as the function that gives it; anything else as it is.
    pub(super) fn slice(&mut self, subscript: Subscript<Spelled>) -> ExprKind<Meant> {
        let operand = self.expr(subscript.operand);
        let low = subscript.low.map(|e| self.expr(e));
        let slice = subscript.slice.map(|(high, step)| (high.map(|e| self.expr(e)), step.map(|e| self.expr(e))));
        let of_what = infer(&operand).data_type;
        let can_be_text = of_what.is_text() || of_what == DataType::Unknown;
        match part(low.as_ref(), slice.as_ref()).filter(|_| can_be_text) {
            Some(part) => {
                if of_what == DataType::Unknown {
                    let note = Note::new("name.untyped", operand.span, "this is taken for a text, not for a list: its type is not known");
                    self.note(note.advise("give the schema with --schema, or say it: --assume 'table.column: text'"));
                }
                part.of(operand).kind
            }
            None => ExprKind::Subscript(Box::new(Subscript { operand, low, slice })),
        }
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
            Part::From(start) => call("text.substring-to-end", vec![text, number(start)]),
            Part::Last(count) => call("text.right", vec![text, number(count)]),
            Part::Within(start, without) => {
                let length = || call("text.length-in-characters", vec![copy_of(&text)]);
                let left = operation("number.subtract", length(), number(start - 1 + without));
                let too_short = operation("compare.less", length(), number(start + without));
                let empty = Expr::made(ExprKind::Literal(Constant::Text { value: "".into(), written: None }));
                let inner = call("text.substring", vec![copy_of(&text), number(start), left]);
                case(None, vec![(too_short, empty)], Some(inner))
            }
            Part::Some(start, count) => call("text.substring", vec![text, number(start), number(count)]),
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
