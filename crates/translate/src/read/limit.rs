//! Row limits as spelled become one meaning.

use meaning::{Amount, Constant, Rounding, RowLimit};
use syntax::DialectName;
use syntax::tree::{Expr, ExprKind, LimitClause, LimitKind, Span, Spelled, StageMap, Top};

use super::Reader;

impl Reader<'_> {
    pub(super) fn top_limit(&mut self, top: Top<Spelled>) -> RowLimit {
        let count = self.expr(top.count);
        let amount = if top.percent { Amount::Percent(count, Rounding::Up) } else { Amount::Rows(count) };
        RowLimit { amount: Some(amount), with_ties: top.with_ties, offset: None, span: top.span }
    }

    pub(super) fn limit_clauses(&mut self, clauses: Vec<LimitClause<Spelled>>) -> Option<RowLimit> {
        let first = clauses.first()?;
        let last = clauses.last()?;
        let mut limit = RowLimit { amount: None, with_ties: false, offset: None, span: first.span.to(last.span) };
        for clause in clauses {
            let span = clause.span;
            match clause.kind {
                LimitKind::All => {}
                LimitKind::Limit { count, percent: Some(_) } => {
                    // Observed on DuckDB: a share is rounded down.
                    limit.amount = Some(Amount::Percent(self.expr(count), Rounding::Down));
                }
                LimitKind::Limit { count, percent: None } => {
                    let count = self.expr(count);
                    limit.amount = self.counted(count);
                }
                LimitKind::OffsetComma(offset, count) => {
                    limit.offset = Some(self.expr(offset));
                    let count = self.expr(count);
                    limit.amount = self.counted(count);
                }
                LimitKind::Offset { count, .. } => limit.offset = Some(self.expr(count)),
                LimitKind::Fetch { count, percent, with_ties, .. } => {
                    let count = match count {
                        Some(count) => self.expr(count),
                        None => Expr { kind: ExprKind::Literal(Constant::whole(1)), span: Span::MADE },
                    };
                    limit.amount = Some(if percent { Amount::Percent(count, Rounding::Up) } else { Amount::Rows(count) });
                    limit.with_ties = with_ties;
                    let _ = span;
                }
            }
        }
        limit.offset = limit.offset.filter(|o| !is_zero(o));
        (limit.amount.is_some() || limit.offset.is_some()).then_some(limit)
    }

    /// LIMIT NULL is none in PostgreSQL; a negative limit is none in SQLite, 0 in Oracle; MySQL's
    /// greatest number means all rows.
    fn counted(&self, count: Expr<meaning::Meant>) -> Option<Amount> {
        match &count.kind {
            ExprKind::Literal(Constant::Null) => None,
            ExprKind::Literal(Constant::Number(text)) if text == "18446744073709551615" => None,
            ExprKind::Unary(_) if self.from.name == DialectName::Sqlite => None,
            _ => Some(Amount::Rows(count)),
        }
    }
}

pub(crate) fn is_zero(expr: &Expr<meaning::Meant>) -> bool {
    matches!(&expr.without_parens().kind, ExprKind::Literal(Constant::Number(n)) if n == "0")
}
