//! The layout set anew: one clause a line, lists broken where they are long.

use super::comment::{Piece, convert, pieces};
use super::keep::moved_comments;
use super::{CommentStyle, LaidOut, LayoutJob, must_part};
use crate::printer::{Glue, Mark, Printed};

/// Lists and conditions longer than this are broken.
const WIDTH: usize = 100;
const INDENT: usize = 4;

struct Tidy<'a, 'b> {
    job: &'b LayoutJob<'a>,
    out: String,
    /// Indentation of each open query.
    queries: Vec<usize>,
    /// Open parentheses that hold no query, by query.
    parens: Vec<usize>,
    open_line: bool,
}

pub(super) fn lay_out(printed: &[Printed], job: &LayoutJob<'_>) -> LaidOut {
    let style = job.comments;
    let mut moved = moved_comments(printed, job, job.holds_comment());
    let mut tidy = Tidy { job, out: String::new(), queries: vec![0], parens: vec![0], open_line: false };
    let mut before: Option<&Printed> = None;
    for (i, token) in printed.iter().enumerate() {
        if let Some(before) = before {
            let mut comments = moved.after.remove(&before.source).unwrap_or_default();
            if token.source == before.source.wrapping_add(1) {
                comments.extend(gap_comments(job, token.source as usize));
            }
            comments.extend(moved.before.remove(&token.source).unwrap_or_default());
            for comment in comments {
                tidy.comment(comment, style);
            }
            tidy.part(printed, i, before);
        }
        tidy.out.push_str(job.text(token));
        tidy.follow(token);
        before = Some(token);
    }
    let code_end = tidy.out.len();
    for comment in moved.end {
        tidy.comment(comment, style);
    }
    LaidOut { text: tidy.out, code_end }
}

fn gap_comments<'a>(job: &LayoutJob<'a>, index: usize) -> Vec<&'a str> {
    let gap = job.gap_before(index);
    if !super::comment::has_comment(gap) {
        return Vec::new();
    }
    pieces(gap, &job.comments.from)
        .into_iter()
        .filter_map(|piece| match piece {
            Piece::Line(text) | Piece::Block(text) => Some(text),
            Piece::Blank(_) | Piece::Executable(_) => None,
        })
        .collect()
}

impl Tidy<'_, '_> {
    fn indent(&self) -> usize {
        self.queries[self.queries.len() - 1]
    }

    fn new_line(&mut self, indent: usize) {
        let kept = self.out.trim_end_matches(' ').len();
        self.out.truncate(kept);
        self.out.push('\n');
        self.out.extend(std::iter::repeat_n(' ', indent));
        self.open_line = false;
    }

    fn comment(&mut self, text: &str, style: &CommentStyle) {
        if self.open_line {
            let indent = self.indent();
            self.new_line(indent);
        } else {
            self.out.push(' ');
        }
        convert(text, style, &mut self.out);
        self.open_line = !text.starts_with("/*");
    }

    /// Blanks or a line break between `before` and the token at `i`.
    fn part(&mut self, printed: &[Printed], i: usize, before: &Printed) {
        let token = &printed[i];
        let base = self.indent();
        let in_parens = self.parens[self.parens.len() - 1] > 0;
        let opened_query = before.mark == Mark::OpenQuery;
        match token.mark {
            _ if opened_query => self.new_line(base),
            Mark::CloseQuery => {
                let outer = self.queries[self.queries.len().saturating_sub(2)];
                self.new_line(outer);
            }
            Mark::Clause if !in_parens => self.new_line(base),
            Mark::Join if !in_parens => self.new_line(base),
            Mark::Condition if !in_parens && self.line_is_long(printed, i) => self.new_line(base + 2),
            Mark::Item if !in_parens && self.list_is_long(printed, i) => self.new_line(base + INDENT),
            _ => {
                let (said, next) = (self.job.text(before), self.job.text(token));
                let tight = said == "(" || said == "[" || token.glue == Glue::Tight;
                if self.open_line {
                    self.new_line(base + INDENT);
                } else if !tight || must_part(said, next) {
                    self.out.push(' ');
                }
            }
        }
    }

    fn follow(&mut self, token: &Printed) {
        match (token.mark, self.job.text(token)) {
            (Mark::OpenQuery, _) => {
                let indent = self.indent() + INDENT;
                self.queries.push(indent);
                self.parens.push(0);
            }
            (Mark::CloseQuery, _) if self.queries.len() > 1 => {
                self.queries.pop();
                self.parens.pop();
            }
            (_, "(") => {
                if let Some(last) = self.parens.last_mut() {
                    *last += 1;
                }
            }
            (_, ")") => {
                if let Some(last) = self.parens.last_mut() {
                    *last = last.saturating_sub(1);
                }
            }
            _ => {}
        }
    }

    /// Characters of tokens with a blank before each.
    fn length(&self, tokens: &[Printed]) -> usize {
        tokens.iter().map(|t| self.job.text(t).len() + 1).sum()
    }

    /// Whether the list that the item at `i` belongs to is too long for a line.
    fn list_is_long(&self, printed: &[Printed], i: usize) -> bool {
        let is_end = |t: &Printed| matches!(t.mark, Mark::Clause | Mark::CloseQuery);
        let start = printed[..i].iter().rposition(is_end).map_or(0, |at| at + 1);
        let end = printed[i..].iter().position(is_end).map_or(printed.len(), |at| i + at);
        self.length(&printed[start..end]) > WIDTH
    }

    /// Whether the current line would pass the width before the next clause.
    fn line_is_long(&self, printed: &[Printed], i: usize) -> bool {
        let out = self.out.as_str();
        let so_far = out.len() - out.rfind('\n').map_or(0, |at| at + 1);
        let ends = |t: &Printed| matches!(t.mark, Mark::Clause | Mark::Join | Mark::CloseQuery);
        let end = printed[i..].iter().position(ends).map_or(printed.len(), |at| i + at);
        so_far + self.length(&printed[i..end]) > WIDTH || out[out.len() - so_far..].trim_start().starts_with("AND")
    }
}
