//! Ends a statement that runs too long, or that the user no longer wants.
//!
//! One thread looks after every running statement of the process: it calls the engine's way of
//! cancelling when the time is up. The program's signal handler calls [`stop_all`].

use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex, MutexGuard, Once};
use std::time::{Duration, Instant};

use crate::EngineError;

static STOPPED: AtomicBool = AtomicBool::new(false);
static RUNNING: Mutex<Vec<Running>> = Mutex::new(Vec::new());
static WATCHER: Once = Once::new();

/// How often the time is looked at.
const TICK: Duration = Duration::from_millis(50);

struct Running {
    deadline: Option<Instant>,
    cancel: Arc<dyn Fn() + Send + Sync>,
    timed_out: Arc<AtomicBool>,
}

fn running() -> MutexGuard<'static, Vec<Running>> {
    RUNNING.lock().unwrap_or_else(std::sync::PoisonError::into_inner)
}

/// Cancels all that runs; nothing more is begun. What was loaded is dropped as the engines close.
pub fn stop_all() {
    STOPPED.store(true, Ordering::SeqCst);
    let cancels: Vec<_> = running().iter().map(|r| Arc::clone(&r.cancel)).collect();
    cancels.iter().for_each(|cancel| cancel());
}

/// Whether the user wants an end.
pub fn is_stopped() -> bool {
    STOPPED.load(Ordering::SeqCst)
}

/// An error if the user wants an end.
pub(crate) fn go_on() -> Result<(), EngineError> {
    if is_stopped() { Err(EngineError::Stopped) } else { Ok(()) }
}

/// A statement under watch, until this is dropped.
pub(crate) struct Watched {
    timed_out: Arc<AtomicBool>,
    timeout: Option<Duration>,
}

/// Calls `cancel` when `timeout` is over or the user wants an end.
pub(crate) fn watch(timeout: Option<Duration>, cancel: Arc<dyn Fn() + Send + Sync>) -> Watched {
    WATCHER.call_once(|| {
        // Without the thread statements can't be ended, but they run.
        let _ = std::thread::Builder::new().name("watcher".to_string()).spawn(look_after_all);
    });
    let timed_out = Arc::new(AtomicBool::new(false));
    running().push(Running { deadline: timeout.map(|t| Instant::now() + t), cancel, timed_out: Arc::clone(&timed_out) });
    Watched { timed_out, timeout }
}

impl Watched {
    /// The error to give in place of the engine's own, if it was we who ended the statement.
    pub(crate) fn instead_of(&self, error: EngineError) -> EngineError {
        self.whole().err().unwrap_or(error)
    }

    /// An error if the statement was ended, though it gave a result: MariaDB's BENCHMARK gives one.
    pub(crate) fn whole(&self) -> Result<(), EngineError> {
        if is_stopped() {
            return Err(EngineError::Stopped);
        }
        if self.timed_out.load(Ordering::SeqCst) {
            return Err(EngineError::TimedOut { seconds: self.timeout.unwrap_or_default().as_secs() });
        }
        Ok(())
    }
}

impl Drop for Watched {
    fn drop(&mut self) {
        running().retain(|r| !Arc::ptr_eq(&r.timed_out, &self.timed_out));
    }
}

fn look_after_all() {
    loop {
        std::thread::sleep(TICK);
        let now = Instant::now();
        let mut due = Vec::new();
        for statement in running().iter() {
            let is_over = statement.deadline.is_some_and(|d| d <= now);
            if is_over && !statement.timed_out.swap(true, Ordering::SeqCst) {
                due.push(Arc::clone(&statement.cancel));
            }
        }
        // Cancelling may take a connection of its own: not while the list is held.
        due.iter().for_each(|cancel| cancel());
    }
}
