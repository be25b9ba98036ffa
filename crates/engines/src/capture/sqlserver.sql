-- schema
SELECT SCHEMA_NAME()

-- tables
SELECT o.name, CASE o.type WHEN 'V' THEN 'view' ELSE 'table' END, CASE o.type WHEN 'V' THEN OBJECT_DEFINITION(o.object_id) END
FROM sys.objects o
WHERE SCHEMA_NAME(o.schema_id) = {schema} AND o.type IN ('U', 'V') AND o.is_ms_shipped = 0
ORDER BY o.object_id

-- columns
SELECT o.name, c.name,
       CASE WHEN t.name IN ('decimal', 'numeric') THEN CONCAT(t.name, '(', c.precision, ',', c.scale, ')')
            WHEN t.name IN ('datetime2', 'datetimeoffset', 'time') THEN CONCAT(t.name, '(', c.scale, ')')
            WHEN t.name IN ('varchar', 'char', 'varbinary', 'binary') THEN CONCAT(t.name, '(', CASE c.max_length WHEN -1 THEN 'MAX' ELSE CONCAT(c.max_length, '') END, ')')
            WHEN t.name IN ('nvarchar', 'nchar') THEN CONCAT(t.name, '(', CASE c.max_length WHEN -1 THEN 'MAX' ELSE CONCAT(c.max_length / 2, '') END, ')')
            ELSE t.name END,
       CASE c.is_nullable WHEN 1 THEN 0 ELSE 1 END,
       d.definition
FROM sys.columns c JOIN sys.objects o ON o.object_id = c.object_id AND o.type = 'U'
JOIN sys.types t ON t.user_type_id = c.system_type_id
LEFT JOIN sys.default_constraints d ON d.object_id = c.default_object_id
WHERE SCHEMA_NAME(o.schema_id) = {schema} AND o.is_ms_shipped = 0
ORDER BY o.name, c.column_id

-- keys
SELECT k.table_name, k.name, k.kind, k.own, k.other_table, k.other
FROM (SELECT OBJECT_NAME(x.parent_object_id) AS table_name, x.name, CASE x.type WHEN 'PK' THEN 'P' ELSE 'U' END AS kind,
             COL_NAME(i.object_id, i.column_id) AS own, NULL AS other_table, NULL AS other, i.key_ordinal AS place, x.schema_id
      FROM sys.key_constraints x JOIN sys.index_columns i ON i.object_id = x.parent_object_id AND i.index_id = x.unique_index_id
      UNION ALL
      SELECT OBJECT_NAME(x.parent_object_id), x.name, 'F', COL_NAME(f.parent_object_id, f.parent_column_id),
             OBJECT_NAME(f.referenced_object_id), COL_NAME(f.referenced_object_id, f.referenced_column_id), f.constraint_column_id, x.schema_id
      FROM sys.foreign_keys x JOIN sys.foreign_key_columns f ON f.constraint_object_id = x.object_id) k
WHERE SCHEMA_NAME(k.schema_id) = {schema}
ORDER BY k.table_name, k.kind DESC, k.name, k.place

-- checks
SELECT OBJECT_NAME(parent_object_id), name, definition FROM sys.check_constraints
WHERE SCHEMA_NAME(schema_id) = {schema}
ORDER BY 1, 2

-- functions
SELECT o.name, m.definition
FROM sys.objects o JOIN sys.sql_modules m ON m.object_id = o.object_id
WHERE SCHEMA_NAME(o.schema_id) = {schema} AND (o.type = 'IF' OR (o.type = 'FN' AND m.is_inlineable = 1))
ORDER BY o.name
