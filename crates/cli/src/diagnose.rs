//! Notes and errors with the source underlined.

use annotate_snippets::{AnnotationKind, Level, Renderer, Snippet};
use meaning::Fidelity;

/// Something to tell about a place of a text.
pub(crate) struct Finding<'a> {
    pub(crate) file: &'a str,
    pub(crate) source: &'a str,
    pub(crate) start: usize,
    pub(crate) end: usize,
    pub(crate) kind: Kind,
    pub(crate) code: &'a str,
    pub(crate) message: &'a str,
    pub(crate) advice: Option<&'a str>,
    /// Said under the snippet: where else the same note stands.
    pub(crate) elsewhere: Option<String>,
}

/// What a finding is about: how faithful a translation is, or a statement that failed.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Kind {
    Fidelity(Fidelity),
    Failed,
    /// Where a difference starts.
    Starts,
}

/// Lines shown around the place; a long statement is not shown whole.
const MOST_LINES: usize = 6;

/// Bytes of a line shown before and behind the place.
const MOST_COLUMNS: usize = 160;

/// The finding as text.
pub(crate) fn render(finding: &Finding<'_>) -> String {
    let source = finding.source;
    let start = floor(source, finding.start.min(source.len()));
    let first = source[..start].rfind('\n').map_or(0, |at| at + 1);
    let mut end = floor(source, finding.end.clamp(start, source.len()));
    // A place of many lines is cut after a few.
    if let Some((cut, _)) = source[start..end].match_indices('\n').nth(MOST_LINES) {
        end = start + cut;
    }
    let last = source[end..].find('\n').map_or(source.len(), |at| end + at);
    let line = source[..first].matches('\n').count() + 1;
    // Of a very long line only the neighbourhood is shown.
    let first = if start - first > MOST_COLUMNS { floor(source, start - MOST_COLUMNS) } else { first };
    let end = if end - start > 2 * MOST_COLUMNS { floor(source, start + 2 * MOST_COLUMNS) } else { end };
    let last = if last - end > MOST_COLUMNS { floor(source, end + MOST_COLUMNS) } else { last };
    let window = &source[first..last];
    let level = match finding.kind {
        Kind::Fidelity(Fidelity::Exact) => Level::INFO.with_name("exact"),
        Kind::Fidelity(Fidelity::Assumes) => Level::NOTE.with_name("assumes"),
        Kind::Fidelity(Fidelity::Differs) => Level::WARNING.with_name("differs"),
        Kind::Fidelity(Fidelity::Refused) => Level::ERROR.with_name("refused"),
        Kind::Fidelity(Fidelity::Unreadable) => Level::ERROR.with_name("not read"),
        Kind::Failed => Level::ERROR.with_name("failed"),
        Kind::Starts => Level::ERROR.with_name("differ"),
    };
    let snippet = Snippet::source(window)
        .line_start(line)
        .path(finding.file)
        .annotation(AnnotationKind::Primary.span(start - first..(end - first).max(start - first)));
    let title = level.primary_title(finding.message);
    let title = if finding.code.is_empty() { title } else { title.id(finding.code) };
    let mut group = title.element(snippet);
    if let Some(advice) = finding.advice {
        group = group.element(Level::HELP.message(advice));
    }
    if let Some(elsewhere) = &finding.elsewhere {
        group = group.element(Level::NOTE.message(elsewhere));
    }
    let coloured = if finding.kind == Kind::Starts { crate::show::colour_out() } else { crate::show::colour_err() };
    let renderer = if coloured { Renderer::styled() } else { Renderer::plain() };
    renderer.render(&[group])
}

/// The nearest character boundary at or before `at`.
fn floor(text: &str, at: usize) -> usize {
    (0..=at).rev().find(|i| text.is_char_boundary(*i)).unwrap_or(0)
}

/// Where the lines of a text begin, so that places are found without reading it again.
pub(crate) struct Lines<'a> {
    text: &'a str,
    starts: Vec<usize>,
}

impl<'a> Lines<'a> {
    pub(crate) fn of(text: &'a str) -> Lines<'a> {
        let starts = std::iter::once(0).chain(text.match_indices('\n').map(|(i, _)| i + 1)).collect();
        Lines { text, starts }
    }

    /// The line of a byte, from 1.
    pub(crate) fn line(&self, at: usize) -> usize {
        self.starts.partition_point(|s| *s <= at).max(1)
    }

    /// Line and column of a byte, both from 1; columns in characters.
    pub(crate) fn place(&self, at: usize) -> (usize, usize) {
        let at = floor(self.text, at.min(self.text.len()));
        let line = self.line(at);
        (line, self.text[self.starts[line - 1]..at].chars().count() + 1)
    }
}
