//! Queries on the source's own data that find the rows breaking an assumption.
//!
//! A probe is put together from the words of the query: the tables and the condition of the block in
//! which the assumption is made, and what breaks it of the expression there. A block inside an
//! expression becomes EXISTS in the probe of the block around it.

use meaning::{Breach, Letters, write_type};
use syntax::tree::{
    Call, Child, Expr, ExprKind, InSet, Literal, Query, QueryBody, Select, Span, Spelled, StatementKind, TableKind, TableRef,
};
use syntax::{Dialect, DialectName, Statements, lex};
use values::DataType;

use crate::Place;
use crate::text::Text;

/// A question to the source's data.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Probe {
    /// Counts the rows that break the assumption.
    pub count: String,
    /// Shows them.
    pub sample: String,
}

/// The probe of an assumption made in `sql`, in whose text its places are given; `None` where the data
/// of the source can't tell, or the block is of a kind that no probe is known for.
pub(crate) fn probe(sql: &str, dialect: &Dialect, breach: &Breach<Place>, noted: Place) -> Option<Probe> {
    let tokens = lex(sql, dialect);
    let parsed = Statements::new(sql, &tokens, dialect).filter_map(|p| p.tree.ok());
    let statement = parsed.into_iter().find(|t| matches!(t.kind, StatementKind::Query(_)))?;
    let StatementKind::Query(query) = &statement.kind else { return None };
    let text = Asked { text: Text { source: sql, tokens: &tokens }, dialect: dialect.name };
    let place = if let Breach::Value(_, place) = breach { *place } else { noted };
    let found = text.block(query, place, "")?;
    match breach {
        Breach::Value(class, place) => {
            // What a rewrite made has no words in the source.
            let value = sql.get(place.start..place.end).filter(|words| !words.trim().is_empty())?;
            found.asking(&text, value, |value| class.condition(value, dialect.name))
        }
        Breach::Strings { source, target, only_like } => found.asking_texts(&text, widest(*source, *target, *only_like)),
        // It would be the query itself.
        Breach::TextOrder | Breach::NoRows => None,
        Breach::EmptyText if dialect.name == DialectName::Oracle => None,
        Breach::EmptyText => {
            let columns = found.columns_at(&text);
            match columns.as_slice() {
                [] => None,
                [one] => found.asking(&text, one, |value| Some(format!("({value}) = ''"))),
                // Which of several is meant, and which are strings, isn't known.
                all => {
                    let tests: Vec<String> = all.iter().map(|c| format!("{} = ''", as_text(c, dialect))).collect();
                    found.of_rows(&text, &format!("({})", tests.join(" OR ")))
                }
            }
        }
    }
}

/// All that either side passes over.
fn widest(a: Letters, b: Letters, only_like: bool) -> Letters {
    let either = a.either(b);
    if only_like { Letters { ignores_case: true, ignores_blanks: false, ..either } } else { either }
}

/// The text of a query, as its blocks are looked for.
struct Asked<'a> {
    text: Text<'a>,
    dialect: DialectName,
}

/// A block, what precedes its SELECT, and where in it the assumption is made.
struct Found<'a> {
    select: &'a Select<Spelled>,
    /// WITH and what it names, for blocks that can see it.
    with: String,
    place: Place,
    /// The block around it, if this one is inside an expression or LATERAL.
    around: Option<Box<Found<'a>>>,
}

impl<'a> Asked<'a> {
    /// The words of what was read.
    fn words(&self, span: Span) -> Option<&'a str> {
        span.is_read().then(|| self.text.of(span))
    }

    fn holds(&self, span: Span, place: Place) -> bool {
        self.text.holds(span, place)
    }

    /// Whether all of a span lies within a place.
    fn is_in(&self, span: Span, place: Place) -> bool {
        self.text.read_place(span).is_some_and(|own| place.holds(own))
    }

    /// The innermost block that holds a place.
    fn block(&self, query: &'a Query<Spelled>, place: Place, before: &str) -> Option<Found<'a>> {
        let mut with = before.to_string();
        for (i, table) in query.with.iter().flat_map(|w| &w.tables).enumerate() {
            if self.holds(table.query.span, place) {
                return self.block(&table.query, place, &with);
            }
            let (word, recursive) =
                (if i == 0 && with.is_empty() { "WITH " } else { ", " }, query.with.as_ref().is_some_and(|w| w.recursive));
            with.push_str(word);
            if recursive && word == "WITH " {
                with.push_str("RECURSIVE ");
            }
            with.push_str(self.words(table.span)?);
        }
        self.in_body(&query.body, place, &with)
    }

    fn in_body(&self, body: &'a QueryBody<Spelled>, place: Place, with: &str) -> Option<Found<'a>> {
        match body {
            QueryBody::Select(select) => self.in_select(select, place, with),
            QueryBody::SetOperation(operation) => {
                let found = self.in_body(&operation.left, place, with);
                found.or_else(|| self.in_body(&operation.right, place, with))
            }
            QueryBody::Nested(query, _) => self.block(query, place, with),
            QueryBody::Values(_) | QueryBody::Table(..) => None,
        }
    }

    fn in_select(&self, select: &'a Select<Spelled>, place: Place, with: &str) -> Option<Found<'a>> {
        // What follows the block, as ORDER BY does, is of the block as well.
        let own = |around| Found { select, with: with.to_string(), place, around };
        if select.connect_by.is_some() || !select.lateral_views.is_empty() || select.from.is_empty() {
            return None;
        }
        let mut inner: Option<(&'a Query<Spelled>, bool)> = None;
        select.children(&mut |child| self.subquery_at(child, place, false, &mut inner));
        match inner {
            None => Some(own(None)),
            // A derived table is kept whole.
            Some((query, false)) => self.block(query, place, with),
            Some((query, true)) => {
                let mut found = self.block(query, place, "")?;
                if found.around.is_some() {
                    return None;
                }
                found.around = Some(Box::new(own(None)));
                Some(found)
            }
        }
    }

    /// The query directly inside that holds the place, and whether it sees the rows around it.
    fn subquery_at(&self, child: Child<'a, Spelled>, place: Place, sees: bool, found: &mut Option<(&'a Query<Spelled>, bool)>) {
        match child {
            Child::Query(query) if self.holds(query.span, place) => *found = Some((query, sees)),
            Child::Query(_) => {}
            Child::Expr(expr) => expr.children(&mut |inner| self.subquery_at(inner, place, true, found)),
            Child::Table(table) => {
                let lateral = match &table.kind {
                    TableKind::Derived { lateral, .. } => *lateral,
                    _ => false,
                };
                if let TableKind::Join(join) = &table.kind {
                    let apply = join.kind.is_apply();
                    self.subquery_at(Child::Table(&join.left), place, sees, found);
                    match &join.right.kind {
                        TableKind::Derived { query, .. } if apply => self.subquery_at(Child::Query(query), place, true, found),
                        _ => self.subquery_at(Child::Table(&join.right), place, sees, found),
                    }
                } else {
                    table.children(&mut |inner| self.subquery_at(inner, place, sees || lateral, found));
                }
            }
        }
    }
}

impl Found<'_> {
    /// The tables and the condition: `FROM .. WHERE ..`, open for one more condition. Without the
    /// block's own condition where the assumption is made in it, or in that of a join.
    fn rows(&self, text: &Asked<'_>) -> Option<String> {
        let (first, last) = (self.select.from.first()?, self.select.from.last()?);
        let in_from = self.select.from.iter().any(|t| text.holds(t.span, self.place));
        let tables = if in_from {
            let mut leaves = Vec::new();
            self.select.from.iter().try_for_each(|t| leaf_tables(t, text, self.place, &mut leaves))?;
            leaves.join(", ")
        } else {
            text.words(Span { first: first.span.first, end: last.span.end })?.to_string()
        };
        let condition = self.select.condition.as_ref().filter(|c| !in_from && !text.holds(c.span, self.place));
        let condition = match condition {
            Some(condition) => format!("({}) AND ", text.words(condition.span)?),
            None => String::new(),
        };
        Some(format!("FROM {tables} WHERE {condition}"))
    }

    /// WITH, as it precedes SELECT.
    fn with_before(&self) -> String {
        if self.with.is_empty() { String::new() } else { format!("{} ", self.with) }
    }

    /// The probe that asks `condition` of a value.
    fn asking(&self, text: &Asked<'_>, value: &str, condition: impl Fn(&str) -> Option<String>) -> Option<Probe> {
        if self.is_worked_out_behind_rows(text) {
            return self.asking_groups(text, value, condition);
        }
        self.of_rows(text, &condition(value)?)
    }

    fn of_rows(&self, text: &Asked<'_>, condition: &str) -> Option<Probe> {
        let rows = format!("{}{condition}", self.rows(text)?);
        let with = self.with_before();
        match &self.around {
            None => Some(Probe { count: format!("{with}SELECT COUNT(*) {rows}"), sample: format!("{with}SELECT * {rows}") }),
            Some(around) => around.of_rows(text, &format!("EXISTS (SELECT 1 {rows})")),
        }
    }

    /// The value is one of a group or window: it is worked out first, then asked.
    fn asking_groups(&self, text: &Asked<'_>, value: &str, condition: impl Fn(&str) -> Option<String>) -> Option<Probe> {
        if self.around.is_some() {
            return None;
        }
        let (first, last) = (self.select.from.first()?, self.select.from.last()?);
        let tables = text.words(Span { first: first.span.first, end: last.span.end })?;
        let part = |words: &str, span: Option<Span>| match span {
            Some(span) => text.words(span).map(|own| format!(" {words}{own}")),
            None => Some(String::new()),
        };
        let filter = part("WHERE ", self.select.condition.as_ref().map(|c| c.span))?;
        let group = part("", self.select.group_by.as_ref().map(|g| g.span))?;
        let inner = format!("(SELECT {value} AS probed FROM {tables}{filter}{group}) probe");
        let condition = condition("probed")?;
        let with = self.with_before();
        Some(Probe {
            count: format!("{with}SELECT COUNT(*) FROM {inner} WHERE {condition}"),
            sample: format!("{with}SELECT * FROM {inner} WHERE {condition}"),
        })
    }

    /// The expression at the place holds an aggregate or window function.
    fn is_worked_out_behind_rows(&self, text: &Asked<'_>) -> bool {
        let mut found = false;
        self.each_expr(&mut |expr| {
            if let ExprKind::Call(call) = &expr.kind
                && text.is_in(expr.span, self.place)
            {
                found |= call.is_window() || is_aggregate(call);
            }
        });
        found
    }

    /// The block's expressions, subqueries left out.
    fn each_expr<'s>(&'s self, visit: &mut dyn FnMut(&'s Expr<Spelled>)) {
        self.select.exprs(&mut |expr| walk(expr, visit));
        self.select.from.iter().for_each(|t| on_conditions(t, &mut |expr| walk(expr, visit)));
    }

    /// The words of the columns at the place.
    fn columns_at<'t>(&self, text: &Asked<'t>) -> Vec<&'t str> {
        let mut found = Vec::new();
        self.each_expr(&mut |expr| {
            if text.is_in(expr.span, self.place) && matches!(expr.kind, ExprKind::Column(_)) {
                found.extend(text.words(expr.span).filter(|words| !found.contains(words)));
            }
        });
        found
    }

    // --- strings ---------------------------------------------------------------------------------

    /// Rows whose strings one side takes for equal and the other doesn't.
    fn asking_texts(&self, text: &Asked<'_>, letters: Letters) -> Option<Probe> {
        let folded = |value: &str| folded(value, letters);
        let exact = |value: &str| exact(value, text.dialect);
        if let Some((column, constants)) = self.compared_with_constants(text) {
            let list = |of: &dyn Fn(&str) -> String| constants.iter().map(|c| of(c)).collect::<Vec<_>>().join(", ");
            let alike = format!("{} IN ({})", folded(column), list(&folded));
            return self.of_rows(text, &format!("{alike} AND {} NOT IN ({})", exact(column), list(&exact)));
        }
        let column = *self.columns_at(text).first()?;
        if self.around.is_some() {
            return None;
        }
        let rows = format!("{}({column}) IS NOT NULL", self.rows(text)?);
        let with = self.with_before();
        let groups =
            format!("SELECT {} AS alike {rows} GROUP BY {} HAVING COUNT(DISTINCT {}) > 1", folded(column), folded(column), exact(column));
        Some(Probe { count: format!("{with}SELECT COUNT(*) FROM ({groups}) probe"), sample: format!("{with}{groups}") })
    }

    /// The column of the comparison at the place, and the strings it is compared with.
    fn compared_with_constants<'t>(&self, text: &Asked<'t>) -> Option<(&'t str, Vec<&'t str>)> {
        let mut found = None;
        self.each_expr(&mut |expr| {
            let sides: Vec<&Expr<Spelled>> = match &expr.kind {
                ExprKind::Binary(binary) => vec![&binary.left, &binary.right],
                ExprKind::In(test) => match &test.set {
                    InSet::List(items) => std::iter::once(&test.operand).chain(items).collect(),
                    _ => return,
                },
                _ => return,
            };
            if !sides.iter().any(|side| text.text.read_place(side.span) == Some(self.place)) {
                return;
            }
            let is_text = |e: &&&Expr<Spelled>| matches!(e.without_parens().kind, ExprKind::Literal(Literal::Text(_)));
            let column = sides.iter().find(|e| !matches!(e.without_parens().kind, ExprKind::Literal(_)));
            let constants: Vec<&str> = sides.iter().filter(is_text).filter_map(|e| text.words(e.span)).collect();
            if let Some(column) = column.and_then(|c| text.words(c.span))
                && !constants.is_empty()
            {
                found = Some((column, constants));
            }
        });
        found
    }
}

fn walk<'s>(expr: &'s Expr<Spelled>, visit: &mut dyn FnMut(&'s Expr<Spelled>)) {
    visit(expr);
    syntax::with_stack(|| expr.exprs(&mut |child| walk(child, visit)));
}

fn on_conditions<'s>(table: &'s TableRef<Spelled>, visit: &mut dyn FnMut(&'s Expr<Spelled>)) {
    table.children(&mut |child| match child {
        Child::Expr(expr) => visit(expr),
        Child::Table(table) => on_conditions(table, visit),
        Child::Query(_) => {}
    });
}

/// The tables of joins, one by one, without one that is worked out for each row and holds the place.
fn leaf_tables(table: &TableRef<Spelled>, text: &Asked<'_>, place: Place, found: &mut Vec<String>) -> Option<()> {
    match &table.kind {
        TableKind::Join(join) if join.kind.is_apply() => {
            if !text.holds(join.right.span, place) {
                return None;
            }
            leaf_tables(&join.left, text, place, found)
        }
        TableKind::Join(join) => {
            leaf_tables(&join.left, text, place, found)?;
            leaf_tables(&join.right, text, place, found)
        }
        TableKind::Derived { lateral: true, .. } => text.holds(table.span, place).then_some(()),
        TableKind::Nested(inner) => leaf_tables(inner, text, place, found),
        _ => {
            found.push(text.words(table.span)?.to_string());
            Some(())
        }
    }
}

/// By its name; the phrasebook's aggregates and their commonest kin.
fn is_aggregate(call: &Call<Spelled>) -> bool {
    const NAMES: [&str; 12] =
        ["count", "sum", "avg", "min", "max", "stddev", "variance", "listagg", "string_agg", "group_concat", "array_agg", "median"];
    let name = call.function.last().text.to_lowercase();
    NAMES.contains(&name.as_str())
}

/// The text without what is passed over. Accents can't be taken off in every dialect: what differs by
/// them only isn't found.
fn folded(value: &str, letters: Letters) -> String {
    let trimmed = if letters.ignores_blanks { format!("RTRIM({value})") } else { value.to_string() };
    if letters.ignores_case { format!("UPPER({trimmed})") } else { trimmed }
}

/// A value of any type as a string.
fn as_text(value: &str, dialect: &Dialect) -> String {
    write_type(&DataType::TEXT, dialect, true).map_or_else(|| value.to_string(), |text| format!("CAST({value} AS {})", text.sql()))
}

/// The text as it is written, whatever the collation. A point at its end makes blanks before it count.
fn exact(value: &str, dialect: DialectName) -> String {
    match dialect {
        DialectName::SqlServer => format!("({value} + '.') COLLATE Latin1_General_BIN2"),
        DialectName::Mysql | DialectName::Mariadb => format!("CAST({value} AS BINARY)"),
        _ => value.to_string(),
    }
}
