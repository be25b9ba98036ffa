//! Calls and operators become phrases.

use meaning::{Breach, Constant, Function, Meant, Note, Sign, ValueClass, hear_call, hear_operator, hear_prefix, infer, phrase_named};
use syntax::tree::{
    Binary, Call, CallForm, Expr, ExprKind, LogicOperator, ObjectName, Operator, Quote, Span, Spelled, StageMap, Unary, map_arguments,
    map_tail,
};
use syntax::{DialectName, Symbol};
use values::DataType;

use super::Reader;

impl Reader<'_> {
    /// A word without parentheses that is a call: CURRENT_DATE, SYSDATE.
    pub(super) fn word_call(&self, name: &ObjectName) -> Option<ExprKind<Meant>> {
        let word = name.as_single().filter(|w| w.quote == Quote::None)?;
        let id = hear_call(self.from.name, &word.text, None, false)?;
        Some(ExprKind::Call(Box::new(Call {
            function: Function::Phrase(id, name.clone()),
            form: CallForm::Word,
            quantifier: None,
            arguments: Vec::new(),
            tail: None,
        })))
    }

    pub(super) fn heard_call(&mut self, call: Call<Spelled>) -> ExprKind<Meant> {
        let star = matches!(call.arguments.as_slice(), [one] if matches!(one.value.kind, ExprKind::Star(None)));
        let name = call.function.as_single().filter(|n| n.quote == Quote::None).map(|n| n.text.clone());
        let plain = call.form == CallForm::Plain && call.arguments.iter().all(|a| a.name.is_none());
        let heard = name.as_ref().filter(|_| plain).and_then(|n| hear_call(self.from.name, n, Some(call.arguments.len()), star));
        let arguments = if star && heard.is_some() { Vec::new() } else { map_arguments(self, call.arguments) };
        let tail = call.tail.map(|t| Box::new(map_tail(self, *t)));
        self.features.order |= tail.as_ref().is_some_and(|t| t.over.is_some());
        let function = match heard {
            Some(id) => Function::Phrase(id, call.function),
            None => Function::Own(call.function),
        };
        ExprKind::Call(Box::new(Call { function, form: call.form, quantifier: call.quantifier, arguments, tail }))
    }

    pub(super) fn heard_prefix(&mut self, operator: Operator, operand: Expr<Spelled>) -> ExprKind<Meant> {
        let operand = self.expr(operand);
        // A sign before a number belongs to it.
        let operator = match hear_prefix(self.from.name, operator) {
            Some(id) => Sign::Phrase(id, Some(operator)),
            None => Sign::Own(operator),
        };
        ExprKind::Unary(Box::new(Unary { operator, operand }))
    }

    pub(super) fn heard_operator(&mut self, operator: Operator, left: Expr<Spelled>, right: Expr<Spelled>, span: Span) -> ExprKind<Meant> {
        let left = self.expr(left);
        let right = self.expr(right);
        let is_or = operator == Operator::Symbol(Symbol::Concat) && self.spelling.bars_mean_or;
        if is_or {
            return ExprKind::Logic(LogicOperator::Or, vec![left, right]);
        }
        if operator == Operator::Symbol(Symbol::AndAnd) && matches!(self.from.name, DialectName::Mysql | DialectName::Mariadb) {
            return ExprKind::Logic(LogicOperator::And, vec![left, right]);
        }
        let sign = match operator {
            Operator::Symbol(Symbol::Slash) => {
                let drops = matches!(self.from.name, DialectName::Postgres | DialectName::Tsql | DialectName::Sqlite);
                Sign::Phrase(self.division(&left, &right, drops, span), Some(operator))
            }
            // Observed on DuckDB 1.3 and 2.0: it cuts the quotient of whole numbers, no other.
            Operator::Symbol(Symbol::SlashSlash) if self.from.name == DialectName::Duckdb => {
                Sign::Phrase(self.division(&left, &right, true, span), Some(operator))
            }
            Operator::Symbol(Symbol::Plus | Symbol::Minus) => self.plus_or_minus(operator, &left, &right, span),
            _ => match hear_operator(self.from.name, operator) {
                Some(id) => Sign::Phrase(id, Some(operator)),
                None => Sign::Own(operator),
            },
        };
        self.note_empty_text(sign, &left, &right, span);
        ExprKind::Binary(Box::new(Binary { operator: sign, left, right }))
    }

    /// A division that keeps the fraction, or drops it if both sides are whole numbers.
    fn division(&mut self, left: &Expr<Meant>, right: &Expr<Meant>, drops: bool, span: Span) -> meaning::PhraseId {
        let (a, b) = (infer(left).data_type, infer(right).data_type);
        let fraction = |t: &DataType| matches!(t, DataType::Decimal(_) | DataType::Float(_));
        if fraction(&a) || fraction(&b) {
            return phrase_named("number.divide-decimals");
        }
        if !drops {
            return phrase_named("number.divide");
        }
        let whole = |t: &DataType| matches!(t, DataType::Integer(_));
        if whole(&a) && whole(&b) {
            return phrase_named("number.divide-whole");
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
        phrase_named("number.divide-decimals")
    }

    /// `+` joins texts in SQL Server; with dates it moves a day, which is no sum of numbers.
    fn plus_or_minus(&mut self, operator: Operator, left: &Expr<Meant>, right: &Expr<Meant>, span: Span) -> Sign {
        let (a, b) = (infer(left).data_type, infer(right).data_type);
        let plus = operator == Operator::Symbol(Symbol::Plus);
        if plus && self.from.name == DialectName::Tsql && (a.is_text() || b.is_text()) {
            return Sign::Phrase(phrase_named("text.concatenate"), Some(operator));
        }
        let date = |t: &DataType| matches!(t, DataType::Date | DataType::Timestamp(_) | DataType::TimestampZoned | DataType::Interval);
        let interval = |e: &Expr<Meant>| matches!(e.without_parens().kind, ExprKind::Interval(_));
        if date(&a) || date(&b) || interval(left) || interval(right) {
            return Sign::Own(operator);
        }
        if plus && self.from.name == DialectName::Tsql && a == DataType::Unknown && b == DataType::Unknown {
            self.note(
                Note::new("text.plus-untyped", span, "+ joins texts or adds numbers; the types here are not known, so it adds")
                    .advise("give the schema with --schema, or say it: --assume 'table.column: text'")
                    .broken_by(Breach::Value(ValueClass::Text, left.span)),
            );
        }
        let id = phrase_named(if plus { "number.add" } else { "number.subtract" });
        Sign::Phrase(id, Some(operator))
    }

    /// Oracle: `x = ''` is never true.
    fn note_empty_text(&mut self, sign: Sign, left: &Expr<Meant>, right: &Expr<Meant>, span: Span) {
        let compares = matches!(sign, Sign::Phrase(id, _) if id.phrase().id.starts_with("compare."));
        let empty =
            |e: &Expr<Meant>| matches!(&e.without_parens().kind, ExprKind::Literal(Constant::Text { value, .. }) if value.is_empty());
        if self.from.name == DialectName::Oracle && compares && (empty(left) || empty(right)) {
            self.note(
                Note::new(
                    "text.empty-is-null",
                    span,
                    "Oracle reads '' as NULL, so this comparison is never true there; in the target it can be",
                )
                .advise("write IS NULL or IS NOT NULL, whichever was meant"),
            );
        }
    }
}
