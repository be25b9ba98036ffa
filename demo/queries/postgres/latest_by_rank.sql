WITH ranked AS (
    SELECT c.vessel_id, c.day, c.id,
           row_number() OVER (PARTITION BY c.vessel_id ORDER BY c.day DESC, c.id) AS place
    FROM crossings c
)
SELECT v.name, r.day
FROM ranked r JOIN vessels v ON v.id = r.vessel_id
WHERE r.place = 1
ORDER BY r.day DESC, v.name
LIMIT ALL;
