"""Mending a set: what is derived undoes what it came from, means stay, and nothing is lost that should not be."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elvatch.core.refusal import RefusalError
from elvatch.core.stock import derive, loaded, repetition, resize
from elvatch.core.stock.loaded import Loaded
from elvatch.core.stock.mend import ask
from elvatch.core.stock.mend.even_light import even_light
from elvatch.core.stock.mend.reduce import reduced
from tests.core import pictures as p


def whole_set(size: int = 128) -> Loaded:
    height = p.relief(size)
    return Loaded(
        {
            "colour": p.whole(p.colours(size)),
            "normal": p.whole(p.normal_of(height), 16),
            "roughness": p.whole(0.6 + 0.2 * height),
            "height": p.whole(height, 16),
        },
        1.0,
        0.05,
    )


@pytest.mark.parametrize("size", [128, 125, 256])
@pytest.mark.parametrize("bits", [8, 16])
def test_height_from_normal_from_height(size: int, bits: int) -> None:
    height = p.relief(size)
    stored = p.whole(p.normal_of(height), bits)
    back, relief_m = derive.height_from_normal(loaded.numbers("normal", stored), 1.0)
    assert np.corrcoef(back.ravel(), height.ravel())[0, 1] > 0.999
    assert relief_m == pytest.approx(0.05, rel=0.02)


def test_a_normal_map_tilts_as_the_slope_of_a_known_wave_does() -> None:
    x = 2 * np.pi * (np.arange(256) + 0.5) / 256
    height = np.tile((0.5 + 0.5 * np.sin(x)).astype(np.float32), (256, 1))
    normal = derive.normal_from_height(height, 2.0, 0.1)
    # h = 0.05 sin(pi x) over 2 m rises by 0.05 pi cos(pi x) a metre
    expected = 0.05 * np.pi * np.cos(x)
    np.testing.assert_allclose(-normal[7, :, 0] / normal[7, :, 2], expected, atol=1e-3)
    assert np.abs(normal[..., 1]).max() < 1e-6


@given(st.floats(0.05, 20), st.floats(0.002, 0.2))
def test_the_relief_is_read_off_a_normal_map_at_any_size(tile_m: float, share: float) -> None:
    height = p.relief(64)
    normal = derive.normal_from_height(height, tile_m, share * tile_m)
    assert derive.relief_between(normal, height, tile_m) == pytest.approx(share * tile_m, rel=0.03)
    piece = slice(9, 50)
    read = derive.relief_between(normal[piece, piece], height[piece, piece], tile_m * 41 / 64)
    assert read == pytest.approx(share * tile_m, rel=0.03)
    assert derive.relief_between(normal, 1 - height, tile_m) is None


def test_evening_the_light_keeps_the_mean_and_takes_the_broad_patches() -> None:
    broad = 1 + 0.4 * np.sin(2 * np.pi * np.arange(128) / 128)
    shaded = (p.colours() * broad[None, :, None]).astype(np.float32)
    evened = even_light(shaded, 1.0, 0.15)
    np.testing.assert_allclose(evened.mean(axis=(0, 1)), shaded.mean(axis=(0, 1)), rtol=1e-3)
    before, after = (repetition.measure(loaded.luminance(one), repetition.FAR_PX) for one in (shaded, evened))
    assert after < before
    columns = loaded.luminance(evened).mean(axis=0)
    assert columns.std() / columns.mean() < 0.25 * 0.4 / np.sqrt(2)


def test_reducing_averages_colour_in_linear_light() -> None:
    checks = (np.indices((64, 64)).sum(axis=0) % 2).astype(np.uint8)[..., None] * np.full(3, 255, np.uint8)
    small = reduced(Loaded({"colour": checks}, 1.0, 0.1), 16)
    # half black and half white is 0.5 linear, which is 188 in sRGB
    assert np.unique(small.whole["colour"]).tolist() == [188]


def test_reducing_turns_lost_relief_into_roughness() -> None:
    maps = whole_set()
    bumpy = Loaded({**maps.whole, "roughness": np.full((128, 128), 102, np.uint8)}, 1.0, 0.05)
    small = reduced(bumpy, 16)
    normal = small.numbers("normal")
    np.testing.assert_allclose(np.linalg.norm(normal, axis=2), 1, atol=1e-4)
    slopes = resize.slopes_of(bumpy.numbers("normal"))
    variance = (slopes**2).sum(axis=2).mean() - (resize.slopes_of(normal) ** 2).sum(axis=2).mean()
    grown = (small.numbers("roughness").astype(float) ** 4).mean() - 0.4**4
    assert variance > 0.01
    assert grown == pytest.approx(variance, rel=0.1)
    flat = np.zeros((128, 128, 3), np.uint16)
    flat[..., :2], flat[..., 2] = 32768, 65535
    even = reduced(Loaded({**bumpy.whole, "normal": flat}, 1.0, 0.05), 16)
    assert np.unique(even.whole["roughness"]).tolist() == [102]


@given(st.integers(9, 200))
def test_resizing_keeps_the_mean_and_goes_round_the_edges(px: int) -> None:
    values = p.relief(128, 6)
    made = resize.resized(values, px)
    assert made.shape == (px, px)
    assert float(made.mean()) == pytest.approx(float(values.mean()), abs=0.012)
    rolled = resize.resized(np.roll(values, 64, 1), px)
    if px % 2 == 0:
        np.testing.assert_allclose(np.roll(made, px // 2, 1), rolled, atol=2e-3)


@pytest.mark.parametrize("role", ["normal", "roughness", "height"])
def test_turning_over_twice_changes_nothing(role: str) -> None:
    maps = whole_set()
    turn = ask.Turn(role=role)  # type: ignore[arg-type]
    once = ask.mend(maps, turn).loaded
    twice = ask.mend(once, turn).loaded
    assert not np.array_equal(once.whole[turn.role], maps.whole[turn.role])
    np.testing.assert_array_equal(twice.whole[turn.role], maps.whole[turn.role])


@pytest.mark.parametrize(
    ("wanted", "role"),
    [
        (ask.Derive(role="normal", source="height"), "normal"),
        (ask.Derive(role="height", source="normal"), "height"),
        (ask.Derive(role="occlusion", source="height"), "occlusion"),
        (ask.Derive(role="roughness", source="colour", dark=0.4, light=0.9), "roughness"),
        (ask.Derive(role="roughness", source="constant", dark=0.55), "roughness"),
    ],
)
def test_derived_maps_are_marked_and_the_rest_is_left_alone(wanted: ask.Derive, role: str) -> None:
    maps = whole_set()
    done = ask.mend(maps, wanted)
    assert done.origin == "derived"
    assert list(done.notes) == [role]
    for other, values in maps.whole.items():
        if other != role:
            assert done.loaded.whole[other] is values
    if role == "roughness":
        low, high = np.percentile(done.loaded.numbers("roughness"), (4, 96))
        assert (low, high) == (
            pytest.approx(wanted.dark, abs=0.01),
            pytest.approx(wanted.light if wanted.source == "colour" else wanted.dark, abs=0.01),
        )


def test_occlusion_is_open_on_top_and_closed_in_a_pit() -> None:
    height = np.full((128, 128), 1.0, np.float32)
    height[60:68, 60:68] = 0.0
    shade = derive.occlusion_from_height(height, 1.0, 0.5)
    assert shade[10, 10] == pytest.approx(1, abs=1e-3)
    assert shade[64, 64] < 0.35


@pytest.mark.parametrize(
    ("wanted", "words"),
    [
        (ask.Derive(role="occlusion", source="height"), "no height map"),
        (ask.Derive(role="normal", source="colour"), "a way that exists"),
        (ask.Reduce(px=4096), "less than it has"),
        (ask.Drop(role="colour"), "another map to be left"),
        (ask.Turn(role="mask"), "no mask map"),
    ],
)
def test_what_a_set_has_not_is_refused_in_words(
    wanted: ask.Derive | ask.Reduce | ask.Drop | ask.Turn, words: str
) -> None:
    with pytest.raises(RefusalError, match=words):
        ask.mend(Loaded({"colour": p.whole(p.colours())}, 1.0, 0.1), wanted)
