"""Serving the application: waitress, one process, a few threads, one server a data folder."""

from __future__ import annotations

import contextlib
import ctypes
import select
import socket
import sys
from collections.abc import Callable, Sequence
from typing import Any

from waitress.channel import HTTPChannel
from waitress.server import BaseWSGIServer, create_server

from elvatch.app.warm import Warming, is_warm, shows_pictures
from elvatch.app.workshop import Workshop
from elvatch.core.refusal import RefusalError
from elvatch.store import lock
from elvatch.web import sweeping
from elvatch.web.app import MOST_UPLOAD_BYTES, STATIC, create_app
from elvatch.web.entry import Entry
from elvatch.web.readiness import Readiness, Stage

_THREADS = 12
_MOST_CONNECTIONS = 1000
_MOST_OF_ONE_ADDRESS = 64
_SILENT_S = 20
_TURN_S = 0.0005
"""Until one thread makes way for another that wants to run Python: bands hand over work every few milliseconds, while
beside them an edit is read and kept."""
_MMAP_THRESHOLD, _ARENA_MAX, _TOP_PAD, _TRIM_THRESHOLD = -3, -8, -2, -1
"""Names of settings of glibc's allocator (malloc.h)."""
_ALLOCATOR = {_MMAP_THRESHOLD: 32 << 20, _ARENA_MAX: 1, _TOP_PAD: 32 << 20, _TRIM_THRESHOLD: 256 << 20}
"""From how many bytes on memory is asked of the system by itself and goes back there; one heap for all threads; by
how much it grows at once; what may lie free at its end."""


class _Channel(HTTPChannel):
    """A connection; one address that opens very many loses the one that has been silent longest."""

    def __init__(self, server: Any, sock: Any, addr: Any, adj: Any, map: Any = None) -> None:
        super().__init__(server, sock, addr, adj, map)
        own = [one for one in server.active_channels.values() if one.addr[0] == addr[0]]
        # one that is being answered is left alone
        silent = [one for one in own if not one.requests and one is not self]
        if len(own) > _MOST_OF_ONE_ADDRESS and silent:
            min(silent, key=lambda one: one.last_activity).handle_close()


def run(
    workshop: Workshop,
    entry: Entry,
    port: int,
    say: Callable[[str], None],
    warming: Warming,
    stages: Sequence[Stage] = (),
) -> None:
    """Serve until stopped.

    Parameters
    ----------
    workshop : Workshop
        What is served.
    entry : Entry
        Where it listens, and who may come in.
    port : int
        0 takes a free one.
    say : callable
        Told where it is.
    warming : Warming
        What compiles, when that was not done.
    stages : sequence of Stage
        What else is to be done once it serves.

    Raises
    ------
    RefusalError
        When the page was not built, the address cannot be listened on, or another server has the data folder.
    """
    if not (STATIC / "index.html").is_file():
        raise RefusalError(str(STATIC), "no built page", "the page made by Vite", "run: make setup")
    _prepare_process()
    with lock.serving(workshop.store.folder) as held:
        listening = _listen(entry.host, port)
        shown = f"[{entry.host}]" if ":" in entry.host else entry.host
        address = f"http://{shown}:{listening.getsockname()[1]}/"
        held.tell(address=address)
        workshop.tidy()
        say(f"Elvatch is at {address}  (Ctrl+C ends it)")
        if entry.token is not None:
            say(f"Others can reach it. Enter with {address}enter?token={entry.token}")
        readiness = Readiness(_with_compiling(warming, stages))
        server = create_server(
            create_app(workshop, entry, readiness),
            sockets=[listening],
            threads=_THREADS,
            ident=None,
            max_request_body_size=MOST_UPLOAD_BYTES,
            connection_limit=_MOST_CONNECTIONS,
            asyncore_use_poll=hasattr(select, "poll"),
            channel_timeout=_SILENT_S,
            cleanup_interval=5,
            channel_request_lookahead=1,
        )
        assert isinstance(server, BaseWSGIServer), "one address is listened on"
        server.channel_class = _Channel
        readiness.begin(say)
        sweeping.begin(readiness)
        server.run()


def _with_compiling(warming: Warming, stages: Sequence[Stage]) -> list[Stage]:
    """Return the stages of a start: compiling what pictures need, what is told, compiling the rest."""
    first = Stage("Compiling for this machine, once", warming.run_first, needed=True)
    later = Stage("Compiling what is used later", warming.run_later, later=True)
    return [*([] if shows_pictures() else [first]), *stages, *([] if is_warm() else [later])]


def _prepare_process() -> None:
    """Let threads take short turns, and what pictures are made of be used again: the system clears whatever it gives,
    a few thousand pages for each picture. What a large ground took goes back."""
    sys.setswitchinterval(_TURN_S)
    with contextlib.suppress(OSError, AttributeError):  # where there is another C library
        library = ctypes.CDLL(None)
        for setting, value in _ALLOCATOR.items():
            library.mallopt(setting, value)


def _listen(host: str, port: int) -> socket.socket:
    try:
        return socket.create_server((host, port), family=socket.AF_INET6 if ":" in host else socket.AF_INET)
    except OSError as error:
        raise RefusalError(
            f"{host}:{port}",
            error.strerror or "an error",
            "a free address of this computer",
            "choose another --port",
        ) from None
