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
