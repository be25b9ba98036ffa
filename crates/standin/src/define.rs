//! Statements that define tables, views, types and functions.

use std::rc::Rc;

use syntax::DialectName;
use syntax::tree::{CreateFunction, CreateTable, CreateType, CreateView, CreatedType, Ident, Query, QueryBody, Spelled, TableConstraint};

use crate::StandIn;
use crate::behaviour::Collation;
use crate::failure::{Codes, Failure, Outcome};
use crate::store::{SourceText, Stored, StoredColumn, StoredFunction, StoredType, View, folded};
use crate::types::{TextType, Type};

impl StandIn {
    /// A table of a query's rows.
    fn table_of(&mut self, name: &str, names: Vec<String>, query: &Query<Spelled>, source: &Rc<SourceText>) -> Outcome<()> {
        let plan = crate::compile::query(query, source, &self.surroundings())?;
        let rows = self.rows_of(&plan)?;
        let labels = plan.labels.into_iter().enumerate().map(|(at, label)| names.get(at).cloned().unwrap_or(label));
        let column =
            |(name, ty): (String, Type)| StoredColumn { name, ty: ty.without_literal(), not_null: false, default: None, identity: None };
        self.store.add(name, Stored::new(labels.zip(plan.types).map(column).collect(), rows, Vec::new()));
        Ok(())
    }

    /// SELECT .. INTO a new table (SQL Server, PostgreSQL); whether it was one.
    pub(crate) fn select_into(&mut self, query: &Query<Spelled>, source: &Rc<SourceText>) -> Outcome<bool> {
        let makes_tables = matches!(self.behaviour.name(), DialectName::SqlServer | DialectName::Postgres);
        let QueryBody::Select(select) = &query.body else { return Ok(false) };
        let (Some(into), true) = (select.into, makes_tables) else { return Ok(false) };
        let last = source.tokens.get(into.end.saturating_sub(1) as usize);
        let name = last.map_or("", |t| &source.sql[t.start as usize..t.end as usize]).trim_matches(['[', ']', '"']).to_string();
        if self.store.table(&name).is_some() {
            let codes: Codes = &[(DialectName::SqlServer, "Msg 2714"), (DialectName::Postgres, "42P07")];
            return Err(Failure::invalid(format!("there is a table {name} already")).coded(self.behaviour.name(), codes));
        }
        let mut query = query.clone();
        if let QueryBody::Select(select) = &mut query.body {
            select.into = None;
        }
        self.table_of(&name, Vec::new(), &query, source)?;
        Ok(true)
    }

    pub(crate) fn create_table(&mut self, create: &CreateTable<Spelled>, source: &Rc<SourceText>) -> Outcome<()> {
        let name = create.name.last().text.to_string();
        if create.if_not_exists && self.store.table(&name).is_some() {
            return Ok(());
        }
        if let Some(query) = &create.query {
            let names = create.columns.iter().map(|c| folded(&c.name, &self.behaviour)).collect();
            self.table_of(&name, names, query, source)?;
            return Ok(());
        }
        let mut columns = Vec::new();
        let mut keys = Vec::new();
        for (at, column) in create.columns.iter().enumerate() {
            let ty = match &column.type_name {
                Some(written) => Type::named(written, &self.behaviour)
                    .or_else(|| self.created_type(&written.words))
                    .ok_or_else(|| Failure::unknown(&format!("the type {}", written.words)))?,
                None => Type::Any,
            };
            let collation = column.collation.as_ref().and_then(|c| Collation::named(c, self.behaviour.name()));
            let ty = match ty {
                Type::Text(text) if collation.is_some() => Type::Text(TextType { collation, ..text }),
                other => other,
            };
            if column.primary_key {
                keys.insert(0, vec![at]);
            } else if column.unique {
                keys.push(vec![at]);
            }
            columns.push(StoredColumn {
                name: folded(&column.name, &self.behaviour),
                ty,
                not_null: column.not_null || column.primary_key,
                default: column.default.as_ref().map(|d| (d.clone(), Rc::clone(source))),
                identity: column.identity.then_some(1),
            });
        }
        let places = |names: &[Ident]| -> Vec<usize> {
            names.iter().filter_map(|n| create.columns.iter().position(|c| c.name.text.eq_ignore_ascii_case(&n.text))).collect()
        };
        for constraint in &create.constraints {
            match constraint {
                TableConstraint::PrimaryKey(names) => {
                    let key = places(names);
                    key.iter().for_each(|at| columns[*at].not_null = true);
                    keys.insert(0, key);
                }
                TableConstraint::Unique(names) => keys.push(places(names)),
                TableConstraint::ForeignKey(..) | TableConstraint::Check(_) | TableConstraint::Other => {}
            }
        }
        self.store.add(&name, Stored::new(columns, Vec::new(), keys));
        Ok(())
    }

    /// A column of a type that was created before.
    fn created_type(&self, words: &str) -> Option<Type> {
        let name = words.rsplit('.').next().unwrap_or(words).trim_matches(['"', '`', '[', ']']).to_lowercase();
        Some(match self.store.types.get(&name)? {
            StoredType::List(element) => Type::Array(Box::new(element.clone())),
            StoredType::Object(fields) => Type::Struct(fields.clone().into_boxed_slice()),
        })
    }

    pub(crate) fn create_view(&mut self, view: &CreateView<Spelled>, source: &Rc<SourceText>) {
        let name = view.name.last().text.to_lowercase().to_string();
        self.store.views.insert(name, View { tree: Rc::new(view.clone()), source: Rc::clone(source) });
    }

    pub(crate) fn create_function(&mut self, function: &CreateFunction<Spelled>, source: &Rc<SourceText>) {
        let name = function.name.last().text.to_lowercase().to_string();
        self.store.functions.insert(name, StoredFunction { tree: Rc::new(function.clone()), source: Rc::clone(source) });
    }

    pub(crate) fn create_type(&mut self, created: &CreateType<Spelled>) -> Outcome<()> {
        let name = created.name.last().text.to_lowercase().to_string();
        let element = |written: &syntax::tree::TypeName| {
            Type::named(written, &self.behaviour)
                .or_else(|| self.created_type(&written.words))
                .ok_or_else(|| Failure::unknown(&format!("the type {}", written.words)))
        };
        let stored = match &created.kind {
            CreatedType::TableOf(ty) | CreatedType::Varray(_, ty) => StoredType::List(element(ty)?),
            CreatedType::Object(columns) => {
                let fields: Outcome<Vec<(String, Type)>> = columns
                    .iter()
                    .map(|c| Ok((folded(&c.name, &self.behaviour), c.type_name.as_ref().map_or(Ok(Type::Any), element)?)))
                    .collect();
                StoredType::Object(fields?)
            }
            CreatedType::Enum(_) => return Ok(()),
            CreatedType::Other => return Err(Failure::unknown("this CREATE TYPE")),
        };
        self.store.types.insert(name, stored);
        Ok(())
    }
}
