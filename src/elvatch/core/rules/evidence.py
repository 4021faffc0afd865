"""What rules read on a ground: its measures, and what is marked on it."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from elvatch.core import digest
from elvatch.core.document.clause import Referred
from elvatch.core.document.marks import Marks
from elvatch.core.document.rule import Channel, OnLayer, OnMeasure, Rule, refers_to, singles
from elvatch.core.document.thing import PaintOnThing
from elvatch.core.document.wear import Wear
from elvatch.core.ground.measures import KINDS, MeasureName
from elvatch.core.ground.upright import Upright
from elvatch.core.mapping.ground_image import GroundImage
from elvatch.core.refusal import RefusalError
from elvatch.core.rules.joints import Joining
from elvatch.core.rules.mask import Mask
from elvatch.core.rules.mask_image import ChannelPlane
from elvatch.core.rules.thing_paint import Paint
from elvatch.core.stock.sheet import OverlaySheet

Map = NDArray[np.float32]
WATER = "water level"
"""What names the water's level among the marks; no mark has such an id."""


def _no_measure(name: MeasureName, radius_m: float | None) -> Map:
    del radius_m
    raise RefusalError("rule", f"the measure {name}, which is not at hand", "a measured ground", "open the site anew")


def _no_plane(file: str, file_name: str, channel: Channel) -> ChannelPlane:
    del file, channel
    raise RefusalError(file_name, "an image that is not at hand", "one that is", "bring it in again")


def _no_things(strew: str) -> NDArray[np.float64] | None:
    del strew
    return None


def _no_sheet(wear: Wear) -> OverlaySheet:
    raise RefusalError(wear.name, "an overlay that is not at hand", "one that is", "choose another source for it")


def _no_paint(mask: PaintOnThing) -> Paint:
    raise RefusalError(mask.name, "paint that is not at hand", "paint that is", "open the site anew")


def channel_name(image: str, channel: Channel) -> str:
    """Return what names a channel of an image on a thing."""
    return f"{image} {channel}"


@dataclass(frozen=True)
class Evidence:
    """What the rules of one site may read, and the overlays of its wear.

    Parameters
    ----------
    width_m, depth_m : float
        The ground's size, metres.
    measure : callable
        Returns a measure over the ground's samples, by name and radius (m).
    marks : Marks
        Masks, paths and images.
    masks : mapping
        The painted masks in memory, by id.
    plane : callable
        Returns a channel of a stored image, by content name, shown name and channel.
    image : GroundImage, optional
        The colour image over the ground.
    reach : callable, optional
        Returns the lowest and highest value of a measure on this ground, by name and radius (m).
    gradient : callable, optional
        Returns the ground's rise per metre east and north, shape (rows, cols, 2), for what runs downhill.
    lie : callable, optional
        Returns what names that gradient by its content.
    sheet : callable
        Returns a wear's overlay, ready for lookups.
    water_m : float, optional
        Up to where water stands; None without any.
    things : callable
        Returns the places and radii (n, 3), metres, of a strew's things, or of one set by hand, by its id; None where
        there is no such strew or thing.
    strews : mapping
        What names each strew's things, and each that is set by hand, by their content, by id.
    upright : Upright, optional
        How the ground stands where it is a face: its measures tell what its own axes do not.
    surface : callable
        Returns the paint of a mask on a thing's own surface.
    carried : mapping
        Of the thing that is asked about, in which column of what places carry its paint lies, by the mask's id, and
        its images' channels, by :func:`channel_name`.
    joining : Joining, optional
        The things that the ground is joined to.
    """

    width_m: float = 1.0
    depth_m: float = 1.0
    measure: Callable[[MeasureName, float | None], Map] = _no_measure
    marks: Marks = field(default_factory=Marks)
    masks: Mapping[str, Mask] = field(default_factory=dict)
    plane: Callable[[str, str, Channel], ChannelPlane] = _no_plane
    image: GroundImage | None = None
    reach: Callable[[MeasureName, float | None], tuple[float, float]] | None = None
    gradient: Callable[[], Map] | None = None
    lie: Callable[[], str] | None = None
    sheet: Callable[[Wear], OverlaySheet] = _no_sheet
    water_m: float | None = None
    things: Callable[[str], NDArray[np.float64] | None] = _no_things
    strews: Mapping[str, str] = field(default_factory=dict)
    upright: Upright | None = None
    surface: Callable[[PaintOnThing], Paint] = _no_paint
    carried: Mapping[str, int] = field(default_factory=dict)
    joining: Joining | None = None

    def names(self) -> dict[str, str]:
        """Return what names each mark by its content, by id, for caches."""
        paths = {path.id: digest.of_part(path, "name") for path in self.marks.paths}
        images = {image.id: digest.of_part(image, "name", "file_name") for image in self.marks.images}
        masks = {id: mask.name for id, mask in self.masks.items()}
        return {**masks, **paths, **images, **self.strews, WATER: str(self.water_m)}

    def there(self, reference: Referred) -> bool:
        """Return whether what a clause refers to is there; of layers only a column knows."""
        if reference.where in ("strew", "thing"):
            return self.things(reference.id) is not None
        marks: dict[str, Iterable[str]] = {
            "mask": self.masks,
            "path": (path.id for path in self.marks.paths),
            "image": (image.id for image in self.marks.images),
        }
        return reference.id in set(marks[reference.where])


def marks_of(rule: Rule) -> list[str]:
    """Return the ids of the masks, paths, images and strews that a rule reads, and the water's."""
    ids = []
    for clause in singles(rule):
        if isinstance(clause, OnMeasure):
            ids += [WATER] if KINDS[clause.measure].of_water else []
        elif not isinstance(clause, OnLayer) and (referred := refers_to(clause)) is not None:
            ids.append(referred)
    return ids
