-- The number of other sites in use with the same name or nearly so, where it is not 0; unknown of all sites before the first count.
create table near_name (
    site bigint primary key references site on delete cascade,
    others integer not null check (others > 0)
);
create table near_names_counted (at timestamptz not null);

grant select, insert, update, delete on near_name, near_names_counted to attic_server;
