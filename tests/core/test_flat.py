"""Things laid out flat: tangents against the reference code, texels, seams, what was asked at each."""

from __future__ import annotations

import json
import subprocess
from pathlib import Path
from typing import Literal

import numpy as np
import pytest
import trimesh
from numpy.typing import NDArray
from scipy.spatial.transform import Rotation

from elvatch.core.cover.on_thing import ReadyCover, prepare
from elvatch.core.document.fit import Fit
from elvatch.core.document.layer import Edge, Layer, Look
from elvatch.core.document.rule import OnMeasure, Rule
from elvatch.core.document.thing import Covering
from elvatch.core.ground.survey import survey
from elvatch.core.handoff.baked import Baked, baked
from elvatch.core.parallel import Token
from elvatch.core.refusal import CancelledError
from elvatch.core.rules.evidence import Evidence
from elvatch.core.run import Run
from elvatch.core.stock import pyramid
from elvatch.core.thing.charts import AT_ONCE
from elvatch.core.thing.solid import Solid, bent, solid
from elvatch.core.thing.tangents import tangents
from elvatch.core.thing.traced import Stood
from elvatch.core.thing.unwrapped import areas, densities, texels, unwrapped
from tests.core.handing import rolling

LAND = survey(rolling())
GREEN = "a" * 40


def of_trimesh(mesh: trimesh.Trimesh, shade: float = 0.2) -> Solid:
    """A solid of a longest side of 1 m that stands on height 0, its normals smooth as the mesh's own are."""
    mesh.apply_translation(-mesh.bounds.mean(axis=0) * [1, 1, 0] - [0, 0, mesh.bounds[0][2]])
    mesh.apply_scale(1.0 / mesh.extents.max())
    return bent(solid(mesh.vertices, mesh.faces, np.full((1, 3), shade), normals=mesh.vertex_normals))


def blob() -> Solid:
    """As a scan is: bumps of all sizes."""
    mesh = trimesh.creation.icosphere(subdivisions=4)
    way = mesh.vertices / np.linalg.norm(mesh.vertices, axis=1, keepdims=True)
    for k, (size, strength) in enumerate(((1.7, 0.25), (4.1, 0.1), (9.3, 0.03))):
        mesh.vertices += way * strength * np.sin(size * way[:, [0]] + k) * np.cos(size * way[:, [1]] * way[:, [2]])
    return of_trimesh(mesh)


def cube() -> Solid:
    """Its sides share no corners: its edges are sharp."""
    mesh = trimesh.creation.box()
    mesh.unmerge_vertices()
    return of_trimesh(mesh)


SHAPES = {
    "cube": cube,
    "sphere": lambda: of_trimesh(trimesh.creation.icosphere(subdivisions=4)),
    "torus": lambda: of_trimesh(trimesh.creation.torus(1.0, 0.4, major_sections=64, minor_sections=32)),
    "blob": blob,
}


def stood(turn: NDArray[np.float64] | None = None, size_m: float = 2.0) -> Stood:
    matrix = np.eye(3) if turn is None else turn
    return Stood(
        np.array([[50.0, 50.0, 12.0]]),
        matrix.reshape(1, 9).astype(np.float32),
        np.full(1, size_m, np.float32),
        np.zeros(1, np.int32),
        np.ones((1, 3), np.float32),
        np.zeros((1, 3), np.float32),
    )


def covered(
    rule: Rule, axes: Literal["thing", "world", "uv"] = "thing", colour: NDArray[np.float32] | None = None
) -> ReadyCover:
    """A cover of one layer."""
    flat = np.full((64, 64, 3), 0.8, np.float32) if colour is None else colour
    one = Layer(
        id="green",
        name="Green",
        set=GREEN,
        fit=Fit(tile_m=1.0, relief_m=0),
        rule=rule,
        look=Look(variation=0),
        edge=Edge(kind="fade"),
    )
    evidence = Evidence(LAND.width_m, LAND.depth_m)
    return prepare(Covering(axes=axes, layers=(one,)), {GREEN: pyramid.plain(flat, 1.0)}, evidence)


def steep(lower: float, soft: float = 0.0) -> Rule:
    return Rule(clauses=(OnMeasure(measure="slope", unit="°", lower=lower, soft_lower=soft),))


@pytest.mark.parametrize("turn", [(0, 0, 0), (90, 0, 0), (37, 71, 13)])
def test_steep_on_a_ball_is_the_belt_that_geometry_says(turn: tuple[float, float, float]) -> None:
    # steeper than 60°: between both circles at half the radius, half of the ball (Archimedes)
    matrix = Rotation.from_euler("xyz", turn, degrees=True).as_matrix()
    ball = SHAPES["sphere"]()
    found = baked(ball, stood(matrix), LAND, covered(steep(60.0)), 1024)
    island = found.held
    share = (found.colour[..., 0] - 0.2) / 0.6
    assert abs(share[island]).max() < 1.001
    # a texel stands for its triangle's area over its texels
    weight = _area_of_texels(found, island)
    assert float((share[island] * weight).sum() / weight.sum()) == pytest.approx(0.5, rel=0.005)
    # and it lies where the world says
    up = _world_normals(found, matrix)[island][:, 2]
    sure = np.abs(np.abs(up) - 0.5) > 0.03
    assert ((share[island] > 0.5) == (np.abs(up) < 0.5))[sure].all()


def _area_of_texels(found: Baked, island: NDArray[np.bool_]) -> NDArray[np.float64]:
    size = len(found.held)
    laid = _triangle_of(found)
    area, flat = areas(found.unwrapped, size, 1.0)
    return (area / flat)[laid[island]]


def _triangle_of(found: Baked) -> NDArray[np.int64]:
    """Which triangle a texel lies in, by plain arithmetic."""
    size = len(found.held)
    out = np.zeros((size, size), np.int64)
    for k, corners in enumerate(found.unwrapped.flat[found.unwrapped.solid.triangles] * size):
        low, high = np.floor(corners.min(axis=0)).astype(int), np.ceil(corners.max(axis=0)).astype(int)
        x, y = np.meshgrid(np.arange(low[0], high[0]) + 0.5, np.arange(low[1], high[1]) + 0.5)
        a, b, c = corners
        matrix = np.linalg.inv(np.column_stack([b - a, c - a]))
        u, v = np.moveaxis(np.stack([x - a[0], y - a[1]], 2) @ matrix.T, 2, 0)
        rows, cols = np.nonzero((u >= 0) & (v >= 0) & (u + v <= 1))
        out[rows + low[1], cols + low[0]] = k
    return out


def _world_normals(found: Baked, matrix: NDArray[np.float64]) -> NDArray[np.float64]:
    """Each texel's normal, by where it lies on a ball of radius 0.5."""
    solid_, laid = found.unwrapped.solid, _triangle_of(found)
    size = len(found.held)
    x, y = np.meshgrid((np.arange(size) + 0.5) / size, (np.arange(size) + 0.5) / size)
    corners = found.unwrapped.flat[solid_.triangles].astype(np.float64)[laid]
    a, b, c = corners[..., 0, :], corners[..., 1, :], corners[..., 2, :]
    matrix_ = np.linalg.inv(np.stack([b - a, c - a], -1) + 1e-12 * np.eye(2))
    uv = np.einsum("...ij,...j->...i", matrix_, np.stack([x, y], -1) - a)
    p = solid_.places[solid_.triangles].astype(np.float64)[laid]
    at = p[..., 0, :] + uv[..., :1] * (p[..., 1, :] - p[..., 0, :]) + uv[..., 1:] * (p[..., 2, :] - p[..., 0, :])
    way = at - [0, 0, 0.5]
    return np.asarray(way / np.linalg.norm(way, axis=-1, keepdims=True)) @ matrix.T


def bilinear(image: NDArray[np.float32], uv: NDArray[np.float64]) -> NDArray[np.float64]:
    size = len(image)
    at = np.clip(uv * size - 0.5, 0, size - 1.001)
    col, row = np.floor(at).astype(int).T
    f, g = (at - np.floor(at)).T[..., None]
    low = image[row, col] * (1 - f) + image[row, col + 1] * f
    high = image[row + 1, col] * (1 - f) + image[row + 1, col + 1] * f
    return np.asarray(low * (1 - g) + high * g)


def stains() -> NDArray[np.float32]:
    x, y = np.meshgrid(np.arange(64) / 64, np.arange(64) / 64)
    wave = 0.35 + 0.15 * np.sin(2 * np.pi * x) * np.cos(2 * np.pi * y)
    return np.dstack([wave, 0.8 * wave, 0.5 * wave]).astype(np.float32)


@pytest.mark.parametrize("shape", sorted(SHAPES))
def test_no_seam_is_seen_between_islands(shape: str) -> None:
    found = baked(SHAPES[shape](), stood(), LAND, covered(steep(20.0, 40.0), colour=stains()), 1024)
    one, other = _seams(found)
    # the same edge from both of its sides, as a renderer looks it up, in codes of the file
    first, second = (255 * _encoded(bilinear(found.colour, uv)) for uv in (one, other))
    assert len(one) > 12
    apart = np.abs(first - second).max(axis=1)
    assert apart.max() < 2.0, (shape, apart.max())


def _encoded(linear: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * np.maximum(linear, 1e-9) ** (1 / 2.4) - 0.055)


def _seams(found: Baked) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Places along edges whose two triangles lie apart in the texture, seen from both."""
    solid_ = found.unwrapped.solid
    _, weld = np.unique(solid_.places.round(6), axis=0, return_inverse=True)
    weld = weld.reshape(-1)
    seen: dict[tuple[int, int], tuple[int, int]] = {}
    one, other = [], []
    for corners in solid_.triangles.tolist():
        for a, b in zip(corners, corners[1:] + corners[:1], strict=True):
            back = seen.pop((int(weld[b]), int(weld[a])), None)
            if back is None:
                seen[int(weld[a]), int(weld[b])] = (a, b)
            elif back != (b, a) and np.allclose(solid_.normals[a], solid_.normals[back[1]], atol=1e-4):
                flat = found.unwrapped.flat.astype(np.float64)
                for t in (0.2, 0.5, 0.8):
                    one.append(flat[a] * (1 - t) + flat[b] * t)
                    other.append(flat[back[1]] * (1 - t) + flat[back[0]] * t)
    return np.array(one), np.array(other)


def reference_tangents(
    places: NDArray[np.float32], normals: NDArray[np.float32], uv: NDArray[np.float32]
) -> NDArray[np.float64]:
    asked = {"places": places.ravel().tolist(), "normals": normals.ravel().tolist(), "uv": uv.ravel().tolist()}
    script = Path(__file__).parents[1] / "mikktspace.mjs"
    ran = subprocess.run(
        ["node", str(script)], input=json.dumps(asked), capture_output=True, text=True, check=True, timeout=60
    )
    return np.array(json.loads(ran.stdout)).reshape(-1, 3, 4)


@pytest.mark.parametrize("shape", sorted(SHAPES))
@pytest.mark.parametrize("mirrored", [False, True])
def test_tangents_are_those_of_the_reference_code(shape: str, mirrored: bool) -> None:
    of = SHAPES[shape]()
    flat = unwrapped(of, 512, 4)
    uv = flat.flat.copy()
    if mirrored:
        # half of the islands seen in a mirror, as artists lay symmetric things
        back = np.isin(flat.island, np.arange(0, flat.islands, 2))
        which = np.unique(flat.solid.triangles[back])
        uv[which, 0] = 1 - uv[which, 0]
    t = flat.solid.triangles
    found = tangents(flat.solid.places, flat.solid.normals, uv, t)
    wanted = reference_tangents(flat.solid.places[t], flat.solid.normals[t], uv[t])
    assert (found[..., 3] == wanted[..., 3]).mean() > 0.9999
    along = (found[..., :3] * wanted[..., :3]).sum(axis=-1)
    assert np.quantile(along, 0.001) > 0.9999, (shape, along.min())


def test_a_fine_thing_is_laid_out_part_by_part_each_place_once() -> None:
    of = of_trimesh(trimesh.creation.icosphere(subdivisions=5))
    assert len(of.triangles) > AT_ONCE
    told: list[float] = []
    found = unwrapped(of, 1024, 8, own=False, run=Run(progress=told.append))
    assert len(told) > 5, "it can be stopped between parts"
    np.testing.assert_array_equal(found.solid.places[found.solid.triangles], of.places[of.triangles])
    assert (found.flat >= 0).all()
    assert (found.flat <= 1).all()
    area, flat = areas(found, 1024, 2.0)
    each_texel = texels(found.flat, found.solid.triangles, 1024, 0.0)
    # what triangles cover, one by one and all together: no two share a texel
    assert (each_texel.triangle >= 0).sum() == pytest.approx(flat.sum(), rel=0.01)
    # the same number of texels a metre all over
    dense = densities(found, 1024, 2.0)
    weight = np.bincount(found.island, area, found.islands)
    assert (np.abs(dense / np.average(dense, weights=weight) - 1) * weight).sum() / weight.sum() < 0.1
    stopped = Token()
    stopped.cancel()
    with pytest.raises(CancelledError):
        unwrapped(of, 1024, 8, own=False, run=Run(stopped))
