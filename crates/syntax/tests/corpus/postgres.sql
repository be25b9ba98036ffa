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
