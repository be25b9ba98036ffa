-- The three heaviest loads of the year, as the yard office has always asked for them.
SELECT *
  FROM (SELECT name, tons      -- tons can be missing: the weigher was ill
          FROM loads
         ORDER BY tons DESC, id)
 WHERE ROWNUM <= 3;
