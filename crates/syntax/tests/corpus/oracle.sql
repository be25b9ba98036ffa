SELECT * FROM (SELECT name, tons FROM loads ORDER BY tons DESC) WHERE ROWNUM <= 3
----
SELECT /*+ FIRST_ROWS(10) */ v.name FROM vessels v, crossings c WHERE v.id = c.vessel_id(+) AND c.fare(+) > 3 ORDER BY v.name FETCH FIRST 10 PERCENT ROWS WITH TIES
----
SELECT LEVEL, LPAD(' ', 2 * LEVEL) || name, SYS_CONNECT_BY_PATH(name, '/'), CONNECT_BY_ROOT name AS top
FROM waterways
START WITH parent_id IS NULL
CONNECT BY NOCYCLE PRIOR id = parent_id
ORDER SIBLINGS BY name;
----
SELECT DISTINCT name FROM vessels OFFSET 5 ROWS FETCH NEXT 1 ROW ONLY
----
SET PAGESIZE 50
PROMPT Vessels of the day
SELECT q'[it's]', N'x', nvl(name, ''), TO_DATE('2026-01-31', 'YYYY-MM-DD'), SYSDATE FROM dual WHERE x ^= 3
/
SELECT :1, :vessel, &kind FROM dual
/
----
SELECT LISTAGG(name, ', ') WITHIN GROUP (ORDER BY name) OVER (PARTITION BY kind), MAX(fare) KEEP (DENSE_RANK LAST ORDER BY day NULLS FIRST) FROM crossings GROUP BY ROLLUP (kind, (a, b)), CUBE (c), GROUPING SETS ((a), (), b)
----
SELECT id FROM a MINUS SELECT id FROM b INTERSECT (SELECT id FROM c UNION SELECT id FROM d)
----
SELECT t.COLUMN_VALUE FROM vessels v, TABLE(v.tags) t WHERE CAST(MULTISET(SELECT fare FROM crossings) AS fare_list) IS NOT NULL
----
SELECT * FROM crossings PIVOT (SUM(fare) AS total, COUNT(*) n FOR kind IN ('ferry' AS f, 'barge' b)) p
----
SELECT * FROM tolls UNPIVOT INCLUDE NULLS (amount FOR season IN (spring AS 'sp', summer AS 'su'))
----
WITH t (id, lvl) AS (SELECT id, 1 FROM waterways WHERE parent_id IS NULL UNION ALL SELECT w.id, t.lvl + 1 FROM waterways w JOIN t ON t.id = w.parent_id) SEARCH DEPTH FIRST BY id SET ord CYCLE id SET is_cycle TO 'Y' DEFAULT 'N' SELECT * FROM t
----
MERGE INTO tolls t USING (SELECT 1 id FROM dual) s ON (t.id = s.id) WHEN MATCHED THEN UPDATE SET t.amount = 3 WHERE t.paid = 'n' DELETE WHERE t.amount = 0 WHEN NOT MATCHED THEN INSERT (id, amount) VALUES (s.id, 4)
----
CREATE TABLE loads (id NUMBER(10) NOT NULL PRIMARY KEY, name VARCHAR2(40 CHAR), tons NUMBER(8,2) DEFAULT 0 CHECK (tons >= 0), CONSTRAINT fk FOREIGN KEY (id) REFERENCES vessels (id) ON DELETE CASCADE) TABLESPACE users;
CREATE OR REPLACE TYPE tag_list AS TABLE OF VARCHAR2(20)
/
CREATE OR REPLACE FORCE VIEW busy AS SELECT * FROM vessels WITH READ ONLY;
----
CREATE OR REPLACE PROCEDURE note AS BEGIN INSERT INTO tolls VALUES (1); COMMIT; END;
/
SELECT 1 FROM dual;
----
SELECT a, b FROM t WHERE (a, b) IN ((1, 2), (3, 4)) AND a > ANY (SELECT x FROM u) AND b = ALL (1, 2) FOR UPDATE OF a NOWAIT
----
SELECT limit, offset, "Mixed Case" FROM quotas WHERE date_in >= DATE '2026-01-01' AND seen < TIMESTAMP '2026-01-01 10:00:00' + INTERVAL '1' DAY + NUMTODSINTERVAL(1, 'HOUR')
----
SELECT EXTRACT(YEAR FROM day), TRIM(LEADING '0' FROM code), TRIM(BOTH FROM x), TRIM(name) FROM crossings c CROSS APPLY (SELECT * FROM tolls t WHERE t.crossing_id = c.id) x OUTER APPLY TABLE(f(c.id)) y
----
SELECT JSON_VALUE(doc, '$.a' RETURNING NUMBER NULL ON ERROR), REGEXP_SUBSTR(tags, '[^,]+', 1, LEVEL) FROM vessels CONNECT BY PRIOR id = id AND LEVEL <= 3 AND PRIOR SYS_GUID() IS NOT NULL
