"""Maps from outside made into maps as they are kept: the right channels, the right way up, 8 or 16 bits."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from elvatch.core import colour
from elvatch.core.formats.texture import Raster
from elvatch.core.refusal import RefusalError
from elvatch.core.stock import roles
from elvatch.core.stock.roles import Meaning, Role

Whole = NDArray[np.uint8] | NDArray[np.uint16]


@dataclass(frozen=True)
class KeptMap:
    """A map as it is kept: (n, n) or (n, n, 3), uint8 or uint16, with what was done to it."""

    role: Role
    values: Whole
    note: str


def maps_of(name: str, raster: Raster, meaning: Meaning, turn_green: bool) -> list[KeptMap]:
    """Return the maps that a file holds.

    Parameters
    ----------
    name : str
        For messages.
    raster : Raster
        As decoded.
    meaning : Meaning
        What the file is.
    turn_green : bool
        Turn a normal map's green axis over.

    Raises
    ------
    RefusalError
        When the file cannot be what it is said to be.
    """
    values, cut = _square(raster.values)
    inside = roles.packed(meaning)
    if inside:
        if values.shape[2] != 3:
            raise RefusalError(name, "one channel", "three, for several maps in one", "say what it is instead")
        return [
            KeptMap(role, *_data(raster, values[..., k : k + 1], role, [*cut, f"channel {k + 1} of {name}"]))
            for k, role in enumerate(inside)
        ]
    for role in roles.gives(meaning):
        if roles.FACTS[role].coloured:
            return [KeptMap(role, *_colour(role, raster, values, cut))]
    if meaning == "normal":
        if values.shape[2] != 3:
            raise RefusalError(name, "one grey channel", "three, for directions", "take it for a height map instead")
        return [KeptMap("normal", *_normal(raster, values, turn_green, cut))]
    if meaning == "gloss":
        rough, note = _data(raster, values, "roughness", cut)
        return [KeptMap("roughness", _turned(rough), "; ".join(part for part in (note, "gloss, inverted") if part))]
    return [KeptMap(role, *_data(raster, values, role, cut)) for role in roles.gives(meaning)]


def _turned(values: Whole) -> Whole:
    result: Whole = np.iinfo(values.dtype).max - values
    return result


def _square(values: NDArray[Any]) -> tuple[NDArray[Any], list[str]]:
    """Repeat a map to a square where one side is a whole multiple, else cut its middle out."""
    rows, cols = values.shape[:2]
    long, short = max(rows, cols), min(rows, cols)
    if rows == cols:
        return values, []
    if long % short == 0 and long <= 8192:
        return np.tile(values, (long // rows, long // cols, 1)), [f"repeated {long // short} times to a square"]
    top, left = (rows - short) // 2, (cols - short) // 2
    return values[top : top + short, left : left + short], ["cut to its middle square"]


def _whole(shares: NDArray[Any]) -> NDArray[np.uint16]:
    whole: NDArray[np.uint16] = np.rint(np.clip(np.asarray(shares, np.float32), 0.0, 1.0) * 65535.0).astype(np.uint16)
    return whole


def _colour(role: Role, raster: Raster, values: NDArray[Any], notes: list[str]) -> tuple[Whole, str]:
    if values.shape[2] == 1:
        values, notes = np.repeat(values, 3, axis=2), [*notes, "grey"]
    if raster.linear:
        brightest = float(values.max(initial=0.0))
        if role == "emission" and brightest > 1:
            values, notes = values / brightest, [*notes, f"its brightest, {brightest:.4g}, is 1 here"]
        values, notes = _whole(colour.to_srgb(values)), [*notes, "encoded from linear light"]
    return np.ascontiguousarray(values), "; ".join(notes)


def _normal(raster: Raster, values: NDArray[Any], turn: bool, notes: list[str]) -> tuple[Whole, str]:
    if raster.linear:
        if float(values.min()) < -0.05:
            values = values * 0.5 + 0.5
        values, notes = _whole(values), [*notes, "floats kept as 16 bits"]
    out = np.array(values, order="C")
    if turn:
        out[..., 1] = np.iinfo(out.dtype).max - out[..., 1]
        notes = [*notes, "green axis turned over"]
    return out, "; ".join(notes)


def _data(raster: Raster, values: NDArray[Any], role: Role, notes: list[str]) -> tuple[Whole, str]:
    """Return one channel of plain numbers, never decoded as colour."""
    if values.shape[2] == 3:
        first = values[..., 0]
        if not (np.array_equal(first, values[..., 1]) and np.array_equal(first, values[..., 2])):
            notes = [*notes, "brightness of three channels"]
            mean = values.astype(np.float32).mean(axis=2)
            first = mean if raster.linear else np.rint(mean).astype(values.dtype)
        values = first[..., None]
    flat = values[..., 0]
    if raster.linear:
        low, high = float(flat.min()), float(flat.max())
        if role == "height" and (low < -1e-4 or high > 1 + 1e-4) and high > low:
            flat, notes = (flat - low) / (high - low), [*notes, f"from {low:.4g} to {high:.4g} in the file"]
        elif low < -1e-4 or high > 1 + 1e-4:
            notes = [*notes, f"limited to 0..1 (it had {low:.4g} to {high:.4g})"]
        flat, notes = _whole(flat), [*notes, "floats kept as 16 bits"]
    return np.ascontiguousarray(flat), "; ".join(notes)
