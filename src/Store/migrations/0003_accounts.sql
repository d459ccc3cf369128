-- Who may sign in. Session ids and passwords are kept as hashes only.

create table account (
    id bigint generated always as identity primary key,
    person bigint not null unique references person,
    role smallint not null check (role between 0 and 3),
    part text references unit,
    password_hash text not null,
    check ((role = 1) = (part is not null))
);

create table session (
    id_hash bytea primary key,
    account bigint not null references account on delete cascade,
    public_id uuid not null unique,
    created timestamptz not null,
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

-- The answer that a request with an Idempotency-Key was given.
create table answered (
    account bigint not null references account on delete cascade,
    key text not null,
    request_hash text not null,
    status integer not null,
    body text not null,
    at timestamptz not null,
    primary key (account, key)
);
