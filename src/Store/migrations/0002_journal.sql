-- The journal. The servers' role can add an entry through the function below and do nothing else to it.

create table journal (
    number bigint primary key,
    at timestamptz not null,
    actor text not null,
    deed text not null,
    subject text not null,
    text text not null,
    hash text not null unique
);
create index journal_subject on journal (subject, number);
create index journal_deed on journal (deed, number);

-- One row: the order of all commits. It is locked last in a transaction.
create table journal_head (
    singleton boolean primary key default true check (singleton),
    number bigint not null,
    hash text not null
);
insert into journal_head (number, hash) values (0, repeat('0', 64));

create function journal_lock(out number bigint, out hash text)
    language sql security definer set search_path = public, pg_temp
as $$ select number, hash from journal_head for update $$;

-- Appends canonical texts. The columns are projections of the text; the chain is checked here as well.
create function journal_append(texts text[]) returns bigint
    language plpgsql security definer set search_path = public, pg_temp
as $$
declare
    head record;
    entry json;
    entry_text text;
begin
    select h.number, h.hash into head from journal_head h for update;
    foreach entry_text in array texts loop
        entry := entry_text::json;
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
