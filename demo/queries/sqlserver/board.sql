USE tarn
SET NOCOUNT ON
DECLARE @n int = 5
SELECT TOP (@n) [name] AS Vessel, tons_max
FROM dbo.vessels WITH (NOLOCK)
WHERE kind = 'barge'
ORDER BY tons_max DESC, id
SELECT TOP 3 l.name, l.mile FROM landings l ORDER BY l.mile, l.id
GO
