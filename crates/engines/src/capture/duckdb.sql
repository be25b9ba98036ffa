-- schema
SELECT current_schema()

-- tables
SELECT table_name, 'table', NULL::VARCHAR FROM duckdb_tables() WHERE schema_name = {schema} AND NOT internal AND database_name = current_database()
UNION ALL
SELECT view_name, 'view', rtrim(sql, ';') FROM duckdb_views() WHERE schema_name = {schema} AND NOT internal AND database_name = current_database()

-- columns
SELECT table_name, column_name, data_type, NOT is_nullable, column_default
FROM duckdb_columns()
WHERE schema_name = {schema} AND NOT internal AND database_name = current_database()
ORDER BY table_name, column_index

-- keys
SELECT k.table_name, k.constraint_name, k.constraint_type[1], k.own, k.referenced_table, k.other
FROM (SELECT table_name, constraint_name, constraint_type, referenced_table, constraint_index,
             unnest(constraint_column_names) AS own,
             unnest(referenced_column_names) AS other,
             generate_subscripts(constraint_column_names, 1) AS place
      FROM duckdb_constraints()
      WHERE schema_name = {schema} AND database_name = current_database() AND constraint_type IN ('PRIMARY KEY', 'UNIQUE', 'FOREIGN KEY')) k
ORDER BY k.table_name, k.constraint_type DESC, k.constraint_index, k.place

-- checks
SELECT table_name, constraint_name, expression
FROM duckdb_constraints()
WHERE schema_name = {schema} AND database_name = current_database() AND constraint_type = 'CHECK'
ORDER BY table_name, constraint_index

-- functions
SELECT function_name,
       'CREATE MACRO {name} (' || array_to_string(parameters, ', ') || ') AS ' || CASE function_type WHEN 'table_macro' THEN 'TABLE ' ELSE '' END || macro_definition
FROM duckdb_functions()
WHERE schema_name = {schema} AND NOT internal AND function_type IN ('macro', 'table_macro')
ORDER BY function_name
