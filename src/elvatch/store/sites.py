"""Sites and their history: every finished edit a revision, undo and redo a pointer."""

from __future__ import annotations

import secrets
import sqlite3
from dataclasses import dataclass

from elvatch.core.cover import recipe as recipes
from elvatch.core.cover.recipe import Recipe
from elvatch.core.refusal import RefusalError
from elvatch.store.database import Database, now, plain_title


@dataclass(frozen=True)
class SiteLine:
    """A site as the front door lists it."""

    id: str
    title: str
    changed_at: str
    revision: int
    recipe: Recipe


@dataclass(frozen=True)
class SiteState:
    """A site at the revision in force; labels say what undo and redo would do, None when nothing."""

    id: str
    title: str
    revision: int
    recipe: Recipe
    changed_at: str
    undo: str | None
    redo: str | None


@dataclass(frozen=True)
class SetUse:
    """A site that uses a texture set, and the names of its layers that do."""

    site: str
    title: str
    layers: tuple[str, ...]


class ConflictError(Exception):
    """Somebody else changed the site first; ``state`` is how it stands now."""

    def __init__(self, state: SiteState) -> None:
        super().__init__("the site was changed in another window")
        self.state = state


class Sites:
    """All sites of a data folder.

    Parameters
    ----------
    database : Database
        Where they are kept.
    """

    def __init__(self, database: Database) -> None:
        self._database = database

    def all(self) -> list[SiteLine]:
        """Return all sites, the last changed first."""
        with self._database.reading() as db:
            rows = db.execute(
                "select id, title, changed_at, head, recipe from site join revision on site = id and seq = head "
                "order by changed_at desc"
            ).fetchall()
        return [SiteLine(r["id"], r["title"], r["changed_at"], r["head"], recipes.read(r["recipe"])) for r in rows]

    def state(self, site: str) -> SiteState:
        """Return a site as it stands."""
        with self._database.reading() as db:
            return self._state(db, site)

    def find(self, title_or_id: str) -> SiteState:
        """Return the site with this id or this name (the last changed one)."""
        wanted = title_or_id.strip().lower()
        for line in self.all():
            if line.id == wanted or line.title.lower() == wanted:
                return self.state(line.id)
        raise RefusalError(
            "site", f"no site {title_or_id!r}", "the name or id of one", "list them with: elvatch sites"
        )

    def add(self, title: str, recipe: Recipe, label: str = "made the site") -> SiteState:
        """Add a site; on disk when this returns."""
        site = secrets.token_hex(6)
        with self._database.writing() as db:
            db.execute("insert into site values (?, ?, null, ?)", (site, plain_title(title), now()))
            self._append(db, site, 1, label, recipe)
            return self._state(db, site)

    def edit(self, site: str, base: int, label: str, recipe: Recipe) -> SiteState:
        """Store a finished edit made on revision ``base``.

        Raises
        ------
        ConflictError
            When the revision in force is another; nothing is stored.
        """
        with self._database.writing() as db:
            state = self._state(db, site)
            if state.revision != base:
                raise ConflictError(state)
            if recipe == state.recipe:
                return state
            db.execute("delete from revision where site = ? and seq > ?", (site, base))
            self._append(db, site, base + 1, " ".join(label.split())[:120] or "edited", recipe)
            return self._state(db, site)

    def step(self, site: str, base: int, by: int) -> SiteState:
        """Undo (``by`` -1) or redo (+1) one revision; at either end nothing happens."""
        with self._database.writing() as db:
            state = self._state(db, site)
            if state.revision != base:
                raise ConflictError(state)
            wanted = db.execute("select 1 from revision where site = ? and seq = ?", (site, base + by)).fetchone()
            if wanted:
                db.execute("update site set head = ?, changed_at = ? where id = ?", (base + by, now(), site))
            return self._state(db, site)

    def rename(self, site: str, title: str) -> SiteState:
        """Give a site another name."""
        with self._database.writing() as db:
            self._state(db, site)
            db.execute("update site set title = ?, changed_at = ? where id = ?", (plain_title(title), now(), site))
            return self._state(db, site)

    def remove(self, site: str) -> None:
        """Remove a site with its history."""
        with self._database.writing() as db:
            self._state(db, site)
            db.execute("delete from site where id = ?", (site,))

    def using(self, texture_set: str) -> list[SetUse]:
        """Return where a texture set lies now: sites by title, and their layers."""
        with self._database.reading() as db:
            rows = db.execute(
                "select site.id, site.title, revision.recipe from revision_set "
                "join site on site.id = revision_set.site and site.head = revision_set.seq "
                "join revision on revision.site = site.id and revision.seq = site.head "
                "where revision_set.texture_set = ? order by site.title", (texture_set,)
            ).fetchall()  # fmt: skip
        return [
            SetUse(row["id"], row["title"],
                   tuple(recipes.read(row["recipe"]).using(texture_set)))
            for row in rows
        ]  # fmt: skip

    @staticmethod
    def _append(db: sqlite3.Connection, site: str, seq: int, label: str, recipe: Recipe) -> None:
        try:
            db.execute(
                "insert into revision values (?, ?, ?, ?, ?)",
                (site, seq, label, recipes.write(recipe), now()),
            )
            files = [(site, seq, name) for name in recipe.files()]
            db.executemany("insert into revision_file values (?, ?, ?)", files)
            db.executemany("insert into revision_set values (?, ?, ?)", [(site, seq, name) for name in recipe.sets()])
        except sqlite3.IntegrityError:
            raise RefusalError(
                "recipe",
                "a file or texture set that is not in the store",
                "only what is there",
                "bring it in first",
            ) from None
        db.execute("update site set head = ?, changed_at = ? where id = ?", (seq, now(), site))

    @staticmethod
    def _state(db: sqlite3.Connection, site: str) -> SiteState:
        row = db.execute("select id, title, head, changed_at from site where id = ?", (site,)).fetchone()
        if row is None:
            raise RefusalError("site", f"no site {site[:40]!r}", "the id of one", "go back to the list of sites")
        near = {
            r["seq"]: r
            for r in db.execute(
                "select seq, label, recipe from revision where site = ? and seq between ? and ?",
                (site, row["head"] - 1, row["head"] + 1),
            )
        }
        here = near[row["head"]]
        return SiteState(
            id=row["id"],
            title=row["title"],
            revision=row["head"],
            recipe=recipes.read(here["recipe"]),
            changed_at=row["changed_at"],
            undo=here["label"] if row["head"] - 1 in near else None,
            redo=near[row["head"] + 1]["label"] if row["head"] + 1 in near else None,
        )
