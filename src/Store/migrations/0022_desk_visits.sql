-- The days on which somebody looked at the desk, to say what has changed since the last one.
create table desk_visit (
    person bigint not null references person,
    day date not null,
    primary key (person, day)
);

grant select, insert, delete on desk_visit to attic_server;
