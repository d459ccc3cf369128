-- What the filters of the bench use, computed as the index has it. Bounds are two columns, none and unknown are null.
create table line (
    id bigint primary key,
    title text not null,
    -- What C# orders titles by, without case.
    title_key text collate "C" not null,
    host text not null,
    unit text,
    units text[] not null,
    classification text,
    kind text,
    status smallint,
    existence smallint not null,
    -- 0 a value, 1 none, 2 unknown: the order in which they are listed, whichever way.
    edited timestamptz,
    edited_known smallint not null,
    visits integer,
    visits_known smallint not null,
    view_outside_least smallint,
    edit_inside_most smallint,
    exceeds boolean,
    active_least integer not null,
    active_most integer not null,
    editors_least integer not null,
    breaks text[] not null,
    owners text[] not null,
    gravity integer not null
);
