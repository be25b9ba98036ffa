-- the emptiest and the fullest ferry runs in one list
SELECT * FROM (SELECT TOP 3 id, passengers FROM crossings WHERE passengers IS NOT NULL ORDER BY passengers, id) AS few
UNION ALL
SELECT * FROM (SELECT TOP 3 id, passengers FROM crossings ORDER BY passengers DESC, id) AS many;
