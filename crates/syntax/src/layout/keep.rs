//! The layout that keeps the source's own.

use std::borrow::Cow;
use std::ops::Range;

use rustc_hash::FxHashMap;

use super::comment::{Piece, convert, convert_gap, has_comment, pieces};
use super::{LaidOut, LayoutJob, must_part};
use crate::printer::{Glue, Mark, Printed};

/// Comments whose place in the source is gone or moved.
#[derive(Default)]
pub(super) struct Moved<'a> {
    /// To stand before a token, by its index.
    pub(super) before: FxHashMap<u32, Vec<&'a str>>,
    /// To stand behind a token, by its index.
    pub(super) after: FxHashMap<u32, Vec<&'a str>>,
    /// To stand at the end.
    pub(super) end: Vec<&'a str>,
}

struct Keep<'a, 'b> {
    job: &'b LayoutJob<'a>,
    moved: Moved<'a>,
    /// Comments lie between the tokens.
    commented: bool,
    out: String,
    /// Where in the source the tokens stand that follow what is in `out` and go there as they are.
    unchanged: Range<usize>,
    /// A line comment was written and its line not yet ended.
    open_line: bool,
    /// A query that became the statement from within: its first token, and how much further in it
    /// stood.
    moved_out: Option<(u32, usize)>,
    /// How much less the current line is indented than in the source.
    dedent: usize,
    /// The blanks before the last clause of each open query.
    clause_leads: Vec<&'a str>,
}

pub(super) fn lay_out(printed: &[Printed], job: &LayoutJob<'_>) -> LaidOut {
    let commented = job.holds_comment();
    let moved = moved_comments(printed, job, commented);
    let out = String::with_capacity(job.source_of_statement().len() + 16);
    let mut keep =
        Keep { job, moved, commented, out, unchanged: 0..0, open_line: false, moved_out: None, dedent: 0, clause_leads: Vec::new() };
    let code_end = keep.run(printed);
    LaidOut { text: keep.out, code_end }
}

/// Gathers the comments that don't lie between two tokens that still follow each other, if there are any.
pub(super) fn moved_comments<'a>(printed: &[Printed], job: &LayoutJob<'a>, commented: bool) -> Moved<'a> {
    let mut moved = Moved::default();
    if !commented {
        return moved;
    }
    let (first, end) = (job.span.first as usize, job.span.end as usize);
    let mut kept = vec![false; end - first];
    let mut followed = vec![false; end - first];
    let mut last = u32::MAX;
    for token in printed {
        if token.source != u32::MAX && (first..end).contains(&(token.source as usize)) {
            kept[token.source as usize - first] = true;
            if last != u32::MAX && last + 1 == token.source {
                followed[token.source as usize - first] = true;
            }
        }
        last = token.source;
    }
    let mut pending: Vec<&'a str> = Vec::new();
    for index in first..end {
        let is_kept = kept[index - first];
        if index > first && !followed[index - first] && has_comment(job.gap_before(index)) {
            let mut own_line = false;
            for piece in pieces(job.gap_before(index), &job.comments.from) {
                match piece {
                    Piece::Blank(text) => own_line = own_line || text.contains('\n'),
                    Piece::Executable(_) => {}
                    Piece::Line(text) | Piece::Block(text) => match (own_line, last_kept_in_line(job, &kept, index)) {
                        (false, Some(token)) => moved.after.entry(token).or_default().push(text),
                        _ => pending.push(text),
                    },
                }
            }
        }
        if is_kept && !pending.is_empty() {
            moved.before.entry(index as u32).or_default().append(&mut pending);
        }
    }
    moved.end = pending;
    moved
}

/// The last token before `index` that stays and is in the same line of the source: what a
/// comment behind the line is about.
fn last_kept_in_line(job: &LayoutJob<'_>, kept: &[bool], index: usize) -> Option<u32> {
    let first = job.span.first as usize;
    for token in (first..index).rev() {
        if kept[token - first] {
            return Some(token as u32);
        }
        if token == first || job.gap_before(token).contains('\n') {
            return None;
        }
    }
    None
}

impl<'a> Keep<'a, '_> {
    /// Writes everything; tells where the last token ends.
    fn run(&mut self, printed: &[Printed]) -> usize {
        self.lead_of_statement(printed);
        // Nothing between two tokens that followed each other needs a thought.
        let plain = !self.commented && self.moved_out.is_none();
        let mut before: Option<&Printed> = None;
        for token in printed {
            match before {
                Some(before) if plain && follows(before, token) && before.made.is_none() && token.made.is_none() => {
                    self.keep_unchanged(token.source as usize);
                }
                _ => {
                    self.write_unchanged();
                    self.follow_move(token);
                    self.part(before, token);
                    self.out.push_str(self.job.text(token));
                }
            }
            if token.mark != Mark::None {
                self.follow_queries(token);
            }
            before = Some(token);
        }
        self.write_unchanged();
        let code_end = self.out.len();
        if let Some(last) = before {
            self.comments_after(last);
        }
        for comment in std::mem::take(&mut self.moved.end) {
            self.out.push(' ');
            self.comment(comment);
        }
        code_end
    }

    /// Token `index` and what precedes it go to the output as they are, but not yet: what
    /// follows may be unchanged too.
    fn keep_unchanged(&mut self, index: usize) {
        if self.unchanged.is_empty() {
            self.unchanged.start = self.job.tokens[index - 1].end as usize;
        }
        self.unchanged.end = self.job.tokens[index].end as usize;
    }

    fn write_unchanged(&mut self) {
        let unchanged = std::mem::take(&mut self.unchanged);
        self.out.push_str(self.job.source.get(unchanged).unwrap_or(""));
    }

    /// What is between two tokens.
    fn part(&mut self, before: Option<&Printed>, token: &Printed) {
        if let Some(before) = before {
            self.gap(before, token);
        }
        self.comments_before(token);
        if self.open_line {
            self.end_line();
        }
        if before.is_some_and(|b| {
            !follows(b, token) && self.out.ends_with(self.job.text(b)) && must_part(self.job.text(b), self.job.text(token))
        }) {
            self.out.push(' ');
        }
    }

    /// What the gap before the statement tells of its lines; the gap itself is the caller's.
    fn lead_of_statement(&mut self, printed: &[Printed]) {
        let first = self.job.span.first as usize;
        // A statement on one line gets no line break of ours.
        let many_lines = self.job.source_of_statement().contains('\n');
        self.clause_leads.push(if many_lines { blank_tail(self.job.gap_before(first)) } else { "" });
        let Some(now) = printed.first().filter(|t| t.source != u32::MAX && t.source as usize != first) else { return };
        let deeper = self.column(now.source).saturating_sub(self.column(first as u32));
        self.moved_out = (deeper > 0).then_some((now.source, deeper));
    }

    /// Only what stood within moves to the left; what stood around it stays.
    fn follow_move(&mut self, token: &Printed) {
        if let (Some((from, deeper)), true) = (self.moved_out, token.source != u32::MAX) {
            self.dedent = if token.source >= from { deeper } else { 0 };
        }
    }

    /// How many characters stand before a token in its line.
    fn column(&self, token: u32) -> usize {
        let at = self.job.tokens[token as usize].start as usize;
        let line = self.job.source[..at].rfind('\n').map_or(0, |i| i + 1);
        self.job.source[line..at].chars().count()
    }

    fn gap(&mut self, before: &Printed, token: &Printed) {
        if follows(before, token) {
            let gap = self.job.gap_before(token.source as usize);
            self.adjacent_gap(gap);
            // A word that took a sign's place: `!moored`, NOT moored.
            let is_word = |c: char| c.is_alphanumeric() || c == '_';
            if gap.is_empty() && self.out.ends_with(is_word) && self.job.text(token).starts_with(is_word) {
                self.out.push(' ');
            }
            return;
        }
        self.comments_after(before);
        let blank = self.blank(before, token);
        self.write_blank(blank);
    }

    fn adjacent_gap(&mut self, gap: &str) {
        if self.dedent == 0 {
            convert_gap(gap, self.job.comments, &mut self.out);
            return;
        }
        let mut converted = String::new();
        convert_gap(gap, self.job.comments, &mut converted);
        let dedented = self.dedented(&converted);
        self.out.push_str(&dedented);
    }

    fn dedented<'b>(&self, blank: &'b str) -> Cow<'b, str> {
        if self.dedent == 0 || !blank.contains('\n') {
            return Cow::Borrowed(blank);
        }
        let mut lines = blank.split('\n');
        let mut out = lines.next().unwrap_or("").to_string();
        for line in lines {
            out.push('\n');
            let spare = line.chars().take(self.dedent).take_while(|c| *c == ' ' || *c == '\t').count();
            out.extend(line.chars().skip(spare));
        }
        Cow::Owned(out)
    }

    /// The blanks between two tokens that did not follow each other in the source.
    fn blank(&self, before: &Printed, token: &Printed) -> &'a str {
        let opened = matches!(self.job.text(before), "(" | "[" | "{");
        if token.source == u32::MAX {
            return match (token.glue, token.mark) {
                (Glue::Tight, _) => "",
                _ if opened => self.after(before),
                (_, Mark::Clause | Mark::Join) => self.clause_break(),
                _ => " ",
            };
        }
        if opened {
            return self.after(before);
        }
        let lead = blank_tail(self.job.gap_before(token.source as usize));
        match self.job.text(token) {
            "," | "." => "",
            ")" if lead.contains('\n') => lead,
            ")" => "",
            _ if token.glue == Glue::Tight => "",
            // A made token and an old one share a line, unless a clause begins.
            _ if before.source == u32::MAX && lead.contains('\n') && token.mark == Mark::None => " ",
            _ if matches!(token.mark, Mark::Clause | Mark::Join) && lead.is_empty() => self.clause_break(),
            _ if lead.is_empty() => " ",
            _ => lead,
        }
    }

    /// The blanks that stood behind an opening parenthesis.
    fn after(&self, before: &Printed) -> &'a str {
        if before.source == u32::MAX || before.source as usize + 1 >= self.job.tokens.len() {
            return "";
        }
        blank_tail(self.job.gap_before(before.source as usize + 1))
    }

    /// A new clause goes where the last one of the same query went.
    fn clause_break(&self) -> &'a str {
        match self.clause_leads.last() {
            Some(lead) if lead.contains('\n') => &lead[lead.rfind('\n').unwrap_or(0)..],
            _ => " ",
        }
    }

    fn follow_queries(&mut self, token: &Printed) {
        match token.mark {
            Mark::OpenQuery => self.clause_leads.push(""),
            Mark::CloseQuery if self.clause_leads.len() > 1 => {
                self.clause_leads.pop();
            }
            Mark::Clause if token.source != u32::MAX => {
                let lead = blank_tail(self.job.gap_before(token.source as usize));
                let is_first = token.source == self.job.span.first;
                if let Some(last) = self.clause_leads.last_mut()
                    && !is_first
                {
                    *last = lead;
                }
            }
            _ => {}
        }
    }

    fn write_blank(&mut self, blank: &str) {
        if self.open_line && !blank.contains('\n') {
            // The line break takes the blank's place.
            return self.end_line();
        }
        let blank = self.dedented(blank);
        self.out.push_str(&blank);
        if blank.contains('\n') {
            self.open_line = false;
        }
    }

    fn end_line(&mut self) {
        let start = self.out.rfind('\n').map_or(0, |at| at + 1);
        let indent: String = self.out[start..].chars().take_while(|c| *c == ' ' || *c == '\t').collect();
        self.out.push('\n');
        self.out.push_str(&indent);
        self.open_line = false;
    }

    fn comment(&mut self, text: &str) {
        if self.open_line {
            self.end_line();
        }
        convert(text, self.job.comments, &mut self.out);
        self.open_line = !text.starts_with("/*");
    }

    fn comments_after(&mut self, token: &Printed) {
        if !self.commented {
            return;
        }
        let Some(comments) = self.moved.after.remove(&token.source) else { return };
        for comment in comments {
            self.out.push(' ');
            self.comment(comment);
        }
    }

    fn comments_before(&mut self, token: &Printed) {
        if !self.commented {
            return;
        }
        let Some(comments) = self.moved.before.remove(&token.source) else { return };
        for comment in comments {
            if !self.out.is_empty() && !self.out.ends_with([' ', '\n', '\t', '(']) && !self.open_line {
                self.out.push(' ');
            }
            self.comment(comment);
            if !self.open_line {
                self.out.push(' ');
            }
        }
    }
}

/// Whether the two tokens stood next to each other in the source.
fn follows(before: &Printed, token: &Printed) -> bool {
    before.source != u32::MAX && token.source == before.source + 1
}

/// The blanks at the end of a gap, after its last comment.
fn blank_tail(gap: &str) -> &str {
    if !has_comment(gap) {
        return gap;
    }
    let start = gap.len() - gap.bytes().rev().take_while(u8::is_ascii_whitespace).count();
    &gap[start..]
}
