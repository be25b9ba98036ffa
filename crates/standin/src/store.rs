//! Tables in memory.

use std::collections::HashMap;
use std::rc::Rc;

use syntax::tree::{CreateTable, Insert, Spelled};
use values::{DataType, Row, Table, Value};

use crate::behaviour::Behaviour;
use crate::convert::{self, column_type};
use crate::failure::{Failure, FailureKind};

/// A table and its rows.
#[derive(Debug, Clone)]
pub(crate) struct Stored {
    pub(crate) columns: Vec<(String, DataType)>,
    pub(crate) rows: Rc<Vec<Row>>,
}

/// All tables by lower-case name.
#[derive(Debug, Clone, Default)]
pub(crate) struct Store {
    tables: HashMap<String, Stored>,
}

impl Store {
    pub(crate) fn table(&self, name: &str) -> Option<&Stored> {
        self.tables.get(&name.to_lowercase())
    }

    pub(crate) fn names(&self) -> Vec<&str> {
        self.tables.keys().map(String::as_str).collect()
    }

    pub(crate) fn load(&mut self, table: &Table, rows: Vec<Row>, behaviour: &Behaviour) {
        let columns: Vec<(String, DataType)> = table.columns.iter().map(|c| (c.name.clone(), c.data_type.clone())).collect();
        let rows = rows.into_iter().map(|row| stored_row(row, &columns, behaviour)).collect();
        self.tables.insert(table.name.to_lowercase(), Stored { columns, rows: Rc::new(rows) });
    }

    pub(crate) fn create(&mut self, create: &CreateTable<Spelled>, behaviour: &Behaviour) {
        let columns = create
            .columns
            .iter()
            .map(|c| (c.name.text.to_string(), c.type_name.as_ref().map_or(DataType::Unknown, |t| column_type(t, behaviour))))
            .collect();
        self.tables.insert(create.name.last().text.to_lowercase().to_string(), Stored { columns, rows: Rc::default() });
    }

    pub(crate) fn insert(&mut self, insert: &Insert<Spelled>, rows: Vec<Row>, behaviour: &Behaviour) -> Result<(), Failure> {
        let name = insert.table.last().text.to_lowercase().to_string();
        let Some(stored) = self.tables.get_mut(&name) else {
            return Err(Failure::new(FailureKind::UnknownName, format!("there is no table {}", insert.table.dotted())));
        };
        let places: Option<Vec<usize>> = if insert.columns.is_empty() {
            Some((0..stored.columns.len()).collect())
        } else {
            insert.columns.iter().map(|c| stored.columns.iter().position(|(n, _)| n.eq_ignore_ascii_case(&c.text))).collect()
        };
        let Some(places) = places else {
            return Err(Failure::new(FailureKind::UnknownName, format!("INSERT names a column that {name} does not have")));
        };
        let columns = stored.columns.clone();
        let target = Rc::make_mut(&mut stored.rows);
        for row in rows {
            if row.len() != places.len() {
                return Err(Failure::new(FailureKind::Invalid, format!("INSERT gives {} values for {} columns", row.len(), places.len())));
            }
            let mut full = vec![Value::Null; columns.len()];
            for (value, place) in row.into_iter().zip(&places) {
                full[*place] = value;
            }
            target.push(stored_row(full, &columns, behaviour));
        }
        Ok(())
    }
}

/// A row as the table's types keep it.
fn stored_row(row: Row, columns: &[(String, DataType)], behaviour: &Behaviour) -> Row {
    row.into_iter()
        .enumerate()
        .map(|(i, value)| {
            let data_type = columns.get(i).map_or(&DataType::Unknown, |c| &c.1);
            convert::stored(value, data_type, behaviour)
        })
        .collect()
}
