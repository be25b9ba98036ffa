//! The `inland-ferry` program: arguments, files, terminal output.

mod arguments;
mod capture;
mod check;
mod config;
mod connect;
mod demo;
mod diagnose;
mod explain;
mod grid;
mod input;
mod new;
mod notes;
mod outputs;
mod phrases;
mod run;
mod show;
mod summary;
mod translate;

use std::process::ExitCode;

use clap::{CommandFactory, FromArgMatches};

use arguments::{Command, Program};

#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

/// Deeply nested queries are walked by recursion; this much stack is reserved, not used.
const STACK: usize = 512 * 1024 * 1024;

/// How a run ended, reported to the shell. Where several apply, the first of usage, engine, difference,
/// refused wins.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub(crate) struct Ending {
    /// 4: an engine could not be reached or a query failed.
    pub(crate) engine: bool,
    /// 1: a difference was found.
    pub(crate) difference: bool,
    /// 3: a statement was refused, not read, or below the level asked for.
    pub(crate) refused: bool,
}

impl Ending {
    fn code(self) -> u8 {
        match (self.engine, self.difference, self.refused) {
            (true, ..) => 4,
            (_, true, _) => 1,
            (_, _, true) => 3,
            _ => 0,
        }
    }
}

/// A message for the user; the program ends with code 2.
#[derive(Debug)]
pub(crate) struct Usage(pub(crate) String);

impl Usage {
    pub(crate) fn new(message: impl Into<String>) -> Usage {
        Usage(message.into())
    }
}

pub(crate) type Done = Result<Ending, Usage>;

fn main() -> ExitCode {
    let program = match config::apply(Program::command()).map(|command| Program::from_arg_matches(&command.get_matches())) {
        Ok(Ok(program)) => program,
        Ok(Err(error)) => error.exit(),
        Err(Usage(message)) => {
            show::error(&message);
            return ExitCode::from(2);
        }
    };
    let level = match program.verbose {
        0 => tracing::Level::WARN,
        1 => tracing::Level::INFO,
        _ => tracing::Level::DEBUG,
    };
    tracing_subscriber::fmt().with_max_level(level).with_writer(std::io::stderr).without_time().init();
    end_on_interrupt();
    end_quietly_without_reader();
    let worker = std::thread::Builder::new().stack_size(STACK).spawn(move || dispatch(program.command));
    let done = match worker.map(std::thread::JoinHandle::join) {
        Ok(Ok(done)) => done,
        // The panic has printed itself; it is a mistake of ours.
        Ok(Err(_)) => return ExitCode::from(70),
        Err(error) => Err(Usage::new(format!("no thread could be started: {error}"))),
    };
    match done {
        Ok(_) if engines::is_stopped() => ExitCode::from(INTERRUPTED),
        Ok(ending) => ExitCode::from(ending.code()),
        Err(Usage(message)) => {
            show::error(&message);
            ExitCode::from(2)
        }
    }
}

/// What a program ended by Ctrl-C tells the shell.
const INTERRUPTED: u8 = 130;

/// Ctrl-C ends what runs on engines, so that what was loaded is dropped; a second one ends us.
fn end_on_interrupt() {
    let handler = || {
        if engines::is_stopped() {
            std::process::exit(i32::from(INTERRUPTED));
        }
        eprintln!("\nstopping: what was loaded is dropped first (Ctrl-C again ends at once)");
        engines::stop_all();
    };
    // Without a handler the shell's own ends us, and the next run sweeps.
    if let Err(error) = ctrlc::set_handler(handler) {
        tracing::info!("Ctrl-C can't be handled: {error}");
    }
}

/// `inland-ferry .. | head`: who reads no more has had enough, and nothing went wrong.
fn end_quietly_without_reader() {
    let as_usual = std::panic::take_hook();
    std::panic::set_hook(Box::new(move |panic| {
        let message = panic.payload().downcast_ref::<String>().map_or("", String::as_str);
        if message.contains("failed printing to stdout") {
            std::process::exit(0);
        }
        as_usual(panic);
    }));
}

fn dispatch(command: Command) -> Done {
    match command {
        Command::New => new::command(),
        Command::Translate(arguments) => translate::command(&arguments),
        Command::Check(arguments) => check::command(&arguments),
        Command::Run(arguments) => run::command(&arguments),
        Command::Explain { word } => explain::command(&word),
        Command::Phrases(arguments) => phrases::command(&arguments),
        Command::Capture(arguments) => capture::command(&arguments),
        Command::Demo(arguments) => demo::command(&arguments),
        Command::Completions { shell } => {
            let mut text = Vec::new();
            clap_complete::generate(shell, &mut Program::command(), "inland-ferry", &mut text);
            print!("{}", String::from_utf8_lossy(&text));
            Ok(Ending::default())
        }
    }
}
