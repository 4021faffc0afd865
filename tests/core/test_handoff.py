"""The hand-off: heights and normals of one surface, tiles of one whole, files that other readers read as meant."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Literal

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from elvatch.core.cover import function, plan
from elvatch.core.document.fit import Fit, Lie
from elvatch.core.document.layer import Edge
from elvatch.core.document.recipe import Recipe
from elvatch.core.document.rule import OnNoise, Rule, on
from elvatch.core.document.sheet import Encoding, Fine, MapsEntry, Region, Sheet, Slot, Tiling
from elvatch.core.document.water import Water
from elvatch.core.document.wear import Effects, FromStock, ReliefEffect, Wear
from elvatch.core.formats.written import FORMS
from elvatch.core.ground import places
from elvatch.core.ground.clauses import between
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.handoff import bands, encoding, file_names, job, tile_work
from elvatch.core.handoff.listing import files_of
from elvatch.core.handoff.looking import Looking, Window, landed
from elvatch.core.handoff.manifest import FileSaid, Manifest
from elvatch.core.handoff.values import MapValue
from elvatch.core.parallel import Token
from elvatch.core.refusal import CancelledError, RefusalError
from elvatch.core.rules.evidence import Evidence
from elvatch.core.run import Run
from elvatch.core.stock import sheet as overlay
from tests import decoded
from tests.conftest import NAMES, flat_set, layer, plane, recipe
from tests.core.handing import bumpy_set, entry, read, rolling, source_of, written

BUMPY = {name: bumpy_set(k + 1) for k, name in enumerate(NAMES)}
ROLLING = rolling()
BROKEN = Rule(clauses=(on(between("slope", upper=14, soft_upper=6)), OnNoise(join="break-up", size_m=9)))


def sheet(*entries: MapsEntry, px: float = 96, **more: object) -> Sheet:
    return Sheet.model_validate({"id": "test", "name": "Test", "fine": Fine(value=px), "entries": entries} | more)


def two_layers(edge: Literal["fade", "height"] = "height", **fit: object) -> Recipe:
    upper = {"tile_m": 6.0, "relief_m": 0.5} | fit
    return recipe(
        (
            layer("Low", 0, fit=Fit(tile_m=9.0, relief_m=0.8)),
            layer("High", 1, BROKEN, edge=Edge(kind=edge, width_m=0.3), fit=Fit.model_validate(upper)),
        ),
        ROLLING,
    )


def worn() -> tuple[Recipe, Evidence]:
    x, y = np.meshgrid(np.arange(64), np.arange(64))
    codes = np.rint(65535 * (0.5 + 0.5 * np.sin(x / 64 * 2 * np.pi) * np.sin(y / 64 * 2 * np.pi))).astype(np.uint16)
    made = overlay.build(codes, np.linspace(0, 1, overlay.CODES, dtype=np.float32), "waves")
    wear = Wear(
        id="wear",
        name="wear",
        source=FromStock(set="a" * 40),
        lie=Lie(tile_m=14.0),
        effects=Effects(relief=ReliefEffect(depth_mm=400)),
    )
    site = two_layers("fade").model_copy(update={"wears": (wear,)})
    return site, Evidence(sheet=lambda _: made, width_m=100.0, depth_m=100.0)


SITES = {
    "edges by height": (two_layers("height"), None),
    "on top, triplanar": (two_layers("fade", meets="on top", projection="triplanar"), None),
    "carved by wear": worn(),
}


@pytest.mark.parametrize("name", SITES)
def test_the_normal_is_the_gradient_of_the_height(tmp_path: Path, name: str) -> None:
    site, evidence = SITES[name]
    whole = entry("whole", "normal", type="uint16", against="whole", green="down")
    heights = [entry(one, one, format="tiff", type="float32") for one in ("height", "elevation")]
    wanted = sheet(whole, entry("against", "normal", type="uint16"), *heights, px=256)
    out = written(wanted, source_of(site, ROLLING, BUMPY, evidence=evidence), tmp_path / "out")
    high, ground = (read(out[f"site_{one}.tif"]).astype(float) for one in ("height", "elevation"))
    step = 100 / 256
    down, east = np.gradient(high, step)
    inner = np.s_[2:-2, 2:-2]
    n = read(out["site_whole.png"]) / 65535 * 2 - 1
    for axis, slope in ((0, -east), (1, -down)):  # green down: down the rows, to the south
        found = n[..., axis] / n[..., 2]
        assert np.corrcoef(found[inner].ravel(), slope[inner].ravel())[0, 1] > 0.995, axis
    # in the ground's frame: a rotation by the ground's own lie gives the same normals back
    ground_down, ground_east = np.gradient(ground, step)
    up = np.dstack([-ground_east, ground_down, np.ones_like(ground)])
    up /= np.linalg.norm(up, axis=2, keepdims=True)
    along = np.dstack([np.ones_like(ground), np.zeros_like(ground), ground_east])
    along /= np.linalg.norm(along, axis=2, keepdims=True)
    across = np.cross(up, along)
    local = read(out["site_against.png"]) / 65535 * 2 - 1
    turned = local[..., :1] * along + local[..., 1:2] * across + local[..., 2:] * up
    meant = np.dstack([-east, down, np.ones_like(high)])
    meant /= np.linalg.norm(meant, axis=2, keepdims=True)
    for axis in (0, 1):
        assert np.corrcoef(turned[inner][..., axis].ravel(), meant[inner][..., axis].ravel())[0, 1] > 0.98
    assert np.abs(local[..., :2]).max() > 0.2, "there is relief to be seen"


def test_maps_hold_what_the_cover_answers(tmp_path: Path) -> None:
    ground = Heightfield(plane(20).heights_m, 100.0, 50.0)
    rule = Rule(clauses=(on(between("elevation", lower=50, soft_lower=10)),))
    site = recipe((layer("Low & wet", 0), layer("../High", 1, rule, edge=Edge(kind="fade"))), ground)
    gloss = entry("gloss", "roughness", type="uint16")
    gloss = gloss.model_copy(update={"holds": (Slot(of="roughness", inverted=True),)})
    shares = entry("shares", "shares", type="uint16", file="{site}_{k:02d}_{layer}")
    relief = entry("relief", "relief", format="tiff", type="float32")
    wanted = sheet(
        entry("packed", "occlusion", "roughness", "metallic"),
        gloss,
        entry("height", "height", type="uint16"),
        shares,
        relief,
        px=64,
    )
    out = written(wanted, source_of(site, ground, BUMPY, "Näme / of it"), tmp_path / "out")
    assert list(out) == [
        "n-me-of-it_packed.png",
        "n-me-of-it_gloss.png",
        "n-me-of-it_height.png",
        "n-me-of-it_01_low-wet.png",
        "n-me-of-it_02_high.png",
        "n-me-of-it_relief.tif",
        "hand-off.json",
    ]
    at = places.on_grid(source_of(site, ground, BUMPY).survey, 64, 32, 0, 32)
    cover = function.ask(plan.prepare(site.layers, BUMPY), at)
    told = Manifest.model_validate_json(out["hand-off.json"].read_bytes())
    packed = read(out["n-me-of-it_packed.png"]).reshape(-1, 3)
    for k, name in enumerate(("occlusion", "roughness", "metallic")):
        assert np.abs(packed[:, k] / 255 - getattr(cover, name)).max() <= 0.51 / 255, name
    glossy = read(out["n-me-of-it_gloss.png"]).ravel()
    assert np.abs(glossy / 65535 - (1 - cover.roughness)).max() <= 0.51 / 65535
    high = next(file for file in told.files if file.entry == "height")
    assert isinstance(high, FileSaid)
    held = high.channels[0]
    height = held.low + read(out["n-me-of-it_height.png"]).ravel() / 65535 * (held.high - held.low)
    lift = np.sqrt(1 + np.square(at.rise()).sum(axis=1))
    assert np.abs(height - (at.elevation_m + cover.relief_m * lift)).max() < (held.high - held.low) / 60000
    parts = np.dstack([read(out[f"n-me-of-it_0{k}"]) for k in ("1_low-wet.png", "2_high.png")]).reshape(-1, 2)
    assert np.abs(parts / 65535 - cover.shares).max() < 1e-5
    np.testing.assert_array_equal(read(out["n-me-of-it_relief.tif"]).ravel(), cover.relief_m)


@settings(max_examples=12)
@given(
    st.integers(1, 4),
    st.integers(1, 3),
    st.integers(0, 5),
    st.tuples(st.floats(0, 60), st.floats(0, 60), st.floats(20, 40), st.floats(20, 40)),
    st.booleans(),
)
def test_tiles_put_together_are_the_whole_and_a_region_is_its_part(
    tmp_path_factory: pytest.TempPathFactory,
    columns: int,
    rows: int,
    border: int,
    part: tuple[float, float, float, float],
    corners: bool,
) -> None:
    folder = tmp_path_factory.mktemp("tiles")
    source = source_of(two_layers(), ROLLING, BUMPY)
    named = [
        entry("normal", "normal", type="uint16", file="n_{row:02d}_{column:02d}", corners=corners),
        entry("shares", "weights", file="w_{row:02d}_{column:02d}_{k}", corners=corners),
    ]
    whole = written(sheet(*named, px=70), source, folder / "whole")
    normal, weights = read(whole["n_01_01.png"]), read(whole["w_01_01_1.png"])
    east, north, wide, deep = part
    region = Region(east_m=east, north_m=north, width_m=wide, depth_m=deep)
    cut = Tiling(columns=columns, rows=rows, border_px=border)
    tiled = written(sheet(*named, px=70, region=region, tiles=cut), source, folder / "tiled")
    told = Manifest.model_validate_json(tiled["hand-off.json"].read_bytes())
    covered = np.zeros(normal.shape[:2], int)
    for file in told.files:
        all_of = normal if file.entry == "normal" else weights
        assert isinstance(file, FileSaid)
        tile = file.tile
        at_row = np.clip(np.arange(-border, tile.rows + border) + tile.first_row, 0, len(all_of) - 1)
        at_col = np.clip(np.arange(-border, tile.columns + border) + tile.first_column, 0, all_of.shape[1] - 1)
        np.testing.assert_array_equal(read(tiled[file.name]), all_of[at_row][:, at_col])
        covered[
            tile.first_row : tile.first_row + tile.rows, tile.first_column : tile.first_column + tile.columns
        ] += 1
    here = covered > 0
    texel = 100 / (69 if corners else 70)
    assert abs(here.any(axis=0).sum() * texel - wide) <= 1.01 * texel * (2 if corners else 1)
    assert abs(here.any(axis=1).sum() * texel - deep) <= 1.01 * texel * (2 if corners else 1)
    assert corners or covered.max() == 2, "each texel is in one tile of both entries"


def test_every_format_reads_back_elsewhere_as_it_was_meant(tmp_path: Path) -> None:

    three, one = ("roughness", "metallic", "occlusion"), ("occlusion",)
    wanted = []
    for form in FORMS.values():
        for kind in form.types:
            for values in (three, one):
                if len(values) in form.channels:
                    name = f"{form.name}{kind}{len(values)}"
                    wanted.append(entry(name, *values, format=form.name, type=kind, low_byte_first=kind != "uint16"))
    source = source_of(two_layers(), ROLLING, BUMPY)
    out = written(sheet(*wanted, px=50), source, tmp_path / "out")
    at = places.on_grid(source.survey, 50, 50, 0, 50)
    cover = function.ask(plan.prepare(source.recipe.layers, BUMPY), at)
    for of in wanted:
        laid = np.stack([getattr(cover, slot.of) for slot in of.holds], -1).reshape(50, 50, -1)
        path = out[f"site_{of.id}.{FORMS[of.format].suffix}"]
        dtype = np.dtype(of.type)
        found = read(path, laid.shape, of.type, not of.low_byte_first).reshape(laid.shape)
        assert found.dtype.newbyteorder("=") == dtype, path.name
        scale = np.iinfo(dtype).max if dtype.kind == "u" else 1
        within = {"uint8": 0.51 / 255, "uint16": 0.51 / 65535, "float16": 1e-3, "float32": 0}[of.type]
        apart = np.abs(found / scale - laid)
        if of.format == "jpeg":
            assert apart.mean() < 0.02, path.name
        else:
            assert apart.max() <= within, path.name
    assert decoded.of_file(out["site_webpuint83.webp"])[..., 2].ravel().tolist() == (
        read(out["site_pnguint83.png"])[..., 0].ravel().tolist()
    )


@pytest.mark.parametrize("name", encoding.ENCODINGS)
def test_colours_are_what_the_standard_library_for_colour_says(name: Encoding) -> None:
    import PyOpenColorIO as ocio

    config = ocio.Config.CreateFromFile(encoding.CONFIG)
    processor = config.getProcessor("Linear Rec.709 (sRGB)", encoding.SPACES[name]).getDefaultCPUProcessor()
    colours = np.random.default_rng(2).random((400, 3)).astype(np.float32)
    found = encoding.encoded(colours.copy(), name)
    meant = np.array([processor.applyRGB([float(c) for c in one]) for one in colours])
    assert np.abs(found - meant).max() < 1 / 1023
    if name != "Linear Rec.709":
        assert np.abs(found - colours).max() > 0.02, "it is another encoding"


def test_colours_of_a_file_are_encoded_as_its_entry_says(tmp_path: Path) -> None:
    wide = entry("wide", "colour", format="exr", type="float16", encoding="ACEScg")
    wanted = sheet(wide, entry("screen", "colour"), entry("deep", "colour", type="uint16"), px=40)
    source = source_of(two_layers(), ROLLING, BUMPY)
    out = written(wanted, source, tmp_path / "out")
    linear = function.ask(
        plan.prepare(source.recipe.layers, BUMPY), places.on_grid(source.survey, 40, 40, 0, 40)
    ).colour
    # primaries of Rec. 709 to AP1 with white adapted by Bradford's method (ACES TB-2014-004)
    to_ap1 = np.array([[0.6131, 0.3395, 0.0474], [0.0702, 0.9164, 0.0134], [0.0206, 0.1096, 0.8698]])
    assert np.abs(read(out["site_wide.exr"]).reshape(-1, 3) - linear @ to_ap1.T).max() < 2e-3
    srgb = np.where(linear <= 0.0031308, linear * 12.92, 1.055 * linear ** (1 / 2.4) - 0.055)
    assert np.abs(read(out["site_screen.png"]).reshape(-1, 3) / 255 - srgb).max() <= 0.6 / 255
    assert np.abs(read(out["site_deep.png"]).reshape(-1, 3) / 65535 - srgb).max() <= 2 / 65535


@pytest.mark.parametrize("strongest", [0, 4])
def test_weights_of_the_strongest_four_still_sum_to_all(tmp_path: Path, strongest: int) -> None:
    rules = [Rule(clauses=(OnNoise(size_m=9, seed=k, lower=0.3, soft_lower=0.4),)) for k in range(5)]
    layers = tuple(layer(f"layer {k}", k, rule, edge=Edge(kind="fade"), opacity=0.6) for k, rule in enumerate(rules))
    wanted = sheet(entry("w", "weights", file="w{k}", strongest=strongest), px=64)
    out = written(wanted, source_of(recipe(layers, ROLLING), ROLLING, BUMPY), tmp_path / "out")
    weights = np.concatenate([read(out["w1.png"]), read(out["w2.png"])], axis=2).astype(int)
    assert (weights.sum(axis=2) == 255).all()
    most = (weights > 0).sum(axis=2).max()
    assert most <= 4 if strongest else most == 5
    source = source_of(recipe(layers, ROLLING), ROLLING, BUMPY)
    shares = function.ask(plan.prepare(layers, BUMPY), places.on_grid(source.survey, 64, 64, 0, 64)).shares
    if strongest:
        kept = np.where(shares >= np.sort(shares, axis=1)[:, -4:-3], shares, 0)
        shares = kept / kept.sum(axis=1, keepdims=True)
    assert np.abs(weights.reshape(-1, 8)[:, :5] - shares * 255).max() < 1.02


def test_samples_on_corners_are_those_of_the_ground_and_its_edges(tmp_path: Path) -> None:
    ground = rolling(129)
    heights = entry("h", "elevation", format="raw", type="float32", corners=True, longer_px=129)
    own = entry("own", "elevation", format="raw", type="uint16", corners=True, longer_px=129)
    own = own.model_copy(update={"holds": (Slot(of="elevation", range="own", low=0, high=100),)})
    out = written(sheet(heights, own), source_of(recipe((layer("a", 0),), ground), ground, BUMPY), tmp_path / "out")
    np.testing.assert_array_equal(read(out["site_h.raw"], (129, 129), "float32"), ground.heights_m)
    np.testing.assert_allclose(read(out["site_own.raw"], (129, 129)) / 655.35, ground.heights_m, atol=0.001)


def test_a_range_that_is_found_uses_all_codes(tmp_path: Path) -> None:
    found = entry("relief", "relief", type="uint16").model_copy(update={"holds": (Slot(of="relief", range="found"),)})
    source = source_of(two_layers(), ROLLING, BUMPY)
    cut = Tiling(columns=2, rows=2)
    tiled = found.model_copy(update={"file": "r_{row}{column}"})
    out = written(sheet(tiled, px=64, tiles=cut), source, tmp_path / "out")
    codes = [read(path) for name, path in out.items() if name.endswith(".png")]
    assert min(one.min() for one in codes) == 0
    assert max(one.max() for one in codes) == 65535
    told = json.loads(out["hand-off.json"].read_text())["files"]
    assert len({file["channels"][0]["low"] for file in told}) == 1, "all tiles have one range"
    at = places.on_grid(source.survey, 64, 64, 0, 64)
    cover = function.ask(plan.prepare(source.recipe.layers, BUMPY), at)
    assert told[0]["channels"][0]["low"] == pytest.approx(float(cover.relief_m.min()))


def test_the_mask_of_water_and_its_depth(tmp_path: Path) -> None:
    ground = plane(10.0, 90.0)
    wet = recipe((layer("base", 0),), ground).model_copy(update={"water": Water(on=True, level_m=50.0)})
    wanted = sheet(entry("water", "water"), entry("depth", "water-depth", format="tiff", type="float32"), px=64)
    out = written(wanted, source_of(wet, ground, {NAMES[0]: flat_set(0.5)}), tmp_path / "out")
    mask = read(out["site_water.png"])
    # the plane rises to the east through 50 m in its middle
    assert (mask[:, :32] == 255).all()
    assert (mask[:, 32:] == 0).all()
    metre = 100 / 64
    deep = np.tan(np.radians(10)) * (50 - (np.arange(32) + 0.5) * metre)
    np.testing.assert_allclose(read(out["site_depth.tif"])[10, :32], deep, atol=0.02)


def test_measures_are_written_in_their_units(tmp_path: Path) -> None:
    import tifffile

    ground = Heightfield(plane(20).heights_m, 100.0, 50.0)
    wanted = sheet(
        entry("steep", "slope", format="tiff", type="float32"), entry("fine", "slope", type="uint16"), px=700
    )
    out = written(wanted, source_of(recipe((), ground), ground, {}), tmp_path / "out")
    with tifffile.TiffFile(out["site_steep.tif"]) as file:
        assert "slope, ?" in file.pages.first.description
        steep = file.pages[0].asarray()
    assert steep.dtype == np.float32
    assert steep.shape == (350, 700)
    # 100 m of heights squeezed into a depth of 50 m: only the eastward rise is there
    assert np.abs(steep - 20).max() < 0.01


def test_what_was_finished_before_a_stop_is_not_made_again(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    wanted = sheet(entry("c", "colour", file="c_{row}{column}"), tiles=Tiling(columns=2, rows=2))
    source = source_of(two_layers(), ROLLING, BUMPY)
    once = written(wanted, source, tmp_path / "once")
    token, steps = Token(), list[tuple[str, int, int]]()

    def step(doing: str, done: int, of: int) -> None:
        steps.append((doing, done, of))
        if done == 2:
            token.cancel()

    with pytest.raises(CancelledError):
        job.write(wanted, source, tmp_path / "twice", Run(token, step=step))
    assert steps[-1][1:] == (2, 4)
    (part,) = [path for path in tmp_path.iterdir() if path.name.startswith(job.PART)]
    asked: list[bands.Inside] = []
    real = bands.Asking.bands

    def counted(self: bands.Asking, grid: places.Grid, where: bands.Inside, kinds: list[MapValue]) -> object:
        asked.append(where)
        return real(self, grid, where, kinds)

    monkeypatch.setattr(bands.Asking, "bands", counted)
    # one that was damaged since is made again
    (part / "c_a1.png").write_bytes(b"damaged")
    again = written(wanted, source, tmp_path / "twice")
    assert len(asked) == 3
    assert not part.exists()
    for name, path in once.items():
        assert path.read_bytes() == again[name].read_bytes(), "the same recipe gives the same bytes"


def test_a_stop_before_the_first_tile_leaves_nothing(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(bands, "BAND_TEXELS", 64)
    token = Token()

    def stop(share: float) -> None:
        if share > 0.2:
            token.cancel()

    with pytest.raises(CancelledError):
        job.write(
            sheet(entry("c", "colour")), source_of(two_layers(), ROLLING, BUMPY), tmp_path / "out", Run(token, stop)
        )
    assert list(tmp_path.iterdir()) == []


def test_bands_do_not_show(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    wanted = sheet(entry("n", "normal", type="uint16"), entry("c", "colour"), px=64)
    source = source_of(two_layers(), ROLLING, BUMPY)
    whole = written(wanted, source, tmp_path / "whole")
    monkeypatch.setattr(bands, "BAND_TEXELS", 64 * 5)
    banded = written(wanted, source, tmp_path / "banded")
    for name, path in whole.items():
        assert path.read_bytes() == banded[name].read_bytes(), name


def test_a_file_that_reads_back_otherwise_is_said(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    real = tile_work._Writing._reads_back

    def damaged(self: tile_work._Writing) -> bool:
        data = bytearray(self._path.read_bytes())
        data[-20] ^= 1
        self._path.write_bytes(data)
        return real(self)

    monkeypatch.setattr(tile_work._Writing, "_reads_back", damaged)
    raw = entry("r", "roughness", format="raw")
    with pytest.raises(RefusalError, match=r"site_r.raw: found other numbers than were meant when it was read back"):
        written(sheet(raw), source_of(two_layers(), ROLLING, BUMPY), tmp_path / "out")
    assert list(tmp_path.iterdir()) == []


def test_an_existing_folder_keeps_its_other_files(tmp_path: Path) -> None:
    (tmp_path / "out").mkdir()
    (tmp_path / "out" / "notes.txt").write_text("mine")
    written(sheet(entry("r", "roughness")), source_of(two_layers(), ROLLING, BUMPY), tmp_path / "out")
    assert sorted(p.name for p in (tmp_path / "out").iterdir()) == ["hand-off.json", "notes.txt", "site_r.png"]
    (tmp_path / "file").write_text("")
    with pytest.raises(RefusalError, match="expected a folder to write to"):
        written(sheet(entry("r", "roughness")), source_of(two_layers(), ROLLING, BUMPY), tmp_path / "file" / "out")


@pytest.mark.parametrize(
    ("entries", "said"),
    [
        ([], "no entries"),
        ([entry("a", "colour", file="{sight}")], r"'\{sight\}': found a field \{sight\}, expected some of \{site\}"),
        ([entry("a", "colour", file="{site.__class__}")], "a field {site.__class__}"),
        ([entry("a", "colour", file="{site!r}")], "expected at most digits"),
        ([entry("a", "colour", file="{k:>999999999d}")], "expected at most digits"),
        ([entry("a", "colour", file="../{site}")], "plain letters"),
        ([entry("a", "colour", file="{site")], "braces in pairs"),
        ([entry("a", "colour", file="X"), entry("b", "normal", file="x")], "two entries that become x.png"),
        ([entry("a", "colour", "roughness", "occlusion")], "5 channels in PNG"),
        ([entry("a", "colour", type="float16")], "PNG of float16, expected one of uint8, uint16"),
        ([entry("a", "shares", "roughness", "occlusion", file="{k}")], "a file of their own"),
        ([entry("a", "colour", longer_px=8)], "8 texels along the longer side"),
    ],
)
def test_what_cannot_be_written_is_refused_as_typed(entries: list[MapsEntry], said: str) -> None:
    with pytest.raises(RefusalError, match=said if "\\" in said else None) as refused:
        files_of(sheet(*entries), source_of(two_layers(), ROLLING, BUMPY))
    assert "\\" in said or said in str(refused.value)


def test_more_files_than_anybody_wants_are_refused_at_once() -> None:
    many = [entry(f"entry{k}", "colour", file=f"e{k}_{{row}}_{{column}}") for k in range(3)]
    with pytest.raises(RefusalError, match="more than 8192 files"):
        files_of(sheet(*many, px=96, tiles=Tiling(columns=64, rows=64)), source_of(two_layers(), ROLLING, BUMPY))


def test_tiles_of_one_name_are_refused_with_what_tells_them_apart() -> None:
    with pytest.raises(RefusalError, match=r"two tiles or levels that become site_a.png, .*use \{row\}\{column\}"):
        files_of(sheet(entry("a", "colour"), tiles=Tiling(columns=2)), source_of(two_layers(), ROLLING, BUMPY))


@given(st.integers(1, 800))
def test_rows_are_letters_or_numbers(row: int) -> None:
    letters = format(file_names.Row(row), "")
    value = 0
    for letter in letters:
        value = value * 26 + ord(letter) - ord("a") + 1
    assert value == row
    assert f"{file_names.Row(row):03d}" == f"{row:03d}"


def test_what_is_looked_into_before_and_after_is_what_is_written(tmp_path: Path) -> None:
    import base64

    wanted = sheet(
        entry("n", "normal", type="uint16", file="n_{row}{column}"),
        entry("h", "height", type="uint16", file="h_{row}{column}"),
        tiles=Tiling(columns=2, rows=2, border_px=3),
        px=128,
    )
    source = source_of(two_layers(), ROLLING, BUMPY)
    out = written(wanted, source, tmp_path / "out")
    told = {file.name: file for file in Manifest.model_validate_json(out["hand-off.json"].read_bytes()).files}
    for file in files_of(wanted, source)[4:6]:
        before = Looking(source, Token()).into(file, Window(20, 30, 16, 8, 1))
        said = told[file.name]
        assert isinstance(said, FileSaid)
        after = landed(out[file.name], said, Window(20, 30, 16, 8, 1))
        assert before.values == after.values
        numbers = np.frombuffer(base64.b64decode(after.values), "<f4").reshape(8, 16, -1)
        codes = read(out[file.name]).reshape(file.image.height, file.image.width, -1)[30:38, 20:36]
        held = said.channels[0]
        np.testing.assert_allclose(numbers, held.low + codes / 65535 * (held.high - held.low), atol=1e-3)
        assert base64.b64decode(after.picture).startswith(b"\x89PNG")
        assert sum(after.spread[0].counts) > 0
