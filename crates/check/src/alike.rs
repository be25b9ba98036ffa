//! Strings that one side takes for equal, or puts in another order, and the other doesn't.

use std::collections::{HashMap, HashSet};

use engines::{Bytes, Observed};
use meaning::{Letters, PhraseKind, Slot, hear_calls, phrase};
use syntax::tree::{
    Call, Expr, ExprKind, GroupItem, InSet, IsWhat, Literal, Operator, Over, Query, QueryBody, Select, SelectItem, SelectQuantifier,
    SelectValue, SortKey, Spelled,
};
use syntax::{Dialect, Spelling, Symbol, decode_text};
use values::Value;

use crate::nodes::{Node, Text, each_statement_node};

/// Expressions whose strings meet.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Meeting {
    places: Vec<Bytes>,
    constants: Vec<String>,
    how: How,
}

/// How strings meet.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum How {
    /// Are they equal?
    Equal,
    /// Which comes first?
    Order,
    /// Does one stand in the other?
    Inside,
}

/// What both sides take for equal.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct BothLetters {
    source: Letters,
    target: Letters,
    /// Only where one is in another.
    only_inside: bool,
}

impl BothLetters {
    /// Of an assumption about strings; LIKE alone can pass over case where comparisons don't.
    pub(crate) fn of(source: Letters, target: Letters, only_like: bool) -> BothLetters {
        if only_like {
            let folds = Letters { ignores_case: true, ignores_blanks: false, ..source.either(target) };
            return BothLetters { source: folds, target: Letters::default(), only_inside: true };
        }
        BothLetters { source, target, only_inside: false }
    }

    /// Whether the two sides differ about two strings' being equal.
    fn tells_apart(self, a: &str, b: &str) -> bool {
        (key(a, self.source) == key(b, self.source)) != (key(a, self.target) == key(b, self.target))
    }

    /// What all that either side takes for equal have in common.
    pub(crate) fn widest_key(self, text: &str) -> String {
        key(text, self.source.either(self.target))
    }

    /// The text, or in its place one that both sides take for the same as each other.
    pub(crate) fn settled<'t>(self, text: &'t str, instead: &'t str) -> &'t str {
        if self.only_inside || self.tells_apart(text, instead) { instead } else { text }
    }

    /// Whether any strings that met are distinguished by one side only.
    pub(crate) fn are_broken(self, meetings: &[Meeting], observed: &Observed) -> bool {
        meetings.iter().filter(|m| !self.only_inside || m.how == How::Inside).any(|m| self.breaks(m, observed))
    }

    fn breaks(self, meeting: &Meeting, observed: &Observed) -> bool {
        let strings = self.texts_of(meeting, observed);
        match meeting.how {
            How::Inside => self.inside_differs(&strings, &meeting.constants),
            How::Equal => self.groups_differ(&strings),
            How::Order => self.groups_differ(&strings) || self.order_differs(&strings),
        }
    }

    fn texts_of<'t>(self, meeting: &'t Meeting, observed: &'t Observed) -> HashSet<&'t str> {
        let mut strings: HashSet<&str> = meeting.constants.iter().map(String::as_str).collect();
        let seen = meeting.places.iter().filter_map(|p| observed.values.get(p)).flat_map(|s| &s.values);
        strings.extend(seen.filter_map(|v| if let Value::Text(t) = v { Some(t.as_str()) } else { None }));
        strings
    }

    fn groups_differ(self, strings: &HashSet<&str>) -> bool {
        let (mut there, mut back) = (HashMap::new(), HashMap::new());
        strings.iter().any(|text| {
            let (a, b) = (key(text, self.source), key(text, self.target));
            *there.entry(a.clone()).or_insert_with(|| b.clone()) != b || *back.entry(b).or_insert_with(|| a.clone()) != a
        })
    }

    fn order_differs(self, strings: &HashSet<&str>) -> bool {
        let mut keys: Vec<(String, String)> = strings.iter().map(|t| (key(t, self.source), key(t, self.target))).collect();
        keys.sort();
        keys.windows(2).any(|pair| pair[0].1 > pair[1].1)
    }

    /// Each part of a pattern must stand at the same places for both sides.
    fn inside_differs(self, strings: &HashSet<&str>, patterns: &[String]) -> bool {
        // A string that was seen may be a pattern that the query worked out.
        let patterns = patterns.iter().map(String::as_str).chain(strings.iter().copied());
        let parts = patterns.flat_map(|p| p.split(['%', '_', '[', ']', '^', '*', '?'])).chain(strings.iter().copied());
        let parts: HashSet<&str> = parts.filter(|p| !p.is_empty()).collect();
        let places = |text: &str, part: &str, letters: Letters| {
            let letters = Letters { ignores_blanks: false, ..letters };
            let (text, part) = (key(text, letters), key(part, letters));
            text.match_indices(&part).map(|(at, _)| text[..at].chars().count()).collect::<Vec<_>>()
        };
        let differs = |text: &str, part: &str| places(text, part, self.source) != places(text, part, self.target);
        (!self.only_inside && self.groups_differ(strings)) || strings.iter().any(|text| parts.iter().any(|part| differs(text, part)))
    }
}

/// Whether sorted strings come in another order where the collation passes over case and accents at
/// first, as a language's own does.
pub(crate) fn order_is_broken(meetings: &[Meeting], observed: &Observed) -> bool {
    let folds = Letters { ignores_case: true, ignores_accents: true, ignores_blanks: false };
    let letters = BothLetters { source: Letters::default(), target: folds, only_inside: false };
    let ordered = meetings.iter().filter(|m| m.how == How::Order);
    ordered.into_iter().any(|m| letters.order_differs(&letters.texts_of(m, observed)))
}

/// What is left of a string when all that is passed over is taken away.
fn key(text: &str, letters: Letters) -> String {
    let text = if letters.ignores_blanks { text.trim_end_matches(' ') } else { text };
    text.chars()
        .map(|c| if letters.ignores_case { c.to_lowercase().next().unwrap_or(c) } else { c })
        .flat_map(|c| match c {
            'ß' if letters.ignores_accents => ['s', 's'].into_iter().take(2),
            c => [if letters.ignores_accents { without_accent(c) } else { c }, ' '].into_iter().take(1),
        })
        .collect()
}

/// The letter under an accent, for those that made data has.
fn without_accent(c: char) -> char {
    match c {
        'à'..='å' => 'a',
        'ç' => 'c',
        'è'..='ë' => 'e',
        'ì'..='ï' => 'i',
        'ñ' => 'n',
        'ò'..='ö' => 'o',
        'ù'..='ü' => 'u',
        'À'..='Å' => 'A',
        'È'..='Ë' => 'E',
        'Ò'..='Ö' => 'O',
        'Ù'..='Ü' => 'U',
        other => other,
    }
}

/// Where a query's strings meet.
pub(crate) fn meetings(text: &Text<'_>, dialect: &Dialect) -> Vec<Meeting> {
    let Some(statement) = &text.statement else { return Vec::new() };
    let mut finder = Finder { text, spelling: Spelling::of(dialect), found: Vec::new() };
    each_statement_node(statement, &mut |node| finder.node(&node));
    finder.found
}

/// Where values are put in an order.
pub(crate) fn ordered_places(meetings: &[Meeting]) -> impl Iterator<Item = Bytes> {
    meetings.iter().filter(|m| m.how == How::Order).flat_map(|m| m.places.iter().copied())
}

struct Finder<'a> {
    text: &'a Text<'a>,
    spelling: Spelling,
    found: Vec<Meeting>,
}

type E = Expr<Spelled>;

impl Finder<'_> {
    fn meet<'e>(&mut self, exprs: impl IntoIterator<Item = &'e E>, how: How) {
        let mut meeting = Meeting { places: Vec::new(), constants: Vec::new(), how };
        for expr in exprs {
            match &expr.without_parens().kind {
                ExprKind::Literal(Literal::Text(text)) => meeting.constants.push(decode_text(text, &self.spelling).into()),
                _ => meeting.places.extend(self.text.bytes(expr.span)),
            }
        }
        if !meeting.places.is_empty() {
            self.found.push(meeting);
        }
    }

    /// A key can stand for an entry of the list.
    fn keys<'e>(&mut self, keys: impl IntoIterator<Item = &'e SortKey<Spelled>>, select: Option<&'e Select<Spelled>>) {
        for key in keys {
            let entry = select.and_then(|s| entry_of(&key.expr, s));
            self.meet(std::iter::once(&key.expr).chain(entry), How::Order);
        }
    }

    fn node(&mut self, node: &Node<'_>) {
        match node {
            Node::Query(query) => {
                let select = if let QueryBody::Select(select) = &query.body { Some(&**select) } else { None };
                self.keys(&query.order_by, select);
                if let QueryBody::SetOperation(_) = &query.body {
                    // ORDER BY behind them sorts the columns of all.
                    self.branches(&query.body, if query.order_by.is_empty() { How::Equal } else { How::Order });
                }
            }
            Node::Select(select) => self.select(select),
            Node::Expr(expr) => self.expr(expr),
            Node::SetOperation(_) | Node::Table(_) => {}
        }
    }

    /// The columns of all branches meet, place by place.
    fn branches(&mut self, body: &QueryBody<Spelled>, how: How) {
        let mut columns: Vec<Vec<&E>> = Vec::new();
        body.selects(&mut |select| {
            for (i, expr) in exprs_of(select).into_iter().enumerate() {
                if columns.len() <= i {
                    columns.push(Vec::new());
                }
                columns[i].push(expr);
            }
        });
        columns.into_iter().for_each(|column| self.meet(column, how));
    }

    fn select(&mut self, select: &Select<Spelled>) {
        let items = exprs_of(select);
        match &select.quantifier {
            Some(SelectQuantifier::Distinct) => items.iter().for_each(|item| self.meet([*item], How::Equal)),
            Some(SelectQuantifier::DistinctOn(keys)) => keys.iter().for_each(|key| self.meet([key], How::Equal)),
            _ => {}
        }
        for item in select.group_by.iter().flat_map(|g| &g.items) {
            match item {
                GroupItem::Expr(expr) => {
                    self.meet(std::iter::once(expr).chain(entry_of(expr, select)), How::Equal);
                }
                GroupItem::Super(_, keys, _) => keys.iter().for_each(|key| self.meet([key], How::Equal)),
                GroupItem::Sets(..) | GroupItem::Empty(_) => {}
            }
        }
    }

    fn expr(&mut self, expr: &E) {
        match &expr.kind {
            ExprKind::Binary(binary) => {
                let how = match binary.operator {
                    Operator::Symbol(Symbol::Equal | Symbol::NotEqual) => How::Equal,
                    Operator::Symbol(Symbol::LikeSign | Symbol::NotLike | Symbol::LikeAnyCase | Symbol::NotLikeAnyCase) => How::Inside,
                    _ => How::Order,
                };
                match (&binary.left.kind, &binary.right.kind) {
                    (ExprKind::Row(left), ExprKind::Row(right)) => left.iter().zip(right).for_each(|(a, b)| self.meet([a, b], how)),
                    _ => self.meet([&binary.left, &binary.right], how),
                }
            }
            ExprKind::Between(test) => self.meet([&test.operand, &test.low, &test.high], How::Order),
            ExprKind::Like(test) => written_out(&test.pattern).iter().for_each(|p| self.meet([&test.operand, *p], How::Inside)),
            ExprKind::Is(test) => {
                if let IsWhat::DistinctFrom(other) | IsWhat::Same(other) = &test.what {
                    self.meet([&test.operand, other], How::Equal);
                }
            }
            ExprKind::In(test) => match (&test.operand.kind, &test.set) {
                (ExprKind::Row(values), set) => self.rows(values, set),
                (_, InSet::List(items)) => self.meet(std::iter::once(&test.operand).chain(items), How::Equal),
                (_, InSet::Query(query)) => self.meet(std::iter::once(&test.operand).chain(items_of(query)), How::Equal),
                (_, InSet::Value(set)) => self.meet([&test.operand, set], How::Equal),
            },
            ExprKind::Quantified(test) => self.meet([&test.left, &test.set], How::Order),
            ExprKind::Case(case) => {
                if let Some(operand) = &case.operand {
                    self.meet(std::iter::once(operand).chain(case.branches.iter().map(|(when, _)| when)), How::Equal);
                }
            }
            ExprKind::Call(call) => {
                self.call(call);
                let Some(tail) = &call.tail else { return };
                self.keys(tail.order_by.iter().chain(&tail.within_group), None);
                self.keys(tail.keep.iter().flat_map(|(_, keys)| keys), None);
                if let Some(Over::Window(window)) = &tail.over {
                    window.partition_by.iter().for_each(|key| self.meet([key], How::Equal));
                    self.keys(&window.order_by, None);
                }
            }
            _ => {}
        }
    }

    /// The values of a row meet those at their places in the rows of a set.
    fn rows(&mut self, values: &[E], set: &InSet<Spelled>) {
        for (at, value) in values.iter().enumerate() {
            let others: Vec<&E> = match set {
                InSet::List(rows) => {
                    rows.iter().filter_map(|r| if let ExprKind::Row(row) = &r.kind { row.get(at) } else { None }).collect()
                }
                InSet::Query(query) => items_of(query).get(at).copied().into_iter().collect(),
                InSet::Value(_) => Vec::new(),
            };
            self.meet(std::iter::once(value).chain(others), How::Equal);
        }
    }

    /// The strings that meet in a call: those that the phrase compares; in one that isn't known any two
    /// may be looked for in each other.
    fn call(&mut self, call: &Call<Spelled>) {
        let arguments: Vec<&E> = call.arguments.iter().map(|a| &a.value).collect();
        let heard = hear_calls(self.spelling.dialect, &call.function.last().text, call.form, &arguments).next();
        let Some((phrase, slots)) = heard.map(|h| (h.id.phrase(), &h.slots)) else {
            return self.meet(arguments.iter().copied(), if arguments.len() > 1 { How::Inside } else { How::Order });
        };
        let compares = |e: &meaning::Edge| e.code == Some("text.collation");
        match phrase.id {
            // The value and what it is searched among, not the results.
            phrase::NULL_DECODE => {
                let searched = arguments.iter().skip(1).collect::<Vec<_>>().chunks_exact(2).map(|p| *p[0]).collect::<Vec<_>>();
                self.meet(arguments.first().copied().into_iter().chain(searched), How::Equal);
            }
            phrase::NULL_IF_EQUAL | phrase::CHOICE_NUMBER_OF => self.meet(arguments.iter().copied(), How::Equal),
            id if id.starts_with("greatest.") || id.starts_with("least.") => self.meet(arguments.iter().copied(), How::Order),
            phrase::TEXT_COMPARE => self.meet(arguments.iter().copied(), How::Order),
            _ if phrase.kind == PhraseKind::Aggregate => self.meet(arguments.iter().copied(), How::Order),
            _ if phrase.edges.iter().any(compares) => {
                // What is put in is not looked for.
                let is_put_in = |slot: &Slot| matches!(slot, Slot::Argument(at) if phrase.takes[*at].name == "replacement");
                let looked_at = arguments.iter().zip(slots).filter(|(_, slot)| !is_put_in(slot));
                self.meet(looked_at.map(|(argument, _)| *argument), How::Inside);
            }
            _ => {}
        }
    }
}

/// The patterns behind LIKE, or LIKE ANY.
fn written_out(pattern: &E) -> Vec<&E> {
    match &pattern.kind {
        ExprKind::Row(items) => items.iter().collect(),
        ExprKind::Nested(inner) => written_out(inner),
        ExprKind::Array(array) => array.items.iter().collect(),
        _ => vec![pattern],
    }
}

fn exprs_of(select: &Select<Spelled>) -> Vec<&E> {
    select.items.iter().filter_map(|i| if let SelectValue::Expr(e) = &i.value { Some(e) } else { None }).collect()
}

fn items_of(query: &Query<Spelled>) -> Vec<&E> {
    match &query.body {
        QueryBody::Select(select) => exprs_of(select),
        _ => Vec::new(),
    }
}

/// The entry of the list that a sort or group key means.
pub(crate) fn entry_of<'e>(key: &E, select: &'e Select<Spelled>) -> Option<&'e E> {
    listed(key, &exprs_of(select)).or_else(|| aliased(key, select))
}

/// The entry of the list that an ordinal means.
fn listed<'e>(expr: &E, items: &[&'e E]) -> Option<&'e E> {
    let ExprKind::Literal(Literal::Number(text)) = &expr.kind else { return None };
    items.get(text.parse::<usize>().ok()?.checked_sub(1)?).copied()
}

/// The entry of the list that a name means.
fn aliased<'e>(expr: &E, select: &'e Select<Spelled>) -> Option<&'e E> {
    let name = expr.as_name()?;
    let shown = |item: &SelectItem<Spelled>| match (&item.alias, &item.value) {
        (Some(alias), _) => alias.name.text.eq_ignore_ascii_case(&name.text),
        (None, SelectValue::Expr(Expr { kind: ExprKind::Column(column), .. })) => column.last().text.eq_ignore_ascii_case(&name.text),
        _ => false,
    };
    let item = select.items.iter().find(|i| shown(i))?;
    if let SelectValue::Expr(expr) = &item.value { Some(expr) } else { None }
}

#[cfg(test)]
mod tests {
    use super::*;

    const BINARY: Letters = Letters { ignores_case: false, ignores_accents: false, ignores_blanks: false };
    const SQL_SERVER: Letters = Letters { ignores_case: true, ignores_accents: false, ignores_blanks: true };
    const MYSQL: Letters = Letters { ignores_case: true, ignores_accents: true, ignores_blanks: false };

    /// Whether strings that meet are distinguished by one side only.
    fn is_broken(source: Letters, target: Letters, how: How, constants: &[&str], values: &[&str]) -> bool {
        let mut observed = Observed::default();
        observed.values.entry((0, 1)).or_default().values = values.iter().map(|v| Value::text(*v)).collect();
        let meeting = Meeting { places: vec![(0, 1)], constants: constants.iter().map(ToString::to_string).collect(), how };
        BothLetters::of(source, target, false).are_broken(&[meeting], &observed)
    }

    #[test]
    fn texts_that_one_side_takes_for_equal() {
        use How::{Equal, Inside, Order};
        for (source, target, how, constants, values, broken) in [
            (SQL_SERVER, BINARY, Equal, &["heron"][..], &["heron", "quay"][..], false),
            (SQL_SERVER, BINARY, Equal, &["heron"], &["Heron"], true),
            (SQL_SERVER, BINARY, Equal, &["heron"], &["heron "], true),
            (SQL_SERVER, BINARY, Equal, &["heron"], &["quay ", "Weir"], false),
            (SQL_SERVER, BINARY, Equal, &["heron"], &["h\u{e9}ron"], false),
            // Both pass over case; accents and blanks are where they differ.
            (SQL_SERVER, MYSQL, Equal, &["heron"], &["Heron"], false),
            (SQL_SERVER, MYSQL, Equal, &["heron"], &["h\u{e9}ron"], true),
            (SQL_SERVER, MYSQL, Equal, &["heron"], &["heron "], true),
            // The order of codes has capitals first.
            (SQL_SERVER, BINARY, Order, &[], &["Mill", "heron"], true),
            (SQL_SERVER, BINARY, Order, &[], &["heron", "mill"], false),
            // A pattern is looked for piece by piece.
            (SQL_SERVER, BINARY, Inside, &["h%n"], &["heron"], false),
            (SQL_SERVER, BINARY, Inside, &["h%n"], &["Heron"], true),
            (BINARY, BINARY, Inside, &["h%n"], &["Heron"], false),
        ] {
            assert_eq!(is_broken(source, target, how, constants, values), broken, "{how:?} {constants:?} {values:?}");
        }
    }
}
