"""Projections, repeats and relief against what geometry and statistics say they must be."""

from __future__ import annotations

import functools
import math
from typing import Literal

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray

from elvatch.core.cover import function, plan, stretch
from elvatch.core.cover.material import Material
from elvatch.core.document import recipe as recipes
from elvatch.core.document.fit import Fit, NearDetail, Projection, Repeats
from elvatch.core.document.layer import Look
from elvatch.core.ground import places
from elvatch.core.ground.places import Places
from elvatch.core.ground.survey import survey
from elvatch.core.mapping import surface
from elvatch.core.refusal import RefusalError
from elvatch.core.rules.evidence import Evidence
from elvatch.core.stock import periodic, pyramid
from elvatch.core.stock.pyramid import Pyramid
from tests.conftest import NAMES, flat_set, layer, plane, recipe

PROJECTIONS: tuple[Projection, ...] = ("above", "triplanar", "downhill", "side")


def facing(normals: NDArray[np.float64], across_m: float = 0.01) -> Places:
    """Places of a sphere-like ground: each with its own normal, spread over a few metres."""
    at = places.zeros(len(normals))
    rng = np.random.default_rng(5)
    at.x_m[:], at.y_m[:] = rng.uniform(0, 9, len(normals)), rng.uniform(0, 9, len(normals))
    at.elevation_m[:] = rng.uniform(0, 9, len(normals))
    at.rise_east[:], at.rise_north[:] = -normals[:, 0] / normals[:, 2], -normals[:, 1] / normals[:, 2]
    at.across_m[:], at.sky[:] = across_m, 1.0
    return at


def upper_half(count: int = 4000) -> NDArray[np.float64]:
    vectors = np.random.default_rng(1).normal(size=(count, 3))
    vectors[:, 2] = np.abs(vectors[:, 2]) + 0.02
    unit: NDArray[np.float64] = vectors / np.linalg.norm(vectors, axis=1, keepdims=True)
    return unit


def ask(fit: Fit, one: Pyramid, at: Places, evidence: Evidence | None = None, **look: float) -> Material:
    laid = layer("one", 0, fit=fit, look=Look.model_validate({"variation": 0, **look}))
    return function.ask(plan.prepare((laid,), {NAMES[0]: one}, evidence), at)


def speckled(size: int = 256, seed: int = 3, blur: float = 3.0) -> Pyramid:
    """A set of soft random blotches: gravel to a statistician."""
    rng = np.random.default_rng(seed)
    field = periodic.blur(rng.normal(size=(size, size)).astype(np.float32), blur)
    field = (0.5 + 0.1 * field / field.std()).clip(0.02, 0.98).astype(np.float32)
    level = np.zeros((size, size, 3), np.float32)
    level[..., 2] = 1.0
    full = np.ones((size, size), np.float32)
    return pyramid.build(pyramid.Maps(np.repeat(field[..., None], 3, 2), level, full * 0.6, field, full), 1.0, 0.05)


def waves(slope: float, size: int = 64) -> Pyramid:
    """A set whose surface rises evenly to the right of the texture by ``slope``, wherever one looks."""
    normal = np.zeros((size, size, 3), np.float32)
    normal[..., 0], normal[..., 2] = -slope, 1.0
    normal /= np.linalg.norm(normal, axis=2, keepdims=True)
    full = np.ones((size, size), np.float32)
    return pyramid.build(
        pyramid.Maps(np.full((size, size, 3), 0.4, np.float32), normal, full, full * 0.5, full), 1.0, 0.1
    )


def test_triplanar_on_a_sphere_stretches_nowhere_above_one_and_three_quarters() -> None:
    at = facing(upper_half())
    for edge in (2.0, 8.0, 32.0):
        laid = layer("one", 0, fit=Fit(tile_m=1.0, projection="triplanar", plane_edge=edge))
        found, _ = stretch.of_layer(plan.prepare((laid,), {NAMES[0]: flat_set(0.2)}), 0, at)
        assert found.max() <= 1.75
        assert found.min() >= 0.999


def test_from_above_a_slope_of_60_degrees_is_stretched_twice() -> None:
    at = places.on_ground(survey(plane(60)), np.linspace(20, 80, 50), np.full(50, 50.0), 0.1)
    found, density = stretch.of_layer(plan.prepare((layer("one", 0),), {NAMES[0]: flat_set(0.2, size=8)}), 0, at)
    np.testing.assert_allclose(found, 2.0, rtol=0.01)
    np.testing.assert_allclose(density, 4.0, rtol=0.01)
    downhill = layer("one", 0, fit=Fit(tile_m=1.0, projection="downhill"))
    land = survey(plane(60))
    evidence = Evidence(100, 100, gradient=lambda: land.gradient, lie=lambda: "plane")
    found, _ = stretch.of_layer(plan.prepare((downhill,), {NAMES[0]: flat_set(0.2)}, evidence), 0, at)
    np.testing.assert_allclose(found, 1.0, atol=0.01)


def test_a_checker_seen_through_pixels_is_as_large_as_the_stretch_says() -> None:
    """The stretch told is the one that is seen: squares of 0.5 m, counted along a slope of 60 degrees."""
    board = np.kron(np.indices((2, 2)).sum(0) % 2, np.ones((32, 32))).astype(np.float32)
    level = np.zeros((64, 64, 3), np.float32)
    level[..., 2] = 1.0
    full = np.ones((64, 64), np.float32)
    made = pyramid.build(pyramid.Maps(np.repeat(board[..., None], 3, 2), level, full, full, full), 1.0, 0.1)
    along = np.linspace(0, 40, 8001)  # metres on the surface, uphill
    at = places.on_ground(survey(plane(60)), 10 + along * math.cos(math.radians(60)), np.full(8001, 50.1), 0.002)
    sizes: tuple[tuple[Literal["above", "triplanar"], float], ...] = (
        ("above", 1.0),
        ("triplanar", 0.5 / math.sin(math.radians(60))),
    )
    for projection, size in sizes:
        seen = ask(Fit(tile_m=1.0, projection=projection, plane_edge=64), made, at).colour[:, 0] > 0.5
        edges = along[1:][seen[1:] != seen[:-1]]
        assert np.median(np.diff(edges)) == pytest.approx(size, rel=0.02)


@given(st.sampled_from(PROJECTIONS), st.floats(-180, 180), st.booleans(), st.sampled_from(["none", "shift", "turn"]))
def test_a_flat_set_leaves_the_grounds_own_normal(
    projection: Projection, turn: float, mirror: bool, kind: str
) -> None:
    normals = upper_half(60)
    at = facing(normals)
    repeats = Repeats.model_validate({"kind": kind})
    fit = Fit(tile_m=1.0, relief_m=0.5, projection=projection, turn_deg=turn, mirror=mirror, repeats=repeats)
    found = ask(fit, flat_set(0.3), at)
    np.testing.assert_allclose(surface.normals(at.rise(), found.slope), normals, atol=2e-5)


@pytest.mark.parametrize("mirror", [False, True])
@pytest.mark.parametrize(
    ("normal", "right"),
    [
        ((1, 0, 0.05), (0, 1, 0)),
        ((-1, 0, 0.05), (0, -1, 0)),
        ((0, 1, 0.05), (-1, 0, 0)),
        ((0, -1, 0.05), (1, 0, 0)),
        ((0, 0, 1), (1, 0, 0)),
    ],
)
def test_a_bump_lit_from_one_side_looks_lit_from_that_side(
    normal: tuple[float, float, float], right: tuple[float, float, float], mirror: bool
) -> None:
    """A surface that rises to the right of the texture turns its normal to the left, on every plane and sign."""
    unit = np.array([normal], np.float64) / np.linalg.norm(normal)
    at = facing(unit)
    found = ask(Fit(tile_m=1.0, relief_m=0.1, projection="triplanar", mirror=mirror), waves(0.5), at)
    shown = surface.normals(at.rise(), found.slope)[0]
    toward = np.array(right) * (-1.0 if mirror else 1.0)
    leftward = -float(shown @ toward)
    assert leftward == pytest.approx(0.5 / math.sqrt(1.25), abs=0.03)
    # and by nothing up or down the plane
    assert abs(float(shown @ np.cross(unit[0], toward))) < 0.03


@given(
    st.floats(0.3, 4.0),
    st.floats(0.5, 2.0),
    st.floats(-180, 180),
    st.booleans(),
    st.floats(0.004, 0.3),
    st.floats(0, 60),
)
def test_what_lies_plainly_is_what_any_other_way_would_lay(
    tile: float, aspect: float, turn: float, mirror: bool, across: float, slope: float
) -> None:
    rng = np.random.default_rng(2)
    at = places.on_ground(survey(plane(slope)), rng.uniform(5, 95, 300), rng.uniform(5, 95, 300), across)
    at.along_east_m[100:], at.along_north_m[200:] = 2.5 * across, -across
    fit = Fit(tile_m=tile, tile_down_m=tile * aspect, turn_deg=turn, mirror=mirror, offset_east_m=3.7)
    plainly = ask(fit, speckled(64), at)
    # tiles that drift by a millionth of a millimetre are looked up one after the other
    otherwise = ask(fit, speckled(64), at, variation_offset=1e-9)
    for one, other in zip(plainly, otherwise, strict=True):
        np.testing.assert_allclose(one, other, atol=3e-5)


def test_downhill_runs_follow_the_ground_whichever_way_it_falls() -> None:
    """A set that rises to its right must turn the normal along the contour, never up or down the slope."""
    for bearing in (20.0, 130.0, 265.0):
        land = survey(plane(35, bearing))
        evidence = Evidence(
            100, 100, gradient=functools.partial(getattr, land, "gradient"), lie=functools.partial(str, bearing)
        )
        at = places.on_ground(land, np.linspace(20, 80, 40), np.linspace(30, 70, 40), 0.01)
        found = ask(Fit(tile_m=1.0, relief_m=0.1, projection="downhill"), waves(0.4), at, evidence)
        fall = -at.rise() / np.linalg.norm(at.rise(), axis=1, keepdims=True)
        np.testing.assert_allclose((found.slope * fall).sum(1), 0.0, atol=2e-3)
        # facing uphill, right is a quarter turn clockwise of uphill
        right = np.stack([-fall[:, 1], fall[:, 0]], 1)
        np.testing.assert_allclose((found.slope * right).sum(1), 0.4, rtol=0.02)


def far_picture(one: Pyramid, repeats: Repeats, tiles: int = 24, px: int = 41) -> NDArray[np.float32]:
    """A level ground of ``tiles`` repeats seen from above, ``px`` pixels a repeat."""
    land = survey(plane(0, size_m=float(tiles)))
    at = places.on_grid(land, tiles * px, tiles * px, 0, tiles * px)
    found = ask(Fit(tile_m=1.0, relief_m=0.05, repeats=repeats), one, at)
    return found.colour[:, 0].reshape(tiles * px, tiles * px)


def at_period(picture: NDArray[np.float32], px: int) -> float:
    """Correlation of a picture with itself one tile on, both ways."""
    p = picture - picture.mean()
    return float(((p[:, px:] * p[:, :-px]).mean() + (p[px:] * p[:-px]).mean()) / 2 / p.var())


@pytest.mark.parametrize("kind", ["shift", "turn"])
def test_moved_patches_keep_mean_and_contrast_and_hide_the_tile(kind: str) -> None:
    one = speckled()
    plain = far_picture(one, Repeats())
    moved = far_picture(one, Repeats.model_validate({"kind": kind}))
    assert abs(float(moved.mean() - plain.mean())) < 1 / 255
    assert float(moved.std()) == pytest.approx(float(plain.std()), rel=0.03)
    assert at_period(plain, 41) > 0.95
    assert abs(at_period(moved, 41)) < at_period(plain, 41) / 5
    none = far_picture(one, Repeats.model_validate({"kind": kind, "strength": 0.0}))
    np.testing.assert_array_equal(none, plain)


def orientations(picture: NDArray[np.float32]) -> NDArray[np.float64]:
    down, right = np.gradient(picture)
    counts, _ = np.histogram(np.arctan2(down, right) % np.pi, 12, (0, np.pi), weights=np.hypot(down, right))
    return np.asarray(counts / counts.sum())


def test_shift_keeps_the_direction_of_bedded_rock_and_turn_does_not() -> None:
    size = 256
    rng = np.random.default_rng(2)
    noise = rng.normal(size=(size, size)).astype(np.float32)
    across, down = np.fft.fftfreq(size)[None] * size, np.fft.fftfreq(size)[:, None] * size
    beds = np.fft.ifft2(np.fft.fft2(noise) * np.exp(-((across / 4) ** 2) - (down / 30) ** 2)).real
    field = (0.5 + 0.12 * beds / beds.std()).clip(0.02, 0.98).astype(np.float32)
    level = np.zeros((size, size, 3), np.float32)
    level[..., 2] = 1.0
    full = np.ones((size, size), np.float32)
    one = pyramid.build(pyramid.Maps(np.repeat(field[..., None], 3, 2), level, full, field, full), 1.0, 0.05)
    plain = orientations(far_picture(one, Repeats(), px=83, tiles=12))
    shifted = orientations(far_picture(one, Repeats(kind="shift"), px=83, tiles=12))
    turned = orientations(far_picture(one, Repeats(kind="turn"), px=83, tiles=12))
    assert np.abs(shifted - plain).sum() / 2 < 0.05
    assert np.abs(turned - plain).sum() / 2 > 0.2


def test_a_larger_copy_hides_the_tile_from_afar_and_is_not_there_near() -> None:
    one = speckled(blur=12.0)
    far = far_picture(one, Repeats(kind="second"), tiles=48, px=16)
    plain = far_picture(one, Repeats(), tiles=48, px=16)
    assert at_period(far, 16) < 0.5 * at_period(plain, 16)
    np.testing.assert_array_equal(
        far_picture(one, Repeats(kind="second"), 2, 256), far_picture(one, Repeats(), 2, 256)
    )


@pytest.mark.parametrize("kind", ["none", "shift", "turn", "second"])
def test_far_and_near_agree_in_colour_and_in_how_rough_they_look(kind: str) -> None:
    """An area of 64 m asked texel by texel and as one place: the same mean colour and mean width of the lobe."""
    one = speckled()
    repeats, finer = Repeats.model_validate({"kind": kind}), NearDetail(tile_m=0.2, relief_m=0.002)
    fit = Fit(tile_m=1.0, relief_m=0.05, repeats=repeats, detail=finer)
    laid = layer("one", 0, fit=fit, look=Look(variation=0))
    prepared = plan.prepare((laid,), {NAMES[0]: one})
    near = places.on_grid(survey(plane(0, size_m=64.0)), 2048, 2048, 0, 256)
    far = places.zeros(1)
    far.x_m[:], far.y_m[:], far.across_m[:] = 500.0, 500.0, 1000.0
    close, whole = function.ask(prepared, near), function.ask(prepared, far)
    np.testing.assert_allclose(whole.colour[0], close.colour.mean(axis=0), rtol=0.02)
    # the lobe seen from afar is that of the facets together with how they lie
    alpha2 = close.roughness.astype(np.float64) ** 4
    tilt = (close.slope.astype(np.float64) ** 2).sum(axis=1).mean()
    assert float(whole.roughness[0]) == pytest.approx(float((alpha2.mean() + tilt) ** 0.25), rel=0.02)


def test_near_detail_comes_in_close_and_changes_no_mean() -> None:
    one, fine = flat_set(0.3), speckled(seed=8)
    fit = Fit(tile_m=2.0, relief_m=0.05, detail=NearDetail(set=NAMES[1], tile_m=0.5, strength=1.0, relief_m=0.01))
    prepared = plan.prepare((layer("one", 0, fit=fit),), {NAMES[0]: one, NAMES[1]: fine})
    land = survey(plane(0, size_m=4.0))
    close = function.ask(prepared, places.on_grid(land, 1024, 1024, 0, 1024))
    assert close.colour.std() > 0.03
    assert float(close.colour.mean()) == pytest.approx(0.3, rel=0.01)
    assert np.ptp(close.relief_m) > 0.004
    afar = function.ask(prepared, places.on_grid(land, 64, 64, 0, 64))
    np.testing.assert_allclose(afar.colour, 0.3, rtol=1e-3)


def test_another_set_on_the_steep_planes_is_seen_there_alone_and_lies_as_level() -> None:
    flat, steep = flat_set(0.1, height=0.3), flat_set(0.7, height=0.8)
    fit = Fit(tile_m=1.0, relief_m=0.5, projection="triplanar", steep_set=NAMES[1])
    prepared = plan.prepare((layer("one", 0, fit=fit),), {NAMES[0]: flat, NAMES[1]: steep})
    at = facing(np.array([[0.0, 0.0, 1.0], [0.999, 0.0, 0.0447], [0.0, -0.999, 0.0447]]))
    found = function.ask(prepared, at)
    np.testing.assert_allclose(found.colour[:, 0], [0.1, 0.7, 0.7], atol=1e-3)
    np.testing.assert_allclose(found.relief_m, 0.0, atol=1e-4)


def test_relief_meets_what_lies_below_in_three_ways() -> None:
    stone, plate = flat_set(0.1, height=0.75), flat_set(0.2, height=0.25)
    at = places.on_ground(survey(plane(0)), np.array([50.0]), np.array([50.0]), 0.01)
    low = layer("low", 0, fit=Fit(tile_m=1.0, relief_m=0.2, relief_mid=0.0))

    def stands(meets: str, mid: float | None = None) -> float:
        fit = Fit.model_validate({"tile_m": 1.0, "relief_m": 0.1, "meets": meets, "relief_mid": mid})
        laid = (low, layer("high", 1, fit=fit))
        return float(function.ask(plan.prepare(laid, {NAMES[0]: stone, NAMES[1]: plate}), at).relief_m[0])

    assert stands("levelled", 0.0) == pytest.approx(0.025, abs=1e-5)
    assert stands("on top") == pytest.approx(0.15 + 0.025, abs=1e-5)
    assert stands("cut in") == pytest.approx(0.15 - 0.075, abs=1e-5)


@pytest.mark.parametrize("curve", [-0.7, 0.6])
def test_a_curved_relief_has_the_slopes_of_its_heights(curve: float) -> None:
    size = 512
    x = np.arange(size) * 2 * np.pi / size
    height = np.tile((0.5 + 0.4 * np.sin(x)).astype(np.float32), (size, 1))
    slope = 0.4 * np.cos(x) * 2 * np.pi * 0.1
    normal = np.zeros((size, size, 3), np.float32)
    normal[..., 0], normal[..., 2] = -slope[None], 1.0
    normal /= np.linalg.norm(normal, axis=2, keepdims=True)
    full = np.ones((size, size), np.float32)
    one = pyramid.build(pyramid.Maps(np.full((size, size, 3), 0.3, np.float32), normal, full, height, full), 1.0, 0.1)
    at = places.zeros(2000)
    at.x_m[:], at.y_m[:], at.across_m[:] = np.linspace(0, 2, 2000), 0.5, 0.001
    found = ask(Fit(tile_m=1.0, relief_m=0.1, relief_curve=curve), one, at)
    risen = np.gradient(found.relief_m.astype(np.float64), at.x_m)
    np.testing.assert_allclose(found.slope[5:-5, 0], risen[5:-5], atol=0.012)


@pytest.mark.parametrize(
    ("fit", "words"),
    [
        ({"tile_m": 0}, "greater than or equal to 0.01"),
        ({"tile_m": 1e9}, "less than or equal to 10000"),
        ({"tile_m": 0.5, "relief_m": 0.6}, "must not be larger than the tile"),
        ({"tile_m": 2, "tile_down_m": 0.1, "relief_m": 0.2}, "must not be larger than the tile"),
        ({"detail": {"tile_m": 0.1, "relief_m": 0.2}}, "must not be larger than the tile"),
        ({"repeats": {"kind": "spin"}}, "'none', 'shift', 'turn' or 'second'"),
    ],
)
def test_a_fit_that_cannot_be_is_refused_with_its_reason(fit: dict[str, object], words: str) -> None:
    data = recipe((layer("one", 0),)).model_dump(mode="json")
    data["layers"][0]["fit"] |= fit
    with pytest.raises(RefusalError, match=words):
        recipes.from_data(data)
