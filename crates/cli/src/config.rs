//! `inland-ferry.toml`: what a project says once, so that no command line needs to.
//!
//! It is looked for from the working directory upward. A key is the name of an option; what the command line says wins.

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};
use std::sync::OnceLock;

use clap::{Arg, ArgAction, Command};
use meaning::Fidelity;
use syntax::{Dialect, DialectName, nearest};
use toml::{Table, Value};

use crate::Usage;

/// The name of the file.
pub(crate) const NAME: &str = "inland-ferry.toml";

/// The commands whose options have keys, each in a table of its name; those of several stand at the top as well.
const COMMANDS: [&str; 3] = ["translate", "check", "run"];

/// Options that belong to one run alone.
const NO_KEYS: &[&str] = &[
    "paths",
    "path",
    "json",
    "csv",
    "each",
    "detail",
    "steps",
    "against",
    "bind",
    "probe",
    "keep",
    "overwrite",
    "help",
    "version",
    "verbose",
];

/// Options that name files or folders: relative to the file of the configuration.
const PATHS: &[&str] = &["schema", "phrases", "data", "output", "binds"];

/// Keys at the top that are no options.
const OTHER_KEYS: [&str; 3] = ["settled", "dialect", "engine"];

/// What a project has configured beside the options.
#[derive(Debug, Default)]
pub(crate) struct Config {
    /// Where it was found.
    pub(crate) file: PathBuf,
    /// Codes of notes that need not be reported again.
    pub(crate) settled: Vec<String>,
    /// Settings of dialects.
    settings: BTreeMap<DialectName, BTreeMap<String, String>>,
    /// Addresses of engines by the names given to them.
    engines: BTreeMap<String, String>,
    options: Table,
    commands: BTreeMap<String, Table>,
}

static CURRENT: OnceLock<Config> = OnceLock::new();

/// The configuration of this run; empty without a file.
pub(crate) fn current() -> &'static Config {
    CURRENT.get_or_init(Config::default)
}

/// Looks for the file and reads it, and gives the options of `command` its values as defaults.
pub(crate) fn apply(command: Command) -> Result<Command, Usage> {
    let Some(file) = std::env::current_dir().ok().and_then(|folder| found_from(&folder)) else { return Ok(command) };
    let text = std::fs::read_to_string(&file).map_err(|e| Usage::new(format!("{}: {e}", file.display())))?;
    let config = read(&text, &file, &command).map_err(|why| Usage::new(format!("{}: {why}", file.display())))?;
    tracing::info!("configuration: {}", file.display());
    let mut command = command;
    for name in COMMANDS {
        command = command.mut_subcommand(name, |sub| with_defaults(sub, &config));
    }
    // It is set once a process.
    let _ = CURRENT.set(config);
    Ok(command)
}

/// The file in a folder or the nearest one above it.
fn found_from(folder: &Path) -> Option<PathBuf> {
    folder.ancestors().map(|f| f.join(NAME)).find(|f| f.is_file())
}

/// # Errors
/// The key that is wrong, and the nearest known one.
fn read(text: &str, file: &Path, command: &Command) -> Result<Config, String> {
    let table: Table = text.parse().map_err(|e: toml::de::Error| e.to_string().trim_end().to_string())?;
    let mut config = Config { file: file.to_path_buf(), ..Config::default() };
    for (key, value) in table {
        match (key.as_str(), value) {
            ("settled", value) => config.settled = settled(&value)?,
            ("dialect", Value::Table(dialects)) => {
                config.settings = dialects.into_iter().map(dialect_settings).collect::<Result<_, _>>()?;
            }
            ("engine", Value::Table(engines)) => config.engines = engines.into_iter().map(engine).collect::<Result<_, _>>()?,
            (name, Value::Table(options)) if COMMANDS.contains(&name) => {
                let known = keys_of(command, &[name]);
                options.keys().try_for_each(|key| check_key(key, &known, &format!("[{name}] ")))?;
                config.commands.insert(name.to_string(), options);
            }
            (name, value) => {
                let mut known = keys_of(command, &COMMANDS);
                known.extend(OTHER_KEYS.iter().chain(&COMMANDS).map(ToString::to_string));
                check_key(name, &known, "")?;
                config.options.insert(name.to_string(), value);
            }
        }
    }
    Ok(config)
}

/// The keys of the options of commands.
fn keys_of(command: &Command, names: &[&str]) -> Vec<String> {
    let commands = command.get_subcommands().filter(|sub| names.contains(&sub.get_name()));
    commands.flat_map(Command::get_arguments).filter(|arg| has_key(arg)).map(key_of).collect()
}

fn has_key(arg: &Arg) -> bool {
    !NO_KEYS.contains(&arg.get_id().as_str())
}

fn key_of(arg: &Arg) -> String {
    arg.get_id().as_str().to_string()
}

fn check_key(key: &str, known: &[String], table: &str) -> Result<(), String> {
    if known.iter().any(|own| own == key) {
        return Ok(());
    }
    let near = nearest(key, known.iter().map(String::as_str)).map_or(String::new(), |near| format!("; did you mean {near}?"));
    Err(format!("there is no key {table}{key}{near}"))
}

/// The codes of `settled`: notes that tell of an assumption or a difference.
fn settled(value: &Value) -> Result<Vec<String>, String> {
    let codes = strings(value).ok_or("settled is a list of codes of notes: settled = [\"text.collation\"]")?;
    for code in &codes {
        let is_phrase = meaning::phrases().any(|(_, phrase)| phrase.id == code);
        match meaning::code_fact(code) {
            Some(fact) if fact.fidelity >= Fidelity::Refused => {
                return Err(format!("settled: what {code} tells of is refused, and can't be settled"));
            }
            None if !is_phrase => {
                let codes = meaning::CODES.iter().map(|fact| fact.code);
                let near = nearest(code, codes).map_or(String::new(), |near| format!("; did you mean {near}?"));
                return Err(format!("settled: there is no note {code}{near}"));
            }
            _ => {}
        }
    }
    Ok(codes)
}

fn dialect_settings((name, value): (String, Value)) -> Result<(DialectName, BTreeMap<String, String>), String> {
    let dialect: Dialect = name.parse().map_err(|e: syntax::DialectError| format!("[dialect.{name}]: {e}"))?;
    let Value::Table(settings) = value else { return Err(format!("dialect.{name} is a table of settings: [dialect.{name}]")) };
    let settings = settings.into_iter().map(|(key, value)| (key, text(&value).unwrap_or_else(|| value.to_string()))).collect();
    Ok((dialect.name, settings))
}

fn engine((name, value): (String, Value)) -> Result<(String, String), String> {
    let table = value.as_table().ok_or_else(|| format!("engine.{name} is a table: [engine.{name}]"))?;
    table.keys().try_for_each(|key| check_key(key, &["url".to_string()], &format!("[engine.{name}] ")))?;
    let url = table.get("url").and_then(text).ok_or_else(|| format!("[engine.{name}] wants url = \"..\""))?;
    Ok((name, url))
}

/// A value as an option takes it.
fn text(value: &Value) -> Option<String> {
    match value {
        Value::String(text) => Some(text.clone()),
        Value::Integer(_) | Value::Float(_) | Value::Boolean(_) => Some(value.to_string()),
        _ => None,
    }
}

fn strings(value: &Value) -> Option<Vec<String>> {
    match value {
        Value::Array(items) => items.iter().map(text).collect(),
        other => text(other).map(|one| vec![one]),
    }
}

/// A command whose options have the configured values as defaults.
fn with_defaults(command: Command, config: &Config) -> Command {
    let own = config.commands.get(command.get_name()).cloned().unwrap_or_default();
    let ids: Vec<String> = command.get_arguments().filter(|arg| has_key(arg)).map(key_of).collect();
    ids.into_iter().fold(command, |command, id| {
        let Some(values) = own.get(&id).or_else(|| config.options.get(&id)).and_then(strings) else { return command };
        let values = if PATHS.contains(&id.as_str()) { values.iter().map(|path| config.placed(path)).collect() } else { values };
        command.mut_arg(id, |arg| with_default(arg, values))
    })
}

fn with_default(arg: Arg, values: Vec<String>) -> Arg {
    match arg.get_action() {
        ArgAction::SetTrue if values == ["true"] => arg.default_value("true"),
        ArgAction::SetTrue => arg,
        ArgAction::Append => arg.required(false).default_values(values),
        _ => arg.required(false).default_values(values.into_iter().take(1)),
    }
}

impl Config {
    /// A path of the file; an address stays as it is.
    fn placed(&self, path: &str) -> String {
        let folder = self.file.parent().unwrap_or(Path::new("."));
        if path.contains("://") { path.to_string() } else { folder.join(path).to_string_lossy().into_owned() }
    }

    /// The address of an engine that has a name here.
    pub(crate) fn engine(&self, name: &str) -> Option<&str> {
        self.engines.get(name).map(String::as_str)
    }

    /// A dialect with its configured settings.
    pub(crate) fn with_settings(&self, dialect: &mut Dialect) {
        if let Some(settings) = self.settings.get(&dialect.name) {
            dialect.settings.extend(settings.iter().map(|(key, value)| (key.clone(), value.clone())));
        }
    }
}

#[cfg(test)]
#[allow(clippy::expect_used, clippy::unwrap_used)] // A failing test may end loudly.
mod tests {
    use clap::CommandFactory;

    use super::*;
    use crate::arguments::Program;

    const PAGE: &str = include_str!("../../../docs/configuration.md");

    #[test]
    fn every_key_is_documented_and_no_other() {
        let keys = keys_of(&Program::command(), &COMMANDS);
        let documented: Vec<&str> = PAGE.lines().filter_map(|line| line.strip_prefix("| `")?.split('`').next()).collect();
        let missing: Vec<&String> = keys.iter().filter(|key| !documented.contains(&key.as_str())).collect();
        let unknown: Vec<&&str> = documented.iter().filter(|key| !keys.iter().any(|own| own == **key)).collect();
        assert!(missing.is_empty() && unknown.is_empty(), "not documented: {missing:?}; documented, but no key: {unknown:?}");
    }

    #[test]
    fn examples_are_read() {
        for example in PAGE.split("```toml\n").skip(1).map(|part| part.split("```").next().unwrap()) {
            let config = read(example, Path::new("/tarn/inland-ferry.toml"), &Program::command()).expect(example);
            let check = config.commands.get("check").expect("a table");
            assert_eq!((config.engine("staging").is_some(), check.len(), config.placed("a.sql")), (true, 2, "/tarn/a.sql".into()));
        }
    }

    #[test]
    fn errors_name_the_nearest_key() {
        for (text, part) in [
            ("frm = 'oracle'", "there is no key frm; did you mean from?"),
            ("[check]\ntrails = 1", "there is no key [check] trails; did you mean trials?"),
            ("settled = ['text.colation']", "did you mean text.collation?"),
            ("settled = ['construct.not-translated']", "can't be settled"),
            ("[dialect.oracel]\na = 1", "did you mean 'oracle'?"),
            ("[engine.weir]\nuri = 'x'", "there is no key [engine.weir] uri; did you mean url?"),
            ("from = ", "TOML parse error at line 1"),
        ] {
            let error = read(text, Path::new("x"), &Program::command()).err().unwrap_or_default();
            assert!(error.contains(part), "{text}: {error}");
        }
    }
}
