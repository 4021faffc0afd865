-- Migration 7: things kept under a name, to be strewn over any site.

create table kept_thing (
    id          text primary key,
    name        text not null unique,
    thing       text not null,
    made_at     text not null
);

create table kept_thing_file (
    thing       text not null references kept_thing (id) on delete cascade,
    file        text not null references file (name),
    primary key (thing, file)
) without rowid;
