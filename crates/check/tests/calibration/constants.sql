-- Over nothing but constants, on PostgreSQL: types, operators, NULL logic, sorting, limits.
SELECT 7 / 2, -7 / 2, 7 % 3, -7 % 3, 7.0 / 2, 2 + 3 * 4 - 1, (2 + 3) * 4
SELECT 1 + 2 * 3 = 7 AND NOT 1 = 2 OR NULL
SELECT -2 - -3, - 2 * 3, 10 - 4 - 3, 2 * 7 / 3 * 3, 100 / 10 / 5
SELECT NULL = NULL, NULL <> 1, NULL IS NULL, 1 IS NOT NULL, NOT NULL, NULL AND FALSE, NULL OR TRUE
SELECT 1 IN (1, NULL), 2 IN (1, NULL), 2 NOT IN (1, NULL), 2 NOT IN (1, 3), NULL IN (1)
SELECT 2 BETWEEN 1 AND 3, 2 NOT BETWEEN 1 AND 3, NULL BETWEEN 1 AND 2, 1 BETWEEN 2 AND NULL
SELECT 'quay' || 'side', 'a' || 1, 'a' || NULL, '' || '', 'a' || 'b' || 'c' = 'abc'
SELECT 'quay' LIKE 'q%', 'quay' LIKE '_uay', 'Quay' LIKE 'q%', 'a%b' LIKE 'a\%b', 'quay' NOT LIKE 'w%', NULL LIKE 'a'
SELECT 'Quay' ILIKE 'q%', 'a' < 'b', 'a' < 'B', 'a ' = 'a', '' = '', '' IS NULL
SELECT 1 = 1 IS TRUE, NULL IS UNKNOWN, 1 > 2 IS FALSE, NULL IS NOT TRUE
SELECT 1 IS DISTINCT FROM NULL, NULL IS DISTINCT FROM NULL, 1 IS NOT DISTINCT FROM 1
SELECT CASE WHEN 1 > 2 THEN 'a' WHEN 2 > 1 THEN 'b' ELSE 'c' END, CASE 3 WHEN 1 THEN 'x' END, CASE NULL WHEN NULL THEN 'y' ELSE 'n' END
SELECT COALESCE(NULL, 2, 3), COALESCE(NULL, NULL), NULLIF(1, 1), NULLIF(1, 2), NULLIF(NULL, 1)
SELECT UPPER('weir'), LOWER('WEIR'), LENGTH('Fähre'), LENGTH(''), ABS(-3), ABS(-2.5)
SELECT ROUND(2.5), ROUND(-2.5), ROUND(2.345, 2), TRUNC(2.99), TRUNC(-2.99), CEIL(2.1), FLOOR(-2.1), MOD(7, -3)
SELECT TRIM('  a  '), LTRIM('  a'), RTRIM('a  '), REPLACE('quay', 'u', 'oo'), SUBSTR('quayside', 3, 2), SUBSTR('quay', 2)
SELECT CONCAT('a', NULL, 'b'), CONCAT(1, 'x')
SELECT CAST('12' AS integer), CAST(2.5 AS integer), CAST(3.5 AS integer), CAST(-2.5 AS integer), CAST('1.50' AS numeric(6,2)), CAST(12.345 AS numeric(6,1))
SELECT CAST('2026-01-31' AS date), DATE '2026-02-28', TIMESTAMP '2026-01-31 10:20:30', CAST(TIMESTAMP '2026-01-31 10:20:30' AS date)
SELECT DATE '2026-01-31' = TIMESTAMP '2026-01-31 00:00:00', DATE '2026-01-31' < DATE '2026-02-01'
SELECT CAST(12 AS varchar(1)), CAST('quay' AS char(6)) || '|', CAST(1 AS boolean), CAST(TRUE AS integer)
SELECT x FROM (VALUES (3), (1), (NULL), (2)) AS t (x) ORDER BY x
SELECT x FROM (VALUES (3), (1), (NULL), (2)) AS t (x) ORDER BY x DESC
SELECT x FROM (VALUES (3), (1), (NULL), (2)) AS t (x) ORDER BY x NULLS FIRST LIMIT 2
SELECT x FROM (VALUES (3), (1), (NULL), (2)) AS t (x) ORDER BY x DESC NULLS LAST LIMIT 2 OFFSET 1
SELECT x FROM (VALUES (3), (1), (1), (2)) AS t (x) ORDER BY x FETCH FIRST 1 ROWS WITH TIES
SELECT x FROM (VALUES (3), (1), (1), (2)) AS t (x) ORDER BY x OFFSET 1 ROWS FETCH NEXT 2 ROWS ONLY
SELECT x FROM (VALUES (3), (1)) AS t (x) ORDER BY 1 LIMIT ALL OFFSET 1
SELECT x FROM (VALUES (3), (1)) AS t (x) ORDER BY x LIMIT (SELECT 1)
SELECT x FROM (VALUES (3), (1)) AS t (x) LIMIT 0
SELECT x AS y FROM (VALUES (3), (1)) AS t (x) ORDER BY y
SELECT -x AS x FROM (VALUES (3), (1)) AS t (x) ORDER BY x
SELECT x, y FROM (VALUES (1, 'b'), (1, 'a'), (0, 'c')) AS t (x, y) ORDER BY 1 DESC, y
SELECT DISTINCT x FROM (VALUES (1), (1), (NULL), (NULL)) AS t (x) ORDER BY x
SELECT COUNT(*), COUNT(x), COUNT(DISTINCT x), SUM(x), MIN(x), MAX(x) FROM (VALUES (1), (2), (2), (NULL)) AS t (x)
SELECT COUNT(*), SUM(x), MIN(x), AVG(x) FROM (VALUES (1)) AS t (x) WHERE x > 5
SELECT AVG(x), AVG(x * 1.0) FROM (VALUES (1), (2)) AS t (x)
SELECT k, SUM(v), COUNT(*) FROM (VALUES ('a', 1), ('b', 2), ('a', 3), (NULL, 4), (NULL, 5)) AS t (k, v) GROUP BY k ORDER BY k
SELECT k, SUM(v) AS s FROM (VALUES ('a', 1), ('b', 2), ('a', 3)) AS t (k, v) GROUP BY 1 HAVING SUM(v) > 2 ORDER BY s DESC
SELECT k || '!' AS label, MAX(v) - MIN(v) FROM (VALUES ('a', 1), ('b', 2), ('a', 3)) AS t (k, v) GROUP BY k || '!' ORDER BY label
SELECT SUM(v) FILTER (WHERE k = 'a') FROM (VALUES ('a', 1), ('b', 2), ('a', 3)) AS t (k, v)
SELECT a.x, b.y FROM (VALUES (1), (2)) AS a (x) LEFT JOIN (VALUES (2, 'q'), (3, 'r')) AS b (i, y) ON b.i = a.x ORDER BY a.x
SELECT a.x, b.i FROM (VALUES (1), (2)) AS a (x) FULL JOIN (VALUES (2), (3)) AS b (i) ON b.i = a.x ORDER BY a.x, b.i
SELECT a.x, b.i FROM (VALUES (1), (2)) AS a (x) RIGHT JOIN (VALUES (2), (3)) AS b (i) ON b.i = a.x ORDER BY b.i
SELECT COUNT(*) FROM (VALUES (1), (2)) AS a (x) CROSS JOIN (VALUES (2), (3)) AS b (i)
SELECT x, z FROM (VALUES (1, 5), (2, 6)) AS a (x, y) JOIN (VALUES (2, 7)) AS b (x, z) USING (x)
SELECT a.x, l.m FROM (VALUES (1), (2)) AS a (x) CROSS JOIN LATERAL (SELECT a.x * 10 AS m) l ORDER BY a.x
SELECT a.x, l.m FROM (VALUES (1), (2)) AS a (x) LEFT JOIN LATERAL (SELECT y AS m FROM (VALUES (2), (2)) AS b (y) WHERE b.y = a.x LIMIT 1) l ON TRUE ORDER BY a.x
SELECT x FROM (VALUES (1), (2), (3)) AS a (x) WHERE EXISTS (SELECT 1 FROM (VALUES (2), (3)) AS b (y) WHERE b.y = a.x) ORDER BY x
SELECT x FROM (VALUES (1), (2), (3)) AS a (x) WHERE x NOT IN (SELECT y FROM (VALUES (2), (NULL)) AS b (y))
SELECT x FROM (VALUES (1), (2), (3)) AS a (x) WHERE x > ALL (SELECT y FROM (VALUES (1), (2)) AS b (y))
SELECT x FROM (VALUES (1), (2), (3)) AS a (x) WHERE x = ANY (SELECT y FROM (VALUES (1), (3)) AS b (y)) ORDER BY x
SELECT x, (SELECT MAX(y) FROM (VALUES (1), (5)) AS b (y) WHERE b.y > a.x) FROM (VALUES (1), (9)) AS a (x) ORDER BY x
SELECT 1 UNION SELECT 1 UNION ALL SELECT 2 ORDER BY 1
SELECT 1 UNION ALL SELECT 2 INTERSECT SELECT 2 ORDER BY 1
SELECT x FROM (VALUES (1), (1), (2)) AS a (x) EXCEPT SELECT 2
SELECT x FROM (VALUES (1), (1), (2)) AS a (x) EXCEPT ALL SELECT 1 ORDER BY 1
SELECT x FROM (VALUES (1), (1), (2)) AS a (x) INTERSECT ALL SELECT y FROM (VALUES (1), (1), (3)) AS b (y)
(SELECT 3 AS n ORDER BY 1 LIMIT 1) UNION ALL (SELECT 1) ORDER BY n LIMIT 1
WITH t AS (SELECT x, x * 2 AS d FROM (VALUES (1), (2)) AS a (x)) SELECT a.x, b.d FROM t a JOIN t b ON b.d = a.x + 1 ORDER BY 1, 2
WITH t (p, q) AS (SELECT 1, 2) SELECT q, p FROM t
SELECT x, ROW_NUMBER() OVER (ORDER BY x DESC), RANK() OVER (ORDER BY x), DENSE_RANK() OVER (ORDER BY x) FROM (VALUES (1), (2), (4)) AS t (x) ORDER BY x
SELECT x, RANK() OVER (ORDER BY x), DENSE_RANK() OVER (ORDER BY x), SUM(x) OVER (ORDER BY x), SUM(x) OVER (), COUNT(*) OVER (PARTITION BY x) FROM (VALUES (1), (2), (2), (4), (NULL)) AS t (x) ORDER BY x
SELECT k, SUM(v), RANK() OVER (ORDER BY SUM(v) DESC) FROM (VALUES ('a', 1), ('b', 5), ('a', 3)) AS t (k, v) GROUP BY k ORDER BY k
SELECT x FROM (SELECT x, ROW_NUMBER() OVER (ORDER BY x) AS n FROM (VALUES (5), (7), (6)) AS t (x)) r WHERE n BETWEEN 2 AND 3 ORDER BY x
VALUES (1, 'a'), (2, NULL)
SELECT 1 / 0
SELECT CAST('x' AS integer)
SELECT (SELECT x FROM (VALUES (1), (2)) AS t (x))
SELECT 1 WHERE NOT NULL
SELECT 2 + 3 || 'x', 'x' || 2 * 3
SELECT (1 < 2) = TRUE, NOT (1 < 2) = FALSE
SELECT 5 BETWEEN 1 AND 3 + 3 AND TRUE, 'a' || 'b' LIKE 'ab', NOT 'a' LIKE 'b'
SELECT 0.1 + 0.2 = 0.3, 1e0 / 3, 10.0 / 3, 1.5 * 1.5, 2.50 - 0.5
