-- A finding keeps the unit of its site, and the journal entry that began it; null if it is not known.
alter table finding add column unit text not null default '', add column event bigint;
update finding f set unit = s.unit from site s where s.id = f.site and s.unit is not null;
alter table finding alter column unit drop default;

-- What became of findings on a day. The empty unit is that of sites without a known one. The number of open findings at the end of a
-- day is today's less the changes since.
create table finding_day (
    day date not null,
    rule text not null references organisation_rule,
    unit text not null,
    opened integer not null,
    cleared integer not null,
    excepted integer not null,
    change integer not null,
    primary key (day, rule, unit)
);

grant select, insert, update on finding_day to attic_server;
