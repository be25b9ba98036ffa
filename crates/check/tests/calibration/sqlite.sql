-- SQLite's own ways.
SELECT 1 / 2 AS a, 1.0 / 2 AS b, 7 / 2.0 AS c, 5 % 3 AS d, 5.7 % 3 AS e
SELECT 1 / 0 AS a, 1 % 0 AS b, 1.0 / 0 AS c
SELECT '5' + 3 AS a, '5x' + 3 AS b, 'x' + 3 AS c, '1e2' + 0 AS d
SELECT '5' || 3 AS a, 1.5 || '' AS b, 2.0 || '' AS c, 1e20 || '' AS d
SELECT 1 = '1' AS a, 1 < 'a' AS b, 'a' > 99999 AS c, '10' < '9' AS d
SELECT id FROM vessels WHERE tons = '40'
SELECT id FROM vessels WHERE tons > '100' ORDER BY id
SELECT id FROM vessels WHERE name = 5
SELECT TYPEOF(1) AS a, TYPEOF(1.0) AS b, TYPEOF('x') AS c, TYPEOF(NULL) AS d, TYPEOF(1 = 1) AS e
SELECT TYPEOF(tons) AS a, TYPEOF(fare) AS b FROM vessels JOIN crossings ON vessels.id = vessel_id WHERE crossings.id < 4
SELECT CAST('12abc' AS INTEGER) AS a, CAST('abc' AS INTEGER) AS b, CAST(3.9 AS INTEGER) AS c, CAST(-3.9 AS INTEGER) AS d
SELECT CAST('1.5' AS REAL) AS a, CAST(1 AS REAL) AS b, CAST('x' AS REAL) AS c, CAST(1.0 AS TEXT) AS d
SELECT CAST('1.5' AS NUMERIC) AS a, CAST('2.0' AS NUMERIC) AS b
SELECT AVG(tons) AS a, AVG(fare) AS b FROM vessels, crossings
SELECT TOTAL(tons) AS t, SUM(tons) AS s FROM vessels WHERE id > 100
SELECT SUM(fare) AS s FROM crossings WHERE fare = 4.5
SELECT ROUND(2.5) AS a, ROUND(-2.5) AS b, ROUND(2.345, 2) AS c, ROUND(5) AS d, ROUND(1234.5, -2) AS e
SELECT SUBSTR('quayside', 0, 3) AS a, SUBSTR('quayside', -3) AS b, SUBSTR('quayside', -3, 2) AS c, SUBSTR('quayside', 3, -2) AS d
SELECT SUBSTR('quayside', -20, 14) AS a, SUBSTR('quay', 0) AS b, SUBSTR('quay', -1, -2) AS c
SELECT INSTR('quayside', 'si') AS a, INSTR('quay', 'z') AS b, INSTR('quay', '') AS c
SELECT UPPER('é') AS a, LOWER('É') AS b, LENGTH('é') AS c
SELECT HEX('abc') AS a, HEX(12) AS b, CHAR(72, 105) AS c, UNICODE('A') AS d
SELECT IFNULL(NULL, 2) AS a, IIF(1 > 2, 'y', 'n') AS b, MAX(1, 3, 2) AS c, MIN(3, NULL) AS d
SELECT MAX('a', 'B') AS a, MIN(1, 'a') AS b
SELECT 'Abc' LIKE 'aB%' AS a, 'abc' LIKE 'a_c' AS b, 'Abc' GLOB 'a*' AS c, 'abc' GLOB 'a[a-c]?' AS d
SELECT 5 LIKE '5' AS a, NULL LIKE '%' AS b, 'a%b' LIKE 'a\%b' AS c
SELECT NOT NULL AS a, NOT 5 AS b, NOT 'x' AS c, 1 IS 1 AS d, NULL IS NULL AS e, 1 IS NOT 2 AS f
SELECT 5 & 3 AS a, 5 | 3 AS b, ~5 AS c, 1 << 3 AS d, -1 >> 1 AS e, 1 << -1 AS f
SELECT id FROM vessels ORDER BY kind, id
SELECT id FROM vessels ORDER BY kind DESC, id
SELECT name FROM vessels ORDER BY name COLLATE NOCASE, id
SELECT COUNT(DISTINCT name COLLATE NOCASE) AS n FROM vessels
SELECT 'a' = 'A' COLLATE NOCASE AS a, 'a ' = 'a' COLLATE RTRIM AS b
SELECT kind, name FROM vessels GROUP BY kind HAVING COUNT(*) = 1
SELECT kind, MAX(tons) AS m FROM vessels GROUP BY 1 ORDER BY 1
SELECT kind AS k, COUNT(*) AS n FROM vessels GROUP BY k HAVING n > 1
SELECT id FROM vessels WHERE id * 2 > 8 LIMIT -1 OFFSET 1
SELECT name FROM vessels ORDER BY id LIMIT 2, 2
SELECT DATE('2024-01-31', '+1 month') AS a, DATE('2024-03-10', '-1 day') AS b, DATE('2024-02-28', '+1 day') AS c
SELECT DATE('2024-05-16', 'start of month') AS a, DATE('2024-05-16', 'start of year', '+1 month') AS b
SELECT STRFTIME('%Y/%m/%d', '2024-03-05') AS a, STRFTIME('%H:%M', '2024-03-05 14:05:09') AS b, STRFTIME('%j', '2024-03-05') AS c, STRFTIME('%w', '2024-03-03') AS d
SELECT DATETIME('2024-03-05 14:05:09', '+90 minutes') AS a, TIME('14:05:09') AS b
SELECT JULIANDAY('2024-03-05') - JULIANDAY('2024-03-01') AS d
SELECT DATE('nonsense') AS a, DATE(NULL) AS b
SELECT GROUP_CONCAT(name, '/') AS g FROM (SELECT name FROM vessels WHERE id < 2)
SELECT COUNT(*) AS n FROM vessels WHERE tags IS NOT NULL AND tags <> ''
SELECT JSON_EXTRACT('{"a": 5, "b": [1, 2]}', '$.a') AS a, JSON_EXTRACT('{"b": [1, 2]}', '$.b[1]') AS b, JSON_EXTRACT('{"b": [1, 2]}', '$.b') AS c
SELECT '{"a": {"b": 7}}' -> '$.a' AS a, '{"a": {"b": 7}}' ->> '$.a.b' AS b, '[5, 6]' ->> 1 AS c
SELECT JSON_ARRAY(1, 'a', NULL) AS a, JSON_OBJECT('k', 1, 'l', 'x') AS b, JSON_ARRAY_LENGTH('[1, 2, 3]') AS c, JSON_TYPE('{"a": 1}') AS d
SELECT key, value, type FROM JSON_EACH('["tug", 5, null]')
SELECT JSON_SET('{"a": 1}', '$.b', 2) AS a, JSON_REMOVE('{"a": 1, "b": 2}', '$.a') AS b, JSON_VALID('{') AS c
SELECT * FROM landings l JOIN waterways w ON w.id = l.waterway_id WHERE l.id = 1
SELECT id FROM vessels NATURAL JOIN (SELECT 3 AS id)
SELECT * FROM (SELECT 1 AS a, 2 AS b) JOIN (SELECT 1 AS a, 3 AS c) USING (a)
SELECT 1 UNION SELECT 2 INTERSECT SELECT 2
SELECT 1 AS x UNION ALL SELECT 2 EXCEPT SELECT 1
SELECT 0x1F AS a, 1e3 AS b, .5 AS c
SELECT 9223372036854775807 + 1 AS a
SELECT -9223372036854775808 AS a
SELECT ABS(-5.5) AS a, SIGN(-2.5) AS b
SELECT x FROM (SELECT 1 AS x UNION ALL SELECT 'a' UNION ALL SELECT NULL UNION ALL SELECT 2.5) ORDER BY x
SELECT COALESCE(1, 'a') AS a, CASE WHEN 1 THEN 'x' ELSE 2 END AS b
SELECT CONCAT('a', NULL, 1) AS a, CONCAT_WS('-', 'a', NULL, 'b') AS b
SELECT id FROM crossings WHERE day = '2024-02-29'
SELECT id, day || '' AS d FROM crossings WHERE id < 3
SELECT SUM(passengers) * 1.0 / COUNT(*) AS share FROM crossings
SELECT (SELECT id FROM vessels ORDER BY id) AS first
SELECT COUNT(*) AS n FROM crossings WHERE fare
SELECT id FROM vessels WHERE tons AND kind = 'ferry'
