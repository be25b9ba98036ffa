//! Phrases in the target's words, with notes where an edge differs.

use meaning::{
    Breach, Fidelity, Function, Meant, Note, PhraseId, Sign, Template, ValueClass, hear_call, hear_operator, hear_prefix, template,
};
use syntax::tree::{
    Argument, Binary, Call, CallForm, CallTail, Expr, ExprKind, Operator, Over, Span, Spelled, StageMap, Unary, map_arguments, map_tail,
};
use values::DataType;

use super::Writer;

type S = Expr<Spelled>;

impl Writer<'_> {
    pub(super) fn said_call(&mut self, call: Call<Meant>, span: Span) -> ExprKind<Spelled> {
        let (id, name) = match call.function {
            Function::Phrase(id, name) => (id, name),
            Function::Own(name) => {
                let place = if name.last().token == u32::MAX { span } else { name.last().span() };
                self.note(
                    Note::new(
                        "name.unknown",
                        place,
                        format!("the function {} is not in the phrasebook and is kept by its name", name.dotted()),
                    )
                    .advise("check that the target has a function of that name that does the same"),
                );
                return ExprKind::Call(Box::new(Call {
                    function: self.own_function(name),
                    form: call.form,
                    quantifier: call.quantifier,
                    arguments: map_arguments(self, call.arguments),
                    tail: call.tail.map(|t| Box::new(self.said_tail(*t))),
                }));
            }
        };
        let values: Vec<&Expr<Meant>> = call.arguments.iter().map(|a| &a.value).collect();
        let id = self.by_types(id, &values);
        self.note_edges(id, &values, span);
        let arguments = map_arguments(self, call.arguments);
        let tail = call.tail.map(|t| Box::new(self.said_tail(*t)));
        let star = id.phrase().id == "aggregate.count-rows";
        let count = if call.form == CallForm::Word { None } else { Some(arguments.len()) };
        let written = name.last().text.clone();
        if !written.is_empty() && hear_call(self.to.name, &written, count, star) == Some(id) {
            let arguments = if star { vec![Argument { name: None, value: Expr::made(ExprKind::Star(None)) }] } else { arguments };
            return ExprKind::Call(Box::new(Call { function: name, form: call.form, quantifier: call.quantifier, arguments, tail }));
        }
        let arguments: Vec<S> = arguments.into_iter().map(|a| a.value).collect();
        let mut said = self.fill(id, &arguments, span);
        // DISTINCT, OVER and the like belong to the outermost call.
        if let ExprKind::Call(outer) = &mut said.kind {
            outer.quantifier = call.quantifier;
            outer.tail = tail;
        } else if tail.as_deref().is_some_and(|t| *t != CallTail::default()) || call.quantifier.is_some() {
            self.refuse(span, &format!("{} with these clauses", id.phrase().id));
        }
        said.kind
    }

    /// What stands behind the arguments; the names of windows are names.
    fn said_tail(&mut self, tail: CallTail<Meant>) -> CallTail<Spelled> {
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

    /// The template of a phrase with its arguments in place.
    fn fill(&mut self, id: PhraseId, arguments: &[S], span: Span) -> S {
        match template(id, self.to.name) {
            Template::Tree(tree) => {
                let mut used = vec![false; arguments.len()];
                fill_tree(tree, id, arguments, &mut used)
            }
            Template::Refuse(why) => {
                let mut note = Note::new("construct.not-translated", span, why);
                note.code = id.phrase().id;
                self.note(note);
                Expr::made(ExprKind::Default)
            }
        }
    }

    pub(super) fn said_prefix(&mut self, sign: Sign, operand: S) -> ExprKind<Spelled> {
        let operator = match sign {
            Sign::Phrase(id, Some(operator)) if hear_prefix(self.to.name, operator) == Some(id) => operator,
            Sign::Own(operator) => operator,
            Sign::Phrase(id, _) => {
                let filled = self.fill(id, &[operand], Span::MADE);
                return filled.kind;
            }
        };
        ExprKind::Unary(Box::new(Unary { operator, operand }))
    }

    pub(super) fn said_operator(&mut self, sign: Sign, left: Expr<Meant>, right: Expr<Meant>, span: Span) -> ExprKind<Spelled> {
        let Sign::Phrase(id, written) = sign else {
            let (left, right) = (self.expr(left), self.expr(right));
            let operator = self.operator_of(sign);
            return ExprKind::Binary(Box::new(Binary { operator, left, right }));
        };
        let id = self.by_types(id, &[&left, &right]);
        self.note_edges(id, &[&left, &right], span);
        let (left, right) = (self.expr(left), self.expr(right));
        if let Some(operator) = self.plain_operator(id, written) {
            return ExprKind::Binary(Box::new(Binary { operator, left, right }));
        }
        self.fill(id, &[left, right], span).kind
    }

    /// The operator that says the phrase by itself: the source's own if the target hears it so.
    fn plain_operator(&self, id: PhraseId, written: Option<Operator>) -> Option<Operator> {
        let Template::Tree(tree) = template(id, self.to.name) else { return None };
        let ExprKind::Binary(binary) = &tree.kind else { return None };
        if Template::argument(&binary.left).is_none() || Template::argument(&binary.right).is_none() {
            return None;
        }
        match written {
            Some(operator) if hear_operator(self.to.name, operator) == Some(id) => Some(operator),
            _ => Some(binary.operator),
        }
    }

    pub(super) fn operator_of(&self, sign: Sign) -> Operator {
        match sign {
            Sign::Own(operator) => operator,
            Sign::Phrase(id, written) => self.plain_operator(id, written).or(written).unwrap_or(Operator::Symbol(syntax::Symbol::Equal)),
        }
    }

    // --- edges ---------------------------------------------------------------------------------

    fn note_edges(&mut self, id: PhraseId, arguments: &[&Expr<Meant>], span: Span) {
        let phrase = id.phrase();
        for edge in phrase.edges {
            let (source, target) = (edge.result(self.from.name), edge.result(self.to.name));
            if source == target {
                continue;
            }
            let Some((about, class)) = edge.class(phrase.takes).filter(|(about, class)| can_hold(*about, *class, arguments)) else {
                continue;
            };
            let mut note = Note::new("name.unknown", span, "");
            note.code = phrase.id;
            // Where the type says so, it always shows.
            let always = class == ValueClass::Whole
                && arguments.get(about).is_some_and(|a| matches!(meaning::infer(a).data_type, DataType::Integer(_)));
            note.fidelity = if always { Fidelity::Differs } else { Fidelity::Assumes };
            note.message =
                format!("{}: {} gives {source}, {} gives {target}", edge.about, self.from.name.title(), self.to.name.title()).into();
            // What doesn't fit comes to light where the value it replaces is NULL.
            note.breach = match class {
                ValueClass::WiderThan(other) => arguments.get(other).map(|a| Breach::Value(ValueClass::Null, a.span)),
                class => arguments.get(about).map(|a| Breach::Value(class, a.span)),
            };
            note.advice = Some(format!("check that it can't happen here: {}", in_words(edge.when, phrase.takes, arguments)).into());
            self.note(note);
        }
    }
}

/// Whether the class of an edge can be met, as far as constants, types and nullability tell.
fn can_hold(about: usize, class: ValueClass, arguments: &[&Expr<Meant>]) -> bool {
    let Some(argument) = arguments.get(about) else { return true };
    let known = meaning::infer(argument);
    match (class, &argument.without_parens().kind) {
        (ValueClass::Zero, _) => crate::rewrite::as_number(argument).map_or_else(|| class.can_hold_of(&known.data_type), |n| n == 0.0),
        (ValueClass::Null, _) => known.nullable,
        (ValueClass::BeyondAscii, ExprKind::Literal(meaning::Constant::Text { value, .. })) => !value.is_ascii(),
        (ValueClass::BeyondAscii, _) => !known.data_type.is_numeric(),
        (ValueClass::WiderThan(other), _) => arguments.get(other).is_none_or(|holder| !fits(argument, &meaning::infer(holder).data_type)),
        _ => class.can_hold_of(&known.data_type),
    }
}

/// Whether a value of `expr` is surely held by the type as it is.
fn fits(expr: &Expr<Meant>, holder: &DataType) -> bool {
    match (&expr.without_parens().kind, holder) {
        (_, DataType::Unknown) => false,
        (ExprKind::Literal(meaning::Constant::Text { value, .. }), DataType::Text { length, .. }) => {
            length.is_none_or(|n| value.chars().count() <= n as usize)
        }
        (ExprKind::Literal(meaning::Constant::Number(text)), DataType::Integer(_)) => text.parse::<i64>().is_ok(),
        _ => meaning::infer(expr).data_type == *holder,
    }
}

/// The class of an edge with the arguments' own names.
fn in_words(when: &str, takes: &[&str], arguments: &[&Expr<Meant>]) -> String {
    let mut words = when.to_string();
    for (i, name) in takes.iter().enumerate() {
        let shown = match arguments.get(i).map(|e| &e.without_parens().kind) {
            Some(ExprKind::Column(binding)) => binding.name.dotted(),
            _ => format!("the {} operand", if i == 0 { "first" } else { "second" }),
        };
        words = words.replace(&format!(":{name}"), &shown);
    }
    words
}

/// A template with its arguments in place; a second use of one has no place in the source.
fn fill_tree(tree: &S, id: PhraseId, arguments: &[S], used: &mut [bool]) -> S {
    let takes = id.phrase().takes;
    if let Some(name) = Template::argument(tree) {
        let at = takes.iter().position(|t| t.trim_end_matches("...") == name);
        if let Some(at) = at.filter(|at| *at < arguments.len()) {
            used[at] = true;
            return arguments[at].clone();
        }
    }
    let mut filled = tree.clone();
    if let ExprKind::Call(call) = &mut filled.kind {
        // `:rest...` takes all that are left, or none.
        let rest = call
            .arguments
            .last()
            .and_then(|a| Template::argument(&a.value))
            .and_then(|n| takes.iter().position(|t| t.trim_end_matches("...") == n && t.ends_with("...")));
        if let Some(first) = rest {
            call.arguments.pop();
            let more = arguments.get(first..).unwrap_or(&[]).iter().cloned();
            call.arguments.extend(more.map(|value| Argument { name: None, value }));
            let fixed = call.arguments.len();
            for argument in &mut call.arguments[..fixed.min(first)] {
                argument.value = fill_tree(&argument.value, id, arguments, used);
            }
            return filled;
        }
    }
    filled.exprs_mut(&mut |child| {
        let inner = fill_tree(child, id, arguments, used);
        *child = inner;
    });
    filled
}
