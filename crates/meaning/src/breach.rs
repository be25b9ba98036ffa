//! Data on which an assumption doesn't hold.
//!
//! A note that assumes something says here what breaks it, so that the checker can keep to data on
//! which it holds, and then look for data on which it doesn't.

use crate::book::ValueClass;
use crate::letters::Letters;

/// What data breaks an assumption. `P` is how places in the source are given.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Breach<P> {
    /// An expression has a value of a class.
    Value(ValueClass, P),
    /// Two strings are compared that are the same for one side and not for the other.
    Strings {
        /// What the source passes over.
        source: Letters,
        /// What the target passes over.
        target: Letters,
        /// Only LIKE tells: the comparisons agree.
        only_like: bool,
    },
    /// Strings are sorted that come in another order with capitals and accents passed over.
    TextOrder,
    /// A column holds an empty text.
    EmptyText,
    /// A total is asked of no rows.
    NoRows,
}

impl<P> Breach<P> {
    /// The same with places given in another way.
    pub fn map<Q>(self, place: impl FnOnce(P) -> Q) -> Breach<Q> {
        match self {
            Breach::Value(class, at) => Breach::Value(class, place(at)),
            Breach::Strings { source, target, only_like } => Breach::Strings { source, target, only_like },
            Breach::TextOrder => Breach::TextOrder,
            Breach::EmptyText => Breach::EmptyText,
            Breach::NoRows => Breach::NoRows,
        }
    }
}
