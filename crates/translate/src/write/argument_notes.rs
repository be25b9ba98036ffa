//! What the arguments of a phrase tell of its result between two dialects, which no edge of the phrase says.

use meaning::{Constant, Meant, Note, Phrase, infer, phrase};
use syntax::DialectName;
use syntax::tree::{Expr, ExprKind, Span};
use values::{DataType, Value};

use super::{Writer, regex};

type M = Expr<Meant>;

impl Writer<'_> {
    pub(super) fn note_arguments(&mut self, phrase: &Phrase, arguments: &[&M], span: Span) {
        self.note_wide_remainder(phrase, arguments, span);
        if phrase.area() == "regex" {
            self.refuse_missing_group(phrase, arguments, span);
        }
        if let (phrase::CAST_DECIMAL_TO_TEXT | phrase::CAST_NUMBER_TO_TEXT, Some(number)) = (phrase.id, arguments.first()) {
            self.note_places_as_text(number, span);
        }
        self.note_wide_numbers(phrase, arguments, span);
    }

    /// Seen on DuckDB 1.5: the remainder and the whole quotient of decimals are worked out with binary
    /// floating-point numbers.
    fn note_wide_remainder(&mut self, phrase: &Phrase, arguments: &[&M], span: Span) {
        let cuts = matches!(phrase.id, phrase::NUMBER_REMAINDER | phrase::NUMBER_REMAINDER_DECIMALS | phrase::NUMBER_DIVIDE_CUT);
        let is_wide = |e: &&M| matches!(infer(e).data_type, DataType::Decimal(None | Some((16.., _))));
        if cuts && self.to.name == DialectName::Duckdb && arguments.iter().any(is_wide) {
            let message = "DuckDB works this out with floating-point numbers of some 15 digits";
            self.note(Note::new("number.fifteen-digits", span, message).advise("make sure that the numbers have no more digits"));
        }
    }

    /// MySQL rounds it first, others write its text. Asked before numbers become strings.
    pub(super) fn refuse_fraction_in_hexadecimal(&mut self, phrase: &Phrase, arguments: &[M], span: Span) {
        let is_wide = |e: &M| matches!(infer(e).data_type, DataType::Decimal(None | Some((_, 1..) | (20.., _))) | DataType::Float(_));
        if phrase.id == phrase::TEXT_TO_HEXADECIMAL && arguments.iter().any(is_wide) {
            self.refuse(span, "a number that is no whole number of 64 bits, in hexadecimal digits,");
        }
    }

    /// A group that a pattern lacks is NULL in some engines, '' or an error in others.
    fn refuse_missing_group(&mut self, phrase: &Phrase, arguments: &[&M], span: Span) {
        let constant = |name: &str| phrase.argument(name).and_then(|at| arguments.get(at)).and_then(|e| meaning::constant(e));
        let (Some(Value::Text(pattern)), Some(Value::Integer(group))) = (constant("pattern"), constant("group")) else { return };
        let count = regex::groups(&pattern, self.from.name);
        if usize::try_from(group).is_ok_and(|group| group > count) {
            self.refuse(span, &format!("group {group} of a pattern that has {count}"));
        }
    }

    /// A power with an exponent beyond a few hundred magnifies the last digits of what it is worked out from:
    /// PostgreSQL's NUMERIC has as many as it needs, floating-point numbers have 15. So has a literal that is
    /// wider than 15 digits.
    pub(super) fn note_wide_numbers(&mut self, phrase: &Phrase, arguments: &[&M], span: Span) {
        let is_great = |e: &&M| matches!(meaning::constant(e), Some(Value::Integer(n)) if n.unsigned_abs() > 300);
        let is_wide = |e: &&M| matches!(&e.without_parens().kind, ExprKind::Literal(Constant::Number(digits)) if digits.len() > 16);
        let great_power = phrase.id == phrase::NUMBER_POWER && arguments.get(1).is_some_and(is_great);
        let divides =
            matches!(phrase.id, phrase::NUMBER_DIVIDE | phrase::NUMBER_DIVIDE_DECIMALS | phrase::NUMBER_DIVIDE_CUT | phrase::NUMBER_POWER);
        if great_power || (divides && arguments.iter().any(is_wide)) {
            let (source, target) = (self.from.name.title(), self.to.name.title());
            let message = format!("{source} and {target} work this out to different numbers of digits");
            self.note(Note::new("number.fifteen-digits", span, message).advise("round the result to the digits that count"));
        }
    }
}
