-- Reasons with a code and parameters instead of their sentences. A sentence that was stored before is kept as it was recorded.
alter table batch_line add refused jsonb not null default '[]';
update batch_line
set refused = (
    select jsonb_agg(jsonb_build_object('code', 'as-recorded', 'parameters', jsonb_build_object('sentence', sentence)) order by place)
    from unnest(messages) with ordinality as recorded(sentence, place)
)
where cardinality(messages) > 0;
alter table batch_line drop column messages;

alter table approval
alter because type jsonb
using jsonb_build_object('code', 'as-recorded', 'parameters', jsonb_build_object('sentence', because));
