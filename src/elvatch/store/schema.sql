-- Migration 1. Applied in one transaction; the number stands in user_version.

-- A file kept by its content beside the database.
create table file (
    name       text primary key,           -- BLAKE2b of its bytes, 40 hex digits
    bytes      integer not null,
    stored_at  text not null
);

-- A texture set in the stock; its texels are one file.
create table texture_set (
    name        text primary key,          -- content name over texels and sizes, 40 hex digits
    title       text not null,
    kind        text not null,             -- generator it was made by
    seed        integer not null,
    size_px     integer not null,
    tile_m      real not null,
    relief_m    real not null,
    texels      text not null references file (name),
    swatch      text not null references file (name),
    added_at    text not null
);

create table site (
    id          text primary key,
    title       text not null,
    head        integer,                   -- seq of the revision that is in force
    changed_at  text not null
);

-- Every finished edit is one row. Undo and redo move site.head; a new edit drops what lies after it.
create table revision (
    site        text not null references site (id) on delete cascade,
    seq         integer not null,
    label       text not null,
    recipe      text not null,
    made_at     text not null,
    primary key (site, seq)
) without rowid;

-- Which files a revision needs, so that others can be collected.
create table revision_file (
    site        text not null,
    seq         integer not null,
    file        text not null references file (name),
    primary key (site, seq, file),
    foreign key (site, seq) references revision (site, seq) on delete cascade
) without rowid;

create table revision_set (
    site        text not null,
    seq         integer not null,
    texture_set text not null references texture_set (name),
    primary key (site, seq, texture_set),
    foreign key (site, seq) references revision (site, seq) on delete cascade
) without rowid;
