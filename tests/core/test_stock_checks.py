"""Seams, repetition, the green axis and the facts of a set, against maps whose answers are known."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elvatch.core import colour, noise
from elvatch.core.stock import facts, generators, green, loaded, repetition, seam, tone
from elvatch.core.stock.loaded import Loaded
from elvatch.core.stock.mend.seamless import Way, seamless
from tests.core import pictures as p


def photograph(size: int = 420, seed: int = 4) -> Loaded:
    """A square cut out of a material, so that its edges do not meet."""
    made = generators.draw("slate-scree", 512, seed)
    cut = (slice(31, 31 + size), slice(17, 17 + size))
    return Loaded({one.role: one.values[cut] for one in generators.kept(made)}, 2.4, made.relief_m)


def worst(maps: Loaded) -> float:
    return max(one.ratio for values in maps.whole.values() for one in seam.measure(loaded.shares(values)).values())


@pytest.mark.parametrize("way", ["cut", "blend"])
def test_a_photographs_seam_shows_and_is_mended(way: Way) -> None:
    before = photograph()
    assert worst(before) > 3
    after = seamless(before, way)
    assert worst(after) < 1.5
    assert after.tile_m == pytest.approx(before.tile_m * 0.85)
    sizes = {values.shape[0] for values in after.whole.values()}
    assert sizes == {420 - round(0.15 * 420)}, "all maps are cut alike"


def test_the_worst_stretch_of_a_seam_is_where_the_step_is() -> None:
    values = noise.periodic(256, 8, 2) * 0.05 + 0.5
    values[64:80, :24] += np.linspace(0.4, 0, 24)
    found = seam.measure(values.astype(np.float32))["across"]
    assert found.worst_from <= 64 / 256 < found.worst_to
    assert found.worst_ratio > 2 * found.ratio


@given(st.integers(0, 255), st.integers(0, 255))
def test_rolling_a_seamless_map_leaves_its_figure_near_one(right: int, down: int) -> None:
    values = np.roll(p.relief(256, 9), (down, right), (0, 1))
    assert max(one.ratio for one in seam.measure(values).values()) < 1.9


def test_repetition_is_none_for_one_tone_and_all_for_one_blot() -> None:
    plain = np.full((128, 128), 0.3, np.float32)
    assert repetition.measure(plain, repetition.FAR_PX) == 0
    blot = plain.copy()
    blot[30:70, 40:80] = 0.1
    assert repetition.measure(blot, repetition.FAR_PX) > 0.97
    fine = plain + 0.1 * (np.indices((128, 128)).sum(axis=0) % 2).astype(np.float32)
    assert repetition.measure(fine, repetition.FAR_PX) < 0.01, "a fine grain cannot be told from afar"


def test_the_autocorrelation_is_that_of_the_repeated_picture_under_noise() -> None:
    """The measure against its own definition: correlate a repeated, noisy picture with itself one period on."""
    light = 1 + 0.05 * np.sin(2 * np.pi * 3 * np.arange(64) / 64)[None, :] * np.ones((64, 1))
    rng = np.random.default_rng(1)
    wide = np.tile(light, (8, 8)) + rng.normal(0, 0.03, (512, 512))
    one, other = wide[:, :-64] - 1, wide[:, 64:] - 1
    seen = float((one * other).mean() / np.sqrt((one**2).mean() * (other**2).mean()))
    # seen so large that the pixel's own blur does not count
    assert repetition.measure(light.astype(np.float32), 640) == pytest.approx(seen, abs=0.01)


def test_the_green_axis_is_right_both_ways_with_noise_and_eight_bits() -> None:
    rng = np.random.default_rng(5)
    right = 0
    for k in range(100):
        height = noise.periodic(160, int(rng.integers(2, 24)), k, int(rng.integers(1, 6)), rng.uniform(0.3, 0.8))
        normal = p.normal_of(height.astype(np.float32), rng.uniform(0.004, 0.06)) + rng.normal(0, 0.01, (160, 160, 3))
        if k % 2:
            normal[..., 1] = 1 - normal[..., 1]
        found = green.find(loaded.shares(p.whole(normal)))
        right += found.points == ("down" if k % 2 else "up")
    assert right >= 98


def test_a_flat_or_noisy_map_has_no_green_axis() -> None:
    flat = np.broadcast_to(np.array([0.5, 0.5, 1], np.float32), (64, 64, 3))
    assert green.find(flat).points == "cannot tell"
    noisy = flat + np.random.default_rng(1).normal(0, 0.1, (64, 64, 3)).astype(np.float32)
    assert green.find(noisy).points == "cannot tell"


def facts_of(**maps: np.ndarray) -> facts.SetFacts:
    kept = {role: loaded.kept(role, values.astype(np.float32), 16, "").values for role, values in maps.items()}  # type: ignore[arg-type]
    return facts.gather(Loaded(kept, 1.0, 0.1), 64)  # type: ignore[arg-type]


def test_facts_of_maps_that_are_known() -> None:
    linear = np.zeros((64, 64, 3))
    linear[:16], linear[16:] = 0.01, [0.4, 0.3, 0.2]
    tilted = np.zeros((64, 64, 3))
    tilted[...] = [np.sin(np.radians(20)), 0, np.cos(np.radians(20))]
    ramp = np.tile(np.linspace(0.1, 0.6, 64), (64, 1))
    found = facts_of(colour=linear, normal=tilted, roughness=ramp, height=ramp)
    assert found.colour == pytest.approx([0.3025, 0.2275, 0.1525], abs=1e-3)
    assert [found.darker, found.brighter] == pytest.approx([0.25, 0])
    assert found.tilt_deg == pytest.approx(20, abs=0.05)
    assert found.normal_length == pytest.approx(1, abs=1e-3)
    assert [found.rough_low, found.rough_high] == pytest.approx([0.11, 0.59], abs=0.01)
    assert found.height_used == pytest.approx(0.49, abs=0.01)
    texts = " ".join(finding.text for finding in found.findings)
    assert "darker than 0.02" in texts
    assert "no occlusion map" in texts
    assert {finding.mend for finding in found.findings} >= {"seamless", "derive", "invert-roughness"}


def test_a_turned_green_axis_is_a_finding_that_says_how_it_is_mended() -> None:
    normal = p.normal_of(p.relief())
    normal[..., 1] = 1 - normal[..., 1]
    whole = {"normal": p.whole(normal, 16)}
    found = facts.gather(Loaded(whole, 1.0, 0.05), 128)  # type: ignore[arg-type]
    assert [f.mend for f in found.findings if "green" in f.text] == ["turn-green"]


@pytest.mark.parametrize(
    ("srgb", "family"),
    [
        ((0.1, 0.1, 0.1), "dark"),
        ((0.5, 0.5, 0.5), "grey"),
        ((0.9, 0.9, 0.88), "pale"),
        ((0.45, 0.35, 0.25), "brown"),
        ((0.3, 0.4, 0.2), "green"),
        ((0.3, 0.4, 0.6), "blue"),
        ((0.7, 0.2, 0.2), "red"),
        ((0.9, 0.8, 0.4), "yellow"),
    ],
)
def test_colours_belong_to_families(srgb: tuple[float, float, float], family: str) -> None:
    assert tone.of([float(v) for v in colour.to_linear(np.array(srgb, np.float32))]) == family
