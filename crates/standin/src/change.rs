//! Statements that change tables: INSERT, UPDATE, DELETE.

use std::rc::Rc;

use rustc_hash::FxHashSet;
use syntax::tree::{
    Assignment, Binary, Delete, Expr, ExprKind, Ident, Insert, ObjectName, Operator, Query, QueryBody, Select, SelectItem, SelectValue,
    Spelled, TableKind, TableRef, Update, With,
};
use syntax::{DialectName, Symbol};
use values::{Row, Value};

use crate::StandIn;
use crate::convert::of_value;
use crate::failure::{Codes, Failure, FailureKind, NO_COLUMN, NO_TABLE, Outcome};
use crate::store::{SourceText, Stored, kept};
use crate::types::Type;

/// What happens to the rows of a table.
#[derive(Default)]
pub(crate) struct Change {
    /// Places and their new rows.
    pub(crate) updated: Vec<(usize, Row)>,
    pub(crate) deleted: Vec<usize>,
    pub(crate) inserted: Vec<Row>,
}

impl StandIn {
    pub(crate) fn stored(&self, name: &ObjectName) -> Outcome<&Stored> {
        self.store.table(&name.last().text).ok_or_else(|| {
            Failure::new(FailureKind::UnknownName, format!("there is no table {}", name.dotted())).coded(self.behaviour.name(), NO_TABLE)
        })
    }

    fn column(&self, stored: &Stored, name: &ObjectName) -> Outcome<usize> {
        let last = name.last();
        stored.columns.iter().position(|c| c.name.eq_ignore_ascii_case(&last.text)).ok_or_else(|| {
            let near = syntax::nearest(&last.text, stored.columns.iter().map(|c| c.name.as_str()))
                .map_or(String::new(), |n| format!(" (did you mean {n}?)"));
            Failure::new(FailureKind::UnknownName, format!("there is no column {}{near}", last.text))
                .coded(self.behaviour.name(), NO_COLUMN)
        })
    }

    /// The places of the columns that are written, all of them if none is.
    pub(crate) fn places(&self, stored: &Stored, columns: &[Ident]) -> Outcome<Vec<usize>> {
        if columns.is_empty() {
            return Ok((0..stored.columns.len()).collect());
        }
        columns.iter().map(|c| self.column(stored, &ObjectName::single(c.clone()))).collect()
    }

    /// Carries a change out, or nothing of it if a row breaks a rule of the table.
    pub(crate) fn apply(&mut self, name: &ObjectName, change: Change) -> Outcome<()> {
        let behaviour = self.behaviour.clone();
        let table = name.last().text.to_string();
        self.stored(name)?;
        let Some(stored) = self.store.table_mut(&table) else { return Ok(()) };
        if change.deleted.is_empty() && change.updated.is_empty() {
            return stored.append(&table, change.inserted, &behaviour);
        }
        let mut rows: Vec<Option<Row>> = stored.rows.iter().cloned().map(Some).collect();
        for at in &change.deleted {
            rows[*at] = None;
        }
        for (at, row) in change.updated {
            rows[at] = Some(row);
        }
        let rows = rows.into_iter().flatten().chain(change.inserted).collect();
        stored.replace(&table, rows, &behaviour)
    }

    // --- INSERT --------------------------------------------------------------------------------

    pub(crate) fn insert(&mut self, insert: &Insert<Spelled>, source: &Rc<SourceText>) -> Outcome<()> {
        let stored = self.stored(&insert.table)?.clone();
        if insert.trailing.is_some() {
            return Err(Failure::unknown("this clause of INSERT"));
        }
        let places = self.places(&stored, &insert.columns)?;
        let Some(query) = &insert.source else {
            let row = self.full_row(&stored, &[], Vec::new(), &[])?;
            return self.apply(&insert.table, Change { inserted: vec![row], ..Change::default() });
        };
        let (rows, types, given) = self.inserted_rows(insert, query, source, &places)?;
        let mut inserted = Vec::with_capacity(rows.len());
        for (row, given) in rows.into_iter().zip(given) {
            if row.len() != places.len() {
                let few = insert.columns.is_empty()
                    && row.len() < places.len()
                    && !matches!(self.behaviour.name(), DialectName::Oracle | DialectName::SqlServer | DialectName::Mysql);
                if !few {
                    let codes: Codes = &[
                        (DialectName::Oracle, "ORA-00947"),
                        (DialectName::SqlServer, "Msg 213"),
                        (DialectName::Mysql, "ER_WRONG_VALUE_COUNT_ON_ROW"),
                        (DialectName::Postgres, "42601"),
                    ];
                    return Err(Failure::invalid(format!("INSERT gives {} values for {} columns", row.len(), places.len()))
                        .coded(self.behaviour.name(), codes));
                }
            }
            let used: Vec<usize> = places
                .iter()
                .copied()
                .zip(given.iter().copied().chain(std::iter::repeat(true)))
                .filter(|(_, g)| *g)
                .map(|(p, _)| p)
                .take(row.len())
                .collect();
            let values =
                row.into_iter().zip(given.into_iter().chain(std::iter::repeat(true))).filter(|(_, g)| *g).map(|(v, _)| v).collect();
            inserted.push(self.full_row(&stored, &used, values, &types)?);
        }
        self.number_identities(&insert.table, &mut inserted);
        drop(stored);
        self.apply(&insert.table, Change { inserted, ..Change::default() })
    }

    /// The rows to insert, their types, and which values are more than DEFAULT.
    #[allow(clippy::type_complexity)] // Three lists that are made together.
    fn inserted_rows(
        &self,
        insert: &Insert<Spelled>,
        query: &Query<Spelled>,
        source: &Rc<SourceText>,
        places: &[usize],
    ) -> Outcome<(Vec<Row>, Vec<Type>, Vec<Vec<bool>>)> {
        // VALUES without ROW is right in INSERT, and DEFAULT may stand in it.
        if let (QueryBody::Values(values), None) = (&query.body, &insert.with) {
            let (mut rows, mut given, mut types) = (Vec::new(), Vec::new(), vec![Type::Any; places.len()]);
            for row in &values.rows {
                let (mut out, mut marks) = (Vec::new(), Vec::new());
                for (at, expr) in row.iter().enumerate() {
                    if matches!(expr.kind, ExprKind::Default) {
                        out.push(Value::Null);
                        marks.push(false);
                        continue;
                    }
                    let typed = crate::compile::expression(expr, source, &self.surroundings())?;
                    let value = crate::execute::value(&typed.code, &self.store, &self.behaviour, &self.session)?;
                    if let Some(ty) = types.get_mut(at) {
                        *ty = if *ty == Type::Any || *ty == typed.ty { typed.ty } else { Type::Any };
                    }
                    out.push(value);
                    marks.push(true);
                }
                rows.push(out);
                given.push(marks);
            }
            return Ok((rows, types, given));
        }
        let mut query = query.clone();
        if query.with.is_none() {
            query.with.clone_from(&insert.with);
        }
        let plan = crate::compile::query(&query, source, &self.surroundings())?;
        let types = plan.types.clone();
        let rows = self.rows_of(&plan)?;
        let given = vec![Vec::new(); rows.len()];
        Ok((rows, types, given))
    }

    /// A row with every column: what isn't given is its default.
    pub(crate) fn full_row(&self, stored: &Stored, places: &[usize], values: Row, types: &[Type]) -> Outcome<Row> {
        let mut row = vec![Value::Null; stored.columns.len()];
        for (at, column) in stored.columns.iter().enumerate() {
            if !places.contains(&at)
                && let Some((default, source)) = &column.default
            {
                row[at] = kept(self.value(default, source)?, &Type::Any, column, &self.behaviour)?;
            }
        }
        for (nth, (value, at)) in values.into_iter().zip(places).enumerate() {
            let from = match types.get(nth) {
                Some(Type::Any) | None => of_value(&value),
                Some(ty) => ty.clone(),
            };
            row[*at] = kept(value, &from, &stored.columns[*at], &self.behaviour)?;
        }
        Ok(row)
    }

    /// Numbers the server gives where none is written.
    pub(crate) fn number_identities(&mut self, name: &ObjectName, rows: &mut [Row]) {
        let Some(stored) = self.store.table_mut(&name.last().text) else { return };
        for (at, column) in stored.columns.iter_mut().enumerate() {
            let Some(next) = &mut column.identity else { continue };
            for row in rows.iter_mut() {
                match crate::convert::whole(&row[at]) {
                    Some(number) if !row[at].is_null() => *next = (*next).max(number + 1),
                    _ => {
                        row[at] = Value::Integer(*next);
                        *next += 1;
                    }
                }
            }
        }
    }

    // --- UPDATE and DELETE ---------------------------------------------------------------------

    pub(crate) fn update(&mut self, update: &Update<Spelled>, source: &Rc<SourceText>) -> Outcome<()> {
        if update.trailing.is_some() {
            return Err(Failure::unknown("this clause of UPDATE"));
        }
        let (target, tables) = self.target(&update.table, &update.from)?;
        let (target, with) = through_common(target, update.with.clone());
        let stored = self.stored(&target.name)?.clone();
        let limit = Limited { with: with.as_ref(), order_by: &update.order_by, limit: &update.limit, top: update.top.as_deref() };
        let (places, exprs) = self.assigned(&stored, &update.assignments)?;
        let found = self.affected(&target, tables, update.condition.as_ref(), &exprs, limit, source)?;
        let (mut change, mut touched) = (Change::default(), FxHashSet::default());
        for (at, values) in found {
            // A row that several rows would change is changed once.
            if touched.insert(at) {
                change.updated.push((at, self.changed_row(&stored, at, &places, values)?));
            }
        }
        self.apply(&target.name, change)
    }

    /// A row with new values at some places.
    pub(crate) fn changed_row(&self, stored: &Stored, at: usize, places: &[usize], values: Row) -> Outcome<Row> {
        let mut row = stored.rows[at].clone();
        for (value, place) in values.into_iter().zip(places) {
            let from = of_value(&value);
            row[*place] = kept(value, &from, &stored.columns[*place], &self.behaviour)?;
        }
        Ok(row)
    }

    /// The columns that assignments set and what to.
    pub(crate) fn assigned(&self, stored: &Stored, assignments: &[Assignment<Spelled>]) -> Outcome<(Vec<usize>, Vec<Expr<Spelled>>)> {
        let (mut places, mut exprs) = (Vec::new(), Vec::new());
        for assignment in assignments {
            if let (Some(symbol), [target]) = (compound(assignment)?, assignment.targets.as_slice()) {
                let left = Expr { kind: ExprKind::Column(target.clone()), span: assignment.span };
                let operation = Binary { operator: Operator::Symbol(symbol), left, right: assignment.value.clone() };
                places.push(self.column(stored, target)?);
                exprs.push(Expr { kind: ExprKind::Binary(Box::new(operation)), span: assignment.span });
                continue;
            }
            match (&assignment.value.kind, assignment.targets.as_slice()) {
                (_, [target]) => {
                    places.push(self.column(stored, target)?);
                    exprs.push(assignment.value.clone());
                }
                (ExprKind::Row(items), targets) if items.len() == targets.len() => {
                    for (target, item) in targets.iter().zip(items) {
                        places.push(self.column(stored, target)?);
                        exprs.push(item.clone());
                    }
                }
                (ExprKind::Subquery(query), targets) => {
                    // One column of the query each.
                    for (at, target) in targets.iter().enumerate() {
                        let QueryBody::Select(select) = &query.body else {
                            return Err(Failure::unknown("this assignment of several columns"));
                        };
                        let mut one = (**query).clone();
                        let mut block = (**select).clone();
                        let Some(item) = block.items.get(at).cloned() else {
                            return Err(Failure::invalid("an assignment of too few values"));
                        };
                        block.items = vec![item];
                        one.body = QueryBody::Select(Box::new(block));
                        places.push(self.column(stored, target)?);
                        exprs.push(Expr { kind: ExprKind::Subquery(Box::new(one)), span: assignment.value.span });
                    }
                }
                _ => return Err(Failure::unknown("this assignment of several columns")),
            }
        }
        Ok((places, exprs))
    }

    pub(crate) fn delete(&mut self, delete: &Delete<Spelled>, source: &Rc<SourceText>) -> Outcome<()> {
        if delete.trailing.is_some() {
            return Err(Failure::unknown("this clause of DELETE"));
        }
        let (target, mut tables) = self.target(&delete.table, &delete.using)?;
        let mut target = target;
        if let [named] = delete.targets.as_slice() {
            // DELETE t FROM u t JOIN ...: the name is an alias of what follows.
            target = find_target(&tables, named).ok_or_else(|| Failure::unknown("this DELETE"))?;
        } else if delete.targets.len() > 1 {
            return Err(Failure::unknown("DELETE of several tables"));
        }
        if tables.is_empty() {
            tables.push(delete.table.clone());
        }
        let (target, with) = through_common(target, delete.with.clone());
        let limit = Limited { with: with.as_ref(), order_by: &delete.order_by, limit: &delete.limit, top: delete.top.as_deref() };
        let found = self.affected(&target, tables, delete.condition.as_ref(), &[], limit, source)?;
        let mut deleted: Vec<usize> = found.into_iter().map(|(at, _)| at).collect();
        deleted.sort_unstable();
        deleted.dedup();
        self.apply(&target.name, Change { deleted, ..Change::default() })
    }

    /// What is changed, and the tables its rows are found in.
    fn target(&self, table: &TableRef<Spelled>, more: &[TableRef<Spelled>]) -> Outcome<(Target, Vec<TableRef<Spelled>>)> {
        let tables: Vec<TableRef<Spelled>> = if more.is_empty() { vec![table.clone()] } else { more.to_vec() };
        // SQL Server: UPDATE a SET .. FROM t a JOIN ...
        if let TableKind::Name(name) = &table.kind
            && !more.is_empty()
        {
            return Ok(match find_target(more, name) {
                Some(found) => (found, tables),
                // PostgreSQL: the target is beside FROM.
                None => {
                    let mut all = vec![table.clone()];
                    all.extend(more.iter().cloned());
                    (target_of(table)?, all)
                }
            });
        }
        Ok((target_of(table)?, tables))
    }

    /// The places of the rows that a condition finds, with the values of `exprs` for each.
    pub(crate) fn affected(
        &self,
        target: &Target,
        tables: Vec<TableRef<Spelled>>,
        condition: Option<&Expr<Spelled>>,
        exprs: &[Expr<Spelled>],
        limit: Limited<'_>,
        source: &Rc<SourceText>,
    ) -> Outcome<Vec<(usize, Row)>> {
        let shown = target.alias.clone().unwrap_or_else(|| target.name.last().text.to_string());
        let mut items = vec![item(column_expr(&shown, PLACE))];
        items.extend(exprs.iter().cloned().map(item));
        let mut select = Select::of(items, tables);
        select.condition = condition.cloned();
        if let Some(top) = limit.top {
            select.top = Some(Box::new(top.clone()));
        }
        let mut query = Query::of(QueryBody::Select(Box::new(select)), syntax::tree::Span::SYNTHETIC);
        query.with = limit.with.cloned();
        query.order_by = limit.order_by.to_vec();
        query.limit = limit.limit.to_vec();
        // The target gets a hidden column that tells each row's place.
        let mut store = self.store.clone();
        if let Some(stored) = store.table_mut(&target.name.last().text) {
            stored.columns.push(crate::store::StoredColumn {
                name: PLACE.to_string(),
                ty: Type::BIGINT,
                not_null: false,
                default: None,
                identity: None,
            });
            let numbered = stored.rows.iter().enumerate().map(|(i, row)| row.iter().cloned().chain([Value::Integer(i as i64)]).collect());
            stored.rows = Rc::new(numbered.collect());
        }
        let around = crate::compile::Surroundings {
            store: &store,
            behaviour: &self.behaviour,
            variables: &self.variables,
            watching: self.session.watch.is_on(),
        };
        let plan = crate::compile::query(&query, source, &around)?;
        let rows = crate::execute::run(&plan, &store, &self.behaviour, &self.session)?.rows;
        let place = |row: Row| {
            let mut values = row.into_iter();
            let at = values.next().and_then(|v| crate::convert::whole(&v)).and_then(|n| usize::try_from(n).ok())?;
            Some((at, values.collect()))
        };
        Ok(rows.into_iter().filter_map(place).collect())
    }
}

/// The hidden column that tells a row's place.
const PLACE: &str = "place of the row";

/// The table that is changed.
pub(crate) struct Target {
    pub(crate) name: ObjectName,
    alias: Option<String>,
}

/// SQL Server: a change of a common table that is over one table changes that. It then shows the
/// places of the rows, too.
fn through_common(target: Target, with: Option<With<Spelled>>) -> (Target, Option<With<Spelled>>) {
    let Some(mut with) = with else { return (target, None) };
    let name = target.name.last().clone();
    let Some(common) = with.tables.iter_mut().find(|c| c.name.text.eq_ignore_ascii_case(&name.text)) else { return (target, Some(with)) };
    let QueryBody::Select(select) = &mut common.query.body else { return (target, Some(with)) };
    let base = match select.from.as_slice() {
        [one] => target_of(one).ok(),
        _ => None,
    };
    let Some(base) = base else { return (target, Some(with)) };
    // A star shows the hidden column as any other.
    if !select.items.iter().any(|i| matches!(i.value, SelectValue::Star(..))) {
        let shown = base.alias.clone().unwrap_or_else(|| base.name.last().text.to_string());
        select.items.push(item(column_expr(&shown, PLACE)));
        if !common.columns.is_empty() {
            common.columns.push(Ident::synthetic(PLACE));
        }
    }
    let alias = target.alias.unwrap_or_else(|| name.text.to_string());
    (Target { name: base.name, alias: Some(alias) }, Some(with))
}

/// What else a change says about its rows.
pub(crate) struct Limited<'l> {
    with: Option<&'l With<Spelled>>,
    order_by: &'l [syntax::tree::SortKey<Spelled>],
    limit: &'l [syntax::tree::LimitClause<Spelled>],
    top: Option<&'l syntax::tree::Top<Spelled>>,
}

impl Limited<'_> {
    pub(crate) const NONE: Limited<'static> = Limited { with: None, order_by: &[], limit: &[], top: None };
}

pub(crate) fn target_of(table: &TableRef<Spelled>) -> Outcome<Target> {
    match &table.kind {
        TableKind::Name(name) => {
            Ok(Target { name: name.clone(), alias: table.alias.as_ref().and_then(|a| a.name.as_ref()).map(|n| n.text.to_string()) })
        }
        // MySQL: UPDATE t JOIN u ... changes the first table.
        TableKind::Join(join) => target_of(&join.left),
        TableKind::Nested(inner) => target_of(inner),
        _ => Err(Failure::unknown("a change of this table")),
    }
}

/// The table that a name or alias means among tables.
fn find_target(tables: &[TableRef<Spelled>], wanted: &ObjectName) -> Option<Target> {
    tables.iter().find_map(|table| match &table.kind {
        TableKind::Name(name) => {
            let alias = table.alias.as_ref().and_then(|a| a.name.as_ref());
            let shown = alias.map_or(&name.last().text, |a| &a.text);
            shown.eq_ignore_ascii_case(&wanted.last().text).then(|| Target { name: name.clone(), alias: alias.map(|a| a.text.to_string()) })
        }
        TableKind::Join(join) => {
            find_target(std::slice::from_ref(&join.left), wanted).or_else(|| find_target(std::slice::from_ref(&join.right), wanted))
        }
        TableKind::Nested(inner) => find_target(std::slice::from_ref(inner), wanted),
        _ => None,
    })
}

pub(crate) fn item(value: Expr<Spelled>) -> SelectItem<Spelled> {
    SelectItem { value: SelectValue::Expr(value), alias: None, span: syntax::tree::Span::SYNTHETIC }
}

fn column_expr(table: &str, column: &str) -> Expr<Spelled> {
    let quoted = |text: &str| Ident { quote: syntax::tree::Quote::Name, ..Ident::synthetic(text) };
    Expr::synthetic(ExprKind::Column(ObjectName { parts: vec![Ident::synthetic(table), quoted(column)] }))
}

/// The operator within `+=` and its kin (SQL Server: Compound operators).
fn compound(assignment: &Assignment<Spelled>) -> Outcome<Option<Symbol>> {
    Ok(match assignment.operator.as_deref() {
        None | Some("=" | ":=") => None,
        Some("+=") => Some(Symbol::Plus),
        Some("-=") => Some(Symbol::Minus),
        Some("*=") => Some(Symbol::Star),
        Some("/=") => Some(Symbol::Slash),
        Some("%=") => Some(Symbol::Percent),
        Some(other) => return Err(Failure::unknown(&format!("assignments by {other}"))),
    })
}
