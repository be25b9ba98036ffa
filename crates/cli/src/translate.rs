//! `translate`.

use std::path::{Path, PathBuf};

use meaning::{Catalog, Fidelity};
use rayon::prelude::*;
use serde_json::{Value as Json, json};
use syntax::{Dialect, LayoutStyle};
use translate::{NullOrderPolicy, Options, Script, Translated, translate_text};

use crate::arguments::{Drafts, Labels, Layout, Notes, NullOrder, Source, Strict, TranslateArguments};
use crate::diagnose::Lines;
use crate::input::{self, Input};
use crate::notes::show_notes;
use crate::outputs::{self, Output};
use crate::summary::Summary;
use crate::{Done, Ending, Usage, config};

/// The options both commands share.
pub(crate) fn options(source: &Source) -> Options {
    let null_order = match source.null_order {
        NullOrder::Keep => NullOrderPolicy::Keep,
        NullOrder::Ignore => NullOrderPolicy::Ignore,
    };
    Options { null_order, keep_labels: source.labels == Labels::Keep, settled: config::current().settled.clone(), ..Options::default() }
}

pub(crate) fn command(arguments: &TranslateArguments) -> Done {
    let source = &arguments.source;
    if arguments.to.len() > 1 && arguments.output.is_none() {
        return Err(Usage::new("several --to need --output DIR, which gets a folder a dialect"));
    }
    let inputs = input::read_all_but(&source.paths, arguments.output.as_deref())?;
    let catalog = input::catalog(source, &source.from)?;
    tracing::info!("{} files read; {} tables known", inputs.len(), catalog.schema.tables.len());
    let inline = match arguments.notes {
        Some(notes) => notes == Notes::Inline,
        None => arguments.output.is_some(),
    };
    let mut options = options(source);
    options.inline_notes = inline;
    options.steps = arguments.steps;
    options.drafts = arguments.drafts == Drafts::On;
    options.layout = if arguments.layout == Layout::Tidy { LayoutStyle::Tidy } else { LayoutStyle::Keep };
    let mut ending = Ending::default();
    let mut statements = Vec::new();
    let mut summary = Summary::default();
    let mut all_scripts = Vec::new();
    for to in &arguments.to {
        let scripts = translate_all(&inputs, &source.from, to, &catalog, &options);
        tracing::info!("{} files translated from {} to {to}", inputs.len(), source.from);
        for (input, script) in inputs.iter().zip(&scripts) {
            ending.refused |= script.statements.iter().any(|s| too_weak(s, arguments.strict));
            if source.json {
                let lines = Lines::of(&input.text);
                statements.extend(script.statements.iter().map(|s| statement_json(s, input, &lines, &source.from, to)));
            }
            summary.add(script);
            if !source.json {
                if arguments.steps {
                    show_steps(script);
                }
                if !inline {
                    show_notes(input, script, arguments.each, arguments.detail);
                }
            }
            if arguments.output.is_none() && !source.json {
                print_text(&script.text);
            }
        }
        all_scripts.push(scripts);
    }
    if source.json {
        println!("{:#}", json!({ "version": 1, "statements": statements }));
    } else {
        summary.show(&arguments.to, arguments.each);
    }
    if let Some(output) = &arguments.output {
        write_outputs(arguments, output, &inputs, &all_scripts)?;
    }
    Ok(ending)
}

/// Strings are independent of each other.
fn translate_all(inputs: &[Input], from: &Dialect, to: &Dialect, catalog: &Catalog, options: &Options) -> Vec<Script> {
    if inputs.len() == 1 {
        return vec![translate_text(&inputs[0].text, from, to, catalog, options)];
    }
    inputs.par_iter().map(|input| translate_text(&input.text, from, to, catalog, options)).collect()
}

fn print_text(text: &str) {
    print!("{text}");
    if !text.is_empty() && !text.ends_with('\n') {
        println!();
    }
}

fn too_weak(statement: &Translated, strict: Option<Strict>) -> bool {
    let least = match strict {
        Some(Strict::Exact) => Fidelity::Exact,
        Some(Strict::Assumes) => Fidelity::Assumes,
        Some(Strict::Differs) | None => Fidelity::Differs,
    };
    statement.fidelity > least
}

/// The folder of the outputs, and the place in it of each input's translation.
fn output_place(output: &Path, to: &Dialect, input: &Input, many_targets: bool, many_inputs: bool) -> PathBuf {
    let is_folder = many_targets || many_inputs || output.is_dir() || output.to_string_lossy().ends_with('/');
    let mut path = output.to_path_buf();
    if many_targets {
        path.push(to.name.as_str());
    }
    if is_folder {
        path.push(&input.relative);
    }
    path
}

/// Writes all translations; tells of files that were kept.
fn write_outputs(arguments: &TranslateArguments, output: &Path, inputs: &[Input], scripts: &[Vec<Script>]) -> Result<(), Usage> {
    let (many_targets, many_inputs) = (scripts.len() > 1, inputs.len() > 1);
    let mut outputs = Vec::new();
    for (to, scripts) in arguments.to.iter().zip(scripts) {
        for (input, script) in inputs.iter().zip(scripts) {
            outputs.push(Output { path: output_place(output, to, input, many_targets, many_inputs), text: &script.text });
        }
    }
    let single = matches!(outputs.as_slice(), [only] if only.path == output);
    let folder = if single { output.parent().filter(|p| !p.as_os_str().is_empty()).unwrap_or(Path::new(".")) } else { output };
    let kept = outputs::write_all(folder, &outputs, inputs, arguments.overwrite)?;
    if kept.is_empty() {
        return Ok(());
    }
    let names: Vec<String> = kept.iter().map(|path| format!("  {}", path.display())).collect();
    Err(Usage::new(format!(
        "not written, as {} changed by hand or made by another program; --overwrite replaces what is there:\n{}",
        if kept.len() == 1 { "this file was" } else { "these files were" },
        names.join("\n"),
    )))
}

fn show_steps(script: &Script) {
    for statement in &script.statements {
        for (why, text) in &statement.steps {
            eprintln!("-- line {}: {why}\n{text}\n", statement.line);
        }
    }
}

/// One statement for --json.
fn statement_json(statement: &Translated, input: &Input, lines: &Lines<'_>, from: &Dialect, to: &Dialect) -> Json {
    let notes: Vec<Json> = statement
        .notes
        .iter()
        .map(|placed| {
            let (line, column) = lines.place(placed.place.start);
            let (end_line, end_column) = lines.place(placed.place.end);
            let note = &placed.note;
            json!({
                "code": note.code, "subject": note.subject, "settled": note.settled, "fidelity": note.fidelity.as_str(), "message": note.message, "advice": note.advice,
                "line": line, "column": column, "end_line": end_line, "end_column": end_column, "probe": statement.probe(&input.text, from, placed).map(|p| p.count),
            })
        })
        .collect();
    json!({
        "id": format!("{}:{}", input.name, statement.line),
        "file": input.name,
        "line": statement.line,
        "from": from.to_string(),
        "to": to.to_string(),
        "source": input.text.get(statement.place.start..statement.place.end),
        "sql": statement.sql,
        "draft": statement.draft,
        "fidelity": statement.fidelity.as_str(),
        "notes": notes,
    })
}
