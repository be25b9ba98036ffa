-- What DuckDB has of its own.
SELECT 7 / 2 AS a, 7 // 2 AS b, -7 // 2 AS c, 7 % 3 AS d, -7 % 3 AS e, 7.5 // 2 AS f, 2 ** 10 AS g, 7 / 0 AS h, 7 % 0 AS i, 7 // 0 AS j
SELECT 1 / 3 * 3 AS a, 10.5 / 3 AS b, 1.5 * 1.5 AS c, 1.50 + 1 AS d, 100000 * 100000 AS e, 3::DECIMAL(5,2) * 2 AS f
SELECT 3 - '1' AS a, '10' < 9 AS b, 1 = '1' AS c, '5' + 3.0 AS d
SELECT '5' + 3 AS a
SELECT TRUE + 1 AS a
SELECT name + 1 AS a FROM vessels
SELECT 'a' || 1 AS a, 'a' || NULL AS b, [1] || [2] AS c, concat('a', NULL, 1) AS d, concat_ws('-', 'a', NULL, 'b') AS e
SELECT name FROM vessels ORDER BY tons DESC, id LIMIT 2
SELECT name FROM vessels ORDER BY tons, id LIMIT 2
SELECT id, tons FROM vessels ORDER BY tons DESC NULLS LAST, id
SELECT id FROM vessels ORDER BY id LIMIT 50%
SELECT * EXCLUDE (tags, permit) FROM vessels ORDER BY id
SELECT * REPLACE (tons * 2 AS tons) FROM vessels WHERE id < 3 ORDER BY id
FROM vessels SELECT id, name ORDER BY id LIMIT 2
SELECT kind, COUNT(*) AS n FROM vessels GROUP BY ALL ORDER BY n DESC, kind
SELECT id, tons AS t, t + 1 AS u FROM vessels WHERE u > 30 ORDER BY id
SELECT id, kind FROM vessels QUALIFY ROW_NUMBER() OVER (PARTITION BY kind ORDER BY tons DESC, id) = 1 ORDER BY id
SELECT DISTINCT ON (kind) kind, name FROM vessels ORDER BY kind, tons DESC, id
SELECT [1, 2, 3] AS a, [] AS b, [1, NULL] AS c, {'x': 1, 'y': 'b'} AS d, [1, 2, 3][1] AS e, [1, 2, 3][-1] AS f, [1, 2, 3][2:3] AS g, [1, 2][5] AS h
SELECT len([1, 2]) AS a, list_contains([1, 2], 2) AS b, array_to_string(['a', NULL, 'b'], ',') AS c, list_sort([3, 1, 2]) AS d, string_split('a,b,,c', ',') AS e
SELECT [1, NULL] = [1, NULL] AS a, [1, 2] < [1, 3] AS b, [1] < [1, 0] AS c, (1, NULL) < (1, 2) AS d, {'a': 1} = {'a': 1} AS e
SELECT (1, NULL) IN ((1, NULL)) AS a, (1, 2) IN ((1, 2), (3, 4)) AS b, (NULL, 1) = (NULL, 1) AS c
SELECT id FROM vessels WHERE (kind, tons) IN (SELECT kind, tons FROM vessels WHERE id = 5) ORDER BY id
SELECT v.id, t.tag FROM vessels v, unnest(string_split(v.tags, ',')) AS t(tag) ORDER BY v.id, t.tag
SELECT kind, string_agg(name, ';' ORDER BY id) AS names, list(tons ORDER BY id) AS tons FROM vessels GROUP BY kind ORDER BY kind
SELECT COUNT(*) FILTER (tons > 30) AS heavy, SUM(tons) AS s, AVG(tons) AS a, MEDIAN(tons) AS m, MODE(tons) AS k FROM vessels
SELECT arg_max(name, tons * 10 - id) AS a, arg_min(name, tons * 10 + id) AS b, first(id ORDER BY id) AS f, any_value(kind) IS NOT NULL AS g FROM vessels
SELECT kind, tons, COUNT(*) AS n FROM vessels GROUP BY GROUPING SETS ((kind), (tons), ()) ORDER BY kind, tons, n
SELECT kind, SUM(tons) AS s, GROUPING(kind) AS g FROM vessels GROUP BY ROLLUP (kind) ORDER BY g, kind
SELECT STDDEV(tons) AS a, VAR_POP(tons) AS b, CORR(id, tons) AS c, quantile_cont(tons, 0.5) AS q, quantile_disc(tons, 0.5) AS d FROM vessels
SELECT substr('quayside', -4, 2) AS a, substr('quayside', 0, 3) AS b, substr('quay', 2) AS c, left('quay', -1) AS d, right('quay', 2) AS e, 'quay'[2] AS f, 'quay'[2:3] AS g
SELECT lpad('7', 3, '0') AS a, rpad('quay', 2, 'x') AS b, repeat('ab', 2) AS c, reverse('abc') AS d, strpos('banana', 'n') AS e, instr('banana', 'x') AS f
SELECT trim('  x ') AS a, ltrim('xxa', 'x') AS b, rtrim('axx', 'x') AS c, replace('banana', 'an', '') AS d, upper('ä') AS e, length('Fähre') AS f
SELECT split_part('a.b.c', '.', 2) AS a, split_part('a.b.c', '.', 9) AS b, split_part('a.b.c', '.', -1) AS c, starts_with('quay', 'qu') AS d, contains('quay', 'ua') AS e, ascii('A') AS f, chr(65) AS g
SELECT regexp_matches('TW-001', '^TW') AS a, regexp_replace('a1b2', '[0-9]', 'x') AS b, regexp_replace('a1b2', '[0-9]', 'x', 'g') AS c, regexp_extract('TW-001', '[0-9]+') AS d
SELECT 'quay' SIMILAR TO 'q.*' AS a, 'Quay' ILIKE 'q%' AS b, 'quay' LIKE '%Y' AS c, 'a%b' LIKE 'a\%b' ESCAPE '\' AS d, 'quay' GLOB 'q*' AS e
SELECT ROUND(2.5) AS a, ROUND(-2.5) AS b, ROUND(2.675, 2) AS c, ROUND(1234, -2) AS d, TRUNC(2.9) AS e, CEIL(2.1) AS f, FLOOR(-2.1) AS g, SIGN(-3) AS h
SELECT 2.5::INTEGER AS a, 3.5::INTEGER AS b, -2.5::INTEGER AS c, '12'::INTEGER AS d, 12::VARCHAR AS e, 1.0::VARCHAR AS f, TRUE::VARCHAR AS g, 't'::BOOLEAN AS h
SELECT TRY_CAST('x' AS INTEGER) AS a, CAST('1.5' AS DECIMAL(4,2)) AS b, CAST(1.555 AS DECIMAL(4,2)) AS c, CAST(1e20 AS VARCHAR) AS d, CAST(0.1 AS DOUBLE)::VARCHAR AS e
SELECT CAST('x' AS INTEGER)
SELECT DATE '2026-01-31' + 1 AS a, DATE '2026-01-31' + INTERVAL 1 MONTH AS b, DATE '2026-03-01' - DATE '2026-02-01' AS c, DATE '2026-01-31' - INTERVAL 1 DAY AS d
SELECT date_diff('day', DATE '2026-01-01', DATE '2026-02-01') AS a, date_diff('month', DATE '2026-01-31', DATE '2026-02-01') AS b, date_trunc('month', DATE '2026-02-14') AS c, date_part('year', DATE '2026-02-14') AS d
SELECT EXTRACT(YEAR FROM DATE '2026-02-14') AS a, year(DATE '2026-02-14') AS b, dayofweek(DATE '2026-02-14') AS c, last_day(DATE '2024-02-10') AS d, monthname(DATE '2026-02-14') AS e, EXTRACT(DOW FROM DATE '2026-02-15') AS f
SELECT strftime(DATE '2026-02-14', '%d.%m.%Y') AS a, strptime('14.02.2026', '%d.%m.%Y') AS b, TIMESTAMP '2026-02-14 10:20:30.5' AS c, make_date(2026, 2, 14) AS d
SELECT id FROM crossings WHERE day BETWEEN DATE '2024-02-29' AND DATE '2024-03-01' ORDER BY id
SELECT coalesce(NULL, 2) AS a, nullif(1, 1) AS b, ifnull(NULL, 'x') AS c, greatest(1, NULL, 3) AS d, least(2, 1) AS e, if(1 > 2, 'y', 'n') AS f
SELECT NULL = NULL AS a, NULL IS NULL AS b, NULL AND FALSE AS c, NULL OR TRUE AS d, NOT NULL::BOOLEAN AS e, 1 IN (2, NULL) AS f
SELECT 'a' < 'B' AS a, 'a' = 'A' AS b, 'a ' = 'a' AS c, '' = '' AS d, 'Z' < 'a' AS e, 'ä' > 'z' AS f
SELECT v.id, c.id AS c FROM vessels v SEMI JOIN crossings c ON c.vessel_id = v.id ORDER BY v.id
SELECT v.id FROM vessels v SEMI JOIN crossings c ON c.vessel_id = v.id ORDER BY v.id
SELECT v.id FROM vessels v ANTI JOIN crossings c ON c.vessel_id = v.id ORDER BY v.id
SELECT v.id, x.fare FROM vessels v LEFT JOIN LATERAL (SELECT fare FROM crossings c WHERE c.vessel_id = v.id ORDER BY id DESC LIMIT 1) x ON TRUE ORDER BY v.id
SELECT id, LAG(tons, 1, 0) OVER (ORDER BY id) AS a, LAST_VALUE(tons IGNORE NULLS) OVER (ORDER BY id ROWS BETWEEN UNBOUNDED PRECEDING AND CURRENT ROW) AS b, SUM(tons) OVER (ORDER BY id ROWS 1 PRECEDING) AS c FROM vessels ORDER BY id
SELECT id, COUNT(*) OVER (ORDER BY day RANGE BETWEEN INTERVAL 1 DAY PRECEDING AND CURRENT ROW) AS n FROM crossings ORDER BY id
SELECT id FROM vessels UNION SELECT landing_id FROM crossings ORDER BY id NULLS FIRST
SELECT id, name FROM vessels UNION ALL BY NAME SELECT name, id FROM landings WHERE id = 1 ORDER BY id, name
SELECT tons FROM vessels INTERSECT ALL SELECT tons FROM vessels ORDER BY tons
WITH RECURSIVE down AS (SELECT id, name, [name] AS path FROM waterways WHERE parent_id IS NULL UNION ALL SELECT w.id, w.name, list_append(d.path, w.name) FROM down d JOIN waterways w ON w.parent_id = d.id) SELECT id, path FROM down ORDER BY id
SELECT x, y FROM (VALUES (1, 'a'), (2, 'b')) AS t(x, y) ORDER BY x DESC
SELECT generate_series AS g FROM generate_series(1, 5, 2) ORDER BY g
SELECT range AS r FROM range(3) ORDER BY r
SELECT nowhere FROM vessels
SELECT id FROM nothing_here
SELECT id FROM vessels v JOIN landings l ON v.id = l.id
SELECT kind, name FROM vessels GROUP BY kind
SELECT (SELECT id FROM vessels) AS x
SELECT 2147483647 + 1 AS a, 9223372036854775807 + 1 AS b
SELECT CAST(300 AS TINYINT)
SELECT REGEXP_EXTRACT('10x.50', 'x*') AS a, REGEXP_REPLACE('10x.50', 'x*', '-', 'g') AS b, REGEXP_MATCHES('10x.50', 'x*') AS c
SELECT REGEXP_EXTRACT('abcd', '(a|b)(c|bcd)') AS a, REGEXP_REPLACE('abcd', '(a|b)(c|bcd)', '-', 'g') AS b, REGEXP_MATCHES('abcd', '(a|b)(c|bcd)') AS c
SELECT REGEXP_EXTRACT('aXbXc', 'a.*?X') AS a, REGEXP_REPLACE('aXbXc', 'a.*?X', '-', 'g') AS b, REGEXP_MATCHES('aXbXc', 'a.*?X') AS c
SELECT REGEXP_EXTRACT('quay', '$') AS a, REGEXP_REPLACE('quay', '$', '-', 'g') AS b, REGEXP_MATCHES('quay', '$') AS c
SELECT REGEXP_EXTRACT('quay', '^') AS a, REGEXP_REPLACE('quay', '^', '-', 'g') AS b, REGEXP_MATCHES('quay', '^') AS c
SELECT REGEXP_EXTRACT('a' || CHR(10) || 'b', '^b') AS a, REGEXP_REPLACE('a' || CHR(10) || 'b', '^b', '-', 'g') AS b, REGEXP_MATCHES('a' || CHR(10) || 'b', '^b') AS c
SELECT REGEXP_EXTRACT('a' || CHR(10) || 'b', 'a.b') AS a, REGEXP_REPLACE('a' || CHR(10) || 'b', 'a.b', '-', 'g') AS b, REGEXP_MATCHES('a' || CHR(10) || 'b', 'a.b') AS c
SELECT REGEXP_EXTRACT('abab', '(ab)*') AS a, REGEXP_REPLACE('abab', '(ab)*', '-', 'g') AS b, REGEXP_MATCHES('abab', '(ab)*') AS c
SELECT REGEXP_EXTRACT('aaa', 'a{0,2}') AS a, REGEXP_REPLACE('aaa', 'a{0,2}', '-', 'g') AS b, REGEXP_MATCHES('aaa', 'a{0,2}') AS c
SELECT REGEXP_EXTRACT('a.b', '[.]') AS a, REGEXP_REPLACE('a.b', '[.]', '-', 'g') AS b, REGEXP_MATCHES('a.b', '[.]') AS c
SELECT REGEXP_EXTRACT('ÄÖ', 'ä') AS a, REGEXP_REPLACE('ÄÖ', 'ä', '-', 'g') AS b, REGEXP_MATCHES('ÄÖ', 'ä') AS c
SELECT REGEXP_EXTRACT('Été 7', '\w+') AS a, REGEXP_REPLACE('Été 7', '\w+', '-', 'g') AS b, REGEXP_MATCHES('Été 7', '\w+') AS c
SELECT REGEXP_EXTRACT('Été 7', '[[:alpha:]]+') AS a, REGEXP_REPLACE('Été 7', '[[:alpha:]]+', '-', 'g') AS b, REGEXP_MATCHES('Été 7', '[[:alpha:]]+') AS c
SELECT REGEXP_EXTRACT('Été', '[[:upper:]]') AS a, REGEXP_REPLACE('Été', '[[:upper:]]', '-', 'g') AS b, REGEXP_MATCHES('Été', '[[:upper:]]') AS c
SELECT REGEXP_EXTRACT('tab' || CHR(9) || 'here', '\s') AS a, REGEXP_REPLACE('tab' || CHR(9) || 'here', '\s', '-', 'g') AS b, REGEXP_MATCHES('tab' || CHR(9) || 'here', '\s') AS c
SELECT REGEXP_EXTRACT('٣3', '\d') AS a, REGEXP_REPLACE('٣3', '\d', '-', 'g') AS b, REGEXP_MATCHES('٣3', '\d') AS c
SELECT REGEXP_EXTRACT('aab', 'a*?b') AS a, REGEXP_REPLACE('aab', 'a*?b', '-', 'g') AS b, REGEXP_MATCHES('aab', 'a*?b') AS c
SELECT REGEXP_EXTRACT('ab' || CHR(10) || '', 'b$') AS a, REGEXP_REPLACE('ab' || CHR(10) || '', 'b$', '-', 'g') AS b, REGEXP_MATCHES('ab' || CHR(10) || '', 'b$') AS c
SELECT REGEXP_EXTRACT('XyX', 'x') AS a, REGEXP_REPLACE('XyX', 'x', '-', 'g') AS b, REGEXP_MATCHES('XyX', 'x') AS c
SELECT REGEXP_EXTRACT('a-b', '[a\-z]') AS a, REGEXP_REPLACE('a-b', '[a\-z]', '-', 'g') AS b, REGEXP_MATCHES('a-b', '[a\-z]') AS c
SELECT REGEXP_EXTRACT('', 'x*') AS a, REGEXP_REPLACE('', 'x*', '-', 'g') AS b, REGEXP_MATCHES('', 'x*') AS c
SELECT REGEXP_EXTRACT('quay side', '(\w+) (\w+)') AS a, REGEXP_REPLACE('quay side', '(\w+) (\w+)', '-', 'g') AS b, REGEXP_MATCHES('quay side', '(\w+) (\w+)') AS c
SELECT REGEXP_EXTRACT('a&&b', '[a&&b]') AS a, REGEXP_REPLACE('a&&b', '[a&&b]', '-', 'g') AS b, REGEXP_MATCHES('a&&b', '[a&&b]') AS c
SELECT REGEXP_REPLACE('xay', '(a)', '<\0>', 'g') AS a, REGEXP_REPLACE('xay', '(a)', '<&>', 'g') AS b, REGEXP_REPLACE('xay', '(a)', 'a$b', 'g') AS c, REGEXP_REPLACE('xay', '(a)', 'a\\b', 'g') AS d, REGEXP_REPLACE('xay', '(a)', '<\1>', 'g') AS e, REGEXP_REPLACE('xay', '(a)', '<\10>', 'g') AS f
