"""The cover of things: the same function, asked at places on a thing's surface.

Rules are asked where the thing stands in the world, with what the place is like on the thing; textures are laid in
the thing's own axes, in the world's, or over its texture coordinates. A surface that hangs over is laid as the same
plane seen from above is, and its relief is turned outwards.
"""

from __future__ import annotations

import dataclasses
import functools
from collections.abc import Mapping
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core import digest
from elvatch.core.cover import function, plan
from elvatch.core.cover.memory import WITH_LIGHT, Memo, nothing_kept
from elvatch.core.cover.plan import Prepared
from elvatch.core.document.fit import Fit
from elvatch.core.document.layer import Layer, Look
from elvatch.core.document.rule import OnImage, OnPainted, singles
from elvatch.core.document.thing import Covering
from elvatch.core.ground import places as ground_places
from elvatch.core.ground.places import Places
from elvatch.core.parallel import Token
from elvatch.core.rules import mask_image, rules, thing_paint
from elvatch.core.rules.evidence import Evidence, channel_name
from elvatch.core.rules.mask_image import ChannelPlane
from elvatch.core.rules.program import CARRIED_NUMBERS, OWN_PLACE, Programs
from elvatch.core.rules.thing_paint import Paint
from elvatch.core.stock import pyramid
from elvatch.core.stock.pyramid import BLUE, CHANNELS, METALLIC, OCCLUSION, RED, ROUGH, Pyramid
from elvatch.core.wear import wear_plan

Vectors = NDArray[np.float32]
_OWN_SET = "f" * 40
OWN_MATERIAL = "ownmaterial"
"""The id under which wear of a thing knows what lies below all its layers."""
OWN = Layer(
    id=OWN_MATERIAL, name="its own material", set=_OWN_SET, fit=Fit(tile_m=1.0, relief_m=0.0), look=Look(variation=0)
)
"""What is remembered of it at each place: the lowest layer of all that lies on a thing."""
_LEAST_UP = 1.5e-3
"""A plane that is more upright is laid as if it were so much less."""


class Points(NamedTuple):
    """``n`` places on things, each with the width of the area it stands for.

    ``at`` (n, 3) in the world, metres; ``facing`` (n, 3) unit, outwards, as smooth as its corners tell; ``own`` and
    ``own_facing`` (n, 3) the same in the thing's axes, metres at its true size; ``uv_m`` (n, 2) texture coordinates
    times its size, the second upwards, with ``uv_east`` and ``uv_north`` (n, 3) unit vectors of the world along which
    they grow; ``across_m`` (n,); ``carried`` (n, CARRIED_NUMBERS) what rules ask of things; ``part`` (n, 3) where
    they lie in the thing's axes in parts of its longest side before it was stretched, ``uv`` (n, 2) its texture
    coordinates, the second downwards, ``variant`` (n,) which of its shapes.
    """

    at: NDArray[np.float64]
    facing: Vectors
    own: Vectors
    own_facing: Vectors
    uv_m: Vectors
    uv_east: Vectors
    uv_north: Vectors
    across_m: Vectors
    carried: Vectors
    part: Vectors
    uv: Vectors
    variant: NDArray[np.int64]


def no_points(count: int) -> Points:
    """Return rows to be filled in."""

    def three() -> Vectors:
        return np.zeros((count, 3), np.float32)

    return Points(
        np.zeros((count, 3)),
        three(),
        three(),
        three(),
        np.zeros((count, 2), np.float32),
        three(),
        three(),
        np.zeros(count, np.float32),
        np.zeros((count, CARRIED_NUMBERS), np.float32),
        three(),
        np.zeros((count, 2), np.float32),
        np.zeros(count, np.int64),
    )


class Covered(NamedTuple):
    """What covers ``n`` places of a thing.

    ``colour`` (n, 3) linear, ``rough`` and ``metal`` (n,) are what is seen; ``own`` (n,) how much of that is its own
    material; ``open`` (n,) what of light hollows of the layers leave; ``bump`` (n, 3) what is taken from its normal,
    world axes; ``relief_m`` (n,); ``shares`` (n, layers) of the cover's layers, those that are off have none;
    ``glow`` (n, 3) what shines by itself, without rows where nothing does.
    """

    colour: Vectors
    rough: Vectors
    metal: Vectors
    own: Vectors
    open: Vectors
    bump: Vectors
    relief_m: Vectors
    shares: Vectors
    glow: Vectors


class Own(NamedTuple):
    """A thing's own material at ``n`` places: ``colour`` (n, 3) linear, ``rough`` and ``metal`` (n,)."""

    colour: Vectors
    rough: Vectors
    metal: Vectors


class ReadyCover(NamedTuple):
    """A thing's cover made ready; ``marks`` what its rules read of its own surface, in the order of the columns that
    hold it; ``name`` of all that it is made of."""

    prepared: Prepared
    programs: Programs
    axes: str
    layers: int
    marks: tuple[Paint | ChannelPlane, ...]
    name: str


@functools.cache
def _nothing_of_its_own() -> Pyramid:
    return pyramid.plain(np.zeros((1, 1, 3), np.float32), 1.0)


def prepare(cover: Covering, sets: Mapping[str, Pyramid], evidence: Evidence) -> ReadyCover:
    """Make a thing's cover ready for :func:`ask`.

    Parameters
    ----------
    cover : Covering
        Its layers, its wear and their axes.
    sets : mapping
        Stored sets by content name.
    evidence : Evidence
        What rules may read of the site.

    Raises
    ------
    RefusalError
        When a layer refers to a set that is not there, or a rule reads what cannot be read.
    """
    layers = (OWN, *cover.layers)
    stored = {name: found for name in cover.uses() if (found := sets.get(name)) is not None}
    stored[_OWN_SET] = _nothing_of_its_own()
    marks = _marks(cover, evidence)
    columns = {name: CARRIED_NUMBERS + k for k, name in enumerate(marks)}
    # limits that lie beyond the ground's own values may well be met on a thing
    free = dataclasses.replace(evidence, reach=None, carried=columns, joining=None)
    prepared = plan.prepare(layers, stored, free, wears=cover.wears)
    spans = [(int(a), int(b)) for a, b in (*prepared.plan.spans, *prepared.plan.worn.spans)]
    programs = Programs(prepared.plan.tables, spans, prepared.depth, prepared.addresses)
    name = name_of(cover, stored, evidence)
    return ReadyCover(prepared, programs, cover.axes, len(cover.layers), tuple(marks.values()), name)


def shines(cover: Covering, sets: Mapping[str, Pyramid]) -> bool:
    """Return whether anything on a thing shines by itself."""
    return any(layer.on and plan.shines(layer, sets) for layer in cover.layers)


def _marks(cover: Covering, evidence: Evidence) -> dict[str, Paint | ChannelPlane]:
    """Return the paint and the channels of images on a thing that its rules read, by what names them."""
    rules_of = [*(one.rule for one in cover.layers), *(one.rule for one in cover.wears)]
    asked = [clause for rule in rules_of for clause in singles(rule)]
    painted = {one.mask for one in asked if isinstance(one, OnPainted)}
    channels = {(one.image, one.channel) for one in asked if isinstance(one, OnImage)}
    found: dict[str, Paint | ChannelPlane] = {
        one.id: evidence.surface(one) for one in cover.masks if one.id in painted
    }
    for image in cover.images:
        for id, channel in sorted(channels):
            if id == image.id:
                found[channel_name(id, channel)] = evidence.plane(image.file, image.file_name, channel)
    return found


def name_of(cover: Covering, sets: Mapping[str, Pyramid], evidence: Evidence) -> str:
    """Return what names a cover by all that it is made of."""
    contents = [found.content_name if (found := sets.get(name)) is not None else None for name in cover.uses()]
    layers = [digest.of_part(layer, "name", "group") for layer in cover.layers]
    wears = [[digest.of_part(one, "name"), wear_plan.overlay_name(one, evidence)] for one in cover.wears if one.on]
    marks = (
        [[one.id, evidence.surface(one).name] for one in cover.masks],
        [[one.id, one.file] for one in cover.images],
    )
    return digest.of_json([cover.axes, layers, wears, contents, evidence.names(), *marks])


def _on_plane(at: NDArray[np.floating], facing: Vectors, across: Vectors) -> Places:
    """Return places that lie and face so; what hangs over as the same plane seen from above."""
    out = ground_places.zeros(len(at))
    out.x_m[:], out.y_m[:], out.elevation_m[:], out.across_m[:] = at[:, 0], at[:, 1], at[:, 2], across
    up = np.where(np.abs(facing[:, 2]) < _LEAST_UP, np.copysign(np.float32(_LEAST_UP), facing[:, 2]), facing[:, 2])
    out.rise_east[:], out.rise_north[:] = -facing[:, 0] / up, -facing[:, 1] / up
    out.sky[:] = 1.0
    return out


def _laid(points: Points, axes: str) -> tuple[Places, Vectors]:
    """Return the places at which textures are looked up, and how the surface faces in those axes."""
    if axes == "world":
        return _on_plane(points.at, points.facing, points.across_m), points.facing
    if axes == "thing":
        return _on_plane(points.own, points.own_facing, points.across_m), points.own_facing
    flat = np.zeros((len(points.at), 3), np.float32)
    flat[:, 2] = 1.0
    level = np.concatenate([points.uv_m, np.zeros((len(points.at), 1), np.float32)], 1)
    return _on_plane(level, flat, points.across_m), flat


def _known(ready: ReadyCover, points: Points, own: Own, token: Token | None) -> Memo:
    """Return what each rule lets in and what the thing's own material is, as the cover remembers it."""
    world = _on_plane(points.at, points.facing, points.across_m)
    of_marks = [_at(mark, points, token)[:, None] for mark in ready.marks]
    tables = ready.programs.tables._replace(carried=np.concatenate([points.carried, *of_marks], axis=1))
    programs = dataclasses.replace(ready.programs, tables=tables)
    layers, wears, n = len(ready.prepared.plan.layers), len(ready.prepared.plan.worn.place), len(points.at)
    found = np.ones((layers + wears, n), np.float32)
    for k in range(1, layers + wears):
        found[k] = rules.presences(programs, k, world, token)
    values = np.zeros((1, n, CHANNELS), np.float32)
    values[0, :, RED : BLUE + 1], values[0, :, OCCLUSION] = own.colour, 1.0
    values[0, :, ROUGH], values[0, :, METALLIC] = own.rough, own.metal
    nothing = nothing_kept(layers, wears)
    return nothing._replace(
        presence=found,
        presence_slot=np.arange(layers + wears, dtype=np.int64),
        values=values,
        value_slot=np.where(np.arange(layers) == 0, 0, -1),
        glow=np.zeros((1, n, 3), np.float32),
        done=np.full((1, n), WITH_LIGHT, np.uint8),
    )


def _at(mark: Paint | ChannelPlane, points: Points, token: Token | None) -> Vectors:
    """Return what paint or a channel of an image says at places on a thing, (n,)."""
    if isinstance(mark, Paint):
        return thing_paint.values(mark, points.part, points.variant, token)
    return mask_image.over(mark, points.uv)


def _gradient(slope: Vectors, facing: Vectors) -> Vectors:
    """Return the relief's gradient along the surface (n, 3), of its horizontal parts; outwards is up."""
    up = np.where(np.abs(facing[:, 2]) < _LEAST_UP, np.copysign(np.float32(_LEAST_UP), facing[:, 2]), facing[:, 2])
    down = -(facing[:, 0] * slope[:, 0] + facing[:, 1] * slope[:, 1]) / up
    made: Vectors = np.concatenate([slope, down[:, None]], 1).astype(np.float32)
    return made


def ask(
    ready: ReadyCover, points: Points, own: Own, turn: NDArray[np.floating], token: Token | None = None, taps: int = 2
) -> Covered:
    """Return what covers places on a thing.

    Parameters
    ----------
    ready : ReadyCover
        Its cover.
    points : Points
        Where.
    own : Own
        What the thing itself is made of there.
    turn : ndarray, shape (n, 3, 3) or (3, 3)
        From the thing's axes to the world's.
    token : Token, optional
        Asked between bands.
    taps : int
        Most lookups along an area that is longer than wide.
    """
    places, facing = _laid(points, ready.axes)
    found = function.ask(ready.prepared, places, token, taps, _known(ready, points, own, token))
    if ready.axes == "uv":
        bump = points.uv_east * found.slope[:, :1] + points.uv_north * found.slope[:, 1:]
    else:
        bump = _gradient(found.slope, facing)
        if ready.axes == "thing":
            bump = np.einsum("...ij,...j->...i", turn, bump).astype(np.float32)
    shares = np.zeros((len(points.at), ready.layers), np.float32)
    for k, position in enumerate(ready.prepared.positions[1:]):
        if position >= 0:
            shares[:, k] = found.shares[:, position]
    return Covered(
        found.colour,
        found.roughness,
        found.metallic,
        found.shares[:, 0],
        found.occlusion,
        bump,
        found.relief_m,
        shares,
        found.emission,
    )


def carry_own_place(points: Points) -> None:
    """Let noise in a thing's own axes be asked where its places lie."""
    points.carried[:, OWN_PLACE : OWN_PLACE + 3] = points.own
