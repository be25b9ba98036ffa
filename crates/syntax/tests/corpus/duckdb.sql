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
