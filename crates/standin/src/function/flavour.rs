//! A dialect's regular expression in the words of the crate's engine.
//!
//! Sources: the manuals' chapters named in `pattern`; what classes hold and where `$` fits was seen on
//! MySQL 9.7, MariaDB 10.11, PostgreSQL 15, DuckDB 1.5, Spark 4.0 and the GoogleSQL evaluator.

use std::iter::Peekable;
use std::str::Chars;

use syntax::DialectName::{self, Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer};

/// What a dialect's patterns mean otherwise than the crate's.
struct Flavour {
    /// `$` fits before a line's end that comes last.
    loose_end: bool,
    /// `\w` is of ASCII, and so are named classes of letters.
    ascii_letters: bool,
    /// `\d` is of ASCII.
    ascii_digits: bool,
    /// A backslash in brackets means itself.
    plain_brackets: bool,
    /// A bracket in brackets opens a set within the set, and `&&` has what is in both (Java, ICU).
    nested_sets: bool,
    /// `\p{Alpha}` and its kin are of ASCII.
    java_classes: bool,
    /// `\Q..\E` means itself.
    quotes: bool,
}

fn flavour(dialect: DialectName) -> Flavour {
    Flavour {
        loose_end: matches!(dialect, Mysql | Mariadb | Spark),
        ascii_letters: matches!(dialect, Duckdb | Bigquery | Spark | SqlServer),
        ascii_digits: !matches!(dialect, Mysql | Mariadb),
        plain_brackets: dialect == Oracle,
        nested_sets: matches!(dialect, Mysql | Spark),
        java_classes: dialect == Spark,
        quotes: !matches!(dialect, Oracle | Postgres),
    }
}

/// The pattern for the crate's engine; `by_lines`: `^` and `$` fit at the ends of lines.
pub(super) fn adapted(pattern: &str, dialect: DialectName, by_lines: bool) -> String {
    let flavour = flavour(dialect);
    let mut out = String::with_capacity(pattern.len());
    let mut chars = pattern.chars().peekable();
    while let Some(c) = chars.next() {
        match c {
            '\\' => match chars.next() {
                Some('Q') if flavour.quotes => out.push_str(&quoted(&mut chars)),
                Some('p') if flavour.java_classes => out.push_str(&java_class(&mut chars)),
                Some(c @ ('w' | 'W')) if flavour.ascii_letters => out.push_str(if c == 'w' { "[0-9A-Za-z_]" } else { "[^0-9A-Za-z_]" }),
                Some(c @ ('d' | 'D')) if flavour.ascii_digits => out.push_str(if c == 'd' { "[0-9]" } else { "[^0-9]" }),
                next => {
                    out.push('\\');
                    out.extend(next);
                }
            },
            '$' if flavour.loose_end && !by_lines => out.push_str("(?=\\n?\\z)"),
            '[' => set(&mut chars, &flavour, &mut out),
            _ => out.push(c),
        }
    }
    out
}

/// Behind `\Q`, up to `\E` or the end.
fn quoted(chars: &mut Peekable<Chars<'_>>) -> String {
    let mut text = String::new();
    while let Some(c) = chars.next() {
        if c == '\\' && chars.next_if_eq(&'E').is_some() {
            break;
        }
        text.push(c);
    }
    fancy_regex::escape(&text).into_owned()
}

/// Behind `[`, up to its end.
fn set(chars: &mut Peekable<Chars<'_>>, flavour: &Flavour, out: &mut String) {
    out.push('[');
    if let Some(sign) = chars.next_if_eq(&'^') {
        out.push(sign);
    }
    // A bracket that comes first is a member.
    if chars.next_if_eq(&']').is_some() {
        out.push_str("\\]");
    }
    while let Some(c) = chars.next() {
        match c {
            ']' => {
                out.push(']');
                return;
            }
            '\\' if flavour.plain_brackets => out.push_str("\\\\"),
            '\\' => match chars.next() {
                Some('p') if flavour.java_classes => out.push_str(&java_class(chars)),
                Some('w') if flavour.ascii_letters => out.push_str("0-9A-Za-z_"),
                Some('d') if flavour.ascii_digits => out.push_str("0-9"),
                next => {
                    out.push('\\');
                    out.extend(next);
                }
            },
            '[' if chars.next_if_eq(&':').is_some() => {
                let name: String = chars.by_ref().take_while(|c| *c != ':').collect();
                chars.next_if_eq(&']');
                out.push_str(&class(&name, flavour.ascii_letters));
            }
            '[' if !flavour.nested_sets => out.push_str("\\["),
            '&' | '~' if !flavour.nested_sets => out.extend(['\\', c]),
            _ => out.push(c),
        }
    }
}

/// `[:name:]`, as it is in brackets.
fn class(name: &str, ascii: bool) -> String {
    match name {
        "alpha" if !ascii => "\\p{Alphabetic}".to_string(),
        "alnum" if !ascii => "\\p{Alphabetic}\\p{Nd}".to_string(),
        "upper" if !ascii => "\\p{Uppercase}".to_string(),
        "lower" if !ascii => "\\p{Lowercase}".to_string(),
        "print" if !ascii => "\\P{Cc}".to_string(),
        _ => format!("[:{name}:]"),
    }
}

/// Behind `\p` in Java: its classes with names of POSIX's hold ASCII.
fn java_class(chars: &mut Peekable<Chars<'_>>) -> String {
    let named: String = if chars.next_if_eq(&'{').is_some() { chars.by_ref().take_while(|c| *c != '}').collect() } else { String::new() };
    match named.as_str() {
        "Alpha" | "Digit" | "Alnum" | "Upper" | "Lower" | "Punct" | "Blank" => format!("[[:{}:]]", named.to_ascii_lowercase()),
        "XDigit" => "[[:xdigit:]]".to_string(),
        "" => "\\p".to_string(),
        other => format!("\\p{{{other}}}"),
    }
}
