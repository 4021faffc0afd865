"""Findings about the ground and about feet on it."""

from __future__ import annotations

import numpy as np

from elvatch.core.document.recipe import Recipe
from elvatch.core.ground.description import FileSource
from elvatch.core.judging.finding import Mendable, changed, found
from elvatch.core.judging.judged import Judged

AT_TOP, AT_BOTTOM = 0.002, 0.02
"""Shares of samples that may lie at the very ends: water lies level, summits do not."""
FEW_LEVELS, LEAST_SAMPLES = 1024, 16_384
FEET_M = 0.25


def _source(recipe: Recipe) -> tuple[str, str]:
    source = recipe.ground.source
    return "", source.file_name if isinstance(source, FileSource) else "the ground"


def at_limits(site: Judged) -> list[Mendable]:
    """Find samples that lie at the lowest or highest value of all."""
    heights, out = site.survey.heights, []
    low, high = float(heights.min()), float(heights.max())
    if high - low < 1e-6:
        return []
    for end, most, word in ((high, AT_TOP, "highest"), (low, AT_BOTTOM, "lowest")):
        there = heights == np.float32(end)
        share = float(there.mean())
        if share > most:
            row, col = np.argwhere(there)[len(np.argwhere(there)) // 2]
            rows, cols = heights.shape
            place = (site.survey.width_m * col / (cols - 1), site.survey.depth_m * (1 - row / (rows - 1)))
            text = f"{share:.1%} of its samples lie at its very {word} value, {end:.1f} m"
            out.append(found("at-limits", (word, _source(site.recipe)[1]), text, 100 * share, "%", None, place))
    return out


def few_levels(site: Judged) -> list[Mendable]:
    """Find heights that come in so few values that slopes break into steps."""
    source, heights = site.recipe.ground.source, site.survey.heights
    if not isinstance(source, FileSource) or heights.size < LEAST_SAMPLES or source.reading.smooth_steps:
        return []
    levels = len(np.unique(heights))
    if not 2 < levels <= FEW_LEVELS:
        return []
    step = (float(heights.max()) - float(heights.min())) / (levels - 1)

    def mend(recipe: Recipe) -> Recipe:
        now = recipe.ground.source
        if not isinstance(now, FileSource):
            return recipe
        smooth = changed(now, reading=changed(now.reading, smooth_steps=True).model_dump())
        return recipe.model_copy(update={"ground": recipe.ground.model_copy(update={"source": smooth})})

    text = f"its heights have only {levels:,} levels, {step:.2g} m apart"
    return [found("few-levels", _source(site.recipe), text, levels, "levels", ("smooth within half a level", mend))]


def feet(site: Judged) -> list[Mendable]:
    """Find relief in which somebody on the plain ground wades, or above which they float."""
    if abs(site.stand_m) <= FEET_M:
        return []
    peg = site.recipe.peg
    way = "deep in the relief" if site.stand_m > 0 else "above the relief"
    text = f"feet on the plain ground are {abs(site.stand_m):.2f} m {way} at the peg"
    return [found("feet", ("", "the cover's relief"), text, abs(site.stand_m), "m", None, (peg.east_m, peg.north_m))]
