-- What names a rule or a change at a host names one that exists.

delete from finding f where not exists (select from organisation_rule r where r.id = f.rule);
alter table finding add constraint finding_rule_fkey foreign key (rule) references organisation_rule;
alter table rule_exception add constraint rule_exception_rule_fkey foreign key (rule) references organisation_rule;

-- The change is written with what it serves, in either order.
alter table attic_entry add constraint attic_entry_change_fkey foreign key (change_id) references host_change deferrable initially deferred;
alter table offer add constraint offer_change_fkey foreign key (change_id) references host_change deferrable initially deferred;
alter table batch_line add constraint batch_line_change_fkey foreign key (change_id) references host_change deferrable initially deferred;
