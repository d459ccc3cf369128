-- A batch can end the findings of a cause: then each site has an action of its own, and can be left out.
alter table batch add column cause text;
alter table batch_line
    add column action text,
    add column person bigint references person,
    add column people_group bigint references people_group,
    add column rule text references organisation_rule,
    add column through date,
    drop constraint batch_line_state_check,
    drop constraint batch_line_check,
    add constraint batch_line_state_check check (state between 0 and 5),
    add constraint batch_line_planned_check check (state in (0, 4, 5) or fingerprint is not null);
