//! Regular expressions from one flavour to another, where both can say the same.
//!
//! A constant pattern is read piece by piece. What all flavours have is kept; classes are written in
//! the target's way; what the target lacks or reads in another way is an error that names it.

use meaning::phrase;
use syntax::DialectName;

use super::set::{Brackets, Cursor, Member, set};

/// The features in which flavours differ.
pub(super) struct Flavour {
    /// `[[:digit:]]` inside brackets.
    posix_classes: bool,
    /// A backslash in brackets means itself, and `]` and `-` mean themselves at the ends.
    plain_brackets: bool,
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
    /// `(?i)` and `(?s)` before all else.
    leading_flags: bool,
    /// `(?i)` is of ASCII, `(?iu)` of all letters.
    ascii_case: bool,
    /// `$` fits before a line's end that comes last, so that `\z` must say the very end.
    pub(super) loose_end: bool,
    /// A point fits a line's end as well.
    wide_point: bool,
}

impl Flavour {
    pub(super) fn brackets(&self) -> Brackets {
        Brackets { negation: '^', escape: (!self.plain_brackets).then_some('\\'), letters: true }
    }
}

/// Sources: Oracle, Database SQL Language Reference, Oracle Regular Expression Support; PostgreSQL,
/// POSIX Regular Expressions; MySQL 8 (ICU); MariaDB (PCRE); RE2's syntax for DuckDB, BigQuery and SQL Server 2025;
/// Java's Pattern for Spark.
pub(super) fn flavour(dialect: DialectName) -> Flavour {
    use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer};
    let re2 = matches!(dialect, Duckdb | Bigquery | SqlServer);
    Flavour {
        posix_classes: dialect != Spark,
        plain_brackets: dialect == Oracle,
        perl_classes: true,
        lookaround: matches!(dialect, Mysql | Mariadb | Spark | Postgres),
        back_references: !re2,
        plain_groups: dialect != Oracle,
        word_edges: !matches!(dialect, Oracle | Postgres),
        leading_flags: dialect != Oracle,
        ascii_case: dialect == Spark,
        loose_end: matches!(dialect, Mysql | Mariadb | Spark),
        wide_point: dialect == Postgres,
    }
}

/// The words of BigQuery that give a group's match, or place, where the pattern has a group: of these
/// only two phrases ask for it.
fn tells_of_group(phrase: &str, to: DialectName) -> bool {
    let asks = [phrase::REGEX_FIRST_GROUP_OR_MATCH, phrase::REGEX_GROUP_OR_MATCH_NUMBER].contains(&phrase);
    let keeps = phrase.starts_with("regex.replace") || phrase.starts_with(phrase::REGEX_MATCHES) || asks;
    to == DialectName::Bigquery && !keeps
}

/// For `only_group`: none of them.
const NO_GROUP: usize = usize::MAX;

/// How many groups a pattern counts.
pub(crate) fn groups(pattern: &str, from: DialectName) -> usize {
    let mut count = 0;
    each_group(pattern, from, |_| count += 1);
    count
}

/// The pattern with this group alone; none if it has no such group or refers to another.
pub(super) fn only_group(pattern: &str, group: usize, from: DialectName) -> Option<String> {
    if (group != NO_GROUP && groups(pattern, from) < group.max(1)) || has_back_reference(pattern) {
        return None;
    }
    let mut out = String::new();
    let (mut last, mut at) = (0, 0);
    each_group(pattern, from, |place| {
        at += 1;
        if at != group {
            out.push_str(&pattern[last..place]);
            out.push_str("(?:");
            last = place + 1;
        }
    });
    Some(out + &pattern[last..])
}

/// The place of each parenthesis that opens a counted group.
fn each_group(pattern: &str, from: DialectName, mut visit: impl FnMut(usize)) {
    let brackets = flavour(from).brackets();
    let mut cursor = Cursor::new(pattern);
    while let Some(c) = cursor.next() {
        match c {
            '\\' => drop(cursor.next()),
            // What is no set is noted where the pattern is converted.
            '[' => drop(set(&mut cursor, brackets)),
            '(' if cursor.peek() != Some('?') => visit(pattern.len() - cursor.left() - 1),
            _ => {}
        }
    }
}

fn has_back_reference(pattern: &str) -> bool {
    pattern.as_bytes().windows(2).any(|w| w[0] == b'\\' && w[1].is_ascii_digit())
}

/// A pattern of a phrase for the target.
///
/// # Errors
/// What of it the target can't say.
pub(super) fn pattern(phrase: &str, text: &str, from: DialectName, to: DialectName) -> Result<String, String> {
    let of_group = [phrase::REGEX_POSITION, phrase::REGEX_POSITION_OF_MATCH, phrase::REGEX_POSITION_BEHIND_MATCH].contains(&phrase);
    if of_group && from == DialectName::Bigquery && to != from && groups(text, from) > 0 {
        return Err("a group of which alone BigQuery tells".into());
    }
    let whole =
        (tells_of_group(phrase, to) && groups(text, from) > 0).then(|| only_group(text, NO_GROUP, from).ok_or("a reference to a group"));
    converted(&whole.unwrap_or_else(|| Ok(text.to_string()))?, from, to)
}

fn converted(text: &str, from: DialectName, to: DialectName) -> Result<String, String> {
    let (source, target) = (flavour(from), flavour(to));
    let mut out = String::new();
    // Every character, line's ends too, is meant by a point.
    let flagged = text.strip_prefix("(?s)");
    let text = flagged.unwrap_or(text);
    let wide = flagged.is_some() || (source.wide_point && has_point(text, &source));
    let has_flag = wide && !target.wide_point;
    if has_flag && target.leading_flags {
        out.push_str("(?s)");
    }
    let of_all = text.strip_prefix("(?iu)");
    let flags = of_all.or(text.strip_prefix("(?i)")).filter(|_| target.leading_flags);
    if flags.is_some() {
        out.push_str(if target.ascii_case && (of_all.is_some() || !source.ascii_case) { "(?iu)" } else { "(?i)" });
    }
    let mut chars = Cursor::new(flags.unwrap_or(text));
    while let Some(c) = chars.next() {
        match c {
            '.' if has_flag && !target.leading_flags => out.push_str("[[:print:][:cntrl:]]"),
            '.' if !wide && target.wide_point => out.push_str("[^\\n]"),
            '$' if target.loose_end && !source.loose_end => out.push_str("\\z"),
            '\\' if chars.peek() == Some('z') => {
                chars.next();
                out.push_str(if target.loose_end { "\\z" } else { "$" });
            }
            '\\' => {
                let Some(next) = chars.next() else { return Err("a backslash at its end".into()) };
                escape(next, &target, &mut out)?;
            }
            '[' => bracket(&mut chars, &source, &target, &mut out)?,
            '(' if chars.peek() == Some('?') => {
                chars.next();
                group(&mut chars, &target, &mut out)?;
            }
            _ => out.push(c),
        }
    }
    Ok(out)
}

/// Whether a point is outside brackets.
fn has_point(text: &str, source: &Flavour) -> bool {
    let mut cursor = Cursor::new(text);
    while let Some(c) = cursor.next() {
        match c {
            '.' => return true,
            '\\' => drop(cursor.next()),
            '[' => drop(set(&mut cursor, source.brackets())),
            _ => {}
        }
    }
    false
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
fn group(chars: &mut Cursor<'_>, target: &Flavour, out: &mut String) -> Result<(), String> {
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
fn bracket(cursor: &mut Cursor<'_>, source: &Flavour, target: &Flavour, out: &mut String) -> Result<(), String> {
    let (negated, members) = set(cursor, source.brackets())?;
    out.push('[');
    out.push_str(if negated { "^" } else { "" });
    if target.plain_brackets {
        plain_members(members, negated, out)?;
    } else {
        escaped_members(&members, target, out)?;
    }
    out.push(']');
    Ok(())
}

/// Where a backslash means itself: `]` first, `^` not first and `-` last.
fn plain_members(members: Vec<Member>, negated: bool, out: &mut String) -> Result<(), String> {
    let place = |m: &Member| match m {
        Member::Range(']', ']') => 0,
        Member::Range('^', '^') if !negated => 2,
        Member::Range('-', '-') => 3,
        _ => 1,
    };
    let mut members = members;
    members.sort_by_key(place);
    if members == [Member::Range('^', '^')] && !negated {
        return Err("a bracket of nothing but ^".into());
    }
    for member in members {
        match member {
            Member::Range(first, last) if first == last => out.push(first),
            Member::Range(first, last) => out.extend([first, '-', last]),
            Member::Class(name) => out.push_str(&format!("[:{name}:]")),
            Member::Perl('d') => out.push_str("[:digit:]"),
            Member::Perl('w') => out.push_str("[:alnum:]_"),
            Member::Perl('s') => out.push_str("[:space:]"),
            Member::Perl(c) => return Err(format!("\\{c} in brackets")),
        }
    }
    Ok(())
}

fn escaped_members(members: &[Member], target: &Flavour, out: &mut String) -> Result<(), String> {
    let push = |c: char, out: &mut String| {
        if matches!(c, '\\' | '[' | ']' | '^' | '-' | '&' | '~') {
            out.push('\\');
        }
        out.push(c);
    };
    for member in members {
        match member {
            Member::Range(first, last) if first == last => push(*first, out),
            Member::Range(first, last) => {
                push(*first, out);
                out.push('-');
                push(*last, out);
            }
            Member::Class(name) if target.posix_classes => out.push_str(&format!("[:{name}:]")),
            Member::Class(name) => out.push_str(java_class(name).ok_or_else(|| format!("the class [:{name}:]"))?),
            Member::Perl(c) => out.extend(['\\', *c]),
        }
    }
    Ok(())
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

/// A piece of a replacement.
enum Piece {
    Text(char),
    /// What a group has found; 0 is the whole match.
    Group(char),
}

/// The pieces of a replacement. Seen on MySQL 9.7, MariaDB 10.11, PostgreSQL 15, DuckDB 1.5, Spark 4.0 and
/// the GoogleSQL evaluator; Oracle and SQL Server 2025, REGEXP_REPLACE.
fn pieces(text: &str, from: DialectName) -> Vec<Piece> {
    use DialectName::{Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer};
    let by_dollar = matches!(from, Mysql | Spark);
    // A backslash before any other character is nothing but its sign that it means itself.
    let escapes_all = matches!(from, Mysql | Spark | Mariadb);
    let mut out = Vec::new();
    let mut cursor = Cursor::new(text);
    while let Some(c) = cursor.next() {
        let group = |digit: &char| digit.is_ascii_digit() && (*digit != '0' || !matches!(from, Postgres | Oracle | SqlServer));
        match (c, cursor.peek()) {
            ('$', Some(digit)) if by_dollar && group(&digit) => out.push(Piece::Group(digit)),
            ('\\', Some(digit)) if !by_dollar && group(&digit) => out.push(Piece::Group(digit)),
            ('\\', Some('&')) if from == Postgres => out.push(Piece::Group('0')),
            ('\\', Some('&')) if from == SqlServer => out.push(Piece::Text('&')),
            ('&', _) if from == SqlServer => {
                out.push(Piece::Group('0'));
                continue;
            }
            ('\\', Some('\\')) => out.push(Piece::Text('\\')),
            ('\\', Some(other)) if escapes_all => out.push(Piece::Text(other)),
            ('\\', None) if escapes_all => {}
            _ => {
                out.push(Piece::Text(c));
                continue;
            }
        }
        cursor.next();
    }
    out
}

/// A replacement for the target.
///
/// # Errors
/// What of it the target can't say.
pub(super) fn replacement(text: &str, from: DialectName, to: DialectName) -> Result<String, String> {
    use DialectName::{Mysql, Oracle, Postgres, Spark, SqlServer};
    let by_dollar = matches!(to, Mysql | Spark);
    let mut out = String::new();
    for piece in pieces(text, from) {
        match piece {
            Piece::Text('\\') => out.push_str("\\\\"),
            Piece::Text('$') if by_dollar => out.push_str("\\$"),
            Piece::Text('&') if to == SqlServer => return Err("an & in a replacement".into()),
            Piece::Text(c) => out.push(c),
            Piece::Group('0') if to == Oracle => return Err("the whole match in a replacement".into()),
            Piece::Group('0') if to == Postgres => out.push_str("\\&"),
            Piece::Group('0') if to == SqlServer => out.push('&'),
            Piece::Group(digit) => out.extend([if by_dollar { '$' } else { '\\' }, digit]),
        }
    }
    Ok(out)
}

#[cfg(test)]
mod tests {
    use super::*;
    use DialectName::{Bigquery, Mysql, Oracle, Postgres, Spark, SqlServer};

    #[test]
    fn patterns_and_replacements() {
        for (given, to, wanted) in [
            ("^[A-M]+$", Spark, Ok("^[A-M]+\\z")),
            ("^[A-M$]+\\$", Spark, Ok("^[A-M$]+\\$")),
            ("a.b$", Mysql, Ok("(?s)a.b\\z")),
            ("a.b$", Oracle, Ok("a[[:print:][:cntrl:]]b$")),
            ("a[.]b\\.", Mysql, Ok("a[.]b\\.")),
            ("[[:digit:]]{2}", Spark, Ok("[\\p{Digit}]{2}")),
            ("[[:digit:]]{2}", Postgres, Ok("[[:digit:]]{2}")),
            ("[]a]", Oracle, Ok("[]a]")),
            ("[]a]", Spark, Ok("[\\]a]")),
            ("[^\\d\\-.]", Oracle, Ok("[^[:digit:].-]")),
            ("\\d+\\.\\d", Bigquery, Ok("\\d+\\.\\d")),
            ("(a)\\1", Bigquery, Err("\\1, which refers back to a group")),
            ("(?=x)", Oracle, Err("a group of the form (?=..)")),
            ("(?:ab)+", Oracle, Ok("(ab)+")),
            ("[a", Mysql, Err("a bracket that is not closed")),
            ("(?s)^a.\\z", Oracle, Ok("^a[[:print:][:cntrl:]]$")),
            ("(?s)^a.\\z", Postgres, Ok("^a.$")),
            ("(?s)(?i)^a.\\z", Spark, Ok("(?s)(?iu)^a.\\z")),
            ("\\bquay\\b", Postgres, Err("\\b, the edge of a word")),
        ] {
            assert_eq!(pattern(phrase::REGEX_MATCHES, given, Postgres, to).as_deref().map_err(String::as_str), wanted, "{given} to {to}");
        }
        assert_eq!(pattern(phrase::REGEX_COUNT, "(a)[(](?:b)\\((c)", Oracle, Bigquery).as_deref(), Ok("(?:a)[(](?:b)\\((?:c)"));
        assert_eq!(only_group("(a)(b)", 2, Postgres).as_deref(), Some("(?:a)(b)"));
        assert_eq!(only_group("(a)(b)", 3, Postgres), None);
        for (given, from, wanted) in
            [("[](](a)", Postgres, 1), ("[\\](](a)", Postgres, 1), ("[\\](a)", Oracle, 1), ("[[:alpha:](]\\((?:a)(b)", Postgres, 1)]
        {
            assert_eq!(groups(given, from), wanted, "{given}");
        }
        for (given, from, to, wanted) in [
            ("\\2-\\1", Oracle, Spark, "$2-$1"),
            ("$1 $", Mysql, Postgres, "\\1 $"),
            ("5$", Postgres, Mysql, "5\\$"),
            ("<\\&>", Postgres, Mysql, "<$0>"),
            ("<$0>", Mysql, Postgres, "<\\&>"),
            ("<\\0>", Bigquery, Postgres, "<\\&>"),
            ("<\\0>", Bigquery, SqlServer, "<&>"),
            ("<&>\\1", SqlServer, Postgres, "<\\&>\\1"),
            ("\\&", SqlServer, Mysql, "&"),
            ("<\\0>", Postgres, Bigquery, "<\\\\0>"),
            ("a\\b\\\\", Mysql, Postgres, "ab\\\\"),
            ("a\\b", Postgres, Mysql, "a\\\\b"),
            ("\\$1", Spark, Bigquery, "$1"),
        ] {
            assert_eq!(replacement(given, from, to).as_deref(), Ok(wanted), "{given} of {from} to {to}");
        }
        assert!(replacement("$0", Mysql, Oracle).is_err());
    }
}
