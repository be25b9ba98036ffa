//! What the words of a query mean: facts of meaning per dialect, the tree as meant, the phrasebook,
//! types and nullability, fidelity and notes.

mod book;
mod breach;
mod builtin;
mod capabilities;
mod catalog;
mod collation;
mod construct;
mod decide;
mod infer;
mod letters;
mod note;
mod stage;
mod type_words;

pub use book::phrase;
pub use book::{
    ArgumentKind, BookError, Edge, Fit, Guard, Heard, Order, Parameter, Phrase, PhraseId, PhraseKind, Piece, ProvenOn, Say, Slot, Template,
    ValueClass, add_phrases, argument_counts, arguments_in, find_phrase, hear_calls, hear_operator, hear_prefix, hear_word, in_words,
    named_calls, near_calls, phrase_named, phrases, pieces,
};
pub use breach::Breach;
pub use builtin::{Builtin, BuiltinKind, Builtins, builtin, builtins};
pub use capabilities::{BareColumns, BareStar, Capabilities, LimitWords, OddCount, SortNames};
pub use catalog::{Catalog, CatalogError, column_type_sql, create_table};
pub use collation::{Collation, CollationWord};
pub use construct::Construct;
pub use decide::{can_be, constant, is_default, is_known};
pub use infer::{Emptiness, Known, infer};
pub use letters::Letters;
pub use note::{CODES, CodeFact, Fidelity, Note, code_fact};
pub use stage::{
    Amount, Binding, BindingTarget, Constant, Function, Meant, NullsPlace, RelationId, Rounding, RowLimit, Sign, Star, TypeWord,
};
pub use type_words::{read_type, write_type};
