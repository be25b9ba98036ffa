//! Regular expressions from one flavour to another, where both can say the same.
//!
//! A constant pattern is read piece by piece. What all flavours have is kept; classes are written in
//! the target's way; what the target lacks or reads in another way is an error that names it.

use syntax::DialectName;

/// The features in which flavours differ.
struct Flavour {
    /// `[[:digit:]]` inside brackets.
    posix_classes: bool,
    /// `\d`, `\w`, `\s`.
    perl_classes: bool,
    /// `(?=..)`, `(?!..)`, `(?<=..)`, `(?<!..)`.
    lookaround: bool,
    /// `\1` in the pattern.
    back_references: bool,
    /// `(?:..)`.
    plain_groups: bool,
    /// `\b` is the edge of a word.
    word_edges: bool,
}

/// Sources: Oracle, Database SQL Language Reference, Oracle Regular Expression Support; PostgreSQL,
/// POSIX Regular Expressions; MySQL 8 (ICU); MariaDB (PCRE); RE2's syntax for DuckDB and BigQuery;
/// Java's Pattern for Spark.
fn flavour(dialect: DialectName) -> Flavour {
    use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark};
    let re2 = matches!(dialect, Duckdb | Bigquery);
    Flavour {
        posix_classes: dialect != Spark,
        perl_classes: true,
        lookaround: matches!(dialect, Mysql | Mariadb | Spark | Postgres),
        back_references: !re2,
        plain_groups: dialect != Oracle,
        word_edges: !matches!(dialect, Oracle | Postgres),
    }
}

/// A pattern for the target.
///
/// # Errors
/// What of it the target can't say.
pub(super) fn pattern(text: &str, to: DialectName) -> Result<String, String> {
    let target = flavour(to);
    let mut out = String::new();
    let mut chars = text.chars().peekable();
    while let Some(c) = chars.next() {
        match c {
            '\\' => {
                let Some(next) = chars.next() else { return Err("a backslash at its end".into()) };
                escape(next, &target, &mut out)?;
            }
            '[' => bracket(&mut chars, &target, &mut out)?,
            '(' if chars.peek() == Some(&'?') => {
                chars.next();
                group(&mut chars, &target, &mut out)?;
            }
            _ => out.push(c),
        }
    }
    Ok(out)
}

fn escape(c: char, target: &Flavour, out: &mut String) -> Result<(), String> {
    match c {
        'd' | 'w' | 's' | 'D' | 'W' | 'S' if target.perl_classes => {}
        'b' | 'B' if !target.word_edges => return Err(format!("\\{c}, the edge of a word")),
        '1'..='9' if !target.back_references => return Err(format!("\\{c}, which refers back to a group")),
        'b' | 'B' | 'n' | 't' | 'r' | '1'..='9' => {}
        c if c.is_alphanumeric() => return Err(format!("\\{c}")),
        _ => {}
    }
    out.push('\\');
    out.push(c);
    Ok(())
}

/// Behind `(?`.
fn group(chars: &mut std::iter::Peekable<std::str::Chars<'_>>, target: &Flavour, out: &mut String) -> Result<(), String> {
    match chars.next() {
        Some(':') if target.plain_groups => out.push_str("(?:"),
        // A group that is only counted where something refers to groups.
        Some(':') => out.push('('),
        Some(c @ ('=' | '!')) if target.lookaround => {
            out.push_str("(?");
            out.push(c);
        }
        Some('<') if target.lookaround => out.push_str("(?<"),
        Some(c) => return Err(format!("a group of the form (?{c}..)")),
        None => return Err("an open group".into()),
    }
    Ok(())
}

/// Behind `[`, up to its end.
fn bracket(chars: &mut std::iter::Peekable<std::str::Chars<'_>>, target: &Flavour, out: &mut String) -> Result<(), String> {
    out.push('[');
    if chars.peek() == Some(&'^') {
        out.extend(chars.next());
    }
    let mut first = true;
    while let Some(c) = chars.next() {
        match c {
            ']' if !first => {
                out.push(']');
                return Ok(());
            }
            // A bracket that stands first means itself; behind a backslash it does so everywhere.
            ']' => out.push_str("\\]"),
            '[' if chars.peek() == Some(&':') => {
                let mut name = String::new();
                chars.next();
                for c in chars.by_ref() {
                    if c == ']' {
                        break;
                    }
                    name.push(c);
                }
                let name = name.trim_end_matches(':');
                if target.posix_classes {
                    out.push_str(&format!("[:{name}:]"));
                } else {
                    out.push_str(java_class(name).ok_or_else(|| format!("the class [:{name}:]"))?);
                }
            }
            '[' => out.push_str("\\["),
            '\\' => {
                let Some(next) = chars.next() else { return Err("a backslash at its end".into()) };
                out.push('\\');
                out.push(next);
            }
            _ => out.push(c),
        }
        first = false;
    }
    Err("an open bracket".into())
}

fn java_class(posix: &str) -> Option<&'static str> {
    Some(match posix {
        "alpha" => "\\p{Alpha}",
        "digit" => "\\p{Digit}",
        "alnum" => "\\p{Alnum}",
        "upper" => "\\p{Upper}",
        "lower" => "\\p{Lower}",
        "space" => "\\s",
        "punct" => "\\p{Punct}",
        "blank" => "\\p{Blank}",
        "xdigit" => "\\p{XDigit}",
        _ => return None,
    })
}

/// How a dialect refers to a group in a replacement: `\1` or `$1`.
fn group_sign(dialect: DialectName) -> char {
    if matches!(dialect, DialectName::Mysql | DialectName::Spark) { '$' } else { '\\' }
}

/// A replacement for the target.
pub(super) fn replacement(text: &str, from: DialectName, to: DialectName) -> String {
    let (source, target) = (group_sign(from), group_sign(to));
    let mut out = String::new();
    let mut chars = text.chars().peekable();
    while let Some(c) = chars.next() {
        if c == source && chars.peek().is_some_and(char::is_ascii_digit) {
            out.push(target);
            out.extend(chars.next());
        } else if c == '\\' && source == '\\' && chars.peek() == Some(&'\\') {
            chars.next();
            out.push_str("\\\\");
        } else if c == target && target == '$' {
            out.push_str("\\$");
        } else {
            out.push(c);
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use DialectName::{Bigquery, Mysql, Oracle, Postgres, Spark};

    #[test]
    fn patterns_and_replacements() {
        for (given, to, wanted) in [
            ("^[A-M]+$", Spark, Ok("^[A-M]+$")),
            ("[[:digit:]]{2}", Spark, Ok("[\\p{Digit}]{2}")),
            ("[[:digit:]]{2}", Postgres, Ok("[[:digit:]]{2}")),
            ("[]a]", Oracle, Ok("[\\]a]")),
            ("\\d+\\.\\d", Bigquery, Ok("\\d+\\.\\d")),
            ("(a)\\1", Bigquery, Err("\\1, which refers back to a group")),
            ("(?=x)", Oracle, Err("a group of the form (?=..)")),
            ("(?:ab)+", Oracle, Ok("(ab)+")),
            ("[a", Mysql, Err("an open bracket")),
            ("\\bquay\\b", Postgres, Err("\\b, the edge of a word")),
        ] {
            assert_eq!(pattern(given, to).as_deref().map_err(String::as_str), wanted, "{given} to {to}");
        }
        assert_eq!(replacement("\\2-\\1", Oracle, Spark), "$2-$1");
        assert_eq!(replacement("$1 $", Mysql, Postgres), "\\1 $");
        assert_eq!(replacement("5$", Postgres, Mysql), "5\\$");
    }
}
