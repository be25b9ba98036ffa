//! FROM: tables, views, derived tables, table functions.

use std::rc::Rc;

use syntax::DialectName;
use syntax::tree::{Call, Expr, Ident, LateralView, Numbered, ObjectName, Query, Select, Spelled, TableAlias, TableKind, TableRef};

use super::{Clause, Common, Compiler, InSight, Scope};
use crate::failure::{Codes, Failure, FailureKind, NO_TABLE, Outcome};
use crate::plan::{Code, From, Join, JoinPlan, Place, QueryPlan, Typed};
use crate::store::StoredFunction;
use crate::table_function::TableFunction;
use crate::types::Type;

impl Compiler<'_> {
    pub(super) fn scope_width(&self) -> usize {
        self.scopes.last().map_or(0, |s| s.columns.len())
    }

    pub(super) fn add(&mut self, columns: impl IntoIterator<Item = InSight>) {
        if let Some(scope) = self.scopes.last_mut() {
            let start = scope.columns.len();
            scope.columns.extend(columns);
            scope.shown.extend(start..scope.columns.len());
        }
    }

    fn add_query(&mut self, relation: Option<&str>, labels: Vec<String>, types: &[Type]) {
        let columns: Vec<InSight> =
            labels.into_iter().zip(types).map(|(label, ty)| InSight::new(relation, label, ty.clone().without_literal())).collect();
        self.add(columns);
    }

    /// FROM and WHERE together: Oracle's `(+)` makes joins of conditions.
    pub(super) fn from_and_where(&mut self, select: &Select<Spelled>) -> Outcome<(From, Option<Code>)> {
        self.block.clause = Clause::From;
        let (mut from, rest) = match select.condition.as_ref().filter(|c| super::join::has_mark(c)) {
            Some(condition) => self.marked_joins(&select.from, condition)?,
            None => (self.from_list(&select.from, select.condition.as_ref())?, select.condition.clone()),
        };
        for view in &select.lateral_views {
            from = self.lateral_view(from, view)?;
        }
        self.block.clause = Clause::Where;
        // DuckDB sees the list's aliases in WHERE, too.
        let sees_aliases = self.dialect() == DialectName::Duckdb;
        let rest = rest.map(|e| if sees_aliases { self.aliases_written_out(e, select, false) } else { e });
        let filter = rest.as_ref().map(|e| self.condition(e)).transpose()?;
        Ok((from, filter))
    }

    fn from_list(&mut self, tables: &[TableRef<Spelled>], condition: Option<&Expr<Spelled>>) -> Outcome<From> {
        let order = self.join_order(tables, condition);
        let mut places = vec![0..0; tables.len()];
        let mut all: Option<From> = None;
        for at in order {
            let start = self.scope_width();
            all = Some(match all {
                None => self.table(&tables[at])?,
                Some(left) => self.crossed(left, &tables[at])?,
            });
            places[at] = start..self.scope_width();
        }
        // A star shows the tables in the order of FROM.
        if let Some(scope) = self.scopes.last_mut().filter(|_| tables.len() > 2 && places.windows(2).any(|p| p[0].start > p[1].start)) {
            scope.shown = places.into_iter().flatten().collect();
        }
        Ok(all.unwrap_or(From::Nothing))
    }

    /// `left, table`.
    pub(super) fn crossed(&mut self, left: From, table: &TableRef<Spelled>) -> Outcome<From> {
        let middle = self.scope_width();
        let right = self.table(table)?;
        let mut from = self.cross(left, right, 0, middle);
        // TABLE(..) (+): a row without elements stays.
        let outer = table.qualifier.is_some_and(|q| self.words(q).first() == Some(&"("));
        if let (From::Join(join), true) = (&mut from, outer) {
            join.kind = Join::Left;
        }
        Ok(from)
    }

    pub(super) fn cross(&self, left: From, right: From, start: usize, middle: usize) -> From {
        if left == From::Nothing {
            return right;
        }
        let lateral = sees_left(&right);
        From::Join(Box::new(JoinPlan {
            left,
            right,
            kind: Join::Inner,
            equal: Vec::new(),
            condition: None,
            lateral,
            start,
            middle,
            end: self.scope_width(),
            merged: Vec::new(),
            place: Place::default(),
            partition: Vec::new(),
        }))
    }

    pub(super) fn table(&mut self, table: &TableRef<Spelled>) -> Outcome<From> {
        let from = syntax::with_stack(|| self.table_inner(table));
        from.map_err(|f| self.placed(f, table.span))
    }

    fn table_inner(&mut self, table: &TableRef<Spelled>) -> Outcome<From> {
        let alias = table.alias.as_ref();
        if let Some(span) = table.qualifier
            && !self.words(span).first().is_some_and(|w| w.eq_ignore_ascii_case("PARTITION") || *w == "(")
        {
            return Err(Failure::unknown("samples and versions of a table"));
        }
        if self.dialect() == DialectName::Oracle
            && let Some(alias) = alias
            && alias.as_word
        {
            return Err(Failure::new(FailureKind::Syntax, "a table's alias has no AS").with_code("ORA-00933"));
        }
        match &table.kind {
            TableKind::Name(name) => self.table_by_name(name, alias),
            TableKind::Derived { query, lateral } => self.derived(query, alias, *lateral),
            TableKind::Nested(inner) => match alias {
                None => self.table(inner),
                Some(_) => Err(Failure::unknown("an alias of a join in parentheses")),
            },
            TableKind::Join(join) => self.join(join, self.place(table.span)),
            TableKind::Function { call, numbered, .. } => self.table_function(call, numbered.as_ref(), alias, table),
            TableKind::Pivot(pivot) => self.pivot(pivot, alias),
            TableKind::Unpivot(unpivot) => self.unpivot(unpivot, alias),
        }
    }

    pub(super) fn shown_name(&self, alias: Option<&TableAlias>, name: Option<&Ident>) -> Option<String> {
        alias.and_then(|a| a.name.as_ref()).or(name).map(|n| self.folded(n))
    }

    pub(super) fn table_by_name(&mut self, name: &ObjectName, alias: Option<&TableAlias>) -> Outcome<From> {
        let last = name.last();
        let shown = self.shown_name(alias, Some(last));
        let common = self.common.iter().rev().find(|c| name.parts.len() == 1 && self.names(&c.name, last)).cloned();
        if let Some(Common { number, labels, types, correlated, .. }) = common {
            if correlated {
                self.reach = 0;
            }
            let labels = self.renamed(labels, alias)?;
            self.add_query(shown.as_deref(), labels, &types);
            return Ok(From::Common(number));
        }
        if let Some(stored) = self.store.table(&last.text) {
            let names = stored.columns.iter().map(|c| c.name.clone()).collect();
            let types: Vec<Type> = stored.columns.iter().map(|c| c.ty.clone()).collect();
            let names = self.renamed(names, alias)?;
            let columns: Vec<InSight> = names
                .into_iter()
                .zip(types)
                .enumerate()
                .map(|(at, (name, ty))| InSight { origin: Some((last.text.to_string(), at)), ..InSight::new(shown.as_deref(), name, ty) })
                .collect();
            self.add(columns);
            return Ok(From::Table(last.text.to_string()));
        }
        if let Some(plan) = self.view(last)? {
            let labels = self.renamed(plan.labels.clone(), alias)?;
            self.add_query(shown.as_deref(), labels, &plan.types.clone());
            return Ok(From::Query { plan: Box::new(plan), lateral: false });
        }
        if last.is_word("dual") && self.is(&[DialectName::Oracle, DialectName::Mysql, DialectName::Mariadb]) {
            if self.dialect() == DialectName::Oracle {
                self.add([InSight::new(shown.as_deref(), "DUMMY".to_string(), Type::varying(1))]);
                return Ok(From::Dual);
            }
            return Ok(From::Nothing);
        }
        // BigQuery, DuckDB and Spark: `FROM t, t.items` unnests a column.
        if name.parts.len() == 2
            && self.dialect() == DialectName::Bigquery
            && let Ok(typed) = self.column(Some(&name.parts[0]), last)
        {
            return self.unnested(vec![typed], None, alias, Some(last));
        }
        let near = syntax::nearest(&last.text, self.store.names()).map_or(String::new(), |n| format!(" (did you mean {n}?)"));
        Err(Failure::new(FailureKind::UnknownName, format!("there is no table {}{near}", last.text)).coded(self.dialect(), NO_TABLE))
    }

    fn view(&mut self, name: &Ident) -> Outcome<Option<QueryPlan>> {
        let key = name.text.to_lowercase();
        let Some(view) = self.store.views.get(key.as_str()).cloned() else { return Ok(None) };
        if self.expanding.iter().any(|e| *e == key) {
            return Err(Failure::invalid(format!("the view {} reads itself", name.text)));
        }
        self.expanding.push(key.to_string());
        let source = std::mem::replace(&mut self.source, Rc::clone(&view.source));
        let (scopes, common) = (std::mem::take(&mut self.scopes), std::mem::take(&mut self.common));
        let plan = self.query(&view.tree.query);
        (self.scopes, self.common, self.source) = (scopes, common, source);
        self.expanding.pop();
        let mut plan = plan.map_err(|f| Failure { place: None, ..f })?;
        if !view.tree.columns.is_empty() {
            plan.labels = view.tree.columns.iter().map(|c| self.folded(c)).collect();
        }
        Ok(Some(plan))
    }

    fn derived(&mut self, query: &Query<Spelled>, alias: Option<&TableAlias>, lateral: bool) -> Outcome<From> {
        self.check_orders(query)?;
        let needs_alias = self.is(&[DialectName::SqlServer, DialectName::Mysql, DialectName::Mariadb])
            || (self.dialect() == DialectName::Postgres && !self.behaviour.dialect.since(16, 0));
        if needs_alias && alias.is_none_or(|a| a.name.is_none()) {
            let codes: Codes = &[
                (DialectName::SqlServer, "Msg 102"),
                (DialectName::Mysql, "ER_DERIVED_MUST_HAVE_ALIAS"),
                (DialectName::Mariadb, "ER_DERIVED_MUST_HAVE_ALIAS"),
                (DialectName::Postgres, "42601"),
            ];
            return Err(Failure::invalid("every derived table must have an alias").coded(self.dialect(), codes));
        }
        // A derived table sees the blocks around, but not the tables beside it unless it is lateral.
        let own = if lateral { None } else { self.scopes.pop() };
        let plan = self.query(query);
        if let Some(own) = own {
            self.scopes.push(own);
        }
        let plan = plan?;
        // Observed on MariaDB 10.11: "Unknown column 'v.id' in 'WHERE'".
        if plan.correlated && !lateral && self.dialect() == DialectName::Mariadb {
            let message = "a derived table sees no column of the query around it";
            return Err(Failure::new(FailureKind::UnknownName, message.to_string()).with_code("ER_BAD_FIELD_ERROR"));
        }
        let names = self.renamed(plan.labels.clone(), alias)?;
        self.check_names(&names)?;
        let shown = self.shown_name(alias, None);
        self.add_query(shown.as_deref(), names, &plan.types.clone());
        Ok(From::Query { plan: Box::new(plan), lateral })
    }

    /// What the dialect asks of the names of a derived table's columns.
    pub(super) fn check_names(&self, names: &[String]) -> Outcome<()> {
        let (unnamed, alike) = match self.dialect() {
            DialectName::SqlServer => (Some("Msg 8155"), "Msg 8156"),
            DialectName::Mysql | DialectName::Mariadb => (None, "ER_DUP_FIELDNAME"),
            _ => return Ok(()),
        };
        for (at, name) in names.iter().enumerate() {
            if let Some(code) = unnamed.filter(|_| name.is_empty()) {
                return Err(Failure::invalid(format!("column {} of the derived table has no name", at + 1)).with_code(code));
            }
            if names[..at].iter().any(|n| n.eq_ignore_ascii_case(name)) {
                return Err(Failure::invalid(format!("two columns of the derived table are named {name}")).with_code(alike));
            }
        }
        Ok(())
    }

    pub(super) fn renamed(&self, mut names: Vec<String>, alias: Option<&TableAlias>) -> Outcome<Vec<String>> {
        let Some(alias) = alias.filter(|a| !a.columns.is_empty()) else { return Ok(names) };
        if self.dialect() == DialectName::Sqlite {
            return Err(Failure::new(
                FailureKind::Syntax,
                "SQLite names no columns behind a table's alias: name them in the query, or in WITH",
            ));
        }
        let fewer_will_do = self.is(&[DialectName::Postgres, DialectName::Duckdb]);
        if alias.columns.len() > names.len() || (alias.columns.len() < names.len() && !fewer_will_do) {
            let codes = [
                (DialectName::SqlServer, if alias.columns.len() > names.len() { "Msg 8159" } else { "Msg 8158" }),
                (DialectName::Postgres, "42P10"),
            ];
            return Err(
                Failure::invalid(format!("{} names for {} columns", alias.columns.len(), names.len())).coded(self.dialect(), &codes)
            );
        }
        names.splice(..alias.columns.len(), alias.columns.iter().map(|c| self.folded(c)));
        Ok(names)
    }

    // --- table functions -----------------------------------------------------------------------

    fn table_function(
        &mut self,
        call: &Call<Spelled>,
        numbered: Option<&Numbered>,
        alias: Option<&TableAlias>,
        table: &TableRef<Spelled>,
    ) -> Outcome<From> {
        let name = call.function.last();
        let upper = name.text.to_uppercase();
        if let Some(function) = self.store.functions.get(name.text.to_lowercase().as_str()).cloned() {
            return self.stored_function(&function, call, alias);
        }
        if self.dialect() == DialectName::Oracle && matches!(upper.as_str(), "TABLE" | "THE") {
            return self.collection(call, alias);
        }
        if let Some((function, columns)) = self.documented_function(&upper, call, table)? {
            return self.add_function(function.0, function.1, columns, None, alias, name);
        }
        let mut arguments = Vec::with_capacity(call.arguments.len());
        for argument in &call.arguments {
            arguments.push(self.expr(&argument.value)?);
        }
        if upper == "UNNEST" && self.is(&[DialectName::Postgres, DialectName::Bigquery, DialectName::Duckdb]) {
            return self.unnested(arguments, numbered, alias, None);
        }
        let Some(function) = TableFunction::named(&upper, self.dialect()) else {
            return Err(self.no_function(name, TableFunction::names(self.dialect())));
        };
        let columns = function.columns(&arguments, self.behaviour)?;
        self.add_function(function, arguments, columns, numbered, alias, name)
    }

    fn add_function(
        &mut self,
        function: TableFunction,
        arguments: Vec<Typed>,
        columns: Vec<(String, Type)>,
        numbered: Option<&Numbered>,
        alias: Option<&TableAlias>,
        name: &Ident,
    ) -> Outcome<From> {
        let shown = self.shown_name(alias, Some(name));
        let (mut labels, mut types): (Vec<String>, Vec<Type>) = columns.into_iter().unzip();
        // PostgreSQL: the one column of a function takes the alias as its name.
        if let ([label], Some(shown), true) = (labels.as_mut_slice(), alias.and(shown.as_ref()), self.dialect() == DialectName::Postgres) {
            label.clone_from(shown);
        }
        let width = labels.len();
        let first = match numbered {
            None => None,
            Some(Numbered::Ordinality) => {
                labels.push("ordinality".to_string());
                types.push(Type::BIGINT);
                Some(1)
            }
            Some(Numbered::Offset(name)) => {
                labels.push(name.as_ref().map_or("offset".to_string(), |n| n.text.to_string()));
                types.push(Type::BIGINT);
                Some(0)
            }
        };
        let labels = if alias.is_some_and(|a| !a.columns.is_empty() && a.columns.len() <= labels.len()) {
            let alias = alias.map_or(&[][..], |a| &a.columns);
            let mut labels = labels;
            labels.splice(..alias.len(), alias.iter().map(|c| self.folded(c)));
            labels
        } else {
            self.renamed(labels, alias)?
        };
        self.add_query(shown.as_deref(), labels, &types);
        Ok(From::Function { function, arguments, numbered: first, width })
    }

    /// UNNEST: a column for each array; the fields of an array of structs.
    fn unnested(
        &mut self,
        arguments: Vec<Typed>,
        numbered: Option<&Numbered>,
        alias: Option<&TableAlias>,
        path: Option<&Ident>,
    ) -> Outcome<From> {
        let bigquery = self.dialect() == DialectName::Bigquery;
        let shown = self.shown_name(alias, path);
        let fallback = if bigquery { shown.clone().unwrap_or("f0_".to_string()) } else { "unnest".to_string() };
        let mut columns: Vec<(String, Type)> = Vec::new();
        for argument in &arguments {
            let element = match &argument.ty {
                Type::Array(element) => (**element).clone(),
                Type::Any | Type::Null => Type::Any,
                _ => return Err(Failure::invalid("UNNEST wants an array").coded(self.dialect(), &[(DialectName::Postgres, "42883")])),
            };
            match element {
                Type::Struct(fields) if bigquery || self.dialect() == DialectName::Postgres => columns.extend(fields.iter().cloned()),
                other => columns.push((fallback.clone(), other)),
            }
        }
        let name = Ident::synthetic(shown.as_deref().unwrap_or("unnest"));
        self.add_function(TableFunction::Unnest, arguments, columns, numbered, alias, &name)
    }

    /// TABLE(collection) and TABLE(SELECT ...) of Oracle.
    fn collection(&mut self, call: &Call<Spelled>, alias: Option<&TableAlias>) -> Outcome<From> {
        let [argument] = call.arguments.as_slice() else { return Err(Failure::unknown("this form of TABLE")) };
        let typed = self.expr(&argument.value)?;
        let columns = match &typed.ty {
            Type::Array(element) => match &**element {
                Type::Struct(fields) => fields.to_vec(),
                other => vec![("COLUMN_VALUE".to_string(), other.clone())],
            },
            _ => return Err(Failure::invalid("TABLE wants a collection").with_code("ORA-22905")),
        };
        let (labels, types): (Vec<String>, Vec<Type>) = columns.into_iter().unzip();
        let width = labels.len();
        let labels = self.renamed(labels, alias)?;
        self.add_query(self.shown_name(alias, None).as_deref(), labels, &types);
        Ok(From::Function { function: TableFunction::Unnest, arguments: vec![typed], numbered: None, width })
    }

    /// A function of the database that is one query, its parameters filled in.
    pub(super) fn stored_query(&mut self, function: &StoredFunction, call: &Call<Spelled>) -> Outcome<QueryPlan> {
        let name = function.tree.name.last().text.to_lowercase();
        if self.expanding.iter().any(|e| *e == name) {
            return Err(Failure::invalid(format!("the function {name} calls itself")));
        }
        if call.arguments.len() != function.tree.parameters.len() {
            let message = format!("{name} wants {} arguments", function.tree.parameters.len());
            return Err(Failure::invalid(message).coded(self.dialect(), &[(DialectName::SqlServer, "Msg 313")]));
        }
        let depth = self.scopes.len();
        let mut bound = Vec::new();
        for (argument, (parameter, ty)) in call.arguments.iter().zip(&function.tree.parameters) {
            let typed = self.expr(&argument.value)?;
            let to = Type::named(ty, self.behaviour).ok_or_else(|| Failure::unknown(&format!("the type {}", ty.words)))?;
            bound.push((parameter.text.to_lowercase().to_string(), self.converted(typed, &to), depth));
        }
        self.expanding.push(name.to_string());
        let parameters = std::mem::replace(&mut self.parameters, bound);
        let source = std::mem::replace(&mut self.source, Rc::clone(&function.source));
        let plan = self.query(&function.tree.query);
        self.source = source;
        self.parameters = parameters;
        self.expanding.pop();
        let mut plan = plan.map_err(|f| Failure { place: None, ..f })?;
        if !function.tree.returns.is_empty() && function.tree.returns.len() == plan.labels.len() {
            plan.labels = function.tree.returns.iter().map(|(n, _)| self.folded(n)).collect();
        }
        Ok(plan)
    }

    fn stored_function(&mut self, function: &StoredFunction, call: &Call<Spelled>, alias: Option<&TableAlias>) -> Outcome<From> {
        let plan = self.stored_query(function, call)?;
        let labels = self.renamed(plan.labels.clone(), alias)?;
        let shown = self.shown_name(alias, Some(call.function.last()));
        self.add_query(shown.as_deref(), labels, &plan.types.clone());
        Ok(From::Query { plan: Box::new(plan), lateral: true })
    }

    // --- LATERAL VIEW --------------------------------------------------------------------------

    fn lateral_view(&mut self, left: From, view: &LateralView<Spelled>) -> Outcome<From> {
        let middle = self.scope_width();
        let syntax::tree::ExprKind::Call(call) = &view.call.kind else { return Err(Failure::unknown("this LATERAL VIEW")) };
        let alias = TableAlias { as_word: false, name: view.table.clone(), columns: view.columns.clone(), typed_columns: None };
        let table = TableRef {
            kind: TableKind::Name(call.function.clone()),
            alias: None,
            relation: (),
            hints: None,
            qualifier: None,
            span: view.span,
        };
        let right = self.table_function(call, None, Some(&alias), &table)?;
        let mut from = self.cross(left, right, 0, middle);
        if let (From::Join(join), true) = (&mut from, view.outer) {
            join.kind = Join::Left;
        }
        Ok(from)
    }

    /// The places of a star's columns in the order they are shown.
    pub(super) fn star_order(&self, columns: &[InSight], qualifier: Option<&Ident>) -> Vec<usize> {
        match qualifier {
            Some(name) => {
                (0..columns.len()).filter(|i| columns[*i].relation.as_deref().is_some_and(|r| self.names_relation(r, name))).collect()
            }
            None => self.scopes.last().map_or(&[][..], |s: &Scope| &s.shown).iter().copied().filter(|i| !columns[*i].merged).collect(),
        }
    }

    /// Whether a qualifier means this table or alias: MySQL's differ by case.
    pub(super) fn names_relation(&self, known: &str, written: &Ident) -> bool {
        if self.is(&[DialectName::Mysql, DialectName::Mariadb]) { known == written.text } else { self.names(known, written) }
    }
}

/// Whether a table reference reads columns of those to its left.
pub(super) fn sees_left(from: &From) -> bool {
    match from {
        From::Query { lateral, .. } => *lateral,
        From::Function { arguments, .. } => arguments.iter().any(|a| !matches!(a.code, Code::Constant(_))),
        From::Join(join) => sees_left(&join.left) || (sees_left(&join.right) && !join.lateral),
        _ => false,
    }
}
