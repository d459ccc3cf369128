-- The three rules of the bench, three-valued: a verdict stands unless the rule surely holds.
-- Sorted as the sheet lists them: by rule, what breaks before what cannot be told, by site.
select id, rule, cannot_tell
from (
    select id, 'R-02' as rule, not (edit_inside_least > 1 or edit_outside_least > 1) as cannot_tell
    from line where edit_inside_most > 1 or edit_outside_most > 1
    union all
    select id, 'R-03', fit_most >= 2
    from line where unit is not null and fit_least < 2
    union all
    select id, 'R-07', beyond is null
    from line where beyond is distinct from false
) as verdicts
order by rule, cannot_tell, id
