"""Which of a site's things are drawn in a picture, and how fine: those larger than some two pixels, near enough."""

from __future__ import annotations

import functools
import math
from collections.abc import Iterator
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.ground.places import ReliefAt
from elvatch.core.parallel import Token
from elvatch.core.picture.camera import Camera
from elvatch.core.picture.fragments import GBuffer
from elvatch.core.picture.kinds import THING
from elvatch.core.strew.candidates import Box
from elvatch.core.strew.field import Field, joined
from elvatch.core.thing import traced
from elvatch.core.thing.traced import Stood, TracedThings

LEAST_PX = 2.4
"""Things smaller than this are no shapes any more but a share of the cover; they fade into it over"""
FADES_OVER = 0.3
"""of that to either side."""
_FINER_PX = (32.0, 12.0)
"""Pixels from which on a thing has its finest and its middle level."""
MOST_DRAWN = 400_000
_RELIEF_M = 60.0
"""Further away the cover's relief is not seen under a thing's foot."""
_BESIDE = 12.0
"""Things beside a picture whose shadows may fall into it, in lengths of theirs."""


class DrawnThings(NamedTuple):
    """Things of a picture: ``things`` ready for rays; of each, in the order of ``things.number``, the ``strew`` (its
    index in the field, one more than the last for those that a hand set) and its ``known`` number; how many of each
    were drawn; ``name`` of all of it."""

    things: TracedThings
    strew: NDArray[np.int64]
    known: NDArray[np.int64]
    counts: tuple[int, ...]
    name: str


@functools.cache
def nothing() -> DrawnThings:
    """Return a picture without things."""
    none = np.zeros(0, np.int64)
    return DrawnThings(traced.nothing(), none, none, (), "")


def fade(pixels: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return how many of the things that are so many pixels large are drawn as shapes, 0..1."""
    return np.clip((pixels / LEAST_PX - (1 - FADES_OVER)) / (2 * FADES_OVER), 0, 1)


def reach_m(size_m: float, camera: Camera) -> float:
    """Return up to which distance a thing of a size may be drawn as a shape, metres."""
    return size_m / (LEAST_PX * (1 - FADES_OVER) * camera.pixel)


def box_of(camera: Camera, reach: float, beside: float) -> Box:
    """Return what of the ground a picture may see within a distance, and what is beside it."""
    xs, ys = [camera.eye_x], [camera.eye_y]
    for sx in (-1.0, -0.5, 0.0, 0.5, 1.0):
        for sy in (-1.0, 0.0, 1.0):
            x = camera.forward_x + sx * camera.right_x + sy * camera.up_x
            y = camera.forward_y + sx * camera.right_y + sy * camera.up_y
            z = camera.forward_z + sx * camera.right_z + sy * camera.up_z
            scale = reach / math.sqrt(x * x + y * y + z * z)
            xs.append(camera.eye_x + x * scale)
            ys.append(camera.eye_y + y * scale)
    return Box(min(xs) - beside, min(ys) - beside, max(xs) + beside, max(ys) + beside)


_ABOUT_PX = 4.0
_assembled = Cache[DrawnThings](12)


def drawn(
    field: Field, camera: Camera, relief_at: ReliefAt | None = None, reliefs: str = "", token: Token | None = None
) -> DrawnThings:
    """Return the things that a picture shows as shapes.

    Parameters
    ----------
    field : Field
        The site's strews.
    camera : Camera
        Where it is taken from.
    relief_at : callable, optional
        Returns the cover's relief at places.
    reliefs : str
        What names that relief.
    token : Token, optional
        Asked between blocks.
    """
    name = digest.of_json([field.name, list(camera), reliefs])

    def make() -> DrawnThings:
        parts: list[Stood] = []
        strews: list[NDArray[np.int64]] = []
        numbers: list[NDArray[np.int64]] = []
        eye = np.array([camera.eye_x, camera.eye_y, camera.eye_z])
        wanted = [
            (k, block, relief_at is not None and nearest < _RELIEF_M)
            for k in range(len(field.strews))
            for block, nearest in _blocks_about(field, k, camera)
        ]
        for (k, *_), (found, stands) in zip(wanted, field.stand(wanted, relief_at, reliefs, token), strict=True):
            away = np.linalg.norm(stands.at - eye, axis=1)
            pixels = stands.size / np.maximum(away * camera.pixel, 1e-9)
            seen = fade(pixels) > _lots(found.number)
            chosen = stands._replace(shape=stands.shape + _level(pixels)).some(seen)
            parts.append(chosen)
            strews.append(np.full(len(chosen.size), k, np.int64))
            numbers.append(found.number[seen])
        by_hand = field.set_by_hand(relief_at, reliefs)
        away = np.linalg.norm(by_hand.at - eye, axis=1)
        pixels = by_hand.size / np.maximum(away * camera.pixel, 1e-9)
        parts.append(by_hand._replace(shape=by_hand.shape + _level(pixels)))
        strews.append(np.full(len(pixels), len(field.strews), np.int64))
        numbers.append(np.arange(len(pixels)))
        return _assemble(field, parts, strews, numbers, name)

    return _assembled.get(name, make)


def _blocks_about(field: Field, k: int, camera: Camera) -> Iterator[tuple[tuple[int, int], float]]:
    """Yield blocks of a strew that a picture may show shapes of, each with how far its nearest place is, metres."""
    strew = field.strews[k]
    largest = max([strew.size.to_m, *(one.size_m for one in strew.added)])
    reach, beside = reach_m(largest, camera), min(_BESIDE * largest, 60.0)
    for block in field.blocks(k, box_of(camera, reach, beside)):
        nearest = _nearest(field.side_m(k), block, camera)
        if nearest <= reach + beside:
            yield block, nearest


def _level(pixels: NDArray[np.float64]) -> NDArray[np.int32]:
    """Return the level of detail of things that are so many pixels large."""
    level: NDArray[np.int32] = (pixels[:, None] < np.array(_FINER_PX)).sum(axis=1).astype(np.int32)
    return level


def _assemble(
    field: Field, parts: list[Stood], strews: list[NDArray[np.int64]], numbers: list[NDArray[np.int64]], name: str
) -> DrawnThings:
    whole = joined(parts)
    of = np.concatenate([np.zeros(0, np.int64), *strews])
    known = np.concatenate([np.zeros(0, np.int64), *numbers])
    if len(of) > MOST_DRAWN:
        # the largest come first; what is left out is told by the counts
        keep = np.argsort(-whole.size, kind="stable")[:MOST_DRAWN]
        whole, of, known = whole.some(keep), of[keep], known[keep]
    made = traced.things(whole, field.shapes)
    counts = tuple(int(n) for n in np.bincount(of, minlength=len(field.strews) + 1))
    return DrawnThings(made, of[made.number], known[made.number], counts, name)


def _nearest(side: float, block: tuple[int, int], camera: Camera) -> float:
    """Return how far the nearest of a block lies from the eye on the map, metres."""
    west, south = block[0] * side, block[1] * side
    x = min(max(camera.eye_x, west), west + side)
    y = min(max(camera.eye_y, south), south + side)
    return math.hypot(x - camera.eye_x, y - camera.eye_y)


def _lots(number: NDArray[np.int64]) -> NDArray[np.float64]:
    """Return a number from 0 to 1 for each thing that tells when it fades, evenly spread."""
    return np.asarray((number * 0.6180339887498949) % 1.0)


class Met(NamedTuple):
    """A thing that a picture shows: the index of its strew, or one more than the last where a hand set it, its
    number, and where it was met, metres."""

    strew: int
    number: int
    east_m: float
    north_m: float


def met(drawn: DrawnThings, buffer: GBuffer, spot: tuple[float, float]) -> Met | None:
    """Return the thing at a spot of a picture, 0..1 from left and top, or the nearest within a few pixels."""
    col, row = int(spot[0] * buffer.width_px), int(spot[1] * buffer.height_px)
    f = buffer.fragments
    rows = np.flatnonzero((f.kind == THING) & (f.weight > 0))
    away = np.hypot(f.pixel[rows] % buffer.width_px - col, f.pixel[rows] // buffer.width_px - row)
    if len(rows) == 0 or away.min() > _ABOUT_PX:
        return None
    at = rows[int(away.argmin())]
    i = int(f.hit[at]) >> 32
    return Met(int(drawn.strew[i]), int(drawn.known[i]), float(f.places.x_m[at]), float(f.places.y_m[at]))
