"""Findings about wear."""

from __future__ import annotations

from elvatch.core.document.recipe import Recipe
from elvatch.core.document.wear import Made, Wear
from elvatch.core.judging.finding import Mend, Mendable, changed, found
from elvatch.core.judging.judged import Judged
from elvatch.core.judging.of_layers import SCALES_APART, sized
from elvatch.core.rules.account import LEAST_SHARE
from elvatch.core.stock.overlays import OVERLAYS
from elvatch.core.wear import wear_plan

WEAR_MM = 30.0


def _changed(wear: Wear, **fields: object) -> Mend:
    """Return what gives one wear of a recipe other fields."""

    def mend(now: Recipe) -> Recipe:
        wears = tuple(changed(one, **fields) if one.id == wear.id else one for one in now.wears)
        return now.model_copy(update={"wears": wears})

    return mend


def deep(site: Judged) -> list[Mendable]:
    """Find wear that cuts or heaps deeper than marks do."""
    out = []
    for wear in site.recipe.wears:
        if not wear.on or wear.effects.relief is None:
            continue
        depth = max((abs(one) for one in wear_plan.depths_m((wear,), site.recipe.layers)), default=0.0) * 1000
        if depth <= WEAR_MM:
            continue
        less = max(round(wear.strength * 0.25 * WEAR_MM / depth, 3), 0.01)
        mend = (f"strength {less:g}", _changed(wear, strength=less))
        out.append(found("wear-deep", (wear.id, wear.name), f"{depth:.0f} mm deep or high", depth, "mm", mend))
    return out


def scale(site: Judged) -> list[Mendable]:
    """Find drawn marks that are much larger or smaller than life against the layer that most of them lie on."""
    out = []
    for wear in site.recipe.wears:
        if not wear.on or not isinstance(wear.source, Made) or wear.follows.kind != "ground":
            continue
        under = _under(site, wear)
        if under is None:
            continue
        like, share = under
        layer = site.recipe.layers[like]
        true_m, times = OVERLAYS[wear.source.what].tile_m, layer.fit.tile_m / site.sets[layer.set].tile_m
        own = wear.lie.tile_m / true_m
        apart = max(own, times) / min(own, times)
        if share < LEAST_SHARE or apart < SCALES_APART:
            continue
        tile = round(true_m * times, 3)
        text = f"{sized(own)} on {layer.name}, which lies {sized(times)}"
        mend = (f"a tile of {tile:g} m", _changed(wear, lie=wear.lie.model_dump() | {"tile_m": tile}))
        place = site.worst(site.shares[:, like])
        out.append(found("scale", (wear.id, wear.name), text, apart, "×", mend, place))
    return out


def _under(site: Judged, wear: Wear) -> tuple[int, float] | None:
    """Return the number and share of the layer that most of a wear lies on; None where it lies on none."""
    layers = site.recipe.layers
    top = next((k for k, layer in enumerate(layers) if layer.id == wear.place), len(layers) - 1)
    below = [
        (share, k)
        for k, layer, share in site.shown()
        if k <= top and layer.set in site.sets and (not wear.over or layer.id in wear.over)
    ]
    if not below:
        return None
    share, k = max(below)
    return k, share
