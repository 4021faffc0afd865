"""The files that a sheet comes to, before any is written: names, sizes, tiles, what each channel holds."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from elvatch.core.document.layer import Layer
from elvatch.core.document.recipe import Recipe
from elvatch.core.document.sheet import MapsEntry, Sheet, Slot, ValueName
from elvatch.core.document.sheet_entry import MeshEntry, StillsEntry
from elvatch.core.formats.written import FORMS, SampleType, WrittenImage
from elvatch.core.ground.measures import KINDS as MEASURES
from elvatch.core.ground.measures import Measures
from elvatch.core.ground.places import Grid
from elvatch.core.ground.survey import Survey
from elvatch.core.handoff import encoding, file_names, splat
from elvatch.core.handoff.derived import maps_of
from elvatch.core.handoff.file_names import Row
from elvatch.core.handoff.tiles import Tile, grid_of, tiles_of
from elvatch.core.handoff.values import KINDS
from elvatch.core.mapping import fit_row, surface
from elvatch.core.plain_name import plain_name
from elvatch.core.refusal import RefusalError
from elvatch.core.results import result
from elvatch.core.rules.evidence import Evidence
from elvatch.core.rules.joints import RISE
from elvatch.core.run import Run
from elvatch.core.stock.pyramid import HEIGHT, Pyramid
from elvatch.core.strew.field import Field
from elvatch.core.wear import wear_plan

_MIPS = 4 / 3
MOST_FILES = 8192
"""Of one sheet."""
_RGB = ("R", "G", "B", "A")


@dataclass(frozen=True)
class Source:
    """What is handed off: a site's title and recipe, its ground and measures, the sets, what rules may read."""

    title: str
    recipe: Recipe
    survey: Survey
    measures: Measures
    sets: Mapping[str, Pyramid]
    evidence: Evidence | None = None
    pack: Callable[[Path, Run], list[str]] | None = None
    """Writes the whole site as one file and says what is in it; None where there is nothing to pack it from."""
    still: Callable[[StillsEntry, str, Run], NDArray[np.uint8]] | None = None
    """Takes a still of a stand, or of the shot of an id; None where nothing lights it."""
    field: Callable[[], Field] | None = None
    """Returns what is strewn over the site; None where nothing can be."""

    @property
    def contents(self) -> list[str]:
        """What its sets hold now, by content name: a set keeps its own name whatever becomes of it."""
        return [self.sets[name].content_name for name in self.recipe.sets() if name in self.sets]

    @property
    def shown(self) -> list[Layer]:
        """The layers that are on, from the bottom up."""
        return [layer for layer in self.recipe.layers if layer.on]


@result
class Held:
    """What a channel of a file holds: a value, whose share it is, and what its ends stand for.

    The lowest code of whole numbers stands for ``low``, the highest for ``high``, both in ``unit``; floats are the
    values themselves. ``inverted`` turns that about.
    """

    of: ValueName
    unit: str
    low: float
    high: float
    inverted: bool
    layer: str


@dataclass(frozen=True)
class File:
    """One file to be written.

    ``first`` says which of an entry's weights it has, ``layer`` whose share; ``kept`` whether it stays when all is
    written; ``among`` which layers its tile keeps, empty all.
    """

    name: str
    entry: MapsEntry
    image: WrittenImage
    grid: Grid
    tile: Tile
    held: tuple[Held, ...]
    first: int = 0
    layer: int = -1
    kept: bool = True
    among: tuple[int, ...] = ()

    @property
    def disk_bytes(self) -> int:
        """About how many bytes it will have."""
        return round(self.image.bytes * FORMS[self.entry.format].shrinks)

    @property
    def memory_bytes(self) -> int:
        """What it takes in a renderer's memory as it is, with its smaller sizes."""
        channels = 4 if self.image.channels == 3 else self.image.channels
        return round(_MIPS * self.image.width * self.image.height * channels * self.image.dtype.itemsize)

    @property
    def block_bytes(self) -> int:
        """The same compressed in blocks: half a byte a texel of one channel, one of more (BC4, BC5, BC6H, BC7)."""
        a_texel = 0.5 if self.image.channels == 1 else 1.0
        return round(_MIPS * self.image.width * self.image.height * a_texel)


def relief_range(recipe: Recipe, sets: Mapping[str, Pyramid]) -> tuple[float, float]:
    """Return the lowest and highest relief along the normal that layers, wears and joints can have, metres."""
    low = high = 0.0
    for layer in recipe.layers:
        if not layer.on or layer.set not in sets:
            continue
        fit = layer.fit
        mid = fit_row.middle(fit, float(sets[layer.set].mean[HEIGHT]))
        finer = fit.detail.relief_m * fit.detail.strength if fit.detail else 0.0
        below, above = -mid * fit.relief_m - finer, (1 - mid) * fit.relief_m + finer
        if fit.meets == "levelled":
            low, high = min(low, below), max(high, above)
        else:
            low, high = low + min(below, 0.0), high + max(above, 0.0)
    for depth_m in wear_plan.depths_m(recipe.wears, recipe.layers):
        low, high = low + min(depth_m, 0.0), high + max(depth_m, 0.0)
    climbs = max((one.joins_m for one in recipe.set_things if one.joins), default=0.0)
    return low, max(high + RISE * climbs, low + 1e-3)


def _usual(source: Source, of: ValueName, seen: dict[str, tuple[float, float]]) -> tuple[float, float]:
    """Return what a value may be on this site."""
    kind = KINDS[of]
    if kind.family == "normal":
        return -1.0, 1.0
    if of == "emission":
        brightest = max((layer.look.emission_ev for layer in source.shown), default=0.0)
        return 0.0, float(2.0**brightest)
    if kind.family not in ("metres", "measure"):
        return 0.0, 1.0
    if of not in seen:
        seen[of] = _metres(source, of)
    return seen[of]


def _metres(source: Source, of: ValueName) -> tuple[float, float]:
    if of in MEASURES:
        low, high = (0.0, 360.0) if MEASURES[of].scale == "compass" else source.measures.reach(of)
        return low, high if high > low else low + 1.0
    low, high = relief_range(source.recipe, source.sets)
    if of == "relief":
        return low, high
    # steep ground lifts its relief by more than it is high
    lift = surface.most_lift(source.survey.gradient)
    heights = source.survey.heights
    return float(heights.min()) + low * lift, float(heights.max()) + high * lift


def _held(source: Source, slot: Slot, layer: str, seen: dict[str, tuple[float, float]]) -> Held:
    low, high = (slot.low, slot.high) if slot.range == "own" else _usual(source, slot.of, seen)
    return Held(slot.of, KINDS[slot.of].unit, low, high, slot.inverted, layer)


def channels_of(entry: MapsEntry) -> int:
    """Return how many channels an entry's files have."""
    return sum(KINDS[slot.of].channels for slot in entry.holds)


def _check(sheet: Sheet, entry: MapsEntry, source: Source) -> None:
    """Refuse an entry whose format cannot hold it."""
    form, channels = FORMS[entry.format], channels_of(entry)
    file_names.check(entry.file)
    if entry.type not in form.types:
        raise RefusalError(
            f"{entry.file} of {sheet.name}",
            f"{form.label} of {entry.type}",
            "one of " + ", ".join(form.types),
            "choose another type or format",
        )
    if channels not in form.channels:
        raise RefusalError(
            f"{entry.file} of {sheet.name}",
            f"{channels} channels in {form.label}",
            "as many as it takes: " + ", ".join(map(str, form.channels)),
            "choose another format or other values",
        )
    families = [slot for slot in entry.holds if slot.of in ("shares", *splat.WEIGHTS)]
    if families and len(entry.holds) > 1:
        raise RefusalError(
            f"{entry.file} of {sheet.name}",
            "shares or weights of all layers beside other values",
            "a file of their own",
            "take the share of one layer instead",
        )
    if (
        any(slot.of in splat.WEIGHTS for slot in families)
        and entry.type.startswith("float")
        and not all(slot.of == "weights" for slot in families)
    ):
        raise RefusalError(
            f"{entry.file} of {sheet.name}", "numbers of layers as floats", "whole numbers", "choose 8 or 16 bit"
        )
    ids = {layer.id for layer in source.shown}
    for slot in entry.holds:
        if slot.layer is not None and slot.layer not in ids:
            raise RefusalError(
                f"{entry.file} of {sheet.name}",
                "the share of a layer that is gone or hidden",
                "one that is shown",
                "choose another layer",
            )


def _several(source: Source, entry: MapsEntry) -> list[tuple[int, int, str]]:
    """Return for each of an entry's files of one tile: the layer its share is of, which of its weights."""
    shown = source.shown
    if entry.holds[0].of == "shares":
        return [(k, 0, plain_name(layer.name)) for k, layer in enumerate(shown)]
    if entry.holds[0].of == "weights":
        return [(-1, k, "") for k in range(splat.files_of(len(shown)))]
    return [(-1, 0, "")]


def _names_of_layers(source: Source, entry: MapsEntry, layer: int, first: int) -> list[str]:
    """Return which layer each channel of a file is of."""
    names = [one.name for one in source.shown]
    if layer >= 0:
        return [names[layer]]
    if entry.holds[0].of == "weights":
        four = names[first * splat.A_FILE : (first + 1) * splat.A_FILE]
        return four + [""] * (splat.A_FILE - len(four))
    by_id = {one.id: one.name for one in source.shown}
    return [by_id.get(slot.layer or "", "") for slot in entry.holds for _ in range(KINDS[slot.of].channels)]


def channel_names(entry: MapsEntry) -> tuple[str, ...]:
    """Return what an entry's channels are called where a format names them."""
    count = channels_of(entry)
    return ("Y",) if count == 1 else _RGB[:count]


def files_of(sheet: Sheet, source: Source) -> list[File]:
    """Return the files that a sheet comes to, tile by tile.

    Parameters
    ----------
    sheet : Sheet
        What is wanted.
    source : Source
        Of what.

    Raises
    ------
    RefusalError
        When it lists nothing, an entry cannot be written as it is, or two files would share a name.
    """
    if not sheet.entries:
        raise RefusalError(sheet.name, "no entries", "at least one", "add what is to be written")
    seen: dict[str, tuple[float, float]] = {}
    out: list[File] = []
    for of, entry, kept in _maps(sheet):
        _check(sheet, entry, source)
        grid = grid_of(source.recipe.ground, of, entry)
        tiles = tiles_of(source.recipe.ground, of, grid)
        if len(out) + len(tiles) * len(_several(source, entry)) > MOST_FILES:
            raise RefusalError(
                sheet.name, f"more than {MOST_FILES} files", "as many or fewer", "make fewer tiles or entries"
            )
        for tile in tiles:
            out += [replace(file, kept=kept) for file in _tile_files(source, entry, grid, tile, seen)]
    check_names(sheet, [(file.name, file.entry.id) for file in out])
    return out


def _maps(sheet: Sheet) -> Iterator[tuple[Sheet, MapsEntry, bool]]:
    """Yield the maps of all entries, with the sheet whose tiles they have, and whether their files stay."""
    for any in sheet.entries:
        kept = not isinstance(any, MeshEntry) or any.maps != "inside"
        for of, entry in maps_of(sheet, any):
            yield of, entry, kept


def _tile_files(
    source: Source, entry: MapsEntry, grid: Grid, tile: Tile, seen: dict[str, tuple[float, float]]
) -> list[File]:
    form = FORMS[entry.format]
    if form.most_px and max(tile.width, tile.height) > form.most_px:
        raise RefusalError(
            entry.file,
            f"{tile.width} x {tile.height} pixels in {form.label}",
            f"at most {form.most_px} along a side",
            "cut it into tiles or choose another format",
        )
    out = []
    for k, (layer, first, word) in enumerate(_several(source, entry)):
        names = _names_of_layers(source, entry, layer, first)
        channels = [slot for slot in entry.holds for _ in range(KINDS[slot.of].channels)]
        held = tuple(_held(source, slot, name, seen) for slot, name in zip(channels, names, strict=True))
        told = "; ".join(dict.fromkeys(map(_told, held)))
        linear = any(KINDS[slot.of].family == "colour" for slot in entry.holds)
        image = WrittenImage(
            tile.width,
            tile.height,
            len(held),
            entry.type,
            channel_names(entry),
            told,
            entry.low_byte_first,
            encoding.primaries(entry.encoding) if linear else (),
        )
        fields = {
            "site": plain_name(source.title),
            "map": "-".join(dict.fromkeys(slot.of for slot in entry.holds)),
            "row": Row(tile.row + 1),
            "column": tile.column + 1,
            "udim": tile.udim,
            "k": k + 1,
            "layer": word or "all",
            "width": tile.width,
            "height": tile.height,
            "level": 0,
            "view": "above",
        }
        name = file_names.name_of(entry.file, fields, form.suffix)
        out.append(File(name, entry, image, grid, tile, held, first, layer))
    return out


def _told(held: Held) -> str:
    """Return a word about a channel, with its unit, for formats that keep one."""
    kind = KINDS[held.of]
    return f"{held.layer or kind.title.lower()}{f', {kind.unit}' if kind.unit else ''}: {kind.about}"


def check_names(sheet: Sheet, named: Iterable[tuple[str, str]]) -> None:
    """Refuse two files of one name, each given with its entry's id: some file systems do not tell upper from lower
    case."""
    patterns = {entry.id: entry.file for entry in sheet.entries}
    known = {"hand-off.json": ""}
    for name, id in named:
        other = known.get(name.lower())
        if other is not None:
            several = "tiles or levels" if other == id else "entries"
            todo = "use {row}{column}, {udim}, {level} or {k}" if other == id else "name one of them otherwise"
            raise RefusalError(
                f"{patterns[id]!r} of {sheet.name}", f"two {several} that become {name}", "a name for each", todo
            )
        known[name.lower()] = id


def type_label(type: SampleType) -> str:
    """Return what a type of samples is called."""
    return {"uint8": "8 bit", "uint16": "16 bit", "float16": "half", "float32": "float"}[type]
