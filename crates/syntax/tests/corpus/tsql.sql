SELECT TOP 10 PERCENT WITH TIES name, tons FROM loads ORDER BY tons DESC
----
DECLARE @n int = 3, @kind nvarchar(20)
SET @kind = N'ferry'
SELECT TOP (@n) v.[name] AS [Vessel Name], total = SUM(c.fare), 'x' AS 'quoted'
FROM dbo.vessels AS v WITH (NOLOCK)
INNER JOIN crossings c ON c.vessel_id = v.id
WHERE v.kind = @kind AND c.fare !< 3
GROUP BY v.[name]
ORDER BY total DESC
SELECT name FROM landings ORDER BY name OFFSET 5 ROWS FETCH NEXT @n ROWS ONLY
UPDATE tolls SET amount += 1 FROM tolls t JOIN crossings c ON c.id = t.crossing_id WHERE c.fare > 3
DELETE TOP (5) FROM tolls
INSERT INTO #recent (id) SELECT id FROM crossings
GO
SELECT * INTO #t FROM vessels
USE tarn
GO 2
----
SELECT v.name, c.fare FROM vessels v CROSS APPLY (SELECT TOP (2) * FROM crossings c WHERE c.vessel_id = v.id ORDER BY c.day DESC) c OUTER APPLY STRING_SPLIT(v.tags, ',') s
----
SELECT ISNULL(name, '') + N'é' + CONVERT(varchar(10), day, 120), TRY_CAST(x AS int), IIF(a > b, 1, 0), LEN(name) FROM db..vessels OPTION (MAXRECURSION 0, RECOMPILE)
----
SELECT a FROM t EXCEPT SELECT b FROM u INTERSECT SELECT c FROM w FOR XML PATH(''), TYPE
----
SELECT DATEADD(day, 1, GETDATE()), x.value('(/a)[1]', 'int') FROM t
----
SELECT name FROM vessels WHERE name LIKE '[a-c]%' ESCAPE '\' AND kind COLLATE Latin1_General_CS_AS = 'x'
----
SELECT [p].* FROM (SELECT kind, fare FROM crossings) s PIVOT (SUM(fare) FOR kind IN ([ferry], [barge])) AS p
----
CREATE TABLE dbo.loads (id int IDENTITY(1,1) NOT NULL PRIMARY KEY CLUSTERED, name nvarchar(max) NULL, total AS (id * 2) PERSISTED, INDEX ix (name))
CREATE FUNCTION dbo.busy (@n int) RETURNS TABLE AS RETURN (SELECT * FROM vessels WHERE id > @n)
