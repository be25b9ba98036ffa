//! Literals of bytes.

use syntax::DialectName;
use syntax::tree::{Call, Cast, Expr, ExprKind, Ident, Literal, ObjectName, Spelled, TypeName};

/// Bytes as the target writes them. Sources: the manuals' chapters on literals; Oracle has none and takes
/// HEXTORAW, PostgreSQL and DuckDB cast a text.
pub(super) fn literal(bytes: &[u8], to: DialectName) -> ExprKind<Spelled> {
    let digits: String = bytes.iter().map(|b| format!("{b:02X}")).collect();
    let each = |prefix: &str| bytes.iter().map(|b| format!("{prefix}{b:02X}")).collect::<String>();
    let text = |text: String| ExprKind::Literal(Literal::Text(text.into()));
    match to {
        DialectName::Mysql | DialectName::Mariadb | DialectName::Spark | DialectName::Sqlite => text(format!("X'{digits}'")),
        DialectName::Tsql => ExprKind::Literal(Literal::Number(format!("0x{digits}").into())),
        DialectName::Bigquery => text(format!("b'{}'", each("\\x"))),
        DialectName::Postgres => cast(text(format!("'\\x{digits}'")), "bytea"),
        DialectName::Duckdb => cast(text(format!("'{}'", each("\\x"))), "BLOB"),
        DialectName::Oracle => {
            let digits = Expr::made(text(format!("'{digits}'")));
            ExprKind::Call(Box::new(Call::plain(ObjectName::single(Ident::made("HEXTORAW")), vec![digits])))
        }
    }
}

fn cast(operand: ExprKind<Spelled>, to: &str) -> ExprKind<Spelled> {
    ExprKind::Cast(Box::new(Cast::plain(Expr::made(operand), TypeName::made(to, Vec::new()))))
}
