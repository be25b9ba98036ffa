-- What MariaDB has of its own.
SELECT id, name FROM vessels ORDER BY tons DESC, id LIMIT 2, 3
SELECT id FROM vessels ORDER BY id LIMIT 3 OFFSET 1
SELECT 7 DIV 2 AS a, -7 DIV 2 AS b, 7 MOD 3 AS c, -7 MOD 3 AS d, 7 % -3 AS e, 7.5 DIV 2 AS f, 7.5 % 2 AS g
SELECT 1 / 3 AS a, 2 / 3 AS b, 10.50 / 3 AS c, 1 / 3 * 3 AS d, 1e0 / 3 AS e, 5 / 0 AS f, 5 % 0 AS g, 5 DIV 0 AS h
SELECT 1 / 3 = 0.3333 AS a, 14 / 3 * 3 = 14 AS b, 2 / 3 > 0.6666 AS c
SELECT 10 / 4 / 3 AS a, 1.25 * 1.25 AS b, 1.5 + 1 / 3 AS c, (1 + 2) / 4 - 0.1 AS d
SELECT '5' + 3 AS a, '5' * '2' AS b, '5.5' + 1 AS c, 'a' = 0 AS d, '10' < 9 AS e, '10' < '9' AS f
SELECT 1 <=> 1 AS a, NULL <=> NULL AS b, 1 <=> NULL AS c, NULL = NULL AS d
SELECT 1 AND NULL AS a, 0 AND NULL AS b, 1 OR NULL AS c, 0 OR NULL AS d, NOT NULL AS e, 1 XOR 1 AS f, 1 XOR NULL AS g
SELECT 1 && 0 AS a, 0 || 1 AS b, !1 AS c, NOT 2 AS d, !0 + 1 AS e
SELECT 5 & 3 AS a, 5 | 3 AS b, 5 ^ 3 AS c, 1 << 4 AS d, 256 >> 2 AS e, ~0 AS f
SELECT 'a' = 'A' AS a, 'a' < 'B' AS b, 'a ' = 'a' AS c, 'a' LIKE 'A' AS d, 'a ' LIKE 'a' AS e, BINARY 'a' = 'A' AS f
SELECT 'é' = 'e' AS a, 'ß' = 's' AS b, 'ä' < 'b' AS c, 'Z' < 'a' AS d
SELECT name FROM vessels WHERE name = 'HERON' ORDER BY id
SELECT COUNT(DISTINCT name) AS n, MIN(name) AS a, MAX(name) AS b FROM vessels
SELECT UPPER(name) AS u, COUNT(*) AS n FROM vessels GROUP BY UPPER(name) ORDER BY u
SELECT name, COUNT(*) AS n FROM landings GROUP BY name ORDER BY n DESC, name LIMIT 2
SELECT id FROM landings WHERE name = 'staithe' ORDER BY id
SELECT kind, name FROM vessels ORDER BY kind, name DESC, id
SELECT kind, name FROM vessels ORDER BY kind DESC, id
SELECT CONCAT('a', 1, 'b') AS a, CONCAT('a', NULL) AS b, CONCAT_WS(',', 'a', NULL, 'b') AS c, CONCAT_WS(NULL, 'a') AS d, CONCAT(1.50) AS e, CONCAT(1 / 3) AS f
SELECT LENGTH('Fähre') AS a, CHAR_LENGTH('Fähre') AS b, LENGTH('') AS c, REVERSE('abc') AS d, REPEAT('ab', 3) AS e, SPACE(2) AS f
SELECT SUBSTRING('quayside', 3) AS a, SUBSTRING('quayside', -4, 2) AS b, SUBSTRING('quayside', 0, 3) AS c, SUBSTRING('quay', 2, 0) AS d, LEFT('quay', 2) AS e, RIGHT('quay', 2) AS f
SELECT LOCATE('a', 'banana') AS a, LOCATE('a', 'banana', 3) AS b, INSTR('banana', 'N') AS c, POSITION('x' IN 'quay') AS d, LOCATE('', 'x') AS e
SELECT LPAD('7', 3, '0') AS a, RPAD('7', 3, 'ab') AS b, LPAD('quay', 2, 'x') AS c, LPAD('a', 3, '') AS d
SELECT TRIM('  x ') AS a, TRIM(LEADING 'x' FROM 'xxax') AS b, TRIM(BOTH 'ab' FROM 'ababcab') AS c, LTRIM(' x ') AS d, RTRIM(' x ') AS e
SELECT REPLACE('banana', 'an', 'x') AS a, INSERT('quay', 2, 2, 'XY') AS b, FIELD('b', 'a', 'b') AS c, ELT(2, 'a', 'b') AS d, FIND_IN_SET('b', 'a,b,c') AS e
SELECT SUBSTRING_INDEX('a.b.c', '.', 2) AS a, SUBSTRING_INDEX('a.b.c', '.', -1) AS b, SUBSTRING_INDEX('abc', '.', 1) AS c
SELECT STRCMP('a', 'b') AS a, STRCMP('b', 'a') AS b, STRCMP('a', 'A') AS c, ASCII('A') AS d, CHAR_LENGTH('é') AS e, HEX('A') AS f, HEX(255) AS g
SELECT LOWER('ÄB') AS a, UPPER('äb') AS b, QUOTE('it''s') AS c, FORMAT(1234567.891, 2) AS d
SELECT IFNULL(NULL, 2) AS a, NULLIF(1, 1) AS b, COALESCE(NULL, 'x') AS c, IF(1 > 2, 'y', 'n') AS d, IF(NULL, 1, 2) AS e
SELECT GREATEST(1, 3, 2) AS a, LEAST(1, NULL) AS b, GREATEST('a', 'b') AS c, GREATEST(1, '2') AS d
SELECT ROUND(2.5) AS a, ROUND(-2.5) AS b, ROUND(1.255, 2) AS c, ROUND(1234, -2) AS d, TRUNCATE(1.999, 1) AS e, TRUNCATE(-1.9, 0) AS f, CEILING(1.2) AS g, FLOOR(-1.2) AS h
SELECT ABS(-5) AS a, SIGN(-0.5) AS b, POW(2, 10) AS c, SQRT(16) AS d, MOD(10, 3) AS e, MOD(-10, 3) AS f, EXP(0) AS g, LN(1) AS h
SELECT CAST('12' AS SIGNED) AS a, CAST(2.5 AS SIGNED) AS b, CAST('3.7' AS SIGNED) AS c, CAST('2.555' AS DECIMAL(5,2)) AS d, CAST(12 AS CHAR) AS e, CAST('abcdef' AS CHAR(3)) AS f
SELECT CAST('2026-01-31' AS DATE) AS a, CAST('2026-01-31 10:20:30' AS DATETIME) AS b, DATE('2026-01-31 10:20:30') AS c, TIME('10:20:30') AS d
SELECT DATE '2026-01-31' + INTERVAL 1 MONTH AS a, DATE '2024-02-29' + INTERVAL 1 YEAR AS b, DATE '2026-03-01' - INTERVAL 1 DAY AS c, TIMESTAMP '2026-01-31 23:59:59' + INTERVAL 1 SECOND AS d
SELECT DATE_ADD('2026-01-31', INTERVAL 1 DAY) AS a, DATE_SUB('2026-01-31', INTERVAL 1 WEEK) AS b, DATEDIFF('2026-03-01', '2026-02-01') AS c, TIMESTAMPDIFF(MONTH, '2026-01-31', '2026-02-28') AS d
SELECT YEAR('2026-01-31') AS a, MONTH('2026-01-31') AS b, DAY('2026-01-31') AS c, QUARTER('2026-05-01') AS d, DAYOFWEEK('2026-01-31') AS e, WEEKDAY('2026-01-31') AS f, DAYOFYEAR('2026-02-01') AS g, LAST_DAY('2024-02-10') AS h
SELECT EXTRACT(YEAR FROM '2026-01-31') AS a, EXTRACT(MONTH FROM DATE '2026-01-31') AS b, HOUR('10:20:30') AS c, MINUTE('10:20:30') AS d, SECOND('10:20:30') AS e
SELECT DATE_FORMAT('2026-01-05', '%d.%m.%Y') AS a, DATE_FORMAT('2026-01-05 14:07:09', '%H:%i:%s %p %h') AS b, DATE_FORMAT('2026-01-05', '%W %M %e %j') AS c, STR_TO_DATE('05.01.2026', '%d.%m.%Y') AS d
SELECT id FROM crossings WHERE day >= '2024-02-29' AND day < '2024-03-02' ORDER BY id
SELECT id, day + INTERVAL 1 MONTH AS a, DAYNAME(day) AS b FROM crossings ORDER BY id
SELECT kind, GROUP_CONCAT(name ORDER BY id SEPARATOR ';') AS names, COUNT(*) AS n FROM vessels GROUP BY kind ORDER BY kind
SELECT GROUP_CONCAT(DISTINCT kind ORDER BY kind DESC) AS k FROM vessels
SELECT kind, SUM(tons) AS s FROM vessels GROUP BY kind WITH ROLLUP
SELECT SUM(fare) AS s, AVG(fare) AS a, MIN(fare) AS lo, MAX(fare) AS hi, COUNT(*) AS n, SUM(passengers) AS p, AVG(passengers) AS ap FROM crossings
SELECT AVG(tons) AS a, STDDEV_POP(tons) AS s, VAR_SAMP(tons) AS v, BIT_OR(id) AS b FROM vessels
SELECT v.name, c.fare FROM vessels v LEFT JOIN crossings c ON c.vessel_id = v.id AND c.fare > 5 ORDER BY v.id, c.id
SELECT v.name, l.name AS l FROM vessels v STRAIGHT_JOIN landings l ON l.id = v.id ORDER BY v.id
SELECT l.id FROM landings l LEFT JOIN crossings c ON c.landing_id = l.id WHERE c.id IS NULL ORDER BY l.id
SELECT name FROM vessels v WHERE tons > ALL (SELECT berths * 10 FROM landings WHERE berths IS NOT NULL) ORDER BY id
SELECT id FROM vessels WHERE tons = ANY (SELECT tons FROM vessels WHERE kind = 'barge') ORDER BY id
SELECT id, kind, ROW_NUMBER() OVER (PARTITION BY kind ORDER BY tons DESC, id) AS n, LAG(tons) OVER (ORDER BY id) AS l, SUM(tons) OVER (PARTITION BY kind) AS s FROM vessels ORDER BY id
SELECT id, SUM(fare) OVER (ORDER BY day, id ROWS BETWEEN 1 PRECEDING AND CURRENT ROW) AS s, NTILE(3) OVER (ORDER BY id) AS t, FIRST_VALUE(fare) OVER (PARTITION BY vessel_id ORDER BY id) AS f FROM crossings ORDER BY id
SELECT id FROM vessels UNION SELECT landing_id FROM crossings ORDER BY id
SELECT id FROM vessels EXCEPT SELECT landing_id FROM crossings ORDER BY id
SELECT kind FROM vessels UNION ALL SELECT warden FROM remarks ORDER BY kind LIMIT 4
WITH RECURSIVE down AS (SELECT id, name, 0 AS depth, CAST(name AS CHAR(100)) AS path FROM waterways WHERE parent_id IS NULL UNION ALL SELECT w.id, w.name, d.depth + 1, CONCAT(d.path, '/', w.name) FROM down d JOIN waterways w ON w.parent_id = d.id) SELECT * FROM down ORDER BY path
SELECT id FROM vessels WHERE permit REGEXP '^tw-0+[12]$' ORDER BY id
SELECT id FROM vessels WHERE name RLIKE 'er' ORDER BY id
SELECT id FROM vessels WHERE permit LIKE 'X\_9\%' ORDER BY id
SELECT id FROM remarks WHERE note LIKE '%|%%' ESCAPE '|' ORDER BY id
SELECT JSON_EXTRACT('{"a": [1, 2]}', '$.a[1]') AS a, JSON_VALUE('{"a": "x"}', '$.a') AS b, JSON_UNQUOTE(JSON_EXTRACT('{"a": "x"}', '$.a')) AS c, JSON_LENGTH('[1,2,3]') AS d
SELECT @undefined AS u
SELECT nowhere FROM vessels
SELECT NOWHERE(1)
SELECT id FROM vessels WHERE id IN (SELECT id, name FROM landings)
SELECT (SELECT id FROM vessels) AS x
SELECT name FROM vessels GROUP BY 5
SELECT SUM(COUNT(*)) FROM vessels
SELECT id FROM vessels v JOIN landings l ON v.id = l.id
SELECT MAX(tons) AS m FROM vessels WHERE MAX(tons) > 3
SELECT 9223372036854775807 + 1 AS x
SELECT id FROM vessels UNION SELECT id, name FROM vessels
SELECT CASE kind WHEN 'FERRY' THEN 1 ELSE 0 END AS f FROM vessels ORDER BY id
SELECT 'Tern' IN ('tern', 'coot') AS a, 'x' IN ('y', NULL) AS b, 3 NOT IN (1, 2) AS c, 2 BETWEEN 3 AND 1 AS d
SELECT id, tags IS NULL AS a, tags = '' AS b, ISNULL(tags) AS c FROM vessels ORDER BY id
SELECT REGEXP_SUBSTR('10x.50', 'x*') AS a, REGEXP_REPLACE('10x.50', 'x*', '-') AS b, REGEXP_INSTR('10x.50', 'x*') AS c
SELECT REGEXP_SUBSTR('abcd', '(a|b)(c|bcd)') AS a, REGEXP_REPLACE('abcd', '(a|b)(c|bcd)', '-') AS b, REGEXP_INSTR('abcd', '(a|b)(c|bcd)') AS c
SELECT REGEXP_SUBSTR('aXbXc', 'a.*?X') AS a, REGEXP_REPLACE('aXbXc', 'a.*?X', '-') AS b, REGEXP_INSTR('aXbXc', 'a.*?X') AS c
SELECT REGEXP_SUBSTR('quay', '$') AS a, REGEXP_REPLACE('quay', '$', '-') AS b, REGEXP_INSTR('quay', '$') AS c
SELECT REGEXP_SUBSTR('quay', '^') AS a, REGEXP_REPLACE('quay', '^', '-') AS b, REGEXP_INSTR('quay', '^') AS c
SELECT REGEXP_SUBSTR('a\nb', '^b') AS a, REGEXP_REPLACE('a\nb', '^b', '-') AS b, REGEXP_INSTR('a\nb', '^b') AS c
SELECT REGEXP_SUBSTR('a\nb', 'a.b') AS a, REGEXP_REPLACE('a\nb', 'a.b', '-') AS b, REGEXP_INSTR('a\nb', 'a.b') AS c
SELECT REGEXP_SUBSTR('abab', '(ab)*') AS a, REGEXP_REPLACE('abab', '(ab)*', '-') AS b, REGEXP_INSTR('abab', '(ab)*') AS c
SELECT REGEXP_SUBSTR('aaa', 'a{0,2}') AS a, REGEXP_REPLACE('aaa', 'a{0,2}', '-') AS b, REGEXP_INSTR('aaa', 'a{0,2}') AS c
SELECT REGEXP_SUBSTR('a.b', '[.]') AS a, REGEXP_REPLACE('a.b', '[.]', '-') AS b, REGEXP_INSTR('a.b', '[.]') AS c
SELECT REGEXP_SUBSTR('ÄÖ', 'ä') AS a, REGEXP_REPLACE('ÄÖ', 'ä', '-') AS b, REGEXP_INSTR('ÄÖ', 'ä') AS c
SELECT REGEXP_SUBSTR('Été 7', '\\w+') AS a, REGEXP_REPLACE('Été 7', '\\w+', '-') AS b, REGEXP_INSTR('Été 7', '\\w+') AS c
SELECT REGEXP_SUBSTR('Été 7', '[[:alpha:]]+') AS a, REGEXP_REPLACE('Été 7', '[[:alpha:]]+', '-') AS b, REGEXP_INSTR('Été 7', '[[:alpha:]]+') AS c
SELECT REGEXP_SUBSTR('tab\there', '\\s') AS a, REGEXP_REPLACE('tab\there', '\\s', '-') AS b, REGEXP_INSTR('tab\there', '\\s') AS c
SELECT REGEXP_SUBSTR('٣3', '\\d') AS a, REGEXP_REPLACE('٣3', '\\d', '-') AS b, REGEXP_INSTR('٣3', '\\d') AS c
SELECT REGEXP_SUBSTR('aab', 'a*?b') AS a, REGEXP_REPLACE('aab', 'a*?b', '-') AS b, REGEXP_INSTR('aab', 'a*?b') AS c
SELECT REGEXP_SUBSTR('ab\n', 'b$') AS a, REGEXP_REPLACE('ab\n', 'b$', '-') AS b, REGEXP_INSTR('ab\n', 'b$') AS c
SELECT REGEXP_SUBSTR('XyX', 'x') AS a, REGEXP_REPLACE('XyX', 'x', '-') AS b, REGEXP_INSTR('XyX', 'x') AS c
SELECT REGEXP_SUBSTR('a-b', '[a\\-z]') AS a, REGEXP_REPLACE('a-b', '[a\\-z]', '-') AS b, REGEXP_INSTR('a-b', '[a\\-z]') AS c
SELECT REGEXP_SUBSTR('', 'x*') AS a, REGEXP_REPLACE('', 'x*', '-') AS b, REGEXP_INSTR('', 'x*') AS c
SELECT REGEXP_SUBSTR('quay side', '(\\w+) (\\w+)') AS a, REGEXP_REPLACE('quay side', '(\\w+) (\\w+)', '-') AS b, REGEXP_INSTR('quay side', '(\\w+) (\\w+)') AS c
SELECT REGEXP_SUBSTR('a&&b', '[a&&b]') AS a, REGEXP_REPLACE('a&&b', '[a&&b]', '-') AS b, REGEXP_INSTR('a&&b', '[a&&b]') AS c
SELECT REGEXP_REPLACE('xay', '(a)', '<\\0>') AS a, REGEXP_REPLACE('xay', '(a)', '<$0>') AS b, REGEXP_REPLACE('xay', '(a)', '<\\&>') AS c, REGEXP_REPLACE('xay', '(a)', 'a\\b') AS d, REGEXP_REPLACE('xay', '(a)', 'a\\\\b') AS e, REGEXP_REPLACE('xay', '(a)', '<\\1>') AS f, REGEXP_REPLACE('xay', '(a)', '<\\2>') AS g, REGEXP_REPLACE('xay', '(a)', '\\$1') AS h, REGEXP_REPLACE('xay', '(a)', 'a\\') AS i
