"""A thing's model: its variants, each in levels of detail, with what is asked of it to let it stand."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.thing import crowd, kinds
from elvatch.core.thing.levels import levels
from elvatch.core.thing.solid import Solid, foot


class Model(NamedTuple):
    """``variants`` of levels, finest first, the longest side of each variant 1 m; ``feet`` (variants, 8, 3) outline
    of each variant's foot, ``height`` (variants,), ``wide`` half the width of a foot on the mean; ``crowd`` what
    many of them come to from afar, see :func:`elvatch.core.thing.crowd.table`."""

    variants: tuple[tuple[Solid, ...], ...]
    feet: NDArray[np.float32]
    height: NDArray[np.float32]
    wide: float
    crowd: crowd.CrowdTables

    @property
    def triangles(self) -> list[int]:
        """How many triangles a variant has on the mean, level by level."""
        return [
            round(float(np.mean([len(one[k].triangles) for one in self.variants])))
            for k in range(len(self.variants[0]))
        ]


def model(solids: list[Solid]) -> Model:
    """Return the model of a thing's variants, each 1 m long and standing on height 0."""
    feet = np.stack([foot(one) for one in solids])
    height = np.array([one.extent_m[2] for one in solids], np.float32)
    variants = tuple(levels(one) for one in solids)
    return Model(variants, feet, height, float(np.hypot(feet[..., 0], feet[..., 1]).mean()), crowd.table(variants))


def drawn(what: str, seed: int, variants: int, controls: dict[str, float]) -> Model:
    """Return the model of a kind that is drawn; see :func:`elvatch.core.thing.kinds.draw`."""
    return model([kinds.draw(what, seed * 101 + k, controls) for k in range(variants)])
