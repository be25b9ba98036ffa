//! What a column without an alias is called.

use syntax::DialectName;
use syntax::tree::{Expr, ExprKind, Literal, SelectItem, Spelled};

use super::Compiler;

impl Compiler<'_> {
    pub(super) fn label(&self, item: &SelectItem<Spelled>, expr: &Expr<Spelled>) -> String {
        if let Some(alias) = &item.alias {
            return self.folded(&alias.name);
        }
        if let ExprKind::Column(name) = &expr.without_parens().kind {
            return self.folded(name.last());
        }
        match self.dialect() {
            DialectName::Tsql => String::new(),
            DialectName::Oracle => self.text(expr.span).split_whitespace().collect::<String>().to_uppercase(),
            DialectName::Postgres => postgres_label(expr),
            DialectName::Mysql | DialectName::Mariadb => match &expr.kind {
                // A text literal's column has the text as its name.
                ExprKind::Literal(Literal::Text(text)) => syntax::decode_text(text, &self.behaviour.spelling).into(),
                _ => self.text(expr.span).to_string(),
            },
            _ => self.text(expr.span).to_string(),
        }
    }
}

/// PostgreSQL: the function's name, `case`, a cast's type; else `?column?`.
fn postgres_label(expr: &Expr<Spelled>) -> String {
    match &expr.without_parens().kind {
        ExprKind::Call(call) => call.function.last().text.to_lowercase().to_string(),
        ExprKind::Case(case) => match case.otherwise.as_ref().map(postgres_label) {
            Some(name) if name != "?column?" => name,
            _ => "case".to_string(),
        },
        ExprKind::Exists(_) => "exists".to_string(),
        ExprKind::Array(_) | ExprKind::Collect(..) => "array".to_string(),
        ExprKind::Row(_) => "row".to_string(),
        ExprKind::Field(field) => field.name.text.to_lowercase().to_string(),
        ExprKind::Subscript(subscript) => postgres_label(&subscript.operand),
        ExprKind::Collate(inner, _) => postgres_label(inner),
        ExprKind::Column(name) => name.last().text.to_lowercase().to_string(),
        ExprKind::Cast(cast) => match postgres_label(&cast.operand) {
            name if name != "?column?" => name,
            _ => postgres_type_name(&cast.to.words),
        },
        ExprKind::Subquery(query) => match &query.body {
            syntax::tree::QueryBody::Select(select) => match select.items.first().map(|i| (&i.alias, &i.value)) {
                Some((Some(alias), _)) => alias.name.text.to_lowercase().to_string(),
                Some((None, syntax::tree::SelectValue::Expr(inner))) => postgres_label(inner),
                _ => "?column?".to_string(),
            },
            _ => "?column?".to_string(),
        },
        _ => "?column?".to_string(),
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
