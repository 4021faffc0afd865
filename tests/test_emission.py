"""What sends out light: recognised, kept, looked up, shown in stops, hidden by what lies over it, written."""

from __future__ import annotations

import io
import json
from pathlib import Path

import numpy as np
import pygltflib as gltf
import pytest
import trimesh
from numpy.typing import NDArray
from PIL import Image
from pxr import Usd, UsdShade

from elvatch.app.workshop import Workshop
from elvatch.core import colour
from elvatch.core.cover import function, on_thing, plan
from elvatch.core.cover.memory import Memory
from elvatch.core.document import begin_sheet
from elvatch.core.document.fit import Fit
from elvatch.core.document.layer import Edge, Layer, Look
from elvatch.core.document.light import Light
from elvatch.core.document.recipe import Peg, Recipe, Stand, Stands
from elvatch.core.document.set_thing import SetThing
from elvatch.core.document.thing import Covering, DrawnThing, Thing
from elvatch.core.document.wear import Wear
from elvatch.core.formats import png
from elvatch.core.ground import places
from elvatch.core.ground.description import FlatSource, Ground
from elvatch.core.ground.survey import survey
from elvatch.core.handoff import baked_files, model_usd
from elvatch.core.handoff.baked import baked
from elvatch.core.picture.modes import Mode
from elvatch.core.picture.picture import Renderer, Setting, View
from elvatch.core.picture.terrain import terrain
from elvatch.core.refusal import RefusalError
from elvatch.core.rules.evidence import Evidence
from elvatch.core.stock import intake, pyramid, sheet
from elvatch.core.stock.mend.ask import Turn
from elvatch.core.stock.pyramid import Pyramid
from elvatch.core.strew import single
from elvatch.core.strew.field import Field, stocked
from elvatch.core.strew.laid import On
from elvatch.core.thing import model
from tests import decoded
from tests.conftest import NAMES, flat_set, layer, plane
from tests.core import pictures as p
from tests.core.test_flat import of_trimesh
from tests.core.test_wear import evidence_of, wear

GROUND = plane(0, 0)
AT = places.on_grid(survey(GROUND), 32, 32, 0, 32)


def embers() -> Pyramid:
    """Return a set of which the western half is dark and the eastern half shines."""
    side = 64
    upright = np.zeros((side, side, 3), np.float32)
    upright[..., 2] = 1
    one = np.ones((side, side), np.float32)
    glow = np.zeros((side, side, 3), np.float32)
    glow[:, side // 2 :] = (0.8, 0.2, 0.0)
    return pyramid.build(
        pyramid.Maps(one[..., None] * 0.1 * np.ones(3, np.float32), upright, one, one * 0.5, one, emission=glow),
        1.0,
        0.05,
    )


SETS = {name: flat_set(0.1) for name in NAMES} | {NAMES[0]: embers()}


def glowing(ev: float = 0.0, **more: object) -> Layer:
    fit = layer("embers", 0).fit.model_copy(update={"tile_m": 100.0})
    return layer("embers", 0, fit=fit, look=Look(emission_ev=ev, variation=0)).model_copy(update=more)


def sent(layers: tuple[Layer, ...], wears: tuple[Wear, ...] = ()) -> NDArray[np.float32]:
    full = sheet.build(np.full((8, 8), 65535, np.uint16), np.linspace(0, 1, 65536, dtype=np.float32), "full")
    evidence = evidence_of({one.id: full for one in wears})
    return function.ask(plan.prepare(layers, SETS, evidence, wears=wears), AT).emission


@pytest.mark.parametrize("projection", ["above", "triplanar"])
def test_it_is_the_maps_own_times_its_strength_where_the_map_has_it(projection: str) -> None:
    one = glowing(2.0)
    one = one.model_copy(update={"fit": one.fit.model_copy(update={"projection": projection})})
    found = sent((one,)).reshape(32, 32, 3)
    np.testing.assert_allclose(found[:, 18:30], np.broadcast_to([3.2, 0.8, 0.0], (32, 12, 3)), atol=2e-3)
    assert found[:, 2:14].max() == 0
    # where nothing shines nothing is asked, nor where it is switched off
    assert len(sent((layer("plain", 1),))) == 0
    assert len(sent((one.model_copy(update={"look": one.look.model_copy(update={"emits": False})}),))) == 0


def test_what_lies_over_it_hides_it() -> None:
    bare = sent((glowing(),))
    over = layer("snow", 1, edge=Edge(kind="fade"), opacity=0.75)
    np.testing.assert_allclose(sent((glowing(), over)), bare * 0.25, atol=1e-4)
    seen_through = glowing(opacity=0.5, edge=Edge(kind="fade"))
    np.testing.assert_allclose(sent((layer("rock", 1), seen_through)), bare * 0.5, atol=1e-4)
    soot = wear(effects={"colour": {"mode": "replace", "colour": "#101010", "strength": 0.6}})
    np.testing.assert_allclose(sent((glowing(),), (soot,)), bare * 0.4, atol=1e-3)


def test_memory_keeps_it_and_an_edit_of_its_strength_is_seen() -> None:
    memory, evidence = Memory(len(AT.x_m)), Evidence(100.0, 100.0)
    columns = (
        (layer("plain", 1),),
        (layer("plain", 1), glowing(1, opacity=0.5)),
        (layer("plain", 1), glowing(3)),
        (layer("plain", 1), glowing(1, opacity=0.9)),
        (layer("plain", 1),),
    )
    for layers in columns:
        prepared = plan.prepare(layers, SETS, evidence)
        memo = memory.memo(plan.names(layers, prepared, evidence))
        for _ in range(2):
            np.testing.assert_array_equal(function.ask(prepared, AT, memo=memo).emission, sent(layers))


def test_a_set_with_it_is_brought_in_shown_and_handed_off(workshop: Workshop, tmp_path: Path) -> None:

    side = 64
    shining = np.zeros((side, side, 3), np.uint8)
    shining[:, side // 2 :] = (255, 120, 20)
    given = {
        "Lava_Field_BaseColor.png": png.encode(np.full((side, side, 3), 40, np.uint8)),
        "Lava_Field_Emissive.png": png.encode(shining),
    }
    (guess,) = p.propose(given).sets
    assert {f.meaning for f in guess.files} == {"colour", "emission"}
    name = workshop.sets.keep(intake.decide(guess), {path: (lambda d=data: d) for path, data in given.items()}, None)  # type: ignore[misc]
    state = workshop.store.stock.state(name)
    with pytest.raises(RefusalError, match="emission map"):
        workshop.sets.mend(name, state.revision, Turn(role="emission"))

    ground = Ground(width_m=100, depth_m=100, source=FlatSource(samples=65))
    fit, look = Fit(tile_m=100, relief_m=0), Look(emission_ev=1, variation=0)
    one = Layer(id="lava", name="Lava", set=name, fit=fit, look=look)
    sheet = begin_sheet.plain(("colour", "emission"), 64)
    site = Recipe(ground=ground, layers=(one,), peg=Peg(east_m=50, north_m=50))
    assert workshop.covers.facts(site).emits == [True]
    written = workshop.handoffs.bake("lava", site, sheet, tmp_path / "out")
    read = decoded.of_file(written[1])[..., ::-1]
    assert np.abs(read[:, 36:60].astype(int) - (255, 120, 20)).max() <= 1
    assert read[:, 4:28].max() == 0
    told = json.loads(written[-1].read_text())["files"][1]
    assert [(one["low"], one["high"]) for one in told["channels"]] == [(0.0, 2.0)] * 3, "white is a stop above noon"

    # on a picture a stop more adds twice the light, on top of what comes back from sun and sky
    def seen(**look: object) -> NDArray[np.float32]:
        changed = one.model_copy(update={"look": one.look.model_copy(update=look)})
        dark = site.light.model_copy(update={"exposure_ev": -6.0})
        shown = site.model_copy(update={"layers": (changed,), "light": dark})
        renderer, land = Renderer(), workshop.grounds.land(ground)
        pixels = renderer.take(land, shown, workshop.store.stock, View("near", 96, 64, 1, "lit")).pixels
        linear = colour.to_linear(np.asarray(pixels / 255, np.float32))
        return np.asarray(linear[-8:, 60:].mean(axis=(0, 1)))

    none, once, twice = seen(emits=False), seen(emission_ev=0), seen(emission_ev=1)
    added = once - none
    np.testing.assert_allclose(twice - none, 2 * added, rtol=0.15, atol=2e-3)
    assert added[0] > 3 * added[1] > 0


def ball_of_embers() -> tuple[Recipe, Setting]:
    """A ball on dark ground under a sun that is set, all of it covered with what shines on its eastern half."""
    ball = model.model([of_trimesh(trimesh.creation.icosphere(subdivisions=3), 0.1)])
    layer_on_it = glowing().model_copy(update={"id": "onit"})
    thing = Thing(id="ball", name="Ball", source=DrawnThing(what="boulder"), cover=Covering(layers=(layer_on_it,)))
    one = SetThing(id="ball1", name="One", thing="ball", east_m=50, north_m=50, size_m=4.0, sunk=0.0, joins_m=0.0)
    evidence = Evidence(100.0, 100.0)
    lies = On(terrain(GROUND).survey, evidence, (), lambda id: np.zeros((0, 3)), {})
    field = Field((), (), stocked((), {"ball": ball}, (one,), "ball"), lies, (), "ball", {"ball": ball}, "ball")
    recipe = Recipe(
        ground=Ground(width_m=100, depth_m=100, source=FlatSource(samples=65)),
        layers=(layer("Low", 0).model_copy(update={"set": NAMES[1]}),),
        peg=Peg(east_m=50, north_m=50),
        things=(thing,),
        set_things=(one,),
        stands=Stands(far=Stand(bearing_deg=0, tilt_deg=35, distance_m=14, view_deg=40)),
        light=Light(beyond="block"),
    )
    return recipe, Setting(None, field)


def test_what_shines_on_a_thing_is_seen_there_and_shown_alone() -> None:
    recipe, setting = ball_of_embers()
    dark = glowing().look.model_copy(update={"emits": False})
    layers = (recipe.things[0].cover.layers[0].model_copy(update={"look": dark}),)
    cover = recipe.things[0].cover.model_copy(update={"layers": layers})
    put_out = recipe.model_copy(update={"things": (recipe.things[0].model_copy(update={"cover": cover}),)})

    def taken(of: Recipe, mode: Mode) -> NDArray[np.float64]:
        view = View("far", 160, 120, 4, mode)
        picture = Renderer().take(terrain(GROUND), of, SETS, view, evidence=Evidence(100.0, 100.0), setting=setting)
        return picture.pixels.astype(float)

    # what it adds to the picture is warm, and lies where the looking mode shows it alone
    adds = taken(recipe, "lit") - taken(put_out, "lit")
    alone = taken(recipe, "emission")
    shines = alone[..., 0] > 200
    assert 0.005 < shines.mean() < 0.2
    assert adds[shines][:, 0].mean() > 30
    assert adds[shines][:, 0].mean() > 2 * abs(adds[shines][:, 2].mean())
    dark_alone = taken(put_out, "emission")
    assert dark_alone[shines].max() < 12
    # where the mode shows nothing, nothing is added
    assert np.abs(adds[np.abs(alone - dark_alone).max(axis=2) < 2]).mean() < 0.1
    # the other looking modes show the thing's own maps too: the set is as dark there as on ground
    colours = taken(recipe, "colour")[shines]
    grey = 255 * float(colour.to_srgb(np.full(1, 0.1, np.float32))[0])
    np.testing.assert_allclose(colours, grey, atol=3)


def test_what_shines_is_baked_for_both_readers(tmp_path: Path) -> None:
    recipe, setting = ball_of_embers()
    field = setting.field
    assert field is not None
    ready = on_thing.prepare(recipe.things[0].cover, SETS, Evidence(100.0, 100.0))
    stands = single.stood(field.stocked.singles, field.on.survey)
    found = baked(field.models["ball"].variants[0][0], stands, field.on.survey, ready, 128)
    shining = found.glow[..., 0] > 0.4
    assert 0.3 < shining[found.held].mean() < 0.7
    # off the line between both halves, a texel of 1.6 m wide, it is the map's own
    inner = (found.glow[..., 0] > 0.78) & found.held
    assert inner.sum() > 0.5 * (shining & found.held).sum()
    assert np.abs(found.glow[inner] - np.array([0.8, 0.2, 0.0])).max() < 0.02
    baked_files.write_model(tmp_path / "ball.glb", "ball", [found], "tangent")
    document = gltf.GLTF2().load(str(tmp_path / "ball.glb"))
    (material,) = document.materials
    assert material.extensions["KHR_materials_emissive_strength"]["emissiveStrength"] == pytest.approx(0.8, abs=0.02)
    assert document.extensionsUsed == ["KHR_materials_emissive_strength"]
    view = document.bufferViews[document.images[document.textures[material.emissiveTexture.index].source].bufferView]
    data = document.binary_blob()[view.byteOffset : view.byteOffset + view.byteLength]
    texels = colour.to_linear(np.asarray(np.asarray(Image.open(io.BytesIO(data))) / 255, np.float32))
    np.testing.assert_allclose(texels[inner] * 0.8, found.glow[inner], atol=0.02)
    (tmp_path / "glow.png").write_bytes(data)
    model_usd.write_baked(tmp_path / "ball.usdc", [found], [{"colour": "glow.png", "emission": "glow.png"}])
    stage = Usd.Stage.Open(str(tmp_path / "ball.usdc"))
    wired = [
        UsdShade.Shader(prim).GetInput("emissiveColor").GetConnectedSource()[0].GetPrim()
        for prim in stage.Traverse()
        if prim.IsA(UsdShade.Shader) and UsdShade.Shader(prim).GetInput("emissiveColor")
    ]
    assert [round(UsdShade.Shader(one).GetInput("scale").Get()[0], 2) for one in wired] == [0.8]
