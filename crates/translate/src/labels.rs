//! Aliases that keep the headers of a result: what the source calls a column without an alias.

use meaning::Note;
use syntax::tree::{
    AliasForm, ColumnAlias, ExprKind, Ident, Query, QueryBody, Quote, Select, SelectValue, Spelled, Statement, StatementKind,
};
use syntax::{Dialect, DialectName, Spelling, label};

use crate::text::Text;

/// Gives the unnamed columns of a query's result their names in the source; notes those that can't be kept.
pub(crate) fn keep(statement: &mut Statement<Spelled>, text: Text<'_>, from: &Dialect, to: &Dialect) -> Vec<Note> {
    let StatementKind::Query(query) = &mut statement.kind else { return Vec::new() };
    let Some(select) = first_block(query) else { return Vec::new() };
    let spelling = Spelling::of(from);
    let (mut notes, mut unnamed) = (Vec::new(), 0);
    for item in &mut select.items {
        let SelectValue::Expr(expr) = &item.value else { continue };
        if item.alias.is_some() || matches!(expr.without_parens().kind, ExprKind::Column(_)) {
            continue;
        }
        let header = label(expr, text.of(expr.span), &spelling, unnamed);
        unnamed += 1;
        // SQL Server gives it none: there is nothing to keep.
        if from.name == DialectName::SqlServer {
            continue;
        }
        match header.filter(|name| is_taken(name, to.name)) {
            Some(name) => {
                let name = Ident { quote: Quote::Name, ..Ident::synthetic(name) };
                item.alias = Some(ColumnAlias { name, form: AliasForm::As });
            }
            None => {
                let message = format!("the header of this column in {} can't be kept as a name in {}", from.name.title(), to.name.title());
                notes.push(Note::new("label.lost", expr.span, message).advise("give the column an alias"));
            }
        }
    }
    notes
}

fn first_block(query: &mut Query<Spelled>) -> Option<&mut Select<Spelled>> {
    fn of_body(body: &mut QueryBody<Spelled>) -> Option<&mut Select<Spelled>> {
        match body {
            QueryBody::Select(select) => Some(select),
            QueryBody::SetOperation(operation) => of_body(&mut operation.left),
            QueryBody::Nested(query, _) => of_body(&mut query.body),
            QueryBody::Values(_) | QueryBody::Table(..) => None,
        }
    }
    of_body(&mut query.body)
}

/// Whether a dialect takes such a name, in quotes. Sources: the manuals' chapters on identifiers, for their
/// lengths; BigQuery, Column names.
fn is_taken(name: &str, to: DialectName) -> bool {
    let longest = match to {
        DialectName::Postgres => 63,
        DialectName::Oracle | DialectName::SqlServer => 128,
        DialectName::Mysql | DialectName::Mariadb => 255,
        _ => 300,
    };
    let plain = |c: char| c.is_ascii_alphanumeric() || c == '_';
    !name.is_empty()
        && name.len() <= longest
        && (to != DialectName::Bigquery || name.chars().all(plain))
        && !(to == DialectName::Oracle && name.contains('"'))
}
