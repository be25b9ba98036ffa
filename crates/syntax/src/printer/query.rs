//! Printing queries.

use super::{Glue, Mark, Printer};
use crate::dialect::DialectName;
use crate::tree::{
    AliasForm, CommonTable, ConnectBy, Direction, Expr, GroupBy, GroupItem, GroupWord, LateralView, LimitClause, LimitKind, NullOrder,
    PercentForm, Query, QueryBody, RowForm, Select, SelectItem, SelectQuantifier, SelectValue, SetOperation, SetOperator, SetQuantifier,
    SortKey, Span, Spelled, StarModifier, Top, Values, With,
};

impl Printer<'_> {
    pub(super) fn query(&mut self, query: &Query<Spelled>) {
        self.node(query.span, |p| {
            if let Some(with) = &query.with {
                p.with(with);
            }
            p.body(&query.body, 0);
            if !query.order_by.is_empty() {
                p.clause(&["ORDER"]);
                if query.siblings {
                    p.word("SIBLINGS");
                }
                p.word("BY");
                p.comma_list(&query.order_by, Self::sort_key);
            }
            if let QueryBody::Select(select) = &query.body
                && p.dialect.name == DialectName::Spark
            {
                p.optional_verbatim(select.trailing);
            }
            // FOR UPDATE before the limit, if the source has it so.
            let locking_first =
                query.locking.is_some_and(|l| query.limit.first().is_some_and(|c| c.span.is_read() && l.first < c.span.first));
            if locking_first {
                p.optional_verbatim(query.locking);
            }
            for clause in &query.limit {
                p.limit_clause(clause);
            }
            if !locking_first {
                p.optional_verbatim(query.locking);
            }
            p.optional_verbatim(query.options);
        });
    }

    /// A query in parentheses whose closing one ends `span`.
    pub(super) fn query_in_parens(&mut self, query: &Query<Spelled>, span: Span, glue: Glue) {
        self.mark(Mark::OpenQuery);
        self.fixed("(", glue);
        self.query(query);
        self.mark(Mark::CloseQuery);
        self.close_at(span);
    }

    pub(super) fn subquery(&mut self, query: &Query<Spelled>, expr: &Expr<Spelled>, glue: Glue) {
        self.query_in_parens(query, expr.span, glue);
    }

    pub(super) fn with(&mut self, with: &With<Spelled>) {
        self.node(with.span, |p| {
            p.clause(&["WITH"]);
            if with.recursive {
                p.word("RECURSIVE");
            }
            p.comma_list(&with.tables, Self::common_table);
        });
    }

    pub(super) fn common_table(&mut self, table: &CommonTable<Spelled>) {
        self.node(table.span, |p| {
            p.ident(&table.name);
            if !table.columns.is_empty() {
                p.name_list(&table.columns);
            }
            // Spark lets AS be left out.
            if p.end == 0 || p.at_cursor("AS") || p.dialect.name != DialectName::Spark {
                p.word("AS");
            }
            match table.materialized {
                Some(true) => p.word("MATERIALIZED"),
                Some(false) => p.words(&["NOT", "MATERIALIZED"]),
                None => {}
            }
            p.mark(Mark::OpenQuery);
            p.open();
            p.query(&table.query);
            p.mark(Mark::CloseQuery);
            p.tight(")");
            p.optional_verbatim(table.search_cycle);
        });
    }

    /// A body; one that binds looser than `least` gets parentheses.
    pub(super) fn body(&mut self, body: &QueryBody<Spelled>, least: u8) {
        match body {
            QueryBody::Select(select) => self.select(select),
            QueryBody::SetOperation(operation) => {
                let level = self.set_level(operation.operator);
                if level < least {
                    self.sign("(");
                    self.set_operation(operation, level);
                    self.tight(")");
                } else {
                    crate::with_stack(|| self.set_operation(operation, level));
                }
            }
            QueryBody::Nested(query, span) => self.node(*span, |p| p.query_in_parens(query, *span, Glue::Space)),
            QueryBody::Values(values) => self.values(values),
            QueryBody::Table(name, span) => self.node(*span, |p| {
                p.clause(&["TABLE"]);
                p.object_name(name);
            }),
        }
    }

    pub(super) fn set_level(&self, operator: SetOperator) -> u8 {
        if operator == SetOperator::Intersect && self.spelling.intersect_binds_tighter { 2 } else { 1 }
    }

    pub(super) fn set_operation(&mut self, operation: &SetOperation<Spelled>, level: u8) {
        self.node(operation.span, |p| {
            p.body(&operation.left, level);
            p.mark(Mark::Clause);
            match operation.operator {
                SetOperator::Union => p.word("UNION"),
                SetOperator::Intersect => p.word("INTERSECT"),
                SetOperator::Except if operation.minus => p.word("MINUS"),
                SetOperator::Except => p.word("EXCEPT"),
            }
            match operation.quantifier {
                Some(SetQuantifier::All) => p.word("ALL"),
                Some(SetQuantifier::Distinct) => p.word("DISTINCT"),
                None => {}
            }
            if operation.by_name {
                if p.at_cursor("CORRESPONDING") {
                    p.word("CORRESPONDING");
                } else {
                    p.words(&["BY", "NAME"]);
                }
            }
            p.body(&operation.right, level + 1);
        });
    }

    pub(super) fn values(&mut self, values: &Values<Spelled>) {
        self.node(values.span, |p| {
            p.clause(&["VALUES"]);
            p.comma_list(&values.rows, |p, row| {
                match values.form {
                    RowForm::Bare => return p.expr_list(row),
                    RowForm::Word => {
                        p.word("ROW");
                        p.tight("(");
                    }
                    RowForm::Parens => p.open(),
                }
                p.expr_list(row);
                p.tight(")");
            });
        });
    }

    // --- select --------------------------------------------------------------------------------

    pub(super) fn select(&mut self, select: &Select<Spelled>) {
        self.node(select.span, |p| {
            if select.from_first {
                p.from(select);
            }
            if !select.items.is_empty() || !select.from_first {
                p.select_head(select);
            }
            if !select.from_first {
                p.from(select);
            }
            for view in &select.lateral_views {
                p.lateral_view(view);
            }
            if let Some(condition) = &select.condition {
                p.clause(&["WHERE"]);
                p.expr(condition, 0);
            }
            if let Some(connect) = &select.connect_by {
                p.connect_by(connect);
            }
            p.grouping(select);
            if !select.windows.is_empty() {
                p.clause(&["WINDOW"]);
                p.comma_list(&select.windows, |p, (name, window)| {
                    p.ident(name);
                    p.word("AS");
                    p.window(window);
                });
            }
            if let Some(qualify) = &select.qualify {
                p.clause(&["QUALIFY"]);
                p.expr(qualify, 0);
            }
            if p.dialect.name != DialectName::Spark {
                p.optional_verbatim(select.trailing);
            }
        });
    }

    pub(super) fn select_head(&mut self, select: &Select<Spelled>) {
        self.clause(&["SELECT"]);
        let modifiers_first = match (select.modifiers, &select.quantifier) {
            (Some(modifiers), Some(_)) => self.cursor == modifiers.first as usize,
            _ => true,
        };
        if modifiers_first {
            self.optional_verbatim(select.modifiers);
        }
        match &select.quantifier {
            Some(SelectQuantifier::Distinct) => self.one_of(match self.dialect.name {
                DialectName::Oracle => &["DISTINCT", "UNIQUE"],
                DialectName::Mysql | DialectName::Mariadb => &["DISTINCT", "DISTINCTROW"],
                _ => &["DISTINCT"],
            }),
            Some(SelectQuantifier::All) => self.word("ALL"),
            Some(SelectQuantifier::DistinctOn(keys)) => {
                self.words(&["DISTINCT", "ON"]);
                self.open();
                self.expr_list(keys);
                self.tight(")");
            }
            None => {}
        }
        if !modifiers_first {
            self.optional_verbatim(select.modifiers);
        }
        if let Some(top) = &select.top {
            self.top(top);
        }
        self.select_list(&select.items);
        self.optional_verbatim(select.into);
    }

    pub(super) fn top(&mut self, top: &Top<Spelled>) {
        self.node(top.span, |p| {
            p.word("TOP");
            if top.parenthesised {
                p.open();
            }
            let glue = if top.parenthesised { Glue::Tight } else { Glue::Space };
            p.expr_after_open(&top.count, glue);
            if top.parenthesised {
                p.tight(")");
            }
            if top.percent {
                p.word("PERCENT");
            }
            if top.with_ties {
                p.words(&["WITH", "TIES"]);
            }
        });
    }

    pub(super) fn expr_after_open(&mut self, expr: &Expr<Spelled>, glue: Glue) {
        if glue == Glue::Tight {
            self.expr_list(std::slice::from_ref(expr));
        } else {
            self.expr(expr, 0);
        }
    }

    pub(super) fn select_list(&mut self, items: &[SelectItem<Spelled>]) {
        self.comma_list(items, |p, item| {
            p.mark(Mark::Item);
            p.select_item(item);
        });
        // A comma before FROM, where the engine takes it.
        if !items.is_empty() && self.is(&[DialectName::Duckdb, DialectName::Bigquery]) && self.at_cursor(",") {
            self.tight(",");
        }
    }

    pub(super) fn select_item(&mut self, item: &SelectItem<Spelled>) {
        self.node(item.span, |p| {
            let leading = item.alias.as_ref().filter(|a| matches!(a.form, AliasForm::Equals | AliasForm::Prefix));
            if let Some(alias) = leading {
                p.ident(&alias.name);
                if alias.form == AliasForm::Equals {
                    p.sign("=");
                } else {
                    p.tight(":");
                }
            }
            match &item.value {
                SelectValue::Expr(expr) => p.expr(expr, 0),
                SelectValue::Star(qualifier, modifiers) => {
                    if let Some(name) = qualifier {
                        p.object_name(name);
                        p.tight(".");
                        p.tight("*");
                    } else {
                        p.sign("*");
                    }
                    for modifier in modifiers {
                        p.star_modifier(modifier);
                    }
                }
            }
            match &item.alias {
                Some(alias) if alias.form == AliasForm::As => {
                    p.word("AS");
                    p.ident(&alias.name);
                }
                Some(alias) if alias.form == AliasForm::Bare => p.ident(&alias.name),
                _ => {}
            }
        });
    }

    pub(super) fn star_modifier(&mut self, modifier: &StarModifier<Spelled>) {
        match modifier {
            StarModifier::Exclude(names) => {
                let word = if self.dialect.name == DialectName::Duckdb { &["EXCLUDE", "EXCEPT"] } else { &["EXCEPT", "EXCLUDE"] };
                self.one_of(word);
                if names.len() == 1 && self.end > 0 && !self.at_cursor("(") {
                    self.ident(&names[0]);
                } else {
                    self.name_list(names);
                }
            }
            StarModifier::Replace(replaced) => {
                self.word("REPLACE");
                let in_parens = self.end == 0 || self.at_cursor("(");
                if in_parens {
                    self.open();
                }
                self.comma_list(replaced, |p, (value, name)| {
                    p.expr(value, 0);
                    p.word("AS");
                    p.ident(name);
                });
                if in_parens {
                    self.tight(")");
                }
            }
            StarModifier::Rename(renamed) => {
                self.word("RENAME");
                let in_parens = self.end == 0 || self.at_cursor("(");
                if in_parens {
                    self.open();
                }
                self.comma_list(renamed, |p, (old, new)| {
                    p.ident(old);
                    p.word("AS");
                    p.ident(new);
                });
                if in_parens {
                    self.tight(")");
                }
            }
            StarModifier::Like(words, pattern) => {
                for word in words.split(' ') {
                    match word {
                        "NOT" => self.word("NOT"),
                        "LIKE" => self.word("LIKE"),
                        "ILIKE" => self.word("ILIKE"),
                        "GLOB" => self.word("GLOB"),
                        "SIMILAR" => self.word("SIMILAR"),
                        _ => self.word("TO"),
                    }
                }
                self.expr(pattern, 0);
            }
        }
    }

    pub(super) fn from(&mut self, select: &Select<Spelled>) {
        if select.from.is_empty() {
            return;
        }
        self.clause(&["FROM"]);
        self.comma_list(&select.from, Self::table);
    }

    pub(super) fn grouping(&mut self, select: &Select<Spelled>) {
        let having_first = match (&select.group_by, &select.having) {
            (Some(group), Some(having)) => group.span.is_read() && having.span.is_read() && having.span.first < group.span.first,
            _ => false,
        };
        if !having_first && let Some(group) = &select.group_by {
            self.group_by(group);
        }
        if let Some(having) = &select.having {
            self.clause(&["HAVING"]);
            self.expr(having, 0);
        }
        if having_first && let Some(group) = &select.group_by {
            self.group_by(group);
        }
    }

    pub(super) fn group_by(&mut self, group: &GroupBy<Spelled>) {
        self.node(group.span, |p| {
            p.clause(&["GROUP", "BY"]);
            match (group.all_columns, group.quantifier) {
                (true, _) | (_, Some(SetQuantifier::All)) => p.word("ALL"),
                (_, Some(SetQuantifier::Distinct)) => p.word("DISTINCT"),
                _ => {}
            }
            for (i, item) in group.items.iter().enumerate() {
                let sets_follow_keys = matches!(item, GroupItem::Sets(..)) && p.end > 0 && p.at_cursor("GROUPING");
                if i > 0 && !sets_follow_keys {
                    p.tight(",");
                }
                p.group_item(item);
            }
            match group.with_word {
                Some(GroupWord::Rollup) => p.words(&["WITH", "ROLLUP"]),
                Some(GroupWord::Cube) => p.words(&["WITH", "CUBE"]),
                None => {}
            }
        });
    }

    pub(super) fn group_item(&mut self, item: &GroupItem<Spelled>) {
        match item {
            GroupItem::Expr(expr) => self.expr(expr, 0),
            GroupItem::Super(word, exprs, span) => self.node(*span, |p| {
                p.word(if *word == GroupWord::Rollup { "ROLLUP" } else { "CUBE" });
                p.sign("(");
                p.expr_list(exprs);
                p.tight(")");
            }),
            GroupItem::Sets(items, span) => self.node(*span, |p| {
                p.words(&["GROUPING", "SETS"]);
                p.open();
                p.comma_list(items, Self::group_item);
                p.tight(")");
            }),
            GroupItem::Empty(span) => self.node(*span, |p| {
                p.open();
                p.tight(")");
            }),
        }
    }

    pub(super) fn connect_by(&mut self, connect: &ConnectBy<Spelled>) {
        self.node(connect.span, |p| {
            let start = |p: &mut Self| {
                if let Some(start) = &connect.start_with {
                    p.clause(&["START", "WITH"]);
                    p.expr(start, 0);
                }
            };
            if !connect.start_last {
                start(p);
            }
            p.clause(&["CONNECT", "BY"]);
            if connect.no_cycle {
                p.word("NOCYCLE");
            }
            p.expr(&connect.condition, 0);
            if connect.start_last {
                start(p);
            }
        });
    }

    pub(super) fn lateral_view(&mut self, view: &LateralView<Spelled>) {
        self.node(view.span, |p| {
            p.mark(Mark::Join);
            p.words(&["LATERAL", "VIEW"]);
            if view.outer {
                p.word("OUTER");
            }
            p.expr(&view.call, 0);
            if let Some(table) = &view.table {
                p.ident(table);
            }
            if !view.columns.is_empty() {
                p.word("AS");
                p.comma_list(&view.columns, Self::ident);
            }
        });
    }

    // --- order and limits ----------------------------------------------------------------------

    pub(super) fn sort_key(&mut self, key: &SortKey<Spelled>) {
        self.node(key.span, |p| {
            p.expr(&key.expr, 0);
            match key.direction {
                Some(Direction::Ascending) => p.word("ASC"),
                Some(Direction::Descending) => p.word("DESC"),
                None => {}
            }
            match key.nulls {
                Some(NullOrder::First) => p.words(&["NULLS", "FIRST"]),
                Some(NullOrder::Last) => p.words(&["NULLS", "LAST"]),
                None => {}
            }
        });
    }

    pub(super) fn limit_clause(&mut self, clause: &LimitClause<Spelled>) {
        self.node(clause.span, |p| match &clause.kind {
            LimitKind::All => {
                p.clause(&["LIMIT"]);
                p.word("ALL");
            }
            LimitKind::Limit { count, percent } => {
                p.clause(&["LIMIT"]);
                p.expr(count, 0);
                match percent {
                    Some(PercentForm::Sign) => p.tight("%"),
                    Some(PercentForm::Word) => p.word("PERCENT"),
                    None => {}
                }
            }
            LimitKind::OffsetComma(offset, count) => {
                p.clause(&["LIMIT"]);
                p.expr(offset, 0);
                p.tight(",");
                p.expr(count, 0);
            }
            LimitKind::Offset { count, rows_word } => {
                p.clause(&["OFFSET"]);
                p.expr(count, 0);
                if *rows_word {
                    p.one_of(&["ROWS", "ROW"]);
                }
            }
            LimitKind::Fetch { count, percent, with_ties, next } => {
                p.clause(&["FETCH"]);
                p.word(if *next { "NEXT" } else { "FIRST" });
                if let Some(count) = count {
                    p.expr(count, crate::precedence::AND);
                }
                if *percent {
                    p.word("PERCENT");
                }
                p.one_of(&["ROWS", "ROW"]);
                if *with_ties {
                    p.words(&["WITH", "TIES"]);
                } else {
                    p.word("ONLY");
                }
            }
        });
    }
}
