"""How things look on the wire, and how requests are read."""

from __future__ import annotations

from typing import TypeVar

from flask import request
from pydantic import BaseModel, ConfigDict

from elvatch.core.refusal import RefusalError
from elvatch.store.sites import SiteState

_MOST_JSON_BYTES = 4 << 20
B = TypeVar("B", bound=BaseModel)


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
