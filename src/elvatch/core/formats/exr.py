"""OpenEXR (2.0): as heights any one channel, half or float, in lines or tiles; written as layers of floats."""

from __future__ import annotations

import io
from collections.abc import Callable, Mapping, Sequence
from pathlib import Path
from typing import Any

import numpy as np
import OpenEXR
from numpy.typing import NDArray

from elvatch.core.formats.decoded import Decoded, as_plain
from elvatch.core.formats.limits import check_size
from elvatch.core.formats.reading import Reading
from elvatch.core.refusal import RefusalError

_MAGIC = b"\x76\x2f\x31\x01"
_USUAL = ("height", "elevation", "displacement", "Z", "Y", "R")


def looks_like(data: bytes) -> bool:
    """Whether the bytes begin as an OpenEXR file."""
    return data.startswith(_MAGIC)


def _header(file: Any) -> Any:
    return file.header()


def _channels(file: Any) -> Any:
    return file.channels()


def _ask(name: str, data: bytes, what: Callable[[Any], Any], header_only: bool) -> Any:
    try:
        return what(OpenEXR.File(io.BytesIO(data), separate_channels=True, header_only=header_only))
    except MemoryError:
        raise
    except Exception as error:  # the library tells damage in many ways
        found = f"a damaged EXR ({' '.join(str(error).split())[:120]})"
        raise RefusalError(name, found, "a whole EXR", "save or copy the file again") from None


def planes(name: str, data: bytes, check: Callable[[str, int, int], None] = check_size) -> dict[str, Any]:
    """Decode all whole-size channels of half, float or integer samples, by name; sizes are checked first."""
    header = _ask(name, data, _header, header_only=True)
    low, high = header["dataWindow"]
    check(name, int(high[0]) - int(low[0]) + 1, int(high[1]) - int(low[1]) + 1)
    found = _ask(name, data, _channels, header_only=False)
    usable = {
        str(key): channel.pixels
        for key, channel in found.items()
        if isinstance(channel.pixels, np.ndarray)
        and channel.pixels.ndim == 2
        and channel.pixels.dtype.kind in "fu"
        and channel.xSampling == channel.ySampling == 1
    }
    if not usable:
        raise RefusalError(
            name,
            f"no usable channel among {', '.join(map(str, found)) or 'none'}",
            "one of half or float",
            "save it with a channel of the full size",
        )
    return usable


def write(path: Path, layers: Mapping[str, tuple[Sequence[str], NDArray[np.float32]]]) -> None:
    """Write images of one size as one EXR of floats.

    Parameters
    ----------
    path : Path
        Where to.
    layers : mapping
        By layer, the names of its channels and its values (height, width, channels). Channels are called
        ``layer.channel``, as the format has it; without a layer's name plainly.
    """
    channels = {
        f"{layer}.{name}".lstrip("."): np.ascontiguousarray(values[..., k])
        for layer, (names, values) in layers.items()
        for k, name in enumerate(names)
    }
    header = {"compression": OpenEXR.ZIP_COMPRESSION, "type": OpenEXR.scanlineimage}
    OpenEXR.File(header, channels).write(str(path))


def decode(name: str, data: bytes, reading: Reading) -> Decoded:
    """Decode one channel of an EXR: the one named, else one named like heights, else its first."""
    usable = planes(name, data)
    chosen = reading.channel
    if chosen is None:
        chosen = next((one for one in _USUAL if one in usable), sorted(usable)[0])
    if chosen not in usable:
        raise RefusalError(
            name, f"channels {', '.join(sorted(usable))}", f"a channel {chosen!r}", "choose one it has"
        )
    return Decoded(as_plain(usable[chosen]), channels=tuple(sorted(usable)))
