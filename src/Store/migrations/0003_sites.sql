-- What there is. A fact is a value, none (null), or unknown: then its column's name is in the row's "unknowns".

create table site (
    id bigint generated always as identity primary key,
    host text not null,
    host_key text not null,
    name text,
    address text,
    unit text references unit,
    classification text,
    kind text,
    purpose text,
    -- In the words of the sources.
    tags text,
    status smallint check (status between 0 and 3),
    existence smallint not null default 0 check (existence between 0 and 2),
    -- The instant of what decided the existence: a sync that began earlier does not override it.
    stands_at timestamptz not null,
    created timestamptz,
    edited timestamptz,
    visited timestamptz,
    visits integer,
    pages integer,
    bytes bigint,
    domains text[],
    parent text,
    own_group bigint references people_group,
    editing bigint[],
    own_limit jsonb,
    sharing_at timestamptz,
    sharing_source smallint,
    bin_since timestamptz,
    bin_by bigint references person,
    bin_until timestamptz,
    bin_erased timestamptz,
    -- Facts that few hosts report: a missing field is unknown, null is none.
    optional jsonb,
    -- The claims of sources other than the host.
    claims jsonb,
    -- The row that the site has moved to, as somebody decided.
    moved_to bigint references site,
    unknowns text[] not null,
    seen_at timestamptz not null,
    no_longer_reported boolean not null default false,
    -- The first sync in which none of the host's lists contained the site, for hosts whose lists lag behind deletions.
    missing_since timestamptz,
    unique (host, host_key)
);
create index site_parent on site (host, parent) where parent is not null;
create index site_moved_to on site (moved_to) where moved_to is not null;

create table site_grant (
    site bigint not null references site on delete cascade,
    key text not null,
    power smallint not null check (power between 0 and 6),
    subject text not null check (subject in ('person', 'group', 'unit', 'staff', 'partners', 'anonymous')),
    person bigint references person,
    people_group bigint references people_group,
    unit text references unit,
    visitor_sign_in smallint not null check (visitor_sign_in between 0 and 2),
    is_link boolean not null,
    through date,
    primary key (site, key)
);
-- A change of people or groups asks at which sites they have a grant.
create index site_grant_person on site_grant (person) where person is not null;
create index site_grant_group on site_grant (people_group) where people_group is not null;
create index site_grant_through on site_grant (through) where through is not null;
-- The few grants that name a unit or end: a read of all grants fetches these separately.
create index site_grant_longer on site_grant (site, key) where unit is not null or through is not null;

-- A row of the register with its grants, as one value.
create function site_image(wanted bigint) returns jsonb language sql stable as $$
    select jsonb_build_object(
        'site', to_jsonb(s),
        'grants', (select coalesce(jsonb_agg(to_jsonb(g) order by g.key), '[]') from site_grant g where g.site = s.id))
    from site s where s.id = wanted
$$;

-- Since when a site breaks a rule, or cannot tell. Only differences are written.
create table finding (
    site bigint not null references site on delete cascade,
    rule text not null,
    cannot_tell boolean not null,
    since timestamptz not null,
    primary key (site, rule)
);

-- Dated exceptions from rules: how far a site may be from what a rule demands, and until the end of which day.
create table rule_exception (
    id bigint generated always as identity primary key,
    site bigint not null references site on delete cascade,
    rule text not null,
    reason text not null,
    by_person bigint not null references person,
    from_at timestamptz not null,
    through date not null,
    demand text not null,
    distance integer[] not null,
    ended_at timestamptz
);
create index rule_exception_site on rule_exception (site);
create index rule_exception_through on rule_exception (through) where ended_at is null;
