/* Page 3 of the crossings list, ten to a page.
   Copied from the old web front end; do not touch the inner query. */
SELECT id, day, fare
FROM (
    SELECT c.*, ROWNUM AS rn
    FROM (
        SELECT id, day, fare
        FROM crossings
        ORDER BY day DESC, id
    ) c
    WHERE ROWNUM <= 30
)
WHERE rn > 20;
