-- Where facts come from: syncs of sources, and imports of lists with what is needed to undo them.

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
    wanted boolean not null default false,
    -- The last sync of everything, and the host's mark from which it can report what changed since.
    whole_at timestamptz,
    mark text,
    requested_at timestamptz,
    changes integer not null default 0,
    resume text,
    requests_allowed integer,
    requests_left integer,
    -- Sites that would be no longer reported all at once: they wait until somebody releases them.
    held_back integer not null default 0,
    release_held_back boolean not null default false
);

-- The keys that the running or interrupted sync has seen so far.
create table source_seen (
    source text not null references source,
    key text not null
);
create index source_seen_of on source_seen (source);

create table site_import (
    id bigint generated always as identity primary key,
    source text not null references source,
    imported_at timestamptz not null,
    by_person bigint not null references person,
    whole boolean not null,
    as_of timestamptz not null,
    plan text not null,
    mapping jsonb not null,
    ended boolean not null default false,
    open boolean not null default false,
    undone_at timestamptz
);
create index site_import_of on site_import (source, id);
create index site_import_open on site_import (id) where open;

-- The list itself in parts of a megabyte, until the import ends: another server can go on with it.
create table site_import_part (
    import_id bigint not null references site_import on delete cascade,
    part integer not null,
    content bytea not null,
    primary key (import_id, part)
);

create table site_import_site (
    import_id bigint not null references site_import on delete cascade,
    site bigint not null references site,
    -- Null where the import added the site.
    before jsonb,
    after jsonb,
    primary key (import_id, site)
);

create table people_import (
    id bigint generated always as identity primary key,
    imported_at timestamptz not null,
    by_person bigint not null references person,
    undone_at timestamptz
);

create table people_import_person (
    import_id bigint not null references people_import on delete cascade,
    person bigint not null references person,
    -- Null where the import added the person.
    before jsonb,
    after jsonb not null,
    primary key (import_id, person)
);
