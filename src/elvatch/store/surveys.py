"""What is derived of a ground for pictures, kept on disk by content: a later start maps it instead of measuring."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.ground.survey import Survey
from elvatch.core.ground.upright import Upright
from elvatch.core.mapping.ground_image import GroundImage
from elvatch.core.picture import relief
from elvatch.core.picture.terrain import Terrain
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
        maxima = relief.Levels(arrays["maxima"], arrays["starts"], arrays["widths"])
        named = arrays["name"].tobytes().decode()
        return Terrain(ground, survey, relief.under(ground, maxima), named, image, upright)

    def put(self, name: str, terrain: Terrain) -> bool:
        """Keep a measured ground and say whether it could be kept; a full disk keeps nothing and harms nothing."""
        survey, maxima = terrain.survey, terrain.relief
        arrays: dict[str, NDArray[Any]] = {
            "heights": survey.heights,
            "gradient": survey.gradient,
            "sky": survey.sky,
            "maxima": maxima.maxima,
            "starts": maxima.starts,
            "widths": maxima.widths,
            "name": np.frombuffer(terrain.name.encode(), np.uint8),
        }
        return self._shelf.put(name, arrays, {"width_m": survey.width_m, "depth_m": survey.depth_m})
