//! Casts: what one engine does with a fraction or a long text, and another does not.

use meaning::{Breach, Capabilities, Constant, Meant, Note, ValueClass, phrase, phrase_named};
use syntax::DialectName;
use syntax::tree::{Cast, CastForm, Expr, ExprKind, Literal, Span, Spelled, StageMap};
use values::{DataType, Value};

use super::Writer;
use super::number::{has_fraction, is_quotient_or_average};
use super::word::Target;
use crate::ask::reads_number_or_null;
use crate::moment;
use crate::shape::call;

/// What is done to a number before it is cast.
#[derive(Clone, Copy)]
enum Before {
    /// Rounded to so many places, half away from zero.
    Round(i16),
    /// The fraction is cut off.
    Cut,
}

impl Writer<'_> {
    /// A cast with what the target must do besides to give what the source gives.
    pub(super) fn write_cast(&mut self, mut cast: Cast<Meant>, span: Span) -> ExprKind<Spelled> {
        // Oracle's own reads numbers of other forms than those of the others.
        let untyped = !matches!(self.facts.safe_cast, Some(CastForm::TryCast | CastForm::SafeCast));
        if self.from.name != self.to.name && reads_number_or_null(&cast, untyped) {
            return self.write_safe_cast(cast, span);
        }
        self.note_tried_text(&cast, span);
        if cast.form == CastForm::ConvertUsing && !self.facts.convert_using {
            return self.write_in_unicode(cast.operand, span);
        }
        if cast.form == CastForm::ConvertUsing && Self::known(&cast.operand).data_type == DataType::Binary {
            self.note_edges(phrase_named(phrase::BYTES_TO_TEXT).phrase(), &[&cast.operand], &[], Target::AsItsWord, span);
        }
        if is_no_number(&cast) {
            self.note_no_number(span);
        }
        if let Some(said) = self.write_bytes_cast(&cast, span) {
            return said;
        }
        if self.to.name == DialectName::Sqlite
            && self.from.name != DialectName::Sqlite
            && let Some(function) = moment_function(&cast.to.data_type, &Self::known(&cast.operand).data_type)
        {
            self.note_date_cast(&cast, span);
            return Expr::call(function, vec![self.expr(cast.operand)]).kind;
        }
        // Spark has no type for a time of day.
        if self.to.name == DialectName::Spark && cast.to.data_type == DataType::Time && Self::known(&cast.operand).data_type.is_moment() {
            let format = Expr::synthetic(ExprKind::Literal(Literal::Text("'HH:mm:ss'".into())));
            return Expr::call("DATE_FORMAT", vec![self.expr(cast.operand), format]).kind;
        }
        if self.loses_blanks(&cast) {
            cast.operand = call(phrase::TEXT_TRIM_RIGHT, vec![cast.operand]);
        }
        self.note_short_text(&cast, span);
        self.note_unsigned(&cast, span);
        self.note_decimal_places(&cast, span);
        self.note_number_cast(&cast, span);
        self.note_date_cast(&cast, span);
        self.note_overflow(&cast, span);
        let before = self.before_cast(&cast, span);
        let cut = self.cut_to(&cast);
        let operand = self.expr(cast.operand);
        let operand = match before {
            Some(before) => self.done_before(before, operand),
            None => operand,
        };
        let to = if cast.form == CastForm::ConvertUsing { cast.to.spelled } else { self.type_name(cast.to) };
        let form = self.cast_form(cast.form);
        let null = || Expr::synthetic(ExprKind::Literal(Literal::Null));
        let extra = cast.extra.map(|e| self.expr(e)).or_else(|| (form == CastForm::OnError).then(null));
        let kind = ExprKind::Cast(Box::new(Cast { form, operand, to, extra }));
        match cut {
            Some(length) => Expr::call("SUBSTR", vec![Expr::synthetic(kind), number(1), number(length)]).kind,
            None => kind,
        }
    }

    /// PostgreSQL, Character Types: a CHAR that becomes another type of string loses the blanks at its end. MySQL's
    /// are gone when it is read.
    fn loses_blanks(&self, cast: &Cast<Meant>) -> bool {
        use DialectName::{Mariadb, Mysql, Postgres};
        let is_char = matches!(Self::known(&cast.operand).data_type, DataType::Text { fixed: true, .. });
        let to_text = cast.to.data_type.is_text() && !matches!(cast.to.data_type, DataType::Text { fixed: true, .. });
        self.from.name == Postgres && is_char && to_text && !matches!(self.to.name, Postgres | Mysql | Mariadb)
    }

    /// A cast of a string to a number that gives NULL where it can't: by the phrase, as each engine's own
    /// reads other strings for numbers.
    fn write_safe_cast(&mut self, cast: Cast<Meant>, span: Span) -> ExprKind<Spelled> {
        let is_whole = matches!(cast.to.data_type, DataType::Integer(_));
        let phrase = if is_whole { phrase::CAST_TEXT_TO_INTEGER_OR_NULL } else { phrase::CAST_TEXT_TO_NUMBER_OR_NULL };
        let has_less_room =
            matches!(cast.to.data_type, DataType::Integer(bits) if bits < 64) || matches!(cast.to.data_type, DataType::Decimal(Some(_)));
        let room = if has_less_room { ", and a number that has no room in the type is kept, or an error" } else { "" };
        let message = format!("what {} reads in a string that isn't just a number is NULL here{room}", self.from.name.title());
        let note = Note::new("cast.text-or-null", span, message).advise("make sure that strings are numbers, or that NULL will do");
        self.note(note.broken_by(number_breach(&cast)));
        if Self::known(&cast.operand).data_type == DataType::Unknown {
            self.note_taken_for_text(span);
        }
        let said = self.write_phrase(phrase_named(phrase), None, vec![cast.operand], span);
        match cast.to.data_type {
            DataType::Decimal(Some((_, scale))) if self.facts.cast_ignores_scale => self.done_before(Before::Round(scale), said).kind,
            DataType::Decimal(Some(_)) | DataType::Float(_) => ExprKind::Cast(Box::new(Cast::plain(said, self.type_name(cast.to)))),
            _ => said.kind,
        }
    }

    /// NaN and the infinities: not all targets have them, and none works with them as another does.
    fn note_no_number(&mut self, span: Span) {
        if !self.facts.has_nan {
            self.refuse(span, "a number that is none (NaN) or without end");
        } else if self.from.name != self.to.name {
            let (source, target) = (self.from.name.title(), self.to.name.title());
            let message = format!("{source} and {target} compare NaN and infinity, and work with them, each by its own rules");
            self.note(Note::new("number.not-finite", span, message).advise("test for such values before you work with them"));
        }
    }

    /// What may be a string is tried by each engine in its own way: `3.5` as an integer, `1e3`, `1,000`, blanks.
    fn note_tried_text(&mut self, cast: &Cast<Meant>, span: Span) {
        let is_unknown = Self::known(&cast.operand).data_type == DataType::Unknown;
        if self.from.name == self.to.name || !cast.form.is_safe() || !cast.to.data_type.is_numeric() || !is_unknown {
            return;
        }
        let message = format!(
            "if this is a string: what isn't just a number may be NULL in one of {} and {} and a number in the other",
            self.from.name.title(),
            self.to.name.title()
        );
        let note =
            Note::new("cast.text-or-null", span, message).advise("give the schema with --schema, or make sure that strings are numbers");
        self.note(note.broken_by(number_breach(cast)));
    }

    /// A cast of a string to bytes, or of bytes to a string: what PostgreSQL, DuckDB and Oracle make of bytes
    /// is no text of theirs but their digits.
    fn write_bytes_cast(&mut self, cast: &Cast<Meant>, span: Span) -> Option<ExprKind<Spelled>> {
        let operand = Self::known(&cast.operand).data_type;
        if self.from.name == self.to.name || cast.extra.is_some() {
            return None;
        }
        let phrase = match (operand, &cast.to.data_type) {
            (text, DataType::Binary) if text.is_text() => {
                self.note_codes_in_text(&cast.operand, span);
                phrase::TEXT_TO_BYTES
            }
            (DataType::Binary, to) if to.is_text() => match self.from.name {
                DialectName::Oracle => phrase::BYTES_TO_HEXADECIMAL,
                DialectName::Postgres => phrase::BYTES_TO_DIGITS,
                DialectName::Duckdb => {
                    self.refuse(span, "a BLOB as a string, with codes for all but ASCII,");
                    return None;
                }
                _ => phrase::BYTES_TO_TEXT,
            },
            _ => return None,
        };
        Some(self.write_phrase(phrase_named(phrase), None, vec![cast.operand.clone()], span).kind)
    }

    /// PostgreSQL, Binary Data Types; DuckDB, Blob Type: a backslash in a string that is cast begins the code of
    /// a byte.
    fn note_codes_in_text(&mut self, text: &Expr<Meant>, span: Span) {
        if !matches!(self.from.name, DialectName::Postgres | DialectName::Duckdb) {
            return;
        }
        let message = format!("a backslash in this text begins the code of a byte in {}, here it is a backslash", self.from.name.title());
        let note =
            Note::new("name.unknown", span, message).coded(phrase::TEXT_TO_BYTES).advise("make sure that the strings hold no backslash");
        self.note(note.broken_by(Breach::Value(ValueClass::Backslash, text.span)));
    }

    fn note_taken_for_text(&mut self, span: Span) {
        self.note(crate::untyped(span, "what is cast here is taken for a string: its type is not known"));
    }

    /// CONVERT(x USING utf8mb4): all strings of the targets are Unicode's.
    fn write_in_unicode(&mut self, operand: Expr<Meant>, span: Span) -> ExprKind<Spelled> {
        match Self::known(&operand).data_type {
            DataType::Binary => return self.write_phrase(phrase_named(phrase::BYTES_TO_TEXT), None, vec![operand], span).kind,
            DataType::Unknown => self.note_taken_for_text(span),
            _ => {}
        }
        self.expr(operand).kind
    }

    /// What engines make of a string that is no number, and of the zeros at the end of a decimal.
    fn note_number_cast(&mut self, cast: &Cast<Meant>, span: Span) {
        let operand = Self::known(&cast.operand).data_type;
        let (source, target) = (self.from.name.title(), self.to.name.title());
        let to_number = cast.to.data_type.is_numeric() && !cast.form.is_safe();
        let is_text = operand.is_text() || operand == DataType::Unknown;
        if to_number && is_text && self.facts.cast_reads_prefix != self.source_facts.cast_reads_prefix {
            let (loose, strict) = if self.facts.cast_reads_prefix { (target, source) } else { (source, target) };
            let message = format!("a string that is no number: {loose} reads what it can of it, or 0, {strict} fails");
            self.note(
                Note::new("cast.text-to-number", span, message)
                    .advise("make sure that every text is a number")
                    .broken_by(number_breach(cast)),
            );
        }
        if cast.to.data_type.is_text() && self.writes_otherwise(&operand) {
            let message =
                format!("a number with a fraction becomes a string: zeros at its ends are written in one of {source} and {target} only");
            self.note(
                Note::new("cast.decimal-to-text", span, message).advise("write it with a format of its own, or compare it as a number"),
            );
        } else if cast.to.data_type.is_text() {
            self.note_places_as_text(&cast.operand, span);
        }
        let (here, there) = (self.halves_to_even(&self.source_facts), self.halves_to_even(&self.facts));
        if matches!((&cast.to.data_type, &operand), (DataType::Integer(_), DataType::Float(_))) && here != there {
            let (even, away) = if here == Some(true) { (source, target) } else { (target, source) };
            let message = format!("this cast rounds: of a half {even} makes the even number beside it, {away} the one away from zero");
            if here.is_some() {
                self.note(
                    Note::new("number.cast-fraction", span, message)
                        .advise("make sure that no value lies just between two whole numbers")
                        .broken_by(Breach::Value(ValueClass::Fraction, cast.operand.span)),
                );
            }
        }
    }

    /// A quotient or an average as a string: each engine chooses its decimal places.
    pub(super) fn note_places_as_text(&mut self, number: &Expr<Meant>, span: Span) {
        if self.from.name == self.to.name || !is_quotient_or_average(number) {
            return;
        }
        let (source, target) = (self.from.name.title(), self.to.name.title());
        let message = format!("a quotient or average becomes a string: {source} and {target} write other numbers of decimal places");
        self.note(Note::new("cast.decimal-to-text", span, message).advise("write it with a format of its own, or compare it as a number"));
    }

    /// What engines make of a string that is no day or time, or is written in another form.
    fn note_date_cast(&mut self, cast: &Cast<Meant>, span: Span) {
        let to_moment = cast.to.data_type.is_moment();
        let operand = Self::known(&cast.operand).data_type;
        if self.from.name == self.to.name || !to_moment || !(operand.is_text() || operand == DataType::Unknown) {
            return;
        }
        let plain = |text: &str| match cast.to.data_type {
            DataType::Date => moment::day(text).is_some(),
            DataType::Timestamp(_) => moment::moment(text).is_some(),
            _ => false,
        };
        if matches!(meaning::constant(&cast.operand), Some(Value::Text(text)) if plain(&text)) {
            return;
        }
        let message = format!(
            "a string becomes a day or time: which forms {} and {} read, and what others give, differs",
            self.from.name.title(),
            self.to.name.title()
        );
        self.note(Note::new("cast.text-to-date", span, message).advise("make sure that every text is YYYY-MM-DD, or YYYY-MM-DD HH:MM:SS"));
    }

    /// Whether the two engines write the digits of such a number in different ways.
    pub(super) fn writes_otherwise(&self, number: &DataType) -> bool {
        let differs = |fact: fn(&Capabilities) -> bool| fact(&self.facts) != fact(&self.source_facts);
        let ends = match number {
            DataType::Decimal(Some((_, ..=0))) => return false,
            DataType::Decimal(_) => differs(|f| f.decimal_text_keeps_scale),
            DataType::Float(_) => differs(|f| f.float_text_has_point),
            _ => return false,
        };
        ends || differs(|f| f.number_text_drops_zero)
    }

    /// What a cast does with a half where it rounds; what a target that cuts gets is rounded away from
    /// zero before.
    fn halves_to_even(&self, facts: &Capabilities) -> Option<bool> {
        (!self.source_facts.cast_cuts_fraction).then_some(facts.cast_halves_to_even && !facts.cast_cuts_fraction)
    }

    /// The number of characters a string must be cut to behind the cast.
    fn cut_to(&self, cast: &Cast<Meant>) -> Option<u32> {
        let DataType::Text { length: Some(length), .. } = cast.to.data_type else { return None };
        let lost = self.facts.cast_ignores_length && !self.source_facts.cast_ignores_length;
        (lost && !fits(&cast.operand, length)).then_some(length)
    }

    /// What must be done to the operand of a cast so that the target does with its fraction what the
    /// source does.
    fn before_cast(&mut self, cast: &Cast<Meant>, span: Span) -> Option<Before> {
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
        if has_fraction(&operand) || (operand == DataType::Unknown && !whole) {
            return Some(before);
        }
        if operand == DataType::Unknown {
            let (source, target) = (self.from.name.title(), self.to.name.title());
            let (a, b) = if self.facts.cast_cuts_fraction { ("rounds", "cuts it off") } else { ("cuts off", "rounds it") };
            let message = format!("{source} {a} a fraction in this cast, {target} {b}");
            self.note(
                Note::new("number.cast-fraction", span, message)
                    .advise("make sure that the value has no fraction, or give the schema with --schema")
                    .broken_by(Breach::Value(ValueClass::Fraction, cast.operand.span)),
            );
        }
        None
    }

    /// A form of cast that the target has; the function forms have their words in no other place.
    fn cast_form(&self, form: CastForm) -> CastForm {
        match form {
            CastForm::DoubleColon if !self.facts.double_colon => CastForm::Cast,
            CastForm::Convert | CastForm::ConvertTo => CastForm::Cast,
            form if form.is_safe() => self.facts.safe_cast.unwrap_or(form),
            other => other,
        }
    }

    /// The operand with that done to it, in the target's words.
    fn done_before(&self, before: Before, operand: Expr<Spelled>) -> Expr<Spelled> {
        let (name, places) = match before {
            Before::Round(places) => ("ROUND", u32::try_from(places).ok().filter(|p| *p > 0 || self.facts.round_needs_places)),
            Before::Cut if self.facts.truncate_word == "TRUNCATE" => ("TRUNCATE", Some(0)),
            Before::Cut => (self.facts.truncate_word, None),
        };
        Expr::call(name, std::iter::once(operand).chain(places.map(number)).collect())
    }
}

fn number(value: u32) -> Expr<Spelled> {
    Expr::synthetic(ExprKind::Literal(Literal::Number(value.to_string().into())))
}

/// Broken by a string that is no number of the type it is cast to.
fn number_breach(cast: &Cast<Meant>) -> Breach<Span> {
    let class = if matches!(cast.to.data_type, DataType::Integer(_)) { ValueClass::NoInteger } else { ValueClass::NoNumber };
    Breach::Value(class, cast.operand.span)
}

/// CAST('NaN' AS DOUBLE), or of an infinity.
/// SQLite, Date And Time Functions: days and times are strings, which functions bring into another form. A day
/// and time stays the text that it is, with its fractions of a second.
fn moment_function(to: &DataType, operand: &DataType) -> Option<&'static str> {
    match (to, operand) {
        (DataType::Date, _) => Some("DATE"),
        (DataType::Time, _) => Some("TIME"),
        (DataType::Timestamp(_), DataType::Date) => Some("DATETIME"),
        _ => None,
    }
}

fn is_no_number(cast: &Cast<Meant>) -> bool {
    let ExprKind::Literal(Constant::Text { value, .. }) = &cast.operand.without_parens().kind else { return false };
    cast.to.data_type.is_numeric() && value.trim().parse::<f64>().is_ok_and(|number| !number.is_finite())
}

/// Whether every value of `expr` is surely written in so many characters.
fn fits(expr: &Expr<Meant>, length: u32) -> bool {
    if let ExprKind::Literal(Constant::Text { value, .. }) = &expr.without_parens().kind {
        return value.chars().count() <= length as usize;
    }
    let longest = match Writer::known(expr).data_type {
        DataType::Boolean => 5,
        DataType::Integer(8) => 4,
        DataType::Integer(16) => 6,
        DataType::Integer(32) => 11,
        DataType::Integer(_) => 20,
        // A sign, a point and a zero before it.
        DataType::Decimal(Some((precision, _))) => u32::from(precision) + 3,
        DataType::Date => 10,
        DataType::Text { length: Some(longest), .. } => longest,
        _ => return false,
    };
    longest <= length
}
