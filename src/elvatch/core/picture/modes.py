"""Looking modes: one map unlit, a layer's presence unlit, or its coverage drawn over the lit picture."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal, get_args

import numpy as np
from numpy.typing import NDArray

from elvatch.core import colour
from elvatch.core.cover.material import Material
from elvatch.core.ground.measures import Scale
from elvatch.core.ground.places import Places
from elvatch.core.mapping import surface
from elvatch.core.picture import ramp
from elvatch.core.picture.fragments import GBuffer
from elvatch.core.picture.kinds import THING
from elvatch.core.results import result

Mode = Literal[
    "lit",
    "colour",
    "roughness",
    "gloss",
    "metallic",
    "normal",
    "height",
    "occlusion",
    "emission",
    "presence",
    "coverage",
    "stretch",
    "density",
    "grid",
    "overlay",
    "wear",
    "strewn",
    "crowd",
]
MODES: tuple[Mode, ...] = get_args(Mode)


@result
class ModeKind:
    """A looking mode: its label, what it shows, and what it is ``about`` where it needs something chosen."""

    mode: Mode
    label: str
    hint: str
    about: Literal["", "layer", "wear", "strew"] = ""


KINDS: tuple[ModeKind, ...] = (
    ModeKind("lit", "Lit", "The ground in sun and sky"),
    ModeKind("colour", "Colour", "Base colour alone, unlit"),
    ModeKind("roughness", "Rough", "Roughness alone: black is a mirror, white fully rough"),
    ModeKind("gloss", "Gloss", "Roughness the other way round: white is a mirror; it is stored as roughness"),
    ModeKind("metallic", "Metal", "Metallic alone: white is metal"),
    ModeKind("normal", "Normal", "Normals alone: red east, green north, blue up"),
    ModeKind("height", "Height", "Relief of the cover alone: black low, white high"),
    ModeKind("occlusion", "Occl.", "Ambient occlusion alone: white is open"),
    ModeKind("emission", "Emits", "What shines by itself alone, unlit: white is as bright as white ground at noon"),
    ModeKind("presence", "Mask", "Share of the selected layer alone: black none, white all", "layer"),
    ModeKind("coverage", "Coverage", "The selected layer hatched over the lit ground", "layer"),
    ModeKind("stretch", "Stretch", "How far the projection pulls textures apart, with the value under the pointer"),
    ModeKind("density", "Density", "Texture pixels for a metre of ground, with the value under the pointer"),
    ModeKind("grid", "Grid", "Lines every 1 m near, 10 m and 100 m far"),
    ModeKind(
        "overlay", "Overlay", "The selected wear's overlay alone on the surface, unlit, before it is mixed in", "wear"
    ),
    ModeKind("wear", "Mask", "Where the selected wear is let in, alone: rule, relief, layers", "wear"),
    ModeKind("strewn", "Coverage", "How much of the ground things cover, seen from above", "strew"),
    ModeKind("crowd", "Density", "Things on 100 m² of map, with what the colours mean", "strew"),
)
assert tuple(kind.mode for kind in KINDS) == MODES


@result
class Legend:
    """How a mode's values are shown: ``low`` and ``high`` are the ends of its ramp, in ``unit``."""

    title: str
    unit: str
    scale: Scale
    low: float
    high: float


LEGENDS: dict[Mode, Legend] = {
    "stretch": Legend("metres of ground a metre of texture is pulled over", "×", "even", 1.0, 3.0),
    "strewn": Legend("of the ground covered, seen from above", "", "even", 0.0, 1.0),
    "crowd": Legend("things on 100 m² of map", "", "logarithmic", 0.1, 1000.0),
    "density": Legend("pixels of the set for a metre of ground", "px/m", "logarithmic", 8.0, 4096.0),
}

_BACKDROP = 0.48
_INK = np.array([0.012, 0.012, 0.013], np.float32)
_ACCENT = np.array([0.578, 0.051, 0.014], np.float32)
_ISOLINES = (0.05, 0.5, 0.95)


def _grey(values: NDArray[np.float32]) -> NDArray[np.float32]:
    """Show a value 0..1 so that the code written is proportional to it."""
    return np.repeat(colour.to_linear(np.clip(values, 0, 1).astype(np.float32))[:, None], 3, axis=1)


def _relief_range(material: Material) -> tuple[float, float]:
    low, high = np.percentile(material.relief_m, [0.5, 99.5]) if len(material.relief_m) else (0.0, 1.0)
    return float(low), max(float(high), float(low) + 1e-6)


def _one_map(mode: Mode, places: Places, material: Material, layer: int) -> NDArray[np.float32]:
    if mode == "colour":
        return material.colour
    if mode == "roughness":
        return _grey(material.roughness)
    if mode == "gloss":
        return _grey(1 - material.roughness)
    if mode == "metallic":
        return _grey(material.metallic)
    if mode == "occlusion":
        return _grey(material.occlusion)
    if mode == "emission":
        return np.clip(material.emission, 0, 1) if len(material.emission) else np.zeros_like(material.colour)
    if mode == "normal":
        return colour.to_linear(surface.normals(places.rise(), material.slope) * 0.5 + 0.5)
    if mode == "height":
        low, high = _relief_range(material)
        return _grey((material.relief_m - low) / (high - low))
    shares = material.shares[:, layer] if layer >= 0 else np.zeros(len(material.relief_m), np.float32)
    return _grey(shares)


_OF_THINGS: dict[str, Callable[[GBuffer, NDArray[np.int64], NDArray[np.int64]], NDArray[np.float32]]] = {
    "colour": lambda of, row, _: of.clad.colour[row],
    "roughness": lambda of, row, _: _grey(of.clad.rough[row]),
    "gloss": lambda of, row, _: _grey(1 - of.clad.rough[row]),
    "metallic": lambda of, row, _: _grey(of.clad.metal[row]),
    "occlusion": lambda of, row, _: _grey(of.clad.open[row]),
    "emission": lambda of, row, _: np.clip(of.clad.glow[row], 0, 1) if len(of.clad.glow) else _grey(row * 0.0),
    "normal": lambda of, _, at: colour.to_linear(of.fragments.normal[at] * np.float32(0.5) + np.float32(0.5)),
}
"""What things show where a mode shows one map of the ground: theirs, with what covers them."""


def _coverage(places: Places, material: Material, layer: int, lit: NDArray[np.float32]) -> NDArray[np.float32]:
    """Hatch where a layer lies, and lines of equal share, drawn on the lit picture.

    The hatch lies on the ground at a spacing that is a power of two of the area seen, so that it
    keeps about the same size on the picture from near to far.
    """
    if layer < 0:
        return lit
    return _hatched(places, material.shares[:, layer], lit)


def _hatched(places: Places, share: NDArray[np.float32], lit: NDArray[np.float32]) -> NDArray[np.float32]:
    if not len(lit):
        return lit
    across = np.maximum(places.across_m, 1e-4)
    spacing = np.exp2(np.ceil(np.log2(across * 7.0)))
    place = (places.x_m + places.y_m) / spacing
    away = np.abs(place - np.rint(place)) * spacing
    line = np.clip(1.3 - away / (across * 0.8), 0, 1) * np.clip((share - 0.05) / 0.2, 0, 1)
    out = lit + (_ACCENT - lit) * (line * 0.75).astype(np.float32)[:, None]
    plain = lit.mean(axis=1, keepdims=True)
    result: NDArray[np.float32] = (out + (plain - out) * (0.45 * (1 - np.clip(share * 2, 0, 1)))[:, None]).astype(
        np.float32
    )
    return result


def lit_up(
    buffer: GBuffer, places: Places, shown: NDArray[np.float32], share: NDArray[np.float32]
) -> NDArray[np.float32]:
    """Hatch the places of a picture that were picked elsewhere; ``share`` 0..1 of the ground fragments."""
    ground = buffer.fragments.on_ground()
    out = shown.copy()
    out[ground] = _hatched(places, share, shown[ground])
    return out


def _grid(places: Places, lit: NDArray[np.float32]) -> NDArray[np.float32]:
    """Lines every metre where they can be told apart, every ten or hundred where not."""
    across = np.maximum(places.across_m + np.hypot(places.along_east_m, places.along_north_m), 1e-4)
    out = lit.copy()
    for spacing, strength in ((1.0, 0.45), (10.0, 0.7), (100.0, 0.9)):
        away = (
            np.minimum(
                np.abs(places.x_m / spacing - np.rint(places.x_m / spacing)),
                np.abs(places.y_m / spacing - np.rint(places.y_m / spacing)),
            )
            * spacing
        )
        # coarser lines are drawn thicker, up to a few pixels
        width = np.maximum(across * 0.7, np.minimum(across * 2.0, spacing * 0.004))
        seen = np.clip(1.3 - away / width, 0, 1)
        seen = seen * np.clip((spacing / across - 6.0) / 8.0, 0, 1) * strength
        out += (_INK - out) * seen.astype(np.float32)[:, None]
    return out


def apply(
    mode: Mode,
    buffer: GBuffer,
    places: Places,
    material: Material,
    index: NDArray[np.int64],
    lit: NDArray[np.float32],
    layer: int,
    measured: NDArray[np.float32] | None = None,
) -> NDArray[np.float32]:
    """Return what each fragment shows in a looking mode, linear 0..1, shape (n, 3).

    Parameters
    ----------
    mode : str
        One of :data:`MODES`.
    buffer, places, material, index
        What is seen; places and material of the ground fragments, and the row of each fragment.
    lit : ndarray, shape (n, 3), float32
        The lit picture's fragments.
    layer : int
        Which layer of the plan presence and coverage are about, -1 for none.
    measured : ndarray, shape (m,), float32, optional
        Of the ground fragments, what a mode shows that is none of the maps.
    """
    if mode == "lit":
        return lit
    ground = buffer.fragments.on_ground()
    out = lit.copy()
    if mode in ("coverage", "grid"):
        under = lit[ground]
        out[ground] = _coverage(places, material, layer, under) if mode == "coverage" else _grid(places, under)
        return out
    out[~ground] = _BACKDROP
    if mode in ("overlay", "wear") and measured is not None:
        out[ground] = _grey(measured)
        return out
    if mode in LEGENDS and measured is not None:
        shown = LEGENDS[mode]
        out[ground] = ramp.colours(measured, shown.scale, shown.low, shown.high)
        return out
    out[ground] = _one_map(mode, places, material, layer)
    things = np.flatnonzero(buffer.fragments.kind == THING)
    if len(things) and mode in _OF_THINGS:
        out[things] = _OF_THINGS[mode](buffer, buffer.clad.row[things], things)
    return out
