//! Names as written.

use compact_str::CompactString;

use super::Span;

/// How a name is quoted where it is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Quote {
    /// Not at all: the dialect's folding applies.
    None,
    /// In name quotes of any kind.
    Name,
    /// As a text literal, which some dialects take for an alias.
    Text,
}

/// One part of a name.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct Ident {
    /// The name without quotes, letters as written.
    pub text: CompactString,
    /// How it is quoted.
    pub quote: Quote,
    /// The token it was read from, `u32::MAX` if it was made.
    pub token: u32,
}

impl Ident {
    /// A name that was not in the source, to be quoted as the target needs.
    pub fn synthetic(text: impl Into<CompactString>) -> Ident {
        Ident { text: text.into(), quote: Quote::None, token: u32::MAX }
    }

    /// Whether this is the word `word`, unquoted, in any case.
    pub fn is_word(&self, word: &str) -> bool {
        self.quote == Quote::None && self.text.eq_ignore_ascii_case(word)
    }

    /// Its place among the tokens.
    pub fn span(&self) -> Span {
        if self.token == u32::MAX {
            return Span::SYNTHETIC;
        }
        Span { first: self.token, end: self.token + 1 }
    }
}

/// A name of one or more parts: `tolls`, `tarn.tolls`, `t.fare`.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct ObjectName {
    /// The parts, outermost first; never empty.
    pub parts: Vec<Ident>,
}

impl ObjectName {
    /// A name of one part.
    pub fn single(ident: Ident) -> ObjectName {
        ObjectName { parts: vec![ident] }
    }

    /// Takes away its place in the source: for a second use of it.
    pub fn forget_places(&mut self) {
        self.parts.iter_mut().for_each(|p| p.token = u32::MAX);
    }

    /// The last part.
    pub fn last(&self) -> &Ident {
        &self.parts[self.parts.len() - 1]
    }

    /// The one part of an unqualified name.
    pub fn as_single(&self) -> Option<&Ident> {
        match self.parts.as_slice() {
            [one] => Some(one),
            _ => None,
        }
    }

    /// The parts joined by points, without quotes.
    pub fn dotted(&self) -> String {
        self.parts.iter().map(|p| p.text.as_str()).collect::<Vec<_>>().join(".")
    }
}
