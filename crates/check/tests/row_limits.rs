//! Row limits from every dialect to others: what comes out, and that it agrees on stand-ins and
//! SQLite with what went in.
#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

mod stand_ins;

use check::{Pair, QueryFacts, Settings, VerdictKind, infer_schema};
use meaning::Catalog;
use syntax::Dialect;
use translate::{Options, Translated, translate_text};

/// From, to, the query, and its translation or `refused` with the code.
#[rustfmt::skip] // One case a line.
const CASES: &[(&str, &str, &str, &str)] = &[
    ("oracle", "postgres", "SELECT DISTINCT kind FROM vessels WHERE ROWNUM <= 5", "SELECT DISTINCT kind FROM (SELECT * FROM vessels LIMIT 5) AS vessels"),
    ("oracle", "postgres", "SELECT MAX(tons) FROM loads WHERE ROWNUM < 4 AND name LIKE 'c%'", "SELECT MAX(tons) FROM (SELECT * FROM loads WHERE name LIKE 'c%' LIMIT 3) AS loads"),
    ("oracle", "mysql", "SELECT v.kind, COUNT(*) n FROM vessels v JOIN crossings c ON c.vessel_id = v.id WHERE ROWNUM <= 10 GROUP BY v.kind ORDER BY n DESC", "SELECT limited.kind, COUNT(*) n FROM (SELECT v.kind FROM vessels v JOIN crossings c ON c.vessel_id = v.id LIMIT 10) AS limited GROUP BY limited.kind ORDER BY n DESC"),
    ("oracle", "sqlite", "SELECT * FROM (SELECT a.*, ROWNUM rnum FROM (SELECT name, tons FROM loads ORDER BY tons, name) a) WHERE rnum BETWEEN 3 AND 5", "SELECT a.*, ROW_NUMBER() OVER (ORDER BY a.tons NULLS LAST, a.name NULLS LAST) rnum FROM (SELECT name, tons FROM loads) a ORDER BY rnum LIMIT 3 OFFSET 2"),
    ("oracle", "sqlserver", "SELECT * FROM (SELECT a.*, ROWNUM rnum FROM (SELECT id, name FROM loads ORDER BY id) a WHERE ROWNUM <= 6) WHERE rnum >= 3", "SELECT a.*, ROW_NUMBER() OVER (ORDER BY CASE WHEN a.id IS NULL THEN 1 ELSE 0 END, a.id) rnum FROM (SELECT id, name FROM loads) a ORDER BY rnum OFFSET 2 ROWS FETCH NEXT 4 ROWS ONLY"),
    ("oracle", "postgres", "SELECT name FROM vessels WHERE ROWNUM = 2", "SELECT name FROM vessels WHERE 1 = 0"),
    ("oracle", "postgres", "SELECT name FROM vessels WHERE ROWNUM <= 2 OR name = 'x'", "refused rownum.condition"),
    ("oracle", "postgres", "SELECT name FROM vessels WHERE ROWNUM BETWEEN 1 AND 2.7", "SELECT name FROM vessels LIMIT 2"),
    ("oracle", "sqlite", "SELECT ROWNUM, name FROM (SELECT name FROM vessels ORDER BY name DESC) WHERE ROWNUM <= 2", "SELECT ROW_NUMBER() OVER (ORDER BY name DESC NULLS FIRST) AS rownum, name FROM (SELECT name FROM vessels) ORDER BY rownum LIMIT 2"),
    ("oracle", "mysql", "SELECT name FROM vessels WHERE id IN (SELECT vessel_id FROM (SELECT vessel_id FROM crossings ORDER BY fare DESC) WHERE ROWNUM <= 2)", "SELECT name FROM vessels WHERE id IN (SELECT * FROM (SELECT vessel_id FROM crossings ORDER BY CASE WHEN fare IS NULL THEN 0 ELSE 1 END, fare DESC LIMIT 2) AS limited)"),
    ("sqlserver", "mysql", "SELECT TOP 2 WITH TIES name FROM loads ORDER BY tons", "SELECT name FROM (SELECT name, RANK() OVER (ORDER BY tons) AS place FROM loads) AS numbered WHERE numbered.place <= 2 ORDER BY numbered.place"),
    ("sqlserver", "sqlite", "SELECT DISTINCT TOP 3 kind FROM vessels ORDER BY kind DESC", "SELECT DISTINCT kind FROM vessels ORDER BY kind DESC LIMIT 3"),
    ("sqlserver", "oracle", "SELECT TOP (20) PERCENT * FROM loads ORDER BY tons", "SELECT * FROM loads ORDER BY tons NULLS FIRST FETCH FIRST 20 PERCENT ROWS ONLY"),
    ("sqlserver", "sqlite", "SELECT TOP (20) PERCENT * FROM loads ORDER BY tons", "SELECT * FROM loads ORDER BY tons LIMIT (SELECT (COUNT(*) * 20 + 99) / 100 FROM (SELECT * FROM loads) AS counted)"),
    ("sqlserver", "mysql", "SELECT TOP (20) PERCENT * FROM loads ORDER BY tons", "refused row-limit.columns-needed"),
    ("sqlserver", "spark", "SELECT TOP 12.5 PERCENT name FROM loads ORDER BY tons DESC", "SELECT name FROM (SELECT name, ROW_NUMBER() OVER (ORDER BY tons DESC) AS place, COUNT(*) OVER () AS total FROM loads) AS numbered WHERE (numbered.place - 1) * 1000 < numbered.total * 125 ORDER BY numbered.place"),
    ("sqlserver", "postgres", "SELECT TOP 3 id FROM a UNION ALL SELECT TOP 2 id FROM b ORDER BY id", "(SELECT id FROM a LIMIT 3) UNION ALL (SELECT id FROM b LIMIT 2) ORDER BY id NULLS FIRST"),
    ("mysql", "sqlserver", "SELECT name FROM loads ORDER BY tons LIMIT 0", "SELECT TOP (0) name FROM loads ORDER BY tons"),
    ("mysql", "sqlserver", "(SELECT id FROM a) UNION (SELECT id FROM b) LIMIT 3", "SELECT TOP (3) * FROM ((SELECT id FROM a) UNION (SELECT id FROM b)) AS limited"),
    ("mysql", "sqlserver", "SELECT DISTINCT kind FROM vessels LIMIT 2 OFFSET 1", "SELECT * FROM (SELECT DISTINCT kind FROM vessels) AS limited ORDER BY (SELECT NULL) OFFSET 1 ROWS FETCH NEXT 2 ROWS ONLY"),
    ("mysql", "oracle", "SELECT name FROM vessels ORDER BY name LIMIT 3, 4", "SELECT name FROM vessels ORDER BY name NULLS FIRST OFFSET 3 ROWS FETCH FIRST 4 ROWS ONLY"),
    ("postgres", "mysql", "SELECT name FROM loads ORDER BY tons OFFSET 3", "SELECT name FROM loads ORDER BY CASE WHEN tons IS NULL THEN 1 ELSE 0 END, tons LIMIT 18446744073709551615 OFFSET 3"),
    ("postgres", "sqlite", "SELECT name FROM loads ORDER BY tons DESC OFFSET 3 ROWS FETCH FIRST ROW ONLY", "SELECT name FROM loads ORDER BY tons DESC NULLS FIRST LIMIT 1 OFFSET 3"),
    ("postgres", "sqlserver", "SELECT id FROM a EXCEPT SELECT id FROM b ORDER BY id LIMIT 3", "SELECT TOP (3) * FROM (SELECT id FROM a EXCEPT SELECT id FROM b) AS limited ORDER BY CASE WHEN limited.id IS NULL THEN 1 ELSE 0 END, limited.id"),
    ("duckdb", "postgres", "SELECT name FROM loads ORDER BY tons LIMIT 10%", "SELECT name FROM loads ORDER BY tons LIMIT (SELECT COUNT(*) * 10 / 100 FROM (SELECT name FROM loads) AS counted)"),
    ("duckdb", "sqlite", "FROM loads SELECT name ORDER BY tons DESC LIMIT 30 PERCENT", "SELECT name FROM loads ORDER BY tons DESC LIMIT (SELECT COUNT(*) * 30 / 100 FROM (SELECT name FROM loads) AS counted)"),
    ("sqlite", "postgres", "SELECT name FROM loads ORDER BY tons LIMIT -1 OFFSET 2", "SELECT name FROM loads ORDER BY tons NULLS FIRST OFFSET 2"),
    ("mysql", "postgres", "DELETE FROM tolls ORDER BY id LIMIT 3", "DELETE FROM tolls WHERE ctid IN (SELECT ctid FROM tolls ORDER BY id NULLS FIRST LIMIT 3)"),
    ("oracle", "sqlserver", "UPDATE tolls SET amount = 0 WHERE settled = 'n' AND ROWNUM <= 5", "UPDATE TOP (5) tolls SET amount = 0 WHERE settled = 'n'"),
    ("oracle", "postgres", "SELECT name, (SELECT fare FROM crossings c WHERE c.vessel_id = v.id AND ROWNUM = 1) f FROM vessels v", "SELECT name, (SELECT fare FROM crossings c WHERE c.vessel_id = v.id LIMIT 1) f FROM vessels v"),
    ("sqlserver", "mysql", "SELECT v.name, c.fare FROM vessels v OUTER APPLY (SELECT TOP 1 fare FROM crossings c WHERE c.vessel_id = v.id ORDER BY fare DESC) c", "SELECT v.name, c.fare FROM vessels v LEFT JOIN LATERAL (SELECT fare FROM crossings c WHERE c.vessel_id = v.id ORDER BY fare DESC LIMIT 1) c ON TRUE"),
    ("sqlserver", "postgres", "SELECT c.* , ROW_NUMBER() OVER (ORDER BY fare) AS n FROM crossings c", "SELECT c.* , ROW_NUMBER() OVER (ORDER BY fare NULLS FIRST) AS n FROM crossings c"),
    ("oracle", "postgres", "SELECT * FROM loads ORDER BY tons FETCH FIRST 2 ROWS WITH TIES", "SELECT * FROM loads ORDER BY tons FETCH FIRST 2 ROWS WITH TIES"),
    ("oracle", "bigquery", "SELECT * FROM loads ORDER BY tons OFFSET 1 ROWS FETCH NEXT 2 ROWS WITH TIES", "SELECT * FROM loads QUALIFY ROW_NUMBER() OVER (ORDER BY tons NULLS LAST) > 1 AND RANK() OVER (ORDER BY tons NULLS LAST) <= 3 ORDER BY tons NULLS LAST"),
    ("mariadb", "sqlserver", "SELECT name FROM loads ORDER BY tons FETCH FIRST 2 ROWS WITH TIES", "SELECT TOP (2) WITH TIES name FROM loads ORDER BY tons"),
    ("oracle", "postgres", "SELECT name FROM vessels WHERE ROWNUM <= 2 UNION ALL SELECT name FROM landings WHERE 3 >= ROWNUM", "(SELECT name FROM vessels LIMIT 2) UNION ALL (SELECT name FROM landings LIMIT 3)"),
    ("oracle", "sqlite", "SELECT name FROM vessels WHERE ROWNUM <= 2 UNION SELECT name FROM landings", "SELECT * FROM (SELECT name FROM vessels LIMIT 2) UNION SELECT name FROM landings"),
    ("oracle", "sqlserver", "SELECT 1 AS n FROM dual UNION ALL SELECT 2 FROM dual", "SELECT 1 AS n UNION ALL SELECT 2"),
    ("oracle", "postgres", "SELECT t.*, ROWNUM AS rn FROM loads t", "SELECT t.*, ROW_NUMBER() OVER () AS rn FROM loads t"),
    ("oracle", "postgres", "SELECT COUNT(*) FROM (SELECT 1 FROM loads WHERE tons > 3 AND ROWNUM <= 100)", "SELECT COUNT(*) FROM (SELECT 1 FROM loads WHERE tons > 3 LIMIT 100)"),
    ("oracle", "mysql", "SELECT * FROM (SELECT name, RANK() OVER (ORDER BY tons DESC) r FROM loads) WHERE r <= 3", "SELECT * FROM (SELECT name, RANK() OVER (ORDER BY CASE WHEN tons IS NULL THEN 0 ELSE 1 END, tons DESC) r FROM loads) AS derived WHERE r <= 3"),
    ("oracle", "postgres", "SELECT name FROM (SELECT name FROM loads ORDER BY tons) WHERE ROWNUM <= 3 AND name <> 'ice'", "SELECT name FROM (SELECT name, tons AS sort_key FROM loads) WHERE name <> 'ice' ORDER BY sort_key LIMIT 3"),
    ("oracle", "sqlite", "WITH w AS (SELECT name, tons FROM loads ORDER BY tons DESC) SELECT * FROM w WHERE ROWNUM <= 2", "SELECT name, tons FROM loads ORDER BY tons DESC NULLS FIRST LIMIT 2"),
    ("oracle", "postgres", "SELECT name FROM loads ORDER BY tons DESC NULLS LAST FETCH FIRST 25 PERCENT ROWS WITH TIES", "SELECT name FROM loads ORDER BY tons DESC NULLS LAST FETCH FIRST (SELECT (COUNT(*) * 25 + 99) / 100 FROM (SELECT name FROM loads) AS counted) ROWS WITH TIES"),
    ("oracle", "mysql", "SELECT name, tons FROM loads ORDER BY 2 DESC, 1 FETCH NEXT 2 ROWS ONLY", "SELECT name, tons FROM loads ORDER BY CASE WHEN tons IS NULL THEN 0 ELSE 1 END, tons DESC, CASE WHEN name IS NULL THEN 1 ELSE 0 END, name LIMIT 2"),
    ("sqlserver", "postgres", "SELECT TOP 5 kind, COUNT(*) AS n FROM vessels GROUP BY kind ORDER BY COUNT(*) DESC", "SELECT kind, COUNT(*) AS n FROM vessels GROUP BY kind ORDER BY COUNT(*) DESC LIMIT 5"),
    ("sqlserver", "sqlite", "SELECT TOP 1 WITH TIES kind, COUNT(*) AS n FROM vessels GROUP BY kind ORDER BY COUNT(*) DESC", "SELECT kind, n FROM (SELECT kind, COUNT(*) AS n, RANK() OVER (ORDER BY COUNT(*) DESC) AS place FROM vessels GROUP BY kind) AS numbered WHERE numbered.place <= 1 ORDER BY numbered.place"),
    ("sqlserver", "mysql", "SELECT DISTINCT TOP 2 WITH TIES kind FROM vessels ORDER BY kind", "SELECT kind FROM (SELECT source.kind, RANK() OVER (ORDER BY kind) AS place FROM (SELECT DISTINCT kind FROM vessels) AS source) AS numbered WHERE numbered.place <= 2 ORDER BY numbered.place"),
    ("sqlserver", "mysql", "SELECT name FROM vessels WHERE id IN (SELECT TOP 2 vessel_id FROM crossings ORDER BY day DESC)", "SELECT name FROM vessels WHERE id IN (SELECT * FROM (SELECT vessel_id FROM crossings ORDER BY day DESC LIMIT 2) AS limited)"),
    ("sqlserver", "sqlite", "SELECT name FROM vessels v WHERE tons_max >= (SELECT TOP 1 tons_max FROM vessels w WHERE w.kind = v.kind ORDER BY tons_max DESC)", "SELECT name FROM vessels v WHERE tons_max >= (SELECT tons_max FROM vessels w WHERE w.kind = v.kind ORDER BY tons_max DESC LIMIT 1)"),
    ("sqlserver", "postgres", "SELECT * FROM (SELECT TOP 100 PERCENT name, tons FROM loads ORDER BY tons) x ORDER BY name", "SELECT * FROM (SELECT name, tons FROM loads ORDER BY tons) x ORDER BY name NULLS FIRST"),
    ("sqlserver", "postgres", "SELECT TOP (@n) name FROM loads ORDER BY name", "SELECT name FROM loads ORDER BY name NULLS FIRST LIMIT @n"),
    ("sqlserver", "duckdb", "SELECT TOP 30 PERCENT WITH TIES name, tons AS t FROM loads WHERE tons IS NOT NULL ORDER BY t DESC", "SELECT name, tons AS t FROM loads WHERE tons IS NOT NULL QUALIFY (RANK() OVER (ORDER BY tons DESC) - 1) * 100 < COUNT(*) OVER () * 30 ORDER BY t DESC"),
    ("mysql", "sqlite", "SELECT kind, name FROM vessels GROUP BY kind, name ORDER BY kind LIMIT 2, 2", "SELECT kind, name FROM vessels GROUP BY kind, name ORDER BY kind LIMIT 2 OFFSET 2"),
    ("mysql", "oracle", "SELECT id FROM loads WHERE tons > (SELECT AVG(tons) FROM loads) ORDER BY id DESC LIMIT 3", "SELECT id FROM loads WHERE tons > (SELECT AVG(tons) FROM loads) ORDER BY id DESC NULLS LAST FETCH FIRST 3 ROWS ONLY"),
    ("mysql", "postgres", "SELECT name FROM a UNION SELECT name FROM b ORDER BY name DESC LIMIT 2 OFFSET 1", "SELECT name FROM a UNION SELECT name FROM b ORDER BY name DESC NULLS LAST LIMIT 2 OFFSET 1"),
    ("mysql", "sqlite", "(SELECT name FROM a ORDER BY name LIMIT 1) UNION ALL (SELECT name FROM b ORDER BY name DESC LIMIT 1) ORDER BY 1", "SELECT * FROM (SELECT name FROM a ORDER BY name LIMIT 1) UNION ALL SELECT * FROM (SELECT name FROM b ORDER BY name DESC LIMIT 1) ORDER BY 1"),
    ("postgres", "oracle", "SELECT name FROM loads ORDER BY tons LIMIT 2+1 OFFSET 1", "SELECT name FROM loads ORDER BY tons OFFSET 1 ROWS FETCH FIRST 3 ROWS ONLY"),
    ("postgres", "mysql", "SELECT name FROM loads ORDER BY tons LIMIT 2+1", "SELECT name FROM loads ORDER BY CASE WHEN tons IS NULL THEN 1 ELSE 0 END, tons LIMIT 3"),
    ("postgres", "bigquery", "SELECT name FROM loads LIMIT (SELECT 3)", "refused row-limit.not-constant"),
    ("postgres", "mysql", "SELECT DISTINCT kind FROM vessels ORDER BY kind DESC LIMIT 3", "SELECT * FROM (SELECT DISTINCT kind FROM vessels) AS sorted ORDER BY CASE WHEN sorted.kind IS NULL THEN 0 ELSE 1 END, sorted.kind DESC LIMIT 3"),
    ("postgres", "sqlserver", "SELECT kind FROM vessels UNION SELECT kind FROM boats ORDER BY kind OFFSET 1 LIMIT 2", "SELECT * FROM (SELECT kind FROM vessels UNION SELECT kind FROM boats) AS sorted ORDER BY CASE WHEN sorted.kind IS NULL THEN 1 ELSE 0 END, sorted.kind OFFSET 1 ROWS FETCH NEXT 2 ROWS ONLY"),
    ("postgres", "sqlite", "SELECT v.* FROM vessels v JOIN LATERAL (SELECT fare FROM crossings c WHERE c.vessel_id = v.id ORDER BY fare DESC LIMIT 1) x ON TRUE", "refused construct.not-translated"),
    ("spark", "sqlserver", "SELECT name FROM loads ORDER BY tons LIMIT 3 OFFSET 2", "SELECT name FROM loads ORDER BY tons OFFSET 2 ROWS FETCH NEXT 3 ROWS ONLY"),
    ("bigquery", "oracle@19", "SELECT 1 AS one LIMIT 1", "SELECT 1 AS one FROM DUAL FETCH FIRST 1 ROWS ONLY"),
    ("sqlite", "mysql", "SELECT name FROM loads ORDER BY tons DESC LIMIT 3, 2", "SELECT name FROM loads ORDER BY tons DESC LIMIT 2 OFFSET 3"),
    ("duckdb", "mysql", "SELECT name, tons FROM loads ORDER BY tons LIMIT 50%", "SELECT name, tons FROM (SELECT name, tons, ROW_NUMBER() OVER (ORDER BY CASE WHEN tons IS NULL THEN 1 ELSE 0 END, tons) AS place, COUNT(*) OVER () AS total FROM loads) AS numbered WHERE numbered.place * 100 <= numbered.total * 50 ORDER BY numbered.place"),
    ("oracle", "postgres", "SELECT name, tons FROM loads WHERE ROWNUM <= 3 ORDER BY tons DESC", "SELECT name, tons FROM (SELECT * FROM loads LIMIT 3) AS loads ORDER BY tons DESC"),
    ("oracle", "mariadb", "SELECT * FROM (SELECT name, tons FROM loads ORDER BY tons DESC) WHERE ROWNUM <= 3", "SELECT name, tons FROM loads ORDER BY CASE WHEN tons IS NULL THEN 0 ELSE 1 END, tons DESC LIMIT 3"),
    ("oracle", "duckdb", "SELECT * FROM (SELECT name, tons FROM loads ORDER BY tons DESC) WHERE ROWNUM <= 3", "SELECT name, tons FROM loads ORDER BY tons DESC NULLS FIRST LIMIT 3"),
    ("oracle", "bigquery", "SELECT * FROM (SELECT name, tons FROM loads ORDER BY tons DESC) WHERE ROWNUM <= 3", "SELECT name, tons FROM loads ORDER BY tons DESC NULLS FIRST LIMIT 3"),
    ("oracle", "spark", "SELECT * FROM (SELECT name, tons FROM loads ORDER BY tons DESC) WHERE ROWNUM <= 3", "SELECT name, tons FROM loads ORDER BY tons DESC NULLS FIRST LIMIT 3"),
    ("oracle", "sqlite", "SELECT name FROM vessels WHERE ROWNUM >= 1 AND 3 > ROWNUM", "SELECT name FROM vessels LIMIT 2"),
    ("oracle", "postgres", "SELECT name FROM vessels WHERE ROWNUM <> 3", "SELECT name FROM vessels LIMIT 2"),
    ("oracle", "postgres", "SELECT name FROM vessels WHERE ROWNUM IN (1, 2)", "SELECT name FROM vessels LIMIT 2"),
    ("oracle", "mysql", "SELECT name FROM vessels WHERE ROWNUM < 1", "SELECT name FROM vessels WHERE 1 = 0"),
    ("oracle", "postgres", "SELECT v.limit FROM quotas v ORDER BY v.limit FETCH FIRST 1 ROW ONLY", "SELECT v.\"limit\" FROM quotas v ORDER BY v.\"limit\" LIMIT 1"),
    ("sqlserver", "oracle", "SELECT TOP 2 [order], [Mixed Case] FROM [loads] ORDER BY [order]", "SELECT \"ORDER\", \"Mixed Case\" FROM loads ORDER BY \"ORDER\" NULLS FIRST FETCH FIRST 2 ROWS ONLY"),
    ("mysql", "postgres", "SELECT `limit`, \"text\" AS `t` FROM loads ORDER BY `limit` LIMIT 1", "SELECT \"limit\", 'text' AS t FROM loads ORDER BY \"limit\" NULLS FIRST LIMIT 1"),
    ("oracle", "postgres", "SELECT name FROM (SELECT name, tons FROM loads ORDER BY tons DESC) WHERE ROWNUM <= 3", "SELECT name FROM loads ORDER BY tons DESC LIMIT 3"),
    ("oracle", "sqlserver", "SELECT v.name AS vessel FROM (SELECT id, name FROM vessels ORDER BY tons_max, id) v WHERE ROWNUM <= 3", "SELECT TOP (3) name AS vessel FROM vessels ORDER BY CASE WHEN tons_max IS NULL THEN 1 ELSE 0 END, tons_max, CASE WHEN id IS NULL THEN 1 ELSE 0 END, id"),
    ("oracle", "mysql", "SELECT UPPER(v.name) AS n, v.id FROM (SELECT id, name FROM vessels ORDER BY tons_max DESC NULLS LAST, id) v WHERE ROWNUM < 4", "SELECT UPPER(name) AS n, id FROM vessels ORDER BY tons_max DESC, CASE WHEN id IS NULL THEN 1 ELSE 0 END, id LIMIT 3"),
    ("oracle", "sqlite", "SELECT n FROM (SELECT name AS n, COUNT(*) AS c FROM loads GROUP BY name ORDER BY c DESC, n) WHERE ROWNUM = 1", "SELECT name AS n FROM loads GROUP BY name ORDER BY COUNT(*) DESC, name NULLS LAST LIMIT 1"),
    ("oracle", "postgres", "SELECT c, n FROM (SELECT name n, COUNT(*) c FROM loads GROUP BY name ORDER BY 2 DESC, 1) WHERE ROWNUM <= 2", "SELECT COUNT(*) c, name n FROM loads GROUP BY name ORDER BY COUNT(*) DESC, name LIMIT 2"),
    ("oracle", "postgres", "SELECT kind FROM (SELECT DISTINCT kind FROM vessels ORDER BY kind) WHERE ROWNUM <= 2", "SELECT DISTINCT kind FROM vessels ORDER BY kind LIMIT 2"),
    ("oracle", "postgres", "SELECT k FROM (SELECT DISTINCT kind AS k, name FROM vessels ORDER BY k, name) WHERE ROWNUM <= 2", "SELECT k FROM (SELECT DISTINCT kind AS k, name FROM vessels) ORDER BY k, name LIMIT 2"),
    ("oracle", "postgres", "SELECT n + 1 AS m FROM (SELECT tons AS n FROM loads ORDER BY id) WHERE ROWNUM <= 2", "SELECT tons + 1 AS m FROM loads ORDER BY id LIMIT 2"),
    ("oracle", "postgres", "SELECT n, n AS again FROM (SELECT tons * 2 AS n FROM loads ORDER BY id) WHERE ROWNUM <= 2", "SELECT n, n AS again FROM (SELECT tons * 2 AS n, id AS sort_key FROM loads) ORDER BY sort_key LIMIT 2"),
    ("oracle", "duckdb", "SELECT b FROM (SELECT l.name b, l.id FROM loads l ORDER BY b, l.id) WHERE ROWNUM < 3", "SELECT l.name b FROM loads l ORDER BY l.name, l.id LIMIT 2"),
    ("oracle", "spark", "SELECT name, place FROM (SELECT name, RANK() OVER (ORDER BY tons DESC) AS place FROM loads ORDER BY place, name) WHERE ROWNUM < 3", "SELECT name, RANK() OVER (ORDER BY tons DESC NULLS FIRST) AS place FROM loads ORDER BY RANK() OVER (ORDER BY tons DESC NULLS FIRST), name NULLS LAST LIMIT 2"),
    ("oracle", "postgres", "SELECT name FROM (SELECT * FROM vessels ORDER BY tons_max DESC, id) WHERE ROWNUM <= 5", "SELECT name FROM vessels ORDER BY tons_max DESC, id LIMIT 5"),
    ("oracle", "mysql", "SELECT name FROM (SELECT name, ROWNUM rn FROM (SELECT name FROM vessels ORDER BY id DESC)) WHERE rn BETWEEN 2 AND 4", "SELECT name FROM vessels ORDER BY CASE WHEN id IS NULL THEN 0 ELSE 1 END, id DESC LIMIT 3 OFFSET 1"),
    ("oracle", "postgres", "SELECT name FROM (SELECT name FROM vessels UNION SELECT name FROM landings ORDER BY name) WHERE ROWNUM <= 2", "SELECT name FROM (SELECT name FROM vessels UNION SELECT name FROM landings) ORDER BY name LIMIT 2"),
    ("oracle", "postgres", "SELECT id FROM (SELECT id, name FROM vessels ORDER BY name, id) WHERE ROWNUM <= 2 ORDER BY id", "SELECT id FROM (SELECT id, name FROM vessels ORDER BY name, id LIMIT 2) ORDER BY id"),
    ("oracle", "postgres", "WITH heaviest AS (SELECT name, tons FROM loads ORDER BY tons DESC, id) SELECT name FROM heaviest WHERE ROWNUM <= 3", "SELECT name FROM loads ORDER BY tons DESC, id LIMIT 3"),
    ("oracle", "sqlserver", "WITH o AS (SELECT id, name FROM vessels ORDER BY id), n AS (SELECT o.*, ROWNUM AS rn FROM o) SELECT name FROM n WHERE rn BETWEEN 2 AND 4", "WITH n AS (SELECT o.*, ROW_NUMBER() OVER (ORDER BY CASE WHEN o.id IS NULL THEN 1 ELSE 0 END, o.id) AS rn FROM (SELECT id, name FROM vessels) AS o) SELECT name FROM n WHERE rn BETWEEN 2 AND 4"),
    ("oracle", "sqlite", "WITH o AS (SELECT name, id FROM vessels ORDER BY tons_max, id) SELECT name FROM o WHERE ROWNUM < 3 UNION ALL SELECT name FROM o", "WITH o AS (SELECT name, id FROM vessels ORDER BY tons_max, id) SELECT * FROM (SELECT name FROM vessels ORDER BY tons_max NULLS LAST, id NULLS LAST LIMIT 2) UNION ALL SELECT name FROM o"),
    ("oracle", "mysql", "WITH o AS (SELECT id, name FROM vessels ORDER BY id DESC) SELECT a.name FROM o a JOIN o b ON a.id = b.id WHERE ROWNUM <= 2", "WITH o AS (SELECT id, name FROM vessels ORDER BY id DESC) SELECT a.name FROM o a JOIN o b ON a.id = b.id LIMIT 2"),
    ("oracle", "postgres", "WITH o (n) AS (SELECT name FROM vessels ORDER BY id) SELECT n FROM o WHERE ROWNUM <= 2", "SELECT name AS n FROM vessels ORDER BY id LIMIT 2"),
    ("oracle", "postgres", "WITH o AS (SELECT id FROM vessels ORDER BY id FETCH FIRST 5 ROWS ONLY) SELECT id FROM o WHERE ROWNUM <= 2", "SELECT id FROM (SELECT id FROM vessels ORDER BY id LIMIT 5) AS o ORDER BY o.id LIMIT 2"),
    ("oracle", "mariadb", "SELECT w.name, (SELECT name FROM (SELECT l.name FROM landings l WHERE l.waterway_id = w.id ORDER BY l.mile, l.id) WHERE ROWNUM = 1) AS first_landing FROM waterways w", "SELECT w.name, (SELECT l.name FROM landings l WHERE l.waterway_id = w.id ORDER BY CASE WHEN l.mile IS NULL THEN 1 ELSE 0 END, l.mile, CASE WHEN l.id IS NULL THEN 1 ELSE 0 END, l.id LIMIT 1) AS first_landing FROM waterways w"),
    ("oracle", "mariadb", "SELECT v.name, (SELECT COUNT(*) FROM crossings c WHERE c.vessel_id = v.id AND ROWNUM <= 2) AS some FROM vessels v", "SELECT v.name, (SELECT CASE WHEN COUNT(*) < 2 THEN COUNT(*) ELSE 2 END FROM crossings c WHERE c.vessel_id = v.id) AS some FROM vessels v"),
    ("oracle", "mariadb", "SELECT v.name, (SELECT MAX(c.fare) FROM crossings c WHERE c.vessel_id = v.id AND ROWNUM <= 2) AS some FROM vessels v", "refused row-limit.not-said"),
    ("sqlserver", "mariadb", "SELECT v.name FROM vessels v WHERE v.id IN (SELECT TOP 1 t.vessel_id FROM tolls t WHERE t.vessel_id = v.id ORDER BY t.id)", "SELECT v.name FROM vessels v WHERE v.id = (SELECT t.vessel_id FROM tolls t WHERE t.vessel_id = v.id ORDER BY t.id LIMIT 1)"),
    ("sqlserver", "mariadb", "SELECT v.name FROM vessels v WHERE v.kind = 'tug' OR (v.id IN (SELECT TOP (1) t.vessel_id FROM tolls t WHERE t.landing_id = v.id ORDER BY t.id))", "SELECT v.name FROM vessels v WHERE v.kind = 'tug' OR (v.id = (SELECT t.vessel_id FROM tolls t WHERE t.landing_id = v.id ORDER BY t.id LIMIT 1))"),
    ("sqlserver", "mariadb", "SELECT v.name FROM vessels v WHERE v.id NOT IN (SELECT TOP 1 t.vessel_id FROM tolls t WHERE t.vessel_id = v.id ORDER BY t.id)", "refused row-limit.not-said"),
    ("sqlserver", "mariadb", "SELECT v.name FROM vessels v WHERE NOT (v.id IN (SELECT TOP 1 t.vessel_id FROM tolls t WHERE t.vessel_id = v.id ORDER BY t.id))", "refused row-limit.not-said"),
    ("sqlserver", "mysql", "SELECT v.name FROM vessels v WHERE v.id IN (SELECT TOP 1 t.vessel_id FROM tolls t WHERE t.vessel_id = v.id ORDER BY t.id)", "SELECT v.name FROM vessels v WHERE v.id IN (SELECT * FROM (SELECT t.vessel_id FROM tolls t WHERE t.vessel_id = v.id ORDER BY t.id LIMIT 1) AS limited)"),
    ("sqlserver", "mariadb", "SELECT TOP 2 d.name FROM (SELECT name, id FROM vessels) d ORDER BY d.id", "SELECT d.name FROM (SELECT name, id FROM vessels) d ORDER BY d.id LIMIT 2"),
    ("oracle", "spark", "SELECT vessel_id FROM tolls GROUP BY vessel_id HAVING COUNT(*) > 1 ORDER BY COUNT(*) DESC, vessel_id FETCH FIRST 3 ROWS ONLY", "SELECT keyed.vessel_id FROM (SELECT vessel_id, COUNT(*) AS sort_key, vessel_id AS sort_key_2 FROM tolls GROUP BY vessel_id HAVING COUNT(*) > 1) AS keyed ORDER BY keyed.sort_key DESC, keyed.sort_key_2 NULLS LAST LIMIT 3"),
    ("oracle", "spark", "SELECT vessel_id, COUNT(*) AS n FROM tolls GROUP BY vessel_id HAVING COUNT(*) > 1 ORDER BY COUNT(*) DESC, vessel_id FETCH FIRST 3 ROWS ONLY", "SELECT vessel_id, COUNT(*) AS n FROM tolls GROUP BY vessel_id HAVING COUNT(*) > 1 ORDER BY COUNT(*) DESC, vessel_id NULLS LAST LIMIT 3"),
    ("postgres", "spark", "SELECT kind FROM vessels GROUP BY kind HAVING MAX(tons_max) > 1 ORDER BY MIN(tons_max), kind LIMIT 1", "SELECT keyed.kind FROM (SELECT kind, MIN(tons_max) AS sort_key, kind AS sort_key_2 FROM vessels GROUP BY kind HAVING MAX(tons_max) > 1) AS keyed ORDER BY keyed.sort_key NULLS LAST, keyed.sort_key_2 NULLS LAST LIMIT 1"),
    ("oracle", "mysql", "SELECT V.name FROM vessels v WHERE V.id > 1 ORDER BY v.ID FETCH FIRST 2 ROWS ONLY", "SELECT v.name FROM vessels v WHERE v.id > 1 ORDER BY CASE WHEN v.ID IS NULL THEN 1 ELSE 0 END, v.ID LIMIT 2"),
    ("sqlserver", "mariadb", "SELECT TOP 2 Vessels.name FROM vessels ORDER BY VESSELS.id", "SELECT vessels.name FROM vessels ORDER BY vessels.id LIMIT 2"),
    ("oracle", "mysql", "SELECT \"V\".name FROM vessels v ORDER BY \"V\".id FETCH FIRST 2 ROWS ONLY", "SELECT v.name FROM vessels v ORDER BY CASE WHEN v.id IS NULL THEN 1 ELSE 0 END, v.id LIMIT 2"),
    ("oracle", "bigquery", "WITH Best AS (SELECT id FROM vessels) SELECT B.id FROM best b ORDER BY b.id FETCH FIRST 2 ROWS ONLY", "WITH Best AS (SELECT id FROM vessels) SELECT b.id FROM Best b ORDER BY b.id NULLS LAST LIMIT 2"),
    ("mysql", "mariadb", "SELECT v.name FROM vessels v ORDER BY v.id LIMIT 2", "SELECT v.name FROM vessels v ORDER BY v.id LIMIT 2"),
    ("oracle", "postgres", "SELECT V.name FROM vessels v ORDER BY V.id FETCH FIRST 2 ROWS ONLY", "SELECT V.name FROM vessels v ORDER BY V.id LIMIT 2"),
    ("duckdb", "postgres", "SELECT id // 2 AS half FROM vessels ORDER BY id LIMIT 3", "SELECT id / 2 AS half FROM vessels ORDER BY id LIMIT 3"),
    ("sqlserver", "mariadb", "SELECT v.name FROM vessels v WHERE v.id IN (SELECT TOP 3 vessel_id FROM crossings GROUP BY vessel_id ORDER BY COUNT(*) DESC, vessel_id)", "SELECT v.name FROM vessels v WHERE v.id IN (SELECT * FROM (SELECT keyed.vessel_id FROM (SELECT vessel_id, COUNT(*) AS sort_key, vessel_id AS sort_key_2 FROM crossings GROUP BY vessel_id) AS keyed ORDER BY keyed.sort_key DESC, keyed.sort_key_2 LIMIT 3) AS limited)"),
    ("oracle", "mariadb", "SELECT v.name FROM vessels v JOIN (SELECT vessel_id, COUNT(*) AS n FROM crossings GROUP BY vessel_id ORDER BY n DESC, vessel_id FETCH FIRST 3 ROWS ONLY) t ON t.vessel_id = v.id", "SELECT v.name FROM vessels v JOIN (SELECT keyed.vessel_id, keyed.n FROM (SELECT vessel_id, COUNT(*) AS n, COUNT(*) AS sort_key, vessel_id AS sort_key_2 FROM crossings GROUP BY vessel_id) AS keyed ORDER BY keyed.sort_key DESC, CASE WHEN keyed.sort_key_2 IS NULL THEN 1 ELSE 0 END, keyed.sort_key_2 LIMIT 3) t ON t.vessel_id = v.id"),
    ("postgres", "mariadb", "WITH t AS (SELECT vessel_id FROM crossings GROUP BY vessel_id ORDER BY vessel_id NULLS FIRST LIMIT 3) SELECT v.name FROM vessels v JOIN t ON t.vessel_id = v.id", "WITH t AS (SELECT keyed.vessel_id FROM (SELECT vessel_id, vessel_id AS sort_key FROM crossings GROUP BY vessel_id) AS keyed ORDER BY keyed.sort_key LIMIT 3) SELECT v.name FROM vessels v JOIN t ON t.vessel_id = v.id"),
    ("mysql", "mariadb", "SELECT vessel_id FROM crossings GROUP BY vessel_id ORDER BY COUNT(*), vessel_id LIMIT 3", "SELECT vessel_id FROM crossings GROUP BY vessel_id ORDER BY COUNT(*), vessel_id LIMIT 3"),
];

/// What speaks against a translation on made data; changes of data have no result to compare.
fn objection(source: &str, from: &Dialect, statement: &Translated, to: &Dialect) -> Option<String> {
    let target = statement.sql.as_deref()?;
    if !QueryFacts::of(source, from).is_query {
        return None;
    }
    let settings = Settings { trials: 16, examples: false, ..Settings::default() };
    let verdict = stand_ins::verdict(
        Pair { source, from, target, to, assumptions: Some(&stand_ins::assumed(statement)) },
        to,
        None,
        &infer_schema(source, from),
        &settings,
    );
    // A parameter without a value can't be run.
    let open_parameter = verdict.reason.as_deref().is_some_and(|r| r.contains("the value of") || r.contains("is not declared"));
    (verdict.kind != VerdictKind::Agree && !open_parameter)
        .then(|| format!("{} {}", verdict.kind.as_str(), verdict.reason.unwrap_or_default()))
}

#[test]
fn row_limits_translate_and_agree() {
    let mut failures = Vec::new();
    for (from, to, sql, expected) in CASES {
        let (from, to): (Dialect, Dialect) = (from.parse().expect("dialect"), to.parse().expect("dialect"));
        let script = translate_text(sql, &from, &to, &Catalog::default(), &Options::default());
        let statement = &script.statements[0];
        let got = if let Some(sql) = &statement.sql {
            sql.clone()
        } else {
            let worst = statement.notes.iter().find(|n| n.note.fidelity == statement.fidelity).expect("a reason");
            format!("refused {}", worst.note.code)
        };
        if got != *expected {
            failures.push(format!("{from} to {to}: {sql}\n  wanted {expected}\n  got    {got}"));
        } else if let Some(why) = objection(sql, &from, statement, &to) {
            failures.push(format!("{from} to {to}: {sql}\n  {got}\n  {why}"));
        }
    }
    assert!(failures.is_empty(), "{}", failures.join("\n"));
}
