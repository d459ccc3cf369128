-- One action on many sites can be about a person or a group.
alter table batch add column person bigint references person;
alter table batch add column people_group bigint references people_group;
