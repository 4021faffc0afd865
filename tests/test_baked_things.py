"""Things set by hand among the files of a sheet, and what covers them in textures, read back by other readers."""

from __future__ import annotations

import csv
import io
import json
import subprocess
from pathlib import Path

import cv2
import numpy as np
import OpenEXR
import pygltflib as gltf
import pytest
from PIL import Image
from pxr import Usd, UsdGeom, UsdShade, UsdValidation

from elvatch.app.workshop import Workshop
from elvatch.core.cover import function
from elvatch.core.document.fit import Fit
from elvatch.core.document.layer import Edge, Layer, Look
from elvatch.core.document.recipe import Peg, Recipe
from elvatch.core.document.rule import OnNear, OnThing, Rule
from elvatch.core.document.set_thing import SetThing
from elvatch.core.document.sheet import Sheet
from elvatch.core.document.sheet_entry import ThingsEntry
from elvatch.core.document.strew import Mixed, Strew
from elvatch.core.document.thing import Covering, DrawnThing, Thing
from elvatch.core.ground.description import FlatSource, Ground
from elvatch.core.handoff import job, model_files
from elvatch.core.handoff.dependence import Dependence
from elvatch.core.handoff.own_models import Of
from elvatch.core.rules.joints import RISE
from elvatch.core.thing.solid import Image as ThingImage
from elvatch.core.thing.solid import solid
from elvatch.store.store import Store
from tests import decoded
from tests.conftest import put_set

ROOT = Path(__file__).parents[1]
PX = 256


def site(workshop: Workshop) -> Recipe:
    """A stone that is strewn and set, half of it covered by white from above, one of them turned over."""
    white = put_set(workshop.store, 0.9, "White")
    up = Rule(clauses=(OnThing.model_validate({"of": "up", "upper": 60.0, "soft_upper": 2.0}),))
    layer = Layer(id="white", name="White", set=white, rule=up, look=Look(variation=0), edge=Edge(kind="fade"))
    stone = Thing(
        id="stone", name="Stone", source=DrawnThing(what="rubble-stone", variants=1), cover=Covering(layers=(layer,))
    )
    tuft = Thing(id="tuft", name="Tuft", source=DrawnThing(what="reed-tuft", variants=1))
    one = {"name": "One", "thing": "stone", "size_m": 2.0, "north_m": 20.0, "sunk": 0.1}
    return Recipe(
        ground=Ground(width_m=60, depth_m=40, source=FlatSource(samples=49)),
        peg=Peg(east_m=30, north_m=20),
        things=(stone, tuft),
        strews=(Strew(id="strew", name="Mixed", kinds=(Mixed(thing="stone"), Mixed(thing="tuft")), per_100_m2=1.0),),
        set_things=(
            SetThing.model_validate(one | {"id": "upright", "east_m": 20.0}),
            SetThing.model_validate(one | {"id": "turned", "east_m": 30.0, "roll_deg": 180.0}),
            SetThing.model_validate(one | {"id": "hidden", "east_m": 40.0, "on": False}),
        ),
    )


@pytest.fixture(scope="module")
def files(tmp_path_factory: pytest.TempPathFactory) -> dict[str, Path]:
    """What is written of it; only read."""
    folder = tmp_path_factory.mktemp("baked")
    workshop = Workshop(Store(folder / "data"))
    entry = {
        "kind": "things",
        "id": "things",
        "forms": ["csv", "glb", "usd"],
        "model_forms": ["glb", "usd"],
        "bake_px": PX,
    }
    sheet = Sheet.model_validate({"id": "sheet", "name": "Things", "entries": [entry]})
    recipe = site(workshop).model_copy(update={"sheets": (sheet,)})
    return {path.name: path for path in job.write(sheet, workshop.handoffs.source("Yard", recipe), folder / "out")}


def texture(path: Path, material: int, kind: str) -> np.ndarray:
    """A texture inside a binary glTF, by another reader than ours."""
    document = gltf.GLTF2().load_binary(str(path))
    of = document.materials[material]
    told = {"colour": of.pbrMetallicRoughness.baseColorTexture, "normal": of.normalTexture}[kind]
    view = document.bufferViews[document.images[document.textures[told.index].source].bufferView]
    blob = document.binary_blob()
    with Image.open(io.BytesIO(blob[view.byteOffset : view.byteOffset + view.byteLength])) as image:
        return np.asarray(image).astype(np.float64)


def test_single_things_stand_beside_strewn_ones_each_with_its_own_model(files: dict[str, Path]) -> None:
    with files["yard_things.csv"].open() as text:
        rows = list(csv.DictReader(text))
    by_hand = [row for row in rows if row["strew"] == "Set by hand"]
    assert [(row["thing"], row["variant"], float(row["east_m"])) for row in by_hand] == [
        ("Stone", "1", 20.0),
        ("Stone", "2", 30.0),
    ]
    assert {row["variant"] for row in rows if row["strew"] == "Mixed"} == {"0"}
    assert {"yard_stone_0.glb", "yard_stone_1.glb", "yard_stone_2.glb", "yard_tuft_0.glb"} < set(files)
    told = json.loads(files["hand-off.json"].read_text())
    notes = json.dumps(told)
    assert "laid out anew: it came without texture coordinates" in notes
    assert "px/m of the 24 largest islands" in notes or "px/m of each island" in notes
    assert "leaves and holes keep their own textures" in notes


@pytest.mark.parametrize("name", ["yard_stone_1.glb", "yard_stone_2.glb"])
def test_what_is_baked_is_what_the_validator_takes_it_for(files: dict[str, Path], name: str) -> None:
    found = json.loads(
        subprocess.run(
            ["node", str(ROOT / "tests/validate_gltf.mjs"), str(files[name])],
            capture_output=True,
            check=True,
            text=True,
        ).stdout
    )
    assert (found["numErrors"], found["numWarnings"]) == (0, 0), found


def test_what_faces_up_is_white_whichever_side_that_is(files: dict[str, Path]) -> None:
    for name, up in (("yard_stone_1.glb", 1.0), ("yard_stone_2.glb", -1.0)):
        colour = texture(files[name], 0, "colour")
        beside = decoded.of_file(files[name.replace(".glb", "_colour.png")], cv2.IMREAD_COLOR)[..., ::-1]
        assert np.array_equal(colour[..., :3], beside)
        document = gltf.GLTF2().load_binary(str(files[name]))
        at, normal, uv = (_accessor(document, 0, which) for which in ("POSITION", "NORMAL", "TEXCOORD_0"))
        assert len(at) > 100
        # at each corner, by its own normal (y is up in the file): white on one side, its own grey on the other
        col, row = np.clip((uv * PX).astype(int), 0, PX - 1).T
        light = colour[row, col].mean(axis=1)
        above, below = normal[:, 1] * up > 0.8, normal[:, 1] * up < 0.2
        assert np.median(light[above]) > 230
        assert np.median(light[below]) < 200
    sizes = [texture(files["yard_stone_1.glb"], k, "normal").shape[0] for k in range(2)]
    assert sizes == [PX, PX // 2]


def valid(stage: Usd.Stage) -> Usd.Stage:
    """The same stage, if no validator has a word to say."""
    checks = UsdValidation.ValidationRegistry().GetOrLoadAllValidators()
    errors = UsdValidation.ValidationContext(checks).Validate(stage)
    assert [(one.GetName(), one.GetMessage()) for one in errors] == []
    return stage


def image_of(stage: Usd.Stage, mesh: UsdGeom.Mesh, given: str) -> Path:
    """The file that an input of a mesh's surface is read from, as a renderer finds it."""
    material, _ = UsdShade.MaterialBindingAPI(mesh.GetPrim()).ComputeBoundMaterial()
    surface = material.ComputeSurfaceSource()[0]
    source = UsdShade.Shader(surface.GetInput(given).GetConnectedSource()[0].GetPrim())
    return Path(source.GetInput("file").Get().resolvedPath)


def test_an_openusd_model_has_the_same_corners_and_looks_as_the_glb_at_each_level(files: dict[str, Path]) -> None:
    stage = valid(Usd.Stage.Open(str(files["yard_stone_1.usdc"])))
    levels = stage.GetDefaultPrim().GetVariantSets().GetVariantSet("level")
    document = gltf.GLTF2().load_binary(str(files["yard_stone_1.glb"]))
    assert levels.GetVariantNames() == [f"level{k}" for k in range(len(document.meshes))]
    assert levels.GetVariantSelection() == "level0"
    for k in range(len(document.meshes)):
        levels.SetVariantSelection(f"level{k}")
        mesh = UsdGeom.Mesh(valid(stage).GetPrimAtPath("/thing/mesh"))
        at, uv = np.array(mesh.GetPointsAttr().Get()), np.array(UsdGeom.PrimvarsAPI(mesh).GetPrimvar("st").Get())
        same = _accessor(document, k, "POSITION")
        np.testing.assert_allclose(np.stack([at[:, 0], at[:, 2], -at[:, 1]], 1), same, atol=1e-6)
        np.testing.assert_allclose(
            np.stack([uv[:, 0], 1 - uv[:, 1]], 1), _accessor(document, k, "TEXCOORD_0"), atol=1e-6
        )
        beside = decoded.of_file(image_of(stage, mesh, "diffuseColor"), cv2.IMREAD_COLOR)[..., ::-1]
        assert np.array_equal(beside, texture(files["yard_stone_1.glb"], k, "colour")[..., :3])
        assert image_of(stage, mesh, "normal").exists()
        assert image_of(stage, mesh, "roughness") == image_of(stage, mesh, "metallic")


def test_what_is_not_baked_keeps_the_colours_of_its_corners_in_openusd(files: dict[str, Path]) -> None:
    stage = valid(Usd.Stage.Open(str(files["yard_tuft_0.usdc"])))
    mesh = UsdGeom.Mesh(stage.GetPrimAtPath("/thing/mesh"))
    colours = np.array(UsdGeom.PrimvarsAPI(mesh).GetPrimvar("displayColor").Get())
    assert len(colours) == len(mesh.GetPointsAttr().Get()) > 50
    assert np.ptp(colours) > 0.02


def test_a_leaf_with_holes_keeps_its_texture_beside_an_openusd_model(tmp_path: Path) -> None:
    texels = np.zeros((8, 8, 4), np.uint8)
    texels[..., 1], texels[:, :4, 3] = 200, 255
    square = np.array([[0, 0, 0], [1, 0, 0], [1, 0, 1], [0, 0, 1]], float)
    corners = np.array([[0, 1, 2], [0, 2, 3], [4, 5, 6], [4, 6, 7]])
    bare = solid(np.concatenate([square, square + np.array([0, 1, 0])]), corners, np.full((8, 3), 0.2))
    uv = np.tile(np.array([[0, 1], [1, 1], [1, 0], [0, 0]], np.float32), (2, 1))
    # the first two triangles are a leaf, the others plain
    leaf = bare._replace(uv=uv, image=np.array([0, 0, -1, -1], np.int32), images=(ThingImage(texels),))
    of = Of(Thing(id="leaf", name="Leaf", source=DrawnThing(what="boulder")), (leaf,))
    entry = ThingsEntry.model_validate({"id": "things", "model_forms": ["usd"], "bake_px": PX})
    said = model_files.plain(
        entry, tmp_path, model_files.ModelFiles(None, "leaf.usdc", (), ("leaf.png",)), ("Leaf", 0), of
    )
    assert [one.name for one in said] == ["leaf.usdc", "leaf.png"]
    with Image.open(tmp_path / "leaf.png") as image:
        assert np.array_equal(np.asarray(image), texels)
    stage = valid(Usd.Stage.Open(str(tmp_path / "leaf.usdc")))
    mesh = UsdGeom.Mesh(stage.GetPrimAtPath("/thing/mesh"))
    (subset,) = UsdShade.MaterialBindingAPI(mesh.GetPrim()).GetMaterialBindSubsets()
    assert list(subset.GetIndicesAttr().Get()) == [0, 1]
    material, _ = UsdShade.MaterialBindingAPI(subset.GetPrim()).ComputeBoundMaterial()
    surface = material.ComputeSurfaceSource()[0]
    assert surface.GetInput("opacityThreshold").Get() == 0.5
    source, output, _ = surface.GetInput("opacity").GetConnectedSource()
    assert output == "a"
    assert UsdShade.Shader(source.GetPrim()).GetInput("file").Get().resolvedPath == str(tmp_path / "leaf.png")


def test_the_instancer_stands_on_the_models_own_files(files: dict[str, Path]) -> None:
    stage = valid(Usd.Stage.Open(str(files["yard_things.usdc"])))
    made = UsdGeom.PointInstancer(stage.GetPrimAtPath("/Site/Things"))
    with files["yard_things.csv"].open() as text:
        rows = list(csv.DictReader(text))
    targets = [stage.GetPrimAtPath(path) for path in made.GetPrototypesRel().GetTargets()]
    of = [targets[k].GetName() for k in made.GetProtoIndicesAttr().Get()]
    assert of == [f"{row['thing']}_{row['variant']}" for row in rows]
    # each has its shape and its textures from the file beside it
    for prim in targets:
        (mesh,) = [one for one in Usd.PrimRange(prim) if one.IsA(UsdGeom.Mesh)]
        assert len(UsdGeom.Mesh(mesh).GetPointsAttr().Get()) > 20
    low, high = np.array(made.GetExtentAttr().Get())
    wanted = made.ComputeExtentAtTime(Usd.TimeCode.Default(), Usd.TimeCode.Default())
    np.testing.assert_allclose([low, high], np.array(wanted), atol=5e-3)


def _accessor(document: gltf.GLTF2, mesh: int, which: str) -> np.ndarray:
    number = getattr(document.meshes[mesh].primitives[0].attributes, which)
    of = document.accessors[number]
    view, wide = document.bufferViews[of.bufferView], {"VEC2": 2, "VEC3": 3, "VEC4": 4}[of.type]
    return np.frombuffer(document.binary_blob(), np.float32, of.count * wide, view.byteOffset).reshape(-1, wide)


def test_maps_of_the_ground_hold_what_it_takes_on_of_a_set_thing(workshop: Workshop, tmp_path: Path) -> None:
    """As the fit told beside a picture and the cover asked there have it."""
    dark = put_set(workshop.store, 0.1, "Dark")
    ground = Layer(id="dark", name="Dark", set=dark, look=Look(variation=0), fit=Fit(tile_m=1.0, relief_m=0.0))
    given = {"id": "stone1", "name": "One", "thing": "stone", "size_m": 2.0, "east_m": 3.0, "north_m": 2.0}
    recipe = site(workshop).model_copy(
        update={
            "ground": Ground(width_m=6, depth_m=4, source=FlatSource(samples=33)),
            "peg": Peg(east_m=3, north_m=2),
            "layers": (ground,),
            "strews": (),
            "set_things": (SetThing.model_validate(given | {"joins_m": 0.3}),),
        }
    )
    entries = [
        {
            "kind": "maps",
            "id": of,
            "file": "{site}_{map}",
            "holds": [{"of": of, "range": "found"}],
            "format": "exr",
            "type": "float32",
            "encoding": "Linear Rec.709",
            "longer_px": 300,
        }
        for of in ("colour", "relief")
    ]
    sheet = Sheet.model_validate({"id": "sheet", "name": "Maps", "entries": entries})
    written = job.write(sheet, workshop.handoffs.source("Yard", recipe), tmp_path / "out")
    maps = {path.stem.split("_")[-1]: OpenEXR.File(str(path)).channels() for path in written if path.suffix == ".exr"}
    colour, relief = maps["colour"]["RGB"].pixels, next(iter(maps["relief"].values())).pixels
    away = np.hypot(*np.meshgrid(np.linspace(-3, 3, 300), np.linspace(2, -2, 200)))
    assert colour[..., 0][away > 2.4] == pytest.approx(0.1, abs=0.01)
    assert float(np.abs(relief[away > 2.4]).max()) == 0.0
    # near its foot the stone's own grey, and the climb, at most as high as is told beforehand
    assert (colour[..., 0][away < 1.2] > 0.12).any()
    assert 0.8 * RISE * 0.3 < float(relief.max()) <= RISE * 0.3 + 1e-6
    row, col = np.unravel_index(int(relief.argmax()), relief.shape)
    at = workshop.covers.at(recipe, (col + 0.5) / 50, 4 - (row + 0.5) / 50)
    assert workshop.fits.at(recipe, at).relief_m == pytest.approx(float(relief[row, col]), abs=0.002)
    prepared = workshop.covers.prepared(recipe)
    assert function.ask(prepared, at).colour[0] == pytest.approx(colour[row, col], abs=0.03)
    # moved, it changes these maps and what is told about the peg, but nobody's share; not joined it changes nothing
    aside = SetThing.model_validate(given | {"joins_m": 0.3, "east_m": 1.5})
    moved = recipe.model_copy(update={"set_things": (aside,)})
    sharp = recipe.model_copy(update={"set_things": (aside.model_copy(update={"joins_m": 0.0}),)})
    before, after, without = (Dependence(workshop.handoffs.source("Yard", one)) for one in (recipe, moved, sharp))
    for value in ("colour", "roughness", "normal", "height", "relief"):
        assert len({before.of([value]), after.of([value]), without.of([value])}) == 3, value
    assert before.of(["share"]) == after.of(["share"]) == without.of(["share"])
    highest = [workshop.fits.relief(one, 0.05).highest_m for one in (recipe, moved, sharp)]
    assert highest[0] > 0.8 * RISE * 0.3
    assert highest[2] == 0.0


def test_a_map_depends_on_a_thing_that_a_rule_asks_about(workshop: Workshop) -> None:
    stone = site(workshop)
    near = OnNear(to="thing", target="upright", called="One", upper=1.0)
    layers = tuple(
        Layer(id=id, name=id, set="0" * 40, rule=Rule(clauses=clauses))
        for id, clauses in (("below", ()), ("dust1", (near,)))
    )
    first, *others = (one.model_copy(update={"joins_m": 0.0}) for one in stone.set_things)
    names = [
        Dependence(
            workshop.handoffs.source("Yard", stone.model_copy(update={"layers": layers, "set_things": placed}))
        ).of(["share"])
        for placed in (
            (first, *others),
            (first.model_copy(update={"east_m": 21.0}), *others),
            (first, others[0].model_copy(update={"east_m": 31.0}), *others[1:]),
        )
    ]
    assert names[0] != names[1]
    assert names[0] == names[2]
