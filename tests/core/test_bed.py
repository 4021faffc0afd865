"""Relief as true geometry: rays against a bump that is known, patches that meet, feet that stand."""

from __future__ import annotations

import math

import numpy as np
import pytest
from numpy.typing import NDArray

from elvatch.core.cover import plan, standing
from elvatch.core.document.fit import Fit
from elvatch.core.document.marks import DrawnPath, Marks, PathPoint
from elvatch.core.document.recipe import Peg, Stand
from elvatch.core.document.rule import OnPath, Rule
from elvatch.core.ground import places
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.places import Places
from elvatch.core.kernel import kernel
from elvatch.core.parallel import over_bands
from elvatch.core.picture import bed, camera, gbuffer, relief
from elvatch.core.picture.bed import Bed, meet_relief
from elvatch.core.picture.camera import Camera
from elvatch.core.picture.picture import Renderer, View
from elvatch.core.picture.relief import TracedHeights
from elvatch.core.picture.sunlit import sunlit
from elvatch.core.picture.terrain import scene_of, terrain
from elvatch.core.rules.evidence import Evidence
from elvatch.core.stock import pyramid
from tests.conftest import NAMES, flat_set, layer, plane, recipe

AMPLITUDE, WAVE = 0.02, 2 * math.pi / 0.6
Rays = NDArray[np.float64]


def bump(x: Rays, y: Rays) -> Rays:
    """A periodic bump of 4 cm from crest to trough, repeated every 0.6 m both ways."""
    made: Rays = AMPLITUDE * np.sin(WAVE * x) * np.cos(WAVE * y)
    return made


def near_camera(ground: Heightfield, tilt_deg: float = 15.0, distance_m: float = 4.4) -> Camera:
    stand = Stand(bearing_deg=33, tilt_deg=tilt_deg, distance_m=distance_m, view_deg=44)
    peg = Peg(east_m=ground.width_m / 2, north_m=ground.depth_m / 2)
    return camera.of_stand("near", stand, peg, 520, 720, ground)


def laid_on(ground: Heightfield, eye: Camera) -> Bed:
    def relief_at(_: int, at: Places) -> NDArray[np.float32]:
        return bump(at.x_m, at.y_m).astype(np.float32)

    land = terrain(ground)
    return bed.lay(bed.PatchPlan(eye, land.survey, ground), relief_at).bed


@kernel
def _cast(ground: TracedHeights, on: Bed, start: Rays, toward: Rays, far: float, out: Rays, a: int, b: int) -> None:
    for i in range(a, b):
        out[i] = meet_relief(
            ground, on, start[i, 0], start[i, 1], start[i, 2], toward[i, 0], toward[i, 1], toward[i, 2], 0.0, far
        )


def cast(ground: Heightfield, on: Bed, start: Rays, toward: Rays, far: float = 60.0) -> Rays:
    out = np.empty(len(start))
    prepared = relief.prepare(ground)
    over_bands(len(start), lambda a, b: _cast(prepared, on, start, toward, far, out, a, b))
    return out


def eye_rays(eye: Camera, count: int, lowest: float, highest: float) -> tuple[Rays, Rays]:
    """Rays of a picture between two heights on it, -1 at its lower edge to 1."""
    rng = np.random.default_rng(6)
    sx, sy = rng.uniform(-1, 1, count), rng.uniform(lowest, highest, count)
    toward = np.stack(
        [
            eye.forward_x + sx * eye.right_x + sy * eye.up_x,
            eye.forward_y + sx * eye.right_y + sy * eye.up_y,
            eye.forward_z + sy * eye.up_z,
        ],
        1,
    )
    return np.tile([eye.eye_x, eye.eye_y, eye.eye_z], (count, 1)), toward / np.linalg.norm(toward, axis=1)[:, None]


@pytest.mark.parametrize("slope_deg", [0.0, 25.0])
def test_rays_meet_a_periodic_bump_where_stepping_by_hand_meets_it(slope_deg: float) -> None:
    """Within 1 mm, measured square to the ground, from steep rays to grazing ones; never through a crest."""
    ground = plane(slope_deg, 123.0, samples=129)
    eye = near_camera(ground)
    on = laid_on(ground, eye)
    assert len(on.patches) >= 2
    start, toward = eye_rays(eye, 400, -1.0, 0.2)
    met = cast(ground, on, start, toward)
    lift = 1 / math.cos(math.radians(slope_deg))

    def clearance(t: Rays) -> Rays:
        x, y = start[:, 0] + t * toward[:, 0], start[:, 1] + t * toward[:, 1]
        plain = np.array([ground.elevation_at(px, py) for px, py in zip(x, y, strict=True)])
        above: Rays = (start[:, 2] + t * toward[:, 2] - plain - lift * bump(x, y)) / lift
        return above

    close = met < 7.0
    assert close.sum() > 150
    assert np.abs(clearance(met))[close].max() < 1e-3
    for part in np.linspace(0.02, 0.999, 160):
        assert clearance(met * part)[close].min() > -1e-3


def test_a_sunbeam_along_the_ground_is_stopped_by_the_first_crest() -> None:
    ground = plane(0.0, samples=129)
    eye = near_camera(ground)
    on = laid_on(ground, eye)
    rng = np.random.default_rng(3)
    ahead = rng.uniform(2.2, 5.0, 300)
    x, y = eye.eye_x + ahead * math.sin(math.radians(33)), eye.eye_y + ahead * math.cos(math.radians(33))
    start = np.stack([x, y, 50 + bump(x, y) + 0.001], 1)
    turn = rng.uniform(0, 2 * math.pi, 300)
    low = math.radians(4.0)
    toward = np.stack([np.cos(turn) * math.cos(low), np.sin(turn) * math.cos(low), np.full(300, math.sin(low))], 1)
    stopped = np.isfinite(cast(ground, on, start, toward))
    steps = np.linspace(0.0, 1.0, 4000)[:, None]
    px, py, pz = (start[:, k] + steps * toward[:, k] for k in range(3))
    gap = (pz - 50 - bump(px, py)).min(axis=0)
    # whoever is clear of all crests by a millimetre sees the sun, whoever is under one by as much does not
    assert not stopped[gap > 0.0009].any()
    assert stopped[gap < -0.001].all()
    assert 0.2 < stopped.mean() < 0.8


def test_no_ray_slips_between_patches_or_between_them_and_the_plain_ground() -> None:
    ground = plane(8.0, 200.0, samples=65)
    for tilt, distance in ((15.0, 4.4), (60.0, 3.0), (3.0, 6.0)):
        eye = near_camera(ground, tilt, distance)
        on = laid_on(ground, eye)
        start, toward = eye_rays(eye, 6000, -1.0, 0.9)
        goes_down = toward[:, 2] < -0.02
        met = cast(ground, on, start, toward, 400.0)
        plain = cast(ground, bed.plain().bed, start, toward, 400.0)
        reached = goes_down & np.isfinite(plain)
        assert np.isfinite(met[reached]).all()
        height = start[reached, 2] + met[reached] * toward[reached, 2]
        x = start[reached, 0] + met[reached] * toward[reached, 0]
        y = start[reached, 1] + met[reached] * toward[reached, 1]
        under = np.array([ground.elevation_at(px, py) for px, py in zip(x, y, strict=True)])
        # nobody fell through to what lies deeper than the deepest trough
        assert (height - under).min() > -AMPLITUDE * 1.03 - 1e-3
        assert (height - under).max() < AMPLITUDE * 1.03 + 1e-3


def test_neighbouring_patches_have_the_same_heights_where_they_meet() -> None:
    ground = plane(5.0, 60.0)
    on = laid_on(ground, near_camera(ground))
    for near, far in zip(on.patches[:-1], on.patches[1:], strict=True):
        shape = int(near[bed.ROWS]), int(near[bed.COLS])
        upper = on.heights[int(near[bed.FIRST]) :][: shape[0] * shape[1]].reshape(shape)[0]
        shape = int(far[bed.ROWS]), int(far[bed.COLS])
        lower = on.heights[int(far[bed.FIRST]) :][: shape[0] * shape[1]].reshape(shape)[-1]
        at = near[bed.WEST] + np.arange(len(upper)) * near[bed.CELL_X]
        there = far[bed.WEST] + np.arange(len(lower)) * far[bed.CELL_X]
        inside = np.abs(at) <= abs(far[bed.WEST])
        np.testing.assert_allclose(upper[inside], np.interp(at, there, lower)[inside], atol=1e-5)
        assert near[bed.NORTH] == pytest.approx(far[bed.NORTH] - (far[bed.ROWS] - 1) * far[bed.CELL_Y], abs=1e-9)


def test_the_figure_stands_on_the_relief_and_a_flat_cover_adds_no_patches() -> None:
    ground = plane(0.0)
    raised = layer("raised", 0, fit=Fit(tile_m=1.0, relief_m=0.1, relief_mid=0.0))
    prepared = plan.prepare((raised,), {NAMES[0]: flat_set(0.3, height=0.6)})
    assert standing.on_top(prepared, terrain(ground).survey, 50.0, 50.0) == pytest.approx(0.06, abs=1e-4)
    eye = near_camera(ground)
    sites = bed.PatchPlan(eye, terrain(ground).survey, ground)
    flat = bed.lay(sites, lambda k, at: np.zeros(len(at.x_m), np.float32))
    assert len(flat.bed.patches) == 0


def test_relief_shades_itself_and_is_darker_in_its_hollows() -> None:
    """Grazing light over a bump: troughs lie in shadow that the plain ground has not; hollows see less sky."""
    ground = plane(0.0, samples=129)
    eye = near_camera(ground)
    land = terrain(ground)
    sun = (math.cos(math.radians(5)), 0.0, math.sin(math.radians(5)))
    shaded = []
    for on in (laid_on(ground, eye), bed.plain().bed):
        scene = scene_of(land, None, on)
        buffer = gbuffer.look(scene, eye, 130, 180, 1)
        lit = sunlit(scene, buffer, sun, 0.53, 1, 0.04).part
        near = (buffer.fragments.kind == 1) & (buffer.fragments.depth_m < 6)
        shaded.append(float((lit[near] < 0.5).mean()))
        if len(on.patches):
            raised = bump(buffer.fragments.places.x_m, buffer.fragments.places.y_m)
            hollow = buffer.fragments.hollow
            assert hollow[near & (raised > 0.015)].mean() > hollow[near & (raised < -0.015)].mean() + 0.01
    assert shaded[1] == 0.0
    assert 0.15 < shaded[0] < 0.8


def test_a_distant_tiled_ground_does_not_flicker() -> None:
    """Two pictures a quarter of a pixel apart differ nowhere by more than 3 of 255."""
    ground = plane(0.0, samples=65, size_m=2000.0)
    board = np.kron(np.indices((2, 2)).sum(0) % 2, np.ones((64, 64))).astype(np.float32)
    level = np.zeros((128, 128, 3), np.float32)
    level[..., 2] = 1.0
    full = np.ones((128, 128), np.float32)
    black_and_white = np.repeat(board[..., None] * 0.9 + 0.02, 3, 2).astype(np.float32)
    one = pyramid.build(pyramid.Maps(black_and_white, level, full * 0.6, board, full), 1.0, 0.03)
    laid = layer("tiles", 0, fit=Fit(tile_m=1.0, relief_m=0.03))
    site = recipe((laid,), ground)
    stand = Stand(bearing_deg=0, tilt_deg=9, distance_m=1100, view_deg=30)
    quarter = 0.25 * 30 / 200
    pictures = []
    for turn in (0.0, quarter):
        stands = site.stands.model_copy(update={"far": stand.model_copy(update={"bearing_deg": turn})})
        taken = Renderer().take(
            terrain(ground), site.model_copy(update={"stands": stands}), {NAMES[0]: one}, View("far", 260, 200)
        )
        pictures.append(taken.pixels.astype(np.int64))
    apart = np.abs(pictures[0] - pictures[1])
    # the ground's own edges move; what lies between them must not
    inner = np.zeros(apart.shape[:2], bool)
    inner[90:190, 60:200] = True
    assert apart[inner].max() <= 3


def test_relief_is_lifted_by_as_much_more_as_the_ground_is_steep() -> None:
    ground = plane(40.0, 90.0, samples=129)
    laid = layer("slab", 0, fit=Fit(tile_m=1.0, relief_m=0.1, relief_mid=0.0))
    at = places.on_ground(terrain(ground).survey, np.array([50.0]), np.array([50.0]), 0.01)
    lifted = standing.lifted(plan.prepare((laid,), {NAMES[0]: flat_set(0.3, height=1.0)}), at)
    assert float(lifted[0]) == pytest.approx(0.1 / math.cos(math.radians(40)), rel=1e-3)


def test_ground_that_changes_beside_an_equal_relief_is_seen() -> None:
    """A heap beside a raised path, the path as it was: nothing of the level ground may be left in the picture."""
    level = plane(0.0, samples=129)
    heights = level.heights_m.copy()
    heights[65, 62] += 0.5  # at the left edge of the picture, away from its middle and from the path
    heaped = Heightfield(heights, level.width_m, level.depth_m)
    points = tuple(PathPoint(east_m=51.5, north_m=north) for north in (0.0, 100.0))
    marks = Marks(paths=(DrawnPath(id="raised", name="Raised", points=points, width_m=1.0, soft_m=0.1),))
    sets, evidence = {NAMES[0]: flat_set(0.3), NAMES[1]: flat_set(0.5, height=1.0)}, Evidence(100, 100, marks=marks)
    laid = (
        layer("plain", 0, fit=Fit(tile_m=1.0, relief_m=0.0)),
        layer(
            "slab",
            1,
            Rule(clauses=(OnPath(path="raised", called="Raised"),)),
            fit=Fit(tile_m=1.0, relief_m=0.1, relief_mid=0.0),
        ),
    )

    def taken(renderer: Renderer, ground: Heightfield) -> NDArray[np.uint8]:
        view = View("near", 130, 180, 1)
        return renderer.take(terrain(ground), recipe(laid, ground), sets, view, evidence=evidence).pixels

    renderer = Renderer()
    before, after = taken(renderer, level), taken(renderer, heaped)
    np.testing.assert_array_equal(after, taken(Renderer(), heaped))
    assert (before != after).any(axis=2).mean() > 0.01
