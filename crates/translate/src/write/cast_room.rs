//! What has no room in the type of a cast: digits, places, signs.

use compact_str::CompactString;
use meaning::{Breach, Constant, Meant, Note, Order, ValueClass, write_type};
use syntax::DialectName;
use syntax::tree::{Cast, ExprKind, Span};
use values::{DataType, Decimal};

use super::Writer;

impl Writer<'_> {
    /// A number with more digits than the decimal type of a cast has room for.
    pub(super) fn note_overflow(&mut self, cast: &Cast<Meant>, span: Span) {
        let DataType::Decimal(Some((precision, scale))) = cast.to.data_type else { return };
        let whole_digits = i32::from(precision) - i32::from(scale);
        let most = match Self::known(&cast.operand).data_type {
            DataType::Integer(bits) => digits_of(bits),
            DataType::Decimal(Some((p, s))) => f64::from(i32::from(p) - i32::from(s)),
            DataType::Decimal(None) | DataType::Float(_) => f64::INFINITY,
            _ => return,
        };
        if !self.source_facts.cast_clamps || self.facts.cast_clamps || f64::from(whole_digits) >= most.floor() || whole_digits > 17 {
            return;
        }
        let limit = greatest(u32::try_from(whole_digits).unwrap_or(0));
        let (source, target) = (self.from.name.title(), self.to.name.title());
        let message = format!("a number above {limit} has no room in this type: {source} gives the greatest that has, {target} does not");
        self.note(
            Note::new("cast.overflow", span, message)
                .advise("make sure that every value fits, or cast to a wider type")
                .broken_by(operand(cast, Order::Greater, limit)),
        );
    }

    /// SQL Server, CAST and CONVERT, Truncating and rounding results: a whole number that has no room in a
    /// text becomes a star.
    pub(super) fn note_short_text(&mut self, cast: &Cast<Meant>, span: Span) {
        let (DataType::Text { length: Some(length), .. }, DataType::Integer(bits)) =
            (&cast.to.data_type, Self::known(&cast.operand).data_type)
        else {
            return;
        };
        // The digits of the least number, and its sign.
        let digits = digits_of(bits).ceil() as u32 + 1;
        let is_known = matches!(cast.operand.kind, ExprKind::Literal(_));
        if self.from.name == self.to.name || *length >= digits || is_known || *length > 17 {
            return;
        }
        let limit = greatest(*length);
        let message =
            format!("a number above {limit} has no room in a string of {length}: engines cut it, fail, or write a star or # signs");
        self.note(
            Note::new("cast.number-to-short-text", span, message)
                .advise("make the text longer, or make sure that every number fits")
                .broken_by(operand(cast, Order::Greater, limit)),
        );
    }

    /// A decimal without a scale keeps all places in some engines; elsewhere a scale must be named.
    pub(super) fn note_decimal_places(&mut self, cast: &Cast<Meant>, span: Span) {
        if cast.to.data_type != DataType::Decimal(None) || self.from.name == self.to.name {
            return;
        }
        let places = |arguments: &[CompactString]| arguments.get(1).and_then(|scale| scale.parse::<i64>().ok());
        let named = write_type(&cast.to.data_type, self.to, true).and_then(|said| places(&said.arguments));
        let Some(most) = named.or((self.to.name == DialectName::Bigquery).then_some(9)) else { return };
        let written = match &cast.operand.without_parens().kind {
            ExprKind::Literal(Constant::Number(text)) => text.parse::<Decimal>().ok(),
            ExprKind::Literal(Constant::Text { value, .. }) => value.trim().parse::<Decimal>().ok(),
            ExprKind::Literal(Constant::Null) => return,
            _ => None,
        };
        let fits = match (written, Self::known(&cast.operand).data_type) {
            (Some(number), _) => number.normalized().fractional_digit_count() <= most && number.digits() <= 28,
            (None, DataType::Decimal(Some((_, scale)))) => i64::from(scale) <= most,
            (None, DataType::Integer(_) | DataType::Boolean) => true,
            _ => false,
        };
        if !fits {
            let message =
                format!("this decimal keeps {most} places in {}, all of them in {}", self.to.name.title(), self.from.name.title());
            let note = Note::new("cast.decimal-places", span, message);
            self.note(note.advise("cast to DECIMAL with the digits that the values need"));
        }
    }

    /// MySQL, Cast Functions and Operators: UNSIGNED takes a number below 0 round to a great one.
    pub(super) fn note_unsigned(&mut self, cast: &Cast<Meant>, span: Span) {
        let is_my = |name| matches!(name, DialectName::Mysql | DialectName::Mariadb);
        let words = cast.to.spelled.words.to_uppercase();
        if !words.contains("UNSIGNED") || !is_my(self.from.name) || is_my(self.to.name) {
            return;
        }
        let message = "a number below 0 becomes a great one above 0 in this cast to UNSIGNED; here it keeps its sign";
        self.note(Note::new("cast.unsigned", span, message).advise("make sure that no number is below 0").broken_by(operand(
            cast,
            Order::Less,
            0,
        )));
    }
}

/// How many decimal digits a whole number of so many bits has.
fn digits_of(bits: u8) -> f64 {
    f64::from(bits) * std::f64::consts::LOG10_2
}

/// The greatest number of so many digits.
fn greatest(digits: u32) -> i64 {
    10i64.pow(digits) - 1
}

/// What is cast lies so to a number.
fn operand(cast: &Cast<Meant>, order: Order, number: i64) -> Breach<Span> {
    Breach::Value(ValueClass::Number(order, number), cast.operand.span)
}
