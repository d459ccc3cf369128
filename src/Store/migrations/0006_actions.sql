-- What people do: changes at hosts, manual tasks, attic entries, holds, offers, approvals and batches.

create table host_change (
    id uuid primary key,
    site bigint not null references site,
    place bigint not null unique,
    purpose smallint not null default 0 check (purpose between 0 and 3),
    -- The wanted end state of the whole site.
    wanted jsonb not null,
    before jsonb not null,
    state smallint not null check (state between 0 and 8),
    by_person bigint not null references person,
    reason text,
    undo_of uuid references host_change,
    requested_at timestamptz not null,
    due_at timestamptz not null,
    attempts integer not null,
    next_try timestamptz not null,
    lease text,
    lease_until timestamptz,
    sent_at timestamptz,
    confirmed_at timestamptz,
    seen_at timestamptz,
    message text
);
create index host_change_site on host_change (site, place);
create index host_change_open on host_change (next_try) where state in (0, 1);

-- A change that a person carries out.
create table manual_task (
    id uuid primary key references host_change on delete cascade,
    to_person bigint not null references person,
    given_at timestamptz not null,
    through date not null,
    steps jsonb not null,
    account text not null,
    support text not null,
    done_by bigint references person,
    report text,
    picture_type text check (picture_type in ('image/png', 'image/jpeg')),
    picture bytea check ((picture is null) = (picture_type is null)),
    checked_by bigint references person,
    returned integer not null
);
create index manual_task_to on manual_task (to_person);

create table attic_entry (
    id bigint generated always as identity primary key,
    site bigint not null references site,
    place bigint not null,
    state smallint not null check (state between 0 and 8),
    by_person bigint references person,
    at_host boolean not null,
    by_owner boolean not null,
    reason text,
    requested_at timestamptz not null,
    stoppable_until timestamptz,
    moved_to_attic_at timestamptz,
    content_before jsonb not null,
    classifications jsonb not null,
    change_id uuid,
    wanted_return jsonb,
    content_after jsonb,
    ended_at timestamptz,
    message text
);
-- One open entry for each site.
create unique index attic_entry_open on attic_entry (site) where state <= 4;
create index attic_entry_site on attic_entry (site, id);

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
    current_owner bigint references person,
    current_owner_after smallint not null check (current_owner_after between 0 and 1),
    by_person bigint not null references person,
    second bigint references person,
    reason text,
    offered_at timestamptz not null,
    through date not null,
    answered_at timestamptz,
    ended_at timestamptz,
    change_id uuid,
    message text
);
-- An ownership is offered to one person at a time.
create unique index offer_open on offer (site, coalesce(current_owner, 0)) where state in (0, 1);
create index offer_to on offer (to_person);

create table approval (
    id uuid primary key,
    site bigint not null references site,
    state smallint not null check (state between 0 and 5),
    action text not null,
    request text not null,
    by_person bigint not null references person,
    by_capacity smallint not null check (by_capacity between 0 and 2),
    reason text,
    because text not null,
    requested_at timestamptz not null,
    through date not null,
    fingerprint text not null,
    renewed integer not null,
    answered_by bigint references person,
    ended_at timestamptz,
    check (answered_by <> by_person)
);
create unique index approval_open on approval (site, action) where state = 0;

-- One action on many sites.
create table batch (
    id uuid primary key,
    action text not null,
    state smallint not null check (state between 0 and 3),
    by_person bigint not null references person,
    reason text,
    gain integer not null,
    lose integer not null,
    planned_at timestamptz not null,
    started_at timestamptz,
    ended_at timestamptz,
    message text,
    -- The batch that this one undoes, site by site.
    undoes uuid references batch,
    check (state = 0 or started_at is not null)
);
create index batch_running on batch (started_at) where state = 1;
create index batch_undoes on batch (undoes) where undoes is not null;

create table batch_line (
    batch uuid not null references batch on delete cascade,
    place integer not null,
    site bigint not null references site,
    state smallint not null check (state between 0 and 4),
    fingerprint text,
    effect jsonb not null,
    messages text[] not null,
    change_id uuid,
    approval_id uuid,
    undoes uuid,
    primary key (batch, place),
    unique (batch, site),
    -- What was carried out was planned.
    check (state in (0, 4) or fingerprint is not null)
);
create index batch_line_waiting on batch_line (batch, place) where state = 0;
