FROM vessels SELECT name, tons LIMIT 10%
----
FROM vessels
----
SELECT * EXCLUDE (id) REPLACE (name || '!' AS name), v.* RENAME (kind AS sort), total: sum(x), COLUMNS('a.*'), * LIKE 'n%' FROM v: vessels GROUP BY ALL ORDER BY ALL LIMIT 10 PERCENT
----
SELECT list_transform([1, 2], x -> x + 1), list_filter(l, lambda x: x > 1), {'a': 1, 'b': [2]}, MAP {'k': 1}, l[1:-1:2], s.a, (s).b, x // y, 'a' ~~ 'b', TRY_CAST(a AS INTEGER[]) FROM t QUALIFY row_number() OVER () = 1
----
SELECT * FROM a ASOF JOIN b USING (t) POSITIONAL JOIN c SEMI JOIN d ON a.i = d.i
----
SELECT a FROM t UNION BY NAME SELECT b FROM u
----
SELECT x, FROM 'loads.csv' USING SAMPLE 10
----
FROM t
----
FROM t SELECT a, b WHERE c > 1 LIMIT 10%
----
SELECT * EXCLUDE (a) REPLACE (b + 1 AS b) FROM t
----
SELECT * RENAME (a AS b) FROM t
----
SELECT COLUMNS('x.*') FROM t
----
SELECT a: b, c: d + 1 FROM t
----
SELECT list_filter([1, 2], x -> x > 1)
----
SELECT {'a': 1, 'b': 'x'}, MAP {'k': 1}, [1, 2][1], [1, 2, 3][1:2], s.a FROM t
----
SELECT a FROM t GROUP BY ALL ORDER BY ALL
----
SELECT * FROM a ASOF JOIN b ON a.t >= b.t
----
SELECT * FROM a POSITIONAL JOIN b
----
SELECT * FROM a SEMI JOIN b USING (x)
----
SELECT * FROM 'file.csv'
----
SELECT * FROM read_csv('x.csv', header = true)
----
SELECT a FROM t UNION ALL BY NAME SELECT b FROM u
----
SELECT a, unnest(b) FROM t
----
SELECT * FROM t USING SAMPLE 10%
----
SELECT a // b, a ** 2, a ^ b, 'x' SIMILAR TO 'y', a GLOB 'z*' FROM t
----
SELECT struct_pack(a := 1), row(1, 2), (1, 2) FROM t
----
SELECT first(a ORDER BY b), arg_max(a, b) FILTER (c) FROM t
----
SELECT a FROM t QUALIFY row_number() OVER (PARTITION BY b ORDER BY c) = 1
----
SELECT DISTINCT ON (a) a, b FROM t ORDER BY a
----
SELECT TRY_CAST(a AS INTEGER), a::STRUCT(x INTEGER, y VARCHAR[]) FROM t
----
CREATE TABLE t AS FROM u
----
SELECT INTERVAL 1 DAY, INTERVAL '2 hours', DATE '2026-01-31'
----
WITH t AS MATERIALIZED (SELECT 1) SELECT * FROM t
----
SELECT (SELECT 1), EXISTS (FROM t), 1 IN (FROM t)
----
SELECT $1, $name, ?
