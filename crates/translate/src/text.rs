//! A script, its tokens, and where things are in it.

use syntax::Token;
use syntax::tree::Span;

use crate::Place;

/// A script and its tokens.
#[derive(Clone, Copy)]
pub(crate) struct Text<'a> {
    pub(crate) source: &'a str,
    pub(crate) tokens: &'a [Token],
}

impl<'a> Text<'a> {
    /// What is between token `token` and the one before it.
    pub(crate) fn gap_before(&self, token: usize) -> &'a str {
        let start = if token == 0 { 0 } else { self.tokens[token - 1].end as usize };
        &self.source[start..self.tokens[token].start as usize]
    }

    /// Where the tokens of `span` stand.
    pub(crate) fn place(&self, span: Span) -> Place {
        if !span.is_read() || span.first as usize >= self.tokens.len() {
            let at = self.source.len();
            return Place { start: at, end: at };
        }
        let first = self.tokens[span.first as usize];
        let last = self.tokens[(span.end.max(span.first + 1) as usize - 1).min(self.tokens.len() - 1)];
        Place { start: first.start as usize, end: (last.end as usize).max(first.start as usize) }
    }

    /// The text from the first token of `span` to its last.
    pub(crate) fn of(&self, span: Span) -> &'a str {
        let place = self.place(span);
        &self.source[place.start..place.end]
    }

    /// The beginning of the text of `span`, on one line.
    pub(crate) fn excerpt(&self, span: Span) -> String {
        const MOST: usize = 32;
        let text = self.of(span).split_whitespace().collect::<Vec<_>>().join(" ");
        match text.char_indices().nth(MOST) {
            Some((end, _)) => format!("{} ...", text[..end].trim_end()),
            None => text,
        }
    }

    /// Token `at` of `span` in capitals; empty behind its end.
    pub(crate) fn word(&self, span: Span, at: u32) -> String {
        let index = span.first + at;
        if index < span.end { self.tokens[index as usize].text(self.source).to_ascii_uppercase() } else { String::new() }
    }

    /// Where the tokens of `span` stand, if they were read.
    pub(crate) fn read_place(&self, span: Span) -> Option<Place> {
        span.is_read().then(|| self.place(span))
    }

    /// Whether the tokens of `span` hold a place.
    pub(crate) fn holds(&self, span: Span, place: Place) -> bool {
        self.read_place(span).is_some_and(|own| own.holds(place))
    }
}
