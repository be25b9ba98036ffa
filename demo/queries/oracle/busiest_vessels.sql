SELECT /*+ FIRST_ROWS(5) */ name, trips
FROM (SELECT v.name, COUNT(*) AS trips
      FROM   vessels v, crossings c
      WHERE  c.vessel_id = v.id
      AND    c.day >= DATE '2026-02-01'
      GROUP BY v.name
      ORDER BY COUNT(*) DESC, v.name)
WHERE ROWNUM < 6
/
