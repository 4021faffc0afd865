"""Where things set on a ground meet it: what of them the ground takes on, and how it climbs at their foot."""

from __future__ import annotations

from typing import NamedTuple, Protocol

import numpy as np
from numpy.typing import NDArray

from elvatch.core.ground.places import Places, ReliefAt
from elvatch.core.parallel import Token
from elvatch.core.thing.closest import ClosestPlaces
from elvatch.core.thing.traced import TracedThings

Numbers = NDArray[np.float32]
RISE = 0.2
"""How far the ground climbs right at a thing's foot, in widths of the joint."""


class Joined(NamedTuple):
    """What ``m`` of the places that were asked about take on of things beside them.

    ``rows`` (m,) which; ``share`` (m,) 0..1 of the thing's material: ``colour`` (m, 3) linear, ``rough``, ``metal``;
    ``rise_m`` (m,) how much higher the ground lies there along its normal; by that the relief's gradient grows by
    ``slope`` (m, 2) and by ``bends`` (m,) times itself.
    """

    rows: NDArray[np.int64]
    share: Numbers
    colour: Numbers
    rough: Numbers
    metal: Numbers
    rise_m: Numbers
    slope: Numbers
    bends: Numbers

    def some(self, kept: NDArray[np.int64]) -> Joined:
        """Return some of them."""
        return Joined(
            self.rows[kept],
            self.share[kept],
            self.colour[kept],
            self.rough[kept],
            self.metal[kept],
            self.rise_m[kept],
            self.slope[kept],
            self.bends[kept],
        )


class Touching(NamedTuple):
    """Places beside one of the things that are set: ``rows`` (m,) which, ``at`` where they lie; ``thing`` its number
    among those that are set and ``things`` it alone, as it stands; ``met`` the places of it that lie closest.
    The rest is as in :class:`Joined`."""

    thing: int
    things: TracedThings
    rows: NDArray[np.int64]
    at: Places
    met: ClosestPlaces
    share: Numbers
    rise_m: Numbers
    slope: Numbers
    bends: Numbers


class Joints(Protocol):
    """The joints of one cover with the things on it."""

    def touching(
        self, places: Places, relief_m: Numbers, relief_at: ReliefAt, token: Token | None
    ) -> tuple[Touching, ...]:
        """Return which of places that have such relief lie beside things.

        ``relief_at`` tells the relief without joints: what things stand on.
        """

    def joined(self, touching: tuple[Touching, ...], taps: int, token: Token | None) -> Joined:
        """Return what such places take on; ``taps`` are most lookups along an area of what covers a thing."""


class Joining(Protocol):
    """What a site's covers may be joined to.

    ``name`` of all that joints look like, ``shape`` of what they change of the relief.
    """

    @property
    def name(self) -> str:
        """Of all that joints look like."""

    @property
    def shape(self) -> str:
        """Of what they change of the relief."""

    def on(self) -> Joints:
        """Return the joints with one cover: things stand on its relief."""
