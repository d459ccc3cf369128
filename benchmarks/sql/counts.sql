-- Eight counts over what a filter finds. {where} and {order} are the filter's.
with found as materialized (select * from line where {where})
select 'unit', unit, count(*) from found group by unit
union all select 'class', class, count(*) from found group by class
union all select 'kind', kind, count(*) from found group by kind
union all select 'stage', stage::text, count(*) from found group by stage
union all select 'host', host, count(*) from found group by host
union all select 'existence', existence::text, count(*) from found group by existence
union all select 'beyond', beyond::text, count(*) from found group by beyond
union all select 'breaks', rule, count(*) from found, unnest(breaks) as rule group by rule
