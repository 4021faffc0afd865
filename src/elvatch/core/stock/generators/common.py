"""What all sample-set generators share: the drawing they return and how it becomes maps."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core import noise
from elvatch.core.run import Run
from elvatch.core.stock import periodic

Map = NDArray[np.float32]
_LARGEST_DRAWN = 2048


def drawn_px(size_px: int) -> int:
    """Return how large a set of so many pixels is drawn: twice as large and averaged, so that edges are smooth.

    The largest are drawn as they are and smoothed a little, which looks the same and takes a quarter of the time.
    """
    return size_px * 2 if size_px * 2 <= _LARGEST_DRAWN else size_px


class Wanted(NamedTuple):
    """What a generator is asked for.

    ``size`` pixels along a side of the drawing; ``seed`` which one of its kind; ``controls`` a value for
    each of the generator's ``CONTROLS``; ``run`` is told how far it is and asked whether to go on.
    """

    size: int
    seed: int
    controls: dict[str, float]
    run: Run

    def noise(self, cells: int, number: int, octaves: int = 4, gain: float = 0.5, down: int | None = None) -> Map:
        """Return the set's noise of a number, seamless, so many features over it; see :func:`noise.periodic`."""
        return noise.periodic(self.size, cells, self.seed * 1009 + number, octaves, gain, down)


@dataclass(frozen=True)
class Drawing:
    """A seamless material as drawn: all maps of one size, before they are reduced.

    ``height_m`` in metres; ``colour`` linear reflectance, shape (n, n, 3); ``roughness`` 0..1.
    """

    height_m: Map
    colour: Map
    roughness: Map
    tile_m: float


@dataclass(frozen=True)
class MadeSet:
    """The maps of a made set. ``height`` runs 0..1 over ``relief_m`` metres.

    ``colour`` is linear; ``normal`` is a unit vector (x right, y up the picture, z out).
    """

    colour: Map
    normal: Map
    roughness: Map
    height: Map
    occlusion: Map
    tile_m: float
    relief_m: float


def finish(drawing: Drawing, size_px: int) -> MadeSet:
    """Reduce a drawing to its final size and derive normal and occlusion from its one height.

    It is cut where least happens: being seamless it may begin anywhere, and there nobody could tell the cut.
    """
    reduced = periodic.halve if drawing.height_m.shape[0] > size_px else periodic.soften
    pixel_m = drawing.tile_m / size_px
    height_m, colour, rough = (reduced(one) for one in (drawing.height_m, drawing.colour, drawing.roughness))
    slope = periodic.slopes(height_m, pixel_m)
    calm = tuple(
        -_calmest([height_m, colour.mean(axis=2), rough, *np.moveaxis(slope, 2, 0)], axis) for axis in (0, 1)
    )
    height_m, colour, rough, slope = (np.roll(one, calm, (0, 1)) for one in (height_m, colour, rough, slope))
    normal = np.dstack([-slope[..., 0], -slope[..., 1], np.ones_like(height_m)])
    normal /= np.linalg.norm(normal, axis=2, keepdims=True)
    low, high = float(height_m.min()), float(height_m.max())
    return MadeSet(
        # a little above the darkest that is plausible, so that it is so in 8 bits as well
        colour=np.clip(colour, 0.0205, 0.85),
        normal=normal.astype(np.float32),
        roughness=np.clip(rough, 0.05, 1.0),
        height=((height_m - low) / max(high - low, 1e-6)).astype(np.float32),
        occlusion=periodic.occlusion(height_m, pixel_m, drawing.tile_m * 0.12),
        tile_m=drawing.tile_m,
        relief_m=max(high - low, 1e-6),
    )


def _calmest(maps: Sequence[Map], axis: int) -> int:
    """Return the row (axis 0) or column before which maps step least, at the sizes at which a seam is seen."""
    worst = np.zeros(maps[0].shape[axis])
    for whole in maps:
        # some lines across tell as well as all
        thin = slice(None, None, max(1, whole.shape[0] // 256))
        one = np.ascontiguousarray(whole[:, thin] if axis == 0 else whole[thin].T)
        for scale in (1, 4, 16):
            if len(one) < 4 * scale:
                continue
            before = sum(np.roll(one, k + 1, 0) for k in range(scale)) / scale
            after = sum(np.roll(one, -k, 0) for k in range(scale)) / scale
            step = np.abs(after - before).mean(axis=1)
            worst = np.maximum(worst, step / max(float(np.percentile(step, 85)), 1e-12))
    return int(np.argmin(worst))


def tone(rng: np.random.Generator, count: int, spread: float) -> Map:
    """Return ``count`` brightness factors around 1, log-normal with the given spread."""
    return np.clip(rng.lognormal(0.0, spread, count), 0.5, 1.9).astype(np.float32)


def mix(a: NDArray[np.floating], b: NDArray[np.float32] | tuple[float, ...], share: NDArray[np.floating]) -> Map:
    """Blend a colour map towards another (or towards one colour) by a share of shape (n, n)."""
    result: Map = (a + (np.asarray(b, np.float32) - a) * share[..., None]).astype(np.float32)
    return result


def smoothstep(low: float, high: float, values: NDArray[np.floating]) -> Map:
    """Return the smooth ramp from 0 at ``low`` to 1 at ``high``."""
    t = np.clip((values - low) / (high - low), 0.0, 1.0)
    result: Map = (t * t * (3 - 2 * t)).astype(np.float32)
    return result


def even_out(colour: NDArray[np.floating], keep: float = 0.1, sigma_share: float = 0.045) -> Map:
    """Take most of the slow brightness away that would betray the repeat; ``keep`` 0..1 stays."""
    light = colour.mean(axis=2)
    slow = periodic.blur(light, sigma_share * light.shape[0])
    gain = (float(light.mean()) / np.maximum(slow, 1e-4)) ** (1.0 - keep)
    result: Map = (colour * gain[..., None]).astype(np.float32)
    return result


def to_mean(colour: Map, mean: float) -> Map:
    """Scale a colour map so that its mean linear reflectance is ``mean``."""
    return (colour * (mean / max(float(colour.mean()), 1e-6))).astype(np.float32)


def dust(height_m: Map, sigma_px: float, reach_m: float) -> Map:
    """Return where dust settles, 0..1: how far a place lies below its surroundings."""
    result: Map = np.clip((periodic.blur(height_m, sigma_px) - height_m) / reach_m, 0.0, 1.0).astype(np.float32)
    return result
