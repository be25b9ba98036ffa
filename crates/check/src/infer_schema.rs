//! A schema guessed from queries, where none is given: tables, columns and likely types.

use std::collections::HashSet;

use syntax::tree::{
    Child, Expr, ExprKind, GroupItem, JoinCondition, LikeWord, LimitKind, Literal, ObjectName, Operator, Query, QueryBody, Select,
    SelectItem, SelectValue, Spelled, StatementKind, TableKind, TableRef,
};
use syntax::{Dialect, DialectName, Statements, Symbol, lex};
use values::{Column, DataType, Schema, Table};

/// The guess, and others in which the columns of which the queries tell nothing are strings, numbers and days.
pub fn infer_schemas(sql: &str, dialect: &Dialect) -> Vec<Schema> {
    let (schema, stated) = guessed(sql, dialect);
    let mut all = vec![schema];
    for data_type in [DataType::TEXT, NUMBER, DataType::Date] {
        let mut other = all[0].clone();
        for table in &mut other.tables {
            let name = table.name.clone();
            let is_stated = |column: &Column| stated.contains(&(name.clone(), column.name.to_lowercase()));
            table.columns.iter_mut().filter(|c| !is_stated(c)).for_each(|c| c.data_type = data_type.clone());
        }
        if !all.contains(&other) {
            all.push(other);
        }
    }
    all
}

/// Guesses from every query of `sql`.
pub fn infer_schema(sql: &str, dialect: &Dialect) -> Schema {
    guessed(sql, dialect).0
}

/// The guess, and the columns whose types the queries tell, by table and column in small letters.
fn guessed(sql: &str, dialect: &Dialect) -> (Schema, HashSet<(String, String)>) {
    let tokens = lex(sql, dialect);
    let mut guesser = Guesser {
        schema: Schema::default(),
        stated: HashSet::new(),
        common: Vec::new(),
        around: Vec::new(),
        drops_fraction: matches!(dialect.name, DialectName::SqlServer | DialectName::Postgres | DialectName::Sqlite),
    };
    for parsed in Statements::new(sql, &tokens, dialect) {
        if let Ok(statement) = parsed.tree
            && let StatementKind::Query(query) = &statement.kind
        {
            guesser.query(query);
        }
    }
    for table in &mut guesser.schema.tables {
        if table.columns.is_empty() {
            table.columns.push(column("id", DataType::Integer(64)));
        }
    }
    (guesser.schema, guesser.stated)
}

struct Guesser {
    schema: Schema,
    stated: HashSet<(String, String)>,
    /// Common table expressions: the name in small letters, and the table each shows by a star.
    common: Vec<(String, Option<Seen>)>,
    /// What the blocks around see, innermost last.
    around: Vec<InSight>,
    drops_fraction: bool,
}

/// A table reference of a block.
#[derive(Clone)]
struct Seen {
    /// The name columns are qualified by, in small letters.
    shown: String,
    table: String,
    /// Names that a derived table gives to columns of its own beside the table's.
    own: Vec<String>,
}

type InSight = Vec<Seen>;

fn column(name: &str, data_type: DataType) -> Column {
    Column { name: name.to_string(), data_type, nullable: true, case_sensitive: None }
}

/// A number with a fraction.
const NUMBER: DataType = DataType::Decimal(Some((12, 2)));

/// What a name suggests.
fn type_by_name(name: &str) -> DataType {
    let lower = name.to_lowercase();
    let ends = |endings: &[&str]| endings.iter().any(|e| lower == *e || lower.ends_with(&format!("_{e}")));
    if ends(&["day", "date", "at", "on", "since", "until"]) {
        DataType::Date
    } else if ends(&["name", "kind", "code", "text", "remark", "status", "type", "tag", "title", "label"]) {
        DataType::TEXT
    } else {
        DataType::Integer(64)
    }
}

impl Guesser {
    fn query(&mut self, query: &Query<Spelled>) {
        if let Some(with) = &query.with {
            for table in &with.tables {
                let name = table.name.text.to_lowercase().to_string();
                // A recursive one sees itself.
                self.common.push((name.clone(), None));
                self.query(&table.query);
                let shown = self.shown_through(&table.query, name.clone());
                self.common.push((name, shown));
            }
        }
        self.body(&query.body, query);
        self.counts(query);
    }

    /// A row count can be a subquery.
    fn counts(&mut self, query: &Query<Spelled>) {
        let mut counts: Vec<&Expr<Spelled>> = Vec::new();
        for clause in &query.limit {
            match &clause.kind {
                LimitKind::Limit { count, .. } | LimitKind::Offset { count, .. } | LimitKind::Fetch { count: Some(count), .. } => {
                    counts.push(count);
                }
                LimitKind::OffsetComma(offset, count) => counts.extend([offset, count]),
                LimitKind::All | LimitKind::Fetch { count: None, .. } => {}
            }
        }
        if let QueryBody::Select(select) = &query.body {
            counts.extend(select.top.as_ref().map(|top| &top.count));
        }
        counts.into_iter().for_each(|count| self.expr(count, &Vec::new(), &[]));
    }

    fn body(&mut self, body: &QueryBody<Spelled>, query: &Query<Spelled>) {
        match body {
            QueryBody::Select(select) => self.select(select, query),
            QueryBody::SetOperation(operation) => {
                self.body(&operation.left, query);
                self.body(&operation.right, query);
                self.same_types(&operation.left, &operation.right);
            }
            QueryBody::Nested(query, _) => self.query(query),
            QueryBody::Table(name, _) => {
                let mut sight = Vec::new();
                self.named_table(name, name.last().text.to_lowercase().to_string(), &mut sight);
                for key in &query.order_by {
                    self.expr(&key.expr, &sight, &[]);
                }
            }
            QueryBody::Values(_) => {}
        }
    }

    /// Columns in the same place of two branches hold values of one type: strings, if either looks so.
    fn same_types(&mut self, left: &QueryBody<Spelled>, right: &QueryBody<Spelled>) {
        let (QueryBody::Select(left), QueryBody::Select(right)) = (left, right) else { return };
        for (a, b) in left.items.iter().zip(&right.items) {
            let (Some(a), Some(b)) = (self.place_of(a, left), self.place_of(b, right)) else { continue };
            if self.schema.tables[a.0].columns[a.1].data_type.is_text() != self.schema.tables[b.0].columns[b.1].data_type.is_text() {
                for (table, column) in [a, b] {
                    self.schema.tables[table].columns[column].data_type = DataType::TEXT;
                }
            }
        }
    }

    /// The table and column an entry shows, of a block over one table.
    fn place_of(&self, item: &SelectItem<Spelled>, select: &Select<Spelled>) -> Option<(usize, usize)> {
        let SelectValue::Expr(Expr { kind: ExprKind::Column(name), .. }) = &item.value else { return None };
        let [TableRef { kind: TableKind::Name(table), .. }] = select.from.as_slice() else { return None };
        let at = self.schema.tables.iter().position(|t| t.name == table.last().text.as_str())?;
        let column = self.schema.tables[at].columns.iter().position(|c| c.name.eq_ignore_ascii_case(&name.last().text))?;
        Some((at, column))
    }

    fn select(&mut self, select: &Select<Spelled>, query: &Query<Spelled>) {
        let mut sight = Vec::new();
        select.from.iter().for_each(|t| self.tables(t, &mut sight));
        let aliases = aliases_of(select);
        self.around.push(sight.clone());
        // GROUP BY, HAVING, QUALIFY and ORDER BY can name an entry of the list.
        let mut behind: Vec<*const Expr<Spelled>> = select.having.iter().chain(&select.qualify).map(std::ptr::from_ref).collect();
        for item in select.group_by.iter().flat_map(|g| &g.items) {
            if let GroupItem::Expr(expr) = item {
                behind.push(expr);
            }
        }
        select.exprs(&mut |e| self.expr(e, &sight, if behind.contains(&std::ptr::from_ref(e)) { &aliases } else { &[] }));
        for key in &query.order_by {
            self.expr(&key.expr, &sight, &aliases);
        }
        for table in &select.from {
            self.conditions(table, &sight);
        }
        self.around.pop();
    }

    /// A table of the schema to guess, or a common one.
    fn named_table(&mut self, name: &ObjectName, shown: String, sight: &mut InSight) {
        let own = name.last().text.to_string();
        if let Some((_, seen)) = self.common.iter().rev().find(|(n, _)| *n == own.to_lowercase()) {
            sight.extend(seen.clone().map(|seen| Seen { shown, ..seen }));
            return;
        }
        if own.eq_ignore_ascii_case("dual") {
            return;
        }
        if self.schema.table(&own).is_none() {
            self.schema.tables.push(Table { name: own.clone(), guessed: true, ..Table::default() });
        }
        sight.push(Seen { shown, table: own, own: Vec::new() });
    }

    fn tables(&mut self, table: &TableRef<Spelled>, sight: &mut InSight) {
        match &table.kind {
            TableKind::Name(name) => {
                let shown = shown_name(table).unwrap_or_else(|| name.last().text.to_lowercase().to_string());
                self.named_table(name, shown, sight);
            }
            TableKind::Derived { query, .. } => {
                // APPLY and LATERAL see the tables before them.
                self.around.push(sight.clone());
                self.query(query);
                self.around.pop();
                sight.extend(self.shown_through(query, shown_name(table).unwrap_or_default()));
            }
            TableKind::Join(join) => {
                self.tables(&join.left, sight);
                self.tables(&join.right, sight);
            }
            TableKind::Nested(inner) => self.tables(inner, sight),
            _ => {}
        }
    }

    /// The table whose columns a derived table shows by a star.
    fn shown_through(&self, query: &Query<Spelled>, shown: String) -> Option<Seen> {
        let QueryBody::Select(select) = &query.body else { return None };
        let [TableRef { kind: TableKind::Name(name), .. }] = select.from.as_slice() else { return None };
        let starred = select.items.iter().any(|i| matches!(i.value, SelectValue::Star(..)));
        let known = self.schema.tables.iter().any(|t| t.name == name.last().text.as_str());
        (starred && known).then(|| Seen { shown, table: name.last().text.to_string(), own: aliases_of(select) })
    }

    fn conditions(&mut self, table: &TableRef<Spelled>, sight: &InSight) {
        if let TableKind::Join(join) = &table.kind
            && let JoinCondition::Using(names) = &join.condition
        {
            for (seen, name) in sight.iter().flat_map(|seen| names.iter().map(move |name| (seen, name))) {
                self.add(&seen.table, &name.text, None);
            }
        }
        table.children(&mut |child| match child {
            Child::Expr(expr) => self.expr(expr, sight, &[]),
            Child::Table(table) => self.conditions(table, sight),
            Child::Query(_) => {}
        });
    }

    fn expr(&mut self, expr: &Expr<Spelled>, sight: &InSight, aliases: &[String]) {
        match &expr.kind {
            ExprKind::Column(_) => self.column(expr, None, sight, aliases),
            // Where a quotient of whole numbers drops its fraction, a translation without a schema takes
            // them for numbers that have one.
            ExprKind::Binary(binary) if self.drops_fraction && binary.operator == Operator::Symbol(Symbol::Slash) => {
                self.column(&binary.left, Some(NUMBER), sight, aliases);
                self.column(&binary.right, Some(NUMBER), sight, aliases);
            }
            ExprKind::Binary(binary) => {
                for (one, other) in [(&binary.left, &binary.right), (&binary.right, &binary.left)] {
                    if let (ExprKind::Column(_), Some(data_type)) = (&one.kind, literal_type(other)) {
                        self.column(one, Some(data_type), sight, aliases);
                    }
                }
            }
            ExprKind::Cast(cast) if moment_type(&cast.to.words).is_some() => {
                self.column(&cast.operand, moment_type(&cast.to.words), sight, aliases);
            }
            ExprKind::Like(test) if test.word == LikeWord::Like => self.column(&test.operand, Some(DataType::TEXT), sight, aliases),
            ExprKind::Between(test) => {
                if let Some(data_type) = literal_type(&test.low) {
                    self.column(&test.operand, Some(data_type), sight, aliases);
                }
            }
            // DATEDIFF(day, sent, got): the first is a unit, the others are days.
            ExprKind::Call(call) if call.function.as_single().is_some_and(|f| takes_unit(&f.text)) && call.arguments.len() > 1 => {
                for argument in &call.arguments {
                    let is_unit = argument.value.as_name().is_some_and(|n| UNITS.iter().any(|u| n.text.eq_ignore_ascii_case(u)));
                    if !is_unit && matches!(argument.value.kind, ExprKind::Column(_)) {
                        self.column(&argument.value, Some(DataType::Date), sight, aliases);
                    } else if !is_unit {
                        self.expr(&argument.value, sight, aliases);
                    }
                }
                return;
            }
            ExprKind::Call(call) if call.function.as_single().is_some_and(|f| wants(&f.text).is_some()) => {
                let wanted = call.function.as_single().and_then(|f| wants(&f.text));
                if let Some(first) = call.arguments.first() {
                    self.column(&first.value, wanted, sight, aliases);
                }
            }
            // COALESCE and its kin: a constant beside a column is of its type.
            ExprKind::Call(call) if call.function.as_single().is_some_and(|f| is_first_not_null(&f.text)) => {
                if let Some(data_type) = call.arguments.iter().find_map(|a| literal_type(&a.value)) {
                    call.arguments.iter().for_each(|a| self.column(&a.value, Some(data_type.clone()), sight, aliases));
                }
            }
            ExprKind::In(test) => {
                if let syntax::tree::InSet::List(items) = &test.set
                    && let Some(data_type) = items.first().and_then(literal_type)
                {
                    self.column(&test.operand, Some(data_type), sight, aliases);
                }
            }
            _ => {}
        }
        expr.children(&mut |child| match child {
            Child::Expr(expr) => self.expr(expr, sight, aliases),
            Child::Query(query) => self.query(query),
            Child::Table(_) => {}
        });
    }

    /// A column is of the table it names; without a qualifier, of the block's first table.
    fn column(&mut self, expr: &Expr<Spelled>, data_type: Option<DataType>, sight: &InSight, aliases: &[String]) {
        let ExprKind::Column(name) = &expr.kind else { return };
        let last = name.last().text.to_string();
        let table = match name.parts.as_slice() {
            [.., qualifier, _] => {
                let all = std::iter::once(sight).chain(self.around.iter().rev());
                all.flatten().find(|seen| seen.shown == qualifier.text.to_lowercase().as_str())
            }
            _ if aliases.contains(&last.to_lowercase()) => None,
            _ => sight.first(),
        };
        let table = table.filter(|seen| !seen.own.contains(&last.to_lowercase()));
        let pseudo = ["rownum", "level", "sysdate", "current_date", "current_timestamp", "rowid"];
        let table = table.filter(|_| !pseudo.contains(&last.to_lowercase().as_str())).map(|seen| seen.table.clone());
        if let Some(table) = table {
            self.add(&table, &last, data_type);
        }
    }

    fn add(&mut self, table: &str, name: &str, data_type: Option<DataType>) {
        if data_type.is_some() {
            self.stated.insert((table.to_string(), name.to_lowercase()));
        }
        let Some(table) = self.schema.tables.iter_mut().find(|t| t.name == *table) else { return };
        match table.columns.iter_mut().find(|c| c.name.eq_ignore_ascii_case(name)) {
            Some(known) => {
                if let Some(data_type) = data_type {
                    known.data_type = data_type;
                }
            }
            None => table.columns.push(column(name, data_type.unwrap_or_else(|| type_by_name(name)))),
        }
    }
}

/// Words for units of time, as functions of dates take them.
const UNITS: [&str; 22] = [
    "year",
    "yy",
    "yyyy",
    "quarter",
    "qq",
    "month",
    "mm",
    "week",
    "wk",
    "ww",
    "day",
    "dd",
    "dayofyear",
    "weekday",
    "dw",
    "hour",
    "hh",
    "minute",
    "mi",
    "second",
    "ss",
    "millisecond",
];

/// A function of dates with a unit among its arguments.
fn takes_unit(function: &str) -> bool {
    const NAMES: [&str; 9] =
        ["datediff", "dateadd", "datepart", "datename", "datetrunc", "timestampdiff", "timestampadd", "date_diff", "date_trunc"];
    NAMES.iter().any(|n| n.eq_ignore_ascii_case(function))
}

/// The type that a function wants of its first argument, for the commonest.
fn wants(function: &str) -> Option<DataType> {
    const OF_TEXT: [&str; 22] = [
        "upper",
        "lower",
        "initcap",
        "trim",
        "ltrim",
        "rtrim",
        "length",
        "len",
        "char_length",
        "substr",
        "substring",
        "left",
        "right",
        "replace",
        "translate",
        "instr",
        "charindex",
        "strpos",
        "lpad",
        "rpad",
        "reverse",
        "split_part",
    ];
    const OF_NUMBER: [&str; 6] = ["round", "ceil", "ceiling", "floor", "trunc", "avg"];
    let among = |names: &[&str]| names.iter().any(|n| n.eq_ignore_ascii_case(function));
    if among(&OF_TEXT) { Some(DataType::TEXT) } else { among(&OF_NUMBER).then_some(NUMBER) }
}

fn is_first_not_null(function: &str) -> bool {
    ["coalesce", "ifnull", "isnull", "nvl", "nullif"].iter().any(|f| f.eq_ignore_ascii_case(function))
}

/// The type of what is cast to a day or time.
fn moment_type(words: &str) -> Option<DataType> {
    match words.to_lowercase().as_str() {
        "date" => Some(DataType::Date),
        "timestamp" | "datetime" | "datetime2" | "time" => Some(DataType::TIMESTAMP),
        _ => None,
    }
}

/// The alias of a table reference, in small letters.
fn shown_name(table: &TableRef<Spelled>) -> Option<String> {
    table.alias.as_ref().and_then(|a| a.name.as_ref()).map(|n| n.text.to_lowercase().to_string())
}

/// The aliases of a select list, in small letters.
fn aliases_of(select: &Select<Spelled>) -> Vec<String> {
    select.items.iter().filter_map(|i| i.alias.as_ref()).map(|a| a.name.text.to_lowercase().to_string()).collect()
}

fn literal_type(expr: &Expr<Spelled>) -> Option<DataType> {
    match &expr.without_parens().kind {
        ExprKind::Literal(Literal::Number(text)) if text.contains('.') => Some(NUMBER),
        ExprKind::Literal(Literal::Number(_)) => Some(DataType::Integer(64)),
        ExprKind::Literal(Literal::Text(_) | Literal::Texts(_)) => Some(DataType::TEXT),
        ExprKind::Literal(Literal::Typed(typed)) if typed.word == "DATE" => Some(DataType::Date),
        ExprKind::Literal(Literal::Typed(_)) => Some(DataType::TIMESTAMP),
        _ => None,
    }
}
