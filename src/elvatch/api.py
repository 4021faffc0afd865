"""The public Python API: all that the page can do, from a script, under names that stay.

What is listed in ``__all__`` is kept from version to version; everything else may move.

Examples
--------
>>> import tempfile
>>> from elvatch import api
>>> with tempfile.TemporaryDirectory() as folder:
...     shop = api.open_folder(folder)
...     [site.title for site in shop.sites.lines().sites]
[]
"""

from __future__ import annotations

from pathlib import Path

from elvatch.app.stills import StillAsk, sun_place
from elvatch.app.workshop import Workshop
from elvatch.core.document.begin_sheet import plain as plain_sheet
from elvatch.core.document.fit import Fit, Repeats
from elvatch.core.document.layer import Edge, Layer, Look
from elvatch.core.document.light import ImageLight, Light, Mist, When
from elvatch.core.document.recipe import Peg, Recipe, Shot, Stand, Stands
from elvatch.core.document.rule import OnNoise, Rule, on
from elvatch.core.document.sheet import Fine, MapsEntry, Region, Sheet, Slot, Tiling
from elvatch.core.document.sheet_entry import (
    GroundEntry,
    KitEntry,
    MeshEntry,
    SiteEntry,
    StillsEntry,
    ThingsEntry,
)
from elvatch.core.document.strew import Mixed, Strew
from elvatch.core.document.thing import DrawnThing, Thing
from elvatch.core.document.water import Water
from elvatch.core.document.wear import Effects, Made, Wear
from elvatch.core.ground.begin import beginnings
from elvatch.core.ground.clauses import between
from elvatch.core.ground.description import FileSource, FlatSource, Ground
from elvatch.core.ground.step import Extent, StepBase, steps
from elvatch.core.picture.picture import View
from elvatch.core.refusal import CancelledError, RefusalError
from elvatch.core.run import Run
from elvatch.store.lock import using
from elvatch.store.store import Store

__all__ = [
    "CancelledError",
    "DrawnThing",
    "Edge",
    "Effects",
    "Extent",
    "FileSource",
    "Fine",
    "Fit",
    "FlatSource",
    "Ground",
    "GroundEntry",
    "ImageLight",
    "KitEntry",
    "Layer",
    "Light",
    "Look",
    "Made",
    "MapsEntry",
    "MeshEntry",
    "Mist",
    "Mixed",
    "OnNoise",
    "Peg",
    "Recipe",
    "RefusalError",
    "Region",
    "Repeats",
    "Rule",
    "Run",
    "Sheet",
    "Shot",
    "SiteEntry",
    "Slot",
    "Stand",
    "Stands",
    "StepBase",
    "StillAsk",
    "StillsEntry",
    "Strew",
    "Thing",
    "ThingsEntry",
    "Tiling",
    "View",
    "Water",
    "Wear",
    "When",
    "Workshop",
    "beginnings",
    "between",
    "on",
    "open_folder",
    "plain_sheet",
    "steps",
    "sun_place",
]

_held: dict[Path, object] = {}


def open_folder(folder: str | Path) -> Workshop:
    """Open a data folder, made when it is missing; a server may work on it at the same time.

    Parameters
    ----------
    folder : str or Path
        Where sites, sets and files are kept.

    Returns
    -------
    Workshop
        Everything that can be done: ``sites``, ``grounds``, ``covers``, ``fits``, ``wears``, ``marks``, ``sets``,
        ``bringing``, ``panoramas``, ``pictures``, ``stills``, ``handoffs``.
    """
    store = Store(Path(folder).expanduser())
    if store.folder not in _held:
        _held[store.folder] = using(store.folder)
    return Workshop(store)
