"""Files from outside as maps: every bit kept, what is hostile or odd refused or set right, each in one sentence."""

from __future__ import annotations

import io
import struct
import zipfile

import numpy as np
import OpenEXR
import pytest
import tifffile
from PIL import Image

from elvatch.core.formats import png, texture
from elvatch.core.refusal import RefusalError
from elvatch.core.stock import archive, canonical, manifest
from tests.core import pictures as p

RAMP = np.arange(64 * 64, dtype=np.uint16).reshape(64, 64) * 16


def tif(values: np.ndarray, **more: object) -> bytes:
    stream = io.BytesIO()
    tifffile.imwrite(stream, values, **more)  # type: ignore[arg-type]
    return stream.getvalue()


def exr(tmp: object, channels: dict[str, np.ndarray]) -> bytes:
    path = f"{tmp}/made.exr"
    OpenEXR.File({"compression": OpenEXR.ZIP_COMPRESSION}, channels).write(path)
    with open(path, "rb") as stream:
        return stream.read()


@pytest.mark.parametrize("data", [png.encode(RAMP), tif(RAMP), tif(RAMP, byteorder=">"), tif(RAMP, bigtiff=True)])
def test_sixteen_bits_stay_sixteen_bits(data: bytes) -> None:
    raster = texture.decode("ramp", data)
    assert raster.bits == 16
    np.testing.assert_array_equal(raster.values[..., 0], RAMP)
    (kept,) = canonical.maps_of("ramp", raster, "height", False)
    np.testing.assert_array_equal(kept.values, RAMP)


def test_sixteen_bit_colours_are_not_cut_to_eight() -> None:
    values = np.dstack([RAMP, RAMP + 3, RAMP + 5])
    np.testing.assert_array_equal(texture.decode("c", png.encode(values)).values, values)


@pytest.mark.parametrize(("kind", "more"), [("PNG", {}), ("WEBP", {"lossless": True}), ("TGA", {}), ("TIFF", {})])
def test_eight_bit_kinds_give_the_pixels_back(kind: str, more: dict[str, object]) -> None:
    values = p.whole(p.colours(64))
    found = texture.decode("c", p.saved(Image.fromarray(values), kind, **more))
    np.testing.assert_array_equal(found.values, values)
    assert found.notes == ()


def test_gloss_is_inverted_and_twice_inverted_is_itself() -> None:
    raster = texture.decode("g", png.encode(RAMP))
    (rough,) = canonical.maps_of("g", raster, "gloss", False)
    assert rough.role == "roughness"
    np.testing.assert_array_equal(65535 - rough.values.astype(int), RAMP)


def test_linear_colours_are_encoded_and_heights_in_metres_are_scaled(tmp_path: object) -> None:
    half = np.full((16, 16), 0.5, np.float32)
    data = exr(tmp_path, {"R": half, "G": half, "B": half})
    (kept,) = canonical.maps_of("c", texture.decode("c", data), "colour", False)
    # 0.5 linear is 0.7354 in sRGB (IEC 61966-2-1)
    assert np.unique(kept.values).tolist() == [round(0.735357 * 65535)]
    metres = np.linspace(-2, 6, 256, dtype=np.float32).reshape(16, 16)
    (height,) = canonical.maps_of("h", texture.decode("h", exr(tmp_path, {"Y": metres})), "height", False)
    assert (height.values.min(), height.values.max()) == (0, 65535)
    assert "from -2 to 6" in height.note


def test_an_exr_with_odd_channel_names_is_taken_and_said(tmp_path: object) -> None:
    half = np.linspace(0, 1, 256, dtype=np.float32).reshape(16, 16)
    found = texture.decode("x.exr", exr(tmp_path, {"beauty.scatter": half, "beauty.wobble": half * 2}))
    assert found.values.shape == (16, 16, 1)
    assert "only beauty.scatter was taken" in found.notes[0]
    named = texture.decode(
        "x.exr", exr(tmp_path, {"layer.R": half, "layer.G": half, "layer.B": half, "layer.A": half})
    )
    assert named.values.shape == (16, 16, 3)


def test_palettes_one_bit_and_transparency_are_set_right_and_said() -> None:
    palette = Image.fromarray(p.whole(p.colours(64))).quantize(16)
    found = texture.decode("p", p.saved(palette, "PNG"))
    np.testing.assert_array_equal(found.values, np.asarray(palette.convert("RGB")))
    assert "palette" in found.notes[0]
    one_bit = texture.decode("b", p.saved(Image.fromarray(RAMP > 30000), "PNG"))
    assert (one_bit.bits, sorted(np.unique(one_bit.values).tolist())) == (1, [0, 255])
    rgba = np.dstack([p.whole(p.colours(64)), p.whole(p.relief(64))])
    shown = texture.decode("a", p.saved(Image.fromarray(rgba), "PNG"))
    np.testing.assert_array_equal(shown.values, rgba[..., :3])
    assert "transparency" in shown.notes[0]


def huge_png() -> bytes:
    """A PNG of 100 megapixels by its header, which holds next to nothing."""
    head = struct.pack(">IIBBBBB", 10_000, 10_000, 8, 2, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + struct.pack(">I", 13) + b"IHDR" + head + b"\0" * 200


JPEG = p.saved(Image.fromarray(p.whole(p.colours(64))), "JPEG", quality=95)


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "an empty file"),
        (JPEG[: len(JPEG) // 2], "damaged"),
        (huge_png(), "10000 x 10000 pixels"),
        (png.encode(RAMP)[:-20], "ends too early"),
        (b"II*\0" + b"\0" * 40, "damaged"),
        (b"hello, world" * 9, "damaged"),
        (p.saved(Image.new("CMYK", (16, 16)), "JPEG"), "CMYK"),
        (p.saved(Image.new("CMYK", (16, 16)), "TIFF"), "CMYK"),
        (png.encode(np.zeros((2, 2), np.uint8)), "2 x 2 pixels"),
        (tif(np.full((16, 16), np.nan, np.float32)), "not numbers"),
        (b"\x76\x2f\x31\x01" + b"\0" * 30, "damaged"),
    ],
)
def test_what_cannot_be_taken_is_refused_in_one_sentence(data: bytes, words: str) -> None:
    with pytest.raises(RefusalError, match=words) as caught:
        texture.decode("bad.png", data)
    assert str(caught.value).startswith("bad.png: found ")


def test_one_bad_file_does_not_spoil_the_others() -> None:
    found = p.propose(p.files() | {"mud_col2.jpg": JPEG[:300], "notes.png": b""})
    assert len(found.refused) == 2
    assert len(found.sets[0].files) == 5


def test_oblong_maps_are_repeated_or_cut_to_a_square() -> None:
    wide = texture.decode("w", png.encode(np.hstack([RAMP, RAMP])))
    (kept,) = canonical.maps_of("w", wide, "height", False)
    np.testing.assert_array_equal(kept.values, np.tile(RAMP, (2, 2)))
    odd = texture.decode("o", png.encode(RAMP[:, :50]))
    (cut,) = canonical.maps_of("o", odd, "height", False)
    np.testing.assert_array_equal(cut.values, RAMP[7:57, :50])
    assert "cut to its middle" in cut.note


def test_a_grey_file_can_be_no_normal_map() -> None:
    with pytest.raises(RefusalError, match="directions"):
        canonical.maps_of("n", texture.decode("n", png.encode(RAMP)), "normal", False)


@pytest.mark.parametrize("path", ["../out.png", "a/../../out.png", "/etc/out.png", "C:/out.png", "..\\out.png"])
def test_a_path_that_leaves_its_folder_is_refused(path: str) -> None:
    with pytest.raises(RefusalError, match="leaves its folder"):
        list(archive.members("pack.zip", p.zipped({"ok.png": b"1", path: b"2"})))


def test_zip_bombs_and_damage_are_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    bomb = p.zipped({"bomb.png": bytes(70 << 20)}, zipfile.ZIP_DEFLATED)
    with pytest.raises(RefusalError, match="times smaller"):
        list(archive.members("pack.zip", bomb))
    with pytest.raises(RefusalError, match="files"):
        list(archive.members("pack.zip", p.zipped({f"{k}.png": b"" for k in range(archive.MOST_FILES + 1)})))
    monkeypatch.setattr(archive, "MOST_TOTAL", 1000)
    with pytest.raises(RefusalError, match="unpacked"):
        list(archive.members("pack.zip", p.zipped({"a.png": bytes(2000)})))
    with pytest.raises(RefusalError, match="cannot be read"):
        list(archive.members("pack.zip", p.zipped({"a.png": bytes(500)})[:-30]))


def test_a_zip_that_lies_about_a_size_is_refused() -> None:
    honest = p.zipped({"a.png": b"x" * 5000}, zipfile.ZIP_DEFLATED)
    lying = honest.replace(struct.pack("<I", 5000), struct.pack("<I", 40))
    with pytest.raises(RefusalError):
        list(archive.members("pack.zip", lying))


def test_only_images_and_descriptions_are_taken_out_of_a_zip() -> None:
    given = {"a/b.png": b"1", "a/set.json": b"{}", "run.sh": b"rm", ".hidden.png": b"2", "__MACOSX/c.png": b"3"}
    assert [m.path for m in archive.members("z", p.zipped(given))] == ["a/b.png", "a/set.json"]


@pytest.mark.parametrize("data", [b"{}", b"no", b'{"format": "else"}', b"[" * 90_000, b"{" + b" " * (1 << 21)])
def test_a_description_that_is_none_is_refused(data: bytes) -> None:
    with pytest.raises(RefusalError):
        manifest.read("set.json", data)


@pytest.mark.parametrize("title", ["Wet silt", "../../etc", "мох & мох", "苔", "...", "a" * 300, "CON/..\\x\0"])
def test_names_of_files_are_plain_in_any_script(title: str) -> None:
    name = manifest.plain_name(title)
    assert 1 <= len(name) <= 60
    assert all(c.isalnum() or c == "_" for c in name)
