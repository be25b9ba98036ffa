//! The steps of a translation, each taken by several statements before the next.

use std::borrow::Cow;

use meaning::{Capabilities, Catalog, Fidelity, Meant, Note};
use syntax::tree::{Span, Spelled, Statement, StatementKind};
use syntax::{
    CommentStyle, Dialect, DialectName, LaidOut, LayoutJob, LayoutStyle, Parentheses, Parsed, Printed, SyntaxError, TokenKind, is_hint,
    layout, print,
};

use super::{comment_lines, draft, transaction};
use crate::copies::Budget;
use crate::features::Features;
use crate::read::Reader;
use crate::rewrite::{Context, rewrite};
use crate::text::Text;
use crate::write::Writer;
use crate::{Options, StatementClass, UNKNOWN_TYPES, collation_notes, constructs, labels, numbers};

/// How many columns a note names.
const MOST_NAMES: usize = 6;

/// A statement on its way.
pub(super) struct Job {
    pub(super) span: Span,
    /// The line it begins on, from 1.
    pub(super) line: usize,
    pub(super) separator: Option<u32>,
    pub(super) class: StatementClass,
    pub(super) notes: Vec<Note>,
    /// The statement after each rewrite that changed it, with the reason.
    pub(super) steps: Vec<(String, String)>,
    /// What became of it; none if it was refused.
    pub(super) translation: Option<LaidOut>,
    /// Its translation is a comment: it is for the source's client or session.
    pub(super) carried: bool,
    /// The variables whose values were put in.
    pub(super) put_in: Vec<String>,
    /// What is to be known of strings.
    strings: Vec<Note>,
    /// What could be translated of it, if it was refused.
    pub(super) draft: Option<String>,
    /// How much of it may be written more than once.
    budget: Budget,
    stage: Stage,
}

/// How far a statement has come.
enum Stage {
    Meant(Statement<Meant>, Features),
    Spelled(Statement<Spelled>),
    Printed(Vec<Printed>, LayoutStyle),
    /// Nothing is left to do.
    Done,
}

/// What the steps work with.
pub(super) struct Steps<'a> {
    text: Text<'a>,
    comments: &'a CommentStyle,
    from: &'a Dialect,
    to: &'a Dialect,
    catalog: &'a Catalog,
    options: &'a Options,
    source_facts: Capabilities,
    target_facts: Capabilities,
    reader: Reader<'a>,
    writer: Writer<'a>,
}

impl<'a> Steps<'a> {
    pub(super) fn new(
        text: Text<'a>,
        comments: &'a CommentStyle,
        from: &'a Dialect,
        to: &'a Dialect,
        catalog: &'a Catalog,
        options: &'a Options,
    ) -> Self {
        let (source_facts, target_facts) = (Capabilities::of(from), Capabilities::of(to));
        let reader = Reader::new(from, catalog, &target_facts);
        let writer = Writer::new(from, to, source_facts, target_facts);
        Steps { text, comments, from, to, catalog, options, source_facts, target_facts, reader, writer }
    }

    /// All steps for the statements just parsed.
    pub(super) fn run(&mut self, parsed: Vec<Parsed>) -> Vec<Job> {
        let mut jobs: Vec<Job> = parsed.into_iter().map(|p| self.read(p)).collect();
        jobs.iter_mut().for_each(|job| self.note_texts(job));
        jobs.iter_mut().for_each(|job| self.rewrite(job));
        jobs.iter_mut().for_each(|job| self.note_unspoken(job));
        jobs.iter_mut().for_each(|job| self.write(job));
        jobs.iter_mut().for_each(|job| self.print(job));
        jobs.iter_mut().for_each(|job| self.lay_out(job));
        jobs
    }

    fn same_dialect(&self) -> bool {
        self.from.name == self.to.name
    }

    // --- read ----------------------------------------------------------------------------------

    fn read(&mut self, parsed: Parsed) -> Job {
        let span = parsed.span;
        let mut job = Job {
            span,
            line: 0,
            separator: parsed.separator,
            class: StatementClass::Unreadable,
            notes: Vec::new(),
            steps: Vec::new(),
            translation: None,
            carried: false,
            put_in: Vec::new(),
            strings: Vec::new(),
            draft: None,
            budget: Budget::of(span),
            stage: Stage::Done,
        };
        let mut tree = match parsed.tree {
            Ok(tree) => tree,
            Err(error) => {
                self.forget_variables(span);
                job.notes.push(unreadable(&error));
                return job;
            }
        };
        job.class = class_of(&tree.kind);
        match &tree.kind {
            StatementKind::Other(_) => self.forget_variables(span),
            kind => self.reader.learn_variables(kind),
        }
        if self.same_dialect() {
            job.stage = Stage::Spelled(tree);
            return job;
        }
        if let Some(step) = transaction::step(self.text, span, self.from.name) {
            self.say_transaction(step, &mut job);
            return job;
        }
        if is_carried(&tree.kind) {
            self.carry(&mut job);
            return job;
        }
        if self.options.keep_labels {
            job.notes = labels::keep(&mut tree, self.text, self.from, self.to);
        }
        let what = kind_words(&tree.kind);
        match job.budget.spend(|| self.reader.statement(tree)) {
            Some(meant) => job.stage = Stage::Meant(meant, self.reader.features),
            None => job.notes.push(Note::new("statement.not-a-query", span, format!("{what} is not translated"))),
        }
        job.notes.append(&mut self.reader.notes);
        job.put_in = std::mem::take(&mut self.reader.put_in);
        job
    }

    /// A statement that isn't read may give the variables that it names other values.
    fn forget_variables(&mut self, span: Span) {
        let tokens = &self.text.tokens[span.first as usize..span.end as usize];
        for token in tokens.iter().filter(|t| t.kind == TokenKind::Parameter) {
            self.reader.forget_variable(token.text(self.text.source));
        }
    }

    /// BEGIN, COMMIT or ROLLBACK in the target's words.
    fn say_transaction(&self, step: transaction::Step, job: &mut Job) {
        match transaction::said(step, self.to.name) {
            Some(words) => {
                let mut text = words.to_string();
                let code_end = text.len();
                for token in job.span.first as usize + 1..job.span.end as usize {
                    text.push_str(self.comments.gap(self.text.gap_before(token)).trim_end());
                }
                job.translation = Some(LaidOut { text, code_end });
            }
            None if step == transaction::Step::Begin && self.to.name == DialectName::Oracle => {
                let message = "Oracle begins a transaction with the first change; the statement was kept as a comment";
                self.comment_out(job, Note::new("statement.carried", job.span, message));
            }
            None => {
                let message = format!("{} has no transactions over several statements", self.to.name.title());
                job.notes.push(Note::new("statement.not-a-query", job.span, message));
            }
        }
    }

    fn comment_out(&self, job: &mut Job, note: Note) {
        let commented = comment_lines(self.text.of(job.span), "\n");
        job.notes.push(note);
        job.translation = Some(LaidOut { code_end: commented.len(), text: commented });
        job.carried = true;
    }

    /// A line for the client, or a variable: kept as a comment.
    fn carry(&self, job: &mut Job) {
        let text = self.text.of(job.span);
        let note = if limits_session(text) {
            Note::new("session.row-count", job.span, "every statement after this line stops at so many rows; their translations don't")
                .advise("give each of them a limit of its own: SELECT TOP (n) ...")
        } else {
            Note::new("statement.carried", job.span, "this line is for the source's client or session and was kept as a comment")
        };
        self.comment_out(job, note);
    }

    // --- notes and rewrites --------------------------------------------------------------------

    /// Strings are looked for in what was written, before a rewrite adds to it.
    fn note_texts(&self, job: &mut Job) {
        if let Stage::Meant(meant, features) = &job.stage {
            job.strings = collation_notes::notes(meant, features, &self.source_facts, &self.target_facts);
            job.strings.extend(numbers::notes(meant, features, &self.source_facts, &self.target_facts));
        }
    }

    fn rewrite(&self, job: &mut Job) {
        let Stage::Meant(meant, features) = &mut job.stage else { return };
        let mut cx = Context::new(self.from, self.to, self.source_facts, self.target_facts, self.catalog);
        cx.null_order = self.options.null_order;
        cx.features = *features;
        job.notes.drain(..).for_each(|n| cx.note(n));
        let span = job.span;
        let mut last = if self.options.steps { self.written(meant, span) } else { String::new() };
        let steps = &mut job.steps;
        let mut keep_step = |why: &str, statement: &Statement<Meant>| {
            if self.options.steps {
                let text = self.written(statement, span);
                if text != last {
                    steps.push((why.to_string(), text.clone()));
                }
                last = text;
            }
        };
        job.budget.spend(|| rewrite(meant, &mut cx, &mut keep_step));
        job.notes = cx.notes.take();
    }

    /// What no rewrite took away and the target doesn't speak.
    fn note_unspoken(&self, job: &mut Job) {
        let Stage::Meant(meant, _) = &job.stage else { return };
        let notes = &mut job.notes;
        let reported = |n: &Note| notes.iter().any(|m| m.fidelity >= Fidelity::Refused && m.span == n.span);
        let unsupported: Vec<Note> = constructs::unsupported(meant, self.text, self.to).into_iter().filter(|n| !reported(n)).collect();
        notes.extend(unsupported);
        notes.append(&mut job.strings);
        self.note_hints(job.span, notes);
    }

    /// The statement as it is, for those who want to see each step.
    fn written(&self, statement: &Statement<Meant>, span: Span) -> String {
        let mut writer = Writer::new(self.from, self.to, self.source_facts, self.target_facts);
        let (printed, style) = self.printed(&writer.statement(statement.clone()));
        self.laid_out(&printed, style, span).text
    }

    fn note_hints(&self, span: Span, notes: &mut Vec<Note>) {
        let text = self.text.of(span);
        if memchr::memchr(b'+', text.as_bytes()).is_none() || !(text.contains("/*+") || text.contains("--+")) {
            return;
        }
        for index in span.first as usize + 1..span.end as usize {
            let gap = self.text.gap_before(index);
            if gap.len() > 3 && is_hint(gap.trim_start()) {
                let span = Span { first: index as u32, end: index as u32 + 1 };
                notes.push(Note::new("hint.dropped", span, "a hint to the source's optimizer became a plain comment"));
                return;
            }
        }
    }

    // --- write ---------------------------------------------------------------------------------

    fn write(&mut self, job: &mut Job) {
        if !matches!(job.stage, Stage::Meant(..)) {
            return;
        }
        let Stage::Meant(meant, _) = std::mem::replace(&mut job.stage, Stage::Done) else { return };
        let spelled = job.budget.spend(|| self.writer.statement(meant));
        // What a rewrite has noted is not noted again where it is written.
        let notes = &mut job.notes;
        let reported = |n: &Note| n.fidelity >= Fidelity::Refused && notes.iter().any(|m| m.code == n.code);
        let written: Vec<Note> = self.writer.notes.take().into_iter().filter(|n| !reported(n)).collect();
        notes.extend(written);
        notes.extend(job.budget.note(job.span));
        self.name_unknown(notes);
        if notes.iter().all(|n| n.fidelity < Fidelity::Refused) {
            job.stage = Stage::Spelled(spelled);
        } else if self.options.drafts && job.budget.note(job.span).is_none() {
            job.draft = Some(self.draft(&spelled, &job.notes, job.span));
        }
    }

    /// What could be translated of a refused statement.
    fn draft(&self, spelled: &Statement<Spelled>, notes: &[Note], span: Span) -> String {
        let (printed, style) = self.printed(spelled);
        let marked = draft::marked(printed, notes, self.text);
        self.laid_out(&marked, style, span).text
    }

    /// Puts the notes on columns of unknown types together into the first.
    fn name_unknown(&self, notes: &mut Vec<Note>) {
        let mut names: Vec<&str> = Vec::new();
        let mut seen = rustc_hash::FxHashSet::default();
        for note in notes.iter().filter(|n| n.code == UNKNOWN_TYPES) {
            let name = self.text.of(note.span);
            if seen.insert(name.to_ascii_lowercase()) {
                names.push(name);
            }
        }
        let Some(first) = notes.iter().position(|n| n.code == UNKNOWN_TYPES) else { return };
        let shown = names.iter().take(MOST_NAMES).copied().collect::<Vec<_>>().join(", ");
        let more = match names.len().saturating_sub(MOST_NAMES) {
            0 => String::new(),
            n => format!(" and {n} more"),
        };
        let what = if names.len() == 1 { "the type of" } else { "the types of" };
        let span = notes[first].span;
        notes.retain(|n| n.code != UNKNOWN_TYPES);
        let message = format!("{what} {shown}{more}: not known, and for some types the result is another in {}", self.to.name.title());
        let advice = "give the schema with --schema, or the types with --assume 'table.column: type'";
        notes.push(Note::new(UNKNOWN_TYPES, span, message).advise(advice));
    }

    // --- print and lay out -------------------------------------------------------------------------------

    fn print(&self, job: &mut Job) {
        if let Stage::Spelled(spelled) = &job.stage {
            let (printed, style) = self.printed(spelled);
            job.stage = Stage::Printed(printed, style);
        }
    }

    fn printed(&self, tree: &Statement<Spelled>) -> (Vec<Printed>, LayoutStyle) {
        let parentheses = if self.same_dialect() { Parentheses::AsRead } else { Parentheses::Needed };
        let Text { source, tokens } = self.text;
        let whole = matches!(tree.kind, StatementKind::Directive | StatementKind::Other(_));
        let style = if whole { LayoutStyle::Keep } else { self.options.layout };
        (print(tree, source, tokens, self.to, parentheses), style)
    }

    fn lay_out(&self, job: &mut Job) {
        if let Stage::Printed(printed, style) = &job.stage {
            job.translation = Some(self.laid_out(printed, *style, job.span));
            job.stage = Stage::Done;
        }
    }

    fn laid_out(&self, printed: &[Printed], style: LayoutStyle, span: Span) -> LaidOut {
        let Text { source, tokens } = self.text;
        layout(printed, &LayoutJob { source, tokens, span, comments: self.comments }, style)
    }
}

fn unreadable(error: &SyntaxError) -> Note {
    let mut note = Note::new("statement.unreadable", error.span, error.message.clone());
    note.advice = error.advice.clone().map(Into::into);
    note
}

/// SET ROWCOUNT of SQL Server with a count; 0 ends it.
fn limits_session(text: &str) -> bool {
    let words: Vec<&str> = text.split_whitespace().collect();
    matches!(words.as_slice(), [set, row_count, n] if set.eq_ignore_ascii_case("SET") && row_count.eq_ignore_ascii_case("ROWCOUNT") && *n != "0")
}

/// Lines for the client and what sets the session up: kept as comments.
fn is_carried(kind: &StatementKind<Spelled>) -> bool {
    match kind {
        StatementKind::Directive | StatementKind::Declare(_) | StatementKind::SetVariable(..) | StatementKind::Use(_) => true,
        StatementKind::Other(words) => is_session_setting(words),
        _ => false,
    }
}

fn is_session_setting(words: &str) -> bool {
    let first = words.split(' ').next().unwrap_or("");
    matches!(first, "SET" | "ALTER" if words.starts_with("SET ") || words.starts_with("ALTER SESSION"))
        || matches!(first, "PRINT" | "GO" | "PRAGMA")
}

fn class_of(kind: &StatementKind<Spelled>) -> StatementClass {
    match kind {
        StatementKind::Query(_) => StatementClass::Query,
        kind if kind.is_data_change() => StatementClass::Change,
        StatementKind::CreateTable(_) | StatementKind::CreateView(_) | StatementKind::CreateType(_) | StatementKind::CreateFunction(_) => {
            StatementClass::Definition
        }
        StatementKind::Declare(_) | StatementKind::SetVariable(..) => StatementClass::Variable,
        _ => StatementClass::Other,
    }
}

fn kind_words(kind: &StatementKind<Spelled>) -> Cow<'static, str> {
    match kind {
        StatementKind::CreateTable(_) => "CREATE TABLE".into(),
        StatementKind::CreateView(_) => "CREATE VIEW".into(),
        StatementKind::CreateType(_) => "CREATE TYPE".into(),
        StatementKind::CreateFunction(_) => "CREATE FUNCTION".into(),
        StatementKind::Other(words) => words.to_string().into(),
        _ => "this statement".into(),
    }
}
