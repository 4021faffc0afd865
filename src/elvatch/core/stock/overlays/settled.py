"""What settles, grows or dries on a surface: speckle, film, dust, lime bloom, damp patches and cracks."""

from __future__ import annotations

import numpy as np

from elvatch.core import noise
from elvatch.core.stock import periodic
from elvatch.core.stock.cells import cells
from elvatch.core.stock.generators.common import Map, Wanted, smoothstep
from elvatch.core.stock.generators.controls import Control
from elvatch.core.stock.overlays import strokes

SPECKLE_TILE_M, FILM_TILE_M, DUST_TILE_M, BLOOM_TILE_M, DAMP_TILE_M, CRACKS_TILE_M = 1.0, 1.8, 2.0, 1.6, 3.2, 2.4

SPECKLE = (
    Control("amount", "amount", "times", 0.1, 4.0, 1.0, 0.1, "how many spots there are"),
    Control("size", "size", "mm", 1.0, 30.0, 5.0, 0.5, "of a usual spot"),
    Control("gathered", "gathered", "", 0.0, 1.0, 0.6, 0.05, "how far they lie in splashes"),
)
FILM = (
    Control("cover", "cover", "", 0.05, 0.95, 0.4, 0.05, "share that is grown over"),
    Control("size", "patch size", "cm", 4.0, 90.0, 30.0, 2.0, "across a usual patch"),
    Control("grain", "grain", "", 0.0, 1.0, 0.5, 0.05, "how tufted it is"),
)
DUST = (
    Control("cover", "cover", "", 0.05, 0.95, 0.6, 0.05, "share that lies under it"),
    Control("size", "drift size", "cm", 5.0, 100.0, 40.0, 5.0, "across a usual drift"),
)
BLOOM = (
    Control("cover", "cover", "", 0.05, 0.95, 0.3, 0.05, "share that has bloomed"),
    Control("size", "patch size", "cm", 3.0, 80.0, 22.0, 1.0, "across a usual patch"),
    Control("crust", "crust", "", 0.0, 1.0, 0.55, 0.05, "how far it stands in crystals"),
)
DAMP = (
    Control("cover", "cover", "", 0.05, 0.95, 0.35, 0.05, "share that is damp"),
    Control("size", "patch size", "cm", 20.0, 160.0, 70.0, 5.0, "across a usual patch"),
    Control("edge", "edge", "cm", 0.5, 20.0, 4.0, 0.5, "over which it dries"),
)
CRACKS = (
    Control("spacing", "spacing", "cm", 8.0, 120.0, 48.0, 2.0, "from crack to crack"),
    Control("width", "width", "mm", 0.3, 12.0, 1.6, 0.1, "of a usual crack"),
    Control("whole", "whole", "", 0.0, 1.0, 0.45, 0.05, "share of cracks that never opened"),
)


def _ranked(values: Map, cover: float, soft: float) -> Map:
    """Return values as 0..1 so that the share ``cover`` of them lies above the middle of a soft step."""
    level = float(np.quantile(values[::4, ::4], 1 - cover))
    return smoothstep(level - soft, level + soft, values)


def _cells_of(tile_m: float, size_cm: float) -> int:
    return max(1, round(tile_m * 100 / size_cm))


def speckle(wanted: Wanted) -> Map:
    """Draw spots and spatter, seamless over 1 m."""
    size, seed, controls, _ = wanted
    rng = np.random.default_rng(seed)
    metre, pieces = size / SPECKLE_TILE_M, []
    gathered = controls["gathered"]
    splashes = [(rng.uniform(0, size, 2), rng.lognormal(-2.6, 0.5) * metre) for _ in range(11)]
    for _ in range(round(620 * controls["amount"])):
        half = 0.0005 * controls["size"] * metre * rng.lognormal(-0.5, 0.75)
        at, stretch = rng.uniform(0, size, 2), np.zeros(2)
        if rng.random() < gathered:
            middle, reach = splashes[rng.integers(len(splashes))]
            away = rng.normal(0, 1, 2)
            at, stretch = middle + away * reach, away * half * rng.uniform(0, 1.1)
        strong = rng.uniform(0.45, 1.0)
        line = np.array([at, at + stretch + 1e-3])
        pieces.append(strokes.along(line, np.array([half, half * 0.5]), np.array([strong, strong]), 1.2))
    return strokes.drawn(size, pieces)


def film(wanted: Wanted) -> Map:
    """Draw a thin growth that thickens inwards and is tufted at its edge, seamless over 1.8 m."""
    size, seed, controls, _ = wanted
    patch = noise.periodic(size, _cells_of(FILM_TILE_M, controls["size"]), seed, 5, 0.55)
    tufts = noise.periodic(size, 70, seed + 1, 4, 0.7)
    fine = noise.periodic(size, 260, seed + 2, 2, 0.7)
    grain = controls["grain"]
    body = _ranked((patch + grain * (0.16 * tufts + 0.06 * fine)).astype(np.float32), controls["cover"], 0.16)
    thin = 1 - 0.45 * grain * np.clip(0.5 - tufts, 0, 1) - 0.2 * grain * fine
    return strokes.held(body * thin)


def dust(wanted: Wanted) -> Map:
    """Draw dust that drifted together, seamless over 2 m."""
    size, seed, controls, _ = wanted
    drift = noise.periodic(size, _cells_of(DUST_TILE_M, controls["size"]), seed, 6, 0.6)
    fine = noise.periodic(size, 330, seed + 1, 2, 0.8)
    body = _ranked((drift + 0.10 * fine).astype(np.float32), controls["cover"], 0.45)
    return strokes.held(body * (0.85 + 0.3 * fine))


def bloom(wanted: Wanted) -> Map:
    """Draw lime that came out and dried: veils with a crisp outer rim and crystals, seamless over 1.6 m."""
    size, seed, controls, _ = wanted
    patch = noise.periodic(size, _cells_of(BLOOM_TILE_M, controls["size"]), seed, 5, 0.5)
    ragged = noise.periodic(size, 55, seed + 1, 4, 0.65)
    shape = (patch + 0.07 * ragged).astype(np.float32)
    veil = _ranked(shape, controls["cover"], 0.05)
    rim = np.clip(veil * (1 - _ranked(shape, controls["cover"] * 0.72, 0.10)), 0, 1)
    crystals = smoothstep(0.1, 0.5, noise.periodic(size, 190, seed + 2, 3, 0.75) + 0.4 * ragged)
    crust = controls["crust"]
    body = veil * (0.38 + 0.2 * ragged) + 0.32 * rim + crust * 0.55 * veil * crystals
    return strokes.held(body)


def damp(wanted: Wanted) -> Map:
    """Draw patches that dry from their edges in, darkest in the middle, seamless over 3.2 m."""
    size, seed, controls, _ = wanted
    patch = noise.periodic(size, _cells_of(DAMP_TILE_M, controls["size"]), seed, 4, 0.45)
    frayed = noise.periodic(size, 26, seed + 1, 5, 0.6)
    soft = 0.02 + 0.9 * controls["edge"] / controls["size"]
    body = _ranked((patch + 0.09 * frayed).astype(np.float32), controls["cover"], soft)
    return strokes.held(body * (0.86 + 0.16 * frayed))


def cracks(wanted: Wanted) -> Map:
    """Draw shrinkage cracks and hairlines that open, thin and end, seamless over 2.4 m."""
    size, seed, controls, _ = wanted
    rng = np.random.default_rng(seed)
    bend = [
        noise.periodic(size, 6, seed + k, 5, 0.62) * 0.022 + noise.periodic(size, 40, seed + 10 + k, 4, 0.65) * 0.0035
        for k in range(2)
    ]
    grid = max(2, round(CRACKS_TILE_M * 100 / controls["spacing"]))
    net = cells(rng, size, grid, (bend[0], bend[1]), left_out=0.12)
    away_mm = net.border * CRACKS_TILE_M * 1000
    # a crack opens where the strain was most and closes towards its end
    strain = noise.periodic(size, max(2, grid), seed + 30, 3, 0.5)
    open_ = _ranked(strain, 1 - controls["whole"], 0.22)
    half = np.maximum(0.5 * controls["width"] * (0.35 + 0.85 * open_), 0.05)
    pixel_mm = CRACKS_TILE_M * 1000 / size
    edge = np.clip((half + 0.5 * pixel_mm - away_mm) / pixel_mm, 0, 1)
    # finer than a pixel it is as much fainter
    line = edge * np.minimum(2 * half / pixel_mm, 1.0)
    shadow = 0.18 * np.exp(-away_mm / (2.5 * controls["width"] + pixel_mm))
    fine = periodic.blur(noise.periodic(size, 120, seed + 31, 2, 0.6), 1.0)
    made = np.maximum(line, shadow * (1 + 0.5 * fine)) * smoothstep(0.02, 0.35, open_)
    return strokes.held(made)
