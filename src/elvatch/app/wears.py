"""What can be asked of wear: overlays ready for lookups, how new wear begins, what each does in numbers."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from elvatch.app.covers import Covers
from elvatch.app.grounds import Grounds
from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.cover import alone, function, readout
from elvatch.core.cover.readout import Readout
from elvatch.core.document import begin
from elvatch.core.document.recipe import Recipe
from elvatch.core.document.wear import AlongPath, Effects, FromStock, Made, Preset, Source, Wear, WearBody
from elvatch.core.formats import png
from elvatch.core.ground import places
from elvatch.core.ground.places import Places
from elvatch.core.kernel import sources_digest
from elvatch.core.parallel import Token
from elvatch.core.picture.terrain import Terrain
from elvatch.core.refusal import RefusalError
from elvatch.core.results import result
from elvatch.core.rules import paths
from elvatch.core.stock import overlay, overlays, sheet
from elvatch.core.stock.generators.controls import Control
from elvatch.core.stock.overlay import Known
from elvatch.core.stock.resize import resized
from elvatch.core.stock.sheet import OverlaySheet
from elvatch.core.wear import wear_plan
from elvatch.core.wear.wear_plan import Depth
from elvatch.store.presets import KeptPreset
from elvatch.store.store import Store

_PLACES = 200
_QUICK_PX = 256
"""What is drawn while something moves: its marks are where they will be, its finest lines are softer."""
_SMALL_PX = 96


@dataclass(frozen=True)
class Codes:
    """An overlay as it is kept, what was done to get it, and its content name."""

    values: NDArray[np.uint16]
    note: str
    name: str


@result
class WearAt:
    """A wear at a place: how far it is let in, and what its overlay says there, 0..1."""

    name: str
    let_in: float
    overlay: float


class Sheets:
    """The overlays of one store, drawn or read and made ready for lookups once.

    Parameters
    ----------
    store : Store
        Texture sets, and what was drawn before.
    """

    def __init__(self, store: Store) -> None:
        self._store = store
        self._codes = Cache[Codes](24)
        self._sketches = Cache[Codes](48)
        self._sheets = Cache[OverlaySheet](48)
        self._known = Cache[Known](96)

    def _name(self, source: Source) -> str:
        """Return a name for what a source is now: a set's files may be replaced."""
        if isinstance(source, FromStock):
            return digest.of_json(["stock", source.set, self._store.stock.contents([source.set])])
        return digest.of_json([sources_digest(), digest.of_part(source)])

    def codes(self, source: Source, quick: bool = False) -> Codes:
        """Return an overlay's numbers as they are kept, never decoded as colour.

        Parameters
        ----------
        source : Source
            Where they come from.
        quick : bool
            While something moves: where it would have to be drawn first, draw it small.
        """
        name = self._name(source)
        if quick and isinstance(source, Made) and self._codes.peek(name) is None and name not in self._store.drawn:
            return self._sketches.get(name, lambda: self._sketched(source, name))
        return self._codes.get(
            name, lambda: self._drawn(source, name) if isinstance(source, Made) else self._read(source, name)
        )

    def _read(self, source: FromStock, name: str) -> Codes:
        description = self._store.stock.state(source.set).description
        return Codes(*overlay.codes_of(description, self._store.files.get), name)

    def _drawn(self, source: Made, name: str) -> Codes:
        values = self._store.drawn.get(name)
        if values is None:
            values = overlays.draw(source.what, source.seed, source.controls)
            self._store.drawn.put(name, values)
        return Codes(values, "", name)

    @staticmethod
    def _sketched(source: Made, name: str) -> Codes:
        return Codes(overlays.draw(source.what, source.seed, source.controls, size_px=_QUICK_PX), "", f"{name} small")

    def sheet(self, wear: Wear, quick: bool = False) -> OverlaySheet:
        """Return a wear's overlay with its range, ready for lookups; ``quick`` as for :meth:`codes`."""
        span = wear.range
        whole = self._sheets.peek(digest.of_json([self._name(wear.source), digest.of_part(span)]))
        if whole is not None:
            return whole
        codes = self.codes(wear.source, quick)
        name = digest.of_json([codes.name, digest.of_part(span)])

        def make() -> OverlaySheet:
            return sheet.build(codes.values, overlay.table(span.turned, span.none_at, span.full_at, span.soft), name)

        return self._sheets.get(name, make)

    def known(self, source: Source) -> Known:
        """Return what an overlay's numbers look like."""
        codes = self.codes(source)
        return self._known.get(codes.name, lambda: overlay.known(codes.values, codes.note))

    def png(self, source: Source, px: int, turned: bool = False, quick: bool = False) -> bytes:
        """Return an overlay as a small grey picture, its numbers as they are; ``quick`` as for :meth:`codes`."""
        values = resized(self.codes(source, quick).values.astype(np.float32) / np.float32(65535), px)
        return png.encode(np.rint(255 * (1 - values if turned else values)).astype(np.uint8))


@result
class WearKind:
    """A kind of wear that is drawn: what it is called, how large a tile is, what it usually follows, its numbers."""

    what: str
    title: str
    about: str
    tile_m: float
    follows: str
    controls: tuple[Control, ...]


@result
class KeptWear:
    """Wear that is kept for any site."""

    id: str
    name: str
    effects: Effects


@result
class Told(Readout):
    """What a wear does; ``limited`` says what limits its depth, None where nothing does."""

    limited: str | None


def kinds() -> list[WearKind]:
    """Return the kinds of wear that are drawn."""
    return [
        WearKind(what, kind.title, kind.about, kind.tile_m, kind.follows, kind.controls)
        for what, kind in overlays.OVERLAYS.items()
    ]


def _kept(found: KeptPreset) -> KeptWear:
    return KeptWear(found.id, found.preset.name, found.preset.laid.effects)


class Wears:
    """The wear of the sites of one store.

    Parameters
    ----------
    store : Store
        Kept wear, texture sets.
    grounds : Grounds
        What it lies on.
    covers : Covers
        What it lies over.
    sheets : Sheets
        Its overlays.
    """

    def __init__(self, store: Store, grounds: Grounds, covers: Covers, sheets: Sheets) -> None:
        self._store, self._grounds, self._covers, self.sheets = store, grounds, covers, sheets
        self._told = Cache[Readout](64)
        self._small = Cache[bytes](64)

    def kind_png(self, what: str) -> bytes:
        """Return a small picture of what a kind usually looks like."""
        overlays.check(what, {})
        return self._small.get(what, lambda: self.sheets.png(Made(what=what, seed=7), _SMALL_PX))

    def _site(self, recipe: Recipe) -> begin.SiteSpans:
        land = self._grounds.land(recipe.ground).ground
        wet = 0.0
        if land.highest_m - land.lowest_m > 1.0:
            wet = float(np.percentile(self._grounds.measures(recipe.ground).map("wetness")[::4, ::4], 90))
        at_peg = land.elevation_at(recipe.peg.east_m, recipe.peg.north_m)
        return begin.SiteSpans(land.lowest_m, land.highest_m, wet, recipe.marks.paths, at_peg)

    def of_kind(self, recipe: Recipe, id: str, what: str) -> Wear:
        """Return a new wear of a drawn kind, as it begins on a site."""
        return begin.of_kind(what, id, self._site(recipe))

    def of_set(self, id: str, name: str) -> Wear:
        """Return a new wear drawn from a set of the stock; one that says nothing is refused."""
        filed = self._store.stock.state(name).description
        found = overlay.with_marks(filed.title, self.sheets.known(FromStock(set=name)))
        return begin.of_set(id, filed.title, name, filed.tile_m, found.dark_on_light)

    def of_preset(self, recipe: Recipe, id: str, preset: str) -> Wear:
        """Return kept wear as a new wear of a site."""
        return begin.of_preset(id, self._store.presets.preset(preset), self._site(recipe))

    def keep(self, wear: Wear, name: str) -> KeptWear:
        """Keep a wear as a preset under a name, without what means something on its site alone."""
        laid = WearBody.model_validate({key: getattr(wear, key) for key in WearBody.model_fields})
        return _kept(self._store.presets.keep(Preset(name=name, laid=laid, rule=begin.portable(wear.rule))))

    def kept(self) -> list[KeptWear]:
        """Return all wear that is kept."""
        return list(map(_kept, self._store.presets.all()))

    def depth(self, recipe: Recipe, k: int) -> Depth | None:
        """Return how deep a wear goes; None when it is not shown."""
        fitted, shown = wear_plan.shown_with(recipe.layers, recipe.wears)
        at = fitted.positions[k]
        return wear_plan.depth_of(fitted.wears[at], fitted.places[at], shown) if at >= 0 else None

    def at(self, recipe: Recipe, at: Places) -> list[WearAt]:
        """Return what each wear is at a place, from the bottom up; only the first place counts."""
        prepared = self._covers.prepared(recipe)
        material = function.ask(prepared, at)
        found = []
        for k, wear in enumerate(recipe.wears):
            w = prepared.wears.positions[k]
            let_in = float(alone.mask(prepared, w, at, material)[0]) if w >= 0 else 0.0
            says = float(alone.overlay(prepared, w, at)[0]) if w >= 0 else 0.0
            found.append(WearAt(wear.name, let_in, says))
        return found

    def told(self, recipe: Recipe, k: int, token: Token | None = None) -> Told:
        """Return what a wear does, in numbers, against the same cover without it."""
        found, depth = self._readout(recipe, k, token), self.depth(recipe, k)
        return Told(**vars(found), limited=depth.reason if depth else None)

    def _readout(self, recipe: Recipe, k: int, token: Token | None) -> Readout:
        if not 0 <= k < len(recipe.wears):
            raise RefusalError("wear", str(k), f"0 to {len(recipe.wears) - 1}", "choose another")
        evidence = self._covers.evidence(recipe)
        name = digest.of_json([self._covers.name(recipe, evidence), k])

        def make() -> Readout:
            wear = recipe.wears[k].model_copy(update={"on": True})
            land = self._grounds.land(recipe.ground)
            at, part = self._places(recipe, wear, land)
            found = []
            for on in (False, True):
                one = wear.model_copy(update={"on": on})
                wears = (*recipe.wears[:k], one, *recipe.wears[k + 1 :])
                prepared = self._covers.prepared(recipe.model_copy(update={"wears": wears}))
                found.append(function.ask(prepared, at, token))
            return readout.compare(found[0], found[1], part, "the ground", bool(wear.effects.worn_through))

        return self._told.get(name, make)

    def _places(self, recipe: Recipe, wear: Wear, land: Terrain) -> tuple[Places, float]:
        """Return small places spread over the ground, or along the path that a wear follows, and the share of the
        ground that they stand for."""
        rng = np.random.default_rng(5)
        size = np.array([recipe.ground.width_m, recipe.ground.depth_m])
        across = wear.lie.tile_m / overlays.SIZE_PX
        at, part = rng.random((_PLACES * _PLACES, 2)) * size, 1.0
        follows = wear.follows
        path = next((one for one in recipe.marks.paths if one.id == getattr(follows, "path", None)), None)
        if isinstance(follows, AlongPath) and path is not None:
            line = paths.line_of(path)
            steps = line[1:] - line[:-1]
            lengths = np.hypot(*steps.T)
            k = rng.choice(len(steps), _PLACES * _PLACES, p=lengths / lengths.sum())
            beside = np.column_stack([-steps[k, 1], steps[k, 0]]) / np.maximum(lengths[k], 1e-9)[:, None]
            reach = follows.width_m + 2 * path.wobble_m
            at = line[k] + steps[k] * rng.random((len(k), 1)) + beside * reach * (rng.random((len(k), 1)) - 0.5)
            at = at[((at >= 0) & (at <= size)).all(axis=1)]
            part = min(1.0, float(lengths.sum() * reach / size.prod()))
        return places.on_ground(land.survey, at[:, 0].copy(), at[:, 1].copy(), across), part
