//! The demo's queries and rows, for tests.

#![allow(dead_code)] // Each test file uses a part.

use std::path::{Path, PathBuf};

use engines::Dataset;
use meaning::Catalog;
use syntax::{Dialect, DialectName};
use translate::{Options, StatementClass, translate_text};

fn demo() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo")
}

/// The queries of one demo dialect: file, statement.
pub(crate) fn queries(dialect: &Dialect) -> Vec<(String, String)> {
    let folder = demo().join("queries").join(dialect.name.as_str());
    let mut found = Vec::new();
    for entry in std::fs::read_dir(folder).expect("queries") {
        let path = entry.expect("file").path();
        let text = std::fs::read_to_string(&path).expect("text");
        let name = path.file_name().expect("name").to_string_lossy().to_string();
        let script = translate_text(&text, dialect, &DialectName::Duckdb.into(), &Catalog::default(), &Options::default());
        for statement in script.statements.iter().filter(|s| s.class == StatementClass::Query) {
            // A script's variables have their values only in the whole script.
            found.push((name.clone(), text[statement.place.start..statement.place.end].replace("(@n)", "(5)")));
        }
    }
    found
}

/// The demo's rows with a schema; the folder is put together as the demo command does it.
pub(crate) fn data(dialect: &Dialect) -> (Catalog, Dataset) {
    let folder = tempfile::tempdir().expect("folder");
    let schema = demo().join("schema").join(format!("{}.sql", dialect.name));
    std::fs::copy(schema, folder.path().join("schema.sql")).expect("schema");
    for rows in std::fs::read_dir(demo().join("rows")).expect("rows") {
        let path = rows.expect("file").path();
        std::fs::copy(&path, folder.path().join(path.file_name().expect("name"))).expect("copy");
    }
    Dataset::read(folder.path(), dialect).expect("data")
}
