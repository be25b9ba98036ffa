//! A pattern in the words of LIKE, GLOB or regular expressions.

use super::pieces::Piece;
use crate::write::set::Member;

/// How LIKE of a dialect is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum LikeStyle {
    /// A backslash escapes without an ESCAPE clause.
    Backslash,
    /// An ESCAPE clause says what escapes.
    Clause,
    /// Brackets hold a set, and so escape.
    Brackets,
}

/// For LIKE, and whether it needs `ESCAPE '\'`; none if LIKE can't say it.
pub(super) fn as_like(pieces: &[Piece], style: LikeStyle) -> Option<(String, bool)> {
    let mut out = String::new();
    let mut escaped = false;
    let special =
        |c: char| matches!(c, '%' | '_') || (style != LikeStyle::Brackets && c == '\\') || (style == LikeStyle::Brackets && c == '[');
    // Without an escape to be distinguished from, a backslash means itself.
    let needs_escape = style == LikeStyle::Backslash || pieces.iter().any(|p| matches!(p, Piece::Char('%' | '_')));
    for piece in pieces {
        match piece {
            Piece::Char(c) if special(*c) && style == LikeStyle::Brackets => out.extend(['[', *c, ']']),
            Piece::Char(c) if special(*c) && needs_escape => {
                escaped = true;
                out.extend(['\\', *c]);
            }
            Piece::Char(c) => out.push(*c),
            Piece::One => out.push('_'),
            Piece::Run => out.push('%'),
            Piece::Set { negated, members } if style == LikeStyle::Brackets => out.push_str(&set(*negated, members)?),
            _ => return None,
        }
    }
    Some((out, escaped && style == LikeStyle::Clause))
}

/// For SQLite's GLOB; none if it can't say it.
pub(super) fn as_glob(pieces: &[Piece]) -> Option<String> {
    let mut out = String::new();
    for piece in pieces {
        match piece {
            Piece::Char(c @ ('*' | '?' | '[')) => out.extend(['[', *c, ']']),
            Piece::Char(c) => out.push(*c),
            Piece::One => out.push('?'),
            Piece::Run => out.push('*'),
            Piece::Set { negated, members } => out.push_str(&set(*negated, members)?),
            _ => return None,
        }
    }
    Some(out)
}

/// `[a-z]` without escapes: none for a member that would mean something else there.
fn set(negated: bool, members: &[Member]) -> Option<String> {
    let mut ranges: Vec<(char, char)> = Vec::new();
    for member in members {
        match member {
            Member::Range(first, last) => ranges.push((*first, *last)),
            Member::Class(name) => ranges.extend(class_ranges(name)?),
            Member::Perl(_) => return None,
        }
    }
    // A closing bracket comes first and a dash last; there the two mean themselves.
    ranges.sort_by_key(|r| (r.0 != ']', r.0 == '-'));
    if ranges.iter().any(|(first, last)| first != last && [*first, *last].iter().any(|c| matches!(c, '-' | ']'))) {
        return None;
    }
    if ranges.first().is_some_and(|r| r.0 == '^') && !negated {
        ranges.rotate_left(1);
    }
    let shown = |(first, last): &(char, char)| if first == last { first.to_string() } else { format!("{first}-{last}") };
    let inner: String = ranges.iter().map(shown).collect();
    (negated || !inner.starts_with('^')).then(|| format!("[{}{inner}]", if negated { "^" } else { "" }))
}

fn class_ranges(name: &str) -> Option<Vec<(char, char)>> {
    Some(match name.to_ascii_lowercase().as_str() {
        "digit" => vec![('0', '9')],
        "upper" => vec![('A', 'Z')],
        "lower" => vec![('a', 'z')],
        "alpha" => vec![('A', 'Z'), ('a', 'z')],
        "alnum" => vec![('0', '9'), ('A', 'Z'), ('a', 'z')],
        "xdigit" => vec![('0', '9'), ('A', 'F'), ('a', 'f')],
        _ => return None,
    })
}

/// A regular expression that is found where the pattern fits the whole text.
pub(super) fn as_regex(pieces: &[Piece]) -> String {
    let begins = pieces.first() == Some(&Piece::Run);
    let ends = pieces.len() > 1 && pieces.last() == Some(&Piece::Run);
    let inner = &pieces[usize::from(begins)..pieces.len() - usize::from(ends)];
    // What lies before and behind runs freely needs no saying.
    let mut body = String::new();
    inner.iter().for_each(|p| regex_piece(p, &mut body));
    if let ([Piece::Either(branches)], false) = (inner, begins && ends)
        && branches.len() > 1
        && !body.starts_with('(')
    {
        body = format!("({body})");
    }
    let dot = if inner.iter().any(has_dot) { "(?s)" } else { "" };
    format!("{dot}{}{body}{}", if begins { "" } else { "^" }, if ends { "" } else { "\\z" })
}

fn has_dot(piece: &Piece) -> bool {
    match piece {
        Piece::One | Piece::Run => true,
        Piece::Either(branches) => branches.iter().flatten().any(has_dot),
        Piece::Times { piece, .. } => has_dot(piece),
        Piece::Char(_) | Piece::Set { .. } => false,
    }
}

fn regex_piece(piece: &Piece, out: &mut String) {
    match piece {
        Piece::Char(c) => {
            if "\\^$.|?*+()[]{}".contains(*c) {
                out.push('\\');
            }
            out.push(*c);
        }
        Piece::One => out.push('.'),
        Piece::Run => out.push_str(".*"),
        Piece::Set { negated, members } => {
            out.push_str(if *negated { "[^" } else { "[" });
            for member in members {
                match member {
                    Member::Range(first, last) => {
                        set_char(*first, out);
                        if first != last {
                            out.push('-');
                            set_char(*last, out);
                        }
                    }
                    Member::Class(name) => out.push_str(&format!("[:{name}:]")),
                    Member::Perl(c) => out.extend(['\\', *c]),
                }
            }
            out.push(']');
        }
        Piece::Either(branches) => {
            out.push('(');
            for (i, branch) in branches.iter().enumerate() {
                if i > 0 {
                    out.push('|');
                }
                branch.iter().for_each(|p| regex_piece(p, out));
            }
            out.push(')');
        }
        Piece::Times { piece, least, most } => {
            let grouped = matches!(**piece, Piece::Run | Piece::Times { .. });
            out.push_str(if grouped { "(" } else { "" });
            regex_piece(piece, out);
            out.push_str(if grouped { ")" } else { "" });
            out.push_str(&match (least, most) {
                (0, None) => "*".to_string(),
                (1, None) => "+".to_string(),
                (0, Some(1)) => "?".to_string(),
                (least, None) => format!("{{{least},}}"),
                (least, Some(most)) if least == most => format!("{{{least}}}"),
                (least, Some(most)) => format!("{{{least},{most}}}"),
            });
        }
    }
}

fn set_char(c: char, out: &mut String) {
    if matches!(c, '\\' | '[' | ']' | '^' | '-') {
        out.push('\\');
    }
    out.push(c);
}

#[cfg(test)]
mod tests {
    use super::super::pieces::{flat, of_glob, of_like, of_similar};
    use super::*;

    #[test]
    fn patterns_of_like() {
        for (given, sets, as_like_of, backslash, glob, regex) in [
            ("T%", false, "T%", "T%", "T*", "^T"),
            ("%[0-9]", true, "%[0-9]", "", "*[0-9]", "[0-9]\\z"),
            ("a_c%x", false, "a_c%x", "a_c%x", "a?c*x", "(?s)^a.c.*x\\z"),
            ("10!%", false, "10[%]", "10\\%", "10%", "^10%\\z"),
            ("[^a-f]*", true, "[^a-f]*", "", "[^a-f][*]", "^[^a-f]\\*\\z"),
            ("[]-]", true, "[]-]", "", "[]-]", "^[\\]\\-]\\z"),
            ("a\\b", false, "a\\b", "a\\\\b", "a\\b", "^a\\\\b\\z"),
            ("%", false, "%", "%", "*", "\\z"),
        ] {
            let pieces = of_like(given, Some('!'), sets).unwrap();
            let said = |style| as_like(&pieces, style).map(|(text, _)| text).unwrap_or_default();
            let found = [said(LikeStyle::Brackets), said(LikeStyle::Backslash), as_glob(&pieces).unwrap(), as_regex(&pieces)];
            assert_eq!(found, [as_like_of, backslash, glob, regex], "{given}");
        }
        assert_eq!(as_like(&of_like("a\\%", Some('!'), false).unwrap(), LikeStyle::Clause), Some(("a\\%".into(), false)));
        assert_eq!(as_like(&of_like("\\!%", Some('!'), false).unwrap(), LikeStyle::Clause), Some(("\\\\\\%".into(), true)));
        assert_eq!(of_like("a[b", None, true), Err("a bracket that is not closed".to_string()));
    }

    #[test]
    fn patterns_of_similar_to() {
        for (given, regex, likes) in [
            ("(AB|CD)[0-9]%", "^(AB|CD)[0-9]", Some(vec!["AB[0-9]%", "CD[0-9]%"])),
            ("AB|CD", "^(AB|CD)\\z", Some(vec!["AB", "CD"])),
            ("[[:alpha:]]{2}x?", "^[[:alpha:]]{2}x?\\z", Some(vec!["[A-Za-z][A-Za-z]", "[A-Za-z][A-Za-z]x"])),
            ("[0-9]+", "^[0-9]+\\z", None),
            ("_+a", "(?s)^.+a\\z", Some(vec!["_%a"])),
            ("a\\%b", "^a%b\\z", Some(vec!["a[%]b"])),
        ] {
            let pieces = of_similar(given, Some('\\')).unwrap();
            assert_eq!(as_regex(&pieces), regex, "{given}");
            let said = flat(&pieces).map(|all| all.iter().map(|p| as_like(p, LikeStyle::Brackets).unwrap().0).collect::<Vec<_>>());
            assert_eq!(said, likes.map(|all| all.iter().map(ToString::to_string).collect()), "{given}");
        }
        for (given, wanted) in
            [("(a", "a parenthesis that is not closed"), ("a)", "a closing parenthesis too many"), ("+a", "a + with nothing before it")]
        {
            assert_eq!(of_similar(given, None), Err(wanted.to_string()), "{given}");
        }
        assert_eq!(as_regex(&of_glob("[!a]?*", '!', None).unwrap()), "(?s)^[^a].");
    }
}
