-- The register: who there is, what there is, what the house has decided.
-- A fact is a value, none (null), or unknown: then its name stands in the row's "unknowns".

create table unit (
    code text primary key,
    name text not null,
    parent text references unit
);

create table person (
    id bigint generated always as identity primary key,
    kind smallint not null check (kind between 0 and 2),
    standing smallint not null check (standing between 0 and 3),
    day date,
    unit text references unit,
    class text not null default '',
    mail_fails boolean not null default false
);

-- Names can be erased; the ids in the journal stay.
create table person_name (
    person bigint primary key references person,
    name text not null,
    mail text not null
);
create unique index person_name_mail on person_name (lower(mail));

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

create table house_setting (
    name text primary key,
    value text not null
);

create table house_limit (
    id bigint generated always as identity primary key,
    kind smallint not null check (kind between 0 and 7),
    code text not null,
    enforcer smallint not null check (enforcer between 0 and 1),
    limits jsonb,
    unique (kind, code, enforcer)
);

create table site_kind (
    code text primary key,
    name text not null,
    always_all_staff boolean not null
);

create table house_rule (
    id text primary key,
    title text not null,
    short text not null,
    level smallint not null check (level between 0 and 2),
    scope text not null,
    demand text not null,
    from_day date not null
);

create table site (
    id bigint generated always as identity primary key,
    host text not null,
    host_key text not null,
    name text,
    address text,
    unit text references unit,
    class text,
    kind text,
    stage smallint check (stage between 0 and 3),
    created timestamptz,
    edited timestamptz,
    visited timestamptz,
    visits integer,
    own_limit jsonb,
    sharing_at timestamptz,
    sharing_source smallint,
    unknowns text[] not null,
    seen_at timestamptz not null,
    vanished boolean not null default false,
    unique (host, host_key)
);

create table site_grant (
    site bigint not null references site on delete cascade,
    key text not null,
    power smallint not null check (power between 0 and 6),
    subject text not null check (subject in ('person', 'group', 'unit', 'staff', 'partners', 'passers-by')),
    person bigint references person,
    people_group bigint references people_group,
    unit text references unit,
    proof smallint not null check (proof between 0 and 2),
    is_link boolean not null,
    through date,
    primary key (site, key)
);

create table host_order (
    id uuid primary key,
    site bigint not null references site,
    place bigint not null unique,
    wish jsonb not null,
    before jsonb not null,
    state smallint not null check (state between 0 and 8),
    by_person bigint not null references person,
    reason text,
    undo_of uuid references host_order,
    asked_at timestamptz not null,
    due_at timestamptz not null,
    attempts integer not null,
    next_try timestamptz not null,
    lease text,
    lease_until timestamptz,
    sent_at timestamptz,
    confirmed_at timestamptz,
    seen_at timestamptz,
    words text
);
create index host_order_site on host_order (site, place);
create index host_order_open on host_order (next_try) where state in (0, 1);

-- Since when a site breaks a rule. Written from the sheet, differences only.
create table finding (
    site bigint not null references site on delete cascade,
    rule text not null,
    cannot_tell boolean not null,
    since timestamptz not null,
    primary key (site, rule)
);

create table source (
    name text primary key,
    began timestamptz,
    ended timestamptz,
    complete boolean,
    read integer not null default 0,
    expected integer,
    refused jsonb not null default '[]',
    error text,
    lease text,
    lease_until timestamptz,
    wanted boolean not null default false
);
