//! Casts between bytes and the digits that write them.
//! Sources: SQL Server, CAST and CONVERT, binary styles; BigQuery, Format clause for CAST.

use meaning::{Meant, infer, phrase};
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
    /// other way round; another cast as it is.
    pub(super) fn cast_of_digits(&mut self, cast: Cast<Spelled>) -> ExprKind<Meant> {
        let digits = cast.extra.as_ref().and_then(|e| self.digits(e));
        let operand = self.expr(cast.operand);
        let of_bytes = infer(&operand).data_type == DataType::Binary;
        let cut = !cast.to.arguments.is_empty();
        let to = self.type_name(cast.to);
        let (to_text, to_bytes) = (to.data_type.is_text(), to.data_type == DataType::Binary);
        let small = self.from.name == DialectName::Bigquery;
        let phrase = match digits {
            Some(Digits::Hexadecimal) if of_bytes && to_text && small => phrase::BYTES_TO_SMALL_HEXADECIMAL,
            Some(Digits::Hexadecimal) if of_bytes && to_text => phrase::BYTES_TO_HEXADECIMAL,
            Some(Digits::Base64) if of_bytes && to_text => phrase::BYTES_TO_BASE64,
            Some(Digits::Hexadecimal) if !of_bytes && to_bytes => phrase::BYTES_FROM_HEXADECIMAL,
            Some(Digits::Base64) if !of_bytes && to_bytes => phrase::BYTES_FROM_BASE64,
            // A style says nothing of other types.
            _ => {
                let extra = cast.extra.map(|e| self.expr(e));
                return ExprKind::Cast(Box::new(Cast { form: cast.form, operand, to, extra }));
            }
        };
        let said = crate::shape::call(phrase, vec![operand]);
        if to_text && cut { ExprKind::Cast(Box::new(Cast::plain(said, to))) } else { said.kind }
    }

    fn digits(&self, extra: &Expr<Spelled>) -> Option<Digits> {
        match (&extra.without_parens().kind, self.from.name) {
            (ExprKind::Literal(Literal::Number(style)), DialectName::SqlServer) if style == "2" => Some(Digits::Hexadecimal),
            (ExprKind::Literal(Literal::Text(format)), DialectName::Bigquery) => match format.trim_matches(['\'', '"']) {
                format if format.eq_ignore_ascii_case("hex") => Some(Digits::Hexadecimal),
                format if format.eq_ignore_ascii_case("base64") => Some(Digits::Base64),
                _ => None,
            },
            _ => None,
        }
    }
}
