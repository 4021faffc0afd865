"""Meshes: no place further from the ground than is told, no gaps, files that others read as the same mesh."""

from __future__ import annotations

import itertools
import json
import subprocess
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from pxr import Usd, UsdGeom, UsdValidation

from elvatch.core.document.fit import Fit
from elvatch.core.document.sheet import Fine, Sheet
from elvatch.core.document.sheet_entry import MeshEntry
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.survey import Survey, survey
from elvatch.core.ground.upright import Upright
from elvatch.core.handoff import meshes
from elvatch.core.handoff.listing import Source
from elvatch.core.mesh import lattice as lattices
from elvatch.core.mesh import read_back, triangulation
from elvatch.core.mesh.carried import Carried
from elvatch.core.mesh.forms import MESH_FORMS, MeshFormat
from elvatch.core.mesh.lattice import SitePart
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run
from tests.conftest import NAMES, layer, recipe
from tests.core.handing import bumpy_set, read, rolling, source_of, written

Places = NDArray[np.float64]
ROOT = Path(__file__).parents[2]
BUMPY = {name: bumpy_set(k + 1) for k, name in enumerate(NAMES)}


def rough(rows: int = 97, cols: int = 129, width_m: float = 120.0, depth_m: float = 90.0) -> Heightfield:
    """Hills with cliffs: neighbouring samples twist."""
    random = np.random.default_rng(5)
    y, x = np.mgrid[0 : 1 : rows * 1j, 0 : 1 : cols * 1j]
    hills = 12 * np.sin(7 * x + 1) * np.cos(5 * y) + 4 * np.sin(21 * x * y)
    cliffs = 6.0 * (x + 0.3 * np.sin(9 * y) > 0.6)
    return Heightfield((hills + cliffs + random.normal(0, 0.05, x.shape)).astype(np.float32), width_m, depth_m)


def site(ground: Heightfield) -> Source:
    layers = (layer("Low", 0, fit=Fit(tile_m=9.0, relief_m=0.8)), layer("High", 1, fit=Fit(tile_m=6.0, relief_m=0.5)))
    layers = (layers[0], layers[1].model_copy(update={"opacity": 0.4}))
    return source_of(recipe(layers, ground), ground, BUMPY)


def entry(**more: object) -> MeshEntry:
    return MeshEntry.model_validate({"id": "mesh"} | more)


def sheet(of: MeshEntry) -> Sheet:
    return Sheet(id="test", name="Test", fine=Fine(value=64), entries=(of,))


def heights_at(ground: Survey, x: Places, y: Places) -> Places:
    """The ground by its definition: bilinear between samples."""
    rows, cols = ground.heights.shape
    c, r = x / ground.cell_x_m, (ground.depth_m - y) / ground.cell_y_m
    j, i = np.clip(c.astype(int), 0, cols - 2), np.clip(r.astype(int), 0, rows - 2)
    u, v = c - j, r - i
    h = ground.heights.astype(np.float64)
    upper = h[i, j] * (1 - u) + h[i, j + 1] * u
    return np.asarray(upper * (1 - v) + (h[i + 1, j] * (1 - u) + h[i + 1, j + 1] * u) * v)


def furthest(ground: Survey, vertices: Places, triangles: NDArray[np.integer], count: int) -> float:
    """The greatest distance up or down of a mesh's places, spread over its area, from the ground."""
    a, b, c = (vertices[triangles[:, k]] for k in range(3))
    area = np.abs(twice_area(a, b, c)) / 2
    random = np.random.default_rng(3)
    chosen = random.choice(len(triangles), count, p=area / area.sum())
    s, t = np.sqrt(random.uniform(size=count)), random.uniform(size=count)
    w = np.stack([1 - s, s * (1 - t), s * t], 1)[..., None]
    at = a[chosen] * w[:, 0] + b[chosen] * w[:, 1] + c[chosen] * w[:, 2]
    return float(np.abs(at[:, 2] - heights_at(ground, at[:, 0], at[:, 1])).max())


def flat_area(vertices: Places, triangles: NDArray[np.integer]) -> float:
    return float(twice_area(*(vertices[triangles[:, k]] for k in range(3))).sum() / 2)


def twice_area(a: Places, b: Places, c: Places) -> Places:
    """Of triangles seen from above, below 0 where they look down."""
    found: Places = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])
    return found


@pytest.mark.parametrize(
    ("ground", "greatest_m"),
    [(rough(), 0.4), (rough(), 1.5), (rolling(), 0.05), (rolling(), 2.0), (rough(70, 53, 41.0, 57.3), 0.3)],
)
def test_no_place_is_further_from_the_ground_than_is_told(ground: Heightfield, greatest_m: float) -> None:
    of = entry(greatest_error_m=greatest_m, levels=3)
    source = site(ground)
    for level in meshes.levels_of(of, sheet(of), source):
        mesh = meshes.mesh_of(of, source, [level], 0, 0, 0, Run())
        assert furthest(source.survey, mesh.places, mesh.triangles, 100_000) <= level.told_m + 1e-5
        # it covers all of the site once, and looks up
        assert flat_area(mesh.places, mesh.triangles) == pytest.approx(ground.width_m * ground.depth_m, rel=1e-9)
        assert (twice_area(*(mesh.places[mesh.triangles[:, k]] for k in range(3))) > 0).all()
    assert meshes.levels_of(of, sheet(of), source)[0].told_m <= greatest_m + 1e-9


@settings(max_examples=15)
@given(st.integers(0, 2**31), st.integers(3, 6), st.floats(0.02, 3.0))
def test_any_ground_is_followed_within_the_error_without_gaps(seed: int, halvings: int, greatest_m: float) -> None:
    side = 2**halvings + 1
    heights = np.random.default_rng(seed).normal(0, 1, (side, side)).astype(np.float32)
    land = survey(Heightfield(heights, 10.0, 10.0))
    lattice = lattices.lattice_of(SitePart(0.0, 0.0, 10.0, 10.0), (side - 1, side - 1), 1, 1)
    found = triangulation.triangulated(triangulation.hierarchy(lattice, heights), greatest_m)
    vertices = np.stack(
        [
            lattice.x_m()[found.vertices[:, 1]],
            lattice.y_m()[found.vertices[:, 0]],
            heights[found.vertices[:, 0], found.vertices[:, 1]],
        ],
        1,
    )
    of = triangulation.hierarchy(lattice, heights)
    assert furthest(land, vertices, found.triangles, 20_000) <= max(greatest_m, of.least_m) + 1e-5
    # every side is shared by two triangles, or lies on the border
    sides = np.sort(np.concatenate([found.triangles[:, pair] for pair in ([0, 1], [1, 2], [2, 0])]), axis=1)
    _, counts = np.unique(sides, axis=0, return_counts=True)
    border = np.isin(found.vertices, (0, side - 1)).any(axis=1).sum()
    assert (counts <= 2).all()
    assert (counts == 1).sum() == border


def test_levels_of_neighbouring_tiles_leave_no_gap_that_their_skirts_do_not_hide() -> None:
    of = entry(greatest_error_m=0.4, levels=3, columns=2, rows=2, skirts=True)
    source = site(rough())
    levels = meshes.levels_of(of, sheet(of), source)

    def border(level: int, column: int) -> tuple[Places, Places]:
        lattice = levels[level].lattice
        found = levels[level].tile(0, column)
        on = found.vertices[found.vertices[:, 1] == lattice.cols // 2]
        on = on[np.argsort(on[:, 0])]
        return lattice.y_m()[on[:, 0]], levels[level].heights[on[:, 0], on[:, 1]].astype(np.float64)

    places = np.linspace(45.0, 90.0, 4001)
    gaps = {}
    for west, east in itertools.product(range(3), repeat=2):
        (y, z), (other_y, other_z) = border(west, 0), border(east, 1)
        gaps[west, east] = np.abs(
            np.interp(places, y[::-1], z[::-1]) - np.interp(places, other_y[::-1], other_z[::-1])
        ).max()
    # of one level not even that: they have the same vertices there
    assert all(gaps[k, k] == 0 for k in range(3))
    assert max(gaps.values()) > 0.1
    tile = meshes.mesh_of(of, source, levels, 0, 0, 0, Run())
    bare = meshes.mesh_of(of.model_copy(update={"skirts": False}), source, levels, 0, 0, 0, Run())
    hung = tile.places[len(bare.places) :]
    # the wall hangs under vertices of the border, further down than the widest gap
    edge = {tuple(one) for one in bare.places[:, :2].tolist()}
    assert all(tuple(one) in edge for one in hung[:, :2].tolist())
    assert bare.places[:, 2].min() - hung[:, 2].min() > max(gaps.values())


def test_triangles_are_a_quarter_of_a_regular_grids_at_the_same_error() -> None:
    ground = rough(257, 257, 240.0, 240.0)
    source = site(ground)
    of = entry(greatest_error_m=1.0)
    level = meshes.levels_of(of, sheet(of), source)[0]
    mine = len(level.tile(0, 0).triangles)
    for cell_m in (8.0, 4.0, 2.0, 1.0, 0.5, 0.25):
        grid = entry(by="grid", cell_m=cell_m)
        regular = meshes.levels_of(grid, sheet(grid), source)[0]
        if regular.told_m <= level.told_m:
            break
    assert mine <= len(regular.tile(0, 0).triangles) / 4
    assert (
        furthest(
            source.survey,
            meshes.mesh_of(grid, source, [regular], 0, 0, 0, Run()).places,
            regular.tile(0, 0).triangles,
            50_000,
        )
        <= regular.told_m + 1e-5
    )


@pytest.mark.parametrize("shares", ["none", "values", "colours"])
@pytest.mark.parametrize("maps", ["none", "linked", "inside"])
def test_glb_is_what_the_validator_and_another_reader_take_it_for(tmp_path: Path, shares: str, maps: str) -> None:
    ground = rolling()
    source = site(ground)
    of = entry(shares=shares, maps=maps, maps_px=64)
    files = written(sheet(of), source, tmp_path / "out")
    path = files["site_mesh.glb"]
    assert (len(files) == 2) == (maps != "linked")
    found = json.loads(
        subprocess.run(
            ["node", str(ROOT / "tests/validate_gltf.mjs"), str(path)], capture_output=True, check=True, text=True
        ).stdout
    )
    assert (found["numErrors"], found["numWarnings"]) == (0, 0), found
    assert len(found["resources"]) >= (4 if maps == "linked" else 1)
    loaded = trimesh.load_mesh(path, process=False)
    assert isinstance(loaded, trimesh.Trimesh)
    level = meshes.levels_of(of, sheet(of), source)[0]
    mesh = meshes.mesh_of(of, source, [level], 0, 0, 0, Run())
    np.testing.assert_array_equal(loaded.faces, mesh.triangles)
    low, high = loaded.bounds
    np.testing.assert_allclose([low[0], high[0], low[2], high[2]], [0, ground.width_m, -ground.depth_m, 0], atol=1e-4)
    assert loaded.vertices[:, 1].max() <= ground.highest_m + 1e-3
    if shares == "values":
        np.testing.assert_array_equal(mesh.shares.sum(axis=1).round(4), 1)
        kept = [loaded.vertex_attributes[f"_SHARE_{k}"] for k in range(2)]
        np.testing.assert_allclose(np.hstack(kept), mesh.shares, atol=1e-6)


@pytest.mark.parametrize("form", ["obj", "ply"])
def test_text_and_ply_are_read_as_the_same_triangles(tmp_path: Path, form: str) -> None:
    source = site(rolling())
    of = entry(format=form, shares="colours", greatest_error_m=0.3)
    path = written(sheet(of), source, tmp_path / "out")[f"site_mesh.{form}"]
    loaded = trimesh.load_mesh(path, process=False)
    assert isinstance(loaded, trimesh.Trimesh)
    level = meshes.levels_of(of, sheet(of), source)[0]
    mesh = meshes.mesh_of(of, source, [level], 0, 0, 0, Run())
    np.testing.assert_array_equal(loaded.faces, mesh.triangles)
    np.testing.assert_allclose(loaded.vertices, mesh.places, atol=1e-4)
    if form == "obj":
        lines = [line.split() for line in path.read_text().splitlines() if line.startswith("v ")]
        kept = np.array([[float(word) for word in line[4:6]] for line in lines])
    else:
        kept = np.stack([loaded.metadata["_ply_raw"]["vertex"]["data"][name] for name in ("red", "green")], 1) / 255
    np.testing.assert_allclose(kept, mesh.shares, atol=0.003)


@pytest.mark.parametrize("up", ["y", "z"])
def test_usd_is_clean_and_opens_in_metres(tmp_path: Path, up: str) -> None:
    source = site(rolling())
    of = entry(format="usdc", shares="values", maps="linked", maps_px=64, up=up)
    files = written(sheet(of), source, tmp_path / "out")
    stage = Usd.Stage.Open(str(files["site_mesh.usdc"]))
    checks = UsdValidation.ValidationRegistry().GetOrLoadAllValidators()
    assert len(checks) > 20
    errors = UsdValidation.ValidationContext(checks).Validate(stage)
    assert [(one.GetName(), one.GetMessage()) for one in errors] == []
    assert UsdGeom.GetStageMetersPerUnit(stage) == 1.0
    assert UsdGeom.GetStageUpAxis(stage) == up.upper()
    made = UsdGeom.Mesh(stage.GetPrimAtPath("/site/mesh"))
    points = np.array(made.GetPointsAttr().Get())
    primvars = {one.GetPrimvarName(): one for one in UsdGeom.PrimvarsAPI(made).GetPrimvars()}
    assert {"st", "share_0", "share_1"} <= primvars.keys()
    assert all(len(primvars[name].Get()) == len(points) for name in ("st", "share_0", "share_1"))
    assert points[:, 1 if up == "y" else 2].max() == pytest.approx(rolling().highest_m, abs=0.6)
    # the same site gives the same bytes
    again = written(sheet(of), source, tmp_path / "again")
    assert files["site_mesh.usdc"].read_bytes() == again["site_mesh.usdc"].read_bytes()


@pytest.mark.parametrize("form", list(MESH_FORMS))
def test_a_mesh_that_reads_back_as_another_is_said(tmp_path: Path, form: MeshFormat) -> None:
    source, of = site(rolling()), entry(format=form)
    levels = meshes.levels_of(of, sheet(of), source)
    mesh = meshes.mesh_of(of, source, levels, 0, 0, 0, Run())
    path = tmp_path / f"mesh.{form}"
    up = MESH_FORMS[form].ups[0]
    MESH_FORMS[form].write(path, mesh, Carried("Site", (), "none", None, up))
    read_back.check(path, mesh, up == "y")
    moved = mesh._replace(places=mesh.places + np.array([0, 0, 0.01]))
    with pytest.raises(RefusalError, match="another mesh when it was read back"):
        read_back.check(path, moved, up == "y")
    turned = mesh._replace(triangles=mesh.triangles[:, ::-1])
    with pytest.raises(RefusalError, match="another mesh when it was read back"):
        read_back.check(path, turned, up == "y")
    path.write_bytes(path.read_bytes()[: path.stat().st_size // 3])
    with pytest.raises(RefusalError, match="when it was read back"):
        read_back.check(path, mesh, up == "y")


def test_relief_stands_in_the_mesh_as_it_does_in_the_height_map(tmp_path: Path) -> None:
    source = site(rolling())
    of = entry(relief=True, by="grid", cell_m=2.0)
    level = meshes.levels_of(of, sheet(of), source)[0]
    assert level.heights.shape == (51, 51)
    bare = lattices.heights_of(source.survey, level.lattice)
    assert 0.1 < np.abs(level.heights - bare).max() < 2.0
    maps = Sheet.model_validate(
        {
            "id": "maps",
            "name": "Maps",
            "fine": {"value": 51},
            "entries": [
                {
                    "kind": "maps",
                    "id": "high",
                    "file": "height",
                    "holds": [{"of": "height"}],
                    "format": "tiff",
                    "type": "float32",
                    "corners": True,
                    "longer_px": 51,
                },
            ],
        }
    )
    np.testing.assert_allclose(read(written(maps, source, tmp_path / "out")["height.tif"]), level.heights, atol=2e-4)


def test_a_part_of_a_site_is_meshed_where_it_lies() -> None:
    source = site(rolling())
    of = entry(greatest_error_m=0.2)
    part = Sheet.model_validate(
        sheet(of).model_dump() | {"region": {"east_m": 20, "north_m": 35, "width_m": 30, "depth_m": 25}}
    )
    level = meshes.levels_of(of, part, source)[0]
    mesh = meshes.mesh_of(of, source, [level], 0, 0, 0, Run())
    np.testing.assert_allclose([mesh.places[:, :2].min(0), mesh.places[:, :2].max(0)], [[20, 35], [50, 60]])
    assert furthest(source.survey, mesh.places, mesh.triangles, 20_000) <= level.told_m + 1e-5


def test_a_face_leaves_standing_on_its_foot_and_looks_south(tmp_path: Path) -> None:
    ground = rolling()
    lying = site(ground)
    upright = lying.recipe.ground.model_copy(update={"upright": Upright(faces_deg=90, foot_m=30)})
    standing = replace(lying, recipe=lying.recipe.model_copy(update={"ground": upright}))
    of = entry(greatest_error_m=0.3)
    loaded = trimesh.load_mesh(written(sheet(of), standing, tmp_path / "out")["site_mesh.glb"], process=False)
    assert isinstance(loaded, trimesh.Trimesh)
    # in the file y is up and z looks south
    low, high = loaded.bounds
    wanted = [0, ground.width_m, 30, 30 + ground.depth_m]
    np.testing.assert_allclose([low[0], high[0], low[1], high[1]], wanted, atol=1e-3)
    np.testing.assert_allclose([low[2], high[2]], [ground.lowest_m, ground.highest_m], atol=0.31)
    assert loaded.face_normals[:, 2].min() > 0.2
    plain = meshes.mesh_of(of, lying, meshes.levels_of(of, sheet(of), lying), 0, 0, 0, Run())
    np.testing.assert_array_equal(loaded.faces, plain.triangles)


@pytest.mark.parametrize(
    ("wanted", "said"),
    [
        ({"columns": 2, "maps": "inside"}, "maps inside each of 2 files"),
        ({"format": "obj", "maps": "inside"}, "found maps inside of OBJ, expected linked ones"),
        ({"format": "obj", "shares": "values"}, "found shares by name of OBJ, expected none or colours"),
        ({"by": "grid", "cell_m": 0.0125}, "128 million triangles in a file"),
        ({"columns": 2}, "two tiles or levels that become site_mesh.glb"),
        ({"by": "grid", "cell_m": 0.01}, "a grid of 10000 cells, expected at most 8192"),
    ],
)
def test_meshes_that_cannot_be_are_refused(wanted: dict[str, object], said: str, tmp_path: Path) -> None:
    with pytest.raises(RefusalError) as refused:
        written(sheet(entry(**wanted)), site(rolling()), tmp_path / "out")
    assert said in str(refused.value)
