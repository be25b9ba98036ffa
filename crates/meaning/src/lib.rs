//! What the words of a query mean: facts of meaning per dialect, the tree as meant, the phrasebook,
//! types and nullability, fidelity and notes.

mod book;
mod breach;
mod catalog;
mod construct;
mod facts;
mod infer;
mod letters;
mod note;
mod stage;
mod template;
mod type_words;

pub use book::{Edge, Phrase, PhraseId, PhraseKind, Say, hear_call, hear_operator, hear_prefix, phrase_named};
pub use breach::{Breach, ValueClass};
pub use catalog::{Catalog, CatalogError, column_type_sql, create_table};
pub use construct::Construct;
pub use facts::{BareColumns, BareStar, Facts, LimitWords, OddCount, SortNames};
pub use infer::{Known, infer};
pub use letters::Letters;
pub use note::{CODES, CodeFact, Fidelity, Note, code_fact};
pub use stage::{
    Amount, Binding, BindingTarget, Constant, Function, Meant, NullsPlace, RelationId, Rounding, RowLimit, Sign, Star, TypeWord,
};
pub use template::{Template, template};
pub use type_words::{read_type, write_type};
