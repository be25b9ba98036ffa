SELECT DISTINCT ON (v.kind) v.kind, v.name::text COLLATE "C", ARRAY[1, 2]::int[], tags[1], tags[1:2], '{a,b}'::text[] FROM vessels v ORDER BY v.kind, v.tons DESC NULLS LAST LIMIT ALL OFFSET 3
----
SELECT count(*) FILTER (WHERE fare > 3), array_agg(name ORDER BY name), percentile_cont(0.5) WITHIN GROUP (ORDER BY fare), sum(x) OVER w FROM crossings WINDOW w AS (PARTITION BY kind ORDER BY day ROWS BETWEEN 1 PRECEDING AND CURRENT ROW EXCLUDE TIES) FETCH FIRST ROW WITH TIES
----
SELECT * FROM generate_series(1, 3) WITH ORDINALITY AS g (n, i), LATERAL (SELECT g.n * 2 AS m) x, unnest(ARRAY[1,2]) u
----
SELECT a IS DISTINCT FROM b, a ISNULL, x ~* 'y', doc -> 'a' ->> 'b', doc #>> '{a}', now() AT TIME ZONE 'UTC', E'a\n', $$it's$$, U&'x', $1, -2 ^ 2, a BETWEEN SYMMETRIC 1 AND 2, (a, b) = (1, 2), x = ANY (ARRAY[1]), name SIMILAR TO 'a%' FROM t TABLESAMPLE BERNOULLI (10) REPEATABLE (3)
----
WITH RECURSIVE t AS (SELECT 1 AS n UNION ALL SELECT n + 1 FROM t WHERE n < 5), u AS MATERIALIZED (VALUES (1), (2)) SELECT n FROM t NATURAL JOIN u; TABLE t; VALUES (1, 2);
----
INSERT INTO tolls AS t (id) VALUES (1) ON CONFLICT (id) DO UPDATE SET amount = 3 RETURNING id;
DELETE FROM tolls USING crossings c WHERE c.id = tolls.crossing_id RETURNING *;
WITH gone AS (SELECT 1) UPDATE tolls SET (a, b) = (1, 2) FROM gone;
\d tolls
CREATE TABLE IF NOT EXISTS loads (id bigint GENERATED ALWAYS AS IDENTITY, tags text[] NOT NULL DEFAULT '{}', span interval, seen timestamp(3) with time zone, UNIQUE (id, tags)) PARTITION BY RANGE (id);
----
SELECT row(1, 2), extract(year FROM day), substring(name FROM 2 FOR 3), position('a' IN name), overlay(name PLACING 'x' FROM 2 FOR 1), trim(both 'x' FROM name), interval '1 day', date '2026-01-01', ((SELECT 1) + 2), (SELECT 1) UNION ((SELECT 2)) ORDER BY 1
----
SELECT DISTINCT ON (a, b) a, b, c FROM t ORDER BY a, b, c DESC NULLS LAST
----
SELECT a, sum(b) FILTER (WHERE c > 0) OVER w FROM t WINDOW w AS (PARTITION BY a ORDER BY d ROWS BETWEEN 2 PRECEDING AND CURRENT ROW EXCLUDE TIES)
----
SELECT percentile_cont(0.5) WITHIN GROUP (ORDER BY x) FROM t
----
SELECT string_agg(DISTINCT name, ', ' ORDER BY name) FROM t
----
SELECT array_agg(x ORDER BY y DESC)[1:2] FROM t
----
SELECT ARRAY[1, 2, 3] || ARRAY[4], '{1,2}'::int[]
----
SELECT a -> 'b' ->> 'c', a #> '{b,c}', a @> '{"x": 1}' FROM t
----
SELECT * FROM unnest(ARRAY[1, 2]) WITH ORDINALITY AS u(x, n)
----
SELECT * FROM generate_series(1, 10, 2) AS g(i), LATERAL (SELECT i * 2 AS d) AS l
----
SELECT * FROM a NATURAL FULL JOIN b
----
SELECT * FROM a LEFT JOIN (b JOIN c ON b.x = c.x) ON a.x = b.x
----
SELECT a, b, count(*) FROM t GROUP BY GROUPING SETS ((a, b), (a), ())
----
SELECT a, b, count(*) FROM t GROUP BY ROLLUP (a, b), CUBE (c)
----
SELECT a FROM t GROUP BY DISTINCT ROLLUP (a, b)
----
WITH RECURSIVE r(id, parent_id) AS (SELECT id, parent_id FROM w WHERE parent_id IS NULL UNION ALL SELECT w.id, w.parent_id FROM w JOIN r ON w.parent_id = r.id) SELECT * FROM r
----
WITH RECURSIVE r AS (SELECT 1 AS n UNION SELECT n + 1 FROM r WHERE n < 5) SEARCH DEPTH FIRST BY n SET o CYCLE n SET c USING p SELECT * FROM r
----
WITH a AS NOT MATERIALIZED (SELECT 1) TABLE a
----
SELECT 1 UNION SELECT 2 INTERSECT SELECT 2 EXCEPT ALL SELECT 3
----
(SELECT 1 LIMIT 1) UNION ALL (SELECT 2 ORDER BY 1 OFFSET 0)
----
SELECT CASE a WHEN 1 THEN 'x' WHEN 2 THEN 'y' END, CASE WHEN a IS NULL THEN b ELSE c END FROM t
----
SELECT EXTRACT(year FROM d), date_part('month', d), d AT TIME ZONE 'UTC' FROM t
----
SELECT substring(a FROM 2 FOR 3), trim(BOTH 'x' FROM a), position('b' IN a), overlay(a PLACING 'z' FROM 1 FOR 2) FROM t
----
SELECT a IN (1, 2), a NOT IN (SELECT b FROM u), (a, b) IN (SELECT c, d FROM u), a = ANY (ARRAY[1, 2]), a > ALL (SELECT 1) FROM t
----
SELECT a BETWEEN SYMMETRIC 5 AND 1, a NOT BETWEEN 1 AND 2, a LIKE 'x!%' ESCAPE '!', a NOT ILIKE 'y', a SIMILAR TO 'z', a ~* 'q' FROM t
----
SELECT a IS DISTINCT FROM b, a IS NOT TRUE, a IS UNKNOWN, a ISNULL, a NOTNULL, a IS JSON OBJECT FROM t
----
SELECT ROW(1, 2) = (1, 2), ROW(t.*) IS NULL FROM t
----
SELECT NOT a AND b OR c, - a ^ 2, a % b, a << 2 | 1, a || b || c FROM t
----
SELECT a COLLATE "C" FROM t ORDER BY a COLLATE "de_DE" DESC
----
SELECT * FROM t TABLESAMPLE BERNOULLI (10) REPEATABLE (1)
----
SELECT * FROM ONLY t FOR UPDATE OF t SKIP LOCKED
----
SELECT * FROM json_to_recordset('[]') AS x(a int, b text)
----
VALUES (1, 'a'), (2, 'b') ORDER BY 1 LIMIT 1
----
INSERT INTO t (a, b) VALUES (1, DEFAULT) ON CONFLICT (a) DO UPDATE SET b = excluded.b WHERE t.a > 0 RETURNING *
----
UPDATE t SET (a, b) = (SELECT 1, 2), c = DEFAULT FROM u WHERE t.id = u.id RETURNING t.*
----
DELETE FROM t USING u WHERE t.id = u.id RETURNING id
----
MERGE INTO t USING s ON t.id = s.id WHEN MATCHED AND s.x > 0 THEN UPDATE SET a = s.a WHEN MATCHED THEN DELETE WHEN NOT MATCHED THEN INSERT (id, a) VALUES (s.id, s.a)
----
CREATE TABLE t (id int GENERATED ALWAYS AS IDENTITY PRIMARY KEY, a text NOT NULL DEFAULT 'x', b numeric(8,2) CHECK (b > 0), UNIQUE (a, b), FOREIGN KEY (a) REFERENCES u (x) ON DELETE CASCADE)
----
CREATE TABLE t AS SELECT * FROM u
----
CREATE OR REPLACE VIEW v (a, b) AS SELECT 1, 2
----
CREATE TEMP TABLE t (LIKE u INCLUDING ALL)
