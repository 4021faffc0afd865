-- Migration 6: grounds kept under a name, to be laid under any site.

create table kept_ground (
    id          text primary key,
    name        text not null unique,
    ground      text not null,
    made_at     text not null
);

create table kept_ground_file (
    ground      text not null references kept_ground (id) on delete cascade,
    file        text not null references file (name),
    primary key (ground, file)
) without rowid;
