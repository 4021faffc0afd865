"""Overlay generators: marks of use and weather, drawn as one channel, 1 where the mark is; seamless."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core import parallel
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run
from elvatch.core.stock.generators.common import Map, Wanted
from elvatch.core.stock.generators.controls import Control, complete
from elvatch.core.stock.overlays import bands, settled, wiped

SIZE_PX = 1024


class Overlay(NamedTuple):
    """A kind of mark: its title, what it is, metres a repeat, what it follows, its controls, what draws it."""

    title: str
    about: str
    tile_m: float
    follows: Literal["ground", "downhill", "levels", "path"]
    controls: tuple[Control, ...]
    draw: Callable[[Wanted], Map]


OVERLAYS = {
    "smears": Overlay(
        "Smears", "wiped bands with fine fibres", wiped.SMEARS_TILE_M, "ground", wiped.SMEARS, wiped.smears
    ),
    "runs": Overlay(
        "Runs and drips", "what ran down the slope and dried", wiped.RUNS_TILE_M, "downhill", wiped.RUNS, wiped.runs
    ),
    "scratches": Overlay(
        "Scratches",
        "fine lines cut by what was dragged over",
        wiped.SCRATCHES_TILE_M,
        "ground",
        wiped.SCRATCHES,
        wiped.scratches,
    ),
    "scuffs": Overlay(
        "Scuffs", "rubbed patches of soles and wheels", wiped.SCUFFS_TILE_M, "ground", wiped.SCUFFS, wiped.scuffs
    ),
    "speckle": Overlay(
        "Speckle and spatter",
        "spots, alone and in splashes",
        settled.SPECKLE_TILE_M,
        "ground",
        settled.SPECKLE,
        settled.speckle,
    ),
    "cracks": Overlay(
        "Shrinkage cracks",
        "hairlines that open, thin and end",
        settled.CRACKS_TILE_M,
        "ground",
        settled.CRACKS,
        settled.cracks,
    ),
    "tidemarks": Overlay(
        "Tidemark rings", "crusts of falling water, along contours", 2.0, "levels", bands.TIDEMARKS, bands.tidemarks
    ),
    "drying": Overlay("Drying stains", "rims of dried pools, in hollows", 2.0, "levels", bands.DRYING, bands.drying),
    "tyres": Overlay("Tyre tracks", "two wheels along a path", 1.0, "path", bands.TYRES, bands.tyres),
    "boots": Overlay("Boot prints", "somebody walking along a path", 1.5, "path", bands.BOOTS, bands.boots),
    "barrow": Overlay(
        "Barrow track", "a wheel and who pushed it, along a path", 1.5, "path", bands.BARROW, bands.barrow
    ),
    "film": Overlay(
        "Moss or algae film",
        "thin growth, in shade and wet",
        settled.FILM_TILE_M,
        "ground",
        settled.FILM,
        settled.film,
    ),
    "dust": Overlay("Dust", "fine drifts on level ground", settled.DUST_TILE_M, "ground", settled.DUST, settled.dust),
    "bloom": Overlay(
        "Lime bloom", "veils and crystals of lime", settled.BLOOM_TILE_M, "ground", settled.BLOOM, settled.bloom
    ),
    "damp": Overlay(
        "Damp patches", "wet that dries from its edges", settled.DAMP_TILE_M, "ground", settled.DAMP, settled.damp
    ),
}


def check(what: str, controls: Mapping[str, float]) -> dict[str, float]:
    """Refuse a kind or a control that there is none of; return a value for every control."""
    if what not in OVERLAYS:
        raise RefusalError("wear", repr(what[:40]), "one of " + ", ".join(OVERLAYS), "choose one of these")
    return complete(OVERLAYS[what].controls, controls)


def draw(
    what: str, seed: int, controls: Mapping[str, float] | None = None, run: Run | None = None, size_px: int = SIZE_PX
) -> NDArray[np.uint16]:
    """Draw an overlay.

    Parameters
    ----------
    what : str
        A key of :data:`OVERLAYS`.
    seed : int
        Which one; the same seed and controls draw the same.
    controls : mapping, optional
        Values of its controls by name; the others are as usual.
    run : Run, optional
        Told how far it is; without one the token that this thread watches is asked.
    size_px : int
        Pixels along a side, a power of two.

    Returns
    -------
    ndarray, shape (size_px, size_px), uint16
        65535 is the mark in full; never gamma-encoded.

    Raises
    ------
    RefusalError
        When kind or a control is none that it has.
    """
    given, run = check(what, controls or {}), run or Run(parallel.watched())
    with parallel.watching(run.token):
        values = OVERLAYS[what].draw(Wanted(size_px, seed, given, run))
    codes: NDArray[np.uint16] = np.rint(values * np.float32(65535)).astype(np.uint16)
    return codes
