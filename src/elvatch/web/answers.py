"""How things look on the wire, and how requests are read."""

from __future__ import annotations

import math
from typing import Annotated, Any, TypeVar

from flask import request
from flask.json.provider import DefaultJSONProvider
from pydantic import BaseModel, ConfigDict, Field

from elvatch.core.refusal import RefusalError
from elvatch.store.sites import SiteState

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


def camel(answer: dict[str, object]) -> dict[str, object]:
    """Return an answer with its own names as the page writes them: tileM for tile_m; what lies inside stays."""
    return {head + "".join(part.capitalize() for part in rest): value
            for (head, *rest), value in ((key.split("_"), value) for key, value in answer.items())}  # fmt: skip


def state_json(state: SiteState) -> dict[str, object]:
    """Return a site's state as JSON."""
    return {
        "id": state.id,
        "title": state.title,
        "revision": state.revision,
        "recipe": state.recipe.model_dump(mode="json"),
        "changedAt": state.changed_at,
        "undo": state.undo,
        "redo": state.redo,
    }
