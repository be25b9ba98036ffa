//! Plain data that every other crate speaks of: values, rows, results, types, schemas, and when
//! two results are the same.

mod compare;
mod schema;
mod types;
mod value;

pub use compare::{Tolerance, same_value, sort_order};
pub use schema::{Column, ForeignKey, Schema, Table};
pub use types::DataType;
pub use value::{Decimal, Interval, ResultSet, Row, Value};
