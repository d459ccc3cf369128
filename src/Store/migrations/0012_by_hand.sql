-- Orders that a person carries out: what stands beside the order itself.

create table hand_order (
    id uuid primary key references host_order on delete cascade,
    to_person bigint not null references person,
    given_at timestamptz not null,
    through date not null,
    steps jsonb not null,
    account text not null,
    support text not null,
    done_by bigint references person,
    proof text,
    picture_type text check (picture_type in ('image/png', 'image/jpeg')),
    picture bytea check ((picture is null) = (picture_type is null)),
    checked_by bigint references person,
    returned integer not null
);
create index hand_order_to on hand_order (to_person);

grant select, insert, update, delete on hand_order to attic_server;

-- A link in a letter may lead to an order by hand.
alter table link drop constraint link_purpose_check, add constraint link_purpose_check check (purpose between 0 and 4);
