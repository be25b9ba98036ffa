SELECT a IS b, a IS NOT b, a ISNULL, a NOT NULL, x == y, [odd], `old`, name GLOB 'a*', ?1, :n, $p, @v FROM t INDEXED BY ix LIMIT 5, 3
----
INSERT OR REPLACE INTO tolls VALUES (1, 'a') ON CONFLICT DO NOTHING;
.mode box
SELECT a IN (), total(x) FILTER (WHERE y) FROM json_each('[1]') AS j LIMIT -1 OFFSET 2
----
CREATE TABLE loads (id INTEGER PRIMARY KEY AUTOINCREMENT, name, tons REAL NOT NULL) STRICT, WITHOUT ROWID;
