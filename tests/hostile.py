"""Files that are small and cost much, or say what is not so: made by code."""

from __future__ import annotations

import io
import struct
import zipfile
import zlib

import numpy as np
from PIL import Image


def png_of_one_colour(side: int, colour_type: int = 6, bits: int = 16) -> bytes:
    """A PNG of one colour throughout: a few hundred kilobytes that are half a gigabyte of pixels."""
    channels = {0: 1, 2: 3, 4: 2, 6: 4}[colour_type]
    packer = zlib.compressobj(9)
    row = bytes(1 + side * channels * bits // 8)
    packed = b"".join(packer.compress(row) for _ in range(side)) + packer.flush()

    def chunk(kind: bytes, body: bytes) -> bytes:
        return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))

    head = struct.pack(">IIBBBBB", side, side, bits, colour_type, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", packed) + chunk(b"IEND", b"")


def jpeg_of_many_scans(side: int, scans: int) -> bytes:
    """A progressive JPEG whose last scan stands in it again and again: each is worked through in full."""
    out = io.BytesIO()
    Image.new("RGB", (side, side), (90, 100, 110)).save(out, "JPEG", progressive=True, quality=5)
    data = out.getvalue()
    last, end = data.rindex(b"\xff\xda"), data.rindex(b"\xff\xd9")
    return data[:last] + data[last:end] * scans + data[end:]


def tiff_of_one_strip(width: int, height: int, **tags: int) -> bytes:
    """A grey TIFF of 8 bits that says of itself what it is told to."""
    strip = bytes(width * height)
    entries = {256: width, 257: height, 258: 8, 259: 1, 262: 1, 273: 8, 277: 1, 278: height, 279: len(strip)}
    entries |= {int(tag[1:]): value for tag, value in tags.items()}
    ifd = struct.pack("<H", len(entries))
    for tag, value in sorted(entries.items()):
        ifd += struct.pack("<HHII", tag, 4, 1, value & 0xFFFFFFFF)
    return struct.pack("<4sI", b"II*\0", 8 + len(strip)) + strip + ifd + bytes(4)


def zipped(files: dict[str, bytes], method: int = zipfile.ZIP_DEFLATED) -> bytes:
    """A zip of files."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", method) as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return out.getvalue()


def npy(header: str, data: bytes = b"") -> bytes:
    """An NPY file of version 1 with a header as it is told."""
    text = header.encode("latin1") + b"\n"
    return b"\x93NUMPY\x01\x00" + struct.pack("<H", len(text)) + text + data


def grey_png(side: int, seed: int = 0) -> bytes:
    """An honest grey PNG of 8 bits, different for every seed."""
    out = io.BytesIO()
    Image.fromarray(np.random.default_rng(seed).integers(0, 255, (side, side), np.uint8)).save(out, "PNG")
    return out.getvalue()
