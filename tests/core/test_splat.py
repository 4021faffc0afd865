"""Splat maps: weights that sum exactly, out and in again; images taken apart."""

from __future__ import annotations

import io
import json
from pathlib import Path
from typing import Literal

import imagecodecs
import numpy as np
import pytest
import tifffile
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra import numpy as hn

from elvatch.core.cover import function, plan
from elvatch.core.document import begin_sheet
from elvatch.core.document.layer import Edge, Layer
from elvatch.core.document.marks import Marks, MaskImage
from elvatch.core.document.rule import OnImage, OnNoise, Rule, on
from elvatch.core.formats import png
from elvatch.core.ground import places
from elvatch.core.ground.clauses import between
from elvatch.core.ground.measures import Measures
from elvatch.core.ground.shaped import Shaped
from elvatch.core.ground.survey import survey
from elvatch.core.handoff import job, splat
from elvatch.core.handoff.listing import Source
from elvatch.core.refusal import RefusalError
from elvatch.core.rules import mask_image
from elvatch.core.rules.evidence import Evidence
from elvatch.core.rules.mask_image import apart, plane_of, stored
from tests.conftest import layer, plane, recipe
from tests.core.test_cover import SETS

GROUND = plane(25, 30)


@given(
    hn.arrays(np.float32, st.tuples(st.integers(1, 40), st.integers(1, 13)), elements=st.floats(0, 1, width=32)),
    st.sampled_from([8, 16]),
)
def test_weights_sum_exactly_and_none_is_off_by_a_whole_unit(raw: np.ndarray, bits: int) -> None:
    total = raw.sum(axis=1, keepdims=True, dtype=np.float64)
    shares = np.divide(raw, total, out=np.full(raw.shape, 1 / raw.shape[1]), where=total > 1e-3).astype(np.float32)
    most = (1 << bits) - 1
    found = splat.weights(shares, bits).astype(np.int64)
    assert (found.sum(axis=1) == most).all()
    assert np.abs(found - shares * most).max() < 1.02


def shared(layers: tuple[Layer, ...], size: int, evidence: Evidence | None = None) -> np.ndarray:
    at = places.on_grid(survey(GROUND), size, size, 0, size)
    return function.ask(plan.prepare(layers, SETS, evidence), at).shares


@pytest.mark.parametrize("bits", [8, 16])
def test_splat_maps_written_and_read_in_again_give_the_shares(tmp_path: Path, bits: Literal[8, 16]) -> None:
    rules = (
        Rule(),
        Rule(clauses=(on(between("elevation", lower=45, soft_lower=12)), OnNoise(join="break-up", size_m=9))),
        Rule(clauses=(OnNoise(size_m=14, seed=5, lower=0.6, soft_lower=0.4),)),
        Rule(clauses=(on(between("elevation", upper=40, soft_upper=15)),)),
        Rule(clauses=(OnNoise(size_m=30, seed=2, lower=0.7, soft_lower=0.3),)),
    )
    layers = tuple(layer(f"layer {k}", k, rule, opacity=0.9 if k else 1.0) for k, rule in enumerate(rules))
    site = recipe(layers, GROUND)
    sheet = begin_sheet.plain(("weights",), 64, weight_bits=bits)
    measures = Measures(Shaped(GROUND))
    job.write(sheet, Source("Site", site, survey(GROUND), measures, SETS), tmp_path / "out")
    files = sorted((tmp_path / "out").glob("*.png"))
    assert [file.name for file in files] == ["site_weights_01.png", "site_weights_02.png"]
    codes = [imagecodecs.png_decode(file.read_bytes()) for file in files]
    assert (sum(one.astype(np.int64).sum(axis=2) for one in codes) == (1 << bits) - 1).all()
    told = json.loads((tmp_path / "out/hand-off.json").read_text())["files"][1]["channels"]
    assert [one["layer"] for one in told] == ["layer 4", "", "", ""]
    planes = [
        plane_of(apart(file.name, file.read_bytes()), letter) for file in files for letter in ("R", "G", "B", "A")
    ]
    shares = shared(layers, 64)
    laid = laid_by(layers, splat.presences(planes[:5]))
    np.testing.assert_allclose(shared(*laid), shares, atol=1 / 255 if bits == 8 else 2 / 65535)


def laid_by(layers: tuple[Layer, ...], presences: list[np.ndarray]) -> tuple[tuple[Layer, ...], int, Evidence]:
    images = tuple(
        MaskImage(id=f"image{k}", name=f"i{k}", file="a" * 40, file_name="x.png") for k in range(len(layers))
    )
    made = {image.id: stored(one) for image, one in zip(images, presences, strict=True)}
    order = iter(made.values())
    evidence = Evidence(100.0, 100.0, marks=Marks(images=images), plane=lambda file, name, channel: next(order))
    by_image = tuple(
        one.model_copy(
            update={
                "rule": Rule(clauses=(OnImage(image=f"image{k}", called="x"),)),
                "opacity": 1.0,
                "edge": Edge(kind="fade"),
            }
        )
        for k, one in enumerate(layers)
    )
    return by_image, presences[0].shape[0], evidence


def test_weights_of_several_sizes_or_of_nothing_are_refused() -> None:
    with pytest.raises(RefusalError, match="4 x 4, 8 x 8"):
        splat.presences([np.ones((4, 4), np.float32), np.ones((8, 8), np.float32)])
    with pytest.raises(RefusalError, match="0 everywhere"):
        splat.presences([np.zeros((4, 4), np.float32)] * 2)


def known(dtype: type, channels: int) -> np.ndarray:
    most = 1 if dtype is np.float32 else np.iinfo(dtype).max
    rng = np.random.default_rng(channels)
    return (rng.uniform(0, 1, (12, 9, channels)) * most).astype(dtype)


@pytest.mark.parametrize("dtype", [np.uint8, np.uint16])
@pytest.mark.parametrize("channels", [1, 3, 4])
def test_a_png_comes_apart_into_the_channels_it_was_made_of(dtype: type, channels: int) -> None:
    values = known(dtype, channels)
    found = apart("packed.png", bytes(imagecodecs.png_encode(values[..., 0] if channels == 1 else values)))
    shares = values.astype(np.float32) / np.float32(np.iinfo(dtype).max)
    letters = "RGBA"[:channels]
    assert set(found.planes) == set(letters) | ({"brightness"} if channels > 1 else set())
    for k, letter in enumerate(letters):
        np.testing.assert_array_equal(plane_of(found, letter), shares[..., k])  # type: ignore[arg-type]
    told = {one.channel: one for one in found.facts()}
    assert told["R"].share == pytest.approx(float(shares[..., 0].mean()), abs=1e-6)
    assert (told["R"].lowest, told["R"].highest) == (shares[..., 0].min(), shares[..., 0].max())
    if channels > 1:
        np.testing.assert_allclose(
            plane_of(found, "brightness"), shares[..., :3] @ [0.2126, 0.7152, 0.0722], atol=1e-6
        )


def test_floats_of_a_tiff_keep_what_lies_beyond_one() -> None:
    values = (known(np.float32, 3) * 4 - 1).astype(np.float32)
    stream = io.BytesIO()
    tifffile.imwrite(stream, values, photometric="rgb")
    found = plane_of(apart("wide.tif", stream.getvalue()), "G")
    np.testing.assert_array_equal(found, values[..., 1])
    ready = stored(found)
    assert ready.low == pytest.approx(values[..., 1].min())
    np.testing.assert_allclose(ready.low + ready.span * ready.codes / 65535, found, atol=4 / 65535)


def test_odd_images_are_told_or_refused() -> None:
    clear = np.zeros((8, 8, 4), np.uint8)
    clear[..., 0] = 90
    found = apart("clear.png", bytes(imagecodecs.png_encode(clear)))
    assert any("alpha is 0 everywhere" in note for note in found.notes)
    assert plane_of(found, "R").mean() == pytest.approx(90 / 255)
    with pytest.raises(RefusalError, match="no channel A"):
        plane_of(apart("grey.png", png.encode(np.zeros((8, 8), np.uint8))), "A")
    with pytest.raises(RefusalError, match="0 x 5"):
        apart(
            "empty.png", png.encode(np.zeros((5, 4), np.uint8)).replace(b"\0\0\0\4\0\0\0\5", b"\0\0\0\0\0\0\0\5", 1)
        )
    with pytest.raises(RefusalError, match="an empty file"):
        apart("nothing.png", b"")
    wide = apart("wide.png", png.encode(np.zeros((8, 16), np.uint8)))
    assert "stretched" in (mask_image.misfit(wide, 100, 100) or "")
    assert mask_image.misfit(wide, 200, 100) is None
