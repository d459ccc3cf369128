-- A change of people or groups asks which sites they are granted something at.
create index site_grant_person on site_grant (person) where person is not null;
create index site_grant_group on site_grant (people_group) where people_group is not null;
create index site_grant_through on site_grant (through) where through is not null;
