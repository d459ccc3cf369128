-- A rule is what findings and exceptions name. What it demands is written in its versions, which are never changed: the greatest
-- whose first day has come is in force.

create table rule_version (
    rule text not null references organisation_rule,
    version integer not null check (version > 0),
    title text not null,
    short text not null,
    level smallint not null check (level between 0 and 2),
    scope text not null,
    demand text not null,
    from_day date not null,
    is_off boolean not null,
    reason text,
    written_by bigint references person,
    written_at timestamptz,
    primary key (rule, version)
);
insert into rule_version (rule, version, title, short, level, scope, demand, from_day, is_off)
    select id, 1, title, short, level, scope, demand, from_day, false from organisation_rule;
alter table organisation_rule
    drop column title, drop column short, drop column level, drop column scope, drop column demand, drop column from_day;

grant select, insert on rule_version to attic_server;
revoke update, delete on organisation_rule from attic_server;

-- Entries are about rules too. What an entry can be about stands in a function of its own, so that the next kind is one line.
create function journal_subjects() returns text language sql immutable
    return '^((site|person|account|batch):[0-9a-f-]+|(source|rule):[^[:space:][:cntrl:]]{1,200}|organisation|accounts)$';
revoke all on function journal_subjects() from public;

create or replace function journal_append(texts text[]) returns bigint
    language plpgsql security definer set search_path = public, pg_temp
as $$
declare
    head record;
    entry jsonb;
    entry_text text;
begin
    foreach entry_text in array texts loop
        entry := entry_text::jsonb;
        if (select array_agg(key order by key collate "C") from jsonb_object_keys(entry) as keys(key)) is distinct from
            array['action', 'actor', 'after', 'at', 'before', 'for', 'number', 'previous', 'reason', 'subject', 'undoOf'] then
            raise exception 'an entry has other fields than an entry has' using errcode = 'integrity_constraint_violation';
        end if;
        if journal_canonical(entry) is distinct from entry_text then
            raise exception 'the text of an entry is not canonical' using errcode = 'integrity_constraint_violation';
        end if;
        if entry ->> 'actor' !~ '^(person:[0-9]+|host:[^[:space:][:cntrl:]]{1,200}|product|anonymous)$' or coalesce(entry ->> 'for', 'person:0') !~ '^person:[0-9]+$' then
            raise exception 'the actor % of an entry is none', entry ->> 'actor' using errcode = 'integrity_constraint_violation';
        end if;
        if entry ->> 'subject' !~ journal_subjects() then
            raise exception 'the subject % of an entry is none', entry ->> 'subject' using errcode = 'integrity_constraint_violation';
        end if;
        if entry ->> 'action' !~ '^[a-z][a-z.-]{0,60}$' or entry ->> 'at' !~ '^[0-9]{4}-[0-9]{2}-[0-9]{2}T[0-9]{2}:[0-9]{2}:[0-9]{2}\.[0-9]{6}Z$' then
            raise exception 'the action or the instant of an entry is none' using errcode = 'integrity_constraint_violation';
        end if;
    end loop;

    select h.number, h.hash into head from journal_head h for update;
    foreach entry_text in array texts loop
        entry := entry_text::jsonb;
        if entry ->> 'previous' is distinct from head.hash or (entry ->> 'number')::bigint is distinct from head.number + 1 then
            raise exception 'entry % does not follow entry %', entry ->> 'number', head.number using errcode = 'integrity_constraint_violation';
        end if;
        head.number := head.number + 1;
        head.hash := encode(sha256(convert_to(entry_text, 'UTF8')), 'hex');
        insert into journal (number, at, actor, action, subject, text, hash)
        values (head.number, (entry ->> 'at')::timestamptz, entry ->> 'actor', entry ->> 'action', entry ->> 'subject', entry_text, head.hash);
    end loop;
    update journal_head set number = head.number, hash = head.hash;
    perform pg_notify('ledger', head.number::text);
    return head.number;
end $$;
