//! Calls and operators become phrases.

use meaning::{
    ArgumentKind, Breach, Constant, Fit, Function, Heard, Meant, Note, PhraseId, Sign, Slot, ValueClass, hear_calls, hear_operator,
    hear_prefix, hear_word, infer, named_calls, phrase, phrase_named,
};
use syntax::tree::{
    Argument, Binary, Call, CallForm, CastForm, Expr, ExprKind, Ident, LikeTest, LikeWord, Literal, LogicOperator, ObjectName, Operator,
    Quote, Span, Spelled, StageMap, Unary, map_arguments, map_tail,
};
use syntax::{DialectName, Symbol, decode_text};
use values::DataType;

use super::Reader;
use crate::ask::{takes_text_as_argument, takes_text_as_number};

type E = Expr<Meant>;

impl Reader<'_> {
    /// A word without parentheses that is a call: CURRENT_DATE, SYSDATE.
    pub(super) fn word_call(&self, name: &ObjectName) -> Option<ExprKind<Meant>> {
        let word = name.as_single().filter(|w| w.quote == Quote::None)?;
        let id = hear_word(self.from.name, &word.text)?;
        Some(ExprKind::Call(Box::new(Call {
            function: Function::Phrase(id, name.clone()),
            form: CallForm::Word,
            quantifier: None,
            arguments: Vec::new(),
            tail: None,
        })))
    }

    /// COLLATE(text, 'name') of BigQuery.
    pub(super) fn read_collation(&mut self, call: &Call<Spelled>) -> Option<ExprKind<Meant>> {
        let is_collate = self.from.name == DialectName::Bigquery && call.function.as_single()?.is_word("collate");
        let [text, name] = call.arguments.as_slice() else { return None };
        let ExprKind::Literal(Literal::Text(name)) = &name.value.kind else { return None };
        let name = ObjectName::single(Ident::synthetic(decode_text(name, &self.spelling)));
        is_collate.then(|| ExprKind::Collate(Box::new(self.expr(text.value.clone())), name))
    }

    /// SUBSTRING(x, start) of SQL Server 2025, which in other versions takes a length too.
    pub(super) fn to_the_end(&mut self, call: &Call<Spelled>) -> Option<ExprKind<Meant>> {
        let is_substring = self.from.name == DialectName::SqlServer && call.function.as_single()?.is_word("substring");
        let ([text, start], true) = (call.arguments.as_slice(), is_substring && call.tail.is_none()) else { return None };
        let arguments = vec![self.expr(text.value.clone()), self.expr(start.value.clone())];
        Some(crate::shape::call(phrase::TEXT_WINDOW_TO_END, arguments).kind)
    }

    /// ORD(CONVERT(x USING utf32)): the bytes of one character there are its code point.
    pub(super) fn code_point(&mut self, call: &Call<Spelled>) -> Option<ExprKind<Meant>> {
        if !call.function.as_single()?.is_word("ord") {
            return None;
        }
        let [Argument { value: Expr { kind: ExprKind::Cast(cast), .. }, .. }] = call.arguments.as_slice() else { return None };
        let is_utf32 = cast.form == CastForm::ConvertUsing && cast.to.words.eq_ignore_ascii_case("utf32");
        is_utf32.then(|| crate::shape::call(phrase::TEXT_CODE_OF_FIRST_CHARACTER, vec![self.expr(cast.operand.clone())]).kind)
    }

    pub(super) fn read_call(&mut self, call: Call<Spelled>, span: Span) -> ExprKind<Meant> {
        let candidates = self.candidates(&call);
        let tail = call.tail.map(|t| Box::new(map_tail(self, *t)));
        self.features.order |= tail.as_ref().is_some_and(|t| t.over.is_some());
        if candidates.is_empty() {
            let arguments = map_arguments(self, call.arguments);
            let function = Function::Unresolved(call.function);
            return ExprKind::Call(Box::new(Call { function, form: call.form, quantifier: call.quantifier, arguments, tail }));
        }
        let star = matches!(candidates[0].slots.as_slice(), [Slot::Star]);
        let given: Vec<E> = if star { Vec::new() } else { map_arguments(self, call.arguments).into_iter().map(|a| a.value).collect() };
        // Of bytes the words for strings mean another thing, and the other way round.
        let is_of_bytes = given.iter().any(|e| infer(e).data_type == DataType::Binary);
        let all_take_bytes = candidates.iter().all(|h| takes_bytes(h, given.len()));
        let fits_worse_than = |fit: Fit| candidates.iter().all(|h| fit_of(h, &given) < fit);
        // Where types are strict, what is given to a function of bytes is bytes.
        let strict = matches!(
            self.from.name,
            DialectName::Oracle | DialectName::SqlServer | DialectName::Postgres | DialectName::Duckdb | DialectName::Bigquery
        );
        let least = if strict { Fit::Maybe } else { Fit::Yes };
        // A date is another thing to the words for numbers and strings: TRUNC(day).
        let of_moments = candidates.iter().all(|h| takes_moment_amiss(h, &given));
        if of_moments || (is_of_bytes && fits_worse_than(Fit::Maybe)) || (all_take_bytes && fits_worse_than(least)) {
            let arguments = given.into_iter().map(|value| Argument { name: None, value }).collect();
            let function = Function::Unresolved(call.function);
            return ExprKind::Call(Box::new(Call { function, form: call.form, quantifier: call.quantifier, arguments, tail }));
        }
        let heard = self.chosen(&candidates, &given, &call.function);
        // Oracle's TRUNC and ROUND of dates are other functions by the same names.
        if self.from.name == DialectName::Oracle
            && matches!(heard.id.phrase().id, phrase::NUMBER_TRUNCATE | phrase::NUMBER_ROUND)
            && let Some(value) = given.first()
        {
            self.note_unknown_type(value);
        }
        self.features.conditions |= heard.id.phrase().gives == "boolean";
        self.features.empties |= heard.id.phrase().empties;
        let mut arguments = in_order(heard, given);
        // Group 0 is the whole match.
        let whole = heard.id.phrase().id == phrase::REGEX_GROUP_OF_MATCH && arguments.get(4).is_some_and(is_zero);
        if whole {
            arguments.truncate(4);
        }
        if heard.id.phrase().id == phrase::REGEX_GROUP_ANY_CASE && arguments.get(2).is_some_and(is_zero) {
            let message = "group 0, which is the whole match, is not translated where case is ignored";
            self.note(Note::new("construct.not-translated", span, message).advise("leave the number of the group out"));
        }
        let id = if whole { phrase_named(phrase::REGEX_MATCH_NUMBER) } else { heard.id };
        let call = Call {
            function: Function::Phrase(id, call.function),
            form: call.form,
            quantifier: call.quantifier,
            arguments: arguments.into_iter().map(|value| Argument { name: None, value }).collect(),
            tail,
        };
        self.features.texts_as_numbers |= takes_text_as_argument(&call);
        ExprKind::Call(Box::new(call))
    }

    /// A value whose type isn't known, where that of a date would mean another thing.
    fn note_unknown_type(&mut self, value: &E) {
        let is_own =
            matches!(value.without_parens().kind, ExprKind::Column(_) | ExprKind::Call(_) | ExprKind::Case(_) | ExprKind::Subquery(_));
        if is_own && value.span.is_read() && infer(value).data_type == DataType::Unknown {
            self.note(crate::unknown_type(value.span));
        }
    }

    /// The phrases a call can be, by its name, form, number of arguments and constants.
    fn candidates(&self, call: &Call<Spelled>) -> Vec<&'static Heard> {
        if call.function.parts.iter().any(|p| p.quote != Quote::None) {
            return Vec::new();
        }
        if call.arguments.iter().any(|a| a.name.is_some()) {
            return Vec::new();
        }
        let arguments: Vec<&Expr<Spelled>> = call.arguments.iter().map(|a| &a.value).collect();
        match call.function.as_single() {
            Some(name) => hear_calls(self.from.name, &name.text, call.form, &arguments).collect(),
            // A function of a package: UTL_RAW.CAST_TO_RAW.
            None => hear_calls(self.from.name, &call.function.dotted(), call.form, &arguments).collect(),
        }
    }

    /// Of several phrases the one whose arguments these are by their types; the likelier one, which
    /// the book has first, where the types aren't known.
    fn chosen(&mut self, candidates: &[&'static Heard], given: &[E], name: &ObjectName) -> &'static Heard {
        // What isn't known to be bytes is none.
        let is_likely = |h: &&'static Heard| !takes_bytes(h, given.len()) || fit_of(h, given) == Fit::Yes;
        let likely: Vec<&'static Heard> = candidates.iter().copied().filter(is_likely).collect();
        let candidates = if likely.is_empty() { candidates } else { &likely };
        let first = candidates[0];
        if candidates.len() == 1 {
            return first;
        }
        let fit = |heard: &&'static Heard| fit_of(heard, given);
        let best = candidates.iter().map(fit).max().unwrap_or(Fit::Maybe);
        let chosen = candidates.iter().find(|h| fit(h) == best).copied().unwrap_or(first);
        // Only types tell those apart that want different ones in a place.
        let is_told_by_types = |other: &Heard| {
            (0..given.len()).any(|at| match (kind_at(chosen, at), kind_at(other, at)) {
                (Some(a), Some(b)) => a != b,
                _ => false,
            })
        };
        let other = candidates.iter().find(|h| h.id != chosen.id && fit(h) == Fit::Maybe && is_told_by_types(h));
        // Where the target has the same word for both, it tells them apart as the source does.
        let is_same_word = |heard: &Heard| named_calls(self.to, &name.last().text, heard.id).next().is_some();
        let other = other.filter(|o| !is_same_word(chosen) || !is_same_word(o));
        if let (Fit::Maybe, Some(other)) = (best, other) {
            let message = format!(
                "{} has several meanings, and the types here are not known: taken as {}, not {}",
                name.dotted(),
                chosen.id.phrase().id,
                other.id.phrase().id
            );
            self.note(crate::untyped(name.last().span(), message));
        }
        chosen
    }

    pub(super) fn read_prefix(&mut self, operator: Operator, operand: Expr<Spelled>) -> ExprKind<Meant> {
        if operator == Operator::Binary {
            return self.expr(Expr::cast(operand, "BINARY")).kind;
        }
        let operand = self.expr(operand);
        if operator == Operator::Symbol(Symbol::Bang) {
            return ExprKind::Not(Box::new(operand));
        }
        // A sign before a number belongs to it.
        let operator = match hear_prefix(self.from.name, operator) {
            Some(id) => Sign::Phrase(id, Some(operator)),
            None => Sign::Unresolved(operator),
        };
        ExprKind::Unary(Box::new(Unary { operator, operand }))
    }

    pub(super) fn read_operator(&mut self, operator: Operator, left: Expr<Spelled>, right: Expr<Spelled>, span: Span) -> ExprKind<Meant> {
        let is_empty = |e: &Expr<Spelled>| matches!(&e.without_parens().kind, ExprKind::Literal(Literal::Text(t)) if decode_text(t, &self.spelling).is_empty());
        if self.facts.empty_is_null && (is_empty(&left) || is_empty(&right)) {
            self.note_empty_text(operator, span);
        }
        let mut left = self.expr(left);
        let mut right = self.expr(right);
        if matches!(self.from.name, DialectName::Mysql | DialectName::Mariadb) {
            bytes_as_number(operator, &mut left, &mut right);
            if !of_one_kin(self.from.name, self.to) {
                bytes_as_text(&mut left, &right);
                bytes_as_text(&mut right, &left);
            }
        }
        self.refuse_documents(operator, &left, &right, span);
        let is_or = operator == Operator::Symbol(Symbol::Concat) && self.spelling.bars_mean_or;
        if is_or {
            return ExprKind::Logic(LogicOperator::Or, vec![left, right]);
        }
        if operator == Operator::Symbol(Symbol::AndAnd) && matches!(self.from.name, DialectName::Mysql | DialectName::Mariadb) {
            return ExprKind::Logic(LogicOperator::And, vec![left, right]);
        }
        if let Some((word, negated)) = pattern_sign(self.from.name, operator) {
            let test = LikeTest { operand: left, negated, word, quantifier: None, pattern: right, escape: None };
            return ExprKind::Like(Box::new(test));
        }
        let sign = match operator {
            // `!~*`
            Operator::Symbol(Symbol::NotMatchAnyCase) => {
                let sign = Sign::Phrase(phrase_named(phrase::REGEX_MATCHES_ANY_CASE), Some(Operator::Symbol(Symbol::MatchAnyCase)));
                let found = Expr { kind: ExprKind::Binary(Box::new(Binary { operator: sign, left, right })), span };
                return ExprKind::Not(Box::new(found));
            }
            Operator::Symbol(Symbol::Slash) => {
                let drops = matches!(self.from.name, DialectName::Postgres | DialectName::SqlServer | DialectName::Sqlite);
                Sign::Phrase(self.division(&left, &right, drops, span), Some(operator))
            }
            // Observed on DuckDB 1.3 and 2.0: it cuts the quotient of whole numbers, no other.
            Operator::Symbol(Symbol::SlashSlash) if self.from.name == DialectName::Duckdb => {
                Sign::Phrase(self.division(&left, &right, true, span), Some(operator))
            }
            Operator::Symbol(Symbol::Plus | Symbol::Minus) => self.plus_or_minus(operator, &left, &right, span),
            // SQL Server 2025, || (String concatenation).
            Operator::Symbol(Symbol::Concat) if self.from.name == DialectName::SqlServer => {
                Sign::Phrase(phrase_named(phrase::TEXT_CONCATENATE), Some(operator))
            }
            _ => match hear_operator(self.from.name, operator) {
                Some(id) => {
                    self.note_unknown_fraction(id, &left, &right);
                    Sign::Phrase(id, Some(operator))
                }
                None => Sign::Unresolved(operator),
            },
        };
        self.sqlite_habits(sign, &mut left, &mut right, span);
        let binary = Binary { operator: sign, left, right };
        self.features.texts_as_numbers |= takes_text_as_number(&binary);
        self.features.empties |= matches!(sign, Sign::Phrase(id, _) if id.phrase().empties);
        ExprKind::Binary(Box::new(binary))
    }

    /// SQLite: % is of whole numbers (Operators), and a number that is no column is never equal to a string
    /// (Comparison expressions).
    fn sqlite_habits(&mut self, sign: Sign, left: &mut E, right: &mut E, span: Span) {
        let Sign::Phrase(id, _) = sign else { return };
        if self.from.name != DialectName::Sqlite || self.to == DialectName::Sqlite {
            return;
        }
        if id.phrase().id == phrase::NUMBER_REMAINDER {
            for side in [&mut *left, &mut *right] {
                if matches!(infer(side).data_type, DataType::Decimal(_) | DataType::Float(_)) {
                    *side = crate::shape::call(phrase::NUMBER_TRUNCATE, vec![side.take(), crate::shape::number(0)]);
                }
            }
        }
        if id.phrase().area() == "compare" {
            self.refuse_mixed(left, right, span);
        }
    }

    /// Without a column, SQLite takes no text for a number.
    pub(super) fn refuse_mixed(&mut self, left: &E, right: &E, span: Span) {
        if self.from.name != DialectName::Sqlite || self.to == DialectName::Sqlite {
            return;
        }
        let bare = |e: &E| !matches!(e.without_parens().kind, ExprKind::Column(_));
        let (a, b) = (infer(left).data_type, infer(right).data_type);
        let mixed = (a.is_numeric() && b.is_text()) || (b.is_numeric() && a.is_text());
        if mixed && bare(left) && bare(right) {
            let message = "SQLite takes a number for less than any text, whatever digits the text holds";
            self.note(Note::new("construct.not-translated", span, message).advise("compare numbers with numbers: CAST the text"));
        }
    }

    /// Operators of JSON values and arrays are others than those of numbers and strings.
    fn refuse_documents(&mut self, operator: Operator, left: &E, right: &E, span: Span) {
        // Only columns and casts have these types.
        if !self.features.documents {
            return;
        }
        let is_document = |e: &E| matches!(infer(e).data_type, DataType::Json | DataType::Array(_));
        let compares = matches!(operator, Operator::Symbol(Symbol::Equal | Symbol::NotEqual));
        let is_text = |e: &E| matches!(e.kind, ExprKind::Literal(Constant::Text { .. }));
        let compares = compares && !(is_document(left) && is_text(right)) && !(is_document(right) && is_text(left));
        if !compares && self.from.name != self.to && (is_document(left) || is_document(right)) {
            let message = format!("this operator of JSON values or arrays is not translated from {}", self.from.name.title());
            self.note(Note::new("construct.not-translated", span, message).advise("say it with functions of the target by hand"));
        }
    }

    /// DIV and % of a fraction are other operations than those of whole numbers in some engines.
    fn note_unknown_fraction(&mut self, id: PhraseId, left: &E, right: &E) {
        let shows = match id.phrase().id {
            phrase::NUMBER_DIVIDE_WHOLE => true,
            phrase::NUMBER_REMAINDER => self.from.name == DialectName::Sqlite || self.to == DialectName::Sqlite,
            _ => false,
        };
        if shows && !of_one_kin(self.from.name, self.to) {
            [left, right].into_iter().for_each(|side| self.note_unknown_type(side));
        }
    }

    /// A division that keeps the fraction, or drops it if both sides are whole numbers.
    fn division(&mut self, left: &Expr<Meant>, right: &Expr<Meant>, drops: bool, span: Span) -> PhraseId {
        let (a, b) = (infer(left).data_type, infer(right).data_type);
        let fraction = |t: &DataType| matches!(t, DataType::Decimal(_) | DataType::Float(_));
        if fraction(&a) || fraction(&b) {
            // SQLite keeps 41.00 in a decimal column as the integer 41.
            let shown = |e: &Expr<Meant>| matches!(e.without_parens().kind, ExprKind::Literal(_)) && fraction(&infer(e).data_type);
            if self.facts.whole_decimals_are_integers && !shown(left) && !shown(right) {
                self.note(
                    Note::new("number.division-untyped", span, "SQLite keeps a whole number in a decimal column as an integer, whose quotient loses its fraction; here it keeps it")
                        .advise("multiply by 1.0 first if the fraction is wanted")
                        .broken_by(Breach::Value(ValueClass::Whole, left.span)),
                );
            }
            return phrase_named(phrase::NUMBER_DIVIDE_DECIMALS);
        }
        if !drops {
            return phrase_named(phrase::NUMBER_DIVIDE);
        }
        let whole = |t: &DataType| matches!(t, DataType::Integer(_));
        if whole(&a) && whole(&b) {
            return phrase_named(phrase::NUMBER_DIVIDE_WHOLE);
        }
        self.note(
            Note::new(
                "number.division-untyped",
                span,
                format!(
                    "{} drops the fraction if both sides are whole numbers; their types are not known, so the fraction is kept",
                    self.from.name.title()
                ),
            )
            .advise("give the schema with --schema, or say it: --assume 'table.column: integer'")
            .broken_by(Breach::Value(ValueClass::Whole, left.span)),
        );
        phrase_named(phrase::NUMBER_DIVIDE_DECIMALS)
    }

    /// `+` joins strings in SQL Server; with dates it moves a day, which is no sum of numbers.
    fn plus_or_minus(&mut self, operator: Operator, left: &Expr<Meant>, right: &Expr<Meant>, span: Span) -> Sign {
        let (a, b) = (infer(left).data_type, infer(right).data_type);
        let plus = operator == Operator::Symbol(Symbol::Plus);
        // Beside a number a string is converted to one.
        let has_number = a.is_numeric() || b.is_numeric();
        if plus && self.from.name == DialectName::SqlServer && (a.is_text() || b.is_text()) && !has_number {
            return Sign::Phrase(phrase_named(phrase::TEXT_CONCATENATE), Some(operator));
        }
        let date = |t: &DataType| matches!(t, DataType::Date | DataType::Timestamp(_) | DataType::TimestampZoned | DataType::Interval);
        let interval = |e: &Expr<Meant>| matches!(e.without_parens().kind, ExprKind::Interval(_));
        if date(&a) || date(&b) || interval(left) || interval(right) {
            return Sign::Unresolved(operator);
        }
        if plus && self.from.name == DialectName::SqlServer && a == DataType::Unknown && b == DataType::Unknown {
            self.note(
                Note::new("text.plus-untyped", span, "+ joins strings or adds numbers; the types here are not known, so it adds")
                    .advise("give the schema with --schema, or say it: --assume 'table.column: text'")
                    .broken_by(Breach::Value(ValueClass::Text, left.span)),
            );
        }
        // With a date it is days that are added, where a date takes numbers at all.
        if !of_one_kin(self.from.name, self.to) {
            [left, right].into_iter().for_each(|side| self.note_unknown_type(side));
        }
        let id = phrase_named(if plus { phrase::NUMBER_ADD } else { phrase::NUMBER_SUBTRACT });
        Sign::Phrase(id, Some(operator))
    }

    /// Oracle: `x = ''` is never true.
    fn note_empty_text(&mut self, operator: Operator, span: Span) {
        let compares = hear_operator(self.from.name, operator).is_some_and(|id| id.phrase().id.starts_with("compare."));
        if compares {
            self.note(
                Note::new("text.empty-is-null", span, "Oracle reads '' as NULL, so this comparison is never true; it is kept so")
                    .advise("write IS NULL or IS NOT NULL, whichever was meant"),
            );
        }
    }
}

/// 0x41 beside a string is one: 'A'.
fn bytes_as_text(bytes: &mut E, other: &E) {
    if let ExprKind::Literal(Constant::Bytes(value)) = &bytes.kind
        && infer(other).data_type.is_text()
        && let Ok(text) = std::str::from_utf8(value)
    {
        bytes.kind = ExprKind::Literal(Constant::Text { value: text.into(), written: None });
    }
}

/// MySQL, Hexadecimal literals: 0x10 is a number beside a number, and where only numbers are computed with.
fn bytes_as_number(operator: Operator, left: &mut E, right: &mut E) {
    let computes = matches!(
        operator,
        Operator::Symbol(
            Symbol::Plus
                | Symbol::Minus
                | Symbol::Star
                | Symbol::Slash
                | Symbol::Percent
                | Symbol::Ampersand
                | Symbol::Bar
                | Symbol::Caret
                | Symbol::ShiftLeft
                | Symbol::ShiftRight
        )
    );
    let is_number = |e: &E| infer(e).data_type.is_numeric();
    let (left_wanted, right_wanted) = (computes || is_number(right), computes || is_number(left));
    for (expr, wanted) in [(left, left_wanted), (right, right_wanted)] {
        if let ExprKind::Literal(Constant::Bytes(bytes)) = &expr.kind
            && wanted
            && bytes.len() < 8
        {
            let number = bytes.iter().fold(0u64, |n, b| (n << 8) | u64::from(*b));
            expr.kind = ExprKind::Literal(Constant::Number(number.to_string().into()));
        }
    }
}

fn is_zero(expr: &E) -> bool {
    matches!(&expr.kind, ExprKind::Literal(Constant::Number(text)) if text == "0")
}

/// Dialects that do the same with dates and numbers.
fn of_one_kin(a: DialectName, b: DialectName) -> bool {
    const KIN: [[DialectName; 2]; 2] = [[DialectName::Mysql, DialectName::Mariadb], [DialectName::Postgres, DialectName::Duckdb]];
    KIN.iter().any(|kin| kin.contains(&a) && kin.contains(&b))
}

/// A date, time or interval is given where the phrase takes a number or a string.
fn takes_moment_amiss(heard: &Heard, given: &[E]) -> bool {
    let is_moment = |e: &E| {
        use DataType::{Date, Interval, Time, Timestamp, TimestampZoned};
        matches!(infer(e).data_type, Date | Time | Timestamp(_) | TimestampZoned | Interval)
    };
    let takes_other = |at: usize| matches!(kind_at(heard, at), Some(ArgumentKind::Number | ArgumentKind::Integer | ArgumentKind::String));
    // `substring(x FROM '%#"b#"%' FOR '#')`: a string that is no number represents a pattern.
    let takes_number = |at: usize| matches!(kind_at(heard, at), Some(ArgumentKind::Number | ArgumentKind::Integer));
    let is_words = |e: &E| matches!(&e.kind, ExprKind::Literal(Constant::Text { value, .. }) if value.trim().parse::<f64>().is_err());
    given.iter().enumerate().any(|(at, e)| (takes_other(at) && is_moment(e)) || (takes_number(at) && is_words(e)))
}

/// The predicate that an operator of patterns represents, and whether it denies it. PostgreSQL, Pattern
/// matching; DuckDB, where `~` must fit the whole text.
fn pattern_sign(dialect: DialectName, operator: Operator) -> Option<(LikeWord, bool)> {
    let Operator::Symbol(symbol) = operator else { return None };
    let duckdb = dialect == DialectName::Duckdb;
    Some(match symbol {
        Symbol::LikeSign => (LikeWord::Like, false),
        Symbol::NotLike => (LikeWord::Like, true),
        Symbol::LikeAnyCase => (LikeWord::Ilike, false),
        Symbol::NotLikeAnyCase => (LikeWord::Ilike, true),
        Symbol::Glob => (LikeWord::Glob, false),
        Symbol::Tilde if duckdb => (LikeWord::SimilarTo, false),
        Symbol::NotMatch if duckdb => (LikeWord::SimilarTo, true),
        Symbol::NotMatch => (LikeWord::Regexp, true),
        _ => return None,
    })
}

/// What a spelling takes in a place of its parentheses.
fn kind_at(heard: &Heard, at: usize) -> Option<ArgumentKind> {
    match heard.slots.get(at) {
        Some(Slot::Argument(of)) => heard.id.phrase().takes.get(*of).map(|t| t.kind),
        _ => None,
    }
}

fn takes_bytes(heard: &Heard, count: usize) -> bool {
    (0..count).any(|at| kind_at(heard, at) == Some(ArgumentKind::Binary))
}

/// How well the arguments fit a phrase: as well as the worst of them.
fn fit_of(heard: &Heard, given: &[E]) -> Fit {
    let takes = heard.id.phrase().takes;
    let of_slot = |(slot, value): (&Slot, &E)| match slot {
        Slot::Argument(at) => takes.get(*at).map_or(ArgumentKind::Any, |t| t.kind).fit(&infer(value).data_type),
        _ => Fit::Yes,
    };
    heard.slots.iter().zip(given).map(of_slot).min().unwrap_or(Fit::Yes)
}

/// The arguments in the order the phrase takes them; what isn't written is its default.
fn in_order(heard: &Heard, given: Vec<E>) -> Vec<E> {
    let mut given: Vec<Option<E>> = given.into_iter().map(Some).collect();
    let mut ordered = Vec::new();
    for (at, parameter) in heard.id.phrase().takes.iter().enumerate() {
        let rest = heard.slots.iter().position(|s| *s == Slot::Rest(at));
        if let Some(from) = rest {
            ordered.extend(given.iter_mut().skip(from).filter_map(Option::take));
            continue;
        }
        let written = heard.slots.iter().position(|s| *s == Slot::Argument(at)).and_then(|i| given.get_mut(i)?.take());
        ordered.extend(written.or_else(|| parameter.default.map(default_value)));
    }
    ordered
}

/// What represents an argument that isn't written.
fn default_value(text: &str) -> E {
    let constant = match text.strip_prefix('\'').and_then(|t| t.strip_suffix('\'')) {
        Some(inner) => Constant::Text { value: inner.into(), written: None },
        None if text == "NULL" => Constant::Null,
        None => Constant::Number(text.into()),
    };
    Expr::synthetic(ExprKind::Literal(constant))
}
