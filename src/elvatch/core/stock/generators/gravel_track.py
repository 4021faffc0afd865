"""Gravel track: crushed limestone rolled into its own dust, worn smooth along the wheels, loose at the sides."""

from __future__ import annotations

import numpy as np

from elvatch.core import noise
from elvatch.core.stock import pebble, periodic, scatter
from elvatch.core.stock.generators import common
from elvatch.core.stock.generators.common import Drawing, Wanted
from elvatch.core.stock.generators.controls import Control

TILE_M = 2.0
CONTROLS = (
    Control("stones", "stone size", "times", 0.6, 1.5, 1.0, 0.05, "how coarse the gravel is"),
    Control("fines", "fines", "", 0.0, 1.0, 0.35, 0.05, "how far dust binds it"),
    Control("wheels", "wheel wear", "", 0.0, 1.0, 0.5, 0.05, "two smoother bands from north to south"),
)
_CLASSES = ((0.034, 150), (0.024, 560), (0.016, 2100), (0.010, 6500), (0.0062, 15000), (0.0038, 26000))


def draw(wanted: Wanted) -> Drawing:
    """Draw a gravel track, seamless over 2 m; see :class:`Wanted`."""
    size, seed, controls, run = wanted
    rng = np.random.default_rng(seed)
    pixel_m = TILE_M / size
    wheel = _wheels(size, seed) * controls["wheels"]
    floor = noise.periodic(size, 3, seed, 5, 0.5) * 0.011 - 0.014 * wheel
    bed = scatter.Scattered.floor(floor.astype(np.float32), pixel_m)
    first = 0
    for number, (usual, usual_count) in enumerate(_CLASSES):
        run.at(0.05 + 0.1 * number)
        radius, count = usual * controls["stones"], round(usual_count / controls["stones"] ** 2)
        lying = periodic.blur(bed.height, radius * 0.6 / pixel_m)
        places, base = scatter.hollows(rng, lying, count, TILE_M)
        # wheels press stones in and throw the large ones out
        pressed = wheel[scatter.pixels(places, size, TILE_M)]
        stays = rng.random(count) > pressed * min(0.85, radius / 0.022)
        style = pebble.PebbleStyle(
            radius=radius, stretch=1.25, flatness=0.85, power=2.6, lumps=0.25, facets=1.0, tilt=0.22, sunk=0.38
        )
        stones = pebble.pebbles(rng, places[stays], base[stays] - 0.5 * radius * pressed[stays], style)
        pebble.lay_pebbles(bed, stones, first)
        first += len(stones)
    run.at(0.75)
    return Drawing(*_paint(rng, bed, first, wheel, size, seed, controls), TILE_M)


def _wheels(size: int, seed: int) -> common.Map:
    """Two wandering bands, 0..1."""
    x = ((np.arange(size) + 0.5) / size)[None, :] + 0.03 * noise.periodic(size, 2, seed + 30, 3)
    near = np.minimum(np.abs((x - 0.24 + 0.5) % 1 - 0.5), np.abs((x - 0.76 + 0.5) % 1 - 0.5))
    return np.exp(-((near / 0.105) ** 4)).astype(np.float32)


def _paint(
    rng: np.random.Generator,
    bed: scatter.Scattered,
    count: int,
    wheel: common.Map,
    size: int,
    seed: int,
    controls: dict[str, float],
) -> tuple[common.Map, common.Map, common.Map]:
    grit = noise.periodic(size, 260, seed + 3, 3, 0.75)
    slow = noise.periodic(size, 6, seed + 4, 5, 0.55)
    form = periodic.blur(bed.height, 0.05 / bed.pixel_m)
    rise = bed.height - form
    cover = np.percentile(rise, 2 + 52 * controls["fines"]) + 0.004 * slow + 0.004 * wheel
    top = (form + cover + 0.0007 * grit + 0.0012 * noise.periodic(size, 70, seed + 5, 3)).astype(np.float32)
    loose = (bed.owner < 0) | (bed.height < top)
    height = np.maximum(bed.height, top)
    who = np.maximum(bed.owner, 0)
    own = np.array([0.350, 0.340, 0.318], np.float32) * common.tone(rng, count, 0.2)[:, None]
    warm = rng.beta(1, 5, count)[:, None] * np.array([0.03, -0.005, -0.05])
    stone = (own + warm).astype(np.float32)[who] * (0.82 + 0.24 * np.sqrt(bed.inner) + 0.07 * grit)[..., None]
    dust = np.array([0.232, 0.206, 0.168], np.float32) * (1 + 0.16 * grit + 0.08 * slow)[..., None]
    colour = np.where(loose[..., None], dust, stone).astype(np.float32)
    # dust lies on the stones too, thickest low down
    settled = common.dust(height, 0.012 / bed.pixel_m, 0.014)
    colour = common.mix(colour, (0.240, 0.216, 0.178), np.clip(0.10 + settled * 0.5, 0, 1))
    damp = common.smoothstep(0.18, 0.55, noise.periodic(size, 4, seed + 8, 5) - 0.35 * wheel)
    colour = common.mix(colour, (0.170, 0.152, 0.126), damp * 0.3)
    colour = common.mix(colour, (0.315, 0.296, 0.262), wheel * np.where(loose, 0.55, 0.25).astype(np.float32))
    colour = common.to_mean(common.even_out(colour, 0.4, 0.12), 0.275)
    rough = np.where(loose, 0.92, 0.76) - 0.08 * wheel - 0.12 * damp + 0.04 * grit
    return height.astype(np.float32), colour, np.clip(rough, 0.4, 1).astype(np.float32)
