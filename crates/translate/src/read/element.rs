//! Elements of arrays made on the spot: SPLIT(..)[OFFSET(0)], (STRING_TO_ARRAY(..))[1].
//! Sources: BigQuery, Array subscript operator, SPLIT; Spark, split; PostgreSQL, string_to_array,
//! regexp_match; DuckDB, Text Functions, Regular Expressions.

use meaning::{Meant, Note, constant, phrase};
use syntax::DialectName::{self, Bigquery, Duckdb, Postgres, Spark};
use syntax::decode_text;
use syntax::tree::{Call, CallForm, Expr, ExprKind, Literal, Quote, Spelled, StageMap, Subscript};
use values::Value;

use super::Reader;
use crate::shape::{call, number, operation};
use crate::write::groups_of_regex;

type E = Expr<Meant>;

/// What an array holds.
#[derive(Debug, Clone, Copy, PartialEq)]
enum Elements {
    /// The parts of a string, by a separator.
    Parts,
    /// The same by a regular expression.
    PartsByRegex,
    /// The groups of the first match.
    Groups,
    /// All matches.
    Matches,
}

/// The functions that make such arrays, their dialect, and how many arguments they have here.
const MAKERS: &[(&str, DialectName, usize, Elements)] = &[
    ("SPLIT", Bigquery, 2, Elements::Parts),
    ("STRING_TO_ARRAY", Postgres, 2, Elements::Parts),
    ("STRING_TO_ARRAY", Duckdb, 2, Elements::Parts),
    ("STRING_SPLIT", Duckdb, 2, Elements::Parts),
    ("STR_SPLIT", Duckdb, 2, Elements::Parts),
    ("SPLIT", Duckdb, 2, Elements::Parts),
    ("SPLIT", Spark, 2, Elements::PartsByRegex),
    ("REGEXP_MATCH", Postgres, 2, Elements::Groups),
    ("REGEXP_EXTRACT_ALL", Duckdb, 2, Elements::Matches),
    ("REGEXP_EXTRACT_ALL", Bigquery, 2, Elements::Matches),
];

impl Reader<'_> {
    /// The function that gives the element itself, in other dialects than its own; `None` for other
    /// arrays and for slices.
    pub(super) fn element(&mut self, subscript: &Subscript<Spelled>) -> Option<E> {
        let maker = called(&subscript.operand)?;
        let name = maker.function.as_single()?;
        let of_maker = |(word, dialect, count, _): &&(&str, DialectName, usize, Elements)| {
            *dialect == self.from.name && name.is_word(word) && maker.arguments.len() == *count
        };
        let (.., elements) = *MAKERS.iter().find(of_maker)?;
        let (place, from_zero, fails) = self.place(subscript)?;
        let [text, by] = maker.arguments.as_slice() else { return None };
        let groups = self.groups(&by.value);
        if elements == Elements::Groups && groups.is_none() {
            return None;
        }
        let separator = if elements == Elements::PartsByRegex { Some(self.plain_separator(&by.value)?) } else { None };
        let place = self.expr(place.clone());
        let place = match constant(&place) {
            Some(Value::Integer(n)) if n + i64::from(from_zero) >= 1 => number(n + i64::from(from_zero)),
            Some(_) => return None,
            None if from_zero => operation(phrase::NUMBER_ADD, place, number(1)),
            None => place,
        };
        let text = self.expr(text.value.clone());
        let by = separator.unwrap_or_else(|| by.value.clone());
        let by = self.expr(by);
        // A string has a first part, always.
        let is_there = elements != Elements::Matches && matches!(constant(&place), Some(Value::Integer(1)));
        if fails && !is_there {
            let message = format!("{} fails where there is no element of this number; here it is NULL", self.from.name.title());
            self.note(Note::new("array.no-element", subscript.operand.span, message).advise("make sure that each text has so many parts"));
        }
        Some(match elements {
            Elements::Parts | Elements::PartsByRegex => call(phrase::TEXT_PART_OR_NULL, vec![text, by, place]),
            Elements::Groups if groups == Some(0) => call(phrase::REGEX_FIRST_MATCH, vec![text, by]),
            Elements::Groups => call(phrase::REGEX_GROUP, vec![text, by, place]),
            Elements::Matches if self.from.name == Bigquery => call(phrase::REGEX_GROUP_OR_MATCH_NUMBER, vec![text, by, number(1), place]),
            Elements::Matches => call(phrase::REGEX_MATCH_NUMBER, vec![text, by, number(1), place]),
        })
    }

    /// Where the element is, whether the first one is at 0, and whether it is an error if there is none.
    fn place<'s>(&self, subscript: &'s Subscript<Spelled>) -> Option<(&'s Expr<Spelled>, bool, bool)> {
        if subscript.slice.is_some() {
            return None;
        }
        let low = subscript.low.as_ref()?;
        if self.from.name != Bigquery {
            return Some((low, self.from.name == Spark, self.from.name == Spark));
        }
        let Some(word) = called(low) else { return Some((low, true, true)) };
        let name = word.function.as_single()?;
        let [place] = word.arguments.as_slice() else { return None };
        let is = |plain: &str, safe: &str| name.is_word(plain) || name.is_word(safe);
        let from_zero = match (is("OFFSET", "SAFE_OFFSET"), is("ORDINAL", "SAFE_ORDINAL")) {
            (true, _) => true,
            (_, true) => false,
            _ => return None,
        };
        Some((&place.value, from_zero, name.is_word("OFFSET") || name.is_word("ORDINAL")))
    }

    /// The text that a regular expression fits and nothing else, where it is written out.
    fn plain_separator(&self, pattern: &Expr<Spelled>) -> Option<Expr<Spelled>> {
        let ExprKind::Literal(Literal::Text(written)) = &pattern.without_parens().kind else { return None };
        let pattern = decode_text(written, &self.spelling);
        let mut plain = String::new();
        let mut chars = pattern.chars();
        while let Some(c) = chars.next() {
            match c {
                '\\' => plain.push(chars.next().filter(|c| !c.is_alphanumeric())?),
                '.' | '|' | '*' | '+' | '?' | '(' | ')' | '[' | ']' | '{' | '}' | '^' | '$' => return None,
                c => plain.push(c),
            }
        }
        Some(Expr::synthetic(ExprKind::Literal(Literal::Text(syntax::write_text(&plain, &self.spelling).into()))))
    }

    /// How many groups a pattern counts that is written out.
    fn groups(&self, pattern: &Expr<Spelled>) -> Option<usize> {
        let ExprKind::Literal(Literal::Text(written)) = &pattern.without_parens().kind else { return None };
        Some(groups_of_regex(&decode_text(written, &self.spelling), self.from.name))
    }
}

/// The plain call that an expression is.
fn called(expr: &Expr<Spelled>) -> Option<&Call<Spelled>> {
    match &expr.without_parens().kind {
        ExprKind::Call(call) if call.form == CallForm::Plain && call.tail.is_none() => {
            let unquoted = call.function.as_single().is_some_and(|n| n.quote == Quote::None);
            unquoted.then_some(call)
        }
        _ => None,
    }
}
