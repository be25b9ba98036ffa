//! What a column without an alias is called.

use syntax::DialectName;
use syntax::tree::{CallForm, Expr, ExprKind, Ident, Literal, SelectItem, Spelled, TrimWhere};

use super::Compiler;

impl Compiler<'_> {
    /// The label of an entry behind those with `labels`.
    pub(super) fn label(&self, item: &SelectItem<Spelled>, expr: &Expr<Spelled>, labels: &[String]) -> String {
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
            DialectName::Bigquery => match &expr.without_parens().kind {
                ExprKind::Field(field) => field.name.text.to_string(),
                _ => format!("f{}_", labels.iter().filter(|l| is_numbered(l)).count()),
            },
            DialectName::Mysql | DialectName::Mariadb => self.text_label(expr),
            _ => self.text(expr.span).to_string(),
        }
    }

    /// MySQL: what was written; a text literal's column has the text as its name.
    pub(super) fn text_label(&self, expr: &Expr<Spelled>) -> String {
        match &expr.kind {
            ExprKind::Literal(Literal::Text(text)) => syntax::decode_text(text, &self.behaviour.spelling).into(),
            _ => self.text(expr.span).to_string(),
        }
    }
}

/// `f0_`: BigQuery counts the columns without a name.
fn is_numbered(label: &str) -> bool {
    label.strip_prefix('f').and_then(|l| l.strip_suffix('_')).is_some_and(|l| l.parse::<u32>().is_ok())
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
            syntax::tree::QueryBody::Select(select) => match select.items.first().map(|i| (&i.alias, &i.value)) {
                Some((Some(alias), _)) => Some(lower(&alias.name)),
                Some((None, syntax::tree::SelectValue::Expr(inner))) => Some(postgres_label(inner)),
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
