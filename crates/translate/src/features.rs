//! What a statement has, noticed while it is read.

use syntax::tree::Span;

/// What a statement has that some rewrite looks for: a rewrite without its occasion isn't run.
#[derive(Debug, Clone, Copy, Default)]
pub(crate) struct Features {
    /// ROWNUM.
    pub(crate) row_number: bool,
    /// Any row limit.
    pub(crate) row_limit: bool,
    /// ORDER BY, in a query or a window, or a window that may need one.
    pub(crate) order: bool,
    /// A sort key of a query that is more than a column.
    pub(crate) sort_expressions: bool,
    /// More than one sort key in a query.
    pub(crate) several_keys: bool,
    /// EXISTS.
    pub(crate) exists: bool,
    /// A block without tables, or over DUAL.
    pub(crate) no_tables: bool,
    /// APPLY or LATERAL.
    pub(crate) apply: bool,
    /// A query inside an expression.
    pub(crate) subqueries: bool,
    /// QUALIFY.
    pub(crate) qualify: bool,
    /// TRUE or FALSE.
    pub(crate) truth_values: bool,
    /// IS TRUE and its kin.
    pub(crate) truth_tests: bool,
    /// A comparison or another condition.
    pub(crate) conditions: bool,
    /// GROUP BY or HAVING.
    pub(crate) groups: bool,
    /// Several rows to insert at once.
    pub(crate) inserts_rows: bool,
    /// A derived table or common table expression.
    pub(crate) derived: bool,
    /// Rows written out as a query, or a table alias with a column list.
    pub(crate) value_rows: bool,
    /// A star beside other entries of a select list.
    pub(crate) star_beside: bool,
    /// A join that shows columns of both sides as one.
    pub(crate) merged_columns: bool,
    /// ANY or ALL.
    pub(crate) quantified: bool,
    /// A row of values.
    pub(crate) rows: bool,
    /// A window behind a call.
    pub(crate) windows: bool,
    /// A call or operator that can leave an empty text behind.
    pub(crate) empties: bool,
    /// A column that is known to hold strings.
    pub(crate) text_columns: bool,
    /// A column, cast or literal with a fraction.
    pub(crate) fractions: bool,
    /// A JSON value or an array.
    pub(crate) documents: bool,
    /// A floating-point number of four bytes.
    pub(crate) single_floats: bool,
    /// A column of days or times.
    pub(crate) moments: bool,
    /// A column whose type isn't known, or a star.
    pub(crate) unknown_columns: bool,
    /// A string where a number is wanted.
    pub(crate) texts_as_numbers: bool,
    /// A table with a column whose collation takes small and capital letters for the same.
    pub(crate) folding_columns: bool,
    /// A join by USING or NATURAL that compares strings.
    pub(crate) merged_texts: Option<Span>,
    /// One that compares columns of unknown type.
    pub(crate) merged_unknown: Option<Span>,
}

impl Features {
    /// A derived table, or what may become one.
    pub(crate) fn may_have_derived(self) -> bool {
        self.derived || self.row_limit || self.row_number || self.qualify
    }

    /// A window, or a limit or row number that may become one.
    pub(crate) fn may_have_windows(self) -> bool {
        self.windows || self.row_limit || self.row_number
    }
}
