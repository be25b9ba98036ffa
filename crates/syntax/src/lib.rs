//! SQL text to tree and back, for nine dialects: spelling, not meaning.
//!
//! The way of a text: [`lex`] makes tokens, [`Statements`] reads them into trees, [`print`] makes
//! tokens of a tree again, [`layout`] gives them blanks and the source's comments.

mod bare_label;
mod dialect;
mod dialect_name;
mod keyword;
mod label;
mod layout;
mod lexer;
mod literal;
mod near;
mod parser;
mod precedence;
mod printer;
mod reserved;
mod spelling;
mod stack;
mod token;
pub mod tree;
mod word_table;

pub use bare_label::needs_as;
pub use dialect::{Dialect, DialectError, DialectName, DialectSet, Version};
pub use keyword::Keyword;
pub use label::label;
pub use layout::{CommentStyle, LaidOut, LayoutJob, LayoutStyle, is_hint, layout};
pub use lexer::lex;
pub use literal::{decode_bytes, decode_text, quote_name, unquote_name, write_text};
pub use near::nearest;
pub use parser::{MAX_NESTING, Parsed, Statements, SyntaxError, parse_expression};
pub use printer::{Glue, Mark, Parentheses, Printed, print, print_expression};
pub use spelling::{Folding, Spelling, is_reserved};
pub use stack::with_stack;
pub use token::{Symbol, Token, TokenKind};
pub use word_table::WordTable;
