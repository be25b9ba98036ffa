select id, amount from tolls order by amount desc, id limit 18446744073709551615 offset 90;
