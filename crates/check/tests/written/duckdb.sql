FROM vessels ORDER BY id LIMIT 2;
SELECT name FROM vessels ORDER BY tons_max DESC, id LIMIT 30%;
SELECT name, kind FROM vessels QUALIFY row_number() OVER (PARTITION BY kind ORDER BY tons_max DESC, id) = 1 ORDER BY name;
SELECT name, rank() OVER (ORDER BY tons_max) AS place FROM vessels QUALIFY place <= 3 ORDER BY place, id;
SELECT kind, count(*) AS n FROM vessels GROUP BY kind QUALIFY dense_rank() OVER (ORDER BY count(*) DESC) = 1 ORDER BY kind;
SELECT * FROM (SELECT name, mile FROM landings ORDER BY mile DESC LIMIT 3) ORDER BY name;
SELECT DISTINCT kind FROM vessels ORDER BY kind DESC LIMIT 2 OFFSET 1;
SELECT name FROM vessels ORDER BY id OFFSET 4;
