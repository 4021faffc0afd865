"""A set's maps as numbers and back, what stands in for those it lacks, and how it looks laid on a plane."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elvatch.core.picture.sample import Samples, SampleView
from elvatch.core.stock import derive, facts, loaded, pyramid
from elvatch.core.stock.loaded import Loaded
from elvatch.core.stock.roles import FACTS, ROLES, Role
from tests.core import pictures as p


@given(st.sampled_from([role for role in ROLES if role != "normal"]), st.sampled_from([8, 16]), st.integers(0, 2**32))
def test_numbers_and_back_are_the_same_codes(role: Role, bits: int, seed: int) -> None:
    most = 2**bits
    shape = (16, 16, 3) if FACTS[role].channels == 3 else (16, 16)
    drawn = np.random.default_rng(seed).integers(0, most, shape)
    codes = drawn.astype(np.uint8) if bits == 8 else drawn.astype(np.uint16)
    back = loaded.whole(role, loaded.numbers(role, codes), bits)
    # sixteen bits of sRGB are finer than a float's linear light near white
    apart = np.abs(back.astype(int) - codes.astype(int)).max()
    assert apart <= (1 if role == "colour" and bits == 16 else 0)


def test_normals_are_made_unit_vectors_and_keep_their_direction() -> None:
    normal = p.normal_of(p.relief(64)) * 2 - 1
    short = loaded.numbers("normal", p.whole(normal * 0.8 * 0.5 + 0.5, 16))
    np.testing.assert_allclose(np.linalg.norm(short, axis=2), 1, atol=1e-5)
    np.testing.assert_allclose(short, normal, atol=1e-3)


def test_a_set_of_one_colour_map_has_plain_stand_ins() -> None:
    maps = loaded.at_size(Loaded({"colour": p.whole(p.colours(64))}, 1.0, 0.1), 32)
    assert np.unique(maps.roughness).tolist() == [pytest.approx(FACTS["roughness"].missing)]
    assert np.unique(maps.occlusion).tolist() == [1.0]
    np.testing.assert_allclose(maps.normal, np.broadcast_to([0, 0, 1], (32, 32, 3)), atol=1e-6)


def test_a_missing_normal_map_is_that_of_the_height() -> None:
    height = p.relief(64)
    maps = loaded.at_size(Loaded({"height": p.whole(height, 16)}, 2.0, 0.1), 64)
    np.testing.assert_allclose(maps.normal, derive.normal_from_height(height, 2.0, 0.1), atol=2e-3)
    assert maps.colour.mean() == pytest.approx(FACTS["colour"].missing)


def test_a_mask_is_shown_as_it_stands() -> None:
    mask = p.relief(64)
    maps = loaded.at_size(Loaded({"mask": p.whole(mask, 16)}, 1.0, 0.1), 64)
    for channel in range(3):
        np.testing.assert_allclose(maps.colour[..., channel], mask, atol=1e-4)


@pytest.mark.parametrize("px", [64, 128, 256])
def test_what_covers_look_up_has_the_means_of_the_maps(px: int) -> None:
    height, colour = p.relief(100), p.colours(100)
    made = loaded.for_lookups(Loaded({"height": p.whole(height, 16), "colour": p.whole(colour, 16)}, 1.5, 0.2), px)
    assert (made.size, made.tile_m, made.relief_m) == (px, 1.5, 0.2)
    linear = loaded.numbers("colour", p.whole(colour, 16)).mean(axis=(0, 1))
    np.testing.assert_allclose(made.mean[: pyramid.BLUE + 1], linear, rtol=0.01)
    assert made.mean[pyramid.HEIGHT] == pytest.approx(float(height.mean()), abs=0.01)


def ridge(tile_m: float = 1.0) -> pyramid.Pyramid:
    """A grey set with one ridge from north to south."""
    x = np.abs((np.arange(64) + 0.5) / 64 - 0.5)
    height = np.tile(np.clip(1 - 4 * x, 0, 1), (64, 1))
    grey = np.full((64, 64, 3), 0.3, np.float32)
    maps: dict[Role, np.ndarray] = {"height": p.whole(height, 16), "colour": loaded.whole("colour", grey, 16)}
    return loaded.for_lookups(Loaded(maps, tile_m, 0.25), 64)


def test_the_side_of_a_ridge_that_faces_the_sun_is_the_bright_one() -> None:
    samples = Samples()
    set_ = ridge()

    def halves(bearing: float) -> tuple[float, float]:
        """Brightness left and right of the ridge, seen from above from the south."""
        view = SampleView(120, 120, 1.0, bearing, 30, bearing_deg=0, tilt_deg=89)
        seen = samples.picture(set_, view).astype(float).mean(axis=2)[40:80]
        return float(seen[:, 44:56].mean()), float(seen[:, 64:76].mean())

    west, east = halves(270)
    assert west > 1.3 * east
    west, east = halves(90)
    assert east > 1.3 * west


def test_the_figure_stands_there_only_when_asked_for_and_tells_sizes_apart() -> None:
    samples = Samples()
    shots = {
        (tile, figure): samples.picture(ridge(tile), SampleView(120, 90, 6.0, figure=figure, looks=1)).astype(int)
        for tile in (0.5, 3.0)
        for figure in (True, False)
    }
    dark = shots[3.0, True].sum(axis=2)[15:60, 50:70].min()
    assert dark < 240, "the figure is darker than ground and sky"
    assert np.abs(shots[0.5, True] - shots[3.0, True]).mean() > 4


@pytest.mark.parametrize("role", ["colour", "normal", "roughness"])
def test_a_large_map_reduced_some_rows_at_a_time_is_the_same_as_at_once(
    role: Role, monkeypatch: pytest.MonkeyPatch
) -> None:
    shape = (512, 512, 3) if FACTS[role].channels == 3 else (512, 512)
    codes = np.random.default_rng(3).integers(0, 256, shape).astype(np.uint8)

    def reduced() -> list[np.ndarray]:
        one = Loaded({role: codes}, 1.0, 0.1)
        return list(one.reduced_normals(96)) if role == "normal" else [one.reduced(role, 96)]

    at_once = reduced()
    monkeypatch.setattr(loaded, "_WHOLE_PX", 64)
    for whole, banded in zip(at_once, reduced(), strict=True):
        np.testing.assert_array_equal(banded, whole)


def test_the_mean_colour_of_a_large_map_is_exact() -> None:
    codes = np.full((4096, 4096, 3), 188, np.uint8)
    found = facts.gather(Loaded({"colour": codes}, 1.0, 0.1), 64).colour
    # IEC 61966-2-1 at 188 of 255; float32 sums over 16 million pixels stop far below it
    assert found == pytest.approx([0.502886] * 3, abs=1e-6)
