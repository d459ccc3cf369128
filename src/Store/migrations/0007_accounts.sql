-- Who may sign in, and what belongs to one account: sessions, saved views, a calendar link, notifications with their links.
-- Session ids, tokens and passwords are stored as hashes only.

create table account (
    id bigint generated always as identity primary key,
    person bigint not null unique references person,
    role smallint not null check (role between 0 and 3),
    -- The unit that a steward answers for.
    scope text references unit,
    -- Null until the person has chosen a password.
    password_hash text,
    last_sign_in timestamptz,
    check ((role = 1) = (scope is not null))
);

create table session (
    id_hash bytea primary key,
    account bigint not null references account on delete cascade,
    public_id uuid not null unique,
    created timestamptz not null,
    used_at timestamptz not null,
    expires timestamptz not null,
    revoked timestamptz,
    agent text not null
);
create index session_account on session (account);

create table sign_in_failure (
    id bigint generated always as identity primary key,
    key_hash bytea not null,
    at timestamptz not null,
    -- Whether the minute's entry in the journal has counted it; false for the second key of one attempt.
    to_gather boolean not null
);
create index sign_in_failure_key on sign_in_failure (key_hash, at);

-- One row a key: a mail address, a caller, a browser. A try is counted before the password is checked.
create table sign_in_pause (
    key_hash bytea primary key,
    tries integer not null,
    last_at timestamptz not null,
    free_at timestamptz not null
);

create table known_browser (
    token_hash bytea primary key,
    account bigint not null references account on delete cascade,
    until timestamptz not null
);
create index known_browser_account on known_browser (account);

-- The answer that a request with an Idempotency-Key received.
create table idempotency_key (
    account bigint not null references account on delete cascade,
    key text not null,
    request_hash text not null,
    status integer not null,
    body text not null,
    at timestamptz not null,
    primary key (account, key)
);

create table saved_view (
    id bigint generated always as identity primary key,
    account bigint not null references account on delete cascade,
    name text not null check (char_length(name) between 1 and 80),
    sentence jsonb not null,
    shared boolean not null,
    saved_at timestamptz not null
);
create unique index saved_view_name on saved_view (account, lower(name));
create index saved_view_shared on saved_view (shared) where shared;

-- How many sites a view showed when somebody last opened it.
create table saved_view_seen (
    view bigint not null references saved_view on delete cascade,
    account bigint not null references account on delete cascade,
    count integer not null,
    at timestamptz not null,
    primary key (view, account)
);

-- The link under which a calendar program reads somebody's deadlines: one for each account.
create table calendar_link (
    account bigint primary key references account on delete cascade,
    token_hash bytea not null unique,
    made_at timestamptz not null,
    read_at timestamptz
);

-- Texts for people, collected into mails. A notification is written once for each key.
create table notification (
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
create index notification_waiting on notification (send_at) where sent_at is null;

-- Links in mails: valid once, for one person, until their end.
create table link (
    token_hash bytea primary key,
    person bigint not null references person,
    notification bigint references notification,
    purpose smallint not null check (purpose between 0 and 4),
    subject text not null,
    until timestamptz not null,
    made_at timestamptz not null,
    used_at timestamptz
);
create index link_person on link (person, purpose);
