"""The stock's documents as JSON Schema, published in docs/ and turned into TypeScript types."""

from __future__ import annotations

from elvatch.core.parts import Part, published
from elvatch.core.stock.description import SetDescription
from elvatch.core.stock.facts import SetFacts
from elvatch.core.stock.intake import Decision
from elvatch.core.stock.manifest import SetManifest
from elvatch.core.stock.mend.ask import MendAsk


class StockDocuments(Part):
    """All documents that the stock reads and writes."""

    description: SetDescription
    facts: SetFacts
    decision: Decision
    manifest: SetManifest
    mend: MendAsk


def schema() -> dict[str, object]:
    """Return the JSON Schema of all documents of the stock."""
    return published(StockDocuments)
