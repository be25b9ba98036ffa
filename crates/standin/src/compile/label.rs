//! What a column without an alias is called.

use syntax::DialectName;
use syntax::tree::{Expr, ExprKind, SelectItem, Spelled};

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
        let unnamed = labels.iter().filter(|l| is_numbered(l)).count();
        match syntax::label(expr, self.text(expr.span), &self.behaviour.spelling, unnamed) {
            Some(label) => label,
            None if self.dialect() == DialectName::SqlServer => String::new(),
            None => self.text(expr.span).to_string(),
        }
    }

    /// MySQL: what was written; a string literal's column has the text as its name.
    pub(super) fn text_label(&self, expr: &Expr<Spelled>) -> String {
        syntax::label(expr, self.text(expr.span), &self.behaviour.spelling, 0).unwrap_or_default()
    }
}

/// `f0_`: BigQuery counts the columns without a name.
fn is_numbered(label: &str) -> bool {
    label.strip_prefix('f').and_then(|l| l.strip_suffix('_')).is_some_and(|l| l.parse::<u32>().is_ok())
}
