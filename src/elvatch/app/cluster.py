"""Tiles written on other machines, by a Dask cluster: each worker opens the packed site once and sends back files.

Nothing is shared but the scheduler's address: the site goes out as a pack, files come back as bytes, and both are
checked against what they are named by.
"""

from __future__ import annotations

import atexit
import shutil
import tempfile
import threading
from collections.abc import Callable, Iterator, Sequence
from contextlib import closing
from pathlib import Path
from typing import TYPE_CHECKING, Protocol, cast

from elvatch.core import digest
from elvatch.core.document.recipe import part_from_data
from elvatch.core.document.sheet import Sheet
from elvatch.core.handoff import job
from elvatch.core.handoff.job import TileWanted
from elvatch.core.handoff.manifest import FileSaid, sha256_of
from elvatch.core.handoff.ranges import FoundRanges
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run

if TYPE_CHECKING:
    from elvatch.core.handoff.listing import Source

_Answer = list[tuple[dict[str, object], bytes]]


class _Future(Protocol):
    """What a scheduler was asked for."""

    def result(self) -> _Answer:
        """Return what came of it, or raise."""


class _Client(Protocol):
    """What is wanted of a Dask client, which says nothing of its types."""

    def scatter(self, data: bytes, *, hash: bool) -> object:
        """Send data to the workers once."""

    def submit(self, work: Callable[..., _Answer], *args: object, pure: bool, retries: int) -> _Future:
        """Ask for work."""

    def nthreads(self) -> dict[str, int]:
        """Return how many threads each worker has."""

    def close(self) -> None:
        """Let go of the scheduler."""


def _client(address: str) -> _Client:
    import distributed

    make = cast("Callable[..., _Client]", distributed.Client)
    return make(address, timeout=_CONNECT_S)


def _finished(futures: list[_Future]) -> list[_Future]:
    """Return those that are done, when one is or a while has passed."""
    import distributed

    wait: Callable[..., tuple[set[_Future], set[_Future]]] = distributed.wait
    try:
        return list(wait(futures, timeout=_WAIT_S, return_when="FIRST_COMPLETED")[0])
    except TimeoutError:
        return []


_TRIES = 4
_AHEAD = 2
"""Tiles that wait for each worker: few, so that finished files do not pile up on the way."""
_WAIT_S = 0.5
_CONNECT_S = 20
_opened: dict[str, Source] = {}
_opening = threading.Lock()


def _source_of(name: str, pack: bytes) -> Source:
    """Return the site of a pack, opened by this worker when it is first asked for."""
    from elvatch.app.workshop import Workshop
    from elvatch.store.store import Store

    with _opening:
        if name not in _opened:
            folder = Path(tempfile.mkdtemp(prefix="elvatch-worker-"))
            atexit.register(shutil.rmtree, folder, ignore_errors=True)
            path = folder / "site.elvatch.zip"
            path.write_bytes(pack)
            shop = Workshop(Store(folder / "data"))
            state = shop.packs.open(path)
            path.unlink()
            _opened[name] = shop.handoffs.source(state.title, state.recipe)
        return _opened[name]


def _tile(pack: bytes, name: str, sheet: object, found: FoundRanges, wanted: TileWanted) -> _Answer:
    """Write files of one tile on a worker; return what each is, and its bytes."""
    source = _source_of(name, pack)
    folder = Path(tempfile.mkdtemp(prefix="elvatch-tile-"))
    try:
        told = job.one_tile(part_from_data(Sheet, "sheet", sheet), source, found, wanted, folder, Run())
        return [(one.model_dump(mode="json"), (folder / one.name).read_bytes()) for one in told.values()]
    finally:
        shutil.rmtree(folder, ignore_errors=True)


class Cluster:
    """Writes tiles on the workers of a scheduler.

    Parameters
    ----------
    address : str
        The scheduler's, like ``tcp://10.0.0.5:8786``.
    pack : callable
        Writes the packed site to a path.
    """

    def __init__(self, address: str, pack: Callable[[Path], object]) -> None:
        self._address, self._pack = address, pack

    def _packed(self) -> bytes:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "site.elvatch.zip"
            self._pack(path)
            return path.read_bytes()

    def tiles(
        self, sheet: Sheet, found: FoundRanges, wanted: Sequence[TileWanted], folder: Path, run: Run
    ) -> Iterator[tuple[int, dict[str, FileSaid]]]:
        """Yield the number of each tile when its files lie in a folder here, and what they are.

        Raises
        ------
        RefusalError
            When the scheduler cannot be reached, a tile failed again and again, or what came back is not what the
            worker wrote.
        """
        if not wanted:
            return
        try:
            client = _client(self._address)
        except (OSError, ValueError) as error:
            found_ = " ".join(str(error).split())[:80]
            raise RefusalError(
                "--scheduler",
                f"{self._address!r}, which does not answer ({found_})",
                "a Dask scheduler's address",
                "start one, or leave it out",
            ) from None
        with closing(client):
            yield from self._all(client, sheet, found, list(wanted), folder, run)

    def _all(
        self, client: _Client, sheet: Sheet, found: FoundRanges, wanted: list[TileWanted], folder: Path, run: Run
    ) -> Iterator[tuple[int, dict[str, FileSaid]]]:
        data = self._packed()
        name, pack = digest.of_bytes(data), client.scatter(data, hash=True)
        told = sheet.model_dump(mode="json")
        at_work: dict[_Future, TileWanted] = {}
        left = list(reversed(wanted))
        while left or at_work:
            most = _AHEAD * max(1, sum(client.nthreads().values()))
            while left and len(at_work) < most:
                one = left.pop()
                at_work[client.submit(_tile, pack, name, told, found, one, pure=False, retries=_TRIES)] = one
            run.token.check()
            for future in _finished(list(at_work)):
                tile = at_work.pop(future)
                yield tile.number, self._landed(future, tile, folder)

    @staticmethod
    def _landed(future: _Future, tile: TileWanted, folder: Path) -> dict[str, FileSaid]:
        """Put a tile's files into the folder; return what they are."""
        try:
            found = future.result()
        except RefusalError:
            raise
        except Exception as error:  # whatever went wrong on a worker
            raise RefusalError(
                f"tile {tile.number + 1}",
                f"a failure of its worker ({' '.join(str(error).split())[:120]})",
                "a worker with the same Elvatch",
                "look at the worker and go on with --resume",
            ) from None
        out = {}
        for told, data in found:
            said = FileSaid.model_validate(told)
            path = folder / said.name
            path.write_bytes(data)
            if said.name not in tile.names or sha256_of(path) != said.sha256:
                raise RefusalError(said.name, "other bytes than the worker wrote", "the same", "write it again")
            out[said.name] = said
        return out
