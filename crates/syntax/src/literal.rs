//! What literals and quoted names hold, and how a text is written as a literal.

use compact_str::CompactString;

use crate::dialect::DialectName;
use crate::spelling::Spelling;

/// The name inside its quotes, doubled quotes undone.
pub fn unquote_name(token: &str) -> CompactString {
    let Some(open) = token.chars().next() else { return CompactString::default() };
    let close = if open == '[' { ']' } else { open };
    let inner = token.strip_prefix(open).and_then(|t| t.strip_suffix(close)).unwrap_or(token);
    if !inner.contains(close) {
        return inner.into();
    }
    let doubled: String = [close, close].iter().collect();
    inner.replace(&doubled, close.encode_utf8(&mut [0; 4])).into()
}

/// The text a literal represents. `token` is the whole literal with prefix and quotes.
pub fn decode_text(token: &str, spelling: &Spelling) -> CompactString {
    let plain = token.strip_prefix('\'').and_then(|t| t.strip_suffix('\''));
    match plain {
        Some(inner) if !inner.bytes().any(|b| b == b'\'' || b == b'\\') => inner.into(),
        _ => decode_marked(token, spelling).into(),
    }
}

/// A text with a prefix, escapes or doubled quotes.
fn decode_marked(token: &str, spelling: &Spelling) -> String {
    let Some(quote_at) = token.find(['\'', '"', '$']) else { return token.to_string() };
    let prefix = token[..quote_at].to_ascii_uppercase();
    let body = &token[quote_at..];
    if body.starts_with('$') {
        return dollar_body(body).to_string();
    }
    if prefix.ends_with('Q') {
        return alternative_body(body).to_string();
    }
    let quote = &body[..1];
    let triple = quote.repeat(3);
    if spelling.raw_and_triple_quotes && body.len() >= 6 && body.starts_with(&triple) && body.ends_with(&triple) {
        let inner = &body[3..body.len() - 3];
        return if prefix.contains('R') { inner.to_string() } else { unescape(inner, spelling.dialect) };
    }
    let inner = &body[1..body.len().saturating_sub(1).max(1)];
    if prefix == "U&" {
        return code_points(&inner.replace("''", "'"));
    }
    let raw = prefix.contains('R');
    let escapes = !raw && (spelling.backslash_escapes || prefix == "E");
    // Two texts side by side, which Spark reads as one without a quote between them, and BigQuery
    // not at all (seen on Spark 4.0 and the GoogleSQL evaluator).
    let apart = matches!(spelling.dialect, DialectName::Spark | DialectName::Bigquery);
    let between = if apart { "" } else { quote };
    let undoubled = if inner.contains(quote) && !raw { undoubled(inner, quote, between, escapes) } else { inner.to_string() };
    if escapes && undoubled.contains('\\') {
        return unescape(&undoubled, if prefix == "E" { DialectName::Postgres } else { spelling.dialect });
    }
    undoubled
}

/// A text with its doubled quotes undone; a quote behind a backslash is none of them.
fn undoubled(inner: &str, quote: &str, between: &str, escapes: bool) -> String {
    if !escapes {
        return inner.replace(&quote.repeat(2), between);
    }
    let mut out = String::with_capacity(inner.len());
    let mut rest = inner;
    while let Some(c) = rest.chars().next() {
        let length = match c {
            '\\' => c.len_utf8() + rest[1..].chars().next().map_or(0, char::len_utf8),
            _ if rest.starts_with(&quote.repeat(2)) => {
                out.push_str(between);
                rest = &rest[2..];
                continue;
            }
            _ => c.len_utf8(),
        };
        out.push_str(&rest[..length]);
        rest = &rest[length..];
    }
    out
}

fn dollar_body(body: &str) -> &str {
    let tag_length = 2 + body[1..].find('$').unwrap_or(0);
    body.get(tag_length..body.len().saturating_sub(tag_length)).unwrap_or("")
}

/// The inside of `'[it's]'`.
fn alternative_body(body: &str) -> &str {
    let inner = body.get(1..body.len().saturating_sub(1)).unwrap_or("");
    let mut chars = inner.chars();
    chars.next();
    chars.next_back();
    chars.as_str()
}

/// Undoes backslash escapes.
fn unescape(text: &str, dialect: DialectName) -> String {
    let mut out = String::with_capacity(text.len());
    let mut chars = text.chars().peekable();
    while let Some(c) = chars.next() {
        if c != '\\' {
            out.push(c);
            continue;
        }
        let Some(escaped) = chars.next() else {
            out.push('\\');
            break;
        };
        match escaped {
            'n' => out.push('\n'),
            't' => out.push('\t'),
            'r' => out.push('\r'),
            'b' => out.push('\u{8}'),
            'f' if dialect != DialectName::Mysql && dialect != DialectName::Mariadb => out.push('\u{c}'),
            'a' | 'v' if dialect == DialectName::Bigquery => out.push(if escaped == 'a' { '\u{7}' } else { '\u{b}' }),
            '0' if matches!(dialect, DialectName::Mysql | DialectName::Mariadb) => out.push('\0'),
            'Z' if matches!(dialect, DialectName::Mysql | DialectName::Mariadb | DialectName::Spark) => out.push('\u{1a}'),
            // These two keep their backslash: they are escapes of LIKE patterns.
            '%' | '_' if matches!(dialect, DialectName::Mysql | DialectName::Mariadb | DialectName::Spark) => {
                out.push('\\');
                out.push(escaped);
            }
            'x' | 'u' | 'U' if matches!(dialect, DialectName::Postgres | DialectName::Bigquery | DialectName::Spark) => {
                let digits = match escaped {
                    'x' => 2,
                    'u' => 4,
                    _ => 8,
                };
                push_code(&mut out, &mut chars, digits, escaped);
            }
            other => out.push(other),
        }
    }
    out
}

fn push_code(out: &mut String, chars: &mut std::iter::Peekable<std::str::Chars<'_>>, digits: usize, mark: char) {
    let mut code = 0;
    let mut seen = 0;
    while seen < digits {
        let Some(digit) = chars.peek().and_then(|c| c.to_digit(16)) else { break };
        code = code * 16 + digit;
        chars.next();
        seen += 1;
    }
    match char::from_u32(code) {
        Some(c) if seen > 0 => out.push(c),
        _ => out.push(mark),
    }
}

/// The bytes of a literal: `X'1F'`, `0x1F`, MySQL's `b'101'`, BigQuery's `b'..'`. None for any other
/// literal, PostgreSQL's `X'1F'` and `B'101'` among them, which are bits.
pub fn decode_bytes(token: &str, dialect: DialectName) -> Option<Vec<u8>> {
    use DialectName::{Bigquery, Mariadb, Mysql, Spark, SqlServer, Sqlite};
    let family = matches!(dialect, Mysql | Mariadb);
    if let Some(digits) = token.strip_prefix("0x").or_else(|| token.strip_prefix("0X")) {
        return (family || dialect == SqlServer).then(|| of_digits(digits))?;
    }
    let quote_at = token.find(['\'', '"'])?;
    let (prefix, body) = (token[..quote_at].to_ascii_uppercase(), &token[quote_at..]);
    let inner = body.get(1..body.len().checked_sub(1)?)?;
    match prefix.as_str() {
        "X" if family || matches!(dialect, Sqlite | Spark) => of_digits(inner),
        "B" if family => {
            let padded = format!("{}{inner}", "0".repeat((8 - inner.len() % 8) % 8));
            (0..padded.len()).step_by(8).map(|i| u8::from_str_radix(&padded[i..i + 8], 2).ok()).collect()
        }
        "B" if dialect == Bigquery => Some(bytes_with_escapes(inner)),
        "BR" | "RB" if dialect == Bigquery => Some(inner.as_bytes().to_vec()),
        _ => None,
    }
}

/// Two hexadecimal digits a byte; a single first one is a byte of its own.
fn of_digits(digits: &str) -> Option<Vec<u8>> {
    let padded = if digits.len() % 2 == 1 { format!("0{digits}") } else { digits.to_string() };
    (0..padded.len()).step_by(2).map(|i| u8::from_str_radix(padded.get(i..i + 2)?, 16).ok()).collect()
}

fn bytes_with_escapes(text: &str) -> Vec<u8> {
    let bytes = text.as_bytes();
    let (mut out, mut at) = (Vec::new(), 0);
    while at < bytes.len() {
        let code = |digits: usize, radix| {
            let from = at + 2 - usize::from(radix == 8);
            text.get(from..from + digits).and_then(|d| u8::from_str_radix(d, radix).ok())
        };
        let (byte, used) = match (bytes[at], bytes.get(at + 1)) {
            (b'\\', Some(b'x' | b'X')) if code(2, 16).is_some() => (code(2, 16).unwrap_or_default(), 4),
            (b'\\', Some(b'0'..=b'3')) if code(3, 8).is_some() => (code(3, 8).unwrap_or_default(), 4),
            (b'\\', Some(b'n')) => (b'\n', 2),
            (b'\\', Some(b't')) => (b'\t', 2),
            (b'\\', Some(b'r')) => (b'\r', 2),
            (b'\\', Some(other)) => (*other, 2),
            (plain, _) => (plain, 1),
        };
        out.push(byte);
        at += used;
    }
    out
}

/// The characters of `U&'\\0041'` (PostgreSQL): four digits behind a backslash, or six behind `\\+`.
fn code_points(inner: &str) -> String {
    let mut out = String::new();
    let mut chars = inner.chars().peekable();
    while let Some(c) = chars.next() {
        match (c, chars.peek()) {
            ('\\', Some('\\')) => out.extend(chars.next()),
            ('\\', Some('+')) => {
                chars.next();
                push_code(&mut out, &mut chars, 6, '+');
            }
            ('\\', Some(_)) => push_code(&mut out, &mut chars, 4, 'u'),
            (c, _) => out.push(c),
        }
    }
    out
}

/// `text` as a literal of `spelling`'s dialect; `national` asks for SQL Server's N prefix where the
/// text needs it.
pub fn write_text(text: &str, spelling: &Spelling) -> String {
    let mut out = String::with_capacity(text.len() + 2);
    if spelling.dialect == DialectName::SqlServer && !text.is_ascii() {
        out.push('N');
    }
    // BigQuery knows no doubled quotes, and no line breaks in single-quoted texts.
    let bigquery = spelling.dialect == DialectName::Bigquery;
    // Spark reads 'it''s' as two texts side by side, and fills in ${name} before it reads anything.
    let spark = spelling.dialect == DialectName::Spark;
    out.push('\'');
    for (at, c) in text.char_indices() {
        match c {
            '$' if spark && text[at..].starts_with("${") => out.push_str("\\u0024"),
            '\'' if bigquery || spark => out.push_str("\\'"),
            '\'' => out.push_str("''"),
            '\\' if spelling.backslash_escapes => out.push_str("\\\\"),
            '\n' if bigquery => out.push_str("\\n"),
            '\r' if bigquery => out.push_str("\\r"),
            other => out.push(other),
        }
    }
    out.push('\'');
    out
}

/// `name` in the quotes of `spelling`'s dialect.
pub fn quote_name(name: &str, spelling: &Spelling) -> String {
    let (open, close) = spelling.name_quotes();
    let mut out = String::with_capacity(name.len() + 2);
    out.push(open);
    for c in name.chars() {
        if c == close {
            out.push(c);
        }
        out.push(c);
    }
    out.push(close);
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::dialect::Dialect;

    #[test]
    fn literals_decode() {
        for (dialect, token, text) in [
            ("oracle", "'quay''s end'", "quay's end"),
            ("oracle", r"'a\n'", r"a\n"),
            ("oracle", "q'[it's]'", "it's"),
            ("oracle", "nq'{a}b}'", "a}b"),
            ("sqlserver", "N'Fähre'", "Fähre"),
            ("postgres", r"E'a\tb\'\\\x41'", "a\tb'\\A"),
            ("postgres", "$$it's$$", "it's"),
            ("postgres", "$t$a$$b$t$", "a$$b"),
            ("mysql", r#""a""b\'c""#, "a\"b'c"),
            ("mysql", r"'5\%'", r"5\%"),
            ("bigquery", r"r'\d+'", r"\d+"),
            ("postgres", r"U&'qu\0061y \+01F6A2 \\'", "quay \u{1F6A2} \\"),
            ("bigquery", "'''a'b'''", "a'b"),
            (
                "bigquery",
                r#""""x
y""""#,
                "x\ny",
            ),
            ("spark", r"'é'", "é"),
            ("spark", "'it''s'", "its"),
            ("spark", r"'it\'s ''n'", "it's n"),
            ("mysql", r"'it\'''", "it''"),
        ] {
            let dialect: Dialect = dialect.parse().unwrap_or_else(|e| panic!("{e}"));
            assert_eq!(decode_text(token, &Spelling::of(&dialect)), text, "{token}");
        }
    }

    #[test]
    fn written_literals_decode_to_the_same_text() {
        for dialect in DialectName::ALL {
            let spelling = Spelling::of(&Dialect::newest(dialect));
            for text in ["", "plain", "it's", "a\\b", "two\nlines", "'", "\\'", "Fähre ⛴", "\"q\"", "${x}"] {
                let written = write_text(text, &spelling);
                assert_eq!(decode_text(&written, &spelling), text, "{dialect}: {written}");
                assert_eq!(unquote_name(&quote_name(text, &spelling)), text, "{dialect}");
            }
        }
    }
}
