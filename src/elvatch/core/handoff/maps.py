"""The maps that can be handed off: what each is called, how it is stored, and how a band of it is made.

Another map of the whole cover is one entry in :data:`KINDS` beside its name in
:data:`~elvatch.core.document.recipe.MapName`.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core import colour
from elvatch.core.cover.function import Material
from elvatch.core.document.recipe import HandOff, MapName
from elvatch.core.ground.places import Places
from elvatch.core.mapping import surface

Codes = NDArray[np.uint8] | NDArray[np.uint16]
Depth = Literal["fixed", "raw", "metres", "layers", "splat"]
"""What says how a map is stored: itself, the sheet's bits of raw maps or of heights, a file a layer, four a file."""


class Band(NamedTuple):
    """Places of a band of a map, what lies there, and up to where water stands (None for none)."""

    at: Places
    material: Material
    water_m: float | None


class MapKind(NamedTuple):
    """A map: its label, a word about it, channels and bits (where they are fixed), what its numbers mean, and how a
    band of ``n`` places becomes numbers 0..1, shape (n,) or (n, 3); None where files are made for each layer."""

    map: MapName
    label: str
    about: str
    channels: int
    bits: int
    depth: Depth
    meaning: str
    numbers: Callable[[Band], NDArray[np.float32]] | None = None


def coded(values: NDArray[np.float32], bits: int) -> Codes:
    """Return numbers 0..1 as whole numbers of 8 or 16 bits; what is outside is held."""
    most = (1 << bits) - 1
    scaled = np.clip(values, 0, 1) * np.float32(most) + np.float32(0.5)
    return scaled.astype(np.uint8) if bits == 8 else scaled.astype(np.uint16)


def _normal(of: Band) -> NDArray[np.float32]:
    slope = surface.along_ground(of.at.rise(), of.material.slope)
    normal = np.concatenate([-slope, np.ones((len(slope), 1), np.float32)], 1)
    normal = (normal / np.linalg.norm(normal, axis=1, keepdims=True)).astype(np.float32)
    out: NDArray[np.float32] = normal * 0.5 + 0.5
    return out


def _emission(of: Band) -> NDArray[np.float32]:
    if len(of.material.emission):
        return of.material.emission
    return np.zeros((len(of.at.x_m), 3), np.float32)


def _lifted(of: Band) -> NDArray[np.float32]:
    return of.at.elevation_m + of.material.relief_m * surface.lifts(of.at.rise())


def _water(of: Band) -> NDArray[np.float32]:
    return np.asarray(of.at.elevation_m < (-np.inf if of.water_m is None else of.water_m), np.float32)


KINDS: dict[MapName, MapKind] = {kind.map: kind for kind in (
    MapKind(
        "colour", "Base colour", "sRGB, 8 bit", 3, 8, "fixed", "base colour, sRGB", lambda of: of.material.colour,
    ),
    MapKind(
        "normal", "Normal", "of the cover, 16 bit", 3, 16, "fixed",
        "normal of the cover, x east, y north, 0.5 is level", _normal,
    ),
    MapKind(
        "roughness", "Roughness", "raw", 1, 8, "raw", "roughness, raw, 1 is fully rough",
        lambda of: of.material.roughness,
    ),
    MapKind("metallic", "Metallic", "raw", 1, 8, "raw", "metallic, raw, 1 is metal", lambda of: of.material.metallic),
    MapKind(
        "occlusion", "Occlusion", "raw", 1, 8, "raw", "ambient occlusion, raw, 1 is open",
        lambda of: of.material.occlusion,
    ),
    MapKind("emission", "Emission", "sRGB, 8 bit", 3, 8, "fixed", "emission, sRGB", _emission),
    MapKind(
        "height", "Height", "ground with relief, 16 bit", 1, 16, "metres", "elevation of the ground with relief, m",
        _lifted,
    ),
    MapKind(
        "relief", "Relief", "the cover's alone, 16 bit", 1, 16, "metres", "relief along the ground's normal, m",
        lambda of: of.material.relief_m,
    ),
    MapKind("water", "Water", "its mask, raw", 1, 8, "raw", "water, raw, 1 where it stands", _water),
    MapKind("shares", "Shares", "a file a layer, 16 bit", 1, 16, "layers", "share of a layer, raw, all sum to 1"),
    MapKind("splat", "Splat maps", "four layers a file", 4, 8, "splat", "weights of four layers"),
)}  # fmt: skip


def bits_of(kind: MapKind, sheet: HandOff) -> int:
    """Return the bits of a map's files."""
    return {
        "fixed": kind.bits, "layers": kind.bits, "raw": sheet.data_bits, "metres": sheet.height_bits,
        "splat": sheet.splat_bits,
    }[kind.depth]  # fmt: skip


def band_of(kind: MapKind, of: Band) -> NDArray[np.float32]:
    """Return a band of a map as numbers, in metres where it is in metres.

    Raises
    ------
    ValueError
        When its files are made for each layer.
    """
    if kind.numbers is None:
        raise ValueError(f"{kind.label} has a file for each layer")
    return kind.numbers(of)


def encoded(kind: MapKind, values: NDArray[np.float32], bits: int) -> Codes:
    """Return a band as it is stored: colours as the eye sees, all else as it is."""
    return colour.srgb_bytes(values) if kind.map in ("colour", "emission") else coded(values, bits)
