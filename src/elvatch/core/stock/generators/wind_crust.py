"""Wind-crusted snow: hard layers cut into tongues along the wind, drifted powder in their lee."""

from __future__ import annotations

import numpy as np

from elvatch.core.stock import periodic
from elvatch.core.stock.generators import common, heap
from elvatch.core.stock.generators.common import Drawing, Map, Wanted
from elvatch.core.stock.generators.controls import Control

TILE_M = 4.0
CONTROLS = (
    Control("carved", "carved", "cm", 1.0, 18.0, 7.0, 0.5, "how deep the wind cut"),
    Control("powder", "powder", "", 0.0, 1.0, 0.4, 0.05, "how much loose snow lies in the lee"),
    Control("grimy", "grime", "", 0.0, 1.0, 0.1, 0.05, "how much blown dust lies on old layers"),
)


def draw(wanted: Wanted) -> Drawing:
    """Draw wind-crusted snow, seamless over 4 m; see :class:`Wanted`."""
    size, _, controls, run = wanted
    depth, pixel_m = controls["carved"] / 100, TILE_M / size
    # tongues run along the wind, broken in layers, their heads undercut
    long = wanted.noise(3, 1, 5, 0.5, down=8) + 0.30 * wanted.noise(7, 2, 4, 0.55, down=19)
    layered = heap.flakes(long, 3, 0.45)
    crust = 0.55 * layered + 0.45 * long
    crust = crust - 0.5 * (np.roll(long, round(0.03 * size), 1) - long)
    run.at(0.4)
    hard = crust * depth + 0.05 * wanted.noise(2, 3, 3, 0.45)
    filled = periodic.blur(hard.astype(np.float32), 0.10 / pixel_m) - 0.35 * depth + 0.012 * wanted.noise(6, 4, 3)
    ripple = np.sin(2 * np.pi * (34 * (np.arange(size) + 0.5)[None, :] / size + 2.2 * wanted.noise(4, 5, 3)))
    powder = filled + (controls["powder"] - 0.4) * depth * 0.9 + 0.0022 * ripple
    soft = common.smoothstep(-0.004, 0.006, (powder - hard).astype(np.float32))
    fine = wanted.noise(240, 6, 3, 0.7)
    height = hard + soft * (powder - hard) + 0.0005 * fine * (1 - 0.5 * soft)
    height = (height + 0.0016 * wanted.noise(50, 7, 4, 0.6, down=110) * (1 - soft)).astype(np.float32)
    run.at(0.7)
    made: Map = height.astype(np.float32)
    return Drawing(made, *_paint(wanted, made, soft, fine), TILE_M)


def _paint(wanted: Wanted, height: Map, soft: Map, fine: Map) -> tuple[Map, Map]:
    size = wanted.size
    pixel_m = TILE_M / size
    packed = np.broadcast_to(np.array([0.770, 0.790, 0.815], np.float32), (size, size, 3))
    colour = common.mix(packed, (0.835, 0.838, 0.842), soft) * (1 + 0.012 * fine)[..., None]
    # light that went into the snow comes out blue from hollows
    deep = common.dust(height, 0.05 / pixel_m, 0.05)
    colour = common.mix(colour.astype(np.float32), (0.640, 0.715, 0.800), deep * 0.6)
    grime = common.smoothstep(0.15, 0.6, wanted.noise(7, 20, 5, 0.6) - 0.5 * soft) * wanted.controls["grimy"]
    colour = common.mix(colour, (0.520, 0.490, 0.450), grime * 0.6)
    rough = 0.52 + 0.22 * soft + 0.05 * fine + 0.1 * grime
    return common.even_out(colour, 0.6, 0.12), np.clip(rough, 0.3, 1).astype(np.float32)
