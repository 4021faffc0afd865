"""Height files in, maps out: what is read is what was written; what is broken is refused in one sentence."""

from __future__ import annotations

import io
import struct
import zlib
from typing import Any

import numpy as np
import pytest
import tifffile
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra import numpy as hnp
from PIL import Image

from elvatch.core.formats import png
from elvatch.core.ground import heights
from elvatch.core.refusal import RefusalError
from tests import decoded

RNG = np.random.default_rng(5)
GREY8 = RNG.integers(0, 256, (20, 30)).astype(np.uint8)
GREY16 = RNG.integers(0, 65536, (20, 30)).astype(np.uint16)
FLOATS = RNG.normal(0, 50, (20, 30)).astype(np.float32)


def tiff(values: np.ndarray, **options: object) -> bytes:
    out = io.BytesIO()
    given: dict[str, Any] = dict(options)
    tifffile.imwrite(out, values, **given)
    return out.getvalue()


def npy(values: np.ndarray) -> bytes:
    out = io.BytesIO()
    np.save(out, values)
    return out.getvalue()


def pil(values: np.ndarray, mode: str | None = None) -> bytes:
    out = io.BytesIO()
    image = Image.fromarray(values)
    (image.convert(mode) if mode else image).save(out, "PNG")
    return out.getvalue()


@pytest.mark.parametrize(
    ("data", "values", "bits"),
    [
        (pil(GREY8), GREY8, 8),
        (pil(GREY16), GREY16, 16),
        (tiff(GREY8), GREY8, 8),
        (tiff(GREY16, compression="lzw"), GREY16, 16),
        (tiff(GREY16, byteorder=">"), GREY16, 16),
        (tiff(FLOATS, tile=(16, 16), compression="deflate"), FLOATS, 32),
        (tiff(FLOATS, bigtiff=True), FLOATS, 32),
        (npy(GREY16), GREY16, 16),
        (npy(FLOATS.astype(">f8")), FLOATS, 32),
        (npy(np.asfortranarray(FLOATS)), FLOATS, 32),
    ],
)
def test_heights_are_read_as_written(data: bytes, values: np.ndarray, bits: int) -> None:
    file = heights.read("any name.jpg", data)
    np.testing.assert_array_equal(file.values, values)
    assert file.values.flags.c_contiguous
    assert (file.rows, file.cols, file.bits) == (20, 30, bits)
    assert file.levels == len(np.unique(values))
    assert (file.lowest, file.highest) == (values.min(), values.max())
    assert file.share_lowest == pytest.approx((values == values.min()).mean())


def test_true_size_and_range_are_given_by_the_user() -> None:
    ground = heights.place(heights.read("x", pil(GREY16)), 600.0, 400.0, 84.0, 226.0)
    assert (ground.lowest_m, ground.highest_m) == pytest.approx((84.0, 226.0), abs=1e-4)
    assert ground.cell_x_m == pytest.approx(600 / 29)
    wanted = 84 + (GREY16.astype(float) - GREY16.min()) / float(GREY16.max() - GREY16.min()) * 142
    np.testing.assert_allclose(ground.heights_m, wanted, atol=1e-4)


def png_header(width: int, height: int, bits: int = 16, kind: int = 0) -> bytes:
    body = b"IHDR" + struct.pack(">IIBBBBB", width, height, bits, kind, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + struct.pack(">I", 13) + body + struct.pack(">I", zlib.crc32(body))


HOLED = FLOATS.copy()
HOLED[3, 4], HOLED[5, 6] = np.nan, np.inf
PALETTE = io.BytesIO()
Image.fromarray(GREY8).convert("P").save(PALETTE, "PNG")
REFUSED = {
    "text named png": (b"this is no picture at all", "no PNG, TIFF, EXR, NPY or ASCII grid inside"),
    "empty": (b"", "found an empty file"),
    "truncated PNG": (pil(GREY16)[:-60], "damaged PNG"),
    "PNG cut in its header": (pil(GREY16)[:20], "without a header"),
    "corrupt PNG": (pil(GREY16)[:80] + b"\x00\x01\x02" + pil(GREY16)[83:], "damaged PNG"),
    "RGB PNG": (pil(np.dstack([GREY8] * 3)), "3 channels (RGB)"),
    "RGBA PNG": (pil(np.dstack([GREY8] * 4)), "4 channels (RGBA)"),
    "grey and alpha": (pil(GREY8, "LA"), "grey with alpha"),
    "palette PNG": (PALETTE.getvalue(), "a palette"),
    "1-bit PNG": (pil(GREY8 > 99), "1 bits each"),
    "giant PNG": (png_header(40_000, 40_000), "40000 x 40000 samples, expected at most 20000 a side"),
    "wide PNG": (png_header(2_000_000_000, 2), "samples, expected at most"),
    "nothing wide PNG": (png_header(0, 9), "0 x 9 samples"),
    "1x1": (pil(GREY8[:1, :1]), "1 x 1 samples, expected at least 8 x 8"),
    "thin strip": (npy(FLOATS[:, :1]), "1 x 20 samples, expected at least 8 x 8"),
    "infinity": (tiff(HOLED), "1 samples that are infinite"),
    "all NaN": (npy(np.full((9, 9), np.nan)), "no heights at all, only holes"),
    "doubles beyond float": (npy(np.linspace(0, 1e300, 100).reshape(10, 10)), "infinite"),
    "no relief": (npy(np.full((9, 9), 4.0)), "the same value 4 everywhere"),
    "RGB TIFF": (tiff(np.dstack([GREY8] * 3)), "3 channels"),
    "palette TIFF": (tiff(GREY8, photometric="palette", colormap=np.zeros((3, 256), np.uint16)), "a palette"),
    "complex TIFF": (tiff(FLOATS.astype(np.complex64)), "complex64"),
    "truncated TIFF": (tiff(GREY16)[:200], "damaged TIFF"),
    "TIFF without a page": (b"II*\x00\x00\x00\x00\x00", "damaged TIFF"),
    "volume": (npy(np.zeros((4, 9, 9))), "shape (4, 9, 9)"),
    "pickled": (npy(np.array([[object()] * 9] * 9)), "type object"),
    "truncated NPY": (npy(FLOATS)[:-10], "bytes of values"),
    "NPY cut in its header": (npy(FLOATS)[:30], "damaged NPY header"),
}


@pytest.mark.parametrize("case", REFUSED)
def test_broken_heights_are_refused_in_one_sentence(case: str) -> None:
    data, message = REFUSED[case]
    with pytest.raises(RefusalError) as refused:
        heights.read("hill.png", data)
    said = str(refused.value)
    assert message in said
    assert said.startswith("hill.png: found ")
    assert "expected" in said
    assert said.endswith(".")
    assert "\n" not in said


@pytest.mark.parametrize("size", [(-5.0, 10.0, 0.0, 1.0), (10.0, 0.0, 0.0, 1.0), (10.0, 10.0, 5.0, 5.0)])
def test_an_impossible_size_is_refused(size: tuple[float, float, float, float]) -> None:
    with pytest.raises(RefusalError, match="expected"):
        heights.place(heights.read("x", pil(GREY8)), *size)


@given(st.binary(max_size=400))
def test_any_bytes_are_read_or_refused(data: bytes) -> None:
    heads = (
        b"",
        b"\x89PNG\r\n\x1a\n",
        b"II*\x00",
        b"\x93NUMPY\x01\x00",
        pil(GREY8)[:40],
        b"\x76\x2f\x31\x01\x02\x00\x00\x00",
        b"ncols 9\nnrows 9\n",
    )
    for head in heads:
        try:
            heights.read("fuzz", head + data)
        except RefusalError:
            continue


@given(
    hnp.arrays(
        st.sampled_from([np.uint8, np.uint16]),
        st.one_of(
            st.tuples(st.integers(1, 9), st.integers(1, 9)),
            st.tuples(st.integers(1, 9), st.integers(1, 9), st.just(3)),
        ),
    )
)
def test_our_png_is_read_by_others(values: np.ndarray) -> None:
    back = decoded.of_bytes(png.encode(values))
    np.testing.assert_array_equal(back if values.ndim == 2 else back[..., ::-1], values)


def test_bands_make_the_same_png_as_the_whole() -> None:
    out = io.BytesIO()
    writer = png.PngWriter(out, 30, 20, 1, 16)
    for first in range(0, 20, 7):
        writer.write(GREY16[first : first + 7])
    writer.finish()
    with Image.open(out) as image:
        np.testing.assert_array_equal(np.asarray(image), GREY16)
    unfinished = png.PngWriter(io.BytesIO(), 30, 20, 1, 16)
    unfinished.write(GREY16[:5])
    with pytest.raises(ValueError, match="15 rows are missing"):
        unfinished.finish()
