"""The hand-off: maps of the whole site, asked of the cover band by band and written as they come.

Memory does not depend on the size asked for: a band of rows is asked for, encoded, written and
forgotten. Everything is written beside its place and moved there when whole.
"""

from __future__ import annotations

import json
import os
import re
import shutil
import tempfile
from collections.abc import Callable, Mapping
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import ExitStack, closing
from pathlib import Path
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cover import function, plan
from elvatch.core.cover.plan import Prepared
from elvatch.core.document.recipe import MapName, Recipe
from elvatch.core.formats import png, tiff
from elvatch.core.ground import places
from elvatch.core.ground.description import Ground
from elvatch.core.ground.measures import KINDS, MeasureName, Measures
from elvatch.core.ground.sampling import texel_rows
from elvatch.core.ground.survey import Survey
from elvatch.core.handoff import maps, splat
from elvatch.core.handoff.maps import Band, Codes, MapKind
from elvatch.core.mapping import fitting, surface
from elvatch.core.parallel import Token
from elvatch.core.refusal import RefusalError
from elvatch.core.results import result
from elvatch.core.rules.evidence import Evidence
from elvatch.core.stock.pyramid import HEIGHT, Pyramid
from elvatch.core.wear import wear_plan

_BAND_TEXELS = 160_000
SHEET_NAME = "hand-off.json"


@result
class SheetFile:
    """One file of the hand-off sheet, before it is written.

    ``range_m`` says which metres the lowest and the highest code stand for; ``layer`` which layer
    of the plan a share is of; ``first`` which of the splat maps this is; ``white`` what the highest
    code of an emission stands for, 1 as bright as white ground at noon.
    """

    name: str
    map: MapName | Literal["measure"]
    width_px: int
    height_px: int
    channels: int
    bits: int
    meaning: str
    layer: int = -1
    range_m: tuple[float, float] | None = None
    measure: MeasureName | None = None
    first: int = 0
    white: float = 1.0


def size_of(ground: Ground, size_px: int) -> tuple[int, int]:
    """Return width and height in pixels of maps whose longer side has ``size_px``."""
    width, depth = ground.width_m, ground.depth_m
    scale = size_px / max(width, depth)
    return max(1, round(width * scale)), max(1, round(depth * scale))


def plain_name(name: str) -> str:
    """A name for a file: lower case, plain letters and digits, never empty, never a path."""
    return re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:48] or "unnamed"


def _relief_range(recipe: Recipe, sets: Mapping[str, Pyramid]) -> tuple[float, float]:
    """Return the lowest and highest relief along the normal that the layers can have, metres."""
    low = high = 0.0
    for layer in recipe.layers:
        if not layer.on:
            continue
        if layer.set not in sets:
            raise plan.missing_set(layer)
        fit = layer.fit
        mid = fitting.middle(fit, float(sets[layer.set].mean[HEIGHT]))
        finer = fit.detail.relief_m * fit.detail.strength if fit.detail else 0.0
        below, above = -mid * fit.relief_m - finer, (1 - mid) * fit.relief_m + finer
        if fit.meets == "levelled":
            low, high = min(low, below), max(high, above)
        else:
            low, high = low + min(below, 0.0), high + max(above, 0.0)
    for depth_m in wear_plan.depths_m(recipe.wears, recipe.layers):
        low, high = low + min(depth_m, 0.0), high + max(depth_m, 0.0)
    return low, max(high, low + 1e-3)


def _height_range(
    recipe: Recipe, survey: tuple[float, float], sets: Mapping[str, Pyramid], most_lift: float
) -> tuple[float, float, float, float]:
    """Return lowest and highest elevation with relief, and lowest and highest relief, metres."""
    low, high = _relief_range(recipe, sets)
    return survey[0] + low * most_lift, survey[1] + high * most_lift, low, high


def sheet(site: str, recipe: Recipe, survey: Survey, sets: Mapping[str, Pyramid]) -> list[SheetFile]:
    """Return the files that :func:`bake` would write, in order, of the ground's survey."""
    width, height = size_of(recipe.ground, recipe.hand_off.size_px)
    elevation = float(survey.heights.min()), float(survey.heights.max())
    # steep ground lifts its relief by more than it is high
    most_lift = float(surface.lifts(survey.gradient).max())
    low, high, relief_low, relief_high = _height_range(recipe, elevation, sets, most_lift)
    stem = plain_name(site)
    ranges: dict[MapName, tuple[float, float]] = {"height": (low, high), "relief": (relief_low, relief_high)}
    told: dict[MapName, str] = {
        "height": f"ground with relief, {low:.3f} m to {high:.3f} m",
        "relief": f"relief above the ground, {relief_low:.4f} m to {relief_high:.4f} m",
    }
    files = []
    for name in recipe.hand_off.maps:
        if name == "shares":
            shown = [layer for layer in recipe.layers if layer.on]
            files += [
                SheetFile(f"{stem}_share_{k + 1:02d}_{plain_name(layer.name)}.png", name, width, height, 1, 16,
                          f"share of {layer.name}, raw, all shares sum to 1", k)
                for k, layer in enumerate(shown)
            ]  # fmt: skip
        elif name == "splat":
            files += _splat_files(stem, recipe, (width, height))
        else:
            kind = maps.KINDS[name]
            bits, meaning, white = maps.bits_of(kind, recipe.hand_off), kind.meaning, 1.0
            if bits == 32:
                files.append(SheetFile(f"{stem}_{name}.tif", name, width, height, kind.channels, 32, meaning))
                continue
            if name == "emission":
                brightest = max((layer.look.emission_ev for layer in recipe.layers if layer.on), default=0.0)
                white, meaning = 2.0**brightest, f"{meaning}, 1 is {brightest:+.1f} EV from white ground at noon"
            files.append(SheetFile(
                f"{stem}_{name}.png", name, width, height, kind.channels, bits, told.get(name, meaning), -1,
                ranges.get(name), white=white,
            ))  # fmt: skip
    for measure in recipe.hand_off.measures:
        of = KINDS[measure]
        meaning = f"{of.title.lower()}, {of.unit}: {of.about}"
        files.append(SheetFile(f"{stem}_{measure}.tif", "measure", width, height, 1, 32, meaning, -1, None, measure))
    return files


def _splat_files(stem: str, recipe: Recipe, size: tuple[int, int]) -> list[SheetFile]:
    names = [layer.name for layer in recipe.layers if layer.on]
    bits, out = recipe.hand_off.splat_bits, []
    for k in range(splat.files_of(len(names))):
        of = names[k * splat.A_FILE : (k + 1) * splat.A_FILE]
        told = ", ".join(f"{letter} {name}" for letter, name in zip("RGBA", of, strict=False))
        meaning = f"weights of {told}; of all splat maps together {(1 << bits) - 1} at every texel"
        file = f"{stem}_splat_{k + 1:02d}.png"
        out.append(SheetFile(file, "splat", *size, splat.A_FILE, bits, meaning, first=k))
    return out


def _kind_of(file: SheetFile) -> MapKind:
    if file.map == "measure":
        raise ValueError(f"{file.name} is no map of the cover")
    return maps.KINDS[file.map]


def _codes_of(file: SheetFile, band: Band, shape: tuple[int, int]) -> Codes:
    """Return one band of one file of whole numbers, of shape ``shape`` (and channels)."""
    material = band.material
    if file.map == "shares":
        return maps.coded(material.shares[:, file.layer], 16).reshape(shape)
    if file.map == "splat":
        four = splat.packed(splat.weights(material.shares, file.bits), file.first).reshape(*shape, splat.A_FILE)
        return four.astype(np.uint8) if file.bits == 8 else four
    kind = _kind_of(file)
    values = maps.band_of(kind, band)
    if file.range_m is not None:
        low, high = file.range_m
        values = (values - low) / (high - low)
    elif file.white != 1.0:
        values = values / np.float32(file.white)
    return maps.encoded(kind, values, file.bits).reshape(*shape, *values.shape[1:])


def bake(
    site: str, recipe: Recipe, survey: Survey, measures: Measures, sets: Mapping[str, Pyramid], out: Path,
    progress: Callable[[float], None] | None = None, token: Token | None = None, evidence: Evidence | None = None,
) -> list[Path]:  # fmt: skip
    """Write the maps of a site into a folder.

    Parameters
    ----------
    site : str
        The site's name; files are named after it.
    recipe : Recipe
        What lies where, and the hand-off sheet.
    survey : Survey
        The recipe's ground.
    measures : Measures
        Its measures.
    sets : mapping
        Stored texture sets by content name.
    out : Path
        Folder; made when missing. Files of the same names are replaced.
    progress : callable, optional
        Told the share done, 0..1, after every band.
    token : Token, optional
        Asked between bands; nothing is left behind when it is cancelled.
    evidence : Evidence, optional
        What rules may read.

    Returns
    -------
    list of Path
        The files written, the sheet ``hand-off.json`` last.

    Raises
    ------
    RefusalError
        When the folder cannot be written to.
    CancelledError
        When the token was cancelled.
    """
    files = sheet(site, recipe, survey, sets)
    if not files:
        raise RefusalError("hand-off sheet", "no maps", "at least one", "choose the maps to write")
    partial = _folder_beside(out, files)
    try:
        covers = [file for file in files if file.measure is None]
        told = progress or (lambda share: None)
        part = len(covers) / len(files)
        if covers:
            prepared = plan.prepare(recipe.layers, sets, evidence, wears=recipe.wears)
            _write_maps(covers, prepared, survey, partial, lambda s: told(part * s), token, recipe.water.level())
        for number, file in enumerate(files[len(covers) :]):
            _write_measure(file, measures, partial, token)
            told((len(covers) + number + 1) / len(files))
        _write_sheet(site, recipe, files, partial)
        return _move_into_place([*(file.name for file in files), SHEET_NAME], partial, out)
    except OSError as error:
        expected, todo = "room and permission to write", "free some space or choose another"
        raise RefusalError(str(out), error.strerror or "an error", expected, todo) from None
    finally:
        shutil.rmtree(partial, ignore_errors=True)


def _folder_beside(out: Path, files: list[SheetFile]) -> Path:
    """Return a new folder beside the one that is wanted, to be written in first."""
    try:
        out.parent.mkdir(parents=True, exist_ok=True)
        _check_room(files, out.parent)
        return Path(tempfile.mkdtemp(prefix=".part-", dir=out.parent))
    except OSError as error:
        raise RefusalError(str(out), error.strerror or "an error", "a folder to write to", "choose another") from None


def expected_bytes(files: list[SheetFile]) -> int:
    """Return about how many bytes the files of a sheet will have, no fewer than most sheets come to.

    Floats of maps are written as they are; what is packed has been seen to shrink to a third and less.
    """
    return sum(
        file.width_px
        * file.height_px
        * file.channels
        * file.bits
        // (8 if file.bits == 32 and file.measure is None else 24)
        for file in files
    )


def _check_room(files: list[SheetFile], folder: Path) -> None:
    """Refuse at once what there is no room for."""
    wanted, free = expected_bytes(files), shutil.disk_usage(folder).free
    if wanted > free:
        raise RefusalError(
            "hand-off sheet", f"some {wanted / 1e6:.0f} MB to write and {free / 1e6:.0f} MB free in {folder}",
            "room for all of it", "free some space, or choose fewer or smaller maps or another folder",
        )  # fmt: skip


class _Writing:
    """One file as it is written, band by band: floats in metres, or whole numbers."""

    def __init__(self, file: SheetFile, folder: Path, stack: ExitStack) -> None:
        self._file = file
        path, size = folder / file.name, (file.width_px, file.height_px)
        if file.bits == 32:
            self._writer: tiff.Writer | png.Writer = stack.enter_context(
                closing(tiff.Writer(path, *size, file.meaning))
            )
        else:
            self._writer = png.Writer(stack.enter_context(path.open("wb")), *size, file.channels, file.bits)

    def write(self, band: Band, shape: tuple[int, int]) -> None:
        """Add a band."""
        if isinstance(self._writer, tiff.Writer):
            self._writer.write(maps.band_of(_kind_of(self._file), band).reshape(shape))
        else:
            self._writer.write(_codes_of(self._file, band, shape))

    def finish(self) -> None:
        """Make the file whole, on disk."""
        self._writer.finish()


def _write_maps(
    files: list[SheetFile], prepared: Prepared, survey: Survey, folder: Path, progress: Callable[[float], None],
    token: Token | None, water_m: float | None,
) -> None:  # fmt: skip
    width, height = files[0].width_px, files[0].height_px
    rows = max(4, _BAND_TEXELS // width)
    with ExitStack() as stack:
        writers = [_Writing(file, folder, stack) for file in files]
        pool = stack.enter_context(ThreadPoolExecutor(max_workers=2, thread_name_prefix="encode"))
        waiting: list[Future[None]] = []
        for first in range(0, height, rows):
            last = min(first + rows, height)
            at = places.on_grid(survey, width, height, first, last)
            band = Band(at, function.ask(prepared, at, token), water_m)

            def encode(k: int, band: Band = band, count: int = last - first) -> None:
                writers[k].write(band, (count, width))

            for future in waiting:
                future.result()
            waiting = [pool.submit(encode, k) for k in range(len(files))]
            progress(last / height)
        for future in waiting:
            future.result()
        for writer in writers:
            writer.finish()


def _write_measure(file: SheetFile, measures: Measures, folder: Path, token: Token | None) -> None:
    """Write a measure as 32-bit floats in its own unit, strip by strip."""
    if file.measure is None:
        raise ValueError(f"{file.name} is no measure")
    values = measures.map(file.measure, token=token)
    rows = texel_rows(values, file.width_px, file.height_px, KINDS[file.measure].scale == "compass")

    def rows_of(first: int, last: int) -> NDArray[np.float32]:
        if token is not None:
            token.check()
        return rows(first, last)

    with (folder / file.name).open("wb") as stream:
        tiff.write(stream, rows_of, file.width_px, file.height_px, file.meaning)
        stream.flush()
        os.fsync(stream.fileno())


def _write_sheet(site: str, recipe: Recipe, files: list[SheetFile], folder: Path) -> None:
    ground = recipe.ground
    text = json.dumps(
        {
            "site": site,
            "width_m": ground.width_m,
            "depth_m": ground.depth_m,
            "north": "row 0",
            "files": [
                {"name": f.name, "map": f.map, "width_px": f.width_px, "height_px": f.height_px,
                 "channels": f.channels, "bits": f.bits, "meaning": f.meaning, "range_m": f.range_m}
                for f in files
            ],
        },
        indent=2,
    )  # fmt: skip
    with (folder / SHEET_NAME).open("w", encoding="utf-8") as stream:
        stream.write(text)
        stream.flush()
        os.fsync(stream.fileno())


def _move_into_place(names: list[str], partial: Path, out: Path) -> list[Path]:
    """Move finished files: a new folder appears whole, files of an old one are replaced one by one."""
    if not out.exists():
        partial.chmod(0o755)
        partial.rename(out)
    else:
        for name in names:
            (partial / name).replace(out / name)
    return [out / name for name in names]
