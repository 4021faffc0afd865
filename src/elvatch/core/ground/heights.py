"""Height files in: what they are is told from their first bytes, never from their name.

Sizes are checked in the header before anything is decoded. One module per format stands behind
one registry, :data:`elvatch.core.formats.registry.FORMATS`; files without a header are known by their ending alone.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from elvatch.core.formats import isolated, raw, registry
from elvatch.core.formats.decoded import Decoded, Samples
from elvatch.core.formats.limits import MOST_BYTES
from elvatch.core.formats.reading import Reading
from elvatch.core.formats.registry import Format
from elvatch.core.ground import mend, slope
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.refusal import RefusalError

KNOWN = "PNG, TIFF, EXR, NPY, ASCII grid or RAW"
_FEW_LEVELS = 400
_LEAST_SIDE = 8
_ROWS_AT_ONCE = 256


@dataclass(frozen=True)
class HeightFile:
    """A height file as read: values without a unit, and the facts to judge them by.

    ``values`` (rows, cols) float32, holes filled, turned as wanted; ``bits`` per sample;
    ``levels`` how many different values the file holds; ``step`` the usual distance between them
    when there are few, else 0; ``share_lowest`` and ``share_highest`` of the samples that lie at
    either limit, 0..1; ``holes`` samples that were missing; ``pages``, ``channels`` what else
    there is; ``cell_m`` the cell's size where the file tells it; ``guesses`` of a file without a
    header whose layout was not given, the best first.
    """

    format: str
    values: NDArray[np.float32]
    bits: int
    kind: str
    levels: int
    step: float
    lowest: float
    highest: float
    share_lowest: float
    share_highest: float
    holes: int
    pages: int
    channels: tuple[str, ...]
    cell_m: tuple[float, float] | None
    guesses: tuple[raw.Guess, ...] = ()

    @property
    def rows(self) -> int:
        """Samples from north to south."""
        return int(self.values.shape[0])

    @property
    def cols(self) -> int:
        """Samples from west to east."""
        return int(self.values.shape[1])


def _format_of(name: str, data: bytes, reading: Reading) -> Format:
    if not data:
        raise RefusalError(name, "an empty file", f"heights ({KNOWN})", "choose another file")
    if len(data) > MOST_BYTES:
        raise RefusalError(
            name,
            f"{len(data) / 1e6:.0f} MB",
            f"at most {MOST_BYTES / 1e6:.0f} MB",
            "reduce it before bringing it in",
        )
    if reading.raw is None:
        for format_ in registry.FORMATS:
            if format_.looks_like(data):
                return format_
    if reading.raw is not None or raw.looks_like_name(name):
        return registry.RAW
    raise RefusalError(
        name,
        "a file that is no PNG, TIFF, EXR, NPY or ASCII grid inside",
        "heights in one of these, or headerless with an ending like .raw",
        "save it as one of these",
    )


def read(name: str, data: bytes, reading: Reading | None = None) -> HeightFile:
    """Read heights from the bytes of a file.

    Parameters
    ----------
    name : str
        What the file is called: for messages, and to know a headerless file by its ending.
    data : bytes
        The whole file.
    reading : Reading, optional
        Page, channel, layout, flips and turns, no-data value, smoothing of steps.

    Raises
    ------
    RefusalError
        When it is no known format, too large, broken, not one channel, has no heights or no relief.
    """
    reading = reading or Reading()
    format_ = _format_of(name, data, reading)
    guesses: tuple[raw.Guess, ...] = ()
    if format_ is registry.RAW and reading.raw is None:
        guesses = tuple(raw.guesses(name, data))
        reading = reading.model_copy(update={"raw": guesses[0].layout})
    decoded = isolated.heights(format_.name, name, data, reading)
    # as large as what was decoded; whoever called may have let it go
    del data
    return _with_facts(name, format_.name, decoded, reading, guesses)


def _row_bands(values: Samples) -> Iterator[slice]:
    """Some rows at a time: a copy of a large file's values is never held whole."""
    for first in range(0, len(values), _ROWS_AT_ONCE):
        yield slice(first, first + _ROWS_AT_ONCE)


def _holes(name: str, decoded: Decoded, reading: Reading) -> NDArray[np.bool_]:
    values = decoded.values
    markers = [m for m in (decoded.no_data, reading.no_data) if m is not None and np.isfinite(m)]
    hole, endless = np.zeros(values.shape, bool), 0
    for rows in _row_bands(values):
        some, out = values[rows], hole[rows]
        if values.dtype.kind == "f":
            np.isnan(some, out=out)
        for marker in markers:
            out |= some == (np.float32(marker) if values.dtype.kind == "f" else marker)
        if values.dtype.kind == "f":
            endless += int(np.count_nonzero(np.isinf(some) & ~out))
    if hole.all():
        raise RefusalError(name, "no heights at all, only holes", "heights", "choose another file or channel")
    if endless:
        raise RefusalError(
            name,
            f"{endless} samples that are infinite",
            "finite heights; holes are NaN or a no-data value",
            "give the value that marks holes, or save it again",
        )
    return hole


@dataclass(frozen=True)
class _Spread:
    """What values a file holds: the limits and how many samples lie there, how many differ, and by how much."""

    lowest: float
    highest: float
    at_lowest: int
    at_highest: int
    levels: int
    step: float


def _spread(values: Samples, hole: NDArray[np.bool_]) -> _Spread:
    lowest, highest, at_lowest, at_highest = np.inf, -np.inf, 0, 0
    levels = mend.Levels(_FEW_LEVELS)
    for rows in _row_bands(values):
        there = values[rows][~hole[rows]]
        if there.size == 0:
            continue
        levels.add(there)
        low, high = float(there.min()), float(there.max())
        # as many as found before, where this band does not go beyond
        at_lowest = (at_lowest if low >= lowest else 0) + (int((there == low).sum()) if low <= lowest else 0)
        at_highest = (at_highest if high <= highest else 0) + (int((there == high).sum()) if high >= highest else 0)
        lowest, highest = min(lowest, low), max(highest, high)
    return _Spread(lowest, highest, at_lowest, at_highest, levels.count, levels.step)


def turned(values: Samples, reading: Reading) -> Samples:
    """Return samples flipped and turned as a reading says, flips first, quarter turns clockwise."""
    if reading.flip_east_west:
        values = values[:, ::-1]
    if reading.flip_north_south:
        values = values[::-1]
    return np.rot90(values, -reading.quarter_turns)


def _with_facts(
    name: str, format_name: str, decoded: Decoded, reading: Reading, guesses: tuple[raw.Guess, ...]
) -> HeightFile:
    rows, cols = decoded.values.shape
    if rows < _LEAST_SIDE or cols < _LEAST_SIDE:
        raise RefusalError(
            name, f"{cols} x {rows} samples", f"at least {_LEAST_SIDE} x {_LEAST_SIDE}", "choose a larger heightmap"
        )
    hole = _holes(name, decoded, reading)
    spread, holes = _spread(decoded.values, hole), int(np.count_nonzero(hole))
    if spread.lowest == spread.highest:
        raise RefusalError(
            name, f"the same value {spread.lowest:g} everywhere", "heights that differ", "choose a file with relief"
        )
    values = decoded.values.astype(np.float32, copy=False)
    if holes:
        mend.fill_holes(values, hole)
    if reading.smooth_steps and spread.step > 0:
        values = mend.smooth_steps(values, spread.step)
    cell = decoded.cell_m
    if cell is not None and reading.quarter_turns % 2:
        cell = (cell[1], cell[0])
    kinds = {"u": "whole numbers", "i": "whole numbers with sign", "f": "float"}
    return HeightFile(
        format=format_name,
        values=np.ascontiguousarray(turned(values, reading)),
        bits=decoded.values.dtype.itemsize * 8,
        kind=kinds[decoded.values.dtype.kind],
        levels=spread.levels,
        step=spread.step,
        lowest=spread.lowest,
        highest=spread.highest,
        share_lowest=spread.at_lowest / (values.size - holes),
        share_highest=spread.at_highest / (values.size - holes),
        holes=holes,
        pages=decoded.pages,
        channels=decoded.channels,
        cell_m=cell,
        guesses=guesses,
    )


def place(file: HeightFile, width_m: float, depth_m: float, lowest_m: float, highest_m: float) -> Heightfield:
    """Give a height file its true size: its lowest value becomes ``lowest_m``, its highest ``highest_m``.

    Parameters
    ----------
    file : HeightFile
        As read.
    width_m, depth_m : float
        Size east-west and north-south, metres, above 0.
    lowest_m, highest_m : float
        Elevations, metres, the second above the first.

    Returns
    -------
    Heightfield
        float32 metres.
    """
    if not (width_m > 0 and depth_m > 0):
        raise RefusalError("size", f"{width_m:g} x {depth_m:g} m", "two lengths above 0 m", "enter the true size")
    if not highest_m > lowest_m:
        raise RefusalError(
            "height range",
            f"{lowest_m:g} to {highest_m:g} m",
            "a highest above the lowest",
            "enter the true range",
        )
    scale = (highest_m - lowest_m) / (file.highest - file.lowest)
    heights = np.empty(file.values.shape, np.float32)
    # in doubles
    for rows in _row_bands(file.values):
        heights[rows] = (file.values[rows].astype(np.float64) - file.lowest) * scale + lowest_m
    return Heightfield(heights, width_m, depth_m)


def steepness(ground: Heightfield) -> tuple[float, float]:
    """Return the steepest and the mean slope of a ground, degrees: what its true size comes to."""
    steep = slope.steepness_of(ground)
    return float(steep.max()), float(steep.mean(dtype=np.float64))
