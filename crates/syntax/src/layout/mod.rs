//! Tokens to text: blanks, line breaks and the source's comments.
//!
//! `keep` gives every token that came from the source its old blanks, so that a reader of the
//! difference sees only what had to change; `tidy` sets the whole anew. No comment is ever lost:
//! those of a token that is gone stand before the next one that stayed.

mod comment;
mod keep;
mod tidy;

use std::borrow::Cow;

use crate::dialect::Dialect;
use crate::printer::Printed;
use crate::spelling::Spelling;
use crate::token::Token;
use crate::tree::Span;

pub use comment::is_hint;

/// How a statement is laid out.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum LayoutStyle {
    /// As the source was, as far as its tokens are still there.
    Keep,
    /// Anew, one clause a line.
    Tidy,
}

/// Where the printed tokens come from and where they go.
pub struct LayoutJob<'a> {
    /// The source text.
    pub source: &'a str,
    /// Its tokens.
    pub tokens: &'a [Token],
    /// The statement's tokens.
    pub span: Span,
    /// How the comments change.
    pub comments: &'a CommentStyle,
}

/// A statement laid out.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct LaidOut {
    /// The text, without the gap before it and without its separator.
    pub text: String,
    /// Where the last token ends: a separator goes there, before the comments that follow.
    pub code_end: usize,
}

/// The text of a statement.
pub fn layout(printed: &[Printed], job: &LayoutJob<'_>, style: LayoutStyle) -> LaidOut {
    match style {
        LayoutStyle::Keep => keep::lay_out(printed, job),
        LayoutStyle::Tidy => tidy::lay_out(printed, job),
    }
}

/// How comments change between two dialects.
pub struct CommentStyle {
    from: Spelling,
    to: Spelling,
    same: bool,
}

impl CommentStyle {
    /// From the comments of one dialect to those of another.
    pub fn new(from: &Dialect, to: &Dialect) -> CommentStyle {
        CommentStyle { from: Spelling::of(from), to: Spelling::of(to), same: from.name == to.name }
    }

    /// The blanks and comments between two statements or at the end of a text, for the target.
    pub fn gap<'a>(&self, gap: &'a str) -> Cow<'a, str> {
        if self.same || !comment::has_comment(gap) {
            return Cow::Borrowed(gap);
        }
        let mut out = String::with_capacity(gap.len());
        comment::convert_gap(gap, self, &mut out);
        Cow::Owned(out)
    }
}

impl<'a> LayoutJob<'a> {
    /// What is between token `index` and the one before it.
    fn gap_before(&self, index: usize) -> &'a str {
        let start = if index == 0 { 0 } else { self.tokens[index - 1].end as usize };
        self.source.get(start..self.tokens[index].start as usize).unwrap_or("")
    }

    fn text<'b>(&self, token: &'b Printed) -> &'b str
    where
        'a: 'b,
    {
        token.text(self.source, self.tokens)
    }

    /// The statement's text, from its first token to its last.
    fn source_of_statement(&self) -> &'a str {
        let (first, last) = (self.span.first as usize, (self.span.end as usize).saturating_sub(1));
        match (self.tokens.get(first), self.tokens.get(last)) {
            (Some(first), Some(last)) if last.end >= first.start => &self.source[first.start as usize..last.end as usize],
            _ => "",
        }
    }

    /// Whether a comment lies between its tokens; mostly settled by one look at its bytes.
    fn holds_comment(&self) -> bool {
        let mut gaps = self.span.first as usize + 1..self.span.end as usize;
        may_hold_comment(self.source_of_statement()) && gaps.any(|i| comment::has_comment(self.gap_before(i)))
    }
}

/// Whether `text` has a character that a comment begins with.
pub fn may_hold_comment(text: &str) -> bool {
    memchr::memchr3(b'-', b'/', b'#', text.as_bytes()).is_some()
}

/// Whether a blank must part two tokens that would read as one.
fn must_part(before: &str, after: &str) -> bool {
    let (Some(last), Some(first)) = (before.chars().next_back(), after.chars().next()) else { return false };
    let wordish = |c: char| c.is_alphanumeric() || matches!(c, '_' | '$' | '@' | '#' | '\'' | '"' | '`') || !c.is_ascii();
    let single = |c: char| matches!(c, '(' | ')' | '[' | ']' | '{' | '}' | ',' | ';');
    if single(last) || single(first) {
        return false;
    }
    match (wordish(last), wordish(first)) {
        (true, true) => true,
        // `1` and `.`, `t` and `.`: only a number before a point would change.
        (true, false) => first == '.' && last.is_ascii_digit() && before.chars().all(|c| c.is_ascii_digit()) || first == ':' && last != ']',
        (false, true) => {
            last == '.' && first.is_ascii_digit() || last == ':' || (last == '@' || last == '&') || (last == '.' && before.len() > 1)
        }
        (false, false) => last != '.' && first != '.',
    }
}
