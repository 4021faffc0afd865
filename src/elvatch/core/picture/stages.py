"""What is kept of pictures, stage by stage."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from elvatch.core.cache import Cache
from elvatch.core.ground.places import Places
from elvatch.core.picture import bed, scene, strewn
from elvatch.core.picture.camera import Camera
from elvatch.core.picture.fragments import GBuffer
from elvatch.core.picture.laid import Materials
from elvatch.core.picture.laying import AskedCovers
from elvatch.core.picture.remembered import Since
from elvatch.core.picture.shaded import Shadings
from elvatch.core.picture.sunlit import SunSeen


@dataclass(frozen=True)
class Sight:
    """What the pixels of a picture see, whatever lies there.

    ``name`` names all of it, ``from_where`` the places alone, ``picture`` the picture wherever it looks from;
    ``pixel`` says where each place is seen, ``moves`` whether the picture does, ``since`` how it differs from the one
    before.
    """

    camera: Camera
    scene: scene.Scene
    buffer: GBuffer
    on_ground: Places
    index: NDArray[np.int64]
    name: str
    drawn: strewn.DrawnThings
    from_where: str
    picture: str
    pixel: NDArray[np.int32]
    moves: bool
    since: Since | None


class KeptStages:
    """What is kept of pictures that move, or of those at rest.

    One that is turned makes all of it anew for each of its pictures, which take nothing of what others rest with.
    """

    def __init__(self, keep: int) -> None:
        self.seen = Cache[Sight](keep)
        self.last = Cache[Sight](keep)
        self.sun = Cache[SunSeen](keep)
        self.materials = Materials(keep)
        # fragments, and patch by patch the relief that they are seen on
        self.asked = AskedCovers(4 * keep)
        self.sites = Cache[bed.PatchPlan](keep)
        self.raised = Cache[bed.Bed](keep)
        self.beds = Cache[bed.NamedBed](keep)
        self.dense = Cache[NDArray[np.float32]](keep)
        self.shadings = Shadings(keep)
