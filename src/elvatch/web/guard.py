"""What every request must pass and every answer carries: own hosts only, a strict content policy."""

from __future__ import annotations

from urllib.parse import urlsplit

from flask import Flask, Response, abort, request

_POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' blob:; font-src 'self'; "
    "connect-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
)
_SAFE = {"GET", "HEAD", "OPTIONS"}
_LOCAL = {"127.0.0.1", "localhost", "::1"}


def _host_of(value: str) -> str:
    try:
        return urlsplit(f"//{value}").hostname or ""
    except ValueError:
        return ""


def install(app: Flask, host: str) -> None:
    """Guard an application that listens on ``host``.

    Requests under another host name are refused (a page elsewhere may have pointed its name
    here); writing requests that name an origin must come from this very address.
    """
    allowed = _LOCAL | {host.lower()}

    def check() -> None:
        if _host_of(request.host).lower() not in allowed:
            abort(
                403,
                f"Host: found {request.host[:80]!r}, expected this computer; open the address printed at start.",
            )
        origin = request.headers.get("Origin")
        if request.method not in _SAFE and origin is not None and urlsplit(origin).netloc != request.host:
            abort(403, f"Origin: found {origin[:80]!r}, expected this application; use its own page.")

    def seal(response: Response) -> Response:
        response.headers["Content-Security-Policy"] = _POLICY
        response.headers["X-Content-Type-Options"] = "nosniff"
        response.headers["Referrer-Policy"] = "no-referrer"
        response.headers["Cross-Origin-Opener-Policy"] = "same-origin"
        response.headers["Cross-Origin-Resource-Policy"] = "same-origin"
        return response

    app.before_request(check)
    app.after_request(seal)
