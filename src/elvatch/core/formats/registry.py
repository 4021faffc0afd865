"""Formats of height files, by what their first bytes look like; those without a header are known by name alone."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from elvatch.core.formats import asc, exr, npy, png, raw, tiff
from elvatch.core.formats.decoded import Decoded
from elvatch.core.formats.reading import Reading


class Format(NamedTuple):
    """A format: what it is called, how it is known, how it is decoded."""

    name: str
    looks_like: Callable[[bytes], bool]
    decode: Callable[[str, bytes, Reading], Decoded]


FORMATS = (
    Format("PNG", png.looks_like, png.decode),
    Format("TIFF", tiff.looks_like, tiff.decode),
    Format("EXR", exr.looks_like, exr.decode),
    Format("NPY", npy.looks_like, npy.decode),
    Format("ASCII grid", asc.looks_like, asc.decode),
)
RAW = Format("RAW", lambda data: True, raw.decode)
BY_NAME = {format_.name: format_ for format_ in (*FORMATS, RAW)}
