//! A child process that speaks our bridge protocol, for engines without a driver of their own here.
//! docs/bridges.md describes the protocol.

mod wire;

use std::io::{BufRead, BufReader, Read, Write};
use std::process::{Child, ChildStdin, ChildStdout, Command, Stdio};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};

use serde_json::{Value as Json, json};
use syntax::{Dialect, DialectName};
use values::{Row, Table};

use crate::address::Bridge;
use crate::error::counts_as_result;
use crate::interrupt::{go_on, watch};
use crate::reading::only_reads;
use crate::scratch::{Scratch, Session};
use crate::{Access, Collected, Engine, EngineError, Sink, Warning};

const PROTOCOL: u64 = 1;
/// A bridge may have to start an interpreter and load a driver first.
const OPENING: Duration = Duration::from_secs(120);
/// How long a bridge has to heed a request to cancel, before it is ended.
const GRACE: Duration = Duration::from_secs(3);
/// Rows of a table sent in one message.
const BATCH: usize = 500;

pub(crate) struct BridgeEngine {
    session: Connection,
    scratch: Scratch,
    access: Access,
    /// The bridge keeps tables itself.
    takes_tables: bool,
}

/// The child, shared with who may have to end it.
struct Process {
    child: Mutex<Child>,
    input: Mutex<ChildStdin>,
    /// A request is under way.
    is_busy: Mutex<bool>,
}

/// The child, and what is known of the engine behind it.
struct Connection {
    process: Arc<Process>,
    output: BufReader<ChildStdout>,
    /// The end of what the child wrote for people.
    errors: Arc<Mutex<String>>,
    command: String,
    engine: String,
    dialect: Dialect,
    timeout: Option<Duration>,
}

fn locked<T>(mutex: &Mutex<T>) -> MutexGuard<'_, T> {
    mutex.lock().unwrap_or_else(PoisonError::into_inner)
}

impl Process {
    fn say(&self, message: &Json) -> std::io::Result<()> {
        let mut input = locked(&self.input);
        writeln!(input, "{message}")?;
        input.flush()
    }

    /// Asks to cancel, and ends a child that doesn't heed it.
    fn cancel(self: &Arc<Self>) {
        let _ = self.say(&json!({ "do": "cancel" }));
        let process = Arc::clone(self);
        std::thread::spawn(move || {
            let until = Instant::now() + GRACE;
            while *locked(&process.is_busy) {
                if Instant::now() > until {
                    let _ = locked(&process.child).kill();
                    return;
                }
                std::thread::sleep(Duration::from_millis(20));
            }
        });
    }
}

impl BridgeEngine {
    pub(crate) fn open(bridge: &Bridge, access: Access) -> Result<Self, EngineError> {
        let command = bridge.command[0].clone();
        let engine = format!("bridge:{command}");
        let unreachable = |message: String| EngineError::Unreachable { engine: engine.clone(), message };
        let mut child = Command::new(&command)
            .args(&bridge.command[1..])
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .stderr(Stdio::piped())
            .spawn()
            .map_err(|e| unreachable(format!("the command can't be started: {e}")))?;
        let (Some(input), Some(output), Some(errors)) = (child.stdin.take(), child.stdout.take(), child.stderr.take()) else {
            return Err(unreachable("the command has no standard input and output".to_string()));
        };
        let process = Arc::new(Process { child: Mutex::new(child), input: Mutex::new(input), is_busy: Mutex::new(false) });
        let mut session = Connection {
            process,
            output: BufReader::new(output),
            errors: kept(errors),
            command,
            engine: engine.clone(),
            dialect: Dialect::newest(DialectName::Sqlite),
            timeout: Some(OPENING),
        };
        let hello = session.ask(&json!({ "do": "hello", "protocol": PROTOCOL, "writes": access.writes }), |_, _| Ok(true));
        let hello = hello.map_err(|e| match e {
            EngineError::Lost { message, .. } => {
                unreachable(format!("{message}; a bridge answers on its standard output (docs/bridges.md)"))
            }
            other => other,
        })?;
        let Some(hello) = hello.get("hello") else { return Err(session.nonsense(&hello.to_string())) };
        let text = |name: &str| hello.get(name).and_then(Json::as_str);
        if hello.get("protocol").and_then(Json::as_u64) != Some(PROTOCOL) {
            return Err(session.unreachable(format!("it speaks another protocol than {PROTOCOL}: {hello}")));
        }
        session.engine = text("engine").unwrap_or("an engine without a name").to_string();
        session.dialect = match (&bridge.dialect, text("dialect")) {
            (Some(dialect), _) => dialect.clone(),
            (None, Some(name)) => name.parse().map_err(|e: syntax::DialectError| session.unreachable(e.to_string()))?,
            (None, None) => return Err(session.unreachable("it tells no dialect; add ?dialect=NAME to the address".to_string())),
        };
        if let Some(version) = text("version") {
            session.dialect.set_server_version(version);
        }
        session.timeout = access.timeout;
        let takes_tables = text("loads") == Some("tables");
        if !takes_tables {
            Scratch::sweep(&mut session);
        }
        Ok(BridgeEngine { session, scratch: Scratch::default(), access, takes_tables })
    }
}

/// Keeps the end of what the child writes on standard error.
fn kept(mut errors: impl Read + Send + 'static) -> Arc<Mutex<String>> {
    const MOST: usize = 2000;
    let text = Arc::new(Mutex::new(String::new()));
    let shared = Arc::clone(&text);
    std::thread::spawn(move || {
        let mut bytes = [0; 4096];
        while let Ok(count @ 1..) = errors.read(&mut bytes) {
            let mut text = locked(&shared);
            text.push_str(&String::from_utf8_lossy(&bytes[..count]));
            let excess = text.len().saturating_sub(MOST);
            let cut = (excess..text.len()).find(|at| text.is_char_boundary(*at)).unwrap_or(text.len());
            text.drain(..cut);
        }
    });
    text
}

impl Connection {
    fn unreachable(&self, message: String) -> EngineError {
        EngineError::Unreachable { engine: format!("bridge:{}", self.command), message }
    }

    /// What the bridge wrote last, for people.
    fn last_words(&self) -> String {
        // A child that has just ended may have left something in the pipe.
        std::thread::sleep(Duration::from_millis(100));
        let text = locked(&self.errors).trim().to_string();
        text.lines().last().map_or_else(|| "it said nothing".to_string(), |line| format!("it said: {}", line.trim()))
    }

    fn lost(&self) -> EngineError {
        let ended = locked(&self.process.child).try_wait().ok().flatten();
        let how = ended.map_or("it closed its output".to_string(), |status| format!("it ended with {status}"));
        EngineError::Lost { engine: format!("bridge:{}", self.command), message: format!("{how}; {}", self.last_words()) }
    }

    fn nonsense(&self, line: &str) -> EngineError {
        let start: String = line.trim().chars().take(120).collect();
        self.unreachable(format!("it doesn't speak the bridge protocol (docs/bridges.md): it answered '{start}'; {}", self.last_words()))
    }

    /// Sends a message and reads its answers: those before the last go to `part`, which says whether
    /// more are wanted.
    fn ask(&mut self, message: &Json, mut part: impl FnMut(&Connection, &Json) -> Result<bool, EngineError>) -> Result<Json, EngineError> {
        let process = Arc::clone(&self.process);
        let watched = watch(self.timeout, Arc::new(move || process.cancel()));
        *locked(&self.process.is_busy) = true;
        if self.process.say(message).is_err() {
            // It takes no more requests; what it said before is still to be read.
            let _ = locked(&self.process.child).kill();
        }
        let answer = self.answers(&mut part);
        *locked(&self.process.is_busy) = false;
        let answer = answer.map_err(|e| watched.instead_of(e))?;
        watched.whole()?;
        Ok(answer)
    }

    fn answers(&mut self, part: &mut impl FnMut(&Connection, &Json) -> Result<bool, EngineError>) -> Result<Json, EngineError> {
        let mut line = String::new();
        let mut wanted = true;
        loop {
            line.clear();
            let count = self.output.read_line(&mut line).unwrap_or(0);
            if count == 0 {
                return Err(self.lost());
            }
            let Ok(answer) = serde_json::from_str::<Json>(&line) else { return Err(self.nonsense(&line)) };
            if let Some(error) = answer.get("error") {
                return Err(self.error_of(error));
            }
            if answer.get("done").is_some() || answer.get("hello").is_some() {
                return Ok(answer);
            }
            if wanted {
                wanted = part(self, &answer)?;
            }
        }
    }

    fn error_of(&self, error: &Json) -> EngineError {
        let text = |name: &str| error.get(name).and_then(Json::as_str);
        let message = text("message").unwrap_or("it failed without a word").to_string();
        let engine = self.engine.clone();
        match text("kind") {
            Some("unreachable") => EngineError::Unreachable { engine, message },
            Some("password") => EngineError::Password { engine, message },
            Some("lost") => EngineError::Lost { engine, message },
            _ => {
                let code = text("code").map(ToString::to_string);
                let at = |i: usize| error.get("place").and_then(|p| p.get(i)).and_then(Json::as_u64).map(|n| n as usize);
                EngineError::Query {
                    counts: counts_as_result(code.as_deref(), &message),
                    code,
                    message,
                    place: at(0).zip(at(1)),
                    not_known: false,
                }
            }
        }
    }

    fn stream(&mut self, sql: &str, sink: &mut dyn Sink) -> Result<Vec<Warning>, EngineError> {
        let message = json!({ "do": "query", "sql": sql, "most": sink.most() });
        let done = self.ask(&message, |session, answer| {
            if let Some(columns) = answer.get("columns").and_then(Json::as_array) {
                let of = |name: &str| columns.iter().map(|c| c[name].as_str().unwrap_or("").to_string()).collect();
                sink.columns(of("name"), of("type"));
                return Ok(true);
            }
            let rows = answer.get("rows").and_then(Json::as_array).ok_or_else(|| session.nonsense(&answer.to_string()))?;
            for row in rows {
                let cells = row.as_array().ok_or_else(|| session.nonsense(&row.to_string()))?;
                let values: Option<Row> = cells.iter().map(wire::value).collect();
                if !sink.row(values.ok_or_else(|| session.nonsense(&row.to_string()))?) {
                    return Ok(false);
                }
            }
            Ok(true)
        })?;
        let warnings = done["done"]["warnings"].as_array().cloned().unwrap_or_default();
        let text = |w: &Json, name: &str| w.get(name).and_then(Json::as_str).map(ToString::to_string);
        Ok(warnings
            .iter()
            .map(|w| Warning {
                code: text(w, "code"),
                message: text(w, "message").unwrap_or_default(),
                spoils: w.get("spoils").and_then(Json::as_bool).unwrap_or(false),
            })
            .collect())
    }

    fn tell(&mut self, message: &Json) -> Result<(), EngineError> {
        self.ask(message, |_, _| Ok(true)).map(|_| ())
    }

    /// Hands the tables to a bridge that keeps them itself.
    fn send_tables(&mut self, tables: &[(Table, Vec<Row>)]) -> Result<(), EngineError> {
        self.tell(&json!({ "do": "clear" }))?;
        for (table, rows) in tables {
            go_on()?;
            let columns: Vec<Json> = table.columns.iter().map(|c| json!({ "name": c.name, "type": c.data_type.to_string() })).collect();
            self.tell(&json!({ "do": "table", "name": table.name, "columns": columns }))?;
            for batch in rows.chunks(BATCH) {
                let batch: Vec<Vec<Json>> = batch.iter().map(|row| row.iter().map(wire::json).collect()).collect();
                self.tell(&json!({ "do": "rows", "table": table.name, "rows": batch }))?;
            }
        }
        Ok(())
    }
}

impl Session for Connection {
    fn dialect(&self) -> &Dialect {
        &self.dialect
    }

    fn execute(&mut self, sql: &str) -> Result<(), EngineError> {
        self.stream(sql, &mut Collected::new(0)).map(|_| ())
    }

    fn column(&mut self, sql: &str) -> Result<Vec<String>, EngineError> {
        let mut collected = Collected::new(usize::MAX);
        self.stream(sql, &mut collected)?;
        Ok(collected.first_column())
    }
}

impl Engine for BridgeEngine {
    fn dialect(&self) -> &Dialect {
        &self.session.dialect
    }

    fn name(&self) -> String {
        format!("{} through a bridge", self.session.engine)
    }

    fn is_private(&self) -> bool {
        self.takes_tables
    }

    fn run(&mut self, sql: &str, sink: &mut dyn Sink) -> Result<Vec<Warning>, EngineError> {
        go_on()?;
        if !self.access.writes && !self.takes_tables {
            only_reads(sql, &self.session.dialect)?;
        }
        self.session.stream(sql, sink)
    }

    fn load(&mut self, tables: &[(Table, Vec<Row>)]) -> Result<(), EngineError> {
        if self.takes_tables { self.session.send_tables(tables) } else { self.scratch.load(&mut self.session, tables) }
    }
}

impl Drop for BridgeEngine {
    fn drop(&mut self) {
        self.scratch.leave(&mut self.session);
        let _ = self.session.process.say(&json!({ "do": "bye" }));
        let until = Instant::now() + GRACE;
        let mut child = locked(&self.session.process.child);
        while Instant::now() < until {
            if !matches!(child.try_wait(), Ok(None)) {
                return;
            }
            std::thread::sleep(Duration::from_millis(5));
        }
        let _ = child.kill();
        let _ = child.wait();
    }
}
