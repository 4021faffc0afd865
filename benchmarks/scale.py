"""How large benchmarks are: as they are judged, or small, to see that they still run and that both sides agree."""

from __future__ import annotations

import atexit
import functools
import shutil
import tempfile
from dataclasses import dataclass
from pathlib import Path

from elvatch.app.workshop import Workshop
from elvatch.core.document.recipe import Recipe
from elvatch.demo import scenario
from elvatch.store.store import Store


@dataclass(frozen=True)
class Scale:
    """Sizes of one run.

    ``side`` shrinks pixels, texels and samples along a side; ``runs`` are the most that are taken of anything.
    """

    shrink: int = 1
    runs: int = 99

    def side(self, full: int) -> int:
        """Return a side, smaller where the run is small; never so small that nothing is left to see."""
        return max(full // self.shrink, min(full, 48))

    def times(self, full: int) -> int:
        """Return how often something is done."""
        return max(1, min(full, self.runs))


FULL = Scale()
SMALL = Scale(8, 1)


@functools.cache
def demo(scale: Scale) -> tuple[Workshop, Recipe]:
    """Return the demo laid out once for all that look at it, with the recipe of its reservoir."""
    folder = Path(tempfile.mkdtemp(prefix="elvatch-bench-"))
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    workshop = Workshop(Store(folder))
    set_px, samples = (512, scenario.SAMPLES) if scale is FULL else (128, 257)
    site = scenario.lay_out(workshop, lambda _: None, set_px=set_px, samples=samples, strewn=False)
    return workshop, workshop.store.sites.state(site).recipe
