"""Things with all that they look like in textures of their own: what covers them is asked at each texel."""

from __future__ import annotations

from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cover.on_thing import ReadyCover
from elvatch.core.ground import places as ground_places
from elvatch.core.ground.survey import Survey
from elvatch.core.kernel import kernel
from elvatch.core.parallel import over_bands
from elvatch.core.picture.clad import clad, facing
from elvatch.core.picture.covering import with_covers
from elvatch.core.picture.fragments import Fragments, GBuffer, nothing_seen
from elvatch.core.picture.kinds import THING
from elvatch.core.run import Run
from elvatch.core.strew.field import Stocked
from elvatch.core.strew.single import AS_IT_IS
from elvatch.core.thing import traced
from elvatch.core.thing.solid import Solid
from elvatch.core.thing.tangents import tangents
from elvatch.core.thing.traced import NORMAL, Shapes, Stood, TracedThings
from elvatch.core.thing.unwrapped import Texels, Unwrapped, areas, densities, texels, unwrapped

Vectors = NDArray[np.float32]
NormalsIn = Literal["tangent", "object"]
PADDING_PX = 8
_AT_ONCE = 1 << 18
_TAPS = 4
_TOLD = 24
_A_THING = "thing"


class ThingForm(NamedTuple):
    """Which of a thing's variants a solid is, and how it is stretched."""

    variant: int
    stretch: tuple[float, float, float]


AS_DRAWN = ThingForm(0, AS_IT_IS)


class Corners(NamedTuple):
    """Corners of a solid, each with the tangent of the triangles that share it: ``row`` (n,) of the solid's own,
    ``tangent`` (n, 4), ``triangles`` (m, 3)."""

    row: NDArray[np.int64]
    tangent: Vectors
    triangles: NDArray[np.int32]


class Baked(NamedTuple):
    """A thing with its textures, row 0 at the top.

    ``unwrapped`` its shape; ``corners`` with tangents; ``colour`` (size, size, 3) linear, ``rough``, ``metal``,
    ``open`` (size, size), ``normal`` (size, size, 3) unit in the axes that were asked for; ``held`` (size, size)
    whether a texel lies in an island; ``density`` (islands,) texels a metre at its size; ``glow`` (size, size, 3)
    linear, 1 as bright as white ground at noon.
    """

    unwrapped: Unwrapped
    corners: Corners
    colour: Vectors
    rough: Vectors
    metal: Vectors
    open: Vectors
    normal: Vectors
    held: NDArray[np.bool_]
    density: NDArray[np.float64]
    glow: Vectors

    def told(self) -> list[str]:
        """Return what is told of it, a sentence each."""
        made = (
            "its own coordinates were used"
            if not self.unwrapped.notes
            else (f"laid out anew: {'; '.join(self.unwrapped.notes)}")
        )
        islands = self.unwrapped.islands
        largest = np.argsort(-np.bincount(self.unwrapped.island, areas(self.unwrapped, 1, 1.0)[0]))[:_TOLD]
        of_each = ", ".join(f"{self.density[one]:.0f}" for one in largest)
        return [
            f"{len(self.corners.triangles):,} triangles in {islands:,} islands, {made}; "
            f"{100 * self.held.mean():.0f}% of the texture is used",
            f"px/m of {'each island' if islands <= _TOLD else f'the {_TOLD} largest islands'}: {of_each}",
        ]


def can_be(of: Solid) -> bool:
    """Return whether a solid can be laid out flat: leaves and holes keep their own textures."""
    return float(of.leaf.max(initial=0.0)) == 0.0 and not any((one.texels[..., 3] < 255).any() for one in of.images)


@kernel
def _fragments_band(
    things: TracedThings,
    row: NDArray[np.int64],
    laid: Texels,
    across: NDArray[np.float64],
    f: Fragments,
    a: int,
    b: int,
) -> None:
    """Fill in the places of texels ``row``."""
    s, stood = things.shapes, things.stood
    wide = laid.triangle.shape[1]
    size, r = float(stood.size[0]), stood.turn
    for k in range(a, b):
        down, right = row[k] // wide, row[k] % wide
        t, u, v = laid.triangle[down, right], laid.along[down, right, 0], laid.along[down, right, 1]
        e = s.edges
        x = size * (e[t, 0] + u * e[t, 3] + v * e[t, 6])
        y = size * (e[t, 1] + u * e[t, 4] + v * e[t, 7])
        z = size * (e[t, 2] + u * e[t, 5] + v * e[t, 8])
        f.places.x_m[k] = stood.at[0, 0] + r[0, 0] * x + r[0, 1] * y + r[0, 2] * z
        f.places.y_m[k] = stood.at[0, 1] + r[0, 3] * x + r[0, 4] * y + r[0, 5] * z
        f.height_m[k] = stood.at[0, 2] + r[0, 6] * x + r[0, 7] * y + r[0, 8] * z
        # looked at from nowhere: as its corners say it faces, also where a sliver of a triangle is turned away
        fx, fy, fz = facing(
            things, 0, t, f.places.x_m[k], f.places.y_m[k], float(f.height_m[k]), 0.0, 0.0, 0.0, across[t]
        )
        f.normal[k, 0], f.normal[k, 1], f.normal[k, 2] = fx, fy, fz
        f.hit[k] = t


def _seen(
    things: TracedThings, survey: Survey, laid: Texels, across: NDArray[np.float64], row: NDArray[np.int64]
) -> GBuffer:
    """Return what would be seen of some texels, one fragment each, with the thing's own material."""
    f = nothing_seen(len(row))
    over_bands(len(row), lambda a, b: _fragments_band(things, row, laid, across, f, a, b), least=4096)
    f.kind[:], f.weight[:], f.toward[:] = THING, 1.0, 0.0
    under = ground_places.on_ground(survey, f.places.x_m, f.places.y_m, 1.0)
    under.across_m[:] = across[f.hit]
    f = f._replace(places=under)
    return GBuffer(len(row), 1, f, clad(things, f))


def _of_corners(of: Unwrapped) -> Corners:
    """Return a solid's corners once for each tangent that they have."""
    upwards = np.stack([of.flat[:, 0], 1.0 - of.flat[:, 1]], 1)
    found = tangents(of.solid.places, of.solid.normals, upwards, of.solid.triangles).reshape(-1, 4)
    keys = np.concatenate([of.solid.triangles.reshape(-1, 1).astype(np.float64), found.round(6)], 1)
    _, first, which = np.unique(keys, axis=0, return_index=True, return_inverse=True)
    rows = of.solid.triangles.reshape(-1)[first].astype(np.int64)
    return Corners(rows, found[first], which.reshape(-1, 3).astype(np.int32))


def _frames(
    things: TracedThings,
    order: NDArray[np.int64],
    corners: Corners,
    f: Fragments,
    laid: Texels,
    row: NDArray[np.int64],
) -> NDArray[np.float64]:
    """Return the axes that a renderer would put together at texels, (n, 3, 3) columns: tangent, the direction square
    to it, normal (Mikkelsen 2008: interpolated as they are, not made unit)."""
    t = f.hit
    u, v = laid.along.reshape(-1, 2)[row].astype(np.float64).T
    weights = np.stack([1 - u - v, u, v], 1)
    normal = things.shapes.vertices[things.shapes.corners[t], NORMAL : NORMAL + 3].astype(np.float64)
    n = np.einsum("kc,kcd->kd", weights, normal)
    at_corner = corners.tangent[corners.triangles[order[t]]].astype(np.float64)
    along = np.einsum("kc,kcd->kd", weights, at_corner[..., :3])
    return np.stack([along, at_corner[:, 0, 3:] * np.cross(n, along), n], 2)


def _in_axes(frames: NDArray[np.float64], normal: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return normals by the axes of texels, unit; those whose axes lie in one plane keep the plain normal."""
    flat = np.abs(np.linalg.det(frames)) < 1e-9
    frames = np.where(flat[:, None, None], np.eye(3), frames)
    out = np.linalg.solve(frames, normal[..., None])[..., 0]
    out[flat] = (0.0, 0.0, 1.0)
    # what a renderer cannot show: a normal that looks into the surface
    out[:, 2] = np.maximum(out[:, 2], 1e-3)
    return np.asarray(out / np.linalg.norm(out, axis=1, keepdims=True))


def _order(of: Unwrapped, things: TracedThings) -> NDArray[np.int64]:
    """Return which of a solid's triangles each of those that rays meet is."""
    known = {tuple(corners): k for k, corners in enumerate(of.solid.triangles.tolist())}
    return np.array([known[tuple(corners)] for corners in things.shapes.corners.tolist()], np.int64)


def baked(
    of: Solid,
    stood: Stood,
    survey: Survey,
    ready: ReadyCover | None,
    size: int,
    normals_in: NormalsIn = "tangent",
    form: ThingForm = AS_DRAWN,
    run: Run | None = None,
) -> Baked:
    """Return a thing as it stands with its own material and what covers it in textures.

    Parameters
    ----------
    of : Solid
        Its shape, the longest side 1 m before it is stretched.
    stood : Stood
        How it stands: one row.
    survey : Survey
        The ground.
    ready : ReadyCover, optional
        What covers it.
    size : int
        Texels along a side.
    normals_in : "tangent" or "object"
        The axes of its normals: those of the texture at each place (Mikkelsen 2008), or its own.
    form : ThingForm
        Which of the thing's shapes it is.
    run : Run, optional
        Progress and cancelling.
    """
    run = run or Run()
    flat = unwrapped(of, size, PADDING_PX, run=run.part(0, 0.2))
    shapes = traced.shapes([flat.solid])
    things = traced.things(stood._replace(shape=np.zeros(1, np.int32)), shapes)
    stocked = _alone(shapes, form)
    order = _order(flat, things)
    area, texel_area = (each[order] for each in areas(flat, size, float(stood.size[0])))
    across = np.sqrt(area / np.maximum(texel_area, 1e-9))
    laid = texels(flat.flat, things.shapes.corners, size, PADDING_PX)
    corners = _of_corners(flat)
    turn = stood.turn[0].reshape(3, 3).astype(np.float64)
    rows = np.flatnonzero(laid.triangle.reshape(-1) >= 0)
    out = _nothing(flat, corners, laid, densities(flat, size, float(stood.size[0])))
    for first in range(0, len(rows), _AT_ONCE):
        run.at(0.2 + 0.8 * first / len(rows))
        row = rows[first : first + _AT_ONCE]
        seen = _seen(things, survey, laid, across, row)
        if ready is not None:
            seen = with_covers(seen, things, stocked, {_A_THING: ready}, _TAPS, run.token)
        own = seen.fragments.normal.astype(np.float64) @ turn
        if normals_in == "tangent":
            own = _in_axes(_frames(things, order, corners, seen.fragments, laid, row), own)
        out.colour.reshape(-1, 3)[row] = np.clip(seen.clad.colour, 0, 1)
        out.rough.reshape(-1)[row], out.metal.reshape(-1)[row] = seen.clad.rough, seen.clad.metal
        if len(seen.clad.glow):
            out.glow.reshape(-1, 3)[row] = seen.clad.glow
        out.open.reshape(-1)[row], out.normal.reshape(-1, 3)[row] = seen.clad.open, own
    _fill(out, laid)
    return out


class SurfacePlaces(NamedTuple):
    """Places all over a thing, as pictures see them: the thing as all ``things`` there are, one fragment each."""

    things: TracedThings
    buffer: GBuffer
    stocked: Stocked


def spread_over(of: Solid, stood: Stood, survey: Survey, count: int, form: ThingForm = AS_DRAWN) -> SurfacePlaces:
    """Return places spread evenly over a thing as it stands, by its triangles' areas; the same each time.

    Parameters
    ----------
    of : Solid
        Its shape, the longest side 1 m before it is stretched.
    stood : Stood
        How it stands: one row.
    survey : Survey
        The ground.
    count : int
        How many.
    form : ThingForm
        Which of the thing's shapes it is.
    """
    shapes = traced.shapes([of])
    things = traced.things(stood._replace(shape=np.zeros(1, np.int32)), shapes)
    edges = things.shapes.edges.astype(np.float64)
    area = np.linalg.norm(np.cross(edges[:, 3:6], edges[:, 6:9]), axis=1)
    rng = np.random.default_rng(5)
    triangle = rng.choice(len(area), count, p=area / area.sum()).astype(np.int32)
    along = rng.random((count, 2))
    along = np.where(along.sum(axis=1, keepdims=True) > 1, 1 - along, along)
    laid = Texels(triangle[None], np.asarray(along[None], np.float32), np.zeros((1, count), np.float32))
    buffer = _seen(things, survey, laid, np.sqrt(area / 2) * float(stood.size[0]), np.arange(count))
    return SurfacePlaces(things, buffer, _alone(shapes, form))


def _alone(shapes: Shapes, form: ThingForm) -> Stocked:
    """Return one shape as all that there is."""
    one = np.zeros(1, np.int64)
    return Stocked((), (), shapes, (_A_THING,), one, one + form.variant, np.array([form.stretch], np.float32), "")


def _nothing(flat: Unwrapped, corners: Corners, laid: Texels, density: NDArray[np.float64]) -> Baked:
    shape = laid.triangle.shape

    def one() -> Vectors:
        return np.zeros(shape, np.float32)

    held = (laid.triangle >= 0) & (laid.outside == 0)
    colour, normal, glow = (np.zeros((*shape, 3), np.float32) for _ in range(3))
    return Baked(flat, corners, colour, one(), one(), one(), normal, held, density, glow)


def _fill(of: Baked, laid: Texels) -> None:
    """Let texels far from all islands have the mean, so that the smaller sizes of a texture stay near it."""
    none, held = laid.triangle < 0, of.held
    for value in (of.colour, of.rough, of.metal, of.open):
        value[none] = value[held].mean(axis=0) if held.any() else 0.5
    of.normal[none] = (0.0, 0.0, 1.0)
