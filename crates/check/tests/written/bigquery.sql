SELECT name FROM vessels ORDER BY tons_max DESC, id LIMIT 3 OFFSET 1;
SELECT vessel_id, day, fare FROM crossings QUALIFY ROW_NUMBER() OVER (PARTITION BY vessel_id ORDER BY day DESC, id DESC) <= 2 ORDER BY vessel_id, day DESC, fare;
(SELECT name FROM vessels ORDER BY id LIMIT 2) UNION ALL (SELECT name FROM landings ORDER BY id LIMIT 1) ORDER BY name;
WITH t AS (SELECT id, name FROM vessels ORDER BY id LIMIT 4) SELECT name FROM t ORDER BY id DESC LIMIT 2;
SELECT IFNULL(permit, '-') AS p, COUNT(*) AS n FROM vessels GROUP BY p ORDER BY n DESC, p LIMIT 3;
SELECT name FROM vessels WHERE kind != 'tug' AND tons_max BETWEEN 5 AND 500 ORDER BY name LIMIT 5;
