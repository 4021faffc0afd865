"""Hand-offs of small made sites, and files read back by other readers than ours."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import OpenEXR
import tifffile
from PIL import Image

from elvatch.core.document.recipe import Recipe
from elvatch.core.document.sheet import MapsEntry, Sheet, Slot
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.measures import Measures
from elvatch.core.ground.shaped import Shaped
from elvatch.core.ground.survey import survey
from elvatch.core.handoff import job
from elvatch.core.handoff.listing import Source
from elvatch.core.rules.evidence import Evidence
from elvatch.core.run import Run
from elvatch.core.stock import derive, pyramid
from elvatch.core.stock.pyramid import Pyramid
from tests import decoded


def source_of(
    site: Recipe, ground: Heightfield, sets: dict[str, Pyramid], title: str = "Site", evidence: Evidence | None = None
) -> Source:
    """A site that is handed off."""
    measures = Measures(Shaped(ground)).with_water(site.water.level())
    return Source(title, site, survey(ground), measures, sets, evidence)


def written(sheet: Sheet, source: Source, out: Path, run: Run | None = None) -> dict[str, Path]:
    """Write a sheet; return its files by name, the manifest last."""
    return {path.name: path for path in job.write(sheet, source, out, run)}


def entry(id: str, *values: str, **more: object) -> MapsEntry:
    """An entry of a file named after it; PNG of 8 bits unless more is said."""
    slots = tuple(Slot.model_validate({"of": one}) for one in values)
    long_enough = id if len(id) >= 4 else id + "0000"
    return MapsEntry.model_validate({"id": long_enough, "file": "{site}_" + id, "holds": slots} | more)


def read(path: Path, like: tuple[int, ...] = (), dtype: str = "uint16", big: bool = False) -> np.ndarray[Any, Any]:
    """A file's samples by another reader than ours, shape (rows, cols) or (rows, cols, channels)."""
    if path.suffix == ".png":
        codes = decoded.of_file(path)
        return codes if codes.ndim == 2 else codes[..., [2, 1, 0, *range(3, codes.shape[2])]]
    if path.suffix == ".tif":
        return tifffile.imread(path)
    if path.suffix == ".exr":
        channels = OpenEXR.File(str(path), separate_channels=True).channels()
        names = [name for name in ("R", "G", "B", "A", "Y") if name in channels]
        planes = [np.asarray(channels[name].pixels) for name in names]
        return planes[0] if len(planes) == 1 else np.dstack(planes)
    if path.suffix == ".raw":
        return np.fromfile(path, np.dtype(dtype).newbyteorder(">" if big else "<")).reshape(like)
    with Image.open(path) as image:
        return np.asarray(image)


def bumpy_set(across: int = 3, relief_m: float = 0.9) -> Pyramid:
    """A set in which no two maps are alike, and no direction is."""
    x, y = np.meshgrid(np.arange(64) / 64, np.arange(64) / 64)
    waves = 0.5 + 0.3 * np.sin(2 * np.pi * across * x) + 0.15 * np.cos(4 * np.pi * y + 1)
    height = waves.astype(np.float32)
    normal = derive.normal_from_height(height, 8.0, relief_m)
    colour = np.dstack([0.1 + 0.6 * x, 0.2 + 0.3 * y, np.full_like(x, 0.05)]).astype(np.float32)
    plain = {
        name: (low + rise * x * y).astype(np.float32)
        for name, low, rise in (("roughness", 0.3, 0.5), ("occlusion", 0.9, -0.6), ("metallic", 0.05, 0.8))
    }
    maps = pyramid.Maps(colour, normal, plain["roughness"], height, plain["occlusion"], plain["metallic"])
    return pyramid.build(maps, 8.0, relief_m)


def rolling(samples: int = 129, size_m: float = 100.0, rise_m: float = 20.0) -> Heightfield:
    """Ground that rolls, steeper to the north."""
    x, y = np.meshgrid(np.linspace(0, 1, samples), np.linspace(1, 0, samples))
    heights = 50 + rise_m * (0.4 * np.sin(5 * x) * np.cos(7 * y) + y * y)
    return Heightfield(heights.astype(np.float32), size_m, size_m)
