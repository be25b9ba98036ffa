//! The neutral schema that DDL of any dialect is read into.

use crate::types::DataType;

/// Tables and what is known about them.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Schema {
    /// The tables, in the order they were defined.
    pub tables: Vec<Table>,
}

impl Schema {
    /// A table by its name, whatever the case; the last part of a qualified name decides.
    pub fn table(&self, name: &str) -> Option<&Table> {
        let last = name.rsplit('.').next().unwrap_or(name);
        self.tables.iter().find(|t| t.name.eq_ignore_ascii_case(last))
    }

    /// The tables with those first that others refer to.
    pub fn in_reference_order(&self) -> Vec<&Table> {
        let mut ordered: Vec<&Table> = Vec::new();
        let mut left: Vec<&Table> = self.tables.iter().collect();
        while !left.is_empty() {
            let placed = |name: &str, ordered: &[&Table], own: &Table| {
                own.name.eq_ignore_ascii_case(name)
                    || ordered.iter().any(|t| t.name.eq_ignore_ascii_case(name))
                    || self.table(name).is_none()
            };
            let ready = left
                .iter()
                .position(|t| t.foreign_keys.iter().all(|k| placed(&k.table, &ordered, t)))
                // A circle of references: any order will have to do.
                .unwrap_or(0);
            ordered.push(left.remove(ready));
        }
        ordered
    }
}

/// A table.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Table {
    /// Its name without schema, letters as written.
    pub name: String,
    /// Its columns.
    pub columns: Vec<Column>,
    /// The columns of its primary key.
    pub primary_key: Vec<String>,
    /// Other keys.
    pub unique: Vec<Vec<String>>,
    /// References to other tables.
    pub foreign_keys: Vec<ForeignKey>,
    /// Conditions that every row meets unless they are unknown, in the dialect of the definition.
    pub checks: Vec<String>,
    /// Columns were guessed from queries, not read from a definition.
    pub guessed: bool,
}

impl Table {
    /// The place of a column, whatever the case.
    pub fn column_index(&self, name: &str) -> Option<usize> {
        self.columns.iter().position(|c| c.name.eq_ignore_ascii_case(name))
    }

    /// A column by its name, whatever the case.
    pub fn column(&self, name: &str) -> Option<&Column> {
        self.columns.iter().find(|c| c.name.eq_ignore_ascii_case(name))
    }
}

/// A column.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Column {
    /// Its name, letters as written.
    pub name: String,
    /// Its type.
    pub data_type: DataType,
    /// NULL is allowed.
    pub nullable: bool,
    /// Texts that differ only in case are different here: the schema says so (`_bin`, `_CS_`).
    pub case_sensitive: Option<bool>,
}

/// A reference to another table.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ForeignKey {
    /// The referring columns.
    pub columns: Vec<String>,
    /// The table referred to.
    pub table: String,
    /// Its columns; empty for its primary key.
    pub keys: Vec<String>,
}
