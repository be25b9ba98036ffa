SELECT l.name, w.name waterway, l.depth
  FROM landings l JOIN waterways w ON w.id = l.waterway_id
 ORDER BY l.depth DESC, l.id
 FETCH FIRST 5 ROWS WITH TIES;

-- the shallow ones; NULLs were never sounded and come last
SELECT l.name, l.depth FROM landings l ORDER BY l.depth, l.name OFFSET 2 ROWS FETCH NEXT 4 ROWS ONLY;
