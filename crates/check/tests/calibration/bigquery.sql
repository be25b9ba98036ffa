-- What BigQuery has of its own, and what all have in BigQuery's words.
SELECT 7 / 2 AS a, DIV(7, 2) AS b, DIV(-7, 2) AS c, MOD(7, 3) AS d, MOD(-7, 3) AS e, 7 / 0.5 AS f, SAFE_DIVIDE(7, 0) AS g, IEEE_DIVIDE(1, 0) AS h
SELECT 7 / 0 AS a
SELECT DIV(7, 0) AS a
SELECT NUMERIC '10.5' / 3 AS a, NUMERIC '1.5' * NUMERIC '1.5' AS b, NUMERIC '1' / 3 AS c, 1.5 * 2 AS d, CAST(2 AS NUMERIC) + 1 AS e
SELECT 0.1 + 0.2 = 0.3 AS a, NUMERIC '0.1' + NUMERIC '0.2' = NUMERIC '0.3' AS b
SELECT '5' + 3 AS a
SELECT '5' = 5 AS a
SELECT 'a' || 'b' AS a, CONCAT('a', 'b', 'c') AS b, CONCAT('a', CAST(NULL AS STRING)) AS c, 'a' || CAST(NULL AS STRING) AS d, [1] || [2] AS e
SELECT 'it\'s' AS a, "it's" AS b, r'\d' AS c, 'a\tb' AS d, '''it's''' AS e
SELECT name FROM vessels ORDER BY tons DESC, id LIMIT 2
SELECT name FROM vessels ORDER BY tons, id LIMIT 2 OFFSET 1
SELECT id, tons FROM vessels ORDER BY tons NULLS LAST, id
SELECT id, kind FROM vessels QUALIFY ROW_NUMBER() OVER (PARTITION BY kind ORDER BY tons DESC, id) = 1 ORDER BY id
SELECT * EXCEPT (tags, permit) FROM vessels ORDER BY id
SELECT * REPLACE (tons * 2 AS tons) FROM vessels WHERE id < 3 ORDER BY id
SELECT [1, 2, 3] AS a, ARRAY<INT64>[] AS b, STRUCT(1 AS x, 'b' AS y) AS c, [1, 2, 3][OFFSET(0)] AS d, [1, 2, 3][ORDINAL(1)] AS e, ARRAY_LENGTH([1, 2]) AS f, [1, 2][SAFE_OFFSET(5)] AS g
SELECT [1, 2][OFFSET(5)] AS a
SELECT ARRAY_TO_STRING(['a', NULL, 'b'], ',') AS a, ARRAY_TO_STRING(['a', NULL], ',', '-') AS b, SPLIT('a,b,,c', ',') AS c, ARRAY_REVERSE([1, 2]) AS d, 2 IN UNNEST([1, 2]) AS e, ARRAY_CONCAT([1], [2]) AS f, GENERATE_ARRAY(1, 5, 2) AS g
SELECT STRUCT(1 AS a, 2 AS b) = STRUCT(1, 2) AS a, STRUCT(1 AS a, 2 AS b).b AS b
SELECT x FROM UNNEST([3, 1, 2]) AS x ORDER BY x
SELECT x, n FROM UNNEST(['a', 'b']) AS x WITH OFFSET AS n ORDER BY n
SELECT v.id, tag FROM vessels v, UNNEST(SPLIT(v.tags, ',')) AS tag ORDER BY v.id, tag
SELECT v.id, tag FROM vessels v LEFT JOIN UNNEST(SPLIT(v.tags, ',')) AS tag ORDER BY v.id, tag
SELECT id, (SELECT COUNT(*) FROM UNNEST(SPLIT(tags, ',')) AS t WHERE t = 'coal') AS n FROM vessels ORDER BY id
SELECT kind, STRING_AGG(name, ';' ORDER BY id) AS names, ARRAY_AGG(id ORDER BY id DESC) AS ids, ARRAY_AGG(tons IGNORE NULLS ORDER BY id LIMIT 1) AS t FROM vessels GROUP BY kind ORDER BY kind
SELECT COUNTIF(tons > 30) AS heavy, SUM(tons) AS s, AVG(tons) AS a, MAX(name) AS m, COUNT(DISTINCT kind) AS k, LOGICAL_OR(tons > 100) AS o, LOGICAL_AND(id > 0) AS p FROM vessels
SELECT kind, COUNT(*) AS n, SUM(tons) AS s FROM vessels GROUP BY kind ORDER BY n DESC, kind
SELECT kind, SUM(tons) AS s FROM vessels GROUP BY ROLLUP (kind) ORDER BY kind, s
SELECT kind, tons, COUNT(*) AS n FROM vessels GROUP BY GROUPING SETS (kind, tons, ()) ORDER BY kind, tons, n
SELECT STDDEV(tons) AS a, VAR_POP(tons) AS b, CORR(id, tons) AS c FROM vessels
SELECT SUM(fare) AS s, AVG(fare) AS a, MIN(fare) AS m, COUNT(fare) AS n, SUM(passengers) AS p, AVG(passengers) AS ap FROM crossings
SELECT SUBSTR('quayside', -4, 2) AS a, SUBSTR('quayside', 0, 3) AS b, SUBSTR('quay', 2) AS c, LEFT('quay', 2) AS d, RIGHT('quay', 2) AS e, SUBSTR('quay', 2, 0) AS f
SELECT LPAD('7', 3, '0') AS a, RPAD('quay', 2, 'x') AS b, REPEAT('ab', 2) AS c, REVERSE('abc') AS d, STRPOS('banana', 'n') AS e, INSTR('banana', 'a', 1, 2) AS f, INSTR('banana', 'a', -1) AS g
SELECT TRIM('  x ') AS a, LTRIM('xxa', 'x') AS b, RTRIM('axx', 'x') AS c, REPLACE('banana', 'an', '') AS d, TRANSLATE('abc', 'ab', 'xy') AS e, TRIM('xax', 'x') AS f
SELECT UPPER('ä') AS a, INITCAP('old mill') AS b, LENGTH('Fähre') AS c, BYTE_LENGTH('Fähre') AS d, ASCII('A') AS e, CHR(65) AS f, STARTS_WITH('quay', 'qu') AS g, ENDS_WITH('quay', 'ay') AS h
SELECT REGEXP_CONTAINS('TW-001', r'^TW') AS a, REGEXP_REPLACE('a1b2', r'[0-9]', 'x') AS b, REGEXP_EXTRACT('TW-001', r'[0-9]+') AS c, REGEXP_EXTRACT('TW-001', r'(\d)\d') AS d
SELECT 'quay' LIKE 'q%' AS a, 'quay' LIKE '%Y' AS b, 'a%b' LIKE r'a\%b' AS c, 'quay' NOT LIKE '_uay' AS d
SELECT ROUND(2.5) AS a, ROUND(-2.5) AS b, ROUND(2.675, 2) AS c, ROUND(1234, -2) AS d, TRUNC(2.9) AS e, CEIL(2.1) AS f, FLOOR(-2.1) AS g, SIGN(-3) AS h, ABS(-2.5) AS i
SELECT CAST(2.5 AS INT64) AS a, CAST(3.5 AS INT64) AS b, CAST(-2.5 AS INT64) AS c, CAST('12' AS INT64) AS d, CAST(12 AS STRING) AS e, CAST(1.5 AS STRING) AS f, CAST(TRUE AS STRING) AS g, CAST('true' AS BOOL) AS h
SELECT CAST('x' AS INT64) AS a
SELECT SAFE_CAST('x' AS INT64) AS a, CAST('1.5' AS NUMERIC) AS b, CAST(1.0 AS STRING) AS c, CAST(NUMERIC '1.50' AS STRING) AS d
SELECT DATE_ADD(DATE '2026-01-31', INTERVAL 1 MONTH) AS a, DATE_SUB(DATE '2026-03-01', INTERVAL 1 DAY) AS b, DATE_DIFF(DATE '2026-03-01', DATE '2026-02-01', DAY) AS c, DATE_DIFF(DATE '2026-02-01', DATE '2026-01-31', MONTH) AS d, DATE_TRUNC(DATE '2026-02-14', MONTH) AS e
SELECT DATE '2026-01-31' + 1 AS a, LAST_DAY(DATE '2024-02-10') AS b, EXTRACT(YEAR FROM DATE '2026-02-14') AS c, EXTRACT(DAYOFWEEK FROM DATE '2026-02-14') AS d, DATE(2026, 2, 14) AS e, DATE '2026-02-14' > DATE '2026-02-13' AS f
SELECT FORMAT_DATE('%d.%m.%Y', DATE '2026-02-04') AS a, PARSE_DATE('%d.%m.%Y', '04.02.2026') AS b, DATETIME '2026-02-04 10:20:30' AS c, TIMESTAMP '2026-02-04 10:20:30+02:00' AS d, DATETIME_ADD(DATETIME '2026-01-31 00:00:00', INTERVAL 1 HOUR) AS e
SELECT id FROM crossings WHERE day BETWEEN DATE '2024-02-29' AND DATE '2024-03-01' ORDER BY id
SELECT id FROM crossings WHERE day > '2024-02-29' ORDER BY id
SELECT COALESCE(NULL, 2) AS a, NULLIF(1, 1) AS b, IFNULL(NULL, 'x') AS c, GREATEST(1, 3) AS d, LEAST(2, NULL) AS e, IF(1 > 2, 'y', 'n') AS f, CASE WHEN 1 = 2 THEN 'a' END AS g
SELECT NULL IS NULL AS a, NULL AND FALSE AS b, NULL OR TRUE AS c, 1 IN (2, NULL) AS d, 1 IS DISTINCT FROM NULL AS e
SELECT 'a' < 'B' AS a, 'a' = 'A' AS b, 'a ' = 'a' AS c, 'Z' < 'a' AS d
SELECT v.name, c.fare FROM vessels v LEFT JOIN crossings c ON c.vessel_id = v.id AND c.fare > 5 ORDER BY v.id, c.fare
SELECT v.name FROM vessels v LEFT JOIN crossings c ON c.vessel_id = v.id WHERE c.id IS NULL ORDER BY v.name
SELECT l.id AS l, r.id AS r FROM landings l FULL JOIN remarks r ON l.id = r.landing_id ORDER BY l, r
SELECT id, tag FROM vessels JOIN (SELECT 1 AS id, 'x' AS tag UNION ALL SELECT 2, 'y') USING (id) ORDER BY id
SELECT name FROM vessels v WHERE EXISTS (SELECT 1 FROM crossings c WHERE c.vessel_id = v.id AND c.fare > 5) ORDER BY id
SELECT id FROM landings WHERE id NOT IN (SELECT landing_id FROM crossings) ORDER BY id
SELECT id, (SELECT MAX(fare) FROM crossings c WHERE c.vessel_id = v.id) AS m FROM vessels v ORDER BY id
SELECT id, LAG(tons, 1, 0) OVER (ORDER BY id) AS a, SUM(tons) OVER (ORDER BY id ROWS BETWEEN 1 PRECEDING AND CURRENT ROW) AS b, LAST_VALUE(tons IGNORE NULLS) OVER (ORDER BY id ROWS BETWEEN UNBOUNDED PRECEDING AND CURRENT ROW) AS c FROM vessels ORDER BY id
SELECT id, RANK() OVER (ORDER BY tons DESC) AS r, PERCENT_RANK() OVER (ORDER BY id) AS p, NTILE(2) OVER (ORDER BY id) AS t, SUM(id) OVER w AS s FROM vessels WINDOW w AS (PARTITION BY kind) ORDER BY id
SELECT id FROM vessels UNION DISTINCT SELECT landing_id FROM crossings ORDER BY id
SELECT id FROM vessels EXCEPT DISTINCT SELECT landing_id FROM crossings ORDER BY id
SELECT id FROM vessels INTERSECT DISTINCT SELECT landing_id FROM crossings ORDER BY id
SELECT kind FROM vessels UNION ALL SELECT warden FROM remarks ORDER BY kind LIMIT 3
WITH big AS (SELECT * FROM vessels WHERE tons > 30) SELECT name FROM big ORDER BY id
WITH RECURSIVE down AS (SELECT id, name, 0 AS depth FROM waterways WHERE parent_id IS NULL UNION ALL SELECT w.id, w.name, d.depth + 1 FROM down d JOIN waterways w ON w.parent_id = d.id) SELECT id, depth FROM down ORDER BY id
SELECT * FROM (SELECT kind, tons FROM vessels) PIVOT (SUM(tons) FOR kind IN ('ferry', 'barge'))
SELECT nowhere FROM vessels
SELECT id FROM nothing_here
SELECT id FROM vessels v JOIN landings l ON v.id = l.id
SELECT kind, name FROM vessels GROUP BY kind
SELECT (SELECT id FROM vessels) AS x
SELECT 9223372036854775807 + 1 AS a
SELECT CAST(1e30 AS INT64) AS a
SELECT id FROM vessels UNION ALL SELECT id, name FROM vessels
SELECT REGEXP_SUBSTR('10x.50', 'x*') AS a, REGEXP_REPLACE('10x.50', 'x*', '-') AS b, REGEXP_CONTAINS('10x.50', 'x*') AS c
SELECT REGEXP_SUBSTR('aXbXc', 'a.*?X') AS a, REGEXP_REPLACE('aXbXc', 'a.*?X', '-') AS b, REGEXP_CONTAINS('aXbXc', 'a.*?X') AS c
SELECT REGEXP_SUBSTR('quay', '$') AS a, REGEXP_REPLACE('quay', '$', '-') AS b, REGEXP_CONTAINS('quay', '$') AS c
SELECT REGEXP_SUBSTR('quay', '^') AS a, REGEXP_REPLACE('quay', '^', '-') AS b, REGEXP_CONTAINS('quay', '^') AS c
SELECT REGEXP_SUBSTR('a\nb', '^b') AS a, REGEXP_REPLACE('a\nb', '^b', '-') AS b, REGEXP_CONTAINS('a\nb', '^b') AS c
SELECT REGEXP_SUBSTR('a\nb', 'a.b') AS a, REGEXP_REPLACE('a\nb', 'a.b', '-') AS b, REGEXP_CONTAINS('a\nb', 'a.b') AS c
SELECT REGEXP_SUBSTR('abab', '(ab)*') AS a, REGEXP_REPLACE('abab', '(ab)*', '-') AS b, REGEXP_CONTAINS('abab', '(ab)*') AS c
SELECT REGEXP_SUBSTR('aaa', 'a{0,2}') AS a, REGEXP_REPLACE('aaa', 'a{0,2}', '-') AS b, REGEXP_CONTAINS('aaa', 'a{0,2}') AS c
SELECT REGEXP_SUBSTR('a.b', '[.]') AS a, REGEXP_REPLACE('a.b', '[.]', '-') AS b, REGEXP_CONTAINS('a.b', '[.]') AS c
SELECT REGEXP_SUBSTR('ÄÖ', 'ä') AS a, REGEXP_REPLACE('ÄÖ', 'ä', '-') AS b, REGEXP_CONTAINS('ÄÖ', 'ä') AS c
SELECT REGEXP_SUBSTR('Été 7', '\\w+') AS a, REGEXP_REPLACE('Été 7', '\\w+', '-') AS b, REGEXP_CONTAINS('Été 7', '\\w+') AS c
SELECT REGEXP_SUBSTR('Été 7', '[[:alpha:]]+') AS a, REGEXP_REPLACE('Été 7', '[[:alpha:]]+', '-') AS b, REGEXP_CONTAINS('Été 7', '[[:alpha:]]+') AS c
SELECT REGEXP_SUBSTR('Été', '[[:upper:]]') AS a, REGEXP_REPLACE('Été', '[[:upper:]]', '-') AS b, REGEXP_CONTAINS('Été', '[[:upper:]]') AS c
SELECT REGEXP_SUBSTR('tab\there', '\\s') AS a, REGEXP_REPLACE('tab\there', '\\s', '-') AS b, REGEXP_CONTAINS('tab\there', '\\s') AS c
SELECT REGEXP_SUBSTR('٣3', '\\d') AS a, REGEXP_REPLACE('٣3', '\\d', '-') AS b, REGEXP_CONTAINS('٣3', '\\d') AS c
SELECT REGEXP_SUBSTR('aab', 'a*?b') AS a, REGEXP_REPLACE('aab', 'a*?b', '-') AS b, REGEXP_CONTAINS('aab', 'a*?b') AS c
SELECT REGEXP_SUBSTR('ab\n', 'b$') AS a, REGEXP_REPLACE('ab\n', 'b$', '-') AS b, REGEXP_CONTAINS('ab\n', 'b$') AS c
SELECT REGEXP_SUBSTR('XyX', 'x') AS a, REGEXP_REPLACE('XyX', 'x', '-') AS b, REGEXP_CONTAINS('XyX', 'x') AS c
SELECT REGEXP_SUBSTR('a-b', '[a\\-z]') AS a, REGEXP_REPLACE('a-b', '[a\\-z]', '-') AS b, REGEXP_CONTAINS('a-b', '[a\\-z]') AS c
SELECT REGEXP_SUBSTR('', 'x*') AS a, REGEXP_REPLACE('', 'x*', '-') AS b, REGEXP_CONTAINS('', 'x*') AS c
SELECT REGEXP_SUBSTR('a&&b', '[a&&b]') AS a, REGEXP_REPLACE('a&&b', '[a&&b]', '-') AS b, REGEXP_CONTAINS('a&&b', '[a&&b]') AS c
SELECT REGEXP_REPLACE('xay', '(a)', '<\\0>') AS a, REGEXP_REPLACE('xay', '(a)', '<&>') AS b, REGEXP_REPLACE('xay', '(a)', 'a$b') AS c, REGEXP_REPLACE('xay', '(a)', 'a\\\\b') AS d, REGEXP_REPLACE('xay', '(a)', '<\\1>') AS e, REGEXP_REPLACE('xay', '(a)', '<\\10>') AS f
