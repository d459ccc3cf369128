-- One table of the addresses that are held on each host: by the site in use that has it, or by the site for which a change asks for it.
-- No two sites hold one address. A host's report is kept as it is: of two sites that it reports at one address, the first holds it.

create table address_holding (
    host text not null,
    address text not null,
    site bigint not null references site on delete cascade,
    -- The change that asks for the address; null if the site has it.
    change_id uuid references host_change,
    primary key (host, address)
);
create index address_holding_site on address_holding (site);
create index address_holding_change on address_holding (change_id) where change_id is not null;
grant select, insert, update, delete on address_holding to attic_server;

-- The first site in use that has an address holds it, if nobody does.
create function hold_address(of_host text, of_address text) returns void language sql as $$
    insert into address_holding (host, address, site)
    select host, address, id from site
    where host = of_host and address = of_address and existence = 0 and not no_longer_reported
    order by id limit 1
    on conflict (host, address) do nothing
$$;

create function sites_added() returns trigger language plpgsql as $$
begin
    insert into address_holding (host, address, site)
    select distinct on (host, address) host, address, id from added
    where address is not null and existence = 0 and not no_longer_reported
    order by host, address, id
    on conflict (host, address) do nothing;
    return null;
end $$;
create trigger site_added after insert on site referencing new table as added for each statement execute function sites_added();

create function site_address_changed() returns trigger language plpgsql as $$
begin
    delete from address_holding where host = old.host and address = old.address and site = new.id and change_id is null;
    perform hold_address(old.host, old.address);
    perform hold_address(new.host, new.address);
    return null;
end $$;
create trigger site_address_changed after update on site for each row
when (
    (old.host, old.address, old.existence, old.no_longer_reported)
    is distinct from (new.host, new.address, new.existence, new.no_longer_reported)
)
execute function site_address_changed();

-- A change that brings a site back into use asks for its address, or for another, until it is verified or has failed. A new one cannot
-- ask for an address that is held: the transaction is tried again, and then the action is refused. One that is returned to the person
-- who does it by hand asks again.
create function change_asks_for_address() returns trigger language plpgsql as $$
begin
    if tg_op = 'UPDATE' and exists (
        select from address_holding h join site s on s.host = h.host
        where s.id = new.site and h.address = coalesce(new.wanted ->> 'address', s.address)
    ) then
        return null;
    end if;
    insert into address_holding (host, address, site, change_id)
    select host, coalesce(new.wanted ->> 'address', address), id, new.id from site
    where id = new.site and coalesce(new.wanted ->> 'address', address) is not null;
    return null;
end $$;
create trigger change_asks_for_address after insert on host_change for each row
when (new.wanted ->> 'existence' = 'InUse' and new.state in (0, 1, 2))
execute function change_asks_for_address();
create trigger change_asks_again after update on host_change for each row
when (new.wanted ->> 'existence' = 'InUse' and new.state in (0, 1, 2) and old.state not in (0, 1, 2))
execute function change_asks_for_address();

create function change_settles_address() returns trigger language plpgsql as $$
declare
    freed record;
begin
    for freed in delete from address_holding where change_id = new.id returning host, address loop
        perform hold_address(freed.host, freed.address);
    end loop;
    return null;
end $$;
create trigger change_settles_address after update on host_change for each row
when (new.wanted ->> 'existence' = 'InUse' and new.state not in (0, 1, 2) and old.state in (0, 1, 2))
execute function change_settles_address();

insert into address_holding (host, address, site)
select distinct on (host, address) host, address, id from site
where address is not null and existence = 0 and not no_longer_reported
order by host, address, id;
insert into address_holding (host, address, site, change_id)
select s.host, coalesce(c.wanted ->> 'address', s.address), s.id, c.id
from host_change c join site s on s.id = c.site
where c.wanted ->> 'existence' = 'InUse' and c.state in (0, 1, 2) and coalesce(c.wanted ->> 'address', s.address) is not null
order by c.place
on conflict (host, address) do nothing;
