//! Functions that look like columns: they are called without parentheses.

use std::collections::BTreeMap;
use std::sync::LazyLock;

use syntax::tree::{ObjectName, Quote};
use syntax::{DialectName, DialectSet, WordTable};

/// Functions that are called without parentheses, by dialect (the chapters on functions of each manual).
const BARE_FUNCTIONS: &[(&[DialectName], &str)] = &[
    (&[DialectName::Oracle], "SYSDATE SYSTIMESTAMP CURRENT_DATE CURRENT_TIMESTAMP LOCALTIMESTAMP DBTIMEZONE SESSIONTIMEZONE UID USER"),
    (&[DialectName::SqlServer], "CURRENT_DATE CURRENT_TIMESTAMP CURRENT_USER SESSION_USER SYSTEM_USER USER"),
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

/// By word: every column of unknown type is looked for.
static DIALECTS: LazyLock<WordTable<Option<DialectSet>>> = LazyLock::new(|| {
    let mut by_word: BTreeMap<&'static str, Vec<DialectName>> = BTreeMap::new();
    for (dialects, words) in BARE_FUNCTIONS {
        words.split_whitespace().for_each(|word| by_word.entry(word).or_default().extend(*dialects));
    }
    WordTable::new(None, by_word.into_iter().map(|(word, dialects)| (word, Some(DialectSet::of(&dialects)))))
});

/// Whether an unquoted name is one of them.
pub(super) fn is_one(name: &ObjectName, dialect: DialectName) -> bool {
    let Some(word) = name.as_single().filter(|w| w.quote == Quote::None) else { return false };
    DIALECTS.find(word.text.as_bytes(), word.text.len()).is_some_and(|dialects| dialects.has(dialect))
}
