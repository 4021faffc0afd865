"""What several kinds of ground share: stones heaped by sizes, grains, lichen, a shape's own flakes."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from elvatch.core.stock import cells, pebble, periodic, scatter
from elvatch.core.stock.generators import common
from elvatch.core.stock.generators.common import Map, Wanted
from elvatch.core.stock.pebble import PebbleStyle
from elvatch.core.stock.scatter import PlateStyle, Scattered

Sizes = Sequence[tuple[float, int]]
"""Radius in metres and how many lie on a tile, largest first."""
Places = NDArray[np.float64]
Base = NDArray[np.float64]


def stones(
    wanted: Wanted,
    rng: np.random.Generator,
    bed: Scattered,
    sizes: Sizes,
    style: Callable[[float], PebbleStyle],
    times: float = 1.0,
    keep: Map | None = None,
) -> NDArray[np.float32]:
    """Heap rounded or broken stones, large first, the small ones drawn to the hollows; return each stone's radius.

    ``times`` makes them larger and fewer; ``keep`` (shape of the bed, 0..1) is how likely one stays where it fell.
    """

    def lay(radius: float, places: Places, base: Base, first: int) -> None:
        pebble.lay_pebbles(bed, pebble.pebbles(rng, places, base, style(radius)), first)

    return _heaped(wanted, rng, bed, sizes, lay, times, keep)


def plates(
    wanted: Wanted,
    rng: np.random.Generator,
    bed: Scattered,
    sizes: Sizes,
    style: Callable[[float], PlateStyle],
    times: float = 1.0,
    keep: Map | None = None,
) -> NDArray[np.float32]:
    """Heap flat fragments as :func:`stones` are heaped; return each one's radius."""

    def lay(radius: float, places: Places, base: Base, first: int) -> None:
        scatter.lay_plates(bed, scatter.plates(rng, places, base, style(radius)), first)

    return _heaped(wanted, rng, bed, sizes, lay, times, keep)


def _heaped(
    wanted: Wanted,
    rng: np.random.Generator,
    bed: Scattered,
    sizes: Sizes,
    lay: Callable[[float, Places, Base, int], None],
    times: float,
    keep: Map | None,
) -> NDArray[np.float32]:
    """Find places for things of all sizes and have them laid there, numbered from 0."""
    tile_m, first, radii = bed.pixel_m * wanted.size, 0, []
    for number, (usual, usual_count) in enumerate(sizes):
        wanted.run.at(0.1 + 0.6 * number / len(sizes))
        radius, count = usual * times, round(usual_count / times**2)
        lying = periodic.blur(bed.height, radius * 0.55 / bed.pixel_m)
        places, base = scatter.hollows(rng, lying, count, tile_m)
        if keep is not None:
            stays = rng.random(count) < keep[scatter.pixels(places, wanted.size, tile_m)]
            places, base = places[stays], base[stays]
        lay(radius, places, base, first)
        radii.append(np.full(len(places), radius, np.float32))
        first += len(places)
    # where none lies its numbers are asked for and not used
    radii.append(np.ones(1, np.float32))
    return np.concatenate(radii)


def flakes(slow: Map, steps: int, crisp: float = 0.82) -> Map:
    """Return a smooth field (about -1..1) broken into level steps, as rock and crust break along their layers."""
    scaled = slow * steps
    level = np.floor(scaled)
    return ((level + common.smoothstep(crisp, 1.0, scaled - level)) / steps).astype(np.float32)


def spots(wanted: Wanted, rng: np.random.Generator, grid: int, number: int, share: float) -> tuple[Map, Map]:
    """Return round growths such as lichen, 0..1 towards their middle, and each one's own number 0..1.

    ``grid`` is how many could stand along a side, ``share`` how many of them do.
    """
    size = wanted.size
    bend = tuple(wanted.noise(grid * 2, number + k, 3, 0.6) * (0.20 / grid) for k in range(2))
    net = cells.cells(rng, size, grid, (bend[0], bend[1]))
    radius = (0.10 + 0.42 * rng.power(0.45, grid * grid)) * (rng.random(grid * grid) < share) / grid
    away = np.hypot(net.centre_x, net.centre_y)
    own = radius.astype(np.float32)[net.owner]
    return common.smoothstep(0.0, 0.35 / grid, own - away) * (own > 0), rng.random(grid * grid).astype(np.float32)[
        net.owner
    ]
