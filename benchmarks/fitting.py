"""Projections and repeats against plain ones, Near with its relief, triplanar lookups against NumPy and OpenCV."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import cv2
import numpy as np
from numpy.typing import NDArray

from benchmarks.measure import Line, best_of, seconds
from benchmarks.scale import Scale, demo
from elvatch.app.workshop import Workshop
from elvatch.core.cover import function, plan
from elvatch.core.cover.material import Material
from elvatch.core.document.fit import Fit, Repeats
from elvatch.core.document.layer import Layer, Look
from elvatch.core.document.recipe import Recipe
from elvatch.core.ground import places
from elvatch.core.ground.places import Places
from elvatch.core.picture import camera, gbuffer
from elvatch.core.picture.kinds import GROUND
from elvatch.core.picture.picture import View
from elvatch.core.picture.terrain import scene_of
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
)

Map = NDArray[np.float32]
Floats = NDArray[np.floating]
_SET = "f" * 40
_FAR, _NEAR = (420, 400), (260, 400)


def _fitted(recipe: Recipe, **fit: object) -> Recipe:
    """The recipe with all layers fitted alike."""
    plain = {"projection": "above", "repeats": Repeats(), "detail": None}
    layers = tuple(
        layer.model_copy(update={"fit": layer.fit.model_copy(update=plain | fit)}) for layer in recipe.layers
    )
    return recipe.model_copy(update={"layers": layers})


def seen_from_far(workshop: Workshop, recipe: Recipe, scale: Scale) -> Places:
    """Return the places of the demo's Far picture."""
    land = workshop.grounds.land(recipe.ground)
    size = scale.side(_FAR[0]), scale.side(_FAR[1])
    eye = camera.of_stand("far", recipe.stands.far, recipe.peg, *size, land.ground)
    fragments = gbuffer.look(scene_of(land, None), eye, *size, 4).fragments
    return places.some(fragments.places, np.flatnonzero(fragments.kind == GROUND))


def _on_far(workshop: Workshop, recipe: Recipe, seen: Places, scale: Scale) -> Iterator[Line]:
    """What a projection, or moved patches, cost on the cover of the demo's Far picture."""

    def asking(wanted: Recipe) -> Material:
        return function.ask(workshop.covers.prepared(wanted), seen)

    above, three = _fitted(recipe), _fitted(recipe, projection="triplanar")
    turned = _fitted(recipe, repeats=Repeats(kind="turn"))
    plain, split = best_of(scale.times(7), lambda: asking(above), lambda: asking(three))
    note = f"{len(seen.x_m)} places of Far, ten layers: {plain * 1000:.0f} and {split * 1000:.0f} ms"
    yield Line("triplanar against from above", split / plain, 1.9, "x", False, note)
    plain, moved = best_of(scale.times(7), lambda: asking(above), lambda: asking(turned))
    note = f"{plain * 1000:.0f} and {moved * 1000:.0f} ms"
    yield Line("turn and shift against none", moved / plain, 3.0, "x", False, note)


def _near(workshop: Workshop, recipe: Recipe, scale: Scale) -> Iterator[Line]:
    """Near with its relief as the view is turned: bed, rays, sun, cover and light anew each time."""

    def turned(by: float) -> Recipe:
        near = recipe.stands.near
        near = near.model_copy(update={"bearing_deg": (near.bearing_deg + by) % 360})
        return recipe.model_copy(update={"stands": recipe.stands.model_copy(update={"near": near})})

    for looks, part, mark, name in ((4, 1, 400, "Near with relief, in full"), (1, 2, 80, "and while it moves")):
        view = View("near", scale.side(_NEAR[0] // part), scale.side(_NEAR[1] // part), looks)
        workshop.pictures.png(recipe, view)
        took = [
            seconds(partial(lambda by, view: workshop.pictures.png(turned(by), view), by, view))
            for by in range(1, 1 + scale.times(11))
        ]
        fresh = Workshop(workshop.store)
        if workshop.pictures.png(turned(11), view)[0] != fresh.pictures.png(turned(11), view)[0]:
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


def _remapped(level: Map, u: Map, v: Map) -> Map:
    """Ten numbers at places of a plane in one of the set's sizes, bilinear and wrapped."""
    side, count = level.shape[0], len(u)
    padded = np.pad(level, ((0, 1), (0, 1), (0, 0)), mode="wrap")
    # OpenCV wants a picture of places, and takes four numbers at a time
    wide = -(-count // 1024)
    px, py = np.zeros((2, 1024 * wide), np.float32)
    px[:count], py[:count] = (u * side - 0.5) % side, (v * side - 0.5) % side
    px, py = px.reshape(1024, wide), py.reshape(1024, wide)
    parts = [cv2.remap(padded[..., k : k + 4], px, py, cv2.INTER_LINEAR) for k in range(0, CHANNELS, 4)]
    return np.concatenate([part.reshape(1024 * wide, -1) for part in parts], axis=1)[:count]


def _looked_up(levels: list[Map], u: Map, v: Map, area: tuple[Map, Map, Map], most_taps: int) -> Map:
    """Ten numbers at places, each filtered for its own area: two sizes blended, more than once where it is long."""
    across, along_u, along_v = area
    length = np.hypot(along_u, along_v)
    taps = np.where(length > 0, np.clip(((length + across) / across + 0.5).astype(np.int64), 1, most_taps), 1)
    width = np.where(length > 0, np.maximum(across, (length + across) / taps), across)
    side = levels[0].shape[0]
    detail = np.log2(np.clip(width, 1 / side, 1) * side)
    fine = detail.astype(np.int64)
    blend = detail - fine
    blend[blend <= 0.02], blend[blend >= 0.98] = 0.0, 1.0
    out = np.zeros((len(u), CHANNELS), np.float32)
    for tap in range(int(taps.max())):
        shift = (tap + 0.5) / taps - 0.5
        for step in (0, 1):
            part = (blend if step else 1 - blend) / taps
            for level in np.unique(fine):
                here = np.flatnonzero((fine == level) & (taps > tap) & (part > 0))
                if len(here):
                    x, y = u[here] + along_u[here] * shift[here], v[here] + along_v[here] * shift[here]
                    of = levels[min(level + step, len(levels) - 1)]
                    found = _remapped(of, x.astype(np.float32), y.astype(np.float32))
                    out[here] += found * part[here, None].astype(np.float32)
    return out


Plane = tuple[tuple[Map, Map, Map], tuple[Map, Map, Map]]


def _area_on(plane: Plane, at: Places, most_taps: int) -> tuple[Floats, Floats, Floats]:
    """The areas that places stand for, carried onto a plane: width, and the vector they are longer by, metres."""
    (rx, ry, rz), (ux, uy, uz) = plane
    rise, along = at.rise(), np.stack([at.along_east_m, at.along_north_m], 1)
    eu, ev = rx + rz * rise[:, 0], -(ux + uz * rise[:, 0])
    nu, nv = ry + rz * rise[:, 1], -(uy + uz * rise[:, 1])
    if not rz.any() and not uz.any():
        return at.across_m, eu * along[:, 0] + nu * along[:, 1], ev * along[:, 0] + nv * along[:, 1]
    length = np.hypot(along[:, 0], along[:, 1])
    unit = np.where(length[:, None] > 0, along / np.maximum(length, 1e-12)[:, None], [[1.0, 0.0]])
    pu, pv = (eu * unit[:, 0] + nu * unit[:, 1]), (ev * unit[:, 0] + nv * unit[:, 1])
    pu, pv = pu * (length + at.across_m), pv * (length + at.across_m)
    qu, qv = (nu * unit[:, 0] - eu * unit[:, 1]) * at.across_m, (nv * unit[:, 0] - ev * unit[:, 1]) * at.across_m
    pp, qq, pq = pu * pu + pv * pv, qu * qu + qv * qv, pu * qu + pv * qv
    apart = np.sqrt((pp - qq) ** 2 + 4 * pq * pq)
    major = np.sqrt(np.maximum(0.5 * (pp + qq + apart), 1e-18))
    narrow = np.maximum(np.abs(pu * qv - pv * qu) / major, major / 16)
    half = np.clip(0.5 * (1 + (pp - qq) / np.maximum(apart, 1e-30)), 0, 1)
    cos, sin = np.sqrt(half), np.copysign(np.sqrt(1 - half), pq)
    round_ones = (narrow > 0.9 * major) | (most_taps == 1)
    rest = np.where(round_ones, 0, 1 - narrow / major)
    return np.where(round_ones, major, narrow), (pu * cos + qu * sin) * rest, (pv * cos + qv * sin) * rest


def _plain_triplanar(levels: list[Map], at: Places, fit: Fit, most_taps: int) -> tuple[Map, Map, Map, Map]:
    """Colour, roughness, relief and slope on three planes as NumPy and OpenCV would: plane by plane."""
    rise = at.rise()
    normal = np.concatenate([-rise, np.ones((len(rise), 1), np.float32)], 1)
    weight = np.abs(normal / np.abs(normal).max(axis=1, keepdims=True)) ** fit.plane_edge
    weight /= weight.sum(axis=1, keepdims=True)
    weight[weight < 0.02] = 0.0
    weight /= weight.sum(axis=1, keepdims=True)
    east, north = np.copysign(1, normal[:, 0]), np.copysign(1, normal[:, 1])
    nothing, one = np.zeros_like(east), np.ones_like(east)
    planes: tuple[Plane, ...] = (
        ((nothing, east, nothing), (nothing, nothing, one)),
        ((-north, nothing, nothing), (nothing, nothing, one)),
        ((one, nothing, nothing), (nothing, one, nothing)),
    )
    total = np.zeros((len(rise), CHANNELS), np.float32)
    for axis, whole in enumerate(planes):
        here = np.flatnonzero(weight[:, axis])
        if not len(here):
            continue
        seen = places.some(at, here)
        right, up = (tuple(part[here] for part in way) for way in whole)
        x, y, z = seen.x_m, seen.y_m, seen.elevation_m
        u = (right[0] * x + right[1] * y + right[2] * z) / fit.tile_m
        v = -(up[0] * x + up[1] * y + up[2] * z) / fit.tile_m
        across, along_u, along_v = _area_on(((right[0], right[1], right[2]), (up[0], up[1], up[2])), seen, most_taps)
        area = across / fit.tile_m, along_u / fit.tile_m, along_v / fit.tile_m
        found = _looked_up(levels, np.asarray(u), np.asarray(v), area, most_taps)
        sx, sy, lean = found[:, SLOPE_X], found[:, SLOPE_Y], seen.rise()
        lost = np.maximum(found[:, SLOPE_RMS] ** 2 - sx * sx - sy * sy, 0)
        gradient = [sx * a + sy * b for a, b in zip(right, up, strict=True)]
        out_of = (gradient[2] - lean[:, 0] * gradient[0] - lean[:, 1] * gradient[1]) / (1 + (lean**2).sum(1))
        found[:, SLOPE_X], found[:, SLOPE_Y] = gradient[0] + out_of * lean[:, 0], gradient[1] + out_of * lean[:, 1]
        found[:, SLOPE_RMS] = lost
        total[here] += found * weight[here, axis, None].astype(np.float32)
    rough = (np.clip(total[:, ROUGH], 0.03, 1) ** 4 + np.minimum(total[:, SLOPE_RMS], 0.5)) ** 0.25
    relief = (total[:, HEIGHT] - levels[-1][0, 0, HEIGHT]) * np.float32(fit.relief_m)
    return total[:, RED : BLUE + 1], np.minimum(rough, 1), relief, total[:, SLOPE_X : SLOPE_Y + 1]


def _against_numpy(at: Places, stored: Pyramid, tile_m: float, taps: int, scale: Scale) -> Line:
    """One layer on three planes at the places of Far, each with an area of its own, ours and plain."""
    # the set's slopes as they are: relief grows with the tile
    fit = Fit(tile_m=tile_m, relief_m=stored.relief_m * tile_m / stored.tile_m, projection="triplanar")
    layer = Layer(id="bench", name="bench", set=_SET, fit=fit, look=Look(variation=0.0))
    prepared, levels = plan.prepare((layer,), {_SET: stored}), _levels(stored)

    def ours() -> Material:
        return function.ask(prepared, at, taps=taps)

    def plain() -> tuple[Map, Map, Map, Map]:
        return _plain_triplanar(levels, at, fit, taps)

    found, wanted = ours(), plain()
    apart = [
        float(np.percentile(np.abs(a - b), 99.5))
        for a, b in zip((found.colour, found.roughness, found.relief_m, found.slope), wanted, strict=True)
    ]
    # OpenCV places a lookup to 1/32 of a pixel, so single steep edges of stones differ by more
    if max(apart) > 0.02:
        raise AssertionError(f"triplanar differs from NumPy by {apart}")
    quick, slow = best_of(scale.times(3), ours, plain)
    note = f"{len(at.x_m)} places, ours {quick * 1000:.0f} ms, NumPy and OpenCV {slow * 1000:.0f} ms"
    return Line("triplanar against NumPy", slow / quick, 8, "x", True, f"{note}, 99.5% within {max(apart):.0e}")


def run(scale: Scale) -> Iterator[Line]:
    """Time what fits and relief cost."""
    workshop, recipe = demo(scale)
    seen = seen_from_far(workshop, recipe, scale)
    yield from _on_far(workshop, recipe, seen, scale)
    yield from _near(workshop, recipe, scale)
    bedrock = next(layer for layer in recipe.layers if layer.id == "bedrock")
    rock = workshop.store.stock[bedrock.set]
    yield _against_numpy(seen, rock, bedrock.fit.tile_m, function.TAPS, scale)
