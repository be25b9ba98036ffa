//! Walking a tree of any stage.

use super::{
    CallTail, Expr, ExprKind, FrameBound, GroupItem, InSet, IsWhat, JoinCondition, Over, Query, QueryBody, Select, SelectQuantifier,
    SelectValue, Stage, StarModifier, TableKind, TableRef, Window,
};

macro_rules! walker {
    ($module:ident, $iter:ident, $as_ref:ident, $as_deref:ident, $($mutable:tt)?) => {
        pub(super) mod $module {
            use super::*;

            pub(in super::super) fn expr<'a, S: Stage>(
                expr: &'a $($mutable)? Expr<S>,
                on_expr: &mut dyn FnMut(&'a $($mutable)? Expr<S>),
                on_query: &mut dyn FnMut(&'a $($mutable)? Query<S>),
            ) {
                match &$($mutable)? expr.kind {
                    ExprKind::Column(_) | ExprKind::Literal(_) | ExprKind::Parameter(_) | ExprKind::Star(_) | ExprKind::Default => {}
                    ExprKind::Nested(e) | ExprKind::Not(e) | ExprKind::Field(e, _) | ExprKind::Collate(e, _) | ExprKind::OuterMark(e) => on_expr(e),
                    ExprKind::Unary(u) => on_expr(&$($mutable)? u.operand),
                    ExprKind::Binary(b) => {
                        let b = &$($mutable)? **b;
                        on_expr(&$($mutable)? b.left);
                        on_expr(&$($mutable)? b.right);
                    }
                    ExprKind::Logic(_, items) | ExprKind::Row(items) => items.$iter().for_each(on_expr),
                    ExprKind::Is(t) => {
                        let t = &$($mutable)? **t;
                        on_expr(&$($mutable)? t.operand);
                        if let IsWhat::DistinctFrom(e) | IsWhat::Same(e) = &$($mutable)? t.what {
                            on_expr(e);
                        }
                    }
                    ExprKind::Between(t) => {
                        let t = &$($mutable)? **t;
                        on_expr(&$($mutable)? t.operand);
                        on_expr(&$($mutable)? t.low);
                        on_expr(&$($mutable)? t.high);
                    }
                    ExprKind::In(t) => {
                        let t = &$($mutable)? **t;
                        on_expr(&$($mutable)? t.operand);
                        match &$($mutable)? t.set {
                            InSet::List(items) => items.$iter().for_each(on_expr),
                            InSet::Query(q) => on_query(q),
                            InSet::Value(e) => on_expr(e),
                        }
                    }
                    ExprKind::Like(t) => {
                        let t = &$($mutable)? **t;
                        on_expr(&$($mutable)? t.operand);
                        on_expr(&$($mutable)? t.pattern);
                        t.escape.$iter().for_each(on_expr);
                    }
                    ExprKind::Exists(q) | ExprKind::Subquery(q) | ExprKind::Collect(_, q) => on_query(q),
                    ExprKind::Quantified(t) => {
                        let t = &$($mutable)? **t;
                        on_expr(&$($mutable)? t.left);
                        on_expr(&$($mutable)? t.set);
                    }
                    ExprKind::Case(c) => {
                        let c = &$($mutable)? **c;
                        c.operand.$iter().for_each(&mut *on_expr);
                        for (when, then) in c.branches.$iter() {
                            on_expr(when);
                            on_expr(then);
                        }
                        c.otherwise.$iter().for_each(on_expr);
                    }
                    ExprKind::Cast(c) => {
                        let c = &$($mutable)? **c;
                        on_expr(&$($mutable)? c.operand);
                        c.extra.$iter().for_each(on_expr);
                    }
                    ExprKind::Call(c) => {
                        let c = &$($mutable)? **c;
                        c.arguments.$iter().for_each(|a| on_expr(&$($mutable)? a.value));
                        if let Some(t) = c.tail.$as_deref() {
                            tail(t, on_expr);
                        }
                    }
                    ExprKind::Array(a) => a.items.$iter().for_each(on_expr),
                    ExprKind::Struct(s) => {
                        for (_, value) in s.fields.$iter() {
                            on_expr(value);
                        }
                    }
                    ExprKind::Subscript(s) => {
                        let s = &$($mutable)? **s;
                        on_expr(&$($mutable)? s.operand);
                        s.low.$iter().for_each(&mut *on_expr);
                        if let Some((high, step)) = s.slice.$as_ref() {
                            high.$iter().for_each(&mut *on_expr);
                            step.$iter().for_each(on_expr);
                        }
                    }
                    ExprKind::Lambda(l) => on_expr(&$($mutable)? l.body),
                    ExprKind::Interval(i) => {
                        let i = &$($mutable)? **i;
                        on_expr(&$($mutable)? i.value);
                        for (value, _) in i.more.$iter() {
                            on_expr(value);
                        }
                    }
                    ExprKind::AtTimeZone(e, zone) => {
                        on_expr(e);
                        zone.$iter().for_each(|z| on_expr(z));
                    }
                }
            }

            fn tail<'a, S: Stage>(tail: &'a $($mutable)? CallTail<S>, on_expr: &mut dyn FnMut(&'a $($mutable)? Expr<S>)) {
                tail.order_by.$iter().for_each(|k| on_expr(&$($mutable)? k.expr));
                tail.separator.$iter().for_each(&mut *on_expr);
                tail.limit.$iter().for_each(&mut *on_expr);
                tail.within_group.$iter().for_each(|k| on_expr(&$($mutable)? k.expr));
                if let Some((_, keys)) = tail.keep.$as_ref() {
                    keys.$iter().for_each(|k| on_expr(&$($mutable)? k.expr));
                }
                tail.filter.$iter().for_each(&mut *on_expr);
                if let Some(Over::Window(w)) = tail.over.$as_ref() {
                    window(w, on_expr);
                }
            }

            fn window<'a, S: Stage>(window: &'a $($mutable)? Window<S>, on_expr: &mut dyn FnMut(&'a $($mutable)? Expr<S>)) {
                window.partition_by.$iter().for_each(&mut *on_expr);
                window.order_by.$iter().for_each(|k| on_expr(&$($mutable)? k.expr));
                if let Some(frame) = window.frame.$as_ref() {
                    for bound in [Some(&$($mutable)? frame.start), frame.end.$as_ref()].into_iter().flatten() {
                        if let FrameBound::Preceding(n) | FrameBound::Following(n) = bound {
                            on_expr(n);
                        }
                    }
                }
            }

            pub(in super::super) fn select<'a, S: Stage>(
                select: &'a $($mutable)? Select<S>,
                on_expr: &mut dyn FnMut(&'a $($mutable)? Expr<S>),
                on_table: &mut dyn FnMut(&'a $($mutable)? TableRef<S>),
            ) {
                if let Some(SelectQuantifier::DistinctOn(keys)) = select.quantifier.$as_ref() {
                    keys.$iter().for_each(&mut *on_expr);
                }
                for item in select.items.$iter() {
                    match &$($mutable)? item.value {
                        SelectValue::Expr(e) => on_expr(e),
                        SelectValue::Star(_, modifiers) => {
                            for modifier in modifiers.$iter() {
                                match modifier {
                                    StarModifier::Replace(list) => list.$iter().for_each(|(e, _)| on_expr(e)),
                                    StarModifier::Like(_, e) => on_expr(e),
                                    StarModifier::Exclude(_) | StarModifier::Rename(_) => {}
                                }
                            }
                        }
                    }
                }
                select.from.$iter().for_each(&mut *on_table);
                select.lateral_views.$iter().for_each(|v| on_expr(&$($mutable)? v.call));
                select.condition.$iter().for_each(&mut *on_expr);
                if let Some(connect) = select.connect_by.$as_deref() {
                    connect.start_with.$iter().for_each(&mut *on_expr);
                    on_expr(&$($mutable)? connect.condition);
                }
                if let Some(group) = select.group_by.$as_ref() {
                    group.items.$iter().for_each(|i| group_item(i, on_expr));
                }
                select.having.$iter().for_each(&mut *on_expr);
                for (_, w) in select.windows.$iter() {
                    window(w, on_expr);
                }
                select.qualify.$iter().for_each(&mut *on_expr);
            }

            fn group_item<'a, S: Stage>(item: &'a $($mutable)? GroupItem<S>, on_expr: &mut dyn FnMut(&'a $($mutable)? Expr<S>)) {
                match item {
                    GroupItem::Expr(e) => on_expr(e),
                    GroupItem::Super(_, items, _) => items.$iter().for_each(on_expr),
                    GroupItem::Sets(items, _) => items.$iter().for_each(|i| group_item(i, on_expr)),
                    GroupItem::Empty(_) => {}
                }
            }

            pub(in super::super) fn table<'a, S: Stage>(
                table: &'a $($mutable)? TableRef<S>,
                on_expr: &mut dyn FnMut(&'a $($mutable)? Expr<S>),
                on_query: &mut dyn FnMut(&'a $($mutable)? Query<S>),
                on_table: &mut dyn FnMut(&'a $($mutable)? TableRef<S>),
            ) {
                match &$($mutable)? table.kind {
                    TableKind::Name(_) => {}
                    TableKind::Derived { query, .. } => on_query(query),
                    TableKind::Function { call, .. } => call.arguments.$iter().for_each(|a| on_expr(&$($mutable)? a.value)),
                    TableKind::Nested(inner) => on_table(inner),
                    TableKind::Join(join) => {
                        let join = &$($mutable)? **join;
                        on_table(&$($mutable)? join.left);
                        on_table(&$($mutable)? join.right);
                        if let JoinCondition::On(condition) = &$($mutable)? join.condition {
                            on_expr(condition);
                        }
                    }
                    TableKind::Pivot(pivot) => {
                        let pivot = &$($mutable)? **pivot;
                        on_table(&$($mutable)? pivot.input);
                        pivot.aggregates.$iter().for_each(|(e, _)| on_expr(e));
                        pivot.columns.$iter().for_each(&mut *on_expr);
                        pivot.values.$iter().for_each(|(e, _)| on_expr(e));
                    }
                    TableKind::Unpivot(unpivot) => on_table(&$($mutable)? unpivot.input),
                }
            }
        }
    };
}

walker!(shared, iter, as_ref, as_deref,);
walker!(exclusive, iter_mut, as_mut, as_deref_mut, mut);

impl<S: Stage> Expr<S> {
    /// Calls `on_expr` and `on_query` with the expressions and queries directly inside.
    pub fn children<'a>(&'a self, on_expr: &mut dyn FnMut(&'a Expr<S>), on_query: &mut dyn FnMut(&'a Query<S>)) {
        shared::expr(self, on_expr, on_query);
    }

    /// The same with leave to change them.
    pub fn children_mut<'a>(&'a mut self, on_expr: &mut dyn FnMut(&'a mut Expr<S>), on_query: &mut dyn FnMut(&'a mut Query<S>)) {
        exclusive::expr(self, on_expr, on_query);
    }

    /// Whether `test` holds for this expression or one inside it, subqueries left out.
    pub fn any(&self, test: &mut dyn FnMut(&Expr<S>) -> bool) -> bool {
        if test(self) {
            return true;
        }
        let mut found = false;
        crate::with_stack(|| self.children(&mut |child| found = found || child.any(test), &mut |_| {}));
        found
    }
}

impl<S: Stage> Select<S> {
    /// Calls `on_expr` with every expression of the block, `on_table` with the tables of FROM.
    pub fn children<'a>(&'a self, on_expr: &mut dyn FnMut(&'a Expr<S>), on_table: &mut dyn FnMut(&'a TableRef<S>)) {
        shared::select(self, on_expr, on_table);
    }

    /// The same with leave to change them.
    pub fn children_mut<'a>(&'a mut self, on_expr: &mut dyn FnMut(&'a mut Expr<S>), on_table: &mut dyn FnMut(&'a mut TableRef<S>)) {
        exclusive::select(self, on_expr, on_table);
    }
}

impl<S: Stage> TableRef<S> {
    /// Calls the functions with what is directly inside.
    pub fn children<'a>(
        &'a self,
        on_expr: &mut dyn FnMut(&'a Expr<S>),
        on_query: &mut dyn FnMut(&'a Query<S>),
        on_table: &mut dyn FnMut(&'a TableRef<S>),
    ) {
        shared::table(self, on_expr, on_query, on_table);
    }

    /// The same with leave to change them.
    pub fn children_mut<'a>(
        &'a mut self,
        on_expr: &mut dyn FnMut(&'a mut Expr<S>),
        on_query: &mut dyn FnMut(&'a mut Query<S>),
        on_table: &mut dyn FnMut(&'a mut TableRef<S>),
    ) {
        exclusive::table(self, on_expr, on_query, on_table);
    }
}

impl<S: Stage> QueryBody<S> {
    /// The select blocks of this body, those of nested queries left out.
    pub fn selects<'a>(&'a self, visit: &mut dyn FnMut(&'a Select<S>)) {
        match self {
            QueryBody::Select(select) => visit(select),
            QueryBody::SetOperation(operation) => {
                operation.left.selects(visit);
                operation.right.selects(visit);
            }
            QueryBody::Nested(query, _) => query.body.selects(visit),
            QueryBody::Values(_) | QueryBody::Table(..) => {}
        }
    }
}
