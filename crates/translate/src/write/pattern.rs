//! LIKE and its kin: patterns that mean another thing in the target, and predicates it lacks.

use meaning::{Breach, Constant, Fidelity, Meant, Note, ValueClass};
use syntax::DialectName;
use syntax::tree::{Between, Expr, ExprKind, LikeTest, LikeWord, LogicOperator, Span, Spelled, StageMap, map_expr};

use super::Writer;
use crate::rewrite::{call, copy_of};

type M = Expr<Meant>;

/// `x BETWEEN SYMMETRIC a AND b` as two tests.
pub(super) fn without_symmetric(expr: M) -> M {
    let span = expr.span;
    let ExprKind::Between(test) = expr.kind else { return expr };
    let turned =
        Between { operand: copy_of(&test.operand), low: copy_of(&test.high), high: copy_of(&test.low), symmetric: false, ..*test.clone() };
    let word = if test.negated { LogicOperator::And } else { LogicOperator::Or };
    let plain = |test: Between<Meant>| Expr::made(ExprKind::Between(Box::new(test)));
    let both = Expr::made(ExprKind::Logic(word, vec![plain(Between { symmetric: false, ..*test }), plain(turned)]));
    Expr { kind: ExprKind::Nested(Box::new(both)), span }
}

impl Writer<'_> {
    /// A test of a pattern in the target's words.
    pub(super) fn said_like(&mut self, expr: M) -> Expr<Spelled> {
        let span = expr.span;
        let ExprKind::Like(test) = expr.kind else { return self.expr(expr) };
        match test.word {
            LikeWord::Regexp | LikeWord::Rlike if self.from.name != self.to.name && test.quantifier.is_none() => {
                // MySQL's and MariaDB's own collation passes over case.
                let phrase = if self.source_facts.letters.ignores_case { "regex.matches-any-case" } else { "regex.matches" };
                self.negated(call(phrase, vec![test.operand, test.pattern]), test.negated, span)
            }
            LikeWord::Ilike if !self.facts.ilike => {
                let lower = |e: M| Expr { span: e.span, ..call("text.lower", vec![e]) };
                let plain = LikeTest { operand: lower(test.operand), pattern: lower(test.pattern), word: LikeWord::Like, ..*test };
                self.said_like(Expr { kind: ExprKind::Like(Box::new(plain)), span })
            }
            _ => {
                self.check_pattern(&test, span);
                map_expr(self, Expr { kind: ExprKind::Like(test), span })
            }
        }
    }

    fn negated(&mut self, test: M, negated: bool, span: Span) -> Expr<Spelled> {
        let said = self.expr(Expr { span, ..test });
        if negated { Expr { kind: ExprKind::Not(Box::new(said)), span } } else { said }
    }

    /// A LIKE pattern means another thing where a backslash escapes by default, and in SQL Server,
    /// where brackets hold a set of characters.
    fn check_pattern(&mut self, test: &LikeTest<Meant>, span: Span) {
        let escapes = |d: DialectName| {
            matches!(d, DialectName::Postgres | DialectName::Mysql | DialectName::Mariadb | DialectName::Bigquery | DialectName::Spark)
        };
        let escape_differs = escapes(self.from.name) != escapes(self.to.name) && test.escape.is_none();
        let sets_differ = (self.from.name == DialectName::Tsql) != (self.to.name == DialectName::Tsql);
        let ExprKind::Literal(Constant::Text { value, .. }) = &test.pattern.without_parens().kind else {
            if escape_differs {
                let message = "the pattern is worked out by the query: a backslash in it escapes on one side only";
                let note = Note::new("text.like-escape", span, message)
                    .advise("make sure that no pattern holds a backslash, or add an ESCAPE clause")
                    .broken_by(Breach::Value(ValueClass::Backslash, test.pattern.span));
                self.note(note);
            }
            return;
        };
        let (what, found) = match (escape_differs && value.contains('\\'), sets_differ && value.contains('[')) {
            (true, _) => ("a backslash, which escapes", true),
            (_, true) => ("a bracket, which begins a set of characters", true),
            _ => ("", false),
        };
        if found {
            let mut note = Note::new("text.like-escape", span, format!("this pattern holds {what} on one side only"))
                .advise("write the pattern with an ESCAPE clause that both sides have");
            note.fidelity = Fidelity::Refused;
            self.note(note);
        }
    }
}
