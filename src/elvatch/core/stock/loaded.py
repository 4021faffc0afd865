"""A set's maps in memory as numbers: colour linear, normals as unit vectors, the rest 0..1."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from elvatch.core import colour
from elvatch.core.formats import texture
from elvatch.core.parallel import WORKERS
from elvatch.core.stock import derive, periodic, pyramid, resize, roles
from elvatch.core.stock.canonical import KeptMap, Whole
from elvatch.core.stock.description import SetDescription
from elvatch.core.stock.pyramid import Pyramid
from elvatch.core.stock.roles import Role

Map = NDArray[np.float32]
_WHOLE_PX = 2048
"""Up to this side a map is held whole as numbers, and once for all that ask."""


@dataclass
class Loaded:
    """Maps by role, each square and of its own size; ``whole`` as they stand in their files."""

    whole: dict[Role, Whole]
    tile_m: float
    relief_m: float
    _numbers: dict[Role, Map] = field(default_factory=dict)

    def __contains__(self, role: Role) -> bool:
        return role in self.whole

    def numbers(self, role: Role) -> Map:
        """Return a map as numbers: linear colour, unit normals, or 0..1; float32."""
        if role not in self._numbers:
            self._numbers[role] = numbers(role, self.whole[role])
        return self._numbers[role]

    def reduced(self, role: Role, px: int) -> Map:
        """Return a map as :meth:`numbers` at another size; a large one is never held whole as numbers."""
        return resize.resized(self._half(role, lambda some: some, px), px)

    def reduced_normals(self, px: int) -> tuple[Map, Map]:
        """Return the normal map at another size; see :func:`elvatch.core.stock.resize.normals`."""
        slopes = self._half("normal", resize.slopes_of, px)
        squares = self._half("normal", lambda some: resize.squares_of(resize.slopes_of(some)), px)
        return resize.normals(slopes, squares, px)

    def _half(self, role: Role, of: Callable[[Map], Map], px: int) -> Map:
        """Return what is asked ``of`` a map's numbers, in half the size where it would be halved anyway."""
        whole = self.whole[role]
        rows = whole.shape[0]
        if rows <= _WHOLE_PX or rows % 2 or rows < 2 * px:
            return of(self.numbers(role))
        return periodic.halved_rows(rows, lambda some: of(numbers(role, whole[some])))

    @property
    def bits(self) -> dict[Role, int]:
        """Bits a channel of each map."""
        return {role: values.dtype.itemsize * 8 for role, values in self.whole.items()}


_LINEAR = colour.to_linear(np.arange(256, dtype=np.float32) / np.float32(255))


def shares(values: Whole) -> Map:
    """Return whole numbers as 0..1."""
    result: Map = values.astype(np.float32) * np.float32(1 / np.iinfo(values.dtype).max)
    return result


def numbers(role: Role, values: Whole) -> Map:
    """Return a kept map as numbers that may be computed with."""
    if roles.FACTS[role].coloured:
        return _LINEAR[values] if values.dtype == np.uint8 else colour.to_linear(shares(values))
    if role != "normal":
        return shares(values)
    vector = shares(values) * np.float32(2) - np.float32(1)
    vector /= np.maximum(np.linalg.norm(vector, axis=2, keepdims=True), np.float32(1e-6))
    return vector


def whole(role: Role, values: Map, bits: int) -> Whole:
    """Return numbers as a kept map; the reverse of :func:`numbers`."""
    if roles.FACTS[role].coloured:
        values = colour.to_srgb(values)
    elif role == "normal":
        values = values * np.float32(0.5) + np.float32(0.5)
    most = 255 if bits == 8 else 65535
    rounded = np.rint(np.clip(values, 0, 1) * np.float32(most))
    out: Whole = rounded.astype(np.uint8) if bits == 8 else rounded.astype(np.uint16)
    return out


def kept(role: Role, values: Map, bits: int, note: str) -> KeptMap:
    """Return numbers as a map to be kept."""
    return KeptMap(role, whole(role, values, bits), note)


def load(description: SetDescription, get: Callable[[str], bytes], only: tuple[Role, ...] = roles.ROLES) -> Loaded:
    """Decode a set's maps.

    Parameters
    ----------
    description : SetDescription
        Which maps it has.
    get : callable
        Returns a stored file's bytes by its content name.
    only : tuple of Role
        Decode no others.
    """
    wanted = [role for role in description.maps if role in only]

    def one(role: Role) -> Whole:
        values = texture.decode(f"{description.title}, {role}", get(description.maps[role].file)).values
        return np.ascontiguousarray(values[..., 0] if values.shape[2] == 1 else values)

    with ThreadPoolExecutor(WORKERS) as pool:
        found = dict(zip(wanted, pool.map(one, wanted), strict=True))
    return Loaded(found, description.tile_m, description.relief_m)


_Fitted = tuple[Map, Map | None]
"""A map at the size wanted, and of normals the slope variance that averaging lost."""


def _fitted(loaded: Loaded, role: Role, px: int) -> _Fitted:
    return loaded.reduced_normals(px) if role == "normal" else (loaded.reduced(role, px), None)


def at_size(loaded: Loaded, px: int) -> pyramid.Maps:
    """Return all maps of a set at one size, with plain stand-ins for those it has not.

    A missing normal map is derived from the height map, so that light and relief agree.
    """
    with ThreadPoolExecutor(WORKERS) as pool:
        found = dict(zip(loaded.whole, pool.map(lambda role: _fitted(loaded, role, px), loaded.whole), strict=True))
    return _completed(found, px, loaded.tile_m, loaded.relief_m)


def _completed(found: dict[Role, _Fitted], px: int, tile_m: float, relief_m: float) -> pyramid.Maps:
    def plain(role: Role) -> Map:
        return found[role][0] if role in found else np.full((px, px), roles.FACTS[role].missing, np.float32)

    rough, height = plain("roughness"), plain("height")
    if "normal" in found:
        normal, lost = found["normal"]
        rough = rough if lost is None else resize.rougher(rough, lost)
    else:
        normal = derive.normal_from_height(height, tile_m, relief_m)
    if "colour" in found:
        base = found["colour"][0]
    elif "mask" in found:
        base = np.repeat(plain("mask")[..., None], 3, axis=2)
    else:
        base = np.full((px, px, 3), roles.FACTS["colour"].missing, np.float32)
    emission = found["emission"][0] if "emission" in found else None
    return pyramid.Maps(base, normal, rough, height, plain("occlusion"), plain("metallic"), emission)


def for_lookups(loaded: Loaded, px: int) -> Pyramid:
    """Return a set stored for filtered lookups at one power-of-two size."""
    return pyramid.build(at_size(loaded, px), loaded.tile_m, loaded.relief_m)


def stored(description: SetDescription, get: Callable[[str], bytes]) -> Pyramid:
    """Return a set decoded and stored for filtered lookups; of large maps only a few are held at a time.

    Parameters
    ----------
    description : SetDescription
        Which maps it has, and its size for lookups.
    get : callable
        Returns a stored file's bytes by its content name.
    """
    px = description.lookup_px

    def one(role: Role) -> _Fitted:
        return _fitted(load(description, get, (role,)), role, px)

    with ThreadPoolExecutor(WORKERS) as pool:
        found = dict(zip(description.maps, pool.map(one, description.maps), strict=True))
    maps = _completed(found, px, description.tile_m, description.relief_m)
    return pyramid.build(maps, description.tile_m, description.relief_m)


def luminance(linear: Map) -> Map:
    """Return the relative luminance of linear colours (IEC 61966-2-1 primaries)."""
    result: Map = (linear @ np.array([0.2126, 0.7152, 0.0722], np.float32)).astype(np.float32)
    return result
