"""A cover as pictures ask it: what names it, and what is kept of its answers."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.cover import function
from elvatch.core.cover.material import Material
from elvatch.core.cover.memory import Names
from elvatch.core.cover.plan import Prepared
from elvatch.core.ground.places import Places
from elvatch.core.parallel import Token
from elvatch.core.picture.edge_slopes import Edged, with_edges
from elvatch.core.picture.fragments import GBuffer
from elvatch.core.rules.joints import Joined, Touching


@dataclass(frozen=True)
class LaidCover:
    """Layers made ready; ``reliefs`` names the relief that things stand on, ``shapes`` with what joins the ground to
    them, ``shown`` what they show, ``bare`` and ``name`` the whole without and with all that; ``unruled`` names all
    but what rules let in."""

    prepared: Prepared
    names: Names
    reliefs: str
    shapes: str
    shown: str
    bare: str
    name: str
    unruled: str


@dataclass(frozen=True)
class AskedPlaces:
    """Where a picture asks the cover: what it sees, named, places on the ground, which of them a fragment is."""

    name: str
    buffer: GBuffer
    at: Places
    index: NDArray[np.int64]


class Materials:
    """What lies where pictures look, kept as far as an edit leaves it: what the layers are, which places lie beside
    things, and both with what things show there.

    Parameters
    ----------
    keep : int
        How many pictures are kept.
    """

    def __init__(self, keep: int) -> None:
        self._bare = Cache[Material](keep)
        self._beside = Cache[tuple[Touching, ...]](keep)
        self._joined = Cache[Joined](keep)
        self._edged = Cache[Edged](keep)
        self._whole = Cache[Material](keep)

    def of(
        self, asked: AskedPlaces, laid: LaidCover, taps: int, ask: Callable[[], Material], token: Token | None
    ) -> Material:
        """Return what lies where a picture looks; ``ask`` asks the cover as if nothing were set on the ground."""

        def make() -> Material:
            found = self._bare.get(digest.of_json([asked.name, taps, laid.bare]), ask)
            beside = self._beside.get(
                digest.of_json([asked.name, laid.shapes]),
                lambda: function.touching(laid.prepared, asked.at, found, token),
            )
            joints = laid.prepared.joints
            if joints is not None and beside:
                name = digest.of_json([asked.name, taps, laid.shapes, laid.shown])
                found = found.with_joints(self._joined.get(name, lambda: joints.joined(beside, taps, token)))
            edged = with_edges(asked.buffer, asked.index, found, self._edged.peek(asked.name))
            self._edged.put(asked.name, Edged(found, edged.slope))
            return edged

        return self._whole.get(digest.of_json([asked.name, taps, laid.name]), make)
