//! Sets of characters in brackets, as patterns and regular expressions write them.

/// What of a string is still to be read.
#[derive(Debug, Clone)]
pub(super) struct Cursor<'a> {
    rest: &'a str,
}

impl<'a> Cursor<'a> {
    pub(super) fn new(text: &'a str) -> Self {
        Cursor { rest: text }
    }

    /// How many bytes are left.
    pub(super) fn left(&self) -> usize {
        self.rest.len()
    }

    pub(super) fn peek(&self) -> Option<char> {
        self.rest.chars().next()
    }

    pub(super) fn next_if(&mut self, wanted: impl FnOnce(char) -> bool) -> Option<char> {
        let next = self.peek().filter(|c| wanted(*c))?;
        self.rest = &self.rest[next.len_utf8()..];
        Some(next)
    }

    pub(super) fn next_if_eq(&mut self, wanted: char) -> Option<char> {
        self.next_if(|c| c == wanted)
    }

    /// The text up to a character, which is taken too.
    fn until(&mut self, end: char) -> &'a str {
        let (text, rest) = self.rest.split_once(end).unwrap_or((self.rest, ""));
        self.rest = rest;
        text
    }
}

impl Iterator for Cursor<'_> {
    type Item = char;

    fn next(&mut self) -> Option<char> {
        self.next_if(|_| true)
    }
}

/// Of a set.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) enum Member {
    /// From one character to another, or one alone.
    Range(char, char),
    /// `[:digit:]`.
    Class(String),
    /// `\d` and its kin.
    Perl(char),
}

/// How sets are written.
#[derive(Debug, Clone, Copy)]
pub(super) struct Brackets {
    /// What turns a set round, behind its opening bracket.
    pub(super) negation: char,
    /// What has the next character mean itself.
    pub(super) escape: Option<char>,
    /// Letters behind the escape mean classes and control characters.
    pub(super) letters: bool,
}

/// Whether it is turned round, and its members: read behind `[`, up to its end. A `]` that comes first is
/// a member.
///
/// # Errors
/// What of it is no set.
pub(super) fn set(cursor: &mut Cursor<'_>, how: Brackets) -> Result<(bool, Vec<Member>), String> {
    let negated = cursor.next_if_eq(how.negation).is_some();
    let mut members = Vec::new();
    loop {
        match cursor.next().ok_or("a bracket that is not closed")? {
            ']' if !members.is_empty() => return Ok((negated, members)),
            '[' if cursor.next_if_eq(':').is_some() => {
                let name = cursor.until(':').to_string();
                cursor.next_if_eq(']').ok_or("a bracket that is not closed")?;
                members.push(Member::Class(name));
            }
            c => members.push(member(c, cursor, how)?),
        }
    }
}

fn member(c: char, cursor: &mut Cursor<'_>, how: Brackets) -> Result<Member, String> {
    let is_escaped = Some(c) == how.escape;
    if let Some(class) = cursor.next_if(|n| is_escaped && how.letters && "dwsDWS".contains(n)) {
        return Ok(Member::Perl(class));
    }
    let first = itself(c, cursor, how)?;
    // A dash before the closing bracket means itself.
    let mut ahead = cursor.clone();
    match (ahead.next(), ahead.next()) {
        (Some('-'), Some(last)) if last != ']' => {
            *cursor = ahead;
            Ok(Member::Range(first, itself(last, cursor, how)?))
        }
        _ => Ok(Member::Range(first, first)),
    }
}

/// The character that is meant, behind an escape the next.
fn itself(c: char, cursor: &mut Cursor<'_>, how: Brackets) -> Result<char, String> {
    if Some(c) != how.escape {
        return Ok(c);
    }
    Ok(match cursor.next().ok_or("an escape at its end")? {
        'n' if how.letters => '\n',
        't' if how.letters => '\t',
        'r' if how.letters => '\r',
        c if how.letters && c.is_alphanumeric() => return Err(format!("\\{c} in brackets")),
        c => c,
    })
}
