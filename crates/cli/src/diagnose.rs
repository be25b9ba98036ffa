//! Notes and errors with their places, one line each.
//!
//! ```text
//! yard.sql:13:2   refused   function.not-translated   DATEADD of SQL Server is not translated to PostgreSQL
//!     and at lines 20, 31
//! ```

use meaning::Fidelity;

use crate::show::{self, filled, painted};

/// Something to tell about a place of a source.
pub(crate) struct Finding<'a> {
    pub(crate) file: &'a str,
    pub(crate) source: &'a str,
    pub(crate) start: usize,
    pub(crate) end: usize,
    /// Line and column of the start, from 1.
    pub(crate) at: (usize, usize),
    pub(crate) kind: Kind,
    pub(crate) code: &'a str,
    pub(crate) message: &'a str,
    pub(crate) advice: Option<&'a str>,
    /// Said below: where else the same note applies.
    pub(crate) elsewhere: Option<String>,
    /// With the part of the source it is about.
    pub(crate) excerpt: bool,
}

impl Finding<'_> {
    fn place(&self) -> String {
        format!("{}:{}:{}", self.file, self.at.0, self.at.1)
    }

    /// The width of its column of places.
    pub(crate) fn place_width(&self) -> usize {
        self.place().chars().count()
    }
}

/// What a finding is about: how faithful a translation is, or a statement that failed.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Kind {
    Fidelity(Fidelity),
    Failed,
    /// Where a difference starts.
    Starts,
}

impl Kind {
    fn word(self) -> &'static str {
        match self {
            Kind::Fidelity(fidelity) => fidelity.as_str(),
            Kind::Failed => "failed",
            Kind::Starts => "differ",
        }
    }

    fn colour(self) -> &'static str {
        match self {
            Kind::Fidelity(fidelity) => colour(fidelity),
            Kind::Failed | Kind::Starts => RED,
        }
    }

    fn coloured(self) -> bool {
        if self == Kind::Starts { show::colour_out() } else { show::colour_err() }
    }
}

const RED: &str = "31";

/// The colour of a fidelity (yellow, magenta, red); none for an exact translation.
fn colour(fidelity: Fidelity) -> &'static str {
    match fidelity {
        Fidelity::Exact => "",
        Fidelity::Assumes => "33",
        Fidelity::Differs => "35",
        Fidelity::Refused | Fidelity::Unreadable => RED,
    }
}

/// The word of a fidelity, filled up to a width, in its colour.
pub(crate) fn fidelity_word(fidelity: Fidelity, width: usize) -> String {
    painted(&format!("{:width$}", fidelity.as_str()), colour(fidelity), show::colour_err())
}

/// What begins every line but the first.
const INDENT: &str = "    ";

/// The width of a line where no terminal tells it: notes in a file are a line each.
const NO_WIDTH: usize = usize::MAX;

/// The finding as text; `place_width` is that of the column of places.
pub(crate) fn render(finding: &Finding<'_>, place_width: usize) -> String {
    let width = show::width_of_notes().unwrap_or(NO_WIDTH);
    let coloured = finding.kind.coloured();
    let place = finding.place();
    let place = format!("{place:place_width$}");
    let word = format!("{:8}", finding.kind.word());
    let code = if finding.code.is_empty() { String::new() } else { format!("{}   ", finding.code) };
    let head = place.chars().count() + 3 + word.len() + 1 + code.len();
    let rest = width.saturating_sub(INDENT.len());
    let mut lines = filled(finding.message, width.saturating_sub(head).max(1), rest);
    let first = if lines.is_empty() { String::new() } else { lines.remove(0) };
    let (word, code) = (painted(&word, finding.kind.colour(), coloured), painted(&code, "1", coloured));
    let mut out = format!("{place}   {word} {code}{first}").trim_end().to_string();
    for line in lines {
        out.push_str(&format!("\n{INDENT}{line}"));
    }
    if finding.excerpt {
        out.push_str(&format!("\n{INDENT}{}", excerpt(finding, width.min(160).saturating_sub(INDENT.len()), coloured)));
    }
    let below = finding.advice.into_iter().chain(finding.elsewhere.as_deref());
    for text in below.flat_map(|words| filled(words, rest, rest)) {
        out.push_str(&format!("\n{INDENT}{}", painted(&text, "2", coloured)));
    }
    out
}

/// The line of the source with the part marked: `SELECT »TOP 1« a FROM z`.
fn excerpt(finding: &Finding<'_>, width: usize, coloured: bool) -> String {
    let source = finding.source;
    let start = floor(source, finding.start.min(source.len()));
    let end = floor(source, finding.end.clamp(start, source.len()));
    let first = source[..start].rfind('\n').map_or(0, |at| at + 1);
    let last = source[end..].find('\n').map_or(source.len(), |at| end + at);
    let one_line = |text: &str| text.split_whitespace().collect::<Vec<_>>().join(" ");
    let (before, part, after) = (&source[first..start], one_line(&source[start..end]), &source[end..last]);
    let room = width.saturating_sub(2);
    let part = cut(&part, room);
    let left = room.saturating_sub(part.chars().count());
    let before_text = cut_front(&one_line(before), left / 2);
    let after_text = cut(&one_line(after), left.saturating_sub(before_text.chars().count() + 2));
    let before_blank = if before.ends_with(char::is_whitespace) && !before_text.is_empty() { " " } else { "" };
    let after_blank = if after.starts_with(char::is_whitespace) && !after_text.is_empty() { " " } else { "" };
    let part = painted(&part, "1;4", coloured);
    format!("{before_text}{before_blank}»{part}«{after_blank}{after_text}")
}

/// The beginning of a string, of at most so many characters.
fn cut(text: &str, most: usize) -> String {
    if text.chars().count() <= most {
        return text.to_string();
    }
    text.chars().take(most.saturating_sub(1)).chain(['…']).collect()
}

/// The end of a string, of at most so many characters.
fn cut_front(text: &str, most: usize) -> String {
    let count = text.chars().count();
    if count <= most {
        return text.to_string();
    }
    std::iter::once('…').chain(text.chars().skip(count - most.saturating_sub(1))).collect()
}

/// The nearest character boundary at or before `at`.
fn floor(text: &str, at: usize) -> usize {
    (0..=at).rev().find(|i| text.is_char_boundary(*i)).unwrap_or(0)
}

/// Where the lines of a source begin, so that places are found without reading it again.
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
