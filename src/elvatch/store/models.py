"""Models of things once drawn, kept on disk by content: a later start maps them instead of drawing them."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from elvatch.core.thing.crowd import CrowdTables
from elvatch.core.thing.model import Model
from elvatch.core.thing.solid import Image, Solid
from elvatch.store.shelf import Shelved

_OF_VERTICES = ("places", "normals", "colours", "roughness", "open", "leaf", "uv", "bend")
_OF_TRIANGLES = ("triangles", "image")


class ModelShelf(Shelved):
    """Models of things by the name of what led to them."""

    KIND, MOST_BYTES = "model 3", 2 << 30

    def get(self, name: str) -> Model | None:
        """Return a model, mapped, or None when it is not there or not whole."""
        found = self._shelf.get(name)
        if found is None:
            return None
        arrays, about = found
        images = tuple(Image(arrays[f"texels {k}"]) for k in range(int(about["images"])))
        begins = {
            field: np.concatenate([[0], np.cumsum(arrays[f"{field} each"])])
            for field in (*_OF_VERTICES, *_OF_TRIANGLES)
        }

        def solid(k: int) -> Solid:
            parts = {field: arrays[field][at[k] : at[k + 1]] for field, at in begins.items()}
            grain, grain_m, shows_images = (float(value) for value in arrays["numbers"][k])
            return Solid(**parts, images=images if shows_images else (), grain=grain, grain_m=grain_m)

        solids = [solid(k) for k in range(len(arrays["numbers"]))]
        variants = tuple(tuple(solids[k] for k in levels) for levels in arrays["levels"])
        return Model(
            variants, arrays["feet"], arrays["height"], about["wide"], CrowdTables(arrays["sun"], arrays["sky"])
        )

    def put(self, name: str, of: Model) -> None:
        """Keep a model; a full disk keeps nothing and harms nothing."""
        # levels of a small thing are one and the same
        each = {id(one): one for levels in of.variants for one in levels}
        rows = {key: k for k, key in enumerate(each)}
        solids = list(each.values())
        images = max((one.images for one in solids), key=len)
        arrays: dict[str, NDArray[Any]] = {
            "levels": np.array([[rows[id(one)] for one in levels] for levels in of.variants]),
            "numbers": np.array([[one.grain, one.grain_m, bool(one.images)] for one in solids], np.float64),
            "feet": of.feet,
            "height": of.height,
            "sun": of.crowd.sun,
            "sky": of.crowd.sky,
        }
        for field in (*_OF_VERTICES, *_OF_TRIANGLES):
            parts = [getattr(one, field) for one in solids]
            arrays[f"{field} each"] = np.array([len(part) for part in parts])
            arrays[field] = np.concatenate([part for part in parts if len(part)] or parts[:1])
        arrays |= {f"texels {k}": image.texels for k, image in enumerate(images)}
        self._shelf.put(name, arrays, {"images": len(images), "wide": of.wide})
