SELECT name, tons FROM loads WHERE tons > 3 AND name <> 'quay' ORDER BY tons DESC, name
----
select  v.name,
        count(*) as crossings   -- how many
from vessels v
  join crossings c on c.vessel_id = v.id
where v.name like 'H%' /* herons */ and (c.fare between 2 and 9 or c.fare is null)
group by v.name
having count(*) > 1
order by 2 desc;
----
SELECT CASE WHEN tons IS NULL THEN 'none' WHEN tons >= 10 THEN 'heavy' ELSE 'light' END AS class,
       CAST(tons AS DECIMAL(10, 2)), -tons, - -1, tons * (1 + 2) / 3 - 4
FROM loads
WHERE id IN (1, 2, 3) AND NOT EXISTS (SELECT 1 FROM tolls t WHERE t.load_id = loads.id)
  AND id NOT IN (SELECT load_id FROM tolls WHERE load_id IS NOT NULL)
----
SELECT a.id FROM landings a LEFT JOIN landings b ON b.waterway_id = a.waterway_id AND b.mile < a.mile
UNION ALL
SELECT id FROM vessels
----
WITH busy AS (SELECT vessel_id, COUNT(*) AS n FROM crossings GROUP BY vessel_id)
SELECT v.name, b.n, ROW_NUMBER() OVER (PARTITION BY v.kind ORDER BY b.n DESC) AS place
FROM busy b JOIN vessels v ON v.id = b.vessel_id
----
INSERT INTO tolls (id, amount) VALUES (1, 2.50), (2, NULL);
UPDATE tolls SET amount = amount + 1, paid = 'y' WHERE id = 1;
DELETE FROM tolls WHERE amount IS NULL;
----
SELECT (SELECT MAX(fare) FROM crossings) AS top_fare, x.n FROM (SELECT 1 AS n) x CROSS JOIN (SELECT 2 AS m) y
----

-- only a comment

