//! How fast the stand-ins run over many rows, and how many small databases they try in a second.
//! Run with `cargo bench -p inland-ferry-standin`.

use std::time::Instant;

use standin::StandIn;
use syntax::DialectName;
use values::{Column, DataType, Row, Table, Value};

#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

const MANY: i64 = 1_000_000;

fn column(name: &str, data_type: DataType) -> Column {
    Column { name: name.to_string(), data_type, nullable: true, case_sensitive: None }
}

fn table(name: &str, columns: &[(&str, DataType)]) -> Table {
    Table { name: name.to_string(), columns: columns.iter().map(|(n, t)| column(n, t.clone())).collect(), ..Table::default() }
}

/// A number that looks drawn, the same in every run.
fn mixed(i: i64) -> i64 {
    ((i as u64).wrapping_mul(0x9E37_79B9_7F4A_7C15) >> 20) as i64
}

/// Crossings of 100,000 vessels, and a waterway of 100,000 branches.
fn database(dialect: DialectName) -> StandIn {
    let mut engine = StandIn::new(dialect.into());
    let whole = DataType::Integer(32);
    let crossings =
        table("crossings", &[("id", whole.clone()), ("vessel_id", whole.clone()), ("landing", DataType::TEXT), ("fare", whole.clone())]);
    let rows: Vec<Row> = (0..MANY)
        .map(|i| {
            let landing = Value::text(format!("landing {}", mixed(i) % 1000));
            vec![Value::Integer(i), Value::Integer(mixed(i) % 100_000), landing, Value::Integer(mixed(i + 7) % 500)]
        })
        .collect();
    engine.load(&crossings, rows);
    let vessels = table("vessels", &[("id", whole.clone()), ("name", DataType::TEXT)]);
    engine.load(&vessels, (0..100_000).map(|i| vec![Value::Integer(i), Value::text(format!("vessel {i}"))]).collect());
    let waterways = table("waterways", &[("id", whole.clone()), ("parent_id", whole), ("name", DataType::TEXT)]);
    let branch =
        |i: i64| vec![Value::Integer(i), if i == 0 { Value::Null } else { Value::Integer((i - 1) / 4) }, Value::text(format!("w{i}"))];
    engine.load(&waterways, (0..100_000).map(branch).collect());
    engine
}

/// Only measures whose name holds the word given on the command line, if one is.
fn is_wanted(label: &str) -> bool {
    std::env::args().skip(1).find(|a| !a.starts_with('-')).is_none_or(|word| label.contains(&word))
}

fn timed(label: &str, wanted: f64, engine: &mut StandIn, sql: &str) {
    if !is_wanted(label) {
        return;
    }
    let started = Instant::now();
    let outcome = engine.run(sql);
    let took = started.elapsed().as_secs_f64();
    let shown = match outcome {
        Ok(results) => format!("{} rows", results.last().map_or(0, |r| r.rows.len())),
        Err(failure) => failure.to_string(),
    };
    println!("{label:<44} {took:>6.2} s  (wanted {wanted:.0} s)  {shown}");
}

fn trials(dialect: DialectName) {
    if !is_wanted("trials") {
        return;
    }
    let schema = "CREATE TABLE vessels (id INTEGER PRIMARY KEY, name VARCHAR(20), kind VARCHAR(10));
        CREATE TABLE landings (id INTEGER PRIMARY KEY, name VARCHAR(20), berths INTEGER);
        CREATE TABLE crossings (id INTEGER PRIMARY KEY, vessel_id INTEGER, landing_id INTEGER, fare DECIMAL(8,2));";
    let rows: String = (0..8)
        .map(|i| {
            format!(
                "INSERT INTO vessels VALUES ({i}, 'v{i}', 'ferry'); INSERT INTO landings VALUES ({i}, 'l{i}', {i});
                 INSERT INTO crossings VALUES ({i}, {}, {}, {i}.50);",
                i % 3,
                i % 5
            )
        })
        .collect();
    let query = "SELECT v.name, l.name, SUM(c.fare) AS total FROM crossings c JOIN vessels v ON v.id = c.vessel_id
        JOIN landings l ON l.id = c.landing_id WHERE l.berths > 1 GROUP BY v.name, l.name ORDER BY total DESC, v.name;";
    let drops = "DROP TABLE crossings; DROP TABLE landings; DROP TABLE vessels;";
    let script = format!("{schema}{rows}{query}{drops}");
    let mut engine = StandIn::new(dialect.into());
    let (started, mut count) = (Instant::now(), 0);
    while started.elapsed().as_secs_f64() < 2.0 {
        if let Err(failure) = engine.run(&script) {
            println!("{failure}");
            return;
        }
        count += 1;
    }
    let rate = f64::from(count) / started.elapsed().as_secs_f64();
    println!("{:<44} {rate:>6.0} a second (wanted 1000)", format!("three tables of 8 rows, {dialect}: trials"));
}

fn main() {
    for dialect in [DialectName::Oracle, DialectName::SqlServer] {
        let mut engine = database(dialect);
        println!("{dialect}");
        timed(
            "group by, 1,000 groups of 1,000,000 rows",
            2.0,
            &mut engine,
            "SELECT landing, COUNT(*), SUM(fare), MAX(id) FROM crossings GROUP BY landing",
        );
        timed(
            "group by, 100,000 groups of 1,000,000 rows",
            2.0,
            &mut engine,
            "SELECT vessel_id, COUNT(*), AVG(fare) FROM crossings GROUP BY vessel_id",
        );
        let join = "SELECT COUNT(*), MAX(v.name) FROM crossings c JOIN vessels v ON v.id = c.vessel_id";
        timed("hash join, 1,000,000 x 100,000", 3.0, &mut engine, join);
        timed("the same, rows given", 3.0, &mut engine, "SELECT c.id, v.name FROM crossings c JOIN vessels v ON v.id = c.vessel_id");
        let window = "SELECT id, SUM(fare) OVER (PARTITION BY vessel_id ORDER BY id), ROW_NUMBER() OVER (PARTITION BY vessel_id ORDER BY id) FROM crossings";
        timed("window, 1,000,000 rows, 100,000 partitions", 3.0, &mut engine, window);
        timed("window, 1,000,000 rows, running total", 3.0, &mut engine, "SELECT id, SUM(fare) OVER (ORDER BY id) FROM crossings");
        let moving = "SELECT id, FIRST_VALUE(fare) OVER (ORDER BY id ROWS BETWEEN 100 PRECEDING AND 100 FOLLOWING), MAX(fare) OVER (ORDER BY id ROWS BETWEEN 100 PRECEDING AND CURRENT ROW) FROM crossings";
        timed("window, 1,000,000 rows, moving frame", 3.0, &mut engine, moving);
        let left = "SELECT id, SUM(fare) OVER (ORDER BY id ROWS BETWEEN CURRENT ROW AND UNBOUNDED FOLLOWING) FROM crossings";
        timed("window, 1,000,000 rows, what is left", 3.0, &mut engine, left);
        timed("sort, 1,000,000 rows", 2.0, &mut engine, "SELECT id, fare FROM crossings ORDER BY fare DESC, id");
        timed("sort by text, 1,000,000 rows", 2.0, &mut engine, "SELECT id FROM crossings ORDER BY landing, id");
        if dialect == DialectName::Oracle {
            let walk = "SELECT id, LEVEL, SYS_CONNECT_BY_PATH(name, '/') FROM waterways START WITH parent_id IS NULL CONNECT BY PRIOR id = parent_id ORDER SIBLINGS BY name";
            timed("CONNECT BY, 100,000 nodes, path and order", 1.0, &mut engine, walk);
        }
        let endless = "SELECT COUNT(*) FROM vessels a CROSS JOIN vessels b";
        timed("cross join of 10,000,000,000 rows", 60.0, &mut engine, endless);
        trials(dialect);
    }
}
