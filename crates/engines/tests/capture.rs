//! Live databases captured: their DDL reads back as what it was made from, and a sample of rows keeps
//! its references.
#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

mod live;

use std::collections::HashSet;

use engines::{Access, CaptureOptions, Captured, Engine, capture};
use values::Value;

const WRITING: Access = Access { writes: true, timeout: None };
const PLACE: &str = "inland_ferry_capture";

fn run(engine: &mut dyn Engine, script: &str) {
    for sql in script.split(";\n").map(str::trim).filter(|s| !s.is_empty()) {
        engine.query(sql, 1).unwrap_or_else(|e| panic!("{}: {sql}\n{e}", engine.name()));
    }
}

/// Waters that branch from waters, landings on them, and a view.
const TABLES: &str = "CREATE TABLE waterways (id INTEGER NOT NULL PRIMARY KEY, parent_id INTEGER REFERENCES waterways (id), name VARCHAR(20) NOT NULL, UNIQUE (name));
CREATE TABLE landings (id INTEGER NOT NULL PRIMARY KEY, waterway_id INTEGER NOT NULL, depth DECIMAL(6,2) DEFAULT 1, opened DATE, CHECK (depth > 0), FOREIGN KEY (waterway_id) REFERENCES waterways (id));
CREATE VIEW deep AS SELECT id FROM landings WHERE depth > 3";

fn filled(engine: &mut dyn Engine) {
    run(engine, TABLES);
    let waters: Vec<String> =
        (1..=60).map(|i| format!("({i}, {}, 'water {i}')", if i == 1 { "NULL".to_string() } else { (i / 2).to_string() })).collect();
    let landings: Vec<String> = (1..=90).map(|i| format!("({i}, {}, {}.25, '2026-01-{:02}')", i % 60 + 1, i, i % 28 + 1)).collect();
    // One by one: DuckDB sees no row of the same statement when it looks for what is referred to.
    let inserts: Vec<String> = waters.iter().map(|w| format!("INSERT INTO waterways VALUES {w}")).collect();
    run(engine, &inserts.join(";\n"));
    run(engine, &format!("INSERT INTO landings VALUES {}", landings.join(", ")));
}

fn look_at(captured: &Captured, name: &str) {
    let described: Vec<String> = captured
        .tables
        .iter()
        .map(|(t, _)| {
            let columns: Vec<String> =
                t.columns.iter().map(|c| format!("{} {}{}", c.name, c.data_type, if c.nullable { "" } else { "!" })).collect();
            let references: Vec<&str> = t.foreign_keys.iter().map(|k| k.table.as_str()).collect();
            format!("{} ({}) {} {}", t.name, columns.join(", "), t.primary_key.join(","), references.join(","))
        })
        .collect();
    let wanted = [
        "waterways (id integer!, parent_id integer, name text!) id waterways",
        "landings (id integer!, waterway_id integer!, depth decimal(6,2), opened date) id waterways",
    ];
    assert_eq!(described.iter().map(String::as_str).collect::<HashSet<_>>(), wanted.into(), "{name}\n{}", captured.ddl);
    assert!(captured.ddl.contains("CHECK (") && captured.ddl.contains("UNIQUE (name)"), "{name}\n{}", captured.ddl);
    assert!(captured.views == 1 && captured.ddl.contains("CREATE VIEW deep"), "{name}\n{}", captured.ddl);

    let rows = |table: &str| &captured.tables.iter().find(|(t, _)| t.name == table).expect(table).1;
    let (waters, landings) = (rows("waterways"), rows("landings"));
    let ids: HashSet<String> = waters.iter().map(|r| r[0].to_string()).collect();
    assert_eq!((landings.len(), ids.len()), (7, waters.len()), "{name}");
    let referred = landings.iter().map(|r| &r[1]).chain(waters.iter().map(|r| &r[1]).filter(|v| !v.is_null()));
    for id in referred {
        assert!(ids.contains(&id.to_string()), "{name}: water {id} is missing");
    }
    assert!(matches!(landings[0][3], Value::Date(_)), "{name}: {:?}", landings[0]);
}

#[test]
fn a_live_schema_reads_back_and_its_sample_keeps_its_references() {
    for (variable, make, enter, drop) in [
        ("INLAND_FERRY_POSTGRES", "CREATE SCHEMA ", "SET search_path = ", "DROP SCHEMA IF EXISTS {} CASCADE"),
        ("INLAND_FERRY_MARIADB", "CREATE DATABASE ", "USE ", "DROP DATABASE IF EXISTS {}"),
        ("INLAND_FERRY_MYSQL", "CREATE DATABASE ", "USE ", "DROP DATABASE IF EXISTS {}"),
        // Of its own schemas DuckDB finds none in a reference; and its memory is swept by itself.
        ("INLAND_FERRY_DUCKDB", "", "", ""),
    ] {
        let Some(mut engine) = live::engine_with(variable, WRITING) else { continue };
        let clean = drop.replace("{}", PLACE);
        if !make.is_empty() {
            run(&mut *engine, &format!("{clean};\n{make}{PLACE};\n{enter}{PLACE}"));
        }
        filled(&mut *engine);
        let patterns = if make.is_empty() { Vec::new() } else { vec![format!("{PLACE}.*")] };
        let captured = capture(&mut *engine, &CaptureOptions { patterns, rows: 7 });
        run(&mut *engine, &clean);
        look_at(&captured.unwrap_or_else(|e| panic!("{variable}: {e}")), variable);
    }
}
