//! The stand-in behind the trait.

use standin::{FailureKind, StandIn};
use syntax::Dialect;
use values::{ResultSet, Row, Table};

use crate::{Engine, EngineError};

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

    fn query(&mut self, sql: &str, row_cap: usize) -> Result<ResultSet, EngineError> {
        let mut results = self.inner.run(sql).map_err(|f| EngineError::Query {
            not_known: f.kind == FailureKind::NotKnown,
            counts: matches!(f.kind, FailureKind::DivisionByZero | FailureKind::BadCast | FailureKind::SeveralRows),
            code: f.code,
            message: f.message,
            place: f.place,
        })?;
        let mut result = results.pop().unwrap_or_default();
        result.rows.truncate(row_cap);
        Ok(result)
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
