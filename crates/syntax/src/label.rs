//! What a column without an alias is called.

use crate::bare_label::needs_as;
use crate::dialect::DialectName;
use crate::literal::decode_text;
use crate::spelling::Spelling;
use crate::token::Symbol;
use crate::tree::{
    Call, CallForm, Expr, ExprKind, Ident, InSet, IsWhat, Literal, LogicOperator, Operator, SetQuantifier, Spelled, TrimWhere,
};

/// The label an engine gives an expression that is more than a column and has no alias; `written` is its
/// text, and `unnamed` how many such stand before it. None where it gives none (SQL Server), or where ours
/// is no sure guess (the expressions of DuckDB and Spark, which write them anew). Sources: PostgreSQL,
/// FigureColname as seen on 15; the others as seen on DuckDB 1.5, Spark 4.0, MariaDB 10.11, SQLite 3.54 and
/// the GoogleSQL evaluator; Oracle, Database SQL Language Reference, SELECT, c_alias.
pub fn label(expr: &Expr<Spelled>, written: &str, spelling: &Spelling, unnamed: usize) -> Option<String> {
    match spelling.dialect {
        DialectName::SqlServer => None,
        DialectName::Oracle => Some(written.split_whitespace().collect::<String>().to_uppercase()),
        DialectName::Postgres => Some(postgres_label(expr)),
        DialectName::Bigquery => Some(match &expr.without_parens().kind {
            ExprKind::Field(field) => field.name.text.to_string(),
            _ => format!("f{unnamed}_"),
        }),
        DialectName::Mysql | DialectName::Mariadb => Some(match &expr.kind {
            ExprKind::Literal(Literal::Text(text)) => decode_text(text, spelling).into(),
            _ => written.to_string(),
        }),
        DialectName::Sqlite => Some(written.to_string()),
        DialectName::Duckdb => anew(expr, spelling, true),
        DialectName::Spark => anew(expr, spelling, false),
    }
}

/// An expression as DuckDB and Spark write it anew: operations in parentheses, functions in small letters.
fn anew(expr: &Expr<Spelled>, spelling: &Spelling, duckdb: bool) -> Option<String> {
    let inner = |e: &Expr<Spelled>| anew(e, spelling, duckdb);
    Some(match &expr.kind {
        ExprKind::Nested(nested) => inner(nested)?,
        ExprKind::Column(name) => {
            let last = &name.last().text;
            if duckdb && needs_as(DialectName::Duckdb, last) { format!("\"{last}\"") } else { last.to_string() }
        }
        ExprKind::Literal(Literal::Number(digits)) => digits.to_string(),
        ExprKind::Literal(Literal::Null) => "NULL".to_string(),
        ExprKind::Literal(Literal::Boolean(truth)) => truth.to_string(),
        ExprKind::Literal(Literal::Text(text)) if duckdb => format!("'{}'", decode_text(text, spelling)),
        ExprKind::Literal(Literal::Text(text)) => decode_text(text, spelling).to_string(),
        ExprKind::Unary(unary) if unary.operator == Operator::Symbol(Symbol::Minus) => {
            let operand = inner(&unary.operand)?;
            if duckdb { format!("-({operand})") } else { format!("(- {operand})") }
        }
        ExprKind::Binary(binary) => {
            let Operator::Symbol(symbol) = binary.operator else { return None };
            let (left, right) = (inner(&binary.left)?, inner(&binary.right)?);
            match symbol {
                Symbol::Concat if !duckdb => format!("concat({left}, {right})"),
                _ => format!("({left} {} {right})", symbol.text()),
            }
        }
        ExprKind::Logic(word, operands) => {
            let all: Option<Vec<String>> = operands.iter().map(inner).collect();
            let word = if *word == LogicOperator::And { " AND " } else { " OR " };
            format!("({})", all?.join(word))
        }
        ExprKind::Is(test) if matches!(test.what, IsWhat::Null) => {
            format!("({} IS {}NULL)", inner(&test.operand)?, if test.negated { "NOT " } else { "" })
        }
        ExprKind::In(test) => match &test.set {
            InSet::List(items) if !test.negated => {
                let items: Option<Vec<String>> = items.iter().map(inner).collect();
                format!("({} IN ({}))", inner(&test.operand)?, items?.join(", "))
            }
            _ => return None,
        },
        ExprKind::Call(call) => call_anew(call, spelling, duckdb)?,
        _ => return None,
    })
}

fn call_anew(call: &Call<Spelled>, spelling: &Spelling, duckdb: bool) -> Option<String> {
    if call.tail.is_some() || call.form != CallForm::Plain {
        return None;
    }
    let name = call.function.as_single()?.text.to_lowercase();
    if matches!(call.arguments.first().map(|a| &a.value.kind), Some(ExprKind::Star(_))) {
        return (name == "count").then(|| if duckdb { "count_star()" } else { "count(1)" }.to_string());
    }
    let name = if duckdb && name == "coalesce" { "COALESCE".to_string() } else { name.to_string() };
    let arguments: Option<Vec<String>> = call.arguments.iter().map(|a| anew(&a.value, spelling, duckdb)).collect();
    let distinct = if call.quantifier == Some(SetQuantifier::Distinct) { "DISTINCT " } else { "" };
    Some(format!("{name}({distinct}{})", arguments?.join(", ")))
}

/// PostgreSQL: the column's or function's name; else `case` or a cast's type; else `?column?`.
fn postgres_label(expr: &Expr<Spelled>) -> String {
    strong_label(expr).or_else(|| weak_label(expr)).unwrap_or_else(|| "?column?".to_string())
}

/// A name that a cast around it keeps.
fn strong_label(expr: &Expr<Spelled>) -> Option<String> {
    let lower = |ident: &Ident| ident.text.to_lowercase().to_string();
    match &expr.without_parens().kind {
        ExprKind::Call(call) => Some(match &call.form {
            CallForm::Trim(Some(TrimWhere::Leading)) => "ltrim".to_string(),
            CallForm::Trim(Some(TrimWhere::Trailing)) => "rtrim".to_string(),
            _ if call.function.last().is_word("trim") => "btrim".to_string(),
            _ => lower(call.function.last()),
        }),
        ExprKind::Case(case) => case.otherwise.as_ref().and_then(strong_label),
        ExprKind::Exists(_) => Some("exists".to_string()),
        ExprKind::Array(_) | ExprKind::Collect(..) => Some("array".to_string()),
        ExprKind::Row(_) => Some("row".to_string()),
        ExprKind::Field(field) => Some(lower(&field.name)),
        ExprKind::Subscript(subscript) => strong_label(&subscript.operand),
        ExprKind::Collate(inner, _) => strong_label(inner),
        ExprKind::Column(name) => Some(lower(name.last())),
        ExprKind::Cast(cast) => strong_label(&cast.operand),
        ExprKind::Subquery(query) => match &query.body {
            crate::tree::QueryBody::Select(select) => match select.items.first().map(|i| (&i.alias, &i.value)) {
                Some((Some(alias), _)) => Some(lower(&alias.name)),
                Some((None, crate::tree::SelectValue::Expr(inner))) => Some(postgres_label(inner)),
                _ => None,
            },
            _ => None,
        },
        _ => None,
    }
}

fn weak_label(expr: &Expr<Spelled>) -> Option<String> {
    match &expr.without_parens().kind {
        ExprKind::Case(_) => Some("case".to_string()),
        ExprKind::Cast(cast) => Some(postgres_type_name(&cast.to.words)),
        ExprKind::Literal(Literal::Typed(typed)) => Some(postgres_type_name(&typed.word)),
        ExprKind::Collate(inner, _) => weak_label(inner),
        _ => None,
    }
}

fn postgres_type_name(words: &str) -> String {
    match words.to_ascii_lowercase().as_str() {
        "int" | "integer" => "int4",
        "bigint" => "int8",
        "smallint" => "int2",
        "decimal" => "numeric",
        "character varying" => "varchar",
        "char" | "character" => "bpchar",
        "double precision" | "float" => "float8",
        "real" => "float4",
        "boolean" => "bool",
        other => return other.to_string(),
    }
    .to_string()
}
