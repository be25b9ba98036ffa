select name, depth from landings order by depth desc, id limit 6;
