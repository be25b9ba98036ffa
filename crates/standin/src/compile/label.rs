//! What a column without an alias is called.

use syntax::DialectName;
use syntax::tree::{Expr, ExprKind, SelectItem, Span, Spelled};

use super::Compiler;

impl Compiler<'_> {
    pub(super) fn label(&self, item: &SelectItem<Spelled>, expr: &Expr<Spelled>) -> String {
        if let Some(alias) = &item.alias {
            return self.folded(&alias.name.text, alias.name.quote == syntax::tree::Quote::None);
        }
        if let ExprKind::Column(name) = &expr.without_parens().kind {
            let last = name.last();
            return self.folded(&last.text, last.quote == syntax::tree::Quote::None);
        }
        match self.dialect() {
            DialectName::Tsql => String::new(),
            DialectName::Oracle => self.text(expr.span).split_whitespace().collect::<String>().to_uppercase(),
            DialectName::Postgres => match &expr.kind {
                ExprKind::Call(call) => call.function.last().text.to_lowercase().to_string(),
                ExprKind::Case(_) => "case".to_string(),
                ExprKind::Exists(_) => "exists".to_string(),
                _ => "?column?".to_string(),
            },
            _ => self.text(expr.span).to_string(),
        }
    }

    /// A name in the letters the dialect keeps.
    fn folded(&self, name: &str, unquoted: bool) -> String {
        match self.behaviour.spelling.folding {
            syntax::Folding::Upper if unquoted => name.to_uppercase(),
            syntax::Folding::Lower if unquoted => name.to_lowercase(),
            _ => name.to_string(),
        }
    }

    fn text(&self, span: Span) -> &str {
        let token = |i: u32| self.source.tokens.get(i as usize);
        match (token(span.first), token(span.end.wrapping_sub(1))) {
            (Some(first), Some(last)) => self.source.sql.get(first.start as usize..last.end as usize).unwrap_or(""),
            _ => "",
        }
    }
}
