-- What MySQL has of its own, and what MariaDB does otherwise.
SELECT 1 / 3 * 3 AS a, 14 / 3 * 3 AS b, 2 / 3 * 100 AS c, 1.00 / 3 * 3 AS d, 1 / 3 = 0.3333 AS e, 7.5 % (1 / 3) AS f, 1e0 / 3 * 3 AS g
SELECT tons / 3 * 100 AS a, SUM(id / 3) OVER () AS b FROM vessels WHERE id < 3
SELECT AVG(id) * 3 AS a, SUM(id / 3) AS b, AVG(id) > 1.3333 AS c, AVG(DISTINCT id) + 0.00 AS d, ROUND(AVG(id), 2) AS e FROM crossings
SELECT kind, AVG(id) AS a FROM vessels GROUP BY kind HAVING AVG(id) > 1 ORDER BY AVG(id) * 2, kind
SELECT LPAD('quay', 6, '') AS a, RPAD('quay', 6, '') AS b, LPAD('', 3, '') AS c, LPAD('quay', 2, '') AS d
SELECT LOCATE('o', 'mooring', NULL) AS a, LOCATE('', 'x', 5) AS b, LOCATE(NULL, 'x', 1) AS c
SELECT 'a' = 'a ' AS a, 'a' LIKE 'a ' AS b, 'é' = 'E' AS c, 'ß' = 'ss' AS d
SELECT REGEXP_SUBSTR('quay', '[0-9]+') AS a, REGEXP_SUBSTR('quay 7', '[0-9]+') AS b, REGEXP_REPLACE('10x.50', 'x*', '-') AS c, REGEXP_INSTR('quay', 'a') AS d
SELECT REGEXP_LIKE('Quay', 'q') AS a, REGEXP_LIKE('Quay', 'q', 'c') AS b, 'Quay' REGEXP 'Q' AS c, REGEXP_REPLACE('a1b2', '[0-9]', '#', 1, 2) AS d
SELECT REGEXP_REPLACE('xay', '(a)', '<\\0>') AS a, REGEXP_REPLACE('xay', '(a)', '<$0>') AS b, REGEXP_REPLACE('xay', '(a)', '<\\&>') AS c, REGEXP_REPLACE('xay', '(a)', 'a\\b') AS d, REGEXP_REPLACE('xay', '(a)', 'a\\\\b') AS e, REGEXP_REPLACE('xay', '(a)', '<\\1>') AS f, REGEXP_REPLACE('xay', '(a)', '\\$1') AS g, REGEXP_REPLACE('xay', '(a)', 'a\\') AS h, REGEXP_REPLACE('xay', '(a)', '<$10>') AS i
