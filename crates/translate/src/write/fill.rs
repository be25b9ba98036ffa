//! Arguments put into a template.

use meaning::{Phrase, Template};
use syntax::Symbol;
use syntax::tree::{Argument, Binary, Expr, ExprKind, IsWhat, Literal, LogicOperator, Operator, Spelled};

type S = Expr<Spelled>;

/// What a template is filled with.
pub(super) struct Filler<'a> {
    phrase: &'static Phrase,
    arguments: &'a [S],
    /// Each can be NULL.
    nullable: &'a [bool],
    used: Vec<bool>,
    /// Which argument represents the one that is repeated.
    at: usize,
}

impl<'a> Filler<'a> {
    pub(super) fn new(phrase: &'static Phrase, arguments: &'a [S], nullable: &'a [bool]) -> Self {
        Filler { phrase, arguments, nullable, used: vec![false; arguments.len()], at: 0 }
    }

    /// The template with the arguments in place.
    pub(super) fn fill(&mut self, template: Template) -> S {
        let first = self.phrase.takes.iter().position(|t| t.repeated);
        match (&template.tree.kind, first) {
            // `:parts || :parts` joins all of them.
            (ExprKind::Binary(binary), Some(first)) if self.repeats(&binary.left) && self.repeats(&binary.right) => {
                self.at = first;
                let mut joined = self.filled(&binary.left);
                for at in first + 1..self.arguments.len() {
                    self.at = at;
                    let right = self.filled(&binary.right);
                    joined = Expr::synthetic(ExprKind::Binary(Box::new(Binary { operator: binary.operator, left: joined, right })));
                }
                joined
            }
            _ => self.filled(template.tree),
        }
    }

    /// The place of the argument that a name represents.
    fn place(&self, name: &str) -> Option<usize> {
        let at = self.phrase.argument(name)?;
        Some(if self.phrase.takes[at].repeated { self.at } else { at })
    }

    /// Whether the repeated argument is in it.
    fn repeats(&self, tree: &S) -> bool {
        let can = self.phrase.takes.last().is_some_and(|t| t.repeated);
        can && tree
            .any(&mut |e| Template::argument(e).and_then(|n| self.phrase.argument(n)).is_some_and(|at| self.phrase.takes[at].repeated))
    }

    fn filled(&mut self, tree: &S) -> S {
        let mut tree = tree.clone();
        self.put_in(&mut tree);
        tree
    }

    /// Arguments in the places of their names, and what that makes simpler.
    fn put_in(&mut self, tree: &mut S) {
        if let Some(at) = Template::argument(tree).and_then(|name| self.place(name)) {
            *tree = self.argument(at);
            return;
        }
        if let Some(plain) = self.plainer(tree) {
            *tree = plain;
            return self.put_in(tree);
        }
        match &mut tree.kind {
            ExprKind::Array(list) if list.items.len() == 1 && self.repeats(&list.items[0]) => {
                let each = list.items.remove(0);
                list.items = self.each_of(&each);
            }
            ExprKind::Call(call) if call.arguments.last().is_some_and(|last| self.repeats(&last.value)) => {
                let each = call.arguments.pop();
                call.arguments.iter_mut().for_each(|argument| self.put_in(&mut argument.value));
                let all = each.map(|each| self.each_of(&each.value)).unwrap_or_default();
                call.arguments.extend(all.into_iter().map(|value| Argument { name: None, value }));
            }
            _ => {
                tree.exprs_mut(&mut |child| self.put_in(child));
                if let Some(shorter) =
                    without_two_signs(tree).or_else(|| in_one_text(tree)).or_else(|| in_one_number(tree)).or_else(|| bare_number(tree))
                {
                    *tree = shorter;
                }
            }
        }
    }

    fn argument(&mut self, at: usize) -> S {
        let Some(argument) = self.arguments.get(at) else { return Expr::synthetic(ExprKind::Default) };
        // A second use has no place in the source.
        let again = std::mem::replace(&mut self.used[at], true);
        if again { without_places(argument) } else { argument.clone() }
    }

    /// What is left where an argument is known to be NULL, or never is.
    fn plainer(&self, tree: &mut S) -> Option<S> {
        if let Some(plain) = self.without_default(tree) {
            return Some(plain.clone());
        }
        match &mut tree.kind {
            ExprKind::Case(case) if case.operand.is_none() => {
                let always = case.branches.iter().position(|(when, _)| self.holds(when))?;
                let (_, value) = case.branches.remove(always);
                if always == 0 {
                    return Some(value);
                }
                // What always holds is what else there is.
                case.branches.truncate(always);
                case.otherwise = Some(value);
                None
            }
            ExprKind::Logic(LogicOperator::And, operands) => {
                operands.retain(|o| !self.holds(o));
                (operands.len() == 1).then(|| operands.remove(0))
            }
            _ => None,
        }
    }

    /// Whether it tests for NULL what is never NULL.
    fn holds(&self, tree: &S) -> bool {
        match &tree.kind {
            ExprKind::Logic(LogicOperator::And, operands) => operands.iter().all(|o| self.holds(o)),
            ExprKind::Is(test) if test.negated && matches!(test.what, IsWhat::Null) => {
                let place = Template::argument(&test.operand).and_then(|name| self.place(name));
                place.and_then(|at| self.nullable.get(at)) == Some(&false)
            }
            _ => false,
        }
    }

    /// What represents the repeated argument, said of each that is left.
    fn each_of(&mut self, tree: &S) -> Vec<S> {
        let first = self.phrase.takes.iter().position(|t| t.repeated).unwrap_or(0);
        let mut all = Vec::new();
        for at in first..self.arguments.len() {
            self.at = at;
            all.push(self.filled(tree));
        }
        all
    }

    /// What is left of `COALESCE(:x, constant)` where x is never NULL, or is NULL itself.
    fn without_default<'t>(&self, tree: &'t S) -> Option<&'t S> {
        let ExprKind::Call(call) = &tree.kind else { return None };
        let [first, second] = call.arguments.as_slice() else { return None };
        if !call.function.as_single().is_some_and(|n| n.is_word("coalesce")) {
            return None;
        }
        let at = Template::argument(&first.value).and_then(|name| self.place(name))?;
        let is_null = matches!(self.arguments.get(at).map(|a| &a.kind), Some(ExprKind::Literal(Literal::Null)));
        match self.nullable.get(at) {
            Some(true) if is_null => Some(&second.value),
            Some(false) => Some(&first.value),
            _ => None,
        }
    }
}

/// 3 for `- (-3)`.
fn without_two_signs(expr: &S) -> Option<S> {
    let minus = Operator::Symbol(Symbol::Minus);
    if let ExprKind::Unary(outer) = &expr.kind
        && outer.operator == minus
        && let ExprKind::Unary(inner) = &outer.operand.without_parens().kind
        && inner.operator == minus
        && matches!(inner.operand.kind, ExprKind::Literal(Literal::Number(_)))
    {
        return Some(without_places(&inner.operand));
    }
    None
}

/// 3 for `1 + 2`, of whole numbers that a template puts side by side.
fn in_one_number(expr: &S) -> Option<S> {
    fn whole(expr: &S) -> Option<i64> {
        let ExprKind::Literal(Literal::Number(digits)) = &expr.kind else { return None };
        digits.parse().ok()
    }
    let ExprKind::Binary(binary) = &expr.kind else { return None };
    let (a, b) = (whole(&binary.left)?, whole(&binary.right)?);
    let number = match binary.operator {
        Operator::Symbol(Symbol::Plus) => a.checked_add(b)?,
        Operator::Symbol(Symbol::Minus) => a.checked_sub(b).filter(|n| *n >= 0)?,
        _ => return None,
    };
    Some(Expr::synthetic(ExprKind::Literal(Literal::Number(number.to_string().into()))))
}

/// 3 for `(3)`.
fn bare_number(expr: &S) -> Option<S> {
    match &expr.kind {
        ExprKind::Nested(inner) if matches!(inner.kind, ExprKind::Literal(Literal::Number(_))) => Some((**inner).clone()),
        _ => None,
    }
}

/// 'ab' for `'a' || 'b'` and `CONCAT('a', 'b')`, 'a1' for `CONCAT('a', 1)`.
fn in_one_text(expr: &S) -> Option<S> {
    fn inner(expr: &S) -> Option<&str> {
        match &expr.kind {
            ExprKind::Literal(Literal::Text(written)) => written.strip_prefix('\'')?.strip_suffix('\''),
            ExprKind::Literal(Literal::Number(digits)) if digits.bytes().all(|b| b.is_ascii_digit()) => Some(digits),
            _ => None,
        }
    }
    let parts: Option<Vec<&str>> = match &expr.kind {
        ExprKind::Binary(binary) if binary.operator == Operator::Symbol(Symbol::Concat) => {
            [&binary.left, &binary.right].into_iter().map(inner).collect()
        }
        ExprKind::Call(call) if call.function.as_single().is_some_and(|n| n.is_word("concat")) => {
            call.arguments.iter().map(|a| inner(&a.value)).collect()
        }
        _ => None,
    };
    Some(Expr::synthetic(ExprKind::Literal(Literal::Text(format!("'{}'", parts?.concat()).into()))))
}

/// The expression without places in the source.
fn without_places(expr: &S) -> S {
    let mut copy = crate::copies::of_spelled(expr);
    copy.forget_places();
    copy
}
