//! What a check must know of a query: its tables, its constants and the columns they stand beside,
//! whether its order shows.

use std::collections::BTreeMap;
use std::str::FromStr;

use engines::Bytes;
use syntax::tree::{Expr, ExprKind, InSet, Literal, Query, QueryBody, SelectItem, SelectValue, Spelled, StatementKind, TableKind};
use syntax::{Dialect, Spelling, decode_text};
use values::{Decimal, Schema, Table};

use crate::nodes::{Node, Text, each_node, each_statement_node};

/// Capabilities of one query.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct QueryFacts {
    /// The tables it names.
    pub tables: Vec<String>,
    /// The outermost query has an ORDER BY.
    pub ordered: bool,
    /// It is a query.
    pub is_query: bool,
    /// It changes data.
    pub changes: bool,
    /// It has a row limit, an order or a window: ties can leave the engine a choice.
    pub leaves_choice: bool,
    /// The constants it holds.
    pub(crate) constants: Constants,
    /// Constants that are compared with a column, or stand in one call with it, by the column's name
    /// in small letters.
    pub(crate) beside: BTreeMap<String, Constants>,
    /// Where columns are named, in small letters.
    pub(crate) mentions: Vec<(Bytes, String)>,
    /// A star shows columns that aren't named.
    pub(crate) has_star: bool,
    /// For each output column the name of the column it shows, if it is a plain one.
    pub(crate) output_names: Vec<Option<String>>,
    /// A function that reads the clock, if there is one.
    pub(crate) clock: Option<String>,
    /// A function that gives another value each time.
    pub(crate) random: Option<String>,
    /// The separators of paths: on a value that holds one, the source fails.
    pub(crate) separators: Vec<String>,
    /// It follows rows to other rows of their table: CONNECT BY or a recursive WITH.
    pub(crate) walks_tree: bool,
}

/// Constants of a query.
#[derive(Debug, Clone, Default, PartialEq)]
pub(crate) struct Constants {
    pub(crate) numbers: Vec<Decimal>,
    pub(crate) strings: Vec<String>,
    /// Strings that are patterns of LIKE.
    pub(crate) patterns: Vec<String>,
}

impl Constants {
    fn add(&mut self, other: &Constants) {
        let missing = |own: &[String], more: &[String]| more.iter().filter(|t| !own.contains(t)).cloned().collect::<Vec<_>>();
        let numbers: Vec<Decimal> = other.numbers.iter().filter(|n| !self.numbers.contains(n)).cloned().collect();
        self.numbers.extend(numbers);
        self.strings.extend(missing(&self.strings, &other.strings));
        self.patterns.extend(missing(&self.patterns, &other.patterns));
    }
}

impl QueryFacts {
    /// Reads them off `sql`; an unreadable text has none.
    pub fn of(sql: &str, dialect: &Dialect) -> QueryFacts {
        let text = Text::read(sql, dialect);
        QueryFacts::of_text(&text, dialect)
    }

    pub(crate) fn of_text(text: &Text<'_>, dialect: &Dialect) -> QueryFacts {
        let mut facts = QueryFacts::default();
        let Some(statement) = &text.statement else { return facts };
        if let Some(query) = text.query() {
            facts.of_query(query);
        } else {
            facts.of_change(&statement.kind);
        }
        let changed = std::mem::take(&mut facts.tables);
        let mut finder = Finder { facts: &mut facts, text, spelling: Spelling::of(dialect), common: Vec::new(), aliases: Vec::new() };
        changed.iter().for_each(|table| finder.table(table));
        each_statement_node(statement, &mut |node| finder.node(&node));
        // The names of common tables, and in a change the aliases of others, are no tables.
        let (common, aliases) = (finder.common, finder.aliases);
        let is_query = facts.is_query;
        facts.tables.retain(|t| !common.contains(&t.to_lowercase()) && (is_query || !aliases.contains(&t.to_lowercase())));
        facts
    }

    fn of_query(&mut self, query: &Query<Spelled>) {
        self.is_query = true;
        self.ordered = !query.order_by.is_empty();
        if let QueryBody::Select(select) = &query.body {
            let name = |i: &SelectItem<Spelled>| match &i.value {
                SelectValue::Expr(Expr { kind: ExprKind::Column(name), .. }) => Some(name.last().text.to_string()),
                _ => None,
            };
            self.output_names = select.items.iter().map(name).collect();
        }
    }

    fn of_change(&mut self, kind: &StatementKind<Spelled>) {
        self.changes = true;
        // What is shown of a changed table is all of it.
        self.has_star = true;
        match kind {
            StatementKind::Insert(insert) => self.tables.push(insert.table.last().text.to_string()),
            StatementKind::Update(update) => self.leaves_choice = update.top.is_some() || !update.limit.is_empty(),
            StatementKind::Delete(delete) => self.leaves_choice = delete.top.is_some() || !delete.limit.is_empty(),
            _ => {}
        }
    }

    /// With the constants of the other side's query, which may hold what the source's doesn't.
    pub(crate) fn with_constants_of(mut self, other: &QueryFacts) -> QueryFacts {
        self.constants.add(&other.constants);
        for (column, constants) in &other.beside {
            self.beside.entry(column.clone()).or_default().add(constants);
        }
        self.walks_tree |= other.walks_tree;
        let QueryFacts { constants, beside, separators, .. } = &mut self;
        for constants in std::iter::once(constants).chain(beside.values_mut()) {
            constants.strings.retain(|text| !separators.iter().any(|s| text.contains(s.as_str())));
        }
        self
    }

    /// The columns named within a part of the text.
    pub(crate) fn columns_in(&self, part: Bytes) -> impl Iterator<Item = &str> {
        self.mentions.iter().filter(move |(at, _)| at.0 >= part.0 && at.1 <= part.1).map(|(_, name)| name.as_str())
    }

    /// The tables of `schema` that the query reads, and those they refer to.
    pub(crate) fn used_tables(&self, schema: &Schema) -> Schema {
        let mut names: Vec<String> = self.tables.iter().map(|t| t.to_lowercase()).collect();
        let mut at = 0;
        while at < names.len() {
            if let Some(table) = schema.table(&names[at]) {
                for key in &table.foreign_keys {
                    let name = key.table.to_lowercase();
                    if !names.contains(&name) {
                        names.push(name);
                    }
                }
            }
            at += 1;
        }
        let tables: Vec<Table> = schema.tables.iter().filter(|t| names.contains(&t.name.to_lowercase())).cloned().collect();
        Schema { tables }
    }
}

/// Functions of the present.
const CLOCK: [&str; 26] = [
    "now",
    "sysdate",
    "systimestamp",
    "current_date",
    "current_time",
    "current_timestamp",
    "current_datetime",
    "localtime",
    "localtimestamp",
    "getdate",
    "getutcdate",
    "sysdatetime",
    "sysutcdatetime",
    "sysdatetimeoffset",
    "curdate",
    "curtime",
    "utc_date",
    "utc_time",
    "utc_timestamp",
    "unix_timestamp",
    "today",
    "clock_timestamp",
    "statement_timestamp",
    "transaction_timestamp",
    "timeofday",
    "get_current_timestamp",
];

/// Functions of chance.
const RANDOM: [&str; 12] = [
    "rand",
    "random",
    "newid",
    "newsequentialid",
    "uuid",
    "gen_random_uuid",
    "uuid_generate_v4",
    "generate_uuid",
    "sys_guid",
    "randomblob",
    "randn",
    "uuid_string",
];

struct Finder<'a> {
    facts: &'a mut QueryFacts,
    text: &'a Text<'a>,
    spelling: Spelling,
    /// Names of common table expressions: no table of the schema is meant by them.
    common: Vec<String>,
    /// Aliases of tables.
    aliases: Vec<String>,
}

impl Finder<'_> {
    fn node(&mut self, node: &Node<'_>) {
        match node {
            Node::Query(query) => self.query(query),
            Node::Select(select) => {
                self.facts.leaves_choice |= select.top.is_some();
                self.facts.walks_tree |= select.connect_by.is_some();
                self.facts.has_star |= select.items.is_empty() || select.items.iter().any(|i| matches!(i.value, SelectValue::Star(..)));
            }
            Node::Table(table) => {
                let alias = table.alias.as_ref().and_then(|a| a.name.as_ref());
                self.aliases.extend(alias.map(|a| a.text.to_lowercase().to_string()));
                if let TableKind::Name(name) = &table.kind {
                    self.table(&name.last().text);
                }
            }
            Node::Expr(expr) => self.expr(expr),
            Node::SetOperation(_) => {}
        }
    }

    fn query(&mut self, query: &Query<Spelled>) {
        for table in query.with.iter().flat_map(|w| &w.tables) {
            let name = table.name.text.to_lowercase().to_string();
            let mut reads_itself = false;
            each_node(&table.query, &mut |node| {
                reads_itself |=
                    matches!(node, Node::Table(t) if matches!(&t.kind, TableKind::Name(n) if n.last().text.eq_ignore_ascii_case(&name)));
            });
            self.facts.walks_tree |= reads_itself;
            self.common.push(name);
        }
        self.facts.leaves_choice |= !query.order_by.is_empty() || !query.limit.is_empty();
        if let QueryBody::Table(name, _) = &query.body {
            self.facts.has_star = true;
            self.table(&name.last().text);
        }
    }

    fn table(&mut self, name: &str) {
        if !name.eq_ignore_ascii_case("dual") && !self.facts.tables.iter().any(|t| t.eq_ignore_ascii_case(name)) {
            self.facts.tables.push(name.to_string());
        }
    }

    fn expr(&mut self, expr: &Expr<Spelled>) {
        match &expr.kind {
            ExprKind::Call(call) => {
                self.note_changing(&call.function.last().text);
                self.facts.leaves_choice |= call.is_window();
                if call.function.last().is_word("sys_connect_by_path") {
                    let separator = call.arguments.get(1).map(|a| self.constant(&a.value).strings);
                    self.facts.separators.extend(separator.into_iter().flatten());
                }
                self.beside(call.arguments.iter().map(|a| &a.value));
            }
            ExprKind::Column(name) => {
                self.note_changing(&name.last().text);
                self.facts.leaves_choice |= name.last().is_word("rownum");
                if let Some(bytes) = self.text.bytes(expr.span) {
                    self.facts.mentions.push((bytes, name.last().text.to_lowercase().to_string()));
                }
            }
            ExprKind::Literal(_) => {
                let own = self.constant(expr);
                self.facts.constants.add(&own);
            }
            ExprKind::Binary(binary) => self.beside([&binary.left, &binary.right]),
            ExprKind::Between(test) => self.beside([&test.operand, &test.low, &test.high]),
            ExprKind::In(test) => {
                if let InSet::List(items) = &test.set {
                    self.beside(std::iter::once(&test.operand).chain(items));
                }
            }
            ExprKind::Like(test) => {
                let mut own = self.constant(&test.pattern);
                own.patterns.append(&mut own.strings);
                self.facts.constants.add(&own);
                self.note_beside(&test.operand, &own);
            }
            ExprKind::Case(case) => self.beside(case.operand.iter().chain(case.branches.iter().map(|(when, _)| when))),
            _ => {}
        }
    }

    /// Words whose value isn't the same when the query runs again.
    fn note_changing(&mut self, word: &str) {
        let is = |names: &[&str]| names.iter().any(|n| n.eq_ignore_ascii_case(word));
        if is(&CLOCK) {
            self.facts.clock.get_or_insert_with(|| word.to_string());
        }
        if is(&RANDOM) {
            self.facts.random.get_or_insert_with(|| word.to_string());
        }
    }

    /// What a constant is; nothing for another expression.
    fn constant(&self, expr: &Expr<Spelled>) -> Constants {
        let mut own = Constants::default();
        match &expr.without_parens().kind {
            ExprKind::Literal(Literal::Number(text)) => own.numbers.extend(Decimal::from_str(text)),
            ExprKind::Literal(Literal::Text(text)) => own.strings.push(decode_text(text, &self.spelling).into()),
            ExprKind::Literal(Literal::Texts(parts)) => own.strings.push(parts.iter().map(|p| decode_text(p, &self.spelling)).collect()),
            ExprKind::Literal(Literal::Typed(typed)) => own.strings.push(decode_text(&typed.text, &self.spelling).into()),
            _ => {}
        }
        own
    }

    /// The constants among some expressions stand beside the columns in the others.
    fn beside<'e>(&mut self, exprs: impl IntoIterator<Item = &'e Expr<Spelled>>) {
        let exprs: Vec<&Expr<Spelled>> = exprs.into_iter().collect();
        let mut constants = Constants::default();
        exprs.iter().for_each(|e| constants.add(&self.constant(e)));
        if constants != Constants::default() {
            exprs.iter().for_each(|e| self.note_beside(e, &constants));
        }
    }

    fn note_beside(&mut self, expr: &Expr<Spelled>, constants: &Constants) {
        let mut names = Vec::new();
        crate::nodes::expr(expr, &mut |node| {
            if let Node::Expr(Expr { kind: ExprKind::Column(name), .. }) = node {
                names.push(name.last().text.to_lowercase().to_string());
            }
        });
        for name in names {
            self.facts.beside.entry(name).or_default().add(constants);
        }
    }
}
