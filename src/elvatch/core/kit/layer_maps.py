"""A layer's maps for others to tile: its set as the cover shows it, adjusted, over one repeat on level ground."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cover import function, plan
from elvatch.core.cover.material import Material
from elvatch.core.document.fit import Fit
from elvatch.core.document.layer import Edge, Layer
from elvatch.core.document.rule import Rule
from elvatch.core.ground import places
from elvatch.core.parallel import Token
from elvatch.core.stock.pyramid import Pyramid

Map = NDArray[np.float32]


class LayerMaps(NamedTuple):
    """Maps of one repeat, shape (px, px) or (px, px, 3), row 0 up the texture: linear colour and emission, normals in
    the tangent space of level ground, the others 0..1, height in metres about the level of the ground."""

    colour: Map
    normal: Map
    roughness: Map
    occlusion: Map
    metallic: Map
    height_m: Map
    emission: Map | None


def _alone(layer: Layer, set: str) -> Layer:
    """Return a layer that lies level, whole and unbroken: what is its own, without what is the place's."""
    fit = layer.fit
    plain = Fit(
        tile_m=fit.tile_m,
        tile_down_m=fit.tile_down_m,
        relief_m=fit.relief_m,
        relief_mid=fit.relief_mid,
        relief_curve=fit.relief_curve,
        own_sides=False,
        meets=fit.meets,
    )
    look = layer.look.model_copy(
        update={"variation": 0.0, "variation_colour": 0.0, "variation_offset": 0.0, "ground_image": 0.0}
    )
    return layer.model_copy(
        update={"set": set, "fit": plain, "look": look, "rule": Rule(), "edge": Edge(), "opacity": 1.0, "on": True}
    )


def layer_maps(layer: Layer, set: str, sets: Mapping[str, Pyramid], px: int, token: Token | None = None) -> LayerMaps:
    """Return a layer's maps over one repeat of a set, asked of the cover itself.

    Parameters
    ----------
    layer : Layer
        Whose look and size they have.
    set : str
        Its own set, or that of its steep planes.
    sets : mapping
        Stored sets by name.
    px : int
        Along a side.
    token : Token, optional
        Asked between bands.
    """
    prepared = plan.prepare((_alone(layer, set),), sets)
    wide, tall = layer.fit.tile_m, layer.fit.down_m
    at = places.zeros(px * px)
    middles = (np.arange(px) + 0.5) / px
    at.x_m[:] = np.tile(middles * wide, px)
    at.y_m[:] = np.repeat((1 - middles) * tall, px)
    at.across_m[:] = max(wide, tall) / px
    at.sky[:] = 1.0
    of: Material = function.ask(prepared, at, token)
    normal = np.concatenate([-of.slope, np.ones((px * px, 1), np.float32)], 1)
    normal /= np.linalg.norm(normal, axis=1, keepdims=True)
    square, colours = (px, px), (px, px, 3)
    return LayerMaps(
        of.colour.reshape(colours),
        normal.reshape(colours),
        of.roughness.reshape(square),
        of.occlusion.reshape(square),
        of.metallic.reshape(square),
        of.relief_m.reshape(square),
        of.emission.reshape(colours) if len(of.emission) else None,
    )
