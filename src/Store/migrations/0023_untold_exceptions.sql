-- An exception that was granted because the rule could not tell covers not knowing, and no break.
alter table rule_exception add column untold boolean not null default false;
