SELECT owner, sum(tons) AS hauled, count(*) n
FROM loads
WHERE owner IS NOT NULL
GROUP BY owner
ORDER BY hauled DESC, owner
LIMIT 3;
