//! PIVOT and UNPIVOT.

use syntax::DialectName;
use syntax::tree::{Expr, ExprKind, Ident, Literal, Pivot, Spelled, TableAlias, Unpivot};
use values::Value;

use super::{Block, Clause, Compiler, InSight, Purpose, Scope, unify};
use crate::failure::{Failure, FailureKind, NO_COLUMN, Outcome};
use crate::plan::{Body, Code, Comparison, From, GroupColumn, GroupPlan, QueryPlan, SelectPlan, Typed, UnpivotPlan};
use crate::types::Type;

impl Compiler<'_> {
    /// The table to be turned, compiled by itself.
    fn turned(&mut self, input: &syntax::tree::TableRef<Spelled>) -> Outcome<(From, Scope)> {
        let own = self.scopes.pop();
        let block = std::mem::replace(&mut self.block, Block::new());
        self.scopes.push(Scope::default());
        let from = self.table(input);
        let scope = self.scopes.pop().unwrap_or_default();
        self.block = block;
        if let Some(own) = own {
            self.scopes.push(own);
        }
        Ok((from?, scope))
    }

    fn column_at(&self, scope: &Scope, name: &Ident) -> Outcome<usize> {
        scope.columns.iter().position(|c| self.names(&c.name, name)).ok_or_else(|| {
            Failure::new(FailureKind::UnknownName, format!("there is no column {}", name.text)).coded(self.dialect(), NO_COLUMN)
        })
    }

    pub(super) fn pivot(&mut self, pivot: &Pivot<Spelled>, alias: Option<&TableAlias>) -> Outcome<From> {
        let (from, scope) = self.turned(&pivot.input)?;
        let own = self.scopes.pop();
        let block = std::mem::replace(&mut self.block, Block::new());
        self.scopes.push(scope.clone());
        let plan = self.pivot_plan(pivot, from, &scope);
        self.scopes.pop();
        self.block = block;
        if let Some(own) = own {
            self.scopes.push(own);
        }
        let (select, labels, types) = plan?;
        let plan = QueryPlan::of(Body::Select(Box::new(select)), labels, types);
        self.derived_plan(plan, alias)
    }

    fn derived_plan(&mut self, plan: QueryPlan, alias: Option<&TableAlias>) -> Outcome<From> {
        let labels = self.renamed(plan.labels.clone(), alias)?;
        let shown = self.shown_name(alias, None);
        let columns: Vec<InSight> =
            labels.into_iter().zip(&plan.types).map(|(l, t)| InSight::new(shown.as_deref(), l, t.clone())).collect();
        self.add(columns);
        Ok(From::Query { plan: Box::new(plan), lateral: false })
    }

    fn pivot_plan(&mut self, pivot: &Pivot<Spelled>, from: From, scope: &Scope) -> Outcome<(SelectPlan, Vec<String>, Vec<Type>)> {
        self.block.clause = Clause::List;
        let turned: Vec<Typed> = pivot.columns.iter().map(|e| self.expr(e)).collect::<Outcome<_>>()?;
        // For each value of the IN list each aggregate, over the rows with that value.
        let (mut labels, mut types, mut items) = (Vec::new(), Vec::new(), Vec::new());
        for (value, name) in &pivot.values {
            let condition = self.pivot_condition(&turned, value)?;
            for (aggregate, suffix) in &pivot.aggregates {
                let typed = self.expr(aggregate)?;
                let Code::Aggregate(at) = *typed.code.bare() else { return Err(Failure::unknown("a PIVOT of what is no aggregate")) };
                let mut plan = self.block.aggregates[at].clone();
                plan.filter = Some(condition.clone());
                self.block.aggregates.push(plan);
                items.push(Code::Aggregate(self.block.aggregates.len() - 1));
                types.push(typed.ty);
                let value_name = name.as_ref().map_or_else(|| self.pivot_label(value), |n| self.folded(n));
                labels.push(match suffix {
                    Some(suffix) => format!("{value_name}_{}", self.folded(suffix)),
                    None => value_name,
                });
            }
        }
        let mut used: Vec<usize> = Vec::new();
        let mut note = |code: &Code| {
            code.clone().walk(0, &mut |c, depth| {
                if let Code::Slot(d, at) = c
                    && *d == depth
                {
                    used.push(*at);
                }
                true
            });
        };
        turned.iter().for_each(|t| note(&t.code));
        self.block.aggregates.iter().flat_map(|a| &a.arguments).for_each(&mut note);
        let kept: Vec<usize> = scope.shown.iter().copied().filter(|i| !used.contains(i) && !scope.columns[*i].merged).collect();
        let keys: Vec<GroupColumn> =
            kept.iter().map(|i| GroupColumn { code: Code::Slot(0, *i), collation: self.collation(&scope.columns[*i].ty) }).collect();
        // In place of the aggregates first compiled only their filtered copies are wanted; the rest
        // does no harm.
        let mut group = GroupPlan {
            width: scope.columns.len(),
            sets: vec![(0..keys.len()).collect()],
            written: true,
            keys,
            aggregates: std::mem::take(&mut self.block.aggregates),
            outer: Vec::new(),
        };
        group.written = !group.keys.is_empty();
        let regroup = self.regrouping(&group, scope.columns.len());
        let mut all: Vec<Code> = kept.iter().map(|i| Code::Slot(0, *i)).collect();
        all.append(&mut items);
        regroup.codes(all.iter_mut(), Clause::List)?;
        regroup.settle(&mut group)?;
        let names = kept.iter().map(|i| scope.columns[*i].name.clone()).chain(labels).collect();
        let types = kept.iter().map(|i| scope.columns[*i].ty.clone()).chain(types).collect();
        let select = SelectPlan { items: all, group: Some(group), ..super::select::plain(from) };
        Ok((select, names, types))
    }

    fn pivot_condition(&mut self, turned: &[Typed], value: &Expr<Spelled>) -> Outcome<Code> {
        let values: Vec<Expr<Spelled>> = match &value.kind {
            ExprKind::Row(items) => items.clone(),
            _ => vec![value.clone()],
        };
        let mut tests = Vec::new();
        for (column, value) in turned.iter().zip(values) {
            // SQL Server names the values like columns.
            let value = match value.as_name() {
                Some(name) if self.dialect() == DialectName::SqlServer => Typed::new(
                    Code::Constant(Value::text(name.text.as_str())),
                    Type::Text(crate::types::TextType { literal: true, ..crate::types::TextType::default() }),
                ),
                _ => self.expr(&value)?,
            };
            let rule = self.rule(&column.ty, &value.ty);
            let common = unify(&column.ty, &value.ty, Purpose::Compare, self.behaviour)?;
            tests.push(Code::Compare(
                Comparison::Equal,
                Box::new((self.converted(column.clone(), &common).code, self.converted(value, &common).code)),
                rule,
            ));
        }
        Ok(super::join::all_of(tests).unwrap_or(Code::Constant(Value::Boolean(true))))
    }

    /// A value's name as a column: as written in Oracle, its text elsewhere.
    fn pivot_label(&self, value: &Expr<Spelled>) -> String {
        match &value.kind {
            ExprKind::Literal(Literal::Text(text)) if self.dialect() != DialectName::Oracle => {
                syntax::decode_text(text, &self.behaviour.spelling).into()
            }
            ExprKind::Column(name) => name.last().text.to_string(),
            _ => self.text(value.span).to_string(),
        }
    }

    pub(super) fn unpivot(&mut self, unpivot: &Unpivot<Spelled>, alias: Option<&TableAlias>) -> Outcome<From> {
        let (from, scope) = self.turned(&unpivot.input)?;
        let input = self.all_columns(from, scope.clone());
        let mut groups = Vec::new();
        let mut types: Vec<Type> = vec![Type::Null; unpivot.values.len()];
        for (columns, shown) in &unpivot.columns {
            let mut places = Vec::new();
            for column in columns {
                let Some(name) = column.as_name() else { return Err(Failure::unknown("UNPIVOT of what is no column")) };
                places.push(self.column_at(&scope, name)?);
            }
            for (ty, at) in types.iter_mut().zip(&places) {
                *ty = self.unpivot_type(ty, &scope.columns[*at].ty)?;
            }
            let label = places.iter().map(|at| scope.columns[*at].name.clone()).collect::<Vec<_>>().join("_");
            let name = match shown.as_ref().map(|e| &e.kind) {
                Some(ExprKind::Column(name)) => Value::text(name.last().text.as_str()),
                Some(_) => match shown.as_ref().map(|e| self.expr(e)).transpose()?.map(|t| t.code) {
                    Some(Code::Constant(value)) => value,
                    _ => return Err(Failure::unknown("a name of UNPIVOT that is no constant")),
                },
                None => Value::text(label),
            };
            groups.push((vec![name], places));
        }
        let turned: Vec<usize> = groups.iter().flat_map(|(_, places)| places.clone()).collect();
        let kept: Vec<usize> = (0..scope.columns.len()).filter(|i| !turned.contains(i)).collect();
        let shown = self.shown_name(alias, None);
        let relation = shown.as_deref();
        let mut columns: Vec<InSight> =
            kept.iter().map(|i| InSight::new(relation, scope.columns[*i].name.clone(), scope.columns[*i].ty.clone())).collect();
        columns.push(InSight::new(relation, self.folded(&unpivot.name), Type::TEXT));
        columns.extend(unpivot.values.iter().zip(types).map(|(n, t)| InSight::new(relation, self.folded(n), t)));
        self.add(columns);
        Ok(From::Unpivot(Box::new(UnpivotPlan { input, kept, groups, include_nulls: unpivot.include_nulls == Some(true) })))
    }

    /// SQL Server wants the columns to be of one type and length.
    fn unpivot_type(&self, known: &Type, more: &Type) -> Outcome<Type> {
        if self.dialect() == DialectName::SqlServer && *known != Type::Null && *more != Type::Null && known.family() != more.family() {
            return Err(Failure::invalid("UNPIVOT wants columns of one type").with_code("Msg 8167"));
        }
        unify(known, more, Purpose::Set, self.behaviour)
    }
}
