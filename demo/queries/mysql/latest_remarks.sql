# what the wardens wrote last
SELECT `id`, `warden`, `remark`
FROM `remarks`
ORDER BY `noted` DESC, `id`
LIMIT 5, 10;
