-- A batch can rename its sites, each to a name of its own.
alter table batch_line add column name text;
