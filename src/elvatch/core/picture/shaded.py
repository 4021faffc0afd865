"""Light on what a picture sees, worked out anew only where what it falls on changed."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cache import Cache
from elvatch.core.cover.material import Material
from elvatch.core.kernel import inner, kernel
from elvatch.core.light.lighting import Lighting
from elvatch.core.parallel import Token, over_bands
from elvatch.core.picture import beyond, shade
from elvatch.core.picture.crowded import Crowded
from elvatch.core.picture.fragments import Fragments
from elvatch.core.picture.kinds import BEYOND, GROUND, THING, WATER
from elvatch.core.picture.remembered import Since, same_rows


class NamedLight(NamedTuple):
    """Light, how far it is from one band of a cut side to the next (m), and what names it and the ground."""

    light: Lighting
    strata_m: float
    name: str


class Shaded(NamedTuple):
    """What names a sight, what light fell on there, what names that light, and what came of it."""

    sight: str
    parts: shade.LitParts
    lit_by: str
    radiance: NDArray[np.float32]


@inner
def _same_three(a: NDArray[np.float32], i: int, b: NDArray[np.float32], j: int) -> bool:
    return bool(a[i, 0] == b[j, 0] and a[i, 1] == b[j, 1] and a[i, 2] == b[j, 2])


@inner
def _same_seen(f: Fragments, i: int, g: Fragments, j: int, rows: NDArray[np.int64]) -> bool:
    """Whether two fragments that look at the same place see the same there; of a thing that is not known."""
    if f.kind[i] != g.kind[j] or f.kind[i] == THING or (f.weight[i] > 0.0) != (g.weight[j] > 0.0):
        return False
    if f.mirror[i] >= 0 and rows[f.mirror[i]] != g.mirror[j]:
        return False
    return (
        f.depth_m[i] == g.depth_m[j]
        and _same_three(f.toward, i, g.toward, j)
        and _same_three(f.normal, i, g.normal, j)
        and f.height_m[i] == g.height_m[j]
        and f.hollow[i] == g.hollow[j]
        and f.under_m[i] == g.under_m[j]
        and f.rough[i] == g.rough[j]
        and f.tint[i] == g.tint[j]
    )


@inner
def _same_material(m: Material, i: int, n: Material, j: int) -> bool:
    if m.emission.shape[0] > 0 and not _same_three(m.emission, i, n.emission, j):
        return False
    return (
        _same_three(m.colour, i, n.colour, j)
        and m.slope[i, 0] == n.slope[j, 0]
        and m.slope[i, 1] == n.slope[j, 1]
        and m.roughness[i] == n.roughness[j]
        and m.metallic[i] == n.metallic[j]
        and m.occlusion[i] == n.occlusion[j]
        and m.relief_m[i] == n.relief_m[j]
    )


@inner
def _same_crowd(a: Crowded, i: int, b: Crowded, j: int) -> bool:
    if a.hides.shape[0] == 0:
        return True
    return (
        a.hides[i] == b.hides[j]
        and a.sun[i] == b.sun[j]
        and a.open[i] == b.open[j]
        and _same_three(a.lit, i, b.lit, j)
        and _same_three(a.skied, i, b.skied, j)
    )


@kernel
def _changed_band(
    f: Fragments,
    index: NDArray[np.int64],
    material: Material,
    crowd: Crowded,
    sunlit: NDArray[np.float32],
    g: Fragments,
    index_before: NDArray[np.int64],
    material_before: Material,
    crowd_before: Crowded,
    sunlit_before: NDArray[np.float32],
    rows: NDArray[np.int64],
    moved: bool,
    around: bool,
    changed: NDArray[np.bool_],
    a: int,
    b: int,
) -> None:
    """Say which fragments are lit otherwise, where ``moved`` says that they may see something else, and ``around``
    that the ground beyond is of other colours."""
    for i in range(a, b):
        j, what = rows[i], f.kind[i]
        changed[i] = True
        if j < 0 or sunlit[i] != sunlit_before[j] or (around and what == BEYOND):
            continue
        if moved and not _same_seen(f, i, g, j, rows):
            continue
        if what in (GROUND, WATER, THING):
            k, n = index[i], index_before[j]
            if not _same_material(material, k, material_before, n) or not _same_crowd(crowd, k, crowd_before, n):
                continue
        changed[i] = False


def _changed(
    now: shade.LitParts, before: shade.LitParts, known: NDArray[np.int64] | None, token: Token | None
) -> tuple[NDArray[np.int64] | None, NDArray[np.bool_]]:
    """Return which fragment each was before, -1 for none, None where all are what they were; and which are lit
    otherwise. Where it is known already it is told."""
    f, g = now.buffer.fragments, before.buffer.fragments
    changed, moved = np.empty(len(f.pixel), np.bool_), now.buffer is not before.buffer
    if not moved:
        rows = np.arange(len(f.pixel))
    elif known is not None:
        rows = known
    else:
        rows = same_rows(g.places, g.pixel, f.places, f.pixel)
    asked = (f, now.row, now.material, now.crowded, now.sunlit)
    against = (g, before.row, before.material, before.crowded, before.sunlit)
    around = not beyond.same_colours(now.around, before.around)
    over_bands(
        len(rows),
        lambda a, b: _changed_band(*asked, *against, rows, moved, around, changed, a, b),
        token,
        least=4096,
    )
    return rows if moved else None, changed


class Shadings:
    """Shades pictures, and keeps what light came of each.

    Parameters
    ----------
    keep : int
        How many pictures are kept.
    """

    def __init__(self, keep: int) -> None:
        self._kept = Cache[Shaded](keep)

    def shaded(
        self,
        from_where: str,
        sight: tuple[str, Since | None],
        parts: shade.LitParts,
        light: NamedLight,
        token: Token | None = None,
    ) -> NDArray[np.float32]:
        """Return the radiance of each fragment; see :func:`elvatch.core.picture.shade.shade`.

        Parameters
        ----------
        from_where : str
            Names the ground and where the picture looks from, whatever it sees.
        sight : tuple
            What names all that it sees, and how that differs from an earlier sight, where one is known.
        parts : shade.LitParts
            What light falls on.
        light : NamedLight
            Sun, sky, air and water, and what names them and the ground.
        token : Token, optional
            Asked between bands.
        """
        before, known = self._kept.peek(from_where), None
        if before is not None and before.lit_by == light.name and _alike(before.parts, parts):
            differs = sight[1]
            told = differs.rows if differs is not None and differs.name == before.sight else None
            rows, changed = _changed(parts, before.parts, told, token)
            # what is new is worked out anew, whatever it holds
            of = before.radiance.take(rows, 0, mode="clip") if rows is not None else before.radiance.copy()
            known = of, changed
        if known is None:
            p = parts
            radiance = shade.shade(
                p.buffer, p.material, p.row, p.sunlit, light.light, p.around, light.strata_m, token, p.crowded
            )
        else:
            radiance = shade.again(parts, light.light, light.strata_m, *known, token)
        self._kept.put(from_where, Shaded(sight[0], parts, light.name, radiance))
        return radiance


def _alike(one: shade.LitParts, two: shade.LitParts) -> bool:
    """Return whether two hold rows of the same kinds."""
    if len(one.buffer.fragments.pixel) == 0 or len(two.buffer.fragments.pixel) == 0:
        return False
    emits = len(one.material.emission) == 0, len(two.material.emission) == 0
    return emits[0] == emits[1] and (len(one.crowded.hides) == 0) == (len(two.crowded.hides) == 0)
