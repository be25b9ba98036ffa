//! FROM: tables, derived tables, joins.

use std::rc::Rc;

use syntax::DialectName;
use syntax::tree::{Join as JoinTree, JoinCondition, JoinKind, Query, Spelled, TableAlias, TableKind, TableRef};

use super::{Common, Compiler, InSight, Outcome, invalid};
use crate::failure::{Failure, FailureKind};
use crate::plan::{Code, Comparison, From, Join};

impl Compiler<'_> {
    fn scope_width(&self) -> usize {
        self.scopes.last().map_or(0, |s| s.columns.len())
    }

    fn add(&mut self, relation: Option<&str>, names: impl IntoIterator<Item = String>) {
        if let Some(scope) = self.scopes.last_mut() {
            scope.columns.extend(names.into_iter().map(|name| InSight { relation: relation.map(str::to_string), name, merged: false }));
        }
    }

    pub(super) fn table(&mut self, table: &TableRef<Spelled>) -> Outcome<From> {
        if table.qualifier.is_some() {
            return Err(Failure::unknown("samples, partitions and versions of a table"));
        }
        syntax::with_stack(|| match &table.kind {
            TableKind::Name(name) => self.named(name.last().text.as_str(), name.as_single().is_some(), table.alias.as_ref()),
            TableKind::Derived { query, .. } => self.derived(query, table.alias.as_ref(), false),
            TableKind::Nested(inner) => self.table(inner),
            TableKind::Join(join) => self.join(join),
            TableKind::Function { .. } => Err(Failure::unknown("table functions")),
            TableKind::Pivot(_) | TableKind::Unpivot(_) => Err(Failure::unknown("PIVOT and UNPIVOT")),
        })
    }

    fn named(&mut self, name: &str, single: bool, alias: Option<&TableAlias>) -> Outcome<From> {
        let shown = alias.and_then(|a| a.name.as_ref()).map_or_else(|| name.to_string(), |n| n.text.to_string());
        let common = self.common.iter().rev().find(|c| single && c.name.eq_ignore_ascii_case(name)).cloned();
        if let Some(Common { number, labels, correlated, .. }) = common {
            if correlated {
                self.reach = 0;
            }
            let labels = renamed(labels, alias)?;
            self.add(Some(&shown), labels);
            return Ok(From::Common(number));
        }
        if let Some(stored) = self.store.table(name) {
            let names = stored.columns.iter().map(|(n, _)| n.clone()).collect();
            let names = renamed(names, alias)?;
            self.add(Some(&shown), names);
            return Ok(From::Table(name.to_string()));
        }
        let has_dual = matches!(self.dialect(), DialectName::Oracle | DialectName::Mysql | DialectName::Mariadb);
        if has_dual && name.eq_ignore_ascii_case("dual") {
            if self.dialect() == DialectName::Oracle {
                self.add(Some(&shown), vec!["DUMMY".to_string()]);
                return Ok(From::Dual);
            }
            return Ok(From::Nothing);
        }
        let near = syntax::nearest(name, self.store.names()).map_or(String::new(), |n| format!(" (did you mean {n}?)"));
        let code = match self.dialect() {
            DialectName::Oracle => Some("ORA-00942"),
            DialectName::Tsql => Some("Msg 208"),
            DialectName::Mysql | DialectName::Mariadb => Some("ER_NO_SUCH_TABLE"),
            _ => None,
        };
        Err(Failure::new(FailureKind::UnknownName, format!("there is no table {name}{near}")).coded(code))
    }

    fn derived(&mut self, query: &Query<Spelled>, alias: Option<&TableAlias>, lateral: bool) -> Outcome<From> {
        let orders_without_limit = !query.order_by.is_empty() && query.limit.is_empty() && !query_has_top(query);
        if orders_without_limit && self.dialect() == DialectName::Tsql {
            return Err(invalid("ORDER BY in a derived table needs TOP or OFFSET").coded(Some("Msg 1033")));
        }
        let needs_alias = matches!(self.dialect(), DialectName::Tsql | DialectName::Mysql | DialectName::Mariadb);
        if needs_alias && alias.is_none_or(|a| a.name.is_none()) {
            return Err(invalid("every derived table must have an alias"));
        }
        // A derived table sees the blocks around, but not the tables beside it unless it is lateral.
        let own = if lateral { None } else { self.scopes.pop() };
        let plan = self.query(query);
        if let Some(own) = own {
            self.scopes.push(own);
        }
        let plan = plan?;
        // Observed on MariaDB 10.11: "Unknown column 'v.id' in 'WHERE'".
        if plan.correlated && !lateral && self.dialect() == DialectName::Mariadb {
            let message = "a derived table sees no column of the query around it";
            return Err(Failure::new(FailureKind::UnknownName, message.to_string()).coded(Some("ER_BAD_FIELD_ERROR")));
        }
        let names = renamed(plan.labels.clone(), alias)?;
        self.check_names(&names)?;
        let shown = alias.and_then(|a| a.name.as_ref()).map(|n| n.text.to_string());
        self.add(shown.as_deref(), names);
        Ok(From::Query(Rc::new(plan)))
    }

    /// What the dialect asks of the names of a derived table's columns.
    pub(super) fn check_names(&self, names: &[String]) -> Outcome<()> {
        let (unnamed, alike) = match self.dialect() {
            DialectName::Tsql => (Some("Msg 8155"), "Msg 8156"),
            DialectName::Mysql | DialectName::Mariadb => (None, "ER_DUP_FIELDNAME"),
            _ => return Ok(()),
        };
        for (at, name) in names.iter().enumerate() {
            if unnamed.is_some() && name.is_empty() {
                return Err(invalid(format!("column {} of the derived table has no name", at + 1)).coded(unnamed));
            }
            if names[..at].iter().any(|n| n.eq_ignore_ascii_case(name)) {
                return Err(invalid(format!("two columns of the derived table are named {name}")).coded(Some(alike)));
            }
        }
        Ok(())
    }

    pub(super) fn cross(&mut self, left: From, table: &TableRef<Spelled>) -> Outcome<From> {
        let left_width = self.scope_width();
        let lateral = matches!(&table.kind, TableKind::Derived { lateral: true, .. });
        let right = self.right_side(table, lateral)?;
        let right_width = self.scope_width() - left_width;
        Ok(From::Join {
            left: Box::new(left),
            right: Box::new(right),
            kind: Join::Inner,
            condition: None,
            lateral,
            left_width,
            right_width,
        })
    }

    fn right_side(&mut self, table: &TableRef<Spelled>, lateral: bool) -> Outcome<From> {
        match &table.kind {
            TableKind::Derived { query, .. } if lateral => self.derived(query, table.alias.as_ref(), true),
            _ => self.table(table),
        }
    }

    fn join(&mut self, join: &JoinTree<Spelled>) -> Outcome<From> {
        let start = self.scope_width();
        let left = self.table(&join.left)?;
        let middle = self.scope_width();
        let applies = join.kind.is_apply();
        let lateral = applies || matches!(&join.right.kind, TableKind::Derived { lateral: true, .. });
        let right = self.right_side(&join.right, lateral)?;
        if start > 0 && lateral {
            // The right side's slots count from the whole row, of which the left is a part.
            return Err(Failure::unknown("a lateral join that is not the first in FROM"));
        }
        let end = self.scope_width();
        let kind = match join.kind {
            JoinKind::Inner | JoinKind::Cross | JoinKind::Straight | JoinKind::CrossApply => Join::Inner,
            JoinKind::Left | JoinKind::OuterApply => Join::Left,
            JoinKind::Right => Join::Right,
            JoinKind::Full => Join::Full,
            JoinKind::Semi => Join::Semi,
            JoinKind::Anti => Join::Anti,
            JoinKind::Asof | JoinKind::Positional => return Err(Failure::unknown("ASOF and POSITIONAL joins")),
        };
        if kind == Join::Full && matches!(self.dialect(), DialectName::Mysql | DialectName::Mariadb) {
            return Err(Failure::new(FailureKind::Syntax, "MySQL has no FULL JOIN"));
        }
        let condition = self.join_condition(join, start, middle, end)?;
        if matches!(kind, Join::Semi | Join::Anti)
            && let Some(scope) = self.scopes.last_mut()
        {
            scope.columns.truncate(middle);
        }
        Ok(From::Join {
            left: Box::new(left),
            right: Box::new(right),
            kind,
            condition: condition.map(|c| shifted(c, start)),
            lateral,
            left_width: middle - start,
            right_width: if matches!(kind, Join::Semi | Join::Anti) { 0 } else { end - middle },
        })
    }

    fn join_condition(&mut self, join: &JoinTree<Spelled>, start: usize, middle: usize, end: usize) -> Outcome<Option<Code>> {
        if join.natural {
            return Err(Failure::unknown("NATURAL joins"));
        }
        match &join.condition {
            JoinCondition::None => Ok(None),
            JoinCondition::On(condition) => self.expr(condition).map(Some),
            JoinCondition::Using(names) => {
                if matches!(join.kind, JoinKind::Right | JoinKind::Full) {
                    return Err(Failure::unknown("USING in a RIGHT or FULL join"));
                }
                let mut tests = Vec::new();
                for name in names {
                    let Some(scope) = self.scopes.last_mut().map(|s| &mut s.columns) else { break };
                    let find = |range: std::ops::Range<usize>| range.into_iter().find(|i| scope[*i].name.eq_ignore_ascii_case(&name.text));
                    let (Some(a), Some(b)) = (find(start..middle), find(middle..end)) else {
                        return Err(Failure::new(FailureKind::UnknownName, format!("{} is not a column of both sides", name.text)));
                    };
                    scope[b].merged = true;
                    tests.push(Code::Compare(Comparison::Equal, Box::new((Code::Slot(0, a), Code::Slot(0, b)))));
                }
                Ok(Some(Code::And(tests)))
            }
        }
    }
}

/// A condition over the whole row as one over a join's own columns.
fn shifted(mut code: Code, by: usize) -> Code {
    fn shift(code: &mut Code, by: usize) {
        match code {
            Code::Slot(0, index) => *index = index.saturating_sub(by),
            _ => super::expression::each_child(code, &mut |child| shift(child, by)),
        }
    }
    if by > 0 {
        shift(&mut code, by);
    }
    code
}

fn query_has_top(query: &Query<Spelled>) -> bool {
    matches!(&query.body, syntax::tree::QueryBody::Select(s) if s.top.is_some())
}

fn renamed(names: Vec<String>, alias: Option<&TableAlias>) -> Outcome<Vec<String>> {
    let Some(alias) = alias.filter(|a| !a.columns.is_empty()) else { return Ok(names) };
    if alias.columns.len() > names.len() {
        return Err(invalid(format!("{} names for {} columns", alias.columns.len(), names.len())));
    }
    Ok(names.into_iter().enumerate().map(|(i, n)| alias.columns.get(i).map_or(n, |c| c.text.to_string())).collect())
}
