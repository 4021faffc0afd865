"""A hundred thousand stones: rays against them judged by Embree, places against NumPy, pictures with and without."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from time import perf_counter

import numpy as np
import trimesh
from numpy.typing import NDArray

from benchmarks.measure import Line, best_of
from benchmarks.scale import Scale
from elvatch.core.document.recipe import Peg, Recipe
from elvatch.core.document.strew import Mixed, Size, Strew
from elvatch.core.ground.description import FlatSource, Ground
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.kernel import kernel
from elvatch.core.parallel import over_bands
from elvatch.core.picture.picture import Renderer, Setting, View
from elvatch.core.picture.terrain import terrain
from elvatch.core.rules.evidence import Evidence
from elvatch.core.strew import candidates
from elvatch.core.strew.candidates import Box
from elvatch.core.strew.field import Field, stocked
from elvatch.core.strew.laid import On
from elvatch.core.thing import model, traced
from elvatch.core.thing.traced import Stood, TracedThings

Numbers = NDArray[np.float64]


@kernel
def _meet(things: TracedThings, origin: Numbers, way: Numbers, out: Numbers, a: int, b: int) -> None:
    for k in range(a, b):
        out[k] = traced.meet_things(
            things, origin[k, 0], origin[k, 1], origin[k, 2], way[k, 0], way[k, 1], way[k, 2], 0.0, 1e9, False
        )[0]


def _crowd(count: int) -> tuple[Stood, model.Model, traced.Shapes]:
    rng = np.random.default_rng(4)
    of = model.drawn("boulder", 3, 1, {})
    turn = rng.random(count) * 2 * np.pi
    matrix = np.zeros((count, 9), np.float32)
    matrix[:, 0], matrix[:, 1], matrix[:, 3], matrix[:, 4] = np.cos(turn), -np.sin(turn), np.sin(turn), np.cos(turn)
    matrix[:, 8] = 1
    side = np.sqrt(count) * 1.5
    at = np.concatenate([rng.random((count, 2)) * side, np.zeros((count, 1))], 1)
    stood = Stood(
        at,
        matrix,
        rng.uniform(0.3, 1.2, count).astype(np.float32),
        np.zeros(count, np.int32),
        np.ones((count, 3), np.float32),
        np.zeros((count, 3), np.float32),
    )
    return stood, of, traced.shapes([of.variants[0][2]])


def _rays(scale: Scale) -> Iterator[Line]:
    """Embree meets the triangles themselves, all written out: what it says is compared first."""
    few = max(2000 // scale.shrink, 60)
    stood, of, shapes = _crowd(few)
    coarse = of.variants[0][2]
    places = [stood.at[i] + (coarse.places @ stood.turn[i].reshape(3, 3).T) * stood.size[i] for i in range(few)]
    corners = np.concatenate([coarse.triangles + k * len(coarse.places) for k in range(few)])
    judge = trimesh.ray.ray_pyembree.RayMeshIntersector(
        trimesh.Trimesh(np.concatenate(places), corners, process=False), scale_to_box=False
    )
    rng, side, count = np.random.default_rng(5), np.sqrt(few) * 1.5, 200_000 // scale.shrink
    origin = np.column_stack([rng.random((count, 2)) * side, np.full(count, 1.7)])
    way = np.column_stack([rng.normal(size=(count, 2)), -rng.uniform(0.05, 0.6, count)])
    way /= np.linalg.norm(way, axis=1, keepdims=True)
    things, out = traced.things(stood, shapes), np.empty(count)

    def mine() -> None:
        over_bands(count, lambda a, b: _meet(things, origin, way, out, a, b), least=2048)

    def embree() -> NDArray[np.int64]:
        return np.asarray(judge.intersects_first(origin, way))

    fast, judged = best_of(scale.times(3), mine, embree)
    met = embree()
    same = (met >= 0) == np.isfinite(out)
    if same.mean() < 0.9995:
        raise AssertionError(f"Embree meets otherwise in {1 - same.mean():.5f} of the rays")
    yield Line("rays against stones, in Embree's times over all triangles", judged / fast, 0.15, "x", True)


def _places(scale: Scale) -> Iterator[Line]:
    """The same rule of thumb in NumPy and a tree: throw darts in order, keep those that lie apart."""
    side, apart = scale.side(256) * 1.0, 1.0
    box = Box(0.0, 0.0, side, side)
    most = float(candidates.turn_for(np.array([0.35]), apart)[0])
    free = candidates.free(3, most, Box(-12, -12, side + 12, side + 12))
    order = np.argsort(free.turn, kind="stable")

    def plain() -> set[int]:
        kept: dict[tuple[int, int], list[tuple[float, float]]] = {}
        taken = set()
        for i in order:
            x, y = float(free.x_m[i]), float(free.y_m[i])
            cell = int(x // apart), int(y // apart)
            near = (p for dx in (-1, 0, 1) for dy in (-1, 0, 1) for p in kept.get((cell[0] + dx, cell[1] + dy), ()))
            if all((x - p) ** 2 + (y - q) ** 2 >= apart**2 for p, q in near):
                kept.setdefault(cell, []).append((x, y))
                if 0 <= x < side and 0 <= y < side:
                    taken.add(int(free.number[i]))
        return taken

    begun = perf_counter()
    wanted = plain()
    slow = perf_counter() - begun
    mine = set(candidates.candidates(3, most, apart, box).number.tolist())
    # where the darts about the border are thrown at random, a few of them differ
    if len(mine ^ wanted) > 0.002 * len(wanted):
        raise AssertionError(f"{len(mine ^ wanted)} of {len(wanted)} places differ")
    (fast,) = best_of(scale.times(3), lambda: candidates.candidates(3, most, apart, box))
    yield Line("places that keep apart, against plain Python", slow / fast, 10.0, "x", True)


def _pictures(scale: Scale) -> Iterator[Line]:
    """Near with a hundred thousand stones on the site, against Near without."""
    side = 400.0
    land = terrain(Heightfield(np.zeros((257, 257), np.float32), side, side))
    models = {"stone": model.drawn("boulder", 3, 3, {})}
    count = 100_000 // scale.shrink
    strew = Strew(
        id="stones",
        name="stones",
        kinds=(Mixed(thing="stone"),),
        per_100_m2=count / 1600,
        size=Size(from_m=0.2, to_m=0.8),
    )
    found = stocked((strew,), models)
    on = On(land.survey, Evidence(side, side), (), lambda id: np.zeros((0, 3)), {})
    field = Field((strew,), ("bench",), found, on, (), "bench", models, "bench")
    recipe = Recipe(
        ground=Ground(width_m=side, depth_m=side, source=FlatSource(samples=257)),
        layers=(),
        peg=Peg(east_m=200, north_m=200),
    )
    renderer, turned = Renderer(), 0.0

    def take(of: Field | None, size: tuple[int, int], looks: int) -> None:
        nonlocal turned
        turned += 0.4
        stand = recipe.stands.near.model_copy(update={"bearing_deg": (330 + turned) % 360})
        stands = recipe.stands.model_copy(update={"near": stand})
        seen = recipe.model_copy(update={"stands": stands})
        renderer.take(
            land, seen, {}, View("near", *size, looks), evidence=Evidence(side, side), setting=Setting(None, of)
        )

    for name, size, looks, most_ms in (
        ("at rest", (330, 400), 4, 500.0),
        ("moving at a quarter of the side", (82, 100), 1, 80.0),
    ):
        take(field, size, looks)
        them, bare = best_of(scale.times(3), partial(take, field, size, looks), partial(take, None, size, looks))
        yield Line(f"Near with {count:,} stones, {name}", them * 1000, most_ms, " ms", False)
        yield Line(f"Near with stones against bare ground, {name}", them / bare, 12.0, "x", False)


def run(scale: Scale) -> Iterator[Line]:
    """Yield how fast things are met, laid and seen."""
    yield from _rays(scale)
    yield from _places(scale)
    yield from _pictures(scale)
