"""Kits: layers that others tile and mix as the cover does, a MaterialX document that means the same."""

from __future__ import annotations

import json
import math
from pathlib import Path

import MaterialX as mx
import numpy as np
import pytest
from numpy.typing import NDArray
from skimage.color import deltaE_ciede2000

from elvatch.core.colour_difference import ciede2000
from elvatch.core.cover import function, plan
from elvatch.core.document.fit import Fit, Repeats
from elvatch.core.document.layer import Edge, Layer, Look
from elvatch.core.document.recipe import Recipe
from elvatch.core.document.rule import OnNoise, Rule, on
from elvatch.core.document.sheet import Fine, Sheet, Tiling
from elvatch.core.document.sheet_entry import KitEntry
from elvatch.core.ground import places
from elvatch.core.ground.clauses import between
from elvatch.core.handoff.listing import Source
from elvatch.core.kit.document import Kit
from elvatch.core.stock import derive, pyramid
from elvatch.core.stock.pyramid import Pyramid
from tests.conftest import NAMES, layer, recipe
from tests.core.handing import bumpy_set, read, rolling, source_of, written


def waves(k: int) -> Pyramid:
    """A set without seams in which no two maps are alike."""
    x, y = np.meshgrid(np.arange(64) / 64 * 2 * np.pi, np.arange(64) / 64 * 2 * np.pi)
    height = (0.5 + 0.3 * np.sin((k + 1) * x) + 0.15 * np.cos(2 * y + 1)).astype(np.float32)
    colour = np.dstack([0.4 + 0.3 * np.sin(x + k), 0.3 + 0.2 * np.cos(y), 0.2 + 0.1 * np.sin(x + 2 * y)])
    rough, closed = ((low + 0.2 * np.sin(x + y + k)).astype(np.float32) for low in (0.5, 0.7))
    normal = derive.normal_from_height(height, 8.0, 0.9)
    return pyramid.build(
        pyramid.Maps(colour.astype(np.float32), normal, rough, height, closed, rough * 0.5), 8.0, 0.9
    )


SETS = {name: waves(k) for k, name in enumerate(NAMES)}
ROLLING = rolling()
BROKEN = Rule(clauses=(on(between("slope", upper=14, soft_upper=6)), OnNoise(join="break-up", size_m=9)))
FITS = {
    "above": Fit(tile_m=9.0, tile_down_m=6.0, relief_m=0.4, turn_deg=31, mirror=True, offset_east_m=1.3),
    "triplanar": Fit(
        tile_m=7.0,
        relief_m=0.3,
        projection="triplanar",
        plane_edge=4,
        steep_turn_east_deg=20,
        turn_deg=-12,
        offset_up_m=0.7,
        steep_set=NAMES[3],
    ),
    "side": Fit(tile_m=5.0, relief_m=0.2, projection="side", side_deg=250, turn_deg=8),
}


def several() -> Recipe:
    rules = (Rule(), BROKEN, Rule(clauses=(on(between("elevation", lower=58, soft_lower=4)),)))
    looks = (Look(variation=0), Look(variation=0, brightness=0.7, hue_deg=12), Look(variation=0, roughness_shift=0.1))
    layers = [
        layer(name.title(), k, rule, fit=fit, look=look, edge=Edge(width_m=0.2))
        for k, ((name, fit), rule, look) in enumerate(zip(FITS.items(), rules, looks, strict=True))
    ]
    return recipe(tuple(layers), ROLLING)


def kit_of(source: Source, out: Path, px: float = 128, **more: object) -> tuple[Kit, dict[str, Path]]:
    """Write a kit; return what it says of itself and its files."""
    tiles = more.pop("tiles", Tiling())
    entry = KitEntry.model_validate({"id": "kit0", "set_px": 256} | more)
    sheet = Sheet.model_validate(
        {"id": "kits", "name": "Kit", "fine": Fine(value=px), "tiles": tiles, "entries": (entry,)}
    )
    files = written(sheet, source, out)
    return Kit.model_validate(json.loads(files["site_kit.json"].read_text())), files


class Reader:
    """A small reader of MaterialX graphs, by the meaning that its specification gives each node."""

    def __init__(self, path: Path, at_m: NDArray[np.float64], normal: NDArray[np.float64]) -> None:
        self.document = mx.createDocument()
        mx.readFromXmlFile(self.document, str(path))
        self.graph = self.document.getNodeGraphs()[0]
        self.folder, self.place, self.normal = path.parent, at_m, normal
        self.known: dict[str, NDArray[np.float64]] = {}

    def output(self, name: str) -> NDArray[np.float64]:
        return self.node(self.graph.getOutput(name).getNodeName())

    def node(self, name: str) -> NDArray[np.float64]:
        if name not in self.known:
            self.known[name] = self._evaluate(self.graph.getNode(name))
        return self.known[name]

    def _in(self, node: mx.Node, key: str) -> NDArray[np.float64]:
        put = node.getInput(key)
        if put.getNodeName():
            return self.node(put.getNodeName())
        numbers = [float(word) for word in put.getValueString().split(",")]
        return np.full((len(self.place), len(numbers)), numbers)

    def _image(self, node: mx.Node) -> NDArray[np.float64]:
        file = node.getInput("file")
        codes = read(self.folder / file.getValueString())
        image = codes.reshape(*codes.shape[:2], -1) / (255 if codes.dtype == np.uint8 else 65535)
        if file.getColorSpace() == "srgb_texture":
            image = np.where(image <= 0.04045, image / 12.92, ((image + 0.055) / 1.055) ** 2.4)
        uv = self._in(node, "texcoord")
        x, y = uv[:, 0] * image.shape[1] - 0.5, (1 - uv[:, 1]) * image.shape[0] - 0.5
        c, r = np.floor(x).astype(int), np.floor(y).astype(int)
        total = np.zeros((len(uv), image.shape[2]))
        for i, j in ((0, 0), (0, 1), (1, 0), (1, 1)):
            row, col = r + i, c + j
            if node.getCategory() == "tiledimage":
                row, col = row % image.shape[0], col % image.shape[1]
            else:
                row, col = np.clip(row, 0, image.shape[0] - 1), np.clip(col, 0, image.shape[1] - 1)
            weight = np.abs(1 - i - (y - r)) * np.abs(1 - j - (x - c))
            total += image[row, col] * weight[:, None]
        return total

    def _evaluate(self, node: mx.Node) -> NDArray[np.float64]:
        kind = node.getCategory()
        if kind in ("image", "tiledimage"):
            return self._image(node)
        if kind in ("position", "normal"):
            return self.place if kind == "position" else self.normal
        if kind == "combine2":
            return np.hstack([self._in(node, "in1"), self._in(node, "in2")])
        if kind == "dotproduct":
            return np.asarray((self._in(node, "in1") * self._in(node, "in2")).sum(axis=1, keepdims=True))
        if kind == "extract":
            at = int(node.getInput("index").getValue())
            return self._in(node, "in")[:, at : at + 1]
        if kind == "rotate2d":
            turn = np.radians(self._in(node, "amount")[:, 0])
            x, y = self._in(node, "in").T
            return np.stack([np.cos(turn) * x + np.sin(turn) * y, np.cos(turn) * y - np.sin(turn) * x], 1)
        one_way = {"sign": np.sign, "absval": np.abs}
        if kind in one_way:
            return one_way[kind](self._in(node, "in"))
        two_ways = {
            "add": np.add,
            "subtract": np.subtract,
            "multiply": np.multiply,
            "divide": np.divide,
            "power": np.power,
        }
        return two_ways[kind](self._in(node, "in1"), self._in(node, "in2"))


def stand(count: int = 100) -> tuple[places.Places, NDArray[np.float64], NDArray[np.float64], Source]:
    """Places all over the site, where they stand and what way the ground looks there."""
    source = source_of(several(), ROLLING, SETS)
    x, y = np.random.default_rng(4).uniform(3, 97, (2, count))
    at = places.on_ground(source.survey, x, y, 0.03)
    up = np.stack([-at.rise_east, -at.rise_north, np.ones(count)], 1)
    return at, np.stack([x, y, at.elevation_m], 1), up / np.linalg.norm(up, axis=1, keepdims=True), source


@pytest.fixture(scope="module")
def kit(tmp_path_factory: pytest.TempPathFactory) -> tuple[Kit, dict[str, Path]]:
    return kit_of(stand()[3], tmp_path_factory.mktemp("kit") / "out")


def test_the_difference_is_that_of_another_implementation() -> None:
    random = np.random.default_rng(0)
    one = random.uniform(-1, 1, (2000, 3)) * [50, 100, 100] + [50, 0, 0]
    other = one + random.normal(0, 20, one.shape)
    other[:50, 1:] = 0  # without hue
    assert np.abs(ciede2000(one, other) - deltaE_ciede2000(one, other)).max() < 1e-9


def test_the_material_is_valid_and_names_only_what_is_there(kit: tuple[Kit, dict[str, Path]]) -> None:
    files = kit[1]
    document, library = mx.createDocument(), mx.createDocument()
    mx.readFromXmlFile(document, str(files["site_kit.mtlx"]))
    named = {
        node.getInput("file").getValueString()
        for node in document.getNodeGraphs()[0].getNodes()
        if node.getCategory() in ("image", "tiledimage")
    }
    mx.loadLibraries(mx.getDefaultDataLibraryFolders(), mx.getDefaultDataSearchPath(), library)
    document.setDataLibrary(library)
    valid, message = document.validate()
    assert valid, message
    assert named <= files.keys()
    assert len(named) == 4 * 3 + 2  # three maps of four sets, weights, tint


def test_the_material_has_each_layers_colour(kit: tuple[Kit, dict[str, Path]]) -> None:
    at, at_m, normal, source = stand()
    reader = Reader(kit[1]["site_kit.mtlx"], at_m, normal)
    for k, one in enumerate(source.recipe.layers):
        alone = one.model_copy(update={"rule": Rule(), "edge": Edge()})
        expected = function.ask(plan.prepare((alone,), SETS), at).colour
        found = reader.node(_last(reader, f"colour_of_{k}", f"colour_{k}_{'a_side' if k == 2 else 'up'}"))
        np.testing.assert_allclose(found, expected, atol=0.012)


def _last(reader: Reader, sum_of: str, image: str) -> str:
    """The node that is all of a layer's colour: a sum of planes, or the only plane's image."""
    sums = [one.getName() for one in reader.graph.getNodes() if one.getName().startswith(f"{sum_of}_sum")]
    return max(sums, key=lambda name: (len(name), name)) if sums else image


def test_the_material_is_the_cover_where_layers_lie(kit: tuple[Kit, dict[str, Path]]) -> None:
    at, at_m, normal, source = stand(400)
    found = Reader(kit[1]["site_kit.mtlx"], at_m, normal).output("base_color")
    recipe_ = source.recipe
    expected = function.ask(plan.prepare(recipe_.layers, SETS, wears=recipe_.wears), at).colour
    assert np.median(np.abs(found - expected)) < 0.02


def test_a_cover_without_wear_is_near_and_what_is_told_is_so(
    kit: tuple[Kit, dict[str, Path]], tmp_path: Path
) -> None:
    told = kit[0]
    assert told.from_afar_without_tint.mean < 2.0
    assert told.from_afar.mean <= told.from_afar_without_tint.mean
    assert 0 < told.close.mean < 4.0
    # what a kit cannot carry is told, and costs
    broken = several()
    fit = broken.layers[0].fit.model_copy(update={"repeats": Repeats(kind="turn")})
    varied = broken.layers[0].model_copy(update={"fit": fit, "look": Look(variation=0.6)})
    source = source_of(broken.model_copy(update={"layers": (varied, *broken.layers[1:])}), ROLLING, SETS)
    worse, _ = kit_of(source, tmp_path / "out")
    assert "repeats broken up (turn)" in worse.layers[0].not_carried
    assert worse.from_afar_without_tint.mean > told.from_afar_without_tint.mean
    assert worse.close.mean > told.close.mean


@pytest.mark.parametrize("weights", ["splat", "masks", "strongest"])
@pytest.mark.parametrize("type", ["uint8", "uint16"])
def test_weights_of_any_kind_say_the_same(tmp_path: Path, weights: str, type: str) -> None:
    source = source_of(several(), ROLLING, SETS)
    told, files = kit_of(source, tmp_path / "out", 64, weights=weights, weight_type=type, material=False)
    names = {name for one in told.layers for name in one.weight.files}
    assert names <= files.keys()
    at = places.on_window(source.survey, places.Grid(64, 64), (0, 64), (0, 64))
    shares = function.ask(plan.prepare(source.recipe.layers, SETS), at).shares.reshape(64, 64, 3)
    most = 255 if type == "uint8" else 65535
    images = {name: read(files[name]).astype(int) for name in names}
    if weights == "strongest":
        numbers, parts = (images[name] for name in told.layers[0].weight.files)
        assert (parts.sum(axis=-1) == most).all()
        found = np.stack([(parts * (numbers == k)).sum(axis=-1) for k in range(3)], -1)
        assert (np.diff(parts, axis=-1) <= 0).all()
    elif weights == "masks":
        found = np.stack([images[one.weight.files[0]] for one in told.layers], -1)
    else:
        channel = {"red": 0, "green": 1, "blue": 2, "alpha": 3}
        found = np.stack([images[one.weight.files[0]][..., channel[one.weight.channel]] for one in told.layers], -1)
        assert (found.sum(axis=-1) == most).all()
    assert np.abs(found / most - shares).max() <= 1.01 / most


def test_at_most_four_layers_a_tile_are_kept_and_the_drop_is_told(tmp_path: Path) -> None:
    rules = [Rule()] + [
        Rule(clauses=(on(between("elevation", lower=48 + 3 * k, soft_lower=2, upper=54 + 3 * k, soft_upper=2)),))
        for k in range(5)
    ]
    sets = {f"{k}" * 40: bumpy_set(k) for k in range(1, 7)}
    layers: list[Layer] = [
        layer(f"layer {k}", 0, rule, fit=Fit(tile_m=4.0 + k, relief_m=0.2)).model_copy(
            update={"set": f"{k + 1}" * 40}
        )
        for k, rule in enumerate(rules)
    ]
    source = source_of(recipe(tuple(layers), ROLLING), ROLLING, sets)
    tiles = Tiling(columns=2, rows=2)
    whole, _ = kit_of(source, tmp_path / "whole", 64, tiles=tiles)
    four, files = kit_of(source, tmp_path / "four", 64, tiles=tiles, most_a_tile=4)
    assert max(tile.layers for tile in whole.tiles) > 4
    assert all(tile.layers <= 4 for tile in four.tiles)
    assert four.from_afar_without_tint.mean > whole.from_afar_without_tint.mean
    assert 0 < four.dropped < 0.3
    # nothing is dropped but layers without a weight of 1 in 255 anywhere on a tile
    assert whole.dropped < 1e-4
    for k, tile in enumerate(four.tiles):
        names = sorted({one.weight.files[k] for one in four.layers})
        kept = np.concatenate([read(files[name]).astype(int) for name in names], -1)
        assert (kept.sum(axis=-1) == 255).all(), tile.name
        assert (kept.max(axis=(0, 1)) > 0).sum() == tile.layers
    assert {tile.name for tile in four.tiles} == {"a1", "a2", "b1", "b2"}
    assert math.isclose(four.tiles[0].north, 1.0)
    assert math.isclose(four.tiles[0].west, 0.0)


def test_maps_of_a_layer_are_the_sets_as_the_layer_shows_it(kit: tuple[Kit, dict[str, Path]]) -> None:
    told, files = kit
    maps = told.layers[2].maps
    height = read(files[maps.height]).astype(np.float64) / 65535
    span = maps.high_m - maps.low_m
    assert span == pytest.approx(np.ptp(SETS[NAMES[2]].heights(0)) * FITS["side"].relief_m, rel=0.03)
    # a normal is the gradient of the height, at the size at which the layer lies
    normal = read(files[maps.normal]).astype(np.float64) / 255 * 2 - 1
    step = FITS["side"].tile_m / 256
    east = (np.roll(height, -1, 1) - np.roll(height, 1, 1)) * span / (2 * step)
    north = (np.roll(height, 1, 0) - np.roll(height, -1, 0)) * span / (2 * step)
    for along, rise in ((0, east), (1, north)):
        slope = -normal[..., along] / normal[..., 2]
        assert np.corrcoef(slope.ravel(), rise.ravel())[0, 1] > 0.98
    rough = [read(files[one.maps.surface])[..., 1].mean() / 255 for one in told.layers]
    assert rough[2] - rough[0] == pytest.approx(0.1, abs=0.06)
