"""Colour images from outside, and maps of floats written for others to read."""

from __future__ import annotations

import io
import struct
import zlib

import numpy as np
import pytest
import tifffile
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from elvatch.core.formats import photo, tiff
from elvatch.core.mapping import ground_image
from elvatch.core.picture import ramp
from elvatch.core.refusal import RefusalError

RNG = np.random.default_rng(11)
RGB = RNG.integers(0, 256, (40, 60, 3)).astype(np.uint8)


def saved(image: Image.Image, kind: str) -> bytes:
    out = io.BytesIO()
    image.save(out, kind)
    return out.getvalue()


@pytest.mark.parametrize("kind", ["PNG", "TIFF"])
def test_colour_images_are_read_as_written(kind: str) -> None:
    np.testing.assert_array_equal(photo.decode("x", saved(Image.fromarray(RGB), kind)), RGB)


@pytest.mark.parametrize("kind", ["JPEG", "WEBP"])
def test_packed_images_come_near(kind: str) -> None:
    smooth = np.dstack([np.add.outer(np.arange(40), np.arange(60))] * 3).astype(np.uint8)
    assert np.abs(photo.decode("x", saved(Image.fromarray(smooth), kind)).astype(int) - smooth).mean() < 3


def test_grey_palette_and_transparent_images_become_plain_colour() -> None:
    grey = photo.decode("x", saved(Image.fromarray(RGB[..., 0]), "PNG"))
    np.testing.assert_array_equal(grey, np.repeat(RGB[..., :1], 3, axis=2))
    few = (RGB[..., 0] // 64).astype(np.uint8)
    palette = Image.fromarray(few).convert("P")
    assert photo.decode("x", saved(palette, "PNG")).shape == (40, 60, 3)
    half = np.dstack([RGB, np.full((40, 60), 0, np.uint8)])
    assert (photo.decode("x", saved(Image.fromarray(half), "PNG")) == 128).all(), "what is not there is grey"


def giant_png() -> bytes:
    body = b"IHDR" + struct.pack(">IIBBBBB", 40_000, 40_000, 8, 2, 0, 0, 0)
    head = struct.pack(">I", 13) + body + struct.pack(">I", zlib.crc32(body))
    data = b"IDAT" + zlib.compress(bytes(100))
    return b"\x89PNG\r\n\x1a\n" + head + struct.pack(">I", len(data) - 4) + data + struct.pack(">I", zlib.crc32(data))


@pytest.mark.parametrize(
    ("data", "message"),
    [
        (b"", "an empty file"),
        (b"words", "damaged or unknown image"),
        (saved(Image.fromarray(RGB), "PNG")[:200], "damaged or unknown image"),
        (giant_png(), "1600000000 pixels"),
        (saved(Image.fromarray(RGB).convert("CMYK"), "TIFF"), "pixels of kind CMYK"),
        (saved(Image.fromarray(RGB), "BMP"), "damaged or unknown image"),
    ],
)
def test_other_images_are_refused_in_one_sentence(data: bytes, message: str) -> None:
    with pytest.raises(RefusalError) as refused:
        photo.decode("over.png", data)
    said = str(refused.value)
    assert message in said
    assert said.startswith("over.png: found ")
    assert "\n" not in said


@given(st.binary(max_size=300))
@settings(max_examples=30)
def test_any_bytes_are_an_image_or_refused(data: bytes) -> None:
    for head in (b"", b"\x89PNG\r\n\x1a\n", b"\xff\xd8\xff\xe0", b"RIFF....WEBP", b"II*\x00"):
        try:
            photo.decode("fuzz", head + data)
        except RefusalError:
            continue


def test_an_image_over_the_ground_is_stored_as_a_power_of_two_with_its_mean() -> None:
    made = ground_image.prepare(np.full((90, 130, 3), 188, np.uint8), 100.0, 50.0, "a" * 40)
    assert made.pyramid.size == 256
    np.testing.assert_allclose(made.pyramid.mean[:3], 0.5, atol=0.01)
    assert ground_image.prepare(np.zeros((9, 3000, 3), np.uint8), 1.0, 1.0, "").pyramid.size == 2048


@given(st.integers(2, 600), st.integers(2, 600))
@settings(max_examples=15, deadline=None)
def test_maps_of_floats_are_read_by_others_as_they_were(width: int, height: int) -> None:
    values = np.random.default_rng(width * 1000 + height).normal(0, 1e4, (height, width)).astype(np.float32)
    asked: list[int] = []

    def rows_of(first: int, last: int) -> np.ndarray:
        asked.append(last - first)
        return values[first:last]

    out = io.BytesIO()
    tiff.write(out, rows_of, width, height, "heights, m")
    np.testing.assert_array_equal(tifffile.imread(io.BytesIO(out.getvalue())), values)
    assert max(asked) <= tiff.TILE, "never more than a row of tiles at once"
    with tifffile.TiffFile(io.BytesIO(out.getvalue())) as file:
        assert file.pages.first.description == "heights, m"


def test_ramps_show_the_bulk_of_a_map() -> None:
    values = np.linspace(0, 10, 10_000, dtype=np.float32).reshape(100, 100)
    values[0, 0] = 5000
    low, high = ramp.limits(values, "even")
    assert low == pytest.approx(0, abs=0.01)
    assert high < 11, "one spike does not darken all else"
    assert ramp.limits(values - 5, "about zero")[0] == -ramp.limits(values - 5, "about zero")[1]
    assert ramp.limits(values, "compass") == (0.0, 360.0)
    flat = np.full((20, 20), 7.0, np.float32)
    for scale in ("even", "about zero", "logarithmic"):
        low, high = ramp.limits(flat, scale)
        assert low < high, scale
        assert np.isfinite(ramp.positions(flat, scale, low, high)).all()
