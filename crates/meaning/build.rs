//! Compiles the phrasebook (`phrases/*.toml`) into static tables.

#[allow(dead_code)]
#[path = "../syntax/src/dialect_name.rs"]
mod dialect_name;
#[allow(dead_code, missing_docs)]
#[path = "src/book/file.rs"]
mod file;
#[allow(dead_code, missing_docs)]
#[path = "src/book/when.rs"]
mod when;

use std::fmt::Write as _;
use std::path::Path;

use dialect_name::DialectName;
use file::{DIALECTS, PhraseEntry, TypeEntry, of, split_commas};
use when::{Guard, ValueClass};

fn main() {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../phrases");
    println!("cargo:rerun-if-changed={}", folder.display());
    let mut files: Vec<_> = std::fs::read_dir(&folder)
        .unwrap_or_else(|e| fail(&folder, &e.to_string()))
        .filter_map(|f| f.ok().map(|f| f.path()))
        .filter(|p| p.extension().is_some_and(|e| e == "toml"))
        .collect();
    files.sort();
    let (mut phrases, mut types) = (String::new(), String::new());
    let mut ids: Vec<String> = Vec::new();
    for path in &files {
        let text = std::fs::read_to_string(path).unwrap_or_else(|e| fail(path, &e.to_string()));
        let book = file::read(&text).unwrap_or_else(|e| fail(path, &format!("line {}: {}", e.line, e.message)));
        for entry in &book.phrases {
            let phrase = entry.get_ref();
            if ids.contains(&phrase.id) {
                fail(path, &format!("line {}: there are two phrases {}", file::line_of(&text, &entry.span()), phrase.id));
            }
            ids.push(phrase.id.clone());
            let code = phrase_code(phrase);
            phrases.push_str(
                &code.unwrap_or_else(|why| fail(path, &format!("line {}: {}: {why}", file::line_of(&text, &entry.span()), phrase.id))),
            );
        }
        book.types.iter().for_each(|t| types.push_str(&type_code(t, path)));
    }
    let constants: String = ids.iter().map(|id| constant_code(id)).collect();
    let proofs = proofs_code(&folder.join("proven"));
    let code = format!(
        "{proofs}/// The ids of the phrases: code that names a phrase names its constant, so that a slip doesn't compile.\n\
         pub mod phrase {{\n{constants}}}\n/// Every phrase.\n#[allow(clippy::unreadable_literal)]\nstatic PHRASES: &[Phrase] = &[{phrases}];\n\
         /// Every type.\npub static TYPES: &[TypeWords] = &[{types}];\n"
    );
    let out = std::env::var("OUT_DIR").unwrap_or_default();
    let target = Path::new(&out).join("book.rs");
    std::fs::write(&target, code).unwrap_or_else(|e| fail(&target, &e.to_string()));
    let target = Path::new(&out).join("builtin.rs");
    std::fs::write(&target, builtins_code(&folder.join("builtin"))).unwrap_or_else(|e| fail(&target, &e.to_string()));
}

/// The built-in functions: a file a dialect, with a table for each kind, and in it the names by their numbers of
/// arguments.
fn builtins_code(folder: &Path) -> String {
    let mut code = String::new();
    for dialect in DIALECTS {
        let path = folder.join(format!("{dialect}.toml"));
        let text = std::fs::read_to_string(&path).unwrap_or_else(|e| fail(&path, &e.to_string()));
        let table: toml::Table = text.parse().unwrap_or_else(|e: toml::de::Error| fail(&path, &e.to_string()));
        let source = table.get("source").and_then(|s| s.as_str()).unwrap_or_else(|| fail(&path, "source is missing"));
        let mut functions = std::collections::BTreeMap::new();
        for (kind, groups) in table.iter().filter(|(key, _)| *key != "source") {
            if !["scalar", "aggregate", "window", "table"].contains(&kind.as_str()) {
                fail(&path, &format!("there is no kind {kind}"));
            }
            for (counts, names) in groups.as_table().into_iter().flatten() {
                let arguments = counts_code(counts).unwrap_or_else(|| fail(&path, &format!("'{counts}' is no number of arguments")));
                for name in names.as_str().unwrap_or("").split_whitespace() {
                    functions.insert(name.to_string(), (capitalised(kind), arguments.clone()));
                }
            }
        }
        let functions: String = functions
            .iter()
            .map(|(name, (kind, arguments))| format!("Builtin {{ name: {name:?}, kind: BuiltinKind::{kind}, arguments: {arguments} }},"))
            .collect();
        writeln!(code, "Builtins {{ source: {source:?}, functions: &[{functions}] }},").unwrap_or_default();
    }
    format!("static BUILTINS: &[Builtins] = &[{code}];\n")
}

/// `2`, `2-3`, `1-`, `any`.
fn counts_code(counts: &str) -> Option<String> {
    if counts == "any" {
        return Some("None".to_string());
    }
    let (least, most) = counts.split_once('-').unwrap_or((counts, counts));
    let least: u8 = least.parse().ok()?;
    Some(match most {
        "" => format!("Some(({least}, None))"),
        most => format!("Some(({least}, Some({})))", most.parse::<u8>().ok()?),
    })
}

/// `text.pad-left` as the constant TEXT_PAD_LEFT.
fn constant_code(id: &str) -> String {
    let name = id.replace(['.', '-'], "_").to_uppercase();
    format!("    /// The phrase {id}.\n    pub const {name}: &str = {id:?};\n")
}

/// What passed on which engine: a file an engine, named for its dialect, as `phrases verify --record`
/// writes it.
fn proofs_code(folder: &Path) -> String {
    let mut engines = String::new();
    for (at, dialect) in DIALECTS.iter().enumerate() {
        let path = folder.join(format!("{dialect}.toml"));
        let Ok(text) = std::fs::read_to_string(&path) else { continue };
        let table: toml::Table = text.parse().unwrap_or_else(|e: toml::de::Error| fail(&path, &e.to_string()));
        let engine = table.get("engine").and_then(|v| v.as_str()).unwrap_or("");
        let passed = table.get("passed").and_then(|v| v.as_table()).into_iter().flatten();
        let passed: String = passed.map(|(id, count)| format!("({id:?}, {}),", count.as_integer().unwrap_or(0))).collect();
        write!(engines, "ProvenOn {{ dialect: {at}, engine: {engine:?}, passed: &[{passed}] }},").unwrap_or_default();
    }
    format!("static PROVEN: &[ProvenOn] = &[{engines}];\n")
}

fn fail(file: &Path, why: &str) -> ! {
    eprintln!("{}: {why}", file.display());
    std::process::exit(1);
}

/// The code of a phrase, or what is wrong with it.
fn phrase_code(phrase: &PhraseEntry) -> Result<String, String> {
    let parameters = phrase.parameters();
    let names: Vec<&str> = parameters.iter().map(|p| p.name.as_str()).collect();
    let (mut say, mut hear, mut edges, mut takes) = (String::new(), String::new(), String::new(), String::new());
    for dialect in DIALECTS {
        let templates = of(&phrase.say, dialect).map(file::SayEntry::templates).unwrap_or_default();
        say.push_str("&[");
        for template in templates {
            say.push_str(&say_code(&template, &template.guards(&names)?));
        }
        say.push_str("],");
        write!(hear, "&{:?},", of(&phrase.hear, dialect).cloned().unwrap_or_default()).unwrap_or_default();
    }
    for edge in &phrase.edges {
        edges.push_str(&edge_code(edge, edge.class(&names)?));
    }
    for one in &parameters {
        let kind = one.argument()?;
        let (name, default, repeated) = (&one.name, &one.default, one.repeated);
        write!(takes, "Parameter {{ name: {name:?}, kind: ArgumentKind::{kind:?}, default: {default:?}, repeated: {repeated} }},")
            .unwrap_or_default();
    }
    Ok(format!(
        "Phrase {{ id: {:?}, kind: PhraseKind::{}, takes: &[{takes}], gives: {:?}, about: {:?}, strict: {}, least: {:?}, volatile: {}, \
         empties: {}, full: &{:?}, say: [{say}], hear: [{hear}], edges: &[{edges}] }},\n",
        phrase.id,
        capitalised(&phrase.kind),
        phrase.gives,
        phrase.about,
        phrase.nulls.is_none(),
        phrase.least,
        phrase.volatile,
        phrase.empties,
        phrase.full(),
    ))
}

fn say_code(template: &file::Template, guards: &[(usize, Guard)]) -> String {
    let guards: String = guards.iter().map(|(at, guard)| format!("({at}, {}),", guard_code(*guard))).collect();
    let since = template.version().map(|(major, minor)| format!("Some(Version {{ major: {major}, minor: {minor} }})"));
    format!(
        "Say {{ sql: {:?}, refuse: {:?}, case: {:?}, guards: &[{guards}], since: {}, exact: {} }},",
        template.sql.as_deref().unwrap_or(""),
        template.refuse,
        template.case,
        since.as_deref().unwrap_or("None"),
        template.exact
    )
}

fn edge_code(edge: &file::EdgeEntry, class: Option<(usize, ValueClass)>) -> String {
    let class = class.map(|(at, class)| format!("Some(({at}, {}))", class_code(class)));
    let own: Vec<String> = DIALECTS.iter().map(|d| format!("{:?}", of(&edge.own, d))).collect();
    format!(
        "Edge {{ when: {:?}, class: {}, about: {:?}, code: {:?}, tried: &{:?}, gives: {:?}, own: [{}], older: &{:?} }},",
        edge.when,
        class.as_deref().unwrap_or("None"),
        edge.about,
        edge.code,
        split_commas(&edge.tried),
        edge.gives,
        own.join(","),
        edge.older()
    )
}

fn guard_code(guard: Guard) -> String {
    match guard {
        Guard::Always(class) => format!("Guard::Always({})", class_code(class)),
        Guard::Never(class) => format!("Guard::Never({})", class_code(class)),
        Guard::Typed(kind) => format!("Guard::Typed(ArgumentKind::{kind:?})"),
        other => format!("Guard::{other:?}"),
    }
}

fn class_code(class: ValueClass) -> String {
    match class {
        ValueClass::Number(order, number) => format!("ValueClass::Number(Order::{order:?}, {number})"),
        ValueClass::Length(order, number) => format!("ValueClass::Length(Order::{order:?}, {number})"),
        other => format!("ValueClass::{other:?}"),
    }
}

fn capitalised(word: &str) -> String {
    let mut chars = word.chars();
    chars.next().map(|c| c.to_ascii_uppercase().to_string() + chars.as_str()).unwrap_or_default()
}

fn type_code(one: &TypeEntry, file: &Path) -> String {
    let mut say = Vec::new();
    let mut cast = Vec::new();
    for dialect in DIALECTS {
        let Some(said) = of(&one.say, dialect) else { fail(file, &format!("{}: nothing said for {dialect}", one.id)) };
        cast.push(of(&one.cast, dialect).unwrap_or(said));
        say.push(said);
    }
    let hear: Vec<&str> = one.hear.split_whitespace().collect();
    format!("TypeWords {{ id: {:?}, say: {say:?}, cast: {cast:?}, hear: &{hear:?} }},\n", one.id)
}
