//! Joins, Oracle's `(+)`, and conditions of WHERE that join.

use syntax::tree::{
    Expr, ExprKind, Ident, InSet, Join as JoinTree, JoinCondition, JoinKind, LogicOperator, Operator, Spelled, TableKind, TableRef,
};
use syntax::{DialectName, Symbol};

use super::from::sees_left;
use super::select::equal_sides;
use super::{Clause, Compiler, Purpose, unify};
use crate::failure::{Failure, FailureKind, Outcome};
use crate::plan::{Code, Comparison, EqualSides, From, Join, JoinPlan, Place, SoughtPlan, Typed};

impl Compiler<'_> {
    pub(super) fn join(&mut self, join: &JoinTree<Spelled>, place: Place) -> Outcome<From> {
        let start = self.scope_width();
        let left = self.table(&join.left)?;
        let middle = self.scope_width();
        let right = match (&join.right.kind, join.kind.is_apply()) {
            (TableKind::Derived { query, .. }, true) => {
                let lateral = TableRef { kind: TableKind::Derived { lateral: true, query: query.clone() }, ..join.right.clone() };
                self.table(&lateral)?
            }
            _ => self.table(&join.right)?,
        };
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
        if kind == Join::Full && self.is(&[DialectName::Mysql, DialectName::Mariadb]) {
            return Err(Failure::new(FailureKind::Syntax, "MySQL has no FULL JOIN").with_code("ER_PARSE_ERROR"));
        }
        self.block.clause = Clause::From;
        let (conditions, merged) = self.join_condition(join, kind, start, middle, end)?;
        let partition = self.partition(join, start)?;
        if matches!(kind, Join::Semi | Join::Anti)
            && let Some(scope) = self.scopes.last_mut()
        {
            scope.columns.truncate(middle);
            scope.shown.retain(|i| *i < middle);
        }
        let lateral = sees_left(&right);
        let (equal, condition) = if lateral { (Vec::new(), all_of(conditions)) } else { split(conditions, middle) };
        Ok(From::Join(Box::new(JoinPlan {
            left,
            right,
            kind,
            equal,
            condition,
            lateral,
            start,
            middle,
            end: if matches!(kind, Join::Semi | Join::Anti) { middle } else { end },
            merged,
            place,
            partition,
        })))
    }

    /// `t PARTITION BY (..) RIGHT OUTER JOIN` of Oracle.
    fn partition(&mut self, join: &JoinTree<Spelled>, _start: usize) -> Outcome<Vec<Code>> {
        let Some(span) = join.left.qualifier.filter(|_| self.dialect() == DialectName::Oracle) else { return Ok(Vec::new()) };
        let words = self.words(span);
        if !words.first().is_some_and(|w| w.eq_ignore_ascii_case("PARTITION")) {
            return Ok(Vec::new());
        }
        let skip = 1 + u32::from(words.get(1).is_some_and(|w| w.eq_ignore_ascii_case("BY")));
        let expr = self.verbatim_expr(span.first + skip, span.end)?;
        let parts = match expr.kind {
            ExprKind::Row(items) => items,
            _ => vec![expr],
        };
        parts.iter().map(|e| self.expr(e).map(|t| t.code)).collect()
    }

    /// The conjuncts of the condition, and the columns that USING merges.
    fn join_condition(
        &mut self,
        join: &JoinTree<Spelled>,
        kind: Join,
        start: usize,
        middle: usize,
        end: usize,
    ) -> Outcome<(Vec<Code>, Vec<(usize, usize)>)> {
        if join.natural {
            let columns = self.scopes.last().map(|s| s.columns.clone()).unwrap_or_default();
            let names: Vec<Ident> = columns[start..middle]
                .iter()
                .filter(|c| !c.merged && columns[middle..end].iter().any(|d| d.name == c.name))
                .map(|c| Ident { quote: syntax::tree::Quote::Name, ..Ident::synthetic(c.name.as_str()) })
                .collect();
            return self.using(&names, kind, start, middle, end, "ORA-25155");
        }
        match &join.condition {
            JoinCondition::None => Ok((Vec::new(), Vec::new())),
            JoinCondition::On(condition) => {
                let first = if self.dialect() == DialectName::Sqlite { 0 } else { start };
                let before = std::mem::replace(&mut self.block.first_in_sight, first);
                let code = self.condition(condition);
                self.block.first_in_sight = before;
                Ok((conjuncts(code?), Vec::new()))
            }
            JoinCondition::Using(names) => self.using(names, kind, start, middle, end, "ORA-25154"),
        }
    }

    fn using(
        &mut self,
        names: &[Ident],
        kind: Join,
        start: usize,
        middle: usize,
        end: usize,
        code: &str,
    ) -> Outcome<(Vec<Code>, Vec<(usize, usize)>)> {
        let (mut tests, mut merged) = (Vec::new(), Vec::new());
        for name in names {
            let columns = self.scopes.last().map(|s| s.columns.clone()).unwrap_or_default();
            let find =
                |range: std::ops::Range<usize>| range.into_iter().find(|i| !columns[*i].merged && self.names(&columns[*i].name, name));
            let (Some(a), Some(b)) = (find(start..middle), find(middle..end)) else {
                return Err(Failure::new(FailureKind::UnknownName, format!("{} is not a column of both sides", name.text))
                    .coded(self.dialect(), crate::failure::NO_COLUMN));
            };
            tests.push(
                self.equality(Typed::new(Code::Slot(0, a), columns[a].ty.clone()), Typed::new(Code::Slot(0, b), columns[b].ty.clone()))?,
            );
            merged.push((a, b));
        }
        let shared = (self.dialect() == DialectName::Oracle).then(|| code.to_string());
        let keeps_place = self.is(&[DialectName::Sqlite, DialectName::Duckdb]);
        if let Some(scope) = self.scopes.last_mut() {
            for (a, b) in &merged {
                scope.columns[*b].merged = true;
                scope.columns[*a].shared.clone_from(&shared);
                scope.columns[*b].shared.clone_from(&shared);
            }
            if !keeps_place {
                // The shared columns come first.
                let from = scope.shown.iter().position(|i| *i >= start).unwrap_or(scope.shown.len());
                let rest = scope.shown.split_off(from);
                scope.shown.extend(merged.iter().map(|(a, _)| *a));
                scope.shown.extend(rest.into_iter().filter(|i| !merged.iter().any(|(a, _)| a == i)));
            }
        }
        if !matches!(kind, Join::Right | Join::Full) {
            merged.clear();
        }
        Ok((tests, merged))
    }

    fn equality(&self, a: Typed, b: Typed) -> Outcome<Code> {
        let rule = self.rule(&a.ty, &b.ty);
        let common = unify(&a.ty, &b.ty, Purpose::Compare, self.behaviour)?;
        Ok(Code::Compare(Comparison::Equal, Box::new((self.converted(a, &common).code, self.converted(b, &common).code)), rule))
    }

    // --- (+) -----------------------------------------------------------------------------------

    /// FROM with the joins that `(+)` makes, and what is left of WHERE.
    pub(super) fn marked_joins(
        &mut self,
        tables: &[TableRef<Spelled>],
        condition: &Expr<Spelled>,
    ) -> Outcome<(From, Option<Expr<Spelled>>)> {
        if tables.iter().any(|t| matches!(t.kind, TableKind::Join(_))) {
            return Err(Failure::invalid("(+) can't stand beside JOIN").with_code("ORA-25156"));
        }
        let parts = match &condition.kind {
            ExprKind::Logic(LogicOperator::And, parts) => parts.clone(),
            _ => vec![condition.clone()],
        };
        let names: Vec<Option<String>> = tables.iter().map(|t| self.shown_name(t.alias.as_ref(), table_name(t))).collect();
        let mut own: Vec<Vec<Expr<Spelled>>> = vec![Vec::new(); tables.len()];
        let mut needs: Vec<Vec<usize>> = vec![Vec::new(); tables.len()];
        let mut rest = Vec::new();
        for part in parts {
            let marked = self.marked_tables(&part, tables, &names, true);
            match marked.as_slice() {
                [] => rest.push(part),
                [one] => {
                    if matches!(part.without_parens().kind, ExprKind::Logic(LogicOperator::Or, _)) {
                        return Err(Failure::invalid("(+) can't stand under OR").with_code("ORA-01719"));
                    }
                    needs[*one].extend(self.marked_tables(&part, tables, &names, false).into_iter().filter(|t| t != one));
                    own[*one].push(without_marks(part));
                }
                _ => return Err(Failure::invalid("a condition has (+) on both sides").with_code("ORA-01468")),
            }
        }
        let outer = |t: usize| !own[t].is_empty();
        if (0..tables.len()).any(|t| needs[t].iter().any(|n| needs[*n].contains(&t))) {
            return Err(Failure::invalid("two tables are outer joined to each other").with_code("ORA-01416"));
        }
        let mut order: Vec<usize> = (0..tables.len()).filter(|t| !outer(*t)).collect();
        let mut left: Vec<usize> = (0..tables.len()).filter(|t| outer(*t)).collect();
        while !left.is_empty() {
            let Some(ready) = left.iter().position(|t| needs[*t].iter().all(|n| order.contains(n))) else {
                return Err(Failure::invalid("tables are outer joined in a circle").with_code("ORA-01416"));
            };
            order.push(left.remove(ready));
        }
        let mut from = From::Nothing;
        let mut places = vec![(0, 0); tables.len()];
        for at in order {
            let middle = self.scope_width();
            let right = self.table(&tables[at])?;
            places[at] = (middle, self.scope_width());
            from = if own[at].is_empty() {
                self.cross(from, right, 0, middle)
            } else {
                self.block.clause = Clause::From;
                let mut conditions = Vec::new();
                for part in &own[at] {
                    conditions.extend(conjuncts(self.condition(part)?));
                }
                let lateral = sees_left(&right);
                let (equal, condition) = if lateral { (Vec::new(), all_of(conditions)) } else { split(conditions, middle) };
                From::Join(Box::new(JoinPlan {
                    left: from,
                    right,
                    kind: Join::Left,
                    equal,
                    condition,
                    lateral,
                    start: 0,
                    middle,
                    end: self.scope_width(),
                    merged: Vec::new(),
                    place: self.place(tables[at].span),
                    partition: Vec::new(),
                }))
            };
        }
        // A star shows the tables in the order of FROM.
        if let Some(scope) = self.scopes.last_mut() {
            scope.shown = places.into_iter().flat_map(|(a, b)| a..b).collect();
        }
        let rest = match rest.len() {
            0 => None,
            1 => rest.pop(),
            _ => Some(Expr { kind: ExprKind::Logic(LogicOperator::And, rest), span: condition.span }),
        };
        Ok((from, rest))
    }

    /// The order in which tables parted by commas are joined: one that an equality joins to those before
    /// it comes first, so that fewer rows are made.
    pub(super) fn join_order(&self, tables: &[TableRef<Spelled>], condition: Option<&Expr<Spelled>>) -> Vec<usize> {
        let mut left: Vec<usize> = (0..tables.len()).collect();
        let named = |t: &TableRef<Spelled>| matches!(t.kind, TableKind::Name(_)) && t.qualifier.is_none();
        let Some(condition) = condition.filter(|_| tables.len() > 2 && tables.iter().all(named)) else { return left };
        let parts = match &condition.without_parens().kind {
            ExprKind::Logic(LogicOperator::And, parts) => parts.as_slice(),
            _ => std::slice::from_ref(condition),
        };
        let names: Vec<Option<String>> = tables.iter().map(|t| self.shown_name(t.alias.as_ref(), table_name(t))).collect();
        let is_equality = |part: &&Expr<Spelled>| matches!(&part.without_parens().kind, ExprKind::Binary(b) if b.operator == Operator::Symbol(Symbol::Equal));
        let joined: Vec<Vec<usize>> =
            parts.iter().filter(is_equality).map(|part| self.marked_tables(part, tables, &names, false)).filter(|t| t.len() == 2).collect();
        let mut order: Vec<usize> = Vec::new();
        while !left.is_empty() {
            let is_met = |t: &usize| joined.iter().any(|pair| pair.contains(t) && pair.iter().any(|other| order.contains(other)));
            let next = left.iter().position(is_met).unwrap_or(0);
            order.push(left.remove(next));
        }
        order
    }

    /// The tables whose columns stand in an expression, those with `(+)` or all.
    fn marked_tables(&self, expr: &Expr<Spelled>, tables: &[TableRef<Spelled>], names: &[Option<String>], marked: bool) -> Vec<usize> {
        let mut found = Vec::new();
        let mut look = |e: &Expr<Spelled>| {
            let ExprKind::Column(name) = &e.kind else { return };
            let at = match name.parts.as_slice() {
                [.., qualifier, _] => names.iter().position(|n| n.as_ref().is_some_and(|n| self.names(n, qualifier))),
                [column] => tables.iter().position(|t| self.has_column(t, column)),
                [] => None,
            };
            if let Some(at) = at.filter(|at| !found.contains(at)) {
                found.push(at);
            }
        };
        expr.any(&mut |e| {
            match &e.kind {
                ExprKind::OuterMark(inner) if marked => look(inner),
                ExprKind::Column(_) if !marked => look(e),
                _ => {}
            }
            false
        });
        found
    }

    fn has_column(&self, table: &TableRef<Spelled>, column: &Ident) -> bool {
        let Some(name) = table_name(table) else { return false };
        let common = self.common.iter().rev().find(|c| self.names(&c.name, name));
        match (common, self.store.table(&name.text)) {
            (Some(common), _) => common.labels.iter().any(|l| self.names(l, column)),
            (None, Some(stored)) => stored.columns.iter().any(|c| self.names(&c.name, column)),
            _ => false,
        }
    }
}

fn table_name(table: &TableRef<Spelled>) -> Option<&Ident> {
    match &table.kind {
        TableKind::Name(name) => Some(name.last()),
        _ => None,
    }
}

/// Whether `(+)` is in a condition.
pub(super) fn has_mark(expr: &Expr<Spelled>) -> bool {
    expr.any(&mut |e| matches!(e.kind, ExprKind::OuterMark(_)))
}

fn without_marks(mut expr: Expr<Spelled>) -> Expr<Spelled> {
    if let ExprKind::OuterMark(inner) = expr.kind {
        return *inner;
    }
    if let ExprKind::In(test) = &mut expr.kind
        && let InSet::List(items) = &mut test.set
    {
        items.iter_mut().for_each(|i| *i = without_marks(i.clone()));
    }
    expr.exprs_mut(&mut |child| *child = without_marks(child.take()));
    expr
}

// --- conditions ------------------------------------------------------------------------------------

pub(super) fn conjuncts(code: Code) -> Vec<Code> {
    match code {
        Code::And(parts) => parts.into_iter().flat_map(conjuncts).collect(),
        other => vec![other],
    }
}

pub(super) fn all_of(mut parts: Vec<Code>) -> Option<Code> {
    match parts.len() {
        0 => None,
        1 => parts.pop(),
        _ => Some(Code::And(parts)),
    }
}

/// What a code reads.
struct Reads {
    /// The first and last of the block's own places.
    own: Option<(usize, usize)>,
    /// Rows around the block.
    around: bool,
    /// It can move into a join.
    movable: bool,
}

fn reads(code: &Code) -> Reads {
    let mut found = Reads { own: None, around: false, movable: true };
    code.clone().walk(0, &mut |code, depth| {
        match code {
            Code::Slot(d, at) if *d == depth => {
                found.own = Some(found.own.map_or((*at, *at), |(low, high)| (low.min(*at), high.max(*at))));
            }
            Code::Slot(d, _) if *d > depth => found.around = true,
            Code::RowNumber | Code::Exists(_) | Code::Scalar(_) | Code::InQuery(..) | Code::Quantified(..) | Code::Collect(_) => {
                found.movable = false;
            }
            _ => {}
        }
        true
    });
    found
}

/// Parts a join's conjuncts into equal sides, left before right, and the rest.
fn split(conditions: Vec<Code>, middle: usize) -> (Vec<EqualSides>, Option<Code>) {
    let (mut equal, mut rest) = (Vec::new(), Vec::new());
    for code in conditions {
        match sides(&code, middle) {
            Some(sides) => equal.push(sides),
            None => rest.push(code),
        }
    }
    (equal, all_of(rest))
}

fn sides(code: &Code, middle: usize) -> Option<EqualSides> {
    turned(code, |left, right| {
        let before = left.own.is_some_and(|(_, high)| high < middle);
        let behind = right.own.is_some_and(|(low, _)| low >= middle);
        before && behind && !right.around
    })
}

/// The sides of an equality, that one on the left of which `fits` says so with the other on the right.
fn turned(code: &Code, fits: impl Fn(&Reads, &Reads) -> bool) -> Option<EqualSides> {
    let (a, b, collation, same) = equal_sides(code)?;
    let (reads_a, reads_b) = (reads(a), reads(b));
    let (left, right) = match (reads_a.movable && reads_b.movable, fits(&reads_a, &reads_b), fits(&reads_b, &reads_a)) {
        (true, true, _) => (a, b),
        (true, false, true) => (b, a),
        _ => return None,
    };
    Some(EqualSides { left: left.clone(), right: right.clone(), collation, same })
}

/// `OR`, of which some conjuncts are the same in all branches: those, for they must hold of every row.
fn shared_conjuncts(code: &Code) -> Vec<Code> {
    let Code::Or(branches) = code.bare() else { return Vec::new() };
    let Some((first, rest)) = branches.split_first() else { return Vec::new() };
    let rest: Vec<Vec<Code>> = rest.iter().map(|branch| conjuncts(branch.clone())).collect();
    let is_shared = |c: &Code| equal_sides(c).is_some() && rest.iter().all(|branch| branch.contains(c));
    conjuncts(first.clone()).into_iter().filter(is_shared).collect()
}

/// Gives an equality between a table of FROM and a row around the query to the table, which is then
/// read by an index. `None` if the equality found its table.
fn seek(from: &mut From, start: usize, code: Code) -> Option<Code> {
    let Some(sides) = sought(&code) else { return Some(code) };
    match from {
        From::Join(join) if !join.lateral => {
            let Some((low, high)) = reads(&sides.right).own else { return Some(code) };
            if high < join.middle && !matches!(join.kind, Join::Right | Join::Full) {
                return seek(&mut join.left, join.start, code);
            }
            if low >= join.middle && high < join.end && join.kind == Join::Inner {
                return seek(&mut join.right, join.middle, code);
            }
            Some(code)
        }
        From::Table(_) | From::Common(_) => {
            let table = std::mem::replace(from, From::Nothing);
            *from = From::Sought(Box::new(SoughtPlan { from: table, equal: vec![sides], start }));
            None
        }
        From::Sought(plan) => {
            plan.equal.push(sides);
            None
        }
        _ => Some(code),
    }
}

/// An equality between a row around the query, on the left, and a table's own.
fn sought(code: &Code) -> Option<EqualSides> {
    turned(code, |left, right| left.own.is_none() && left.around && right.own.is_some() && !right.around)
}

/// Moves equalities of WHERE into the joins they belong to; what stays is given back. In a hierarchy
/// every condition over several tables joins, and the others are asked after the walk.
pub(super) fn push_conditions(from: &mut From, filter: Code, hierarchy: bool) -> Option<Code> {
    let mut all = conjuncts(filter);
    let shared: Vec<Code> = all.iter().flat_map(shared_conjuncts).collect();
    all.extend(shared);
    let mut rest: Vec<Code> = all.into_iter().filter_map(|code| push(from, code, hierarchy)).collect();
    // A walk comes back to all rows of its tables.
    if !hierarchy {
        rest = rest.into_iter().filter_map(|code| seek(from, 0, code)).collect();
    }
    all_of(rest)
}

/// `None` if the condition found its join.
fn push(from: &mut From, code: Code, any: bool) -> Option<Code> {
    let From::Join(join) = from else { return Some(code) };
    let Reads { own: Some((low, high)), movable: true, .. } = reads(&code) else { return Some(code) };
    // What a side that may be missing says can't move.
    let inside_left = high < join.middle && low >= join.start;
    if inside_left && !matches!(join.kind, Join::Right | Join::Full) {
        return push(&mut join.left, code, any);
    }
    let inside_right = low >= join.middle && high < join.end;
    if inside_right && join.kind == Join::Inner && !join.lateral {
        return push(&mut join.right, code, any);
    }
    if join.kind != Join::Inner || high >= join.end || low >= join.middle || high < join.middle {
        return Some(code);
    }
    if !join.lateral
        && let Some(sides) = sides(&code, join.middle)
    {
        join.equal.push(sides);
        return None;
    }
    if !any {
        return Some(code);
    }
    let mut conditions: Vec<Code> = join.condition.take().into_iter().collect();
    conditions.push(code);
    join.condition = all_of(conditions);
    None
}
