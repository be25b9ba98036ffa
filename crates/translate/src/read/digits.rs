//! Casts between bytes and the digits that write them.
//! Sources: SQL Server, CAST and CONVERT, binary styles; BigQuery, Format clause for CAST.

use meaning::{Meant, infer};
use syntax::DialectName;
use syntax::tree::{Cast, Expr, ExprKind, Literal, Spelled, StageMap};
use values::DataType;

use super::Reader;

/// What is written in the digits.
enum Digits {
    Hexadecimal,
    Base64,
}

impl Reader<'_> {
    /// CONVERT(VARCHAR(32), bytes, 2) of SQL Server, CAST(bytes AS STRING FORMAT 'HEX') of BigQuery, and the
    /// other way round.
    pub(super) fn digits_cast(&mut self, cast: &Cast<Spelled>) -> Option<ExprKind<Meant>> {
        let digits = self.digits(cast.extra.as_ref()?)?;
        let target = meaning::read_type(&cast.to, self.from);
        if !target.is_text() && target != DataType::Binary {
            return None;
        }
        let operand = self.expr(cast.operand.clone());
        let of_bytes = infer(&operand).data_type == DataType::Binary;
        let small = self.from.name == DialectName::Bigquery;
        let phrase = match (digits, target.is_text()) {
            // A style says nothing of other types.
            (_, true) if !of_bytes => return None,
            (_, false) if of_bytes => return None,
            (Digits::Hexadecimal, true) if small => "bytes.to-small-hexadecimal",
            (Digits::Hexadecimal, true) => "bytes.to-hexadecimal",
            (Digits::Base64, true) => "bytes.to-base64",
            (Digits::Hexadecimal, false) => "bytes.from-hexadecimal",
            (Digits::Base64, false) => "bytes.from-base64",
        };
        let said = crate::rewrite::call(phrase, vec![operand]);
        let is_cut = target.is_text() && !cast.to.arguments.is_empty();
        Some(if is_cut { ExprKind::Cast(Box::new(Cast::plain(said, self.type_name(cast.to.clone())))) } else { said.kind })
    }

    fn digits(&self, extra: &Expr<Spelled>) -> Option<Digits> {
        match (&extra.without_parens().kind, self.from.name) {
            (ExprKind::Literal(Literal::Number(style)), DialectName::Tsql) if style == "2" => Some(Digits::Hexadecimal),
            (ExprKind::Literal(Literal::Text(format)), DialectName::Bigquery) => match format.trim_matches(['\'', '"']) {
                format if format.eq_ignore_ascii_case("hex") => Some(Digits::Hexadecimal),
                format if format.eq_ignore_ascii_case("base64") => Some(Digits::Base64),
                _ => None,
            },
            _ => None,
        }
    }
}
