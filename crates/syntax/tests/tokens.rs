//! How texts fall into tokens, dialect by dialect.

#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

use syntax::{Dialect, TokenKind, lex};

/// Dialects, the text, and its tokens: a letter for the kind, then the token's text, parted by blanks.
#[rustfmt::skip] // One case a line.
const CASES: &[(&str, &str, &str)] = &[
    ("every", "a.b, c_1", "wa s. wb s, wc_1"),
    ("every", "SELECT 1", "wSELECT n1"),
    ("every", "1.5 .5 1. 1e3 1.5E-3", "n1.5 n.5 n1. n1e3 n1.5E-3"),
    ("every", "'it''s'", "t'it''s'"),
    ("every", "''", "t''"),
    ("every", "a -- b", "wa"),
    ("every", "a/* b */c", "wa wc"),
    ("every", "a<=b<>c!=d", "wa s<= wb s<> wc s!= wd"),
    ("every", "a;b", "wa e; wb"),
    ("every", "a\u{a0}b", "wa wb"),
    ("every", "größe", "wgröße"),
    ("every", "'größe'", "t'größe'"),
    ("every", "1..2", "n1 s. n.2"),
    ("oracle postgres duckdb sqlserver sqlite", "\"Mixed \"\"Case\"\"\"", "q\"Mixed \"\"Case\"\"\""),
    ("mysql mariadb bigquery spark", "\"text\"", "t\"text\""),
    ("mysql mariadb bigquery spark sqlite", "`a b`", "q`a b`"),
    ("sqlserver sqlite", "[a b]", "q[a b]"),
    ("sqlserver", "[a]]b]", "q[a]]b]"),
    ("postgres duckdb bigquery spark", "a[1]", "wa s[ n1 s]"),
    ("mysql mariadb bigquery spark", "'a\\'b'", "t'a\\'b'"),
    ("postgres oracle sqlserver sqlite duckdb", "'a\\'", "t'a\\'"),
    ("postgres duckdb", "E'a\\'b'", "tE'a\\'b'"),
    ("oracle sqlserver mysql postgres", "N'x'", "tN'x'"),
    ("oracle", "q'[it's]' q'{a}' q'!b!' nq'<c>'", "tq'[it's]' tq'{a}' tq'!b!' tnq'<c>'"),
    ("postgres mysql mariadb sqlite oracle", "X'0aff'", "tX'0aff'"),
    ("bigquery spark", "r'a\\n' R\"b\"", "tr'a\\n' tR\"b\""),
    ("bigquery", "'''a'b''' \"\"\"c\"d\"\"\"", "t'''a'b''' t\"\"\"c\"d\"\"\""),
    ("bigquery", "b'x' rb'y'", "tb'x' trb'y'"),
    ("postgres duckdb", "$$it's$$ $tag$a $$ b$tag$", "t$$it's$$ t$tag$a $$ b$tag$"),
    ("postgres", "$1 + $2", "p$1 s+ p$2"),
    ("oracle", ":name + :1", "p:name s+ p:1"),
    ("postgres duckdb", "a::integer", "wa s:: winteger"),
    ("postgres duckdb", "a[1:2]", "wa s[ n1 s: n2 s]"),
    ("sqlserver mysql mariadb bigquery sqlite", "@page + @@x", "p@page s+ p@@x"),
    ("mysql mariadb duckdb sqlite bigquery", "? + ?", "p? s+ p?"),
    ("sqlite", "?1 $name :name @name", "p?1 p$name p:name p@name"),
    ("oracle", "&schema..tolls", "p&schema. s. wtolls"),
    ("sqlserver", "#recent ##all", "w#recent w##all"),
    ("mysql mariadb bigquery", "a # b", "wa"),
    ("mysql mariadb", "a --b", "wa s- s- wb"),
    ("mysql mariadb", "a -- b", "wa"),
    ("oracle postgres", "a --b", "wa"),
    ("postgres sqlserver duckdb spark", "a /* b /* c */ d */ e", "wa we"),
    ("oracle mysql sqlite", "a /* b /* c */ d", "wa wd"),
    ("mysql", "SELECT /*!80000 1, */ 2", "wSELECT n1 s, n2"),
    ("mariadb", "SELECT /*M!100000 1, */ /*! 3, */ 2", "wSELECT n1 s, n3 s, n2"),
    ("oracle", "SELECT /*+ FULL(t) */ 1", "wSELECT n1"),
    ("spark", "10L 1.5BD 3D 2S", "n10L n1.5BD n3D n2S"),
    ("oracle", "1.5f 2D", "n1.5f n2D"),
    ("mysql mariadb sqlite sqlserver", "0xFF", "n0xFF"),
    ("oracle", "a^=b || c := d ** e", "wa s^= wb s|| wc s:= wd s** we"),
    ("sqlserver", "a += 1 !< b", "wa s+= n1 s!< wb"),
    ("mysql mariadb spark", "a <=> b", "wa s<=> wb"),
    ("postgres", "a ->> b #>> c @> d ?| e ~* f !~~* g", "wa s->> wb s#>> wc s@> wd s?| we s~* wf s!~~* wg"),
    ("duckdb", "a // b ** c", "wa s// wb s** wc"),
    ("duckdb spark", "x -> x", "wx s-> wx"),
    ("mysql mariadb", "DELIMITER //\nSELECT 1//\nDELIMITER ;", "dDELIMITER // wSELECT n1 e// dDELIMITER ;"),
    ("mysql mariadb", "SELECT 1\\G", "wSELECT n1 e\\G"),
    ("postgres", "\\d loads\nSELECT 1", "d\\d loads wSELECT n1"),
    ("sqlite", ".mode box\nSELECT 1", "d.mode box wSELECT n1"),
    ("sqlserver", "SELECT 1\nGO\nSELECT 2\ngo 5 -- again", "wSELECT n1 bGO wSELECT n2 bgo 5 -- again"),
    ("sqlserver", "SELECT go FROM t", "wSELECT wgo wFROM wt"),
    ("oracle", "SELECT 1 FROM dual\n/\nSELECT 2", "wSELECT n1 wFROM wdual b/ wSELECT n2"),
    ("oracle", "SELECT a\n/ b FROM t", "wSELECT wa s/ wb wFROM wt"),
    ("oracle", "SET PAGESIZE 50\nSELECT 1", "dSET PAGESIZE 50 wSELECT n1"),
    ("oracle", "SET TRANSACTION READ ONLY", "wSET wTRANSACTION wREAD wONLY"),
    ("oracle", "COL name FORMAT A20\nPROMPT go on\nSELECT 1", "dCOL name FORMAT A20 dPROMPT go on wSELECT n1"),
    ("oracle", "SELECT a\nFROM t START WITH a = 1\nCONNECT BY b", "wSELECT wa wFROM wt wSTART wWITH wa s= n1 wCONNECT wBY wb"),
    ("oracle", "@setup.sql\nSELECT 1", "d@setup.sql wSELECT n1"),
    ("oracle", "a#b$c", "wa#b$c"),
    ("postgres", "a#b", "wa s# wb"),
    ("every", "\u{feff}SELECT 1", "wSELECT n1"),
    ("postgres", "a \\ b", "wa s\\ wb"),
    ("every", "a\r\nb", "wa wb"),
    ("every", "'two\nlines'", "t'two|lines'"),
    ("every", "'open", "o'open"),
    ("every", "a /* open", "wa o/* open"),
    ("mysql mariadb bigquery spark sqlite", "`open", "o`open"),
    ("postgres", "\"open", "o\"open"),
    ("postgres", "$t$ open $x$", "o$t$ open $x$"),
];

fn letter(kind: TokenKind) -> char {
    match kind {
        TokenKind::Word => 'w',
        TokenKind::QuotedName => 'q',
        TokenKind::String => 't',
        TokenKind::Number => 'n',
        TokenKind::Parameter => 'p',
        TokenKind::Symbol => 's',
        TokenKind::Separator => 'e',
        TokenKind::BatchSeparator => 'b',
        TokenKind::Directive => 'd',
        TokenKind::Unclosed => 'o',
        TokenKind::Unknown => 'u',
        TokenKind::End => 'z',
    }
}

fn reported(text: &str, dialect: &Dialect) -> String {
    let tokens = lex(text, dialect);
    let parts =
        tokens.iter().filter(|t| t.kind != TokenKind::End).map(|t| format!("{}{}", letter(t.kind), t.text(text).replace('\n', "|")));
    parts.collect::<Vec<_>>().join(" ")
}

#[test]
fn texts_fall_into_tokens_as_each_dialect_reads_them() {
    let mut failures = Vec::new();
    for (dialects, text, expected) in CASES {
        for name in syntax::DialectName::ALL {
            if *dialects == "every" || dialects.split(' ').any(|d| d == name.as_str()) {
                let got = reported(text, &name.into());
                if got != *expected {
                    failures.push(format!("{name}: {}\n  wanted {expected}\n  got    {got}", text.escape_default()));
                }
            }
        }
    }
    assert!(failures.is_empty(), "{} of them\n{}", failures.len(), failures.join("\n"));
}
