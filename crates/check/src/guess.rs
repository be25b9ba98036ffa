//! A schema guessed from queries, where none is given: tables, columns and likely types.

use syntax::tree::{Child, Expr, ExprKind, LikeWord, Literal, Query, QueryBody, Select, Spelled, StatementKind, TableKind, TableRef};
use syntax::{Dialect, Statements, lex};
use values::{Column, DataType, Schema, Table};

/// Guesses from every query of `sql`.
pub fn guess_schema(sql: &str, dialect: &Dialect) -> Schema {
    let tokens = lex(sql, dialect);
    let mut guesser = Guesser { schema: Schema::default(), common: Vec::new(), around: Vec::new() };
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
    guesser.schema
}

struct Guesser {
    schema: Schema,
    common: Vec<String>,
    /// What the blocks around see, innermost last.
    around: Vec<InSight>,
}

/// Table references of one block: the name columns are qualified by, and the table.
type InSight = Vec<(String, String)>;

fn column(name: &str, data_type: DataType) -> Column {
    Column { name: name.to_string(), data_type, nullable: true, case_sensitive: None }
}

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
                self.common.push(table.name.text.to_lowercase().to_string());
                self.query(&table.query);
            }
        }
        self.body(&query.body, query);
    }

    fn body(&mut self, body: &QueryBody<Spelled>, query: &Query<Spelled>) {
        match body {
            QueryBody::Select(select) => self.select(select, query),
            QueryBody::SetOperation(operation) => {
                self.body(&operation.left, query);
                self.body(&operation.right, query);
            }
            QueryBody::Nested(query, _) => self.query(query),
            QueryBody::Values(_) | QueryBody::Table(..) => {}
        }
    }

    fn select(&mut self, select: &Select<Spelled>, query: &Query<Spelled>) {
        let mut sight = Vec::new();
        select.from.iter().for_each(|t| self.tables(t, &mut sight));
        let aliases: Vec<String> =
            select.items.iter().filter_map(|i| i.alias.as_ref()).map(|a| a.name.text.to_lowercase().to_string()).collect();
        self.around.push(sight.clone());
        // ORDER BY and QUALIFY can name an entry of the list.
        let qualify: Option<*const Expr<Spelled>> = select.qualify.as_ref().map(std::ptr::from_ref);
        select.exprs(&mut |e| self.expr(e, &sight, if Some(std::ptr::from_ref(e)) == qualify { &aliases } else { &[] }));
        for key in &query.order_by {
            self.expr(&key.expr, &sight, &aliases);
        }
        for table in &select.from {
            self.conditions(table, &sight);
        }
        self.around.pop();
    }

    fn tables(&mut self, table: &TableRef<Spelled>, sight: &mut InSight) {
        match &table.kind {
            TableKind::Name(name) => {
                let own = name.last().text.to_string();
                if self.common.contains(&own.to_lowercase()) || own.eq_ignore_ascii_case("dual") {
                    return;
                }
                if self.schema.table(&own).is_none() {
                    self.schema.tables.push(Table { name: own.clone(), guessed: true, ..Table::default() });
                }
                let shown = table.alias.as_ref().and_then(|a| a.name.as_ref()).map_or_else(|| own.clone(), |n| n.text.to_string());
                sight.push((shown.to_lowercase(), own));
            }
            TableKind::Derived { query, .. } => {
                // APPLY and LATERAL see the tables before them.
                self.around.push(sight.clone());
                self.query(query);
                self.around.pop();
            }
            TableKind::Join(join) => {
                self.tables(&join.left, sight);
                self.tables(&join.right, sight);
            }
            TableKind::Nested(inner) => self.tables(inner, sight),
            _ => {}
        }
    }

    fn conditions(&mut self, table: &TableRef<Spelled>, sight: &InSight) {
        table.children(&mut |child| match child {
            Child::Expr(expr) => self.expr(expr, sight, &[]),
            Child::Table(table) => self.conditions(table, sight),
            Child::Query(_) => {}
        });
    }

    fn expr(&mut self, expr: &Expr<Spelled>, sight: &InSight, aliases: &[String]) {
        match &expr.kind {
            ExprKind::Column(_) => self.column(expr, None, sight, aliases),
            ExprKind::Binary(binary) => {
                for (one, other) in [(&binary.left, &binary.right), (&binary.right, &binary.left)] {
                    if let (ExprKind::Column(_), Some(data_type)) = (&one.kind, literal_type(other)) {
                        self.column(one, Some(data_type), sight, aliases);
                    }
                }
            }
            ExprKind::Like(test) if test.word == LikeWord::Like => self.column(&test.operand, Some(DataType::TEXT), sight, aliases),
            ExprKind::Between(test) => {
                if let Some(data_type) = literal_type(&test.low) {
                    self.column(&test.operand, Some(data_type), sight, aliases);
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
                all.flatten().find(|(n, _)| *n == qualifier.text.to_lowercase().as_str())
            }
            _ if aliases.contains(&last.to_lowercase()) => None,
            _ => sight.first(),
        };
        let pseudo = ["rownum", "level", "sysdate", "current_date", "current_timestamp", "rowid"];
        let Some((_, table)) = table.cloned().filter(|_| !pseudo.contains(&last.to_lowercase().as_str())) else { return };
        let Some(table) = self.schema.tables.iter_mut().find(|t| t.name == *table) else { return };
        match table.columns.iter_mut().find(|c| c.name.eq_ignore_ascii_case(&last)) {
            Some(known) => {
                if let Some(data_type) = data_type {
                    known.data_type = data_type;
                }
            }
            None => table.columns.push(column(&last, data_type.unwrap_or_else(|| type_by_name(&last)))),
        }
    }
}

fn literal_type(expr: &Expr<Spelled>) -> Option<DataType> {
    match &expr.without_parens().kind {
        ExprKind::Literal(Literal::Number(text)) if text.contains('.') => Some(DataType::Decimal(None)),
        ExprKind::Literal(Literal::Number(_)) => Some(DataType::Integer(64)),
        ExprKind::Literal(Literal::Text(_) | Literal::Texts(_)) => Some(DataType::TEXT),
        ExprKind::Literal(Literal::Typed(typed)) if typed.word == "DATE" => Some(DataType::Date),
        ExprKind::Literal(Literal::Typed(_)) => Some(DataType::Timestamp),
        _ => None,
    }
}
