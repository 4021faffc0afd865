"""Wear: blend modes, encodings, relief, what follows what, and what must stay as it was."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from elvatch.core import blend
from elvatch.core import colour as colours
from elvatch.core.blend import BlendMode
from elvatch.core.cover import alone, function, plan
from elvatch.core.cover.material import Material
from elvatch.core.cover.memory import Memory
from elvatch.core.document.fit import Fit, Lie, Repeats
from elvatch.core.document.layer import Layer
from elvatch.core.document.marks import DrawnPath, Marks, PathPoint
from elvatch.core.document.recipe import Stand
from elvatch.core.document.rule import OnNoise, Rule
from elvatch.core.document.wear import (
    AlongLevels,
    AlongPath,
    Blend,
    ByRelief,
    Colouring,
    Effects,
    FromStock,
    OverGround,
    ReliefEffect,
    Wear,
)
from elvatch.core.ground import places
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.places import Places
from elvatch.core.ground.survey import survey
from elvatch.core.mapping import surface
from elvatch.core.picture.picture import Renderer, View
from elvatch.core.picture.terrain import terrain
from elvatch.core.rules.evidence import Evidence
from elvatch.core.stock import pyramid, sheet
from elvatch.core.stock.pyramid import Pyramid
from elvatch.core.stock.sheet import OverlaySheet
from elvatch.core.wear import wear_plan
from tests.conftest import NAMES, flat_set, layer, plane, recipe

SETS = {name: flat_set(0.1 * (k + 1), height=0.5) for k, name in enumerate(NAMES)}
STRAIGHT = np.linspace(0, 1, sheet.CODES, dtype=np.float32)


def sheet_of(values: NDArray[np.floating]) -> OverlaySheet:
    return sheet.build(np.rint(values * 65535).astype(np.uint16), STRAIGHT, f"sheet {values.sum():.6f}")


CHECKERS = sheet_of(np.kron(np.indices((2048, 2048)).sum(0) % 2, np.ones((2, 2), np.uint8)).astype(np.float32))
"""4096 pixels of squares of two pixels: nothing finer can be kept."""


def even(value: float) -> OverlaySheet:
    return sheet_of(np.full((16, 16), value))


def wear(id: str = "wear", **parts: object) -> Wear:
    return Wear.model_validate({"id": id, "name": id, "source": FromStock(set="a" * 40)} | parts)


def evidence_of(sheets: dict[str, OverlaySheet], **parts: object) -> Evidence:
    return Evidence(sheet=lambda one: sheets[one.id], **{"width_m": 100.0, "depth_m": 100.0} | parts)  # type: ignore[arg-type]


def grid(ground: Heightfield, px: int = 40) -> Places:
    return places.on_grid(survey(ground), px, px, 0, px)


def asked(
    wears: tuple[Wear, ...],
    sheets: dict[str, OverlaySheet],
    at: Places,
    layers: tuple[Layer, ...] = (layer("base", 2),),
    **parts: object,
) -> Material:
    return function.ask(plan.prepare(layers, SETS, evidence_of(sheets, **parts), wears=wears), at)


# Compositing and Blending Level 1 (W3C 2015), written from its formulas
PUBLISHED: dict[BlendMode, Callable[[NDArray[np.float64], NDArray[np.float64]], NDArray[np.float64]]] = {
    "screen": lambda b, s: b + s - b * s,
    "multiply": lambda b, s: b * s,
    "overlay": lambda b, s: np.where(b <= 0.5, 2 * b * s, 2 * b - 1 + s - (2 * b - 1) * s),
    "add": lambda b, s: np.minimum(b + s, 1),
    "subtract": lambda b, s: np.maximum(b - s, 0),
    "lighten": np.maximum,
    "darken": np.minimum,
    "replace": lambda b, s: s,
}


@pytest.mark.parametrize("mode", list(PUBLISHED))
def test_every_blend_mode_is_its_published_definition(mode: BlendMode) -> None:
    backdrop, source = np.meshgrid(np.linspace(0, 1, 41), np.linspace(0, 1, 41))
    np.testing.assert_allclose(blend.over(mode, backdrop, source), PUBLISHED[mode](backdrop, source), atol=1e-12)


@pytest.mark.parametrize(("mode", "neutral"), [("screen", 0.0), ("overlay", 0.5), ("multiply", 1.0), ("add", 0.0)])
def test_a_neutral_overlay_leaves_roughness_and_colour(mode: BlendMode, neutral: float) -> None:
    at = grid(plane(10, 40))
    before = asked((), {}, at)
    effects = Effects(roughness=Blend(mode=mode, strength=1.0))
    after = asked((wear(effects=effects),), {"wear": even(neutral)}, at)
    assert np.abs(after.roughness - before.roughness).max() < 1e-6 + (1e-5 if neutral == 0.5 else 0)
    if mode == "overlay":
        # half of the code, not of the light, is what leaves a colour alone
        grey = Effects(colour=Colouring(mode="overlay", strength=1.0, colour="#808080"))
        tinted = asked((wear(effects=grey),), {"wear": even(1.0)}, at)
        coded = [colours.to_srgb(one.colour) for one in (before, tinted)]
        assert np.abs(coded[1] - coded[0]).max() < 0.004
        assert np.abs(tinted.colour - before.colour).max() > 1e-4


def test_screened_roughness_is_that_of_the_numbers() -> None:
    at = grid(plane(10, 40))
    before = float(asked((), {}, at).roughness[0])
    value, strength = 0.6, 0.3
    after = asked((wear(effects=Effects(roughness=Blend(strength=strength))),), {"wear": even(value)}, at)
    wanted = before + strength * ((1 - (1 - before) * (1 - value)) - before)
    np.testing.assert_allclose(after.roughness, wanted, atol=2e-5)
    towards = Effects(roughness=Blend(mode="replace", strength=strength, towards=0.1))
    after = asked((wear(effects=towards),), {"wear": even(value)}, at)
    np.testing.assert_allclose(after.roughness, before + strength * value * (0.1 - before), atol=2e-5)


def test_metallic_is_blended_by_its_numbers() -> None:
    at = grid(plane(10, 40))
    before = asked((), {}, at).metallic
    for mode in ("screen", "add", "replace"):
        effects = Effects(metallic=Blend(mode=mode, strength=0.7))
        after = asked((wear(effects=effects),), {"wear": even(0.4)}, at).metallic
        made = PUBLISHED[mode](before.astype(float), np.full(before.shape, 0.4))
        np.testing.assert_allclose(after, before + 0.7 * (made - before), atol=2e-5)
        assert after.min() > 0.2, "it is felt"


def test_colour_is_tinted_multiplied_and_screened_by_their_definitions() -> None:
    at = grid(plane(10, 40))
    before = asked((), {}, at).colour.astype(float)
    code = np.array([0x20, 0x80, 0xC0]) / 255
    light = np.where(code <= 0.04045, code / 12.92, ((code + 0.055) / 1.055) ** 2.4)
    weights = np.array([0.2126, 0.7152, 0.0722])

    def encoded(values: np.ndarray) -> np.ndarray:
        return np.where(values <= 0.0031308, values * 12.92, 1.055 * values ** (1 / 2.4) - 0.055)

    def decoded(values: np.ndarray) -> np.ndarray:
        return np.where(values <= 0.04045, values / 12.92, ((values + 0.055) / 1.055) ** 2.4)

    wanted = {
        # a tint keeps the luminance and takes the colour
        "tint": light * ((before @ weights) / (light @ weights))[:, None],
        "multiply": before * light,
        "screen": decoded(1 - (1 - encoded(before)) * (1 - code)),
        "replace": np.broadcast_to(light, before.shape),
    }
    for mode, made in wanted.items():
        effects = Effects(colour=Colouring(mode=mode, strength=0.5, colour="#2080c0"))  # type: ignore[arg-type]
        after = asked((wear(effects=effects),), {"wear": even(1.0)}, at).colour
        np.testing.assert_allclose(after, before + 0.5 * (np.minimum(made, 1) - before), atol=3e-3, err_msg=mode)
        assert np.abs(after - before).max() > 0.02, mode


ALL_EFFECTS = [
    Effects(roughness=Blend(strength=0.0)),
    Effects(metallic=Blend(strength=0.0)),
    Effects(colour=Colouring(strength=0.0)),
    Effects(relief=ReliefEffect(depth_mm=0.0)),
    Effects(worn_through=0.0),
]


@pytest.mark.parametrize("effects", ALL_EFFECTS)
def test_strength_nought_leaves_every_map_bit_for_bit(effects: Effects) -> None:
    at = grid(plane(10, 40))
    layers = (layer("base", 2), layer("top", 3, Rule(clauses=(OnNoise(size_m=9),))))
    noisy = sheet_of(np.random.default_rng(1).random((64, 64)))
    full = Effects(
        roughness=Blend(strength=1), colour=Colouring(strength=1), relief=ReliefEffect(depth_mm=9), worn_through=1.0
    )
    before = asked((), {}, at, layers)
    for one in (wear(effects=effects), wear(effects=full, strength=0.0), wear(effects=full, on=False)):
        for kept, fresh in zip(before, asked((one,), {"wear": noisy}, at, layers), strict=True):
            np.testing.assert_array_equal(kept, fresh)
    assert np.abs(asked((wear(effects=full),), {"wear": noisy}, at, layers).roughness - before.roughness).max() > 0.05


def groove(side: int) -> NDArray[np.float64]:
    """A V across the middle of a tile: 1 at its bottom, 0 from a quarter of the tile on; runs north and south."""
    away = np.abs((np.arange(side) + 0.5) / side - 0.5)
    return np.tile(np.clip(1 - away / 0.25, 0, 1), (side, 1))


@pytest.mark.parametrize("way", ["carve", "raise"])
def test_a_groove_lowers_and_is_lit_as_a_v(way: str) -> None:
    depth, tile = 0.01, 0.8
    at = grid(Heightfield(np.full((33, 33), 5.0, np.float32), 0.8, 0.8), 64)
    tall = (layer("base", 2, fit=Fit(tile_m=2.0, relief_m=0.02)),)
    effects = Effects(relief=ReliefEffect.model_validate({"way": way, "depth_mm": depth * 1000}))
    before = asked((), {}, at, tall)
    after = asked((wear(effects=effects, lie=Lie(tile_m=tile)),), {"wear": sheet_of(groove(256))}, at, tall)
    sign = -1.0 if way == "carve" else 1.0
    away = np.abs(at.x_m / tile - 0.5)
    np.testing.assert_allclose(
        after.relief_m - before.relief_m, sign * depth * np.clip(1 - away / 0.25, 0, 1), atol=1e-4
    )
    # both walls, away from bottom and rims: a slope of depth over a quarter of the tile
    wall = (away > 0.03) & (away < 0.22)
    steep = sign * depth / (0.25 * tile) * np.where(at.x_m < tile / 2, 1.0, -1.0)
    np.testing.assert_allclose(after.slope[wall, 0], steep[wall], rtol=0.01)
    np.testing.assert_allclose(after.slope[wall, 1], 0.0, atol=1e-4)
    # the sun in the west, 20 degrees high: of a groove the western wall is the darker, of a ridge the eastern
    sun = np.array([-np.cos(np.radians(20)), 0.0, np.sin(np.radians(20))])
    lit = surface.normals(at.rise(), after.slope) @ sun
    west, east = lit[wall & (at.x_m < tile / 2)].mean(), lit[wall & (at.x_m > tile / 2)].mean()
    slope = sign * depth / (0.25 * tile)
    wanted = [(-s * sun[0] + sun[2]) / np.hypot(1, s) for s in (slope, -slope)]
    np.testing.assert_allclose([west, east], wanted, rtol=0.01)
    assert (west < east) == (way == "carve")


def test_detail_is_reoriented_not_averaged() -> None:
    rng = np.random.default_rng(3)
    waves = 0.5 + 0.2 * np.sin((np.arange(128) + 0.5) / 128 * 2 * np.pi)
    bumpy = sheet_of(np.tile(waves, (128, 1)))
    tilted = Heightfield((np.linspace(0, 30, 65)[None] + np.zeros((65, 1))).astype(np.float32), 100.0, 100.0)
    at = places.on_ground(survey(tilted), rng.uniform(5, 95, 400), rng.uniform(5, 95, 400), 0.01)
    tall = (layer("base", 2, fit=Fit(tile_m=2.0, relief_m=0.4)),)
    carve = Effects(relief=ReliefEffect(depth_mm=60))
    base = surface.normals(at.rise(), asked((), {}, at, tall).slope)
    flat = asked((wear(effects=carve),), {"wear": even(0.7)}, at, tall)
    np.testing.assert_allclose(surface.normals(at.rise(), flat.slope), base, atol=1e-4)
    level = grid(Heightfield(np.full((9, 9), 2.0, np.float32), 4.0, 4.0), 32)
    detail = asked((wear(effects=carve, lie=Lie(tile_m=4.0)),), {"wear": bumpy}, level, tall)
    rise = -0.06 * 0.2 * np.cos(level.x_m / 4 * 2 * np.pi) * 2 * np.pi / 4
    wanted = np.stack([-rise, np.zeros_like(rise), np.ones_like(rise)], 1) / np.hypot(1, rise)[:, None]
    np.testing.assert_allclose(surface.normals(level.rise(), detail.slope), wanted, atol=1e-4)


def test_carving_is_limited_to_the_relief_under_it_and_says_why() -> None:
    layers = (layer("base", 2, fit=Fit(tile_m=2.0, relief_m=0.006)),)
    deep = wear(effects=Effects(relief=ReliefEffect(depth_mm=30.0)))
    told = wear_plan.depth_of(deep, 0, layers)
    assert told.given_mm == pytest.approx(6.0)
    assert told.reason is not None
    assert "30 mm is limited to 6 mm, the relief of base" in told.reason
    at = grid(plane(10, 40))
    lowered = asked((), {}, at, layers).relief_m - asked((deep,), {"wear": even(1.0)}, at, layers).relief_m
    np.testing.assert_allclose(lowered, 0.006, atol=1e-6)
    assert wear_plan.depths_m((deep,), layers) == [pytest.approx(-0.006)]


def streaks(side: int) -> NDArray[np.float64]:
    """Straight streaks down the texture, one of a sixteenth of the tile wide."""
    return np.tile((np.arange(side) // (side // 16) % 4 == 0).astype(np.float64), (side, 1))


def test_runs_follow_the_steepest_descent_of_a_tilted_plane() -> None:
    bearing, steep = np.radians(140.0), 0.3
    x, y = np.meshgrid(np.linspace(0, 100, 65), np.linspace(100, 0, 65))
    down = np.array([np.sin(bearing), np.cos(bearing)])
    ground = Heightfield((60 - steep * (x * down[0] + y * down[1])).astype(np.float32), 100.0, 100.0)
    lands = survey(ground)
    runs = wear(lie=Lie(tile_m=4.0, projection="downhill"), effects=Effects(roughness=Blend()))
    prepared = plan.prepare(
        (layer("base", 2),),
        SETS,
        evidence_of({"wear": sheet_of(streaks(256))}, gradient=lambda: lands.gradient),
        wears=(runs,),
    )
    rng = np.random.default_rng(5)
    start = rng.uniform(20, 80, (3000, 2))

    def marks(direction: NDArray[np.float64]) -> NDArray[np.float32]:
        moved = start + 0.35 * direction
        return alone.overlay(prepared, 0, places.on_ground(lands, moved[:, 0], moved[:, 1], 0.01))

    here = marks(np.zeros(2))
    # a step along the fall stays on its streak, a step across leaves it
    assert np.corrcoef(here, marks(down))[0, 1] > 0.97
    assert np.corrcoef(here, marks(np.array([down[1], -down[0]])))[0, 1] < 0.3


def test_rings_follow_a_contour_within_a_cell() -> None:
    side = 129
    x, y = np.meshgrid(np.linspace(-50, 50, side), np.linspace(50, -50, side))
    ground = Heightfield((30 - 0.4 * np.hypot(x, 1.7 * y)).astype(np.float32), 100.0, 100.0)
    profile = np.tile(np.exp(-((((np.arange(256) + 0.5) / 256) - 0.5) ** 2) / 0.002)[:, None], (1, 256))
    ring = wear(follows=AlongLevels(from_m=17.0, spacing_m=4.0, once=True), effects=Effects(roughness=Blend()))
    lands = survey(ground)
    prepared = plan.prepare((layer("base", 2),), SETS, evidence_of({"wear": sheet_of(profile)}), wears=(ring,))
    rng = np.random.default_rng(2)
    at = places.on_ground(lands, rng.uniform(0, 100, 60_000), rng.uniform(0, 100, 60_000), 0.05)
    drawn = alone.overlay(prepared, 0, at)
    on_ring = drawn > 0.9
    assert on_ring.sum() > 150
    # the ring's middle is the contour of 19 m; a cell is 100 / 128 m, over which the ground rises by its slope
    rise = np.hypot(at.rise_east, at.rise_north)[on_ring]
    assert (np.abs(at.elevation_m[on_ring] - 19.0) < rise * 100 / (side - 1)).mean() > 0.99
    assert drawn[np.abs(at.elevation_m - 19.0) > 2.01].max() == 0.0


def test_a_track_keeps_its_width_along_a_curved_path() -> None:
    lands = survey(plane(10, 0))
    angles = np.radians(np.linspace(10, 200, 60))
    points = tuple(PathPoint(east_m=50 + 20 * np.cos(a), north_m=50 + 20 * np.sin(a)) for a in angles)
    lane = DrawnPath(id="lane", name="Lane", points=points, width_m=1.0, wobble_m=0.0)
    across = np.abs((np.arange(256) + 0.5) / 256 - 0.5)
    rut = np.tile((np.abs(across - 0.3) < 0.1).astype(np.float64)[:, None], (1, 256))
    track = wear(
        follows=AlongPath(path="lane", called="Lane", width_m=3.0),
        effects=Effects(relief=ReliefEffect(depth_mm=5)),
    )
    prepared = plan.prepare(
        (layer("base", 2),), SETS, evidence_of({"wear": sheet_of(rut)}, marks=Marks(paths=(lane,))), wears=(track,)
    )
    for angle in np.radians([40, 75, 110, 150, 170]):
        radii = np.linspace(17.5, 22.5, 2001)
        at = places.on_ground(lands, 50 + radii * np.cos(angle), 50 + radii * np.sin(angle), 0.005)
        drawn = alone.overlay(prepared, 0, at) > 0.5
        edges = radii[1:][np.diff(drawn.astype(int)) != 0] - 20.0
        # two ruts of 0.6 m, their middles 1.8 m apart
        np.testing.assert_allclose(edges, [-1.2, -0.6, 0.6, 1.2], atol=0.015)
    lost = track.model_copy(update={"follows": AlongPath(path="gone", called="Old lane")})
    prepared = plan.prepare((layer("base", 2),), SETS, evidence_of({"wear": sheet_of(rut)}), wears=(lost,))


def test_a_wear_lies_at_its_place_and_over_chosen_layers_only() -> None:
    at = grid(plane(10, 40), 60)
    split = Rule(clauses=(OnNoise(size_m=20),))
    layers = (layer("base", 0), layer("low", 1, split), layer("top", 3, Rule(clauses=(OnNoise(size_m=30, seed=9),))))
    darker = Effects(colour=Colouring(mode="replace", strength=1.0, colour="#000000"))
    before = asked((), {}, at, layers)
    under = asked((wear(effects=darker, place="low0000"),), {"wear": even(1.0)}, at, layers)
    top = before.shares[:, 2:]
    np.testing.assert_allclose(under.colour, np.repeat(top * np.float32(0.4), 3, axis=1), atol=2e-3)
    chosen = asked((wear(effects=darker, over=("base0000",)),), {"wear": even(1.0)}, at, layers)
    np.testing.assert_allclose(chosen.colour, before.colour * (1 - before.shares[:, :1]), atol=2e-3)
    gone = asked((wear(effects=darker, over=("nothere",)),), {"wear": even(1.0)}, at, layers)
    np.testing.assert_array_equal(gone.colour, before.colour)


def test_worn_through_shows_the_layer_below_and_only_raised_parts_of_it() -> None:
    at = grid(plane(10, 40), 60)
    layers = (layer("base", 0), layer("low", 1), layer("top", 3))
    half = wear(effects=Effects(worn_through=0.5))
    shares = asked((half,), {"wear": even(1.0)}, at, layers).shares
    np.testing.assert_allclose(shares, [[0.0, 0.5, 0.5]] * len(shares), atol=1e-6)
    both = asked((half.model_copy(update={"over": ("low0000", "top0000")}),), {"wear": even(1.0)}, at, layers).shares
    np.testing.assert_allclose(both, [[0.25, 0.25, 0.5]] * len(both), atol=1e-6)
    # all of this layer stands at the middle of its relief: neither hollow nor raised beyond 0.7
    raised = half.model_copy(update={"by_relief": ByRelief(where="raised", level=0.7, soft=0.1)})
    assert asked((raised,), {"wear": even(1.0)}, at, layers).shares[:, 2].min() == 1.0
    hollows = half.model_copy(update={"by_relief": ByRelief(where="hollows", level=0.7, soft=0.1)})
    np.testing.assert_allclose(asked((hollows,), {"wear": even(1.0)}, at, layers).shares[:, 2], 0.5, atol=1e-6)


def cracked(side: int = 256) -> Pyramid:
    """Flat plates with narrow cracks between them: a seventh of the area lies deep."""
    across = np.abs(np.arange(side) % 32 - 16)
    deep = np.minimum(across[:, None], across[None, :]) < 1.2
    height = np.clip(0.8 - 0.7 * deep + 0.1 * np.random.default_rng(4).random((side, side)), 0, 1).astype(np.float32)
    normal = np.zeros((side, side, 3), np.float32)
    normal[..., 2] = 1.0
    full = np.ones((side, side), np.float32)
    maps = pyramid.Maps(np.full((side, side, 3), 0.2, np.float32), normal, full * 0.5, height, full)
    return pyramid.build(maps, 1.0, 0.1)


@pytest.mark.parametrize(("where", "least"), [("hollows", 0.1), ("raised", 0.5)])
@pytest.mark.parametrize("curve", [0.0, 0.6])
def test_wear_limited_by_relief_covers_as_much_from_afar_as_from_near(where: str, least: float, curve: float) -> None:
    """However large the area that a look takes in, what it sees of the wear is the mean of what is there."""
    sets = {NAMES[0]: cracked()}
    low = layer("mud", 0, fit=Fit(tile_m=1.0, relief_m=0.1, relief_curve=curve))
    dull = Effects(roughness=Blend(mode="replace", strength=1.0, towards=1.0))
    way = ByRelief.model_validate({"where": where, "level": 0.4 if where == "hollows" else 0.55, "soft": 0.15})
    one = wear(effects=dull, by_relief=way)
    prepared = plan.prepare((low,), sets, evidence_of({"wear": even(1.0)}), wears=(one,))
    bare = plan.prepare((low,), sets, evidence_of({}))
    found, ground = [], survey(plane(0))
    for texels in (1, 2, 4, 8, 16, 64, 256, 2048):
        size = texels / 256
        across = max(24, 256 // texels)
        steps = np.arange(0.5, across) / across
        x, y = np.meshgrid(40.0 + steps, 40.0 + steps)
        at = places.on_ground(ground, x.ravel(), y.ravel(), size)
        before, after = (function.ask(of, at) for of in (bare, prepared))
        found.append(float((after.roughness - before.roughness).mean() / (1 - before.roughness.mean())))
        alone_there = alone.mask(prepared, 0, at, after)
        np.testing.assert_allclose(alone_there.mean(), found[-1], atol=0.01)
    assert found[0] > least
    np.testing.assert_allclose(found[-2:], found[0], atol=0.012)
    np.testing.assert_allclose(found, found[0], atol=0.05)


@pytest.mark.parametrize("tile_m", [0.5, 7.0, 90.0, 1200.0])
@pytest.mark.parametrize("kind", ["none", "turn"])
def test_a_large_overlay_does_not_flicker_at_far(tile_m: float, kind: str) -> None:
    """Far pictures of a board of 4096 pixels a quarter of a pixel apart differ nowhere by more than 3 of 255."""
    land = terrain(plane(0.0, samples=65, size_m=1200.0))
    worn = wear(
        lie=Lie(tile_m=tile_m, repeats=Repeats.model_validate({"kind": kind})),
        effects=Effects(
            colour=Colouring(mode="replace", strength=1.0, colour="#000000"),
            relief=ReliefEffect(depth_mm=2.0),
            roughness=Blend(mode="replace", strength=1.0),
        ),
    )
    site = recipe((layer("base", 3),), land.ground).model_copy(update={"wears": (worn,)})
    stand = Stand(bearing_deg=0, tilt_deg=12, distance_m=1190, view_deg=30)
    pictures = []
    for turn in (0.0, 0.25 * 30 / 200):
        stands = site.stands.model_copy(update={"far": stand.model_copy(update={"bearing_deg": turn})})
        view = site.model_copy(update={"stands": stands})
        taken = Renderer().take(land, view, SETS, View("far", 260, 200), evidence=evidence_of({"wear": CHECKERS}))
        pictures.append(taken.pixels.astype(np.int64))
    inner = np.zeros((200, 260), bool)
    inner[92:150, 80:180] = True
    assert np.abs(pictures[0] - pictures[1]).max(axis=2)[inner].max() <= 3
    # it is there: between the base alone and all black
    assert 40 < pictures[0][inner].mean() < 200


some_effects = st.builds(
    Effects,
    roughness=st.none() | st.builds(Blend, mode=st.sampled_from(list(PUBLISHED)), strength=st.floats(0, 1)),
    colour=st.none() | st.builds(Colouring, mode=st.sampled_from(list(blend.TINTINGS)), strength=st.floats(0, 1)),
    relief=st.none() | st.builds(ReliefEffect, way=st.sampled_from(["carve", "raise"]), depth_mm=st.floats(0, 5)),
    worn_through=st.none() | st.floats(0, 1),
)
some_wear = st.builds(
    Wear,
    id=st.sampled_from(["wear", "more"]),
    name=st.just("wear"),
    source=st.just(FromStock(set="a" * 40)),
    effects=some_effects,
    strength=st.floats(0, 1),
    place=st.sampled_from([None, "base0000", "top0000"]),
    over=st.sampled_from([(), ("base0000",), ("top0000",)]),
    follows=st.sampled_from([OverGround(), AlongLevels(spacing_m=7.0)]),
    lie=st.builds(
        Lie,
        tile_m=st.floats(0.5, 9),
        projection=st.sampled_from(["above", "triplanar", "downhill"]),
        repeats=st.builds(Repeats, kind=st.sampled_from(["none", "shift", "turn", "second"])),
    ),
    by_relief=st.builds(ByRelief, where=st.sampled_from(["everywhere", "hollows", "raised"])),
    rule=st.sampled_from([Rule(), Rule(clauses=(OnNoise(size_m=11),))]),
)


@given(st.lists(st.lists(some_wear, max_size=2, unique_by=lambda one: one.id), min_size=2, max_size=4))
@settings(max_examples=25)
def test_after_any_edits_of_wear_the_answer_is_that_of_a_cold_start(edits: list[list[Wear]]) -> None:
    at = grid(plane(30, 70))
    noisy = sheet_of(np.random.default_rng(1).random((32, 32)))
    evidence = evidence_of({"wear": noisy, "more": even(0.4)})
    layers = (layer("base", 2), layer("top", 3, Rule(clauses=(OnNoise(size_m=9),))))
    memory = Memory(len(at.x_m))
    for wears in edits:
        prepared = plan.prepare(layers, SETS, evidence, wears=tuple(wears))
        memo = memory.memo(plan.names(layers, prepared, evidence))
        found = function.ask(prepared, at, memo=memo)
        for kept, fresh in zip(found, function.ask(prepared, at), strict=True):
            np.testing.assert_array_equal(kept, fresh)
        np.testing.assert_allclose(found.shares.sum(axis=1), 1, atol=1e-5)
        assert all(np.isfinite(one).all() for one in found)
