//! Conditions and values where the target tells them apart, or the source did not.
//!
//! ```sql before mysql sqlserver
//! SELECT name, tons > 3 AS heavy FROM loads WHERE tons * 2 AND TRUE ORDER BY tons IS NULL, tons LIMIT 3
//! ```
//! ```sql after
//! SELECT TOP (3) name, CASE WHEN tons > 3 THEN 1 WHEN tons <= 3 THEN 0 END AS heavy FROM loads WHERE tons * 2 <> 0 AND 1 = 1 ORDER BY CASE WHEN tons IS NULL THEN 1 ELSE 0 END, tons
//! ```
//!
//! Right when
//! 1. true is 1 and false is 0, as the dialects that have no type for truth give them, and as those
//!    that have one compare;
//! 2. a condition that is neither is NULL: it needs a branch of its own unless it is always one of
//!    the two (IS NULL, EXISTS);
//! 3. a number is true unless it is 0, and a value of a type for truth is 1 where it is true;
//! 4. the entry of a select list keeps its place and gets no name it hadn't; a sort key sorts false
//!    before true.

use std::cell::RefCell;

use meaning::{Breach, Capabilities, Constant, Function, Meant, Note, Sign, ValueClass, constant, infer, phrase, phrase_named};
use syntax::DialectName;
use syntax::tree::{
    Call, Case, Cast, Expr, ExprKind, GroupItem, InSet, IsTest, IsWhat, Over, Query, QueryBody, Select, SelectQuantifier, SelectValue,
    Span, Statement, StatementKind, Unary,
};
use values::{DataType, Value};

use super::walk::each_join_condition;
use super::{Context, Place};
use crate::ask::{is_condition, takes_condition};
use crate::features::Features;
use crate::shape::{as_number as as_integer, call, case, copy_of, number, operation};

type E = Expr<Meant>;

/// Whether there can be something to do. Oracle's conditions are no values, and its truth is a number,
/// unless TRUE or FALSE is there.
pub(super) fn has_occasion(features: &Features, cx: &Context<'_>) -> bool {
    cx.from.name != DialectName::Oracle || features.truth_values || features.truth_tests
}

pub(super) fn rewrite(query: &mut Query<Meant>, _: Place, cx: &mut Context<'_>) {
    let truth = Truth::of(cx);
    match &mut query.body {
        QueryBody::Select(select) => truth.select(select),
        QueryBody::Values(values) => values.rows.iter_mut().flatten().for_each(|e| truth.value(e)),
        _ => {}
    }
    query.order_by.iter_mut().for_each(|k| truth.value(&mut k.expr));
    truth.note_untyped(cx);
}

/// The parts of a change that are no query's.
pub(super) fn in_change(statement: &mut Statement<Meant>, cx: &mut Context<'_>) {
    let truth = Truth::of(cx);
    match &mut statement.kind {
        StatementKind::Update(update) => {
            update.assignments.iter_mut().for_each(|a| truth.value(&mut a.value));
            update.condition.iter_mut().for_each(|e| truth.condition(e));
        }
        StatementKind::Delete(delete) => delete.condition.iter_mut().for_each(|e| truth.condition(e)),
        _ => {}
    }
    truth.note_untyped(cx);
}

struct Truth {
    source: Capabilities,
    target: Capabilities,
    /// Columns of unknown types that stand where a condition is wanted.
    untyped: RefCell<Vec<Span>>,
}

impl Truth {
    fn of(cx: &Context<'_>) -> Truth {
        Truth { source: cx.source_facts, target: cx.facts, untyped: RefCell::default() }
    }

    fn note_untyped(self, cx: &mut Context<'_>) {
        for span in self.untyped.into_inner() {
            cx.note(
                Note::new(
                    "name.untyped",
                    span,
                    "this is taken for true or false, and its type is not known: a number counts as true unless it is 0",
                )
                .advise("give the schema with --schema, or say it: --assume 'table.column: integer'")
                .broken_by(Breach::Value(ValueClass::Whole, span)),
            );
        }
    }

    fn select(&self, select: &mut Select<Meant>) {
        for item in &mut select.items {
            if let SelectValue::Expr(expr) = &mut item.value {
                self.value(expr);
            }
        }
        if let Some(SelectQuantifier::DistinctOn(keys)) = &mut select.quantifier {
            keys.iter_mut().for_each(|e| self.value(e));
        }
        select.from.iter_mut().for_each(|t| each_join_condition(t, &mut |condition| self.condition(condition)));
        for condition in [&mut select.condition, &mut select.having, &mut select.qualify].into_iter().flatten() {
            self.condition(condition);
        }
        for item in select.group_by.iter_mut().flat_map(|g| &mut g.items) {
            if let GroupItem::Expr(expr) = item {
                self.value(expr);
            }
        }
    }

    /// An expression that is where a condition is wanted.
    fn condition(&self, expr: &mut E) {
        match &mut expr.kind {
            ExprKind::Nested(inner) => return syntax::with_stack(|| self.condition(inner)),
            ExprKind::Not(inner) => {
                let was_value = !is_condition(inner.without_parens());
                syntax::with_stack(|| self.condition(inner));
                if was_value && is_condition(inner) {
                    *expr = Expr { span: expr.span, ..denied(inner.take()) };
                }
                return;
            }
            ExprKind::Logic(_, operands) => return syntax::with_stack(|| operands.iter_mut().for_each(|o| self.condition(o))),
            ExprKind::Literal(Constant::Boolean(value)) if !self.target.boolean_values => {
                *expr = operation(phrase::COMPARE_EQUAL, number(1), number(i64::from(*value)));
                return;
            }
            ExprKind::Is(test) if is_truth_test(test) => {
                self.condition(&mut test.operand);
                if !self.target.truth_tests {
                    let shown = as_choice(test);
                    *expr = Expr { span: expr.span, ..operation(phrase::COMPARE_EQUAL, shown, number(1)) };
                }
                return;
            }
            _ => {}
        }
        if is_condition(expr) {
            return self.inside(expr);
        }
        if let ExprKind::Cast(cast) = &mut expr.kind
            && let Some(said) = self.cast(cast)
        {
            *expr = Expr { span: expr.span, ..said };
            return self.condition(expr);
        }
        let data_type = infer(expr).data_type;
        self.inside(expr);
        let test = match data_type {
            // Condition 3.
            DataType::Boolean if !self.target.conditions_are_values => (phrase::COMPARE_EQUAL, 1),
            // Whatever it is, here a bare column is no condition.
            DataType::Unknown if !self.target.conditions_are_values && matches!(expr.kind, ExprKind::Column(_)) => {
                (phrase::COMPARE_NOT_EQUAL, 0)
            }
            DataType::Unknown if computes(expr) && self.source.numbers_are_conditions && !self.target.numbers_are_conditions => {
                (phrase::COMPARE_NOT_EQUAL, 0)
            }
            DataType::Unknown if self.source.numbers_are_conditions && !self.target.numbers_are_conditions => {
                self.untyped.borrow_mut().extend(expr.span.is_read().then_some(expr.span));
                return;
            }
            t if t.is_numeric() && self.source.numbers_are_conditions && !self.target.numbers_are_conditions => {
                (phrase::COMPARE_NOT_EQUAL, 0)
            }
            _ => return,
        };
        let span = expr.span;
        let value = expr.take();
        *expr = Expr { span, ..operation(test.0, value, number(test.1)) };
    }

    /// A condition that is compared with another: a number is not as good.
    fn one_or_none(&self, expr: &mut E) {
        self.condition(expr);
        if infer(expr).data_type.is_numeric() && self.target.dialect == DialectName::Sqlite {
            let value = expr.take();
            *expr = Expr { span: value.span, ..operation(phrase::COMPARE_NOT_EQUAL, value, number(0)) };
        }
    }

    /// An expression that is where a value is wanted.
    fn value(&self, expr: &mut E) {
        if let ExprKind::Cast(cast) = &mut expr.without_parens_mut().kind
            && let Some(said) = self.cast(cast)
        {
            *expr = Expr { span: expr.span, ..said };
        }
        if let ExprKind::Is(test) = &mut expr.without_parens_mut().kind
            && is_truth_test(test)
            && !self.target.truth_tests
        {
            self.condition(&mut test.operand);
            let choice = as_choice(test);
            *expr = Expr { span: expr.span, ..choice };
            return;
        }
        if !is_condition(expr.without_parens()) || self.target.conditions_are_values {
            return self.inside(expr);
        }
        let mut condition = bare(expr);
        self.condition(&mut condition);
        *expr = as_number(condition);
    }

    /// A cast from or to truth, where another expression says it better.
    fn cast(&self, cast: &mut Cast<Meant>) -> Option<E> {
        let operand = infer(&cast.operand).data_type;
        let is_truth = operand == DataType::Boolean || is_condition(cast.operand.without_parens());
        match &cast.to.data_type {
            DataType::Text { .. } if is_truth && self.source.booleans_are_numbers != self.target.booleans_are_numbers => {
                Some(self.in_words(&cast.operand.take(), "true", "false"))
            }
            to if is_truth && to.is_numeric() && self.target.dialect == DialectName::Postgres && *to != DataType::Integer(32) => {
                let mut condition = cast.operand.take();
                self.condition(&mut condition);
                cast.operand = as_number(condition);
                None
            }
            DataType::Boolean if operand.is_numeric() => Some(operation(phrase::COMPARE_NOT_EQUAL, cast.operand.take(), number(0))),
            // BIT is a type for truth, what represents one elsewhere is a number.
            DataType::Boolean
                if operand == DataType::Unknown && self.target.booleans_are_numbers && self.target.dialect != DialectName::SqlServer =>
            {
                self.untyped.borrow_mut().extend(cast.operand.span.is_read().then_some(cast.operand.span));
                Some(operation(phrase::COMPARE_NOT_EQUAL, cast.operand.take(), number(0)))
            }
            DataType::Boolean if operand.is_text() => {
                let text = cast.operand.take();
                let known = match constant(&text) {
                    Some(Value::Text(word)) => truth_of(&word),
                    _ => None,
                };
                Some(match known {
                    Some(truth) => Expr::synthetic(ExprKind::Literal(Constant::Boolean(truth))),
                    None => call(phrase::CAST_TEXT_TO_BOOLEAN, vec![text]),
                })
            }
            _ => None,
        }
    }

    /// What a value of a type for truth is in a string.
    fn in_words(&self, value: &E, yes: &str, no: &str) -> E {
        let (yes, no) = if self.source.booleans_are_numbers { ("1", "0") } else { (yes, no) };
        let text = |word: &str| Expr::synthetic(ExprKind::Literal(Constant::Text { value: word.into(), written: None }));
        let mut condition = copy_of(value.without_parens());
        self.condition(&mut condition);
        let branches = vec![(copy_of(&condition), text(yes)), (denied(condition), text(no))];
        case(None, branches, None)
    }

    /// One of the strings that are joined; CONCAT of PostgreSQL writes truth with one letter.
    fn joined(&self, expr: &mut E, in_a_call: bool) {
        let is_truth = infer(expr).data_type == DataType::Boolean || is_condition(expr.without_parens());
        let same = self.source.booleans_are_numbers == self.target.booleans_are_numbers;
        let is_short = in_a_call && self.source.dialect == DialectName::Postgres;
        if !is_truth || (same && !is_short && self.target.dialect != DialectName::SqlServer) {
            return self.value(expr);
        }
        let (yes, no) = if is_short { ("t", "f") } else { ("true", "false") };
        *expr = self.in_words(expr, yes, no);
    }

    /// A value that is where only a number will do, in a target whose conditions are none.
    fn number(&self, expr: &mut E) {
        let is_truth = infer(expr).data_type == DataType::Boolean || is_condition(expr.without_parens());
        // SQL Server adds a BIT to a number, but neither negates nor sums it.
        if is_truth && self.target.dialect == DialectName::SqlServer && !is_condition(expr.without_parens()) {
            self.value(expr);
            let value = expr.take();
            *expr = Expr { span: value.span, ..call(phrase::CAST_TRUTH_TO_INTEGER, vec![value]) };
            return;
        }
        let told_apart = self.source.booleans_are_numbers && !self.target.booleans_are_numbers;
        if !is_truth || !told_apart {
            return self.value(expr);
        }
        let mut condition = bare(expr);
        self.condition(&mut condition);
        *expr = as_number(condition);
    }

    /// What is within an expression.
    fn inside(&self, expr: &mut E) {
        syntax::with_stack(|| match &mut expr.kind {
            ExprKind::Column(_) | ExprKind::Literal(_) | ExprKind::Parameter(_) => {}
            ExprKind::Nested(inner) => self.value(inner),
            ExprKind::Logic(_, operands) => operands.iter_mut().for_each(|o| self.condition(o)),
            ExprKind::Not(operand) => self.condition(operand),
            ExprKind::Is(test) if is_truth_test(test) => self.condition(expr),
            ExprKind::Case(case) => self.case(case),
            // SQL Server: ~ of a BIT is the other one.
            ExprKind::Unary(unary) if self.source.dialect == DialectName::SqlServer && turns_truth(unary) => {
                let mut condition = unary.operand.take();
                self.condition(&mut condition);
                *expr = denied(condition);
                self.value(expr);
            }
            ExprKind::Unary(unary) => self.number(&mut unary.operand),
            ExprKind::Call(_) => self.call(expr),
            ExprKind::In(test) => {
                self.value(&mut test.operand);
                if let InSet::List(items) = &mut test.set {
                    items.iter_mut().for_each(|item| self.like_the_other(&test.operand, item));
                }
            }
            ExprKind::Binary(binary) => {
                let id = if let Sign::Phrase(id, _) = binary.operator { id.phrase().id } else { "" };
                let (left, right) = (&mut binary.left, &mut binary.right);
                if id.starts_with("compare.") {
                    // Constants first, which show what the other side is.
                    if matches!(right.kind, ExprKind::Literal(_)) {
                        self.like_the_other(left, right);
                        self.like_the_other(right, left);
                    } else {
                        self.like_the_other(right, left);
                        self.like_the_other(left, right);
                    }
                } else if id.starts_with(phrase::TEXT_CONCATENATE) {
                    self.joined(left, false);
                    self.joined(right, false);
                } else if id == phrase::BOOLEAN_EXCLUSIVE_OR {
                    self.one_or_none(left);
                    self.one_or_none(right);
                } else {
                    self.number(left);
                    self.number(right);
                }
            }
            _ => expr.exprs_mut(&mut |child| self.value(child)),
        });
    }

    /// One of two values that are compared: a condition beside a number is one, and 1 and 0 beside a
    /// value of a type for truth are true and false.
    fn like_the_other(&self, other: &E, expr: &mut E) {
        let other_type = infer(other).data_type;
        if other_type.is_numeric() {
            return self.number(expr);
        }
        if other_type == DataType::Boolean
            && let ExprKind::Literal(Constant::Text { value, .. }) = &expr.kind
            && let Some(truth) = truth_of(value)
        {
            expr.kind = ExprKind::Literal(Constant::Boolean(truth));
            return;
        }
        if other_type == DataType::Boolean
            && !self.target.booleans_are_numbers
            && let ExprKind::Literal(Constant::Number(text)) = &expr.kind
            && matches!(text.as_str(), "0" | "1")
        {
            expr.kind = ExprKind::Literal(Constant::Boolean(text == "1"));
            return;
        }
        self.value(expr);
    }

    fn case(&self, case: &mut Case<Meant>) {
        let has_operand = case.operand.is_some();
        case.operand.iter_mut().for_each(|o| self.value(o));
        let is_number = |e: &E| infer(e).data_type.is_numeric();
        let gives_numbers = case.branches.iter().map(|(_, then)| then).chain(&case.otherwise).any(is_number);
        for (when, then) in &mut case.branches {
            if has_operand {
                self.value(when);
            } else {
                self.condition(when);
            }
            if gives_numbers { self.number(then) } else { self.value(then) }
        }
        case.otherwise.iter_mut().for_each(|e| if gives_numbers { self.number(e) } else { self.value(e) });
    }

    fn call(&self, expr: &mut E) {
        let ExprKind::Call(call) = &mut expr.kind else { return };
        let Call { function, arguments, tail, .. } = &mut **call;
        let has_truth = arguments.iter().any(|a| is_condition(a.value.without_parens()) || infer(&a.value).data_type == DataType::Boolean);
        let beside_numbers = has_truth && arguments.iter().any(|a| infer(&a.value).data_type.is_numeric());
        for (at, argument) in arguments.iter_mut().enumerate() {
            if takes_condition(function, at) {
                self.condition(&mut argument.value);
            } else if !has_truth {
                self.value(&mut argument.value);
            } else if joins(function) {
                self.joined(&mut argument.value, true);
            } else if beside_numbers || !takes_truth(function, at) {
                self.number(&mut argument.value);
            } else {
                self.value(&mut argument.value);
            }
        }
        let Some(tail) = tail else { return };
        tail.filter.iter_mut().for_each(|e| self.condition(e));
        tail.order_by.iter_mut().chain(&mut tail.within_group).for_each(|k| self.value(&mut k.expr));
        if let Some(Over::Window(window)) = &mut tail.over {
            window.partition_by.iter_mut().chain(window.order_by.iter_mut().map(|k| &mut k.expr)).for_each(|e| self.value(e));
        }
    }
}

/// `~` before a BIT of SQL Server.
fn turns_truth(unary: &Unary<Meant>) -> bool {
    matches!(unary.operator, Sign::Phrase(id, _) if id.phrase().id == phrase::BIT_NOT)
        && infer(&unary.operand).data_type == DataType::Boolean
}

/// Whether a function joins its arguments as strings.
fn joins(function: &Function) -> bool {
    matches!(function, Function::Phrase(id, _) if id.phrase().id.starts_with(phrase::TEXT_CONCATENATE) || id.phrase().id == phrase::TEXT_JOIN)
}

/// The truth that every dialect with a type for it reads in a word, or PostgreSQL alone.
fn truth_of(word: &str) -> Option<bool> {
    match word.trim().to_ascii_lowercase().as_str() {
        "true" | "t" | "yes" | "y" | "on" | "1" => Some(true),
        "false" | "f" | "no" | "n" | "off" | "0" => Some(false),
        _ => None,
    }
}

/// Whether a function has a meaning for a value of a type for truth in this place.
fn takes_truth(function: &Function, at: usize) -> bool {
    let Function::Phrase(id, _) = function else { return true };
    let phrase = id.phrase();
    let least = matches!(phrase.id, phrase::AGGREGATE_MINIMUM | phrase::AGGREGATE_MAXIMUM);
    let kind = phrase.takes.get(at).or(phrase.takes.last()).map(|t| t.kind);
    !least && kind.is_none_or(|k| k.fit(&DataType::Boolean) != meaning::Fit::No)
}

fn is_truth_test(test: &IsTest<Meant>) -> bool {
    matches!(test.what, IsWhat::True | IsWhat::False | IsWhat::Unknown)
}

/// 1 where IS [NOT] TRUE, FALSE or UNKNOWN holds, else 0.
fn as_choice(test: &IsTest<Meant>) -> E {
    let condition = copy_of(test.operand.without_parens());
    let (yes, no) = if test.negated { (0, 1) } else { (1, 0) };
    let (branches, otherwise) = match test.what {
        IsWhat::True => (vec![(condition, number(yes))], no),
        IsWhat::False => (vec![(denied(condition), number(yes))], no),
        _ => (vec![(copy_of(&condition), number(no)), (denied(condition), number(no))], yes),
    };
    case(None, branches, Some(number(otherwise)))
}

/// The expression without its parentheses, taken from its place.
fn bare(expr: &mut E) -> E {
    expr.without_parens_mut().take()
}

/// Condition 1.
fn as_number(condition: E) -> E {
    // Condition 2.
    let (denial, otherwise) = match is_true_or_false(&condition) {
        true => (None, Some(number(0))),
        false => (Some((denied(copy_of(&condition)), number(0))), None),
    };
    let branches = std::iter::once((condition, number(1))).chain(denial).collect();
    case(None, branches, otherwise)
}

/// A condition that is true where this one is false.
fn denied(mut condition: E) -> E {
    match &mut condition.kind {
        ExprKind::Not(inner) if is_condition(inner.without_parens()) => {
            return inner.take();
        }
        ExprKind::Nested(inner) => {
            **inner = denied(inner.take());
        }
        ExprKind::Between(test) => test.negated = !test.negated,
        ExprKind::In(test) => test.negated = !test.negated,
        ExprKind::Like(test) => test.negated = !test.negated,
        ExprKind::Binary(binary) => {
            let opposite = if let Sign::Phrase(id, _) = binary.operator { opposite(id.phrase().id) } else { None };
            match opposite {
                // A value of a type for truth.
                Some(phrase::COMPARE_NOT_EQUAL)
                    if infer(&binary.left).data_type == DataType::Boolean && as_integer(&binary.right) == Some(1.0) =>
                {
                    binary.right = number(0);
                }
                Some(phrase) => binary.operator = Sign::Phrase(phrase_named(phrase), None),
                None => return Expr::synthetic(ExprKind::Not(Box::new(condition))),
            }
        }
        _ => return Expr::synthetic(ExprKind::Not(Box::new(condition))),
    }
    condition
}

fn opposite(phrase: &str) -> Option<&'static str> {
    const PAIRS: [(&str, &str); 3] = [
        (phrase::COMPARE_EQUAL, phrase::COMPARE_NOT_EQUAL),
        (phrase::COMPARE_LESS, phrase::COMPARE_GREATER_OR_EQUAL),
        (phrase::COMPARE_GREATER, phrase::COMPARE_LESS_OR_EQUAL),
    ];
    PAIRS.iter().find_map(|(a, b)| if phrase == *a { Some(*b) } else { (phrase == *b).then_some(*a) })
}

fn is_true_or_false(condition: &E) -> bool {
    match &condition.kind {
        ExprKind::Exists(_) => true,
        ExprKind::Is(test) => !matches!(test.what, IsWhat::Words(_)),
        _ => !infer(condition).nullable,
    }
}

/// An operation that gives a number, whatever it is given.
fn computes(expr: &E) -> bool {
    matches!(&expr.without_parens().kind, ExprKind::Binary(b) if matches!(b.operator, Sign::Phrase(id, _) if id.phrase().area() == "number"))
}
