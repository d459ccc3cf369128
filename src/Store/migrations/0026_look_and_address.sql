-- Changes of name, description, logo and address; the pages that link to sites; the pictures of logos.
alter table host_change
    drop constraint host_change_purpose_check,
    add constraint host_change_purpose_check check (purpose between 0 and 5),
    -- The look and the address before, as far as the change names them.
    add column former jsonb;

-- A change of an address asks for it, as restoring at an address does. A site may return to an address that forwards to it; in an
-- exchange the address stays with the site that has it, until the host has exchanged both.
drop trigger change_asks_for_address on host_change;
create trigger change_asks_for_address after insert on host_change for each row
when (
    (new.wanted ->> 'existence' = 'InUse' or new.wanted ->> 'address' is not null)
    and new.wanted ->> 'swapWith' is null and new.state in (0, 1, 2)
)
execute function change_asks_for_address();
drop trigger change_asks_again on host_change;
create trigger change_asks_again after update on host_change for each row
when (
    (new.wanted ->> 'existence' = 'InUse' or new.wanted ->> 'address' is not null)
    and new.wanted ->> 'swapWith' is null and new.state in (0, 1, 2) and old.state not in (0, 1, 2)
)
execute function change_asks_for_address();
drop trigger change_settles_address on host_change;
create trigger change_settles_address after update on host_change for each row
when (
    (new.wanted ->> 'existence' = 'InUse' or new.wanted ->> 'address' is not null)
    and new.state not in (0, 1, 2) and old.state in (0, 1, 2)
)
execute function change_settles_address();

create index site_forwards on site (host) where jsonb_typeof(optional -> 'forwards') = 'array';
create index site_logo_from on site (host, (optional ->> 'logoFrom')) where optional ->> 'logoFrom' is not null;

-- What was read of a site's pages, and when.
create table pages_read (
    site bigint primary key references site on delete cascade,
    read_at timestamptz not null,
    -- The last edit at that time, so that only changed sites are read again.
    edited timestamptz,
    -- Null if they were read; otherwise why not.
    fault text
);
grant select, insert, update, delete on pages_read to attic_server;

-- The addresses of sites that pages link to: those of the same host and of others.
create table page_link (
    site bigint not null references site on delete cascade,
    page text not null,
    target text not null,
    primary key (site, page, target)
);
create index page_link_target on page_link (target);
grant select, insert, update, delete on page_link to attic_server;

-- Pictures of logos, encoded again here.
create table picture (
    hash text primary key,
    png bytea not null,
    width integer not null,
    height integer not null,
    by_person bigint references person,
    kept_at timestamptz not null
);
grant select, insert, delete on picture to attic_server;
