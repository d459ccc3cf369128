-- Refused requests are counted by the minute, so that a hundred of them are one entry of the journal.
create table refused_request (
    -- Of an account that may be removed before they are journalled.
    account bigint not null,
    person bigint not null references person,
    reason text not null,
    minute timestamptz not null,
    -- The first of them.
    method text not null,
    path text not null,
    count integer not null check (count > 0),
    primary key (account, reason, minute)
);
grant select, insert, update, delete on refused_request to attic_server;

-- The journal of one person, and of some days.
create index journal_actor on journal (actor, number);
create index journal_at on journal (at, number);

-- The changes that are not settled, by site: what is under way, and what a sync has to verify.
create index host_change_unsettled on host_change (site, place) where state in (0, 1, 2);

-- A site that a list names by its address is found without reading all sites of its host.
create index site_address on site (host, address) where address is not null;

-- Like every stored enumeration, this one has only the values that the code knows.
alter table site add constraint site_sharing_source_check check (sharing_source between 0 and 1);
