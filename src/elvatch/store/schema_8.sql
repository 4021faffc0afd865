-- Migration 8: suites of layers kept under a name, to be laid on any site.

create table kept_suite (
    id          text primary key,
    name        text not null unique,
    suite       text not null,
    made_at     text not null
);

create table kept_suite_file (
    suite       text not null references kept_suite (id) on delete cascade,
    file        text not null references file (name),
    primary key (suite, file)
) without rowid;

create table kept_suite_set (
    suite       text not null references kept_suite (id) on delete cascade,
    texture_set text not null references texture_set (name),
    primary key (suite, texture_set)
) without rowid;
