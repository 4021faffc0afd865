"""Stored sets and the generators: filtering, seams, plausible reflectance."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
import scipy.stats
from scipy import ndimage

from elvatch.core import noise
from elvatch.core.mapping.lookup import look_up
from elvatch.core.parallel import Token, watching
from elvatch.core.refusal import CancelledError, RefusalError
from elvatch.core.run import Run
from elvatch.core.stock import generators, loaded, periodic, pyramid, repetition, seam
from elvatch.core.stock.generators import common
from elvatch.core.stock.pyramid import CHANNELS, HEIGHT, RED, SCALE, SHIFT, SLOPE_RMS, SLOPE_X, SLOPE_Y

SIZE = 32


@pytest.fixture(scope="module")
def bumpy() -> pyramid.Pyramid:
    height = noise.periodic(SIZE, 3, 2) * 0.5 + 0.5
    slope = periodic.slopes(height * 0.05, 1.0 / SIZE)
    normal = np.dstack([-slope[..., 0], -slope[..., 1], np.ones_like(height)])
    normal /= np.linalg.norm(normal, axis=2, keepdims=True)
    colour = np.stack([noise.periodic(SIZE, 4, k) * 0.3 + 0.4 for k in range(3)], axis=2)
    maps = pyramid.Maps(colour, normal.astype(np.float32), height, height, np.ones_like(height))
    return pyramid.build(maps, 1.0, 0.05)


def ask(
    p: pyramid.Pyramid, u: float, v: float, across: float, along: tuple[float, float] = (0, 0), taps: int = 1
) -> np.ndarray:
    out = np.empty(CHANNELS, np.float32)
    look_up(p.texels.ctypes.data, p.size, u, v, across, along[0], along[1], taps, out)
    return out


def test_fine_lookups_are_bilinear_and_wrap(bumpy: pyramid.Pyramid) -> None:
    base = bumpy.texels[: SIZE * SIZE].reshape(SIZE, SIZE, CHANNELS) * SCALE + SHIFT
    rng = np.random.default_rng(1)
    for u, v in rng.uniform(-2, 3, (200, 2)):
        at = [[v * SIZE - 0.5], [u * SIZE - 0.5]]
        wanted = ndimage.map_coordinates(base[..., RED].astype(np.float64), at, order=1, mode="grid-wrap")[0]
        assert ask(bumpy, u, v, 1e-4)[RED] == pytest.approx(wanted, abs=2e-5)


def test_between_two_levels_lies_what_is_between_them(bumpy: pyramid.Pyramid) -> None:
    rng = np.random.default_rng(4)
    for detail in rng.uniform(0.03, 3.97, 120):
        fine, blend = int(detail), detail % 1
        if not 0.03 < blend < 0.97:
            continue  # a level that weighs next to nothing is not looked at
        u, v = rng.uniform(-1, 2, 2)
        wanted = 0.0
        for level, weight in ((fine, 1 - blend), (fine + 1, blend)):
            side, first = SIZE >> level, sum((SIZE >> finer) ** 2 for finer in range(level))
            reds = bumpy.texels[first : first + side * side, RED].reshape(side, side) * SCALE[RED]
            at = [[v * side - 0.5], [u * side - 0.5]]
            wanted += weight * ndimage.map_coordinates(reds.astype(float), at, order=1, mode="grid-wrap")[0]
        assert ask(bumpy, u, v, 2**detail / SIZE)[RED] == pytest.approx(wanted, abs=2e-5)


def test_a_lookup_over_the_whole_tile_gives_its_mean(bumpy: pyramid.Pyramid) -> None:
    base = bumpy.texels[: SIZE * SIZE] * SCALE + SHIFT
    far = ask(bumpy, 0.3, 0.7, 1.0)
    np.testing.assert_allclose(far[:SLOPE_RMS], base[:, :SLOPE_RMS].mean(axis=0), atol=3e-4)
    # the relief that the mean slope lost is kept as its mean square
    assert far[SLOPE_RMS] == pytest.approx(np.sqrt((base[:, SLOPE_RMS] ** 2).mean()), abs=2e-3)


def test_a_stretched_area_is_averaged_along_itself_only(bumpy: pyramid.Pyramid) -> None:
    base = (bumpy.texels[: SIZE * SIZE] * SCALE + SHIFT).reshape(SIZE, SIZE, CHANNELS)
    row = 9
    wanted = base[row, :, RED].mean()
    found = ask(bumpy, 0.5, (row + 0.5) / SIZE, 1 / SIZE, (1.0 - 1 / SIZE, 0.0), taps=SIZE)[RED]
    assert found == pytest.approx(wanted, abs=2e-3)


def test_level_stays_level() -> None:
    level = np.zeros((8, 8, 3), np.float32)
    level[..., 2] = 1
    one = np.ones((8, 8), np.float32)
    flat = pyramid.build(pyramid.Maps(np.full((8, 8, 3), 0.2, np.float32), level, one, one, one), 1.0, 0.1)
    for across in (1e-3, 0.3, 2.0):
        found = ask(flat, 0.21, 0.4, across)
        assert abs(found[SLOPE_X]) < 1e-6
        assert abs(found[SLOPE_Y]) < 1e-6
        assert found[SLOPE_RMS] == 0.0


def test_maps_of_unequal_size_are_refused() -> None:
    one = np.ones((8, 8), np.float32)
    normal = np.zeros((8, 8, 3), np.float32)
    with pytest.raises(RefusalError, match="roughness: found 4 x 4 pixels, expected 8 x 8"):
        pyramid.build(pyramid.Maps(normal, normal, one[:4, :4], one, one), 1.0, 0.1)


@pytest.fixture(scope="module", params=list(generators.GENERATORS))
def made(request: pytest.FixtureRequest) -> tuple[str, common.MadeSet]:
    return request.param, generators.draw(request.param, 256, 3)


def wrap_and_inside(values: np.ndarray, axis: int) -> tuple[float, np.ndarray]:
    """The mean step across the edge, and at each place inside."""
    moved = np.moveaxis(values, axis, 0)
    return float(np.abs(moved[0] - moved[-1]).mean()), np.abs(np.diff(moved, axis=0)).mean(axis=1)


@pytest.mark.parametrize("kind", generators.GENERATORS)
def test_the_edge_of_a_drawing_is_a_place_like_any_other(kind: str) -> None:
    """Asked of the drawing, which is cut afterwards where least happens: nothing may hide behind that."""
    drawn = generators.GENERATORS[kind].draw(common.Wanted(256, 3, generators.check(kind, 256, {}), Run()))
    for values in (drawn.height_m, drawn.colour.mean(axis=2), drawn.roughness):
        for axis in (0, 1):
            across, inside = wrap_and_inside(values, axis)
            assert across <= 1.1 * inside.max()


def test_seams_of_a_made_set_are_told_as_none(made: tuple[str, common.MadeSet]) -> None:
    kept = generators.kept(made[1])
    told = [one.ratio for of in kept for one in seam.measure(loaded.shares(of.values)).values()]
    assert max(told) <= 1.15


def test_occlusion_falls_with_depth(made: tuple[str, common.MadeSet]) -> None:
    """Depth is below what lies within a finger, a hand or a stride, whichever the set's own relief is."""
    height, size = made[1].height, made[1].height.shape[0]
    found = [
        scipy.stats.spearmanr(
            (periodic.blur(height, share * size) - height).ravel(), made[1].occlusion.ravel()
        ).statistic
        for share in (0.005, 0.015, 0.06)
    ]
    assert min(found) < -0.4


def test_a_piece_of_a_set_would_be_told(made: tuple[str, common.MadeSet]) -> None:
    cropped = [one[:200, :170] for one in (made[1].height, made[1].colour.mean(axis=2), made[1].occlusion)]
    found = [wrap_and_inside(values, axis) for axis in (0, 1) for values in cropped]
    assert any(across > 1.1 * inside.max() for across, inside in found)


def test_generated_sets_reflect_as_such_ground_does(made: tuple[str, common.MadeSet]) -> None:
    kind, maps = made
    of = generators.GENERATORS[kind]
    assert of.reflects[0] <= float(maps.colour.mean()) <= of.reflects[1]
    assert of.rough[0] <= float(maps.roughness.mean()) <= of.rough[1]
    assert float(maps.colour.min()) >= 0.0199
    assert float(maps.colour.max()) <= 0.8501
    assert float(maps.roughness.min()) >= 0.05
    assert np.allclose(np.linalg.norm(maps.normal, axis=2), 1, atol=1e-5)


def test_the_normal_map_is_the_heights(made: tuple[str, common.MadeSet]) -> None:
    _, maps = made
    pixel = maps.tile_m / maps.height.shape[0]
    slope = periodic.slopes(maps.height * maps.relief_m, pixel)
    np.testing.assert_allclose(-maps.normal[..., 0] / maps.normal[..., 2], slope[..., 0], rtol=1e-3, atol=1e-4)


def test_the_same_seed_gives_the_same_set() -> None:
    once, again = (generators.stored(generators.draw("wet-silt", 64, 5)) for _ in range(2))
    assert once.content_name == again.content_name
    assert once.content_name != generators.stored(generators.draw("wet-silt", 64, 6)).content_name


def test_blur_keeps_the_mean_and_wraps() -> None:
    spike = np.zeros((32, 32), np.float32)
    spike[0, 0] = 1
    soft = periodic.blur(spike, 2.0)
    assert soft.mean() == pytest.approx(spike.mean(), rel=1e-4)
    np.testing.assert_allclose(soft, ndimage.gaussian_filter(spike, 2.0, mode="wrap", truncate=8), atol=1e-4)


def test_occlusion_of_a_groove() -> None:
    # an endless 45 degree V across one tile: its bottom sees half of the sky in the two directions
    # square to it, all of it along it, and cos^2 of the oblique angle between
    x = np.abs(np.arange(64) - 32) / 64.0
    height = np.tile(x, (64, 1)).astype(np.float32)
    found = periodic.occlusion(height, 1 / 64, 0.45)[10, 32]
    angles = 2 * np.pi * np.arange(8) / 8
    wanted = np.mean(1 / (1 + np.cos(angles) ** 2))
    assert found == pytest.approx(wanted, abs=1e-3)


def test_height_is_used_from_bottom_to_top(made: tuple[str, common.MadeSet]) -> None:
    assert float(made[1].height.min()) == pytest.approx(0.0, abs=1e-5)
    assert float(made[1].height.max()) == pytest.approx(1.0, abs=1e-5)
    assert HEIGHT < CHANNELS


def test_a_drawing_is_cancelled_between_its_bands() -> None:
    token = Token()
    with watching(token):
        noise.periodic(32, 2, 1)
        token.cancel()
        with pytest.raises(CancelledError):
            noise.periodic(32, 2, 1)
    noise.periodic(32, 2, 1)
    with pytest.raises(CancelledError):
        generators.draw("wet-silt", 64, 1, None, Run(token))


def test_the_guide_tells_every_set_with_its_ranges() -> None:
    told = (Path(__file__).parents[2] / "docs/guide/stock.md").read_text()
    for kind, one in generators.GENERATORS.items():
        numbers = ", ".join(f"`{c.name}`" + (f" ({c.unit})" if c.unit in ("cm", "mm") else "") for c in one.controls)
        reflects, rough = (f"{low:.2f} to {high:.2f}" for low, high in (one.reflects, one.rough))
        assert f"| `{kind}` | {one.tile_m:g} m | {reflects} | {rough} | {numbers} |" in told, kind


def test_no_made_set_is_found_to_repeat_from_afar(made: tuple[str, common.MadeSet]) -> None:
    assert repetition.measure(made[1].colour.mean(axis=2), repetition.FAR_PX) < 0.9
