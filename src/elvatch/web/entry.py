"""Who may come in: the names a server answers to and, where others than this machine can reach it, its token."""

from __future__ import annotations

import hashlib
import hmac
import ipaddress
import secrets
from dataclasses import dataclass
from pathlib import Path

from flask import Flask, Response, abort, redirect, request
from werkzeug.wrappers import Response as AnyResponse

from elvatch.core.refusal import RefusalError

_LOCAL = frozenset({"127.0.0.1", "localhost", "::1"})
_EVERYWHERE = frozenset({"0.0.0.0", "::"})
LEAST_TOKEN = 20
_YEAR_S = 365 * 24 * 3600


def is_this_machine(host: str) -> bool:
    """Whether an address to listen on can be reached from this machine alone."""
    try:
        return ipaddress.ip_address(host).is_loopback
    except ValueError:
        return host.lower() == "localhost"


def _is_address(name: str) -> bool:
    try:
        ipaddress.ip_address(name)
    except ValueError:
        return False
    return True


@dataclass(frozen=True)
class Entry:
    """How a server can be entered.

    ``host`` it listens on, further ``names`` it answers to, and the ``token`` that is asked for; None lets
    everybody in who can reach it, which is right for this machine alone.
    """

    host: str = "127.0.0.1"
    names: frozenset[str] = frozenset()
    token: str | None = None

    def answers_to(self, name: str) -> bool:
        """Whether a request under this host name is meant for this server.

        A page elsewhere can point a name of its own here, but not an address.
        """
        known = _LOCAL | self.names | ({self.host.lower()} - _EVERYWHERE)
        return name.lower() in known or (self.host in _EVERYWHERE and _is_address(name))

    @property
    def cookie_name(self) -> str:
        """Name of the cookie: cookies know no ports, so that two servers of one host must not share it."""
        return f"elvatch-{self._digest(b'name')[:10]}"

    @property
    def pass_(self) -> str:
        """What a browser holds once the token was shown: made of it, and of no use to make it again."""
        return self._digest(b"pass")

    def _digest(self, purpose: bytes) -> str:
        return hashlib.blake2b((self.token or "").encode(), key=purpose, digest_size=24).hexdigest()


def entry_for(host: str, names: list[str], token_file: Path | None) -> Entry:
    """Return how a server is entered that listens on ``host``.

    Beyond this machine, by its address or by a name that a proxy hands on, a token is needed: that of a file,
    else one made for this run.

    Raises
    ------
    RefusalError
        When the file of the token cannot be read or its token is too short.
    """
    plain = frozenset(name.lower() for name in names)
    if token_file is not None:
        return Entry(host, plain, _read_token(token_file))
    needed = not is_this_machine(host) or not plain <= _LOCAL
    return Entry(host, plain, secrets.token_urlsafe(24) if needed else None)


def _read_token(path: Path) -> str:
    try:
        with path.open("rb") as stream:
            token = stream.read(1000).decode("ascii", "replace").strip()
    except OSError as error:
        raise RefusalError(str(path), error.strerror or "an error", "a file with a token", "check the path") from None
    if len(token) < LEAST_TOKEN or not token.isprintable() or " " in token:
        raise RefusalError(
            str(path),
            f"{len(token)} characters",
            f"one line of at least {LEAST_TOKEN} without spaces",
            "write a longer token into it",
        )
    return token


def install(app: Flask, entry: Entry) -> None:
    """Let nobody in without the token, where there is one."""
    if entry.token is None:
        return
    token = entry.token

    def check() -> None:
        shown = request.cookies.get(entry.cookie_name, "")
        scheme, _, told = request.headers.get("Authorization", "").partition(" ")
        if request.path == "/enter" or hmac.compare_digest(shown.encode(), entry.pass_.encode()):
            return
        if scheme.lower() == "bearer" and hmac.compare_digest(told.encode(), token.encode()):
            return
        abort(401, "Entry: found no token, expected the one of this server; open the link that it printed at start.")

    app.before_request(check)

    @app.get("/enter")
    def enter() -> AnyResponse:
        if not hmac.compare_digest(request.args.get("token", "").encode(), token.encode()):
            abort(401, "Entry: found another token, expected the one of this server; open the link that it printed.")
        answer: Response | AnyResponse = redirect("/", 303)
        if request.headers.get("Sec-Fetch-Site", "none") not in ("none", "same-origin"):
            # come from a page elsewhere: a cookie this strict is sent only once our own page leads on
            answer = Response('<meta http-equiv="refresh" content="0;url=/">', mimetype="text/html")
        answer.set_cookie(
            entry.cookie_name,
            entry.pass_,
            max_age=_YEAR_S,
            httponly=True,
            samesite="Strict",
            secure=request.headers.get("X-Forwarded-Proto") == "https",
        )
        answer.headers["Cache-Control"] = "no-store"
        return answer
