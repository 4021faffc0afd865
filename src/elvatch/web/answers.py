"""How requests are read, and how what a view returns is answered."""

from __future__ import annotations

import functools
import math
from collections.abc import Callable
from typing import Annotated, Any, TypeVar, get_type_hints

from flask import Blueprint, Response, request
from flask.json.provider import DefaultJSONProvider
from pydantic import BaseModel, ConfigDict, Field, TypeAdapter

from elvatch.core.refusal import RefusalError

_MOST_JSON_BYTES = 4 << 20
B = TypeVar("B", bound=BaseModel)
Revision = Annotated[int, Field(ge=0, le=1 << 53)]
"""A number of a revision as the page knows it."""


class Plain(DefaultJSONProvider):
    """Answers as JSON has them: it knows no infinity, so that a number beyond all numbers is none."""

    def dumps(self, obj: Any, **kwargs: Any) -> str:
        """Return a value as JSON."""
        try:
            return super().dumps(obj, allow_nan=False, **kwargs)
        except ValueError:
            return super().dumps(_finite(obj), allow_nan=False, **kwargs)


def _finite(value: object) -> object:
    if isinstance(value, float):
        return value if math.isfinite(value) else None
    if isinstance(value, dict):
        return {key: _finite(one) for key, one in value.items()}
    return [_finite(one) for one in value] if isinstance(value, list | tuple) else value


class Body(BaseModel):
    """A JSON request; anything it does not name is refused."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


def body(kind: type[B]) -> B:
    """Return this request's JSON as ``kind``."""
    # pages elsewhere can send text unasked, JSON only with leave
    if request.content_length and not request.is_json:
        raise RefusalError("request", repr(request.mimetype[:60]), "application/json", "say what is sent")
    if request.content_length is None or request.content_length > _MOST_JSON_BYTES:
        raise RefusalError(
            "request",
            f"{request.content_length} bytes",
            f"at most {_MOST_JSON_BYTES} bytes of JSON",
            "send less",
        )
    return kind.model_validate_json(request.get_data(cache=False))


def window() -> str:
    """Return what tells the asking window from others, so that only its own older requests are cancelled."""
    return request.headers.get("X-Window", "")[:40]


def uploaded(expected: str, most_bytes: int) -> tuple[str, bytes]:
    """Return the plain name of the file that came with a request, and its bytes, one more than allowed at most."""
    upload = request.files.get("file")
    if upload is None:
        raise RefusalError("upload", "no file", expected, "choose or drop one")
    name = " ".join((upload.filename or "").replace("\\", "/").split("/")[-1].split())[:80] or "file"
    return name, upload.read(most_bytes + 1)


View = Callable[..., Any]
MADE_BY_JOBS: list[object] = []
"""What jobs make, and what stands before bytes, for the types that the page is given."""


class Routes:
    """The routes of one part of the page.

    A view parses, calls one thing and returns what it found; its return type says how that is answered, and what the
    page's types and the OpenAPI document tell of it.

    Parameters
    ----------
    name : str
        Of the part.
    """

    def __init__(self, name: str) -> None:
        self.blueprint = Blueprint(name, __name__)

    def get(self, path: str) -> Callable[[View], View]:
        """Add a route that reads."""
        return self._adding(path, "GET", 200)

    def post(self, path: str, status: int = 200, makes: object = None) -> Callable[[View], View]:
        """Add a route that asks or makes something; one that begins a job says what that ``makes``, one that answers
        with bytes what stands before them."""
        if makes is not None:
            MADE_BY_JOBS.append(makes)
        return self._adding(path, "POST", status)

    def put(self, path: str) -> Callable[[View], View]:
        """Add a route that puts something in place of another."""
        return self._adding(path, "PUT", 200)

    def delete(self, path: str) -> Callable[[View], View]:
        """Add a route that takes something away."""
        return self._adding(path, "DELETE", 200)

    def _adding(self, path: str, method: str, status: int) -> Callable[[View], View]:
        def add(view: View) -> View:
            self.blueprint.add_url_rule(path, view.__name__, _answering(view, status), methods=[method])
            return view

        return add


def answered_with(view: View) -> Any:
    """Return the type that a view answers with; a Response for all that is no JSON."""
    return get_type_hints(view)["return"]


def _answering(view: View, status: int) -> View:
    kind = answered_with(view)
    if kind is Response:
        return view
    adapter: TypeAdapter[Any] = TypeAdapter(kind)

    @functools.wraps(view)
    def answer(**parts: str) -> Response:
        return Response(adapter.dump_json(view(**parts), by_alias=True), status, mimetype="application/json")

    return answer


def image(data: bytes, keep: bool = False, kind: str = "image/png") -> Response:
    """Return an image; one whose address names its content may be kept."""
    answer = Response(data, mimetype=kind)
    answer.headers["Cache-Control"] = "private, max-age=31536000, immutable" if keep else "no-store"
    return answer
