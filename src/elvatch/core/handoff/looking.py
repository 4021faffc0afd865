"""Files looked into: what they will hold, before they are written, and what they hold, after."""

from __future__ import annotations

import base64
from dataclasses import replace
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core import colour, digest
from elvatch.core.cache import Cache
from elvatch.core.formats import png
from elvatch.core.formats.written import FORMS, WrittenImage
from elvatch.core.ground.places import Grid
from elvatch.core.handoff import bands, codes
from elvatch.core.handoff.bands import Asking, Inside, Numbers
from elvatch.core.handoff.encoding import primaries
from elvatch.core.handoff.listing import File, Held, Source
from elvatch.core.handoff.manifest import FileSaid, covered_by
from elvatch.core.handoff.values import KINDS, Band
from elvatch.core.parallel import Token
from elvatch.core.refusal import RefusalError
from elvatch.core.results import Counts, result

MOST_LOOKED_PX = 1024
_BINS = 64
_BLOCKS, _BLOCK_PX = 4, 32
_THUMB_PX = 48
_STRETCHED = ("metres", "measure")
_kept = Cache[tuple[int, ...]](64)


class Window(NamedTuple):
    """A part of a file: its first texel, how many pixels it is looked at in, and how many texels a pixel has."""

    left: int
    top: int
    columns: int
    rows: int
    step: int


@result
class CodeSpread:
    """How the numbers of a channel are spread: its name, unit, lowest and highest, counts in between, and how many
    different codes there are where whole numbers say it; 0 of floats, and of colours, which 8 bits were made for."""

    name: str
    unit: str
    low: float
    high: float
    counts: Counts
    levels: int


@result
class LookedInto:
    """A part of a file at so many of its texels a pixel: a picture, and its numbers in their units.

    ``picture`` is a PNG and ``values`` are 32-bit floats, little-endian, row by row from the north, channel by
    channel, both in base 64.
    """

    name: str
    width_px: int
    height_px: int
    left: int
    top: int
    columns: int
    rows: int
    step: int
    channels: list[str]
    units: list[str]
    picture: str
    values: str
    spread: list[CodeSpread]


@result
class Thumb:
    """A small picture of an entry, a PNG in base 64."""

    entry: str
    picture: str


def _base64(pixels: NDArray[np.uint8]) -> str:
    return base64.b64encode(png.encode(pixels)).decode()


def _numbers(stored: NDArray[Any], held: tuple[Held, ...], coloured: list[bool]) -> Numbers:
    """Return what codes stand for, shape (..., channels), in their units; colours stay encoded."""
    out: Numbers = np.array(stored, np.float32)
    if stored.dtype.kind == "u":
        out /= 255.0 if stored.dtype == np.uint8 else 65535.0
        for k, one in enumerate(held):
            if not coloured[k]:
                out[..., k] = one.low + (one.high - one.low) * out[..., k]
    return out


def _channel_name(held: tuple[Held, ...], k: int) -> str:
    one = held[k]
    kind = KINDS[one.of]
    part = ""
    if kind.channels == 3:
        first = next(i for i, other in enumerate(held) if other.of == one.of)
        parts = (" red", " green", " blue") if kind.family == "colour" else (" x", " y", " z")
        part = parts[(k - first) % 3]
    return f"{one.layer or kind.title}{part}{', inverted' if one.inverted else ''}"


def _spread(values: Numbers, held: tuple[Held, ...], whole: bool) -> list[CodeSpread]:
    out = []
    for k, one in enumerate(held):
        channel = values[..., k].ravel().astype(np.float64)
        low, high = float(channel.min()), float(channel.max())
        counts, _ = np.histogram(channel, _BINS, (low, high if high > low else low + 1e-6))
        coloured = KINDS[one.of].family == "colour"
        levels = len(np.unique(channel)) if whole and not coloured else 0
        out.append(CodeSpread(_channel_name(held, k), one.unit, low, high, counts.astype(np.int64), levels))
    return out


def _pixels(channels: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """Return one to four channels as a picture: grey, or the first three as colours."""
    count = channels.shape[-1]
    if count == 1:
        return np.ascontiguousarray(channels[..., 0])
    if count == 2:
        channels = np.concatenate([channels, np.zeros_like(channels[..., :1])], axis=-1)
    return np.ascontiguousarray(channels[..., :3])


def _coloured(held: tuple[Held, ...]) -> list[bool]:
    return [KINDS[one.of].family == "colour" for one in held]


class Looking:
    """Looks into the files that a sheet comes to.

    Parameters
    ----------
    source : Source
        The site.
    token : Token
        Asked between bands.
    """

    def __init__(self, source: Source, token: Token) -> None:
        self._source = source
        self._asking = Asking(source, token)
        self._layers = {layer.id: k for k, layer in enumerate(source.shown)}

    def into(self, file: File, part: Window) -> LookedInto:
        """Return a part of a file as it will be; of several texels a pixel all are asked for as one."""
        if file.entry.a_tile:
            file = replace(file, among=self._among(file))
        left, top, columns, rows, step = part
        grid, tile = file.grid, file.tile
        if step > 1:
            grid = grid._replace(width=max(2, grid.width // step), height=max(2, grid.height // step))
        row, col = (tile.rows[0] - tile.border + top) // step, (tile.cols[0] - tile.border + left) // step
        row, col = min(max(row, 0), grid.height - 1), min(max(col, 0), grid.width - 1)
        where = Inside((row, min(row + rows, grid.height)), (col, min(col + columns, grid.width)))
        asked = self._asked((file,), grid, where)
        shape = where.rows[1] - where.rows[0], where.width, -1
        stored = self._codes(file, asked).reshape(shape)
        values = _numbers(stored, file.held, _coloured(file.held))
        seen = self._codes(_twin(file, values), asked).reshape(shape).astype(np.uint8)
        return LookedInto(
            file.name,
            file.image.width,
            file.image.height,
            left,
            top,
            shape[1],
            shape[0],
            step,
            [_channel_name(file.held, k) for k in range(len(file.held))],
            [one.unit for one in file.held],
            _base64(_pixels(seen)),
            base64.b64encode(values.astype("<f4").tobytes()).decode(),
            self._spread(file),
        )

    def _among(self, file: File) -> tuple[int, ...]:
        """Return the layers that a file's tile keeps, found once for as long as the site is the same."""
        of = [covered_by(self._source.recipe), file.grid, file.tile, file.entry.a_tile]
        return _kept.get(
            digest.of_json(of),
            lambda: bands.most_of(self._asking, file.grid, file.tile, len(self._layers))[: file.entry.a_tile],
        )

    def _spread(self, file: File) -> list[CodeSpread]:
        """Return how a file's numbers are spread, by blocks of its own texels from all over it."""
        where = bands.inside(file.tile, file.grid)
        found = []
        for row in _starts(where.rows):
            for col in _starts(where.cols):
                block = Inside((row, min(row + _BLOCK_PX, where.rows[1])), (col, min(col + _BLOCK_PX, where.cols[1])))
                found.append(self._codes(file, self._asked((file,), file.grid, block)))
        stored = np.concatenate(found)
        return _spread(_numbers(stored, file.held, _coloured(file.held)), file.held, stored.dtype.kind == "u")

    def thumbs(self, files: list[File]) -> list[Thumb]:
        """Return a small picture of the first file of each entry, of the whole site."""
        ground = self._source.recipe.ground
        grid = Grid(_THUMB_PX, max(2, round(_THUMB_PX * ground.depth_m / ground.width_m)))
        first = list({file.entry.id: file for file in reversed(files)}.values())
        asked = self._asked(tuple(first), grid, Inside((0, grid.height), (0, grid.width)))
        out = []
        for file in first:
            shape = grid.height, grid.width, -1
            values = _numbers(self._codes(file, asked).reshape(shape), file.held, _coloured(file.held))
            seen = self._codes(_twin(file, values), asked).reshape(shape).astype(np.uint8)
            out.append(Thumb(file.entry.id, _base64(_pixels(seen))))
        return out

    def _asked(self, files: tuple[File, ...], grid: Grid, where: Inside) -> list[Band]:
        kinds = [KINDS[one.of] for file in files for one in file.held]
        return [band for _rows, band in self._asking.bands(grid, where, kinds)]

    def _codes(self, file: File, asked: list[Band]) -> codes.Codes:
        found = [codes.codes_of(file, band, self._layers) for band in asked]
        return np.concatenate(found, dtype=np.dtype(file.entry.type))


def _starts(of: tuple[int, int]) -> list[int]:
    """Return where blocks spread over a stretch of texels begin."""
    room = max(of[1] - of[0] - _BLOCK_PX, 0)
    return sorted({of[0] + room * k // (_BLOCKS - 1) for k in range(_BLOCKS)})


def _twin(file: File, values: Numbers) -> File:
    """Return a file as it is shown: 8 bits, colours as a screen wants them, lengths from their lowest to their
    highest here."""
    held = []
    for k, one in enumerate(file.held):
        low, high = one.low, one.high
        if KINDS[one.of].family in _STRETCHED:
            low, high = float(values[..., k].min()), float(values[..., k].max())
        held.append(replace(one, low=low, high=high if high > low else low + 1e-6, inverted=one.inverted))
    entry = file.entry.model_copy(update={"type": "uint8", "encoding": "sRGB"})
    return replace(file, entry=entry, held=tuple(held))


def image_of(file: FileSaid) -> WrittenImage:
    """Return what a file that a manifest tells of holds."""
    names = ("Y",) if len(file.channels) == 1 else ("R", "G", "B", "A")[: len(file.channels)]
    return WrittenImage(
        file.width_px, file.height_px, len(file.channels), file.type, names, low_byte_first=file.low_byte_first
    )


def landed(path: Path, file: FileSaid, part: Window) -> LookedInto:
    """Return a part of a file that was written, every ``step``-th texel of it.

    Raises
    ------
    RefusalError
        When the file is not what its manifest says.
    """
    left, top, columns, rows, step = part
    image, held = image_of(file), tuple(Held(**channel.model_dump()) for channel in file.channels)
    parts, spread, first = [], [], 0
    every = max(1, file.height_px // 256)
    try:
        for band in FORMS[file.format].bands(path, image):
            at = np.arange(first, first + len(band))
            wanted = (at >= top) & (at < top + rows * step) & ((at - top) % step == 0)
            if wanted.any():
                parts.append(band[wanted, left : left + columns * step : step])
            spread.append(band[at % every == 0, ::every])
            first += len(band)
    except (OSError, ValueError) as error:
        raise RefusalError(file.name, f"a damaged file ({error})", "what was written", "write it again") from None
    if not parts:
        raise RefusalError(file.name, f"no texel at {left}, {top}", "a part of the file", "look elsewhere in it")
    stored = np.concatenate(parts)
    coloured = _coloured(held)
    values, all_over = _numbers(stored, held, coloured), _numbers(np.concatenate(spread), held, coloured)
    shown = np.empty(values.shape, np.uint8)
    for k, one in enumerate(held):
        low, high = (0.0, 1.0) if coloured[k] else (one.low, one.high)
        if KINDS[one.of].family in _STRETCHED:
            low, high = float(values[..., k].min()), float(values[..., k].max())
        if coloured[k] and file.encoding != "raw" and primaries(file.encoding):
            shown[..., k] = colour.srgb_bytes(
                np.ascontiguousarray(values[..., k])
            )  # linear light, as a screen wants it
            continue
        shown[..., k] = codes.whole((values[..., k] - np.float32(low)) / np.float32(max(high - low, 1e-6)), "uint8")
    return LookedInto(
        file.name,
        file.width_px,
        file.height_px,
        left,
        top,
        values.shape[1],
        values.shape[0],
        step,
        [_channel_name(held, k) for k in range(len(held))],
        [one.unit for one in held],
        _base64(_pixels(shown)),
        base64.b64encode(np.ascontiguousarray(values, "<f4").tobytes()).decode(),
        _spread(all_over, held, stored.dtype.kind == "u"),
    )
