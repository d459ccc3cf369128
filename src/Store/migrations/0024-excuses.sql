-- Dated exceptions from rules: how far a site may stand from one, and through which day.

create table excuse (
    id bigint generated always as identity primary key,
    site bigint not null references site on delete cascade,
    rule text not null,
    reason text not null,
    by_person bigint not null references person,
    from_at timestamptz not null,
    through date not null,
    demand text not null,
    distance integer[] not null,
    ended_at timestamptz
);
create index excuse_site on excuse (site);
create index excuse_through on excuse (through) where ended_at is null;

grant select, insert, update on excuse to attic_server;
