-- schema
SELECT DATABASE()

-- tables
SELECT t.table_name, CASE t.table_type WHEN 'VIEW' THEN 'view' ELSE 'table' END,
       CASE WHEN v.view_definition IS NOT NULL THEN CONCAT('CREATE VIEW {name} AS\n', v.view_definition) END
FROM information_schema.tables t
LEFT JOIN information_schema.views v ON v.table_schema = t.table_schema AND v.table_name = t.table_name
WHERE t.table_schema = {schema} AND t.table_type IN ('BASE TABLE', 'VIEW', 'SYSTEM VERSIONED')
ORDER BY t.create_time, t.table_name

-- columns
SELECT c.table_name, c.column_name, c.column_type, c.is_nullable = 'NO',
       CASE WHEN c.extra LIKE '%GENERATED%' THEN NULL ELSE c.column_default END
FROM information_schema.columns c
JOIN information_schema.tables t ON t.table_schema = c.table_schema AND t.table_name = c.table_name AND t.table_type <> 'VIEW'
WHERE c.table_schema = {schema}
ORDER BY c.table_name, c.ordinal_position

-- keys
SELECT k.table_name, k.constraint_name, LEFT(c.constraint_type, 1), k.column_name, k.referenced_table_name, k.referenced_column_name
FROM information_schema.key_column_usage k
JOIN information_schema.table_constraints c
  ON c.constraint_schema = k.constraint_schema AND c.table_name = k.table_name AND c.constraint_name = k.constraint_name
WHERE k.table_schema = {schema}
ORDER BY k.table_name, c.constraint_type DESC, k.constraint_name, k.ordinal_position

-- checks mysql
SELECT c.table_name, c.constraint_name, k.check_clause
FROM information_schema.check_constraints k
JOIN information_schema.table_constraints c
  ON c.constraint_schema = k.constraint_schema AND c.constraint_name = k.constraint_name AND c.constraint_type = 'CHECK'
WHERE k.constraint_schema = {schema}
ORDER BY c.table_name, c.constraint_name

-- checks mariadb
SELECT k.table_name, k.constraint_name, k.check_clause
FROM information_schema.check_constraints k
WHERE k.constraint_schema = {schema}
ORDER BY k.table_name, k.constraint_name

-- functions
SELECT r.routine_name,
       CONCAT('CREATE FUNCTION {name} (',
              COALESCE((SELECT GROUP_CONCAT(CONCAT(p.parameter_name, ' ', p.dtd_identifier) ORDER BY p.ordinal_position SEPARATOR ', ')
                        FROM information_schema.parameters p
                        WHERE p.specific_schema = r.routine_schema AND p.specific_name = r.specific_name
                          AND p.routine_type = 'FUNCTION' AND p.ordinal_position > 0), ''),
              ') RETURNS ', r.dtd_identifier, CASE r.is_deterministic WHEN 'YES' THEN ' DETERMINISTIC' ELSE '' END, '\n', r.routine_definition)
FROM information_schema.routines r
WHERE r.routine_schema = {schema} AND r.routine_type = 'FUNCTION' AND r.routine_definition NOT LIKE 'BEGIN%'
ORDER BY r.routine_name
