//! Sort keys: columns, ordinals, aliases and expressions.

use syntax::DialectName;
use syntax::tree::{Expr, ExprKind, Literal, Select, SelectValue, SortKey, Spelled};

use super::{Clause, Compiler};
use crate::failure::{Codes, Failure, FailureKind, Outcome};
use crate::plan::{Code, Key, QueryPlan, Typed};

/// A select list as the keys see it.
pub(super) struct List<'l> {
    pub(super) items: &'l [Typed],
    pub(super) labels: &'l [String],
    /// Aliases and the places they name.
    pub(super) aliases: &'l [(String, usize)],
}

impl Compiler<'_> {
    pub(super) fn key(&self, key: &SortKey<Spelled>, typed: Typed) -> Key {
        Key {
            collation: self.collation(&typed.ty),
            code: typed.code,
            direction: key.direction,
            nulls: key.nulls.unwrap_or_else(|| self.behaviour.nulls(key.direction)),
        }
    }

    pub(super) fn check_nulls_word(&self, key: &SortKey<Spelled>) -> Outcome<()> {
        if key.nulls.is_some() && self.is(&[DialectName::SqlServer, DialectName::Mysql, DialectName::Mariadb]) {
            let codes: Codes = &[(DialectName::SqlServer, "Msg 102"), (DialectName::Mysql, "ER_PARSE_ERROR")];
            return Err(Failure::new(FailureKind::Syntax, format!("{} has no NULLS FIRST or LAST", self.dialect().title()))
                .coded(self.dialect(), codes));
        }
        Ok(())
    }

    pub(super) fn block_key(&mut self, key: &SortKey<Spelled>, select: &Select<Spelled>, list: &List<'_>) -> Outcome<Key> {
        self.check_nulls_word(key)?;
        self.block.clause = Clause::OrderBy;
        if self.dialect() == DialectName::SqlServer && matches!(&key.expr.kind, ExprKind::Literal(Literal::Text(_))) {
            return Err(Failure::invalid("a constant is no sort key").with_code("Msg 408"));
        }
        if let Some(at) = self.ordinal(&key.expr, list.items.len())? {
            return Ok(self.key(key, list.items[at].clone()));
        }
        if let Some(name) = key.expr.as_name() {
            let named: Vec<usize> = list.aliases.iter().filter(|(a, _)| self.names(a, name)).map(|(_, at)| *at).collect();
            if named.len() > 1 && self.dialect() == DialectName::Oracle {
                return Err(Failure::invalid(format!("{} names more than one entry of the list", name.text)).with_code("ORA-00960"));
            }
            if let Some(at) = named.first() {
                return Ok(self.key(key, list.items[*at].clone()));
            }
            if self.find(None, name).is_none()
                && let Some(at) = list.labels.iter().position(|l| self.names(l, name))
            {
                return Ok(self.key(key, list.items[at].clone()));
            }
            let typed = self.expr(&key.expr)?;
            return Ok(self.key(key, typed));
        }
        if let (DialectName::Bigquery, ExprKind::Column(name)) = (self.dialect(), &key.expr.kind)
            && list.aliases.iter().any(|(a, _)| self.names(a, &name.parts[0]))
        {
            // The alias hides the table of that name (seen on the GoogleSQL evaluator).
            return Err(Failure::invalid(format!("{} is a column of the list here, and has no fields", name.parts[0].text)));
        }
        // Inside an expression an alias is seen, too, but in PostgreSQL and SQL Server.
        let typed = match self.dialect() {
            DialectName::Postgres | DialectName::SqlServer => self.expr(&key.expr)?,
            dialect => {
                let first = matches!(dialect, DialectName::Oracle | DialectName::Bigquery | DialectName::Spark);
                let written_out = self.aliases_written_out(key.expr.clone(), select, first);
                self.expr(&written_out)?
            }
        };
        Ok(self.key(key, typed))
    }

    pub(super) fn output_key(&mut self, key: &SortKey<Spelled>, plan: &QueryPlan) -> Outcome<Key> {
        self.check_nulls_word(key)?;
        if let Some(at) = self.ordinal(&key.expr, plan.labels.len())? {
            return Ok(self.key(key, Typed::new(Code::Slot(0, at), plan.types[at].clone())));
        }
        let named = key.expr.as_name().is_some();
        if !named && self.is(&[DialectName::SqlServer, DialectName::Postgres]) {
            let codes: Codes = &[(DialectName::SqlServer, "Msg 104"), (DialectName::Postgres, "0A000")];
            return Err(Failure::invalid("the rows of a set operation are sorted by a column of theirs").coded(self.dialect(), codes));
        }
        let typed = self.expr(&key.expr)?;
        Ok(self.key(key, typed))
    }

    fn ordinal(&self, expr: &Expr<Spelled>, width: usize) -> Outcome<Option<usize>> {
        let ExprKind::Literal(Literal::Number(text)) = &expr.kind else { return Ok(None) };
        let codes: Codes = &[
            (DialectName::Oracle, "ORA-01785"),
            (DialectName::SqlServer, "Msg 108"),
            (DialectName::Mysql, "ER_BAD_FIELD_ERROR"),
            (DialectName::Mariadb, "ER_BAD_FIELD_ERROR"),
            (DialectName::Postgres, "42P10"),
        ];
        match text.parse::<usize>() {
            Ok(n) if (1..=width).contains(&n) => Ok(Some(n - 1)),
            _ => Err(Failure::invalid(format!("ORDER BY {text} is no place in the select list")).coded(self.dialect(), codes)),
        }
    }

    /// QUALIFY and, in most dialects, HAVING can name an entry of the list by its alias, where no column
    /// has that name, or (`first`) even then.
    pub(super) fn aliases_written_out(&self, mut expr: Expr<Spelled>, select: &Select<Spelled>, first: bool) -> Expr<Spelled> {
        let name = expr.as_name().cloned();
        let Some(name) = name.filter(|n| first || self.find(None, n).is_none()) else {
            expr.exprs_mut(&mut |child| *child = self.aliases_written_out(child.take(), select, first));
            return expr;
        };
        let meant = select.items.iter().find_map(|item| match (&item.alias, &item.value) {
            (Some(alias), SelectValue::Expr(value)) if self.names(&self.folded(&alias.name), &name) => Some(value.clone()),
            _ => None,
        });
        match meant {
            // An entry can name an entry before it; one that names itself is left to fail.
            Some(value) if self.dialect() == DialectName::Duckdb && !names_itself(&value, &name) => {
                self.aliases_written_out(value, select, first)
            }
            Some(value) => value,
            None => expr,
        }
    }
}

fn names_itself(expr: &Expr<Spelled>, name: &syntax::tree::Ident) -> bool {
    expr.any(&mut |e| e.as_name().is_some_and(|n| n.text.eq_ignore_ascii_case(&name.text)))
}
