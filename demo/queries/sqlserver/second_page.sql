SELECT  l.id,
        l.name,
        l.tons
FROM    dbo.loads l
        INNER JOIN dbo.crossings c ON c.id = l.crossing_id
WHERE   l.tons > 3          -- light goods travel free
ORDER BY l.tons DESC, l.id
OFFSET 10 ROWS FETCH NEXT 10 ROWS ONLY;
