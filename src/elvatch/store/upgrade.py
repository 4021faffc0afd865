"""Sets of a data folder of version 0.2, whose maps are recovered from the texels they were stored as."""

from __future__ import annotations

import sqlite3
from functools import partial

import numpy as np

from elvatch.core.refusal import RefusalError
from elvatch.core.stock import category, facts, intake, loaded, pyramid, resize
from elvatch.core.stock.description import MadeBy, SetDescription
from elvatch.core.stock.loaded import Loaded
from elvatch.core.stock.roles import Role
from elvatch.store.database import Database
from elvatch.store.files import Files
from elvatch.store.stock import Draft, Stock


def upgrade_sets(database: Database, files: Files, stock: Stock) -> int:
    """Describe each old set by its maps, under the name it had; return how many there were.

    One that cannot be read is left where it was, and layers that use it say that it is missing.
    """
    with database.reading() as db:
        rows = db.execute("select * from texture_set_1").fetchall()
    done = 0
    for row in rows:
        name = row["name"]
        if name in stock:
            # an earlier upgrade was ended between describing it and forgetting the old row
            with database.writing() as db:
                _forget(db, name)
            continue
        try:
            draft = _draft(row, files)
        except (RefusalError, OSError, ValueError):
            continue
        stock.add(draft, "kept from an earlier version", name, within=partial(_forget, name=name))
        done += 1
    return done


def _forget(db: sqlite3.Connection, name: str) -> None:
    db.execute("delete from texture_set_1 where name = ?", (name,))


def _draft(row: sqlite3.Row, files: Files) -> Draft:
    texels = np.load(files.path(row["texels"]), mmap_mode="r", allow_pickle=False)
    size = int(row["size_px"])
    level = texels[: size * size].astype(np.float32) * pyramid.SCALE + pyramid.SHIFT
    numbers = level.reshape(size, size, pyramid.CHANNELS).astype(np.float32)
    slopes = numbers[..., pyramid.SLOPE_X : pyramid.SLOPE_Y + 1]
    found: dict[Role, loaded.Map] = {
        "colour": numbers[..., : pyramid.BLUE + 1],
        "normal": resize.normals_of(slopes),
        "roughness": numbers[..., pyramid.ROUGH],
        "occlusion": numbers[..., pyramid.OCCLUSION],
        "height": numbers[..., pyramid.HEIGHT],
    }
    note = "recovered from an earlier version"
    kept = [loaded.kept(role, np.ascontiguousarray(values), 16, note) for role, values in found.items()]
    description = SetDescription(
        title=row["title"],
        category=category.guess(row["title"]),
        tile_m=row["tile_m"],
        relief_m=row["relief_m"],
        lookup_px=intake.LOOKUPS[size],
        maps={one.role: intake.entry(one, files.put, "made") for one in kept},
        made_by=MadeBy(kind=row["kind"], seed=row["seed"], size_px=size),
    )
    whole = Loaded({one.role: one.values for one in kept}, row["tile_m"], row["relief_m"])
    return Draft(description, facts.gather(whole, size), files.get(row["swatch"]))
