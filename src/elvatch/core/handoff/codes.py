"""A band of texels as a file stores it: values put together, encoded, brought into the file's range and type."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from elvatch.core import colour
from elvatch.core.document.sheet import MapsEntry
from elvatch.core.formats.written import SampleType
from elvatch.core.handoff import splat
from elvatch.core.handoff.encoding import encoded
from elvatch.core.handoff.listing import File, Held
from elvatch.core.handoff.values import KINDS, Answer, Band
from elvatch.core.kernel import kernel

Numbers = NDArray[np.float32]
Codes = NDArray[np.uint8] | NDArray[np.uint16] | NDArray[np.float16] | Numbers


@kernel
def _code_rows(values: Numbers, by: float, shift: float, most: float, out: Codes) -> None:
    for i in range(len(values)):
        out[i] = int(min(max(values[i] * by + shift, 0.0), most) + 0.5)


def whole(values: Numbers, type: SampleType, low: float = 0.0, high: float = 1.0, inverted: bool = False) -> Codes:
    """Return numbers between two as the nearest whole numbers of 8 or 16 bits; what is outside is held."""
    out = np.empty(values.shape, type)
    most = 255.0 if type == "uint8" else 65535.0
    nothing, by = (high, -most / (high - low)) if inverted else (low, most / (high - low))
    _code_rows(np.ascontiguousarray(values).reshape(-1), by, -nothing * by, most, out.reshape(-1))
    return out


def _is_whole(type: SampleType) -> bool:
    return type.startswith("uint")


def stored(values: Numbers, held: Held, type: SampleType) -> Codes:
    """Return values of one channel, in their unit, as a type stores them."""
    if _is_whole(type):
        return whole(values, type, held.low, held.high, held.inverted)
    return (np.float32(held.low + held.high) - values if held.inverted else values).astype(type)


def _colour(values: Numbers, held: Held, entry: MapsEntry) -> Codes:
    """Return linear colours as an entry stores them; brighter than white only where its type can."""
    fits = _is_whole(entry.type)
    if fits and held.high != 1.0:
        values = values / np.float32(held.high)
    if entry.encoding == "sRGB" and entry.type == "uint8" and not held.inverted:
        return colour.srgb_bytes(values)
    out = encoded(values, entry.encoding)
    if held.inverted:
        out = np.float32(1) - out
    return whole(out, entry.type) if fits else out.astype(entry.type)


def _shares(answer: Answer, file: File) -> Numbers:
    """Return the shares that a file tells of: of all layers, or of those that its tile keeps."""
    shares = answer.material.shares
    return splat.of_tile(shares, file.among) if file.among else shares


def _weights(answer: Answer, file: File) -> Codes:
    of, shares = file.entry.holds[0].of, _shares(answer, file)
    bits = 8 if file.entry.type == "uint8" else 16
    if of != "weights":
        layers, weights = splat.ranked(shares, bits)
        return (layers if of == "strongest-layers" else weights).astype(file.entry.type)
    if file.entry.strongest:
        shares = splat.strongest(shares, file.entry.strongest)
    if not _is_whole(file.entry.type):
        at = slice(file.first * splat.A_FILE, (file.first + 1) * splat.A_FILE)
        part = shares[:, at]
        return np.pad(part, ((0, 0), (0, splat.A_FILE - part.shape[1]))).astype(file.entry.type)
    four = splat.packed(splat.weights(shares, bits), file.first)
    return four.astype(file.entry.type)


def values_of(file: File, k: int, band: Band, layers: Mapping[str, int]) -> Numbers:
    """Return what slot ``k`` of a file is of in a band, in its unit, shape (n,) or (n, 3).

    Parameters
    ----------
    file : File
        Which file.
    k : int
        Which of its entry's slots.
    band : Band
        What lies there.
    layers : mapping
        Which column of the shares a layer's id has.
    """
    slot = file.entry.holds[k]
    kind = KINDS[slot.of]
    if slot.of in band.measured:
        return band.measured[slot.of]
    answer = band.answer
    if answer is None:
        raise ValueError(f"{kind.title} was not asked for")
    if slot.of in ("share", "shares"):
        return _shares(answer, file)[:, layers[slot.layer] if slot.layer is not None else file.layer]
    if kind.family == "normal":
        if answer.normals is None:
            raise ValueError("normals were not asked for")
        return answer.normals.against if file.entry.against == "ground" else answer.normals.whole
    if kind.numbers is None:
        raise ValueError(f"{kind.title} is no number by itself")
    return kind.numbers(answer)


def codes_of(file: File, band: Band, layers: Mapping[str, int]) -> Codes:
    """Return a band of a file as it is stored, shape (n, channels); see :func:`values_of`."""
    entry = file.entry
    if band.answer is not None and entry.holds[0].of in splat.WEIGHTS:
        return _weights(band.answer, file)
    parts: list[Codes] = []
    channel = 0
    for k, slot in enumerate(entry.holds):
        kind, held = KINDS[slot.of], file.held[channel]
        channel += kind.channels
        values = values_of(file, k, band, layers)
        if kind.family == "normal" and entry.green == "down":
            values = values * np.array([1, -1, 1], np.float32)
        part = _colour(values, held, entry) if kind.family == "colour" else stored(values, held, entry.type)
        parts.append(part if part.ndim == 2 else part[:, None])
    return parts[0] if len(parts) == 1 else np.concatenate(parts, axis=1, dtype=np.dtype(entry.type))
