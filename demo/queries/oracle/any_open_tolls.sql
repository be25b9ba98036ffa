-- is there anything unpaid at all?
select count(*) open_tolls from tolls where settled = 'n' and rownum = 1
