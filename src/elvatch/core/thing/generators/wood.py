"""Wood: driftwood, dead branches, roots, dead trees, fence posts."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from elvatch.core.thing.generators.asked import Asked
from elvatch.core.thing.grain import Points, noise_at
from elvatch.core.thing.shapes import bent, tube
from elvatch.core.thing.solid import Solid, joined

_BLEACHED = np.array([0.34, 0.30, 0.25])
_BARK = np.array([0.10, 0.078, 0.058])
_GREY = np.array([0.20, 0.185, 0.165])


def _limb(
    asked: Asked,
    line: Points,
    thick: float,
    thin: float,
    colour: NDArray[np.float64],
    sides: int,
    uneven: float = 0.12,
) -> Solid:
    along = np.linspace(0, 1, len(line))
    radii = thin + (thick - thin) * (1 - along) ** 0.8
    made = tube(line, radii, sides, colour, 0.82, asked.rng, uneven)
    tone = 1 + 0.35 * noise_at(made.places * np.array([1, 1, 0.35]), asked.seed, max(4 * thick, 0.02), 4)
    return made._replace(colours=(made.colours * np.clip(tone, 0.4, 1.7)[:, None]).astype(np.float32))


def _forked(
    asked: Asked, line: Points, thick: float, colour: NDArray[np.float64], forks: int, deep: int
) -> list[Solid]:
    """Return a limb with twigs on it, each with its own."""
    rng = asked.rng
    parts = [_limb(asked, line, thick, thick * 0.3, colour, 9 if deep > 1 else 6)]
    if deep == 0:
        return parts
    length = float(np.linalg.norm(np.diff(line, axis=0), axis=1).sum())
    for _ in range(forks):
        k = int(rng.integers(max(1, len(line) // 4), len(line) - 1))
        along = line[k] - line[k - 1]
        along /= np.linalg.norm(along)
        aside = rng.normal(size=3)
        aside -= along * (aside @ along)
        aside /= np.linalg.norm(aside)
        way = along * 0.75 + aside * rng.uniform(0.5, 0.9)
        share = rng.uniform(0.3, 0.6) * (1 - 0.5 * k / len(line))
        twig = bent(rng, line[k], way, length * share, max(4, len(line) // 2), 0.16)
        parts += _forked(asked, twig, thick * 0.5 * (1 - 0.4 * k / len(line)), colour, max(1, forks - 1), deep - 1)
    return parts


def driftwood(asked: Asked) -> Solid:
    """Return a washed trunk or branch, 1 m long, lying."""
    rng = asked.rng
    line = bent(rng, np.zeros(3), np.array([1.0, 0.0, 0.04]), 1.0, 14, 0.09)
    line[:, 2] = np.abs(line[:, 2]) * 0.5
    thick = 0.055 * asked.of("thick") * rng.uniform(0.8, 1.3)
    parts = _forked(asked, line, thick, _BLEACHED, 2, 1)
    # what was its root flares out
    for _ in range(int(rng.integers(2, 5))):
        way = np.array([-0.5, *rng.normal(size=2) * 0.8])
        root = bent(rng, line[0] + [0.02, 0, 0], way, 0.2, 6, 0.25)
        parts.append(_limb(asked, root, thick * 0.6, thick * 0.12, _BLEACHED, 7))
    return joined(parts)._replace(grain=0.35, grain_m=0.02)


def dead_branch(asked: Asked) -> Solid:
    """Return a fallen branch with its twigs, 1 m long, lying."""
    rng = asked.rng
    line = bent(rng, np.zeros(3), np.array([1.0, 0.0, 0.02]), 1.0, 12, 0.12)
    made = joined(_forked(asked, line, 0.03, _BARK, int(asked.of("twigs")), 2))
    places = made.places.copy()
    # it has come to lie: what stood up is pressed down
    places[:, 2] = np.where(places[:, 2] > 0, places[:, 2] * 0.45, places[:, 2] * 0.2)
    return made._replace(places=places, grain=0.3, grain_m=0.02)


def root(asked: Asked) -> Solid:
    """Return a stump's roots that come out of the ground and go in again, 1 m across."""
    rng, parts = asked.rng, []
    count = int(asked.of("arms"))
    for k in range(count):
        turn = 2 * math.pi * (k + rng.uniform(-0.3, 0.3)) / count
        length, steps = rng.uniform(0.35, 0.55), 12
        line = bent(rng, np.zeros(3), np.array([math.cos(turn), math.sin(turn), 0.0]), length, steps, 0.18)
        t = np.linspace(0, 1, steps + 1)
        line[:, 2] = 0.09 * (1 - t) ** 2 + 0.035 * np.sin(t * rng.uniform(6, 10)) * (1 - t) - 0.02 * t
        parts.append(_limb(asked, line, 0.05 * rng.uniform(0.7, 1.2), 0.008, _GREY, 8, 0.16))
    stump = np.array([[0, 0, -0.02], [0, 0, 0.06], [0.01, 0, 0.15], [0.015, 0.01, 0.21]])
    parts.append(_limb(asked, stump, 0.13, 0.09, _GREY, 12, 0.14))
    return joined(parts)._replace(grain=0.35, grain_m=0.025)


def dead_tree(asked: Asked) -> Solid:
    """Return a dead tree with bare limbs, 1 m high."""
    rng = asked.rng
    trunk = bent(rng, np.zeros(3), np.array([0.0, 0.0, 1.0]), 0.95, 16, 0.06, sag=-0.03)
    parts = [_limb(asked, trunk, 0.032, 0.006, _GREY, 10)]
    for k in range(int(asked.of("limbs"))):
        at = int(rng.integers(4, len(trunk) - 2))
        turn = 2.4 * k + rng.uniform(-0.5, 0.5)
        way = np.array([math.cos(turn), math.sin(turn), rng.uniform(0.1, 0.9)])
        limb = bent(rng, trunk[at], way, rng.uniform(0.16, 0.4) * (1.25 - at / len(trunk)), 9, 0.16, sag=-0.05)
        parts += _forked(asked, limb, 0.013 * (1.2 - at / len(trunk)), _GREY, 3, 1)
    return joined(parts)._replace(grain=0.3, grain_m=0.012)


def fence_post(asked: Asked) -> Solid:
    """Return a split fence post, 1 m high, with a rest of its rail where it has one."""
    rng = asked.rng
    line = np.stack([rng.normal(size=9) * 0.004, rng.normal(size=9) * 0.004, np.linspace(0, 1, 9)], 1)
    wide = 0.055 * asked.of("thick") * rng.uniform(0.85, 1.2)
    radii = np.full(9, wide) * np.linspace(1.05, 0.92, 9)
    made = tube(line, radii, 5, _GREY, 0.85, rng, 0.13)
    parts = [made]
    if rng.random() < asked.of("rails"):
        start = np.array([0.0, 0.0, rng.uniform(0.6, 0.82)])
        turn = rng.choice([0.0, math.pi])
        way = np.array([math.cos(turn), math.sin(turn), rng.uniform(-0.9, 0.0)])
        rail = bent(rng, start, way, rng.uniform(0.2, 0.5), 5, 0.03)
        parts.append(tube(rail, np.linspace(0.035, 0.025, 6), 5, _GREY * 0.9, 0.85, rng, 0.12))
    whole = joined(parts)
    tone = 1 + 0.4 * noise_at(whole.places * np.array([1, 1, 0.18]), asked.seed, 0.05, 4)
    tone *= 1 - 0.45 * np.clip(1 - whole.places[:, 2] / 0.3, 0, 1)
    return whole._replace(colours=(whole.colours * tone[:, None]).astype(np.float32), grain=0.4, grain_m=0.02)
