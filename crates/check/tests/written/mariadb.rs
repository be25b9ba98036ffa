//! Queries as developers on MariaDB write them.

use super::Written;

#[rustfmt::skip] // One query a line.
pub(crate) const QUERIES: &[Written] = &[
    ("SELECT name FROM vessels ORDER BY tons_max DESC, id LIMIT 2, 3", ""),
    ("SELECT id, name FROM vessels ORDER BY tons_max OFFSET 1 ROW FETCH NEXT 2 ROWS WITH TIES", ""),
    ("SELECT name FROM vessels ORDER BY name OFFSET 3 ROWS", ""),
    ("SELECT kind, SUM(tons_max) AS s FROM vessels GROUP BY kind HAVING s > 50 ORDER BY s DESC LIMIT 2", ""),
    ("SELECT NVL(permit, 'none') AS p FROM vessels ORDER BY id FETCH FIRST 3 ROWS ONLY", ""),
    ("SELECT name FROM vessels WHERE id IN (SELECT id FROM (SELECT vessel_id AS id FROM crossings ORDER BY fare DESC, id LIMIT 4) x) ORDER BY id", ""),
    ("(SELECT name FROM vessels ORDER BY name LIMIT 1) UNION (SELECT name FROM landings ORDER BY name LIMIT 2) ORDER BY name DESC", ""),
    ("SELECT name FROM vessels ORDER BY tons_max LIMIT 3", ""),
    ("SELECT name FROM vessels ORDER BY tons_max DESC LIMIT 1, 3", ""),
    ("SELECT name FROM vessels ORDER BY id OFFSET 2 ROWS", ""),
    ("SELECT name FROM vessels ORDER BY id OFFSET 1 ROW FETCH FIRST 2 ROWS ONLY", ""),
    ("SELECT name FROM vessels ORDER BY tons_max FETCH FIRST 2 ROWS WITH TIES", ""),
    ("SELECT name FROM vessels ORDER BY kind OFFSET 1 ROWS FETCH NEXT 2 ROWS WITH TIES", ""),
    ("SELECT kind, COUNT(*) n FROM vessels GROUP BY kind HAVING n > 1 ORDER BY n DESC LIMIT 2", ""),
    ("SELECT DISTINCT kind FROM vessels ORDER BY kind DESC LIMIT 2", ""),
    ("(SELECT name FROM vessels ORDER BY id LIMIT 2) UNION ALL (SELECT name FROM landings ORDER BY id LIMIT 2) ORDER BY name", ""),
    ("SELECT name FROM vessels EXCEPT SELECT name FROM landings ORDER BY name LIMIT 3", ""),
    ("SELECT name FROM vessels INTERSECT SELECT name FROM vessels WHERE id < 5 ORDER BY name LIMIT 3", ""),
    ("WITH t AS (SELECT id, name FROM vessels ORDER BY id LIMIT 4) SELECT name FROM t ORDER BY id DESC LIMIT 2", ""),
    ("SELECT name, ROW_NUMBER() OVER (ORDER BY tons_max DESC, id) AS rn FROM vessels ORDER BY rn LIMIT 3", ""),
    ("SELECT * FROM (SELECT name, RANK() OVER (PARTITION BY kind ORDER BY tons_max DESC) AS r FROM vessels) t WHERE r = 1 ORDER BY name", ""),
    ("SELECT CONCAT(name, kind) AS label FROM vessels ORDER BY label LIMIT 2", ""),
    ("SELECT id / 3 AS f, id DIV 3 AS q, id % 3 AS r FROM vessels ORDER BY id LIMIT 3", ""),
    ("SELECT CAST(tons_max AS SIGNED) AS t, CAST(id AS CHAR(5)) AS c FROM vessels ORDER BY id LIMIT 3", ""),
    ("SELECT IFNULL(tons_max, 0) AS t FROM vessels ORDER BY t, id LIMIT 3", ""),
    ("SELECT v.name, (SELECT amount FROM tolls t WHERE t.vessel_id = v.id ORDER BY amount DESC, id LIMIT 1) AS m FROM vessels v ORDER BY m DESC, v.id LIMIT 4", ""),
    ("SELECT name FROM vessels WHERE id IN (SELECT vessel_id FROM (SELECT vessel_id FROM tolls ORDER BY amount DESC, id LIMIT 3) t) ORDER BY name", ""),
    ("SELECT tons_max + 1 AS t FROM vessels ORDER BY t * 2, id LIMIT 3", ""),
    ("SELECT COUNT(*) FROM (SELECT name FROM vessels LIMIT 3) t", ""),
    ("SELECT id, CONVERT(name USING utf8mb4) AS u, OCT(id) AS o, TO_BASE64(name) AS b FROM vessels ORDER BY id", "refused oracle sqlserver duckdb sqlite"),
];
