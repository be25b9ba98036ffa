-- schema
SELECT current_schema()

-- names
SHOW TABLES IN {schema}

-- describe
DESCRIBE TABLE {schema_name}.{name}
