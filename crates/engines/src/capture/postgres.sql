-- schema
SELECT current_schema()::text

-- tables
SELECT c.relname::text,
       CASE WHEN c.relkind IN ('v', 'm') THEN 'view' ELSE 'table' END,
       CASE WHEN c.relkind IN ('v', 'm') THEN 'CREATE VIEW {name} AS' || chr(10) || rtrim(pg_get_viewdef(c.oid), ';') END
FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
WHERE n.nspname = {schema} AND c.relkind IN ('r', 'p', 'f', 'v', 'm') AND NOT c.relispartition
ORDER BY c.oid

-- columns
SELECT c.relname::text, a.attname::text,
       CASE t.typtype WHEN 'd' THEN format_type(t.typbasetype, t.typtypmod) WHEN 'e' THEN 'text' ELSE format_type(a.atttypid, a.atttypmod) END,
       a.attnotnull,
       CASE WHEN a.attgenerated = '' THEN pg_get_expr(d.adbin, d.adrelid) END
FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum > 0 AND NOT a.attisdropped
JOIN pg_type t ON t.oid = a.atttypid
LEFT JOIN pg_attrdef d ON d.adrelid = c.oid AND d.adnum = a.attnum
WHERE n.nspname = {schema} AND c.relkind IN ('r', 'p', 'f')
ORDER BY c.relname, a.attnum

-- keys
SELECT c.relname::text, k.conname::text, upper(k.contype::text), a.attname::text, p.relname::text, b.attname::text
FROM pg_constraint k JOIN pg_class c ON c.oid = k.conrelid JOIN pg_namespace n ON n.oid = c.relnamespace
CROSS JOIN LATERAL unnest(k.conkey) WITH ORDINALITY AS o (own, place)
JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum = o.own
LEFT JOIN pg_class p ON p.oid = k.confrelid
LEFT JOIN pg_attribute b ON b.attrelid = p.oid AND b.attnum = k.confkey[o.place]
WHERE n.nspname = {schema} AND k.contype IN ('p', 'u', 'f')
ORDER BY c.relname, k.contype DESC, k.conname, o.place

-- checks
SELECT c.relname::text, k.conname::text, pg_get_expr(k.conbin, k.conrelid)
FROM pg_constraint k JOIN pg_class c ON c.oid = k.conrelid JOIN pg_namespace n ON n.oid = c.relnamespace
WHERE n.nspname = {schema} AND k.contype = 'c'
ORDER BY c.relname, k.conname

-- functions
SELECT p.proname::text, rtrim(pg_get_functiondef(p.oid), chr(10))
FROM pg_proc p JOIN pg_namespace n ON n.oid = p.pronamespace JOIN pg_language l ON l.oid = p.prolang
WHERE n.nspname = {schema} AND l.lanname = 'sql' AND p.prokind = 'f'
ORDER BY p.proname, p.oid
