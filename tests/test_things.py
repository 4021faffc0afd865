"""Things from outside and out again: models of every format, hostile ones, kept things; tables, scenes, densities."""

from __future__ import annotations

import csv
import io
import json
import subprocess
import time
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import trimesh
from flask.testing import FlaskClient
from PIL import Image
from pxr import Usd, UsdGeom
from scipy.spatial.transform import Rotation

from elvatch.app.workshop import Workshop
from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.document.layer import Layer
from elvatch.core.document.recipe import Peg, Recipe
from elvatch.core.document.rule import OnNear, OnThing, Rule
from elvatch.core.document.set_thing import SetThing
from elvatch.core.document.sheet import Sheet
from elvatch.core.document.strew import Mixed, Strew
from elvatch.core.document.thing import Covering, DrawnThing, Thing
from elvatch.core.document.wear import Effects, Made, Range, Wear
from elvatch.core.ground.description import FlatSource, Ground
from elvatch.core.handoff import instances
from elvatch.core.refusal import RefusalError
from elvatch.core.stock.generators import GENERATORS
from elvatch.core.strew import field
from elvatch.core.strew.laid import Laid
from elvatch.core.thing import brought
from elvatch.demo import apron, dam_face, scenario, vellin_ground
from elvatch.demo import things as demo_things
from elvatch.store.shelf import Shelf
from elvatch.web.app import create_app
from tests import decoded
from tests.conftest import put_set

ROOT = Path(__file__).parents[1]


@pytest.fixture
def client(workshop: Workshop) -> FlaskClient:
    return create_app(workshop).test_client()


def box(size: tuple[float, float, float] = (2.0, 1.0, 0.5)) -> trimesh.Trimesh:
    found: trimesh.Trimesh = trimesh.creation.box(size)
    return found


def textured(tmp_path: Path) -> bytes:
    picture = Image.fromarray(np.full((8, 8, 4), (200, 40, 40, 255), np.uint8))
    mesh = box()
    uv = np.random.default_rng(1).random((len(mesh.vertices), 2))
    material = trimesh.visual.material.PBRMaterial(baseColorTexture=picture, roughnessFactor=0.3)
    mesh.visual = trimesh.visual.TextureVisuals(uv=uv, material=material)
    scene = trimesh.Scene(mesh)
    # a mirrored part: its triangles must still face outwards
    mirrored = np.diag([-1.0, 1.0, 1.0, 1.0])
    mirrored[0, 3] = 5.0
    scene.add_geometry(box((0.5, 0.5, 0.5)), transform=mirrored)
    return bytes(scene.export(file_type="glb"))


def outward(places: np.ndarray[Any, Any], triangles: np.ndarray[Any, Any]) -> float:
    a, b, c = (places[triangles[:, k]].astype(np.float64) for k in range(3))
    return float((np.cross(b - a, c - a) * a).sum())


@pytest.mark.parametrize("form", ["glb", "obj", "ply", "stl"])
def test_models_of_every_format_stand_upright(workshop: Workshop, form: str, tmp_path: Path) -> None:
    data = textured(tmp_path) if form == "glb" else box().export(file_type=form)
    data = data.encode() if isinstance(data, str) else bytes(data)
    found = workshop.things.bring(f"rock.{form}", data, None, None if form == "glb" else "m", "a" * 8)
    solid = workshop.strews.model(found.thing).variants[0][0]
    assert solid.extent_m.max() == pytest.approx(1.0, abs=1e-5)
    assert solid.places[:, 2].min() == pytest.approx(0, abs=1e-6)
    assert outward(solid.places - solid.places.mean(axis=0), solid.triangles) > 0
    if form == "glb":
        assert (found.told_up, found.told_unit) == (True, True)
        assert found.longest_m == pytest.approx(6.25, rel=1e-4)
        assert len(solid.images) == 1
        assert solid.images[0].texels[0, 0].tolist() == [200, 40, 40, 255]
        # y was up there
        assert solid.extent_m[2] * found.longest_m == pytest.approx(1.0, rel=1e-4)
    else:
        assert found.longest_m == pytest.approx(2.0)
        half = workshop.things.bring(f"rock.{form}", data, "z", "cm", "b" * 8)
        assert half.longest_m == pytest.approx(0.02)


def test_an_obj_comes_with_its_material_in_a_zip(workshop: Workshop) -> None:
    out = io.BytesIO()
    picture = io.BytesIO()
    Image.fromarray(np.full((4, 4, 3), 90, np.uint8)).save(picture, "PNG")
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr(
            "stone/stone.obj",
            "mtllib stone.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1\nusemtl rock\nf 1/1 2/2 3/3\n",
        )
        archive.writestr("stone/stone.mtl", "newmtl rock\nmap_Kd ../../../etc/rock.png\n")
        archive.writestr("stone/rock.png", picture.getvalue())
    found = workshop.things.bring("stone.zip", out.getvalue(), "z", "m", "a" * 8)
    assert len(workshop.strews.model(found.thing).variants[0][0].images) == 1


def hostile(kind: str) -> tuple[str, bytes]:
    out = io.BytesIO()
    if kind == "nan":
        return "a.obj", b"v nan 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n"
    if kind == "flat":
        return "a.obj", b"v 0 0 0\nv 1 0 0\nv 2 0 0\nf 1 2 3\n"
    if kind == "empty":
        return "a.obj", b"v 0 0 0\nv 1 0 0\n"
    if kind == "torn":
        return "a.glb", bytes(trimesh.Scene(box()).export(file_type="glb"))[:-200]
    if kind == "noise":
        return "a.stl", np.random.default_rng(3).bytes(4000)
    if kind == "other":
        return "a.exe", b"MZ" + bytes(200)
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        if kind == "outside":
            archive.writestr("../../rock.obj", "v 0 0 0\n")
        elif kind == "bomb":
            archive.writestr("rock.obj", b"\n" * (400 << 20))
        else:
            archive.writestr("one.obj", "v 0 0 0\n")
            archive.writestr("two.obj", "v 0 0 0\n")
    return "a.zip", out.getvalue()


@pytest.mark.parametrize("kind", ["nan", "flat", "empty", "torn", "noise", "other", "outside", "bomb", "two"])
def test_hostile_models_are_refused_in_one_sentence_and_nothing_is_kept(workshop: Workshop, kind: str) -> None:
    files = workshop.store.folder / "files"
    before = sum(1 for _ in files.rglob("*"))
    with pytest.raises(RefusalError) as refused:
        workshop.things.bring(*hostile(kind), None, "m", "a" * 8)
    said = str(refused.value)
    assert ": found " in said
    assert said.count("\n") == 0
    assert sum(1 for _ in files.rglob("*")) == before
    assert workshop.things.all() == []


def test_a_model_of_many_triangles_is_reduced_and_told(workshop: Workshop) -> None:
    fine = trimesh.creation.icosphere(subdivisions=7)
    assert len(fine.faces) == 327_680
    found = workshop.things.bring("ball.stl", bytes(fine.export(file_type="stl")), "z", "m", "a" * 8)
    assert found.kept_triangles <= 200_000
    assert any("327,680" in note for note in found.notes)
    levels = workshop.strews.model(found.thing).variants[0]
    assert [len(one.triangles) for one in levels][2] < 20_000
    coarse = levels[2].places
    radius = np.linalg.norm(coarse - (coarse.min(axis=0) + coarse.max(axis=0)) / 2, axis=1)
    assert radius.std() / radius.mean() < 0.02, "it is still a ball"


def test_what_is_kept_comes_back_bit_for_bit(workshop: Workshop, tmp_path: Path) -> None:
    found = workshop.things.bring("rock.glb", textured(tmp_path), None, None, "a" * 8)
    line = workshop.things.keep(found.thing)
    assert [one.id for one in workshop.things.all()] == [line.id]
    workshop.store.files.collect()
    source = found.thing.source
    assert source.kind == "brought"
    data = workshop.store.files.get(source.file)
    again = brought.unpacked(brought.packed(brought.unpacked(data)))
    np.testing.assert_array_equal(again.places, brought.unpacked(data).places)
    workshop.things.forget(line.id)
    assert workshop.things.all() == []


@pytest.mark.parametrize("harm", ["short", "index", "type", "nan", "no zip", "image"])
def test_a_kept_model_that_came_damaged_is_refused(workshop: Workshop, tmp_path: Path, harm: str) -> None:
    found = workshop.things.bring("rock.glb", textured(tmp_path), None, None, "a" * 8)
    assert found.textures == 1
    assert found.thing.source.kind == "brought"
    good = brought.unpacked(workshop.store.files.get(found.thing.source.file))
    bad = {
        "short": good._replace(normals=good.normals[:-1]),
        "index": good._replace(triangles=good.triangles + 1),
        "type": good._replace(uv=good.uv.astype(np.float64)),
        "nan": good._replace(places=good.places * np.float32(np.nan)),
        "image": good._replace(image=good.image + 1),
    }
    with pytest.raises(RefusalError, match="damaged"):
        brought.unpacked(b"nothing" if harm == "no zip" else brought.packed(bad[harm]))
    with pytest.raises(RefusalError, match="texture"):
        workshop.things.texture(found.thing.source.file, 1)
    with Image.open(io.BytesIO(workshop.things.texture(found.thing.source.file, 0))) as picture:
        assert picture.getpixel((0, 0)) == (200, 40, 40)


def strewn_site() -> Recipe:
    stone = Thing(id="stone", name="Boulder", source=DrawnThing(what="boulder", variants=2))
    post = Thing(id="post", name="Fence post", source=DrawnThing(what="fence-post", variants=1))
    return Recipe(
        ground=Ground(width_m=80, depth_m=60, source=FlatSource(samples=49)),
        peg=Peg(east_m=40, north_m=30),
        things=(stone, post),
        strews=(
            Strew(id="stones", name="Stones", kinds=(Mixed(thing="stone"),), per_100_m2=4.0),
            Strew(id="posts", name="Posts", kinds=(Mixed(thing="post"), Mixed(thing="stone")), per_100_m2=1.0),
        ),
    )


def test_what_lies_is_kept_on_disk_and_made_anew_where_it_is_damaged(
    workshop: Workshop, monkeypatch: pytest.MonkeyPatch
) -> None:
    recipe = strewn_site()

    def lies(rests: bool = True) -> list[Laid]:
        # as in another process: nothing is at hand
        monkeypatch.setattr(field, "_laid", Cache(64))
        found = Workshop(workshop.store).strews.field(recipe, workshop.covers.evidence(recipe), rests=rests)
        return [found.whole(0), found.lies(1, (0, 0))]

    def alike(one: list[Laid], other: list[Laid]) -> None:
        for laid, found in zip(one, other, strict=True):
            assert len(laid.number) > 0
            for name, values in laid._asdict().items():
                np.testing.assert_array_equal(values, getattr(found, name))

    folder = workshop.store.folder / "strewn"
    first = lies(rests=False)
    assert not folder.exists(), "nothing is written under a moving hand"
    lies()
    until_kept = time.monotonic() + 20
    while not folder.exists() or len([one for one in folder.iterdir() if one.suffix == Shelf.ENDING]) < 2:
        assert time.monotonic() < until_kept
        time.sleep(0.01)
    with monkeypatch.context() as without:
        without.setattr(field, "laid", lambda *_: pytest.fail("laid again"))
        alike(first, lies())
    kept = sorted(folder.iterdir())
    assert len(kept) == 2
    kept[0].write_bytes(kept[0].read_bytes()[:-3] + b"xyz")
    alike(first, lies())


def handed_off(workshop: Workshop, tmp_path: Path, **more: object) -> dict[str, Path]:
    entry = {"kind": "things", "id": "things", "forms": ["csv", "json", "glb", "usd"]} | more
    sheet = Sheet.model_validate({"id": "sheet", "name": "Things", "entries": [entry]})
    recipe = strewn_site().model_copy(update={"sheets": (sheet,)})
    from elvatch.core.handoff import job

    return {path.name: path for path in job.write(sheet, workshop.handoffs.source("Yard", recipe), tmp_path / "out")}


def test_all_forms_hold_the_same_things(workshop: Workshop, tmp_path: Path) -> None:
    files = handed_off(workshop, tmp_path, density_px=64)
    with files["yard_things.csv"].open() as text:
        rows = list(csv.DictReader(text))
    facts = workshop.strews.facts(strewn_site(), workshop.covers.evidence(strewn_site()))
    assert len(rows) == facts.things > 150
    strewn = strewn_site()
    one = SetThing(id="stone1", name="One", thing=strewn.things[0].id, east_m=20, north_m=20, size_m=1)
    by_hand = (one, one.model_copy(update={"id": "stone2", "on": False}))
    also = strewn.model_copy(update={"set_things": by_hand})
    assert workshop.strews.facts(also, workshop.covers.evidence(also)).things == facts.things + 1
    bare = also.model_copy(update={"strews": ()})
    assert workshop.strews.facts(bare, workshop.covers.evidence(bare)).things == 1
    at = np.array([[float(row[name]) for name in ("east_m", "north_m", "up_m")] for row in rows])
    turn = np.array([[float(row[f"turn_{axis}"]) for axis in "xyzw"] for row in rows])
    size = np.array([float(row["size_m"]) for row in rows])
    told = json.loads(files["yard_things.json"].read_text())
    assert [row[0] for row in told["rows"]] == [row["strew"] for row in rows]
    assert set(told["models"]["Boulder"]) < set(files)

    stage = Usd.Stage.Open(str(files["yard_things.usdc"]))
    instancer = UsdGeom.PointInstancer(stage.GetPrimAtPath("/Site/Things"))
    assert UsdGeom.GetStageMetersPerUnit(stage) == 1.0
    np.testing.assert_allclose(np.array(instancer.GetPositionsAttr().Get()), at, atol=1e-4)
    np.testing.assert_allclose(np.array(instancer.GetScalesAttr().Get())[:, 0], size, rtol=1e-5)
    matrices = np.array([np.array(one) for one in instancer.ComputeInstanceTransformsAtTime(0, 0)])
    wanted = Rotation.from_quat(turn).as_matrix() * size[:, None, None]
    np.testing.assert_allclose(matrices[:, :3, :3].transpose(0, 2, 1), wanted, atol=3e-3)

    nodes = instances.read_glb(files["yard_things.glb"])
    assert sum(len(places) for _, places, _, _ in nodes) == len(rows)
    boulders = np.concatenate([places for name, places, _, _ in nodes if name.startswith("Boulder")])
    mine = at[[row["thing"] == "Boulder" for row in rows]]
    order, like = np.lexsort(boulders.round(3).T[[2, 0]]), np.lexsort(np.stack([-mine[:, 1], mine[:, 0]]).round(3))
    np.testing.assert_allclose(boulders[order][:, [0, 2]], np.stack([mine[:, 0], -mine[:, 1]], 1)[like], atol=1e-3)
    density = next(path for one, path in files.items() if "density" in one and "stones" in one)
    codes = decoded.of_file(density)
    assert codes.dtype == np.uint16
    assert codes.max() == 65535


@pytest.mark.parametrize("name", ["yard_things.glb", "model"])
def test_glb_is_what_the_validator_takes_it_for(workshop: Workshop, tmp_path: Path, name: str) -> None:
    files = handed_off(workshop, tmp_path, forms=["glb"])
    path = files.get(name) or next(path for one, path in files.items() if "oulder" in one)
    found = json.loads(
        subprocess.run(
            ["node", str(ROOT / "tests/validate_gltf.mjs"), str(path)], capture_output=True, check=True, text=True
        ).stdout
    )
    assert found["numErrors"] == 0, found
    if name == "model":
        loaded = trimesh.load_scene(path)
        assert len(loaded.geometry) == 3
        assert max(loaded.extents) == pytest.approx(1.0, abs=0.05)


def test_tiles_share_things_out(workshop: Workshop, tmp_path: Path) -> None:
    whole = handed_off(workshop, tmp_path / "a", forms=["csv"], models=False)
    tiles = handed_off(workshop, tmp_path / "b", forms=["csv"], models=False, columns=2, rows=2)
    lines = [
        line for name, path in tiles.items() if name.endswith("csv") for line in path.read_text().split("\n")[1:]
    ]
    assert len([name for name in tiles if name.endswith("csv")]) == 4
    assert sorted(filter(None, lines)) == sorted(filter(None, whole["yard_things.csv"].read_text().split("\n")[1:]))


def test_a_site_without_things_says_so(workshop: Workshop, tmp_path: Path) -> None:
    from elvatch.core.handoff import job

    sheet = Sheet.model_validate({"id": "sheet", "name": "Things", "entries": [{"kind": "things", "id": "things"}]})
    bare = strewn_site().model_copy(update={"strews": (), "things": ()})
    with pytest.raises(RefusalError, match="expected a strew that is on, or a thing set by hand"):
        job.write(sheet, workshop.handoffs.source("Yard", bare), tmp_path / "out")


def test_the_web_counts_picks_and_sets_fast(client: FlaskClient) -> None:
    told = strewn_site().model_dump(mode="json")
    facts = client.post("/api/strews/facts", json={"recipe": told}).get_json()
    assert [one["counted"] for one in facts["strews"]] == [True, True]
    assert facts["things"] == sum(one["count"] for one in facts["strews"])
    lasso = [{"east_m": e, "north_m": n} for e, n in ((0, 0), (20, 0), (20, 60), (0, 60))]
    fast = client.post("/api/strews/fast", json={"recipe": told, "strew": "stones", "corners": lasso}).get_json()
    assert 0 < len(fast["added"]) < facts["strews"][0]["count"] / 2
    assert all(one["east_m"] <= 20 for one in fast["added"])
    spot = {"recipe": told, "stand": "near", "width_px": 160, "height_px": 120, "across": 0.5, "down": 0.02}
    assert client.post("/api/strews/pick", json=spot).get_json()["strew"] is None
    for name, value in (("what", "ladder"), ("seed", -1)):
        source = {"kind": "drawn", "what": "boulder", "seed": 1} | {name: value}
        wrong = client.get("/api/things/portrait.png", query_string={"thing": json.dumps(source)})
        assert wrong.status_code == 422
    right = client.get(
        "/api/things/portrait.png", query_string={"thing": json.dumps({"kind": "drawn", "what": "root"})}
    )
    assert Image.open(io.BytesIO(right.data)).size == (330, 220)


def test_a_thing_is_pictured_in_what_covers_it(workshop: Workshop, client: FlaskClient) -> None:
    snow = Layer(
        id="snow", name="Snow", set=put_set(workshop.store, 0.9), rule=Rule(clauses=(OnThing(of="up", upper=35.0),))
    )
    bare = Thing(id="rock", name="Rock", source=DrawnThing(what="boulder", seed=3))

    def pictured(cover: Covering) -> np.ndarray[Any, Any]:
        told = bare.model_copy(update={"cover": cover}).model_dump(mode="json")
        answer = client.post("/api/things/portrait.png", json={"thing": told})
        assert answer.status_code == 200, answer.get_json()
        return np.asarray(Image.open(io.BytesIO(answer.data))).astype(int)

    plain, snowed = pictured(Covering()), pictured(Covering(layers=(snow,)))
    lighter = (snowed - plain).min(axis=2)
    assert (lighter > 40).sum() > 200
    # what leans over is bare: snow lies on each stone above its middle
    thing = np.flatnonzero((np.abs(plain - plain[-1].mean(axis=0)).max(axis=2) > 40).any(axis=1))
    assert np.nonzero(lighter > 40)[0].mean() < thing.mean()
    assert np.array_equal(pictured(Covering(layers=(snow.model_copy(update={"on": False}),))), plain)
    gone = snow.model_copy(update={"set": "e" * 40}).model_dump(mode="json")
    told = bare.model_dump(mode="json") | {"cover": {"layers": [gone]}}
    refused = client.post("/api/things/portrait.png", json={"thing": told})
    assert (refused.status_code, "not in the stock" in refused.get_json()["message"]) == (422, True)


def test_rules_that_ask_in_a_circle_are_refused_with_their_names(client: FlaskClient) -> None:
    told = strewn_site().model_dump(mode="json")
    for k, other in ((0, "posts"), (1, "stones")):
        near = {"kind": "near", "target": other, "called": other}
        told["strews"][k]["rule"] = {"clauses": [near]}
    answer = client.post("/api/strews/facts", json={"recipe": told})
    assert answer.status_code == 422
    assert "Stones, Posts, Stones" in answer.get_data(as_text=True)


SETS = {kind: digest.of_json(kind) for kind in GENERATORS}


@pytest.mark.parametrize("made", [demo_things.vellin(SETS), demo_things.delph()])
def test_what_the_demo_strews_is_all_there(made: demo_things.Strewn) -> None:
    known = {thing.id for thing in made.things}
    assert all(one.thing in known for strew in made.strews for one in strew.kinds)
    assert len({strew.id for strew in made.strews}) == len(made.strews) >= 3
    assert all(strew.size.to_m / strew.size.from_m > 1.3 for strew in made.strews)


def test_a_first_start_draws_the_sets_of_what_is_looked_at_first() -> None:
    asked: set[str] = set()

    class Asked(dict[str, str]):
        def __missing__(self, kind: str) -> str:
            asked.add(kind)
            return digest.of_json(kind)

    scenario.recipe(vellin_ground.ground(65), Asked())
    demo_things.vellin(Asked())
    apron.recipe(Asked())
    dam_face.recipe(Asked())
    assert asked == set(scenario.KINDS)


def test_what_wear_does_to_a_thing_is_told_by_the_surface_it_lies_on(client: FlaskClient, workshop: Workshop) -> None:
    up = Rule(clauses=(OnThing(of="up", upper=60.0, soft_upper=0.0),))
    pale = Wear(
        id="pale00",
        name="Pale",
        source=Made(what="film", controls={"cover": 0.95}),
        range=Range(none_at=0.0, full_at=0.001),
        rule=up,
        effects=Effects.model_validate({"roughness": {"mode": "replace", "strength": 1.0, "towards": 0.2}}),
    )
    stone = Thing(
        id="stone", name="Stone", source=DrawnThing(what="boulder", variants=1), cover=Covering(wears=(pale,))
    )
    one = {"id": "set00", "name": "One", "thing": "stone", "size_m": 2.0, "east_m": 30.0, "north_m": 20.0}
    made = Recipe(
        ground=Ground(width_m=60, depth_m=60, source=FlatSource(samples=33)),
        peg=Peg(east_m=30, north_m=20),
        things=(stone,),
        set_things=(SetThing.model_validate(one | {"roll_deg": 90.0}),),
    )
    asked: dict[str, Any] = {"recipe": made.model_dump(mode="json"), "thing": "stone", "wear": 0}
    told = client.post("/api/wear/told", json=asked).get_json()
    asked["recipe"]["things"][0]["cover"]["wears"][0]["rule"]["clauses"] = []
    everywhere = client.post("/api/wear/told", json=asked).get_json()["share"]
    assert everywhere > 0.8
    # by the area of the model's own triangles, as it is rolled onto its side
    solid = workshop.strews.model(stone).variants[0][-1]
    a, b, c = (solid.places[solid.triangles[:, k]].astype(float) for k in range(3))
    area = np.linalg.norm(np.cross(b - a, c - a), axis=1)
    facing = solid.normals[solid.triangles].mean(axis=1)
    rolled = Rotation.from_euler("x", 90, degrees=True).apply(facing)
    above = rolled[:, 2] / np.linalg.norm(rolled, axis=1) > 0.5
    assert told["share"] / everywhere == pytest.approx(float(area[above].sum() / area.sum()), abs=0.04)
    assert told["roughness"][1] < told["roughness"][0]
    assert told["sentence"].endswith("of the thing")
    for wrong in ({"thing": "gone0"}, {"wear": 1}):
        answer = client.post("/api/wear/told", json=asked | wrong)
        assert answer.status_code == 422
        assert "a wear of one of the site's things" in answer.get_json()["message"]


def test_a_layer_lies_near_a_thing_that_is_set_by_hand(workshop: Workshop) -> None:
    name = put_set(workshop.store, 0.3, "Dust")
    below, dust = (Layer(id=id, name=id, set=name) for id in ("below", "dust1"))
    near = OnNear.model_validate(
        {"to": "thing", "target": "stone1", "called": "Stone", "upper": 2.0, "soft_upper": 0.0}
    )
    stone = {"id": "stone1", "name": "Stone", "thing": "stone", "east_m": 20.0, "north_m": 15.0, "size_m": 3.0}
    recipe = Recipe(
        ground=Ground(width_m=40, depth_m=30, source=FlatSource(samples=41)),
        peg=Peg(east_m=20, north_m=15),
        layers=(below, dust.model_copy(update={"rule": Rule(clauses=(near,))})),
        things=(Thing(id="stone", name="Stone", source=DrawnThing(what="boulder", variants=1)),),
        set_things=(SetThing.model_validate(stone),),
    )
    foot = workshop.strews.model(recipe.things[0]).wide * 3.0
    share = workshop.covers.facts(recipe).shares[1]
    assert share == pytest.approx(np.pi * (foot + 2.0) ** 2 / 1200, rel=0.02)
    moved = recipe.model_copy(
        update={"set_things": (SetThing.model_validate(stone | {"east_m": 40.0, "along": 2.0}),)}
    )
    assert workshop.covers.facts(moved).shares[1] == pytest.approx(np.pi * (2 * foot + 2.0) ** 2 / 2400, rel=0.02), (
        "it follows, and half of it lies beside the site"
    )
    gone = recipe.model_copy(update={"set_things": ()})
    told = workshop.covers.facts(gone)
    assert told.shares[1] == 0.0
    assert "thing Stone" in str(told.reasons[1])
