SELECT TOP 4 v.name, total = SUM(c.fare), COUNT(*) AS trips
FROM crossings c
JOIN vessels v ON v.id = c.vessel_id
GROUP BY v.name
HAVING SUM(c.fare) > 10
ORDER BY total DESC, v.name;
