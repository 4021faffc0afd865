"""A thing's shape: triangles with what they carry, metres, z up, its foot at height 0."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.thing.bend import mean_curvature

Vectors = NDArray[np.float32]
BARE = -1
_NOT_TOLD = np.zeros(0, np.float32)
FOOT_PLACES = 8


class Image(NamedTuple):
    """A texture: ``texels`` (height, width, 4), sRGB and alpha, 8 bit."""

    texels: NDArray[np.uint8]


class Solid(NamedTuple):
    """Triangles of a thing at one level of detail.

    ``places`` (n, 3) metres; ``normals`` (n, 3) unit; ``colours`` (n, 3) linear; ``roughness``, ``open`` (what of the
    sky its own shape leaves) and ``leaf`` (how much light comes through, 0 solid) (n,); ``uv`` (n, 2) and ``image``
    (m,) index in ``images`` of each triangle, -1 without; ``triangles`` (m, 3), counter-clockwise from outside.
    ``grain`` is how strong and ``grain_m`` how large what is finer than its triangles is; ``bend`` (n,) how the
    surface bends, 1/m, empty where that was not asked.
    """

    places: Vectors
    normals: Vectors
    colours: Vectors
    roughness: Vectors
    open: Vectors
    leaf: Vectors
    uv: Vectors
    triangles: NDArray[np.int32]
    image: NDArray[np.int32]
    images: tuple[Image, ...] = ()
    grain: float = 0.0
    grain_m: float = 0.1
    bend: Vectors = _NOT_TOLD

    @property
    def extent_m(self) -> Vectors:
        """Size along each axis, (3,) metres."""
        extent: Vectors = self.places.max(axis=0) - self.places.min(axis=0)
        return extent


def solid(
    places: NDArray[np.floating],
    triangles: NDArray[np.integer],
    colours: NDArray[np.floating],
    roughness: float | NDArray[np.floating] = 0.85,
    leaf: float = 0.0,
    normals: NDArray[np.floating] | None = None,
    open_sky: NDArray[np.floating] | float = 1.0,
    grain: float = 0.0,
    grain_m: float = 0.1,
) -> Solid:
    """Return a solid without textures; one number holds for all of it; normals are means of the triangles'."""
    count = len(places)

    def each(value: float | NDArray[np.floating]) -> Vectors:
        return np.ascontiguousarray(np.broadcast_to(np.asarray(value, np.float32), (count,)))

    corners = np.ascontiguousarray(triangles, np.int32)
    at = np.ascontiguousarray(places, np.float32)
    return Solid(
        at,
        np.ascontiguousarray(smooth_normals(at, corners) if normals is None else normals, np.float32),
        np.ascontiguousarray(np.broadcast_to(np.asarray(colours, np.float32), (count, 3))),
        each(roughness),
        each(open_sky),
        each(leaf),
        np.zeros((count, 2), np.float32),
        corners,
        np.full(len(corners), BARE, np.int32),
        (),
        grain,
        grain_m,
    )


def smooth_normals(places: Vectors, triangles: NDArray[np.int32]) -> Vectors:
    """Return a normal for each vertex, of the triangles about it by area."""
    a, b, c = (places[triangles[:, k]].astype(np.float64) for k in range(3))
    face = np.cross(b - a, c - a)
    out = np.zeros((len(places), 3))
    for k in range(3):
        np.add.at(out, triangles[:, k], face)
    length = np.linalg.norm(out, axis=1, keepdims=True)
    unit: Vectors = np.where(length > 0, out / np.maximum(length, 1e-30), [0.0, 0.0, 1.0]).astype(np.float32)
    return unit


def joined(parts: list[Solid]) -> Solid:
    """Return several solids as one; their grain is the first's."""
    starts = np.cumsum([0] + [len(one.places) for one in parts])
    images = np.cumsum([0] + [len(one.images) for one in parts])
    return Solid(
        np.concatenate([one.places for one in parts]),
        np.concatenate([one.normals for one in parts]),
        np.concatenate([one.colours for one in parts]),
        np.concatenate([one.roughness for one in parts]),
        np.concatenate([one.open for one in parts]),
        np.concatenate([one.leaf for one in parts]),
        np.concatenate([one.uv for one in parts]),
        np.concatenate([one.triangles + start for one, start in zip(parts, starts, strict=False)]).astype(np.int32),
        np.concatenate(
            [np.where(one.image >= 0, one.image + first, BARE) for one, first in zip(parts, images, strict=False)]
        ).astype(np.int32),
        tuple(image for one in parts for image in one.images),
        parts[0].grain,
        parts[0].grain_m,
    )


def stood(of: Solid, size_m: float | None = None) -> Solid:
    """Return a solid standing on height 0 over its middle; scaled to a longest side where ``size_m`` is given."""
    low, high = of.places.min(axis=0), of.places.max(axis=0)
    scale = 1.0 if size_m is None else size_m / max(float((high - low).max()), 1e-9)
    middle = np.array([(low[0] + high[0]) / 2, (low[1] + high[1]) / 2, low[2]])
    places = ((of.places - middle) * scale).astype(np.float32)
    return of._replace(
        places=np.ascontiguousarray(places), grain_m=of.grain_m * scale, bend=(of.bend / scale).astype(np.float32)
    )


def stretched(of: Solid, by: tuple[float, float, float]) -> Solid:
    """Return a solid stretched along its own axes, mirrored where a factor is below 0; how its surface bends is asked
    anew."""
    factors = np.array(by, np.float64)
    facing = of.normals / factors
    # in a mirror corners go round the other way
    triangles = of.triangles[:, ::-1] if factors.prod() < 0 else of.triangles
    return bent(
        of._replace(
            places=np.ascontiguousarray(of.places * factors, np.float32),
            normals=np.ascontiguousarray(facing / np.linalg.norm(facing, axis=1, keepdims=True), np.float32),
            triangles=np.ascontiguousarray(triangles),
        )
    )


def bent(of: Solid) -> Solid:
    """Return a solid that tells how its surface bends; blades and leaves have no such thing."""
    if float(of.leaf.max(initial=0.0)) > 0 or len(of.triangles) == 0:
        return of._replace(bend=np.zeros(len(of.places), np.float32))
    return of._replace(bend=mean_curvature(of.places, of.triangles))


def foot(of: Solid, share: float = 0.25) -> Vectors:
    """Return the outline of what is near the ground as a ring of places, (8, 3) metres.

    Parameters
    ----------
    of : Solid
        Standing on height 0.
    share : float
        How much of its height counts as its foot.

    Returns
    -------
    ndarray, shape (8, 3), float32
        In eight directions the furthest place of its foot, at height 0.
    """
    top = max(share * float(of.places[:, 2].max()), 1e-6)
    low = of.places[of.places[:, 2] <= top]
    turn = 2 * np.pi * np.arange(FOOT_PLACES) / FOOT_PLACES
    ways = np.stack([np.cos(turn), np.sin(turn)], 1)
    reach = np.maximum((low[:, :2] @ ways.T).max(axis=0), 1e-4)
    ring: Vectors = np.concatenate([ways * reach[:, None], np.zeros((FOOT_PLACES, 1))], 1).astype(np.float32)
    return ring
