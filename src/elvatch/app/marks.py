"""Marks on a site's ground: painted strokes, images brought in, splat maps in and out, written masks."""

from __future__ import annotations

import io
import secrets

import numpy as np

from elvatch.app.covers import Covers
from elvatch.app.grounds import Grounds
from elvatch.core.cache import Cache
from elvatch.core.document.layer import Edge, Layer
from elvatch.core.document.marks import MaskImage, MaskStroke, MaskTile, PaintedMask
from elvatch.core.document.recipe import Recipe
from elvatch.core.document.rule import Channel, OnImage, Rule
from elvatch.core.formats import png
from elvatch.core.ground import places
from elvatch.core.ground.places import size_of
from elvatch.core.handoff import splat
from elvatch.core.parallel import Token
from elvatch.core.parts import Part, PartId
from elvatch.core.refusal import RefusalError
from elvatch.core.results import result
from elvatch.core.rules import mask_image, painting, program, rules
from elvatch.core.rules.mask import Mask
from elvatch.core.rules.mask_image import ChannelFacts, PackedImage
from elvatch.store.sites import SiteState
from elvatch.store.store import Store

_THUMBNAIL_PX = 160
_BAND_TEXELS = 1 << 19


class Weight(Part):
    """One channel of an image that holds a layer's weight."""

    image: MaskImage
    channel: Channel
    layer: PartId


@result
class MaskImageFacts:
    """An image brought in as masks: its stored name, its size, and what each of its channels holds."""

    file: str
    file_name: str
    width_px: int
    height_px: int
    format: str
    bits: int
    notes: list[str]
    channels: list[ChannelFacts]


@result
class LaidWeights:
    """A recipe with splat maps laid as its layers' rules."""

    recipe: Recipe


def new_id() -> str:
    """Return an id for a new part of a recipe."""
    return secrets.token_hex(6)


class Marking:
    """Marks on the grounds of one store's sites.

    Parameters
    ----------
    store : Store
        Where files are kept.
    grounds, covers
        What they lie on and are read by.
    """

    def __init__(self, store: Store, grounds: Grounds, covers: Covers) -> None:
        self._store, self._grounds, self._covers = store, grounds, covers
        self._painted = Cache[Mask](6)

    def painted(self, recipe: Recipe, id: str, stroke: MaskStroke, token: Token | None = None) -> Mask:
        """Return a mask with a stroke that is being drawn on it.

        Raises
        ------
        RefusalError
            When there is no such mask.
        """
        if all(one.id != id for one in recipe.marks.masks):
            raise RefusalError("mask", f"no mask {id[:40]!r}", "one of this site's", "choose a mask to paint on")
        before = self._covers.mask(recipe, id)
        return self._painted.get(
            f"{before.name} {stroke.model_dump_json()}", lambda: painting.paint(before, stroke, token)
        )

    def paint(self, state: SiteState, base: int, id: str, stroke: MaskStroke) -> SiteState:
        """Keep a finished stroke as one revision; on disk when this returns."""
        label, kept = self.painted_on(state.recipe, id, stroke)
        return self._store.sites.edit(state.id, base, label, kept)

    def painted_on(self, recipe: Recipe, id: str, stroke: MaskStroke) -> tuple[str, Recipe]:
        """Return a recipe with a finished stroke, its tiles on disk, and what was done in words."""
        after = self.painted(recipe, id, stroke)
        found = next(one for one in recipe.marks.masks if one.id == id)
        before = self._covers.mask(recipe, id)
        names = {(tile.row, tile.col): tile.file for tile in found.tiles}
        tiles = []
        for at, codes in sorted(after.tiles.items()):
            known = names.get(at) if before.tiles.get(at) is codes else None
            tiles.append(MaskTile(row=at[0], col=at[1], file=known or self._covers.keep_tile(codes)))
        painted = PaintedMask(id=id, name=found.name, sample_m=found.sample_m, tiles=tuple(tiles))
        masks = tuple(painted if one.id == id else one for one in recipe.marks.masks)
        kept = recipe.model_copy(update={"marks": recipe.marks.model_copy(update={"masks": masks})})
        verb = {"add": "painted on", "take": "took away from", "smooth": "smoothed"}[stroke.tool]
        return f"{verb} {found.name}", kept

    def bring_image(self, name: str, data: bytes, size_m: tuple[float, float] | None = None) -> MaskImageFacts:
        """Keep an image once it could be taken apart; return what it holds, and whether it fits a ground's size."""
        packed = mask_image.apart(name, data)
        misfit = mask_image.misfit(packed, *size_m) if size_m else None
        return _image_facts(self._store.files.put(data), name, packed, misfit)

    def image(self, file: str) -> MaskImageFacts:
        """Return what a stored image holds."""
        return _image_facts(file, "image", self._covers.packed(file, "image"), None)

    def thumbnail(self, file: str, channel: Channel) -> bytes:
        """Return one channel of a stored image as a small grey PNG."""
        plane = np.clip(mask_image.plane_of(self._covers.packed(file, "image"), channel), 0, 1)
        step = max(1, max(plane.shape) // _THUMBNAIL_PX)
        rows, cols = (n // step * step for n in plane.shape)
        small = plane[:rows, :cols].reshape(rows // step, step, cols // step, step).mean(axis=(1, 3))
        return png.encode((small * 255 + 0.5).astype(np.uint8))

    def lay_splat(self, recipe: Recipe, weights: list[Weight]) -> Recipe:
        """Return a recipe whose layers lie by the weights of splat maps.

        Each named layer's rule becomes the presence that gives its weight as its share, all with a fade
        and in full; layers without a channel are hidden.

        Raises
        ------
        RefusalError
            When a layer is named twice or not there, or the images differ in size.
        """
        order = {layer.id: k for k, layer in enumerate(recipe.layers)}
        named = [one.layer for one in weights]
        if not weights or len(set(named)) != len(named) or any(id not in order for id in named):
            raise RefusalError(
                "splat maps", "a layer with two channels, or none", "each channel to one layer", "assign them anew"
            )
        weights = sorted(weights, key=lambda one: order[one.layer])
        planes = [
            mask_image.plane_of(self._covers.packed(one.image.file, one.image.file_name), one.channel)
            for one in weights
        ]
        images, laid = list(recipe.marks.images), dict[str, Rule]()
        for one, presence in zip(weights, splat.presences(planes), strict=True):
            layer = recipe.layers[order[one.layer]]
            data = png.encode((presence * 65535 + 0.5).astype(np.uint16))
            name = f"Share of {layer.name}"[:80]
            images.append(
                MaskImage(
                    id=new_id(),
                    name=name,
                    file=self._store.files.put(data),
                    file_name="splat.png",
                    placing=one.image.placing,
                )
            )
            laid[layer.id] = Rule(clauses=(OnImage(image=images[-1].id, called=name, channel="R"),))
        layers = tuple(_by_weight(layer, laid.get(layer.id)) for layer in recipe.layers)
        marks = recipe.marks.model_copy(update={"images": tuple(images)})
        return Recipe.model_validate(recipe.model_copy(update={"layers": layers, "marks": marks}).model_dump())

    def presence_png(
        self, recipe: Recipe, rule: Rule, opacity: float, size_px: int, of: str, token: Token | None = None
    ) -> tuple[bytes, tuple[int, int]]:
        """Return how much a rule lets in over the whole ground as a 16-bit PNG, and its size in pixels."""
        if not 16 <= size_px <= 32768:
            raise RefusalError("size", str(size_px), "16 to 32768 pixels", "correct it")
        width, height = size_of(recipe.ground.width_m, recipe.ground.depth_m, size_px)
        survey = self._grounds.land(recipe.ground).survey
        programs = program.compiled([(of, rule)], self._covers.evidence(recipe), recipe.layers)
        out = io.BytesIO()
        writer = png.PngWriter(out, width, height, 1, 16)
        band = max(4, _BAND_TEXELS // width)
        for first in range(0, height, band):
            last = min(first + band, height)
            at = places.on_grid(survey, width, height, first, last)
            let_in = rules.presences(programs, 0, at, token) * np.float32(opacity)
            writer.write((np.clip(let_in, 0, 1) * 65535 + 0.5).astype(np.uint16).reshape(last - first, width))
        writer.finish()
        return out.getvalue(), (width, height)


def _image_facts(file: str, name: str, packed: PackedImage, misfit: str | None) -> MaskImageFacts:
    notes = [*packed.notes, *([misfit] if misfit else [])]
    return MaskImageFacts(
        file, name, packed.width_px, packed.height_px, packed.format, packed.bits, notes, packed.facts()
    )


def _by_weight(layer: Layer, rule: Rule | None) -> Layer:
    if rule is None:
        return layer.model_copy(update={"on": False})
    return layer.model_copy(update={"rule": rule, "on": True, "opacity": 1.0, "edge": Edge(kind="fade")})
