//! One select block.

use syntax::DialectName;
use syntax::tree::{Expr, ExprKind, Literal, Query, Select, SelectItem, SelectQuantifier, SelectValue, SortKey, Spelled, StarModifier};

use super::group::Regrouping;
use super::order::List;
use super::{Block, Clause, Compiler, InSight, Scope};
use crate::behaviour::Collation;
use crate::execute::{Pattern, like};
use crate::failure::{Codes, Failure, FailureKind, Outcome};
use crate::plan::{
    Body, Code, Comparison, Distinct, From, GroupColumn, HIERARCHY_COLUMNS, Key, Limit, Place, QueryPlan, SelectPlan, Typed, WindowPlan,
};
use crate::types::Type;

/// Where ROWNUM, and the columns of a hierarchy, stand until the block's width is known.
pub(super) const ROW_NUMBER_SLOT: usize = 1 << 40;

/// The select list being compiled.
#[derive(Default)]
struct Output {
    items: Vec<Typed>,
    labels: Vec<String>,
    aliases: Vec<(String, usize)>,
}

/// A block over a query's rows with a list of its own.
pub(super) fn over(plan: QueryPlan, items: Vec<Code>, labels: Vec<String>, types: Vec<Type>) -> QueryPlan {
    let select = SelectPlan { items, ..plain(From::Query { plan: Box::new(plan), lateral: false }) };
    QueryPlan::of(Body::Select(Box::new(select)), labels, types)
}

/// A block with nothing but FROM.
pub(super) fn plain(from: From) -> SelectPlan {
    SelectPlan {
        place: Place::default(),
        from,
        hierarchy: None,
        filter: None,
        numbers_rows: false,
        keeps_order: false,
        group: None,
        having: None,
        windows: Vec::new(),
        qualify: None,
        items: Vec::new(),
        distinct: Distinct::No,
        collations: Vec::new(),
        order: Vec::new(),
    }
}

/// The parts of a block that are compiled over FROM's columns and settled once all are known.
struct Parts {
    filter: Option<Code>,
    having: Option<Code>,
    qualify: Option<Code>,
    items: Vec<Code>,
    order: Vec<Key>,
    distinct: Distinct,
    windows: Vec<WindowPlan>,
}

impl Parts {
    fn each_code(&mut self, visit: &mut dyn FnMut(&mut Code)) {
        self.filter.iter_mut().chain(&mut self.having).chain(&mut self.qualify).chain(&mut self.items).for_each(&mut *visit);
        self.order.iter_mut().for_each(|k| visit(&mut k.code));
        if let Distinct::On(columns) = &mut self.distinct {
            columns.iter_mut().for_each(|c| visit(&mut c.code));
        }
        self.windows.iter_mut().for_each(|w| w.each_code(visit));
    }

    /// The windows' values stand from `base` on.
    fn place_windows(&mut self, base: usize) {
        let place = |code: &mut Code| {
            code.walk(0, &mut |code, depth| match code {
                Code::Window(at) => {
                    *code = Code::Slot(depth, base + *at);
                    false
                }
                _ => true,
            });
        };
        self.items.iter_mut().chain(&mut self.qualify).for_each(place);
        self.order.iter_mut().for_each(|k| place(&mut k.code));
    }
}

impl Compiler<'_> {
    /// All columns of a table as a query.
    pub(super) fn all_columns(&self, from: From, scope: Scope) -> QueryPlan {
        let items = (0..scope.columns.len()).map(|i| Code::Slot(0, i)).collect();
        let labels = scope.columns.iter().map(|c| c.name.clone()).collect();
        let types = scope.columns.into_iter().map(|c| c.ty).collect();
        QueryPlan::of(Body::Select(Box::new(SelectPlan { items, ..plain(from) })), labels, types)
    }

    pub(super) fn select(
        &mut self,
        select: &Select<Spelled>,
        order_by: &[SortKey<Spelled>],
        siblings: bool,
        mut limit: Limit,
    ) -> Outcome<QueryPlan> {
        self.refuse_clauses(select)?;
        let forbidden = |message: &str, code: &str| Err(Failure::invalid(message).with_code(code));
        if let Some(top) = &select.top {
            if limit != Limit::default() {
                return forbidden("TOP and OFFSET can't stand in one query", "Msg 10741");
            }
            if top.with_ties && order_by.is_empty() {
                return forbidden("TOP WITH TIES needs an ORDER BY", "Msg 1062");
            }
            limit = self.top(top)?;
        }
        if self.dialect() == DialectName::SqlServer
            && order_by.is_empty()
            && (limit.offset.is_some() || (limit.count.is_some() && select.top.is_none()))
        {
            return forbidden("OFFSET needs an ORDER BY", "Msg 102");
        }
        if limit.with_ties && order_by.is_empty() && self.dialect() == DialectName::Postgres {
            return forbidden("WITH TIES needs an ORDER BY", "42601");
        }
        self.scopes.push(Scope::default());
        let block = std::mem::replace(&mut self.block, Block::new());
        let plan = self.select_in_scope(select, order_by, siblings, limit);
        self.block = block;
        self.scopes.pop();
        plan
    }

    /// Names that can't be given.
    fn check_alias(&self, name: &syntax::tree::Ident) -> Outcome<()> {
        let wrong = |message: &str, code| Err(Failure::new(FailureKind::Syntax, message).with_code(code));
        let reserved = name.quote == syntax::tree::Quote::None && syntax::is_reserved(self.dialect(), &name.text);
        match self.dialect() {
            DialectName::Oracle if name.text.is_empty() => wrong("a name can't be empty", "ORA-01741"),
            DialectName::Oracle if name.text.len() > 128 => wrong("a name has 128 bytes at most", "ORA-00972"),
            DialectName::Oracle if reserved => wrong("a reserved word is no alias", "ORA-00923"),
            DialectName::Bigquery if reserved => Err(Failure::new(FailureKind::Syntax, "a reserved word is no alias")),
            DialectName::SqlServer if reserved => wrong("a reserved word is no alias", "Msg 156"),
            _ => Ok(()),
        }
    }

    fn refuse_clauses(&self, select: &Select<Spelled>) -> Outcome<()> {
        let bare_star = |i: &SelectItem<Spelled>| matches!(&i.value, SelectValue::Star(None, _));
        if self.dialect() == DialectName::Oracle {
            if select.from.is_empty() && !self.behaviour.dialect.since(23, 0) {
                return Err(Failure::new(FailureKind::Syntax, "a query needs FROM").with_code("ORA-00923"));
            }
            if select.items.len() > 1 && select.items.iter().any(bare_star) {
                return Err(Failure::new(FailureKind::Syntax, "* must be alone or take a table's name").with_code("ORA-00923"));
            }
        }
        let refused = [(select.into.is_some(), "SELECT INTO"), (select.trailing.is_some(), "this clause behind the block")];
        if let Some(span) = select.modifiers
            && self.words(span).iter().any(|w| w.eq_ignore_ascii_case("STRUCT") || w.eq_ignore_ascii_case("VALUE"))
        {
            return Err(Failure::unknown("SELECT AS STRUCT and AS VALUE"));
        }
        match refused.iter().find(|(found, _)| *found) {
            Some((_, what)) => Err(Failure::unknown(what)),
            None => Ok(()),
        }
    }

    fn select_in_scope(
        &mut self,
        select: &Select<Spelled>,
        order_by: &[SortKey<Spelled>],
        siblings: bool,
        limit: Limit,
    ) -> Outcome<QueryPlan> {
        self.block.named_windows.clone_from(&select.windows);
        self.block.hierarchy = select.connect_by.as_ref().map(|c| super::hierarchy::Parts::of(c));
        let (mut from, filter) = self.from_and_where(select)?;
        if let Some(connect) = &select.connect_by {
            self.connect_by(connect, if siblings { order_by } else { &[] })?;
        }
        let order_by = if siblings { &[] } else { order_by };
        let keys = self.group_keys(select)?;

        self.block.clause = Clause::Having;
        // T-SQL, Oracle and PostgreSQL see no aliases in HAVING.
        let sees_aliases = !self.is(&[DialectName::Oracle, DialectName::SqlServer, DialectName::Postgres]);
        let having = select.having.clone().map(|e| if sees_aliases { self.aliases_written_out(e, select, false) } else { e });
        let having = having.as_ref().map(|e| self.condition(e)).transpose()?;

        let mut output = Output::default();
        for item in &select.items {
            self.block.clause = Clause::List;
            self.item(item, &mut output).map_err(|f| self.placed(f, item.span))?;
        }
        if select.items.is_empty() {
            self.star(None, &[], &mut output)?;
        }
        let order = self.block_keys(order_by, select, &output)?;
        let distinct = self.distinct(select)?;
        self.check_distinct_order(&distinct, &order, &output.items)?;
        let qualify = select.qualify.clone().map(|e| self.aliases_written_out(e, select, false));
        let qualify = qualify.as_ref().map(|e| self.condition(e)).transpose()?;

        // Everything is compiled over FROM's columns; now the places behind them are settled.
        let numbers_rows = self.dialect() == DialectName::Oracle;
        let columns = self.scope_width();
        let mut hierarchy = self.block.hierarchy.take().map(|parts| parts.plan(columns, self.place(select.span)));
        let extra = hierarchy.as_ref().map_or(0, |h| HIERARCHY_COLUMNS + h.priors.len() + h.roots.len() + h.paths.len());
        let width = columns + extra + usize::from(numbers_rows);
        let (priors, roots) = hierarchy.as_ref().map_or((0, 0), |h| (h.priors.len(), h.roots.len()));
        let mut place = |code: &mut Code| place_hidden(code, columns, extra, (priors, roots));
        let mut group = self.group_plan(keys, having.is_some(), width);
        let windows = std::mem::take(&mut self.block.windows);
        let (items, types): (Vec<Code>, Vec<Type>) = output.items.into_iter().map(|item| (item.code, item.ty)).unzip();
        let mut parts = Parts { filter, having, qualify, items, order, distinct, windows };
        parts.each_code(&mut place);
        if let Some(group) = &mut group {
            group.each_code(&mut place);
        }
        if let Some(hierarchy) = &mut hierarchy {
            hierarchy.each_code(&mut place);
        }
        if let Some(group) = &mut group {
            let regroup = self.regrouping(group, columns);
            self.regroup(&mut parts, &regroup, &select.items)?;
            regroup.settle(group)?;
        }
        parts.place_windows(group.as_ref().map_or(width, |g| g.width + g.keys.len() + 1 + g.aggregates.len() + g.outer.len()));

        let Parts { mut filter, having, qualify, items, order, distinct, windows } = parts;
        if let Some(conditions) = filter.take() {
            filter = super::join::push_conditions(&mut from, conditions, hierarchy.is_some());
        }
        let collations: Vec<Collation> = types.iter().map(|t| self.collation(t)).collect();
        let keeps_order = self.block.uses_row_number || hierarchy.is_some();
        let plan = SelectPlan {
            place: self.place(select.span),
            from,
            hierarchy,
            filter,
            numbers_rows,
            keeps_order,
            group,
            having,
            windows,
            qualify,
            items,
            distinct,
            collations,
            order,
        };
        let mut query = QueryPlan::of(Body::Select(Box::new(plan)), output.labels, types);
        query.limit = limit;
        Ok(query)
    }

    /// A condition: a bare value is none in SQL Server and Oracle.
    pub(super) fn condition(&mut self, expr: &Expr<Spelled>) -> Outcome<Code> {
        let value = matches!(
            &expr.without_parens().kind,
            ExprKind::Literal(Literal::Number(_) | Literal::Text(_)) | ExprKind::Column(_) | ExprKind::Binary(_)
        );
        let typed = self.expr(expr)?;
        let codes: Codes = &[(DialectName::SqlServer, "Msg 4145"), (DialectName::Oracle, "ORA-00920")];
        if value && typed.ty != Type::Boolean && self.is(&[DialectName::SqlServer, DialectName::Oracle]) {
            return Err(
                self.placed(Failure::invalid("a value is used where a condition is wanted").coded(self.dialect(), codes), expr.span)
            );
        }
        if value && !matches!(typed.ty, Type::Boolean | Type::Any | Type::Null) && self.is(&[DialectName::Postgres, DialectName::Bigquery])
        {
            return Err(self.placed(
                Failure::invalid("a condition must be true or false").coded(self.dialect(), &[(DialectName::Postgres, "42804")]),
                expr.span,
            ));
        }
        Ok(typed.code)
    }

    // --- the list ------------------------------------------------------------------------------

    /// ORDER BY of the block.
    fn block_keys(&mut self, order_by: &[SortKey<Spelled>], select: &Select<Spelled>, output: &Output) -> Outcome<Vec<Key>> {
        let list = List { items: &output.items, labels: &output.labels, aliases: &output.aliases };
        let order: Vec<Key> =
            order_by.iter().map(|k| self.block_key(k, select, &list).map_err(|f| self.placed(f, k.span))).collect::<Outcome<_>>()?;
        let is_plain = |k: &Key| matches!(k.code.bare(), Code::Slot(..));
        let twice = order.iter().enumerate().any(|(i, k)| is_plain(k) && order[..i].iter().any(|other| other.code == k.code));
        if twice && self.dialect() == DialectName::SqlServer {
            return Err(Failure::invalid("a column occurs twice in ORDER BY").with_code("Msg 169"));
        }
        Ok(order)
    }

    /// What follows GROUP BY means keys and aggregates, not rows.
    fn regroup(&self, parts: &mut Parts, regroup: &Regrouping, sources: &[SelectItem<Spelled>]) -> Outcome<()> {
        regroup.codes(parts.having.iter_mut(), Clause::Having)?;
        for (i, code) in parts.items.iter_mut().enumerate() {
            regroup.codes(std::iter::once(code), Clause::List).map_err(|f| sources.get(i).map_or(f.clone(), |s| self.placed(f, s.span)))?;
        }
        regroup.codes(parts.order.iter_mut().map(|k| &mut k.code), Clause::OrderBy)?;
        regroup.codes(parts.qualify.iter_mut(), Clause::List)?;
        for window in &mut parts.windows {
            let mut wrong = Ok(());
            window.each_code(&mut |code| {
                if wrong.is_ok() {
                    wrong = regroup.codes(std::iter::once(code), Clause::List);
                }
            });
            wrong?;
        }
        Ok(())
    }

    fn item(&mut self, item: &SelectItem<Spelled>, output: &mut Output) -> Outcome<()> {
        match &item.value {
            SelectValue::Expr(expr) => {
                let mut typed = self.expr(expr)?;
                let has_booleans = self.dialect() == DialectName::Oracle && self.behaviour.dialect.since(23, 0);
                if typed.ty == Type::Boolean && self.is(&[DialectName::Oracle, DialectName::SqlServer]) && !has_booleans {
                    let codes: Codes = &[(DialectName::Oracle, "ORA-00923"), (DialectName::SqlServer, "Msg 102")];
                    return Err(Failure::new(FailureKind::Syntax, "a condition is no value here").coded(self.dialect(), codes));
                }
                // A string literal's column is a string; PostgreSQL decides once the query is whole.
                if self.dialect() != DialectName::Postgres {
                    typed.ty = typed.ty.without_literal();
                }
                let label = self.label(item, expr, &output.labels);
                if let Some(alias) = &item.alias {
                    self.check_alias(&alias.name)?;
                    let name = self.folded(&alias.name);
                    output.aliases.push((name.clone(), output.items.len()));
                    // Some dialects see an alias in the entries behind it.
                    if self.is(&[DialectName::Duckdb, DialectName::Spark])
                        && let Some(scope) = self.scopes.last_mut()
                    {
                        scope.aliases.push((name, typed.clone()));
                    }
                }
                output.labels.push(label);
                output.items.push(typed);
                Ok(())
            }
            SelectValue::Star(qualifier, modifiers) => self.star(qualifier.as_ref().map(syntax::tree::ObjectName::last), modifiers, output),
        }
    }

    fn star(&mut self, qualifier: Option<&syntax::tree::Ident>, modifiers: &[StarModifier<Spelled>], output: &mut Output) -> Outcome<()> {
        if qualifier.is_none() && self.scope_width() == 0 {
            let codes: Codes = &[(DialectName::SqlServer, "Msg 263"), (DialectName::Postgres, "42601")];
            return Err(Failure::invalid("* has no table to show columns of").coded(self.dialect(), codes));
        }
        let columns = self.scopes.last().map(|s| s.columns.clone()).unwrap_or_default();
        let before = output.items.len();
        for at in self.star_order(&columns, qualifier) {
            let column: &InSight = &columns[at];
            let mut label = column.name.clone();
            let mut typed = Typed::new(Code::Slot(0, at), column.ty.clone());
            let mut hidden = false;
            for modifier in modifiers {
                match modifier {
                    StarModifier::Exclude(names) => hidden |= names.iter().any(|n| self.names(&column.name, n)),
                    StarModifier::Rename(names) => {
                        if let Some((_, new)) = names.iter().find(|(n, _)| self.names(&column.name, n)) {
                            label = self.folded(new);
                        }
                    }
                    StarModifier::Replace(exprs) => {
                        if let Some((expr, _)) = exprs.iter().find(|(_, n)| self.names(&column.name, n)) {
                            typed = self.expr(expr)?;
                        }
                    }
                    StarModifier::Like(words, pattern) => hidden |= !self.name_matches(&column.name, words, pattern)?,
                }
            }
            if !hidden {
                output.items.push(typed);
                output.labels.push(label);
            }
        }
        if output.items.len() == before {
            let name = qualifier.map_or("*".to_string(), |q| format!("the table {}", q.text));
            return Err(Failure::new(FailureKind::UnknownName, format!("{name} has no columns here"))
                .coded(self.dialect(), &[(DialectName::Oracle, "ORA-00904"), (DialectName::SqlServer, "Msg 107")]));
        }
        Ok(())
    }

    fn name_matches(&self, name: &str, words: &str, pattern: &Expr<Spelled>) -> Outcome<bool> {
        let ExprKind::Literal(Literal::Text(text)) = &pattern.kind else { return Err(Failure::unknown("this pattern of names")) };
        let pattern = syntax::decode_text(text, &self.behaviour.spelling);
        let upper = words.to_uppercase();
        if upper.contains("SIMILAR") {
            return Err(Failure::unknown("SIMILAR TO on names"));
        }
        let collation = Collation { case_insensitive: upper.contains("ILIKE"), ..Collation::BINARY };
        let found = like(name, &pattern, Pattern { escape: None, sets: false, glob: upper.contains("GLOB"), negation: '^' }, collation);
        Ok(found != upper.starts_with("NOT"))
    }

    // --- DISTINCT ------------------------------------------------------------------------------

    fn distinct(&mut self, select: &Select<Spelled>) -> Outcome<Distinct> {
        Ok(match &select.quantifier {
            Some(SelectQuantifier::Distinct) => Distinct::Yes,
            Some(SelectQuantifier::DistinctOn(exprs)) => {
                let columns: Outcome<Vec<GroupColumn>> = exprs
                    .iter()
                    .map(|e| {
                        let typed = self.group_key(e, select)?;
                        Ok(GroupColumn { collation: self.collation(&typed.ty), code: typed.code })
                    })
                    .collect();
                Distinct::On(columns?)
            }
            _ => Distinct::No,
        })
    }

    fn check_distinct_order(&self, distinct: &Distinct, order: &[Key], items: &[Typed]) -> Outcome<()> {
        let foreign = order.iter().any(|k| !items.iter().any(|i| i.code == k.code));
        if *distinct == Distinct::Yes && foreign && self.is(&[DialectName::SqlServer, DialectName::Postgres, DialectName::Oracle]) {
            let codes: Codes = &[(DialectName::Oracle, "ORA-01791"), (DialectName::SqlServer, "Msg 145"), (DialectName::Postgres, "42P10")];
            return Err(Failure::invalid("with DISTINCT, ORDER BY can only name what is selected").coded(self.dialect(), codes));
        }
        Ok(())
    }

    /// Whether a query sorts rows nobody will see in order: an error in SQL Server.
    pub(super) fn check_orders(&self, query: &Query<Spelled>) -> Outcome<()> {
        let limited = !query.limit.is_empty()
            || matches!(&query.body, syntax::tree::QueryBody::Select(s) if s.top.is_some())
            || query.options.is_some();
        if self.dialect() == DialectName::SqlServer && !query.order_by.is_empty() && !limited {
            return Err(Failure::invalid("ORDER BY in a derived table needs TOP or OFFSET").with_code("Msg 1033"));
        }
        Ok(())
    }
}

/// Gives ROWNUM and the columns of a hierarchy their places behind FROM's.
fn place_hidden(code: &mut Code, columns: usize, extra: usize, (priors, roots): (usize, usize)) {
    code.walk(0, &mut |code, depth| {
        if let Code::Slot(d, at) = code
            && *d == depth
            && *at >= ROW_NUMBER_SLOT
        {
            *at = super::hierarchy::placed(*at, columns, extra, priors, roots);
        }
        true
    });
}

/// The comparison of a conjunct that joins two sides, if it is one.
pub(super) fn equal_sides(code: &Code) -> Option<(&Code, &Code, Collation, bool)> {
    match code.bare() {
        Code::Compare(comparison @ (Comparison::Equal | Comparison::Same), sides, rule) if !rule.loose => {
            Some((&sides.0, &sides.1, rule.collation, *comparison == Comparison::Same))
        }
        _ => None,
    }
}
