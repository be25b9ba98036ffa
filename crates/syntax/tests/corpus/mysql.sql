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
