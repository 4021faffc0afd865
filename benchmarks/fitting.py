"""Projections and repeats against plain ones, Near with its relief, triplanar lookups against NumPy and OpenCV."""

from __future__ import annotations

import math
import tempfile
from collections.abc import Iterator
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from benchmarks.measure import Line, best_of, seconds
from elvatch.core.cover import function, places, plan
from elvatch.core.cover.fit import Fit, Repeats
from elvatch.core.cover.places import Places
from elvatch.core.cover.recipe import Layer, Look, Recipe
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.survey import survey
from elvatch.core.picture import camera, gbuffer
from elvatch.core.picture.picture import View, scene_of
from elvatch.core.picture.scene import GROUND
from elvatch.core.stock import generators
from elvatch.core.stock.pyramid import (
    BLUE,
    CHANNELS,
    HEIGHT,
    RED,
    ROUGH,
    SCALE,
    SHIFT,
    SLOPE_RMS,
    SLOPE_X,
    SLOPE_Y,
    Pyramid,
)  # fmt: skip
from elvatch.demo import scenario
from elvatch.store.store import Store
from elvatch.workshop import Workshop

Map = NDArray[np.float32]
_SET = "f" * 40
_FAR, _NEAR = (420, 400), (260, 400)


def _fitted(recipe: Recipe, **fit: object) -> Recipe:
    """The recipe with all layers fitted alike."""
    plain = {"projection": "above", "repeats": Repeats(), "detail": None}
    layers = tuple(
        layer.model_copy(update={"fit": layer.fit.model_copy(update=plain | fit)}) for layer in recipe.layers
    )
    return recipe.model_copy(update={"layers": layers})


def _on_far(workshop: Workshop, recipe: Recipe) -> Iterator[Line]:
    """What a projection, or moved patches, cost on the cover of the demo's Far picture."""
    land = workshop.land(recipe.ground)
    eye = camera.of_stand("far", recipe.stands.far, recipe.peg, *_FAR, land.ground)
    fragments = gbuffer.look(scene_of(land, None), eye, *_FAR, 4).fragments
    seen = places.some(fragments.places, np.flatnonzero(fragments.kind == GROUND))

    def asking(wanted: Recipe) -> function.Material:
        return function.ask(workshop.covers.prepared(wanted), seen)

    above, three = _fitted(recipe), _fitted(recipe, projection="triplanar")
    turned = _fitted(recipe, repeats=Repeats(kind="turn"))
    plain, split = best_of(7, lambda: asking(above), lambda: asking(three))
    note = f"{len(seen.x_m)} places of Far, ten layers: {plain * 1000:.0f} and {split * 1000:.0f} ms"
    yield Line("triplanar against from above", split / plain, 1.9, "x", False, note)
    plain, moved = best_of(7, lambda: asking(above), lambda: asking(turned))
    note = f"{plain * 1000:.0f} and {moved * 1000:.0f} ms"
    yield Line("turn and shift against none", moved / plain, 3.0, "x", False, note)


def _near(workshop: Workshop, recipe: Recipe) -> Iterator[Line]:
    """Near with its relief as the view is turned: bed, rays, sun, cover and light anew each time."""

    def turned(by: float) -> Recipe:
        near = recipe.stands.near
        near = near.model_copy(update={"bearing_deg": (near.bearing_deg + by) % 360})
        return recipe.model_copy(update={"stands": recipe.stands.model_copy(update={"near": near})})

    for looks, scale, mark, name in ((4, 1.0, 400, "Near with relief, in full"), (1, 0.5, 80, "and while it moves")):
        view = View("near", int(_NEAR[0] * scale), int(_NEAR[1] * scale), looks)
        workshop.picture_png(recipe, view)
        took = [seconds(lambda by=by, view=view: workshop.picture_png(turned(by), view)) for by in range(1, 12)]
        fresh = Workshop(workshop.store)
        if workshop.picture_png(turned(11), view)[0] != fresh.picture_png(turned(11), view)[0]:
            raise AssertionError("a turned picture is another than a cold start")
        note = f"{view.width_px} x {view.height_px} as PNG, turned by 1 degree, slowest {max(took) * 1000:.0f} ms"
        yield Line(name, float(np.median(took)) * 1000, mark, " ms", False, note)


def _levels(stored: Pyramid) -> list[Map]:
    """The set's ten numbers at every size, as plain arrays."""
    out, size, first = [], stored.size, 0
    while size:
        codes = stored.texels[first : first + size * size].astype(np.float32)
        out.append((codes * SCALE + SHIFT).reshape(size, size, CHANNELS))
        first, size = first + size * size, size // 2
    return out


def _looked_up(levels: list[Map], u: Map, v: Map, width: float) -> Map:
    """Ten numbers at places of a plane: two levels, blended, each bilinear and wrapped."""
    detail = max(math.log2(width * levels[0].shape[0]), 0.0)
    out = np.zeros((len(u), CHANNELS), np.float32)
    for level, part in ((int(detail), 1 - detail % 1), (int(detail) + 1, detail % 1)):
        if part <= 0.02:
            continue
        side = levels[level].shape[0]
        padded = np.pad(levels[level], ((0, 1), (0, 1), (0, 0)), mode="wrap")
        px = ((u * side - 0.5) % side).astype(np.float32).reshape(1024, -1)
        py = ((v * side - 0.5) % side).astype(np.float32).reshape(1024, -1)
        for first in range(0, CHANNELS, 4):
            looked = cv2.remap(padded[..., first : first + 4], px, py, cv2.INTER_LINEAR)
            out[:, first : first + 4] += looked.reshape(len(u), -1) * np.float32(part)
    return out


def _plain_triplanar(levels: list[Map], at: Places, fit: Fit, pixel_m: float) -> tuple[Map, Map, Map, Map]:
    """Colour, roughness, relief and slope on three planes as NumPy and OpenCV would: whole maps, plane by plane."""
    rise = at.rise()
    normal = np.concatenate([-rise, np.ones((len(rise), 1), np.float32)], 1)
    weight = np.abs(normal / np.abs(normal).max(axis=1, keepdims=True)) ** fit.plane_edge
    weight /= weight.sum(axis=1, keepdims=True)
    weight[weight < 0.02] = 0.0
    weight /= weight.sum(axis=1, keepdims=True)
    x, y, z = at.x_m / fit.tile_m, at.y_m / fit.tile_m, at.elevation_m / fit.tile_m
    east, north = np.sign(normal[:, 0]), np.sign(normal[:, 1])
    nothing, one = np.zeros_like(east), np.ones_like(east)
    planes = (
        (east * y, -z, (nothing, east, nothing), (nothing, nothing, one), float(np.abs(rise[:, 0]).max())),
        (-north * x, -z, (-north, nothing, nothing), (nothing, nothing, one), float(np.abs(rise[:, 1]).max())),
        (x, -y, (one, nothing, nothing), (nothing, one, nothing), 1.0),
    )
    total = np.zeros((len(x), CHANNELS), np.float32)
    for axis, (u, v, right, up, leaning) in enumerate(planes):
        if not weight[:, axis].any():
            continue
        found = _looked_up(levels, u, v, pixel_m / fit.tile_m * max(leaning, 1.0))
        sx, sy = found[:, SLOPE_X], found[:, SLOPE_Y]
        lost = np.maximum(found[:, SLOPE_RMS] ** 2 - sx * sx - sy * sy, 0)
        gradient = [sx * a + sy * b for a, b in zip(right, up, strict=True)]
        out_of = (gradient[2] - rise[:, 0] * gradient[0] - rise[:, 1] * gradient[1]) / (1 + (rise**2).sum(1))
        found[:, SLOPE_X], found[:, SLOPE_Y] = gradient[0] + out_of * rise[:, 0], gradient[1] + out_of * rise[:, 1]
        found[:, SLOPE_RMS] = lost
        total += found * weight[:, axis, None].astype(np.float32)
    rough = (np.clip(total[:, ROUGH], 0.03, 1) ** 4 + np.minimum(total[:, SLOPE_RMS], 0.5)) ** 0.25
    relief = (total[:, HEIGHT] - levels[-1][0, 0, HEIGHT]) * np.float32(fit.relief_m)
    return total[:, RED : BLUE + 1], np.minimum(rough, 1), relief, total[:, SLOPE_X : SLOPE_Y + 1]


def _against_numpy() -> Iterator[Line]:
    """A map of 2048 x 2048 texels of one layer on a steep plane."""
    size_m, size = 40.96, 2048
    steps = np.linspace(0, 1, 129, dtype=np.float32)
    tilted = np.broadcast_to(steps * np.float32(size_m * 1.19), (129, 129))
    land = survey(Heightfield(np.ascontiguousarray(tilted), size_m, size_m))
    stored = generators.stored(generators.draw("pebbles", 512, 3))
    # one pixel of the map is one of the set, so that both sides look up alike
    fit = Fit(tile_m=10.24, relief_m=stored.relief_m * 10.24 / stored.tile_m, projection="triplanar")
    layer = Layer(id="bench", name="bench", set=_SET, fit=fit, look=Look(variation=0.0))
    prepared = plan.prepare((layer,), {_SET: stored})
    at, levels = places.on_grid(land, size, size, 0, size), _levels(stored)

    def ours() -> function.Material:
        return function.ask(prepared, at, taps=1)

    def plain() -> tuple[Map, Map, Map, Map]:
        return _plain_triplanar(levels, at, fit, size_m / size)

    found, wanted = ours(), plain()
    apart = [
        float(np.percentile(np.abs(a - b), 99.9))
        for a, b in zip((found.colour, found.roughness, found.relief_m, found.slope), wanted, strict=True)
    ]
    # OpenCV places a lookup to 1/32 of a pixel, so single steep edges of pebbles differ by more
    if max(apart) > 0.02:
        raise AssertionError(f"triplanar differs from NumPy by {apart}")
    quick, slow = best_of(3, ours, plain)
    note = f"2048 x 2048 texels, ours {quick * 1000:.0f} ms, NumPy and OpenCV {slow * 1000:.0f} ms"
    yield Line("triplanar against NumPy", slow / quick, 8, "x", True, f"{note}, 99.9% within {max(apart):.0e}")


def run() -> Iterator[Line]:
    """Time what fits and relief cost."""
    with tempfile.TemporaryDirectory() as folder:
        workshop = Workshop(Store(Path(folder)))
        scenario.lay_out(workshop, lambda _: None, set_px=512)
        recipe = workshop.store.sites.all()[0].recipe
        yield from _on_far(workshop, recipe)
        yield from _near(workshop, recipe)
    yield from _against_numpy()
