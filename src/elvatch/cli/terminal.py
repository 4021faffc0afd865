"""What all commands share: reading, writing, telling, a bar of progress."""

from __future__ import annotations

import argparse
import json
import logging
import sys
from collections.abc import Callable
from pathlib import Path

from elvatch.app.workshop import Workshop
from elvatch.core.formats.limits import MOST_BYTES
from elvatch.core.refusal import RefusalError
from elvatch.store.lock import Lock, using
from elvatch.store.store import Store


def workshop(options: argparse.Namespace) -> Workshop:
    """Return the workshop over the data folder that was asked for, held as one that works on it."""
    store = open_store(options)
    _held.append(using(store.folder))
    return Workshop(store)


_held: list[Lock] = []


def open_store(options: argparse.Namespace) -> Store:
    """Return the data folder that was asked for."""
    return Store(Path(options.data).expanduser())


def say(text: str) -> None:
    """Print a line beside the output."""
    print(text, file=sys.stderr, flush=True)


def set_up_logging() -> None:
    """Let what goes wrong be told beside the output, with its time; once for all commands."""
    logging.basicConfig(level=logging.WARNING, format="%(asctime)s %(levelname)s %(name)s: %(message)s")


def tell(options: argparse.Namespace, data: object, lines: list[str]) -> None:
    """Print the result, as JSON where that was asked for."""
    print(json.dumps(data, indent=2) if options.json else "\n".join(lines))


def read_file(path: Path, expected: str, most: int = MOST_BYTES) -> bytes:
    """Return a file's bytes, no more than one beyond what is allowed."""
    try:
        with path.open("rb") as stream:
            return stream.read(most + 1)
    except OSError as error:
        raise RefusalError(str(path), error.strerror or "an error", expected, "check the path") from None


def write_beside(path: Path, data: bytes) -> None:
    """Write a file under another name and rename it."""
    beside = path.with_name(f".{path.name}.part")
    try:
        beside.write_bytes(data)
        beside.replace(path)
    except OSError as error:
        beside.unlink(missing_ok=True)
        raise RefusalError(str(path), error.strerror or "an error", "a file to write to", "choose another") from None


def bar() -> Callable[[float], None]:
    """Return a progress that shows itself where somebody looks on."""
    shown = sys.stderr.isatty()

    def progress(share: float) -> None:
        if shown:
            print(f"\r{share:4.0%}", end="\n" if share >= 1 else "", file=sys.stderr, flush=True)

    return progress


def pair(text: str, separator: str, what: str, example: str) -> tuple[float, float]:
    """Return two numbers with a separator between them."""
    first, found, second = text.partition(separator)
    try:
        if not found:
            raise ValueError
        return float(first), float(second)
    except ValueError:
        raise RefusalError(what, repr(text), f"two numbers like {example}", "correct it") from None


def pixels(text: str) -> tuple[int, int]:
    """Return the size of a picture, like 960x600."""
    width, height = pair(text, "x", "--size", "960x600")
    if not (16 <= width <= 8192 and 16 <= height <= 8192):
        raise RefusalError("--size", text, "16 to 8192 pixels a side", "correct it")
    return int(width), int(height)
