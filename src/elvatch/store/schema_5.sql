-- Migration 5: light kept under a name, to be used at any site.

create table kept_light (
    id          text primary key,
    name        text not null unique,
    light       text not null,
    made_at     text not null
);

create table kept_light_file (
    light       text not null references kept_light (id) on delete cascade,
    file        text not null references file (name),
    primary key (light, file)
) without rowid;
