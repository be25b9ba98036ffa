//! The stand-in behind the trait.

use std::time::Duration;

use jiff::civil::DateTime;
use standin::{Failure, FailureKind, StandIn};
use syntax::Dialect;
use values::{ResultSet, Row, Table};

use crate::{Engine, EngineError, Observed, Sink, Warning};

pub(crate) struct StandInEngine {
    inner: StandIn,
    timeout: Option<Duration>,
}

impl StandInEngine {
    pub(crate) fn new(dialect: Dialect, timeout: Option<Duration>) -> Self {
        let mut inner = StandIn::new(dialect);
        inner.set_limits(timeout, crate::is_stopped);
        StandInEngine { inner, timeout }
    }

    fn reported(&self, failure: Failure) -> EngineError {
        match failure.kind {
            FailureKind::TimedOut => EngineError::TimedOut { seconds: self.timeout.map_or(0, |t| t.as_secs()) },
            FailureKind::Stopped => EngineError::Stopped,
            _ => reported(failure),
        }
    }
}

impl Engine for StandInEngine {
    fn dialect(&self) -> &Dialect {
        self.inner.dialect()
    }

    fn name(&self) -> String {
        format!("standin:{}", self.inner.dialect())
    }

    fn is_private(&self) -> bool {
        true
    }

    fn run(&mut self, sql: &str, sink: &mut dyn Sink) -> Result<Vec<Warning>, EngineError> {
        let mut results = self.inner.run(sql).map_err(|failure| self.reported(failure))?;
        let result = results.pop().unwrap_or_default();
        sink.columns(result.columns, result.types);
        for row in result.rows {
            if !sink.row(row) {
                break;
            }
        }
        Ok(Vec::new())
    }

    fn load(&mut self, tables: &[(Table, Vec<Row>)]) -> Result<(), EngineError> {
        self.inner.clear();
        for (table, rows) in tables {
            self.inner.load(table, rows.clone());
        }
        Ok(())
    }

    fn observe(&mut self, sql: &str) -> Option<(Result<ResultSet, EngineError>, Observed)> {
        let (results, observed) = self.inner.observe(sql);
        Some((results.map(|mut r| r.pop().unwrap_or_default()).map_err(|failure| self.reported(failure)), observed))
    }

    fn after_change(&mut self, sql: &str, reads: &[String]) -> Result<Vec<ResultSet>, EngineError> {
        let before = self.inner.clone();
        let changed = self.inner.run(sql).map_err(|failure| self.reported(failure));
        let state = changed.and_then(|_| reads.iter().map(|read| self.query(read, usize::MAX)).collect());
        self.inner = before;
        state
    }

    fn stop_clock(&mut self, at: DateTime) -> bool {
        self.inner.stop_clock(at);
        true
    }

    fn set_seed(&mut self, seed: u64) {
        self.inner.set_seed(seed);
    }

    fn is_seeded(&self) -> bool {
        true
    }
}

fn reported(failure: Failure) -> EngineError {
    use FailureKind::{BadCast, DivisionByZero, Loop, NotKnown, SeveralRows};
    EngineError::Query {
        not_known: failure.kind == NotKnown,
        counts: matches!(failure.kind, DivisionByZero | BadCast | SeveralRows | Loop),
        code: failure.code,
        message: failure.message,
        place: failure.place,
    }
}
