//! SQL text to tree and back, for nine dialects: spelling, not meaning.
//!
//! The way of a text: [`lex`] makes tokens, [`Statements`] reads them into trees, [`print`] makes
//! tokens of a tree again, [`layout`] gives them blanks and the source's comments.

mod dialect;
mod keyword;
mod layout;
mod lexer;
mod literal;
mod near;
mod parser;
mod precedence;
mod printer;
mod reserved;
mod spelling;
mod token;
pub mod tree;

pub use dialect::{Dialect, DialectError, DialectName, DialectSet, Version};
pub use keyword::Keyword;
pub use layout::{LaidOut, LayoutJob, LayoutStyle, is_hint, layout, layout_gap};
pub use lexer::lex;
pub use literal::{decode_text, quote_name, unquote_name, write_text};
pub use near::nearest;
pub use parser::{MAX_NESTING, Parsed, Statements, SyntaxError, parse_expression};
pub use printer::{Glue, Mark, PrintOptions, Printed, print, print_expression};
pub use spelling::{Folding, Spelling, is_reserved};
pub use token::{Symbol, Token, TokenKind};

/// Runs `work` with enough stack for one more level of nesting.
pub fn with_stack<T>(work: impl FnOnce() -> T) -> T {
    stacker::maybe_grow(128 * 1024, 2 * 1024 * 1024, work)
}
