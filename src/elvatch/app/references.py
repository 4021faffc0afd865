"""Reference photographs of sites: their colours beside the ground's, a layer taken towards one."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray

from elvatch.app.pictures import Pictures
from elvatch.core.cache import Cache
from elvatch.core.colour_difference import ciede2000, lab
from elvatch.core.document.layer import Look
from elvatch.core.document.recipe import Recipe
from elvatch.core.document.reference import Patch, Reference
from elvatch.core.formats import isolated, png
from elvatch.core.judging import reference
from elvatch.core.parallel import Token
from elvatch.core.picture.picture import Picture, View
from elvatch.core.refusal import RefusalError
from elvatch.core.results import Numbers, result
from elvatch.core.stock.pyramid import SCALE, SHIFT
from elvatch.store.store import Store

As = Literal["lit", "bare"]
_NEAR = (192, 144)
_AROUND = 0.12
"""Of a picture to each side of the peg that is read; its foot is at the lower end."""
_LEVEL_PX = 16
"""Along a side of the coarse level of a set that stands for its colours."""


@result
class ReferenceFacts:
    """A patch of a photograph beside the ground at the peg: their colours as sRGB, L*, a*, b*, and how far apart they
    are (CIEDE2000); shares of 40 steps of lightness of the patch and of the ground seen in Near."""

    patch: str
    patch_lab: Numbers
    patch_lightness: Numbers
    ground: str
    ground_base: str
    ground_lab: Numbers
    ground_lightness: Numbers
    apart: float


@result
class MatchedLook:
    """A layer's look taken towards a photograph, and how far apart both were before and are after (CIEDE2000)."""

    look: Look
    before: float
    after: float


class References:
    """Reference photographs of the sites of one store.

    Parameters
    ----------
    store : Store
        Where they are kept.
    pictures : Pictures
        What they are held against.
    """

    def __init__(self, store: Store, pictures: Pictures) -> None:
        self._store, self._pictures = store, pictures
        self._pixels = Cache[NDArray[np.uint8]](8)

    def bring(self, name: str, data: bytes, id: str) -> Reference:
        """Keep a photograph; return it as a site refers to it.

        Raises
        ------
        RefusalError
            When it is no colour image, or too large.
        """
        pixels = reference.kept_px(isolated.photo(name, data))
        title = name.rsplit(".", 1)[0][:80] or "photograph"
        return Reference(id=id, name=title, file=self._store.files.put(png.encode(pixels)))

    def file(self, name: str) -> bytes:
        """Return a kept photograph, PNG."""
        self.pixels(name)
        return self._store.files.get(name)

    def pixels(self, file: str) -> NDArray[np.uint8]:
        """Return the pixels of a kept photograph; refused where it is none."""
        return self._pixels.get(file, lambda: isolated.photo("the photograph", self._store.files.get(file)))

    def facts(self, recipe: Recipe, file: str, patch: Patch | None, token: Token | None = None) -> ReferenceFacts:
        """Return the colours of a patch beside those of the ground at the peg, under the present light."""
        pixels = reference.part(self.pixels(file), patch)
        lit, base = (
            self._pictures.take(recipe, View("near", *_NEAR, mode=mode), token) for mode in ("lit", "colour")
        )
        of_patch, of_ground = reference.mean_of(pixels), reference.mean_of(_about_the_peg(lit))
        labs = lab(of_patch), lab(of_ground)
        return ReferenceFacts(
            reference.hex_of(of_patch),
            labs[0],
            reference.lightness(pixels),
            reference.hex_of(of_ground),
            reference.hex_of(reference.mean_of(_about_the_peg(base))),
            labs[1],
            reference.lightness(_below_the_horizon(lit)),
            float(ciede2000(*labs)),
        )

    def match(
        self, recipe: Recipe, layer: str, file: str, patch: Patch | None, as_: As, token: Token | None = None
    ) -> MatchedLook:
        """Return a layer's look taken towards a patch by the least change: seen as it is under the present light, or
        its base colour as the patch is.

        Raises
        ------
        RefusalError
            When there is no such layer.
        """
        index = next((k for k, one in enumerate(recipe.layers) if one.id == layer), None)
        if index is None:
            raise RefusalError("layer", repr(layer[:40]), "one of this column", "choose another")
        of, wanted = recipe.layers[index], reference.mean_of(reference.part(self.pixels(file), patch))
        texels = self._texels(of.set)
        if as_ == "bare":
            found = reference.fitted(of.look, texels, wanted)
            before = float(ciede2000(lab(reference.shown_by(of.look, texels)), lab(wanted)))
            return MatchedLook(_rounded(found.look), before, found.apart)

        def seen(look: Look) -> NDArray[np.float64]:
            layers = tuple(
                one.model_copy(update={"look": look, "on": True}) if one.id == layer else one for one in recipe.layers
            )
            bare = recipe.model_copy(update={"layers": layers, "strews": (), "set_things": ()})
            return reference.mean_of(
                _about_the_peg(self._pictures.take(bare, View("near", *_NEAR, solo=index), token))
            )

        before = float(ciede2000(lab(seen(of.look)), lab(wanted)))
        found = reference.towards(of.look, texels, wanted, seen, token)
        return MatchedLook(_rounded(found.look), before, found.apart)

    def _texels(self, name: str) -> NDArray[np.float32]:
        """Return some of a set's base colours, (n, 3) linear: a coarse level, which keeps its mean."""
        pyramid = self._store.stock[name]
        side = min(_LEVEL_PX, pyramid.size)
        first = sum((pyramid.size >> finer) ** 2 for finer in range((pyramid.size // side).bit_length() - 1))
        codes = pyramid.texels[first : first + side * side, :3].astype(np.float32)
        return np.asarray(codes * SCALE[:3] + SHIFT[:3], np.float32)


def _rounded(look: Look) -> Look:
    """Return a look with numbers that a hand could set."""
    return look.model_copy(
        update={
            "brightness": round(look.brightness, 3),
            "hue_deg": round(look.hue_deg, 1),
            "saturation": round(look.saturation, 3),
        }
    )


def _about_the_peg(picture: Picture) -> NDArray[np.uint8]:
    """Return the pixels in front of the peg's foot, where nothing stands."""
    rows, cols = picture.pixels.shape[:2]
    across, down = picture.facts.peg or (0.5, 0.7)
    row, col = int(min(max(down, 0.3), 0.8) * rows), int(min(max(across, 0.2), 0.8) * cols)
    reach = int(_AROUND * cols)
    return picture.pixels[row : min(rows, row + reach), max(0, col - reach) : col + reach]


def _below_the_horizon(picture: Picture) -> NDArray[np.uint8]:
    """Return the lower part of a picture from a stand: ground, whatever stands on it, no sky."""
    rows = picture.pixels.shape[0]
    _, down = picture.facts.peg or (0.5, 0.7)
    return picture.pixels[int(min(max(down - 0.15, 0.3), 0.7) * rows) :]
