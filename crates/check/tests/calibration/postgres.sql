-- PostgreSQL's own ways.
SELECT 7 / 2 AS a, 7 / 2.0 AS b, 1.0 / 3 AS c, 10 / 4.00 AS d, 2 / 3.0 AS e
SELECT 1000000 / 7.0 AS a, 0.001 / 7 AS b, 123456789.123 / 0.03 AS c
SELECT 1 / 0
SELECT 5 % 0
SELECT 2147483647 + 1
SELECT CAST(2147483647 AS BIGINT) + 1 AS a, 2147483648 + 1 AS b
SELECT 9223372036854775807 + 1
SELECT CAST(40000 AS SMALLINT)
SELECT 1.5 * 2.25 AS a, 1.50 + 1 AS b, 0.1 + 0.2 AS c, 2.5 - 0.50 AS d
SELECT 1e3 AS a, 1.5e-2 AS b, 1e3 / 3 AS c
SELECT ROUND(2.5) AS a, ROUND(-2.5) AS b, ROUND(2.345, 2) AS c, ROUND(1234.5, -2) AS d, ROUND(CAST(2.5 AS DOUBLE PRECISION)) AS e
SELECT TRUNC(2.9) AS a, TRUNC(-2.9) AS b, TRUNC(2.456, 2) AS c, CEIL(1.2) AS d, FLOOR(-1.2) AS e
SELECT MOD(7, 3) AS a, MOD(-7, 3) AS b, MOD(7.5, 2) AS c, 2 ^ 10 AS d, POWER(2, 3) AS e, SQRT(16) AS f
SELECT 5 & 3 AS a, 5 | 3 AS b, 5 # 3 AS c, ~5 AS d, 1 << 3 AS e, -8 >> 1 AS f
SELECT ABS(-2.5) AS a, SIGN(-2.5) AS b, GREATEST(1, NULL, 3) AS c, LEAST(2, NULL) AS d
SELECT GREATEST('a', 'B') AS a, LEAST(NULL, NULL) AS b
SELECT AVG(tons) AS a, AVG(fare) AS b FROM vessels, crossings
SELECT AVG(id) AS a, SUM(id) AS b, SUM(fare) AS c FROM crossings
SELECT STDDEV(tons) AS a, VARIANCE(tons) AS b, STDDEV_POP(tons) AS c, VAR_POP(tons) AS d FROM vessels
SELECT CORR(id, passengers) AS a, COVAR_POP(id, passengers) AS b, REGR_SLOPE(passengers, id) AS c, REGR_COUNT(passengers, id) AS d FROM crossings
SELECT PERCENTILE_CONT(0.5) WITHIN GROUP (ORDER BY tons) AS a, PERCENTILE_DISC(0.5) WITHIN GROUP (ORDER BY tons) AS b FROM vessels
SELECT MODE() WITHIN GROUP (ORDER BY tons) AS m FROM vessels
SELECT BOOL_AND(tons > 10) AS a, BOOL_OR(tons > 100) AS b, EVERY(id > 0) AS c FROM vessels
SELECT STRING_AGG(name, ', ' ORDER BY name) AS a FROM vessels
SELECT STRING_AGG(DISTINCT kind, '/' ORDER BY kind) AS a FROM vessels
SELECT ARRAY_AGG(id ORDER BY id DESC) AS a FROM vessels
SELECT kind, ARRAY_AGG(name ORDER BY name) AS a FROM vessels GROUP BY kind
SELECT kind, SUM(tons) AS s, GROUPING(kind) AS g FROM vessels GROUP BY ROLLUP (kind)
SELECT kind, tons, COUNT(*) AS n FROM vessels GROUP BY CUBE (kind, tons)
SELECT kind, tons, COUNT(*) AS n FROM vessels GROUP BY GROUPING SETS ((kind), (tons), ())
SELECT kind, tons, GROUPING(kind, tons) AS g, COUNT(*) AS n FROM vessels GROUP BY ROLLUP (kind, tons)
SELECT v.id, v.name, COUNT(*) AS n FROM vessels v JOIN crossings c ON c.vessel_id = v.id GROUP BY v.id
SELECT name, COUNT(*) FROM vessels GROUP BY kind
SELECT DISTINCT ON (vessel_id) vessel_id, id FROM crossings ORDER BY vessel_id, day DESC, id
SELECT DISTINCT ON (kind) kind, name FROM vessels ORDER BY kind, name
SELECT name FROM vessels ORDER BY kind, id
SELECT name FROM vessels ORDER BY tons DESC, id
SELECT name FROM vessels ORDER BY tons DESC NULLS LAST FETCH FIRST 1 ROW WITH TIES
SELECT name FROM vessels ORDER BY id OFFSET 2 ROWS FETCH NEXT 2 ROWS ONLY
SELECT name FROM vessels ORDER BY id LIMIT ALL OFFSET 4
SELECT name FROM vessels ORDER BY id LIMIT NULL
SELECT SUBSTRING('quayside' FROM 2 FOR 3) AS a, SUBSTRING('quayside' FROM 0 FOR 3) AS b, SUBSTR('quayside', -2, 5) AS c
SELECT SUBSTRING('quayside', 2, -1)
SELECT LEFT('quay', 2) AS a, LEFT('quay', -1) AS b, RIGHT('quay', 2) AS c, RIGHT('quay', -1) AS d, LEFT('quay', 9) AS e
SELECT POSITION('a' IN 'quay') AS a, STRPOS('quay', 'z') AS b, POSITION('' IN 'quay') AS c
SELECT LPAD('7', 3, '0') AS a, LPAD('quay', 2) AS b, RPAD('a', 5, 'xy') AS c, LPAD('a', 3, '') AS d, LPAD('a', -1) AS e
SELECT REPEAT('ab', 3) AS a, REPEAT('ab', 0) AS b, REPEAT('ab', -1) AS c, REVERSE('quay') AS d
SELECT INITCAP('o''neill''s quay-side 3rd') AS a, UPPER('é') AS b, LENGTH('é') AS c, OCTET_LENGTH('é') AS d
SELECT TRIM(BOTH 'x' FROM 'xxaxx') AS a, TRIM(LEADING 'x' FROM 'xxaxx') AS b, BTRIM('xyaxy', 'xy') AS c, TRIM('  a ') || '|' AS d
SELECT SPLIT_PART('a,b,c', ',', 2) AS a, SPLIT_PART('a,b,c', ',', 9) AS b, SPLIT_PART('a,b,c', ',', -1) AS c
SELECT TRANSLATE('12345', '143', 'ax') AS a, OVERLAY('Txxxxas' PLACING 'hom' FROM 2 FOR 4) AS b
SELECT CONCAT('a', NULL, 1, 2.5) AS a, CONCAT_WS(',', 'a', NULL, 'b') AS b, 'a' || 1 AS c
SELECT 'abc' ~ 'b' AS a, 'abc' ~* 'B' AS b, 'abc' !~ 'z' AS c, 'abc' SIMILAR TO '%(b|d)%' AS d
SELECT REGEXP_REPLACE('a1b22', '[0-9]+', '#') AS a, REGEXP_REPLACE('a1b22', '[0-9]+', '#', 'g') AS b, REGEXP_REPLACE('Tern, Grey', '^(.*), (.*)$', '\2 \1') AS c
SELECT SUBSTRING('lock12' FROM '[0-9]+') AS a, REGEXP_SPLIT_TO_ARRAY('a,b;c', '[,;]') AS b
SELECT 'Abc' LIKE 'a%' AS a, 'Abc' ILIKE 'a%' AS b, '50%' LIKE '50\%' AS c
SELECT TO_CHAR(DATE '2024-03-05', 'YYYY-MM-DD Mon Day DDD') AS a, TO_CHAR(TIMESTAMP '2024-03-05 14:05:09', 'HH24:MI:SS AM') AS b
SELECT TO_CHAR(1234.5, '9,999.99') AS a, TO_CHAR(7, '000') AS b, TO_CHAR(-42, 'FM999') AS c
SELECT TO_DATE('05/03/2024', 'DD/MM/YYYY') AS a
SELECT DATE '2024-03-01' - DATE '2024-02-28' AS a, DATE '2024-02-28' + 2 AS b, DATE '2024-03-01' - 1 AS c
SELECT DATE '2024-01-31' + INTERVAL '1 month' AS a, TIMESTAMP '2024-03-05 10:00:00' + INTERVAL '90 minutes' AS b, DATE '2024-03-31' - INTERVAL '1 month' AS c
SELECT EXTRACT(YEAR FROM DATE '2024-03-05') AS a, EXTRACT(DOW FROM DATE '2024-03-03') AS b, EXTRACT(WEEK FROM DATE '2024-12-30') AS c, EXTRACT(DOY FROM DATE '2024-03-05') AS d
SELECT DATE_TRUNC('month', TIMESTAMP '2024-05-16 13:45:10') AS a, DATE_TRUNC('week', DATE '2024-05-16') AS b
SELECT DATE_PART('hour', TIMESTAMP '2024-05-16 13:45:10') AS a, EXTRACT(SECOND FROM TIMESTAMP '2024-05-16 13:45:10.5') AS b
SELECT CAST('2024-02-30' AS DATE)
SELECT CAST('abc' AS INTEGER)
SELECT CAST('2.5' AS INTEGER)
SELECT CAST(2.5 AS INTEGER) AS a, CAST(3.5 AS INTEGER) AS b, CAST(-2.5 AS INTEGER) AS c, CAST(CAST(2.5 AS DOUBLE PRECISION) AS INTEGER) AS d
SELECT CAST(1234.567 AS NUMERIC(6,2)) AS a, CAST('12.50' AS NUMERIC(5,1)) AS b
SELECT CAST(12345 AS NUMERIC(4,0))
SELECT CAST('quayside' AS VARCHAR(4)) AS a, CAST('ab' AS CHAR(4)) || '|' AS b, CAST(TRUE AS TEXT) AS c, CAST(1 AS BOOLEAN) AS d
SELECT CAST('t' AS BOOLEAN) AS a, 'yes'::BOOLEAN AS b, CAST(0.5 AS DOUBLE PRECISION)::TEXT AS c, 1e20::DOUBLE PRECISION::TEXT AS d
SELECT CAST('ab' AS CHAR(5)) = 'ab' AS a, CAST('ab' AS CHAR(5)) = CAST('ab' AS CHAR(3)) AS b, LENGTH(CAST('ab' AS CHAR(5))) AS c
SELECT TRUE AND NULL AS a, FALSE AND NULL AS b, NULL::BOOLEAN IS UNKNOWN AS c, TRUE = FALSE AS d
SELECT 1 = 1.0 AS a, '1' = 1 AS b, 'a' = 'a ' AS c, 2 BETWEEN SYMMETRIC 3 AND 1 AS d
SELECT name FROM vessels WHERE name = 5
SELECT name + 1 FROM vessels
SELECT 5 > ALL (SELECT 9 WHERE FALSE) AS a, 5 = ANY (SELECT tons FROM vessels) AS b, 40 = ANY (ARRAY[1, 40]) AS c, 1 < ALL (ARRAY[2, NULL]) AS d
SELECT v.name, c.day, c.fare FROM vessels v CROSS JOIN LATERAL (SELECT day, fare FROM crossings x WHERE x.vessel_id = v.id ORDER BY day DESC, id LIMIT 1) c
SELECT v.name, c.n FROM vessels v LEFT JOIN LATERAL (SELECT COUNT(*) AS n FROM crossings x WHERE x.vessel_id = v.id HAVING COUNT(*) > 1) c ON TRUE
SELECT g FROM GENERATE_SERIES(1, 10, 3) AS g
SELECT g FROM GENERATE_SERIES(3, 1) AS g
SELECT g FROM GENERATE_SERIES(3, 1, -1) AS g
SELECT g::DATE FROM GENERATE_SERIES(DATE '2024-02-28', DATE '2024-03-01', INTERVAL '1 day') AS g
SELECT u FROM UNNEST(ARRAY[3, NULL, 1]) AS u
SELECT a, b FROM UNNEST(ARRAY[1, 2], ARRAY['x', 'y', 'z']) AS t (a, b)
SELECT t.x, t.n FROM UNNEST(ARRAY['p', 'q']) WITH ORDINALITY AS t (x, n)
SELECT v.id, u.tag FROM vessels v CROSS JOIN LATERAL UNNEST(STRING_TO_ARRAY(v.tags, ',')) AS u (tag)
SELECT (ARRAY[5, 6, 7])[2] AS a, (ARRAY[5, 6])[9] AS b, (ARRAY[1, 2, 3])[2:3] AS c
SELECT ARRAY[1, 2] || 3 AS a, ARRAY[1] || ARRAY[2] AS b, CARDINALITY(ARRAY[1, 2]) AS c, ARRAY_LENGTH(ARRAY[1, 2], 1) AS d
SELECT ARRAY_TO_STRING(ARRAY['a', NULL, 'b'], ',') AS a, ARRAY_TO_STRING(ARRAY['a', NULL], ',', '*') AS b, STRING_TO_ARRAY('a,b,,c', ',') AS c
SELECT ARRAY[1, 2, 3] @> ARRAY[2] AS a, ARRAY[1] && ARRAY[2] AS b, 2 = ANY (ARRAY[1, 2]) AS c, ARRAY_POSITION(ARRAY['a', 'b'], 'b') AS d
SELECT ARRAY(SELECT id FROM vessels ORDER BY id) AS a
SELECT '{"a": {"b": [1, 2]}}'::JSON -> 'a' -> 'b' ->> 1 AS a, '{"a": 5}'::JSON ->> 'a' AS b, '{"a": {"b": 7}}'::JSON #>> '{a,b}' AS c
SELECT JSON_ARRAY_LENGTH('[1, 2, 3]') AS a, JSON_TYPEOF('{"a": 1}') AS b
SELECT value FROM JSON_ARRAY_ELEMENTS_TEXT('["x", "y"]') AS value
SELECT id FROM vessels EXCEPT ALL SELECT vessel_id FROM crossings
SELECT vessel_id FROM crossings INTERSECT ALL SELECT id FROM vessels
SELECT 1 AS x UNION SELECT 2 INTERSECT SELECT 2
SELECT 1 AS x UNION SELECT 'a'
SELECT id, NULL AS x FROM vessels WHERE id = 1 UNION ALL SELECT 2, 'text'
WITH RECURSIVE t (id, path) AS (SELECT id, CAST(name AS TEXT) FROM waterways WHERE parent_id IS NULL UNION ALL SELECT w.id, t.path || '/' || w.name FROM t JOIN waterways w ON w.parent_id = t.id) SELECT path FROM t
WITH RECURSIVE t (id, name) AS (SELECT id, name FROM waterways WHERE parent_id IS NULL UNION ALL SELECT w.id, w.name FROM t JOIN waterways w ON w.parent_id = t.id) SEARCH DEPTH FIRST BY name SET seq SELECT name FROM t ORDER BY seq
WITH RECURSIVE t (id) AS (SELECT 1 UNION ALL SELECT id % 3 + 1 FROM t) CYCLE id SET looped USING path SELECT id, looped FROM t
WITH RECURSIVE t (x) AS (SELECT 1 UNION ALL SELECT x + 0.5 FROM t WHERE x < 3) SELECT x FROM t
SELECT id, LAST_VALUE(fare) OVER (PARTITION BY vessel_id ORDER BY id RANGE BETWEEN UNBOUNDED PRECEDING AND UNBOUNDED FOLLOWING) AS l FROM crossings
SELECT id, COUNT(*) OVER (ORDER BY day RANGE BETWEEN INTERVAL '2 days' PRECEDING AND CURRENT ROW) AS n FROM crossings
SELECT id, AVG(fare) OVER (ORDER BY id) AS a FROM crossings
SELECT ROW_NUMBER() OVER () > 0 AS a FROM vessels
SELECT id FROM vessels WHERE ROW_NUMBER() OVER (ORDER BY id) = 1
SELECT id FROM vessels WHERE COUNT(*) > 1
SELECT nope FROM vessels
SELECT * FROM nope
SELECT v.id FROM vessels
SELECT id FROM vessels, landings
SELECT (SELECT id FROM vessels)
SELECT (SELECT id, name FROM vessels WHERE id = 1)
SELECT id FROM vessels UNION SELECT id, name FROM vessels
SELECT COUNT(*), id + 1, UPPER(name), CASE WHEN TRUE THEN 1 END FROM vessels WHERE id = 1 GROUP BY id, name
SELECT NULL::INTEGER + 1 AS a, NULL::TEXT || 'x' AS b, COALESCE(NULL, 2.5) AS c
SELECT fare::INTEGER AS a FROM crossings ORDER BY id
SELECT id FROM crossings WHERE day = DATE '2024-02-29' OR day > '2024-12-01' ORDER BY id
SELECT AGE(DATE '2024-03-05', DATE '2023-01-31') AS a
SELECT MAKE_DATE(2024, 2, 29) AS a, DATE '2024-02-29' + TIME '10:30' AS b
SELECT PG_TYPEOF(1) AS a, PG_TYPEOF(1.5) AS b, PG_TYPEOF(tons) AS c, PG_TYPEOF(SUM(tons)) AS d FROM vessels GROUP BY tons LIMIT 1
SELECT x.id FROM (VALUES (1), (2), (3)) AS x (id) WHERE x.id > 1
SELECT REGEXP_SUBSTR('10x.50', 'x*') AS a, REGEXP_REPLACE('10x.50', 'x*', '-', 'g') AS b, REGEXP_INSTR('10x.50', 'x*') AS c
SELECT REGEXP_SUBSTR('abcd', '(a|b)(c|bcd)') AS a, REGEXP_REPLACE('abcd', '(a|b)(c|bcd)', '-', 'g') AS b, REGEXP_INSTR('abcd', '(a|b)(c|bcd)') AS c
SELECT REGEXP_SUBSTR('aXbXc', 'a.*?X') AS a, REGEXP_REPLACE('aXbXc', 'a.*?X', '-', 'g') AS b, REGEXP_INSTR('aXbXc', 'a.*?X') AS c
SELECT REGEXP_SUBSTR('quay', '$') AS a, REGEXP_REPLACE('quay', '$', '-', 'g') AS b, REGEXP_INSTR('quay', '$') AS c
SELECT REGEXP_SUBSTR('quay', '^') AS a, REGEXP_REPLACE('quay', '^', '-', 'g') AS b, REGEXP_INSTR('quay', '^') AS c
SELECT REGEXP_SUBSTR(E'a\nb', '^b') AS a, REGEXP_REPLACE(E'a\nb', '^b', '-', 'g') AS b, REGEXP_INSTR(E'a\nb', '^b') AS c
SELECT REGEXP_SUBSTR(E'a\nb', 'a.b') AS a, REGEXP_REPLACE(E'a\nb', 'a.b', '-', 'g') AS b, REGEXP_INSTR(E'a\nb', 'a.b') AS c
SELECT REGEXP_SUBSTR('abab', '(ab)*') AS a, REGEXP_REPLACE('abab', '(ab)*', '-', 'g') AS b, REGEXP_INSTR('abab', '(ab)*') AS c
SELECT REGEXP_SUBSTR('aaa', 'a{0,2}') AS a, REGEXP_REPLACE('aaa', 'a{0,2}', '-', 'g') AS b, REGEXP_INSTR('aaa', 'a{0,2}') AS c
SELECT REGEXP_SUBSTR('a.b', '[.]') AS a, REGEXP_REPLACE('a.b', '[.]', '-', 'g') AS b, REGEXP_INSTR('a.b', '[.]') AS c
SELECT REGEXP_SUBSTR('ÄÖ', 'ä') AS a, REGEXP_REPLACE('ÄÖ', 'ä', '-', 'g') AS b, REGEXP_INSTR('ÄÖ', 'ä') AS c
SELECT REGEXP_SUBSTR('Été 7', '\w+') AS a, REGEXP_REPLACE('Été 7', '\w+', '-', 'g') AS b, REGEXP_INSTR('Été 7', '\w+') AS c
SELECT REGEXP_SUBSTR('Été 7', '[[:alpha:]]+') AS a, REGEXP_REPLACE('Été 7', '[[:alpha:]]+', '-', 'g') AS b, REGEXP_INSTR('Été 7', '[[:alpha:]]+') AS c
SELECT REGEXP_SUBSTR('Été', '[[:upper:]]') AS a, REGEXP_REPLACE('Été', '[[:upper:]]', '-', 'g') AS b, REGEXP_INSTR('Été', '[[:upper:]]') AS c
SELECT REGEXP_SUBSTR(E'tab\there', '\s') AS a, REGEXP_REPLACE(E'tab\there', '\s', '-', 'g') AS b, REGEXP_INSTR(E'tab\there', '\s') AS c
SELECT REGEXP_SUBSTR('٣3', '\d') AS a, REGEXP_REPLACE('٣3', '\d', '-', 'g') AS b, REGEXP_INSTR('٣3', '\d') AS c
SELECT REGEXP_SUBSTR('aab', 'a*?b') AS a, REGEXP_REPLACE('aab', 'a*?b', '-', 'g') AS b, REGEXP_INSTR('aab', 'a*?b') AS c
SELECT REGEXP_SUBSTR(E'ab\n', 'b$') AS a, REGEXP_REPLACE(E'ab\n', 'b$', '-', 'g') AS b, REGEXP_INSTR(E'ab\n', 'b$') AS c
SELECT REGEXP_SUBSTR('XyX', 'x') AS a, REGEXP_REPLACE('XyX', 'x', '-', 'g') AS b, REGEXP_INSTR('XyX', 'x') AS c
SELECT REGEXP_SUBSTR('a-b', '[a\-z]') AS a, REGEXP_REPLACE('a-b', '[a\-z]', '-', 'g') AS b, REGEXP_INSTR('a-b', '[a\-z]') AS c
SELECT REGEXP_SUBSTR('', 'x*') AS a, REGEXP_REPLACE('', 'x*', '-', 'g') AS b, REGEXP_INSTR('', 'x*') AS c
SELECT REGEXP_SUBSTR('quay side', '(\w+) (\w+)') AS a, REGEXP_REPLACE('quay side', '(\w+) (\w+)', '-', 'g') AS b, REGEXP_INSTR('quay side', '(\w+) (\w+)') AS c
SELECT REGEXP_SUBSTR('a&&b', '[a&&b]') AS a, REGEXP_REPLACE('a&&b', '[a&&b]', '-', 'g') AS b, REGEXP_INSTR('a&&b', '[a&&b]') AS c
SELECT REGEXP_REPLACE('xay', '(a)', '<\0>', 'g') AS a, REGEXP_REPLACE('xay', '(a)', '<\&>', 'g') AS b, REGEXP_REPLACE('xay', '(a)', '<&>', 'g') AS c, REGEXP_REPLACE('xay', '(a)', 'a\b', 'g') AS d, REGEXP_REPLACE('xay', '(a)', 'a\\b', 'g') AS e, REGEXP_REPLACE('xay', '(a)', '<\1>', 'g') AS f, REGEXP_REPLACE('xay', '(a)', '<\2>', 'g') AS g, REGEXP_REPLACE('xay', '(a)', 'a\', 'g') AS h
