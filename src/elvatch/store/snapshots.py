"""Snapshots: named revisions of a site, kept whatever becomes of its history."""

from __future__ import annotations

from elvatch.core.document import recipe as recipes
from elvatch.core.document.recipe import Recipe
from elvatch.core.refusal import RefusalError
from elvatch.core.results import result
from elvatch.store.database import Database, plain_title
from elvatch.store.sites import keep_snapshot

MOST = 64


@result
class Snapshot:
    """A named revision: how the site was at a moment."""

    id: str
    name: str
    made_at: str


class Snapshots:
    """The snapshots of all sites.

    Parameters
    ----------
    database : Database
        Where they are kept.
    """

    def __init__(self, database: Database) -> None:
        self._database = database

    def all(self, site: str) -> list[Snapshot]:
        """Return a site's snapshots, the oldest first."""
        with self._database.reading() as db:
            rows = db.execute("select id, name, made_at from snapshot where site = ? order by made_no", (site,))
            return [Snapshot(row["id"], row["name"], row["made_at"]) for row in rows]

    def keep(self, site: str, name: str, recipe: Recipe) -> Snapshot:
        """Keep a recipe of a site under a name; on disk when this returns.

        Raises
        ------
        RefusalError
            When the name is taken or empty, or there are too many.
        """
        name = plain_title(name)
        with self._database.writing() as db:
            if db.execute("select count(*) from snapshot where site = ?", (site,)).fetchone()[0] >= MOST:
                raise RefusalError("snapshots", f"{MOST} of this site", f"at most {MOST}", "take one out first")
            id, made_at = keep_snapshot(db, site, name, recipe)
        return Snapshot(id, name, made_at)

    def recipe(self, site: str, snapshot: str) -> Recipe:
        """Return how the site was."""
        with self._database.reading() as db:
            row = db.execute("select recipe from snapshot where id = ? and site = ?", (snapshot, site)).fetchone()
        if row is None:
            raise RefusalError("snapshot", f"no snapshot {snapshot[:40]!r}", "one of this site", "choose another")
        return recipes.read(row["recipe"])

    def remove(self, site: str, snapshot: str) -> None:
        """Remove a snapshot; the site stays as it is."""
        with self._database.writing() as db:
            db.execute("delete from snapshot where id = ? and site = ?", (snapshot, site))
