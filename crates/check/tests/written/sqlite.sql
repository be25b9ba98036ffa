SELECT name FROM vessels ORDER BY tons_max DESC, id LIMIT 3, 2;
SELECT name FROM vessels ORDER BY id LIMIT -1 OFFSET 4;
SELECT * FROM (SELECT name FROM vessels ORDER BY id LIMIT 2) UNION ALL SELECT * FROM (SELECT name FROM landings ORDER BY id LIMIT 2) ORDER BY name;
SELECT kind, COUNT(*) AS n FROM vessels GROUP BY kind HAVING n > 1 ORDER BY n DESC, kind LIMIT 1;
SELECT name, tons_max > 50 AS heavy FROM vessels ORDER BY heavy DESC, id LIMIT 4;
SELECT name FROM vessels WHERE id IN (SELECT vessel_id FROM crossings ORDER BY fare DESC, id LIMIT 2) ORDER BY id;
SELECT name, (SELECT COUNT(*) FROM crossings c WHERE c.vessel_id = v.id) AS trips FROM vessels v ORDER BY trips DESC, id LIMIT 3;
