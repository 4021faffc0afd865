"""Files from outside, decoded in processes of their own that have limits and can be ended.

A small file can hold its decoder for minutes or ask for gigabytes. Here that ends with one sentence about the file:
the process that decodes has a limit of memory, and is killed when its time is over or nobody waits any more.
"""

from __future__ import annotations

import atexit
import contextlib
import json
import os
import queue
import subprocess
import sys
import tempfile
import threading
import time
from dataclasses import dataclass
from pathlib import Path
from typing import IO, Any

import numpy as np
from numpy.typing import NDArray

from elvatch.core.formats import panorama as panorama_
from elvatch.core.formats.decoded import Decoded
from elvatch.core.formats.model_read import ReadModel as Model
from elvatch.core.formats.reading import Reading
from elvatch.core.formats.texture import Raster
from elvatch.core.parallel import WORKERS, Token, watched
from elvatch.core.refusal import RefusalError

MOST_MEMORY_BYTES = 3 << 30
"""Address space of a decoding process, libraries included."""
TEXTURE_S = 20.0
HEIGHTS_S = 120.0
_MOST_WAITING = 4
_ASKED_EVERY_S = 0.05
_MAPPED_FROM_BYTES = 1 << 20
_TYPES = frozenset("iuf")


@dataclass(frozen=True)
class _Found:
    about: dict[str, Any]
    arrays: list[NDArray[Any]]


class _Process:
    """One decoding process."""

    def __init__(self) -> None:
        threads = dict.fromkeys(("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS", "MKL_NUM_THREADS"), "1")
        self._process = subprocess.Popen(
            [sys.executable, "-m", "elvatch.core.formats.decoding", str(MOST_MEMORY_BYTES)],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            env=os.environ | threads,
        )
        self._answers: queue.Queue[bytes] = queue.Queue()
        threading.Thread(target=self._listen, daemon=True).start()

    def _listen(self) -> None:
        out = self._process.stdout
        assert out is not None
        while line := out.readline():
            self._answers.put(line)
        self._answers.put(b"")

    def ask(self, question: dict[str, Any], data: bytes, token: Token, within_s: float) -> dict[str, Any] | None:
        """Return the answer; None when the process has ended instead.

        Raises
        ------
        TimeoutError, CancelledError
            When its time is over, or nobody waits any more. It has to be ended then.
        """
        until = time.monotonic() + within_s
        threading.Thread(target=self._send, args=(question, data), daemon=True).start()
        while True:
            try:
                line = self._answers.get(timeout=_ASKED_EVERY_S)
            except queue.Empty:
                token.check()
                if time.monotonic() > until:
                    raise TimeoutError from None
                continue
            return json.loads(line) if line else None

    def _send(self, question: dict[str, Any], data: bytes) -> None:
        into = self._process.stdin
        assert into is not None
        with contextlib.suppress(OSError, ValueError):
            into.write(json.dumps(question).encode() + b"\n")
            into.write(data)
            into.flush()

    def end(self) -> None:
        """End it at once."""
        self._process.kill()
        self._process.wait()


class _Pool:
    """As many decoding processes as there are cores; started when needed, kept while idle."""

    def __init__(self) -> None:
        self._turns = threading.Semaphore(WORKERS)
        self._idle: list[_Process] = []
        self._lock = threading.Lock()
        self._asking = 0
        atexit.register(self.close)

    def run(
        self, question: dict[str, Any], data: bytes, token: Token, within_s: float, in_line: bool
    ) -> dict[str, Any] | None:
        """Ask a process; see :meth:`_Process.ask`. Whoever does not stand ``in_line`` is refused where many do."""
        with self._lock:
            if not in_line and self._asking >= WORKERS + _MOST_WAITING:
                raise RefusalError(
                    question["name"],
                    f"{self._asking} files being decoded already",
                    f"fewer than {WORKERS + _MOST_WAITING} at a time",
                    "try again in a moment",
                )
            self._asking += 1
        try:
            while not self._turns.acquire(timeout=_ASKED_EVERY_S):
                token.check()
            try:
                return self._ask_one(question, data, token, within_s)
            finally:
                self._turns.release()
        finally:
            with self._lock:
                self._asking -= 1

    def _ask_one(self, question: dict[str, Any], data: bytes, token: Token, within_s: float) -> dict[str, Any] | None:
        with self._lock:
            process = self._idle.pop() if self._idle else None
        process = process or _Process()
        found = None
        try:
            found = process.ask(question, data, token, within_s)
        finally:
            if found is None:
                process.end()
            else:
                with self._lock:
                    self._idle.append(process)
        return found

    def close(self) -> None:
        """End all that are idle."""
        with self._lock:
            idle, self._idle = self._idle, []
        for process in idle:
            process.end()


_pool = _Pool()


def _decode(
    kind: str, name: str, data: bytes, how: dict[str, Any], within_s: float, token: Token | None, in_line: bool
) -> _Found:
    token = token or watched()
    handle, path = tempfile.mkstemp(prefix="elvatch-decoded-")
    try:
        with os.fdopen(handle, "rb") as out:
            question = {"kind": kind, "name": name, "how": how, "bytes": len(data), "out": path}
            try:
                answer = _pool.run(question, data, token, within_s, in_line)
            except TimeoutError:
                raise RefusalError(
                    name,
                    f"a file that takes longer than {within_s:g} s to decode",
                    "one that is quickly read",
                    "save it again in a plain way, or smaller",
                ) from None
            if answer is None:
                raise RefusalError(
                    name,
                    "a file that ended its decoder",
                    "a whole file that fits into memory",
                    "save it again, or smaller",
                )
            if "refused" in answer:
                raise RefusalError(*map(str, answer["refused"][:4]))
            return _Found(answer["about"], _read(out, path, answer["arrays"]))
    finally:
        # where a mapped file cannot be removed it goes with the next clean-up of the system
        with contextlib.suppress(OSError):
            Path(path).unlink()


def _read(out: IO[bytes], path: str, listed: list[dict[str, Any]]) -> list[NDArray[Any]]:
    arrays: list[NDArray[Any]] = []
    size, at = os.fstat(out.fileno()).st_size, 0
    for entry in listed:
        dtype, shape = np.dtype(str(entry["type"])), tuple(int(n) for n in entry["shape"])
        count = int(np.prod(shape, dtype=np.int64)) * dtype.itemsize
        if dtype.kind not in _TYPES or min(shape, default=0) < 0 or at + count > size:
            raise ValueError("an answer that does not fit what was written")
        if count < _MAPPED_FROM_BYTES:
            out.seek(at)
            arrays.append(np.frombuffer(bytearray(out.read(count)), dtype).reshape(shape))
        else:
            # never written to; what is looked at is all that is read
            arrays.append(np.asarray(np.memmap(path, dtype, "c", at, shape)))
        at += count
    return arrays


def heights(format_name: str, name: str, data: bytes, reading: Reading, token: Token | None = None) -> Decoded:
    """Decode a height file of a known format; see :func:`elvatch.core.ground.heights.read`."""
    how = {"format": format_name, "reading": reading.model_dump()}
    found = _decode("heights", name, data, how, HEIGHTS_S, token, in_line=False)
    about = found.about
    cell = about["cell_m"]
    return Decoded(
        found.arrays[0],
        int(about["pages"]),
        tuple(map(str, about["channels"])),
        None if about["no_data"] is None else float(about["no_data"]),
        None if cell is None else (float(cell[0]), float(cell[1])),
    )


def texture(name: str, data: bytes, token: Token | None = None, in_line: bool = False) -> Raster:
    """Decode an image of a texture set or of masks; see :func:`elvatch.core.formats.texture.decode`.

    Parameters
    ----------
    name : str
        For messages.
    data : bytes
        The whole file.
    token : Token, optional
        Else the one that this thread is watching.
    in_line : bool
        Wait for as long as it takes to get a turn; else refuse where many wait already.
    """
    found = _decode("texture", name, data, {}, TEXTURE_S, token, in_line)
    about = found.about
    alpha = found.arrays[1] if len(found.arrays) > 1 else None
    return Raster(found.arrays[0], str(about["format"]), int(about["bits"]), tuple(map(str, about["notes"])), alpha)


def model(name: str, data: bytes, token: Token | None = None) -> Model:
    """Decode a model of a thing; see :func:`elvatch.core.formats.model_file.decode`."""
    found = _decode("model", name, data, {}, HEIGHTS_S, token, in_line=False)
    about, up = found.about, found.about["up"]
    places, normals, colours, roughness, uv, triangles, image, *images = found.arrays
    return Model(
        places,
        normals,
        colours,
        roughness,
        uv,
        triangles,
        image,
        images,
        list(map(str, about["notes"])),
        None if up is None else str(up),
        bool(about["in_metres"]),
    )


def photo(name: str, data: bytes, token: Token | None = None) -> NDArray[np.uint8]:
    """Decode a colour image; see :func:`elvatch.core.formats.photo.decode`."""
    return _decode("photo", name, data, {}, TEXTURE_S, token, in_line=False).arrays[0]


def panorama(name: str, data: bytes, token: Token | None = None) -> panorama_.DecodedPanorama:
    """Decode a panorama of the sky; see :func:`elvatch.core.formats.panorama.decode`."""
    found = _decode("panorama", name, data, {}, HEIGHTS_S, token, in_line=False)
    return panorama_.DecodedPanorama(found.arrays[0], tuple(map(str, found.about["notes"])))
