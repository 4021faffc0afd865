-- Migration 2: a set is its maps, keeps its history, can be searched and set aside.
-- Foreign keys are off and names in other tables stay as they are while it runs.

alter table texture_set rename to texture_set_1;  -- sets as migration 1 knew them, until their maps are recovered

create table texture_set (
    name         text primary key,         -- 40 hex digits, for life; its content may change
    head         integer not null,         -- seq of the revision that is in force
    added_at     text not null,
    set_aside_at text,                     -- hidden from the wall since then
    -- what the wall shows and is searched by, of the revision in force
    title        text not null,
    category     text not null,
    words        text not null,            -- case folded: title, category, tags, collections, notes
    roles        text not null,            -- ' colour normal ', each between spaces
    collections  text not null,            -- JSON array
    tags         text not null,            -- JSON array
    size_px      integer not null,
    tile_m       real not null,
    relief_m     real not null,
    seam         real not null,
    repetition   real not null,
    tone         text not null,
    findings     integer not null,
    content      text not null,            -- content name of what covers see of it
    swatch       text not null references file (name),
    made_kind    text,
    made_seed    integer
);
create index texture_set_content on texture_set (content);

create table set_revision (
    texture_set  text not null references texture_set (name) on delete cascade,
    seq          integer not null,
    label        text not null,
    description  text not null,
    facts        text not null,
    swatch       text not null references file (name),
    made_at      text not null,
    primary key (texture_set, seq)
) without rowid;

create table set_file (
    texture_set  text not null,
    seq          integer not null,
    file         text not null references file (name),
    primary key (texture_set, seq, file),
    foreign key (texture_set, seq) references set_revision (texture_set, seq) on delete cascade
) without rowid;
