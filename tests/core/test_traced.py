"""Rays against things: what brute force over all triangles finds; shadows likewise; holes of textures let through."""

from __future__ import annotations

import numpy as np
import pytest
from numpy.typing import NDArray

from elvatch.core.kernel import kernel
from elvatch.core.thing import kinds, traced
from elvatch.core.thing.levels import levels
from elvatch.core.thing.solid import Image, Solid, foot, solid, stood
from elvatch.core.thing.traced import Stood, TracedThings

SOLIDS = [kinds.draw(what, 5, {}) for what in ("boulder", "grass-tuft", "fence-post", "dead-branch")]
SHAPES = traced.shapes(SOLIDS)


def turns(rng: np.random.Generator, count: int) -> NDArray[np.float32]:
    q, _ = np.linalg.qr(rng.normal(size=(count, 3, 3)))
    q[:, :, 0] *= np.sign(np.linalg.det(q))[:, None]
    return q.reshape(count, 9).astype(np.float32)


def scene(seed: int, count: int = 12) -> Stood:
    rng = np.random.default_rng(seed)
    return Stood(
        rng.random((count, 3)) * 6,
        turns(rng, count),
        rng.uniform(0.3, 3, count).astype(np.float32),
        rng.integers(0, len(SOLIDS), count).astype(np.int32),
        np.ones((count, 3), np.float32),
        np.zeros((count, 3), np.float32),
    )


@kernel
def _met(
    things: TracedThings,
    origin: NDArray[np.float64],
    way: NDArray[np.float64],
    any_: bool,
    out: NDArray[np.float64],
    hit: NDArray[np.int64],
) -> None:
    for k in range(origin.shape[0]):
        out[k], hit[k] = traced.meet_things(
            things, origin[k, 0], origin[k, 1], origin[k, 2], way[k, 0], way[k, 1], way[k, 2], 0.0, 1e9, any_
        )


def met(
    things: TracedThings, origin: NDArray[np.float64], way: NDArray[np.float64], any_: bool = False
) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    out, hit = np.empty(len(way)), np.empty(len(way), np.int64)
    _met(things, origin, way, any_, out, hit)
    return out, hit


def by_force(
    stands: Stood, origin: NDArray[np.float64], way: NDArray[np.float64]
) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """The nearest of all triangles of all things, each ray by itself (Moeller & Trumbore 1997)."""
    best, which = np.full(len(way), np.inf), np.full(len(way), -1, np.int64)
    for i, shape in enumerate(stands.shape):
        of, turn = SOLIDS[shape], stands.turn[i].reshape(3, 3).astype(np.float64)
        at = stands.at[i] + (of.places @ turn.T) * float(stands.size[i])
        a, b, c = (at[of.triangles[:, k]] for k in range(3))
        e1, e2 = b - a, c - a
        for k in range(len(way)):
            p = np.cross(way[k], e2)
            det = (e1 * p).sum(axis=1)
            with np.errstate(divide="ignore", invalid="ignore"):
                s = origin[k] - a
                u = (s * p).sum(axis=1) / det
                q = np.cross(s, e1)
                v = q @ way[k] / det
                t = (e2 * q).sum(axis=1) / det
            t = np.where((u >= 0) & (v >= 0) & (u + v <= 1) & (t > 0), t, np.inf)
            if t.min(initial=np.inf) < best[k]:
                best[k], which[k] = t.min(), i
    return best, which


def test_rays_meet_what_brute_force_meets_in_fifty_scenes() -> None:
    same = total = 0
    for seed in range(50):
        rng = np.random.default_rng(1000 + seed)
        stands = scene(seed)
        things = traced.things(stands, SHAPES)
        origin = rng.random((24, 3)) * 10 - 2
        way = rng.normal(size=(24, 3))
        way[0] = [0, 0, -1]
        way /= np.linalg.norm(way, axis=1, keepdims=True)
        wanted, which = by_force(stands, origin, way)
        found, hit = met(things, origin, way)
        there = np.isfinite(wanted)
        same += int((np.isfinite(found) == there).sum())
        both = there & np.isfinite(found)
        np.testing.assert_allclose(found[both], wanted[both], rtol=1e-4)
        same += int((things.number[hit[both] >> 32] == which[both]).sum()) - int(both.sum())
        total += len(way)
        shaded = met(things, origin, way, True)[1] >= 0
        np.testing.assert_array_equal(shaded, np.isfinite(found))
    assert same / total >= 0.9999


def test_nothing_is_met_where_nothing_stands() -> None:
    assert met(traced.nothing(), np.zeros((1, 3)), np.array([[0.0, 0.0, 1.0]]))[1][0] == -1


def test_holes_of_a_texture_let_light_through() -> None:
    corners = np.array([[0, 0, 0], [1, 0, 0], [1, 0, 1], [0, 0, 1]], np.float32)
    texels = np.full((4, 4, 4), 255, np.uint8)
    texels[:, :2, 3] = 0
    plain = solid(corners, np.array([[0, 1, 2], [0, 2, 3]]), np.ones((4, 3)))
    leaf = plain._replace(
        uv=np.array([[0, 0], [1, 0], [1, 1], [0, 1]], np.float32),
        image=np.zeros(2, np.int32),
        images=(Image(texels),),
    )
    one = Stood(
        np.zeros((1, 3)),
        np.eye(3, dtype=np.float32).reshape(1, 9),
        np.ones(1, np.float32),
        np.zeros(1, np.int32),
        np.ones((1, 3), np.float32),
        np.zeros((1, 3), np.float32),
    )
    things = traced.things(one, traced.shapes([leaf]))
    origin = np.array([[0.25, -1.0, 0.5], [0.75, -1.0, 0.5]])
    _, hit = met(things, origin, np.array([[0.0, 1.0, 0.0]] * 2))
    assert hit[0] == -1
    assert hit[1] >= 0


@pytest.mark.parametrize("what", kinds.KINDS)
def test_every_kind_is_a_whole_thing(what: str) -> None:
    one, again, other = (kinds.draw(what, seed, {}) for seed in (4, 4, 5))
    np.testing.assert_array_equal(one.places, again.places)
    assert one.places.shape != other.places.shape or not np.allclose(one.places, other.places)
    assert one.extent_m.max() == pytest.approx(1.0, abs=1e-4)
    assert one.places[:, 2].min() == pytest.approx(0.0, abs=1e-5)
    assert np.isfinite(one.places).all()
    assert np.isfinite(one.normals).all()
    assert one.triangles.min() >= 0
    assert one.triangles.max() < len(one.places)
    assert 0.005 < one.colours.mean() < 0.6, "it reflects as such things do"
    assert np.hypot(*foot(one)[:, :2].T).max() < 0.75


@pytest.mark.parametrize("what", kinds.KINDS)
def test_levels_are_fewer_triangles_that_cover_as_much(what: str) -> None:
    found = levels(kinds.draw(what, 6, {}))
    counts = [len(one.triangles) for one in found]
    assert counts[0] >= counts[1] >= counts[2]
    if counts[0] > 400:
        assert counts[2] < 0.3 * counts[0]

    def area(of: Solid) -> float:
        a, b, c = (of.places[of.triangles[:, k]] for k in range(3))
        return float(0.5 * np.abs(np.cross(b - a, c - a)).sum())

    assert 0.45 < area(found[1]) / area(found[0]) < 1.8
    assert stood(found[2]).extent_m.max() > 0.6
