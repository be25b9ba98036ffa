//! The stand-in behind the trait.

use standin::{FailureKind, StandIn};
use syntax::Dialect;
use values::{Row, Table};

use crate::{Engine, EngineError, Sink, Warning};

pub(crate) struct StandInEngine {
    inner: StandIn,
}

impl StandInEngine {
    pub(crate) fn new(dialect: Dialect) -> Self {
        StandInEngine { inner: StandIn::new(dialect) }
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
        let mut results = self.inner.run(sql).map_err(|f| EngineError::Query {
            not_known: f.kind == FailureKind::NotKnown,
            counts: matches!(f.kind, FailureKind::DivisionByZero | FailureKind::BadCast | FailureKind::SeveralRows),
            code: f.code,
            message: f.message,
            place: f.place,
        })?;
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

    fn set_seed(&mut self, seed: u64) {
        self.inner.set_seed(seed);
    }

    fn is_seeded(&self) -> bool {
        true
    }
}
