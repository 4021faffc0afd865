"""Rays: ours against a vectorised NumPy marcher that finds the same bilinear surface as exactly."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from benchmarks.measure import Line, best_of
from benchmarks.scale import Scale
from elvatch.core import noise
from elvatch.core.document.recipe import Stand
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.light.sun import direction
from elvatch.core.picture import camera, gbuffer
from elvatch.core.picture.kinds import GROUND
from elvatch.core.picture.sunlit import sunlit
from elvatch.core.picture.terrain import scene_of, terrain

WIDTH, HEIGHT = 420, 400
Rays = NDArray[np.float64]


def hills(samples: int) -> Heightfield:
    """A ground with relief at every scale."""
    heights = noise.periodic(samples, 3, 5, 8, 0.5) * 90 + 100
    return Heightfield(heights.astype(np.float32), 1200.0, 1200.0)


def numpy_march(ground: Heightfield, start: Rays, toward: Rays, tolerance_m: float) -> Rays:
    """March all rays together: steps bounded by the ground's steepest rise, then bisection.

    Returns distances, infinity where nothing is met; exact to ``tolerance_m`` along the ray.
    """
    h = ground.heights_m.astype(np.float64)
    low = np.array([0.0, 0.0])
    high = np.array([ground.width_m, ground.depth_m])
    with np.errstate(divide="ignore", invalid="ignore"):
        a, b = (low - start[:, :2]) / toward[:, :2], (high - start[:, :2]) / toward[:, :2]
    near = np.maximum(np.nanmax(np.minimum(a, b), axis=1), 0.0)
    far = np.nanmin(np.maximum(a, b), axis=1)

    def clearance(rays: NDArray[np.int64], t: Rays) -> Rays:
        p = start[rays] + toward[rays] * t[:, None]
        col = np.clip(p[:, 0] / ground.cell_x_m, 0, ground.cols - 1.000001)
        row = np.clip((ground.depth_m - p[:, 1]) / ground.cell_y_m, 0, ground.rows - 1.000001)
        c, r = col.astype(int), row.astype(int)
        u, v = col - c, row - r
        top = h[r, c] + (h[r, c + 1] - h[r, c]) * u
        above: Rays = p[:, 2] - (top + (h[r + 1, c] + (h[r + 1, c + 1] - h[r + 1, c]) * u - top) * v)
        return above

    rise_x, rise_y = np.diff(h, axis=1) / ground.cell_x_m, np.diff(h, axis=0) / ground.cell_y_m
    steepest = float(np.hypot(np.abs(rise_x).max(), np.abs(rise_y).max()))
    # the gap closes at most this fast along a ray: a step of gap / closing cannot jump over the surface
    closing = steepest * np.hypot(toward[:, 0], toward[:, 1]) - toward[:, 2]
    out = np.full(len(start), np.inf)
    alive = np.flatnonzero((near < far) & (closing > 0))
    t = near.copy()
    least = 0.02 * ground.cell_x_m
    while len(alive):
        gap = clearance(alive, t[alive])
        met = gap <= 0
        if met.any():
            rays = alive[met]
            lo, hi = np.maximum(t[rays] - least, near[rays]), t[rays].copy()
            while (hi - lo).max() > tolerance_m:
                middle = (lo + hi) / 2
                under = clearance(rays, middle) <= 0
                hi, lo = np.where(under, middle, hi), np.where(under, lo, middle)
            out[rays] = hi
        alive, gap = alive[~met], gap[~met]
        t[alive] += np.maximum(gap / closing[alive], least)
        alive = alive[t[alive] < far[alive]]
    return out


def run(scale: Scale) -> Iterator[Line]:
    """Trace one picture with a sun shadow on both sides."""
    ground = hills(scale.side(1024))
    width, height = scale.side(WIDTH), scale.side(HEIGHT)
    land = terrain(ground)
    scene = scene_of(land, None)
    stand = Stand(bearing_deg=20, tilt_deg=22, distance_m=1100, view_deg=38)
    eye = camera.from_stand(stand, camera.far_target(ground), width, height, ground)
    sun = direction(250, 25)
    lift = 0.04 * ground.cell_x_m
    kept: dict[str, NDArray[np.float64]] = {}

    def ours() -> None:
        buffer = gbuffer.look(scene, eye, width, height, 1)
        kept["kind"] = buffer.fragments.kind.astype(float)
        kept["depth"] = buffer.fragments.depth_m.astype(float)
        kept["sun"] = sunlit(scene, buffer, sun, 0.53, 1, lift).part.astype(float)

    ours()
    rays = gbuffer.look(scene, eye, width, height, 1).fragments.toward.astype(float)
    rays /= np.linalg.norm(rays, axis=1, keepdims=True)
    start = np.tile([eye.eye_x, eye.eye_y, eye.eye_z], (len(rays), 1))
    toward_sun = np.array(sun)

    def theirs() -> None:
        kept["their depth"] = numpy_march(ground, start, rays, 0.005 * ground.cell_x_m)
        met = np.flatnonzero(np.isfinite(kept["their depth"]))
        points = start[met] + rays[met] * kept["their depth"][met, None] + [0, 0, lift]
        shade = numpy_march(ground, points, np.tile(toward_sun, (len(met), 1)), 0.05 * ground.cell_x_m)
        kept["their sun"] = np.ones(len(rays))
        kept["their sun"][met] = np.isinf(shade)

    theirs()
    on_ground = kept["kind"] == GROUND
    apart = np.abs(kept["depth"] - kept["their depth"])[on_ground]
    agree = float((apart < 0.02 * ground.cell_x_m).mean())
    shadow = float((kept["sun"] == kept["their sun"])[on_ground].mean())
    if agree < 0.999 or shadow < 0.995:
        raise AssertionError(f"the two do not see the same: {agree:.4f} of depths, {shadow:.4f} of shadows agree")
    mine, plain = best_of(scale.times(3), ours, theirs)
    note = f"ours {mine * 1000:.0f} ms; {agree:.2%} of depths within 2% of a cell, {shadow:.2%} of shadows the same"
    yield Line("tracing 420x400 of 1024x1024 with a sun shadow, against NumPy", plain / mine, 20, "x", True, note)
