//! What the default collation of a dialect passes over when it compares strings.

/// Differences between strings that a collation passes over. Default collations: `SQL_Latin1_General_CP1_CI_AS` of
/// SQL Server, `utf8mb4_0900_ai_ci` of MySQL 8, `utf8mb4_general_ci` of MariaDB, binary elsewhere.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Letters {
    /// Small and capital letters are the same.
    pub ignores_case: bool,
    /// A letter with an accent is the same as without.
    pub ignores_accents: bool,
    /// Blanks at the end don't count.
    pub ignores_blanks: bool,
}

impl Letters {
    /// All that one of the two passes over.
    #[must_use]
    pub fn either(self, other: Letters) -> Letters {
        Letters {
            ignores_case: self.ignores_case || other.ignores_case,
            ignores_accents: self.ignores_accents || other.ignores_accents,
            ignores_blanks: self.ignores_blanks || other.ignores_blanks,
        }
    }

    /// Strings that are the same here and not in `stricter`, as `'quay' and 'Quay'`; `None` if there
    /// are none.
    pub fn same_only_here(self, stricter: Letters) -> Option<String> {
        let examples = [
            (self.ignores_case && !stricter.ignores_case, "'Quay'"),
            (self.ignores_accents && !stricter.ignores_accents, "'quäy'"),
            (self.ignores_blanks && !stricter.ignores_blanks, "'quay '"),
        ];
        let found: Vec<&str> = examples.iter().filter(|(differs, _)| *differs).map(|(_, text)| *text).collect();
        let (last, others) = found.split_last()?;
        let before = others.iter().map(|text| format!(", {text}")).collect::<String>();
        Some(format!("'quay'{before} and {last}"))
    }
}
