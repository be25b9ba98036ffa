//! LIKE and GLOB.

use crate::behaviour::Collation;
use crate::compare::folded;

/// How a pattern is read.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct Pattern {
    pub(crate) escape: Option<char>,
    /// `[a-z]` and `[^a-z]` (SQL Server; GLOB).
    pub(crate) sets: bool,
    /// `*` and `?` for `%` and `_`.
    pub(crate) glob: bool,
    /// What turns a set round.
    pub(crate) negation: char,
}

/// Whether a string matches; trailing blanks count, case and accents by the collation.
pub(crate) fn like(text: &str, pattern: &str, how: Pattern, collation: Collation) -> bool {
    let folding = Collation { pads: false, ..collation };
    let chars = |t: &str| -> Vec<char> { if folding.is_binary() { t.chars().collect() } else { folded(t, folding).chars().collect() } };
    matches(&chars(text), &chars(pattern), how)
}

fn matches(text: &[char], pattern: &[char], how: Pattern) -> bool {
    let (mut t, mut p) = (0, 0);
    // Where to go on after the last run sign, one character further each time.
    let mut retry: Option<(usize, usize)> = None;
    loop {
        if p < pattern.len() && is_run(pattern[p], how) && Some(pattern[p]) != how.escape {
            p += 1;
            retry = Some((t, p));
            continue;
        }
        match (t < text.len(), one(text.get(t), &pattern[p.min(pattern.len())..], how)) {
            (true, Some(used)) => {
                t += 1;
                p += used;
            }
            (false, _) if p >= pattern.len() => return true,
            _ => match retry {
                Some((from, after)) if from < text.len() => {
                    retry = Some((from + 1, after));
                    t = from + 1;
                    p = after;
                }
                _ => return false,
            },
        }
    }
}

fn is_run(c: char, how: Pattern) -> bool {
    c == if how.glob { '*' } else { '%' }
}

/// How many characters of the pattern match one character of the text, if they do.
fn one(c: Option<&char>, pattern: &[char], how: Pattern) -> Option<usize> {
    let (c, first) = (*c?, *pattern.first()?);
    if Some(first) == how.escape {
        return match pattern.get(1) {
            Some(next) => (*next == c).then_some(2),
            None => None,
        };
    }
    if first == if how.glob { '?' } else { '_' } {
        return Some(1);
    }
    if first == '[' && how.sets {
        // A `]` right behind the opening is a member.
        let negated = pattern.get(1) == Some(&how.negation);
        let start = 1 + usize::from(negated);
        if let Some(end) = pattern[start..].iter().skip(1).position(|c| *c == ']').map(|i| i + start + 1) {
            return (in_set(c, &pattern[start..end]) != negated).then_some(end + 1);
        }
        return None;
    }
    (first == c).then_some(1)
}

fn in_set(c: char, members: &[char]) -> bool {
    let mut i = 0;
    while i < members.len() {
        if i + 2 < members.len() && members[i + 1] == '-' {
            if (members[i]..=members[i + 2]).contains(&c) {
                return true;
            }
            i += 3;
        } else {
            if members[i] == c {
                return true;
            }
            i += 1;
        }
    }
    false
}
