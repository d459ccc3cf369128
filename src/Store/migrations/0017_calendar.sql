-- The link under which somebody's calendar reads their deadlines. One for each account; its token is hashed.

create table calendar_link (
    account bigint primary key references account on delete cascade,
    token_hash bytea not null unique,
    made_at timestamptz not null,
    read_at timestamptz
);

grant select, insert, update, delete on calendar_link to attic_server;
