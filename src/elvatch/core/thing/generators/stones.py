"""Stones: boulders, broken rubble, slabs of slate, clusters of pebbles."""

from __future__ import annotations

import numpy as np

from elvatch.core.thing.generators.asked import Asked
from elvatch.core.thing.grain import noise_at
from elvatch.core.thing.shapes import hollows, stone
from elvatch.core.thing.solid import Solid, joined, solid

_LICHEN = np.array([0.30, 0.31, 0.22])
_RUST = np.array([0.20, 0.13, 0.08])


def _painted(
    asked: Asked,
    places: np.ndarray[tuple[int, ...], np.dtype[np.float64]],
    triangles: np.ndarray[tuple[int, ...], np.dtype[np.int32]],
    base: tuple[float, float, float],
    grain: float,
    grain_m: float,
) -> Solid:
    """Return a stone with its colours: mottled, paler on edges, darker in hollows, lichen on what looks up."""
    size = float(np.ptp(places, axis=0).max())
    seed = int(asked.rng.integers(1 << 20))
    tone = 1 + 0.25 * noise_at(places, seed, 0.35 * size, 4) + 0.12 * noise_at(places, seed + 3, 0.06 * size, 3)
    out = hollows(places, triangles)
    tone *= np.clip(1 + 0.5 * out, 0.7, 1.3)
    colours = np.array(base) * tone[:, None]
    stain = np.clip(noise_at(places, seed + 11, 0.5 * size, 3) * 1.6 - 0.25, 0, 1)[:, None]
    colours = colours * (1 - 0.45 * stain) + _RUST * 0.45 * stain
    made = solid(places, triangles, colours, 0.86)
    patches = np.clip(noise_at(places, seed + 5, 0.22 * size, 4) * 3.0 + 3 * made.normals[:, 2] - 3.0, 0, 1)
    cover = (asked.of("lichen") * patches)[:, None]
    colours = np.clip(colours * (1 - cover) + _LICHEN * cover * tone[:, None], 0.005, 0.9)
    open_sky = np.clip(0.92 + 0.9 * out, 0.45, 1.0)
    return solid(places, triangles, colours, 0.86, open_sky=open_sky, grain=grain, grain_m=grain_m)


def boulder(asked: Asked) -> Solid:
    """Return a boulder, 1 m long."""
    rng, worn = asked.rng, asked.of("worn")
    wide, high = rng.uniform(0.72, 0.95), rng.uniform(0.55, 0.8)
    places, triangles = stone(rng, (0.5, 0.5 * wide, 0.5 * high), 15, 1 - 0.85 * worn, 0.035, 4)
    return _painted(asked, places, triangles, (0.155, 0.152, 0.145), 0.3, 0.05)


def split_boulder(asked: Asked) -> Solid:
    """Return a boulder, 1 m long, that frost has split in two halves leaning apart."""
    rng, worn, gap = asked.rng, asked.of("worn"), asked.of("gap")
    high = rng.uniform(0.62, 0.8)
    places, triangles = stone(rng, (0.5, 0.46, 0.5 * high), 13, 1 - 0.8 * worn, 0.03, 5)
    turn, dip = rng.uniform(-0.5, 0.5), rng.uniform(-0.18, 0.18)
    across = np.array([np.cos(turn), np.sin(turn), dip])
    across /= np.linalg.norm(across)
    at, seed, parts = rng.uniform(-0.08, 0.08), int(rng.integers(1 << 20)), []
    torn = 0.03 * noise_at(places, seed, 0.3, 3) + 0.012 * noise_at(places, seed + 9, 0.07, 3)
    for way in (1.0, -1.0):
        # what lies beyond the crack is pressed onto its face, which is as uneven on both sides
        beyond = np.maximum(way * (places @ across - at - torn), 0.0)
        half = places - way * beyond[:, None] * across
        lean = way * (0.35 + 0.65 * rng.random()) * 0.7 * gap
        axis = np.cross(across, [0.0, 0.0, 1.0])
        axis /= np.linalg.norm(axis)
        foot = np.array([0.0, 0.0, places[:, 2].min()])
        arm = half - foot
        along = (arm @ axis)[:, None] * axis
        half = foot + along + np.cos(lean) * (arm - along) + np.sin(lean) * np.cross(axis, arm)
        half -= way * 0.16 * gap * across
        part = _painted(asked, half, triangles, (0.15, 0.147, 0.14), 0.3, 0.05)
        # the face of the crack is younger: bare of what grew on the outside
        fresh = np.clip(beyond / 0.02, 0, 1)[:, None] * 0.7
        rock = np.array([0.19, 0.18, 0.165]) * (1 + 6.0 * torn)[:, None]
        parts.append(part._replace(colours=(part.colours * (1 - fresh) + rock * fresh).astype(np.float32)))
    return joined(parts)


def rubble(asked: Asked) -> Solid:
    """Return a broken stone, 1 m long."""
    rng, worn = asked.rng, asked.of("worn")
    squash = (0.5, 0.5 * rng.uniform(0.55, 0.9), 0.5 * rng.uniform(0.42, 0.75))
    places, triangles = stone(rng, squash, 10, 1 - 0.5 * worn, 0.02, 4, layered=0.35)
    return _painted(asked, places, triangles, (0.21, 0.19, 0.155), 0.28, 0.05)


def slab(asked: Asked) -> Solid:
    """Return a slab of slate, 1 m long."""
    rng = asked.rng
    thick = asked.of("thick") * rng.uniform(0.75, 1.25)
    squash = (0.5, 0.5 * rng.uniform(0.5, 0.85), 0.5 * thick)
    places, triangles = stone(rng, squash, 11, 1.0, 0.012, 4, layered=0.94)
    # cleaved edges show their leaves
    rings = np.round(places[:, 2] / max(0.12 * thick, 1e-3))
    aside = np.random.default_rng(asked.seed).normal(size=200)[(rings.astype(int) + 100) % 200]
    places[:, :2] *= (1 + 0.02 * aside)[:, None]
    return _painted(asked, places, triangles, (0.105, 0.112, 0.125), 0.22, 0.04)


def pebbles(asked: Asked) -> Solid:
    """Return a cluster of pebbles, 1 m across."""
    rng, parts = asked.rng, []
    taken: list[tuple[float, float, float]] = []
    for _ in range(400):
        radius = 0.05 + 0.11 * float(rng.random()) ** 2
        away, turn = 0.5 * float(np.sqrt(rng.random())) - radius / 2, rng.random() * 2 * np.pi
        x, y = away * np.cos(turn), away * np.sin(turn)
        if any((x - p) ** 2 + (y - q) ** 2 < (0.85 * (radius + r)) ** 2 for p, q, r in taken):
            continue
        taken.append((float(x), float(y), radius))
        places, triangles = stone(rng, (radius, radius * 0.8, radius * 0.55), 7, 0.1, 0.01, 2)
        places = places + np.array([x, y, radius * 0.35])
        shade = 0.16 * float(rng.uniform(0.6, 1.7))
        warm = float(rng.uniform(-0.12, 0.16))
        parts.append(_painted(asked, places, triangles, (shade * (1 + warm), shade, shade * (1 - warm)), 0.15, 0.05))
        if len(taken) >= int(asked.of("count")):
            break
    return joined(parts)
