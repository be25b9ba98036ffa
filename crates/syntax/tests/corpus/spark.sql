SELECT explode(tags), transform(a, x -> x + 1), aggregate(a, 0, (acc, x) -> acc + x), named_struct('a', 1), m['k'], 10L, 1.5BD, a <=> b, `odd name`, "text" FROM vessels LATERAL VIEW OUTER explode(tags) t AS tag LATERAL VIEW posexplode(x) p AS i, y WHERE a RLIKE 'b' LIMIT ALL OFFSET 2
----
SELECT kind, sum(fare) FROM crossings GROUP BY kind, day GROUPING SETS ((kind), (kind, day)) SORT BY kind
----
SELECT * FROM a LEFT ANTI JOIN b ON a.id = b.id MINUS SELECT * FROM c
----
VALUES 1, 2
----
CREATE TABLE loads (id BIGINT, tags ARRAY<STRING>, m MAP<STRING, ARRAY<INT>>, s STRUCT<a: INT, b: STRING>) USING parquet;
INSERT OVERWRITE TABLE loads SELECT * FROM x
----
SELECT transform(a, x -> x + 1), filter(a, (x, i) -> i > 0), a[0], m['k'], s.f FROM t
----
SELECT * FROM t LATERAL VIEW OUTER explode(a) x AS y LATERAL VIEW posexplode(b) z AS p, v
----
SELECT named_struct('a', 1), map('k', 1), array(1, 2), struct(a, b) FROM t
----
SELECT a FROM t DISTRIBUTE BY a SORT BY b DESC
----
SELECT a FROM t CLUSTER BY a
----
SELECT * FROM a LEFT SEMI JOIN b ON a.x = b.x LEFT ANTI JOIN c ON a.x = c.x
----
SELECT a, sum(b) FROM t GROUP BY a WITH CUBE
----
SELECT a, sum(b) FROM t GROUP BY a, b GROUPING SETS ((a, b), a)
----
SELECT a FROM t TABLESAMPLE (10 PERCENT)
----
SELECT a RLIKE 'x', a DIV b, a <=> b, a LIKE ALL ('x%', '%y') FROM t
----
SELECT * FROM VALUES (1, 'a'), (2, 'b') AS v(n, w)
----
SELECT INTERVAL 1 DAY 2 HOURS, DATE '2026-01-31', 10L, 1.5BD, X'1F'
----
SELECT * EXCEPT (a) FROM t
----
SELECT first_value(a) IGNORE NULLS OVER (ORDER BY b) FROM t
----
SELECT try_cast(a AS int), a::string, cast(a AS array<struct<x: int, y: string>>) FROM t
----
FROM t SELECT a WHERE b > 1
----
SELECT * FROM t PIVOT (sum(x) AS s FOR k IN ('a' AS a, 'b' AS b))
----
SELECT /*+ BROADCAST(u) */ a FROM t JOIN u USING (x)
----
CREATE TABLE t (a INT COMMENT 'x', b MAP<STRING, INT>) USING parquet PARTITIONED BY (a)
----
SELECT percentile_approx(a, 0.5) FILTER (WHERE b > 0) FROM t
----
WITH t(a) AS (SELECT 1) SELECT a FROM t
----
SELECT a FROM t LIMIT ALL OFFSET 2
