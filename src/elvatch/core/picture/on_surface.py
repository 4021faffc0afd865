"""What spots of a picture show of one thing: places on its own surface."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.picture.camera import Camera, project
from elvatch.core.picture.fragments import GBuffer
from elvatch.core.picture.kinds import THING
from elvatch.core.strew.field import Stocked
from elvatch.core.thing.traced import TracedThings

_RING = 32


class SpotsOnThing(NamedTuple):
    """Places that ``n`` spots show on a thing as one of its kind stands: which ``spots``, (n,); ``at`` (n, 3) in the
    world, metres; ``part`` (n, 3) in its axes in parts of its longest side before it was stretched; its ``variant``
    and its ``size_m``."""

    spots: NDArray[np.int64]
    at: NDArray[np.float64]
    part: NDArray[np.float64]
    variant: int
    size_m: float


def met_on(
    things: TracedThings, buffer: GBuffer, stocked: Stocked, thing: str, spots: Sequence[tuple[float, float]]
) -> SpotsOnThing | None:
    """Return what spots of a picture show of a thing: of the one that the first of them meets; None where none does.

    Parameters
    ----------
    things : TracedThings
        All that stand.
    buffer : GBuffer
        What is seen.
    stocked : Stocked
        Which shape is of which thing.
    thing : str
        Its id.
    spots : sequence of (float, float)
        0..1 from left and top.
    """
    if thing not in stocked.things:
        return None
    f, wide = buffer.fragments, buffer.width_px
    rows = np.flatnonzero((f.kind == THING) & (f.weight > 0))
    rows = rows[stocked.owner[things.stood.shape[f.hit[rows] >> 32]] == stocked.things.index(thing)]
    seen = np.full(wide * buffer.height_px, -1, np.int64)
    seen[f.pixel[rows]] = rows
    given = np.clip(np.array(spots, np.float64).reshape(-1, 2), 0.0, 1.0 - 1e-9)
    pixel = (given[:, 1] * buffer.height_px).astype(np.int64) * wide + (given[:, 0] * wide).astype(np.int64)
    met = seen[pixel]
    which = np.flatnonzero(met >= 0)
    if len(which) == 0:
        return None
    standing = int(f.hit[met[which[0]]]) >> 32
    which = which[(f.hit[met[which]] >> 32) == standing]
    hit, stood = met[which], things.stood
    shape, size = int(stood.shape[standing]), float(stood.size[standing])
    at = np.stack([f.places.x_m[hit], f.places.y_m[hit], f.height_m[hit].astype(np.float64)], 1)
    own = (at - stood.at[standing]) @ stood.turn[standing].reshape(3, 3).astype(np.float64)
    part = own / (size * stocked.stretch[shape].astype(np.float64))
    return SpotsOnThing(which, at, part, int(stocked.variant[shape]), size)


def ring(eye: Camera, at: NDArray[np.float64], size_m: float) -> list[tuple[float, float] | None]:
    """Return a circle about a place, turned to the eye, as spots of a picture."""
    across = np.array([eye.right_x, eye.right_y, eye.right_z])
    up = np.array([eye.up_x, eye.up_y, eye.up_z])
    across, up = (size_m / 2 * one / np.linalg.norm(one) for one in (across, up))
    turns = (2 * math.pi * k / _RING for k in range(_RING))
    return [project(eye, tuple(at + math.cos(t) * across + math.sin(t) * up)) for t in turns]
