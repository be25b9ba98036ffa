//! The catalog: what the schema says about tables, read from DDL in the source's dialect.

use syntax::tree::{CreateTable, Expr, Span, Spelled, StatementKind, TableConstraint};
use syntax::{Dialect, DialectName, Spelling, Statements, lex, nearest, quote_name};
use values::{Column, DataType, ForeignKey, Schema, Table};

use crate::book::TYPES;
use crate::type_words::{read_type, write_type};

/// What is known about the tables a query can name.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Catalog {
    /// The tables.
    pub schema: Schema,
}

/// Why DDL or an assumption could not be read.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum CatalogError {
    /// A statement of the schema doesn't parse.
    #[error("line {line}: {message}")]
    Syntax {
        /// The line in the text.
        line: usize,
        /// What is wrong.
        message: String,
    },
    /// An assumption names what isn't there.
    #[error("there is no {what}{}", near.as_ref().map_or(String::new(), |n| format!("; did you mean {n}?")))]
    NotThere {
        /// A table, column or type, by its name.
        what: String,
        /// A name like it.
        near: Option<String>,
    },
    /// An assumption isn't of the form `table.column: type`.
    #[error("'{given}' is not of the form 'table.column: type', as in 'loads.tons: integer'")]
    Assumption {
        /// What was written.
        given: String,
    },
}

impl Catalog {
    /// Reads DDL; statements that define no table are passed over.
    pub fn from_ddl(text: &str, dialect: &Dialect) -> Result<Catalog, CatalogError> {
        let (catalog, mut errors) = Catalog::sound_ddl(text, dialect);
        if errors.is_empty() { Ok(catalog) } else { Err(errors.swap_remove(0)) }
    }

    /// The same without the statements that have an error; the errors come with it.
    pub fn sound_ddl(text: &str, dialect: &Dialect) -> (Catalog, Vec<CatalogError>) {
        let tokens = lex(text, dialect);
        let (mut catalog, mut errors) = (Catalog::default(), Vec::new());
        for parsed in Statements::new(text, &tokens, dialect) {
            let statement = match parsed.tree {
                Ok(statement) => statement,
                Err(e) => {
                    let at = tokens[(e.span.first as usize).min(tokens.len() - 1)].start as usize;
                    errors.push(CatalogError::Syntax { line: text[..at].matches('\n').count() + 1, message: e.message });
                    continue;
                }
            };
            if let StatementKind::CreateTable(create) = statement.kind
                && !create.columns.is_empty()
            {
                let text_of = |span: Span| {
                    let (first, last) = (tokens[span.first as usize], tokens[(span.end as usize).saturating_sub(1)]);
                    text[first.start as usize..last.end as usize].to_string()
                };
                let checks = checks_of(&create).map(|check| text_of(check.span)).collect();
                catalog.schema.tables.push(Table { checks, ..create_table(&create, dialect) });
            }
        }
        (catalog, errors)
    }

    /// Adds `table.column: type [not null]`; the type is in `dialect`'s words. An error if the schema has the
    /// table without that column, or the type is none that is known.
    pub fn assume(&mut self, given: &str, dialect: &Dialect) -> Result<(), CatalogError> {
        let wrong = || CatalogError::Assumption { given: given.to_string() };
        let (place, words) = given.split_once(':').ok_or_else(wrong)?;
        let (table, column) = place.trim().rsplit_once('.').ok_or_else(wrong)?;
        let ddl = format!("CREATE TABLE {table} ({column} {words})");
        let read = Catalog::from_ddl(&ddl, dialect).map_err(|_| wrong())?;
        let read = read.schema.tables.into_iter().next().and_then(|t| t.columns.into_iter().next()).ok_or_else(wrong)?;
        if read.data_type == DataType::Unknown {
            let word = words.split(|c: char| c == '(' || c.is_whitespace()).find(|w| !w.is_empty()).unwrap_or("").to_string();
            let known = TYPES.iter().flat_map(|t| t.hear.iter().copied());
            let near = nearest(&word.to_uppercase(), known).map(str::to_lowercase);
            return Err(CatalogError::NotThere { what: format!("type {word}"), near });
        }
        self.find_near(table, column)?;
        let tables = &mut self.schema.tables;
        let at = tables.iter().position(|t| t.name.eq_ignore_ascii_case(table)).unwrap_or_else(|| {
            tables.push(Table { name: table.to_string(), guessed: true, ..Table::default() });
            tables.len() - 1
        });
        match tables[at].column_index(column) {
            Some(index) => tables[at].columns[index] = read,
            None => tables[at].columns.push(read),
        }
        Ok(())
    }

    /// An error where a name is a slip: the schema has one like it.
    fn find_near(&self, table: &str, column: &str) -> Result<(), CatalogError> {
        let Some(known) = self.schema.table(table) else {
            let near = nearest(&table.to_lowercase(), self.schema.tables.iter().filter(|t| !t.guessed).map(|t| t.name.as_str()));
            return near
                .map_or(Ok(()), |near| Err(CatalogError::NotThere { what: format!("table {table}"), near: Some(near.to_string()) }));
        };
        if known.guessed || known.column(column).is_some() {
            return Ok(());
        }
        // Of names of a letter or two each is near to each.
        let names = known.columns.iter().map(|c| c.name.as_str()).filter(|n| n.len() > 2 && column.len() > 2);
        let near = nearest(&column.to_lowercase(), names).map(str::to_string);
        Err(CatalogError::NotThere { what: format!("column {column} in {table}"), near })
    }
}

/// The neutral form of a table definition.
pub fn create_table(create: &CreateTable<Spelled>, dialect: &Dialect) -> Table {
    let mut table = Table { name: create.name.last().text.to_string(), ..Table::default() };
    let names = |idents: &[syntax::tree::Ident]| idents.iter().map(|i| i.text.to_string()).collect::<Vec<_>>();
    for column in &create.columns {
        let data_type = column.type_name.as_ref().map_or(DataType::Unknown, |t| read_type(t, dialect));
        let name = column.name.text.to_string();
        if column.primary_key {
            table.primary_key.push(name.clone());
        }
        if column.unique {
            table.unique.push(vec![name.clone()]);
        }
        if let Some((target, keys)) = &column.references {
            table.foreign_keys.push(ForeignKey { columns: vec![name.clone()], table: target.last().text.to_string(), keys: names(keys) });
        }
        let nullable = !column.not_null && !column.primary_key;
        let case_sensitive = column.collation.as_ref().and_then(|c| is_case_sensitive(c));
        table.columns.push(Column { name, data_type, nullable, case_sensitive });
    }
    for constraint in &create.constraints {
        match constraint {
            TableConstraint::PrimaryKey(columns) => table.primary_key = names(columns),
            TableConstraint::Unique(columns) => table.unique.push(names(columns)),
            TableConstraint::ForeignKey(columns, target, keys) => {
                table.foreign_keys.push(ForeignKey { columns: names(columns), table: target.last().text.to_string(), keys: names(keys) });
            }
            TableConstraint::Check(_) | TableConstraint::Other => {}
        }
    }
    for key in table.primary_key.clone() {
        if let Some(index) = table.column_index(&key) {
            table.columns[index].nullable = false;
        }
    }
    table
}

/// The conditions of CHECK.
fn checks_of(create: &CreateTable<Spelled>) -> impl Iterator<Item = &Expr<Spelled>> {
    let of_table = create.constraints.iter().filter_map(|c| if let TableConstraint::Check(check) = c { Some(check) } else { None });
    create.columns.iter().filter_map(|c| c.check.as_ref()).chain(of_table)
}

/// What a collation's name tells of small and capital letters.
fn is_case_sensitive(collation: &str) -> Option<bool> {
    let upper = collation.to_uppercase();
    let tells = upper.contains("_BIN") || upper.contains("_CS") || upper == "BINARY" || upper == "C";
    let folds = upper.contains("_CI") || upper == "NOCASE";
    (tells || folds).then_some(tells)
}

/// The type of a column in `dialect`'s CREATE TABLE. Strings without a known length and types that
/// are not known get the widest text.
pub fn column_type_sql(data_type: &DataType, dialect: &Dialect) -> String {
    if let DataType::Array(element) = data_type {
        let element = column_type_sql(element, dialect);
        match dialect.name {
            DialectName::Postgres | DialectName::Duckdb => return format!("{element}[]"),
            DialectName::Bigquery | DialectName::Spark => return format!("ARRAY<{element}>"),
            // As a JSON text, where there are no lists.
            _ => {}
        }
    }
    let said = write_type(data_type, dialect, false).or_else(|| write_type(&DataType::TEXT, dialect, false));
    said.map_or_else(String::new, |t| t.sql())
}

impl Catalog {
    /// A name as `dialect` writes it: in quotes, and in the letters it folds to, only where it must.
    pub fn name_sql(text: &str, dialect: &Dialect) -> String {
        let spelling = Spelling::of(dialect);
        let plain = text.chars().all(|c| c.is_ascii_alphanumeric() || c == '_') && !text.starts_with(|c: char| c.is_ascii_digit());
        if plain && !syntax::is_reserved(dialect.name, text) {
            return text.to_string();
        }
        let folded = match spelling.folding {
            _ if !plain => text.to_string(),
            syntax::Folding::Upper => text.to_uppercase(),
            syntax::Folding::Lower => text.to_lowercase(),
            syntax::Folding::CaseInsensitive => text.to_string(),
        };
        quote_name(&folded, &spelling)
    }

    /// CREATE TABLE of a neutral table in `dialect`, with its keys; names are written as the schema
    /// has them, in quotes only where the dialect reserves them.
    pub fn create_sql(table: &Table, dialect: &Dialect) -> String {
        let name = |text: &str| Catalog::name_sql(text, dialect);
        let mut lines: Vec<String> = table
            .columns
            .iter()
            .map(|c| {
                let null = if c.nullable { "" } else { " NOT NULL" };
                format!("{} {}{null}", name(&c.name), column_type_sql(&c.data_type, dialect))
            })
            .collect();
        if !table.primary_key.is_empty() {
            let columns: Vec<String> = table.primary_key.iter().map(|c| name(c)).collect();
            lines.push(format!("PRIMARY KEY ({})", columns.join(", ")));
        }
        format!("CREATE TABLE {} (\n  {}\n)", name(&table.name), lines.join(",\n  "))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn ddl_of_several_dialects() {
        let oracle: Dialect = "oracle".parse().expect("dialect");
        let ddl = "CREATE TABLE loads (id NUMBER(9) PRIMARY KEY, name VARCHAR2(30) NOT NULL, tons NUMBER(8,2), sent DATE,
                   vessel_id NUMBER(9) REFERENCES vessels (id)); CREATE INDEX i ON loads (name);";
        let catalog = Catalog::from_ddl(ddl, &oracle).expect("catalog");
        let table = catalog.schema.table("LOADS").expect("table");
        let types: Vec<String> = table.columns.iter().map(|c| format!("{} {} {}", c.name, c.data_type, c.nullable)).collect();
        assert_eq!(
            types,
            ["id integer false", "name text false", "tons decimal(8,2) true", "sent timestamp true", "vessel_id integer true"]
        );
        assert_eq!(table.foreign_keys[0].table, "vessels");
        for (dialect, expected) in [
            (
                "postgres",
                "CREATE TABLE loads (\n  id INTEGER NOT NULL,\n  name VARCHAR(30) NOT NULL,\n  tons NUMERIC(8, 2),\n  sent TIMESTAMP,\n  vessel_id INTEGER,\n  PRIMARY KEY (id)\n)",
            ),
            (
                "sqlite",
                "CREATE TABLE loads (\n  id INTEGER NOT NULL,\n  name TEXT NOT NULL,\n  tons NUMERIC(8, 2),\n  sent TEXT,\n  vessel_id INTEGER,\n  PRIMARY KEY (id)\n)",
            ),
        ] {
            let dialect: Dialect = dialect.parse().expect("dialect");
            assert_eq!(Catalog::create_sql(table, &dialect), expected);
        }
    }

    #[test]
    fn assumptions() {
        let postgres: Dialect = "postgres".parse().expect("dialect");
        let mut catalog = Catalog::default();
        catalog.assume("loads.tons: integer not null", &postgres).expect("assumed");
        let column = catalog.schema.table("loads").and_then(|t| t.column("TONS")).expect("column");
        assert_eq!((column.data_type.clone(), column.nullable), (DataType::Integer(32), false));
        assert!(catalog.assume("tons integer", &postgres).is_err());
        let mut catalog = Catalog::from_ddl("CREATE TABLE loads (id int, tons int)", &postgres).expect("catalog");
        for (given, reported) in [
            ("loads.tonz: integer", "there is no column tonz in loads; did you mean tons?"),
            ("laods.tons: integer", "there is no table laods; did you mean loads?"),
            ("loads.tons: intger", "there is no type intger; did you mean integer?"),
        ] {
            assert_eq!(catalog.assume(given, &postgres).map_err(|e| e.to_string()), Err(reported.to_string()));
        }
        let (catalog, errors) =
            Catalog::sound_ddl("CREATE TABLE a (id int); CREATE TABLE b (id int,,); CREATE TABLE c (id int)", &postgres);
        assert_eq!((catalog.schema.tables.len(), errors.len()), (2, 1));
    }
}
