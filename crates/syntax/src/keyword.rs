//! The words the grammar knows, found by one hash look-up while lexing.

use std::sync::OnceLock;

macro_rules! keywords {
    ($($word:ident)*) => {
        /// A word the grammar knows. `NONE` is any other word.
        ///
        /// Being here makes no word reserved: which words a dialect keeps for itself is in
        /// [`crate::spelling`].
        #[allow(non_camel_case_types, clippy::upper_case_acronyms, missing_docs)]
        #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
        #[repr(u16)]
        pub enum Keyword { NONE, $($word),* }

        const WORDS: &[(Keyword, &str)] = &[$((Keyword::$word, stringify!($word))),*];
    };
}

keywords! {
    ABSENT ACTION ADD AFTER ALL ALTER ANALYZE AND ANTI ANY APPLY ARRAY AS ASC ASOF AT AUTHORIZATION
    AUTO_INCREMENT AUTOINCREMENT BEFORE BEGIN BETWEEN BIGINT BINARY BOTH BREADTH BULK BY BYTE CALL CASCADE CASE CAST
    CHAR CHARACTER CHECK CLUSTER CLUSTERED COLLATE COLLECT COLUMN COLUMNS COMMENT COMMIT CONNECT
    CONNECT_BY_ISCYCLE CONNECT_BY_ISLEAF CONNECT_BY_ROOT CONSTRAINT CONVERT CORRESPONDING CREATE CROSS
    CUBE CURRENT CURRENT_DATE CURRENT_TIME CURRENT_TIMESTAMP CYCLE DATABASE DATE DATETIME DAY DECIMAL DECLARE
    DEFAULT DEFERRABLE DEFERRED DEFINE DELAYED DELETE DEPTH DESC DESCRIBE DETERMINISTIC DISTINCT
    DISTINCTROW DISTRIBUTE DIV DO DOUBLE DROP DUPLICATE ELSE END ENGINE ERROR ESCAPE EXCEPT EXCLUDE
    EXEC EXECUTE EXISTS EXPLAIN EXTRACT FALSE FETCH FILTER FINAL FIRST FOLLOWING FOR FORCE FOREIGN FORMAT FROM
    FULL FUNCTION GENERATED GLOB GLOBAL GO GRANT GROUP GROUPING GROUPS HAVING HIGH_PRIORITY HOUR
    IDENTITY IF IGNORE ILIKE IMMEDIATE IN INCLUDE INDEX INNER INSERT INT INTEGER INTERSECT INTERVAL INTO IS ISNULL JOIN
    KEEP KEY LAMBDA LAST LATERAL LEADING LEFT LEVEL LIKE LIMIT LOCAL LOCK LOCKED LOG LOOP LOW_PRIORITY
    MATCH MATCHED MATCH_RECOGNIZE MATERIALIZED MAXRECURSION MERGE MINUS MINUTE MOD MODEL MONTH MULTISET NAME NATIONAL NATURAL NEXT NO NOCYCLE
    NONCLUSTERED NOT NOTNULL NOWAIT NULL NULLS NUMERIC OF OFFSET ON ONLY OPTION OR ORDER ORDINALITY OTHERS OUT OUTER
    OUTPUT OVER OVERFLOW OVERLAPS OVERLAY OVERWRITE PARTITION PERCENT PIVOT PLACING POSITION PRECEDING PRECISION
    PRIMARY PRIOR PROCEDURE QUALIFY RAISE RANGE RAW REAL RECURSIVE REFERENCES REGEXP RENAME REPLACE
    REPLICATE RESPECT RESTRICT RETURN RETURNING RETURNS REVOKE RIGHT RLIKE ROLE ROLLBACK ROLLUP ROW ROWNUM ROWS SAMPLE
    SAVEPOINT SCHEMA SEARCH SECOND SEED SELECT SEMI SEPARATOR SESSION SET SETS SHARE SHOW SIBLINGS SIMILAR SKIP SOME SORT
    SQL_CALC_FOUND_ROWS SQL_NO_CACHE SQL_SMALL_RESULT SQL_BIG_RESULT SQL_BUFFER_RESULT SQL_CACHE START STORED STRAIGHT_JOIN STRUCT SUBSTRING SYMMETRIC
    TABLE TABLESAMPLE TEMP TEMPORARY THEN TIES TIME TIMESTAMP TIMESTAMPTZ TO TOP TRAILING TRANSACTION TRIGGER TRIM TRUE
    TRUNCATE TRY_CAST TRY_CONVERT SAFE_CAST TYPE UNBOUNDED UNDER UNION UNIQUE UNKNOWN UNLOGGED UNNEST UNPIVOT UNSIGNED UPDATE USE
    USING VALUE VALUES VARCHAR VARRAY VARYING VIEW VIRTUAL WAIT WHEN WHERE WHILE WINDOW WITH WITHIN WITHOUT XOR YEAR ZONE
    ACCEPT BREAK BTITLE CLEAR COMPUTE DISCONNECT EXIT HOST PAUSE PRINT PROMPT QUIT REM REMARK SPOOL TTITLE UNDEFINE
    VARIABLE WHENEVER DELIMITER CONSTRAINTS PACKAGE EDITIONABLE NONEDITIONABLE BODY SOURCE TARGET XML JSON
    JSON_TABLE XMLTABLE OPENJSON ROWGUIDCOL SPARSE PERSISTED ALWAYS INHERITS TABLESPACE STORAGE PARTITIONED LOCATION OPTIONS
    TBLPROPERTIES CHARSET COLLATION ROW_FORMAT STRICT ROWID OBJECT LANGUAGE SECURITY INVOKER DEFINER READS SQL DATA CONTAINS
    MODIFIES IMMUTABLE STABLE VOLATILE PARALLEL SAFE COST POSITIONAL OPENROWSET PASSING
}

impl Keyword {
    /// The word in capitals; empty for `NONE`.
    pub fn text(self) -> &'static str {
        match self as usize {
            0 => "",
            i => WORDS[i - 1].1,
        }
    }

    /// The keyword a word is, whatever its case.
    pub fn of(word: &str) -> Keyword {
        table().find(word.as_bytes())
    }
}

/// An open-addressing table sized so that most words are settled by one probe.
struct Table {
    slots: Vec<Keyword>,
}

const SLOTS: usize = 2048;
const LONGEST: usize = 19;

fn table() -> &'static Table {
    static TABLE: OnceLock<Table> = OnceLock::new();
    TABLE.get_or_init(|| {
        let mut slots = vec![Keyword::NONE; SLOTS];
        for (keyword, word) in WORDS {
            let mut at = hash(word.as_bytes());
            while slots[at] != Keyword::NONE {
                at = (at + 1) % SLOTS;
            }
            slots[at] = *keyword;
        }
        Table { slots }
    })
}

fn hash(word: &[u8]) -> usize {
    let mut h: u32 = 0x811c_9dc5;
    for byte in word {
        h = (h ^ u32::from(byte & 0xdf)).wrapping_mul(0x0100_0193);
    }
    (h ^ (h >> 15)) as usize % SLOTS
}

impl Table {
    fn find(&self, word: &[u8]) -> Keyword {
        if word.len() > LONGEST {
            return Keyword::NONE;
        }
        let mut at = hash(word);
        loop {
            let slot = self.slots[at];
            if slot == Keyword::NONE || slot.text().as_bytes().eq_ignore_ascii_case(word) {
                return slot;
            }
            at = (at + 1) % SLOTS;
        }
    }
}

/// A handle on the table for the lexer, which looks up every word.
pub(crate) fn finder() -> impl Fn(&[u8]) -> Keyword {
    let table = table();
    move |word| table.find(word)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_word_is_found_in_any_case() {
        for (keyword, word) in WORDS {
            assert!(word.len() <= LONGEST, "{word}");
            assert_eq!(Keyword::of(word), *keyword);
            assert_eq!(Keyword::of(&word.to_lowercase()), *keyword);
        }
        for other in ["vessels", "selects", "", "_", "SELEC"] {
            assert_eq!(Keyword::of(other), Keyword::NONE, "{other}");
        }
    }
}
