//! `phrases` and `phrases verify`.

use std::collections::BTreeMap;
use std::fmt::Write as _;
use std::time::Instant;

use check::proof::{Example, Proof, examples, is_said, prove};
use engines::Engine;
use indicatif::{ProgressBar, ProgressStyle};
use meaning::{Phrase, phrases};

use crate::arguments::{PhrasesArguments, PhrasesCommand, VerifyArguments};
use crate::connect::{address, connect};
use crate::{Done, Ending, Usage, show};

mod list;

pub(crate) use list::said;

pub(crate) fn command(arguments: &PhrasesArguments) -> Done {
    match &arguments.verify {
        Some(PhrasesCommand::Verify(arguments)) => verify(arguments),
        None => list::command(&arguments.list),
    }
}

/// An example that did not come out as the book says.
struct Failure {
    example: Example,
    got: String,
}

fn verify(arguments: &VerifyArguments) -> Done {
    let address = address(Some(&arguments.on), &syntax::DialectName::Sqlite.into())?;
    let Some(mut engine) = connect(&address, &arguments.access) else { return Ok(Ending { engine: true, ..Ending::default() }) };
    let wanted = |phrase: &Phrase| {
        arguments.area.as_deref().is_none_or(|a| phrase.area() == a) && arguments.phrase.as_deref().is_none_or(|id| phrase.id == id)
    };
    if !phrases().any(|(_, p)| wanted(p)) {
        return Err(unknown(arguments));
    }
    let asked: Vec<Example> = examples(engine.dialect()).into_iter().filter(|e| wanted(e.id.phrase())).collect();
    let started = Instant::now();
    let (passed, failures) = match run(&asked, &mut *engine) {
        Ok(found) => found,
        Err(error) => {
            show::error(&error.to_string());
            return Ok(Ending { engine: true, ..Ending::default() });
        }
    };
    for failure in &failures {
        show_failure(failure);
    }
    let silent = phrases().filter(|(_, p)| wanted(p) && !is_said(p, engine.dialect())).count();
    println!(
        "{}: {} passed, {} failed, {} not said there; {:.1} s",
        engine.name(),
        show::count(asked.len() - failures.len(), "example"),
        failures.len(),
        show::count(silent, "phrase"),
        started.elapsed().as_secs_f64()
    );
    if let Some(path) = &arguments.record {
        std::fs::write(path, record(&passed, &*engine)).map_err(|e| Usage::new(format!("{}: {e}", path.display())))?;
    }
    Ok(Ending { difference: !failures.is_empty(), ..Ending::default() })
}

/// Of what is asked for there is nothing in the book.
fn unknown(arguments: &VerifyArguments) -> Usage {
    match (&arguments.phrase, &arguments.area) {
        (Some(id), _) => Usage::new(format!("there is no phrase '{id}'{}", near(id, phrases().map(|(_, p)| p.id).collect()))),
        (None, area) => list::unknown_area(area.as_deref().unwrap_or_default()),
    }
}

/// `; did you mean ..?`
fn near(given: &str, known: Vec<&'static str>) -> String {
    syntax::nearest(given, known).map_or(String::new(), |near| format!("; did you mean '{near}'?"))
}

/// How many examples of each phrase passed, and those that did not.
fn run(asked: &[Example], engine: &mut dyn Engine) -> Result<(BTreeMap<&'static str, usize>, Vec<Failure>), engines::EngineError> {
    let bar = ProgressBar::new(asked.len() as u64);
    if let Ok(style) = ProgressStyle::with_template("{bar:30} {pos} of {len} examples, {elapsed}") {
        bar.set_style(style);
    }
    let (mut passed, mut failures) = (BTreeMap::new(), Vec::new());
    for example in asked {
        match prove(example, engine)? {
            Proof::Passed => *passed.entry(example.id.phrase().id).or_default() += 1,
            Proof::Failed(got) => failures.push(Failure { example: example.clone(), got }),
        }
        bar.inc(1);
    }
    bar.finish_and_clear();
    Ok((passed, failures))
}

fn show_failure(failure: &Failure) {
    let example = &failure.example;
    println!("{}: {}", example.id.phrase().id, example.sql);
    println!("  the book says {}, the engine gives {}", example.gives, failure.got);
}

/// What passed, as the book keeps it.
fn record(passed: &BTreeMap<&'static str, usize>, engine: &dyn Engine) -> String {
    // Where it runs is of no matter.
    let name = engine.name();
    let name = name.split(" at ").next().unwrap_or(&name);
    let mut out = format!("engine = {:?}\n\n[passed]\n", name.split(" through ").next().unwrap_or(name));
    for (id, count) in passed {
        writeln!(out, "{id:?} = {count}").unwrap_or_default();
    }
    out
}
