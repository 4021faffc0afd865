"""Forms: generated ground, added to what is there. All are functions of the place, at any sampling."""

from __future__ import annotations

import math
from typing import Annotated, Any, Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from elvatch.core.ground.shaped import Shaped
from elvatch.core.ground.step import Extent, StepBase, sized, to_step
from elvatch.core.kernel import inner, kernel
from elvatch.core.noise import gradient_noise, hash_cell
from elvatch.core.parallel import over_bands
from elvatch.core.parts import Bearing, Place, Seed, Share
from elvatch.core.run import Run
from elvatch.core.shown import Shown, metres, share

Character = Literal["rolling", "ridged", "billowed", "cellular", "dunes", "gorges", "basin"]


class FormStep(StepBase):
    """Adds a generated form; several may be added together."""

    title = "Form"
    about = "adds generated ground: hills, ridges, dunes, gorges, a basin"
    order = 10
    opposite_title = "take it away instead"
    cost = 1.5

    kind: Literal["form"] = "form"
    character: Character = "rolling"
    seed: Seed = 1
    size_m: Annotated[float, metres("Feature size", 20_000, "Size of its largest features", 1, 1)] = Field(
        default=400.0, gt=0, le=100_000, description="Size of its largest features"
    )
    height_m: Annotated[
        float, metres("Height", 4_000, "About, from its lowest to its highest; nothing is ever clipped", step=1)
    ] = Field(default=80.0, ge=0, le=10_000, description="About, from its lowest to its highest")
    detail: Annotated[
        int, Shown("Detail", "", 1, 12, 1, hint="How many times features of half the size are added")
    ] = Field(default=7, ge=1, le=12, description="How many times features of half the size are added")
    roughness: Annotated[Share, share("Roughness", "How strong each finer size is against the one before")] = Field(
        default=0.5, description="How strong each finer size is against the one before"
    )
    bearing_deg: Annotated[Bearing, Shown("Wind from", "°", 0, 360, 1)] = Field(
        default=270.0, description="Where the wind of dunes comes from"
    )
    east_m: Place | None = Field(default=None, description="Middle of a basin; None is the middle of the ground")
    north_m: Place | None = None
    opposite: bool = Field(default=False, description="Taken away instead of added")

    @classmethod
    def suiting(cls, extent: Extent) -> dict[str, Any]:
        """Return the numbers of a new one that depend on the ground."""
        return {
            "name": "Rolling form",
            "size_m": sized(extent.longest_m / 3, 1),
            "height_m": max(1.0, to_step(extent.longest_m / 12, 1)),
        }

    def apply(self, shaped: Shaped, run: Run) -> Shaped:
        """Return a ground with this step done to all of it."""
        return apply(shaped, self, run)


_CHARACTERS = ("rolling", "ridged", "billowed", "cellular", "dunes", "gorges", "basin")
_ROLLING, _RIDGED, _BILLOWED, _CELLULAR, _DUNES, _GORGES, _BASIN = range(7)


class _Form(NamedTuple):
    kind: int
    seed: int
    size: float
    octaves: int
    gain: float
    wind_x: float
    wind_y: float
    middle_x: float
    middle_y: float


@inner
def _sum(x: float, y: float, seed: int, octaves: int, gain: float) -> float:
    """Octaves of noise about 0; the first has weight 1."""
    total, weight = 0.0, 1.0
    for octave in range(octaves):
        total += weight * gradient_noise(x, y, seed + 131 * octave, 0)
        weight *= gain
        # octaves are turned against each other, so that no direction of the lattice adds up
        x, y = 1.6 * x - 1.2 * y + 17.3, 1.2 * x + 1.6 * y - 9.1
    return total


@inner
def _ridges(x: float, y: float, seed: int, octaves: int, gain: float) -> float:
    """Creased ridges, rougher where they are high (Musgrave 1994), 0..1."""
    total, weight, norm, part = 0.0, 1.0, 0.0, 1.0
    for octave in range(octaves):
        crest = 1.0 - min(1.0, abs(gradient_noise(x, y, seed + 131 * octave, 0)) * 1.15)
        signal = crest * crest * part
        total += weight * signal
        norm += weight
        part = min(1.0, signal * 2.0)
        weight *= gain
        x, y = 1.6 * x - 1.2 * y + 17.3, 1.2 * x + 1.6 * y - 9.1
    return total / norm * 1.25


@inner
def _billows(x: float, y: float, seed: int, octaves: int, gain: float) -> float:
    """Rounded swells with creased hollows, 0..1."""
    total, weight, norm = 0.0, 1.0, 0.0
    for octave in range(octaves):
        total += weight * abs(gradient_noise(x, y, seed + 131 * octave, 0))
        norm += weight
        weight *= gain
        x, y = 1.6 * x - 1.2 * y + 17.3, 1.2 * x + 1.6 * y - 9.1
    return math.sqrt(max(total / norm, 0.0)) * 1.2


@inner
def _cells(x: float, y: float, seed: int) -> float:
    """Distance from the border between the two nearest of scattered points (Worley 1996), 0..1."""
    cx, cy = math.floor(x), math.floor(y)
    first, second = 1e9, 1e9
    for dy in range(-2, 3):
        for dx in range(-2, 3):
            bits = hash_cell(cx + dx, cy + dy, seed)
            px = cx + dx + (bits & 0xFFFF) / 65536.0
            py = cy + dy + ((bits >> 16) & 0xFFFF) / 65536.0
            d = (px - x) ** 2 + (py - y) ** 2
            if d < first:
                first, second = d, first
            elif d < second:
                second = d
    return min(1.0, (math.sqrt(second) - math.sqrt(first)) * 1.2)


@inner
def _dune(x: float, y: float, form: _Form, bend: float) -> float:
    """A train of dunes: a long windward slope, a short slip face, crests that wander and end, 0..1."""
    along, across = x * form.wind_x + y * form.wind_y, x * form.wind_y - y * form.wind_x
    wander = 0.55 * gradient_noise(across * 0.55, along * 0.35, form.seed, 0) + 0.10 * bend
    wave = along + wander
    crest = wave - math.floor(wave)
    strength = 0.55 + 0.75 * gradient_noise(across * 0.4 + 3.7, math.floor(wave) * 0.83, form.seed + 7, 0)
    lee = 0.26
    rise = crest / (1.0 - lee) if crest < 1.0 - lee else (1.0 - crest) / lee
    rise = rise * rise * (3.0 - 2.0 * rise)
    return rise * min(max(strength, 0.05), 1.0)


@inner
def _unit_form(form: _Form, east: float, north: float, octaves: int) -> float:
    """Return a form at a place, about -0.5..0.5 or 0..1 of its height."""
    x, y = east / form.size, north / form.size
    if form.kind == _ROLLING:
        return 0.5 * _sum(x, y, form.seed, octaves, form.gain)
    if form.kind == _RIDGED:
        return _ridges(x, y, form.seed, octaves, form.gain)
    if form.kind == _BILLOWED:
        return _billows(x, y, form.seed, octaves, form.gain)
    bend = _sum(x * 1.7 + 5.2, y * 1.7 - 2.8, form.seed + 977, max(1, octaves - 1), form.gain)
    if form.kind == _CELLULAR:
        edge = _cells(x + 0.18 * bend, y + 0.18 * gradient_noise(x * 2.0, y * 2.0, form.seed + 5, 0), form.seed)
        return math.sqrt(edge) + 0.12 * bend
    if form.kind == _DUNES:
        return _dune(x, y, form, bend)
    if form.kind == _GORGES:
        # a plateau, cut where a line of noise crosses zero; gorges widen with their depth
        line = abs(_sum(x, y, form.seed, max(1, octaves - 1), form.gain))
        side = min(1.0, max(0.0, (line - 0.02) / 0.22))
        ledge = side + 0.05 * math.sin(side * 22.0) * (1.0 - side)
        return float(ledge**0.7 + 0.06 * bend)
    away = math.hypot(east - form.middle_x, north - form.middle_y) / form.size
    away *= 1.0 + 0.28 * bend * min(1.0, away)
    rim = min(1.0, away)
    return rim * rim * (3.0 - 2.0 * rim) + 0.04 * bend


@kernel
def _add_rows(
    heights: NDArray[np.float32],
    form: _Form,
    height: float,
    width_m: float,
    depth_m: float,
    octaves: int,
    out: NDArray[np.float32],
    a: int,
    b: int,
) -> None:
    rows, cols = heights.shape
    for row in range(a, b):
        north = depth_m * (1.0 - row / (rows - 1))
        for col in range(cols):
            east = width_m * col / (cols - 1)
            out[row, col] = heights[row, col] + height * _unit_form(form, east, north, octaves)


def apply(shaped: Shaped, step: FormStep, run: Run) -> Shaped:
    """Add a form to a ground, or take it away.

    Features finer than two cells are left out, since the grid cannot hold them.
    """
    ground = shaped.ground
    wind = math.radians(step.bearing_deg)
    form = _Form(
        kind=_CHARACTERS.index(step.character),
        seed=step.seed,
        size=step.size_m,
        octaves=step.detail,
        gain=0.25 + 0.5 * step.roughness,
        # downwind
        wind_x=-math.sin(wind),
        wind_y=-math.cos(wind),
        middle_x=ground.width_m / 2 if step.east_m is None else step.east_m,
        middle_y=ground.depth_m / 2 if step.north_m is None else step.north_m,
    )
    held = 1 + int(math.log2(max(1.0, step.size_m / (2.0 * max(ground.cell_x_m, ground.cell_y_m)))))
    octaves = max(1, min(step.detail, held))
    height = -step.height_m if step.opposite else step.height_m
    out = np.empty_like(ground.heights_m)
    over_bands(
        ground.rows,
        lambda a, b: _add_rows(ground.heights_m, form, height, ground.width_m, ground.depth_m, octaves, out, a, b),
        run.token,
    )
    return shaped.with_heights(out)
