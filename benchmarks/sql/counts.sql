-- Eight counts over the rows of a filter. {where} and {order} are the filter's.
with found as materialized (select * from line where {where})
select 'unit', unit, count(*) from found group by unit
union all select 'classification', classification, count(*) from found group by classification
union all select 'kind', kind, count(*) from found group by kind
union all select 'status', status::text, count(*) from found group by status
union all select 'host', host, count(*) from found group by host
union all select 'existence', existence::text, count(*) from found group by existence
union all select 'exceeds', exceeds::text, count(*) from found group by exceeds
union all select 'breaks', rule, count(*) from found, unnest(breaks) as rule group by rule
