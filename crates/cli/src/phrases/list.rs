//! `phrases`: the book as a table.

use crate::arguments::PhrasesList;
use crate::{Done, Ending};

pub(super) fn command(_: &PhrasesList) -> Done {
    Ok(Ending::default())
}
