//! A whole text: statement by statement, with separators, comments and what could not be translated.

use meaning::{Catalog, Facts, Fidelity, Note};
use syntax::tree::{Span, Statement, StatementKind};
use syntax::{
    CommentStyle, Dialect, LaidOut, LayoutJob, LayoutStyle, Parentheses, Parsed, Statements, SyntaxError, Token, TokenKind, is_hint,
    layout, lex, may_hold_comment, print,
};

use crate::read::Reader;
use crate::rewrite::{Context, rewrite};
use crate::write::Writer;
use crate::{Options, Place, PlacedNote, StatementClass, Translated, constructs, texts};

/// A text and its translation.
#[derive(Debug, Clone)]
pub struct Script {
    /// The statements in order.
    pub statements: Vec<Translated>,
    /// The whole output: translations, comments, and what was refused as comments.
    pub text: String,
}

/// Translates all of `source`. Pure: no I/O; the same input gives the same output.
pub fn translate(source: &str, from: &Dialect, to: &Dialect, catalog: &Catalog, options: &Options) -> Script {
    let tokens = lex(source, from);
    let mut translator = Translator {
        source,
        tokens: &tokens,
        from,
        to,
        options,
        source_facts: Facts::of(from),
        target_facts: Facts::of(to),
        comments: &CommentStyle::new(from, to),
        reader: Reader::new(from, catalog),
        writer: Writer::new(from, to, Facts::of(from), Facts::of(to)),
        text: String::with_capacity(source.len()),
        statements: Vec::new(),
        line: 1,
        line_at: 0,
        at: 0,
        owes_separator: false,
        code_end: 0,
    };
    for parsed in Statements::new(source, &tokens, from) {
        translator.statement(parsed);
    }
    translator.finish();
    Script { statements: translator.statements, text: translator.text }
}

struct Translator<'a> {
    source: &'a str,
    tokens: &'a [Token],
    from: &'a Dialect,
    to: &'a Dialect,
    options: &'a Options,
    source_facts: Facts,
    target_facts: Facts,
    comments: &'a CommentStyle,
    reader: Reader<'a>,
    writer: Writer<'a>,
    text: String,
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

/// What came of one statement.
struct Outcome {
    class: StatementClass,
    sql: Option<String>,
    /// Where in it the last token ends.
    code_end: usize,
    notes: Vec<Note>,
    steps: Vec<(String, String)>,
}

impl Outcome {
    fn refused(class: StatementClass, note: Note) -> Outcome {
        Outcome { class, sql: None, code_end: 0, notes: vec![note], steps: Vec::new() }
    }
}

impl<'a> Translator<'a> {
    fn same_dialect(&self) -> bool {
        self.from.name == self.to.name
    }

    fn gap_before(&self, token: usize) -> &'a str {
        let start = if token == 0 { 0 } else { self.tokens[token - 1].end as usize };
        &self.source[start..self.tokens[token].start as usize]
    }

    /// Writes gaps, and separators that stand alone, up to the token at `until`.
    fn write_until(&mut self, until: usize) {
        while self.at < until {
            let token = self.tokens[self.at];
            let gap = self.comments.gap(self.gap_before(self.at));
            self.text.push_str(&gap);
            if self.same_dialect() {
                self.text.push_str(token.text(self.source));
            }
            self.at += 1;
        }
        let gap = self.comments.gap(self.gap_before(until));
        self.text.push_str(&gap);
        self.at = until;
    }

    fn statement(&mut self, parsed: Parsed) {
        if self.owes_separator {
            self.text.insert(self.code_end, ';');
            self.owes_separator = false;
        }
        let span = parsed.span;
        self.write_until(span.first as usize);
        let place = self.place(span);
        self.line += self.source[self.line_at..place.start].bytes().filter(|b| *b == b'\n').count();
        self.line_at = place.start;
        let outcome = match parsed.tree {
            Ok(tree) => self.outcome(tree, span),
            Err(error) => unreadable(&error),
        };
        let refused = outcome.sql.is_none();
        let notes = outcome.notes.into_iter().map(|note| {
            // What a rewrite made has no place of its own.
            let place = if note.span.is_read() { self.place(note.span) } else { place };
            PlacedNote { note, place }
        });
        let notes: Vec<PlacedNote> = notes.collect();
        let fidelity = notes.iter().map(|n| n.note.fidelity).max().unwrap_or(Fidelity::Exact);
        if self.options.inline_notes && !refused {
            self.write_notes(&notes);
        }
        let start = self.text.len();
        self.code_end = start + outcome.code_end;
        match &outcome.sql {
            Some(sql) => self.text.push_str(sql),
            None => self.write_refused(&notes, place),
        }
        self.statements.push(Translated {
            place,
            line: self.line,
            class: outcome.class,
            sql: outcome.sql,
            fidelity,
            notes,
            steps: outcome.steps,
        });
        self.at = span.end as usize;
        self.separator(parsed.separator, refused || matches!(outcome.class, StatementClass::Other | StatementClass::Variable));
    }

    fn separator(&mut self, separator: Option<u32>, commented: bool) {
        let Some(index) = separator else {
            self.owes_separator = !commented && !self.same_dialect();
            return;
        };
        let index = index as usize;
        let token = self.tokens[index];
        if self.same_dialect() {
            self.text.push_str(&self.source[self.tokens[index].start as usize - self.gap_before(index).len()..token.end as usize]);
        } else if commented {
            // The comment that stands for the statement needs none.
            let gap = self.comments.gap(self.gap_before(index));
            self.text.push_str(gap.trim_end());
        } else if token.kind == TokenKind::Separator {
            let gap = self.comments.gap(self.gap_before(index));
            if self.code_end == self.text.len() && gap.trim().is_empty() {
                self.text.push_str(&gap);
                self.text.push(';');
            } else {
                // A comment behind the last token stays behind the separator.
                self.text.insert(self.code_end, ';');
                self.text.push_str(gap.trim_end());
            }
        } else {
            self.text.insert(self.code_end, ';');
            let gap = self.comments.gap(self.gap_before(index));
            self.text.push_str(gap.trim_end_matches(['\n', '\r', ' ', '\t']));
        }
        self.at = index + 1;
    }

    fn finish(&mut self) {
        let end = self.tokens.len() - 1;
        self.write_until(end);
    }

    fn place(&self, span: Span) -> Place {
        if !span.is_read() || span.first as usize >= self.tokens.len() {
            let at = self.source.len();
            return Place { start: at, end: at };
        }
        let first = self.tokens[span.first as usize];
        let last = self.tokens[(span.end.max(span.first + 1) as usize - 1).min(self.tokens.len() - 1)];
        Place { start: first.start as usize, end: (last.end as usize).max(first.start as usize) }
    }

    // --- one statement -------------------------------------------------------------------------

    fn outcome(&mut self, tree: Statement<syntax::tree::Spelled>, span: Span) -> Outcome {
        let class = class_of(&tree.kind);
        self.reader.learn_variables(&tree.kind);
        if self.same_dialect() {
            let LaidOut { text, code_end } = self.lay_out(&tree, span);
            return Outcome { class, sql: Some(text), code_end, notes: Vec::new(), steps: Vec::new() };
        }
        match &tree.kind {
            StatementKind::Directive | StatementKind::Declare(_) | StatementKind::SetVariable(..) | StatementKind::Use(_) => {
                return self.carried(class, span);
            }
            StatementKind::Other(words) if is_session_setting(words) => return self.carried(class, span),
            _ => {}
        }
        let what = kind_words(&tree.kind);
        let Some(mut meant) = self.reader.statement(tree) else {
            let note = Note::new("statement.not-a-query", span, format!("{what} is not translated"))
                .advise("translate it by hand; it is kept as a comment");
            return Outcome::refused(class, note);
        };
        let texts = texts::notes(&meant, &self.source_facts, &self.target_facts);
        let mut cx = Context::new(self.from, self.to, self.target_facts, self.options.null_order);
        cx.features = self.reader.features;
        std::mem::take(&mut self.reader.notes).into_iter().for_each(|n| cx.note(n));
        let mut steps = Vec::new();
        let written = |statement: &Statement<meaning::Meant>| {
            let mut writer = Writer::new(self.from, self.to, self.source_facts, self.target_facts);
            self.lay_out(&writer.statement(statement.clone()), span).text
        };
        let mut last = if self.options.steps { written(&meant) } else { String::new() };
        rewrite(&mut meant, &mut cx, &mut |why, statement| {
            if self.options.steps {
                let text = written(statement);
                if text != last {
                    steps.push((why.to_string(), text.clone()));
                }
                last = text;
            }
        });
        let mut notes = cx.notes.take();
        let told = |n: &Note| notes.iter().any(|m| m.fidelity >= Fidelity::Refused && m.span == n.span);
        let unspoken: Vec<Note> = constructs::unspoken(&meant, self.to).into_iter().filter(|n| !told(n)).collect();
        notes.extend(unspoken);
        notes.extend(texts);
        self.note_hints(span, &mut notes);
        let spelled = self.writer.statement(meant);
        // What a rewrite has told of is not told again where it is written.
        let told = |n: &Note| n.fidelity >= Fidelity::Refused && notes.iter().any(|m| m.code == n.code);
        let written: Vec<Note> = self.writer.notes.take().into_iter().filter(|n| !told(n)).collect();
        notes.extend(written);
        let refused = notes.iter().any(|n| n.fidelity >= Fidelity::Refused);
        if refused {
            return Outcome { class, sql: None, code_end: 0, notes, steps };
        }
        let LaidOut { text, code_end } = self.lay_out(&spelled, span);
        Outcome { class, sql: Some(text), code_end, notes, steps }
    }

    fn lay_out(&self, tree: &Statement<syntax::tree::Spelled>, span: Span) -> LaidOut {
        let printed =
            print(tree, self.source, self.tokens, self.to, if self.same_dialect() { Parentheses::AsRead } else { Parentheses::Needed });
        let job = LayoutJob { source: self.source, tokens: self.tokens, span, comments: self.comments };
        let whole = matches!(tree.kind, StatementKind::Directive | StatementKind::Other(_));
        layout(&printed, &job, if whole { LayoutStyle::Keep } else { self.options.layout })
    }

    /// A line for the client, or a variable: kept as a comment.
    fn carried(&self, class: StatementClass, span: Span) -> Outcome {
        let place = self.place(span);
        let text = &self.source[place.start..place.end];
        let commented = comment_lines(text);
        let note = if limits_session(text) {
            Note::new("session.row-count", span, "every statement after this line stops at so many rows; their translations don't")
                .advise("give each of them a limit of its own: SELECT TOP (n) ...")
        } else {
            Note::new("statement.carried", span, "this line is for the source's client or session and was kept as a comment")
        };
        Outcome { class, code_end: commented.len(), sql: Some(commented), notes: vec![note], steps: Vec::new() }
    }

    fn note_hints(&self, span: Span, notes: &mut Vec<Note>) {
        let place = self.place(span);
        if !may_hold_comment(&self.source[place.start..place.end]) {
            return;
        }
        for index in span.first as usize + 1..span.end as usize {
            let gap = self.gap_before(index);
            if gap.len() > 3 && is_hint(gap.trim_start()) {
                let span = Span { first: index as u32, end: index as u32 + 1 };
                notes.push(Note::new("hint.dropped", span, "a hint to the source's optimizer became a plain comment"));
                return;
            }
        }
    }

    // --- comments ------------------------------------------------------------------------------

    fn indent(&self) -> String {
        let start = self.text.rfind('\n').map_or(0, |at| at + 1);
        let line = &self.text[start..];
        if line.trim().is_empty() { line.to_string() } else { String::new() }
    }

    fn write_notes(&mut self, notes: &[PlacedNote]) {
        let indent = self.indent();
        for placed in notes {
            let note = &placed.note;
            self.text.push_str(&format!("-- {} ({}): {}\n{indent}", note.fidelity, note.code, note.message));
        }
    }

    fn write_refused(&mut self, notes: &[PlacedNote], place: Place) {
        let indent = self.indent();
        for placed in notes.iter().filter(|n| n.note.fidelity >= Fidelity::Refused) {
            let note = &placed.note;
            let word = if note.fidelity == Fidelity::Unreadable { "not read" } else { "not translated" };
            self.text.push_str(&format!("-- {word} ({}): {}\n{indent}", note.code, note.message));
            if let Some(advice) = &note.advice {
                self.text.push_str(&format!("--   {advice}\n{indent}"));
            }
        }
        let kept = comment_lines(&self.source[place.start..place.end]);
        self.text.push_str(&kept);
    }
}

/// Every line of `text` as a comment.
fn comment_lines(text: &str) -> String {
    let lines: Vec<String> = text.trim_end().lines().map(|l| format!("-- {}", l.trim_end()).trim_end().to_string()).collect();
    lines.join("\n")
}

fn unreadable(error: &SyntaxError) -> Outcome {
    let mut note = Note::new("statement.unreadable", error.span, error.message.clone());
    note.advice = error.advice.clone().map(Into::into);
    Outcome::refused(StatementClass::Unreadable, note)
}

/// SET ROWCOUNT of SQL Server with a count; 0 ends it.
fn limits_session(text: &str) -> bool {
    let words: Vec<&str> = text.split_whitespace().collect();
    matches!(words.as_slice(), [set, row_count, n] if set.eq_ignore_ascii_case("SET") && row_count.eq_ignore_ascii_case("ROWCOUNT") && *n != "0")
}

fn is_session_setting(words: &str) -> bool {
    let first = words.split(' ').next().unwrap_or("");
    matches!(first, "SET" | "ALTER" if words.starts_with("SET ") || words.starts_with("ALTER SESSION"))
        || matches!(first, "PRINT" | "GO" | "PRAGMA")
}

fn class_of(kind: &StatementKind<syntax::tree::Spelled>) -> StatementClass {
    match kind {
        StatementKind::Query(_) => StatementClass::Query,
        StatementKind::Insert(_) | StatementKind::Update(_) | StatementKind::Delete(_) | StatementKind::Merge(_) => StatementClass::Change,
        StatementKind::CreateTable(_) | StatementKind::CreateView(_) | StatementKind::CreateType(_) | StatementKind::CreateFunction(_) => {
            StatementClass::Definition
        }
        StatementKind::Declare(_) | StatementKind::SetVariable(..) => StatementClass::Variable,
        _ => StatementClass::Other,
    }
}

fn kind_words(kind: &StatementKind<syntax::tree::Spelled>) -> String {
    match kind {
        StatementKind::CreateTable(_) => "CREATE TABLE".to_string(),
        StatementKind::CreateView(_) => "CREATE VIEW".to_string(),
        StatementKind::CreateType(_) => "CREATE TYPE".to_string(),
        StatementKind::CreateFunction(_) => "CREATE FUNCTION".to_string(),
        StatementKind::Other(words) => words.to_string(),
        _ => "this statement".to_string(),
    }
}
