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
    /// Which argument stands for the one that is repeated.
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
                    joined = Expr::made(ExprKind::Binary(Box::new(Binary { operator: binary.operator, left: joined, right })));
                }
                joined
            }
            _ => self.filled(template.tree),
        }
    }

    /// The place of the argument that a name stands for.
    fn place(&self, name: &str) -> Option<usize> {
        let at = self.phrase.argument(name)?;
        Some(if self.phrase.takes[at].repeated { self.at } else { at })
    }

    /// Whether the repeated argument is in it.
    fn repeats(&self, tree: &S) -> bool {
        tree.any(&mut |e| Template::argument(e).and_then(|n| self.phrase.argument(n)).is_some_and(|at| self.phrase.takes[at].repeated))
    }

    fn filled(&mut self, tree: &S) -> S {
        if let Some(at) = Template::argument(tree).and_then(|name| self.place(name)) {
            let Some(argument) = self.arguments.get(at) else { return Expr::made(ExprKind::Default) };
            // A second use has no place in the source.
            let again = std::mem::replace(&mut self.used[at], true);
            return if again { without_places(argument) } else { argument.clone() };
        }
        if let Some(plain) = self.without_default(tree) {
            return self.filled(plain);
        }
        if let ExprKind::Case(case) = &tree.kind
            && case.operand.is_none()
            && let Some((when, then)) = case.branches.first()
            && self.holds(when)
        {
            return self.filled(then);
        }
        let mut out = tree.clone();
        if let ExprKind::Logic(LogicOperator::And, operands) = &mut out.kind {
            operands.retain(|o| !self.holds(o));
            if operands.len() == 1 {
                let single = operands.remove(0);
                return self.filled(&single);
            }
        }
        if let ExprKind::Array(list) = &mut out.kind
            && let [each] = list.items.as_slice()
            && self.repeats(each)
        {
            let each = each.clone();
            list.items = self.each_of(&each);
            return out;
        }
        if let ExprKind::Call(call) = &mut out.kind
            && call.arguments.last().is_some_and(|last| self.repeats(&last.value))
            && let Some(each) = call.arguments.pop()
        {
            for argument in &mut call.arguments {
                argument.value = self.filled(&argument.value.clone());
            }
            call.arguments.extend(self.each_of(&each.value).into_iter().map(|value| Argument { name: None, value }));
            return out;
        }
        out.exprs_mut(&mut |child| {
            let inner = self.filled(child);
            *child = inner;
        });
        in_one_number(in_one_text(without_two_signs(out)))
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

    /// What stands for the repeated argument, said of each that is left.
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
fn without_two_signs(expr: S) -> S {
    let minus = Operator::Symbol(Symbol::Minus);
    if let ExprKind::Unary(outer) = &expr.kind
        && outer.operator == minus
        && let ExprKind::Unary(inner) = &outer.operand.without_parens().kind
        && inner.operator == minus
        && matches!(inner.operand.kind, ExprKind::Literal(Literal::Number(_)))
    {
        return without_places(&inner.operand);
    }
    expr
}

/// 3 for `1 + 2`, of whole numbers that a template puts side by side.
fn in_one_number(expr: S) -> S {
    fn whole(expr: &S) -> Option<i64> {
        let ExprKind::Literal(Literal::Number(digits)) = &expr.kind else { return None };
        digits.parse().ok()
    }
    let ExprKind::Binary(binary) = &expr.kind else { return expr };
    let (Some(a), Some(b)) = (whole(&binary.left), whole(&binary.right)) else { return expr };
    let number = match binary.operator {
        Operator::Symbol(Symbol::Plus) => a.checked_add(b),
        Operator::Symbol(Symbol::Minus) => a.checked_sub(b).filter(|n| *n >= 0),
        _ => None,
    };
    number.map_or(expr, |n| Expr::made(ExprKind::Literal(Literal::Number(n.to_string().into()))))
}

/// 'ab' for `'a' || 'b'` and `CONCAT('a', 'b')`.
fn in_one_text(expr: S) -> S {
    fn inner(expr: &S) -> Option<&str> {
        let ExprKind::Literal(Literal::Text(written)) = &expr.kind else { return None };
        written.strip_prefix('\'')?.strip_suffix('\'')
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
    parts.map_or_else(|| expr.clone(), |parts| Expr::made(ExprKind::Literal(Literal::Text(format!("'{}'", parts.concat()).into()))))
}

/// The expression without places in the source.
fn without_places(expr: &S) -> S {
    let mut copy = expr.clone();
    copy.forget_places();
    copy
}
