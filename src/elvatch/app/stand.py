"""A site of one thing on a bare stand: how it begins."""

from __future__ import annotations

from elvatch.core.document.recipe import Peg, Recipe, Stand, Stands
from elvatch.core.document.set_thing import SetThing
from elvatch.core.document.thing import Thing
from elvatch.core.ground.description import FlatSource, Ground

_LEAST_ACROSS_M = 1.2
_SAMPLES = 65


def on_stand(thing: Thing, size_m: float) -> Recipe:
    """Return a site of one thing, so large, that stands in the middle of a level stand; the peg beside it."""
    thing = thing.model_copy(update={"id": "onstand"})
    across = max(3.0 * size_m, _LEAST_ACROSS_M)
    middle = across / 2
    # the surveyor stands clear of it, whichever way it is turned
    aside = min(middle + 0.55 * size_m + 0.35, across)
    far, mid, near = (
        Stand(bearing_deg=bearing, tilt_deg=tilt, distance_m=round(max(size_m * times, 0.4), 2), view_deg=view)
        for bearing, tilt, times, view in ((20, 16, 3.2, 32), (330, 10, 2.6, 42), (345, 14, 1.5, 44))
    )
    return Recipe(
        ground=Ground(width_m=across, depth_m=across, source=FlatSource(samples=_SAMPLES)),
        things=(thing,),
        set_things=(
            SetThing(
                id="stands",
                name=thing.name,
                thing=thing.id,
                east_m=middle,
                north_m=middle,
                size_m=size_m,
                sunk=0.0,
                joins_m=0.0,
            ),
        ),
        peg=Peg(east_m=aside, north_m=middle),
        stands=Stands(far=far, mid=mid, near=near),
    )
