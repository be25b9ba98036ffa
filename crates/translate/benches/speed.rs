//! How fast a string of many varied statements is lexed, parsed and translated, and whether time
//! grows with size alone. Run with `cargo bench -p inland-ferry-translate`.

use std::time::{Duration, Instant};

use meaning::Catalog;
use syntax::{Dialect, Statements, lex};
use translate::{Options, translate_text};

#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

/// Statements as people write them, with numbers and names that vary.
fn statements(count: usize) -> String {
    let mut text = String::new();
    for i in 0..count {
        let statement = match i % 8 {
            0 => format!("SELECT * FROM (SELECT name, tons FROM loads_{i} ORDER BY tons DESC) WHERE ROWNUM <= {};\n", i % 90 + 1),
            1 => format!(
                "SELECT v.name, COUNT(*) AS trips FROM vessels v JOIN crossings c ON c.vessel_id = v.id WHERE c.fare > {i} AND v.kind <> 'tug{i}' GROUP BY v.name HAVING COUNT(*) > 1 ORDER BY trips DESC;\n"
            ),
            2 => format!(
                "-- the page of landing {i}\nSELECT id, name\n  FROM landings\n WHERE mile BETWEEN {i} AND {}\n ORDER BY mile, id\n OFFSET 10 ROWS FETCH NEXT 5 ROWS ONLY;\n",
                i + 10
            ),
            3 => format!(
                "SELECT CASE WHEN tons IS NULL THEN 'none' WHEN tons >= {i} THEN 'heavy' ELSE 'light' END AS class, COALESCE(owner, 'nobody') FROM loads WHERE name IN ('coal', 'ice', 'salt{i}');\n"
            ),
            4 => format!("UPDATE tolls SET amount = amount * 2, settled = 'y' WHERE id = {i} AND amount IS NOT NULL;\n"),
            5 => format!("INSERT INTO tolls (id, landing_id, amount, settled) VALUES ({i}, {}, 2.50, 'n');\n", i % 30),
            6 => format!(
                "SELECT w.name, (SELECT MAX(l.mile) FROM landings l WHERE l.waterway_id = w.id) AS far FROM waterways w WHERE EXISTS (SELECT 1 FROM landings l WHERE l.waterway_id = w.id AND l.depth > {i}) /* note {i} */;\n"
            ),
            _ => format!(
                "SELECT name, RANK() OVER (PARTITION BY kind ORDER BY tons_max DESC) AS place FROM vessels WHERE UPPER(name) LIKE 'H%{i}' UNION ALL SELECT name, {i} FROM landings;\n"
            ),
        };
        text.push_str(&statement);
    }
    text
}

/// Statements full of the words a migration is about.
fn words(count: usize) -> String {
    let statement = |i: usize| match i % 4 {
        0 => format!(
            "SELECT NVL(v.remark, 'none') AS remark, SUBSTR(v.name, 2, 3) AS part, UPPER(v.kind) AS kind FROM vessels v WHERE INSTR(v.name, 'x{i}') > 0;\n"
        ),
        1 => format!(
            "SELECT DECODE(kind, 'tug', 1, 'barge', 2, 0) AS code, LPAD(permit, 8, '0') AS permit FROM vessels WHERE LENGTH(TRIM(name)) > {};\n",
            i % 20
        ),
        2 => format!(
            "SELECT name || ' of ' || owner AS label, NVL2(owner, 'y', 'n') AS owned, ROUND(tons / 3, 2) AS third FROM loads WHERE REPLACE(name, '-', ' ') LIKE 'c%{i}';\n"
        ),
        _ => format!(
            "UPDATE tolls SET remark = NVL(remark, 'late {i}'), amount = GREATEST(amount, 2) WHERE NVL(settled, 'n') <> 'y' AND MOD(id, 7) = {};\n",
            i % 7
        ),
    };
    (0..count).map(statement).collect()
}

/// The best of several runs.
fn best(mut work: impl FnMut()) -> Duration {
    (0..5)
        .map(|_| {
            let started = Instant::now();
            work();
            started.elapsed()
        })
        .min()
        .unwrap_or_default()
}

fn rate(label: &str, bytes: usize, time: Duration) {
    println!(
        "{label:<34} {:>7.1} MB/s  ({:.2} MB in {:.0} ms)",
        bytes as f64 / 1e6 / time.as_secs_f64(),
        bytes as f64 / 1e6,
        time.as_secs_f64() * 1e3
    );
}

fn parse(text: &str, dialect: &Dialect) {
    let tokens = lex(text, dialect);
    for parsed in Statements::new(text, &tokens, dialect) {
        assert!(parsed.tree.is_ok(), "{:?}", parsed.tree.err());
    }
}

/// Time for 1, 2 and 4 times the size, as ratios.
fn growth(label: &str, make: impl Fn(usize) -> String, size: usize, work: impl Fn(&str)) {
    let times: Vec<f64> = [1, 2, 4]
        .iter()
        .map(|factor| {
            let text = make(size * factor);
            best(|| work(&text)).as_secs_f64()
        })
        .collect();
    println!("{label:<34} 1x {:.1} ms, 2x is {:.2} times that, 4x {:.2} times", times[0] * 1e3, times[1] / times[0], times[2] / times[0]);
}

fn main() {
    // A word after `--` runs only the rows that hold it.
    let wanted = std::env::args().skip(1).find(|a| !a.starts_with('-')).unwrap_or_default();
    let rate = |label: &str, bytes: usize, work: &mut dyn FnMut()| {
        if label.starts_with(&wanted) {
            rate(label, bytes, best(work));
        }
    };
    let oracle: Dialect = syntax::DialectName::Oracle.into();
    let sqlserver: Dialect = syntax::DialectName::SqlServer.into();
    let postgres: Dialect = syntax::DialectName::Postgres.into();
    let catalog = Catalog::default();
    let options = Options::default();
    let text = statements(100_000);
    rate("lex", text.len(), &mut || drop(lex(&text, &oracle)));
    rate("parse (lexing included)", text.len(), &mut || parse(&text, &oracle));
    rate("translate oracle to postgres", text.len(), &mut || drop(translate_text(&text, &oracle, &postgres, &catalog, &options)));
    let worded = words(50_000);
    rate("words oracle to postgres", worded.len(), &mut || drop(translate_text(&worded, &oracle, &postgres, &catalog, &options)));
    rate("translate oracle to oracle", text.len(), &mut || drop(translate_text(&text, &oracle, &oracle, &catalog, &options)));
    if !wanted.is_empty() && wanted != "growth" {
        return;
    }
    let list = |n: usize| {
        format!("SELECT name FROM loads WHERE name IN ({})", (0..n).map(|i| format!("N'load {i}'")).collect::<Vec<_>>().join(", "))
    };
    growth("list of N'..' literals, 100,000", list, 100_000, |t| drop(translate_text(t, &sqlserver, &postgres, &catalog, &options)));
    let long = |n: usize| {
        format!(
            "SELECT {} FROM loads",
            (0..n).map(|i| format!("CASE WHEN tons > {i} THEN 'a{i}' ELSE name END AS c{i}")).collect::<Vec<_>>().join(",\n       ")
        )
    };
    let size = 5_000_000 / 55;
    growth("one statement of 5 MB", long, size, |t| drop(translate_text(t, &oracle, &postgres, &catalog, &options)));
}
