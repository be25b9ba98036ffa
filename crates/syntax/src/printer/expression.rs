//! Printing expressions.

use super::{Glue, Mark, Parentheses, Printer};
use crate::dialect::DialectName;
use crate::precedence;
use crate::token::Symbol;
use crate::tree::{
    ArrayForm, ArrayLiteral, Between, Binary, Case, Cast, CastForm, CollectWord, Expr, ExprKind, InSet, InTest, Interval, IsTest, IsWhat,
    Lambda, LikeTest, LikeWord, Literal, LogicOperator, Operator, Quantified, QuantifierWord, Span, Spelled, StructForm, StructLiteral,
    Subscript, TypeName, Unary,
};

impl Printer<'_> {
    /// `expr`, in parentheses if it binds looser than `least`.
    pub(super) fn expr(&mut self, expr: &Expr<Spelled>, least: u8) {
        self.expr_after(expr, least, Glue::Space);
    }

    /// The same right after an opening sign.
    pub(super) fn expr_after(&mut self, expr: &Expr<Spelled>, least: u8, glue: Glue) {
        let from = self.out.len();
        let level = self.level(expr);
        let wrap = match self.parentheses {
            Parentheses::Needed => level < least,
            Parentheses::AsRead => false,
            Parentheses::Everywhere => level < least || (level < precedence::PRIMARY && least > 0),
        };
        crate::with_stack(|| {
            if wrap {
                self.fixed_unmatched("(", glue);
                self.node(expr.span, |p| p.kind(expr, Glue::Tight));
                self.fixed_unmatched(")", Glue::Tight);
            } else {
                self.node(expr.span, |p| p.kind(expr, glue));
            }
        });
        self.place_first(from, expr.span);
    }

    /// What replaces an expression takes its place: its first token takes the white space
    /// before it, also from the token of the source that is further behind now.
    fn place_first(&mut self, from: usize, span: Span) {
        let (source, tokens) = (self.source, self.tokens);
        let [first, rest @ ..] = &mut self.out[from..] else { return };
        if !span.is_read() || first.source != u32::MAX || first.made.is_none() {
            return;
        }
        if let Some(at) = rest.iter().position(|p| p.source == span.first) {
            let before = if at == 0 { &*first } else { &rest[at - 1] };
            let opens = before.text(source, tokens).ends_with(['(', '[']);
            let moved = &mut rest[at];
            if moved.made.is_none() {
                let text = tokens.get(span.first as usize).map_or("", |t| t.text(source));
                moved.made = Some(text.to_string().into());
            }
            moved.source = u32::MAX;
            moved.glue = if opens { Glue::Tight } else { moved.glue };
        }
        first.source = span.first;
    }

    /// A sign that has no token in the source.
    pub(super) fn fixed_unmatched(&mut self, text: &'static str, glue: Glue) {
        self.push_made(text, u32::MAX, glue);
    }

    /// How tightly the outermost operation of `expr` binds.
    pub(super) fn level(&self, expr: &Expr<Spelled>) -> u8 {
        let dialect = self.dialect.name;
        match &expr.kind {
            ExprKind::Logic(LogicOperator::Or, _) => precedence::OR,
            ExprKind::Logic(LogicOperator::And, _) => precedence::AND,
            ExprKind::Not(_) => precedence::NOT,
            ExprKind::Is(_) => precedence::of_is(dialect),
            ExprKind::Between(_) | ExprKind::In(_) | ExprKind::Like(_) => precedence::of_predicate(dialect),
            ExprKind::Quantified(_) => precedence::COMPARISON,
            ExprKind::Binary(binary) => {
                precedence::of_operator(dialect, binary.operator, self.spelling.bars_mean_or).unwrap_or(precedence::COMPARISON)
            }
            ExprKind::Unary(unary) => precedence::of_prefix(dialect, unary.operator),
            ExprKind::Literal(Literal::Number(text)) if text.starts_with('-') => precedence::UNARY,
            ExprKind::Collate(..) | ExprKind::AtTimeZone(..) => precedence::COLLATE,
            ExprKind::Lambda(_) => 0,
            _ => precedence::PRIMARY,
        }
    }

    pub(super) fn kind(&mut self, expr: &Expr<Spelled>, glue: Glue) {
        match &expr.kind {
            ExprKind::Column(name) => self.object_name_with(name, glue),
            ExprKind::Literal(literal) => self.literal(literal, expr, glue),
            ExprKind::Parameter(text) => {
                let source = if expr.span.is_read() { expr.span.first } else { u32::MAX };
                self.push_made(text.to_string(), source, glue);
                self.cursor += 1;
            }
            ExprKind::Star(qualifier) => {
                if let Some(name) = qualifier {
                    self.object_name_with(name, glue);
                    self.tight(".");
                    self.tight("*");
                } else {
                    self.fixed("*", glue);
                }
            }
            ExprKind::Nested(inner) => {
                self.fixed("(", glue);
                self.expr_after(inner, 0, Glue::Tight);
                self.close_at(expr.span);
            }
            ExprKind::Unary(unary) => self.unary(unary, glue),
            ExprKind::Binary(binary) => self.binary(binary, glue),
            ExprKind::Logic(operator, operands) => self.logic(*operator, operands, glue),
            ExprKind::Not(operand) => {
                self.fixed("NOT", glue);
                self.expr(operand, precedence::NOT);
            }
            ExprKind::Is(test) => self.is_test(test, glue),
            ExprKind::Between(test) => self.between(test, glue),
            ExprKind::In(test) => self.in_test(test, glue),
            ExprKind::Like(test) => self.like_test(test, glue),
            ExprKind::Exists(query) => {
                self.fixed("EXISTS", glue);
                self.query_in_parens(query, expr.span, Glue::Space);
            }
            ExprKind::Quantified(test) => self.quantified(test, glue),
            ExprKind::Row(items) => {
                if self.at_cursor("ROW") {
                    self.fixed("ROW", glue);
                    self.tight("(");
                } else {
                    self.fixed("(", glue);
                }
                self.expr_list(items);
                self.close_at(expr.span);
            }
            ExprKind::Case(case) => self.case(case, glue),
            ExprKind::Cast(cast) => self.cast(cast, expr, glue),
            ExprKind::Call(call) => self.call(call, glue),
            ExprKind::Subquery(query) => self.subquery(query, expr, glue),
            ExprKind::Array(array) => self.array(array, glue),
            ExprKind::Collect(word, query) => {
                let word = match word {
                    CollectWord::Array => "ARRAY",
                    CollectWord::Multiset => "MULTISET",
                    CollectWord::Cursor => "CURSOR",
                };
                self.fixed(word, glue);
                self.query_in_parens(query, expr.span, Glue::Tight);
            }
            ExprKind::Struct(literal) => self.struct_literal(literal, glue),
            ExprKind::Subscript(subscript) => self.subscript(subscript, glue),
            ExprKind::Field(field) => {
                let crate::tree::Field { operand, name } = &**field;
                self.expr_after(operand, precedence::PRIMARY, glue);
                self.tight(".");
                self.ident_with(name, Glue::Tight);
            }
            ExprKind::Lambda(lambda) => self.lambda(lambda, glue),
            ExprKind::Interval(interval) => self.interval(interval, glue),
            ExprKind::AtTimeZone(operand, zone) => {
                self.expr_after(operand, precedence::COLLATE, glue);
                self.word("AT");
                match zone {
                    Some(zone) => {
                        self.words(&["TIME", "ZONE"]);
                        self.expr(zone, precedence::COLLATE + 1);
                    }
                    None => self.word("LOCAL"),
                }
            }
            ExprKind::Collate(operand, name) => {
                self.expr_after(operand, precedence::COLLATE, glue);
                self.word("COLLATE");
                self.object_name(name);
            }
            ExprKind::OuterMark(operand) => {
                self.expr_after(operand, precedence::PRIMARY, glue);
                self.tight("(");
                self.tight("+");
                self.tight(")");
            }
            ExprKind::Default => self.fixed("DEFAULT", glue),
        }
    }

    fn between(&mut self, test: &Between<Spelled>, glue: Glue) {
        self.expr_after(&test.operand, precedence::of_predicate(self.dialect.name), glue);
        self.not(test.negated);
        self.word("BETWEEN");
        if test.symmetric {
            self.word("SYMMETRIC");
        } else if self.is(&[DialectName::Postgres]) {
            self.optional("ASYMMETRIC");
        }
        self.expr(&test.low, precedence::COMPARISON + 6);
        self.word("AND");
        self.expr(&test.high, precedence::COMPARISON + 6);
    }

    fn array(&mut self, array: &ArrayLiteral<Spelled>, glue: Glue) {
        match array.form {
            ArrayForm::Bare => self.fixed("[", glue),
            ArrayForm::Word => {
                self.fixed("ARRAY", glue);
                self.tight("[");
            }
            ArrayForm::Typed => {
                self.fixed("ARRAY", glue);
                self.tight("<");
                if let Some(element) = &array.element {
                    self.type_name(element);
                }
                self.tight(">");
                self.tight("[");
            }
        }
        self.expr_list(&array.items);
        self.tight("]");
    }

    fn subscript(&mut self, subscript: &Subscript<Spelled>, glue: Glue) {
        self.expr_after(&subscript.operand, precedence::PRIMARY, glue);
        self.tight("[");
        if let Some(low) = &subscript.low {
            self.expr_after(low, 0, Glue::Tight);
        }
        if let Some((high, step)) = &subscript.slice {
            self.tight(":");
            match high {
                Some(high) => self.expr_after(high, 0, Glue::Tight),
                None => self.optional("-"),
            }
            if let Some(step) = step {
                self.tight(":");
                self.expr_after(step, 0, Glue::Tight);
            }
        }
        self.tight("]");
    }

    fn lambda(&mut self, lambda: &Lambda<Spelled>, glue: Glue) {
        if lambda.with_keyword {
            self.fixed("LAMBDA", glue);
            self.comma_list(&lambda.parameters, Self::ident);
            self.tight(":");
        } else {
            let in_parens = lambda.parameters.len() != 1 || self.at_cursor("(");
            if in_parens {
                self.fixed("(", glue);
            }
            self.comma_list(&lambda.parameters, Self::ident);
            if in_parens {
                self.tight(")");
            }
            self.sign("->");
        }
        self.expr(&lambda.body, 0);
    }

    pub(super) fn expr_list(&mut self, items: &[Expr<Spelled>]) {
        for (i, item) in items.iter().enumerate() {
            if i > 0 {
                self.tight(",");
                self.expr(item, 0);
            } else {
                self.expr_after(item, 0, Glue::Tight);
            }
        }
    }

    pub(super) fn not(&mut self, negated: bool) {
        if negated {
            self.word("NOT");
        }
    }

    pub(super) fn literal(&mut self, literal: &Literal, expr: &Expr<Spelled>, glue: Glue) {
        let source = if expr.span.is_read() { expr.span.first } else { u32::MAX };
        match literal {
            Literal::Null => self.fixed("NULL", glue),
            Literal::Boolean(true) => self.fixed("TRUE", glue),
            Literal::Boolean(false) => self.fixed("FALSE", glue),
            Literal::Number(text) => {
                self.value_text(text, source, glue);
            }
            Literal::Text(_) | Literal::Texts(_) => {
                let parts = match literal {
                    Literal::Texts(parts) => parts.as_slice(),
                    Literal::Text(part) => std::slice::from_ref(part),
                    _ => &[],
                };
                for (i, part) in parts.iter().enumerate() {
                    let read = source != u32::MAX && (expr.span.end - expr.span.first) as usize >= parts.len();
                    // A character set introducer before the text was not kept.
                    let first = expr.span.end.wrapping_sub(parts.len() as u32);
                    let spoken = self.is(&[DialectName::Mysql, DialectName::Mariadb]);
                    let introduced = spoken && read && self.tokens[source as usize].text(self.source).starts_with('_');
                    if introduced && i == 0 && first > source {
                        self.verbatim(Span { first: source, end: first });
                    }
                    let token = if read { first + i as u32 } else { u32::MAX };
                    self.value_text(part, token, glue);
                }
            }
            Literal::Typed(typed) => {
                let crate::tree::TypedLiteral { word, text } = &**typed;
                let letters = self.tokens.get(source as usize).map(|t| t.text(self.source));
                // A text that became a typed literal has one token of its own.
                let has_word = letters.is_some_and(|written| written.starts_with(char::is_alphabetic));
                match letters {
                    Some(written) if written.eq_ignore_ascii_case(word) => self.push_kept(source, glue),
                    _ => self.push_made(word.to_string(), if has_word { source } else { u32::MAX }, glue),
                }
                let token = if source != u32::MAX && has_word { source + 1 } else { source };
                self.value_text(text, token, Glue::Space);
            }
        }
    }

    pub(super) fn value_text(&mut self, text: &str, source: u32, glue: Glue) {
        match self.tokens.get(source as usize) {
            Some(token) if token.bytes(self.source) == text.as_bytes() => self.push_kept(source, glue),
            _ => self.push_made(text.to_string(), source, glue),
        }
        if source != u32::MAX {
            self.cursor = source as usize + 1;
        }
    }

    pub(super) fn unary(&mut self, unary: &Unary<Spelled>, glue: Glue) {
        match unary.operator {
            Operator::Symbol(symbol) => {
                self.fixed(symbol.text(), glue);
                // `- -1`, not a comment.
                let signed = matches!(&unary.operand.kind, ExprKind::Unary(_))
                    || matches!(&unary.operand.kind, ExprKind::Literal(Literal::Number(n)) if n.starts_with('-'));
                let glue = if signed { Glue::Space } else { Glue::Tight };
                self.expr_after(&unary.operand, precedence::of_prefix(self.dialect.name, unary.operator), glue);
            }
            word => {
                self.fixed(operator_word(word), glue);
                self.expr(&unary.operand, precedence::UNARY);
            }
        }
    }

    pub(super) fn binary(&mut self, binary: &Binary<Spelled>, glue: Glue) {
        let level =
            precedence::of_operator(self.dialect.name, binary.operator, self.spelling.bars_mean_or).unwrap_or(precedence::COMPARISON);
        self.expr_after(&binary.left, level, glue);
        self.operator(binary.operator);
        self.expr(&binary.right, level + 1);
    }

    pub(super) fn operator(&mut self, operator: Operator) {
        match operator {
            Operator::Symbol(Symbol::NotEqual) => self.sign("<>"),
            Operator::Symbol(symbol) => self.sign(symbol.text()),
            Operator::MemberOf => self.words(&["MEMBER", "OF"]),
            word => self.word(operator_word(word)),
        }
    }

    pub(super) fn logic(&mut self, operator: LogicOperator, operands: &[Expr<Spelled>], glue: Glue) {
        let (word, level) = match operator {
            LogicOperator::And => ("AND", precedence::AND),
            LogicOperator::Or => ("OR", precedence::OR),
        };
        for (i, operand) in operands.iter().enumerate() {
            if i > 0 {
                self.mark(Mark::Condition);
                self.word(word);
                self.expr(operand, level + 1);
            } else {
                self.expr_after(operand, level + 1, glue);
            }
        }
    }

    pub(super) fn is_test(&mut self, test: &IsTest<Spelled>, glue: Glue) {
        // BigQuery's IS is one of the comparisons, none of which takes another without parentheses.
        let level = precedence::of_is(self.dialect.name) + u8::from(self.dialect.name == DialectName::Bigquery);
        self.expr_after(&test.operand, level, glue);
        if test.one_word {
            match (test.negated, self.at_cursor("NOT")) {
                (true, true) => self.words(&["NOT", "NULL"]),
                (true, false) => self.word("NOTNULL"),
                (false, _) => self.word("ISNULL"),
            }
            return;
        }
        self.word("IS");
        self.not(test.negated);
        match &test.what {
            IsWhat::Null => self.word("NULL"),
            IsWhat::True => self.word("TRUE"),
            IsWhat::False => self.word("FALSE"),
            IsWhat::Unknown => self.word("UNKNOWN"),
            IsWhat::DistinctFrom(other) => {
                self.words(&["DISTINCT", "FROM"]);
                self.expr(other, precedence::COMPARISON + 6);
            }
            IsWhat::Same(other) => self.expr(other, precedence::COMPARISON + 1),
            IsWhat::Words(words) => {
                for word in words.split(' ') {
                    self.loose_word(word);
                }
            }
        }
    }

    /// A word that is no fixed one of ours.
    pub(super) fn loose_word(&mut self, word: &str) {
        if self.at_cursor(word) {
            self.push_kept(self.cursor as u32, Glue::Space);
            self.cursor += 1;
        } else {
            self.push_made(word.to_string(), u32::MAX, Glue::Space);
        }
    }

    pub(super) fn in_test(&mut self, test: &InTest<Spelled>, glue: Glue) {
        self.expr_after(&test.operand, precedence::of_predicate(self.dialect.name), glue);
        self.not(test.negated);
        self.word("IN");
        match &test.set {
            InSet::List(items) => {
                self.open();
                self.expr_list(items);
                self.tight(")");
            }
            InSet::Query(query) => {
                self.mark(Mark::OpenQuery);
                self.open();
                self.query(query);
                self.mark(Mark::CloseQuery);
                self.tight(")");
            }
            InSet::Value(value) => self.expr(value, precedence::COMPARISON + 1),
        }
    }

    pub(super) fn like_test(&mut self, test: &LikeTest<Spelled>, glue: Glue) {
        self.expr_after(&test.operand, precedence::of_predicate(self.dialect.name), glue);
        self.not(test.negated);
        match test.word {
            LikeWord::Like => self.word("LIKE"),
            LikeWord::Ilike => self.word("ILIKE"),
            LikeWord::SimilarTo => self.words(&["SIMILAR", "TO"]),
            LikeWord::Glob => self.word("GLOB"),
            LikeWord::Rlike => self.word("RLIKE"),
            LikeWord::Regexp => self.word("REGEXP"),
            LikeWord::Match => self.word("MATCH"),
        }
        if let Some(quantifier) = test.quantifier {
            self.quantifier(quantifier);
        }
        self.expr(&test.pattern, precedence::COMPARISON + 6);
        if let Some(escape) = &test.escape {
            self.word("ESCAPE");
            self.expr(escape, precedence::COMPARISON + 6);
        }
    }

    pub(super) fn quantifier(&mut self, quantifier: QuantifierWord) {
        self.word(match quantifier {
            QuantifierWord::Any => "ANY",
            QuantifierWord::Some => "SOME",
            QuantifierWord::All => "ALL",
        });
    }

    pub(super) fn quantified(&mut self, test: &Quantified<Spelled>, glue: Glue) {
        self.expr_after(&test.left, precedence::COMPARISON, glue);
        self.operator(test.operator);
        self.quantifier(test.quantifier);
        self.expr(&test.set, 0);
    }

    pub(super) fn case(&mut self, case: &Case<Spelled>, glue: Glue) {
        self.fixed("CASE", glue);
        if let Some(operand) = &case.operand {
            self.expr(operand, 0);
        }
        for (when, then) in &case.branches {
            self.word("WHEN");
            self.expr(when, 0);
            self.word("THEN");
            self.expr(then, 0);
        }
        if let Some(otherwise) = &case.otherwise {
            self.word("ELSE");
            self.expr(otherwise, 0);
        }
        self.word("END");
    }

    pub(super) fn cast(&mut self, cast: &Cast<Spelled>, expr: &Expr<Spelled>, glue: Glue) {
        let word = match cast.form {
            CastForm::DoubleColon => {
                self.expr_after(&cast.operand, precedence::PRIMARY, glue);
                self.tight("::");
                self.type_name_after(&cast.to, Glue::Tight);
                return;
            }
            CastForm::Cast | CastForm::OnError => "CAST",
            CastForm::TryCast => "TRY_CAST",
            CastForm::SafeCast => "SAFE_CAST",
            CastForm::Convert | CastForm::ConvertTo | CastForm::ConvertUsing => "CONVERT",
            CastForm::TryConvert => "TRY_CONVERT",
            CastForm::ToNumberOnError => "TO_NUMBER",
            CastForm::Validate => "VALIDATE_CONVERSION",
            CastForm::Parse => "PARSE",
            CastForm::TryParse => "TRY_PARSE",
        };
        self.fixed(word, glue);
        self.tight("(");
        match cast.form {
            CastForm::Convert | CastForm::TryConvert => {
                self.type_name_after(&cast.to, Glue::Tight);
                self.tight(",");
                self.expr(&cast.operand, 0);
                if let Some(style) = &cast.extra {
                    self.tight(",");
                    self.expr(style, 0);
                }
            }
            form => {
                self.expr_after(&cast.operand, 0, Glue::Tight);
                match form {
                    CastForm::ConvertTo => self.tight(","),
                    CastForm::ConvertUsing => self.word("USING"),
                    CastForm::ToNumberOnError => {}
                    _ => self.word("AS"),
                }
                if form != CastForm::ToNumberOnError {
                    self.type_name(&cast.to);
                }
                match (&cast.extra, form) {
                    (Some(given), CastForm::OnError | CastForm::ToNumberOnError) => {
                        self.word("DEFAULT");
                        self.expr(given, 0);
                        self.words(&["ON", "CONVERSION", "ERROR"]);
                    }
                    (Some(culture), CastForm::Parse | CastForm::TryParse) => {
                        self.word("USING");
                        self.expr(culture, 0);
                    }
                    (Some(mask), _) => {
                        self.word("FORMAT");
                        self.expr(mask, 0);
                    }
                    (None, _) => {}
                }
            }
        }
        self.close_at(expr.span);
    }

    pub(super) fn type_name(&mut self, type_name: &TypeName) {
        self.type_name_after(type_name, Glue::Space);
    }

    pub(super) fn type_name_after(&mut self, type_name: &TypeName, glue: Glue) {
        if type_name.span.is_read() {
            self.verbatim(type_name.span);
            return;
        }
        let mut text = type_name.words.to_string();
        if !type_name.arguments.is_empty() {
            text.push('(');
            text.push_str(&type_name.arguments.iter().map(compact_str::CompactString::as_str).collect::<Vec<_>>().join(", "));
            text.push(')');
        }
        if !type_name.suffix.is_empty() {
            text.push(' ');
            text.push_str(&type_name.suffix);
        }
        for _ in 0..type_name.dimensions {
            text.push_str("[]");
        }
        self.push_made(text, u32::MAX, glue);
    }

    pub(super) fn struct_literal(&mut self, literal: &StructLiteral<Spelled>, glue: Glue) {
        let close = match literal.form {
            StructForm::Call => {
                match &literal.declared {
                    Some(declared) => self.type_name(declared),
                    None => self.fixed("STRUCT", glue),
                }
                self.tight("(");
                ")"
            }
            StructForm::Braces => {
                self.fixed("{", glue);
                "}"
            }
            StructForm::Map => {
                self.fixed("MAP", glue);
                self.sign("{");
                "}"
            }
        };
        self.comma_list(&literal.fields, |p, (key, value)| {
            if literal.form == StructForm::Call {
                p.expr(value, 0);
                if let Some(key) = key {
                    p.word("AS");
                    p.expr(key, 0);
                }
            } else {
                if let Some(key) = key {
                    p.expr(key, 0);
                }
                p.tight(":");
                p.expr(value, 0);
            }
        });
        self.tight(close);
    }

    pub(super) fn interval(&mut self, interval: &Interval<Spelled>, glue: Glue) {
        self.fixed("INTERVAL", glue);
        self.expr(&interval.value, precedence::COMPARISON + 1);
        if let Some(unit) = &interval.unit {
            if interval.unit_span.is_read() {
                self.verbatim(interval.unit_span);
            } else {
                self.push_made(unit.to_string(), u32::MAX, Glue::Space);
            }
        }
        for (value, unit) in &interval.more {
            self.expr(value, precedence::UNARY);
            self.loose_word(unit);
        }
    }
}

fn operator_word(operator: Operator) -> &'static str {
    match operator {
        Operator::Symbol(symbol) => symbol.text(),
        Operator::Div => "DIV",
        Operator::Mod => "MOD",
        Operator::Xor => "XOR",
        Operator::Overlaps => "OVERLAPS",
        Operator::Prior => "PRIOR",
        Operator::ConnectByRoot => "CONNECT_BY_ROOT",
        Operator::Binary => "BINARY",
        Operator::MemberOf => "MEMBER OF",
    }
}
