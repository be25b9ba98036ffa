//! Function calls, and the windows behind them.

use super::{Glue, Printer};
use crate::dialect::DialectName;
use crate::precedence;
use crate::tree::{
    Call, CallForm, CallTail, Expr, ExprKind, Frame, FrameBound, FrameExclusion, FrameUnit, NullTreatment, Over, SetQuantifier, Spelled,
    TrimWhere, Window,
};

impl Printer<'_> {
    pub(super) fn call(&mut self, call: &Call<Spelled>, glue: Glue) {
        if let (CallForm::Method, [operand, rest @ ..]) = (call.form, call.arguments.as_slice()) {
            self.expr_after(&operand.value, precedence::PRIMARY, glue);
            self.tight(".");
            let plain = Call { form: CallForm::Plain, arguments: rest.to_vec(), ..call.clone() };
            self.call(&plain, Glue::Tight);
            return;
        }
        self.call_head(call, glue);
        match call.form {
            CallForm::Word => return,
            CallForm::NextValue => {
                self.word("VALUE");
                self.word("FOR");
                call.arguments.iter().for_each(|a| self.expr(&a.value, 0));
                return;
            }
            _ => {}
        }
        self.call_arguments(call);
        self.tight(")");
        if let Some(tail) = &call.tail {
            self.tail_after(tail);
        }
    }

    pub(super) fn call_head(&mut self, call: &Call<Spelled>, glue: Glue) {
        self.object_name_with(&call.function, glue);
    }

    pub(super) fn table_call(&mut self, call: &Call<Spelled>) {
        self.call_head(call, Glue::Space);
        self.call_arguments(call);
        self.tight(")");
    }

    pub(super) fn call_arguments(&mut self, call: &Call<Spelled>) {
        self.tight("(");
        let arguments = &call.arguments;
        let value = |i: usize| arguments.get(i).map(|a| &a.value);
        match call.form {
            CallForm::Word | CallForm::NextValue => {}
            CallForm::Plain | CallForm::Method => {
                match call.quantifier {
                    Some(SetQuantifier::Distinct) => self.tight("DISTINCT"),
                    Some(SetQuantifier::All) => self.tight("ALL"),
                    None => {}
                }
                for (i, argument) in arguments.iter().enumerate() {
                    let first = i == 0 && call.quantifier.is_none();
                    if i > 0 {
                        self.tight(",");
                    }
                    let glue = if first { Glue::Tight } else { Glue::Space };
                    if let Some(name) = &argument.name {
                        self.ident_with(name, glue);
                        if self.at_cursor(":=") {
                            self.sign(":=");
                        } else {
                            self.sign("=>");
                        }
                        self.expr(&argument.value, 0);
                    } else if let ExprKind::Subquery(query) = &argument.value.kind
                        && argument.value.span == query.span
                        && query.span.is_read()
                    {
                        // A query as an argument without parentheses of its own: TABLE(SELECT ..).
                        self.query(query);
                    } else {
                        self.expr_after(&argument.value, 0, glue);
                    }
                }
                if let Some(tail) = &call.tail {
                    self.tail_inside(tail);
                }
            }
            CallForm::Using => {
                let Some((charset, values)) = arguments.split_last() else { return };
                for (i, argument) in values.iter().enumerate() {
                    if i > 0 {
                        self.tight(",");
                    }
                    self.expr_after(&argument.value, 0, if i == 0 { Glue::Tight } else { Glue::Space });
                }
                self.word("USING");
                self.expr(&charset.value, 0);
            }
            CallForm::Extract => self.parted(&[value(0), value(1)], &["", "FROM"]),
            CallForm::SubstringFrom => self.parted(&[value(0), value(1), value(2)], &["", "FROM", "FOR"]),
            CallForm::PositionIn => self.parted(&[value(0), value(1)], &["", "IN"]),
            CallForm::Overlay => self.parted(&[value(0), value(1), value(2), value(3)], &["", "PLACING", "FROM", "FOR"]),
            CallForm::Trim(place) => {
                match place {
                    Some(TrimWhere::Leading) => self.tight("LEADING"),
                    Some(TrimWhere::Trailing) => self.tight("TRAILING"),
                    Some(TrimWhere::Both) => self.tight("BOTH"),
                    None => {}
                }
                if arguments.len() == 2 {
                    self.parted(&[value(0), value(1)], &["", "FROM"]);
                } else {
                    if place.is_some() && self.at_cursor("FROM") {
                        self.word("FROM");
                    } else if place.is_some() {
                        self.optional("FROM");
                    }
                    self.parted(&[value(0)], &[""]);
                }
            }
        }
    }

    /// Values with words before them; those missing are left out with their word.
    pub(super) fn parted(&mut self, values: &[Option<&Expr<Spelled>>], words: &[&'static str]) {
        for (value, word) in values.iter().zip(words) {
            let Some(value) = value else { continue };
            if !word.is_empty() {
                self.word(word);
            }
            let glue = if word.is_empty() && self.ends_with("(") { Glue::Tight } else { Glue::Space };
            self.expr_after(value, precedence::COMPARISON + 6, glue);
        }
    }

    pub(super) fn tail_inside(&mut self, tail: &CallTail<Spelled>) {
        if tail.nulls_inside {
            self.null_treatment(tail.nulls);
        }
        if !tail.order_by.is_empty() {
            self.words(&["ORDER", "BY"]);
            self.comma_list(&tail.order_by, Self::sort_key);
        }
        if let Some(separator) = &tail.separator {
            self.word("SEPARATOR");
            self.expr(separator, 0);
        }
        if let Some(limit) = &tail.limit {
            self.word("LIMIT");
            self.expr(limit, 0);
        }
        self.optional_verbatim(tail.clauses);
    }

    pub(super) fn null_treatment(&mut self, nulls: Option<NullTreatment>) {
        match nulls {
            Some(NullTreatment::Ignore) => self.words(&["IGNORE", "NULLS"]),
            Some(NullTreatment::Respect) => self.words(&["RESPECT", "NULLS"]),
            None => {}
        }
    }

    pub(super) fn tail_after(&mut self, tail: &CallTail<Spelled>) {
        if !tail.within_group.is_empty() {
            self.words(&["WITHIN", "GROUP"]);
            self.open();
            self.words(&["ORDER", "BY"]);
            self.comma_list(&tail.within_group, Self::sort_key);
            self.tight(")");
        }
        if let Some((last, keys)) = &tail.keep {
            self.word("KEEP");
            self.open();
            self.tight("DENSE_RANK");
            self.word(if *last { "LAST" } else { "FIRST" });
            self.words(&["ORDER", "BY"]);
            self.comma_list(keys, Self::sort_key);
            self.tight(")");
        }
        if let Some(last) = tail.from_last {
            self.word("FROM");
            self.word(if last { "LAST" } else { "FIRST" });
        }
        if let Some(filter) = &tail.filter {
            self.word("FILTER");
            self.open();
            // DuckDB lets WHERE be left out.
            if self.end == 0 || self.at_cursor("WHERE") || self.dialect.name != DialectName::Duckdb {
                self.tight("WHERE");
            }
            self.expr(filter, 0);
            self.tight(")");
        }
        if !tail.nulls_inside {
            self.null_treatment(tail.nulls);
        }
        match &tail.over {
            Some(Over::Named(name)) => {
                self.word("OVER");
                self.ident(name);
            }
            Some(Over::Window(window)) => {
                self.word("OVER");
                self.window(window);
            }
            None => {}
        }
    }

    pub(super) fn window(&mut self, window: &Window<Spelled>) {
        self.node(window.span, |p| {
            p.open();
            let mut first = true;
            let glue = |first: &mut bool| if std::mem::replace(first, false) { Glue::Tight } else { Glue::Space };
            if let Some(base) = &window.base {
                let glue = glue(&mut first);
                p.ident_with(base, glue);
            }
            if !window.partition_by.is_empty() {
                let glue = glue(&mut first);
                p.fixed("PARTITION", glue);
                p.word("BY");
                p.comma_list(&window.partition_by, |p, e| p.expr(e, 0));
            }
            if !window.order_by.is_empty() {
                let glue = glue(&mut first);
                p.fixed("ORDER", glue);
                p.word("BY");
                p.comma_list(&window.order_by, Self::sort_key);
            }
            if let Some(frame) = &window.frame {
                p.frame(frame);
            }
            p.tight(")");
        });
    }

    pub(super) fn frame(&mut self, frame: &Frame<Spelled>) {
        self.word(match frame.unit {
            FrameUnit::Rows => "ROWS",
            FrameUnit::Range => "RANGE",
            FrameUnit::Groups => "GROUPS",
        });
        if let Some(end) = &frame.end {
            self.word("BETWEEN");
            self.frame_bound(&frame.start);
            self.word("AND");
            self.frame_bound(end);
        } else {
            self.frame_bound(&frame.start);
        }
        if let Some(exclude) = frame.exclude {
            self.word("EXCLUDE");
            match exclude {
                FrameExclusion::CurrentRow => self.words(&["CURRENT", "ROW"]),
                FrameExclusion::Group => self.word("GROUP"),
                FrameExclusion::Ties => self.word("TIES"),
                FrameExclusion::NoOthers => self.words(&["NO", "OTHERS"]),
            }
        }
    }

    pub(super) fn frame_bound(&mut self, bound: &FrameBound<Spelled>) {
        match bound {
            FrameBound::UnboundedPreceding => self.words(&["UNBOUNDED", "PRECEDING"]),
            FrameBound::Preceding(n) => {
                self.expr(n, precedence::COMPARISON + 1);
                self.word("PRECEDING");
            }
            FrameBound::CurrentRow => self.words(&["CURRENT", "ROW"]),
            FrameBound::Following(n) => {
                self.expr(n, precedence::COMPARISON + 1);
                self.word("FOLLOWING");
            }
            FrameBound::UnboundedFollowing => self.words(&["UNBOUNDED", "FOLLOWING"]),
        }
    }
}
