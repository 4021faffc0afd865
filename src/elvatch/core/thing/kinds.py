"""Kinds of things that are drawn by code: what each is called, its controls, how it usually lies."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Literal, NamedTuple

import numpy as np

from elvatch.core.refusal import RefusalError
from elvatch.core.stock.generators.controls import Control, complete
from elvatch.core.thing.generators import plants, stones, wood
from elvatch.core.thing.generators.asked import Asked
from elvatch.core.thing.solid import Solid, stood

Family = Literal["stone", "wood", "plant"]
MOST_VARIANTS = 12


class ThingGenerator(NamedTuple):
    """A kind of thing: its title, its family, its controls, what draws it, and how it usually stands.

    ``usual_m`` is how long its longest side usually is, from and to; ``sunk`` the share of its height that usually
    lies in the ground, from and to; ``leans`` how far it follows the ground's slope, 0 upright; ``per_100_m2`` how
    many usually lie there.
    """

    title: str
    family: Family
    controls: tuple[Control, ...]
    draw: Callable[[Asked], Solid]
    usual_m: tuple[float, float]
    sunk: tuple[float, float]
    leans: float
    per_100_m2: float


def _share(name: str, label: str, usual: float, about: str) -> Control:
    return Control(name, label, "", 0.0, 1.0, usual, 0.05, about)


def _count(name: str, label: str, least: int, most: int, usual: int, about: str) -> Control:
    return Control(name, label, "", least, most, usual, 1, about)


def _worn(usual: float) -> Control:
    return _share("worn", "Worn", usual, "0 freshly broken, 1 rounded")


def _lichen(usual: float) -> Control:
    return _share("lichen", "Lichen", usual, "How much of what looks up is grown over")


def _dry(usual: float) -> Control:
    return _share("dry", "Dry", usual, "0 green, 1 straw")


_THICK = Control("thick", "Thickness", "×", 0.5, 2.0, 1.0, 0.05, "Against what is usual for its length")
_LEAF = Control("thick", "Thickness", "", 0.06, 0.4, 0.16, 0.01, "As a share of its length")

KINDS: Mapping[str, ThingGenerator] = {
    "boulder": ThingGenerator(
        "Boulder", "stone", (_worn(0.45), _lichen(0.4)), stones.boulder, (0.4, 1.8), (0.15, 0.35), 0.5, 1.5
    ),
    "split-boulder": ThingGenerator(
        "Split boulder",
        "stone",
        (_worn(0.4), _lichen(0.35), _share("gap", "Gap", 0.4, "How far its halves lean apart")),
        stones.split_boulder,
        (1.6, 4.2),
        (0.15, 0.3),
        0.3,
        0.05,
    ),
    "rubble-stone": ThingGenerator(
        "Rubble stone", "stone", (_worn(0.2), _lichen(0.1)), stones.rubble, (0.1, 0.6), (0.1, 0.3), 0.8, 8.0
    ),
    "slate-slab": ThingGenerator(
        "Slab of slate", "stone", (_LEAF, _lichen(0.2)), stones.slab, (0.3, 1.4), (0.1, 0.4), 0.95, 2.0
    ),
    "pebble-cluster": ThingGenerator(
        "Pebble cluster",
        "stone",
        (_count("count", "Pebbles", 5, 60, 28, "At most so many"), _lichen(0.0)),
        stones.pebbles,
        (0.3, 0.8),
        (0.1, 0.25),
        1.0,
        4.0,
    ),
    "driftwood": ThingGenerator("Driftwood", "wood", (_THICK,), wood.driftwood, (0.5, 3.2), (0.1, 0.35), 0.9, 0.5),
    "dead-branch": ThingGenerator(
        "Dead branch",
        "wood",
        (_count("twigs", "Twigs", 1, 6, 3, "On each limb"),),
        wood.dead_branch,
        (0.6, 2.4),
        (0.0, 0.12),
        1.0,
        1.0,
    ),
    "root": ThingGenerator(
        "Root",
        "wood",
        (_count("arms", "Arms", 3, 9, 6, "That leave the stump"),),
        wood.root,
        (0.8, 2.2),
        (0.05, 0.15),
        0.8,
        0.3,
    ),
    "dead-tree": ThingGenerator(
        "Dead tree",
        "wood",
        (_count("limbs", "Limbs", 3, 20, 10, "On its trunk"),),
        wood.dead_tree,
        (3.0, 8.0),
        (0.01, 0.03),
        0.1,
        0.1,
    ),
    "fence-post": ThingGenerator(
        "Fence post",
        "wood",
        (_THICK, _share("rails", "Rails", 0.3, "How many still have a piece")),
        wood.fence_post,
        (0.9, 1.5),
        (0.2, 0.5),
        0.15,
        0.5,
    ),
    "reed-tuft": ThingGenerator(
        "Reed tuft",
        "plant",
        (_count("stalks", "Stalks", 6, 60, 26, "In a tuft"), _dry(0.35)),
        plants.reed,
        (0.6, 1.4),
        (0.0, 0.03),
        0.1,
        60.0,
    ),
    "grass-tuft": ThingGenerator(
        "Grass tuft",
        "plant",
        (_count("blades", "Blades", 8, 160, 80, "In a tuft"), _dry(0.45)),
        plants.grass,
        (0.15, 0.5),
        (0.0, 0.04),
        0.2,
        150.0,
    ),
    "heather": ThingGenerator(
        "Heather",
        "plant",
        (
            _count("stems", "Stems", 8, 80, 46, "In a cushion"),
            _share("flowers", "Flowers", 0.4, "How many stems flower"),
        ),
        plants.heather,
        (0.3, 0.8),
        (0.02, 0.06),
        0.3,
        30.0,
    ),
    "fern": ThingGenerator(
        "Bracken",
        "plant",
        (_count("fronds", "Fronds", 3, 14, 8, "In a crown"), _dry(0.3)),
        plants.fern,
        (0.5, 1.3),
        (0.0, 0.03),
        0.2,
        20.0,
    ),
    "bramble": ThingGenerator(
        "Bramble",
        "plant",
        (
            _count("canes", "Canes", 4, 24, 12, "That arch out"),
            _share("bare", "Bare", 0.2, "How many leaves are gone"),
        ),
        plants.bramble,
        (0.8, 2.2),
        (0.0, 0.04),
        0.3,
        6.0,
    ),
    "young-birch": ThingGenerator(
        "Young birch",
        "plant",
        (
            _count("twigs", "Twigs", 8, 60, 34, "On its stem"),
            _count("leaves", "Leaves", 0, 6, 3, "At each knot of a twig"),
            _share("autumn", "Autumn", 0.2, "0 green, 1 yellow"),
        ),
        plants.birch,
        (1.8, 5.0),
        (0.0, 0.02),
        0.05,
        1.0,
    ),
}


def check(what: str, controls: Mapping[str, float]) -> dict[str, float]:
    """Return a value for every control of a kind.

    Raises
    ------
    RefusalError
        When there is no such kind, or a control is unknown or out of range.
    """
    if what not in KINDS:
        raise RefusalError("thing", repr(what[:40]), "one of " + ", ".join(KINDS), "choose one of these")
    return complete(KINDS[what].controls, controls)


def draw(what: str, seed: int, controls: Mapping[str, float]) -> Solid:
    """Return one thing of a kind, its longest side 1 m, standing on height 0.

    Parameters
    ----------
    what : str
        A key of :data:`KINDS`.
    seed : int
        Which one; the same draws the same.
    controls : mapping
        By name; those not given are usual.
    """
    asked = Asked(seed, np.random.default_rng([seed, sum(map(ord, what))]), check(what, controls))
    return stood(KINDS[what].draw(asked), 1.0)
