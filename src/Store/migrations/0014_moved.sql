-- A line whose site has moved elsewhere: somebody decided which line it is now.

alter table site add column moved_to bigint references site;
create index site_moved_to on site (moved_to) where moved_to is not null;
