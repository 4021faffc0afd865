"""A ground with its measures at hand, as compiled code takes it."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground import horizon, slope
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.kernel import inner, unsigned
from elvatch.core.parallel import Token


class Survey(NamedTuple):
    """Heights (m), gradient (rise per metre east and north) and sky view (0..1) on one grid."""

    heights: NDArray[np.float32]
    gradient: NDArray[np.float32]
    sky: NDArray[np.float32]
    width_m: float
    depth_m: float
    cell_x_m: float
    cell_y_m: float


def survey(ground: Heightfield, token: Token | None = None) -> Survey:
    """Measure a ground once, for all places that will be asked for."""
    return Survey(
        heights=ground.heights_m,
        gradient=slope.gradient(ground, token),
        sky=horizon.sky_view(ground, token),
        width_m=ground.width_m,
        depth_m=ground.depth_m,
        cell_x_m=ground.cell_x_m,
        cell_y_m=ground.cell_y_m,
    )


@inner
def row_at(survey: Survey, y: float) -> tuple[int, float]:
    """Return the northern of the two rows of samples about a place, and how far it lies from there to the other."""
    row = min(max((survey.depth_m - y) / survey.cell_y_m, 0.0), survey.heights.shape[0] - 1.0)
    r = unsigned(min(int(row), survey.heights.shape[0] - 2))
    return r, row - r


@inner
def ground_on_row(survey: Survey, x: float, r: int, v: float) -> tuple[float, float, float, float]:
    """Return the same as :func:`ground_at` so far east, between two rows as :func:`row_at` says."""
    cols = survey.heights.shape[1]
    col = min(max(x / survey.cell_x_m, 0.0), cols - 1.0)
    c = unsigned(min(int(col), cols - 2))
    u = col - c
    w00, w10, w01, w11 = (1 - u) * (1 - v), u * (1 - v), (1 - u) * v, u * v
    h, g, s = survey.heights, survey.gradient, survey.sky
    z = w00 * h[r, c] + w10 * h[r, c + 1] + w01 * h[r + 1, c] + w11 * h[r + 1, c + 1]
    gx = w00 * g[r, c, 0] + w10 * g[r, c + 1, 0] + w01 * g[r + 1, c, 0] + w11 * g[r + 1, c + 1, 0]
    gy = w00 * g[r, c, 1] + w10 * g[r, c + 1, 1] + w01 * g[r + 1, c, 1] + w11 * g[r + 1, c + 1, 1]
    sky = w00 * s[r, c] + w10 * s[r, c + 1] + w01 * s[r + 1, c] + w11 * s[r + 1, c + 1]
    return z, gx, gy, sky


@inner
def ground_at(survey: Survey, x: float, y: float) -> tuple[float, float, float, float]:
    """Return (elevation, rise east, rise north, sky view) at a place, bilinear between samples."""
    r, v = row_at(survey, y)
    return ground_on_row(survey, x, r, v)
