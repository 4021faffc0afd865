"""Reference photographs: kept, read, and a layer's look found back from a picture that it made."""

from __future__ import annotations

import io
from collections.abc import Callable

import numpy as np
import pytest
from PIL import Image

from elvatch.app.workshop import Workshop
from elvatch.core import colour
from elvatch.core.document.layer import Look
from elvatch.core.document.recipe import Recipe
from elvatch.core.document.reference import Patch
from elvatch.core.judging import reference
from elvatch.core.picture.picture import View
from elvatch.core.refusal import RefusalError
from tests.conftest import file_ground, layer, plane, put_set

WARM = np.array([0.30, 0.22, 0.13])


def encoded(pixels: np.ndarray, kind: str = "PNG") -> bytes:
    stream = io.BytesIO()
    Image.fromarray(pixels).save(stream, kind)
    return stream.getvalue()


def coded(linear: np.ndarray, size: int = 64) -> np.ndarray:
    codes = colour.to_srgb(linear.astype(np.float32)) * 255
    return np.broadcast_to((codes + 0.5).astype(np.uint8), (size, size, 3)).copy()


def speckled(count: int = 256) -> np.ndarray:
    """Base colours that vary about a warm brown, as those of soil do."""
    spread = np.random.default_rng(4).uniform(0.6, 1.5, (count, 1))
    return WARM * spread + np.random.default_rng(5).uniform(-0.02, 0.02, (count, 3))


LOOKS = [
    Look(brightness=b, hue_deg=h, saturation=s)
    for b, h, s in ((0.7, 0.0, 1.0), (1.6, 12.0, 1.0), (1.0, -20.0, 0.6), (0.85, 8.0, 1.3), (1.2, -6.0, 0.8))
]


@pytest.mark.parametrize("made", LOOKS)
def test_a_known_change_is_found_back_from_base_colours(made: Look) -> None:
    texels = speckled()
    wanted = reference.shown_by(made, texels)
    found = reference.fitted(Look(), texels, wanted)
    assert found.apart < 0.1
    assert found.look.brightness == pytest.approx(made.brightness, rel=0.02)
    assert found.look.saturation == pytest.approx(made.saturation, rel=0.02)
    assert found.look.hue_deg == pytest.approx(made.hue_deg, abs=0.02 * 60)
    # what is not asked for stays
    kept = {"brightness", "hue_deg", "saturation"}
    assert found.look.model_dump(exclude=kept) == Look().model_dump(exclude=kept)


def test_what_is_there_already_is_left_as_it_is() -> None:
    texels, look = speckled(), Look(brightness=1.3, hue_deg=4.0, saturation=0.9)
    found = reference.fitted(look, texels, reference.shown_by(look, texels)).look
    assert (found.brightness, found.hue_deg, found.saturation) == pytest.approx((1.3, 4.0, 0.9), abs=1e-3)


def test_a_grey_cannot_be_made_red_and_is_told() -> None:
    grey = np.full((64, 3), 0.2)
    found = reference.fitted(Look(), grey, np.array([0.4, 0.1, 0.1]))
    assert found.apart > 10


def test_the_tone_curve_is_undone() -> None:
    for light in ((0.02, 0.03, 0.05), (0.2, 0.1, 0.3), (0.7, 0.6, 0.5), (1.5, 1.1, 0.6)):
        shown = np.array(colour.tone(*light))
        np.testing.assert_allclose(colour.tone(*reference.untoned(shown)), shown, atol=2e-4)


def test_colours_and_lightness_of_a_patch() -> None:
    pixels = np.zeros((40, 60, 3), np.uint8)
    pixels[:, 30:] = 188
    half = reference.part(pixels, Patch(left=0.5, top=0.0, right=1.0, bottom=1.0))
    assert (half == 188).all()
    linear = ((188 / 255 + 0.055) / 1.055) ** 2.4
    np.testing.assert_allclose(reference.mean_of(half), linear, rtol=1e-5)
    # the mean is one of light, not of codes
    np.testing.assert_allclose(reference.mean_of(pixels), linear / 2, rtol=1e-5)
    shares = reference.lightness(pixels)
    star = 116 * np.cbrt(linear) - 16
    assert np.flatnonzero(shares).tolist() == [0, int(star / 100 * reference.BINS)]
    assert shares[0] == pytest.approx(0.5)
    assert reference.part(pixels, Patch(left=0.1, top=0.1, right=0.1001, bottom=0.1001)).shape == (1, 1, 3)


def site(shop: Workshop) -> Recipe:
    stream = io.BytesIO()
    land = plane(2.0)
    np.save(stream, land.heights_m)
    recipe = shop.sites.new_recipe(file_ground(land, shop.store.files.put(stream.getvalue())), empty=True)
    own = layer("Soil", 0).model_copy(update={"set": put_set(shop.store, 0.3, "Soil")})
    return recipe.model_copy(update={"layers": (own,)})


def test_a_layer_is_taken_towards_a_photograph_of_itself_under_the_present_light(workshop: Workshop) -> None:
    recipe = site(workshop)
    changed = recipe.layers[0].model_copy(update={"look": Look(brightness=0.62, variation=0)})
    photograph = workshop.pictures.take(recipe.model_copy(update={"layers": (changed,)}), View("near", 192, 144))
    assert photograph.facts.peg
    col, row = int(photograph.facts.peg[0] * 192), int(photograph.facts.peg[1] * 144)
    ground = photograph.pixels[row : row + 23, col - 23 : col + 23]
    kept = workshop.references.bring("ground.png", encoded(ground), "photo")
    found = workshop.references.match(recipe, "soil0000", kept.file, None, "lit")
    assert found.before > 5
    assert found.after < 1.0
    assert found.look.brightness == pytest.approx(0.62, rel=0.02)
    facts = workshop.references.facts(recipe, kept.file, None)
    assert facts.apart == pytest.approx(found.before, abs=1.5)
    done = recipe.layers[0].model_copy(update={"look": found.look})
    after = workshop.references.facts(recipe.model_copy(update={"layers": (done,)}), kept.file, None)
    assert after.apart < 1.5
    assert sum(after.patch_lightness) == pytest.approx(1, abs=1e-6)
    with pytest.raises(RefusalError, match="one of this column"):
        workshop.references.match(recipe, "nothere", kept.file, None, "lit")


def test_photographs_are_kept_small_without_what_was_hidden_in_them_and_go_along(
    workshop: Workshop, tmp_path_factory: pytest.TempPathFactory
) -> None:
    large = np.random.default_rng(1).integers(0, 255, (900, 2000, 3), np.uint8)
    kept = workshop.references.bring("../shore.jpeg", encoded(large, "JPEG"), "photo")
    assert kept.name == "../shore"
    pixels = workshop.references.pixels(kept.file)
    assert pixels.shape == (720, 1600, 3)
    recipe = site(workshop).model_copy(update={"references": (kept,)})
    state = workshop.store.sites.add("Made", recipe)
    path = tmp_path_factory.mktemp("pack") / "made.zip"
    workshop.packs.pack("Made", state.recipe, path)
    opened = workshop.packs.open(path)
    assert opened.recipe.references == (kept,)


def text() -> bytes:
    return b"no image"


def huge() -> bytes:
    data = bytearray(encoded(np.zeros((4, 4, 3), np.uint8)))
    data[16:24] = (60_000).to_bytes(4, "big") * 2
    return bytes(data)


@pytest.mark.parametrize("made", [text, bytes, huge])
def test_what_is_no_photograph_is_refused(workshop: Workshop, made: Callable[[], bytes]) -> None:
    with pytest.raises(RefusalError):
        workshop.references.bring("photo.png", made(), "photo")
    assert not any(path.is_file() for path in (workshop.store.folder / "files").rglob("*"))
