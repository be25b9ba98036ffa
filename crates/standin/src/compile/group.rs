//! GROUP BY, and what becomes of expressions in a grouped block.

use syntax::DialectName;
use syntax::tree::{Expr, ExprKind, GroupItem, GroupWord, Literal, Select, SelectValue, Spelled};
use values::Value;

use super::{Clause, Compiler};
use crate::failure::{Failure, Outcome};
use crate::plan::{AggregatePlan, Code, GroupColumn, GroupPlan, HierarchyPlan, Typed, WindowPlan};

/// The keys of a GROUP BY and which of them each grouping set has.
pub(super) struct Keys {
    keys: Vec<GroupColumn>,
    sets: Vec<Vec<usize>>,
    written: bool,
    /// GROUP BY () alone: a group even of no rows.
    empty: bool,
}

impl Compiler<'_> {
    pub(super) fn group_keys(&mut self, select: &Select<Spelled>) -> Outcome<Keys> {
        self.block.clause = Clause::GroupBy;
        let mut found = Keys { keys: Vec::new(), sets: vec![Vec::new()], written: false, empty: false };
        let Some(group) = &select.group_by else { return Ok(found) };
        found.written = true;
        if group.all_columns {
            for item in &select.items {
                match &item.value {
                    SelectValue::Expr(expr) if !self.has_aggregate(expr) => {
                        let at = self.add_key(expr, select, &mut found)?;
                        found.sets[0].push(at);
                    }
                    SelectValue::Expr(_) => {}
                    SelectValue::Star(..) => return Err(Failure::unknown("GROUP BY ALL of a star")),
                }
            }
            return Ok(found);
        }
        if let Some(word) = group.with_word {
            let exprs: Vec<Expr<Spelled>> =
                group.items.iter().filter_map(|i| if let GroupItem::Expr(e) = i { Some(e.clone()) } else { None }).collect();
            found.sets = self.grouping_sets(&GroupItem::Super(word, exprs, group.span), select, &mut found)?;
            return Ok(found);
        }
        let mut sets = vec![Vec::new()];
        for item in &group.items {
            let more = self.grouping_sets(item, select, &mut found)?;
            sets = sets.iter().flat_map(|a: &Vec<usize>| more.iter().map(move |b| a.iter().chain(b).copied().collect())).collect();
        }
        found.empty = sets.len() == 1 && sets[0].is_empty();
        found.sets = sets;
        Ok(found)
    }

    fn add_key(&mut self, expr: &Expr<Spelled>, select: &Select<Spelled>, found: &mut Keys) -> Outcome<usize> {
        let typed = self.group_key(expr, select).map_err(|f| self.placed(f, expr.span))?;
        let collation = self.collation(&typed.ty);
        if let Some(at) = found.keys.iter().position(|k| k.code == typed.code) {
            return Ok(at);
        }
        found.keys.push(GroupColumn { code: typed.code, collation });
        Ok(found.keys.len() - 1)
    }

    /// The keys of one element: several in a row value.
    fn element(&mut self, expr: &Expr<Spelled>, select: &Select<Spelled>, found: &mut Keys) -> Outcome<Vec<usize>> {
        match &expr.kind {
            ExprKind::Row(items) => items.iter().map(|e| self.add_key(e, select, found)).collect(),
            ExprKind::Nested(inner) => Ok(vec![self.add_key(inner, select, found)?]),
            _ => Ok(vec![self.add_key(expr, select, found)?]),
        }
    }

    fn grouping_sets(&mut self, item: &GroupItem<Spelled>, select: &Select<Spelled>, found: &mut Keys) -> Outcome<Vec<Vec<usize>>> {
        Ok(match item {
            GroupItem::Empty(_) => vec![Vec::new()],
            GroupItem::Expr(expr) => vec![self.element(expr, select, found)?],
            GroupItem::Sets(items, _) => {
                let mut sets = Vec::new();
                for item in items {
                    sets.extend(self.grouping_sets(item, select, found)?);
                }
                sets
            }
            GroupItem::Super(word, exprs, _) => {
                let elements: Outcome<Vec<Vec<usize>>> = exprs.iter().map(|e| self.element(e, select, found)).collect();
                let elements = elements?;
                match word {
                    GroupWord::Rollup => (0..=elements.len()).rev().map(|n| elements[..n].concat()).collect(),
                    GroupWord::Cube if elements.len() > 12 => return Err(Failure::unknown("a CUBE of so many keys")),
                    GroupWord::Cube => (0..1u32 << elements.len())
                        .rev()
                        .map(|bits| elements.iter().enumerate().filter(|(i, _)| bits >> i & 1 == 1).flat_map(|(_, e)| e.clone()).collect())
                        .collect(),
                }
            }
        })
    }

    /// A key can be an ordinal or an alias of the select list, where the dialect has it so.
    pub(super) fn group_key(&mut self, expr: &Expr<Spelled>, select: &Select<Spelled>) -> Outcome<Typed> {
        let strict = self.is(&[DialectName::Oracle, DialectName::SqlServer]);
        if strict {
            let typed = self.expr(expr)?;
            if self.dialect() == DialectName::SqlServer && matches!(typed.code, Code::Constant(_)) {
                return Err(Failure::invalid("GROUP BY wants a column, not a constant").with_code("Msg 164"));
            }
            return Ok(typed);
        }
        let item = |found: Option<&syntax::tree::SelectItem<Spelled>>| match found.map(|i| &i.value) {
            Some(SelectValue::Expr(value)) => Some(value.clone()),
            _ => None,
        };
        if let ExprKind::Literal(Literal::Number(text)) = &expr.kind
            && let Ok(number) = text.parse::<usize>()
        {
            let Some(value) = item(number.checked_sub(1).and_then(|n| select.items.get(n))) else {
                return Err(Failure::invalid(format!("GROUP BY {text} is no place in the select list"))
                    .coded(self.dialect(), &[(DialectName::Postgres, "42P10")]));
            };
            return self.expr(&value);
        }
        if let Some(name) = expr.as_name()
            && self.find(None, name).is_none()
        {
            let named = select.items.iter().find(|i| i.alias.as_ref().is_some_and(|a| self.names(&self.folded(&a.name), name)));
            if let Some(value) = item(named) {
                return self.expr(&value);
            }
        }
        self.expr(expr)
    }

    /// How the block is grouped, if it is.
    pub(super) fn group_plan(&mut self, keys: Keys, has_having: bool, width: usize) -> Option<GroupPlan> {
        let aggregates = std::mem::take(&mut self.block.aggregates);
        if !keys.written && !has_having && aggregates.is_empty() {
            return None;
        }
        // One whose arguments hold aggregates is worked out over all groups.
        Some(GroupPlan { width, keys: keys.keys, sets: keys.sets, written: keys.written && !keys.empty, aggregates, outer: Vec::new() })
    }

    pub(super) fn regrouping(&self, group: &GroupPlan, columns: usize) -> Regrouping {
        let scope = &self.scopes[self.scopes.len() - 1].columns;
        let places: Vec<usize> = group
            .keys
            .iter()
            .filter_map(|k| match k.code.bare() {
                Code::Slot(0, at) => Some(*at),
                _ => None,
            })
            .collect();
        let determined = |at: usize| {
            let Some((table, _)) = scope.get(at).and_then(|c| c.origin.as_ref()).filter(|_| self.behaviour.keys_decide) else {
                return false;
            };
            let Some(key) = self.store.table(table).and_then(|t| t.keys.first()) else { return false };
            let relation = &scope[at].relation;
            !key.is_empty()
                && key.iter().all(|column| {
                    places.iter().any(|p| {
                        scope.get(*p).is_some_and(|c| c.relation == *relation && c.origin.as_ref().is_some_and(|o| o.1 == *column))
                    })
                })
        };
        let loose = self.behaviour.loose_grouping;
        let nests: Vec<bool> = group.aggregates.iter().map(AggregatePlan::nests).collect();
        Regrouping {
            dialect: self.dialect(),
            written: group.written,
            keys: group.keys.iter().map(|k| k.code.clone()).collect(),
            width: group.width,
            allowed: (0..group.width).map(|at| loose || (at < columns && determined(at))).collect(),
            names: (0..group.width).map(|at| scope.get(at).map_or("a hidden column".to_string(), |c| c.name.clone())).collect(),
            nests,
        }
    }
}

/// What turns expressions over FROM's rows into expressions over groups.
pub(super) struct Regrouping {
    dialect: DialectName,
    written: bool,
    keys: Vec<Code>,
    width: usize,
    /// Columns that may stand outside of keys and aggregates.
    allowed: Vec<bool>,
    names: Vec<String>,
    /// Which aggregates are of aggregates.
    nests: Vec<bool>,
}

impl Regrouping {
    /// The place of an aggregate behind the keys and the mask: inner ones first.
    fn aggregate_place(&self, at: usize) -> usize {
        let before = |outer: bool| self.nests[..at].iter().filter(|n| **n == outer).count();
        let inner = self.nests.iter().filter(|n| !**n).count();
        self.width + self.keys.len() + 1 + if self.nests[at] { inner + before(true) } else { before(false) }
    }

    pub(super) fn codes<'c>(&self, codes: impl Iterator<Item = &'c mut Code>, clause: Clause) -> Outcome<()> {
        let mut wrong: Option<usize> = None;
        let mut no_key = false;
        for code in codes {
            code.walk(0, &mut |code, depth| {
                // What is watched stays so, whatever takes its place.
                if matches!(code, Code::Watched(..)) {
                    return true;
                }
                if let Some(at) = self.keys.iter().position(|k| same_at(code, k, depth)) {
                    *code = Code::Slot(depth, self.width + at);
                    return false;
                }
                match code {
                    Code::Aggregate(at) => {
                        *code = Code::Slot(depth, self.aggregate_place(*at));
                        false
                    }
                    Code::Grouping(parts) => {
                        let places: Option<Vec<Code>> = parts
                            .iter()
                            .map(|p| self.keys.iter().position(|k| same_at(p, k, depth)).map(|i| Code::Constant(Value::Integer(i as i64))))
                            .collect();
                        no_key |= places.is_none();
                        let mut placed = vec![Code::Slot(depth, self.width + self.keys.len())];
                        placed.extend(places.unwrap_or_default());
                        *code = Code::Grouping(placed);
                        false
                    }
                    Code::Slot(d, at) if *d == depth && *at < self.width => {
                        if !self.allowed[*at] {
                            wrong = wrong.or(Some(*at));
                        }
                        false
                    }
                    _ => true,
                }
            });
        }
        if no_key {
            return Err(Failure::invalid("GROUPING is asked of what is no group key")
                .coded(self.dialect, &[(DialectName::Oracle, "ORA-00979"), (DialectName::SqlServer, "Msg 8161")]));
        }
        match wrong {
            Some(at) => Err(self.not_grouped(at, clause)),
            None => Ok(()),
        }
    }

    fn not_grouped(&self, at: usize, clause: Clause) -> Failure {
        let code = match (self.dialect, clause) {
            (DialectName::Oracle, _) if !self.written => "ORA-00937",
            (DialectName::Oracle, _) => "ORA-00979",
            (DialectName::SqlServer, Clause::Having) => "Msg 8121",
            (DialectName::SqlServer, Clause::OrderBy) => "Msg 8127",
            (DialectName::SqlServer, _) => "Msg 8120",
            (DialectName::Mysql, _) if !self.written => "ER_MIX_OF_GROUP_FUNC_AND_FIELDS",
            (DialectName::Mysql, _) => "ER_WRONG_FIELD_WITH_GROUP",
            (DialectName::Postgres, _) => "42803",
            _ => "",
        };
        let failure = Failure::invalid(format!("{} is neither grouped by nor in an aggregate", self.names[at]));
        if code.is_empty() { failure } else { failure.with_code(code) }
    }

    /// Parts the aggregates of aggregates from the others, and gives their arguments places.
    pub(super) fn settle(&self, group: &mut GroupPlan) -> Outcome<()> {
        let all = std::mem::take(&mut group.aggregates);
        for (mut plan, nests) in all.into_iter().zip(&self.nests) {
            if !*nests {
                group.aggregates.push(plan);
                continue;
            }
            let mut wrong = Ok(());
            plan.walk(0, &mut |code, _| {
                if wrong.is_ok() {
                    wrong = self.codes(std::iter::once(code), Clause::List);
                }
                false
            });
            wrong?;
            group.outer.push(plan);
        }
        Ok(())
    }
}

/// Whether a code met `depth` blocks further in is a group key.
fn same_at(code: &Code, key: &Code, depth: usize) -> bool {
    let (code, key) = (code.bare(), key.bare());
    match (code, key) {
        (Code::Slot(d, at), Code::Slot(0, key)) => *d == depth && at == key,
        (Code::Constant(_) | Code::Slot(..), _) | (_, Code::Slot(..)) => false,
        _ if depth == 0 => code == key,
        _ => {
            let mut shifted = key.clone();
            shifted.walk(0, &mut |c, inner| {
                if let Code::Slot(d, _) = c
                    && *d >= inner
                {
                    *d += depth;
                }
                true
            });
            *code == shifted
        }
    }
}

impl AggregatePlan {
    /// Whether an aggregate is in its arguments.
    fn nests(&self) -> bool {
        let mut found = false;
        self.clone().walk(0, &mut |code, _| {
            found |= matches!(code, Code::Aggregate(_));
            true
        });
        found
    }
}

impl WindowPlan {
    /// Visits the codes of the window, whole.
    pub(super) fn each_code(&mut self, visit: &mut dyn FnMut(&mut Code)) {
        self.walk(0, &mut |code, _| {
            visit(code);
            false
        });
    }
}

impl GroupPlan {
    pub(super) fn each_code(&mut self, visit: &mut dyn FnMut(&mut Code)) {
        self.keys.iter_mut().for_each(|k| visit(&mut k.code));
        for aggregate in &mut self.aggregates {
            aggregate.walk(0, &mut |code, _| {
                visit(code);
                false
            });
        }
    }
}

impl HierarchyPlan {
    pub(super) fn each_code(&mut self, visit: &mut dyn FnMut(&mut Code)) {
        self.walk(0, &mut |code, _| {
            visit(code);
            false
        });
    }
}
