"""Reading heights truthfully: headerless files, EXR, ASCII grids, pages, holes, steps, turns."""

from __future__ import annotations

import io
import tempfile
from collections import Counter
from pathlib import Path

import numpy as np
import OpenEXR
import pytest
import tifffile

from elvatch.core.formats import raw
from elvatch.core.formats.exr import decode as decode_exr
from elvatch.core.formats.reading import RawLayout, Reading
from elvatch.core.ground import heights, mend
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.shaped import Shaped
from elvatch.core.ground.steps import form
from elvatch.core.ground.steps.form import FormStep
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run

RNG = np.random.default_rng(3)
FLOATS = RNG.normal(0, 50, (20, 30)).astype(np.float32)
CHARACTERS = ("rolling", "ridged", "dunes", "gorges", "cellular")


def land(character: str, rows: int, cols: int, seed: int) -> np.ndarray:
    """Heights 0..1 of a generated terrain."""
    flat = Heightfield(np.zeros((rows, cols), np.float32), 1000.0 * (cols - 1) / (rows - 1), 1000.0)
    step = FormStep.model_validate(
        {"id": "form", "name": "x", "character": character, "size_m": 300, "height_m": 100, "seed": seed}
    )
    made = form.apply(Shaped(flat), step, Run()).ground.heights_m
    return np.asarray((made - made.min()) / np.ptp(made))


def exr(channels: dict[str, np.ndarray], **header: object) -> bytes:
    head = {"compression": OpenEXR.ZIP_COMPRESSION, "type": OpenEXR.scanlineimage} | header
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "made.exr"
        OpenEXR.File(head, channels).write(str(path))
        return path.read_bytes()


def test_layouts_of_headerless_files_are_guessed() -> None:
    right: Counter[bool] = Counter()
    for seed, character in enumerate(CHARACTERS):
        for rows, cols in ((257, 257), (512, 512), (300, 400)):
            unit = land(character, rows, cols, 30 + seed)
            for samples, values in (("u16", unit * 65535), ("i16", unit * 9000 - 3000)):
                for big in (False, True):
                    code = (">" if big else "<") + samples[0] + "2"
                    stored = values.astype(code)
                    best = raw.guesses("x.raw", stored.tobytes())[0]
                    read = heights.read("x.raw", stored.tobytes()).values
                    apart = read - stored.astype(np.float32) if read.shape == stored.shape else np.arange(2.0)
                    right[bool(np.ptp(apart) == 0)] += 1
                    if np.ptp(apart) != 0:
                        assert best.confidence < 0.5, "a wrong guess must not sound sure"
    assert right[True] >= 0.95 * sum(right.values())


@pytest.mark.parametrize(("samples", "code"), [("u8", "u1"), ("u32", ">u4"), ("f32", "<f4"), ("f32", ">f4")])
def test_other_sample_types_are_guessed_or_come_second(samples: str, code: str) -> None:
    unit = land("rolling", 257, 257, 5)
    values = {"u8": unit * 255, "u32": unit * 2e6, "f32": unit * 300 - 40}[samples].astype(code)
    found = raw.guesses("x.raw", values.tobytes())
    wanted = [g for g in found[:3] if g.layout.samples == samples and g.layout.big_endian == (code[0] == ">")]
    assert wanted
    assert (wanted[0].layout.width, wanted[0].layout.height) == (257, 257)
    assert sum(g.confidence for g in found) <= 1.0 + 1e-6


def test_noise_is_no_sure_guess() -> None:
    assert raw.guesses("x.raw", RNG.bytes(2 * 200 * 200))[0].confidence < 0.5


def test_a_layout_that_is_given_is_used() -> None:
    stored = RNG.integers(0, 9000, (40, 60)).astype(">i2")
    layout = RawLayout(width=60, height=40, samples="i16", big_endian=True, skip_bytes=7)
    file = heights.read("x.dat", b"1234567" + stored.tobytes(), Reading(raw=layout))
    np.testing.assert_array_equal(file.values, stored)
    assert (file.format, file.bits) == ("RAW", 16)


@pytest.mark.parametrize(
    ("data", "reading", "message"),
    [
        (b"x" * 1009, Reading(), "1009 bytes that fit no plausible size"),
        (b"x" * 100, Reading(raw=RawLayout(width=60, height=40)), "found 100 bytes, expected 4800 for 60 x 40"),
        (b"", Reading(), "an empty file"),
        (bytes(10_000), Reading(), "fit no plausible size"),
    ],
)
def test_headerless_files_that_fit_nothing_are_refused(data: bytes, reading: Reading, message: str) -> None:
    with pytest.raises(RefusalError) as refused:
        heights.read("x.raw", data, reading)
    assert message in str(refused.value)


@pytest.mark.parametrize("kind", [np.float16, np.float32])
def test_any_channel_of_an_exr(kind: type) -> None:
    other: np.ndarray = np.asarray(FLOATS * 2 + 5, kind)
    data = exr({"height": FLOATS.astype(kind), "fog": other})
    file = heights.read("x.exr", data)
    np.testing.assert_array_equal(file.values, FLOATS.astype(kind).astype(np.float32))
    assert file.channels == ("fog", "height")
    np.testing.assert_array_equal(
        heights.read("x.exr", data, Reading(channel="fog")).values, other.astype(np.float32)
    )
    with pytest.raises(RefusalError, match="found channels fog, height, expected a channel 'mist'"):
        heights.read("x.exr", data, Reading(channel="mist"))
    with pytest.raises(RefusalError, match="damaged EXR"):
        heights.read("x.exr", data[: len(data) // 2])


def test_an_exr_without_a_usable_channel_is_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    class Empty:
        def header(self) -> dict[str, object]:
            return {"dataWindow": (np.array([0, 0]), np.array([19, 19]))}

        def channels(self) -> dict[str, object]:
            return {}

    monkeypatch.setattr("elvatch.core.formats.exr.OpenEXR.File", lambda *_, **__: Empty())
    with pytest.raises(RefusalError, match="no usable channel among none"):
        decode_exr("x.exr", b"\x76\x2f\x31\x01rest", Reading())


def test_a_giant_exr_is_refused_before_it_is_decoded() -> None:
    data = bytearray(exr({"Z": FLOATS}))
    at = data.index(b"dataWindow\x00box2i\x00") + len(b"dataWindow\x00box2i\x00") + 4
    data[at + 8 : at + 16] = np.array([39_999, 39_999], "<i4").tobytes()
    with pytest.raises(RefusalError, match="40000 x 40000 samples"):
        heights.read("x.exr", bytes(data))


def ascii_grid(values: np.ndarray, extra: str = "") -> bytes:
    head = f"ncols {values.shape[1]}\nnrows {values.shape[0]}\nxllcorner 0\nyllcorner 0\ncellsize 2.5\n{extra}"
    return (head + "\n".join(" ".join(f"{v:.9g}" for v in row) for row in values)).encode()


def test_ascii_grids_with_their_cell_and_holes() -> None:
    holed = FLOATS.copy()
    holed[4:7, 8:12] = -9999
    file = heights.read("x.asc", ascii_grid(holed, "NODATA_value -9999\n"))
    kept = holed != -9999
    np.testing.assert_array_equal(file.values[kept], FLOATS[kept])
    assert (file.holes, file.cell_m, file.format) == (12, (2.5, 2.5), "ASCII grid")
    assert file.lowest == FLOATS[kept].min()
    for broken, message in (
        (ascii_grid(FLOATS)[:-40], "numbers, expected"),
        (ascii_grid(FLOATS).replace(b"ncols 30", b"ncols many"), "ncols and nrows as numbers"),
        (ascii_grid(FLOATS).replace(b"ncols 30", b"ncols 40000"), "samples, expected at most"),
        (ascii_grid(FLOATS) + b" oops", "text among its numbers"),
    ):
        with pytest.raises(RefusalError, match=message):
            heights.read("x.asc", broken)


def test_pages_no_data_and_cell_of_a_tiff() -> None:
    out = io.BytesIO()
    holed = FLOATS.copy()
    holed[0, 0] = -32768
    with tifffile.TiffWriter(out) as writer:
        writer.write(FLOATS, contiguous=False)
        writer.write(
            holed,
            tile=(16, 16),
            contiguous=False,
            extratags=[(42113, "s", 0, "-32768", True), (33550, "d", 3, (4.0, 5.0, 0.0), True)],
        )
    first, second = (heights.read("x.tif", out.getvalue(), Reading(page=k)) for k in (0, 1))
    np.testing.assert_array_equal(first.values, FLOATS)
    assert (first.pages, second.holes, second.cell_m) == (2, 1, (4.0, 5.0))
    with pytest.raises(RefusalError, match="found 2 pages, expected page 3"):
        heights.read("x.tif", out.getvalue(), Reading(page=2))


@pytest.mark.parametrize("kind", [np.int16, np.int32, np.uint32, np.float64])
def test_tiffs_of_other_numbers(kind: type) -> None:
    out = io.BytesIO()
    values: np.ndarray = np.asarray(FLOATS * 10 + 600, kind)
    tifffile.imwrite(out, values)
    np.testing.assert_allclose(heights.read("x.tif", out.getvalue()).values, values.astype(np.float32))


def test_holes_are_filled_as_a_membrane_would() -> None:
    x, y = np.meshgrid(np.arange(60.0), np.arange(50.0))
    tilted = (0.5 * x - 0.2 * y + 7).astype(np.float32)
    hole = np.hypot(x - 30, y - 25) < 12
    filled = np.where(hole, np.nan, tilted).astype(np.float32)
    mend.fill_holes(filled, hole)
    np.testing.assert_array_equal(filled[~hole], tilted[~hole])
    # no band of rows sees a neighbour that was mended before it
    rows = np.pad(filled, 1, mode="edge").astype(np.float64)
    mean = (rows[:-2, 1:-1] + rows[2:, 1:-1] + rows[1:-1, :-2] + rows[1:-1, 2:]) / 4
    assert np.abs(mean - filled)[hole].max() < 0.02
    # a plane is harmonic: the membrane over the hole is the plane itself
    assert np.abs(filled - tilted)[hole].max() < 0.4
    holed = np.where(hole, np.nan, tilted)
    out = io.BytesIO()
    np.save(out, holed)
    file = heights.read("x.npy", out.getvalue())
    assert file.holes == hole.sum()
    assert np.isfinite(file.values).all()


def test_steps_are_named_and_smoothed_within_half_a_level() -> None:
    x, y = np.meshgrid(np.linspace(0, 6, 200), np.linspace(0, 5, 160))
    smooth = 90 + 60 * np.sin(x) * np.cos(y)
    out = io.BytesIO()
    tifffile.imwrite(out, np.rint(smooth).astype(np.uint8))
    stepped, mended = (heights.read("x.tif", out.getvalue(), Reading(smooth_steps=on)) for on in (False, True))
    assert (stepped.step, stepped.bits) == (1.0, 8)
    assert np.abs(mended.values - stepped.values).max() <= 0.5
    assert (
        np.abs(mended.values - smooth)[8:-8, 8:-8].mean() < 0.5 * np.abs(stepped.values - smooth)[8:-8, 8:-8].mean()
    )
    wide = io.BytesIO()
    tifffile.imwrite(wide, (np.rint(smooth) * 257).astype(np.uint16))
    assert heights.read("x.tif", wide.getvalue()).step == 257


def test_flips_come_before_turns_and_turns_go_clockwise() -> None:
    out = io.BytesIO()
    np.save(out, FLOATS)

    def read(**parts: object) -> np.ndarray:
        return heights.read("x.npy", out.getvalue(), Reading.model_validate(parts)).values

    np.testing.assert_array_equal(read(flip_east_west=True), FLOATS[:, ::-1])
    np.testing.assert_array_equal(read(flip_north_south=True), FLOATS[::-1])
    turned = read(quarter_turns=1)
    assert turned.shape == (30, 20)
    # what was the north-west corner is now the north-east one
    assert turned[0, -1] == FLOATS[0, 0]
    np.testing.assert_array_equal(read(flip_east_west=True, quarter_turns=1), np.rot90(FLOATS[:, ::-1], -1))


def test_what_a_true_size_comes_to() -> None:
    x = np.tile(np.linspace(0, 1, 101, dtype=np.float32), (51, 1))
    out = io.BytesIO()
    np.save(out, x)
    placed = heights.place(heights.read("x.npy", out.getvalue()), 1000.0, 500.0, 0.0, 1000.0)
    assert heights.steepness(placed) == pytest.approx((45.0, 45.0), abs=0.01)
