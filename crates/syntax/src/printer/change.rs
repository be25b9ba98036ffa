//! Printing INSERT, UPDATE, DELETE and MERGE.

use super::{Mark, Printer};
use crate::dialect::DialectName;
use crate::tree::{Assignment, Delete, Insert, Merge, MergeAction, MergeClause, MergeMatch, Span, Spelled, Update};

impl Printer<'_> {
    pub(super) fn insert(&mut self, insert: &Insert<Spelled>) {
        if let Some(with) = &insert.with {
            self.with(with);
        }
        let replace = insert.modifiers.filter(|m| m.first as usize == self.cursor);
        if replace.is_some() {
            self.optional_verbatim(replace);
        } else {
            self.clause(&["INSERT"]);
            self.optional_verbatim(insert.modifiers);
        }
        let may_lack_into =
            self.is(&[DialectName::SqlServer, DialectName::Mysql, DialectName::Mariadb, DialectName::Bigquery, DialectName::Spark]);
        if self.end == 0 || self.at_cursor("INTO") || !may_lack_into {
            self.word("INTO");
        }
        if self.is(&[DialectName::Spark]) {
            self.optional("TABLE");
        }
        self.object_name(&insert.table);
        if let Some(alias) = &insert.alias {
            self.optional("AS");
            self.ident(alias);
        }
        if !insert.columns.is_empty() {
            self.open();
            self.comma_list(&insert.columns, |p, name| {
                // A column named with its table again.
                p.qualifier_of(name.token);
                p.ident(name);
            });
            self.tight(")");
        }
        self.skipped_output();
        match &insert.source {
            Some(query) => self.query(query),
            None => self.clause(&["DEFAULT", "VALUES"]),
        }
        self.trailing(insert.trailing);
    }

    /// Prints `t.` before the name at `token`, where the source has it.
    fn qualifier_of(&mut self, token: u32) {
        if token != u32::MAX && (token as usize) > self.cursor && self.cursor < self.end {
            self.verbatim(Span { first: self.cursor as u32, end: token });
        }
    }

    /// OUTPUT in the middle of a statement: printed verbatim where the source has it.
    fn skipped_output(&mut self) {
        if !self.at_cursor("OUTPUT") {
            return;
        }
        let first = self.cursor;
        let ends = |p: &Self, at: usize| {
            matches!(
                p.tokens[at].keyword,
                crate::Keyword::VALUES
                    | crate::Keyword::SELECT
                    | crate::Keyword::WHERE
                    | crate::Keyword::FROM
                    | crate::Keyword::DEFAULT
                    | crate::Keyword::WITH
            )
        };
        let mut at = first;
        while at < self.end && !ends(self, at) {
            at += 1;
        }
        self.verbatim(Span { first: first as u32, end: at as u32 });
    }

    pub(super) fn update(&mut self, update: &Update<Spelled>) {
        if let Some(with) = &update.with {
            self.with(with);
        }
        self.clause(&["UPDATE"]);
        self.optional_verbatim(update.modifiers);
        if let Some(top) = &update.top {
            self.top(top);
        }
        self.table(&update.table);
        self.clause(&["SET"]);
        self.assignments(&update.assignments);
        self.skipped_output();
        if !update.from.is_empty() {
            self.clause(&["FROM"]);
            self.comma_list(&update.from, Self::table);
        }
        if let Some(condition) = &update.condition {
            self.clause(&["WHERE"]);
            self.expr(condition, 0);
        }
        if !update.order_by.is_empty() {
            self.clause(&["ORDER", "BY"]);
            self.comma_list(&update.order_by, Self::sort_key);
        }
        for clause in &update.limit {
            self.limit_clause(clause);
        }
        self.trailing(update.trailing);
    }

    /// A trailing clause, unless it was an OUTPUT already printed.
    fn trailing(&mut self, span: Option<Span>) {
        self.optional_verbatim(span.filter(|s| s.first as usize >= self.cursor));
    }

    fn assignments(&mut self, assignments: &[Assignment<Spelled>]) {
        self.comma_list(assignments, |p, assignment| {
            p.mark(Mark::Item);
            p.node(assignment.span, |p| {
                if assignment.as_row {
                    p.open();
                }
                p.comma_list(&assignment.targets, Self::object_name);
                if assignment.as_row {
                    p.tight(")");
                }
                match assignment.operator.as_deref() {
                    Some("+=") => p.sign("+="),
                    Some("-=") => p.sign("-="),
                    Some("*=") => p.sign("*="),
                    Some("/=") => p.sign("/="),
                    _ if p.at_cursor(":=") => p.sign(":="),
                    _ => p.sign("="),
                }
                p.expr(&assignment.value, 0);
            });
        });
    }

    pub(super) fn delete(&mut self, delete: &Delete<Spelled>) {
        if let Some(with) = &delete.with {
            self.with(with);
        }
        self.clause(&["DELETE"]);
        self.optional_verbatim(delete.modifiers);
        if let Some(top) = &delete.top {
            self.top(top);
        }
        self.comma_list(&delete.targets, |p, name| {
            p.object_name(name);
            if p.at_cursor(".") {
                p.tight(".");
                p.tight("*");
            }
        });
        self.skipped_output();
        if delete.from_word {
            self.word("FROM");
        }
        self.table(&delete.table);
        self.skipped_output();
        if !delete.using.is_empty() {
            if self.at_cursor("FROM") {
                self.clause(&["FROM"]);
            } else {
                self.clause(&["USING"]);
            }
            self.comma_list(&delete.using, Self::table);
        }
        if let Some(condition) = &delete.condition {
            self.clause(&["WHERE"]);
            self.expr(condition, 0);
        }
        if !delete.order_by.is_empty() {
            self.clause(&["ORDER", "BY"]);
            self.comma_list(&delete.order_by, Self::sort_key);
        }
        for clause in &delete.limit {
            self.limit_clause(clause);
        }
        self.trailing(delete.trailing);
    }

    pub(super) fn merge(&mut self, merge: &Merge<Spelled>) {
        if let Some(with) = &merge.with {
            self.with(with);
        }
        self.clause(&["MERGE"]);
        if let Some(top) = &merge.top {
            self.top(top);
        }
        if self.end == 0 || self.at_cursor("INTO") {
            self.word("INTO");
        }
        self.table(&merge.target);
        self.clause(&["USING"]);
        self.table(&merge.source);
        self.word("ON");
        self.expr(&merge.condition, 0);
        for clause in &merge.clauses {
            self.merge_clause(clause);
        }
        self.skipped_output();
        self.trailing(merge.trailing);
    }

    fn merge_clause(&mut self, clause: &MergeClause<Spelled>) {
        self.node(clause.span, |p| {
            p.clause(&["WHEN"]);
            if clause.when != MergeMatch::Matched {
                p.word("NOT");
            }
            p.word("MATCHED");
            match clause.when {
                MergeMatch::NotMatchedBySource => p.words(&["BY", "SOURCE"]),
                MergeMatch::NotMatched if p.at_cursor("BY") => p.words(&["BY", "TARGET"]),
                _ => {}
            }
            if let Some(condition) = &clause.condition {
                p.word("AND");
                p.expr(condition, 0);
            }
            p.word("THEN");
            p.merge_action(&clause.action);
        });
    }

    fn merge_action(&mut self, action: &MergeAction<Spelled>) {
        match action {
            MergeAction::Update(assignments, condition, delete) => {
                self.words(&["UPDATE", "SET"]);
                self.assignments(assignments);
                if let Some(condition) = condition {
                    self.word("WHERE");
                    self.expr(condition, 0);
                }
                if let Some(delete) = delete {
                    self.words(&["DELETE", "WHERE"]);
                    self.expr(delete, 0);
                }
            }
            MergeAction::Delete => self.word("DELETE"),
            MergeAction::Insert(columns, values, condition) => {
                self.word("INSERT");
                if !columns.is_empty() {
                    self.open();
                    self.comma_list(columns, |p, name| {
                        p.qualifier_of(name.token);
                        p.ident(name);
                    });
                    self.tight(")");
                }
                if values.is_empty() {
                    self.word("ROW");
                } else {
                    self.word("VALUES");
                    self.open();
                    self.expr_list(values);
                    self.tight(")");
                }
                if let Some(condition) = condition {
                    self.word("WHERE");
                    self.expr(condition, 0);
                }
            }
            MergeAction::Nothing => self.words(&["DO", "NOTHING"]),
        }
    }
}
