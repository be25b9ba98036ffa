//! Row limits as spelled become one meaning.

use meaning::{Amount, Constant, Meant, Note, OddCount, Rounding, RowLimit};
use syntax::tree::{Expr, ExprKind, LimitClause, LimitKind, Span, Spelled, StageMap, Top};

use super::Reader;
use crate::shape::{as_number, is_null_literal, number};

impl Reader<'_> {
    pub(super) fn top_limit(&mut self, top: Top<Spelled>) -> RowLimit {
        let count = self.expr(top.count);
        let amount = if top.percent { Amount::Percent(count, Rounding::Up) } else { Amount::Rows(count) };
        self.settle(RowLimit { amount: Some(amount), with_ties: top.with_ties, offset: None, span: top.span })
    }

    pub(super) fn limit_clauses(&mut self, clauses: Vec<LimitClause<Spelled>>) -> Option<RowLimit> {
        let first = clauses.first()?;
        let last = clauses.last()?;
        let mut limit = RowLimit { amount: None, with_ties: false, offset: None, span: first.span.to(last.span) };
        for clause in clauses {
            match clause.kind {
                LimitKind::All => {}
                LimitKind::Limit { count, percent: Some(_) } => {
                    // Observed on DuckDB: a share is rounded down.
                    limit.amount = Some(Amount::Percent(self.expr(count), Rounding::Down));
                }
                LimitKind::Limit { count, percent: None } => {
                    let count = self.expr(count);
                    limit.amount = counted(count);
                }
                LimitKind::OffsetComma(offset, count) => {
                    limit.offset = Some(self.expr(offset));
                    let count = self.expr(count);
                    limit.amount = counted(count);
                }
                LimitKind::Offset { count, .. } => limit.offset = Some(self.expr(count)),
                LimitKind::Fetch { count, percent, with_ties, .. } => {
                    let count = match count {
                        Some(count) => self.expr(count),
                        None => number(1),
                    };
                    limit.amount = Some(if percent { Amount::Percent(count, Rounding::Up) } else { Amount::Rows(count) });
                    limit.with_ties = with_ties;
                }
            }
        }
        let mut limit = self.settle(limit);
        limit.offset = limit.offset.filter(|o| !is_zero(o));
        (limit.amount.is_some() || limit.offset.is_some()).then_some(limit)
    }

    /// Counts that are none mean what the source makes of them; from here on they are gone.
    fn settle(&mut self, mut limit: RowLimit) -> RowLimit {
        if let Some(Amount::Rows(count) | Amount::Percent(count, _)) = &limit.amount {
            match self.odd(count) {
                Some(OddCount::AllRows) => limit.amount = None,
                Some(OddCount::NoRows) => limit.amount = Some(no_row()),
                Some(OddCount::Error) => self.no_count(limit.span),
                None => {}
            }
        }
        let Some(offset) = &limit.offset else { return limit };
        match self.odd(offset) {
            None => return limit,
            Some(OddCount::Error) => self.no_count(limit.span),
            // Beyond the last row, as it were.
            Some(OddCount::NoRows) if is_null_literal(offset) => limit.amount = Some(no_row()),
            Some(_) => {}
        }
        limit.offset = None;
        limit
    }

    fn odd(&self, count: &Expr<Meant>) -> Option<OddCount> {
        if is_null_literal(count) {
            return Some(self.facts.null_count);
        }
        as_number(count).filter(|n| *n < 0.0).map(|_| self.facts.negative_count)
    }

    fn no_count(&mut self, span: Span) {
        let source = self.from.name.title();
        let note = Note::new("row-limit.no-count", span, format!("{source} takes neither NULL nor a negative number as a row count"));
        self.note(note.advise("give a number from 0, or leave the limit out"));
    }
}

/// MySQL's greatest number means all rows.
fn counted(count: Expr<Meant>) -> Option<Amount> {
    let all = matches!(&count.kind, ExprKind::Literal(Constant::Number(text)) if text == "18446744073709551615");
    (!all).then_some(Amount::Rows(count))
}

fn no_row() -> Amount {
    Amount::Rows(number(0))
}

pub(crate) fn is_zero(expr: &Expr<Meant>) -> bool {
    matches!(&expr.without_parens().kind, ExprKind::Literal(Constant::Number(n)) if n == "0")
}
