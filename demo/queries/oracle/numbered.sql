-- rank list for the notice board
SELECT ROWNUM AS place, t.name, t.paid
FROM (SELECT v.name, SUM(t.amount) AS paid
        FROM tolls t JOIN vessels v ON v.id = t.vessel_id
       WHERE t.settled = 'y'
       GROUP BY v.name, v.id
       ORDER BY SUM(t.amount) DESC, v.id) t
WHERE ROWNUM <= 10;
