//! Strings and bytes as codes: hexadecimal, base 64, digests, edit distance. Sources: the vendors'
//! manuals, chapters on string, encryption and hash functions.

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use md5::{Digest, Md5};
use sha1::Sha1;
use sha2::{Sha224, Sha256, Sha384, Sha512};
use values::Value;

use super::{
    Args, Bigquery, Duckdb, Function, MY, Mariadb, Mysql, ORACLE, Oracle, Postgres, SQL_SERVER, Spark, SqlServer, Sqlite, Typing, f, of,
    seen,
};
use crate::convert::{from_digits, text_of_bytes};
use crate::failure::{Failure, FailureKind, Outcome};
use crate::types::Type;

const TEXT: Typing = Typing::Fixed(Type::TEXT);
const BYTES: Typing = Typing::Fixed(Type::Binary { length: None, fixed: false });

pub(super) const FUNCTIONS: &[Function] = &[
    f("MD5", of(&[Mysql, Mariadb, Postgres, Duckdb, Spark]), 1, 1, TEXT, |a| digest_text(a, "MD5")),
    f("SHA1", of(&[Mysql, Mariadb, Spark, Duckdb]), 1, 1, TEXT, |a| digest_text(a, "SHA1")),
    f("SHA", of(&[Mysql, Mariadb, Spark]), 1, 1, TEXT, |a| digest_text(a, "SHA1")),
    f("SHA2", of(&[Mysql, Mariadb, Spark]), 2, 2, TEXT, |a| match a.whole(1)? {
        224 => digest_text(a, "SHA224"),
        0 | 256 => digest_text(a, "SHA256"),
        384 => digest_text(a, "SHA384"),
        512 => digest_text(a, "SHA512"),
        _ => Ok(Value::Null),
    }),
    f("SHA256", of(&[Duckdb]), 1, 1, TEXT, |a| digest_text(a, "SHA256")),
    f("SHA256", of(&[Postgres, Bigquery]), 1, 1, BYTES, |a| digest_bytes(a, "SHA256")),
    f("CRC32", of(&[Mysql, Mariadb, Spark, Postgres]), 1, 1, Typing::Number, |a| Ok(Value::Integer(i64::from(checksum(&bytes_of(a, 0)))))),
    f("SHA512", of(&[Postgres, Bigquery]), 1, 1, BYTES, |a| digest_bytes(a, "SHA512")),
    f("MD5", of(&[Bigquery]), 1, 1, BYTES, |a| digest_bytes(a, "MD5")),
    f("SHA1", of(&[Bigquery]), 1, 1, BYTES, |a| digest_bytes(a, "SHA1")),
    seen("STANDARD_HASH", ORACLE, 1, 2, BYTES, |a| {
        let name = if a.has(1) { a.text(1) } else { "SHA1".to_string() };
        if a.has(0) { digest(&name, &bytes_of(a, 0)).map(binary) } else { Ok(Value::Null) }
    }),
    f("HASHBYTES", SQL_SERVER, 2, 2, BYTES, |a| digest(&a.text(0).replace("SHA2_", "SHA"), &bytes_of(a, 1)).map(binary)),
    f("TO_BASE64", MY, 1, 1, TEXT, |a| a.give(in_lines(&bytes_of(a, 0), 76, "\n"))),
    f("TO_BASE64", of(&[Bigquery, Duckdb]), 1, 1, TEXT, |a| a.give(STANDARD.encode(bytes_of(a, 0)))),
    f("BASE64", of(&[Spark]), 1, 1, TEXT, |a| a.give(in_lines(&bytes_of(a, 0), 76, "\r\n"))),
    f("BASE64", of(&[Duckdb]), 1, 1, TEXT, |a| a.give(STANDARD.encode(bytes_of(a, 0)))),
    f("BASE64_ENCODE", SQL_SERVER, 1, 1, TEXT, |a| a.give(STANDARD.encode(bytes_of(a, 0)))),
    f("BASE64_DECODE", SQL_SERVER, 1, 1, BYTES, |a| from_base64(&a.text(0))),
    f("FROM_BASE64", of(&[Mysql, Mariadb, Bigquery, Duckdb]), 1, 1, BYTES, |a| from_base64(&a.text(0))),
    f("FROM_UTF32_", MY, 1, 1, TEXT, |a| {
        let codes = bytes_of(a, 0).chunks(4).map(|c| c.iter().fold(0_u32, |n, b| (n << 8) | u32::from(*b))).collect::<Vec<_>>();
        let characters: Vec<Option<char>> = codes.into_iter().map(char::from_u32).collect();
        // Bytes that are no character make NULL of it all (seen on MySQL 9.7), or are a question mark each (on
        // MariaDB 10.11).
        if a.dialect() == Mysql && characters.contains(&None) {
            return Ok(Value::Null);
        }
        a.give(characters.into_iter().map(|c| c.map_or("????".to_string(), String::from)).collect::<String>())
    }),
    f("UNBASE64", of(&[Spark]), 1, 1, BYTES, |a| from_base64(&a.text(0))),
    f("SAFE_CONVERT_BYTES_TO_STRING", of(&[Bigquery]), 1, 1, TEXT, |a| text_of_bytes(&bytes_of(a, 0), a.behaviour)),
    f("CONVERT_TO", of(&[Postgres]), 2, 2, BYTES, |a| Ok(binary(bytes_of(a, 0)))),
    f("CONVERT_FROM", of(&[Postgres]), 2, 2, TEXT, |a| text_of_bytes(&bytes_of(a, 0), a.behaviour)),
    f("ENCODE", of(&[Postgres]), 2, 2, TEXT, |a| match a.text(1).as_str() {
        "hex" => a.give(hex(&bytes_of(a, 0)).to_lowercase()),
        "base64" => a.give(in_lines(&bytes_of(a, 0), 76, "\n")),
        other => Err(Failure::unknown(&format!("the encoding {other}"))),
    }),
    f("DECODE", of(&[Postgres]), 2, 2, BYTES, |a| match a.text(1).as_str() {
        "base64" => from_base64(&a.text(0)),
        "hex" => from_digits(&a.text(0))
            .map(binary)
            .ok_or_else(|| Failure::new(FailureKind::BadCast, "these are no hexadecimal digits").with_code("22023")),
        other => Err(Failure::unknown(&format!("the encoding {other}"))),
    }),
    f("ENCODE", of(&[Spark]), 2, 2, BYTES, |a| Ok(binary(bytes_of(a, 0)))),
    f("ENCODE", of(&[Duckdb]), 1, 1, BYTES, |a| Ok(binary(bytes_of(a, 0)))),
    f("DECODE", of(&[Spark]), 2, 2, TEXT, |a| text_of_bytes(&bytes_of(a, 0), a.behaviour)),
    f("DECODE", of(&[Duckdb]), 1, 1, TEXT, |a| text_of_bytes(&bytes_of(a, 0), a.behaviour)),
    f("TO_HEX", of(&[Bigquery]), 1, 1, TEXT, |a| a.give(hex(&bytes_of(a, 0)).to_lowercase())),
    f("TO_HEX", of(&[Duckdb]), 1, 1, TEXT, |a| a.give(hex(&bytes_of(a, 0)))),
    f("HEXTORAW", ORACLE, 1, 1, BYTES, |a| {
        let digits = a.text(0);
        let padded = if digits.len() % 2 == 1 { format!("0{digits}") } else { digits };
        from_digits(&padded)
            .map(binary)
            .ok_or_else(|| Failure::new(FailureKind::BadCast, "these are no hexadecimal digits").with_code("ORA-01465"))
    }),
    f("RAWTOHEX", ORACLE, 1, 1, TEXT, |a| a.give(hex(&bytes_of(a, 0)))),
    f("CAST_TO_RAW", ORACLE, 1, 1, BYTES, |a| Ok(binary(bytes_of(a, 0)))),
    f("CAST_TO_VARCHAR2", ORACLE, 1, 1, TEXT, |a| text_of_bytes(&bytes_of(a, 0), a.behaviour)),
    f("BASE64_ENCODE", ORACLE, 1, 1, BYTES, |a| Ok(binary(in_lines(&bytes_of(a, 0), 64, "\r\n").into_bytes()))),
    f("BASE64_DECODE", ORACLE, 1, 1, BYTES, |a| from_base64(&String::from_utf8_lossy(&bytes_of(a, 0)))),
    f("UNISTR", of(&[Oracle, SqlServer, Postgres, Sqlite]), 1, 1, TEXT, |a| {
        with_codes(&a.text(0)).map_or_else(|| Err(Failure::invalid("this is no text with codes")), |text| a.give(text))
    }),
    f("ASCIISTR", ORACLE, 1, 1, TEXT, |a| a.give(a.text(0).encode_utf16().map(ascii_or_code).collect::<String>())),
    f("ZEROBLOB", of(&[Sqlite]), 1, 1, BYTES, |a| Ok(binary(vec![0; usize::try_from(a.whole(0)?).unwrap_or(0).min(1_000_000)]))),
    f("RANDOMBLOB", of(&[Sqlite]), 1, 1, BYTES, |a| {
        let bytes = (0..a.whole(0)?.clamp(1, 1000)).map(|_| (a.random.borrow_mut().next() >> 32) as u8);
        Ok(binary(bytes.collect()))
    }),
    seen("QUOTE", of(&[Sqlite]), 1, 1, TEXT, quoted),
    seen("QUOTE_NULLABLE", of(&[Postgres]), 1, 1, TEXT, quoted),
    f("QUOTE_LITERAL", of(&[Postgres]), 1, 1, TEXT, quoted),
    f("EDITDIST3", of(&[Duckdb]), 2, 2, Typing::Number, |a| Ok(Value::Integer(edits(&a.text(0), &a.text(1))))),
    f("LEVENSHTEIN", of(&[Spark, Duckdb]), 2, 2, Typing::Number, |a| Ok(Value::Integer(edits(&a.text(0), &a.text(1))))),
    f("EDIT_DISTANCE", of(&[Bigquery, SqlServer]), 2, 2, Typing::Number, |a| Ok(Value::Integer(edits(&a.text(0), &a.text(1))))),
    f("EDIT_DISTANCE", ORACLE, 2, 2, Typing::Number, |a| Ok(Value::Integer(edits(&a.text(0), &a.text(1))))),
];

fn binary(bytes: Vec<u8>) -> Value {
    Value::Binary(Box::new(bytes))
}

/// Bytes as they are, a string as UTF-8, N'..' of SQL Server as UTF-16.
fn bytes_of(a: &Args<'_>, at: usize) -> Vec<u8> {
    match a.value(at) {
        Value::Binary(bytes) => bytes.to_vec(),
        _ if a.ty(at).as_text().is_some_and(|t| t.national) => a.text(at).encode_utf16().flat_map(u16::to_le_bytes).collect(),
        _ if a.dialect() == SqlServer => a.text(at).chars().map(|c| u8::try_from(u32::from(c)).unwrap_or(b'?')).collect(),
        _ => a.text(at).into_bytes(),
    }
}

fn hex(bytes: &[u8]) -> String {
    bytes.iter().map(|b| format!("{b:02X}")).collect()
}

fn digest(name: &str, bytes: &[u8]) -> Outcome<Vec<u8>> {
    Ok(match name.to_ascii_uppercase().as_str() {
        "MD5" => Md5::digest(bytes).to_vec(),
        "SHA1" | "SHA" => Sha1::digest(bytes).to_vec(),
        "SHA224" => Sha224::digest(bytes).to_vec(),
        "SHA256" => Sha256::digest(bytes).to_vec(),
        "SHA384" => Sha384::digest(bytes).to_vec(),
        "SHA512" => Sha512::digest(bytes).to_vec(),
        other => return Err(Failure::unknown(&format!("the digest {other}"))),
    })
}

fn digest_text(a: &Args<'_>, name: &str) -> Outcome<Value> {
    a.give(hex(&digest(name, &bytes_of(a, 0))?).to_lowercase())
}

fn digest_bytes(a: &Args<'_>, name: &str) -> Outcome<Value> {
    digest(name, &bytes_of(a, 0)).map(binary)
}

/// Base 64 broken into lines of so many characters.
fn in_lines(bytes: &[u8], width: usize, end: &str) -> String {
    let whole = STANDARD.encode(bytes);
    let lines: Vec<&str> = (0..whole.len()).step_by(width).map(|at| &whole[at..whole.len().min(at + width)]).collect();
    lines.join(end)
}

/// CRC-32 of ISO 3309.
fn checksum(bytes: &[u8]) -> u32 {
    let byte = |sum: u32, byte: &u8| (0..8).fold(sum ^ u32::from(*byte), |s, _| if s & 1 == 1 { (s >> 1) ^ 0xEDB8_8320 } else { s >> 1 });
    !bytes.iter().fold(u32::MAX, byte)
}

fn from_base64(text: &str) -> Outcome<Value> {
    let bare: String = text.split_whitespace().collect();
    STANDARD.decode(bare).map(binary).map_err(|e| Failure::invalid(format!("this is no base 64: {e}")))
}

/// `\0041`, `\u0041`, `\+000041` and `\U00000041` as the characters they stand for.
fn with_codes(text: &str) -> Option<String> {
    let mut parts = text.split('\\');
    let mut units: Vec<u16> = parts.next()?.encode_utf16().collect();
    let mut is_plain = false;
    for part in parts {
        let (skipped, digits) = match part.as_bytes().first() {
            // A doubled backslash: what follows it is as it is.
            None if !is_plain => {
                units.push(u16::from(b'\\'));
                is_plain = true;
                continue;
            }
            _ if is_plain => (0, 0),
            Some(b'+') => (1, 6),
            Some(b'u') => (1, 4),
            Some(b'U') => (1, 8),
            _ => (0, 4),
        };
        if digits > 0 {
            let code = u32::from_str_radix(part.get(skipped..skipped + digits)?, 16).ok()?;
            match u16::try_from(code) {
                Ok(unit) => units.push(unit),
                Err(_) => units.extend(char::from_u32(code)?.encode_utf16(&mut [0; 2]).iter()),
            }
        }
        units.extend(part.get(skipped + digits..)?.encode_utf16());
        is_plain = false;
    }
    String::from_utf16(&units).ok()
}

/// ASCII as it is, else the code of the UTF-16 unit as `\00E9`.
fn ascii_or_code(unit: u16) -> String {
    match u8::try_from(unit) {
        Ok(byte) if byte.is_ascii() && byte != b'\\' => char::from(byte).to_string(),
        _ => format!("\\{unit:04X}"),
    }
}

fn quoted(a: &Args<'_>) -> Outcome<Value> {
    let sql = match a.value(0) {
        Value::Null => "NULL".to_string(),
        Value::Integer(_) | Value::Decimal(_) | Value::Float(_) if a.dialect() == Sqlite => a.text(0),
        // PostgreSQL, quote_literal: a backslash is doubled, in a literal that says so.
        _ if a.dialect() == Postgres && a.text(0).contains('\\') => {
            format!("E'{}'", a.text(0).replace('\\', "\\\\").replace('\'', "''"))
        }
        _ => format!("'{}'", a.text(0).replace('\'', "''")),
    };
    a.give(sql)
}

/// The least number of characters put in, left out or changed.
fn edits(a: &str, b: &str) -> i64 {
    let b: Vec<char> = b.chars().collect();
    let mut row: Vec<i64> = (0..=b.len() as i64).collect();
    for (i, x) in a.chars().enumerate() {
        let mut diagonal = std::mem::replace(&mut row[0], i as i64 + 1);
        for (j, y) in b.iter().enumerate() {
            let best = (diagonal + i64::from(x != *y)).min(row[j] + 1).min(row[j + 1] + 1);
            diagonal = std::mem::replace(&mut row[j + 1], best);
        }
    }
    row[b.len()]
}
