(SELECT name, length_km FROM waterways WHERE parent_id IS NULL ORDER BY length_km DESC LIMIT 1)
UNION ALL
(SELECT name, length_km FROM waterways WHERE parent_id IS NOT NULL ORDER BY length_km DESC, id LIMIT 4)
ORDER BY length_km DESC, name;
