-- What the servers' role may do. It is made with the cluster; a new table is closed to it until a migration names it.

revoke all on schema public from public;
grant usage on schema public to attic_server;
grant select, insert, update, delete on
    unit, person, person_name, person_sponsor, people_group, group_member,
    organisation_setting, organisation_limit, site_kind, organisation_rule, retention_rule,
    site, site_grant, finding,
    source, source_seen, site_import, site_import_site, people_import, people_import_person,
    host_change, manual_task, attic_entry, hold, offer, approval, batch, batch_line,
    account, session, sign_in_failure, sign_in_pause, known_browser, idempotency_key,
    saved_view, saved_view_seen, calendar_link, notification, link
    to attic_server;
grant select, insert, update on rule_exception to attic_server;
grant select, insert, delete on site_import_part to attic_server;
grant select on directory_version, journal, journal_head, schemaversions to attic_server;
revoke all on function journal_lock(), journal_append(text[]), journal_canonical(jsonb) from public;
grant execute on function journal_lock(), journal_append(text[]) to attic_server;

do $$
declare
    quartz_table text;
begin
    for quartz_table in select tablename from pg_tables where schemaname = 'public' and tablename like 'qrtz\_%' loop
        execute format('grant select, insert, update, delete on %I to attic_server', quartz_table);
    end loop;
end $$;
