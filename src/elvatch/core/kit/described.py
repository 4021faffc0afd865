"""A recipe's layer as a kit says it: how it lies, and what of it a kit cannot carry."""

from __future__ import annotations

from elvatch.core.document.layer import Layer
from elvatch.core.document.recipe import Recipe
from elvatch.core.kit.document import KitLayer, MapFiles, Plane, WeightIn


def planes_of(layer: Layer) -> tuple[Plane, ...]:
    """Return the planes that a layer's set is projected on."""
    fit = layer.fit
    if fit.projection == "triplanar":
        return (
            Plane(faces="up", turn_deg=fit.turn_deg),
            Plane(faces="east or west", turn_deg=fit.turn_deg + fit.steep_turn_east_deg),
            Plane(faces="north or south", turn_deg=fit.turn_deg + fit.steep_turn_north_deg),
        )
    return (Plane(faces="a side" if fit.projection == "side" else "up", turn_deg=fit.turn_deg),)


def not_carried(layer: Layer) -> tuple[str, ...]:
    """Return what a layer has that tiled sets and weights do not tell."""
    fit, look = layer.fit, layer.look
    found = {
        "runs that follow the fall of the ground": fit.projection == "downhill",
        f"repeats broken up ({fit.repeats.kind})": fit.repeats.kind != "none" and fit.repeats.strength > 0,
        "a finer set close by": fit.detail is not None,
        "slow variation (in the tint)": look.variation > 0 or look.variation_colour > 0,
        "the drift of tiles": look.variation_offset > 0,
        "the image over the ground (in the tint)": look.ground_image > 0,
        "a strip along its edge": layer.edge.strip_set is not None and layer.edge.strip > 0,
    }
    return tuple(what for what, there in found.items() if there)


def not_carried_of(recipe: Recipe) -> tuple[str, ...]:
    """Return what lies over all layers and is no layer."""
    wears = [wear.name for wear in recipe.wears if wear.on]
    return (f"wear, but for its colour from afar in the tint: {', '.join(wears)}",) if wears else ()


def described(number: int, layer: Layer, maps: MapFiles, steep_maps: MapFiles | None, weight: WeightIn) -> KitLayer:
    """Return what a kit says of a layer."""
    fit = layer.fit
    return KitLayer(
        number=number,
        name=layer.name,
        maps=maps,
        steep_maps=steep_maps,
        tile_m=fit.tile_m,
        tile_up_m=fit.down_m,
        mirrored=fit.mirror,
        offset_m=(fit.offset_east_m, fit.offset_north_m, fit.offset_up_m),
        planes=planes_of(layer),
        side_deg=fit.side_deg,
        plane_edge=fit.plane_edge,
        relief_m=fit.relief_m,
        meets=fit.meets,
        edge=layer.edge.kind,
        edge_width_m=layer.edge.width_m,
        weight=weight,
        not_carried=not_carried(layer),
    )
