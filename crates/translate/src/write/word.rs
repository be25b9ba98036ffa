//! Phrases in the target's words, with notes where an edge differs.

use meaning::{
    ArgumentKind, Binding, Breach, Constant, Fidelity, Function, Guard, Letters, Meant, Note, Phrase, PhraseId, PhraseKind, Sign, Slot,
    Template, TypeWord, ValueClass, can_be, hear_operator, hear_prefix, infer, is_default, is_known, named_calls, near_calls, phrase,
    phrase_named,
};
use syntax::tree::{
    Argument, Binary, Call, CallForm, CallTail, Cast, Expr, ExprKind, IsTest, IsWhat, Literal, ObjectName, Operator, Over, Span, Spelled,
    StageMap, TypeName, Unary, map_arguments, map_expr, map_tail,
};
use syntax::{DialectName, Symbol};
use values::{DataType, Value};

use super::choice::{as_case, each_named_once};
use super::fill::Filler;
use super::pattern_traits::Asked;
use super::regex;
use super::{Writer, bind};
use crate::shape::{as_text, in_digits, is_null_literal};
use crate::untranslated;

type S = Expr<Spelled>;
type M = Expr<Meant>;

/// How the target says a phrase here.
enum Choice {
    /// With a template, which holds for all arguments or for these, and does what the phrase does in
    /// spite of the target's own word or not.
    Template(Template, &'static [(usize, Guard)], bool),
    /// With a CASE put together from the arguments.
    Case,
    /// Not at all.
    Refuse(&'static str),
}

/// What the target does at an edge.
#[derive(Clone, Copy)]
pub(super) enum Target {
    /// What its own word does, by the book.
    AsItsWord,
    /// What the phrase does.
    AsThePhrase,
}

impl Writer<'_> {
    pub(super) fn write_call(&mut self, call: Call<Meant>, span: Span) -> ExprKind<Spelled> {
        let (id, name) = match call.function {
            Function::Phrase(id, name) => (id, name),
            Function::Unresolved(name) => {
                self.note_unknown(&name, call.arguments.len(), span);
                return ExprKind::Call(Box::new(Call {
                    function: self.own_function(name),
                    form: call.form,
                    quantifier: call.quantifier,
                    arguments: map_arguments(self, call.arguments),
                    tail: call.tail.map(|t| Box::new(self.write_tail(*t))),
                }));
            }
        };
        let values: Vec<M> = call.arguments.into_iter().map(|a| a.value).collect();
        let tail = call.tail.map(|t| Box::new(self.write_tail(*t)));
        let said = self.write_phrase(id, Some((&name, call.form)), values, span);
        // DISTINCT, OVER and the like belong to the outermost call.
        let bare = tail.as_deref().is_none_or(|t| *t == CallTail::default()) && call.quantifier.is_none();
        match said.kind {
            ExprKind::Call(mut outer) if !bare => {
                outer.quantifier = call.quantifier;
                outer.tail = tail;
                ExprKind::Call(outer)
            }
            kind => {
                if !bare {
                    self.refuse(span, &format!("{} with these clauses", id.phrase().id));
                }
                kind
            }
        }
    }

    fn note_unknown(&mut self, name: &ObjectName, count: usize, span: Span) {
        // MySQL's CHAR is no phrase, as it gives bytes; MariaDB's does the same.
        if self.facts.convert_using && self.source_facts.convert_using && name.last().is_word("char") {
            return;
        }
        let place = if name.last().token == u32::MAX { span } else { name.last().span() };
        let dotted = name.dotted();
        let (source, target) = (self.from.name.title(), self.to.name.title());
        let there = meaning::builtin(self.to.name, &dotted).is_some();
        if meaning::builtin(self.from.name, &dotted).is_none() {
            self.note_own_function(&dotted, there, place);
            return;
        }
        // MariaDB began as MySQL: what both have by one name has one meaning, as far as is known.
        if there && self.facts.convert_using && self.source_facts.convert_using {
            let message = format!("{source} and {target} both have {dotted}, which the phrasebook lacks; it is kept by its name");
            self.note(Note::new("name.unknown", place, message).advise("check that it does the same in both"));
            return;
        }
        let counts: Vec<String> = meaning::argument_counts(self.from.name, &dotted).iter().map(ToString::to_string).collect();
        let message = match counts.as_slice() {
            [] => format!("{dotted} of {source} is not translated to {target}"),
            _ if counts.contains(&count.to_string()) => {
                format!("{dotted} of {source} is not translated to {target} with arguments of these types")
            }
            _ => format!("{dotted} of {source} is translated with {} arguments, not with {count}", counts.join(" or ")),
        };
        let mut note = Note::new("function.not-translated", if span.is_read() { span } else { place }, message);
        if there {
            note = note.advise(format!("{target} has a function of that name too: check by hand whether it does the same"));
        }
        self.note(note.about(dotted.to_uppercase()));
    }

    /// A function that the source's server doesn't have by itself.
    fn note_own_function(&mut self, name: &str, there: bool, place: Span) {
        let target = self.to.name.title();
        if there {
            let message =
                format!("{name} is a function of your own, and {target} has a built-in function of that name, which is called instead");
            self.note(Note::new("name.taken", place, message).advise("call your own by its schema, or give it another name"));
            return;
        }
        let near =
            near_calls(self.from.name, name).map_or(String::new(), |near| format!("; a built-in function of a similar name is {near}"));
        let message = format!("{name} is no built-in function of {}: it is kept as one of your own", self.from.name.title());
        self.note(
            Note::new("name.unknown", place, message)
                .about(name.to_uppercase())
                .advise(format!("make sure that it exists in {target} and does the same{near}")),
        );
    }

    /// What follows the arguments; the names of windows are names.
    fn write_tail(&mut self, tail: CallTail<Meant>) -> CallTail<Spelled> {
        let mut tail = map_tail(self, tail);
        let name = match &mut tail.over {
            Some(Over::Named(name)) => Some(name),
            Some(Over::Window(window)) => window.base.as_mut(),
            None => None,
        };
        if let Some(name) = name {
            *name = self.name(name.clone());
        }
        tail
    }

    pub(super) fn refuse(&mut self, span: Span, what: &str) {
        let title = self.to.name.title();
        self.note(Note::new("construct.not-translated", span, format!("{what} is not translated to {title}")));
    }

    /// PostgreSQL's words for strings take whole numbers of 32 bits, and no wider column.
    fn short_integers(&self, phrase: &Phrase, arguments: &mut [M]) {
        if self.to.name != DialectName::Postgres || !phrase.id.starts_with("text.") {
            return;
        }
        for (takes, argument) in phrase.takes.iter().zip(arguments) {
            let wide = matches!(
                &argument.without_parens().kind,
                ExprKind::Column(Binding { data_type: DataType::Integer(33..) | DataType::Decimal(Some((_, 0))), .. })
            );
            if wide && takes.kind == ArgumentKind::Integer {
                let to = TypeWord { data_type: DataType::Integer(32), spelled: TypeName::synthetic("INTEGER", Vec::new()) };
                let span = argument.span;
                *argument = Expr { kind: ExprKind::Cast(Box::new(Cast::plain(argument.take(), to))), span };
            }
        }
    }

    /// A phrase on its arguments. `written` is how the source called it, which stays if the target
    /// hears it as the same.
    pub(super) fn write_phrase(&mut self, id: PhraseId, written: Option<(&ObjectName, CallForm)>, mut arguments: Vec<M>, span: Span) -> S {
        if self.from.name != self.to.name && (id.phrase().id.starts_with(phrase::TEXT_CONCATENATE) || id.phrase().id == phrase::TEXT_JOIN) {
            self.join_texts(id.phrase().id, &mut arguments, span);
        }
        if self.from.name != self.to.name {
            self.refuse_fraction_in_hexadecimal(id.phrase(), &arguments, span);
            self.numbers_as_texts(id.phrase(), &mut arguments);
            self.short_integers(id.phrase(), &mut arguments);
        }
        if matches!(id.phrase().gives, "values" | "value" | "a" | "pairs") {
            self.arguments_of_common_type(id.phrase().id, &mut arguments);
        }
        if id.phrase().id == phrase::TEXT_TRANSLATE && self.from.name != self.to.name {
            each_named_once(&mut arguments);
        }
        let refs: Vec<&M> = arguments.iter().collect();
        let id = self.by_types(id, &refs);
        let phrase = id.phrase();
        if matches!(phrase.id, phrase::AGGREGATE_SUM | phrase::AGGREGATE_AVERAGE) {
            self.note_quotient(&refs, span);
        }
        if self.from.name != self.to.name {
            self.note_arguments(phrase, &refs, span);
        }
        if self.is_null_of(phrase, &refs) {
            return Expr::synthetic(ExprKind::Literal(Literal::Null));
        }
        // The first or the greatest of one value: some engines want two.
        if self.from.name != self.to.name && arguments.len() == 1 && is_choice(phrase.id) {
            return Expr { span, ..self.expr(arguments.remove(0)) };
        }
        if let Some(said) = self.write_sequence(phrase, &refs) {
            return said;
        }
        let (template, guards, exact) = match self.choice(phrase, &refs) {
            Choice::Template(template, guards, exact) => (template, guards, exact),
            Choice::Case => return self.write_case(phrase, arguments, span),
            Choice::Refuse(why) => {
                let message = format!("{}: {why}", self.to.name.title());
                self.note(Note::new("construct.not-translated", span, message).coded(phrase.id));
                return untranslated::word(phrase.id, span);
            }
        };
        // What the phrase does is wanted of the target, but where its own word does what the source's does.
        let keeps = |(name, form): &(&ObjectName, CallForm)| self.kept_places(id, name, *form, &refs).is_some();
        let exact = exact && !(self.words_do_alike(phrase) && written.as_ref().is_some_and(keeps));
        let target = if exact { Target::AsThePhrase } else { Target::AsItsWord };
        self.note_edges(phrase, &refs, guards, target, span);
        let arguments = self.in_flavour(phrase, arguments, span);
        let refs: Vec<&M> = arguments.iter().collect();
        let is_chosen = !guards.is_empty() || exact;
        let kept = written.filter(|_| !is_chosen).and_then(|(name, form)| Some((name, form, self.kept_places(id, name, form, &refs)?)));
        if let Some((name, form, slots)) = kept {
            let said = arguments.into_iter().map(|a| self.expr(a)).collect();
            return placed(name.clone(), form, slots, said);
        }
        let nullable = if template.tests_null { refs.iter().map(|a| infer(a).nullable).collect() } else { Vec::new() };
        let repeated = bind::repeated(phrase, template, &refs);
        let mut said: Vec<S> = arguments.into_iter().map(|a| self.expr(a)).collect();
        let bound = self.to_bind(&repeated, &said, span);
        let named = bound.named(&mut said);
        let mut out = bound.wrap(Filler::new(phrase, &said, &nullable).fill(template), named);
        // The word the source wrote stays as it was written.
        if let (ExprKind::Call(call), Some((name, _))) = (&mut out.kind, written)
            && name.as_single().is_some_and(|n| call.function.as_single().is_some_and(|own| own.is_word(&n.text)))
        {
            call.function = name.clone();
        }
        out
    }

    /// What is joined to a string must be one: SQL Server's + adds as soon as one side is a number,
    /// COALESCE with '' and arrays take one type, and a fraction is written in another way.
    fn join_texts(&mut self, phrase: &str, arguments: &mut [M], span: Span) {
        let texts_only = match self.to.name {
            DialectName::SqlServer => phrase != phrase::TEXT_JOIN,
            DialectName::Bigquery | DialectName::Spark => phrase != phrase::TEXT_CONCATENATE,
            _ => false,
        };
        let is_untyped = |e: &M| matches!(e.kind, ExprKind::Column(_)) && infer(e).data_type == DataType::Unknown;
        if texts_only && arguments.iter().any(is_untyped) {
            self.note(crate::untyped(span, "what is joined here is taken for strings: the types are not known"));
        }
        for argument in arguments {
            if texts_only || self.writes_otherwise(&infer(argument).data_type) {
                as_text(argument);
            }
        }
    }

    /// Numbers where a string is wanted, which some engines take as their digits and others don't take, or
    /// write in another way: LPAD(id, 5, '0').
    fn numbers_as_texts(&self, phrase: &'static Phrase, arguments: &mut [M]) {
        // A cast is of a number as well; and what SQL Server stores of one is not its digits.
        if phrase.id.starts_with("cast.")
            || matches!(phrase.id, phrase::TEXT_IS_NUMBER | phrase::TEXT_IS_NUMERIC | phrase::TEXT_LENGTH_AS_STORED)
        {
            return;
        }
        // What joins and passes over NULL takes values of all types.
        let last = phrase.takes.last().filter(|parameter| parameter.repeated && phrase.id == phrase::TEXT_CONCATENATE);
        for (parameter, argument) in phrase.takes.iter().chain(last.into_iter().cycle()).zip(arguments) {
            if parameter.kind == ArgumentKind::String && self.wants_text_for(&infer(argument).data_type) {
                in_digits(argument);
            }
        }
    }

    /// Whether a number must be made a string where one is wanted.
    pub(super) fn wants_text_for(&self, given: &DataType) -> bool {
        use DialectName::{Bigquery, Duckdb, Postgres, SqlServer};
        given.is_numeric() && (matches!(self.to.name, Bigquery | Duckdb | Postgres | SqlServer) || self.writes_otherwise(given))
    }

    /// Constant regular expressions and replacements in the target's flavour.
    fn in_flavour(&mut self, phrase: &'static Phrase, mut arguments: Vec<M>, span: Span) -> Vec<M> {
        if self.from.name == self.to.name {
            return arguments;
        }
        let text_span = arguments.first().map_or(span, |a| a.span);
        for (parameter, argument) in phrase.takes.iter().zip(&mut arguments) {
            if !matches!(parameter.kind, ArgumentKind::Regex | ArgumentKind::Replacement) {
                continue;
            }
            let Some(Value::Text(text)) = meaning::constant(argument) else {
                if parameter.kind == ArgumentKind::Regex {
                    let message = "the pattern is worked out by the query, so it could not be put into the target's flavour";
                    let note = Note::new("name.unknown", span, message).coded(phrase.id);
                    self.note(note.advise("make sure that it means the same in both flavours"));
                }
                continue;
            };
            let converted = match parameter.kind {
                ArgumentKind::Regex => {
                    self.note_pattern(&Asked { phrase: phrase.id, pattern: &text, text: text_span }, span);
                    regex::pattern(phrase.id, &text, self.from.name, self.to.name).map_err(|what| what + " in a regular expression")
                }
                ArgumentKind::Replacement => regex::replacement(&text, self.from.name, self.to.name),
                _ => continue,
            };
            let converted = match converted {
                Ok(converted) => converted,
                Err(what) => {
                    let message = format!("{} can't say {what}", self.to.name.title());
                    self.note(Note::new("construct.not-translated", span, message).coded(phrase.id));
                    continue;
                }
            };
            if converted != text.as_str() {
                let constant = Constant::Text { value: converted.into(), written: None };
                argument.kind = ExprKind::Literal(constant);
            }
        }
        arguments
    }

    /// NULL is written as an argument, and gives NULL in the source: there is nothing else to say.
    fn is_null_of(&self, phrase: &'static Phrase, arguments: &[&M]) -> bool {
        let differs = |at: usize| {
            let own = phrase.edges.iter().find(|e| e.class == Some((at, ValueClass::Null)));
            own.is_some_and(|e| e.result(self.from) != "NULL")
        };
        let is_word = phrase.kind == PhraseKind::Scalar && phrase.strict && phrase.gives != "boolean" && self.from.name != self.to.name;
        is_word && (0..arguments.len()).any(|at| is_null_literal(arguments[at]) && !differs(at))
    }

    fn write_case(&mut self, phrase: &'static Phrase, arguments: Vec<M>, span: Span) -> S {
        // It is put together so that NULL does what it does in the source.
        let settled: Vec<(usize, Guard)> = (0..phrase.takes.len()).map(|at| (at, Guard::Never(ValueClass::Null))).collect();
        self.note_edges(phrase, &arguments.iter().collect::<Vec<_>>(), &settled, Target::AsItsWord, span);
        match as_case(phrase.id, arguments, self.from.name) {
            // What is noted of the case is noted of the word.
            Some(case) => Expr { span, ..self.expr(Expr { span, ..case }) },
            None => {
                self.refuse(span, &format!("{} of these arguments (it takes constants here, and not too many)", phrase.id));
                Expr::synthetic(ExprKind::Default)
            }
        }
    }

    /// The first template of the target's whose conditions are known to hold.
    fn choice(&self, phrase: &'static Phrase, arguments: &[&M]) -> Choice {
        for say in phrase.said(self.to) {
            if !say.guards.iter().all(|(at, guard)| is_known(*guard, *at, &phrase.takes[*at], arguments)) {
                continue;
            }
            if say.guards.iter().any(|(at, guard)| self.does_as_the_source(phrase, *at, *guard)) {
                continue;
            }
            if let Some(why) = say.refuse {
                return Choice::Refuse(why);
            }
            if say.case.is_some() {
                return Choice::Case;
            }
            if let Some(template) = Template::read(say.sql, self.to.name) {
                return Choice::Template(template, say.guards, say.exact);
            }
        }
        Choice::Refuse("there is no template for this version; name a later one with --to DIALECT@VERSION")
    }

    /// Whether the source does another thing than the phrase with what a template is chosen for, and the
    /// target's own word does the same.
    fn does_as_the_source(&self, phrase: &Phrase, at: usize, guard: Guard) -> bool {
        let edge = phrase.edges.iter().find(|e| e.class.is_some_and(|(about, c)| about == at && guard == Guard::Always(c)));
        edge.is_some_and(|e| e.result(self.from) == e.result(self.to) && e.result(self.from) != e.gives)
    }

    /// Whether the words of source and target do the same wherever dialects differ: then none is put right.
    fn words_do_alike(&self, phrase: &Phrase) -> bool {
        phrase.edges.iter().all(|e| e.result(self.from) == e.result(self.to))
    }

    /// Whether the target hears this phrase in an operator.
    fn hears(&self, operator: Operator, id: PhraseId) -> bool {
        hear_operator(self.to.name, operator) == Some(id) && !id.phrase().came_later(self.to)
    }

    /// What is in the places of the source's own call, if the target hears the same phrase in it.
    fn kept_places(&self, id: PhraseId, name: &ObjectName, form: CallForm, arguments: &[&M]) -> Option<&'static [Slot]> {
        let word = name.as_single()?;
        if form == CallForm::Word {
            return (meaning::hear_word(self.to.name, &word.text) == Some(id)).then_some(&[][..]);
        }
        let takes = id.phrase().takes;
        if id.phrase().came_later(self.to) {
            return None;
        }
        let is_left_out = |at: usize| arguments.get(at).is_some_and(|a| !a.span.is_read() && is_default(a, &takes[at]));
        // Each argument has its place, but for those that nobody wrote; of these none has one.
        let fits = |slots: &[Slot]| {
            (0..takes.len()).all(|at| {
                let has_place = slots.contains(&Slot::Argument(at)) || slots.contains(&Slot::Rest(at));
                has_place != is_left_out(at) || takes[at].repeated
            })
        };
        let heard = named_calls(self.to.name, &word.text, id).find(|h| h.form == form && fits(&h.slots))?;
        Some(heard.slots.as_slice())
    }

    /// IS [NOT] DISTINCT FROM, and IS between two values: as it is where the target has a form of IS
    /// for it, else by the phrase.
    pub(super) fn write_sameness(&mut self, expr: M) -> S {
        let span = expr.span;
        if self.from.name == self.to.name {
            return map_expr(self, expr);
        }
        let ExprKind::Is(test) = expr.kind else { return self.expr(expr) };
        let (other, same) = match test.what {
            IsWhat::DistinctFrom(other) => (other, test.negated),
            IsWhat::Same(other) => (other, !test.negated),
            what => return map_expr(self, Expr { kind: ExprKind::Is(Box::new(IsTest { what, ..*test })), span }),
        };
        let id = phrase_named(if same { phrase::COMPARE_SAME } else { phrase::COMPARE_DISTINCT });
        Expr { span, ..self.write_phrase(id, None, vec![test.operand, other], span) }
    }

    pub(super) fn write_prefix(&mut self, sign: Sign, operand: M, span: Span) -> ExprKind<Spelled> {
        let is_sign = matches!(
            sign,
            Sign::Unresolved(Operator::Symbol(Symbol::Minus | Symbol::Plus))
                | Sign::Phrase(_, Some(Operator::Symbol(Symbol::Minus | Symbol::Plus)))
        );
        // PostgreSQL can't tell which minus of NULL is meant.
        if is_sign && self.from.name != self.to.name && is_null_literal(&operand) {
            return ExprKind::Literal(Literal::Null);
        }
        let (id, written) = match sign {
            Sign::Phrase(id, written) => (id, written),
            Sign::Unresolved(operator) => return ExprKind::Unary(Box::new(Unary { operator, operand: self.expr(operand) })),
        };
        if let Some(operator) = written.filter(|o| hear_prefix(self.to.name, *o) == Some(id)) {
            self.note_edges(id.phrase(), &[&operand], &[], Target::AsItsWord, span);
            return ExprKind::Unary(Box::new(Unary { operator, operand: self.expr(operand) }));
        }
        self.write_phrase(id, None, vec![operand], span).kind
    }

    pub(super) fn write_operator(&mut self, sign: Sign, left: M, right: M, span: Span) -> ExprKind<Spelled> {
        if let Some(kind) = self.beside_null(sign, &left, &right) {
            return kind;
        }
        self.note_quotient(&[&left, &right], span);
        let Sign::Phrase(id, written) = sign else {
            let (left, right) = (self.expr(left), self.expr(right));
            let operator = self.operator_of(sign);
            return ExprKind::Binary(Box::new(Binary { operator, left, right }));
        };
        if self.from.name != self.to.name {
            self.note_wide_numbers(id.phrase(), &[&left, &right], span);
        }
        let id = self.by_types(id, &[&left, &right]);
        // An exact way of saying it, where there is one, goes before the bare operator.
        let has_exact = self.from.name != self.to.name
            && id.phrase().say[self.to.name as usize].iter().any(|s| s.exact)
            && !self.words_do_alike(id.phrase());
        // Numbers that are joined to strings may have to be made strings.
        let joins_numbers = self.from.name != self.to.name
            && id.phrase().id == phrase::TEXT_CONCATENATE
            && [&left, &right].iter().any(|e| infer(e).data_type.is_numeric());
        if let Some(operator) = written.filter(|o| !has_exact && !joins_numbers && self.hears(*o, id)) {
            self.note_edges(id.phrase(), &[&left, &right], &[], Target::AsItsWord, span);
            return ExprKind::Binary(Box::new(Binary { operator, left: self.expr(left), right: self.expr(right) }));
        }
        let parts = self.chain(id, left, right);
        self.write_phrase(id, None, parts, span).kind
    }

    /// What is left of an operation with NULL itself: a test for NULL, or in BigQuery, whose operators take
    /// no bare NULL, NULL of a type.
    fn beside_null(&mut self, sign: Sign, left: &M, right: &M) -> Option<ExprKind<Spelled>> {
        let Sign::Phrase(id, _) = sign else { return None };
        let other = match (is_null_literal(left), is_null_literal(right)) {
            (false, true) => left,
            (true, false) => right,
            // PostgreSQL can't tell which operator two of them want.
            (true, true) if self.from.name != self.to.name && id.phrase().strict && id.phrase().gives != "boolean" => {
                return Some(ExprKind::Literal(Literal::Null));
            }
            _ => return None,
        };
        match id.phrase().id {
            _ if self.from.name == self.to.name => None,
            phrase @ (phrase::COMPARE_SAME | phrase::COMPARE_DISTINCT) => {
                Some(self.expr(crate::shape::null_test(other.clone(), phrase == phrase::COMPARE_DISTINCT)).kind)
            }
            phrase if self.to.name == DialectName::Bigquery && phrase.starts_with("compare.") => {
                let null = Expr::synthetic(ExprKind::Literal(Literal::Null));
                Some(Expr::cast(null, "BOOL").kind)
            }
            _ if self.to.name == DialectName::Bigquery && id.phrase().strict => Some(ExprKind::Literal(Literal::Null)),
            _ => None,
        }
    }

    /// The operands of a chain, where the target says the whole chain with one call.
    fn chain(&self, id: PhraseId, left: M, right: M) -> Vec<M> {
        let phrase = id.phrase();
        let mut parts = vec![right];
        let mut rest = left;
        if phrase.takes.last().is_some_and(|t| t.repeated) {
            while let ExprKind::Binary(binary) = rest.kind {
                if !matches!(binary.operator, Sign::Phrase(inner, _) if inner == id) {
                    rest.kind = ExprKind::Binary(binary);
                    break;
                }
                parts.push(binary.right);
                rest = binary.left;
            }
        }
        parts.push(rest);
        parts.reverse();
        parts
    }

    /// The operator a comparison with ANY or ALL is said with.
    pub(super) fn operator_of(&self, sign: Sign) -> Operator {
        match sign {
            Sign::Unresolved(operator) => operator,
            Sign::Phrase(id, written) => {
                let own = written.filter(|o| self.hears(*o, id));
                let said = || {
                    let say = id.phrase().said(self.to).last()?;
                    match &Template::read(say.sql, self.to.name)?.tree.kind {
                        ExprKind::Binary(binary) => Some(binary.operator),
                        _ => None,
                    }
                };
                own.or_else(said).or(written).unwrap_or(Operator::Symbol(Symbol::Equal))
            }
        }
    }

    // --- edges ---------------------------------------------------------------------------------

    /// A note for each class of inputs in which source and target give different results, unless the
    /// arguments can't be of it or the template was chosen for what they are.
    pub(super) fn note_edges(&mut self, phrase: &'static Phrase, arguments: &[&M], guards: &[(usize, Guard)], does: Target, span: Span) {
        for edge in phrase.edges {
            let Some((about, class)) = edge.class else { continue };
            let known = || guards.iter().filter(|(at, _)| *at == about).map(|(_, guard)| guard);
            if known().any(|guard| guard.excludes(class)) {
                continue;
            }
            // What was chosen for such a value does what the phrase does.
            let target = match does {
                Target::AsItsWord if known().any(|guard| guard.settles(class)) => edge.gives,
                Target::AsItsWord => edge.result(self.to),
                Target::AsThePhrase => edge.gives,
            };
            let source = edge.result(self.from);
            if source == target || source == "?" || target == "?" {
                continue;
            }
            // A string of Oracle is never empty; what could end so is NULL by now.
            if matches!(class, ValueClass::Empty) && self.source_facts.empty_is_null {
                continue;
            }
            // Of an argument that represents several, any of them.
            let last = if phrase.takes[about].repeated { arguments.len() } else { about + 1 };
            let Some(about) = (about..last).find(|at| can_be(class, *at, arguments)) else { continue };
            let mut note = Note::new("name.unknown", span, "").coded(edge.code.unwrap_or(phrase.id));
            // Where constants or types say so, it always shows.
            let parameter = &phrase.takes[about.min(phrase.takes.len() - 1)];
            let always =
                is_known(Guard::Always(class), about, parameter, arguments) && !matches!(class, ValueClass::Null | ValueClass::Letters);
            note.fidelity = if always { Fidelity::Differs } else { Fidelity::Assumes };
            let (source, target) = (meaning::in_words(source), meaning::in_words(target));
            note.message =
                format!("{}: {} gives {source}, {} gives {target}", edge.about, self.from.name.title(), self.to.name.title()).into();
            // What doesn't fit comes to light where the value it replaces is NULL.
            note.breach = match class {
                ValueClass::Letters if edge.code.is_some() => {
                    // A side that gives what the phrase gives passes over nothing here.
                    let letters = |result: &str, own: Letters| if result == edge.gives { Letters::default() } else { own };
                    let (source, target) = (letters(source, self.source_facts.letters), letters(target, self.facts.letters));
                    // One text is looked for in another, as by LIKE.
                    Some(Breach::Strings { source, target, only_like: true })
                }
                ValueClass::WiderThan(other) => arguments.get(other).map(|a| Breach::Value(ValueClass::Null, a.span)),
                class => arguments.get(about).map(|a| Breach::Value(class, a.span)),
            };
            let when = in_words(edge.when, phrase, arguments);
            note.advice =
                Some(if always { format!("this is so here: {when}") } else { format!("make sure that this never happens: {when}") }.into());
            self.note(note);
        }
    }
}

/// One of its values is what it gives.
fn is_choice(phrase: &str) -> bool {
    phrase == phrase::NULL_FIRST_NOT_NULL || phrase.starts_with("greatest.") || phrase.starts_with("least.")
}

/// A call with its arguments in its own order.
fn placed(function: ObjectName, form: CallForm, slots: &[Slot], arguments: Vec<S>) -> S {
    let mut arguments: Vec<Option<S>> = arguments.into_iter().map(Some).collect();
    let mut placed = Vec::new();
    for slot in slots {
        match slot {
            Slot::Argument(at) => placed.extend(arguments.get_mut(*at).and_then(Option::take)),
            Slot::Rest(at) => placed.extend(arguments.iter_mut().skip(*at).filter_map(Option::take)),
            Slot::Constant(expr) => placed.push((*expr).clone()),
            Slot::Star => placed.push(Expr::synthetic(ExprKind::Star(None))),
        }
    }
    let arguments = placed.into_iter().map(|value| Argument { name: None, value }).collect();
    Expr::synthetic(ExprKind::Call(Box::new(Call { function, form, quantifier: None, arguments, tail: None })))
}

const ORDINALS: [&str; 4] = ["first", "second", "third", "fourth"];

/// The class of an edge with the arguments' own names.
fn in_words(when: &str, phrase: &Phrase, arguments: &[&M]) -> String {
    let mut words = when.to_string();
    for (i, parameter) in phrase.takes.iter().enumerate() {
        let shown = match arguments.get(i).map(|e| &e.without_parens().kind) {
            Some(ExprKind::Column(binding)) => binding.name.dotted(),
            Some(ExprKind::Literal(Constant::Number(digits))) => digits.to_string(),
            Some(ExprKind::Literal(Constant::Text { value, .. })) if value.chars().count() <= 20 => format!("'{value}'"),
            _ if parameter.name.len() == 1 => format!("the {} argument", ORDINALS.get(i).unwrap_or(&"last")),
            _ => format!("the {}", parameter.name),
        };
        words = words.replace(&format!(":{}", parameter.name), &shown);
    }
    words
}
