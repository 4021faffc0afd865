"""The brush: strokes that raise, lower, smooth, or flatten to the height first touched."""

from __future__ import annotations

import math
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from elvatch.core.ground.blur import blur
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.shaped import Map, Shaped
from elvatch.core.ground.step import StepBase
from elvatch.core.kernel import kernel
from elvatch.core.parts import Part, Place, Share
from elvatch.core.run import Run
from elvatch.core.shown import Shown, share


class StrokePoint(Part):
    """A point of a stroke."""

    east_m: Place
    north_m: Place
    pressure: Share = 1.0


class Stroke(Part):
    """One stroke of the brush."""

    tool: Literal["raise", "lower", "smooth", "flatten"] = "raise"
    size_m: Annotated[float, Shown("Size", "m", 0.5, 2_000, 0.5, 1, True, "Across")] = Field(
        default=40.0, gt=0, le=5_000, description="Across"
    )
    amount_m: Annotated[
        float, Shown("Amount", "m", 0.05, 200, 0.05, 2, True, "Highest that a stroke of full strength reaches")
    ] = Field(default=2.0, ge=0, le=500, description="Highest that raising and lowering reach")
    strength: Annotated[Share, share("Strength")] = 0.5
    soft: Annotated[Share, share("Soft edge")] = Field(
        default=0.7, description="Share of the radius that is soft edge"
    )
    points: tuple[StrokePoint, ...] = Field(min_length=1, max_length=600)


class BrushStep(StepBase):
    """Strokes by hand, in their order."""

    title = "Brush"
    about = "raise, lower, smooth or flatten by hand"
    order = 130

    kind: Literal["brush"] = "brush"
    strokes: tuple[Stroke, ...] = Field(default=(), max_length=2_000)

    def apply(self, shaped: Shaped, run: Run) -> Shaped:
        """Return a ground with this step done to all of it."""
        return apply(shaped, self, run)


@kernel
def _touch(
    line: NDArray[np.float64],
    radius: float,
    soft: float,
    cell_x: float,
    cell_y: float,
    north: float,
    first_row: int,
    first_col: int,
    out: NDArray[np.float32],
) -> None:
    """Fill in how strongly a stroke touches each sample, 0..1; a stroke crossing itself counts once."""
    for row in range(out.shape[0]):
        y = north - (first_row + row) * cell_y
        for col in range(out.shape[1]):
            x = (first_col + col) * cell_x
            most = 0.0
            for k in range(max(line.shape[0] - 1, 1)):
                end = min(k + 1, line.shape[0] - 1)
                px, py = line[k, 0], line[k, 1]
                ex, ey = line[end, 0] - px, line[end, 1] - py
                length2 = ex * ex + ey * ey
                t = ((x - px) * ex + (y - py) * ey) / length2 if length2 > 0.0 else 0.0
                t = min(max(t, 0.0), 1.0)
                away = math.hypot(px + t * ex - x, py + t * ey - y) / radius
                if away >= 1.0:
                    continue
                edge = 1.0 if soft <= 0.0 else min(1.0, (1.0 - away) / soft)
                edge = edge * edge * (3.0 - 2.0 * edge)
                most = max(most, edge * (line[k, 2] + t * (line[end, 2] - line[k, 2])))
            out[row, col] = most


def _window(ground: Heightfield, line: NDArray[np.float64], reach: float) -> tuple[slice, slice]:
    """Return the rows and columns that a stroke can reach."""
    west, east = line[:, 0].min() - reach, line[:, 0].max() + reach
    south, north = line[:, 1].min() - reach, line[:, 1].max() + reach
    top = max(0, int((ground.depth_m - north) / ground.cell_y_m))
    bottom = min(ground.rows, int((ground.depth_m - south) / ground.cell_y_m) + 2)
    left = max(0, int(west / ground.cell_x_m))
    right = min(ground.cols, int(east / ground.cell_x_m) + 2)
    return slice(top, max(top, bottom)), slice(left, max(left, right))


def _stroked(ground: Heightfield, heights: Map, stroke: Stroke, run: Run) -> None:
    """Change ``heights`` in place by one stroke."""
    line = np.array([(p.east_m, p.north_m, p.pressure) for p in stroke.points])
    rows, cols = _window(ground, line, stroke.size_m / 2)
    part = heights[rows, cols]
    if part.size == 0:
        return
    touch = np.empty(part.shape, np.float32)
    _touch(
        line,
        stroke.size_m / 2,
        stroke.soft,
        ground.cell_x_m,
        ground.cell_y_m,
        ground.depth_m,
        rows.start,
        cols.start,
        touch,
    )
    touch *= np.float32(stroke.strength)
    if stroke.tool in ("raise", "lower"):
        way = np.float32(stroke.amount_m if stroke.tool == "raise" else -stroke.amount_m)
        part += way * touch
    elif stroke.tool == "smooth":
        sigma = stroke.size_m / 8
        calm = blur(np.ascontiguousarray(part), sigma / ground.cell_x_m, sigma / ground.cell_y_m, run.token)
        part += (calm - part) * touch
    else:
        now = Heightfield(heights, ground.width_m, ground.depth_m)
        level = now.elevation_at(stroke.points[0].east_m, stroke.points[0].north_m)
        part += (np.float32(level) - part) * touch


def apply(shaped: Shaped, step: BrushStep, run: Run) -> Shaped:
    """Lay all strokes over a ground, in their order."""
    heights = shaped.ground.heights_m.copy()
    for number, stroke in enumerate(step.strokes):
        run.at(number / len(step.strokes))
        _stroked(shaped.ground, heights, stroke, run)
    return shaped.with_heights(heights)
