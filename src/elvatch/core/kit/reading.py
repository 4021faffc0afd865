"""A kit read as an engine would: its weights, its tiled maps, nothing of the cover. So is told how near it comes."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
from numpy.typing import NDArray

from elvatch.core import colour
from elvatch.core.kit.document import Kit, KitLayer, Plane

Numbers = NDArray[np.float64]
_CHANNELS = {"red": 0, "green": 1, "blue": 2, "alpha": 3}


def pixels(path: Path) -> NDArray[Any]:
    """Return a PNG's codes as 0..1, shape (rows, cols, channels)."""
    found = np.asarray(imagecodecs.png_decode(path.read_bytes()))
    part = found.astype(np.float32) / (255.0 if found.dtype == np.uint8 else 65535.0)
    return part if part.ndim == 3 else part[..., None]


class _Tiled:
    """A tiled colour map in all its sizes, linear."""

    def __init__(self, path: Path) -> None:
        level = colour.to_linear(pixels(path)[..., :3])
        self._levels = [level]
        while level.shape[0] > 1:
            level = level.reshape(level.shape[0] // 2, 2, level.shape[1] // 2, 2, 3).mean(axis=(1, 3))
            self._levels.append(level)

    def at(self, u: Numbers, v: Numbers, across: float) -> Numbers:
        """Return colours at texture coordinates, v up, for areas that are so many repeats wide."""
        fine = min(max(math.log2(max(across * self._levels[0].shape[0], 1.0)), 0.0), len(self._levels) - 1.0)
        low = min(int(fine), len(self._levels) - 1)
        high, part = min(low + 1, len(self._levels) - 1), fine - low
        return self._one(low, u, v) * (1 - part) + self._one(high, u, v) * part

    def _one(self, level: int, u: Numbers, v: Numbers) -> Numbers:
        texels = self._levels[level]
        side = texels.shape[0]
        x, y = u * side - 0.5, (1 - v) * side - 0.5
        c, r = np.floor(x).astype(np.int64), np.floor(y).astype(np.int64)
        fx, fy = (x - c)[:, None], (y - r)[:, None]

        def one(row: NDArray[np.int64], col: NDArray[np.int64]) -> NDArray[np.float32]:
            return np.asarray(texels[row % side, col % side])

        upper = one(r, c) * (1 - fx) + one(r, c + 1) * fx
        lower = one(r + 1, c) * (1 - fx) + one(r + 1, c + 1) * fx
        return np.asarray(upper * (1 - fy) + lower * fy, np.float64)


def coordinates(layer: KitLayer, plane: Plane, at_m: Numbers, normal: Numbers) -> tuple[Numbers, Numbers]:
    """Return texture coordinates of places on one of a layer's planes, v up.

    Parameters
    ----------
    layer, plane
        As the kit says them.
    at_m : ndarray, shape (n, 3), float64
        Metres east, north, up.
    normal : ndarray, shape (n, 3), float64
        The ground's.
    """
    x, y, z = (at_m - np.array(layer.offset_m)).T
    mirror = -1.0 if layer.mirrored else 1.0
    if plane.faces == "up":
        a, b = mirror * x, y
    elif plane.faces == "east or west":
        a, b = mirror * np.copysign(1.0, normal[:, 0]) * y, z
    elif plane.faces == "north or south":
        a, b = -mirror * np.copysign(1.0, normal[:, 1]) * x, z
    else:
        side = math.radians(layer.side_deg)
        a, b = mirror * (math.sin(side) * y - math.cos(side) * x), z
    turn = math.radians(plane.turn_deg)
    c, s = math.cos(turn), math.sin(turn)
    return (c * a + s * b) / layer.tile_m, (-s * a + c * b) / layer.tile_up_m


def plane_shares(layer: KitLayer, normal: Numbers) -> list[Numbers]:
    """Return how much each of a layer's planes counts at places, each shape (n,)."""
    if len(layer.planes) == 1:
        return [np.ones(len(normal))]
    ways = {"up": 2, "east or west": 0, "north or south": 1}
    strong = [np.abs(normal[:, ways[plane.faces]]) ** layer.plane_edge for plane in layer.planes]
    total = np.sum(strong, axis=0)
    return [one / total for one in strong]


class Reader:
    """A kit on disk.

    Parameters
    ----------
    folder : Path
        Where its files lie.
    kit : Kit
        What it says of itself.
    """

    def __init__(self, folder: Path, kit: Kit) -> None:
        self._folder, self._kit = folder, kit
        self._tiled: dict[str, _Tiled] = {}

    def _map(self, name: str) -> _Tiled:
        if name not in self._tiled:
            self._tiled[name] = _Tiled(self._folder / name)
        return self._tiled[name]

    def weights(self, tile: int) -> NDArray[np.float32]:
        """Return the weights of all layers over a tile, shape (rows, cols, layers), row 0 north."""
        if self._kit.weights == "strongest":
            return self._numbered(tile)
        planes = []
        for layer in self._kit.layers:
            image = pixels(self._folder / layer.weight.files[tile])
            planes.append(image[..., _CHANNELS.get(layer.weight.channel, 0)])
        return np.stack(planes, -1)

    def _numbered(self, tile: int) -> NDArray[np.float32]:
        numbers, parts = (pixels(self._folder / name) for name in self._kit.layers[0].weight.files[2 * tile :][:2])
        whole = np.rint(numbers * 255).astype(np.int64)
        out = np.zeros((*numbers.shape[:2], len(self._kit.layers)), np.float32)
        rows, cols = np.mgrid[: out.shape[0], : out.shape[1]]
        for k in range(4):
            there = whole[..., k] < out.shape[2]
            np.add.at(out, (rows[there], cols[there], whole[..., k][there]), parts[..., k][there])
        return out

    def layer_colour(self, number: int, at_m: Numbers, normal: Numbers, across_m: float) -> Numbers:
        """Return the linear colours of a layer at places, for areas so many metres wide, shape (n, 3)."""
        layer = self._kit.layers[number]
        out = np.zeros((len(at_m), 3))
        for plane, share in zip(layer.planes, plane_shares(layer, normal), strict=True):
            maps = layer.maps if plane.faces in ("up", "a side") or layer.steep_maps is None else layer.steep_maps
            u, v = coordinates(layer, plane, at_m, normal)
            out += share[:, None] * self._map(maps.colour).at(u, v, across_m / layer.tile_m)
        return out

    def colour(self, weights: NDArray[np.floating[Any]], at_m: Numbers, normal: Numbers, across_m: float) -> Numbers:
        """Return the linear colours of the whole at places with weights, shape (n, layers)."""
        out = np.zeros((len(at_m), 3))
        for k in range(weights.shape[1]):
            there = np.flatnonzero(weights[:, k] > 0)
            if len(there):
                out[there] += weights[there, k : k + 1] * self.layer_colour(k, at_m[there], normal[there], across_m)
        return out
