"""A recipe's layers made ready for asking: numbers, and the sets they refer to."""

from __future__ import annotations

import functools
from collections.abc import Mapping
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elvatch.core import digest
from elvatch.core.addresses import Addresses
from elvatch.core.cache import Cache
from elvatch.core.columns import beginning_at, row
from elvatch.core.cover.memory import Names
from elvatch.core.document.fit import Fit
from elvatch.core.document.layer import Layer, Look
from elvatch.core.document.rule import OnLayer, Rule, singles
from elvatch.core.document.wear import Wear
from elvatch.core.mapping import fit_row, fitting, tint
from elvatch.core.mapping.fitting import Fall
from elvatch.core.mapping.ground_image import GroundImage
from elvatch.core.refusal import RefusalError
from elvatch.core.rules.evidence import Evidence, marks_of
from elvatch.core.rules.joints import Joints
from elvatch.core.rules.program import Programs, Tables, compiled, nowhere
from elvatch.core.stock import pyramid
from elvatch.core.stock.pyramid import BLUE, CHANNELS, GREEN, HEIGHT, RED, Pyramid
from elvatch.core.wear import wear_plan
from elvatch.core.wear.wear_plan import Worn

Sets = tuple[Pyramid, Pyramid, Pyramid]

# columns of a layer's numbers
(
    OPACITY,
    BY_HEIGHT,
    WIDTH,
    ROUGH_SHIFT,
    ROUGH_LOW,
    ROUGH_SPAN,
    OCCLUDE,
    VARY,
    VARY_COLOUR,
    VARY_OFFSET,
    VARY_SIZE,
    IMAGE,
    MEAN_RED,
    MEAN_GREEN,
    MEAN_BLUE,
    WORN_THROUGH,
    GLOW,
    FINGERS,
    FINGER_SIZE,
    STRIP,
    STRIP_TILE,
    STRIP_RELIEF,
    STRIP_MID,
    TINT,
) = range(24)
FIT = TINT + tint.NUMBERS
TILE = FIT + fit_row.TILE
LAYER_NUMBERS = FIT + fit_row.NUMBERS


class Plan(NamedTuple):
    """Visible layers from the bottom up, as compiled code takes them.

    ``spans`` first and last row of each layer's program in ``tables``. ``sets`` holds addresses and
    sides of each layer's three sets, ``means`` (layers, 3, 10) their means. ``fall`` is where the ground falls;
    ``worn`` the wear over them.
    ``strips`` is the address and side of the set along each layer's boundary, 0 where there is none.
    ``image`` is the address and side of the image over the ground, 0 when there is none, ``extent`` the
    ground's size in metres. ``glows`` and ``glow_means`` are as ``sets`` and ``means``, of what the layers send out;
    without rows where none does.
    """

    layers: NDArray[np.float64]
    tables: Tables
    spans: NDArray[np.int64]
    sets: NDArray[np.int64]
    means: NDArray[np.float32]
    fall: fitting.Fall
    image: NDArray[np.int64]
    extent: NDArray[np.float64]
    worn: Worn
    strips: NDArray[np.int64]
    glows: NDArray[np.int64]
    glow_means: NDArray[np.float32]


class Prepared(NamedTuple):
    """A plan with what it was made of, which holds what its addresses are of.

    ``positions`` says for each layer of the recipe which layer of the plan it is, or -1 when it is
    off, ``wears`` the same of its wear; ``depth`` how many brackets its deepest rule opens; ``joints`` with things
    that are set on it.
    """

    plan: Plan
    pyramids: tuple[Sets, ...]
    strips: tuple[Pyramid | None, ...]
    positions: tuple[int, ...]
    wears: wear_plan.FittedWears
    depth: int
    addresses: Addresses
    joints: Joints | None = None


def _glow(look: Look, sets: Sets) -> float:
    """Return what a layer's emission is multiplied by, 0 where it has none."""
    shines = look.emits and any(sets[which].glow for which in (fit_row.MAIN, fit_row.STEEP))
    return 2.0**look.emission_ev if shines else 0.0


def _glows(sets: Sets) -> Sets:
    """Return what a layer's three sets send out; its near detail neither adds to it nor takes from it."""
    dark, even = _even(0.0), _even(1.0)
    return sets[fit_row.MAIN].glow or dark, sets[fit_row.STEEP].glow or dark, even


@functools.cache
def _even(brightness: float) -> Pyramid:
    """Return a set of one colour."""
    return pyramid.plain(np.full((1, 1, 3), brightness, np.float32), 1.0)


_rows = Cache[list[float]](512)


def _layer_row(layer: Layer, sets: Sets, strip: Pyramid | None) -> list[float]:
    """Return a layer's numbers, found once for what it is and what its sets hold."""
    contents = [one.content_name for one in (*sets, *([strip] if strip else []))]
    name = " ".join([digest.of_part(layer, "name", "group", "rule"), *contents])
    return list(_rows.get(name, lambda: _numbers(layer, sets, strip)))


def _numbers(layer: Layer, sets: Sets, strip: Pyramid | None) -> list[float]:
    look, mean, edge = layer.look, sets[fit_row.MAIN].mean, layer.edge
    own = {
        OPACITY: layer.opacity,
        BY_HEIGHT: 1.0 if layer.edge.kind == "height" else 0.0,
        WIDTH: layer.edge.width_m,
        ROUGH_SHIFT: look.roughness_shift,
        ROUGH_LOW: look.roughness_lowest,
        ROUGH_SPAN: look.roughness_highest - look.roughness_lowest,
        OCCLUDE: look.occlusion,
        VARY: look.variation,
        VARY_COLOUR: look.variation_colour,
        VARY_OFFSET: look.variation_offset,
        VARY_SIZE: look.variation_size_m,
        IMAGE: look.ground_image,
        MEAN_RED: float(mean[RED]),
        MEAN_GREEN: float(mean[GREEN]),
        MEAN_BLUE: float(mean[BLUE]),
        WORN_THROUGH: 0.0,
        GLOW: _glow(look, sets),
        FINGERS: edge.fingers,
        FINGER_SIZE: edge.fingers_m,
        STRIP: edge.strip if strip else 0.0,
        STRIP_TILE: edge.strip_tile_m,
        # at another size it is as steep as it was
        STRIP_RELIEF: strip.relief_m * edge.strip_tile_m / strip.tile_m if strip else 0.0,
        STRIP_MID: float(strip.mean[HEIGHT]) if strip else 0.0,
    }
    tinting = dict(enumerate(tint.numbers(look), TINT))
    fit = beginning_at(FIT, fit_row.columns(layer.id, layer.fit, look.normal_strength, sets))
    return row(LAYER_NUMBERS, own, tinting, fit)


def missing_set(layer: Layer) -> RefusalError:
    """Return what is said of a layer whose set is not there."""
    return RefusalError(
        layer.name, "a texture set that is not in the stock", "one that is", "choose another set for it"
    )


def _sets_of(layer: Layer, sets: Mapping[str, Pyramid]) -> Sets:
    """Return a layer's own set, that of its steep planes and that of its near detail."""
    main, steep, finer = layer.sets()
    if any(name not in sets for name in (main, steep, finer)):
        raise missing_set(layer)
    return sets[main], sets[steep], sets[finer]


def shines(layer: Layer, sets: Mapping[str, Pyramid]) -> bool:
    """Return whether a layer sends out light."""
    return _glow(layer.look, _sets_of(layer, sets)) > 0


def _strip_of(layer: Layer, sets: Mapping[str, Pyramid]) -> Pyramid | None:
    """Return the set along a layer's boundary, if it has one."""
    name = layer.edge.strip_set
    if name is None or layer.edge.strip <= 0:
        return None
    if name not in sets:
        raise missing_set(layer)
    return sets[name]


def _runs_downhill(layer: Layer) -> bool:
    return layer.fit.projection == "downhill"


def _fall(gradient: NDArray[np.float32] | None, evidence: Evidence, addresses: Addresses) -> fitting.Fall:
    if gradient is None:
        return fitting.NO_FALL
    rows, cols = gradient.shape[:2]
    cell_x, cell_y = evidence.width_m / (cols - 1), evidence.depth_m / (rows - 1)
    # always a float: a whole number here would have all kernels compiled once more
    return fitting.Fall(addresses.of(gradient), rows, cols, cell_x, cell_y, float(evidence.depth_m))


def _shown(layers: tuple[Layer, ...], prepared: Prepared) -> list[Layer]:
    """Return the layers of a plan, from the bottom up."""
    shown = [_GREY] * len(prepared.pyramids)
    for layer, at in zip(layers, prepared.positions, strict=True):
        if at >= 0:
            shown[at] = layer
    return shown


def relief_names(layers: tuple[Layer, ...], prepared: Prepared, found: Names) -> list[str]:
    """Return what names each shown layer's and wear's part in the relief, where it lies with it."""
    out = list(found.presences[: len(prepared.pyramids)])
    for layer, stored, strip in zip(_shown(layers, prepared), prepared.pyramids, prepared.strips, strict=True):
        look = [layer.look.variation_offset, layer.look.variation_size_m] if layer.look.variation_offset else None
        contents = [one.content_name for one in (*stored, *((strip,) if strip else ()))]
        fit, edge = digest.of_part(layer.fit), digest.of_part(layer.edge)
        out.append(digest.of_json([layer.id, contents, fit, edge, layer.opacity, look]))
    fitted, presences = prepared.wears, found.presences[len(prepared.pyramids) :]
    for wear, place, overlay, presence in zip(fitted.wears, fitted.places, found.overlays, presences, strict=True):
        name = wear_plan.relief_name(wear, place, overlay)
        if name is not None:
            out += [name, presence]
    return out


def unruled_name(layers: tuple[Layer, ...], wears: tuple[Wear, ...], prepared: Prepared, found: Names) -> str:
    """Return what names all of a cover but what its rules let in."""
    parts = [digest.of_part(one, "name", "group", "rule") for one in layers]
    worn = [digest.of_part(one, "name", "rule") for one in wears]
    strips = [strip.content_name if strip else None for strip in prepared.strips]
    # a layer that lies nowhere at all is not asked: its opacity is 0
    opacities = prepared.plan.layers[:, OPACITY].tolist()
    return digest.of_json([parts, worn, strips, prepared.positions, opacities, found.materials, found.overlays])


def names(layers: tuple[Layer, ...], prepared: Prepared, evidence: Evidence) -> Names:
    """Return what names each shown layer's material, each wear's overlay, and where each lies.

    Parameters
    ----------
    layers : tuple of Layer
        The whole column.
    prepared : Prepared
        Made of them.
    evidence : Evidence
        What rules read.
    """
    shown = _shown(layers, prepared)
    marks = evidence.names()
    others = [[layer.id, layer.opacity, digest.of_part(layer.rule)] for layer in layers]
    image = evidence.image.name if evidence.image else None

    def presence(kind: str, at: int, rule: Rule) -> str:
        named: list[object] = [digest.of_part(rule)]
        if any(isinstance(clause, OnLayer) for clause in singles(rule)):
            named += [others, marks]
        else:
            named.append([marks.get(id) for id in marks_of(rule)])
        return digest.of_json([kind, at, named])

    materials, presences = [], []
    for at, (layer, stored) in enumerate(zip(shown, prepared.pyramids, strict=True)):
        fit, look = digest.of_part(layer.fit), digest.of_part(layer.look)
        contents = [one.content_name for one in stored]
        lie = evidence.lie() if evidence.lie and _runs_downhill(layer) else None
        materials.append(digest.of_json([at, layer.id, contents, fit, look, image, lie]))
        presences.append(presence("layer", at, layer.rule))
    wears = prepared.wears.wears
    presences += [presence("wear", at, wear.rule) for at, wear in enumerate(wears)]
    overlays = [wear_plan.overlay_name(wear, evidence) for wear in wears]
    return Names(materials, overlays, presences, len(prepared.plan.glows) > 0)


@functools.cache
def _plain_grey() -> Pyramid:
    """What lies under a layer that is looked at alone."""
    level = np.zeros((8, 8, 3), np.float32)
    level[..., 2] = 1.0
    full = np.ones((8, 8), np.float32)
    maps = pyramid.Maps(np.full((8, 8, 3), 0.14, np.float32), level, full * 0.8, full * 0.5, full)
    return pyramid.build(maps, 1.0, 0.01)


_GREY = Layer(id="plain", name="plain grey", set="0" * 40, fit=Fit(tile_m=1.0, relief_m=0.0), look=Look(variation=0))


def _as_compiled(
    numbers: list[list[float]],
    programs: Programs,
    pyramids: tuple[Sets, ...],
    strips: tuple[Pyramid | None, ...],
    fall: Fall,
    image: GroundImage | None,
    worn: Worn,
) -> Plan:
    """Return layers as compiled code takes them."""
    addresses = programs.addresses
    table = np.array(numbers, np.float64).reshape(-1, LAYER_NUMBERS)
    # most layers need not look for what wears them through
    table[:, WORN_THROUGH] = worn.removes.any(axis=0)
    glows = tuple(map(_glows, pyramids)) if table[:, GLOW].any() else ()
    return Plan(
        layers=table,
        tables=programs.tables,
        spans=np.array(programs.spans[: len(numbers)], np.int64).reshape(-1, 2),
        sets=_places(pyramids, addresses),
        means=_means(pyramids),
        fall=fall,
        image=np.array([addresses.of(image.pyramid.texels), image.pyramid.size] if image else [0, 0], np.int64),
        extent=np.array([image.width_m, image.depth_m] if image else [1.0, 1.0]),
        worn=worn,
        strips=np.array(
            [(addresses.of(one.texels), one.size) if one else (0, 0) for one in strips], np.int64
        ).reshape(-1, 2),
        glows=_places(glows, addresses),
        glow_means=_means(glows),
    )


def _places(sets: tuple[Sets, ...], addresses: Addresses) -> NDArray[np.int64]:
    """Return where each layer's three sets lie and how large they are."""
    rows = [[n for one in three for n in (addresses.of(one.texels), one.size)] for three in sets]
    return np.array(rows, np.int64).reshape(-1, 6)


def _means(sets: tuple[Sets, ...]) -> NDArray[np.float32]:
    return np.array([[one.mean for one in three] for three in sets], np.float32).reshape(-1, 3, CHANNELS)


def prepare(
    layers: tuple[Layer, ...],
    sets: Mapping[str, Pyramid],
    evidence: Evidence | None = None,
    solo: int = -1,
    wears: tuple[Wear, ...] = (),
) -> Prepared:
    """Make layers ready for :func:`elvatch.core.cover.function.ask`.

    Parameters
    ----------
    layers : tuple of Layer
        From the bottom up.
    sets : mapping
        Stored sets by content name.
    evidence : Evidence, optional
        What rules may read beside elevation, slope, facing and noise; the image over the ground.
    solo : int
        Show this layer alone, over plain grey; -1 shows all that are on.
    wears : tuple of Wear
        What lies over them, from the bottom up.

    Raises
    ------
    RefusalError
        When a layer refers to a set that is not there, or a rule reads what cannot be read.
    """
    evidence = evidence or Evidence()
    alone = 0 <= solo < len(layers)
    on = [k for k, layer in enumerate(layers) if (k == solo if alone else layer.on)]
    # alone, the lowest layer is still let in by its rule: it lies over grey
    shown = ([_GREY] if alone else []) + [layers[k] for k in on]
    grey = (_plain_grey(),) * 3
    pyramids = ((grey,) if alone else ()) + tuple(_sets_of(layers[k], sets) for k in on)
    strips = ((None,) if alone else ()) + tuple(_strip_of(layers[k], sets) for k in on)
    numbers = [_layer_row(*one) for one in zip(shown, pyramids, strips, strict=True)]
    for k in range(1, len(shown)):
        if nowhere(shown[k].rule, evidence):
            numbers[k][OPACITY] = 0.0
    places = {k: at + (1 if alone else 0) for at, k in enumerate(on)}
    positions = tuple(places.get(k, -1) for k in range(len(layers)))
    fitted = wear_plan.fit_in(wears, layers, positions)
    ruled = [(one.name, one.rule) for one in shown] + [(one.name, one.rule) for one in fitted.wears]
    programs = compiled(ruled, evidence, layers)
    image = evidence.image
    downhill = any(map(_runs_downhill, shown)) or any(map(wear_plan.runs_downhill, fitted.wears))
    gradient = evidence.gradient() if evidence.gradient and downhill else None
    fall = _fall(gradient, evidence, programs.addresses)
    main = [one[fit_row.MAIN] for one in pyramids]
    worn = wear_plan.laid(fitted, shown, main, programs.spans[len(shown) :], fall, evidence, programs.addresses)
    return Prepared(
        plan=_as_compiled(numbers, programs, pyramids, strips, fall, image, worn),
        pyramids=pyramids,
        strips=strips,
        positions=positions,
        wears=fitted,
        depth=programs.depth,
        addresses=programs.addresses,
        joints=evidence.joining.on() if evidence.joining and solo < 0 else None,
    )
