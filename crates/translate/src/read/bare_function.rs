//! Functions that look like columns: they are called without parentheses.

use syntax::DialectName;
use syntax::tree::{ObjectName, Quote};

/// Functions that are called without parentheses, by dialect (the chapters on functions of each manual).
const BARE_FUNCTIONS: &[(&[DialectName], &str)] = &[
    (&[DialectName::Oracle], "SYSDATE SYSTIMESTAMP CURRENT_DATE CURRENT_TIMESTAMP LOCALTIMESTAMP DBTIMEZONE SESSIONTIMEZONE UID USER"),
    (&[DialectName::Tsql], "CURRENT_DATE CURRENT_TIMESTAMP CURRENT_USER SESSION_USER SYSTEM_USER USER"),
    (
        &[DialectName::Mysql, DialectName::Mariadb],
        "CURRENT_DATE CURRENT_TIME CURRENT_TIMESTAMP CURRENT_USER LOCALTIME LOCALTIMESTAMP UTC_DATE UTC_TIME UTC_TIMESTAMP",
    ),
    (
        &[DialectName::Postgres, DialectName::Duckdb],
        "CURRENT_CATALOG CURRENT_DATE CURRENT_ROLE CURRENT_SCHEMA CURRENT_TIME CURRENT_TIMESTAMP CURRENT_USER LOCALTIME LOCALTIMESTAMP \
         SESSION_USER SYSTEM_USER USER",
    ),
    (&[DialectName::Bigquery, DialectName::Spark], "CURRENT_DATE CURRENT_DATETIME CURRENT_TIME CURRENT_TIMESTAMP CURRENT_USER"),
    (&[DialectName::Sqlite], "CURRENT_DATE CURRENT_TIME CURRENT_TIMESTAMP"),
];

/// Whether an unquoted name is one of them.
pub(super) fn is_one(name: &ObjectName, dialect: DialectName) -> bool {
    let Some(word) = name.as_single().filter(|w| w.quote == Quote::None) else { return false };
    let mut lists = BARE_FUNCTIONS.iter().filter(|(dialects, _)| dialects.contains(&dialect));
    lists.any(|(_, words)| words.split_whitespace().any(|w| word.is_word(w)))
}
