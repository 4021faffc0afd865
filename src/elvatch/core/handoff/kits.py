"""A sheet's kits: maps of each layer, what a kit says of itself, and how near it comes to the cover."""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import dataclass, field
from importlib.metadata import version
from pathlib import Path
from typing import Any, Literal

import imagecodecs
import numpy as np
from numpy.typing import NDArray

from elvatch.core import colour, digest
from elvatch.core.colour_difference import ciede2000, lab
from elvatch.core.cover import function, plan
from elvatch.core.document.layer import Layer
from elvatch.core.document.sheet import VALUES, Sheet
from elvatch.core.document.sheet_entry import KitEntry
from elvatch.core.formats import png
from elvatch.core.ground import places
from elvatch.core.ground.places import Places
from elvatch.core.handoff import bands, splat
from elvatch.core.handoff.bands import Asking
from elvatch.core.handoff.codes import whole
from elvatch.core.handoff.dependence import Dependence
from elvatch.core.handoff.file_names import Row, check, fields_of, name_of
from elvatch.core.handoff.listing import File, Source, files_of
from elvatch.core.handoff.manifest import MadeSaid, made
from elvatch.core.handoff.values import KINDS
from elvatch.core.handoff.whole import Whole
from elvatch.core.kit import guide
from elvatch.core.kit.described import described, not_carried_of
from elvatch.core.kit.document import Kit, KitLayer, KitTile, MapFiles, Near, WeightIn
from elvatch.core.kit.layer_maps import layer_maps
from elvatch.core.kit.reading import Reader
from elvatch.core.plain_name import plain_name
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run

Colours = NDArray[np.floating]
_CHANNELS: tuple[Literal["red", "green", "blue", "alpha"], ...] = ("red", "green", "blue", "alpha")
_TINT_MOST = 2.0
_MOST_COMPARED = 400_000
_CLOSE_PLACES = 4000
_BYTES_A_TEXEL = 7
_UNKNOWN = Near(across_m=0, places=0, mean=0, most_of_20_in_19=0, worst=0)


def _base(entry: KitEntry, source: Source) -> str:
    check(entry.file)
    return name_of(entry.file, fields_of(source.title, "kit"), "").removesuffix(".")


@dataclass(frozen=True)
class _Set:
    """A set of a layer's that a kit holds: of which layer, whether on its steep planes, and what its files begin
    with."""

    number: int
    layer: Layer
    set: str
    steep: bool
    begins: str
    shines: bool

    def files(self) -> list[str]:
        """Return the names of its maps."""
        roles = ("colour", "normal", "surface", "height", *(("emission",) if self.shines else ()))
        return [f"{self.begins}_{role}.png" for role in roles]


def _sets(base: str, source: Source) -> list[_Set]:
    out = []
    for k, layer in enumerate(source.shown):
        begins = f"{base}_{k + 1:02d}_{plain_name(layer.name)}"
        shines = layer.look.emits and layer.set in source.sets and source.sets[layer.set].glow is not None
        out.append(_Set(k, layer, layer.set, False, begins, shines))
        steep = layer.fit.steep_set
        if layer.fit.projection == "triplanar" and steep is not None and steep != layer.set:
            out.append(_Set(k, layer, steep, True, f"{begins}_steep", False))
    return out


def _write_maps(folder: Path, entry: KitEntry, of: _Set, source: Source, run: Run) -> MapFiles:
    found = layer_maps(of.layer, of.set, source.sets, entry.set_px, run.token)
    normal = found.normal * np.array([1, -1 if entry.green == "down" else 1, 1], np.float32)
    surface = np.stack([found.occlusion, found.roughness, found.metallic], -1)
    low, high = float(found.height_m.min()), float(found.height_m.max())
    high = high if high > low else low + 1e-6
    images: list[Any] = [
        colour.srgb_bytes(found.colour),
        whole(normal, "uint8", -1.0, 1.0),
        whole(surface, "uint8"),
        whole(found.height_m, "uint16", low, high),
    ]
    factor = 0.0
    if of.shines and found.emission is not None:
        factor = max(float(found.emission.max()), 1e-6)
        images.append(colour.srgb_bytes(found.emission / np.float32(factor)))
    elif of.shines:
        images.append(np.zeros((entry.set_px, entry.set_px, 3), np.uint8))
    names = of.files()
    for name, image in zip(names, images, strict=True):
        path, codes = folder / name, np.ascontiguousarray(image)
        path.write_bytes(png.encode(codes))
        if not np.array_equal(imagecodecs.png_decode(path.read_bytes()), codes):
            raise RefusalError(name, "other numbers when it was read back", "what was written", "write it again")
    return MapFiles(
        colour=names[0],
        normal=names[1],
        surface=names[2],
        height=names[3],
        low_m=low,
        high_m=high,
        emission=names[4] if of.shines else None,
        emission_factor=factor,
    )


def _weights_of(entry: KitEntry, files: list[File], number: int) -> WeightIn:
    """Return where a layer's weights are in the files of all tiles."""
    if entry.weights == "strongest":
        return WeightIn(files=tuple(file.name for file in files), channel="numbered")
    if entry.weights == "masks":
        return WeightIn(files=tuple(file.name for file in files if file.layer == number), channel="grey")
    channel = _CHANNELS[number % splat.A_FILE]
    chosen = tuple(file.name for file in files if file.first == number // splat.A_FILE)
    return WeightIn(files=chosen, channel=channel)


@dataclass
class _Apart:
    """Differences as they are found, of not too many places."""

    across_m: float
    found: list[NDArray[np.float64]] = field(default_factory=list)

    def add(self, one: Colours, other: Colours, every: int) -> None:
        """Compare every so many of two rows of colours."""
        shown = [np.clip(of[::every], 0, 1) for of in (one, other)]
        self.found.append(ciede2000(lab(shown[0]), lab(shown[1])))

    def told(self) -> Near:
        """Return what they come to."""
        all = np.concatenate(self.found)
        return Near(
            across_m=self.across_m,
            places=len(all),
            mean=float(all.mean()),
            most_of_20_in_19=float(np.quantile(all, 0.95)),
            worst=float(all.max()),
        )


def _normals(at: Places) -> NDArray[np.float64]:
    up = np.stack([-at.rise_east, -at.rise_north, np.ones_like(at.rise_east)], 1).astype(np.float64)
    return np.asarray(up / np.linalg.norm(up, axis=1, keepdims=True))


def _stand(at: Places) -> NDArray[np.float64]:
    return np.stack([at.x_m, at.y_m, at.elevation_m], 1).astype(np.float64)


class _Comparing:
    """A kit held against the cover it was made of."""

    def __init__(self, folder: Path, kit: Kit, tiles: list[File], tints: list[str], source: Source, run: Run) -> None:
        self._folder, self._tiles, self._tints, self._run = folder, tiles, tints, run
        self._source, self._reader = source, Reader(folder, kit)
        self._asking = Asking(source, run.token)
        cell = max(tiles[0].grid.cell_m(source.survey))
        texels = sum(file.tile.width * file.tile.height for file in tiles)
        self._every = max(1, texels // _MOST_COMPARED)
        self.afar, self.bare, self.close = _Apart(cell), _Apart(cell), _Apart(_close_m(kit))
        self.layers: list[int] = []
        self._lost, self._texels = 0.0, 0

    def all(self) -> None:
        """Compare all tiles, and write their tints where they are wanted."""
        for k, file in enumerate(self._tiles):
            weights = self._reader.weights(k)
            self.layers.append(int((weights.max(axis=(0, 1)) > 0).sum()))
            tint = self._tile(k, file, weights)
            if self._tints:
                (self._folder / self._tints[k]).write_bytes(png.encode(tint))
            self._near(file, weights, tint if self._tints else None, k)
            self._run.at((k + 1) / len(self._tiles))

    @property
    def dropped(self) -> float:
        """The part of the ground that layers cover which are not on their tile."""
        return self._lost / max(self._texels, 1)

    def _tile(self, number: int, file: File, weights: NDArray[np.float32]) -> NDArray[np.uint8]:
        """Compare a tile texel by texel; return what its colours are to be multiplied by."""
        out = np.empty((*weights.shape[:2], 3), np.uint8)
        where = bands.inside(file.tile, file.grid)
        first_row = where.rows[0] - (file.tile.rows[0] - file.tile.border)
        first_col = where.cols[0] - (file.tile.cols[0] - file.tile.border)
        kept = weights.max(axis=(0, 1)) > 0
        for rows, band in self._asking.bands(file.grid, where, [KINDS["colour"]]):
            if band.answer is None:
                raise ValueError("colours were not asked for")
            at, of = band.answer.at, band.answer.material
            here = slice(rows[0] - where.rows[0] + first_row, rows[1] - where.rows[0] + first_row)
            there = slice(first_col, first_col + where.width)
            self._lost += float(of.shares[:, ~kept].sum(dtype=np.float64))
            self._texels += len(of.shares)
            some = weights[here, there].reshape(-1, weights.shape[2])
            found = self._reader.colour(some, _stand(at), _normals(at), self.afar.across_m)
            ratio = np.where(found > 1e-4, of.colour / np.maximum(found, 1e-4), 1.0)
            codes = whole(ratio.astype(np.float32), "uint8", 0.0, _TINT_MOST)
            out[here, there] = codes.reshape(rows[1] - rows[0], where.width, 3)
            self.bare.add(of.colour, found, self._every)
            tinted = found * (codes.astype(np.float64) / 255 * _TINT_MOST) if self._tints else found
            self.afar.add(of.colour, tinted, self._every)
            self._run.token.check()
        return _edged(out, first_row, first_col, where)

    def _near(self, file: File, weights: NDArray[np.float32], tint: NDArray[np.uint8] | None, seed: int) -> None:
        """Compare places of a tile close by, weights and tint taken between their texels as an engine does."""
        count = max(1, _CLOSE_PLACES // len(self._tiles))
        part = np.random.default_rng(seed).uniform(0.02, 0.98, (count, 2))
        east, north = file.grid.cell_m(self._source.survey)
        tile = file.tile
        col = part[:, 0] * (tile.cols[1] - tile.cols[0]) + tile.border
        row = part[:, 1] * (tile.rows[1] - tile.rows[0]) + tile.border
        x = (tile.cols[0] + col - tile.border) * east
        y = self._source.survey.depth_m - (tile.rows[0] + row - tile.border) * north
        at = places.on_ground(self._source.survey, x, y, self.close.across_m)
        recipe = self._source.recipe
        prepared = plan.prepare(recipe.layers, self._source.sets, self._source.evidence, wears=recipe.wears)
        of = function.ask(prepared, at, self._run.token)
        found = self._reader.colour(_between(weights, row, col), _stand(at), _normals(at), self.close.across_m)
        if tint is not None:
            found = found * _between((tint / 255).astype(np.float32), row, col) * _TINT_MOST
        self.close.add(of.colour, found, 1)


def _edged(out: NDArray[np.uint8], first_row: int, first_col: int, where: bands.Inside) -> NDArray[np.uint8]:
    """Return a tile whose border beyond the site repeats the site's edge."""
    inner = out[first_row : first_row + where.rows[1] - where.rows[0], first_col : first_col + where.width]
    below, right = (out.shape[k] - inner.shape[k] - first for k, first in ((0, first_row), (1, first_col)))
    return np.pad(inner, ((first_row, below), (first_col, right), (0, 0)), mode="edge")


def _between(texels: NDArray[np.float32], row: NDArray[np.float64], col: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return what stands between texels at places, in texels from the upper left corner; bilinear."""
    y, x = np.clip(row - 0.5, 0, len(texels) - 1), np.clip(col - 0.5, 0, texels.shape[1] - 1)
    r, c = np.minimum(y.astype(np.int64), len(texels) - 2), np.minimum(x.astype(np.int64), texels.shape[1] - 2)
    v, u = (y - r)[:, None], (x - c)[:, None]
    upper = texels[r, c] * (1 - u) + texels[r, c + 1] * u
    lower = texels[r + 1, c] * (1 - u) + texels[r + 1, c + 1] * u
    return np.asarray(upper * (1 - v) + lower * v, np.float64)


def _close_m(kit: Kit) -> float:
    """Return what is close: two texels of the layers' maps."""
    return float(np.median([2 * layer.tile_m / kit.set_px for layer in kit.layers])) if kit.layers else 1.0


def _by_tile(files: list[File]) -> Iterator[File]:
    """Yield the first file of each tile."""
    seen = set()
    for file in files:
        if file.tile not in seen:
            seen.add(file.tile)
            yield file


def _tile_said(file: File, layers: int) -> KitTile:
    grid, tile = file.grid, file.tile
    border = tile.border
    return KitTile(
        name=f"{Row(tile.row + 1)}{tile.column + 1}",
        west=(tile.cols[0] - border) / grid.width,
        south=1 - (tile.rows[1] + border) / grid.height,
        east=(tile.cols[1] + border) / grid.width,
        north=1 - (tile.rows[0] - border) / grid.height,
        layers=layers,
    )


@dataclass(frozen=True)
class _KitFiles:
    """All that a kit comes to, by name."""

    base: str
    sets: list[_Set]
    weights: list[File]
    tiles: list[File]
    tints: list[str]
    materials: list[str]

    def names(self) -> tuple[str, ...]:
        """Return the names of what is made beside the weights."""
        maps = [name for one in self.sets for name in one.files()]
        return (*maps, *self.tints, f"{self.base}.json", *self.materials, f"{self.base}.md")


def _files(entry: KitEntry, sheet: Sheet, source: Source) -> _KitFiles:
    base = _base(entry, source)
    weights = files_of(sheet.model_copy(update={"entries": (entry,)}), source)
    tiles = list(_by_tile(weights))
    parts = [f"_{Row(one.tile.row + 1)}{one.tile.column + 1}" if len(tiles) > 1 else "" for one in tiles]
    tints = [f"{base}_tint{part}.png" for part in parts] if entry.tint else []
    materials = [f"{base}{part}.mtlx" for part in parts] if entry.material else []
    return _KitFiles(base, _sets(base, source), weights, tiles, tints, materials)


def _layers(folder: Path, entry: KitEntry, files: _KitFiles, source: Source, run: Run) -> tuple[KitLayer, ...]:
    maps: dict[tuple[int, bool], MapFiles] = {}
    for k, one in enumerate(files.sets):
        maps[one.number, one.steep] = _write_maps(folder, entry, one, source, run)
        run.at((k + 1) / len(files.sets))
    return tuple(
        described(k, layer, maps[k, False], maps.get((k, True)), _weights_of(entry, files.weights, k))
        for k, layer in enumerate(source.shown)
    )


def _kit(folder: Path, entry: KitEntry, files: _KitFiles, source: Source, run: Run) -> Kit:
    """Make a kit's maps and tints; return what it says of itself."""
    layers = _layers(folder, entry, files, source, run.part(0, 0.5))
    ground = source.recipe.ground
    bare = Kit(
        made_by=f"elvatch {version('elvatch')}",
        site=source.title,
        width_m=ground.width_m,
        depth_m=ground.depth_m,
        set_px=entry.set_px,
        green=entry.green,
        weights=entry.weights,
        layers=layers,
        tiles=(),
        tint=(),
        tint_most=_TINT_MOST,
        from_afar=_UNKNOWN,
        from_afar_without_tint=_UNKNOWN,
        close=_UNKNOWN,
        dropped=0.0,
        not_carried=not_carried_of(source.recipe),
    )
    held = _Comparing(folder, bare, files.tiles, files.tints, source, run.part(0.5, 0.95))
    held.all()
    tiles = tuple(_tile_said(file, count) for file, count in zip(files.tiles, held.layers, strict=True))
    return bare.model_copy(
        update={
            "tiles": tiles,
            "tint": tuple(files.tints),
            "from_afar": held.afar.told(),
            "from_afar_without_tint": held.bare.told(),
            "close": held.close.told(),
            "dropped": held.dropped,
        }
    )


def told_of(kit: Kit) -> list[str]:
    """Return how near a kit comes and how many layers lie on a tile, in lines for people."""
    most = max(tile.layers for tile in kit.tiles)
    lines = [
        f"from afar {kit.from_afar.mean:.2f} from the cover on the mean, {kit.from_afar.worst:.1f} at worst "
        "(CIEDE2000)",
        f"close by {kit.close.mean:.2f} on the mean",
        f"at most {most} of {len(kit.layers)} layers on a tile"
        + (f"; {kit.dropped:.2%} of the ground dropped" if kit.dropped > 0 else ""),
    ]
    if kit.tint:
        lines.insert(1, f"without its tint {kit.from_afar_without_tint.mean:.2f} from afar")
    return lines


def wholes(entry: KitEntry, sheet: Sheet, source: Source) -> list[Whole]:
    """Return what makes the files of a kit, its weights aside."""
    files = _files(entry, sheet, source)

    def make(folder: Path, run: Run) -> list[MadeSaid]:
        kit = _kit(folder, entry, files, source, run)
        (folder / f"{files.base}.json").write_text(
            json.dumps(kit.model_dump(mode="json"), indent=2, ensure_ascii=False), encoding="utf-8"
        )
        for k, name in enumerate(files.materials):
            from elvatch.core.kit import material  # takes long to load, and is wanted seldom

            material.write(folder / name, kit, k)
        (folder / f"{files.base}.md").write_text(guide.text(kit), encoding="utf-8")
        kinds = {".json": "what the kit says of itself", ".mtlx": "MaterialX document", ".md": "the kit's guide"}
        out = []
        for name in files.names():
            lines = told_of(kit) if name.endswith((".json", ".md")) else []
            out.append(made(folder / name, entry.id, kinds.get(Path(name).suffix, "map of a layer"), lines))
        return out

    texels = len(files.sets) * entry.set_px**2 + sum(one.tile.width * one.tile.height for one in files.tiles)
    names = [file.name for file in files.weights]
    of = digest.of_json([entry.model_dump(mode="json"), source.title, names, Dependence(source).of(VALUES)])
    return [Whole(entry.id, files.names(), texels * _BYTES_A_TEXEL, of, make)]
