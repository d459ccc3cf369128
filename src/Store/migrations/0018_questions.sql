-- A rule can ask owners about its findings, and restrict access if nobody answers.
alter table rule_version
    add column enforcement smallint not null default 0 check (enforcement between 0 and 2),
    add column answer_days integer not null default 0 check (answer_days between 0 and 90);

-- The verdict of a finding: 1 cannot tell, 2 has an exception, 3 breaks. An earlier version did not tell 2 from 3; findings of 2 get
-- theirs with the next change of their site.
alter table finding add column verdict smallint not null default 3 check (verdict between 0 and 3);
update finding set verdict = 1 where cannot_tell;
alter table finding alter column verdict drop default, drop column cannot_tell;

create table owner_question (
    id uuid primary key,
    site bigint not null references site,
    rule text not null references organisation_rule,
    state smallint not null check (state between 0 and 4),
    asked_at timestamptz not null,
    through date not null,
    restricts_for bigint references person,
    asked bigint[] not null,
    answer smallint check (answer between 0 and 2),
    answered_by bigint references person,
    answered_at timestamptz,
    message text,
    ended_at timestamptz
);
-- Owners are asked once about a finding.
create unique index owner_question_open on owner_question (site, rule) where state <> 4;

grant select, insert, update on owner_question to attic_server;
