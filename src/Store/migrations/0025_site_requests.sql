-- Requests to start a site, and how far each is made at its host. While a request is open, its address is held for it.
create table site_request (
    id uuid primary key,
    state smallint not null check (state between 0 and 5),
    -- The wanted site, as filled in.
    wanted jsonb not null,
    host text not null,
    address text not null,
    unit text,
    mail_alias text,
    by_person bigint not null references person,
    requested_at timestamptz not null,
    through date not null,
    answered_by bigint references person,
    answered_at timestamptz,
    answer text,
    steps text[] not null,
    done integer not null,
    attempts integer not null,
    next_try timestamptz not null,
    lease text,
    lease_until timestamptz,
    message text,
    host_key text,
    site bigint references site,
    restriction uuid references host_change,
    ended_at timestamptz
);
create index site_request_open on site_request (state) where state in (0, 1, 2);
create unique index site_request_alias on site_request (mail_alias) where state in (0, 1, 2);
create index site_request_by on site_request (by_person);

create index site_mail_alias on site ((optional ->> 'mailAlias')) where optional ->> 'mailAlias' is not null;

grant select, insert, update on site_request to attic_server;

alter table address_holding
    alter column site drop not null,
    add column request uuid references site_request on delete cascade,
    add constraint address_holding_one check ((site is null) <> (request is null));
create index address_holding_request on address_holding (request) where request is not null;

-- An open request holds its address; when it ends, the site in use that has the address holds it. A second request for one address
-- breaks the key, as a change that asks for an address does.
create function request_holds_address() returns trigger language plpgsql as $$
begin
    if new.state in (0, 1, 2) and (tg_op = 'INSERT' or old.state not in (0, 1, 2)) then
        insert into address_holding (host, address, request) values (new.host, new.address, new.id);
    elsif new.state not in (0, 1, 2) and tg_op = 'UPDATE' and old.state in (0, 1, 2) then
        delete from address_holding where request = new.id;
        perform hold_address(new.host, new.address);
    end if;
    return null;
end $$;
create trigger request_holds_address after insert or update on site_request for each row execute function request_holds_address();

-- Entries are about requests, too.
create or replace function journal_subjects() returns text language sql immutable
    return '^((site|person|account|batch|request):[0-9a-f-]+|(source|rule):[^[:space:][:cntrl:]]{1,200}|organisation|accounts)$';
