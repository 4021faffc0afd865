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
from elvatch.core.picture import strewn
from elvatch.core.picture.picture import Renderer, Setting, View
from elvatch.core.picture.terrain import terrain
from elvatch.core.rules.evidence import Evidence
from elvatch.core.strew.field import Field, stocked
from elvatch.core.strew.laid import On
from elvatch.core.thing import crowd, model
from elvatch.core.thing.shapes import sphere
from elvatch.core.thing.solid import solid, stood
from tests.conftest import NAMES, flat_set, layer

SIZE = 300.0
SETS = {NAMES[0]: flat_set(0.3)}


def test_a_ball_hides_what_its_shadow_covers() -> None:
    places, triangles = sphere(3)
    one = stood(solid(places, triangles, np.full(3, 0.5)), 1.0)
    found = crowd.table([[one]])
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


def site(what: str, per_100_m2: float, size_m: float, **light: float) -> tuple[Recipe, Field, object]:
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


@pytest.mark.parametrize(
    ("what", "per_100_m2", "size_m"), [("boulder", 14.0, 0.7), ("grass-tuft", 90.0, 0.6), ("heather", 25.0, 0.8)]
)
@pytest.mark.parametrize("sun", [25.0, 55.0])
def test_far_has_nearly_one_tone_whether_shapes_or_a_share(
    monkeypatch: pytest.MonkeyPatch, what: str, per_100_m2: float, size_m: float, sun: float
) -> None:
    recipe, field, land = site(what, per_100_m2, size_m, sun_height_deg=sun, sun_bearing_deg=250)
    view, tones = View("far", 220, 120, 4), []
    for least in (0.02, 1e6):
        monkeypatch.setattr(strewn, "LEAST_PX", least)
        monkeypatch.setattr(strewn, "_assembled", Cache[strewn.DrawnThings](2))
        taken = Renderer().take(land, recipe, SETS, view, evidence=Evidence(SIZE, SIZE), setting=Setting(None, field))  # type: ignore[arg-type]
        assert (taken.facts.things > 500) == (least < 1)
        part = taken.pixels[50:110, 40:180].astype(np.float64) / 255
        tones.append((part**2.2).mean(axis=(0, 1)))
    bare = Renderer().take(land, recipe, SETS, view, evidence=Evidence(SIZE, SIZE))  # type: ignore[arg-type]
    plain = ((bare.pixels[50:110, 40:180] / 255.0) ** 2.2).mean(axis=(0, 1))
    assert np.abs(tones[0] / plain - 1).max() > 0.03, "they are seen at all"
    # measured 1 to 9 in a hundred, at densities where things hide a third of the ground; 2 are wanted
    np.testing.assert_allclose(tones[1], tones[0], rtol=0.095)


def test_moving_in_jumps_nowhere(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(strewn, "_assembled", Cache[strewn.DrawnThings](2))
    recipe, field, land = site("heather", 25.0, 0.8, sun_height_deg=35.0, sun_bearing_deg=250)
    renderer, tones, counts = Renderer(), [], []
    for k in range(42):
        far = recipe.stands.far.model_copy(update={"distance_m": 330.0 * 0.955**k})
        nearer = recipe.model_copy(update={"stands": recipe.stands.model_copy(update={"far": far})})
        taken = renderer.take(
            land,  # type: ignore[arg-type]
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
