"""Pictures to keep: the demo's Far is clean, stills of any size, their passes, sequences, sheets; kept lights."""

from __future__ import annotations

import io
import itertools
import json
from datetime import date
from pathlib import Path

import numpy as np
import OpenEXR
import pytest
from PIL import Image

from elvatch.app.stills import StillAsk
from elvatch.app.workshop import Workshop
from elvatch.cli.commands import main
from elvatch.core.document.light import ImageLight, Light, When
from elvatch.core.document.recipe import Recipe, Shot
from elvatch.core.document.water import KeptLight, Water
from elvatch.core.formats import panorama as panorama_files
from elvatch.core.light import drawn_sky, panorama
from elvatch.core.light.lighting import lighting
from elvatch.core.parallel import Token
from elvatch.core.picture.picture import View
from elvatch.core.picture.still import graded
from elvatch.core.refusal import CancelledError, RefusalError
from elvatch.core.run import Run
from elvatch.demo import scenario
from elvatch.store.store import Store
from tests.core.test_place import lightness


@pytest.fixture(scope="module")
def shop(demo_data: Path) -> Workshop:
    return Workshop(Store(demo_data))


@pytest.fixture(scope="module")
def vellin(shop: Workshop) -> Recipe:
    return shop.store.sites.find(scenario.TITLE).recipe


@pytest.mark.parametrize("height", [8.0, 30.0, 60.0])
def test_far_of_the_demo_has_no_specks(shop: Workshop, vellin: Recipe, height: float) -> None:
    lit = vellin.model_copy(update={"light": vellin.light.model_copy(update={"sun_height_deg": height})})
    seen = lightness(shop.pictures.take(lit, View("far", 620, 520)).pixels)
    about = [np.roll(seen, by, (0, 1)) for by in itertools.product((-1, 0, 1), repeat=2) if by != (0, 0)]
    specks = (np.min(about, axis=0) - seen > 0.25)[1:-1, 1:-1].sum()
    assert specks < seen.size / 20_000


def test_the_demos_last_pool_is_seen_and_rules_can_ask_for_it(shop: Workshop, vellin: Recipe) -> None:
    assert vellin.water.on
    dry = vellin.model_copy(update={"water": Water()})
    pictures = [shop.pictures.take(one, View("far", 310, 260)).pixels.astype(int) for one in (vellin, dry)]
    differs = np.abs(pictures[0] - pictures[1]).max(axis=2) > 25
    assert 0.003 < differs.mean() < 0.08
    depth = shop.grounds.measures(vellin.ground, water=vellin.water).map("water-depth")
    assert depth.max() > 1.5


def asked(**parts: object) -> StillAsk:
    return StillAsk.model_validate({"stands": ("far",), "width_px": 96, "height_px": 64, "rays": 4} | parts)


def test_a_still_is_the_same_pixels_each_time_and_like_the_picture(
    shop: Workshop, vellin: Recipe, tmp_path: Path
) -> None:
    ask = asked(width_px=240, height_px=160)
    first, again = (shop.stills.take(vellin, ask, tmp_path / name) for name in ("a", "b"))
    assert [path.name for path in first] == ["far.png"]
    assert first[0].read_bytes() == again[0].read_bytes()
    still = np.asarray(Image.open(first[0])).astype(int)
    shown = shop.pictures.take(vellin, View("far", 240, 160)).pixels.astype(int)
    assert np.abs(still - shown).mean() < 6
    assert np.abs(still.mean(axis=(0, 1)) - shown.mean(axis=(0, 1))).max() < 2


def test_a_still_in_several_bands_is_that_in_one(
    shop: Workshop, vellin: Recipe, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    ask = asked(stands=("near",), rays=2, passes=("depth",))
    whole = shop.stills.take(vellin, ask, tmp_path / "whole")
    monkeypatch.setattr("elvatch.core.picture.still._BAND_PIXELS", 96 * 8)
    bands = shop.stills.take(vellin, ask, tmp_path / "bands")
    pixels = [np.asarray(Image.open(paths[0])).astype(int) for paths in (whole, bands)]
    assert (np.abs(pixels[0] - pixels[1]) > 2).mean() < 0.01


def test_passes_tell_what_is_seen(shop: Workshop, vellin: Recipe, tmp_path: Path) -> None:
    names = ("radiance", "depth", "mist", "normal", "layers", "shares", "sun", "sky")
    paths = shop.stills.take(vellin, asked(passes=names), tmp_path / "out")
    planes = OpenEXR.File(str(paths[1]), separate_channels=True).channels()
    values = {name: channel.pixels for name, channel in planes.items()}
    depth, mist = values["depth.Z"], values["mist.mist"]
    distance = vellin.stands.far.distance_m
    assert depth.shape == (64, 96)
    assert depth[40, 48] == pytest.approx(distance, rel=0.3)
    ground = np.isfinite(depth)
    assert (np.diff(mist[ground][np.argsort(depth[ground])][:: ground.sum() // 5]) > 0).all(), (
        "air takes more far off"
    )
    length = np.sqrt(sum(values[f"normal.{one}"] ** 2 for one in "XYZ"))
    assert length[ground] == pytest.approx(1.0, abs=1e-3)
    shares = np.stack([values[key] for key in values if key.startswith("shares.")])
    site = values["layers.layer"] >= 0
    assert shares.sum(axis=0)[site] == pytest.approx(1.0, abs=1e-3)
    assert 0.3 < site.mean() < 0.95
    for one in "RGB":
        total = values[f"sun.{one}"] + values[f"sky.{one}"]
        np.testing.assert_allclose(total, values[f"radiance.{one}"], rtol=1e-3, atol=1e-5)
    assert values["sun.R"].mean() > values["sky.R"].mean()


def test_shots_a_sheet_and_the_command_line(
    shop: Workshop, vellin: Recipe, tmp_path: Path, demo_data: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    near = Shot(id="shot0", name="At the rod", stand=vellin.stands.near, peg=vellin.peg, light=Light(overcast=1.0))
    recipe = vellin.model_copy(update={"shots": (near,)})
    out = shop.stills.take(recipe, asked(shots=("shot0",), sheet=True), tmp_path / "out")
    assert [path.name for path in out] == ["at-the-rod.png", "far.png", "sheet.png"]
    assert Image.open(out[2]).width > 2 * 96
    with pytest.raises(RefusalError, match="found none called 'gone'"):
        shop.stills.check(recipe, asked(shots=("gone",)))
    with pytest.raises(RefusalError, match="no view"):
        shop.stills.check(recipe, asked(stands=()))
    with pytest.raises(RefusalError, match="take fewer passes"):
        shop.stills.check(recipe, asked(width_px=8192, height_px=8192, passes=("shares", "sun")))
    arguments = [
        "still",
        scenario.TITLE,
        "--data",
        str(demo_data),
        "--stand",
        "far",
        "--size",
        "64x48",
        "--rays",
        "2",
        "--passes",
        "depth,mist,normal,layers",
        "--out",
        str(tmp_path / "cli"),
        "--json",
    ]
    assert main(arguments) == 0
    written = {one["name"] for one in json.loads(capsys.readouterr().out)}
    assert written == {"far.png", "far_passes.exr"}
    assert main([*arguments[:8], "--passes", "colour", "--out", str(tmp_path / "no")]) == 2
    assert "--passes" in capsys.readouterr().err
    assert main([*arguments, "--rays", "100"]) == 2
    assert "rays: found 100" in capsys.readouterr().err


def test_a_turn_and_a_day_of_sun(shop: Workshop, vellin: Recipe, tmp_path: Path) -> None:
    ask = asked(rays=1, sequence="turn", frames=4, seconds=2.0, width_px=48, height_px=32)
    moving = Image.open(shop.stills.take(vellin, ask, tmp_path / "turn")[0])
    assert (moving.format, getattr(moving, "n_frames", 1), moving.size) == ("WEBP", 4, (48, 32))
    when = When(latitude_deg=54.0, hour=9.0)
    dated = vellin.model_copy(update={"light": vellin.light.model_copy(update={"when": when})})
    day = shop.stills.take(dated, ask.model_copy(update={"sequence": "day", "moving": "png"}), tmp_path / "day")
    assert [path.name for path in day] == [f"far_{k:03d}.png" for k in range(1, 5)]
    frames = [np.asarray(Image.open(path)).astype(float).reshape(-1, 3) for path in day]
    lit = [one[one.sum(axis=1) > np.percentile(one.sum(axis=1), 90)].mean(axis=0) for one in frames]
    assert lit[0][0] / lit[0][2] > lit[1][0] / lit[1][2], "in the morning what is lit is warmer"
    with pytest.raises(RefusalError, match="numbered PNGs"):
        shop.stills.check(vellin, ask.model_copy(update={"frames": 480, "width_px": 1920, "height_px": 1080}))
    dark = dated.model_copy(
        update={"light": dated.light.model_copy(update={"when": When(latitude_deg=89, day=date(2026, 12, 21))})}
    )
    with pytest.raises(RefusalError, match="stays down"):
        shop.stills.take(dark, ask.model_copy(update={"sequence": "day"}), tmp_path / "dark")


def test_a_cancelled_still_leaves_nothing_behind(shop: Workshop, vellin: Recipe, tmp_path: Path) -> None:
    token = Token()
    run = Run(token, lambda share: token.cancel() if share > 0.3 else None)
    with pytest.raises(CancelledError):
        shop.stills.take(vellin, asked(rays=8), tmp_path / "out", run)
    assert list(tmp_path.iterdir()) == []


def test_warmth_keeps_grey_as_bright_and_contrast_keeps_the_ends() -> None:
    grey = np.full((1, 3), 0.3, np.float32)
    warm = graded(grey, 0.7, 0.0)
    assert warm[0, 0] > warm[0, 1] > warm[0, 2]
    assert warm @ [0.2126, 0.7152, 0.0722] == pytest.approx(0.3, rel=1e-3)
    ends = graded(np.array([[0, 0, 0], [1, 1, 1]], np.float32), 0.0, 1.0)
    np.testing.assert_allclose(ends, [[0, 0, 0], [1, 1, 1]], atol=1e-6)


def sun_over_grey(height_deg: float, aside_deg: float, irradiance: float, rows: int = 256) -> np.ndarray:
    """A panorama of even light with a sun of one degree across."""
    toward, angle = panorama.directions(rows, 2 * rows)
    up, turn = np.radians(height_deg), np.radians(aside_deg)
    sun = np.array([np.cos(up) * np.cos(turn), np.cos(up) * np.sin(turn), np.sin(up)])
    disc = toward @ sun > np.cos(np.radians(1.0))
    area = (disc * angle[:, None]).sum()
    values = np.full((rows, 2 * rows, 3), 0.1, np.float32)
    values[disc] += irradiance / area
    return values


@pytest.mark.parametrize(("height", "aside"), [(40.0, 0.0), (20.0, 120.0), (55.0, 179.8)])
def test_the_sun_of_a_panorama_is_found_and_cast(height: float, aside: float) -> None:
    made = panorama.prepare("x" * 40, sun_over_grey(height, aside, 2.0))
    assert made.sun is not None
    bearing = np.degrees(np.arctan2(made.sun[1], made.sun[0]))
    assert np.degrees(np.arcsin(made.sun[2])) == pytest.approx(height, abs=0.5)
    assert (bearing - aside + 180) % 360 - 180 == pytest.approx(0, abs=0.5)
    np.testing.assert_allclose(made.sun_colour, 2.0, rtol=0.03)
    np.testing.assert_allclose(made.table, 0.1, rtol=0.05)
    # turned to a bearing, its middle stands there: a sun aside stands anticlockwise of it
    image = ImageLight(file="a" * 40, file_name="x.exr", turn_deg=90.0)
    lit = lighting(Light(image=image), panorama=made)
    compass = np.degrees(np.arctan2(lit.sun[0], lit.sun[1]))
    assert (compass - (90 - aside) + 180) % 360 - 180 == pytest.approx(0, abs=0.5)
    assert lit.sky.level == pytest.approx([0.1 * np.pi] * 3, rel=0.02)


def test_an_even_sky_has_no_sun_and_drawn_skies_have_one() -> None:
    assert panorama.prepare("x", np.full((64, 128, 3), 0.4, np.float32)).sun is None
    for name in drawn_sky.NAMES:
        assert panorama.prepare(name, drawn_sky.draw(name)).sun is not None


def hdr(values: np.ndarray) -> bytes:
    import imagecodecs

    return bytes(imagecodecs.rgbe_encode(np.ascontiguousarray(values, np.float32), header=True))


def png(size: tuple[int, int]) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", size).save(out, "PNG")
    return out.getvalue()


def test_panoramas_that_are_none_are_refused_in_one_sentence(shop: Workshop) -> None:
    good = np.full((16, 32, 3), 0.5, np.float32)
    wide = b"#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 4500 +X 9000\n"
    for name, data, match in (
        ("square.hdr", hdr(good[:, :16]), "16 x 16 pixels"),
        ("wide.hdr", wide, "9000 px wide"),
        ("flat.png", png((32, 16)), "8 bits"),
        ("what.hdr", b"nothing", "another kind"),
        ("cut.hdr", hdr(good)[:120], "damaged"),
        ("black.hdr", hdr(good * 0), "black"),
    ):
        with pytest.raises(RefusalError, match=match) as refused:
            shop.panoramas.bring(name, data)
        assert "\n" not in str(refused.value)
    broken = good.copy()
    broken[3, 4], broken[5, 6, 1] = np.nan, -2.0
    path = io.BytesIO()
    OpenEXR.File({}, {one: np.ascontiguousarray(broken[..., k]) for k, one in enumerate("RGB")}).write(path)
    mended = panorama_files.decode("broken.exr", path.getvalue())
    assert np.isfinite(mended.values).all()
    assert mended.values.min() >= 0
    assert [note[:7] for note in mended.notes] == ["1 pixel", "1 pixel"]


def test_a_panorama_turned_by_ninety_degrees_turns_the_light(shop: Workshop, vellin: Recipe) -> None:
    facts = shop.panoramas.drawn("broken cloud")
    assert facts.has_sun
    image = ImageLight(file=facts.file, file_name=facts.file_name, turn_deg=180)
    shown = []
    for turn in (180.0, 270.0):
        light = Light(image=image.model_copy(update={"turn_deg": turn}))
        shown.append(shop.pictures.take(vellin.model_copy(update={"light": light}), View("far", 160, 120)).pixels)
    assert np.abs(shown[0].astype(int) - shown[1]).mean() > 6


def test_kept_lights_go_from_site_to_site(shop: Workshop) -> None:
    kept = KeptLight(name="Dusk", light=Light(sun_height_deg=4), water=Water(clarity_m=0.4))
    first = shop.store.lights.keep(kept)
    second = shop.store.lights.keep(kept.model_copy(update={"light": Light(sun_height_deg=6)}))
    assert [(one.id, one.kept.light.sun_height_deg) for one in shop.store.lights.all()] == [(second.id, 6.0)]
    assert first.id != second.id
    gone = Light(image=ImageLight(file="b" * 40, file_name="gone.exr"))
    with pytest.raises(RefusalError, match="not at hand"):
        shop.store.lights.keep(KeptLight(name="Lost", light=gone))
    assert len(shop.store.lights.all()) == 1, "what was refused left nothing"
    shop.store.lights.remove(second.id)
    assert shop.store.lights.all() == []
