-- One deed on many sites.

create table batch (
    id uuid primary key,
    deed text not null,
    state smallint not null check (state between 0 and 3),
    by_person bigint not null references person,
    reason text,
    gain integer not null,
    lose integer not null,
    planned_at timestamptz not null,
    started_at timestamptz,
    ended_at timestamptz,
    words text,
    check (state = 0 or started_at is not null)
);
create index batch_running on batch (started_at) where state = 1;

create table batch_line (
    batch uuid not null references batch on delete cascade,
    place integer not null,
    site bigint not null references site,
    state smallint not null check (state between 0 and 4),
    fingerprint text,
    effect jsonb not null,
    words text[] not null,
    order_id uuid,
    approval_id uuid,
    primary key (batch, place),
    unique (batch, site),
    -- What was carried out was planned.
    check (state in (0, 4) or fingerprint is not null)
);
create index batch_line_waiting on batch_line (batch, place) where state = 0;

grant select, insert, update, delete on batch, batch_line to attic_server;
