//! How fast rows come from a server, beside what its driver alone gives, and how fast they go in.
//! Run with `scripts/engines up; eval "$(scripts/engines env)"; cargo bench -p inland-ferry-engines`.
#![allow(clippy::expect_used)] // A benchmark without its engine may end loudly.

use std::time::{Duration, Instant};

use engines::{Address, Engine, Sink, open};
use mysql::prelude::Queryable;
use postgres::fallible_iterator::FallibleIterator;
use values::{Column, DataType, Row, Table, Value};

#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

const MANY: usize = 1_000_000;
const LOADED: i64 = 100_000;
const ROUNDS: usize = 5;

/// Takes every row and keeps none.
struct Counting(usize);

impl Sink for Counting {
    fn columns(&mut self, _: Vec<String>, _: Vec<String>) {}

    fn row(&mut self, row: Row) -> bool {
        self.0 += std::hint::black_box(row).len();
        true
    }
}

fn best(mut work: impl FnMut()) -> Duration {
    (0..ROUNDS)
        .map(|_| {
            let began = Instant::now();
            work();
            began.elapsed()
        })
        .min()
        .unwrap_or_default()
}

fn tell(what: &str, ours: Duration, drivers: Duration) {
    let share = drivers.as_secs_f64() / ours.as_secs_f64() * 100.0;
    println!("{what}: ours {:.2} s, the driver alone {:.2} s: {share:.0}% of its speed", ours.as_secs_f64(), drivers.as_secs_f64());
}

fn fetched(engine: &mut dyn Engine, sql: &str) {
    let mut sink = Counting(0);
    engine.run(sql, &mut sink).expect("an engine that answers");
    assert_eq!(sink.0, 3 * MANY);
}

/// A million rows of a number, a text and another number.
fn postgres(url: &str, engine: &mut dyn Engine) {
    let sql = format!("SELECT g AS id, 'landing ' || g % 1000 AS name, (g % 97)::float8 AS depth FROM generate_series(1, {MANY}) AS g");
    let mut client = postgres::Client::connect(url, postgres::NoTls).expect("an engine that answers");
    let alone = best(|| {
        let parameters: [&str; 0] = [];
        let mut rows = client.query_raw(&sql, parameters).expect("an engine that answers");
        while let Some(row) = rows.next().expect("an engine that answers") {
            std::hint::black_box((row.get::<_, i32>(0), row.get::<_, String>(1), row.get::<_, f64>(2)));
        }
    });
    tell("PostgreSQL, 1,000,000 rows", best(|| fetched(engine, &sql)), alone);
}

fn mariadb(url: &str, engine: &mut dyn Engine) {
    let sql = format!("SELECT seq AS id, CONCAT('landing ', seq % 1000) AS name, seq % 97 * 1e0 AS depth FROM ferry.bench_{MANY}");
    let mut client = mysql::Conn::new(mysql::Opts::from_url(url).expect("an engine that answers")).expect("an engine that answers");
    let make = format!("CREATE OR REPLACE TABLE ferry.bench_{MANY} AS SELECT seq FROM seq_1_to_{MANY}");
    client.query_drop(make).expect("an engine that answers");
    let alone = best(|| {
        for row in client.query_iter(&sql).expect("an engine that answers") {
            std::hint::black_box(mysql::from_row::<(i64, String, f64)>(row.expect("an engine that answers")));
        }
    });
    tell("MariaDB, 1,000,000 rows", best(|| fetched(engine, &sql)), alone);
    client.query_drop(format!("DROP TABLE ferry.bench_{MANY}")).expect("an engine that answers");
}

/// Tolls of five columns.
fn tolls() -> (Table, Vec<Row>) {
    let column = |name: &str, data_type| Column { name: name.to_string(), data_type, nullable: true, case_sensitive: None };
    let columns = vec![
        column("id", DataType::Integer(32)),
        column("landing", DataType::Text { length: Some(40), fixed: false }),
        column("amount", DataType::Decimal(Some((8, 2)))),
        column("paid_on", DataType::Date),
        column("remark", DataType::TEXT),
    ];
    let day = jiff::civil::date(2026, 1, 31);
    let row = |i: i64| {
        vec![
            Value::Integer(i),
            Value::text(format!("landing {}", i % 997)),
            Value::decimal(values::Decimal::new((i % 10_000).into(), 2)),
            Value::Date(day),
            if i % 7 == 0 { Value::Null } else { Value::text(format!("remark {i} of the warden")) },
        ]
    };
    (Table { name: "tolls".to_string(), columns, ..Table::default() }, (0..LOADED).map(row).collect())
}

fn main() {
    let wanted = std::env::args().nth(1).filter(|a| !a.starts_with("--"));
    let tables = [tolls()];
    let measured: [(&str, Option<fn(&str, &mut dyn Engine)>); 4] = [
        ("INLAND_FERRY_POSTGRES", Some(postgres)),
        ("INLAND_FERRY_MARIADB", Some(mariadb)),
        ("INLAND_FERRY_DUCKDB", None),
        ("INLAND_FERRY_GOOGLESQL", None),
    ];
    for (variable, fetch) in measured {
        if wanted.as_ref().is_some_and(|w| !variable.contains(&w.to_uppercase())) {
            continue;
        }
        let Ok(url) = std::env::var(variable) else {
            println!("{variable} is not set: nothing is measured there");
            continue;
        };
        let address: Address = url.parse().expect("an engine that answers");
        let mut engine = open(&address).expect("an engine that answers");
        if let Some(fetch) = fetch {
            fetch(&url, &mut *engine);
        }
        let began = Instant::now();
        engine.load(&tables).expect("an engine that answers");
        println!("{}: {LOADED} rows loaded in {:.2} s", engine.name(), began.elapsed().as_secs_f64());
    }
}
