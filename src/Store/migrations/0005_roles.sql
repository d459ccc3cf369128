-- What the servers' role may do. It is made with the cluster; a new table is shut to it until it is named here.

revoke all on schema public from public;
grant usage on schema public to attic_server;
grant select, insert, update, delete on
    unit, person, person_name, people_group, group_member, house_setting, house_limit, site_kind, house_rule,
    site, site_grant, host_order, finding, source, account, session, sign_in_failure, answered
    to attic_server;
grant select on journal, journal_head, schemaversions to attic_server;
revoke all on function journal_lock(), journal_append(text[]) from public;
grant execute on function journal_lock(), journal_append(text[]) to attic_server;

do $$
declare
    quartz_table text;
begin
    for quartz_table in select tablename from pg_tables where schemaname = 'public' and tablename like 'qrtz\_%' loop
        execute format('grant select, insert, update, delete on %I to attic_server', quartz_table);
    end loop;
end $$;
