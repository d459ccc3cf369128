-- Pairs of sites with near names that somebody said are both right, as the names were then.
create table both_right (
    one bigint not null references site on delete cascade,
    other bigint not null references site on delete cascade,
    meaning text not null,
    other_meaning text not null,
    reason text,
    by_person bigint not null references person,
    at timestamptz not null,
    primary key (one, other),
    check (one < other)
);

grant select, insert, update, delete on both_right to attic_server;
