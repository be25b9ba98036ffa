//! A whole text: statement by statement, with separators, comments and what could not be translated.

mod draft;
mod governed;
mod steps;
mod transaction;

use meaning::{Catalog, Fidelity, Note};
use syntax::{CommentStyle, Dialect, Statements, TokenKind, lex};

use crate::text::Text;
use crate::{Options, Place, PlacedNote, Translated};
use steps::{Job, Steps};

/// A string and its translation.
#[derive(Debug, Clone)]
pub struct Script {
    /// The statements in order.
    pub statements: Vec<Translated>,
    /// The whole output: translations, comments, and what was refused as comments.
    pub text: String,
}

/// How many statements take each step together: enough that the code of a step, once it is in the
/// processor's cache, serves many; few enough that their trees stay there too.
const TOGETHER: usize = 64;

/// Translates all of `source`. Pure: no I/O; the same input gives the same output.
pub fn translate(source: &str, from: &Dialect, to: &Dialect, catalog: &Catalog, options: &Options) -> Script {
    let tokens = lex(source, from);
    let comments = CommentStyle::new(from, to);
    let text = Text { source, tokens: &tokens };
    let mut steps = Steps::new(text, &comments, from, to, catalog, options);
    let mut jobs = Vec::new();
    let mut statements = Statements::new(source, &tokens, from);
    loop {
        let parsed: Vec<_> = statements.by_ref().take(TOGETHER).collect();
        if parsed.is_empty() {
            break;
        }
        jobs.append(&mut steps.run(parsed));
    }
    number_lines(&mut jobs, text);
    if from.name != to.name {
        governed::refuse(&mut jobs, text, from.name, options.drafts);
    }
    let mut output = Output {
        text,
        comments: &comments,
        same_dialect: from.name == to.name,
        inline_notes: options.inline_notes,
        settled: &options.settled,
        line_break: if ends_lines_with_return(source) { "\r\n" } else { "\n" },
        out: String::with_capacity(source.len() + source.len() / 8),
        statements: Vec::with_capacity(jobs.len()),
        at: 0,
        owes_separator: false,
        code_end: 0,
        open_comment: false,
    };
    jobs.into_iter().for_each(|job| output.statement(job));
    output.finish();
    Script { statements: output.statements, text: output.out }
}

/// Gives every statement the line it begins on.
fn number_lines(jobs: &mut [Job], text: Text<'_>) {
    let (mut line, mut at) = (1, 0);
    for job in jobs {
        let start = text.place(job.span).start;
        line += memchr::memchr_iter(b'\n', &text.source.as_bytes()[at..start]).count();
        at = start;
        job.line = line;
    }
}

/// Every line of the text ends with a carriage return and a line feed, as Windows writes them.
fn ends_lines_with_return(source: &str) -> bool {
    let mut ends = memchr::memchr_iter(b'\n', source.as_bytes()).peekable();
    ends.peek().is_some() && ends.all(|at| at > 0 && source.as_bytes()[at - 1] == b'\r')
}

/// The output as it is put together.
struct Output<'a> {
    text: Text<'a>,
    comments: &'a CommentStyle,
    same_dialect: bool,
    /// Notes are written above their statements.
    inline_notes: bool,
    /// The codes of notes that are settled.
    settled: &'a [String],
    out: String,
    statements: Vec<Translated>,
    /// The next token whose gap is to be written.
    at: usize,
    /// The last statement had no separator, and the target wants one if another follows.
    owes_separator: bool,
    /// Where in the output the last statement's tokens end; comments may follow.
    code_end: usize,
    /// The output ends with a statement kept as a comment, whose line has not ended yet.
    open_comment: bool,
    /// How the source ends its lines.
    line_break: &'static str,
}

impl Output<'_> {
    /// Writes gaps, and separators that stand alone, up to the token at `until`.
    fn write_until(&mut self, until: usize) {
        while self.at < until {
            let token = self.text.tokens[self.at];
            self.write_gap(self.at);
            if self.same_dialect {
                self.out.push_str(token.text(self.text.source));
            }
            self.at += 1;
        }
        self.write_gap(until);
        self.at = until;
    }

    /// The blanks and comments before a token.
    fn write_gap(&mut self, token: usize) {
        let gap = self.comments.gap(self.text.gap_before(token));
        self.write_behind(&gap);
    }

    /// Blanks and comments behind what is written; a statement kept as a comment ends its line first, so
    /// that nothing that follows becomes part of the comment.
    fn write_behind(&mut self, gap: &str) {
        if gap.is_empty() {
            return;
        }
        if self.open_comment {
            let start = gap.trim_start_matches([' ', '\t']);
            let is_line_comment = start.starts_with("--");
            if !start.starts_with(['\r', '\n']) && !is_line_comment {
                self.out.push_str(self.line_break);
                self.out.push_str(start);
                self.open_comment = false;
                return;
            }
            self.open_comment = !gap.contains('\n');
        }
        self.out.push_str(gap);
    }

    fn end_comment(&mut self) {
        if std::mem::take(&mut self.open_comment) {
            self.out.push_str(self.line_break);
        }
    }

    /// Puts one translated statement and what precedes it behind the others.
    fn statement(&mut self, job: Job) {
        if self.owes_separator {
            self.out.insert(self.code_end, ';');
            self.owes_separator = false;
        }
        let span = job.span;
        self.write_until(span.first as usize);
        let place = self.text.place(span);
        let class = job.class;
        let separator = job.separator;
        let (sql, code_end) = match job.translation {
            Some(laid_out) => (Some(laid_out.text), laid_out.code_end),
            None => (None, 0),
        };
        let notes = job.notes.into_iter().map(|note| {
            // What a rewrite made has no place of its own.
            let place = if note.span.is_read() { self.text.place(note.span) } else { place };
            let breach = note.breach.clone().map(|breach| breach.map(|span| self.text.place(span)));
            let mut note = named(note, &self.text.source[place.start..place.end]);
            note.settled = note.fidelity < Fidelity::Refused && self.settled.iter().any(|code| code == note.code);
            PlacedNote { note, place, breach }
        });
        let notes: Vec<PlacedNote> = notes.collect();
        let fidelity = notes.iter().filter(|n| !n.note.settled).map(|n| n.note.fidelity).max().unwrap_or(Fidelity::Exact);
        let source = &self.text.source[place.start..place.end];
        let draft = job.draft.filter(|draft| draft::says_more(draft, source));
        self.end_comment();
        let commented = sql.is_none() || job.carried;
        if commented {
            self.begin_line();
        }
        if self.inline_notes && sql.is_some() {
            self.write_notes(&notes);
        }
        self.code_end = self.out.len() + code_end;
        match &sql {
            Some(sql) => self.write_code(sql),
            None => self.write_refused(&notes, place, draft.as_deref()),
        }
        self.open_comment = commented;
        self.statements.push(Translated { place, line: job.line, class, sql, draft, fidelity, notes, steps: job.steps });
        self.at = span.end as usize;
        self.separator(separator, commented);
    }

    /// A comment that represents a statement has lines of its own.
    fn begin_line(&mut self) {
        let start = self.out.rfind('\n').map_or(0, |at| at + 1);
        if !self.out[start..].trim_start_matches('\u{feff}').trim().is_empty() {
            let kept = self.out.trim_end_matches([' ', '\t']).len();
            self.out.truncate(kept);
            self.out.push_str(self.line_break);
        }
    }

    /// A translated statement; line breaks that the source doesn't have end as its own do.
    fn write_code(&mut self, sql: &str) {
        if self.line_break == "\n" || !sql.contains('\n') {
            self.out.push_str(sql);
            return;
        }
        let start = self.out.len();
        let (before, after) = sql.split_at(self.code_end - start);
        self.out.push_str(&with_returns(before));
        self.code_end = self.out.len();
        self.out.push_str(&with_returns(after));
    }

    fn separator(&mut self, separator: Option<u32>, commented: bool) {
        let Some(index) = separator else {
            self.owes_separator = !commented && !self.same_dialect;
            return;
        };
        let index = index as usize;
        let token = self.text.tokens[index];
        if self.same_dialect {
            self.out.push_str(
                &self.text.source[self.text.tokens[index].start as usize - self.text.gap_before(index).len()..token.end as usize],
            );
        } else if commented {
            // The comment that represents the statement needs none.
            let gap = self.comments.gap(self.text.gap_before(index));
            self.write_behind(gap.trim_end());
        } else if token.kind == TokenKind::Separator {
            let gap = self.comments.gap(self.text.gap_before(index));
            if self.code_end == self.out.len() && gap.trim().is_empty() {
                self.out.push_str(&gap);
                self.out.push(';');
            } else {
                // A comment behind the last token stays behind the separator.
                self.out.insert(self.code_end, ';');
                self.out.push_str(gap.trim_end());
            }
        } else {
            self.out.insert(self.code_end, ';');
            let gap = self.comments.gap(self.text.gap_before(index));
            self.out.push_str(gap.trim_end_matches(['\n', '\r', ' ', '\t']));
        }
        self.at = index + 1;
    }

    fn finish(&mut self) {
        let end = self.text.tokens.len() - 1;
        self.write_until(end);
        self.end_comment();
    }

    // --- comments ------------------------------------------------------------------------------

    /// The blanks that the current line begins with.
    fn indent(&self) -> String {
        let start = self.out.rfind('\n').map_or(0, |at| at + 1);
        let line = self.out[start..].trim_start_matches('\u{feff}');
        if line.trim().is_empty() { line.to_string() } else { String::new() }
    }

    fn write_notes(&mut self, notes: &[PlacedNote]) {
        let indent = self.indent();
        for placed in notes.iter().filter(|placed| !placed.note.settled) {
            let note = &placed.note;
            self.write_comment(&format!("{} ({}): {}", note.fidelity, note.code, note.message));
            self.out.push_str(&indent);
        }
    }

    fn write_refused(&mut self, notes: &[PlacedNote], place: Place, draft: Option<&str>) {
        let indent = self.indent();
        for placed in notes.iter().filter(|n| n.note.fidelity >= Fidelity::Refused) {
            let note = &placed.note;
            self.write_comment(&format!("{} ({}): {}", note.fidelity, note.code, note.message));
            self.out.push_str(&indent);
            if let Some(advice) = &note.advice {
                self.write_comment(&format!("  {advice}"));
                self.out.push_str(&indent);
            }
        }
        let kept = comment_lines(&self.text.source[place.start..place.end], self.line_break);
        self.out.push_str(&kept);
        if let Some(draft) = draft {
            self.out.push_str(self.line_break);
            self.write_comment("draft, to be completed by hand:");
            self.out.push_str(&comment_lines(draft, self.line_break));
        }
    }

    /// A comment on a line of its own; names from the source may hold line breaks.
    fn write_comment(&mut self, words: &str) {
        self.out.push_str("-- ");
        self.out.push_str(&words.replace(['\r', '\n'], " "));
        self.out.push_str(self.line_break);
    }
}

/// A note that tells of no name is about the function that its part of the source calls.
fn named(note: Note, source: &str) -> Note {
    let is_part = |c: char| c.is_alphanumeric() || matches!(c, '_' | '.' | '$' | '#' | '@');
    let end = source.find(|c| !is_part(c)).unwrap_or(source.len());
    let (word, rest) = source.split_at(end);
    let is_call = !word.is_empty() && rest.trim_start().starts_with('(');
    if is_call && note.subject.is_empty() { note.about(word.to_uppercase()) } else { note }
}

/// Every line of `text` as a comment. A carriage return alone ends a line too: PostgreSQL ends a comment there.
fn comment_lines(text: &str, line_break: &str) -> String {
    let text = text.trim_end().replace("\r\n", "\n");
    let lines: Vec<String> = text.split(['\n', '\r']).map(|l| format!("-- {}", l.trim_end()).trim_end().to_string()).collect();
    lines.join(line_break)
}

fn with_returns(text: &str) -> String {
    text.replace("\r\n", "\n").replace('\n', "\r\n")
}
