-- People of whom a list speaks that somebody keeps, and the lists that were taken in, so that one can be taken back.

alter table person add by_hand boolean not null default false;

create table people_taking (
    id bigint generated always as identity primary key,
    taken_at timestamptz not null,
    by_person bigint not null references person,
    undone_at timestamptz
);

create table people_taking_person (
    taking bigint not null references people_taking on delete cascade,
    person bigint not null references person,
    -- Null where the list brought the person.
    before jsonb,
    after jsonb not null,
    primary key (taking, person)
);

-- A person with name and mail address, as one value. That mail fails is found out by mailing, whatever a list says.
create function person_image(wanted bigint) returns jsonb language sql stable as $$
    select (to_jsonb(p) - 'mail_fails') || jsonb_build_object('name', n.name) from person p left join person_name n on n.person = p.id where p.id = wanted
$$;

grant select, insert, update, delete on people_taking, people_taking_person to attic_server;
