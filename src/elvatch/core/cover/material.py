"""What lies at places: the answer of the cover."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core.rules.joints import Joined


class Material(NamedTuple):
    """What lies at ``n`` places.

    ``colour`` (n, 3) linear; ``slope`` (n, 2) the horizontal parts, east and north, of the relief's
    gradient along the surface (on level ground its rise per metre), for
    :func:`elvatch.core.mapping.surface.normal`; ``roughness``, ``metallic``, ``occlusion`` 0..1; ``relief_m``
    along the ground's normal; ``shares`` (n, layers) of the plan, each row sums to 1; ``emission`` (n, 3) linear, 1
    as bright as white ground at noon, without rows where no layer has any.
    """

    colour: NDArray[np.float32]
    slope: NDArray[np.float32]
    roughness: NDArray[np.float32]
    metallic: NDArray[np.float32]
    occlusion: NDArray[np.float32]
    relief_m: NDArray[np.float32]
    shares: NDArray[np.float32]
    emission: NDArray[np.float32]

    def with_joints(self, joints: Joined) -> Material:
        """Return the same where places take on what they do of the things beside them."""
        rows, share = joints.rows, joints.share
        colour, rough, metal = self.colour.copy(), self.roughness.copy(), self.metallic.copy()
        relief, slope = self.relief_m.copy(), self.slope.copy()
        colour[rows] += (joints.colour - colour[rows]) * share[:, None]
        rough[rows] += (joints.rough - rough[rows]) * share
        metal[rows] += (joints.metal - metal[rows]) * share
        relief[rows] += joints.rise_m
        slope[rows] += joints.slope + joints.bends[:, None] * slope[rows]
        return self._replace(colour=colour, roughness=rough, metallic=metal, relief_m=relief, slope=slope)
