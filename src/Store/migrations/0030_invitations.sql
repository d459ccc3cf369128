-- Invitations of people from outside. What has become of one follows from its change, its last day and the guest's account.
create table invitation (
    id uuid primary key,
    site bigint not null references site,
    mail text not null,
    power smallint not null check (power between 0 and 6),
    through date not null,
    sponsor bigint not null references person,
    by_person bigint not null references person,
    asked_at timestamptz not null,
    reason text,
    -- What stopped it when it was last tried, in sentences.
    stopped_by text[] not null default '{}',
    change_id uuid references host_change,
    ending smallint check (ending between 0 and 1),
    ended_at timestamptz,
    check ((ending is null) = (ended_at is null))
);
create index invitation_site on invitation (site);
create index invitation_mail on invitation (lower(mail));
create index invitation_waits on invitation (asked_at) where change_id is null and ended_at is null;
-- One address is invited to a site once.
create unique index invitation_once on invitation (site, lower(mail)) where change_id is null and ended_at is null;

-- What a source reports of the account of a guest: null where they have not signed in.
create table guest_account (
    guest bigint not null references person,
    source text not null,
    joined_at timestamptz,
    last_seen_at timestamptz,
    primary key (guest, source)
);

-- The last answer to whether a guest is still needed.
create table guest_review (
    guest bigint primary key references person,
    by_person bigint not null references person,
    answered_at timestamptz not null,
    reason text
);

grant select, insert, update on invitation, guest_review to attic_server;
grant select, insert, update, delete on guest_account to attic_server;
