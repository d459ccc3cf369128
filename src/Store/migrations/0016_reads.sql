-- Reads that go on where they broke off, and hosts that tell what changed since the last time.

alter table source
    add column whole_at timestamptz,
    add column mark text,
    add column asked_at timestamptz,
    add column changes integer not null default 0,
    add column resume text,
    add column requests_allowed integer,
    add column requests_left integer;

-- The keys that the read which is under way, or broke off, has seen so far.
create table source_seen (
    source text not null references source,
    key text not null
);
create index source_seen_of on source_seen (source);

grant select, insert, update, delete on source_seen to attic_server;
