//! Table references, joins and what turns tables.

use super::{Mark, Printer};
use crate::dialect::DialectName;
use crate::tree::{Expr, Join, JoinCondition, JoinKind, Numbered, Pivot, Span, Spelled, TableAlias, TableKind, TableRef, Unpivot};

impl Printer<'_> {
    pub(super) fn table(&mut self, table: &TableRef<Spelled>) {
        crate::with_stack(|| self.node(table.span, |p| p.table_inside(table)));
    }

    pub(super) fn table_inside(&mut self, table: &TableRef<Spelled>) {
        let prefix_alias = table.alias.as_ref().and_then(|a| a.name.as_ref()).filter(|name| {
            name.token != u32::MAX && table.span.is_read() && name.token == table.span.first && self.dialect.name == DialectName::Duckdb
        });
        if let Some(name) = prefix_alias {
            self.ident(name);
            self.tight(":");
        }
        let alias = table.alias.as_ref().filter(|_| prefix_alias.is_none());
        let mut offset = None;
        // ONLY of PostgreSQL precedes the name.
        let before = table.qualifier.filter(|q| q.first as usize == self.cursor && matches!(table.kind, TableKind::Name(_)));
        self.optional_verbatim(before);
        match &table.kind {
            TableKind::Name(name) => self.object_name(name),
            TableKind::Derived { lateral, query } => {
                if *lateral {
                    self.word("LATERAL");
                }
                // Spark takes rows written out as a table without parentheses.
                if self.is(&[DialectName::Spark]) && self.at_cursor("VALUES") {
                    self.query(query);
                } else {
                    self.mark(Mark::OpenQuery);
                    self.open();
                    self.query(query);
                    self.mark(Mark::CloseQuery);
                    self.tight(")");
                }
            }
            TableKind::Function { lateral, call, numbered } => {
                if *lateral {
                    self.word("LATERAL");
                }
                self.table_call(call);
                match numbered {
                    Some(Numbered::Ordinality) => self.words(&["WITH", "ORDINALITY"]),
                    Some(Numbered::Offset(name)) => offset = Some(name),
                    None => {}
                }
            }
            TableKind::Nested(inner) => {
                self.open();
                self.table(inner);
                self.tight(")");
            }
            TableKind::Join(join) => self.join(join),
            TableKind::Pivot(pivot) => self.pivot(pivot),
            TableKind::Unpivot(unpivot) => self.unpivot(unpivot),
        }
        let read = |span: Option<Span>| span.filter(|s| s.first as usize == self.cursor);
        // A qualifier can stand before the alias or after it; the source tells.
        let early = read(table.qualifier).or(read(table.hints));
        self.optional_verbatim(early);
        if let Some(alias) = alias {
            self.table_alias(alias);
        }
        if let Some(name) = offset {
            self.words(&["WITH", "OFFSET"]);
            if let Some(name) = name {
                if self.end == 0 || self.at_cursor("AS") {
                    self.word("AS");
                }
                self.ident(name);
            }
        }
        for span in [table.hints, table.qualifier] {
            if span != early && span != before {
                self.optional_verbatim(span);
            }
        }
    }

    pub(super) fn table_alias(&mut self, alias: &TableAlias) {
        if alias.as_word {
            self.word("AS");
        }
        if let Some(name) = &alias.name {
            self.ident(name);
        }
        if !alias.columns.is_empty() {
            self.name_list(&alias.columns);
        }
        self.optional_verbatim(alias.typed_columns);
    }

    pub(super) fn join(&mut self, join: &Join<Spelled>) {
        self.table(&join.left);
        // A comma inside parentheses, or between the tables of a MySQL UPDATE.
        if join.kind == JoinKind::Cross && self.at_cursor(",") {
            self.tight(",");
            self.table(&join.right);
            return;
        }
        self.mark(Mark::Join);
        if join.natural {
            self.word("NATURAL");
        }
        self.join_words(join);
        self.table(&join.right);
        match &join.condition {
            JoinCondition::None => {}
            JoinCondition::On(condition) => {
                self.word("ON");
                self.expr(condition, 0);
            }
            JoinCondition::Using(names) => {
                self.word("USING");
                self.name_list(names);
            }
        }
    }

    pub(super) fn join_words(&mut self, join: &Join<Spelled>) {
        let words: &[&'static str] = match join.kind {
            JoinKind::Inner if join.explicit_word => &["INNER"],
            JoinKind::Inner => &[],
            JoinKind::Left => &["LEFT"],
            JoinKind::Right => &["RIGHT"],
            JoinKind::Full => &["FULL"],
            JoinKind::Cross => &["CROSS"],
            JoinKind::Semi => {
                if self.end > 0 && self.at_cursor("SEMI") || self.dialect.name == DialectName::Duckdb {
                    &["SEMI"]
                } else {
                    &["LEFT", "SEMI"]
                }
            }
            JoinKind::Anti => {
                if self.end > 0 && self.at_cursor("ANTI") || self.dialect.name == DialectName::Duckdb {
                    &["ANTI"]
                } else {
                    &["LEFT", "ANTI"]
                }
            }
            JoinKind::Asof => &["ASOF"],
            JoinKind::Positional => &["POSITIONAL"],
            JoinKind::Straight => {
                self.word("STRAIGHT_JOIN");
                return;
            }
            JoinKind::CrossApply => {
                self.words(&["CROSS", "APPLY"]);
                return;
            }
            JoinKind::OuterApply => {
                self.words(&["OUTER", "APPLY"]);
                return;
            }
        };
        self.words(words);
        if join.explicit_word && matches!(join.kind, JoinKind::Left | JoinKind::Right | JoinKind::Full) {
            self.word("OUTER");
        }
        for hint in ["HASH", "MERGE", "LOOP", "REMOTE"] {
            if self.dialect.name == DialectName::SqlServer {
                self.optional(hint);
            }
        }
        self.word("JOIN");
    }

    pub(super) fn pivot(&mut self, pivot: &Pivot<Spelled>) {
        self.table(&pivot.input);
        self.mark(Mark::Join);
        self.word("PIVOT");
        self.open();
        let aliased = |p: &mut Self, (value, alias): &(Expr<Spelled>, Option<crate::tree::Ident>)| {
            p.expr(value, 0);
            if let Some(alias) = alias {
                if p.end == 0 || p.at_cursor("AS") {
                    p.word("AS");
                }
                p.ident(alias);
            }
        };
        self.comma_list(&pivot.aggregates, aliased);
        self.word("FOR");
        if pivot.columns.len() > 1 || self.at_cursor("(") {
            self.open();
            self.expr_list(&pivot.columns);
            self.tight(")");
        } else {
            self.expr(&pivot.columns[0], 0);
        }
        self.word("IN");
        self.open();
        self.comma_list(&pivot.values, aliased);
        self.tight(")");
        if !pivot.group_by.is_empty() {
            self.words(&["GROUP", "BY"]);
            self.comma_list(&pivot.group_by, |p, e| p.expr(e, 0));
        }
        self.tight(")");
    }

    pub(super) fn unpivot(&mut self, unpivot: &Unpivot<Spelled>) {
        self.table(&unpivot.input);
        self.mark(Mark::Join);
        self.word("UNPIVOT");
        match unpivot.include_nulls {
            Some(true) => self.words(&["INCLUDE", "NULLS"]),
            Some(false) => self.words(&["EXCLUDE", "NULLS"]),
            None => {}
        }
        self.open();
        if unpivot.values.len() > 1 || self.at_cursor("(") {
            self.name_list(&unpivot.values);
        } else {
            self.ident(&unpivot.values[0]);
        }
        self.word("FOR");
        self.ident(&unpivot.name);
        self.word("IN");
        self.open();
        self.comma_list(&unpivot.columns, |p, (group, shown)| {
            if group.len() > 1 || p.at_cursor("(") {
                p.open();
                p.expr_list(group);
                p.tight(")");
            } else {
                p.expr(&group[0], 0);
            }
            if let Some(shown) = shown {
                p.word("AS");
                p.expr(shown, 0);
            }
        });
        self.tight(")");
        self.tight(")");
    }
}
