"""A pack as it would be downloaded: drawn, spoiled where it is faulty, named its own way, zipped."""

from __future__ import annotations

import io
import zipfile
from typing import Any

import numpy as np
import tifffile
from numpy.typing import NDArray

from elvatch.core.formats import png
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run
from elvatch.core.stock import generators, periodic, roles
from elvatch.core.stock.generators.common import MadeSet, smoothstep
from elvatch.core.stock.roles import Meaning, Role
from elvatch.core.stock.supplier.catalogue import SIZES, SupplierPack

Whole = NDArray[Any]


def zipped(pack: SupplierPack, size_px: int, run: Run | None = None) -> bytes:
    """Return a pack as a zip.

    Parameters
    ----------
    pack : SupplierPack
        Of the catalogue.
    size_px : int
        Of its maps, one of ``SIZES``.
    run : Run, optional
        Told how far it is.

    Raises
    ------
    RefusalError
        When there is no such size.
    """
    if size_px not in SIZES:
        raise RefusalError("size", f"{size_px} px", "one of " + ", ".join(map(str, SIZES)), "choose one of these")
    run = run or Run()
    made = generators.draw(pack.kind, size_px, pack.seed, pack.controls, run.part(0, 0.85))
    maps = _spoiled(pack, {"mask": _mask(pack, made)} if pack.is_overlay else _maps(pack, made))
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_STORED) as out:
        out.writestr("licence.txt", f"{pack.title} by {pack.maker}: made up, free for any use.\n")
        for number, (meaning, path) in enumerate(pack.convention.paths.items()):
            run.at(0.87 + 0.12 * number / len(pack.convention.paths))
            values = _file(meaning, maps)
            if values is not None:
                out.writestr(f"{_named(path, pack, size_px)}.{pack.convention.ending}", _encoded(values, pack))
    return stream.getvalue()


def _maps(pack: SupplierPack, made: MadeSet) -> dict[Role, Whole]:
    return {kept.role: kept.values for kept in generators.kept(made) if kept.role in pack.roles}


def _mask(pack: SupplierPack, made: MadeSet) -> Whole:
    """Return a mask read off a material: dark and smooth places, or cracks."""
    if pack.kind == "cracked-mud":
        low = periodic.blur(made.height, 6) - made.height
        share = smoothstep(0.06, 0.25, low)
    else:
        share = smoothstep(0.55, 0.34, made.roughness)
    return np.rint(share * 65535).astype(np.uint16)


def _spoiled(pack: SupplierPack, maps: dict[Role, Whole]) -> dict[Role, Whole]:
    if "seam" in pack.faults:
        maps = {role: _piece(values) for role, values in maps.items()}
    if "green-down" in pack.faults:
        normal = maps["normal"].copy()
        normal[..., 1] = np.iinfo(normal.dtype).max - normal[..., 1]
        maps["normal"] = normal
    if "gloss-named-rough" in pack.faults:
        maps["roughness"] = np.iinfo(maps["roughness"].dtype).max - maps["roughness"]
    if "dark-on-light" in pack.faults:
        maps["mask"] = np.iinfo(maps["mask"].dtype).max - maps["mask"]
    if "large-and-small" in pack.faults:
        for role in ("roughness", "occlusion"):
            maps[role] = maps[role][::2, ::2]
    return maps


def _piece(values: Whole) -> Whole:
    """Cut a square piece out, so that it no longer repeats."""
    n = values.shape[0]
    first, last = round(0.07 * n), round(0.87 * n)
    return values[first:last, first:last]


def _file(meaning: Meaning, maps: dict[Role, Whole]) -> Whole | None:
    inside = roles.packed(meaning)
    if inside:
        size = maps["roughness"].shape
        blank: dict[Role, Whole] = {"metallic": np.zeros(size, np.uint8), "occlusion": np.full(size, 255, np.uint8)}
        return np.dstack([maps[role] if role in maps else blank[role] for role in inside])
    if meaning == "gloss":
        return np.iinfo(maps["roughness"].dtype).max - maps["roughness"]
    return maps.get(roles.gives(meaning)[0])


def _encoded(values: Whole, pack: SupplierPack) -> bytes:
    if pack.convention.ending == "png":
        return png.encode(np.ascontiguousarray(values))
    stream = io.BytesIO()
    tifffile.imwrite(stream, values, photometric="rgb" if values.ndim == 3 else "minisblack", compression="zlib")
    return stream.getvalue()


def _named(path: str, pack: SupplierPack, size_px: int) -> str:
    words = pack.title.split()
    return path.format(
        name="_".join(words).lower(),
        Name="".join(word.capitalize() for word in words),
        size=size_px,
        k=f"{size_px // 1024}k" if size_px >= 1024 else f"{size_px}px",
    )
