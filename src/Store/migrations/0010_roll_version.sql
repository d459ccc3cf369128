-- Which transaction last changed people, groups or units. Whoever has read them all knows by it whether to read them again.

create table roll_version (
    single boolean primary key default true check (single),
    changed_by xid8 not null
);
insert into roll_version (changed_by) values (pg_current_xact_id());

create function roll_changed() returns trigger language plpgsql security definer set search_path = public as $$
begin
    update roll_version set changed_by = pg_current_xact_id() where changed_by <> pg_current_xact_id();
    return null;
end $$;

do $$
declare
    of_roll text;
begin
    foreach of_roll in array array['unit', 'person', 'person_name', 'people_group', 'group_member'] loop
        execute format('create trigger roll_changed after insert or update or delete or truncate on %I execute function roll_changed()', of_roll);
    end loop;
end $$;

grant select on roll_version to attic_server;
