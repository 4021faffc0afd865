"""The process that decodes files from outside: it may run out of time or memory, and harms nobody when it does.

Started by :mod:`elvatch.core.formats.isolated`. Questions come on standard input, a line of JSON and the file's
bytes; answers go to standard output, a line of JSON; arrays go into a file that the asker named. Nothing here is ever
unpickled on the other side.
"""

from __future__ import annotations

import json
import logging
import os
import sys
import warnings
from collections.abc import Callable
from typing import Any, BinaryIO

import numpy as np
from numpy.typing import NDArray

from elvatch.core.formats import panorama, photo, registry, texture
from elvatch.core.formats.decoded import Decoded
from elvatch.core.formats.reading import Reading
from elvatch.core.refusal import RefusalError

Answer = tuple[dict[str, Any], list[NDArray[Any]]]
_COPY_BYTES = 16 << 20


def _heights(name: str, data: bytes, how: dict[str, Any]) -> Answer:
    reading = Reading.model_validate(how["reading"])
    found: Decoded = registry.BY_NAME[how["format"]].decode(name, data, reading)
    about = {"pages": found.pages, "channels": list(found.channels), "no_data": found.no_data, "cell_m": found.cell_m}
    return about, [found.values]


def _texture(name: str, data: bytes, how: dict[str, Any]) -> Answer:
    del how
    found = texture.decode(name, data)
    arrays = [found.values] if found.alpha is None else [found.values, found.alpha]
    return {"format": found.format, "bits": found.bits, "notes": list(found.notes)}, arrays


def _photo(name: str, data: bytes, how: dict[str, Any]) -> Answer:
    del how
    return {}, [photo.decode(name, data)]


def _panorama(name: str, data: bytes, how: dict[str, Any]) -> Answer:
    del how
    found = panorama.decode(name, data)
    return {"notes": list(found.notes)}, [found.values]


def _model(name: str, data: bytes, how: dict[str, Any]) -> Answer:
    del how
    # costs a second to load, and few files are models
    from elvatch.core.formats import model_file

    found = model_file.decode(name, data)
    about = {"notes": found.notes, "up": found.up, "in_metres": found.in_metres}
    return about, [*found[:7], *found.images]


DECODERS: dict[str, Callable[[str, bytes, dict[str, Any]], Answer]] = {
    "heights": _heights,
    "texture": _texture,
    "photo": _photo,
    "panorama": _panorama,
    "model": _model,
}


def _written(arrays: list[NDArray[Any]], path: str) -> list[dict[str, Any]]:
    """Write arrays one after the other, a few rows at a time; return what they are."""
    listed = []
    with open(path, "r+b") as out:
        for array in arrays:
            rows = max(1, _COPY_BYTES // max(1, array.nbytes // max(1, len(array))))
            for first in range(0, len(array), rows):
                out.write(np.ascontiguousarray(array[first : first + rows]).tobytes())
            listed.append({"type": array.dtype.str, "shape": list(array.shape)})
    return listed


def answer(question: dict[str, Any], data: bytes) -> dict[str, Any]:
    """Return the answer to one question, its arrays written."""
    name = question["name"]
    try:
        about, arrays = DECODERS[question["kind"]](name, data, question["how"])
        return {"about": about, "arrays": _written(arrays, question["out"])}
    except RefusalError as error:
        return {"refused": [error.what, error.found, error.expected, error.todo]}
    except MemoryError:
        return {"refused": [name, "more memory needed than decoding may take", "a smaller file", "reduce it first"]}
    except (OSError, ValueError, TypeError, LookupError, ArithmeticError, AssertionError, RuntimeError) as error:
        if not isinstance(error, OSError):
            return {"refused": [name, f"a damaged file ({str(error)[:80]})", "a whole one", "save or copy it again"]}
        found = f"{error.strerror or 'an error'} while decoding"
        return {"refused": [name, found, "room for what was decoded", "free some space and try again"]}


def _limit(most_bytes: int) -> None:
    if sys.platform != "win32":
        import resource

        resource.setrlimit(resource.RLIMIT_AS, (most_bytes, most_bytes))


def serve(questions: BinaryIO, answers: BinaryIO) -> None:
    """Answer until nobody asks any more."""
    while line := questions.readline():
        question = json.loads(line)
        data = questions.read(question["bytes"])
        answers.write(json.dumps(answer(question, data)).encode() + b"\n")
        answers.flush()


if __name__ == "__main__":
    # what libraries say of damaged files is said again in the answer
    logging.disable(logging.CRITICAL)
    warnings.simplefilter("ignore")
    _limit(int(sys.argv[1]))
    told = os.fdopen(os.dup(1), "wb")
    # what decoders print must not be taken for an answer
    os.dup2(os.open(os.devnull, os.O_WRONLY), 1)
    serve(sys.stdin.buffer, told)
