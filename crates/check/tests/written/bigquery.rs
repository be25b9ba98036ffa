//! Queries as developers on BigQuery write them.

use super::Written;

#[rustfmt::skip] // One query a line.
pub(crate) const QUERIES: &[Written] = &[
    ("SELECT name FROM vessels ORDER BY tons_max DESC, id LIMIT 3 OFFSET 1", ""),
    ("SELECT vessel_id, day, fare FROM crossings QUALIFY ROW_NUMBER() OVER (PARTITION BY vessel_id ORDER BY day DESC, id DESC) <= 2 ORDER BY vessel_id, day DESC, fare", ""),
    ("(SELECT name FROM vessels ORDER BY id LIMIT 2) UNION ALL (SELECT name FROM landings ORDER BY id LIMIT 1) ORDER BY name", ""),
    ("WITH t AS (SELECT id, name FROM vessels ORDER BY id LIMIT 4) SELECT name FROM t ORDER BY id DESC LIMIT 2", ""),
    ("SELECT IFNULL(permit, '-') AS p, COUNT(*) AS n FROM vessels GROUP BY p ORDER BY n DESC, p LIMIT 3", "differs oracle"),
    ("SELECT name FROM vessels WHERE kind != 'tug' AND tons_max BETWEEN 5 AND 500 ORDER BY name LIMIT 5", ""),
    ("SELECT name FROM vessels ORDER BY tons_max LIMIT 3", ""),
    ("SELECT name FROM vessels ORDER BY tons_max DESC LIMIT 3", ""),
    ("SELECT name FROM vessels ORDER BY tons_max DESC NULLS FIRST, id LIMIT 3 OFFSET 1", ""),
    ("SELECT name FROM vessels ORDER BY id LIMIT 2 OFFSET 2", ""),
    ("SELECT `name`, kind FROM `vessels` ORDER BY id LIMIT 2", ""),
    ("SELECT DISTINCT kind FROM vessels ORDER BY kind LIMIT 2", ""),
    ("SELECT kind, COUNT(*) AS n FROM vessels GROUP BY 1 ORDER BY 2 DESC, 1 LIMIT 2", ""),
    ("SELECT kind, name FROM vessels WHERE TRUE QUALIFY ROW_NUMBER() OVER (PARTITION BY kind ORDER BY tons_max DESC, id) = 1 ORDER BY kind", ""),
    ("SELECT kind, name, RANK() OVER (PARTITION BY kind ORDER BY tons_max DESC) AS r FROM vessels QUALIFY r <= 2 ORDER BY kind, r, name LIMIT 5", ""),
    ("SELECT name FROM vessels WHERE id IN (SELECT vessel_id FROM tolls ORDER BY amount DESC, id LIMIT 3) ORDER BY name", ""),
    ("SELECT v.name, (SELECT MAX(amount) FROM tolls t WHERE t.vessel_id = v.id) AS m FROM vessels v ORDER BY m DESC, v.id LIMIT 4", ""),
    ("(SELECT name FROM vessels ORDER BY id LIMIT 2) UNION DISTINCT (SELECT name FROM landings ORDER BY id LIMIT 2) ORDER BY name LIMIT 3", ""),
    ("SELECT name FROM vessels EXCEPT DISTINCT SELECT name FROM landings ORDER BY name LIMIT 3", ""),
    ("SELECT CAST(tons_max AS INT64) AS t FROM vessels ORDER BY id LIMIT 3", ""),
    ("SELECT CAST(id AS STRING) AS t FROM vessels ORDER BY t LIMIT 3", ""),
    ("SELECT CONCAT(name, '/', kind) AS label FROM vessels ORDER BY label LIMIT 2", ""),
    ("SELECT IFNULL(tons_max, 0) AS t FROM vessels ORDER BY t, id LIMIT 3", ""),
    ("SELECT id / 2 AS f, DIV(id, 2) AS q, MOD(id, 2) AS r FROM vessels ORDER BY id LIMIT 3", ""),
    ("SELECT name FROM vessels ORDER BY LOWER(name) DESC LIMIT 3", ""),
    ("SELECT -tons_max AS tons_max FROM vessels ORDER BY tons_max + 1, id LIMIT 3", ""),
    ("SELECT COUNT(*) FROM (SELECT name FROM vessels LIMIT 3)", ""),
    ("SELECT name FROM vessels WHERE tons_max BETWEEN 5 AND 100 AND name LIKE '%e%' ORDER BY name LIMIT 3", ""),
    ("SELECT kind, SUM(tons_max) AS s FROM vessels GROUP BY kind HAVING s > 30 ORDER BY s DESC LIMIT 2", ""),
    ("SELECT 1 AS one UNION ALL SELECT 2 ORDER BY one DESC LIMIT 1", ""),
    ("SELECT id, REGEXP_EXTRACT(permit, r'-(\\d+)') AS d, REGEXP_EXTRACT(permit, '[A-Z]+') AS e FROM vessels ORDER BY id", "refused tsql mysql mariadb sqlite"),
    ("SELECT name FROM vessels WHERE name LIKE ANY ('h%', '%n') ORDER BY id", ""),
];
