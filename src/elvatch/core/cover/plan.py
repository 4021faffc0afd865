"""A recipe's layers made ready for asking: numbers, and the sets they refer to."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.clauses import CLAUSE_NUMBERS, clause_numbers
from elvatch.core.cover.ground_image import GroundImage
from elvatch.core.cover.recipe import Layer
from elvatch.core.refusal import RefusalError
from elvatch.core.stock.pyramid import BLUE, HEIGHT, RED, Pyramid

# columns of a layer's numbers
(OPACITY, TILE, TURN_COS, TURN_SIN, OFF_EAST, OFF_NORTH, RELIEF, MID, SLOPE_GAIN, BY_HEIGHT, WIDTH, BRIGHTNESS,
 ROUGH_SHIFT, OCCLUDE, VARY, VARY_SIZE, BREAK_SIZE, BREAK_STRENGTH, BREAK_SEED, IMAGE, MEAN_RED, MEAN_GREEN,
 MEAN_BLUE) = range(23)  # fmt: skip
LAYER_NUMBERS = 23


class Plan(NamedTuple):
    """Visible layers from the bottom up, as compiled code takes them.

    ``rules`` has one more entry than there are layers: layer ``i`` owns clauses
    ``rules[i]`` to ``rules[i + 1] - 1``. ``sets`` holds addresses and sides. ``image`` is the address
    and side of the image over the ground, 0 when there is none, ``extent`` the ground's size in metres.
    """

    layers: NDArray[np.float64]
    clauses: NDArray[np.float64]
    rules: NDArray[np.int64]
    sets: NDArray[np.int64]
    image: NDArray[np.int64]
    extent: NDArray[np.float64]


class Prepared(NamedTuple):
    """A plan with what keeps it alive.

    ``positions`` says for each layer of the recipe which layer of the plan it is, or -1 when it is off.
    """

    plan: Plan
    pyramids: tuple[Pyramid, ...]
    image: GroundImage | None
    positions: tuple[int, ...]


def _layer_numbers(layer: Layer, pyramid: Pyramid) -> tuple[float, ...]:
    fit, look = layer.fit, layer.look
    turn = math.radians(fit.turn_deg)
    # a normal map's slopes hold at the set's own size and relief; the fit changes both
    slope_gain = (fit.relief_m / pyramid.relief_m) * (pyramid.tile_m / fit.tile_m) * look.normal_strength
    return (
        layer.opacity, fit.tile_m, math.cos(turn), math.sin(turn), fit.offset_east_m, fit.offset_north_m,
        fit.relief_m, float(pyramid.mean[HEIGHT]), slope_gain,
        1.0 if layer.edge.kind == "height" else 0.0, layer.edge.width_m,
        look.brightness, look.roughness_shift, look.occlusion, look.variation, look.variation_size_m,
        layer.rule.break_up.size_m, layer.rule.break_up.strength, float(layer.rule.break_up.seed),
        look.ground_image, *(float(v) for v in pyramid.mean[RED : BLUE + 1]),
    )  # fmt: skip


def missing_set(layer: Layer) -> RefusalError:
    """Return what is said of a layer whose set is not there."""
    return RefusalError(
        layer.name, "a texture set that is not in the stock", "one that is", "choose another set for it"
    )


def prepare(layers: tuple[Layer, ...], sets: Mapping[str, Pyramid], image: GroundImage | None = None) -> Prepared:
    """Make layers ready for :func:`elvatch.core.cover.function.ask`.

    Parameters
    ----------
    layers : tuple of Layer
        From the bottom up.
    sets : mapping
        Stored sets by content name.
    image : GroundImage, optional
        Over the whole ground, for layers that take their colour from it.

    Raises
    ------
    RefusalError
        When a layer refers to a set that is not there.
    """
    shown = [layer for layer in layers if layer.on]
    for layer in shown:
        if layer.set not in sets:
            raise missing_set(layer)
    pyramids = tuple(sets[layer.set] for layer in shown)
    numbers = [_layer_numbers(layer, pyramid) for layer, pyramid in zip(shown, pyramids, strict=True)]
    clauses = [clause_numbers(clause) for layer in shown for clause in layer.rule.clauses]
    ends = np.cumsum([0] + [len(layer.rule.clauses) for layer in shown])
    numbers_of = iter(range(len(shown)))
    return Prepared(
        plan=Plan(
            layers=np.array(numbers, np.float64).reshape(-1, LAYER_NUMBERS),
            clauses=np.array(clauses, np.float64).reshape(-1, CLAUSE_NUMBERS),
            rules=ends.astype(np.int64),
            sets=np.array([(p.texels.ctypes.data, p.size) for p in pyramids], np.int64).reshape(-1, 2),
            image=np.array([image.pyramid.texels.ctypes.data, image.pyramid.size] if image else [0, 0], np.int64),
            extent=np.array([image.width_m, image.depth_m] if image else [1.0, 1.0]),
        ),
        pyramids=pyramids,
        image=image,
        positions=tuple(next(numbers_of) if layer.on else -1 for layer in layers),
    )
