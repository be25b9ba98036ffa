SELECT name FROM vessels ORDER BY tons_max DESC, id LIMIT 2, 3;
SELECT id, name FROM vessels ORDER BY tons_max OFFSET 1 ROW FETCH NEXT 2 ROWS WITH TIES;
SELECT name FROM vessels ORDER BY name OFFSET 3 ROWS;
SELECT kind, SUM(tons_max) AS s FROM vessels GROUP BY kind HAVING s > 50 ORDER BY s DESC LIMIT 2;
SELECT NVL(permit, 'none') AS p FROM vessels ORDER BY id FETCH FIRST 3 ROWS ONLY;
SELECT name FROM vessels WHERE id IN (SELECT id FROM (SELECT vessel_id AS id FROM crossings ORDER BY fare DESC, id LIMIT 4) x) ORDER BY id;
(SELECT name FROM vessels ORDER BY name LIMIT 1) UNION (SELECT name FROM landings ORDER BY name LIMIT 2) ORDER BY name DESC;
