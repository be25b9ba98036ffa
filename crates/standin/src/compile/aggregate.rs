//! Aggregates of a block.

use syntax::DialectName;
use syntax::tree::{Call, CallTail, Expr, ExprKind, NullTreatment, SetQuantifier, SortKey, Spelled};
use values::Value;

use super::{Clause, Compiler};
use crate::aggregate::AggregateKind;
use crate::arithmetic::Arithmetic;
use crate::failure::{Codes, Failure, FailureKind, Outcome};
use crate::plan::{AggregatePlan, ArithmeticCode, Code, Key, Place, Typed};
use crate::types::Type;

/// Whether the one argument is `*`.
pub(super) fn is_star(call: &Call<Spelled>) -> bool {
    matches!(call.arguments.as_slice(), [one] if matches!(one.value.kind, ExprKind::Star(None)))
}

impl Compiler<'_> {
    /// What a call is as an aggregate.
    pub(super) fn aggregate_kind(&self, call: &Call<Spelled>) -> Option<AggregateKind> {
        let name = call.function.as_single()?.text.to_uppercase();
        let within = call.tail.as_ref().is_some_and(|t| !t.within_group.is_empty());
        if within && let Some(kind) = AggregateKind::within_group(&name) {
            return Some(kind);
        }
        AggregateKind::named(&name, is_star(call), call.arguments.len(), self.dialect())
    }

    /// Whether an expression has an aggregate of its own block.
    pub(super) fn has_aggregate(&self, expr: &Expr<Spelled>) -> bool {
        expr.any(&mut |e| match &e.kind {
            ExprKind::Call(call) => !call.is_window() && self.aggregate_kind(call).is_some(),
            _ => false,
        })
    }

    /// An aggregate of the block: its rows are those before grouping.
    pub(super) fn aggregate(&mut self, call: &Call<Spelled>, kind: AggregateKind) -> Outcome<Typed> {
        self.check_place(call)?;
        let nested = std::mem::replace(&mut self.block.in_aggregate, true);
        let plan = self.aggregate_plan(call, kind);
        self.block.in_aggregate = nested;
        let plan = plan?;
        if kind == AggregateKind::Average && self.behaviour.is_mysql() && plan.result == Type::Number {
            return Ok(self.average_in_full(plan));
        }
        Ok(self.aggregated(plan))
    }

    /// The place of an aggregate of the block; one that is there already is worked out once.
    fn aggregated(&mut self, plan: AggregatePlan) -> Typed {
        let ty = plan.result.clone();
        let at = self.block.aggregates.iter().position(|a| *a == plan).unwrap_or_else(|| {
            self.block.aggregates.push(plan);
            self.block.aggregates.len() - 1
        });
        Typed::new(Code::Aggregate(at), ty)
    }

    /// MySQL goes on with more of an average's digits than it shows: a total by a count, as of a quotient.
    fn average_in_full(&mut self, plan: AggregatePlan) -> Typed {
        let part = |kind| AggregatePlan { kind, ..plan.clone() };
        let (total, count) = (self.aggregated(part(AggregateKind::Sum)), self.aggregated(part(AggregateKind::Count)));
        let types = (total.ty, count.ty);
        let (left, right) = (total.code, count.code);
        let code = ArithmeticCode { place: Place::default(), operator: Arithmetic::Average, left, right, types, result: Type::Number };
        Typed::new(Code::Arithmetic(Box::new(code)), Type::Number)
    }

    fn check_place(&self, call: &Call<Spelled>) -> Outcome<()> {
        let name = call.function.dotted().to_uppercase();
        if self.block.in_aggregate && self.dialect() != DialectName::Oracle {
            let codes: Codes =
                &[(DialectName::SqlServer, "Msg 130"), (DialectName::Mysql, "ER_INVALID_GROUP_FUNC_USE"), (DialectName::Postgres, "42803")];
            return Err(Failure::invalid(format!("{name} can't stand in another aggregate")).coded(self.dialect(), codes));
        }
        let allowed = matches!(self.block.clause, Clause::Having | Clause::List | Clause::OrderBy);
        if !allowed {
            let codes: Codes = &[
                (DialectName::Oracle, "ORA-00934"),
                (DialectName::SqlServer, "Msg 147"),
                (DialectName::Mysql, "ER_INVALID_GROUP_FUNC_USE"),
                (DialectName::Mariadb, "ER_INVALID_GROUP_FUNC_USE"),
                (DialectName::Postgres, "42803"),
            ];
            return Err(Failure::invalid(format!("the aggregate {name} can't stand here; HAVING can test it")).coded(self.dialect(), codes));
        }
        Ok(())
    }

    pub(super) fn sort_keys(&mut self, keys: &[SortKey<Spelled>]) -> Outcome<Vec<Key>> {
        keys.iter()
            .map(|k| {
                self.check_nulls_word(k)?;
                let typed = self.expr(&k.expr)?;
                Ok(self.key(k, typed))
            })
            .collect()
    }

    pub(super) fn aggregate_plan(&mut self, call: &Call<Spelled>, kind: AggregateKind) -> Outcome<AggregatePlan> {
        let no_tail = CallTail::default();
        let tail = call.tail.as_deref().unwrap_or(&no_tail);
        let name = call.function.dotted().to_uppercase();
        let mut arguments = Vec::new();
        if !is_star(call) {
            for argument in &call.arguments {
                // COUNT(t.*) and the like count rows.
                arguments.push(self.expr(&argument.value)?);
            }
        }
        self.check_arguments(&name, kind, &arguments, tail)?;
        let mut order = if tail.within_group.is_empty() { self.sort_keys(&tail.order_by)? } else { self.sort_keys(&tail.within_group)? };
        let mut parameters: Vec<Typed> = Vec::new();
        match kind {
            AggregateKind::List
                if self.dialect() != DialectName::Mysql && self.dialect() != DialectName::Mariadb && arguments.len() > 1 =>
            {
                parameters.push(arguments.remove(1));
            }
            AggregateKind::List if tail.separator.is_some() => {
                parameters.extend(tail.separator.as_ref().map(|e| self.expr(e)).transpose()?);
            }
            // What is asked for is an argument; the values are those sorted by.
            AggregateKind::PercentileContinuous | AggregateKind::PercentileDiscrete if !tail.within_group.is_empty() => {
                parameters.append(&mut arguments);
            }
            AggregateKind::PercentileContinuous | AggregateKind::PercentileDiscrete if arguments.len() > 1 => {
                parameters.push(arguments.remove(1));
            }
            AggregateKind::Rank | AggregateKind::DenseRank | AggregateKind::PercentRank | AggregateKind::CumulativeShare => {
                parameters.append(&mut arguments);
            }
            AggregateKind::Mode if !tail.within_group.is_empty() => {
                let keys: Outcome<Vec<Typed>> = tail.within_group.iter().map(|k| self.expr(&k.expr)).collect();
                arguments = keys?;
                order.clear();
            }
            AggregateKind::Pairs(_) if arguments.len() > 2 => parameters.push(arguments.remove(2)),
            AggregateKind::Sum if name == "TOTAL" => parameters.push(Typed::new(Code::Constant(Value::Float(0.0)), Type::Float)),
            _ => {}
        }
        if let Some(limit) = &tail.limit {
            if self.dialect() == DialectName::Mysql {
                return Err(Failure::new(FailureKind::Syntax, "GROUP_CONCAT has no LIMIT").with_code("ER_PARSE_ERROR"));
            }
            if kind == AggregateKind::List && parameters.is_empty() {
                parameters.push(Typed::new(Code::Constant(Value::text(",")), Type::TEXT));
            }
            let limit = self.expr(limit)?;
            parameters.push(limit);
        }
        if tail.clauses.is_some() && !matches!(kind, AggregateKind::List | AggregateKind::JsonArray | AggregateKind::JsonObject) {
            return Err(Failure::unknown(&format!("these clauses of {name}")));
        }
        let keep = match &tail.keep {
            Some((last, keys)) => Some((*last, self.sort_keys(keys)?)),
            None => None,
        };
        let filter = tail.filter.as_ref().map(|f| self.condition(f)).transpose()?;
        let mut types: Vec<Type> = arguments.iter().map(|t| t.ty.clone()).collect();
        if types.is_empty() && matches!(kind, AggregateKind::PercentileContinuous | AggregateKind::PercentileDiscrete) {
            let ordered: Outcome<Vec<Type>> = tail.within_group.iter().map(|k| self.expr(&k.expr).map(|t| t.ty)).collect();
            types = ordered?;
        }
        let result = kind.result_type(&types, self.behaviour)?;
        let collation = types.first().map_or(self.behaviour.collation, |t| self.collation(t));
        Ok(AggregatePlan {
            kind,
            arguments: arguments.into_iter().map(|t| t.code).collect(),
            types,
            result,
            distinct: call.quantifier == Some(SetQuantifier::Distinct) || name == "APPROX_COUNT_DISTINCT",
            filter,
            order,
            parameters: parameters.into_iter().map(|t| t.code).collect(),
            keep,
            limit: None,
            ignore_nulls: tail.nulls == Some(NullTreatment::Ignore),
            collation,
        })
    }

    fn check_arguments(&self, name: &str, kind: AggregateKind, arguments: &[Typed], tail: &CallTail<Spelled>) -> Outcome<()> {
        let sqlserver = self.dialect() == DialectName::SqlServer;
        if sqlserver && matches!(arguments, [one] if one.ty == Type::Null) {
            return Err(Failure::invalid(format!("{name} of NULL has no type")).with_code("Msg 8117"));
        }
        if sqlserver && kind == AggregateKind::Count && arguments.len() > 1 {
            return Err(Failure::new(FailureKind::Syntax, format!("{name} takes one argument")).with_code("Msg 102"));
        }
        let wanted = match kind {
            AggregateKind::CountRows => 0,
            AggregateKind::Pairs(_) | AggregateKind::By(_) | AggregateKind::JsonObject => 2,
            AggregateKind::Mode | AggregateKind::Median if arguments.is_empty() && !tail.within_group.is_empty() => 0,
            _ => 1,
        };
        if arguments.len() < wanted {
            let codes: Codes = &[
                (DialectName::Oracle, "ORA-00909"),
                (DialectName::SqlServer, "Msg 174"),
                (DialectName::Mysql, "ER_PARSE_ERROR"),
                (DialectName::Postgres, "42883"),
            ];
            return Err(Failure::invalid(format!("{name} wants {wanted} arguments")).coded(self.dialect(), codes));
        }
        Ok(())
    }
}
