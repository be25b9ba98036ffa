//! Expressions: columns become slots, words become functions.

use std::rc::Rc;
use std::str::FromStr;

use syntax::tree::{
    Call, CastForm, Expr, ExprKind, InSet, IsWhat, LikeWord, Literal, LogicOperator, Operator, Over, QuantifierWord, SetQuantifier, Spelled,
};
use syntax::{DialectName, Symbol, decode_text};
use values::{DataType, Decimal, Value};

use super::{Compiler, Outcome, WINDOW_BASE, invalid};
use crate::aggregate::AggregateKind;
use crate::arithmetic::Arithmetic;
use crate::convert::{column_type, parse_timestamp};
use crate::failure::{Failure, FailureKind};
use crate::function;
use crate::plan::{AggregatePlan, Code, Comparison, Key, WindowPlan};
use crate::window::WindowKind;

type E = Expr<Spelled>;

/// Whether an expression has an aggregate of its own block.
pub(super) fn has_aggregate(expr: &E) -> bool {
    expr.any(&mut |e| match &e.kind {
        ExprKind::Call(call) => !call.is_window() && aggregate_kind(call).is_some(),
        _ => false,
    })
}

fn aggregate_kind(call: &Call<Spelled>) -> Option<AggregateKind> {
    let name = call.function.as_single()?.text.to_uppercase();
    AggregateKind::named(&name, is_star(call))
}

fn is_star(call: &Call<Spelled>) -> bool {
    matches!(call.arguments.as_slice(), [one] if matches!(one.value.kind, ExprKind::Star(None)))
}

/// Calls `visit` for the codes directly inside, subqueries left out.
pub(super) fn each_child(code: &mut Code, visit: &mut dyn FnMut(&mut Code)) {
    match code {
        Code::Constant(_) | Code::Slot(..) | Code::RowNumber | Code::Exists(_) | Code::Scalar(_) => {}
        Code::Not(c)
        | Code::Negate(c)
        | Code::IsNull(c, _)
        | Code::IsTruth(c, ..)
        | Code::Cast(c, ..)
        | Code::InQuery(c, ..)
        | Code::Quantified(_, c, ..) => visit(c),
        Code::And(parts) | Code::Or(parts) | Code::Call(_, parts) | Code::Row(parts) => parts.iter_mut().for_each(visit),
        Code::Compare(_, sides) | Code::Arithmetic(_, sides) | Code::Concat(sides) => {
            visit(&mut sides.0);
            visit(&mut sides.1);
        }
        Code::InList(operand, items, _) => {
            visit(operand);
            items.iter_mut().for_each(visit);
        }
        Code::Like { operand, pattern, escape, .. } => {
            visit(operand);
            visit(pattern);
            escape.iter_mut().for_each(|c| visit(c));
        }
        Code::Case(branches, otherwise) => {
            for (when, then) in branches {
                visit(when);
                visit(then);
            }
            otherwise.iter_mut().for_each(|c| visit(c));
        }
    }
}

fn pair(a: Code, b: Code) -> Box<(Code, Code)> {
    Box::new((a, b))
}

impl Compiler<'_> {
    pub(super) fn expr(&mut self, expr: &E) -> Outcome<Code> {
        // In a grouped block what equals a key is that key.
        if let Some(grouping) = self.grouping.take() {
            let raw = if has_aggregate(expr) { None } else { self.expr_inner(expr).ok() };
            let found = raw.and_then(|code| grouping.keys.iter().position(|k| *k == code)).map(|i| Code::Slot(0, grouping.width + i));
            self.grouping = Some(grouping);
            if let Some(code) = found {
                return Ok(code);
            }
        }
        self.expr_inner(expr)
    }

    fn boxed(&mut self, expr: &E) -> Outcome<Box<Code>> {
        self.expr(expr).map(Box::new)
    }

    fn all(&mut self, exprs: &[E]) -> Outcome<Vec<Code>> {
        exprs.iter().map(|e| self.expr(e)).collect()
    }

    fn expr_inner(&mut self, expr: &E) -> Outcome<Code> {
        syntax::with_stack(|| self.expr_kind(expr)).map_err(|f| match f.place {
            Some(_) => f,
            None => self.placed(f, expr),
        })
    }

    fn placed(&self, failure: Failure, expr: &E) -> Failure {
        let token = |i: u32| self.source.tokens.get(i as usize);
        match (token(expr.span.first), token(expr.span.end.wrapping_sub(1))) {
            (Some(first), Some(last)) => failure.at((first.start as usize, last.end as usize)),
            _ => failure,
        }
    }

    fn expr_kind(&mut self, expr: &E) -> Outcome<Code> {
        Ok(match &expr.kind {
            ExprKind::Column(name) => {
                let qualifier = match name.parts.as_slice() {
                    [.., qualifier, _] => Some(qualifier.text.as_str()),
                    _ => None,
                };
                return self.column(qualifier, &name.last().text);
            }
            ExprKind::Literal(literal) => Code::Constant(self.literal(literal)?),
            ExprKind::Parameter(text) => match self.variables.get(text.to_lowercase().as_str()) {
                Some(value) => Code::Constant(value.clone()),
                None => return Err(Failure::unknown(&format!("the value of {text}"))),
            },
            ExprKind::Star(_) => return Err(invalid("* can't stand here")),
            ExprKind::Nested(inner) => return self.expr(inner),
            ExprKind::Unary(unary) => {
                let operand = self.boxed(&unary.operand)?;
                match unary.operator {
                    Operator::Symbol(Symbol::Minus) => Code::Negate(operand),
                    Operator::Symbol(Symbol::Plus) => *operand,
                    Operator::Symbol(Symbol::Bang) => Code::Not(operand),
                    other => return Err(Failure::unknown(&format!("the operator {other:?}"))),
                }
            }
            ExprKind::Binary(binary) => return self.binary(binary.operator, &binary.left, &binary.right),
            ExprKind::Logic(operator, parts) => {
                let parts = self.all(parts)?;
                if *operator == LogicOperator::And { Code::And(parts) } else { Code::Or(parts) }
            }
            ExprKind::Not(inner) => Code::Not(self.boxed(inner)?),
            ExprKind::Is(test) => {
                let operand = self.boxed(&test.operand)?;
                match &test.what {
                    IsWhat::Null => Code::IsNull(operand, test.negated),
                    IsWhat::True => Code::IsTruth(operand, Some(true), test.negated),
                    IsWhat::False => Code::IsTruth(operand, Some(false), test.negated),
                    IsWhat::Unknown => Code::IsTruth(operand, None, test.negated),
                    IsWhat::DistinctFrom(other) => {
                        let comparison = if test.negated { Comparison::Same } else { Comparison::NotSame };
                        Code::Compare(comparison, pair(*operand, self.expr(other)?))
                    }
                    IsWhat::Same(other) => {
                        let comparison = if test.negated { Comparison::NotSame } else { Comparison::Same };
                        Code::Compare(comparison, pair(*operand, self.expr(other)?))
                    }
                    IsWhat::Words(words) => return Err(Failure::unknown(&format!("IS {words}"))),
                }
            }
            ExprKind::Between(test) => {
                if test.symmetric {
                    return Err(Failure::unknown("BETWEEN SYMMETRIC"));
                }
                let (operand, low, high) = (self.expr(&test.operand)?, self.expr(&test.low)?, self.expr(&test.high)?);
                let inside = Code::And(vec![
                    Code::Compare(Comparison::GreaterOrEqual, pair(operand.clone(), low)),
                    Code::Compare(Comparison::LessOrEqual, pair(operand, high)),
                ]);
                if test.negated { Code::Not(Box::new(inside)) } else { inside }
            }
            ExprKind::In(test) => {
                let operand = self.boxed(&test.operand)?;
                match &test.set {
                    InSet::List(items) => Code::InList(operand, self.all(items)?, test.negated),
                    InSet::Query(query) => {
                        let has_limit = !query.limit.is_empty();
                        if has_limit && matches!(self.dialect(), DialectName::Mysql | DialectName::Mariadb) {
                            return Err(Failure::new(FailureKind::Syntax, "LIMIT in a subquery of IN is not supported here")
                                .coded(Some("ER_NOT_SUPPORTED_YET")));
                        }
                        Code::InQuery(operand, Rc::new(self.query(query)?), test.negated)
                    }
                    InSet::Value(_) => return Err(Failure::unknown("IN with an array")),
                }
            }
            ExprKind::Like(test) => {
                if test.quantifier.is_some() || !matches!(test.word, LikeWord::Like | LikeWord::Ilike) {
                    return Err(Failure::unknown("this pattern predicate"));
                }
                Code::Like {
                    operand: self.boxed(&test.operand)?,
                    pattern: self.boxed(&test.pattern)?,
                    escape: test.escape.as_ref().map(|e| self.boxed(e)).transpose()?,
                    any_case: test.word == LikeWord::Ilike,
                    negated: test.negated,
                }
            }
            ExprKind::Exists(query) => Code::Exists(Rc::new(self.query(query)?)),
            ExprKind::Subquery(query) => {
                let plan = self.query(query)?;
                if plan.labels.len() != 1 {
                    return Err(invalid(format!("a subquery used as a value gives {} columns", plan.labels.len())));
                }
                Code::Scalar(Rc::new(plan))
            }
            ExprKind::Quantified(test) => {
                let left = self.boxed(&test.left)?;
                let ExprKind::Subquery(query) = &test.set.kind else { return Err(Failure::unknown("ANY or ALL of a list")) };
                let Some(comparison) = comparison(test.operator) else { return Err(Failure::unknown("this operator with ANY or ALL")) };
                Code::Quantified(comparison, left, Rc::new(self.query(query)?), test.quantifier == QuantifierWord::All)
            }
            ExprKind::Row(items) => Code::Row(self.all(items)?),
            ExprKind::Case(case) => {
                let operand = case.operand.as_ref().map(|e| self.expr(e)).transpose()?;
                let mut branches = Vec::new();
                for (when, then) in &case.branches {
                    let when = self.expr(when)?;
                    let when = match &operand {
                        Some(operand) => Code::Compare(Comparison::Equal, pair(operand.clone(), when)),
                        None => when,
                    };
                    branches.push((when, self.expr(then)?));
                }
                Code::Case(branches, case.otherwise.as_ref().map(|e| self.boxed(e)).transpose()?)
            }
            ExprKind::Cast(cast) => {
                if cast.extra.is_some() || cast.form == CastForm::ConvertUsing {
                    return Err(Failure::unknown("a cast with a format, style or character set"));
                }
                let data_type = column_type(&cast.to, self.behaviour);
                if data_type == DataType::Unknown {
                    return Err(Failure::unknown(&format!("the type {}", cast.to.words)));
                }
                let safe = matches!(cast.form, CastForm::TryCast | CastForm::TryConvert | CastForm::SafeCast);
                Code::Cast(self.boxed(&cast.operand)?, data_type, safe)
            }
            ExprKind::Call(call) => return self.call(call),
            ExprKind::Default => return Err(Failure::unknown("DEFAULT as a value")),
            ExprKind::OuterMark(_) => return Err(Failure::unknown("the outer join sign (+)")),
            ExprKind::Collate(..) => return Err(Failure::unknown("COLLATE")),
            ExprKind::Interval(_) => return Err(Failure::unknown("intervals")),
            ExprKind::AtTimeZone(..) => return Err(Failure::unknown("AT TIME ZONE")),
            ExprKind::Array(_) | ExprKind::Collect(..) | ExprKind::Subscript(_) => return Err(Failure::unknown("arrays")),
            ExprKind::Struct(_) | ExprKind::Field(..) => return Err(Failure::unknown("structs")),
            ExprKind::Lambda(_) => return Err(Failure::unknown("lambdas")),
        })
    }

    // --- columns -------------------------------------------------------------------------------

    /// A column's depth and place.
    pub(super) fn find(&self, qualifier: Option<&str>, name: &str) -> Option<(usize, usize)> {
        self.scopes.iter().rev().enumerate().find_map(|(depth, scope)| {
            let at = scope.columns.iter().position(|c| {
                c.name.eq_ignore_ascii_case(name)
                    && match qualifier {
                        Some(q) => c.relation.as_deref().is_some_and(|r| r.eq_ignore_ascii_case(q)),
                        None => !c.merged,
                    }
            })?;
            Some((depth, at))
        })
    }

    fn is_ambiguous(&self, depth: usize, name: &str) -> bool {
        let scope = &self.scopes[self.scopes.len() - 1 - depth];
        scope.columns.iter().filter(|c| !c.merged && c.name.eq_ignore_ascii_case(name)).count() > 1
    }

    fn column(&mut self, qualifier: Option<&str>, name: &str) -> Outcome<Code> {
        if let Some((depth, at)) = self.find(qualifier, name) {
            if qualifier.is_none() && self.is_ambiguous(depth, name) {
                return Err(Failure::new(FailureKind::UnknownName, format!("{name} is a column of more than one table here")));
            }
            if depth == 0 {
                return self.grouped_column(at, name);
            }
            self.reach = self.reach.min(self.scopes.len() - 1 - depth);
            return Ok(Code::Slot(depth, at));
        }
        if qualifier.is_none() && self.dialect() == DialectName::Oracle && name.eq_ignore_ascii_case("ROWNUM") {
            let width = self.scopes.last().map_or(0, |s| s.columns.len());
            self.uses_row_number = true;
            return Ok(if self.in_where { Code::RowNumber } else { Code::Slot(0, width) });
        }
        let columns = self.scopes.iter().flat_map(|s| s.columns.iter().map(|c| c.name.as_str()));
        let near = syntax::nearest(name, columns).map_or(String::new(), |n| format!(" (did you mean {n}?)"));
        let code = match self.dialect() {
            DialectName::Oracle => Some("ORA-00904"),
            DialectName::Tsql => Some("Msg 207"),
            DialectName::Mysql | DialectName::Mariadb => Some("ER_BAD_FIELD_ERROR"),
            _ => None,
        };
        let shown = qualifier.map_or_else(|| name.to_string(), |q| format!("{q}.{name}"));
        Err(Failure::new(FailureKind::UnknownName, format!("there is no column {shown}{near}")).coded(code))
    }

    /// A column of this block: in a grouped one it must be a key, unless the dialect is loose.
    pub(super) fn grouped_column(&self, at: usize, name: &str) -> Outcome<Code> {
        if let Some(grouping) = &self.grouping {
            if let Some(i) = grouping.keys.iter().position(|k| *k == Code::Slot(0, at)) {
                return Ok(Code::Slot(0, grouping.width + i));
            }
            if !self.behaviour.loose_grouping {
                let code = match self.dialect() {
                    DialectName::Oracle => Some("ORA-00979"),
                    DialectName::Tsql => Some("Msg 8120"),
                    _ => None,
                };
                return Err(invalid(format!("{name} is neither grouped by nor in an aggregate")).coded(code));
            }
        }
        Ok(Code::Slot(0, at))
    }

    // --- constants -----------------------------------------------------------------------------

    fn literal(&self, literal: &Literal) -> Outcome<Value> {
        Ok(match literal {
            Literal::Null => Value::Null,
            Literal::Boolean(value) => Value::Boolean(*value),
            Literal::Number(text) => {
                let text = text.trim_end_matches(|c: char| c.is_ascii_alphabetic() && !matches!(c, 'e' | 'E'));
                match text.parse::<i64>() {
                    Ok(whole) => Value::Integer(whole),
                    Err(_) if text.contains(['e', 'E']) && self.dialect() != DialectName::Oracle => {
                        Value::Float(text.parse().map_err(|_| invalid(format!("{text} is no number")))?)
                    }
                    Err(_) => Value::decimal(Decimal::from_str(text).map_err(|_| invalid(format!("{text} is no number")))?),
                }
            }
            Literal::Text(text) => function::finished(decode_text(text, &self.behaviour.spelling).into(), self.behaviour),
            Literal::Texts(parts) => {
                let text: String = parts.iter().map(|p| decode_text(p, &self.behaviour.spelling)).collect();
                function::finished(text, self.behaviour)
            }
            Literal::Typed(typed) => {
                let syntax::tree::TypedLiteral { word, text } = &**typed;
                let text = decode_text(text, &self.behaviour.spelling);
                let moment = parse_timestamp(&text).ok_or_else(|| Failure::new(FailureKind::BadCast, format!("'{text}' is no date")))?;
                match (word.as_str(), self.dialect()) {
                    ("DATE", DialectName::Oracle) => Value::Timestamp(moment),
                    ("DATE", _) => Value::Date(moment.date()),
                    ("TIMESTAMP" | "DATETIME", _) => Value::Timestamp(moment),
                    _ => return Err(Failure::unknown(&format!("literals of type {word}"))),
                }
            }
        })
    }

    // --- operators -----------------------------------------------------------------------------

    fn binary(&mut self, operator: Operator, left: &E, right: &E) -> Outcome<Code> {
        let bars_mean_or = self.behaviour.spelling.bars_mean_or;
        let (a, b) = (self.expr(left)?, self.expr(right)?);
        if let Some(comparison) = comparison(operator) {
            return Ok(Code::Compare(comparison, pair(a, b)));
        }
        let arithmetic = match operator {
            Operator::Symbol(Symbol::Concat) if bars_mean_or => return Ok(Code::Or(vec![a, b])),
            Operator::Symbol(Symbol::AndAnd) if bars_mean_or => return Ok(Code::And(vec![a, b])),
            Operator::Symbol(Symbol::Concat) if self.dialect() != DialectName::Tsql => {
                return Ok(Code::Concat(pair(self.unpadded(a), self.unpadded(b))));
            }
            Operator::Symbol(Symbol::Plus) if self.dialect() == DialectName::Tsql && (self.is_text(left) || self.is_text(right)) => {
                return Ok(Code::Concat(pair(a, b)));
            }
            Operator::Symbol(Symbol::Plus) => Arithmetic::Add,
            Operator::Symbol(Symbol::Minus) => Arithmetic::Subtract,
            Operator::Symbol(Symbol::Star) => Arithmetic::Multiply,
            Operator::Symbol(Symbol::Slash) => Arithmetic::Divide,
            Operator::Symbol(Symbol::SlashSlash) | Operator::Div => Arithmetic::DivideWhole,
            Operator::Symbol(Symbol::Percent) if self.dialect() != DialectName::Oracle => Arithmetic::Remainder,
            Operator::Mod => Arithmetic::Remainder,
            other => return Err(Failure::unknown(&format!("the operator {}", operator_text(other)))),
        };
        Ok(Code::Arithmetic(arithmetic, pair(a, b)))
    }

    /// PostgreSQL joins CHAR values without their padding.
    fn unpadded(&self, code: Code) -> Code {
        let padded = matches!(&code, Code::Cast(_, DataType::Text { fixed: true, .. }, _));
        if padded && self.dialect() == DialectName::Postgres { Code::Call(function::Function::TrimRight, vec![code]) } else { code }
    }

    /// Whether `+` has a text at this side (SQL Server joins texts with it).
    fn is_text(&self, expr: &E) -> bool {
        match &expr.without_parens().kind {
            ExprKind::Literal(Literal::Text(_) | Literal::Texts(_)) => true,
            ExprKind::Column(name) => {
                let table = self.store.names().into_iter().filter_map(|n| self.store.table(n));
                table.into_iter().any(|t| t.columns.iter().any(|(n, ty)| n.eq_ignore_ascii_case(&name.last().text) && ty.is_text()))
            }
            ExprKind::Binary(b) => self.is_text(&b.left) || self.is_text(&b.right),
            ExprKind::Cast(c) => column_type(&c.to, self.behaviour).is_text(),
            ExprKind::Call(c) => matches!(
                c.function.last().text.to_uppercase().as_str(),
                "UPPER" | "LOWER" | "TRIM" | "LTRIM" | "RTRIM" | "SUBSTRING" | "REPLACE" | "CONCAT"
            ),
            _ => false,
        }
    }

    // --- calls ---------------------------------------------------------------------------------

    fn call(&mut self, call: &Call<Spelled>) -> Outcome<Code> {
        let Some(name) = call.function.as_single() else {
            return Err(Failure::unknown(&format!("the function {}", call.function.dotted())));
        };
        let upper = name.text.to_uppercase();
        if let Some(tail) = &call.tail {
            let odd = !tail.order_by.is_empty()
                || tail.separator.is_some()
                || tail.limit.is_some()
                || tail.nulls.is_some()
                || tail.clauses.is_some()
                || !tail.within_group.is_empty()
                || tail.keep.is_some()
                || tail.from_last.is_some();
            if odd {
                return Err(Failure::unknown(&format!("these clauses of {upper}")));
            }
            if let Some(over) = &tail.over {
                return self.window(call, &upper, over);
            }
        }
        if let Some(kind) = aggregate_kind(call) {
            return self.aggregate(call, kind);
        }
        let Some(function) = function::named(&upper, self.dialect()) else {
            return Err(Failure::unknown(&format!("the function {}", name.text)));
        };
        if call.form != syntax::tree::CallForm::Plain && !matches!(call.form, syntax::tree::CallForm::SubstringFrom) {
            return Err(Failure::unknown(&format!("this form of {upper}")));
        }
        let arguments: Outcome<Vec<Code>> = call.arguments.iter().map(|a| self.expr(&a.value)).collect();
        Ok(Code::Call(function, arguments?))
    }

    fn aggregate(&mut self, call: &Call<Spelled>, kind: AggregateKind) -> Outcome<Code> {
        // The argument is worked out over ungrouped rows.
        let Some(grouping) = self.grouping.take() else {
            return Err(invalid(format!("{} can't stand here", call.function.dotted())));
        };
        let argument = if is_star(call) { Ok(None) } else { call.arguments.first().map(|a| self.expr(&a.value)).transpose() };
        let filter = call.tail.as_ref().and_then(|t| t.filter.as_ref()).map(|f| self.expr(f)).transpose();
        let mut grouping = grouping;
        let plan = argument.and_then(|argument| {
            Ok(AggregatePlan { kind, argument, distinct: call.quantifier == Some(SetQuantifier::Distinct), filter: filter? })
        });
        let slot = plan.map(|plan| {
            let at = grouping.aggregates.iter().position(|a| *a == plan).unwrap_or_else(|| {
                grouping.aggregates.push(plan);
                grouping.aggregates.len() - 1
            });
            Code::Slot(0, grouping.width + grouping.keys.len() + at)
        });
        self.grouping = Some(grouping);
        slot
    }

    fn window(&mut self, call: &Call<Spelled>, name: &str, over: &Over<Spelled>) -> Outcome<Code> {
        let Over::Window(window) = over else { return Err(Failure::unknown("named windows")) };
        if window.base.is_some() || window.frame.is_some() {
            return Err(Failure::unknown("window frames"));
        }
        if call.tail.as_ref().is_some_and(|t| t.filter.is_some()) || call.quantifier.is_some() {
            return Err(Failure::unknown("DISTINCT and FILTER in a window function"));
        }
        let Some(kind) = WindowKind::named(name, is_star(call)) else {
            return Err(Failure::unknown(&format!("the window function {name}")));
        };
        let ranks = !matches!(kind, WindowKind::Aggregate(_));
        if ranks && window.order_by.is_empty() && matches!(self.dialect(), DialectName::Oracle | DialectName::Tsql) {
            return Err(invalid(format!("{name} needs an ORDER BY in its window")));
        }
        let parts = window.partition_by.iter().chain(window.order_by.iter().map(|k| &k.expr));
        if parts.chain(call.arguments.iter().map(|a| &a.value)).any(Expr::has_window) {
            return Err(invalid("a window function can't stand in another's window or arguments"));
        }
        let arguments =
            if is_star(call) { Vec::new() } else { call.arguments.iter().map(|a| self.expr(&a.value)).collect::<Outcome<_>>()? };
        let partition = window.partition_by.iter().map(|e| self.expr(e)).collect::<Outcome<_>>()?;
        let order: Outcome<Vec<Key>> = window
            .order_by
            .iter()
            .map(|k| {
                let code = self.expr(&k.expr)?;
                Ok(Key { code, direction: k.direction, nulls: k.nulls.unwrap_or_else(|| self.behaviour.nulls(k.direction)) })
            })
            .collect();
        let plan = WindowPlan { kind, arguments, partition, order: order? };
        let at = self.windows.iter().position(|w| *w == plan).unwrap_or_else(|| {
            self.windows.push(plan);
            self.windows.len() - 1
        });
        Ok(Code::Slot(0, WINDOW_BASE + at))
    }
}

fn comparison(operator: Operator) -> Option<Comparison> {
    let Operator::Symbol(symbol) = operator else { return None };
    Some(match symbol {
        Symbol::Equal | Symbol::EqualEqual => Comparison::Equal,
        Symbol::NotEqual | Symbol::BangEqual | Symbol::CaretEqual => Comparison::NotEqual,
        Symbol::Less => Comparison::Less,
        Symbol::LessEqual | Symbol::NotGreater => Comparison::LessOrEqual,
        Symbol::Greater => Comparison::Greater,
        Symbol::GreaterEqual | Symbol::NotLess => Comparison::GreaterOrEqual,
        Symbol::NullSafeEqual => Comparison::Same,
        _ => return None,
    })
}

fn operator_text(operator: Operator) -> String {
    match operator {
        Operator::Symbol(symbol) => symbol.text().to_string(),
        other => format!("{other:?}").to_uppercase(),
    }
}
