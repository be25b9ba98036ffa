//! Numbers with a fraction, where one engine keeps it and the other loses it unasked.

use meaning::{Constant, Function, Meant, Note, PhraseId, Sign, phrase, phrase_named};
use syntax::tree::{Expr, ExprKind, Span};
use values::DataType;

use super::Writer;

impl Writer<'_> {
    /// The phrase of an operation on these operands: what it does to a fraction can hang on their types.
    pub(super) fn by_types(&self, id: PhraseId, operands: &[&Expr<Meant>]) -> PhraseId {
        // Almost every operation is none of these: its operands' types needn't be worked out.
        if !id.phrase().id.starts_with("number.") {
            return id;
        }
        let fraction = operands.iter().any(|e| has_fraction(&Self::known(e).data_type));
        // Where a decimal column holds 41.00 as the integer 41, only a literal shows that it is none.
        let hidden = self.facts.whole_decimals_are_integers && !operands.iter().any(|e| shows_fraction(e));
        match id.phrase().id {
            phrase::NUMBER_DIVIDE | phrase::NUMBER_DIVIDE_DECIMALS if hidden => phrase_named(phrase::NUMBER_DIVIDE),
            phrase::NUMBER_DIVIDE_WHOLE if fraction => phrase_named(phrase::NUMBER_DIVIDE_CUT),
            phrase::NUMBER_DIVIDE if fraction => phrase_named(phrase::NUMBER_DIVIDE_DECIMALS),
            phrase::NUMBER_REMAINDER if fraction => phrase_named(phrase::NUMBER_REMAINDER_DECIMALS),
            _ => id,
        }
    }

    /// Notes a quotient that is worked with where one side rounds it and the other doesn't.
    pub(super) fn note_quotient(&mut self, operands: &[&Expr<Meant>], span: Span) {
        if self.source_facts.rounds_quotients == self.facts.rounds_quotients || !operands.iter().any(|e| is_exact_quotient(e)) {
            return;
        }
        let (rounding, other) = if self.facts.rounds_quotients { (self.to, self.from) } else { (self.from, self.to) };
        let message = format!(
            "{} {} rounds the quotient to four digits more than its dividend has before it goes on, {} keeps more of it",
            rounding.name.title(),
            rounding.version.major,
            other.name.title()
        );
        let advice = if self.facts.rounds_quotients {
            "give the dividend the digits that count: CAST(a AS DECIMAL(30, 10)) / b; MySQL before 9 keeps nine: --to mysql@8.4"
        } else {
            "round it where such digits count: ROUND(a / b, 4); MySQL before 9 keeps nine: --from mysql@8.4"
        };
        self.note(Note::new("number.quotient-digits", span, message).advise(advice));
    }
}

/// A number whose places each engine chooses.
pub(super) fn is_quotient_or_average(expr: &Expr<Meant>) -> bool {
    let is_average = |f: &Function| matches!(f, Function::Phrase(id, _) if id.phrase().id == phrase::AGGREGATE_AVERAGE);
    is_exact_quotient(expr) || matches!(&expr.without_parens().kind, ExprKind::Call(call) if is_average(&call.function))
}

/// A quotient that isn't of binary floating-point numbers, as far as is known.
fn is_exact_quotient(expr: &Expr<Meant>) -> bool {
    let ExprKind::Binary(binary) = &expr.without_parens().kind else { return false };
    let divides =
        matches!(binary.operator, Sign::Phrase(id, _) if matches!(id.phrase().id, phrase::NUMBER_DIVIDE | phrase::NUMBER_DIVIDE_DECIMALS));
    let is_float = |e: &Expr<Meant>| matches!(Writer::known(e).data_type, DataType::Float(_));
    divides && !is_float(&binary.left) && !is_float(&binary.right)
}

pub(super) fn has_fraction(data_type: &DataType) -> bool {
    match data_type {
        DataType::Decimal(Some((_, scale))) => *scale != 0,
        DataType::Decimal(None) | DataType::Float(_) => true,
        _ => false,
    }
}

/// A literal with a point, or a binary floating-point value: never an integer, whatever its value.
fn shows_fraction(expr: &Expr<Meant>) -> bool {
    match &expr.without_parens().kind {
        ExprKind::Literal(Constant::Number(text)) => text.contains('.'),
        _ => matches!(Writer::known(expr).data_type, DataType::Float(_)),
    }
}
