-- The journal. The servers' role can add an entry through the function below and do nothing else to it.

create table journal (
    number bigint primary key,
    at timestamptz not null,
    actor text not null,
    action text not null,
    subject text not null,
    text text not null,
    hash text not null unique
);
create index journal_subject on journal (subject, number);
create index journal_action on journal (action, number);

-- One row: the order of all commits. A transaction locks it last.
create table journal_head (
    singleton boolean primary key default true check (singleton),
    number bigint not null,
    hash text not null
);
insert into journal_head (number, hash) values (0, repeat('0', 64));

create function journal_lock(out number bigint, out hash text)
    language sql security definer set search_path = public, pg_temp
as $$ select number, hash from journal_head for update $$;

-- The text of a value as RFC 8785 has it. A journal has no JSON numbers, so these are refused.
create function journal_canonical(value jsonb) returns text
    language plpgsql immutable strict parallel safe set search_path = public, pg_temp
as $$
begin
    case jsonb_typeof(value)
        when 'object' then
            return '{' || coalesce((select string_agg(to_json(key)::text || ':' || journal_canonical(inner_value), ',' order by key collate "C") from jsonb_each(value) as each(key, inner_value)), '') || '}';
        when 'array' then
            return '[' || coalesce((select string_agg(journal_canonical(item), ',' order by place) from jsonb_array_elements(value) with ordinality as items(item, place)), '') || ']';
        when 'number' then
            raise exception 'a journal has no numbers: they are written as decimal strings' using errcode = 'integrity_constraint_violation';
        else
            return value::text;
    end case;
end $$;

-- Appends canonical texts. They are checked before the head is locked, so that the lock is short. The columns are projections of
-- the text.
create function journal_append(texts text[]) returns bigint
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
        if entry ->> 'subject' !~ '^((site|person|account|batch):[0-9a-f-]+|source:[^[:space:][:cntrl:]]{1,200}|organisation|accounts)$' then
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
