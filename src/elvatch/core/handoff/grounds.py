"""The ground handed off as heights alone: a file that any terrain tool reads, and its true size beside it."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np
import tifffile
from numpy.typing import NDArray

from elvatch.core import digest
from elvatch.core.document.sheet import Sheet
from elvatch.core.document.sheet_entry import HEIGHT_LABELS, GroundEntry
from elvatch.core.formats import raw
from elvatch.core.formats.reading import RawLayout, Reading, SampleKind
from elvatch.core.formats.registry import BY_NAME
from elvatch.core.formats.written import FORMS, FormatName, WrittenImage
from elvatch.core.ground.places import size_of
from elvatch.core.ground.sampling import resampled
from elvatch.core.handoff.codes import whole
from elvatch.core.handoff.dependence import Dependence
from elvatch.core.handoff.file_names import check, fields_of, name_of
from elvatch.core.handoff.listing import Source
from elvatch.core.handoff.manifest import MadeSaid, made
from elvatch.core.handoff.whole import Whole
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run

Heights = NDArray[np.float32]
_ENDINGS = {"png": "png", "tiff": "tif", "exr": "exr", "raw": "raw", "npy": "npy", "asc": "asc"}
_RAW_KINDS: dict[str, SampleKind] = {"uint8": "u8", "uint16": "u16", "float32": "f32"}
_BYTES_A_NUMBER_OF_TEXT = 9
# GeoTIFF 1.1: how large a cell is, where the first sample stands, and that samples are points in a plane of metres
_SCALE_TAG, _TIE_TAG, _KEYS_TAG = 33550, 33922, 34735
_KEYS = (1, 1, 0, 4, 1024, 0, 1, 32767, 1025, 0, 1, 2, 3072, 0, 1, 32767, 3076, 0, 1, 9001)


def _samples(entry: GroundEntry, source: Source) -> tuple[int, int]:
    rows, cols = source.survey.heights.shape
    if not entry.longer_px:
        return cols, rows
    # samples stand on corners: one more than there are cells
    cells = size_of(source.survey.width_m, source.survey.depth_m, entry.longer_px - 1)
    return cells[0] + 1, cells[1] + 1


def _turned(entry: GroundEntry, values: NDArray[Any]) -> NDArray[Any]:
    down = slice(None, None, -1 if entry.flip_north_south else 1)
    right = slice(None, None, -1 if entry.flip_east_west else 1)
    return np.ascontiguousarray(values[down, right])


def _stored(entry: GroundEntry, heights: Heights) -> NDArray[Any]:
    """Return heights as a type stores them: metres as floats, else from the lowest to the highest."""
    if entry.type in ("uint8", "uint16"):
        low, high = float(heights.min()), float(heights.max())
        return whole(heights, entry.type, low, high if high > low else low + 1.0)
    return heights.astype(entry.type)


def _tiff(path: Path, stored: NDArray[Any], cell_m: tuple[float, float], depth_m: float) -> None:
    tags = [
        (_SCALE_TAG, 12, 3, (cell_m[0], cell_m[1], 0.0), True),
        (_TIE_TAG, 12, 6, (0.0, 0.0, 0.0, 0.0, depth_m, 0.0), True),
        (_KEYS_TAG, 3, len(_KEYS), _KEYS, True),
    ]
    tifffile.imwrite(
        path,
        stored,
        photometric="minisblack",
        extratags=tags,
        metadata=None,
        software=False,
        byteorder="<",
        description="elevation, m",
        compression="zlib",
        predictor=True,
        rowsperstrip=64,
    )


def _asc(path: Path, stored: NDArray[Any], cell_m: tuple[float, float]) -> None:
    even = abs(cell_m[0] - cell_m[1]) <= 1e-9 * cell_m[0]
    size = f"cellsize {cell_m[0]:.10g}\n" if even else f"dx {cell_m[0]:.10g}\ndy {cell_m[1]:.10g}\n"
    with path.open("w", encoding="ascii", newline="\n") as stream:
        stream.write(f"ncols {stored.shape[1]}\nnrows {stored.shape[0]}\nxllcenter 0\nyllcenter 0\n{size}")
        np.savetxt(stream, stored, "%.5g" if stored.dtype == np.float16 else "%.4f")


def _write(path: Path, entry: GroundEntry, stored: NDArray[Any], source: Source) -> None:
    rows, cols = stored.shape
    cell_m = source.survey.width_m / (cols - 1), source.survey.depth_m / (rows - 1)
    if entry.format == "tiff":
        _tiff(path, stored, cell_m, source.survey.depth_m)
    elif entry.format == "npy":
        np.save(path, stored, allow_pickle=False)
    elif entry.format == "asc":
        _asc(path, stored, cell_m)
    else:
        name: FormatName = entry.format
        image = WrittenImage(cols, rows, 1, entry.type, ("Y",), "elevation, m", entry.low_byte_first)
        writer = FORMS[name].writer(path, image)
        try:
            writer.write(stored[..., None])
            writer.finish()
        finally:
            writer.close()


def reading_of(entry: GroundEntry, rows: int, cols: int) -> Reading:
    """Return how our own reader reads the file back."""
    layout = None
    if entry.format == "raw":
        layout = RawLayout(
            width=cols, height=rows, samples=_RAW_KINDS[entry.type], big_endian=not entry.low_byte_first
        )
    return Reading(raw=layout)


def _check_back(path: Path, entry: GroundEntry, stored: NDArray[Any]) -> None:
    """Refuse a file that reads back as something else than was meant."""
    rows, cols = stored.shape
    data = path.read_bytes()
    found = BY_NAME[HEIGHT_LABELS[entry.format]].decode(path.name, data, reading_of(entry, rows, cols)).values
    meant = stored.astype(np.float32)
    near = 1e-4 + 1e-6 * float(np.abs(meant).max()) if entry.format == "asc" else 0.0
    if found.shape != stored.shape or float(np.abs(found.astype(np.float32) - meant).max()) > near:
        raise RefusalError(
            path.name, "other heights when it was read back", "those that were written", "write it again"
        )


def _sidecar(path: Path, entry: GroundEntry, heights: Heights, source: Source, guessed: float | None) -> Path:
    rows, cols = heights.shape
    metres = entry.type not in ("uint8", "uint16")
    told = {
        "format": "elvatch-ground",
        "version": 1,
        "file": path.name,
        "site": source.title,
        "width_m": source.survey.width_m,
        "depth_m": source.survey.depth_m,
        "samples_across": cols,
        "samples_down": rows,
        "samples": "corners",
        "type": entry.type,
        "byte_order": "low byte first" if entry.low_byte_first or entry.format != "raw" else "high byte first",
        "first_row": "south" if entry.flip_north_south else "north",
        "first_column": "east" if entry.flip_east_west else "west",
        "lowest_m": float(heights.min()),
        "highest_m": float(heights.max()),
        "codes": "metres" if metres else "0 is lowest_m, the highest code is highest_m",
        "cell_m": [source.survey.width_m / (cols - 1), source.survey.depth_m / (rows - 1)],
    }
    if guessed is not None:
        told["layout_told_by_bytes_alone"] = round(guessed, 4)
    out = path.with_name(path.name + ".json")
    out.write_text(json.dumps(told, indent=2), encoding="utf-8")
    return out


def _guessed(path: Path, entry: GroundEntry, shape: tuple[int, int]) -> float | None:
    """Return how surely the layout of a headerless file is told by its bytes, None where another would be."""
    best = raw.guesses(path.name, path.read_bytes())[0]
    rows, cols = shape
    layout = reading_of(entry, rows, cols).raw
    return best.confidence if best.layout == layout else None


def wholes(entry: GroundEntry, sheet: Sheet, source: Source) -> list[Whole]:
    """Return what makes a ground's files: heights, their sidecar, what shaping left where that is wanted.

    Raises
    ------
    RefusalError
        When only a part of the site is handed off, or half floats cannot hold the heights.
    """
    check(entry.file)
    if sheet.region is not None:
        raise RefusalError(
            entry.file, "a part of the site", "the whole ground", "put it on a sheet of the whole site"
        )
    cols, rows = _samples(entry, source)
    name = name_of(entry.file, fields_of(source.title, "ground", size=(cols, rows)), _ENDINGS[entry.format])
    left = source.measures.shaped.traces if entry.traces else None
    traces = [] if left is None else [f"{Path(name).stem}_{of}.tif" for of in left._fields]
    size = _BYTES_A_NUMBER_OF_TEXT if entry.format == "asc" else np.dtype(entry.type).itemsize

    def make(folder: Path, run: Run) -> list[MadeSaid]:
        heights = source.survey.heights
        if heights.shape != (rows, cols):
            heights = resampled(heights, rows, cols, run.token)
        stored = _turned(entry, _stored(entry, heights))
        path = folder / name
        _write(path, entry, stored, source)
        run.at(0.5)
        _check_back(path, entry, stored)
        guessed = _guessed(path, entry, stored.shape) if entry.format == "raw" else None
        beside = _sidecar(path, entry, heights, source, guessed)
        told = [
            f"{cols} x {rows} samples on corners, {source.survey.width_m:g} x {source.survey.depth_m:g} m",
            f"{float(heights.min()):.6g} to {float(heights.max()):.6g} m",
        ]
        if guessed is not None:
            told.append(f"its layout is told by its bytes alone, {guessed:.0%} sure")
        out = [
            made(path, entry.id, f"{HEIGHT_LABELS[entry.format]}, heights of the ground", told),
            made(beside, entry.id, "the size of the ground and how its heights are read"),
        ]
        for of, trace in zip(left or (), traces, strict=True):
            _tiff(
                folder / trace,
                _turned(entry, of),
                (source.survey.cell_x_m, source.survey.cell_y_m),
                source.survey.depth_m,
            )
            out.append(made(folder / trace, entry.id, "TIFF, what shaping left behind"))
        return out

    names = (name, f"{name}.json", *traces)
    of = digest.of_json([entry.model_dump(mode="json"), source.title, Dependence(source).of(["elevation"])])
    return [Whole(entry.id, names, cols * rows * (size + 4 * len(traces)), of, make)]
