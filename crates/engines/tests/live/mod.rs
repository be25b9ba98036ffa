//! The live engines that `scripts/engines` brings up, as tests find them.
#![allow(dead_code)] // Each test uses a part.

use engines::{Access, Address, Engine, open_with};

/// The variables with the engines' addresses.
pub const VARIABLES: [&str; 6] =
    ["INLAND_FERRY_POSTGRES", "INLAND_FERRY_MARIADB", MYSQL, "INLAND_FERRY_DUCKDB", "INLAND_FERRY_SPARK", "INLAND_FERRY_GOOGLESQL"];

/// Of a distribution that changes from day to day: where it can't be unpacked no other test is held up.
const MYSQL: &str = "INLAND_FERRY_MYSQL";

/// The address in a variable. Without one the test has nothing to run on: it says so, or fails where
/// engines are required.
pub fn address(variable: &str) -> Option<Address> {
    let Ok(url) = std::env::var(variable) else {
        let required = variable != MYSQL && std::env::var_os("INLAND_FERRY_REQUIRE_ENGINES").is_some();
        assert!(!required, "{variable} is not set, and engines are required");
        eprintln!("skipped: no {variable} (scripts/engines up; eval \"$(scripts/engines env)\")");
        return None;
    };
    Some(url.parse().unwrap_or_else(|e| panic!("{variable}: {e}")))
}

/// The engine behind a variable, for reading.
pub fn engine(variable: &str) -> Option<Box<dyn Engine>> {
    engine_with(variable, Access::default())
}

/// The engine behind a variable.
pub fn engine_with(variable: &str, access: Access) -> Option<Box<dyn Engine>> {
    let address = address(variable)?;
    Some(open_with(&address, access).unwrap_or_else(|e| panic!("{variable}: {e}")))
}

/// Every engine there is: SQLite, the live ones, and the stand-ins.
pub fn all() -> Vec<Box<dyn Engine>> {
    let own = syntax::DialectName::ALL.map(|name| Address::StandIn(name.into()));
    let open = |a: &Address| open_with(a, Access::default()).unwrap_or_else(|e| panic!("{a:?}: {e}"));
    let mut engines = vec![open(&Address::Sqlite(":memory:".to_string()))];
    engines.extend(VARIABLES.iter().filter_map(|v| engine(v)));
    engines.extend(own.iter().map(open));
    engines
}
