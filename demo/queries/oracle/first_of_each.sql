SELECT v.name,
       (SELECT MAX(c.day) FROM crossings c WHERE c.vessel_id = v.id) last_seen
  FROM vessels v
 WHERE EXISTS (SELECT 1 FROM crossings c WHERE c.vessel_id = v.id AND c.fare > 4 AND ROWNUM = 1)
 ORDER BY v.name;
