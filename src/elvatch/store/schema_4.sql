-- Migration 4: numbers of revisions are never given twice, and a history is kept as differences.

-- The highest number ever given. Well above what is there: windows may hold numbers that were undone and edited over.
alter table site add column last_seq integer not null default 0;
update site set last_seq = 1000 + (select coalesce(max(seq), 0) from revision where site = id);
alter table texture_set add column last_seq integer not null default 0;
update texture_set set last_seq = 1000 + (select coalesce(max(seq), 0) from set_revision where texture_set = name);

-- The order of changes does not depend on the clock.
alter table site add column changed_no integer not null default 0;
update site set changed_no = (select count(*) from site as other where other.changed_at < site.changed_at);
alter table snapshot add column made_no integer not null default 0;
update snapshot set made_no = (select count(*) from snapshot as other
    where other.made_at < snapshot.made_at or (other.made_at = snapshot.made_at and other.id < snapshot.id));

-- A recipe of the history: whole, or as what differs from the revision before it (see history.py).
create table revision_4 (
    site        text not null references site (id) on delete cascade,
    seq         integer not null,
    label       text not null,
    whole       integer not null,
    body        blob not null,
    made_at     text not null,
    primary key (site, seq)
) without rowid;
insert into revision_4 select site, seq, label, 1, packed(recipe), made_at from revision;

-- What a history needs, and the first revision that does. Only its end is ever cut off, so the first is enough.
create table site_file (
    site        text not null references site (id) on delete cascade,
    file        text not null references file (name),
    since       integer not null,
    primary key (site, file)
) without rowid;
insert into site_file select site, file, min(seq) from revision_file group by site, file;
create table site_set (
    site        text not null references site (id) on delete cascade,
    texture_set text not null references texture_set (name),
    since       integer not null,
    primary key (site, texture_set)
) without rowid;
insert into site_set select site, texture_set, min(seq) from revision_set group by site, texture_set;

drop table revision_file;
drop table revision_set;
drop table revision;
alter table revision_4 rename to revision;
