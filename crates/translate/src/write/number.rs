//! Numbers with a fraction, where one engine keeps it and the other loses it unasked; and casts.

use meaning::{Constant, Meant, Note, PhraseId, phrase_named};
use syntax::tree::{Argument, Call, CallForm, Cast, CastForm, Expr, ExprKind, Ident, Literal, ObjectName, Span, Spelled};
use values::DataType;

use super::Writer;

/// What is done to a number before it is cast.
#[derive(Clone, Copy)]
pub(super) enum Before {
    /// Rounded to so many places, half away from zero.
    Round(i16),
    /// The fraction is cut off.
    Cut,
}

impl Writer<'_> {
    /// The phrase of an operation on these operands: what it does to a fraction can hang on their types.
    pub(super) fn by_types(&self, id: PhraseId, operands: &[&Expr<Meant>]) -> PhraseId {
        let fraction = operands.iter().any(|e| has_fraction(&Self::known(e).data_type));
        // Where a decimal column holds 41.00 as the integer 41, only a literal shows that it is none.
        let hidden = self.facts.whole_decimals_are_integers && !operands.iter().any(|e| shows_fraction(e));
        match id.phrase().id {
            "number.divide" | "number.divide-decimals" if hidden => phrase_named("number.divide"),
            "number.divide-whole" if fraction => phrase_named("number.divide-cut"),
            "number.divide" if fraction => phrase_named("number.divide-decimals"),
            "number.remainder" if fraction => phrase_named("number.remainder-decimals"),
            _ => id,
        }
    }

    /// What must be done to the operand of a cast so that the target does with its fraction what the
    /// source does.
    pub(super) fn before_cast(&mut self, cast: &Cast<Meant>, span: Span) -> Option<Before> {
        let whole = matches!(cast.to.data_type, DataType::Integer(_));
        let before = match cast.to.data_type {
            DataType::Integer(_) if self.facts.cast_cuts_fraction && !self.source_facts.cast_cuts_fraction => Before::Round(0),
            DataType::Integer(_) if !self.facts.cast_cuts_fraction && self.source_facts.cast_cuts_fraction => Before::Cut,
            DataType::Decimal(Some((_, scale))) if self.facts.cast_ignores_scale && !self.source_facts.cast_ignores_scale => {
                Before::Round(scale)
            }
            _ => return None,
        };
        let operand = Self::known(&cast.operand).data_type;
        if has_fraction(&operand) {
            return Some(before);
        }
        if operand == DataType::Unknown && whole {
            let (source, target) = (self.from.name.title(), self.to.name.title());
            let (a, b) = if self.facts.cast_cuts_fraction { ("rounds", "cuts it off") } else { ("cuts off", "rounds it") };
            let message = format!("{source} {a} a fraction in this cast, {target} {b}");
            self.note(
                Note::new("number.cast-fraction", span, message)
                    .advise("make sure that the value has no fraction, or give the schema with --schema"),
            );
        }
        None
    }

    /// A form of cast that the target has; the function forms have their words in no other place.
    pub(super) fn cast_form(&self, form: CastForm) -> CastForm {
        match form {
            CastForm::DoubleColon if !self.facts.double_colon => CastForm::Cast,
            CastForm::Convert | CastForm::ConvertTo => CastForm::Cast,
            other => other,
        }
    }

    /// The operand with that done to it, in the target's words.
    pub(super) fn done_before(&self, before: Before, operand: Expr<Spelled>) -> Expr<Spelled> {
        let (name, places) = match before {
            Before::Round(places) => ("ROUND", Some(places).filter(|p| *p > 0 || self.facts.round_needs_places)),
            Before::Cut if self.facts.truncate_word == "TRUNCATE" => ("TRUNCATE", Some(0)),
            Before::Cut => (self.facts.truncate_word, None),
        };
        let places = places.map(|p| Expr::made(ExprKind::Literal(Literal::Number(p.to_string().into()))));
        let arguments = std::iter::once(operand).chain(places).map(|value| Argument { name: None, value }).collect();
        Expr::made(ExprKind::Call(Box::new(Call {
            function: ObjectName::single(Ident::made(name)),
            form: CallForm::Plain,
            quantifier: None,
            arguments,
            tail: None,
        })))
    }
}

fn has_fraction(data_type: &DataType) -> bool {
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
