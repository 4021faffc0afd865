-- Migration 3: named revisions to come back to and compare with, and wear kept for any site.

-- A snapshot holds its own copy of the recipe: history before and after it may go.
create table snapshot (
    id          text primary key,
    site        text not null references site (id) on delete cascade,
    name        text not null,
    recipe      text not null,
    made_at     text not null,
    unique (site, name)
);

create table snapshot_file (
    snapshot    text not null references snapshot (id) on delete cascade,
    file        text not null references file (name),
    primary key (snapshot, file)
) without rowid;

create table snapshot_set (
    snapshot    text not null references snapshot (id) on delete cascade,
    texture_set text not null references texture_set (name),
    primary key (snapshot, texture_set)
) without rowid;

create table wear_preset (
    id          text primary key,
    name        text not null unique,
    preset      text not null,
    texture_set text references texture_set (name),  -- of one drawn from the stock
    made_at     text not null
);
