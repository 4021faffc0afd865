"""Edges between layers are shaded as the slopes that they are."""

from __future__ import annotations

import numpy as np
import pytest

from elvatch.core.cover import function, plan
from elvatch.core.document.fit import Fit
from elvatch.core.document.layer import Edge
from elvatch.core.document.rule import OnNoise, Rule, on
from elvatch.core.ground import places
from elvatch.core.ground.clauses import between
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.places import Places
from elvatch.core.ground.survey import survey
from elvatch.core.picture.edge_slopes import with_edges
from elvatch.core.picture.fragments import GBuffer, nothing_seen
from elvatch.core.picture.kinds import GROUND
from tests.conftest import NAMES, flat_set, layer, plane
from tests.core.handing import bumpy_set, rolling

PX = 160
SETS = {NAMES[0]: bumpy_set(1), NAMES[1]: bumpy_set(2), NAMES[2]: flat_set(0.4, 0.9)}
BROKEN = Rule(clauses=(on(between("slope", upper=14, soft_upper=6)), OnNoise(join="break-up", size_m=9)))
STRIPES = Rule(clauses=(OnNoise(size_m=12, lower=0.5, soft_lower=0.2),))
SITES = {
    "by height on rolling ground": (rolling(), ("height", 0.3, BROKEN, 1, 1.2)),
    "a fade to a level layer": (plane(0), ("fade", 0.3, STRIPES, 2, 2.0)),
    "on a slope": (plane(30, 40), ("height", 0.2, STRIPES, 1, 1.0)),
}


def seen_from_above(at: Places) -> GBuffer:
    fragments = nothing_seen(PX * PX)
    fragments.pixel[:], fragments.kind[:], fragments.weight[:] = np.arange(PX * PX), GROUND, 1.0
    return GBuffer(PX, PX, fragments._replace(places=at))


def level_gradient(at: Places, slope: np.ndarray) -> np.ndarray:
    """The gradient over level coordinates of relief whose gradient along the surface is ``slope``."""
    rise = at.rise()
    return np.asarray((slope + rise * (rise * slope).sum(axis=1, keepdims=True)).reshape(PX, PX, 2))


@pytest.mark.parametrize("name", SITES)
def test_what_is_shaded_is_the_gradient_of_the_relief_that_is_seen(name: str) -> None:
    ground, (edge, width, rule, which, relief) = SITES[name]
    layers = (
        layer("Low", 0, fit=Fit(tile_m=30.0, relief_m=0.4)),
        layer(
            "High",
            which,
            rule,
            edge=Edge.model_validate({"kind": edge, "width_m": width}),
            fit=Fit(tile_m=26.0, relief_m=relief, relief_mid=0.0),
        ),
    )
    of = Heightfield(ground.heights_m, 100.0, 100.0)
    at = places.on_grid(survey(of), PX, PX, 0, PX)
    material = function.ask(plan.prepare(layers, SETS), at)
    edged = with_edges(seen_from_above(at), np.arange(PX * PX), material)
    down, east = np.gradient(material.relief_m.reshape(PX, PX).astype(float), 100 / PX)
    inner = np.s_[2:-2, 2:-2]
    before, after = (level_gradient(at, one.slope) for one in (material, edged))
    for axis, meant in ((0, east), (1, -down)):
        told = [np.corrcoef(one[..., axis][inner].ravel(), meant[inner].ravel())[0, 1] for one in (before, after)]
        assert told[1] > 0.98, (axis, told)
        assert told[0] < 0.9, "without them there is something to be mended"


def test_where_one_layer_lies_nothing_is_added() -> None:
    ground = plane(20)
    at = places.on_grid(survey(ground), PX, PX, 0, PX)
    material = function.ask(plan.prepare((layer("Low", 0, fit=Fit(tile_m=9.0, relief_m=0.8)),), SETS), at)
    edged = with_edges(seen_from_above(at), np.arange(PX * PX), material)
    np.testing.assert_array_equal(edged.slope, material.slope)
