//! Notes and errors with their places, one line each.
//!
//! ```text
//! yard.sql:13:2   refused   function.not-translated   DATEADD of SQL Server is not translated to PostgreSQL
//!     replace it by hand; PostgreSQL has no function of that name
//!     and at lines 20, 31
//! ```

use meaning::Fidelity;

use crate::show;

/// Something to tell about a place of a string.
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

    fn colour(self) -> Option<u8> {
        match self {
            Kind::Fidelity(fidelity) => colour(fidelity),
            Kind::Failed | Kind::Starts => Some(RED),
        }
    }

    fn coloured(self) -> bool {
        if self == Kind::Starts { show::colour_out() } else { show::colour_err() }
    }
}

const RED: u8 = 31;
const YELLOW: u8 = 33;
const MAGENTA: u8 = 35;

/// The colour of a fidelity; none for an exact translation.
fn colour(fidelity: Fidelity) -> Option<u8> {
    match fidelity {
        Fidelity::Exact => None,
        Fidelity::Assumes => Some(YELLOW),
        Fidelity::Differs => Some(MAGENTA),
        Fidelity::Refused | Fidelity::Unreadable => Some(RED),
    }
}

/// The word of a fidelity, filled up to a width, in its colour.
pub(crate) fn fidelity_word(fidelity: Fidelity, width: usize) -> String {
    painted(&format!("{:width$}", fidelity.as_str()), colour(fidelity).filter(|_| show::colour_err()))
}

fn painted(text: &str, colour: Option<u8>) -> String {
    match colour {
        Some(colour) => format!("\u{1b}[{colour}m{text}\u{1b}[0m"),
        None => text.to_string(),
    }
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
    let mut lines = filled(finding.message, width.saturating_sub(head).max(1), width.saturating_sub(INDENT.len()));
    let first = if lines.is_empty() { String::new() } else { lines.remove(0) };
    let word = painted(&word, finding.kind.colour().filter(|_| coloured));
    let code = if coloured { format!("\u{1b}[1m{code}\u{1b}[0m") } else { code };
    let mut out = format!("{place}   {word} {code}{first}").trim_end().to_string();
    for line in lines {
        out.push_str(&format!("\n{INDENT}{line}"));
    }
    if finding.excerpt {
        out.push_str(&format!("\n{INDENT}{}", excerpt(finding, width.min(160).saturating_sub(INDENT.len()), coloured)));
    }
    let below = finding.advice.into_iter().chain(finding.elsewhere.as_deref());
    for text in below.flat_map(|words| filled(words, width.saturating_sub(INDENT.len()), width.saturating_sub(INDENT.len()))) {
        out.push_str(&format!("\n{INDENT}{}", if coloured { format!("\u{1b}[2m{text}\u{1b}[0m") } else { text }));
    }
    out
}

/// Words in lines: the first of at most `first` characters, the others of `rest`.
fn filled(words: &str, first: usize, rest: usize) -> Vec<String> {
    let mut lines: Vec<String> = Vec::new();
    for (at, paragraph) in words.lines().enumerate() {
        lines.push(String::new());
        for word in paragraph.split(' ') {
            let most = if lines.len() == 1 && at == 0 { first } else { rest };
            let last = lines.len() - 1;
            let used = lines[last].chars().count();
            if used > 0 && used + 1 + word.chars().count() > most {
                lines.push(word.to_string());
            } else if used == 0 && lines.len() == 1 && word.chars().count() > most {
                // Not even one word fits beside the place.
                lines.push(word.to_string());
            } else {
                let blank = if used > 0 { " " } else { "" };
                lines[last].push_str(&format!("{blank}{word}"));
            }
        }
    }
    lines
}

/// The line of the source with the part marked: `SELECT »TOP 1« a FROM z`.
fn excerpt(finding: &Finding<'_>, width: usize, coloured: bool) -> String {
    let source = finding.source;
    let start = floor(source, finding.start.min(source.len()));
    let end = floor(source, finding.end.clamp(start, source.len()));
    let first = source[..start].rfind('\n').map_or(0, |at| at + 1);
    let last = source[end..].find('\n').map_or(source.len(), |at| end + at);
    let one_line = |text: &str| text.split_whitespace().collect::<Vec<_>>().join(" ");
    let around = |text: &str| (text.starts_with(char::is_whitespace), text.ends_with(char::is_whitespace));
    let (before, part, after) = (&source[first..start], one_line(&source[start..end]), &source[end..last]);
    let room = width.saturating_sub(2);
    let part = cut(&part, room);
    let left = room.saturating_sub(part.chars().count());
    let before_text = cut_front(&one_line(before), left / 2);
    let after_text = cut(&one_line(after), left.saturating_sub(before_text.chars().count() + 2));
    let before_blank = if around(before).1 && !before_text.is_empty() { " " } else { "" };
    let after_blank = if around(after).0 && !after_text.is_empty() { " " } else { "" };
    let part = if coloured { format!("\u{1b}[1;4m{part}\u{1b}[0m") } else { part };
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

/// Where the lines of a string begin, so that places are found without reading it again.
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
