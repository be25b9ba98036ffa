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
----
SELECT TOP (5) WITH TIES a, b = c, [d e] FROM dbo.t AS x WITH (NOLOCK, INDEX(i)) ORDER BY a OPTION (MAXDOP 1)
----
SELECT a FROM t CROSS APPLY STRING_SPLIT(t.tags, ';') s OUTER APPLY (SELECT TOP 1 * FROM u WHERE u.id = t.id) x
----
SELECT * FROM (VALUES (1, 'a'), (2, 'b')) AS v (n, w)
----
SELECT * FROM OPENJSON(@j) WITH (a int '$.a', b nvarchar(max) '$.b' AS JSON) AS j
----
SELECT a FROM t FOR XML PATH(''), TYPE
----
SELECT a FROM t FOR JSON AUTO, ROOT('x')
----
SELECT * FROM t PIVOT (SUM(x) FOR k IN ([a], [b])) AS p
----
SELECT * FROM t UNPIVOT (v FOR k IN (a, b)) AS u
----
SELECT CONVERT(varchar(10), d, 120), TRY_CAST(a AS int), TRY_CONVERT(date, b), PARSE('1' AS int USING 'en-US') FROM t
----
SELECT IIF(a > 1, 'x', 'y'), ISNULL(a, 0), CHOOSE(2, 'a', 'b'), a + N'x' FROM t
----
SELECT STRING_AGG(a, ',') WITHIN GROUP (ORDER BY a) FROM t
----
SELECT SUM(a) OVER (ORDER BY b ROWS UNBOUNDED PRECEDING), NTILE(4) OVER (ORDER BY c) FROM t
----
SELECT a FROM t ORDER BY b OFFSET @p * 10 ROWS FETCH NEXT 10 ROWS ONLY
----
SELECT a INTO #x FROM t
----
WITH a AS (SELECT 1 AS n), b (m) AS (SELECT n FROM a) SELECT * FROM b OPTION (MAXRECURSION 0)
----
SELECT a FROM t WHERE b !> 1 AND c !< 2 AND d != 3
----
SELECT a.query('x'), col.value('(/a)[1]', 'int') FROM t
----
INSERT INTO t (a) OUTPUT inserted.a INTO @ids SELECT 1
----
UPDATE t SET a += 1, b = DEFAULT OUTPUT deleted.a FROM dbo.t AS t JOIN u ON u.id = t.id WHERE t.c = 1
----
DELETE TOP (10) t FROM t JOIN u ON u.id = t.id
----
MERGE t AS x USING s ON x.id = s.id WHEN MATCHED THEN UPDATE SET x.a = s.a WHEN NOT MATCHED BY TARGET THEN INSERT (id) VALUES (s.id) WHEN NOT MATCHED BY SOURCE THEN DELETE OUTPUT $action;
----
CREATE TABLE [dbo].[t] ([id] int IDENTITY(1,1) NOT NULL, [a] nvarchar(max) NULL, CONSTRAINT [pk] PRIMARY KEY CLUSTERED ([id] ASC))
----
CREATE FUNCTION dbo.f (@a int) RETURNS TABLE AS RETURN (SELECT @a AS a)
----
SELECT d AT TIME ZONE 'UTC' AS u FROM t
----
SELECT COUNT(*) FROM t GROUP BY ALL a
----
SELECT a, COUNT(*) FROM t GROUP BY a WITH ROLLUP
----
SELECT * FROM t FOR SYSTEM_TIME AS OF '2026-01-01'
----
SELECT * FROM a LEFT HASH JOIN b ON a.x = b.x
