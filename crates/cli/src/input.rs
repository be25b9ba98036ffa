//! Reading what the user gives: files, folders, standard input.

use std::io::Read;
use std::path::{Path, PathBuf};

use meaning::Catalog;
use syntax::Dialect;

use crate::Usage;
use crate::arguments::Source;

/// One text to work on.
#[derive(Debug, Clone)]
pub(crate) struct Input {
    /// As shown in messages.
    pub(crate) name: String,
    /// Below the inputs' common folder, for the output's tree.
    pub(crate) relative: PathBuf,
    /// The file; none for standard input.
    pub(crate) file: Option<PathBuf>,
    pub(crate) text: String,
}

/// All strings behind `paths`; standard input if there are none.
pub(crate) fn read_all(paths: &[PathBuf]) -> Result<Vec<Input>, Usage> {
    read_all_but(paths, None)
}

/// All strings behind `paths` but those in the folder `output`: an earlier run wrote them.
pub(crate) fn read_all_but(paths: &[PathBuf], output: Option<&Path>) -> Result<Vec<Input>, Usage> {
    if paths.is_empty() || paths == [PathBuf::from("-")] {
        let mut bytes = Vec::new();
        std::io::stdin().read_to_end(&mut bytes).map_err(|e| Usage::new(format!("standard input: {e}")))?;
        let text = decode(bytes, "standard input")?;
        return Ok(vec![Input { name: "stdin".to_string(), relative: PathBuf::from("stdin.sql"), file: None, text }]);
    }
    let output = output.and_then(|path| std::fs::canonicalize(path).ok());
    let mut files = Vec::new();
    for path in paths {
        if path.is_dir() {
            let before = files.len();
            if output.is_some() && std::fs::canonicalize(path).ok() == output {
                return Err(Usage::new(format!("{} is both input and output; give --output another folder", path.display())));
            }
            find_files(path, output.as_deref(), &mut files)?;
            if files.len() == before {
                return Err(Usage::new(format!("{}: no *.sql file in this folder or below it", path.display())));
            }
        } else {
            files.push(path.clone());
        }
    }
    let mut inputs: Vec<Input> = files.into_iter().map(read_file).collect::<Result<_, _>>()?;
    // A file that is named twice is one input.
    let mut seen = std::collections::HashSet::new();
    inputs.retain(|input| input.file.as_ref().is_none_or(|file| seen.insert(file.clone())));
    set_relative(&mut inputs, paths);
    Ok(inputs)
}

/// Gives each input its path below the folder that all of `paths` have in common.
fn set_relative(inputs: &mut [Input], paths: &[PathBuf]) {
    let folder_of = |path: &PathBuf| {
        let path = std::fs::canonicalize(path).ok()?;
        if path.is_dir() { Some(path) } else { path.parent().map(Path::to_path_buf) }
    };
    let shared = |a: PathBuf, b: PathBuf| a.components().zip(b.components()).take_while(|(a, b)| a == b).map(|(a, _)| a).collect();
    let Some(common) = paths.iter().filter_map(folder_of).reduce(shared) else { return };
    for input in inputs {
        if let Some(below) = input.file.as_ref().and_then(|file| file.strip_prefix(&common).ok()) {
            input.relative = below.to_path_buf();
        }
    }
}

fn find_files(folder: &Path, output: Option<&Path>, files: &mut Vec<PathBuf>) -> Result<(), Usage> {
    if output.is_some() && std::fs::canonicalize(folder).ok().as_deref() == output {
        return Ok(());
    }
    let failed = |e: std::io::Error| Usage::new(format!("{}: {e}", folder.display()));
    let mut entries: Vec<PathBuf> = std::fs::read_dir(folder).map_err(failed)?.filter_map(|e| e.ok().map(|e| e.path())).collect();
    entries.sort();
    for path in entries {
        if path.is_dir() {
            find_files(&path, output, files)?;
        } else if path.extension().is_some_and(|e| e.eq_ignore_ascii_case("sql")) {
            files.push(path);
        }
    }
    Ok(())
}

fn read_file(path: PathBuf) -> Result<Input, Usage> {
    let name = path.display().to_string();
    let bytes = std::fs::read(&path).map_err(|e| match e.kind() {
        std::io::ErrorKind::NotFound => Usage::new(format!("{name}: there is no such file or folder")),
        _ => Usage::new(format!("{name}: {e}")),
    })?;
    let relative = path.file_name().map_or_else(|| path.clone(), PathBuf::from);
    let file = std::fs::canonicalize(&path).ok();
    Ok(Input { text: decode(bytes, &name)?, name, relative, file })
}

/// UTF-8, or UTF-16 with its mark as some tools export it.
fn decode(bytes: Vec<u8>, name: &str) -> Result<String, Usage> {
    let wide = |order: fn([u8; 2]) -> u16| {
        let units: Vec<u16> = bytes[2..].chunks_exact(2).map(|c| order([c[0], c[1]])).collect();
        String::from_utf16(&units).map_err(|_| Usage::new(format!("{name}: this UTF-16 text is damaged; save it as UTF-8")))
    };
    if bytes.starts_with(&[0xff, 0xfe]) {
        return wide(u16::from_le_bytes);
    }
    if bytes.starts_with(&[0xfe, 0xff]) {
        return wide(u16::from_be_bytes);
    }
    if bytes.iter().take(8192).any(|b| *b == 0) {
        return Err(Usage::new(format!("{name}: this is a binary file, not SQL text")));
    }
    if bytes.len() > u32::MAX as usize / 2 {
        return Err(Usage::new(format!("{name}: {} MB are too many for one text; split the file", bytes.len() / 1_000_000)));
    }
    String::from_utf8(bytes).map_err(|e| {
        let at = e.utf8_error().valid_up_to();
        let line = e.as_bytes()[..at].split(|b| *b == b'\n').count();
        Usage::new(format!(
            "{name}: line {line} is not UTF-8 (byte {at}); save the file as UTF-8, for example with iconv -f windows-1252 -t utf-8"
        ))
    })
}

/// Adds the phrases of the user's files to the book.
fn add_phrases(paths: &[PathBuf]) -> Result<(), Usage> {
    if paths.is_empty() {
        return Ok(());
    }
    let read = |path: &PathBuf| read_file(path.clone()).map(|input| (path.display().to_string(), input.text));
    let files: Vec<(String, String)> = paths.iter().map(read).collect::<Result<_, _>>()?;
    meaning::add_phrases(&files).map_err(|e| Usage::new(e.to_string()))
}

/// A schema that isn't a file: the address of an engine.
fn url_of(path: &Path) -> Option<&str> {
    let text = path.to_str().filter(|_| !path.exists())?;
    let scheme = text.split_once(':')?.0;
    ["postgres", "postgresql", "mysql", "sqlite", "adbc", "bridge"].contains(&scheme).then_some(text)
}

/// The tables of a live engine.
fn live_catalog(url: &str) -> Result<Catalog, Usage> {
    let address: engines::Address = url.parse().map_err(|e: engines::AddressError| Usage::new(e.to_string()))?;
    let mut engine = engines::open(&address).map_err(|e| Usage::new(format!("--schema: {e}")))?;
    catalog_of(&mut *engine).map_err(|e| Usage::new(format!("--schema: {}: {e}", engine.name())))
}

/// What an engine's own catalog says of its tables.
pub(crate) fn catalog_of(engine: &mut dyn engines::Engine) -> Result<Catalog, engines::EngineError> {
    let captured = engines::capture(engine, &engines::CaptureOptions { patterns: Vec::new(), rows: 0 })?;
    let tables = captured.tables.into_iter().map(|(table, _)| table).collect();
    Ok(Catalog { schema: values::Schema { tables } })
}

/// The tables of a file; one that can't be read is reported, and the others are used.
fn schema_file(path: &Path, dialect: &Dialect) -> Result<Catalog, Usage> {
    let input = read_file(path.to_path_buf())?;
    let (catalog, errors) = Catalog::sound_ddl(&input.text, dialect);
    if catalog.schema.tables.is_empty() {
        let why = errors.first().map_or("no CREATE TABLE in this file".to_string(), ToString::to_string);
        return Err(Usage::new(format!("{}: {why}", path.display())));
    }
    for error in errors {
        crate::show::error(&format!("{}: {error}; the other tables are used", path.display()));
    }
    Ok(catalog)
}

/// The catalog that --schema and --assume give.
pub(crate) fn catalog(source: &Source, dialect: &Dialect) -> Result<Catalog, Usage> {
    add_phrases(&source.phrases)?;
    let mut catalog = Catalog::default();
    if let Some(path) = &source.schema {
        catalog = match url_of(path) {
            Some(url) => live_catalog(url)?,
            None => schema_file(path, dialect)?,
        };
    }
    for given in &source.assume {
        catalog.assume(given, dialect).map_err(|e| Usage::new(e.to_string()))?;
    }
    Ok(catalog)
}
