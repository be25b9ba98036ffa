//! The schema of a live database as DDL of its own dialect, and a sample of its rows.
//!
//! What a dialect's catalog is asked lies in a file of queries a dialect; their columns are the same
//! everywhere, so that one function writes the DDL.

mod sample;

use meaning::Catalog;
use syntax::{Dialect, DialectName, Spelling, is_reserved, quote_name};
use values::{Row, Table, Value};

use crate::{Engine, EngineError};

/// What is captured.
#[derive(Debug, Clone, Default)]
pub struct CaptureOptions {
    /// Tables, views and functions by name: `*` matches any characters, `?` for one. `SCHEMA.NAME` looks
    /// into another schema. Empty for all of the current one.
    pub patterns: Vec<String>,
    /// Rows sampled a table; 0 for none.
    pub rows: usize,
}

/// A captured database.
#[derive(Debug, Clone)]
pub struct Captured {
    /// CREATE TABLE, VIEW and FUNCTION statements in the database's dialect.
    pub ddl: String,
    /// The tables with their sampled rows.
    pub tables: Vec<(Table, Vec<Row>)>,
    /// How many views the DDL has.
    pub views: usize,
    /// How many functions the DDL has.
    pub functions: usize,
    /// What couldn't be captured as it is.
    pub remarks: Vec<String>,
}

const fn queries(dialect: DialectName) -> &'static str {
    match dialect {
        DialectName::Postgres => include_str!("postgres.sql"),
        DialectName::Mysql | DialectName::Mariadb => include_str!("mysql.sql"),
        DialectName::Sqlite => include_str!("sqlite.sql"),
        DialectName::Duckdb => include_str!("duckdb.sql"),
        DialectName::SqlServer => include_str!("sqlserver.sql"),
        DialectName::Oracle => include_str!("oracle.sql"),
        DialectName::Spark => include_str!("spark.sql"),
        DialectName::Bigquery => include_str!("bigquery.sql"),
    }
}

/// The query of a section; sections are headed `-- NAME`, or `-- NAME DIALECT` for one of several
/// that share a file.
fn section(dialect: DialectName, name: &str) -> Option<&'static str> {
    let text = queries(dialect);
    [format!("-- {name} {dialect}\n"), format!("-- {name}\n")].iter().find_map(|head| {
        let at = if text.starts_with(head.as_str()) { 0 } else { text.find(&format!("\n{head}"))? + 1 };
        let body = &text[at + head.len()..];
        Some(body.split("\n\n-- ").next().unwrap_or(body).trim())
    })
}

/// `*` and `?` in a pattern; letters in any case.
fn matches(pattern: &str, name: &str) -> bool {
    fn rest(pattern: &[char], name: &[char]) -> bool {
        match pattern.split_first() {
            None => name.is_empty(),
            Some(('*', more)) => (0..=name.len()).any(|at| rest(more, &name[at..])),
            Some((p, more)) => name.split_first().is_some_and(|(n, others)| (*p == '?' || p == n) && rest(more, others)),
        }
    }
    let letters = |t: &str| t.to_lowercase().chars().collect::<Vec<_>>();
    rest(&letters(pattern), &letters(name))
}

/// Captures the schema that the patterns name, or the current one.
pub fn capture(engine: &mut dyn Engine, options: &CaptureOptions) -> Result<Captured, EngineError> {
    let dialect = engine.dialect().clone();
    let mut schemas: Vec<Option<&str>> = options.patterns.iter().map(|p| p.rsplit_once('.').map(|(s, _)| s)).collect();
    schemas.dedup();
    let ([] | [_]) = schemas[..] else {
        return Err(EngineError::query(None, "the patterns name several schemas; capture one at a time"));
    };
    let patterns: Vec<&str> = options.patterns.iter().map(|p| p.rsplit('.').next().unwrap_or(p)).collect();
    let schema = match schemas.first().copied().flatten() {
        Some(schema) => folded(schema, &dialect),
        None => current_schema(engine, &dialect)?,
    };
    let mut asking = Asking { engine, dialect, schema, patterns };
    let found = asking.found()?;
    let mut captured = written(&found, &asking.dialect);
    captured.tables = asking.tables(&mut captured).into_iter().map(|t| (t, Vec::new())).collect();
    if options.rows > 0 {
        let is_read = |name: &str| captured.tables.iter().any(|(t, _)| t.name.eq_ignore_ascii_case(name));
        let names: Vec<String> = found.tables.iter().map(|t| t.name.clone()).filter(|name| is_read(name)).collect();
        let place = format!("{}.", exact_name(&asking.schema, &asking.dialect));
        sample::fill(asking.engine, &asking.dialect, &place, &names, &mut captured.tables, options.rows)?;
    }
    Ok(captured)
}

/// A name as the dialect keeps it when it is written without quotes.
fn folded(name: &str, dialect: &Dialect) -> String {
    match Spelling::of(dialect).folding {
        syntax::Folding::Upper => name.to_uppercase(),
        syntax::Folding::Lower => name.to_lowercase(),
        syntax::Folding::CaseInsensitive => name.to_string(),
    }
}

fn current_schema(engine: &mut dyn Engine, dialect: &Dialect) -> Result<String, EngineError> {
    let sql = section(dialect.name, "schema").unwrap_or("SELECT NULL");
    let first = engine.query(sql, 1)?.rows.pop().and_then(|mut r| r.pop());
    match first {
        Some(value) if !value.is_null() => Ok(value.to_string()),
        _ => Err(EngineError::query(None, "no database is chosen; name one at the end of the address, or write --tables 'DATABASE.*'")),
    }
}

/// A name that is read as itself: in quotes where letters would be folded or the word is reserved.
pub(crate) fn exact_name(name: &str, dialect: &Dialect) -> String {
    let is_plain = name.chars().all(|c| c.is_ascii_alphanumeric() || c == '_') && !name.starts_with(|c: char| c.is_ascii_digit());
    if is_plain && folded(name, dialect) == name && !is_reserved(dialect.name, name) {
        return name.to_string();
    }
    quote_name(name, &Spelling::of(dialect))
}

/// What the catalog holds of one table.
#[derive(Debug, Default)]
struct TableFound {
    name: String,
    /// The engine's own CREATE TABLE, where that is all it tells.
    ddl: Option<String>,
    columns: Vec<ColumnFound>,
    keys: Vec<KeyFound>,
    /// Name and expression.
    checks: Vec<(String, String)>,
}

#[derive(Debug)]
struct ColumnFound {
    name: String,
    type_name: String,
    not_null: bool,
    default: Option<String>,
}

#[derive(Debug)]
struct KeyFound {
    name: String,
    kind: char,
    columns: Vec<String>,
    table: Option<String>,
    keys: Vec<String>,
}

#[derive(Debug, Default)]
struct Found {
    tables: Vec<TableFound>,
    /// Names and statements.
    views: Vec<(String, String)>,
    functions: Vec<(String, String)>,
}

struct Asking<'a> {
    engine: &'a mut dyn Engine,
    dialect: Dialect,
    schema: String,
    patterns: Vec<&'a str>,
}

fn text(row: &Row, at: usize) -> Option<String> {
    row.get(at).filter(|v| !v.is_null()).map(ToString::to_string)
}

impl Asking<'_> {
    /// The rows of a section; none for one that the dialect hasn't got.
    fn ask(&mut self, name: &str) -> Result<Vec<Row>, EngineError> {
        let Some(sql) = section(self.dialect.name, name) else { return Ok(Vec::new()) };
        let schema = crate::literal_sql(&Value::text(self.schema.as_str()), &self.dialect);
        let schema_name = exact_name(&self.schema, &self.dialect);
        let sql = if name == "names" { sql.replace("{schema}", &schema_name) } else { sql.replace("{schema}", &schema) };
        Ok(self.engine.query(&sql, usize::MAX)?.rows)
    }

    fn is_wanted(&self, name: &str) -> bool {
        // The bounds of our own scratch places are nobody's tables.
        self.patterns.is_empty() || self.patterns.iter().any(|p| matches(p, name))
    }

    fn found(&mut self) -> Result<Found, EngineError> {
        let mut found = Found::default();
        let mut rows = self.ask("tables")?;
        rows.extend(self.ask("views")?);
        for row in rows {
            let Some(name) = text(&row, 0).filter(|n| self.is_wanted(n)) else { continue };
            let ddl = text(&row, 2).map(|d| d.replace("{name}", &exact_name(&name, &self.dialect)));
            match text(&row, 1).as_deref() {
                Some("view") => found.views.push((name, ddl.unwrap_or_default())),
                _ => found.tables.push(TableFound { name, ddl, ..TableFound::default() }),
            }
        }
        self.named(&mut found)?;
        self.columns(&mut found)?;
        self.keys(&mut found)?;
        for row in self.ask("checks")? {
            let (Some(table), Some(name), Some(check)) = (text(&row, 0), text(&row, 1), text(&row, 2)) else { continue };
            if let Some(table) = found.tables.iter_mut().find(|t| t.name == table) {
                table.checks.push((name, check));
            }
        }
        for row in self.ask("functions")? {
            let (Some(name), Some(ddl)) = (text(&row, 0), text(&row, 1)) else { continue };
            if self.is_wanted(&name) {
                let ddl = ddl.replace("{name}", &exact_name(&name, &self.dialect));
                found.functions.push((name, ddl));
            }
        }
        Ok(found)
    }

    /// An engine that lists its tables and describes each: Spark.
    fn named(&mut self, found: &mut Found) -> Result<(), EngineError> {
        let Some(describe) = section(self.dialect.name, "describe") else { return Ok(()) };
        for row in self.ask("names")? {
            // Temporary views are the session's own.
            let is_temporary = row.get(2) == Some(&Value::Boolean(true));
            let Some(name) = text(&row, 1).filter(|n| !is_temporary && self.is_wanted(n)) else { continue };
            let schema = exact_name(&self.schema, &self.dialect);
            let sql = describe.replace("{schema_name}", &schema).replace("{name}", &exact_name(&name, &self.dialect));
            let described = self.engine.query(&sql, usize::MAX)?.rows;
            let columns = described.iter().take_while(|r| text(r, 0).is_some_and(|n| !n.is_empty() && !n.starts_with('#')));
            let columns = columns.map(|r| ColumnFound {
                name: text(r, 0).unwrap_or_default(),
                type_name: text(r, 1).unwrap_or_default(),
                not_null: false,
                default: None,
            });
            found.tables.push(TableFound { columns: columns.collect(), name, ..TableFound::default() });
        }
        Ok(())
    }

    fn columns(&mut self, found: &mut Found) -> Result<(), EngineError> {
        for row in self.ask("columns")? {
            let (Some(table), Some(name), Some(type_name)) = (text(&row, 0), text(&row, 1), text(&row, 2)) else { continue };
            let Some(table) = found.tables.iter_mut().find(|t| t.name == table) else { continue };
            let not_null = matches!(row.get(3), Some(Value::Boolean(true) | Value::Integer(1)));
            table.columns.push(ColumnFound { name, type_name, not_null, default: text(&row, 4) });
        }
        Ok(())
    }

    fn keys(&mut self, found: &mut Found) -> Result<(), EngineError> {
        for row in self.ask("keys")? {
            let (Some(table), Some(name), Some(column)) = (text(&row, 0), text(&row, 1), text(&row, 3)) else { continue };
            let Some(table) = found.tables.iter_mut().find(|t| t.name == table) else { continue };
            let kind = text(&row, 2).and_then(|k| k.chars().next()).unwrap_or('U');
            let at = table.keys.iter().position(|k| k.name == name && k.kind == kind).unwrap_or_else(|| {
                table.keys.push(KeyFound { name, kind, columns: Vec::new(), table: text(&row, 4), keys: Vec::new() });
                table.keys.len() - 1
            });
            table.keys[at].columns.push(column);
            table.keys[at].keys.extend(text(&row, 5));
        }
        Ok(())
    }

    /// The tables as our own reader reads the DDL; what it can't read is reported.
    fn tables(&self, captured: &mut Captured) -> Vec<Table> {
        let (catalog, errors) = Catalog::sound_ddl(&captured.ddl, &self.dialect);
        captured.remarks.extend(errors.iter().map(|e| format!("a table of the captured schema can't be read back: {e}")));
        catalog.schema.tables
    }
}

/// The statements, tables first.
fn written(found: &Found, dialect: &Dialect) -> Captured {
    let mut ddl = String::new();
    let mut remarks = Vec::new();
    for table in &found.tables {
        ddl.push_str(&create_table(table, dialect));
        ddl.push_str(";\n\n");
    }
    let end = if dialect.name == DialectName::SqlServer { "\nGO\n\n" } else { ";\n\n" };
    for (name, statement) in found.views.iter().chain(&found.functions) {
        if statement.is_empty() {
            remarks.push(format!("{name}: its text can't be seen with these rights"));
            continue;
        }
        ddl.push_str(statement.trim_end());
        ddl.push_str(end);
    }
    let tables = Vec::new();
    Captured { ddl, tables, views: found.views.len(), functions: found.functions.len(), remarks }
}

fn create_table(table: &TableFound, dialect: &Dialect) -> String {
    if let (Some(ddl), true) = (&table.ddl, table.columns.is_empty()) {
        return ddl.trim_end().to_string();
    }
    let name = |n: &str| exact_name(n, dialect);
    let list = |names: &[String]| names.iter().map(|n| name(n)).collect::<Vec<_>>().join(", ");
    let mut lines: Vec<String> = table
        .columns
        .iter()
        .map(|c| {
            let default = c.default.as_ref().map_or(String::new(), |d| format!(" DEFAULT {d}"));
            let null = if c.not_null { " NOT NULL" } else { "" };
            format!("{} {}{default}{null}", name(&c.name), c.type_name)
        })
        .collect();
    for key in &table.keys {
        let columns = list(&key.columns);
        lines.push(match (key.kind, &key.table) {
            ('P', _) => format!("PRIMARY KEY ({columns})"),
            ('F', Some(other)) => format!("FOREIGN KEY ({columns}) REFERENCES {} ({})", name(other), list(&key.keys)),
            _ => format!("UNIQUE ({columns})"),
        });
    }
    lines.extend(table.checks.iter().map(|(_, check)| {
        let is_enclosed = check.starts_with('(') && check.ends_with(')') && closes_at_the_end(check);
        if is_enclosed { format!("CHECK {check}") } else { format!("CHECK ({check})") }
    }));
    format!("CREATE TABLE {} (\n  {}\n)", name(&table.name), lines.join(",\n  "))
}

/// Whether the first parenthesis is closed by the last character.
fn closes_at_the_end(text: &str) -> bool {
    let mut depth = 0;
    for (at, c) in text.char_indices() {
        match c {
            '(' => depth += 1,
            ')' => depth -= 1,
            _ => {}
        }
        if depth == 0 {
            return at + 1 == text.len();
        }
    }
    false
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn patterns() {
        for (pattern, name, is_match) in
            [("*", "loads", true), ("LOAD?", "loads", true), ("*ing*", "landings", true), ("l", "loads", false), ("", "loads", false)]
        {
            assert_eq!(matches(pattern, name), is_match, "{pattern} {name}");
        }
    }

    #[test]
    fn sections() {
        for name in DialectName::ALL {
            assert!(section(name, "schema").is_some_and(|s| !s.contains("-- ")), "{name}");
        }
        assert!(section(DialectName::Mariadb, "checks").is_some_and(|s| !s.contains("table_constraints")));
        assert!(section(DialectName::Mysql, "checks").is_some_and(|s| s.contains("table_constraints")));
        assert_eq!(section(DialectName::Sqlite, "columns"), None);
    }
}
