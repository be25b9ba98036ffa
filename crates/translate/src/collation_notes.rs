//! What the two servers hold or compare differently of strings: where it can show, it is noted.

use meaning::{Binding, BindingTarget, Breach, Capabilities, Constant, Function, Letters, Meant, Note, Phrase, Sign, infer, phrase};
use syntax::tree::{
    Child, Expr, ExprKind, GroupItem, InSet, IsWhat, LikeWord, Over, Query, QueryBody, Select, SelectItem, SelectQuantifier, SelectValue,
    SetQuantifier, Span, Statement, StatementKind, TableRef, Window,
};

use syntax::DialectName;
use values::DataType;

use crate::features::Features;

/// Notes at the first place where strings are compared, if the two defaults differ in what they take
/// for equal (SQL Server, MySQL and MariaDB ignore case, the others don't), and at the first test
/// for NULL that '' would meet on one side only (Oracle holds no empty text).
pub(crate) fn notes(statement: &Statement<Meant>, features: &Features, from: &Capabilities, to: &Capabilities) -> Vec<Note> {
    // What a column's own collation passes over, it passes over wherever the column is.
    let mut letters = from.letters;
    letters.ignores_case |= features.folding_columns;
    let may_be_texts = features.text_columns || features.unknown_columns;
    let mut finder = Finder {
        compares: letters != to.letters,
        folds: (letters.ignores_case, letters.ignores_accents) != (to.letters.ignores_case, to.letters.ignores_accents),
        tests: may_be_texts && from.empty_is_null != to.empty_is_null,
        shows: may_be_texts && !from.empty_is_null && to.empty_is_null,
        likes: from.like_ignores_case != to.like_ignores_case && from.letters.ignores_case == to.letters.ignores_case,
        fills_shown: may_be_texts && from.char_shows_blanks != to.char_shows_blanks,
        fills_used: may_be_texts && from.char_counts_blanks != to.char_counts_blanks,
        compared: None,
        liked: None,
        tested: None,
        filled: None,
        like_heeds_collation: from.dialect != DialectName::Sqlite,
        seeks_mixed: from.dialect == DialectName::Sqlite && to.dialect != DialectName::Sqlite,
        mixed: None,
        seeks_totals: from.totals_nothing != to.totals_nothing,
        total: None,
        looks_for_unknown: features.unknown_columns,
        unknown: Vec::new(),
    };
    if finder.compares {
        finder.compared = features.merged_texts;
        finder.unknown.extend(features.merged_unknown);
    }
    let seeks_texts = finder.compares || finder.tests || finder.likes || finder.fills_shown || finder.fills_used;
    if !seeks_texts && !finder.seeks_totals && !finder.seeks_mixed {
        return Vec::new();
    }
    match &statement.kind {
        StatementKind::Query(query) => finder.query(query),
        StatementKind::Update(update) => update.condition.iter().for_each(|e| finder.expr(e)),
        StatementKind::Delete(delete) => delete.condition.iter().for_each(|e| finder.expr(e)),
        StatementKind::Insert(insert) => insert.source.iter().for_each(|q| finder.query(q)),
        _ => {}
    }
    finder.into_notes(from, to, letters)
}

/// The place in the list that a sort key gives by its number.
fn ordinal(key: &Expr<Meant>) -> Option<usize> {
    let ExprKind::Literal(Constant::Number(text)) = &key.kind else { return None };
    text.parse().ok()
}

/// The entry of the list that a name shows by its alias: one that is no column's.
fn aliased(binding: &Binding, select: &Select<Meant>) -> Option<usize> {
    match (binding.target, binding.name.parts.as_slice()) {
        (BindingTarget::Output(at), _) => Some(at as usize),
        (BindingTarget::Open, [name]) => {
            select.items.iter().position(|i| i.alias.as_ref().is_some_and(|a| a.name.text.eq_ignore_ascii_case(&name.text)))
        }
        _ => None,
    }
}

/// The list of the first block, which names and types the columns of the whole.
fn first_items(body: &QueryBody<Meant>) -> &[SelectItem<Meant>] {
    match body {
        QueryBody::Select(select) => &select.items,
        QueryBody::SetOperation(operation) => first_items(&operation.left),
        QueryBody::Nested(query, _) => first_items(&query.body),
        QueryBody::Values(_) | QueryBody::Table(..) => &[],
    }
}

/// The types of a query's columns, as far as they are known.
fn column_types(body: &QueryBody<Meant>) -> Vec<DataType> {
    let rows = |row: &Vec<Expr<Meant>>| row.iter().map(|value| infer(value).data_type).collect();
    let QueryBody::Values(values) = body else {
        let of_item = |item: &SelectItem<Meant>| match &item.value {
            SelectValue::Expr(expr) => vec![infer(expr).data_type],
            SelectValue::Star(star, _) => star.columns.iter().flatten().map(|c| c.data_type.clone()).collect(),
        };
        return first_items(body).iter().flat_map(of_item).collect();
    };
    values.rows.first().map(rows).unwrap_or_default()
}

/// Whether a column of two queries has strings in one and numbers in the other; `None` where it may.
fn mixing(left: &QueryBody<Meant>, right: &QueryBody<Meant>) -> Option<bool> {
    let (left, right) = (column_types(left), column_types(right));
    let mixes = |(a, b): (&DataType, &DataType)| (a.is_text() && b.is_numeric()) || (a.is_numeric() && b.is_text());
    // A column without a type may hold anything, which shows beside one that has a type.
    let may_mix = |(a, b): (&DataType, &DataType)| (*a == DataType::Unknown) != (*b == DataType::Unknown);
    let pairs = || left.iter().zip(&right);
    if left.len() != right.len() {
        return Some(false);
    }
    if pairs().any(mixes) { Some(true) } else { (!pairs().any(may_mix)).then_some(false) }
}

/// What each of the two takes for equal and the other doesn't.
fn differing_letters(from: &Capabilities, to: &Capabilities) -> String {
    let looser = |loose: &Capabilities, strict: &Capabilities| {
        let same = loose.letters.same_only_here(strict.letters)?;
        Some(format!("{} takes {same} for equal, {} does not", loose.dialect.title(), strict.dialect.title()))
    };
    [looser(from, to), looser(to, from)].into_iter().flatten().collect::<Vec<_>>().join("; ")
}

/// Whether a function compares its arguments with each other, or those of several rows.
fn compares(phrase: &str) -> bool {
    matches!(phrase, phrase::AGGREGATE_MINIMUM | phrase::AGGREGATE_MAXIMUM | phrase::CHOICE_NUMBER_OF | phrase::TEXT_COMPARE)
        || phrase.starts_with("greatest.")
        || phrase.starts_with("least.")
}

/// Whether a word works with the characters of its arguments, blanks at the end included.
fn counts_blanks(phrase: &Phrase) -> bool {
    (phrase.id.starts_with("text.") || phrase.id.starts_with("regex.")) && !phrase.id.starts_with(phrase::TEXT_TRIM)
}

/// Whether a pattern can hold a letter.
fn has_letters(pattern: &Expr<Meant>) -> bool {
    match &pattern.without_parens().kind {
        ExprKind::Literal(Constant::Text { value, .. }) => value.chars().any(char::is_alphabetic),
        _ => true,
    }
}

fn infer_unknown(expr: &Expr<Meant>) -> bool {
    match &expr.without_parens().kind {
        ExprKind::Column(binding) => binding.data_type == DataType::Unknown,
        ExprKind::Literal(_) => false,
        _ => infer(expr).data_type == DataType::Unknown,
    }
}

/// What is known to be a number, a date or the like.
fn is_no_text(expr: &Expr<Meant>) -> bool {
    let data_type = match &expr.without_parens().kind {
        ExprKind::Row(_) => return false,
        ExprKind::Column(binding) => binding.data_type.clone(),
        _ => infer(expr).data_type,
    };
    data_type.is_numeric() || data_type.is_moment() || data_type == DataType::Boolean
}

fn has_collation(expr: &Expr<Meant>) -> bool {
    matches!(expr.without_parens().kind, ExprKind::Collate(..))
}

struct Finder {
    /// Comparisons of strings are looked for.
    compares: bool,
    /// Patterns of LIKE count as comparisons: blanks at the end are no matter to them.
    folds: bool,
    /// Tests for NULL are looked for.
    tests: bool,
    /// Columns that are shown or sorted or grouped by are looked for: their empty strings become NULL.
    shows: bool,
    /// LIKE is looked for.
    likes: bool,
    /// CHARs that are shown are looked for.
    fills_shown: bool,
    /// CHARs that are worked with are looked for.
    fills_used: bool,
    compared: Option<Span>,
    tested: Option<Span>,
    liked: Option<Span>,
    /// Where, and whether it is shown, not worked with.
    filled: Option<(Span, bool)>,
    /// LIKE compares by the collation of what it looks at.
    like_heeds_collation: bool,
    /// Set operations of strings and numbers are looked for.
    seeks_mixed: bool,
    mixed: Option<Span>,
    /// Groups with a grand total are looked for.
    seeks_totals: bool,
    total: Option<Span>,
    /// Columns of no known type are in the statement.
    looks_for_unknown: bool,
    /// Those that would be one of the above if they were strings.
    unknown: Vec<Span>,
}

impl Finder {
    /// What was found, in words. `letters` are those of the source with the statement's own columns.
    fn into_notes(self, from: &Capabilities, to: &Capabilities, letters: Letters) -> Vec<Note> {
        let strings = |only_like| Breach::Strings { source: letters, target: to.letters, only_like };
        let compared = self.compared.map(|span| {
            let message = if letters == from.letters {
                format!("strings are compared here: by default {}", differing_letters(from, to))
            } else {
                let title = to.dialect.title();
                format!("strings are compared here: a column's collation takes 'quay' and 'Quay' for equal, {title} does not by default")
            };
            Note::new("text.collation", span, message)
                .advise("give both sides the same collation, or make sure that strings are written alike")
                .broken_by(strings(false))
        });
        let tested = self.tested.map(|span| {
            Note::new("text.empty-or-null", span, "Oracle holds '' as NULL: elsewhere an empty text in this column is reported from NULL")
                .advise("make sure that the column holds no empty text")
                .broken_by(Breach::EmptyText)
        });
        let liked = self.liked.map(|span| {
            let (loose, strict) = if from.like_ignores_case { (from, to) } else { (to, from) };
            let message = format!(
                "LIKE takes small and capital letters for the same in {}, not in {}",
                loose.dialect.title(),
                strict.dialect.title()
            );
            Note::new("text.like-case", span, message)
                .advise("make sure that strings are written alike, or compare UPPER of both")
                .broken_by(strings(true))
        });
        let filled = self.filled.map(|(span, shown)| {
            let has = |facts: &Capabilities| {
                let title = facts.dialect.title();
                match if shown { facts.char_shows_blanks } else { facts.char_counts_blanks } {
                    Some(true) => format!("there in {title}"),
                    Some(false) => format!("not in {title}"),
                    None => format!("there in {title} if its table has a CHAR too"),
                }
            };
            let message = format!("this is a CHAR: the blanks that fill it up to its length are {}, {}", has(from), has(to));
            Note::new("text.padding", span, message).advise("take them away on both sides with RTRIM, or make a VARCHAR of it")
        });
        let total = self.total.map(|span| {
            let (one, other) = if from.totals_nothing { (from, to) } else { (to, from) };
            let (one, other) = (one.dialect.title(), other.dialect.title());
            let message = format!("where there are no rows to group, {one} gives a row with the grand total, {other} gives none");
            Note::new("aggregate.total-of-nothing", span, message).advise("make sure that there are rows").broken_by(Breach::NoRows)
        });
        let mixed = self.mixed.map(|span| {
            let title = to.dialect.title();
            let message = format!(
                "strings and numbers share a column of this set operation: SQLite keeps each as it is, {title} makes one type of them, or fails"
            );
            Note::new("type.mixed", span, message).advise("cast both sides to one type")
        });
        let unknown = self.unknown.into_iter().map(crate::unknown_type);
        compared.into_iter().chain(tested).chain(liked).chain(filled).chain(total).chain(mixed).chain(unknown).collect()
    }

    fn found(&mut self, span: Span) {
        if self.compares && span.is_read() {
            self.compared.get_or_insert(span);
        }
    }

    /// An expression of unknown type, in a place where a string would be noted.
    fn unknown(&mut self, expr: &Expr<Meant>) {
        if !self.looks_for_unknown {
            return;
        }
        expr.any(&mut |e| {
            if let ExprKind::Column(binding) = &e.kind
                && binding.data_type == DataType::Unknown
                && e.span.is_read()
            {
                self.unknown.push(e.span);
            }
            false
        });
    }

    /// Strings, and what may be one as its type isn't known.
    fn text(&mut self, expr: &Expr<Meant>) {
        let is_row = matches!(expr.kind, ExprKind::Row(_));
        if self.compares && !is_row && infer_unknown(expr) && !has_collation(expr) {
            self.unknown(expr);
            return;
        }
        let is_text = match &expr.kind {
            ExprKind::Row(values) => return values.iter().for_each(|value| self.text(value)),
            ExprKind::Collate(..) => false,
            ExprKind::Column(binding) => binding.data_type.is_text(),
            ExprKind::Literal(constant) => matches!(constant, Constant::Text { .. }),
            _ => infer(expr).data_type.is_text(),
        };
        if is_text {
            self.found(expr.span);
        }
    }

    /// Sides that are compared with each other: one that is no text makes all of them none.
    fn compared<'e>(&mut self, sides: impl IntoIterator<Item = &'e Expr<Meant>>) {
        let sides: Vec<&Expr<Meant>> = sides.into_iter().collect();
        if !sides.iter().any(|side| is_no_text(side)) {
            sides.into_iter().for_each(|side| self.text(side));
        }
    }

    /// A value that is tested for NULL; a constant is what it is on both sides.
    fn tested(&mut self, expr: &Expr<Meant>, span: Span) {
        let ExprKind::Column(binding) = &expr.without_parens().kind else { return };
        if self.tests && binding.data_type == DataType::Unknown && span.is_read() {
            self.unknown(expr);
        }
        if self.tests && binding.data_type.is_text() && span.is_read() {
            self.tested.get_or_insert(span);
        }
    }

    /// A string filled with blanks that is shown, or worked with.
    fn filled(&mut self, expr: &Expr<Meant>, shown: bool) {
        let wanted = if shown { self.fills_shown } else { self.fills_used };
        if wanted && infer_unknown(expr) {
            self.unknown(expr);
        }
        let is_char = |e: &Expr<Meant>| matches!(infer(e).data_type, DataType::Text { fixed: true, .. });
        if wanted && self.filled.is_none() && expr.span.is_read() && is_char(expr) {
            self.filled = Some((expr.span, shown));
        }
    }

    fn shown(&mut self, expr: &Expr<Meant>) {
        if self.shows && infer(expr).nullable {
            self.tested(expr, expr.span);
        }
    }

    fn query(&mut self, query: &Query<Meant>) {
        if let Some(with) = &query.with {
            with.tables.iter().for_each(|t| self.query(&t.query));
        }
        self.body(&query.body);
        for key in &query.order_by {
            let item = ordinal(&key.expr).and_then(|n| first_items(&query.body).get(n.checked_sub(1)?));
            if let Some(SelectItem { value: SelectValue::Expr(expr), .. }) = item {
                self.text(expr);
            }
            self.shown(&key.expr);
            self.text(&key.expr);
            self.expr(&key.expr);
        }
    }

    fn body(&mut self, body: &QueryBody<Meant>) {
        match body {
            QueryBody::Select(select) => self.select(select),
            QueryBody::SetOperation(operation) => syntax::with_stack(|| {
                if operation.quantifier != Some(SetQuantifier::All) {
                    operation.left.selects(&mut |select| self.items(select));
                }
                if self.seeks_mixed && operation.span.is_read() {
                    match mixing(&operation.left, &operation.right) {
                        Some(true) => self.mixed = self.mixed.or(Some(operation.span)),
                        Some(false) => {}
                        None => self.unknown.push(operation.span),
                    }
                }
                self.body(&operation.left);
                self.body(&operation.right);
            }),
            QueryBody::Nested(query, _) => self.query(query),
            QueryBody::Values(_) | QueryBody::Table(..) => {}
        }
    }

    /// Whole rows are compared.
    fn items(&mut self, select: &Select<Meant>) {
        for item in &select.items {
            match &item.value {
                SelectValue::Expr(expr) => self.text(expr),
                SelectValue::Star(star, _) => self.starred(star, item.span),
            }
        }
    }

    /// All columns that a star represents are compared.
    fn starred(&mut self, star: &meaning::Star, span: Span) {
        match &star.columns {
            Some(columns) if columns.iter().any(|c| c.data_type.is_text()) => self.found(span),
            Some(columns) if columns.iter().all(|c| c.data_type != DataType::Unknown) => {}
            _ if self.compares && span.is_read() => self.unknown.push(span),
            _ => {}
        }
    }

    /// A key of GROUP BY: an expression, or an entry of the list by its alias or number.
    fn group_key(&mut self, key: &Expr<Meant>, select: &Select<Meant>) {
        let at = match &key.kind {
            ExprKind::Column(binding) => aliased(binding, select),
            _ => ordinal(key).and_then(|n| n.checked_sub(1)),
        };
        match at.and_then(|at| select.items.get(at)) {
            Some(SelectItem { value: SelectValue::Expr(expr), .. }) => {
                self.shown(expr);
                self.text(expr);
            }
            _ => {
                self.shown(key);
                self.text(key);
            }
        }
    }

    fn group_item(&mut self, item: &GroupItem<Meant>, select: &Select<Meant>) {
        match item {
            GroupItem::Expr(key) => self.group_key(key, select),
            GroupItem::Super(_, keys, _) => keys.iter().for_each(|key| self.group_key(key, select)),
            GroupItem::Sets(items, _) => items.iter().for_each(|item| self.group_item(item, select)),
            GroupItem::Empty(_) => {}
        }
    }

    fn select(&mut self, select: &Select<Meant>) {
        let distinct = matches!(select.quantifier, Some(SelectQuantifier::Distinct));
        for item in &select.items {
            match &item.value {
                SelectValue::Expr(expr) => {
                    self.shown(expr);
                    self.filled(expr, true);
                    if distinct {
                        self.text(expr);
                    }
                }
                SelectValue::Star(star, _) => {
                    if distinct {
                        self.starred(star, item.span);
                    }
                    let is_char = |c: &Binding| matches!(c.data_type, DataType::Text { fixed: true, .. });
                    if self.fills_shown && self.filled.is_none() && item.span.is_read() && star.columns.iter().flatten().any(is_char) {
                        self.filled = Some((item.span, true));
                    }
                    let columns = star.columns.iter().flatten();
                    if self.shows && item.span.is_read() && columns.into_iter().any(|c| c.nullable && c.data_type.is_text()) {
                        self.tested.get_or_insert(item.span);
                    }
                    if (self.shows || self.fills_shown) && star.columns.is_none() && item.span.is_read() {
                        self.unknown.push(item.span);
                    }
                }
            }
        }
        if let Some(group) = &select.group_by {
            let totals = |item: &GroupItem<Meant>| matches!(item, GroupItem::Super(..) | GroupItem::Sets(..));
            if self.seeks_totals && group.span.is_read() && (group.with_word.is_some() || group.items.iter().any(totals)) {
                self.total.get_or_insert(group.span);
            }
            group.items.iter().for_each(|item| self.group_item(item, select));
        }
        select.windows.iter().for_each(|(_, window)| self.window(window));
        // HAVING sees the list's aliases, which have no type of their own.
        if let Some(having) = &select.having {
            having.any(&mut |e| {
                if let ExprKind::Column(binding) = &e.kind
                    && let Some(at) = aliased(binding, select)
                    && let Some(SelectItem { value: SelectValue::Expr(item), .. }) = select.items.get(at)
                    && infer(item).data_type.is_text()
                {
                    self.found(e.span);
                }
                false
            });
        }
        select.children(&mut |child| self.child(child));
    }

    /// Its rows are parted and sorted.
    fn window(&mut self, window: &Window<Meant>) {
        window.partition_by.iter().chain(window.order_by.iter().map(|k| &k.expr)).for_each(|e| self.text(e));
    }

    fn table(&mut self, table: &TableRef<Meant>) {
        syntax::with_stack(|| table.children(&mut |child| self.child(child)));
    }

    fn child(&mut self, child: Child<'_, Meant>) {
        match child {
            Child::Expr(expr) => self.expr(expr),
            Child::Query(query) => self.query(query),
            Child::Table(table) => self.table(table),
        }
    }

    fn expr(&mut self, expr: &Expr<Meant>) {
        // One place is enough.
        let settled = |wanted: bool, found: Option<Span>| !wanted || found.is_some();
        let filled = !self.looks_for_unknown && settled(self.fills_shown || self.fills_used, self.filled.map(|(span, _)| span));
        if filled && settled(self.compares, self.compared) && settled(self.tests, self.tested) && settled(self.likes, self.liked) {
            return;
        }
        // An empty text fits some patterns, and doesn't fit others, which NULL never does.
        if let ExprKind::Like(test) = &expr.kind
            && (test.negated || test.word != LikeWord::Like)
        {
            self.tested(&test.operand, expr.span);
        }
        match &expr.kind {
            ExprKind::Column(_) | ExprKind::Literal(_) | ExprKind::Parameter(_) => return,
            ExprKind::Binary(binary) => {
                let compares = matches!(binary.operator, Sign::Phrase(id, _) if id.phrase().gives == "boolean");
                if compares {
                    self.filled(&binary.left, false);
                    self.filled(&binary.right, false);
                }
                if compares && !has_collation(&binary.left) && !has_collation(&binary.right) {
                    self.compared([&binary.left, &binary.right]);
                }
                // Joined to a string, or looked into, an empty one is another thing than NULL.
                let looks = |id: &str| id == phrase::TEXT_CONCATENATE || id.starts_with("regex.");
                if matches!(binary.operator, Sign::Phrase(id, _) if counts_blanks(id.phrase())) {
                    self.filled(&binary.left, false);
                    self.filled(&binary.right, false);
                }
                if matches!(binary.operator, Sign::Phrase(id, _) if looks(id.phrase().id)) {
                    self.tested(&binary.left, expr.span);
                    self.tested(&binary.right, expr.span);
                }
            }
            // GLOB and SIMILAR TO are said so that they tell case.
            // What a collation that is named does is reported where it is written.
            ExprKind::Like(test) if self.like_heeds_collation && (has_collation(&test.operand) || has_collation(&test.pattern)) => {}
            ExprKind::Like(test) if matches!(test.word, LikeWord::Glob | LikeWord::SimilarTo) => {}
            ExprKind::Like(test) => {
                self.filled(&test.operand, false);
                if self.folds {
                    self.found(expr.span);
                }
                if self.likes && has_letters(&test.pattern) && expr.span.is_read() {
                    self.liked.get_or_insert(expr.span);
                }
            }
            ExprKind::Is(test) => match &test.what {
                IsWhat::Null => self.tested(&test.operand, expr.span),
                IsWhat::DistinctFrom(other) | IsWhat::Same(other) => {
                    self.compared([&test.operand, other]);
                    self.tested(&test.operand, expr.span);
                    self.tested(other, expr.span);
                }
                _ => {}
            },
            ExprKind::Call(call) if matches!(&call.function, Function::Phrase(id, _) if id.phrase().id.starts_with("null.")) => {
                if matches!(&call.function, Function::Phrase(id, _) if matches!(id.phrase().id, phrase::NULL_IF_EQUAL | phrase::NULL_DECODE))
                {
                    self.compared(call.arguments.iter().map(|a| &a.value));
                }
                call.arguments.iter().for_each(|a| self.tested(&a.value, expr.span));
            }
            // What is sorted, parted or sought the least of.
            ExprKind::Call(call) => {
                if !call.is_window() && matches!(&call.function, Function::Phrase(id, _) if counts_blanks(id.phrase())) {
                    call.arguments.iter().for_each(|a| self.filled(&a.value, false));
                }
                if self.shows && matches!(&call.function, Function::Phrase(..)) {
                    call.arguments.iter().for_each(|a| self.tested(&a.value, expr.span));
                }
                let least = matches!(&call.function, Function::Phrase(id, _) if compares(id.phrase().id));
                if least || call.quantifier == Some(SetQuantifier::Distinct) {
                    call.arguments.iter().for_each(|a| self.text(&a.value));
                }
                if let Some(Over::Window(window)) = call.tail.as_ref().and_then(|t| t.over.as_ref()) {
                    self.window(window);
                }
            }
            ExprKind::Cast(cast) if cast.to.data_type.is_text() => self.filled(&cast.operand, false),
            ExprKind::In(test) if has_collation(&test.operand) => {}
            ExprKind::Between(test) if has_collation(&test.operand) => {}
            ExprKind::In(test) => {
                let items: &[Expr<Meant>] = if let InSet::List(items) = &test.set { items } else { &[] };
                self.compared(std::iter::once(&test.operand).chain(items));
            }
            ExprKind::Between(test) => self.compared([&test.operand, &test.low, &test.high]),
            ExprKind::Case(case) => case.operand.iter().for_each(|operand| self.text(operand)),
            _ => {}
        }
        syntax::with_stack(|| expr.children(&mut |child| self.child(child)));
    }
}
