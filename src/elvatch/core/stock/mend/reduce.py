"""A set at a smaller size: colour averaged in linear light, relief that is lost becomes roughness."""

from __future__ import annotations

import numpy as np

from elvatch.core.refusal import RefusalError
from elvatch.core.stock import resize
from elvatch.core.stock.canonical import Whole
from elvatch.core.stock.loaded import Loaded, whole
from elvatch.core.stock.roles import FACTS, Role


def reduced(loaded: Loaded, px: int) -> Loaded:
    """Return a set whose maps are at most ``px`` wide; smaller ones stay as they are.

    Normals are averaged as slopes and renormalised; the variance this loses raises the roughness,
    so that the set glints as before from afar (Olano & Baker 2010).

    Raises
    ------
    RefusalError
        When no map is larger than that.
    """
    largest = max(values.shape[0] for values in loaded.whole.values())
    if not 16 <= px < largest:
        raise RefusalError("size", f"{px} px", f"16 to {largest - 1} px, less than it has", "choose a smaller one")
    out: dict[Role, Whole] = {}
    lost = None
    for role, values in loaded.whole.items():
        if values.shape[0] <= px:
            out[role] = values
        elif role == "normal":
            normal, lost = loaded.reduced_normals(px)
            out[role] = whole(role, normal, loaded.bits[role])
        else:
            out[role] = whole(role, loaded.reduced(role, px), loaded.bits[role])
    if lost is not None:
        if "roughness" in loaded:
            size = out["roughness"].shape[0]
            rough = loaded.reduced("roughness", size)
            bits = loaded.bits["roughness"]
        else:
            size, bits = px, 8
            rough = np.full((px, px), FACTS["roughness"].missing, np.float32)
        out["roughness"] = whole("roughness", resize.rougher(rough, resize.resized(lost, size)), bits)
    return Loaded(out, loaded.tile_m, loaded.relief_m)
