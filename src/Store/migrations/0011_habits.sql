-- How hosts behave, in JSON, in the place of the days of a bin alone; and facts that few hosts speak of: in "rarer" a field
-- that is missing is unknown, one that is null is none.

update house_setting set name = 'host:' || substr(name, length('bin-days:') + 1), value = json_build_object('deletes', 'ToBin', 'binDays', value::integer, 'knowsRepeats', true, 'notes', '[]'::json)::text
    where name like 'bin-days:%';

alter table site add column rarer jsonb;

-- Since which read a site is in none of its host's lists, where these lag behind what was deleted.
alter table site add column missing_since timestamptz;
