create index on line (id) include (beyond) where beyond is distinct from false;
create index on line (id) include (edit_inside_least, edit_outside_least) where edit_inside_most > 1 or edit_outside_most > 1;
create index on line (id) include (fit_most) where unit is not null and fit_least < 2;
analyze line;
