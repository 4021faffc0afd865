"""Archives from outside: names are text only, and nothing is unpacked that was not promised."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import PurePosixPath

from elvatch.core.formats.texture import ENDINGS
from elvatch.core.refusal import RefusalError

MOST_FILES = 2000
MOST_TOTAL = 4 << 30
MOST_RATIO = 250
_RATIO_FROM = 64 << 20
"""Smaller files may be of one colour throughout, which packs without limit."""
MANIFEST = "set.json"


@dataclass(frozen=True)
class Member:
    """A file inside an archive: its path as text, with forward slashes."""

    path: str
    data: bytes


def is_zip(data: bytes) -> bool:
    """Whether the bytes begin as a zip archive."""
    return data.startswith((b"PK\x03\x04", b"PK\x05\x06"))


def wanted(path: str) -> bool:
    """Whether a file is worth looking at: an image or our own description of a set."""
    pure = PurePosixPath(path)
    hidden = any(part.startswith((".", "__MACOSX")) for part in pure.parts if part != "..")
    return not hidden and (pure.suffix.lower().lstrip(".") in ENDINGS or pure.name == MANIFEST)


def members(name: str, data: bytes) -> Iterator[Member]:
    """Yield the files of a zip that are worth looking at.

    Raises
    ------
    RefusalError
        When a path leaves its folder, or count, unpacked size or ratio exceed their limits, or
        the archive is damaged or locked. Nothing has been written anywhere.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            entries = [entry for entry in archive.infolist() if not entry.is_dir()]
            _check(name, entries)
            for entry in entries:
                if wanted(entry.filename.replace("\\", "/")):
                    yield Member(entry.filename.replace("\\", "/"), _unpack(name, archive, entry))
    except RefusalError:
        raise
    except Exception as error:  # each way of packing has errors of its own, and damaged names more
        found = f"an archive that cannot be read ({' '.join(str(error).split())[:80]})"
        raise RefusalError(name, found, "a whole zip without a password", "pack it again") from None


def _check(name: str, entries: list[zipfile.ZipInfo]) -> None:
    if len(entries) > MOST_FILES:
        raise RefusalError(name, f"{len(entries)} files", f"at most {MOST_FILES}", "bring it in in parts")
    total = sum(entry.file_size for entry in entries)
    if total > MOST_TOTAL:
        raise RefusalError(
            name, f"{total / 1e9:.1f} GB unpacked", f"at most {MOST_TOTAL / 1e9:.1f} GB", "bring it in in parts"
        )
    for entry in entries:
        path = entry.filename.replace("\\", "/")
        if path.startswith("/") or ".." in PurePosixPath(path).parts or path[1:3] == ":/" or "\0" in path:
            raise RefusalError(
                name, f"a path that leaves its folder ({path[:60]!r})", "paths inside the archive", "pack it again"
            )
        if entry.file_size > _RATIO_FROM and entry.file_size > MOST_RATIO * max(entry.compress_size, 1):
            ratio = entry.file_size / max(entry.compress_size, 1)
            raise RefusalError(
                name,
                f"{path[:60]!r} packed {ratio:.0f} times smaller",
                f"at most {MOST_RATIO} times",
                "pack the images themselves",
            )


def _unpack(name: str, archive: zipfile.ZipFile, entry: zipfile.ZipInfo) -> bytes:
    """Unpack one file, never more than its header promised."""
    with archive.open(entry) as stream:
        data = stream.read(entry.file_size + 1)
    if len(data) > entry.file_size:
        raise RefusalError(name, "a file larger than it says", "a truthful archive", "pack it again")
    return data
