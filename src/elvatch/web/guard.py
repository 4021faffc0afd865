"""What every request must pass and every answer carries: own hosts only, no other site's pages, a strict policy."""

from __future__ import annotations

from urllib.parse import urlsplit

from flask import Flask, Response, abort, request

from elvatch.web.entry import Entry

_POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' blob:; font-src 'self'; "
    "connect-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
)
_SAFE = {"GET", "HEAD", "OPTIONS"}
_OWN_SITES = {"same-origin", "none"}


def _parts(address: str) -> tuple[str, str]:
    """Return host name and host with port of an address; '' of what is none."""
    try:
        split = urlsplit(address)
        return split.hostname or "", split.netloc
    except ValueError:
        return "", ""


def install(app: Flask, entry: Entry) -> None:
    """Guard an application that is reached as ``entry`` says.

    Requests under another host name are refused (a page elsewhere may have pointed its name here); what a page
    of another site asks for is refused, whether the browser tells its origin or only that it is another.
    """

    def check() -> None:
        if not entry.answers_to(_parts(f"//{request.host}")[0]):
            abort(
                403,
                f"Host: found {request.host[:80]!r}, expected a name of this server; open the address printed at "
                "start, or name it with --allow-host.",
            )
        origin = request.headers.get("Origin")
        if request.method not in _SAFE and origin is not None and _parts(origin)[1] != request.host:
            abort(403, f"Origin: found {origin[:80]!r}, expected this application; use its own page.")
        site = request.headers.get("Sec-Fetch-Site", "none")
        if site not in _OWN_SITES and (request.method not in _SAFE or request.path.startswith("/api/")):
            abort(403, f"Request: found one that a page of another site made ({site[:20]}), expected our own page.")

    def seal(response: Response) -> Response:
        response.headers["Content-Security-Policy"] = _POLICY
        response.headers["X-Content-Type-Options"] = "nosniff"
        response.headers["Referrer-Policy"] = "no-referrer"
        response.headers["Cross-Origin-Opener-Policy"] = "same-origin"
        response.headers["Cross-Origin-Resource-Policy"] = "same-origin"
        return response

    app.before_request(check)
    app.after_request(seal)
