//! What a pattern asks for, whichever dialect wrote it: LIKE, GLOB or SIMILAR TO.

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

/// Of a set.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) enum Member {
    /// From one character to another.
    Range(char, char),
    /// `[:digit:]`.
    Class(String),
}

type Pieces = Result<Vec<Piece>, String>;

/// A pattern of LIKE.
///
/// # Errors
/// What of it is no pattern.
pub(super) fn of_like(text: &str, escape: Option<char>, sets: bool) -> Pieces {
    let mut chars = text.chars().peekable();
    let mut pieces = Vec::new();
    while let Some(c) = chars.next() {
        pieces.push(match c {
            c if Some(c) == escape => Piece::Char(chars.next().ok_or("an escape at its end")?),
            '%' => Piece::Run,
            '_' => Piece::One,
            '[' if sets => set(&mut chars, '^', None)?,
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
    let mut chars = text.chars().peekable();
    let mut pieces = Vec::new();
    while let Some(c) = chars.next() {
        pieces.push(match c {
            c if Some(c) == escape => Piece::Char(chars.next().ok_or("an escape at its end")?),
            '*' => Piece::Run,
            '?' => Piece::One,
            '[' => set(&mut chars, negation, escape)?,
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
    let mut reader = Similar { chars: text.chars().peekable(), escape };
    let pieces = reader.alternatives()?;
    if reader.chars.next().is_some() { Err("a closing parenthesis too many".into()) } else { Ok(pieces) }
}

type Chars<'a> = std::iter::Peekable<std::str::Chars<'a>>;

/// Behind `[`, up to its end; a `]` that comes first is a member.
fn set(chars: &mut Chars<'_>, negation: char, escape: Option<char>) -> Result<Piece, String> {
    let negated = chars.next_if_eq(&negation).is_some();
    let mut members = Vec::new();
    loop {
        match chars.next().ok_or("a bracket that is not closed")? {
            ']' if !members.is_empty() => {
                // A set of one is the way to say a character that would mean more alone.
                return Ok(match members.as_slice() {
                    [Member::Range(first, last)] if first == last && !negated => Piece::Char(*first),
                    _ => Piece::Set { negated, members },
                });
            }
            '[' if chars.peek() == Some(&':') => {
                let name: String = chars.by_ref().skip(1).take_while(|c| *c != ':').collect();
                chars.next_if_eq(&']').ok_or("a class of characters that is not closed")?;
                members.push(Member::Class(name));
            }
            c => {
                let first = if Some(c) == escape { chars.next().ok_or("an escape at its end")? } else { c };
                members.push(Member::Range(first, range_end(chars).unwrap_or(first)));
            }
        }
    }
}

/// The end of `a-z`, behind the `a`; a dash before the closing bracket means itself.
fn range_end(chars: &mut Chars<'_>) -> Option<char> {
    let mut ahead = chars.clone();
    let end = (ahead.next() == Some('-')).then(|| ahead.next()).flatten().filter(|c| *c != ']')?;
    *chars = ahead;
    Some(end)
}

struct Similar<'a> {
    chars: Chars<'a>,
    escape: Option<char>,
}

impl Similar<'_> {
    /// Up to a closing parenthesis or the end.
    fn alternatives(&mut self) -> Pieces {
        let mut all = vec![Vec::new()];
        while let Some(c) = self.chars.next_if(|c| *c != ')') {
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
            '[' => set(&mut self.chars, '^', self.escape)?,
            '(' => {
                let inner = self.alternatives()?;
                self.chars.next_if_eq(&')').ok_or("a parenthesis that is not closed")?;
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
