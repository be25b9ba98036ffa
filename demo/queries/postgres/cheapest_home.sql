-- vessels at home where the three cheapest tolls were paid
SELECT v.name FROM vessels v
WHERE v.home_landing_id IN (SELECT t.landing_id FROM tolls t ORDER BY t.amount, t.id LIMIT 3)
ORDER BY v.name;
