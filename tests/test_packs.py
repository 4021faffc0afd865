"""Whole sites that move: bit for bit the same elsewhere, and nothing kept of what is damaged or hostile."""

from __future__ import annotations

import io
import json
import shutil
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from elvatch.app.workshop import Workshop
from elvatch.core import digest
from elvatch.core.document.light import ImageLight
from elvatch.core.document.marks import MaskImage, MaskTile, PaintedMask
from elvatch.core.document.recipe import Recipe
from elvatch.core.document.rule import OnPainted, Rule
from elvatch.core.document.sheet import Fine, Sheet
from elvatch.core.formats import png
from elvatch.core.light import drawn_sky
from elvatch.core.picture.picture import View
from elvatch.core.refusal import RefusalError
from elvatch.store.sites import SiteState
from elvatch.store.store import Store
from tests.conftest import file_ground, layer, put_set
from tests.core.handing import entry, rolling

Members = dict[str, bytes]


def site(shop: Workshop) -> SiteState:
    """A site over a height file, with a painted mask, an image, a panorama and two sets."""
    land = rolling(65, 60.0)
    stream = io.BytesIO()
    np.save(stream, land.heights_m)
    put = shop.store.files.put
    ground = file_ground(land, put(stream.getvalue()))
    codes = np.zeros((256, 256), np.uint16)
    codes[20:90, 10:200] = 60000
    tile = MaskTile(row=0, col=0, file=put(png.encode(codes)))
    mask = PaintedMask(id="mask", name="painted", tiles=(tile,))
    grey = put(png.encode(np.tile(np.arange(64, dtype=np.uint8) * 4, (64, 1))))
    image = MaskImage(id="image", name="image", file=grey, file_name="grey.png")
    low, high = (
        layer(name, 0).model_copy(update={"set": put_set(shop.store, of, name)})
        for name, of in (("Low", 0.2), ("High", 0.6))
    )
    high = high.model_copy(update={"rule": Rule(clauses=(OnPainted(mask="mask", called="painted"),))})
    recipe = shop.sites.new_recipe(ground, empty=True)
    sky = shop.panoramas.drawn(drawn_sky.NAMES[0])
    light = recipe.light.model_copy(update={"image": ImageLight(file=sky.file, file_name=sky.file_name)})
    marks = recipe.marks.model_copy(update={"masks": (mask,), "images": (image,)})
    recipe = recipe.model_copy(update={"layers": (low, high), "marks": marks, "light": light})
    return shop.store.sites.add("Made site", Recipe.model_validate(recipe.model_dump()))


@pytest.fixture(scope="module")
def packed(tmp_path_factory: pytest.TempPathFactory) -> tuple[Path, Workshop, SiteState]:
    folder = tmp_path_factory.mktemp("packed")
    shop = Workshop(Store(folder / "data"))
    state = site(shop)
    path = folder / "site.elvatch.zip"
    shop.packs.pack(state.title, state.recipe, path)
    return path, shop, state


def pictures(shop: Workshop, recipe: Recipe) -> list[bytes]:
    return [shop.pictures.take(recipe, View(stand, 160, 100)).pixels.tobytes() for stand in ("far", "mid", "near")]


def kept(shop: Workshop) -> tuple[int, int, list[str]]:
    files = sorted(path.name for path in (shop.store.folder / "files").glob("*/*"))
    return len(shop.store.sites.all()), len(shop.store.stock), files


def test_a_pack_opens_elsewhere_to_the_same_pictures_and_hand_offs(
    packed: tuple[Path, Workshop, SiteState], tmp_path: Path
) -> None:
    path, shop, state = packed
    other = Workshop(Store(tmp_path / "data"))
    facts = other.packs.facts(path)
    assert (facts.title, facts.layers, facts.sets, facts.known_sets) == ("Made site", 2, ["High", "Low"], 0)
    opened = other.packs.open(path)
    assert opened.recipe == state.recipe
    assert pictures(other, opened.recipe) == pictures(shop, state.recipe)
    sheet = Sheet(
        id="test",
        name="Test",
        fine=Fine(value=64),
        entries=(
            entry("colour", "colour"),
            entry("high", "height", type="uint16"),
            entry("normal", "normal"),
        ),
    )
    for one, of, out in ((shop, state, "here"), (other, opened, "there")):
        one.handoffs.bake(of.title, of.recipe, sheet, tmp_path / out)
    for made in (tmp_path / "here").iterdir():
        assert made.read_bytes() == (tmp_path / "there" / made.name).read_bytes()
    # once more: the sets are there already, and the same site packs to the same bytes
    assert other.packs.facts(path).known_sets == 2
    assert other.packs.open(path).recipe == state.recipe
    assert len(other.store.stock) == 2
    other.packs.pack(opened.title, opened.recipe, tmp_path / "again.elvatch.zip")
    assert (tmp_path / "again.elvatch.zip").read_bytes() == path.read_bytes()


def test_a_set_of_the_same_name_that_is_another_stays(
    packed: tuple[Path, Workshop, SiteState], tmp_path: Path
) -> None:
    path, shop, state = packed
    other = Workshop(Store(tmp_path / "data"))
    other.packs.open(path)
    name = state.recipe.layers[0].set
    there = other.store.stock.state(name)
    other.sets.describe(name, there.revision, "retitled", there.description.model_copy(update={"title": "Mine"}))
    opened = other.packs.open(path)
    assert opened.recipe.layers[0].set != name
    assert other.store.stock.state(name).description.title == "Mine"
    assert pictures(other, opened.recipe) == pictures(shop, state.recipe)


def members(path: Path) -> Members:
    with zipfile.ZipFile(path) as archive:
        return {one: archive.read(one) for one in archive.namelist()}


def written(path: Path, of: Members, **more: Any) -> None:
    with zipfile.ZipFile(path, "w", more.get("packed", zipfile.ZIP_STORED)) as archive:
        for name, data in of.items():
            archive.writestr(name, data)


def told(change: Callable[[dict[str, Any]], None]) -> Callable[[Path, Members], None]:
    """A pack whose description was changed."""

    def damage(path: Path, of: Members) -> None:
        data = json.loads(of["site.json"])
        change(data)
        written(path, of | {"site.json": json.dumps(data).encode()})

    return damage


def at(*keys: Any, put: Any) -> Callable[[Path, Members], None]:
    def change(data: dict[str, Any]) -> None:
        for key in keys[:-1]:
            data = data[key]
        data[keys[-1]] = put

    return told(change)


def exchanged(*keys: Any, data: bytes) -> Callable[[Path, Members], None]:
    """A pack in which a file is another, named by its content and told of truthfully."""

    def damage(path: Path, of: Members) -> None:
        where = json.loads(of["site.json"])
        for key in keys:
            where = next(iter(where.values())) if key == "any" else where[key]
        old, new, text = str(where), digest.of_bytes(data), of["site.json"].decode()
        text = text.replace(old, new).replace(f'"{new}": {len(of["files/" + old])}', f'"{new}": {len(data)}')
        others = {name: one for name, one in of.items() if name != f"files/{old}"}
        written(path, others | {f"files/{new}": data, "site.json": text.encode()})

    return damage


def cut(share: float) -> Callable[[Path, Members], None]:
    def damage(path: Path, of: Members) -> None:
        written(path, of)
        whole = path.read_bytes()
        path.write_bytes(whole[: int(len(whole) * share)])

    return damage


def flipped(at_share: float) -> Callable[[Path, Members], None]:
    def damage(path: Path, of: Members) -> None:
        written(path, of)
        data = bytearray(path.read_bytes())
        data[int(len(data) * at_share)] ^= 0x5A
        path.write_bytes(bytes(data))

    return damage


def more(name: str, data: bytes = b"x") -> Callable[[Path, Members], None]:
    return lambda path, of: written(path, of | {name: data})


def without(k: int) -> Callable[[Path, Members], None]:
    return lambda path, of: written(path, {name: data for j, (name, data) in enumerate(of.items()) if j != k})


def doubled(path: Path, of: Members) -> None:
    written(path, of)
    with pytest.warns(UserWarning, match="Duplicate"), zipfile.ZipFile(path, "a") as archive:
        archive.writestr("site.json", of["site.json"])


def bomb(path: Path, of: Members) -> None:
    name = next(name for name in of if name.startswith("files/"))
    written(path, of | {name: bytes(80 << 20)}, packed=zipfile.ZIP_DEFLATED)


def locked(path: Path, of: Members) -> None:
    written(path, of)
    data = bytearray(path.read_bytes())
    # the bit that says that a member is encrypted, in both headers of the first
    data[6] |= 1
    central = data.index(b"PK\x01\x02")
    data[central + 8] |= 1
    path.write_bytes(bytes(data))


def plain(data: bytes) -> Callable[[Path, Members], None]:
    def write(path: Path, of: Members) -> None:
        path.write_bytes(data)

    return write


DAMAGES: dict[str, Callable[[Path, Members], None]] = {
    "empty": plain(b""),
    "no zip": plain(b"hello " * 100),
    "an image": plain(b"\x89PNG\r\n\x1a\n" + bytes(200)),
    "an empty zip": lambda path, of: written(path, {}),
    **{f"cut at {share}": cut(share) for share in (0.1, 0.5, 0.9, 0.99, 0.9999)},
    **{f"a bit at {share}": flipped(share) for share in (0.02, 0.2, 0.4, 0.6, 0.8)},
    **{f"without member {k}": without(k) for k in range(8)},
    **{
        f"with {name}": more(name)
        for name in (
            "../evil",
            "/etc/evil",
            "files/../../evil",
            "files/evil",
            "C:\\evil",
            "files/" + "0" * 40,
            "site.json/x",
            "setup.exe",
            ".hidden",
            "files/" + "a" * 39,
        )
    },
    "two descriptions": doubled,
    "a bomb": bomb,
    "locked": locked,
    "text for a description": lambda path, of: written(path, of | {"site.json": b"hello"}),
    "a list for a description": lambda path, of: written(path, of | {"site.json": b"[]"}),
    "nested without end": lambda path, of: written(path, of | {"site.json": b"[" * 100_000}),
    "not a number": lambda path, of: written(
        path, of | {"site.json": of["site.json"].replace(b'"width_m": 60.0', b'"width_m": NaN')}
    ),
    "another format": at("format", put="other"),
    "a later version": at("version", put=2),
    "a later recipe": at("recipe", "version", put=99),
    "no title": at("title", put=""),
    "a long title": at("title", put="x" * 5000),
    "another field": at("extra", put=1),
    "no recipe": at("recipe", put={}),
    "a width below 0": at("recipe", "ground", "width_m", put=-5),
    "a file that is not there": at("recipe", "ground", "source", "file", put="b" * 40),
    "a path for a file": at("recipe", "ground", "source", "file", put="../../etc/passwd"),
    "a set that is not there": at("recipe", "layers", 0, "set", put="c" * 40),
    "no sets": at("sets", put={}),
    "no files": at("files", put={}),
    "heights that are none": exchanged("recipe", "ground", "source", "file", data=b"no heights"),
    "a panorama that is none": exchanged("recipe", "light", "image", "file", data=b"no light"),
    "an image that is none": exchanged("recipe", "marks", "images", 0, "file", data=b"no image"),
    "a painted tile that is none": exchanged("recipe", "marks", "masks", 0, "tiles", 0, "file", data=b"nothing"),
    "a painted tile of another size": exchanged(
        "recipe", "marks", "masks", 0, "tiles", 0, "file", data=png.encode(np.zeros((4, 4), np.uint16))
    ),
    "a map that is none": exchanged("sets", "any", "maps", "height", "file", data=b"nothing"),
    "a map of another size": exchanged(
        "sets", "any", "maps", "height", "file", data=png.encode(np.zeros((32, 32), np.uint16))
    ),
    "a map of other bits": exchanged(
        "sets", "any", "maps", "height", "file", data=png.encode(np.zeros((64, 64), np.uint8))
    ),
}


def test_there_are_fifty_of_them() -> None:
    assert len(DAMAGES) >= 50


@pytest.fixture(scope="module")
def receiving(tmp_path_factory: pytest.TempPathFactory) -> Workshop:
    return Workshop(Store(tmp_path_factory.mktemp("receiving") / "data"))


@pytest.mark.parametrize("name", DAMAGES)
def test_what_is_damaged_or_hostile_is_refused_whole(
    name: str, packed: tuple[Path, Workshop, SiteState], receiving: Workshop, tmp_path: Path
) -> None:
    path = tmp_path / "inside" / "hostile.elvatch.zip"
    path.parent.mkdir()
    DAMAGES[name](path, members(packed[0]))
    before, around = kept(receiving), sorted(tmp_path.rglob("*"))
    with pytest.raises(RefusalError) as refused:
        receiving.packs.open(path)
    assert kept(receiving) == before == (0, 0, [])
    assert sorted(tmp_path.rglob("*")) == around
    assert str(refused.value).count("\n") == 0


def test_a_full_pack_opens_after_all_of_them(
    packed: tuple[Path, Workshop, SiteState], receiving: Workshop, tmp_path: Path
) -> None:
    copy = tmp_path / "copy.elvatch.zip"
    shutil.copy(packed[0], copy)
    assert receiving.packs.open(copy).recipe == packed[2].recipe
