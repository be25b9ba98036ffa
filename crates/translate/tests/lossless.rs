//! Scripts put together at random: every statement of the source is in the output, whole and once,
//! as code or as a comment; and what a refused statement governs isn't left as code.

#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

mod random;

use meaning::Catalog;
use syntax::{Dialect, DialectName, TokenKind, lex};
use translate::{Options, translate_text};

use random::Random;

/// Statements of each dialect, `|` between the dialects that read them. `{a}` and `{b}` are numbers that are
/// nowhere else in the script: a statement is torn if one is code and the other isn't.
#[rustfmt::skip] // One case a line.
const STATEMENTS: &[(&str, &str)] = &[
    ("*", "SELECT {a} AS x FROM vessels WHERE tons > {b}"),
    ("*", "SELECT name FROM vessels WHERE tons = {a} ORDER BY {b} + tons"),
    ("*", "SELECT {a} AS x UNION ALL SELECT {b}"),
    ("*", "WITH w AS (SELECT {a} AS x) SELECT x FROM w WHERE x < {b}"),
    ("*", "SELECT CASE WHEN {a} = tons THEN 'END' ELSE ';' END AS x FROM vessels WHERE id = {b}"),
    ("*", "INSERT INTO tolls (id, fare) VALUES ({a}, {b})"),
    ("*", "INSERT INTO tolls (id, fare) SELECT {a}, fare FROM crossings WHERE id = {b}"),
    ("*", "UPDATE tolls SET fare = {a} WHERE id = {b}"),
    ("*", "DELETE FROM tolls WHERE id = {a} OR fare > {b}"),
    ("*", "CREATE TABLE locks (id INT DEFAULT {a}, CHECK (id < {b}))"),
    ("*", "CREATE VIEW heavy AS SELECT {a} AS x FROM vessels WHERE tons > {b}"),
    ("*", "GRANT SELECT, UPDATE ON tolls_{a} TO warden_{b}"),
    ("*", "ALTER TABLE tolls ADD CONSTRAINT c CHECK (fare < {a} AND id < {b})"),
    ("*", "SELECT {a} FROM FROM vessels WHERE id = {b}"),
    ("*", "SELECT {a} AS 'a\nb' /* {c} */ , 1 FROM vessels WHERE id = {b}"),
    ("sqlserver", "SELECT TOP 3 name INTO kept_{a} FROM vessels WHERE id = {b}"),
    ("sqlserver", "SELECT {a} AS x FROM vessels WHERE id = {b} FOR XML PATH('v')"),
    ("sqlserver", "IF EXISTS (SELECT 1 FROM tolls WHERE id = {a}) DELETE FROM tolls WHERE id = {b}"),
    ("sqlserver", "IF @@ROWCOUNT = {a} BEGIN DELETE FROM tolls; UPDATE tolls SET fare = 1 END ELSE INSERT INTO tolls (id) VALUES ({b})"),
    ("sqlserver", "WHILE {a} > 1 BEGIN DELETE TOP (5) FROM tolls WHERE id = {b} END"),
    ("sqlserver", "BEGIN TRY DELETE FROM tolls WHERE id = {a} END TRY BEGIN CATCH DELETE FROM tolls WHERE id = {b} END CATCH"),
    ("sqlserver", "EXEC weigh @id = {a}, @tons = {b}"),
    ("sqlserver", "SET ROWCOUNT 0"),
    ("sqlserver", "PRINT 'x' + CAST({a} AS VARCHAR(9)) + '{b}'"),
    ("sqlserver", "ALTER TABLE tolls DROP CONSTRAINT c_{a}, c_{b}"),
    ("sqlserver", "DROP TABLE IF EXISTS old_{a}, old_{b}"),
    ("sqlserver", "BULK INSERT tolls FROM 'tolls_{a}.csv' WITH (FIRSTROW = {b})"),
    ("sqlserver", "UPDATE t SET fare = {a} FROM tolls t JOIN crossings c ON c.id = t.id WHERE c.id = {b}"),
    ("sqlserver", "INSERT INTO tolls EXEC weigh {a}, {b}"),
    ("oracle", "SELECT {a} FROM dual WHERE ROWNUM <= {b}"),
    ("oracle", "COMMENT ON TABLE tolls IS 'in {a}; not {b}'"),
    ("oracle", "MERGE INTO tolls t USING (SELECT {a} AS id FROM dual) s ON (t.id = s.id) WHEN MATCHED THEN UPDATE SET fare = {b}"),
    ("mysql|mariadb", "CREATE PROCEDURE p() BEGIN DELETE FROM tolls WHERE id = {a}; IF 1 THEN DELETE FROM tolls WHERE id = {b}; END IF; END"),
    ("mysql|mariadb", "INSERT INTO tolls (id) VALUES ({a}) ON DUPLICATE KEY UPDATE fare = {b}"),
    ("mysql|mariadb", "CREATE TRIGGER g BEFORE INSERT ON tolls FOR EACH ROW BEGIN SET @a = {a}; SET @b = CASE WHEN 1 THEN 2 END; DELETE FROM tolls WHERE id = {b}; END"),
    ("sqlite", "CREATE TRIGGER g AFTER INSERT ON tolls BEGIN DELETE FROM tolls WHERE id = {a}; DELETE FROM tolls WHERE id = {b}; END"),
    ("postgres", "CREATE FUNCTION f() RETURNS int LANGUAGE plpgsql AS $$ BEGIN DELETE FROM tolls WHERE id = {a}; RETURN {b}; END $$"),
    ("postgres", "CREATE PROCEDURE p() BEGIN ATOMIC DELETE FROM tolls WHERE id = {a}; DELETE FROM tolls WHERE id = {b}; END"),
    ("postgres", "DO $x$ BEGIN DELETE FROM tolls WHERE id = {a}; DELETE FROM tolls WHERE id = {b}; END $x$"),
    ("bigquery", "IF {a} > 1 THEN DELETE FROM tolls WHERE id = 1; ELSE DELETE FROM tolls WHERE id = {b}; END IF"),
    ("bigquery", "BEGIN DELETE FROM tolls WHERE id = {a}; SELECT CASE WHEN TRUE THEN 1 END; DELETE FROM tolls WHERE id = {b}; END"),
    ("bigquery", "FOR r IN (SELECT {a} AS x) DO DELETE FROM tolls WHERE id = {b}; END FOR"),
    ("duckdb", "COPY (SELECT {a} AS x) TO 'x_{b}.csv'"),
    ("spark", "INSERT OVERWRITE tolls SELECT {a}, {b}"),
];

/// Statements that belong together: none is code unless all are. `{a}`, `{b}` mark those that must not run alone.
#[rustfmt::skip] // One case a line.
const GROUPS: &[(&str, &[&str])] = &[
    ("sqlserver", &["BEGIN TRAN", "DELETE FROM tolls WHERE id = {a}", "REVERT", "DELETE FROM tolls WHERE id = {b}", "ROLLBACK"]),
    ("sqlserver", &["SELECT {a} AS id INTO #t FROM vessels", "DELETE FROM tolls WHERE id IN (SELECT id FROM #t) OR id = {b}"]),
    ("sqlserver", &["DECLARE @v INT = (SELECT MAX(id) + {a} FROM tolls)", "DELETE FROM tolls WHERE id = @v OR id = {b}"]),
    ("sqlserver", &["IF {a} > 0 RETURN", "DELETE FROM tolls WHERE id = {b}"]),
    ("mysql|mariadb", &["START TRANSACTION", "DELETE FROM tolls WHERE id = {a}", "LOCK TABLES tolls WRITE", "DELETE FROM tolls WHERE id = {b}", "ROLLBACK"]),
    ("mysql|mariadb", &["CREATE TEMPORARY TABLE t AS SELECT {a} AS id", "DELETE FROM tolls WHERE id IN (SELECT id FROM t) OR id = {b}"]),
    ("mysql|mariadb", &["SET @v = (SELECT MAX(id) + {a} FROM tolls)", "DELETE FROM tolls WHERE id = @v OR id = {b}"]),
    ("postgres", &["BEGIN ISOLATION LEVEL SERIALIZABLE", "DELETE FROM tolls WHERE id = {a}", "DELETE FROM tolls WHERE id = {b}", "ABORT"]),
    ("postgres", &["CREATE TEMP TABLE IF NOT EXISTS t AS SELECT {a} AS id", "DELETE FROM tolls WHERE id IN (SELECT id FROM t) OR id = {b}"]),
    ("oracle", &["DELETE FROM tolls WHERE id = {a}", "DELETE FROM tolls WHERE id = {b}", "ROLLBACK"]),
    ("bigquery", &["DECLARE v INT64 DEFAULT (SELECT MAX(id) + {a} FROM tolls)", "DELETE FROM tolls WHERE id = v OR id = {b}"]),
    ("sqlite", &["BEGIN IMMEDIATE", "DELETE FROM tolls WHERE id = {a}", "SAVEPOINT s", "DELETE FROM tolls WHERE id = {b}", "COMMIT"]),
];

/// A script and what must hold of it.
#[derive(Default)]
struct Script {
    text: String,
    /// The two numbers of a statement or group.
    pairs: Vec<(usize, usize)>,
    /// Numbers in comments between statements.
    comments: Vec<usize>,
}

/// How the statements of a script are parted.
#[derive(Debug, Clone, Copy)]
enum Parting {
    OneLine,
    Lines,
    Comments,
    Returns,
    NoSeparators,
}

const PARTINGS: [Parting; 5] = [Parting::OneLine, Parting::Lines, Parting::Comments, Parting::Returns, Parting::NoSeparators];

fn is_of(dialects: &str, dialect: DialectName) -> bool {
    dialects == "*" || dialects.split('|').any(|d| d == dialect.as_str())
}

fn script(dialect: DialectName, parting: Parting, random: &mut Random) -> Script {
    let mut script = Script::default();
    let mut number = 70_000;
    let mut fresh = || {
        number += 1;
        number
    };
    let alone: Vec<&[&str]> = STATEMENTS.iter().filter(|(d, _)| is_of(d, dialect)).map(|(_, s)| std::slice::from_ref(s)).collect();
    let groups: Vec<&[&str]> = GROUPS.iter().filter(|(d, _)| is_of(d, dialect)).map(|(_, g)| *g).collect();
    for _ in 0..2 + random.below(7) {
        let of_group = !groups.is_empty() && random.below(4) == 0;
        let statements = if of_group { groups[random.below(groups.len())] } else { alone[random.below(alone.len())] };
        let (a, b, c) = (fresh(), fresh(), fresh());
        for statement in statements {
            let filled = statement.replace("{a}", &a.to_string()).replace("{b}", &b.to_string()).replace("{c}", &c.to_string());
            script.text.push_str(&filled);
            let comment = fresh();
            part(&mut script, dialect, parting, comment, random);
        }
        // A statement that goes on to the end of its batch, or has no numbers, proves nothing.
        if statements.iter().any(|s| s.contains("{b}")) {
            script.pairs.push((a, b));
        }
        // The next group must not be governed by this one.
        if of_group && dialect == DialectName::SqlServer {
            script.text.push_str("\nGO\n");
        }
    }
    if matches!(parting, Parting::Returns) {
        script.text = script.text.replace('\n', "\r\n");
    }
    script
}

fn part(script: &mut Script, dialect: DialectName, parting: Parting, number: usize, random: &mut Random) {
    // A block of Oracle, and a MERGE of SQL Server, would need their ends; those are not among the statements.
    let bare = dialect == DialectName::SqlServer;
    match parting {
        Parting::OneLine => script.text.push_str(["; ", ";", " ; "][random.below(3)]),
        Parting::Lines | Parting::Returns => script.text.push_str(";\n"),
        Parting::NoSeparators if bare => script.text.push_str([" ", "\n", "\t"][random.below(3)]),
        Parting::NoSeparators => script.text.push_str(";\n\n"),
        Parting::Comments => {
            let comment = match random.below(5) {
                0 => format!("; /* {number} */ "),
                1 => format!("; -- {number}\n"),
                2 => format!(" /* {number}\n */;"),
                3 => format!("\n-- {number}\n;\n"),
                _ => format!(";\n/* {number}\n*/\n"),
            };
            script.comments.push(number);
            script.text.push_str(&comment);
        }
    }
}

/// The output's code without its comments, and the comments.
fn code_and_comments(text: &str, dialect: &Dialect) -> (String, String) {
    let (mut code, mut comments) = (String::new(), String::new());
    let mut at = 0;
    for token in lex(text, dialect) {
        comments.push_str(&text[at..token.start as usize]);
        comments.push(' ');
        // A quote left open in the output would hide what follows it.
        assert!(token.kind != TokenKind::Unclosed, "left open in {text}");
        code.push_str(token.text(text));
        code.push(' ');
        at = token.end as usize;
    }
    (code, comments)
}

/// What is wrong with the translation of a script.
fn faults(script: &Script, from: &Dialect, to: &Dialect) -> Vec<String> {
    let done = translate_text(&script.text, from, to, &Catalog::default(), &Options { inline_notes: true, ..Options::default() });
    let (code, comments) = code_and_comments(&done.text, to);
    let is_code = |n: usize| code.contains(&n.to_string());
    let is_comment = |n: usize| comments.contains(&n.to_string());
    let mut faults = Vec::new();
    for (a, b) in &script.pairs {
        for n in [a, b] {
            match (is_code(*n), is_comment(*n)) {
                (false, false) => faults.push(format!("{n} is lost")),
                (true, true) => faults.push(format!("{n} is code and comment")),
                _ => {}
            }
        }
        if is_code(*a) != is_code(*b) {
            faults.push(format!("{a} and {b} are torn or left to run alone"));
        }
    }
    faults.extend(script.comments.iter().filter(|n| !is_comment(**n)).map(|n| format!("comment {n} is lost")));
    if from.name != to.name && script.text.contains("\r\n") && done.text.replace("\r\n", "").contains('\n') {
        faults.push("a line end lost its carriage return".to_string());
    }
    faults
}

#[test]
fn nothing_is_lost_torn_or_left_to_run_alone() {
    let rounds: usize = std::env::var("INLAND_FERRY_ROUNDS").ok().and_then(|n| n.parse().ok()).unwrap_or(8);
    let mut random = Random(0x5eed_2026);
    let mut failures = Vec::new();
    for from in DialectName::ALL {
        for parting in PARTINGS {
            for _ in 0..rounds * 3 {
                let script = script(from, parting, &mut random);
                let to = DialectName::ALL[random.below(9)];
                let found = faults(&script, &from.into(), &to.into());
                if !found.is_empty() && failures.len() < 5 {
                    failures.push(format!("{from} to {to}, {parting:?}: {}\n{}", found.join("; "), script.text));
                }
            }
        }
    }
    assert!(failures.is_empty(), "{}", failures.join("\n----\n"));
}
