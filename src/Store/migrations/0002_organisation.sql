-- What the organisation has decided: settings, limits, kinds of site, rules, and how long the attic keeps a site.

create table organisation_setting (
    name text primary key,
    value text not null
);

create table organisation_limit (
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

create table organisation_rule (
    id text primary key,
    title text not null,
    short text not null,
    level smallint not null check (level between 0 and 2),
    scope text not null,
    demand text not null,
    from_day date not null
);

create table retention_rule (
    id bigint generated always as identity primary key,
    host text,
    classification text,
    days integer not null check (days > 0),
    from_at timestamptz not null,
    until_at timestamptz
);
