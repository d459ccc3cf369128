-- Why a limit is what it is: of limits that were set here; null of those that a host reports or that came with the set-up.
alter table organisation_limit
    add column reason text,
    add column set_at timestamptz,
    add column set_by bigint references person;
