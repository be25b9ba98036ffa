-- the dearest tenth of all crossings, and whoever paid as much
SELECT TOP 10 PERCENT WITH TIES c.id, c.fare
FROM dbo.crossings AS c
WHERE c.fare IS NOT NULL
ORDER BY c.fare DESC
