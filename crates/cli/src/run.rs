//! `run`.

use std::borrow::Cow;
use std::io::{BufWriter, StdoutLock, Write};
use std::time::{Duration, Instant};

use engines::{Collected, Dataset, Engine, EngineError, Sink, Warning, csv_line, csv_text};
use serde_json::json;
use syntax::tree::StatementKind;
use syntax::{Statements, lex};
use values::{Row, Value};

use crate::arguments::RunArguments;
use crate::connect::{address, connect};
use crate::diagnose::{Finding, Kind, Lines, render};
use crate::grid::{Look, show_result};
use crate::input::{self, Input};
use crate::{Done, Ending, Usage, show};

/// Rows shown on a terminal; files get all of them.
const SHOWN_ROWS: usize = 1000;

pub(crate) fn command(arguments: &RunArguments) -> Done {
    let paths: Vec<_> = arguments.path.iter().cloned().collect();
    let inputs = input::read_all(&paths)?;
    let address = address(Some(&arguments.on), &syntax::DialectName::Sqlite.into())?;
    let failed = Ending { engine: true, ..Ending::default() };
    let Some(mut engine) = connect(&address, &arguments.access) else { return Ok(failed) };
    if let Some(folder) = &arguments.data {
        let dialect = engine.dialect().clone();
        let data = Dataset::read(folder, &dialect).map_err(|e| Usage::new(e.to_string()))?.1;
        if let Err(error) = engine.load(&data.tables) {
            show::error(&format!("{}: {error}", engine.name()));
            return Ok(failed);
        }
    }
    engine.set_seed(arguments.seed);
    let statements: Vec<Statement> = inputs.iter().flat_map(|input| statements(input, &*engine)).collect();
    if statements.is_empty() {
        eprintln!("no statement found");
        return Ok(Ending::default());
    }
    let mut output = Output::of(arguments, statements.len());
    let mut ending = Ending::default();
    for statement in &statements {
        if let Err(error) = output.run(statement, &mut *engine) {
            show_failure(statement, &error, &*engine);
            ending.engine = true;
            // What would follow was written for an engine that is there.
            if engines::is_stopped() || matches!(error, EngineError::Lost { .. }) {
                break;
            }
        }
    }
    output.finish();
    Ok(ending)
}

/// A statement of an input.
struct Statement<'a> {
    input: &'a Input,
    start: usize,
    end: usize,
}

impl Statement<'_> {
    fn sql(&self) -> &str {
        &self.input.text[self.start..self.end]
    }
}

/// Each statement but a client's own commands. What we can't read, the engine may.
fn statements<'a>(input: &'a Input, engine: &dyn Engine) -> Vec<Statement<'a>> {
    let dialect = engine.dialect();
    let tokens = lex(&input.text, dialect);
    Statements::new(&input.text, &tokens, dialect)
        .filter(|parsed| !parsed.tree.as_ref().is_ok_and(|t| matches!(t.kind, StatementKind::Directive)))
        .map(|parsed| {
            let start = tokens[parsed.span.first as usize].start as usize;
            let end = tokens[(parsed.span.end as usize).saturating_sub(1)].end as usize;
            Statement { input, start, end }
        })
        .collect()
}

fn show_failure(statement: &Statement<'_>, error: &EngineError, engine: &dyn Engine) {
    let (start, end) = (statement.start, statement.end);
    let (from, to) = match error {
        EngineError::Query { place: Some((a, b)), .. } => (start + a, (start + b).min(end)),
        _ => (start, end),
    };
    let names_engine = matches!(error, EngineError::Lost { .. } | EngineError::Unreachable { .. });
    let message = if names_engine { error.to_string() } else { format!("{}: {error}", engine.name()) };
    let finding = Finding {
        file: &statement.input.name,
        source: &statement.input.text,
        start: from,
        end: to,
        at: Lines::of(&statement.input.text).place(from),
        kind: Kind::Failed,
        code: "",
        message: &message,
        advice: None,
        elsewhere: None,
        excerpt: true,
    };
    eprintln!("{}", render(&finding, 0));
}

/// Says what the engine warned of, or fails with the warning that spoils the result.
fn heed(warnings: Vec<Warning>) -> Result<(), EngineError> {
    if let Some(warning) = warnings.iter().find(|w| w.spoils) {
        return Err(EngineError::Spoiled { warning: warning.clone() });
    }
    warnings.iter().for_each(|w| eprintln!("{w}"));
    Ok(())
}

/// Where rows go.
enum Output {
    Terminal { look: Look, cap: usize, several: bool },
    Csv { cap: usize, is_first: bool },
    Json { cap: usize, is_first: bool },
}

impl Output {
    fn of(arguments: &RunArguments, statements: usize) -> Output {
        let all = arguments.row_cap.unwrap_or(usize::MAX);
        if arguments.json {
            print!("{{\"version\":1,\"results\":[");
            return Output::Json { cap: all, is_first: true };
        }
        if arguments.csv {
            return Output::Csv { cap: all, is_first: true };
        }
        let look = Look { blanks: arguments.show_blanks, turn: arguments.turn };
        Output::Terminal { look, cap: arguments.row_cap.unwrap_or(SHOWN_ROWS), several: statements > 1 }
    }

    fn run(&mut self, statement: &Statement<'_>, engine: &mut dyn Engine) -> Result<(), EngineError> {
        match self {
            Output::Terminal { look, cap, several } => {
                if *several {
                    let line = Lines::of(&statement.input.text).line(statement.start);
                    println!("{}", show::faint(&format!("{}:{line}", statement.input.name)));
                }
                let began = Instant::now();
                let mut collected = Collected::new(*cap);
                let warnings = engine.run(statement.sql(), &mut collected)?;
                heed(warnings)?;
                show_rows(&collected, *look, began.elapsed(), *cap);
            }
            Output::Csv { cap, is_first } => {
                let mut sink = CsvSink { out: buffered(), cap: Capped::new(*cap), gap: !*is_first };
                let ran = engine.run(statement.sql(), &mut sink);
                *is_first &= !sink.cap.has_columns;
                let _ = sink.out.flush();
                sink.cap.tell();
                heed(ran?)?;
            }
            Output::Json { cap, is_first } => {
                let mut sink = JsonSink { out: buffered(), cap: Capped::new(*cap) };
                let _ = sink.out.write_all(if *is_first { b"\n" } else { b",\n" });
                *is_first = false;
                let ran = engine.run(statement.sql(), &mut sink).and_then(heed);
                sink.end(ran.as_ref().err());
                sink.cap.tell();
                ran?;
            }
        }
        Ok(())
    }

    fn finish(&self) {
        if let Output::Json { .. } = self {
            println!("\n]}}");
        }
    }
}

fn show_rows(collected: &Collected, look: Look, took: Duration, cap: usize) {
    let seconds = took.as_secs_f64();
    let result = &collected.result;
    if result.columns.is_empty() {
        println!("{}\n", show::faint(&format!("done, {seconds:.3} s")));
        return;
    }
    show_result(result, look);
    let cut =
        if collected.cut { format!("; there are more, --row-cap {} shows more of them", cap.saturating_mul(10)) } else { String::new() };
    println!("{}\n", show::faint(&format!("{}, {seconds:.3} s{cut}", show::count(result.rows.len(), "row"))));
}

// --- rows to a pipe or file -----------------------------------------------------------------------

fn buffered() -> BufWriter<StdoutLock<'static>> {
    BufWriter::with_capacity(1 << 16, std::io::stdout().lock())
}

/// Counts rows up to a cap.
struct Capped {
    left: usize,
    cap: usize,
    cut: bool,
    has_columns: bool,
}

impl Capped {
    fn new(cap: usize) -> Capped {
        Capped { left: cap, cap, cut: false, has_columns: false }
    }

    /// Whether one more row is written.
    fn takes(&mut self) -> bool {
        self.cut = self.left == 0;
        self.left = self.left.saturating_sub(1);
        !self.cut
    }

    /// A file that was cut doesn't show it: a message must say so.
    fn tell(&self) {
        if self.cut {
            eprintln!("cut after {}: --row-cap is {}", show::count(self.cap, "row"), self.cap);
        }
    }
}

struct CsvSink {
    out: BufWriter<StdoutLock<'static>>,
    cap: Capped,
    /// A blank line parts this result from the one before.
    gap: bool,
}

impl Sink for CsvSink {
    fn columns(&mut self, labels: Vec<String>, _: Vec<String>) {
        self.cap.has_columns = !labels.is_empty();
        if self.cap.has_columns {
            let line = csv_line(labels.iter().map(|l| Some(Cow::Borrowed(l.as_str()))));
            let _ = self.out.write_all(if self.gap { b"\n" } else { b"" }).and_then(|()| self.out.write_all(line.as_bytes()));
        }
    }

    fn row(&mut self, row: Row) -> bool {
        self.cap.takes() && self.out.write_all(csv_line(row.iter().map(csv_text)).as_bytes()).is_ok()
    }

    fn most(&self) -> Option<usize> {
        self.cap.cap.checked_add(1)
    }
}

struct JsonSink {
    out: BufWriter<StdoutLock<'static>>,
    cap: Capped,
}

impl Sink for JsonSink {
    fn columns(&mut self, labels: Vec<String>, types: Vec<String>) {
        let types = types.into_iter().map(Some).chain(std::iter::repeat(None));
        let columns: Vec<_> =
            labels.into_iter().zip(types).map(|(name, t)| json!({ "name": name, "type": t.unwrap_or_default() })).collect();
        let _ = write!(self.out, "{{\"columns\":{},\"rows\":[", json!(columns));
        self.cap.has_columns = true;
    }

    fn row(&mut self, row: Row) -> bool {
        let is_first = self.cap.left == self.cap.cap;
        if !self.cap.takes() {
            return false;
        }
        let cells: Vec<_> = row.iter().map(Value::to_json).collect();
        write!(self.out, "{}\n{}", if is_first { "" } else { "," }, json!(cells)).is_ok()
    }

    fn most(&self) -> Option<usize> {
        self.cap.cap.checked_add(1)
    }
}

impl JsonSink {
    fn end(&mut self, error: Option<&EngineError>) {
        if !self.cap.has_columns {
            let _ = self.out.write_all(b"{\"columns\":[],\"rows\":[");
        }
        let error = error.map_or(String::new(), |e| format!(",\"error\":{}", json!(e.to_string())));
        let cut = if self.cap.cut { ",\"cut\":true" } else { "" };
        let _ = write!(self.out, "]{error}{cut}}}").and_then(|()| self.out.flush());
    }
}
