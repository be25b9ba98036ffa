//! What the keywords do in the grammar: each role a list of words.

use crate::keyword::{KEYWORDS, Keyword};

macro_rules! roles {
    ($($(#[$doc:meta])* $role:ident: $($word:ident)*;)*) => {
        /// What a keyword can do.
        #[derive(Clone, Copy)]
        pub(crate) enum Role { $($(#[$doc])* $role),* }

        /// One bit a role for each keyword.
        const ROLES: [u16; KEYWORDS] = {
            let mut roles = [0; KEYWORDS];
            $(
                let words = [$(Keyword::$word),*];
                let mut i = 0;
                while i < words.len() {
                    roles[words[i] as usize] |= 1 << Role::$role as u16;
                    i += 1;
                }
            )*
            roles
        };
    };
}

roles! {
    /// Ends an expression or table reference, so that it is no alias without AS.
    EndsOperand:
        FROM WHERE GROUP HAVING ORDER LIMIT OFFSET FETCH FOR WINDOW QUALIFY CONNECT START UNION
        EXCEPT INTERSECT MINUS ON USING JOIN INNER LEFT RIGHT FULL CROSS NATURAL OUTER LATERAL PIVOT
        UNPIVOT TABLESAMPLE SAMPLE USE FORCE IGNORE SET VALUES WHEN THEN ELSE END AND OR AS INTO
        BULK SEMI ANTI ASOF POSITIONAL STRAIGHT_JOIN RETURNING OUTPUT OPTION SEARCH CYCLE CLUSTER
        DISTRIBUTE SORT WITH MODEL LOCK IS IN BETWEEN LIKE ILIKE SIMILAR GLOB RLIKE REGEXP NOT
        COLLATE ASC DESC NULLS XOR DIV ESCAPE PARTITION ROWS RANGE SELECT BY MATCH_RECOGNIZE FILTER
        OVER WITHIN GO SEPARATOR DECLARE INSERT UPDATE DELETE MERGE CREATE;

    /// A predicate behind an operand; NOT can stand before it.
    Predicate:
        BETWEEN IN LIKE ILIKE SIMILAR GLOB RLIKE REGEXP MATCH;

    /// Can stand between two operands, or behind one as an operator.
    Infix:
        AND OR IS ISNULL NOTNULL NOT COLLATE AT DIV MOD XOR OVERLAPS BETWEEN IN LIKE ILIKE SIMILAR
        GLOB RLIKE REGEXP MATCH;

    /// A value by itself, though reserved.
    Value:
        CURRENT_DATE CURRENT_TIME CURRENT_TIMESTAMP ROWNUM LEVEL CONNECT_BY_ISLEAF
        CONNECT_BY_ISCYCLE VALUE ROWID;

    /// Can begin an operand, though reserved.
    BeginsOperand:
        CASE CAST NULL NOT EXISTS TRUE FALSE INTERVAL DATE ARRAY ROW CURRENT_DATE CURRENT_TIME
        CURRENT_TIMESTAMP ROWNUM LEVEL CONNECT_BY_ISLEAF CONNECT_BY_ISCYCLE VALUE ROWID;

    /// No function is called by it.
    NoFunction:
        SELECT FROM WHERE AND OR NOT ON AS BY GROUP ORDER HAVING UNION WHEN THEN ELSE END IN LIKE
        BETWEEN IS JOIN USING DISTINCT ALL TABLE WITH CREATE SET INTO;

    /// Can follow a query in parentheses as part of a longer query.
    ContinuesQuery:
        UNION EXCEPT INTERSECT MINUS ORDER LIMIT OFFSET FETCH;

    /// Begins a statement and nothing else.
    BeginsStatement:
        SELECT INSERT UPDATE DELETE MERGE WITH CREATE ALTER DROP DECLARE SET USE IF BEGIN EXEC
        EXECUTE PRINT TRUNCATE GRANT REVOKE COMMIT ROLLBACK WHILE RETURN END ELSE GO SAVEPOINT
        BACKUP BULK CHECKPOINT CLOSE CONTINUE DBCC DEALLOCATE DENY GOTO KILL OPEN RAISERROR RECONFIGURE
        RESTORE REVERT SAVE SHUTDOWN WAITFOR;
}

impl Keyword {
    /// Whether the word can do this.
    pub(crate) fn can(self, role: Role) -> bool {
        ROLES[self as usize] & 1 << role as u16 != 0
    }
}
