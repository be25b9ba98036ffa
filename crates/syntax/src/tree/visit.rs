//! Walking a tree of any stage.

use super::{
    CallTail, Expr, ExprKind, FrameBound, GroupItem, InSet, IsWhat, JoinCondition, Over, Query, QueryBody, Select, SelectQuantifier,
    SelectValue, Stage, StarModifier, TableKind, TableRef, Window,
};

/// What is directly inside a node.
pub enum Child<'a, S: Stage> {
    /// An expression.
    Expr(&'a Expr<S>),
    /// A query.
    Query(&'a Query<S>),
    /// A table reference.
    Table(&'a TableRef<S>),
}

/// What is directly inside a node, with leave to change it.
pub enum ChildMut<'a, S: Stage> {
    /// An expression.
    Expr(&'a mut Expr<S>),
    /// A query.
    Query(&'a mut Query<S>),
    /// A table reference.
    Table(&'a mut TableRef<S>),
}

macro_rules! walker {
    ($module:ident, $child:ident, $iter:ident, $as_ref:ident, $as_deref:ident, $($mutable:tt)?) => {
        pub(super) mod $module {
            use super::*;

            pub(in super::super) fn expr<'a, S: Stage>(
                expr: &'a $($mutable)? Expr<S>,
                visit: &mut dyn FnMut($child<'a, S>),
            ) {
                match &$($mutable)? expr.kind {
                    ExprKind::Column(_) | ExprKind::Literal(_) | ExprKind::Parameter(_) | ExprKind::Star(_) | ExprKind::Default => {}
                    ExprKind::Nested(e) | ExprKind::Not(e) | ExprKind::Collate(e, _) | ExprKind::OuterMark(e) => visit($child::Expr(e)),
                    ExprKind::Field(f) => visit($child::Expr(&$($mutable)? f.operand)),
                    ExprKind::Unary(u) => visit($child::Expr(&$($mutable)? u.operand)),
                    ExprKind::Binary(b) => {
                        let b = &$($mutable)? **b;
                        visit($child::Expr(&$($mutable)? b.left));
                        visit($child::Expr(&$($mutable)? b.right));
                    }
                    ExprKind::Logic(_, items) | ExprKind::Row(items) => items.$iter().for_each(|e| visit($child::Expr(e))),
                    ExprKind::Is(t) => {
                        let t = &$($mutable)? **t;
                        visit($child::Expr(&$($mutable)? t.operand));
                        if let IsWhat::DistinctFrom(e) | IsWhat::Same(e) = &$($mutable)? t.what {
                            visit($child::Expr(e));
                        }
                    }
                    ExprKind::Between(t) => {
                        let t = &$($mutable)? **t;
                        visit($child::Expr(&$($mutable)? t.operand));
                        visit($child::Expr(&$($mutable)? t.low));
                        visit($child::Expr(&$($mutable)? t.high));
                    }
                    ExprKind::In(t) => {
                        let t = &$($mutable)? **t;
                        visit($child::Expr(&$($mutable)? t.operand));
                        match &$($mutable)? t.set {
                            InSet::List(items) => items.$iter().for_each(|e| visit($child::Expr(e))),
                            InSet::Query(q) => visit($child::Query(q)),
                            InSet::Value(e) => visit($child::Expr(e)),
                        }
                    }
                    ExprKind::Like(t) => {
                        let t = &$($mutable)? **t;
                        visit($child::Expr(&$($mutable)? t.operand));
                        visit($child::Expr(&$($mutable)? t.pattern));
                        t.escape.$iter().for_each(|e| visit($child::Expr(e)));
                    }
                    ExprKind::Exists(q) | ExprKind::Subquery(q) | ExprKind::Collect(_, q) => visit($child::Query(q)),
                    ExprKind::Quantified(t) => {
                        let t = &$($mutable)? **t;
                        visit($child::Expr(&$($mutable)? t.left));
                        visit($child::Expr(&$($mutable)? t.set));
                    }
                    ExprKind::Case(c) => {
                        let c = &$($mutable)? **c;
                        c.operand.$iter().for_each(|e| visit($child::Expr(e)));
                        for (when, then) in c.branches.$iter() {
                            visit($child::Expr(when));
                            visit($child::Expr(then));
                        }
                        c.otherwise.$iter().for_each(|e| visit($child::Expr(e)));
                    }
                    ExprKind::Cast(c) => {
                        let c = &$($mutable)? **c;
                        visit($child::Expr(&$($mutable)? c.operand));
                        c.extra.$iter().for_each(|e| visit($child::Expr(e)));
                    }
                    ExprKind::Call(c) => {
                        let c = &$($mutable)? **c;
                        c.arguments.$iter().for_each(|a| visit($child::Expr(&$($mutable)? a.value)));
                        if let Some(t) = c.tail.$as_deref() {
                            tail(t, visit);
                        }
                    }
                    ExprKind::Array(a) => a.items.$iter().for_each(|e| visit($child::Expr(e))),
                    ExprKind::Struct(s) => {
                        for (_, value) in s.fields.$iter() {
                            visit($child::Expr(value));
                        }
                    }
                    ExprKind::Subscript(s) => {
                        let s = &$($mutable)? **s;
                        visit($child::Expr(&$($mutable)? s.operand));
                        s.low.$iter().for_each(|e| visit($child::Expr(e)));
                        if let Some((high, step)) = s.slice.$as_ref() {
                            high.$iter().for_each(|e| visit($child::Expr(e)));
                            step.$iter().for_each(|e| visit($child::Expr(e)));
                        }
                    }
                    ExprKind::Lambda(l) => visit($child::Expr(&$($mutable)? l.body)),
                    ExprKind::Interval(i) => {
                        let i = &$($mutable)? **i;
                        visit($child::Expr(&$($mutable)? i.value));
                        for (value, _) in i.more.$iter() {
                            visit($child::Expr(value));
                        }
                    }
                    ExprKind::AtTimeZone(e, zone) => {
                        visit($child::Expr(e));
                        zone.$iter().for_each(|z| visit($child::Expr(z)));
                    }
                }
            }

            fn tail<'a, S: Stage>(tail: &'a $($mutable)? CallTail<S>, visit: &mut dyn FnMut($child<'a, S>),
            ) {
                tail.order_by.$iter().for_each(|k| visit($child::Expr(&$($mutable)? k.expr)));
                tail.separator.$iter().for_each(|e| visit($child::Expr(e)));
                tail.limit.$iter().for_each(|e| visit($child::Expr(e)));
                tail.within_group.$iter().for_each(|k| visit($child::Expr(&$($mutable)? k.expr)));
                if let Some((_, keys)) = tail.keep.$as_ref() {
                    keys.$iter().for_each(|k| visit($child::Expr(&$($mutable)? k.expr)));
                }
                tail.filter.$iter().for_each(|e| visit($child::Expr(e)));
                if let Some(Over::Window(w)) = tail.over.$as_ref() {
                    window(w, visit);
                }
            }

            fn window<'a, S: Stage>(window: &'a $($mutable)? Window<S>, visit: &mut dyn FnMut($child<'a, S>),
            ) {
                window.partition_by.$iter().for_each(|e| visit($child::Expr(e)));
                window.order_by.$iter().for_each(|k| visit($child::Expr(&$($mutable)? k.expr)));
                if let Some(frame) = window.frame.$as_ref() {
                    for bound in [Some(&$($mutable)? frame.start), frame.end.$as_ref()].into_iter().flatten() {
                        if let FrameBound::Preceding(n) | FrameBound::Following(n) = bound {
                            visit($child::Expr(n));
                        }
                    }
                }
            }

            pub(in super::super) fn select<'a, S: Stage>(
                select: &'a $($mutable)? Select<S>,
                visit: &mut dyn FnMut($child<'a, S>),
            ) {
                // What FROM offers comes before what uses it.
                select.from.$iter().for_each(|t| visit($child::Table(t)));
                if let Some(SelectQuantifier::DistinctOn(keys)) = select.quantifier.$as_ref() {
                    keys.$iter().for_each(|e| visit($child::Expr(e)));
                }
                for item in select.items.$iter() {
                    match &$($mutable)? item.value {
                        SelectValue::Expr(e) => visit($child::Expr(e)),
                        SelectValue::Star(_, modifiers) => {
                            for modifier in modifiers.$iter() {
                                match modifier {
                                    StarModifier::Replace(list) => list.$iter().for_each(|(e, _)| visit($child::Expr(e))),
                                    StarModifier::Like(_, e) => visit($child::Expr(e)),
                                    StarModifier::Exclude(_) | StarModifier::Rename(_) => {}
                                }
                            }
                        }
                    }
                }
                select.lateral_views.$iter().for_each(|v| visit($child::Expr(&$($mutable)? v.call)));
                select.condition.$iter().for_each(|e| visit($child::Expr(e)));
                if let Some(connect) = select.connect_by.$as_deref() {
                    connect.start_with.$iter().for_each(|e| visit($child::Expr(e)));
                    visit($child::Expr(&$($mutable)? connect.condition));
                }
                if let Some(group) = select.group_by.$as_ref() {
                    group.items.$iter().for_each(|i| group_item(i, visit));
                }
                select.having.$iter().for_each(|e| visit($child::Expr(e)));
                for (_, w) in select.windows.$iter() {
                    window(w, visit);
                }
                select.qualify.$iter().for_each(|e| visit($child::Expr(e)));
            }

            fn group_item<'a, S: Stage>(item: &'a $($mutable)? GroupItem<S>, visit: &mut dyn FnMut($child<'a, S>),
            ) {
                match item {
                    GroupItem::Expr(e) => visit($child::Expr(e)),
                    GroupItem::Super(_, items, _) => items.$iter().for_each(|e| visit($child::Expr(e))),
                    GroupItem::Sets(items, _) => items.$iter().for_each(|i| group_item(i, visit)),
                    GroupItem::Empty(_) => {}
                }
            }

            pub(in super::super) fn table<'a, S: Stage>(
                table: &'a $($mutable)? TableRef<S>,
                visit: &mut dyn FnMut($child<'a, S>),
            ) {
                match &$($mutable)? table.kind {
                    TableKind::Name(_) => {}
                    TableKind::Derived { query, .. } => visit($child::Query(query)),
                    TableKind::Function { call, .. } => call.arguments.$iter().for_each(|a| visit($child::Expr(&$($mutable)? a.value))),
                    TableKind::Nested(inner) => visit($child::Table(inner)),
                    TableKind::Join(join) => {
                        let join = &$($mutable)? **join;
                        visit($child::Table(&$($mutable)? join.left));
                        visit($child::Table(&$($mutable)? join.right));
                        if let JoinCondition::On(condition) = &$($mutable)? join.condition {
                            visit($child::Expr(condition));
                        }
                    }
                    TableKind::Pivot(pivot) => {
                        let pivot = &$($mutable)? **pivot;
                        visit($child::Table(&$($mutable)? pivot.input));
                        pivot.aggregates.$iter().for_each(|(e, _)| visit($child::Expr(e)));
                        pivot.columns.$iter().for_each(|e| visit($child::Expr(e)));
                        pivot.values.$iter().for_each(|(e, _)| visit($child::Expr(e)));
                    }
                    TableKind::Unpivot(unpivot) => visit($child::Table(&$($mutable)? unpivot.input)),
                }
            }
        }
    };
}

walker!(shared, Child, iter, as_ref, as_deref,);
walker!(exclusive, ChildMut, iter_mut, as_mut, as_deref_mut, mut);

macro_rules! children_of {
    ($node:ident, $function:ident) => {
        impl<S: Stage> $node<S> {
            /// Calls `visit` with what is directly inside; FROM comes first in a select block.
            pub fn children<'a>(&'a self, visit: &mut dyn FnMut(Child<'a, S>)) {
                shared::$function(self, visit);
            }

            /// The same with leave to change it.
            pub fn children_mut<'a>(&'a mut self, visit: &mut dyn FnMut(ChildMut<'a, S>)) {
                exclusive::$function(self, visit);
            }

            /// Calls `visit` with the expressions directly inside.
            pub fn exprs<'a>(&'a self, visit: &mut dyn FnMut(&'a Expr<S>)) {
                self.children(&mut |child| {
                    if let Child::Expr(expr) = child {
                        visit(expr);
                    }
                });
            }

            /// The same with leave to change them.
            pub fn exprs_mut<'a>(&'a mut self, visit: &mut dyn FnMut(&'a mut Expr<S>)) {
                self.children_mut(&mut |child| {
                    if let ChildMut::Expr(expr) = child {
                        visit(expr);
                    }
                });
            }
        }
    };
}

children_of!(Expr, expr);
children_of!(Select, select);
children_of!(TableRef, table);

impl<S: Stage> Expr<S> {
    /// Whether `test` holds for this expression or one inside it, subqueries left out.
    pub fn any(&self, test: &mut dyn FnMut(&Expr<S>) -> bool) -> bool {
        if test(self) {
            return true;
        }
        let mut found = false;
        crate::with_stack(|| self.exprs(&mut |child| found = found || child.any(test)));
        found
    }

    /// Whether a window function is in it, subqueries left out.
    pub fn has_window(&self) -> bool {
        self.any(&mut |e| matches!(&e.kind, ExprKind::Call(call) if call.is_window()))
    }
}

impl<S: Stage> QueryBody<S> {
    /// The same as [`QueryBody::selects`] with leave to change them.
    pub fn selects_mut(&mut self, visit: &mut dyn FnMut(&mut Select<S>)) {
        match self {
            QueryBody::Select(select) => visit(select),
            QueryBody::SetOperation(operation) => {
                operation.left.selects_mut(visit);
                operation.right.selects_mut(visit);
            }
            QueryBody::Nested(query, _) => query.body.selects_mut(visit),
            QueryBody::Values(_) | QueryBody::Table(..) => {}
        }
    }

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
