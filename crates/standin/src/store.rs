//! Tables in memory, and what else a database keeps: views, types, sequences.

use std::collections::HashMap;
use std::rc::Rc;

use rustc_hash::FxHashSet;
use syntax::tree::{CreateFunction, CreateView, Expr, Ident, Spelled};
use syntax::{DialectName, Folding, Token};
use values::{Row, Table, Value};

use crate::behaviour::Behaviour;
use crate::compare::{GroupKey, group_key};
use crate::convert::{How, convert, of_value};
use crate::failure::{Codes, Failure, Outcome};
use crate::types::Type;

/// A column.
#[derive(Debug, Clone)]
pub(crate) struct StoredColumn {
    /// In the letters the dialect keeps.
    pub(crate) name: String,
    pub(crate) ty: Type,
    pub(crate) not_null: bool,
    /// What is there when nothing is said.
    pub(crate) default: Option<(Expr<Spelled>, Rc<SourceText>)>,
    /// The next number the server gives.
    pub(crate) identity: Option<i64>,
}

/// The text a tree was read from.
#[derive(Debug, Clone)]
pub(crate) struct SourceText {
    pub(crate) sql: String,
    pub(crate) tokens: Vec<Token>,
}

/// A table and its rows.
#[derive(Debug, Clone)]
pub(crate) struct Stored {
    pub(crate) columns: Vec<StoredColumn>,
    pub(crate) rows: Rc<Vec<Row>>,
    /// Places of the primary key's columns, then of other keys.
    pub(crate) keys: Vec<Vec<usize>>,
    /// Known while rows are only added; shared, for a copy of the table is made for every change.
    taken: Option<Rc<TakenKeys>>,
}

/// A view.
#[derive(Debug, Clone)]
pub(crate) struct View {
    pub(crate) tree: Rc<CreateView<Spelled>>,
    pub(crate) source: Rc<SourceText>,
}

/// A function that is one query.
#[derive(Debug, Clone)]
pub(crate) struct StoredFunction {
    pub(crate) tree: Rc<CreateFunction<Spelled>>,
    pub(crate) source: Rc<SourceText>,
}

/// A collection or object type (Oracle).
#[derive(Debug, Clone)]
pub(crate) enum StoredType {
    List(Type),
    Object(Vec<(String, Type)>),
}

/// All of a database, by lower-case name.
#[derive(Debug, Clone, Default)]
pub(crate) struct Store {
    tables: HashMap<String, Stored>,
    pub(crate) views: HashMap<String, View>,
    pub(crate) functions: HashMap<String, StoredFunction>,
    pub(crate) types: HashMap<String, StoredType>,
}

impl Store {
    /// Of all tables.
    pub(crate) fn row_count(&self) -> usize {
        self.tables.values().map(|table| table.rows.len()).sum()
    }
}

/// A name in the letters the dialect keeps.
pub(crate) fn folded(name: &Ident, behaviour: &Behaviour) -> String {
    match behaviour.spelling.folding {
        Folding::Upper if name.quote == syntax::tree::Quote::None => name.text.to_uppercase().to_string(),
        Folding::Lower if name.quote == syntax::tree::Quote::None => name.text.to_lowercase().to_string(),
        _ => name.text.to_string(),
    }
}

/// A name of the neutral schema, whose quotes are gone: as one written without quotes, unless only a
/// quoted one can look so.
fn folded_text(name: &str, behaviour: &Behaviour) -> String {
    match behaviour.spelling.folding {
        _ if is_mixed(name) => name.to_string(),
        Folding::Upper => name.to_uppercase(),
        Folding::Lower => name.to_lowercase(),
        Folding::CaseInsensitive => name.to_string(),
    }
}

/// Whether a name has capitals and small letters.
pub(crate) fn is_mixed(name: &str) -> bool {
    name.contains(char::is_uppercase) && name.contains(char::is_lowercase)
}

impl Store {
    pub(crate) fn table(&self, name: &str) -> Option<&Stored> {
        self.tables.get(&name.to_lowercase())
    }

    pub(crate) fn table_mut(&mut self, name: &str) -> Option<&mut Stored> {
        self.tables.get_mut(&name.to_lowercase())
    }

    pub(crate) fn names(&self) -> Vec<&str> {
        self.tables.keys().chain(self.views.keys()).map(String::as_str).collect()
    }

    pub(crate) fn load(&mut self, table: &Table, rows: Vec<Row>, behaviour: &Behaviour) {
        let columns: Vec<StoredColumn> = table
            .columns
            .iter()
            .map(|c| StoredColumn {
                name: folded_text(&c.name, behaviour),
                ty: Type::of_column(&c.data_type, c.case_sensitive, behaviour),
                not_null: !c.nullable,
                default: None,
                identity: None,
            })
            .collect();
        let rows = rows.into_iter().map(|row| loaded_row(row, &columns, behaviour)).collect();
        let places = |names: &Vec<String>| names.iter().filter_map(|n| table.column_index(n)).collect();
        let mut keys: Vec<Vec<usize>> = Vec::new();
        if !table.primary_key.is_empty() {
            keys.push(places(&table.primary_key));
        }
        keys.extend(table.unique.iter().map(places));
        self.tables.insert(table.name.to_lowercase(), Stored::new(columns, rows, keys));
    }

    pub(crate) fn add(&mut self, name: &str, stored: Stored) {
        self.tables.insert(name.to_lowercase(), stored);
    }

    /// Whether there was a table of that name.
    pub(crate) fn remove(&mut self, name: &str) -> bool {
        let name = name.to_lowercase();
        self.tables.remove(&name).is_some() || self.views.remove(&name).is_some()
    }
}

/// A row of the user's data as the table's types keep it; a value that doesn't fit stays as it is.
fn loaded_row(row: Row, columns: &[StoredColumn], behaviour: &Behaviour) -> Row {
    row.into_iter()
        .enumerate()
        .map(|(i, value)| {
            let Some(column) = columns.get(i) else { return value };
            kept(value.clone(), &of_value(&value), column, behaviour).unwrap_or(value)
        })
        .collect()
}

/// A value as a column keeps it.
pub(crate) fn kept(value: Value, from: &Type, column: &StoredColumn, behaviour: &Behaviour) -> Outcome<Value> {
    if matches!(&value, Value::Text(t) if t.is_empty()) && behaviour.empty_is_null {
        return Ok(Value::Null);
    }
    let how = How { explicit: behaviour.name() == DialectName::Sqlite, style: None };
    match (&column.ty, behaviour.name()) {
        (Type::Any, _) => Ok(value),
        // SQLite keeps what doesn't become a number as it is.
        (ty, DialectName::Sqlite) => Ok(crate::sqlite_value::with_affinity(value, ty)),
        (ty, _) => {
            let kept = convert(value, from, ty, how, behaviour)?;
            Ok(unpadded(kept, ty, behaviour))
        }
    }
}

/// MySQL reads CHAR columns without their blanks.
fn unpadded(value: Value, ty: &Type, behaviour: &Behaviour) -> Value {
    match (value, ty) {
        (Value::Text(text), Type::Text(t)) if t.fixed && !behaviour.char_columns_pad => Value::text(text.trim_end_matches(' ')),
        (value, _) => value,
    }
}

/// The values that stand in each key of a table: a second row with them is an error.
#[derive(Debug, Clone)]
pub(crate) struct TakenKeys(Vec<FxHashSet<Vec<GroupKey>>>);

impl Stored {
    pub(crate) fn new(columns: Vec<StoredColumn>, rows: Vec<Row>, keys: Vec<Vec<usize>>) -> Stored {
        Stored { columns, rows: Rc::new(rows), keys, taken: None }
    }

    /// Adds rows, or none of them if one breaks a rule of the table.
    pub(crate) fn append(&mut self, name: &str, rows: Vec<Row>, behaviour: &Behaviour) -> Outcome<()> {
        let mut known = self.taken.take().unwrap_or_else(|| Rc::new(self.taken_keys(behaviour)));
        let taken = Rc::make_mut(&mut known);
        for row in &rows {
            self.check(name, row, taken, behaviour)?;
        }
        self.taken = Some(known);
        Rc::make_mut(&mut self.rows).extend(rows);
        Ok(())
    }

    /// Puts other rows in place of all, or changes nothing if one breaks a rule of the table.
    pub(crate) fn replace(&mut self, name: &str, rows: Vec<Row>, behaviour: &Behaviour) -> Outcome<()> {
        let mut taken = TakenKeys(vec![FxHashSet::default(); self.keys.len()]);
        for row in &rows {
            self.check(name, row, &mut taken, behaviour)?;
        }
        self.taken = Some(Rc::new(taken));
        self.rows = Rc::new(rows);
        Ok(())
    }

    fn taken_keys(&self, behaviour: &Behaviour) -> TakenKeys {
        TakenKeys(self.keys.iter().map(|key| self.rows.iter().filter_map(|row| own_key(key, row, behaviour)).collect()).collect())
    }

    /// A row that breaks NOT NULL or a key.
    fn check(&self, name: &str, row: &Row, taken: &mut TakenKeys, behaviour: &Behaviour) -> Outcome<()> {
        if let Some((column, _)) = self.columns.iter().zip(row).find(|(c, value)| c.not_null && value.is_null()) {
            let codes: Codes = &[
                (DialectName::Oracle, "ORA-01400"),
                (DialectName::SqlServer, "Msg 515"),
                (DialectName::Mysql, "ER_BAD_NULL_ERROR"),
                (DialectName::Postgres, "23502"),
            ];
            return Err(Failure::invalid(format!("{} of {name} must not be NULL", column.name)).coded(behaviour.name(), codes));
        }
        for (key, taken) in self.keys.iter().zip(&mut taken.0) {
            if let Some(own) = own_key(key, row, behaviour)
                && !taken.insert(own)
            {
                let codes: Codes = &[
                    (DialectName::Oracle, "ORA-00001"),
                    (DialectName::SqlServer, "Msg 2627"),
                    (DialectName::Mysql, "ER_DUP_ENTRY"),
                    (DialectName::Postgres, "23505"),
                ];
                return Err(Failure::invalid(format!("{name} has a row with this key already")).coded(behaviour.name(), codes));
            }
        }
        Ok(())
    }
}

/// A row's values of a key; none if one is NULL.
fn own_key(key: &[usize], row: &Row, behaviour: &Behaviour) -> Option<Vec<GroupKey>> {
    let own: Vec<GroupKey> = key.iter().map(|c| group_key(&row[*c], behaviour.collation)).collect();
    (!own.contains(&GroupKey::Null)).then_some(own)
}
