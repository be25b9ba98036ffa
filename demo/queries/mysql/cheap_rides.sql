SELECT SQL_NO_CACHE c.id, c.fare, v.name
FROM crossings c
  STRAIGHT_JOIN vessels v ON v.id = c.vessel_id
WHERE c.fare != 0 AND v.kind = 'ferry'
ORDER BY c.fare, c.id LIMIT 8
;
