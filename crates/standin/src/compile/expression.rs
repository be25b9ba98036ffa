//! Expressions: columns become slots, words become functions, types are settled.

use syntax::DialectName;
use syntax::tree::{
    Case, Expr, ExprKind, InSet, InTest, IsTest, IsWhat, LikeTest, LikeWord, LogicOperator, ObjectName, Quantified, QuantifierWord,
    Spelled, Subscript,
};
use syntax::tree::{CollectWord, Ident, Query};
use values::Value;

use super::{Compiler, Purpose, unify};
use crate::behaviour::Collation;
use crate::failure::{Codes, Failure, FailureKind, NO_COLUMN, Outcome};
use crate::plan::{Code, Comparison, LikeCode, Rule, Typed};
use crate::types::{TextType, Type};

type E = Expr<Spelled>;

impl Compiler<'_> {
    pub(super) fn expr(&mut self, expr: &E) -> Outcome<Typed> {
        let mut typed = syntax::with_stack(|| self.expr_kind(expr)).map_err(|f| self.placed(f, expr.span))?;
        if let Some((start, end)) = self.bytes_of(expr.span) {
            typed.code.written_at(start, end);
        }
        // What is a constant or a row value by its form stays so; an AND is taken apart.
        let place = self.place(expr.span);
        let is_and = matches!(expr.without_parens().kind, ExprKind::Logic(LogicOperator::And, _));
        if place.bytes().is_some() && !is_and && !matches!(typed.code, Code::Constant(_) | Code::Row(_)) {
            typed.code = Code::Watched(place, Box::new(typed.code));
        }
        Ok(typed)
    }

    fn all(&mut self, exprs: &[E]) -> Outcome<Vec<Typed>> {
        exprs.iter().map(|e| self.expr(e)).collect()
    }

    fn expr_kind(&mut self, expr: &E) -> Outcome<Typed> {
        let truth = |code| Ok(Typed::new(code, Type::Boolean));
        match &expr.kind {
            ExprKind::Column(name) => self.column_or_word(name),
            ExprKind::Literal(syntax::tree::Literal::Typed(typed)) if self.dialect() == DialectName::SqlServer => {
                self.escape_literal(typed, expr.span)
            }
            ExprKind::Literal(literal) => self.literal(literal),
            ExprKind::Parameter(text) => self.parameter(text),
            ExprKind::Star(_) => Err(Failure::invalid("* can't stand here")
                .coded(self.dialect(), &[(DialectName::Oracle, "ORA-00936"), (DialectName::SqlServer, "Msg 102")])),
            ExprKind::Nested(inner) => self.expr(inner),
            ExprKind::Unary(unary) => self.unary(unary.operator, &unary.operand),
            ExprKind::Binary(binary) => self.binary(binary.operator, &binary.left, &binary.right),
            ExprKind::Logic(operator, parts) => {
                let parts: Outcome<Vec<Code>> = parts.iter().map(|p| self.condition(p)).collect();
                truth(if *operator == LogicOperator::And { Code::And(parts?) } else { Code::Or(parts?) })
            }
            ExprKind::Not(inner) => truth(Code::Not(Box::new(self.condition(inner)?))),
            ExprKind::Is(test) => self.is_test(test),
            ExprKind::Between(test) => {
                let (operand, low, high) = (self.expr(&test.operand)?, self.expr(&test.low)?, self.expr(&test.high)?);
                let (low, high) = (low, high);
                let inside = |c: &Self, low: &Typed, high: &Typed| -> Outcome<Code> {
                    Ok(Code::And(vec![
                        c.comparison(Comparison::GreaterOrEqual, operand.clone(), low.clone())?,
                        c.comparison(Comparison::LessOrEqual, operand.clone(), high.clone())?,
                    ]))
                };
                let mut code = inside(self, &low, &high)?;
                if test.symmetric {
                    code = Code::Or(vec![code, inside(self, &high, &low)?]);
                }
                truth(if test.negated { Code::Not(Box::new(code)) } else { code })
            }
            ExprKind::In(test) => self.in_test(test),
            ExprKind::Like(test) => self.like_test(test),
            ExprKind::Exists(query) => truth(Code::Exists(Box::new(self.query(query)?))),
            ExprKind::Subquery(query) => self.scalar_query(query),
            ExprKind::Quantified(test) => self.quantified(test),
            ExprKind::Row(items) => {
                let parts = self.all(items)?;
                let types = parts.iter().map(|p| (String::new(), p.ty.clone())).collect();
                Ok(Typed::new(Code::Row(parts.into_iter().map(|p| p.code).collect()), Type::Struct(types)))
            }
            ExprKind::Case(case) => self.case(case),
            ExprKind::Cast(cast) => self.cast(cast),
            ExprKind::Call(call) => self.call(call),
            ExprKind::Interval(interval) => self.interval(interval),
            ExprKind::Collate(inner, name) => self.collate(inner, &name.dotted()),
            ExprKind::Array(array) => {
                let parts = self.all(&array.items)?;
                let (codes, element) = self.alike(parts, Purpose::Choose)?;
                let element = match &array.element {
                    Some(name) => Type::named(name, self.behaviour).unwrap_or(element),
                    None => element.without_literal(),
                };
                Ok(Typed::new(Code::Array(codes), Type::Array(Box::new(element))))
            }
            ExprKind::Collect(CollectWord::Cursor, _) => Err(Failure::unknown("CURSOR")),
            ExprKind::Collect(_, query) => {
                let plan = self.query(query)?;
                let element = match plan.types.as_slice() {
                    [one] => one.clone(),
                    several => Type::Struct(plan.labels.iter().cloned().zip(several.iter().cloned()).collect()),
                };
                Ok(Typed::new(Code::Collect(Box::new(plan)), Type::Array(Box::new(element))))
            }
            ExprKind::Subscript(subscript) => self.subscript(subscript),
            ExprKind::Struct(literal) => {
                let (mut fields, mut types) = (Vec::new(), Vec::new());
                for (at, (name, value)) in literal.fields.iter().enumerate() {
                    let label = match name.as_ref().map(|n| &n.kind) {
                        Some(ExprKind::Column(name)) => name.last().text.to_string(),
                        Some(ExprKind::Literal(syntax::tree::Literal::Text(text))) => {
                            syntax::decode_text(text, &self.behaviour.spelling).into()
                        }
                        Some(_) => return Err(Failure::unknown("this key of a struct")),
                        None => match &value.kind {
                            ExprKind::Column(name) => name.last().text.to_string(),
                            _ => format!("_{at}"),
                        },
                    };
                    let typed = self.expr(value)?;
                    types.push((label.clone(), typed.ty));
                    fields.push((label, typed.code));
                }
                Ok(Typed::new(Code::Struct(fields), Type::Struct(types.into_boxed_slice())))
            }
            ExprKind::Field(field) => {
                let operand = self.expr(&field.operand)?;
                self.field(operand, &field.name)
            }
            ExprKind::AtTimeZone(inner, zone) => self.at_time_zone(inner, zone.as_deref()),
            ExprKind::OuterMark(_) => {
                Err(Failure::invalid("(+) belongs in WHERE, beside a column").coded(self.dialect(), &[(DialectName::Oracle, "ORA-30563")]))
            }
            ExprKind::Default => Err(Failure::unknown("DEFAULT as a value")),
            ExprKind::Lambda(_) => Err(Failure::unknown("lambdas")),
        }
    }

    // --- columns -------------------------------------------------------------------------------

    /// A column's depth and place.
    pub(super) fn find(&self, qualifier: Option<&Ident>, name: &Ident) -> Option<(usize, usize)> {
        self.scopes.iter().rev().enumerate().find_map(|(depth, scope)| {
            let first = if depth == 0 { self.block.first_in_sight } else { 0 };
            let at = scope.columns.iter().enumerate().position(|(i, c)| {
                i >= first
                    && self.names(&c.name, name)
                    && match qualifier {
                        Some(q) => c.relation.as_deref().is_some_and(|r| self.names_relation(r, q)),
                        None => !c.merged,
                    }
            })?;
            Some((depth, at))
        })
    }

    fn is_ambiguous(&self, depth: usize, qualifier: Option<&Ident>, name: &Ident) -> bool {
        let scope = &self.scopes[self.scopes.len() - 1 - depth];
        let same = |c: &&super::InSight| {
            !c.merged
                && self.names(&c.name, name)
                && qualifier.is_none_or(|q| c.relation.as_deref().is_some_and(|r| self.names_relation(r, q)))
        };
        scope.columns.iter().filter(same).count() > 1
    }

    /// A column by its name; an error says what is near.
    pub(super) fn column(&mut self, qualifier: Option<&Ident>, name: &Ident) -> Outcome<Typed> {
        let Some((depth, at)) = self.find(qualifier, name) else { return Err(self.no_column(qualifier, name)) };
        if self.is_ambiguous(depth, qualifier, name) {
            let codes: Codes = &[
                (DialectName::Oracle, "ORA-00918"),
                (DialectName::SqlServer, "Msg 209"),
                (DialectName::Mysql, "ER_NON_UNIQ_ERROR"),
                (DialectName::Mariadb, "ER_NON_UNIQ_ERROR"),
                (DialectName::Postgres, "42702"),
            ];
            let message = format!("{} is a column of more than one table here", name.text);
            return Err(Failure::new(FailureKind::UnknownName, message).coded(self.dialect(), codes));
        }
        let scope = self.scopes.len() - 1 - depth;
        let column = &self.scopes[scope].columns[at];
        if let (Some(code), Some(_)) = (&column.shared, qualifier) {
            return Err(Failure::invalid(format!("{} is shared by both sides: it takes no qualifier", name.text)).with_code(code));
        }
        if depth > 1 && self.dialect() == DialectName::Spark {
            // A subquery sees the query around it and no further (seen on Spark 4.0).
            return Err(self.no_column(qualifier, name));
        }
        if depth > 0 {
            self.reach = self.reach.min(scope);
        }
        Ok(Typed::new(Code::Slot(depth, at), column.ty.clone()))
    }

    pub(super) fn no_column(&self, qualifier: Option<&Ident>, name: &Ident) -> Failure {
        let near = |near: Option<&str>| {
            near.filter(|n| !n.eq_ignore_ascii_case(&name.text)).map_or(String::new(), |n| format!(" (did you mean {n}?)"))
        };
        let Some(qualifier) = qualifier else {
            let found = syntax::nearest(&name.text, self.in_sight().map(|c| c.name.as_str()));
            return Failure::new(FailureKind::UnknownName, format!("there is no column {}{}", name.text, near(found)))
                .coded(self.dialect(), NO_COLUMN);
        };
        let own = |c: &&super::InSight| c.relation.as_deref().is_some_and(|r| self.names_relation(r, qualifier));
        if self.in_sight().any(|c| own(&c)) {
            let found = syntax::nearest(&name.text, self.in_sight().filter(own).map(|c| c.name.as_str()));
            let message = format!("there is no column {}.{}{}", qualifier.text, name.text, near(found));
            return Failure::new(FailureKind::UnknownName, message).coded(self.dialect(), NO_COLUMN);
        }
        let found = syntax::nearest(&qualifier.text, self.in_sight().filter_map(|c| c.relation.as_deref()));
        let message = format!("no table is called {} here{}", qualifier.text, near(found));
        let failure = Failure::new(FailureKind::UnknownName, message);
        match self.dialect() {
            DialectName::SqlServer => failure.with_code("Msg 4104"),
            DialectName::Postgres => failure.with_code("42P01"),
            dialect => failure.coded(dialect, NO_COLUMN),
        }
    }

    /// The columns a name can mean, of this block and those around it.
    fn in_sight(&self) -> impl Iterator<Item = &super::InSight> {
        self.scopes.iter().rev().enumerate().flat_map(|(depth, scope)| {
            let first = if depth == 0 { self.block.first_in_sight } else { 0 };
            scope.columns.iter().skip(first)
        })
    }

    fn column_or_word(&mut self, name: &ObjectName) -> Outcome<Typed> {
        let last = name.last();
        let qualifier = match name.parts.as_slice() {
            [.., qualifier, _] => Some(qualifier),
            _ => None,
        };
        if self.find(qualifier, last).is_some() {
            return self.column(qualifier, last);
        }
        if let Some(typed) = self.struct_path(name)? {
            return Ok(typed);
        }
        if qualifier.is_none() {
            if let Some(typed) = self.bound_parameter(&last.text) {
                return Ok(typed);
            }
            if let Some((_, typed)) = self.scopes.last().and_then(|s| s.aliases.iter().rev().find(|(n, _)| self.names(n, last))) {
                return Ok(typed.clone());
            }
            if last.quote == syntax::tree::Quote::None {
                let upper = last.text.to_uppercase();
                if let Some(typed) = self.pseudo_column(&upper)? {
                    return Ok(typed);
                }
                if let Some(typed) = self.word_function(&upper)? {
                    return Ok(typed);
                }
            }
        }
        // Sequences: s.NEXTVAL.
        Err(self.no_column(qualifier, last))
    }

    /// `column.field`, `table.column.field`.
    fn struct_path(&mut self, name: &ObjectName) -> Outcome<Option<Typed>> {
        for start in 1..name.parts.len() {
            let (head, fields) = name.parts.split_at(start);
            let (qualifier, column) = match head {
                [column] => (None, column),
                [qualifier, column] => (Some(qualifier), column),
                _ => return Ok(None),
            };
            if self.find(qualifier, column).is_none() {
                continue;
            }
            let mut typed = self.column(qualifier, column)?;
            if !matches!(typed.ty, Type::Struct(_) | Type::Any) {
                return Ok(None);
            }
            for field in fields {
                typed = self.field(typed, field)?;
            }
            return Ok(Some(typed));
        }
        Ok(None)
    }

    fn field(&self, operand: Typed, name: &Ident) -> Outcome<Typed> {
        let ty = match &operand.ty {
            Type::Struct(fields) => match fields.iter().find(|(n, _)| self.names(n, name) || n.eq_ignore_ascii_case(&name.text)) {
                Some((_, ty)) => ty.clone(),
                None => return Err(self.no_column(None, name)),
            },
            _ => Type::Any,
        };
        Ok(Typed::new(Code::Field(Box::new(operand.code), name.text.to_string()), ty))
    }

    fn bound_parameter(&mut self, name: &str) -> Option<Typed> {
        let lower = name.to_lowercase();
        let (_, typed, depth) = self.parameters.iter().find(|(n, ..)| *n == lower)?.clone();
        let further = self.scopes.len() - depth;
        self.reach = self.reach.min(depth.saturating_sub(1));
        let mut code = typed.code;
        code.walk(0, &mut |c, inner| {
            if let Code::Slot(d, _) = c
                && *d >= inner
            {
                *d += further;
            }
            true
        });
        Some(Typed::new(code, typed.ty))
    }

    fn parameter(&mut self, text: &str) -> Outcome<Typed> {
        if let Some(typed) = self.bound_parameter(text) {
            return Ok(typed);
        }
        if let Some(typed) = self.word_function(&text.to_uppercase())? {
            return Ok(typed);
        }
        match self.variables.get(text.to_lowercase().as_str()) {
            Some(variable) => Ok(Typed::new(Code::Constant(variable.value.clone()), variable.ty.clone())),
            None if self.dialect() == DialectName::SqlServer => {
                Err(Failure::new(FailureKind::UnknownName, format!("the variable {text} is not declared")).with_code("Msg 137"))
            }
            None if self.behaviour.is_mysql() && text.starts_with('@') => Ok(Typed::new(Code::Constant(Value::Null), Type::Null)),
            None => Err(Failure::unknown(&format!("the value of {text}"))),
        }
    }

    // --- predicates ----------------------------------------------------------------------------

    /// A comparison with both sides brought to one type.
    pub(super) fn comparison(&self, comparison: Comparison, a: Typed, b: Typed) -> Outcome<Code> {
        if let (Code::Row(x), Code::Row(y)) = (&a.code, &b.code) {
            return self.row_comparison(comparison, (x, &a.ty), (y, &b.ty));
        }
        let rule = self.rule(&a.ty, &b.ty);
        let collations = (a.ty.as_text().and_then(|t| t.collation), b.ty.as_text().and_then(|t| t.collation));
        if let (Some(x), Some(y), DialectName::SqlServer) = (collations.0, collations.1, self.dialect())
            && x != y
        {
            return Err(Failure::invalid("two collations meet in a comparison").with_code("Msg 468"));
        }
        if self.dialect() == DialectName::Sqlite {
            let (a, b) = self.affine(a, b);
            return Ok(Code::Compare(comparison, Box::new((a, b)), rule));
        }
        let common = unify(&a.ty, &b.ty, Purpose::Compare, self.behaviour)?;
        // A CHAR literal keeps its blanks: the rule tells whether they count.
        let common = match common {
            Type::Text(text) => Type::Text(TextType { fixed: false, ..text }),
            other => other,
        };
        Ok(Code::Compare(comparison, Box::new((self.converted(a, &common).code, self.converted(b, &common).code)), rule))
    }

    fn row_comparison(&self, comparison: Comparison, a: (&[Code], &Type), b: (&[Code], &Type)) -> Outcome<Code> {
        let (Type::Struct(ta), Type::Struct(tb)) = (a.1, b.1) else { return Err(Failure::unknown("this comparison of rows")) };
        if ta.len() != tb.len() {
            let codes: Codes =
                &[(DialectName::Oracle, "ORA-00942"), (DialectName::Mysql, "ER_OPERAND_COLUMNS"), (DialectName::Postgres, "42601")];
            return Err(
                Failure::invalid(format!("rows of {} and {} values can't be compared", ta.len(), tb.len())).coded(self.dialect(), codes)
            );
        }
        let (mut left, mut right) = (Vec::new(), Vec::new());
        for (((x, (_, tx)), y), (_, ty)) in a.0.iter().zip(ta).zip(b.0).zip(tb) {
            let common = unify(tx, ty, Purpose::Compare, self.behaviour)?;
            left.push(self.converted(Typed::new(x.clone(), tx.clone()), &common).code);
            right.push(self.converted(Typed::new(y.clone(), ty.clone()), &common).code);
        }
        let loose = self.dialect() == DialectName::Sqlite;
        let rule = Rule { collation: self.behaviour.collation, loose, nested_nulls: self.behaviour.nested_nulls };
        Ok(Code::Compare(comparison, Box::new((Code::Row(left), Code::Row(right))), rule))
    }

    /// SQLite: a column of numbers makes a number of a string beside it, a column of strings a string.
    fn affine(&self, a: Typed, b: Typed) -> (Code, Code) {
        // Only a column and a CAST have an affinity.
        let own = |t: Typed| if matches!(t.code.bare(), Code::Slot(..) | Code::Convert(_)) { t } else { Typed::new(t.code, Type::Any) };
        let (a, b) = (own(a), own(b));
        let numeric = |t: &Type| t.is_numeric();
        let apply = |code: Code, to: Type| crate::function::affinity(code, to);
        if numeric(&a.ty) && !numeric(&b.ty) {
            (a.code, apply(b.code, Type::Number))
        } else if numeric(&b.ty) && !numeric(&a.ty) {
            (apply(a.code, Type::Number), b.code)
        } else if a.ty.is_text() && b.ty == Type::Any {
            (a.code, apply(b.code, Type::TEXT))
        } else if b.ty.is_text() && a.ty == Type::Any {
            (apply(a.code, Type::TEXT), b.code)
        } else {
            (a.code, b.code)
        }
    }

    fn is_test(&mut self, test: &IsTest<Spelled>) -> Outcome<Typed> {
        let operand = self.expr(&test.operand)?;
        let boxed = |t: Typed| Box::new(t.code);
        let code = match &test.what {
            IsWhat::Null => match operand.code {
                // A row is NULL if all of it is, and NOT NULL if none of it is.
                Code::Row(parts) => Code::And(parts.into_iter().map(|p| Code::IsNull(Box::new(p), test.negated)).collect()),
                code => Code::IsNull(Box::new(code), test.negated),
            },
            IsWhat::True => Code::IsTruth(boxed(operand), Some(true), test.negated),
            IsWhat::False => Code::IsTruth(boxed(operand), Some(false), test.negated),
            IsWhat::Unknown => Code::IsTruth(boxed(operand), None, test.negated),
            IsWhat::DistinctFrom(other) => {
                let other = self.expr(other)?;
                let comparison = if test.negated { Comparison::Same } else { Comparison::NotSame };
                self.comparison(comparison, operand, other)?
            }
            IsWhat::Same(other) => {
                let other = self.expr(other)?;
                let comparison = if test.negated { Comparison::NotSame } else { Comparison::Same };
                self.comparison(comparison, operand, other)?
            }
            IsWhat::Words(words) => return self.is_words(operand, words, test.negated),
        };
        Ok(Typed::new(code, Type::Boolean))
    }

    /// The value that IN looks for, and the set's types brought together.
    fn in_test(&mut self, test: &InTest<Spelled>) -> Outcome<Typed> {
        let operand = self.expr(&test.operand)?;
        let code = match &test.set {
            InSet::List(items) => {
                let most = if self.behaviour.dialect.since(23, 0) { 65_535 } else { 1000 };
                if self.dialect() == DialectName::Oracle && items.len() > most {
                    return Err(Failure::invalid(format!("IN takes {most} values at most")).with_code("ORA-01795"));
                }
                let items = self.all(items)?;
                let simple = items.iter().all(|i| !matches!(i.code, Code::Row(_))) && self.dialect() != DialectName::Sqlite;
                if simple && !matches!(operand.code, Code::Row(_)) {
                    self.in_list(operand, items, test.negated)?
                } else {
                    let tests: Outcome<Vec<Code>> =
                        items.into_iter().map(|i| self.comparison(Comparison::Equal, operand.clone(), i)).collect();
                    let any = Code::Or(tests?);
                    if test.negated { Code::Not(Box::new(any)) } else { any }
                }
            }
            InSet::Query(query) => {
                if !query.limit.is_empty() && self.behaviour.is_mysql() {
                    return Err(Failure::new(FailureKind::Syntax, "LIMIT in a subquery of IN is not supported here")
                        .with_code("ER_NOT_SUPPORTED_YET"));
                }
                let plan = self.query(query)?;
                self.in_query(operand, plan, test.negated)?
            }
            InSet::Value(value) => {
                let array = match &value.kind {
                    // IN UNNEST(array) of BigQuery.
                    ExprKind::Call(call) if call.function.last().is_word("unnest") && call.arguments.len() == 1 => {
                        self.expr(&call.arguments[0].value)?
                    }
                    _ => self.expr(value)?,
                };
                let rule = self.rule(&operand.ty, &operand.ty);
                let code = Code::QuantifiedArray(Comparison::Equal, Box::new((operand.code, array.code)), rule, false);
                if test.negated { Code::Not(Box::new(code)) } else { code }
            }
        };
        Ok(Typed::new(code, Type::Boolean))
    }

    fn in_list(&self, operand: Typed, items: Vec<Typed>, negated: bool) -> Outcome<Code> {
        let mut common = operand.ty.clone();
        for item in &items {
            common = unify(&common, &item.ty, Purpose::Compare, self.behaviour)?;
        }
        let set_type = items.first().map_or(Type::Null, |i| i.ty.clone());
        let rule = self.rule(&operand.ty, &set_type);
        let common = match common {
            Type::Text(text) => Type::Text(TextType { fixed: false, ..text }),
            other => other,
        };
        let items = items.into_iter().map(|i| self.converted(i, &common).code).collect();
        Ok(Code::InList(Box::new(self.converted(operand, &common).code), items, rule, negated))
    }

    fn in_query(&mut self, operand: Typed, plan: crate::plan::QueryPlan, negated: bool) -> Outcome<Code> {
        let width = match &operand.code {
            Code::Row(parts) => parts.len(),
            _ => 1,
        };
        if plan.types.len() != width {
            let codes = [
                (DialectName::Oracle, if plan.types.len() > width { "ORA-00913" } else { "ORA-00947" }),
                (DialectName::SqlServer, "Msg 116"),
                (DialectName::Mysql, "ER_OPERAND_COLUMNS"),
                (DialectName::Mariadb, "ER_OPERAND_COLUMNS"),
                (DialectName::Postgres, "42601"),
            ];
            return Err(
                Failure::invalid(format!("IN wants {width} columns, its query gives {}", plan.types.len())).coded(self.dialect(), &codes)
            );
        }
        let types: Vec<Type> = match &operand.ty {
            Type::Struct(fields) if width > 1 => fields.iter().map(|(_, t)| t.clone()).collect(),
            other => vec![other.clone()],
        };
        // A row is looked for column by column, also where rows compare as wholes (seen on DuckDB 1.5).
        let rule = Rule { nested_nulls: None, ..self.rule(&types[0], &plan.types[0]) };
        let common: Outcome<Vec<Type>> =
            types.iter().zip(&plan.types).map(|(a, b)| unify(a, b, Purpose::Compare, self.behaviour)).collect();
        let common = common?;
        let plan = if self.dialect() == DialectName::Sqlite { plan } else { plan.converted_to(&common) };
        let operand = match operand.code {
            Code::Row(parts) if width > 1 => {
                Code::Row(parts.into_iter().zip(types).zip(&common).map(|((p, t), c)| self.converted(Typed::new(p, t), c).code).collect())
            }
            code => self.converted(Typed::new(code, operand.ty), &common[0]).code,
        };
        Ok(Code::InQuery(Box::new(operand), Box::new(plan), rule, negated))
    }

    fn quantified(&mut self, test: &Quantified<Spelled>) -> Outcome<Typed> {
        let left = self.expr(&test.left)?;
        let Some(comparison) = super::operator::comparison(test.operator) else {
            return Err(Failure::unknown("this operator with ANY or ALL"));
        };
        let all = test.quantifier == QuantifierWord::All;
        let code = match &test.set.kind {
            ExprKind::Subquery(query) => {
                let plan = self.query(query)?;
                if plan.types.len() != 1 {
                    return Err(Failure::invalid("ANY and ALL want a query of one column"));
                }
                let rule = self.rule(&left.ty, &plan.types[0]);
                let common = unify(&left.ty, &plan.types[0], Purpose::Compare, self.behaviour)?;
                let plan = plan.converted_to(std::slice::from_ref(&common));
                Code::Quantified(comparison, Box::new(self.converted(left, &common).code), Box::new(plan), rule, all)
            }
            ExprKind::Row(items) if self.dialect() == DialectName::Oracle => {
                let items = self.all(items)?;
                self.quantified_list(comparison, left, items, all)?
            }
            other => {
                let set = self.expr(match other {
                    ExprKind::Nested(inner) => inner,
                    _ => &test.set,
                })?;
                if self.dialect() == DialectName::Oracle {
                    self.quantified_list(comparison, left, vec![set], all)?
                } else {
                    let rule = self.rule(&left.ty, &left.ty);
                    Code::QuantifiedArray(comparison, Box::new((left.code, set.code)), rule, all)
                }
            }
        };
        Ok(Typed::new(code, Type::Boolean))
    }

    fn quantified_list(&self, comparison: Comparison, left: Typed, items: Vec<Typed>, all: bool) -> Outcome<Code> {
        let mut common = left.ty.clone();
        for item in &items {
            common = unify(&common, &item.ty, Purpose::Compare, self.behaviour)?;
        }
        let rule = self.rule(&left.ty, &common);
        let items = items.into_iter().map(|i| self.converted(i, &common).code).collect();
        Ok(Code::QuantifiedList(comparison, Box::new(self.converted(left, &common).code), items, rule, all))
    }

    fn like_test(&mut self, test: &LikeTest<Spelled>) -> Outcome<Typed> {
        let operand = self.expr(&test.operand)?;
        if let Some(quantifier) = test.quantifier {
            let patterns = match &test.pattern.kind {
                ExprKind::Row(items) => items.clone(),
                ExprKind::Nested(inner) => match &inner.kind {
                    ExprKind::Array(array) => array.items.clone(),
                    _ => vec![(**inner).clone()],
                },
                _ => return Err(Failure::unknown("LIKE ANY of this")),
            };
            let tests: Outcome<Vec<Code>> = patterns
                .iter()
                .map(|p| {
                    let one = LikeTest { quantifier: None, pattern: p.clone(), ..test.clone() };
                    self.like_test(&one).map(|t| t.code)
                })
                .collect();
            let code = if quantifier == QuantifierWord::All { Code::And(tests?) } else { Code::Or(tests?) };
            return Ok(Typed::new(code, Type::Boolean));
        }
        if matches!(test.word, LikeWord::SimilarTo | LikeWord::Rlike | LikeWord::Regexp) {
            let pattern = self.expr(&test.pattern)?;
            return self.regular_predicate(operand, pattern, test.word, test.negated);
        }
        if test.word == LikeWord::Match {
            return Err(Failure::unknown("MATCH"));
        }
        let pattern = self.expr(&test.pattern)?;
        let escape = test.escape.as_ref().map(|e| self.expr(e).map(|t| t.code)).transpose()?;
        Ok(self.like(operand, pattern, escape, test.word, test.negated))
    }

    /// LIKE, ILIKE and GLOB of values.
    pub(super) fn like(&mut self, operand: Typed, pattern: Typed, escape: Option<Code>, word: LikeWord, negated: bool) -> Typed {
        let rule = self.rule(&operand.ty, &pattern.ty);
        let any_case = word == LikeWord::Ilike || (self.dialect() == DialectName::Sqlite && word == LikeWord::Like);
        let collation = Collation { case_insensitive: any_case || rule.collation.case_insensitive, ..rule.collation };
        let code = Code::Like(Box::new(LikeCode {
            operand: operand.code,
            pattern: pattern.code,
            escape,
            rule: Rule { collation, loose: false, nested_nulls: None },
            // SQL Server: blanks at the end of a VARCHAR's value don't count, of an NVARCHAR's they do.
            trims: self.dialect() == DialectName::SqlServer && !operand.ty.as_text().is_some_and(|t| t.national),
            glob: word == LikeWord::Glob,
            negated,
        }));
        Typed::new(code, Type::Boolean)
    }

    // --- others --------------------------------------------------------------------------------

    pub(super) fn scalar_query(&mut self, query: &Query<Spelled>) -> Outcome<Typed> {
        let plan = self.query(query)?;
        self.check_orders(query)?;
        if plan.labels.len() != 1 {
            let codes: Codes = &[
                (DialectName::Oracle, "ORA-00913"),
                (DialectName::SqlServer, "Msg 116"),
                (DialectName::Mysql, "ER_OPERAND_COLUMNS"),
                (DialectName::Mariadb, "ER_OPERAND_COLUMNS"),
                (DialectName::Postgres, "42601"),
            ];
            return Err(
                Failure::invalid(format!("a subquery used as a value gives {} columns", plan.labels.len())).coded(self.dialect(), codes)
            );
        }
        let ty = plan.types[0].clone().without_literal();
        Ok(Typed::new(Code::Scalar(Box::new(plan)), ty))
    }

    fn case(&mut self, case: &Case<Spelled>) -> Outcome<Typed> {
        let operand = case.operand.as_ref().map(|e| self.expr(e)).transpose()?;
        let (mut conditions, mut results) = (Vec::new(), Vec::new());
        for (when, then) in &case.branches {
            conditions.push(match &operand {
                Some(operand) => {
                    let when = self.expr(when)?;
                    self.comparison(Comparison::Equal, operand.clone(), when)?
                }
                None if self.dialect() == DialectName::Spark && matches!(when.kind, ExprKind::Literal(syntax::tree::Literal::Null)) => {
                    return Err(Failure::invalid("NULL itself is no condition").with_code("DATATYPE_MISMATCH.UNEXPECTED_INPUT_TYPE"));
                }
                None => self.condition(when)?,
            });
            results.push(self.expr(then)?);
        }
        if let Some(otherwise) = &case.otherwise {
            results.push(self.expr(otherwise)?);
        }
        if self.dialect() == DialectName::SqlServer && results.iter().all(|r| r.ty == Type::Null) {
            return Err(Failure::invalid("a CASE of nothing but NULL has no type").with_code("Msg 8133"));
        }
        let (mut codes, ty) = self.alike(results, Purpose::Choose)?;
        let otherwise = case.otherwise.as_ref().and_then(|_| codes.pop()).map(Box::new);
        Ok(Typed::new(Code::Case(conditions.into_iter().zip(codes).collect(), otherwise), ty))
    }

    pub(super) fn collate(&mut self, inner: &E, name: &str) -> Outcome<Typed> {
        let typed = self.expr(inner)?;
        let Some(collation) = Collation::named(name, self.dialect()) else {
            return Err(Failure::unknown(&format!("the collation {name}")));
        };
        let text = typed.ty.as_text().copied().unwrap_or_default();
        Ok(Typed::new(typed.code, Type::Text(TextType { collation: Some(collation), ..text })))
    }

    fn subscript(&mut self, subscript: &Subscript<Spelled>) -> Outcome<Typed> {
        let operand = self.expr(&subscript.operand)?;
        if let Some((high, step)) = &subscript.slice {
            if step.is_some() {
                return Err(Failure::unknown("a slice with a step"));
            }
            let ty = operand.ty.clone();
            let name = if ty.is_text() { "TEXT_SLICE_" } else { "ARRAY_SLICE_" };
            let end = |place: i64| match ty.is_text() {
                true => Typed::new(Code::Constant(Value::Integer(place)), Type::BIGINT),
                false => Typed::new(Code::Constant(Value::Null), Type::Null),
            };
            let low = subscript.low.as_ref().map(|e| self.expr(e)).transpose()?.unwrap_or_else(|| end(1));
            let high = high.as_ref().map(|e| self.expr(e)).transpose()?.unwrap_or_else(|| end(-1));
            return self.call_named(name, vec![operand, low, high], Some(ty));
        }
        let Some(low) = &subscript.low else { return Err(Failure::unknown("this subscript")) };
        // OFFSET(n), ORDINAL(n) and their SAFE_ forms of BigQuery.
        let (name, index) = match &low.kind {
            ExprKind::Call(call) if self.dialect() == DialectName::Bigquery && call.arguments.len() == 1 => {
                match call.function.last().text.to_uppercase().as_str() {
                    "OFFSET" => ("ELEMENT_OFFSET_", &call.arguments[0].value),
                    "SAFE_OFFSET" => ("ELEMENT_SAFE_OFFSET_", &call.arguments[0].value),
                    "ORDINAL" => ("ELEMENT_ORDINAL_", &call.arguments[0].value),
                    "SAFE_ORDINAL" => ("ELEMENT_SAFE_ORDINAL_", &call.arguments[0].value),
                    _ => ("ELEMENT_OFFSET_", low),
                }
            }
            _ => match self.dialect() {
                DialectName::Duckdb if operand.ty.is_text() => ("CHARACTER_", low),
                DialectName::Bigquery => ("ELEMENT_OFFSET_", low),
                DialectName::Spark if self.behaviour.strict => ("ELEMENT_OFFSET_", low),
                DialectName::Spark => ("ELEMENT_SAFE_OFFSET_", low),
                DialectName::Duckdb => ("ELEMENT_BOTH_ENDS_", low),
                _ => ("ELEMENT_SAFE_ORDINAL_", low),
            },
        };
        let index = self.expr(index)?;
        let element = match &operand.ty {
            Type::Array(element) => (**element).clone(),
            Type::Text(_) => Type::TEXT,
            _ => Type::Any,
        };
        self.call_named(name, vec![operand, index], Some(element))
    }
}
