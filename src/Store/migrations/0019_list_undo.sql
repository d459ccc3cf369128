-- Lists that were taken in, with the sites that they changed as these were before: so that a list can be taken back.

create table list_taking (
    id bigint generated always as identity primary key,
    source text not null references source,
    taken_at timestamptz not null,
    by_person bigint not null references person,
    whole boolean not null,
    as_of timestamptz not null,
    plan text not null,
    reading jsonb not null,
    -- The list itself until it is taken in to its end, so that whatever stops a server, it is gone on with.
    content bytea,
    ended boolean not null default false,
    undone_at timestamptz
);
create index list_taking_open on list_taking (id) where content is not null;
create index list_taking_of on list_taking (source, id);

create table list_taking_site (
    taking bigint not null references list_taking on delete cascade,
    site bigint not null references site,
    -- Null where the list brought the site.
    before jsonb,
    after jsonb,
    primary key (taking, site)
);

-- A line of the register with who is let in, as one value.
create function site_image(wanted bigint) returns jsonb language sql stable as $$
    select jsonb_build_object(
        'site', to_jsonb(s),
        'grants', (select coalesce(jsonb_agg(to_jsonb(g) order by g.key), '[]') from site_grant g where g.site = s.id))
    from site s where s.id = wanted
$$;

grant select, insert, update, delete on list_taking, list_taking_site to attic_server;
