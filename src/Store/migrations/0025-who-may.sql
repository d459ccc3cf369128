-- Who may: people whose unit no source has told, operators, sessions that end when idle, pauses after failed tries, browsers
-- that signed in before; and a journal that takes only what is well formed.

alter table person drop constraint person_kind_check, add constraint person_kind_check check (kind between 0 and 3);
alter table person add column unit_unknown boolean not null default false;
alter table person add constraint person_unit_check check (unit is null or not unit_unknown);

alter table account add column last_sign_in timestamptz;
alter table session add column used_at timestamptz;
update session set used_at = created;
alter table session alter column used_at set not null;

-- One row a key: a mail address, a caller, a browser. A try is counted before the password is looked at.
create table sign_in_pause (
    key_hash bytea primary key,
    tries integer not null,
    last_at timestamptz not null,
    free_at timestamptz not null
);

create table known_browser (
    token_hash bytea primary key,
    account bigint not null references account on delete cascade,
    until timestamptz not null
);
create index known_browser_account on known_browser (account);

-- Sites that would vanish all at once wait for a person.
alter table source add column held_back integer not null default 0, add column let_vanish boolean not null default false;

grant select, insert, update, delete on sign_in_pause, known_browser to attic_server;

-- The text of a value as RFC 8785 has it, but for numbers, of which there are none in a journal.
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

-- Appends canonical texts. What they say is checked before the head is taken, so that it is held for a moment only.
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
            array['actor', 'after', 'at', 'before', 'deed', 'for', 'number', 'previous', 'reason', 'subject', 'undoOf'] then
            raise exception 'an entry has other fields than an entry has' using errcode = 'integrity_constraint_violation';
        end if;
        if journal_canonical(entry) is distinct from entry_text then
            raise exception 'the text of an entry is not canonical' using errcode = 'integrity_constraint_violation';
        end if;
        if entry ->> 'actor' !~ '^(person:[0-9]+|host:[^[:space:][:cntrl:]]{1,200}|house|anonymous)$' or coalesce(entry ->> 'for', 'person:0') !~ '^person:[0-9]+$' then
            raise exception 'the actor % of an entry is none', entry ->> 'actor' using errcode = 'integrity_constraint_violation';
        end if;
        if entry ->> 'subject' !~ '^((site|person|account|batch):[0-9a-f-]+|source:[^[:space:][:cntrl:]]{1,200}|house|accounts)$' then
            raise exception 'the subject % of an entry is none', entry ->> 'subject' using errcode = 'integrity_constraint_violation';
        end if;
        if entry ->> 'deed' !~ '^[a-z][a-z.-]{0,60}$' or entry ->> 'at' !~ '^[0-9]{4}-[0-9]{2}-[0-9]{2}T[0-9]{2}:[0-9]{2}:[0-9]{2}\.[0-9]{6}Z$' then
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
        insert into journal (number, at, actor, deed, subject, text, hash)
        values (head.number, (entry ->> 'at')::timestamptz, entry ->> 'actor', entry ->> 'deed', entry ->> 'subject', entry_text, head.hash);
    end loop;
    update journal_head set number = head.number, hash = head.hash;
    perform pg_notify('ledger', head.number::text);
    return head.number;
end $$;

revoke all on function journal_canonical(jsonb) from public;
