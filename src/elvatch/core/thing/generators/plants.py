"""Plants: tufts of reed and grass, heather, fern, bramble, young birch."""

from __future__ import annotations

import math

import numpy as np

from elvatch.core.thing.generators.asked import Asked
from elvatch.core.thing.grain import Points
from elvatch.core.thing.shapes import BladeCut, bent, blade, tube
from elvatch.core.thing.solid import Solid, joined

_GREEN, _STRAW, _DARK = np.array([0.07, 0.105, 0.028]), np.array([0.36, 0.29, 0.14]), np.array([0.035, 0.055, 0.02])
_REED, _RUSSET = np.array([0.10, 0.14, 0.05]), np.array([0.14, 0.06, 0.025])
_WOOD, _BIRCH = np.array([0.09, 0.06, 0.045]), np.array([0.52, 0.48, 0.42])
_FLOWER = np.array([0.24, 0.075, 0.15])


def _mixed(asked: Asked, a: Points, b: Points, share: float, spread: float = 0.18) -> Points:
    """Return a colour between two, as light and as far along as chance has it."""
    at = min(max(share + asked.rng.normal() * 0.22, 0.0), 1.0)
    return (a * (1 - at) + b * at) * float(np.exp(asked.rng.normal() * spread))


def grass(asked: Asked) -> Solid:
    """Return a tuft of grass, about 1 m across its longest side."""
    rng, parts, dry = asked.rng, [], asked.of("dry")
    for _ in range(int(asked.of("blades"))):
        out, turn = 0.24 * math.sqrt(rng.random()), rng.random() * 2 * math.pi
        base = np.array([out * math.cos(turn), out * math.sin(turn), 0.0])
        lean = turn + rng.normal() * 0.7
        length = rng.uniform(0.45, 1.05)
        tip = _mixed(asked, _GREEN, _STRAW, dry + 0.15)
        foot = _mixed(asked, _DARK, _STRAW * 0.7, 0.3 + 0.5 * dry)
        bend = rng.uniform(0.4, 1.4) * (0.6 + 3.0 * out)
        parts.append(
            blade(base, lean, length, rng.uniform(0.010, 0.020), bend, (foot, tip), BladeCut(4, 0.55, 0.5, 0.4))
        )
    return joined(parts)


def reed(asked: Asked) -> Solid:
    """Return a tuft of reed or rush, 1 m high: stiff stalks, some broken over."""
    rng, parts, dry = asked.rng, [], asked.of("dry")
    for _ in range(int(asked.of("stalks"))):
        out, turn = 0.13 * math.sqrt(rng.random()), rng.random() * 2 * math.pi
        base = np.array([out * math.cos(turn), out * math.sin(turn), 0.0])
        foot, tip = _mixed(asked, _REED * 0.7, _STRAW, 0.5 * dry), _mixed(asked, _REED, _STRAW, dry)
        bend = rng.uniform(0.05, 0.3) if rng.random() > 0.12 else rng.uniform(1.2, 2.4)
        width = rng.uniform(0.011, 0.019)
        parts.append(
            blade(
                base,
                turn + rng.normal(),
                rng.uniform(0.6, 1.05),
                width,
                bend,
                (foot, tip),
                BladeCut(4, 0.5, 0.35, 0.5),
            )
        )
        if rng.random() < 0.35:
            leaf_at = base + np.array([0, 0, rng.uniform(0.1, 0.35)])
            parts.append(
                blade(
                    leaf_at, rng.random() * 6.3, rng.uniform(0.3, 0.5), 0.02, 1.1, (foot, tip), BladeCut(4, 0.5, 0.5)
                )
            )
    return joined(parts)


def heather(asked: Asked) -> Solid:
    """Return a cushion of heather, 1 m across: wiry stems set with small leaves and flowers."""
    rng, parts = asked.rng, []
    for _ in range(int(asked.of("stems"))):
        out, turn = 0.42 * math.sqrt(rng.random()), rng.random() * 2 * math.pi
        base = np.array([0.35 * out * math.cos(turn), 0.35 * out * math.sin(turn), 0.0])
        way = np.array([out * 1.4 * math.cos(turn), out * 1.4 * math.sin(turn), 0.62 - 0.5 * out])
        line = bent(rng, base, way / np.linalg.norm(way), rng.uniform(0.35, 0.55), 5, 0.12)
        parts.append(tube(line, np.linspace(0.006, 0.002, 6), 3, _WOOD, 0.9, end=False))
        flowers = rng.random() < asked.of("flowers")
        for k in range(20):
            at = line[2 + k % 4] + (line[3 + k % 3] - line[2 + k % 3]) * rng.random() + rng.normal(size=3) * 0.012
            bloom = flowers and k > 12
            tip = _mixed(asked, _FLOWER, _STRAW, 0.1) if bloom else _mixed(asked, _DARK * 1.2, _RUSSET, 0.25)
            size = 0.06 if bloom else 0.085
            bend, cut = rng.uniform(0.4, 1.6), BladeCut(2, 0.7, 0.3, 0.2, 0.4)
            parts.append(blade(at, rng.random() * 6.3, size, 0.02, bend, (tip * 0.7, tip), cut))
    return joined(parts)


def fern(asked: Asked) -> Solid:
    """Return a fern (bracken), 1 m across: fronds set with leaflets on both sides."""
    rng, parts, dry = asked.rng, [], asked.of("dry")
    count = int(asked.of("fronds"))
    for f in range(count):
        turn = 2 * math.pi * (f + rng.uniform(-0.35, 0.35)) / count
        ahead, side = np.array([math.cos(turn), math.sin(turn), 0]), np.array([-math.sin(turn), math.cos(turn), 0])
        length, rise = rng.uniform(0.5, 0.62), rng.uniform(0.75, 1.2)
        t = np.linspace(0, 1, 16)
        line = ahead * (t * length * math.cos(rise * 0.5))[:, None]
        line = (
            line + np.array([0, 0, 1.0]) * (length * (math.sin(rise) * t - 0.75 * math.sin(rise) * t**2.2))[:, None]
        )
        green, tip = _mixed(asked, _GREEN, _RUSSET, dry), _mixed(asked, _GREEN * 1.25, _RUSSET * 1.4, dry)
        parts.append(tube(line, np.linspace(0.006, 0.0015, 16), 3, green * 0.8, 0.7, end=False))
        for k in range(3, 15):
            reach = 0.17 * math.sin(min(t[k] * 1.25, 1.0) * math.pi * 0.5) * (1.25 - t[k])
            for hand in (-1.0, 1.0):
                heading = math.atan2(*(side * hand + ahead * 0.45)[[1, 0]])
                long, wide, cut = max(reach, 0.03), max(reach * 0.32, 0.012), BladeCut(2, 0.6, 0.5, 0.15, 0.3)
                parts.append(blade(line[k], heading, long, wide, 1.45, (green, tip), cut))
    return joined(parts)


def bramble(asked: Asked) -> Solid:
    """Return a bramble, 1 m across: arching canes with leaves in threes."""
    rng, parts, bare = asked.rng, [], asked.of("bare")
    for _ in range(int(asked.of("canes"))):
        turn = rng.random() * 2 * math.pi
        way = np.array([math.cos(turn) * 0.7, math.sin(turn) * 0.7, 0.8])
        line = bent(rng, np.zeros(3), way, rng.uniform(0.55, 0.9), 12, 0.12, sag=0.16)
        line[:, 2] = np.maximum(line[:, 2], 0.01)
        parts.append(tube(line, np.linspace(0.009, 0.003, 13), 4, _RUSSET * 0.8, 0.7, end=False))
        for k in range(2, 12):
            for _leaf in range(3):
                if rng.random() < bare:
                    continue
                tint = _mixed(asked, _GREEN * 0.75, _RUSSET, 0.15)
                parts.append(
                    blade(
                        line[k],
                        rng.random() * 6.3,
                        rng.uniform(0.07, 0.12),
                        0.06,
                        rng.uniform(0.9, 1.8),
                        (tint, tint * 1.2),
                        BladeCut(3, 0.45, 0.4, 0.2, 0.4),
                    )
                )
    return joined(parts)


def birch(asked: Asked) -> Solid:
    """Return a young birch, 1 m high: a pale stem, thin twigs, leaves as small blades."""
    rng = asked.rng
    stem = bent(rng, np.zeros(3), np.array([0.0, 0.0, 1.0]), 0.97, 14, 0.05, sag=-0.03)
    bark = _BIRCH * np.where(rng.random(15) < 0.3, 0.35, 1.0)[:, None]
    parts = [tube(stem, np.linspace(0.014, 0.003, 15), 8, bark, 0.7, rng, 0.06)]
    for k in range(int(asked.of("twigs"))):
        at = int(rng.integers(4, 14))
        turn = 2.4 * k + rng.normal() * 0.4
        way = np.array([math.cos(turn), math.sin(turn), 0.9])
        length = rng.uniform(0.16, 0.34) * (1.3 - at / 15)
        twig = bent(rng, stem[at], way / np.linalg.norm(way), length, 7, 0.14, sag=0.1)
        parts.append(tube(twig, np.linspace(0.004, 0.0012, 8), 4, _WOOD * 0.8, 0.8, end=False))
        for j in range(1, 8):
            for _leaf in range(int(asked.of("leaves"))):
                if rng.random() < 0.25:
                    continue
                tint = _mixed(asked, _GREEN * 1.1, _STRAW * np.array([1.1, 0.9, 0.4]), asked.of("autumn"))
                place = twig[j] + rng.normal(size=3) * 0.012
                parts.append(
                    blade(
                        place,
                        rng.random() * 6.3,
                        rng.uniform(0.028, 0.045),
                        0.026,
                        rng.uniform(0.7, 2.4),
                        (tint, tint * 1.15),
                        BladeCut(2, 0.45, 0.55, 0.15, 0.45),
                    )
                )
    return joined(parts)
