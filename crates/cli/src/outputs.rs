//! Writing translations as files, so that nothing is overwritten that a person wrote.
//!
//! 1. No two inputs share an output, and no input is written to: both are errors before anything is written.
//! 2. A file that is there already is replaced only if it still is what an earlier run wrote, or with
//!    `--overwrite`. A record beside the outputs has the hashes of what was written.
//! 3. Each file is written beside its place and then renamed into it: a reader sees the old text or the new one.

use std::collections::{BTreeMap, HashMap};
use std::io::Write;
use std::path::{Path, PathBuf};

use sha2::{Digest, Sha256};

use crate::Usage;
use crate::input::Input;

/// The record of what was written, in the outputs' folder.
const RECORD: &str = ".inland-ferry-outputs";

/// One file to write.
pub(crate) struct Output<'a> {
    pub(crate) path: PathBuf,
    pub(crate) text: &'a str,
}

/// Writes the files into `folder` or below it. Returns those that were kept because somebody changed them.
pub(crate) fn write_all(folder: &Path, outputs: &[Output<'_>], inputs: &[Input], overwrite: bool) -> Result<Vec<PathBuf>, Usage> {
    refuse_shared(outputs)?;
    refuse_inputs(outputs, inputs)?;
    std::fs::create_dir_all(folder).map_err(|e| failed(folder, &e))?;
    let mut record = Record::read(folder)?;
    let mut kept = Vec::new();
    for output in outputs {
        match std::fs::read(&output.path) {
            Ok(there) if there != output.text.as_bytes() && !overwrite && !record.wrote(&output.path, &there) => {
                kept.push(output.path.clone());
                continue;
            }
            Ok(_) => {}
            Err(e) if e.kind() == std::io::ErrorKind::NotFound => {}
            Err(e) => return Err(failed(&output.path, &e)),
        }
        write(&output.path, output.text.as_bytes())?;
        record.add(&output.path, output.text.as_bytes());
    }
    record.save()?;
    Ok(kept)
}

fn failed(path: &Path, error: &std::io::Error) -> Usage {
    Usage::new(format!("{}: {error}", path.display()))
}

/// Two outputs in one place; letters of another case are the same file on some systems.
fn refuse_shared(outputs: &[Output<'_>]) -> Result<(), Usage> {
    let mut seen: HashMap<String, &Path> = HashMap::new();
    for output in outputs {
        if let Some(other) = seen.insert(output.path.to_string_lossy().to_lowercase(), &output.path) {
            return Err(Usage::new(format!(
                "{} and {} would be one file; translate them into two folders",
                other.display(),
                output.path.display()
            )));
        }
    }
    Ok(())
}

fn refuse_inputs(outputs: &[Output<'_>], inputs: &[Input]) -> Result<(), Usage> {
    let read: Vec<&Path> = inputs.iter().filter_map(|i| i.file.as_deref()).collect();
    for output in outputs {
        if std::fs::canonicalize(&output.path).is_ok_and(|path| read.contains(&path.as_path())) {
            return Err(Usage::new(format!("{} is an input and is not written to; give --output another place", output.path.display())));
        }
    }
    Ok(())
}

/// Beside its place first, then renamed into it.
fn write(path: &Path, bytes: &[u8]) -> Result<(), Usage> {
    let folder = path.parent().filter(|p| !p.as_os_str().is_empty()).unwrap_or(Path::new("."));
    std::fs::create_dir_all(folder).map_err(|e| failed(folder, &e))?;
    let mut builder = tempfile::Builder::new();
    builder.prefix(".inland-ferry-").suffix(".part");
    #[cfg(unix)]
    builder.permissions(std::os::unix::fs::PermissionsExt::from_mode(0o666));
    let mut file = builder.tempfile_in(folder).map_err(|e| failed(folder, &e))?;
    file.write_all(bytes).map_err(|e| failed(path, &e))?;
    file.persist(path).map_err(|e| failed(path, &e.error))?;
    Ok(())
}

/// The hashes of the files that earlier runs wrote, by their paths below the folder: a line each.
struct Record {
    folder: PathBuf,
    hashes: BTreeMap<String, String>,
    changed: bool,
}

impl Record {
    fn read(folder: &Path) -> Result<Record, Usage> {
        let path = folder.join(RECORD);
        let text = match std::fs::read_to_string(&path) {
            Ok(text) => text,
            Err(e) if e.kind() == std::io::ErrorKind::NotFound => String::new(),
            Err(e) => return Err(failed(&path, &e)),
        };
        let lines = text.lines().filter(|line| !line.starts_with('#')).filter_map(|line| line.split_once("  "));
        let hashes = lines.map(|(hash, name)| (name.to_string(), hash.to_string())).collect();
        Ok(Record { folder: folder.to_path_buf(), hashes, changed: false })
    }

    fn name(&self, path: &Path) -> String {
        path.strip_prefix(&self.folder).unwrap_or(path).to_string_lossy().replace('\\', "/")
    }

    fn wrote(&self, path: &Path, bytes: &[u8]) -> bool {
        self.hashes.get(&self.name(path)).is_some_and(|hash| *hash == hash_of(bytes))
    }

    fn add(&mut self, path: &Path, bytes: &[u8]) {
        let hash = hash_of(bytes);
        let old = self.hashes.insert(self.name(path), hash.clone());
        self.changed |= old != Some(hash);
    }

    fn save(&self) -> Result<(), Usage> {
        if !self.changed {
            return Ok(());
        }
        let mut text = "# What inland-ferry wrote here: a file that no longer has its hash was changed by hand and is kept.\n".to_string();
        for (name, hash) in &self.hashes {
            text.push_str(&format!("{hash}  {name}\n"));
        }
        write(&self.folder.join(RECORD), text.as_bytes())
    }
}

fn hash_of(bytes: &[u8]) -> String {
    Sha256::digest(bytes).iter().map(|byte| format!("{byte:02x}")).collect()
}
