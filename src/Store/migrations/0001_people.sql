-- Who there is: units, people, groups, and which transaction last changed any of them.

create table unit (
    code text primary key,
    name text not null,
    parent text references unit
);

create table person (
    id bigint generated always as identity primary key,
    kind smallint not null check (kind between 0 and 3),
    standing smallint not null check (standing between 0 and 3),
    day date,
    unit text references unit,
    -- True where no source has reported the unit; false with a null unit where there is none.
    unit_unknown boolean not null default false,
    classification text not null default '',
    mail_fails boolean not null default false,
    -- Whether an imported list speaks of the person.
    by_hand boolean not null default false,
    constraint person_unit_check check (unit is null or not unit_unknown)
);

-- Names can be erased; the ids in the journal stay.
create table person_name (
    person bigint primary key references person,
    name text not null,
    mail text not null
);
create unique index person_name_mail on person_name (lower(mail));

-- Who invited a guest and answers for them, as each source reports it.
create table person_sponsor (
    guest bigint not null references person,
    source text not null,
    sponsor bigint not null references person,
    primary key (guest, source)
);
create index person_sponsor_of on person_sponsor (sponsor);

create table people_group (
    id bigint generated always as identity primary key,
    source text not null,
    source_key text not null,
    name text not null,
    complete boolean not null,
    unique (source, source_key)
);

create table group_member (
    id bigint generated always as identity primary key,
    of_group bigint not null references people_group on delete cascade,
    person bigint references person,
    inner_group bigint references people_group on delete cascade,
    unit text references unit,
    check (num_nonnulls(person, inner_group, unit) = 1)
);
create index group_member_of on group_member (of_group);

-- A server that has read the directory reads it again when this transaction is another one.
create table directory_version (
    single boolean primary key default true check (single),
    changed_by xid8 not null
);
insert into directory_version (changed_by) values (pg_current_xact_id());

create function directory_changed() returns trigger language plpgsql security definer set search_path = public as $$
begin
    update directory_version set changed_by = pg_current_xact_id() where changed_by <> pg_current_xact_id();
    return null;
end $$;

do $$
declare
    of_directory text;
begin
    foreach of_directory in array array['unit', 'person', 'person_name', 'people_group', 'group_member'] loop
        execute format('create trigger directory_changed after insert or update or delete or truncate on %I execute function directory_changed()', of_directory);
    end loop;
end $$;

-- A person with name and mail address, as one value. Whether mail fails is found by sending it, so no list changes that.
create function person_image(wanted bigint) returns jsonb language sql stable as $$
    select (to_jsonb(p) - 'mail_fails') || jsonb_build_object('name', n.name) from person p left join person_name n on n.person = p.id where p.id = wanted
$$;
