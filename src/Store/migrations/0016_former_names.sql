-- The names and addresses that a site had before, so that it is found by them.

create table former_name (
    site bigint not null references site on delete cascade,
    value text not null,
    primary key (site, value)
);
grant select, insert on former_name to attic_server;

create function site_renamed() returns trigger language plpgsql as $$
begin
    insert into former_name (site, value)
    select new.id, value from unnest(array[
        case when old.name is distinct from new.name then old.name end,
        case when old.address is distinct from new.address then old.address end]) as former (value)
    where value is not null
    on conflict do nothing;
    return null;
end $$;
create trigger site_renamed after update of name, address on site for each row
    when (old.name is distinct from new.name or old.address is distinct from new.address) execute function site_renamed();
