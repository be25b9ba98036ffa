//! Calls: aggregates, windows, forms of their own, and plain functions.

use syntax::DialectName;
use syntax::tree::{Call, CallForm, CallTail, CastForm, Expr, ExprKind, Ident, Literal, Spelled, TrimWhere};
use values::Value;

use super::aggregate::is_star;
use super::{Compiler, Purpose};
use crate::aggregate::AggregateKind;
use crate::arithmetic::Arithmetic;
use crate::failure::{Codes, Failure, FailureKind, NO_FUNCTION, Outcome};
use crate::function::{self, Function, Nulls, Typing};
use crate::plan::{CallCode, Code, Comparison, Conversion, Typed};
use crate::store::StoredType;
use crate::types::{TextType, Type};
use crate::window::WindowKind;

const WRONG_COUNT: Codes = &[
    (DialectName::Oracle, "ORA-00909"),
    (DialectName::SqlServer, "Msg 174"),
    (DialectName::Mysql, "ER_WRONG_PARAMCOUNT_TO_NATIVE_FCT"),
    (DialectName::Mariadb, "ER_WRONG_PARAMCOUNT_TO_NATIVE_FCT"),
    (DialectName::Postgres, "42883"),
];

impl Compiler<'_> {
    pub(super) fn call(&mut self, call: &Call<Spelled>) -> Outcome<Typed> {
        let name = call.function.last();
        let upper = name.text.to_uppercase();
        if let Some(over) = call.tail.as_ref().and_then(|t| t.over.as_ref()) {
            return self.window(call, over);
        }
        if let Some(typed) = self.constructor(call)? {
            return Ok(typed);
        }
        if let Some(function) = self.store.functions.get(name.text.to_lowercase().as_str()).cloned() {
            let plan = self.stored_query(&function, call)?;
            let ty = plan.types.first().cloned().unwrap_or(Type::Any);
            return Ok(Typed::new(Code::Scalar(Box::new(plan)), ty));
        }
        if let Some(kind) = self.aggregate_kind(call) {
            return self.aggregate(call, kind);
        }
        if let Some(typed) = self.special_form(&upper, call)? {
            return Ok(typed);
        }
        if let Some(tail) = call.tail.as_deref()
            && *tail != CallTail::default()
        {
            return self.with_clauses(&upper, call, tail);
        }
        if is_star(call) {
            return Err(Failure::invalid(format!("{upper} takes no *")).coded(self.dialect(), &[(DialectName::SqlServer, "Msg 102")]));
        }
        let Some(function) = Function::named(&upper, self.dialect()) else {
            if WindowKind::named(&upper, self.dialect()).is_some() {
                let codes: Codes = &[
                    (DialectName::Oracle, "ORA-30484"),
                    (DialectName::SqlServer, "Msg 10753"),
                    (DialectName::Mysql, "ER_PARSE_ERROR"),
                    (DialectName::Postgres, "42809"),
                ];
                return Err(Failure::invalid(format!("{upper} needs OVER")).coded(self.dialect(), codes));
            }
            return Err(self.no_function(name, std::iter::empty()));
        };
        let mut arguments = Vec::with_capacity(call.arguments.len());
        for (at, argument) in call.arguments.iter().enumerate() {
            arguments.push(match function.word_at {
                Some(place) if place as usize == at => word(&argument.value).map_or_else(|| self.expr(&argument.value), Ok)?,
                _ => self.expr(&argument.value)?,
            });
        }
        self.applied(function, arguments)
    }

    /// A function by its name in this dialect, or an operator's own.
    pub(super) fn call_named(&mut self, name: &str, arguments: Vec<Typed>, result: Option<Type>) -> Outcome<Typed> {
        let Some(function) = Function::named(name, self.dialect()) else {
            return Err(Failure::unknown(&format!("the operation {}", name.trim_end_matches('_'))));
        };
        let mut typed = self.applied(function, arguments)?;
        if let Some(result) = result {
            typed.ty = result.clone();
            if let Code::Call(call) = &mut typed.code {
                call.result = result;
            }
        }
        Ok(typed)
    }

    fn applied(&mut self, function: &'static Function, mut arguments: Vec<Typed>) -> Outcome<Typed> {
        let count = arguments.len();
        if count < function.least as usize || count > function.most as usize {
            let message = match (function.least, function.most) {
                (a, b) if a == b => format!("{} takes {a} arguments, not {count}", function.name),
                (a, u8::MAX) => format!("{} takes {a} arguments at least, not {count}", function.name),
                (a, b) => format!("{} takes {a} to {b} arguments, not {count}", function.name),
            };
            // Oracle tells too few from too many where there is a choice.
            let range = function.least != function.most;
            let failure = Failure::invalid(message);
            return Err(match self.dialect() {
                DialectName::Oracle if range => failure.with_code(if count < function.least as usize { "ORA-00938" } else { "ORA-00939" }),
                DialectName::SqlServer if function.most == u8::MAX => failure.with_code("Msg 189"),
                _ => failure.coded(self.dialect(), WRONG_COUNT),
            });
        }
        let first = arguments.first().map_or(Type::Null, |a| a.ty.clone());
        if matches!(function.name, "GREATEST" | "LEAST") && self.dialect() == DialectName::Oracle && !first.is_open() {
            // The first one's type decides (Oracle: GREATEST).
            let to = match first {
                Type::Text(_) => Type::TEXT,
                number if number.is_numeric() => Type::Number,
                other => other,
            };
            arguments = arguments.into_iter().map(|a| self.converted(a, &to)).collect();
        } else if let Typing::Common = function.result {
            // Among strings and numbers MariaDB compares as numbers (seen on MariaDB 10.11).
            let mixed = arguments.iter().any(|a| a.ty.is_text()) && arguments.iter().any(|a| a.ty.is_numeric());
            if mixed && self.dialect() == DialectName::Mariadb {
                arguments = arguments.into_iter().map(|a| self.converted(a, &Type::Float)).collect();
            }
            let (codes, common) = self.alike(arguments, Purpose::Choose)?;
            arguments = codes.into_iter().map(|c| Typed::new(c, common.clone())).collect();
        }
        let types: Vec<Type> = arguments.iter().map(|a| a.ty.clone()).collect();
        let mut result = function.result_type(&types, self.behaviour)?;
        // The digits of a second stand as the last argument.
        if let ("TIMEFROMPARTS", Some(Code::Constant(Value::Integer(digits)))) = (function.name, arguments.last().map(|a| &a.code)) {
            result = Type::Time(*digits as u8);
        }
        let collation = self.collation_of(&types);
        let code = Code::Call(Box::new(CallCode {
            place: crate::plan::Place::default(),
            function,
            arguments: arguments.into_iter().map(|a| a.code).collect(),
            types,
            result: result.clone(),
            collation,
        }));
        Ok(Typed::new(code, result))
    }

    /// The collation by which a function compares its strings.
    fn collation_of(&self, types: &[Type]) -> crate::behaviour::Collation {
        types.iter().filter_map(Type::as_text).find_map(|t| t.collation).unwrap_or(self.behaviour.collation)
    }

    /// The error of a name that is no function; what another dialect has under it isn't guessed.
    pub(super) fn no_function(&self, name: &Ident, more: impl Iterator<Item = &'static str>) -> Failure {
        let upper = name.text.to_uppercase();
        let known = Function::names(self.dialect()).chain(AggregateKind::names(self.dialect())).chain(more);
        let near = syntax::nearest(&upper, known).map_or(String::new(), |n| format!(" (did you mean {n}?)"));
        if function::is_missing(&upper, self.dialect()) {
            return Failure::new(FailureKind::UnknownName, format!("{} has no function {}{near}", self.dialect().title(), name.text))
                .coded(self.dialect(), NO_FUNCTION);
        }
        Failure { message: format!("the stand-in does not know the function {}{near}", name.text), ..Failure::unknown("") }
    }

    // --- constructors --------------------------------------------------------------------------

    /// `SYS.ODCINUMBERLIST(1, 2)` and the constructors of created types.
    fn constructor(&mut self, call: &Call<Spelled>) -> Outcome<Option<Typed>> {
        if self.dialect() != DialectName::Oracle {
            return Ok(None);
        }
        let name = call.function.dotted();
        if let Some(element) = self.collection_type(&name) {
            let mut items = Vec::new();
            for argument in &call.arguments {
                let typed = self.expr(&argument.value)?;
                items.push(self.converted(typed, &element).code);
            }
            return Ok(Some(Typed::new(Code::Array(items), Type::Array(Box::new(element)))));
        }
        let key = call.function.last().text.to_lowercase();
        if let Some(StoredType::Object(fields)) = self.store.types.get(key.as_str()).cloned() {
            if fields.len() != call.arguments.len() {
                return Err(Failure::invalid(format!("{name} takes {} values", fields.len())).with_code("ORA-02315"));
            }
            let mut codes = Vec::new();
            for (argument, (field, ty)) in call.arguments.iter().zip(&fields) {
                let typed = self.expr(&argument.value)?;
                codes.push((field.clone(), self.converted(typed, ty).code));
            }
            return Ok(Some(Typed::new(Code::Struct(codes), Type::Struct(fields.into_boxed_slice()))));
        }
        Ok(None)
    }

    // --- forms of their own --------------------------------------------------------------------

    /// Functions that aren't called like others: what they don't need isn't worked out, or their
    /// arguments are no values.
    fn special_form(&mut self, name: &str, call: &Call<Spelled>) -> Outcome<Option<Typed>> {
        use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};
        match call.form {
            CallForm::Word => return self.word_function(name),
            CallForm::Trim(place) => return self.trim(call, place).map(Some),
            CallForm::Extract => {
                let [field, value] = call.arguments.as_slice() else { return Ok(None) };
                let field = word(&field.value).map_or_else(|| self.expr(&field.value), Ok)?;
                let value = self.expr(&value.value)?;
                return self.call_named("EXTRACT_", vec![field, value], None).map(Some);
            }
            CallForm::PositionIn => return self.plain_as("POSITION_IN_", call).map(Some),
            CallForm::Overlay => return self.plain_as("OVERLAY_", call).map(Some),
            CallForm::SubstringFrom => return self.plain_as("SUBSTRING", call).map(Some),
            CallForm::Method => return self.method(call).map(Some),
            CallForm::Using => return self.in_charset(call, name).map(Some),
            CallForm::NextValue => return Ok(None),
            CallForm::Plain => {}
        }
        let count = call.arguments.len();
        let dialect = self.dialect();
        let is = |dialects: &[DialectName]| dialects.contains(&dialect);
        Ok(Some(match name {
            "COLLATE" if is(&[Bigquery]) && count == 2 => {
                let ExprKind::Literal(Literal::Text(name)) = &call.arguments[1].value.kind else { return Ok(None) };
                self.collate(&call.arguments[0].value, name.trim_matches(['\'', '"']))?
            }
            // DBMS_LOB.SUBSTR(text, count [, start])
            "SUBSTR" if is(&[Oracle]) && call.function.parts.len() > 1 && call.function.parts[0].is_word("dbms_lob") => {
                let start = match count {
                    3 => self.argument(call, 2)?,
                    _ => Typed::new(Code::Constant(Value::Integer(1)), Type::BIGINT),
                };
                let arguments = vec![self.argument(call, 0)?, start, self.argument(call, 1)?];
                self.call_named("SUBSTR", arguments, None)?
            }
            "COALESCE" if count > 0 => self.coalesce(call)?,
            "NVL" if is(&[Oracle]) && count == 2 => self.first_typed(call)?,
            "NVL" if is(&[Mariadb, Spark]) && count == 2 => self.coalesce(call)?,
            "IFNULL" if is(&[Mysql, Mariadb, Sqlite, Duckdb, Bigquery, Spark]) && count == 2 => self.coalesce(call)?,
            "ISNULL" if is(&[SqlServer]) && count == 2 => self.first_typed(call)?,
            "ISNOTNULL" if is(&[Spark]) && count == 1 => {
                let typed = self.argument(call, 0)?;
                Typed::new(Code::IsNull(Box::new(typed.code), true), Type::Boolean)
            }
            // The number of a character in UTF-32 is its code point.
            "ORD" if is(&[Mysql, Mariadb]) && matches!(&call.arguments[..], [one] if is_utf32(&one.value)) => {
                self.plain_as("UNICODE_", call)?
            }
            "ISNULL" if is(&[Mysql, Mariadb, Spark]) && count == 1 => {
                let code = Code::IsNull(Box::new(self.argument(call, 0)?.code), false);
                Typed::new(code, Type::Boolean)
            }
            "NVL2" if is(&[Oracle, Mariadb, Spark]) && count == 3 => {
                let present = Code::IsNull(Box::new(self.argument(call, 0)?.code), true);
                let results = vec![self.argument(call, 1)?, self.argument(call, 2)?];
                self.chosen(vec![present], results)?
            }
            "IF" if is(&[Mysql, Mariadb, Bigquery, Spark, Duckdb, Sqlite]) && count == 3 => self.if_form(call)?,
            "IIF" if is(&[SqlServer, Sqlite]) && count == 3 => self.if_form(call)?,
            "NULLIF" if count == 2 => {
                let (a, b) = (self.argument(call, 0)?, self.argument(call, 1)?);
                let ty = a.ty.clone().without_literal();
                let equal = self.comparison(Comparison::Equal, a.clone(), b)?;
                Typed::new(Code::Case(vec![(equal, Code::Constant(Value::Null))], Some(Box::new(a.code))), ty)
            }
            "SAFE_ADD" | "TRY_ADD" | "SAFE_SUBTRACT" | "TRY_SUBTRACT" | "SAFE_MULTIPLY" | "TRY_MULTIPLY"
                if is(&[Bigquery, Spark]) && count == 2 =>
            {
                self.arithmetic_or_null(name, call)?
            }
            "DECODE" if is(&[Oracle, Mariadb, Spark, Duckdb]) && count >= 3 => self.decode(call)?,
            "CHOOSE" if is(&[SqlServer]) && count >= 2 => self.choose(call)?,
            "LNNVL" if is(&[Oracle]) && count == 1 => {
                let code = self.condition(&call.arguments[0].value)?;
                Typed::new(Code::IsTruth(Box::new(code), Some(true), true), Type::Boolean)
            }
            "GROUPING" | "GROUPING_ID" if count > 0 => {
                let keys: Outcome<Vec<Code>> = call.arguments.iter().map(|a| self.expr(&a.value).map(|t| t.code)).collect();
                Typed::new(Code::Grouping(keys?), if is(&[Oracle]) { Type::Number } else { Type::INT })
            }
            "SYS_CONNECT_BY_PATH" if is(&[Oracle]) => self.hierarchy_path(call)?,
            "TRY_CAST" | "CAST" => return Err(Failure::unknown(&format!("this form of {name}"))),
            "CARDINALITY" if is(&[Oracle]) => self.plain_as("CARDINALITY", call)?,
            "ROW" if is(&[Postgres, Mysql, Mariadb, Spark, Duckdb]) => {
                let parts: Outcome<Vec<Typed>> = call.arguments.iter().map(|a| self.expr(&a.value)).collect();
                let parts = parts?;
                let types = parts.iter().map(|p| (String::new(), p.ty.clone())).collect();
                Typed::new(Code::Row(parts.into_iter().map(|p| p.code).collect()), Type::Struct(types))
            }
            "EXISTS" if count == 1 => match &call.arguments[0].value.kind {
                ExprKind::Subquery(query) => Typed::new(Code::Exists(Box::new(self.query(query)?)), Type::Boolean),
                _ => return Ok(None),
            },
            "ARRAY" if is(&[Spark]) => {
                let parts: Outcome<Vec<Typed>> = call.arguments.iter().map(|a| self.expr(&a.value)).collect();
                let (codes, element) = self.alike(parts?, Purpose::Choose)?;
                Typed::new(Code::Array(codes), Type::Array(Box::new(element.without_literal())))
            }
            "STRUCT" if is(&[Spark, Bigquery]) => return Err(Failure::unknown("this form of STRUCT")),
            _ => return self.as_syntax(name, call),
        }))
    }

    /// `x.value('.', 'varchar(100)')` of SQL Server's XML.
    fn method(&mut self, call: &Call<Spelled>) -> Outcome<Typed> {
        let name = call.function.last().text.to_lowercase();
        let constant = |typed: Typed| match typed.code {
            Code::Constant(Value::Text(text)) => Some(text.to_string()),
            _ => None,
        };
        let [operand, path, ty] = call.arguments.as_slice() else { return Err(Failure::unknown(&format!("the method {name}"))) };
        let (path, ty) = (constant(self.expr(&path.value)?), constant(self.expr(&ty.value)?));
        match (name.as_str(), path.as_deref(), ty) {
            ("value", Some("." | "text()[1]" | "(./text())[1]"), Some(ty)) => {
                let operand = self.expr(&operand.value)?;
                let text = self.call_named("XML_TEXT_", vec![operand], None)?;
                let tokens = syntax::lex(&ty, &self.behaviour.dialect);
                let words: Vec<&str> = tokens.iter().map(|t| t.text(&ty)).filter(|w| !matches!(*w, "(" | ")" | "," | "")).collect();
                let (head, arguments) = words.split_first().map_or(("", &[][..]), |(h, a)| (*h, a));
                let written = syntax::tree::TypeName::synthetic(head, arguments.iter().map(|a| (*a).into()).collect());
                let to = Type::named(&written, self.behaviour).ok_or_else(|| Failure::unknown(&format!("the type {ty}")))?;
                Ok(Typed::new(super::cast::explicit(text, &to, false), to))
            }
            _ => Err(Failure::unknown(&format!("this use of the method {name}"))),
        }
    }

    fn argument(&mut self, call: &Call<Spelled>, at: usize) -> Outcome<Typed> {
        self.expr(&call.arguments[at].value)
    }

    pub(super) fn plain_as(&mut self, name: &str, call: &Call<Spelled>) -> Outcome<Typed> {
        let arguments: Outcome<Vec<Typed>> = call.arguments.iter().map(|a| self.expr(&a.value)).collect();
        self.call_named(name, arguments?, None)
    }

    /// A call that names a character set, which are all Unicode's here.
    fn in_charset(&mut self, call: &Call<Spelled>, name: &str) -> Outcome<Typed> {
        let (_, values) = call.arguments.split_last().ok_or_else(|| Failure::unknown("a call without arguments"))?;
        let arguments: Outcome<Vec<Typed>> = values.iter().map(|a| self.expr(&a.value)).collect();
        self.call_named(if name == "CHAR" { "CHAR_USING_" } else { name }, arguments?, None)
    }

    fn trim(&mut self, call: &Call<Spelled>, place: Option<TrimWhere>) -> Outcome<Typed> {
        let arguments: Outcome<Vec<Typed>> = call.arguments.iter().map(|a| self.expr(&a.value)).collect();
        let mut arguments = arguments?;
        // The text comes last as written, first as called.
        if arguments.len() == 2 {
            arguments.swap(0, 1);
        }
        let name = match place {
            Some(TrimWhere::Leading) => "TRIM_LEADING_",
            Some(TrimWhere::Trailing) => "TRIM_TRAILING_",
            _ => "TRIM_BOTH_",
        };
        self.call_named(name, arguments, None)
    }

    fn coalesce(&mut self, call: &Call<Spelled>) -> Outcome<Typed> {
        let parts: Outcome<Vec<Typed>> = call.arguments.iter().map(|a| self.expr(&a.value)).collect();
        let parts = parts?;
        if self.dialect() == DialectName::SqlServer && parts.iter().all(|p| p.ty == Type::Null && matches!(p.code, Code::Constant(_))) {
            return Err(Failure::invalid("COALESCE of nothing but NULL has no type").with_code("Msg 4127"));
        }
        let (codes, ty) = self.alike(parts, Purpose::Choose)?;
        Ok(Typed::new(Code::FirstPresent(codes), ty.without_literal()))
    }

    /// NVL of Oracle and ISNULL of SQL Server: the second argument becomes what the first is.
    fn first_typed(&mut self, call: &Call<Spelled>) -> Outcome<Typed> {
        let (a, b) = (self.argument(call, 0)?, self.argument(call, 1)?);
        if a.ty == Type::Null {
            let ty = b.ty.clone().without_literal();
            return Ok(Typed::new(Code::FirstPresent(vec![a.code, b.code]), ty));
        }
        let to = a.ty.clone().without_literal();
        let second = match (&to, self.dialect()) {
            // ISNULL cuts to the first one's length.
            (Type::Text(text), DialectName::SqlServer) => {
                let to = Type::Text(TextType { fixed: text.fixed, ..*text });
                super::cast::explicit(b, &to, false)
            }
            // Oracle: any text will do beside a string.
            (Type::Text(_), _) => self.converted(b, &Type::TEXT).code,
            _ => match b.code {
                Code::Constant(Value::Null) => Code::Constant(Value::Null),
                code => Code::Convert(Box::new(Conversion {
                    place: crate::plan::Place::default(),
                    code,
                    from: b.ty,
                    to: to.clone(),
                    how: crate::convert::How::IMPLICIT,
                    safe: false,
                    otherwise: None,
                })),
            },
        };
        let to = match to {
            Type::Text(text) if self.dialect() == DialectName::Oracle => Type::Text(TextType { length: None, fixed: false, ..text }),
            other => other,
        };
        Ok(Typed::new(Code::FirstPresent(vec![a.code, second]), to))
    }

    /// The first result whose condition holds, else the last.
    fn chosen(&mut self, conditions: Vec<Code>, results: Vec<Typed>) -> Outcome<Typed> {
        let has_else = results.len() > conditions.len();
        // Oracle's NVL2 and DECODE: the first result decides the type.
        let (mut codes, ty) = if self.dialect() == DialectName::Oracle {
            let to = results[0].ty.clone().without_literal();
            let to = if to == Type::Null || to.is_text() { Type::TEXT } else { to };
            (results.into_iter().map(|r| self.converted(r, &to).code).collect(), to)
        } else {
            self.alike(results, Purpose::Choose)?
        };
        let otherwise = if has_else { codes.pop().map(Box::new) } else { None };
        Ok(Typed::new(Code::Case(conditions.into_iter().zip(codes).collect(), otherwise), ty.without_literal()))
    }

    fn if_form(&mut self, call: &Call<Spelled>) -> Outcome<Typed> {
        let condition = self.condition(&call.arguments[0].value)?;
        let results = vec![self.argument(call, 1)?, self.argument(call, 2)?];
        let (mut codes, ty) = self.alike(results, Purpose::Choose)?;
        let otherwise = codes.pop().map(Box::new);
        Ok(Typed::new(Code::Case(vec![condition].into_iter().zip(codes).collect(), otherwise), ty.without_literal()))
    }

    /// DECODE(x, a, r, b, s, .., else): NULL equals NULL.
    fn decode(&mut self, call: &Call<Spelled>) -> Outcome<Typed> {
        let operand = self.argument(call, 0)?;
        let (mut conditions, mut results) = (Vec::new(), Vec::new());
        // Everything is compared as what the first search value is.
        let first = self.argument(call, 1)?.ty;
        let mut at = 1;
        while at + 1 < call.arguments.len() {
            let search = self.argument(call, at)?;
            let (a, b) = if self.dialect() == DialectName::Oracle && !first.is_open() {
                let to = if first.is_text() { Type::TEXT } else { first.clone() };
                (self.converted(operand.clone(), &to), self.converted(search, &to))
            } else {
                (operand.clone(), search)
            };
            conditions.push(self.comparison(Comparison::Same, a, b)?);
            results.push(self.argument(call, at + 1)?);
            at += 2;
        }
        if at < call.arguments.len() {
            results.push(self.argument(call, at)?);
        }
        self.chosen(conditions, results)
    }

    fn choose(&mut self, call: &Call<Spelled>) -> Outcome<Typed> {
        let index = self.argument(call, 0)?;
        let index = self.converted(index, &Type::INT);
        let parts: Outcome<Vec<Typed>> = call.arguments[1..].iter().map(|a| self.expr(&a.value)).collect();
        let (codes, ty) = self.alike(parts?, Purpose::Choose)?;
        let rule = self.rule(&Type::INT, &Type::INT);
        let branches = codes
            .into_iter()
            .enumerate()
            .map(|(i, code)| {
                let number = Code::Constant(Value::Integer(i as i64 + 1));
                (Code::Compare(Comparison::Equal, Box::new((index.code.clone(), number)), rule), code)
            })
            .collect();
        Ok(Typed::new(Code::Case(branches, None), ty.without_literal()))
    }

    /// A word that is a function without parentheses: CURRENT_DATE, SYSDATE, USER, @@VERSION.
    pub(super) fn word_function(&mut self, name: &str) -> Outcome<Option<Typed>> {
        let Some(function) = Function::named(name, self.dialect()).filter(|f| f.is_word) else { return Ok(None) };
        self.applied(function, Vec::new()).map(Some)
    }

    /// NULL where the type has no room for the result.
    fn arithmetic_or_null(&mut self, name: &str, call: &Call<Spelled>) -> Outcome<Typed> {
        let operator = match name.split('_').next_back() {
            Some("ADD") => Arithmetic::Add,
            Some("SUBTRACT") => Arithmetic::Subtract,
            _ => Arithmetic::Multiply,
        };
        let (a, b) = (self.argument(call, 0)?, self.argument(call, 1)?);
        Ok(or_else(self.arithmetic(operator, a, b)?, Code::Constant(Value::Null)))
    }

    // --- clauses inside the parentheses --------------------------------------------------------

    /// DEFAULT x ON CONVERSION ERROR, and the clauses of JSON functions.
    fn with_clauses(&mut self, name: &str, call: &Call<Spelled>, tail: &CallTail<Spelled>) -> Outcome<Typed> {
        let Some(span) = tail.clauses else { return Err(Failure::unknown(&format!("these clauses of {name}"))) };
        let words: Vec<String> = self.words(span).iter().map(|w| w.to_uppercase()).collect();
        let only_clauses = CallTail { clauses: Some(span), nulls_inside: tail.nulls_inside, ..CallTail::default() } == *tail;
        if !only_clauses {
            return Err(Failure::unknown(&format!("these clauses of {name}")));
        }
        if let Some(typed) = self.json_constructor(name, call, span)? {
            return Ok(typed);
        }
        let plain = Call { tail: None, ..call.clone() };
        // CHAR(113 USING utf8mb4): strings here are of that character set.
        if name == "CHAR" && words.first().is_some_and(|w| w == "USING") {
            return self.call(&plain);
        }
        if self.dialect() == DialectName::Oracle && words.first().is_some_and(|w| w == "DEFAULT") {
            let Some(on) = words.iter().position(|w| w == "ON") else { return Err(Failure::unknown("this DEFAULT")) };
            let default = self.verbatim_expr(span.first + 1, span.first + on as u32)?;
            let (value, default) = (self.call(&plain)?, self.expr(&default)?);
            let default = self.converted(default, &value.ty);
            return Ok(or_else(value, default.code));
        }
        Err(Failure::unknown(&format!("these clauses of {name}")))
    }
}

/// A value, or another where working it out fails for a conversion or for want of room.
fn or_else(value: Typed, otherwise: Code) -> Typed {
    let conversion = Conversion {
        place: crate::plan::Place::default(),
        code: value.code,
        from: value.ty.clone(),
        to: Type::Any,
        how: crate::convert::How::EXPLICIT,
        safe: false,
        otherwise: Some(otherwise),
    };
    Typed::new(Code::Convert(Box::new(conversion)), value.ty)
}

/// A bare word as an argument: a unit of time, a keyword.
fn word(expr: &Expr<Spelled>) -> Option<Typed> {
    let text = match &expr.kind {
        ExprKind::Column(name) => name.as_single()?.text.clone(),
        ExprKind::Literal(Literal::Text(text)) => text.trim_matches('\'').into(),
        // WEEK(MONDAY)
        ExprKind::Call(call) if call.arguments.len() == 1 => {
            let inner = call.arguments[0].value.as_name()?;
            format!("{}({})", call.function.last().text, inner.text).into()
        }
        ExprKind::Call(call) if call.arguments.is_empty() => call.function.last().text.clone(),
        _ => return None,
    };
    Some(Typed::new(Code::Constant(Value::Text(text)), Type::TEXT))
}

impl Function {
    fn result_type(&self, types: &[Type], behaviour: &crate::behaviour::Behaviour) -> Outcome<Type> {
        Ok(match &self.result {
            Typing::Fixed(ty) => ty.clone(),
            Typing::Number if behaviour.name() == DialectName::Oracle => Type::Number,
            Typing::Number => Type::BIGINT,
            Typing::First | Typing::Common => types.first().cloned().unwrap_or(Type::Any).without_literal(),
            Typing::TextLikeFirst => match types.first() {
                Some(Type::Text(text)) => Type::Text(TextType { length: None, fixed: false, literal: false, ..*text }),
                _ => Type::TEXT,
            },
            Typing::By(rule) => rule(types, behaviour)?,
        })
    }

    /// Whether NULL among the arguments gives NULL.
    pub(crate) fn spreads_null(&self) -> bool {
        self.nulls == Nulls::Spread
    }
}

/// `CONVERT(x USING utf32)`.
fn is_utf32(expr: &Expr<Spelled>) -> bool {
    matches!(&expr.kind, ExprKind::Cast(cast) if cast.form == CastForm::ConvertUsing && cast.to.words.eq_ignore_ascii_case("utf32"))
}
