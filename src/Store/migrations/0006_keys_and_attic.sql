-- Keys handed over, sites put away and brought back, what waits for a second person, letters and their links.

alter table site
    add column existence smallint not null default 0 check (existence between 0 and 2),
    add column stands_at timestamptz not null default '-infinity',
    add column bin_since timestamptz,
    add column bin_by bigint references person,
    add column bin_until timestamptz,
    add column bin_erased timestamptz,
    add column pages integer,
    add column bytes bigint,
    add column domains text[],
    add column parent text,
    add column own_group bigint references people_group,
    add column editing bigint[];

-- What no source has said yet is unknown, not none.
update site set unknowns = unknowns || array['pages', 'bytes', 'domains', 'parent', 'own_group', 'editing'];
update site set stands_at = seen_at;
alter table site alter column stands_at drop default;
create index site_parent on site (host, parent) where parent is not null;

-- A wish is an end state of the whole site, no longer of its grants alone.
update host_order set wish = jsonb_build_object('grants', wish);
alter table host_order add column purpose smallint not null default 0 check (purpose between 0 and 3);

create table keep_rule (
    id bigint generated always as identity primary key,
    host text,
    class text,
    days integer not null check (days > 0),
    from_at timestamptz not null,
    until_at timestamptz
);

create table stay (
    id bigint generated always as identity primary key,
    site bigint not null references site,
    place bigint not null,
    state smallint not null check (state between 0 and 8),
    by_person bigint references person,
    at_host boolean not null,
    by_owner boolean not null,
    reason text,
    asked_at timestamptz not null,
    stoppable_until timestamptz,
    put_away_at timestamptz,
    went jsonb not null,
    classes jsonb not null,
    order_id uuid,
    return_wish jsonb,
    came jsonb,
    ended_at timestamptz,
    words text
);
-- One way into the attic at a time.
create unique index stay_open on stay (site) where state <= 4;
create index stay_site on stay (site, id);

create table hold (
    id bigint generated always as identity primary key,
    site bigint not null references site,
    reason text not null,
    by_person bigint not null references person,
    from_at timestamptz not null,
    through date,
    released_at timestamptz
);
create index hold_site on hold (site);

create table offer (
    id uuid primary key,
    site bigint not null references site,
    state smallint not null check (state between 0 and 7),
    to_person bigint not null references person,
    giver bigint references person,
    giver_after smallint not null check (giver_after between 0 and 1),
    by_person bigint not null references person,
    second bigint references person,
    reason text,
    offered_at timestamptz not null,
    through date not null,
    answered_at timestamptz,
    ended_at timestamptz,
    order_id uuid,
    words text
);
-- A key is offered to one person at a time.
create unique index offer_open on offer (site, coalesce(giver, 0)) where state in (0, 1);
create index offer_to on offer (to_person);

create table approval (
    id uuid primary key,
    site bigint not null references site,
    state smallint not null check (state between 0 and 5),
    deed text not null,
    wish text not null,
    by_person bigint not null references person,
    by_capacity smallint not null check (by_capacity between 0 and 2),
    reason text,
    because text not null,
    asked_at timestamptz not null,
    through date not null,
    fingerprint text not null,
    renewed integer not null,
    answered_by bigint references person,
    ended_at timestamptz,
    check (answered_by <> by_person)
);
create unique index approval_open on approval (site, deed) where state = 0;

-- Texts for people, collected into mails. A text is written once under its key.
create table letter (
    id bigint generated always as identity primary key,
    person bigint not null references person,
    key text not null,
    title text not null,
    sentences jsonb not null,
    link jsonb,
    written_at timestamptz not null,
    send_at timestamptz not null,
    mail uuid,
    claimed_until timestamptz,
    sent_at timestamptz,
    unique (person, key)
);
create index letter_waiting on letter (send_at) where sent_at is null;

-- Links in mails: kept as hashes, good once, for one person, until their end.
create table link (
    token_hash bytea primary key,
    person bigint not null references person,
    letter bigint references letter,
    purpose smallint not null check (purpose between 0 and 3),
    subject text not null,
    until timestamptz not null,
    made_at timestamptz not null,
    used_at timestamptz
);
create index link_person on link (person, purpose);

-- Who has an account and has not chosen a password yet cannot sign in with one.
alter table account alter column password_hash drop not null;

grant select, insert, update, delete on keep_rule, stay, hold, offer, approval, letter, link to attic_server;
