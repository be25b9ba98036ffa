-- schema
SELECT SYS_CONTEXT('USERENV', 'CURRENT_SCHEMA') FROM dual

-- tables
SELECT t.table_name, 'table', NULL FROM all_tables t
WHERE t.owner = {schema} AND t.nested = 'NO' AND t.secondary = 'N' AND t.table_name NOT LIKE 'BIN$%'
ORDER BY t.table_name

-- views
SELECT v.view_name, 'view', 'CREATE VIEW {name} AS' || CHR(10) || v.text_vc FROM all_views v WHERE v.owner = {schema} ORDER BY v.view_name

-- columns
SELECT c.table_name, c.column_name,
       CASE WHEN c.data_type = 'NUMBER' AND c.data_precision IS NULL AND c.data_scale = 0 THEN 'NUMBER(38)'
            WHEN c.data_type = 'NUMBER' AND c.data_precision IS NULL THEN 'NUMBER'
            WHEN c.data_type = 'NUMBER' THEN 'NUMBER(' || c.data_precision || ',' || c.data_scale || ')'
            WHEN c.data_type IN ('VARCHAR2', 'CHAR') THEN c.data_type || '(' || c.char_length || CASE c.char_used WHEN 'C' THEN ' CHAR' ELSE ' BYTE' END || ')'
            WHEN c.data_type IN ('NVARCHAR2', 'NCHAR') THEN c.data_type || '(' || c.char_length || ')'
            WHEN c.data_type = 'RAW' THEN 'RAW(' || c.data_length || ')'
            ELSE c.data_type END,
       CASE c.nullable WHEN 'N' THEN 1 ELSE 0 END,
       NULL
FROM all_tab_columns c JOIN all_tables t ON t.owner = c.owner AND t.table_name = c.table_name
WHERE c.owner = {schema}
ORDER BY c.table_name, c.column_id

-- keys
SELECT k.table_name, k.constraint_name, CASE k.constraint_type WHEN 'R' THEN 'F' ELSE k.constraint_type END, o.column_name, p.table_name, q.column_name
FROM all_constraints k
JOIN all_cons_columns o ON o.owner = k.owner AND o.constraint_name = k.constraint_name
LEFT JOIN all_constraints p ON p.owner = k.r_owner AND p.constraint_name = k.r_constraint_name
LEFT JOIN all_cons_columns q ON q.owner = p.owner AND q.constraint_name = p.constraint_name AND q.position = o.position
WHERE k.owner = {schema} AND k.constraint_type IN ('P', 'U', 'R')
ORDER BY k.table_name, k.constraint_type, k.constraint_name, o.position

-- checks
SELECT k.table_name, k.constraint_name, k.search_condition_vc
FROM all_constraints k
WHERE k.owner = {schema} AND k.constraint_type = 'C' AND k.search_condition_vc NOT LIKE '%IS NOT NULL'
ORDER BY k.table_name, k.constraint_name
