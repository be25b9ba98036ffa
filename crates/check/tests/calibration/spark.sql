-- What Spark has of its own.
SELECT 7 / 2 AS a, 7 div 2 AS b, -7 div 2 AS c, 7 % 3 AS d, -7 % 3 AS e, 7.5 % 2 AS f, mod(-7, 3) AS g
SELECT 7 / 0 AS a
SELECT 7 % 0 AS a
SELECT 10.5 / 3 AS a, 1.5 * 1.5 AS b, 1.50 + 1 AS c, 10.0 / 3 AS d, 1.5 - 2.25 AS e, 1e0 / 3 AS f, 100 * 1.5 AS g
SELECT '5' + 3 AS a, '10' < 9 AS b, 1 = '1' AS c, '5' * '2' AS d
SELECT TRUE = 1 AS a
SELECT 'a' || 1 AS a, 'a' || NULL AS b, concat('a', 1) AS c, concat('a', NULL) AS d, concat_ws('-', 'a', NULL, 'b') AS e
SELECT 'it\'s' AS a, 'it''s' AS b, "x" AS c, r'\d' AS d, 'a\tb' AS e, 'A\u0042' AS f
SELECT name FROM vessels ORDER BY tons DESC, id LIMIT 2
SELECT name FROM vessels ORDER BY tons, id LIMIT 2 OFFSET 1
SELECT id, tons FROM vessels ORDER BY tons NULLS LAST, id
SELECT id, tons AS t, t + 1 AS u FROM vessels ORDER BY id
SELECT kind, COUNT(*) AS n FROM vessels GROUP BY ALL ORDER BY n DESC, kind
SELECT * EXCEPT (tags, permit) FROM vessels ORDER BY id
SELECT array(1, 2, 3) AS a, array() AS b, array(1, NULL) AS c, array(1, 2, 3)[0] AS e, size(array(1, 2)) AS f
SELECT array(1, 2)[5] AS a
SELECT element_at(array(1, 2), -1) AS a, array_contains(array(1, 2), 2) AS b, array_join(array('a', NULL, 'b'), ',') AS c, sort_array(array(3, 1, 2)) AS d, split('a,b,,c', ',') AS e
SELECT (1, NULL) = (1, NULL) AS a, (1, NULL) < (1, 2) AS b, (1, 2) < (1, 3) AS c, array(1, NULL) = array(1, NULL) AS d
SELECT (1, 2) IN ((1, 2), (3, 4)) AS a
SELECT id FROM vessels WHERE (kind, tons) IN (SELECT kind, tons FROM vessels WHERE id < 3) ORDER BY id
SELECT v.id, t.tag FROM vessels v LATERAL VIEW explode(split(v.tags, ',')) t AS tag ORDER BY v.id, t.tag
SELECT v.id, t.tag FROM vessels v LATERAL VIEW OUTER explode(split(v.tags, ',')) t AS tag ORDER BY v.id, t.tag
SELECT v.id, t.at, t.tag FROM vessels v LATERAL VIEW posexplode(split(v.tags, ',')) t AS at, tag ORDER BY v.id, t.at
SELECT kind, array_join(sort_array(collect_list(name)), ';') AS names FROM vessels GROUP BY kind ORDER BY kind
SELECT COUNT(*) FILTER (WHERE tons > 30) AS heavy, SUM(tons) AS s, AVG(tons) AS a, MAX(name) AS m, COUNT(DISTINCT kind) AS k FROM vessels
SELECT max_by(name, tons * 10 - id) AS a, min_by(name, tons * 10 + id) AS b, bool_or(tons > 100) AS c, every(id > 0) AS d FROM vessels
SELECT kind, tons, COUNT(*) AS n FROM vessels GROUP BY GROUPING SETS ((kind), (tons), ()) ORDER BY kind, tons, n
SELECT kind, SUM(tons) AS s, GROUPING(kind) AS g FROM vessels GROUP BY ROLLUP (kind) ORDER BY g, kind
SELECT kind, SUM(tons) AS s FROM vessels GROUP BY kind WITH CUBE ORDER BY kind, s
SELECT STDDEV(tons) AS a, VAR_POP(tons) AS b, CORR(id, tons) AS c, percentile(tons, 0.5) AS p, median(tons) AS m FROM vessels
SELECT SUM(fare) AS s, AVG(fare) AS a, MIN(fare) AS m, COUNT(fare) AS n, SUM(passengers) AS p, AVG(passengers) AS ap FROM crossings
SELECT substr('quayside', -4, 2) AS a, substr('quayside', 0, 3) AS b, substring('quay', 2) AS c, left('quay', 2) AS d, right('quay', 2) AS e, substring('quay', 2, 0) AS f
SELECT lpad('7', 3, '0') AS a, rpad('quay', 2, 'x') AS b, repeat('ab', 2) AS c, reverse('abc') AS d, instr('banana', 'n') AS e, locate('a', 'banana', 3) AS f, position('n' IN 'banana') AS g
SELECT trim('  x ') AS a, ltrim('  x ') AS b, trim(BOTH 'x' FROM 'xxaxx') AS c, trim(LEADING 'x' FROM 'xxax') AS d, replace('banana', 'an', '') AS e, translate('abc', 'ab', 'x') AS f
SELECT upper('ä') AS a, initcap('old mill') AS b, length('Fähre') AS c, char_length('x ') AS d, ascii('A') AS e, chr(65) AS f, concat('[', space(2), ']') AS g
SELECT split_part('a.b.c', '.', 2) AS a, split_part('a.b.c', '.', 9) AS b, substring_index('a.b.c', '.', 2) AS c, substring_index('a.b.c', '.', -1) AS d, startswith('quay', 'qu') AS e, contains('quay', 'ua') AS f
SELECT 'TW-001' RLIKE '^TW' AS a, regexp_replace('a1b2', '[0-9]', 'x') AS b, regexp_extract('TW-001', '([0-9]+)', 1) AS c, regexp_like('abc', 'b') AS d
SELECT 'Quay' ILIKE 'q%' AS a, 'quay' LIKE '%Y' AS b, 'a%b' LIKE 'a\%b' AS c, 'a%b' LIKE 'a/%b' ESCAPE '/' AS d, 'quay' LIKE ANY ('x%', 'q%') AS e
SELECT ROUND(2.5) AS a, ROUND(-2.5) AS b, ROUND(2.345, 2) AS c, ROUND(1234, -2) AS d, CEIL(2.1) AS e, FLOOR(-2.1) AS f, SIGN(-3) AS h, ABS(-2.5) AS i
SELECT CAST(2.5 AS INT) AS a, CAST(-2.9 AS INT) AS b, CAST('12' AS INT) AS c, CAST(12 AS STRING) AS d, CAST(1.50 AS STRING) AS e, CAST(TRUE AS STRING) AS f, CAST('t' AS BOOLEAN) AS g, CAST(1e0 AS STRING) AS h
SELECT CAST('x' AS INT) AS a
SELECT CAST('1.5' AS DECIMAL(4,2)) AS a, CAST(1.555 AS DECIMAL(4,2)) AS b, TRY_CAST('x' AS INT) AS c, CAST('abc' AS VARCHAR(2)) AS d
SELECT CAST(300 AS TINYINT) AS a
SELECT 2147483647 + 1 AS a
SELECT CAST('1234.5' AS DECIMAL(4,2)) AS a
SELECT DATE '2026-01-31' + 1 AS a, DATE '2026-01-31' + INTERVAL 1 MONTH AS b, datediff(DATE '2026-03-01', DATE '2026-02-01') AS c, date_add(DATE '2026-01-31', 1) AS d, add_months(DATE '2026-01-31', 1) AS e, date_sub(DATE '2026-01-31', 1) AS f
SELECT months_between(DATE '2026-03-31', DATE '2026-02-28') AS a, trunc(DATE '2026-02-14', 'MM') AS b, date_trunc('MONTH', TIMESTAMP '2026-02-14 10:00:00') AS c, last_day(DATE '2024-02-10') AS d
SELECT year(DATE '2026-02-14') AS a, month(DATE '2026-02-14') AS b, day(DATE '2026-02-14') AS c, dayofweek(DATE '2026-02-14') AS d, weekday(DATE '2026-02-14') AS e, quarter(DATE '2026-02-14') AS f, EXTRACT(YEAR FROM DATE '2026-02-14') AS g
SELECT date_format(DATE '2026-02-04', 'dd.MM.yyyy') AS a, date_format(TIMESTAMP '2026-02-04 14:07:09', 'HH:mm:ss') AS b, to_date('04.02.2026', 'dd.MM.yyyy') AS c, to_date('2026-02-04') AS d
SELECT id FROM crossings WHERE day BETWEEN DATE '2024-02-29' AND DATE '2024-03-01' ORDER BY id
SELECT coalesce(NULL, 2) AS a, nullif(1, 1) AS b, ifnull(NULL, 'x') AS c, nvl(NULL, 1) AS d, nvl2(NULL, 1, 2) AS e, greatest(1, NULL, 3) AS f, least(2, 1) AS g, if(1 > 2, 'y', 'n') AS h, decode(2, 1, 'a', 2, 'b', 'c') AS i
SELECT NULL = NULL AS a, NULL <=> NULL AS b, 1 <=> NULL AS c, NULL AND FALSE AS d, NULL OR TRUE AS e, 1 IN (2, NULL) AS f
SELECT 'a' < 'B' AS a, 'a' = 'A' AS b, 'a ' = 'a' AS c, 'Z' < 'a' AS d, 'ä' > 'z' AS e
SELECT v.id FROM vessels v LEFT SEMI JOIN crossings c ON c.vessel_id = v.id ORDER BY v.id
SELECT v.id FROM vessels v LEFT ANTI JOIN crossings c ON c.vessel_id = v.id ORDER BY v.id
SELECT v.id, x.m FROM vessels v LEFT JOIN LATERAL (SELECT MAX(fare) AS m FROM crossings c WHERE c.vessel_id = v.id) x ORDER BY v.id
SELECT id, LAG(tons, 1, 0) OVER (ORDER BY id) AS a, SUM(tons) OVER (ORDER BY id ROWS BETWEEN 1 PRECEDING AND CURRENT ROW) AS b, LAST_VALUE(tons) IGNORE NULLS OVER (ORDER BY id ROWS BETWEEN UNBOUNDED PRECEDING AND CURRENT ROW) AS c FROM vessels ORDER BY id
SELECT id, RANK() OVER (ORDER BY tons DESC) AS r, PERCENT_RANK() OVER (ORDER BY id) AS p, NTILE(2) OVER (ORDER BY id) AS t FROM vessels ORDER BY id
SELECT id FROM vessels UNION SELECT landing_id FROM crossings ORDER BY id
SELECT id FROM vessels MINUS SELECT landing_id FROM crossings ORDER BY id
SELECT tons FROM vessels INTERSECT ALL SELECT tons FROM vessels ORDER BY tons
SELECT * FROM VALUES (1, 'a'), (2, 'b') AS t(x, y) ORDER BY x DESC
SELECT id FROM range(1, 4) ORDER BY id
SELECT * FROM (SELECT kind, tons FROM vessels) PIVOT (SUM(tons) FOR kind IN ('ferry', 'barge'))
SELECT nowhere FROM vessels
SELECT id FROM nothing_here
SELECT id FROM vessels v JOIN landings l ON v.id = l.id
SELECT kind, name FROM vessels GROUP BY kind
SELECT (SELECT id FROM vessels) AS x
SELECT id FROM vessels UNION SELECT id, name FROM vessels
SELECT REGEXP_SUBSTR('10x.50', 'x*') AS a, REGEXP_REPLACE('10x.50', 'x*', '-') AS b, '10x.50' RLIKE 'x*' AS c
SELECT REGEXP_SUBSTR('abcd', '(a|b)(c|bcd)') AS a, REGEXP_REPLACE('abcd', '(a|b)(c|bcd)', '-') AS b, 'abcd' RLIKE '(a|b)(c|bcd)' AS c
SELECT REGEXP_SUBSTR('aXbXc', 'a.*?X') AS a, REGEXP_REPLACE('aXbXc', 'a.*?X', '-') AS b, 'aXbXc' RLIKE 'a.*?X' AS c
SELECT REGEXP_SUBSTR('quay', '$') AS a, REGEXP_REPLACE('quay', '$', '-') AS b, 'quay' RLIKE '$' AS c
SELECT REGEXP_SUBSTR('quay', '^') AS a, REGEXP_REPLACE('quay', '^', '-') AS b, 'quay' RLIKE '^' AS c
SELECT REGEXP_SUBSTR('a\nb', '^b') AS a, REGEXP_REPLACE('a\nb', '^b', '-') AS b, 'a\nb' RLIKE '^b' AS c
SELECT REGEXP_SUBSTR('a\nb', 'a.b') AS a, REGEXP_REPLACE('a\nb', 'a.b', '-') AS b, 'a\nb' RLIKE 'a.b' AS c
SELECT REGEXP_SUBSTR('abab', '(ab)*') AS a, REGEXP_REPLACE('abab', '(ab)*', '-') AS b, 'abab' RLIKE '(ab)*' AS c
SELECT REGEXP_SUBSTR('aaa', 'a{0,2}') AS a, REGEXP_REPLACE('aaa', 'a{0,2}', '-') AS b, 'aaa' RLIKE 'a{0,2}' AS c
SELECT REGEXP_SUBSTR('a.b', '[.]') AS a, REGEXP_REPLACE('a.b', '[.]', '-') AS b, 'a.b' RLIKE '[.]' AS c
SELECT REGEXP_SUBSTR('ÄÖ', 'ä') AS a, REGEXP_REPLACE('ÄÖ', 'ä', '-') AS b, 'ÄÖ' RLIKE 'ä' AS c
SELECT REGEXP_SUBSTR('Été 7', '\\w+') AS a, REGEXP_REPLACE('Été 7', '\\w+', '-') AS b, 'Été 7' RLIKE '\\w+' AS c
SELECT REGEXP_SUBSTR('Été 7', '[\\p{Alpha}]+') AS a, REGEXP_REPLACE('Été 7', '[\\p{Alpha}]+', '-') AS b, 'Été 7' RLIKE '[\\p{Alpha}]+' AS c
SELECT REGEXP_SUBSTR('Été', '[\\p{Upper}]') AS a, REGEXP_REPLACE('Été', '[\\p{Upper}]', '-') AS b, 'Été' RLIKE '[\\p{Upper}]' AS c
SELECT REGEXP_SUBSTR('tab\there', '\\s') AS a, REGEXP_REPLACE('tab\there', '\\s', '-') AS b, 'tab\there' RLIKE '\\s' AS c
SELECT REGEXP_SUBSTR('٣3', '\\d') AS a, REGEXP_REPLACE('٣3', '\\d', '-') AS b, '٣3' RLIKE '\\d' AS c
SELECT REGEXP_SUBSTR('aab', 'a*?b') AS a, REGEXP_REPLACE('aab', 'a*?b', '-') AS b, 'aab' RLIKE 'a*?b' AS c
SELECT REGEXP_SUBSTR('ab\n', 'b$') AS a, REGEXP_REPLACE('ab\n', 'b$', '-') AS b, 'ab\n' RLIKE 'b$' AS c
SELECT REGEXP_SUBSTR('XyX', 'x') AS a, REGEXP_REPLACE('XyX', 'x', '-') AS b, 'XyX' RLIKE 'x' AS c
SELECT REGEXP_SUBSTR('a-b', '[a\\-z]') AS a, REGEXP_REPLACE('a-b', '[a\\-z]', '-') AS b, 'a-b' RLIKE '[a\\-z]' AS c
SELECT REGEXP_SUBSTR('', 'x*') AS a, REGEXP_REPLACE('', 'x*', '-') AS b, '' RLIKE 'x*' AS c
SELECT REGEXP_SUBSTR('quay side', '(\\w+) (\\w+)') AS a, REGEXP_REPLACE('quay side', '(\\w+) (\\w+)', '-') AS b, 'quay side' RLIKE '(\\w+) (\\w+)' AS c
SELECT REGEXP_REPLACE('xay', '(a)', '<\\0>') AS a, REGEXP_REPLACE('xay', '(a)', '<$0>') AS b, REGEXP_REPLACE('xay', '(a)', '<\\&>') AS c, REGEXP_REPLACE('xay', '(a)', 'a\\b') AS d, REGEXP_REPLACE('xay', '(a)', 'a\\\\b') AS e, REGEXP_REPLACE('xay', '(a)', '<\\1>') AS f, REGEXP_REPLACE('xay', '(a)', '\\$1') AS g, REGEXP_REPLACE('xay', '(a)', '<$10>') AS h
