"""What is derived of a ground for pictures, kept on disk by content: a later start maps it instead of measuring."""

from __future__ import annotations

import functools
from typing import Any

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground import horizon, slope
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.survey import Survey
from elvatch.core.ground.upright import Upright
from elvatch.core.mapping.ground_image import GroundImage
from elvatch.core.parallel import Token
from elvatch.core.picture import relief
from elvatch.core.picture.relief import count_of_levels, count_of_maxima, maxima_over
from elvatch.core.picture.terrain import Terrain, name_of
from elvatch.store.blocks import Later
from elvatch.store.shelf import Shelved


class Surveys(Shelved):
    """Grounds measured for pictures, by the name of what led to them."""

    KIND, MOST_BYTES = "survey 1", 8 << 30

    def get(self, name: str, image: GroundImage | None, upright: Upright | None = None) -> Terrain | None:
        """Return a measured ground, mapped, with an image over it; None when it is not there or not whole."""
        found = self._shelf.get(name)
        if found is None:
            return None
        arrays, about = found
        ground = Heightfield(arrays["heights"], about["width_m"], about["depth_m"])
        survey = Survey(
            ground.heights_m,
            arrays["gradient"],
            arrays["sky"],
            ground.width_m,
            ground.depth_m,
            ground.cell_x_m,
            ground.cell_y_m,
        )
        maxima = relief.MaximaLevels(arrays["maxima"], arrays["starts"], arrays["widths"])
        named = arrays["name"].tobytes().decode()
        return Terrain(ground, survey, relief.under(ground, maxima), named, image, upright)

    def has(self, name: str) -> bool:
        """Return whether a measured ground lies here, whole or not."""
        return self._shelf.path(name).exists()

    def measure(self, name: str, ground: Heightfield, upright: Upright | None, token: Token | None) -> bool:
        """Measure a ground and keep what is found, one part after the other: of a large one all together would take
        more memory than a small machine has. Returns whether it could be kept; a full disk keeps nothing and harms
        nothing."""
        levels = functools.cache(lambda: maxima_over(ground.heights_m))
        grid, float32 = (ground.rows, ground.cols), np.dtype(np.float32)
        count = count_of_maxima(*grid)
        arrays: dict[str, NDArray[Any] | Later] = {
            "heights": ground.heights_m,
            "gradient": Later((*grid, 2), float32, lambda: slope.gradient(ground, token)),
            "sky": Later(grid, float32, lambda: horizon.sky_view(ground, token)),
            "maxima": Later((count,), float32, lambda: levels().maxima),
            "starts": Later((count_of_levels(*grid),), np.dtype(np.int64), lambda: levels().starts),
            "widths": Later((count_of_levels(*grid),), np.dtype(np.int64), lambda: levels().widths),
            "name": np.frombuffer(name_of(ground, upright).encode(), np.uint8),
        }
        return self._shelf.put(name, arrays, {"width_m": ground.width_m, "depth_m": ground.depth_m})
