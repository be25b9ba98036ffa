SELECT SQL_CALC_FOUND_ROWS name FROM loads ORDER BY tons DESC LIMIT 5, 10;
----
SELECT `name`, "text", 'it\'s', CONCAT(a, b) || c, a DIV b, a MOD 2, !x, a <=> b, a XOR b FROM loads # tail
WHERE name REGEXP '^a' AND day > NOW() - INTERVAL 1 DAY LIMIT 3 OFFSET 2
----
DELIMITER //
SELECT 1; SELECT 2 //
DELIMITER ;
SELECT 3;
----
SELECT GROUP_CONCAT(DISTINCT name ORDER BY name DESC SEPARATOR '; ') FROM vessels USE INDEX (ix) STRAIGHT_JOIN landings l ON l.id = vessels.home GROUP BY kind WITH ROLLUP
----
UPDATE tolls SET amount = 1 ORDER BY id LIMIT 3;
DELETE FROM tolls ORDER BY id LIMIT 3;
INSERT IGNORE INTO tolls VALUES (1, 2) ON DUPLICATE KEY UPDATE amount = VALUES(amount);
REPLACE INTO tolls (id) VALUES (1);
DELETE t FROM tolls t JOIN crossings c ON c.id = t.crossing_id;
UPDATE tolls t, crossings c SET t.amount = 3 WHERE t.crossing_id = c.id
----
SELECT @n := @n + 1 AS n, _utf8mb4'x', x'4D', 0x4D, doc->'$.a', doc->>'$.b' FROM t, (SELECT @n := 0) r
----
SELECT /*!80000 STRAIGHT_JOIN */ a FROM t /* plain */ WHERE CONVERT(x, SIGNED) = 3 AND CONVERT(name USING utf8mb4) = 'a' AND BINARY name = 'b' FOR UPDATE SKIP LOCKED
----
CREATE TABLE `loads` (`id` int unsigned NOT NULL AUTO_INCREMENT, `name` varchar(40) COLLATE utf8mb4_bin DEFAULT NULL COMMENT 'x', kind enum('a','b'), PRIMARY KEY (`id`), KEY `ix` (`name`(10)), CONSTRAINT `fk` FOREIGN KEY (`id`) REFERENCES `vessels` (`id`)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4
----
SELECT v.name, x.fare FROM vessels v LEFT JOIN LATERAL (SELECT fare FROM crossings c WHERE c.vessel_id = v.id LIMIT 1) x ON TRUE
----
SELECT * FROM (VALUES ROW(1, 2), ROW(3, 4)) AS t (a, b) JOIN JSON_TABLE('[1]', '$[*]' COLUMNS (x INT PATH '$')) AS j
----
SELECT SQL_CALC_FOUND_ROWS a FROM t FORCE INDEX FOR ORDER BY (i) WHERE b <=> NULL LIMIT 5, 10
----
SELECT GROUP_CONCAT(DISTINCT a ORDER BY b DESC SEPARATOR '; ') FROM t
----
SELECT a DIV b, a MOD b, a XOR b, !a, a REGEXP 'x', a NOT RLIKE 'y', BINARY a FROM t
----
SELECT DATE_ADD(d, INTERVAL 1 DAY), d + INTERVAL '1:2' HOUR_MINUTE, TIMESTAMPDIFF(DAY, a, b) FROM t
----
SELECT JSON_EXTRACT(a, '$.b'), a -> '$.b', a ->> '$.c' FROM t
----
SELECT * FROM t, JSON_TABLE(t.doc, '$[*]' COLUMNS (a INT PATH '$.a' DEFAULT '0' ON EMPTY, NESTED PATH '$.b[*]' COLUMNS (c INT PATH '$'))) AS j
----
SELECT a FROM t GROUP BY a WITH ROLLUP
----
SELECT a FROM t PARTITION (p0, p1) AS x
----
SELECT * FROM (a, b) LEFT JOIN c ON c.x = a.x
----
SELECT a INTO @x FROM t LIMIT 1
----
SELECT @a := 1, @@sql_mode
----
SELECT CONVERT(a USING utf8mb4), CAST(a AS CHAR CHARACTER SET utf8mb4) FROM t
----
SELECT a FROM t LOCK IN SHARE MODE
----
SELECT a FROM t FOR UPDATE SKIP LOCKED
----
SELECT STRAIGHT_JOIN a FROM t STRAIGHT_JOIN u ON t.x = u.x
----
VALUES ROW(1, 'a'), ROW(2, 'b') ORDER BY column_0 LIMIT 1
----
TABLE t ORDER BY a LIMIT 1
----
REPLACE INTO t (a) SELECT 1
----
DELETE a, b FROM a JOIN b ON a.x = b.x
----
UPDATE a JOIN b ON a.x = b.x SET a.y = b.y
----
CREATE TABLE t (id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, a ENUM('x','y') NOT NULL DEFAULT 'x', b DECIMAL(8,2), KEY i (a), FULLTEXT f (a)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4
----
SELECT a FROM t WHERE b IN (SELECT c FROM u) AND EXISTS (SELECT 1) OR NOT EXISTS (SELECT 2)
----
SELECT /*! STRAIGHT_JOIN */ a FROM t
----
WITH RECURSIVE r AS (SELECT 1 AS n UNION ALL SELECT n + 1 FROM r WHERE n < 5) SELECT * FROM r
----
SELECT RANK() OVER w, SUM(a) OVER (w ROWS 1 PRECEDING) FROM t WINDOW w AS (ORDER BY a)
----
SELECT INTERVAL(5, 1, 10), EXTRACT(DAY_HOUR FROM d), TRIM(LEADING 'x' FROM a) FROM t
