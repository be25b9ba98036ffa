SELECT id, day, passengers
FROM crossings
WHERE passengers BETWEEN 5 AND 30
ORDER BY passengers DESC NULLS LAST, id
LIMIT 10 OFFSET 20;
