-- Views of the register that somebody keeps, and how many sites each showed when somebody last looked.

create table kept_view (
    id bigint generated always as identity primary key,
    account bigint not null references account on delete cascade,
    name text not null check (char_length(name) between 1 and 80),
    sentence jsonb not null,
    shared boolean not null,
    kept_at timestamptz not null
);
create unique index kept_view_name on kept_view (account, lower(name));
create index kept_view_shared on kept_view (shared) where shared;

create table kept_view_seen (
    view bigint not null references kept_view on delete cascade,
    account bigint not null references account on delete cascade,
    count integer not null,
    at timestamptz not null,
    primary key (view, account)
);

grant select, insert, update, delete on kept_view, kept_view_seen to attic_server;
