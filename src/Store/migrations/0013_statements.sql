-- What others than the host say of a site, and what it is for. Nobody has said so far what a site is for.

alter table site add column purpose text, add column said jsonb;
update site set unknowns = array_append(unknowns, 'purpose');
