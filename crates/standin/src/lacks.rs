//! Constructs that an engine hasn't got, though our grammar reads them in every dialect: a statement
//! that would fail on the real engine fails here too. Each line was seen on a live engine, or is
//! in the dialect's manual where none can be had.

use syntax::tree::{
    AliasForm, Call, Child, Expr, ExprKind, InSet, IsWhat, LikeWord, LimitKind, Literal, Operator, Over, Query, QueryBody, Quote, Select,
    Span, Spelled, TableKind, TableRef, Window,
};
use syntax::{DialectName, DialectSet, Symbol};

use crate::failure::{Codes, Failure, FailureKind, Outcome};

use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};

/// A construct, those without it, and its name for people.
struct Lack(DialectSet, &'static str);

const fn lack(dialects: &[DialectName], name: &'static str) -> Lack {
    Lack(DialectSet::of(dialects), name)
}

const AGGREGATE_FILTER: Lack = lack(&[SqlServer, Mysql, Mariadb, Bigquery], "FILTER behind an aggregate");
const WINDOW_FILTER: Lack = lack(&[Spark], "FILTER behind a window function");
const EXCLUSION: Lack = lack(&[SqlServer, Mysql, Mariadb, Bigquery, Spark], "EXCLUDE in a window's frame");
const REFINED_WINDOW: Lack = lack(&[Spark], "window made of a named one");
const LAG_DEFAULT: Lack = lack(&[Mariadb], "third argument of LAG and LEAD");
const DISTINCT_FROM: Lack = lack(&[Mysql, Mariadb], "IS DISTINCT FROM");
const UNKNOWN: Lack = lack(&[Oracle, SqlServer, Sqlite], "IS UNKNOWN");
const ILIKE: Lack = lack(&[Oracle, SqlServer, Mysql, Mariadb, Bigquery, Sqlite], "ILIKE");
const ESCAPE: Lack = lack(&[Bigquery], "ESCAPE behind LIKE");
const PERCENT_SIGN: Lack = lack(&[Bigquery], "operator %");
const NULL_OPERAND: Lack = lack(&[Bigquery], "NULL itself as an operand");
const ROW_ORDER: Lack = lack(&[Bigquery], "order of rows");
const ROWS_IN_QUERY: Lack = lack(&[Bigquery, SqlServer], "IN with several columns of a query");
const QUANTIFIED_QUERY: Lack = lack(&[Spark, Sqlite, Bigquery], "ANY and ALL of a query");
const TYPED_LITERAL: Lack = lack(&[Sqlite], "literals such as DATE '..'");
const TEXT_AS_ALIAS: Lack = lack(&[Bigquery, Spark], "alias in text quotes");
const DERIVED_COLUMNS: Lack = lack(&[Mariadb, Bigquery, Sqlite], "column list behind a derived table");
const COMMON_TABLE_COLUMNS: Lack = lack(&[Bigquery], "column list behind the name of a common table expression");
const PLAIN_SET_OPERATOR: Lack = lack(&[Bigquery], "set operator without ALL or DISTINCT");
const VALUES: Lack = lack(&[Bigquery], "VALUES as a query");
const NESTED_QUERY: Lack = lack(&[Sqlite], "query in parentheses as an operand");
const NATURAL: Lack = lack(&[SqlServer, Bigquery], "NATURAL JOIN");
const LIMIT_EXPRESSION: Lack = lack(&[Mysql, Mariadb], "expression in LIMIT");
const LIMIT_QUERY: Lack = lack(&[Spark, Mysql, Mariadb, Bigquery], "query in LIMIT");
const FETCH_TIES: Lack = lack(&[Duckdb], "WITH TIES behind FETCH");
const DOUBLED_QUOTE: Lack = lack(&[Bigquery], "doubled quotes in strings");
const OTHER_ESCAPES: Lack = lack(&[Bigquery], "such escape in a string");
const COMPARISON_CHAIN: Lack = lack(&[Bigquery], "comparison of a comparison without parentheses");
const FROMLESS_WHERE: Lack = lack(&[Bigquery], "WHERE or ORDER BY without FROM");
const SORTED_BY_QUERY: Lack = lack(&[Spark], "query in ORDER BY that refers to the sorted one");

/// An error for the first construct that `dialect` hasn't got; `place` turns tokens into bytes.
pub(crate) fn check(query: &Query<Spelled>, dialect: DialectName, place: impl Fn(Span) -> (usize, usize)) -> Outcome<()> {
    let mut search = Search { dialect, found: None };
    search.query(query);
    match search.found {
        Some((name, span)) => {
            const SYNTAX: Codes = &[
                (Oracle, "ORA-00933"),
                (SqlServer, "Msg 102"),
                (Mysql, "ER_PARSE_ERROR"),
                (Mariadb, "ER_PARSE_ERROR"),
                (Postgres, "42601"),
            ];
            let message = format!("{} has no {name}", dialect.title());
            Err(Failure::new(FailureKind::Syntax, message).coded(dialect, SYNTAX).at(place(span)))
        }
        None => Ok(()),
    }
}

fn is_comparison(expr: &Expr<Spelled>) -> bool {
    let signs = [Symbol::Equal, Symbol::NotEqual, Symbol::Less, Symbol::LessEqual, Symbol::Greater, Symbol::GreaterEqual];
    matches!(&expr.kind, ExprKind::Binary(b) if signs.map(Operator::Symbol).contains(&b.operator))
}

struct Search {
    dialect: DialectName,
    found: Option<(&'static str, Span)>,
}

impl Search {
    fn lacks(&mut self, lack: &Lack, span: Span) {
        if self.found.is_none() && lack.0.has(self.dialect) {
            self.found = Some((lack.1, span));
        }
    }

    fn query(&mut self, query: &Query<Spelled>) {
        for table in query.with.iter().flat_map(|w| &w.tables) {
            if !table.columns.is_empty() {
                self.lacks(&COMMON_TABLE_COLUMNS, table.span);
            }
            self.query(&table.query);
        }
        self.body(&query.body);
        for key in &query.order_by {
            let is_query = |e: &Expr<Spelled>| matches!(e.kind, ExprKind::Subquery(_));
            if key.expr.any(&mut |e| is_query(e)) {
                self.lacks(&SORTED_BY_QUERY, key.expr.span);
            }
            self.expr(&key.expr);
        }
        if let (QueryBody::Select(select), Some(key)) = (&query.body, query.order_by.first())
            && select.from.is_empty()
        {
            self.lacks(&FROMLESS_WHERE, key.span);
        }
        for clause in &query.limit {
            match &clause.kind {
                LimitKind::Limit { count, .. } | LimitKind::Offset { count, .. } => self.count(count),
                LimitKind::OffsetComma(a, b) => [a, b].into_iter().for_each(|e| self.count(e)),
                LimitKind::Fetch { with_ties: true, .. } => self.lacks(&FETCH_TIES, clause.span),
                LimitKind::Fetch { .. } | LimitKind::All => {}
            }
        }
    }

    fn count(&mut self, count: &Expr<Spelled>) {
        match &count.kind {
            ExprKind::Literal(_) | ExprKind::Parameter(_) => {}
            ExprKind::Subquery(_) => self.lacks(&LIMIT_QUERY, count.span),
            _ => self.lacks(&LIMIT_EXPRESSION, count.span),
        }
    }

    fn body(&mut self, body: &QueryBody<Spelled>) {
        syntax::with_stack(|| match body {
            QueryBody::Select(select) => self.select(select),
            QueryBody::SetOperation(operation) => {
                if operation.quantifier.is_none() {
                    self.lacks(&PLAIN_SET_OPERATOR, operation.span);
                }
                self.body(&operation.left);
                self.body(&operation.right);
            }
            QueryBody::Nested(query, span) => {
                self.lacks(&NESTED_QUERY, *span);
                self.query(query);
            }
            QueryBody::Values(values) => {
                self.lacks(&VALUES, values.span);
                values.rows.iter().flatten().for_each(|e| self.expr(e));
            }
            QueryBody::Table(..) => {}
        });
    }

    fn select(&mut self, select: &Select<Spelled>) {
        for item in &select.items {
            if let Some(alias) = &item.alias
                && alias.name.quote == Quote::Text
                && alias.form != AliasForm::Equals
            {
                self.lacks(&TEXT_AS_ALIAS, alias.name.span());
            }
        }
        if let (true, Some(condition)) = (select.from.is_empty(), &select.condition) {
            self.lacks(&FROMLESS_WHERE, condition.span);
        }
        select.windows.iter().for_each(|(_, w)| self.window(w));
        select.children(&mut |child| self.child(child));
    }

    fn child(&mut self, child: Child<'_, Spelled>) {
        match child {
            Child::Expr(expr) => self.expr(expr),
            Child::Query(query) => self.query(query),
            Child::Table(table) => self.table(table),
        }
    }

    fn table(&mut self, table: &TableRef<Spelled>) {
        match &table.kind {
            TableKind::Derived { .. } if table.alias.as_ref().is_some_and(|a| !a.columns.is_empty()) => {
                self.lacks(&DERIVED_COLUMNS, table.span);
            }
            TableKind::Join(join) if join.natural => self.lacks(&NATURAL, table.span),
            _ => {}
        }
        table.children(&mut |child| self.child(child));
    }

    fn window(&mut self, window: &Window<Spelled>) {
        if window.frame.as_ref().is_some_and(|f| f.exclude.is_some()) {
            self.lacks(&EXCLUSION, window.span);
        }
        if window.base.is_some() {
            self.lacks(&REFINED_WINDOW, window.span);
        }
    }

    fn call(&mut self, call: &Call<Spelled>, span: Span) {
        let Some(tail) = &call.tail else { return };
        if tail.filter.is_some() {
            self.lacks(&AGGREGATE_FILTER, span);
            if tail.over.is_some() {
                self.lacks(&WINDOW_FILTER, span);
            }
        }
        if let Some(Over::Window(window)) = &tail.over {
            self.window(window);
            let name = call.function.last();
            if (name.is_word("lag") || name.is_word("lead")) && call.arguments.len() > 2 {
                self.lacks(&LAG_DEFAULT, span);
            }
        }
    }

    fn operator(&mut self, operator: Operator, sides: [&Expr<Spelled>; 2], span: Span) {
        if operator == Operator::Symbol(Symbol::Percent) {
            self.lacks(&PERCENT_SIGN, span);
        }
        let is_row = |e: &Expr<Spelled>| matches!(e.without_parens().kind, ExprKind::Row(_));
        let orders = [Symbol::Less, Symbol::LessEqual, Symbol::Greater, Symbol::GreaterEqual].map(Operator::Symbol);
        if orders.contains(&operator) && sides.iter().all(|s| is_row(s)) {
            self.lacks(&ROW_ORDER, span);
        }
        if sides.iter().any(|s| matches!(s.without_parens().kind, ExprKind::Literal(Literal::Null))) {
            self.lacks(&NULL_OPERAND, span);
        }
    }

    /// `'it''s'` and `'\%'`, which BigQuery reads as two strings and not at all.
    fn text(&mut self, literal: &str, span: Span) {
        let Some(at) = literal.find(['\'', '"']) else { return };
        let (prefix, body) = literal.split_at(at);
        let quote = &body[..1];
        let is_raw = prefix.contains(['r', 'R']);
        let inner = body.get(1..body.len().saturating_sub(1)).unwrap_or("");
        if inner.replace(&format!("\\{quote}"), "").contains(quote) && !body.starts_with(&quote.repeat(3)) {
            self.lacks(&DOUBLED_QUOTE, span);
        }
        let mut characters = inner.chars();
        while let Some(c) = characters.next() {
            if c == '\\' && !is_raw && !characters.next().is_some_and(|e| "abfnrtv\\?\"'`xXuU01234567\n".contains(e)) {
                self.lacks(&OTHER_ESCAPES, span);
            }
        }
    }

    fn expr(&mut self, expr: &Expr<Spelled>) {
        let span = expr.span;
        match &expr.kind {
            ExprKind::Call(call) => self.call(call, span),
            ExprKind::Is(test) => {
                match &test.what {
                    IsWhat::DistinctFrom(_) => self.lacks(&DISTINCT_FROM, span),
                    IsWhat::Unknown => self.lacks(&UNKNOWN, span),
                    _ => {}
                }
                if is_comparison(&test.operand) {
                    self.lacks(&COMPARISON_CHAIN, span);
                }
            }
            ExprKind::Literal(Literal::Text(text)) => self.text(text, span),
            ExprKind::Like(test) => {
                if test.word == LikeWord::Ilike {
                    self.lacks(&ILIKE, span);
                }
                if test.escape.is_some() {
                    self.lacks(&ESCAPE, span);
                }
            }
            ExprKind::Binary(binary) => self.operator(binary.operator, [&binary.left, &binary.right], span),
            ExprKind::In(test) => {
                let is_row = matches!(test.operand.without_parens().kind, ExprKind::Row(_));
                if is_row && matches!(test.set, InSet::Query(_)) {
                    self.lacks(&ROWS_IN_QUERY, span);
                }
            }
            ExprKind::Quantified(test) if matches!(test.set.kind, ExprKind::Subquery(_)) => self.lacks(&QUANTIFIED_QUERY, span),
            ExprKind::Literal(Literal::Typed(_)) => self.lacks(&TYPED_LITERAL, span),
            _ => {}
        }
        syntax::with_stack(|| expr.children(&mut |child| self.child(child)));
    }
}
