//! Literals of bytes.

use syntax::DialectName;
use syntax::tree::{Argument, Call, CallForm, Cast, CastForm, Expr, ExprKind, Ident, Literal, ObjectName, Spelled, TypeName};

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
            let argument = Argument { name: None, value: Expr::made(text(format!("'{digits}'"))) };
            let function = ObjectName::single(Ident::made("HEXTORAW"));
            ExprKind::Call(Box::new(Call { function, form: CallForm::Plain, quantifier: None, arguments: vec![argument], tail: None }))
        }
    }
}

fn cast(operand: ExprKind<Spelled>, to: &str) -> ExprKind<Spelled> {
    let to = TypeName::made(to, Vec::new());
    ExprKind::Cast(Box::new(Cast { form: CastForm::Cast, operand: Expr::made(operand), to, extra: None }))
}
