-- A list may be larger than what is to be held at once, so it is kept in parts until it is taken in to its end.

create table list_taking_part (
    taking bigint not null references list_taking on delete cascade,
    part integer not null,
    content bytea not null,
    primary key (taking, part)
);
insert into list_taking_part (taking, part, content) select id, 0, content from list_taking where content is not null;

alter table list_taking add column open boolean not null default false;
update list_taking set open = true where content is not null;
alter table list_taking drop column content;
create index list_taking_open on list_taking (id) where open;

grant select, insert, delete on list_taking_part to attic_server;
