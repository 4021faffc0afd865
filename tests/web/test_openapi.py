"""The document of what can be asked is true, and nothing that fits it or does not is answered by a fault."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
import schemathesis
from hypothesis import HealthCheck, given, settings
from schemathesis.core.result import Ok

from elvatch.app.workshop import Workshop
from elvatch.store.store import Store
from elvatch.web.app import create_app
from elvatch.web.openapi import document
from tests.conftest import put_set


@pytest.fixture(scope="module")
def served(tmp_path_factory: pytest.TempPathFactory) -> Any:
    """An application with a set and a made site."""
    shop = Workshop(Store(tmp_path_factory.mktemp("fuzzed") / "data"))
    put_set(shop.store)
    return create_app(shop)


def test_whatever_is_asked_is_answered_without_a_fault(served: Any) -> None:
    schema = schemathesis.openapi.from_wsgi("/api/openapi.json", served)
    faults: list[str] = []

    def ask(operation: Any) -> None:
        @settings(max_examples=8, deadline=None, suppress_health_check=list(HealthCheck), database=None)
        @given(case=operation.as_strategy())
        def one(case: schemathesis.Case[Any]) -> None:
            answer = case.call(headers={"Host": "localhost"})
            if answer.status_code >= 500:
                faults.append(f"{case.method} {case.formatted_path} {case.body!r:.200}: {answer.status_code}")

        one()

    operations = [found.ok() for found in schema.get_all_operations() if isinstance(found, Ok)]
    assert len(operations) > 60
    for operation in operations:
        ask(operation)
    assert faults == []


def test_the_document_names_every_route_and_the_model_that_each_reads(workshop: Workshop) -> None:
    app = create_app(workshop)
    made = document(app)
    told = {(path, method.upper()) for path, methods in made["paths"].items() for method in methods}
    assert len(told) > 60
    for path, method in (("/api/picture", "POST"), ("/api/sites/{site}/recipe", "PUT"), ("/api/sets/{name}", "PUT")):
        body = made["paths"][path][method.lower()]["requestBody"]["content"]["application/json"]["schema"]
        assert body["$ref"].startswith("#/components/schemas/"), path
    source = (Path(__file__).parents[2] / "src/elvatch/web").glob("*_routes.py")
    reads = sum(text.count("body(_") + text.count("body(Base") for text in (one.read_text() for one in source))
    described = sum(
        "application/json" in methods[m].get("requestBody", {}).get("content", {})
        for methods in made["paths"].values()
        for m in methods
    )
    assert described >= reads - 2, "a body that the document does not know of"
    schemas = made["components"]["schemas"]
    assert "$ref" not in schemas["_Edit"]["properties"]["recipe"], (
        "recipes are checked by the core, with its own words"
    )
    answers = {"/api/sites/{site}": "SiteState", "/api/stock": "WallOfSets", "/api/jobs/{job}": "JobState"}
    for path, kind in answers.items():
        answer = made["paths"][path]["get"]["responses"]["2XX"]["content"]["application/json"]["schema"]
        assert answer == {"$ref": f"#/components/schemas/{kind}"}
    assert schemas["SiteState"]["properties"]["recipe"] == {"$ref": "#/components/schemas/Recipe"}
