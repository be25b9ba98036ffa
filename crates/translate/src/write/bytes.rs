//! Literals of bytes.

use syntax::DialectName;
use syntax::tree::{Expr, ExprKind, Literal, Spelled};

/// Bytes as the target writes them. Sources: the manuals' chapters on literals; Oracle has none and takes
/// HEXTORAW, PostgreSQL and DuckDB cast a string.
pub(super) fn literal(bytes: &[u8], to: DialectName) -> ExprKind<Spelled> {
    let digits: String = bytes.iter().map(|b| format!("{b:02X}")).collect();
    let each = |prefix: &str| bytes.iter().map(|b| format!("{prefix}{b:02X}")).collect::<String>();
    let text = |text: String| ExprKind::Literal(Literal::Text(text.into()));
    match to {
        DialectName::Mysql | DialectName::Mariadb | DialectName::Spark | DialectName::Sqlite => text(format!("X'{digits}'")),
        DialectName::SqlServer => ExprKind::Literal(Literal::Number(format!("0x{digits}").into())),
        DialectName::Bigquery => text(format!("b'{}'", each("\\x"))),
        DialectName::Postgres => cast(text(format!("'\\x{digits}'")), "bytea"),
        DialectName::Duckdb => cast(text(format!("'{}'", each("\\x"))), "BLOB"),
        DialectName::Oracle => {
            let digits = Expr::synthetic(text(format!("'{digits}'")));
            Expr::call("HEXTORAW", vec![digits]).kind
        }
    }
}

fn cast(operand: ExprKind<Spelled>, to: &str) -> ExprKind<Spelled> {
    Expr::cast(Expr::synthetic(operand), to).kind
}
