"""The stock: which sets there are, and their swatches."""

from __future__ import annotations

from typing import Any

from flask import Blueprint, Response, jsonify

from elvatch.workshop import Workshop


def routes(workshop: Workshop) -> Blueprint:
    """Return the routes under /api/sets."""
    stock = Blueprint("stock", __name__)

    @stock.get("/api/sets")
    def all_sets() -> Any:
        return jsonify(
            sets=[
                {
                    "name": s.name,
                    "title": s.title,
                    "sizePx": s.size_px,
                    "tileM": s.tile_m,
                    "reliefM": s.relief_m,
                }
                for s in workshop.store.stock.all()
            ]
        )

    @stock.get("/api/sets/<name>/swatch.png")
    def swatch(name: str) -> Response:
        answer = Response(workshop.store.stock.swatch(name), mimetype="image/png")
        answer.headers["Cache-Control"] = "private, max-age=31536000, immutable"
        return answer

    return stock
