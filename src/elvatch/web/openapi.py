"""What can be asked over HTTP, as an OpenAPI 3.1 document made from the routes, what they read and what they answer.

The page's types of answers are made from the same, and of those questions that it puts together in more than one
place: :func:`answers_schema`.
"""

from __future__ import annotations

import functools
import inspect
import re
from collections.abc import Iterator, Sequence
from typing import Any

from flask import Flask, Response, jsonify
from pydantic import BaseModel, TypeAdapter
from pydantic.json_schema import JsonSchemaMode
from werkzeug.routing import Rule

from elvatch import __version__
from elvatch.app.catalogue import Catalogue
from elvatch.core.document import recipe
from elvatch.core.ground.measures import NAMES
from elvatch.core.stock import schema as stock_schema
from elvatch.web.answers import MADE_BY_JOBS, answered_with

_READS = re.compile(r"\bbody\((\w+)\)")
_FILES = re.compile(r"request\.files\.get\(\"(\w+)\"\)|\b(uploaded)\(")
_ASKED = "Asked"
"""How models of questions end that the page's types are made from."""
_METHODS = ("GET", "POST", "PUT", "DELETE")
_TS_WORDS = {"number": "number", "integer": "number", "string": "string"}
_REFS = "#/components/schemas/{model}"
_REFUSALS = {
    "400": "The body is not what the route reads.",
    "403": "Asked under another host name, or by a page elsewhere.",
    "404": "No such address.",
    "409": "Another window was first; the newer state comes with it.",
    "410": "A newer question took its place.",
    "422": "Refused, with what was found, what was expected, what to do.",
    "503": "Still getting ready.",
    "507": "No room left on the disk.",
}


def _model_of(view: Any) -> type[BaseModel] | None:
    """Return the model that a route reads its body as: the one its own text names, where it stands."""
    found = _READS.search(inspect.getsource(view))
    if found is None:
        return None
    named: object = inspect.unwrap(view).__globals__.get(found[1])
    return named if isinstance(named, type) and issubclass(named, BaseModel) else None


def _answer_of(view: Any) -> Any:
    """Return the type that a route answers with; None where that is no JSON."""
    kind = answered_with(inspect.unwrap(view)) if view.__annotations__.get("return") else Response
    return None if kind is Response else kind


def _routes(app: Flask) -> Iterator[tuple[Rule, str, Any]]:
    for rule in app.url_map.iter_rules():
        if rule.rule.startswith("/api/"):
            for method in _METHODS:
                if rule.methods and method in rule.methods:
                    yield rule, method, app.view_functions[rule.endpoint]


def _schemas(
    kinds: Sequence[tuple[Any, JsonSchemaMode]], refs: str
) -> tuple[dict[tuple[str, str], Any], dict[str, Any]]:
    """Return the schema of each type by its name and mode, and what they refer to."""
    inputs = [(str(kind), mode, TypeAdapter(kind)) for kind, mode in kinds]
    found, definitions = TypeAdapter.json_schemas(inputs, by_alias=True, ref_template=refs)
    return {(str(key), mode): one for (key, mode), one in found.items()}, definitions.get("$defs", {})


def _operation(rule: Rule, view: Any, model: Any, schemas: dict[tuple[str, str], Any]) -> dict[str, Any]:
    refused = {"content": {"application/json": {"schema": {"$ref": "#/components/schemas/Refusal"}}}}
    answers: dict[str, Any] = {"2XX": {"description": "Done."}}
    kind = _answer_of(view)
    if kind is not None:
        answers["2XX"]["content"] = {"application/json": {"schema": schemas[(str(kind), "serialization")]}}
    answers |= {code: {"description": text, **refused} for code, text in _REFUSALS.items()}
    operation: dict[str, Any] = {
        "operationId": rule.endpoint.replace(".", "_"),
        "parameters": [
            {"name": name, "in": "path", "required": True, "schema": {"type": "string", "minLength": 1}}
            for name in sorted(rule.arguments)
        ],
        "responses": answers,
    }
    if model is not None:
        ref = schemas[(str(model), "validation")]
        operation["requestBody"] = {"required": True, "content": {"application/json": {"schema": ref}}}
    elif _FILES.search(inspect.getsource(view)) is not None:
        form = {"type": "object", "properties": {"file": {"type": "string", "format": "binary"}}}
        operation["requestBody"] = {"content": {"multipart/form-data": {"schema": form}}}
    return operation


def document(app: Flask) -> dict[str, Any]:
    """Return the OpenAPI document of an application."""
    routes = [(rule, method, view, _model_of(view)) for rule, method, view in _routes(app)]
    read: list[tuple[Any, JsonSchemaMode]] = [(model, "validation") for *_, model in routes if model is not None]
    told: list[tuple[Any, JsonSchemaMode]] = [(kind, "serialization") for kind in _answered(app)]
    schemas, definitions = _schemas([*dict.fromkeys(read), *told], _REFS)
    paths: dict[str, Any] = {}
    for rule, method, view, model in routes:
        address = re.sub(r"<(?:\w+:)?(\w+)>", r"{\1}", rule.rule)
        paths.setdefault(address, {})[method.lower()] = _operation(rule, view, model, schemas)
    refusal = {"type": "object", "properties": {"message": {"type": "string"}}, "required": ["message"]}
    return {
        "openapi": "3.1.0",
        "info": {"title": "Elvatch", "version": __version__},
        "paths": paths,
        "components": {"schemas": {**definitions, "Refusal": refusal}},
    }


def _answered(app: Flask) -> list[Any]:
    """Return all types that an application answers with, each once."""
    kinds = [_answer_of(view) for *_, view in _routes(app)]
    return list({str(kind): kind for kind in [*kinds, *MADE_BY_JOBS, Catalogue] if kind is not None}.values())


def _asked(app: Flask) -> list[type[BaseModel]]:
    """Return the models of questions that the page puts together itself."""
    models = {_model_of(view) for *_, view in _routes(app)}
    return sorted((one for one in models if one and one.__name__.endswith(_ASKED)), key=lambda one: one.__name__)


def _name_known(part: Any, known: set[str]) -> None:
    """Put the name of its type in place of each reference to a part that has one already."""
    if isinstance(part, dict):
        # what is both read and told bears one name for each
        name = str(part.get("$ref", "")).rpartition("/")[2].partition("-")[0]
        if name in known:
            part.clear()
            part["tsType"] = name
        elif part.get("enum") == [*NAMES]:
            # a measure's names stand with the clause on it
            part.clear()
            part["tsType"] = 'MeasureClause["measure"]'
        elif "discriminator" in part:
            # a step or a clause of any kind
            kinds = part["discriminator"]["mapping"]
            part.clear()
            part["tsType"] = "Step" if "form" in kinds else "Clause"
        elif "prefixItems" in part:
            # what makes the types knows tuples only by their words
            words = [_TS_WORDS[one["type"]] for one in part.pop("prefixItems")]
            part["tsType"] = f"[{', '.join(words)}]"
    for one in part.values() if isinstance(part, dict) else part if isinstance(part, list) else ():
        _name_known(one, known)


def answers_schema(app: Flask) -> dict[str, Any]:
    """Return the JSON Schema of all that an application answers with, for the page's types, and of the questions that
    have a name of their own.

    Parts of recipes and of the stock's documents have types already: they are named, not told again.
    """
    kinds: list[tuple[Any, JsonSchemaMode]] = [(kind, "serialization") for kind in _answered(app)]
    kinds += [(model, "validation") for model in _asked(app)]
    _, definitions = _schemas(kinds, "#/$defs/{model}")
    known = {"Recipe", *recipe.schema()["$defs"], *stock_schema.schema()["$defs"]}  # type: ignore[misc]
    told = {name: one for name, one in definitions.items() if name.partition("-")[0] not in known}
    for name, one in told.items():
        _name_known(one, known)
        if name.endswith(_ASKED):
            # sent as what differs from what the server has, where that is shorter: the page's own matter
            one["properties"] |= {"recipe": {"tsType": "Recipe"}} if "recipe" in one["properties"] else {}
        for field in one["properties"].values():
            field.pop("title", None)
    return {
        "title": "Answers",
        "type": "object",
        "additionalProperties": False,
        "properties": {name: {"$ref": f"#/$defs/{name}"} for name in sorted(told)},
        "$defs": told,
    }


def install(app: Flask) -> None:
    """Serve the document of an application whose routes are all there; made when it is first asked for."""

    @functools.cache
    def made() -> dict[str, Any]:
        return document(app)

    @app.get("/api/openapi.json")
    def openapi() -> Any:
        return jsonify(made())
