"""Documents packed with all that they need: one zip of a description, texture sets, files named by their content.

What comes from outside is believed in nothing: names are compared, never used as paths; sizes are checked before
anything is unpacked, and bytes against the content they are named by.
"""

from __future__ import annotations

import zipfile
from collections.abc import Callable, Iterable, Mapping
from pathlib import Path
from typing import Generic, Protocol, TypeVar

from pydantic import Field, ValidationError

from elvatch.core import digest
from elvatch.core.parts import ContentName, Part
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run
from elvatch.core.stock.description import SetDescription

_FILES = "files/"
_MOST_FILES = 20_000
_MOST_DESCRIPTION_BYTES = 64 << 20
_MOST_FILE_BYTES = 1 << 30
_MOST_BYTES = 16 << 30
_MOST_RATIO = 250
_SMALL_BYTES = 1 << 20
"""Smaller files may be of one colour throughout, which packs without limit."""
_THEN = (1980, 1, 1, 0, 0, 0)
"""The same document gives the same bytes."""
_PACKED_ALREADY = (b"\x89PNG", b"\xff\xd8\xff", b"RIFF", b"PK\x03\x04")


class Packable(Protocol):
    """A document that needs texture sets and files."""

    def sets(self) -> list[ContentName]:
        """Return the content names of its sets."""

    def files(self) -> list[str]:
        """Return the content names of its own files."""


class Packed(Part):
    """What every pack says of itself."""

    made_by: str = Field(max_length=80)
    sets: dict[ContentName, SetDescription] = Field(max_length=2000)
    files: dict[ContentName, int] = Field(max_length=_MOST_FILES, description="Bytes of each")


T = TypeVar("T", bound=Packed)
H = TypeVar("H", bound=Packable)


class Pack(Generic[T, H]):
    """A pack that has been looked through: what it ``told`` of itself, the document that it ``held``, and its files,
    none of them unpacked yet."""

    def __init__(self, path: Path, told: T, held: H) -> None:
        self.path, self.told, self.held = path, told, held

    def file(self, name: str) -> bytes:
        """Return the bytes of a file, which are what they are named by.

        Raises
        ------
        RefusalError
            When they are not.
        """
        try:
            with zipfile.ZipFile(self.path) as archive, archive.open(_FILES + name) as stream:
                data = stream.read(self.told.files[name] + 1)
        except Exception as error:  # each way of packing has errors of its own, and damaged bytes more
            found = f"a file that cannot be unpacked ({' '.join(str(error).split())[:60]})"
            raise _damaged(self.path, found) from None
        if len(data) != self.told.files[name] or digest.of_bytes(data) != name:
            raise _damaged(self.path, f"a file that is not what it is named by ({name[:8]}…)")
        return data


def _damaged(path: Path, found: str) -> RefusalError:
    return RefusalError(path.name, found, "a whole pack as Elvatch writes it", "pack or copy it again")


def needed(held: Packable, sets: Iterable[SetDescription]) -> list[str]:
    """Return the content names of all files that a document and its sets need."""
    return sorted({*held.files(), *(name for one in sets for name in one.files())})


def write(
    path: Path,
    entry: str,
    names: Iterable[str],
    told: Callable[[dict[str, int]], T],
    file: Callable[[str], bytes],
    run: Run | None = None,
) -> T:
    """Write a pack.

    Parameters
    ----------
    path : Path
        Where to; written beside and renamed.
    entry : str
        What its description is called in it.
    names : iterable of str
        Content names of its files.
    told : callable
        Returns what it says of itself, given the bytes of each file.
    file : callable
        Returns a stored file's bytes by its content name.
    run : Run, optional
        Told how far it is.

    Returns
    -------
    Packed
        What it says of itself.
    """
    run, names = run or Run(), list(names)
    beside = path.with_name(f".{path.name}.part")
    sizes: dict[str, int] = {}
    try:
        with zipfile.ZipFile(beside, "w") as archive:
            for k, name in enumerate(names):
                data = file(name)
                sizes[name] = len(data)
                packed = zipfile.ZIP_STORED if data.startswith(_PACKED_ALREADY) else zipfile.ZIP_DEFLATED
                _add(archive, _FILES + name, data, packed)
                run.at((k + 1) / len(names))
            said = told(sizes)
            _add(archive, entry, said.model_dump_json(indent=1).encode(), zipfile.ZIP_DEFLATED)
        beside.replace(path)
    finally:
        beside.unlink(missing_ok=True)
    return said


def _add(archive: zipfile.ZipFile, name: str, data: bytes, packed: int) -> None:
    entry = zipfile.ZipInfo(name, _THEN)
    entry.compress_type, entry.external_attr = packed, 0o644 << 16
    archive.writestr(entry, data)


def counted(count: int, word: str) -> str:
    """Return a number of things in words.

    Examples
    --------
    >>> counted(1, "layer"), counted(3, "layer")
    ('1 layer', '3 layers')
    """
    return f"{count} {word}{'' if count == 1 else 's'}"


def line_of(told: Packed) -> str:
    """Return how much is in a pack, as a line for people."""
    held = [counted(len(told.sets), "texture set"), counted(len(told.files), "file")]
    return f"{', '.join(held)}, {sum(told.files.values()) / 1e6:.1f} MB"


def look(path: Path, entry: str, model: type[T], held: Callable[[T], H]) -> Pack[T, H]:
    """Look through a pack without unpacking its files.

    Parameters
    ----------
    path : Path
        The pack.
    entry : str
        What its description is called in it.
    model : type
        Of its description.
    held : callable
        Returns the document in a description.

    Raises
    ------
    RefusalError
        When it is no pack, damaged, too large, or holds more or less than it says.
    """
    try:
        with zipfile.ZipFile(path) as archive:
            entries = archive.infolist()
            _check(path, entry, entries)
            with archive.open(entry) as stream:
                data = stream.read(_MOST_DESCRIPTION_BYTES + 1)
    except RefusalError:
        raise
    except Exception as error:  # a damaged directory fails in every way there is
        raise _damaged(path, f"no pack, or a damaged one ({' '.join(str(error).split())[:60]})") from None
    try:
        told = model.model_validate_json(data)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        where = ".".join(str(part)[:40] for part in first["loc"]) or "its description"
        raise _damaged(path, f"{where}: {first['msg'][:80]}") from None
    except RecursionError:
        raise _damaged(path, "a description nested without end") from None
    document = held(told)
    _check_whole(path, entry, told, document, {one.filename: one.file_size for one in entries})
    return Pack(path, told, document)


def _check(path: Path, description: str, entries: list[zipfile.ZipInfo]) -> None:
    """Refuse an archive that holds what no pack does."""
    names = [entry.filename for entry in entries]
    if len(entries) > _MOST_FILES + 1 or sum(entry.file_size for entry in entries) > _MOST_BYTES:
        raise _damaged(path, f"{len(entries)} files, {sum(entry.file_size for entry in entries) / 1e9:.1f} GB")
    if len(set(names)) != len(names) or description not in names:
        raise _damaged(path, f"no {description}, or two files of one name")
    for entry in entries:
        most = _MOST_DESCRIPTION_BYTES if entry.filename == description else _MOST_FILE_BYTES
        if entry.file_size > most:
            raise _damaged(path, f"{entry.filename[:60]!r} of {entry.file_size / 1e6:.0f} MB")
        if entry.file_size > _SMALL_BYTES and entry.file_size > _MOST_RATIO * max(entry.compress_size, 1):
            raise _damaged(path, f"{entry.filename[:60]!r} packed more than {_MOST_RATIO} times smaller")


def _check_whole(path: Path, entry: str, told: Packed, held: Packable, there: Mapping[str, int]) -> None:
    """Refuse a pack that lacks what its document needs, or has what nothing needs."""
    if needed(held, told.sets.values()) != sorted(told.files) or {*held.sets()} != set(told.sets):
        raise _damaged(path, "other sets or files than it needs")
    expected = {entry, *(_FILES + name for name in told.files)}
    if set(there) != expected:
        odd = next(iter(set(there) ^ expected))
        raise _damaged(path, f"{odd[:60]!r} missing or too much")
    wrong = [name for name, size in told.files.items() if there[_FILES + name] != size]
    if wrong:
        raise _damaged(path, f"a file of another size than it says ({wrong[0][:8]}…)")
