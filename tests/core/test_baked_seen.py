"""Textures of a thing against what is seen of it: rays meet the thing, and what they meet is asked for directly."""

from __future__ import annotations

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy.spatial.transform import Rotation

from elvatch.core.cover.on_thing import ReadyCover
from elvatch.core.ground import places
from elvatch.core.handoff.baked import Baked, baked
from elvatch.core.picture.clad import clad
from elvatch.core.picture.covering import with_covers
from elvatch.core.picture.fragments import GBuffer, nothing_seen
from elvatch.core.picture.kinds import THING
from elvatch.core.strew.field import Stocked
from elvatch.core.thing import traced
from elvatch.core.thing.traced import Stood
from tests.core.test_flat import LAND, SHAPES, bilinear, covered, stains, steep, stood

PX = 1024
Vectors = NDArray[np.float64]


def first_met(corners: Vectors, begin: Vectors, way: Vectors) -> tuple[NDArray[np.int64], Vectors]:
    """The triangle, of (m, 3, 3), that each ray meets first, and where in it: all against all (Möller, Trumbore)."""
    a, e, f = corners[:, 0], corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    which, along = np.full(len(begin), -1), np.zeros((len(begin), 2))
    for k, (o, d) in enumerate(zip(begin, way, strict=True)):
        p, s = np.cross(d, f), o - a
        det = np.einsum("ij,ij->i", e, p)
        q = np.cross(s, e)
        with np.errstate(divide="ignore", invalid="ignore"):
            u, v = np.einsum("ij,ij->i", s, p) / det, q @ d / det
            t = np.einsum("ij,ij->i", f, q) / det
        t[~((u >= 0) & (v >= 0) & (u + v <= 1) & (t > 0))] = np.inf
        if np.isfinite(t.min()):
            which[k] = t.argmin()
            along[k] = u[which[k]], v[which[k]]
    return which, along


class Seen:
    """A baked thing as it stands, and rays at it."""

    def __init__(self, of: Baked, stands: Stood, ready: ReadyCover) -> None:
        self.of, self.ready = of, ready
        self.shapes = traced.shapes([of.unwrapped.solid])
        self.things = traced.things(stands, self.shapes)
        self.triangles = self.shapes.corners.astype(np.int64)
        turn = stands.turn[0].reshape(3, 3).astype(np.float64)
        own = of.unwrapped.solid.places.astype(np.float64) * float(stands.size[0])
        self.corners = (own @ turn.T + stands.at[0])[self.triangles]

    def uv(self, which: NDArray[np.int64], along: Vectors) -> Vectors:
        weights = np.column_stack([1 - along.sum(axis=1), along])
        return np.asarray(
            np.einsum("kc,kcd->kd", weights, self.of.unwrapped.flat[self.triangles[which]].astype(np.float64))
        )

    def asked(self, which: NDArray[np.int64], along: Vectors) -> Vectors:
        """The colour that pictures would show there."""
        weights = np.column_stack([1 - along.sum(axis=1), along])
        at = np.einsum("kc,kcd->kd", weights, self.corners[which])
        f = nothing_seen(len(which))
        f.kind[:], f.weight[:], f.toward[:], f.hit[:], f.height_m[:] = THING, 1.0, 0.0, which, at[:, 2]
        normals = self.of.unwrapped.solid.normals[self.triangles[which]].astype(np.float64)
        facing = np.einsum("kc,kcd->kd", weights, normals) @ self.things.stood.turn[0].reshape(3, 3).T
        f.normal[:] = facing / np.linalg.norm(facing, axis=1, keepdims=True)
        f = f._replace(places=places.on_ground(LAND, at[:, 0], at[:, 1], 2.0 / PX))
        one = np.zeros(1, np.int64)
        stocked = Stocked((), (), self.shapes, ("thing",), one, one, np.ones((1, 3), np.float32), "")
        seen = GBuffer(len(which), 1, f, clad(self.things, f))
        return np.asarray(with_covers(seen, self.things, stocked, {"thing": self.ready}, 4).clad.colour, np.float64)


@pytest.mark.parametrize("shape", sorted(SHAPES))
def test_textures_hold_what_rays_see_of_the_thing(shape: str) -> None:
    stands = stood(Rotation.from_euler("xyz", (20, -35, 70), degrees=True).as_matrix())
    ready = covered(steep(20.0, 40.0), colour=stains())
    found = baked(SHAPES[shape](), stands, LAND, ready, PX)
    seen, rng = Seen(found, stands, ready), np.random.default_rng(3)
    middle, way = seen.corners.mean(axis=(0, 1)), rng.normal(size=(900, 3))
    way /= np.linalg.norm(way, axis=1, keepdims=True)
    begin = middle - 5 * way + rng.normal(size=way.shape) * 0.3
    which, along = first_met(seen.corners, begin, way)
    which, along = which[which >= 0], along[which >= 0]
    assert len(which) > 300
    direct, uv = seen.asked(which, along), seen.uv(which, along)
    assert direct.std() > 0.05, "there is something to see"
    assert np.abs(bilinear(found.colour, uv) - direct).max() < 0.02
    # from a place in the middle of a texel nothing is between
    col, row = np.floor(uv * PX).astype(int).T
    centre = (np.column_stack([col, row]) + 0.5) / PX
    a, b, c = np.moveaxis(found.unwrapped.flat[seen.triangles[which]].astype(np.float64), 1, 0)
    inside = np.linalg.solve(np.stack([b - a, c - a], 2), (centre - a)[..., None])[..., 0]
    kept = (inside.min(axis=1) > 0) & (inside.sum(axis=1) < 1)
    assert kept.sum() > 50
    at_centre = seen.asked(which[kept], inside[kept])
    assert np.abs(found.colour[row[kept], col[kept]] - at_centre).max() < 1 / 255
