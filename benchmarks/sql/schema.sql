create table line (
    id integer primary key,
    unit text,
    edit_inside_least smallint not null,
    edit_inside_most smallint not null,
    edit_outside_least smallint not null,
    edit_outside_most smallint not null,
    beyond boolean,
    fit_least integer not null,
    fit_most integer not null
);
