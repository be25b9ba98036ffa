//! What a name represents where the source leaves it to the tables in sight: ORDER BY ALL, columns that a
//! join compares by name, common tables that see a row around them.

use meaning::{BindingTarget, Note};
use syntax::DialectName;
use syntax::tree::{Expr, ExprKind, Ident, Literal, ObjectName, QueryBody, SelectValue, SortKey, Span, Spelled, TableKind, TableRef};
use values::DataType;

use super::Reader;
use super::scope::{Found, OutputColumn, Relation, Scope};

impl Reader<'_> {
    /// A common table that sees a row around it: seen on MySQL 9.7, MariaDB 10.11 and DuckDB 1.5, which work
    /// it out once, or fail.
    pub(super) fn refuse_correlated_common(&mut self, name: &ObjectName) {
        let lacks = matches!(self.to, DialectName::Mysql | DialectName::Mariadb | DialectName::Duckdb) && self.to != self.from.name;
        let column = &name.last().text;
        let is_own = |scope: &Scope| match name.parts.as_slice() {
            [.., qualifier, _] => scope.qualified(&qualifier.text, column).is_some(),
            _ => scope.unqualified(column).is_some() || scope.output(column).is_some(),
        };
        if lacks && !self.scopes[self.common_start.min(self.scopes.len())..].iter().any(is_own) {
            let message = format!("a WITH that uses {} of a query around it is not translated to {}", name.dotted(), self.to.title());
            self.note(Note::new("construct.not-translated", name.last().span(), message).advise("make a derived table of it"));
        }
    }

    /// The table references before a derived table, which it doesn't see: those of its block, out of sight until
    /// it is read. DuckDB shows them, as LATERAL does.
    pub(super) fn hide_siblings(&mut self, table: &TableRef<Spelled>) -> bool {
        let is_applied = self.applied.last() == Some(&table.span);
        let is_lateral = matches!(table.kind, TableKind::Derived { lateral: true, .. });
        let sees = is_lateral || is_applied || self.from.name == DialectName::Duckdb;
        let around = self.scopes.len();
        match self.scopes.last_mut() {
            Some(scope) if !sees && !scope.relations.is_empty() => {
                self.hidden.push((around, std::mem::take(&mut scope.relations)));
                true
            }
            _ => false,
        }
    }

    /// The end of [`Self::hide_siblings`].
    pub(super) fn show_siblings(&mut self, hid: bool) {
        if hid && let (Some((_, relations)), Some(scope)) = (self.hidden.pop(), self.scopes.last_mut()) {
            scope.relations = relations;
        }
    }

    /// DuckDB would find a column of a query further out in a table beside the derived table first: it is named
    /// with its table.
    pub(super) fn name_around(&self, name: &mut ObjectName, found: Option<&Found>) {
        let (Some((around, beside)), Some(Found { target: BindingTarget::Column(id), .. })) = (self.hidden.last(), found) else { return };
        let offers = |relation: &Relation| relation.columns.known.iter().any(|c| c.is_named(&name.last().text));
        if self.to != DialectName::Duckdb || name.parts.len() > 1 || !beside.iter().any(offers) {
            return;
        }
        let outer = self.scopes[..*around].iter().flat_map(|scope| &scope.relations).find(|relation| relation.id == *id);
        if let Some(table) = outer.and_then(|relation| relation.name.clone()) {
            name.parts.insert(0, Ident::synthetic(table));
        }
    }

    /// `main.t` where a common table is called t: without its schema it would be that.
    pub(super) fn refuse_hidden_table(&mut self, name: &ObjectName) {
        let is_hidden = |(common, _): &(String, _)| common.eq_ignore_ascii_case(&name.last().text);
        if name.parts.len() > 1 && self.to != self.from.name && self.common.iter().any(is_hidden) {
            let message = format!("{} beside a common table of that name is not translated", name.dotted());
            let note = Note::new("construct.not-translated", name.last().span(), message);
            self.note(note.advise("give the common table another name"));
        }
    }

    /// ORDER BY ALL sorts by the whole list (DuckDB, ORDER BY Clause; Spark, ORDER BY).
    pub(super) fn written_keys(&mut self, keys: Vec<SortKey<Spelled>>, body: &QueryBody<Spelled>) -> Vec<SortKey<Spelled>> {
        let is_all = |key: &SortKey<Spelled>| {
            let name = key.expr.as_name();
            name.is_some_and(|n| n.is_word("all") && n.quote == syntax::tree::Quote::None)
        };
        let [key] = keys.as_slice() else { return keys };
        if !is_all(key) || !matches!(self.from.name, DialectName::Duckdb | DialectName::Spark) || self.to == self.from.name {
            return keys;
        }
        let width = match body {
            QueryBody::Select(select) if select.items.iter().all(|i| matches!(i.value, SelectValue::Expr(_))) => select.items.len(),
            _ => 0,
        };
        if width == 0 {
            let message = "ORDER BY ALL over a star or a set operation is not translated";
            self.note(Note::new("construct.not-translated", key.expr.span, message).advise("name the columns to sort by"));
            return keys;
        }
        let nth = |n: usize| Expr::synthetic(ExprKind::Literal(Literal::Number(n.to_string().into())));
        (1..=width).map(|n| SortKey { expr: nth(n), ..key.clone() }).collect()
    }

    /// The types of the columns that a join by USING or NATURAL compares.
    pub(super) fn note_merged(&mut self, start: usize, middle: usize, using: Option<&[Ident]>, span: Span) {
        let Some(scope) = self.scopes.last() else { return };
        let (left, right) = (&scope.relations[start..middle], &scope.relations[middle..]);
        let named = |c: &&OutputColumn| match using {
            Some(names) => names.iter().any(|n| c.is_named(&n.text)),
            None => right.iter().flat_map(|r| &r.columns.known).any(|d| d.name.as_deref().is_some_and(|n| c.is_named(n))),
        };
        let compared: Vec<&OutputColumn> = left.iter().flat_map(|r| &r.columns.known).filter(named).collect();
        let all_known = left.iter().chain(right).all(|r| r.columns.all().is_some());
        if compared.iter().any(|c| c.data_type.is_text()) {
            self.features.merged_texts.get_or_insert(span);
        } else if !all_known || compared.iter().any(|c| c.data_type == DataType::Unknown) {
            self.features.merged_unknown.get_or_insert(span);
        }
    }
}
