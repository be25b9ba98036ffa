//! Window functions of a block.

use syntax::DialectName;
use syntax::tree::{
    Call, CallTail, Expr, ExprKind, Frame, FrameBound, FrameUnit, Ident, NullTreatment, Over, SetQuantifier, Spelled, Window,
};

use super::{Clause, Compiler};
use crate::failure::{Codes, Failure, FailureKind, Outcome};
use crate::plan::{Bound, Code, FramePlan, GroupColumn, Typed, WindowPlan};
use crate::types::{Family, Type};
use crate::window::WindowKind;

impl Compiler<'_> {
    pub(super) fn window(&mut self, call: &Call<Spelled>, over: &Over<Spelled>) -> Outcome<Typed> {
        let name = call.function.dotted().to_uppercase();
        self.check_window_place(&name)?;
        let window = self.whole_window(over)?;
        let no_tail = CallTail::default();
        let tail = call.tail.as_deref().unwrap_or(&no_tail);
        let (kind, most) = match WindowKind::named(&name, self.dialect()) {
            Some(known) => known,
            None if self.aggregate_kind(call).is_some() => (WindowKind::Aggregate, usize::MAX),
            None if WindowKind::is_known(&name) => {
                return Err(Failure::invalid(format!("{} has no {name}", self.dialect().title()))
                    .coded(self.dialect(), crate::failure::NO_FUNCTION));
            }
            None => return Err(Failure::unknown(&format!("the window function {name}"))),
        };
        let arguments = if kind == WindowKind::Aggregate {
            Vec::new()
        } else {
            call.arguments.iter().map(|a| self.expr(&a.value)).collect::<Outcome<Vec<Typed>>>()?
        };
        if arguments.len() > most {
            return Err(Failure::invalid(format!("{name} takes {most} arguments at most"))
                .coded(self.dialect(), &[(DialectName::Oracle, "ORA-00909"), (DialectName::SqlServer, "Msg 174")]));
        }
        self.check_window(&name, kind, call, &window)?;
        let aggregate = if kind == WindowKind::Aggregate { Some(self.windowed_aggregate(call)?) } else { None };
        let partition = window
            .partition_by
            .iter()
            .map(|e| {
                let typed = self.expr(e)?;
                Ok(GroupColumn { collation: self.collation(&typed.ty), code: typed.code })
            })
            .collect::<Outcome<_>>()?;
        let order = self.sort_keys(&window.order_by)?;
        let frame = match window.frame.as_ref().filter(|_| kind.sees_frame()) {
            Some(frame) => Some(self.frame(frame, &window)?),
            None => None,
        };
        // LISTAGG, percentiles and KEEP see the whole partition.
        let argument = arguments.first().map(|a| &a.ty);
        let result = match &aggregate {
            Some(aggregate) => aggregate.result.clone(),
            None => kind.result_type(argument, self.dialect()),
        };
        let ty = result.clone();
        let arguments = self.shifted_default(kind, arguments)?;
        let plan = WindowPlan {
            kind,
            arguments,
            aggregate,
            partition,
            order,
            frame,
            ignore_nulls: tail.nulls == Some(NullTreatment::Ignore),
            from_last: tail.from_last == Some(true),
            result,
        };
        let at = self.block.windows.iter().position(|w| *w == plan).unwrap_or_else(|| {
            self.block.windows.push(plan);
            self.block.windows.len() - 1
        });
        Ok(Typed::new(Code::Window(at), ty))
    }

    /// LAG's and LEAD's default has the type of the value.
    fn shifted_default(&self, kind: WindowKind, mut arguments: Vec<Typed>) -> Outcome<Vec<Code>> {
        if matches!(kind, WindowKind::Lag | WindowKind::Lead) && arguments.len() == 3 {
            let default = arguments.remove(2);
            let to = arguments[0].ty.clone();
            arguments.push(self.converted(default, &to));
        }
        Ok(arguments.into_iter().map(|t| t.code).collect())
    }

    fn windowed_aggregate(&mut self, call: &Call<Spelled>) -> Outcome<crate::plan::AggregatePlan> {
        let kind = self.aggregate_kind(call).ok_or_else(|| Failure::unknown("this window function"))?;
        self.aggregate_plan(call, kind)
    }

    fn check_window_place(&self, name: &str) -> Outcome<()> {
        if matches!(self.block.clause, Clause::List | Clause::OrderBy | Clause::Alone) {
            return Ok(());
        }
        if self.block.clause == Clause::Having
            && !self.is(&[DialectName::Oracle, DialectName::SqlServer, DialectName::Mysql, DialectName::Postgres])
        {
            return Ok(());
        }
        let codes: Codes = &[
            (DialectName::Oracle, "ORA-30483"),
            (DialectName::SqlServer, "Msg 4108"),
            (DialectName::Mysql, "ER_WINDOW_INVALID_WINDOW_FUNC_USE"),
            (DialectName::Mariadb, "ER_WRONG_PLACEMENT_OF_WINDOW_FUNCTION"),
            (DialectName::Postgres, "42P20"),
        ];
        Err(Failure::invalid(format!("the window function {name} can't stand here")).coded(self.dialect(), codes))
    }

    fn check_window(&self, name: &str, kind: WindowKind, call: &Call<Spelled>, window: &Window<Spelled>) -> Outcome<()> {
        if kind.needs_order() && window.order_by.is_empty() && self.is(&[DialectName::Oracle, DialectName::SqlServer]) {
            let codes: Codes = &[(DialectName::Oracle, "ORA-30485"), (DialectName::SqlServer, "Msg 4112")];
            return Err(Failure::invalid(format!("{name} needs an ORDER BY in its window")).coded(self.dialect(), codes));
        }
        if self.dialect() == DialectName::SqlServer {
            for key in &window.order_by {
                let code = match &key.expr.kind {
                    ExprKind::Literal(syntax::tree::Literal::Number(_)) => "Msg 5308",
                    ExprKind::Literal(_) => "Msg 5309",
                    _ => continue,
                };
                return Err(Failure::invalid("the ORDER BY of a window takes no constant").with_code(code));
            }
        }
        let distinct = call.quantifier == Some(SetQuantifier::Distinct);
        if distinct && kind == WindowKind::Aggregate {
            let code = match self.dialect() {
                DialectName::SqlServer => Some("Msg 10759"),
                DialectName::Mysql => Some("ER_NOT_SUPPORTED_YET"),
                DialectName::Mariadb => Some("ER_NOT_SUPPORTED_YET"),
                DialectName::Postgres => Some("0A000"),
                DialectName::Oracle if !window.order_by.is_empty() => Some("ORA-30487"),
                _ => None,
            };
            if let Some(code) = code {
                return Err(Failure::invalid(format!("{name} with DISTINCT is no window function here")).with_code(code));
            }
        }
        let nulls = call.tail.as_ref().and_then(|t| t.nulls);
        if nulls == Some(NullTreatment::Ignore)
            && self.is(&[DialectName::Mysql, DialectName::Mariadb, DialectName::Postgres, DialectName::Sqlite])
        {
            return Err(Failure::new(FailureKind::Syntax, "IGNORE NULLS is not supported here")
                .coded(self.dialect(), &[(DialectName::Mysql, "ER_NOT_SUPPORTED_YET"), (DialectName::Postgres, "42601")]));
        }
        let parts = window.partition_by.iter().chain(window.order_by.iter().map(|k| &k.expr));
        if parts.chain(call.arguments.iter().map(|a| &a.value)).any(Expr::has_window) {
            let codes: Codes =
                &[(DialectName::SqlServer, "Msg 4109"), (DialectName::Oracle, "ORA-30483"), (DialectName::Postgres, "42P20")];
            return Err(Failure::invalid("a window function can't stand in another's window or arguments").coded(self.dialect(), codes));
        }
        Ok(())
    }

    /// The window with what a named one gives it.
    fn whole_window(&self, over: &Over<Spelled>) -> Outcome<Window<Spelled>> {
        let window = match over {
            Over::Named(name) => return self.named_window(name, 0),
            Over::Window(window) => window,
        };
        self.based(window, 0)
    }

    fn named_window(&self, name: &Ident, depth: usize) -> Outcome<Window<Spelled>> {
        let found = self.block.named_windows.iter().find(|(n, _)| n.text.eq_ignore_ascii_case(&name.text));
        match found {
            Some((_, window)) if depth < 20 => self.based(window, depth + 1),
            _ => Err(Failure::new(FailureKind::UnknownName, format!("there is no window {}", name.text))
                .coded(self.dialect(), &[(DialectName::Mysql, "ER_WINDOW_NO_SUCH_WINDOW"), (DialectName::Postgres, "42704")])),
        }
    }

    fn based(&self, window: &Window<Spelled>, depth: usize) -> Outcome<Window<Spelled>> {
        let Some(base) = &window.base else { return Ok(window.clone()) };
        let base = self.named_window(base, depth)?;
        let mut whole = window.clone();
        whole.partition_by = base.partition_by;
        if whole.order_by.is_empty() {
            whole.order_by = base.order_by;
        }
        whole.frame = whole.frame.or(base.frame);
        Ok(whole)
    }

    fn frame(&mut self, frame: &Frame<Spelled>, window: &Window<Spelled>) -> Outcome<FramePlan> {
        let has_offset = |b: &FrameBound<Spelled>| matches!(b, FrameBound::Preceding(_) | FrameBound::Following(_));
        let offsets = has_offset(&frame.start) || frame.end.as_ref().is_some_and(has_offset);
        if frame.unit == FrameUnit::Range && offsets {
            if self.dialect() == DialectName::SqlServer {
                return Err(Failure::invalid("RANGE takes no offset here").with_code("Msg 4194"));
            }
            if window.order_by.len() != 1 {
                return Err(Failure::invalid("RANGE with an offset needs one sort key")
                    .coded(self.dialect(), &[(DialectName::Oracle, "ORA-30486"), (DialectName::Postgres, "42P20")]));
            }
        }
        if frame.unit == FrameUnit::Groups
            && self.is(&[DialectName::SqlServer, DialectName::Mysql, DialectName::Mariadb, DialectName::Bigquery, DialectName::Spark])
        {
            return Err(Failure::new(FailureKind::Syntax, format!("{} has no GROUPS frame", self.dialect().title()))
                .coded(self.dialect(), &[(DialectName::Mysql, "ER_NOT_SUPPORTED_YET"), (DialectName::SqlServer, "Msg 102")]));
        }
        if window.order_by.is_empty() && self.is(&[DialectName::Oracle, DialectName::SqlServer]) {
            return Err(Failure::invalid("a frame needs an ORDER BY")
                .coded(self.dialect(), &[(DialectName::Oracle, "ORA-30485"), (DialectName::SqlServer, "Msg 10756")]));
        }
        let start = self.bound(&frame.start)?;
        let end = match &frame.end {
            Some(end) => self.bound(end)?,
            None => Bound::CurrentRow,
        };
        Ok(FramePlan { unit: frame.unit, start, end, exclude: frame.exclude })
    }

    fn bound(&mut self, bound: &FrameBound<Spelled>) -> Outcome<Bound> {
        Ok(match bound {
            FrameBound::UnboundedPreceding => Bound::UnboundedPreceding,
            FrameBound::Preceding(expr) => Bound::Preceding(self.offset(expr)?),
            FrameBound::CurrentRow => Bound::CurrentRow,
            FrameBound::Following(expr) => Bound::Following(self.offset(expr)?),
            FrameBound::UnboundedFollowing => Bound::UnboundedFollowing,
        })
    }

    fn offset(&mut self, expr: &Expr<Spelled>) -> Outcome<Code> {
        let typed = self.expr(expr)?;
        // PostgreSQL: RANGE '1 day' PRECEDING.
        let text = typed.ty.family() == Family::Text;
        Ok(if text { self.converted(typed, &Type::Interval(None)).code } else { typed.code })
    }
}
