//! A whole text: statement by statement, with separators, comments and what could not be translated.

mod steps;

use meaning::{Catalog, Fidelity};
use syntax::{CommentStyle, Dialect, Statements, TokenKind, lex};

use crate::text::Text;
use crate::{Options, Place, PlacedNote, StatementClass, Translated};
use steps::{Job, Steps};

/// A text and its translation.
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
    let mut output = Output {
        text,
        comments: &comments,
        same_dialect: from.name == to.name,
        inline_notes: options.inline_notes,
        out: String::with_capacity(source.len() + source.len() / 8),
        statements: Vec::new(),
        line: 1,
        line_at: 0,
        at: 0,
        owes_separator: false,
        code_end: 0,
    };
    let mut statements = Statements::new(source, &tokens, from);
    loop {
        let parsed: Vec<_> = statements.by_ref().take(TOGETHER).collect();
        if parsed.is_empty() {
            break;
        }
        steps.run(parsed).into_iter().for_each(|job| output.statement(job));
    }
    output.finish();
    Script { statements: output.statements, text: output.out }
}

/// The output as it is put together.
struct Output<'a> {
    text: Text<'a>,
    comments: &'a CommentStyle,
    same_dialect: bool,
    /// Notes are written above their statements.
    inline_notes: bool,
    out: String,
    statements: Vec<Translated>,
    line: usize,
    line_at: usize,
    /// The next token whose gap is to be written.
    at: usize,
    /// The last statement had no separator, and the target wants one if another follows.
    owes_separator: bool,
    /// Where in the output the last statement's tokens end; comments may follow.
    code_end: usize,
}

impl Output<'_> {
    /// Writes gaps, and separators that stand alone, up to the token at `until`.
    fn write_until(&mut self, until: usize) {
        while self.at < until {
            let token = self.text.tokens[self.at];
            let gap = self.comments.gap(self.text.gap_before(self.at));
            self.out.push_str(&gap);
            if self.same_dialect {
                self.out.push_str(token.text(self.text.source));
            }
            self.at += 1;
        }
        let gap = self.comments.gap(self.text.gap_before(until));
        self.out.push_str(&gap);
        self.at = until;
    }

    /// Puts one translated statement and what stands before it behind the others.
    fn statement(&mut self, job: Job) {
        if self.owes_separator {
            self.out.insert(self.code_end, ';');
            self.owes_separator = false;
        }
        let span = job.span;
        self.write_until(span.first as usize);
        let place = self.text.place(span);
        self.line += memchr::memchr_iter(b'\n', &self.text.source.as_bytes()[self.line_at..place.start]).count();
        self.line_at = place.start;
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
            PlacedNote { note, place, breach }
        });
        let notes: Vec<PlacedNote> = notes.collect();
        let fidelity = notes.iter().map(|n| n.note.fidelity).max().unwrap_or(Fidelity::Exact);
        let refused = sql.is_none();
        if self.inline_notes && !refused {
            self.write_notes(&notes);
        }
        self.code_end = self.out.len() + code_end;
        match &sql {
            Some(sql) => self.out.push_str(sql),
            None => self.write_refused(&notes, place),
        }
        self.statements.push(Translated { place, line: self.line, class, sql, fidelity, notes, steps: job.steps });
        self.at = span.end as usize;
        self.separator(separator, refused || matches!(class, StatementClass::Other | StatementClass::Variable));
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
            // The comment that stands for the statement needs none.
            let gap = self.comments.gap(self.text.gap_before(index));
            self.out.push_str(gap.trim_end());
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
    }

    // --- comments ------------------------------------------------------------------------------

    fn indent(&self) -> String {
        let start = self.out.rfind('\n').map_or(0, |at| at + 1);
        let line = &self.out[start..];
        if line.trim().is_empty() { line.to_string() } else { String::new() }
    }

    fn write_notes(&mut self, notes: &[PlacedNote]) {
        let indent = self.indent();
        for placed in notes {
            let note = &placed.note;
            self.out.push_str(&format!("-- {} ({}): {}\n{indent}", note.fidelity, note.code, note.message));
        }
    }

    fn write_refused(&mut self, notes: &[PlacedNote], place: Place) {
        let indent = self.indent();
        for placed in notes.iter().filter(|n| n.note.fidelity >= Fidelity::Refused) {
            let note = &placed.note;
            let word = if note.fidelity == Fidelity::Unreadable { "not read" } else { "not translated" };
            self.out.push_str(&format!("-- {word} ({}): {}\n{indent}", note.code, note.message));
            if let Some(advice) = &note.advice {
                self.out.push_str(&format!("--   {advice}\n{indent}"));
            }
        }
        let kept = comment_lines(&self.text.source[place.start..place.end]);
        self.out.push_str(&kept);
    }
}

/// Every line of `text` as a comment.
fn comment_lines(text: &str) -> String {
    let lines: Vec<String> = text.trim_end().lines().map(|l| format!("-- {}", l.trim_end()).trim_end().to_string()).collect();
    lines.join("\n")
}
