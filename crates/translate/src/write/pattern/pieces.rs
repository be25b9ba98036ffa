//! What a pattern asks for, whichever dialect wrote it: LIKE, GLOB or SIMILAR TO.

use crate::write::set::{Brackets, Cursor, Member, set};

/// One part of a pattern.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) enum Piece {
    /// This character.
    Char(char),
    /// Any one character.
    One,
    /// Any characters, none included.
    Run,
    /// One character of a set, or of all others.
    Set { negated: bool, members: Vec<Member> },
    /// One of these.
    Either(Vec<Vec<Piece>>),
    /// So many of it.
    Times { piece: Box<Piece>, least: u32, most: Option<u32> },
}

type Pieces = Result<Vec<Piece>, String>;

/// A pattern of LIKE.
///
/// # Errors
/// What of it is no pattern.
pub(super) fn of_like(text: &str, escape: Option<char>, sets: bool) -> Pieces {
    let mut chars = Cursor::new(text);
    let mut pieces = Vec::new();
    while let Some(c) = chars.next() {
        pieces.push(match c {
            c if Some(c) == escape => Piece::Char(chars.next().ok_or("an escape at its end")?),
            '%' => Piece::Run,
            '_' => Piece::One,
            '[' if sets => set_of(&mut chars, '^', None)?,
            c => Piece::Char(c),
        });
    }
    Ok(pieces)
}

/// A pattern of GLOB; `escape` is a backslash or nothing, `negation` what turns a set round.
///
/// # Errors
/// What of it is no pattern.
pub(super) fn of_glob(text: &str, negation: char, escape: Option<char>) -> Pieces {
    let mut chars = Cursor::new(text);
    let mut pieces = Vec::new();
    while let Some(c) = chars.next() {
        pieces.push(match c {
            c if Some(c) == escape => Piece::Char(chars.next().ok_or("an escape at its end")?),
            '*' => Piece::Run,
            '?' => Piece::One,
            '[' => set_of(&mut chars, negation, escape)?,
            c => Piece::Char(c),
        });
    }
    Ok(pieces)
}

/// A pattern of SIMILAR TO, as the SQL standard has it.
///
/// # Errors
/// What of it is no pattern.
pub(super) fn of_similar(text: &str, escape: Option<char>) -> Pieces {
    let mut reader = Similar { chars: Cursor::new(text), escape };
    let pieces = reader.alternatives()?;
    if reader.chars.next().is_some() { Err("a closing parenthesis too many".into()) } else { Ok(pieces) }
}

/// Behind `[`, up to its end.
fn set_of(cursor: &mut Cursor<'_>, negation: char, escape: Option<char>) -> Result<Piece, String> {
    let (negated, members) = set(cursor, Brackets { negation, escape, letters: false })?;
    // A set of one is the way to say a character that would mean more alone.
    Ok(match members.as_slice() {
        [Member::Range(first, last)] if first == last && !negated => Piece::Char(*first),
        _ => Piece::Set { negated, members },
    })
}

struct Similar<'a> {
    chars: Cursor<'a>,
    escape: Option<char>,
}

impl Similar<'_> {
    /// Up to a closing parenthesis or the end.
    fn alternatives(&mut self) -> Pieces {
        let mut all = vec![Vec::new()];
        while let Some(c) = self.chars.next_if(|c| c != ')') {
            if c == '|' {
                all.push(Vec::new());
                continue;
            }
            let piece = self.piece(c)?;
            if let Some(last) = all.last_mut() {
                last.push(piece);
            }
        }
        if all.len() > 1 { Ok(vec![Piece::Either(all)]) } else { Ok(all.remove(0)) }
    }

    fn piece(&mut self, c: char) -> Result<Piece, String> {
        let piece = match c {
            c if Some(c) == self.escape => Piece::Char(self.chars.next().ok_or("an escape at its end")?),
            '%' => Piece::Run,
            '_' => Piece::One,
            '[' => set_of(&mut self.chars, '^', self.escape)?,
            '(' => {
                let inner = self.alternatives()?;
                self.chars.next_if_eq(')').ok_or("a parenthesis that is not closed")?;
                if matches!(inner.as_slice(), [Piece::Either(_)]) { inner[0].clone() } else { Piece::Either(vec![inner]) }
            }
            '*' | '+' | '?' | '{' => return Err(format!("a {c} with nothing before it")),
            c => Piece::Char(c),
        };
        self.repeated(piece)
    }

    fn repeated(&mut self, piece: Piece) -> Result<Piece, String> {
        let (least, most) = match self.chars.next_if(|c| matches!(c, '*' | '+' | '?' | '{')) {
            None => return Ok(piece),
            Some('*') => (0, None),
            Some('+') => (1, None),
            Some('?') => (0, Some(1)),
            Some(_) => {
                let counts: String = self.chars.by_ref().take_while(|c| *c != '}').collect();
                let number = |t: &str| t.trim().parse::<u32>().map_err(|_| format!("the count {{{counts}}}"));
                match counts.split_once(',') {
                    None => (number(&counts)?, Some(number(&counts)?)),
                    Some((least, "")) => (number(least)?, None),
                    Some((least, most)) => (number(least)?, Some(number(most)?)),
                }
            }
        };
        Ok(Piece::Times { piece: Box::new(piece), least, most })
    }
}

/// The patterns without alternatives and counts that together say the same: none if there are too many,
/// or no end of them.
pub(super) fn flat(pieces: &[Piece]) -> Option<Vec<Vec<Piece>>> {
    const MOST: usize = 16;
    let mut all = vec![Vec::new()];
    for piece in pieces {
        let tails = flat_piece(piece)?;
        all = all.iter().flat_map(|head: &Vec<Piece>| tails.iter().map(move |tail| [head.as_slice(), tail].concat())).collect();
        if all.len() > MOST {
            return None;
        }
    }
    Some(all)
}

fn flat_piece(piece: &Piece) -> Option<Vec<Vec<Piece>>> {
    match piece {
        Piece::Either(branches) => {
            let each: Option<Vec<_>> = branches.iter().map(|b| flat(b)).collect();
            Some(each?.concat())
        }
        Piece::Times { piece, least, most: None } if **piece == Piece::One => {
            Some(vec![(0..*least).map(|_| Piece::One).chain([Piece::Run]).collect()])
        }
        Piece::Times { piece, least: 0 | 1, most: None } if **piece == Piece::Run => Some(vec![vec![Piece::Run]]),
        Piece::Times { piece, least, most: Some(most) } if *most <= 40 => {
            let times: Option<Vec<_>> = (*least..=*most).map(|n| flat(&vec![(**piece).clone(); n as usize])).collect();
            Some(times?.concat())
        }
        Piece::Times { .. } => None,
        plain => Some(vec![vec![plain.clone()]]),
    }
}
