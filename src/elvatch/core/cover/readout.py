"""What a wear does, in numbers: the cover with it against the cover without it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from elvatch.core import colour
from elvatch.core.cover.material import Material
from elvatch.core.results import result
from elvatch.core.stock.loaded import luminance

_ROUGH, _RELIEF_M, _LIGHT, _SHARE = 0.004, 1e-5, 0.004, 0.01
"""Smaller changes do not count."""
_FEW = 25


@result
class Readout:
    """What a wear changes; means over the places that it changes, None where it does not.

    ``share`` of the ground, 0..1; roughness, metallic and lightness (encoded, 0..1) before and after; ``relief_mm``
    the depth that all but one place in a hundred stay within, below 0 carved; ``worn`` the mean share of layers
    taken away; ``sentence`` all of it in words.
    """

    share: float
    roughness: tuple[float, float] | None
    metallic: tuple[float, float] | None
    lightness: tuple[float, float] | None
    relief_mm: float | None
    worn: float | None
    sentence: str


def _pair(
    before: NDArray[np.float32], after: NDArray[np.float32], least: float
) -> tuple[tuple[float, float] | None, NDArray[np.bool_]]:
    changed = np.abs(after - before) > least
    if int(changed.sum()) < _FEW:
        return None, changed
    return (float(before[changed].mean()), float(after[changed].mean())), changed


def _lightness(linear: NDArray[np.float32]) -> NDArray[np.float32]:
    return colour.to_srgb(luminance(linear))


def compare(before: Material, after: Material, part: float, of: str, through: bool = False) -> Readout:
    """Return what changed between two answers of the cover at the same places.

    Parameters
    ----------
    before, after : Material
        Without and with the wear.
    part : float
        Which share of the ground the places stand for; outside of it nothing changes.
    of : str
        What the shares are of, for the sentence ("the ground").
    through : bool
        Whether it wears layers through. What it raises may move edges by height a little; that is not told.
    """
    rough, by_rough = _pair(before.roughness, after.roughness, _ROUGH)
    metal, by_metal = _pair(before.metallic, after.metallic, _ROUGH)
    light, by_light = _pair(_lightness(before.colour), _lightness(after.colour), _LIGHT)
    relief, by_relief = _relief(after.relief_m - before.relief_m)
    moved = 0.5 * np.abs(after.shares - before.shares).sum(axis=1)
    by_share = (moved > _SHARE) & through
    worn = float(moved[by_share].mean()) if int(by_share.sum()) >= _FEW else None
    share = part * float((by_rough | by_metal | by_light | by_relief | by_share).mean())
    return Readout(share, rough, metal, light, relief, worn, _sentence(share, rough, metal, light, relief, worn, of))


def _relief(moved: NDArray[np.float32]) -> tuple[float | None, NDArray[np.bool_]]:
    changed = np.abs(moved) > _RELIEF_M
    if int(changed.sum()) < _FEW:
        return None, changed
    ends = np.percentile(moved[changed], [1, 99])
    return 1000 * float(ends[np.abs(ends).argmax()]), changed


def _sentence(
    share: float,
    rough: tuple[float, float] | None,
    metal: tuple[float, float] | None,
    light: tuple[float, float] | None,
    relief: float | None,
    worn: float | None,
    of: str,
) -> str:
    parts = []
    if rough:
        parts.append(f"roughness {rough[0]:.2f} to {rough[1]:.2f}")
    if light:
        parts.append(f"lightness {light[0]:.2f} to {light[1]:.2f}")
    if metal:
        parts.append(f"metallic {metal[0]:.2f} to {metal[1]:.2f}")
    if relief is not None:
        parts.append(f"{abs(relief):.2g} mm {'deep' if relief < 0 else 'high'}")
    if worn is not None:
        parts.append(f"{worn:.0%} worn through")
    if not parts:
        return f"changes nothing that could be seen on {of}"
    told = f"{share:.0%}" if share >= 0.1 else (f"{share:.1%}" if share >= 0.001 else "less than 0.1%")
    return f"{', '.join(parts)} on {told} of {of}"
