//! LIKE and its kin: patterns that mean another thing in the target, and predicates it lacks.

mod pieces;
mod spell;

use meaning::{Breach, Constant, Meant, Note, ValueClass, infer, phrase};
use syntax::DialectName;
use syntax::tree::{
    Between, Expr, ExprKind, Ident, LikeTest, LikeWord, LogicOperator, ObjectName, QuantifierWord, Span, Spelled, StageMap, map_expr,
};

use super::Writer;
use crate::ask::written_list;
use crate::shape::{call, copy_of, in_digits};
use pieces::Piece;
use spell::LikeStyle;

type M = Expr<Meant>;

/// `x BETWEEN SYMMETRIC a AND b` as two tests.
pub(super) fn without_symmetric(expr: M) -> M {
    let span = expr.span;
    let ExprKind::Between(test) = expr.kind else { return expr };
    let turned =
        Between { operand: copy_of(&test.operand), low: copy_of(&test.high), high: copy_of(&test.low), symmetric: false, ..*test.clone() };
    let negated = test.negated;
    let plain = |test: Between<Meant>| Expr::synthetic(ExprKind::Between(Box::new(test)));
    joined(!negated, vec![plain(Between { symmetric: false, ..*test }), plain(turned)], span)
}

/// How LIKE of a dialect is written. Sources: the manuals' chapters on LIKE.
fn style_of(dialect: DialectName) -> LikeStyle {
    use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};
    match dialect {
        Postgres | Mysql | Mariadb | Bigquery | Spark => LikeStyle::Backslash,
        Oracle | Duckdb | Sqlite => LikeStyle::Clause,
        SqlServer => LikeStyle::Brackets,
    }
}

/// What a pattern is written with.
enum Saying {
    Like(Vec<(String, bool)>),
    Glob(Vec<String>),
    Regex(String),
}

impl Writer<'_> {
    /// A test of a pattern in the target's words.
    pub(super) fn write_like(&mut self, expr: M) -> Expr<Spelled> {
        let span = expr.span;
        let ExprKind::Like(mut test) = expr.kind else { return self.expr(expr) };
        if self.from.name == self.to.name {
            return map_expr(self, Expr { kind: ExprKind::Like(test), span });
        }
        if self.wants_text_for(&infer(&test.operand).data_type) {
            in_digits(&mut test.operand);
        }
        if let Some(quantifier) = test.quantifier {
            return self.write_quantified(*test, quantifier, span);
        }
        match test.word {
            LikeWord::Regexp | LikeWord::Rlike => {
                // MySQL's and MariaDB's own collation passes over case.
                let phrase = if self.source_facts.letters.ignores_case { phrase::REGEX_MATCHES_ANY_CASE } else { phrase::REGEX_MATCHES };
                self.negated(call(phrase, vec![test.operand, test.pattern]), test.negated, span)
            }
            // DuckDB's SIMILAR TO takes a regular expression.
            LikeWord::SimilarTo if self.from.name == DialectName::Duckdb => self.write_whole_match(*test, span),
            LikeWord::Ilike if !self.facts.ilike => {
                let lower = |e: M| match text_of(&e) {
                    Some(constant) => text(constant.to_lowercase(), &e),
                    None => Expr { span: e.span, ..call(phrase::TEXT_LOWER, vec![e]) },
                };
                let plain = LikeTest { operand: lower(test.operand), pattern: lower(test.pattern), word: LikeWord::Like, ..*test };
                self.write_like(Expr { kind: ExprKind::Like(Box::new(plain)), span })
            }
            _ => self.write_pattern(*test, span),
        }
    }

    fn negated(&mut self, test: M, negated: bool, span: Span) -> Expr<Spelled> {
        let said = self.expr(Expr { span, ..test });
        if negated { Expr { kind: ExprKind::Not(Box::new(said)), span } } else { said }
    }

    /// A regular expression that must fit the whole text.
    fn write_whole_match(&mut self, test: LikeTest<Meant>, span: Span) -> Expr<Spelled> {
        let Some(pattern) = text_of(&test.pattern) else { return self.unsaid("this SIMILAR TO, whose pattern is no constant,", span) };
        let whole = text(format!("^({pattern})\\z"), &test.pattern);
        self.negated(call(phrase::REGEX_MATCHES, vec![test.operand, whole]), test.negated, span)
    }

    /// LIKE ANY and LIKE ALL of written patterns, one by one where the target hasn't got them.
    fn write_quantified(&mut self, test: LikeTest<Meant>, quantifier: QuantifierWord, span: Span) -> Expr<Spelled> {
        let Some(patterns) = written_list(&test.pattern) else { return self.unsaid("LIKE with the patterns of a query", span) };
        let patterns = patterns.to_vec();
        let one = |pattern: M| {
            let single = LikeTest { operand: copy_of(&test.operand), pattern, quantifier: None, escape: None, ..test };
            Expr::synthetic(ExprKind::Like(Box::new(single)))
        };
        let any = quantifier != QuantifierWord::All;
        self.expr(joined(any, patterns.into_iter().map(one).collect(), span))
    }

    /// LIKE, ILIKE, GLOB and SIMILAR TO.
    fn write_pattern(&mut self, mut test: LikeTest<Meant>, span: Span) -> Expr<Spelled> {
        let Some(value) = text_of(&test.pattern) else {
            if !matches!(test.word, LikeWord::Like | LikeWord::Ilike) {
                return self.unsaid("this pattern, which is worked out by the query,", span);
            }
            self.worked_out(&mut test);
            return map_expr(self, Expr { kind: ExprKind::Like(Box::new(test)), span });
        };
        if self.means_the_same(&test, &value) {
            return map_expr(self, Expr { kind: ExprKind::Like(Box::new(test)), span });
        }
        let pieces = match self.pieces(&test, &value) {
            Ok(pieces) => pieces,
            Err(what) => return self.unsaid(&format!("a pattern with {what}"), span),
        };
        match self.saying(test.word, &pieces) {
            Some(saying) => self.write_so(test, saying, span),
            None => self.unsaid("this pattern", span),
        }
    }

    /// Whether the target reads the predicate and its pattern as the source does.
    fn means_the_same(&self, test: &LikeTest<Meant>, value: &str) -> bool {
        let (source, target) = (style_of(self.from.name), style_of(self.to.name));
        let sets_differ = (source == LikeStyle::Brackets) != (target == LikeStyle::Brackets);
        let escapes_differ = match &test.escape {
            Some(_) => self.to.name == DialectName::Bigquery,
            None => (source == LikeStyle::Backslash) != (target == LikeStyle::Backslash) && value.contains('\\'),
        };
        // Some take such an escape for itself or match nothing, others fail.
        let ends_in_escape = match &test.escape {
            Some(escape) => text_of(escape).is_some_and(|e| !e.is_empty() && value.ends_with(&e)),
            None => source == LikeStyle::Backslash && value.ends_with('\\'),
        };
        let ends_in_escape = ends_in_escape && self.from.name != self.to.name;
        let is_other = ends_in_escape || escapes_differ || (sets_differ && value.contains('['));
        matches!(test.word, LikeWord::Like | LikeWord::Ilike) && !is_other
    }

    fn pieces(&self, test: &LikeTest<Meant>, value: &str) -> Result<Vec<Piece>, String> {
        let style = style_of(self.from.name);
        let by_default = (style == LikeStyle::Backslash).then_some('\\');
        let escape = match &test.escape {
            None => by_default,
            Some(clause) => {
                let text = text_of(clause).ok_or("an escape that is worked out by the query")?;
                let mut chars = text.chars();
                match (chars.next(), chars.next()) {
                    (escape, None) => escape,
                    _ => return Err(format!("the escape '{text}'")),
                }
            }
        };
        match test.word {
            LikeWord::Glob if self.from.name == DialectName::Duckdb => pieces::of_glob(value, '!', Some('\\')),
            LikeWord::Glob => pieces::of_glob(value, '^', None),
            LikeWord::SimilarTo => pieces::of_similar(value, escape),
            _ => pieces::of_like(value, escape, style == LikeStyle::Brackets),
        }
    }

    /// The plainest words of the target's for a pattern; a regular expression last of all.
    fn saying(&self, word: LikeWord, pieces: &[Piece]) -> Option<Saying> {
        let tells_case = self.tells_case(word);
        let flat = pieces::flat(pieces);
        let like = |all: &Vec<Vec<Piece>>| all.iter().map(|p| spell::as_like(p, style_of(self.to.name))).collect::<Option<Vec<_>>>();
        // What a LIKE that passes over case can't tell, others must.
        let like_will_do =
            word == LikeWord::Like || !(tells_case && self.facts.like_ignores_case) || self.to.name == DialectName::SqlServer;
        if let Some(all) = flat.as_ref().filter(|_| like_will_do).and_then(like) {
            return Some(Saying::Like(all));
        }
        let glob = |all: &Vec<Vec<Piece>>| all.iter().map(|p| spell::as_glob(p)).collect::<Option<Vec<_>>>();
        if let Some(all) = flat.as_ref().filter(|_| self.to.name == DialectName::Sqlite).and_then(glob) {
            return Some(Saying::Glob(all));
        }
        let has_regex = !matches!(self.to.name, DialectName::Sqlite | DialectName::SqlServer);
        has_regex.then(|| Saying::Regex(spell::as_regex(pieces)))
    }

    /// Whether the source's predicate tells small from capital letters.
    fn tells_case(&self, word: LikeWord) -> bool {
        match word {
            LikeWord::Ilike => false,
            LikeWord::Like => !self.source_facts.like_ignores_case,
            _ => true,
        }
    }

    fn write_so(&mut self, test: LikeTest<Meant>, saying: Saying, span: Span) -> Expr<Spelled> {
        let tells_case = self.tells_case(test.word);
        let tests: Vec<M> = match saying {
            Saying::Like(all) => {
                let own_word = if test.word == LikeWord::Ilike { LikeWord::Ilike } else { LikeWord::Like };
                // SQL Server's own collations pass over case.
                let sensitive = tells_case && self.to.name == DialectName::SqlServer && test.word != LikeWord::Like;
                let collated = |operand: M| {
                    let name = ObjectName::single(Ident::synthetic("Latin1_General_BIN2"));
                    if sensitive { Expr::synthetic(ExprKind::Collate(Box::new(operand), name)) } else { operand }
                };
                let one = |(pattern, clause): (String, bool)| {
                    let escape = clause.then(|| text("\\".into(), &Expr::synthetic(ExprKind::Default)));
                    let operand = collated(copy_of(&test.operand));
                    let pattern = text(pattern, &test.pattern);
                    let said = LikeTest { operand, pattern, escape, word: own_word, quantifier: None, negated: test.negated };
                    Expr::synthetic(ExprKind::Like(Box::new(said)))
                };
                all.into_iter().map(one).collect()
            }
            Saying::Glob(all) => {
                let lower = |e: M| if tells_case { e } else { call(phrase::TEXT_LOWER, vec![e]) };
                let one = |glob: String| {
                    let pattern = text(if tells_case { glob } else { glob.to_lowercase() }, &test.pattern);
                    let operand = lower(copy_of(&test.operand));
                    let said = LikeTest { operand, pattern, escape: None, word: LikeWord::Glob, quantifier: None, negated: test.negated };
                    Expr::synthetic(ExprKind::Like(Box::new(said)))
                };
                all.into_iter().map(one).collect()
            }
            Saying::Regex(regex) => {
                let phrase = if tells_case { phrase::REGEX_MATCHES } else { phrase::REGEX_MATCHES_ANY_CASE };
                let pattern = text(regex, &test.pattern);
                return self.negated(call(phrase, vec![test.operand, pattern]), test.negated, span);
            }
        };
        self.mapped(joined(!test.negated, tests, span))
    }

    /// Predicates that are in the target's words already, and what is within them.
    fn mapped(&mut self, expr: M) -> Expr<Spelled> {
        match expr.kind {
            ExprKind::Nested(inner) => Expr { kind: ExprKind::Nested(Box::new(self.mapped(*inner))), span: expr.span },
            ExprKind::Logic(word, operands) => {
                let operands = operands.into_iter().map(|o| self.mapped(o)).collect();
                Expr { kind: ExprKind::Logic(word, operands), span: expr.span }
            }
            kind => map_expr(self, Expr { kind, span: expr.span }),
        }
    }

    /// A pattern that no one can look at: what escapes, and what begins a set, is made to mean the same.
    fn worked_out(&mut self, test: &mut LikeTest<Meant>) {
        let (source, target) = (style_of(self.from.name), style_of(self.to.name));
        let part = |text: &str| self::text(text.into(), &Expr::synthetic(ExprKind::Default));
        let replaced = |pattern: &M, what: &str, by: &str| {
            let arguments = vec![pattern.clone(), part(what), part(by)];
            Expr { span: pattern.span, ..call(phrase::TEXT_REPLACE, arguments) }
        };
        if test.escape.is_none() {
            match (source == LikeStyle::Backslash, target == LikeStyle::Backslash) {
                (true, false) if may_hold(&test.pattern, '\\') => {
                    test.escape = Some(part("\\"));
                    self.note_strict_escape(&test.pattern);
                }
                (false, true) if may_hold(&test.pattern, '\\') => match self.to.name {
                    DialectName::Bigquery | DialectName::Spark => test.pattern = replaced(&test.pattern, "\\", "\\\\"),
                    _ => test.escape = Some(part("")),
                },
                _ => {}
            }
        }
        match (source == LikeStyle::Brackets, target == LikeStyle::Brackets) {
            (false, true) if may_hold(&test.pattern, '[') => test.pattern = replaced(&test.pattern, "[", "[[]"),
            (true, false) if may_hold(&test.pattern, '[') => {
                let message = "the pattern is worked out by the query: a bracket in it begins a set of characters on one side only";
                let note = Note::new("text.like-escape", test.pattern.span, message)
                    .advise("make sure that no pattern holds a bracket")
                    .broken_by(Breach::Value(ValueClass::Bracket, test.pattern.span));
                self.note(note);
            }
            _ => {}
        }
    }

    /// Oracle: only `%`, `_` and the escape itself can be escaped (ORA-01424).
    fn note_strict_escape(&mut self, pattern: &M) {
        if self.to.name != DialectName::Oracle {
            return;
        }
        let message = "the pattern is worked out by the query: a backslash in it before another character fails in Oracle";
        let note = Note::new("text.like-escape", pattern.span, message)
            .advise("make sure that in patterns a backslash precedes %, _ and \\ only")
            .broken_by(Breach::Value(ValueClass::Backslash, pattern.span));
        self.note(note);
    }

    fn unsaid(&mut self, what: &str, span: Span) -> Expr<Spelled> {
        self.refuse(span, what);
        Expr::synthetic(ExprKind::Default)
    }
}

/// The regular expression that is found where a part of a string fits a pattern of SQL Server's LIKE.
pub(super) fn regex_of_like(pattern: &str) -> Option<String> {
    Some(spell::as_regex(&pieces::of_like(pattern, None, true).ok()?))
}

/// Whether a pattern that is put together can hold a character: the strings written in it don't, and a
/// column may.
fn may_hold(pattern: &M, c: char) -> bool {
    pattern.any(&mut |e| match &e.kind {
        ExprKind::Literal(Constant::Text { value, .. }) => value.contains(c),
        ExprKind::Column(binding) => !binding.data_type.is_numeric(),
        ExprKind::Parameter(_) | ExprKind::Subquery(_) => true,
        _ => false,
    })
}

fn text_of(expr: &M) -> Option<String> {
    match &expr.without_parens().kind {
        ExprKind::Literal(Constant::Text { value, .. }) => Some(value.to_string()),
        _ => None,
    }
}

/// A string in the place of another expression.
fn text(value: String, place: &M) -> M {
    Expr { kind: ExprKind::Literal(Constant::Text { value: value.into(), written: None }), span: place.span }
}

/// The tests by OR if any will do, else by AND; in parentheses if they are several.
fn joined(any: bool, mut tests: Vec<M>, span: Span) -> M {
    let word = if any { LogicOperator::Or } else { LogicOperator::And };
    if tests.len() == 1 {
        return Expr { span, ..tests.remove(0) };
    }
    Expr { kind: ExprKind::Nested(Box::new(Expr::synthetic(ExprKind::Logic(word, tests)))), span }
}
