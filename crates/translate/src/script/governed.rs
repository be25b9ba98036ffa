//! Statements that may not run alone: what a refused statement governs is refused with it.
//!
//! 1. A transaction is one unit: if one of its changes is refused, or its BEGIN or its end can't be said,
//!    all of it is.
//! 2. What leaves a batch or script (RETURN, EXIT) decides whether the rest runs at all; `\if` of psql, what
//!    is up to `\endif`.
//! 3. A temporary table that isn't made, and one filled by a refused query, can't be read; a variable or a
//!    substitution that gets no value can't be used.

use std::collections::HashMap;

use meaning::Note;
use syntax::tree::Span;
use syntax::{DialectName, TokenKind};

use super::steps::Job;
use super::transaction::{self, Step};
use crate::StatementClass;
use crate::text::Text;

/// Refuses what refused statements govern.
pub(super) fn refuse(jobs: &mut [Job], text: Text<'_>, dialect: DialectName, drafts: bool) {
    refuse_transactions(jobs, text, dialect, drafts);
    let mut governed = Governed { text, dialect, drafts, rest: None, names: HashMap::new(), replaces: dialect == DialectName::Oracle };
    for job in jobs {
        governed.statement(job);
    }
}

fn is_refused(job: &Job) -> bool {
    job.translation.is_none()
}

/// Its translation stays as a draft.
fn refuse_with(job: &mut Job, message: String, advice: &'static str, drafts: bool) {
    if let Some(translation) = job.translation.take() {
        job.draft = (drafts && !job.carried).then_some(translation.text);
        job.carried = false;
        job.notes.push(Note::new("statement.governed", job.span, message).advise(advice));
    }
}

// --- transactions --------------------------------------------------------------------------------------

/// The statements of one transaction, its BEGIN and its end among them.
struct Transaction {
    jobs: std::ops::Range<usize>,
    /// It holds another one, which no target but SQL Server counts.
    nested: bool,
}

fn refuse_transactions(jobs: &mut [Job], text: Text<'_>, dialect: DialectName, drafts: bool) {
    for transaction in transactions(jobs, text, dialect) {
        let line = jobs[transaction.jobs.start].line;
        let spoils = |job: &&Job| is_refused(job) && job.class != StatementClass::Query;
        let spoiled = jobs[transaction.jobs.clone()].iter().find(spoils);
        let why = match spoiled {
            _ if transaction.nested => "it holds another one".to_string(),
            Some(job) => format!("its statement at line {} is not translated", job.line),
            None => continue,
        };
        for job in &mut jobs[transaction.jobs] {
            let message = format!("the transaction that begins at line {line} takes effect as a whole, and {why}");
            refuse_with(job, message, "translate that part by hand, then run the transaction as a whole", drafts);
        }
    }
}

fn transactions(jobs: &[Job], text: Text<'_>, dialect: DialectName) -> Vec<Transaction> {
    // Oracle begins one with the first change; so do others where a setting says so.
    let implicit = dialect == DialectName::Oracle;
    let mut found = Vec::new();
    let mut open: Option<Transaction> = None;
    for (at, job) in jobs.iter().enumerate() {
        match transaction::step(text, job.span, dialect).or_else(|| optional_step(text, job.span, dialect)) {
            Some(Step::Begin) => match &mut open {
                Some(outer) => outer.nested = true,
                None => open = Some(Transaction { jobs: at..jobs.len(), nested: false }),
            },
            Some(Step::Commit) if implicit => open = None,
            Some(_) => {
                if let Some(mut done) = open.take() {
                    done.jobs.end = at + 1;
                    // No BEGIN precedes it, and without one each change would stay.
                    done.nested |= implicit;
                    found.push(done);
                }
            }
            None if implicit && open.is_none() && job.class == StatementClass::Change => {
                open = Some(Transaction { jobs: at..jobs.len(), nested: false });
            }
            None => {}
        }
    }
    if !implicit {
        found.extend(open);
    }
    found
}

/// A step with options: it is refused, and still begins or ends the transaction.
fn optional_step(text: Text<'_>, span: Span, dialect: DialectName) -> Option<Step> {
    let word = |i: u32| text.word(span, i);
    match (word(0).as_str(), word(1).as_str()) {
        ("START", "TRANSACTION") => Some(Step::Begin),
        ("BEGIN", second) if dialect != DialectName::Oracle => {
            let options = ["TRANSACTION", "TRAN", "WORK", "DISTRIBUTED", "ISOLATION", "READ", "DEFERRABLE", "CONCURRENT"];
            options.contains(&second).then_some(Step::Begin)
        }
        ("COMMIT", _) => Some(Step::Commit),
        ("ROLLBACK", _) => {
            let to_savepoint = (1..span.end - span.first).any(|i| word(i) == "TO");
            (!to_savepoint).then_some(Step::Rollback)
        }
        _ => None,
    }
}

// --- the rest of a script, and names ----------------------------------------------------------------

/// What ends the power of a statement over those behind it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Until {
    Batch,
    Endif,
    End,
}

struct Governed<'a> {
    text: Text<'a>,
    dialect: DialectName,
    drafts: bool,
    /// The line of a statement that decides whether what follows runs, and its word.
    rest: Option<(usize, String, Until)>,
    /// Names of temporary tables and variables that are not there, and the line where they would be made.
    names: HashMap<String, usize>,
    /// `&name` is replaced by the client.
    replaces: bool,
}

impl Governed<'_> {
    fn statement(&mut self, job: &mut Job) {
        let first = job.span.first as usize;
        let new_batch = first > 0 && self.text.tokens[..first].last().is_some_and(|t| t.kind == TokenKind::BatchSeparator);
        if new_batch {
            self.rest = self.rest.take().filter(|(_, _, until)| *until != Until::Batch);
            // SQL Server: a batch's variables end with it.
            if self.dialect == DialectName::SqlServer {
                self.names.retain(|name, _| !name.starts_with('@'));
            }
        }
        if let Some((line, word, until)) = &self.rest {
            let ends = *until == Until::Endif && self.text.of(job.span).starts_with("\\endif");
            let message =
                format!("whether this statement runs, or what it means, is decided by {word} at line {line}, which is not translated");
            refuse_with(job, message, "decide by hand whether it is to run", self.drafts);
            if ends {
                self.rest = None;
            }
            return;
        }
        if !is_refused(job) && !job.carried {
            self.refuse_users(job);
        }
        if is_refused(job) || job.carried {
            self.learn(job);
        }
    }

    /// Refuses a statement that uses what isn't there.
    fn refuse_users(&self, job: &mut Job) {
        let Some((name, line)) = self.missing(job) else { return };
        let message = match line {
            Some(line) => format!("{name} comes from the statement at line {line}, which is not translated"),
            None => format!("the client replaces {name} in the text before the server reads it; the target's client doesn't"),
        };
        refuse_with(job, message, "put its value in, or translate that statement by hand", self.drafts);
    }

    fn missing(&self, job: &Job) -> Option<(String, Option<usize>)> {
        if self.names.is_empty() && !self.replaces {
            return None;
        }
        for token in &self.text.tokens[job.span.first as usize..job.span.end as usize] {
            let written = token.text(self.text.source);
            match token.kind {
                TokenKind::Word | TokenKind::QuotedName | TokenKind::Parameter => {
                    if self.replaces && token.kind == TokenKind::Parameter && written.starts_with('&') {
                        return Some((written.to_string(), None));
                    }
                    if self.names.is_empty() {
                        continue;
                    }
                    let name = bare(written);
                    if let Some(line) = self.names.get(&name).filter(|_| !job.put_in.contains(&name)) {
                        return Some((written.to_string(), Some(*line)));
                    }
                }
                TokenKind::String if self.replaces => {
                    if let Some(name) = substitution(written) {
                        return Some((name.to_string(), None));
                    }
                }
                _ => {}
            }
        }
        None
    }

    /// What a statement that is not translated takes from those behind it.
    fn learn(&mut self, job: &Job) {
        let span = job.span;
        let line = job.line;
        let (first, second) = (self.text.word(span, 0), self.text.word(span, 1));
        if job.class == StatementClass::Other && self.text.tokens[span.first as usize].kind == TokenKind::Directive {
            self.learn_directive(line, self.text.of(span));
            return;
        }
        let words = || (0..span.end - span.first).map(|i| self.text.word(span, i));
        if self.dialect == DialectName::SqlServer && !matches!(first.as_str(), "CREATE" | "ALTER") {
            let stops = words().find(|w| matches!(w.as_str(), "RETURN" | "GOTO" | "THROW"));
            let never = matches!(first.as_str(), "SET") && matches!(second.as_str(), "NOEXEC" | "PARSEONLY" | "FMTONLY");
            if let Some(word) = stops {
                self.rest = Some((line, word, Until::Batch));
            } else if never && self.text.word(span, 2) == "ON" {
                self.rest = Some((line, format!("SET {second}"), Until::End));
            }
        }
        if first == "SET" && self.rest.is_none() {
            // What is written behind it is read by other rules than ours.
            let changes = ["SQL_MODE", "QUOTED_IDENTIFIER", "CONCAT_NULL_YIELDS_NULL", "ANSI_NULLS", "STANDARD_CONFORMING_STRINGS"];
            let on = words().any(|w| w == "ON");
            let setting = words().find(|w| changes.contains(&w.trim_start_matches("@@").rsplit('.').next().unwrap_or("")));
            let modes = ["ANSI", "PIPES_AS_CONCAT", "NO_BACKSLASH_ESCAPES", "HIGH_NOT_PRECEDENCE", "ORACLE", "MSSQL", "DB2", "POSTGRESQL"];
            let text = self.text.of(span).to_ascii_uppercase();
            let reads_alike = text.contains("SQL_MODE") && !modes.iter().any(|mode| text.contains(mode));
            if let Some(setting) = setting.filter(|_| !on && !reads_alike) {
                self.rest = Some((line, format!("SET {setting}"), Until::End));
            }
        }
        let made = self.made_names(job, &first, &second);
        self.names.extend(made.into_iter().map(|name| (name, line)));
    }

    fn learn_directive(&mut self, line: usize, text: &str) {
        let mut words = text.split_whitespace();
        let first = words.next().unwrap_or("").trim_end_matches(';').to_uppercase();
        let second = words.next().unwrap_or("");
        match first.as_str() {
            "EXIT" | "QUIT" | "\\Q" | ".EXIT" | ".QUIT" => self.rest = Some((line, first, Until::End)),
            "\\IF" => self.rest = Some((line, "\\if".to_string(), Until::Endif)),
            "\\SET" | "\\PROMPT" => self.names.extend([format!(":{second}"), second.to_string()].map(|name| (bare(&name), line))),
            "SET" if second.eq_ignore_ascii_case("DEFINE") || second.eq_ignore_ascii_case("SCAN") => {
                self.replaces = !words.next().is_some_and(|w| w.trim_end_matches(';').eq_ignore_ascii_case("OFF"));
            }
            _ => {}
        }
    }

    /// Variables that a statement gives a value, and tables that it makes with their rows.
    fn made_names(&self, job: &Job, first: &str, second: &str) -> Vec<String> {
        let tokens = &self.text.tokens[job.span.first as usize..job.span.end as usize];
        let strings: Vec<&str> = tokens.iter().map(|t| t.text(self.text.source)).collect();
        let mut made = Vec::new();
        let is = |at: usize, word: &str| strings.get(at).is_some_and(|t| t.eq_ignore_ascii_case(word));
        let sets =
            matches!(first, "DECLARE" | "SET" | "IF" | "WHILE" | "BEGIN" | "EXEC" | "EXECUTE" | "FETCH" | "SELECT" | "UPDATE" | "WITH");
        let program = first == "BEGIN" && self.dialect == DialectName::Oracle;
        if sets && !program {
            let bound = |t: &&syntax::Token| t.kind == TokenKind::Parameter && t.text(self.text.source).starts_with('@');
            made.extend(tokens.iter().filter(bound).map(|t| bare(t.text(self.text.source))));
        }
        // BigQuery's variables are plain names.
        if matches!(first, "DECLARE" | "SET") && self.dialect == DialectName::Bigquery {
            made.push(bare(second));
        }
        for at in 0..strings.len() {
            // SELECT .. INTO #t, CREATE TABLE #t.
            let follows = is(at, "INTO") && matches!(first, "SELECT" | "WITH") || is(at, "TABLE") && first == "CREATE";
            if !follows {
                continue;
            }
            let name = name_at(&strings, at + 1);
            let temporary = (0..at).any(|i| is(i, "TEMP") || is(i, "TEMPORARY")) || name.starts_with('#');
            let with_rows = is(at, "INTO") || (at..strings.len()).any(|i| is(i, "SELECT"));
            if (temporary || with_rows) && !name.is_empty() {
                made.push(name);
            }
        }
        made
    }
}

/// The last part of the name that begins at `at`, without its quotes; IF NOT EXISTS may stand before it.
fn name_at(strings: &[&str], mut at: usize) -> String {
    while strings.get(at).is_some_and(|t| ["IF", "NOT", "EXISTS", "TABLE"].iter().any(|w| t.eq_ignore_ascii_case(w))) {
        at += 1;
    }
    while strings.get(at + 1) == Some(&".") {
        at += 2;
    }
    strings.get(at).map_or(String::new(), |t| bare(t))
}

/// A name without quotes and case.
fn bare(name: &str) -> String {
    name.trim_matches(['"', '`', '[', ']']).to_lowercase()
}

/// The first `&name` of a string literal.
fn substitution(literal: &str) -> Option<&str> {
    let start = literal.find('&')?;
    let rest = literal[start..].trim_start_matches('&');
    let length = rest.find(|c: char| !(c.is_alphanumeric() || c == '_')).unwrap_or(rest.len());
    (length > 0).then(|| &literal[start..literal.len() - rest.len() + length])
}
