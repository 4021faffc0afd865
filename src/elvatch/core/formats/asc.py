"""ASCII grids: a few header lines, then numbers row by row, north first."""

from __future__ import annotations

import re

import numpy as np
from numpy.typing import NDArray

from elvatch.core.formats.decoded import Decoded
from elvatch.core.formats.limits import check_size
from elvatch.core.formats.reading import Reading
from elvatch.core.refusal import RefusalError

_PART_BYTES = 4 << 20
_SPACES = (b" ", b"\n", b"\r", b"\t")
_HEADER = re.compile(
    rb"\s*(ncols|nrows|xllcorner|yllcorner|xllcenter|yllcenter|cellsize|dx|dy|nodata_value)\s+(\S+)", re.I
)


def looks_like(data: bytes) -> bool:
    """Whether the bytes begin as an ASCII grid."""
    return data[:200].lstrip()[:5].lower() in (b"ncols", b"nrows")


def _header(data: bytes) -> tuple[dict[str, bytes], int]:
    fields: dict[str, bytes] = {}
    at = 0
    while (found := _HEADER.match(data, at, at + 400)) is not None and len(fields) < 9:
        fields[found[1].decode().lower()] = found[2]
        at = found.end()
    return fields, at


def _numbers(name: str, text: memoryview, count: int) -> NDArray[np.float32]:
    """Return the numbers of a text, part by part: its words all at once would take many times its memory."""
    values, done, at = np.empty(count, np.float32), 0, 0
    while at < len(text):
        end = min(at + _PART_BYTES, len(text))
        part = bytes(text[at:end])
        if end < len(text):
            # a part ends where a word does
            whole = max(part.rfind(space) for space in _SPACES)
            part = part[: whole + 1] if whole >= 0 else part
        try:
            found = np.array(part.split(), np.float32)
        except ValueError as error:
            raise RefusalError(
                name, f"text among its numbers ({str(error)[:60]})", "numbers only", "save it again"
            ) from None
        if done + found.size > count:
            raise RefusalError(name, f"more than {count} numbers", f"{count}", "save it again")
        values[done : done + found.size] = found
        done, at = done + found.size, at + len(part)
    return values[:done]


def decode(name: str, data: bytes, reading: Reading) -> Decoded:
    """Decode an ASCII grid with its no-data value and cell size."""
    del reading
    fields, at = _header(data)
    try:
        cols, rows = int(fields["ncols"]), int(fields["nrows"])
        size = float(fields.get("cellsize", b"0"))
        cell = (float(fields.get("dx", size)), float(fields.get("dy", size)))
        no_data = float(fields["nodata_value"]) if "nodata_value" in fields else None
    except (KeyError, ValueError):
        shown = ", ".join(fields) or "no fields"
        raise RefusalError(name, f"a header with {shown}", "ncols and nrows as numbers", "save it again") from None
    check_size(name, cols, rows)
    if len(data) - at < 2 * cols * rows - 1:
        raise RefusalError(
            name, f"{len(data) - at} bytes of numbers", f"{cols} x {rows} numbers", "save or copy the file again"
        )
    values = _numbers(name, memoryview(data)[at:], cols * rows)
    if values.size != cols * rows:
        raise RefusalError(name, f"{values.size} numbers", f"{cols} x {rows} = {cols * rows}", "save it again")
    known = cell if min(cell) > 0 else None
    return Decoded(values.reshape(rows, cols), no_data=no_data, cell_m=known)
