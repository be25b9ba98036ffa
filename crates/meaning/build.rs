//! Compiles the phrasebook (`phrases/*.toml`) into static tables.

use std::fmt::Write as _;
use std::path::Path;

const DIALECTS: [&str; 9] = ["oracle", "tsql", "mysql", "mariadb", "postgres", "duckdb", "bigquery", "spark", "sqlite"];

fn main() {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../phrases");
    println!("cargo:rerun-if-changed={}", folder.display());
    let mut files: Vec<_> = std::fs::read_dir(&folder)
        .unwrap_or_else(|e| fail(&folder, &e.to_string()))
        .filter_map(|f| f.ok().map(|f| f.path()))
        .filter(|p| p.extension().is_some_and(|e| e == "toml"))
        .collect();
    files.sort();
    let mut phrases = String::new();
    let mut types = String::new();
    for file in &files {
        let text = std::fs::read_to_string(file).unwrap_or_else(|e| fail(file, &e.to_string()));
        let table: toml::Table = text.parse().unwrap_or_else(|e: toml::de::Error| fail(file, &e.to_string()));
        for phrase in list(&table, "phrase") {
            write_phrase(&mut phrases, phrase, file);
        }
        for one in list(&table, "type") {
            write_type(&mut types, one, file);
        }
    }
    let code = format!(
        "/// Every phrase.\npub static PHRASES: &[Phrase] = &[{phrases}];\n\
         /// Every type.\npub static TYPES: &[TypeWords] = &[{types}];\n"
    );
    let out = std::env::var("OUT_DIR").unwrap_or_default();
    let target = Path::new(&out).join("book.rs");
    std::fs::write(&target, code).unwrap_or_else(|e| fail(&target, &e.to_string()));
}

fn fail(file: &Path, why: &str) -> ! {
    eprintln!("{}: {why}", file.display());
    std::process::exit(1);
}

fn list<'a>(table: &'a toml::Table, key: &str) -> Vec<&'a toml::Table> {
    table.get(key).and_then(|v| v.as_array()).map(|a| a.iter().filter_map(|v| v.as_table()).collect()).unwrap_or_default()
}

fn text<'a>(table: &'a toml::Table, key: &str) -> &'a str {
    table.get(key).and_then(|v| v.as_str()).unwrap_or("")
}

/// The entry of `dialect` in a table of dialects, or that of `all`.
fn of<'a>(table: Option<&'a toml::Value>, dialect: &str) -> Option<&'a toml::Value> {
    let table = table?.as_table()?;
    table.get(dialect).or_else(|| table.get("all"))
}

fn check_dialects(table: Option<&toml::Value>, id: &str, file: &Path) {
    for key in table.and_then(|t| t.as_table()).into_iter().flat_map(|t| t.keys()) {
        if key != "all" && !DIALECTS.contains(&key.as_str()) {
            fail(file, &format!("{id}: there is no dialect '{key}'"));
        }
    }
}

fn write_phrase(out: &mut String, phrase: &toml::Table, file: &Path) {
    let id = text(phrase, "id");
    for key in ["say", "hear"] {
        check_dialects(phrase.get(key), id, file);
    }
    let mut say = String::new();
    let mut hear = String::new();
    for dialect in DIALECTS {
        match of(phrase.get("say"), dialect) {
            Some(toml::Value::String(sql)) => write!(say, "Say::Sql({sql:?}),").unwrap_or_default(),
            Some(toml::Value::Table(table)) if table.contains_key("refuse") => {
                write!(say, "Say::Refuse({:?}),", text(table, "refuse")).unwrap_or_default();
            }
            Some(other) => fail(file, &format!("{id}: say.{dialect} is neither text nor {{ refuse = .. }}: {other}")),
            None => fail(file, &format!("{id}: nothing said for {dialect}; every phrase takes a stand on all nine")),
        }
        let heard = of(phrase.get("hear"), dialect).and_then(|v| v.as_array()).cloned().unwrap_or_default();
        let heard: Vec<&str> = heard.iter().filter_map(|v| v.as_str()).collect();
        write!(hear, "&{heard:?},").unwrap_or_default();
    }
    let mut edges = String::new();
    for edge in list(phrase, "edge") {
        check_dialects(edge.get("own"), id, file);
        let own: Vec<String> = DIALECTS
            .iter()
            .map(|d| match edge.get("own").and_then(|o| o.get(d)).and_then(|v| v.as_str()) {
                Some(value) => format!("Some({value:?})"),
                None => "None".to_string(),
            })
            .collect();
        write!(
            edges,
            "Edge {{ when: {:?}, about: {:?}, gives: {:?}, own: [{}] }},",
            text(edge, "when"),
            text(edge, "about"),
            text(edge, "gives"),
            own.join(",")
        )
        .unwrap_or_default();
    }
    let takes: Vec<&str> =
        text(phrase, "takes").split(',').map(|p| p.split(':').next().unwrap_or("").trim()).filter(|p| !p.is_empty()).collect();
    let kind = match text(phrase, "kind") {
        "operator" => "Operator",
        "prefix" => "Prefix",
        "scalar" => "Scalar",
        "word" => "Word",
        "aggregate" => "Aggregate",
        "window" => "Window",
        other => fail(file, &format!("{id}: there is no kind '{other}'")),
    };
    writeln!(
        out,
        "Phrase {{ id: {id:?}, kind: PhraseKind::{kind}, takes: &{takes:?}, gives: {:?}, about: {:?}, say: [{say}], hear: [{hear}], edges: &[{edges}] }},",
        text(phrase, "gives"),
        text(phrase, "about")
    )
    .unwrap_or_default();
}

fn write_type(out: &mut String, one: &toml::Table, file: &Path) {
    let id = text(one, "id");
    let of_dialect = |key: &str, dialect: &str| of(one.get(key), dialect).and_then(|v| v.as_str()).map(str::to_string);
    let mut say = Vec::new();
    let mut cast = Vec::new();
    for dialect in DIALECTS {
        let Some(said) = of_dialect("say", dialect) else { fail(file, &format!("{id}: nothing said for {dialect}")) };
        cast.push(of_dialect("cast", dialect).unwrap_or_else(|| said.clone()));
        say.push(said);
    }
    let hear: Vec<&str> = text(one, "hear").split_whitespace().collect();
    writeln!(out, "TypeWords {{ id: {id:?}, say: {say:?}, cast: {cast:?}, hear: &{hear:?} }},").unwrap_or_default();
}
