"""Things too small to be shapes: what a ball hides, and that tone stays when shapes become a share of the cover."""

from __future__ import annotations

import math

import numpy as np
import pytest

from elvatch.core.cache import Cache
from elvatch.core.document.light import Light
from elvatch.core.document.recipe import Peg, Recipe, Stand, Stands
from elvatch.core.document.strew import Clusters, Looks, Mixed, Size, Standing, Strew
from elvatch.core.ground.description import FlatSource, Ground
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.picture import shade, strewn
from elvatch.core.picture.picture import Renderer, Setting, View
from elvatch.core.picture.terrain import Terrain, terrain
from elvatch.core.rules.evidence import Evidence
from elvatch.core.strew.field import Field, stocked
from elvatch.core.strew.laid import On
from elvatch.core.thing import crowd, model
from elvatch.core.thing.shapes import sphere
from elvatch.core.thing.solid import Solid, solid, stood
from tests.conftest import NAMES, flat_set, layer

SIZE = 300.0
SETS = {NAMES[0]: flat_set(0.3)}


def test_a_ball_hides_what_its_shadow_covers() -> None:
    places, triangles = sphere(3)
    one = stood(solid(places, triangles, np.full(3, 0.5)), 1.0)
    found = crowd.table([[one]]).sun
    wanted = math.pi * 0.25
    # square to the view; what lies below the plane's rim is cut off by none of it
    np.testing.assert_allclose(found[1:, :, :, crowd.HIDES], wanted, rtol=0.03)
    # seen from where the light comes, all that is hidden from one is from the other
    same = [found[k, k, 0, crowd.BOTH] / found[k, k, 0, crowd.HIDES] for k in range(1, 5)]
    assert min(same) > 0.97
    # a matt ball under a light behind the eye sends two thirds of what a disc facing it would (Lambert)
    full = found[2, 2, 0, crowd.SUN] / found[2, 2, 0, crowd.HIDES]
    assert full == pytest.approx(0.5 * 2 / 3, rel=0.05)
    assert found[2, 2, 3, crowd.SUN] < 0.35 * found[2, 2, 0, crowd.SUN]


def site(what: str, per_100_m2: float, size_m: float, **light: float) -> tuple[Recipe, Field, Terrain]:
    land = terrain(Heightfield(np.zeros((65, 65), np.float32), SIZE, SIZE))
    models = {"thing": model.drawn(what, 3, 3, {})}
    strew = Strew(
        id="strew",
        name="strew",
        kinds=(Mixed(thing="thing"),),
        per_100_m2=per_100_m2,
        size=Size(from_m=size_m * 0.8, to_m=size_m * 1.2, bias=0),
        clusters=Clusters(clustered=0),
        looks=Looks(of_ground=0, foot_m=0, hue=0, brightness=0),
        stands=Standing(sunk_from=0, sunk_to=0, leans=0, tilt_deg=0),
        at_most=5_000_000,
    )
    found = stocked((strew,), models)
    on = On(land.survey, Evidence(SIZE, SIZE), (), lambda id: np.zeros((0, 3)), {})
    field = Field(
        (strew,),
        (strew.model_dump_json(),),
        found,
        on,
        (),
        strew.model_dump_json() + what,
        models,
        what + str(size_m),
    )
    recipe = Recipe(
        ground=Ground(width_m=SIZE, depth_m=SIZE, source=FlatSource(samples=65)),
        layers=(layer("Low", 0),),
        peg=Peg(east_m=150, north_m=150),
        stands=Stands(far=Stand(bearing_deg=20, tilt_deg=28, distance_m=160, view_deg=24)),
        light=Light.model_validate({"beyond": "block"} | light),
    )
    return recipe, field, land


def sent(
    monkeypatch: pytest.MonkeyPatch, given: tuple[Recipe, Field | None, Terrain], view: View, least_px: float
) -> tuple[np.ndarray, int]:
    """What a part of a picture sends to the eye on the mean, and how many things are shapes in it."""
    recipe, field, land = given
    kept: dict[str, np.ndarray] = {}
    plain = shade.shade

    def heard(*asked: object, **named: object) -> np.ndarray:
        kept["sent"], kept["seen"] = plain(*asked, **named), asked[0]  # type: ignore[arg-type, assignment]
        return kept["sent"]

    with monkeypatch.context() as patch:
        patch.setattr(strewn, "LEAST_PX", least_px)
        patch.setattr(strewn, "_assembled", Cache[strewn.DrawnThings](2))
        patch.setattr(shade, "shade", heard)
        setting = Setting(None, field)
        taken = Renderer().take(land, recipe, SETS, view, evidence=Evidence(SIZE, SIZE), setting=setting)
    f = kept["seen"].fragments  # type: ignore[attr-defined]
    down, across = f.pixel // view.width_px / view.height_px, f.pixel % view.width_px / view.width_px
    part = (down > 0.42) & (down < 0.92) & (across > 0.18) & (across < 0.82)
    weight = f.weight[part, None].astype(np.float64)
    return (kept["sent"][part] * weight).sum(axis=0) / weight.sum(), taken.facts.things


@pytest.mark.parametrize(
    ("what", "per_100_m2", "size_m"),
    [
        ("boulder", 45.0, 0.7),
        ("grass-tuft", 90.0, 0.6),
        ("heather", 120.0, 0.8),
        ("fern", 60.0, 0.7),
        ("reed-tuft", 150.0, 0.9),
    ],
)
@pytest.mark.parametrize("sun", [25.0, 55.0])
def test_far_has_one_tone_whether_shapes_or_a_share(
    monkeypatch: pytest.MonkeyPatch, what: str, per_100_m2: float, size_m: float, sun: float
) -> None:
    given = site(what, per_100_m2, size_m, sun_height_deg=sun, sun_bearing_deg=250)
    # one ray for each pixel, four times as fine: where pixels are looked at again only beside what was met, thin
    # things are missed
    shapes, many = sent(monkeypatch, given, View("far", 880, 480, 1), 0.02)
    share, none = sent(monkeypatch, given, View("far", 220, 120, 4), 1e6)
    bare, _ = sent(monkeypatch, (given[0], None, given[2]), View("far", 220, 120, 1), 1e6)
    assert many > 500
    assert none == 0
    assert np.abs(shapes / bare - 1).max() > 0.03, "they are seen at all"
    np.testing.assert_allclose(share, shapes, rtol=0.02)


@pytest.mark.parametrize("what", ["grass-tuft", "reed-tuft", "heather", "fern", "young-birch"])
def test_a_plant_hides_as_much_and_is_no_larger_at_every_level(what: str) -> None:
    levels = model.drawn(what, 5, 1, {}).variants[0]
    hides = [float(crowd.table([[one]]).sun[2, :, :, crowd.HIDES].mean()) for one in levels]
    assert len(levels[0].triangles) > 3 * len(levels[-1].triangles)
    assert min(hides) > 0.7 * max(hides), hides
    for one in levels[1:]:
        assert (one.extent_m < 1.15 * levels[0].extent_m.max()).all()
        np.testing.assert_allclose(mean_colour(one), mean_colour(levels[0]), rtol=0.15, atol=0.01)


def mean_colour(of: Solid) -> np.ndarray:
    """Over its surface."""
    a, b, c = (of.places[of.triangles[:, k]] for k in range(3))
    area = np.linalg.norm(np.cross(b - a, c - a), axis=1)
    return np.average(of.colours[of.triangles].mean(axis=1), axis=0, weights=area)


def test_moving_in_jumps_nowhere(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(strewn, "_assembled", Cache[strewn.DrawnThings](2))
    recipe, field, land = site("heather", 25.0, 0.8, sun_height_deg=35.0, sun_bearing_deg=250)
    renderer, tones, counts = Renderer(), [], []
    for k in range(42):
        far = recipe.stands.far.model_copy(update={"distance_m": 330.0 * 0.955**k})
        nearer = recipe.model_copy(update={"stands": recipe.stands.model_copy(update={"far": far})})
        taken = renderer.take(
            land,
            nearer,
            SETS,
            View("far", 240, 135, 4),
            evidence=Evidence(SIZE, SIZE),
            setting=Setting(None, field),
        )
        tones.append(((taken.pixels[40:120, 40:200] / 255.0) ** 2.2).mean())
        counts.append(taken.facts.things)
    # from a share of the cover alone to shapes alone
    assert counts[0] == 0
    assert counts[-1] > 300
    jumps = np.abs(np.diff(tones) / tones[1:])
    # measured 0.005; 0.04 are allowed
    assert jumps.max() < 0.01, jumps.round(3)
