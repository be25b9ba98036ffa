//! Values that a word chooses from, made of one type: some engines take strings and numbers side by side,
//! others fail.
//!
//! Seen on MySQL 9.7, MariaDB 10.11, PostgreSQL 15, DuckDB 1.5, Spark 4.0, SQLite 3.54 and the GoogleSQL
//! evaluator; Oracle, NVL, NVL2, DECODE and GREATEST; SQL Server, ISNULL.

use meaning::{Constant, Meant, Note, infer, phrase};
use syntax::DialectName;
use syntax::tree::{Case, Expr, ExprKind, QueryBody, Select, SelectValue, SetOperation};
use values::DataType;

use super::Writer;
use crate::shape::{call, in_digits};

type M = Expr<Meant>;

/// The columns of a set operation, among the phrases that choose from values.
const SET: &str = "set";

/// What the source makes of strings and numbers side by side.
enum Made {
    Strings,
    /// Written strings are read as numbers.
    Numbers,
    /// What the first is.
    AsTheFirst,
}

/// The places of the arguments that a word chooses from, of so many.
fn chosen_from(phrase: &str, count: usize) -> Vec<usize> {
    match phrase {
        phrase::NULL_REPLACED | phrase::NULL_FIRST_NOT_NULL => (0..count).collect(),
        phrase::NULL_CHOSEN | phrase::CHOICE_IF | phrase::CHOICE_BY_NUMBER | phrase::CHOICE_BY_NUMBER_OR_ERROR => (1..count).collect(),
        // value, sought, result, sought, result, otherwise.
        phrase::NULL_DECODE => (2..count).filter(|at| at % 2 == 0 || (at + 1 == count && count.is_multiple_of(2))).collect(),
        _ if phrase.starts_with("greatest.") || phrase.starts_with("least.") => (0..count).collect(),
        _ => Vec::new(),
    }
}

impl Writer<'_> {
    /// The arguments of a word of one type, as far as it chooses from them.
    pub(super) fn arguments_of_common_type(&mut self, phrase: &str, arguments: &mut [M]) {
        let places = chosen_from(phrase, arguments.len());
        let mut values: Vec<&mut M> = arguments.iter_mut().enumerate().filter(|(at, _)| places.contains(at)).map(|(_, e)| e).collect();
        self.of_common_type(phrase, &mut values);
    }

    /// The results of a CASE of one type.
    pub(super) fn results_of_common_type(&mut self, case: &mut Case<Meant>) {
        let mut values: Vec<&mut M> = case.branches.iter_mut().map(|(_, value)| value).chain(&mut case.otherwise).collect();
        self.of_common_type("case", &mut values);
    }

    /// The columns of a set operation of one type, as far as its branches are select lists without stars.
    pub(super) fn branches_of_common_type(&mut self, operation: &mut SetOperation<Meant>) {
        if self.made(SET).is_none() {
            return;
        }
        let mut columns: Vec<Vec<&mut M>> = Vec::new();
        let mut is_plain = true;
        each_branch(operation, &mut |select| {
            for (at, item) in select.items.iter_mut().enumerate() {
                let SelectValue::Expr(expr) = &mut item.value else {
                    is_plain = false;
                    return;
                };
                if columns.len() <= at {
                    columns.push(Vec::new());
                }
                columns[at].push(expr);
            }
        });
        if is_plain {
            columns.iter_mut().for_each(|column| self.of_common_type(SET, column));
        }
    }

    fn of_common_type(&mut self, phrase: &str, values: &mut [&mut M]) {
        let Some(made) = self.made(phrase).filter(|_| values.len() > 1) else { return };
        let types: Vec<DataType> = values.iter().map(|v| infer(v).data_type).collect();
        if !types.iter().any(DataType::is_numeric) || !types.iter().any(DataType::is_text) {
            return;
        }
        let place = values.iter().map(|v| v.span).find(|span| span.is_read());
        if let (DialectName::Sqlite, Some(span)) = (self.from.name, place) {
            let message = "in SQLite this is a string or a number, as the value chosen is; here it is a string always";
            self.note(Note::new("type.mixed", span, message).advise("make sure that both are shown alike, or choose from one type"));
        }
        match made {
            Made::Strings => values.iter_mut().for_each(|v| in_digits(v)),
            Made::AsTheFirst if types[0].is_text() => values.iter_mut().for_each(|v| in_digits(v)),
            Made::Numbers | Made::AsTheFirst => values.iter_mut().for_each(|v| as_number(v, phrase == SET)),
        }
    }

    fn made(&self, phrase: &str) -> Option<Made> {
        use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};
        let compares = phrase.starts_with("greatest.") || phrase.starts_with("least.");
        let is_mysql = |d| matches!(d, Mysql | Mariadb);
        match self.from.name {
            same if same == self.to.name || (is_mysql(same) && is_mysql(self.to.name)) => None,
            Mariadb if compares => None,
            Mysql | Mariadb | Sqlite => Some(Made::Strings),
            Oracle => Some(Made::AsTheFirst),
            SqlServer if phrase == phrase::NULL_REPLACED => Some(Made::AsTheFirst),
            SqlServer | Postgres | Duckdb | Spark => Some(Made::Numbers),
            Bigquery => None,
        }
    }
}

/// The select blocks of a set operation, those of queries in parentheses left out.
fn each_branch<'a>(operation: &'a mut SetOperation<Meant>, visit: &mut dyn FnMut(&'a mut Select<Meant>)) {
    for side in [&mut operation.left, &mut operation.right] {
        match side {
            QueryBody::Select(select) => visit(select),
            QueryBody::SetOperation(inner) => syntax::with_stack(|| each_branch(inner, visit)),
            _ => {}
        }
    }
}

/// A written text that is a number, as that; another is cast where it must be, as the source does.
fn as_number(value: &mut M, casts: bool) {
    let ExprKind::Literal(Constant::Text { value: text, .. }) = &value.without_parens().kind else { return };
    let digits = text.trim();
    let is_plain = !digits.is_empty() && digits.bytes().all(|b| b.is_ascii_digit() || b == b'.') && digits.parse::<f64>().is_ok();
    if is_plain {
        *value = Expr { kind: ExprKind::Literal(Constant::Number(digits.into())), span: value.span };
    } else if casts {
        *value = Expr { span: value.span, ..call(phrase::CAST_TEXT_TO_NUMBER, vec![value.take()]) };
    }
}
