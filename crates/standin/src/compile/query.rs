//! Query expressions: WITH, set operations, VALUES, and what follows a body.

use syntax::DialectName;
use syntax::tree::{CommonTable, LimitClause, LimitKind, Query, QueryBody, SetOperation, SetQuantifier, Span, Spelled, Top, Values};
use values::Value;

use super::{Block, Common, Compiler, InSight, Purpose, Scope, unify};
use crate::failure::{Codes, Failure, FailureKind, Outcome};
use crate::plan::{Body, Code, CommonPlan, Key, Limit, QueryPlan, TextForm, TextOutput, Typed};
use crate::types::Type;

impl QueryPlan {
    /// A body and nothing else.
    pub(super) fn of(body: Body, labels: Vec<String>, types: Vec<Type>) -> QueryPlan {
        QueryPlan {
            common: Vec::new(),
            body,
            order: Vec::new(),
            limit: Limit::default(),
            labels,
            types,
            correlated: false,
            output: None,
            conversions: Vec::new(),
        }
    }

    /// The same with its columns as other types.
    pub(super) fn converted_to(mut self, types: &[Type]) -> QueryPlan {
        for (i, to) in types.iter().enumerate() {
            if super::needs_conversion(&self.types[i], to) && self.types[i] != Type::Null {
                self.conversions.push((i, self.types[i].clone(), to.clone()));
            }
        }
        self.types = types.to_vec();
        self
    }
}

impl Compiler<'_> {
    /// The query of a statement: its options hold for all of it.
    pub(super) fn statement_query(&mut self, query: &Query<Spelled>) -> Outcome<QueryPlan> {
        if let Some(options) = query.options {
            let words = self.words(options);
            if let Some(at) = words.iter().position(|w| w.eq_ignore_ascii_case("MAXRECURSION")) {
                let most = words.get(at + 1).and_then(|n| n.parse::<usize>().ok()).unwrap_or(0);
                self.most_steps = Some(most);
            }
        }
        self.query(query)
    }

    pub(super) fn query(&mut self, query: &Query<Spelled>) -> Outcome<QueryPlan> {
        let saved = std::mem::replace(&mut self.reach, usize::MAX);
        let (depth, known) = (self.scopes.len(), self.common.len());
        let block = std::mem::replace(&mut self.block, Block::new());
        let plan = syntax::with_stack(|| self.query_inner(query));
        self.block = block;
        self.common.truncate(known);
        let correlated = self.reach < depth;
        self.reach = if correlated { self.reach.min(saved) } else { saved };
        let mut plan = plan.map_err(|f| self.placed(f, query.span))?;
        plan.correlated = correlated;
        Ok(plan)
    }

    fn query_inner(&mut self, query: &Query<Spelled>) -> Outcome<QueryPlan> {
        let mut common = Vec::new();
        if let Some(with) = &query.with {
            for table in &with.tables {
                common.push(self.common_table(table, with.recursive)?);
            }
        }
        let limit = self.limit(&query.limit)?;
        let mut plan = match &query.body {
            QueryBody::Select(select) => self.select(select, &query.order_by, query.siblings, limit)?,
            body => {
                let plan = self.body(body)?;
                let plain = plan.order.is_empty() && plan.limit == Limit::default() && plan.common.is_empty() && plan.output.is_none();
                let mut plan = if plain && !matches!(plan.body, Body::Select(_)) && plan.conversions.is_empty() {
                    plan
                } else {
                    let (labels, types) = (plan.labels.clone(), plan.types.clone());
                    QueryPlan::of(Body::Nested(Box::new(plan)), labels, types)
                };
                plan.order = self.output_order(query, &plan)?;
                plan.limit = limit;
                plan
            }
        };
        plan.output = self.text_output(query, &plan)?;
        if let Some(output) = &plan.output {
            let kind = if matches!(output.form, TextForm::Json { .. }) { "JSON" } else { "XML" };
            plan.labels = vec![format!("{kind}_F52E2B61-18A1-11d1-B105-00805F49916B")];
            plan.types = vec![Type::TEXT];
        }
        common.append(&mut plan.common);
        plan.common = common;
        Ok(plan)
    }

    fn common_table(&mut self, table: &CommonTable<Spelled>, recursive: bool) -> Outcome<CommonPlan> {
        self.next_common += 1;
        let number = self.next_common;
        let recursion = self.recursive_table(table, recursive, number)?;
        let named = recursion.is_some();
        let mut plan = match recursion {
            Some(plan) => plan,
            None => self.query(&table.query)?,
        };
        if !table.columns.is_empty() && !named {
            self.check_count_of_names(table.columns.len(), plan.labels.len())?;
            plan.labels.splice(..table.columns.len(), table.columns.iter().map(|c| self.folded(c)));
        }
        self.check_orders(&table.query)?;
        self.check_names(&plan.labels)?;
        let name = self.folded(&table.name);
        self.common.push(Common { name, number, labels: plan.labels.clone(), types: plan.types.clone(), correlated: plan.correlated });
        Ok(CommonPlan { number, plan })
    }

    pub(super) fn check_count_of_names(&self, names: usize, columns: usize) -> Outcome<()> {
        let codes = [
            (DialectName::Oracle, "ORA-32038"),
            (DialectName::SqlServer, if names > columns { "Msg 8159" } else { "Msg 8158" }),
            (DialectName::Mysql, "ER_VIEW_WRONG_LIST"),
            (DialectName::Mariadb, "ER_WITH_COL_WRONG_LIST"),
        ];
        // PostgreSQL and DuckDB name the first columns only, if there are fewer names.
        let fewer_will_do = self.is(&[DialectName::Postgres, DialectName::Duckdb]);
        if names > columns || (names < columns && !fewer_will_do) {
            return Err(Failure::invalid(format!("{names} names for {columns} columns")).coded(self.dialect(), &codes));
        }
        Ok(())
    }

    pub(super) fn body(&mut self, body: &QueryBody<Spelled>) -> Outcome<QueryPlan> {
        syntax::with_stack(|| match body {
            QueryBody::Select(select) => self.select(select, &[], false, Limit::default()),
            QueryBody::Nested(query, _) => self.query(query),
            QueryBody::SetOperation(operation) => self.set_operation(operation),
            QueryBody::Values(values) => self.values(values),
            QueryBody::Table(name, _) => {
                self.scopes.push(Scope::default());
                let from = self.table_by_name(name, None);
                let scope = self.scopes.pop().unwrap_or_default();
                Ok(self.all_columns(from?, scope))
            }
        })
    }

    fn set_operation(&mut self, operation: &SetOperation<Spelled>) -> Outcome<QueryPlan> {
        let left = self.branch(&operation.left)?;
        let mut right = self.branch(&operation.right)?;
        if operation.by_name {
            right = by_name(&left, right)?;
        }
        let all = operation.quantifier == Some(SetQuantifier::All);
        self.combined(left, right).map(|(left, right)| {
            let (labels, types) = (left.labels.clone(), left.types.clone());
            let rules = types.iter().map(|t| self.collation(t)).collect();
            QueryPlan::of(
                Body::Set {
                    place: self.place(operation.span),
                    operator: operation.operator,
                    all,
                    left: Box::new(left),
                    right: Box::new(right),
                    rules,
                },
                labels,
                types,
            )
        })
    }

    /// A branch is compiled in a block of its own.
    pub(super) fn branch(&mut self, body: &QueryBody<Spelled>) -> Outcome<QueryPlan> {
        let block = std::mem::replace(&mut self.block, Block::new());
        let plan = self.body(body);
        self.block = block;
        plan
    }

    /// Both sides with columns of the same number and types.
    pub(super) fn combined(&self, left: QueryPlan, right: QueryPlan) -> Outcome<(QueryPlan, QueryPlan)> {
        if left.labels.len() != right.labels.len() {
            let codes: Codes = &[
                (DialectName::Oracle, "ORA-01789"),
                (DialectName::SqlServer, "Msg 205"),
                (DialectName::Mysql, "ER_WRONG_NUMBER_OF_COLUMNS_IN_SELECT"),
                (DialectName::Mariadb, "ER_WRONG_NUMBER_OF_COLUMNS_IN_SELECT"),
                (DialectName::Postgres, "42601"),
            ];
            let message = format!("the sides of this set operation have {} and {} columns", left.labels.len(), right.labels.len());
            return Err(Failure::invalid(message).coded(self.dialect(), codes));
        }
        let types: Outcome<Vec<Type>> = left
            .types
            .iter()
            .zip(&right.types)
            .map(|(a, b)| unify(a, b, Purpose::Set, self.behaviour).map(Type::without_literal))
            .collect();
        let mut types = types?;
        // PostgreSQL decides for two NULLs what they are, before it looks further.
        for open in types.iter_mut().filter(|t| **t == Type::Null && self.dialect() == DialectName::Postgres) {
            *open = Type::TEXT;
        }
        Ok((left.converted_to(&types), right.converted_to(&types)))
    }

    fn values(&mut self, values: &Values<Spelled>) -> Outcome<QueryPlan> {
        if values.form == syntax::tree::RowForm::Parens && self.dialect() == DialectName::Mysql {
            return Err(Failure::new(FailureKind::Syntax, "a list of values wants ROW(..)").with_code("ER_PARSE_ERROR"));
        }
        let rows: Outcome<Vec<Vec<Typed>>> = values.rows.iter().map(|row| row.iter().map(|e| self.expr(e)).collect()).collect();
        let rows = rows?;
        let width = rows.first().map_or(0, Vec::len);
        if rows.iter().any(|r| r.len() != width) {
            return Err(
                Failure::invalid("the rows of VALUES differ in length").coded(self.dialect(), &[(DialectName::SqlServer, "Msg 10709")])
            );
        }
        let mut types = vec![Type::Null; width];
        for row in &rows {
            for (ty, value) in types.iter_mut().zip(row) {
                *ty = unify(ty, &value.ty, Purpose::Set, self.behaviour)?;
            }
        }
        let types: Vec<Type> = types.into_iter().map(Type::without_literal).collect();
        let rows = rows.into_iter().map(|row| row.into_iter().zip(&types).map(|(v, t)| self.converted(v, t).code).collect()).collect();
        let (prefix, first) = match self.dialect() {
            DialectName::Mysql => ("column_", 0),
            DialectName::Duckdb => ("col", 0),
            DialectName::Spark => ("col", 1),
            _ => ("column", 1),
        };
        let labels = match (self.dialect(), values.rows.first()) {
            // The first row as it is written (seen on MariaDB 10.11).
            (DialectName::Mariadb, Some(row)) => row.iter().map(|e| self.text_label(e)).collect(),
            _ => (first..first + width).map(|i| format!("{prefix}{i}")).collect(),
        };
        Ok(QueryPlan::of(Body::Values(rows), labels, types))
    }

    // --- limits --------------------------------------------------------------------------------

    pub(super) fn limit(&mut self, clauses: &[LimitClause<Spelled>]) -> Outcome<Limit> {
        let mut limit = Limit::default();
        if let (Some(first), Some(last)) = (clauses.first(), clauses.last()) {
            limit.place = self.place(Span { first: first.span.first, end: last.span.end });
        }
        for clause in clauses {
            let is_limit = matches!(clause.kind, LimitKind::All | LimitKind::Limit { .. } | LimitKind::OffsetComma(..));
            let syntax = |message: String, codes: Codes| Err(Failure::new(FailureKind::Syntax, message).coded(self.dialect(), codes));
            if is_limit && self.is(&[DialectName::Oracle, DialectName::SqlServer]) {
                return syntax(
                    format!("{} has no LIMIT", self.dialect().title()),
                    &[(DialectName::Oracle, "ORA-00933"), (DialectName::SqlServer, "Msg 102")],
                );
            }
            if matches!(clause.kind, LimitKind::Fetch { .. })
                && self.is(&[DialectName::Mysql, DialectName::Sqlite, DialectName::Bigquery, DialectName::Spark])
            {
                return syntax(format!("{} has no FETCH", self.dialect().title()), &[(DialectName::Mysql, "ER_PARSE_ERROR")]);
            }
            match &clause.kind {
                LimitKind::All => {}
                LimitKind::Limit { count, percent } => {
                    limit.count = Some(self.expr(count)?.code);
                    limit.percent = percent.map(|_| false);
                }
                LimitKind::OffsetComma(offset, count) => {
                    limit.offset = Some(self.expr(offset)?.code);
                    limit.count = Some(self.expr(count)?.code);
                }
                LimitKind::Offset { count, .. } => limit.offset = Some(self.expr(count)?.code),
                LimitKind::Fetch { count, percent, with_ties, .. } => {
                    let one = Code::Constant(Value::Integer(1));
                    limit.count = Some(count.as_ref().map_or(Ok(one), |c| self.expr(c).map(|t| t.code))?);
                    limit.percent = percent.then_some(true);
                    limit.with_ties = *with_ties;
                }
            }
        }
        Ok(limit)
    }

    pub(super) fn top(&mut self, top: &Top<Spelled>) -> Outcome<Limit> {
        let count = Some(self.expr(&top.count)?.code);
        Ok(Limit { place: self.place(top.span), count, percent: top.percent.then_some(true), with_ties: top.with_ties, offset: None })
    }

    // --- order over the output -----------------------------------------------------------------

    fn output_order(&mut self, query: &Query<Spelled>, plan: &QueryPlan) -> Outcome<Vec<Key>> {
        let columns = plan.labels.iter().zip(&plan.types).map(|(l, t)| InSight::new(None, l.clone(), t.clone())).collect();
        self.scopes.push(Scope { columns, ..Scope::default() });
        let keys = query.order_by.iter().map(|k| self.output_key(k, plan)).collect();
        self.scopes.pop();
        keys
    }

    // --- FOR JSON and FOR XML ------------------------------------------------------------------

    fn text_output(&self, query: &Query<Spelled>, plan: &QueryPlan) -> Outcome<Option<TextOutput>> {
        let Some(options) = query.options else { return Ok(None) };
        let written = self.words(options);
        let words: Vec<String> = written.iter().map(|w| w.to_uppercase()).collect();
        let has = |word: &str| words.iter().any(|w| w == word);
        // The text in the parentheses behind a word.
        let named = |word: &str, default: &str| -> String {
            let at = words.iter().position(|w| w == word).unwrap_or(0);
            match (words.get(at + 1).map(String::as_str), written.get(at + 2)) {
                (Some("("), Some(text)) => text.trim_matches('\'').to_string(),
                _ => default.to_string(),
            }
        };
        let form = match (words.first().map(String::as_str), words.get(1).map(String::as_str)) {
            (Some("FOR"), Some("JSON")) if has("AUTO") && reads_several(query) => {
                return Err(Failure::unknown("FOR JSON AUTO over several tables"));
            }
            (Some("FOR"), Some("JSON")) => {
                TextForm::Json { include_nulls: has("INCLUDE_NULL_VALUES"), wrapped: !has("WITHOUT_ARRAY_WRAPPER") }
            }
            (Some("FOR"), Some("XML")) if has("PATH") => TextForm::XmlPath(named("PATH", "row")),
            (Some("FOR"), Some("XML")) if has("RAW") && !has("ELEMENTS") => TextForm::XmlRaw(named("RAW", "row")),
            (Some("FOR"), Some("XML")) => return Err(Failure::unknown("FOR XML AUTO and EXPLICIT")),
            _ => return Ok(None),
        };
        let root = has("ROOT").then(|| named("ROOT", "root"));
        Ok(Some(TextOutput { form, root, types: plan.types.clone(), names: plan.labels.clone() }))
    }
}

fn reads_several(query: &Query<Spelled>) -> bool {
    let joins = |t: &syntax::tree::TableRef<Spelled>| matches!(t.kind, syntax::tree::TableKind::Join(_));
    matches!(&query.body, QueryBody::Select(s) if s.from.len() > 1 || s.from.iter().any(joins))
}

/// UNION BY NAME: the right side's columns in the left's order; all must be on both sides.
fn by_name(left: &QueryPlan, right: QueryPlan) -> Outcome<QueryPlan> {
    let places: Option<Vec<usize>> = left.labels.iter().map(|l| right.labels.iter().position(|r| r.eq_ignore_ascii_case(l))).collect();
    let Some(places) = places.filter(|p| p.len() == right.labels.len()) else {
        return Err(Failure::unknown("BY NAME with columns that only one side has"));
    };
    let types = places.iter().map(|p| right.types[*p].clone()).collect();
    let items = places.iter().map(|p| Code::Slot(0, *p)).collect();
    Ok(super::select::over(right, items, left.labels.clone(), types))
}
