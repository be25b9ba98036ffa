SELECT name FROM vessels ORDER BY tons_max DESC, id LIMIT 3;
SELECT name FROM vessels ORDER BY id LIMIT 2 OFFSET 2;
SELECT name FROM vessels ORDER BY id OFFSET 3;
SELECT name FROM vessels ORDER BY id LIMIT ALL;
SELECT v.name, x.fare FROM vessels v LEFT JOIN LATERAL (SELECT fare FROM crossings c WHERE c.vessel_id = v.id ORDER BY fare DESC, id LIMIT 1) x ON true ORDER BY v.id;
SELECT name, place FROM (SELECT name, dense_rank() OVER (ORDER BY tons_max DESC NULLS LAST) AS place FROM vessels) t WHERE place <= 2 ORDER BY place, name;
SELECT kind, COUNT(*) AS n FROM vessels GROUP BY kind HAVING n > 1 ORDER BY n DESC, kind LIMIT 2;
