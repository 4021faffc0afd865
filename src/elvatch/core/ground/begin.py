"""What can be begun on a ground, each as it suits it: steps, clauses, and what limits of measures may be there."""

from __future__ import annotations

from dataclasses import replace

from elvatch.core.ground import clauses
from elvatch.core.ground.clauses import MeasureClause
from elvatch.core.ground.description import Step
from elvatch.core.ground.measures import KINDS, NAMES, MeasureName, Span
from elvatch.core.ground.step import Extent, steps
from elvatch.core.results import result

NEW_ID = "new0"
"""What a part is called that is begun and not yet anywhere; whoever puts it somewhere gives it an id of its own."""


_LEDGES_DEG = 70.0


@result
class Beginnings:
    """New steps by kind, new limits by measure, and what limits of each measure may be."""

    steps: dict[str, Step]
    limits: dict[MeasureName, MeasureClause]
    spans: dict[MeasureName, Span]


def beginnings(extent: Extent) -> Beginnings:
    """Return what can be begun on a ground."""
    low, high = extent.elevations_m
    limits = {name: clauses.begun(name, low, high) for name in NAMES}
    spans = {name: KINDS[name].span(low, high) for name in NAMES}
    if extent.upright is not None:
        # plumb is 90°: a face has ledges below that, and hangs over beyond
        limits["slope"] = limits["slope"].model_copy(update={"lower": None, "upper": _LEDGES_DEG})
        spans["slope"] = replace(spans["slope"], most=180.0)
    return Beginnings({kind.kind_name(): kind.begun(NEW_ID, extent) for kind in steps()}, limits, spans)
