//! Literals: numbers, strings, bytes.

use compact_str::CompactString;
use meaning::{Constant, Note};
use syntax::tree::{Cast, ExprKind, Literal, Span, Spelled};
use syntax::{DialectName, decode_bytes, decode_text};
use values::DataType;

use super::{Reader, moment};

impl Reader<'_> {
    /// What a literal says.
    pub(super) fn constant(&mut self, literal: Literal, span: Span) -> Constant {
        if !is_plain(&literal) {
            if let Literal::Text(token) | Literal::Number(token) = &literal
                && let Some(bytes) = decode_bytes(token, self.from.name)
            {
                return Constant::Bytes(bytes);
            }
            self.refuse_bits_and_instants(&literal, span);
        }
        match literal {
            Literal::Null => Constant::Null,
            Literal::Boolean(value) => {
                self.features.truth_values = true;
                Constant::Boolean(value)
            }
            Literal::Number(text) => {
                self.features.fractions |= text.contains('.') || text.len() > 18;
                Constant::Number(in_decimal(&text).unwrap_or(text))
            }
            Literal::Text(text) => match decode_text(&text, &self.spelling) {
                // Oracle: an empty text is NULL, wherever it is.
                value if value.is_empty() && self.reads_empty_as_null => Constant::Null,
                value => Constant::Text { value, written: Some(text) },
            },
            Literal::Texts(parts) => {
                Constant::Text { value: parts.iter().map(|p| decode_text(p, &self.spelling)).collect(), written: None }
            }
            Literal::Typed(typed) => {
                let text = decode_text(&typed.text, &self.spelling);
                Constant::Typed(typed.word.clone(), self.in_one_form(&typed.word, text, span))
            }
        }
    }

    /// A day or time as all dialects write it; what has a zone, or is written otherwise, means another thing to each.
    fn in_one_form(&mut self, word: &str, text: CompactString, span: Span) -> CompactString {
        let plain = match word {
            "DATE" => moment::day(&text),
            "TIMESTAMP" | "DATETIME" => {
                moment::moment(&text).map(|m| if m.ends_with(" 00:00:00") || m.len() != text.len() { m } else { text.clone() })
            }
            _ => return text,
        };
        plain.unwrap_or_else(|| {
            let message = format!("{word} '{text}' is not translated: each dialect reads a day or time of this form in its own way");
            self.note(Note::new("construct.not-translated", span, message).advise("write it as YYYY-MM-DD, or YYYY-MM-DD HH:MM:SS"));
            text
        })
    }

    /// `'\\x1F'::bytea` of PostgreSQL, `'\\x1F'::BLOB` of DuckDB.
    pub(super) fn bytes_of(&self, cast: &Cast<Spelled>) -> Option<Vec<u8>> {
        let ExprKind::Literal(Literal::Text(token)) = &cast.operand.without_parens().kind else { return None };
        let is_binary = cast.extra.is_none() && meaning::read_type(&cast.to, self.from) == DataType::Binary;
        let text = decode_text(token, &self.spelling);
        match self.from.name {
            DialectName::Postgres if is_binary => decode_bytes(&format!("X'{}'", text.strip_prefix("\\x")?), DialectName::Spark),
            DialectName::Duckdb if is_binary => decode_bytes(&format!("b'{text}'"), DialectName::Bigquery),
            _ => None,
        }
    }

    /// A literal of bits is none of characters; a TIMESTAMP of BigQuery is an instant, elsewhere it is
    /// what a clock shows.
    fn refuse_bits_and_instants(&mut self, literal: &Literal, span: Span) {
        let what = match literal {
            Literal::Text(text) => match text.split(['\'', '"']).next().map(str::to_ascii_uppercase).as_deref() {
                Some("X" | "B" | "BR" | "RB") => "a literal of bits",
                _ => return,
            },
            Literal::Typed(typed) if typed.word == "TIMESTAMP" && self.from.name == DialectName::Bigquery => {
                "a TIMESTAMP, which is an instant,"
            }
            _ => return,
        };
        let note = Note::new("construct.not-translated", span, format!("{what} is not translated"));
        self.note(note.advise("write the value in the target's own words by hand"));
    }
}

/// Whether a literal is sure to be no bytes, bits or instant: a string without a prefix, a number in decimal digits.
fn is_plain(literal: &Literal) -> bool {
    match literal {
        Literal::Text(text) => text.starts_with('\''),
        Literal::Number(digits) => !matches!(digits.as_bytes(), [b'0', b'x' | b'X', ..]),
        _ => false,
    }
}

/// A number in hexadecimal digits, in decimal ones.
fn in_decimal(text: &str) -> Option<CompactString> {
    let digits = text.strip_prefix("0x").or_else(|| text.strip_prefix("0X"))?;
    let number = i128::from_str_radix(&digits.replace('_', ""), 16).ok()?;
    Some(number.to_string().into())
}
