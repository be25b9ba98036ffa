//! How much of a statement is written more than once.
//!
//! A rewrite or template that uses a part twice doubles it, and what is nested in it doubles again: thirty
//! levels would fill the memory. Each statement may have copies of a few times its own size; beyond that no
//! copy is made, and the statement is refused. The count is kept beside the tree, for each thread, since
//! every copy in every step counts, however deep it is made.

use std::cell::Cell;

use meaning::{Meant, Note};
use syntax::tree::{Child, Expr, ExprKind, Span, Spelled, Stage};

/// Nodes that may be copied for each token of the source.
const FOR_EACH_TOKEN: usize = 4;
/// Nodes that may be copied in the shortest statement.
const AT_LEAST: usize = 600;

thread_local! {
    /// Nodes that may still be copied; `None` once too many were asked for.
    static LEFT: Cell<Option<usize>> = const { Cell::new(Some(AT_LEAST)) };
}

/// What is left to copy, kept while other statements take the same step.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Budget(Option<usize>);

impl Budget {
    /// That of a statement of so many tokens.
    pub(crate) fn of(span: Span) -> Budget {
        let tokens = span.end.saturating_sub(span.first) as usize;
        Budget(Some(AT_LEAST + FOR_EACH_TOKEN * tokens))
    }

    /// Runs a step of the statement with what is left of its budget.
    pub(crate) fn spend<T>(&mut self, step: impl FnOnce() -> T) -> T {
        LEFT.set(self.0);
        let done = step();
        self.0 = LEFT.get();
        done
    }

    /// The note that refuses a statement which would have grown too long.
    pub(crate) fn note(self, span: Span) -> Option<Note> {
        let message = "what repeats parts of this statement would make it many times as long";
        let advice = "give the nested parts names in a common table expression or a derived table";
        self.0.is_none().then(|| Note::new("statement.too-long", span, message).advise(advice))
    }
}

/// Whether a copy of so many nodes may be made; counts it.
fn take(nodes: usize) -> bool {
    let left = LEFT.get().and_then(|left| left.checked_sub(nodes));
    LEFT.set(left);
    left.is_some()
}

/// The nodes of an expression and of the queries in it, counted up to `most`.
pub(crate) fn nodes<S: Stage>(expr: &Expr<S>, most: usize) -> usize {
    let mut count = 0;
    of_child(Child::Expr(expr), most, &mut count);
    count
}

fn of_child<S: Stage>(child: Child<'_, S>, most: usize, count: &mut usize) {
    *count += 1;
    if *count > most {
        return;
    }
    syntax::with_stack(|| match child {
        Child::Expr(expr) => expr.children(&mut |inner| of_child(inner, most, count)),
        Child::Table(table) => table.children(&mut |inner| of_child(inner, most, count)),
        Child::Query(query) => {
            query.with.iter().flat_map(|with| &with.tables).for_each(|table| of_child(Child::Query(&table.query), most, count));
            query.body.selects(&mut |select| select.children(&mut |inner| of_child(inner, most, count)));
            query.order_by.iter().for_each(|key| of_child(Child::Expr(&key.expr), most, count));
        }
    });
}

/// A second use of a part as meant; a word in its place once too much was copied.
pub(crate) fn of_meant(expr: &Expr<Meant>) -> Expr<Meant> {
    if may_copy(expr) { expr.clone() } else { Expr::synthetic(ExprKind::Default) }
}

/// A second use of a part as spelled.
pub(crate) fn of_spelled(expr: &Expr<Spelled>) -> Expr<Spelled> {
    if may_copy(expr) { expr.clone() } else { Expr::synthetic(ExprKind::Default) }
}

fn may_copy<S: Stage>(expr: &Expr<S>) -> bool {
    let left = LEFT.get().unwrap_or(0);
    take(nodes(expr, left))
}
