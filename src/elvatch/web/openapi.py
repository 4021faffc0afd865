"""What can be asked over HTTP, as an OpenAPI 3.1 document made from the routes and the models that they read."""

from __future__ import annotations

import inspect
import re
from collections.abc import Iterator
from typing import Any

from flask import Flask, jsonify
from pydantic import BaseModel
from pydantic.json_schema import models_json_schema
from werkzeug.routing import Rule

from elvatch import __version__

_READS = re.compile(r"\bbody\((\w+)\)")
_FILES = re.compile(r"request\.files\.get\(\"(\w+)\"\)")
_METHODS = ("GET", "POST", "PUT", "DELETE")
_REFUSALS = {
    "400": "The body is not what the route reads.", "403": "Asked under another host name, or by a page elsewhere.",
    "404": "No such address.", "409": "Another window was first; the newer state comes with it.",
    "410": "A newer question took its place.", "422": "Refused, with what was found, what was expected, what to do.",
    "503": "Still getting ready.", "507": "No room left on the disk.",
}  # fmt: skip


def _model_of(view: Any) -> type[BaseModel] | None:
    """Return the model that a route reads its body as: the one its own text names, where it stands."""
    found = _READS.search(inspect.getsource(view))
    if found is None:
        return None
    named: object = view.__globals__.get(found[1])
    return named if isinstance(named, type) and issubclass(named, BaseModel) else None


def _routes(app: Flask) -> Iterator[tuple[Rule, str, Any]]:
    for rule in app.url_map.iter_rules():
        if rule.rule.startswith("/api/"):
            for method in _METHODS:
                if rule.methods and method in rule.methods:
                    yield rule, method, app.view_functions[rule.endpoint]


def _operation(rule: Rule, view: Any, model: type[BaseModel] | None, schemas: dict[Any, Any]) -> dict[str, Any]:
    refused = {"content": {"application/json": {"schema": {"$ref": "#/components/schemas/Refusal"}}}}
    answers: dict[str, Any] = {"2XX": {"description": "Done."}}
    answers |= {code: {"description": text, **refused} for code, text in _REFUSALS.items()}
    operation: dict[str, Any] = {
        "operationId": rule.endpoint.replace(".", "_"),
        "parameters": [
            {"name": name, "in": "path", "required": True, "schema": {"type": "string", "minLength": 1}}
            for name in sorted(rule.arguments)
        ],
        "responses": answers,
    }  # fmt: skip
    upload = _FILES.search(inspect.getsource(view))
    if model is not None:
        ref = schemas[(model, "validation")]
        operation["requestBody"] = {"required": True, "content": {"application/json": {"schema": ref}}}
    elif upload is not None:
        form = {"type": "object", "properties": {upload[1]: {"type": "string", "format": "binary"}}}
        operation["requestBody"] = {"content": {"multipart/form-data": {"schema": form}}}
    return operation


def document(app: Flask) -> dict[str, Any]:
    """Return the OpenAPI document of an application."""
    routes = [(rule, method, view, _model_of(view)) for rule, method, view in _routes(app)]
    models = list(dict.fromkeys(model for *_, model in routes if model is not None))
    schemas, definitions = models_json_schema(
        [(model, "validation") for model in models], ref_template="#/components/schemas/{model}"
    )
    paths: dict[str, Any] = {}
    for rule, method, view, model in routes:
        address = re.sub(r"<(?:\w+:)?(\w+)>", r"{\1}", rule.rule)
        paths.setdefault(address, {})[method.lower()] = _operation(rule, view, model, dict(schemas))
    refusal = {"type": "object", "properties": {"message": {"type": "string"}}, "required": ["message"]}
    return {
        "openapi": "3.1.0", "info": {"title": "Elvatch", "version": __version__}, "paths": paths,
        "components": {"schemas": {**definitions.get("$defs", {}), "Refusal": refusal}},
    }  # fmt: skip


def install(app: Flask) -> None:
    """Serve the document of an application whose routes are all there."""
    made = document(app)

    @app.get("/api/openapi.json")
    def openapi() -> Any:
        return jsonify(made)
