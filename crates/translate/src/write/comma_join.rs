//! Commas before joins: in most dialects a join binds tighter than a comma, in SQLite and Spark they are
//! taken from the left.
//!
//! SQLite, SELECT: FROM clause processing. Seen on Spark 4.0. BigQuery, Join operation: RIGHT and FULL JOIN behind a comma
//! stand in parentheses.

use syntax::DialectName;
use syntax::tree::{JoinCondition, JoinKind, Spelled, TableKind, TableRef};

use super::Writer;

impl Writer<'_> {
    /// Keeps joins behind a comma together, where the target would not.
    pub(super) fn part_comma_joins(&mut self, from: &mut [TableRef<Spelled>]) {
        let (source, target) = (self.from.name, self.to.name);
        let is_loose = |name: DialectName| matches!(name, DialectName::Sqlite | DialectName::Spark);
        for table in from.iter_mut().skip(1).filter(|t| depends_on_sides(t)) {
            if is_loose(source) && !is_loose(target) {
                let message = format!("a comma before RIGHT, FULL or NATURAL JOIN or USING, which {} takes for a join,", source.title());
                self.refuse(table.span, &message);
            } else if (is_loose(target) && !is_loose(source)) || (target == DialectName::Bigquery && source != target) {
                let inner = table.clone();
                table.kind = TableKind::Nested(Box::new(inner));
            }
        }
    }
}

/// Whether it matters to a join what all is on its left side: what it keeps, or compares by name.
fn depends_on_sides(table: &TableRef<Spelled>) -> bool {
    let TableKind::Join(join) = &table.kind else { return false };
    let own = join.natural || matches!(join.kind, JoinKind::Right | JoinKind::Full) || matches!(join.condition, JoinCondition::Using(_));
    own || syntax::with_stack(|| depends_on_sides(&join.left))
}
