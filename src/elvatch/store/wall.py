"""The wall of sets: searched as one types, filtered, sorted; hundreds stay quick."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Literal, get_args

from elvatch.core.results import result
from elvatch.core.stock.seam import SEAMLESS, SHOWS
from elvatch.store.database import Database

Sort = Literal["title", "newest", "size", "seam", "repetition", "tile"]
SORTS: tuple[Sort, ...] = get_args(Sort)
SeamWish = Literal["seamless", "shows"]
_MOST = 2000
_ORDER: dict[Sort, str] = {
    "title": "title collate nocase",
    "newest": "added_at desc",
    "size": "size_px desc, title collate nocase",
    "seam": "seam, title collate nocase",
    "repetition": "repetition, title collate nocase",
    "tile": "tile_m, title collate nocase",
}


@result
class SetLine:
    """A set as the wall shows it."""

    name: str
    title: str
    category: str
    roles: tuple[str, ...]
    tags: tuple[str, ...]
    collections: tuple[str, ...]
    size_px: int
    tile_m: float
    relief_m: float
    seam: float
    repetition: float
    tone: str
    findings: int
    content: str
    revision: int


@dataclass(frozen=True)
class Wish:
    """What is looked for; what is left out does not limit. ``text`` holds words that must all be found."""

    text: str = ""
    category: str | None = None
    roles: tuple[str, ...] = ()
    least_px: int = 0
    seam: SeamWish | None = None
    tone: str | None = None
    collection: str | None = None
    aside: bool = False
    sort: Sort = "title"


@dataclass(frozen=True)
class WallPage:
    """Sets that fit, and how many of all on the wall are in each category, tone and collection."""

    lines: list[SetLine]
    total: int
    categories: dict[str, int]
    tones: dict[str, int]
    collections: dict[str, int]


class Wall:
    """Searches over all sets.

    Parameters
    ----------
    database : Database
        Where they are kept.
    """

    def __init__(self, database: Database) -> None:
        self._database = database

    def find(self, wish: Wish) -> WallPage:
        """Return the sets that fit a wish, in its order."""
        where, values = _where(wish)
        with self._database.reading() as db:
            rows = db.execute(
                "select name, title, category, roles, tags, collections, size_px, tile_m, relief_m, seam, "
                f"repetition, tone, findings, content, head as revision from texture_set where {where} "
                f"order by {_ORDER[wish.sort]} limit {_MOST}",
                values,
            ).fetchall()
            there = f"set_aside_at is {'not ' if wish.aside else ''}null"
            counted = {
                column: {
                    row["value"]: row["count"]
                    for row in db.execute(
                        f"select {column} as value, count(*) as count from texture_set where {there} group by 1"
                    )
                }
                for column in ("category", "tone")
            }
            collections = {
                row["value"]: row["count"]
                for row in db.execute(
                    "select each.value, count(*) as count from texture_set, json_each(collections) as each "
                    f"where {there} group by 1 order by 1"
                )
            }
        lines = [
            SetLine(
                **{
                    **dict(row),
                    "roles": tuple(row["roles"].split()),
                    "tags": tuple(json.loads(row["tags"])),
                    "collections": tuple(json.loads(row["collections"])),
                }
            )
            for row in rows
        ]
        total = sum(counted["category"].values())
        return WallPage(lines, total, counted["category"], counted["tone"], collections)


def _where(wish: Wish) -> tuple[str, list[object]]:
    parts, values = [f"set_aside_at is {'not ' if wish.aside else ''}null"], list[object]()

    def both(part: str, *given: object) -> None:
        parts.append(part)
        values.extend(given)

    for word in wish.text.casefold().split():
        plain = word.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
        both("words like ? escape '\\'", f"%{plain}%")
    for role in wish.roles:
        both("instr(roles, ?)", f" {role} ")
    if wish.category:
        both("category = ?", wish.category)
    if wish.tone:
        both("tone = ?", wish.tone)
    if wish.collection:
        both("exists (select 1 from json_each(collections) where value = ?)", wish.collection)
    if wish.least_px:
        both("size_px >= ?", wish.least_px)
    if wish.seam == "seamless":
        both("seam < ?", SEAMLESS)
    elif wish.seam == "shows":
        both("seam >= ?", SHOWS)
    return " and ".join(parts), values
