//! Row limits in the target's clauses.

use meaning::{Amount, LimitWords, Meant, RowLimit};
use syntax::DialectName;
use syntax::tree::{Expr, ExprKind, LimitClause, LimitKind, Literal, Query, QueryBody, Spelled, StageMap, Top};

use super::Writer;

impl Writer<'_> {
    /// The limit goes to the head of the select list.
    pub(super) fn takes_top(&self, query: &Query<Meant>) -> bool {
        self.facts.limit_words == LimitWords::Top
            && matches!(query.body, QueryBody::Select(_))
            && query.limit.as_ref().is_some_and(|l| l.offset.is_none())
    }

    pub(super) fn top_clause(&mut self, limit: RowLimit) -> Top<Spelled> {
        let (count, percent) = match limit.amount {
            Some(Amount::Percent(share, _)) => (share, true),
            Some(Amount::Rows(count)) => (count, false),
            None => (crate::shape::number(0), false),
        };
        Top { count: self.expr(count), parenthesised: true, percent, with_ties: limit.with_ties, span: limit.span }
    }

    /// UPDATE and DELETE of SQL Server take TOP.
    pub(super) fn change_top(
        &mut self,
        top: &mut Option<Box<Top<Spelled>>>,
        clauses: &mut Vec<LimitClause<Spelled>>,
        limit: Option<Box<RowLimit>>,
    ) {
        if self.facts.limit_words == LimitWords::Top
            && let Some(limit) = limit
        {
            clauses.clear();
            *top = Some(Box::new(self.top_clause(*limit)));
        }
    }

    pub(super) fn limit_clauses(&mut self, limit: RowLimit) -> Vec<LimitClause<Spelled>> {
        let span = limit.span;
        let clause = |kind| LimitClause { kind, span };
        let offset = limit.offset.map(|o| self.expr(o));
        let fetch = self.facts.limit_words != LimitWords::Limit || limit.with_ties;
        let mut clauses = Vec::new();
        if fetch {
            // OFFSET comes first, and SQL Server's FETCH needs it.
            let needs_offset = self.facts.limit_words == LimitWords::Top;
            let zero = || Expr::synthetic(ExprKind::Literal(Literal::Number("0".into())));
            if let Some(count) = offset.or_else(|| needs_offset.then(zero)) {
                clauses.push(clause(LimitKind::Offset { count, rows_word: true }));
            }
            let (count, percent) = match limit.amount {
                Some(Amount::Rows(count)) => (count, false),
                Some(Amount::Percent(share, _)) => (share, true),
                None => return clauses,
            };
            let count = self.expr(count);
            let next = needs_offset;
            clauses.push(clause(LimitKind::Fetch { count: Some(count), percent, with_ties: limit.with_ties, next }));
            return clauses;
        }
        match limit.amount {
            Some(Amount::Rows(count)) => {
                let count = self.expr(count);
                clauses.push(clause(LimitKind::Limit { count, percent: None }));
            }
            // A share that is still here is one the rewrites have refused.
            Some(Amount::Percent(share, _)) => {
                let count = self.expr(share);
                clauses.push(clause(LimitKind::Limit { count, percent: Some(syntax::tree::PercentForm::Word) }));
            }
            None => {
                if let Some(all) = self.facts.count_for_all {
                    let count = Expr::synthetic(ExprKind::Literal(Literal::Number(all.into())));
                    clauses.push(clause(LimitKind::Limit { count, percent: None }));
                }
            }
        }
        if let Some(count) = offset {
            let rows_word = clauses.is_empty() && self.to.name == DialectName::Mariadb;
            clauses.push(clause(LimitKind::Offset { count, rows_word }));
        }
        clauses
    }
}
