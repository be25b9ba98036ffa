-- Read by all engines, if not always alike.
SELECT * FROM waterways ORDER BY id
SELECT name, tons FROM vessels WHERE tons > 20 ORDER BY tons, name
SELECT name FROM vessels WHERE tons IS NULL OR kind IS NULL
SELECT name FROM vessels WHERE NOT (tons > 20) ORDER BY name
SELECT name FROM vessels WHERE tons <> 120 ORDER BY name
SELECT name FROM vessels WHERE tons NOT IN (120, 40) ORDER BY name
SELECT name FROM vessels WHERE tons NOT IN (120, NULL)
SELECT name FROM vessels WHERE kind IN ('ferry', 'tug') AND tons BETWEEN 15 AND 25 ORDER BY name
SELECT name FROM vessels WHERE tons BETWEEN 120 AND 15
SELECT id, CASE WHEN tons > 100 THEN 'heavy' WHEN tons > 30 THEN 'middling' ELSE 'light' END AS weight FROM vessels ORDER BY id
SELECT id, CASE kind WHEN 'ferry' THEN 1 WHEN 'barge' THEN 2 END AS code FROM vessels ORDER BY id
SELECT id, COALESCE(kind, 'none') AS kind, NULLIF(tons, 120) AS tons FROM vessels ORDER BY id
SELECT 1 + 1 AS a, 7 - 10 AS b, 6 * 7 AS c, 2 + 3 * 4 AS d, (2 + 3) * 4 AS e
SELECT 7 / 2 AS a, -7 / 2 AS b, 7 % 3 AS c, -7 % 3 AS d, 7 % -3 AS e
SELECT 1 = 1 AND 1 = 2 OR 1 = 1 AS a
SELECT NOT 1 = 2 AS a, NOT (1 = 1 AND 2 = 2) AS b
SELECT NULL = NULL AS a, NULL IS NULL AS b, 1 IS NOT NULL AS c
SELECT 1 + NULL AS a, 'x' || NULL AS b, NULL AND 1 = 2 AS c, NULL OR 1 = 1 AS d
SELECT 'a' || 'b' || 'c' AS abc, 'it''s' AS quoted
SELECT UPPER('Quay') AS a, LOWER('Quay') AS b, LENGTH('Quay') AS c, LENGTH('') AS d
SELECT SUBSTR('quayside', 2, 3) AS a, SUBSTR('quayside', 5) AS b, SUBSTR('quayside', 20) AS c, SUBSTR('quayside', 1, 0) AS d
SELECT REPLACE('banana', 'an', 'AN') AS a, REPLACE('quay', 'x', 'y') AS b, REPLACE('aaa', 'aa', 'b') AS c
SELECT TRIM('  x  ') || '|' AS a, LTRIM('  x  ') || '|' AS b, RTRIM('  x  ') || '|' AS c
SELECT LTRIM('xxyxz', 'xy') AS a, RTRIM('zxyx', 'xy') AS b
SELECT ABS(-5) AS a, ABS(5) AS b, SIGN(-3) AS c, SIGN(0) AS d
SELECT id, name FROM landings WHERE name LIKE '%l%' ORDER BY id
SELECT id FROM vessels WHERE permit LIKE 'TW-00_' ORDER BY id
SELECT id FROM vessels WHERE permit LIKE 'X\_9\%' ESCAPE '\'
SELECT id FROM vessels WHERE permit NOT LIKE 'TW%' ORDER BY id
SELECT id FROM remarks WHERE note LIKE '50!%%' ESCAPE '!'
SELECT id FROM landings WHERE name = '' OR name IS NULL ORDER BY id
SELECT id FROM landings WHERE name = 'Staithe'
SELECT name FROM vessels ORDER BY name, id
SELECT name FROM vessels ORDER BY name DESC, id DESC
SELECT kind, name FROM vessels ORDER BY kind NULLS FIRST, name
SELECT kind, name FROM vessels ORDER BY kind DESC NULLS LAST, name
SELECT tons, name FROM vessels ORDER BY tons NULLS LAST, 2
SELECT name, tons * 2 AS twice FROM vessels ORDER BY twice DESC NULLS LAST, name
SELECT name FROM vessels ORDER BY tons + id NULLS FIRST
SELECT name FROM vessels ORDER BY LENGTH(name), name DESC
SELECT name FROM vessels ORDER BY id LIMIT 3
SELECT name FROM vessels ORDER BY id LIMIT 2 OFFSET 3
SELECT name FROM vessels ORDER BY id LIMIT 0
SELECT name FROM vessels ORDER BY id LIMIT 10 OFFSET 5
SELECT name FROM vessels ORDER BY id LIMIT 1 + 1 OFFSET 1
SELECT COUNT(*) AS n FROM (SELECT 1 AS x FROM vessels LIMIT 4) AS d
SELECT DISTINCT kind FROM vessels
SELECT DISTINCT kind FROM vessels ORDER BY kind NULLS LAST LIMIT 2
SELECT DISTINCT vessel_id, landing_id FROM crossings
SELECT COUNT(*) AS n, COUNT(tons) AS m, COUNT(DISTINCT tons) AS d FROM vessels
SELECT SUM(tons) AS s, MIN(tons) AS lo, MAX(tons) AS hi FROM vessels
SELECT SUM(tons) AS s, COUNT(*) AS n, MAX(name) AS m FROM vessels WHERE 1 = 0
SELECT kind, COUNT(*) AS n FROM vessels GROUP BY kind
SELECT kind, COUNT(*) AS n, SUM(tons) AS s FROM vessels GROUP BY kind HAVING COUNT(*) > 1
SELECT kind, MAX(tons) AS m FROM vessels WHERE tons > 20 GROUP BY kind ORDER BY m DESC, kind
SELECT tons % 2 AS odd, COUNT(*) AS n FROM vessels GROUP BY tons % 2
SELECT vessel_id, landing_id, COUNT(*) AS n FROM crossings GROUP BY vessel_id, landing_id
SELECT COUNT(*) AS n FROM vessels HAVING COUNT(*) > 100
SELECT COUNT(*) AS n FROM vessels HAVING COUNT(*) > 1
SELECT kind FROM vessels GROUP BY kind HAVING MIN(tons) < 30
SELECT LENGTH(name) AS l, COUNT(*) AS n FROM vessels GROUP BY LENGTH(name) ORDER BY l
SELECT SUM(DISTINCT tons) AS s FROM vessels
SELECT COUNT(*) FILTER (WHERE tons > 30) AS heavy, COUNT(*) AS n FROM vessels
SELECT kind, SUM(tons) FILTER (WHERE tons < 100) AS s FROM vessels GROUP BY kind
SELECT MIN(name) AS a, MAX(name) AS b FROM landings
SELECT MAX(day) AS last, MIN(day) AS first FROM crossings
SELECT v.name, c.day FROM vessels v JOIN crossings c ON c.vessel_id = v.id ORDER BY v.name, c.day, c.id
SELECT v.name, c.fare FROM vessels v LEFT JOIN crossings c ON c.vessel_id = v.id
SELECT v.name FROM vessels v LEFT JOIN crossings c ON c.vessel_id = v.id WHERE c.id IS NULL
SELECT v.name, c.fare FROM vessels v LEFT JOIN crossings c ON c.vessel_id = v.id AND c.fare > 5
SELECT v.name, c.fare FROM vessels v LEFT JOIN crossings c ON c.vessel_id = v.id WHERE c.fare > 5
SELECT r.note, l.name FROM remarks r RIGHT JOIN landings l ON l.id = r.landing_id
SELECT r.id AS r, l.id AS l FROM remarks r FULL JOIN landings l ON l.id = r.landing_id
SELECT a.name, b.name FROM vessels a, vessels b WHERE a.tons = b.tons AND a.id < b.id
SELECT COUNT(*) AS n FROM vessels CROSS JOIN landings
SELECT COUNT(*) AS n FROM vessels a JOIN vessels b ON a.tons < b.tons
SELECT w.name, p.name AS parent FROM waterways w LEFT JOIN waterways p ON p.id = w.parent_id ORDER BY w.id
SELECT w.name, l.name, c.fare FROM waterways w JOIN landings l ON l.waterway_id = w.id JOIN crossings c ON c.landing_id = l.id
SELECT w.name, COUNT(l.id) AS n FROM waterways w LEFT JOIN landings l ON l.waterway_id = w.id GROUP BY w.name
SELECT w.name, COUNT(l.id) AS n, COUNT(c.id) AS m FROM waterways w LEFT JOIN (landings l JOIN crossings c ON c.landing_id = l.id) ON l.waterway_id = w.id GROUP BY w.id, w.name
SELECT name FROM vessels v WHERE EXISTS (SELECT 1 FROM crossings c WHERE c.vessel_id = v.id AND c.fare > 5)
SELECT name FROM vessels v WHERE NOT EXISTS (SELECT 1 FROM crossings c WHERE c.vessel_id = v.id)
SELECT name FROM vessels WHERE id IN (SELECT vessel_id FROM crossings WHERE passengers > 10)
SELECT name FROM landings WHERE id NOT IN (SELECT landing_id FROM crossings)
SELECT name FROM landings WHERE id NOT IN (SELECT landing_id FROM crossings WHERE landing_id IS NOT NULL)
SELECT name, (SELECT COUNT(*) FROM crossings c WHERE c.vessel_id = v.id) AS n FROM vessels v ORDER BY v.id
SELECT name, (SELECT MAX(fare) FROM crossings c WHERE c.vessel_id = v.id) AS m FROM vessels v ORDER BY v.id
SELECT name FROM vessels WHERE tons = (SELECT MAX(tons) FROM vessels) ORDER BY name
SELECT name FROM vessels v WHERE tons > (SELECT AVG(tons) FROM vessels w WHERE w.kind = v.kind)
SELECT name FROM vessels v WHERE 2 <= (SELECT COUNT(*) FROM crossings c WHERE c.vessel_id = v.id) ORDER BY name, id
SELECT (SELECT name FROM vessels WHERE id = 99) AS none
SELECT name FROM (SELECT name, tons FROM vessels WHERE tons > 20) AS d WHERE tons < 100 ORDER BY name
SELECT d.kind, d.n FROM (SELECT kind, COUNT(*) AS n FROM vessels GROUP BY kind) AS d WHERE d.n > 1
SELECT (1, 2) = (1, 2) AS a, (1, 2) = (1, 3) AS b, (1, NULL) = (2, NULL) AS c, (1, NULL) = (1, NULL) AS d
SELECT (1, 2) < (1, 3) AS a, (2, 1) < (1, 9) AS b
SELECT name FROM vessels WHERE (kind, tons) IN (SELECT kind, tons FROM vessels WHERE id < 3) ORDER BY name, id
WITH heavy AS (SELECT * FROM vessels WHERE tons > 30) SELECT name FROM heavy ORDER BY name
WITH a AS (SELECT id FROM vessels), b AS (SELECT id FROM a WHERE id > 2) SELECT COUNT(*) AS n FROM a, b
WITH a (x, y) AS (SELECT id, name FROM vessels) SELECT y FROM a WHERE x = 2
WITH RECURSIVE n (i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 5) SELECT i FROM n ORDER BY i
WITH RECURSIVE n (i) AS (SELECT 1 UNION SELECT i % 3 + 1 FROM n) SELECT i FROM n ORDER BY i
WITH RECURSIVE down (id, depth) AS (SELECT id, 0 FROM waterways WHERE parent_id IS NULL UNION ALL SELECT w.id, d.depth + 1 FROM down d JOIN waterways w ON w.parent_id = d.id) SELECT id, depth FROM down ORDER BY id
WITH RECURSIVE up (id, parent_id) AS (SELECT id, parent_id FROM waterways WHERE id = 7 UNION ALL SELECT w.id, w.parent_id FROM up u JOIN waterways w ON w.id = u.parent_id) SELECT id FROM up
WITH RECURSIVE f (n, a, b) AS (SELECT 1, 1, 1 UNION ALL SELECT n + 1, b, a + b FROM f WHERE n < 20) SELECT n, a FROM f ORDER BY n
SELECT id FROM vessels UNION SELECT id FROM landings
SELECT kind FROM vessels UNION ALL SELECT name FROM landings
SELECT id FROM vessels EXCEPT SELECT vessel_id FROM crossings
SELECT id FROM vessels INTERSECT SELECT vessel_id FROM crossings
SELECT tons FROM vessels EXCEPT SELECT tons FROM vessels WHERE tons IS NULL
SELECT kind FROM vessels INTERSECT SELECT kind FROM vessels WHERE kind IS NULL
SELECT id AS a FROM vessels UNION SELECT id FROM landings ORDER BY a DESC LIMIT 3
SELECT name FROM vessels UNION SELECT name FROM landings ORDER BY 1 LIMIT 4
SELECT 1 AS x UNION ALL SELECT 2 UNION ALL SELECT 1
SELECT * FROM (SELECT 1 AS x UNION ALL SELECT 1 UNION SELECT 2) AS d
SELECT name, ROW_NUMBER() OVER (ORDER BY id) AS n FROM vessels ORDER BY n
SELECT name, RANK() OVER (ORDER BY tons DESC NULLS LAST) AS r, DENSE_RANK() OVER (ORDER BY tons DESC NULLS LAST) AS d FROM vessels
SELECT kind, name, ROW_NUMBER() OVER (PARTITION BY kind ORDER BY name) AS n FROM vessels
SELECT id, SUM(passengers) OVER (ORDER BY id) AS s FROM crossings
SELECT id, SUM(passengers) OVER (PARTITION BY vessel_id ORDER BY id) AS s FROM crossings
SELECT id, SUM(passengers) OVER (ORDER BY day) AS s FROM crossings
SELECT id, COUNT(*) OVER () AS n, COUNT(passengers) OVER () AS m FROM crossings
SELECT id, MAX(passengers) OVER (ORDER BY id ROWS BETWEEN 1 PRECEDING AND 1 FOLLOWING) AS m FROM crossings
SELECT id, SUM(passengers) OVER (ORDER BY id ROWS BETWEEN UNBOUNDED PRECEDING AND 1 PRECEDING) AS s FROM crossings
SELECT id, SUM(passengers) OVER (ORDER BY id ROWS BETWEEN 2 FOLLOWING AND UNBOUNDED FOLLOWING) AS s FROM crossings
SELECT id, SUM(passengers) OVER (ORDER BY passengers NULLS FIRST RANGE BETWEEN 5 PRECEDING AND 5 FOLLOWING) AS s FROM crossings
SELECT id, COUNT(*) OVER (ORDER BY passengers NULLS FIRST RANGE BETWEEN UNBOUNDED PRECEDING AND CURRENT ROW) AS n FROM crossings
SELECT id, COUNT(*) OVER (ORDER BY passengers NULLS FIRST GROUPS BETWEEN 1 PRECEDING AND CURRENT ROW) AS n FROM crossings
SELECT id, SUM(id) OVER (ORDER BY id ROWS BETWEEN 1 PRECEDING AND 1 FOLLOWING EXCLUDE CURRENT ROW) AS s FROM crossings
SELECT id, COUNT(*) OVER (ORDER BY day RANGE BETWEEN UNBOUNDED PRECEDING AND UNBOUNDED FOLLOWING EXCLUDE GROUP) AS n FROM crossings
SELECT id, COUNT(*) OVER (ORDER BY day RANGE BETWEEN UNBOUNDED PRECEDING AND UNBOUNDED FOLLOWING EXCLUDE TIES) AS n FROM crossings
SELECT id, LAG(fare) OVER (ORDER BY id) AS a, LEAD(fare) OVER (ORDER BY id) AS b FROM crossings
SELECT id, LAG(id, 2, -1) OVER (ORDER BY id) AS a, LEAD(id, 3) OVER (ORDER BY id) AS b FROM crossings
SELECT id, FIRST_VALUE(name) OVER (ORDER BY id) AS f, LAST_VALUE(name) OVER (ORDER BY id) AS l FROM vessels
SELECT id, NTH_VALUE(name, 2) OVER (ORDER BY id ROWS BETWEEN UNBOUNDED PRECEDING AND UNBOUNDED FOLLOWING) AS n FROM vessels
SELECT id, NTILE(4) OVER (ORDER BY id) AS t FROM crossings
SELECT id, PERCENT_RANK() OVER (ORDER BY id) AS p, CUME_DIST() OVER (ORDER BY id) AS c FROM vessels
SELECT kind, SUM(tons) AS s, SUM(SUM(tons)) OVER () AS total FROM vessels GROUP BY kind
SELECT kind, RANK() OVER (ORDER BY COUNT(*) DESC) AS r FROM vessels GROUP BY kind
SELECT id, SUM(id) OVER w AS s, COUNT(*) OVER w AS n FROM crossings WINDOW w AS (PARTITION BY vessel_id ORDER BY id)
SELECT id, SUM(id) OVER (w ROWS BETWEEN 1 PRECEDING AND CURRENT ROW) AS s FROM crossings WINDOW w AS (ORDER BY id)
SELECT id, COUNT(*) FILTER (WHERE fare > 5) OVER (ORDER BY id) AS n FROM crossings
SELECT name FROM (SELECT name, ROW_NUMBER() OVER (PARTITION BY kind ORDER BY tons DESC NULLS LAST, id) AS n FROM vessels) AS d WHERE n = 1
SELECT id FROM crossings WHERE day > '2024-02-29' ORDER BY id
SELECT id FROM crossings WHERE day BETWEEN '2024-01-01' AND '2024-02-29' ORDER BY id
SELECT day, COUNT(*) AS n FROM crossings GROUP BY day ORDER BY day
SELECT id, passengers IS NOT DISTINCT FROM 7 AS a, passengers IS DISTINCT FROM NULL AS b FROM crossings ORDER BY id
SELECT CAST('12' AS INTEGER) AS a, CAST(12 AS VARCHAR(5)) AS b, CAST(-3 AS TEXT) AS c
SELECT id, tons, tons / 7 AS d, tons % 7 AS r FROM vessels ORDER BY id
SELECT id, -tons AS a, +tons AS b, - -tons AS c FROM vessels ORDER BY id
SELECT column1, column2 FROM (VALUES (1, 'a'), (2, NULL)) AS d ORDER BY column1
VALUES (1, 'a'), (2, 'b')
SELECT COUNT(*) AS n FROM crossings c JOIN vessels v ON v.id = c.vessel_id AND v.kind = 'ferry' WHERE c.fare >= 0
SELECT v.kind, COUNT(DISTINCT c.landing_id) AS n FROM vessels v JOIN crossings c ON c.vessel_id = v.id GROUP BY v.kind ORDER BY n, v.kind
SELECT l.waterway_id, SUM(c.passengers) AS p FROM crossings c JOIN landings l ON l.id = c.landing_id GROUP BY l.waterway_id HAVING SUM(c.passengers) > 7
SELECT name FROM vessels v WHERE tons = (SELECT MIN(w.tons) FROM vessels w WHERE w.kind = v.kind) ORDER BY name
SELECT a.id, (SELECT COUNT(*) FROM crossings b WHERE b.day < a.day) AS earlier FROM crossings a ORDER BY a.id
SELECT * FROM vessels JOIN crossings ON vessels.id = crossings.vessel_id WHERE crossings.id = 8
SELECT v.* FROM vessels v WHERE v.id = 1
SELECT id, id AS again FROM vessels WHERE id < 3 ORDER BY again DESC
SELECT name AS "Vessel name", tons AS "t" FROM vessels WHERE id = 1
SELECT COUNT(*) AS n FROM waterways NATURAL JOIN (SELECT 1 AS id UNION ALL SELECT 2) AS d
SELECT id, w.name FROM waterways w JOIN (SELECT 1 AS id, 'x' AS tag UNION ALL SELECT 2, 'y') AS d USING (id) ORDER BY id
SELECT CASE WHEN NULL THEN 1 ELSE 2 END AS a, CASE WHEN 1 = 1 THEN NULL ELSE 3 END AS b
SELECT COALESCE(NULL, NULL, 3) AS a, NULLIF(1, 1) AS b, NULLIF(1, 2) AS c
SELECT id FROM vessels WHERE CASE WHEN tons > 100 THEN kind = 'barge' ELSE kind = 'ferry' END ORDER BY id
SELECT id FROM vessels WHERE (tons > 100 OR kind = 'tug') AND NOT name = 'Coot' ORDER BY id
SELECT SUM(fare) AS s, COUNT(fare) AS n FROM crossings
SELECT vessel_id, SUM(fare) AS s, MAX(fare) AS m FROM crossings GROUP BY vessel_id ORDER BY vessel_id
SELECT id, fare + 1 AS a, fare * 2 AS b, fare - 0.5 AS c FROM crossings ORDER BY id
SELECT name FROM vessels WHERE name > 'H' ORDER BY name, id
SELECT name FROM vessels WHERE name < 'heron' AND name >= 'Heron' ORDER BY name
SELECT 'a' < 'B' AS a, 'a' < 'b' AS b, 'Z' < 'a' AS c, '' < 'a' AS d
SELECT id FROM remarks WHERE note = '  padded  '
SELECT LENGTH(note) AS l FROM remarks ORDER BY id
SELECT id FROM vessels WHERE tags = '' OR tags IS NULL ORDER BY id
SELECT w.name, p.name AS up, g.name AS top FROM waterways w LEFT JOIN waterways p ON p.id = w.parent_id LEFT JOIN waterways g ON g.id = p.parent_id ORDER BY w.id
SELECT v.id, c.id AS c FROM vessels v LEFT JOIN crossings c ON c.vessel_id = v.id AND c.fare > 5 ORDER BY v.id, c.id NULLS LAST
SELECT v.id, c.id AS c FROM vessels v LEFT JOIN crossings c ON c.vessel_id = v.id WHERE c.fare > 5 OR c.id IS NULL ORDER BY v.id, c.id NULLS LAST
SELECT v.id FROM vessels v LEFT JOIN (crossings c JOIN landings l ON l.id = c.landing_id) ON c.vessel_id = v.id WHERE l.id IS NULL ORDER BY v.id
SELECT c.id, l.name FROM landings l RIGHT JOIN crossings c ON l.id = c.landing_id ORDER BY c.id
SELECT l.id AS l, c.id AS c FROM landings l FULL JOIN crossings c ON l.id = c.landing_id
SELECT l.id AS l, r.id AS r FROM landings l FULL JOIN remarks r ON l.id = r.landing_id WHERE l.id IS NULL OR r.id IS NULL
SELECT COUNT(*) AS n FROM vessels a CROSS JOIN vessels b WHERE a.tons < b.tons
SELECT a.id, b.id AS b FROM vessels a JOIN vessels b ON a.tons = b.tons AND a.id < b.id
SELECT a.id, b.id AS b FROM vessels a JOIN vessels b ON a.kind = b.kind AND a.tons < b.tons OR a.id = 5 AND b.id = 1
SELECT COUNT(*) AS n FROM vessels, landings, remarks WHERE vessels.id = landings.id AND remarks.landing_id = landings.id
SELECT r.id FROM remarks r WHERE NOT EXISTS (SELECT 1 FROM landings l WHERE l.id = r.landing_id) ORDER BY r.id
SELECT id FROM landings WHERE id NOT IN (SELECT landing_id FROM remarks) ORDER BY id
SELECT id FROM landings WHERE id NOT IN (SELECT landing_id FROM remarks WHERE landing_id IS NOT NULL) ORDER BY id
SELECT id FROM landings WHERE id IN (1, NULL, 3) ORDER BY id
SELECT id FROM landings WHERE id NOT IN (1, NULL, 3) ORDER BY id
SELECT id FROM landings WHERE berths NOT IN (4) ORDER BY id
SELECT id FROM landings WHERE (berths, waterway_id) IN (SELECT berths, waterway_id FROM landings WHERE id = 1) ORDER BY id
SELECT id FROM vessels WHERE (kind, tons) = ('barge', 120) ORDER BY id
SELECT id FROM vessels WHERE (tons, id) > (40, 1) ORDER BY id
SELECT berths, COUNT(*) AS n, COUNT(name) AS m, COUNT(DISTINCT waterway_id) AS d FROM landings GROUP BY berths ORDER BY berths NULLS LAST
SELECT tons % 50 AS rest, COUNT(*) AS n FROM vessels GROUP BY tons % 50 ORDER BY n, rest
SELECT CASE WHEN tons > 50 THEN 'big' ELSE 'small' END AS size, SUM(tons) AS t FROM vessels GROUP BY CASE WHEN tons > 50 THEN 'big' ELSE 'small' END ORDER BY 1
SELECT kind, COUNT(*) AS n FROM vessels GROUP BY kind HAVING COUNT(*) > 1 AND MIN(tons) < 100 ORDER BY kind
SELECT COUNT(*) AS n FROM vessels HAVING COUNT(*) > 100
SELECT MAX(tons) AS m FROM vessels WHERE id > 100
SELECT kind, MAX(tons) AS m FROM vessels WHERE id > 100 GROUP BY kind
SELECT SUM(CASE WHEN kind = 'ferry' THEN 1 ELSE 0 END) AS f, SUM(CASE WHEN kind = 'barge' THEN tons END) AS b FROM vessels
SELECT kind, GROUP_CONCAT_ FROM (SELECT kind, MIN(name) AS GROUP_CONCAT_ FROM vessels GROUP BY kind) AS d ORDER BY kind NULLS FIRST
SELECT DISTINCT kind, tons > 50 AS big FROM vessels ORDER BY kind NULLS FIRST, big
SELECT DISTINCT vessel_id FROM crossings ORDER BY vessel_id DESC LIMIT 2
SELECT kind FROM vessels UNION SELECT warden FROM remarks ORDER BY 1 NULLS FIRST
SELECT kind FROM vessels UNION ALL SELECT warden FROM remarks ORDER BY kind NULLS FIRST
SELECT id FROM vessels EXCEPT SELECT vessel_id FROM crossings ORDER BY id
SELECT id FROM vessels INTERSECT SELECT vessel_id FROM crossings ORDER BY id
SELECT NULL AS x UNION SELECT NULL UNION SELECT 1 ORDER BY x NULLS FIRST
SELECT x FROM (SELECT id AS x FROM vessels UNION SELECT id FROM landings) AS u WHERE x > 5 ORDER BY x
SELECT * FROM (SELECT id FROM vessels ORDER BY tons DESC NULLS LAST, id LIMIT 3) AS d ORDER BY id
SELECT id FROM vessels ORDER BY tons NULLS FIRST, id DESC LIMIT 2 OFFSET 1
SELECT id FROM vessels ORDER BY id LIMIT 0
SELECT id FROM vessels ORDER BY id LIMIT 100 OFFSET 4
SELECT id FROM vessels ORDER BY kind IS NULL, kind DESC, id
SELECT id FROM vessels ORDER BY CASE kind WHEN 'tug' THEN 0 WHEN 'ferry' THEN 1 ELSE 2 END, id
SELECT id, tons FROM vessels ORDER BY tons * -1 NULLS LAST, id
SELECT id FROM vessels ORDER BY (SELECT COUNT(*) FROM crossings WHERE vessel_id = vessels.id) DESC, id
WITH big AS (SELECT * FROM vessels WHERE tons > 30), busy AS (SELECT vessel_id, COUNT(*) AS n FROM crossings GROUP BY vessel_id) SELECT big.name, n FROM big LEFT JOIN busy ON vessel_id = big.id ORDER BY big.id
WITH a (x, y) AS (SELECT id, name FROM vessels WHERE id < 3) SELECT b.x, b.y FROM a AS b ORDER BY x
WITH RECURSIVE n (i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 5) SELECT i FROM n ORDER BY i
WITH RECURSIVE n (i) AS (SELECT 1 UNION SELECT (i + 1) % 4 FROM n) SELECT i FROM n ORDER BY i
WITH RECURSIVE t (id, name, depth) AS (SELECT id, name, 0 FROM waterways WHERE parent_id IS NULL UNION ALL SELECT w.id, w.name, t.depth + 1 FROM waterways w JOIN t ON w.parent_id = t.id) SELECT id, name, depth FROM t ORDER BY id
WITH RECURSIVE t (id, path) AS (SELECT id, CAST(name AS TEXT) FROM waterways WHERE parent_id IS NULL UNION ALL SELECT w.id, t.path || '/' || w.name FROM waterways w JOIN t ON w.parent_id = t.id) SELECT path FROM t ORDER BY path
SELECT id, DENSE_RANK() OVER (ORDER BY tons NULLS FIRST) AS d, RANK() OVER (ORDER BY tons NULLS FIRST) AS r FROM vessels ORDER BY id
SELECT id, ROW_NUMBER() OVER (PARTITION BY kind ORDER BY id DESC) AS n FROM vessels ORDER BY id
SELECT id, SUM(tons) OVER (PARTITION BY kind) AS s, tons - AVG(tons) OVER (PARTITION BY kind) < 0 AS below FROM vessels ORDER BY id
SELECT id, COUNT(tons) OVER (ORDER BY id ROWS BETWEEN 2 PRECEDING AND CURRENT ROW) AS n FROM vessels ORDER BY id
SELECT id, MIN(tons) OVER (ORDER BY id ROWS BETWEEN CURRENT ROW AND UNBOUNDED FOLLOWING) AS m FROM vessels ORDER BY id
SELECT id, LAST_VALUE(id) OVER (ORDER BY passengers NULLS FIRST, id ROWS BETWEEN CURRENT ROW AND 1 FOLLOWING) AS l FROM crossings ORDER BY id
SELECT id, FIRST_VALUE(fare) OVER (PARTITION BY vessel_id ORDER BY id ROWS BETWEEN 1 PRECEDING AND 1 PRECEDING) AS f FROM crossings ORDER BY id
SELECT id, SUM(id) OVER (PARTITION BY day ORDER BY id) AS s FROM crossings WHERE passengers IS NOT NULL ORDER BY id
SELECT id, NTILE(3) OVER (PARTITION BY landing_id ORDER BY id) AS t FROM crossings ORDER BY id
SELECT day, SUM(COUNT(*)) OVER (ORDER BY day) AS run FROM crossings GROUP BY day ORDER BY day
SELECT id, name LIKE '%er%' AS a, name LIKE '_' AS b, name NOT LIKE '%' AS c FROM vessels WHERE name > 'S' ORDER BY id
SELECT id FROM vessels WHERE permit LIKE 'X\_9\%' ESCAPE '\' ORDER BY id
SELECT id FROM remarks WHERE note LIKE '%!%%' ESCAPE '!' ORDER BY id
SELECT id, TRIM(note) AS t, LTRIM(note) AS l, RTRIM(note) AS r FROM remarks WHERE id = 6
SELECT id, REPLACE(tags, 'coal', '') AS a, LENGTH(REPLACE(tags, ',', '')) AS b FROM vessels ORDER BY id
SELECT UPPER(name) AS u, LOWER(permit) AS l, SUBSTR(permit, 4) AS s, SUBSTR(permit, 1, 2) AS t FROM vessels ORDER BY id
SELECT id, name || ':' || COALESCE(permit, '-') AS t, name || permit AS n FROM vessels ORDER BY id
SELECT ABS(-7) AS a, ABS(tons - 50) AS b FROM vessels WHERE id < 3 ORDER BY id
SELECT 7 / 2 AS a, -7 / 2 AS b, 7 % -3 AS c, -7 % 3 AS d
SELECT 2 + 3 * 4 AS a, (2 + 3) * 4 AS b, 10 - 4 - 3 AS c, 100 / 10 / 5 AS d
SELECT 1 < 2 AND 2 < 3 OR 1 = 2 AS a, NOT 1 = 2 AND 1 = 1 AS b, NOT (1 = 1 OR 1 = 1) AS c
SELECT 1 = NULL AS a, NULL AND 1 = 2 AS b, NULL OR 1 = 1 AS c, NOT NULL AS d FROM vessels WHERE id = 1
SELECT id, tons BETWEEN 20 AND 100 AS a, tons NOT BETWEEN 20 AND 100 AS b, id BETWEEN 3 AND 2 AS c FROM vessels ORDER BY id
SELECT id FROM vessels WHERE tons > (SELECT AVG(tons) FROM vessels) ORDER BY id
SELECT id, (SELECT name FROM landings l WHERE l.id = c.landing_id) AS at FROM crossings c ORDER BY id
SELECT (SELECT MAX(id) FROM crossings WHERE vessel_id = v.id AND fare > (SELECT AVG(fare) FROM crossings WHERE vessel_id = v.id)) AS m FROM vessels v ORDER BY v.id
SELECT nowhere FROM vessels
SELECT id FROM nothing_here
SELECT v.nowhere FROM vessels v
SELECT id FROM vessels v JOIN crossings c ON c.vessel_id = v.id
SELECT id, COUNT(*) FROM vessels WHERE COUNT(*) > 1 GROUP BY id
SELECT id FROM vessels UNION SELECT id, name FROM vessels
SELECT (SELECT id, name FROM vessels WHERE id = 1) AS x
