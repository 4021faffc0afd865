"""Grounds: drainage, slope and curvature, runoff, rivers, and a preview of an edited list of steps."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from benchmarks.measure import Line, best_of, seconds
from benchmarks.scale import Scale
from elvatch.core.cache import Cache
from elvatch.core.ground import curvature, drainage, shaping, slope
from elvatch.core.ground import description as d
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.shaped import Shaped
from elvatch.core.ground.steps import form, rivers, runoff
from elvatch.core.ground.steps.form import FormStep
from elvatch.core.ground.steps.rivers import RiversStep
from elvatch.core.ground.steps.runoff import RunoffStep
from elvatch.core.ground.steps.settle import SettleStep
from elvatch.core.ground.steps.terrace import TerraceStep
from elvatch.core.run import Run

Map = NDArray[np.float32]


def hills(samples: int, size_m: float = 1200.0) -> Heightfield:
    """Rolling ground with relief at all sizes."""
    flat = Shaped(Heightfield(np.zeros((samples, samples), np.float32), size_m, size_m))
    step = FormStep(id="form", name="x", size_m=400, height_m=120, detail=10, seed=3)
    return form.apply(flat, step, Run()).ground


def _drained(scale: Scale) -> Iterator[Line]:
    """Fill and multiple flow at 4096, against pyflwdir's fill and pysheds' multiple flow."""
    import pyflwdir
    from affine import Affine
    from pysheds.sgrid import sGrid
    from pysheds.view import Raster, ViewFinder

    def theirs(heights: Map) -> tuple[Map, NDArray[np.float64]]:
        filled, _ = pyflwdir.fill_depressions(heights, outlets="edge")
        view = ViewFinder(affine=Affine(1, 0, 0, 0, -1, 0), shape=heights.shape, nodata=-9999.0)
        grid = sGrid(view)
        raised = grid.resolve_flats(Raster(filled.astype(np.float64), view))
        flow = grid.accumulation(grid.flowdir(raised, routing="mfd"), routing="mfd")
        return filled, np.asarray(flow)

    def ours(land: Heightfield) -> tuple[Map, Map]:
        network = drainage.fill(land)
        return network.level_m, drainage.drainage_area(land, network)

    small, large = hills(512, 511.0), hills(scale.side(4096), scale.side(4096) - 1.0)
    (our_level, our_area), (their_level, their_area) = ours(small), theirs(small.heights_m)
    # pyflwdir rounds heights while it fills
    if np.abs(our_level - their_level).max() > 0.1:
        raise AssertionError("the two do not fill alike")
    inner = np.s_[40:-40, 40:-40]
    wet = our_area[inner] > 50
    apart = np.abs(np.log(our_area[inner][wet] / np.maximum(their_area[inner][wet], 1e-9)))
    if np.median(apart) > 0.25:
        raise AssertionError("the two do not route alike")
    mine = min(seconds(lambda: ours(large)) for _ in range(scale.times(2)))
    other = seconds(lambda: theirs(large.heights_m))
    note = f"ours {mine:.1f} s, theirs {other:.1f} s; areas apart by {np.median(apart):.1%} in the median"
    yield Line(
        "drainage of 4096x4096, against pyflwdir's fill and pysheds' multiple flow", other / mine, 5, "x", True, note
    )
    yield Line("drainage of 4096x4096", mine, 30, " s", False)


def _scipy_slope(land: Heightfield) -> Map:
    east = ndimage.sobel(land.heights_m, 1, mode="nearest") / (8 * land.cell_x_m)
    north = -ndimage.sobel(land.heights_m, 0, mode="nearest") / (8 * land.cell_y_m)
    slope: Map = np.degrees(np.arctan(np.hypot(east, north)))
    return slope


def _scipy_curvature(land: Heightfield) -> Map:
    """Mean curvature by the same stencils as ours, each a SciPy correlation."""
    x, y, heights = land.cell_x_m, land.cell_y_m, land.heights_m

    def by(kernel: list[list[float]], scale: float) -> Map:
        return ndimage.correlate(heights, np.array(kernel, np.float32) / scale, mode="nearest")

    p = by([[0, 0, 0], [-1, 0, 1], [0, 0, 0]], 2 * x)
    q = by([[0, 1, 0], [0, 0, 0], [0, -1, 0]], 2 * y)
    r = by([[0, 0, 0], [1, -2, 1], [0, 0, 0]], x * x)
    t = by([[0, 1, 0], [0, -2, 0], [0, 1, 0]], y * y)
    s = by([[-1, 0, 1], [0, 0, 0], [1, 0, -1]], 4 * x * y)
    mean: Map = -((1 + q * q) * r - 2 * p * q * s + (1 + p * p) * t) / (2 * np.sqrt(1 + p * p + q * q) ** 3)
    return mean


def _measured(scale: Scale) -> Iterator[Line]:
    land = hills(scale.side(2048))
    inner = np.s_[2:-2, 2:-2]
    compared: tuple[tuple[str, Callable[[], Map], Callable[[], Map], float], ...] = (
        ("slope", lambda: slope.slope_deg(slope.gradient(land)), lambda: _scipy_slope(land), 0.02),
        ("mean curvature", lambda: curvature.curvature(land, "mean"), lambda: _scipy_curvature(land), 2e-3),
    )
    for name, ours, theirs, near in compared:
        if np.abs(ours()[inner] - theirs()[inner]).max() > near:
            raise AssertionError(f"the two do not measure the same {name}")
        mine, other = best_of(scale.times(4), ours, theirs)
        yield Line(
            f"{name} of 2048x2048, against scipy.ndimage", other / mine, 3, "x", True, f"ours {mine * 1000:.0f} ms"
        )


class _Rained(NamedTuple):
    """Water depth, ground carried, change of the ground (metres) and what leaves to each side."""

    water: Map
    carried: Map
    change: Map
    east: Map
    west: Map
    north: Map
    south: Map


def _dry(shape: tuple[int, ...]) -> _Rained:
    return _Rained(*(np.zeros(shape, np.float32) for _ in range(7)))


def _numpy_round(ground: Map, state: _Rained, c: runoff.Constants, number: int, flow: Map) -> _Rained:
    """One round of runoff written with whole arrays: the same scheme as the kernels'."""
    inner = np.s_[1:-1, 1:-1]
    sides = (np.s_[1:-1, 2:], np.s_[1:-1, :-2], np.s_[:-2, 1:-1], np.s_[2:, 1:-1])
    level = ground + state.change + state.water
    leaving = []
    for side, old in zip(sides, (state.east, state.west, state.north, state.south), strict=True):
        leaving.append(
            np.maximum(0, np.float32(c.keep) * old[inner] + np.float32(c.pipe) * (level[inner] - level[side]))
        )
    share = np.minimum(1, state.water[inner] / np.maximum(sum(leaving), np.float32(1e-12)))
    after = _dry(ground.shape)
    for to, part in zip((after.east, after.west, after.north, after.south), leaving, strict=True):
        to[inner] = part * share
    water = state.water[inner]
    dilute = state.carried / np.maximum(state.water, np.float32(1e-12))
    away = after.east[inner] + after.west[inner] + after.north[inner] + after.south[inner]
    come = after.east[sides[1]] + after.west[sides[0]] + after.south[sides[2]] + after.north[sides[3]]
    load = (
        dilute[inner] * (water - away)
        + dilute[sides[1]] * after.east[sides[1]]
        + dilute[sides[0]] * after.west[sides[0]]
        + dilute[sides[2]] * after.south[sides[2]]
        + dilute[sides[3]] * after.north[sides[3]]
    )
    row, col = (a.astype(np.int64) for a in np.mgrid[1 : ground.shape[0] - 1, 1 : ground.shape[1] - 1])
    h = (col * 0x27D4EB2D + row * 0x165667B1 + number * 0x9E3779B1) & 0xFFFFFFFF
    h = ((h ^ (h >> 16)) * 0x7FEB352D) & 0xFFFFFFFF
    h = ((h ^ (h >> 15)) * 0x846CA68B) & 0xFFFFFFFF
    chance = ((h ^ (h >> 16)) & 0xFFFF).astype(np.float32) / np.float32(65536)
    rain = np.float32(c.rain) * (np.float32(0.4) + np.float32(1.2) * chance)
    after.water[inner] = (water - away + come) * np.float32(1 - c.dry) + rain
    moved = np.float32(0.5) * (away + come)
    flow[inner] += moved
    height = ground + state.change
    here, (e, w, n, s) = height[inner], (height[side] for side in sides)
    steep2 = ((e - w) * np.float32(0.5 * c.per_x)) ** 2 + ((n - s) * np.float32(0.5 * c.per_y)) ** 2
    most = np.float32(c.carry) * moved * np.sqrt(steep2 / (1 + steep2))
    room = np.maximum(0, here - np.minimum(np.minimum(e, w), np.minimum(n, s))) * np.float32(0.3)
    highest = np.maximum(np.maximum(e, w), np.maximum(n, s))
    gap = np.maximum(0, highest - here + np.float32(runoff.FAN / c.per_x)) * np.float32(0.3)
    lack = most - load
    turn = np.minimum(np.float32(c.loosen) * np.maximum(lack, 0), room)
    turn -= np.minimum(np.float32(c.drop) * np.maximum(-lack, 0), gap)
    after.change[inner] = state.change[inner] - turn
    after.carried[inner] = load + turn
    change = after.change
    change[0], change[-1] = change[1], change[-2]
    change[:, 0], change[:, -1] = change[:, 1], change[:, -2]
    return after


def _rained(scale: Scale) -> Iterator[Line]:
    def plain(land: Heightfield, rounds: int) -> Map:
        base = np.pad(land.heights_m - np.float32(land.lowest_m), 1, mode="edge")
        c = runoff.constants(RunoffStep(id="rain", name="x"), land.cell_x_m, land.cell_y_m)
        state, flow = _dry(base.shape), np.zeros_like(base)
        for number in range(rounds):
            state = _numpy_round(base, state, c, 7919 + number, flow)
        return land.heights_m + (state.change + state.carried)[1:-1, 1:-1]

    def ours(land: Heightfield, rounds: int) -> Map:
        step = RunoffStep(id="rain", name="x", rounds=rounds)
        return runoff.apply(Shaped(land), step, Run()).ground.heights_m

    small, large = hills(128), hills(scale.side(1024))
    if np.abs(ours(small, 60) - plain(small, 60)).max() > 2e-3:
        raise AssertionError("the two do not move the same ground")
    mine, other = best_of(scale.times(2), lambda: ours(large, 10), lambda: plain(large, 10))
    note = f"ours {mine * 100:.1f} ms a round"
    yield Line("runoff on 1024x1024, against the same scheme in NumPy", other / mine, 10, "x", True, note)


def _carved(scale: Scale) -> Iterator[Line]:
    step = RiversStep(id="rivers", name="x", rounds=2)
    lands = {samples: Shaped(hills(samples, float(samples))) for samples in (scale.side(1024), scale.side(2048))}

    def carve(samples: int) -> Callable[[], object]:
        return lambda: rivers.apply(lands[samples], step, Run())

    small, large = best_of(scale.times(3), carve(scale.side(1024)), carve(scale.side(2048)))
    note = f"{small:.2f} s and {large:.2f} s for two rounds"
    yield Line("rivers on 2048x2048 against 1024x1024", large / small, 4.5, "x", False, note)


def _previewed(scale: Scale) -> Iterator[Line]:
    steps: tuple[d.Step, ...] = (
        FormStep(id="hills", name="x", size_m=400, height_m=120),
        RiversStep(id="rivers", name="x"),
        TerraceStep(id="terrace", name="x"),
        SettleStep(id="settle", name="x"),
        RunoffStep(id="runoff", name="x"),
    )
    kept: Cache[Shaped] = Cache(60)

    def edit(height: float) -> None:
        first = steps[0].model_copy(update={"height_m": height})
        ground = d.Ground(width_m=1200, depth_m=1200, source=d.FlatSource(samples=1025), steps=(first, *steps[1:]))
        shaping.shape(ground, lambda source: np.zeros((8, 8), np.float32), kept, Run(), 257)

    edit(100.0)
    slowest = max(seconds(partial(edit, height)) for height in (101.0, 102.0, 103.0)[: scale.times(3)])
    yield Line("preview after an edit of the first of five steps", slowest, 0.5, " s", False)


def run(scale: Scale) -> Iterator[Line]:
    """Drainage, measures, runoff, rivers, previews."""
    for part in (_measured, _rained, _carved, _previewed, _drained):
        yield from part(scale)
