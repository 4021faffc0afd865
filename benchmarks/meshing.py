"""A mesh by greatest error against a regular grid as near to the ground; how long a million triangles take."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from scipy.interpolate import RegularGridInterpolator

from benchmarks.measure import Line, best_of
from benchmarks.scale import Scale
from elvatch.core import noise
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.survey import Survey, survey
from elvatch.core.mesh import lattice as lattices
from elvatch.core.mesh import triangulation
from elvatch.core.mesh.lattice import SitePart
from elvatch.core.mesh.triangulation import Hierarchy, Triangulated

SIZE_M = 2000.0
_PLACES = 100_000


def _ground(samples: int) -> Survey:
    """Hills with a plain between them, as most ground has."""
    hills = noise.periodic(samples, 3, 5, 8, 0.5)
    calm = np.clip(noise.periodic(samples, 5, 2, 2, 0.5) * 3 + 0.4, 0, 1)
    return survey(Heightfield((hills * calm * 160).astype(np.float32), SIZE_M, SIZE_M))


def _furthest(land: Survey, of: Hierarchy, found: Triangulated) -> float:
    """Return how far places of a mesh, spread over it, lie from the ground at most."""
    axis = np.linspace(0, SIZE_M, len(land.heights))
    ground = RegularGridInterpolator((axis, axis), land.heights[::-1].astype(np.float64))
    rows, cols = found.vertices.T
    at = np.stack([of.lattice.x_m()[cols], of.lattice.y_m()[rows], of.heights[rows, cols]], 1)
    random = np.random.default_rng(1)
    weights = random.dirichlet([1, 1, 1], _PLACES)
    corners = at[found.triangles[random.integers(0, len(found.triangles), _PLACES)]]
    places = (corners * weights[..., None]).sum(axis=1)
    return float(np.abs(places[:, 2] - ground(places[:, 1::-1])).max())


def _regular_triangles(land: Survey, error_m: float) -> int:
    """Return how many triangles the coarsest regular grid has that is as near as that."""
    part = SitePart(0.0, 0.0, SIZE_M, SIZE_M)
    cells = 32
    while True:
        lattice = lattices.lattice_of(part, (cells, cells), 1, 1)
        heights = lattices.heights_of(land, lattice)
        told = lattices.apart_m(land, lattice, heights) + float(lattices.bends_m(heights).max())
        if told <= error_m or cells * 2 > lattices.MOST_CELLS:
            return 2 * cells * cells
        cells *= 2


def run(scale: Scale) -> Iterator[Line]:
    """Yield the share of a regular grid's triangles, and the seconds of a million."""
    land = _ground(scale.side(4096) + 1)
    part = SitePart(0.0, 0.0, SIZE_M, SIZE_M)
    error_m = 0.25

    def made(error: float) -> tuple[Hierarchy, Triangulated]:
        lattice, heights, apart = lattices.fine_enough(land, part, error, 1, 1)
        of = triangulation.hierarchy(lattice, heights)
        return of, triangulation.triangulated(of, error - apart)

    of, found = made(error_m)
    told = max(error_m, of.least_m)
    assert _furthest(land, of, found) <= told + 1e-4
    ratio = len(found.triangles) / _regular_triangles(land, told)
    yield Line("mesh by error: triangles, of a regular grid's at the same error", ratio, 0.25, "x", False)
    finer, wanted = error_m, 1_000_000 // scale.shrink**2
    while len(found.triangles) < wanted and finer > 1e-3:
        finer /= 1.5
        of, found = made(finer)
    (took,) = best_of(scale.times(2), lambda: made(finer))
    yield Line("mesh by error: a million triangles", took, 20.0, " s", False, f"{len(found.triangles):,} of them")
