-- Who asked a guest in and answers for them, as each source says.

create table person_sponsor (
    guest bigint not null references person,
    source text not null,
    sponsor bigint not null references person,
    primary key (guest, source)
);
create index person_sponsor_of on person_sponsor (sponsor);

grant select, insert, update, delete on person_sponsor to attic_server;
