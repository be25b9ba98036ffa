-- schema
SELECT @@dataset_id

-- tables
SELECT table_name, CASE table_type WHEN 'VIEW' THEN 'view' ELSE 'table' END, RTRIM(ddl, ';')
FROM INFORMATION_SCHEMA.TABLES
ORDER BY creation_time, table_name

-- functions
SELECT routine_name, RTRIM(ddl, ';') FROM INFORMATION_SCHEMA.ROUTINES
WHERE routine_type IN ('FUNCTION', 'TABLE FUNCTION') AND routine_body = 'SQL'
ORDER BY routine_name
