-- Decisions of the desk that wait until a day.
create table put_off (
    decision text primary key,
    through date not null,
    reason text not null,
    by_person bigint not null references person,
    at timestamptz not null,
    sites bigint[] not null
);

grant select, insert, update, delete on put_off to attic_server;
