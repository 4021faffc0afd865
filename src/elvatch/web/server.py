"""Serving the application: waitress, one process, a few threads."""

from __future__ import annotations

import socket
from collections.abc import Callable

from waitress import serve

from elvatch.core.refusal import RefusalError
from elvatch.web.app import MOST_UPLOAD_BYTES, STATIC, create_app
from elvatch.workshop import Workshop

_THREADS = 12


def run(workshop: Workshop, host: str, port: int, say: Callable[[str], None]) -> None:
    """Serve until stopped.

    Raises
    ------
    RefusalError
        When the page was not built or the address cannot be listened on.
    """
    if not (STATIC / "index.html").is_file():
        raise RefusalError(str(STATIC), "no built page", "the page made by Vite", "run: make setup")
    workshop.tidy()
    try:
        listening = socket.create_server((host, port), family=socket.AF_INET6 if ":" in host else socket.AF_INET)
    except OSError as error:
        raise RefusalError(
            f"{host}:{port}",
            error.strerror or "an error",
            "a free address of this computer",
            "choose another --port",
        ) from None
    shown = f"[{host}]" if ":" in host else host
    say(f"Elvatch is at http://{shown}:{listening.getsockname()[1]}/  (Ctrl+C ends it)")
    serve(
        create_app(workshop, host), sockets=[listening], threads=_THREADS, ident=None,
        max_request_body_size=MOST_UPLOAD_BYTES, channel_timeout=60, asyncore_use_poll=True,
    )  # fmt: skip
