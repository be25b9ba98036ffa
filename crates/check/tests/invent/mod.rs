//! Queries with row limits, made up at random the way people write them.

use syntax::DialectName;
use syntax::DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};

/// A table and its columns: name, holds text, can be NULL.
type TableOf = (&'static str, &'static [(&'static str, bool, bool)]);

const LOADS: TableOf =
    ("loads", &[("id", false, false), ("crossing_id", false, false), ("name", true, false), ("tons", false, true), ("owner", true, true)]);
const VESSELS: TableOf =
    ("vessels", &[("id", false, false), ("name", true, false), ("kind", true, false), ("tons_max", false, true), ("permit", true, true)]);
const CROSSINGS: TableOf =
    ("crossings", &[("id", false, false), ("vessel_id", false, false), ("passengers", false, true), ("fare", false, true)]);

/// Draws queries for one dialect.
pub(crate) struct Inventor {
    state: u64,
    dialect: DialectName,
}

/// The words of a limit and where they go.
#[derive(Default)]
struct Limit {
    /// Behind SELECT [DISTINCT].
    top: String,
    /// In WHERE.
    condition: Option<String>,
    /// At the end.
    tail: String,
    needs_order: bool,
}

/// A block in parts.
#[derive(Default)]
struct Block {
    distinct: bool,
    list: Vec<String>,
    from: String,
    conditions: Vec<String>,
    tail: String,
    order: Vec<String>,
}

impl Inventor {
    pub(crate) fn new(dialect: DialectName, seed: u64) -> Inventor {
        Inventor { state: seed.wrapping_mul(0x9e37_79b9_7f4a_7c15) ^ dialect as u64, dialect }
    }

    fn draw(&mut self, below: usize) -> usize {
        self.state = self.state.wrapping_add(0x9e37_79b9_7f4a_7c15);
        let mut mixed = self.state;
        mixed = (mixed ^ (mixed >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
        mixed = (mixed ^ (mixed >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
        ((mixed ^ (mixed >> 31)) % below as u64) as usize
    }

    /// True so many times in a hundred.
    fn chance(&mut self, percent: usize) -> bool {
        self.draw(100) < percent
    }

    fn pick<T: Copy>(&mut self, from: &[T]) -> T {
        from[self.draw(from.len())]
    }

    fn is(&self, dialects: &[DialectName]) -> bool {
        dialects.contains(&self.dialect)
    }

    /// A whole query.
    pub(crate) fn query(&mut self) -> String {
        match self.draw(20) {
            0 | 1 => self.set_operation(),
            2 => self.derived(),
            3 => self.common_table(),
            4 => self.membership(),
            5 => self.scalar(),
            6 if self.dialect == Oracle => self.paging(),
            7 if self.dialect == Oracle => self.over_ordered(),
            8 => self.numbered(),
            7 if self.is(&[Bigquery, Duckdb]) => self.qualified(),
            9 => self.exists(),
            10 if self.is(&[Oracle, SqlServer, Postgres, Mysql, Duckdb]) => self.lateral(),
            _ => self.limited(),
        }
    }

    // --- limits --------------------------------------------------------------------------------

    fn limit(&mut self) -> Limit {
        let (n, m) = (self.draw(6), self.draw(5));
        let tail = |tail: String| Limit { tail, ..Limit::default() };
        let fetch = |tail: String| Limit { tail, needs_order: true, ..Limit::default() };
        let form = self.draw(6);
        let share = self.pick(&["10", "25", "33.3", "50", "100"]);
        match (self.dialect, form) {
            (SqlServer, 0) => Limit { top: format!("TOP ({n}) WITH TIES "), needs_order: true, ..Limit::default() },
            (SqlServer, 1) => Limit { top: format!("TOP ({share}) PERCENT "), ..Limit::default() },
            (SqlServer, 2) => Limit { top: format!("TOP {share} PERCENT WITH TIES "), needs_order: true, ..Limit::default() },
            (SqlServer, 3) => fetch(format!(" OFFSET {m} ROWS")),
            (SqlServer, 4) => fetch(format!(" OFFSET {m} ROWS FETCH NEXT {} ROWS ONLY", n + 1)),
            (SqlServer, _) => Limit { top: format!("TOP {n} "), ..Limit::default() },
            (Oracle, 0) => tail(format!(" FETCH FIRST {share} PERCENT ROWS ONLY")),
            (Oracle, 1) => fetch(format!(" OFFSET {m} ROWS FETCH NEXT {n} ROWS WITH TIES")),
            (Oracle, 2) => tail(format!(" OFFSET {m} ROWS")),
            (Oracle, 3) => tail(format!(" FETCH NEXT {n} ROWS ONLY")),
            (Oracle, _) => {
                let forms = [
                    format!("ROWNUM <= {n}"),
                    format!("ROWNUM < {n}"),
                    format!("{n} >= ROWNUM"),
                    "ROWNUM = 1".to_string(),
                    format!("ROWNUM BETWEEN 1 AND {n}"),
                ];
                Limit { condition: Some(forms[m].clone()), ..Limit::default() }
            }
            (Postgres, 0) => fetch(format!(" FETCH FIRST {n} ROWS WITH TIES")),
            (Mariadb, 0) => fetch(format!(" OFFSET {m} ROWS FETCH NEXT {} ROWS WITH TIES", n + 1)),
            (Duckdb, 0) => tail(format!(" LIMIT {share}%")),
            (Postgres | Duckdb | Spark, 1) => tail(format!(" OFFSET {m}")),
            (Postgres, 2) => tail(format!(" OFFSET {m} ROWS FETCH NEXT {n} ROWS ONLY")),
            (Postgres | Duckdb, 3) => tail(format!(" LIMIT {n} + 1")),
            (Mysql | Mariadb | Sqlite, 1) => tail(format!(" LIMIT {m}, {n}")),
            (Sqlite, 2) => tail(format!(" LIMIT -1 OFFSET {m}")),
            (_, 4) => tail(format!(" LIMIT {n} OFFSET {m}")),
            _ => tail(format!(" LIMIT {n}")),
        }
    }

    // --- blocks --------------------------------------------------------------------------------

    fn block(&mut self) -> Block {
        match self.draw(10) {
            0 | 1 => self.grouped(),
            2 => self.joined(),
            3 => self.distinct(),
            _ => self.plain(),
        }
    }

    fn columns(&mut self, table: TableOf, alias: &str) -> Vec<String> {
        let count = 1 + self.draw(3);
        let start = self.draw(table.1.len());
        (0..count).map(|i| format!("{alias}{}", table.1[(start + i) % table.1.len()].0)).collect()
    }

    fn plain(&mut self) -> Block {
        let table = self.pick(&[LOADS, VESSELS, CROSSINGS]);
        let aliased = self.chance(30);
        let prefix = if aliased { "t." } else { "" };
        let columns = self.columns(table, prefix);
        let mut order: Vec<String> = Vec::new();
        for column in self.columns(table, prefix).into_iter().take(2) {
            let key = if self.chance(15) { format!("COALESCE({column}, {column})") } else { column };
            order.push(self.key(&key));
        }
        let list = match self.draw(6) {
            0 => vec![if self.chance(40) && aliased { "t.*".to_string() } else { "*".to_string() }],
            1 => {
                let aliased: Vec<String> = columns.iter().enumerate().map(|(i, c)| format!("{c} AS c{i}")).collect();
                if self.chance(50) {
                    order = vec![self.key("c0")];
                }
                aliased
            }
            2 => {
                order = vec![self.key("1")];
                columns
            }
            _ => columns,
        };
        if self.chance(30) {
            order.clear();
        }
        let from = if aliased { format!("{} t", table.0) } else { table.0.to_string() };
        let conditions = self.conditions(table, prefix);
        Block { list, from, conditions, order, ..Block::default() }
    }

    fn conditions(&mut self, table: TableOf, prefix: &str) -> Vec<String> {
        let mut conditions = Vec::new();
        if self.chance(40) {
            let (column, is_text, _) = self.pick(table.1);
            let n = self.draw(9);
            let condition = match (is_text, self.draw(4)) {
                (_, 0) => format!("{prefix}{column} IS NOT NULL"),
                (true, _) => format!("{prefix}{column} <> 'x{n}'"),
                (false, 1) => format!("{prefix}{column} BETWEEN {n} AND {}", n + 20),
                (false, 2) => format!("({prefix}{column} < {n} OR {prefix}{column} > {})", n + 1),
                (false, _) => format!("{prefix}{column} >= {n}"),
            };
            conditions.push(condition);
        }
        conditions
    }

    fn key(&mut self, column: &str) -> String {
        let direction = self.pick(&["", "", " ASC", " DESC", " DESC"]);
        let nulls = if self.is(&[Oracle, Postgres, Duckdb, Bigquery, Spark, Sqlite]) {
            self.pick(&["", "", "", " NULLS FIRST", " NULLS LAST"])
        } else {
            ""
        };
        format!("{column}{direction}{nulls}")
    }

    fn distinct(&mut self) -> Block {
        let table = self.pick(&[LOADS, VESSELS, CROSSINGS]);
        let list = self.columns(table, "");
        let key = self.key(&list[0].clone());
        let conditions = self.conditions(table, "");
        let order = if self.chance(70) { vec![key] } else { Vec::new() };
        Block { distinct: true, list, from: table.0.to_string(), conditions, order, ..Block::default() }
    }

    fn grouped(&mut self) -> Block {
        let (table, group, value) = self.pick(&[(VESSELS, "kind", "tons_max"), (CROSSINGS, "vessel_id", "fare"), (LOADS, "owner", "tons")]);
        let call = self.pick(&["COUNT(*)", "SUM", "MAX", "MIN", "COUNT"]);
        let call = if call.ends_with(')') { call.to_string() } else { format!("{call}({value})") };
        let key = match self.draw(4) {
            0 => self.key("n"),
            1 => self.key(&call.clone()),
            2 => self.key("2"),
            _ => self.key(group),
        };
        let having = if self.chance(30) { format!(" HAVING COUNT(*) > {}", self.draw(3)) } else { String::new() };
        let order = if self.chance(80) { vec![key] } else { Vec::new() };
        Block {
            list: vec![group.to_string(), format!("{call} AS n")],
            from: table.0.to_string(),
            conditions: self.conditions(table, ""),
            tail: format!(" GROUP BY {group}{having}"),
            order,
            ..Block::default()
        }
    }

    fn joined(&mut self) -> Block {
        let join = self.pick(&["JOIN", "LEFT JOIN", "INNER JOIN"]);
        let mut list = self.columns(VESSELS, "v.");
        list.extend(self.columns(CROSSINGS, "c.").into_iter().take(1));
        list.dedup();
        let names: Vec<&str> = list.iter().map(|c| &c[2..]).collect();
        let clash = names.iter().enumerate().any(|(i, n)| names[..i].contains(n));
        if clash || self.chance(20) {
            list = vec!["v.name".to_string(), "c.fare".to_string()];
        }
        let first = self.columns(CROSSINGS, "c.").swap_remove(0);
        let order = if self.chance(70) { vec![self.key(&first), self.key("v.id")] } else { Vec::new() };
        let conditions = self.conditions(VESSELS, "v.");
        Block { list, from: format!("vessels v {join} crossings c ON c.vessel_id = v.id"), conditions, order, ..Block::default() }
    }

    fn write(block: &Block, limit: &Limit) -> String {
        let distinct = if block.distinct { "DISTINCT " } else { "" };
        let mut conditions = block.conditions.clone();
        conditions.extend(limit.condition.clone());
        let condition = if conditions.is_empty() { String::new() } else { format!(" WHERE {}", conditions.join(" AND ")) };
        let order = if block.order.is_empty() { String::new() } else { format!(" ORDER BY {}", block.order.join(", ")) };
        let Block { list, from, tail, .. } = block;
        format!("SELECT {distinct}{}{} FROM {from}{condition}{tail}{order}{}", limit.top, list.join(", "), limit.tail)
    }

    fn limited(&mut self) -> String {
        let mut block = self.block();
        let limit = self.limit();
        self.order_for(&mut block, &limit);
        Self::write(&block, &limit)
    }

    fn order_for(&mut self, block: &mut Block, limit: &Limit) {
        if limit.needs_order && block.order.is_empty() {
            let key = self.key("1");
            block.order = vec![key];
        }
    }

    /// A block of the columns asked for, with a limit that is no trouble in an inner query.
    fn inner(&mut self, list: &str, from: &str, order: &str) -> String {
        let limit = self.limit();
        let ordered = limit.needs_order || !limit.top.is_empty() || !limit.tail.is_empty() && self.chance(70);
        let order = if ordered { vec![self.key(order)] } else { Vec::new() };
        Self::write(&Block { list: vec![list.to_string()], from: from.to_string(), order, ..Block::default() }, &limit)
    }

    // --- shapes --------------------------------------------------------------------------------

    fn set_operation(&mut self) -> String {
        let word = self.pick(&["UNION ALL", "UNION", if self.dialect == Oracle { "MINUS" } else { "EXCEPT" }]);
        let word = if self.dialect == Bigquery && word != "UNION ALL" { "UNION ALL" } else { word };
        let parens = !self.is(&[Sqlite, SqlServer]) && self.chance(50);
        let (left, right) = if parens {
            let left = self.inner("name", "vessels", "name");
            let right = self.inner("owner", "loads", "tons");
            (format!("({left})"), format!("({right})"))
        } else {
            ("SELECT name FROM vessels".to_string(), "SELECT owner FROM loads".to_string())
        };
        let limit = self.limit();
        if !limit.top.is_empty() || limit.condition.is_some() {
            return format!("{left} {word} {right} ORDER BY {}", self.key("1"));
        }
        let order = if limit.needs_order || self.chance(70) { format!(" ORDER BY {}", self.key("1")) } else { String::new() };
        format!("{left} {word} {right}{order}{}", limit.tail)
    }

    fn derived(&mut self) -> String {
        let inner = self.inner("id, name, tons", "loads", "tons");
        let block = Block {
            list: vec![self.pick(&["x.name", "x.*", "COUNT(*) AS n", "x.name, x.tons"]).to_string()],
            from: format!("({inner}) x"),
            conditions: if self.chance(30) { vec!["x.tons > 2".to_string()] } else { Vec::new() },
            ..Block::default()
        };
        let limit = if self.chance(40) && !block.list[0].starts_with("COUNT") { self.limit() } else { Limit::default() };
        let mut block = block;
        if limit.needs_order || (self.chance(50) && !block.list[0].starts_with("COUNT")) {
            block.order = vec![self.key("x.name")];
        }
        Self::write(&block, &limit)
    }

    fn common_table(&mut self) -> String {
        let inner = self.inner("id, name, kind", "vessels", "tons_max");
        let outer = Block { list: vec!["kind".into(), "name".into()], from: "w".into(), order: vec![self.key("name")], ..Block::default() };
        let limit = self.limit();
        format!("WITH w AS ({inner}) {}", Self::write(&outer, &limit))
    }

    fn membership(&mut self) -> String {
        let mut inner = self.inner("vessel_id", "crossings", "fare");
        // These two take no LIMIT directly inside IN.
        if self.is(&[Mysql, Mariadb]) {
            inner = format!("SELECT vessel_id FROM ({inner}) x");
        }
        let order = self.key("name");
        format!("SELECT name, kind FROM vessels WHERE id IN ({inner}) ORDER BY {order}, id")
    }

    fn exists(&mut self) -> String {
        let limit = self.limit();
        let mut block = Block {
            list: vec!["c.id".into()],
            from: "crossings c".into(),
            conditions: vec!["c.vessel_id = v.id".into()],
            ..Block::default()
        };
        self.order_for(&mut block, &limit);
        format!("SELECT v.name FROM vessels v WHERE EXISTS ({}) ORDER BY v.name, v.id", Self::write(&block, &limit))
    }

    /// The one value at the top of an order, for each outer row.
    fn scalar(&mut self) -> String {
        let key = self.key("c.fare");
        let one = match self.dialect {
            SqlServer => format!("SELECT TOP 1 c.fare FROM crossings c WHERE c.vessel_id = v.id ORDER BY {key}"),
            Oracle => format!("SELECT c.fare FROM crossings c WHERE c.vessel_id = v.id ORDER BY {key} FETCH FIRST ROW ONLY"),
            _ => format!("SELECT c.fare FROM crossings c WHERE c.vessel_id = v.id ORDER BY {key} LIMIT 1"),
        };
        if self.chance(50) {
            format!("SELECT v.name, ({one}) AS best FROM vessels v ORDER BY v.name, v.id")
        } else {
            format!("SELECT v.name FROM vessels v WHERE v.tons_max > ({one}) ORDER BY v.name, v.id")
        }
    }

    fn lateral(&mut self) -> String {
        let limit = self.limit();
        let mut block = Block {
            list: vec!["c.fare".into()],
            from: "crossings c".into(),
            conditions: vec!["c.vessel_id = v.id".into()],
            order: vec![self.key("c.fare")],
            ..Block::default()
        };
        self.order_for(&mut block, &limit);
        let inner = Self::write(&block, &limit);
        let outer = self.chance(50);
        let join = match (self.dialect, outer) {
            (SqlServer | Oracle, false) => format!("CROSS APPLY ({inner}) x"),
            (SqlServer | Oracle, true) => format!("OUTER APPLY ({inner}) x"),
            (_, false) => format!("CROSS JOIN LATERAL ({inner}) x"),
            (_, true) => format!("LEFT JOIN LATERAL ({inner}) x ON TRUE"),
        };
        format!("SELECT v.name, x.fare FROM vessels v {join} ORDER BY v.name, v.id, x.fare")
    }

    /// A row number filtered in the query around it.
    fn numbered(&mut self) -> String {
        let part = if self.chance(40) { "PARTITION BY kind " } else { "" };
        let key = self.key("tons_max");
        let call = self.pick(&["ROW_NUMBER", "RANK", "DENSE_RANK"]);
        let test = match self.draw(4) {
            0 => "= 1".to_string(),
            1 => format!("BETWEEN {} AND {}", self.draw(3), 2 + self.draw(4)),
            2 => format!("> {}", self.draw(3)),
            _ => format!("<= {}", self.draw(5)),
        };
        let list = self.pick(&["name", "name, place", "*"]);
        let order = if self.chance(50) { format!(" ORDER BY {}", self.key("place")) } else { String::new() };
        let inner = format!("SELECT name, kind, {call}() OVER ({part}ORDER BY {key}) AS place FROM vessels");
        format!("SELECT {list} FROM ({inner}) x WHERE place {test}{order}")
    }

    /// QUALIFY, by the window or by its alias.
    fn qualified(&mut self) -> String {
        let part = if self.chance(60) { "PARTITION BY kind " } else { "" };
        let call = self.pick(&["ROW_NUMBER", "RANK", "DENSE_RANK"]);
        let window = format!("{call}() OVER ({part}ORDER BY {})", self.key("tons_max"));
        let test = self.pick(&["= 1", "<= 2", "BETWEEN 2 AND 3", "> 1"]);
        let distinct = if self.chance(20) { "DISTINCT " } else { "" };
        let order = if self.chance(60) { format!(" ORDER BY {}", self.key("name")) } else { String::new() };
        match self.draw(4) {
            0 => format!("SELECT name, {window} AS place FROM vessels QUALIFY place {test}{order}"),
            1 => format!("SELECT * FROM vessels WHERE id > 1 QUALIFY {window} {test}{order}"),
            2 => format!("SELECT kind, COUNT(*) AS n FROM vessels GROUP BY kind QUALIFY RANK() OVER (ORDER BY COUNT(*) DESC) {test}"),
            _ => format!(
                "SELECT {distinct}name, kind FROM vessels QUALIFY {window} {test} AND kind IS NOT NULL{order} LIMIT {}",
                self.draw(5)
            ),
        }
    }

    // --- Oracle's own ---------------------------------------------------------------------------

    fn over_ordered(&mut self) -> String {
        let key = self.key("tons");
        let n = self.draw(6);
        let inner = self.pick(&["SELECT * FROM loads", "SELECT name, tons FROM loads", "SELECT name, tons t FROM loads WHERE tons > 1"]);
        let list = self.pick(&["*", "x.*", "name", "ROWNUM AS n, name", "name, ROWNUM"]);
        let test = match self.draw(4) {
            0 => format!("ROWNUM < {n}"),
            1 => "ROWNUM = 1".to_string(),
            2 => format!("ROWNUM <= {n} AND name IS NOT NULL"),
            _ => format!("ROWNUM <= {n}"),
        };
        format!("SELECT {list} FROM ({inner} ORDER BY {key}) x WHERE {test}")
    }

    fn paging(&mut self) -> String {
        let (low, high) = (self.draw(4), 3 + self.draw(5));
        let key = self.key("tons");
        let inner = format!("SELECT id, name, tons FROM loads ORDER BY {key}, id");
        let list = self.pick(&["*", "name", "id, name, tons", "name, rn"]);
        match self.draw(3) {
            0 => format!("SELECT {list} FROM (SELECT a.*, ROWNUM rn FROM ({inner}) a WHERE ROWNUM <= {high}) WHERE rn > {low}"),
            1 => format!("SELECT {list} FROM (SELECT a.*, ROWNUM AS rn FROM ({inner}) a) WHERE rn BETWEEN {low} AND {high}"),
            _ => format!("SELECT {list} FROM (SELECT ROWNUM rn, a.* FROM ({inner}) a) b WHERE rn >= {low} AND rn < {high} ORDER BY rn"),
        }
    }
}
