"""Cracked mud: plates that shrank apart, their rims curled up, finer cracks inside, dust and grit on top."""

from __future__ import annotations

import numpy as np

from elvatch.core import noise
from elvatch.core.stock.cells import Cells, cells
from elvatch.core.stock.generators import common
from elvatch.core.stock.generators.common import Drawing, Wanted
from elvatch.core.stock.generators.controls import Control

TILE_M = 2.5
CONTROLS = (
    Control("plates", "plate size", "cm", 12.0, 45.0, 22.0, 1.0, "across a usual plate"),
    Control("cracks", "crack width", "mm", 3.0, 26.0, 11.0, 0.5, "between large plates"),
    Control("curl", "curl", "mm", 0.0, 20.0, 7.0, 0.5, "how far the rims rise"),
    Control("damp", "damp", "", 0.0, 1.0, 0.15, 0.05, "how much of it is still dark"),
)


def draw(wanted: Wanted) -> Drawing:
    """Draw cracked mud, seamless over 2.5 m; see :class:`Wanted`."""
    size, seed, controls, run = wanted
    rng = np.random.default_rng(seed)
    bend = [
        noise.periodic(size, 9, seed + k, 4, 0.6) * 0.011 + noise.periodic(size, 45, seed + 10 + k, 3, 0.6) * 0.0016
        for k in range(2)
    ]
    grid = max(5, round(TILE_M * 100 / controls["plates"]))
    large = cells(rng, size, grid, (bend[0], bend[1]), left_out=0.22)
    run.at(0.3)
    small = cells(rng, size, grid * 3, (bend[0] * 1.5, bend[1] * 1.5), left_out=0.3)
    run.at(0.5)
    return Drawing(*_form(rng, large, small, size, seed, controls), TILE_M)


def _form(
    rng: np.random.Generator, large: Cells, small: Cells, size: int, seed: int, controls: dict[str, float]
) -> tuple[common.Map, common.Map, common.Map]:
    count = int(max(large.owner.max(), small.owner.max())) + 1
    rough_edge = 1 + 0.5 * noise.periodic(size, 60, seed + 20, 3, 0.6)
    width = controls["cracks"] / 1000 * np.clip(0.85 + 1.5 * noise.periodic(size, 7, seed + 21, 4), 0.22, 1.7)
    away = large.border * TILE_M * rough_edge
    open_ = common.smoothstep(1.25, 0.75, (away / (width / 2)).astype(np.float32))
    # fine cracks begin at the large ones and die out inside; not every plate has them
    fine_away = small.border * TILE_M * rough_edge
    brittle = (rng.random(count) < 0.62).astype(np.float32)[large.owner]
    fade = common.smoothstep(0.10, 0.015, away) + 0.35 * common.smoothstep(
        0.1, 0.4, noise.periodic(size, 8, seed + 22)
    )
    fine = common.smoothstep(1.3, 0.5, fine_away / (0.0016 + 0.0014 * fade)) * np.clip(fade, 0, 1) * brittle
    level = rng.normal(0, 0.0022, count).astype(np.float32)[large.owner]
    lean = rng.normal(0, 0.016, (2, count)).astype(np.float32)
    tilt = -(large.centre_x * lean[0][large.owner] + large.centre_y * lean[1][large.owner]) * TILE_M
    curl = controls["curl"] / 1000 * (0.1 + 1.5 * rng.random(count).astype(np.float32))[large.owner]
    rim = curl * np.exp(-np.clip(away - width / 2, 0, None) / 0.022)
    shoulder = -0.004 * np.exp(-np.clip(away - width / 2, 0, None) / 0.004)
    grain = noise.periodic(size, 180, seed + 23, 4, 0.7)
    skin = noise.periodic(size, 26, seed + 24, 5, 0.6)
    height = level + tilt + rim + shoulder + 0.0014 * skin + 0.0003 * grain
    depth = 0.022 + 0.5 * width
    height = height * (1 - open_) - open_ * depth * (0.75 + 0.25 * noise.periodic(size, 40, seed + 25, 3))
    height = (height - fine * 0.0035).astype(np.float32)
    plate = np.broadcast_to(np.array([0.292, 0.248, 0.196], np.float32), (size, size, 3))
    tones = (1 + rng.normal(0, 0.055, count)).astype(np.float32)[large.owner]
    inner = (1 + rng.normal(0, 0.025, count)).astype(np.float32)[small.owner]
    colour = plate * (tones * inner * (1 + 0.07 * grain + 0.06 * skin))[..., None]
    pale = np.exp(-np.clip(away - width / 2, 0, None) / 0.010) * (0.4 + 0.6 * brittle)
    colour = common.mix(colour, (0.365, 0.322, 0.262), np.clip(pale * 0.55, 0, 1).astype(np.float32))
    dust = common.smoothstep(0.05, 0.5, noise.periodic(size, 6, seed + 26, 4, 0.6))
    colour = common.mix(colour, (0.335, 0.300, 0.250), dust * 0.35)
    wet = common.smoothstep(0.62, 0.2, noise.periodic(size, 4, seed + 27, 4, 0.55) + 0.95 - controls["damp"])
    colour = common.mix(colour, (0.130, 0.104, 0.078), wet * 0.7)
    dark = np.clip(open_ + 0.85 * fine, 0, 1).astype(np.float32)
    colour = common.mix(colour, (0.085, 0.066, 0.050), dark * (0.62 + 0.3 * common.smoothstep(0.002, 0.006, width)))
    colour = common.to_mean(common.even_out(colour, 0.5, 0.12), 0.235 - 0.07 * controls["damp"])
    rough = np.clip(0.86 + 0.05 * grain - 0.34 * wet, 0.3, 1).astype(np.float32)
    return height, colour, rough
